package catalogue

import (
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// familiesOf are the families that a processor fits, those that their chipset leads among them.
func familiesOf(p Processor) (ids []string) {
	for _, f := range familiesBy(p.maker()) {
		if id := f.row.text("id"); f.isOf(p) && !slices.Contains(ids, id) {
			ids = append(ids, id)
		}
	}
	return ids
}

// Each brand string finds one family, however its blanks are written, by the maker that the processor names and by the
// string alone.
func TestEachBrandStringFindsOneFamily(t *testing.T) {
	text, err := os.ReadFile("brands.txt")
	require.NoError(t, err)
	tried, unnamed := 0, []string(nil)
	for line := range strings.Lines(string(text)) {
		cells := strings.Split(strings.TrimRight(line, "\n"), "|")
		if strings.HasPrefix(line, "#") || len(cells) != 5 {
			continue
		}
		family, err1 := strconv.ParseInt(cells[1], 16, 32)
		model, err2 := strconv.ParseInt(cells[2], 16, 32)
		require.NoError(t, err1)
		require.NoError(t, err2)
		p := Processor{Maker: cells[3], Brand: cells[0], Family: maybe.Just(int(family)), Model: maybe.Just(int(model))}
		got := familiesOf(p)
		require.Len(t, got, 1, line)
		if cells[4] != "" {
			assert.Equal(t, cells[4], got[0], line)
		}
		tried++
		if p.Maker = ""; !slices.Equal(familiesOf(p), got) {
			unnamed = append(unnamed, cells[0])
		}
		p.Maker = cells[3]
		single := strings.Join(strings.Fields(cells[0]), " ")
		for _, written := range []string{single, "   " + cells[0] + "   "} {
			p.Brand = written
			assert.Equal(t, got, familiesOf(p), written)
		}
	}
	assert.Equal(t, 296, tried)
	assert.Empty(t, unnamed, "which maker is theirs nothing tells")
}

// topRates are the highest that a generation has anywhere, MT/s.
var topRates = map[string]int{"DDR": 400, "DDR2": 1066, "DDR3": 2133, "DDR3L": 2133, "DDR4": 3200, "DDR5": 8800,
	"LPDDR3": 2133, "LPDDR4": 3200, "LPDDR4X": 4267, "LPDDR5": 6400, "LPDDR5X": 9600}

// A family that its chipset leads says no limit; no other one says a rate that its generation does not have.
func TestTheCellsOfControllers(t *testing.T) {
	led := 0
	for _, r := range controllerRows() {
		if r.led() {
			led++
			for _, c := range []string{"generation", "channels", "rate_1dpc", "max_gb", "volts", "ecc"} {
				assert.Empty(t, r.text(c), "%s: %s", r.text("id"), c)
			}
			for _, id := range r.list("pairs_with") {
				assert.True(t, slices.ContainsFunc(chipsetRows(), func(c row) bool { return c.text("id") == id }), id)
			}
			continue
		}
		assert.Empty(t, r.text("controller_in"), r.text("id"))
		top, known := topRates[r.text("generation")]
		require.True(t, known, r.text("generation"))
		rates := []string{}
		for _, tier := range r.tiers("tiers") {
			rates = append(rates, tier.value)
		}
		for _, c := range []string{"rate_1dpc", "rate_1dpc_2r", "rate_1dpc_plain", "rate_1dpc_2slot", "rate_2dpc",
			"rate_2dpc_2r"} {
			rates = append(rates, r.text(c))
		}
		for _, x := range rates {
			n, _ := strconv.Atoi(x)
			assert.LessOrEqual(t, n, top, "%s %s", r.text("id"), r.text("generation"))
		}
		if channels, bus := r.text("channels"), r.text("bus_bits"); channels != "" && bus != "" {
			n, _ := strconv.Atoi(channels)
			assert.Equal(t, strconv.Itoa(64*n), bus, r.text("id"))
		}
		assert.False(t, strings.HasPrefix(r.text("generation"), "LP") && r.text("dimms_per_channel") != "", r.text("id"))
	}
	assert.Equal(t, 22, led)
}

// What a chipset says by generation is of its own generations; an id that two carry is said to be shared by both.
func TestTheCellsOfChipsets(t *testing.T) {
	byID := make(map[string][]row)
	for _, r := range chipsetRows() {
		for _, c := range []string{"rate_by_gen", "max_by_gen", "volts_by_gen"} {
			for _, tier := range r.tiers(c) {
				assert.Contains(t, r.list("generations"), tier.key, "%s %s", r.text("id"), c)
				if n, _ := strconv.Atoi(tier.value); c == "rate_by_gen" {
					assert.LessOrEqual(t, n, topRates[tier.key], r.text("id"))
				}
			}
		}
		assert.False(t, r.text("volts") != "" && len(r.list("generations")) > 1, r.text("id"))
		for _, id := range r.list("pci_ids") {
			byID[id] = append(byID[id], r)
		}
	}
	for id, rows := range byID {
		for _, a := range rows {
			said := ""
			for _, tier := range a.tiers("shared_ids") {
				if tier.key == id {
					said = tier.value
				}
			}
			for _, b := range rows {
				if a.text("id") != b.text("id") {
					assert.Contains(t, strings.Split(said, "|"), b.text("id"), "%s of %s", id, a.text("id"))
				}
			}
		}
	}
}

// A processor whose controller is in the chipset is recognised, says no limit, and never hides the northbridge; of
// several that one id stands for, that which such processors are built with is meant.
func TestTheChipsetLeads(t *testing.T) {
	atom := Processor{Brand: "Intel(R) Atom(TM) CPU N270   @ 1.60GHz", Family: maybe.Just(6), Model: maybe.Just(0x1C)}
	assert.Empty(t, Catalogue{}.Controllers(atom))
	led, ok := Catalogue{}.led(atom).Get()
	require.True(t, ok)
	assert.Equal(t, "intel-diamondville", led.ID)
	assert.Contains(t, led.Pairs, "intel-945gse")
	for name, x := range map[string]struct {
		chipsets []Chipset
		volts    int
	}{
		"of one generation": {Catalogue{}.ChipsetsNamed("945GSE"), 1800},
		"DDR2 of two":       {Catalogue{}.ChipsetsNamed("P35"), 1800},
	} {
		require.NotEmpty(t, x.chipsets, name)
		require.NotEmpty(t, x.chipsets[0].Controllers(), name)
		assert.Equal(t, []int{x.volts}, x.chipsets[0].Controllers()[0].MilliVolts, name)
	}
	kinds, known := Catalogue{}.ChipsetsNamed("5000P")[0].Controllers()[0].ECC.Get()
	assert.True(t, known)
	assert.Equal(t, []string{"fbdimm"}, kinds)
	for _, r := range controllerRows() {
		if reported := r.text("reported_as"); reported != "" {
			_, _, real := jedec.ParseGeneration(reported)
			assert.True(t, real, reported)
		}
	}
}
