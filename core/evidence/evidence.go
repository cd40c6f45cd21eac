// Package evidence turns readings into findings: what is known of the machine, how
// firmly, and why. Claims are drawn from each reading, then weighed against each
// other fact by fact. A claim that loses is kept in the fact.
package evidence

import (
	"fmt"
	"strings"
	"sync"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/machine"
	"epitome/core/plain"
	"epitome/core/reading"
	"epitome/core/smbios"
)

// sources are a card's readings, with what the catalogue knows beside them.
type sources struct {
	reading.Set
	known    catalogue.Catalogue
	boards   []catalogue.Board         // the catalogue's entries of this board or machine
	writes   convention                // what firmware writes into its speed fields
	platform func() catalogue.Platform // what holds the memory controller
	trouble  []machine.Conflict        // what does not add up, as far as it was met
	spots    []*spot                   // the places that readings list
	shared   []*reading.EEPROM         // of places of which either may have it
}

// table names a structure type as a source of claims.
func table(kind smbios.Type) string { return fmt.Sprintf("firmware table %d", kind) }

// lists names the list that describes the places, as a source: the fullest of those that there are.
func (s *sources) lists() string {
	origin := reading.PanelCount
	for _, y := range s.spots {
		origin = min(origin, y.Origin)
	}
	if len(s.spots) == 0 {
		origin = reading.Firmware
	}
	return origin.String()
}

// filledOnly reports whether the places are known from lists of the filled ones alone.
func (s *sources) filledOnly() bool {
	for _, y := range s.spots {
		if y.Origin != reading.Records {
			return false
		}
	}
	return len(s.spots) > 0
}

// Weigh works out what a card's readings say of the machine, with what the
// catalogue knows of its board and chipset. The same readings and catalogue always
// yield the same machine.
func Weigh(read reading.Set, known catalogue.Catalogue) machine.Machine {
	s := sources{Set: read, known: known}
	for _, t := range read.Troubles {
		s.trouble = append(s.trouble,
			machine.Conflict{About: machine.Subject{Topic: machine.AboutReading}, Says: t.Why, Sources: []string{t.Source}})
	}
	var m machine.Machine
	s.identify(&m)
	s.boards = known.BoardsOf(m)
	// only where a figure asks
	s.platform = sync.OnceValue(func() catalogue.Platform { return known.PlatformOf(m) })
	var strays []reading.Sighting
	s.spots, strays = fuse(read.Listed)
	for _, x := range strays {
		s.stray(x)
	}
	s.match()
	m.Places = s.places(m.Kind)
	m.Generation = s.generation(&m)
	m.Totals = s.total(m.Places)
	shareSizes(&m)
	m.Stated = s.stated(m.Places, m.Totals.Installed)
	m.Totals.StatedMaximum = statedMaximum(m.Stated)
	if sign, ok := s.hiddenSocket(m); ok {
		m.Totals.Sockets = m.Totals.Sockets.Softened(fact.Leaning, sign)
		m.Totals.SocketsFree = m.Totals.SocketsFree.Softened(fact.Leaning, sign)
	}
	m.Conflicts = s.conflicts(m)
	m.Open = s.open(m)
	return m
}

func (s sources) conflicts(m machine.Machine) []machine.Conflict {
	found := append(append(s.trouble, s.strangers()...), namesAgainst(m)...)
	installed, known := m.Totals.Installed.Get()
	if stated := s.firmwareMaximum(); len(stated) > 0 && known && stated[0].Value < installed {
		maximum := stated[0].Value
		found = append(found, machine.Conflict{
			About:   machine.Subject{Topic: machine.AboutMaximum},
			Says:    fmt.Sprintf("firmware states %v, %v are fitted", maximum, installed),
			Sources: []string{stated[0].Support.Source, s.lists()},
		})
	}
	found = append(found, s.accounts(m.Places, m)...)
	for _, e := range s.Tables.Errors {
		if !e.OK() && e.Type > 0x03 {
			found = append(found, machine.Conflict{About: machine.Subject{Topic: machine.AboutErrors},
				Says:    fmt.Sprintf("the firmware logged a memory error (code 0x%02X): test the modules", e.Type),
				Sources: []string{table(smbios.TypeMemoryError)}})
		}
	}
	announced, by := s.announced()
	listed := len(m.Places)
	if announced > 0 && announced != listed && len(s.countedSockets()) == 0 {
		found = append(found, machine.Conflict{
			About:   machine.Subject{Topic: machine.AboutPlaces},
			Says:    fmt.Sprintf("firmware announces %s and lists %d", plain.Count(announced, "place"), listed),
			Sources: []string{by.Announces(), s.lists()},
		})
	}
	return found
}

// namesAgainst are the names on which somebody acts and of which readings tell others, with the one that is used.
func namesAgainst(m machine.Machine) (found []machine.Conflict) {
	for _, r := range machine.Rows() {
		if !r.Acted {
			continue
		}
		x, ok := r.Show(&m, nil)
		if !ok || x.Standing != fact.Disputed && len(x.Against) == 0 {
			continue
		}
		c := machine.Conflict{About: machine.Subject{Topic: r.Topic}}
		var words []string
		for _, y := range append(x.Why, x.Against...) {
			c.Sources, words = append(c.Sources, y.Source), append(words, y.Says)
		}
		c.Says = strings.Join(words, "; ")
		if x.Text != "" {
			c.Says += "; used: " + x.Text
		}
		found = append(found, c)
	}
	return found
}

