package ceiling_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/evidence"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/reading"
	"epitome/core/smbios/compose"
)

// A rig is a machine to be described by firmware tables and texts.
type rig struct {
	brand         string
	family, model int
	pci           string
	maximumMiB    uint32
	kind, form    byte
	sockets       []compose.Device
	system        string
	hand          string
	board         string
	released      string // its firmware
}

func (r rig) card() card.Card {
	id := compose.Identity{Maker: "Halyard", Product: "Gull 14", BoardMaker: "Groyne", Board: r.board, ChassisKind: 0x0A,
		FirmwareVersion: "1.04", FirmwareDate: r.released}
	s := append(id.Structures(), compose.Array(0x1000, uint64(r.maximumMiB)<<10, uint16(len(r.sockets))))
	for i, d := range r.sockets {
		d.Handle, d.Array, d.Form = uint16(i+1), 0x1000, r.form
		if d.MiB > 0 {
			d.Type = r.kind
		}
		s = append(s, d.Structure())
	}
	c := card.Card{Readings: []card.Reading{{Kind: card.Table, Source: "DMI", Data: compose.Table(s...)}}}
	if r.brand != "" {
		c.Readings = append(c.Readings, card.Reading{Kind: card.CPUInfo, Source: "cpuinfo",
			Data: fmt.Appendf(nil, "processor : 0\nvendor_id : x\ncpu family : %d\nmodel : %d\nmodel name : "+
				"%s\nstepping : 9\n", r.family, r.model, r.brand)})
	}
	if r.pci != "" {
		c.Readings = append(c.Readings,
			card.Reading{Kind: card.PCI, Source: "pci", Data: []byte("0000:00:1f.0 " + r.pci + " 060100\n")})
	}
	if r.system != "" {
		r.hand += "machine: {system: " + r.system + "}\n"
	}
	if r.hand != "" {
		c.Readings = append(c.Readings,
			card.Reading{Kind: card.Hand, Source: "hand", Data: []byte("epitome-hand: 1\n" + r.hand)})
	}
	return c
}

func (r rig) limits(k catalogue.Catalogue) ceiling.Limits {
	return ceiling.Of(evidence.Weigh(reading.Of(r.card()), k), k)
}

func two(locators ...string) (out []compose.Device) {
	for i, l := range locators {
		d := compose.Device{Locator: l, MiB: 4096, Speed: 1333}
		if i > 0 {
			d.MiB = 0
		}
		out = append(out, d)
	}
	return out
}

// laptop is a machine of Kaby Lake-U with one module and a free socket.
func laptop() rig {
	return rig{brand: "Intel(R) Core(TM) i7-7500U CPU @ 2.70GHz", family: 6, model: 0x8E, maximumMiB: 32 << 10,
		kind: 0x1A, form: 0x0D,
		sockets: two("ChannelA-DIMM0", "ChannelB-DIMM0"), system: "Microsoft Windows 10 Home 64-bit"}
}

// cell writes what a source says of a thing: figure and standing, with "!"
// where it binds and "(" where it is softer.
func cell(l ceiling.Limits, w ceiling.What, by ceiling.Source) string {
	for _, c := range l.On(w) {
		if c.Source != by {
			continue
		}
		if fill, ok := c.For.Get(); ok && (fill.Modules != 1 || fill.Ranks.Or(1) != 1) {
			continue
		}
		text := "open"
		if most, ok := c.Most.Get(); ok {
			text = fmt.Sprint(most.Int())
		} else if list, ok := c.Allowed.Get(); ok {
			text = fmt.Sprint(list.Words)
		}
		if c.Standing > fact.Unknown {
			text += " " + c.Standing.String()
		}
		if c.Binding {
			text += "!"
		}
		if c.Softer {
			text += "("
		}
		return text
	}
	return ""
}

type want struct {
	what ceiling.What
	by   ceiling.Source
	cell string
}

func check(t *testing.T, l ceiling.Limits, wants []want) {
	t.Helper()
	for _, w := range wants {
		assert.Equal(t, w.cell, cell(l, w.what, w.by), "%s by %s", w.what, w.by)
	}
}

