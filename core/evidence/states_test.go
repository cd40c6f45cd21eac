package evidence_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/evidence"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/propose"
	"epitome/core/reading"
	"epitome/core/smbios/compose"
)

// listedBy is a machine of memory devices.
func listedBy(devices ...compose.Device) machine.Machine {
	id := compose.Identity{Maker: "Halyard", Product: "Tower 4", ChassisKind: 3}
	s := append(id.Structures(), compose.Array(0x1000, 64<<30, uint16(len(devices))))
	for i, d := range devices {
		d.Handle, d.Array = uint16(i+1), 0x1000
		s = append(s, d.Structure())
	}
	return evidence.Weigh(reading.Of(card.Card{Readings: []card.Reading{{Kind: card.Table, Source: "DMI",
		Data: compose.Table(s...)}}}), catalogue.Catalogue{})
}

// Flash and persistent memory are no memory and no socket for it, and never counted.
func TestWhatIsNoMemoryIsNotCounted(t *testing.T) {
	m := listedBy(compose.Device{Locator: "A", MiB: 8192, Form: 9, Type: 0x1A, Speed: 2400},
		compose.Device{Locator: "FLASH", MiB: 16, Form: 2, Type: 0x09}, compose.Device{Locator: "B", Form: 9, Type: 0x1A})
	assert.Equal(t, maybe.Just(8*jedec.GiB), m.Totals.Installed.Value())
	assert.Equal(t, maybe.Just(2), m.Totals.Sockets.Value())
	assert.Equal(t, maybe.Just(1), m.Totals.SocketsFree.Value())
	assert.Equal(t, machine.NotMemory, m.Places[1].State)
	assert.Contains(t, m.Places[1].StateSays, "flash")
	assert.Nil(t, m.Places[1].Module)
	assert.Equal(t, machine.InUse, m.Places[0].State)
	assert.Equal(t, machine.State(""), m.Places[2].State, "nothing sits there")
}

// A size that wrapped in its field is a module of unknown size, not one of none.
func TestASizeThatWrapped(t *testing.T) {
	d := compose.Device{Handle: 1, Array: 0x1000, Locator: "A", MiB: 4096, Form: 9, Type: 0x1A, Speed: 2400}.Structure()
	table := compose.Table(append(compose.Identity{Maker: "Halyard", ChassisKind: 3}.Structures(),
		compose.Array(0x1000, 64<<30, 1), d)...)
	at := strings.Index(string(table), string([]byte{0x00, 0x10, 9, 0})) // the size word before form and set
	assert.Positive(t, at)
	table[at], table[at+1] = 0x00, 0x80
	m := evidence.Weigh(reading.Of(card.Card{Readings: []card.Reading{{Kind: card.Table, Source: "DMI", Data: table}}}),
		catalogue.Catalogue{})
	assert.Equal(t, maybe.Just(true), m.Places[0].Filled.Value())
	assert.False(t, m.Places[0].Module.Capacity.Known())
	assert.False(t, m.Totals.Installed.Known())
}

// A generation that can't run at the speed that stands beside it is doubted.
func TestATypeThatCantRunAtItsSpeed(t *testing.T) {
	for _, c := range []struct {
		code    byte
		speed   uint16
		doubted bool
	}{{0x0F, 800, true}, {0x0F, 133, false}, {0x12, 1600, true}, {0x1A, 5333, false}, {0x18, 1600, false}} {
		m := listedBy(compose.Device{Locator: "A", MiB: 4096, Form: 9, Type: c.code, Speed: c.speed, Part: "X1",
			Serial: "12"})
		assert.Equal(t, c.doubted, m.Places[0].Module.Generation.Standing() == fact.Disputed, "%02X at %d", c.code, c.speed)
		named := false
		for _, x := range m.Conflicts {
			named = named || x.About.Topic == machine.AboutGeneration
		}
		assert.Equal(t, c.doubted, named)
	}
}

// A module that firmware does not use stays one, is shown as such, and is the first thing
// to mend free of charge.
func TestADisabledModule(t *testing.T) {
	export := `[{"CreationClassName":"Win32_PhysicalMemory","DeviceLocator":"A","Capacity":4294967296,
"SMBIOSMemoryType":26,"FormFactor":8,"Speed":2400,"Status":"OK"},
{"CreationClassName":"Win32_PhysicalMemory","DeviceLocator":"B","Capacity":4294967296,"SMBIOSMemoryType":26,
"FormFactor":8,"Speed":2400,"Status":"Error"},
{"CreationClassName":"Win32_PhysicalMemoryArray","MemoryDevices":2,"Use":3}]`
	m := evidence.Weigh(reading.Of(card.Card{Readings: []card.Reading{{Kind: card.CIM, Source: "cim.json",
		Data: []byte(export)}}}), catalogue.Catalogue{})
	assert.Equal(t, []machine.State{machine.InUse, machine.Disabled},
		[]machine.State{m.Places[0].State, m.Places[1].State})
	gains := propose.Free(m, ceiling.Of(m, catalogue.Catalogue{}))
	assert.NotEmpty(t, gains)
	assert.Contains(t, gains[len(gains)-1].Says, "take the module in B out")
	assert.Equal(t, "4 GB that are there already", gains[len(gains)-1].Gains)
}
