package bench

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"epitome/core/fact"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/plain"
	"epitome/core/propose"
	"epitome/core/records"
	"epitome/core/rule"
	"epitome/core/stock"
	"epitome/core/trial"
)

// A build is one way in which the machine may be built, as the bench would be if that
// had been seen.
type build struct {
	says  string
	bench *Bench
	leads bool // as the evidence leans
}

// mostBuilds bounds the ways that are worked out; openPlaces the places that may be either.
const mostBuilds, openPlaces = 6, 2

// ways lists the ways in which the machine may be built, the likeliest first; none where
// nothing about its places is open.
func (b *Bench) ways() (list []build) {
	m := b.Machine()
	var open []machine.Place
	sockets := 0
	for _, p := range m.Places {
		switch {
		case p.Announced:
		case p.Attach.Standing() < fact.Settled:
			open = append(open, p)
		case p.Attach.Or("") == machine.Socket:
			sockets++
		}
	}
	extra := []int{0}
	if n := m.Totals.Announced; n > len(m.Places) {
		extra = []int{n - len(m.Places), 0}
	}
	if len(open) > openPlaces || len(open) == 0 && len(extra) == 1 {
		return b.hidden()
	}
	for mask := range 1 << len(open) {
		for _, more := range extra {
			var h records.Hand
			h.Version = 1
			n, says, against := sockets+more, "", 0
			for i, p := range open {
				as := machine.Socket
				if mask&(1<<i) != 0 {
					as = machine.Soldered
				} else {
					n++
				}
				if a, leans := p.Attach.Get(); leans && a != as {
					against++
				}
				_ = h.Observe("attach", p.Name, string(as))
				says = joined(says, fmt.Sprintf("%s is %s", p.Name,
					map[machine.Attach]string{machine.Socket: "a socket", machine.Soldered: "soldered"}[as]))
			}
			if len(extra) > 1 {
				_ = h.Observe("sockets", "", fmt.Sprint(n))
				if more > 0 {
					says = joined(says, map[bool]string{true: "one more socket is",
						false: plain.Count(more, "more socket") + " are"}[more == 1]+" free, which firmware does not list")
				} else {
					says = joined(says, "there is no other socket")
					against++
				}
			}
			assumed, err := b.Assuming(h)
			if err != nil {
				continue
			}
			// A count that stands on the card makes a socket of its own beside what is soldered.
			if assumed.Machine().Totals.Sockets.Or(n) == 0 && m.Totals.Installed.Known() &&
				m.Totals.StatedMaximum.Or(0) >= 2*m.Totals.Installed.Or(0) {
				continue // nobody states room where nothing can be added
			}
			list = append(list, build{says, assumed, against == 0})
		}
	}
	slices.SortStableFunc(list, func(x, y build) int {
		return cmp.Compare(map[bool]int{false: 1}[x.leads], map[bool]int{false: 1}[y.leads])
	})
	if len(list) < 2 || len(list) > mostBuilds {
		return nil
	}
	return list
}

// hidden are the two ways in which a machine may be built of which nothing but soldered memory is listed, and a
// maximum of several times that is stated: as it is listed, or with a socket that nobody lists.
func (b *Bench) hidden() []build {
	m := b.Machine()
	if n, ok := m.Totals.Sockets.Get(); !ok || n > 0 || m.Totals.Sockets.Standing() == fact.Settled {
		return nil
	}
	var h records.Hand
	h.Version = 1
	_ = h.Observe("sockets", "", "1")
	with, err := b.Assuming(h)
	if err != nil || with.Machine().Totals.SocketsFree.Or(0) != 1 {
		return nil
	}
	return []build{{"there is no socket", b, true}, {"there is a socket that nobody lists", with, false}}
}

func joined(a, b string) string {
	if a == "" {
		return b
	}
	return a + ", and " + b
}

// lookInside is what tells one way of building from another.
const lookInside = "open the machine: count its sockets, and see which memory is soldered"

// freely is what makes the machine as fast as is asked for without buying anything, or faster than anything that is to
// be had; empty where nothing does, or more memory is asked for.
func (b *Bench) freely(r propose.Result) string {
	want, ok := r.Goal.Rate.Get()
	if !ok && !r.Goal.Fastest || r.Goal.Most || r.Goal.Reach.Or(0) > b.Machine().Have() || r.Goal.Spend.Known() {
		return ""
	}
	for _, g := range b.Free() {
		if g.Rate > 0 && g.Rate >= want {
			return g.Says + ": " + g.Gains
		}
	}
	return ""
}

