package propose

import (
	"cmp"
	"slices"

	"epitome/core/jedec"
	"epitome/core/rule"
	"epitome/core/stock"
	"epitome/core/trial"
)

// combine looks at every number of modules of at most three kinds.
func (s *search) combine(b base, tables []table, from int, chosen []choice, kinds, room int, cost stock.Money) {
	for i := from; i < len(tables); i++ {
		t := &tables[i]
		for n := 1; n <= room; n++ {
			if !t.can[n] {
				continue
			}
			sum := cost + t.cost[n]
			if spend, ok := s.goal.Spend.Get(); ok && s.goal.priced() && sum-stock.Money(b.gone)*s.goal.TradeIn > spend {
				continue
			}
			next := append(chosen, choice{t, n})
			s.weigh(b, next, sum)
			if kinds+1 < maxKinds && n < room && !s.goal.OneKit {
				s.combine(b, tables, i+1, next, kinds+1, room-n, sum)
			}
			if s.stopped {
				return
			}
		}
	}
}

func (g Goal) priced() bool { return len(g.Offers) > 0 }

// A choice is n modules from a table.
type choice struct {
	from *table
	n    int
}

// weigh looks at one set, and keeps it unless one at the same spot beats it.
func (s *search) weigh(b base, chosen []choice, cost stock.Money) {
	s.considered.Sets++
	s.steps += 1 + s.judge.Sockets()/8 // the more sockets, the longer it takes
	if (s.considered.Sets%512 == 0 || s.steps+s.judge.Work() > mostSteps) && s.interrupted() {
		return
	}
	if v, ok := s.worthOf(b, chosen, cost); ok {
		s.keepAt(v)
	}
}

// worthOf is what one set is worth; ok is false where it does not run, is less than is asked for, or is beaten by what
// is there or was kept before.
func (s *search) worthOf(b base, chosen []choice, cost stock.Money) (v vector, ok bool) {
	v = vector{cost: cost - stock.Money(b.gone)*s.goal.TradeIn, total: b.total, free: b.free, gone: b.gone,
		waste: b.waste, checks: s.loses(b, chosen), used: usedOf(chosen)}
	var sides rule.Outcome
	if v.unlike, sides = s.sideBySide(b, chosen); s.mixed && v.unlike == b.unlike {
		return v, false // it is in a pool of its own
	}
	for _, c := range chosen {
		v.total += c.from.kind.Capacity * jedec.Capacity(c.n)
		v.free -= c.n
	}
	if v.total < max(s.goal.Reach.Or(0), s.have) || len(chosen) == 0 && s.unchanged(b) || v.total == 0 {
		return v, false // what is there is the floor
	}
	outcome := s.judge.Total(v.total)
	if s.against(outcome) {
		return v, false
	}
	load, proof, timed, bought := loadOf(b, chosen, outcome)
	if proof = max(proof, sides); s.against(proof) {
		return v, false
	}
	if len(chosen) > 0 {
		proof = max(proof, s.judge.Places())
	}
	s.kinds = append(s.kinds[:0], b.kinds...)
	for _, c := range chosen {
		for range c.n {
			s.kinds = append(s.kinds, c.from.kind)
		}
	}
	v.odd = s.oddness(s.kinds)
	best := vector{odd: v.odd, cost: v.cost, total: v.total,
		rate: min(load.Rate, s.judge.Bound(s.judge.Sockets()-v.free)), free: v.free, gone: v.gone, proof: proof.Classed(),
		unlike: v.unlike, latency: 1, shabby: shabbiness(chosen), waste: v.waste, checks: v.checks, used: v.used}
	if s.goal.Rate.Known() && best.rate < s.goal.Rate.Or(0) || s.beatenAt(best) || s.now.beats(best) {
		return v, false // even if it were placed and timed as well as can be
	}
	load.Kinds = s.kinds
	slices.SortStableFunc(load.Kinds, func(a, b trial.PlaceKind) int {
		return cmp.Or(cmp.Compare(b.Capacity, a.Capacity), cmp.Compare(b.RanksAtMost(), a.RanksAtMost()))
	})
	w := s.judge.Weigh(load)
	if s.against(w.Rules) {
		return v, false
	}
	proof = max(proof, w.Rules)
	v.rate, v.latency, v.lone = w.Rate, w.Latency, w.Lone
	if v.rate < s.goal.Rate.Or(0) {
		return v, false
	}
	// What runs there runs on whatever it is made for; of what is new that has to be known.
	stays := !b.known && !b.open && bought && w.Capped
	if v.proof = proof.Classed(); !stays && (w.Rate == 0 || !timed || w.Latency == 0) {
		v.proof = rule.Unproven
	}
	v.shabby = best.shabby
	if v.sure = v.proof; !s.plain {
		v.sure = rule.Unasked // the whole trial tells
	}
	if s.beatenAt(v) || s.now.beats(v) {
		return v, false
	}
	v.keep = b.keep
	for _, c := range chosen {
		v.bought = append(v.bought, c.from.buys[c.n]...)
	}
	if !s.plain {
		p, made := s.proposal(v)
		if !made || s.against(rule.Outcome(p.Trial.Verdict)) {
			return v, false // single slots differ: only a whole trial tells
		}
		v.proof = max(v.proof, rule.Outcome(p.Trial.Verdict).Classed())
		if v.sure = p.Trial.Apart(s.m).Classed(); s.beatenAt(v) {
			return v, false
		}
	}
	return v, true
}

