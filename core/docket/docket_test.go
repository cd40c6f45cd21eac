package docket_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/docket"
	"epitome/core/evidence"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/propose"
	"epitome/core/reading"
	"epitome/core/rule"
	"epitome/core/smbios/compose"
	"epitome/core/trial"
	"epitome/truth"
)

// laptop has two sockets, A with a module, B free, that firmware lists and somebody looked into.
func laptop(t testing.TB, takes, holds string) (machine.Machine, ceiling.Limits) {
	t.Helper()
	return truth.Rig{Takes: takes, Chassis: 0x0A, Form: 0x0D, Seen: "SO-DIMM", Kind: "laptop",
		System: "Windows 10 Pro 64-bit", Places: []string{"A A|" + holds, "B B"}}.Machine(t)
}

const ddr4 = "generation: DDR4, channels: 2, slots_per_channel: 1, rate: 2400, rate_dual_rank: 2400, maximum: 32GB, " +
	"largest_die: 8Gbit, x4: no, x16: yes, ecc: none, volts: 1.2"

func gull(t testing.TB) (machine.Machine, ceiling.Limits) {
	return laptop(t, ddr4, "8GB 1Rx8 PC4-2400T-SA1-11")
}

func words(list []docket.Choice) string { return fmt.Sprint(list) }

func TestTheSlipSaysWhatToBuyAndWhatToAvoid(t *testing.T) {
	m, l := gull(t)
	w := docket.Way{Number: 1, Put: []docket.Put{{Place: "B", Stick: "8GB 1Rx8 PC4-2400T-SA1-11", SKU: "HP-1"}},
		Buys: []docket.Bought{{Units: 1, Pieces: 1, Text: "8GB 1Rx8 PC4-2400T-SA1-11", SKU: "HP-1", Supplier: "harbour",
			Price: "21.40"}}, Cost: "21.40"}
	d, err := docket.Make(docket.Input{Machine: m, Limits: l, Way: w, Currency: "EUR", Job: "118"})
	require.NoError(t, err)
	assert.Equal(t, rule.Works, d.Verdict)
	assert.Equal(t, "Halyard Gull 14", d.Machine)
	assert.Equal(t, "21.40 EUR", d.Cost)
	require.Len(t, d.Items, 1)
	item := d.Items[0]
	assert.Equal(t, "HP-1, harbour", item.Order)
	assert.Contains(t, item.Facts, "SO-DIMM, 260 contacts")
	assert.Contains(t, item.Facts, "1.2 V")
	assert.Subset(t, item.Spellings, []string{"8GB 1Rx8 PC4-2400T-SA1-11", "DDR4-2400", "PC4-19200"})
	assert.Contains(t, words(item.Accept), "{DDR4-2133 all memory then runs at 2133 instead of 2400}")
	assert.Contains(t, words(item.Accept), "DDR4-3200")
	avoid := words(item.Avoid)
	for _, what := range []string{"DDR4 DIMM a DIMM with 288 contacts", "modules with check bits",
		"DDR3 SO-DIMM another generation: 204 contacts, not 260", "DDR5 SO-DIMM another generation: 262 contacts",
		"overclocking profile"} {
		assert.Contains(t, avoid, what)
	}
	assert.NotContains(t, avoid, "registered", "SO-DIMMs are none")
	assert.Equal(t, []string{"8 GB DDR4-2400 SO-DIMM into B (HP-1)"}, d.Fit)
	assert.Contains(t, strings.Join(d.Handling, " "), "battery")
	assert.Contains(t, strings.Join(d.Handling, " "), "30 degrees")
	assert.Equal(t, [2]string{"Memory fitted", "16 GB"}, d.Expect[0])
	assert.Contains(t, fmt.Sprint(d.Expect), "[Data rate 2400 MT/s (a clock of 1200 MHz)]")
	assert.Empty(t, d.Waits)
}

func TestADieTooDenseIsToBeAvoided(t *testing.T) {
	m, l := gull(t)
	w := docket.Way{Put: []docket.Put{{Place: "B", Stick: "16GB 2Rx8 PC4-2400T-SE1-11"}},
		Buys: []docket.Bought{{Units: 1, Pieces: 1, Text: "16GB 2Rx8 PC4-2400T-SE1-11"}}}
	d, err := docket.Make(docket.Input{Machine: m, Limits: l, Way: w})
	require.NoError(t, err)
	assert.Contains(t, words(d.Items[0].Avoid), "the same with one rank (1Rx8), dies of twice the size")
	assert.Contains(t, words(d.Items[0].Avoid), "16 Gbit")
	assert.Empty(t, d.Cost, "no prices are made up")
}

