// Package ceiling works out every limit of a machine's memory, who sets it,
// how firmly it stands and which one binds.
//
// A limit comes from the generation's standard, the processor or the
// northbridge that holds the memory controller, the chipset, the board, the
// firmware's own statement, the operating system, or a technician. The
// smallest firm one binds. A softer, smaller one binds nothing and is never
// dropped: it is marked, and says what it costs to trust or to ignore it. What
// nobody states is there as an open cell.
package ceiling

import (
	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"slices"
)

// What is limited. The words are those of the JSON.
type What string

// The limits, in the order in which they are shown.
const (
	Capacity     What = "capacity"          // of the whole machine
	PerSlot      What = "per_slot"          // of one module
	Rate         What = "rate"              // the data rate
	Generation   What = "generation"        // a list
	Density      What = "density"           // of one die
	Ranks        What = "ranks"             // of one module
	Width        What = "width"             // a list of chip widths
	Volts        What = "volts"             // a list of supplies
	Kinds        What = "ecc"               // a list of kinds of module
	DIMMs        What = "dimms_per_channel" // slots of a channel
	ChannelRanks What = "ranks_per_channel" // ranks that a channel selects
	OSCapacity   What = "os_capacity"       // what the operating system uses
	Profiles     What = "profiles"          // whether overclocking profiles can be selected
	Clocked      What = "clock_drivers"     // whether modules with a clock driver are supported
)

// A Source is who sets a limit.
type Source string

// The sources, in the order in which they are shown.
const (
	Standard   Source = "standard"
	Firmware   Source = "firmware"
	Processor  Source = "processor"
	Chipset    Source = "chipset"
	Board      Source = "board"
	System     Source = "os"
	Technician Source = "technician"
	PastJob    Source = "past job"
	// PastJob is what ran on machines of this board before, and limits nothing either.
	// Field is what commonly runs though the maker publishes less. It limits nothing:
	// it turns the controller's published figure, where that alone stands in the way,
	// from a no into a likely.
	Field Source = "field"
)

// A Ceiling is one limit by one source. A ceiling of unknown standing is an
// open cell: the source could say, and what it says is not known.
type Ceiling struct {
	What   What
	Source Source
	For    maybe.Value[catalogue.Population] // of a rate
	Most   maybe.Value[Amount]               // the upper bound
	// Least is allowed for certain, though the limit itself is not known: what all
	// rows that fit allow, or both of two that differ.
	Least   maybe.Value[Amount]
	Allowed maybe.Value[Set] // what is allowed, where the limit is a list
	// Standing is Disputed where what is fitted contradicts the limit; then it
	// limits nothing.
	Standing fact.Standing
	Binding  bool
	// Softer: smaller than the one that binds, and not firm enough to bind.
	Softer bool
	Cost   string // what it costs to trust or to ignore a softer one
	Says   string
}

// Holds reports whether the ceiling is known and not contradicted.
func (c Ceiling) Holds() bool {
	return c.Standing >= fact.Leaning && (c.Most.Known() || c.Allowed.Known())
}

// Allows reports whether the ceiling is no limit but experience: what ran on machines
// like it, though less is published.
func (c Ceiling) Allows() bool { return c.Source == Field || c.Source == PastJob }

// Limits are all ceilings of one machine.
type Limits struct {
	Ceilings []Ceiling
	// Generation is what the sockets take; where there are none, what is
	// soldered.
	Generation fact.Fact[jedec.Generation]
	Form       fact.Fact[jedec.Form]
	subject    subject
}

// Of works out the limits of a machine with what a catalogue knows. The same
// machine and catalogue always yield the same limits.
func Of(m machine.Machine, k catalogue.Catalogue) Limits {
	s := study(m, k)
	l := Limits{Generation: s.generation, Form: s.form, subject: s}
	for _, row := range [][]Ceiling{
		s.capacity(), s.system(), s.perSlot(), s.generations(), s.density(), s.ranks(), s.widths(), s.volts(), s.kinds(),
		s.slots(), s.channelRanks(), s.profiles(), s.clocked(),
	} {
		l.Ceilings = append(l.Ceilings, bind(row)...)
	}
	for _, p := range s.populations() {
		l.Ceilings = append(l.Ceilings, l.Rates(p)...)
	}
	return l
}

