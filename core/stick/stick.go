// Package stick is one module however it is described: sticker text, a shop's
// free text, a part number, a short specification, an EEPROM image. What the
// description states is taken; what it does not state stays unknown; what
// contradicts itself is an error that quotes both parts.
package stick

import (
	"errors"
	"fmt"
	"strings"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/plain"
)

// A Stick is what one description says of a module.
type Stick struct {
	From       string // the description, or the file it came from
	Kind       string // "label", "listing", "part number", "EEPROM"
	Generation maybe.Value[jedec.Generation]
	Form       maybe.Value[jedec.Form]
	Capacity   maybe.Value[jedec.Capacity] // of one module
	Pieces     maybe.Value[int]            // modules in a kit
	Ranks      maybe.Value[int]
	Width      maybe.Value[int] // data lines a chip
	Density    maybe.Value[int] // of a die, Mbit
	DataWidth  maybe.Value[int] // data lines of the module without check bits
	ECC        maybe.Value[bool]
	Registered maybe.Value[bool]
	Clocked    maybe.Value[bool] // carries a clock driver
	Grade      maybe.Value[jedec.Grade]
	Timing     maybe.Value[jedec.Timing] // at the standard grade
	CL         maybe.Value[jedec.Latency]
	Times      Times
	Latencies  []jedec.Latency // all CAS latencies supported, where stated
	MilliVolts []int           // supplies the module is good for, where stated
	Maker      maybe.Value[jedec.MakerCode]
	Part       string
	Serial     string
	Year, Week maybe.Value[int]
	Checksum   string   // "ok", "bad", "none"
	Checks     []string // each checksum of an image, with what was expected and found
	Dies       maybe.Value[int]
	Stacked    bool
	ChipMaker  maybe.Value[jedec.MakerCode]
	HeightMM   maybe.Value[int]
	Thermal    maybe.Value[bool]
	Revision   string   // of the image's contents
	Notes      []string // what is odd about an image, or missing from it
	Profiles   []Profile
	Label      maybe.Value[jedec.Label]
	// Choices are the honest readings of a figure that could be a rate or a
	// clock; Grade is unknown then.
	Choices []jedec.Grade
	// Leaning are facts that the description suggests and does not state.
	Leaning []Hint
	// Passed are words that were not understood and say nothing here.
	Passed []string
}

// Times are a module's minimum times.
type Times struct {
	TCK, TAA, TRCD, TRP, TRAS, TRC maybe.Value[jedec.Picoseconds]
}

// A Profile is an operating point beyond the standard that a module is sold
// for. The machine must be able to select it.
type Profile struct {
	Name       string
	Rate       jedec.Rate
	CL         maybe.Value[jedec.Latency]
	TRCD       maybe.Value[int]
	TRP        maybe.Value[int]
	TRAS       maybe.Value[int]
	MilliVolts maybe.Value[int]
}

// A Hint is a fact that leans.
type Hint struct {
	Fact, Value, Why string
}

// ErrContradiction: two parts of a description can't both be right.
var ErrContradiction = errors.New("contradicts itself")

// A ContradictionError quotes the two parts.
type ContradictionError struct {
	From, A, B string
	Why        string
}

func (e *ContradictionError) Error() string {
	return fmt.Sprintf("%q %v: %q against %q: %s", e.From, ErrContradiction, e.A, e.B, e.Why)
}

// Unwrap returns ErrContradiction.
func (e *ContradictionError) Unwrap() error { return ErrContradiction }

// ErrNothing: the text says nothing about a module.
var ErrNothing = errors.New("says nothing about a memory module")

// Parse reads a sticker's label, a part number, or free text. It takes the
// standard label first, since that one is exact.
func Parse(text string) (Stick, error) {
	text = plain.Line(text)
	label, err := jedec.ParseLabel(text)
	switch {
	case err == nil:
		return FromLabel(text, label), nil
	case errors.Is(err, jedec.ErrLabel):
		return Stick{}, err
	}
	if part, ok := jedec.ReadPart(text); ok && !strings.Contains(text, " ") {
		return fromPart(text, part), nil
	}
	return FromListing(text)
}

// FromLabel takes what a label says.
func FromLabel(text string, l jedec.Label) Stick {
	s := Stick{From: text, Kind: "label", Label: maybe.Just(l), Checksum: "none", Capacity: l.Capacity,
		Generation: maybe.Just(l.Grade.Generation), Grade: maybe.Just(l.Grade), Timing: l.Timing, CL: l.CL, MilliVolts: []int{l.MilliVolts}}
	if l.Grade.Generation == jedec.DDR3 && l.MilliVolts == 1350 {
		// JESD79-3-1: a 1.35 V device is operable at 1.5 V too.
		s.MilliVolts = []int{1350, 1500}
	}
	if layout, ok := l.Layout.Get(); ok {
		s.setLayout(layout)
	}
	if means, ok := l.Meaning(); ok {
		s.setKind(means.Form, means.Kind)
	}
	s.setBin(l)
	return s
}

