package jedec

import (
	"errors"
	"fmt"
	"strconv"
	"strings"

	"epitome/core/maybe"
)

// A Label is what the standard's line on a module's sticker says, no more: a
// fact that the line leaves out is unknown.
//
//	DDR    512MB 2Rx8 PC2700S-2533-0-A1
//	DDR2   1GB 2Rx8 PC2-5300S-555-12-E0
//	DDR3   4GB 1Rx8 PC3L-12800S-11-13-B4
//	DDR4   8GB 1Rx8 PC4-2400T-SA1-11
//	DDR5   16GB 1Rx8 PC5-4800B-SA0-1010-XT
//
// Sources: JESD21-C 4.5.10 (DDR), 4.20.2 and label annexes (DDR2, DDR3),
// 4.1.2.L and its label annex (DDR4), JESD401-5 (DDR5).
type Label struct {
	Grade       Grade
	MilliVolts  int // of the voltage class: 1350 for PC3L; the ordinary supply elsewhere
	Capacity    maybe.Value[Capacity]
	Layout      maybe.Value[Layout]
	Bin         string // the letters behind the rate, DDR4 and DDR5; empty where left out
	Timing      maybe.Value[Timing]
	CL          maybe.Value[Latency] // DDR3's line gives the CAS latency alone
	Type        byte                 // the module-type letter; 0 where left out
	RawCard     string               // reference design and revision, "A1", "F3"; empty where left out
	SPDRevision string               // as printed: "12" is 1.2, "1010" two of them
	Suffix      string               // DDR5: the temperature grade, "XT"; else whatever follows
}

// A Layout is how a module's chips are arranged.
type Layout struct {
	Ranks int // package ranks
	Width int // data lines a chip: 4, 8, 16
	// Stack is the number of dies a package stacks behind one load (3DS) or
	// with loads of their own (dual-die): the label's "S" or "D". 0 where
	// nothing is stacked.
	Stack byte // 0, 'S' (3DS) or 'D' (dual or quad die)
	Dies  int  // dies in a stack, 0 where the label does not say
}

// String writes the layout as labels do: "1Rx8", "2S4Rx4".
func (l Layout) String() string {
	stack := ""
	if l.Stack != 0 {
		stack = string(rune(l.Stack))
		if l.Dies > 0 {
			stack += strconv.Itoa(l.Dies)
		}
	}
	return fmt.Sprintf("%d%sRx%d", l.Ranks, stack, l.Width)
}

// A TypeLetter is what a module-type letter of a label means.
type TypeLetter struct {
	Letter byte
	Form   Form
	Kind   Kind
}

// typeLetters is the table of module-type letters by generation, from the
// label standards named at Label. Letters whose meaning could not be confirmed
// are left out; a label that carries one is refused as unknown.
var typeLetters = map[Generation][]TypeLetter{
	SDR: {{'U', DIMM, Unbuffered}, {'R', DIMM, RegisteredECC}, {'S', SODIMM, Unbuffered}},
	DDR: {{'U', DIMM, Unbuffered}, {'R', DIMM, RegisteredECC}, {'S', SODIMM, Unbuffered}, {'M', MicroDIMM, Unbuffered}},
	DDR2: {{'U', DIMM, Unbuffered}, {'E', DIMM, UnbufferedECC}, {'R', DIMM, RegisteredECC}, {'P', DIMM, RegisteredECC},
		{'F', FBDIMM, FullyBuffered}, {'S', SODIMM, Unbuffered}, {'M', MicroDIMM, Unbuffered},
		{'N', MiniDIMM, RegisteredECC}},
	DDR3: {{'U', DIMM, Unbuffered}, {'E', DIMM, UnbufferedECC}, {'R', DIMM, RegisteredECC}, {'L', DIMM, LoadReduced},
		{'S', SODIMM, Unbuffered}, {'T', SODIMM, UnbufferedECC}, {'N', MiniDIMM, RegisteredECC}},
	DDR4: {{'U', DIMM, Unbuffered}, {'E', DIMM, UnbufferedECC}, {'R', DIMM, RegisteredECC}, {'L', DIMM, LoadReduced},
		{'S', SODIMM, Unbuffered}, {'T', SODIMM, UnbufferedECC}},
	DDR5: {{'U', DIMM, Unbuffered}, {'E', DIMM, UnbufferedECC}, {'R', DIMM, RegisteredECC}, {'L', DIMM, LoadReduced},
		{'S', SODIMM, Unbuffered}, {'T', SODIMM, UnbufferedECC}, {'C', DIMM, Clocked}},
}

