package reading_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/jedec"
	"epitome/core/reading"
	"epitome/core/smbios/compose"
)

func exported(objects string) reading.Set {
	return of(card.Reading{Kind: card.CIM, Source: "x.json", Data: []byte(objects)})
}

// Every code of the CIM class's form factor and of its older memory type, and the lists that DSP0134 has for them.
func TestEveryCodeOfAnExport(t *testing.T) {
	forms := map[int]string{0: "unknown", 1: "other", 2: "SIP", 3: "DIP", 4: "ZIP", 6: "proprietary card", 7: "SIMM",
		8: "DIMM",
		9: "TSOP", 11: "RIMM", 12: "SODIMM", 13: "SRIMM", 14: "row of chips", 21: "row of chips"}
	types := map[int]jedec.Generation{17: jedec.SDR, 20: jedec.DDR, 21: jedec.DDR2, 22: jedec.DDR2, 24: jedec.DDR3,
		26: jedec.DDR4, 34: jedec.DDR5}
	for code := range 40 {
		s := exported(fmt.Sprintf(`[{"CreationClassName": "Win32_PhysicalMemory", "FormFactor": %d, "MemoryType": %d}]`,
			code, code))
		require.Len(t, s.Tables.SystemDevices(), 1)
		d := s.Tables.SystemDevices()[0]
		form, known := forms[code]
		if !known {
			form = "unknown"
		}
		assert.Equal(t, form, d.FormName(), "form %d", code)
		g, known := d.Generation().Get()
		want, ok := types[code]
		assert.Equal(t, ok, known, "type %d", code)
		assert.Equal(t, want, g, "type %d", code)
	}
}

// What an export says of the machine itself, class by class; a table that names any of it stands alone.
func TestWhatAnExportSaysOfTheMachine(t *testing.T) {
	computer := `{"CreationClassName": "Win32_ComputerSystem", "Manufacturer": "Halyard", "Model": "Gull 14"}`
	product := `{"CreationClassName": "Win32_ComputerSystemProduct", "Vendor": "Halyard Ltd", "Name": "Gull"}`
	board := `{"CreationClassName": "Win32_BaseBoard", "Manufacturer": "Quay", "Product": "Q1"}`
	case1 := `{"CreationClassName": "Win32_SystemEnclosure", "ChassisTypes": "10, 3"}`
	bios := `{"CreationClassName": "Win32_BIOS", "SMBIOSBIOSVersion": "1.2"}`
	said := func(s reading.Set) string {
		var out []string
		for _, x := range s.Tables.Systems {
			out = append(out, "system "+x.Maker+" "+x.Product)
		}
		for _, x := range s.Tables.Boards {
			out = append(out, "board "+x.Maker+" "+x.Product)
		}
		for _, x := range s.Tables.Chassis {
			out = append(out, fmt.Sprint("chassis ", int(x.Kind)))
		}
		for _, x := range s.Tables.Firmware {
			out = append(out, "firmware "+x.Version)
		}
		if s.NamedByObjects {
			out = append(out, "by objects")
		}
		return strings.Join(out, ", ")
	}
	for objects, want := range map[string]string{
		computer:                 "system Halyard Gull 14, by objects",
		product:                  "system Halyard Ltd Gull, by objects",
		product + "," + computer: "system Halyard Gull 14, by objects",
		board:                    "board Quay Q1, by objects",
		case1:                    "chassis 10, by objects",
		bios:                     "firmware 1.2, by objects",
		`{"CreationClassName": "Win32_SystemEnclosure", "ChassisTypes": "large"}`: "",
		`{"CreationClassName": "Win32_SystemEnclosure", "ChassisTypes": "300"}`:   "",
		`{"CreationClassName": "Win32_PhysicalMemory", "Capacity": 1}`:            "",
	} {
		assert.Equal(t, want, said(exported("["+objects+"]")), objects)
	}
	all := card.Reading{Kind: card.CIM, Source: "x.json", Data: []byte("[" + computer + "," + board + "," + bios + "]")}
	named := compose.Identity{Maker: "Halyard", Product: "Gull 14s", ChassisKind: 10}
	s := of(all, table(append(named.Structures(), compose.Array(0x1000, 32<<20, 1), device(1, "", ""))...))
	assert.NotContains(t, said(s), "by objects")
	assert.Contains(t, said(s), "system Halyard Gull 14s")
	assert.NotContains(t, said(s), "Q1")
	for _, named := range []compose.Identity{{BoardMaker: "Groyne", Board: "GBX"}, {Maker: "Halyard", Product: "Gull 14s"},
		{ChassisKind: 10}} {
		structures := named.Structures()
		for i := range structures {
			for j := range i + 1 {
				one := of(all, table(structures[j:i+1]...))
				assert.NotContains(t, said(one), "by objects", "%+v, %d to %d", named, j, i)
			}
		}
	}
	only := exported(`[{"CreationClassName": "Win32_PhysicalMemoryArray", "MemoryDevices": 2, "MaxCapacity": 33554432}]`)
	assert.True(t, only.FromObjects)
	assert.Len(t, only.Tables.Arrays, 1)
	assert.Empty(t, only.Tables.Devices)
	both := exported(`[{"CreationClassName": "Win32_PhysicalMemoryArray", "MemoryDevices": 2},` +
		`{"CreationClassName": "Win32_PhysicalMemory", "Capacity": 8589934592}]`)
	assert.Len(t, both.Tables.Arrays, 1)
	assert.Len(t, both.Tables.Devices, 1)
	assert.False(t, exported(computer).FromObjects)
}