func TestAMiddleAgedLaptop(t *testing.T) {
	l := laptop().limits(catalogue.Catalogue{})
	check(t, l, []want{
		{ceiling.Capacity, ceiling.Firmware, "32768 leaning"},
		{ceiling.Capacity, ceiling.Processor, "32768 settled!"},
		{ceiling.Capacity, ceiling.Board, "open"},
		{ceiling.OSCapacity, ceiling.System, "131072 settled!"},
		{ceiling.PerSlot, ceiling.Standard, "32768 settled"},
		{ceiling.Rate, ceiling.Processor, "2133 settled!"},
		{ceiling.Rate, ceiling.Standard, "3200 settled"},
		{ceiling.Generation, ceiling.Processor, "[DDR4 DDR3L LPDDR3] leaning"},
		{ceiling.Generation, ceiling.Board, "[DDR4] settled!"},
		{ceiling.Volts, ceiling.Processor, "[1.2 V] settled!"},
		{ceiling.Kinds, ceiling.Processor, "[ordinary] settled!"},
		{ceiling.Ranks, ceiling.Standard, "2 settled!"},
		{ceiling.Profiles, ceiling.Board, "open"},
	})
}

// What the maker publishes of a processor is of each of them.
func TestEachProcessorHasAMaximumOfItsOwn(t *testing.T) {
	for n, want := range map[int]jedec.Capacity{1: 32 * jedec.GiB, 2: 64 * jedec.GiB} {
		m := evidence.Weigh(reading.Of(laptop().card()), catalogue.Catalogue{})
		m.Processors = fact.Of(n, fact.Settled)
		for _, c := range ceiling.Of(m, catalogue.Catalogue{}).On(ceiling.Capacity) {
			if c.Source == ceiling.Processor {
				assert.Equal(t, want, c.Most.Or(ceiling.Amount{}).Capacity(), "%d: %s", n, c.Says)
			}
		}
	}
}

func TestAnOldDesktopWhoseNorthbridgeHoldsTheController(t *testing.T) {
	r := rig{brand: "Intel(R) Core(TM)2 Duo CPU     E8400  @ 3.00GHz", family: 6, model: 23, pci: "8086:29c0",
		maximumMiB: 8 << 10, kind: 0x13, form: 0x09,
		sockets: []compose.Device{{Locator: "DIMM_A1", MiB: 2048, Speed: 800}, {Locator: "DIMM_A2"}, {Locator: "DIMM_B1"},
			{Locator: "DIMM_B2"}}, system: "Windows 7 Home Premium 32-bit"}
	l := r.limits(catalogue.Catalogue{})
	// The id is that of G31 and G33 alike: what they share is known, the rest is not.
	check(t, l, []want{
		{ceiling.Generation, ceiling.Chipset, "[DDR2] settled!"},
		{ceiling.Capacity, ceiling.Chipset, "open"},
		{ceiling.Capacity, ceiling.Firmware, "8192 leaning!"},
		{ceiling.Capacity, ceiling.Board, "open"},
		{ceiling.OSCapacity, ceiling.System, "4096 settled!"},
		{ceiling.Rate, ceiling.Chipset, "800 settled!"},
		{ceiling.Rate, ceiling.Standard, "1066 settled"},
		{ceiling.Density, ceiling.Chipset, "1024 settled!"},
		{ceiling.PerSlot, ceiling.Chipset, "2048 settled!"},
		{ceiling.DIMMs, ceiling.Board, "2 leaning!"},
		{ceiling.Volts, ceiling.Chipset, "[1.8 V] leaning!"},
		{ceiling.Volts, ceiling.Standard, "[1.8 V] settled"},
	})
}

func TestANewDesktop(t *testing.T) {
	r := rig{brand: "AMD Ryzen 7 7700X 8-Core Processor", family: 0x19, model: 0x61, maximumMiB: 128 << 10, kind: 0x22,
		form: 0x09,
		sockets: []compose.Device{{Locator: "DIMM_A1"}, {Locator: "DIMM_A2", MiB: 16384, Speed: 4800}, {Locator: "DIMM_B1"},
			{Locator: "DIMM_B2", MiB: 16384, Speed: 4800}},
		system: "Windows 11 Pro 64-bit"}
	l := r.limits(catalogue.Catalogue{})
	check(t, l, []want{
		{ceiling.Rate, ceiling.Processor, "5200 settled!"},
		{ceiling.Generation, ceiling.Processor, "[DDR5] settled!"},
		{ceiling.Capacity, ceiling.Firmware, "131072 leaning"},
		{ceiling.DIMMs, ceiling.Processor, "2 settled!"},
		{ceiling.OSCapacity, ceiling.System, "2097152 settled!"},
		{ceiling.Clocked, ceiling.Board, "open"},
		{ceiling.Capacity, ceiling.Processor, "131072 settled!"},
		{ceiling.Volts, ceiling.Processor, "[1.1 V] settled!"},
		{ceiling.Kinds, ceiling.Processor, "[ordinary ECC] settled!"},
		{ceiling.Density, ceiling.Processor, "24576 leaning!"},
		{ceiling.PerSlot, ceiling.Processor, "49152 leaning!"},
		{ceiling.Ranks, ceiling.Standard, "2 settled!"},
		{ceiling.Width, ceiling.Processor, "[x8 x16] settled!"},
		{ceiling.Profiles, ceiling.Board, "open"},
	})
	rate := func(modules, ranks int) string {
		for _, c := range l.Rates(catalogue.Population{Modules: modules, Ranks: maybe.Just(ranks)}) {
			if c.Source == ceiling.Processor {
				return fmt.Sprint(c.Most.Or(ceiling.Amount{}).Int(), " ", c.Standing)
			}
		}
		return ""
	}
	assert.Equal(t, "5200 settled", rate(1, 1))
	assert.Equal(t, "3600 settled", rate(2, 1), "two modules a channel")
	assert.Equal(t, "3600 settled", rate(2, 2))
	assert.Equal(t, "0 unknown", rate(3, 1), "nobody publishes three")
	assert.Contains(t, l.ECCWaitsFor(), "board")
}

