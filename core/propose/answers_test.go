package propose

import (
	"encoding/json"
	"fmt"
	"sort"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/evidence"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/reading"
	"epitome/core/rule"
	"epitome/core/smbios/compose"
	spd "epitome/core/spd/compose"
	"epitome/core/stock"
	"epitome/truth/effort"
)

// A bench machine: a real processor, by the name that it gives itself, in a
// made-up machine with one of its sockets filled.
type onBench struct {
	brand   string
	g       jedec.Generation
	laptop  bool
	gb      int // of the module that is fitted
	rate    int
	sockets int
	system  string
}

// benches are the processors whose machines come to a workshop.
var benches = []onBench{
	{"Intel(R) Atom(TM) CPU N455 @ 1.66GHz", jedec.DDR3, true, 1, 800, 1, "Windows 7 Starter 32-bit"},
	{"Intel(R) Celeron(R) CPU N2840 @ 2.16GHz", jedec.DDR3, true, 2, 1333, 1, "Windows 10 Home 64-bit"},
	{"Intel(R) Celeron(R) CPU J1900 @ 1.99GHz", jedec.DDR3, true, 4, 1333, 2, "Windows 10 Pro 64-bit"},
	{"Intel(R) Celeron(R) CPU N3060 @ 1.60GHz", jedec.DDR3, true, 2, 1600, 2, "Windows 10 Home 64-bit"},
	{"Intel(R) Celeron(R) CPU J3455 @ 1.50GHz", jedec.DDR3, true, 2, 1866, 2, "Windows 10 Home 64-bit"},
	{"Intel(R) Celeron(R) J4105 CPU @ 1.50GHz", jedec.DDR4, true, 4, 2400, 2, "Windows 10 Home 64-bit"},
	{"Intel(R) Celeron(R) N5105 @ 2.00GHz", jedec.DDR4, true, 4, 2933, 2, "Windows 11 Home 64-bit"},
	{"Intel(R) N100", jedec.DDR5, true, 8, 4800, 1, "Windows 11 Home 64-bit"},
	{"Intel(R) Core(TM) i7 CPU 920 @ 2.67GHz", jedec.DDR3, false, 2, 1066, 6, "Windows 10 Pro 64-bit"},
	{"Intel(R) Core(TM) i5 CPU 750 @ 2.67GHz", jedec.DDR3, false, 2, 1333, 4, "Windows 10 Pro 64-bit"},
	{"Intel(R) Core(TM) i3 CPU M 370 @ 2.40GHz", jedec.DDR3, true, 2, 1066, 2, "Windows 7 Home Premium 64-bit"},
	{"Intel(R) Core(TM) i5-2400 CPU @ 3.10GHz", jedec.DDR3, false, 4, 1333, 4, "Windows 10 Pro 64-bit"},
	{"Intel(R) Core(TM) i5-2520M CPU @ 2.50GHz", jedec.DDR3, true, 4, 1333, 2, "Windows 10 Pro 64-bit"},
	{"Intel(R) Core(TM) i7-3930K CPU @ 3.20GHz", jedec.DDR3, false, 4, 1600, 8, "Windows 10 Pro 64-bit"},
	{"Intel(R) Core(TM) i5-3470 CPU @ 3.20GHz", jedec.DDR3, false, 4, 1600, 4, "Windows 10 Pro 64-bit"},
	{"Intel(R) Core(TM) i5-3210M CPU @ 2.50GHz", jedec.DDR3, true, 4, 1600, 2, "Windows 10 Home 64-bit"},
	{"Intel(R) Core(TM) i5-4570 CPU @ 3.20GHz", jedec.DDR3, false, 4, 1600, 4, "Windows 10 Pro 64-bit"},
	{"Intel(R) Core(TM) i5-4200U CPU @ 1.60GHz", jedec.DDR3, true, 4, 1600, 2, "Windows 10 Home 64-bit"},
	{"Intel(R) Core(TM) i5-5200U CPU @ 2.20GHz", jedec.DDR3, true, 4, 1600, 2, "Windows 10 Home 64-bit"},
	{"Intel(R) Core(TM) i5-6500 CPU @ 3.20GHz", jedec.DDR4, false, 8, 2133, 4, "Windows 10 Pro 64-bit"},
	{"Intel(R) Core(TM) i5-6200U CPU @ 2.30GHz", jedec.DDR4, true, 4, 2133, 2, "Windows 10 Home 64-bit"},
	{"Intel(R) Core(TM) i7-7700 CPU @ 3.60GHz", jedec.DDR4, false, 8, 2400, 4, "Windows 10 Pro 64-bit"},
	{"Intel(R) Core(TM) i5-7200U CPU @ 2.50GHz", jedec.DDR4, true, 8, 2133, 2, "Windows 10 Home 64-bit"},
	{"Intel(R) Core(TM) i5-8400 CPU @ 2.80GHz", jedec.DDR4, false, 8, 2666, 4, "Windows 11 Pro 64-bit"},
	{"Intel(R) Core(TM) i5-8250U CPU @ 1.60GHz", jedec.DDR4, true, 8, 2400, 2, "Windows 11 Home 64-bit"},
	{"Intel(R) Core(TM) i7-9700K CPU @ 3.60GHz", jedec.DDR4, false, 8, 2666, 4, "Windows 11 Pro 64-bit"},
	{"Intel(R) Core(TM) i5-10400 CPU @ 2.90GHz", jedec.DDR4, false, 8, 2666, 2, "Windows 11 Pro 64-bit"},
	{"Intel(R) Core(TM) i5-10210U CPU @ 1.60GHz", jedec.DDR4, true, 8, 2666, 2, "Windows 11 Home 64-bit"},
	{"11th Gen Intel(R) Core(TM) i5-1135G7 @ 2.40GHz", jedec.DDR4, true, 8, 3200, 2, "Windows 11 Home 64-bit"},
	{"11th Gen Intel(R) Core(TM) i5-11400 @ 2.60GHz", jedec.DDR4, false, 8, 3200, 4, "Windows 11 Pro 64-bit"},
	{"12th Gen Intel(R) Core(TM) i5-1235U", jedec.DDR4, true, 8, 3200, 2, "Windows 11 Home 64-bit"},
	{"12th Gen Intel(R) Core(TM) i5-12400", jedec.DDR5, false, 16, 4800, 2, "Windows 11 Pro 64-bit"},
	{"13th Gen Intel(R) Core(TM) i7-13700K", jedec.DDR5, false, 16, 5600, 4, "Windows 11 Pro 64-bit"},
	{"Intel(R) Xeon(R) CPU E3-1230 v3 @ 3.30GHz", jedec.DDR3, false, 4, 1600, 4, "Windows 10 Pro 64-bit"},
	{"AMD Athlon(tm) II X2 250 Processor", jedec.DDR3, false, 2, 1333, 2, "Windows 10 Pro 64-bit"},
	{"AMD Phenom(tm) II X4 955 Processor", jedec.DDR3, false, 2, 1333, 4, "Windows 10 Pro 64-bit"},
	{"AMD FX(tm)-8350 Eight-Core Processor", jedec.DDR3, false, 4, 1866, 4, "Windows 10 Pro 64-bit"},
	{"AMD A8-6410 APU with AMD Radeon R5 Graphics", jedec.DDR3, true, 4, 1866, 1, "Windows 10 Home 64-bit"},
	{"AMD A10-5800K APU with Radeon(tm) HD Graphics", jedec.DDR3, false, 4, 1866, 2, "Windows 10 Home 64-bit"},
	{"AMD Ryzen 5 1600 Six-Core Processor", jedec.DDR4, false, 8, 2666, 4, "Windows 10 Pro 64-bit"},
	{"AMD Ryzen 5 2500U with Radeon Vega Mobile Gfx", jedec.DDR4, true, 8, 2400, 2, "Windows 11 Home 64-bit"},
	{"AMD Ryzen 5 3600 6-Core Processor", jedec.DDR4, false, 8, 3200, 4, "Windows 11 Pro 64-bit"},
	{"AMD Ryzen 5 3500U with Radeon Vega Mobile Gfx", jedec.DDR4, true, 8, 2400, 2, "Windows 11 Home 64-bit"},
	{"AMD Ryzen 7 4700U with Radeon Graphics", jedec.DDR4, true, 8, 3200, 2, "Windows 11 Home 64-bit"},
	{"AMD Ryzen 5 5600X 6-Core Processor", jedec.DDR4, false, 8, 3200, 4, "Windows 11 Pro 64-bit"},
	{"AMD Ryzen 5 5500U with Radeon Graphics", jedec.DDR4, true, 8, 3200, 2, "Windows 11 Home 64-bit"},
	{"AMD Ryzen 5 7600 6-Core Processor", jedec.DDR5, false, 16, 5200, 4, "Windows 11 Pro 64-bit"},
	{"AMD Ryzen 7 7840HS w/ Radeon 780M Graphics", jedec.DDR5, true, 16, 5600, 2, "Windows 11 Home 64-bit"},
}

