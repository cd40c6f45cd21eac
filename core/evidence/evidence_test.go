package evidence

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/reading"
	"epitome/core/smbios/compose"
)

// bench makes a card of firmware structures.
func bench(structures ...compose.Structure) card.Card {
	return card.Card{Readings: []card.Reading{
		{Kind: card.Table, Source: "DMI", Data: compose.Table(structures...)},
	}}
}

// weighed weighs a card with the embedded catalogue.
func weighed(c card.Card) machine.Machine { return Weigh(reading.Of(c), catalogue.Catalogue{}) }

// seesKiB adds what the operating system sees.
func seesKiB(c card.Card, kib int) card.Card {
	c.Readings = append(c.Readings,
		card.Reading{Kind: card.MemInfo, Source: "meminfo", Data: fmt.Appendf(nil, "MemTotal: %d kB\n", kib)})
	return c
}

func chassis(kind byte) []compose.Structure {
	return compose.Identity{Maker: "Halyard", Product: "Gull 14", ChassisKind: kind}.Structures()
}

const laptop, tower = 0x0A, 0x07

func filled(handle uint16, form, kind byte, mib uint32) compose.Device {
	return compose.Device{Handle: handle, Array: 0x1000, MiB: mib, Form: form, Type: kind, Locator: "DIMM", Bank: "BANK"}
}

func TestAFullSizeDIMMInATowerIsASocket(t *testing.T) {
	attach := func(kind byte, d compose.Device) fact.Fact[machine.Attach] {
		return weighed(bench(append(chassis(kind), compose.Array(0x1000, 8<<20, 1), d.Structure())...)).Places[0].Attach
	}
	f := attach(tower, filled(1, 0x09, 0x18, 2048))
	assert.Equal(t, fact.Settled, f.Standing(), "two independent signs")
	assert.Equal(t, machine.Socket, f.Or(""))
	require.Len(t, f.Against(), 1, "blank serial and part number speak against it, and stay listed")
	assert.Equal(t, fact.Leaning, attach(laptop, filled(1, 0x09, 0x18, 2048)).Standing(),
		"a laptop has no full-size DIMMs; the code alone leans")
	assert.Equal(t, fact.Leaning, attach(tower, filled(1, 0x0D, 0x18, 2048)).Standing())
}

func TestOneFormCodeNeverSettlesALaptopPlace(t *testing.T) {
	for _, form := range []byte{0x0D, 0x0B} {
		m := weighed(bench(append(chassis(laptop), compose.Array(0x1000, 8<<20, 1),
			filled(1, form, 0x1A, 4096).Structure())...))
		assert.NotEqual(t, fact.Settled, m.Places[0].Attach.Standing())
		assert.Contains(t, m.Open[0].Settles, "look whether DIMM is a socket or chips on the board")
	}
}

func TestLowPowerGenerationsComeSoldered(t *testing.T) {
	m := weighed(bench(append(chassis(laptop), compose.Array(0x1000, 8<<20, 1),
		filled(1, 0x0B, 0x1E, 4096).Structure())...))
	assert.Equal(t, fact.Settled, m.Places[0].Attach.Standing())
	assert.Equal(t, maybe.Just(jedec.Soldered), m.Places[0].Module.Form.Value())
	sockets, known := m.Totals.Sockets.Get()
	assert.True(t, known)
	assert.Zero(t, sockets)
}

func TestAPlaceThatFirmwareCountsAndDoesNotListLeavesSocketsOpen(t *testing.T) {
	m := weighed(bench(append(chassis(laptop), compose.Array(0x1000, 16<<20, 2),
		filled(1, 0x0D, 0x1A, 4096).Structure())...))
	assert.Equal(t, fact.Disputed, m.Totals.Sockets.Standing())
	assert.False(t, m.Totals.SocketsFree.Known())
	require.Len(t, m.Conflicts, 1)
	assert.Equal(t, "firmware announces 2 places and lists 1", m.Conflicts[0].Says)
}

func TestMoreFittedThanStatedIsAConflict(t *testing.T) {
	m := weighed(bench(append(chassis(tower), compose.Array(0x1000, 12<<20, 2), filled(1, 9, 0x18, 8192).Structure(),
		filled(2, 9, 0x18, 8192).Structure())...))
	require.Len(t, m.Conflicts, 1)
	assert.Equal(t, "firmware states 12 GB, 16 GB are fitted", m.Conflicts[0].Says)
	assert.Equal(t, fact.Leaning, m.Totals.StatedMaximum.Standing())
}