// Three ways of knowing little: nothing is invented.
func TestUnknownProcessorKnownBoard(t *testing.T) {
	o, faults := catalogue.ParseOverlay("ours.yaml", []byte(`epitome-catalogue: 1
boards:
  - maker: Groyne
    names: [QB-14B]
    maximum: 24GB
    per_slot: 16GB
    rates: [{modules_per_channel: 1, rate: 2400}]
    basis: manual, page 9
`))
	require.Empty(t, faults)
	r := laptop()
	r.brand, r.board = "Harbour Silicon Petrel P5-8240", "QB-14B"
	l := r.limits(catalogue.Catalogue{}.With(o))
	check(t, l, []want{
		{ceiling.Capacity, ceiling.Processor, "open"},
		{ceiling.Capacity, ceiling.Board, "24576 settled!"},
		{ceiling.PerSlot, ceiling.Board, "16384 settled!"},
		{ceiling.Rate, ceiling.Processor, "open"},
		{ceiling.Rate, ceiling.Board, "2400 settled!"},
		{ceiling.Kinds, ceiling.Processor, "open"},
	})
}

func TestKnownProcessorUnknownBoard(t *testing.T) {
	l := laptop().limits(catalogue.Catalogue{})
	assert.Equal(t, "open", cell(l, ceiling.Capacity, ceiling.Board))
	assert.Equal(t, "open", cell(l, ceiling.Rate, ceiling.Board))
	a := l.ForRate(2400, catalogue.Population{Modules: 1, Ranks: maybe.Just(1)})
	assert.True(t, a.No)
	assert.Contains(t, a.Says, "the processor sets a lower limit than 2400 MT/s")
	assert.True(t, l.ForRate(2133, catalogue.Population{Modules: 1, Ranks: maybe.Just(1)}).Yes)
}

func TestNothingKnown(t *testing.T) {
	l := ceiling.Of(machine.Machine{}, catalogue.Catalogue{})
	for _, c := range l.Ceilings {
		if c.Source != ceiling.Standard {
			assert.False(t, c.Holds(), "%s by %s", c.What, c.Source)
		}
		assert.NotEmpty(t, c.Says)
	}
	a := l.ForRate(3200, catalogue.Population{Modules: 1})
	assert.False(t, a.Yes || a.No)
}

// A manual's figure is firm for the board, and firmware's stands beside it.
func TestAManualsFigureStandsAboveFirmwares(t *testing.T) {
	r := laptop()
	r.maximumMiB = 16 << 10
	r.hand = "maximum: {size: 12GB, from: manual}\n"
	check(t, r.limits(catalogue.Catalogue{}), []want{{ceiling.Capacity, ceiling.Technician, "12288 settled!"},
		{ceiling.Capacity, ceiling.Firmware, "16384 leaning"}})
}

func TestARateThatTheGenerationLacksIsAnsweredNo(t *testing.T) {
	l := laptop().limits(catalogue.Catalogue{})
	a := l.ForRate(3600, catalogue.Population{Modules: 1})
	assert.True(t, a.No)
	assert.Contains(t, a.Says, "DDR4 has no rate of 3600 MT/s; the fastest of the standard is 3200")
}

func TestALimitBelowWhatIsFittedIsContradicted(t *testing.T) {
	r := laptop()
	r.sockets[0].MiB, r.sockets[1].MiB = 32768, 32768
	r.maximumMiB = 16 << 10
	l := r.limits(catalogue.Catalogue{})
	for _, c := range l.On(ceiling.Capacity) {
		if c.Source == ceiling.Processor || c.Source == ceiling.Firmware {
			assert.Equal(t, fact.Disputed, c.Standing, c.Says)
			assert.False(t, c.Binding)
		}
	}
}

