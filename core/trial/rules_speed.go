package trial

import (
	"fmt"
	"slices"
	"strings"

	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/module"
	"epitome/core/rule"
)

func channelSlots(_ *rule.World, t *setting, l ChannelLoad) rule.Said {
	for _, c := range t.limits.On(ceiling.DIMMs) {
		if n, stated := c.Most.Get(); stated && c.Standing == settled && l.Modules > n.Int() && c.Source != ceiling.Board {
			return refused(fmt.Sprintf("%d modules on one channel; %s", l.Modules, c.Says), string(c.Source))
		}
	}
	return ok()
}

func channelRanks(_ *rule.World, t *setting, l ChannelLoad) rule.Said {
	for _, c := range t.limits.On(ceiling.ChannelRanks) {
		if n, stated := c.Most.Get(); stated && c.Holds() && l.Ranks() > n.Int() {
			return refused(fmt.Sprintf("%d ranks on one channel; %s", l.Ranks(), c.Says), string(c.Source))
		}
	}
	return ok()
}

func rate(w *rule.World, s *scene) (rule.Said, bool) {
	v := s.view(w)
	p, known := v.point.Get()
	if !known {
		// What runs there today runs on at some rate, whichever that is; of what is bought
		// the rate has to be known.
		runs := slices.IndexFunc(s.seats, func(seat Seat) bool { return !seat.New && !seat.Stick.Grade().Known() })
		leads := runs >= 0 &&
			!slices.ContainsFunc(s.seats, func(seat Seat) bool { return seat.New && !seat.Stick.Grade().Known() })
		if caps, open := s.caps(v); leads && open == "" {
			return rule.Said{Outcome: rule.OK, Says: fmt.Sprintf("at what %s is made for, which nobody states, and at most %v",
				s.names[runs], least(caps))}, true
		}
		about, look := s.in.controllers("the machine's rate for channels filled this way", inSheetOrManual)
		if !rule.Choose(w, yesNo("rate", about, look, true, leads, "")) {
			return refused("the rate can't be told: "+v.why, ""), true
		}
		return ok(), true
	}
	slowest := jedec.Rate(0)
	for _, seat := range s.seats {
		if x := seat.Stick.Grade().Or(jedec.Grade{}).Rate; slowest == 0 || x < slowest {
			slowest = x
		}
	}
	if p.Profile == "" && p.Grade.Rate < slowest && v.dense() {
		return rule.Said{Outcome: rule.Reduced,
			Says: fmt.Sprintf("%v, though every module is good for %d: %s", p.Grade.Rate, int(slowest), p.By("rate_mts"))}, true
	}
	return rule.Said{Outcome: rule.OK, Says: fmt.Sprintf("%v, set by %s", p.Grade.Rate, p.By("rate_mts"))}, true
}

// least is the lowest of the bounds.
func least(caps []rateCap) (rate jedec.Rate) {
	for _, c := range caps {
		if rate == 0 || c.rate < rate {
			rate = c.rate
		}
	}
	return rate
}

// dense reports whether a channel carries more than one module.
func (v *view) dense() bool {
	return slices.ContainsFunc(v.groups, func(g []int) bool { return len(g) > 1 })
}

func timings(w *rule.World, s *scene) (rule.Said, bool) {
	p, known := s.point.Get()
	_, one := s.generation()
	switch {
	case !known && (s.in != nil || !one):
		return rule.Said{}, false // the rule of the rate, or of the generation, has said why
	case !known:
		if !rule.Choose(w, yesNo("grades", "the grade of each module", readSticker, true, false, "")) {
			return refused("no operating point: "+s.why, ""), true
		}
		return ok(), true
	case !p.TimesKnown:
		return rule.Said{Outcome: rule.OK,
			Says: fmt.Sprintf("CL not known at %v: no module states its access time", p.Grade.Rate)}, true
	case s.worst.Known():
		x, _ := s.worst.Get()
		return rule.Said{Outcome: rule.OK,
			Says: fmt.Sprintf("CL%v at %v; at worst %d CL%v", p.Timing.CL, p.Grade.Rate, int(x.Grade.Rate), x.Timing.CL)}, true
	}
	return rule.Said{Outcome: rule.OK,
		Says: fmt.Sprintf("CL%v at %v, set by %s", p.Timing.CL, p.Grade.Rate, p.By("cl"))}, true
}

