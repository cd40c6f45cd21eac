package rounds

import (
	"cmp"
	"maps"
	"math"
	"math/rand/v2"
	"slices"
)

// How often every machine is asked at the prices, and at the most how often afterwards,
// whether it would do better.
const mostGuided, mostTurns = 2, 12

// thrifts are how much more than the bound's price of money a machine minds it at first, where
// it is short: one that minds more takes what costs less, and leaves something to the others.
var thrifts = []float64{0, 0.5, 1, 1.4, 2, 3, 4, 6, 8, 16, 64}

// manyMachines is from how many machines on a plan takes so long that two starts must do.
const manyMachines = 2_000

// make makes plans from the prices: every machine takes what is best at them, then, as long
// as anybody gains by it, what is best given what the others have; thorough, two at a time.
func (s *state) make(thorough bool) {
	order := s.inOrder()
	starts := []float64{1, 0}
	if s.p.Budget.Known() {
		starts = thrifts
		if len(order) > manyMachines {
			starts = []float64{1, 4}
		}
	}
	for _, thrift := range starts {
		w := &work{s: s, choices: nothing(len(s.p.Machines)), net: make([]int, len(s.supply)), dear: s.dear * thrift}
		w.budget, w.limited = s.p.Budget.Get()
		for range mostGuided {
			for _, i := range order {
				w.settle(i, thrift > 0)
			}
		}
		// Who got nothing asks first: what money is left serves before it betters.
		for _, i := range order {
			if w.choices[i].Way < 0 {
				w.settle(i, false)
			}
		}
		// What is left of the money betters where it does most, before it betters at all.
		for w.dear /= 2; w.limited && w.dear > 1; w.dear /= 2 {
			for _, i := range order {
				w.settle(i, true)
			}
		}
		for range mostTurns {
			moved := false
			for _, i := range order {
				moved = w.settle(i, false) || moved
			}
			if !moved {
				break
			}
		}
		for range mostTurns {
			if !w.shift() {
				break
			}
			for _, i := range order {
				w.settle(i, false)
			}
		}
		s.keep(w.choices)
		if thorough && !s.met() {
			w.pairs(order)
			s.keep(w.choices)
		}
	}
}

// mostTorn bounds how often machines choose anew where part of a plan is torn up.
const mostTorn = 100_000

// tearUp takes the best plan, takes from some machines what they have, and lets them choose
// anew in another order; whatever is better is kept. The dice are the same each time.
func (s *state) tearUp() {
	order := s.inOrder()
	dice := rand.New(rand.NewPCG(uint64(len(order)), uint64(len(s.supply))))
	w := &work{s: s, choices: nothing(len(s.p.Machines)), net: make([]int, len(s.supply))}
	w.budget, w.limited = s.p.Budget.Get()
	for i, c := range cloneChoices(s.best) {
		w.put(i, c)
	}
	size := min(len(order), 2+len(order)/4)
	for asked := 0; asked < mostTorn && !s.met(); {
		if s.stop != nil && s.stop() {
			return
		}
		some := dice.Perm(len(order))[:size]
		for _, i := range some {
			w.put(i, Choice{Way: -1})
		}
		w.dear = s.dear * math.Exp2(4*dice.Float64()-1)
		guided := dice.IntN(3) > 0
		if w.cost < never {
			for _, i := range some {
				w.settle(i, guided)
			}
			for _, i := range some {
				w.settle(i, false)
			}
			asked += 2 * size
			if w.limited {
				for _, i := range order {
					w.settle(i, false)
				}
				asked += len(order)
			}
		}
		asked += size
		if !s.keep(w.choices) {
			for i, c := range s.best {
				if c.Way != w.choices[i].Way || !alike(c, w.choices[i]) {
					w.put(i, c)
				}
			}
		}
	}
}

// inOrder is the machines in the order in which they choose: those that lose most by going
// without first, and of these the ones that give modules away before those that take.
func (s *state) inOrder() []int {
	order := make([]int, len(s.p.Machines))
	worth := make([]float64, len(order))
	s.cheapest()
	for _, g := range s.groups {
		least, second, spends := math.Inf(1), math.Inf(1), 0.0
		for i := range g.ways {
			v := s.reduced(&g.ways[i])
			if v < least {
				least, second = v, least
				spends = 1
				for _, want := range g.ways[i].wants {
					spends += float64(want.n) * s.low[want.set]
				}
			} else {
				second = math.Min(second, v)
			}
		}
		w := math.Min(second, float64(g.left)) - least
		if s.p.Budget.Known() {
			w = (float64(g.left) - least) / spends
		}
		for _, i := range g.which {
			worth[i] = w
		}
	}
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return cmp.Compare(worth[b], worth[a]) })
	return order
}