func TestAChipsetMayForbidProfiles(t *testing.T) {
	r := laptop()
	r.pci = "8086:a143" // H110
	l := r.limits(catalogue.Catalogue{})
	check(t, l, []want{{ceiling.Profiles, ceiling.Chipset, "[] settled!"}, {ceiling.DIMMs, ceiling.Chipset, "1 settled"}})
}

func TestTheSameMachineAlwaysHasTheSameLimits(t *testing.T) {
	r := laptop()
	assert.Equal(t, r.limits(catalogue.Catalogue{}).Ceilings, r.limits(catalogue.Catalogue{}).Ceilings)
}

func ExampleOf() {
	m := evidence.Weigh(reading.Of(laptop().card()), catalogue.Catalogue{})
	whole, _ := ceiling.Of(m, catalogue.Catalogue{}).Bound(ceiling.Capacity)
	fmt.Println(whole.Most, "-", whole.By.Source)
	// Output: 32 GB - processor
}

func BenchmarkOf(b *testing.B) {
	m := evidence.Weigh(reading.Of(laptop().card()), catalogue.Catalogue{})
	for b.Loop() {
		ceiling.Of(m, catalogue.Catalogue{})
	}
}

// An id that several chipsets carry tells what they have in common; a name that
// somebody read off the board decides among them.
func TestASharedChipsetIDAnswersAsFarAsItsCandidatesAgree(t *testing.T) {
	o, faults := catalogue.ParseOverlay("ours.yaml", []byte(`epitome-catalogue: 1
chipsets:
  - {name: X47, pci_ids: 'fafa:0c47', basis: sheet, generations: [DDR4], profiles: yes, slots_per_channel: 2}
  - {name: X48, pci_ids: 'fafa:0c48', basis: sheet, generations: [DDR4], profiles: no, slots_per_channel: 1}
`))
	require.Empty(t, faults)
	k := catalogue.Catalogue{}.With(o)
	r := laptop()
	l := ceiling.Of(evidence.Weigh(reading.Of(withIDs(r, "fafa:0c47", "fafa:0c48")), k), k)
	check(t, l, []want{{ceiling.Profiles, ceiling.Chipset, "open"}, {ceiling.DIMMs, ceiling.Chipset, ""},
		{ceiling.Generation, ceiling.Chipset, "[DDR4] settled!"}})
	r.hand = "machine: {chipset: X48, system: Windows 10 Home 64-bit}\n"
	r.system = ""
	l = ceiling.Of(evidence.Weigh(reading.Of(withIDs(r, "fafa:0c47", "fafa:0c48")), k), k)
	check(t, l, []want{{ceiling.Profiles, ceiling.Chipset, "[] settled!"}, {ceiling.DIMMs, ceiling.Chipset, "1 settled"}})
}

// withIDs is the rig's card with several functions on it.
func withIDs(r rig, ids ...string) card.Card {
	r.pci = ""
	c := r.card()
	var text string
	for i, id := range ids {
		text += fmt.Sprintf("0000:00:1f.%d %s 060100\n", i, id)
	}
	c.Readings = append(c.Readings, card.Reading{Kind: card.PCI, Source: "pci", Data: []byte(text)})
	return c
}

// Why a processor says nothing of a limit, in each way in which it may.
func TestWhyAProcessorSaysNothing(t *testing.T) {
	for says, change := range map[string]func(*rig){
		"the processor is not known":                      func(r *rig) { r.brand = "" },
		"Petrel P5 is not in the catalogue":               func(r *rig) { r.brand, r.family, r.model = "Petrel P5", 6, 0xC8 },
		" is not in the catalogue; its number is that of": func(r *rig) { r.brand = "Intel(R) Petrel P5" },
		"is not known to take DDR2":                       func(r *rig) { r.kind = 0x13 },
		"which generation it runs with is not known":      func(r *rig) { r.kind = 0x02 },
	} {
		r := laptop()
		change(&r)
		l, found := r.limits(catalogue.Catalogue{}), ""
		for _, c := range l.On(ceiling.Capacity) {
			if c.Source == ceiling.Processor {
				found = c.Says
				assert.False(t, c.Most.Known(), says)
			}
		}
		assert.Contains(t, found, says)
		assert.Equal(t, strings.Contains(says, "number"), strings.Contains(found, "number"), found)
	}
}

