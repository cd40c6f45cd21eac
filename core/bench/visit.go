package bench

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"epitome/core/ceiling"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
	"epitome/core/propose"
	"epitome/core/rule"
	"epitome/core/stock"
)

// A Visit is one sitting at one machine: what could be better without buying, what the
// user needs, how far the machine goes, what to buy, and the looks that settle most.
type Visit struct {
	Free      []propose.Gain
	Need      maybe.Value[need.Answer] // where uses were named or something was measured
	Measured  maybe.Value[need.Summary]
	Reach     Reach
	Asked     bool // for a goal; otherwise the next sensible sizes are worked out
	Proposals propose.Result
	Choices   []Choice // two to four where there are as many, the first one leads
	Nothing   error    // why there is nothing to choose, one of package propose's
	Looks     []Look   // that lead to a decision, the one that tells most first
}

// Reach is how far a machine goes.
type Reach struct {
	propose.Reach
	// Ways are how far it goes in each way in which it may be built, the least first, where that is open and they differ.
	Ways []ReachWay
	Rate maybe.Value[jedec.Rate] // with one module a channel
}

// Unknown says why it is not known how far a machine goes.
func (r Reach) Unknown() string {
	open, larger := r.Open.Get()
	switch {
	case r.Missing != nil && r.Missing.Look != "":
		return r.Missing.Says + " (" + r.Missing.Look + ")"
	case r.Missing != nil:
		return r.Missing.Says
	case larger:
		return fmt.Sprintf("nobody states whether it takes more than is fitted, up to %v", open)
	}
	return "no module that is sold is known to fit"
}

// A ReachWay is how far a machine goes if it is built in one way.
type ReachWay struct {
	Size jedec.Capacity
	If   string
}

// A Choice is one proposal with the reason for which somebody would take it.
type Choice struct {
	Number int // of the proposal
	Reason string
}

// Sitting is what a visit is asked.
type Sitting struct {
	Goal   propose.Goal // with no size and no money: the next sensible sizes
	Policy need.Policy
	Uses   []Use
}

// mostChoices bounds what a technician is asked to weigh.
const mostChoices = 4

// Visit works out a visit. stop is asked now and then whether to end early.
func (b *Bench) Visit(s Sitting, stop func() bool) Visit {
	v := Visit{Free: b.Free(), Reach: b.Reach()}
	q := need.Question{Uses: s.Uses}
	if series, _ := b.Series(); len(series) > 0 {
		q.Summary = maybe.Just(s.Policy.Summarise(series))
		v.Measured = q.Summary
	}
	if len(s.Uses) > 0 || v.Measured.Or(Measured{}).Samples > 1 { // one look is no measurement
		v.Need = maybe.Just(b.Need(s.Policy, q))
	}
	g := s.Goal
	v.Asked = g.Reach.Known() || g.Spend.Known() || g.Most || g.Rate.Known() || g.Fastest
	if a, named := v.Need.Get(); named && !v.Asked && len(s.Uses) > 0 && a.Recommended.Known() {
		s.Goal.Reach, v.Asked = a.Recommended, true
	}
	v.Proposals, v.Nothing = b.choose(s.Goal, v.Asked, stop)
	v.Proposals, v.Choices = choicesOf(v.Proposals)
	v.Looks = b.looks(v)
	return v
}

// Reach says how far the machine goes, in each way in which it may be built.
func (b *Bench) Reach() Reach {
	l := b.Ceilings()
	r := Reach{Reach: b.Farthest()}
	for _, x := range b.builds() {
		top, ok := x.bench.Farthest().Size.Get()
		if ok && !slices.ContainsFunc(r.Ways, func(w ReachWay) bool { return w.Size == top }) {
			r.Ways = append(r.Ways, ReachWay{top, x.says})
		}
	}
	slices.SortStableFunc(r.Ways, func(a, b ReachWay) int { return cmp.Compare(a.Size, b.Size) })
	if fills := l.Populations(); len(fills) > 0 {
		if bound, ok := ceiling.BoundOf(l.Rates(fills[0])); ok && bound.By.Source != ceiling.Standard {
			r.Rate = maybe.Just(bound.Most.Rate())
		}
	}
	return r
}

// choose searches for the goal, or, where none is named, for the steps that a technician would name: the best of each.
// Proposals of a further step have numbers below zero: [choicesOf] numbers what is shown.
func (b *Bench) choose(goal propose.Goal, asked bool, stop func() bool) (propose.Result, error) {
	if asked {
		return b.Propose(goal, stop)
	}
	steps := b.steps()
	if len(steps) == 0 {
		steps = []jedec.Capacity{b.Machine().Have() + jedec.GiB}
	}
	var all propose.Result
	var first error
	for i, size := range steps {
		if size < steps[0] && len(all.Proposals) > 0 {
			break // less than what makes a difference is for where that is not proved
		}
		goal.Reach = maybe.Just(size)
		r, err := b.Propose(goal, stop)
		if found := append(slices.Clone(r.Proposals), r.Unproven...); size == b.Machine().Have()+jedec.GiB && len(found) > 0 {
			r.Goal.Reach = maybe.Just(found[0].Trial.Total) // any more at all is a size, too
		}
		switch {
		case i == 0:
			all, first = leading(r), err
		case err != nil:
		case len(all.Proposals) > 0 && len(r.Proposals) > 0:
			step(&all, r.Proposals[0])
		case len(r.Proposals) > 0:
			open := slices.Clone(all.Unproven)
			for j := range open {
				open[j].Number = -1 - j // of another step
			}
			all, first = leading(r), nil
			all.Unproven = append(slices.Clip(all.Unproven), open...)
		case len(all.Proposals)+len(all.Unproven) == 0 && len(r.Unproven) > 0:
			all, first = r, nil // what waits for a fact is more than nothing
		}
	}
	return all, first
}

