package rounds

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"epitome/core/maybe"
)

// workshop is a round of many machines of a few makes with one list: items in three rates of
// four sizes, lots of which most are few, kits, a drawer.
func workshop(machines, lots int, budget bool) Problem {
	r := rand.New(rand.NewPCG(uint64(machines), uint64(lots)))
	var p Problem
	const sizes, rates, makers = 4, 3, 4
	for item := range sizes * rates * makers {
		size, x := item%sizes, Item{}
		for range max(1, lots/(sizes*rates*makers)) {
			l := Lot{Price: int64(900<<size) + int64(r.IntN(400<<size)), Pieces: 1, Units: 1 + r.IntN(12), MinOrder: 1}
			switch r.IntN(8) {
			case 0:
				l.Units = Any
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
	var makes [][]Way
	for range 12 {
		slowest, size := r.IntN(rates), 1+r.IntN(sizes-1)
		var ways []Way
		for step, n := range []int{1, 2, 1} {
			want := Want{N: n}
			for item := range p.Items {
				s := size
				if n == 2 {
					s--
				}
				if item%sizes == s && item/sizes%rates >= slowest {
					want.Items = append(want.Items, item)
				}
			}
			w := Way{Steps: step, Wants: []Want{want}}
			if step == 2 {
				w.Frees = []int{r.IntN(len(p.Items))}
			}
			ways = append(ways, w)
		}
		makes = append(makes, ways)
	}
	for i := range machines {
		p.Machines = append(p.Machines, Machine{Need: 1 + i%40, Gain: i % 9, Ways: makes[r.IntN(len(makes))]})
		if !budget {
			p.Machines[i].Need, p.Machines[i].Gain = 1, 0
		}
	}
	if budget {
		p.Budget = maybe.Just(int64(machines) * 2000)
	}
	return p
}

func BenchmarkSolve(b *testing.B) {
	for _, budget := range []bool{false, true} {
		for _, machines := range []int{10, 100, 200, 1_000, 10_000} {
			b.Run(fmt.Sprintf("machines=%d/budget=%v", machines, budget), func(b *testing.B) {
				p := workshop(machines, 480, budget)
				var got Plan
				for b.Loop() {
					got = Solve(p, nil)
				}
				b.ReportMetric(float64(got.Served), "served")
				b.ReportMetric(float64(got.Off), "off")
				b.ReportMetric(float64(got.OffSteps), "offsteps")
				b.ReportMetric(float64(got.OffLeft), "offleft")
				b.ReportMetric(float64(got.Cost), "cost")
				b.ReportMetric(float64(got.Nodes), "nodes")
			})
		}
	}
}