// With nothing fitted, the generation is the one that processor, chipset and board all take, where that is one.
func TestTheGenerationThatAllTake(t *testing.T) {
	for _, c := range []struct {
		name, processor, chipset, board string // the generations that each takes; "" for one that does not say
		want                            string
	}{
		{"the processor takes one", "DDR4", "", "", "DDR4"},
		{"it takes two, and nobody else says", "DDR3 DDR4", "", "", "-"},
		{"the chipset takes one of two", "DDR3 DDR4", "DDR4", "", "DDR4"},
		{"the board takes one of two", "DDR3 DDR4", "", "DDR3", "DDR3"},
		{"chipset and board take different ones", "DDR3 DDR4", "DDR4", "DDR3", "-"},
		{"the chipset takes both, the board one", "DDR3 DDR4", "DDR3, DDR4", "DDR4", "DDR4"},
		{"soldered kinds are no sockets'", "LPDDR4 DDR4", "", "", "DDR4"},
	} {
		own := "epitome-catalogue: 1\nprocessors: [{family: Petrel, brand: Petrel P5, basis: sheet, takes: ["
		for g := range strings.FieldsSeq(c.processor) {
			own += "{generation: " + g + ", channels: 2}, "
		}
		own += "]}]\nchipsets: [{name: X47, pci_ids: 'fafa:0c47', basis: sheet, profiles: no"
		if c.chipset != "" {
			own += ", generations: [" + c.chipset + "]"
		}
		own += "}]\nboards: [{maker: Groyne, names: GBX, basis: manual, maximum: 64GB"
		if c.board != "" {
			own += ", generations: [" + c.board + "]"
		}
		o, faults := catalogue.ParseOverlay("ours.yaml", []byte(own+"}]\n"))
		require.Empty(t, faults, c.name)
		r := laptop()
		r.brand, r.pci, r.board, r.kind, r.sockets[0].MiB = "Petrel P5-8240", "fafa:0c47", "GBX", 0, 0
		got := "-"
		if g, ok := r.limits(catalogue.Catalogue{}.With(o)).Generation.Get(); ok {
			got = g.String()
		}
		assert.Equal(t, c.want, got, c.name)
	}
}

// What Linux sees of memory it uses: an edition that uses less is none of those that are meant. Where it sees no more
// than the least of them uses, and of a system whose readings may be another's, it stays open.
func TestASystemUsesWhatItSees(t *testing.T) {
	for _, c := range []struct {
		system string
		gib    float64
		says   string
	}{{"Linux", 15.5, "64 GB at least"}, {"Linux", 3.7, " 4 GB at least"}, {"Linux", 0, " 4 GB at least"},
		{"Windows 10", 15.5, "at least"}, {"Linux 64-bit", 3.7, "64 TB"}} {
		m := machine.Machine{OS: fact.Known(c.system)}
		if c.gib > 0 {
			m.Totals.Visible = fact.Known(jedec.Capacity(c.gib * float64(jedec.GiB)))
		}
		row := ceiling.Of(m, catalogue.Catalogue{}).On(ceiling.OSCapacity)
		require.Len(t, row, 1, c.system)
		assert.Contains(t, row[0].Says, c.says, "%s that sees %v GiB", c.system, c.gib)
	}
}

// Boards of a time give a supply that nobody states of the one at hand.
func TestTheSupplyOfATime(t *testing.T) {
	for _, c := range []struct {
		brand, firmware, want string
		model                 int
		kind                  byte
	}{
		{"Intel(R) Core(TM)2 Duo CPU T6600 @ 2.20GHz", "", "[1.5 V] settled!", 23, 0x18},
		{"Intel(R) Core(TM)2 Duo CPU T6600 @ 2.20GHz", "", "", 23, 0x13}, // DDR2
		{"Petrel P5", "03/18/2010", "[1.5 V] settled!", 200, 0x18},
		{"Petrel P5", "2009-11-02", "[1.5 V] settled!", 200, 0x18},
		{"Petrel P5", "07/01/2010", "", 200, 0x18}, // the board may be older, and nobody says so
		{"Petrel P5", "soon", "", 200, 0x18},
		{"Petrel P5", "", "", 200, 0x18},
	} {
		r := laptop()
		r.brand, r.family, r.model, r.kind, r.pci = c.brand, 6, c.model, c.kind, ""
		r.released = c.firmware
		m := evidence.Weigh(reading.Of(r.card()), catalogue.Catalogue{})
		assert.Equal(t, c.want, cell(ceiling.Of(m, catalogue.Catalogue{}), ceiling.Volts, ceiling.Board), "%s, %s", c.brand,
			c.firmware)
	}
}
