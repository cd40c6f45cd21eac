package propose

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/trial"
	"epitome/golden"
)

// Machines, wishes and lists by chance: all that is proposed, what was looked at for it, and the ways of a round.
func TestGeneratedMachines(t *testing.T) {
	var page strings.Builder
	for seed := range uint64(240) {
		r := rand.New(rand.NewPCG(seed, 5))
		machine, g := randomCase(r)
		g.Everything, g.Pairs, g.Cheapest = seed%3 == 0, seed%7 == 3, seed%5 == 2
		if seed%6 == 1 {
			g.Drawer = []module.Module{known(t, labels[seed%8]), known(t, labels[(seed+3)%8])}
		}
		if seed%8 == 5 {
			g.Offers = nil
		}
		m, l := machine.machine(t)
		fmt.Fprintf(&page, "## %d: %s in %v, %s\n", seed, wished(g), machine.places, strings.TrimPrefix(machine.takes,
			figures))
		for _, o := range g.Offers {
			fmt.Fprintf(&page, "  %s: %s at %v, %d pieces, %d at least, %v, %v\n", o.SKU, o.Text, o.Price, o.Pieces, o.MinOrder,
				o.Quantity, o.Condition)
		}
		found, err := Search(m, l, g, nil)
		if err != nil {
			fmt.Fprintf(&page, "%v\n", err)
		}
		fmt.Fprintf(&page, "%+v, %d more; blocked %q; safe %v\n", found.Considered, found.Beaten, found.Blocked, found.Safe)
		for _, x := range found.Free {
			fmt.Fprintf(&page, "free: %s: %s\n", x.Says, x.Gains)
		}
		for _, p := range found.Proposals {
			fmt.Fprintf(&page, "%s\n", laid(p))
		}
		for _, p := range found.Unproven {
			fmt.Fprintf(&page, "unproven %s\n", laid(p))
		}
		if p, ok := found.Nearest.Get(); ok {
			fmt.Fprintf(&page, "nearest %s\n", laid(p))
		}
		if seed%2 == 0 && g.Offers != nil {
			g.Offers = pooled(g.Offers)
			ways, _, err := Ways(m, l, g, NewPool(g.Offers, nil, true), nil)
			if err != nil {
				fmt.Fprintf(&page, "no way: %v\n", err)
			}
			for _, w := range ways {
				fmt.Fprintf(&page, "way %d: keep %v, %v, gone %d, %v for %v + %v\n", w.Level, w.Keep, w.Wants, len(w.Gone), w.Total,
					w.Cost, w.Extra)
			}
		}
	}
	golden.Compare(t, "testdata/generated.txt", page.String())
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
