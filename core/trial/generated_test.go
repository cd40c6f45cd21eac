package trial

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/rule"
	"epitome/golden"
	"epitome/truth/effort"
)

// chance is what a machine by chance is made of, for one generation and form.
type chance struct {
	typ, form byte
	takes     string // DIMM or SO-DIMM
	figures   [][]string
	sticks    []string
	fitted    []string // as holds: says it
	rates     []uint16
}

var chances = []chance{
	{typ: 0x1A, form: 0x09, takes: "DIMM", rates: []uint16{0, 2133, 2400, 2666, 3600},
		figures: [][]string{{"generation: DDR4"},
			{"rate: 2400, rate_dual_rank: 2133", "rate: 3200", "rate: 2666, rate_two_modules: 2400", ""},
			{"largest_die: 8Gbit", "largest_die: 16Gbit", "largest_die: 8Gbit, die_that_runs: 16Gbit", ""},
			{"ecc: none", "ecc: udimm", "ecc: [udimm, rdimm]", "ecc: rdimm", ""},
			{"x16: yes", "x16: no", ""}, {"x4: no", "x4: yes", ""}, {"volts: 1.2", ""}},
		sticks: strings.Split(strings.TrimSuffix(ddr4Sticks, "\n8GB UDIMM")+`
16GB DDR4-3200 CL16 UDIMM 1.35V
8GB DDR4
16GB DDR4 ECC
8GB 2Rx8 DDR4-2400 UDIMM
64GB 4Rx4 PC4-2400T-LA1-11
8GB 1Rx4 PC4-2133P-RC0-10
8GB DDR4-2400 desktop memory
8GB DDR4-2400 laptop
16GB DDR4-2400 server`, "\n"),
		fitted: []string{label, "16GB 2Rx8 PC4-3200AA-UB1-11", "4GB 1Rx16 PC4-2133P-UC0-10", "8GB DDR4-2400 UDIMM",
			"8GB 1Rx8 PC4-2400T-EA1-11", "16GB 2Rx4 PC4-2400T-RA1-11", "8GB DDR4-3600 CL18 1Rx8 UDIMM 1.35V"}},
	{typ: 0x18, form: 0x0D, takes: "SO-DIMM", rates: []uint16{0, 1066, 1333, 1600},
		figures: [][]string{{"generation: DDR3"},
			{"rate: 1600, rate_two_modules: 1333", "rate: 1333", "rate: 1866", ""},
			{"largest_die: 4Gbit", "largest_die: 4Gbit, die_that_runs: 8Gbit", "largest_die: 2Gbit", ""},
			{"ecc: none", "ecc: so-dimm-ecc", ""}, {"x16: yes", "x16: no", ""}, {"x4: no", ""},
			{"volts: 1.35", "volts: 1.5", "volts: [1.35, 1.5]", ""}},
		sticks: strings.Split(ddr3Sticks+`
8GB 1Rx8 PC4-2400T-SA1-11
8GB DDR3 SO-DIMM 1.5V
4GB PC3-12800
8GB SO-DIMM
4GB DDR3L-1600 laptop
4GB DDR3-1600 desktop`, "\n"),
		fitted: []string{"4GB 1Rx8 PC3L-12800S-11-13-B4", "4GB 1Rx8 PC3-12800S-11-13-B4", "2GB 1Rx16 PC3-10600S-9-10-A1",
			"8GB 2Rx8 PC3L-12800S-11-13-F3", "4GB DDR3 SO-DIMM"}},
	{typ: 0x22, form: 0x09, takes: "DIMM", rates: []uint16{0, 4400, 4800, 5600, 6000},
		figures: [][]string{{"generation: DDR5"},
			{"rate: 5600, rate_two_modules: 4400", "rate: 6400, rate_without_clock_driver: 5600", "rate: 4800", ""},
			{"largest_die: 24Gbit", "largest_die: 16Gbit", ""}, {"ecc: none", "ecc: udimm", ""}, {"x16: yes", "x16: no", ""},
			{"rate_of_two_slots: 5200", "rate_dual_rank: 5200", ""}, {"volts: 1.1", ""}},
		sticks: strings.Split(ddr5Sticks+`
2x16GB DDR5-6000 CL30 UDIMM 1.35V
16GB DDR5
32GB DDR5-6400 CUDIMM`, "\n"),
		fitted: []string{"16GB 1Rx8 PC5-4800B-UA0-1010-XT", "8GB 1Rx16 PC5-4800B-UC0-1010-XT", "16GB DDR5-5600 UDIMM",
			"16GB DDR5-6000 CL36 1Rx8 UDIMM 1.35V"}},
}

