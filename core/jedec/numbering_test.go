package jedec_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
)

// eachCode reads a number with each of some codes in place of its %s: "code:what it comes to", apart by blanks; "no" is
// no reading at all.
func eachCode(t *testing.T, number, codes string, of func(jedec.PartReading) string) {
	t.Helper()
	for pair := range strings.FieldsSeq(codes) {
		code, want, _ := strings.Cut(pair, ":")
		whole, got := fmt.Sprintf(number, code), "no"
		if p, ok := jedec.ReadPart(whole); ok {
			got = of(p)
		}
		assert.Equal(t, want, got, whole)
	}
}

// Every code of the three makers' published numbering guides, and codes that they do not have: what is no code of
// theirs is no reading, and a speed that is none leaves the rest standing. The parts themselves are made up.
func TestEveryCodeOfTheNumberingGuides(t *testing.T) {
	for _, c := range []struct {
		number string // with the code in place of %s
		codes  string // code:what it comes to
	}{
		{"M378T9999ZZ9-C%s", "E6:DDR2-667/5 E7:DDR2-800/5 F7:DDR2-800/6 F8:DDR2-1066/7 XX:-"},
		{"M471B9999ZZ9-C%s", "F8:DDR3-1066/7 H9:DDR3-1333/9 K0:DDR3-1600/11 MA:DDR3-1866/13 NB:DDR3-2133/14 XX:-"},
		{"M471A9Z99ZZ9-C%s", "PB:DDR4-2133/15 RC:DDR4-2400/17 TD:DDR4-2666/19 VF:DDR4-2933/21 WE:DDR4-3200/22 QK:-"},
		{"M425R9ZZ9ZZ9-C%s", "QK:DDR5-4800/40 WM:DDR5-5600/46 ZZ:-"},
		{"HMT999S6ZFR8C-%s", "G7:DDR3-1066/7 H9:DDR3-1333/9 PB:DDR3-1600/11 RD:DDR3-1866/13 TE:DDR3-2133/14 XX:-"},
		{"HMA99GS6ZFR8N-%s", "TF:DDR4-2133/15 UH:DDR4-2400/17 VK:DDR4-2666/19 WM:DDR4-2933/21 XN:DDR4-3200/22 G7:-"},
		{"MT9JZZ51264HZ-%s", "1G1:DDR3-1066/7 1G4:DDR3-1333/9 1G6:DDR3-1600/11 1G9:DDR3-1866/13 9G9:-"},
		{"MTA9ZZZ1G64HZ-%s", "2G1:DDR4-2133/15 2G3:DDR4-2400/17 2G6:DDR4-2666/19 2G9:DDR4-2933/21 3G2:DDR4-3200/22 1G2:-"},
		{"MTC9Z9999S1UC1G64HZ-%s", "48B:no"}, // not how that maker writes them
		{"MTC9ZZZ1G64HZ-%s", "48B:DDR5-4800/40 56B:DDR5-5600/46 99B:-"},
	} {
		eachCode(t, c.number, c.codes, func(p jedec.PartReading) string {
			if x, known := p.Grade.Get(); known {
				return fmt.Sprintf("%v/%v", x, p.CL.Or(0))
			}
			return "-"
		})
	}
	kinds := map[jedec.Kind]string{jedec.Unbuffered: "plain", jedec.UnbufferedECC: "ecc", jedec.RegisteredECC: "reg",
		jedec.LoadReduced: "lr"}
	for _, c := range []struct{ number, codes string }{
		{"M%sA9Z99ZZ9-CRC", "378:DIMM/plain 391:DIMM/ecc 393:DIMM/reg 386:DIMM/lr 470:SO-DIMM/plain 471:SO-DIMM/plain " +
			"474:SO-DIMM/ecc 323:DIMM/plain 324:DIMM/ecc 321:DIMM/reg 425:SO-DIMM/plain 999:no"},
		{"HMA99G%sZFR8N-UH", "U6:DIMM/plain S6:SO-DIMM/plain U7:DIMM/ecc S7:SO-DIMM/ecc R7:DIMM/reg L7:DIMM/lr T8:no"},
		{"MTA9ZZZ1G64%s-2G3", "AZ:DIMM/plain HZ:SO-DIMM/plain HDZ:SO-DIMM/plain PZ:DIMM/reg PDZ:DIMM/reg LZ:DIMM/lr AKZ:no"},
		{"MTA9ZZZ1G72%s-2G3", "AZ:DIMM/ecc HZ:SO-DIMM/ecc PZ:DIMM/reg"},
	} {
		eachCode(t, c.number, c.codes, func(p jedec.PartReading) string { return p.Form.String() + "/" + kinds[p.Kind] })
	}
	for number, want := range map[string]string{ // voltage class, size, chip width
		"M471B9999ZZ9-CK0": "0 mV - -", "M471B9999ZZ9-YK0": "1350 mV - -", "M471A9Z99ZZ9-CRC": "1200 mV - -",
		"M378T9999ZZ9-CE6": "1800 mV - -", "M425R9ZZ9ZZ9-CQK": "1100 mV - -", "HMT999S6ZFR8C-PB": "0 mV - 8",
		"HMA99GS6ZFR8N-UH": "1200 mV - 8", "HMA99GR7ZFR4N-UH": "1200 mV - 4", "MT9JZZ51264HZ-1G6": "1500 mV 4 GB -",
		"MT9KZZ51264HZ-1G6": "1350 mV 4 GB -", "MTA9ZZZ1G64HZ-2G3": "1200 mV 8 GB -", "MTA99ZZZ2G64HZ-2G3": "1200 mV 16 GB -",
		"MTA9ZZZ25664HZ-2G3": "1200 mV 2 GB -", "MTC9ZZZ1G64HZ-48B": "1100 mV 8 GB -", "MT9JZZ12864HZ-1G6": "1500 mV 1 GB -",
	} {
		p, ok := jedec.ReadPart(number)
		require.True(t, ok, number)
		size, width := "-", "-"
		if c, known := p.Capacity.Get(); known {
			size = c.String()
		}
		if w, known := p.Width.Get(); known {
			width = fmt.Sprint(w)
		}
		assert.Equal(t, want, fmt.Sprintf("%d mV %s %s", p.MilliVolts, size, width), number)
	}
	for _, none := range []string{"", "M471", "HMA99GS6ZF", "X471A9Z99ZZ9-CRC", "MTA9ZZZ1G64HZ-2G3-AND-SO-ON-AND-ON-AND",
		"m471a9z99zz9-crc", "M471X9Z99ZZ9-CRC"} {
		_, ok := jedec.ReadPart(none)
		assert.False(t, ok, none)
	}
}
