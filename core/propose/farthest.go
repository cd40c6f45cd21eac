package propose

import (
	"cmp"
	"errors"
	"slices"

	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/plain"
	"epitome/core/rule"
)

// A Reach is how far a machine goes: what the search finds in it without a list, by the rules of a trial.
type Reach struct {
	// Size is the largest total of modules that are sold, beside soldered memory and what stays of the fitted ones,
	// that works or likely does. It is settled where that works for certain and nothing larger is open, and not known
	// where all that is more than fitted is open.
	Size fact.Fact[jedec.Capacity]
	// Certain is the largest total that works for certain, where that is less.
	Certain maybe.Value[jedec.Capacity]
	// Open is the largest total of which nobody knows whether it works, where that is more.
	Open maybe.Value[jedec.Capacity]
	// By is the limit that ends it, where somebody but the standard states one.
	By maybe.Value[ceiling.Ceiling]
	// Missing is the fact without which it can't be told; nil where none is missing.
	Missing *MissingError
}

// Farthest works out how far a machine goes.
func Farthest(m machine.Machine, l ceiling.Limits) Reach {
	s, err := survey(m, l, Goal{})
	missing := (*MissingError)(nil)
	switch {
	case err == nil:
		return s.farthest()
	case errors.As(err, &missing):
		return Reach{Missing: missing}
	case m.Totals.Soldered.Known() && m.Totals.Sockets.Or(0) == 0:
		return Reach{Size: fact.Of(m.Totals.Soldered.Or(0), min(m.Totals.Soldered.Standing(), m.Totals.Sockets.Standing()),
			fact.Support{Source: "sum over the places", Says: "all memory is soldered: it stays as it is"})}
	}
	return Reach{}
}

// A far is the largest set of one certainty that was found.
type far struct {
	vector
	sizes []jedec.Capacity // of the modules, the largest first
}

// A rise is the way to the largest sets: those found so far, by how sure they are.
type rise struct {
	*search
	best map[rule.Outcome]far
	// largest is the largest module that is as sure.
	largest map[rule.Outcome]jedec.Capacity
}

// farthest finds the largest set that works, the largest that likely does, and the largest that is open.
func (s *search) farthest() Reach {
	s.goal.Reach, s.least = maybe.None[jedec.Capacity](), make(map[spot][]vector)
	r := rise{s, map[rule.Outcome]far{rule.OK: {vector{total: s.have, proof: rule.OK}, s.sizesFitted()}},
		make(map[rule.Outcome]jedec.Capacity)}
	for _, c := range s.classes {
		for _, proof := range []rule.Outcome{rule.OK, rule.Likely, rule.Unproven} {
			if c.proof.Classed() <= proof {
				r.largest[proof] = max(r.largest[proof], c.kind.Capacity)
			}
		}
	}
	s.largestKept(r.hopeless, func(b base) {
		for _, p := range s.pools(b) {
			tables := s.tables(p.classes, b.free, true)
			r.grow(b, tables, surest(tables, p.classes), nil, b.total, b.free, max(b.proof, s.judge.Places()).Classed())
		}
	})
	return s.reachOf(r.best)
}

// at is the largest total that is at least so sure.
func (r rise) at(proof rule.Outcome) (top jedec.Capacity) {
	for o, f := range r.best {
		if o <= proof {
			top = max(top, f.total)
		}
	}
	return top
}

// hopeless reports that no set with so much in so many sockets is larger than one that is as sure.
func (r rise) hopeless(total jedec.Capacity, room int) bool {
	for proof, size := range r.largest {
		if total+jedec.Capacity(room)*size > r.at(proof) {
			return false
		}
	}
	return true
}

// surest is how sure the modules of each table are at best.
func surest(tables []table, classes []*class) []rule.Outcome {
	proofs := make([]rule.Outcome, len(tables))
	for i, t := range tables {
		proofs[i] = rule.Refused
		for _, c := range classes {
			if c.kind == t.kind {
				proofs[i] = min(proofs[i], c.proof.Classed())
			}
		}
	}
	return proofs
}

// grow adds modules of the tables to those that were chosen, the largest ones and as many as there is room for first,
// where that can come to more than what was found. total and proof are what is there already.
func (r rise) grow(b base, tables []table, proofs []rule.Outcome, chosen []choice, total jedec.Capacity, room int,
	proof rule.Outcome) {
	for i := range tables {
		t, with := &tables[i], max(proof, proofs[i])
		if total+jedec.Capacity(room)*t.kind.Capacity <= r.at(with) {
			continue
		}
		for n := room; n > 0; n-- {
			sum := total + jedec.Capacity(n)*t.kind.Capacity
			next := append(slices.Clone(chosen), choice{t, n})
			if sum > r.at(with) && sum > r.at(max(with, r.judge.Total(sum).Classed())) {
				if v, ok := r.worthOf(b, next, 0); ok && v.total > r.at(v.proof) {
					r.best[v.proof] = far{v, sizesOf(b, next)}
				}
			}
			if len(next) < maxKinds && n < room {
				r.grow(b, tables[i+1:], proofs[i+1:], next, sum, room-n, with)
			}
		}
	}
}

