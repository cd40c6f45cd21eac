package trial

import (
	"cmp"
	"slices"
	"strings"

	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/rule"
)

// A wiring is one way in which the places of a machine may be wired to the channels of its controller: the channel of
// each place, in the machine's order. Where a reading names a place's channel all wirings have it so; the rest is
// shared out evenly, as boards are made.
type wiring []string

// mostWirings bounds the wirings that a set of modules is tried in, mostTurns the steps to find them. A machine of four
// sockets has three, and of those that the modules tell apart mostly two; sixteen sockets on eight channels have two
// million, of which as many modules of two kinds tell five apart.
const mostWirings, mostTurns = 24, 4000

// sharesAChannel is the open fact behind the wirings, as a rule asks for it.
const sharesAChannel, lookForChannels = "which sockets share a channel",
	"the board's manual, or the sockets' colours: those of one colour are mostly on different channels"

// channelCounts are the numbers of channels that the machine may have, more than one where nobody tells.
func (t *setting) channelCounts() []int {
	var named []string
	for _, p := range t.m.Places {
		if c, ok := p.Channel.Get(); ok && !slices.Contains(named, c) {
			named = append(named, c)
		}
	}
	places, slots := len(t.m.Places), t.slotsOfAChannel()
	counts := []int{2, 4} // a desktop's, a workstation's
	n, known := t.limits.Channels().Get()
	switch {
	case known:
		if n *= max(1, t.m.Processors.Or(1)); slots > 0 && n*slots < places {
			n = (places + slots - 1) / slots // there are more controllers than firmware lists
		}
		counts = []int{n}
	case slots > 0:
		counts = []int{(places + slots - 1) / slots}
	case places <= 2:
		counts = []int{places}
	case places == 3:
		counts = []int{2, 3}
	}
	if g := t.limits.Generation.Or(0); !known && slots == 0 && places > 2 && (g == 0 || g <= jedec.DDR2) {
		counts = append(counts, 1) // boards of that time had up to four sockets on one
	}
	for i := range counts {
		counts[i] = max(1, min(counts[i], places), len(named))
	}
	slices.Sort(counts[1:])
	return slices.Compact(counts)
}

// slotsOfAChannel is how many modules the controller drives on a channel, 0 where nobody says.
func (t *setting) slotsOfAChannel() (slots int) {
	for _, c := range t.limits.On(ceiling.DIMMs) {
		if n, ok := c.Most.Get(); ok && c.Holds() && c.Source != ceiling.Board && (slots == 0 || n.Int() < slots) {
			slots = n.Int()
		}
	}
	return slots
}

// wirings are the ways in which the places may be wired, alike ones once: kinds says of each place what it holds, and
// places that hold the same are not told apart. all is false where there are more than are looked at; the most even
// and the most uneven one are among them then.
func (t *setting) wirings(kinds []string) (list []wiring, all bool) {
	all = true
	seen := make(map[string]bool)
	for _, channels := range t.counts {
		b := newWirer(t, kinds, channels)
		b.found = func(w wiring) bool {
			if mark := w.mark(kinds); !seen[mark] {
				seen[mark], list = true, append(list, w)
			}
			return len(list) < mostWirings
		}
		if !b.wire(0) {
			all = false
			list = append(list, b.dealt(false), b.dealt(true))
		}
	}
	return list, all
}

// mark is what tells a wiring from others: what the places on each channel hold.
func (w wiring) mark(kinds []string) string {
	groups := make(map[string][]string)
	for i, channel := range w {
		groups[channel] = append(groups[channel], kinds[i])
	}
	marks := make([]string, 0, len(groups))
	for _, g := range groups {
		slices.Sort(g)
		marks = append(marks, strings.Join(g, ","))
	}
	slices.Sort(marks)
	return strings.Join(marks, ";")
}

