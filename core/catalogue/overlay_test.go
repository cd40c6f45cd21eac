package catalogue_test

import (
	"encoding/csv"
	"encoding/json"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/truth/effort"
)

const petrel = `epitome-catalogue: 1
processors:
  - id: harbour-petrel
    family: Petrel
    brand: Petrel P[35]-[0-9]+
    cpuid: {family: 6, models: [199, 0xC8]}
    takes:
      - rate: 2400
        rate_two_modules: 2133
        generation: DDR4
        channels: 2
        maximum: 32GB
        largest_die: 8Gbit
        x16: yes
        ecc: [udimm]
        ecc_if: board
        volts: [1.2]
    basis: data sheet, table 4
    confidence: medium
chipsets:
  - {name: X47, pci_ids: "FAFA:0C47", profiles: yes, basis: sheet}
boards:
  - maker: Groyne
    names: [Breakwater X, GBX]
    generations: DDR4
    per_slot: 32GB
    slots: [{name: A1, channel: A, order: 2}, {name: A2, channel: A, order: 1, maximum: 16GB}]
    soldered: [{name: bank, channel: B, size: 4GB}]
    rates: [{modules_per_channel: 2, ranks: 2, rate: 2666}]
    profiles: no
    ecc: none
    basis: manual
`

func TestOwnEntriesLieOverTheEmbeddedOnes(t *testing.T) {
	o, faults := catalogue.ParseOverlay("shop/ours.yaml", []byte(petrel))
	require.Empty(t, faults)
	k := catalogue.Catalogue{}.With(o)

	found := k.Controllers(catalogue.Processor{Brand: "Harbour Silicon Petrel P5-8240", Family: maybe.Just(6),
		Model: maybe.Just(200)})
	require.Len(t, found, 1)
	c := found[0]
	assert.Equal(t, "ours.yaml:3", c.Where)
	assert.Equal(t, maybe.Just(jedec.Rate(2400)), c.Rate, "the generation may stand behind the figures that depend on it")
	assert.Equal(t, maybe.Just(jedec.Rate(2133)), c.Rates.Two)
	assert.Equal(t, maybe.Just(8192), c.DensityMbit)
	assert.Equal(t, maybe.None[bool](), c.X4, "not stated is not known")
	assert.Equal(t, catalogue.Medium, c.Confidence)
	assert.Empty(t, k.Controllers(catalogue.Processor{Brand: "Petrel P5-8240", Family: maybe.Just(6),
		Model: maybe.Just(1)}), "another model number")
	assert.NotEmpty(t, k.Controllers(catalogue.Processor{Brand: "Intel(R) Core(TM) i7-7500U CPU @ 2.70GHz"}),
		"the embedded ones are still there")

	chips := k.Chipsets("fafa:0c47")
	require.Len(t, chips, 1)
	assert.Equal(t, maybe.Just(true), chips[0].Overclock)
	named := k.ChipsetsNamed("x47")
	require.Len(t, named, 1)
	assert.Equal(t, "X47", named[0].Name)
	assert.Len(t, k.ChipsetsNamed("G31"), 1, "one of the names of an embedded row")
	assert.Len(t, k.ChipsetsNamed("intel 845"), 1)
	assert.Empty(t, k.ChipsetsNamed("no such"))
	assert.Empty(t, k.ChipsetsNamed(""))

	boards := k.Boards("groyne breakwater x")
	require.Len(t, boards, 1)
	assert.Equal(t, maybe.Just(16*jedec.GiB), boards[0].Slots[1].Most)
	assert.Equal(t, maybe.Just(4*jedec.GiB), boards[0].Soldered[0].Size)
	assert.Equal(t, []catalogue.BoardRate{{Modules: 2, Ranks: 2, Rate: 2666}}, boards[0].Rates)
	assert.Empty(t, k.Boards("Breakwater"), "a part of a name is another board")
	assert.Empty(t, k.Boards(""))
}