// label is the sticker of the module that is fitted, in other sizes too.
func (b onBench) label(gb int) string {
	form := "U"
	if b.laptop {
		form = "S"
	}
	x, _ := jedec.GradeAt(b.g, jedec.Rate(b.rate))
	ranks := 1
	if die := gb * 8 / 8; die > map[jedec.Generation]int{jedec.DDR3: 4, jedec.DDR4: 8, jedec.DDR5: 16}[b.g] {
		ranks = 2
	}
	low := ""
	if b.g == jedec.DDR3 && b.laptop {
		low = " 1.35V"
	}
	return fmt.Sprintf("%dGB %dRx8 %v %s non-ECC unbuffered%s", gb, ranks, x,
		map[string]string{"U": "DIMM", "S": "SO-DIMM"}[form], low)
}

// card is the machine's: its firmware's table, its processor, its system, and
// where it is asked for its module's EEPROM.
func (b onBench) card(withEEPROM bool) card.Card {
	chassis, form, kind := byte(3), byte(9), map[jedec.Generation]byte{jedec.DDR3: 0x18, jedec.DDR4: 0x1A,
		jedec.DDR5: 0x22}[b.g]
	if b.laptop {
		chassis, form = 10, 13
	}
	channels := min(2, b.sockets)
	if b.sockets == 6 {
		channels = 3
	} else if b.sockets == 8 {
		channels = 4
	}
	s := append(compose.Identity{Maker: "Halyard", Product: "Fulmar 40", ChassisKind: chassis}.Structures(),
		compose.Array(0x1000, uint64(max(8, b.gb*2)*b.sockets)<<20, uint16(b.sockets)))
	for i := range b.sockets {
		each := b.sockets / channels
		channel := string(rune('A' + i/each))
		d := compose.Device{Handle: uint16(i + 1), Array: 0x1000, Form: form, Type: kind,
			Locator: fmt.Sprintf("Channel%s-DIMM%d", channel, i%each), Bank: fmt.Sprint("BANK ", i)}
		if i == 0 {
			d.MiB, d.Speed, d.Configured = uint32(b.gb<<10), uint16(b.rate), uint16(b.rate)
			d.TotalBits, d.DataBits, d.Detail = 64, 64, 0x4080
			d.Maker, d.Serial, d.Part = "Kelpmoor", "4F21A09C", "KM-17X-11"
		} else {
			d.Type = 2
		}
		s = append(s, d.Structure())
	}
	c := card.Card{Readings: []card.Reading{{Kind: card.Table, Source: "DMI", Data: compose.Table(s...)},
		{Kind: card.CPUInfo, Source: "cpuinfo", Data: []byte("processor : 0\nmodel name : " + b.brand + "\n")},
		{Kind: card.Hand, Source: "hand", Data: []byte("epitome-hand: 1\nmachine: {system: " + b.system + "}\n")}}}
	if image := b.image(); withEEPROM && image != nil {
		c.Readings = append(c.Readings, card.Reading{Kind: card.SPD, Source: "i2c/0-0050", Address: "0-0050", Data: image})
	}
	return c
}

