package propose

import (
	"fmt"
	"slices"

	"epitome/core/ceiling"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/rule"
)

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
