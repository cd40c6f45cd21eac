// Package narrow works out what a module or a machine's memory could be from
// whatever clues there are: a year, a contact count, where the key sits, what
// is printed, what a system panel says. A clue excludes only what it
// contradicts; a fact that the tables do not hold excludes nothing.
package narrow

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
)

// Clues are what is known. Any of them may be missing.
type Clues struct {
	Year       maybe.Value[int] // in which the machine was sold
	Contacts   maybe.Value[int]
	Form       maybe.Value[jedec.Form]
	NotchMM    maybe.Value[float64] // from the left end to the key's centre, label side up
	Marking    string               // whatever is printed
	MHz        maybe.Value[float64] // a figure called MHz: a rate or a clock
	MilliVolts maybe.Value[int]
	Total      maybe.Value[jedec.Capacity]
	Slots      maybe.Value[int]
	Note       string // a system panel's line, "4.0 GB (3.89 usable)"
}

// A Candidate is a generation in a form that no clue contradicts.
type Candidate struct {
	Generation jedec.Generation
	Form       jedec.Form
	Contacts   int            // 0 where the form has none
	NotchMM    float64        // 0 where not established
	Grades     []jedec.Grade  // that remain, slowest first
	As         string         // how a figure in MHz was read: "rate", "clock", "rate or clock", or empty
	Sets       []Set          // module sets that make the total, or the total with what graphics took
	Graphics   jedec.Capacity // that graphics took of the sets, which alone make no such total; 0 elsewhere
}

// String names the candidate, "DDR3 SO-DIMM".
func (c Candidate) String() string { return fmt.Sprintf("%v %v", c.Generation, c.Form) }

// A Set is modules that together make a total, largest first.
type Set []jedec.Capacity

// String writes the set as the trade does, "8 GB + 4 GB", "2 × 8 GB".
func (s Set) String() string {
	var parts []string
	for i := 0; i < len(s); {
		n := 1
		for i+n < len(s) && s[i+n] == s[i] {
			n++
		}
		part := s[i].String()
		if n > 1 {
			part = fmt.Sprintf("%d × %s", n, part)
		}
		parts = append(parts, part)
		i += n
	}
	return strings.Join(parts, " + ")
}

// Even reports whether all modules of the set are of one size.
func (s Set) Even() bool { return len(s) == 0 || s[0] == s[len(s)-1] }

// An Exclusion is a candidate and every clue that it contradicts.
type Exclusion struct {
	Generation jedec.Generation
	Form       jedec.Form
	Why        []string // never empty
}

// A Look is something to look at next, and what it tells apart.
type Look struct {
	At     string   // "the number of contacts"
	Splits []string // "200: DDR2 SO-DIMM", "204: DDR3 SO-DIMM"
	left   float64  // candidates to expect afterwards
}

// A Result is what remains.
type Result struct {
	Candidates []Candidate
	Excluded   []Exclusion
	Look       maybe.Value[Look] // the one that splits best; unknown where nothing is left to split
	Notes      []string          // what the clues tell beside
}

// ErrClue: a clue can't be read.
var ErrClue = errors.New("clue not usable")

// From narrows down. It fails where a clue can't be read; a result without
// candidates says that clues contradict one another, and Excluded says how.
func From(c Clues) (Result, error) {
	var r Result
	if err := c.readNote(&r); err != nil {
		return r, err
	}
	marked, err := c.readMarking(&r)
	if err != nil {
		return r, err
	}
	for _, g := range jedec.Generations() {
		for _, t := range g.Trait().Forms {
			candidate := Candidate{Generation: g, Form: t.Form, Contacts: t.Contacts, NotchMM: t.Key, Grades: jedec.Grades(g)}
			var why []string
			for _, clue := range []func(*Candidate, module.Module) string{c.byYear, c.byForm, c.byContacts, c.byNotch,
				c.byVolts, c.byMarking, c.byMHz, c.byTotal} {
				if objection := clue(&candidate, marked); objection != "" {
					why = append(why, objection)
				}
			}
			if len(why) > 0 {
				r.Excluded = append(r.Excluded, Exclusion{g, t.Form, why})
				continue
			}
			r.Candidates = append(r.Candidates, candidate)
		}
	}
	slices.SortStableFunc(r.Candidates, func(a, b Candidate) int { // what modules make before what is soldered
		return cmp.Compare(min(1, len(b.Sets)), min(1, len(a.Sets)))
	})
	c.noteTotal(&r)
	r.Look = c.bestLook(r.Candidates)
	return r, nil
}

