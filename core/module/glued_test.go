package module_test

import (
	"strings"
	"testing"

	"epitome/core/module"

	"github.com/stretchr/testify/assert"
)

// stated is what a listing states, without what it leans to and what was not understood.
func stated(text string) string {
	first, _, _ := strings.Cut(whole(text), " | ")
	return first
}

// What hangs on a rate or a generation by a hyphen, in each language, hides neither.
func TestNounsThatHangOnARate(t *testing.T) {
	for _, noun := range []string{"RAM", "Modul", "module", "Speicher", "minne", "geheugen", "memory",
		"Arbeitsspeicher", "pamięć", "памяти", "память", "Riegel", "stick"} {
		assert.Equal(t, "8 GB DDR4 @2400 SO-DIMM", stated("8GB DDR4-2400-"+noun+" SO-DIMM"), noun)
		assert.Equal(t, "8 GB DDR4 @2400 SO-DIMM", stated("8GB 2400 DDR4-"+noun+" SO-DIMM"), noun)
	}
	assert.Equal(t, "DDR4 @2400 SO-DIMM", stated("8GB DDR4-2400-Kit SO-DIMM"), "a kit of how many is not said")
}

// Two voltages: the low one of DDR3 beside the ordinary one is a module for both, in either order; other pairs clash.
func TestTwoVoltages(t *testing.T) {
	for text, want := range map[string]string{
		"8GB DDR3-1600 SO-DIMM 1.35V":       "8 GB DDR3 @1600 SO-DIMM 1.35 V 1.5 V",
		"8GB DDR3-1600 SO-DIMM 1.5V":        "8 GB DDR3 @1600 SO-DIMM 1.5 V",
		"8GB DDR3-1600 SO-DIMM 1.35V 1.5V":  "8 GB DDR3 @1600 SO-DIMM 1.35 V 1.5 V",
		"8GB DDR3-1600 SO-DIMM 1.5V/1.35V":  "8 GB DDR3 @1600 SO-DIMM 1.35 V 1.5 V",
		"8GB DDR3-1600 SO-DIMM 1.5V 1.5V":   "8 GB DDR3 @1600 SO-DIMM 1.5 V",
		"8GB DDR4-2400 SO-DIMM 1.2V 1.2 V":  "8 GB DDR4 @2400 SO-DIMM 1.2 V",
		"8GB DDR3-1600 SO-DIMM 1.35V 1.35V": "8 GB DDR3 @1600 SO-DIMM 1.35 V 1.5 V",
	} {
		assert.Equal(t, want, stated(text), text)
	}
	for _, text := range []string{"8GB DDR3-1600 SO-DIMM 1.5V 1.25V", "8GB DDR3-1600 SO-DIMM 1.35V 1.2V",
		"8GB DDR4-2400 SO-DIMM 1.2V 1.5V"} {
		_, err := module.Parse(text)
		assert.ErrorIs(t, err, module.ErrContradiction, text)
	}
}

// A part number leans to what its maker's guide tells, the supply among it where it does.
func TestAPartNumberLeansToItsSupply(t *testing.T) {
	for number, want := range map[string]string{"M471B9999ZZ9-YK0": "1.35 V", "M471B9999ZZ9-CK0": "",
		"M471A9Z99ZZ9-CRC": "1.2 V"} {
		s, err := module.Parse(number)
		assert.NoError(t, err, number)
		got := ""
		for _, h := range s.Leaning {
			if h.Fact == "supply" {
				got = h.Value
			}
		}
		assert.Equal(t, want, got, number)
	}
}
