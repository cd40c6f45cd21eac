package evidence

import (
	"fmt"
	"slices"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/module"
	"epitome/core/plain"
	"epitome/core/reading"
	"epitome/core/records"
)

// counted returns the number of sockets that somebody counted.
func (s sources) countedSockets() (claims []fact.Claim[int]) {
	for _, h := range s.Hands {
		if h.Sockets > 0 {
			claims = append(claims, fact.Claimed(h.Sockets, fact.Eyes, h.Cite, "counted: "+plain.Count(h.Sockets, "socket")))
		}
	}
	return claims
}

// byPerson is what a person's word of a name weighs, who reads it off the part: over all that firmware and system have
// it from.
const byPerson = 2 * fact.Eyes

// byHand are the claims that people make about a name of the machine.
func (s sources) byHand(topic machine.Topic) (claims []fact.Claim[string]) {
	for _, h := range s.Hands {
		if text := plain.Line(h.Machine[string(topic)]); text != "" {
			claims = append(claims, fact.Claimed(text, byPerson, h.Cite, fmt.Sprintf("%s %q", topic, text)))
		}
	}
	return claims
}

// handLimits are the limits that hand entries state.
func (s sources) handLimits() (out []machine.Stated) {
	for _, h := range s.Hands {
		for _, x := range []struct {
			of    machine.StatedOf
			limit records.HandLimit
			what  string
		}{{machine.Whole, h.Maximum, "a maximum of"}, {machine.EachSlot, h.PerSlot, "the largest module of a slot is"}} {
			if size, ok := x.limit.Capacity().Get(); ok {
				source := h.Cite
				if named := x.limit.Named(); named != h.Source { // the citation names the entry's own source already
					source += ", " + named
				}
				out = append(out, machine.Stated{By: machine.ByTechnician, Of: x.of, Capacity: size, Standing: fact.Settled,
					Source: source, Says: x.what + " " + size.String()})
			}
		}
		state := func(x machine.Stated) {
			x.By, x.Standing, x.Source = machine.ByTechnician, fact.Settled, h.Cite
			out = append(out, x)
		}
		if mv, ok := h.MilliVolts().Get(); ok {
			state(machine.Stated{Of: machine.GivenSupply, Supply: mv, Says: "the board gives " + jedec.Volts(mv)})
		}
		if h.SlotsAChannel > 0 {
			state(machine.Stated{Of: machine.SlotsOfAChannel, Count: h.SlotsAChannel,
				Says: plain.Count(h.SlotsAChannel, "socket") + " a channel"})
		}
		if h.Rate > 0 {
			rate := jedec.Rate(h.Rate)
			out = append(out, machine.Stated{By: machine.ByTechnician, Of: machine.TopRate, Rate: rate, Standing: fact.Settled,
				Source: h.Cite, Says: "the highest rate is " + rate.String()})
		}
	}
	return out
}

// A sighting is everything that was seen of one place, over all hand entries.
type sighting []reading.Seen

// seen collects what hand entries say of a place, by any of its names.
func (s sources) seen(at machine.Place) (found sighting) {
	for _, h := range s.Hands {
		for _, p := range h.Seen {
			if at.Called(p.Name) {
				found = append(found, p)
			}
		}
	}
	return found
}

func (g sighting) attach() (claims []fact.Claim[machine.Attach]) {
	for _, p := range g {
		if p.Attach != "" {
			claims = append(claims, fact.Claimed(machine.Attach(p.Attach), fact.Eyes, p.Source, "seen: "+p.Attach))
		}
		if m, ok := p.Sticker.Get(); ok && m.Form.Or(jedec.Soldered) != jedec.Soldered {
			claims = append(claims, fact.Claimed(machine.Socket, fact.Label, p.Source,
				"a module with a sticker of its own sits in a socket"))
		} else if !p.Filled.Or(true) {
			claims = append(claims, fact.Claimed(machine.Socket, fact.Label, p.Source, "seen empty: chips can't be missing"))
		}
	}
	return claims
}

func (g sighting) filled() (claims []fact.Claim[bool]) {
	for _, p := range g {
		if filled, ok := p.Filled.Get(); ok {
			claims = append(claims, fact.Claimed(filled, fact.Eyes, p.Source, fmt.Sprintf("seen: %q", p.Says)))
		} else if p.Attach == string(machine.Soldered) {
			claims = append(claims, fact.Claimed(true, fact.Eyes, p.Source, "soldered chips are there"))
		}
	}
	return claims
}

