package truth

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"

	"epitome/core/jedec"
)

// A Module is one that exists, with everything about it.
type Module struct {
	Generation         jedec.Generation
	Soldered           bool // chips on the board
	SODIMM             bool
	Ranks, Width, Die  int // die in Gbit
	Rate               jedec.Rate
	MilliVolts         int
	Maker, Part, Serie string
	Kind               Kind
}

// A Kind is how a module is built beside its chips.
type Kind byte

// The kinds.
const (
	Plain      Kind = iota
	Checked         // with check bits, unbuffered
	Registered      // with check bits and a register
)

// totalBits is how wide the module is, check bits included.
func (m Module) totalBits() uint16 {
	if m.Kind == Plain {
		return 64
	}
	return 72
}

// Size is what the module holds.
func (m Module) Size() jedec.Capacity {
	return jedec.Capacity(m.Die*64/m.Width*m.Ranks) * jedec.GiB / 8
}

// letters are the bins that modules of a grade are sold in.
var letters = map[jedec.Rate]string{
	1066: "7-10",
	1333: "9-10",
	1600: "11-11",
	2133: "P",
	2400: "T",
	2666: "V",
	3200: "AA",
	4800: "B",
	5600: "B",
}

// Label is what stands on the module, by the standard's way of labelling.
func (m Module) Label() string {
	kind := "U"
	switch {
	case m.SODIMM:
		kind = "S"
	case m.Kind == Checked:
		kind = "E"
	case m.Kind == Registered:
		kind = "R"
	}
	head := fmt.Sprintf("%s %dRx%d ", m.size(), m.Ranks, m.Width)
	raw := map[[2]int]string{{1, 8}: "A", {2, 8}: "B", {1, 16}: "C"}[[2]int{m.Ranks, m.Width}]
	switch m.Generation {
	case jedec.DDR3:
		low := map[bool]string{true: "L"}[m.MilliVolts == 1350]
		rating := map[jedec.Rate]string{1066: "8500", 1333: "10600", 1600: "12800"}[m.Rate]
		return fmt.Sprintf("%sPC3%s-%s%s-%s-%s1", head, low, rating, kind, letters[m.Rate], raw)
	case jedec.DDR4:
		return fmt.Sprintf("%sPC4-%d%s-%s%s1-11", head, m.Rate, letters[m.Rate], kind, raw)
	default:
		return fmt.Sprintf("%sPC5-%d%s-%s%s0-1010-XT", head, m.Rate, letters[m.Rate], kind, raw)
	}
}

func (m Module) size() string {
	if m.Size()%jedec.GiB != 0 {
		return fmt.Sprintf("%dMB", m.Size().MiB())
	}
	return fmt.Sprintf("%dGB", m.Size()/jedec.GiB)
}

// A Place is where memory sits or may sit.
type Place struct {
	Locator, Bank string // as firmware writes them
	Channel       string // A, B
	Soldered      bool
	Holds         *Module // nil: empty
}

// A Machine is a computer of which everything is known. Makers, models, boards, part and serial numbers are invented.
type Machine struct {
	Maker, Model, Board, Serial string
	Processor                   Processor
	Desktop                     bool
	System                      string
	Places                      []Place
}

// Sockets are the places that modules go into.
func (m Machine) Sockets() (list []Place) {
	return slices.DeleteFunc(slices.Clone(m.Places), func(p Place) bool { return p.Soldered })
}

// Total is what is fitted, soldered chips included.
func (m Machine) Total() (sum jedec.Capacity) {
	for _, p := range m.Places {
		if p.Holds != nil {
			sum += p.Holds.Size()
		}
	}
	return sum
}

// made reports whether modules of the machine's kind are made so: check bits stand on chips of eight lines.
func (m Machine) made(build [3]int) bool { return m.Processor.Kind == Plain || build[1] == 8 }

// Largest is the largest module that the controller addresses.
func (m Machine) Largest() (size jedec.Capacity) {
	for _, b := range builds[m.Processor.Generation] {
		if b[2] <= m.Processor.Die && m.made(b) {
			size = max(size, Module{Ranks: b[0], Width: b[1], Die: b[2]}.Size())
		}
	}
	return size
}

// Maximum is what its manual says, and honest firmware: what its sockets hold beside what is soldered, within what the
// controller takes.
func (m Machine) Maximum() jedec.Capacity {
	sum := jedec.Capacity(0)
	for _, p := range m.Places {
		if p.Soldered {
			sum += p.Holds.Size()
		} else {
			sum += m.Largest()
		}
	}
	return min(sum, jedec.Capacity(m.Processor.Maximum)*jedec.GiB)
}

// Rate is that at which what is fitted runs: the slowest module's or the controller's, by how its channels are filled.
func (m Machine) Rate() jedec.Rate {
	rate := m.Processor.Rate
	on := make(map[string]int)
	for _, p := range m.Places {
		if p.Holds != nil {
			rate = min(rate, p.Holds.Rate)
			on[p.Channel]++
		}
	}
	for _, n := range on {
		if n > 1 && m.Processor.Filled > 0 {
			rate = min(rate, m.Processor.Filled)
		}
	}
	return rate
}

