package docket_test

import (
	"cmp"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"epitome/core/docket"
	"epitome/golden"
	"epitome/truth"
)

// Slips for machines of every kind and generation, with every sort of module: each word of them.
func TestSlips(t *testing.T) {
	for n, m := range []struct{ kind, form, takes, holds, puts string }{
		{"laptop", "SO-DIMM", ddr4, "8GB 1Rx8 PC4-2400T-SA1-11",
			"8GB 1Rx8 PC4-2400T-SA1-11|8GB 1Rx8 PC4-3200AA-SA2-11|16GB 2Rx8 PC4-2666V-SE1-11|4GB 1Rx16 PC4-2133P-SC0-10|" +
				"16GB DDR4-3200 SO-DIMM|8GB DDR4 SO-DIMM|8GB 1Rx8 PC4-2400T-TA1-11"},
		{"desktop", "DIMM", strings.Replace(ddr4, "volts: 1.2", "volts: 1.2, rate_two_modules: 2133", 1),
			"8GB 1Rx8 PC4-2400T-UA2-11",
			"8GB 1Rx8 PC4-2400T-UA2-11|16GB 2Rx8 PC4-3200AA-UB1-11|8GB 1Rx8 PC4-2400T-EA1-11|" +
				"8GB DDR4-3600 CL18 1Rx8 UDIMM 1.35V|8GB 2Rx8 DDR4-2400 UDIMM"},
		{"server", "DIMM", strings.Replace(ddr4, "ecc: none", "ecc: [udimm, rdimm]", 1), "8GB 1Rx8 PC4-2400T-RA1-11",
			"8GB 1Rx8 PC4-2400T-RA1-11|16GB 2Rx4 PC4-2400T-RA1-11|8GB 1Rx8 PC4-2400T-EA1-11"},
		{"all-in-one", "SO-DIMM", "generation: DDR3, channels: 2, slots_per_channel: 1, rate: 1600, rate_dual_rank: 1600, " +
			"maximum: 16GB, largest_die: 4Gbit, x4: no, x16: yes, ecc: none, volts: [1.35, 1.5]",
			"4GB 1Rx8 PC3L-12800S-11-13-B4",
			"4GB 1Rx8 PC3L-12800S-11-13-B4|4GB 1Rx8 PC3-12800S-11-13-B4|8GB 2Rx8 PC3L-12800S-11-13-F3|" +
				"8GB 2Rx8 PC3-10600S-9-10-F3|4GB DDR3 SO-DIMM"},
		{"mini", "SO-DIMM", "generation: DDR5, channels: 2, slots_per_channel: 1, rate: 5600, rate_dual_rank: 5600, " +
			"maximum: 96GB, largest_die: 24Gbit, x4: no, x16: yes, ecc: none, volts: 1.1", "8GB 1Rx16 PC5-4800B-SC0-1010-XT",
			"8GB 1Rx16 PC5-4800B-SC0-1010-XT|16GB 1Rx8 PC5-5600B-SA0-1010-XT|32GB 2Rx8 PC5-5600B-SB0-1010-XT|" +
				"24GB 1Rx8 PC5-5600B-SA0-1010-XT"},
		{"other", "DIMM", "generation: DDR2, channels: 2, slots_per_channel: 1, rate: 800, rate_dual_rank: 800, " +
			"maximum: 8GB, largest_die: 1Gbit, x4: no, x16: yes, ecc: none, volts: 1.8", "1GB 1Rx8 PC2-6400U-666-12-D3",
			"1GB 1Rx8 PC2-6400U-666-12-D3|2GB 2Rx8 PC2-5300U-555-12-E1|512MB 1Rx16 PC2-5300U-555-12-C1"},
		{"other", "SO-DIMM", ddr4, "8GB 1Rx8 PC4-2400T-SA1-11", "8GB 1Rx8 PC4-2400T-SA1-11"},
		{"", "DIMM", ddr4, "8GB 1Rx8 PC4-2400T-UA2-11", "8GB 1Rx8 PC4-2400T-UA2-11"},
		{"", "", ddr4, "8GB DDR4-2400", "8GB DDR4-2400|8GB 1Rx8 PC4-2400T-UA2-11"},
		{"laptop", "SO-DIMM", strings.Replace(ddr4, "rate: 2400, rate_dual_rank: 2400, ", "", 1), "8GB DDR4-2400 SO-DIMM",
			"8GB 1Rx8 PC4-2400T-SA1-11|16GB 2Rx8 PC4-2666V-SE1-11"},
	} {
		var page golden.Page
		page.Add(fmt.Sprintf("%s, %s, %s", m.kind, m.form, m.takes))
		for i, put := range strings.Split(m.puts, "|") {
			at, limits := truth.InHand(m.kind, m.form, m.takes, m.holds).Machine(t)
			for nth, w := range []docket.Way{
				{Put: []docket.Put{{Place: "B", Stick: put}}, Buys: []docket.Bought{{Units: 1, Pieces: 1, Text: put}}},
				{Pull: []string{"A"},
					Put:  []docket.Put{{Place: "A", Stick: put, SKU: "HP-1"}, {Place: "B", Stick: put, SKU: "HP-1"}},
					Buys: []docket.Bought{{Units: 1, Pieces: 2, Text: put, SKU: "HP-1", State: "used", Price: "9.00"}},
					Cost: "9.00"},
				{Put: []docket.Put{{Place: "B", From: "A"}, {Place: "A", Stick: put}},
					Buys: []docket.Bought{{Units: 2, Pieces: 1, Text: put, Supplier: "harbour"}}},
			} {
				if i > 2 || i > 0 && nth != i%3 || nth == 1 && n > 3 {
					continue // of the first stick every way, of three others one
				}
				var lines []string
				say := func(line string, args ...any) { lines = append(lines, fmt.Sprintf(line, args...)) }
				d, err := docket.Make(docket.Input{Machine: at, Limits: limits, Way: w, Currency: "EUR"})
				require.NoError(t, err, put)
				say("%v: %s, %s; costs %q; fit %q; waits for %q", d.Verdict, d.Machine, d.Board, d.Cost, d.Fit, d.Waits)
				for _, i := range d.Items {
					say("%d of %s; %q %q; %q; written %q", i.Units, i.What, i.Order, i.Price, i.Facts, i.Spellings)
					for _, c := range i.Accept {
						say("  accept %s: %s", c.What, c.Because)
					}
					for _, c := range i.Avoid {
						say("  avoid %s: %s", c.What, c.Because)
					}
				}
				for _, x := range d.Expect {
					say("  expect %s: %s", x[0], x[1])
				}
				for _, step := range d.Handling {
					if i == 0 && nth == 0 { // they are the machine's
						say("  %s", step)
					}
				}
				page.Add(fmt.Sprintf("%s, pulled %v", put, w.Pull), lines...)
			}
		}
		page.Compare(t, fmt.Sprintf("testdata/slips/%d-%s.txt", n+1, cmp.Or(m.kind, "unknown")))
	}
}
