package evidence

import (
	"fmt"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/reading"
	"epitome/core/smbios/compose"
	"epitome/golden"
	"epitome/truth/effort"
)

// weighable is what every fact can be asked.
type weighable interface {
	Standing() fact.Standing
	Why() []fact.Support
	Against() []fact.Support
}

// told lists every fact in a value, with what speaks for it and against it, and every other word and figure.
func told(path string, v reflect.Value, out *[]string) {
	if v.Kind() == reflect.Pointer && !v.IsNil() {
		v = v.Elem()
	}
	if f, ok := v.Interface().(weighable); ok {
		if f.Standing() == fact.Unknown && len(f.Why()) == 0 {
			return
		}
		line := fmt.Sprintf("%s: %v %v", path, v.MethodByName("Value").Call(nil)[0], f.Standing())
		for _, s := range f.Why() {
			line += "; " + s.Says + " (" + s.Source + ")"
		}
		for _, s := range f.Against() {
			line += "; not: " + s.Says + " (" + s.Source + ")"
		}
		*out = append(*out, line)
		return
	}
	switch v.Kind() {
	case reflect.Struct:
		if v.NumField() > 0 && !v.Type().Field(0).IsExported() {
			*out = append(*out, fmt.Sprintf("%s: %v", path, v))
			return
		}
		for i := range v.NumField() {
			if v.Type().Field(i).IsExported() && !v.Field(i).IsZero() {
				told(path+"."+v.Type().Field(i).Name, v.Field(i), out)
			}
		}
	case reflect.Slice:
		for i := range v.Len() {
			told(fmt.Sprintf("%s %d", path, i+1), v.Index(i), out)
		}
	case reflect.Map, reflect.Func, reflect.Pointer:
	default:
		*out = append(*out, fmt.Sprintf("%s: %v", path, v))
	}
}