// A panel counts slots: they are places where nothing else lists any.
func TestThePlacesOfAPanel(t *testing.T) {
	places := func(s reading.Set) string {
		var out []string
		for _, d := range s.Tables.SystemDevices() {
			what := "free"
			if d.Filled.Or(false) {
				what = "filled"
			}
			if size, ok := d.Size.Get(); ok {
				what += " " + size.String()
			}
			if speed, ok := d.Configured.Get(); ok {
				what += fmt.Sprint(" at ", speed)
			}
			out = append(out, strings.TrimSpace(d.Locator+" "+d.FormName()+" "+what))
		}
		return strings.Join(out, ", ")
	}
	const installed = "Installed memory (RAM): 8.00 GB (7.88 GB usable)"
	for text, want := range map[string]string{
		"Slots used: 1 of 2":                                "slot 1 unknown filled, slot 2 unknown free",
		"Slots used: 2 of 2":                                "slot 1 unknown filled, slot 2 unknown filled",
		installed + "\nSlots used: 1 of 2":                  "slot 1 unknown filled 8 GB, slot 2 unknown free",
		installed + "\nSlots used: 2 of 2":                  "slot 1 unknown filled, slot 2 unknown filled",
		"Speed: 2400 MHz\nSlots used: 1 of 2\nForm: SODIMM": "slot 1 SODIMM filled at 2400, slot 2 unknown free",
		installed: "",
	} {
		s := of(card.Reading{Kind: card.Panel, Source: "panel", Data: []byte(text)})
		assert.Empty(t, whys(s), text)
		assert.Equal(t, want, places(s), text)
		assert.Equal(t, want != "", s.FromPanel, text)
	}
	panel := card.Reading{Kind: card.Panel, Source: "panel", Data: []byte("Slots used: 1 of 4")}
	s := of(panel, table(compose.Array(0x1000, 32<<20, 1), device(1, "", "")))
	assert.Equal(t, "DIMM 1 SODIMM filled 8 GB", places(s), "the firmware's list stands")
	assert.False(t, s.FromPanel)
	assert.Contains(t, whys(of(card.Reading{Kind: card.Panel, Source: "panel", Data: []byte("all is well")})),
		"settings panel: ")
}

// What earlier jobs showed: the places into which the plan before put a module, that were found as predicted.
func TestWhatEarlierJobsShowed(t *testing.T) {
	plan := func(ways string) card.Reading {
		return card.Reading{Kind: card.Plan, Source: "plan", Data: []byte("ways: " + ways)}
	}
	outcome := func(proposal int, result string) card.Reading {
		return card.Reading{Kind: card.Outcome, Source: "outcome", Data: fmt.Appendf(nil,
			"epitome-outcome: 1\ndate: 2026-11-21\nproposal: %d\nresult: %s\nplaces: "+
				"[{name: A1, mib: 8192}, {name: A2, mib: 8192}]\n",
			proposal, result)}
	}
	way := plan("[{number: 1, put: [{place: A1, from: A2}, {place: A2}]}, {number: 2, put: [{place: A1}]}]")
	for name, c := range map[string]struct {
		readings []card.Reading
		want     string
	}{
		"as predicted":           {[]card.Reading{way, outcome(1, "as predicted")}, "2026-11-21 A2"},
		"another way":            {[]card.Reading{way, outcome(2, "as predicted")}, "2026-11-21 A1"},
		"no such way":            {[]card.Reading{way, outcome(3, "as predicted")}, "2026-11-21"},
		"otherwise":              {[]card.Reading{way, outcome(1, "differs")}, "2026-11-21"},
		"no plan":                {[]card.Reading{outcome(1, "as predicted")}, "2026-11-21"},
		"a plan that came after": {[]card.Reading{outcome(1, "as predicted"), way}, "2026-11-21"},
		"the plan before it":     {[]card.Reading{way, plan("[]"), outcome(1, "as predicted")}, "2026-11-21"},
		"a place that is no more": {[]card.Reading{plan("[{number: 1, put: [{place: B7}]}]"), outcome(1, "as predicted")},
			"2026-11-21"},
	} {
		s := of(c.readings...)
		require.Len(t, s.PastJobs, 1, name)
		assert.Equal(t, c.want, strings.Join(append([]string{s.PastJobs[0].Date}, s.PastJobs[0].Fitted...), " "), name)
	}
}

