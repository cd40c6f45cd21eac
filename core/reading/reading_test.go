package reading_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/reading"
	"epitome/core/smbios/compose"
	spd "epitome/core/spd/compose"
)

func table(structures ...compose.Structure) card.Reading {
	return card.Reading{Kind: card.Table, Source: "DMI", Data: compose.Table(structures...)}
}

func device(handle uint16, serial, part string) compose.Structure {
	return compose.Device{Handle: handle, Array: 0x1000, MiB: 8192, Form: 0x0D, Type: 0x1A,
		Locator: fmt.Sprint("DIMM ", handle), Serial: serial, Part: part}.Structure()
}

func eeprom(address, serial, part string) card.Reading {
	image := spd.DDR4{Type: 3, DensityCode: 5, Ranks: 1, WidthCode: 1, TCK: 833, TAA: 14160, TRCD: 14160, TRP: 14160,
		TRAS: 32000, TRC: 46160, FirstCL: 10, LastCL: 18, Height: 30,
		Identity: spd.Identity{Maker: jedec.MakerCode{Bank: 1, Code: 0x4E}, Part: part, Serial: serial, Year: 0x21,
			Week: 0x10}}
	return card.Reading{Kind: card.SPD, Address: address, Source: address, Data: image.Bytes()}
}

func entry(text string) card.Reading {
	return card.Reading{Kind: card.Hand, Source: "form.yaml", Data: []byte("epitome-hand: 1\n" + text)}
}

func of(readings ...card.Reading) reading.Set { return reading.Of(card.Card{Readings: readings}) }

// whys are the troubles as text.
func whys(s reading.Set) string {
	var out []string
	for _, t := range s.Troubles {
		out = append(out, t.Source+": "+t.Why)
	}
	return strings.Join(out, "\n")
}

func TestAnEmptyCardReadsAsNothing(t *testing.T) {
	s := of()
	assert.Empty(t, s.Troubles)
	assert.Empty(t, s.EEPROMs)
	assert.False(t, s.CPU.Known())
}

func TestWhatIsDistrustedIsNotRead(t *testing.T) {
	s := of(table(compose.Array(0x1000, 32<<20, 1), device(1, "0A0B0C01", "MR4")), eeprom("0-0050", "0A0B0C01", "MR4"),
		entry("by: Jory\ndistrust: ['0x50']\n"))
	assert.Empty(t, s.EEPROMs)
	assert.Len(t, s.Tables.SystemDevices(), 1)
	assert.Contains(t, whys(s), "distrusted (hand entry by Jory)")
}

func TestAHandEntryIsReadOnce(t *testing.T) {
	s := of(entry("by: Jory\nsource: manual\nplaces: [{name: ' A1 ', attach: socket, takes: SO-DIMM, holds: free}, " +
		"{name: A2, holds: 8GB 1Rx8 PC4-2400T-SA1-11}, {name: A3, holds: 6GB DDR9}, {name: A4}]\n"))
	require.Len(t, s.Hands, 1)
	assert.Equal(t, "hand entry by Jory, from manual", s.Hands[0].Cite)
	seen := s.Hands[0].Seen
	require.Len(t, seen, 4)
	assert.Equal(t, "A1", seen[0].Name)
	assert.False(t, seen[0].Filled.Or(true))
	assert.Equal(t, jedec.SODIMM, seen[0].Takes.Or(0))
	m, _ := seen[1].Sticker.Get()
	assert.Equal(t, 8*jedec.GiB, m.Capacity.Or(0))
	assert.True(t, seen[2].Filled.Or(false), "something is there")
	assert.False(t, seen[2].Sticker.Known())
	assert.Contains(t, whys(s), "place A3")
	assert.False(t, seen[3].Filled.Known())
}

