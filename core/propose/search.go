package propose

import (
	"slices"

	"epitome/core/jedec"
	"epitome/core/module"
	"epitome/core/rule"
	"epitome/core/stock"
	"epitome/core/trial"
)

// A vector is what a set is worth, with how it is made. Of each figure that a
// buyer looks at, less is better; so are capacity and rate the other way round.
type vector struct {
	cost    stock.Money
	total   jedec.Capacity
	rate    jedec.Rate
	latency jedec.Picoseconds
	lone    jedec.Capacity
	free    int
	gone    int
	proof   rule.Outcome // OK, Likely or Unproven
	keep    []int        // of each owned group, how many are used
	bought  []Buy
	shabby  int // of what is bought; no figure that a set is beaten in
}

// beats reports whether a is at least as good as b in everything.
func (a vector) beats(b vector) bool {
	return a.proof <= b.proof && a.cost <= b.cost && a.total >= b.total && a.runsAs(b) && a.lone <= b.lone && a.free >= b.free && a.gone <= b.gone
}

// runsAs reports whether a's operating point is as good as b's: a higher rate
// is better, and at one rate a shorter latency. A latency alone says nothing
// across rates: rounding to whole clocks makes it longer at some higher ones.
func (a vector) runsAs(b vector) bool {
	return a.rate > b.rate || a.rate == b.rate && a.latencyRank() <= b.latencyRank()
}

// latencyRank puts a latency that is not known behind all others.
func (a vector) latencyRank() jedec.Picoseconds {
	if a.latency == 0 {
		return 1 << 40
	}
	return a.latency
}

// A spot is where sets that can replace one another in everything but cost,
// speed and balance meet.
type spot struct {
	total jedec.Capacity
	free  int
	gone  int
	proof rule.Outcome
}

// A base is what is there before anything is bought.
type base struct {
	keep   []int
	kinds  []trial.PlaceKind
	sticks []module.Module
	total  jedec.Capacity
	rate   jedec.Rate // of the slowest; 0 where one is not known
	taa    jedec.Picoseconds
	known  bool // rate and access time of all are
	taaAll bool
	proof  rule.Outcome
	free   int
	gone   int
	units  int
	common []jedec.Latency // that all support that state any; nil for the standard's
}

// search looks at every keepable set, and at every level of what can be bought
// beside it.
func (s *search) search() {
	s.fixed = base{known: true, taaAll: true}
	for _, f := range s.judge.Fixed() {
		c := s.classOf(f, false)
		c.proof = rule.OK // it is there and runs
		s.fixed.take(c)
	}
	s.fixed.kinds = nil // soldered ones are placed already
	keep := make([]int, len(s.owned))
	s.keeps(keep, 0, s.judge.Sockets())
}

// keeps goes through every way of keeping what is at hand, from the i-th group
// on, that there is room for.
func (s *search) keeps(keep []int, i, room int) {
	s.steps++
	if s.interrupted() {
		return
	}
	if i == len(s.owned) {
		if b, ok := s.baseOf(keep); ok {
			s.buy(b)
		}
		return
	}
	for n := range min(room, len(s.owned[i].members)) + 1 {
		keep[i] = n
		s.keeps(keep, i+1, room-n)
	}
	keep[i] = 0
}

func (s *search) interrupted() bool {
	s.stopped = s.stopped || s.steps > mostSteps || s.stop != nil && s.stop()
	return s.stopped
}

// baseOf adds up what is kept; ok is false where it does not fit together or is
// more than the wishes allow.
func (s *search) baseOf(keep []int) (b base, ok bool) {
	b = s.fixed
	b.kinds, b.sticks = nil, slices.Clone(s.fixed.sticks)
	b.keep = slices.Clone(keep)
	for i, n := range keep {
		o := s.owned[i]
		for range n {
			b.take(o.class)
			b.units++
		}
		if o.fitted {
			b.gone += len(o.members) - n
		}
	}
	b.free = s.judge.Sockets() - b.units
	if common, stated := trial.CommonLatencies(b.sticks); stated {
		b.common = append([]jedec.Latency{}, common...) // never nil: that would mean the standard's
	}
	limit, limited := s.goal.Discard.Get()
	return b, b.free >= 0 && b.proof < rule.Refused && alike(b.sticks) && !(limited && b.gone > limit)
}

func (b *base) take(c class) {
	b.kinds = append(b.kinds, c.kind)
	b.sticks = append(b.sticks, c.stick)
	b.total += c.kind.Capacity
	b.proof = max(b.proof, c.proof)
	b.known = b.known && c.rate > 0
	b.taaAll = b.taaAll && c.taa > 0
	if b.rate == 0 || c.rate < b.rate {
		b.rate = c.rate
	}
	b.taa = max(b.taa, c.taa)
}

// alike reports whether modules can stand side by side: buffering, check bits
// and supplies agree. What is not known agrees with everything; its own rule
// has said so.
func alike(sticks []module.Module) bool {
	for i, a := range sticks {
		for _, b := range sticks[i+1:] {
			if differ(a.Registered.Get())(b.Registered.Get()) || differ(a.ECC.Get())(b.ECC.Get()) {
				return false
			}
		}
	}
	var common jedec.Supplies
	stated := false
	for i := range sticks {
		own, known := sticks[i].Supplies.Get()
		switch {
		case !known:
		case !stated:
			common, stated = own, true
		default:
			common = common.Shared(own)
		}
	}
	return !stated || common.Len() > 0
}

func differ(a bool, aKnown bool) func(bool, bool) bool {
	return func(b bool, bKnown bool) bool { return aKnown && bKnown && a != b }
}

// buy looks at everything that can be bought beside what is kept.
func (s *search) buy(b base) {
	s.weigh(b, nil, 0)
	if b.free == 0 {
		return
	}
	for _, pool := range s.pools(b) {
		for _, tables := range s.levels(pool, b.free) {
			s.combine(b, tables, 0, make([]choice, 0, maxKinds), 0, b.free, 0)
			if s.stopped {
				return
			}
		}
	}
}

// pools are the classes that can stand beside what is kept, and beside one
// another: those that run, with those that likely do, and all.
func (s *search) pools(b base) (pools [][]*class) {
	for _, group := range s.groups(b) {
		taken := 0
		for _, worst := range []rule.Outcome{rule.Reduced, rule.Likely, rule.Unproven} {
			var pool []*class
			for _, c := range group {
				if c.proof <= worst {
					pool = append(pool, c)
				}
			}
			if len(pool) > taken {
				pools, taken = append(pools, pool), len(pool)
			}
		}
	}
	return pools
}

// groups deals the classes by buffering, check bits and supply: each group can
// stand side by side.
func (s *search) groups(b base) (groups [][]*class) {
	index := make(map[string]int)
	for n := range s.classes {
		c := &s.classes[n]
		if !alike(append(slices.Clone(b.sticks), c.stick)) {
			continue
		}
		k := groupKey(c.stick)
		i, ok := index[k]
		if !ok {
			i = len(groups)
			index[k] = i
			groups = append(groups, nil)
		}
		groups[i] = append(groups[i], c)
	}
	return groups
}

func groupKey(st module.Module) string {
	k := ""
	for _, v := range []struct {
		is, known bool
	}{pair(st.Registered.Get()), pair(st.ECC.Get())} {
		switch {
		case !v.known:
			k += "?"
		case v.is:
			k += "y"
		default:
			k += "n"
		}
	}
	return k + "/" + st.Supplies.Or(jedec.Supplies{}).String()
}

func pair(is, known bool) struct{ is, known bool } { return struct{ is, known bool }{is, known} }