func TestWhatIsWrongIsNamedByLine(t *testing.T) {
	for _, c := range []struct{ entry, line, says string }{
		{"boards:\n  - names: x\n    basis: y\n    chanels: 2\n", "5",
			`unknown key "chanels" of a board; there are basis, clock_drivers`},
		{"boards:\n  - names: x\n    basis: y\n    generations: DDR4\n    rates: [{modules_per_channel: 1, rate: 333}]\n",
			"6", "DDR4 has no rate of 333 MT/s; there are 1600, 1866"},
		{"boards:\n  - names: x\n    basis: y\n    rates: [{modules_per_channel: 1, rate: 1200MHz}]\n", "5",
			"a clock in MHz is half of it"},
		{"boards:\n  - names: x\n    basis: y\n    per_slot: 7GB\n", "5", "7 GB: no module of that size is made"},
		{"boards:\n  - names: x\n    basis: y\n    per_slot: 16\n", "5", "a size with MB, GB or TB is wanted"},
		{"boards:\n  - names: x\n    maker: m\n    basis: y\n    maximum: 8GB\n    per_slot: 16GB\n", "3",
			"per_slot 16 GB is more than the maximum of 8 GB"},
		{"boards:\n  - names: x\n    maker: m\n    basis: y\n    slots: [{name: A}, {name: a}]\n", "3",
			`slot "a" stands twice`},
		{"boards:\n  - names: x\n", "3", "a board wants basis"},
		{"boards:\n  - names: x\n    basis: y\n    basis: z\n", "5", "stands twice"},
		{"boards:\n  - names: x\n    basis: y\n    profiles: perhaps\n", "5", "yes or no is wanted"},
		{"boards:\n  - names: x\n    basis: y\n    generations: DDR4\n    largest_die: 5Gbit\n", "6",
			"dies of 5Gbit are not made"},
		{"boards:\n  - names: x\n    basis: y\n    largest_die: 8\n", "5", "with Gbit or Mbit is wanted"},
		{"boards:\n  - names: x\n    basis: y\n    generations: DDR4\n    volts: 1.8\n", "6",
			"a supply of the generation in V is wanted"},
		{"boards:\n  - names: x\n    basis: y\n    ecc: perhaps\n", "5", "one of none, udimm"},
		{"boards:\n  - names: x\n    basis: y\n    takes: slot\n", "5", "DIMM, SO-DIMM"},
		{"boards:\n  - names: x\n    basis: y\n    generations: DDR9\n", "5", "is no generation"},
		{"boards: {names: x}\n", "2", "a list is wanted here"},
		{"boards: [x]\n", "2", "a board is a list of keys with values"},
		{"boards:\n  - names: x\n    basis: [y]\n", "4", "one value is wanted here"},
		{"chipsets:\n  - {name: x, basis: y, pci_ids: 8086}\n", "3", "is no PCI id"},
		{"chipsets:\n  - {name: x, basis: y, confidence: sure}\n", "3", "high, medium or low is wanted"},
		{"processors:\n  - {brand: '(', basis: y, takes: [{generation: DDR4}]}\n", "3", "brand: error parsing regexp"},
		{"processors:\n  - {brand: x, basis: y, takes: [{generation: DDR4, channels: 99}]}\n", "3",
			"a whole number from 1 to 16"},
		{"processors:\n  - {brand: x, basis: y}\n", "3", "a processor wants takes"},
		{"boards:\n  - &a {maker: m, names: x, basis: y}\n  - {maker: m, names: z, basis: *a}\n", "4", "write it out"},
		{"boards:\n\t- x\n", "3", "cannot start any token"},
	} {
		_, faults := catalogue.ParseOverlay("ours.yaml", []byte("epitome-catalogue: 1\n"+c.entry))
		if assert.NotEmpty(t, faults, c.entry) {
			assert.Contains(t, faults[0].Error(), "ours.yaml:"+c.line+": ", c.entry)
			assert.Contains(t, faults[0].Says, c.says, c.entry)
		}
	}
	for _, text := range []string{"", "epitome-catalogue: 2\n", "boards: []\n", "a: [", "x"} {
		_, faults := catalogue.ParseOverlay("ours.yaml", []byte(text))
		assert.NotEmpty(t, faults, "%q", text)
	}
	_, faults := catalogue.ParseOverlay("ours.yaml",
		[]byte("epitome-catalogue: 1\nboards:\n"+strings.Repeat("  - {x: 1}\n", 300)))
	assert.Less(t, len(faults), 60, "a file that is no overlay gives no endless report")
}

