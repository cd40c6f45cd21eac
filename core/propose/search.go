package propose

import (
	"cmp"
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
	proof   rule.Outcome   // OK, Likely or Unproven
	sure    rule.Outcome   // the same, apart from sockets that were announced
	unlike  int            // 1 where modules stand side by side that cost each other something
	waste   stock.Money    // what the modules that are taken out are worth
	checks  int            // 1 where error correction is lost that is there now
	used    int            // 1 where something that is bought is used
	odd     jedec.Capacity // on modules that have no equal on each other channel
	keep    []int          // of each owned group, how many are used
	bought  []Buy
	shabby  int // of what is bought; no figure that a set is beaten in
}

// beats reports whether a is at least as good as b in everything.
func (a vector) beats(b vector) bool {
	return a.proof <= b.proof && a.sure <= b.sure && a.unlike <= b.unlike && a.odd <= b.odd && a.cost <= b.cost &&
		a.total >= b.total && a.runsAs(b) && a.lone <= b.lone && a.free >= b.free && a.gone <= b.gone &&
		a.waste <= b.waste && a.checks <= b.checks && a.used <= b.used
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
	of     []*class // what is kept, each kin once
	unlike int
	total  jedec.Capacity
	rate   jedec.Rate // of the slowest; 0 where one is not known
	taa    jedec.Picoseconds
	known  bool // rate and access time of all are
	open   bool // those of one that is new there, or a size, are not
	taaAll bool
	proof  rule.Outcome
	free   int
	gone   int
	waste  stock.Money // what is taken out is worth
	plain  bool        // some of it has no check bits
	units  int
	common []jedec.Latency // that all support that state any; nil for the standard's
}

// search looks at every keepable set, and at every level of what can be bought
// beside it.
func (s *search) search() {
	if s.now.proof == rule.Unasked {
		s.now = s.asItIs()
		s.freely = max(s.now.rate, s.underProfile())
	}
	s.bases(s.buy)
}

// bases goes through everything that can be kept.
func (s *search) bases(do func(base)) {
	s.fixed = s.onBoard()
	s.smallestGo(do)
	s.keeps(make([]int, len(s.owned)), 0, s.judge.Sockets(), do)
}

// onBoard is the soldered memory, which stays.
func (s *search) onBoard() base {
	b := base{known: true, taaAll: true}
	for _, f := range s.judge.Fixed() {
		c := s.classOf(f, false, "")
		c.proof = rule.OK // it is there and runs
		b.take(c)
	}
	b.kinds = nil // soldered ones are placed already
	return b
}

// smallestGo looks at the ways of keeping that come to mind first, where there are too many to look at them all: what
// is fitted stays, but for the smallest modules, one more at a time; and beside all of it as many of one kind as
// there is room for are taken from the drawer.
func (s *search) smallestGo(do func(base)) {
	ways := 1
	stays := func(o owned) int {
		if o.fitted {
			return len(o.members)
		}
		return 0
	}
	var order, keep []int
	for i, o := range s.owned {
		if ways = min(ways, manyKeeps) * (len(o.members) + 1); o.fitted {
			order = append(order, i)
		}
		keep = append(keep, stays(o))
	}
	if ways <= manyKeeps {
		return
	}
	slices.SortStableFunc(order, func(a, b int) int {
		x, y := &s.owned[a], &s.owned[b]
		return cmp.Or(cmp.Compare(x.kind.Capacity, y.kind.Capacity), cmp.Compare(x.rate, y.rate))
	})
	try := func() {
		s.steps++
		if b, ok := s.baseOf(keep); ok && !s.interrupted() {
			do(b)
		}
	}
	room := s.judge.Sockets()
	for _, n := range keep {
		room -= n
	}
	for i, o := range s.owned {
		for n := 1; !o.fitted && n <= min(room, len(o.members)); n++ {
			keep[i] = n
			try()
		}
		keep[i] = stays(o)
	}
	for at := 0; !s.interrupted(); {
		try()
		for at < len(order) && keep[order[at]] == 0 {
			at++
		}
		if at == len(order) {
			return
		}
		keep[order[at]]--
	}
}

// keeps goes through every way of keeping what is at hand, from the i-th group
// on, that there is room for.
func (s *search) keeps(keep []int, i, room int, do func(base)) {
	s.steps++
	if s.interrupted() {
		return
	}
	if i == len(s.owned) {
		if b, ok := s.baseOf(keep); ok {
			do(b)
		}
		return
	}
	for n := range min(room, len(s.owned[i].members)) + 1 {
		keep[i] = n
		s.keeps(keep, i+1, room-n, do)
	}
	keep[i] = 0
}

func (s *search) interrupted() bool {
	s.stopped = s.stopped || s.steps+s.judge.Work() > mostSteps || s.stop != nil && s.stop()
	return s.stopped
}

