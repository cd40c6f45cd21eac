package propose

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/stock"
	"epitome/truth/effort"
)

// An offered is a line of a list in a test: a text, a price, a condition.
type offered struct {
	text      string
	price     stock.Money
	condition stock.Condition
	pieces    int
}

// first is the first proposal: what is bought, and which places are emptied.
func first(t *testing.T, r rig, g Goal, list ...offered) (p Proposal, says string) {
	t.Helper()
	m, l := r.Machine(t)
	for i, x := range list {
		st := known(t, x.text)
		g.Offers = append(g.Offers, Offer{SKU: fmt.Sprint("H", i), Text: x.text, Stick: &st, Pieces: max(1, x.pieces),
			Price: x.price, MinOrder: 1, Condition: x.condition})
	}
	found, err := Search(m, l, g, nil)
	require.NoError(t, err)
	require.NotEmpty(t, found.Proposals, "%v", list)
	p = found.Proposals[0]
	for _, b := range p.Buys {
		says += fmt.Sprintf("%d %s ", b.Units, b.SKU)
	}
	for _, x := range p.Removes {
		says += "out " + x.Place + " "
	}
	return p, says
}

// The first proposal is what a technician would take.
func TestTheFirstOneIsWhatATechnicianWouldTake(t *testing.T) {
	const system = "Windows 10 Pro 64-bit"
	pair := []string{"A1 A|8GB 1Rx8 PC4-2666V-UA2-11", "A2 A", "B1 B|8GB 1Rx8 PC4-2666V-UA2-11", "B2 B"}
	two := []string{"A1 A|8GB 1Rx8 PC4-2666V-UA2-11", "B1 B"}
	even := "generation: DDR4, channels: 2, slots_per_channel: 2, rate: 2666, maximum: 64GB, largest_die: 16Gbit, x4: " +
		"no, x16: yes, ecc: none, volts: 1.2"
	reach := func(gb int) Goal { return Goal{Reach: maybe.Just(jedec.Capacity(gb) * jedec.GiB)} }
	for what, x := range map[string]struct {
		rig  rig
		goal Goal
		list []offered
		want string
	}{
		"the same again beside what is there": {tower(figures, two, system), reach(16),
			[]offered{{"16GB 2Rx8 PC4-2666V-UA2-11", 3000, stock.New, 1}, {"8GB 1Rx8 PC4-2666V-UA2-11", 1800, stock.New, 1}},
			"1 H1 "},
		"two good modules are not thrown out for a fifth of the rate": {tower(even+", rate_two_modules: 2133", pair, system),
			reach(32),
			[]offered{{"8GB 1Rx8 PC4-2666V-UA2-11", 1800, stock.New, 1}, {"16GB 1Rx8 PC4-2666V-UA2-11", 3000, stock.New, 1}},
			"2 H0 "},
		"pairs, where a single one is cheaper": {tower(even+", rate_two_modules: 2666", pair, system), reach(24),
			[]offered{{"8GB 1Rx8 PC4-2666V-UA2-11", 1800, stock.New, 1}}, "2 H0 "},
		"not a slower one that saves a coin": {tower(even, two, system), reach(16),
			[]offered{{"8GB 1Rx8 PC4-2133P-UA2-11", 1000, stock.New, 1}, {"8GB 1Rx8 PC4-2666V-UA2-11", 1800, stock.New, 1}},
			"1 H1 "},
		"what is new, at one price": {tower(even, two, system), reach(16),
			[]offered{{"8GB 1Rx8 PC4-2666V-UA2-11", 1800, stock.Used, 1}, {"8GB 1Rx8 PC4-2666V-UA2-11", 1800, stock.New, 1}},
			"1 H1 "},
		"what says what it is, at one price": {tower(even, two, system), reach(16),
			[]offered{{"8GB DDR4-2666 UDIMM", 1800, stock.New, 1}, {"8GB 1Rx8 PC4-2666V-UA2-11", 1800, stock.New, 1}}, "1 H1 "},
		"the most that money buys": {tower(even, two, system), Goal{Spend: maybe.Just(stock.Money(6000))},
			[]offered{{"8GB 1Rx8 PC4-2666V-UA2-11", 1800, stock.New, 1}, {"16GB 1Rx8 PC4-2666V-UA2-11", 3100, stock.New, 1},
				{"16GB 1Rx8 PC4-2666V-UA2-11", 5800, stock.New, 2}}, "1 H2 out A1 "},
	} {
		p, says := first(t, x.rig, x.goal, x.list...)
		assert.Equal(t, x.want, says, what)
		assert.Contains(t, p.Picks, Recommended, what)
	}
}

