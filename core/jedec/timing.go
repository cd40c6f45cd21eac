package jedec

import (
	"fmt"
	"slices"
	"sync"
)

// rounding is how a generation turns a minimum time into clocks.
type rounding uint8

const (
	// roundUp is plain ceiling: SDR to DDR3 and the low-power kinds. DDR3's
	// fine offsets have gone into the time before.
	roundUp rounding = iota
	// guard974 is DDR4's: JESD21-C annex L, "rounding algorithms": the
	// quotient in thousandths plus 974, cut off; up to 2.6 % of a clock over
	// a whole number is taken for rounding in the times.
	guard974
	// guard997 is DDR5's: JESD400-5 clause 8, "rounding algorithms": the time
	// less 0.30 %, plus one clock, cut off.
	guard997
)

// Clocks returns how many clocks of length tck the generation's rule makes of
// a minimum time. Both must be positive; otherwise it is 0.
func (g Generation) Clocks(minimum, tck Picoseconds) int {
	if minimum <= 0 || tck <= 0 {
		return 0
	}
	switch g.Trait().Rounding {
	case roundUp:
		return int((minimum + tck - 1) / tck)
	case guard974:
		return int((minimum*1000/tck + 974) / 1000)
	case guard997:
		return int((minimum*997/tck + 1000) / 1000)
	}
	return 0
}

// Latency is a CAS latency in half clocks: DDR counts 2.5. The zero value is
// no latency.
type Latency int

// Whole returns a latency of n clocks.
func Whole(n int) Latency { return Latency(2 * n) }

// String writes the latency in clocks, "17" or "2.5".
func (l Latency) String() string {
	if l%2 == 0 {
		return fmt.Sprint(int(l) / 2)
	}
	return fmt.Sprintf("%d.5", int(l)/2)
}

// Time returns how long the latency lasts at a grade, rounded to the
// picosecond from the exact rate: CL17 at DDR4-2400 is 14167 ps. This is the
// first-word latency that commands show.
func (l Latency) Time(at Grade) Picoseconds {
	return Picoseconds((int64(l)*at.Exact() + 1000) / 2000)
}

// CAS picks the CAS latency for a grade from the latencies that a module
// supports: the smallest that is at least its minimum access time by the
// generation's rule. ok is false where no supported latency is long enough.
func CAS(at Grade, taa Picoseconds, supported []Latency) (cl Latency, ok bool) {
	need := Whole(at.Generation.Clocks(taa, at.TCK))
	if at.Generation.Trait().HalfClocks {
		need = Latency((2*taa + at.TCK - 1) / at.TCK)
	}
	for _, l := range supported {
		if l >= need && (!ok || l < cl) {
			cl, ok = l, true
		}
	}
	return cl, ok
}

// A Timing is the first three timings of a module at some grade, in clocks.
type Timing struct {
	CL        Latency
	TRCD, TRP int
}

// String writes the timing as the trade does, "22-22-22".
func (t Timing) String() string { return fmt.Sprintf("%v-%d-%d", t.CL, t.TRCD, t.TRP) }

// A Bin is a standard speed bin: a grade with the timings that chips of the
// bin keep.
type Bin struct {
	Grade  Grade
	Letter string // as the standard and the label write it: "T", "AA"; empty for DDR's unlettered ones
	Timing Timing
	// TAA, TRCD and TRP are the bin's minimum times.
	TAA, TRCD, TRP Picoseconds
}

// Name writes grade and letter, "DDR4-2400T".
func (b Bin) Name() string { return b.Grade.String() + b.Letter }

