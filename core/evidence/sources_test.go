package evidence

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/reading"
	"epitome/core/smbios/compose"
	spdcompose "epitome/core/spd/compose"
)

func chip(serial, part string) []byte {
	return spdcompose.DDR4{Type: 3, DensityCode: 5, Ranks: 1, WidthCode: 1, TCK: 833, TAA: 13750, TRCD: 13750,
		TRP: 13750, TRAS: 32000, TRC: 45750,
		FirstCL: 10, LastCL: 18, Height: 30,
		Identity: spdcompose.Identity{Maker: jedec.MakerCode{Bank: 1, Code: 0x4E}, Part: part, Serial: serial, Year: 0x21,
			Week: 0x10}}.Bytes()
}

func place(handle uint16, locator, serial, part string) compose.Device {
	return compose.Device{Handle: handle, Array: 0x1000, MiB: 8192, Form: 0x0D, Type: 0x1A, Locator: locator,
		Serial: serial, Part: part}
}

func withChips(c card.Card, images map[string][]byte) card.Card {
	for _, address := range []string{"0-0050", "0-0051", "0-0052", "0-0053"} {
		if image, ok := images[address]; ok {
			c.Readings = append(c.Readings,
				card.Reading{Kind: card.SPD, Source: "i2c/" + address, Address: address, Data: image})
		}
	}
	return c
}

func TestEEPROMsFindTheirPlacesBySerialNumber(t *testing.T) {
	// The board wires its sockets in another order than firmware lists them.
	c := withChips(bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 2),
		place(1, "A", "0x9CA0214F", "").Structure(), place(2, "B", "0B0B0B0B", "").Structure())...),
		map[string][]byte{"0-0050": chip("0B0B0B0B", "X"), "0-0052": chip("4F21A09C", "Y")})
	m := weighed(c)
	assert.Equal(t, "0x52", m.Places[0].EEPROMAddress, "firmware wrote the bytes in reverse")
	assert.Equal(t, "0x50", m.Places[1].EEPROMAddress)
	for _, p := range m.Places {
		assert.Equal(t, maybe.Just(8), p.Module.Width.Value(), "what only the EEPROM knows")
		assert.Equal(t, fact.Settled, p.Module.Rated.Standing())
		assert.Equal(t, maybe.Just("Samsung"), p.Module.Maker.Value())
		assert.Equal(t, fact.Settled, p.Attach.Standing())
	}
	assert.Empty(t, m.Conflicts)
}

func TestAnAddressAloneMatchesNothing(t *testing.T) {
	c := withChips(bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 2), place(1, "A", "", "").Structure(),
		place(2, "B", "", "").Structure())...),
		map[string][]byte{"0-0050": chip("01010101", "X"), "0-0051": chip("02020202", "Y")})
	m := weighed(c)
	assert.Equal(t, "", m.Places[0].EEPROMAddress)
	require.Len(t, m.Conflicts, 2)
	assert.Contains(t, m.Conflicts[0].Says, "8 GB of DDR4, which could not be matched with a place")
}

func TestTheLastPlaceTakesTheLastEEPROMIfTheyAgree(t *testing.T) {
	c := withChips(bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 1),
		place(1, "A", "", "").Structure())...), map[string][]byte{"0-0050": chip("01010101", "X")})
	assert.Equal(t, "0x50", weighed(c).Places[0].EEPROMAddress)
	d := place(1, "A", "", "")
	d.MiB = 4096
	c = withChips(bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 1), d.Structure())...),
		map[string][]byte{"0-0050": chip("01010101", "X")})
	m := weighed(c)
	assert.Equal(t, "", m.Places[0].EEPROMAddress, "4 GB in the table, 8 GB in the chip")
	assert.Len(t, m.Conflicts, 1)
}

func TestTwoModulesOfOnePartAreNotToldApartByIt(t *testing.T) {
	c := withChips(bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 2), place(1, "A", "", "MR-1").Structure(),
		place(2, "B", "", "MR-2").Structure())...),
		map[string][]byte{"0-0050": chip("01010101", "MR-2"), "0-0051": chip("02020202", "MR-1")})
	m := weighed(c)
	assert.Equal(t, "0x51", m.Places[0].EEPROMAddress)
	c = withChips(bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 2), place(1, "A", "", "MR-1").Structure(),
		place(2, "B", "", "MR-1").Structure())...),
		map[string][]byte{"0-0050": chip("01010101", "MR-1"), "0-0051": chip("02020202", "MR-1")})
	assert.Equal(t, "", weighed(c).Places[0].EEPROMAddress)
}

