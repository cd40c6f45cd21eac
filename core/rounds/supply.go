package rounds

import (
	"cmp"
	"math"
	"slices"
)

// never is the cost of more than there is: above every score, and small enough to be added up.
const never = 1 << 50

// A supply is what it costs to have at least n pieces of an item, for each n up to what all
// machines together may take.
type supply struct {
	item Item
	cost []int64 // by n, from 0
	hull []int   // the n at the corners of the largest convex function that is nowhere above
	free int
}

func newSupply(item Item, most int) supply {
	s := supply{item: item, free: item.Free, cost: fill(item, most, nil)}
	s.corners()
	return s
}

// at is what n pieces cost; n may be below nought where more comes out of machines than
// goes in.
func (s *supply) at(n int) int64 {
	switch {
	case n <= s.free:
		return 0
	case n >= len(s.cost):
		return never
	}
	return s.cost[n]
}

// fill goes through the lots. With rows, the costs after each lot are kept, to find out
// afterwards what was bought.
func fill(item Item, most int, rows *[][]int64) []int64 {
	cost := make([]int64, most+1)
	for n := range cost {
		if n > item.Free {
			cost[n] = never
		}
	}
	for _, l := range item.Lots {
		next := slices.Clone(cost)
		units := l.Units
		if needed := (most-item.Free)/l.Pieces + 1; units == Any || units > max(needed, l.MinOrder) {
			units = max(needed, l.MinOrder)
		}
		if units >= l.MinOrder {
			with(cost, next, l, units)
		}
		if rows != nil {
			*rows = append(*rows, cost)
		}
		cost = next
	}
	if rows != nil {
		*rows = append(*rows, cost)
	}
	return cost
}

// with lowers next to what some units of a lot make of cost: MinOrder to units of them. A
// window over the units keeps it at one step for each n.
func with(cost, next []int64, l Lot, units int) {
	c := l.Pieces
	// For each remainder r, n = r + q c: next[n] = least over u of cost[n - u c] + u price,
	// where n - u c below nought counts as nought.
	for r := range min(c, len(next)) {
		var window []int // q of cost, with falling q and rising value, first is best
		value := func(q int) int64 { return cost[r+q*c] - int64(q)*l.Price }
		for q := 0; r+q*c < len(next); q++ {
			if add := q - l.MinOrder; add >= 0 {
				for len(window) > 0 && value(window[len(window)-1]) >= value(add) {
					window = window[:len(window)-1]
				}
				window = append(window, add)
			}
			for len(window) > 0 && window[0] < q-units {
				window = window[1:]
			}
			n := r + q*c
			if len(window) > 0 && cost[r+window[0]*c] < never {
				next[n] = min(next[n], value(window[0])+int64(q)*l.Price)
			}
			// All of n, and more, from this lot alone.
			if u := max(l.MinOrder, (n+c-1)/c); u <= units {
				next[n] = min(next[n], int64(u)*l.Price)
			}
		}
	}
}

// orders finds what is bought for n pieces.
func (s *supply) orders(item, n int) (list []Order) {
	if n <= s.free {
		return nil
	}
	var rows [][]int64
	fill(s.item, n, &rows)
	left := n
	for i := len(s.item.Lots) - 1; i >= 0; i-- {
		l := s.item.Lots[i]
		want := rows[i+1][left]
		if rows[i][left] == want {
			continue
		}
		for u := l.MinOrder; ; u++ {
			rest := max(0, left-u*l.Pieces)
			if rows[i][rest] < never && rows[i][rest]+int64(u)*l.Price == want {
				list = append(list, Order{item, i, u})
				left = rest
				break
			}
			if rest == 0 {
				break
			}
		}
	}
	slices.SortFunc(list, func(a, b Order) int { return cmp.Compare(a.Lot, b.Lot) })
	return list
}

// corners finds the corners of the convex hull below the costs.
func (s *supply) corners() {
	for n, c := range s.cost {
		if c >= never {
			break
		}
		for len(s.hull) >= 2 {
			a, b := s.hull[len(s.hull)-2], s.hull[len(s.hull)-1]
			// b lies on or above the line from a to n.
			if (s.cost[b]-s.cost[a])*int64(n-a) >= (c-s.cost[a])*int64(b-a) {
				s.hull = s.hull[:len(s.hull)-1]
				continue
			}
			break
		}
		s.hull = append(s.hull, n)
	}
}

// least is the n, and the value, at which F(n) - price × n is least.
func (s *supply) least(price float64) (n int, value float64) {
	value = math.Inf(1)
	for _, k := range s.hull {
		if v := float64(s.cost[k]) - price*float64(k); v < value {
			n, value = k, v
		}
	}
	return n, value
}
