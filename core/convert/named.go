package convert

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/pattern"
)

// Figures that carry a name: a generation, a bin, a latency.

// generationFigure is a generation with a figure, and the letters of a bin or a unit behind it: "DDR3 667",
// "DDR4-2133P", "LPDDR5 800MHz".
var generationFigure = pattern.Of(`^(lp)?(ddr[2-5]?[lux]?)[ -]?(\d{2,5})(?: ?(mhz|mt/s|mts)|([a-z]{1,2}))?$`)

// figureLatency is a rate with a CAS latency and nothing that names a generation: "1333 CL9".
var figureLatency = pattern.Of(`^(\d{3,5}) ?(?:mhz|mt/s|mts)?[ -,]*(?:cl|cas ?|c)(\d{1,2}(?:\.5)?)$`)

// named reads figures with a name; ok is false where the input is none.
func (r *Result) named() (ok bool, err error) {
	text := strings.ToLower(r.Input)
	if m := generationFigure().FindStringSubmatch(text); m != nil {
		if g, mv, known := jedec.ParseGeneration(m[1] + m[2]); known {
			n, _ := strconv.Atoi(m[3])
			return r.ofGeneration(g, mv, n, m[4], strings.ToUpper(m[5]))
		}
	}
	if m := figureLatency().FindStringSubmatch(text); m != nil {
		n, _ := strconv.Atoi(m[1])
		clocks, _ := strconv.ParseFloat(m[2], 64)
		return true, r.withLatency(n, jedec.Latency(clocks*2))
	}
	return false, nil
}

// ofGeneration takes a generation's figure as a rate, as a clock of it, or as a rate beyond its grades.
func (r *Result) ofGeneration(g jedec.Generation, milliVolts, figure int, unit, letters string) (ok bool, err error) {
	x, isRate := jedec.GradeAt(g, jedec.Rate(figure))
	if letters != "" {
		return r.ofBin(x, isRate, letters)
	}
	fact := func(x jedec.Grade) GradeFacts { return GradeFacts{Grade: x, MilliVolts: milliVolts} }
	if isRate {
		r.Readings = append(r.Readings, Reading{As: "grade", Says: x.String(), Grades: []GradeFacts{fact(x)}})
	}
	if unit != "mt/s" && unit != "mts" {
		for _, clock := range clocksOf(g) {
			var list []GradeFacts
			for _, x := range jedec.Grades(g) {
				if isClock(x, clock.ratio, float64(figure)) {
					list = append(list, fact(x))
				}
			}
			if len(list) > 0 {
				r.Readings = append(r.Readings, Reading{As: clock.name, Grades: list,
					Says: fmt.Sprintf("%v with a %s of %d MHz, which is %v", g, clock.name, figure, list[0].Grade)})
			}
		}
	}
	switch {
	case len(r.Readings) > 1:
		r.Settles = "the rating on the label (PC…), or where the figure comes from: a shop names the rate, a measuring " +
			"program the clock"
	case len(r.Readings) == 0 && !g.LowPower() && sellable(g, figure):
		x := jedec.AnyGrade(g, jedec.Rate(figure))
		r.Readings = []Reading{{As: "profile", Grades: []GradeFacts{fact(x)},
			Says: r.unless(x.String()) + "no grade of the standard: modules are sold by it with an overclocking profile"}}
	case len(r.Readings) == 0:
		return true, noGrade(g, figure)
	}
	return true, nil
}

// unless is a name with a comma behind it, empty where the input is just that.
func (r *Result) unless(name string) string {
	if strings.EqualFold(strings.ReplaceAll(r.Input, " ", "-"), name) {
		return ""
	}
	return name + ", "
}

// sellable reports whether modules may be sold by a rate that is none of its generation's grades: between or beyond
// them.
func sellable(g jedec.Generation, figure int) bool {
	grades := jedec.Grades(g)
	return figure > int(grades[0].Rate) && figure <= 2*int(grades[len(grades)-1].Rate) && g > jedec.SDR
}

func noGrade(g jedec.Generation, figure int) error {
	_, _, err := jedec.ParseGrade(fmt.Sprintf("%v-%d", g, figure))
	return fmt.Errorf("%w: %w", ErrFigure, err)
}

// ofBin takes a grade with the letters of its bin, "DDR4-2133P".
func (r *Result) ofBin(x jedec.Grade, real bool, letters string) (ok bool, err error) {
	if !real {
		return false, nil
	}
	b, known := jedec.BinNamed(x, letters)
	if !known {
		var names []string
		for _, b := range jedec.Bins(x) {
			names = append(names, b.Name())
		}
		return true, fmt.Errorf("%w: %v has no bin %q; there are %s", ErrFigure, x, letters, strings.Join(names, ", "))
	}
	f := GradeFacts{Grade: x, Bin: maybe.Just(b), CL: maybe.Just(b.Timing.CL)}
	f.setLatency()
	r.Readings = append(r.Readings, Reading{As: "bin", Grades: []GradeFacts{f},
		Says: fmt.Sprintf("%sa bin of %v: %v", r.unless(b.Name()), x, b.Timing)})
	return true, nil
}

