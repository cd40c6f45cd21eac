package propose

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"epitome/core/ceiling"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/rule"
	"epitome/core/stock"
	"epitome/core/trial"
)

// A Pool is the modules that many machines share, one offer each whatever it is sold in:
// how many there are, and in which kits they come, is for the whole round to say. Numbers
// of offers are unlike, from 1.
// What of a module does not depend on the machine is worked out once: see [NewPool].
type Pool struct {
	Listed []Offer // at what one module of the cheapest line costs
	Free   []Offer // that lie there, or come out of machines
	Priced bool    // there are lists, though they may hold nothing for a machine; else what exists is sought
}

// NewPool makes a pool of offers.
func NewPool(listed, free []Offer, priced bool) Pool {
	for _, list := range [][]Offer{listed, free} {
		for i := range list {
			list[i].kin = trial.Kin(list[i].Stick, true)
		}
	}
	return Pool{listed, free, priced}
}

// A Way is one thing that can be done for a machine that shares a pool with others.
type Way struct {
	Keep  []int // how many modules of each group of like ones stay
	Wants []Want
	Gone  []module.Module // that come out
	Total jedec.Capacity
	Level int // 0 for as good as the best way, 1 for the next kind of worse, and so on
	Extra stock.Money
	Cost  stock.Money // of modules that are bought at the pool's prices
}

// A Want is modules that a way takes, each from any of the offers.
type Want struct {
	Offers []int // their numbers, the first choice first; of specifications as [Result] has them
	N      int
}

// mostWays is how many ways of one machine are weighed: the best, and beside them the
// cheapest, to which a short budget or stock may lead.
const mostWays, mostCheap = 40, 12

// Ways lists what can be done for a machine that reaches the goal and works, or likely
// does, the first choice first: every way of modules of one kind beside what is kept, and
// those of several kinds that nothing beats at the pool's prices. Where the pool has no
// prices, specs are the specifications that the numbers of offers stand for. The error is
// one of Search's; stop is asked now and then whether to end early.
func Ways(m machine.Machine, l ceiling.Limits, goal Goal, p Pool, stop func() bool) (ways []Way, specs []Offer,
	err error) {
	goal = goal.sized(m)
	if _, err := worthwhile(m, l, goal); err != nil {
		return nil, nil, err
	}
	goal.Offers = nil
	if p.Priced {
		goal.Offers = append(slices.Clip(p.Listed), p.Free...)
	}
	s, err := begin(m, l, goal)
	if err != nil {
		return nil, nil, err
	}
	s.stop, s.many = stop, true
	listed := p.Listed
	if !p.Priced {
		specs = s.specifications()
		for i := range specs {
			specs[i].Number = -1 - i
		}
		listed = specs
	}
	s.sortOffers(listed)
	s.value()
	price, worn := make(map[int]stock.Money), make(map[int]bool)
	for _, list := range [][]Offer{listed, p.Free} {
		for _, o := range list {
			price[o.Number], worn[o.Number] = max(price[o.Number], o.Price), o.worn()
		}
	}
	s.newApart(worn)
	// Of several kinds: first what is bought alone, so that what lies there once does not
	// stand in the way of what all can have.
	var found []vector
	mixed := func() {
		all := s.classes
		s.classes = leading(all)
		s.search()
		s.classes = all
		for _, v := range s.front() {
			if len(v.bought) > 1 {
				found = append(found, v)
			}
		}
		s.least, s.steps = make(map[spot][]vector), 0
	}
	mixed()
	sold := *s // what stands in the way is said of what can be bought
	if len(p.Free) > 0 {
		s.sortOffers(p.Free)
		mixed()
	}
	s.ofOneKind(func(v vector) { found = append(found, v) })
	if s.stopped {
		return nil, nil, ErrStopped
	}
	ways, open := s.waysOf(found, price)
	switch {
	case len(ways) > 0:
		return ways, specs, nil
	case open != "":
		return nil, specs, fmt.Errorf("%w: %s", ErrUnknown, open)
	}
	blocked, _ := sold.blocked(goal.Reach.Or(0))
	return nil, specs, fmt.Errorf("%w: %s", ErrBeyond, blocked)
}

