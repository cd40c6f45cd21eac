// Package machine holds the types that describe one computer's memory: the
// machine, its places, the modules in them, and how firmly each fact stands.
// It computes nothing.
package machine

import "epitome/core/maybe"

// A Standing says how firmly a finding stands. The zero value is Unknown.
type Standing uint8

// The standings, weakest first.
const (
	Unknown  Standing = iota // no claim at all, or mere hints
	Disputed                 // claims contradict each other and none prevails
	Leaning                  // the claims point one way, but softly or not alone
	Settled                  // firm claims agree
)

// String returns the word that text and JSON show.
func (s Standing) String() string {
	switch s {
	case Settled:
		return "settled"
	case Leaning:
		return "leaning"
	case Disputed:
		return "disputed"
	}
	return "unknown"
}

// MarshalText returns the same word.
func (s Standing) MarshalText() ([]byte, error) { return []byte(s.String()), nil }

// A Support is one claim for or against a finding, as a person reads it.
type Support struct {
	Source string // names the reading so that a person finds it: "firmware table 17, place DIMM 2"
	Says   string // what it says, in words
}

// A Finding is what the claims about one fact come to. The zero Finding is a
// fact about which nothing was said. Value is known exactly where Standing is
// Leaning or Settled.
type Finding[T any] struct {
	Value    maybe.Value[T]
	Standing Standing
	Why      []Support // claims for the value, or all of them where there is none
	Against  []Support // claims that lost
}

// Get returns the value and whether there is one.
func (f Finding[T]) Get() (T, bool) { return f.Value.Get() }

// Or returns the value, or instead where there is none.
func (f Finding[T]) Or(instead T) T { return f.Value.Or(instead) }

// Known reports whether there is a value, be it leaning or settled.
func (f Finding[T]) Known() bool { return f.Value.Known() }