// What is there is the floor: nothing holds less, and nothing is shown that the
// machine as it stands beats.
func TestWhatIsThereIsTheFloor(t *testing.T) {
	m, l := tower(figures, []string{"A1 A|16GB 2Rx8 PC4-2400T-UA2-11", "B1 B"}, "Windows 10 Pro 64-bit").Machine(t)
	same, less, more := known(t, "16GB 2Rx8 PC4-2400T-UA2-11"), known(t, "8GB 1Rx8 PC4-2400T-UA2-11"), known(t,
		"8GB 1Rx8 PC4-2666V-UA2-11")
	g := Goal{Spend: maybe.Just(stock.Money(3000)), Everything: true}
	for i, st := range []*struct {
		price stock.Money
		at    int
	}{{2900, 0}, {1500, 1}, {1600, 2}} {
		g.Offers = append(g.Offers, Offer{SKU: fmt.Sprint("H", i), Text: fmt.Sprint("H", i),
			Stick: []*Offer{{Stick: &same}, {Stick: &less}, {Stick: &more}}[st.at].Stick, Pieces: 1, Price: st.price,
			MinOrder: 1})
	}
	r, err := Search(m, l, g, nil)
	require.NoError(t, err)
	for _, p := range append(r.Proposals, r.Unproven...) {
		assert.Greater(t, p.Trial.Total, 16*jedec.GiB, "%v", p.Buys)
	}
	assert.Equal(t, 32*jedec.GiB, r.Proposals[0].Trial.Total)
}

// A system that uses no more than is there is a plain no, whatever the board takes.
func TestASystemThatIsFullIsANo(t *testing.T) {
	for system, want := range map[string]bool{"Windows 10 Pro 32-bit": true, "Windows 10 Pro 64-bit": false,
		"Quayside OS": false} {
		m, l := tower(figures, []string{"A1 A|4GB 1Rx8 PC4-2133P-UA2-11", "B1 B"}, system).Machine(t)
		r, err := Search(m, l, Goal{Reach: maybe.Just(8 * jedec.GiB)}, nil)
		if !want {
			require.NoError(t, err, system)
			continue
		}
		require.ErrorIs(t, err, ErrBeyond)
		assert.Contains(t, r.Blocked, "more does nothing until a system that uses more is installed")
		assert.Empty(t, slices.Concat(r.Proposals, r.Unproven))
	}
}

// The drawer alone may fill every socket, at no cost.
func TestTheDrawerFillsEverySocket(t *testing.T) {
	one := known(t, "8GB 1Rx8 PC4-2400T-UA2-11")
	m, l := tower(figures, []string{"A1 A|4GB 1Rx8 PC4-2133P-UA2-11", "B1 B"}, "Windows 10 Pro 64-bit").Machine(t)
	dear := known(t, "16GB 2Rx8 PC4-2400T-UA2-11")
	r, err := Search(m, l, Goal{Reach: maybe.Just(16 * jedec.GiB), Drawer: []module.Module{one, one},
		Offers: []Offer{{SKU: "H1", Text: "H1", Stick: &dear, Pieces: 1, Price: 3000, MinOrder: 1}}}, nil)
	require.NoError(t, err)
	p := r.Proposals[0]
	assert.Empty(t, p.Buys)
	assert.Equal(t, stock.Money(0), p.Cost)
	assert.Len(t, p.Adds, 2)
	assert.Equal(t, 0, p.SocketsFree)
}

