package propose

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/golden"
	"epitome/truth"
)

// What is ordinarily sold for machines of each generation, form and kind, by the rate that they run: every
// specification with its text, its times and what it costs beside the others, and what is proposed of them.
func TestWhatIsSoldForEachKindOfMachine(t *testing.T) {
	var page golden.Page
	for _, c := range []struct{ takes, form, holds string }{
		{"generation: SDR, rate: 133, maximum: 1GB, ecc: none", "DIMM", "256MB PC133 DIMM"},
		{"generation: DDR, rate: 400, maximum: 4GB, ecc: none, x16: yes, x4: no", "DIMM", "512MB PC3200U"},
		{"generation: DDR, rate: 333, maximum: 2GB, ecc: none", "SO-DIMM", "512MB DDR-333 SO-DIMM"},
		{"generation: DDR2, rate: 800, maximum: 8GB, ecc: none", "DIMM", "1GB 2Rx8 PC2-6400U-666-12-E0"},
		{"generation: DDR2, rate: 667, maximum: 4GB, ecc: none", "SO-DIMM", "1GB 2Rx8 PC2-5300S-555-12-E0"},
		{"generation: DDR2, rate: 667, maximum: 16GB, ecc: rdimm, x4: yes", "DIMM", "1GB 2Rx8 PC2-5300P-555-12-E0"},
		{"generation: DDR3, rate: 1600, maximum: 32GB, ecc: none, volts: [1.35, 1.5]", "DIMM",
			"4GB 2Rx8 PC3-12800U-11-13-B1"},
		{"generation: DDR3, rate: 1333, maximum: 32GB, ecc: udimm, volts: 1.5", "DIMM", "4GB 2Rx8 PC3-10600E-9-13-E3"},
		{"generation: DDR3, rate: 1333, maximum: 64GB, ecc: rdimm, x4: yes, volts: 1.5", "DIMM",
			"4GB 1Rx4 PC3-10600R-9-13-C1"},
		{"generation: DDR3, rate: 1600, maximum: 16GB, ecc: none, volts: 1.35", "SO-DIMM", "4GB 1Rx8 PC3L-12800S-11-13-B4"},
		{"generation: DDR4, rate: 2133, maximum: 64GB, ecc: none", "DIMM", "8GB 1Rx8 PC4-2133P-UA2-11"},
		{"generation: DDR4, rate: 3200, maximum: 128GB, ecc: none", "DIMM", "8GB 1Rx8 PC4-3200AA-UA2-11"},
		{"generation: DDR4, rate: 2666, maximum: 64GB, ecc: udimm", "DIMM", "8GB 1Rx8 PC4-2666V-EA2-11"},
		{"generation: DDR4, rate: 2666, maximum: 512GB, ecc: rdimm, x4: yes", "DIMM", "8GB 1Rx8 PC4-2666V-RD1-11"},
		{"generation: DDR4, rate: 2400, maximum: 32GB, ecc: none", "SO-DIMM", "8GB 1Rx8 PC4-2400T-SA1-11"},
		{"generation: DDR4, rate: 2400, maximum: 32GB, ecc: so-dimm-ecc", "SO-DIMM", "8GB 1Rx8 PC4-2400T-TA1-11"},
		{"generation: DDR5, rate: 4800, maximum: 128GB, ecc: none", "DIMM", "16GB 1Rx8 PC5-4800B-UA0-1010-XT"},
		{"generation: DDR5, rate: 5600, maximum: 96GB, ecc: none", "SO-DIMM", "16GB 1Rx8 PC5-5600B-SA0-1010-XT"},
		{"generation: DDR5, rate: 4800, maximum: 128GB, ecc: udimm", "DIMM", "16GB 1Rx8 PC5-4800B-EA0-1010-XT"},
	} {
		m, l := truth.InHand("", c.form, c.takes+", channels: 2, slots_per_channel: 1", c.holds).Machine(t)
		s, err := survey(m, l, Goal{Reach: maybe.Just(jedec.Capacity(1))})
		require.NoError(t, err, c.takes)
		var lines []string
		for _, o := range s.specifications() {
			line := fmt.Sprintf("%s for %v", o.Text, o.Price)
			if o.Rare {
				line += ", rare"
			}
			if i := slices.IndexFunc(jedec.Bins(o.Stick.Grade().Or(jedec.Grade{})), func(b jedec.Bin) bool {
				return b.TAA == o.Stick.Times.TAA.Or(0)
			}); i < 0 && o.Stick.Times.TAA.Known() && len(jedec.Bins(o.Stick.Grade().Or(jedec.Grade{}))) > 0 {
				line += fmt.Sprintf(", tAA %v of no bin", o.Stick.Times.TAA.Or(0))
			}
			lines = append(lines, line)
		}
		for n := range 2 {
			have := m.Have()
			r, err := Search(m, l, Goal{Reach: maybe.Just(have << (n + 1))}, nil)
			said := fmt.Sprintf("%v: ", have<<(n+1))
			for _, p := range slices.Concat(r.Proposals, r.Unproven) {
				said += fmt.Sprintf("%v %v%v; ", p.Picks, p.Trial.Verdict, p.Buys)
			}
			if err != nil {
				said += err.Error()
			}
			lines = append(lines, said)
		}
		page.Add(fmt.Sprintf("%s, %s, %s", c.takes, c.form, c.holds), lines...)
	}
	page.Compare(t, "testdata/specifications.txt")
}
