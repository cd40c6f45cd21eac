package trial

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/rule"
)

// ofBin is a stick that keeps a standard bin and says so.
func ofBin(b jedec.Bin) module.Module {
	g := b.Grade.Generation
	m := module.Ordinary(jedec.DIMM, jedec.Unbuffered, jedec.GiB, jedec.Layout{Ranks: 1, Width: 8},
		g.Trait().Densities[0], b.Grade, b.Timing.CL, jedec.SuppliesOf(g.Trait().MilliVolts[0]))
	m.From = b.Name()
	m.Times = module.Times{TCK: fact.Known(b.Grade.TCK), TAA: fact.Known(b.TAA), TRCD: fact.Known(b.TRCD),
		TRP: fact.Known(b.TRP)}
	return m
}

// Every pair of standard bins of every generation runs as the standard's own
// tables say: at the slower grade, each timing the longer of the two that the
// bins keep there.
func TestEveryPairOfBinsRunsAsTheStandardSays(t *testing.T) {
	pairs := 0
	for _, g := range jedec.Generations() {
		var bins []jedec.Bin
		for _, x := range jedec.Grades(g) {
			bins = append(bins, jedec.Bins(x)...)
		}
		for _, a := range bins {
			for _, b := range bins {
				if a.Grade.Rate > b.Grade.Rate {
					continue
				}
				own := a.Timing
				other, ok := b.At(a.Grade)
				if !ok {
					continue // the bin keeps no latency at that grade
				}
				want := jedec.Timing{CL: max(own.CL, other.CL), TRCD: max(own.TRCD, other.TRCD), TRP: max(own.TRP, other.TRP)}
				m := Mix([]module.Module{ofBin(a), ofBin(b)}, nil)
				p, has := m.Operating.Get()
				if !assert.True(t, has, "%s with %s: %s", a.Name(), b.Name(), m.Why) {
					continue
				}
				if worst, slower := m.Worst.Get(); slower {
					// As sold they may be faster; the standard's figures are the worst.
					assert.Less(t, p.Timing.CL, worst.Timing.CL, "%s with %s", a.Name(), b.Name())
					p = worst
				}
				assert.Equal(t, a.Grade, p.Grade, "%s with %s", a.Name(), b.Name())
				assert.Equal(t, want, p.Timing, "%s with %s", a.Name(), b.Name())
				assert.Equal(t, want.CL.Time(a.Grade), p.Latency)
				pairs++
			}
		}
	}
	assert.Greater(t, pairs, 1500, "SDR to DDR5")
}

// The access time that is taken for a stick: what is sold in its grade, where that rounds up to what it states, else
// its own.
func TestTheAccessTimeThatIsSold(t *testing.T) {
	for text, want := range map[string]jedec.Picoseconds{
		"4GB DDR3-1066 CL7 SO-DIMM":  13125, // 7 clocks of 1.875 ns
		"4GB DDR3-1066 CL8 SO-DIMM":  15000, // a clock less is what is sold: its own is longer
		"4GB DDR3-1600 CL11 SO-DIMM": 13125, "4GB DDR3-1600 CL9 SO-DIMM": 11250, "4GB DDR3-800 CL6 SO-DIMM": 15000,
		"8GB DDR4-2400 CL17 SO-DIMM": 13750, "8GB DDR4-2400 CL16 SO-DIMM": 13328, "8GB DDR4-2400 SO-DIMM": 13750,
		"8GB DDR4-1600 SO-DIMM": 15000, "16GB DDR5-4800 SO-DIMM": 16000,
	} {
		s := sticks(t, text)[0]
		got, known := s.SoldTimes().TAA.Get()
		assert.True(t, known, text)
		assert.InDelta(t, float64(want), float64(got), 20, text)
	}
}

// interleave lays addresses over channels one after the other, a block at a
// time, as plainly as can be: each turn gives a block to every channel that
// still has room.
func interleave(rooms []int) (layers map[int]int) {
	layers = make(map[int]int)
	rooms = append([]int(nil), rooms...)
	for {
		var open []int
		for i, r := range rooms {
			if r > 0 {
				open = append(open, i)
			}
		}
		if len(open) == 0 {
			return layers
		}
		for _, i := range open {
			rooms[i]--
		}
		layers[len(open)] += len(open)
	}
}

