// Package made makes rounds to measure by.
package made

import (
	"math/rand/v2"

	"epitome/core/maybe"
	"epitome/core/rounds"
)

// Workshop is a round of many machines of a few makes with one list: items in three rates of
// four sizes, lots of which most are few, kits, a drawer.
func Workshop(machines, lots int, budget bool) rounds.Problem {
	r := rand.New(rand.NewPCG(uint64(machines), uint64(lots)))
	var p rounds.Problem
	const sizes, rates, makers = 4, 3, 4
	for item := range sizes * rates * makers {
		size, x := item%sizes, rounds.Item{}
		for range max(1, lots/(sizes*rates*makers)) {
			l := rounds.Lot{Price: int64(900<<size) + int64(r.IntN(400<<size)), Pieces: 1, Units: 1 + r.IntN(12), MinOrder: 1}
			switch r.IntN(8) {
			case 0:
				l.Units = rounds.Any
			case 1:
				l.Pieces, l.Price = 2, l.Price*2*95/100
			case 2:
				l.MinOrder = 5
			}
			x.Lots = append(x.Lots, l)
		}
		if r.IntN(4) == 0 {
			x.Free = r.IntN(3)
		}
		p.Items = append(p.Items, x)
	}
	var makes [][]rounds.Way
	for range 12 {
		slowest, size := r.IntN(rates), 1+r.IntN(sizes-1)
		var ways []rounds.Way
		for step, n := range []int{1, 2, 1} {
			want := rounds.Want{N: n}
			for item := range p.Items {
				s := size
				if n == 2 {
					s--
				}
				if item%sizes == s && item/sizes%rates >= slowest {
					want.Items = append(want.Items, item)
				}
			}
			w := rounds.Way{Steps: step, Wants: []rounds.Want{want}}
			if step == 2 {
				w.Frees = []int{r.IntN(len(p.Items))}
			}
			ways = append(ways, w)
		}
		makes = append(makes, ways)
	}
	for i := range machines {
		p.Machines = append(p.Machines, rounds.Machine{Need: 1 + i%40, Gain: i % 9, Ways: makes[r.IntN(len(makes))]})
		if !budget {
			p.Machines[i].Need, p.Machines[i].Gain = 1, 0
		}
	}
	if budget {
		p.Budget = maybe.Just(int64(machines) * 2000)
	}
	return p
}