// Two modules that nothing but their serial numbers tells apart, in two places of which
// firmware says nothing more: all is known but which is which.
func TestInterchangeableEEPROMsLeaveOnlyTheSerialsOpen(t *testing.T) {
	c := withChips(bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 2), place(1, "A", "", "").Structure(),
		place(2, "B", "", "").Structure())...),
		map[string][]byte{"0-0050": chip("01010101", "MR-1"), "0-0051": chip("02020202", "MR-1")})
	m := weighed(c)
	assert.Empty(t, m.Conflicts)
	for _, p := range m.Places {
		assert.Equal(t, jedec.Picoseconds(13750), p.Module.Times.TAA.Or(0))
		assert.Equal(t, "MR-1", p.Module.Part.Or(""))
		assert.False(t, p.Module.Serial.Known())
		assert.Empty(t, p.EEPROMAddress)
	}
}

// An EEPROM that answers where firmware lists nothing is a module: 16 GB, not 8.
func TestAnEEPROMThatFirmwareDoesNotListIsAModule(t *testing.T) {
	c := withChips(bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 2),
		place(1, "A", "01010101", "X").Structure())...),
		map[string][]byte{"0-0050": chip("01010101", "X"), "0-0052": chip("02020202", "X")})
	m := weighed(c)
	require.Len(t, m.Places, 2)
	assert.Equal(t, 16*jedec.GiB, m.Totals.Installed.Or(0))
	assert.Contains(t, fmt.Sprint(m.Conflicts), "firmware lists no such module")
}

// Firmware and system agree against an EEPROM: it does not stand by itself, and all
// three are shown. Where the system agrees with the EEPROM, or tells nothing, it does.
func TestTwoAgainstOne(t *testing.T) {
	said := func(mib uint32, seesKB int) machine.Machine {
		d := place(1, "A", "01010101", "X")
		d.MiB = mib
		c := withChips(bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 1), d.Structure())...),
			map[string][]byte{"0-0050": chip("01010101", "X")})
		if seesKB > 0 {
			c = seesKiB(c, seesKB)
		}
		return weighed(c)
	}
	m := said(4096, 3_900_000)
	assert.Equal(t, fact.Disputed, m.Places[0].Module.Capacity.Standing())
	require.Len(t, m.Conflicts, 1)
	assert.Equal(t, "capacity of A", m.Conflicts[0].About.String())
	assert.Len(t, m.Conflicts[0].Sources, 3, m.Conflicts[0].Says)
	m = said(4096, 7_900_000)
	assert.Equal(t, 8*jedec.GiB, m.Places[0].Module.Capacity.Or(0), "the system agrees with the EEPROM")
	assert.NotEmpty(t, m.Conflicts, "and the contradiction is named")
	m = said(4096, 0)
	assert.Equal(t, 8*jedec.GiB, m.Places[0].Module.Capacity.Or(0))
	assert.NotEmpty(t, m.Conflicts)
	assert.Empty(t, said(8192, 7_900_000).Conflicts)
	// All of what is there may be seen, and no more than a quarter of it is kept back.
	for kib, disputed := range map[int]bool{4 << 20: true, 4<<20 + 1: false, 3<<20 + 1: true, 3 << 20: false,
		8 << 20: false, 6 << 20: false} {
		standing := said(4096, kib).Places[0].Module.Capacity.Standing()
		assert.Equal(t, disputed, standing == fact.Disputed, "%d KiB seen", kib)
	}
}

func TestABadChecksumWeighsLittleAndIsNamed(t *testing.T) {
	image := chip("01010101", "X")
	image[4] = 0x84 // 4 Gbit instead of 8: the CRC no longer agrees
	d := place(1, "A", "01010101", "")
	c := withChips(bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 1), d.Structure())...),
		map[string][]byte{"0-0050": image})
	m := weighed(c)
	assert.Equal(t, maybe.Just(8*jedec.GiB), m.Places[0].Module.Capacity.Value(), "the firmware's word stands")
	assert.Len(t, m.Places[0].Module.Capacity.Against(), 1)
	assert.Contains(t, fmt.Sprint(m.Conflicts), "checksum: bytes 0 to 125: bad")
}

func TestAChipThatCouldNotBeReadIsNamed(t *testing.T) {
	c := bench(chassis(laptop)...)
	c.Readings = append(c.Readings,
		card.Reading{Kind: card.SPD, Source: "i2c/0-0050", Address: "0-0050",
			Failure: "no eeprom file: the chip driver is not loaded"})
	assert.Equal(t, []reading.Trouble{{Source: "EEPROM 0x50", Why: "no eeprom file: the chip driver is not loaded"}},
		reading.Of(c).Unread)
	assert.NotContains(t, fmt.Sprint(weighed(c).Conflicts), "EEPROM 0x50", "what was not read contradicts nothing")
}

