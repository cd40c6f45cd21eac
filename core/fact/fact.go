// Package fact holds what is known of one thing: the claims for and against a
// value, the leading value, how firmly it stands, and what else it may be.
//
// A reading supports claims. Claims about one thing are weighed against each
// other, and what they come to is a Fact. A claim that loses is kept in it: what
// speaks against a fact is shown with it. Everything that shows a fact, or decides
// by it, asks the same Fact.
package fact

import (
	"slices"

	"epitome/core/maybe"
)

// A Standing says how firmly a fact stands. The zero value is Unknown.
type Standing uint8

// The standings, weakest first.
const (
	Unknown  Standing = iota // no claim at all, or mere hints
	Disputed                 // claims contradict each other and none prevails
	Leaning                  // the claims point one way, but softly or not alone
	Settled                  // firm claims agree
)

var standingWords = [...]string{"unknown", "disputed", "leaning", "settled"}

// String returns the word that text and JSON show.
func (s Standing) String() string { return standingWords[min(s, Settled)] }

// MarshalText returns the same word.
func (s Standing) MarshalText() ([]byte, error) { return []byte(s.String()), nil }

// A Support is what one reading says for or against a fact, as a person reads it.
type Support struct {
	Source string // names the reading so that a person finds it: "firmware table 17, place DIMM 2"
	Says   string // what it says, in words
}

// A Fact is what is known of one thing. The zero Fact is nothing known. There is
// a value exactly where it leans or is settled. Facts are small values: they are
// copied, never changed.
type Fact[T comparable] struct {
	value    T
	standing Standing
	heard    *heard[T] // nil where nothing was said beside the value
}

// heard is what was said of a fact.
type heard[T comparable] struct {
	claims  []Claim[T]
	because []Support // why there is no value although the claims lead to one
	doubts  []Support // against it, of no other value
}

// Known returns a settled fact of which nothing but the value is said: whoever
// describes a thing says it of all that stands in the description.
func Known[T comparable](value T) Fact[T] { return Fact[T]{value: value, standing: Settled} }

// If returns a settled fact where ok holds, and the unknown one elsewhere. It
// takes the two results of a "comma ok" call.
func If[T comparable](value T, ok bool) Fact[T] {
	if !ok {
		return Fact[T]{}
	}
	return Known(value)
}

// From returns a settled fact of a value that may not be known.
func From[T comparable](v maybe.Value[T]) Fact[T] { return If(v.Get()) }

// Of returns a fact that follows from others, or was weighed elsewhere. Below
// Leaning there is no value, whatever is given.
func Of[T comparable](value T, standing Standing, why ...Support) Fact[T] {
	f := Fact[T]{standing: standing}
	if standing >= Leaning {
		f.value = value
	}
	if len(why) > 0 {
		f.heard = &heard[T]{}
		for _, x := range why {
			f.heard.claims = append(f.heard.claims, Claim[T]{value, standing.weight(), x})
		}
	}
	return f
}

// weight is what a fact counts as one claim among others.
func (s Standing) weight() Weight { return [...]Weight{0, Hint, Fair, Firm}[s] }

// Contested returns a fact on which no value prevails.
func Contested[T comparable](why ...Support) Fact[T] {
	return Fact[T]{standing: Disputed, heard: &heard[T]{because: why}}
}

// Get returns the value and whether there is one.
func (f Fact[T]) Get() (T, bool) { return f.value, f.Known() }

// Or returns the value, or instead where there is none.
func (f Fact[T]) Or(instead T) T {
	if f.Known() {
		return f.value
	}
	return instead
}

// Known reports whether there is a value, be it leaning or settled.
func (f Fact[T]) Known() bool { return f.standing >= Leaning }

// Value returns the value, unknown where there is none.
func (f Fact[T]) Value() maybe.Value[T] { return maybe.If(f.Get()) }

// Standing returns how firmly the fact stands.
func (f Fact[T]) Standing() Standing { return f.standing }

// Why returns the claims for the value, or all of them where there is none.
func (f Fact[T]) Why() (why []Support) {
	if f.heard == nil {
		return nil
	}
	for _, c := range f.heard.claims {
		if !f.Known() || c.Value == f.value {
			why = append(why, c.Support)
		}
	}
	return append(why, f.heard.because...)
}