func TestABrokenEntryLeavesTheOthers(t *testing.T) {
	o, faults := catalogue.ParseOverlay("ours.yaml",
		[]byte("epitome-catalogue: 1\nboards:\n  - {maker: m, names: good, basis: manual}\n  - {maker: m, names: bad, "+
			"basis: manual, per_slot: 7GB}\n"))
	assert.Len(t, faults, 1)
	require.Len(t, o.Boards, 1)
	assert.Equal(t, []string{"good"}, o.Boards[0].Names)
}

func TestShadowsAreNamed(t *testing.T) {
	o, faults := catalogue.ParseOverlay("ours.yaml",
		[]byte("epitome-catalogue: 1\nprocessors:\n  - {brand: 'i7-7[56][0-9]{2}U', cpuid: {family: 6, models: [142]}, "+
			"basis: b, takes: [{generation: DDR4}]}\nchipsets:\n  - {name: X, pci_ids: '8086:1c4b', basis: b}\n"))
	require.Empty(t, faults)
	says := fmt.Sprint(catalogue.Catalogue{}.Shadows(o))
	assert.Contains(t, says, "embedded Kaby Lake-U (intel-kaby-lake-u)")
	assert.Contains(t, says, "HM67 (intel-hm67) by its id 8086:1c4b")
	assert.NotContains(t, says, "skylake")
	b, _ := catalogue.ParseOverlay("ours.yaml", []byte(petrel))
	again, _ := catalogue.ParseOverlay("again.yaml",
		[]byte("epitome-catalogue: 1\nboards: [{names: GBX, maker: Groyne, basis: b}]\n"))
	assert.Contains(t, fmt.Sprint(catalogue.Catalogue{}.With(b).Shadows(again)), "GBX of ours.yaml")
}

func TestTheListIsNarrowedByWords(t *testing.T) {
	o, _ := catalogue.ParseOverlay("ours.yaml", []byte(petrel))
	k := catalogue.Catalogue{}.With(o)
	all := k.Entries()
	assert.Equal(t, "ours.yaml:3", all[0].Where, "own entries first")
	assert.Len(t, all, 3+313+332+64)
	found := k.Entries("processor", "kaby", "ddr3l")
	assert.NotEmpty(t, found)
	for _, e := range found {
		assert.Contains(t, e.Generations, "DDR3L")
	}
	assert.Empty(t, k.Entries("no", "such"))
}