// newApart sets new modules apart as a class of their own, where used ones of their class cost less: which of them are
// the better way is for the scale to say. worn are the numbers of used offers.
func (s *search) newApart(worn map[int]bool) {
	for _, c := range s.classes {
		if !c.offers[0].worn() || !slices.ContainsFunc(c.offers, func(o *Offer) bool { return !o.worn() }) {
			continue
		}
		fresh := *c
		fresh.offers = slices.DeleteFunc(slices.Clone(c.offers), (*Offer).worn)
		fresh.all = slices.DeleteFunc(slices.Clone(c.all), func(n int) bool { return worn[n] })
		s.classes = append(s.classes, &fresh)
	}
}

// leading are the classes that no other of their kind beats: one is bought rather than
// another that costs more, and is slower or less sure. Where nothing runs out, no set of
// several kinds needs any other.
func leading(all []*class) (list []*class) {
	beats := func(a, b *class) bool {
		return a.kind == b.kind && a.kin == b.kin && a.proof <= b.proof && a.rate >= b.rate &&
			rankTime(a.taa) <= rankTime(b.taa) && a.common == b.common && a.offers[0].Price <= b.offers[0].Price &&
			(!a.offers[0].worn() || b.offers[0].worn())
	}
	for i, c := range all {
		beaten := false
		for j, o := range all {
			beaten = beaten || j != i && beats(o, c) && (j < i || !beats(c, o))
		}
		if !beaten {
			list = append(list, c)
		}
	}
	return list
}

// ofOneKind looks at every number of modules of each class alone, beside everything that
// can be kept.
func (s *search) ofOneKind(found func(vector)) {
	var bases []base
	s.bases(func(b base) { bases = append(bases, b) })
	for _, c := range s.classes {
		s.least, s.steps, s.mixed = make(map[spot][]vector), 0, false
		t := newTable(c.kind, s.judge.Sockets())
		for n := 1; n <= s.judge.Sockets(); n++ {
			t.buys[n], t.cost[n] = []Buy{{c.offers[0], n, c}}, stock.Money(n)*c.offers[0].Price
		}
		for _, b := range bases {
			for n := 1; n <= b.free; n++ {
				s.weigh(b, []choice{{&t, n}}, t.cost[n])
			}
		}
		for _, v := range s.front() {
			if len(v.bought) == 1 {
				found(v)
			}
		}
		if s.interrupted() {
			return
		}
	}
}

// waysOf ranks what was found as a technician does, and keeps what may be needed. open is
// what would prove one, where none works.
func (s *search) waysOf(found []vector, price map[int]stock.Money) (ways []Way, open string) {
	if s.goal.Pairs {
		found = slices.DeleteFunc(found, s.unpaired)
	}
	slices.SortStableFunc(found, s.recommends)
	kept := slices.DeleteFunc(slices.Clone(found), func(v vector) bool { return v.proof > rule.Likely })
	if len(kept) == 0 {
		kept, open = s.triedWhole(found)
	}
	var levels []int
	least := stock.Money(math.MaxInt64) // beside the price
	for _, v := range kept {
		levels = append(levels, s.level(v))
		least = min(least, s.truly(v)-v.cost)
	}
	slices.Sort(levels)
	levels = slices.Compact(levels)
	for _, v := range kept {
		w := Way{Keep: v.keep, Total: v.total, Level: slices.Index(levels, s.level(v))}
		room := s.goal.Spend.Or(0)
		for _, b := range v.bought {
			w.Cost += stock.Money(b.Units) * b.Price
		}
		for _, b := range v.bought {
			want := Want{N: b.Units}
			for _, n := range b.of.all {
				// Whichever it gets must be within the money.
				if s.goal.Spend.Known() && w.Cost-stock.Money(b.Units)*(b.Price-price[n]) > room {
					continue
				}
				want.Offers = append(want.Offers, n)
			}
			slices.SortStableFunc(want.Offers, func(a, b int) int { return cmp.Compare(price[a], price[b]) })
			w.Wants = append(w.Wants, want)
		}
		if slices.ContainsFunc(w.Wants, func(x Want) bool { return len(x.Offers) == 0 }) {
			continue
		}
		if !s.goal.Cheapest {
			w.Extra = s.truly(v) - v.cost - least
		}
		for i, o := range s.owned {
			for n := v.keep[i]; o.fitted && n < len(o.members); n++ {
				w.Gone = append(w.Gone, o.members[n].Stick)
			}
		}
		ways = append(ways, w)
	}
	return fewest(ways), open
}

