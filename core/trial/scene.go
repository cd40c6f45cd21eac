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
	views   []view             // the ways in which the places may be wired, the one they are placed by first
	more    bool               // there are more such ways than are looked at
	point   maybe.Value[Point] // as the places are taken to be wired
	worst   maybe.Value[Point] // where the evidence leaves a slower one
	why     string             // why there is no operating point
}

// A setting is a machine as the rules need it.
type setting struct {
	m      machine.Machine
	limits ceiling.Limits
	order  map[string]int // in which slots are filled, by place; empty where not known
	counts []int          // numbers of channels that there may be
	base   wiring         // that modules are placed by
	told   bool           // the places can't be wired otherwise
	fitted []Seat         // what runs there now, not to be changed
	die    ceiling.Floor  // see provedDie
	cut    bool           // not every way of dealing modules to sockets was looked at
}

func newSetting(m machine.Machine, l ceiling.Limits) *setting {
	t := &setting{m: m, limits: l, order: l.FittingOrder(), fitted: Fitted(m)}
	t.die = t.provedDie()
	if len(m.Places) > 0 {
		t.wire()
	}
	return t
}

// channelOf is the channel of a place, as modules are placed.
func (t *setting) channelOf(p machine.Place) string { return t.channelIn(t.base, p.Name) }

// toldChannel is the channel of a place where it can be told, else empty.
func (t *setting) toldChannel(p machine.Place) string {
	if t.told {
		return t.channelOf(p)
	}
	return p.Channel.Or("")
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

// caps are the machine's bounds on the rate for the present filling in one wiring. why says
// what is missing where one is not known.
func (s *scene) caps(v *view) (caps []rateCap, why string) {
	for _, p := range s.populations(v) {
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
	for _, c := range row {
		if least, stated := c.Least.Get(); stated && c.Source != ceiling.Standard {
			// It runs so at the least, whichever of those that fit it is.
			return []rateCap{{least.Rate(), fmt.Sprintf("the %s: %s", c.Source, c.Says), true}}, ""
		}
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
	s.wire()
	for i := range s.views {
		s.operateIn(&s.views[i])
	}
	first := &s.views[0]
	s.point, s.worst, s.why = first.point, first.worst, first.why
	p, known := s.point.Get()
	if !known {
		return
	}
	slowest := p
	if x, slower := s.worst.Get(); slower {
		slowest = x
	}
	for i := range s.views[1:] {
		v := &s.views[1+i]
		x, ok := v.worst.Get()
		if !ok {
			x, ok = v.point.Get()
		}
		if ok && x.slowerThan(slowest) {
			slowest = x
		}
	}
	if slowest.slowerThan(p) {
		s.worst = maybe.Just(s.ranged(slowest))
	}
	s.point = maybe.Just(s.ranged(p))
}

// wire lists the wirings in which the modules are looked at.
func (s *scene) wire() {
	if s.views = nil; s.in == nil {
		s.views = []view{{}}
		return
	}
	kinds := s.in.kindsOf(s.seats)
	list, all := s.in.wirings(kinds)
	s.more = !all
	s.views = append(s.views, s.newView(s.in.base))
	for _, w := range list {
		if w.mark(kinds) != s.in.base.mark(kinds) {
			s.views = append(s.views, s.newView(w))
		}
	}
}

// ranged is a point with what other wirings come to: the least that runs over several channels
// together, and the most.
func (s *scene) ranged(p Point) Point {
	least, most := p, p
	for i := range s.views {
		if x, ok := s.views[i].point.Get(); ok && x.Interleaved < least.Interleaved {
			least = x
		} else if ok && x.Interleaved > most.Interleaved {
			most = x
		}
	}
	if most.Interleaved > least.Interleaved {
		p.InterleavedMost = maybe.Just(most.Interleaved)
		p.Interleaved, p.Layers, p.Bandwidth = least.Interleaved, least.Layers, least.Bandwidth
	}
	if s.in != nil && !s.in.told {
		p.Channels = nil // which is which is open
	}
	return p
}

// slowerThan reports whether one point has the lower rate, or at the same the longer latency.
func (p Point) slowerThan(o Point) bool {
	return p.Grade.Rate < o.Grade.Rate || p.Grade.Rate == o.Grade.Rate && p.TimesKnown && o.TimesKnown &&
		p.Timing.CL > o.Timing.CL
}

// operateIn works out the operating point in one wiring.
func (s *scene) operateIn(v *view) {
	if _, one := s.generation(); !one {
		v.why = "the generations differ or are not known"
		return
	}
	var caps []rateCap
	sticks := s.sticks()
	if s.in != nil {
		if caps, v.why = s.caps(v); s.stays() {
			caps, v.why = s.running(caps, v.why)
		}
		if v.why != "" {
			return
		}
	}
	p, why, works := operate(sticks, s.names, caps, s.rates, (*module.Module).SoldTimes)
	if s.profile {
		if fast, has := profilePoint(sticks); has {
			p, works = fast, true
			p.BoundBy = []Bound{{"rate_mts", "the profile"}}
		}
	}
	if !works {
		v.why = why
		return
	}
	s.complete(&p, v)
	v.point = maybe.Just(p)
	if slow, _, runs := operate(sticks, s.names, caps, s.rates, (*module.Module).SurestTimes); runs &&
		!s.profile && slow.TimesKnown && slow.slowerThan(p) {
		s.complete(&slow, v)
		v.worst = maybe.Just(slow)
	}
}

func (s *scene) complete(p *Point, v *view) {
	s.supply(p)
	s.spread(p, v)
}

// running is what the machine itself shows of the rate where nothing is changed: what is fitted runs as it runs,
// whether anybody publishes that or not.
func (s *scene) running(caps []rateCap, why string) ([]rateCap, string) {
	slowest := jedec.Rate(0)
	for i := range s.seats {
		p := s.in.m.PlaceCalled(s.seats[i].Place)
		if p == nil {
			continue
		}
		if rate, known := p.Running.Get(); known && (slowest == 0 || rate < slowest) {
			slowest = rate
		}
	}
	if slowest == 0 {
		return caps, why
	}
	return append(caps, rateCap{slowest, "what runs there today", why != ""}), ""
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

// spread works out how memory lies over the channels of one wiring.
func (s *scene) spread(p *Point, v *view) {
	for _, seat := range s.seats {
		p.Total += seat.Stick.Capacity.Or(0)
	}
	if s.in == nil {
		p.Bandwidth = p.Grade.Bandwidth()
		return
	}
	placed := slices.Clone(s.seats)
	for i := range placed {
		placed[i].Channel = s.in.channelIn(v.wired, placed[i].Place)
	}
	p.Channels = shares(placed)
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