func TestAnEntryFromFlagsReadsBack(t *testing.T) {
	text, faults, err := catalogue.NewBoard(map[string][]string{
		"maker": {"Groyne"}, "name": {"GBX", "Tern 13, late"}, "generation": {"DDR4"}, "takes": {"SO-DIMM"}, "volts": {"1.2"},
		"slot": {"DIMM_A1, channel=A,order=2,maximum=16GB", "name=DIMM_B1"}, "rate": {"2x2=2666", "1=3200"},
		"ecc": {"udimm,rdimm"},
		"ran": {"total=64GB,times=2,when=2026-11-02"}, "basis": {"manual: page 3"},
	})
	require.NoError(t, err)
	require.Empty(t, faults)
	o, faults := catalogue.ParseOverlay("x.yaml", text)
	require.Empty(t, faults)
	b := o.Boards[0]
	assert.Equal(t, []string{"GBX", "Tern 13, late"}, b.Names, "a comma belongs to a name")
	assert.Equal(t, []catalogue.Slot{{Name: "DIMM_A1", Channel: "A", Order: 2, Most: maybe.Just(16 * jedec.GiB)},
		{Name: "DIMM_B1"}}, b.Slots)
	assert.Equal(t, []catalogue.BoardRate{{Modules: 2, Ranks: 2, Rate: 2666}, {Modules: 1, Rate: 3200}}, b.Rates)
	assert.Equal(t, maybe.Just([]string{"udimm", "rdimm"}), b.ECC)
	assert.Equal(t, "manual: page 3", b.Basis)
	assert.Equal(t, 2, b.Ran[0].Times)

	for flag, bad := range map[string][]string{"slot": {"channel=", "A,colour=red", "A,order="}, "rate": {"3200"}} {
		for _, text := range bad {
			_, _, err := catalogue.NewBoard(map[string][]string{"maker": {"m"}, "name": {"x"}, "basis": {"b"}, flag: {text}})
			assert.Error(t, err, text)
		}
	}
	_, faults, err = catalogue.NewBoard(map[string][]string{"maker": {"m"}, "name": {"x"}, "per-slot": {"7GB"},
		"basis": {"b"}})
	require.NoError(t, err)
	assert.Len(t, faults, 1)
}

// What show knows, add can write: rates by ranks and slots among it.
func TestAProcessorFromFlagsReadsBack(t *testing.T) {
	text, faults, err := catalogue.NewProcessor("petrel", map[string][]string{
		"family": {"Petrel"}, "brand": {"Petrel P[57]"}, "cpuid": {"6/0xC8/9"}, "generation": {"DDR5"}, "rate": {"5600"},
		"rate-dual-rank":    {"5200"},
		"rate-of-two-slots": {"4800"}, "rate-two-dual-rank": {"3600"}, "ranks-per-channel": {"4"}, "maximum": {"64GB"},
		"maximum-that-runs": {"96GB"},
		"ecc":               {"none"}, "basis": {"sheet"},
	})
	require.NoError(t, err)
	require.Empty(t, faults)
	o, faults := catalogue.ParseOverlay("x.yaml", text)
	require.Empty(t, faults)
	p := o.Processors[0]
	assert.Equal(t, []int{200}, p.CPUModels)
	c := p.Takes[0]
	assert.Equal(t, maybe.Just(jedec.Rate(5200)), c.Rates.OneDual)
	assert.Equal(t, maybe.Just(jedec.Rate(4800)), c.Rates.OneOfTwo)
	assert.Equal(t, maybe.Just(jedec.Rate(3600)), c.Rates.TwoDual)
	assert.Equal(t, maybe.None[jedec.Rate](), c.Rates.Two)
	assert.Equal(t, maybe.Just(4), c.ChannelRanks)
	assert.Equal(t, maybe.Just(96*jedec.GiB), c.Runs.Most)
	assert.Equal(t, maybe.Just([]string{}), c.ECC)
	_, _, err = catalogue.NewProcessor("petrel", map[string][]string{"cpuid": {"6"}})
	assert.ErrorContains(t, err, "FAMILY/MODEL/STEPPING")
	_, faults, _ = catalogue.NewProcessor("petrel",
		map[string][]string{"brand": {"x"}, "generation": {"DDR5"}, "rate": {"333"}, "basis": {"b"}})
	assert.Len(t, faults, 1)
}

// Whatever a file holds is written so that it reads back alike.
func TestAFileWrittenReadsBack(t *testing.T) {
	o, faults := catalogue.ParseOverlay("a.yaml", []byte(petrel))
	require.Empty(t, faults)
	o.Boards[0].Names = append(o.Boards[0].Names, "null", "~", "yes", "12")
	again, faults := catalogue.ParseOverlay("a.yaml", o.Encode())
	require.Empty(t, faults)
	assert.Equal(t, o.Boards[0].Names, again.Boards[0].Names)
	assert.Equal(t, string(o.Encode()), string(again.Encode()))
	assert.Contains(t, string(o.Encode()), "models: [199, 200]")
}

