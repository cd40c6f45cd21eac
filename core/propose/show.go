package propose

import (
	"cmp"
	"math"
	"slices"

	"epitome/core/jedec"
	"epitome/core/rule"
	"epitome/core/trial"
)

// front is every set that no other beats, in a fixed order: the cheapest
// first. Sets alike in everything are there once.
func (s *search) front() (out []vector) {
	var all []vector
	for _, at := range s.spots() {
		all = append(all, s.least[at]...)
	}
	slices.SortStableFunc(all, func(a, b vector) int {
		return cmp.Or(cmp.Compare(a.proof, b.proof), cmp.Compare(a.cost, b.cost), cmp.Compare(a.total, b.total),
			cmp.Compare(b.rate, a.rate),
			cmp.Compare(a.latencyRank(), b.latencyRank()), cmp.Compare(a.lone, b.lone), cmp.Compare(b.free, a.free),
			cmp.Compare(a.gone, b.gone))
	})
	for _, v := range all {
		// Whatever beats v stands before it, or is alike.
		if !slices.ContainsFunc(out, func(o vector) bool { return o.beats(v) }) {
			out = slices.DeleteFunc(out, v.beats)
			out = append(out, v)
		}
	}
	return out
}

// spots lists the spots in a fixed order: a map has none.
func (s *search) spots() []spot {
	list := make([]spot, 0, len(s.least))
	for at := range s.least {
		list = append(list, at)
	}
	slices.SortFunc(list, func(a, b spot) int {
		return cmp.Or(cmp.Compare(a.total, b.total), cmp.Compare(a.free, b.free), cmp.Compare(a.gone, b.gone),
			cmp.Compare(b.proof, a.proof))
	})
	return list
}

// A pick is what one proposal is best at: of those that are alike in it, the one that truly costs least. It is given
// only where it tells the sets apart.
type pick struct {
	name    string
	measure func(vector) int64 // less is better
}

func (s *search) picks() []pick {
	list := []pick{{Recommended, nil}}
	if s.goal.priced() {
		list = append(list, pick{LeastMoney, func(v vector) int64 { return int64(v.cost) }},
			pick{"most for the money", s.eachCosts})
	} else {
		list = append(list, pick{"fewest modules", func(v vector) int64 { return int64(v.modules()) }})
	}
	return append(list, pick{"most room left", func(v vector) int64 { return -int64(v.free) }},
		pick{Largest, func(v vector) int64 { return -int64(v.total) }},
		pick{"fastest", func(v vector) int64 { return -int64(v.rate) }})
}

// better orders sets by a pick.
func (s *search) better(p pick) func(a, b vector) int {
	if p.measure == nil {
		return s.recommends
	}
	return func(a, b vector) int { return cmp.Or(cmp.Compare(p.measure(a), p.measure(b)), s.recommends(a, b)) }
}

// modules is how many are bought.
func (v vector) modules() (n int) {
	for _, b := range v.bought {
		n += b.Units * b.Pieces
	}
	return n
}

// Recommended is the pick that a technician would take, LeastMoney costs least, and Largest has the most memory.
// MoreMemory is a step between the first one and the largest, where no goal is named.
const (
	Recommended = "recommended"
	LeastMoney  = "least money"
	MoreMemory  = "more memory"
	Largest     = "largest"
)

// eachCosts is what each GiB costs that is there more than now; what adds none stands behind.
func (s *search) eachCosts(v vector) int64 {
	if v.total <= s.have {
		return math.MaxInt64
	}
	return int64(v.cost) * 1024 / int64((v.total-s.have)/jedec.MiB)
}

// shown is how many proposals a person chooses from at a glance: all picks, and
// where these are few the next ones.
const (
	shown         = 4
	shownUnproven = 2
)

// show turns what nothing beats into proposals: the picks first.
func (s *search) show(r *Result, found []vector) {
	laid := make(map[int]*Proposal) // by their place among what was found; nil for what can't be laid out
	lay := func(i int) *Proposal {
		if _, done := laid[i]; !done {
			laid[i] = nil
			if p, ok := s.proposal(found[i]); ok {
				laid[i] = &p
			}
		}
		return laid[i]
	}
	proved, waiting := s.standing(found, r.Goal.Everything)
	for s.tried(found, append(slices.Clone(proved), waiting...), lay) {
		proved, waiting = s.standing(found, r.Goal.Everything)
	}
	r.Proposals, r.Unproven = proposals(proved, lay), proposals(waiting, lay)
	for _, v := range found {
		r.Beaten += map[bool]int{true: 1}[v.proof <= rule.Likely]
	}
	r.Beaten -= len(r.Proposals)
	// The recommended one leads; the others stand in the order of what they truly cost, what loses error correction last.
	behind := func(p Proposal) int {
		switch {
		case slices.Contains(p.Picks, Recommended):
			return 0
		case s.corrects && !p.Trial.Checks():
			return 2
		}
		return 1
	}
	slices.SortStableFunc(r.Proposals, func(a, b Proposal) int {
		return cmp.Or(cmp.Compare(behind(a), behind(b)), cmp.Compare(a.True(), b.True()))
	})
	number := 0
	for _, list := range [][]Proposal{r.Proposals, r.Unproven, r.Unlikely} {
		for i := range list {
			if number > 0 { // one is recommended, the first
				list[i].Picks = slices.DeleteFunc(slices.Clone(list[i].Picks), func(p string) bool { return p == Recommended })
			}
			number++
			list[i].Number = number
		}
	}
}

