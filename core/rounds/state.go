package rounds

import (
	"math"
	"slices"
)

// A state is the work on one problem.
type state struct {
	p      *Problem
	unit   units
	stop   func() bool
	supply []supply
	sets   [][]int        // the sets of items that wants name, each once
	ways   map[*Way][]tie // the ways of each list of ways, taken apart
	groups []group        // machines of which the same can be done, and that need it alike

	price     []float64 // of each item's line, in money
	dear      float64   // what money weighs: 1 + the budget's price
	low       []float64 // of each set, the lowest price, and the item that has it
	which     []int
	taken     []float64 // of each item, the pieces that machines take at the prices, and on average
	usual     []float64
	lower     float64   // the best D
	split     float64   // the bound that is left where the items' costs were split
	at        []float64 // the prices that gave it
	atDear    float64
	best      []Choice
	bestScore int64
	found     bool
	searched  bool
	nodes     int
}

// A tie is what a way has to do with the items.
type tie struct {
	own   int64 // its steps and its money
	wants []setWant
	frees []int
}

type setWant struct{ set, n int }

type group struct {
	ways  []tie
	left  int64 // what it costs to give one of them nothing
	which []int // machines
}

func newState(p *Problem) *state {
	s := &state{p: p, unit: p.units(), ways: make(map[*Way][]tie), lower: math.Inf(-1)}
	most := make([]int, len(p.Items))
	sets := make(map[string]int)
	for _, list := range p.distinct() {
		ties := make([]tie, len(list))
		for i, w := range list {
			ties[i] = tie{own: int64(w.Steps)*s.unit.step + w.Extra, frees: w.Frees}
			for _, want := range w.Wants {
				key := keyOf(want.Items)
				set, ok := sets[key]
				if !ok {
					set = len(s.sets)
					sets[key], s.sets = set, append(s.sets, want.Items)
				}
				ties[i].wants = append(ties[i].wants, setWant{set, want.N})
			}
		}
		s.ways[&list[0]] = ties
	}
	type kind struct {
		ways *Way
		left int64
	}
	where := make(map[kind]int)
	for i, m := range p.Machines {
		k := kind{left: s.unit.leftOut(m)}
		var ties []tie
		if len(m.Ways) > 0 {
			k.ways = &m.Ways[0]
			ties = s.ways[k.ways]
		}
		g, ok := where[k]
		if !ok {
			g = len(s.groups)
			where[k], s.groups = g, append(s.groups, group{ways: ties, left: k.left})
		}
		s.groups[g].which = append(s.groups[g].which, i)
	}
	for _, g := range s.groups {
		wanted := make(map[int]int)
		for _, w := range g.ways {
			of := make(map[int]int)
			for _, want := range w.wants {
				for _, item := range s.sets[want.set] {
					of[item] += want.n
				}
			}
			for item, n := range of {
				wanted[item] = max(wanted[item], n)
			}
		}
		for item, n := range wanted {
			most[item] += n * len(g.which)
		}
	}
	for item, x := range p.Items {
		s.supply = append(s.supply, newSupply(x, most[item]))
	}
	s.price, s.dear = make([]float64, len(p.Items)), 1
	s.taken, s.usual = make([]float64, len(p.Items)), make([]float64, len(p.Items))
	s.split = math.Inf(-1)
	s.low, s.which = make([]float64, len(s.sets)), make([]int, len(s.sets))
	s.best = nothing(len(p.Machines))
	s.keep(s.best)
	return s
}

func keyOf(items []int) string {
	key := make([]byte, 0, 4*len(items))
	for _, i := range items {
		key = append(key, byte(i), byte(i>>8), byte(i>>16), ' ')
	}
	return string(key)
}

func nothing(n int) []Choice {
	list := make([]Choice, n)
	for i := range list {
		list[i].Way = -1
	}
	return list
}

// netOf counts the pieces of each item that choices take, less those that come out.
func (s *state) netOf(choices []Choice) []int {
	net := make([]int, len(s.supply))
	for i, c := range choices {
		s.count(net, s.p.Machines[i], c, 1)
	}
	return net
}

