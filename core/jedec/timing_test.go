package jedec_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
)

func grade(t testing.TB, s string) jedec.Grade {
	t.Helper()
	x, _, err := jedec.ParseGrade(s)
	require.NoError(t, err)
	return x
}

// Every standard bin's clocks come back out of its minimum times by its
// generation's rounding rule, at its own rate.
func TestEveryBinReproduces(t *testing.T) {
	bins := 0
	for _, x := range allGrades() {
		for _, b := range jedec.Bins(x) {
			bins++
			got, ok := b.At(x)
			require.True(t, ok, b.Name())
			assert.Equal(t, b.Timing, got, b.Name())
		}
	}
	assert.Equal(t, 3+8+11+21+24+45, bins, "SDR, DDR, DDR2, DDR3, DDR4, DDR5")
}

// A bin of one letter means the same CAS latency at every rate, from DDR2 on:
// the standards letter them so. This holds the table to a rule it was not
// typed from.
func TestBinLettersFollowTheLatency(t *testing.T) {
	const letters = "B:3 C:4 D:5 E:6 F:7 G:8 H:9 J:10 K:11 L:12 M:13 N:14 P:15 R:16 T:17 U:18 V:19 W:20 Y:21 AA:22 AC:24"
	for _, g := range []jedec.Generation{jedec.DDR2, jedec.DDR3, jedec.DDR4} {
		for _, x := range jedec.Grades(g) {
			for _, b := range jedec.Bins(x) {
				assert.Contains(t, " "+letters+" ", fmt.Sprintf(" %s:%v ", b.Letter, b.Timing.CL), b.Name())
			}
		}
	}
}

func TestABinAtLowerGrades(t *testing.T) {
	for _, c := range []struct{ bin, at string }{
		{"DDR4-3200 AA", "3200:22-22-22 2933:21-21-21 2666:19-19-19 2400:17-17-17 2133:15-15-15 1866:13-13-13 1600:11-11-11"},
		{"DDR4-2400 T", "2400:17-17-17 2133:16-16-16 1600:12-12-12"},
		{"DDR3-1600 K", "1600:11-11-11 1333:10-10-10 1066:8-8-8 800:6-6-6"},
		{"DDR3-1333 H", "1333:9-9-9 1066:8-8-8 800:6-6-6"},
		{"DDR2-800 E", "800:6-6-6 667:5-5-5 533:4-4-4 400:3-3-3"},
		{"DDR-400 B", "400:3-3-3 333:2.5-3-3 266:2-2-2"},
		{"DDR5-4800 B", "4800:40-39-39 4400:36-36-36 4000:32-32-32 3200:26-26-26"},
		{"DDR5-5600 B", "5600:46-45-45 5200:42-42-42 4800:40-39-39"},
		{"DDR5-6400 B", "6400:52-52-52"},
	} {
		name, letter, _ := strings.Cut(c.bin, " ")
		x := grade(t, name)
		b, ok := jedec.BinNamed(x, letter)
		require.True(t, ok, c.bin)
		for _, point := range strings.Fields(c.at) {
			rate, want, _ := strings.Cut(point, ":")
			got, ok := b.At(grade(t, fmt.Sprintf("%v-%s", x.Generation, rate)))
			require.True(t, ok)
			assert.Equal(t, want, got.String(), "%s at %s", c.bin, rate)
		}
	}
	b, _ := jedec.BinNamed(grade(t, "DDR4-2400"), "T")
	_, ok := b.At(grade(t, "DDR4-2666"))
	assert.False(t, ok, "no bin promises anything above its own grade")
	_, ok = b.At(grade(t, "DDR3-1600"))
	assert.False(t, ok)
}

// The guard bands: a time a little over a whole number of clocks is rounding
// in DDR4 and DDR5, and one clock more in DDR3.
func TestRoundingRules(t *testing.T) {
	assert.Equal(t, 17, jedec.DDR4.Clocks(14167, 833), "17.007 clocks")
	assert.Equal(t, 18, jedec.DDR4.Clocks(14190, 833), "17.035 clocks")
	assert.Equal(t, 39, jedec.DDR5.Clocks(16000, 416))
	assert.Equal(t, 42, jedec.DDR5.Clocks(17500, 416), "42.07 clocks")
	assert.Equal(t, 10, jedec.DDR3.Clocks(13501, 1500))
	assert.Equal(t, 9, jedec.DDR3.Clocks(13500, 1500))
	assert.Equal(t, 0, jedec.DDR4.Clocks(0, 833))
	assert.Equal(t, 0, jedec.DDR4.Clocks(14000, 0))
}

func TestCASIsTakenFromTheSupportedOnes(t *testing.T) {
	set := []jedec.Latency{jedec.Whole(16), jedec.Whole(19), jedec.Whole(17)}
	cl, ok := jedec.CAS(grade(t, "DDR4-2400"), 13750, set)
	assert.True(t, ok)
	assert.Equal(t, jedec.Whole(17), cl)
	cl, _ = jedec.CAS(grade(t, "DDR4-2400"), 14500, set)
	assert.Equal(t, jedec.Whole(19), cl, "18 is not supported")
	_, ok = jedec.CAS(grade(t, "DDR4-3200"), 13750, set)
	assert.False(t, ok, "22 clocks are wanted and not supported")
	cl, _ = jedec.CAS(grade(t, "DDR-333"), 15000, jedec.StandardLatencies(jedec.DDR))
	assert.Equal(t, "2.5", cl.String())
}

func TestFirstWordLatency(t *testing.T) {
	assert.Equal(t, jedec.Picoseconds(14167), jedec.Whole(17).Time(grade(t, "DDR4-2400")))
	assert.Equal(t, jedec.Picoseconds(13750), jedec.Whole(22).Time(grade(t, "DDR4-3200")))
	assert.Equal(t, jedec.Picoseconds(12500), jedec.Latency(5).Time(grade(t, "DDR-400")))
	assert.Equal(t, "14.17 ns", jedec.Picoseconds(14167).String())
	assert.Equal(t, "-0.13 ns", jedec.Picoseconds(-125).String())
}

func TestFasterThanStandard(t *testing.T) {
	assert.True(t, jedec.FasterThanStandard(grade(t, "DDR4-3200"), jedec.Whole(16)))
	assert.False(t, jedec.FasterThanStandard(grade(t, "DDR4-3200"), jedec.Whole(20)))
	assert.True(t, jedec.FasterThanStandard(grade(t, "DDR5-6000"), jedec.Whole(30)))
	assert.False(t, jedec.FasterThanStandard(grade(t, "LPDDR4-3200"), jedec.Whole(10)), "no bins, nothing to say")
}
