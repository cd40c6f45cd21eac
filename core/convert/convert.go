// Package convert turns any figure of the trade into all the others: rates,
// clocks, ratings, latencies, sizes. Where a figure has two honest readings,
// both come out, with what would settle it.
package convert

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
)

// A Reading is one honest way to take the figure.
type Reading struct {
	As     string // "data rate", "clock", "grade", "size", "time", "bandwidth"
	Says   string // the reading as a sentence
	Grades []GradeFacts
	Size   maybe.Value[jedec.Capacity]
}

// GradeFacts is everything about one grade, with a latency where one is given.
type GradeFacts struct {
	Grade      jedec.Grade
	MilliVolts int                        // of a voltage class that was named, else 0
	CL         maybe.Value[jedec.Latency] // as given, or as a time amounts to
	Latency    maybe.Value[jedec.Picoseconds]
}

// A Result is all honest readings of the input.
type Result struct {
	Input    string
	Readings []Reading    // alternatives, more than one where the figure is ambiguous
	At       []GradeFacts // the latency given, taken to another rate
	Settles  string       // what would settle it, where there are several
}

// ErrFigure: the input is no figure of the trade.
var ErrFigure = errors.New("not a figure that can be converted")

// From reads the input: words such as "1066MHz", "PC2-6400", "DDR4-2666 CL19",
// "33554432kB", "13.75ns". at is the rate or grade for times, empty where none
// was given.
func From(input, at string) (Result, error) {
	r := Result{Input: strings.Join(strings.Fields(input), " ")}
	figure, unit, isFigure := split(r.Input)
	var err error
	switch {
	case r.Input == "":
		err = fmt.Errorf("%w: nothing given; try 1066MHz, PC2-6400 or 13.75ns --at 2933", ErrFigure)
	case isFigure && unit == "mhz":
		err = r.megahertz(figure)
	case isFigure && (unit == "mt/s" || unit == "mts" || unit == "mtps"):
		err = r.rate(figure)
	case isFigure && unit == "ns":
		err = r.time(figure, at)
	case isFigure && (unit == "mb/s" || unit == "gb/s"):
		err = r.bandwidth(figure, unit)
	case isFigure && unit == "" && figure >= 1<<17 && figure <= 1<<44 && math.Mod(figure, 1024) == 0:
		r.bareSize(figure)
	case isFigure && unit == "":
		err = fmt.Errorf("%w: %q has no unit; 2400MHz and 2400MT/s are different things", ErrFigure, input)
	default:
		err = r.sizeOrGrade()
	}
	if err == nil && at != "" && unit != "ns" {
		err = r.atGrade(at)
	}
	return r, err
}

// split takes a figure and its unit apart, where the whole text is just that.
func split(s string) (figure float64, unit string, ok bool) {
	compact := strings.ToLower(strings.ReplaceAll(s, " ", ""))
	digits := len(compact) - len(strings.TrimLeft(compact, "0123456789.,"))
	text := strings.Replace(compact[:digits], ",", ".", 1)
	figure, err := strconv.ParseFloat(text, 64)
	if err != nil || math.IsInf(figure, 0) || figure <= 0 {
		return 0, "", false
	}
	return figure, compact[digits:], true
}

func facts(grades []jedec.Grade) []GradeFacts {
	var out []GradeFacts
	for _, g := range grades {
		out = append(out, GradeFacts{Grade: g})
	}
	return out
}

// ordinary lists the grades of all generations for which keep holds, the
// low-power ones last.
func ordinary(keep func(jedec.Grade) bool) []jedec.Grade {
	var out []jedec.Grade
	for _, g := range jedec.Generations() {
		for _, x := range jedec.Grades(g) {
			if keep(x) {
				out = append(out, x)
			}
		}
	}
	return out
}

func named(x jedec.Grade, figure float64) bool {
	return float64(x.Rate) == figure || figure == math.Trunc(figure) && slices.Contains(x.Aliases, jedec.Rate(figure))
}

// megahertz takes a figure that may be a rate, as it is often sold, or a clock.
func (r *Result) megahertz(mhz float64) error {
	rates := ordinary(func(x jedec.Grade) bool { return named(x, mhz) })
	clocks := ordinary(func(x jedec.Grade) bool {
		clock := float64(x.Clock()) / 1000
		return x.Generation.Trait().ClockRatio == 2 && math.Abs(clock-mhz) <= clock/500
	})
	if len(rates) > 0 {
		r.Readings = append(r.Readings, Reading{As: "data rate", Grades: facts(rates),
			Says: fmt.Sprintf("%g MT/s, the way modules are sold (often with MHz behind)", mhz)})
	}
	if len(clocks) > 0 {
		r.Readings = append(r.Readings, Reading{As: "clock", Grades: facts(clocks),
			Says: fmt.Sprintf("a clock of %g MHz, the way measuring programs show it: the rate is twice that", mhz)})
	}
	switch {
	case len(r.Readings) == 0:
		return fmt.Errorf("%w: no standard grade has %g as its rate or its clock; the nearest rates are %s", ErrFigure, mhz,
			nearestRates(mhz))
	case len(r.Readings) == 2:
		r.Settles = settlesClock(rates, clocks)
	}
	return nil
}

