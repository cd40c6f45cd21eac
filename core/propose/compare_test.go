package propose

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// What one proposal gives up is what the other gets.
func TestProposalsAgainstOneAnother(t *testing.T) {
	m, l := rig{takes: figures, system: "Windows 10 Pro 64-bit",
		places: []string{"A1 A|8GB 1Rx8 PC4-2400T-UA2-11", "A2 A", "B1 B", "B2 B"}}.machine(t)
	r, err := Search(m, l, Goal{Reach: maybe.Just(16 * jedec.GiB), Currency: "EUR", Everything: true,
		Offers: priceList(t, 80)}, nil)
	require.NoError(t, err)
	require.Greater(t, len(r.Proposals), 1)
	least := Cheapest(r.Proposals)
	for _, q := range r.Proposals {
		assert.LessOrEqual(t, least.Cost, q.Cost)
		for _, o := range r.Proposals {
			worse, better := q.Against(r, o)
			other, gets := o.Against(r, q)
			if q.Number != o.Number {
				assert.NotEmpty(t, append(worse, better...), "%d and %d differ in nothing", q.Number, o.Number)
			}
			assert.ElementsMatch(t, worse, gets, "%d against %d", q.Number, o.Number)
			assert.ElementsMatch(t, better, other, "%d against %d", q.Number, o.Number)
		}
	}
	assert.Empty(t, Result{}.WaitsFor())
}
