package evidence

import (
	"fmt"
	"strings"

	"epitome/core/card"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/module"
	"epitome/core/plain"
	"epitome/core/records"
)

// A handEntry is what a technician wrote down, with how it is cited.
type handEntry struct {
	records.Hand
	source string // "hand entry by Jory"
}

func (s *sources) readHands(c card.Card) {
	for _, r := range c.Of(card.Hand) {
		if r.Failure != "" {
			continue // withdrawn; it stays on the card as history
		}
		h, err := records.ParseHand(r.Data)
		if err != nil {
			s.fail(r.Source, err.Error())
			continue
		}
		source := "hand entry"
		if by := plain.Line(h.By); by != "" {
			source += " by " + by
		}
		if h.Source != "" && h.Source != "sight" {
			source += ", from " + h.Source
		}
		for i := range h.Places {
			// A sticker that can't be right is named once, here.
			p := &h.Places[i]
			if p.Holds == "" || strings.EqualFold(p.Holds, records.Free) {
				continue
			}
			if _, err := module.Parse(p.Holds); err != nil {
				s.fail(source+", place "+plain.Line(p.Name), err.Error())
			}
		}
		s.hands = append(s.hands, handEntry{h, source})
	}
	s.hands = bounded(s, "hand entries", "observations", s.hands)
}

// trusted drops the readings that a hand entry distrusts, and names them.
func (s *sources) trusted(c card.Card) card.Card {
	var kept []card.Reading
	for _, r := range c.Readings {
		by := ""
		for _, h := range s.hands {
			for _, d := range h.Distrust {
				if d != "" && r.Kind != card.Hand && (strings.EqualFold(d, string(r.Kind)) || strings.Contains(r.Source, d) || strings.EqualFold(d, shortAddress(r.Address))) {
					by = h.source
				}
			}
		}
		if by != "" {
			s.fail(r.Source, "distrusted ("+by+"); not used")
			continue
		}
		kept = append(kept, r)
	}
	c.Readings = kept
	return c
}

// counted returns the number of sockets that somebody counted.
func (s sources) countedSockets() (claims []fact.Claim[int]) {
	for _, h := range s.hands {
		if h.Sockets > 0 {
			claims = append(claims, fact.Claimed(h.Sockets, fact.Eyes, h.source, "counted: "+counted(h.Sockets, "socket")))
		}
	}
	return claims
}

// handNamed are the claims that hand entries make about the machine itself.
type handNamed struct {
	kind                                            []fact.Claim[machine.Kind]
	maker, model, board, processor, chipset, system []fact.Claim[string]
}

func (s sources) handNames() (n handNamed) {
	for _, h := range s.hands {
		if h.Machine.Kind != "" {
			n.kind = append(n.kind, fact.Claimed(machine.Kind(h.Machine.Kind), fact.Prime, h.source, "kind "+h.Machine.Kind))
		}
		for _, x := range []struct {
			claims *[]fact.Claim[string]
			text   string
			field  string
		}{{&n.maker, h.Machine.Maker, "maker"}, {&n.model, h.Machine.Model, "model"}, {&n.board, h.Machine.Board, "board"}, {&n.processor, h.Machine.Processor, "processor"},
			{&n.chipset, h.Machine.Chipset, "chipset"}, {&n.system, h.Machine.System, "system"}} {
			if text := plain.Line(x.text); text != "" {
				*x.claims = append(*x.claims, fact.Claimed(text, fact.Prime, h.source, fmt.Sprintf("%s %q", x.field, text)))
			}
		}
	}
	return n
}

