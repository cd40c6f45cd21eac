package module

import (
	"fmt"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// A Key is what a description came to, without its own words: two modules of one
// key are told apart by nothing but how they were described. It is comparable.
type Key struct {
	facts    Facts
	kind     Kind
	pieces   fact.Fact[int]
	profiles string
	lists    string
	odd      string
	label    printed
}

// printed is a label by what can be compared; its grade stands among the facts.
type printed struct {
	milliVolts                 int
	capacity                   maybe.Value[jedec.Capacity]
	layout                     maybe.Value[jedec.Layout]
	timing                     maybe.Value[jedec.Timing]
	cl                         maybe.Value[jedec.Latency]
	bin, card, revision, other string
	letter                     byte
}

// Key returns the key of a module that one description states.
func (m *Module) Key() Key {
	k := Key{facts: m.Facts, kind: m.Kind, pieces: m.Pieces}
	if l, ok := m.Label.Get(); ok {
		k.label = printed{l.MilliVolts, l.Capacity, l.Layout, l.Timing, l.CL, l.Bin, l.RawCard, l.SPDRevision, l.Suffix,
			l.Type}
	}
	if len(m.Profiles) > 0 {
		k.profiles = fmt.Sprint(m.Profiles)
	}
	for _, x := range m.Choices {
		k.lists += x.String() + ";"
	}
	for _, h := range m.Leaning {
		k.lists += h.Fact + "=" + h.Value + ": " + h.Why + ";"
	}
	if m.Kind == EEPROM {
		k.odd = fmt.Sprint(m.Checksum, m.Checks, m.Notes, m.Revision)
	}
	return k
}

// Judged returns what rules look at: the facts without what tells one module from
// others that are made alike, and without what it is called.
func (m *Module) Judged() Facts {
	f := m.Facts
	f.Serial, f.Part, f.Year, f.Week = fact.Fact[string]{}, fact.Fact[string]{}, fact.Fact[int]{}, fact.Fact[int]{}
	f.Maker, f.MakerCode, f.ChipMaker = fact.Fact[string]{}, fact.Fact[jedec.MakerCode]{}, fact.Fact[jedec.MakerCode]{}
	return f
}
