package evidence

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/plain"
)

// built leaves out the empty places that a count of the sockets has no room for:
// firmware is made for a chipset and lists what that could have. Which of the
// empty ones are there is only likely where some are and some are not; the ones
// on channels without a module come first.
func (s *sources) built(listed []machine.Place) []machine.Place {
	many, known := fact.Weigh(s.countedSockets()...).Get()
	sockets, filled := 0, make(map[string]int)
	var spare []int
	for i, p := range listed {
		if p.Attach.Or("") != machine.Socket {
			continue
		}
		sockets++
		if p.Filled.Or(true) {
			if p.Attach.Standing() != fact.Settled && (len(p.Attach.Why()) < 2 || len(p.Attach.Against()) > 0) {
				return listed // if it is soldered, the ones that were counted are the empty ones
			}
			filled[p.Channel.Or("")]++
			many--
		} else if by := s.seen(p); len(by.attach()) == 0 && len(by.filled()) == 0 {
			spare = append(spare, i)
		} else {
			many-- // somebody saw it
		}
	}
	if !known || many < 0 || many >= len(spare) {
		return listed
	}
	slices.SortStableFunc(spare, func(a, b int) int {
		return cmp.Compare(filled[listed[a].Channel.Or("")], filled[listed[b].Channel.Or("")])
	})
	says := fmt.Sprintf("firmware lists %s, %d counted", plain.Count(sockets, "socket"), sockets-len(spare)+many)
	support := fact.Support{Source: s.lists(),
		Says: says + ": which of the empty ones is there was not seen"}
	for _, i := range spare[:many] {
		listed[i].Attach = listed[i].Attach.Softened(fact.Leaning, support)
	}
	var gone []string
	kept := make([]machine.Place, 0, len(listed))
	for i, p := range listed {
		if slices.Contains(spare[many:], i) {
			gone = append(gone, p.Name)
			continue
		}
		kept = append(kept, p)
	}
	s.trouble = append(s.trouble,
		machine.Conflict{About: machine.Subject{Topic: machine.AboutPlaces},
			Says:    says + "; left out: " + strings.Join(gone, ", "),
			Sources: []string{s.lists(), "count by eye"}})
	return kept
}

// matched takes filled places of which the signs can't tell whether they are sockets, where somebody
// counted the sockets: all of them are, if with the others just so many were counted, and none of them if
// the others are so many. Where empty places may not be there either the count says nothing of one.
func (s *sources) matched(listed []machine.Place) []machine.Place {
	many, known := fact.Weigh(s.countedSockets()...).Get()
	comesSoldered := func(p machine.Place) bool { return p.Module != nil && p.Module.Generation.Or(0).LowPower() }
	if known && many == s.announces() && len(listed) <= many && !slices.ContainsFunc(listed, comesSoldered) {
		for i := range listed { // as many sockets as there are places: each of them is one
			if p := &listed[i]; p.Attach.Standing() < fact.Settled {
				p.Attach = fact.Join(p.Attach, fact.Weigh(fact.Claimed(machine.Socket, fact.Prime, "count by eye",
					fmt.Sprintf("%s counted, and as many places announced", plain.Count(many, "socket")))))
			}
		}
		return listed
	}
	sockets := 0
	var open []int
	for i, p := range listed {
		switch {
		case !p.Filled.Or(false) && p.Attach.Standing() != fact.Settled:
			return listed
		case comesSoldered(p):
			return listed // what comes soldered, against a count that has room for it: one of them is wrong
		case !p.Attach.Known():
			open = append(open, i)
		case p.Attach.Or("") == machine.Socket:
			sockets++
		}
	}
	attach, standing := machine.Socket, fact.Settled
	switch {
	case !known || many != sockets && many != sockets+len(open):
		return listed
	case many == sockets:
		attach, standing = machine.Soldered, fact.Leaning
	case s.announces() > len(listed):
		standing = fact.Leaning // an empty one may be there that nobody lists
	}
	count := fact.Claimed(attach, fact.Prime, "count by eye", fmt.Sprintf("%s counted; %d of %s may be soldered",
		plain.Count(many, "socket"), len(open), plain.Count(sockets+len(open), "place")))
	for _, i := range open {
		listed[i].Attach = fact.Join(listed[i].Attach, fact.Weigh(count)).Softened(standing)
		if attach == machine.Soldered && listed[i].Module != nil {
			listed[i].Module.Form = fact.Of(jedec.Soldered, fact.Leaning, count.Support)
		}
	}
	return listed
}

// fewer takes filled places that the signs call sockets for chips, where somebody
// counted fewer sockets: those whose modules name nothing, if just they are too many.
// Otherwise the count contradicts the signs, and that is said.
func (s *sources) fewer(listed []machine.Place) []machine.Place {
	many, known := fact.Weigh(s.countedSockets()...).Get()
	sockets := 0
	var nameless []int
	for i, p := range listed {
		if p.Attach.Or("") != machine.Socket || !p.Filled.Or(false) {
			continue
		}
		sockets++
		if p.Attach.Standing() < fact.Settled && p.Module != nil && !p.Module.Serial.Known() && !p.Module.Part.Known() {
			nameless = append(nameless, i)
		}
	}
	if !known || sockets <= many {
		return listed
	}
	says := fmt.Sprintf("%s counted, %d filled", plain.Count(many, "socket"), sockets)
	if len(nameless) != sockets-many {
		s.trouble = append(s.trouble,
			machine.Conflict{About: machine.Subject{Topic: machine.AboutSockets},
				Says:    says + ": some of them are soldered, or the count is wrong",
				Sources: []string{s.lists(), "count by eye"}})
		return listed
	}
	for _, i := range nameless {
		support := fact.Support{Source: "count by eye", Says: says + ", and what is here names nothing"}
		listed[i].Attach = fact.Of(machine.Soldered, fact.Leaning, support).Softened(fact.Leaning, listed[i].Attach.Why()...)
		listed[i].Module.Form = fact.Of(jedec.Soldered, fact.Leaning, support)
	}
	return listed
}
