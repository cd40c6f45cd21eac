package view_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/bench"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/propose"
	"epitome/core/stock"
	"epitome/internal/view"
)

// laid is a round's page as one line, spaces as they come.
func laid(t *testing.T, r *bench.Round, lines ...bench.RoundLine) string {
	t.Helper()
	var v view.Round
	for _, l := range lines {
		v.Add(l)
	}
	return strings.Join(strings.Fields(strings.Join(page(t, view.Look{Width: 100}, func(p *view.Page) { v.Page(p, r) }),
		" ")), " ")
}

func gets(name string) bench.RoundLine {
	return bench.RoundLine{Name: name, Machine: "Halyard Gull 14", State: bench.RoundGets, Before: 8 * jedec.GiB,
		After: 16 * jedec.GiB, Rate: 2400, Gets: []bench.RoundPart{{N: 1, What: "8 GB DDR4-2400 SO-DIMM", Offer: "HP-1002"}}}
}

// How good a plan is, in words that a technician can act on: exact, or by how much another one may be better, the
// largest thing first.
func TestARoundSaysHowGoodItIs(t *testing.T) {
	budget := maybe.Just(stock.Money(8000))
	for _, c := range []struct {
		round *bench.Round
		says  string
	}{
		{&bench.Round{Exact: true, Priced: true},
			"Worked out exactly: no other plan serves these machines as well for less."},
		{&bench.Round{Exact: true}, "Worked out exactly: no other plan serves these machines as well with fewer modules."},
		{&bench.Round{Exact: true, Priced: true, Budget: budget, Cost: 5930, Currency: "EUR"},
			"Of a budget of 80.00 EUR, 20.70 EUR are left. Worked out exactly"},
		{&bench.Round{Priced: true, May: 1250, Currency: "EUR"},
			"another plan may do the same for 12.50 EUR less, and no more than that."},
		{&bench.Round{}, "another plan may do the same with a module or two less, and no more than that."},
		{&bench.Round{Priced: true, MaySteps: 2, May: 900},
			"another plan may be better in three small things, such as a rate or a balance, over all machines together"},
		{&bench.Round{Priced: true, MaySteps: 7, MayNeed: 16},
			"may bring one machine nearer to what is asked for, by 17 per cent of what it lacks, and no more than that."},
		{&bench.Round{Priced: true, MayNeed: 99}, "by 100 per cent of what it lacks"},
		{&bench.Round{Priced: true, MayNeed: 100}, "may bring as much as two machines more to what is asked for"},
		{&bench.Round{Priced: true, MayNeed: 250}, "may bring as much as three machines more to what is asked for"},
	} {
		assert.Contains(t, laid(t, c.round, gets("2026-001")), c.says)
		assert.NotContains(t, laid(t, c.round), "plan", "where nothing is bought there is no plan")
	}
}

// What each machine gets, where it comes from, and what is said of those that get nothing.
func TestARoundsPageLeavesNobodyOut(t *testing.T) {
	full, open := gets("2026-001"), gets("2026-002")
	full.Out = []bench.RoundPart{{N: 2, What: "2 GB DDR4-2133 SO-DIMM"}}
	full.Moves = []string{"4 GB from A to B"}
	open.Rate, open.Says, open.Looks = 0, "and safe to buy before anybody looks inside", []string{"whether B is a socket"}
	open.Gets = []bench.RoundPart{{N: 2, What: "8 GB", From: "drawer"}, {N: 1, What: "4 GB", From: "out of 2026-001"}}
	open.Before = 0
	enough := bench.RoundLine{Name: "2026-003", State: bench.RoundEnough, Says: "it holds the most that it takes"}
	also := enough
	also.Name = "2026-004"
	unread := bench.RoundLine{Card: "torn.card", State: bench.RoundUnread, Says: "it is cut short"}
	stick, err := module.Parse("8GB DDR4-2400 SO-DIMM")
	require.NoError(t, err)
	r := &bench.Round{Read: 5, Priced: true, Currency: "EUR", Cost: 1990, Exact: true,
		Buying: []bench.RoundBuy{{Buy: propose.Buy{Units: 2, Offer: &propose.Offer{SKU: "HP-1002", Supplier: "harbour-parts",
			Price: 995, Pieces: 1, Text: "8GB", Stick: &stick}}, For: []string{"2026-001", "2026-002"}}},
		Left: []bench.RoundPart{{N: 1, What: "8 GB DDR4-2400 SO-DIMM", Offer: "HP-1002"}}}
	says := laid(t, r, full, open, enough, also, unread)
	for _, part := range []string{"2 get something, for 19.90 EUR",
		"2026-001 Halyard Gull 14: 16 GB instead of 8 GB, at 2400 MT/s, works. Put in 1 × 8 GB DDR4-2400 SO-DIMM " +
			"(HP-1002); take out 2 × 2 GB DDR4-2133 SO-DIMM; move 4 GB from A to B.",
		"works, and safe to buy before anybody looks inside. Put in 2 × 8 GB from the drawer, 1 × 4 GB out of 2026-001.",
		"Left over for the drawer, as it is not sold singly: 1 × 8 GB DDR4-2400 SO-DIMM (HP-1002).",
		"2026-002: whether B is a socket", "2026-003, 2026-004: it holds the most that it takes",
		"torn.card: it is cut short",
		"9.95 19.90 2026-001, 2026-002"} {
		assert.Contains(t, says, part)
	}
	var many []bench.RoundLine
	for n := range 15 {
		l := enough
		l.Name = fmt.Sprintf("2026-%03d", n+1)
		many = append(many, l)
	}
	assert.Contains(t, laid(t, &bench.Round{Read: 15}, many...), "2026-012 and 3 more: it holds the most")
	assert.Contains(t, laid(t, &bench.Round{Read: 12}, many[:12]...), "2026-012: it holds the most")
}

// The rows of the files: one a machine, empty where nothing is known, and one a line of the order.
func TestARoundsFilesHaveARowEach(t *testing.T) {
	r := &bench.Round{Priced: true, Currency: "EUR", Buying: []bench.RoundBuy{{Buy: propose.Buy{Units: 3,
		Offer: &propose.Offer{Row: 7, SKU: "K", Supplier: "s", Text: "kit", Pieces: 2, Price: 1000}},
		For: []string{"a", "b"}}}}
	l := gets("2026-001")
	l.Cost, l.Card = 1990, "gull.card"
	row := view.RoundRow(r, l)
	assert.Len(t, row, len(view.RoundCSV()))
	assert.Equal(t, []string{"", "gull.card", "Halyard Gull 14", "", "gets", "8192", "16384", "2400", l.Verdict.String(),
		"1 × 8 GB DDR4-2400 SO-DIMM (HP-1002)", "", "", "", "19.90", ""}, row)
	l.State, l.Says = bench.RoundShort, "stock did not go so far"
	row = view.RoundRow(r, l)
	assert.Equal(t, []string{"short", "8192", "", "", "", "", "", "", "", "", "stock did not go so far"}, row[4:])
	assert.Equal(t, []string{"3", "K", "s", "7", "kit", "2", "10.00", "30.00", "EUR", "a b"}, view.OrderCSV(r)[1])
	r.Priced = false
	assert.Equal(t, []string{"3", "K", "s", "7", "kit", "2", "", "", "", "a b"}, view.OrderCSV(r)[1])
	assert.Empty(t, view.RoundRow(r, gets("x"))[13], "nothing costs anything without a list")
}
