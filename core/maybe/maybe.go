// Package maybe holds one value type for a fact that may not be known.
//
// Unknown is a value of its own here: no -1, no 0 that could be a measurement,
// no empty string that means three things. The zero Value is "not known".
package maybe

import "encoding/json"

// A Value is a T or nothing. Values are comparable where T is.
type Value[T any] struct {
	value T
	known bool
}

// Just returns a known value.
func Just[T any](v T) Value[T] { return Value[T]{value: v, known: true} }

// None returns the unknown value.
func None[T any]() Value[T] { return Value[T]{} }

// If returns v where ok holds and the unknown value elsewhere. It takes the
// two results of a "comma ok" call.
func If[T any](v T, ok bool) Value[T] {
	if !ok {
		return Value[T]{}
	}
	return Just(v)
}

// Get returns the value and whether it is known.
func (m Value[T]) Get() (T, bool) { return m.value, m.known }

// Known reports whether there is a value.
func (m Value[T]) Known() bool { return m.known }

// Or returns the value, or instead where it is not known.
func (m Value[T]) Or(instead T) T {
	if m.known {
		return m.value
	}
	return instead
}

// Map returns what f makes of the value, unknown where there is none.
func Map[T, U any](m Value[T], f func(T) U) Value[U] {
	if !m.known {
		return Value[U]{}
	}
	return Just(f(m.value))
}

// MarshalJSON writes the value, or null where it is not known.
func (m Value[T]) MarshalJSON() ([]byte, error) {
	if !m.known {
		return []byte("null"), nil
	}
	return json.Marshal(m.value)
}
