package bench_test

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/bench"
	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
	"epitome/core/propose"
	"epitome/core/rule"
	"epitome/core/smbios/compose"
	"epitome/core/stock"
	"epitome/golden"
	"epitome/truth/effort"
)

// dealtMachine is a laptop or desktop by chance: what firmware lists, what names itself, and what somebody saw inside.
func dealtMachine(r *rand.Rand, serial string, form byte) card.Card {
	pick := func(n int) int { return r.IntN(n) }
	of := func(list ...string) string { return list[pick(len(list))] }
	chassis, takes := byte([]int{0x0A, 0x0A, 0x0D, 0x23}[pick(4)]), "SO-DIMM"
	fitted := map[uint32]string{4: "4GB 1Rx16 PC4-2133P-SC0-10", 8: stick8, 16: stick16}
	if form == 0x09 {
		chassis, takes = 3, "DIMM"
		fitted = map[uint32]string{4: "4GB 1Rx16 PC4-2133P-UC0-10", 8: "8GB 1Rx8 PC4-2400T-UA2-11",
			16: "16GB 2Rx8 PC4-2400T-UB1-11"}
	}
	places := 1 + pick(4)
	s := append(compose.Identity{Maker: "Halyard", Product: of("Gull 14", "Gull 3", ""), Serial: serial,
		BoardMaker: "Groyne", Board: of("GBX", ""), ChassisKind: chassis}.Structures(),
		compose.Array(0x1000, uint64(8<<pick(4))<<20, uint16(places+pick(4)/3)))
	var hand []string
	for i := range places {
		name := fmt.Sprintf("Channel%c-DIMM%d", 'A'+i%2, i/2)
		d := compose.Device{Handle: uint16(0x1100 + i), Array: 0x1000, Form: form, Locator: name,
			Bank: fmt.Sprint("BANK ", i)}
		gib := []uint32{0, 0, 4, 8, 8, 16}[pick(6)]
		if gib > 0 {
			d.MiB, d.Type, d.Rank, d.TotalBits, d.DataBits, d.Detail = gib<<10, 0x1A, 1, 64, 64, 0x4080
			d.Speed = uint16([]int{2400, 2400, 2133, 2667, 0}[pick(5)])
			if d.Configured = d.Speed; pick(4) > 0 {
				d.Serial, d.Part = fmt.Sprint("0A0B0C", serial, i), of("MR4S-8G24", "")
			}
		}
		s = append(s, d.Structure())
		if pick(2) > 0 {
			continue
		}
		seen := "{name: " + name + ", attach: " + of("socket", "socket", "socket", "soldered")
		if strings.HasSuffix(seen, "socket") {
			if seen += of(", takes: "+takes, ""); gib > 0 && pick(2) == 0 {
				seen += ", holds: " + fitted[[]uint32{gib, gib, gib, gib, gib, 8}[pick(6)]]
			}
		}
		hand = append(hand, seen+"}")
	}
	c := card.Card{Job: of("", "2026-0"+serial), Title: of("", "Pilot's"), Readings: []card.Reading{
		{Kind: card.Table, Source: "DMI", Data: compose.Table(s...)},
		{Kind: card.CPUInfo, Source: "cpuinfo", Data: []byte("processor : 0\ncpu family : 6\nmodel : 200\nmodel name : " +
			of("Petrel P5-8240", "Petrel P5-8240", "Knot K3") + "\n")}}}
	text := "epitome-hand: 1\nmachine: {system: " + of("Windows 10 Pro 64-bit", "Windows 10 Pro 64-bit",
		"Windows 10 Home 32-bit") + "}\n"
	if len(hand) > 0 && pick(5) > 0 {
		text += "places: [" + strings.Join(hand, ", ") + "]\n"
	}
	if pick(5) == 0 {
		text += of("sockets: 1", "sockets: 2", "sockets: 4") + "\n"
	}
	c.Readings = append(c.Readings, card.Reading{Kind: card.Hand, Source: "hand", Data: []byte(text)})
	return c
}

