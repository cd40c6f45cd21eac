package propose

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/rule"
	"epitome/core/stock"
	"epitome/core/trial"
	"epitome/golden"
	"epitome/truth/effort"
)

// searched runs a check on what is proposed for machines, wishes and lists by chance.
func searched(t *testing.T, cases int, check func(t *testing.T, m machine.Machine, g Goal, found Result, err error)) {
	for seed := range uint64(cases) {
		r := rand.New(rand.NewPCG(seed, 5))
		in, g := randomCase(r)
		g.Everything, g.Pairs, g.Cheapest = seed%3 == 0, seed%7 == 3, seed%5 == 2
		if seed%6 == 1 {
			g.Drawer = []module.Module{known(t, labels[seed%8]), known(t, labels[(seed+3)%8])}
		}
		if seed%8 == 5 {
			g.Offers = nil
		}
		for i := range g.Offers {
			g.Offers[i].Number = i + 1
		}
		m, l := in.Machine(t)
		found, err := Search(m, l, g, nil)
		check(t, m, g, found, err)
		if t.Failed() {
			t.Fatalf("case %d: %s in %v of %s\n%+v\n%v", seed, wished(g), in.Places, in.Takes, found, err)
		}
	}
}

// onPage are all sets on a page: those that run, those that wait for a fact, and the nearest.
func onPage(r Result) []Proposal {
	list := slices.Concat(r.Proposals, r.Unproven)
	if p, ok := r.Nearest.Get(); ok {
		list = append(list, p)
	}
	return list
}

// Everything that is wished holds for every set that is shown: the size, the money, what may be taken out, what may be
// bought and how many of it; nothing comes to less than is there.
func TestChanceEverySetIsAsWished(t *testing.T) {
	proposals := 0
	searched(t, effort.Cases(240), func(t *testing.T, m machine.Machine, g Goal, found Result, err error) {
		for i, p := range slices.Concat(found.Proposals, found.Unproven) {
			proposals++
			assert.Equal(t, i+1, p.Number)
			assert.GreaterOrEqual(t, p.Trial.Total, max(g.Reach.Or(0), p.Trial.Was))
			assert.Equal(t, i < len(found.Proposals), p.Trial.Verdict <= rule.Leans, "what runs is proposed, the rest waits")
			assert.NotEqual(t, rule.No, p.Trial.Verdict)
		}
		for _, p := range onPage(found) {
			cost, bought := stock.Money(-len(p.Removes))*g.TradeIn, 0
			for _, buy := range p.Buys {
				cost += stock.Money(buy.Units) * buy.Price
				bought += buy.Units * buy.Pieces
				assert.LessOrEqual(t, buy.Units, buy.Quantity.Or(buy.Units), "more than there are of %s", buy.SKU)
				assert.GreaterOrEqual(t, buy.Units, buy.MinOrder, buy.SKU)
				assert.False(t, g.OnlyNew && buy.Condition != stock.New, buy.SKU)
				assert.False(t, g.InStock && !buy.Quantity.Known(), buy.SKU)
			}
			if found.Priced {
				assert.Equal(t, cost, p.Cost)
				assert.LessOrEqual(t, p.Cost, max(g.Spend.Or(p.Cost), 0))
			}
			assert.LessOrEqual(t, len(p.Removes), g.Discard.Or(len(p.Removes)))
			assert.False(t, g.OneKit && len(p.Buys) > 1)
			drawn := 0
			for _, x := range p.Adds {
				if x.From == "drawer" {
					drawn++
				}
			}
			assert.Equal(t, bought+drawn, len(p.Adds), "what is bought goes in")
			assert.LessOrEqual(t, drawn, len(g.Drawer))
			assert.Equal(t, p.Modules, bought)
		}
	})
	assert.Greater(t, proposals, effort.Cases(240)/4)
}

// Each module of the machine is kept or taken out, each place holds one at the end, and what the page says of the
// places is what was tried.
func TestChanceEveryModuleHasItsPlace(t *testing.T) {
	searched(t, effort.Cases(240), func(t *testing.T, m machine.Machine, _ Goal, found Result, _ error) {
		fitted := 0
		for _, p := range m.Places {
			if p.Filled.Or(false) {
				fitted++
			}
		}
		for _, p := range onPage(found) {
			assert.Equal(t, fitted, len(p.Keeps)+len(p.Removes))
			at := make(map[string]bool)
			for _, x := range slices.Concat(p.Keeps, p.Adds) {
				assert.False(t, at[x.Place], "two in %s", x.Place)
				at[x.Place] = true
			}
			assert.Equal(t, len(m.Places), len(at)+p.SocketsFree)
			assert.Len(t, p.Trial.Seats, len(at))
			for _, s := range p.Trial.Seats {
				assert.True(t, at[s.Place], s.Place)
			}
		}
	})
}

