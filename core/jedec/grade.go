package jedec

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// A Grade is one standard speed of one generation. The zero Grade is none:
// its clock, bandwidth and cycle are 0.
type Grade struct {
	Generation Generation
	Rate       Rate // as the standard names it: 2666 stands for 2666 2/3
	// Thirds is the exact rate in units of 100/3 MT/s: every standard rate is
	// a whole number of them, so clock and bandwidth come out exact.
	Thirds int
	// TCK is the standard's cycle time. DDR4's and DDR3's are rounded, DDR5's
	// are cut off to whole picoseconds.
	TCK Picoseconds
	// Ratings are the module ratings in use: the standard's first, then the
	// other roundings of the same bandwidth.
	Ratings []int
	// Aliases are other figures in use for the same rate.
	Aliases []Rate
}

// grades is the table of every standard grade, slowest first within a
// generation. Cycle times: JESD21-C 3.11 (SDR), JESD79F table 11, JESD79-2F
// table 41, JESD79-3F table 61 on, JESD79-4 table 109 on, JESD79-5 clause 10;
// each is also 2000/rate rounded (DDR5: cut off), which a test holds it to.
// Low-power grades: JESD209-2 to -5, without module ratings.
var grades = []Grade{
	{SDR, 66, 2, 15000, []int{66}, []Rate{67}},
	{SDR, 100, 3, 10000, []int{100}, nil},
	{SDR, 133, 4, 7500, []int{133}, nil},
	{DDR, 200, 6, 10000, []int{1600}, nil},
	{DDR, 266, 8, 7500, []int{2100, 2133}, []Rate{267}},
	{DDR, 333, 10, 6000, []int{2700, 2666, 2667}, nil},
	{DDR, 400, 12, 5000, []int{3200}, nil},
	{DDR2, 400, 12, 5000, []int{3200}, nil},
	{DDR2, 533, 16, 3750, []int{4200, 4266, 4267, 4300}, nil},
	{DDR2, 667, 20, 3000, []int{5300, 5333, 5400}, []Rate{666}},
	{DDR2, 800, 24, 2500, []int{6400}, nil},
	{DDR2, 1066, 32, 1875, []int{8500, 8533, 8600}, []Rate{1067}},
	{DDR3, 800, 24, 2500, []int{6400}, nil},
	{DDR3, 1066, 32, 1875, []int{8500, 8533}, []Rate{1067}},
	{DDR3, 1333, 40, 1500, []int{10600, 10660, 10666, 10667, 10700}, []Rate{1334}},
	{DDR3, 1600, 48, 1250, []int{12800}, nil},
	{DDR3, 1866, 56, 1071, []int{14900, 14933, 15000}, []Rate{1867}},
	{DDR3, 2133, 64, 938, []int{17000, 17066, 17067}, []Rate{2134}},
	{DDR4, 1600, 48, 1250, []int{12800}, nil},
	{DDR4, 1866, 56, 1071, []int{14900, 14933}, []Rate{1867}},
	{DDR4, 2133, 64, 938, []int{17000, 17066, 17067}, []Rate{2134}},
	{DDR4, 2400, 72, 833, []int{19200}, nil},
	{DDR4, 2666, 80, 750, []int{21300, 21328, 21333}, []Rate{2667}},
	{DDR4, 2933, 88, 682, []int{23400, 23464, 23466, 23467, 23500}, []Rate{2934}},
	{DDR4, 3200, 96, 625, []int{25600}, nil},
	{DDR5, 3200, 96, 625, []int{25600}, nil},
	{DDR5, 3600, 108, 555, []int{28800}, nil},
	{DDR5, 4000, 120, 500, []int{32000}, nil},
	{DDR5, 4400, 132, 454, []int{35200}, nil},
	{DDR5, 4800, 144, 416, []int{38400}, nil},
	{DDR5, 5200, 156, 384, []int{41600}, nil},
	{DDR5, 5600, 168, 357, []int{44800}, nil},
	{DDR5, 6000, 180, 333, []int{48000}, nil},
	{DDR5, 6400, 192, 312, []int{51200}, nil},
	{DDR5, 6800, 204, 294, []int{54400}, nil},
	{DDR5, 7200, 216, 277, []int{57600}, nil},
	{DDR5, 7600, 228, 263, []int{60800}, nil},
	{DDR5, 8000, 240, 250, []int{64000}, nil},
	{DDR5, 8400, 252, 238, []int{67200}, nil},
	{DDR5, 8800, 264, 227, []int{70400}, nil},
	{LPDDR, 333, 10, 6000, nil, nil},
	{LPDDR, 400, 12, 5000, nil, nil},
	{LPDDR2, 667, 20, 3000, nil, []Rate{666}},
	{LPDDR2, 800, 24, 2500, nil, nil},
	{LPDDR2, 1066, 32, 1875, nil, []Rate{1067}},
	{LPDDR3, 1333, 40, 1500, nil, nil},
	{LPDDR3, 1600, 48, 1250, nil, nil},
	{LPDDR3, 1866, 56, 1071, nil, []Rate{1867}},
	{LPDDR3, 2133, 64, 938, nil, nil},
	{LPDDR4, 1600, 48, 1250, nil, nil},
	{LPDDR4, 2133, 64, 938, nil, nil},
	{LPDDR4, 2400, 72, 833, nil, nil},
	{LPDDR4, 2666, 80, 750, nil, []Rate{2667}},
	{LPDDR4, 3200, 96, 625, nil, nil},
	{LPDDR4, 3733, 112, 536, nil, []Rate{3732, 3734}},
	{LPDDR4, 4266, 128, 469, nil, []Rate{4267}},
	{LPDDR4X, 3200, 96, 625, nil, nil},
	{LPDDR4X, 3733, 112, 536, nil, []Rate{3732, 3734}},
	{LPDDR4X, 4266, 128, 469, nil, []Rate{4267}},
	{LPDDR5, 4800, 144, 417, nil, nil},
	{LPDDR5, 5500, 165, 364, nil, []Rate{5501}},
	{LPDDR5, 6000, 180, 333, nil, nil},
	{LPDDR5, 6400, 192, 313, nil, nil},
	{LPDDR5X, 7467, 224, 268, nil, nil}, // 7466 2/3
	{LPDDR5X, 7500, 225, 267, nil, nil},
	{LPDDR5X, 8533, 256, 234, nil, []Rate{8532, 8534}},
	{LPDDR5X, 9600, 288, 208, nil, nil},
}