// dealtList is a price list by chance.
func dealtList(r *rand.Rand) (list []bench.Offer, err error) {
	texts := []string{stick8, stick16, "4GB 1Rx8 PC4-2400T-SA1-11", "16GB 1Rx8 PC4-3200AA-SA2-11",
		"32GB 2Rx8 PC4-3200AA-SE1-11", "16GB DDR4-3200 SO-DIMM", "8GB DDR4 SO-DIMM", "8GB 1Rx8 PC4-2400T-UA2-11",
		"16GB 2Rx8 PC4-2666V-UB1-11",
		"16GB DDR4-2666 UDIMM", "32GB 2Rx8 PC4-3200AA-UB1-11", "4GB 1Rx16 PC4-2133P-UC0-10", "8GB 1Rx8 PC4-2400T-EA1-11"}
	for i, text := range texts {
		if r.IntN(4) == 0 {
			continue
		}
		s, err := bench.StickOf(text)
		if err != nil {
			return nil, err
		}
		one := s.Apart()[0]
		size := stock.Money(one.Capacity.Or(0) / jedec.GiB)
		o := bench.Offer{SKU: fmt.Sprint("S", i), Supplier: []string{"harbour", "quay", ""}[r.IntN(3)], Text: text,
			Stick: &one, Number: len(list) + 1, Pieces: 1 + r.IntN(4)/3, MinOrder: 1 + r.IntN(6)/5,
			Price:     size*250 + stock.Money(r.IntN(900)),
			Condition: []stock.Condition{stock.New, stock.New, stock.Used, ""}[r.IntN(4)]}
		o.Price *= stock.Money(o.Pieces)
		if r.IntN(3) == 0 {
			o.Quantity = maybe.Just(r.IntN(5))
		}
		list = append(list, o)
	}
	return list, nil
}

// catalogues are what a workshop may know of the machines.
func catalogues(t *testing.T) (list []catalogue.Catalogue) {
	for _, text := range []string{"", "boards: [{maker: Groyne, names: GBX, basis: manual, maximum: 32GB, slots: " +
		"[{name: ChannelA-DIMM0, channel: A}, {name: ChannelB-DIMM0, channel: B}]}]\n"} {
		o, faults := catalogue.ParseOverlay("ours.yaml", []byte("epitome-catalogue: 1\nprocessors: [{family: Petrel, brand: "+
			"Petrel P5, basis: sheet, takes: [{generation: DDR4, channels: 2, slots_per_channel: 2, rate: 2400, "+
			"rate_two_modules: 2133, maximum: 64GB, largest_die: 8Gbit, x4: no, x16: yes, ecc: none, volts: 1.2}]}]\n"+text))
		require.Empty(t, faults)
		list = append(list, catalogue.Catalogue{}.With(o))
	}
	return list
}

// sat is a visit at a machine by chance, with what was asked.
func sat(t *testing.T, n int, known []catalogue.Catalogue) (*bench.Bench, bench.Sitting, bench.Visit) {
	r := rand.New(rand.NewPCG(uint64(n), 7))
	b := bench.New(dealtMachine(r, fmt.Sprint(100+n), byte([]int{0x0D, 0x0D, 0x09}[n%3])), known[n%2])
	offers, err := dealtList(r)
	require.NoError(t, err)
	s := bench.Sitting{Policy: need.BuiltIn(), Goal: bench.Goal{Currency: "EUR", Offers: offers}}
	if r.IntN(4) == 0 {
		s.Goal.Offers = nil
	}
	if r.IntN(3) == 0 {
		s.Goal.Reach = maybe.Just(jedec.Capacity(8<<r.IntN(3)) * jedec.GiB)
	}
	if r.IntN(6) == 0 {
		s.Goal.Spend = maybe.Just(stock.Money(2000 + r.IntN(6000)))
	}
	if r.IntN(3) == 0 {
		s.Uses, err = s.Policy.ParseUses([]string{"browsing", "office", "office,photos"}[r.IntN(3)])
		require.NoError(t, err)
	}
	if r.IntN(4) == 0 {
		one, err := bench.StickOf(stick8)
		require.NoError(t, err)
		s.Goal.Drawer = append(s.Goal.Drawer, one)
	}
	return b, s, b.Visit(s, nil)
}

// A visit proposes what meets the wish and is more than there is, names at most four choices that are on the page, at
// most two looks, no question twice, and never ends without a word.
func TestChanceVisitsSayWhatHolds(t *testing.T) {
	known := catalogues(t)
	for n := range effort.Cases(280) {
		b, s, v := sat(t, n, known)
		all := slices.Concat(v.Proposals.Proposals, v.Proposals.Unproven)
		for i, p := range all {
			assert.Equal(t, i+1, p.Number, "machine %d", n)
			assert.Equal(t, i < len(v.Proposals.Proposals), p.Trial.Verdict <= rule.Leans, "machine %d, proposal %d", n, i+1)
			assert.GreaterOrEqual(t, p.Trial.Total, s.Goal.Reach.Or(0), "machine %d, proposal %d", n, i+1)
			if !s.Goal.Spend.Known() {
				assert.Greater(t, p.Trial.Total, b.Machine().Have(), "machine %d, proposal %d", n, i+1)
			}
			if most, ok := v.Reach.Size.Get(); ok && v.Reach.Size.Standing() == fact.Settled {
				assert.True(t, p.Trial.Total <= most || p.Trial.Verdict > rule.RunsLess,
					"machine %d goes to %v, proposal %d works with %v", n, most, i+1, p.Trial.Total)
			}
		}
		seen := make(map[int]bool)
		for _, c := range v.Choices {
			assert.False(t, seen[c.Number], "machine %d: choice %d twice", n, c.Number)
			seen[c.Number] = true
			assert.True(t, c.Number >= 1 && c.Number <= len(all), "machine %d: choice %d", n, c.Number)
		}
		assert.LessOrEqual(t, len(v.Choices), 4, n)
		assert.LessOrEqual(t, len(v.Looks), 3, n)
		for _, l := range v.Looks {
			assert.NotEmpty(t, l.About+l.Settles, n)
		}
		assert.True(t, len(v.Choices) > 0 || v.Nothing != nil || len(v.Looks) > 0, "machine %d: nothing is said", n)
		asked := make(map[string]bool)
		for _, q := range v.Questions() {
			assert.False(t, asked[q.Fact], "machine %d: %s is asked twice", n, q.Fact)
			asked[q.Fact] = true
			assert.NoError(t, b.Accepts(q.Fact, q.Example), "machine %d: the example of %s", n, q.Fact)
		}
	}
}