func hand(c card.Card, text string) card.Card {
	c.Readings = append(c.Readings,
		card.Reading{Kind: card.Hand, Source: "hand.yaml", Data: []byte("epitome-hand: 1\nby: Jory\n" + text)})
	return c
}

func TestSightOverridesAll(t *testing.T) {
	c := bench(append(chassis(laptop), compose.Array(0x1000, 16<<20, 2), place(1, "DIMM 0", "", "").Structure())...)
	assert.Equal(t, machine.Socket, weighed(c).Places[0].Attach.Or(""), "firmware calls it a SODIMM")
	m := weighed(hand(c, "places: [{name: dimm 0, attach: soldered}, {name: under the cover, attach: socket, takes: "+
		"SO-DIMM, holds: free}]\nmaximum: {size: 12GB, from: manual}\n"))
	require.Len(t, m.Places, 2, "and the hidden socket is there")
	assert.Equal(t, fact.Settled, m.Places[0].Attach.Standing())
	assert.Equal(t, machine.Soldered, m.Places[0].Attach.Or(""))
	assert.NotEmpty(t, m.Places[0].Attach.Against(), "what firmware said stays listed")
	assert.Equal(t, maybe.Just(1), m.Totals.Sockets.Value())
	assert.Equal(t, maybe.Just(1), m.Totals.SocketsFree.Value())
	assert.Equal(t, maybe.Just(12*jedec.GiB), m.Totals.StatedMaximum.Value(), "a manual outweighs the firmware")
	assert.Len(t, m.Totals.StatedMaximum.Against(), 1)
}

func TestContradictoryHandEntriesAreBothKept(t *testing.T) {
	c := hand(hand(card.Card{}, "places: [{name: A, attach: socket}]\n"), "places: [{name: A, attach: soldered}]\n")
	m := weighed(c)
	require.Len(t, m.Places, 1)
	assert.Equal(t, fact.Disputed, m.Places[0].Attach.Standing())
	assert.Len(t, m.Places[0].Attach.Why(), 2)
}

func TestAStickerTellsOfItsModuleAndItsSocket(t *testing.T) {
	m := weighed(hand(card.Card{},
		"places: [{name: A, holds: 8GB 1Rx8 PC4-2400T-SA1-11}, {name: B, holds: 8GB PC4-9999X}]\n"))
	assert.Equal(t, maybe.Just(jedec.Rate(2400)), m.Places[0].Module.Rated.Value())
	assert.Equal(t, machine.Socket, m.Places[0].Attach.Or(""))
	assert.False(t, m.Places[1].Module.Capacity.Known(), "a sticker that can't be right says nothing")
	assert.Contains(t, fmt.Sprint(m.Conflicts), "place B")
	m = weighed(hand(card.Card{}, "places: [{name: A, attach: nowhere}]\n"))
	assert.Contains(t, fmt.Sprint(m.Conflicts), "it is socket or soldered")
}

func TestManagementObjectsNameSystemAndProcessor(t *testing.T) {
	c := card.Card{Readings: []card.Reading{{Kind: card.CIM, Source: "cim.json", Data: []byte(`[
	{"CreationClassName":"CIM_OperatingSystem","Caption":"Windows 10 Home","OSArchitecture":"64-bit",
	"TotalVisibleMemorySize":8242340},
		{"CreationClassName":"CIM_Processor","Name":"Petrel  P5"}]`)}}}
	m := weighed(c)
	assert.Equal(t, maybe.Just("Windows 10 Home 64-bit"), m.OS.Value())
	assert.Equal(t, maybe.Just("Petrel P5"), m.Processor.Value())
	assert.Equal(t, maybe.Just(8242340*jedec.KiB), m.Totals.Visible.Value())
}

func TestEEPROMsWithoutATableMakePlaces(t *testing.T) {
	m := weighed(withChips(card.Card{},
		map[string][]byte{"0-0050": chip("01010101", "X"), "0-0052": chip("02020202", "X")}))
	require.Len(t, m.Places, 2)
	assert.Equal(t, "EEPROM 0x52", m.Places[1].Name)
	assert.Equal(t, maybe.Just(16*jedec.GiB), m.Totals.Installed.Value())
	assert.False(t, m.Totals.Sockets.Known(), "empty sockets have no EEPROM: how many there are stays open")
	assert.Empty(t, m.Conflicts)
}

func TestATableWithoutMemoryStructuresIsSaid(t *testing.T) {
	assert.Contains(t, fmt.Sprint(weighed(bench(chassis(laptop)...)).Conflicts), "lists no memory")
}