// A wirer goes through the ways of wiring places to so many channels.
type wirer struct {
	t      *setting
	kinds  []string
	open   []int    // places whose channel nobody names, those of one kind together
	names  []string // of the channels that a reading names; the others come behind them
	groups [][]int  // the places on each channel
	most   int      // places on a channel
	big    int      // channels that may have so many
	found  func(wiring) (more bool)
	turns  int
}

func newWirer(t *setting, kinds []string, channels int) *wirer {
	b := &wirer{t: t, kinds: kinds, groups: make([][]int, channels)}
	places := len(t.m.Places)
	b.most, b.big = (places+channels-1)/channels, places%channels
	if b.big == 0 {
		b.big = channels
	}
	for i, p := range t.m.Places {
		c, named := p.Channel.Get()
		if !named {
			b.open = append(b.open, i)
			continue
		}
		at := slices.Index(b.names, c)
		if at < 0 {
			at, b.names = len(b.names), append(b.names, c)
		}
		b.groups[at] = append(b.groups[at], i)
	}
	for _, g := range b.groups {
		if len(g) > b.most { // a board that is no even one
			b.most, b.big = len(g), channels
		}
	}
	// Of places that only a count tells of the last come first: the first of them are left for what is fitted next, for
	// they are named in the order in which they are filled.
	last := func(i int) int { return map[bool]int{true: -i}[b.t.m.Places[i].Announced] }
	slices.SortStableFunc(b.open, func(x, y int) int {
		return cmp.Or(cmp.Compare(kinds[x], kinds[y]), cmp.Compare(last(x), last(y)))
	})
	return b
}

// wire wires the open places from the n-th on; false where it ended before all ways were seen.
func (b *wirer) wire(n int) bool {
	if b.turns++; b.turns > mostTurns {
		return false
	}
	if n == len(b.open) {
		return b.found(b.wiring())
	}
	i, from := b.open[n], 0
	if n > 0 && b.kinds[b.open[n-1]] == b.kinds[i] {
		// Of places that hold the same an earlier one is on no later channel.
		from = slices.IndexFunc(b.groups, func(g []int) bool { return slices.Contains(g, b.open[n-1]) })
	}
	for g := from; g < len(b.groups); g++ {
		if !b.room(g) || b.alikeBefore(g) {
			continue
		}
		b.groups[g] = append(b.groups[g], i)
		ok := b.wire(n + 1)
		b.groups[g] = b.groups[g][:len(b.groups[g])-1]
		if !ok {
			return false
		}
	}
	return true
}

// room reports whether one place more may be on a channel, so that all of them come to the even share.
func (b *wirer) room(g int) bool {
	big := 0
	for _, o := range b.groups {
		if len(o) == b.most {
			big++
		}
	}
	return len(b.groups[g]) < b.most-1 || len(b.groups[g]) == b.most-1 && big < b.big
}

// alikeBefore reports whether an earlier channel that nobody names has the same on it so far.
func (b *wirer) alikeBefore(g int) bool {
	for o := len(b.names); o < g; o++ {
		if slices.EqualFunc(b.groups[o], b.groups[g], func(x, y int) bool { return b.kinds[x] == b.kinds[y] }) {
			return true
		}
	}
	return false
}

// dealt is one wiring without a search: like places on different channels, or together.
func (b *wirer) dealt(together bool) wiring {
	groups := slices.Clone(b.groups)
	for g := range b.groups {
		b.groups[g] = slices.Clone(groups[g])
	}
	at := 0
	for _, i := range b.open {
		for !b.room(at) {
			at = (at + 1) % len(b.groups)
		}
		b.groups[at] = append(b.groups[at], i)
		if !together {
			at = (at + 1) % len(b.groups)
		}
	}
	w := b.wiring()
	b.groups = groups
	return w
}

func (b *wirer) wiring() wiring {
	w := make(wiring, len(b.kinds))
	for g, places := range b.groups {
		name := ""
		if g < len(b.names) {
			name = b.names[g]
		} else if len(b.groups) == 1 {
			name = "A"
		} else if len(places) > 0 {
			name = b.t.m.Places[slices.Min(places)].Name // no channel has a place's name
		}
		for _, i := range places {
			w[i] = name
		}
	}
	return w
}

