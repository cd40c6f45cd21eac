package catalogue

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
)

// A Ran is what ran on a board of this kind: field experience of the workshop's, which
// limits nothing and proves nothing of the next board; it makes what a published figure
// alone refuses likely.
type Ran struct {
	Total maybe.Value[jedec.Capacity]
	Each  maybe.Value[jedec.Capacity] // the largest module
	Rate  maybe.Value[jedec.Rate]
	Times int    // on how many machines, at least 1
	When  string // the last time, as the entry writes it
	By    string // who saw it; empty where nobody is named
}

// learnedBasis begins the basis of entries that were learned.
const learnedBasis = "learned"

// Learned reports whether the entry was learned from machines.
func (b Board) Learned() bool { return strings.HasPrefix(b.Basis, learnedBasis) }

// ErrNothingToLearn: the machine's board or model has no name, or nothing about it is
// settled.
var ErrNothingToLearn = errors.New("nothing to learn")

// Learn makes an entry of a machine's board: its sockets and soldered banks as far as they
// are settled, what its manual was quoted with, and what runs on it, seen once on a day
// and by a person, who may be nobody. What is not settled is left out: an entry takes
// nothing away from what readings say.
func Learn(m machine.Machine, day, by string) (Board, error) {
	b := Board{Basis: learnedBasis + " from a machine of the workshop's, " + day, Confidence: Medium}
	b.Maker, _ = m.Maker.Get()
	for _, name := range []fact.Fact[string]{m.Board, m.Model} {
		if n, ok := name.Get(); ok {
			n = strings.TrimSpace(strings.TrimPrefix(n, b.Maker+" "))
			if n != "" && !contains(b.Names, n) {
				b.Names = append(b.Names, n)
			}
		}
	}
	if len(b.Names) == 0 || b.Maker == "" {
		return b, fmt.Errorf("%w: neither board nor model of the machine has a name; add it with observe CARD "+
			"board=NAME maker=NAME", ErrNothingToLearn)
	}
	known := m.Totals.Sockets.Standing() == fact.Settled
	var ran Ran
	largest := jedec.Capacity(0)
	for _, p := range m.Places {
		channel := ""
		if p.Channel.Standing() == fact.Settled {
			channel, _ = p.Channel.Get()
		}
		attach, _ := p.Attach.Get()
		switch {
		case p.Attach.Standing() != fact.Settled:
			known = false
		case attach == machine.Socket:
			b.Slots = append(b.Slots, Slot{Name: p.Name, Channel: channel})
		default:
			s := Bank{Name: p.Name, Channel: channel}
			if p.Module != nil && p.Module.Capacity.Standing() == fact.Settled {
				s.Size = p.Module.Capacity.Value()
			}
			b.Soldered = append(b.Soldered, s)
		}
		if p.Module == nil {
			continue
		}
		if g, ok := p.Module.Generation.Get(); ok && p.Module.Generation.Standing() == fact.Settled &&
			!contains(b.Generations, g.String()) {
			b.Generations = append(b.Generations, g.String())
		}
		if attach == machine.Socket && p.Module.Capacity.Standing() == fact.Settled {
			largest = max(largest, p.Module.Capacity.Or(0))
		}
		if attach == machine.Socket && p.Form.Standing() == fact.Settled {
			b.Form = p.Form.Value()
		}
		if p.Running.Standing() == fact.Settled {
			ran.Rate = p.Running.Value()
		}
	}
	if !known {
		b.Slots, b.Soldered = nil, nil // a list that is not whole would say that there is no more
	}
	if len(b.Generations) > 1 {
		b.Generations = nil
	}
	for _, s := range m.Stated {
		if s.By == machine.ByTechnician && s.Standing == fact.Settled {
			switch s.Of {
			case machine.Whole:
				b.Most = maybe.Just(s.Capacity)
			case machine.EachSlot:
				b.PerSlot = maybe.Just(s.Capacity)
			}
		}
	}
	if m.Totals.Installed.Standing() == fact.Settled {
		ran.Total = m.Totals.Installed.Value()
	}
	if largest > 0 {
		ran.Each = maybe.Just(largest)
	}
	if ran != (Ran{}) {
		ran.Times, ran.When, ran.By = 1, day, by
		b.Ran = []Ran{ran}
	}
	if b.Ran == nil && b.Slots == nil && !b.Most.Known() {
		return b, fmt.Errorf("%w: of %s %s nothing is settled", ErrNothingToLearn, b.Maker, b.Names[0])
	}
	return b, nil
}

// Again adds what was learned of one more machine to an entry that was learned before:
// the same experience counts once more, another stands beside it.
func (b Board) Again(more Board) Board {
	b.Ran, b.Names = slices.Clone(b.Ran), slices.Clone(b.Names)
	for _, r := range more.Ran {
		found := false
		for i := range b.Ran {
			have := &b.Ran[i]
			if have.Total == r.Total && have.Each == r.Each && have.Rate == r.Rate {
				have.Times, have.By, found = max(have.Times, 1)+max(r.Times, 1), r.By, true
				have.When = max(have.When, r.When)
			}
		}
		if !found {
			b.Ran = append(b.Ran, r)
		}
	}
	for _, n := range more.Names {
		if !contains(b.Names, n) {
			b.Names = append(b.Names, n)
		}
	}
	if len(b.Slots)+len(b.Soldered) == 0 {
		b.Slots, b.Soldered = more.Slots, more.Soldered
	}
	if len(b.Generations) == 0 {
		b.Generations = more.Generations
	}
	if !b.Form.Known() {
		b.Form = more.Form
	}
	if !b.Most.Known() {
		b.Most = more.Most
	}
	if !b.PerSlot.Known() {
		b.PerSlot = more.PerSlot
	}
	return b
}

// compact writes a size as entries do, "16GB".
func compact(c jedec.Capacity) string { return strings.ReplaceAll(c.String(), " ", "") }

func contains(list []string, s string) bool {
	for _, x := range list {
		if folded(x) == folded(s) {
			return true
		}
	}
	return false
}