// channel is what somebody saw of a place's channel.
func (g sighting) channel() (claims []fact.Claim[string]) {
	for _, p := range g {
		if p.Channel != "" {
			claims = append(claims, fact.Claimed(p.Channel, fact.Eyes, p.Source, "channel "+p.Channel))
		}
	}
	return claims
}

// form is what fits a place: as somebody saw it, or as the module that sits there
// has it.
func (g sighting) form() (claims []fact.Claim[jedec.Form]) {
	for _, p := range g {
		if m, ok := p.Sticker.Get(); ok {
			if f, ok := m.Form.Get(); ok && f != jedec.Soldered {
				claims = append(claims, fact.Claimed(f, fact.Label, p.Source, "the module that sits there is a "+f.String()))
			}
		}
		if f, ok := p.Takes.Get(); ok {
			claims = append(claims, fact.Claimed(f, fact.Eyes, p.Source, "takes "+f.String()))
		}
	}
	return claims
}

// formOfAll is the form of all sockets, as somebody saw it, or as the board's entry
// has it.
func (s sources) formOfAll() (claims []fact.Claim[jedec.Form]) {
	for _, h := range s.Hands {
		if f, ok := jedec.ParseForm(h.Takes); ok {
			claims = append(claims, fact.Claimed(f, fact.Eyes, h.Cite, "the sockets take "+f.String()))
		}
	}
	for _, b := range s.boards {
		if f, ok := b.Form.Get(); ok {
			claims = append(claims, fact.Claimed(f, fact.Prime, boardSource(b), fmt.Sprintf("takes %v", f)))
		}
	}
	return claims
}

// sticker adds what was read off the stickers in a place.
func (c *fitted) sticker(g sighting, chip *reading.EEPROM) {
	for _, p := range g {
		if m, ok := p.Sticker.Get(); ok {
			if chip != nil {
				m = within(m, &chip.Module)
			}
			c.described(m, fact.Label, p.Source+", sticker")
		}
	}
}

// within leaves out the times of a sticker's grade that the module's own EEPROM undercuts: a grade says what a module
// keeps at the least, and one that is quicker is sold by it all the same.
func within(sticker module.Module, own *module.Module) module.Module {
	shorter := func(times *fact.Fact[jedec.Picoseconds], own fact.Fact[jedec.Picoseconds]) {
		if most, ok := times.Get(); ok && own.Known() && own.Or(0) <= most {
			*times = fact.Fact[jedec.Picoseconds]{}
		}
	}
	t := &sticker.Times
	shorter(&t.TAA, own.Times.TAA)
	shorter(&t.TRCD, own.Times.TRCD)
	shorter(&t.TRP, own.Times.TRP)
	shorter(&t.TRAS, own.Times.TRAS)
	shorter(&t.TRC, own.Times.TRC)
	shorter(&t.TCK, own.Times.TCK)
	if sticker.Rated.Or(0) > 0 && sticker.Rated.Or(0) <= own.Rated.Or(0) {
		if cl, ok := own.CL.Get(); ok && cl <= sticker.CL.Or(cl) {
			sticker.CL, sticker.Timing = fact.Fact[jedec.Latency]{}, fact.Fact[jedec.Timing]{}
		}
		if sticker.Rated.Or(0) < own.Rated.Or(0) {
			sticker.Rated = fact.Fact[jedec.Rate]{}
		}
	}
	return sticker
}

// handPlaces makes places of those that only hand entries name.
func (s *sources) handPlaces(listed []machine.Place) []machine.Place {
	var places []machine.Place
	known := machine.Machine{Places: slices.Clone(listed)}
	for _, h := range s.Hands {
		for _, p := range h.Seen {
			if known.PlaceCalled(p.Name) != nil {
				continue
			}
			if len(known.Places) >= reading.MostPlaces {
				return places
			}
			place := s.withNames(machine.Place{Name: p.Name})
			seen := s.seen(place)
			channels := append(append(seen.channel(), s.boardChannel(place)...),
				channelByName(p.Name, "", fact.Fair, p.Source)...)
			place.Channel = fact.Weigh(channels...)
			place.Attach = fact.Weigh(append(append(s.boardAttach(place), s.outcomeAttach(place)...), seen.attach()...)...)
			place.Filled = fact.Weigh(seen.filled()...)
			place.Form = fact.Weigh(append(seen.form(), s.formOfAll()...)...)
			if place.Filled.Or(false) {
				var c fitted
				c.sticker(seen, nil)
				s.trouble = append(s.trouble, c.into(&place, h.Cite)...)
			}
			known.Places, places = append(known.Places, place), append(places, place)
		}
	}
	return places
}
