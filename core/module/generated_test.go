package module_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/truth/effort"
)

// listingParts are what sellers write, by what it says; the empty text is left out.
var listingParts = [][]string{
	{"8GB", "16 GB", "4GB", "2x8GB", "8GB x2", "2 x 16 GB", "kit of 2 8GB", "32GB (2x16GB)", "16384MB", "8 gig", "64GB",
		"512MB", "1x8GB", "8GB+8GB", "3x4GB", "8GB 1Gx64", "4GB 512Mx64", "8GB 1Gx8", "4x8GB", "1.5GB", "8x16GB", "8G",
		"2GB", ""},
	{"DDR4", "DDR4", "DDR3", "DDR3L", "DDR5", "DDR2", "ddr 4", "DDR-4", "DDR4 SDRAM", "LPDDR4", "SDRAM", ""},
	{"2400", "2400MHz", "3200 MT/s", "PC4-19200", "PC4-2400T", "PC3-12800", "PC3L-12800S", "1600MHz", "DDR4-2666", "2666V",
		"PC4-25600", "3600MHz", "5600", "4800MHz", "800MHz", "PC2-6400", "1333", "2133P", "PC400", "PC4000", "1200 MHz",
		"PC4 2400T", "2400-2666", "up to 3200MHz", "2933Y", "PC4-21300 2666", ""},
	{"SO-DIMM", "SODIMM", "UDIMM", "DIMM", "laptop", "desktop memory", "RDIMM", "ECC UDIMM", "260-pin", "288 pin",
		"204pin", "notebook", "server", "LRDIMM", "CUDIMM", "for Mini-PC", ""},
	{"1Rx8", "2Rx8", "1Rx16", "single rank", "dual rank x8", "2Rx4", "2R x 8", "", "", ""},
	{"CL17", "CL 22", "C16", "CL16-18-18-38", "17-17-17", "CAS 15", "CL40", "16-20-20", "", "", ""},
	{"1.2V", "1.35V", "1,5 V", "1.35 V / 1.5 V", "1.68V", "1.69V", "1.1V", "low voltage", "", "", "", ""},
	{"ECC", "non-ECC", "non ECC unbuffered", "registered", "unbuffered", "Reg ECC", "without ECC", "on-die ECC", "", "",
		"", ""},
	{"used", "refurbished", "new", "tested", "not working", "as new", "", "", "", "", ""},
	{"MR4S-8G24-17", "Marram", "RGB", "with heatsink", "(lot of 4)", "pair", "upgrade", "RAM", "memory module", "ram kit",
		"compatible", "2 pcs", "matched", "single", "for Gull 14", "", "", "", ""},
}

// listingByChance is what a seller writes, by part, and as one text.
func listingByChance(r *rand.Rand) (parts []string, text string) {
	var written []string
	for _, part := range listingParts {
		word := part[r.IntN(len(part))]
		parts = append(parts, word)
		if word != "" {
			written = append(written, word)
		}
	}
	if r.IntN(3) == 0 {
		r.Shuffle(len(written), func(i, j int) { written[i], written[j] = written[j], written[i] })
	}
	return parts, strings.Join(written, []string{" ", " ", " ", ", ", " - ", "/", "_"}[r.IntN(7)])
}

// What a listing states is what its words say: a size, a generation, a form, ranks, check bits and a supply that are
// written are never read as something else, in whatever order; and what can't be is refused with the text named.
func TestAListingByChanceSaysWhatItsWordsSay(t *testing.T) {
	r := rand.New(rand.NewPCG(23, 13))
	read := 0
	says := map[string]map[string]string{ // what a part says, where only one reading is right
		"generation": {"DDR4": "DDR4", "DDR3": "DDR3", "DDR3L": "DDR3", "DDR5": "DDR5", "DDR2": "DDR2", "ddr 4": "DDR4",
			"DDR-4": "DDR4", "LPDDR4": "LPDDR4"},
		"form": {"SO-DIMM": "SO-DIMM", "SODIMM": "SO-DIMM", "UDIMM": "DIMM", "DIMM": "DIMM", "RDIMM": "DIMM",
			"260-pin": "SO-DIMM",
			"204pin":  "SO-DIMM", "LRDIMM": "DIMM", "CUDIMM": "DIMM"},
		"ranks": {"1Rx8": "1", "2Rx8": "2", "1Rx16": "1", "2Rx4": "2", "dual rank x8": "2", "2R x 8": "2"},
		"ecc": {"ECC": "true", "non-ECC": "false", "non ECC unbuffered": "false", "Reg ECC": "true",
			"without ECC": "false"},
	}
	size := map[string]jedec.Capacity{"8GB": 8, "16 GB": 16, "4GB": 4, "2x8GB": 8, "8GB x2": 8, "2 x 16 GB": 16,
		"kit of 2 8GB": 8, "32GB (2x16GB)": 16, "16384MB": 16, "8 gig": 8, "64GB": 64, "1x8GB": 8, "3x4GB": 4, "4x8GB": 8,
		"2GB": 2}
	for range effort.Cases(6000) {
		parts, text := listingByChance(r)
		m, err := module.Parse(text)
		if err != nil {
			assert.Contains(t, err.Error(), `"`, text)
			continue
		}
		read++
		if want, ok := size[parts[0]]; ok && m.Capacity.Known() { // "kit", "lot of 4": the size may be that of all
			assert.Contains(t, []jedec.Capacity{want * jedec.GiB, want * jedec.GiB / jedec.Capacity(m.Pieces.Or(1))},
				m.Capacity.Or(0), text)
		}
		for what, got := range map[string]string{
			"generation": maybe.Map(m.Generation.Value(), jedec.Generation.String).Or(""),
			"form":       maybe.Map(m.Form.Value(), jedec.Form.String).Or(""), "ranks": fmt.Sprint(m.Ranks.Or(0)),
			"ecc": fmt.Sprint(m.ECC.Or(false))} {
			for _, part := range parts {
				if want, ok := says[what][part]; ok && (what != "ecc" || m.ECC.Known()) && (what != "form" || m.Form.Known()) {
					assert.Equal(t, want, got, "%s of %q", what, text)
				}
			}
		}
		assert.NotContains(t, m.Passed, "8gb", text)
	}
	assert.Greater(t, read, effort.Cases(6000)/12)
}

// Capitals and blanks say nothing.
func TestCapitalsAndBlanksOfAListingSayNothing(t *testing.T) {
	r := rand.New(rand.NewPCG(23, 14))
	for range effort.Cases(2000) {
		_, text := listingByChance(r)
		if strings.ContainsAny(text, "/_") {
			continue
		}
		want := whole(text)
		if strings.HasPrefix(want, "-") {
			continue
		}
		m, err := module.Parse(text)
		require.NoError(t, err)
		for _, other := range []string{strings.ToUpper(text), "  " + strings.ReplaceAll(text, " ", "  ") + " "} {
			again, err := module.Parse(other)
			if assert.NoError(t, err, "%q of %q", other, text) {
				assert.Equal(t, short(m), short(again), "%q of %q", other, text)
			}
		}
	}
}