func TestChannelArithmeticAgreesWithAPlainSimulation(t *testing.T) {
	cases := 0
	for a := range 6 {
		for b := range 6 {
			for c := range 4 {
				for d := range 4 {
					rooms := []int{a, b, c, d}
					list := []Share{}
					for i, r := range rooms {
						list = append(list, Share{fmt.Sprint(i), jedec.Capacity(r) * jedec.GiB})
					}
					got := make(map[int]int)
					for _, l := range Layered(list) {
						got[l.Channels] += int(l.Capacity / jedec.GiB)
					}
					assert.Equal(t, interleave(rooms), got, "%v", rooms)
					cases++
				}
			}
		}
	}
	assert.Equal(t, 576, cases)
}

func mixed(t *testing.T, texts ...string) Mixed {
	t.Helper()
	var sticks []module.Module
	for _, text := range texts {
		s, err := module.Parse(text)
		require.NoError(t, err, text)
		sticks = append(sticks, s.Apart()...)
	}
	return Mix(sticks, nil)
}

func TestWhatBelongsTogether(t *testing.T) {
	for _, c := range []struct {
		sticks  []string
		verdict rule.Verdict
		rate    jedec.Rate
		cl      int
		mv      int
	}{
		{[]string{"8GB 1Rx8 PC4-2400T-SA1-11", "8GB 1Rx8 PC4-2400T-SA1-11"}, rule.Works, 2400, 17, 1200},
		{[]string{"8GB 1Rx8 PC4-2400T-SA1-11", "8GB 1Rx8 PC4-3200AA-SA2-11"}, rule.RunsLess, 2400, 17, 1200},
		{[]string{"8GB 1Rx8 PC4-2133P-SA1-11", "8GB 1Rx8 PC4-2133R-SA1-11"}, rule.Works, 2133, 16, 1200},
		{[]string{"4GB 1Rx8 PC3L-12800S-11-13-B4", "4GB 1Rx8 PC3L-12800S-11-13-B4"}, rule.Works, 1600, 11, 1350},
		{[]string{"4GB 1Rx8 PC3L-12800S-11-13-B4", "4GB 2Rx8 PC3-10600S-9-10-F3"}, rule.RunsLess, 1333, 9, 1500},
		{[]string{"16GB 2Rx8 PC4-2400T-RA1-11", "8GB 1Rx8 PC4-2400T-UA2-11"}, rule.No, 0, 0, 0},
		{[]string{"8GB 1Rx8 PC4-2400T-SA1-11", "4GB 1Rx8 PC3L-12800S-11-13-B4"}, rule.No, 0, 0, 0},
		{[]string{"8GB 1Rx8 PC4-2400T-SA1-11", "8GB 1Rx8 PC4-2400T-UA1-11"}, rule.No, 0, 0, 0},
		{[]string{"8GB 1Rx8 PC4-2400T-SA1-11", "8GB DDR4 SO-DIMM"}, rule.CannotTell, 0, 0, 0},
	} {
		m := mixed(t, c.sticks...)
		assert.Equal(t, c.verdict, m.Verdict, "%v: %v", c.sticks, m.Reasons)
		p, ok := m.Operating.Get()
		if c.rate == 0 {
			assert.False(t, ok, c.sticks)
			continue
		}
		assert.Equal(t, c.rate, p.Grade.Rate, c.sticks)
		assert.Equal(t, jedec.Whole(c.cl), p.Timing.CL, c.sticks)
		assert.Equal(t, maybe.Just(c.mv), p.MilliVolts, c.sticks)
		assert.NotEmpty(t, p.By("rate_mts"))
	}
}

func TestOnlyTheRatesThatAMachineKnows(t *testing.T) {
	s, err := module.Parse("8GB 1Rx8 PC4-3200AA-SA2-11")
	require.NoError(t, err)
	p, ok := Mix([]module.Module{s}, []jedec.Rate{2133, 2400}).Operating.Get()
	require.True(t, ok)
	assert.Equal(t, jedec.Rate(2400), p.Grade.Rate)
	assert.Equal(t, "the next lower rate that machine and modules share", p.By("rate_mts"))
	_, ok = Mix([]module.Module{s}, []jedec.Rate{5200}).Operating.Get()
	assert.False(t, ok)
}

