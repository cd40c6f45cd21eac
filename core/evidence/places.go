package evidence

import (
	"fmt"
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/reading"
	"epitome/core/smbios"
)

// places makes one place of each that readings list, then of those that only people and the board's entry name, and
// of those that are announced.
func (s *sources) places(kind fact.Fact[machine.Kind]) []machine.Place {
	names := placeNames(s.spots)
	s.writes = conventionOf(s.spots, s.highest)
	places := make([]machine.Place, len(s.spots))
	for i, y := range s.spots {
		places[i] = s.place(y, names[i], kind)
	}
	if len(s.spots) == 0 || s.allMatched() {
		places = append(places, s.chipPlaces()...)
	}
	listed := len(places)
	places = append(places, s.handPlaces(places)...)
	places = s.fewer(s.matched(s.built(append(places, s.hiddenPlaces(places)...))))
	places = append(places, s.unlisted(places, listed, kind)...)
	s.shareChannels(places)
	return places
}

// withNames adds what a place was called, or is called since, by the jobs that fitted a module there.
func (s *sources) withNames(p machine.Place) machine.Place {
	for _, job := range s.PastJobs {
		for _, x := range job.Named {
			switch {
			case p.Called(x.Planned):
				p.Names = nameAdded(p.Names, x.Since)
			case p.Called(x.Since):
				p.Names = nameAdded(p.Names, x.Planned)
			}
		}
	}
	return p
}

// unlisted are the places that are announced, or were counted, and that nobody
// lists. A system lists the filled ones only: what it announces beyond them is
// free, likely. A firmware table describes empty places too, so that one which it
// announces and does not describe is not known to be a socket. fromReadings is how many
// of the places readings list; one that a person named beside them is one of the announced.
func (s *sources) unlisted(listed []machine.Place, fromReadings int,
	kind fact.Fact[machine.Kind]) (places []machine.Place) {
	many := 0
	announced, origin := s.announced()
	source, says, w := origin.Announces(), "announced, and not among the filled places that the system lists", fact.Fair
	inTower := s.inTower(kind, source)
	if s.filledOnly() {
		many = announced
		s.named(listed, fromReadings, many-fromReadings, source, says, inTower)
	}
	for _, c := range s.countedSockets() {
		many, source, says, w = c.Value, c.Support.Source, c.Support.Says, fact.Firm
		for _, p := range listed {
			if p.Attach.Or("") == machine.Soldered {
				many++ // soldered banks are no sockets
			}
		}
	}
	if len(listed) == 0 || many > reading.MostPlaces {
		return nil
	}
	taken := make(names)
	for _, p := range listed {
		taken.own(p.Name)
	}
	free := s.freeChannels(listed, many)
	for n := len(listed); n < many; n++ {
		p := machine.Place{
			Name:      taken.own(machine.AnnouncedName(n + 1)),
			Announced: true,
			Attach:    fact.Weigh(fact.Claimed(machine.Socket, w, source, says)),
			Filled:    fact.Weigh(fact.Claimed(false, w, source, says)),
		}
		p = s.withNames(p)
		p.Attach = fact.Join(p.Attach, fact.Weigh(inTower...))
		p.Attach = fact.Join(p.Attach, fact.Weigh(s.outcomeAttach(p)...))
		if form, known := listed[0].Form.Get(); known {
			p.Form = fact.Weigh(fact.Claimed(form, fact.Fair, source, "as the listed ones: "+form.String()))
		}
		if at := n - len(listed); at < len(free) {
			p.Channel = fact.Weigh(fact.Claimed(free[at], fact.Fair, source,
				fmt.Sprintf("as many sockets on each channel: %d of %d", many/s.channelCount(many), many)))
		}
		places = append(places, p)
	}
	return places
}

