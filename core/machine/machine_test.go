package machine_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
)

// place is a socket of a processor, -1 where its name does not tell, with what is known of it.
func place(cpu int, filled maybe.Value[bool]) (p machine.Place) {
	p.Processor = maybe.If(cpu, cpu >= 0)
	if full, ok := filled.Get(); ok {
		p.Filled = fact.Known(full)
	}
	return p
}

func TestSocketsAreCountedByProcessor(t *testing.T) {
	full, free, unknown := maybe.Just(true), maybe.Just(false), maybe.None[bool]()
	for name, c := range map[string]struct {
		places []machine.Place
		want   []machine.Population
	}{
		"no places": {nil, nil},
		"in the order of the processors": {[]machine.Place{place(1, full), place(0, full), place(1, free), place(0, full)},
			[]machine.Population{{Processor: 0, Filled: 2, Sockets: 2}, {Processor: 1, Filled: 1, Sockets: 2}}},
		"one place does not tell whose it is":            {[]machine.Place{place(0, full), place(-1, full)}, nil},
		"of one place nobody knows whether it is filled": {[]machine.Place{place(0, full), place(0, unknown)}, nil},
	} {
		assert.Equal(t, c.want, machine.Machine{Places: c.places}.Populations(), name)
	}
}

func TestWhatTheSocketsTake(t *testing.T) {
	holds := func(a machine.Attach, f jedec.Form) (p machine.Place) {
		p.Attach = fact.Known(a)
		if f != jedec.FormUnknown {
			p.Form = fact.Known(f)
		}
		return p
	}
	const none = jedec.GenerationUnknown
	for name, c := range map[string]struct {
		places []machine.Place
		form   jedec.Form
		gen    jedec.Generation
	}{
		"nothing known":                {nil, jedec.FormUnknown, none},
		"a socket tells its form":      {[]machine.Place{holds(machine.Socket, jedec.SODIMM)}, jedec.SODIMM, none},
		"and the machine's generation": {[]machine.Place{holds(machine.Socket, jedec.DIMM)}, jedec.DIMM, jedec.DDR4},
		"what is soldered tells no socket's form": {[]machine.Place{holds(machine.Soldered, jedec.SODIMM)},
			jedec.FormUnknown, jedec.DDR4},
		"a place whose form nobody knows": {[]machine.Place{holds(machine.Socket, jedec.SODIMM),
			holds(machine.Socket, jedec.FormUnknown)}, jedec.SODIMM, jedec.DDR3},
	} {
		m := machine.Machine{Places: c.places}
		if c.gen != none {
			m.Generation = fact.Known(c.gen)
		}
		form, gen := m.Takes()
		assert.Equal(t, c.form, form, name)
		assert.Equal(t, c.gen, gen, name)
	}
	assert.Equal(t, "attach of DIMM 0", machine.Subject{Topic: machine.AboutAttach, Place: "DIMM 0"}.String())
	assert.Equal(t, "number of sockets", machine.Subject{Topic: machine.AboutSockets}.String())
}

// What is fitted where the sum is open: the modules whose size is known, and no flash.
func TestWhatAMachineHas(t *testing.T) {
	of := func(size jedec.Capacity) *module.Module {
		var m module.Module
		m.Capacity = fact.If(size*jedec.GiB, size > 0)
		return &m
	}
	m := machine.Machine{Places: []machine.Place{{Module: of(8)}, {Module: of(0)}, {},
		{Module: of(4), State: machine.NotMemory}, {Module: of(16)}}}
	assert.Equal(t, 24*jedec.GiB, m.Have())
	m.Totals.Installed = fact.Known(32 * jedec.GiB)
	assert.Equal(t, 32*jedec.GiB, m.Have())
	m.Totals.Installed = fact.Contested[jedec.Capacity]()
	assert.Equal(t, 24*jedec.GiB, m.Have())
}