// Picks tell sets apart: the first is recommended or named otherwise, no pick stands twice, the cheapest costs least
// and the one with most memory has it.
func TestChancePicksAreTrue(t *testing.T) {
	searched(t, effort.Cases(240), func(t *testing.T, _ machine.Machine, g Goal, found Result, _ error) {
		said := make(map[string]int)
		for _, p := range found.Proposals {
			for _, pick := range p.Picks {
				said[pick]++
				for _, other := range found.Proposals {
					switch pick {
					case "least money", "cheapest":
						assert.GreaterOrEqual(t, other.Cost, p.Cost, pick)
					case "most memory":
						assert.LessOrEqual(t, other.Trial.Total, p.Trial.Total, pick)
					}
				}
			}
		}
		for pick, n := range said {
			assert.Equal(t, 1, n, pick)
		}
		if len(found.Proposals)+len(found.Unproven) == 0 {
			assert.True(t, found.Blocked != "" || found.Nearest.Known() || len(found.Free) > 0 || found.Unsold ||
				!found.Exact, "nothing is shown, and nothing says why")
		}
	})
}

// Each way of a round reaches the goal, and wants what the pool has.
func TestChanceWaysReachTheGoal(t *testing.T) {
	ways := 0
	for seed := range uint64(effort.Cases(160)) {
		in, g := randomCase(rand.New(rand.NewPCG(seed, 5)))
		g.Offers = pooled(g.Offers)
		m, l := in.Machine(t)
		list, _, err := Ways(m, l, g, NewPool(g.Offers, nil, true), nil)
		if err != nil {
			assert.Empty(t, list, seed)
			continue
		}
		for _, w := range list {
			ways++
			assert.GreaterOrEqual(t, w.Total, g.Reach.Or(0), seed)
			assert.LessOrEqual(t, len(w.Gone), g.Discard.Or(len(w.Gone)), seed)
			n, kept := 0, 0
			for _, want := range w.Wants {
				n += want.N
				assert.Positive(t, want.N, seed)
				for _, offer := range want.Offers {
					assert.True(t, offer >= 1 && offer <= len(g.Offers), seed)
				}
			}
			for _, k := range w.Keep {
				kept += k
			}
			assert.LessOrEqual(t, n+kept, len(m.Places), seed)
		}
	}
	assert.Greater(t, ways, effort.Cases(160))
}

// Some searches in full: machine, wish and list, and all that is proposed.
func TestSearchesInFull(t *testing.T) {
	var page golden.Page
	for _, seed := range []uint64{3, 9, 12, 15, 21, 30, 42, 57, 63, 84, 105, 126} {
		in, g := randomCase(rand.New(rand.NewPCG(seed, 5)))
		g.Everything = seed%2 == 0
		m, l := in.Machine(t)
		found, err := Search(m, l, g, nil)
		lines := []string{fmt.Sprintf("%v; %+v, %d more; blocked %q; safe %v; %v", in.Places, found.Considered, found.Beaten,
			found.Blocked, found.Safe, err)}
		for _, o := range g.Offers {
			lines = append(lines, fmt.Sprintf("  %s: %s at %v, %d pieces, %d at least, %v, %v", o.SKU, o.Text, o.Price, o.Pieces,
				o.MinOrder, o.Quantity, o.Condition))
		}
		for _, x := range found.Free {
			lines = append(lines, fmt.Sprintf("free: %s: %s", x.Says, x.Gains))
		}
		for _, p := range found.Proposals {
			lines = append(lines, laid(p))
		}
		for _, p := range found.Unproven {
			lines = append(lines, "unproven "+laid(p))
		}
		if p, ok := found.Nearest.Get(); ok {
			lines = append(lines, "nearest "+laid(p))
		}
		page.Add(wished(g), lines...)
	}
	page.Compare(t, "testdata/in-full.txt")
}

func wished(g Goal) string {
	var parts []string
	add := func(is bool, format string, args ...any) {
		if is {
			parts = append(parts, fmt.Sprintf(format, args...))
		}
	}
	add(g.Reach.Known(), "reach %v", g.Reach.Or(0))
	add(g.Spend.Known(), "spend %v", g.Spend.Or(0))
	add(g.Discard.Known(), "discard %d", g.Discard.Or(0))
	add(g.TradeIn > 0, "trade in at %v", g.TradeIn)
	add(g.OneKit, "one kit")
	add(g.OnlyNew, "only new")
	add(g.InStock, "in stock")
	add(g.Pairs, "pairs")
	add(g.Cheapest, "cheapest")
	add(len(g.Drawer) > 0, "a drawer of %d", len(g.Drawer))
	return strings.Join(parts, ", ")
}

// laid is a proposal in one line.
func laid(p Proposal) string {
	s := fmt.Sprintf("%d %v: %v, %d bought, %d free", p.Number, p.Picks, p.Cost, p.Modules, p.SocketsFree)
	for what, list := range [][]Move{p.Keeps, p.Removes, p.Adds} {
		for _, x := range list {
			s += fmt.Sprintf("; %s %s %s %s", [...]string{"keep", "remove", "add"}[what], x.Place, x.SKU, x.From)
		}
	}
	s += fmt.Sprintf("; %v, %v", p.Trial.Total, p.Trial.Verdict)
	for _, point := range []maybe.Value[jedec.Grade]{maybe.Map(p.Trial.Operating, gradeOf), maybe.Map(p.Trial.Worst,
		gradeOf)} {
		if x, ok := point.Get(); ok {
			s += fmt.Sprintf(", %v", x)
		}
	}
	if o, ok := p.Trial.Operating.Get(); ok {
		s += fmt.Sprintf(" CL%v, %v interleaved", o.Timing.CL, o.Interleaved)
	}
	return s
}

func gradeOf(p trial.Point) jedec.Grade { return p.Grade }