// A work is a plan that is being made.
type work struct {
	s       *state
	choices []Choice
	net     []int
	cost    int64
	budget  int64
	limited bool
	dear    float64 // what money weighs for a machine that is guided
}

// put changes what a machine gets.
func (w *work) put(i int, c Choice) {
	for _, sign := range []int{-1, 1} {
		if sign > 0 {
			w.choices[i] = c
		}
		w.move(i, w.choices[i], sign)
	}
}

// move adds a choice, or takes it off, and keeps the cost.
func (w *work) move(i int, c Choice, sign int) {
	if c.Way < 0 {
		return
	}
	change := func(item, by int) {
		w.cost -= w.s.supply[item].at(w.net[item])
		w.net[item] += by
		w.cost += w.s.supply[item].at(w.net[item])
	}
	for _, items := range c.Take {
		for _, item := range items {
			change(item, sign)
		}
	}
	for _, item := range w.s.p.Machines[i].Ways[c.Way].Frees {
		change(item, -sign)
	}
}

// settle lets one machine choose anew, given what the others have, and reports whether that
// is another choice. guided, what is taken counts at the prices where they are higher.
func (w *work) settle(i int, guided bool) bool {
	m, had := w.s.p.Machines[i], w.choices[i]
	if len(m.Ways) == 0 {
		return false
	}
	w.put(i, Choice{Way: -1})
	base := w.cost
	best, least := Choice{Way: -1}, w.s.unit.leftOut(m)
	if base >= never {
		least = never // others took what came out of this one
	}
	ties := w.s.ways[&m.Ways[0]]
	try := func(c Choice) {
		t := &ties[c.Way]
		w.move(i, c, 1)
		value := t.own + w.cost - base
		fits := w.cost < never && !(w.limited && w.cost > w.budget)
		w.move(i, c, -1)
		if guided && fits {
			paid := float64(t.own) + w.dear*float64(value-t.own)
			for _, item := range t.frees {
				paid -= w.dear * w.s.price[item] // somebody else will want it
			}
			value = int64(math.Max(paid, w.s.reducedOf(t, c, w.dear)))
		}
		if base >= never {
			value -= never
		}
		if fits && value < least {
			best, least = c, value
		}
	}
	if had.Way >= 0 {
		try(had) // another is taken only where it is better
	}
	for way := range ties {
		if ties[way].own < least || len(ties[way].frees) > 0 {
			try(w.taking(i, way, guided))
		}
	}
	if best.Way < 0 && base >= never {
		best = had // it can't go back: others took what came out of it
	}
	w.put(i, best)
	return best.Way != had.Way || best.Way >= 0 && !alike(best, had)
}

func alike(a, b Choice) bool {
	return slices.EqualFunc(a.Take, b.Take, slices.Equal[[]int])
}

// reducedOf is what a choice comes to at the prices.
func (s *state) reducedOf(t *tie, c Choice, dear float64) float64 {
	v := 0.0
	for _, items := range c.Take {
		for _, item := range items {
			v += s.price[item]
		}
	}
	for _, item := range t.frees {
		v -= s.price[item]
	}
	return float64(t.own) + dear*v
}

// taking chooses the items of a way's pieces: one by one whichever costs least more, or all
// from one item, whichever is cheaper.
func (w *work) taking(i, way int, guided bool) Choice {
	c := Choice{Way: way}
	for _, want := range w.s.p.Machines[i].Ways[way].Wants {
		single, singly := w.piecewise(want, guided)
		whole, wholly := w.from(want, guided)
		if wholly < singly {
			single = whole
		}
		c.Take = append(c.Take, single)
		for _, item := range single {
			w.net[item]++
		}
	}
	for _, items := range c.Take {
		for _, item := range items {
			w.net[item]--
		}
	}
	return c
}

func (w *work) more(item, n int, guided bool) float64 {
	x := &w.s.supply[item]
	v := float64(x.at(w.net[item]+n) - x.at(w.net[item]))
	if guided {
		v = math.Max(v, float64(n)*w.s.price[item])
	}
	return v
}

