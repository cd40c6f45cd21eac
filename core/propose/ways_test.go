package propose

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/rule"
	"epitome/core/stock"
	"epitome/truth/effort"
)

// pooled are offers as a round has them: one module each, as many as anybody wants.
func pooled(offers []Offer) []Offer {
	list := slices.Clone(offers)
	for i := range list {
		list[i].Number, list[i].Pieces, list[i].MinOrder, list[i].Quantity = i+1, 1, 1, maybe.None[int]()
	}
	return list
}

// best is the way that a round takes where nothing runs out.
func best(ways []Way) Way {
	least := ways[0]
	for _, w := range ways {
		if w.Level < least.Level || w.Level == least.Level && w.Cost+w.Extra < least.Cost+least.Extra {
			least = w
		}
	}
	return least
}

// A machine alone gets what propose proposes first, and whatever runs out, every offer that
// would do alone is among its ways.
func TestAMachineAloneGetsWhatIsProposedFirst(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 12))
	met, alone := 0, 0
	for n := range effort.Cases(900) {
		rig, g := randomCase(r)
		g.OneKit, g.OnlyNew, g.InStock, g.TradeIn, g.Offers = false, false, false, 0, pooled(g.Offers)
		m, l := rig.Machine(t)
		ways, _, err := Ways(m, l, g, NewPool(g.Offers, nil, true), nil)
		found, unmet := Search(m, l, g, nil)
		if unmet != nil || len(found.Proposals) == 0 {
			assert.Error(t, err, "case %d: there is a way, and no proposal", n)
			continue
		}
		require.NoError(t, err, "case %d", n)
		met++
		first, way := found.Proposals[0], best(ways)
		assert.Equal(t, first.Trial.Total, way.Total, "case %d", n)
		if rule.Outcome(first.Trial.Verdict).Runs() { // of likely ones the whole trial may judge otherwise
			assert.Equal(t, first.Cost, way.Cost, "case %d: %v", n, first.Buys)
			assert.Len(t, way.Gone, len(first.Removes), "case %d", n)
		}
		for _, o := range g.Offers {
			only := g
			only.Offers = []Offer{o}
			p, err := Search(m, l, only, nil)
			if err != nil || len(p.Proposals) == 0 || !rule.Outcome(p.Proposals[0].Trial.Verdict).Runs() || o.Price == 0 ||
				len(p.Proposals[0].Buys) == 0 {
				continue
			}
			alone++
			assert.True(t, slices.ContainsFunc(ways, func(w Way) bool {
				return len(w.Wants) == 1 && slices.Contains(w.Wants[0].Offers, o.Number) && w.Wants[0].N <= p.Proposals[0].Modules
			}), "case %d: %s alone would do", n, o.Text)
		}
		laid := 0
		for _, w := range ways[:min(3, len(ways))] {
			var pieces []Offer
			for _, want := range w.Wants {
				for range want.N {
					pieces = append(pieces, g.Offers[want.Offers[0]-1])
				}
			}
			p, ok := Laid(m, l, g, w.Keep, pieces)
			if assert.True(t, ok, "case %d", n) {
				laid++
				assert.Equal(t, w.Total, p.Trial.Total, "case %d", n)
				assert.NotEqual(t, rule.No, p.Trial.Verdict, "case %d", n)
			}
		}
		assert.Positive(t, laid)
	}
	assert.Greater(t, met, effort.Cases(900)/5)
	assert.Greater(t, alone, effort.Cases(900)/4)
}

func TestWhatLiesThereIsTakenAndCostsNothing(t *testing.T) {
	m, l := tower(figures, []string{"A1 A|8GB 1Rx8 PC4-2400T-UA2-11", "B1 B"}, "Windows 10 Pro 64-bit").Machine(t)
	shop, drawer := known(t, "8GB 1Rx8 PC4-2400T-UA2-11"), known(t, "8GB 1Rx8 PC4-2400T-UA1-11")
	g := Goal{Reach: maybe.Just(16 * jedec.GiB)}
	pool := NewPool([]Offer{{Number: 1, Text: "shop", Stick: &shop, Pieces: 1, MinOrder: 1, Price: 2000}},
		[]Offer{{Number: 2, Stick: &drawer, Pieces: 1, MinOrder: 1}}, true)
	ways, _, err := Ways(m, l, g, pool, nil)
	require.NoError(t, err)
	w := best(ways)
	require.Len(t, w.Wants, 1)
	assert.Equal(t, Want{Offers: []int{2, 1}, N: 1}, w.Wants[0], "either does, and the one that costs nothing comes first")
	piece := pool.Free[0]
	piece.Lies = "out of bench4"
	p, ok := Laid(m, l, g, w.Keep, []Offer{piece})
	require.True(t, ok)
	assert.Empty(t, p.Buys)
	assert.Zero(t, p.Modules)
	require.Len(t, p.Adds, 1)
	assert.Equal(t, "out of bench4", p.Adds[0].From)
}