// Propose returns the ways to upgrade that meet a goal. Where the number or the kind of
// places is open, each way in which the machine may be built is searched too: what fits
// in all of them is safe to buy before anybody looks. stop is asked now and then whether to
// end early. The error is one of package propose's.
func (b *Bench) Propose(goal propose.Goal, stop func() bool) (propose.Result, error) {
	r, err := propose.Search(b.Machine(), b.Ceilings(), goal, stop)
	if free := b.freely(r); free != "" && (goal.Fastest || !errors.Is(err, propose.ErrReached)) {
		return propose.Result{Goal: goal, Priced: r.Priced, Now: r.Now, Free: b.Free()},
			fmt.Errorf("%w without buying anything: %s", propose.ErrReached, free)
	}
	if !errors.Is(err, propose.ErrGoal) && !errors.Is(err, propose.ErrReached) {
		r.Free = b.Free()
	}
	if errors.Is(err, propose.ErrGoal) || errors.Is(err, propose.ErrStopped) {
		return r, err
	}
	list := b.builds()
	if len(list) == 0 {
		return r, err
	}
	results := make([]propose.Result, len(list))
	meets := 0
	for i, x := range list {
		one, err := propose.Search(x.bench.Machine(), x.bench.Ceilings(), goal, stop)
		if err == nil && len(one.Proposals) > 0 {
			meets++
		}
		results[i] = one
	}
	if meets == 0 {
		return r, err
	}
	safe, leading, ok := safeToBuy(list, results, goal, stop)
	if ok {
		r.Safe = safe
		if !slices.ContainsFunc(results[0].Proposals[:min(1, len(results[0].Proposals))],
			func(p propose.Proposal) bool { return propose.SameBuys(p.Buys, safe) }) {
			results[0].Proposals = append([]propose.Proposal{leading}, results[0].Proposals...)
		}
	}
	unknown := errors.Is(err, propose.ErrUnknown) || len(r.Proposals)+len(r.Unproven) == 0
	if unknown {
		r, err = joinedOf(r, list, results, safe), nil
	}
	for i, x := range list {
		s := propose.Structure{If: x.says, Look: lookInside}
		if len(results[i].Proposals) > 0 {
			s.First = numberOf(&r, results[i].Proposals[0], x, unknown)
		}
		r.Structures = append(r.Structures, s)
	}
	return r, err
}

// joinedOf makes one result of those for each way of building, where the machine as it is
// known has none: the first ones of each, likely where they buy what fits in any case.
func joinedOf(r propose.Result, list []build, results []propose.Result, safe []propose.Buy) propose.Result {
	for i := range list {
		if len(results[i].Proposals) > 0 {
			blank := r
			r = results[i]
			r.Proposals, r.Unproven, r.Safe, r.Free, r.Blocked = nil, nil, safe, blank.Free, ""
			break
		}
	}
	seen := func(p propose.Proposal, list []propose.Proposal) bool {
		return slices.ContainsFunc(list, func(q propose.Proposal) bool { return sameWay(p, q) })
	}
	for i, x := range list {
		few := 1
		if i == 0 {
			few = 2 // what is safe to buy, and what leads as the evidence leans
		}
		for j, p := range results[i].Proposals[:min(len(results[i].Proposals), few)] {
			if seen(p, r.Proposals) || seen(p, r.Unproven) {
				continue
			}
			p.Trial = depending(p.Trial, x)
			p.Picks = nil
			if j == 0 {
				p.Picks = []string{"if " + x.says}
			}
			if x.leads || propose.SameBuys(p.Buys, safe) {
				p.Trial.Verdict = max(p.Trial.Verdict, rule.Leans)
				r.Proposals = append(r.Proposals, p)
			} else {
				p.Trial.Verdict = rule.CannotTell
				r.Unproven = append(r.Unproven, p)
			}
		}
	}
	// What is safe to buy before anybody looks leads.
	slices.SortStableFunc(r.Proposals, func(a, c propose.Proposal) int {
		other := func(q propose.Proposal) int { return map[bool]int{false: 1}[propose.SameBuys(q.Buys, safe)] }
		return cmp.Compare(other(a), other(c))
	})
	if len(r.Proposals) > 0 {
		r.Proposals[0].Picks = append([]string{propose.Recommended}, r.Proposals[0].Picks...)
	}
	n := 0
	for _, list := range [][]propose.Proposal{r.Proposals, r.Unproven} {
		for i := range list {
			n++
			list[i].Number = n
		}
	}
	return r
}

