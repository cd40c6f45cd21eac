package main

import (
	"bytes"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"
	"unicode"

	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/internal/cli"
	"epitome/internal/demo"
	"epitome/truth/effort"
)

// kinds are those of a demo machine's files.
var kinds = map[string]card.Kind{"DMI": card.Table, "smbios_entry_point": card.EntryPoint, "cpuinfo": card.CPUInfo,
	"meminfo": card.MemInfo, "pci": card.PCI}

// fuzzCards are the demo's machines, as cards.
func fuzzCards() (all []card.Card) {
	for _, m := range demo.Machines() {
		c := card.Card{Made: time.Unix(0, 0).UTC(), Title: m.Title}
		for _, f := range m.Files() {
			kind, known := kinds[f.Name]
			if strings.HasPrefix(f.Name, "spd-") {
				kind, known = card.SPD, true
			}
			if known {
				c.Readings = append(c.Readings,
					card.Reading{Kind: kind, Source: f.Name, How: "files", Taken: time.Unix(0, 0).UTC(), Data: f.Data})
			}
		}
		all = append(all, c)
	}
	return all
}

// fromACard are the commands that make something of a card.
var fromACard = [][]string{
	{"brief", "a.card"}, {"brief", "a.card", "--format", "json", "--redact"}, {"brief", "a.card", "--why"},
	{"brief", "a.card", "--map", "map.svg", "--share", "shared.card", "--replace"},
	{"ceilings", "a.card"}, {"trial", "a.card", "8GB 1Rx8 PC4-2400T-SA1-11"}, {"trial", "a.card", "--format", "json"},
	{"need", "a.card", "--use", "browsing"},
	{"propose", "a.card", "--reach", "16GB", "--save"}, {"docket", "a.card", "-o", "slip.html", "--replace"},
	{"docket", "a.card", "8GB 1Rx8 PC4-2400T-SA1-11", "-o", "slip.pdf", "--replace"},
	{"docket", "a.card", "8GB 1Rx8 PC4-2400T-SA1-11"}, {"recheck", "a.card", "b.card"},
	{"observe", "a.card", "kind=laptop"},
}

// FuzzCardToEveryPage takes a real machine's card, replaces one reading's bytes,
// and runs every command that makes something of it: none may fail in another
// way than its exit codes say, and nothing that comes out may act on a terminal.
func FuzzCardToEveryPage(f *testing.F) {
	effort.NotShort(f)
	all := fuzzCards()
	for j, r := range all[0].Readings { // the fuzzer finds the way to the others
		if j > 1 && !effort.Full() {
			break
		}
		f.Add(uint8(0), uint8(j), uint8(255), r.Data)
	}
	others := []card.Kind{card.Hand, card.CIM, card.Plan, card.Outcome, card.Series, card.VMStat, card.Pressure,
		card.TableFile}
	f.Add(uint8(0), uint8(0), uint8(0),
		[]byte("epitome-hand: 1\nby: Jory\nplaces: [{name: DIMM 9, attach: socket, holds: free}]\nsockets: 2\n"))
	f.Add(uint8(0), uint8(0), uint8(1),
		[]byte(`[{"CreationClassName":"CIM_PhysicalMemory","DeviceLocator":"A","Capacity":8589934592,
"SMBIOSMemoryType":26}]`))
	f.Add(uint8(0), uint8(0), uint8(2),
		[]byte("epitome-plan: 1\ncurrency: EUR\nways: [{number: 1, put: [{place: ChannelB-DIMM0, stick: 8GB 1Rx8 "+
			"PC4-2400T-SA1-11}], buys: [{units: 1, pieces: 1, text: 8GB 1Rx8 PC4-2400T-SA1-11, price: 20.00}], cost: 20.00}]\n"))
	f.Add(uint8(0), uint8(0), uint8(3),
		[]byte("epitome-outcome: 1\ndate: 2026-11-27\nproposal: 1\nresult: as predicted\ntotal_mib: 16384\nplaces: "+
			"[{name: ChannelB-DIMM0, mib: 8192}]\n"))
	f.Add(uint8(0), uint8(0), uint8(4), []byte("at_ms,total_kib,available_kib\n0,8000000,100\n1000,8000000,200\n"))
	f.Fuzz(func(t *testing.T, which, at, added uint8, data []byte) {
		c := all[int(which)%len(all)]
		c.Readings = append([]card.Reading(nil), c.Readings...)
		if int(added) < len(others) {
			c.Readings = append(c.Readings,
				card.Reading{Kind: others[added], Source: "x", Taken: time.Unix(0, 0).UTC(), Data: data})
		} else {
			c.Readings[int(at)%len(c.Readings)].Data = data
		}
		text, err := c.Encode()
		if err != nil {
			return
		}
		everyPage(t, text)
	})
}

// FuzzCardText is the same from the bytes of the card file itself.
func FuzzCardText(f *testing.F) {
	effort.NotShort(f)
	text, err := fuzzCards()[1].Encode()
	require.NoError(f, err)
	f.Add(text)
	f.Fuzz(func(t *testing.T, text []byte) { everyPage(t, text) })
}

func everyPage(t *testing.T, text []byte) {
	folder := t.TempDir()
	t.Chdir(folder)
	t.Setenv("XDG_CONFIG_HOME", folder)
	t.Setenv("XDG_DATA_HOME", folder)
	for _, name := range []string{"a.card", "b.card"} {
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), text, 0o644))
	}
	for _, args := range fromACard {
		var out, errs bytes.Buffer
		code := cli.Main(args, strings.NewReader(""), &out, &errs)
		require.Contains(t, []int{0, 1, 2, 3, 4}, code, "%q", args)
		for _, b := range []*bytes.Buffer{&out, &errs} {
			for _, r := range b.String() {
				require.False(t, r != '\n' && r != '\t' && (unicode.IsControl(r) || unicode.Is(unicode.Cf, r)),
					"%q: %U in %.300q", args, r, b.String())
			}
		}
	}
}

// FuzzArguments gives foreign text to the commands that take it as it is.
func FuzzArguments(f *testing.F) {
	for _, s := range []string{"800MHz", "DDR4-2400", "PC3-10600", "16777216", "15-15-15", "4.0 GB (3.89 usable)",
		"1.35", "12GB", "8GB 1Rx8 PC4-2400T-SA1-11"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		for _, args := range [][]string{
			{"convert", "--", s}, {"convert", "DDR4-2400", "--at", s}, {"narrow", "--marking=" + s},
			{"narrow", "--clock=" + s}, {"narrow", "--volts=" + s}, {"narrow", "--notch=" + s},
			{"narrow", "--total=" + s, "--slots=2"}, {"narrow", "--installed-note=" + s}, {"narrow", "--form=" + s},
			{"narrow", "--year=" + s}, {"module", "--", s}, {"mix", "--", s, s},
			{"catalogue", "show", "--brand=" + s}, {"catalogue", "show", "--pci=" + s},
		} {
			var out, errs bytes.Buffer
			code := cli.Main(args, strings.NewReader(""), &out, &errs)
			require.Contains(t, []int{0, 1, 2, 3, 4}, code, "%q", args)
			for _, r := range out.String() + errs.String() {
				require.False(t, r != '\n' && r != '\t' && (unicode.IsControl(r) || unicode.Is(unicode.Cf, r)), "%q: %U", args, r)
			}
			require.Less(t, out.Len()+errs.Len(), 200_000, "%q", args)
		}
	})
}