func TestTheTemplateWantsOnlyToBeFilledIn(t *testing.T) {
	blank := catalogue.Template()
	filled := strings.NewReplacer("names: []", "names: [GBX]", "- maker: ", "- maker: Groyne").Replace(blank)
	o, faults := catalogue.ParseOverlay("t.yaml", []byte(filled))
	assert.Empty(t, faults)
	assert.Len(t, o.Boards, 1)

	lines := strings.Split(strings.NewReplacer("processors: []", "processors:", `"vend:devi"`, `"1234:abcd"`, "brand: ",
		"brand: P", "name: ", "name: X",
		"basis:                   ", "basis: sheet", "confidence:              ",
		"confidence: low").Replace(blank[strings.Index(blank, "processors: []"):]), "\n")
	for i, line := range lines {
		if rest, ok := strings.CutPrefix(line, "#"); ok {
			lines[i] = " " + rest
		}
	}
	full := "epitome-catalogue: 1\n" + strings.Replace(strings.Join(lines, "\n"), "chipsets: []", "chipsets:", 1)
	o, faults = catalogue.ParseOverlay("t.yaml", []byte(full))
	assert.Empty(t, faults, full)
	require.Len(t, o.Processors, 1)
	assert.Equal(t, maybe.Just(jedec.Rate(2933)), o.Processors[0].Takes[0].Rates.Two)
	assert.Len(t, o.Chipsets, 1)
	for _, flags := range [][]catalogue.Flag{catalogue.BoardFlags(), catalogue.ProcessorFlags()} {
		for _, f := range flags {
			assert.NotEmpty(t, f.Doc, "%s has no word of what it is", f.Name)
		}
	}
}

// Every cell of the embedded tables is reached by an entry's name, but for expressions, which are nobody's to read.
func TestEveryCellIsReached(t *testing.T) {
	effort.NotShort(t)
	cells := 0
	for _, e := range (catalogue.Catalogue{}).Entries() {
		found := (catalogue.Catalogue{}).Named(firstSaid(e.ID, e.Name))
		require.False(t, found.Empty(), "%s %s", e.ID, e.Name)
		for _, c := range found.Controllers {
			cells += len(c.Cells())
		}
		for _, c := range found.Chipsets {
			cells += len(c.Cells())
		}
	}
	assert.Equal(t, filledCells(t, "controllers.csv")+filledCells(t, "chipsets.csv"), cells)
	assert.Len(t, (catalogue.Catalogue{}).Named("DDR4 SO-DIMM").Sold, len(catalogue.Market(jedec.DDR4, jedec.SODIMM)))
	assert.True(t, (catalogue.Catalogue{}).Named("").Empty())
	assert.True(t, (catalogue.Catalogue{}).Named("no such thing").Empty())
}

func firstSaid(texts ...string) string {
	for _, s := range texts {
		if s != "" {
			return s
		}
	}
	return ""
}

func filledCells(t *testing.T, file string) (n int) {
	f, err := os.Open(file)
	require.NoError(t, err)
	defer f.Close()
	rows, err := csv.NewReader(f).ReadAll()
	require.NoError(t, err)
	expressions := []string{"brand_regex", "only", "except", "tiers", "max_gb_tiers", "ecc_tiers", "channels_tiers"}
	led := slices.Index(rows[0], "controller_in")
	for _, row := range rows[1:] {
		for i, cell := range row {
			if cell != "" && !slices.Contains(expressions, rows[0][i]) && (led < 0 || row[led] == "") {
				n++
			}
		}
	}
	return n
}