// Past is what earlier jobs on machines of this make showed.
func (l Limits) Past() catalogue.Past { return l.subject.past }

// On returns the ceilings on one thing, in the order of the sources.
func (l Limits) On(what What) (found []Ceiling) {
	// Those on one thing stand together, but for a few that are worked out elsewhere.
	from := slices.IndexFunc(l.Ceilings, func(c Ceiling) bool { return c.What == what })
	if from < 0 {
		return nil
	}
	to := from
	for to < len(l.Ceilings) && l.Ceilings[to].What == what {
		to++
	}
	found = l.Ceilings[from:to:to]
	for _, c := range l.Ceilings[to:] {
		if c.What == what {
			found = append(found, c)
		}
	}
	return found
}

// Rates returns the ceilings on the rate for one way of filling a channel.
func (l Limits) Rates(p catalogue.Population) []Ceiling { return bind(l.subject.rates(p)) }

// bind marks the ceiling that binds a row: the smallest firm one, or the
// smallest of the softer ones where none is firm. The standard's own limit is
// always firm and binds only what nobody else limits, or what lies below all
// others. Smaller ceilings that are softer are marked as such.
func bind(row []Ceiling) []Ceiling {
	best, standard := -1, -1
	for i, c := range row {
		switch {
		case !c.Holds() || c.Allows():
		case c.Source == Standard:
			standard = i
		case best < 0 || tighter(c, row[best]):
			best = i
		}
	}
	if standard >= 0 && (best < 0 || row[best].Most.Or(Amount{}).Exceeds(row[standard].Most.Or(Amount{}))) {
		best = standard
	}
	if best < 0 {
		return row
	}
	row[best].Binding = true
	for i := range row {
		c := &row[i]
		size, ok1 := c.Most.Get()
		firm, ok2 := row[best].Most.Get()
		if i != best && ok1 && ok2 && c.Holds() && !c.Allows() && firm.Exceeds(size) {
			c.Softer, c.Cost = true, softly(c.What)
		}
	}
	return row
}

// softly says what a softer ceiling costs to trust or to ignore.
func softly(w What) string {
	switch w {
	case Rate:
		return "not firm: to trust it costs speed, to ignore it risks modules that run slower than they were bought for"
	case OSCapacity:
		return "not firm: to ignore it risks memory that the system does not use"
	}
	return "not firm, makers often state what they tested: to trust it leaves room unused, to ignore it risks memory " +
		"that does not start"
}

// tighter reports whether a binds rather than b: the firmer one, then anybody's
// rather than firmware's, which states what was tested, then the smaller.
func tighter(a, b Ceiling) bool {
	if a.Standing != b.Standing {
		return a.Standing > b.Standing
	}
	if a.Standing < fact.Settled && (a.Source == Firmware) != (b.Source == Firmware) {
		return b.Source == Firmware
	}
	x, ok1 := a.Most.Get()
	y, ok2 := b.Most.Get()
	if ok1 && ok2 {
		return y.Exceeds(x)
	}
	return len(a.Allowed.Or(Set{}).Words) < len(b.Allowed.Or(Set{}).Words)
}

// A Bound is what a row of upper bounds comes to: the one answer that the first
// line, the marked cell, --for, trial and propose give.
type Bound struct {
	By     Ceiling   // the ceiling that binds
	Most   Amount    // its figure
	Softer []Ceiling // smaller ones that are not firm enough to bind
}

// BoundOf returns the bound of a row; ok is false where nobody states one.
func BoundOf(row []Ceiling) (b Bound, ok bool) {
	for _, c := range row {
		most, stated := c.Most.Get()
		switch {
		case stated && c.Binding:
			b.By, b.Most, ok = c, most, true
		case stated && c.Softer:
			b.Softer = append(b.Softer, c)
		}
	}
	return b, ok
}

// Bound returns the bound on one thing.
func (l Limits) Bound(what What) (Bound, bool) { return BoundOf(l.On(what)) }
