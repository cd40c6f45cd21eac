package fact

import (
	"cmp"
	"slices"
)

// A Weight says how much a claim counts for its fact. Claims that agree add
// up, so two independent weak signs can make a firm one.
type Weight int

// The weights. A fact is settled from Firm on, if nothing of note speaks
// against it.
const (
	Hint  Weight = 1  // alone worth a look, no more
	Fair  Weight = 2  // right on most machines; not to be bought on alone
	Firm  Weight = 4  // what the source is there to say, and seldom gets wrong
	Label Weight = 8  // a sticker: right about its module, if it is still on the right one
	Prime Weight = 12 // the best source for this fact; outweighs firmware's strings
	Eyes  Weight = 24 // what somebody saw in the open machine: overrides all but other eyes
)

// A Claim is one value that one reading supports.
type Claim[T comparable] struct {
	Value   T
	Weight  Weight
	Support Support
}

// Claimed returns a claim.
func Claimed[T comparable](value T, w Weight, source, says string) Claim[T] {
	return Claim[T]{value, w, Support{source, says}}
}

// Of two values the heavier one leads if it weighs at least leadOver times
// the other; it is settled if it weighs at least clearOver times the other.
const (
	leadOver  = 2
	clearOver = 3
)

// Weigh brings the claims about one thing to a fact. The order of the claims
// decides nothing but the order in which they are listed.
func Weigh[T comparable](claims ...Claim[T]) Fact[T] {
	var f Fact[T]
	if len(claims) == 0 {
		return f
	}
	sums := make(map[T]Weight)
	var values []T // in order of appearance; the map is never ranged over
	for _, c := range claims {
		if _, there := sums[c.Value]; !there {
			values = append(values, c.Value)
		}
		sums[c.Value] += c.Weight
	}
	slices.SortStableFunc(values, func(a, b T) int { return cmp.Compare(sums[b], sums[a]) })
	best, next := values[0], Weight(0)
	if len(values) > 1 {
		next = sums[values[1]]
	}
	switch lead := sums[best]; {
	case lead < Fair:
		// Hints alone are worth a look, and decide nothing.
		f.standing = Unknown
	case lead < leadOver*next:
		f.standing = Disputed
	case lead >= Firm && lead >= clearOver*next:
		f.standing = Settled
	default:
		f.standing = Leaning
	}
	if f.Known() {
		f.value = best
	}
	f.heard = &heard[T]{values: values}
	for _, c := range claims {
		if c.Value == best || !f.Known() {
			f.heard.why = append(f.heard.why, c.Support)
		} else {
			f.heard.against = append(f.heard.against, c.Support)
		}
	}
	return f
}