// dealt is a card by chance: firmware tables, EEPROMs, exports, panels and what people wrote, of one machine or not
// quite.
func dealt(r *rand.Rand) card.Card {
	pick := func(n int) int { return r.IntN(n) }
	of := func(list ...string) string { return list[pick(len(list))] }
	identity := compose.Identity{Maker: of("Halyard", "To be filled by "+
		"O.E.M.", ""), Product: of("Gull 14", "Gull desktop", "System Product Name"),
		BoardMaker: of("Groyne", ""), Board: of("GBX", ""), ChassisKind: byte([]int{3, 9, 10, 13, 2, 0x23}[pick(6)])}
	places := pick(5)
	array := places
	if pick(4) == 0 {
		array += pick(3)
	}
	s := append(identity.Structures(), compose.Array(0x1000, uint64([]int{0, 8, 16, 32, 64, 128}[pick(6)])<<20,
		uint16(array)))
	form, kind := byte([]int{9, 0x0D, 0x0B, 2, 1}[pick(5)]), byte([]int{0x1A, 0x18, 0x22, 0x1E, 2, 0x23}[pick(6)])
	var c card.Card
	for i := range places {
		d := compose.Device{Handle: uint16(i + 1), Array: 0x1000, Form: form, Locator: of("DIMM "+string(rune('A'+i)),
			fmt.Sprintf("ChannelA-DIMM%d", i),
			"DIMM 0", "Motherboard", "System Board Memory"), Bank: of("BANK 0", fmt.Sprintf("P0 CHANNEL %c", 'A'+i%2), "")}
		if pick(3) > 0 {
			d.MiB, d.Type = uint32([]int{512, 2048, 4096, 8192, 16384, 32768}[pick(6)]), kind
			d.TotalBits, d.DataBits, d.Rank = uint16([]int{64, 72, 32, 0}[pick(4)]), 64, byte(pick(3))
			d.Speed, d.Configured = uint16([]int{2400, 1200, 1600, 800, 0, 3200, 2667}[pick(7)]), uint16([]int{2400, 2133,
				1200, 0}[pick(4)])
			d.Serial, d.Part, d.Maker = of(fmt.Sprintf("0A0B0C%02d", i), "00000000", ""), of("MR4S-8G24", "Undefined", ""),
				of("Marram", "Unknown", "80CE")
			d.Detail, d.MilliVolts = uint16([]int{0x80, 0x4080, 0x2080, 0}[pick(4)]), uint16([]int{1200, 1350, 0}[pick(3)])
			if pick(3) == 0 {
				c.Readings = append(c.Readings, card.Reading{Kind: card.SPD, Source: "i2c", Address: fmt.Sprintf("0-005%d", i),
					Data: chip(of("0A0B0C0"+fmt.Sprint(i), "11223344"), of("MR4S-8G24", "OTHER-1"))})
			}
		}
		s = append(s, d.Structure())
	}
	if pick(3) == 0 {
		id := []uint64{0, 0x000906EA, 0x00800F11, 0xBFEBFBFF000906EA}[pick(4)]
		for n := range 1 + pick(2) {
			s = append(s, compose.Processor(uint16(0x40+n), fmt.Sprint("CPU ", n), "Quay", "Petrel P5-8240", id, 3000, 4))
		}
	}
	if pick(5) > 0 {
		c.Readings = append(c.Readings, card.Reading{Kind: card.Table, Source: "DMI", Data: compose.Table(s...)})
	}
	if pick(2) == 0 {
		c.Readings = append(c.Readings, card.Reading{Kind: card.CPUInfo, Source: "cpuinfo",
			Data: []byte("processor : 0\n" + of("cpu family : 6\n", "cpu family : 6\n", "") +
				of("model : 200\n", "model : 200\n", "") + of("stepping : 3\n", "") + "model name : Petrel P5-8240\n" +
				of("flags : lm\n", "flags : pae\n") + "physical id : 0\n")})
	}
	if pick(2) == 0 {
		c = seesKiB(c, []int{4_000_000, 8_000_000, 12_000_000, 16_000_000, 33_000_000, 8 << 20, 4 << 20, 8<<20 - 512<<10,
			6 << 20, 6<<20 + 1}[pick(10)])
	}
	if pick(3) == 0 {
		c.Readings = append(c.Readings, card.Reading{Kind: card.CIM, Source: "x.json", Data: fmt.Appendf(nil,
			`[{"CreationClassName": "Win32_PhysicalMemory", "DeviceLocator": "DIMM A", "Capacity": %d, `+
				`"SMBIOSMemoryType": 26, "Speed": 2400},`+
				`{"CreationClassName": "Win32_PhysicalMemoryArray", "MemoryDevices": %d, "MaxCapacity": 33554432},`+
				`{"CreationClassName": "Win32_ComputerSystem", "TotalPhysicalMemory": 8000000000, "PCSystemType": %d, `+
				`"Model": "Gull"},`+
				`{"CreationClassName": "Win32_Processor", "Name": "Petrel P5-8240", "ProcessorId": %q, "Description": %q},`+
				`{"CreationClassName": "Win32_OperatingSystem", "Caption": "Windows 10 Pro", "OSArchitecture": "64-bit"}]`,
			uint64(4+4*pick(2))<<30, pick(4), pick(4), of("BFEBFBFF000906EA", "0", "none"),
			of("Quay64 Family 6 Model 158 Stepping 10", "Quay64 Family 6 Model 200 Stepping 3", "Petrel"))})
	}
	if pick(4) == 0 {
		c.Readings = append(c.Readings, card.Reading{Kind: card.Panel, Source: "panel",
			Data: []byte(of("Slots used: 1 of 2", "Installed memory (RAM): 8.00 GB (7.88 GB usable)", "Slots used: 2 of 4"))})
	}
	for range pick(3) {
		c = hand(c, of("sockets: 2", "sockets: 4", "maximum: {size: 32GB}", "machine: {kind: laptop}",
			"places: [{name: DIMM A, attach: socket, takes: SO-DIMM, holds: 8GB 1Rx8 PC4-2400T-SA1-11}]",
			"places: [{name: DIMM A, attach: soldered}]", "places: [{name: DIMM B, holds: free}]",
			"places: [{name: DIMM 0, attach: socket, channel: B}]", "distrust: [smbios-table]", "rate: 2666",
			"machine: {processor: Petrel P5-8240, system: Windows 7 32-bit}")+"\n")
	}
	return c
}

