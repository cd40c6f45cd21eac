package trial

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/rule"
	"epitome/golden"
	"epitome/truth/effort"
)

// The sticks of the matrix, by generation: sizes, organisations, bins, kinds and supplies, each with what it
// leaves out.
const (
	ddr4Sticks = `8GB 1Rx8 PC4-2400T-UA2-11
16GB 2Rx8 PC4-3200AA-UB1-11
4GB 1Rx16 PC4-2133P-UC0-10
16GB DDR4-2666 UDIMM
8GB 1Rx8 PC4-2400T-EA1-11
16GB 2Rx4 PC4-2400T-RA1-11
32GB 2Rx8 PC4-2666V-UB1-11
2x8GB 1Rx8 PC4-2400T-UA2-11
2x16GB 2Rx8 PC4-2666V-UB1-11
8GB 1Rx8 PC4-1600K-UA2-11
8GB 1Rx8 PC4-2400T-UA2-11 + 4GB 1Rx16 PC4-2133P-UC0-10
2x8GB DDR4-3600 CL18 1Rx8 UDIMM 1.35V
4GB 1Rx8 PC3L-12800U-11-13-B4
8GB UDIMM`
	ddr4Some = `8GB 1Rx8 PC4-2400T-UA2-11
16GB 2Rx8 PC4-3200AA-UB1-11
4GB 1Rx16 PC4-2133P-UC0-10
8GB 1Rx8 PC4-2400T-EA1-11
16GB 2Rx4 PC4-2400T-RA1-11
2x16GB 2Rx8 PC4-2666V-UB1-11
2x8GB DDR4-3600 CL18 1Rx8 UDIMM 1.35V
8GB UDIMM`
	so4Sticks = `8GB 1Rx8 PC4-2400T-SA1-11
16GB 2Rx8 PC4-3200AA-SE1-11
4GB 1Rx16 PC4-2666V-SC0-11
16GB DDR4-3200 SO-DIMM
32GB 2Rx8 PC4-3200AA-SE1-11
2x8GB 1Rx8 PC4-2400T-SA1-11
8GB 1Rx8 PC4-2400T-TA1-11
8GB 1Rx8 PC4-2400T-UA2-11`
	ddr3Sticks = `4GB 1Rx8 PC3L-12800S-11-13-B4
4GB 1Rx8 PC3-12800S-11-13-B4
8GB 2Rx8 PC3L-12800S-11-13-F3
8GB 1Rx8 PC3L-12800S-11-13-B4
2GB 1Rx16 PC3-10600S-9-10-A1
16GB 2Rx8 PC3L-12800S-11-13-F3
4GB DDR3 SO-DIMM
8GB DDR3L-1866 SO-DIMM
2x4GB 1Rx8 PC3L-12800S-11-13-B4
4GB 2Rx8 PC3L-8500S-7-10-F2`
	ddr5Sticks = `16GB 1Rx8 PC5-4800B-UA0-1010-XT
32GB 2Rx8 PC5-5600B-UB0-1010-XT
24GB 1Rx8 PC5-5600B-UA0-1010-XT
8GB 1Rx16 PC5-4800B-UC0-1010-XT
48GB 2Rx8 PC5-5600B-UB0-1010-XT
16GB 1Rx8 PC5-6400B-CA0-1010-XT
16GB DDR5-5600 UDIMM
2x16GB 1Rx8 PC5-5600B-UA0-1010-XT
16GB 1Rx8 PC5-4800B-EA0-1010-XT
16GB 2Rx8 PC4-3200AA-UB1-11`
)

