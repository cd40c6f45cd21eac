package propose

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/rule"
	"epitome/core/stock"
	"epitome/truth/effort"
)

// A speed is a goal, too: the plan that does it, what stands in the way, or that nothing is to be bought.
func TestASpeedIsAGoal(t *testing.T) {
	const system = "Windows 10 Pro 64-bit"
	slow := tower(figures, []string{"A1 A|8GB 1Rx8 PC4-2133P-UA2-11", "A2 A", "B1 B", "B2 B"}, system)
	list := []offered{{"8GB 1Rx8 PC4-2400T-UA2-11", 1700, stock.New, 1}, {"8GB 1Rx8 PC4-2666V-UA2-11", 1800, stock.New, 1}}
	rate := func(n int) Goal { return Goal{Rate: maybe.Just(jedec.Rate(n))} }
	for what, x := range map[string]struct {
		goal Goal
		does string // else the error's sentence
	}{
		"the plan that does":             {rate(2666), "1 H1 out A1 "},
		"a rate between is met, no more": {rate(2400), "1 H0 out A1 "},
		"the fastest":                    {Goal{Fastest: true}, "1 H1 out A1 "},
		"with a size": {Goal{Rate: maybe.Just(jedec.Rate(2666)), Reach: maybe.Just(16 * jedec.GiB)},
			"2 H1 out A1 "},
		"with money": {Goal{Fastest: true, Spend: maybe.Just(stock.Money(1800))}, "1 H1 out A1 "},
		"it runs so fast already": {rate(2133),
			"the goal is reached already: it runs at 2133 MT/s, 2133 MT/s are asked for"},
		"more than the controller allows": {rate(3200),
			"the goal is out of reach: 3200 MT/s are asked for; Petrel runs one " +
				"module a channel at up to 2666 MT/s (ours.yaml:2)"},
		"the most that is to be had": {Goal{Most: true}, "3 H0 "},
	} {
		m, l := slow.Machine(t)
		g := x.goal
		for i, o := range list {
			st := known(t, o.text)
			g.Offers = append(g.Offers, Offer{SKU: []string{"H0", "H1"}[i], Text: o.text, Stick: &st, Pieces: 1, MinOrder: 1,
				Price: o.price, Condition: o.condition})
		}
		if _, err := Search(m, l, g, nil); err != nil {
			assert.Equal(t, x.does, err.Error(), what)
			continue
		}
		_, says := first(t, slow, x.goal, list...)
		assert.Equal(t, x.does, says, what)
	}
	m, l := slow.Machine(t)
	st := known(t, "8GB 1Rx8 PC4-2133P-UA2-11")
	unsold := rate(2666)
	unsold.Offers = []Offer{{Stick: &st, Pieces: 1, Price: 900}}
	r, err := Search(m, l, unsold, nil)
	require.ErrorIs(t, err, ErrBeyond)
	assert.True(t, r.Unsold, "no limit is in the way: %s", r.Blocked)
}

// The fastest and the most are those of everything that nothing beats.
func TestTheFastestAndTheMost(t *testing.T) {
	r := rand.New(rand.NewPCG(71, 72))
	fast, most := 0, 0
	for n := range effort.Cases(400) {
		rig, g := randomCase(r)
		g.Spend, g.Rate = maybe.None[stock.Money](), maybe.None[jedec.Rate]()
		m, l := rig.Machine(t)
		all := g
		all.Everything, all.Reach = true, maybe.Just(m.Have()+1)
		found, err := Search(m, l, all, nil)
		if err != nil || len(found.Proposals) == 0 {
			continue
		}
		var size jedec.Capacity
		for _, p := range found.Proposals {
			size = max(size, p.Trial.Total)
		}
		g.Most = true
		top, err := Search(m, l, g, nil)
		require.NoError(t, err, "case %d", n)
		if most++; rule.Outcome(top.Proposals[0].Trial.Verdict).Runs() {
			assert.Equal(t, size, top.Proposals[0].Trial.Total, "case %d", n)
			assert.Equal(t, maybe.Just(size), top.Goal.Reach, "case %d", n)
		}
		g.Most, g.Fastest, g.Reach = false, true, maybe.Just(m.Have()+1)
		quick, err := Search(m, l, g, nil)
		require.NoError(t, err, "case %d", n)
		for _, p := range found.Proposals {
			x, ok := p.Trial.Operating.Get()
			if y, known := quick.Proposals[0].Trial.Operating.Get(); ok && known {
				fast++
				assert.GreaterOrEqual(t, y.Grade.Rate, x.Grade.Rate, "case %d", n)
			}
		}
	}
	assert.Positive(t, fast)
	assert.Positive(t, most)
}

// What holds the most has it; a round reads a speed as one machine does.
func TestTheMostIsReachedAndARoundIsAskedForSpeed(t *testing.T) {
	full := tower("generation: DDR4, channels: 1, slots_per_channel: 2, rate: 2666, maximum: 16GB, largest_die: 8Gbit, "+
		"x4: no, x16: yes, ecc: none, volts: 1.2",
		[]string{"A1 A|8GB 1Rx8 PC4-2666V-UA2-11", "A2 A|8GB 1Rx8 PC4-2666V-UA2-11"}, "Windows 10 Pro 64-bit")
	m, l := full.Machine(t)
	_, err := Search(m, l, Goal{Most: true}, nil)
	require.ErrorIs(t, err, ErrReached)
	assert.ErrorContains(t, err, "16 GB are fitted, the maximum")

	slow := tower(figures, []string{"A1 A|8GB 1Rx8 PC4-2133P-UA2-11", "A2 A", "B1 B", "B2 B"}, "Windows 10 Pro 64-bit")
	m, l = slow.Machine(t)
	st := known(t, "8GB 1Rx8 PC4-2666V-UA2-11")
	offers := []Offer{{Number: 1, SKU: "H1", Text: "8GB", Stick: &st, Pieces: 1, MinOrder: 1, Price: 1800}}
	ways, _, err := Ways(m, l, Goal{Rate: maybe.Just(jedec.Rate(2666))}, NewPool(offers, nil, true), nil)
	require.NoError(t, err)
	assert.Equal(t, 8*jedec.GiB, best(ways).Total)
}
