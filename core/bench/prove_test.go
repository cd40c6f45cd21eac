package bench_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/bench"
	"epitome/core/prove"
)

func measured(copies float64) bench.Proof {
	figure := func(share float64) prove.Figure { return prove.Figure{Median: share * copies, Spread: 0.02} }
	return bench.Proof{Threads: 4, Read: figure(1.1), Write: figure(7000 / copies), Copy: figure(1),
		Latency: prove.Figure{Median: 92.4}, Covered: 6 << 30, Of: 8 << 30, Passes: 1, Seed: 7}
}

func withProofs(t *testing.T, proofs ...bench.Proof) *bench.Bench {
	t.Helper()
	now := time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)
	var readings []bench.Reading
	for _, p := range proofs {
		r, err := bench.ProofReading(p, now)
		require.NoError(t, err)
		readings = append(readings, r)
	}
	return bench.Bare(bench.NewCard(now, "", readings))
}

// A proof is kept on the card, and said in one line.
func TestAProofIsKept(t *testing.T) {
	assert.Empty(t, withProofs(t).ProofLine())
	assert.Equal(t, "sound: 6144 of 8192 MB; copies 12.1 GB/s, access time 92 ns, 2026-11-02",
		withProofs(t, measured(12100)).ProofLine())
	broken := measured(12100)
	broken.Found(prove.Fault{Offset: 8, Pattern: "random", Wrote: 1, Read: 3})
	b := withProofs(t, measured(9000), broken)
	assert.True(t, strings.HasPrefix(b.ProofLine(), "1 faults"), "the latest")
	assert.Equal(t, "0x0000000000000003", b.Proofs()[1].Faults[0].Read)
	unhurried := measured(12100)
	unhurried.Latency.Median = 0
	assert.Equal(t, "sound: 6144 of 8192 MB, 2026-11-02", withProofs(t, unhurried).ProofLine(), "no half of it")
	stopped := measured(12100)
	stopped.Passes = 0
	stopped.Copy.Median = 0
	assert.Equal(t, "stopped before one pass was whole: 6144 of 8192 MB, 2026-11-02", withProofs(t, stopped).ProofLine())
}

// Before and after are compared on two cards, or on one; not where either can't be trusted.
func TestBeforeAndAfter(t *testing.T) {
	one, two := withProofs(t, measured(8000)), withProofs(t, measured(14400))
	s, why, ok := one.Faster(two, bench.Way{}, false)
	require.True(t, ok)
	assert.Empty(t, why)
	assert.InDelta(t, 1.8, s.Ratio, 1e-9)
	assert.True(t, s.Noticed())
	assert.Zero(t, s.Predicted, "nothing was planned")

	both := withProofs(t, measured(8000), measured(8400))
	s, _, ok = both.Faster(both, bench.Way{}, false)
	require.True(t, ok)
	assert.InDelta(t, 1.05, s.Ratio, 1e-9)
	assert.False(t, s.Noticed(), "two runs differ by as much")
	s, _, ok = withProofs(t, measured(14000), measured(7000)).Faster(withProofs(t), bench.Way{}, false)
	require.True(t, ok)
	assert.True(t, s.Noticed(), "slower is noticed, too")

	busy := measured(14400)
	busy.Busy = true
	_, why, ok = one.Faster(withProofs(t, busy), bench.Way{}, false)
	assert.False(t, ok)
	assert.Contains(t, why, "measure again when it is idle")
	for _, lone := range []*bench.Bench{withProofs(t), one} {
		_, why, ok = lone.Faster(lone, bench.Way{}, false)
		assert.False(t, ok)
		assert.Empty(t, why)
	}
	_, _, ok = withProofs(t).Faster(two, bench.Way{}, false)
	assert.False(t, ok, "nothing to compare with")
}

func TestHowMuchIsProved(t *testing.T) {
	const available = 1000 << 20
	for text, want := range map[string]uint64{"80%": 800 << 20, "5.5%": 55 << 20, "512MB": 512 << 20, "2GB": 2 << 30} {
		got, err := bench.ShareOf(text, available)
		require.NoError(t, err, text)
		assert.Equal(t, want, got, text)
	}
	for _, text := range []string{"", "0%", "96%", "-1%", "much", "12", "0MB"} {
		_, err := bench.ShareOf(text, available)
		var wrong *bench.InputError
		assert.ErrorAs(t, err, &wrong, text)
	}
}