// largestKept goes through what can stay of what is fitted: nothing, and the largest modules, one more at a time. What
// is larger serves a large total better.
func (s *search) largestKept(hopeless func(total jedec.Capacity, room int) bool, do func(base)) {
	s.fixed = s.onBoard()
	order := make([]int, len(s.owned))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int {
		return cmp.Compare(s.owned[b].kind.Capacity, s.owned[a].kind.Capacity)
	})
	keep := make([]int, len(s.owned))
	for at := 0; ; keep[order[at]]++ {
		total, room := s.fixed.total, s.judge.Sockets()
		for i, n := range keep {
			total, room = total+s.owned[i].kind.Capacity*jedec.Capacity(n), room-n
		}
		if !hopeless(total, room) {
			if b, ok := s.baseOf(keep); ok && b.free > 0 {
				do(b)
			}
		}
		for at < len(order) && keep[order[at]] == len(s.owned[order[at]].members) {
			at++
		}
		if at == len(order) {
			return
		}
	}
}

// sizesFitted are the sizes of what sits in sockets now.
func (s *search) sizesFitted() (sizes []jedec.Capacity) {
	for _, o := range s.owned {
		for range o.members {
			if o.fitted {
				sizes = append(sizes, o.kind.Capacity)
			}
		}
	}
	slices.SortFunc(sizes, func(a, b jedec.Capacity) int { return cmp.Compare(b, a) })
	return sizes
}

// sizesOf are the sizes of a set in sockets.
func sizesOf(b base, chosen []choice) (sizes []jedec.Capacity) {
	for _, k := range b.kinds {
		sizes = append(sizes, k.Capacity)
	}
	for _, c := range chosen {
		for range c.n {
			sizes = append(sizes, c.from.kind.Capacity)
		}
	}
	slices.SortFunc(sizes, func(a, b jedec.Capacity) int { return cmp.Compare(b, a) })
	return sizes
}

// inWords writes a set with what is soldered: "4 GB soldered and 2 × 8 GB".
func (s *search) inWords(sizes []jedec.Capacity) string {
	parts := jedec.Tally(sizes)
	if soldered := s.judge.Soldered(); soldered > 0 {
		parts = append([]string{soldered.String() + " soldered"}, parts...)
	}
	return plain.And(parts)
}

// reachOf sums up the largest sets, by how sure they are.
func (s *search) reachOf(best map[rule.Outcome]far) (r Reach) {
	top := best[rule.OK]
	if f, ok := best[rule.Likely]; ok && f.total > top.total {
		r.Certain, top = maybe.If(top.total, top.total > 0), f
	}
	standing := min(s.m.Totals.Sockets.Standing(), s.limits.Generation.Standing())
	if f, open := best[rule.Unproven]; open && f.total > top.total {
		if r.Open = maybe.Just(f.total); top.total == s.have {
			return Reach{Open: r.Open}
		}
		standing = fact.Leaning
	}
	for _, what := range []ceiling.What{ceiling.Capacity, ceiling.PerSlot} {
		if bound, stated := s.limits.Bound(what); stated {
			standing = min(standing, bound.By.Standing)
		}
	}
	r.By = s.endedBy(top)
	if top.proof == rule.Likely {
		standing = fact.Leaning
	}
	r.Size = fact.Of(top.total, max(standing, fact.Leaning),
		fact.Support{Source: "places and limits", Says: s.inWords(top.sizes)})
	if top.proof == rule.Likely {
		r.Size = r.Size.Softened(fact.Leaning, s.doubts(top.vector)...)
	}
	return r
}

// endedBy is the limit that ends a machine's growth: the one on the whole where no module of a set can be a size
// larger, or else the one on a module where somebody states it.
func (s *search) endedBy(top far) maybe.Value[ceiling.Ceiling] {
	sold := catalogue.SizesSold(s.limits.Generation.Or(0), s.limits.Form.Or(0), s.kindFitted())
	larger := func(size jedec.Capacity) jedec.Capacity { // 0 where there is none
		i := slices.IndexFunc(sold, func(o jedec.Capacity) bool { return o > size })
		if i < 0 {
			return 0
		}
		return sold[i]
	}
	sizes := top.sizes
	if len(sizes) < s.judge.Sockets() {
		sizes = append(slices.Clone(sizes), 0)
	}
	grows, ends := false, true
	for _, size := range sizes {
		if next := larger(size); next > 0 {
			grows, ends = true, ends && s.judge.Total(top.total-size+next) > rule.Likely
		}
	}
	if whole, stated := s.limits.Bound(ceiling.Capacity); stated && whole.Most.Capacity() >= top.total && grows && ends {
		return maybe.Just(whole.By)
	}
	each, stated := s.limits.Bound(ceiling.PerSlot)
	most := each.Most.Capacity()
	return maybe.If(each.By, stated && each.By.Source != ceiling.Standard && most < sold[len(sold)-1] &&
		s.judge.Soldered()+most*jedec.Capacity(s.judge.Sockets()) >= top.total)
}

// doubts are what a likely set rests on.
func (s *search) doubts(v vector) (list []fact.Support) {
	p, ok := s.proposal(v)
	if !ok {
		return nil
	}
	for _, reason := range p.Trial.Reasons {
		for _, d := range reason.Depends {
			if reason.Outcome == rule.Likely {
				list = append(list, fact.Support{Source: d.Fact, Says: d.Else})
			}
		}
	}
	return list
}
