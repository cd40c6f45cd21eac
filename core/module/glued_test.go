package module_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// What hangs on a rate or a generation by a hyphen, in each language, hides neither.
func TestNounsThatHangOnARate(t *testing.T) {
	for _, noun := range []string{"RAM", "Modul", "module", "Speicher", "minne", "geheugen", "memory",
		"Arbeitsspeicher", "pamięć", "памяти", "память", "Riegel", "stick"} {
		assert.Equal(t, "8 GB, SO-DIMM, DDR4-2400", comesTo(t, "8GB DDR4-2400-"+noun+" SO-DIMM"), noun)
		assert.Equal(t, "8 GB, SO-DIMM, DDR4-2400", comesTo(t, "8GB 2400 DDR4-"+noun+" SO-DIMM"), noun)
	}
	assert.Equal(t, "SO-DIMM, DDR4-2400", comesTo(t, "8GB DDR4-2400-Kit SO-DIMM"), "a kit of how many is not said")
}
