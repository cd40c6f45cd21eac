// Package truth makes the machines that tests are about. No build contains it.
//
// A [Rig] is a machine as its evidence has it, with an invented processor whose figures a test sets: for tests of one
// rule, limit or choice. A [Machine] is a real one of which everything is known, made by chance, and told in many
// ways: for laws that must hold however the truth is told. Truth comes first, the evidence is told of it.
package truth

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/evidence"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/module"
	"epitome/core/reading"
	"epitome/core/smbios/compose"
)

// A Rig is a machine to try something on, as its evidence has it. The zero value of a field says nothing.
type Rig struct {
	Takes   string         // the processor's figures, as a catalogue file has them; empty: nobody knows the processor
	Board   string         // the board's figures; empty for no entry
	Chipset string         // the chipset's figures; empty for no entry
	Past    catalogue.Past // what earlier jobs on machines of the make came to

	Brand                   string // of the processor; empty for the invented one that Takes is about
	Family, Model, Stepping int
	PCI                     string // the chipset's id, as "8086:29c0"; empty for the invented one's

	Chassis    byte   // DSP0134, 7.4.1
	Type, Form byte   // of every module: DSP0134, 7.18.2 (0: what the label says) and 7.18.1
	BoardName  string // empty for the board that Board is about
	MaximumMiB uint64 // that firmware states; 0: 128 GB
	// Places are "NAME CHANNEL", an empty one, or "NAME CHANNEL MIB RATE"; behind a bar the label of what is in it, as
	// somebody read it off. A channel of "?" is not stated.
	Places  []string
	Devices []compose.Device // in the place of Places, where a test needs other fields of a structure
	EEPROMs [][]byte         // of the modules, at 0x50 and above

	Seen   string // somebody looked in: every place is a socket for such a form
	ByHand bool   // Places are told by a person alone; firmware lists none
	Kind   string // of machine, by the same person
	System string
	Hand   string // what somebody wrote besides, as YAML
}

// With is the rig with something changed.
func (r Rig) With(change func(*Rig)) Rig {
	r.Places, r.Devices = slices.Clone(r.Places), slices.Clone(r.Devices)
	change(&r)
	return r
}

// InHand are two sockets of a form that somebody wrote down, A with a module, B free, and nothing from firmware.
func InHand(kind, form, takes, holds string) Rig {
	return Rig{Takes: takes, ByHand: true, Kind: kind, Seen: form, System: "Windows 10 Pro 64-bit",
		Places: []string{"A A|" + holds, "B B"}}
}

// Catalogue is what is known of the rig's parts, and of nothing else but what is embedded.
func (r Rig) Catalogue(t testing.TB) catalogue.Catalogue {
	t.Helper()
	own := "epitome-catalogue: 1\n"
	if r.Takes != "" {
		own += "processors: [{family: Petrel, brand: Petrel P5, basis: sheet, takes: [{" + r.Takes + "}]}]\n"
	}
	if r.Board != "" {
		own += "boards: [{maker: Groyne, names: GBX, basis: manual, " + r.Board + "}]\n"
	}
	if r.Chipset != "" {
		own += "chipsets: [{name: X47, pci_ids: 'fafa:0c47', basis: sheet, " + r.Chipset + "}]\n"
	}
	o, faults := catalogue.ParseOverlay("ours.yaml", []byte(own))
	require.Empty(t, faults, own)
	return catalogue.Catalogue{}.With(o).WithPast(r.Past)
}

// Card holds the rig's evidence.
func (r Rig) Card(t testing.TB) card.Card {
	t.Helper()
	or := func(v, other string) string {
		if v == "" {
			return other
		}
		return v
	}
	c := card.Card{Readings: []card.Reading{
		{Kind: card.Table, Source: "DMI", Data: compose.Table(r.structures(t)...)},
		{Kind: card.CPUInfo, Source: "cpuinfo", Data: fmt.Appendf(nil, "processor : 0\ncpu family : %d\nmodel : %d\n"+
			"model name : %s\nstepping : %d\n", max(6, r.Family), max(r.Model, map[bool]int{true: 200}[r.Brand == ""]),
			or(r.Brand, "Petrel P5-8240"), r.Stepping)},
		{Kind: card.PCI, Source: "pci", Data: fmt.Appendf(nil, "0000:00:1f.0 %s 060100\n", or(r.PCI, "fafa:0c47"))}}}
	if hand := r.hand(); hand != "" {
		c.Readings = append(c.Readings, card.Reading{Kind: card.Hand, Source: "hand",
			Data: []byte("epitome-hand: 1\n" + hand)})
	}
	for i, image := range r.EEPROMs {
		c.Readings = append(c.Readings, card.Reading{Kind: card.SPD, Source: "i2c", Address: fmt.Sprintf("0x%x", 0x50+i),
			Data: image})
	}
	return c
}