// depending adds to a trial that it is of a machine built in one way.
func depending(t trial.Trial, x build) trial.Trial {
	outcome := rule.Likely
	if !x.leads {
		outcome = rule.Unproven
	}
	t.Reasons = append(slices.Clone(t.Reasons),
		rule.Reason{Rule: "socket", Outcome: outcome, Says: "if " + x.says, Source: "places of the machine",
			Depends: []rule.Dependence{{Fact: "how the machine is built", Leans: x.says, Else: "it is fitted otherwise",
				Look: lookInside}}})
	return t
}

// numberOf is the number of the proposal that leads in one way of building, added behind
// the others where it is not among them.
func numberOf(r *propose.Result, p propose.Proposal, x build, joined bool) int {
	all := append(slices.Clone(r.Proposals), r.Unproven...)
	for _, q := range all {
		if sameWay(p, q) {
			return q.Number
		}
	}
	if joined {
		return 0
	}
	p.Number, p.Picks, p.Trial = len(all)+1, []string{"if " + x.says}, depending(p.Trial, x)
	p.Trial.Verdict = rule.CannotTell
	r.Unproven = append(r.Unproven, p)
	return p.Number
}

// sameWay reports whether two proposals buy and move the same.
func sameWay(a, b propose.Proposal) bool {
	return propose.SameBuys(a.Buys, b.Buys) && slices.Equal(a.Adds, b.Adds) && slices.Equal(a.Removes, b.Removes)
}

// safeToBuy finds the first purchase that makes the machine better in every way in which
// it may be built: those that lead in one of them, the cheapest first.
// leading is what it comes to in the way that the evidence leans to.
func safeToBuy(list []build, results []propose.Result, goal propose.Goal,
	stop func() bool) (buys []propose.Buy, leading propose.Proposal, ok bool) {
	var candidates []propose.Proposal
	for _, r := range results {
		candidates = append(candidates, r.Proposals[:min(len(r.Proposals), 1)]...)
	}
	slices.SortStableFunc(candidates, func(a, b propose.Proposal) int { return cmp.Compare(a.Cost, b.Cost) })
	for _, c := range candidates {
		if len(c.Buys) == 0 {
			continue
		}
		fits := true
		for i, x := range list {
			p, better := improves(x.bench, c.Buys, goal, stop)
			if fits = fits && better; !fits {
				break
			}
			if i == 0 {
				leading = p
			}
		}
		if fits {
			return c.Buys, leading, true
		}
	}
	return nil, propose.Proposal{}, false
}

// improves is the way in which exactly these purchases make a machine better; ok is false
// where they do not.
func improves(b *Bench, buys []propose.Buy, goal propose.Goal, stop func() bool) (p propose.Proposal, ok bool) {
	only := goal
	only.Reach, only.Spend = maybe.Just(b.Machine().Have()+1), maybe.None[stock.Money]()
	only.Offers, only.Drawer, only.Everything = nil, nil, true
	for _, x := range buys {
		o := *x.Offer
		o.Quantity = maybe.Just(x.Units)
		only.Offers = append(only.Offers, o)
	}
	r, err := propose.Search(b.Machine(), b.Ceilings(), only, stop)
	if err != nil {
		return p, false
	}
	units := func(buys []propose.Buy) (n int) {
		for _, x := range buys {
			n += x.Units
		}
		return n
	}
	at := slices.IndexFunc(r.Proposals, func(p propose.Proposal) bool {
		return units(p.Buys) == units(buys) && p.Trial.Verdict <= rule.Leans
	})
	if at < 0 {
		return p, false
	}
	p = r.Proposals[at]
	p.Buys = buys // of the list, as the caller knows them
	return p, true
}