// handLimits are the limits that hand entries state.
func (s sources) handLimits() (out []machine.Stated) {
	for _, h := range s.hands {
		for _, x := range []struct {
			of    machine.StatedOf
			limit records.HandLimit
			what  string
		}{{machine.Whole, h.Maximum, "a maximum of"}, {machine.EachSlot, h.PerSlot, "the largest module of a slot is"}} {
			if size, ok := x.limit.Capacity().Get(); ok {
				out = append(out, machine.Stated{By: machine.ByTechnician, Of: x.of, Capacity: size, Standing: fact.Settled,
					Source: h.source + ", " + x.limit.Named(), Says: x.what + " " + size.String()})
			}
		}
		if h.Rate > 0 {
			rate := jedec.Rate(h.Rate)
			out = append(out, machine.Stated{By: machine.ByTechnician, Of: machine.TopRate, Rate: rate, Standing: fact.Settled,
				Source: h.source, Says: "the highest rate is " + rate.String()})
		}
	}
	return out
}

// A sighting is everything that was seen of one place, over all hand entries.
type sighting []struct {
	records.HandPlace
	source string
}

// seen collects what hand entries say of the place with that name.
func (s sources) seen(name string) (found sighting) {
	for _, h := range s.hands {
		for _, p := range h.Places {
			if strings.EqualFold(strings.TrimSpace(p.Name), name) {
				found = append(found, struct {
					records.HandPlace
					source string
				}{p, h.source})
			}
		}
	}
	return found
}

func (g sighting) attach() (claims []fact.Claim[machine.Attach]) {
	for _, p := range g {
		if p.Attach != "" {
			claims = append(claims, fact.Claimed(machine.Attach(p.Attach), fact.Eyes, p.source, "seen: "+p.Attach))
		}
		if strings.EqualFold(p.Holds, records.Free) {
			claims = append(claims, fact.Claimed(machine.Socket, fact.Label, p.source, "seen empty: chips can't be missing"))
		} else if s, err := module.Parse(p.Holds); err == nil && p.Holds != "" && s.Form.Or(jedec.Soldered) != jedec.Soldered {
			claims = append(claims, fact.Claimed(machine.Socket, fact.Label, p.source, "a module with a sticker of its own sits in a socket"))
		}
	}
	return claims
}

func (g sighting) filled() (claims []fact.Claim[bool]) {
	for _, p := range g {
		if p.Holds != "" {
			filled := !strings.EqualFold(p.Holds, records.Free)
			claims = append(claims, fact.Claimed(filled, fact.Eyes, p.source, fmt.Sprintf("seen: %q", plain.Line(p.Holds))))
		} else if p.Attach == string(machine.Soldered) {
			claims = append(claims, fact.Claimed(true, fact.Eyes, p.source, "soldered chips are there"))
		}
	}
	return claims
}

func (g sighting) form() (claims []fact.Claim[jedec.Form]) {
	for _, p := range g {
		if f, ok := jedec.ParseForm(p.Takes); ok {
			claims = append(claims, fact.Claimed(f, fact.Eyes, p.source, "takes "+f.String()))
		}
	}
	return claims
}

// sticker adds what was read off the stickers in a place.
func (c *fitted) sticker(g sighting) {
	for _, p := range g {
		if strings.EqualFold(p.Holds, records.Free) {
			continue
		}
		if s, err := module.Parse(p.Holds); err == nil {
			c.described(s, fact.Label, p.source+", sticker")
		}
	}
}

// handPlaces makes places of those that only hand entries name.
func (s sources) handPlaces(listed []string) []machine.Place {
	var places []machine.Place
	known := make(map[string]bool)
	for _, name := range listed {
		known[strings.ToLower(name)] = true
	}
	for _, h := range s.hands {
		for _, p := range h.Places {
			name := plain.Line(p.Name)
			if known[strings.ToLower(name)] {
				continue
			}
			if len(known) >= mostPlaces {
				return places
			}
			known[strings.ToLower(name)] = true
			seen := s.seen(name)
			place := machine.Place{Name: name, Attach: fact.Weigh(seen.attach()...), Filled: fact.Weigh(seen.filled()...), Form: fact.Weigh(seen.form()...)}
			if place.Filled.Or(false) {
				var c fitted
				c.sticker(seen)
				c.into(&place, h.source)
			}
			places = append(places, place)
		}
	}
	return places
}