func (c Clues) byYear(x *Candidate, _ module.Module) string {
	year, ok := c.Year.Get()
	t := x.Generation.Trait()
	switch {
	case !ok:
	case year < t.From-1:
		return fmt.Sprintf("not sold before %d", t.From)
	case t.To != 0 && year > t.To+2:
		return fmt.Sprintf("machines with it were sold until about %d", t.To)
	}
	return ""
}

func (c Clues) byForm(x *Candidate, _ module.Module) string {
	if f, ok := c.Form.Get(); ok && f != x.Form {
		return fmt.Sprintf("a %v is asked for", f)
	}
	return ""
}

func (c Clues) byContacts(x *Candidate, _ module.Module) string {
	if n, ok := c.Contacts.Get(); ok && n != x.Contacts {
		if x.Contacts == 0 {
			return "soldered chips have no contacts"
		}
		return fmt.Sprintf("has %d contacts", x.Contacts)
	}
	return ""
}

// notchTolerance is how far off a ruler at the bench may be, mm.
const notchTolerance = 1.5

func (c Clues) byNotch(x *Candidate, _ module.Module) string {
	at, ok := c.NotchMM.Get()
	switch {
	case !ok:
	case x.Contacts == 0:
		return "soldered chips have no notch"
	case x.NotchMM != 0 && math.Abs(x.NotchMM-at) > notchTolerance:
		return fmt.Sprintf("its notch lies at %.1f mm", x.NotchMM)
	}
	return ""
}

func (c Clues) byVolts(x *Candidate, _ module.Module) string {
	mv, ok := c.MilliVolts.Get()
	if !ok {
		return ""
	}
	if x.Generation.RunsAt(mv) {
		return ""
	}
	return "runs at " + jedec.Volts(x.Generation.Trait().MilliVolts[0])
}

// readMarking takes what is printed. A marking that says nothing is noted, one
// that can't be right fails.
func (c Clues) readMarking(r *Result) (module.Module, error) {
	if c.Marking == "" {
		return module.Module{}, nil
	}
	s, err := module.Parse(c.Marking)
	if errors.Is(err, module.ErrNothing) {
		r.Notes = append(r.Notes, fmt.Sprintf("the marking %q follows no standard and no numbering guide that is "+
			"known here", c.Marking))
		return module.Module{}, nil
	}
	if err != nil {
		return s, fmt.Errorf("%w: marking: %w", ErrClue, err)
	}
	for _, h := range s.Leaning {
		r.Notes = append(r.Notes, fmt.Sprintf("the marking suggests %s %s (%s)", h.Fact, h.Value, h.Why))
	}
	return s, nil
}

func (c Clues) byMarking(x *Candidate, s module.Module) string {
	if g, ok := s.Generation.Get(); ok && g != x.Generation {
		return fmt.Sprintf("the marking says %v", g)
	}
	if f, ok := s.Form.Get(); ok && f != x.Form {
		return fmt.Sprintf("the marking says %v", f)
	}
	if grade, ok := s.Grade().Get(); ok {
		x.Grades = []jedec.Grade{grade}
	}
	if len(s.Choices) > 0 {
		x.Grades = slices.DeleteFunc(slices.Clone(s.Choices),
			func(g jedec.Grade) bool { return g.Generation != x.Generation })
		if len(x.Grades) == 0 {
			return "has no grade of that figure"
		}
	}
	return ""
}

func (c Clues) byMHz(x *Candidate, _ module.Module) string {
	mhz, ok := c.MHz.Get()
	if !ok {
		return ""
	}
	var left []jedec.Grade
	var rate, clock bool
	for _, g := range x.Grades {
		asRate := isRate(g, mhz)
		asClock := isClock(g, mhz)
		if asRate || asClock {
			left = append(left, g)
		}
		rate, clock = rate || asRate, clock || asClock
	}
	switch {
	case rate && clock:
		x.As = "rate or clock"
	case rate:
		x.As = "rate"
	case clock:
		x.As = "clock"
	default:
		return fmt.Sprintf("has no grade of %g, as a rate or as a clock", mhz)
	}
	x.Grades = left
	return ""
}