func TestWithoutAListSpecificationsAreWanted(t *testing.T) {
	m, l := tower(figures, []string{"A1 A|8GB 1Rx8 PC4-2400T-UA2-11", "B1 B"}, "Windows 10 Pro 64-bit").Machine(t)
	g := Goal{Reach: maybe.Just(16 * jedec.GiB)}
	ways, specs, err := Ways(m, l, g, Pool{}, nil)
	require.NoError(t, err)
	w := best(ways)
	spec := specs[-1-w.Wants[0].Offers[0]]
	assert.Equal(t, "8 GB DDR4-2666 DIMM 1Rx8, not 1Rx16", spec.Text)
	assert.Equal(t, specs, Specifications(m, l, g), "they are found again")
}

func TestAMachineWithoutAWaySaysWhy(t *testing.T) {
	m, l := tower(figures, []string{"A1 A|8GB 1Rx8 PC4-2400T-UA2-11", "B1 B"}, "Windows 10 Pro 64-bit").Machine(t)
	wrong := known(t, "16GB 2Rx4 PC4-2400T-RA1-11")
	for what, x := range map[string]struct {
		goal Goal
		want error
	}{
		"reached":      {Goal{Reach: maybe.Just(8 * jedec.GiB)}, ErrReached},
		"beyond":       {Goal{Reach: maybe.Just(256 * jedec.GiB)}, ErrBeyond},
		"nothing fits": {Goal{Reach: maybe.Just(16 * jedec.GiB)}, ErrBeyond},
		"no goal":      {Goal{}, ErrGoal},
	} {
		_, _, err := Ways(m, l, x.goal,
			NewPool([]Offer{{Number: 1, Stick: &wrong, Pieces: 1, MinOrder: 1, Price: 1}}, nil, true), nil)
		assert.ErrorIs(t, err, x.want, what)
	}
	_, _, err := Ways(m, l, Goal{Reach: maybe.Just(16 * jedec.GiB)}, Pool{Priced: true}, nil)
	require.ErrorIs(t, err, ErrBeyond, "a list that holds nothing for it is no leave to invent")
	_, _, err = Ways(m, l, Goal{Reach: maybe.Just(16 * jedec.GiB)}, Pool{}, func() bool { return true })
	assert.ErrorIs(t, err, ErrStopped)
}

func TestWhatIsSpentOnOneIsWithinTheMoneyWhateverRunsOut(t *testing.T) {
	m, l := tower(figures, []string{"A1 A|8GB 1Rx8 PC4-2400T-UA2-11", "B1 B"}, "Windows 10 Pro 64-bit").Machine(t)
	var offers []Offer
	for i, price := range []stock.Money{1500, 2500, 9000} {
		st := known(t, "8GB 1Rx8 PC4-2400T-UA2-11")
		offers = append(offers, Offer{Number: i + 1, Text: fmt.Sprint("S", i), Stick: &st, Pieces: 1, MinOrder: 1,
			Price: price})
	}
	ways, _, err := Ways(m, l, Goal{Spend: maybe.Just[stock.Money](3000)}, NewPool(offers, nil, true), nil)
	require.NoError(t, err)
	for _, w := range ways {
		for _, want := range w.Wants {
			assert.NotContains(t, want.Offers, 3)
		}
	}
}

func TestHowMuchIsMissing(t *testing.T) {
	for _, x := range []struct {
		have, want int
		missing    int
	}{{8, 16, 50}, {0, 16, 100}, {15, 16, 6}, {16, 16, 1}, {32, 16, 1}} {
		assert.Equal(t, x.missing, Missing(jedec.Capacity(x.have)*jedec.GiB, maybe.Just(jedec.Capacity(x.want)*jedec.GiB)))
	}
	assert.Equal(t, 1, Missing(8*jedec.GiB, maybe.None[jedec.Capacity]()))
}
