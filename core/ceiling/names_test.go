package ceiling_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/ceiling"
)

// Each cell that the catalogue fills names whose figure it is: the processor's family, the chipset or the board.
func TestEachCellNamesWhoseFigureItIs(t *testing.T) {
	board, faults := catalogue.ParseOverlay("ours.yaml", []byte("epitome-catalogue: 1\nboards:\n  - {names: [GBX 7], "+
		"maker: Groyne, generations: [DDR4], maximum: 32GB, basis: manual}\n"))
	require.Empty(t, faults)
	old := rig{brand: "Intel(R) Core(TM)2 Duo CPU     E8400  @ 3.00GHz", family: 6, model: 23, pci: "8086:29c0",
		maximumMiB: 8 << 10, kind: 0x13, form: 0x09, sockets: two("DIMM_A1", "DIMM_B1")}
	ours := laptop()
	ours.board = "GBX 7"
	for name, c := range map[string]struct {
		limits ceiling.Limits
		names  map[ceiling.Source]string
	}{
		"a controller of its own": {laptop().limits(catalogue.Catalogue{}),
			map[ceiling.Source]string{ceiling.Processor: "Kaby Lake-U"}},
		"a northbridge": {old.limits(catalogue.Catalogue{}), map[ceiling.Source]string{ceiling.Chipset: "G3"}},
		"a board":       {ours.limits(catalogue.Catalogue{}.With(board)), map[ceiling.Source]string{ceiling.Board: "GBX 7"}},
	} {
		named := 0
		for _, w := range []ceiling.What{ceiling.Capacity, ceiling.PerSlot, ceiling.Generation, ceiling.Density,
			ceiling.Width, ceiling.Volts, ceiling.Kinds} {
			for _, x := range c.limits.On(w) {
				if who, ok := c.names[x.Source]; ok && x.Holds() && !strings.Contains(x.Says, "what is fitted") {
					named++
					assert.Contains(t, x.Says, who, "%s, %s", name, w)
				}
			}
		}
		assert.Greater(t, named, 1, name)
	}
}
