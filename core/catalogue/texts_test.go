package catalogue

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// What pages say of an entry's parts: each figure under its own name.
func TestEntriesInWords(t *testing.T) {
	assert.Equal(t, "64 GB in all, modules of 32 GB, at 2666 MT/s, on 2 of them, last on 2026-11-02",
		ranText(Ran{Total: maybe.Just(64 * jedec.GiB), Each: maybe.Just(32 * jedec.GiB), Rate: maybe.Just(jedec.Rate(2666)),
			Times: 2, When: "2026-11-02", By: "J."}))
	assert.Equal(t, "on 1 of them", ranText(Ran{Times: 1, By: "J."}))
	assert.Equal(t, "DIMM 0 4 GB on B", bankText(Bank{Name: "DIMM 0", Channel: "B", Size: maybe.Just(4 * jedec.GiB)}))
	assert.Equal(t, "DIMM 0", bankText(Bank{Name: "DIMM 0"}))
}

// Every chipset is found by its whole name, by its id, with and without its maker, and by each name that it goes by;
// by its role it is not.
func TestEveryChipsetIsFoundByItsNames(t *testing.T) {
	for _, r := range chipsetRows() {
		c := r.chipset()
		for _, name := range []string{c.Name, c.Maker + " " + c.Name, c.ID} {
			assert.True(t, c.named(folded(name)), "%s by %q", c.ID, name)
		}
		for _, name := range []string{c.Role, c.Maker, ""} {
			assert.False(t, c.named(folded(name)), "%s by %q", c.ID, name)
		}
	}
}

// A number is its maker's own: the same one of another maker is none of its families, and no number is none at all.
func TestNumbersAreTheirMakers(t *testing.T) {
	intel := Processor{Maker: "intel", Family: maybe.Just(6), Model: maybe.Just(0x8E)}
	require.NotEmpty(t, Catalogue{}.Numbered(intel))
	for _, p := range []Processor{{Maker: "amd", Family: intel.Family, Model: intel.Model},
		{Maker: "intel", Family: maybe.Just(7), Model: intel.Model}, {Maker: "intel", Family: intel.Family},
		{Maker: "intel", Model: intel.Model}} {
		assert.Empty(t, Catalogue{}.Numbered(p), "%+v", p)
	}
}

// Catalogues are the same where they hold the same entries in the same order.
func TestSameCatalogues(t *testing.T) {
	a, b := Overlay{Boards: []Board{{Basis: "a"}}}, Overlay{Boards: []Board{{Basis: "b"}}}
	one := Catalogue{}.With(a)
	assert.True(t, one.Same(one))
	assert.True(t, Catalogue{}.Same(Catalogue{}))
	assert.False(t, one.Same(Catalogue{}))
	assert.False(t, one.Same(one.With(b)))
	assert.False(t, one.Same(Catalogue{}.With(b)))
}
