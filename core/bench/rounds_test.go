package bench_test

import (
	"errors"
	"fmt"
	"strings"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/bench"
	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
	"epitome/core/propose"
	"epitome/core/smbios/compose"
	"epitome/core/stock"
)

// seat is a laptop with two sockets and so much in the first ones.
func seat(serial string, gib ...uint32) card.Card {
	s := append(compose.Identity{Maker: "Halyard", Product: "Gull 14", Serial: serial, ChassisKind: 0x0A}.Structures(),
		compose.Array(0x1000, 32<<20, 2))
	for i, name := range []string{"ChannelA-DIMM0", "ChannelB-DIMM0"} {
		d := compose.Device{Handle: uint16(0x1100 + i), Array: 0x1000, Form: 0x0D, Locator: name,
			Bank: fmt.Sprint("BANK ", 2*i)}
		if i < len(gib) {
			d.MiB, d.Type, d.Speed, d.Rank = gib[i]<<10, 0x1A, 2400, 1
			d.TotalBits, d.DataBits, d.Detail = 64, 64, 0x4080
			d.Serial = fmt.Sprint(serial, i)
		}
		s = append(s, d.Structure())
	}
	return card.Card{Readings: []card.Reading{{Kind: card.Table, Source: "DMI", Data: compose.Table(s...)},
		{Kind: card.CPUInfo, Source: "cpuinfo",
			Data: []byte("processor : 0\ncpu family : 6\nmodel : 200\nmodel name : Petrel P5-8240\n")}}}
}

func petrel(t testing.TB) catalogue.Catalogue {
	o, faults := catalogue.ParseOverlay("ours.yaml", []byte("epitome-catalogue: 1\nprocessors: [{family: Petrel, brand: "+
		"Petrel P5, basis: sheet, takes: [{generation: DDR4, channels: 2, slots_per_channel: 1, rate: 2400, maximum: 64GB, "+
		"largest_die: 16Gbit, x4: no, x16: yes, ecc: none, volts: 1.2}]}]\n"))
	require.Empty(t, faults)
	return catalogue.Catalogue{}.With(o)
}

// A shelf is what a test's list sells: a text, a price, how many, in kits of so many.
type shelf struct {
	text   string
	price  stock.Money
	many   int // 0 for any number
	pieces int
	least  int
}

func round(t testing.TB, cards []card.Card, list []shelf) bench.RoundOrder {
	k := petrel(t)
	o := bench.RoundOrder{Cards: len(cards), Name: func(i int) string { return fmt.Sprintf("m%d.card", i) },
		Open: func(i int) (*bench.Bench, error) {
			if len(cards[i].Readings) == 0 {
				return nil, errors.New("not an epitome card")
			}
			return bench.New(cards[i], k), nil
		}, Goal: bench.Goal{Reach: maybe.Just(16 * jedec.GiB), Currency: "EUR"}}
	for i, x := range list {
		s, err := bench.StickOf(x.text)
		require.NoError(t, err)
		one := s.Apart()[0]
		offer := bench.Offer{SKU: fmt.Sprint("S", i), Supplier: "harbour", Text: x.text, Stick: &one,
			Pieces: max(1, x.pieces),
			Price:  x.price, MinOrder: max(1, x.least)}
		if x.many > 0 {
			offer.Quantity = maybe.Just(x.many)
		}
		o.Goal.Offers = append(o.Goal.Offers, offer)
	}
	return o
}

// How a round ended, by what its lines say.
func TestHowARoundEnded(t *testing.T) {
	type count = map[bench.RoundState]int
	for _, c := range []struct {
		read  int
		lines count
		want  bench.Ended
	}{
		{3, count{bench.RoundGets: 1, bench.RoundOpen: 2}, bench.Found},
		{3, count{bench.RoundEnough: 3}, bench.Found},
		{3, count{bench.RoundEnough: 2, bench.RoundOpen: 1}, bench.CantTell},
		{3, count{bench.RoundEnough: 2, bench.RoundShort: 1}, bench.OutOf},
		{3, count{bench.RoundOpen: 3}, bench.CantTell},
		{3, count{bench.RoundOpen: 2, bench.RoundShort: 1}, bench.OutOf},
		{3, count{bench.RoundOpen: 2, bench.RoundBeyond: 1}, bench.OutOf},
		{3, count{bench.RoundShort: 3}, bench.OutOf},
		{3, count{bench.RoundBeyond: 3}, bench.OutOf},
		{0, count{}, bench.Stopped},
	} {
		r := &bench.Round{Read: c.read, Count: c.lines}
		assert.Equal(t, c.want, r.End(), "%+v", c)
	}
}