func TestWhatCannotBeReadIsSaidWithTheReason(t *testing.T) {
	for name, c := range map[string]struct {
		reading card.Reading
		says    string
	}{
		"a table of nothing": {card.Reading{Kind: card.Table, Source: "DMI", Data: make([]byte, 40)}, "DMI: "},
		"a table without memory": {table(compose.Identity{Maker: "Halyard", Product: "Gull",
			ChassisKind: 3}.Structures()...), "lists no memory"},
		"an image that is none": {card.Reading{Kind: card.SPD, Address: "0x50", Data: []byte("no image at all")},
			"EEPROM 0x50: "},
		"a processor text without one": {card.Reading{Kind: card.CPUInfo, Data: []byte("nothing")},
			"holds no processor entry"},
		"objects that are no objects": {card.Reading{Kind: card.CIM, Source: "x.json", Data: []byte("{")}, "x.json: "},
		"PCI ids that are none": {card.Reading{Kind: card.PCI, Source: "pci", Data: []byte("what\n")},
			"pci: 1 line without a PCI device"},
		"an outcome that is no outcome": {card.Reading{Kind: card.Outcome, Source: "outcome", Data: []byte("- 1\n")},
			"outcome: "},
	} {
		assert.Contains(t, whys(of(c.reading)), c.says, name)
	}
	unread := of(card.Reading{Kind: card.SPD, Address: "0x50", Failure: "not root"},
		card.Reading{Kind: card.Table, Source: "DMI", Failure: "not root"},
		card.Reading{Kind: card.SPD, Address: "0x51", Data: make([]byte, 200), Failure: "the chip did not answer"})
	assert.Equal(t, []reading.Trouble{{Source: "EEPROM 0x50", Why: "not root"}, {Source: "DMI", Why: "not root"},
		{Source: "EEPROM 0x51", Why: "the chip did not answer"}}, unread.Unread)
	page := make([]byte, 128) // the first page of a DDR5 hub (JESD400-5: bytes 0 to 3)
	copy(page, []byte{0x30, 0x10, 0x12, 0x03})
	locked := of(card.Reading{Kind: card.SPD, Address: "0x50", Data: page}, card.Reading{Kind: card.SPD, Address: "0x51",
		Data: []byte("no image")}, card.Reading{Kind: card.SPD, Address: "0x52", Data: page})
	require.Len(t, locked.Unread, 2)
	for i, source := range []string{"EEPROM 0x50", "EEPROM 0x52"} {
		assert.Equal(t, source, locked.Unread[i].Source)
		assert.Contains(t, locked.Unread[i].Why, "keeps the rest locked")
	}
	assert.Contains(t, whys(locked), "EEPROM 0x51: ")
	bad := eeprom("0-0050", "01010101", "MR4")
	bad.Data[4] = 0x84 // the CRC no longer agrees
	bad.Source = ""
	assert.Contains(t, whys(of(bad)), "EEPROM 0x50: checksum: ")
	s := of(card.Reading{Kind: card.Series, Source: "watch", Data: []byte("what")})
	require.Len(t, s.Unmeasured, 1)
	assert.Contains(t, s.Unmeasured[0], "watch: ")
}

func TestNoMachineHasSoManyPlaces(t *testing.T) {
	structures := []compose.Structure{compose.Array(0x1000, 32<<20, 600)}
	for i := range 600 {
		structures = append(structures, device(uint16(i+1), "", ""))
	}
	s := of(table(structures...))
	assert.Len(t, s.Tables.Devices, reading.MostPlaces)
	assert.Contains(t, whys(s), "no machine has so many")
}

// What an object says of a module, each property with a value that says nothing: the codes are those of
// CIM_PhysicalMemory and of DSP0134.
func TestWhatAnObjectSaysOfAModule(t *testing.T) {
	of := func(properties string) reading.Sighting {
		s := of(card.Reading{Kind: card.CIM, Source: "x.json",
			Data: []byte(`[{"CreationClassName": "Win32_PhysicalMemory", "DeviceLocator": "A", ` + properties + `}]`)})
		require.Len(t, s.Listed, 1, properties)
		return s.Listed[0]
	}
	for properties, want := range map[string]string{ // form, type
		`"FormFactor": 8`:                           "DIMM, unknown",
		`"FormFactor": 12`:                          "SO-DIMM, unknown",
		`"FormFactor": 99`:                          "unknown, unknown",
		`"FormFactor": 8, "SMBIOSMemoryType": 26`:   "DIMM, DDR4",
		`"SMBIOSMemoryType": 255`:                   "unknown, unknown",
		`"SMBIOSMemoryType": 0, "MemoryType": 24`:   "unknown, DDR3", // by the older property
		`"SMBIOSMemoryType": 256, "MemoryType": 24`: "unknown, DDR3",
		`"MemoryType": 99`:                          "unknown, unknown",
		`"SMBIOSMemoryType": 26, "MemoryType": 24`:  "unknown, DDR4",
		`"SMBIOSMemoryType": 31, "FormFactor": 8`:   "DIMM, unknown",
	} {
		x := of(properties)
		assert.Equal(t, want, fmt.Sprintf("%v, %v", x.Form.Or(jedec.FormUnknown), x.Generation.Or(jedec.GenerationUnknown)),
			properties)
	}
	assert.Equal(t, "persistent memory", of(`"SMBIOSMemoryType": 31`).NotMemory)
	for properties, want := range map[string]string{ // what a source does not carry it says nothing of
		`"SerialNumber": "1A", "PartNumber": "MR-1"`: "1A MR-1 true true, named",
		`"SerialNumber": null, "PartNumber": ""`:     "  true true, anonymous",
		`"SerialNumber": "", "Speed": 1600`:          "  true false",
		`"Speed": 1600`:                              "  false false",
	} {
		x := of(properties)
		got := fmt.Sprintf("%s %s %v %v", x.Serial, x.Part, x.HasSerial, x.HasPart)
		if x.Named() {
			got += ", named"
		}
		if x.Anonymous() {
			got += ", anonymous"
		}
		assert.Equal(t, want, got, properties)
	}
	for properties, want := range map[string]string{
		`"Capacity": "8589934592"`: "filled, 8 GB", `"Capacity": 0`: "empty",
		`"Speed": 2400`: "filled, 0 B", // it lists nothing else
	} {
		d, got := of(properties), "not told"
		if filled, ok := d.Filled.Get(); ok {
			got = "empty"
			if filled {
				got = "filled, " + d.Size.Or(0).String()
			}
		}
		assert.Equal(t, want, got, properties)
	}
	for speed, want := range map[string]maybe.Value[int]{"2400": maybe.Just(2400), "0": {},
		"2147483647": maybe.Just(1<<31 - 1),
		"2147483648": {}, "1": maybe.Just(1)} {
		assert.Equal(t, want, of(`"Speed": `+speed).Speed, speed)
	}
	for status, failed := range map[string]bool{"OK": false, "Error": true, "NonRecover": true, "Degraded": true,
		"Pred Fail": true, "": false} {
		assert.Equal(t, failed, of(`"Status": "`+status+`"`).Failed, status)
	}
}

