package evidence

import (
	"fmt"
	"slices"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
)

// generation is what the machine's sockets take: what the modules in them are; where none tells, the only generation
// for sockets that controller, chipset and board all take. Modules in sockets that say nothing of theirs are of it.
func (s sources) generation(m *machine.Machine) fact.Fact[jedec.Generation] {
	only := s.onlyGeneration()
	for i := range m.Places {
		p := &m.Places[i]
		if p.Module != nil && p.Module.Generation.Standing() == fact.Unknown && p.Attach.Or("") == machine.Socket {
			p.Module.Generation = only
		}
	}
	var found fact.Fact[jedec.Generation]
	sockets := slices.ContainsFunc(m.Places, func(p machine.Place) bool { return p.Attach.Or("") != machine.Soldered })
	for _, p := range m.Places {
		if p.Module == nil || sockets && p.Attach.Or("") == machine.Soldered && p.Module.Generation.Or(0).LowPower() {
			continue // low-power chips on the board say nothing about its sockets
		}
		f := p.Module.Generation
		switch g, ok := f.Get(); {
		case !ok:
		case found.Known() && found.Or(0) != g:
			return found.Opposed(f)
		case !found.Known() || f.Standing() > found.Standing():
			found = f
		}
	}
	if found.Known() {
		return found
	}
	return only
}

// onlyGeneration is the one generation for sockets that all of them take, as sure as the catalogue is of the
// controller; nothing where there are several.
func (s sources) onlyGeneration() fact.Fact[jedec.Generation] {
	platform, standing := s.platform(), fact.Settled
	var left []jedec.Generation
	by := "the processor"
	if platform.Northbridge {
		by = "the chipset"
	}
	for _, c := range platform.Controllers {
		if g, _, ok := jedec.ParseGeneration(c.Generation); ok && !g.LowPower() && !slices.Contains(left, g) &&
			s.othersTake(platform.Chipsets, c.Generation) {
			left = append(left, g)
			if by = c.Family; c.Confidence != catalogue.High {
				standing = fact.Leaning
			}
		}
	}
	if len(s.boards) > 0 && len(platform.Controllers) == 0 && len(s.boards[0].Generations) == 1 {
		if g, _, ok := jedec.ParseGeneration(s.boards[0].Generations[0]); ok {
			left, by, standing = append(left, g), s.boards[0].Names[0], fact.Leaning
		}
	}
	if len(left) != 1 {
		return fact.Fact[jedec.Generation]{}
	}
	says := fmt.Sprintf("the only generation for sockets that %s takes is %v", by, left[0])
	return fact.Of(left[0], standing, fact.Support{Source: "catalogue", Says: says})
}

// othersTake reports whether chipset and board, as far as they are known, take a generation.
func (s sources) othersTake(chipsets []catalogue.Chipset, generation string) bool {
	for _, c := range chipsets {
		if len(c.Generations) > 0 && !slices.Contains(c.Generations, generation) {
			return false
		}
	}
	return len(s.boards) == 0 || len(s.boards[0].Generations) == 0 ||
		slices.Contains(s.boards[0].Generations, generation)
}