// matrix are the machines, each a change of one whose every figure is known.
func matrix() (list []struct {
	name, sticks string
	in           rig
}) {
	add := func(name, sticks string, in rig) {
		list = append(list, struct {
			name, sticks string
			in           rig
		}{name, sticks, in})
	}
	from := func(r rig, figures ...string) rig { // pairs: old, new
		return r.With(func(r *rig) { r.Takes = strings.NewReplacer(figures...).Replace(r.Takes) })
	}
	const system = "machine: {system: Windows 10 Pro 64-bit}\n"
	board := func(r rig, text string) rig { return r.With(func(r *rig) { r.Board = text }) }
	add("a desktop of which everything is known", ddr4Sticks, desktop())
	for _, f := range []string{"rate: 2400, ", "rate_dual_rank: 2400, ", "rate_two_modules: 2133, ",
		"rate_two_dual_rank: 1866, ",
		"maximum: 64GB, ", "largest_die: 8Gbit, ", "x16: yes, ", "ecc: none, ", "channels: 2, slots_per_channel: 2, "} {
		add("without "+strings.TrimSuffix(f, ", "), ddr4Some, from(desktop(), f, ""))
	}
	for _, p := range [][2]string{{"maximum: 64GB", "maximum: 16GB"}, {"maximum: 64GB", "maximum: 24GB"},
		{"maximum: 64GB", "maximum: 12GB"},
		{"ecc: none", "ecc: udimm"}, {"ecc: none", "ecc: [udimm, rdimm]"}, {"ecc: none", "ecc: udimm, ecc_if: board"},
		{"x16: yes", "x16: no"}, {"x4: no", "x4: yes"}, {"largest_die: 8Gbit", "largest_die: 16Gbit"},
		{"largest_die: 8Gbit", "largest_die: 4Gbit"}, {"rate: 2400, rate_dual_rank: 2400",
			"rate: 3200, rate_dual_rank: 2933"},
		{"channels: 2, slots_per_channel: 2", "channels: 2, slots_per_channel: 1"},
		{"channels: 2, slots_per_channel: 2", "channels: 1, slots_per_channel: 4"}} {
		add(p[1], ddr4Some, from(desktop(), p[0], p[1]))
	}
	for _, text := range []string{"maximum: 32GB", "per_slot: 8GB", "per_slot: 16GB, maximum: 64GB", "ecc: none",
		"ecc: udimm",
		"slots: [{name: A1, order: 1}, {name: B1, order: 2}, {name: A2, order: 3}, {name: B2, order: 4}]",
		"slots: [{name: A1, channel: A, maximum: 8GB}, {name: A2, channel: A, maximum: 4GB}, {name: B1, channel: B}, " +
			"{name: B2, channel: B}]",
		"rates: [{modules_per_channel: 1, rate: 2133}, {modules_per_channel: 2, rate: 1600}]",
		"rates: [{modules_per_channel: 1, ranks: 2, rate: 2133}]",
		"ran: [{total: 64GB, largest_module: 16GB, times: 2}]", "ran: [{total: 128GB, largest_module: 32GB, rate: 2666}]",
		"profiles: yes", "profiles: no", "largest_die: 16Gbit", "volts: 1.2", "generations: [DDR4]"} {
		add("the board says "+text, ddr4Some, board(desktop(), text))
	}
	add("the chipset lets profiles be selected", ddr4Some, desktop().With(func(r *rig) { r.Chipset = "profiles: yes" }))
	add("the chipset caps the rate", ddr4Some, desktop().With(func(r *rig) { r.Chipset = "rate_cap: 2133" }))
	add("the chipset takes DDR3", ddr4Some, desktop().With(func(r *rig) { r.Chipset = "generations: [DDR3]" }))
	add("nobody looked inside", ddr4Some, desktop().With(func(r *rig) { r.Hand = "" }))
	add("a processor that nobody knows", ddr4Some, desktop().With(func(r *rig) { r.Takes = "" }))
	add(
		"the first module has an EEPROM", ddr4Some, desktop().With(func(r *rig) { r.EEPROMs = [][]byte{eepromOf(8192)} }),
	)
	add("a system of 32 bits", ddr4Some, desktop().With(func(r *rig) {
		r.Hand = strings.Replace(r.Hand, "Windows 10 Pro 64-bit", "Windows 10 Pro 32-bit", 1)
	}))
	add("a home edition of an old system", ddr4Some, desktop().With(func(r *rig) {
		r.Hand = strings.Replace(r.Hand, "Windows 10 Pro 64-bit", "Windows 7 Home Basic 64-bit", 1)
	}))
	add("two alike", ddr4Some, desktop().With(func(r *rig) {
		r.Places[2] = "B1 B 8192 2400"
		r.Hand = strings.Replace(r.Hand, "B1, attach: socket, takes: DIMM",
			"B1, attach: socket, takes: DIMM, holds: "+label, 1)
	}))
	add("two unlike on one channel", ddr4Some, desktop().With(func(r *rig) {
		r.Places[1] = "A2 A 4096 2133"
		r.Hand = strings.Replace(r.Hand, "A2, attach: socket, takes: DIMM",
			"A2, attach: socket, takes: DIMM, holds: 4GB 1Rx16 PC4-2133P-UC0-10", 1)
	}))
	// Limits that what is fitted contradicts.
	wide := desktop().With(func(r *rig) { r.Hand = strings.Replace(r.Hand, label, "8GB 1Rx16 PC4-2400T-UC0-10", 1) })
	for _, p := range [][2]string{{"x16: yes", "x16: no"}, {"maximum: 64GB", "maximum: 4GB"},
		{"largest_die: 8Gbit", "largest_die: 4Gbit"}, {"rate: 2400, rate_dual_rank: 2400",
			"rate: 2133, rate_dual_rank: 2133"},
		{"ecc: none", "ecc: rdimm"}} {
		add("x16 chips are fitted, and the processor says "+p[1], ddr4Some, from(wide, p[0], p[1]))
	}
	add("nobody names the channels", ddr4Some, desktop().With(func(r *rig) {
		r.Takes = strings.Replace(r.Takes, "channels: 2, slots_per_channel: 2, ", "", 1)
		r.Places = []string{"SLOT1 ? 8192 2400", "SLOT2 ? 0 0", "SLOT3 ? 0 0", "SLOT4 ? 0 0"}
		r.Hand = system
	}))
	add("nothing in it", ddr4Some, desktop().With(func(r *rig) {
		r.Places[0], r.Hand = "A1 A 0 0", strings.Replace(r.Hand, ", holds: 8GB 1Rx8 PC4-2400T-UA2-11", "", 1)
	}))
	add("eight sockets on four channels", ddr4Some, eightSockets())
	for times := range 3 {
		add(fmt.Sprint("earlier jobs came to 64 GB, ", times+1), ddr4Some, from(held(times+1, 64), "maximum: 64GB",
			"maximum: 32GB"))
	}
	add("an earlier job failed at 24 GB", ddr4Some, held(1, 16).With(failedAt(24)))
	add("earlier jobs at a rate", ddr4Some, desktop().With(func(r *rig) {
		x, _ := jedec.GradeAt(jedec.DDR4, 2666)
		r.Past.Ran = []catalogue.Ran{{Total: maybe.Just(32 * jedec.GiB), Each: maybe.Just(16 * jedec.GiB),
			Rate: maybe.Just(x.Rate), Times: 2}}
	}))
	laptop := rig{Takes: "generation: DDR4, " + full, Places: []string{"ONBOARD A 4096 2400", "SLOT B 0 0"}, Type: 0x1A,
		Form:    0x0D,
		Chassis: 0x0A, Hand: system + "places: [{name: ONBOARD, attach: soldered}, " +
			"{name: SLOT, attach: socket, takes: SO-DIMM}]\n"}
	add("a notebook with soldered memory and a slot", so4Sticks, laptop)
	add("the same, nobody looked", so4Sticks, laptop.With(func(r *rig) { r.Hand = system }))
	add("the same, the firmware calls them rows of chips", so4Sticks, laptop.With(func(r *rig) {
		r.Hand,
			r.Form = system, 0x0B
	}))
	add("the same, with a board's entry", so4Sticks, board(laptop, "maximum: 20GB, per_slot: 16GB, "+
		"soldered: [{name: ONBOARD, channel: A, size: 4GB}], slots: [{name: SLOT, channel: B}]"))
	two := laptop.With(func(r *rig) {
		r.Places = []string{"TOP A 8192 2400", "BOTTOM B 4096 2133"}
		r.Hand = system + "places: [{name: TOP, attach: socket, takes: SO-DIMM, holds: 8GB 1Rx8 " +
			"PC4-2400T-SA1-11}, {name: BOTTOM, attach: " +
			"socket, takes: SO-DIMM, holds: 4GB 1Rx16 PC4-2133P-SC0-10}]\n"
	})
	add("a notebook with two unlike", so4Sticks, two)
	add("the same, a processor that nobody knows", so4Sticks, two.With(func(r *rig) { r.Takes = "" }))
	add("the same, nobody looked inside", so4Sticks, two.With(func(r *rig) { r.Hand = system }))
	ddr3 := rig{Takes: "generation: DDR3, channels: 2, slots_per_channel: 2, rate: 1600, rate_two_modules: 1600, " +
		"maximum: 32GB, largest_die: 4Gbit, x4: no, x16: yes, ecc: none, volts: 1.35",
		Places: []string{"A1 A 4096 1600", "B1 B 0 0"}, Type: 0x18, Form: 0x0D, Chassis: 0x0A,
		Hand: system + "places: [{name: A1, attach: socket, takes: SO-DIMM, holds: 4GB 1Rx8 " +
			"PC3L-12800S-11-13-B4}, {name: B1, " +
			"attach: socket, takes: SO-DIMM}]\n"}
	add("DDR3 at 1.35 V", ddr3Sticks, ddr3)
	add("DDR3 at 1.5 V", ddr3Sticks, from(ddr3, "volts: 1.35", "volts: 1.5"))
	add("DDR3 at either", ddr3Sticks, from(ddr3, "volts: 1.35", "volts: [1.35, 1.5]"))
	add("DDR3, nobody states the supply", ddr3Sticks, from(ddr3, ", volts: 1.35", ""))
	add("DDR3, nobody looked", ddr3Sticks, ddr3.With(func(r *rig) { r.Hand = system }))
	add("DDR3, the die that commonly runs", ddr3Sticks, from(ddr3, "largest_die: 4Gbit",
		"largest_die: 4Gbit, die_that_runs: 8Gbit"))
	ddr5 := rig{Takes: "generation: DDR5, channels: 2, slots_per_channel: 2, rate: 5600, rate_dual_rank: 5600, " +
		"rate_without_clock_driver: 5600, rate_two_modules: 4400, maximum: 192GB, largest_die: 24Gbit, " +
		"x4: no, x16: yes, ecc: none, " +
		"volts: 1.1", Places: []string{"A1 A 16384 4800", "B1 B 0 0"}, Type: 0x22, Form: 0x09, Chassis: 0x03,
		Hand: "machine: {system: Windows 11 Pro 64-bit}\nplaces: [{name: A1, attach: socket, takes: DIMM, holds: 16GB " +
			"1Rx8 PC5-4800B-UA0-1010-XT}, {name: B1, attach: socket, takes: DIMM}]\n"}
	add("DDR5", ddr5Sticks, ddr5)
	add("DDR5, dies of 16 Gbit", ddr5Sticks, from(ddr5, "24Gbit", "16Gbit"))
	add("DDR5, faster with a clock driver", ddr5Sticks, from(ddr5, "rate: 5600", "rate: 6400"))
	add(
		"DDR5, one of two slots", ddr5Sticks, from(ddr5, "rate_two_modules", "rate_of_two_slots: 5200, rate_two_modules"),
	)
	for _, word := range []string{"yes", "no"} {
		add("DDR5, clock drivers: "+word, ddr5Sticks, board(ddr5, "clock_drivers: "+word))
	}
	return list
}

