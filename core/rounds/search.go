package rounds

import (
	"cmp"
	"math"
	"slices"
)

// mostNodes bounds the search. It takes some seconds.
const mostNodes = 400_000

// An option is one choice of a machine's, with what it has to do with the items.
type option struct {
	choice Choice
	own    int64
	over   float64 // how much it is above the machine's least, at the prices
	net    []change
}

type change struct{ item, by int }

// search goes through what the gap leaves, machine by machine.
func (s *state) search() {
	gap := float64(s.bestScore) - s.lower
	s.cheapest()
	type open struct {
		machine int
		group   int
		options []option
	}
	var list []open
	d := &descent{s: s, net: make([]int, len(s.supply)), frees: make([]int, len(s.supply)),
		choices: nothing(len(s.p.Machines))}
	d.budget, d.limited = s.p.Budget.Get()
	for gi, g := range s.groups {
		least := float64(g.left)
		for i := range g.ways {
			least = math.Min(least, s.reduced(&g.ways[i]))
		}
		options := s.options(g, least, gap)
		if options == nil {
			return // too many to go through
		}
		for _, i := range g.which {
			list = append(list, open{i, gi, options})
		}
	}
	if len(list) > mostMachines {
		return
	}
	// Machines alike stay side by side; those with the most to decide come first.
	slices.SortStableFunc(list, func(a, b open) int {
		return cmp.Or(cmp.Compare(len(b.options), len(a.options)), cmp.Compare(a.group, b.group))
	})
	for _, x := range list {
		d.machines = append(d.machines, x.machine)
		d.options = append(d.options, x.options)
		same := len(d.alike) > 0 && len(d.machines) > 1 && list[len(d.machines)-2].group == x.group
		d.alike = append(d.alike, same)
	}
	d.prepare()
	d.down(0, 0)
	s.searched = !d.cut
	s.nodes = d.nodes
}

// mostMachines is how many machines a search goes into; mostOptions how many options one has.
const mostMachines, mostOptions = 1_000, 5_000

// options lists what a machine of a group may get in a plan that is better than the best
// one; nil where these are too many.
func (s *state) options(g group, least, gap float64) []option {
	var list []option
	if over := float64(g.left) - least; over < gap+1e-6 {
		list = append(list, option{choice: Choice{Way: -1}, own: g.left, over: over})
	}
	for way := range g.ways {
		t := &g.ways[way]
		takes := [][][]int{nil}
		base := float64(t.own)
		for _, item := range t.frees {
			base -= s.dear * s.price[item]
		}
		for _, want := range t.wants {
			var next [][][]int
			for _, so := range takes {
				for _, items := range spread(s.sets[want.set], want.n) {
					next = append(next, append(slices.Clone(so), items))
					if len(next) > mostOptions {
						return nil
					}
				}
			}
			takes = next
		}
		for _, take := range takes {
			v := base
			by := make(map[int]int)
			for _, items := range take {
				for _, item := range items {
					v += s.dear * s.price[item]
					by[item]++
				}
			}
			if v-least >= gap+1e-6 {
				continue
			}
			for _, item := range t.frees {
				by[item]--
			}
			o := option{choice: Choice{Way: way, Take: take}, own: t.own, over: v - least}
			for item, n := range by {
				if n != 0 {
					o.net = append(o.net, change{item, n})
				}
			}
			slices.SortFunc(o.net, func(a, b change) int { return cmp.Compare(a.item, b.item) })
			if list = append(list, o); len(list) > mostOptions {
				return nil
			}
		}
	}
	if list == nil {
		list = []option{} // nothing of it is in a better plan
	}
	slices.SortStableFunc(list, func(a, b option) int { return cmp.Compare(a.over, b.over) })
	return list
}

// spread lists every way of taking n pieces from items, each once.
func spread(items []int, n int) (list [][]int) {
	if n == 0 {
		return [][]int{nil}
	}
	for i, item := range items {
		for _, rest := range spread(items[i:], n-1) {
			if list = append(list, append([]int{item}, rest...)); len(list) > mostOptions {
				return list
			}
		}
	}
	return list
}

// A descent is the search on its way down.
type descent struct {
	s        *state
	machines []int
	options  [][]option
	alike    []bool // the machine is as the one before it
	net      []int
	frees    []int // of each item, how many pieces the machines to come may still free
	choices  []Choice
	freeing  [][]change // of each machine, how many pieces of which items it may free
	tail     []float64  // what the machines from the i-th on come to at the least
	floors   [][]float64
	own      int64
	items    float64 // what the items come to at the least, given what is decided
	budget   int64
	limited  bool
	nodes    int
	cut      bool
}

