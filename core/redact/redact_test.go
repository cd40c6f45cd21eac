package redact_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/evidence"
	"epitome/core/machine"
	"epitome/core/redact"
	"epitome/core/smbios/compose"
	"epitome/internal/demo"
)

func TestNoSerialAndNoNameIsLeft(t *testing.T) {
	device := func(handle uint16, name, serial string) compose.Structure {
		return compose.Device{Handle: handle, Array: 0x1000, MiB: 8192, Form: 0x0D, Type: 0x1A, Locator: name, Speed: 2400, Serial: serial, Part: "MR4S", Maker: "Marram Memory"}.Structure()
	}
	table := compose.Table(append(compose.Identity{Maker: "Halyard", Product: "Gull 14", Serial: "HG14-20731", ChassisKind: 0x0A}.Structures(),
		compose.Array(0x1000, 32<<20, 3), device(1, "A", "4F21A09C"), device(2, "B", "77AA01B2"), device(3, "C", "4F21A09C"))...)
	c := card.Card{Readings: []card.Reading{{Kind: card.Table, Source: "DMI", Data: table},
		{Kind: card.Hand, Source: "hand", Data: []byte("epitome-hand: 1\nby: Jory\nplaces: [{name: A, attach: socket}]\nmaximum: {size: 64GB, from: manual}\n")}}}
	m := evidence.Weigh(c, catalogue.Catalogue{})
	before := dump(m)
	for _, secret := range []string{"4F21A09C", "77AA01B2", "Jory"} {
		require.Contains(t, before, secret)
	}
	r := redact.Machine(m)
	after := dump(r)
	for _, secret := range []string{"4F21A09C", "77AA01B2", "Jory", "HG14-20731"} {
		assert.NotContains(t, after, secret)
	}
	assert.Contains(t, after, "hand entry by person 1")
	assert.Equal(t, "serial 1", r.Places[0].Module.Serial.Or(""))
	assert.Equal(t, "serial 2", r.Places[1].Module.Serial.Or(""))
	assert.Equal(t, "serial 1", r.Places[2].Module.Serial.Or(""), "what agreed still agrees")
	assert.Equal(t, before, dump(m), "the machine itself is left as it was")
}

// dump writes everything about a machine, modules included: printing stops at
// pointers.
func dump(m machine.Machine) string {
	text := fmt.Sprintf("%+v", m)
	for _, p := range m.Places {
		if p.Module != nil {
			text += fmt.Sprintf("%+v", *p.Module)
		}
	}
	return text
}

func TestACardToShareReadsAsBefore(t *testing.T) {
	for _, m := range demo.Machines() {
		c := card.Card{Title: "Jory's laptop", Readings: []card.Reading{{Kind: card.Hand, Source: "/home/jory/hand.yaml", Data: []byte("epitome-hand: 1\nby: Jory\nremarks: call Mrs Quay\nmachine: {system: Linux}\n")},
			{Kind: card.CIM, Source: "cim.json", Data: []byte(`{"CreationClassName":"CIM_OperatingSystem","CSName":"JORYS-PC","SerialNumber":"00330-80000","TotalVisibleMemorySize":8000000}`)}}}
		for _, f := range m.Files() {
			kind := map[string]card.Kind{"DMI": card.Table, "cpuinfo": card.CPUInfo, "meminfo": card.MemInfo, "pci": card.PCI}[f.Name]
			if strings.HasPrefix(f.Name, "spd-") {
				kind = card.SPD
			}
			if kind != "" {
				c.Readings = append(c.Readings, card.Reading{Kind: kind, Source: f.Name, Data: f.Data})
			}
		}
		before := evidence.Weigh(c, catalogue.Catalogue{})
		shared, leftOut := redact.Card(c)
		assert.Empty(t, leftOut, m.Name)
		text, err := shared.Encode()
		require.NoError(t, err)
		after := evidence.Weigh(shared, catalogue.Catalogue{})
		all := dump(after) + string(text)
		for _, r := range shared.Readings {
			all += string(r.Data)
		}
		secrets := []string{"Jory", "jory", "Mrs Quay", "JORYS-PC", "00330-80000", "HG14-20731", "HT13-00417", "SKA-55210", "GBX-71123"}
		for _, p := range before.Places {
			if p.Module != nil && p.Module.Serial.Known() {
				secrets = append(secrets, p.Module.Serial.Or(""))
			}
		}
		for _, secret := range secrets {
			assert.NotContains(t, all, secret, m.Name)
		}
		require.Len(t, after.Places, len(before.Places), m.Name)
		for i, p := range before.Places {
			q := after.Places[i]
			assert.Equal(t, p.EEPROMAddress, q.EEPROMAddress, "%s %s: an EEPROM still belongs to its place", m.Name, p.Name)
			assert.Equal(t, p.Attach.Value, q.Attach.Value, "%s %s", m.Name, p.Name)
			if p.Module != nil {
				assert.Equal(t, p.Module.Capacity.Value, q.Module.Capacity.Value)
				assert.Equal(t, p.Module.Rated.Value, q.Module.Rated.Value)
				assert.Equal(t, p.Module.Described.Checksum, q.Module.Described.Checksum)
			}
		}
		assert.Equal(t, before.Totals.Installed.Value, after.Totals.Installed.Value)
	}
	_, leftOut := redact.Card(card.Card{Readings: []card.Reading{{Kind: card.SPD, Source: "odd.bin", Data: []byte{1, 2, 0x99, 4}}, {Kind: card.Hand, Source: "hand", Data: []byte("nonsense: [")}}})
	assert.Equal(t, []string{"odd.bin", "hand"}, leftOut, "what can't be taken apart does not leave the shop")
}

func FuzzCard(f *testing.F) {
	for _, m := range demo.Machines()[:1] {
		for _, x := range m.Files() {
			f.Add(x.Data)
		}
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		for _, kind := range []card.Kind{card.Table, card.TableFile, card.SPD, card.CIM, card.Hand} {
			shared, _ := redact.Card(card.Card{Readings: []card.Reading{{Kind: kind, Source: "x", Data: data}}})
			for _, r := range shared.Readings {
				if kind == card.Table || kind == card.SPD {
					require.Len(t, r.Data, len(data))
				}
			}
		}
	})
}
