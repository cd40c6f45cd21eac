package jedec_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
)

func allGrades() []jedec.Grade {
	var all []jedec.Grade
	for _, g := range jedec.Generations() {
		all = append(all, jedec.Grades(g)...)
	}
	return all
}

// Every figure of a grade follows from its exact rate, which is a second
// derivation of each cell of the table.
func TestEveryGradeAgreesWithItsExactRate(t *testing.T) {
	assert.Equal(t, 67, len(allGrades()))
	for _, x := range allGrades() {
		assert.Contains(t, []int{x.Thirds * 100 / 3, (x.Thirds*100 + 2) / 3, (x.Thirds*100+1)/3 - 1}, int(x.Rate), "%v", x)
		exact := float64(x.Exact()) / 1000
		off := float64(x.TCK) - exact
		assert.True(t, off <= 0.6 && off > -1, "%v: cycle time %d, exact %.2f ps", x, x.TCK, exact)
		if x.Generation == jedec.DDR5 {
			assert.LessOrEqual(t, float64(x.TCK), exact, "%v: DDR5 cycle times are cut off", x)
		}
		for _, r := range x.Ratings {
			if x.Generation == jedec.SDR {
				continue
			}
			assert.InDelta(t, x.Bandwidth(), r, 80, "%v: rating %d", x, r)
		}
	}
}

func TestOneGradeManySpellings(t *testing.T) {
	for want, spellings := range map[string]string{
		"DDR3-1333": "PC3-10600 PC3-10666 PC3-10667 PC3-10660 DDR3-1333 DDR3-1334 DDR3L-1333 PC3L-10600 pc3-10600",
		"DDR4-2666": "PC4-21300 PC4-21333 PC4-2666 DDR4-2666 DDR4-2667 DDR4-2666 ddr4_2666 PC4-2667",
		"DDR2-667":  "PC2-5300 PC2-5400 DDR2-667 DDR2-666",
		"DDR-333":   "PC2700 PC-2700 DDR-333 DDR333",
		"PC133":     "PC133 PC-133 SDR-133",
		"DDR4-2933": "PC4-23400 PC4-23466 PC4-2933 DDR4-2933",
		"DDR5-4800": "PC5-38400 PC5-4800 DDR5-4800",
	} {
		for _, s := range strings.Fields(spellings) {
			x, _, err := jedec.ParseGrade(s)
			require.NoError(t, err, s)
			assert.Equal(t, want, x.String(), s)
		}
	}
	x, milliVolts, err := jedec.ParseGrade("PC3L-12800")
	require.NoError(t, err)
	assert.Equal(t, "DDR3-1600", x.String())
	assert.Equal(t, 1350, milliVolts)
}

func TestParseAndPrintOfGradesAreInverse(t *testing.T) {
	for _, x := range allGrades() {
		for _, s := range x.Spellings() {
			got, _, err := jedec.ParseGrade(s)
			require.NoError(t, err, s)
			assert.Equal(t, x, got, s)
		}
	}
}

func TestAnUnknownRatingNamesTheNearest(t *testing.T) {
	for in, says := range map[string]string{
		"PC3-1600":  "PC3-12800 (DDR3-1600)",
		"PC3-11000": "PC3-10600 (DDR3-1333)",
		"DDR4-2500": "DDR4-2400 and DDR4-2666",
		"PC4-20000": "PC4-19200 (DDR4-2400)",
		"DDR6-9000": "write one as",
		"PC9-1":     "write one as",
		"DDR4":      "write one as",
		"":          "write one as",
	} {
		_, _, err := jedec.ParseGrade(in)
		require.ErrorIs(t, err, jedec.ErrGrade, in)
		assert.Contains(t, err.Error(), says, in)
	}
}

