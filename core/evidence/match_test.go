package evidence

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/card"
	"epitome/core/jedec"
	"epitome/core/reading"
	"epitome/core/smbios/compose"
	spd "epitome/core/spd/compose"
)

func eeprom(address, serial, part string) card.Reading {
	image := spd.DDR4{Type: 3, DensityCode: 5, Ranks: 1, WidthCode: 1, TCK: 833, TAA: 14160, TRCD: 14160, TRP: 14160,
		TRAS: 32000, TRC: 46160, FirstCL: 10, LastCL: 18, Height: 30,
		Identity: spd.Identity{Maker: jedec.MakerCode{Bank: 1, Code: 0x4E}, Part: part, Serial: serial, Year: 0x21,
			Week: 0x10}}
	return card.Reading{Kind: card.SPD, Address: address, Source: address, Data: image.Bytes()}
}

// pairsOf says which EEPROM is of which place: "P1=0x50", with "?" where it may be another one alike.
func pairsOf(eeproms []card.Reading, structures ...compose.Structure) string {
	c := bench(structures...)
	c.Readings = append(c.Readings, eeproms...)
	s := sources{Set: reading.Of(c)}
	s.spots, _ = fuse(s.Listed)
	s.match()
	var out []string
	for _, y := range s.spots {
		if y.chip == nil {
			continue
		}
		mark := ""
		if y.either {
			mark = "?"
		}
		if y.idle {
			mark = " not in use"
		}
		out = append(out, y.Locator+"="+y.chip.Address+mark)
	}
	return strings.Join(out, " ")
}

// By part number, by elimination, and as alike modules: each with what stands against it.
func TestHowEEPROMsAreMatched(t *testing.T) {
	array := compose.Array(0x1000, 64<<20, 4)
	dev := func(handle uint16, mib uint32, kind uint8, serial, part string) compose.Structure {
		return compose.Device{Handle: handle, Array: 0x1000, MiB: mib, Form: 0x0D, Type: kind, Locator: fmt.Sprint("P",
			handle),
			Serial: serial, Part: part}.Structure()
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
		"the last one, empty, nothing filled": {[]compose.Structure{dev(1, 0, 0x1A, "", "")},
			[]card.Reading{eeprom("0-0050", "00000001", "ONE")}, ""},
		"the only empty one": {[]compose.Structure{dev(1, 8192, 0x1A, "", "ONE"), dev(2, 0, 0x1A, "", "")},
			[]card.Reading{eeprom("0-0050", "00000001", "ONE"), eeprom("0-0051", "00000002", "TWO")},
			"P1=0x50 P2=0x51 not in use"},
		"two empty ones": {[]compose.Structure{dev(1, 8192, 0x1A, "", "ONE"), dev(2, 0, 0x1A, "", ""),
			dev(3, 0, 0x1A, "", "")},
			[]card.Reading{eeprom("0-0050", "00000001", "ONE"), eeprom("0-0051", "00000002", "TWO")}, "P1=0x50"},
		"by serial number, the address tells nothing": {[]compose.Structure{dev(1, 8192, 0x1A, "0A0B0C01", "MR4"),
			dev(2, 8192, 0x1A, "0A0B0C02", "MR4")},
			[]card.Reading{eeprom("0-0050", "0A0B0C02", "MR4"), eeprom("0-0052", "0A0B0C01", "MR4")}, "P1=0x52 P2=0x50"},
		"another serial number is another module": {[]compose.Structure{dev(1, 8192, 0x1A, "0A0B0C01", "MR4"),
			dev(2, 8192, 0x1A, "0A0B0C02", "MR4")},
			[]card.Reading{eeprom("0-0050", "0A0B0C02", "MR4"), eeprom("0-0052", "FFFFFF01", "MR4")}, "P2=0x50"},
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
		assert.Equal(t, c.want, pairsOf(c.eeproms, append([]compose.Structure{array}, c.places...)...), name)
	}
}

// A grade on a sticker is what a module keeps at the least: an EEPROM that says quicker times contradicts nothing, one
// that says slower ones does.
func TestAStickersGradeIsAnUpperBound(t *testing.T) {
	for sticker, want := range map[string]string{
		"8GB 1Rx8 PC4-2400U-SA1-11": "settled 14160", // CL18: 15 ns
		"8GB 1Rx8 PC4-2400T-SA1-11": "settled 14160", // CL17, the EEPROM's own bin
		"8GB 1Rx8 PC4-2400R-SA1-11": "disputed 0",    // CL16: 13.32 ns, which the EEPROM does not keep
	} {
		c := bench(append([]compose.Structure{compose.Array(0x1000, 32<<20, 1)}, compose.Device{Handle: 1, Array: 0x1000,
			MiB: 8192, Form: 0x0D, Type: 0x1A, Locator: "DIMM A", Serial: "0A0B0C01", Part: "MR4"}.Structure())...)
		c.Readings = append(c.Readings, eeprom("0-0050", "0A0B0C01", "MR4"))
		f := weighed(hand(c, "places: [{name: DIMM A, holds: "+sticker+"}]\n")).Places[0].Module.Times.TAA
		assert.Equal(t, want, fmt.Sprintf("%v %d", f.Standing(), int(f.Or(0))), sticker)
	}
}
