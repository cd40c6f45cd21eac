package demo

import (
	"fmt"
	"strings"
	"time"

	"epitome/core/bench"
	"epitome/core/card"
	spd "epitome/core/spd/compose"

	"epitome/core/smbios/compose"
)

// dice are numbers that look thrown, and are the same each time.
type dice uint64

func (d *dice) throw(sides int) int {
	*d += 0x9E3779B97F4A7C15
	x := uint64(*d)
	x = (x ^ x>>30) * 0xBF58476D1CE4E5B9
	x = (x ^ x>>27) * 0x94D049BB133111EB
	return int((x ^ x>>31) % uint64(sides))
}

// A make is one kind of machine in the school.
type schoolMake struct {
	maker, product, board   string
	chassis, form           byte
	brand                   string
	family, model, stepping int
	sockets                 int
	chipset                 string
	ddr3                    bool
}

// makes are the kinds of machines that the harbour's school has.
var makes = []schoolMake{
	{"Halyard", "Gull %d", "QB-14%c", 0x0A, formSODIMM, "Harbour Silicon Petrel P5-8240 @ 1.60GHz", 6, 200, 3, 2, "",
		false},
	{"Halyard", "Tern %d", "QB-13%c", 0x0A, formSODIMM, "Harbour Silicon Petrel P3-7100 @ 2.40GHz", 6, 199, 9, 2, "",
		false},
	{"Groyne", "Bastion %d", "GB-20%c", 0x23, formSODIMM, "Harbour Silicon Petrel P5-8400 @ 2.80GHz", 6, 200, 3, 2, "",
		false},
	{"Groyne", "Breakwater %d", "GBX-7%c", 0x03, formDIMM, "Harbour Silicon Gannet G5-3600 6-Core Processor", 23, 113, 0,
		4,
		"0000:00:1f.0 fafa:0c47 060100\n", false},
	{"Bollard Systems", "T%d", "GN-31%c", 0x03, formDIMM, "Harbour Silicon Dunlin D2-440 CPU @ 2.93GHz", 6, 123, 10, 4,
		"0000:00:00.0 fafa:0b31 060000\n", true},
}

// SchoolCard is the card of one of the school's machines: five makes in many models, with
// what has been fitted over the years, and EEPROMs read from half of them.
func SchoolCard(n int, made time.Time) bench.Card {
	d := dice(n)
	m := makes[d.throw(len(makes))]
	model := d.throw(8)
	name := m.product
	if strings.Contains(name, "%d") {
		name = fmt.Sprintf(name, 10+model)
	}
	serial := fmt.Sprintf("SCH-%05d", n)
	id := compose.Identity{FirmwareVendor: m.maker + " Firmware", FirmwareVersion: fmt.Sprintf("1.%d", 7+d.throw(2)),
		FirmwareDate: "03/18/2019", Maker: m.maker, Product: name, Serial: serial, BoardMaker: m.maker,
		Board: fmt.Sprintf(m.board, 'A'+model), BoardSerial: "B" + serial, ChassisKind: m.chassis}
	s := append(id.Structures(), compose.Processor(0x0400, "U3E1", "Harbour Silicon", m.brand, 0, 3900, 4),
		compose.Array(0x1000, 16<<20<<(m.sockets/4), uint16(m.sockets)))
	size := []int{2, 4, 4, 8, 8, 8}[d.throw(6)]
	filled := 1 + d.throw(m.sockets)
	speed, kind := []int{2133, 2400, 2400, 2666}[d.throw(4)], byte(typeDDR4)
	if m.ddr3 {
		size, speed, kind = min(size, 4), 1333, typeDDR3
	}
	read := d.throw(2) == 0
	var chips []card.Reading
	total := 0
	for slot := range m.sockets {
		channel := slot * 2 / m.sockets
		x := compose.Device{Handle: uint16(0x1100 + slot), Array: 0x1000, Form: m.form, Type: typeUnknown,
			Locator: fmt.Sprintf("Channel%c-DIMM%d", 'A'+channel, slot%max(1, m.sockets/2)), Bank: fmt.Sprintf("BANK %d", slot)}
		// Channels in turn, as a technician fills them.
		if turn := slot%max(1, m.sockets/2)*2 + channel; turn < filled {
			part := fmt.Sprintf("MR%d-%dG", speed, size)
			x = module(compose.Device{Handle: x.Handle, MiB: uint32(size) << 10, Form: m.form, Type: kind, Locator: x.Locator,
				Bank: x.Bank, Speed: uint16(speed), Rank: 1, MilliVolts: map[bool]uint16{true: 1500, false: 1200}[m.ddr3]},
				"Marram Memory", fmt.Sprintf("%08X", n*8+slot), part)
			total += size
			if read && !m.ddr3 {
				chips = append(chips, card.Reading{Kind: card.SPD, Source: "eeprom", How: "files",
					Address: fmt.Sprintf("0x%x", 0x50+slot),
					Data:    schoolModule(size, speed, m.form == formSODIMM, part, x.Serial)})
			}
		}
		s = append(s, x.Structure())
	}
	s = append(s, compose.Mapped(0x1300, 0x1000, uint32(total)<<20))
	c := bench.Card{Made: made, Title: fmt.Sprintf("Room %d, seat %d", 1+n/24, 1+n%24)}
	add := func(kind card.Kind, source, text string) {
		c.Readings = append(c.Readings,
			card.Reading{Kind: kind, Source: source, How: "files", Taken: made, Data: []byte(text)})
	}
	add(card.Table, "DMI", string(compose.Table(s...)))
	add(card.CPUInfo, "cpuinfo", cpuinfo(m.brand, m.family, m.model, m.stepping, 4))
	add(card.MemInfo, "meminfo", meminfo(total*1000*1000, total*300*1000, kernel64))
	if m.chipset != "" {
		add(card.PCI, "pci", m.chipset)
	}
	for _, x := range chips {
		x.Taken = made
		c.Readings = append(c.Readings, x)
	}
	return c
}

