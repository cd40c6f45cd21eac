package propose

import (
	"fmt"
	"slices"
	"strings"

	"epitome/core/jedec"
	"epitome/core/plain"
	"epitome/core/rule"
	"epitome/core/stock"
)

// Against lists in what a proposal is worse than another of the same result, and in what it
// is better, each as a person says it: "12.30 EUR", "8 GB over all channels together".
func (a Proposal) Against(r Result, b Proposal) (worse, better []string) {
	say := func(isWorse, isBetter bool, words string) {
		switch {
		case isWorse:
			worse = append(worse, words)
		case isBetter:
			better = append(better, words)
		}
	}
	abs := func(n int64) int64 { return max(n, -n) }
	if r.Priced {
		cost := int64(a.Cost - b.Cost)
		say(cost > 0, cost < 0, strings.TrimSpace(stock.Money(abs(cost)).String()+" "+r.Goal.Currency))
	} else {
		n := a.Modules - b.Modules
		say(n > 0, n < 0, plain.Count(max(n, -n), "module")+" to buy")
	}
	size := int64(a.Trial.Total) - int64(b.Trial.Total)
	say(size < 0, size > 0, jedec.Capacity(abs(size)).String())
	x, ok1 := a.Trial.Operating.Get()
	y, ok2 := b.Trial.Operating.Get()
	if ok1 && ok2 {
		rate := int64(x.Grade.Rate) - int64(y.Grade.Rate)
		say(rate < 0, rate > 0, fmt.Sprintf("%d MT/s", abs(rate)))
		if later := int64(x.Timing.CL - y.Timing.CL); rate == 0 { // in half clocks, which tell nothing across rates
			say(later > 0, later < 0, fmt.Sprintf("CAS latency by %v", jedec.Latency(abs(later))))
		}
		lone := int64(x.Total-x.Paired()) - int64(y.Total-y.Paired())
		say(lone > 0, lone < 0, jedec.Capacity(abs(lone)).String()+" over all channels together")
	}
	checks, also := a.Trial.Checks(), b.Trial.Checks()
	say(!checks && also, checks && !also, "the correction of errors")
	free := a.SocketsFree - b.SocketsFree
	say(free < 0, free > 0, "room in "+plain.Count(max(free, -free), "socket"))
	out := len(a.Removes) - len(b.Removes)
	say(out > 0, out < 0, "the use of "+plain.Count(max(out, -out), "fitted module"))
	say(a.used() && !b.used(), !a.used() && b.used(), "new instead of used")
	sure, too := rule.Outcome(a.Trial.Verdict).Runs(), rule.Outcome(b.Trial.Verdict).Runs()
	say(!sure && too, sure && !too, "being sure")
	return worse, better
}

// Rivals pairs a proposal with the one that its true cost is held against: the first one, and for that the second.
func (r Result) Rivals(q Proposal) (first, other Proposal, ok bool) {
	all := slices.Concat(r.Proposals, r.Unproven)
	switch {
	case len(all) < 2:
		return q, q, false
	case q.Number == all[0].Number:
		return q, all[1], true
	}
	return all[0], q, true
}

// SameBuys reports whether two purchases are of the same units of the same offers; nothing is none.
func SameBuys(a, b []Buy) bool {
	return len(a) > 0 && slices.EqualFunc(a, b, func(x, y Buy) bool { return x.Number == y.Number && x.Units == y.Units })
}

// used reports whether something that is bought is used.
func (p Proposal) used() bool {
	return slices.ContainsFunc(p.Buys, func(b Buy) bool { return b.worn() })
}

// Cheapest is the first of the proposals that costs least.
func Cheapest(list []Proposal) Proposal {
	least := list[0]
	for _, q := range list {
		if q.Cost < least.Cost {
			least = q
		}
	}
	return least
}

// WaitsFor are the looks that would prove what is not proved, each once.
func (r Result) WaitsFor() (looks []string) {
	for _, q := range r.Unproven {
		for _, x := range q.Trial.Reasons {
			for _, look := range x.Looks() {
				if x.Outcome == rule.Unproven && !slices.Contains(looks, look) {
					looks = append(looks, look)
				}
			}
		}
	}
	return looks
}
