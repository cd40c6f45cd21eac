package ceiling

import (
	"fmt"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/machine"
)

// An Answer says whether a machine may go to a size or a rate.
type Answer struct {
	Yes      bool // every source that could object is known and allows it
	No       bool // a firm ceiling, or all there is, stands in the way
	Says     string
	Against  []Ceiling // the ceilings that it breaks
	NotKnown []Ceiling // open cells that could object
}

// ForSize answers whether the machine may come to a total.
func (l Limits) ForSize(size jedec.Capacity) Answer {
	a := weighUp(append(l.On(Capacity), l.On(OSCapacity)...), mib(size))
	top, known := l.Reachable.Get()
	switch {
	case known && size > top && l.Reachable.Standing == machine.Settled:
		a.No = true
	case !known || size > top:
		a.Yes = false
	}
	switch {
	case known && size > top && len(a.Against) == 0:
		a.Says = fmt.Sprintf("No ceiling on the whole forbids %v, but the places come to %v: %s.", size, top, l.Reachable.Why[0].Says)
	default:
		a.Says = a.sentence(size.String())
	}
	return a
}

// ForRate answers whether memory may run at a rate, filled one way.
func (l Limits) ForRate(rate jedec.Rate, p catalogue.Population) Answer {
	a := weighUp(l.Rates(p), int64(rate))
	a.Says = a.sentence(fmt.Sprintf("%v with %s", rate, Filled(p)))
	return a
}

// weighUp holds a figure against a row. A board or a technician that says
// nothing objects to nothing; a controller that says nothing might.
func weighUp(row []Ceiling, want int64) Answer {
	var a Answer
	asked := false
	for _, c := range row {
		most, ok := c.Most.Get()
		switch {
		case ok && c.Holds():
			asked = true
			if want > most {
				a.Against = append(a.Against, c)
				a.No = a.No || c.Standing == machine.Settled
			}
		case !c.Holds() && c.Source != Board && c.Source != Technician && !(c.What == OSCapacity && c.Standing >= machine.Leaning):
			a.NotKnown = append(a.NotKnown, c)
		}
	}
	a.Yes = asked && len(a.Against) == 0 && len(a.NotKnown) == 0
	return a
}

func (a Answer) sentence(what string) string {
	switch {
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
	for _, c := range list {
		if c.Standing == machine.Settled {
			return "the " + string(c.Source)
		}
	}
	if len(list) == 0 {
		return "something"
	}
	return "the " + string(list[0].Source)
}
