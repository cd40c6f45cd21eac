package records_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/records"
)

func TestAProofReadsBack(t *testing.T) {
	p := records.Proof{Date: "2026-11-02", Threads: 4, Copy: 12100, Latency: 92.4, CoveredMiB: 6144, OfMiB: 7864,
		Passes: 1, Seed: 7,
		Faults: []records.ProofFault{{Offset: 4096, Pattern: "random", Wrote: "0x1", Read: "0x3", Again: true}}}
	text, err := p.Encode()
	require.NoError(t, err)
	back, err := records.ParseProof(text)
	require.NoError(t, err)
	p.Version = 1
	assert.Equal(t, p, back)
	assert.False(t, back.Sound())
	back.Faults = nil
	assert.True(t, back.Sound())
	back.Passes = 0
	assert.False(t, back.Sound(), "nothing was proved")
	for _, text := range []string{"", "epitome-proof: 2\n", "what", "epitome-proof: 1\ncopy_mbs: -1\n",
		"epitome-proof: 1\ncopy_mbs: .nan\n", "epitome-proof: 1\nwhat: 1\n", strings.Repeat("x", 2<<20)} {
		_, err := records.ParseProof([]byte(text))
		assert.ErrorIs(t, err, records.ErrProof)
	}
}

// Each figure of a proof is one that a measurement can come to.
func TestEachFigureOfAProofIsBounded(t *testing.T) {
	for _, key := range []string{"read_mbs", "write_mbs", "copy_mbs", "read_one_thread_mbs", "write_one_thread_mbs",
		"copy_one_thread_mbs", "spread", "latency_ns"} {
		for figure, fine := range map[string]bool{"0": true, "12000.5": true, "-1": false, "1e9": false, "999999999": true,
			".nan": false, ".inf": false} {
			_, err := records.ParseProof([]byte("epitome-proof: 1\n" + key + ": " + figure + "\n"))
			assert.Equal(t, fine, err == nil, "%s: %s: %v", key, figure, err)
		}
	}
}

func FuzzParseProof(f *testing.F) {
	f.Add([]byte("epitome-proof: 1\ncopy_mbs: 12100\n"))
	f.Fuzz(func(t *testing.T, text []byte) {
		if p, err := records.ParseProof(text); err == nil {
			again, err := p.Encode()
			require.NoError(t, err)
			_, err = records.ParseProof(again)
			require.NoError(t, err)
		}
	})
}
