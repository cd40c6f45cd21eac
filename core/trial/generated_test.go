package trial

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/golden"
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
	out := rig{typ: c.typ, form: c.form, chassis: byte([]int{3, 3, 10, 13, 2}[r.IntN(5)]),
		eeprom: c.typ == 0x1A && r.IntN(6) == 0}
	var parts []string
	for _, figure := range append(c.figures, []string{"maximum: 32GB", "maximum: 64GB", "maximum: 16GB", ""},
		[]string{"channels: 2, slots_per_channel: 2", "channels: 2, slots_per_channel: 1", "channels: 1", ""}) {
		if text := of(figure...); text != "" {
			parts = append(parts, text)
		}
	}
	if r.IntN(6) > 0 {
		out.takes = strings.Join(parts, ", ")
		if r.IntN(5) == 0 {
			out.takes += "}, {" + of("generation: DDR4, rate: 3200", "generation: DDR3, rate: 1600, maximum: 16GB")
		}
	}
	places := 2 + r.IntN(3)
	if r.IntN(3) == 0 {
		out.board = of("maximum: 32GB", "per_slot: 8GB", "per_slot: 16GB, maximum: 48GB", "ecc: udimm", "largest_die: 16Gbit",
			"profiles: yes", "profiles: no, maximum: 24GB", "clock_drivers: yes", "takes: "+c.takes,
			"slots: [{name: A1, channel: A, order: 2, maximum: 8GB}, {name: B1, channel: B, order: 1}, {name: A2, channel: A}, "+
				"{name: B2, channel: B}]",
			"rates: [{modules_per_channel: 1, rate: 2133}, {modules_per_channel: 2, ranks: 2, rate: 1600}]",
			"ran: [{total: 32GB, largest_module: 16GB, times: 2}]", "ran: [{total: 64GB, rate: 2666}], maximum: 32GB")
	}
	if r.IntN(3) == 0 {
		out.chipset = of("profiles: yes", "profiles: no", "rate_cap: 2133", "slots_per_channel: 1", "ecc: udimm",
			"generations: [DDR4]", "profiles: yes}, {name: X48, pci_ids: 'fafa:0c47', basis: sheet, profiles: no",
			"slots_per_channel: 1}, {name: X47, pci_ids: 'fafa:0c48', basis: sheet, slots_per_channel: 1, rate_cap: 2400")
	}
	for range r.IntN(8) / 3 {
		ran := catalogue.Ran{Total: maybe.Just(jedec.Capacity(8<<r.IntN(4)) * jedec.GiB), Times: 1 + r.IntN(3),
			When: of("", "2026-10-02")}
		if r.IntN(2) == 0 {
			ran.Each = maybe.Just(jedec.Capacity(4<<r.IntN(4)) * jedec.GiB)
		}
		out.past.Ran = append(out.past.Ran, ran)
		out.past.Jobs = append(out.past.Jobs, fmt.Sprint("2026-0", len(out.past.Jobs)))
	}
	for range r.IntN(8) / 4 {
		out.past.Failed = append(out.past.Failed, catalogue.Failure{Modules: "1 × 8 GB", Says: "8 GB were found",
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
		out.places = append(out.places, fmt.Sprint(name, " ", channel, " ", mib, " ", rate))
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
	out.hand = hand
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

// Machines and upgrades by chance: what limits each, and what each trial comes to.
func TestMachinesByChance(t *testing.T) {
	var page golden.Page
	r := rand.New(rand.NewPCG(23, 1))
	for n := range 160 {
		c := chances[n%len(chances)]
		in := dealtRig(r, c)
		m, l := in.machine(t)
		page.Add(fmt.Sprintf("%d: %s; %s; %s; %v", n+1, in.takes, in.board, in.chipset, in.places), limited(l))
		for range 5 {
			plan, says := dealtPlan(t, r, c, m)
			got, err := Run(m, l, plan)
			if err != nil {
				page.Add(fmt.Sprintf("%d, %s: %v", n+1, says, err), nil)
				continue
			}
			page.Add(fmt.Sprintf("%d, %s: %v", n+1, says, got.Verdict), strings.Split(strings.TrimSpace(told(got)), "\n"))
		}
	}
	page.Compare(t, "testdata/generated.txt")
}

// Sets of sticks by chance, side by side and without a machine: what belongs together, and how it runs.
func TestSetsByChance(t *testing.T) {
	var page golden.Page
	r := rand.New(rand.NewPCG(23, 2))
	for n := range 200 {
		var texts []string
		var set []module.Module
		c := chances[n%len(chances)]
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
		page.Add(fmt.Sprintf("%s at %v: %v", strings.Join(texts, "; "), rates, m.Verdict), lines)
	}
	page.Compare(t, "testdata/sets.txt")
}
