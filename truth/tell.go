package truth

import (
	"encoding/json"
	"fmt"
	"strings"

	"epitome/core/card"
	"epitome/core/jedec"
	"epitome/core/smbios/compose"
	spd "epitome/core/spd/compose"
)

// A Teller says what one kind of source truly says of a machine, no less and no more.
type Teller struct {
	Name string
	Tell func(Machine) card.Card
}

// Tellers are the ways in which a machine is told.
var Tellers = []Teller{
	{"firmware tables with EEPROMs", func(m Machine) card.Card { return m.Linux(true) }},
	{"firmware tables", func(m Machine) card.Card { return m.Linux(false) }}, {"a system's export", Machine.Export},
	{"a person's form", Machine.Form},
}

// visible is what the system sees, in MiB: firmware keeps a little.
func (m Machine) visible() uint64 { return m.Total().MiB() - max(24, m.Total().MiB()/40) }

func (m Machine) chassis() byte {
	if m.Desktop {
		return 3
	}
	return 10
}

// Linux is what a running system reads: firmware's tables, the kernel's texts and, where it is asked, the EEPROMs of
// modules that this package can write (DDR3 and DDR4).
func (m Machine) Linux(withEEPROMs bool) card.Card { return m.linux(withEEPROMs, lies{}) }

// lies are the known ways in which firmware is wrong.
type lies struct {
	clocks   bool // clocks in the fields of rates
	nameless bool // no serial and part numbers
	modules  bool // soldered chips as SO-DIMMs
	low      bool // a maximum of what is fitted
}

// Liars tell by firmware tables that lie, each in one of the known ways.
var Liars = []Teller{
	{"firmware that writes clocks", func(m Machine) card.Card { return m.linux(false, lies{clocks: true}) }},
	{"firmware without serial numbers", func(m Machine) card.Card { return m.linux(false, lies{nameless: true}) }},
	{"firmware that calls chips modules", func(m Machine) card.Card { return m.linux(true, lies{modules: true}) }},
	{"firmware with too low a maximum", func(m Machine) card.Card { return m.linux(true, lies{low: true}) }},
}

func (m Machine) linux(withEEPROMs bool, lie lies) card.Card {
	most := m.Maximum()
	if lie.low {
		most = m.Total()
	}
	s := compose.Identity{Maker: m.Maker, Product: m.Model, Serial: m.Serial, BoardMaker: m.Maker, Board: m.Board,
		ChassisKind: m.chassis()}.Structures()
	s = append(s, compose.Array(0x1000, uint64(most/jedec.KiB), uint16(len(m.Places))))
	var c card.Card
	for i, p := range m.Places {
		d := compose.Device{Handle: uint16(0x1100 + i), Array: 0x1000, Locator: p.Locator, Bank: p.Bank, Type: 2,
			Form: map[bool]byte{true: 9, false: 13}[m.Desktop]}
		if x := p.Holds; x != nil {
			d.MiB, d.Type = uint32(x.Size().MiB()), types[x.Generation]
			d.TotalBits, d.DataBits, d.Detail = x.totalBits(), 64, 0x80
			d.Speed, d.Configured, d.Rank, d.MilliVolts = uint16(x.Rate), uint16(m.Rate()), byte(x.Ranks), uint16(x.MilliVolts)
			if x.Kind == Registered {
				d.Detail |= 1 << 13
			}
			if d.Maker, d.Serial, d.Part = x.Maker, x.Serie, x.Part; x.Soldered {
				d.Form, d.Maker = 11, "Unknown"
				if lie.modules {
					d.Form = 13
				}
			}
			if lie.clocks {
				d.Speed, d.Configured = d.Speed/2, d.Configured/2
			}
			if lie.nameless {
				d.Serial, d.Part = "", ""
			}
			if image := x.EEPROM(); withEEPROMs && image != nil {
				c.Readings = append(c.Readings, card.Reading{Kind: card.SPD, Source: fmt.Sprintf("i2c/0-%04x", 0x50+i),
					Address: fmt.Sprintf("0-%04x", 0x50+i), Data: image})
			}
		}
		s = append(s, d.Structure())
	}
	cpu := m.Processor
	c.Readings = append(
		c.Readings,
		card.Reading{Kind: card.Table, Source: "DMI", Data: compose.Table(s...)},
		card.Reading{
			Kind:   card.CPUInfo,
			Source: "cpuinfo",
			Data: fmt.Appendf(nil, "processor : 0\ncpu family : %d\nmodel : %d\n"+
				"model name : %s\nstepping : %d\nphysical id : 0\n", cpu.Family, cpu.Model, cpu.Brand, cpu.Stepping),
		},
		card.Reading{Kind: card.MemInfo, Source: "meminfo", Data: fmt.Appendf(nil, "MemTotal: %d kB\n", m.visible()<<10)},
	)
	return c
}