// dealtRig is a machine by chance: each figure stated or not, by one source or by several that may differ.
func dealtRig(r *rand.Rand, c chance) rig {
	of := func(list ...string) string { return list[r.IntN(len(list))] }
	out := rig{Type: c.typ, Form: c.form, Chassis: byte([]int{3, 3, 10, 13, 2}[r.IntN(5)])}
	if c.typ == 0x1A && r.IntN(6) == 0 {
		out.EEPROMs = [][]byte{eepromOf(8192)}
	}
	var parts []string
	for _, figure := range append(c.figures, []string{"maximum: 32GB", "maximum: 64GB", "maximum: 16GB", ""},
		[]string{"channels: 2, slots_per_channel: 2", "channels: 2, slots_per_channel: 1", "channels: 1", ""}) {
		if text := of(figure...); text != "" {
			parts = append(parts, text)
		}
	}
	if r.IntN(6) > 0 {
		out.Takes = strings.Join(parts, ", ")
		if r.IntN(5) == 0 {
			out.Takes += "}, {" + of("generation: DDR4, rate: 3200", "generation: DDR3, rate: 1600, maximum: 16GB")
		}
	}
	places := 2 + r.IntN(3)
	if r.IntN(3) == 0 {
		out.Board = of("maximum: 32GB", "per_slot: 8GB", "per_slot: 16GB, maximum: 48GB", "ecc: udimm", "largest_die: 16Gbit",
			"profiles: yes", "profiles: no, maximum: 24GB", "clock_drivers: yes", "takes: "+c.takes,
			"slots: [{name: A1, channel: A, order: 2, maximum: 8GB}, {name: B1, channel: B, order: 1}, {name: A2, channel: A}, "+
				"{name: B2, channel: B}]",
			"rates: [{modules_per_channel: 1, rate: 2133}, {modules_per_channel: 2, ranks: 2, rate: 1600}]",
			"ran: [{total: 32GB, largest_module: 16GB, times: 2}]", "ran: [{total: 64GB, rate: 2666}], maximum: 32GB")
	}
	if r.IntN(3) == 0 {
		out.Chipset = of("profiles: yes", "profiles: no", "rate_cap: 2133", "slots_per_channel: 1", "ecc: udimm",
			"generations: [DDR4]", "profiles: yes}, {name: X48, pci_ids: 'fafa:0c47', basis: sheet, profiles: no",
			"slots_per_channel: 1}, {name: X47, pci_ids: 'fafa:0c48', basis: sheet, slots_per_channel: 1, rate_cap: 2400")
	}
	for range r.IntN(8) / 3 {
		ran := catalogue.Ran{Total: maybe.Just(jedec.Capacity(8<<r.IntN(4)) * jedec.GiB), Times: 1 + r.IntN(3),
			When: of("", "2026-10-02")}
		if r.IntN(2) == 0 {
			ran.Each = maybe.Just(jedec.Capacity(4<<r.IntN(4)) * jedec.GiB)
		}
		out.Past.Ran = append(out.Past.Ran, ran)
		out.Past.Jobs = append(out.Past.Jobs, fmt.Sprint("2026-0", len(out.Past.Jobs)))
	}
	for range r.IntN(8) / 4 {
		out.Past.Failed = append(out.Past.Failed, catalogue.Failure{Modules: "1 × 8 GB", Says: "8 GB were found",
			Total: maybe.Just(jedec.Capacity(8<<r.IntN(4)) * jedec.GiB), Job: "2026-031", Faulty: r.IntN(3) == 0})
	}
	hand := "machine: {system: " + of("Windows 10 Pro 64-bit", "Windows 10 Pro 64-bit", "Windows 10 Pro 32-bit",
		"Windows 7 Home Basic 64-bit") + "}\n"
	var looked []string
	for i := range places {
		name := fmt.Sprint(of("A", "A", "A", "A", "A", "A", "P")[:1], 1+i/2)
		if i%2 == 1 {
			name = fmt.Sprint("B", 1+i/2)
		}
		mib, rate := []int{0, 0, 0, 4096, 8192, 16384}[r.IntN(6)], c.rates[r.IntN(len(c.rates))]
		channel := of("A", "A", "?")
		if i%2 == 1 {
			channel = of("B", "B", "?")
		}
		out.Places = append(out.Places, fmt.Sprint(name, " ", channel, " ", mib, " ", rate))
		if r.IntN(8) == 0 {
			continue // nobody looked at this one
		}
		says := "name: " + name
		if text := of("attach: socket", "attach: socket", "attach: socket", "attach: socket", "attach: socket",
			"attach: socket", "attach: soldered", ""); text != "" {
			says += ", " + text
		}
		if text := of("takes: "+c.takes, ""); text != "" && !strings.Contains(says, "soldered") {
			says += ", " + text
		}
		if mib > 0 && r.IntN(3) > 0 {
			says += ", holds: " + of(c.fitted...)
		} else if mib == 0 && r.IntN(3) == 0 {
			says += ", holds: " + of("free", "free", c.fitted[0])
		}
		looked = append(looked, "{"+says+"}")
	}
	if len(looked) > 0 && r.IntN(8) > 0 {
		hand += "places: [" + strings.Join(looked, ", ") + "]\n"
	}
	out.Hand = hand
	return out
}