// ours is what a workshop knows of the machines that chance makes.
func ours(t *testing.T) catalogue.Catalogue {
	o, faults := catalogue.ParseOverlay("ours.yaml", []byte("epitome-catalogue: 1\nprocessors: [{family: Petrel, "+
		"brand: Petrel P5, "+
		"basis: sheet, takes: [{generation: DDR4, channels: 2, slots_per_channel: 2, rate: 2666, maximum: 64GB}]}]\n"+
		"boards: [{maker: Groyne, names: GBX, basis: manual, maximum: 32GB, slots: [{name: DIMM A, channel: A}, "+
		"{name: DIMM B, channel: B}]}]\n"))
	require.Empty(t, faults)
	return catalogue.Catalogue{}.With(o)
}

// byChance runs a check on what cards by chance come to.
func byChance(t *testing.T, cards int,
	check func(t *testing.T, c card.Card, k catalogue.Catalogue, m machine.Machine)) {
	k := ours(t)
	for seed := range uint64(cards) {
		c := dealt(rand.New(rand.NewPCG(seed, 3)))
		known := k
		if seed%2 == 1 {
			known = catalogue.Catalogue{}
		}
		m := Weigh(reading.Of(c), known)
		if check(t, c, known, m); t.Failed() {
			var lines []string
			told("", reflect.ValueOf(m), &lines)
			t.Fatalf("card %d\n%s", seed, strings.Join(lines, "\n"))
		}
	}
}

// eachFact calls for every fact of a value, however deep.
func eachFact(path string, v reflect.Value, call func(path string, f weighable, value any, known bool)) {
	if v.Kind() == reflect.Pointer && !v.IsNil() {
		v = v.Elem()
	}
	if f, ok := v.Interface().(weighable); ok {
		value := v.MethodByName("Value").Call(nil)[0]
		call(path, f, value.Interface(), value.MethodByName("Known").Call(nil)[0].Bool())
		return
	}
	switch v.Kind() {
	case reflect.Struct:
		for i := range v.NumField() {
			if v.Type().Field(i).IsExported() {
				eachFact(path+"."+v.Type().Field(i).Name, v.Field(i), call)
			}
		}
	case reflect.Slice:
		for i := range v.Len() {
			eachFact(fmt.Sprintf("%s %d", path, i+1), v.Index(i), call)
		}
	default:
	}
}

// A fact that stands has somebody who says it, one that is disputed has two sides, and each claim, lost ones too, names
// its source and what it says.
func TestChanceEachFactHasItsClaims(t *testing.T) {
	byChance(t, effort.Cases(400), func(t *testing.T, _ card.Card, _ catalogue.Catalogue, m machine.Machine) {
		eachFact("", reflect.ValueOf(m), func(path string, f weighable, value any, known bool) {
			switch f.Standing() {
			case fact.Settled, fact.Leaning:
				assert.True(t, known, path)
				assert.NotEmpty(t, f.Why(), path)
			case fact.Disputed:
				assert.NotEmpty(t, append(f.Why(), f.Against()...), path)
			default:
				assert.False(t, known, path)
			}
			for _, s := range append(f.Why(), f.Against()...) {
				assert.NotEmpty(t, s.Says, path)
				assert.NotEmpty(t, s.Source, path)
				assert.NotContains(t, s.Says, "%!", path)
			}
		})
	})
}

