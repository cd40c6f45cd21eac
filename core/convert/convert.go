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
	// Slower is the latency where the module keeps no more than is stated, at a rate that it was taken to: sold modules
	// keep their bin's time, which is a little less. Unknown where both come to the same.
	Slower maybe.Value[jedec.Latency]
	Bin    maybe.Value[jedec.Bin] // that was named
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
	case isFigure && unit == "ghz":
		err = r.megahertz(figure * 1000)
	case isFigure && (unit == "mt/s" || unit == "mts" || unit == "mtps"):
		err = r.rate(figure)
	case isFigure && unit == "gt/s":
		err = r.rate(figure * 1000)
	case isFigure && unit == "ns":
		err = r.time(figure, at)
	case isFigure && unit == "ps" && at != "":
		unit, err = "ns", r.time(figure/1000, at)
	case isFigure && unit == "ps":
		err = r.cycle(figure)
	case isFigure && (unit == "gbit" || unit == "mbit"):
		err = r.die(figure * map[string]float64{"gbit": 1024, "mbit": 1}[unit])
	case isFigure && (strings.HasSuffix(r.Input, "Gb") || strings.HasSuffix(r.Input, "Mb")):
		err = r.bitsOrBytes(figure, unit)
	case isFigure && (unit == "mb/s" || unit == "gb/s"):
		err = r.bandwidth(figure, unit)
	case isFigure && unit == "" && figure >= 1<<17 && figure <= 1<<44 && math.Mod(figure, 1024) == 0:
		r.bareSize(figure)
	case isFigure && unit == "":
		err = r.bare(figure)
	default:
		var read bool
		if read, err = r.named(); !read && err == nil {
			err = r.sizeOrGrade()
		}
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
		return x.Generation.Trait().ClockRatio == 2 && isClock(x, 2, mhz)
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
		clocks := jedec.LatencyAt(x, ps)
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
			for g := jedec.DDR2; g <= jedec.DDR5; g++ {
				if sellable(g, n) {
					grades = append(grades, jedec.AnyGrade(g, jedec.Rate(n)))
				}
			}
		}
		if len(grades) == 0 {
			return nil, fmt.Errorf("%w: --at %s is no rate of any generation; the nearest are %s", ErrFigure, at,
				nearestRates(float64(n)))
		}
		return grades, nil
	}
	x, _, err := jedec.ParseGrade(at)
	if err != nil {
		if m := generationFigure().FindStringSubmatch(text); m != nil {
			g, _, known := jedec.ParseGeneration(m[1] + m[2])
			if n, _ := strconv.Atoi(m[3]); known && !g.LowPower() && sellable(g, n) {
				return []jedec.Grade{jedec.AnyGrade(g, jedec.Rate(n))}, nil
			}
		}
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
	case len(s.Profiles) > 0:
		return r.ofProfile(s)
	case ok:
		reading := Reading{As: "grade", Says: x.String()}
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
	default:
		return fmt.Errorf("%w: %q names no speed; epitome module shows what else it says", ErrFigure, r.Input)
	}
	return nil
}

// ofProfile takes a rate, or a latency, that an overclocking profile has and no bin of the standard.
func (r *Result) ofProfile(s module.Module) error {
	p := s.Profiles[0]
	f := GradeFacts{Grade: jedec.AnyGrade(s.Generation.Or(jedec.GenerationUnknown), p.Rate), CL: p.CL}
	f.setLatency()
	says := r.unless(f.Grade.String()) + "no grade of the standard"
	if cl, ok := p.CL.Get(); ok {
		says = r.unless(fmt.Sprintf("%v CL%v", f.Grade, cl)) + "quicker than any bin of the standard"
		if _, real := jedec.GradeAt(f.Grade.Generation, p.Rate); !real {
			says = r.unless(fmt.Sprintf("%v CL%v", f.Grade, cl)) + "no grade of the standard"
		}
	}
	r.Readings = append(r.Readings, Reading{As: "profile", Grades: []GradeFacts{f},
		Says: says + ": modules are sold by it with an overclocking profile"})
	return nil
}

// bitsOrBytes asks about a "b" that may be either: chips are sold by bits, modules by bytes.
func (r *Result) bitsOrBytes(figure float64, unit string) error {
	mega := map[string]float64{"gb": 1024, "mb": 1}[unit]
	if err := r.die(figure * mega); err != nil {
		r.Readings = nil
	}
	if size, err := jedec.ParseCapacity(strings.ToUpper(strings.ReplaceAll(r.Input, " ", ""))); err == nil {
		r.Readings = append(r.Readings, Reading{As: "size", Size: maybe.Just(size), Says: "bytes, as modules are sold"})
	}
	if len(r.Readings) == 0 {
		return fmt.Errorf("%w: %q is no size of a chip or a module", ErrFigure, r.Input)
	}
	if len(r.Readings) > 1 {
		r.Settles = "whether bits or bytes are meant: a small b is bits, which chips are sold by; modules are " +
			"sold by bytes, B"
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
				stated := jedec.LatencyAt(x, taa)
				clocks := stated
				if sold, _ := jedec.SoldTime(f.Grade); jedec.IsSold(f.Grade, taa) {
					clocks = jedec.LatencyAt(x, sold)
				}
				r.At = append(r.At, GradeFacts{Grade: x, CL: maybe.Just(clocks), Latency: maybe.Just(clocks.Time(x)),
					Slower: maybe.If(stated, stated != clocks)})
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
