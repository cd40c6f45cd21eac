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
		if s.Size == size && s.Ranks == ranks && s.Width == width && !s.Registered {
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
		{jedec.DDR5, jedec.SODIMM, 64 * jedec.GiB, 2, 8, true, true},
	} {
		s, ok := soldAs(c.g, c.f, c.size, c.ranks, c.width)
		assert.Equal(t, c.sold, ok, "%v %v %v", c.size, c.g, c.f)
		assert.Equal(t, c.rare, s.Rare, "%v %v %v", c.size, c.g, c.f)
	}
	assert.NotContains(t, catalogue.SizesSold(jedec.DDR2, jedec.SODIMM), 8*jedec.GiB)
	assert.Equal(t, jedec.ModuleSizes(jedec.SDR), catalogue.SizesSold(jedec.SDR, jedec.DIMM), "the table begins with DDR")
}

// The grade that one buys: the fastest that is used to the full, else the slowest there is.
func TestTheGradeToBuy(t *testing.T) {
	s, ok := soldAs(jedec.DDR4, jedec.SODIMM, 8*jedec.GiB, 1, 8)
	require.True(t, ok)
	for top, want := range map[jedec.Rate]jedec.Rate{2133: 2400, 2400: 2400, 2666: 2666, 2933: 2666, 3200: 3200, 0: 3200} {
		assert.Equal(t, want, s.At(top).Grade.Rate, "top %d", top)
	}
}

// Each module of the table is made of dies that its standard has, in a form that its
// generation has, and sold by grades of the standard with a bin of that latency.
func TestTheMarketIsMadeOfWhatExists(t *testing.T) {
	n := 0
	for _, g := range jedec.Generations() {
		for _, form := range g.Trait().Forms {
			for _, s := range catalogue.Market(g, form.Form) {
				n++
				what := []any{"%v %v %v %dRx%d", s.Size, s.Generation, s.Form, s.Ranks, s.Width}
				if s.Ranks > 0 {
					assert.Contains(t, g.Trait().Densities, s.DensityMbit, what...)
				}
				if s.Note == "" && s.Ranks > 0 {
					assert.Equal(t, int(s.Size/jedec.MiB)*8, s.Ranks*64/s.Width*s.DensityMbit, what...)
				}
				assert.Regexp(t, `^20[0-9]{2}-(20[0-9]{2})?$`, s.Years, what...)
				for _, x := range s.Grades {
					bins := jedec.Bins(x.Grade)
					ok := x.CL == 0 || len(bins) == 0
					for _, b := range bins {
						ok = ok || b.Timing.CL == x.CL
					}
					assert.True(t, ok, "%v CL%v", x.Grade, x.CL)
				}
			}
		}
	}
	assert.Greater(t, n, 150)
}

func BenchmarkMarket(b *testing.B) {
	for b.Loop() {
		if len(catalogue.Market(jedec.DDR4, jedec.SODIMM)) == 0 {
			b.Fatal("nothing is sold")
		}
	}
}