// Sums are sums: what is installed is what the modules hold, sockets are those that are none on the board, the free
// ones those of them that are empty.
func TestChanceTotalsAreSums(t *testing.T) {
	byChance(t, effort.Cases(400), func(t *testing.T, _ card.Card, _ catalogue.Catalogue, m machine.Machine) {
		names := make(map[string]bool)
		total, open, unsized := jedec.Capacity(0), 0, 0
		for _, p := range m.Places {
			assert.NotEmpty(t, p.Name)
			assert.False(t, names[strings.ToLower(p.Name)], "%s twice", p.Name)
			names[strings.ToLower(p.Name)] = true
			switch p.Attach.Or("") {
			case machine.Socket:
			case machine.Soldered:
				assert.True(t, p.Filled.Or(true), "%s: soldered and empty", p.Name)
			default:
				open++
			}
			if p.Module != nil && p.Filled.Or(true) {
				if size, ok := p.Module.Capacity.Get(); ok {
					total += size
				} else {
					unsized++
				}
			}
		}
		if n, ok := m.Totals.SocketsFree.Get(); ok && open == 0 {
			assert.GreaterOrEqual(t, n, 0)
			if m.Totals.Sockets.Known() {
				assert.LessOrEqual(t, n, m.Totals.Sockets.Or(0))
			}
		}
		if size, ok := m.Totals.Installed.Get(); ok && unsized == 0 && len(m.Places) > 0 {
			assert.True(t, size >= total || m.Totals.Installed.Standing() != fact.Settled, "%v of modules, %v in all", total,
				size)
		}
	})
}

// What is open says what would settle it, once; a look names a place that there is.
func TestChanceWhatIsOpenSaysWhatSettlesIt(t *testing.T) {
	byChance(t, effort.Cases(400), func(t *testing.T, _ card.Card, _ catalogue.Catalogue, m machine.Machine) {
		names := []string{""}
		for _, p := range m.Places {
			names = append(names, p.Name)
		}
		seen := make(map[machine.Open]bool)
		for _, o := range m.Open {
			assert.NotEmpty(t, o.Settles)
			assert.False(t, seen[o], "%v is asked twice", o.About)
			seen[o] = true
			assert.Contains(t, names, o.About.Place)
		}
		for _, c := range m.Conflicts {
			assert.NotEmpty(t, c.Says)
		}
	})
}

// The same card is the same machine, to the last word.
func TestChanceTheSameCardIsTheSameMachine(t *testing.T) {
	byChance(t, effort.Cases(100), func(t *testing.T, c card.Card, k catalogue.Catalogue, m machine.Machine) {
		assert.Equal(t, m, Weigh(reading.Of(c), k))
	})
}

// What somebody saw stands: a place of which a person says what it is, is that, whatever firmware writes.
func TestChanceWhatSomebodySawStands(t *testing.T) {
	byChance(t, effort.Cases(200), func(t *testing.T, c card.Card, k catalogue.Catalogue, m machine.Machine) {
		for _, r := range c.Readings {
			if r.Kind == card.Hand {
				return // somebody else saw it otherwise
			}
		}
		for _, p := range m.Places {
			if strings.ContainsAny(p.Name, "/#:,{}[]") {
				continue
			}
			for _, attach := range []machine.Attach{machine.Socket, machine.Soldered} {
				if attach == machine.Soldered && (!p.Filled.Or(true) || strings.HasPrefix(p.Name, "EEPROM")) {
					continue
				}
				seen := Weigh(reading.Of(hand(c, fmt.Sprintf("places: [{name: %q, attach: %s}]\n", p.Name, attach))), k)
				for _, q := range seen.Places {
					if q.Name == p.Name && len(q.Attach.Against()) == 0 {
						assert.Equal(t, attach, q.Attach.Or(""), p.Name)
					}
				}
			}
		}
	})
}

// Some cards in full: every fact that follows, how firmly it stands, and what speaks for it and against it.
func TestCardsInFull(t *testing.T) {
	k := ours(t)
	maker := jedec.MakerCode{Bank: 1, Code: 0x4E}.Name()
	for _, seed := range []uint64{2, 18, 44, 96, 150, 212} {
		var lines []string
		told("", reflect.ValueOf(Weigh(reading.Of(dealt(rand.New(rand.NewPCG(seed, 3)))), k)), &lines)
		for i := range lines { // whose code it is, is the catalogue's business
			lines[i] = strings.ReplaceAll(lines[i], maker, "the maker of 80CE")
		}
		golden.Compare(t, fmt.Sprintf("testdata/cards/%d.txt", seed), strings.Join(lines, "\n")+"\n")
	}
}
