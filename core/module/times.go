package module

import (
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// accessTime is a stick's minimum access time; where only a CAS latency is
// stated, the time that it lasts at the stick's own grade.
func (m *Module) accessTime() maybe.Value[jedec.Picoseconds] {
	if m.Times.TAA.Known() {
		return m.Times.TAA.Value()
	}
	cl, ok1 := m.CL.Get()
	x, ok2 := m.Grade().Get()
	return maybe.If(cl.Time(x), ok1 && ok2)
}

// SoldTimes are a stick's minimum times as the evidence leans: its own, shortened alike where they are those of the bin
// that is sold in its grade. Such a bin keeps its time for all three: DDR4's 13.75 ns in brackets stand for tAA, tRCD
// and tRP (JESD79-4 tables 109 to 115), DDR3's 13.125 ns too (JESD79-3F, notes to tables 61 to 66).
func (m *Module) SoldTimes() Times {
	t := m.Times
	t.TAA = fact.From(m.accessTime())
	x, known := m.Grade().Get()
	sold, has := jedec.SoldTime(x)
	if !known || !has || m.Kind == EEPROM {
		return m.SurestTimes()
	}
	isSold := func(own fact.Fact[jedec.Picoseconds]) bool {
		t, stated := own.Get()
		return !stated || jedec.IsSold(x, t)
	}
	if !isSold(t.TAA) {
		return m.ofItsBin(t)
	}
	t.TAA = fact.Known(sold)
	for _, other := range []*fact.Fact[jedec.Picoseconds]{&t.TRCD, &t.TRP} {
		if isSold(*other) {
			*other = fact.Known(sold)
		}
	}
	return t
}

// ofItsBin adds what nobody states of a stick's times from the standard bin of its latency.
func (m *Module) ofItsBin(t Times) Times {
	if m.Kind == EEPROM || t.TRCD.Known() && t.TRP.Known() {
		return t
	}
	for _, b := range jedec.Bins(m.Grade().Or(jedec.Grade{})) {
		if b.Timing.CL != m.CL.Or(0) {
			continue
		}
		if !t.TRCD.Known() {
			t.TRCD = fact.Known(b.TRCD)
		}
		if !t.TRP.Known() {
			t.TRP = fact.Known(b.TRP)
		}
	}
	return t
}

// SurestTimes are minimum times that a stick keeps for certain: its own, or those of the slowest standard bin of its
// grade.
func (m *Module) SurestTimes() Times {
	t := m.Times
	if t.TAA = fact.From(m.accessTime()); t.TAA.Known() {
		return m.ofItsBin(t)
	}
	for _, b := range jedec.Bins(m.Grade().Or(jedec.Grade{})) {
		if b.TAA > t.TAA.Or(0) {
			t.TAA, t.TRCD, t.TRP = fact.Known(b.TAA), fact.Known(b.TRCD), fact.Known(b.TRP)
		}
	}
	return t
}
