package evidence

import (
	"fmt"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
)

// Firmware's maximum is the array's total on one machine, the largest module
// of one place on another, and simply too low on a third. Each reading is
// tried against what is fitted; the one that agrees is taken, and named.

// stated lists the limits that firmware and technicians state, each with the
// reading of it that agrees with what is fitted.
func (s sources) stated(places []machine.Place, installed fact.Fact[jedec.Capacity]) []machine.Stated {
	out := s.handLimits()
	claims := s.firmwareMaximum()
	if len(claims) == 0 {
		return out
	}
	sum, source := claims[0].Value, claims[0].Support.Source
	add := func(of machine.StatedOf, size jedec.Capacity, standing fact.Standing, says string) {
		out = append(out, machine.Stated{By: machine.ByFirmware, Of: of, Capacity: size, Standing: standing, Source: source,
			Says: says})
	}
	if len(s.Announced) == 0 {
		for _, c := range s.Tables.Controllers {
			if each, ok := c.PerSlot.Get(); ok {
				add(machine.EachSlot, each, fact.Leaning, fmt.Sprintf("the largest module of a slot is %v", each))
				break
			}
		}
	}
	have, known := installed.Get()
	if !known || sum >= have {
		add(machine.Whole, sum, fact.Leaning, claims[0].Support.Says)
		return out
	}
	var largest jedec.Capacity
	for _, p := range places {
		if p.Module != nil {
			largest = max(largest, p.Module.Capacity.Or(0))
		}
	}
	each := sum / jedec.Capacity(max(1, s.arrays()))
	if total := each * jedec.Capacity(len(places)); each >= largest && total >= have {
		says := fmt.Sprintf("a maximum of %v; %v are fitted, so it is read as the most of one place: %d × %v", sum, have,
			len(places), each)
		add(machine.Whole, total, fact.Leaning, says)
		add(machine.EachSlot, each, fact.Leaning, says)
		return out
	}
	add(machine.Whole, sum, fact.Unknown,
		fmt.Sprintf("a maximum of %v; %v are fitted, so it is understated: the true one is unknown", sum, have))
	return out
}

// statedMaximum weighs what is stated about the whole machine. A statement
// that is contradicted by what is fitted is heard, and decides nothing.
func statedMaximum(stated []machine.Stated) fact.Fact[jedec.Capacity] {
	weights := map[fact.Standing]fact.Weight{fact.Settled: fact.Label, fact.Leaning: fact.Fair, fact.Unknown: fact.Hint}
	var claims []fact.Claim[jedec.Capacity]
	for _, x := range stated {
		if x.Of == machine.Whole {
			claims = append(claims, fact.Claimed(x.Capacity, weights[x.Standing], x.Source, x.Says))
		}
	}
	return fact.Weigh(claims...)
}

// accounts explains what of the installed memory the system does not see.
func (s sources) accounts(places []machine.Place, m machine.Machine) []machine.Conflict {
	installed, ok1 := m.Totals.Installed.Get()
	visible, ok2 := m.Totals.Visible.Get()
	if !ok1 || !ok2 {
		return nil
	}
	sources := []string{s.lists(), "operating system"}
	switch {
	case visible > installed:
		return []machine.Conflict{{About: machine.Subject{Topic: machine.AboutCapacity}, Sources: sources,
			Says: fmt.Sprintf("the system sees %v, the places come to %v: a module is not listed", visible, installed)}}
	case m.Totals.Shared():
		return nil
	case m.Totals.EndsBelow4GB():
		return []machine.Conflict{{About: machine.Subject{Topic: machine.AboutCapacity}, Sources: sources,
			Says: fmt.Sprintf("the system sees %v of %v: a 32-bit system, or firmware that does not move memory "+
				"from below 4 GB", visible, installed)}}
	}
	for _, p := range places {
		if p.Module == nil {
			continue
		}
		if size := p.Module.Capacity.Or(0); size > 0 && len(places) > 1 && installed-visible >= size &&
			installed-visible < size+size/2 {
			return []machine.Conflict{{About: machine.Subject{Topic: machine.AboutCapacity}, Sources: sources,
				Says: fmt.Sprintf("the system sees %v of %v: what is missing is as large as the module in %s; it may not be "+
					"recognised, or not seated", visible, installed, p.Name)}}
		}
	}
	return []machine.Conflict{{About: machine.Subject{Topic: machine.AboutCapacity}, Sources: sources,
		Says: fmt.Sprintf("the system sees %v of %v: a large graphics share, or a limit of its edition", visible, installed)}}
}
