package trial

import (
	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/rule"
)

// A fill is how a channel is filled, as far as rates and rules about a channel look
// at it. It is comparable: what they come to is worked out once for each.
type fill struct {
	modules, slots int
	most           int // ranks of the module with the most, two where not known
	ranks          int // of the modules whose ranks are known, together
	open, openTwo  int // modules whose ranks are not known, and are likely one, or two
	clocked        bool
}

// leadsTwo are ranks that are not known and are likely two; 0 are those that are likely one.
const leadsTwo = -2

// placeRanks are a module's ranks, as a fill takes them.
func placeRanks(s module.Module) int {
	if n, known := s.Ranks.Get(); known {
		return n
	}
	if alone := (&scene{seats: []Seat{{Stick: s}}}); s.Capacity.Known() && alone.layouts(0)[0].ranks > 1 {
		return leadsTwo
	}
	return 0
}

// with returns the fill with one module more; ranks are those of placeRanks.
func (f fill) with(ranks int, clocked bool) fill {
	f.clocked = clocked && (f.modules == 0 || f.clocked)
	f.modules++
	switch {
	case ranks == leadsTwo:
		f.openTwo++
		ranks = 2
	case ranks == 0:
		f.open++
		ranks = 2
	default:
		f.ranks += ranks
	}
	f.most = max(f.most, ranks)
	return f
}

// A fillRun is what a fill comes to.
type fillRun struct {
	rate    jedec.Rate   // 0 where nobody states it
	outcome rule.Outcome // of the rules about a channel
}

// fills works out each fill once.
type fills map[fill]fillRun

func (all fills) of(t *setting, f fill) fillRun {
	if run, known := all[f]; known {
		return run
	}
	run := fillRun{
		rate: t.capRate(catalogue.Population{Modules: f.modules, Ranks: maybe.Just(f.most), Clocked: f.clocked,
			Slots: maybe.Just(f.slots)}),
		outcome: t.channelOutcome(f),
	}
	all[f] = run
	return run
}

// channelOutcome is the worst that the rules about a channel say of a fill.
func (t *setting) channelOutcome(f fill) (worst rule.Outcome) {
	worst = rule.OK
	for _, r := range rules {
		if r.Scope != EachChannel {
			continue
		}
		reason := rule.Ask(func(w *rule.World) rule.Said {
			return r.channel(w, t, ChannelLoad{Modules: f.modules,
				ranks: func() (sum int) {
					sum = f.ranks
					if f.open > 0 {
						sum += f.open * rule.Choose(w, ordinaryRanks)
					}
					if f.openTwo > 0 {
						sum += f.openTwo * rule.Choose(w, doubleRanks)
					}
					return sum
				}})
		})
		worst = max(worst, reason.Outcome)
	}
	return worst
}

// ordinaryRanks are those of a module of which nobody says them.
var ordinaryRanks = rule.Possible[int]{Key: "ranks", Values: []int{1, 2}, Leads: true,
	Fact: "the ranks of the modules", Look: readSticker}

var doubleRanks = rule.Possible[int]{Key: "double ranks", Values: []int{2, 1}, Leads: true,
	Fact: "the ranks of the modules", Look: readSticker}

// A ChannelLoad is what sits on one channel, as a rule about a channel sees it.
type ChannelLoad struct {
	Modules int
	ranks   func() int
}

// Ranks are those of all modules together, in the world that is asked about.
func (l ChannelLoad) Ranks() int { return l.ranks() }

// loadOf is what sits on a channel in one world.
func (s *scene) loadOf(w *rule.World, group []int) ChannelLoad {
	return ChannelLoad{Modules: len(group), ranks: func() (sum int) {
		for _, i := range group {
			sum += s.layout(w, i).ranks
		}
		return sum
	}}
}

// askChannels asks a rule of each channel: it is met where all meet it.
func (s *scene) askChannels(r Rule) []rule.Reason {
	reason := rule.Ask(func(w *rule.World) rule.Said {
		worst := rule.Said{Outcome: rule.OK}
		for _, group := range s.view(w).groups {
			if said := r.channel(w, s.in, s.loadOf(w, group)); said.Outcome > worst.Outcome || worst.Says == "" {
				worst = said
			}
		}
		return worst
	})
	if reason.Outcome == rule.OK && reason.Says == "" {
		reason.Says = r.Fine
	}
	return []rule.Reason{r.named(reason)}
}
