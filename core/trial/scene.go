package trial

import (
	"fmt"
	"slices"

	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
)

// A scene is what the rules look at: the modules side by side, and the machine
// around them if there is one.
type scene struct {
	seats   []Seat
	names   []string // of the modules, for sentences
	in      *setting // nil for modules without a machine
	profile bool     // run the profile
	rates   []jedec.Rate
	point   maybe.Value[Point]
	worst   maybe.Value[Point] // where the evidence leaves a slower one
	why     string             // why there is no operating point
}

// A setting is a machine as the rules need it.
type setting struct {
	m      machine.Machine
	limits ceiling.Limits
	order  map[string]int // in which slots are filled, by place; empty where not known
	apart  bool           // each socket has a channel of its own, as far as can be told
	fitted []Seat         // what runs there now, not to be changed
	die    floor          // see provedDie
	cut    bool           // not every way of dealing modules to sockets was looked at
}

func newSetting(m machine.Machine, l ceiling.Limits) *setting {
	t := &setting{m: m, limits: l, order: l.FittingOrder(), fitted: Fitted(m)}
	t.die = t.provedDie()
	sockets, named, twice := 0, make(map[string]bool), false
	for _, p := range m.Places {
		if c, ok := p.Channel.Get(); ok {
			twice, named[c] = twice || named[c], true
		}
		if p.Attach.Or("") == machine.Socket {
			sockets++
		}
	}
	channels, known := l.Channels().Get()
	t.apart = t.oneSlotChannels() || !twice && (known && channels == sockets || !known && sockets == 2)
	return t
}

// channelOf is the channel of a place: as named, or one of its own where the
// count of sockets tells; empty where it is not known.
func (t *setting) channelOf(p machine.Place) string {
	if c, known := p.Channel.Get(); known {
		return c
	}
	if t.apart {
		return p.Name
	}
	return ""
}

func (s *scene) sticks() []module.Module {
	out := make([]module.Module, len(s.seats))
	for i, seat := range s.seats {
		out[i] = seat.Stick
	}
	return out
}

// called names a module for a sentence: by its place where it has one.
func called(seat Seat) string {
	name := Describe(seat.Stick)
	if seat.Place != "" {
		name += " in " + seat.Place
	}
	return name
}

// Describe writes a stick as a short specification: "8 GB DDR4-2400 SO-DIMM".
func Describe(s module.Module) string {
	text := ""
	add := func(word string) {
		if word == "" {
			return
		}
		if text != "" {
			text += " "
		}
		text += word
	}
	if size, ok := s.Capacity.Get(); ok {
		add(size.String())
	}
	switch x, ok := s.Grade().Get(); {
	case ok && len(s.Profiles) > 0 && s.Rated.Standing() < fact.Settled: // as it is sold: what else it runs at is likely
		add(fmt.Sprintf("%v-%d (profile)", x.Generation, int(s.Profiles[0].Rate)))
	case ok:
		add(x.String())
	case s.Generation.Known():
		add(s.Generation.Or(0).String())
	}
	if text != "" { // what makes it another sort of module than the ordinary one
		switch {
		case s.LoadReduced.Or(false):
			add("load-reduced")
		case s.Multiplexed.Or(false):
			add("multiplexed-rank")
		case s.Registered.Or(false):
			add("registered")
		case s.ECC.Or(false):
			add("ECC")
		}
	}
	if f, ok := s.Form.Get(); ok && f != jedec.Soldered {
		add(f.String())
	}
	if text == "" {
		return fmt.Sprintf("%q", s.From)
	}
	return text
}

// generation is that of the modules, where they agree.
func (s *scene) generation() (g jedec.Generation, ok bool) {
	for _, seat := range s.seats {
		if own, known := seat.Stick.Generation.Get(); known && !(seat.Soldered && own.LowPower()) {
			if ok && own != g {
				return g, false
			}
			g, ok = own, true
		}
	}
	return g, ok
}

// perChannel groups the indices of the seats by channel; where channels are
// not known, ok is false.
func (s *scene) perChannel() (groups [][]int, ok bool) {
	var names []string
	ok = true
	for i, seat := range s.seats {
		ok = ok && seat.Channel != ""
		at := slices.Index(names, seat.Channel)
		if at < 0 {
			names, groups, at = append(names, seat.Channel), append(groups, nil), len(names)
		}
		groups[at] = append(groups[at], i)
	}
	return groups, ok
}

// populations are the ways in which the channels are filled, each once, with
// the names of the modules that make them so. Soldered memory is a population
// of its own.
func (s *scene) populations() (out []catalogue.Population, ok bool) {
	groups, ok := s.perChannel()
	if !ok {
		// One module, or modules no more than channels: at best one each, which
		// nobody has shown.
		return nil, false
	}
	for _, group := range groups {
		p := catalogue.Population{Modules: len(group), Clocked: true}
		ranks, known := 0, true
		for _, i := range group {
			r, has := s.seats[i].Stick.Ranks.Get()
			ranks, known = max(ranks, r), known && has
			p.Clocked = p.Clocked && s.seats[i].Stick.Clocked.Or(false)
		}
		p.Ranks = maybe.If(ranks, known)
		p.Slots = maybe.If(s.socketsOf(s.seats[group[0]].Channel), s.in != nil)
		if !slices.Contains(out, p) {
			out = append(out, p)
		}
	}
	return out, true
}

// socketsOf counts the places of a channel.
func (s *scene) socketsOf(channel string) (n int) {
	if s.in == nil {
		return 0
	}
	for _, p := range s.in.m.Places {
		if s.in.channelOf(p) == channel {
			n++
		}
	}
	return n
}