func TestADrawerIsSortedIntoUsableSets(t *testing.T) {
	m := mixed(t, "8GB 1Rx8 PC4-2400T-SA1-11", "4GB 1Rx8 PC3L-12800S-11-13-B4", "8GB 1Rx8 PC4-3200AA-SA2-11",
		"4GB 2Rx8 PC3-10600S-9-10-F3", "16GB 2Rx4 PC4-2400T-RA1-11", "2 x 8GB DDR5-4800 UDIMM", "8GB DDR3")
	require.Len(t, m.Groups, 4)
	assert.Equal(t, []int{6 + 1}, m.Unsorted)
	names := ""
	for _, g := range m.Groups {
		names += g.Names + "; "
		assert.NotEqual(t, rule.No, g.Verdict, g.Names)
	}
	assert.Contains(t, names, "DDR4 SO-DIMM")
	assert.Contains(t, names, "DDR4 DIMM, registered")
	assert.Equal(t, rule.No, m.Verdict)
}

func ExampleMix() {
	a, _ := module.Parse("8GB 1Rx8 PC4-2400T-SA1-11")
	b, _ := module.Parse("8GB 1Rx8 PC4-3200AA-SA2-11")
	p, _ := Mix([]module.Module{a, b}, nil).Operating.Get()
	fmt.Println(p.Grade, p.Timing, p.Latency, "set by", p.By("rate_mts"))
	// Output: DDR4-2400 17-17-17 14.17 ns set by 8 GB DDR4-2400 SO-DIMM, rated DDR4-2400
}

// A CAS latency may take as long as the standard bounds an access time, and no longer.
func TestTheLongestAccessTime(t *testing.T) {
	for _, c := range []struct {
		g    jedec.Generation
		rate jedec.Rate
		cl   int
		fits bool
	}{
		{jedec.DDR4, 2666, 24, true}, {jedec.DDR4, 2666, 25, false},
		{jedec.DDR4, 1600, 14, true}, {jedec.DDR4, 1600, 15, false},
		{jedec.DDR3, 800, 8, true}, {jedec.DDR3, 800, 9, false}, {jedec.DDR2, 800, 9, true},
	} {
		x, ok := jedec.GradeAt(c.g, c.rate)
		require.True(t, ok)
		cl := jedec.Whole(c.cl)
		got, fits := latencyAt(x, 13000, []jedec.Latency{cl})
		assert.Equal(t, c.fits, fits, "%v CL%d", x, c.cl)
		assert.Equal(t, cl, got)
	}
}

// The supplies that several are good for: what each states, or its generation's where that knows one alone.
func TestSharedSupplies(t *testing.T) {
	for _, c := range []struct {
		texts []string
		want  string // "?" where it is not known
	}{
		{nil, "[]"},
		{[]string{"8GB DDR4-2400 UDIMM"}, "[1200]"},
		{[]string{"4GB 1Rx8 PC3L-12800S-11-13-B4"}, "[1350 1500]"},
		{[]string{"4GB 1Rx8 PC3-12800S-11-13-B4"}, "[1500]"},
		{[]string{"4GB DDR3 SO-DIMM"}, "?"},
		{[]string{"4GB 1Rx8 PC3L-12800S-11-13-B4", "4GB DDR3 SO-DIMM"}, "?"},
		{[]string{"4GB 1Rx8 PC3L-12800S-11-13-B4", "4GB 1Rx8 PC3-12800S-11-13-B4"}, "[1500]"},
		{[]string{"8GB UDIMM"}, "?"},
		{[]string{"8GB DDR4-2400 UDIMM", "8GB 1Rx8 PC4-2400T-UA2-11"}, "[1200]"},
		{[]string{"8GB DDR4-2400 UDIMM", "16GB DDR5-5600 UDIMM"}, "[]"},
	} {
		common, known := supplies(sticks(t, c.texts...))
		got := fmt.Sprint(common.List())
		if !known {
			got = "?"
		}
		assert.Equal(t, c.want, got, "%v", c.texts)
	}
}

// A trial changed nothing where as much memory runs as fast as before, and nothing new stands in a place.
func TestNothingChanged(t *testing.T) {
	slow := Point{Grade: jedec.Grade{Rate: 2133}, Bandwidth: 10}
	fast := Point{Grade: jedec.Grade{Rate: 2400}, Bandwidth: 20}
	same := Trial{Before: maybe.Just(slow), Operating: maybe.Just(slow), WithProfile: maybe.Just(fast), Was: 1, Total: 1}
	assert.True(t, same.Same())
	for name, change := range map[string]func(*Trial){
		"faster":    func(x *Trial) { x.Operating = maybe.Just(fast) },
		"broader":   func(x *Trial) { x.Operating = maybe.Just(Point{Grade: slow.Grade, Bandwidth: 20}) },
		"more":      func(x *Trial) { x.Total = 2 },
		"a new one": func(x *Trial) { x.Seats = []Seat{{New: true}} },
		"unknown":   func(x *Trial) { x.Operating = maybe.None[Point]() },
	} {
		x := same
		change(&x)
		assert.False(t, x.Same(), name)
	}
}