// named lets a person's names of places be those of the announced ones: as many as there are, in the order in which
// they were named. What the announcement says of them still holds, and they answer to its names.
func (s *sources) named(listed []machine.Place, fromReadings, many int, source, says string,
	inTower []fact.Claim[machine.Attach]) {
	for i := fromReadings; i < len(listed) && i-fromReadings < many; i++ {
		p := &listed[i]
		p.Names = nameAdded(p.Names, machine.AnnouncedName(i+1))
		p.Announced = p.Attach.Standing() < fact.Settled
		p.Attach = fact.Join(p.Attach,
			fact.Weigh(append(inTower[:len(inTower):len(inTower)], fact.Claimed(machine.Socket, fact.Fair, source, says))...))
		if !p.Filled.Known() {
			p.Filled = fact.Join(p.Filled, fact.Weigh(fact.Claimed(false, fact.Fair, source, says)))
		}
		if form, known := listed[0].Form.Get(); known {
			p.Form = fact.Join(p.Form, fact.Weigh(fact.Claimed(form, fact.Fair, source,
				"as the listed ones: "+form.String())))
		}
	}
	// Channels are shared out among the sockets that have none yet.
	var without []*machine.Place
	var others []machine.Place
	for i := range listed {
		if i >= fromReadings && !listed[i].Channel.Known() && i-fromReadings < many {
			without = append(without, &listed[i])
		} else {
			others = append(others, listed[i])
		}
	}
	total := fromReadings + many
	for n, channel := range s.freeChannels(others, total) {
		if n < len(without) {
			without[n].Channel = fact.Weigh(fact.Claimed(channel, fact.Fair, source,
				fmt.Sprintf("as many sockets on each channel: %d of %d", total/s.channelCount(total), total)))
		}
	}
	copy(listed[:min(fromReadings, len(others))], others) // the only one without a name of its channel gets one there
}

// announces is how many places a source says that there are.
func (s *sources) announces() int {
	n, _ := s.announced()
	return n
}

// allMatched reports whether every filled place that is listed has its EEPROM:
// then one that answers beside them is a module that firmware does not list.
func (s *sources) allMatched() bool {
	filled := 0
	for _, y := range s.spots {
		if y.Filled.Or(true) && !y.idle {
			if filled++; y.chip == nil {
				return false
			}
		}
	}
	return filled > 0
}

// chipPlaces makes one place of each EEPROM that belongs to none that firmware
// lists: a place is known then by its chip's address alone.
func (s *sources) chipPlaces() []machine.Place {
	var places []machine.Place
	taken := make(names)
	for _, e := range s.unclaimed() {
		p := machine.Place{Name: taken.own(e.Source), EEPROMAddress: e.Address, Attach: fact.Weigh(attachedBy(*e)...),
			Filled: fact.Weigh(fact.Claimed(true, fact.Prime, e.Source, "its EEPROM answers"))}
		if f, ok := e.Module.Form.Get(); ok {
			p.Form = fact.Weigh(fact.Claimed(f, fact.Fair, e.Source, "module type "+f.String()))
		}
		var c fitted
		c.image(*e)
		s.trouble = append(s.trouble, c.into(&p, e.Source)...)
		places = append(places, p)
	}
	return places
}

// placeNames gives each place a name of its own: the locator, with the bank
// behind where locators repeat, with a number where even that repeats.
func placeNames(spots []*spot) []string {
	count := make(map[string]int)
	for _, y := range spots {
		count[y.Locator]++
	}
	list := make([]string, len(spots))
	taken := make(names)
	for i, y := range spots {
		name := y.Locator
		switch {
		case name == "" && y.Bank != "":
			name = y.Bank
		case name == "":
			name = fmt.Sprintf("place %d", i+1)
		case count[name] > 1 && y.Bank != "":
			name += " / " + y.Bank
		}
		list[i] = taken.own(name)
	}
	return list
}

// formByKind is the form that the sockets of a kind of machine have by custom; it speaks
// only where nothing else does.
func formByKind(kind fact.Fact[machine.Kind], y *spot) []fact.Claim[jedec.Form] {
	of := map[machine.Kind]string{machine.Laptop: "a laptop", machine.AllInOne: "an all-in-one"}[kind.Or("")]
	if y.Form.Known() || of == "" {
		return nil
	}
	return []fact.Claim[jedec.Form]{fact.Claimed(jedec.SODIMM, fact.Fair, "kind of machine",
		"sockets of "+of+" take SO-DIMMs by custom")}
}

// names are those that are given already.
type names map[string]bool

// own returns the name, with a number behind where it is given already: a
// place's name is its own within the machine.
func (taken names) own(name string) string {
	unique := name
	for n := 2; taken[unique]; n++ {
		unique = fmt.Sprintf("%s #%d", name, n)
	}
	taken[unique] = true
	return unique
}