// says is a round in a line: what is bought, and what each machine comes to.
func says(t testing.TB, o bench.RoundOrder) (*bench.Round, string) {
	t.Helper()
	r, err := o.Plan()
	require.NoError(t, err)
	var parts []string
	require.NoError(t, r.Lines(func(l bench.RoundLine) error {
		text := string(l.State)
		if l.State == bench.RoundGets {
			text = l.After.String()
			for _, x := range l.Gets {
				if x.From != "" {
					text += " " + x.From
				}
			}
		}
		parts = append(parts, text)
		return nil
	}))
	var buys []string
	for _, b := range r.Buying {
		buys = append(buys, fmt.Sprintf("%d %s", b.Units, b.SKU))
	}
	return r, strings.Join(buys, " ") + ": " + strings.Join(parts, ", ")
}

const stick8, stick16 = "8GB 1Rx8 PC4-2400T-SA1-11", "16GB 2Rx8 PC4-2400T-SE1-11"

func TestARoundSharesWhatThereIs(t *testing.T) {
	one, two := seat("A", 8), seat("B", 8)
	for what, x := range map[string]struct {
		cards  []card.Card
		list   []shelf
		drawer string
		budget stock.Money
		want   string
	}{
		"each one its own": {[]card.Card{one, two}, []shelf{{text: stick8, price: 2000}}, "", 0,
			"2 S0: 16 GB, 16 GB"},
		"the cheap one has run out": {[]card.Card{one, two},
			[]shelf{{text: stick8, price: 2000, many: 1}, {text: "8GB 1Rx8 PC4-2666V-SA1-11", price: 2500}}, "", 0,
			"1 S0 1 S1: 16 GB, 16 GB"},
		"a kit serves two machines": {[]card.Card{one, two},
			[]shelf{{text: stick8, price: 3000, pieces: 2}, {text: stick8, price: 2000}}, "", 0, "1 S0: 16 GB, 16 GB"},
		"a kit for one alone is too dear": {[]card.Card{one},
			[]shelf{{text: stick8, price: 3000, pieces: 2}, {text: stick8, price: 2000}}, "", 0, "1 S1: 16 GB"},
		"a minimum order pays for three": {[]card.Card{one, two, seat("C", 8)},
			[]shelf{{text: stick8, price: 1500, least: 3}, {text: stick8, price: 2000}}, "", 0, "3 S0: 16 GB, 16 GB, 16 GB"},
		"a minimum order does not for one": {[]card.Card{one},
			[]shelf{{text: stick8, price: 1500, least: 3}, {text: stick8, price: 2000}}, "", 0, "1 S1: 16 GB"},
		"the drawer comes first": {[]card.Card{one, two}, []shelf{{text: stick8, price: 2000}}, stick8, 0,
			"1 S0: 16 GB drawer, 16 GB"},
		"what comes out of one": {[]card.Card{seat("A", 4, 4), seat("B", 8)},
			[]shelf{{text: stick8, price: 2000}}, "", 0, "3 S0: 16 GB, 16 GB"},
		"an eight of the big one": {[]card.Card{seat("A", 8, 8), seat("B", 8)},
			[]shelf{{text: stick16, price: 4000}}, "", 0, "1 S0: enough, 24 GB"},
		"too little money for both": {[]card.Card{one, seat("B", 4)},
			[]shelf{{text: stick8, price: 2000}, {text: stick16, price: 3500}}, "", 3600, "1 S1: short, 20 GB"},
		"no money at all": {[]card.Card{one}, []shelf{{text: stick8, price: 2000}}, "", 100, ": short"},
		"nothing that fits": {[]card.Card{one}, []shelf{{text: "8GB 1Rx8 PC4-2400T-UA2-11", price: 100}},
			"", 0, ": beyond"},
		"it has what is asked for": {[]card.Card{seat("A", 8, 8), one}, []shelf{{text: stick8, price: 2000}}, "",
			0, "1 S0: enough, 16 GB"},
		"one that can't be read": {[]card.Card{{}, one}, []shelf{{text: stick8, price: 2000}}, "", 0,
			"1 S0: unread, 16 GB"},
		"a machine of which nothing is told": {[]card.Card{{Readings: []card.Reading{{Kind: card.CPUInfo,
			Data: []byte("x")}}}}, []shelf{{text: stick8, price: 2000}}, "", 0, ": open"},
	} {
		t.Run(what, func(t *testing.T) {
			o := round(t, x.cards, x.list)
			if x.drawer != "" {
				sticks, wrong := bench.DrawerText(x.drawer)
				require.Empty(t, wrong)
				o.Drawer = sticks
			}
			if x.budget > 0 {
				o.Budget = maybe.Just(x.budget)
			}
			r, got := says(t, o)
			assert.Equal(t, x.want, got)
			assert.True(t, r.Exact)
		})
	}
}

