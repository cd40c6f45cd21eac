// Package module is one module however it is described: sticker text, a shop's
// free text, a part number, a short specification, an EEPROM image. What the
// description states is taken; what it does not state stays unknown; what
// contradicts itself is an error that quotes both parts.
package module

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/plain"
)

// A Module is what is known of one module, with the words of its description.
type Module struct {
	Facts
	From      string         // the description, or the file it came from
	Kind      Kind           // of the description
	Mark      int            // which one it is of those that a caller tries, whatever its text; 0 for none
	Pieces    fact.Fact[int] // modules in a kit
	Condition Condition      // in which it is sold, by the description
	Profiles  []Profile
	Label     maybe.Value[jedec.Label]
	Checksum  string   // of an EEPROM image: "ok", "bad"; "none" of everything else
	Checks    []string // each checksum of an image, with what was expected and found
	Revision  string   // of an image's contents
	Notes     []string // what is odd about an image, or missing from it
	Locked    bool     // only the first page of its EEPROM answers
	Itself    []string // of these, where an image contradicts itself
	// Choices are the honest readings of a figure that could be a rate or a
	// clock; the rate is not known then.
	Choices []jedec.Grade
	// Leaning are facts that the description suggests and does not state.
	Leaning []Hint
	// Passed are words that were not understood and say nothing here.
	Passed []string
	// Doubts are statements that no such module can meet, as a latency slower than any of the grade; they are left out.
	Doubts []string

	trust fact.Weight // of the reading that the description comes from
}

// A Kind is what kind of description a module is known by.
type Kind string

// The kinds.
const (
	Label         Kind = "label"
	Listing       Kind = "listing"
	PartNumber    Kind = "part number"
	EEPROM        Kind = "EEPROM"
	Specification Kind = "specification" // what could be bought, where there is no list
)

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

// Leans returns what a fact leans to without being stated, as the hint has it.
func (s Module) Leans(what string) (value string, ok bool) {
	i := slices.IndexFunc(s.Leaning, func(h Hint) bool { return h.Fact == what })
	if i < 0 {
		return "", false
	}
	return s.Leaning[i].Value, true
}

// ErrContradiction: two parts of a description can't both be right.
var ErrContradiction = errors.New("contradicts itself")

// A ContradictionError quotes the two parts; one part twice where it can't be by itself.
type ContradictionError struct {
	From, A, B string
	Why        string
}

func (e *ContradictionError) Error() string {
	if e.A == e.B {
		return fmt.Sprintf("%q %v: %q can't be: %s", e.From, ErrContradiction, e.A, e.Why)
	}
	return fmt.Sprintf("%q %v: %q against %q: %s", e.From, ErrContradiction, e.A, e.B, e.Why)
}

// Unwrap returns ErrContradiction.
func (e *ContradictionError) Unwrap() error { return ErrContradiction }

// ErrNothing: the text says nothing about a module.
var ErrNothing = errors.New("says nothing about a memory module")

// Parse reads a sticker's label, a part number, or free text. It takes the
// standard label first, since that one is exact.
func Parse(text string) (Module, error) {
	text = plain.Line(text)
	if strings.Contains(text, "  ") { // blanks that line words up say nothing
		text = strings.Join(strings.Fields(text), " ")
	}
	label, err := jedec.ParseLabel(text)
	switch {
	case err == nil:
		return FromLabel(text, label), nil
	case errors.Is(err, jedec.ErrLabel):
		// A label with words around it is a listing; one that is nothing else says
		// what is wrong with it.
		s, listed := FromListing(text)
		if listed == nil || errors.Is(listed, ErrContradiction) { // which says more than that it is no label
			return s, listed
		}
		return Module{}, err
	}
	if part, ok := jedec.ReadPart(text); ok && !strings.Contains(text, " ") {
		return fromPart(text, part), nil
	}
	return FromListing(text)
}