// binTable gives the bins of SDR to DDR4 as clocks. Sources: JESD79F table 10
// (DDR), JESD79-2F table 41 to 43, JESD79-3F tables 61 to 66, JESD79-4 tables
// 109 to 115. From DDR2 on the letter follows the CAS latency (B 3, C 4 … N 14,
// P 15, R 16, T 17, U 18, V 19, W 20, Y 21, AA 22, AC 24), which a test holds
// the table to. Latencies are in half clocks.
var binTable = []struct {
	generation Generation
	rate       Rate
	letter     string
	cl         Latency
	rcd, rp    int
}{
	{SDR, 66, "", 4, 2, 2}, {SDR, 100, "", 4, 2, 2}, {SDR, 133, "", 6, 3, 3},
	{DDR, 200, "", 4, 2, 2},
	{DDR, 266, "", 4, 2, 2}, {DDR, 266, "A", 4, 3, 3}, {DDR, 266, "B", 5, 3, 3},
	{DDR, 333, "", 5, 3, 3},
	{DDR, 400, "A", 5, 3, 3}, {DDR, 400, "B", 6, 3, 3}, {DDR, 400, "C", 6, 4, 4},
	{DDR2, 400, "B", 6, 3, 3}, {DDR2, 400, "C", 8, 4, 4},
	{DDR2, 533, "B", 6, 3, 3}, {DDR2, 533, "C", 8, 4, 4},
	{DDR2, 667, "C", 8, 4, 4}, {DDR2, 667, "D", 10, 5, 5},
	{DDR2, 800, "C", 8, 4, 4}, {DDR2, 800, "D", 10, 5, 5}, {DDR2, 800, "E", 12, 6, 6},
	{DDR2, 1066, "E", 12, 6, 6}, {DDR2, 1066, "F", 14, 7, 7},
	{DDR3, 800, "D", 10, 5, 5}, {DDR3, 800, "E", 12, 6, 6},
	{DDR3, 1066, "E", 12, 6, 6}, {DDR3, 1066, "F", 14, 7, 7}, {DDR3, 1066, "G", 16, 8, 8},
	{DDR3, 1333, "F", 14, 7, 7}, {DDR3, 1333, "G", 16, 8, 8}, {DDR3, 1333, "H", 18, 9, 9}, {DDR3, 1333, "J", 20, 10, 10},
	{DDR3, 1600, "G", 16, 8, 8}, {DDR3, 1600, "H", 18, 9, 9}, {DDR3, 1600, "J", 20, 10, 10}, {DDR3, 1600, "K", 22, 11, 11},
	{DDR3, 1866, "J", 20, 10, 10}, {DDR3, 1866, "K", 22, 11, 11}, {DDR3, 1866, "L", 24, 12, 12},
	{DDR3, 1866, "M", 26, 13, 13},
	{DDR3, 2133, "K", 22, 11, 11}, {DDR3, 2133, "L", 24, 12, 12}, {DDR3, 2133, "M", 26, 13, 13},
	{DDR3, 2133, "N", 28, 14, 14},
	{DDR4, 1600, "J", 20, 10, 10}, {DDR4, 1600, "K", 22, 11, 11}, {DDR4, 1600, "L", 24, 12, 12},
	{DDR4, 1866, "L", 24, 12, 12}, {DDR4, 1866, "M", 26, 13, 13}, {DDR4, 1866, "N", 28, 14, 14},
	{DDR4, 2133, "N", 28, 14, 14}, {DDR4, 2133, "P", 30, 15, 15}, {DDR4, 2133, "R", 32, 16, 16},
	{DDR4, 2400, "P", 30, 15, 15}, {DDR4, 2400, "R", 32, 16, 16}, {DDR4, 2400, "T", 34, 17, 17},
	{DDR4, 2400, "U", 36, 18, 18},
	{DDR4, 2666, "T", 34, 17, 17}, {DDR4, 2666, "U", 36, 18, 18}, {DDR4, 2666, "V", 38, 19, 19},
	{DDR4, 2666, "W", 40, 20, 20},
	{DDR4, 2933, "V", 38, 19, 19}, {DDR4, 2933, "W", 40, 20, 20}, {DDR4, 2933, "Y", 42, 21, 21},
	{DDR4, 2933, "AA", 44, 22, 22},
	{DDR4, 3200, "W", 40, 20, 20}, {DDR4, 3200, "AA", 44, 22, 22}, {DDR4, 3200, "AC", 48, 24, 24},
}

// ddr5Classes gives DDR5's bins by their minimum times, alike at every rate
// (JESD79-5 clause 10): the CAS latency is the next even number of clocks. At
// 3200 class A keeps 13.75 ns, 22 clocks. The N classes (AN, BN) are left out:
// their figures could not be confirmed.
var ddr5Classes = []struct {
	letter  string
	minimum Picoseconds
}{{"A", 14000}, {"B", 16000}, {"C", 17500}}

// madeBins keeps the bins of grades that were asked for.
var madeBins sync.Map // of []Bin by gradeKey

// A gradeKey tells grades apart.
type gradeKey struct {
	generation Generation
	rate       Rate
	period     Picoseconds
}

// Bins returns the standard bins of a grade, fastest first. The list is shared: it is not to
// be changed.
func Bins(x Grade) []Bin {
	key := gradeKey{x.Generation, x.Rate, x.TCK}
	if have, ok := madeBins.Load(key); ok {
		return have.([]Bin)
	}
	bins := slices.Clip(makeBins(x))
	if _, real := GradeAt(x.Generation, x.Rate); real {
		madeBins.Store(key, bins) // there are few of those
	}
	return bins
}

func makeBins(x Grade) []Bin {
	var bins []Bin
	if x.Generation == DDR5 {
		for _, class := range ddr5Classes {
			minimum := class.minimum
			if class.letter == "A" && x.Rate == 3200 {
				minimum = 13750
			}
			clocks := DDR5.Clocks(minimum, x.TCK)
			bins = append(bins, Bin{Grade: x, Letter: class.letter, TAA: minimum, TRCD: minimum, TRP: minimum,
				Timing: Timing{CL: Whole(clocks + clocks%2), TRCD: clocks, TRP: clocks}})
		}
		return bins
	}
	for _, b := range binTable {
		if b.generation == x.Generation && b.rate == x.Rate {
			bins = append(bins, Bin{Grade: x, Letter: b.letter, Timing: Timing{b.cl, b.rcd, b.rp},
				TAA: x.least(b.cl), TRCD: x.least(Whole(b.rcd)), TRP: x.least(Whole(b.rp))})
		}
	}
	return bins
}