// loses is 1 where the machine corrects errors now, and would not with a set.
func (s *search) loses(b base, chosen []choice) int {
	lost := b.plain
	for _, c := range chosen {
		for _, buy := range c.from.buys[c.n] {
			lost = lost || !checks(buy.Stick)
		}
	}
	if s.corrects && lost {
		return 1
	}
	return 0
}

// usedOf is 1 where something of a set is bought used.
func usedOf(chosen []choice) int {
	for _, c := range chosen {
		for _, buy := range c.from.buys[c.n] {
			if buy.worn() {
				return 1
			}
		}
	}
	return 0
}

// worn reports whether an offer is of something used.
func (o *Offer) worn() bool { return o.Condition == stock.Used || o.Condition == stock.Refurbished }

// sideBySide adds what the modules of a set cost one another.
func (s *search) sideBySide(b base, chosen []choice) (unlike int, worst rule.Outcome) {
	unlike, worst = b.unlike, rule.OK
	var seen []*class
	for _, c := range chosen {
		for _, buy := range c.from.buys[c.n] {
			if slices.ContainsFunc(seen, func(o *class) bool { return o.kin == buy.of.kin }) {
				continue
			}
			for _, o := range b.of {
				unlike, worst = s.beside(buy.of, o, unlike, worst)
			}
			for _, o := range seen {
				unlike, worst = s.beside(buy.of, o, unlike, worst)
			}
			seen = append(seen, buy.of)
		}
	}
	return unlike, worst
}

// loadOf is how the slowest of what is kept and bought runs, and how firmly all
// of it is proved; timed says that rate and times of all are known, bought those of what is bought.
func loadOf(b base, chosen []choice, outcome rule.Outcome) (load trial.Load, proof rule.Outcome, timed, bought bool) {
	proof = max(b.proof, outcome)
	load = trial.Load{Rate: b.rate, TAA: b.taa, Common: b.common}
	known, timed, bought := b.known, b.taaAll, true
	for i, c := range chosen {
		x := slowest(c)
		proof = max(proof, x.proof)
		known, timed, bought = known && x.rate > 0, timed && x.taa > 0, bought && x.rate > 0 && x.taa > 0
		if i == 0 && len(b.sticks) == 0 || x.rate < load.Rate {
			load.Rate = x.rate
		}
		load.TAA = max(load.TAA, x.taa)
	}
	if !known {
		load.Rate = 0
	}
	if !timed {
		load.TAA = 0
	}
	return load, proof, timed, bought
}

// unchanged reports whether a base is what is fitted now.
func (s *search) unchanged(b base) bool {
	for i, o := range s.owned {
		if o.fitted && b.keep[i] != len(o.members) || !o.fitted && b.keep[i] > 0 {
			return false
		}
	}
	return true
}

// slowest is the slowest of what is bought for a choice.
func slowest(c choice) (x class) {
	for i, buy := range c.from.buys[c.n] {
		if i == 0 || buy.of.rate < x.rate {
			x.rate = buy.of.rate
		}
		if i == 0 || rankTime(buy.of.taa) > rankTime(x.taa) {
			x.taa = buy.of.taa
		}
		x.proof = max(x.proof, buy.of.proof)
	}
	return x
}

// shabbiness orders purchases that are worth the same: the better described
// first, then the new ones, then those of fewer kinds.
func shabbiness(chosen []choice) (n int) {
	for _, c := range chosen {
		n++
		for _, buy := range c.from.buys[c.n] {
			n += buy.shabbiness()
		}
	}
	return n
}

// shabbiness is what speaks against an offer where nothing else does.
func (o *Offer) shabbiness() (n int) {
	st := o.Stick
	for _, told := range []bool{st.Ranks.Known(), st.Width.Known(), st.Rated.Known(), st.ECC.Known(),
		st.Registered.Known(), st.Supplies.Known()} {
		if !told {
			n += 10_000
		}
	}
	if o.Condition != stock.New {
		n += 100
	}
	return n
}

func (v vector) at() spot { return spot{v.total, v.free, v.gone, v.proof} }

// beatenAt reports whether a set at the same spot is better, or as good and no
// worse to buy.
func (s *search) beatenAt(v vector) bool {
	return slices.ContainsFunc(s.least[v.at()],
		func(o vector) bool { return o.beats(v) && (o.shabby <= v.shabby || !v.beats(o)) })
}

func (s *search) keepAt(v vector) {
	list := slices.DeleteFunc(s.least[v.at()], func(o vector) bool { return v.beats(o) })
	s.least[v.at()] = append(list, v)
}