// level orders what [search.recommends] never weighs against money.
func (s *search) level(v vector) int {
	if s.goal.Cheapest {
		return int(v.sure)
	}
	return v.checks
}

// triedWhole keeps, of sets that are not proved by what the search looks at, those that the
// whole trial proves. open is what would prove the first of the others.
func (s *search) triedWhole(found []vector) (kept []vector, open string) {
	for _, v := range found[:min(len(found), mostWays)] {
		p, ok := s.proposal(v)
		if !ok {
			continue
		}
		if p.Trial.Verdict <= rule.Leans {
			v.proof = rule.Outcome(p.Trial.Verdict).Classed()
			v.sure = p.Trial.Apart(s.m).Classed()
			kept = append(kept, v)
			continue
		}
		for _, r := range p.Trial.Reasons {
			for _, look := range r.Looks() {
				if open == "" {
					open = look
				}
			}
		}
		if open == "" && p.Trial.Verdict == rule.CannotTell {
			open = "what there is of it does not prove that anything fits"
		}
	}
	return kept, open
}

// fewest drops ways that take what another takes, and more, for nothing better; and of the
// rest those that neither quality nor money would ever lead to.
func fewest(ways []Way) (kept []Way) {
	for _, w := range ways {
		if !slices.ContainsFunc(kept, func(o Way) bool { return o.serves(w) }) {
			kept = append(kept, w)
		}
	}
	if len(kept) <= mostWays {
		return kept
	}
	cheap := make([]int, len(kept))
	for i := range cheap {
		cheap[i] = i
	}
	slices.SortStableFunc(cheap, func(a, b int) int { return cmp.Compare(kept[a].Cost, kept[b].Cost) })
	chosen := make(map[int]bool)
	for _, i := range cheap[:mostCheap] {
		chosen[i] = true
	}
	var few []Way
	for i, w := range kept {
		if chosen[i] || len(few) < mostWays-mostCheap {
			few = append(few, w)
		}
	}
	return few[:min(len(few), mostWays)]
}

// serves reports whether a way is no worse than another whatever runs out.
func (w Way) serves(o Way) bool {
	return w.Level <= o.Level && w.Extra <= o.Extra && len(w.Gone) >= len(o.Gone) && slices.Equal(w.Keep, o.Keep) &&
		len(w.Wants) == len(o.Wants) && !slices.ContainsFunc(w.Wants, func(a Want) bool {
		return !slices.ContainsFunc(o.Wants, func(b Want) bool { return a.N <= b.N && slices.Equal(a.Offers, b.Offers) })
	})
}

// Laid is a way as a proposal: which modules go where, with the verdict of the whole
// trial. bought are the pieces, one unit each, in the order of the way's wants.
func Laid(m machine.Machine, l ceiling.Limits, goal Goal, keep []int, bought []Offer) (p Proposal, ok bool) {
	s, err := begin(m, l, goal)
	if err != nil || len(keep) != len(s.owned) {
		return p, false
	}
	v := vector{keep: keep}
	for i := range bought {
		o := &bought[i]
		v.cost += o.Price
		if at := slices.IndexFunc(v.bought, func(b Buy) bool { return b.Number == o.Number }); at >= 0 {
			v.bought[at].Units++
			continue
		}
		v.bought = append(v.bought, Buy{Offer: o, Units: 1})
	}
	return s.proposal(v)
}

// Specifications are the modules that are ordinarily sold for a machine, as [Ways] numbers
// them.
func Specifications(m machine.Machine, l ceiling.Limits, goal Goal) []Offer {
	s, err := begin(m, l, goal)
	if err != nil {
		return nil
	}
	list := s.specifications()
	for i := range list {
		list[i].Number = -1 - i
	}
	return list
}

// Missing is how much of what is asked for a machine lacks, in hundredths: 1 to 100.
func Missing(have jedec.Capacity, want maybe.Value[jedec.Capacity]) int {
	size, ok := want.Get()
	if !ok || size <= have || size == 0 {
		return 1
	}
	return max(1, int(100*(size-have)/size))
}
