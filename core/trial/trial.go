// Package trial answers the question asked most at the bench: these sticks, in
// this machine, in these slots: do they run, at what speed and timings, and
// what would be better.
//
// Every rule stands in one table with its id, its sentence and its source, and
// is written for one world. What is open is asked of the evidence: the inferences
// stand in a table of their own, and package rule asks each rule in every world
// that they leave. The verdict is the worst of the outcomes.
package trial

import (
	"fmt"
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
)

// How firmly a ceiling stands, for short.
const (
	settled = fact.Settled
	leaning = fact.Leaning
)

// A Seat is one place with what sits in it during a trial.
type Seat struct {
	Place    string
	Channel  string
	Stick    module.Module
	New      bool // was not there before
	Soldered bool
	From     string // the place it was in before, of a fitted one that was dealt anew
}

// Moved reports whether a fitted module sits in another place than before.
func (s Seat) Moved() bool { return s.From != "" && s.From != s.Place }

// A Point is an operating point: how a set of modules runs.
type Point struct {
	Grade              jedec.Grade
	Timing             jedec.Timing
	TRAS, TRC          maybe.Value[int]
	Latency            jedec.Picoseconds // of the first word
	MilliVolts         maybe.Value[int]
	BoundBy            []Bound
	AtLeast            bool   // nobody publishes the machine's most: it is known to do this rate, and may do more
	Profile            string // empty for a standard operating point
	Channels           []Share
	Layers             []Layer
	Interleaved, Total jedec.Capacity
	// InterleavedMost is known where it is open which sockets share a channel and that tells:
	// Interleaved is then the least of what runs over several channels together.
	InterleavedMost       maybe.Value[jedec.Capacity]
	Bandwidth             int // MB/s of the interleaved part, or of one channel
	TRCDKnown, TimesKnown bool
}

// A Bound names what binds one figure of an operating point.
type Bound struct {
	Figure, By string
}

// Paired is the most that runs over several channels together: what it comes to where sockets that
// nobody has told apart are filled as they are meant to be.
func (p Point) Paired() jedec.Capacity { return p.InterleavedMost.Or(p.Interleaved) }

// Together says how much runs over several channels together: "16 GB", "16 to 24 GB", "none".
func (p Point) Together() string {
	most, open := p.InterleavedMost.Get()
	switch {
	case open && p.Interleaved == 0:
		return fmt.Sprintf("up to %v", most)
	case open:
		least, unit, _ := strings.Cut(p.Interleaved.String(), " ")
		if strings.HasSuffix(most.String(), " "+unit) {
			return fmt.Sprintf("%s to %v", least, most)
		}
		return fmt.Sprintf("%v to %v", p.Interleaved, most)
	case p.Interleaved == 0:
		return "none"
	}
	return p.Interleaved.String()
}

// By returns what binds a figure, empty where nothing does.
func (p Point) By(figure string) string {
	for _, b := range p.BoundBy {
		if b.Figure == figure {
			return b.By
		}
	}
	return ""
}