// FromLabel takes what a label says.
func FromLabel(text string, l jedec.Label) Module {
	s := Module{From: text, Kind: Label, Label: maybe.Just(l), Checksum: "none"}
	s.Capacity, s.Generation, s.Rated = fact.From(l.Capacity), fact.Known(l.Grade.Generation), fact.Known(l.Grade.Rate)
	s.Timing, s.CL, s.Supplies = fact.From(l.Timing), fact.From(l.CL), fact.Known(jedec.SuppliesOf(l.MilliVolts))
	if l.Grade.Generation == jedec.DDR3 && l.MilliVolts == 1350 {
		// JESD79-3-1: a 1.35 V device is operable at 1.5 V too.
		s.Supplies = fact.Known(jedec.SuppliesOf(1350, 1500))
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

func (s *Module) setLayout(l jedec.Layout) {
	s.Ranks, s.Width = fact.Known(l.Ranks), fact.Known(l.Width)
	size, known := s.Capacity.Get()
	if known && l.Stack == 0 {
		// A rank is 64 data lines wide whatever stands beside them as check bits.
		chips := jedec.Capacity(l.Ranks * 64 / l.Width)
		s.Density = fact.If(int(size*8/jedec.MiB/chips), size*8%(jedec.MiB*chips) == 0)
	}
}

func (s *Module) setKind(f jedec.Form, k jedec.Kind) {
	s.Form = fact.Known(f)
	s.ECC = fact.Known(k.ECC())
	s.setBuffering(k)
	s.DataWidth = fact.Known(64)
}

func (f *Facts) setBuffering(k jedec.Kind) {
	f.Registered, f.LoadReduced = fact.Known(k.Registered()), fact.Known(k == jedec.LoadReduced)
	f.Multiplexed = fact.Known(k == jedec.Multiplexed)
	f.Clocked = fact.Known(k == jedec.Clocked || k == jedec.ClockedECC)
}

// setBin takes the minimum times that the label's bin stands for, or that its
// printed clocks amount to at its grade.
func (s *Module) setBin(l jedec.Label) {
	s.Times.TCK = fact.Known(l.Grade.TCK)
	if b, ok := jedec.BinNamed(l.Grade, l.Bin); ok && l.Bin != "" {
		s.Times.TAA, s.Times.TRCD, s.Times.TRP = fact.Known(b.TAA), fact.Known(b.TRCD), fact.Known(b.TRP)
		return
	}
	if t, ok := l.Timing.Get(); ok {
		for _, b := range jedec.Bins(l.Grade) {
			if b.Timing == t {
				s.Times.TAA, s.Times.TRCD, s.Times.TRP = fact.Known(b.TAA), fact.Known(b.TRCD), fact.Known(b.TRP)
				return
			}
		}
	}
	if cl, ok := l.CL.Get(); ok {
		for _, b := range jedec.Bins(l.Grade) {
			if b.Timing.CL == cl {
				s.Times.TAA = fact.Known(b.TAA)
				return
			}
		}
	}
}

// fromPart takes what a part number suggests, as leaning facts only.
func fromPart(text string, p jedec.PartReading) Module {
	s := Module{From: text, Kind: PartNumber, Checksum: "none"}
	s.Part = fact.Known(text)
	s.lean(p)
	return s
}

func (s *Module) lean(p jedec.PartReading) {
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
		add("supply", jedec.Volts(p.MilliVolts))
	}
}

// Ordinary returns a module as a shop sells it of a size, where nobody lists anything:
// of a kind, with the latency that is usual in its grade. 0 is not known.
func Ordinary(f jedec.Form, k jedec.Kind, size jedec.Capacity, l jedec.Layout, densityMbit int, x jedec.Grade,
	cl jedec.Latency, supplies jedec.Supplies) Module {
	m := Module{Kind: Specification, Checksum: "none"}
	m.setKind(f, k)
	m.Generation, m.Capacity, m.Supplies = fact.Known(x.Generation), fact.Known(size), fact.Known(supplies)
	m.Ranks, m.Width, m.Density = fact.If(l.Ranks, l.Ranks > 0), fact.If(l.Width, l.Width > 0), fact.If(densityMbit,
		densityMbit > 0)
	m.SellBy(x)
	for _, b := range jedec.Bins(x) {
		if b.Timing.CL == cl {
			m.Times.TAA, m.Times.TRCD, m.Times.TRP = fact.Known(b.TAA), fact.Known(b.TRCD), fact.Known(b.TRP)
		}
	}
	return m
}

// BuiltAs is the module's kind, as far as something says it: what nothing calls buffered, clocked or wider is an
// ordinary one.
func (m *Module) BuiltAs() jedec.Kind {
	checked := m.ECC.Or(false)
	switch {
	case m.Form.Or(jedec.DIMM) == jedec.FBDIMM:
		return jedec.FullyBuffered
	case m.LoadReduced.Or(false):
		return jedec.LoadReduced
	case m.Multiplexed.Or(false):
		return jedec.Multiplexed
	case m.Registered.Or(false):
		return jedec.RegisteredECC
	case m.Clocked.Or(false) && checked:
		return jedec.ClockedECC
	case m.Clocked.Or(false):
		return jedec.Clocked
	case checked:
		return jedec.UnbufferedECC
	}
	return jedec.Unbuffered
}

// SellBy makes the module one that is sold by a grade: its times are those of the
// grade's slowest standard bin, which every such module keeps.
func (m *Module) SellBy(x jedec.Grade) {
	m.Rated = fact.Known(x.Rate)
	if bins := jedec.Bins(x); len(bins) > 0 {
		b := bins[len(bins)-1]
		m.Times = Times{TCK: fact.Known(x.TCK), TAA: fact.Known(b.TAA), TRCD: fact.Known(b.TRCD), TRP: fact.Known(b.TRP)}
		m.CL = fact.Fact[jedec.Latency]{}
	}
}

// Apart returns the single modules of a description: a kit of two is two.
func (s Module) Apart() []Module {
	n := max(1, s.Pieces.Or(1))
	s.Pieces = fact.Fact[int]{}
	out := make([]Module, min(n, MaxPieces))
	for i := range out {
		out[i] = s
	}
	return out
}

// MaxPieces is the most modules that a kit has.
const MaxPieces = 16