// settlesClock says what tells the readings apart.
func settlesClock(rates, clocks []jedec.Grade) string {
	var both []string
	for _, a := range rates {
		for _, b := range clocks {
			if a.Generation == b.Generation {
				both = append(both, a.Generation.String())
			}
		}
	}
	if len(both) == 0 {
		return "the generation settles it: no generation has both"
	}
	return "the generation settles it, except for " + strings.Join(both, " and ") +
		": there, the rating on the label (PC…), or where the figure comes from"
}

func nearestRates(figure float64) string {
	all := ordinary(func(jedec.Grade) bool { return true })
	slices.SortStableFunc(all, func(a, b jedec.Grade) int {
		da, db := math.Abs(float64(a.Rate)-figure), math.Abs(float64(b.Rate)-figure)
		switch {
		case da < db:
			return -1
		case da > db:
			return 1
		}
		return 0
	})
	var names []string
	for _, x := range all {
		if name := fmt.Sprint(int(x.Rate)); !slices.Contains(names, name) {
			names = append(names, name)
		}
		if len(names) == 2 {
			break
		}
	}
	return strings.Join(names, " and ")
}

func (r *Result) rate(mts float64) error {
	grades := ordinary(func(x jedec.Grade) bool { return named(x, mts) })
	if len(grades) == 0 {
		return fmt.Errorf("%w: %g MT/s is no standard rate; the nearest are %s", ErrFigure, mts, nearestRates(mts))
	}
	r.Readings = append(r.Readings,
		Reading{As: "data rate", Says: fmt.Sprintf("a data rate of %g MT/s", mts), Grades: facts(grades)})
	return nil
}

func (r *Result) bandwidth(figure float64, unit string) error {
	if unit == "gb/s" {
		figure *= 1000
	}
	grades := ordinary(func(x jedec.Grade) bool {
		return slices.Contains(x.Ratings, int(math.Round(figure))) || math.Abs(float64(x.Bandwidth())-figure) <= figure/400
	})
	if len(grades) == 0 {
		return fmt.Errorf("%w: no standard grade moves %g MB/s over one channel", ErrFigure, figure)
	}
	r.Readings = append(r.Readings,
		Reading{As: "bandwidth", Says: fmt.Sprintf("%g MB/s over one 64-bit channel", figure), Grades: facts(grades)})
	return nil
}

// time turns a minimum time into clocks at a grade.
func (r *Result) time(ns float64, at string) error {
	if at == "" {
		return fmt.Errorf("%w: %q is a time; say at which rate, as in --at 2933 or --at DDR4-2933", ErrFigure, r.Input)
	}
	ps := jedec.Picoseconds(math.Round(ns * 1000))
	if ps <= 0 || ps > 1_000_000_000 {
		return fmt.Errorf("%w: %g ns is no memory timing", ErrFigure, ns)
	}
	grades, err := gradesAt(at)
	if err != nil {
		return err
	}
	reading := Reading{As: "time",
		Says: fmt.Sprintf("a minimum time of %v in clocks, by each generation's own rounding", ps)}
	for _, x := range grades {
		clocks := jedec.Whole(x.Generation.Clocks(ps, x.TCK))
		if cl, ok := jedec.CAS(x, ps, jedec.StandardLatencies(x.Generation)); ok {
			clocks = max(clocks, cl) // DDR5 knows even ones alone
		}
		reading.Grades = append(reading.Grades,
			GradeFacts{Grade: x, CL: maybe.Just(clocks), Latency: maybe.Just(clocks.Time(x))})
	}
	r.Readings = append(r.Readings, reading)
	return nil
}

// gradesAt reads --at: a grade, or a bare rate in every generation that has
// it and modules of it.
func gradesAt(at string) ([]jedec.Grade, error) {
	text := strings.ToLower(strings.ReplaceAll(at, " ", ""))
	text = strings.TrimSuffix(strings.TrimSuffix(text, "mt/s"), "mts")
	if n, err := strconv.Atoi(text); err == nil {
		grades := ordinary(func(x jedec.Grade) bool { return named(x, float64(n)) && !x.Generation.LowPower() })
		if len(grades) == 0 {
			return nil, fmt.Errorf("%w: --at %s is no standard rate; the nearest are %s", ErrFigure, at,
				nearestRates(float64(n)))
		}
		return grades, nil
	}
	x, _, err := jedec.ParseGrade(at)
	if err != nil {
		return nil, fmt.Errorf("--at: %w", err)
	}
	return []jedec.Grade{x}, nil
}

