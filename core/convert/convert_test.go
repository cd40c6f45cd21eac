package convert_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/convert"
	"epitome/core/jedec"
)

// readings writes a result shortly, for comparing.
func readings(r convert.Result) string {
	var parts []string
	for _, x := range r.Readings {
		var items []string
		if size, ok := x.Size.Get(); ok {
			items = append(items, size.String())
		}
		for _, g := range x.Grades {
			item := g.Grade.String()
			if cl, ok := g.CL.Get(); ok {
				ps, _ := g.Latency.Get()
				item += fmt.Sprintf(" CL%v %v", cl, ps)
			}
			items = append(items, item)
		}
		parts = append(parts, x.As+": "+strings.Join(items, ", "))
	}
	for _, g := range r.At {
		cl, _ := g.CL.Get()
		ps, _ := g.Latency.Get()
		parts = append(parts, fmt.Sprintf("at %v: CL%v %v", g.Grade, cl, ps))
	}
	return strings.Join(parts, "; ")
}

func TestAnythingInEverythingOut(t *testing.T) {
	for _, c := range []struct{ in, at, want string }{
		{"PC2-6400", "", "grade: DDR2-800"},
		{"PC3-10666", "", "grade: DDR3-1333"},
		{"DDR4-2666 CL19", "", "grade: DDR4-2666 CL19 14.25 ns"},
		{"DDR4-2666 CL19", "2400", "grade: DDR4-2666 CL19 14.25 ns; at DDR4-2400: CL17 14.17 ns"},
		{"33554432kB", "", "size: 32 GB"},
		{"33 GB", "", "size: 33 GB; size: 32 GB"},
		{"16 GB", "", "size: 16 GB"},
		{"12GB", "", "size: 12 GB"},
		{"134GB", "", "size: 134 GB; size: 128 GB"},
		{"13.75ns", "2933", "time: DDR4-2933 CL21 14.32 ns"},
		{"13,75 ns", "DDR4-3200", "time: DDR4-3200 CL22 13.75 ns"},
		{"15ns", "1600", "time: DDR3-1600 CL12 15.00 ns, DDR4-1600 CL12 15.00 ns"},
		{"1066MHz", "", "data rate: DDR2-1066, DDR3-1066, LPDDR2-1066; clock: DDR3-2133, DDR4-2133, LPDDR3-2133, " +
			"LPDDR4-2133"},
		{"2400 MHz", "", "data rate: DDR4-2400, LPDDR4-2400; clock: DDR5-4800"},
		{"1200MHz", "", "clock: DDR4-2400, LPDDR4-2400"},
		{"5600MT/s", "", "data rate: DDR5-5600"},
		{"21.3 GB/s", "", "bandwidth: DDR4-2666, LPDDR4-2666"},
		{"DDR3 800MHz", "", "grade: DDR3-800; clock: DDR3-1600"},
	} {
		r, err := convert.From(c.in, c.at)
		require.NoError(t, err, c.in)
		assert.Equal(t, c.want, readings(r), c.in)
	}
}

// A grade's supply is named where a label says another than the generation's ordinary one.
func TestASupplyIsNamedWhereItIsNotTheOrdinaryOne(t *testing.T) {
	for text, want := range map[string]int{"PC3L-12800": 1350, "DDR3L-1600": 1350, "PC3-12800": 0, "DDR3-1600": 0,
		"PC4-2400T": 0, "PC2-6400": 0} {
		r, err := convert.From(text, "")
		require.NoError(t, err, text)
		require.Len(t, r.Readings[0].Grades, 1, text)
		assert.Equal(t, want, r.Readings[0].Grades[0].MilliVolts, text)
	}
}

func TestTwoHonestReadingsSayWhatSettlesThem(t *testing.T) {
	r, err := convert.From("800MHz", "")
	require.NoError(t, err)
	require.Len(t, r.Readings, 2)
	assert.Contains(t, r.Settles, "except for DDR3")
	r, err = convert.From("33GB", "")
	require.NoError(t, err)
	assert.Contains(t, r.Readings[1].Says, "33554432 kB divided by 1000 twice")
	r, err = convert.From("1333MHz", "")
	require.NoError(t, err)
	assert.Contains(t, r.Settles, "no generation has both")
}

func TestFiguresThatAreNone(t *testing.T) {
	for in, says := range map[string]string{
		"":              "nothing given",
		"2500":          "has no unit",
		"5Gbit":         "are not made",
		"777ps":         "no grade's cycle",
		"DDR4-2400Q":    "there are DDR4-2400P",
		"9999 CL9":      "no generation has",
		"2500MHz":       "the nearest rates are 2400 and",
		"2500MT/s":      "the nearest are 2400 and",
		"13.75ns":       "say at which rate",
		"PC3-11000":     "PC3-10600",
		"hello":         "says nothing",
		"8GB DDR4 DIMM": "names no speed",
		"1e400 MHz":     "",
	} {
		_, err := convert.From(in, "")
		require.ErrorIs(t, err, convert.ErrFigure, in)
		assert.Contains(t, err.Error(), says, in)
	}
	_, err := convert.From("13.75ns", "99")
	require.ErrorIs(t, err, convert.ErrFigure)
	_, err = convert.From("PC2-6400", "DDR2-667")
	require.ErrorIs(t, err, convert.ErrFigure, "no latency to take there")
	_, err = convert.From("0.0000001ns", "2933")
	require.ErrorIs(t, err, convert.ErrFigure)
}

