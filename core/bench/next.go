package bench

import (
	"epitome/core/fact"
)

// Ignored are the classes of objects that exports on the card hold and that tell
// nothing of memory, by source.
func (b *Bench) Ignored() []string { return b.readings().Ignored }

// Unread says what could not be read when the card was made, and why: "firmware table: may
// not be read by this user; run again as root".
func (b *Bench) Unread() (list []string) {
	for _, t := range b.readings().Unread {
		list = append(list, t.Source+": "+t.Why)
	}
	return list
}

// Next is the one further source that would settle most, as a sentence; empty where
// nothing that could be had would settle more.
func (b *Bench) Next() string {
	m, read := b.Machine(), b.readings()
	switch {
	case len(m.Places) == 0:
		return "the firmware tables, or the stickers of its modules: nothing tells where memory sits yet"
	case m.Totals.Sockets.Standing() < fact.Settled:
		return "a count of the sockets, by eye or from the manual (observe CARD sockets=2): how many there are is not settled"
	case b.Ceilings().AsksChipset():
		return "the chipset's name off the board (observe CARD chipset=NAME), or the PCI ids: the memory controller is in it"
	case len(read.EEPROMs) == 0 && !b.described():
		return "the modules' EEPROMs or stickers: chips, latencies and supply of what is fitted are not known"
	case !m.Chipset.Known() && len(read.PCI) == 0:
		return "the PCI ids, or the chipset's name off the board (observe CARD chipset=NAME)"
	case !m.Totals.StatedMaximum.Known():
		return "the maximum in the board's manual (observe CARD maximum=32GB)"
	}
	return ""
}

// described reports whether the chips of every fitted module are known.
func (b *Bench) described() bool {
	for _, p := range b.Machine().Places {
		if p.Module != nil && !(p.Module.Ranks.Known() && p.Module.Width.Known()) {
			return false
		}
	}
	return true
}