// leading keeps, of what was found for one step, the first one, what costs least, and what leads in a way in which the
// machine may be built.
func leading(r propose.Result) propose.Result {
	var kept []propose.Proposal
	for i, p := range r.Proposals {
		led := slices.ContainsFunc(r.Structures, func(x propose.Structure) bool { return x.First == p.Number })
		if i == 0 || led || slices.Contains(p.Picks, propose.LeastMoney) {
			kept = append(kept, p)
		}
	}
	r.Proposals = kept
	return r
}

// step adds the best of a further step to what is there, where it has more than all of it. The last one has the most.
func step(all *propose.Result, best propose.Proposal) {
	if slices.ContainsFunc(all.Proposals, func(p propose.Proposal) bool { return p.Trial.Total >= best.Trial.Total }) {
		return
	}
	for i := range all.Proposals {
		p := &all.Proposals[i]
		if at := slices.Index(p.Picks, propose.Largest); at >= 0 {
			p.Picks = slices.Clone(p.Picks)
			if p.Picks[at] = propose.MoreMemory; i == 0 {
				p.Picks = slices.Delete(p.Picks, at, at+1)
			}
		}
	}
	best.Number, best.Picks = -1-len(all.Proposals)-len(all.Unproven), []string{propose.Largest}
	all.Proposals = append(all.Proposals, best)
}

// steps are the sizes worth asking for where nobody named one: the next one up that makes
// a difference, its double, and the most that the machine reaches for certain or likely; then, for where
// neither can be had or proved, what is less and still more than there is, down to any more at all.
func (b *Bench) steps() (sizes []jedec.Capacity) {
	have := b.Machine().Have()
	top := b.Farthest().Size.Or(0)
	if top == 0 {
		top = 16 * jedec.TiB // not known: the search knows what fits
	}
	next := jedec.GiB
	for next < have+have/2 || next < 8*jedec.GiB && next*2 <= top {
		next *= 2
	}
	if next = min(next, top); next > have {
		sizes = append(sizes, next)
	}
	if b.Farthest().Size.Known() && 2*next < top {
		sizes = append(sizes, 2*next)
	}
	if top > next && b.Farthest().Size.Known() {
		sizes = append(sizes, top)
	}
	for less := next / 2; have > 0 && less > have && less >= jedec.GiB; less /= 2 {
		sizes = append(sizes, less)
	}
	if more := have + jedec.GiB; have > 0 && len(sizes) > 0 && more < sizes[len(sizes)-1] {
		sizes = append(sizes, more) // soldered memory makes sums between the steps
	}
	return sizes
}

// choicesOf are the proposals worth weighing, each with its reason: the recommended one,
// then those that are best at something else. What is not proved stands for choice only
// where nothing better does.
// The result comes back with these alone, numbered as they are shown.
func choicesOf(r propose.Result) (of propose.Result, list []Choice) {
	all := append(slices.Clone(r.Proposals), r.Unproven...)
	renumbered := make(map[int]int)
	of, of.Proposals, of.Unproven = r, nil, nil
	for _, p := range all {
		unproven := rule.Outcome(p.Trial.Verdict) == rule.Unproven
		reason := ""
		switch {
		case unproven:
			reason = "not proved yet"
		case len(p.Picks) > 0:
			reason = p.Picks[0]
		}
		led := slices.ContainsFunc(r.Structures, func(x propose.Structure) bool { return x.First == p.Number })
		if len(list) == mostChoices || reason == "" || unproven && len(r.Proposals) > 0 && !led {
			continue
		}
		if unproven && led && len(p.Picks) > 0 {
			reason = p.Picks[0]
		}
		renumbered[p.Number], p.Number = len(list)+1, len(list)+1
		list = append(list, Choice{p.Number, reason})
		if unproven {
			of.Unproven = append(of.Unproven, p)
		} else {
			of.Proposals = append(of.Proposals, p)
		}
	}
	of.Structures = slices.Clone(r.Structures)
	for i, x := range of.Structures {
		of.Structures[i].First = renumbered[x.First]
	}
	return of, list
}

// Cheapest is what the least of the choices costs, where costs are money.
func (v Visit) Cheapest() (least stock.Money, ok bool) {
	for _, c := range v.Choices {
		if p, err := Find(v.Proposals, c.Number); err == nil && v.Proposals.Priced && (!ok || p.Cost < least) {
			least, ok = p.Cost, true
		}
	}
	return least, ok
}

// A Nothing is why there is nothing to buy.
type Nothing uint8

// Why there is nothing to buy.
const (
	NotNothing Nothing = iota // there is something to choose
	Enough                    // the machine has what was asked for
	NoMore                    // it does not take what was asked for, or no more at all
	NotOffered                // nothing that is offered fits
	NotTold                   // a fact is missing
)

// Because is why a visit ended with nothing to choose.
func (v Visit) Because() Nothing {
	switch {
	case len(v.Choices) > 0:
		return NotNothing
	case errors.Is(v.Nothing, propose.ErrReached):
		return Enough
	case errors.Is(v.Nothing, propose.ErrBeyond) && v.Proposals.Unsold:
		return NotOffered
	case errors.Is(v.Nothing, propose.ErrBeyond):
		return NoMore
	}
	return NotTold
}

// Done reports whether a visit ended with nothing to buy because the machine has what is
// asked for, or goes no further.
func (v Visit) Done() bool {
	return errors.Is(v.Nothing, propose.ErrReached) ||
		!v.Asked && errors.Is(v.Nothing, propose.ErrBeyond) && !v.Proposals.Unsold
}