// The schema of catalogue show has each field of the tables, with its kind.
func TestTheSchemaIsHeldToTheFields(t *testing.T) {
	text, err := os.ReadFile("../../docs/schema/catalogue.schema.json")
	require.NoError(t, err)
	var schema struct {
		Properties map[string]struct {
			Items struct {
				Properties map[string]any
			}
		}
	}
	require.NoError(t, json.Unmarshal(text, &schema))
	lists := make(map[string]map[string]any)
	for sort, list := range map[string]string{"chipset": "chipsets", "board": "boards", "system": "systems",
		"sold": "sold"} {
		lists[sort] = schema.Properties[list].Items.Properties
	}
	inside, ok := schema.Properties["processors"].Items.Properties["generations"].(map[string]any)
	require.True(t, ok)
	lists["generation"] = inside["items"].(map[string]any)["properties"].(map[string]any)
	for sort, fields := range catalogue.Schemas() {
		for key, kind := range fields["properties"].(map[string]any) {
			want, err := json.Marshal(kind)
			require.NoError(t, err)
			have, err := json.Marshal(lists[sort][key])
			require.NoError(t, err)
			assert.JSONEq(t, string(want), string(have), "%s of a %s", key, sort)
		}
	}
}

func TestRatesByPopulation(t *testing.T) {
	adl := catalogue.Recognise(catalogue.Processor{Brand: "12th Gen Intel(R) Core(TM) i7-12700K", Family: maybe.Just(6),
		Model: maybe.Just(0x97)})
	require.NotEmpty(t, adl)
	for _, c := range adl {
		if c.Generation != "DDR5" {
			continue
		}
		for _, x := range []struct {
			modules, ranks, slots int
			rate                  jedec.Rate
		}{{1, 1, 1, 4800}, {1, 1, 2, 4400}, {2, 1, 2, 4000}, {2, 2, 2, 3600}} {
			f := c.RateFor(catalogue.Population{Modules: x.modules, Ranks: maybe.Just(x.ranks), Slots: maybe.Just(x.slots)})
			assert.Equal(t, x.rate, f.Or(0), "%+v", x)
		}
		assert.False(t, c.RateFor(catalogue.Population{Modules: 3}).Known())
	}
	arl := catalogue.Recognise(catalogue.Processor{Brand: "Intel(R) Core(TM) Ultra 7 265K", Family: maybe.Just(6),
		Model: maybe.Just(0xC6)})
	require.NotEmpty(t, arl)
	assert.Equal(t, jedec.Rate(5600),
		arl[0].RateFor(catalogue.Population{Modules: 1, Ranks: maybe.Just(1), Slots: maybe.Just(1)}).Or(0),
		"without a clock driver")
	assert.Equal(t, jedec.Rate(6400),
		arl[0].RateFor(catalogue.Population{Modules: 1, Ranks: maybe.Just(1), Clocked: true, Slots: maybe.Just(1)}).Or(0))
}

func TestANorthbridgeIsAController(t *testing.T) {
	found := catalogue.ChipsetsWithID("8086:2e30") // G41
	require.Len(t, found, 1)
	list := found[0].Controllers()
	require.Len(t, list, 2)
	assert.Equal(t, "DDR2", list[0].Generation)
	assert.Equal(t, maybe.Just(jedec.Rate(800)), list[0].Rate)
	assert.Equal(t, maybe.Just(jedec.Rate(1066)), list[1].Rate)
	assert.Equal(t, maybe.Just(8*jedec.GiB), list[1].Most)
	old := catalogue.ChipsetsWithID("8086:3340")[0].Controllers()
	assert.Equal(t, maybe.Just(512), old[0].DensityMbit, "half a Gbit")
	assert.Empty(t, catalogue.ChipsetsWithID("8086:1c4b")[0].Controllers(), "a hub holds none")
}

func FuzzParseOverlay(f *testing.F) {
	f.Add([]byte(petrel))
	f.Add([]byte(catalogue.Template()))
	f.Fuzz(func(t *testing.T, text []byte) {
		o, faults := catalogue.ParseOverlay("x.yaml", text)
		for _, x := range faults {
			require.Positive(t, x.Line)
			require.NotContains(t, x.Says, "\x1b")
		}
		catalogue.Catalogue{}.With(o).Entries("x")
	})
}