func TestClockAndBandwidth(t *testing.T) {
	for _, c := range []struct {
		grade, clock, cell string
		bandwidth          int
	}{
		{"DDR4-2400", "1200 MHz", "300 MHz", 19200}, {"DDR3-1333", "666.67 MHz", "166.67 MHz", 10667},
		{"DDR2-800", "400 MHz", "200 MHz", 6400}, {"DDR3-1600", "800 MHz", "200 MHz", 12800},
		{"PC133", "133.33 MHz", "133.33 MHz", 1067}, {"DDR5-4800", "2400 MHz", "300 MHz", 38400},
		{"LPDDR5-6400", "800 MHz", "400 MHz", 51200},
	} {
		x, _, err := jedec.ParseGrade(c.grade)
		require.NoError(t, err)
		assert.Equal(t, c.clock, x.Clock().String(), c.grade)
		assert.Equal(t, c.cell, x.CellClock().String(), c.grade)
		assert.Equal(t, c.bandwidth, x.Bandwidth(), c.grade)
	}
}

func TestContactsAndSizes(t *testing.T) {
	for _, c := range []struct {
		g        jedec.Generation
		f        jedec.Form
		contacts int
	}{{jedec.DDR, jedec.DIMM, 184}, {jedec.DDR2, jedec.SODIMM, 200}, {jedec.DDR3, jedec.SODIMM, 204},
		{jedec.DDR4, jedec.SODIMM, 260}, {jedec.DDR5, jedec.SODIMM, 262}, {jedec.DDR4, jedec.DIMM, 288}} {
		n, made := c.g.Contacts(c.f)
		assert.True(t, made)
		assert.Equal(t, c.contacts, n, "%v %v", c.g, c.f)
	}
	_, made := jedec.LPDDR4.Contacts(jedec.SODIMM)
	assert.False(t, made)
	assert.Equal(t, 32*jedec.GiB, jedec.DDR4.Largest(jedec.SODIMM, jedec.Unbuffered, 16384))
	assert.Equal(t, 48*jedec.GiB, jedec.DDR5.Largest(jedec.DIMM, jedec.Unbuffered, 24576), "24 Gbit dies")
	assert.Equal(t, 8*jedec.GiB, jedec.DDR3.Largest(jedec.SODIMM, jedec.Unbuffered, 4096))
	assert.Equal(t, 128*jedec.GiB, jedec.DDR4.Largest(jedec.DIMM, jedec.RegisteredECC, 16384))
	assert.Zero(t, jedec.LPDDR4.Largest(jedec.SODIMM, jedec.Unbuffered, 16384))
}

func TestGenerationNames(t *testing.T) {
	for _, g := range jedec.Generations() {
		got, _, ok := jedec.ParseGeneration(g.String())
		assert.True(t, ok)
		assert.Equal(t, g, got)
	}
	g, mv, ok := jedec.ParseGeneration("ddr3l sdram")
	assert.True(t, ok)
	assert.Equal(t, jedec.DDR3, g)
	assert.Equal(t, 1350, mv)
	_, _, ok = jedec.ParseGeneration("DDR4L")
	assert.False(t, ok, "there is no such class")
}

func TestCapacities(t *testing.T) {
	for in, want := range map[string]jedec.Capacity{"16GB": 16 * jedec.GiB, "16 gib": 16 * jedec.GiB,
		"33554432kB": 32 * jedec.GiB, "512MB": 512 * jedec.MiB,
		"1.5 GB": 1536 * jedec.MiB, "0,5 GB": 512 * jedec.MiB, "2TB": 2 * jedec.TiB, "1024 bytes": jedec.KiB,
		"17179869183GB": 17179869183 * jedec.GiB} {
		got, err := jedec.ParseCapacity(in)
		require.NoError(t, err, in)
		assert.Equal(t, want, got, in)
	}
	for _, in := range []string{"", "16", "GB", "-4GB", "0x10GB", "1e3GB", "NaN GB", "99999999999999999999GB",
		"99999999 TB", "17179869184GB", "4 GHz"} {
		_, err := jedec.ParseCapacity(in)
		assert.ErrorIs(t, err, jedec.ErrCapacity, in)
	}
	for c := jedec.Capacity(1); c < 1<<45; c = c*3/2 + 1 {
		rounded := c / jedec.MiB * jedec.MiB
		if rounded%jedec.GiB == 0 || rounded < jedec.GiB {
			got, err := jedec.ParseCapacity(rounded.String())
			require.NoError(t, err)
			assert.Equal(t, rounded, got)
		}
	}
}