const exported = `[{"CreationClassName":"CIM_PhysicalMemoryArray","MaxCapacity":33554432,"MemoryDevices":2},
	{"CreationClassName":"CIM_PhysicalMemory","DeviceLocator":"ChannelA-DIMM0","BankLabel":"BANK 0",
"Capacity":8589934592,"FormFactor":12,"SMBIOSMemoryType":26,
	 "Speed":2400,"ConfiguredClockSpeed":2400,"Manufacturer":"80CE","SerialNumber":"4F21A09C",
"PartNumber":"MR4S-8G24-17 ","TotalWidth":64,"DataWidth":64,"ConfiguredVoltage":1200},
	{"CreationClassName":"CIM_PhysicalMemory","DeviceLocator":"ChannelB-DIMM0","Capacity":4294967296,
	"FormFactor":8,"MemoryType":24}]`

func TestManagementObjectsStandInForAFirmwareTable(t *testing.T) {
	cim := card.Reading{Kind: card.CIM, Source: "cim.json", Data: []byte(exported)}
	m := weighed(card.Card{Readings: []card.Reading{cim}})
	require.Len(t, m.Places, 2)
	p := m.Places[0]
	assert.Equal(t, "", p.FirmwareHandle)
	assert.Equal(t, maybe.Just("A"), p.Channel.Value())
	assert.Equal(t, maybe.Just(jedec.SODIMM), p.Form.Value(), "12 in the one list is 0x0D in the other")
	assert.Equal(t, maybe.Just(jedec.DDR4), p.Module.Generation.Value())
	assert.Equal(t, maybe.Just("Samsung"), p.Module.Maker.Value(), "a maker code in place of a name")
	assert.Equal(t, maybe.Just(jedec.DDR3), m.Places[1].Module.Generation.Value(), "the older codes")
	assert.Equal(t, maybe.Just(12*jedec.GiB), m.Totals.Installed.Value())
	assert.Equal(t, maybe.Just(32*jedec.GiB), m.Totals.StatedMaximum.Value())
	assert.Equal(t, "system's record PhysicalMemory, place ChannelA-DIMM0", p.Module.Capacity.Why()[0].Source)

	both := bench(append(chassis(laptop), compose.Array(0x1000, 16<<20, 1), place(1, "DIMM A", "", "").Structure())...)
	both.Readings = append(both.Readings, cim)
	assert.Len(t, weighed(both).Places, 1, "the firmware's own table counts; both come from the same firmware")
}

func TestAChipsetIsNamedByItsPCIID(t *testing.T) {
	with := func(lines string) machine.Machine {
		return weighed(card.Card{Readings: []card.Reading{{Kind: card.PCI, Source: "pci", Data: []byte(lines)}}})
	}
	m := with("0000:00:1f.0 8086:1c4b 060100\n")
	assert.Equal(t, maybe.Just("HM67"), m.Chipset.Value())
	assert.False(t, with("0000:00:00.0 8086:1a30 060000\n").Chipset.Known(), "two chipsets carry that id")
	assert.False(t, with("0000:00:00.0 1234:1111 060000\n").Chipset.Known())
	assert.Contains(t, fmt.Sprint(with("no device\n").Conflicts), "1 line without a PCI device")
}

// What a product's name says of its kind, and what sockets of such a kind take where nothing
// names their form.
func TestTheFormFollowsFromTheKindWhereNothingNamesIt(t *testing.T) {
	overview := func(name, memory string) machine.Machine {
		text := `{"SPHardwareDataType":[{"machine_model":"Example15,2","machine_name":"` + name + `"}],
		 "SPMemoryDataType":[{"_items":[{"_name":"BANK 0/DIMM0","dimm_size":"4 GB","dimm_type":"DDR4",
"dimm_speed":"2400 MHz"},
		 {"_name":"BANK 1/DIMM1","dimm_size":"empty","dimm_status":"empty"}],"is_memory_upgradeable":"` + memory + `"}]}`
		return weighed(card.Card{Readings: []card.Reading{{Kind: card.CIM, Source: "profile.json", Data: []byte(text)}}})
	}
	m := overview("Example all-in-one", "Yes")
	assert.Equal(t, maybe.Just(machine.AllInOne), m.Kind.Value())
	assert.Equal(t, maybe.Just(jedec.SODIMM), m.Places[1].Form.Value())
	assert.Equal(t, fact.Leaning, m.Places[1].Form.Standing())
	m = overview("Example tower", "Yes")
	assert.Equal(t, maybe.Just(machine.Desktop), m.Kind.Value())
	assert.False(t, m.Places[1].Form.Known(), "a tower's may be either")
	assert.False(t, overview("Example", "Yes").Kind.Known())
}