// dealtPlan is an upgrade by chance: sticks to be placed, or put at a place, with or without others pulled, and with
// the profile selected or not.
func dealtPlan(t *testing.T, r *rand.Rand, c chance, m machine.Machine) (p Plan, says string) {
	t.Helper()
	var filled, all []string
	for _, p := range m.Places {
		if all = append(all, p.Name); p.Filled.Or(false) && p.Attach.Or("") == machine.Socket {
			filled = append(filled, p.Name)
		}
	}
	for range (1 + r.IntN(5)) / 2 {
		text := c.sticks[r.IntN(len(c.sticks))]
		if r.IntN(2) == 0 {
			text = c.fitted[r.IntN(len(c.fitted))]
		}
		var set []module.Module
		for one := range strings.SplitSeq(text, " + ") {
			set = append(set, sticks(t, one)...)
		}
		if place := all[r.IntN(len(all))]; r.IntN(6) == 0 {
			p.Put = append(p.Put, Put{Place: place, Stick: set[0]})
			says += place + " = " + text + "; "
			continue
		}
		p.Sticks = append(p.Sticks, set...)
		says += text + "; "
	}
	if r.IntN(5) == 0 {
		for _, seat := range Fitted(m) {
			if !seat.Soldered {
				p.Moved = append(p.Moved, Put{Place: seat.Place, Stick: seat.Stick})
				says += "free to move: " + seat.Place + "; "
			}
		}
	} else if len(filled) > 0 && r.IntN(2) == 0 {
		p.Pull = filled[:1+r.IntN(len(filled))]
		says += fmt.Sprint("pull ", p.Pull, "; ")
	}
	if r.IntN(5) == 0 {
		p.Profile = true
		says += "profile; "
	}
	return p, strings.TrimSuffix(says, "; ")
}

// byChance runs a check on upgrades of machines by chance, and says which it was where one fails.
func byChance(t *testing.T, seed uint64, machines int,
	check func(t *testing.T, r *rand.Rand, in rig, p Plan, got Trial)) {
	r := rand.New(rand.NewPCG(23, seed))
	tried := 0
	for n := range machines {
		c := chances[n%len(chances)]
		in := dealtRig(r, c)
		m, l := in.Machine(t)
		for i := range 5 {
			plan, says := dealtPlan(t, r, c, m)
			got, err := Run(m, l, plan)
			if err != nil {
				continue
			}
			tried++
			check(t, r, in, plan, got)
			if t.Failed() {
				t.Fatalf("upgrade %d of machine %d: %s\n%+v\n%s", i, n, says, in, told(got))
			}
		}
	}
	assert.Greater(t, tried, machines*2)
}

