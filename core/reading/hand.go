package reading

import (
	"strings"

	"epitome/core/card"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/plain"
	"epitome/core/records"
)

// A Hand is what a technician wrote down, with how it is cited.
type Hand struct {
	records.Hand
	Cite string // "hand entry by Jory"
	Seen []Seen
}

// A Seen is one place as somebody saw it, or read it off a manual.
type Seen struct {
	Name    string
	Source  string
	Attach  string                     // "socket", "soldered", empty where not said
	Takes   maybe.Value[jedec.Form]    // what fits it
	Channel string                     // as it was written; empty where not
	Filled  maybe.Value[bool]          // whether something sits there
	Says    string                     // what sits there, as it was written
	Sticker maybe.Value[module.Module] // the same, as far as it says anything
}

// readHands decodes the hand entries. One that was withdrawn stays on the card as
// history. A sticker that can't be right is named once, here.
func (s *Set) readHands(c card.Card) {
	for _, r := range c.Of(card.Hand) {
		if r.Failure != "" {
			continue
		}
		entry, err := records.ParseHand(r.Data)
		if err != nil {
			s.fail(r.Source, err.Error())
			continue
		}
		h := Hand{Hand: entry, Cite: "hand entry"}
		if by := plain.Line(h.By); by != "" {
			h.Cite += " by " + by
		}
		if h.Source != "" && h.Source != "sight" {
			h.Cite += ", from " + h.Source
		}
		for _, p := range h.Places {
			h.Seen = append(h.Seen, s.seen(p, h.Cite))
		}
		s.Hands = append(s.Hands, h)
	}
	s.Hands = bounded(s, "hand entries", "observations", s.Hands)
}

func (s *Set) seen(p records.HandPlace, source string) Seen {
	x := Seen{Name: plain.Line(p.Name), Source: source, Attach: p.Attach, Channel: plain.Line(p.Channel),
		Says: plain.Line(p.Holds)}
	x.Takes = maybe.If(jedec.ParseForm(p.Takes))
	switch {
	case p.Holds == "":
		return x
	case records.IsFree(p.Holds):
		x.Filled = maybe.Just(false)
		return x
	}
	x.Filled = maybe.Just(true)
	m, err := module.Parse(p.Holds)
	if err != nil {
		s.fail(source+", place "+x.Name, err.Error())
		return x
	}
	x.Sticker = maybe.Just(m)
	return x
}

// trusted drops the readings that a hand entry distrusts, and names them.
func (s *Set) trusted(c card.Card) card.Card {
	var kept []card.Reading
	for _, r := range c.Readings {
		by := ""
		for _, h := range s.Hands {
			for _, d := range h.Distrust {
				if d != "" && r.Kind != card.Hand &&
					(strings.EqualFold(d, string(r.Kind)) || strings.Contains(r.Source, d) ||
						strings.EqualFold(d, shortAddress(r.Address))) {
					by = h.Cite
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