// A serial number as firmware writes it and as the EEPROM holds it.
func TestSerialNumbersOfOneModule(t *testing.T) {
	for firmware, want := range map[string]bool{"0A0B0C01": true, "0a0b0c01": true, "0x0A0B0C01": true, "A0B0C01": true,
		"010C0B0A": true, "10C0B0A": true, "0A0B0C02": false, "": false, "0": false, "00000000": false, "0x": false,
		"0A0B0C0100": false} {
		assert.Equal(t, want, reading.SameSerial(firmware, "0A0B0C01"), firmware)
	}
	assert.False(t, reading.SameSerial("0", "00000000"), "noughts are no serial number")
	for parts, want := range map[string]bool{"M4 71A|m4  71a": true, " M4|M4 ": true, "M4|M5": false, "M4|M4-X": false} {
		a, b, _ := strings.Cut(parts, "|")
		assert.Equal(t, want, reading.SamePart(a, b), parts)
	}
}

// By part number, by elimination, and as alike modules: each with what stands against it.
func TestHowEEPROMsAreMatched(t *testing.T) {
	array := compose.Array(0x1000, 64<<20, 4)
	dev := func(handle uint16, mib uint32, kind uint8, serial, part string) compose.Structure {
		return compose.Device{Handle: handle, Array: 0x1000, MiB: mib, Form: 0x0D, Type: kind, Locator: fmt.Sprint("P",
			handle),
			Serial: serial, Part: part}.Structure()
	}
	pairs := func(s reading.Set) string {
		var out []string
		for i, d := range s.Tables.SystemDevices() {
			if e := s.EEPROMOf(i); e != nil {
				mark := ""
				if e.Either {
					mark = "?"
				}
				out = append(out, d.Locator+"="+e.Address+mark)
			}
		}
		return strings.Join(out, " ")
	}
	for name, c := range map[string]struct {
		places  []compose.Structure
		eeproms []card.Reading
		want    string
	}{
		"by part": {[]compose.Structure{dev(1, 8192, 0x1A, "", "ONE"), dev(2, 8192, 0x1A, "", "TWO")},
			[]card.Reading{eeprom("0-0050", "00000001", "TWO"), eeprom("0-0051", "00000002", "ONE")}, "P1=0x51 P2=0x50"},
		"one part, another size": {[]compose.Structure{dev(1, 4096, 0x1A, "", "ONE"), dev(2, 8192, 0x1A, "", "TWO")},
			[]card.Reading{eeprom("0-0050", "00000001", "ONE"), eeprom("0-0051", "00000002", "TWO")}, "P2=0x51"},
		"one part, another generation": {[]compose.Structure{dev(1, 8192, 0x18, "", "ONE")},
			[]card.Reading{eeprom("0-0050", "00000001", "ONE")}, ""},
		"the last one, of the same size": {[]compose.Structure{dev(1, 8192, 0x1A, "", ""), dev(2, 8192, 0x1A, "", "TWO")},
			[]card.Reading{eeprom("0-0050", "00000001", "ONE"), eeprom("0-0051", "00000002", "TWO")}, "P1=0x50 P2=0x51"},
		"the last one, of another size": {[]compose.Structure{dev(1, 4096, 0x1A, "", "")},
			[]card.Reading{eeprom("0-0050", "00000001", "ONE")}, ""},
		"the last one, empty": {[]compose.Structure{dev(1, 0, 0x1A, "", "")},
			[]card.Reading{eeprom("0-0050", "00000001", "ONE")}, ""},
		"the last one, with another serial number": {[]compose.Structure{dev(1, 8192, 0x1A, "0000000F", "")},
			[]card.Reading{eeprom("0-0050", "00000001", "ONE")}, ""},
		"two alike, either way": {[]compose.Structure{dev(1, 8192, 0x1A, "", "ONE"), dev(2, 8192, 0x1A, "", "ONE")},
			[]card.Reading{eeprom("0-0050", "00000001", "ONE"), eeprom("0-0051", "00000002", "ONE")}, "P1=0x50? P2=0x51?"},
		"two alike and three places": {[]compose.Structure{dev(1, 8192, 0x1A, "", "ONE"), dev(2, 8192, 0x1A, "", "ONE"),
			dev(3, 8192, 0x1A, "", "ONE")},
			[]card.Reading{eeprom("0-0050", "00000001", "ONE"), eeprom("0-0051", "00000002", "ONE")}, ""},
		"two alike, a place of another size": {[]compose.Structure{dev(1, 8192, 0x1A, "", ""), dev(2, 4096, 0x1A, "", "")},
			[]card.Reading{eeprom("0-0050", "00000001", "ONE"), eeprom("0-0051", "00000002", "ONE")}, ""},
		"two of different parts": {[]compose.Structure{dev(1, 8192, 0x1A, "", ""), dev(2, 8192, 0x1A, "", "")},
			[]card.Reading{eeprom("0-0050", "00000001", "ONE"), eeprom("0-0051", "00000002", "TWO")}, ""},
		"one serial number on two places": {[]compose.Structure{dev(1, 8192, 0x1A, "00000001", "ONE"),
			dev(2, 8192, 0x1A, "00000001", "ONE")}, []card.Reading{eeprom("0-0050", "00000001", "ONE")}, ""},
	} {
		assert.Equal(t, c.want, pairs(of(append([]card.Reading{table(append([]compose.Structure{array}, c.places...)...)},
			c.eeproms...)...)), name)
	}
}

