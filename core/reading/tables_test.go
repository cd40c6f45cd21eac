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

// Every code of the CIM class's form factor and of its older memory type.
func TestEveryCodeOfAnExport(t *testing.T) {
	forms := map[int]string{2: "SIP", 3: "DIP", 4: "ZIP", 6: "proprietary card", 7: "SIMM", 8: "DIMM", 9: "TSOP",
		11: "RIMM", 12: "SODIMM", 13: "SRIMM", 14: "row of chips", 21: "row of chips"}
	chips := map[int]bool{9: true, 14: true, 21: true}
	types := map[int]jedec.Generation{17: jedec.SDR, 20: jedec.DDR, 21: jedec.DDR2, 22: jedec.DDR2, 24: jedec.DDR3,
		26: jedec.DDR4, 34: jedec.DDR5}
	for code := range 40 {
		s := exported(fmt.Sprintf(`[{"CreationClassName": "Win32_PhysicalMemory", "FormFactor": %d, "MemoryType": %d}]`,
			code, code))
		require.Len(t, s.Listed, 1)
		x, says := s.Listed[0], ""
		if name := forms[code]; name != "" {
			says = "form factor " + name
		}
		assert.Equal(t, says, x.FormSays, "form %d", code)
		assert.Equal(t, chips[code], x.Chips, "form %d", code)
		g, known := x.Generation.Get()
		want, ok := types[code]
		assert.Equal(t, ok, known, "type %d", code)
		assert.Equal(t, want, g, "type %d", code)
	}
}

// A panel counts slots: they are places where nothing else lists any.
func TestThePlacesOfAPanel(t *testing.T) {
	places := func(s reading.Set) string {
		var out []string
		for _, d := range s.Listed {
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
			out = append(out, strings.TrimSpace(d.Locator+" "+d.Form.Or(jedec.FormUnknown).String()+" "+what))
		}
		return strings.Join(out, ", ")
	}
	const installed = "Installed memory (RAM): 8.00 GB (7.88 GB usable)"
	for text, want := range map[string]string{
		"Slots used: 1 of 2":                                "slot 1 unknown filled, slot 2 unknown free",
		"Slots used: 2 of 2":                                "slot 1 unknown filled, slot 2 unknown filled",
		installed + "\nSlots used: 1 of 2":                  "slot 1 unknown filled 8 GB, slot 2 unknown free",
		installed + "\nSlots used: 2 of 2":                  "slot 1 unknown filled, slot 2 unknown filled",
		"Speed: 2400 MHz\nSlots used: 1 of 2\nForm: SODIMM": "slot 1 SO-DIMM filled at 2400, slot 2 unknown free",
		installed: "",
	} {
		s := of(card.Reading{Kind: card.Panel, Source: "panel", Data: []byte(text)})
		assert.Empty(t, whys(s), text)
		assert.Equal(t, want, places(s), text)
	}
	panel := card.Reading{Kind: card.Panel, Source: "panel", Data: []byte("Slots used: 1 of 4")}
	s := of(panel, table(compose.Array(0x1000, 32<<20, 1), device(1, "", "")))
	assert.Equal(t, "DIMM 1 SO-DIMM filled 8 GB", places(s), "the firmware's list stands")
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