func TestABareFigureIsASizeWithinWhatMachinesHold(t *testing.T) {
	sizes := func(text string) (n int) {
		r, err := convert.From(text, "")
		if err != nil {
			return 0
		}
		for _, x := range r.Readings {
			if x.Size.Known() {
				n++
			}
		}
		return n
	}
	assert.Equal(t, 2, sizes("17179869184"), "16 TB in kB, 16 GB in bytes")
	assert.Equal(t, 1, sizes("34359738368"), "32 TB in kB is more than there is, 32 GB in bytes is not")
}

// What stands on modules, in data sheets and on screens, each with what it comes to.
func TestFiguresAsTheyStandOnThings(t *testing.T) {
	for input, want := range map[string]string{
		"312ps": "cycle: DDR5-6400, LPDDR5-6400", "1.6GHz": "data rate: DDR3-1600, DDR4-1600, LPDDR3-1600, LPDDR4-1600; " +
			"clock: DDR4-3200, DDR5-3200, LPDDR4-3200, LPDDR4X-3200",
		"667":      "data rate: DDR2-667, LPDDR2-667; clock: DDR3-1333, LPDDR3-1333",
		"DDR3 667": "clock: DDR3-1333", "DDR4-3600": "profile: DDR4-3600",
		"DDR4-3200 CL16": "profile: DDR4-3200 CL16 10.00 ns",
		"1333 CL9":       "data rate: DDR3-1333 CL9 13.50 ns", "PC4-28800": "profile: DDR4-3600",
		"DDR5-5600B": "bin: DDR5-5600 CL46 16.43 ns", "DDR4-2133P": "bin: DDR4-2133 CL15 14.06 ns",
		"LPDDR5X-7467": "grade: LPDDR5X-7467", "LPDDR5 800MHz": "command clock: LPDDR5-6400",
		"LPDDR5 3200MHz": "data clock: LPDDR5-6400", "12800": "rating: DDR3-1600, DDR4-1600",
		"DDR2 800": "grade: DDR2-800", "DDR3 800": "grade: DDR3-800; clock: DDR3-1600",
		"16Gbit": "density of a chip: 2 GB", "2Gb": "density of a chip: 256 MB; size: 2 GB", "2GB": "size: 2 GB",
		"3.2GT/s": "data rate: DDR4-3200, DDR5-3200, LPDDR4-3200, LPDDR4X-3200",
	} {
		r, err := convert.From(input, "")
		if assert.NoError(t, err, input) {
			assert.Equal(t, want, readings(r), input)
			assert.Equal(t, len(r.Readings) > 1, r.Settles != "", "%s: %s", input, r.Settles)
		}
	}
	x := jedec.Grades(jedec.LPDDR5X)[0]
	assert.Equal(t, 59733, x.Bandwidth())
	assert.Equal(t, 224, x.Thirds, "7466 2/3")
}

// A latency taken to another rate is even in DDR5, and that of the sold bin where the module may be one.
func TestALatencyAtAnotherRate(t *testing.T) {
	for input, want := range map[[2]string][2]jedec.Latency{
		{"DDR5-4800 CL40", "5600"}: {jedec.Whole(46), jedec.Whole(48)},
		{"DDR5-5600 CL46", "5200"}: {jedec.Whole(42), jedec.Whole(44)},
		{"DDR4-2666 CL19", "2400"}: {jedec.Whole(17), jedec.Whole(18)}, {"DDR4-2400 CL18", "2133"}: {jedec.Whole(16), 0},
		{"DDR3-1600 CL11", "1333"}: {jedec.Whole(9), jedec.Whole(10)},
	} {
		r, err := convert.From(input[0], input[1])
		if assert.NoError(t, err, input) && assert.Len(t, r.At, 1, input) {
			assert.Equal(t, want, [2]jedec.Latency{r.At[0].CL.Or(0), r.At[0].Slower.Or(0)}, input)
		}
	}
}

// Each grade's figures come back to it: rate, rating, clock, cycle and name, of 57 grades.
func TestRoundTrips(t *testing.T) {
	tried := 0
	for _, g := range jedec.Generations() {
		for _, x := range jedec.Grades(g) {
			inputs := append(x.Spellings(), fmt.Sprintf("%d MT/s", int(x.Rate)), fmt.Sprintf("%d ps", int(x.TCK)))
			if g.Trait().ClockRatio == 2 {
				inputs = append(inputs, x.Clock().String())
			}
			for _, input := range inputs {
				r, err := convert.From(input, "")
				if !assert.NoError(t, err, input) {
					continue
				}
				tried++
				found := false
				for _, reading := range r.Readings {
					for _, f := range reading.Grades {
						found = found || f.Grade.Generation == g && f.Grade.Rate == x.Rate
					}
				}
				assert.True(t, found, "%s is %v", input, x)
			}
		}
	}
	assert.Greater(t, tried, 200)
}