// A view is what one wiring makes of the modules that are tried.
type view struct {
	wired        wiring
	groups       [][]int // the seats on each channel
	slots        []int   // the places of each of these channels
	point, worst maybe.Value[Point]
	why          string // why there is no operating point
}

// newView groups the seats by channel.
func (s *scene) newView(w wiring) view {
	v := view{wired: w}
	var names []string
	for i, seat := range s.seats {
		channel := s.in.channelIn(w, seat.Place)
		at := slices.Index(names, channel)
		if at < 0 {
			at, names, v.groups = len(names), append(names, channel), append(v.groups, nil)
			slots := 0
			for _, c := range w {
				if c == channel {
					slots++
				}
			}
			v.slots = append(v.slots, slots)
		}
		v.groups[at] = append(v.groups[at], i)
	}
	return v
}

// channelIn is the channel of a place in one wiring.
func (t *setting) channelIn(w wiring, place string) string {
	for i := range t.m.Places {
		if t.m.Places[i].Name == place {
			return w[i]
		}
	}
	return ""
}

// view is the wiring of the world that is asked about.
func (s *scene) view(w *rule.World) *view {
	p := rule.Possible[*view]{Key: "channels", Fact: sharesAChannel, Look: lookForChannels, More: s.more}
	for i := range s.views {
		p.Values = append(p.Values, &s.views[i])
	}
	return rule.Choose(w, p)
}

// kindsOf says of each place what its channel sees in what is there.
func (t *setting) kindsOf(seats []Seat) []string {
	kinds := make([]string, len(t.m.Places))
	for i, p := range t.m.Places {
		if at := slices.IndexFunc(seats, func(s Seat) bool { return s.Place == p.Name }); at >= 0 {
			kinds[i] = KindOf(seats[at].Stick).String()
		}
	}
	return kinds
}

// populations are the ways in which the channels are filled in one wiring, each once. Soldered memory is a population
// of its own.
func (s *scene) populations(v *view) (out []catalogue.Population) {
	for g, group := range v.groups {
		p := catalogue.Population{Modules: len(group), Clocked: true}
		ranks, known := 0, true
		for _, i := range group {
			r, has := s.seats[i].Stick.Ranks.Get()
			ranks, known = max(ranks, r), known && has
			p.Clocked = p.Clocked && s.seats[i].Stick.Clocked.Or(false)
		}
		p.Ranks, p.Slots = maybe.If(ranks, known), maybe.Just(v.slots[g])
		if !slices.Contains(out, p) {
			out = append(out, p)
		}
	}
	return out
}

// spreads says how well a wiring spreads modules: what runs over several channels together, and how evenly.
func (t *setting) spreads(w wiring, seats []Seat) (together jedec.Capacity, even int) {
	var placed []Seat
	for _, seat := range seats {
		seat.Channel = t.channelIn(w, seat.Place)
		placed = append(placed, seat)
	}
	all := shares(placed)
	return interleaved(Layered(all)), len(all)
}

// wire chooses the wiring that modules are placed by: the one that is told, or of those that may be the one in which
// what is fitted is spread best, for that is how machines are filled.
func (t *setting) wire() {
	t.counts = t.channelCounts()
	list, _ := t.wirings(t.kindsOf(t.fitted))
	t.base = list[0]
	together, even := t.spreads(t.base, t.fitted)
	for _, w := range list[1:] {
		if a, b := t.spreads(w, t.fitted); cmp.Or(cmp.Compare(a, together), cmp.Compare(b, even)) > 0 {
			t.base, together, even = w, a, b
		}
	}
	each := make([]string, len(t.m.Places))
	for i, p := range t.m.Places {
		each[i] = p.Name
	}
	all, _ := t.wirings(each)
	t.told = len(all) == 1
}
