package evidence

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/card"
	"epitome/core/machine"
)

// What each chassis code of DSP0134 clause 7.4.1 makes of a machine; those that name none say nothing.
func TestEveryChassisCodeNamesItsKind(t *testing.T) {
	kinds := map[machine.Kind][]byte{
		machine.Desktop:  {0x03, 0x04, 0x05, 0x06, 0x07, 0x0F, 0x10, 0x18},
		machine.Laptop:   {0x08, 0x09, 0x0A, 0x0E, 0x1F, 0x20},
		machine.AllInOne: {0x0D},
		machine.Mini:     {0x23, 0x24},
		machine.Server:   {0x11, 0x17, 0x1C, 0x1D},
		machine.Other:    {0x0B, 0x1E, 0x21, 0x22},
	}
	known := make(map[byte]machine.Kind)
	for kind, codes := range kinds {
		for _, c := range codes {
			known[c] = kind
		}
	}
	for code := range 128 {
		k := weighed(bench(chassis(byte(code))...)).Kind
		want, told := known[byte(code)]
		assert.Equal(t, told, k.Known(), "code %#x", code)
		assert.Equal(t, want, k.Or(""), "code %#x", code)
	}
	assert.Equal(t, machine.Laptop, weighed(bench(chassis(0x80|laptop)...)).Kind.Or(""), "a lock is no other chassis")
}

// What a system's own record says of the kind of machine, where there are no firmware tables.
func TestEverySystemTypeNamesItsKind(t *testing.T) {
	for code, want := range map[int]machine.Kind{0: "", 1: machine.Desktop, 2: machine.Laptop, 3: machine.Desktop,
		4: machine.Server, 5: machine.Server, 6: "", 7: machine.Server, 8: machine.Laptop, 9: ""} {
		c := card.Card{Readings: []card.Reading{{Kind: card.CIM, Source: "x.json", Data: fmt.Appendf(nil,
			`[{"CreationClassName": "Win32_ComputerSystem", "PCSystemType": %d}]`, code)}}}
		assert.Equal(t, want, weighed(c).Kind.Or(""), code)
	}
	for name, want := range map[string]machine.Kind{"Gull all-in-one": machine.AllInOne, "Gull Notebook": machine.Laptop,
		"Gull laptop 14": machine.Laptop, "Gull mini": machine.Mini, "Gull Tower": machine.Desktop,
		"Gull desktop": machine.Desktop, "Gull": "", "": ""} {
		kind, _, ok := namedKind(name)
		assert.Equal(t, want != "", ok, name)
		assert.Equal(t, want, kind, name)
	}
}