// What an object says of all places together.
func TestWhatAnObjectSaysOfAllPlaces(t *testing.T) {
	for properties, want := range map[string]string{
		`"MaxCapacity": 33554432, "MemoryDevices": 2`:            "32 GB, 2 places",
		`"MaxCapacityEx": 67108864, "MaxCapacity": 33554432`:     "64 GB, 0 places",
		`"MaxCapacityEx": 0, "MaxCapacity": 33554432`:            "32 GB, 0 places",
		`"MaxCapacity": 0, "MemoryDevices": 1024`:                "-, 1024 places",
		`"MaxCapacity": 1125899906842624, "MemoryDevices": 1025`: "-, 0 places",
		`"MaxCapacityEx": 1073741824, "MemoryDevices": "many"`:   "1 TB, 0 places",
	} {
		s := of(card.Reading{Kind: card.CIM, Source: "x.json",
			Data: []byte(`[{"CreationClassName": "Win32_PhysicalMemoryArray", ` + properties + `}]`)})
		require.Len(t, s.Announced, 1, properties)
		a, most := s.Announced[0], "-"
		if size, ok := a.Maximum.Get(); ok {
			most = size.String()
		}
		assert.Equal(t, want, fmt.Sprintf("%s, %d places", most, a.Places), properties)
	}
}

// Dates as shells write them.
func TestExportedDates(t *testing.T) {
	for text, want := range map[string]string{
		"20190318000000.000000+000": "2019-03-18", "2019-03-18T00:00:00Z": "2019-03-18", "2019-03-18": "2019-03-18",
		"20190318": "2019-03-18", "/Date(1552867200000)/": "2019-03-18", "/Date(soon)/": "/Date(soon)/",
		"18.03.2019": "18.03.2019", "2019": "2019", "20191399": "20191399",
	} {
		assert.Equal(t, want, reading.ExportedDate(text), text)
	}
}

// Each source lists places in its own name; of another machine than the first nothing is taken.
func TestEachSourceListsPlacesInItsOwnName(t *testing.T) {
	export := func(model, serial string) card.Reading {
		return card.Reading{Kind: card.CIM, Source: model + ".json", Data: fmt.Appendf(nil,
			`[{"CreationClassName": "Win32_PhysicalMemory", "DeviceLocator": "DIMM A", "Capacity": "8589934592"},
{"CreationClassName": "Win32_ComputerSystem", "Model": %q},
{"CreationClassName": "Win32_ComputerSystemProduct", "IdentifyingNumber": %q}]`, model, serial)}
	}
	s := of(export("Gull 14", "SN1"), table(compose.Array(0x1000, 32<<20, 1), device(1, "", "")))
	require.Len(t, s.Listed, 2)
	assert.Equal(t, []reading.Origin{reading.Firmware, reading.Records}, []reading.Origin{s.Listed[0].Origin,
		s.Listed[1].Origin})
	assert.NotEqual(t, s.Listed[0].Reading, s.Listed[1].Reading)
	for name, c := range map[string]struct {
		second card.Reading
		same   bool
	}{
		"the same":                          {export("Gull 14", "SN1"), true},
		"another name, one serial number":   {export("Gull 14 AMD", "SN1"), true},
		"another serial number":             {export("Gull 14", "SN2"), false},
		"another model, no serial number":   {export("Tern 13", ""), false},
		"a placeholder for a serial number": {export("Gull 14", "To Be Filled By O.E.M."), true},
	} {
		s := of(export("Gull 14", "SN1"), c.second)
		assert.Equal(t, !c.same, strings.Contains(whys(s), "of another machine"), name)
	}
	assert.Empty(t, of(export("Gull 14", "SN1"), export("Gull 14", "SN1")).Listed[1:], "a reading given twice is one")
}
