package bench

import (
	"cmp"
	"errors"
	"slices"

	"epitome/core/fact"
	"epitome/core/machine"
	"epitome/core/plain"
	"epitome/core/propose"
	"epitome/core/rule"
	"epitome/core/trial"
)

// A Look is one thing to look at before a decision.
type Look struct {
	About   string            // the open fact
	Settles string            // what tells it
	Asks    []machine.Subject // what a person can say of it there and then
}

// mostLooks bounds what a technician is asked to look at.
const mostLooks = 3

// looks are those on which the decision depends: of the first choice the open facts that would break or prove it, and
// how the machine is built where another way buys something else; where nothing can be chosen the fact without which
// nothing can. What changes neither what is bought nor how sure it is, is none.
func (b *Bench) looks(v Visit) (list []Look) {
	if len(v.Choices) > 0 {
		return b.looksOf(v.Proposals, v.Choices[0])
	}
	if v.Because() != NotTold {
		return nil
	}
	if b.Ceilings().AsksChipset() {
		list = append(list, Look{"which chipset the board has", b.Next(), []machine.Subject{{Topic: machine.AboutChipset}}})
	}
	if m := (*propose.MissingError)(nil); errors.As(v.Nothing, &m) {
		return append(list, Look{m.About.String(), m.Look, b.askable(m.About)})
	}
	if len(list) == 0 {
		list = append(list, Look{About: "the machine", Settles: b.Next()})
	}
	return list
}

// askable is how a missing fact is asked of a person.
func (b *Bench) askable(about machine.Subject) (list []machine.Subject) {
	switch about.Topic {
	case machine.AboutAttach:
		return []machine.Subject{about}
	case machine.AboutSockets:
		return []machine.Subject{{Topic: "sockets"}}
	case machine.AboutGeneration:
		for _, p := range b.Machine().Places {
			if p.Module != nil && p.Attach.Or("") == machine.Socket && !p.Module.Generation.Known() {
				return []machine.Subject{{Topic: "holds", Place: p.Name}}
			}
		}
	}
	return nil
}

// inside is what a person can say who looks how the machine is built.
func (b *Bench) inside() (list []machine.Subject) {
	m := b.Machine()
	if m.Totals.Sockets.Standing() < fact.Settled {
		list = append(list, machine.Subject{Topic: "sockets"})
	}
	for _, p := range m.Places {
		if p.Attach.Standing() < fact.Settled && !p.Announced {
			list = append(list, machine.Subject{Topic: machine.AboutAttach, Place: p.Name})
		}
	}
	return list
}

// A Question is one that would settle much, with how its answer is observed.
type Question struct {
	Text    string
	Fact    string // as observe takes it: "sockets", "attach of DIMM 0"
	Example string
}

// mostQuestions bounds what a technician is asked at a visit.
const mostQuestions = 3

// Questions are those whose answers decide what a visit leads to, the most telling first.
func (v Visit) Questions() (list []Question) {
	for _, l := range v.Looks {
		for _, about := range l.Asks {
			text, example := about.Asked()
			q := Question{text, about.String(), example}
			if len(list) < mostQuestions && !slices.Contains(list, q) {
				list = append(list, q)
			}
		}
	}
	return list
}

// looksOf are the looks of a choice.
func (b *Bench) looksOf(r propose.Result, c Choice) (list []Look) {
	built := slices.ContainsFunc(r.Structures, func(x propose.Structure) bool { return x.First != r.Structures[0].First })
	if built {
		list = append(list, Look{"how the machine is built", lookInside, b.inside()})
	}
	p, err := Find(r, c.Number)
	if err != nil {
		return list
	}
	type open struct {
		Look
		worst rule.Outcome
		rules int
	}
	var facts []open
	var sockets []string
	for _, x := range p.Trial.Reasons {
		for _, d := range x.Depends {
			if place, asks := b.asksOfSocket(d); asks {
				if !slices.Contains(sockets, place) {
					sockets = append(sockets, place)
				}
				continue
			}
			at := slices.IndexFunc(facts, func(o open) bool { return o.Settles == d.Look && o.About == d.Fact })
			if at < 0 {
				at, facts = len(facts), append(facts, open{Look: Look{d.Fact, d.Look, b.asksOf(d)}})
			}
			facts[at].rules++
			facts[at].worst = max(facts[at].worst, x.Outcome)
		}
	}
	if len(sockets) > 0 && !built { // opening the machine tells it, too
		facts = append([]open{{lookForSockets(sockets), rule.Likely, 1}}, facts...)
	}
	slices.SortStableFunc(facts, func(a, b open) int {
		return cmp.Or(cmp.Compare(b.worst, a.worst), cmp.Compare(b.rules, a.rules))
	})
	for _, f := range facts {
		if !slices.ContainsFunc(list, func(l Look) bool { return l.Settles == f.Settles }) {
			list = append(list, f.Look)
		}
	}
	return list[:min(len(list), mostLooks)]
}

func lookForSockets(places []string) Look {
	about := "whether " + plain.And(places) + " are sockets"
	if len(places) == 1 {
		about = "whether " + places[0] + " is a socket"
	}
	l := Look{About: about, Settles: "look " + about}
	for _, p := range places {
		l.Asks = append(l.Asks, machine.Subject{Topic: machine.AboutAttach, Place: p})
	}
	return l
}

// asksOfSocket is the place of which it is open whether it is a socket, where that is the fact.
func (b *Bench) asksOfSocket(d rule.Dependence) (place string, asks bool) {
	for _, p := range b.Machine().Places {
		if about := (machine.Subject{Topic: machine.AboutAttach, Place: p.Name}); d.Key == about.String() {
			return p.Name, true
		}
	}
	return "", false
}

// asksOf is how a person is asked for a fact on which a choice depends.
func (b *Bench) asksOf(d rule.Dependence) []machine.Subject {
	if d.Fact == trial.WhichChipset {
		return []machine.Subject{{Topic: machine.AboutChipset}}
	}
	return nil
}
