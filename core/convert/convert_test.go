package convert_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/convert"
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
		{"DDR4-2666 CL19", "2400", "grade: DDR4-2666 CL19 14.25 ns; at DDR4-2400: CL18 15.00 ns"},
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
		{"DDR3 800MHz", "", "data rate or clock: DDR3-800, DDR3-1600"},
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
		"":               "nothing given",
		"2400":           "has no unit",
		"2500MHz":        "the nearest rates are 2400 and",
		"2500MT/s":       "the nearest are 2400 and",
		"13.75ns":        "say at which rate",
		"PC3-11000":      "PC3-10600",
		"hello":          "says nothing",
		"8GB DDR4 DIMM":  "names no speed",
		"1e400 MHz":      "",
		"DDR4-3600 CL16": "overclocking profile",
	} {
		_, err := convert.From(in, "")
		require.ErrorIs(t, err, convert.ErrFigure, in)
		assert.Contains(t, err.Error(), says, in)
	}
	_, err := convert.From("13.75ns", "2500")
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