// Pairs of modules as they are sold, by label or listing, with the rate and the timings at which they run together:
// from the tables of the standards, a sold bin's times alike for all three (JESD79-3F, -4, -5; figures in brackets).
func TestPairsAsTheyAreSold(t *testing.T) {
	for pair, want := range map[string]string{
		// DDR4: 13.75 ns; by each rate 15, 17, 19, 21 and 22 clocks.
		"PC4-2133P + PC4-2133P": "2133 15-15-15", "PC4-2133P + PC4-2400T": "2133 15-15-15",
		"PC4-2133P + PC4-2666V": "2133 15-15-15", "PC4-2133P + PC4-2933Y": "2133 15-15-15",
		"PC4-2133P + PC4-3200AA": "2133 15-15-15", "PC4-2400T + PC4-2400T": "2400 17-17-17",
		"PC4-2400T + PC4-2666V": "2400 17-17-17", "PC4-2400T + PC4-2933Y": "2400 17-17-17",
		"PC4-2400T + PC4-3200AA": "2400 17-17-17", "PC4-2666V + PC4-2666V": "2666 19-19-19",
		"PC4-2666V + PC4-2933Y": "2666 19-19-19", "PC4-2666V + PC4-3200AA": "2666 19-19-19",
		"PC4-2933Y + PC4-2933Y": "2933 21-21-21", "PC4-2933Y + PC4-3200AA": "2933 21-21-21",
		"PC4-3200AA + PC4-3200AA": "3200 22-22-22",
		// A quicker bin beside a sold one is no gain; a slower bin than what is sold keeps its own times.
		"PC4-2400R + PC4-2400T": "2400 17-17-17", "PC4-2666U + PC4-2400T": "2400 17-17-17",
		"PC4-2133R + PC4-2133P": "2133 16-16-16", "PC4-2400U + PC4-2400T": "2400 18-18-18",
		"PC4-3200AC + PC4-3200AA": "3200 24-24-24",
		// DDR3: 13.125 ns; 7, 9, 11, 13 and 14 clocks.
		"DDR3-1066 CL7 + DDR3-1066 CL7": "1066 7-7-7", "DDR3-1066 CL7 + DDR3-1333 CL9": "1066 7-7-7",
		"DDR3-1066 CL7 + DDR3-1600 CL11": "1066 7-7-7", "DDR3-1333 CL9 + DDR3-1333 CL9": "1333 9-9-9",
		"DDR3-1333 CL9 + DDR3-1600 CL11": "1333 9-9-9", "DDR3-1333 CL9 + DDR3-1866 CL13": "1333 9-9-9",
		"DDR3-1600 CL11 + DDR3-1600 CL11": "1600 11-11-11", "DDR3-1600 CL11 + DDR3-1866 CL13": "1600 11-11-11",
		"DDR3-1866 CL13 + DDR3-1866 CL13": "1866 13-13-13", "DDR3-1866 CL13 + DDR3-2133 CL14": "1866 13-13-13",
		"DDR3-1066 + DDR3-1600": "1066 7-7-7", "DDR3-1333 + DDR3-1600": "1333 9-9-9",
		// DDR5: class B, 16 ns; even latencies, the others by its own rounding.
		"PC5-4800B + PC5-4800B": "4800 40-39-39", "PC5-4800B + PC5-5200B": "4800 40-39-39",
		"PC5-4800B + PC5-5600B": "4800 40-39-39", "PC5-5200B + PC5-5200B": "5200 42-42-42",
		"PC5-5200B + PC5-5600B": "5200 42-42-42", "PC5-5600B + PC5-5600B": "5600 46-45-45",
		"PC5-5600B + PC5-6400B": "5600 46-45-45", "PC5-6400B + PC5-6400B": "6400 52-52-52",
		"DDR5-4800 + DDR5-5600": "4800 40-39-39",
	} {
		a, b, _ := strings.Cut(pair, " + ")
		m := Mix(append(sticks(t, "16GB "+a+" DIMM"), sticks(t, "16GB "+b+" DIMM")...), nil)
		p, ok := m.Operating.Get()
		if assert.True(t, ok, "%s: %s", pair, m.Why) {
			assert.Equal(t, want, fmt.Sprintf("%d %v", int(p.Grade.Rate), p.Timing), pair)
		}
	}
}