// themes are the pages of the matrix, each with how the names of its machines begin; the rest is on the last one.
var themes = []struct{ page, starts string }{{"board", "the board says"}, {"notebook", "a notebook,the same"},
	{"ddr3", "DDR3"}, {"ddr5", "DDR5"}, {"fitted", "two ,x16 chips,nobody,nothing,eight,the first,earlier,an earlier"},
	{"unsaid", "without"}, {"desktop", ""}}

// onPages lays the matrix out by theme, a section for each machine.
func onPages(t *testing.T, folder string, section func(name, sticks string, in rig) []string) {
	pages := make([]golden.Page, len(themes))
	for _, m := range matrix() {
		at := slices.IndexFunc(themes, func(x struct{ page, starts string }) bool {
			return slices.ContainsFunc(
				strings.Split(x.starts, ","),
				func(s string) bool { return strings.HasPrefix(m.name, s) },
			)
		})
		pages[at].Add(m.name, section(m.name, m.sticks, m.in)...)
	}
	for i := range pages {
		pages[i].Compare(t, "testdata/"+folder+"/"+themes[i].page+".txt")
	}
}

// Every machine with every set of sticks, a line each: the verdict, what it comes to, and each rule that says more
// than that all is well.
func TestMatrix(t *testing.T) {
	onPages(t, "matrix", func(name, list string, in rig) (lines []string) {
		at, limits := in.Machine(t)
		for line := range strings.SplitSeq(list, "\n") {
			var set []module.Module
			for text := range strings.SplitSeq(line, " + ") {
				set = append(set, sticks(t, text)...)
			}
			got, err := Run(at, limits, Plan{Sticks: set})
			if err != nil {
				lines = append(lines, fmt.Sprintf("%s: %v", line, err))
				continue
			}
			lines = append(lines, fmt.Sprintf("%s: %v: %s", line, got.Verdict, inShort(got)))
		}
		return lines
	})
}