// An offer may be as large as the machine: a kit, or a minimum order, of as many
// modules as there are sockets.
func TestAnOfferMayFillTheMachine(t *testing.T) {
	m, l := tower(figures, []string{"A1 A|4GB 1Rx8 PC4-2133P-UA2-11", "B1 B"}, "Windows 10 Pro 64-bit").Machine(t)
	one := known(t, "8GB 1Rx8 PC4-2400T-UA2-11")
	for pieces, least := range map[int]int{2: 1, 1: 2} {
		r, err := Search(m, l, Goal{Reach: maybe.Just(16 * jedec.GiB),
			Offers: []Offer{{SKU: "H1", Text: "H1", Stick: &one, Pieces: pieces, Price: 3000, MinOrder: least}}}, nil)
		require.NoError(t, err)
		assert.Equal(t, 2, r.Proposals[0].Modules, "%d pieces, at least %d", pieces, least)
	}
	_, err := Search(m, l, Goal{Reach: maybe.Just(16 * jedec.GiB),
		Offers: []Offer{{SKU: "H1", Text: "H1", Stick: &one, Pieces: 3, Price: 3000, MinOrder: 1}}}, nil)
	require.ErrorIs(t, err, ErrBeyond, "three do not fit")
}

// A clock driver is told from none: where the best rate wants one, modules with
// and without are not alike.
func TestTheSearchTellsClockDriversApart(t *testing.T) {
	r := tower("generation: DDR5, channels: 2, slots_per_channel: 1, rate: 6400, rate_without_clock_driver: 5600, "+
		"maximum: 96GB, largest_die: 24Gbit, x4: no, x16: yes, ecc: none, volts: 1.1",
		[]string{"A1 A|16GB 1Rx8 PC5-6400B-CA0-1010-XT", "B1 B"}, "Windows 11 Pro 64-bit")
	p, says := first(t, r, Goal{Reach: maybe.Just(32 * jedec.GiB), Everything: true},
		offered{"16GB 1Rx8 PC5-6400B-UA0-1010-XT", 5000, stock.New, 1},
		offered{"16GB 1Rx8 PC5-6400B-CA0-1010-XT", 6000, stock.New, 1})
	assert.Equal(t, "1 H1 ", says, "with the cheaper one both run at 5600")
	x, _ := p.Trial.Operating.Get()
	assert.Equal(t, jedec.Rate(6400), x.Grade.Rate)
}

// However much is listed or lies in the drawer, a search ends, and says so.
func TestASearchEnds(t *testing.T) {
	effort.NotShort(t)
	wide := tower(figures, nil, "Windows 10 Pro 64-bit")
	for i := range most + 1 {
		wide.Places = append(wide.Places, fmt.Sprintf("S%d A", i))
	}
	m, l := wide.Machine(t)
	_, err := Search(m, l, Goal{Reach: maybe.Just(64 * jedec.GiB)}, nil)
	require.ErrorIs(t, err, ErrUnknown)
	assert.Contains(t, err.Error(), "33 sockets are listed")

	var drawer []module.Module
	for i := range 200 {
		one := known(t, "8GB 1Rx8 PC4-2400T-UA2-11")
		one.Times.TAA = fact.Known(jedec.Picoseconds(12000 + i))
		drawer = append(drawer, one)
	}
	m, l = tower(figures, []string{"A1 A|8GB 1Rx8 PC4-2400T-UA2-11", "A2 A", "B1 B", "B2 B"},
		"Windows 10 Pro 64-bit").Machine(t)
	r, err := Search(m, l, Goal{Reach: maybe.Just(16 * jedec.GiB), Drawer: drawer}, nil)
	require.NoError(t, err)
	assert.False(t, r.Exact, "66 million ways to take up to four of two hundred")
	assert.Equal(t, stock.Money(0), r.Proposals[0].Cost)
}

// What is kept moves only where that gains something: never within its channel where no manual says which socket
// comes first.
func TestWhatIsKeptStaysOnItsChannel(t *testing.T) {
	r := rand.New(rand.NewPCG(61, 62))
	kept, moved := 0, 0
	for n := range effort.Cases(900) {
		rig, g := randomCase(r)
		m, l := rig.Machine(t)
		channel := make(map[string]string)
		for _, p := range m.Places {
			channel[p.Name] = p.Channel.Or(p.Name)
		}
		found, err := Search(m, l, g, nil)
		if err != nil || len(l.FittingOrder()) > 0 {
			continue
		}
		for _, p := range found.Proposals {
			for _, k := range p.Keeps {
				if kept++; k.From != "" {
					moved++
					assert.NotEqual(t, channel[k.Place], channel[k.From], "case %d: %v", n, p.Keeps)
				}
			}
		}
	}
	assert.Greater(t, kept, 10)
	assert.Less(t, moved, kept)
}