// Machine is what the rig's evidence comes to, with its limits.
func (r Rig) Machine(t testing.TB) (machine.Machine, ceiling.Limits) {
	t.Helper()
	k := r.Catalogue(t)
	m := evidence.Weigh(reading.Of(r.Card(t)), k)
	return m, ceiling.Of(m, k)
}

// A place is one of Rig.Places, read.
type place struct {
	name, channel, label string
	mib                  uint32
	rate                 uint16
	typ, ranks           byte
}

// types are the codes of DSP0134, 7.18.2.
var types = map[jedec.Generation]byte{jedec.DDR2: 0x13, jedec.DDR3: 0x18, jedec.DDR4: 0x1A, jedec.DDR5: 0x22}

func (r Rig) places(t testing.TB) (list []place) {
	for _, text := range r.Places {
		where, label, _ := strings.Cut(text, "|")
		fields := append(strings.Fields(where), "?")[:max(2, len(strings.Fields(where)))]
		p := place{name: fields[0], channel: fields[1], label: label, typ: r.Type, ranks: 1}
		if len(fields) == 4 {
			_, err := fmt.Sscan(fields[2]+" "+fields[3], &p.mib, &p.rate)
			require.NoError(t, err, text)
		} else if label != "" {
			one, err := module.Parse(label)
			require.NoError(t, err, text)
			p.mib, p.rate = uint32(one.Capacity.Or(0).MiB()), uint16(one.Grade().Or(jedec.Grade{}).Rate)
			p.ranks = byte(one.Ranks.Or(1))
			if r.Type == 0 {
				p.typ = types[one.Generation.Or(0)]
			}
		}
		list = append(list, p)
	}
	return list
}

func (r Rig) structures(t testing.TB) []compose.Structure {
	board := r.BoardName
	if board == "" {
		board = "GBX"
	}
	s := compose.Identity{Maker: "Halyard", Product: "Gull 14", BoardMaker: "Groyne", Board: board,
		ChassisKind: r.Chassis}.Structures()
	if r.ByHand {
		return s
	}
	devices := slices.Clone(r.Devices)
	for i, p := range r.places(t) {
		d := compose.Device{MiB: p.mib, Type: p.typ, Locator: p.name, Bank: "P0 CHANNEL " + p.channel, Speed: p.rate,
			Configured: p.rate}
		if p.mib > 0 {
			d.TotalBits, d.DataBits, d.Rank, d.Detail = 64, 64, p.ranks, 0x4080
			d.Serial, d.Part = fmt.Sprintf("0A0B0C%02d", i), "MR4"
		}
		devices = append(devices, d)
	}
	maximum := r.MaximumMiB
	if maximum == 0 {
		maximum = 128 << 10
	}
	s = append(s, compose.Array(0x1000, maximum<<10, uint16(len(devices))))
	for i, d := range devices {
		d.Handle, d.Array, d.Form = uint16(i+1), 0x1000, r.Form
		if d.MiB == 0 {
			d.Type = 0
		} else if d.Type == 0 {
			d.Type = r.Type
		}
		s = append(s, d.Structure())
	}
	return s
}

// hand is what somebody wrote, in the form's own words.
func (r Rig) hand() (text string) {
	var said []string
	if r.Kind != "" {
		said = append(said, "kind: "+r.Kind)
	}
	if r.System != "" {
		said = append(said, "system: "+r.System)
	}
	if len(said) > 0 {
		text = "machine: {" + strings.Join(said, ", ") + "}\n"
	}
	var list []string
	for _, where := range r.Places {
		where, label, _ := strings.Cut(where, "|")
		fields := strings.Fields(where)
		if r.Seen == "" && label == "" && !r.ByHand {
			continue
		}
		one := "name: " + fields[0] + ", attach: socket"
		if r.Seen != "" {
			one += ", takes: " + r.Seen
		}
		if r.ByHand {
			one += ", channel: " + fields[1]
			if label == "" {
				label = "free"
			}
		}
		if label != "" {
			one += ", holds: " + label
		}
		list = append(list, "{"+one+"}")
	}
	if len(list) > 0 {
		text += "places: [" + strings.Join(list, ", ") + "]\n"
	}
	return text + r.Hand
}