// sizeOrGrade reads a size, or a description with a grade in it.
func (r *Result) sizeOrGrade() error {
	if size, err := jedec.ParseCapacity(r.Input); err == nil {
		r.size(size)
		return nil
	}
	s, err := module.Parse(r.Input)
	if err != nil {
		return fmt.Errorf("%w: %w", ErrFigure, err)
	}
	x, ok := s.Grade().Get()
	switch {
	case ok:
		reading := Reading{As: "grade", Says: fmt.Sprintf("%v", x)}
		fact := GradeFacts{Grade: x, CL: s.CL.Value()}
		if x.Generation == jedec.DDR3 && s.Supplies.Known() && s.Supplies.Or(jedec.Supplies{}).List()[0] != 1500 {
			fact.MilliVolts = s.Supplies.Or(jedec.Supplies{}).List()[0]
		}
		fact.setLatency()
		reading.Grades = []GradeFacts{fact}
		r.Readings = append(r.Readings, reading)
	case len(s.Choices) > 0:
		r.Readings = append(r.Readings,
			Reading{As: "data rate or clock", Says: "a rate, or the clock of twice that rate", Grades: facts(s.Choices)})
		r.Settles = "the rating on the label (PC…)"
	case len(s.Profiles) > 0:
		p := s.Profiles[0]
		return fmt.Errorf("%w: %v with these timings is beyond the standard, an overclocking profile; module shows it",
			ErrFigure, p.Rate)
	default:
		return fmt.Errorf("%w: %q names no speed; epitome module shows what else it says", ErrFigure, r.Input)
	}
	return nil
}

func (f *GradeFacts) setLatency() {
	if cl, ok := f.CL.Get(); ok {
		f.Latency = maybe.Just(cl.Time(f.Grade))
	}
}

// atGrade takes the latency given to another grade of the same generation:
// its ns stay, its clocks change.
func (r *Result) atGrade(at string) error {
	grades, err := gradesAt(at)
	if err != nil {
		return err
	}
	for _, reading := range r.Readings {
		for _, f := range reading.Grades {
			taa, ok := f.Latency.Get()
			if !ok {
				continue
			}
			for _, x := range grades {
				if x.Generation != f.Grade.Generation {
					continue
				}
				clocks := jedec.Whole(x.Generation.Clocks(taa, x.TCK))
				r.At = append(r.At, GradeFacts{Grade: x, CL: maybe.Just(clocks), Latency: maybe.Just(clocks.Time(x))})
			}
		}
	}
	if len(r.At) == 0 {
		return fmt.Errorf("%w: --at wants a latency or a time to take there, as in DDR4-2666 CL19 --at 2400", ErrFigure)
	}
	return nil
}

// size takes a size as written, and as what a program that divides by 1000
// made of a round one.
// bareSize reads a large round figure without a unit as systems write sizes: in kB,
// or in bytes.
func (r *Result) bareSize(figure float64) {
	for _, x := range []struct {
		unit jedec.Capacity
		name string
	}{{jedec.KiB, "kB, as systems give maxima and totals"}, {1, "bytes, as systems give single modules"}} {
		if c := jedec.Capacity(figure) * x.unit; c >= 16*jedec.MiB && c <= 16*jedec.TiB && c%(16*jedec.MiB) == 0 {
			r.Readings = append(r.Readings, Reading{As: "size", Size: maybe.Just(c), Says: "in " + x.name})
		}
	}
	if len(r.Readings) > 1 {
		r.Settles = "the unit beside it"
	}
}

func (r *Result) size(c jedec.Capacity) {
	r.Readings = append(r.Readings, Reading{As: "size", Size: maybe.Just(c), Says: "as written, 1 GB being 2^30 bytes"})
	if c%jedec.GiB != 0 || jedec.PlausibleModule(c) || c < jedec.GiB {
		return
	}
	gb := float64(c / jedec.GiB)
	for real := jedec.GiB; real <= 4*jedec.TiB; real *= 2 {
		kib := float64(real/jedec.KiB) / 1e6 // kilobytes divided by 1000 twice
		bytes := float64(real) / 1e9
		for _, made := range []struct {
			figure float64
			how    string
		}{{kib, fmt.Sprintf("%d kB divided by 1000 twice", real/jedec.KiB)},
			{bytes, fmt.Sprintf("%d bytes divided by 1000 three times", real)}} {
			if real != c && (math.Floor(made.figure) == gb || math.Round(made.figure) == gb) {
				r.Readings = append(r.Readings,
					Reading{As: "size", Size: maybe.Just(real),
						Says: "as a program that divides by 1000 shows " + real.String() + ": " + made.how})
				r.Settles = fmt.Sprintf("no module set makes %v; a multiple of the sizes that are made is far likelier", c)
				return
			}
		}
	}
}