// Some visits in full: all that is said, and the questions that are asked.
func TestVisitsInFull(t *testing.T) {
	var page golden.Page
	known := catalogues(t)
	for _, n := range []int{3, 10, 24, 41, 58, 77, 102, 131, 166, 199} {
		b, s, v := sat(t, n, known)
		page.Add(fmt.Sprintf("machine %d: reach %v, spend %v, %d offers, uses %v", n, s.Goal.Reach.Or(0), s.Goal.Spend.Or(0),
			len(s.Goal.Offers), s.Uses), append(visited(v), asked(b, v)...)...)
	}
	page.Compare(t, "testdata/visits.txt")
}

func visited(v bench.Visit) (lines []string) {
	say := func(line string, args ...any) { lines = append(lines, fmt.Sprintf(line, args...)) }
	for _, x := range v.Free {
		say("free: %s: %s", x.Says, x.Gains)
	}
	if a, ok := v.Need.Get(); ok {
		say("needs %v", a.Recommended)
	}
	says := func(c ceiling.Ceiling) string { return c.Says }
	say("reaches %v %v, for certain %v, at %v by %s; asked %v, done %v", v.Reach.Size.Or(0), v.Reach.Size.Standing(),
		v.Reach.Certain.Or(0), v.Reach.Rate.Or(0), maybe.Map(v.Reach.By, says).Or("-"), v.Asked, v.Done())
	if v.Nothing != nil {
		say("nothing: %v", v.Nothing)
	}
	for _, c := range v.Choices {
		say("choice %d: %s", c.Number, c.Reason)
	}
	for _, l := range v.Looks {
		say("look: %s: %s", l.About, l.Settles)
	}
	for _, x := range v.Proposals.Structures {
		say("if %s: %d; %s", x.If, x.First, x.Look)
	}
	for _, b := range v.Proposals.Safe {
		say("safe: %v", b)
	}
	least, ok := v.Cheapest()
	say("least %v %v, %d more; blocked %q", least, ok, v.Proposals.Beaten, v.Proposals.Blocked)
	for _, p := range v.Proposals.Proposals {
		say("proposal %s", proposed(p))
	}
	for _, p := range v.Proposals.Unproven {
		say("unproven %s", proposed(p))
	}
	if p, ok := v.Proposals.Nearest.Get(); ok {
		say("nearest %s", proposed(p))
	}
	return lines
}

// proposed is a proposal in one line.
func proposed(p bench.Proposal) string {
	s := fmt.Sprintf("%d %v for %v: %v %v, %d bought, %d free", p.Number, p.Picks, p.Cost, p.Trial.Total, p.Trial.Verdict,
		p.Modules, p.SocketsFree)
	for _, b := range p.Buys {
		s += fmt.Sprintf("; buy %v", b)
	}
	for what, list := range [][]propose.Move{p.Keeps, p.Removes, p.Adds} {
		for _, x := range list {
			s += fmt.Sprintf("; %s %s %s %s", [...]string{"keep", "remove", "add"}[what], x.Place, x.Stick, x.From)
		}
	}
	for _, r := range p.Trial.Reasons {
		for _, d := range r.Depends {
			s += fmt.Sprintf("; %s: %s, %s, else %s", r.Rule, d.Fact, d.Leans, d.Else)
		}
	}
	return s
}

func asked(b *bench.Bench, v bench.Visit) (lines []string) {
	for _, q := range v.Questions() {
		lines = append(lines, fmt.Sprintf("question: %s (%s: %s)", q.Text, q.Fact, q.Example))
	}
	return append(lines, "next: "+b.Next())
}

