package trial

import (
	"fmt"
	"slices"
	"strings"

	"epitome/core/ceiling"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/stick"
)

func channelSlots(s *scene) []Reason {
	groups, ok := s.perChannel()
	if !ok {
		if len(s.seats) == 1 {
			return nil
		}
		return []Reason{{Outcome: Unproven, Says: "which channel each place belongs to is not known", Missing: "the channels of the places: board's manual"}}
	}
	most := 0
	for _, g := range groups {
		most = max(most, len(g))
	}
	for _, c := range s.in.limits.On(ceiling.DIMMs) {
		if n, ok := c.Most.Get(); ok && c.Standing == machine.Settled && int64(most) > n && c.Source != ceiling.Board {
			return []Reason{{Outcome: Refused, Says: fmt.Sprintf("%d modules on one channel; %s", most, c.Says), Source: string(c.Source)}}
		}
	}
	return []Reason{{Outcome: OK, Says: fmt.Sprintf("at most %d on a channel", most)}}
}

func rate(s *scene) []Reason {
	p, ok := s.point.Get()
	if !ok {
		return []Reason{{Outcome: Unproven, Says: "the rate can't be told: " + s.why, Missing: "the machine's rate for channels filled this way: processor's data sheet, board's manual"}}
	}
	slowest, fastest := jedec.Rate(0), jedec.Rate(0)
	for _, seat := range s.seats {
		x := seat.Stick.Grade.Or(jedec.Grade{}).Rate
		if slowest == 0 || x < slowest {
			slowest = x
		}
		fastest = max(fastest, x)
	}
	if p.Profile == "" && p.Grade.Rate < slowest && s.dense() {
		return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("%v, though every module is good for %d: %s", p.Grade.Rate, int(slowest), p.By("rate_mts"))}}
	}
	return []Reason{{Outcome: OK, Says: fmt.Sprintf("%v, set by %s", p.Grade.Rate, p.By("rate_mts"))}}
}

// dense reports whether a channel carries more than one module.
func (s *scene) dense() bool {
	groups, _ := s.perChannel()
	return slices.ContainsFunc(groups, func(g []int) bool { return len(g) > 1 })
}

func timings(s *scene) []Reason {
	p, ok := s.point.Get()
	_, one := s.generation()
	switch {
	case !ok && (s.in != nil || !one):
		return nil // the rule of the rate, or of the generation, has said why
	case !ok:
		return []Reason{{Outcome: Unproven, Says: "no operating point: " + s.why, Missing: "the grade of each module: " + readSticker}}
	case !p.TimesKnown && p.Worst > 0:
		return []Reason{{Outcome: OK, Says: fmt.Sprintf("CL not known, at most %v at %v by the standard's bins", p.Worst, p.Grade.Rate)}}
	case !p.TimesKnown:
		return []Reason{{Outcome: Unproven, Says: "the access time of a module is not known", Missing: "the CAS latency: read the bin off the sticker, as 2400T, or the EEPROM"}}
	}
	return []Reason{{Outcome: OK, Says: fmt.Sprintf("CL%v at %v, set by %s", p.Timing.CL, p.Grade.Rate, p.By("cl"))}}
}

func profile(s *scene) []Reason {
	var with []int
	for i, seat := range s.seats {
		if len(seat.Stick.Profiles) > 0 {
			with = append(with, i)
		}
	}
	if len(with) == 0 {
		if s.profile {
			return []Reason{{Outcome: Refused, Says: "no module carries a profile"}}
		}
		return nil
	}
	fastest := stick.Profile{}
	for _, x := range s.seats[with[0]].Stick.Profiles {
		if x.Rate > fastest.Rate {
			fastest = x
		}
	}
	if !s.profile {
		p, ok := s.point.Get()
		says := fmt.Sprintf("the %d of %s is a profile's, and no profile is selected", int(fastest.Rate), s.names[with[0]])
		if ok && p.Grade.Rate < fastest.Rate {
			return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("%s: it runs at %d", says, int(p.Grade.Rate))}}
		}
		return []Reason{{Outcome: OK, Says: says}}
	}
	return s.underProfile(with)
}

// underProfile decides a trial that wants the profile selected.
func (s *scene) underProfile(with []int) []Reason {
	var out []Reason
	if len(with) < len(s.seats) {
		out = append(out, Reason{Outcome: Refused, Says: "not every module carries a profile: it is selected for all or none"})
	}
	for _, i := range with[1:] {
		a, b := s.seats[with[0]].Stick, s.seats[i].Stick
		if a.Part == "" || a.Part != b.Part {
			out = append(out, Reason{Outcome: Unproven, Says: "modules of different kits under a profile: nobody has tested them together", Missing: "whether they run together: buy one kit, or test"})
			break
		}
	}
	if s.in == nil {
		return append(out, Reason{Outcome: Unproven, Says: "whether the machine can select a profile is not known", Missing: "the machine: epitome trial"})
	}
	yes, no, says := false, false, "whether profiles can be selected is not known"
	for _, c := range s.in.limits.On(ceiling.Profiles) {
		if list, ok := c.Allowed.Get(); ok && c.Holds() {
			yes = yes || len(list) > 0 && c.Standing == machine.Settled
			no = no || len(list) == 0 && c.Standing == machine.Settled
			says = c.Says
		}
	}
	switch {
	case no:
		out = append(out, Reason{Outcome: Refused, Says: says})
	case !yes:
		out = append(out, Reason{Outcome: Unproven, Says: says, Missing: "whether profiles can be selected: look in the firmware's menus"})
	default:
		out = append(out, Reason{Outcome: OK, Says: says + "; above the controller's official rate nobody promises it"})
	}
	return out
}