// caps are the machine's bounds on the rate for the present filling. why says
// what is missing where one is not known.
func (s *scene) caps() (caps []rateCap, why string) {
	fills, known := s.populations()
	if !known {
		return nil, "which channel each place belongs to is not known"
	}
	for _, p := range fills {
		more, why := s.in.capsOf(p)
		if why != "" {
			return nil, why
		}
		caps = append(caps, more...)
	}
	return caps, ""
}

// capsOf are the bounds on the rate for one way of filling a channel: of whoever
// states one beside the standard, else the rate at which it runs so today.
func (t *setting) capsOf(p catalogue.Population) (caps []rateCap, why string) {
	row := t.limits.Rates(p)
	enough, open := decides(row)
	if enough {
		for _, c := range row {
			if most, stated := c.Most.Get(); stated && c.Holds() && c.Source != ceiling.Standard {
				caps = append(caps, rateCap{rate: most.Rate(), by: fmt.Sprintf("the %s: %s", c.Source, c.Says)})
			}
		}
		return caps, ""
	}
	one := p
	one.Modules = 1
	if shown := t.shownRate(p); shown > 0 {
		caps = []rateCap{{shown, "what runs there today", true}}
		if p.Modules > 1 { // a channel filled more densely runs no faster
			lighter, _ := t.capsOf(one)
			caps = append(caps, lighter...)
		}
		return caps, ""
	}
	if g := t.limits.Generation.Or(0); p.Modules > 1 && g != 0 && g <= jedec.DDR3 {
		// To DDR3 makers publish one figure for all ways of filling a channel.
		return t.capsOf(one)
	}
	return nil, open
}

// shownRate is the rate at which a channel that is filled so, or more, runs
// today, or ran: of a machine that is off, what its modules are rated for. 0
// where none does.
func (t *setting) shownRate(p catalogue.Population) (rate jedec.Rate) {
	count := make(map[string]int)
	for _, x := range t.m.Places {
		if x.Module != nil && x.Attach.Or("") != machine.Soldered {
			count[t.channelOf(x)]++
		}
	}
	for _, x := range t.m.Places {
		if x.Module == nil || x.Attach.Or("") == machine.Soldered || count[t.channelOf(x)] < p.Modules {
			continue
		}
		running, known := x.Running.Get()
		if !known {
			running, known = x.Module.Rated.Get()
		}
		if !known {
			continue // all channels of a controller run at one rate
		}
		if rate == 0 || running < rate {
			rate = running
		}
	}
	return rate
}

// operate works out the operating point, if one can be told: as the evidence
// leans, and at worst where that is slower.
func (s *scene) operate() {
	if len(s.seats) == 0 {
		return
	}
	if _, one := s.generation(); !one {
		s.why = "the generations differ or are not known"
		return
	}
	var caps []rateCap
	if s.in != nil {
		if caps, s.why = s.caps(); s.why != "" {
			return
		}
	}
	sticks := s.sticks()
	p, why, works := operate(sticks, s.names, caps, s.rates, (*module.Module).SoldTimes)
	if s.profile {
		if fast, has := profilePoint(sticks); has {
			p, works = fast, true
			p.BoundBy = []Bound{{"rate_mts", "the profile"}}
		}
	}
	if !works {
		s.why = why
		return
	}
	s.complete(&p)
	s.point = maybe.Just(p)
	if slow, _, runs := operate(sticks, s.names, caps, s.rates, (*module.Module).SurestTimes); runs &&
		!s.profile && slow.TimesKnown &&
		(slow.Grade.Rate < p.Grade.Rate || slow.Timing.CL > p.Timing.CL) {
		s.complete(&slow)
		s.worst = maybe.Just(slow)
	}
}

func (s *scene) complete(p *Point) {
	s.supply(p)
	s.spread(p)
}

// supply picks the lowest supply that all modules and the machine share.
func (s *scene) supply(p *Point) {
	if p.MilliVolts.Known() {
		return
	}
	common, known := supplies(s.sticks())
	if !known {
		return
	}
	if s.in != nil {
		if allowed := s.in.limits.Supplies(); allowed.Len() > 0 {
			common = common.Shared(allowed)
		}
	}
	if list := common.List(); len(list) > 0 {
		p.MilliVolts = maybe.Just(list[0])
	}
}

// spread works out how memory lies over the channels.
func (s *scene) spread(p *Point) {
	for _, seat := range s.seats {
		p.Total += seat.Stick.Capacity.Or(0)
	}
	if s.in == nil {
		p.Bandwidth = p.Grade.Bandwidth()
		return
	}
	p.Channels = shares(s.seats)
	if _, ok := s.perChannel(); !ok {
		p.Channels = nil
		p.Bandwidth = p.Grade.Bandwidth()
		return
	}
	p.Layers = Layered(p.Channels)
	p.Interleaved = interleaved(p.Layers)
	if len(p.Layers) > 0 {
		p.Bandwidth = p.Layers[0].Channels * p.Grade.Bandwidth()
	}
}

// decides reports whether a row of ceilings is enough to go by: the memory
// controller's own figure is there, or a firm one of board or technician. open
// says what is missing otherwise.
func decides(row []ceiling.Ceiling) (ok bool, open string) {
	for _, c := range row {
		switch {
		case c.Source == ceiling.Standard || c.Source == ceiling.Firmware || c.Source == ceiling.System:
		case !c.Holds():
			if open == "" && c.Source != ceiling.Board {
				open = c.Says
			}
		case c.Source == ceiling.Board || c.Source == ceiling.Technician:
			if c.Standing == fact.Settled {
				return true, ""
			}
		default:
			ok = true
		}
	}
	if ok {
		return true, ""
	}
	if open == "" {
		open = "nobody states a limit"
	}
	return false, open
}
