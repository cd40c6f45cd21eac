package propose

import (
	"fmt"
	"slices"

	"epitome/core/ceiling"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/rule"
)

// faster reports whether a speed is asked for.
func (g Goal) faster() bool { return g.Rate.Known() || g.Fastest }

// sized is a goal with the size that it comes to on a machine, where it names another measure.
func (g Goal) sized(m machine.Machine) Goal {
	switch {
	case g.Most:
		g.Reach = maybe.Just(m.Have() + 1)
	case g.faster() && !g.Reach.Known() && !g.Spend.Known():
		g.Reach = maybe.Just(m.Have()) // faster is wanted, no more
	}
	return g
}

// holdsTheMost reports whether the most is asked for, and fitted.
func (s *search) holdsTheMost() bool {
	if !s.goal.Most {
		return false
	}
	r := Farthest(s.m, s.limits)
	return r.Size.Known() && s.have >= max(r.Size.Or(0), r.Open.Or(0))
}

// fastEnough stops a search for a rate that the machine runs at already, with all the memory that is asked for.
func (s *search) fastEnough(now Now) error {
	rate, asked := s.goal.Rate.Get()
	x, known := now.Operating.Get()
	if !asked || !known || x.Grade.Rate < rate || s.have < s.goal.Reach.Or(0) {
		return nil
	}
	return fmt.Errorf("%w: it runs at %d MT/s, %d MT/s are asked for", ErrReached, x.Grade.Rate, rate)
}

// furthest keeps, of what was found for the most or the fastest that is to be had, what is; and names it in the goal.
func (s *search) furthest(found []vector, now Now) ([]vector, error) {
	sure := func(v vector) bool { return v.proof <= rule.Likely }
	if s.goal.Most && slices.ContainsFunc(found, sure) {
		top := jedec.Capacity(0)
		for _, v := range found {
			if sure(v) {
				top = max(top, v.total)
			}
		}
		found = slices.DeleteFunc(found, func(v vector) bool { return v.total < top })
		s.goal.Reach = maybe.Just(top)
		s.value()
	}
	if !s.goal.Fastest || !slices.ContainsFunc(found, sure) {
		return found, nil
	}
	top := jedec.Rate(0)
	for _, v := range found {
		if sure(v) {
			top = max(top, v.rate)
		}
	}
	if x, ok := now.Operating.Get(); ok && x.Grade.Rate >= top && s.have >= s.goal.Reach.Or(0) {
		return nil, fmt.Errorf("%w: it runs at %d MT/s, and nothing at hand makes it faster", ErrReached, x.Grade.Rate)
	}
	s.goal.Rate = maybe.Just(top)
	return slices.DeleteFunc(found, func(v vector) bool { return v.rate < top }), nil
}

// tooFast says why no set runs at a rate; unsold says that no limit is in the way.
func (s *search) tooFast(want jedec.Rate) (says string, unsold bool) {
	top, by := jedec.Rate(0), ""
	for _, fill := range s.limits.Populations() {
		if b, ok := ceiling.BoundOf(s.limits.Rates(fill)); ok && b.Most.Rate() > top {
			top, by = b.Most.Rate(), b.By.Says
		}
	}
	if top > 0 && want > top {
		return fmt.Sprintf("%d MT/s are asked for; %s", want, by), false
	}
	return fmt.Sprintf("no set of the modules at hand runs at %d MT/s", want), true
}
