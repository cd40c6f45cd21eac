package fact

import "slices"

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
	values, sums := heaviest(claims)
	lead, next := sums[0], Weight(0)
	if len(sums) > 1 {
		next = sums[1]
	}
	switch {
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
		f.value = values[0]
	}
	f.heard = &heard[T]{claims: slices.Clone(claims)}
	return f
}

// heaviest returns the values that are claimed with what each weighs, the heaviest
// first; of equal ones, the one that was claimed first.
func heaviest[T comparable](claims []Claim[T]) (values []T, sums []Weight) {
	for _, c := range claims {
		at := slices.Index(values, c.Value)
		if at < 0 {
			values, sums, at = append(values, c.Value), append(sums, 0), len(values)
		}
		sums[at] += c.Weight
	}
	for i := 1; i < len(values); i++ { // a handful, and stable
		for j := i; j > 0 && sums[j] > sums[j-1]; j-- {
			values[j], values[j-1], sums[j], sums[j-1] = values[j-1], values[j], sums[j-1], sums[j]
		}
	}
	return values, sums
}
