package propose

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/rule"
)

// What is unlikely is shown where everything is asked for, behind all that may run, with what stands against it, and is
// best at nothing; else it is left out.
func TestWhatIsUnlikelyIsShownAndNeverRecommended(t *testing.T) {
	r := rig{Brand: "Intel(R) Core(TM) i5-2410M CPU @ 2.30GHz", Family: 6, Model: 42, Seen: "SO-DIMM", Form: 13,
		Chassis: 10, Places: []string{"A A|4GB 2Rx8 PC3-10600S-09-10-F2", "B B"}, System: "Windows 10 Pro 64-bit"}
	m, l := r.Machine(t)
	g := Goal{Reach: maybe.Just(8 * jedec.GiB)}
	plain, err := Search(m, l, g, nil)
	require.NoError(t, err)
	assert.Empty(t, plain.Unlikely)
	g.Everything = true
	all, err := Search(m, l, g, nil)
	require.NoError(t, err)
	require.NotEmpty(t, all.Unlikely)
	assert.Equal(t, plain.Proposals[0].Buys[0].Text, all.Proposals[0].Buys[0].Text)
	for i, p := range all.Unlikely {
		assert.Equal(t, rule.LeansNo, p.Trial.Verdict)
		assert.Equal(t, len(all.Proposals)+len(all.Unproven)+i+1, p.Number)
		assert.Empty(t, p.Picks)
		against := func(r rule.Reason) bool { return r.Outcome == rule.Unlikely }
		assert.True(t, slices.ContainsFunc(p.Trial.Reasons, against))
	}
	// Where nothing else reaches the goal it is out of reach all the same.
	g.Reach = maybe.Just(32 * jedec.GiB)
	beyond, err := Search(m, l, g, nil)
	require.ErrorIs(t, err, ErrBeyond)
	assert.NotEmpty(t, beyond.Unlikely)
}
