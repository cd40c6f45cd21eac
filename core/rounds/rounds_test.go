package rounds

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/maybe"
	"epitome/truth/effort"
)

// plainly goes through every choice of every machine, and every number of units of every lot.
func plainly(p *Problem) (least int64) {
	s := newState(p)
	least = -1
	net := make([]int, len(p.Items))
	var each func(i int, own int64)
	each = func(i int, own int64) {
		if i == len(p.Machines) {
			cost := int64(0)
			for item, n := range net {
				c, ok := buyPlainly(p.Items[item], n)
				if !ok {
					return
				}
				cost += c
			}
			if budget, ok := p.Budget.Get(); ok && cost > budget {
				return
			}
			if least < 0 || own+cost < least {
				least = own + cost
			}
			return
		}
		m := p.Machines[i]
		each(i+1, own+s.unit.leftOut(m))
		for _, w := range m.Ways {
			for _, item := range w.Frees {
				net[item]--
			}
			var want func(k int, rest []int)
			want = func(k int, rest []int) {
				if k == len(w.Wants) {
					each(i+1, own+int64(w.Steps)*s.unit.step+w.Extra)
					return
				}
				var piece func(n, from int)
				piece = func(n, from int) {
					if n == 0 {
						want(k+1, nil)
						return
					}
					for at := from; at < len(w.Wants[k].Items); at++ {
						net[w.Wants[k].Items[at]]++
						piece(n-1, at)
						net[w.Wants[k].Items[at]]--
					}
				}
				piece(w.Wants[k].N, 0)
			}
			want(0, nil)
			for _, item := range w.Frees {
				net[item]++
			}
		}
	}
	each(0, 0)
	return least
}

func buyPlainly(item Item, n int) (least int64, ok bool) {
	n -= item.Free
	var each func(i, left int, cost int64)
	each = func(i, left int, cost int64) {
		if left <= 0 {
			if !ok || cost < least {
				least, ok = cost, true
			}
			return
		}
		if i == len(item.Lots) {
			return
		}
		l := item.Lots[i]
		each(i+1, left, cost)
		for u := l.MinOrder; u <= max(l.MinOrder, left/l.Pieces+1); u++ {
			if l.Units == Any || u <= l.Units {
				each(i+1, left-u*l.Pieces, cost+int64(u)*l.Price)
			}
		}
	}
	each(0, n, 0)
	return least, ok
}

// made is a small round with a bit of everything.
func made(r *rand.Rand) Problem {
	var p Problem
	items := 1 + r.IntN(4)
	for range items {
		var x Item
		for range r.IntN(4) {
			l := Lot{Price: int64(5 + r.IntN(40)), Pieces: 1 + r.IntN(5)/3, Units: r.IntN(4), MinOrder: 1 + r.IntN(6)/5}
			l.Price *= int64(l.Pieces)
			if r.IntN(2) == 0 {
				l.Units = Any
			}
			x.Lots = append(x.Lots, l)
		}
		if r.IntN(3) == 0 {
			x.Free = r.IntN(3)
		}
		p.Items = append(p.Items, x)
	}
	way := func() Way {
		w := Way{Steps: r.IntN(3), Extra: int64(r.IntN(10))}
		for range 1 + r.IntN(5)/4 {
			want := Want{N: 1 + r.IntN(2)}
			for item := range items {
				if r.IntN(2) == 0 {
					want.Items = append(want.Items, item)
				}
			}
			if len(want.Items) == 0 {
				want.Items = []int{r.IntN(items)}
			}
			w.Wants = append(w.Wants, want)
		}
		if r.IntN(3) == 0 {
			w.Frees = []int{r.IntN(items)}
		}
		return w
	}
	shared := []Way{way(), way()}
	for range 1 + r.IntN(4) {
		m := Machine{Need: 1, Ways: shared}
		if r.IntN(2) == 0 {
			m.Ways = []Way{way()}
			for range r.IntN(3) {
				m.Ways = append(m.Ways, way())
			}
		}
		if r.IntN(10) == 0 {
			m.Ways = nil
		}
		p.Machines = append(p.Machines, m)
	}
	if r.IntN(3) == 0 {
		p.Budget = maybe.Just(int64(r.IntN(150)))
		for i := range p.Machines {
			p.Machines[i].Need, p.Machines[i].Gain = 1+r.IntN(5), r.IntN(10)
		}
	}
	return p
}

// A thousand small rounds come out as plain enumeration has them.
func TestRoundsAgreeWithEnumeration(t *testing.T) {
	effort.NotShort(t)
	searched, budgets, bounded, nodes := 0, 0, 0, 0
	gap := 0.0
	for seed := range uint64(1000) {
		p := made(rand.New(rand.NewPCG(seed, 7)))
		want := plainly(&p)
		got := Solve(p, nil)
		s := newState(&p)
		score, ok := s.score(got.Choices)
		require.True(t, ok, "seed %d: the plan can't be carried out", seed)
		require.Equal(t, want, score, "seed %d: %+v", seed, p)
		require.True(t, got.Exact, "seed %d", seed)
		checkPlan(t, &p, got)
		if nodes += got.Nodes; got.Nodes > 0 {
			searched++
		}
		if p.Budget.Known() {
			budgets++
		}
		s.ascend()
		require.LessOrEqual(t, s.lower, float64(want)+1e-6, "seed %d: the bound is none", seed)
		if !p.Budget.Known() {
			gap += float64(want) - s.lower
		}
		if s.met() {
			bounded++
		}
	}
	t.Logf("of 1,000 rounds %d were searched in %d nodes, in %d the bound met the plan, off by %.0f; %d had budgets",
		searched, nodes, bounded, gap, budgets)
	// A branch that is no longer cut off, or a bound that climbs less far, is slower and not wrong: it shows here.
	assert.LessOrEqual(t, nodes, 2500)
	assert.GreaterOrEqual(t, bounded, 670)
	assert.LessOrEqual(t, gap, 380_000.0, "in steps and money, where there is no budget")
	assert.Greater(t, searched, 50)
	assert.Greater(t, budgets, 200)
}

// checkPlan holds what is ordered against what is taken.
func checkPlan(t *testing.T, p *Problem, got Plan) {
	t.Helper()
	have, cost := make([]int, len(p.Items)), int64(0)
	for item, x := range p.Items {
		have[item] = x.Free
	}
	for _, o := range got.Orders {
		l := p.Items[o.Item].Lots[o.Lot]
		assert.True(t, o.Units >= l.MinOrder && (l.Units == Any || o.Units <= l.Units), "%+v of %+v", o, l)
		have[o.Item] += o.Units * l.Pieces
		cost += int64(o.Units) * l.Price
	}
	served := 0
	for i, c := range got.Choices {
		if c.Way < 0 {
			continue
		}
		served++
		w := p.Machines[i].Ways[c.Way]
		require.Len(t, c.Take, len(w.Wants))
		for k, items := range c.Take {
			assert.Len(t, items, w.Wants[k].N)
			for _, item := range items {
				assert.Contains(t, w.Wants[k].Items, item)
				have[item]--
			}
		}
		for _, item := range w.Frees {
			have[item]++
		}
	}
	for item, n := range have {
		assert.GreaterOrEqual(t, n, 0, "item %d", item)
	}
	assert.Equal(t, cost, got.Cost)
	assert.Equal(t, served, got.Served)
	if budget, ok := p.Budget.Get(); ok {
		assert.LessOrEqual(t, cost, budget)
	}
}