func (s *state) count(net []int, m Machine, c Choice, sign int) {
	if c.Way < 0 {
		return
	}
	for _, items := range c.Take {
		for _, item := range items {
			net[item] += sign
		}
	}
	for _, item := range m.Ways[c.Way].Frees {
		net[item] -= sign
	}
}

// score is what choices come to; ok is false where there is not so much, or not the money.
func (s *state) score(choices []Choice) (sum int64, ok bool) {
	for i, c := range choices {
		m := s.p.Machines[i]
		if c.Way < 0 {
			sum += s.unit.leftOut(m)
			continue
		}
		sum += s.ways[&m.Ways[0]][c.Way].own
	}
	cost := int64(0)
	for item, n := range s.netOf(choices) {
		if n <= 0 {
			continue
		}
		f := s.supply[item].at(n)
		if f >= never {
			return 0, false
		}
		cost += f
	}
	if budget, ok := s.p.Budget.Get(); ok && cost > budget {
		return 0, false
	}
	return sum + cost, true
}

// keep takes choices as the best, where they are.
func (s *state) keep(choices []Choice) bool {
	sum, ok := s.score(choices)
	if !ok || s.found && sum >= s.bestScore {
		return false
	}
	s.found, s.bestScore, s.best = true, sum, cloneChoices(choices)
	return true
}

func cloneChoices(choices []Choice) []Choice {
	out := slices.Clone(choices)
	for i := range out {
		out[i].Take = slices.Clone(out[i].Take)
	}
	return out
}

// bound is the best bound, as a whole number: every score is one.
func (s *state) bound() int64 { return min(s.bestScore, wholeAbove(math.Max(s.lower, s.split))) }

// wholeAbove is the least whole number that a score above d can be.
func wholeAbove(d float64) int64 { return int64(math.Ceil(d - 1e-6*math.Max(1, math.Abs(d)*1e-6))) }

// met reports whether plan and bound are the same.
func (s *state) met() bool { return s.found && s.bound() >= s.bestScore }

// How often the prices are moved, and how often a plan is made on the way.
const (
	moves    = 400
	planEach = 80
)

// ascend moves the prices to where the bound is best, and makes plans on the way. The prices
// of the items are in money; what they weigh is the budget's.
func (s *state) ascend() {
	s.firstPrices()
	s.weighMoney()
	s.make(false)
	s.climb(moves, func(move int) {
		if move%planEach == planEach-1 {
			s.make(false)
		}
	})
	s.make(true)
}

// firstPrices are what the first piece of each item costs.
func (s *state) firstPrices() {
	for item := range s.price {
		x := &s.supply[item]
		if len(x.hull) > 1 { // the first piece that costs anything
			a, b := x.hull[0], x.hull[1]
			if x.cost[b] == x.cost[a] && len(x.hull) > 2 {
				a, b = b, x.hull[2]
			}
			s.price[item] = float64(x.cost[b]-x.cost[a]) / float64(b-a)
		}
	}
}

// climb moves the prices, so often at the most, to where the bound is best; each is called
// after a move.
func (s *state) climb(moves int, each func(move int)) {
	reach, since := 1.0, 0
	use := make([]float64, len(s.supply))
	for move := range moves {
		s.weighMoney()
		d, _ := s.dual(use)
		if d > s.lower+1e-9 {
			s.lower, s.atDear, since = d, s.dear, 0
			s.at = append(s.at[:0], s.price...)
		} else if since++; since > 12 {
			reach, since = reach/2, 0
			copy(s.price, s.at)
			s.dear = s.atDear
			if reach < 1e-6 {
				break
			}
			continue
		}
		if s.met() || s.stop != nil && move%8 == 0 && s.stop() {
			break
		}
		norm := 0.0
		for _, g := range use {
			norm += g * g
		}
		if norm == 0 && s.dear == 1 {
			break // every line is kept: the plan that goes with it is found by make
		}
		step := reach * (float64(s.bestScore) - d) / s.dear / math.Max(norm, 1)
		most := math.Inf(1)
		for item, g := range use {
			if g != 0 {
				most = math.Min(most, reach*s.highest(item)/math.Abs(g))
			}
		}
		step = math.Min(step, most)
		for item, g := range use {
			s.price[item] = math.Max(0, s.price[item]+step*g)
		}
		for item, n := range s.taken {
			s.usual[item] += (n - s.usual[item]) / 8
		}
		each(move)
	}
	if s.at != nil {
		copy(s.price, s.at)
		s.dear = s.atDear
	}
}

