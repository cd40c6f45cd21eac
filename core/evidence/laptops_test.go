package evidence

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/card"
	"epitome/core/fact"
	"epitome/core/machine"
	"epitome/core/smbios/compose"
)

// A bay of a small laptop as it truly is, and as firmware puts it.
type bay struct {
	name   string
	truth  machine.Attach
	form   byte // 0x0D SO-DIMM, 0x0B row of chips
	filled bool
	named  bool // serial and part number are there
	part   string
	listed bool
}

// Four small laptops, with the stick in and out, the slot listed and not.
var laptops = map[string][]bay{
	"all socketed, both filled": {{"DIMM A", machine.Socket, 0x0D, true, true, "MR4", true},
		{"DIMM B", machine.Socket, 0x0D, true, true, "MR4", true}},
	"all socketed, one free": {{"DIMM A", machine.Socket, 0x0D, true, true, "MR4", true},
		{"DIMM B", machine.Socket, 0x0D, false, false, "", true}},
	"all socketed, called chips": {{"DIMM A", machine.Socket, 0x0B, true, true, "MR4", true},
		{"DIMM B", machine.Socket, 0x0B, true, true, "MR4", true}},
	"all soldered, called chips": {{"DIMM A", machine.Soldered, 0x0B, true, false, "", true},
		{"DIMM B", machine.Soldered, 0x0B, true, false, "", true}},
	"all soldered, called modules": {{"DIMM A", machine.Soldered, 0x0D, true, false, "", true},
		{"DIMM B", machine.Soldered, 0x0D, true, false, "", true}},
	"all soldered, by their name": {{"Onboard A", machine.Soldered, 0x0D, true, false, "", true},
		{"Onboard B", machine.Soldered, 0x0D, true, false, "", true}},
	"all soldered, by the chips' part number": {{"DIMM A", machine.Soldered, 0x0B, true, true, "H5AN8G6NAFR-UHC", true},
		{"DIMM B", machine.Soldered, 0x0B, true, true, "H5AN8G6NAFR-UHC", true}},
	"one of each, both called modules": {{"DIMM A", machine.Soldered, 0x0D, true, false, "", true},
		{"DIMM B", machine.Socket, 0x0D, true, true, "MR4", true}},
	"one of each, both modules, stick out": {{"DIMM A", machine.Soldered, 0x0B, true, false, "", true},
		{"DIMM B", machine.Socket, 0x0D, false, false, "", true}},
	"one of each, slot not listed": {{"Onboard", machine.Soldered, 0x0D, true, false, "", true},
		{"DIMM B", machine.Socket, 0x0D, false, false, "", false}},
	"one of each, both called chips": {{"DIMM A", machine.Soldered, 0x0B, true, false, "", true},
		{"DIMM B", machine.Socket, 0x0B, true, true, "MR4", true}},
	"one of each, both chips, stick out": {{"DIMM A", machine.Soldered, 0x0B, true, false, "", true},
		{"DIMM B", machine.Socket, 0x0B, false, false, "", true}},
}

// card writes the laptop as a firmware table, with or without the EEPROMs of what
// sits in sockets, or as its system's export, which lists filled places only.
func laptopCard(spots []bay, how string) card.Card {
	var structures []compose.Structure
	var objects []map[string]any
	images := make(map[string][]byte)
	for i, x := range spots {
		if !x.listed {
			continue
		}
		d := compose.Device{Handle: uint16(i + 1), Array: 0x1000, Form: x.form, Locator: x.name, Type: 2}
		o := map[string]any{"CreationClassName": "Win32_PhysicalMemory", "DeviceLocator": x.name,
			"FormFactor": map[byte]int{0x0D: 12, 0x0B: 21}[x.form], "Capacity": 4 << 30, "SMBIOSMemoryType": 26,
			"SerialNumber": "00000000", "PartNumber": ""}
		if x.filled {
			d.MiB, d.Type, d.TotalBits, d.DataBits = 4096, 0x1A, 64, 64
			if x.named {
				serial := fmt.Sprintf("0A0B0C%02d", i+1)
				d.Serial, d.Part, o["SerialNumber"], o["PartNumber"] = serial, x.part, serial, x.part
				if x.truth == machine.Socket {
					images[fmt.Sprintf("0-005%d", 2*i)] = chip(serial, x.part)
				}
			}
			objects = append(objects, o)
		}
		structures = append(structures, d.Structure())
	}
	c := bench(append(append(chassis(laptop), compose.Array(0x1000, 16<<20, uint16(len(spots)))), structures...)...)
	switch how {
	case "with EEPROMs":
		return withChips(c, images)
	case "as an export":
		objects = append(objects, map[string]any{"CreationClassName": "Win32_PhysicalMemoryArray",
			"MemoryDevices": len(spots), "MaxCapacity": 16 << 20},
			map[string]any{"CreationClassName": "Win32_SystemEnclosure", "ChassisTypes": []int{10}})
		data, _ := json.Marshal(objects)
		return card.Card{Readings: []card.Reading{{Kind: card.CIM, Source: "cim.json", Data: data}}}
	}
	return c
}

// Whatever firmware calls them: nothing that leans is false, and nothing that is
// settled. What stays open is asked.
func TestSmallLaptops(t *testing.T) {
	right, open := 0, 0
	for name, spots := range laptops {
		for _, how := range []string{"by its firmware", "with EEPROMs", "as an export"} {
			m := weighed(laptopCard(spots, how))
			for _, x := range spots {
				for _, p := range m.Places {
					got, known := p.Attach.Get()
					switch {
					case p.Name != x.name:
					case !known:
						open++
						assert.NotEmpty(t, append(p.Attach.Why(), p.Attach.Against()...), "%s %s: the signs are listed", name, how)
					default:
						right++
						assert.Equal(t, x.truth, got, "%s, %s, %s: %v; for %v, against %v", name, how, x.name, p.Attach.Standing(),
							p.Attach.Why(), p.Attach.Against())
					}
				}
			}
			sockets := 0
			for _, x := range spots {
				if x.truth == machine.Socket {
					sockets++
				}
			}
			if m.Totals.Sockets.Standing() == fact.Settled {
				assert.Equal(t, sockets, m.Totals.Sockets.Or(-1), "%s, %s", name, how)
			}
		}
	}
	t.Logf("%d places told, %d open", right, open)
	assert.Greater(t, right, 2*open)
}