// exported is the machine as its system exports it: filled places only, and how many
// are announced.
func (b onBench) exported() card.Card {
	form := 8
	if b.laptop {
		form = 12
	}
	objects := []map[string]any{
		{"CreationClassName": "Win32_ComputerSystem", "Manufacturer": "Halyard", "Model": "Fulmar 40",
			"NumberOfLogicalProcessors": 4},
		{"CreationClassName": "Win32_SystemEnclosure", "ChassisTypes": []int{map[bool]int{true: 10, false: 3}[b.laptop]}},
		{"CreationClassName": "Win32_OperatingSystem", "Caption": b.system},
		{"CreationClassName": "Win32_Processor", "Name": b.brand},
		{"CreationClassName": "Win32_PhysicalMemoryArray", "MemoryDevices": b.sockets,
			"MaxCapacity": max(8, b.gb*2) * b.sockets << 20},
		{"CreationClassName": "Win32_PhysicalMemory", "DeviceLocator": "ChannelA-DIMM0", "BankLabel": "BANK 0",
			"Capacity": b.gb << 30, "FormFactor": form, "Speed": b.rate, "ConfiguredClockSpeed": b.rate,
			"SMBIOSMemoryType": map[jedec.Generation]int{jedec.DDR3: 24, jedec.DDR4: 26, jedec.DDR5: 34}[b.g],
			"TotalWidth":       64, "DataWidth": 64, "Manufacturer": "Kelpmoor", "SerialNumber": "4F21A09C",
			"PartNumber": "KM-17X-11"},
	}
	data, _ := json.Marshal(objects)
	return card.Card{Readings: []card.Reading{{Kind: card.CIM, Source: "cim.json", Data: data}}}
}