// prepare works out what the machines to come, and the items, come to at the least.
func (d *descent) prepare() {
	s := d.s
	n := len(d.machines)
	d.tail, d.freeing = make([]float64, n+1), make([][]change, n)
	least := make(map[int]float64)
	for _, g := range s.groups {
		v := float64(g.left)
		for i := range g.ways {
			v = math.Min(v, s.reduced(&g.ways[i]))
		}
		for _, i := range g.which {
			least[i] = v
		}
	}
	for i := n - 1; i >= 0; i-- {
		d.tail[i] = d.tail[i+1] + least[d.machines[i]]
		d.freeing[i] = freeing(d.options[i])
		for _, c := range d.freeing[i] {
			d.frees[c.item] += c.by
		}
	}
	// floors[item][m] is the least of dear × (F(m') - price × m') over all m' from m on.
	d.floors = make([][]float64, len(s.supply))
	for item := range s.supply {
		x := &s.supply[item]
		f := make([]float64, len(x.cost)+1)
		f[len(x.cost)] = never
		for m := len(x.cost) - 1; m >= 0; m-- {
			f[m] = f[m+1]
			if x.cost[m] < never {
				f[m] = math.Min(f[m], s.dear*(float64(x.cost[m])-s.price[item]*float64(m)))
			}
		}
		d.floors[item] = f
		d.items += d.itemLeast(item)
	}
}

// itemLeast is what an item comes to at the least: with what is decided, less what may still
// come out of machines.
func (d *descent) itemLeast(item int) float64 {
	k := d.net[item]
	m := min(max(0, k-d.frees[item]), len(d.floors[item])-1)
	return d.floors[item][m] + d.s.dear*d.s.price[item]*float64(k)
}

func (d *descent) budgetPart() float64 {
	if !d.limited {
		return 0
	}
	return (d.s.dear - 1) * float64(d.budget)
}

// down decides the i-th machine. from is the first option that it may take, so that machines
// alike do not go through the same again in another order.
func (d *descent) down(i, from int) {
	s := d.s
	if d.cut {
		return
	}
	if d.nodes++; d.nodes > mostNodes || d.nodes%1024 == 0 && s.stop != nil && s.stop() {
		d.cut = true
		return
	}
	if i == len(d.machines) {
		s.keep(d.choices)
		return
	}
	kept := d.items
	for _, c := range d.freeing[i] {
		d.items -= d.itemLeast(c.item)
		d.frees[c.item] -= c.by
		d.items += d.itemLeast(c.item)
	}
	for at := from; at < len(d.options[i]); at++ {
		o := &d.options[i][at]
		before := d.items
		for _, c := range o.net {
			d.items -= d.itemLeast(c.item)
			d.net[c.item] += c.by
			d.items += d.itemLeast(c.item)
		}
		d.own += o.own
		bound := float64(d.own) + d.tail[i+1] + d.items - d.budgetPart()
		if bound < float64(s.bestScore)-1+1e-4+1e-12*float64(s.bestScore) && d.affordable() {
			d.choices[d.machines[i]] = o.choice
			next := 0
			if i+1 < len(d.machines) && d.alike[i+1] {
				next = at
			}
			d.down(i+1, next)
			d.choices[d.machines[i]] = Choice{Way: -1}
		}
		d.own -= o.own
		for _, c := range o.net {
			d.net[c.item] -= c.by
		}
		d.items = before
	}
	for _, c := range d.freeing[i] {
		d.frees[c.item] += c.by
	}
	d.items = kept
}

// freeing is how many pieces of which items one of the options may free, by item.
func freeing(options []option) (list []change) {
	for _, o := range options {
		for _, c := range o.net {
			if c.by >= 0 {
				continue
			}
			i := slices.IndexFunc(list, func(x change) bool { return x.item == c.item })
			if i < 0 {
				i, list = len(list), append(list, change{item: c.item})
			}
			list[i].by = max(list[i].by, -c.by)
		}
	}
	return list
}

// affordable reports whether what is decided can be had: with all that may still come out of
// machines.
func (d *descent) affordable() bool {
	if !d.limited {
		return true
	}
	cost := int64(0)
	for item, n := range d.net {
		if n -= d.frees[item]; n > 0 {
			if cost += d.s.supply[item].at(n); cost > d.budget {
				return false
			}
		}
	}
	return true
}
