package trial

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"epitome/core/ceiling"
	"epitome/core/machine"
	"epitome/core/plain"
	"epitome/core/rule"
)

// mostExchanges bounds the choices of modules to take out that are tried: of sixteen modules of which no two are
// alike two can be chosen in 120 ways.
const mostExchanges = 256

// Fit tries a plan as a technician does: where fewer sockets are free than it has sticks to place, they are tried in
// the place of the smallest modules that are fitted, and of each other choice, and the best of these is taken. What
// came out is in Instead. The error is one of Run's, and ErrNoRoom where there are more sticks than sockets.
func Fit(m machine.Machine, l ceiling.Limits, plan Plan) (Trial, error) {
	t, err := Run(m, l, plan)
	if !errors.Is(err, ErrNoRoom) && !errors.Is(err, ErrUnclear) {
		return t, err
	}
	var fitted []Seat
	seats, free := Fitted(m), 0
	for _, p := range m.Places {
		at := slices.IndexFunc(seats, func(s Seat) bool { return s.Place == p.Name })
		out := slices.ContainsFunc(plan.Pull, func(name string) bool { return p.Called(name) })
		used := slices.ContainsFunc(plan.Put, func(put Put) bool { return p.Called(put.Place) || p.Called(put.From) })
		switch {
		case p.Attach.Or("") != machine.Socket:
		case used:
		case at < 0 || out:
			free++
		default:
			fitted = append(fitted, seats[at])
		}
	}
	need := len(plan.Sticks) - free
	if need < 1 || need > len(fitted) {
		return t, err
	}
	slices.SortStableFunc(fitted, func(a, b Seat) int {
		return cmp.Or(cmp.Compare(a.Stick.Capacity.Or(0), b.Stick.Capacity.Or(0)),
			cmp.Compare(a.Stick.Rated.Or(0), b.Stick.Rated.Or(0)))
	})
	found := false
	choose(len(fitted), need, mostExchanges, func(which []int) {
		p := plan
		p.Pull = slices.Clone(plan.Pull)
		var instead []string
		for _, i := range which {
			p.Pull, instead = append(p.Pull, fitted[i].Place), append(instead, fitted[i].Place)
		}
		if x, e := Run(m, l, p); e == nil && (!found || x.betterThan(t)) {
			t, err, found = x, nil, true
			t.Instead = instead
		}
	})
	return t, err
}

// betterThan compares two ways of placing the same sticks: what is surer, then more memory, a higher rate, more of it
// over several channels together.
func (t Trial) betterThan(o Trial) bool {
	a, _ := t.Operating.Get()
	b, _ := o.Operating.Get()
	return cmp.Or(cmp.Compare(rule.Outcome(o.Verdict).Classed(), rule.Outcome(t.Verdict).Classed()),
		cmp.Compare(t.Total, o.Total), cmp.Compare(a.Grade.Rate, b.Grade.Rate), cmp.Compare(a.Paired(), b.Paired()),
		cmp.Compare(o.Verdict, t.Verdict)) > 0
}

// choose goes through the ways of choosing so many of n, the first ones first, at most so many ways.
func choose(n, so, most int, do func(which []int)) {
	which := make([]int, so)
	var from func(at, first int) bool
	from = func(at, first int) bool {
		if at == so {
			do(slices.Clone(which))
			most--
			return most > 0
		}
		for i := first; i <= n-so+at; i++ {
			if which[at] = i; !from(at+1, i+1) {
				return false
			}
		}
		return true
	}
	from(0, 0)
}

// noRoom says why so many sticks have nowhere to go: sockets that nobody has
// seen are told from sockets that are not there.
func (t *setting) noRoom(free, want int) error {
	for _, o := range t.m.Open {
		switch p := t.m.PlaceCalled(o.About.Place); o.About.Topic {
		case machine.AboutAttach, machine.AboutSockets, machine.AboutPlaces:
			if o.About.Topic == machine.AboutAttach && p != nil && p.Attach.Or("") == machine.Socket {
				continue // it counts as one already, and no look makes two of it
			}
			return fmt.Errorf("%w: free sockets known: %d, wanted: %d; %s", ErrUnclear, free, want, o.Settles)
		}
	}
	sockets := 0
	for _, p := range t.m.Places {
		sockets += map[bool]int{true: 1}[p.Attach.Or("") == machine.Socket]
	}
	switch {
	case sockets == 0:
		return fmt.Errorf("%w: all memory is soldered, there is no socket", ErrNoRoom)
	case want > sockets:
		return fmt.Errorf("%w: %s for %s", ErrNoRoom, plain.Count(want, "stick"), plain.Count(sockets, "socket"))
	}
	return fmt.Errorf("%w: free sockets: %d, wanted: %d; pull something first", ErrNoRoom, free, want)
}
