package docket_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"epitome/core/docket"
)

// FuzzParsePlan reads any text as a kept plan: what is accepted can be written
// and read again, and each of its ways is a trial or says why not.
func FuzzParsePlan(f *testing.F) {
	f.Add([]byte("epitome-plan: 1\ngoal: reach 16 GB\ncurrency: EUR\nlists: [{name: a.csv, sha256: ab}]\nways: " +
		"[{number: 1, pull: [A], put: [{place: A, stick: 8GB 1Rx8 PC4-2400T-SA1-11}, {place: B, from: A}], buys: [{units: " +
		"1, pieces: 1, text: x, price: 20.00}], cost: 20.00}]\n"))
	f.Fuzz(func(t *testing.T, text []byte) {
		p, err := docket.ParsePlan(text)
		if err != nil {
			require.ErrorIs(t, err, docket.ErrPlan)
			return
		}
		again, err := p.Encode()
		require.NoError(t, err)
		q, err := docket.ParsePlan(again)
		if err == nil { // a name that YAML can't hold is refused, not changed
			require.Len(t, q.Ways, len(p.Ways))
		}
		for _, w := range p.Ways {
			if _, err := p.Way(w.Number); err == nil {
				_, _ = w.Trial()
			}
		}
	})
}
