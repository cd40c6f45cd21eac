package propose

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/fact"
	"epitome/core/machine"
	"epitome/core/maybe"
)

// A processor without a module of its own fetches everything across.
func TestModulesBesideEachProcessor(t *testing.T) {
	place := func(cpu int, filled bool) machine.Place {
		return machine.Place{Processor: maybe.Just(cpu), Filled: fact.Of(filled, fact.Settled)}
	}
	m := machine.Machine{Processors: fact.Of(2, fact.Settled)}
	m.Places = []machine.Place{place(1, true), place(1, true), place(2, false), place(2, false)}
	assert.Contains(t, fmt.Sprint(beside(m)), "to the sockets of processor 2, which has none")
	m.Places[2].Filled = fact.Of(true, fact.Settled)
	assert.Empty(t, beside(m), "each has its own")
	m.Places[2] = machine.Place{Processor: maybe.Just(2)}
	assert.Empty(t, beside(m), "nobody looked")
	m.Processors = fact.Of(1, fact.Settled)
	assert.Empty(t, beside(m))
}

// What costs nothing is found, and nothing where there is nothing.
func TestFreeOfCharge(t *testing.T) {
	const one = "8GB 1Rx8 PC4-2400T-UA2-11"
	for name, c := range map[string]struct {
		rig  rig
		want string
	}{
		"two modules on one channel": {tower(figures, []string{"A1 A|" + one, "A2 A|" + one, "B1 B", "B2 B"},
			"Windows 10 Pro 64-bit"),
			"[{move 8 GB from A2 to B1 two channels instead of one, 2400 MT/s instead of 2133 MT/s}]"},
		"beside a soldered one": {tower(figures, []string{"M1 A soldered|" + one, "A1 A|" + one, "B1 B"},
			"Windows 10 Pro 64-bit"), "[{move 8 GB from A1 to B1 two channels instead of one, 2400 MT/s instead of 2133 MT/s}]"},
		"one on each already": {tower(figures, []string{"A1 A|" + one, "A2 A", "B1 B|" + one, "B2 B"},
			"Windows 10 Pro 64-bit"), "[]"},
		"nowhere to go": {tower(figures, []string{"A1 A|" + one, "A2 A|" + one}, "Windows 10 Pro 64-bit"), "[]"},
		"a system that uses half": {tower(figures, []string{"A1 A|" + one, "B1 B"}, "Windows 10 Pro 32-bit"),
			"[{install a system that uses more: Windows 10 Pro 32-bit uses up to 4 GB, and sees 3 to 3.5 GB of it 8 GB " +
				"instead of 4 GB}]"},
		"nothing is known of channel": {tower("generation: DDR4", []string{"X1 -|" + one, "X2 -|" + one},
			"Windows 10 Pro 64-bit"), "[]"},
	} {
		m, l := c.rig.Machine(t)
		said := []string{}
		for _, g := range Free(m, l) {
			said = append(said, "{"+g.Says+" "+g.Gains+"}")
			assert.Equal(t, strings.HasPrefix(g.Says, "install"), g.First, name)
		}
		assert.Equal(t, c.want, fmt.Sprint(said), name)
	}
}
