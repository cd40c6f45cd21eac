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
	places = append(places, s.unlisted(places, listed)...)
	s.shareChannels(places)
	return places
}

// shareChannels gives the places without a channel those that are left, where some have theirs and the count leaves
// no choice: one socket on each channel, or room on one of them alone.
func (s *sources) shareChannels(places []machine.Place) {
	var without []*machine.Place
	held := make(map[string]int)
	for i := range places {
		if c, ok := places[i].Channel.Get(); ok {
			held[c]++
		} else {
			without = append(without, &places[i])
		}
	}
	if len(without) == 0 || len(held) == 0 {
		return
	}
	channels := s.channelCount(len(places))
	if channels == 0 || len(s.controllers()) == 0 {
		return
	}
	each := len(places) / channels
	var room []string
	for n := range channels {
		c := string(rune('A' + n))
		for range each - held[c] {
			room = append(room, c)
		}
		delete(held, c)
	}
	if len(held) > 0 || len(room) != len(without) || each > 1 && room[0] != room[len(room)-1] {
		return // names of another kind, more on one channel than on another, or several ways
	}
	for i, p := range without {
		p.Channel = fact.Of(room[i], fact.Leaning, fact.Support{Source: "memory controller",
			Says: fmt.Sprintf("%d of %s on each channel: what the others leave", each, plain.Count(len(places), "place"))})
	}
}

// withNames adds what a place was called, or is called since, by the jobs that fitted a module there.
func (s *sources) withNames(p machine.Place) machine.Place {
	for _, job := range s.PastJobs {
		for planned, since := range job.Named {
			switch {
			case p.Called(planned):
				p.Names = nameAdded(p.Names, since)
			case p.Called(since):
				p.Names = nameAdded(p.Names, planned)
			}
		}
	}
	return p
}

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

// unlisted are the places that are announced, or were counted, and that nobody
// lists. A system lists the filled ones only: what it announces beyond them is
// free, likely. A firmware table describes empty places too, so that one which it
// announces and does not describe is not known to be a socket. fromReadings is how many
// of the places readings list; one that a person named beside them is one of the announced.
func (s *sources) unlisted(listed []machine.Place, fromReadings int) (places []machine.Place) {
	many := 0
	announced, origin := s.announced()
	source, says, w := origin.Announces(), "announced, and not among the filled places that the system lists", fact.Fair
	if s.filledOnly() {
		many = announced
		s.named(listed, fromReadings, many-fromReadings, source, says)
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
			Name:      taken.own(fmt.Sprintf("slot %d", n+1)),
			Announced: true,
			Attach:    fact.Weigh(fact.Claimed(machine.Socket, w, source, says)),
			Filled:    fact.Weigh(fact.Claimed(false, w, source, says)),
		}
		p = s.withNames(p)
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
func (s *sources) named(listed []machine.Place, fromReadings, many int, source, says string) {
	for i := fromReadings; i < len(listed) && i-fromReadings < many; i++ {
		p := &listed[i]
		p.Names = nameAdded(p.Names, fmt.Sprintf("slot %d", i+1))
		p.Announced = p.Attach.Standing() < fact.Settled
		p.Attach = fact.Join(p.Attach, fact.Weigh(fact.Claimed(machine.Socket, fact.Fair, source, says)))
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

// channelByName is the channel that a place's own names give, also that of a place
// that somebody added.
func channelByName(locator, bank string, w fact.Weight, source string) []fact.Claim[string] {
	channel, ok := channelOf(smbios.ParsePosition(locator, bank))
	if !ok {
		return nil
	}
	says := fmt.Sprintf("its name %q", locator)
	if bank != "" {
		says = fmt.Sprintf("locator %q, bank %q", locator, bank)
	}
	return []fact.Claim[string]{fact.Claimed(channel, w, source, says)}
}

// channelOf names the channel within the machine: the maker's letter or
// digit, with processor and controller before it where the name tells them.
func channelOf(p smbios.Position) (string, bool) {
	channel, ok := p.Channel.Get()
	if mc, has := p.Controller.Get(); ok && has {
		channel = fmt.Sprintf("%d-%s", mc, channel)
	}
	if cpu, has := p.Processor.Get(); ok && has && cpu > 0 {
		channel = fmt.Sprintf("P%d %s", cpu, channel)
	}
	return channel, ok
}

// channelCount is how many channels so many sockets share: the controller's, where the
// sockets divide by them; two sockets share two, where nobody says.
func (s *sources) channelCount(sockets int) int {
	channels := 0
	for _, c := range s.controllers() {
		if n, ok := c.Channels.Get(); ok {
			if channels != 0 && channels != n {
				return 0 // generations differ
			}
			channels = n
		}
	}
	channels *= max(s.processors().Or(1), 1)
	switch {
	case channels == 0 && sockets == 2:
		return 2
	case channels == 0 || sockets%channels != 0:
		return 0
	}
	return channels
}

// freeChannels are the channels of the places that nobody lists, by count: every
// channel has as many sockets. The ones on channels without a module come first, as
// boards are filled. Of a single listed place without a name that tells, its channel is
// called the first one.
func (s *sources) freeChannels(listed []machine.Place, many int) (free []string) {
	if many <= len(listed) {
		return nil
	}
	channels := s.channelCount(many)
	if channels == 0 {
		return nil
	}
	if _, named := listed[0].Channel.Get(); !named && len(listed) == 1 {
		listed[0].Channel = fact.Of("A", fact.Leaning,
			fact.Support{Source: "memory controller",
				Says: fmt.Sprintf("one of %s, whichever it is", plain.Count(channels, "channel"))})
	}
	left := make(map[string]int)
	var order []string
	for n := range channels {
		order = append(order, string(rune('A'+n)))
		left[order[n]] = many / channels
	}
	for _, p := range listed {
		c, named := p.Channel.Get()
		if _, is := left[c]; !named || !is || left[c] == 0 {
			return nil // names of another kind, or more on one channel than on another
		}
		left[c]--
	}
	for len(free) < many-len(listed) {
		slices.SortStableFunc(order, func(a, b string) int { return cmp.Compare(left[b], left[a]) })
		free = append(free, order[0])
		left[order[0]]--
	}
	return free
}