// Grades returns the standard grades of a generation, slowest first.
func Grades(g Generation) []Grade {
	first := slices.IndexFunc(grades, func(x Grade) bool { return x.Generation == g })
	if first < 0 {
		return nil
	}
	last := first
	for last < len(grades) && grades[last].Generation == g {
		last++
	}
	return grades[first:last:last]
}

// GradeAt returns the grade of a generation whose rate is written as rate, by
// its name or by one of the other figures in use (2667 for 2666).
func GradeAt(g Generation, rate Rate) (Grade, bool) {
	for _, x := range Grades(g) {
		if x.Rate == rate || slices.Contains(x.Aliases, rate) {
			return x, true
		}
	}
	return Grade{}, false
}

// AnyGrade returns the grade of a generation at a rate, or what it would be at a rate between its grades or beyond
// them: without ratings, and with the exact rate as it is written. rate must be positive.
func AnyGrade(g Generation, rate Rate) Grade {
	if x, ok := GradeAt(g, rate); ok || rate <= 0 {
		return x
	}
	per := Picoseconds(2_000_000)
	if g == SDR {
		per /= 2
	}
	return Grade{Generation: g, Rate: rate, Thirds: (int(rate)*3 + 50) / 100, TCK: per / Picoseconds(rate)}
}

// GradeRated returns the grade of a generation whose module rating is written
// as number: 10600, 10666 and 10667 are one.
func GradeRated(g Generation, number int) (Grade, bool) {
	for _, x := range Grades(g) {
		if slices.Contains(x.Ratings, number) {
			return x, true
		}
	}
	return Grade{}, false
}

// String writes the grade as the standard does, "DDR4-2666". ParseGrade reads
// it back, and every one of Spellings.
func (x Grade) String() string {
	if x.Generation == SDR {
		return "PC" + strconv.Itoa(int(x.Rate))
	}
	return fmt.Sprintf("%v-%d", x.Generation, int(x.Rate))
}

// Module writes the module rating as the standard does, "PC3-10600"; empty
// where modules of the generation carry none.
func (x Grade) Module() string {
	if len(x.Ratings) == 0 {
		return ""
	}
	return x.Generation.Trait().Module + strconv.Itoa(x.Ratings[0])
}

// Spellings lists every way in use of writing the grade, the standard's
// device and module names first.
func (x Grade) Spellings() []string {
	names := []string{x.String()}
	t := x.Generation.Trait()
	for _, r := range x.Ratings {
		names = append(names, t.Module+strconv.Itoa(r))
	}
	if x.Generation == DDR4 || x.Generation == DDR5 {
		// From DDR4 on the label carries the rate instead of the bandwidth (JESD21-C 4.1.2.L, JESD401-5).
		names = append(names, t.Module+strconv.Itoa(int(x.Rate)))
	}
	for _, a := range x.Aliases {
		if x.Generation == SDR {
			break // nobody writes PC67
		}
		names = append(names, fmt.Sprintf("%v-%d", x.Generation, int(a)))
		if x.Generation == DDR4 {
			names = append(names, t.Module+strconv.Itoa(int(a)))
		}
	}
	return slices.Compact(names)
}

// Clock returns the bus clock: half the rate, the rate itself for SDR, an
// eighth for LPDDR5's command clock. The zero Grade has none: 0.
func (x Grade) Clock() Clock {
	ratio := max(1, x.Generation.Trait().ClockRatio)
	return Clock((x.Thirds*100000 + 3*ratio/2) / (3 * ratio))
}