// highest bounds by how much one move raises an item's price: where the bound is far off for
// want of money, prices of pieces must not run away.
func (s *state) highest(item int) float64 {
	x := &s.supply[item]
	if n := len(x.hull); s.dear > 1 && n > 1 {
		return float64(x.cost[x.hull[n-1]]) / float64(x.hull[n-1]) / 4
	}
	return math.Inf(1)
}

// weighMoney finds what money weighs, for the prices as they are: D rises with it as long as
// more is spent than there is.
func (s *state) weighMoney() {
	if !s.p.Budget.Known() {
		return
	}
	use := make([]float64, len(s.supply))
	spends := func(dear float64) bool {
		s.dear = dear
		_, spent := s.dual(use)
		return spent > 0
	}
	low, high := s.dear, s.dear
	for spends(high) && high < 1e9 {
		low, high = high, high*2
	}
	for low > 1 && !spends(low) {
		low, high = math.Max(1, low/2), low
	}
	for range 24 {
		if mid := (low + high) / 2; spends(mid) {
			low = mid
		} else {
			high = mid
		}
	}
	best, at := math.Inf(-1), high
	for _, dear := range []float64{low, high} {
		s.dear = dear
		if d, _ := s.dual(use); d > best {
			best, at = d, dear
		}
	}
	s.dear = at
}

// dual works out D for the prices. use comes back as how much each item's line is broken,
// spent as how much more is spent than there is.
func (s *state) dual(use []float64) (d, spent float64) {
	clear(use)
	clear(s.taken)
	s.cheapest()
	for _, g := range s.groups {
		least, of := float64(g.left), -1
		for i := range g.ways {
			if v := s.reduced(&g.ways[i]); v < least {
				least, of = v, i
			}
		}
		many := float64(len(g.which))
		d += many * least
		if of < 0 {
			continue
		}
		for _, want := range g.ways[of].wants {
			use[s.which[want.set]] += many * float64(want.n)
			s.taken[s.which[want.set]] += many * float64(want.n)
			spent += many * float64(want.n) * s.low[want.set]
		}
		for _, item := range g.ways[of].frees {
			use[item] -= many
			s.taken[item] -= many
			spent -= many * s.price[item]
		}
	}
	for item := range s.supply {
		n, value := s.supply[item].least(s.price[item])
		d += s.dear * value
		spent += value
		use[item] -= float64(n)
		if s.price[item] == 0 && use[item] < 0 {
			use[item] = 0
		}
	}
	if budget, ok := s.p.Budget.Get(); ok {
		spent -= float64(budget)
		d -= (s.dear - 1) * float64(budget)
	}
	return d, spent
}

// cheapest finds, of each set of items, the one with the lowest price.
func (s *state) cheapest() {
	for i, set := range s.sets {
		s.low[i] = math.Inf(1)
		for _, item := range set {
			if s.price[item] < s.low[i] {
				s.low[i], s.which[i] = s.price[item], item
			}
		}
	}
}

// reduced is what a way comes to at the prices.
func (s *state) reduced(t *tie) float64 {
	v := 0.0
	for _, want := range t.wants {
		v += float64(want.n) * s.low[want.set]
	}
	for _, item := range t.frees {
		v -= s.price[item]
	}
	return float64(t.own) + s.dear*v
}