func profile(w *rule.World, s *scene) (rule.Said, bool) {
	var with []int
	for i, seat := range s.seats {
		if len(seat.Stick.Profiles) > 0 {
			with = append(with, i)
		}
	}
	if len(with) == 0 {
		if s.profile {
			return refused("no module carries a profile", ""), true
		}
		return rule.Said{}, false
	}
	fastest := module.Profile{}
	for _, x := range s.seats[with[0]].Stick.Profiles {
		if x.Rate > fastest.Rate {
			fastest = x
		}
	}
	if s.profile {
		return s.underProfile(w, with), true
	}
	p, known := s.point.Get()
	says := fmt.Sprintf("the %d of %s is a profile's, and no profile is selected", int(fastest.Rate), s.names[with[0]])
	if known && p.Grade.Rate < fastest.Rate {
		runs := fmt.Sprintf("%s: it runs at %d", says, int(p.Grade.Rate))
		if s.seats[with[0]].Stick.Rated.Standing() < fact.Settled {
			runs += " or faster"
		}
		return rule.Said{Outcome: rule.Reduced, Says: runs}, true
	}
	return rule.Said{Outcome: rule.OK, Says: says}, true
}

// underProfile decides a trial that wants the profile selected.
func (s *scene) underProfile(w *rule.World, with []int) rule.Said {
	if len(with) < len(s.seats) {
		return refused("not every module carries a profile: it is selected for all or none", "")
	}
	for _, i := range with[1:] {
		a, b := s.seats[with[0]].Stick, s.seats[i].Stick
		if (!a.Part.Known() || a.Part.Or("") != b.Part.Or("")) &&
			!rule.Choose(w, yesNo("kits", "whether modules of different kits run together under a profile",
				"buy one kit, or test", true, false, "")) {
			return refused("modules of different kits under a profile: nobody has tested them together", "")
		}
	}
	if s.in == nil {
		if !rule.Choose(w, yesNo("profiles", "whether the machine can select a profile",
			"try them in the machine: epitome trial", true, false, "")) {
			return refused("whether the machine can select a profile is not known", "")
		}
		return ok()
	}
	says := "whether profiles can be selected is not known"
	for _, c := range s.in.limits.On(ceiling.Profiles) {
		if list, stated := c.Allowed.Get(); stated && c.Holds() && c.Standing >= fact.Leaning {
			allowed := len(list.Words) > 0
			if c.Standing < settled {
				allowed = rule.Choose(w, yesNo("profiles", "whether profiles can be selected", "look in the firmware's menus",
					allowed, true, ""))
			}
			if !allowed {
				return refused(c.Says, "")
			}
			return rule.Said{Outcome: rule.OK, Says: c.Says + "; above the controller's official rate nobody promises it"}
		}
	}
	if !rule.Choose(w, yesNo("profiles", "whether profiles can be selected", "look in the firmware's menus", true, false,
		"")) {
		return refused(says, "")
	}
	return ok()
}

// unlike names in what the modules differ. At standard timings that forbids
// nothing; what it costs in speed the rules of rate and timings say.
func unlike(w *rule.World, s *scene) (rule.Said, bool) {
	differ := func(of func(module.Module) (string, bool)) bool {
		first, seen := "", false
		for _, seat := range s.seats {
			if text, ok := of(seat.Stick); ok {
				if seen && text != first {
					return true
				}
				first, seen = text, true
			}
		}
		return false
	}
	var in []string
	for _, x := range []struct {
		word string
		of   func(module.Module) (string, bool)
	}{
		{"makers", func(st module.Module) (string, bool) { return st.Maker.Get() }},
		{"chip makers", func(st module.Module) (string, bool) { m, ok := st.ChipMaker.Get(); return m.String(), ok }},
		{"ranks", func(st module.Module) (string, bool) { n, ok := st.Ranks.Get(); return fmt.Sprint(n), ok }},
		{"capacities", func(st module.Module) (string, bool) { c, ok := st.Capacity.Get(); return c.String(), ok }},
	} {
		if differ(x.of) {
			in = append(in, x.word)
		}
	}
	switch {
	case len(in) == 0:
		return rule.Said{}, false
	case s.profile:
		if !rule.Choose(w, yesNo("unlike under a profile", "whether they run together under the profile",
			"test, or buy one kit", true, false, "")) {
			return refused(fmt.Sprintf("unlike in %s under a profile: nobody has tested them together",
				strings.Join(in, ", ")), ""), true
		}
		return ok(), true
	}
	return rule.Said{Outcome: rule.OK, Says: "unlike in " + strings.Join(in, ", ") + ", which standard timings allow"},
		true
}

func pairing(_ *rule.World, s *scene) (rule.Said, bool) {
	p, known := s.point.Get()
	if !known {
		return rule.Said{}, false
	}
	said, differ := s.views[0].paired(len(s.seats)), false
	for i := range s.views[1:] {
		x := s.views[1+i].paired(len(s.seats))
		differ = differ || x.Says != said.Says
		if x.Outcome > said.Outcome {
			said = x
		}
	}
	if p.InterleavedMost.Known() {
		said.Says = fmt.Sprintf("%s of %v run over several channels together, as the sockets are wired", p.Together(),
			p.Total)
	} else if differ || s.more {
		said.Says = fmt.Sprintf("%v of %v run over several channels together, however the sockets are wired", p.Interleaved,
			p.Total)
	}
	return said, true
}

