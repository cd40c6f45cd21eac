// Package trial answers the question asked most at the bench: these sticks, in
// this machine, in these slots: do they run, at what speed and timings, and
// what would be better.
//
// Every rule stands in one table with its id, its sentence and its source. A
// rule whose input is not known never passes: it is unproven and names the fact
// that is missing. The verdict is the worst of the outcomes.
package trial

import (
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/stick"
)

// An Outcome is what one rule comes to, worst last.
type Outcome uint8

// The outcomes.
const (
	OK Outcome = iota
	Reduced
	Unproven
	Refused
)

// String returns the word that text and JSON show for a reason.
func (o Outcome) String() string {
	return [...]string{"ok", "reduced", "unproven", "refused"}[min(o, Refused)]
}

// MarshalText returns the same word.
func (o Outcome) MarshalText() ([]byte, error) { return []byte(o.String()), nil }

// A Verdict is what a whole trial comes to.
type Verdict Outcome

// The verdicts.
const (
	Works      = Verdict(OK)
	RunsLess   = Verdict(Reduced)  // works, with a penalty that is named
	CannotTell = Verdict(Unproven) // a fact is missing, which is named
	No         = Verdict(Refused)
)

// String returns the word that text and JSON show.
func (v Verdict) String() string {
	if v == Works {
		return "works"
	}
	return Outcome(v).String()
}

// MarshalText returns the same word.
func (v Verdict) MarshalText() ([]byte, error) { return []byte(v.String()), nil }

// A Reason is what one rule says of a trial.
type Reason struct {
	Rule    string
	Outcome Outcome
	Says    string
	Source  string // of the rule, or of the limit that decided
	Missing string // of an unproven one: the fact, and how to get it
}

// A Seat is one place with what sits in it during a trial.
type Seat struct {
	Place    string
	Channel  string
	Stick    stick.Stick
	New      bool // was not there before
	Soldered bool
	From     string // the place it was in before, of a fitted one that was dealt anew
}

// A Point is an operating point: how a set of modules runs.
type Point struct {
	Grade                 jedec.Grade
	Timing                jedec.Timing
	TRAS, TRC             maybe.Value[int]
	Latency               jedec.Picoseconds // of the first word
	MilliVolts            maybe.Value[int]
	BoundBy               []Bound
	Profile               string // empty for a standard operating point
	Channels              []Share
	Layers                []Layer
	Interleaved, Total    jedec.Capacity
	Bandwidth             int // MB/s of the interleaved part, or of one channel
	TRCDKnown, TimesKnown bool
	// Worst is the longest CAS latency that it can come to where the access
	// time of a module is not known: that of its grade's slowest bin.
	Worst jedec.Latency
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

// verdictOf is the worst of the outcomes.
func verdictOf(reasons []Reason) Verdict {
	worst := OK
	for _, r := range reasons {
		worst = max(worst, r.Outcome)
	}
	return Verdict(worst)
}
