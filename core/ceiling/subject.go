package ceiling

import (
	"fmt"
	"slices"
	"strings"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
)

// A subject is what the ceilings of one machine are worked out from.
type subject struct {
	m           machine.Machine
	controllers []catalogue.Controller // of the processor, or of the northbridge
	from        Source                 // Processor, or Chipset for a northbridge
	chipsets    []catalogue.Chipset
	board       maybe.Value[catalogue.Board]
	systems     []catalogue.System
	platform    catalogue.Platform
	generation  fact.Fact[jedec.Generation]
	form        fact.Fact[jedec.Form]
	controller  maybe.Value[catalogue.Controller] // for the generation
	past        catalogue.Past                    // of earlier jobs on machines of this make
}

func study(m machine.Machine, k catalogue.Catalogue) subject {
	s := subject{m: m, from: Processor, past: k.Past(), platform: k.PlatformOf(m)}
	if s.controllers, s.chipsets = s.platform.Controllers, s.platform.Chipsets; s.platform.Northbridge {
		s.from = Chipset
	}
	if boards := k.BoardsOf(m); len(boards) > 0 {
		s.board = maybe.Just(boards[0])
	}
	if name, ok := m.OS.Get(); ok {
		s.systems = catalogue.SystemsNamed(name, 0)
		for _, bits := range []int{32, 64} {
			if narrowed := catalogue.SystemsNamed(name, bits); len(narrowed) > 0 &&
				strings.Contains(strings.ReplaceAll(name, " bit", "-bit"), fmt.Sprintf("%d-bit", bits)) {
				s.systems = narrowed
			}
		}
		s.systems = s.usingAsMuch(s.systems)
	}
	s.generation, s.form = m.Generation, s.findForm()
	if g, ok := s.generation.Get(); ok {
		s.controller = s.controllerFor(g)
	}
	return s
}

// usingAsMuch leaves out the editions that use less than the system sees today. What Linux sees its own kernel says;
// of another system the readings may be of a rescue system that was started beside it.
func (s subject) usingAsMuch(all []catalogue.System) []catalogue.System {
	seen, known := s.m.Totals.Visible.Get()
	if !known || s.m.OS.Or("") != "Linux" {
		return all
	}
	left := slices.DeleteFunc(slices.Clone(all), func(x catalogue.System) bool {
		most, limited := x.Most.Get()
		return limited && most < seen
	})
	if len(left) == 0 {
		return all
	}
	return left
}

func (s subject) findForm() fact.Fact[jedec.Form] {
	var found fact.Fact[jedec.Form]
	for _, p := range s.m.Places {
		if f, ok := p.Form.Get(); ok && p.Attach.Or("") == machine.Socket {
			if found.Known() && found.Or(0) != f {
				return found.Opposed(p.Form)
			}
			if p.Form.Standing() > found.Standing() {
				found = p.Form
			}
		}
	}
	if b, ok := s.board.Get(); ok && !found.Known() {
		if f, known := b.Form.Get(); known {
			return fact.Of(f, fact.Leaning, fact.Support{Source: "catalogue, " + b.Where, Says: f.String()})
		}
	}
	return found
}

// controllerFor picks the row of a generation. DDR3L is a row of its own where
// 1.5 V modules are outside the specification.
func (s subject) controllerFor(g jedec.Generation) maybe.Value[catalogue.Controller] {
	for _, name := range []string{g.String(), g.String() + "L"} {
		for _, c := range s.controllers {
			if c.Generation == name {
				return maybe.Just(c)
			}
		}
	}
	for _, c := range s.controllers {
		if of, _, ok := jedec.ParseGeneration(c.Generation); c.ReportedAs == g.String() || ok && jedec.OneWord(of, g) {
			return maybe.Just(c) // firmware has one word for both
		}
	}
	return maybe.None[catalogue.Controller]()
}

// AsksChipset reports whether the memory controller is in the chipset, and nobody says which chipset it is: its name,
// its PCI id or the board's entry would tell all that is open.
func (l Limits) AsksChipset() bool {
	return l.subject.platform.Led.Known() && len(l.subject.controllers) == 0
}

// who names the holder of the controller, for sentences.
func (s subject) who() string {
	if len(s.controllers) > 0 {
		return s.controllers[0].Family
	}
	return s.m.Processor.Or("the processor")
}

// sockets counts the places that are sockets, by channel where channels are
// known.
func (s subject) sockets() (n int, byChannel map[string]int) {
	byChannel = make(map[string]int)
	for _, p := range s.m.Places {
		if p.Attach.Or("") == machine.Socket {
			n++
			if c, ok := p.Channel.Get(); ok {
				byChannel[c]++
			}
		}
	}
	return n, byChannel
}

// slotsOfAChannel is the most sockets that one channel has, as far as the
// machine or its board's entry tells.
func (s subject) slotsOfAChannel() maybe.Value[int] {
	most := 0
	n, byChannel := s.sockets()
	counted := 0
	for _, c := range byChannel {
		most, counted = max(most, c), counted+c
	}
	if b, ok := s.board.Get(); ok {
		count := make(map[string]int)
		for _, slot := range b.Slots {
			if slot.Channel != "" {
				count[slot.Channel]++
				most = max(most, count[slot.Channel])
			}
		}
	}
	switch {
	case most > 0 && counted == n:
		return maybe.Just(most)
	case n == 1:
		return maybe.Just(1)
	case n > 0:
		// Channels not named: as many as the controller has share the sockets evenly.
		if c, ok := s.controller.Get(); ok {
			if channels, ok := c.Channels.Get(); ok && n%channels == 0 {
				return maybe.Just(n / channels)
			}
		}
	}
	return maybe.If(most, most > 0)
}

// populations are the ways of filling a channel that this machine allows, as
// far as they are worth a row.
func (s subject) populations() []catalogue.Population {
	slots := s.slotsOfAChannel()
	most := min(slots.Or(1), 3)
	var out []catalogue.Population
	for modules := 1; modules <= most; modules++ {
		for ranks := 1; ranks <= 2; ranks++ {
			out = append(out, catalogue.Population{Modules: modules, Ranks: maybe.Just(ranks), Slots: slots})
		}
	}
	return out
}

// Populations are the ways of filling a channel that the machine allows.
func (l Limits) Populations() []catalogue.Population { return l.subject.populations() }