func (s *Stick) setLayout(l jedec.Layout) {
	s.Ranks, s.Width = maybe.Just(l.Ranks), maybe.Just(l.Width)
	size, known := s.Capacity.Get()
	if known && l.Stack == 0 {
		// A rank is 64 data lines wide whatever stands beside them as check bits.
		chips := jedec.Capacity(l.Ranks * 64 / l.Width)
		s.Density = maybe.If(int(size*8/jedec.MiB/chips), size*8%(jedec.MiB*chips) == 0)
	}
}

func (s *Stick) setKind(f jedec.Form, k jedec.Kind) {
	s.Form = maybe.Just(f)
	s.ECC, s.Registered = maybe.Just(k.ECC()), maybe.Just(k.Registered())
	s.Clocked = maybe.Just(k == jedec.Clocked || k == jedec.ClockedECC)
	s.DataWidth = maybe.Just(64)
}

// setBin takes the minimum times that the label's bin stands for, or that its
// printed clocks amount to at its grade.
func (s *Stick) setBin(l jedec.Label) {
	s.Times.TCK = maybe.Just(l.Grade.TCK)
	if b, ok := jedec.BinNamed(l.Grade, l.Bin); ok && l.Bin != "" {
		s.Times.TAA, s.Times.TRCD, s.Times.TRP = maybe.Just(b.TAA), maybe.Just(b.TRCD), maybe.Just(b.TRP)
		return
	}
	if t, ok := l.Timing.Get(); ok {
		for _, b := range jedec.Bins(l.Grade) {
			if b.Timing == t {
				s.Times.TAA, s.Times.TRCD, s.Times.TRP = maybe.Just(b.TAA), maybe.Just(b.TRCD), maybe.Just(b.TRP)
				return
			}
		}
	}
	if cl, ok := l.CL.Get(); ok {
		for _, b := range jedec.Bins(l.Grade) {
			if b.Timing.CL == cl {
				s.Times.TAA = maybe.Just(b.TAA)
				return
			}
		}
	}
}

// fromPart takes what a part number suggests, as leaning facts only.
func fromPart(text string, p jedec.PartReading) Stick {
	s := Stick{From: text, Kind: "part number", Part: text, Checksum: "none"}
	s.lean(p)
	return s
}

func (s *Stick) lean(p jedec.PartReading) {
	why := "part number, by " + p.Maker + "'s numbering guide"
	add := func(fact, value string) { s.Leaning = append(s.Leaning, Hint{fact, value, why}) }
	add("generation", p.Generation.String())
	add("form", p.Form.String())
	add("kind", p.Kind.String())
	if size, ok := p.Capacity.Get(); ok {
		add("capacity", size.String())
	}
	if width, ok := p.Width.Get(); ok {
		add("chip width", fmt.Sprintf("x%d", width))
	}
	if grade, ok := p.Grade.Get(); ok {
		cl, _ := p.CL.Get()
		add("grade", fmt.Sprintf("%v CL%v", grade, cl))
	}
	if p.MilliVolts != 0 {
		add("supply", Volts(p.MilliVolts))
	}
}

// Volts writes millivolts as volts, "1.35 V".
func Volts(milliVolts int) string {
	v := fmt.Sprintf("%d.%03d", milliVolts/1000, milliVolts%1000)
	for len(v) > 3 && v[len(v)-1] == '0' {
		v = v[:len(v)-1]
	}
	return v + " V"
}

// Unknown names the facts that the description does not state, by their JSON
// keys, in the order in which they are shown.
func (s Stick) Unknown() []string {
	var names []string
	for _, f := range []struct {
		name  string
		known bool
	}{
		{"generation", s.Generation.Known()}, {"form", s.Form.Known()}, {"capacity_mib", s.Capacity.Known()},
		{"ranks", s.Ranks.Known()}, {"device_width_bits", s.Width.Known()}, {"density_mbit", s.Density.Known()},
		{"data_width_bits", s.DataWidth.Known()}, {"ecc", s.ECC.Known()}, {"registered", s.Registered.Known()},
		{"rated_mts", s.Grade.Known()}, {"tck_min_ps", s.Times.TCK.Known()}, {"taa_ps", s.Times.TAA.Known()},
		{"trcd_ps", s.Times.TRCD.Known()}, {"trp_ps", s.Times.TRP.Known()}, {"tras_ps", s.Times.TRAS.Known()}, {"trc_ps", s.Times.TRC.Known()},
		{"cas_latencies", len(s.Latencies) > 0}, {"volts", len(s.MilliVolts) > 0},
		{"maker", s.Maker.Known()}, {"part", s.Part != ""}, {"serial", s.Serial != ""}, {"year", s.Year.Known()}, {"week", s.Week.Known()},
	} {
		if !f.known {
			names = append(names, f.name)
		}
	}
	return names
}

// Apart returns the single modules of a description: a kit of two is two.
func (s Stick) Apart() []Stick {
	n := max(1, s.Pieces.Or(1))
	s.Pieces = maybe.None[int]()
	out := make([]Stick, min(n, MaxPieces))
	for i := range out {
		out[i] = s
	}
	return out
}

// MaxPieces is the most modules that a kit has.
const MaxPieces = 16