// least returns the minimum time that a number of clocks at the grade stands
// for, as the standards print it: exact where that is a whole multiple of 5 ps
// (7 clocks at 1066 are 13.125 ns), else cut off to 10 ps (17 clocks at 2400
// are 14.16 ns, 13 at 1866 are 13.92 ns).
func (x Grade) least(l Latency) Picoseconds {
	period := int64(60_000_000) // fs times Thirds, see Exact
	if x.Generation == SDR {
		period /= 2
	}
	exact := int64(l) * period / 2
	if exact%(5000*int64(x.Thirds)) == 0 {
		return Picoseconds(exact / int64(x.Thirds) / 1000)
	}
	return Picoseconds(exact / int64(x.Thirds) / 10_000 * 10)
}

// BinNamed returns the bin of a grade with a letter.
func BinNamed(x Grade, letter string) (Bin, bool) {
	for _, b := range Bins(x) {
		if b.Letter == letter {
			return b, true
		}
	}
	return Bin{}, false
}

// At returns the timings that chips of the bin keep at another grade of the
// same generation, with the CAS latencies that the standard's bins of that
// generation use. A grade faster than the bin's own is refused.
func (b Bin) At(x Grade) (Timing, bool) {
	if x.Generation != b.Grade.Generation || x.Rate > b.Grade.Rate {
		return Timing{}, false
	}
	cl, ok := CAS(x, b.TAA, StandardLatencies(x.Generation))
	if !ok {
		return Timing{}, false
	}
	return Timing{CL: cl, TRCD: x.Generation.Clocks(b.TRCD, x.TCK), TRP: x.Generation.Clocks(b.TRP, x.TCK)}, true
}

// StandardLatencies returns the CAS latencies that a generation's standard
// defines, shortest first: DDR 2 to 3 in halves, DDR2 3 to 7, DDR3 5 to 14,
// DDR4 9 to 24 (9 is DDR4-1600's optional one), DDR5 even ones from 20.
func StandardLatencies(g Generation) []Latency {
	from, to, step := 0, -1, 2
	switch g {
	case SDR:
		from, to = 4, 6
	case DDR:
		from, to, step = 4, 6, 1
	case DDR2:
		from, to = 6, 14
	case DDR3:
		from, to = 10, 28
	case DDR4:
		from, to = 18, 48
	case DDR5:
		from, to, step = 40, 156, 4
	}
	var list []Latency
	for l := from; l <= to; l += step {
		list = append(list, Latency(l))
	}
	return list
}

// FasterThanStandard reports whether a latency at a grade is shorter than any
// bin of the generation keeps: such a figure is an overclocking profile's.
func FasterThanStandard(x Grade, cl Latency) bool {
	bins := Bins(x)
	if len(bins) == 0 {
		return false
	}
	fastest := slices.MinFunc(bins, func(a, b Bin) int { return int(a.Timing.CL - b.Timing.CL) })
	return cl < fastest.Timing.CL
}

// soldFrom is the time that the bin which is sold in a generation's grades keeps for tAA, tRCD and tRP alike, and from
// which rate on: DDR3's optional down binning to 13.125 ns (JESD79-3F, notes to tables 61 to 66), DDR4's 13.75 ns in
// brackets (JESD79-4 tables 109 to 115), DDR5's class B (JESD79-5 clause 10).
var soldFrom = map[Generation]struct {
	rate Rate
	time Picoseconds
}{DDR2: {667, 15000}, DDR3: {1066, 13125}, DDR4: {2133, 13750}, DDR5: {3200, 16000}}

// SoldTime is the time that the bin which is sold in a grade keeps for tAA, tRCD and tRP alike; ok is false where no
// bin is sold more than others.
func SoldTime(x Grade) (t Picoseconds, ok bool) {
	sold, has := soldFrom[x.Generation]
	return sold.time, has && x.Rate >= sold.rate
}

// IsSold reports whether a time at a grade may be that of the bin which is sold there: a latency in clocks, or the bin
// that it names, is rounded up, so the time lies between it and a clock less.
func IsSold(x Grade, own Picoseconds) bool {
	sold, ok := SoldTime(x)
	step := x.TCK
	if x.Generation == DDR5 {
		step *= 2 // its latencies are even
	}
	return ok && sold <= own && sold > own-step
}

// LatencyAt is the shortest CAS latency of the generation's standard that lasts no less than a time at a grade: DDR5
// knows even ones alone. Beyond what the standard has it is what the rounding rule makes.
func LatencyAt(x Grade, t Picoseconds) Latency {
	if cl, ok := CAS(x, t, StandardLatencies(x.Generation)); ok {
		return cl
	}
	return evenOf(x.Generation, x.Generation.Clocks(t, x.TCK))
}

// evenOf is a whole number of clocks as a latency of the generation.
func evenOf(g Generation, clocks int) Latency {
	if g == DDR5 {
		clocks += clocks % 2
	}
	return Whole(clocks)
}