// Against returns the claims that lost, and what else speaks against the value.
func (f Fact[T]) Against() (against []Support) {
	if f.heard == nil {
		return nil
	}
	for _, c := range f.heard.claims {
		if f.Known() && c.Value != f.value {
			against = append(against, c.Support)
		}
	}
	return append(against, f.heard.doubts...)
}

// Possible returns what the fact may be by what was said of it, the leading value
// first: the one value where it is settled, every claimed one where it leans or is
// disputed. It is empty where nothing was said, or too little: then the standard
// and the inferences tell what there is.
func (f Fact[T]) Possible() []T {
	switch {
	case f.standing == Settled || f.standing == Leaning && f.heard == nil:
		return []T{f.value}
	case f.standing == Unknown || f.heard == nil:
		return nil
	}
	values, _ := heaviest(f.heard.claims)
	return values
}

// Same reports whether two facts come to the same: one value and standing, or
// none, whoever says so.
func (f Fact[T]) Same(g Fact[T]) bool { return f.standing == g.standing && f.value == g.value }

// Softened returns the fact standing no firmer than most, with what speaks
// against it.
func (f Fact[T]) Softened(most Standing, against ...Support) Fact[T] {
	said := f.said()
	said.doubts = append(said.doubts, against...)
	if f.standing = min(f.standing, most); !f.Known() {
		var none T
		f.value = none
	}
	f.heard = said
	return f
}

// Disputed returns the fact without a value, since something contradicts it.
func (f Fact[T]) Disputed(because Support) Fact[T] {
	said := f.said()
	said.because = append(said.because, because)
	return Fact[T]{standing: Disputed, heard: said}
}

// Opposed returns the fact that two contradicting ones come to: disputed, with what
// speaks for either.
func (f Fact[T]) Opposed(g Fact[T]) Fact[T] {
	said, other := f.said(), g.said()
	said.claims, said.because = append(said.claims, other.claims...), append(said.because, other.because...)
	return Fact[T]{standing: Disputed, heard: said}
}

// said returns a copy of what was said of a fact: of one that is known and of
// which nothing was said, its value.
func (f Fact[T]) said() *heard[T] {
	if f.heard != nil {
		return &heard[T]{slices.Clone(f.heard.claims), slices.Clone(f.heard.because), slices.Clone(f.heard.doubts)}
	}
	var said heard[T]
	if f.Known() {
		said.claims = []Claim[T]{{Value: f.value, Weight: f.standing.weight()}}
	}
	return &said
}

// Claimed returns the fact as one reading's claim: of as much weight, and with its
// source. A fact that is not known claims nothing.
func (f Fact[T]) Claimed(w Weight, source string, says func(T) string) Fact[T] {
	if !f.Known() {
		return Fact[T]{}
	}
	return Weigh(Claimed(f.value, w, source, says(f.value)))
}

// Join weighs what several sources say of one thing. Of one fact, it is that one.
func Join[T comparable](facts ...Fact[T]) Fact[T] {
	said, spoken, last := heard[T]{}, 0, Fact[T]{}
	for _, f := range facts {
		if f.Known() || f.heard != nil {
			spoken, last = spoken+1, f
			more := f.said()
			said.claims, said.because, said.doubts = append(said.claims, more.claims...), append(said.because,
				more.because...), append(said.doubts, more.doubts...)
		}
	}
	if spoken < 2 {
		return last
	}
	f := Weigh(said.claims...)
	if f.heard == nil {
		f.heard = &heard[T]{}
	}
	f.heard.because, f.heard.doubts = said.because, said.doubts
	return f
}

// Map returns what f makes of a fact's value, with the same standing and claims.
func Map[T, U comparable](f Fact[T], make func(T) U) Fact[U] {
	out := Fact[U]{standing: f.standing}
	if f.Known() {
		out.value = make(f.value)
	}
	if f.heard != nil {
		said := heard[U]{because: f.heard.because, doubts: f.heard.doubts}
		for _, c := range f.heard.claims {
			said.claims = append(said.claims, Claim[U]{make(c.Value), c.Weight, c.Support})
		}
		out.heard = &said
	}
	return out
}
