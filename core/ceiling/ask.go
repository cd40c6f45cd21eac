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
		return fmt.Sprintf("Likely not: %s sets a lower limit than %s, and is not firm.", said(a.Against), what)
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