// What is distrusted, by its kind, by a part of its source, by an EEPROM's short address; and what is not.
func TestWhatADistrustReaches(t *testing.T) {
	for what, want := range map[string]string{"spd": "0 EEPROMs, 1 place", "SPD": "0 EEPROMs, 1 place",
		"0x50": "1 EEPROMs, 1 place",
		"0X51": "1 EEPROMs, 1 place", "smbios-table": "2 EEPROMs, 0 place", "DMI": "2 EEPROMs, 0 place",
		"0x5":  "2 EEPROMs, 1 place",
		"hand": "2 EEPROMs, 1 place"} {
		s := of(table(compose.Array(0x1000, 32<<20, 1), device(1, "0A0B0C01", "MR4")), eeprom("0-0050", "0A0B0C01", "MR4"),
			eeprom("0-0051", "0A0B0C02", "MR4"), entry("by: Jory\ndistrust: ['"+what+"']\n"))
		assert.Equal(t, want, fmt.Sprintf("%d EEPROMs, %d place", len(s.EEPROMs), len(s.Tables.SystemDevices())), what)
		assert.Len(t, s.Hands, 1, what)
	}
}

// How an entry is cited, and what a place of it says.
func TestHowAnEntryIsCited(t *testing.T) {
	for text, want := range map[string]string{"by: Jory\n": "hand entry by Jory", "source: sight\n": "hand entry",
		"source: manual\n": "hand entry, from manual", "by: Jory\nsource: label\n": "hand entry by Jory, from label"} {
		s := of(entry(text + "places: [{name: A1, holds: free}]\n"))
		require.Len(t, s.Hands, 1, text)
		assert.Equal(t, want, s.Hands[0].Cite, text)
	}
	withdrawn := entry("by: Jory\n")
	withdrawn.Failure = "withdrawn"
	assert.Empty(t, of(withdrawn).Hands)
}

// One table is the machine's, wherever it stands; another is named.
func TestOneTableIsTheMachines(t *testing.T) {
	first := table(compose.Array(0x1000, 32<<20, 1), device(1, "", ""))
	second := table(compose.Array(0x1000, 32<<20, 2), device(7, "", ""), device(8, "", ""))
	s := of(first, second)
	assert.Len(t, s.Tables.SystemDevices(), 1)
	assert.Contains(t, whys(s), "a second firmware table")
	s = of(card.Reading{Kind: card.Table, Source: "none", Data: make([]byte, 40)}, second)
	assert.Len(t, s.Tables.SystemDevices(), 2, "one that says nothing is not the first")
	assert.NotContains(t, whys(s), "a second firmware table")
	for name, structures := range map[string][]compose.Structure{
		"an identity":    compose.Identity{Maker: "Halyard", Product: "Gull"}.Structures(),
		"an array alone": {compose.Array(0x1000, 32<<20, 1)},
	} {
		s := of(table(structures...), second)
		assert.Contains(t, whys(s), "a second firmware table", name)
		assert.Contains(t, whys(s), "lists no memory", name)
	}
}

// Bounds of what a machine may have: as many as that are used, one more is named.
func TestAsManyAsAMachineMayHave(t *testing.T) {
	for n, says := range map[int]bool{reading.MostPlaces: false, reading.MostPlaces + 1: true} {
		var lines strings.Builder
		for i := range n {
			fmt.Fprintf(&lines, "0000:%02x:%02x.%d 8086:a305 060100\n", i/256, i/8%32, i%8)
		}
		s := of(card.Reading{Kind: card.PCI, Source: "pci", Data: []byte(lines.String())})
		assert.Len(t, s.PCI, reading.MostPlaces)
		assert.Equal(t, says, strings.Contains(whys(s), "PCI ids: lists 513 devices"), n)
	}
}
