package catalogue_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/jedec"
)

func soldAs(g jedec.Generation, f jedec.Form, size jedec.Capacity, ranks, width int) (s catalogue.Sold, ok bool) {
	for _, s := range catalogue.Market(g, f) {
		if s.Size == size && s.Ranks == ranks && s.Width == width && s.Kind == jedec.Unbuffered {
			return s, true
		}
	}
	return s, false
}

// What shops sell, what is hard to get, and what nobody sells.
func TestTheMarketKnowsWhatIsSold(t *testing.T) {
	for _, c := range []struct {
		g            jedec.Generation
		f            jedec.Form
		size         jedec.Capacity
		ranks, width int
		sold, rare   bool
	}{
		{jedec.DDR3, jedec.SODIMM, 8 * jedec.GiB, 2, 8, true, false}, // rare is the kind with check bits
		{jedec.DDR3, jedec.SODIMM, 4 * jedec.GiB, 1, 8, true, false},
		{jedec.DDR3, jedec.SODIMM, 16 * jedec.GiB, 2, 8, true, true},
		{jedec.DDR2, jedec.SODIMM, 8 * jedec.GiB, 2, 8, false, false},
		{jedec.DDR2, jedec.SODIMM, 4 * jedec.GiB, 2, 8, true, true},
		{jedec.DDR2, jedec.DIMM, 4 * jedec.GiB, 2, 8, true, true},
		{jedec.DDR4, jedec.SODIMM, 8 * jedec.GiB, 1, 8, true, false},
		{jedec.DDR4, jedec.DIMM, 64 * jedec.GiB, 2, 8, false, false},
		{jedec.DDR5, jedec.SODIMM, 48 * jedec.GiB, 2, 8, true, false},
		{jedec.DDR5, jedec.SODIMM, 64 * jedec.GiB, 2, 8, true, false},
	} {
		s, ok := soldAs(c.g, c.f, c.size, c.ranks, c.width)
		assert.Equal(t, c.sold, ok, "%v %v %v", c.size, c.g, c.f)
		assert.Equal(t, c.rare, ok && s.Rare(), "%v %v %v", c.size, c.g, c.f)
	}
	assert.NotContains(t, catalogue.SizesSold(jedec.DDR2, jedec.SODIMM), 8*jedec.GiB)
	assert.Equal(t, jedec.ModuleSizes(jedec.SDR), catalogue.SizesSold(jedec.SDR, jedec.DIMM), "the table begins with DDR")
}

// The grade that one buys: the fastest that is used to the full, the next one up where that is scarce, else the
// slowest there is.
func TestTheGradeToBuy(t *testing.T) {
	s, ok := soldAs(jedec.DDR4, jedec.SODIMM, 8*jedec.GiB, 1, 8)
	require.True(t, ok)
	for top, want := range map[jedec.Rate]jedec.Rate{2133: 2133, 2400: 2400, 2666: 2666, 2933: 3200, 3200: 3200, 0: 3200} {
		assert.Equal(t, want, s.At(top).Grade.Rate, "top %d", top)
	}
}

func BenchmarkMarket(b *testing.B) {
	for b.Loop() {
		if len(catalogue.Market(jedec.DDR4, jedec.SODIMM)) == 0 {
			b.Fatal("nothing is sold")
		}
	}
}
