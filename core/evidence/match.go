package evidence

import (
	"slices"

	"epitome/core/module"
	"epitome/core/reading"
)

// match finds for each place the EEPROM of the module in it: by serial number, else by a part number that only one of
// each has, else, where one filled place and one EEPROM are left and agree, by elimination; and one that is left beside
// the only empty place is what sits there and is not in use. Addresses alone match nothing: boards wire them as they
// like.
func (s *sources) match() {
	try := func(agree func(reading.Sighting, module.Module) bool) {
		for _, y := range s.spots {
			if y.chip != nil || !y.Filled.Or(false) {
				continue
			}
			if e, only := s.onlyEEPROM(y.Sighting, agree); only && s.claimants(e.Module, agree) == 1 {
				y.chip = e
			}
		}
	}
	try(sameSerial)
	try(samePart)
	s.matchLeft()
	strangers, empty := s.unclaimed(), []*spot(nil)
	for _, y := range s.spots {
		if filled, ok := y.Filled.Get(); ok && !filled && y.chip == nil {
			empty = append(empty, y)
		}
	}
	if len(strangers) == 1 && len(empty) == 1 && s.allMatched() {
		empty[0].chip, empty[0].idle = strangers[0], true
	}
}

// matchLeft ties by elimination.
func (s *sources) matchLeft() {
	var left []*spot
	for _, y := range s.spots {
		if y.Filled.Or(false) && y.chip == nil {
			left = append(left, y)
		}
	}
	if len(left) == 1 {
		if e, only := s.onlyEEPROM(left[0].Sighting, func(reading.Sighting, module.Module) bool { return true }); only &&
			agrees(left[0].Sighting, e.Module) {
			left[0].chip = e
			return
		}
	}
	// As many modules that are alike as there are places left: which is which tells
	// their serial numbers alone.
	alike := s.interchangeable()
	if len(alike) < 2 || len(alike) != len(left) {
		return
	}
	for _, y := range left {
		for _, e := range alike {
			if !agrees(y.Sighting, e.Module) {
				return
			}
		}
	}
	for n, y := range left {
		anonymous := *alike[n]
		anonymous.Module.ForgetIdentity()
		y.chip, y.either = &anonymous, true
		s.shared = append(s.shared, alike[n])
	}
}

// unclaimed are the EEPROMs that belong to no place.
func (s *sources) unclaimed() (list []*reading.EEPROM) {
	for i := range s.EEPROMs {
		e := &s.EEPROMs[i]
		if !slices.Contains(s.shared, e) && !slices.ContainsFunc(s.spots, func(y *spot) bool { return y.chip == e }) {
			list = append(list, e)
		}
	}
	return list
}

// interchangeable returns the unmatched EEPROMs, if nothing but their serial numbers
// and dates tells them apart.
func (s *sources) interchangeable() []*reading.EEPROM {
	list := s.unclaimed()
	for _, e := range list {
		if e.Module.Judged() != list[0].Module.Judged() || e.Module.Part != list[0].Module.Part {
			return nil
		}
	}
	return list
}

// onlyEEPROM returns the unmatched EEPROM that agrees with a place, and whether it is the only one.
func (s *sources) onlyEEPROM(x reading.Sighting, agree func(reading.Sighting, module.Module) bool) (*reading.EEPROM,
	bool) {
	found := slices.DeleteFunc(s.unclaimed(), func(e *reading.EEPROM) bool { return !agree(x, e.Module) })
	if len(found) != 1 {
		return nil, false
	}
	return found[0], true
}

// claimants counts the unmatched filled places that agree with an EEPROM.
func (s *sources) claimants(m module.Module, agree func(reading.Sighting, module.Module) bool) (n int) {
	for _, y := range s.spots {
		if y.chip == nil && y.Filled.Or(false) && agree(y.Sighting, m) {
			n++
		}
	}
	return n
}

func sameSerial(x reading.Sighting, m module.Module) bool {
	own, has := m.Serial.Get()
	return has && x.Serial != "" && reading.SameSerial(x.Serial, own)
}

func samePart(x reading.Sighting, m module.Module) bool {
	own, has := m.Part.Get()
	return has && x.Part != "" && reading.SamePart(x.Part, own) && agrees(x, m)
}

// agrees reports whether nothing that a list says of a place contradicts an EEPROM.
func agrees(x reading.Sighting, m module.Module) bool {
	return alike(x.Generation, m.Generation.Value()) && alike(x.Size, m.Capacity.Value()) &&
		!(x.Serial != "" && m.Serial.Known() && !sameSerial(x, m))
}
