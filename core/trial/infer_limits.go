package trial

import (
	"slices"
	"strings"

	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/rule"
)

// most is what a row of upper bounds may come to. proved is what the machine takes whatever the row says.
func (t *setting) most(key string, row []ceiling.Ceiling, proved ceiling.Floor, what,
	look string) rule.Possible[ceiling.Level] {
	x := ceiling.Levels(row, proved)
	p := rule.Possible[ceiling.Level]{Key: key, Fact: what, Look: look, Values: x.Levels, Leads: x.Leads, Infers: x.Infers}
	if x.Runs {
		p.Look = x.Levels[0].Says + ": fitting it is what tells, so buy where it can go back"
	}
	return p
}

// proved figures.

// shownSize is the largest module that a socket holds for certain.
func (t *setting) shownSize() (most jedec.Capacity) {
	for _, p := range t.m.Places {
		if p.Module != nil && p.Attach.Or("") == machine.Socket {
			most = max(most, p.Module.Capacity.Or(0))
		}
	}
	return most
}

// published is the largest module that a maximum of the whole comes to when all
// sockets are filled alike; 0 where either is not known.
func (t *setting) published() (best jedec.Capacity) {
	sockets, ok := t.m.Totals.Sockets.Get()
	b, limited := t.limits.Bound(ceiling.Capacity)
	if !ok || !limited || sockets == 0 {
		return 0
	}
	soldered := t.m.Totals.Soldered.Or(0)
	for _, size := range jedec.ModuleSizes(t.limits.Generation.Or(0)) {
		if size*jedec.Capacity(sockets)+soldered <= b.Most.Capacity() {
			best = max(best, size)
		}
	}
	return best
}

// provedSize is the largest module that the machine takes.
func (t *setting) provedSize() ceiling.Floor {
	return ceiling.Floor{Shown: ceiling.Bytes(t.shownSize()), Inferred: ceiling.Bytes(t.published())}
}

// provedDie is the densest die that the machine addresses: shown by the
// dies of what runs there, inferred from the ordinary module of the size that its
// maximum comes to. Two ranks of eight x8 chips make a size of the smallest dies
// there can be.
func (t *setting) provedDie() ceiling.Floor {
	g := t.limits.Generation.Or(0)
	of := func(size jedec.Capacity, ranks int) int {
		if mbit := int(size/jedec.MiB) / ranks; slices.Contains(g.Trait().Densities, mbit) {
			return mbit
		}
		return 0
	}
	shown := 0
	for _, seat := range t.fitted {
		if seat.Soldered {
			continue
		}
		st := &seat.Stick
		size := st.Capacity.Or(0)
		shown = max(shown, st.Density.Or(0), of(size, 2))
		if r, known := st.Ranks.Get(); known && r == 1 && st.Width.Or(8) == 8 {
			shown = max(shown, of(size, 1))
		}
	}
	return ceiling.Floor{Shown: ceiling.Dies(shown), Inferred: ceiling.Dies(of(t.published(), 2))}
}

// witnessKind reports whether a module of a kind runs in a socket there.
func (t *setting) witnessKind(kind string, ecc bool) bool {
	for _, seat := range t.fitted {
		if !seat.Soldered && bufferedAs(&seat.Stick) == kind && seat.Stick.ECC.Or(false) == ecc {
			return true
		}
	}
	return false
}

// witnessWidth reports whether a module of such chips runs in a socket there.
func (t *setting) witnessWidth(width int) bool {
	for _, seat := range t.fitted {
		if !seat.Soldered && seat.Stick.Width.Or(0) == width {
			return true
		}
	}
	return false
}

// A kindList is the kinds of module that a machine takes, "any" for all.
type kindList struct {
	kinds []string
	says  string
	any   bool
}

func (k kindList) String() string {
	if k.any {
		return "every kind"
	}
	return strings.Join(k.kinds, ", ")
}

func (k kindList) takes(kind string) bool { return k.any || slices.Contains(k.kinds, kind) }

// kinds is what the machine takes of buffering and check bits.
func (t *setting) kinds(w *rule.World) kindList {
	what, look := t.controllers("which kinds of module the machine takes", inSheetOrManual)
	var list kindList
	standing, stated := fact.Settled, false
	for _, c := range t.limits.On(ceiling.Kinds) {
		allowed, ok := c.Allowed.Get()
		if !ok || !c.Holds() {
			continue
		}
		if !stated {
			list, stated = kindList{kinds: slices.Clone(allowed.Words), says: c.Says}, true
		} else {
			list.kinds = slices.DeleteFunc(list.kinds, func(k string) bool { return !slices.Contains(allowed.Words, k) })
			list.says += "; " + c.Says
		}
		standing = min(standing, c.Standing)
	}
	if stated {
		list = t.besideWhatRuns(list)
	}
	switch {
	case stated && standing == fact.Settled:
		return list
	case stated:
		other := t.besideWhatRuns(kindList{any: true})
		if other.says == "" {
			other.says = list.says
		}
		return rule.Choose(w, rule.Possible[kindList]{Key: "kinds", Values: []kindList{list, other}, Leads: true,
			Fact: what, Look: look})
	}
	ordinary := kindList{kinds: []string{ceiling.Ordinary}, says: "most machines take ordinary modules alone"}
	for _, kind := range []string{ceiling.Registered, ceiling.LoadReduced, ceiling.FullyBuffered} {
		if t.witnessKind(kind, true) {
			ordinary = kindList{kinds: []string{kind}, says: "what is fitted is " + kind}
		}
	}
	return rule.Choose(w, rule.Possible[kindList]{Key: "kinds",
		Values: []kindList{ordinary, t.besideWhatRuns(kindList{any: true})}, Fact: what, Look: look, Infers: "witness"})
}

// buffered are the ways in which a module's address lines are driven; a machine that runs one of them takes none of
// the others.
var buffered = [][]string{
	{ceiling.Ordinary, ceiling.ECCModules},
	{ceiling.Registered, ceiling.LoadReduced, ceiling.Multiplexed},
	{ceiling.FullyBuffered},
}

// besideWhatRuns leaves of a list the kinds that are driven as what runs there.
func (t *setting) besideWhatRuns(list kindList) kindList {
	for _, seat := range t.fitted {
		if seat.Soldered || !seat.Stick.Registered.Known() {
			continue
		}
		runs := bufferedAs(&seat.Stick)
		for _, like := range buffered {
			if !slices.Contains(like, runs) {
				continue
			}
			kept := kindList{says: list.says}
			for _, kind := range like {
				if list.takes(kind) {
					kept.kinds = append(kept.kinds, kind)
				}
			}
			if len(kept.kinds) == 0 { // what is said does not fit what runs
				kept.kinds = like
			}
			if len(kept.kinds) < len(list.kinds) || list.any {
				kept.says = strings.TrimPrefix(list.says+"; what runs there is "+unbuffered(runs), "; ")
			}
			return kept
		}
	}
	return list
}