// baseOf adds up what is kept; ok is false where it does not fit together or is
// more than the wishes allow.
func (s *search) baseOf(keep []int) (b base, ok bool) {
	b = s.fixed
	b.kinds, b.sticks, b.of = nil, slices.Clone(s.fixed.sticks), nil
	b.keep = slices.Clone(keep)
	for i, n := range keep {
		o := &s.owned[i]
		if n > 0 {
			b.of = append(b.of, &o.class)
		}
		for range n {
			b.take(o.class)
			b.units++
		}
		if o.fitted {
			b.gone += len(o.members) - n
			b.waste += o.worth * stock.Money(len(o.members)-n)
		}
	}
	b.free = s.judge.Sockets() - b.units
	if common, stated := trial.CommonLatencies(b.sticks); stated {
		b.common = append([]jedec.Latency{}, common...) // never nil: that would mean the standard's
	}
	for i, c := range b.of {
		for _, o := range b.of[:i] {
			b.unlike, b.proof = s.beside(c, o, b.unlike, b.proof)
		}
	}
	all := b.of
	b.of = nil
	for _, c := range all { // how the rest does beside it depends on its kin alone
		if !slices.ContainsFunc(b.of, func(o *class) bool { return o.kin == c.kin }) {
			b.of = append(b.of, c)
		}
	}
	limit, limited := s.goal.Discard.Get()
	return b, b.free >= 0 && !s.against(b.proof) && !(limited && b.gone > limit)
}

func (b *base) take(c class) {
	b.kinds = append(b.kinds, c.kind)
	b.sticks = append(b.sticks, c.stick)
	b.total += c.kind.Capacity
	b.proof = max(b.proof, c.proof)
	b.known = b.known && c.rate > 0
	b.open = b.open || c.kind.Capacity == 0 || c.isNew && (c.rate == 0 || c.taa == 0)
	b.taaAll = b.taaAll && c.taa > 0
	b.plain = b.plain || !checks(&c.stick)
	if b.rate == 0 || c.rate < b.rate {
		b.rate = c.rate
	}
	b.taa = max(b.taa, c.taa)
}

// beside adds what two classes of module cost one another.
func (s *search) beside(a, b *class, unlike int, proof rule.Outcome) (int, rule.Outcome) {
	side := s.judge.Beside(&a.stick, &b.stick, a.kin, b.kin, a.isNew, b.isNew)
	if side.Costs {
		unlike = 1
	}
	return unlike, max(proof, side.Worst.Classed())
}

// against reports whether an outcome leaves a set out: a no to act on, but where everything is to be seen what is
// unlikely is seen, too.
func (s *search) against(o rule.Outcome) bool {
	return o == rule.Refused || o == rule.Unlikely && !s.goal.Everything
}

// refuses reports whether two classes can't stand side by side.
func (s *search) refuses(a, b *class) bool {
	_, proof := s.beside(a, b, 0, rule.OK)
	return s.against(proof)
}

// costs reports whether two classes can't stand side by side, or cost each other
// something there.
func (s *search) costs(a, b *class) bool {
	unlike, proof := s.beside(a, b, 0, rule.OK)
	return unlike > 0 || s.against(proof)
}

// buy looks at everything that can be bought beside what is kept.
func (s *search) buy(b base) {
	s.weigh(b, nil, 0)
	if b.free == 0 {
		return
	}
	for _, p := range s.pools(b) {
		s.mixed = p.mixed
		for _, tables := range s.levels(p.classes, b.free) {
			s.combine(b, tables, 0, make([]choice, 0, maxKinds), 0, b.free, 0)
			if s.stopped {
				return
			}
		}
	}
}

// A pool is classes that can stand beside what is kept, and beside one another.
type pool struct {
	classes []*class
	mixed   bool // some of them cost each other something; sets that don't are in other pools
}

// pools are the classes that cost each other nothing, and those that are not
// refused; of each those that run, with those that likely do, and all.
func (s *search) pools(b base) (pools []pool) {
	pure := s.groups(b, s.costs)
	add := func(group []*class, mixed bool) {
		taken := 0
		for _, worst := range []rule.Outcome{rule.Reduced, rule.Likely, rule.Unproven, rule.Unlikely} {
			var some []*class
			for _, c := range group {
				if c.proof <= worst {
					some = append(some, c)
				}
			}
			if len(some) > taken {
				pools, taken = append(pools, pool{some, mixed}), len(some)
			}
		}
	}
	for _, group := range pure {
		add(group, false)
	}
	for _, group := range s.groups(b, s.refuses) {
		if !slices.ContainsFunc(pure, func(o []*class) bool { return slices.Equal(o, group) }) {
			add(group, true)
		}
	}
	return pools
}

// groups are the largest sets of classes of which each can stand beside each, and
// beside what is kept, by what keeps two apart. Classes of one kin do so alike, and
// there are few kins.
func (s *search) groups(b base, apart func(a, b *class) bool) (groups [][]*class) {
	var kins [][]*class
	for _, c := range s.classes {
		if slices.ContainsFunc(b.of, func(o *class) bool { return apart(c, o) }) {
			continue
		}
		i := slices.IndexFunc(kins, func(k []*class) bool { return k[0].kin == c.kin })
		if i < 0 {
			i, kins = len(kins), append(kins, nil)
		}
		kins[i] = append(kins[i], c)
	}
	var grow func(chosen []int, from int)
	grow = func(chosen []int, from int) {
		fits := func(i int) bool {
			return !slices.Contains(chosen, i) &&
				!slices.ContainsFunc(chosen, func(o int) bool { return apart(kins[i][0], kins[o][0]) })
		}
		whole := true
		for i := range kins {
			if fits(i) {
				if whole = false; i >= from {
					grow(append(slices.Clone(chosen), i), i+1)
				}
			}
		}
		if whole && len(chosen) > 0 {
			var group []*class
			for _, i := range chosen {
				group = append(group, kins[i]...)
			}
			groups = append(groups, group)
		}
	}
	grow(nil, 0)
	return groups
}