// inShort is a trial in a line: the total, how it runs, where that is not sure the worst, and the rules by their ids.
func inShort(t Trial) string {
	s := fmt.Sprint(t.Total)
	for i, x := range []maybe.Value[Point]{t.Operating, t.Worst, t.WithProfile} {
		if p, ok := x.Get(); ok {
			s += fmt.Sprintf("; %s%d CL%v, %v even", []string{"", "at worst ", "profile "}[i], p.Grade.Rate, p.Timing.CL,
				p.Interleaved)
		}
	}
	for _, r := range t.Reasons {
		if r.Outcome != rule.OK {
			s += fmt.Sprintf("; %s %v", r.Rule, r.Outcome)
		}
		if len(r.Inferred) > 0 {
			s += fmt.Sprintf("; %s by %s", r.Rule, strings.Join(r.Inferred, " "))
		}
	}
	return s
}

// Some upgrades in full: each sentence, its source, what it depends on, and what bound each figure.
func TestUpgradesInFull(t *testing.T) {
	var page golden.Page
	var sections [][2]string
	all := matrix()
	for name, line := range map[string]string{
		"a desktop of which everything is known": "16GB 2Rx8 PC4-3200AA-UB1-11",
		"without largest_die: 8Gbit":             "16GB DDR4-2666 UDIMM",
		"maximum: 16GB":                          "16GB 2Rx8 PC4-3200AA-UB1-11", "ecc: udimm": "8GB 1Rx8 PC4-2400T-EA1-11",
		"the board says per_slot: 8GB": "16GB 2Rx4 PC4-2400T-RA1-11", "two unlike on one channel": "8GB UDIMM",
		"the chipset lets profiles be selected":           "2x8GB DDR4-3600 CL18 1Rx8 UDIMM 1.35V",
		"a notebook with soldered memory and a slot":      "16GB 2Rx8 PC4-3200AA-SE1-11",
		"the same, the firmware calls them rows of chips": "8GB 1Rx8 PC4-2400T-SA1-11",
		"DDR3 at 1.35 V":                                       "4GB 1Rx8 PC3-12800S-11-13-B4",
		"DDR3, the die that commonly runs":                     "16GB 2Rx8 PC3L-12800S-11-13-F3",
		"DDR5, faster with a clock driver":                     "16GB 1Rx8 PC5-6400B-CA0-1010-XT",
		"eight sockets on four channels":                       "2x8GB 1Rx8 PC4-2400T-UA2-11",
		"a system of 32 bits":                                  "8GB 1Rx8 PC4-2400T-UA2-11",
		"x16 chips are fitted, and the processor says x16: no": "4GB 1Rx16 PC4-2133P-UC0-10",
	} {
		at := slices.IndexFunc(all, func(m struct {
			name, sticks string
			in           rig
		}) bool {
			return m.name == name
		})
		require.GreaterOrEqual(t, at, 0, name)
		m, l := all[at].in.Machine(t)
		got, err := Run(m, l, Plan{Sticks: sticks(t, line)})
		if err != nil {
			sections = append(sections, [2]string{name + ", " + line, err.Error()})
			continue
		}
		sections = append(sections, [2]string{fmt.Sprintf("%s, %s: %v", name, line, got.Verdict), told(got)})
	}
	slices.SortFunc(sections, func(a, b [2]string) int { return strings.Compare(a[0], b[0]) })
	for _, s := range sections {
		page.Add(s[0], strings.TrimSuffix(s[1], "\n"))
	}
	page.Compare(t, "testdata/in-full.txt")
}

