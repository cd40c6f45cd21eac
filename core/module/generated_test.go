package module_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"epitome/golden"
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

// Listings by chance: what sellers write, in any order, with any blanks, and what comes of it.
func TestListingsByChance(t *testing.T) {
	var page strings.Builder
	r := rand.New(rand.NewPCG(23, 13))
	for range 1600 {
		var words []string
		for _, part := range listingParts {
			if word := part[r.IntN(len(part))]; word != "" {
				words = append(words, word)
			}
		}
		if r.IntN(3) > 0 {
			words = words[:min(len(words), 3+r.IntN(4))]
		}
		if r.IntN(3) == 0 {
			r.Shuffle(len(words), func(i, j int) { words[i], words[j] = words[j], words[i] })
		}
		text := strings.Join(words, []string{" ", " ", " ", ", ", " - ", "/", "_"}[r.IntN(7)])
		switch r.IntN(8) {
		case 0:
			text = strings.ToUpper(text)
		case 1:
			text = strings.ToLower(text)
		}
		fmt.Fprintf(&page, "%s\t%s\n", text, whole(text))
	}
	golden.Compare(t, "testdata/generated.tsv", page.String())
}