// A standing is a set that is shown, by its place among what was found, and what it is best at.
type standing struct {
	at    int
	picks []string
}

// standing chooses what is shown of what nothing beats: of what is proved, and of what waits for a fact.
func (s *search) standing(found []vector, everything bool) (proved, waiting []standing) {
	var sure, open []int
	for i, v := range found {
		switch {
		case v.proof <= rule.Likely:
			sure = append(sure, i)
		default:
			open = append(open, i)
		}
	}
	return s.chosen(found, sure, nil, shown, everything), s.chosen(found, open, sure, shownUnproven, everything)
}

// tried holds the sets that are shown against the whole trial, which has the last word on what is proved,
// and on how sure the recommended one is. It reports whether it knew better: the choice is then another.
func (s *search) tried(found []vector, chosen []standing, lay func(int) *Proposal) (better bool) {
	for _, c := range chosen {
		is, v := rule.Refused, &found[c.at] // what can't be laid out
		if p := lay(c.at); p != nil {
			is = rule.Outcome(p.Trial.Verdict).Classed()
		}
		if (is <= rule.Likely) != (v.proof <= rule.Likely) || is > v.proof && slices.Contains(c.picks, Recommended) {
			v.proof, better = is, true
		}
	}
	return better
}

// proposals lays sets out that are shown.
func proposals(chosen []standing, lay func(int) *Proposal) (out []Proposal) {
	for _, c := range chosen {
		if p := lay(c.at); p != nil {
			p.Picks = c.picks
			out = append(out, *p)
		}
	}
	return out
}

// chosen are the picks among some of what was found, or all of it. What waits for a fact is
// best at nothing that a proved one is as good at, and is not worth a look then.
func (s *search) chosen(found []vector, among, proved []int, most int, everything bool) (out []standing) {
	if len(among) == 0 {
		return nil
	}
	names := make(map[int][]string)
	var order []int
	for _, p := range s.picks() {
		better := s.better(p)
		best := bestOf(found, among, better)
		if len(proved) > 0 && better(found[best], found[bestOf(found, proved, better)]) >= 0 {
			continue
		}
		if p.measure != nil && !slices.ContainsFunc(append(slices.Clone(among), proved...), func(i int) bool {
			return p.measure(found[i]) != p.measure(found[best])
		}) {
			continue // all are
		}
		if names[best] == nil {
			order = append(order, best)
		}
		names[best] = append(names[best], p.name)
	}
	for _, i := range among {
		if names[i] == nil && everything {
			order = append(order, i)
		}
	}
	if !everything {
		order = order[:min(len(order), most)]
	}
	for _, i := range order {
		out = append(out, standing{i, names[i]})
	}
	return out
}

// bestOf is the first of some of what was found that none of them is better than.
func bestOf(found []vector, among []int, better func(a, b vector) int) (best int) {
	best = among[0]
	for _, i := range among {
		if better(found[i], found[best]) < 0 {
			best = i
		}
	}
	return best
}

// proposal lays a set out: which module goes where, and the trial's verdict.
func (s *search) proposal(v vector) (p Proposal, ok bool) {
	p = Proposal{Cost: v.cost, Sums: s.sums(v)}
	var plan trial.Plan
	kept := make(map[string]bool)
	for i, n := range v.keep {
		o := s.owned[i]
		for j, member := range o.members {
			switch {
			case j < n && o.fitted:
				plan.Moved = append(plan.Moved, member)
				kept[member.Place] = true
			case j < n:
				plan.Sticks = append(plan.Sticks, member.Stick)
			}
		}
	}
	for _, seat := range trial.Fitted(s.m) {
		if !seat.Soldered && !kept[seat.Place] {
			plan.Pull = append(plan.Pull, seat.Place)
			p.Removes = append(p.Removes, Move{Place: seat.Place, Stick: trial.Describe(seat.Stick)})
		}
	}
	offers := make(map[int]*Offer)
	for _, b := range v.bought {
		if b.Lies == "" {
			p.Buys = append(p.Buys, b)
			p.Modules += b.Units * b.Pieces
		}
		for range b.Units * b.Pieces {
			st := *b.Stick
			st.From = b.Text
			st.Mark, offers[b.Number] = b.Number, b.Offer
			plan.Sticks = append(plan.Sticks, st)
		}
	}
	t, err := trial.Run(s.m, s.limits, plan)
	if err != nil {
		return p, false
	}
	p.Trial = t
	for _, seat := range t.Seats {
		move := Move{Place: seat.Place, Stick: trial.Describe(seat.Stick), From: seat.From}
		offer := offers[seat.Stick.Mark]
		switch {
		case seat.Soldered:
		case seat.New && (offer == nil || offer.Lies != ""):
			move.From = "drawer"
			if offer != nil {
				move.From = offer.Lies
			}
			p.Adds = append(p.Adds, move)
		case seat.New:
			move.Offer, move.SKU = offer.Number, offer.SKU
			p.Adds = append(p.Adds, move)
		default:
			if move.From == move.Place {
				move.From = ""
			}
			p.Keeps = append(p.Keeps, move)
		}
	}
	p.SocketsFree = len(t.Free)
	return p, true
}
