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
	Grade                 jedec.Grade
	Timing                jedec.Timing
	TRAS, TRC             maybe.Value[int]
	Latency               jedec.Picoseconds // of the first word
	MilliVolts            maybe.Value[int]
	BoundBy               []Bound
	AtLeast               bool   // nobody publishes the machine's most: it is known to do this rate, and may do more
	Profile               string // empty for a standard operating point
	Channels              []Share
	Layers                []Layer
	Interleaved, Total    jedec.Capacity
	Bandwidth             int // MB/s of the interleaved part, or of one channel
	TRCDKnown, TimesKnown bool
}

// A Bound names what binds one figure of an operating point.
type Bound struct {
	Figure, By string
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
