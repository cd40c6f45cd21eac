package bench

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/plain"
	"epitome/core/propose"
	"epitome/core/rule"
	"epitome/core/trial"
)

// A Going is whether a machine may go to a size or a rate: the one answer of --for, of the proposals and of the trial.
type Going struct {
	Verdict Verdict // works, likely, unproven, unlikely or refused
	Says    string
	Ways    []GoingWay        // for a rate, each way of filling a channel
	Because []ceiling.Ceiling // those that stand against it, or that could and say nothing
}

// A GoingWay is what one way of filling a channel comes to.
type GoingWay struct {
	Filled  string
	Verdict Verdict
}

// goingWords begin the answer, by verdict.
var goingWords = map[Verdict]string{rule.Works: "Yes", rule.Leans: "Likely", rule.CannotTell: "Can't be told",
	rule.LeansNo: "Likely not", rule.No: "No"}

// GoingWord is the word that begins an answer: "Yes", "Likely not".
func GoingWord(v Verdict) string { return goingWords[v] }

// MayReach answers whether the machine may come to a total: whether the modules that are sold hold a set that is
// proposed for it.
func (b *Bench) MayReach(size jedec.Capacity) (g Going) {
	r, err := b.Propose(propose.Goal{Reach: maybe.Just(size)}, nil)
	l := b.Ceilings()
	missing := (*propose.MissingError)(nil)
	var best *propose.Proposal
	for _, list := range [][]propose.Proposal{r.Proposals, r.Unproven} {
		for i := range list {
			if best == nil || rule.Outcome(list[i].Trial.Verdict).Classed() < rule.Outcome(best.Trial.Verdict).Classed() {
				best = &list[i]
			}
		}
	}
	for _, c := range l.On(ceiling.OSCapacity) {
		// What the system does not use is not reached, though the machine holds it.
		if most, stated := c.Most.Get(); stated && c.Holds() && size > most.Capacity() {
			g.Verdict = map[bool]Verdict{true: rule.No, false: rule.LeansNo}[c.Standing == fact.Settled]
			g.Says, g.Because = c.Says, []ceiling.Ceiling{c}
			return g.worded()
		}
	}
	switch {
	case errors.Is(err, propose.ErrReached):
		g.Verdict, g.Says = rule.Works, fmt.Sprintf("%v are fitted", b.Machine().Have())
		return g.worded()
	case errors.As(err, &missing):
		g.Verdict, g.Says = rule.CannotTell, missing.Says+"; "+missing.Look
		return g.worded()
	case best != nil:
		g.Verdict = Verdict(rule.Outcome(best.Trial.Verdict).Classed())
		g.Says = fmt.Sprintf("%v with %s", best.Trial.Total, boughtWords(*best))
		if looks := openLooks(best.Trial); len(looks) > 0 && g.Verdict != rule.Works {
			g.Says += "; " + looks[0]
		}
		if g.Verdict == rule.CannotTell {
			g.Because = against(l, size, false)
		}
		return g.worded()
	}
	if errors.Is(err, propose.ErrUnknown) {
		g.Verdict, g.Says = rule.CannotTell, plain.Line(err.Error())
		return g.worded()
	}
	g.Because, g.Verdict = against(l, size, true), rule.LeansNo
	if b.Farthest().Size.Standing() == fact.Settled ||
		slices.ContainsFunc(g.Because, func(c ceiling.Ceiling) bool { return c.Standing == fact.Settled }) {
		g.Verdict = rule.No
	}
	g.Says = r.Blocked
	if g.Says == "" && err != nil {
		_, g.Says, _ = strings.Cut(plain.Line(err.Error()), ": ")
	}
	return g.worded()
}

// worded begins the sentence with the answer's word.
func (g Going) worded() Going {
	g.Says = fmt.Sprintf("%s: %s.", goingWords[g.Verdict], strings.TrimSuffix(g.Says, "."))
	return g
}

// against are the limits on the whole that a size breaks; where it breaks none that is asked for, those that could
// object and say nothing.
func against(l ceiling.Limits, size jedec.Capacity, breaks bool) (list []ceiling.Ceiling) {
	for _, c := range append(slices.Clone(l.On(ceiling.Capacity)), l.On(ceiling.OSCapacity)...) {
		most, stated := c.Most.Get()
		switch {
		case c.Allows():
		case breaks && stated && c.Holds() && size > most.Capacity():
			list = append(list, c)
		case !breaks && !c.Holds() && c.Source != ceiling.Board && c.Source != ceiling.Technician:
			list = append(list, c)
		}
	}
	return list
}

// boughtWords says what is bought for a proposal: "2 × 16 GB DDR4-2400 SO-DIMM 2Rx8".
func boughtWords(p propose.Proposal) string {
	var words []string
	for _, x := range p.Buys {
		words = append(words, x.String())
	}
	if len(words) == 0 {
		return "what is there"
	}
	return plain.And(words)
}

// openLooks are the looks that would make a trial surer.
func openLooks(t trial.Trial) (looks []string) {
	for _, x := range t.Reasons {
		looks = append(looks, x.Looks()...)
	}
	return looks
}

// MayRun answers whether memory may run at a rate: yes where one way of filling a channel lets it.
func (b *Bench) MayRun(rate jedec.Rate) (g Going) {
	l := b.Ceilings()
	fills := l.Populations()
	if len(fills) == 0 {
		fills = []catalogue.Population{{Modules: 1}}
	}
	for i, p := range fills {
		a := l.ForRate(rate, p)
		way := GoingWay{ceiling.Filled(p), verdictOf(a)}
		g.Ways = append(g.Ways, way)
		if i == 0 || way.Verdict < g.Verdict {
			g.Verdict, g.Says = way.Verdict, a.Says
		}
		for _, c := range append(slices.Clone(a.Against), a.NotKnown...) {
			if !slices.ContainsFunc(g.Because, func(o ceiling.Ceiling) bool { return o.Says == c.Says }) {
				g.Because = append(g.Because, c)
			}
		}
	}
	return g
}

// verdictOf is the verdict that an answer about a rate comes to.
func verdictOf(a ceiling.Answer) Verdict {
	switch {
	case a.Softly:
		return rule.Leans
	case a.Yes:
		return rule.Works
	case a.No:
		return rule.No
	case len(a.Against) > 0:
		return rule.LeansNo
	}
	return rule.CannotTell
}