func (w *work) piecewise(want Want, guided bool) (take []int, cost float64) {
	for range want.N {
		best, least := want.Items[0], math.Inf(1)
		for _, item := range want.Items {
			if v := w.more(item, 1, guided); v < least {
				best, least = item, v
			}
		}
		take = append(take, best)
		cost += least
		w.net[best]++
	}
	for _, item := range take {
		w.net[item]--
	}
	slices.Sort(take)
	return take, cost
}

func (w *work) from(want Want, guided bool) (take []int, cost float64) {
	best, cost := want.Items[0], math.Inf(1)
	for _, item := range want.Items {
		if v := w.more(item, want.N, guided); v < cost {
			best, cost = item, v
		}
	}
	for range want.N {
		take = append(take, best)
	}
	return take, cost
}

// shift moves pieces from one item to another, several at once: a minimum order or a kit pays
// only then. It reports whether anything was gained.
func (w *work) shift() (gained bool) {
	type piece struct{ machine, want, at int }
	movable := make(map[[2]int][]piece) // from which item to which
	for i, c := range w.choices {
		if c.Way < 0 {
			continue
		}
		for k, items := range c.Take {
			for at, from := range items {
				for _, to := range w.s.p.Machines[i].Ways[c.Way].Wants[k].Items {
					if to != from {
						movable[[2]int{from, to}] = append(movable[[2]int{from, to}], piece{i, k, at})
					}
				}
			}
		}
	}
	routes := slices.SortedFunc(maps.Keys(movable), func(a, b [2]int) int {
		return cmp.Or(cmp.Compare(a[0], b[0]), cmp.Compare(a[1], b[1]))
	})
	for _, route := range routes {
		from, to := route[0], route[1]
		a, b := &w.s.supply[from], &w.s.supply[to]
		list := slices.DeleteFunc(movable[route], func(x piece) bool {
			return w.choices[x.machine].Take[x.want][x.at] != from // it was moved before
		})
		best, most := 0, int64(0)
		for k := 1; k <= len(list); k++ {
			gain := a.at(w.net[from]) - a.at(w.net[from]-k) - b.at(w.net[to]+k) + b.at(w.net[to])
			if gain > most {
				best, most = k, gain
			}
		}
		for _, x := range list[:best] {
			c := w.choices[x.machine]
			c.Take = slices.Clone(c.Take)
			c.Take[x.want] = slices.Clone(c.Take[x.want])
			c.Take[x.want][x.at] = to
			w.put(x.machine, c)
			gained = true
		}
	}
	return gained
}

// mostPairs bounds how many pairs of machines are looked at: all of some hundred.
const mostPairs = 20_000

// pairs lets two machines choose anew together: one takes something else, so that the other
// gains more than it loses.
func (w *work) pairs(order []int) {
	looked := 0
	for _, i := range order {
		if len(w.s.p.Machines[i].Ways) == 0 {
			continue
		}
		for _, j := range order {
			if looked++; looked > mostPairs {
				return
			}
			if i == j || w.choices[i].Way < 0 && w.choices[j].Way < 0 || !w.touch(i, j) {
				continue
			}
			was, hadI, hadJ := w.value(i)+w.value(j)+w.cost, w.choices[i], w.choices[j]
			w.put(i, Choice{Way: -1})
			w.settle(j, false)
			w.settle(i, false)
			if w.cost >= never || w.limited && w.cost > w.budget || w.value(i)+w.value(j)+w.cost >= was {
				w.put(i, hadI)
				w.put(j, hadJ)
			}
		}
	}
}

func (w *work) value(i int) int64 {
	m, c := w.s.p.Machines[i], w.choices[i]
	if c.Way < 0 {
		return w.s.unit.leftOut(m)
	}
	return w.s.ways[&m.Ways[0]][c.Way].own
}

// touch reports whether two machines have to do with each other: by money, or by an item.
func (w *work) touch(i, j int) bool {
	if w.limited {
		return true
	}
	of := func(c Choice) (items []int) {
		for _, take := range c.Take {
			items = append(items, take...)
		}
		return items
	}
	taken := of(w.choices[i])
	for _, way := range w.s.p.Machines[j].Ways {
		for _, want := range way.Wants {
			for _, item := range want.Items {
				if slices.Contains(taken, item) {
					return true
				}
			}
		}
	}
	return false
}