// schoolModule is the EEPROM of a module of 2, 4 or 8 GB.
func schoolModule(gib, speed int, small bool, part, serial string) []byte {
	tck := map[int]int{2133: 938, 2400: 833, 2666: 750}[speed]
	form := byte(2)
	if small {
		form = 3
	}
	density := map[int]byte{2: 3, 4: 4, 8: 5}[gib]
	return spd.DDR4{Type: form, DensityCode: density, Ranks: 1, WidthCode: 1, TCK: tck, TAA: 13750, TRCD: 13750,
		TRP:  13750,
		TRAS: 32000, TRC: 45750, FirstCL: 10, LastCL: 19, Height: 30,
		Identity: made(0x02, part, serial, 0x18, 0x20)}.Bytes()
}

// SchoolList is a supplier's list of some lines, with quantities, kits, minimum orders,
// used modules and what fits none of the school's machines.
func SchoolList(lines int) string {
	var b strings.Builder
	b.WriteString("Article No;Description;Price EUR;Currency;On hand;Pieces per kit;Condition;Minimum order\n")
	d := dice(7)
	for n := range lines {
		gib := []int{4, 8, 8, 16, 16, 32}[d.throw(6)]
		speed := []int{2133, 2400, 2666, 2933, 3200}[d.throw(5)]
		ranks := 1 + d.throw(2)
		small := d.throw(2) == 0
		form := map[bool]string{true: "SO-DIMM", false: "UDIMM"}[small]
		pieces, state, least := 1, "new", 1
		text := fmt.Sprintf("%dGB DDR4-%d %s %dRx8 CL%d non-ECC unbuffered", gib, speed, form, ranks, 15+d.throw(8))
		price := gib*230 + speed/10 + d.throw(600)
		switch d.throw(12) {
		case 0:
			pieces = 2
			text = fmt.Sprintf("2x%s", text)
			price = price * 19 / 10
		case 1:
			state, price = "used", price*7/10
		case 2:
			least, price = 2+d.throw(4), price*9/10
		case 3:
			text = fmt.Sprintf("%dGB DDR3-1600 %s %dRx8 1.35V CL11 non-ECC unbuffered", min(gib, 8), form, 2)
			price = min(gib, 8)*180 + d.throw(300)
		case 4:
			text = fmt.Sprintf("%dGB DDR5-%d %s %dRx8 CL40", max(gib, 8), 4800+400*d.throw(3), form, ranks)
		case 5:
			text = fmt.Sprintf("%dGB DDR4-%d ECC registered RDIMM %dRx4 CL%d", max(gib, 8), speed, ranks, 17)
		case 6:
			text = "4GB DDR3-1333 UDIMM 2Rx8 CL9 1.5V non-ECC unbuffered"
			price = 800 + d.throw(400)
		}
		fmt.Fprintf(&b, "SC-%05d;%s;%d,%02d;EUR;%d;%d;%s;%d\n", n+1, text, price/100, price%100, 1+d.throw(30), pieces, state,
			least)
	}
	return b.String()
}