// habits are how real firmware names places, by channel, socket in it, and running number.
var habits = []func(c, d, n int) (locator, bank string){
	func(c, d, n int) (string, string) {
		return fmt.Sprintf("Channel%c-DIMM%d", 'A'+c, d), fmt.Sprint("BANK ", n)
	},
	func(c, d, n int) (string, string) {
		return fmt.Sprintf("DIMM_%c%d", 'A'+c, d+1), fmt.Sprint("BANK ", n)
	},
	func(c, d, n int) (string, string) { return fmt.Sprint("DIMM ", d), fmt.Sprintf("P0 CHANNEL %c", 'A'+c) },
	func(c, d, n int) (string, string) {
		return fmt.Sprintf("Controller0-Channel%c-DIMM%d", 'A'+c, d), fmt.Sprint("BANK ", n)
	},
	func(c, d, n int) (string, string) {
		return fmt.Sprint("DIMM", n+1), fmt.Sprintf("BANK %d/%d", 2*n, 2*n+1)
	},
}

// Chance is a machine by chance: a board as boards are, filled as they are found.
func Chance(r *rand.Rand) Machine {
	of := func(list ...string) string { return list[r.IntN(len(list))] }
	for {
		p := processors[r.IntN(len(processors))]
		m := Machine{Processor: p, Desktop: !p.Laptop, Maker: of("Halyard", "Gorsefield", "Wherry", "Lindmark"),
			Model: fmt.Sprint(of("Plover", "Linnet", "Gannet", "Teal"), " ", 100+r.IntN(900)),
			Board: fmt.Sprintf("QB-%d%s", 10+r.IntN(90), of("A", "B", "C")), Serial: fmt.Sprintf("%08X", r.Uint32()),
			System: of("Linux 64-bit", "Windows 10 Pro 64-bit", "Windows 11 Home 64-bit")}
		each := 1
		if m.Desktop {
			each = 1 + r.IntN(p.Sockets)
		}
		name := habits[r.IntN(len(habits))]
		for c := range p.Channels {
			for d := range each {
				locator, bank := name(c, d, len(m.Places))
				m.Places = append(m.Places, Place{Locator: locator, Bank: bank, Channel: string(rune('A' + c))})
			}
		}
		if !m.Desktop && p.Generation != jedec.DDR3 && r.IntN(4) == 0 {
			m.Places[0].Soldered, m.Places[0].Locator = true, "Onboard"
			if r.IntN(3) == 0 && len(m.Places) > 1 { // a bank on each channel, and a socket beside the second
				locator, bank := name(1, 1, len(m.Places))
				m.Places[1].Soldered, m.Places[1].Locator = true, "Onboard 2"
				m.Places = append(m.Places, Place{Locator: locator, Bank: bank, Channel: "B"})
			}
		}
		if fill(r, &m); m.Total() > 0 && m.Total() <= m.Maximum() {
			return m
		}
	}
}

// fill fits modules as they are found: one, a pair, unlike ones, all.
func fill(r *rand.Rand, m *Machine) {
	g := m.Processor.Generation
	var fitting [][3]int
	for _, b := range builds[g] {
		if b[2] <= m.Processor.Die && m.made(b) {
			fitting = append(fitting, b)
		}
	}
	fresh := func() *Module {
		b := fitting[r.IntN(len(fitting))]
		one := Module{Generation: g, SODIMM: !m.Desktop, Kind: m.Processor.Kind, Ranks: b[0], Width: b[1], Die: b[2],
			Rate: rates[g][r.IntN(len(rates[g]))], MilliVolts: m.Processor.MilliVolts,
			Maker: []string{"Marram", "Norvik", "Spindrift"}[r.IntN(3)], Serie: fmt.Sprintf("%08X", r.Uint32())}
		one.Part = fmt.Sprintf("MR%s%s-%s%d", strings.TrimPrefix(g.String(), "DDR"),
			map[bool]string{true: "S", false: "U"}[one.SODIMM], strings.TrimRight(one.size(), "MGB"), one.Rate/100)
		return &one
	}
	first, way := fresh(), r.IntN(4)
	n := 0
	for i := range m.Places {
		p := &m.Places[i]
		if p.Soldered {
			chips := Module{
				Generation: g,
				Soldered:   true,
				Ranks:      1,
				Width:      16,
				Die:        8 * map[bool]int{true: 2, false: 1}[g == jedec.DDR5],
				Rate:       m.Processor.Rate,
				MilliVolts: m.Processor.MilliVolts,
			}
			p.Holds = &chips
			continue
		}
		if n++; way == 0 && n > 1 || way == 1 && n > 2 {
			continue
		}
		p.Holds = first
		if way == 2 && n > 1 {
			p.Holds = fresh()
		} else if n > 1 {
			like := *first
			like.Serie = fmt.Sprintf("%08X", r.Uint32())
			p.Holds = &like
		}
	}
}