func TestATotalOverAnUnknownSizeIsUnknown(t *testing.T) {
	odd := filled(2, 9, 0x18, 0)
	s := odd.Structure()
	s.Body[8], s.Body[9] = 0xFF, 0xFF // size 0xFFFF: filled, size unknown
	m := weighed(bench(append(chassis(tower), compose.Array(0x1000, 16<<20, 2), filled(1, 9, 0x18, 8192).Structure(),
		s)...))
	assert.False(t, m.Totals.Installed.Known())
	assert.Contains(t, m.Open, machine.Open{About: machine.Subject{Topic: machine.AboutCapacity,
		Place: "DIMM / BANK #2"}, Settles: "read the sticker of the module in DIMM / BANK #2"})
}

func TestPlacesGetNamesOfTheirOwn(t *testing.T) {
	a, b, c := filled(1, 9, 0x18, 1024), filled(2, 9, 0x18, 1024), filled(3, 9, 0x18, 1024)
	b.Bank = "BANK 1"
	c.Locator, c.Bank = "", ""
	m := weighed(bench(a.Structure(), b.Structure(), c.Structure(), a.Structure()))
	var names []string
	for _, p := range m.Places {
		names = append(names, p.Name)
	}
	assert.Equal(t, []string{"DIMM / BANK", "DIMM / BANK 1", "place 3", "DIMM / BANK #2"}, names)
}

func TestTheProcessorsOwnNameOutweighsTheFirmwares(t *testing.T) {
	c := bench(compose.Processor(4, "S", "Harbour Silicon", "To be filled by O.E.M.", 0, 0, 2))
	m := weighed(c)
	assert.False(t, m.Processor.Known(), "a placeholder is no name")
	c = bench(compose.Processor(4, "S", "Harbour Silicon", "pc-7.2", 0, 0, 2))
	c.Readings = append(c.Readings,
		card.Reading{Kind: card.CPUInfo, Data: []byte("processor\t: 0\nmodel name\t: Petrel   P5\n")})
	m = weighed(c)
	assert.Equal(t, maybe.Just("Petrel P5"), m.Processor.Value())
	assert.Len(t, m.Processor.Against(), 1, "the losing claim stays")
}

// Each processor of a workstation has channels and sockets of its own; an empty socket for
// a processor is no processor.
func TestProcessorsAreCounted(t *testing.T) {
	first, second := filled(1, 9, 0x1A, 8192), filled(2, 9, 0x1A, 8192)
	first.Locator, second.Locator = "CPU1_DIMM_A1", "CPU2_DIMM_A1"
	with := func(status byte, entries string) machine.Machine {
		other := compose.Processor(5, "CPU2", "Harbour Silicon", "Petrel W9", 0, 3000, 8)
		other.Body[0x18-4] = status
		c := bench(compose.Processor(4, "CPU1", "Harbour Silicon", "Petrel W9", 0, 3000, 8), other, first.Structure(),
			second.Structure())
		if entries != "" {
			c.Readings = append(c.Readings, card.Reading{Kind: card.CPUInfo, Data: []byte(entries)})
		}
		return weighed(c)
	}
	assert.Equal(t, maybe.Just(2), with(0x41, "").Processors.Value())
	assert.Equal(t, maybe.Just(1), with(0, "").Processors.Value(), "nobody sits in the second socket")
	assert.Equal(t, maybe.Just(2),
		with(0, "processor: 0\nphysical id: 0\nprocessor: 1\nphysical id: 1\n").Processors.Value(),
		"the running system sees two")
	assert.Equal(t, maybe.Just(2), with(0x41, "processor: 0\nphysical id: 0\n").Processors.Value(), "a text may be cut")
	m := with(0x41, "")
	assert.Equal(t, maybe.Just(2), m.Places[1].Processor)
	assert.Equal(t, "P2 A", m.Places[1].Channel.Or(""))
	assert.False(t, weighed(bench(first.Structure())).Processors.Known())
}

func TestUnreadableReadingsAreNamed(t *testing.T) {
	c := card.Card{Readings: []card.Reading{
		{Kind: card.EntryPoint, Source: "ep", Data: []byte("junk")},
		{Kind: card.Table, Source: "DMI", Data: []byte{1, 2, 3}},
		{Kind: card.CPUInfo, Source: "cpuinfo", Data: []byte("nothing here\n")},
	}}
	m := weighed(c)
	require.Len(t, m.Conflicts, 3)
	assert.Contains(t, m.Conflicts[0].Says, "firmware entry point not usable")
	assert.Contains(t, m.Conflicts[1].Says, "firmware table damaged: offset 0x0")
	assert.Equal(t, "open the machine and count its sockets", m.Open[0].Settles)
	assert.Equal(t, fact.Unknown, m.Totals.Installed.Standing())
}
