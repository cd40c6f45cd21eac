package fact_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/fact"
	"epitome/core/maybe"
)

const socket, soldered = "socket", "soldered"

func claim(value string, w fact.Weight) fact.Claim[string] {
	return fact.Claimed(value, w, "reading", value)
}

func TestClaimsSettleLeanAndDispute(t *testing.T) {
	type claims = []fact.Claim[string]
	for _, x := range []struct {
		says     string
		claims   claims
		standing fact.Standing
		value    maybe.Value[string]
		possible []string
	}{
		{"nothing said", nil, fact.Unknown, maybe.None[string](), nil},
		{"one firm claim", claims{claim(socket, fact.Firm)}, fact.Settled, maybe.Just(socket), []string{socket}},
		{"one fair claim", claims{claim(socket, fact.Fair)}, fact.Leaning, maybe.Just(socket), []string{socket}},
		{"two fair claims that agree", claims{claim(socket, fact.Fair), claim(socket, fact.Fair)}, fact.Settled,
			maybe.Just(socket), []string{socket}},
		{"firm against firm", claims{claim(socket, fact.Firm), claim(soldered, fact.Firm)}, fact.Disputed,
			maybe.None[string](), []string{socket, soldered}},
		{"firm against fair", claims{claim(soldered, fact.Fair), claim(socket, fact.Firm)}, fact.Leaning,
			maybe.Just(socket), []string{socket, soldered}},
		{"prime against firm", claims{claim(soldered, fact.Firm), claim(socket, fact.Prime)}, fact.Settled,
			maybe.Just(socket), []string{socket}},
		{"hints alone decide nothing", claims{claim(socket, fact.Hint)}, fact.Unknown, maybe.None[string](), nil},
		{"fair against hint", claims{claim(soldered, fact.Hint), claim(socket, fact.Fair)}, fact.Leaning,
			maybe.Just(socket), []string{socket, soldered}},
	} {
		f := fact.Weigh(x.claims...)
		assert.Equal(t, x.standing, f.Standing(), x.says)
		assert.Equal(t, x.value, f.Value(), x.says)
		assert.Equal(t, x.possible, f.Possible(), x.says)
		assert.Len(t, append(f.Why(), f.Against()...), len(x.claims), "%s: no claim is lost", x.says)
	}
}

func TestTheZeroFactIsNothingKnown(t *testing.T) {
	var f fact.Fact[int]
	assert.False(t, f.Known())
	assert.Equal(t, fact.Unknown, f.Standing())
	assert.Empty(t, f.Why())
	assert.Empty(t, f.Against())
	assert.Empty(t, f.Possible())
	assert.Equal(t, 7, f.Or(7))
	assert.True(t, f.Same(fact.If(3, false)))
}

func TestAFactIsNeverMadeFirmer(t *testing.T) {
	doubt := fact.Support{Source: "list", Says: "no empty place"}
	f := fact.Of(2, fact.Settled, fact.Support{Source: "sum", Says: "two"})
	softer := f.Softened(fact.Leaning, doubt)
	assert.Equal(t, fact.Leaning, softer.Standing())
	assert.Equal(t, []fact.Support{doubt}, softer.Against())
	assert.Equal(t, fact.Settled, f.Standing(), "facts are copied, never changed")
	assert.Empty(t, f.Against())
	assert.Equal(t, fact.Leaning, softer.Softened(fact.Settled).Standing())
	assert.False(t, f.Softened(fact.Disputed, doubt).Known(), "below leaning there is no value")
	assert.False(t, fact.Of(2, fact.Disputed).Known())
}

func TestADisputeKeepsWhatWasClaimed(t *testing.T) {
	one, two := fact.Of(1, fact.Leaning, fact.Support{Source: "a", Says: "one"}), fact.Of(2, fact.Settled,
		fact.Support{Source: "b", Says: "two"})
	f := one.Opposed(two)
	assert.Equal(t, fact.Disputed, f.Standing())
	assert.Equal(t, []int{2, 1}, f.Possible(), "the heavier one first")
	assert.Len(t, f.Why(), 2)

	doubted := two.Disputed(fact.Support{Source: "c", Says: "not so"})
	assert.False(t, doubted.Known())
	assert.Equal(t, []int{2}, doubted.Possible())
	assert.Len(t, doubted.Why(), 2)
	assert.Len(t, two.Why(), 1, "facts are copied, never changed")
}

func TestAMappedFactStandsAsBefore(t *testing.T) {
	words := map[int]string{1: "one", 2: "two"}
	name := func(n int) string { return words[n] }
	f := fact.Map(fact.Weigh(fact.Claimed(1, fact.Fair, "a", "1"), fact.Claimed(2, fact.Hint, "b", "2")), name)
	assert.Equal(t, "one", f.Or(""))
	assert.Equal(t, fact.Leaning, f.Standing())
	assert.Equal(t, []string{"one", "two"}, f.Possible())
	assert.Len(t, f.Against(), 1)
	assert.Equal(t, fact.Fact[string]{}, fact.Map(fact.Fact[int]{}, name))
}

func TestFactsAreMadeOfWhatMayNotBeKnown(t *testing.T) {
	assert.Equal(t, fact.Known(4), fact.From(maybe.Just(4)))
	assert.Equal(t, fact.Fact[int]{}, fact.From(maybe.None[int]()))
	assert.True(t, fact.Known(4).Same(fact.Of(4, fact.Settled, fact.Support{Source: "a", Says: "4"})), "whoever says so")
	assert.False(t, fact.Known(4).Same(fact.Of(4, fact.Leaning)))
}
