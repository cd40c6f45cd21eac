package bench

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
	"epitome/core/propose"
)

// exported is a laptop by its system's export: two places announced, one of them filled, which names neither serial nor
// part number since the columns were not asked for; and what a person says of it.
func exported(t testing.TB, hand string) *Bench {
	t.Helper()
	c := card.Card{Readings: []card.Reading{{Kind: card.CIM, Source: "cim.json", Data: []byte(`[
{"CreationClassName":"Win32_Processor","Name":"Intel(R) Core(TM) i5-8265U CPU @ 1.60GHz"},
{"CreationClassName":"Win32_PhysicalMemoryArray","MemoryDevices":2,"MaxCapacity":33554432},
{"CreationClassName":"Win32_PhysicalMemory","DeviceLocator":"DIMM A","Capacity":"8589934592","SMBIOSMemoryType":26,
"FormFactor":12,"Speed":2400,"ConfiguredClockSpeed":2400}]`)}}}
	if hand != "" {
		c.Readings = append(c.Readings, card.Reading{Kind: card.Hand, Source: "observed",
			Data: []byte("epitome-hand: 1\n" + hand)})
	}
	return New(c, catalogue.Catalogue{})
}

// One socket counted, one filled place listed, a maximum of four times what is fitted: a soldered bank beside a free
// socket, or one filled socket. Both ways are worked out, and the look that tells is named.
func TestACountLeavesBothWaysOfBuilding(t *testing.T) {
	b := exported(t, "sockets: 1\n")
	var says []string
	for _, x := range b.builds() {
		says = append(says, x.says)
		if x.says == "DIMM A is soldered" {
			m := x.bench.Machine()
			assert.Len(t, m.Places, 2, "the socket that was counted is another one")
			assert.Equal(t, 1, m.Totals.SocketsFree.Or(0))
		}
	}
	assert.ElementsMatch(t, []string{"DIMM A is a socket", "DIMM A is soldered"}, says)
	r, err := b.Propose(propose.Goal{Reach: maybe.Just(16 * jedec.GiB)}, nil)
	require.NoError(t, err)
	assert.Len(t, r.Structures, 2)
	assert.Empty(t, exported(t, "sockets: 2\n").builds(), "two sockets counted settle it")
}

// Nothing but soldered memory is listed, and a maximum of four times that is stated: either that is all, or there is a
// socket that nobody lists. What to buy then is said, not proved, with the look that tells; a count ends it.
func TestAMaximumBesideSolderedMemoryLeavesADoubt(t *testing.T) {
	soldered := func(maximum int, hand string) *Bench {
		c := card.Card{Readings: []card.Reading{{Kind: card.CIM, Source: "cim.json", Data: []byte(fmt.Sprintf(`[
{"CreationClassName":"Win32_ComputerSystem","Manufacturer":"Halyard","Model":"Gull 9","PCSystemType":2},
{"CreationClassName":"Win32_Processor","Name":"Intel(R) Core(TM) i5-8265U CPU @ 1.60GHz"},
{"CreationClassName":"Win32_PhysicalMemoryArray","MemoryDevices":1,"MaxCapacity":%d},
{"CreationClassName":"Win32_PhysicalMemory","DeviceLocator":"On Board","Capacity":"4294967296","SMBIOSMemoryType":26,
"FormFactor":11,"Speed":2400,"ConfiguredClockSpeed":2400,"SerialNumber":"00000000","PartNumber":""}]`, maximum<<20))}}}
		if hand != "" {
			c.Readings = append(c.Readings, card.Reading{Kind: card.Hand, Source: "observed",
				Data: []byte("epitome-hand: 1\n" + hand)})
		}
		return New(c, catalogue.Catalogue{})
	}
	sitting := Sitting{Goal: propose.Goal{Reach: maybe.Just(8 * jedec.GiB)}, Policy: need.BuiltIn()}
	v := soldered(16, "").Visit(sitting, nil)
	require.NotEmpty(t, v.Choices)
	assert.Equal(t, "if there is a socket that nobody lists", v.Choices[0].Reason)
	assert.Empty(t, v.Proposals.Proposals, "it is not proved")
	require.NotEmpty(t, v.Looks)
	assert.Equal(t, lookInside, v.Looks[0].Settles)
	assert.Equal(t, CantTell, v.End())
	assert.Equal(t, []ReachWay{{4 * jedec.GiB, "there is no socket"},
		{36 * jedec.GiB, "there is a socket that nobody lists"}}, v.Reach.Ways)
	v = soldered(4, "").Visit(sitting, nil)
	assert.Equal(t, NoMore, v.Because(), "nothing speaks for a socket")
	assert.Empty(t, v.Looks)
	v = soldered(16, "sockets: 1\n").Visit(sitting, nil)
	require.NotEmpty(t, v.Proposals.Proposals, "somebody counted it")
}

