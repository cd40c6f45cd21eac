package propose

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/rule"
	"epitome/core/trial"
)

// What one proposal gives up is what the other gets.
func TestProposalsAgainstOneAnother(t *testing.T) {
	m, l := tower(
		figures, []string{"A1 A|8GB 1Rx8 PC4-2400T-UA2-11", "A2 A", "B1 B", "B2 B"}, "Windows 10 Pro 64-bit",
	).Machine(t)
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

// A plain module beside ones with check bits is cheaper, and ends their checking.
func TestWhatIsGivenUpIsNamed(t *testing.T) {
	at := func(sticks ...string) (p Proposal) {
		for _, text := range sticks {
			s, err := module.Parse(text)
			require.NoError(t, err)
			p.Trial.Seats = append(p.Trial.Seats, trial.Seat{Stick: s})
		}
		return p
	}
	ecc, plain := "8GB 1Rx8 PC4-2400T-EA1-11", "8GB 1Rx8 PC4-2400T-UA2-11"
	worse, better := at(ecc, plain).Against(Result{}, at(ecc, ecc))
	assert.Equal(t, []string{"the correction of errors"}, worse)
	assert.Empty(t, better)
	worse, better = at(ecc, plain).Against(Result{}, at(plain))
	assert.Empty(t, append(worse, better...), "neither is checked")
	unused := at(ecc, ecc)
	unused.Trial.Reasons = []rule.Reason{{Rule: "ecc", Outcome: rule.Reduced}}
	worse, _ = unused.Against(Result{}, at(ecc, ecc))
	assert.Equal(t, []string{"the correction of errors"}, worse, "a machine that does not use the bits")

	for _, c := range []struct {
		rate  jedec.Rate
		cl    int
		worse []string
	}{{2400, 17, nil}, {2400, 18, []string{"CAS latency by 1"}}, {2133, 15, []string{"267 MT/s"}}} {
		x, y := at(), at()
		fast, _ := jedec.GradeAt(jedec.DDR4, 2400)
		slow, _ := jedec.GradeAt(jedec.DDR4, c.rate)
		x.Trial.Operating = maybe.Just(trial.Point{Grade: slow, Timing: jedec.Timing{CL: jedec.Whole(c.cl)}})
		y.Trial.Operating = maybe.Just(trial.Point{Grade: fast, Timing: jedec.Timing{CL: jedec.Whole(17)}})
		worse, better := x.Against(Result{}, y)
		assert.Equal(t, c.worse, worse)
		assert.Empty(t, better)
	}
}