// A verdict is the worst of what the rules say; each rule that asks gives a reason, and what is open names what it
// depends on and the look that tells.
func TestChanceEachVerdictHasItsReasons(t *testing.T) {
	byChance(t, 1, effort.Cases(160), func(t *testing.T, _ *rand.Rand, _ rig, _ Plan, got Trial) {
		worst := rule.OK
		for _, x := range got.Reasons {
			worst = max(worst, x.Outcome)
			assert.NotEqual(t, rule.Unasked, x.Outcome, x.Rule)
			assert.False(t, x.Outcome != rule.OK && x.Says == "", x.Rule)
			assert.NotContains(t, x.Says, "  ", x.Rule)
			assert.NotContains(t, x.Says, "%!", x.Rule)
			assert.Equal(t, x.Outcome == rule.Likely || x.Outcome == rule.Unproven || x.Outcome == rule.Unlikely,
				len(x.Depends) > 0, "%s: %s", x.Rule, x.Says)
			leans := false
			for _, d := range x.Depends {
				assert.NotEmpty(t, d.Fact, x.Rule)
				leans = leans || d.Leans != ""
			}
			assert.True(t, x.Outcome != rule.Likely || leans, "%s: likely, and leans nowhere", x.Rule)
			if x.Outcome == rule.Unproven {
				assert.NotEmpty(t, x.Looks(), "%s: %s", x.Rule, x.Says)
			}
		}
		assert.Equal(t, rule.Verdict(worst), got.Verdict)
	})
}

// Figures add up: the total is what sits in the places, the even part is within it, channels hold all, and the
// operating point is one that every module is rated for, with a latency no shorter than the slowest needs.
func TestChanceFiguresAddUp(t *testing.T) {
	byChance(t, 2, effort.Cases(160), func(t *testing.T, _ *rand.Rand, _ rig, p Plan, got Trial) {
		total, names := jedec.Capacity(0), make(map[string]bool)
		for _, s := range got.Seats {
			total += s.Stick.Capacity.Or(0)
			assert.False(t, names[s.Place], "%s twice", s.Place)
			names[s.Place] = true
		}
		for _, free := range got.Free {
			assert.False(t, names[free], "%s is free and filled", free)
		}
		assert.Equal(t, total, got.Total)
		for _, put := range p.Put {
			assert.True(t, names[put.Place], put.Place)
		}
		for i, x := range []maybe.Value[Point]{got.Operating, got.Worst} {
			slower := i == 1
			point, ok := x.Get()
			if !ok {
				continue
			}
			for _, s := range got.Seats {
				if rated, ok := s.Stick.Grade().Get(); ok {
					assert.LessOrEqual(t, point.Grade.Rate, max(rated.Rate, map[bool]jedec.Rate{true: 99999}[point.Profile != ""]))
				}
				if taa, ok := s.Stick.Times.TAA.Get(); ok && point.Profile == "" && (slower || !got.Worst.Known()) { // the
					// standards' rounding forgives 2.5 %
					assert.GreaterOrEqual(t, point.Latency*1000, taa*975, s.Place)
				}
			}
			assert.Equal(t, point.Timing.CL.Time(point.Grade), point.Latency)
			assert.LessOrEqual(t, point.Interleaved, point.Total)
			held := jedec.Capacity(0)
			for _, c := range point.Channels {
				held += c.Capacity
			}
			if len(point.Channels) > 0 {
				assert.Equal(t, point.Total, held)
			}
			wide := 1
			if point.Interleaved > 0 {
				wide = point.Layers[0].Channels
			}
			assert.LessOrEqual(t, point.Bandwidth, (int(point.Grade.Rate)+1)*8*max(1, wide))
			assert.NotEmpty(t, point.By("rate_mts"))
		}
		if worst, ok := got.Worst.Get(); ok {
			if best, ok := got.Operating.Get(); ok {
				assert.True(t, worst.Grade.Rate < best.Grade.Rate || worst.Latency > best.Latency ||
					worst.Interleaved < best.Interleaved, "the worst is worse")
			}
		}
	})
}