func (s *sources) place(y *spot, name string, kind fact.Fact[machine.Kind]) machine.Place {
	source := y.Origin.String() + ", place " + name
	p := machine.Place{Name: name, FirmwareHandle: y.Handle}
	for _, n := range y.names {
		if !strings.EqualFold(n, name) {
			p.Names = nameAdded(p.Names, n)
		}
	}
	if y.chip != nil && !y.either {
		p.EEPROMAddress = y.chip.Address
		p.Names = nameAdded(p.Names, y.chip.Address)
	}
	p = s.withNames(p)
	seen := s.seen(p)
	filledClaims := seen.filled()
	if filled, ok := y.Filled.Get(); ok {
		says := y.FilledSays
		if y.gone {
			says = "listed before, and not among the filled places that are listed since"
		}
		filledClaims = append(filledClaims, fact.Claimed(filled, fact.Firm, source, says))
	}
	if y.idle {
		filledClaims = append(filledClaims, fact.Claimed(true, fact.Prime, y.chip.Source,
			"its EEPROM answers, and no other place is left for it"))
	}
	p.Filled = fact.Weigh(filledClaims...)
	p.Channel = fact.Weigh(append(append(seen.channel(), s.boardChannel(p)...),
		channelByName(y.Locator, y.Bank, fact.Firm, source)...)...)
	p.Processor = smbios.ParsePosition(y.Locator, y.Bank).Processor
	formClaims := seen.form()
	if form, ok := y.Form.Get(); ok {
		formClaims = append(formClaims, fact.Claimed(form, fact.Fair, source, y.FormSays))
	}
	p.Form = fact.Weigh(append(append(formClaims, s.formOfAll()...), formByKind(kind, y)...)...)
	signs := append(attach(y, source, kind), s.siblings(y, source)...)
	if y.Filled.Or(false) {
		signs = append(signs, s.slimChassis()...)
	} else if !y.Form.Known() {
		signs = append(signs, s.inTower(kind, source)...)
	}
	signs = append(append(append(signs, s.boardAttach(p)...), s.outcomeAttach(p)...), s.upgradeable()...)
	p.Attach = fact.Weigh(append(signs, seen.attach()...)...)
	if y.NotMemory != "" && y.Filled.Or(true) {
		// No module of working memory fits there while it sits there.
		p.State, p.StateSays = machine.NotMemory, source+": "+y.NotMemory
		p.Attach = fact.Of(machine.Soldered, fact.Settled,
			fact.Support{Source: source, Says: y.NotMemory + ": no place for working memory"})
		return p
	}
	if p.Filled.Or(false) {
		s.holds(&p, y, source, seen)
	}
	return p
}

// holds works out what sits in a filled place.
func (s *sources) holds(p *machine.Place, y *spot, source string, seen sighting) {
	p.State = machine.InUse
	switch {
	case y.idle:
		p.State, p.StateSays = machine.Disabled, source+": called empty, though an EEPROM answers"
	case y.Failed:
		p.State, p.StateSays = machine.Disabled, source+": reported with errors, or not enabled"
	}
	var c fitted
	c.listed(y, source, s.writes)
	if y.chip != nil {
		c.image(*y.chip)
	}
	c.sticker(seen, y.chip)
	s.systemSees(&c, y)
	s.trouble = append(s.trouble, c.into(p, source)...)
	s.tooFast(p, y, source)
}

// tooFast doubts a generation that can't run at the speed that the same source gives: no
// profile goes beyond twice the fastest grade.
func (s *sources) tooFast(p *machine.Place, y *spot, source string) {
	g, known := p.Module.Generation.Get()
	stated, ok := y.Generation.Get()
	speed, given := y.Speed.Get()
	grades := jedec.Grades(g)
	if !known || !ok || stated != g || !given || len(grades) == 0 ||
		p.Module.Generation.Standing() == fact.Settled && s.hasChip(p) {
		return
	}
	if fastest := grades[len(grades)-1].Rate; speed > 2*int(fastest) {
		says := fmt.Sprintf("%v at %d: its fastest grade is %d", g, speed, int(fastest))
		p.Module.Generation = p.Module.Generation.Disputed(fact.Support{Source: source, Says: says})
		s.trouble = append(s.trouble,
			machine.Conflict{About: machine.Subject{Topic: machine.AboutGeneration, Place: p.Name}, Says: says,
				Sources: []string{source}})
	}
}

// hasChip reports whether the module's own EEPROM tells what it is.
func (s *sources) hasChip(p *machine.Place) bool { return p.EEPROMAddress != "" }
