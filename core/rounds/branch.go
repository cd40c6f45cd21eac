package rounds

import (
	"maps"
	"math"
	"slices"
)

// A part is some of the plans: those that take no fewer, and no more, of some items than so
// many pieces.
type part struct {
	cuts  map[int][2]int // of an item, the least and the most; all others are free
	price []float64      // where its bound is best
	dear  float64
	bound float64
	item  int // that it may be split by; -1 for none
	at    int // into so many pieces at the most, and more
}

// How many parts are looked at, and how often the prices are moved in each; and how much work
// all of that may be, in steps of D: half a second.
const (
	mostParts  = 2_000
	partMoves  = 60
	mostEffort = 50_000_000
)

// fewMachines is up to how many machines a plan is made in each part: it takes longer than its
// bound.
const fewMachines = 100

// branch splits the plans by how many pieces of an item they take. The hull of F lies below F
// where a minimum order or a kit makes a step in it; in a part that takes no more than before
// the step, or no fewer than behind it, the hull is closer, and so is D. Every plan is in one
// of the parts: the least of their bounds is a bound of all.
func (s *state) branch() {
	if s.at == nil || s.p.Budget.Known() { // with a budget the gap is the money's, and no item's
		return
	}
	whole, lower, at, atDear := s.supply, s.lower, s.at, s.atDear
	defer func() {
		s.supply, s.lower, s.at, s.atDear, s.dear = whole, lower, at, atDear, atDear
		copy(s.price, at)
	}()
	effort := len(s.supply)
	for _, g := range s.groups {
		for _, w := range g.ways {
			effort += 1 + len(w.wants) + len(w.frees)
		}
	}
	for _, set := range s.sets {
		effort += len(set)
	}
	root := part{price: slices.Clone(s.price), dear: s.dear, bound: s.lower}
	root.item, root.at = s.steepest(root)
	open := []part{root}
	for looked := 0; len(open) > 0; {
		least := 0
		for i := range open {
			if open[i].bound < open[least].bound {
				least = i
			}
		}
		p := open[least]
		s.split = p.bound
		if wholeAbove(p.bound) >= s.bestScore {
			return // and so are all others
		}
		if p.item < 0 || looked >= mostParts || looked*effort*partMoves > mostEffort || s.stop != nil && s.stop() {
			return
		}
		open = slices.Delete(open, least, least+1)
		for _, more := range []bool{false, true} {
			looked++
			if q := s.partOf(p, more, whole); wholeAbove(q.bound) < s.bestScore {
				open = append(open, q)
			}
		}
	}
	s.split = float64(s.bestScore)
}

// partOf is one of the two parts that a part is split into, with its bound.
func (s *state) partOf(p part, more bool, whole []supply) part {
	q := part{cuts: maps.Clone(p.cuts), price: slices.Clone(p.price), dear: p.dear}
	if q.cuts == nil {
		q.cuts = make(map[int][2]int)
	}
	cut, ok := q.cuts[p.item]
	if !ok {
		cut = [2]int{0, len(whole[p.item].cost) - 1}
	}
	if more {
		cut[0] = p.at + 1
	} else {
		cut[1] = p.at
	}
	q.cuts[p.item] = cut
	s.supply = slices.Clone(whole)
	for item, cut := range q.cuts {
		s.supply[item] = whole[item].between(cut[0], cut[1])
	}
	copy(s.price, q.price)
	s.dear, s.lower, s.at = q.dear, math.Inf(-1), nil
	copy(s.usual, s.taken)
	s.climb(partMoves, func(int) {})
	q.bound, q.dear = math.Max(s.lower, p.bound), s.dear
	copy(q.price, s.price)
	if wholeAbove(q.bound) < s.bestScore {
		if len(s.p.Machines) <= fewMachines {
			part := s.supply
			s.supply = whole
			s.make(false)
			s.supply = part
		}
		q.item, q.at = s.steepest(q)
	}
	return q
}

// between is a supply of which no fewer and no more than so many pieces are had.
func (s *supply) between(least, most int) supply {
	part := supply{item: s.item, free: s.free, cost: slices.Clone(s.cost)}
	for n := range part.cost {
		switch {
		case n < least && least < len(s.cost):
			part.cost[n] = s.cost[least]
		case n > most:
			part.cost[n] = never
		}
	}
	part.corners()
	return part
}

// steepest is the item of which what is usually taken costs most above the hull, and how many
// pieces that is, rounded down; -1 where nothing lies above it.
func (s *state) steepest(p part) (item, at int) {
	item, most := -1, 0.5
	for i := range s.supply {
		x := &s.supply[i]
		n := s.usual[i]
		least, up := 0, len(x.cost)-1
		if cut, ok := p.cuts[i]; ok {
			least, up = cut[0], cut[1]
		}
		k := int(math.Floor(n + 1e-6))
		if k < least || k >= up || x.cost[k] >= never {
			continue
		}
		if above := float64(min(x.cost[k+1], never)) - x.hullAt(n); n > float64(k)+1e-3 && above > most {
			item, at, most = i, k, above
		} else if above := float64(x.cost[k]) - x.hullAt(float64(k)); above > most {
			item, at, most = i, k, above
		}
	}
	return item, at
}

// hullAt is the hull's value.
func (s *supply) hullAt(n float64) float64 {
	for i := 1; i < len(s.hull); i++ {
		a, b := s.hull[i-1], s.hull[i]
		if n <= float64(b) {
			return float64(s.cost[a]) + float64(s.cost[b]-s.cost[a])*(n-float64(a))/float64(b-a)
		}
	}
	if len(s.hull) == 0 {
		return never
	}
	return float64(s.cost[s.hull[len(s.hull)-1]])
}
