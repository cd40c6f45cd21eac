package truth

import (
	"fmt"
	"math/rand/v2"

	"epitome/core/jedec"
)

// A Line is one line of a made-up price list, with what is sold there in truth.
type Line struct {
	SKU    string
	Module Module
	Cents  int
	Pieces int // there are
}

// Text is what the line calls it.
func (l Line) Text() string { return l.Module.Label() }

// List is a price list for a machine, by chance: modules that go there, and some of the other form.
func (m Machine) List(r *rand.Rand) (lines []Line) {
	g := m.Processor.Generation
	for i, b := range builds[g] {
		for _, rate := range rates[g] {
			if r.IntN(3) == 0 || !m.made(b) {
				continue
			}
			one := Module{Generation: g, SODIMM: !m.Desktop, Kind: m.Processor.Kind, Ranks: b[0], Width: b[1], Die: b[2],
				Rate: rate, MilliVolts: m.Processor.MilliVolts, Maker: "Marram"}
			if r.IntN(8) == 0 && one.Kind == Plain {
				one.SODIMM = !one.SODIMM
			}
			one.Part = fmt.Sprintf("MR-%d-%d", i, rate)
			lines = append(lines, Line{SKU: fmt.Sprintf("K%d-%d", i, rate), Module: one, Pieces: 1 + r.IntN(8),
				Cents: 700 + int(one.Size()/jedec.GiB)*210 + int(rate)/4 + r.IntN(300)})
		}
	}
	return lines
}

// With is the machine with a module in a place, or without one there.
func (m Machine) With(at int, module *Module) Machine {
	places := append([]Place(nil), m.Places...)
	places[at].Holds = module
	m.Places = places
	return m
}