// told is what a trial says, in short.
func told(t Trial) string {
	var b strings.Builder
	seats := make([]string, len(t.Seats))
	for i, s := range t.Seats {
		seats[i] = s.Place
		if s.New {
			seats[i] += "*"
		}
	}
	fmt.Fprintf(&b, "  %v of %s", t.Total, strings.Join(seats, " "))
	for _, x := range []struct {
		name  string
		point maybe.Value[Point]
	}{{"runs", t.Operating}, {"at worst", t.Worst}, {"with its profile", t.WithProfile}} {
		if p, ok := x.point.Get(); ok {
			fmt.Fprintf(&b, "; %s %s", x.name, pointed(p))
		}
	}
	if t.Why != "" {
		fmt.Fprintf(&b, "; %s", t.Why)
	}
	if gains := t.Gains(); len(gains) > 0 {
		fmt.Fprintf(&b, "; gains %s", strings.Join(gains, ", "))
	}
	b.WriteString("\n")
	for _, r := range t.Reasons {
		if r.Outcome == rule.OK && len(r.Inferred) == 0 {
			continue
		}
		fmt.Fprintf(&b, "  %s: %v: %s (%s)", r.Rule, r.Outcome, r.Says, r.Source)
		for _, d := range r.Depends {
			fmt.Fprintf(&b, " [%s: %s]", d.Fact, d.Leans)
		}
		if len(r.Inferred) > 0 {
			fmt.Fprintf(&b, " {%s}", strings.Join(r.Inferred, " "))
		}
		b.WriteString("\n")
	}
	return b.String()
}

