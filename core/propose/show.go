package propose

import (
	"cmp"
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

// A pick is what one proposal is best at: of those that are alike in it, the
// cheapest.
type pick struct {
	name   string
	better func(a, b vector) int // negative where a is better
}

func (s *search) picks() []pick {
	cheap := "least money"
	if !s.goal.priced() {
		cheap = "fewest modules"
	}
	byCost := func(a, b vector) int { return cmp.Compare(a.cost, b.cost) }
	return []pick{
		{Recommended, s.recommends},
		{cheap, func(a, b vector) int {
			return cmp.Or(byCost(a, b), cmp.Compare(a.gone, b.gone), cmp.Compare(a.lone, b.lone), cmp.Compare(b.total, a.total))
		}},
		{"most for the money", func(a, b vector) int {
			return cmp.Or(s.eachCosts(a, b), byCost(a, b), cmp.Compare(a.gone, b.gone), cmp.Compare(a.lone, b.lone))
		}},
		{"most room left", func(a, b vector) int {
			return cmp.Or(cmp.Compare(b.free, a.free), byCost(a, b), cmp.Compare(a.lone, b.lone))
		}},
		{Largest, func(a, b vector) int {
			return cmp.Or(cmp.Compare(b.total, a.total), byCost(a, b), cmp.Compare(a.lone, b.lone))
		}},
	}
}

// Recommended is the pick that a technician would take; Largest has the most memory.
const (
	Recommended = "recommended"
	Largest     = "largest"
)

// recommends orders sets as a technician does: what surely runs, no slower and
// with no less over all channels together than now; where money is all that was named,
// the most that it buys; then what throws nothing out and fills the channels alike. Where
// only one of the two can be had, what was thrown out counts as money; then what keeps
// the most, and the cheapest.
func (s *search) recommends(a, b vector) int {
	// A pair may cost a third more than one large module beside two small ones.
	odd, cost := cmp.Compare(a.odd, b.odd), func(v vector) int64 { return int64(v.cost) }
	if s.goal.priced() {
		odd, cost = 0, func(v vector) int64 { return int64(v.cost) * int64(3+v.odd) }
	}
	if s.goal.Cheapest {
		return cmp.Or(cmp.Compare(a.sure, b.sure), cmp.Compare(a.cost, b.cost), cmp.Compare(a.lacks(), b.lacks()),
			cmp.Compare(a.lone, b.lone), cmp.Compare(b.total, a.total), cmp.Compare(a.proof, b.proof),
			cmp.Compare(b.rate, a.rate))
	}
	most, either := 0, 0
	if !s.goal.Reach.Known() {
		most = cmp.Compare(b.total, a.total)
	}
	if a.lacks() == 1 && b.lacks() == 1 {
		either = cmp.Compare(int64(a.cost)+s.thrown(a), int64(b.cost)+s.thrown(b))
	}
	return cmp.Or(cmp.Compare(a.sure, b.sure), cmp.Compare(s.falls(a), s.falls(b)), cmp.Compare(a.unlike, b.unlike), most,
		cmp.Compare(a.lacks(), b.lacks()), either,
		cmp.Compare(a.gone, b.gone), odd, cmp.Compare(a.proof, b.proof),
		cmp.Compare(cost(a), cost(b)), cmp.Compare(a.odd, b.odd), cmp.Compare(a.lone, b.lone),
		cmp.Compare(b.total, a.total), cmp.Compare(b.rate, a.rate), cmp.Compare(a.shabby, b.shabby))
}

// falls is 1 where a machine would run slower, or have less over all channels together,
// than now.
func (s *search) falls(v vector) int {
	if v.rate < s.now.rate || v.total-v.lone < s.now.total-s.now.lone {
		return 1
	}
	return 0
}

// lacks counts what a set gives up of the two that a technician wants most: nothing is
// thrown out, and all channels carry the same.
func (v vector) lacks() int { return min(v.gone, 1) + int(min(v.lone, 1)) }

// thrown is what the modules that are taken out are worth.
func (s *search) thrown(v vector) int64 { return s.worth * int64(v.gone) }

// worthOfOne is what a fitted module is worth, by what a gigabyte of the cheapest offer
// costs; 0 where nothing is fitted.
func (s *search) worthOfOne() int64 {
	fitted, size := 0, jedec.Capacity(0)
	for _, o := range s.owned {
		if o.fitted {
			fitted += len(o.members)
			size += o.kind.Capacity * jedec.Capacity(len(o.members))
		}
	}
	each := int64(0) // of a GiB
	for _, c := range s.classes {
		for _, o := range c.offers {
			if gib := int64(c.kind.Capacity/jedec.GiB) * int64(o.Pieces); gib > 0 && (each == 0 || int64(o.Price)/gib < each) {
				each = int64(o.Price) / gib
			}
		}
	}
	if fitted == 0 {
		return 0
	}
	return each * int64(size/jedec.MiB) / 1024 / int64(fitted)
}

// eachCosts compares what each gigabyte costs that is there more than now; what
// adds none stands behind.
func (s *search) eachCosts(a, b vector) int {
	x, y := a.total-s.have, b.total-s.have
	if x == 0 || y == 0 {
		return cmp.Compare(y, x)
	}
	return cmp.Compare(int64(a.cost)*int64(y/jedec.MiB), int64(b.cost)*int64(x/jedec.MiB))
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
	// The recommended one leads; of the others what works stands before what likely
	// does.
	later := func(p Proposal) int { return map[bool]int{true: 1}[!slices.Contains(p.Picks, Recommended)] }
	slices.SortStableFunc(r.Proposals, func(a, b Proposal) int {
		return cmp.Or(cmp.Compare(later(a), later(b)),
			cmp.Compare(rule.Outcome(a.Trial.Verdict).Classed(), rule.Outcome(b.Trial.Verdict).Classed()))
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
		best := bestOf(found, among, p.better)
		if len(proved) > 0 && p.better(found[best], found[bestOf(found, proved, p.better)]) >= 0 {
			continue
		}
		if names[best] == nil {
			order = append(order, best)
		}
		names[best] = append(names[best], p.name)
	}
	for _, i := range among {
		if names[i] == nil && (everything || len(order) < most && len(proved) == 0) {
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
	p = Proposal{Cost: v.cost}
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