// hiddenSocket is the sign that a stated maximum gives against a machine without a
// socket: nobody states several times what is soldered where nothing can be added.
// Firmware that states what its controller could have does, so that it is a sign,
// and what somebody counted or saw stands over it.
func (s sources) hiddenSocket(m machine.Machine) (sign fact.Support, ok bool) {
	t := m.Totals
	sockets, known := t.Sockets.Get()
	most, stated := t.StatedMaximum.Get()
	soldered := t.Soldered.Or(0)
	if !known || sockets > 0 || !stated || soldered == 0 || most < 2*soldered {
		return sign, false
	}
	for _, p := range m.Places {
		if p.Attach.Standing() != fact.Settled {
			return sign, false // which of the places is one is asked already
		}
	}
	for _, h := range s.Hands {
		if h.Sockets > 0 || len(h.Seen) > 0 {
			return sign, false // somebody looked
		}
	}
	return fact.Support{Source: t.StatedMaximum.Why()[0].Source,
		Says: fmt.Sprintf("a maximum of %v beside %v soldered speaks for a socket that is not listed", most, soldered)}, true
}

// open names what is not settled and the one look that would settle it.
func (s sources) open(m machine.Machine) []machine.Open {
	var found []machine.Open
	if model, ok := m.Model.Get(); ok && !strings.ContainsAny(model, "0123456789") {
		found = append(found, machine.Open{About: machine.Subject{Topic: machine.AboutModel},
			Settles: fmt.Sprintf("%q names a line of machines; the exact model is on the label underneath, the board's "+
				"on the board", model)})
	}
	if len(m.Places) == 0 {
		found = append(found, machine.Open{About: machine.Subject{Topic: machine.AboutPlaces},
			Settles: machine.Subject{Topic: "sockets"}.Settles()})
	}
	if hidden, ok := s.hiddenSocket(m); ok {
		found = append(found, machine.Open{About: machine.Subject{Topic: machine.AboutSockets},
			Settles: hidden.Says + ": look under the cover"})
	}
	if s.stickersAlone() {
		found = append(found, machine.Open{About: machine.Subject{Topic: machine.AboutSockets},
			Settles: "count the machine's sockets: of those without a sticker nobody wrote"})
	}
	if len(m.Places) > 0 && m.Totals.Sockets.Standing() == fact.Disputed {
		found = append(found, machine.Open{About: machine.Subject{Topic: machine.AboutSockets},
			Settles: machine.Subject{Topic: "sockets"}.Settles()})
	}
	for _, p := range m.Places {
		if p.Attach.Standing() != fact.Settled {
			about := machine.Subject{Topic: machine.AboutAttach, Place: p.Name}
			found = append(found, machine.Open{About: about, Settles: about.Settles()})
		}
		if p.Module == nil {
			continue
		}
		if !p.Module.Generation.Known() {
			found = append(found, machine.Open{About: machine.Subject{Topic: machine.AboutGeneration, Place: p.Name},
				Settles: machine.Subject{Topic: "holds", Place: p.Name}.Settles()})
		}
		if !p.Module.Capacity.Known() {
			found = append(found, machine.Open{About: machine.Subject{Topic: machine.AboutCapacity, Place: p.Name},
				Settles: machine.Subject{Topic: "holds", Place: p.Name}.Settles()})
		}
	}
	if !m.Totals.StatedMaximum.Known() && len(m.Places) > 0 {
		about := machine.Subject{Topic: machine.AboutMaximum}
		found = append(found, machine.Open{About: about, Settles: about.Settles()})
	}
	return found
}

// stray says of a place that one list has, and that fits none of the list that describes all of them.
func (s *sources) stray(x reading.Sighting) {
	s.trouble = append(s.trouble, machine.Conflict{About: machine.Subject{Topic: machine.AboutPlaces},
		Says: fmt.Sprintf("%q is listed, and no such place where all of them are; not counted",
			strings.Join(namesOf(x), ", ")),
		Sources: []string{x.Origin.String(), s.lists()}})
}

// strangers names the EEPROMs that belong to no place that is listed, and those of places that are called empty.
func (s *sources) strangers() (found []machine.Conflict) {
	add := func(e *reading.EEPROM, says string) {
		what := "a module"
		if size, ok := e.Module.Capacity.Get(); ok {
			what = size.String()
		}
		if g, ok := e.Module.Generation.Get(); ok {
			what += " of " + g.String()
		}
		found = append(found, machine.Conflict{About: machine.Subject{Topic: machine.AboutEEPROM},
			Sources: []string{e.Source}, Says: what + says})
	}
	for _, y := range s.spots {
		if y.idle {
			add(y.chip, " answers, and is not in use: it sits in the only place that is called empty")
		}
	}
	if len(s.spots) == 0 {
		return found
	}
	for _, e := range s.unclaimed() {
		if s.allMatched() {
			add(e, " answers, and firmware lists no such module: it has a place of its own here")
			continue
		}
		add(e, ", which could not be matched with a place")
	}
	return found
}