func pointed(p Point) string {
	s := fmt.Sprintf("%v %v %v", p.Grade, p.Timing, p.Latency)
	if v, ok := p.MilliVolts.Get(); ok {
		s += fmt.Sprintf(" %d mV", v)
	}
	for _, c := range p.Channels {
		s += fmt.Sprintf(" %s=%v", c.Channel, c.Capacity)
	}
	s += fmt.Sprintf(", %v of %v interleaved, %d MB/s", p.Interleaved, p.Total, p.Bandwidth)
	for _, x := range p.BoundBy {
		s += fmt.Sprintf(", %s by %s", x.Figure, x.By)
	}
	return s
}

// Every machine's limits: who sets each, which one binds, what may be reached, and what is answered when somebody asks.
func TestLimitsOfTheMatrix(t *testing.T) {
	effort.NotShort(t)
	onPages(t, "limits", func(name, list string, in rig) []string {
		_, l := in.Machine(t)
		return limited(l)
	})
}

// limited is what is said of a machine's limits: a line for each thing, with its sources ("[" where it binds, "(" where
// it is softer), then what is answered of rates.
func limited(l ceiling.Limits) (lines []string) {
	var what []ceiling.What
	by := make(map[ceiling.What][]string)
	for _, c := range l.Ceilings {
		text := fmt.Sprint(c.Source)
		if p, ok := c.For.Get(); ok {
			if c.Source == ceiling.Standard || p.Modules > 1 && p.Ranks.Or(1) > 1 {
				continue
			}
			text += " " + populated(p)
		}
		if n, ok := c.Most.Get(); ok {
			text += fmt.Sprintf(" %v", n)
		}
		if n, ok := c.Least.Get(); ok {
			text += fmt.Sprintf(" at least %v", n)
		}
		if set, ok := c.Allowed.Get(); ok {
			text += fmt.Sprintf(" %v", set.Words)
		}
		if c.Standing != fact.Settled {
			text += fmt.Sprint(" ", c.Standing)
		}
		if c.Binding {
			text = "[" + text + "]"
		}
		if c.Softer {
			text = "(" + text + ")"
		}
		if by[c.What] == nil {
			what = append(what, c.What)
		}
		by[c.What] = append(by[c.What], text)
	}
	for _, w := range what {
		if len(by[w]) == 1 && !strings.Contains(by[w][0], "leaning") {
			continue // the system's, the standard's alone
		}
		lines = append(lines, fmt.Sprintf("%v: %s", w, strings.Join(by[w], ", ")))
	}
	asked := ""
	for _, rate := range []jedec.Rate{1866, 2400, 3200} {
		asked += fmt.Sprintf("; %d %s", rate, answered(l.ForRate(rate, l.Populations()[0])))
	}
	return append(lines, strings.TrimPrefix(asked, "; "))
}

