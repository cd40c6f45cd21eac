package ceiling

import (
	"fmt"
	"slices"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
)

// An Answer says whether a machine may go to a size or a rate.
type Answer struct {
	Yes bool // every source that could object is known and allows it
	No  bool // a firm ceiling, or all there is, stands in the way
	// Softly: only ceilings that are not firm, below the one that binds, stand
	// against it: likely yes.
	Softly   bool
	Says     string
	Against  []Ceiling // the ceilings that it breaks
	NotKnown []Ceiling // open cells that could object
}

// ForSize answers whether the machine may come to a total: what it reaches and
// what its system uses are held against it alike.
func (l Limits) ForSize(size jedec.Capacity) Answer {
	a := weighUp(append(l.On(Capacity), l.On(OSCapacity)...), Bytes(size))
	if runs, ok := l.Commonly.Get(); ok && size <= runs && size > l.Reachable.Or(0) &&
		!slices.ContainsFunc(a.Against, func(c Ceiling) bool {
			return c.Standing == fact.Settled && c.Source != l.subject.from
		}) {
		a.Yes, a.No, a.Softly = true, false, true
		a.Says = fmt.Sprintf("Likely: published are %v; %v commonly runs.", l.Reachable.Or(0), runs)
		return a
	}
	if have := l.subject.m.Totals.Installed; have.Standing() == fact.Settled && size <= have.Or(0) && len(a.Against) == 0 {
		return Answer{Yes: true, Says: fmt.Sprintf("Yes: %v are fitted.", have.Or(0))}
	}
	if top, known := l.Reachable.Get(); !known {
		if a.Yes = false; !a.No && len(a.Against)+len(a.NotKnown) == 0 {
			a.Says = fmt.Sprintf("Can't be told: nothing known forbids %v, but how far the places go is not known; look "+
				"which of them are sockets.", size)
			return a
		}
	} else if n, counted := l.subject.m.Totals.Sockets.Get(); size > top &&
		(len(a.Against) == 0 || counted && n == 0 && !a.No) {
		a.Yes, a.No = false, l.Reachable.Standing() == fact.Settled
		a.Says = fmt.Sprintf("%s: no ceiling on the whole forbids %v, but the places come to %v: %s.",
			map[bool]string{true: "No", false: "Likely not"}[a.No], size, top, l.Reachable.Why()[0].Says)
		return a
	} else if _, bound := l.Bound(Capacity); bound && size <= top && len(a.Against) == 0 && len(a.NotKnown) > 0 {
		// The trial and the proposals go by what somebody states, though another might object.
		a.Yes, a.Softly = true, true
		a.Says = fmt.Sprintf("Likely: %s; %s is open.", l.Reachable.Why()[0].Says, said(a.NotKnown))
		return a
	}
	a.Says = a.sentence(size.String())
	return a
}

// ForRate answers whether memory may run at a rate, filled one way. A rate that
// the generation does not have is none of its.
func (l Limits) ForRate(rate jedec.Rate, p catalogue.Population) Answer {
	if g, known := l.Generation.Get(); known {
		x, real := jedec.GradeAt(g, rate)
		if grades := jedec.Grades(g); !real && len(grades) > 0 {
			return Answer{No: true, Says: fmt.Sprintf("No: %v has no rate of %d MT/s; the fastest of the standard is %d. "+
				"What is sold by a higher one runs so under an overclocking profile alone.", g, int(rate),
				int(grades[len(grades)-1].Rate))}
		}
		rate = x.Rate
	}
	a := weighUp(l.Rates(p), Speed(rate))
	a.Says = a.sentence(fmt.Sprintf("%v with %s", rate, Filled(p)))
	return a
}

// weighUp holds a figure against a row. A board or a technician that says
// nothing objects to nothing; a controller that says nothing might.
func weighUp(row []Ceiling, want Amount) Answer {
	var a Answer
	asked := false
	for _, c := range row {
		most, ok := c.Most.Get()
		switch {
		case c.Allows():
		case ok && c.Holds():
			asked = true
			if want.Exceeds(most) {
				a.Against = append(a.Against, c)
				a.No = a.No || c.Standing == fact.Settled
				a.Softly = a.Softly && c.Softer || len(a.Against) == 1 && c.Softer
			}
		case !c.Holds() && c.Source != Board && c.Source != Technician &&
			!(c.What == OSCapacity && c.Standing >= fact.Leaning):
			a.NotKnown = append(a.NotKnown, c)
		}
	}
	a.Softly = a.Softly && len(a.NotKnown) == 0
	a.Yes = asked && (len(a.Against) == 0 || a.Softly) && len(a.NotKnown) == 0
	return a
}

func (a Answer) sentence(what string) string {
	switch {
	case a.Softly:
		return fmt.Sprintf("Likely: %s states less than %s, which is not firm; no firm limit forbids it.", said(a.Against),
			what)
	case a.Yes:
		return "Yes: nothing stands in the way of " + what + "."
	case a.No:
		return fmt.Sprintf("No: %s sets a lower limit than %s.", said(a.Against), what)
	case len(a.Against) > 0:
		return fmt.Sprintf("Perhaps not: %s sets a lower limit than %s, and is not firm.", said(a.Against), what)
	}
	return fmt.Sprintf("Can't be told: nothing known forbids %s, but %s is open.", what, said(a.NotKnown))
}

// said names the sources of ceilings, the firm ones where there are any.
func said(list []Ceiling) string {
	if len(list) == 0 {
		return "something"
	}
	first := list[0]
	if firm := slices.IndexFunc(list, func(c Ceiling) bool { return c.Standing == fact.Settled }); firm >= 0 {
		first = list[firm]
	}
	if first.Source == System {
		return "the operating system"
	}
	return "the " + string(first.Source)
}