// image is the module's EEPROM; none for DDR5, whose images no test builds yet.
func (b onBench) image() []byte {
	x, _ := jedec.GradeAt(b.g, jedec.Rate(b.rate))
	id := spd.Identity{Maker: jedec.MakerCode{Bank: 9, Code: 0x2A}, ChipMaker: jedec.MakerCode{Bank: 9, Code: 0x2A},
		Part: "KM-17X-11", Serial: "4F21A09C", Year: 0x19, Week: 0x07}
	kind := byte(2)
	if b.laptop {
		kind = 3
	}
	switch b.g {
	case jedec.DDR3:
		code := map[int]byte{1: 2, 2: 3, 4: 4}[b.gb]
		volts := byte(0)
		if b.laptop {
			volts = 2
		}
		return spd.DDR3{Type: kind, DensityCode: code, Ranks: 1, WidthCode: 1, VoltageBits: volts, TCK: int(x.TCK),
			TAA: 13125, TRCD: 13125, TRP: 13125, TRAS: 36000, TRC: 49125, FirstCL: 5, LastCL: 13, Identity: id}.Bytes()
	case jedec.DDR4:
		code := map[int]byte{4: 4, 8: 5}[b.gb]
		return spd.DDR4{Type: kind, DensityCode: code, Ranks: 1, WidthCode: 1, TCK: int(x.TCK), TAA: 13750, TRCD: 13750,
			TRP: 13750, TRAS: 32000, TRC: 45750, FirstCL: 10, LastCL: 24, Height: 30, Identity: id}.Bytes()
	}
	return nil
}