func isRate(g jedec.Grade, figure float64) bool {
	return float64(g.Rate) == figure || slices.Contains(g.Aliases, jedec.Rate(figure)) && figure == math.Trunc(figure)
}

// isClock allows for readings such as 532, 667 or 798.5: within half a percent.
func isClock(g jedec.Grade, mhz float64) bool {
	clock := float64(g.Clock()) / 1000
	return g.Generation != jedec.SDR && math.Abs(mhz-clock) <= clock/200
}

// graphicsMost is the most that graphics on the processor is given by a firmware's own choice, graphicsStep what such
// shares are whole multiples of.
const (
	graphicsMost = 2 * jedec.GiB
	graphicsStep = 128 * jedec.MiB
)

func (c Clues) byTotal(x *Candidate, marked module.Module) string {
	total, ok := c.Total.Get()
	var kinds []jedec.Kind // every one, where the marking does not tell
	if marked.Registered.Known() {
		kinds = []jedec.Kind{marked.BuiltAs()}
	}
	sizes := catalogue.SizesSold(x.Generation, x.Form, kinds...)
	if !ok || len(sizes) == 0 || x.Form == jedec.Soldered {
		return ""
	}
	slots := c.Slots.Or(4)
	if x.Sets = Sets(total, slots, sizes); len(x.Sets) > 0 {
		return ""
	}
	// What a system shows may lack what graphics took.
	for whole := total - total%graphicsStep + graphicsStep; whole <= total+graphicsMost && whole <= total*4/3; whole +=
		graphicsStep {
		if x.Sets = Sets(whole, slots, sizes); len(x.Sets) > 0 {
			x.Graphics = whole - total
			return ""
		}
	}
	if len(x.Sets) == 0 {
		return fmt.Sprintf("no %d or fewer modules of its sizes make %v", slots, total)
	}
	return ""
}

// Sets lists every set of at most slots modules of the given sizes that makes
// the total, fewest modules first, even sets before uneven ones.
func Sets(total jedec.Capacity, slots int, sizes []jedec.Capacity) []Set {
	const most = 200 // a person chooses from far fewer
	var found []Set
	var fill func(set Set, rest jedec.Capacity, largest int)
	fill = func(set Set, rest jedec.Capacity, largest int) {
		if rest == 0 {
			found = append(found, slices.Clone(set))
			return
		}
		for i := largest; i >= 0 && len(set) < slots && len(found) < most; i-- {
			left := jedec.Capacity(slots - len(set))
			if sizes[i] > rest {
				continue
			}
			if sizes[i]*left < rest {
				break // even the largest allowed in every slot left is too little
			}
			fill(append(set, sizes[i]), rest-sizes[i], i)
		}
	}
	fill(nil, total, len(sizes)-1)
	slices.SortStableFunc(found, func(a, b Set) int {
		if len(a) != len(b) {
			return len(a) - len(b)
		}
		return int(a[0]/jedec.MiB) - int(b[0]/jedec.MiB)
	})
	return found
}

// noteTotal explains a total that is no even split.
func (c Clues) noteTotal(r *Result) {
	total, ok := c.Total.Get()
	slots, hasSlots := c.Slots.Get()
	if !ok || !hasSlots || slots < 2 {
		return
	}
	if i := slices.IndexFunc(r.Candidates, func(x Candidate) bool { return x.Graphics > 0 }); i >= 0 {
		took := r.Candidates[i].Graphics
		r.Notes = append(r.Notes, fmt.Sprintf("%v is no sum of modules: %v less %v that graphics took is likeliest", total,
			total+took, took))
		return
	}
	half := total / jedec.Capacity(slots)
	made := slices.ContainsFunc(r.Candidates,
		func(x Candidate) bool { return slices.Contains(catalogue.SizesSold(x.Generation, x.Form), half) })
	if !made && len(r.Candidates) > 0 {
		r.Notes = append(r.Notes, fmt.Sprintf("no module of %v exists that could fill %d slots evenly: the sizes differ, "+
			"a slot is free, or part is soldered", half, slots))
	}
	if slices.ContainsFunc(r.Candidates, func(x Candidate) bool { return x.Form == jedec.SODIMM }) {
		r.Notes = append(r.Notes, "in a laptop part of the total may be soldered: then the socket holds the rest alone")
	}
}