// In which order sticks are named changes nothing; the places where they went, named one by one, come to the same.
func TestChanceOrderAndPlacesChangeNothing(t *testing.T) {
	byChance(t, 3, effort.Cases(120), func(t *testing.T, r *rand.Rand, in rig, p Plan, got Trial) {
		m, l := in.Machine(t)
		other := p
		other.Sticks = slices.Clone(p.Sticks)
		r.Shuffle(len(other.Sticks), func(i, j int) { other.Sticks[i], other.Sticks[j] = other.Sticks[j], other.Sticks[i] })
		again, err := Run(m, l, other)
		require.NoError(t, err)
		assert.Equal(t, got.Verdict, again.Verdict)
		assert.Equal(t, got.Total, again.Total)
		assert.Equal(t, maybe.Map(got.Operating, rateOf), maybe.Map(again.Operating, rateOf))
		if len(p.Moved) > 0 {
			return
		}
		named := Plan{Pull: p.Pull, Profile: p.Profile}
		for _, s := range got.Seats {
			if s.New {
				named.Put = append(named.Put, Put{Place: s.Place, Stick: s.Stick})
			}
		}
		if len(named.Put) != len(p.Sticks)+len(p.Put) {
			return
		}
		again, err = Run(m, l, named)
		require.NoError(t, err)
		assert.Equal(t, got.Verdict, again.Verdict)
		assert.Equal(t, maybe.Map(got.Operating, pointed), maybe.Map(again.Operating, pointed))
	})
}

func rateOf(p Point) jedec.Rate { return p.Grade.Rate }

// A stick of another generation, form or kind of buffering than a machine is known to take never runs; it is refused
// where that is settled.
func TestChanceWhatCanNotSitThereNeverRuns(t *testing.T) {
	foreign := map[string][]string{
		"DIMM":    {"4GB 1Rx8 PC3L-12800S-11-13-B4", "8GB 1Rx8 PC4-2400T-SA1-11", "16GB 1Rx8 PC5-4800B-SA0-1010-XT"},
		"SO-DIMM": {"4GB 1Rx8 PC3L-12800U-11-13-B4", "8GB 1Rx8 PC4-2400T-UA2-11", "16GB 1Rx8 PC5-4800B-UA0-1010-XT"}}
	r := rand.New(rand.NewPCG(23, 4))
	refused := 0
	for n := range effort.Cases(200) {
		c := chances[n%len(chances)]
		in := dealtRig(r, c)
		m, l := in.Machine(t)
		for _, text := range foreign[c.takes] {
			got, err := Run(m, l, Plan{Sticks: sticks(t, text)})
			if err != nil {
				continue
			}
			assert.Greater(t, got.Verdict, rule.RunsLess, "%s in %+v\n%s", text, in, told(got))
			if got.Verdict == rule.No {
				refused++
			}
		}
	}
	assert.Greater(t, refused, effort.Cases(200)/2)
}

// What a processor's row does not state never turns a "no" into a "works": with one figure less, what was refused is
// at best likely.
func TestChanceASilentRowNeverAllows(t *testing.T) {
	r := rand.New(rand.NewPCG(23, 5))
	seen := 0
	for n := range effort.Cases(150) {
		c := chances[n%len(chances)]
		in := dealtRig(r, c)
		m, l := in.Machine(t)
		figures := strings.Split(in.Takes, ", ")
		if len(figures) < 3 || strings.Contains(in.Takes, "}") || strings.Contains(in.Takes, "[") {
			continue
		}
		gone := 1 + r.IntN(len(figures)-1)
		less := in.With(func(x *rig) { x.Takes = strings.Join(slices.Delete(slices.Clone(figures), gone, gone+1), ", ") })
		m2, l2 := less.Machine(t)
		for range 4 {
			plan, says := dealtPlan(t, r, c, m)
			got, err := Run(m, l, plan)
			if err != nil || got.Verdict != rule.No {
				continue
			}
			if now, err := Run(m2, l2, plan); err == nil {
				seen++
				assert.NotEqual(t, rule.Works, now.Verdict, "without %s: %s\n%+v\n%s\n%s", figures[gone], says, in, told(got),
					told(now))
			}
		}
	}
	assert.Greater(t, seen, effort.Cases(150)/10-1)
}

