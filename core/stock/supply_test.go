package stock

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// What a description says of its stock, each word by itself: the module is read as without it, there is none or one of
// it, and what a column counts is older than "sold".
func TestWhatADescriptionSaysOfItsStock(t *testing.T) {
	read := func(text string) Line {
		l, err := Read(slices.Values([]Row{{Number: 1, Cells: []string{"text", "price", "qty"}},
			{Number: 2, Cells: []string{text, "9.90", "7"}}}), Options{})
		require.NoError(t, err, text)
		require.Len(t, l.Usable(), 1, "%s: %+v", text, l.Lines)
		return l.Usable()[0]
	}
	for want, words := range map[int][]string{0: goneInText, 1: lastInText} {
		for _, w := range words {
			x := read("8GB DDR4-2400 SO-DIMM " + w)
			assert.Equal(t, 8*jedec.GiB, x.Stick.Capacity.Or(0), w)
			if want == 0 {
				assert.Equal(t, maybe.Just(0), x.Quantity, w)
				assert.Equal(t, maybe.Just(0), read(strings.ToUpper(w)+": 8GB DDR4-2400 SO-DIMM").Quantity, w)
			}
			assert.Equal(t, maybe.Just(want), stockSaid("8GB DDR4 ("+w+")"), w)
		}
	}
	for _, text := range []string{"8GB DDR4 no ECC", "8GB DDR4 ECC нет", "8GB DDR4 soldered no", "8GB DDR4 unsold"} {
		assert.False(t, stockSaid(text).Known(), text)
	}
}
