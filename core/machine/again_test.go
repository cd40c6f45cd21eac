package machine_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/fact"
	"epitome/core/machine"
)

func places(list ...machine.Place) machine.Machine { return machine.Machine{Places: list} }

func on(channel string, p machine.Place) machine.Place {
	p.Channel = fact.Known(channel)
	return p
}

// A place is found again by its names; one that nobody named is the one that has a name since.
func TestPlacesAreFoundAgain(t *testing.T) {
	named := func(name string, more ...string) machine.Place { return machine.Place{Name: name, Names: more} }
	slot := func(name string) machine.Place { return machine.Place{Name: name, Announced: true} }
	for why, c := range map[string]struct {
		before, after machine.Machine
		want          map[string]string
	}{
		"the same names": {places(named("A1"), named("A2")), places(named("A2"), named("A1")),
			map[string]string{"A1": "A1", "A2": "A2"}},
		"in other letters": {places(named("DIMM_A1")), places(named("dimm a1")), map[string]string{"DIMM_A1": "dimm a1"}},
		"by a further name": {places(named("A1", "0x50")), places(named("place 1", "0x50")),
			map[string]string{"A1": "place 1"}},
		"a locator on two banks": {places(named("DIMM 0", "A/DIMM 0"), slot("slot 2")),
			places(named("DIMM 0 / B", "DIMM 0", "B/DIMM 0"), named("DIMM 0 / A", "DIMM 0", "A/DIMM 0")),
			map[string]string{"DIMM 0": "DIMM 0 / A", "slot 2": "DIMM 0 / B"}},
		"one of two banks, then the other": {places(named("DIMM 1", "A/DIMM 1"), slot("slot 2")),
			places(named("DIMM 1", "B/DIMM 1"), slot("slot 2")), map[string]string{"DIMM 1": "slot 2", "slot 2": "DIMM 1"}},
		"the only one left": {places(named("A"), slot("slot 2")), places(named("A"), named("B")),
			map[string]string{"A": "A", "slot 2": "B"}},
		"listed before it": {places(named("B"), slot("slot 2")), places(named("A"), named("B")),
			map[string]string{"B": "B", "slot 2": "A"}},
		"the same channel": {places(on("A", slot("slot 1")), on("B", slot("slot 2"))),
			places(on("B", named("B1")), on("A", named("A1"))),
			map[string]string{"slot 1": "A1", "slot 2": "B1"}},
		"a name, then none": {places(named("A"), named("B")), places(named("A"), slot("slot 2")),
			map[string]string{"A": "A", "B": "slot 2"}},
		"no name for it": {places(named("A"), named("B")), places(named("C"), named("D")), map[string]string{}},
		"slot 2 on each": {places(named("A"), slot("slot 2"), slot("slot 3")),
			places(named("A"), named("B"), slot("slot 3")),
			map[string]string{"A": "A", "slot 2": "B", "slot 3": "slot 3"}},
	} {
		assert.Equal(t, c.want, machine.Again(c.before, c.after), why)
	}
}

func TestAPlaceAnswersToAllItsNames(t *testing.T) {
	m := places(machine.Place{Name: "slot 2"}, machine.Place{Name: "ChannelB-DIMM0", Names: []string{"slot 2", "0x52"}})
	assert.Equal(t, "ChannelB-DIMM0", m.PlaceCalled("channelb dimm0").Name)
	assert.Equal(t, "ChannelB-DIMM0", m.PlaceCalled("0x52").Name)
	assert.Equal(t, "slot 2", m.PlaceCalled("Slot 2").Name, "its own name first")
	assert.Nil(t, m.PlaceCalled("slot 3"))
	assert.Nil(t, m.PlaceCalled(""))
	assert.False(t, machine.SameName("--", "??"), "signs alone name nothing")
}