func populated(p catalogue.Population) string {
	s := fmt.Sprintf("%d×%dR", p.Modules, p.Ranks.Or(0))
	if n, ok := p.Slots.Get(); ok {
		s += fmt.Sprintf(" of %d slots", n)
	}
	if p.Clocked {
		s += " with clock drivers"
	}
	return s
}

func answered(a ceiling.Answer) string {
	switch {
	case a.Yes && a.Softly:
		return "likely"
	case a.Yes:
		return "yes"
	case a.No && a.Softly:
		return "likely not"
	case a.No:
		return "no"
	default:
		return "?"
	}
}

// Every system by its name, with its edition, and with its width or not: how much memory it uses.
func TestEverySystem(t *testing.T) {
	effort.NotShort(t)
	var page golden.Page
	seen := make(map[string]bool)
	for _, s := range catalogue.Systems() {
		for _, name := range []string{s.OS, s.OS + " " + s.Edition, s.Name()} {
			if name = strings.TrimSpace(name); seen[name] {
				continue
			}
			seen[name] = true
			var uses []string
			for _, width := range []string{"", " 32-bit", " 64-bit"} {
				_, l := desktop().With(func(r *rig) { r.Hand = "machine: {system: " + name + width + "}\n" }).Machine(t)
				text := "-"
				for _, c := range l.On(ceiling.OSCapacity) {
					text = fmt.Sprintf("%v %v", c.Most.Or(ceiling.Amount{}), c.Standing)
					if n, ok := c.Least.Get(); ok {
						text += fmt.Sprintf(" (at least %v)", n)
					}
				}
				uses = append(uses, text)
			}
			page.Add(name + ": " + strings.Join(uses, "; "))
		}
	}
	page.Compare(t, "testdata/systems.txt")
}