func TestWhatComesOutOfOneMachineGoesIntoAnother(t *testing.T) {
	o := round(t, []card.Card{seat("A", 8, 8), seat("B", 8)}, []shelf{{text: "16GB DDR4-2400 SO-DIMM", price: 4000}})
	o.Goal.Reach = maybe.None[jedec.Capacity]() // each to its next sensible size
	r, got := says(t, o)
	assert.Equal(t, "2 S0: 32 GB, 16 GB out of m0", got)
	assert.EqualValues(t, 8000, r.Cost)
	assert.Equal(t, []string{"m0"}, r.Buying[0].For)
	o.Goal.Discard = maybe.Just(0)
	_, got = says(t, o)
	assert.Equal(t, "1 S0: beyond, 24 GB", got, "where nothing may be taken out")
}

func TestWithoutAListARoundCountsModules(t *testing.T) {
	o := round(t, []card.Card{seat("A", 8), seat("B", 8), seat("C", 8, 8)}, nil)
	r, got := says(t, o)
	assert.Equal(t, "2 : 16 GB, 16 GB, enough", got)
	assert.False(t, r.Priced)
	o.Budget = maybe.Just[stock.Money](100)
	_, err := o.Plan()
	var wrong *bench.InputError
	require.ErrorAs(t, err, &wrong)
}

func TestARoundThatIsStoppedSaysWhatWasNotLookedAt(t *testing.T) {
	var cards []card.Card
	for i := range 60 {
		cards = append(cards, seat(fmt.Sprint(i), 8))
	}
	o := round(t, cards, []shelf{{text: stick8, price: 2000}})
	var asked atomic.Int64
	o.Stop = func() bool { return asked.Add(1) > 110 } // in the middle of the looking
	r, got := says(t, o)
	assert.Contains(t, got, "16 GB")
	assert.Contains(t, got, "open")
	assert.Equal(t, 60, r.Read)
}

// Machines of which nothing that counts differs come to the same, each of them.
func TestMachinesThatAreAlikeAreLookedAtOnce(t *testing.T) {
	var cards []card.Card
	for i := range 40 {
		cards = append(cards, seat(fmt.Sprint("SN", i), 8))
	}
	cards[17] = seat("SN17", 4)
	o := round(t, cards, []shelf{{text: stick8, price: 2000, many: 39}, {text: stick16, price: 4000}})
	_, got := says(t, o)
	assert.Equal(t, 39, strings.Count(got, "16 GB"))
	assert.Equal(t, 1, strings.Count(got, "20 GB"), got)
}

func TestPartsAreHandedOverInTheirOrder(t *testing.T) {
	var came []int
	require.NoError(t, bench.Here{}.Do("it", 50, func(part int) ([]byte, error) { return []byte{byte(part)}, nil },
		func(part int, text []byte) error {
			assert.Equal(t, byte(part), text[0])
			came = append(came, part)
			return nil
		}))
	assert.Len(t, came, 50)
	assert.IsIncreasing(t, came)
	broken := errors.New("broken")
	assert.ErrorIs(t, bench.Here{}.Do("it", 50, func(part int) ([]byte, error) {
		if part == 7 {
			return nil, broken
		}
		return nil, nil
	}, func(int, []byte) error { return nil }), broken)
	assert.ErrorIs(t, bench.Here{}.Do("it", 50, func(int) ([]byte, error) { return nil, nil },
		func(int, []byte) error { return broken }), broken)
	assert.NoError(t, bench.Here{}.Do("it", 0, nil, nil))
}

func TestADrawerIsReadLineByLine(t *testing.T) {
	sticks, wrong := bench.DrawerText("# drawer\n\n" + stick8 + "  # found behind it\n3 x " + stick8 +
		"\n2 × 4GB DDR3-1600 SO-DIMM\n2x8GB DDR4-2400 SO-DIMM\na box of screws\nDDR4 SO-DIMM\n0 x " + stick8 + "\n")
	assert.Len(t, sticks, 1+3+2+2)
	require.Len(t, wrong, 2)
	assert.Contains(t, wrong[0], "line 7: ")
	assert.Contains(t, wrong[1], "line 8: ")
}