// ordered is a round over machines by chance.
func ordered(t *testing.T, n int, known []catalogue.Catalogue) bench.RoundOrder {
	r := rand.New(rand.NewPCG(uint64(n), 11))
	var benches []*bench.Bench
	form := byte([]int{0x0D, 0x0D, 0x09}[n%3])
	for i := range 2 + r.IntN(4) {
		benches = append(benches, bench.New(dealtMachine(r, fmt.Sprint(10*n+i), form), known[n%2]))
	}
	offers, err := dealtList(r)
	require.NoError(t, err)
	o := bench.RoundOrder{Cards: len(benches) + 1, Name: func(i int) string { return fmt.Sprintf("m%d.card", i) },
		Open: func(i int) (*bench.Bench, error) {
			if i == len(benches) {
				return nil, errors.New("not an epitome card")
			}
			return benches[i], nil
		}, Policy: need.BuiltIn(), Goal: bench.Goal{Currency: "EUR", Offers: offers}}
	if r.IntN(2) == 0 {
		o.Goal.Reach = maybe.Just(jedec.Capacity(16<<r.IntN(2)) * jedec.GiB)
	}
	if r.IntN(3) == 0 {
		o.Budget = maybe.Just(stock.Money(3000 + r.IntN(9000)))
	}
	if r.IntN(3) == 0 {
		o.Goal.TradeIn = 500
	}
	if r.IntN(5) == 0 {
		o.Goal.Offers, o.Budget = nil, maybe.None[stock.Money]()
	}
	if r.IntN(4) == 0 {
		o.Drawer, _ = bench.DrawerText(stick8 + "\n4GB DDR4 SO-DIMM\n8GB 1Rx8 PC4-2400T-UA2-11\n")
	}
	return o
}

// What a round buys goes into a machine or is left over, within budget, stock and least orders; each machine that is
// served has what was asked (see rounded).
func TestChanceRoundsLoseNothing(t *testing.T) {
	known := catalogues(t)
	for n := range effort.Cases(90) {
		rounded(t, ordered(t, n, known))
	}
}

// Some rounds in full: what is bought, and what each machine gets and gives.
func TestRoundsInFull(t *testing.T) {
	var page golden.Page
	known := catalogues(t)
	for _, n := range []int{4, 13, 27, 38, 51, 64} {
		page.Add(fmt.Sprint("round ", n), rounded(t, ordered(t, n, known))...)
	}
	page.Compare(t, "testdata/rounds.txt")
}

func rounded(t *testing.T, o bench.RoundOrder) (lines []string) {
	say := func(line string, args ...any) { lines = append(lines, fmt.Sprintf(line, args...)) }
	r, err := o.Plan()
	require.NoError(t, err)
	got := 0 // of what is bought
	require.NoError(t, r.Lines(func(l bench.RoundLine) error {
		say("%s %s, %s, %s %q: %s; %s", l.Card, l.Name, l.Machine, l.Job, l.Title, l.State, l.Says)
		if l.State != bench.RoundGets {
			return nil
		}
		say("  %v to %v at %v, %v, for %v; looks %q; moves %q", l.Before, l.After, l.Rate, l.Verdict, l.Cost, l.Looks,
			l.Moves)
		assert.Greater(t, l.After, l.Before, l.Name)
		assert.GreaterOrEqual(t, l.After, o.Goal.Reach.Or(0), l.Name)
		for _, x := range l.Gets {
			say("  gets %+v", x)
			got += x.N * map[string]int{"": 1}[x.From]
		}
		for _, x := range l.Out {
			say("  gives %+v", x)
		}
		say("  way: pull %v, put %+v, buys %+v, %s", l.Way.Pull, l.Way.Put, l.Way.Buys, l.Way.Cost)
		return nil
	}))
	var cost stock.Money
	for _, b := range r.Buying {
		say("buy %v of %s for %v", b.Buy, b.SKU, b.For)
		cost += b.Price * stock.Money(b.Units)
		got -= b.Units * b.Pieces
		assert.GreaterOrEqual(t, b.Units, b.MinOrder, b.SKU)
		assert.LessOrEqual(t, b.Units, b.Quantity.Or(b.Units), b.SKU)
	}
	for _, x := range r.Left {
		say("left %+v", x)
		got += x.N * map[string]int{"": 1}[x.From]
	}
	assert.Zero(t, got, "what is bought goes into a machine, or is left over")
	assert.Equal(t, cost, r.Cost)
	assert.LessOrEqual(t, r.Cost, o.Budget.Or(r.Cost))
	say("%v: %v %s, %v; %d read, %v; exact %v", r.End(), r.Cost, r.Currency, r.Priced, r.Read, r.Count, r.Exact)
	return lines
}