// Sticks side by side, by chance: the order changes nothing, everything is sorted once, a group holds together, and
// none runs faster than its slowest.
func TestChanceSetsOfSticks(t *testing.T) {
	r := rand.New(rand.NewPCG(23, 2))
	for n := range effort.Cases(200) {
		var set []module.Module
		c := chances[n%len(chances)]
		var texts []string
		for range 1 + r.IntN(5) {
			if r.IntN(6) == 0 {
				c = chances[r.IntN(len(chances))]
			}
			text := append(slices.Clone(c.sticks), c.fitted...)[r.IntN(len(c.sticks)+len(c.fitted))]
			text, _, _ = strings.Cut(text, " + ")
			texts = append(texts, text)
			set = append(set, sticks(t, text)...)
		}
		var rates []jedec.Rate
		if r.IntN(4) == 0 {
			rates = []jedec.Rate{1600, 2133, 4800}[:1+r.IntN(3)]
		}
		m := Mix(set, rates)
		order := r.Perm(len(set))
		var shuffled []module.Module
		for _, i := range order {
			shuffled = append(shuffled, set[i])
		}
		again := Mix(shuffled, rates)
		says := strings.Join(texts, "; ")
		assert.Equal(t, m.Verdict, again.Verdict, says)
		assert.Equal(t, maybe.Map(m.Operating, rateOf), maybe.Map(again.Operating, rateOf), says)
		sorted := make(map[int]int)
		for _, i := range m.Unsorted {
			sorted[i]++
		}
		for _, g := range m.Groups {
			generation, total := set[g.Sticks[0]].Generation, jedec.Capacity(0)
			for _, i := range g.Sticks {
				sorted[i]++
				total += set[i].Capacity.Or(0)
				assert.Equal(t, generation.Or(0), set[i].Generation.Or(0), says)
				if p, ok := g.Operating.Get(); ok {
					assert.LessOrEqual(t, p.Grade.Rate, set[i].Grade().Or(jedec.Grade{}).Rate, says)
					if len(rates) > 0 {
						assert.Contains(t, rates, p.Grade.Rate, says)
					}
				}
			}
			assert.Equal(t, total, g.Total, says)
			assert.NotEqual(t, rule.No, g.Verdict, says)
		}
		for i := range set {
			assert.Equal(t, 1, sorted[i], "%s: stick %d is sorted once", says, i)
		}
		if m.Verdict == rule.No && len(set) > 1 {
			assert.False(t, m.Operating.Known(), says)
		}
	}
}

// Some sets of sticks in full.
func TestSetsInFull(t *testing.T) {
	var page golden.Page
	for _, texts := range [][]string{
		{"8GB 1Rx8 PC4-2400T-UA2-11", "8GB 1Rx8 PC4-2666V-UA2-11"},
		{"8GB 1Rx8 PC4-2400T-UA2-11", "16GB 2Rx4 PC4-2400T-RA1-11", "8GB 1Rx8 PC4-2400T-EA1-11"},
		{"4GB 1Rx8 PC3L-12800S-11-13-B4", "4GB 1Rx8 PC3-12800S-11-13-B4", "2GB 1Rx16 PC3-10600S-9-10-A1"},
		{"2x8GB DDR4-3600 CL18 1Rx8 UDIMM 1.35V"}, {"2x8GB DDR4-3600 CL18 1Rx8 UDIMM 1.35V", "8GB DDR4-2400 UDIMM"},
		{"16GB 1Rx8 PC5-4800B-UA0-1010-XT", "16GB 1Rx8 PC5-6400B-CA0-1010-XT"}, {"16GB DDR4", "8GB DDR4-2400 laptop"},
		{"8GB SO-DIMM", "4GB 1Rx8 PC3L-12800S-11-13-B4", "8GB 1Rx8 PC4-2400T-SA1-11"},
	} {
		m := Mix(sticks(t, texts...), nil)
		lines := []string{m.Why, fmt.Sprintf("not sorted: %v", m.Unsorted)}
		for _, x := range []maybe.Value[Point]{m.Operating, m.Worst} {
			lines = append(lines, maybe.Map(x, pointed).Or("no point"))
		}
		for _, g := range m.Groups {
			lines = append(lines, fmt.Sprintf("%v %s: %v, %v, %s", g.Sticks, g.Names, g.Total, g.Verdict,
				maybe.Map(g.Operating, pointed).Or("no point")))
		}
		for _, x := range m.Reasons {
			lines = append(lines, fmt.Sprintf("%s: %v: %s %v", x.Rule, x.Outcome, x.Says, x.Looks()))
		}
		page.Add(fmt.Sprintf("%s: %v", strings.Join(texts, "; "), m.Verdict), lines...)
	}
	page.Compare(t, "testdata/sets.txt")
}