func TestABudgetIsMoney(t *testing.T) {
	m, code, err := bench.BudgetOf("1.234,50 EUR")
	require.NoError(t, err)
	assert.EqualValues(t, 123450, m.Or(0))
	assert.Equal(t, "EUR", code)
	none, _, err := bench.BudgetOf("")
	require.NoError(t, err)
	assert.False(t, none.Known())
	for _, text := range []string{"-5", "lots", "5 cows"} {
		_, _, err := bench.BudgetOf(text)
		var wrong *bench.InputError
		assert.ErrorAs(t, err, &wrong, text)
	}
}

func FuzzDrawerText(f *testing.F) {
	f.Add("3 x " + stick8 + "\n# no\n")
	f.Add("999 x 16x16GB DDR4\n\xff\x00")
	f.Fuzz(func(t *testing.T, text string) {
		sticks, wrong := bench.DrawerText(text)
		lines := strings.Count(text, "\n") + 1
		assert.LessOrEqual(t, len(wrong), lines)
		assert.LessOrEqual(t, len(sticks), lines*999*16)
		for _, s := range sticks {
			assert.True(t, s.Capacity.Known())
		}
	})
}

// A card that is no longer what was looked at is named, by its file.
func TestACardThatChangesUnderARound(t *testing.T) {
	o := round(t, []card.Card{seat("A", 8)}, []shelf{{text: stick8, price: 2000}})
	o.Goal.Reach = maybe.None[jedec.Capacity]()
	open := o.Open
	o.Open = func(i int) (*bench.Bench, error) { return open(i) }
	r, err := o.Plan()
	require.NoError(t, err)
	known := petrel(t)
	for want, change := range map[string]func(int) (*bench.Bench, error){
		"m0.card has changed since it was looked at; run rounds again": func(int) (*bench.Bench, error) {
			return bench.New(seat("A", 32, 32), known), nil
		},
		"it is gone": func(int) (*bench.Bench, error) { return nil, errors.New("it is gone") },
	} {
		open = change
		require.NoError(t, r.Lines(func(l bench.RoundLine) error {
			assert.Equal(t, bench.RoundUnread, l.State)
			assert.Equal(t, want, l.Says)
			return nil
		}))
	}
}

// Where the next round size can't be had, any more is offered: soldered memory makes sums between the round ones.
func TestASumBetweenTheRoundSizes(t *testing.T) {
	hand := "epitome-hand: 1\nmachine: {processor: Petrel P5-8240, system: Windows 10 Pro 64-bit}\nsockets: 1\nplaces:\n" +
		"  - {name: ONBOARD, channel: A, attach: soldered, holds: 8GB DDR4-2400}\n" +
		"  - {name: SLOT, channel: B, attach: socket, takes: SO-DIMM, holds: " + stick8 + "}\n"
	b := bench.New(card.Card{Readings: []card.Reading{{Kind: card.Hand, Source: "hand", Data: []byte(hand)}}}, petrel(t))
	for text, want := range map[string]jedec.Capacity{stick16: 24 * jedec.GiB, stick8: 0,
		"32GB 2Rx8 PC4-3200AA-SE1-11": 40 * jedec.GiB} {
		o := round(t, nil, []shelf{{text: text, price: 3000}})
		v := b.Visit(bench.Sitting{Policy: need.BuiltIn(), Goal: o.Goal}, nil)
		assert.True(t, v.Asked, "the round's goal is 16 GB, which is there")
		require.ErrorIs(t, v.Nothing, propose.ErrReached)
		o.Goal.Reach = maybe.None[jedec.Capacity]()
		v = b.Visit(bench.Sitting{Policy: need.BuiltIn(), Goal: o.Goal}, nil)
		if want == 0 {
			assert.ErrorIs(t, v.Nothing, propose.ErrBeyond, text)
			assert.Equal(t, bench.OutOf, v.End(), "the list lacks it, not the machine")
			continue
		}
		require.NoError(t, v.Nothing, text)
		require.NotEmpty(t, v.Proposals.Proposals, text)
		assert.Equal(t, want, v.Proposals.Proposals[0].Trial.Total, text)
		assert.GreaterOrEqual(t, want, v.Proposals.Goal.Reach.Or(0), text)
		assert.Equal(t, bench.Found, v.End(), text)
	}
}