// EEPROM is the module's image; none for soldered chips, of DDR5, and of modules with check bits.
func (m Module) EEPROM() []byte {
	id := spd.Identity{
		Maker:     jedec.MakerCode{Bank: 9, Code: 0x2A},
		ChipMaker: jedec.MakerCode{Bank: 9, Code: 0x2A},
		Part:      m.Part,
		Serial:    m.Serie,
		Year:      0x19,
		Week:      0x07,
	}
	kind := byte(2)
	if m.SODIMM {
		kind = 3
	}
	x, _ := jedec.GradeAt(m.Generation, m.Rate)
	density := map[int]byte{1: 2, 2: 3, 4: 4, 8: 5, 16: 6}[m.Die]
	width := map[int]byte{8: 1, 16: 2}[m.Width]
	switch {
	case m.Soldered, m.Kind != Plain:
		return nil
	case m.Generation == jedec.DDR3:
		low := map[bool]byte{true: 2}[m.MilliVolts == 1350]
		return spd.DDR3{Type: kind, DensityCode: density, Ranks: byte(m.Ranks), WidthCode: width, VoltageBits: low,
			TCK: int(
				x.TCK,
			), TAA: 13125, TRCD: 13125, TRP: 13125, TRAS: 35000, TRC: 48125, FirstCL: 5, LastCL: 11, Identity: id}.Bytes()
	case m.Generation == jedec.DDR4:
		return spd.DDR4{
			Type:        kind,
			DensityCode: density,
			Ranks:       byte(m.Ranks),
			WidthCode:   width,
			TCK:         int(x.TCK),
			TAA:         13750,
			TRCD:        13750,
			TRP:         13750,
			TRAS:        32000,
			TRC:         45750,
			FirstCL:     10,
			LastCL:      24,
			Height:      30,
			Identity:    id,
		}.Bytes()
	}
	return nil
}

// Export is the machine as a desktop system exports it: filled places alone, and how many are announced.
func (m Machine) Export() card.Card {
	cpu := m.Processor
	objects := []map[string]any{
		{"CreationClassName": "Win32_ComputerSystem", "Manufacturer": m.Maker, "Model": m.Model,
			"TotalPhysicalMemory": m.visible() << 20, "PCSystemType": map[bool]int{true: 1, false: 2}[m.Desktop]},
		{"CreationClassName": "Win32_BaseBoard", "Manufacturer": m.Maker, "Product": m.Board},
		{"CreationClassName": "Win32_SystemEnclosure", "ChassisTypes": []int{int(m.chassis())}, "SerialNumber": m.Serial},
		{"CreationClassName": "Win32_OperatingSystem", "Caption": "Microsoft Windows 10 Pro", "OSArchitecture": "64-bit"},
		{"CreationClassName": "Win32_Processor", "Name": cpu.Brand,
			"Description": fmt.Sprintf("Intel64 Family %d Model %d Stepping %d", cpu.Family, cpu.Model, cpu.Stepping)},
		{
			"CreationClassName": "Win32_PhysicalMemoryArray",
			"MemoryDevices":     len(m.Places),
			"MaxCapacity":       uint64(m.Maximum() / jedec.KiB),
			"Use":               3,
		},
	}
	for _, p := range m.Places {
		if x := p.Holds; x != nil {
			form := map[bool]int{true: 8, false: 12}[m.Desktop]
			if x.Soldered {
				form = 11
			}
			objects = append(objects, map[string]any{"CreationClassName": "Win32_PhysicalMemory", "DeviceLocator": p.Locator,
				"BankLabel": p.Bank, "Capacity": uint64(x.Size()), "FormFactor": form, "Speed": int(x.Rate),
				"ConfiguredClockSpeed": int(m.Rate()),
				"SMBIOSMemoryType":     types[x.Generation], "TotalWidth": x.totalBits(), "DataWidth": 64, "Manufacturer": x.Maker,
				"SerialNumber": x.Serie, "PartNumber": x.Part})
		}
	}
	data, err := json.Marshal(objects)
	if err != nil {
		panic(err)
	}
	return card.Card{Readings: []card.Reading{{Kind: card.CIM, Source: "cim.json", Data: data}}}
}

// Names are how a person tells the places apart: the locator, with its bank where two have the same.
func (m Machine) Names() (names []string) {
	count := make(map[string]int)
	for _, p := range m.Places {
		count[p.Locator]++
	}
	for _, p := range m.Places {
		if names = append(names, p.Locator); count[p.Locator] > 1 {
			names[len(names)-1] += " / " + p.Bank
		}
	}
	return names
}

// Form is the machine as somebody wrote it down who opened it and had its manual.
func (m Machine) Form() card.Card {
	form := map[bool]string{true: "DIMM", false: "SO-DIMM"}[m.Desktop]
	var b strings.Builder
	fmt.Fprintf(
		&b,
		"epitome-hand: 1\nmachine:\n  kind: %s\n  maker: %q\n  model: %q\n  board: %q\n  processor: %q\n  system: %q\n"+
			"places:\n",
		map[bool]string{true: "desktop", false: "laptop"}[m.Desktop],
		m.Maker,
		m.Model,
		m.Board,
		m.Processor.Brand,
		m.System,
	)
	for i, p := range m.Places {
		fmt.Fprintf(&b, "  - name: %q\n", m.Names()[i])
		switch {
		case p.Soldered:
			fmt.Fprintf(&b, "    attach: soldered\n    holds: %s %v-%d\n", p.Holds.size(), p.Holds.Generation, p.Holds.Rate)
		case p.Holds != nil:
			fmt.Fprintf(&b, "    attach: socket\n    takes: %s\n    holds: %s\n", form, p.Holds.Label())
		default:
			fmt.Fprintf(&b, "    attach: socket\n    takes: %s\n    holds: free\n", form)
		}
	}
	fmt.Fprintf(&b, "sockets: %d\nmaximum: {size: %dMB, from: manual page 12}\n", len(m.Sockets()), m.Maximum().MiB())
	return card.Card{Readings: []card.Reading{{Kind: card.Hand, Source: "hand.yaml", Data: []byte(b.String())}}}
}
