package module

import (
	"fmt"
	"strconv"
	"sync"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// Facts are everything that can be known of one module. The zero value is a module
// of which nothing is known. Facts of a description alone, which nobody has weighed
// against another, are comparable.
type Facts struct {
	Generation  fact.Fact[jedec.Generation]
	Form        fact.Fact[jedec.Form]
	Capacity    fact.Fact[jedec.Capacity]
	Ranks       fact.Fact[int]
	Width       fact.Fact[int] // data lines a chip
	Density     fact.Fact[int] // of a die, Mbit
	DataWidth   fact.Fact[int] // data lines of the module without check bits
	Dies        fact.Fact[int] // in a package
	Stacked     fact.Fact[bool]
	ECC         fact.Fact[bool]
	Registered  fact.Fact[bool] // load-reduced ones are, too
	LoadReduced fact.Fact[bool]
	Multiplexed fact.Fact[bool]
	Clocked     fact.Fact[bool]       // carries a clock driver
	Rated       fact.Fact[jedec.Rate] // the standard rate that it is good for
	Timing      fact.Fact[jedec.Timing]
	CL          fact.Fact[jedec.Latency] // at the standard rate
	Times       Times
	Latencies   fact.Fact[jedec.Latencies] // that it supports
	Supplies    fact.Fact[jedec.Supplies]  // that it is made for
	Maker       fact.Fact[string]
	MakerCode   fact.Fact[jedec.MakerCode]
	ChipMaker   fact.Fact[jedec.MakerCode]
	Part        fact.Fact[string]
	Serial      fact.Fact[string]
	Year        fact.Fact[int]
	Week        fact.Fact[int]
	HeightMM    fact.Fact[int]
	Thickness   fact.Fact[jedec.Thickness]
	CheckBits   fact.Fact[int] // lines beside the data lines, of the whole module
	PMIC        fact.Fact[string]
	Thermal     fact.Fact[bool] // carries a thermal sensor
}

// Times are a module's minimum times.
type Times struct {
	TCK, TAA, TRCD, TRP, TRAS, TRC fact.Fact[jedec.Picoseconds]
}

// Grade is the standard grade that the module is good for, by its generation and
// its rate.
func (f *Facts) Grade() maybe.Value[jedec.Grade] {
	g, ok1 := f.Generation.Get()
	rate, ok2 := f.Rated.Get()
	if !ok1 || !ok2 {
		return maybe.None[jedec.Grade]()
	}
	return maybe.If(jedec.GradeAt(g, rate))
}

// A Row is one fact of a module in the table of all: how it is called, shown and
// weighed. Whatever shows, joins, compares or shares modules goes through the table.
type Row struct {
	Key  string // in JSON, with its unit
	Name string // in text
	// Asked: a description of a module is expected to state it. Told: a person is
	// told where it does not.
	Asked, Told bool
	// Single: it tells one module from others that are made alike.
	Single bool

	standing func(*Facts) fact.Standing
	show     func(*Facts) Shown
	forget   func(*Facts)
	join     func(into *Facts, from []*Facts)
	claim    func(into, from *Facts, w fact.Weight, source string)
	bare     func(into, from *Facts)
}

// A Shown is a fact in the words and figures in which it is shown.
type Shown struct {
	Key, Name    string
	Standing     fact.Standing
	Text         string // empty where there is no value
	Value        any    // for JSON, nil where there is no value
	Why, Against []fact.Support
}

// Show returns the fact of a module as it is shown.
func (r Row) Show(m *Module) Shown { return r.show(&m.Facts) }

// Standing returns how firmly the fact stands.
func (r Row) Standing(m *Module) fact.Standing { return r.standing(&m.Facts) }

// Known reports whether there is a value.
func (r Row) Known(m *Module) bool { return r.Standing(m) >= fact.Leaning }

// row makes a row of the table: the fact's text and, where it is not the value as
// it stands, what JSON shows of it.
func row[T comparable](key, name string, of func(*Facts) *fact.Fact[T], text func(T) string, value func(T) any) Row {
	return Row{
		Key: key, Name: name,
		standing: func(f *Facts) fact.Standing { return of(f).Standing() },
		forget:   func(f *Facts) { *of(f) = fact.Fact[T]{} },
		show: func(f *Facts) Shown {
			x := *of(f)
			s := Shown{Key: key, Name: name, Standing: x.Standing(), Why: x.Why(), Against: x.Against()}
			if v, ok := x.Get(); ok {
				s.Text, s.Value = text(v), value(v)
			}
			return s
		},
		join: func(into *Facts, from []*Facts) {
			list := make([]fact.Fact[T], len(from))
			for i, f := range from {
				list[i] = *of(f)
			}
			*of(into) = fact.Join(list...)
		},
		claim: func(into, from *Facts, w fact.Weight, source string) {
			*of(into) = of(from).Claimed(w, source, func(v T) string { return name + " " + text(v) })
		},
		bare: func(into, from *Facts) {
			x := *of(from)
			if v, ok := x.Get(); ok {
				*of(into) = fact.Of(v, x.Standing())
			}
		},
	}
}

// asked, told and single mark a row.
func (r Row) asked() Row  { r.Asked = true; return r }
func (r Row) told() Row   { r.Asked, r.Told = true, true; return r }
func (r Row) single() Row { r.Single = true; return r }

// Rows returns the one table of a module's facts, in the order in which they are
// shown. The caller does not change it.
var Rows = sync.OnceValue(func() []Row {
	number := strconv.Itoa
	yes := func(b bool) string { return map[bool]string{true: "yes", false: "no"}[b] }
	word := func(s string) string { return s }
	time := func(key, name string, of func(*Facts) *fact.Fact[jedec.Picoseconds]) Row {
		return row(key, name, of, jedec.Picoseconds.String, asItIs)
	}
	return []Row{
		row("generation", "generation", func(f *Facts) *fact.Fact[jedec.Generation] { return &f.Generation },
			jedec.Generation.String, asItIs).told(),
		row("form", "form", func(f *Facts) *fact.Fact[jedec.Form] { return &f.Form }, jedec.Form.String, asItIs).told(),
		row("capacity_mib", "capacity", func(f *Facts) *fact.Fact[jedec.Capacity] { return &f.Capacity },
			jedec.Capacity.String, asItIs).told(),
		row("ranks", "ranks", func(f *Facts) *fact.Fact[int] { return &f.Ranks }, number, asItIs).told(),
		row("device_width_bits", "chip width", func(f *Facts) *fact.Fact[int] { return &f.Width },
			func(n int) string { return fmt.Sprintf("x%d", n) }, asItIs).told(),
		row("density_mbit", "die density", func(f *Facts) *fact.Fact[int] { return &f.Density }, jedec.DieSize,
			asItIs).told(),
		row("data_width_bits", "data width", func(f *Facts) *fact.Fact[int] { return &f.DataWidth }, number, asItIs).asked(),
		row("dies_per_package", "dies a package", func(f *Facts) *fact.Fact[int] { return &f.Dies }, number, asItIs),
		row("stacked", "stacking", func(f *Facts) *fact.Fact[bool] { return &f.Stacked }, yes, asItIs),
		row("ecc", "ECC", func(f *Facts) *fact.Fact[bool] { return &f.ECC }, yes, asItIs).told(),
		row("registered", "registered", func(f *Facts) *fact.Fact[bool] { return &f.Registered }, yes, asItIs).told(),
		row("load_reduced", "load-reduced", func(f *Facts) *fact.Fact[bool] { return &f.LoadReduced }, yes, asItIs),
		row("multiplexed_rank", "multiplexed-rank", func(f *Facts) *fact.Fact[bool] { return &f.Multiplexed }, yes, asItIs),
		row("clock_driver", "clock driver", func(f *Facts) *fact.Fact[bool] { return &f.Clocked }, yes, asItIs),
		row("rated_mts", "rated speed", func(f *Facts) *fact.Fact[jedec.Rate] { return &f.Rated }, jedec.Rate.String,
			asItIs).told(),
		row("timing", "timing", func(f *Facts) *fact.Fact[jedec.Timing] { return &f.Timing }, jedec.Timing.String,
			func(t jedec.Timing) any { return t.String() }),
		row("cl", "CAS latency", func(f *Facts) *fact.Fact[jedec.Latency] { return &f.CL }, jedec.Latency.String,
			func(l jedec.Latency) any { return l.Clocks() }),
		time("tck_min_ps", "cycle time", func(f *Facts) *fact.Fact[jedec.Picoseconds] { return &f.Times.TCK }).asked(),
		time("taa_ps", "CAS time", func(f *Facts) *fact.Fact[jedec.Picoseconds] { return &f.Times.TAA }).told(),
		time("trcd_ps", "tRCD", func(f *Facts) *fact.Fact[jedec.Picoseconds] { return &f.Times.TRCD }).told(),
		time("trp_ps", "tRP", func(f *Facts) *fact.Fact[jedec.Picoseconds] { return &f.Times.TRP }).told(),
		time("tras_ps", "tRAS", func(f *Facts) *fact.Fact[jedec.Picoseconds] { return &f.Times.TRAS }).told(),
		time("trc_ps", "tRC", func(f *Facts) *fact.Fact[jedec.Picoseconds] { return &f.Times.TRC }).asked(),
		row("cas_latencies", "CAS latencies", func(f *Facts) *fact.Fact[jedec.Latencies] { return &f.Latencies },
			jedec.Latencies.String, func(s jedec.Latencies) any { return s.Clocks() }).told(),
		row("volts", "supply", func(f *Facts) *fact.Fact[jedec.Supplies] { return &f.Supplies }, jedec.Supplies.String,
			func(s jedec.Supplies) any { return s.Volts() }).told(),
		row("maker", "maker", func(f *Facts) *fact.Fact[string] { return &f.Maker }, word, asItIs).told(),
		row("maker_code", "maker code", func(f *Facts) *fact.Fact[jedec.MakerCode] { return &f.MakerCode },
			jedec.MakerCode.String, asItIs),
		row("chip_maker", "chip maker", func(f *Facts) *fact.Fact[jedec.MakerCode] { return &f.ChipMaker },
			jedec.MakerCode.String, asItIs),
		row("part", "part", func(f *Facts) *fact.Fact[string] { return &f.Part }, word, asItIs).asked(),
		row("serial", "serial", func(f *Facts) *fact.Fact[string] { return &f.Serial }, word, asItIs).told().single(),
		row("year", "year", func(f *Facts) *fact.Fact[int] { return &f.Year }, number, asItIs).told().single(),
		row("week", "week", func(f *Facts) *fact.Fact[int] { return &f.Week }, number, asItIs).asked().single(),
		row("height_mm", "height", func(f *Facts) *fact.Fact[int] { return &f.HeightMM },
			func(n int) string { return fmt.Sprintf("%d mm", n) }, asItIs),
		row("thickness_mm", "thickness", func(f *Facts) *fact.Fact[jedec.Thickness] { return &f.Thickness },
			jedec.Thickness.String, func(t jedec.Thickness) any { return map[string]int{"front": t.Front, "back": t.Back} }),
		row("check_bits", "check bits", func(f *Facts) *fact.Fact[int] { return &f.CheckBits }, number, asItIs),
		row("pmic", "supply on the module", func(f *Facts) *fact.Fact[string] { return &f.PMIC }, word, asItIs),
		row("thermal_sensor", "thermal sensor", func(f *Facts) *fact.Fact[bool] { return &f.Thermal }, yes, asItIs),
	}
})

func asItIs[T any](v T) any { return v }

// Unknown names the facts that a description is expected to state and does not, by
// their JSON keys, in the order in which they are shown.
func (m *Module) Unknown() (keys []string) {
	for _, r := range Rows() {
		if r.Asked && !r.Known(m) {
			keys = append(keys, r.Key)
		}
	}
	return keys
}

// ForgetIdentity forgets what tells one module from others that are made alike.
func (m *Module) ForgetIdentity() {
	for _, r := range Rows() {
		if r.Single {
			r.forget(&m.Facts)
		}
	}
}

// Claimed returns the module with each of its facts as a claim of one reading, of
// as much weight.
func (m Module) Claimed(w fact.Weight, source string) Module {
	out := m
	out.Facts, out.trust = Facts{}, w
	for _, r := range Rows() {
		r.claim(&out.Facts, &m.Facts, w, source)
	}
	return out
}

// Join weighs what several readings say of one module, fact by fact. What no fact
// holds, the words of its description and its profiles, is the weightiest one's: a
// hint is not believed in that.
func Join(readings ...Module) (m Module) {
	facts := make([]*Facts, len(readings))
	for i := range readings {
		facts[i] = &readings[i].Facts
		if readings[i].trust > max(m.trust, fact.Hint) {
			m = readings[i]
		}
	}
	m.Facts = Facts{}
	for _, r := range Rows() {
		r.join(&m.Facts, facts)
	}
	return m
}