func TestProposalsAreKeptAndReadAgain(t *testing.T) {
	m, l := gull(t)
	r, err := propose.Search(m, l, propose.Goal{Reach: maybe.Just(16 * jedec.GiB)}, nil)
	require.NoError(t, err)
	p := docket.PlanOf(r, []docket.List{{Name: "list.csv", SHA256: "00"}})
	data, err := p.Encode()
	require.NoError(t, err)
	back, err := docket.ParsePlan(data)
	require.NoError(t, err)
	assert.Equal(t, p, back)
	assert.Len(t, back.Ways, len(r.Proposals)+len(r.Unproven))
	for i, q := range append(r.Proposals, r.Unproven...) {
		w, err := back.Way(q.Number)
		require.NoError(t, err)
		plan, err := w.Trial()
		require.NoError(t, err)
		again, err := trial.Run(m, l, plan)
		require.NoError(t, err)
		assert.Equal(t, q.Trial.Verdict, again.Verdict, "proposal %d", i+1)
		assert.Equal(t, q.Trial.Total, again.Total)
		a, _ := q.Trial.Operating.Get()
		b, _ := again.Operating.Get()
		assert.Equal(t, a.Grade, b.Grade)
		assert.Equal(t, a.Interleaved, b.Interleaved)
		d, err := docket.Make(docket.Input{Machine: m, Limits: l, Way: w})
		require.NoError(t, err)
		assert.NotEmpty(t, d.Items)
	}
	_, err = back.Way(99)
	assert.ErrorContains(t, err, "there is no proposal 99 on the card; there are 1")
	for _, bad := range []string{"", "epitome-plan: 9\n", "colour: red\n"} {
		_, err := docket.ParsePlan([]byte(bad))
		assert.ErrorIs(t, err, docket.ErrPlan, bad)
	}
	_, err = docket.Way{Put: []docket.Put{{Place: "B", Stick: "crisps"}}}.Trial()
	assert.ErrorIs(t, err, docket.ErrPlan)
}

// Modules that are sold by an overclocking profile's speed are warned of from DDR3 on: before it
// there was no such speed.
func TestProfilesAreWarnedOfWhereThereAreAny(t *testing.T) {
	const warning = "sold by a speed above"
	m, l := gull(t)
	for stick, warned := range map[string]bool{"8GB 1Rx8 PC4-2400T-SA1-11": true, "4GB 2Rx8 PC3-12800S-11-11-F3": true,
		"2GB 2Rx8 PC2-6400S-666-12": false} {
		way := docket.Way{Put: []docket.Put{{Place: "B", Stick: stick}},
			Buys: []docket.Bought{{Units: 1, Pieces: 1, Text: stick}}}
		d, err := docket.Make(docket.Input{Machine: m, Limits: l, Way: way})
		require.NoError(t, err, stick)
		assert.Equal(t, warned, strings.Contains(words(d.Items[0].Avoid), warning), stick)
	}
}

// New modules go in, in the order in which the board's manual fills its slots; without one, in that of the places.
func TestModulesGoInInTheBoardsOrder(t *testing.T) {
	const stick = "8GB 1Rx8 PC4-2400T-UA2-11"
	for slots, want := range map[string]string{
		"": "A B", ", slots: [{name: A, order: 2}, {name: B, order: 1}]": "B A",
		", slots: [{name: A, order: 1}, {name: B, order: 2}]": "A B", ", slots: [{name: B, order: 1}]": "B A",
	} {
		own := "epitome-catalogue: 1\nprocessors: [{family: Petrel, brand: Petrel, basis: sheet, takes: [{" + ddr4 +
			"}]}]\nboards: [{maker: Groyne, names: GBX, basis: manual, maximum: 64GB" + slots + "}]\n"
		o, faults := catalogue.ParseOverlay("ours.yaml", []byte(own))
		require.Empty(t, faults, slots)
		k := catalogue.Catalogue{}.With(o)
		s := append(compose.Identity{Maker: "Halyard", Product: "Bollard", BoardMaker: "Groyne", Board: "GBX",
			ChassisKind: 0x07}.Structures(), compose.Array(0x1000, 1<<30, 2))
		for i, name := range []string{"A", "B"} {
			s = append(s, compose.Device{Handle: uint16(i + 1), Array: 0x1000, Form: 0x09, Locator: name,
				Bank: "P0 CHANNEL " + name}.Structure())
		}
		c := card.Card{Readings: []card.Reading{{Kind: card.Table, Source: "DMI", Data: compose.Table(s...)},
			{Kind: card.CPUInfo, Source: "cpuinfo",
				Data: []byte("processor : 0\ncpu family : 6\nmodel : 1\nmodel name : Petrel P5\n")},
			{Kind: card.Hand, Source: "hand", Data: []byte("epitome-hand: 1\nmachine: {system: Linux 64-bit}\nplaces: " +
				"[{name: A, attach: socket, takes: DIMM}, {name: B, attach: socket, takes: DIMM}]\n")}}}
		m := evidence.Weigh(reading.Of(c), k)
		d, err := docket.Make(docket.Input{Machine: m, Limits: ceiling.Of(m, k), Way: docket.Way{
			Put:  []docket.Put{{Place: "A", Stick: stick}, {Place: "B", Stick: stick}},
			Buys: []docket.Bought{{Units: 2, Pieces: 1, Text: stick}}}})
		require.NoError(t, err, slots)
		var got []string
		for _, step := range d.Fit {
			_, place, _ := strings.Cut(step, " into ")
			got = append(got, place)
		}
		assert.Equal(t, want, strings.Join(got, " "), slots)
	}
}
