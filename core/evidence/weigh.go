// Package evidence turns the raw readings of a card into findings: what is
// known of the machine, how firmly, and why. Claims are drawn from each
// reading, then weighed against each other fact by fact. A claim that loses
// is kept in the finding.
package evidence

import (
	"slices"

	"epitome/core/machine"
	"epitome/core/maybe"
)

// A weight says how much a claim counts for its fact. Claims that agree add
// up, so two independent weak signs can make a firm one.
type weight int

// The weights. A finding is settled from firm on, if nothing of note speaks
// against it.
const (
	hint  weight = 1  // alone worth a look, no more
	fair  weight = 2  // right on most machines; not to be bought on alone
	firm  weight = 4  // what the source is there to say, and seldom gets wrong
	label weight = 8  // a sticker: right about its module, if it is still on the right one
	eyes  weight = 24 // what somebody saw in the open machine: overrides all but other eyes
	prime weight = 12 // the best source for this fact; outweighs firmware's strings
)

// A claim is one value that one reading supports.
type claim[T comparable] struct {
	value   T
	weight  weight
	support machine.Support
}

func claimed[T comparable](value T, w weight, source, says string) claim[T] {
	return claim[T]{value, w, machine.Support{Source: source, Says: says}}
}

// Of two values the heavier one leads if it weighs at least leadOver times
// the other; it is settled if it weighs at least clearOver times the other.
const (
	leadOver  = 2
	clearOver = 3
)

// weigh brings the claims about one fact to a finding. The order of the
// claims decides nothing but the order in which they are listed.
func weigh[T comparable](claims ...claim[T]) machine.Finding[T] {
	var f machine.Finding[T]
	if len(claims) == 0 {
		return f
	}
	sums := make(map[T]weight)
	var values []T // in order of appearance; the map is never ranged over
	for _, c := range claims {
		if !slices.Contains(values, c.value) {
			values = append(values, c.value)
		}
		sums[c.value] += c.weight
	}
	best, next := values[0], weight(0)
	for _, v := range values[1:] {
		if sums[v] > sums[best] {
			best = v
		}
	}
	for _, v := range values {
		if v != best {
			next = max(next, sums[v])
		}
	}
	switch lead := sums[best]; {
	case lead < fair:
		// Hints alone are worth a look, and decide nothing.
		f.Standing = machine.Unknown
	case lead < leadOver*next:
		f.Standing = machine.Disputed
	case lead >= firm && lead >= clearOver*next:
		f.Standing = machine.Settled
	default:
		f.Standing = machine.Leaning
	}
	if f.Standing >= machine.Leaning {
		f.Value = maybe.Just(best)
	}
	for _, c := range claims {
		if c.value == best || f.Standing < machine.Leaning {
			f.Why = append(f.Why, c.support)
		} else {
			f.Against = append(f.Against, c.support)
		}
	}
	return f
}

// derived is a finding that follows from others: it stands no firmer than the
// weakest of them.
func derived[T any](value T, standing machine.Standing, source, says string) machine.Finding[T] {
	f := machine.Finding[T]{Standing: standing, Why: []machine.Support{{Source: source, Says: says}}}
	if standing >= machine.Leaning {
		f.Value = maybe.Just(value)
	}
	return f
}
