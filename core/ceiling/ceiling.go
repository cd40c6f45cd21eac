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
