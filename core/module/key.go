package module

import (
	"fmt"

	"epitome/core/fact"
	"epitome/core/jedec"
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
	label    string
}

// Key returns the key of a module that one description states.
func (m *Module) Key() Key {
	k := Key{facts: m.Facts, kind: m.Kind, pieces: m.Pieces}
	if l, ok := m.Label.Get(); ok {
		k.label = fmt.Sprintf("%+v", l)
	}
	if len(m.Profiles) > 0 {
		k.profiles = fmt.Sprint(m.Profiles)
	}
	if len(m.Choices)+len(m.Leaning) > 0 {
		k.lists = fmt.Sprint(m.Choices, m.Leaning)
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