// list is a shop's: the same again, the next size, and what must never be sold
// for the machine.
func (b onBench) list(t *testing.T) (offers []Offer, never map[string]bool) {
	never = make(map[string]bool)
	add := func(sku, text string, price stock.Money, wrong bool) {
		st := known(t, text)
		offers = append(offers, Offer{SKU: sku, Text: text, Stick: &st, Pieces: 1, Price: price, MinOrder: 1,
			Condition: stock.New})
		never[sku] = wrong
	}
	add("same", b.label(b.gb), 2000, false)
	add("next", b.label(b.gb*2), 4000, false)
	other := b
	other.laptop = !b.laptop
	add("other form", other.label(b.gb), 900, true)
	later := onBench{g: jedec.DDR4, rate: 2400, laptop: b.laptop}
	if b.g == jedec.DDR4 {
		later.g, later.rate = jedec.DDR5, 4800
	}
	add("other generation", later.label(8), 900, true)
	add("server's", map[jedec.Generation]string{jedec.DDR3: "8GB 2Rx4 PC3-10600R-9-10-E1",
		jedec.DDR4: "16GB 2Rx4 PC4-2400T-RA1-11", jedec.DDR5: "16GB 1Rx8 PC5-4800B-RA0-1010-XT"}[b.g], 900, true)
	return offers, never
}

// The share of machines for which the evidence gives an answer to act on: what
// to buy for twice the memory, or that it can't be had. docs/evidence.md has the
// figures. No answer sells what must not be sold.
func TestMostMachinesHaveAnAnswer(t *testing.T) {
	effort.NotShort(t)
	for _, how := range []string{"with EEPROMs", "without", "as an export"} {
		with := how == "with EEPROMs"
		answers, all, works, no := 0, 0, 0, 0
		open := make(map[string]int)
		for i, b := range benches {
			if with && b.image() == nil || !effort.Full() && i%3 != 0 {
				continue
			}
			require.NotEmpty(t, catalogue.Recognise(catalogue.Processor{Brand: b.brand}), b.brand)
			c := b.card(with)
			if how == "as an export" {
				c = b.exported()
			}
			m := evidence.Weigh(reading.Of(c), catalogue.Catalogue{})
			offers, never := b.list(t)
			r, err := Search(m, ceiling.Of(m, catalogue.Catalogue{}),
				Goal{Reach: maybe.Just(jedec.Capacity(2*b.gb) * jedec.GiB), Offers: offers}, nil)
			all++
			for _, p := range r.Proposals {
				for _, buy := range p.Buys {
					assert.False(t, never[buy.SKU], "%s: %s for %s", p.Trial.Verdict, buy.Text, b.brand)
				}
			}
			switch {
			case len(r.Proposals) > 0:
				answers++
				if b.sockets > 1 {
					assert.Empty(t, r.Proposals[0].Removes, "%s: a good stick stays where there is room beside it", b.brand)
				}
				if rule.Outcome(r.Proposals[0].Trial.Verdict).Runs() {
					works++
				}
			case err != nil && strings.Contains(err.Error(), ErrBeyond.Error()):
				answers, no = answers+1, no+1
				t.Logf("no: %s: %v", b.brand, err)
			default:
				why := fmt.Sprint(err)
				if len(r.Unproven) > 0 {
					why = ""
					for _, x := range r.Unproven[0].Trial.Reasons {
						if x.Outcome == rule.Unproven {
							why += x.Rule + ": " + x.Says + "; "
						}
					}
				}
				open[why]++
				t.Logf("no answer: %s: %s", b.brand, why)
			}
		}
		var reasons []string
		for why, n := range open {
			reasons = append(reasons, fmt.Sprintf("%d: %s", n, why))
		}
		sort.Strings(reasons)
		t.Logf("%s: %d of %d have an answer: %d works, %d likely, %d no; %s", how, answers, all, works, answers-works-no,
			no, strings.Join(reasons, "\n"))
		assert.GreaterOrEqual(t, answers*10, all*9)
	}
}