// unlike names in what the modules differ. At standard timings that forbids
// nothing; what it costs in speed the rules of rate and timings say.
func unlike(s *scene) []Reason {
	differ := func(of func(stick.Stick) (string, bool)) bool {
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
		of   func(stick.Stick) (string, bool)
	}{
		{"makers", func(st stick.Stick) (string, bool) { m, ok := st.Maker.Get(); return m.String(), ok }},
		{"chip makers", func(st stick.Stick) (string, bool) { m, ok := st.ChipMaker.Get(); return m.String(), ok }},
		{"ranks", func(st stick.Stick) (string, bool) { n, ok := st.Ranks.Get(); return fmt.Sprint(n), ok }},
		{"capacities", func(st stick.Stick) (string, bool) { c, ok := st.Capacity.Get(); return c.String(), ok }},
	} {
		if differ(x.of) {
			in = append(in, x.word)
		}
	}
	switch {
	case len(in) == 0:
		return nil
	case s.profile:
		return []Reason{{Outcome: Unproven, Says: fmt.Sprintf("unlike in %s under a profile: nobody has tested them together", strings.Join(in, ", ")), Missing: "whether they run together under the profile: test, or buy one kit"}}
	}
	return []Reason{{Outcome: OK, Says: "unlike in " + strings.Join(in, ", ") + ", which standard timings allow"}}
}

func pairing(s *scene) []Reason {
	p, ok := s.point.Get()
	if !ok || len(p.Channels) == 0 {
		return nil
	}
	used := len(p.Channels)
	channels := s.channels()
	switch {
	case used == 1 && channels > 1 && len(s.seats) > 1:
		return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("all on one of %d channels: half the bandwidth or less", channels)}}
	case used == 1 && channels > 1:
		return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("one module uses one of %d channels", channels)}}
	case p.Interleaved < p.Total:
		return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("%v of %v are interleaved, %v run over one channel alone", p.Interleaved, p.Total, p.Total-p.Interleaved)}}
	case len(p.Layers) > 1:
		return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("%v over %d channels, the rest over fewer", p.Layers[0].Capacity, p.Layers[0].Channels)}}
	case used < channels:
		return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("%d of %d channels are used", used, channels)}}
	}
	return []Reason{{Outcome: OK, Says: fmt.Sprintf("%v over %d channels alike", p.Total, used)}}
}

// channels is how many channels the machine's places belong to.
func (s *scene) channels() int {
	var names []string
	for _, p := range s.in.m.Places {
		if c, ok := p.Channel.Get(); ok && !slices.Contains(names, c) {
			names = append(names, c)
		}
	}
	return max(1, len(names))
}

func order(s *scene) []Reason {
	if s.in.order == nil {
		return nil
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
			return []Reason{{Outcome: Reduced, Says: "the manual fills other slots first: " + s.firstSlots(len(used))}}
		}
	}
	return []Reason{{Outcome: OK, Says: "slots are filled in the manual's order"}}
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

func fasterPart(s *scene) []Reason {
	p, ok := s.point.Get()
	if !ok || p.Profile != "" {
		return nil
	}
	var out []Reason
	slowest, fastest := -1, -1
	for i, seat := range s.seats {
		rate := seat.Stick.Grade.Or(jedec.Grade{}).Rate
		if slowest < 0 || rate < s.seats[slowest].Stick.Grade.Or(jedec.Grade{}).Rate {
			slowest = i
		}
		if fastest < 0 || rate > s.seats[fastest].Stick.Grade.Or(jedec.Grade{}).Rate {
			fastest = i
		}
	}
	low, high := s.seats[slowest].Stick.Grade.Or(jedec.Grade{}).Rate, s.seats[fastest].Stick.Grade.Or(jedec.Grade{}).Rate
	switch {
	case low < high && p.Grade.Rate <= low && s.couldRun(high) > p.Grade.Rate:
		out = append(out, Reason{Outcome: Reduced, Says: fmt.Sprintf("%s holds the others to %d; they are good for %d", s.names[slowest], int(p.Grade.Rate), int(s.couldRun(high)))})
	case high > p.Grade.Rate:
		out = append(out, Reason{Outcome: OK, Says: fmt.Sprintf("nothing is gained by %s: it runs at %d", s.names[fastest], int(p.Grade.Rate))})
	}
	return out
}

// couldRun is the rate up to which the machine would let faster modules run.
func (s *scene) couldRun(rate jedec.Rate) jedec.Rate {
	if s.in == nil {
		return rate
	}
	caps, _, _ := s.caps()
	for _, c := range caps {
		rate = min(rate, c.rate)
	}
	return rate
}
