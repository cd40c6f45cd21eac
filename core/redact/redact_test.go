package redact_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/evidence"
	"epitome/core/machine"
	"epitome/core/redact"
	"epitome/core/smbios/compose"
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

func TestWhatCantBeTakenApartDoesNotLeaveTheShop(t *testing.T) {
	_, leftOut := redact.Card(card.Card{Readings: []card.Reading{{Kind: card.SPD, Source: "odd.bin", Data: []byte{1, 2, 0x99, 4}}, {Kind: card.Hand, Source: "hand", Data: []byte("nonsense: [")}}})
	assert.Equal(t, []string{"odd.bin", "hand"}, leftOut, "what can't be taken apart does not leave the shop")
}

func FuzzCard(f *testing.F) {
	f.Add(compose.Table(compose.Identity{Maker: "Halyard", Serial: "HG14-20731", ChassisKind: 0x0A}.Structures()...))
	f.Add([]byte("epitome-hand: 1\nby: Jory\n"))
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