// Why there is nothing to buy: four reasons, each of its own.
func TestWhyThereIsNothingToBuy(t *testing.T) {
	b := exported(t, "sockets: 2\n")
	because := func(b *Bench, g propose.Goal) Nothing {
		return b.Visit(Sitting{Goal: g, Policy: need.BuiltIn()}, nil).Because()
	}
	size := func(gib jedec.Capacity) maybe.Value[jedec.Capacity] { return maybe.Just(gib * jedec.GiB) }
	assert.Equal(t, NotNothing, because(b, propose.Goal{Reach: size(16)}))
	assert.Equal(t, Enough, because(b, propose.Goal{Reach: size(8)}))
	assert.Equal(t, NoMore, because(b, propose.Goal{Reach: size(512)}))
	other, err := StickOf("8GB 1Rx8 PC3L-12800S-11-13-B4")
	require.NoError(t, err)
	assert.Equal(t, NotOffered, because(b, propose.Goal{Reach: size(16),
		Offers: []propose.Offer{{SKU: "A", Stick: &other, Pieces: 1, MinOrder: 1}}}))
	assert.Equal(t, NotTold, because(New(card.Card{}, catalogue.Catalogue{}), propose.Goal{Reach: size(16)}))
}

// What somebody saw of an announced place is said of that place, by the name that the page has for it.
func TestAnAnnouncedPlaceAnswersToItsName(t *testing.T) {
	for _, hand := range []string{"places: [{name: slot 2, attach: socket}]\n", "places: [{name: slot 2, channel: B}]\n",
		"places: [{name: slot 2, holds: free}]\n", "places: [{name: DIMM B, holds: free}]\n"} {
		m := exported(t, hand).Machine()
		if assert.Len(t, m.Places, 2, hand) {
			p := m.PlaceCalled("slot 2")
			require.NotNil(t, p, hand)
			filled, known := p.Filled.Get()
			assert.True(t, known && !filled, "%s: it is free, as was announced", hand)
			assert.Equal(t, "B", p.Channel.Or(""), hand)
		}
	}
}

// A place that was announced keeps the name that it got when a module was fitted there, and answers to it on its card.
func TestAPlaceKeepsTheNameThatItGot(t *testing.T) {
	b := exported(t, "places: [{name: DIMM B, channel: B}]\n")
	c := b.Card()
	plan := card.Reading{Kind: card.Plan, Source: "plan", Data: []byte("ways: [{number: 1, put: [{place: slot 2}]}]")}
	outcome := card.Reading{Kind: card.Outcome, Source: "recheck",
		Data: []byte("epitome-outcome: 1\ndate: 2026-11-02\nproposal: 1\nresult: as predicted\ntotal_mib: 16384\n" +
			"places: [{name: DIMM A, mib: 8192}, {name: DIMM B, planned: slot 2, mib: 8192}]\n")}
	c.Readings = append([]card.Reading{plan, outcome}, c.Readings...)
	m := New(c, catalogue.Catalogue{}).Machine()
	require.Len(t, m.Places, 2)
	p := m.PlaceCalled("DIMM B")
	require.NotNil(t, p)
	assert.Same(t, p, m.PlaceCalled("slot 2"))
	assert.Equal(t, "B", p.Channel.Or(""))
	assert.Equal(t, "A", m.PlaceCalled("DIMM A").Channel.Or(""), "what the other leaves")
	assert.Equal(t, fact.Settled, p.Attach.Standing(), "a module was fitted there, and found")
}

// An ordinary laptop of which one place may be either: every way of building it is searched for every size that is
// worth asking for.
func BenchmarkVisitOfAnOpenLaptop(b *testing.B) {
	for b.Loop() {
		v := exported(b, "sockets: 1\n").Visit(Sitting{Policy: need.BuiltIn()}, nil)
		if len(v.Choices) == 0 {
			b.Fatal(v.Nothing)
		}
	}
}
