package module_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/module"
	"epitome/core/spd"
	"epitome/core/spd/compose"
)

// An image whose times are those of a standard bin keeps that bin's timings at
// its own rate, and the bin's at every slower one.
func TestAnImageOfEveryDDR4BinKeepsItsTimings(t *testing.T) {
	for _, x := range jedec.Grades(jedec.DDR4) {
		for _, b := range jedec.Bins(x) {
			image := compose.DDR4{Type: 3, DensityCode: 5, Ranks: 1, WidthCode: 1, TCK: int(x.TCK), TAA: int(b.TAA),
				TRCD: int(b.TRCD), TRP: int(b.TRP), TRAS: 32000, TRC: 46000,
				FirstCL: 9, LastCL: 24, Height: 30}.Bytes()
			s, err := module.FromImage("x", image)
			require.NoError(t, err)
			own, ok := s.Grade().Get()
			require.True(t, ok)
			assert.Equal(t, x, own, b.Name())
			for _, slower := range jedec.Grades(jedec.DDR4) {
				want, possible := b.At(slower)
				got, ok := s.At(slower)
				assert.Equal(t, possible, ok, "%s at %v", b.Name(), slower)
				assert.Equal(t, want, got, "%s at %v", b.Name(), slower)
			}
		}
	}
}

func TestAnImagesFactsComeThrough(t *testing.T) {
	image := compose.DDR4{Type: 2, DensityCode: 6, Ranks: 2, WidthCode: 1, ECC: true, TCK: 625, TAA: 13750, TRCD: 13750,
		TRP: 13750, TRAS: 32000, TRC: 45750,
		FirstCL: 10, LastCL: 24, Height: 32, ProfileTCK: 556, ProfileCL: 18, ProfileRCD: 22, ProfileRAS: 42,
		ProfileMilliVolts: 1350}.Bytes()
	s, err := module.FromImage("x", image)
	require.NoError(t, err)
	assert.Equal(t, 32*jedec.GiB, s.Capacity.Or(0))
	assert.True(t, s.ECC.Or(false))
	assert.False(t, s.Registered.Or(true))
	assert.Equal(t, "ok", s.Checksum)
	assert.Equal(t, jedec.Rate(3200), s.Grade().Or(jedec.Grade{}).Rate, "the standard rate, not the profile's")
	require.Len(t, s.Profiles, 1)
	assert.Equal(t, jedec.Rate(3600), s.Profiles[0].Rate)
	assert.Equal(t, []string{"maker", "part", "serial", "year", "week"}, s.Unknown())
	_, err = module.FromImage("x", []byte("no image at all"))
	require.ErrorIs(t, err, spd.ErrDamaged)
}

// An EEPROM states the latencies that its module supports; what one leaves out is not made up. A label states none,
// and the standard's are meant.
func TestWithoutLatenciesAnImagePromisesNothing(t *testing.T) {
	s, err := module.FromImage("x", compose.DDR4{Type: 3, DensityCode: 5, Ranks: 1, WidthCode: 1, TCK: 833, TAA: 13750,
		TRCD: 13750, TRP: 13750, TRAS: 32000, TRC: 46000, FirstCL: 9, LastCL: 24, Height: 30}.Bytes())
	require.NoError(t, err)
	x, _ := jedec.GradeAt(jedec.DDR4, 2133)
	_, ok := s.At(x)
	require.True(t, ok)
	s.Latencies = fact.Fact[jedec.Latencies]{}
	_, ok = s.At(x)
	assert.False(t, ok)
	s.Kind = module.Listing
	_, ok = s.At(x)
	assert.True(t, ok)
	for what, lose := range map[string]func(*module.Module){
		"the grade": func(m *module.Module) { m.Timing, m.Rated = fact.Fact[jedec.Timing]{}, fact.Fact[jedec.Rate]{} },
		"tAA":       func(m *module.Module) { m.Times.TAA = fact.Fact[jedec.Picoseconds]{} },
		"tRCD":      func(m *module.Module) { m.Times.TRCD = fact.Fact[jedec.Picoseconds]{} },
		"tRP":       func(m *module.Module) { m.Times.TRP = fact.Fact[jedec.Picoseconds]{} },
	} {
		one := s
		one.Kind, one.Latencies = module.EEPROM, fact.Known(jedec.LatenciesOf(jedec.StandardLatencies(jedec.DDR4)...))
		_, ok = one.At(x)
		require.True(t, ok)
		lose(&one)
		_, ok = one.At(x)
		assert.False(t, ok, "without %s", what)
	}
	other, _ := jedec.GradeAt(jedec.DDR3, 2133)
	_, ok = s.At(other)
	assert.False(t, ok, "another generation's")
	faster, _ := jedec.GradeAt(jedec.DDR4, 2666)
	_, ok = s.At(faster)
	assert.False(t, ok, "faster than its own")
}

func TestWithoutItsTimesAStickPromisesNothing(t *testing.T) {
	x, _, err := jedec.ParseGrade("DDR4-2133")
	require.NoError(t, err)
	s, err := module.Parse("8GB DDR4-2400 SO-DIMM")
	require.NoError(t, err)
	timing, ok := s.At(x)
	assert.True(t, ok)
	assert.Equal(t, "15-15-15", timing.String(), "the bin that is sold")
	s, err = module.Parse("8GB 1Rx8 PC4-2400T-SA1-11")
	require.NoError(t, err)
	timing, ok = s.At(x)
	assert.True(t, ok)
	assert.Equal(t, "15-15-15", timing.String(), "its 14.16 ns are sold with 13.75")
	s, err = module.Parse("8GB 1Rx8 PC4-2400U-SA1-11")
	require.NoError(t, err)
	timing, ok = s.At(x)
	assert.True(t, ok)
	assert.Equal(t, "16-16-16", timing.String(), "a slower bin keeps its own 15 ns")
}