// TypeLetters returns the module-type letters of a generation's labels.
func TypeLetters(g Generation) []TypeLetter { return typeLetters[g] }

// Meaning returns what the label's type letter means; ok is false where the
// label carries none.
func (l Label) Meaning() (TypeLetter, bool) {
	for _, t := range typeLetters[l.Grade.Generation] {
		if t.Letter == l.Type {
			return t, true
		}
	}
	return TypeLetter{}, false
}

// temperatures are the grades that a DDR5 label ends in (JESD401-5).
var temperatures = map[string]string{"XT": "0 to 95 °C", "NT": "0 to 85 °C", "ET": "-25 to 105 °C",
	"IT": "-40 to 95 °C"}

// Temperature says what the suffix of a DDR5 label means, empty where it is
// none of the known grades.
func (l Label) Temperature() string { return temperatures[l.Suffix] }

// Errors of ParseLabel, for callers that branch.
var (
	// ErrNotLabel: the text does not have the shape of a standard label.
	ErrNotLabel = errors.New("not a standard module label")
	// ErrLabel: the shape is right and a part of it is not.
	ErrLabel = errors.New("module label can't be right")
)

// A LabelError quotes the part of a label that is wrong.
type LabelError struct {
	Label string // the whole
	Part  string // the part that is wrong
	Why   string
}

func (e *LabelError) Error() string {
	return fmt.Sprintf("%v: %q in %q: %s", ErrLabel, e.Part, e.Label, e.Why)
}

// Unwrap returns ErrLabel.
func (e *LabelError) Unwrap() error { return ErrLabel }

// String writes the label as the standard does. ParseLabel reads it back.
func (l Label) String() string {
	var words []string
	if c, ok := l.Capacity.Get(); ok {
		words = append(words, strings.ReplaceAll(c.String(), " ", ""))
	}
	if layout, ok := l.Layout.Get(); ok {
		words = append(words, layout.String())
	}
	return strings.Join(append(words, l.ratingString()), " ")
}

func (l Label) ratingString() string {
	g := l.Grade.Generation
	t := g.Trait()
	kind := ""
	if l.Type != 0 {
		kind = string(rune(l.Type))
	}
	parts := []string{"PC"}
	if g > DDR {
		for i, mv := range t.MilliVolts {
			if mv == l.MilliVolts {
				parts = []string{strings.TrimSuffix(t.Module, "-") + t.Classes[i]}
			}
		}
	}
	switch {
	case (g == DDR4 || g == DDR5) && l.Type != 0 && l.RawCard == "" && l.Bin == "" && l.SPDRevision == "":
		parts = append(parts, strconv.Itoa(l.Grade.Ratings[0])+kind, l.Suffix)
	case g == DDR4 || g == DDR5:
		parts = append(parts, strconv.Itoa(int(l.Grade.Rate))+l.Bin, kind+l.RawCard, l.SPDRevision, l.Suffix)
	case g == SDR:
		parts = []string{fmt.Sprintf("PC%d%s", l.Grade.Ratings[0], kind), l.timings(), l.Suffix}
	case g == DDR:
		parts = []string{fmt.Sprintf("PC%d%s", l.Grade.Ratings[0], kind), l.timings(), l.SPDRevision, l.RawCard, l.Suffix}
	default:
		parts = append(parts, strconv.Itoa(l.Grade.Ratings[0])+kind, l.timings(), l.SPDRevision, l.RawCard, l.Suffix)
	}
	return strings.TrimRight(strings.Join(parts, "-"), "-")
}

// timings writes the timings in the generation's own way.
func (l Label) timings() string {
	t, has := l.Timing.Get()
	switch l.Grade.Generation {
	case DDR:
		if has {
			return fmt.Sprintf("%d%d%d", int(t.CL)*5, t.TRCD, t.TRP)
		}
	case DDR2, SDR:
		if has {
			return fmt.Sprintf("%d%d%d", int(t.CL)/2, t.TRCD, t.TRP)
		}
	case DDR3:
		if cl, ok := l.CL.Get(); ok {
			return cl.String()
		}
	}
	return ""
}