// withLatency takes a figure with a latency in each generation that has it as a rate, and where that is a time that
// memory takes.
func (r *Result) withLatency(figure int, cl jedec.Latency) error {
	reading := Reading{As: "data rate", Says: fmt.Sprintf("%d MT/s with CL%v", figure, cl)}
	for _, x := range ordinary(func(x jedec.Grade) bool { return named(x, float64(figure)) && !x.Generation.LowPower() }) {
		if t := cl.Time(x); t >= 7000 && t <= 22500 {
			f := GradeFacts{Grade: x, CL: maybe.Just(cl)}
			f.setLatency()
			reading.Grades = append(reading.Grades, f)
		}
	}
	if len(reading.Grades) == 0 {
		return fmt.Errorf("%w: no generation has %d MT/s with CL%v; name it, as in DDR4-%d CL%v", ErrFigure, figure, cl,
			figure, cl)
	}
	if r.Readings = append(r.Readings, reading); len(reading.Grades) > 1 {
		r.Settles = "the generation"
	}
	return nil
}

// A clock is one of a generation's, by how many transfers there are to it.
type clock struct {
	name  string
	ratio int
}

// clocksOf are the clocks of a generation: LPDDR5 has one for commands and, four times as fast, one for data
// (JESD209-5, CK and WCK).
func clocksOf(g jedec.Generation) []clock {
	switch g.Trait().ClockRatio {
	case 2:
		return []clock{{"clock", 2}}
	case 8:
		return []clock{{"command clock", 8}, {"data clock", 2}}
	}
	return nil
}

// isClock allows for readings such as 166, 667 or 798.5: within a five-hundredth, and thirds cut off.
func isClock(x jedec.Grade, ratio int, mhz float64) bool {
	clock := float64(x.Thirds) * 100 / 3 / float64(ratio)
	return math.Abs(clock-mhz) <= max(clock/500, 0.67)
}

// die takes the density of a chip: what one holds, and the modules that it makes.
func (r *Result) die(mbit float64) error {
	n := int(mbit)
	if float64(n) != mbit || n < 16 || n > 1<<16 || n&(n-1) != 0 && n%3 != 0 {
		return fmt.Errorf("%w: chips of %g Mbit are not made", ErrFigure, mbit)
	}
	var of []string
	for _, g := range jedec.Generations() {
		if slices.Contains(g.Trait().Densities, n) && !g.LowPower() {
			of = append(of, g.String())
		}
	}
	if len(of) == 0 {
		return fmt.Errorf("%w: chips of %s are made in no generation", ErrFigure, jedec.DieSize(n))
	}
	chip := jedec.Capacity(n) * jedec.MiB / 8
	module := func(ranks, width int) string {
		return fmt.Sprintf("%dRx%d %v", ranks, width, chip*jedec.Capacity(ranks*64/width))
	}
	r.Readings = append(r.Readings, Reading{As: "density of a chip", Size: maybe.Just(chip),
		Says: fmt.Sprintf("what one chip holds, in bits: %v; modules of such chips are %s, %s, %s; made as %s", chip,
			module(1, 16), module(1, 8), module(2, 8), strings.Join(of, ", "))})
	return nil
}

// cycle takes a time in picoseconds as the length of a clock.
func (r *Result) cycle(ps float64) error {
	grades := ordinary(func(x jedec.Grade) bool { return math.Abs(float64(x.TCK)-ps) <= 1 })
	if len(grades) == 0 {
		return fmt.Errorf("%w: %g ps is no grade's cycle; for a latency say at which rate, as in 13.75ns --at 2933",
			ErrFigure, ps)
	}
	r.Readings = append(r.Readings, Reading{As: "cycle", Grades: facts(grades),
		Says: fmt.Sprintf("a clock cycle of %g ps", ps)})
	return nil
}

// bare takes a figure without a unit in every way in which one stands on modules and screens: as a rate, as a clock, as
// the rating behind PC.
func (r *Result) bare(figure float64) error {
	rates := ordinary(func(x jedec.Grade) bool { return named(x, figure) })
	clocks := ordinary(func(x jedec.Grade) bool {
		return x.Generation.Trait().ClockRatio == 2 && isClock(x, 2, figure)
	})
	rated := ordinary(func(x jedec.Grade) bool {
		return figure == math.Trunc(figure) && slices.Contains(x.Ratings, int(figure)) && x.Generation > jedec.SDR
	})
	for _, x := range []struct {
		as, says string
		grades   []jedec.Grade
	}{{"data rate", fmt.Sprintf("%g MT/s", figure), rates},
		{"clock", fmt.Sprintf("a clock of %g MHz: the rate is twice that", figure), clocks},
		{"rating", fmt.Sprintf("what stands behind PC on the label: %g MB/s", figure), rated}} {
		if len(x.grades) > 0 {
			r.Readings = append(r.Readings, Reading{As: x.as, Says: x.says, Grades: facts(x.grades)})
		}
	}
	switch len(r.Readings) {
	case 0:
		return fmt.Errorf("%w: %g has no unit, and is no rate, clock or rating of any generation; the nearest rates are %s",
			ErrFigure, figure, nearestRates(figure))
	case 1:
	default:
		r.Settles = "the unit or the word beside it: MT/s, MHz, PC…"
	}
	return nil
}