// CellClock returns the clock of the memory cells behind the prefetch.
func (x Grade) CellClock() Clock {
	n := max(1, x.Generation.Trait().Prefetch)
	return Clock((x.Thirds*100000 + 3*n/2) / (3 * n))
}

// Bandwidth returns the peak of one 64-bit channel in MB/s (10^6 bytes).
func (x Grade) Bandwidth() int { return (x.Thirds*800 + 1) / 3 }

// Exact returns the length of one data cycle (two transfers; one for SDR) in
// femtoseconds, rounded: latencies in clocks become times by it without the
// rounding of TCK. It is 0 for the zero Grade.
func (x Grade) Exact() int64 {
	if x.Thirds == 0 {
		return 0
	}
	per := int64(2)
	if x.Generation == SDR {
		per = 1
	}
	// 10^6 fs per ps / (Thirds * 100/3 per us): per * 3 * 10^7 / Thirds.
	return (per*30_000_000 + int64(x.Thirds)/2) / int64(x.Thirds)
}

// ErrGrade is what every error of ParseGrade wraps.
var ErrGrade = errors.New("no such grade")

// ParseGrade reads a grade in any spelling in use: "DDR4-2666", "DDR4 2667",
// "PC3-10600", "PC3L-12800", "PC2700", "PC133", "PC4-2400". milliVolts is the
// supply where the spelling names a voltage class (DDR3L, PC3L), else 0. The
// error names the nearest real grades.
func ParseGrade(s string) (grade Grade, milliVolts int, err error) {
	text := strings.ToUpper(strings.TrimSpace(s))
	if rest, isModule := strings.CutPrefix(text, "PC"); isModule {
		return parseModuleRating(s, rest)
	}
	digits := len(text) - len(strings.TrimRight(text, "0123456789"))
	name := strings.TrimRight(text[:len(text)-digits], " -_")
	number, _ := strconv.Atoi(text[len(text)-digits:])
	g, milliVolts, ok := ParseGeneration(name)
	if _, _, bare := ParseGeneration(text); !ok || digits == 0 || bare {
		return Grade{}, 0, fmt.Errorf("%w: %q; write one as DDR4-2666 or PC3-10600", ErrGrade, s)
	}
	if grade, ok = GradeAt(g, Rate(number)); ok {
		return grade, milliVolts, nil
	}
	return Grade{}, 0, fmt.Errorf("%w: %q; the nearest are %s", ErrGrade, s,
		nearest(g, func(x Grade) int { return abs(int(x.Rate) - number) }, Grade.String))
}

// modulePrefixes are what may stand behind "PC". DDR and SDR carry no digit.
var modulePrefixes = []struct {
	prefix     string
	generation Generation
	milliVolts int
}{
	{"2-", DDR2, 0}, {"3L-", DDR3, 1350}, {"3U-", DDR3, 1250}, {"3-", DDR3, 0}, {"4-", DDR4, 0}, {"5-", DDR5, 0},
	{"-", DDR, 0}, {"", DDR, 0},
}

func parseModuleRating(s, rest string) (Grade, int, error) {
	for _, p := range modulePrefixes {
		figure, found := strings.CutPrefix(rest, p.prefix)
		if !found {
			continue
		}
		number, err := strconv.Atoi(strings.TrimSpace(figure))
		if err != nil {
			continue
		}
		grade, ok := gradeOfModule(p.generation, number)
		if !ok && p.generation == DDR {
			grade, ok = GradeRated(SDR, number)
		}
		if ok {
			return grade, p.milliVolts, nil
		}
		return Grade{}, 0, fmt.Errorf("%w: %q; the nearest are %s", ErrGrade, s,
			nearest(p.generation, func(x Grade) int { return moduleDistance(x, number) },
				func(x Grade) string { return x.Module() + " (" + x.String() + ")" }))
	}
	return Grade{}, 0, fmt.Errorf("%w: %q; write one as PC3-10600 or DDR3-1333", ErrGrade, s)
}

// gradeOfModule takes the number behind a module prefix as a bandwidth, and
// from DDR4 on as a rate too.
func gradeOfModule(g Generation, number int) (Grade, bool) {
	if grade, ok := GradeRated(g, number); ok {
		return grade, true
	}
	if g == DDR4 || g == DDR5 {
		return GradeAt(g, Rate(number))
	}
	return Grade{}, false
}

func moduleDistance(x Grade, number int) int {
	return min(abs(x.Ratings[0]-number), abs(int(x.Rate)-number))
}

// nearest names the two grades that lie closest.
func nearest(g Generation, distance func(Grade) int, name func(Grade) string) string {
	list := slices.Clone(Grades(g))
	slices.SortStableFunc(list, func(a, b Grade) int { return distance(a) - distance(b) })
	var names []string
	for _, x := range list[:min(2, len(list))] {
		names = append(names, name(x))
	}
	return strings.Join(names, " and ")
}

func abs(n int) int {
	if n < 0 {
		return -n
	}
	return n
}