// paired says how modules are spread over the channels of one wiring.
func (v *view) paired(modules int) rule.Said {
	p, known := v.point.Get()
	if !known {
		return rule.Said{Outcome: rule.OK}
	}
	reduced := func(format string, args ...any) rule.Said {
		return rule.Said{Outcome: rule.Reduced, Says: fmt.Sprintf(format, args...)}
	}
	used := len(p.Channels)
	channels := v.wired.channels()
	switch {
	case used == 1 && channels > 1 && modules > 1:
		return reduced("all on one of %d channels: half the bandwidth or less", channels)
	case used == 1 && channels > 1:
		return reduced("one module uses one of %d channels", channels)
	case used > 1 && p.Interleaved < p.Total:
		return reduced("%v of %v run over all channels together, %v over one alone", p.Interleaved, p.Total,
			p.Total-p.Interleaved)
	case len(p.Layers) > 1:
		return reduced("%v over %d channels, the rest over fewer", p.Layers[0].Capacity, p.Layers[0].Channels)
	case used < channels:
		return reduced("%d of %d channels are used", used, channels)
	case channels == 1:
		return rule.Said{Outcome: rule.OK, Says: "there is one channel, and nothing to interleave"}
	}
	return rule.Said{Outcome: rule.OK, Says: fmt.Sprintf("%v over %d channels alike", p.Total, used)}
}

// channels is how many there are.
func (w wiring) channels() int {
	var names []string
	for _, c := range w {
		if !slices.Contains(names, c) {
			names = append(names, c)
		}
	}
	return max(1, len(names))
}

func order(_ *rule.World, s *scene) (rule.Said, bool) {
	if s.in.order == nil {
		return rule.Said{}, false
	}
	var used []int
	for _, seat := range s.seats {
		if n, ok := s.in.order[seat.Place]; ok {
			used = append(used, n)
		}
	}
	slices.Sort(used)
	for i, n := range used {
		if n != i+1 {
			return rule.Said{Outcome: rule.Reduced, Says: "the manual fills other slots first: " + s.firstSlots(len(used))}, true
		}
	}
	return rule.Said{Outcome: rule.OK, Says: "slots are filled in the manual's order"}, true
}

// firstSlots names the first n slots of the manual's order.
func (s *scene) firstSlots(n int) string {
	text := ""
	for i := 1; i <= n; i++ {
		for _, p := range s.in.m.Places {
			if s.in.order[p.Name] == i {
				if text != "" {
					text += ", "
				}
				text += p.Name
			}
		}
	}
	return text
}

func fasterPart(_ *rule.World, s *scene) (rule.Said, bool) {
	p, known := s.point.Get()
	if !known || p.Profile != "" {
		return rule.Said{}, false
	}
	slowest, fastest := -1, -1
	for i, seat := range s.seats {
		rate := seat.Stick.Grade().Or(jedec.Grade{}).Rate
		if slowest < 0 || rate < s.seats[slowest].Stick.Grade().Or(jedec.Grade{}).Rate {
			slowest = i
		}
		if fastest < 0 || rate > s.seats[fastest].Stick.Grade().Or(jedec.Grade{}).Rate {
			fastest = i
		}
	}
	low := s.seats[slowest].Stick.Grade().Or(jedec.Grade{}).Rate
	high := s.seats[fastest].Stick.Grade().Or(jedec.Grade{}).Rate
	switch {
	case low < high && p.Grade.Rate <= low && s.couldRun(high) > p.Grade.Rate:
		return rule.Said{Outcome: rule.Reduced,
			Says: fmt.Sprintf("%s holds the others to %d; they are good for %d", s.names[slowest], int(p.Grade.Rate),
				int(s.couldRun(high)))}, true
	case high > p.Grade.Rate:
		return rule.Said{Outcome: rule.OK,
			Says: fmt.Sprintf("nothing is gained by %s: it runs at %d", s.names[fastest], int(p.Grade.Rate))}, true
	}
	return rule.Said{}, false
}

// couldRun is the rate up to which the machine would let faster modules run.
func (s *scene) couldRun(rate jedec.Rate) jedec.Rate {
	if s.in == nil {
		return rate
	}
	caps, _ := s.caps(&s.views[0])
	for _, c := range caps {
		rate = min(rate, c.rate)
	}
	return rate
}
