package trial

import (
	"cmp"
	"fmt"
	"slices"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/module"
	"epitome/core/rule"
)

// Where sticks go: every way of dealing them to the free sockets is looked at,
// ways that differ only in alike sticks or in alike sockets once. Sockets are
// alike where they belong to the same channel, take the same sizes and stand
// at no different turn of the manual's order, or rather: within a channel the
// manual's order decides which is filled first. Channels are alike where they
// hold the same already and have the same free sockets.

// A bay is the free sockets of one channel.
type bay struct {
	channel string
	sockets []machine.Place // in the order in which they are filled
	holds   jedec.Capacity  // what sits on the channel already
	fill    fill            // by what sits there already
}

// place deals the sticks to the free sockets in the best way and returns all
// seats; moved are modules that were fitted, which stay where they were if that
// is as good.
func (t *setting) place(seats []Seat, sticks []module.Module, moved []Put) (all []Seat, err error) {
	if len(sticks)+len(moved) == 0 {
		return seats, nil
	}
	bays, free := t.bays(seats)
	if free < len(sticks)+len(moved) {
		return nil, t.noRoom(free, len(sticks)+len(moved))
	}
	var dealt []dealtStick
	for _, p := range moved {
		dealt = append(dealt, dealtStick{p.Stick, p.Place})
	}
	for _, s := range sticks {
		dealt = append(dealt, dealtStick{s, ""})
	}
	d := &dealer{in: t, bays: bays, sticks: largestFirst(dealt), dealt: make([][]int, len(bays)), fills: make(fills)}
	d.prepare()
	d.deal(0)
	return append(slices.Clone(seats), d.seated()...), nil
}

// A dealtStick is a stick to be dealt, and where it was.
type dealtStick struct {
	module.Module
	home string
}

// seated turns the best deal into seats. Of alike sticks each takes its own
// place where it can.
func (d *dealer) seated() (seats []Seat) {
	card := make(map[string]int) // by place
	var places []machine.Place
	for b, dealt := range d.best {
		for n, i := range dealt {
			p := d.bays[b].sockets[n]
			places = append(places, p)
			card[p.Name] = i
		}
	}
	for i, c := range d.sticks {
		j, taken := card[c.home]
		if c.home == "" || !taken || i == j || !sameForPlacing(c.Module, d.sticks[j].Module) {
			continue
		}
		for name, k := range card {
			if k == i {
				card[name], card[c.home] = j, i
				break
			}
		}
	}
	for _, p := range places {
		c := d.sticks[card[p.Name]]
		seats = append(seats, Seat{Place: p.Name, Channel: d.in.channelOf(p), Stick: c.Module, New: c.home == "",
			From: c.home})
	}
	return seats
}

// noRoom says why so many sticks have nowhere to go: sockets that nobody has
// seen are told from sockets that are not there.
func (t *setting) noRoom(free, want int) error {
	for _, o := range t.m.Open {
		switch o.About.Topic {
		case machine.AboutAttach, machine.AboutSockets, machine.AboutPlaces:
			return fmt.Errorf("%w: free sockets known: %d, wanted: %d; %s", ErrUnclear, free, want, o.Settles)
		}
	}
	if n, ok := t.m.Totals.Sockets.Get(); ok && n == 0 {
		return fmt.Errorf("%w: all memory is soldered, there is no socket", ErrNoRoom)
	}
	return fmt.Errorf("%w: free sockets: %d, wanted: %d; pull something first", ErrNoRoom, free, want)
}

// bays groups the free sockets by channel; a socket of unknown channel is a
// bay of its own.
func (t *setting) bays(seats []Seat) (bays []bay, free int) {
	for _, p := range t.m.Places {
		taken := slices.IndexFunc(seats, func(s Seat) bool { return s.Place == p.Name })
		channel := t.channelOf(p)
		i := slices.IndexFunc(bays, func(b bay) bool { return b.channel == channel && channel != "" })
		if i < 0 {
			bays = append(bays, bay{channel: channel})
			i = len(bays) - 1
		}
		b := &bays[i]
		switch {
		case taken >= 0:
			b.holds += seats[taken].Stick.Capacity.Or(0)
			b.fill = b.fill.with(seats[taken].Stick.Ranks.Or(0), seats[taken].Stick.Clocked.Or(false))
		case p.Attach.Or("") == machine.Socket:
			b.sockets = append(b.sockets, p)
			free++
		}
	}
	for i := range bays {
		b := &bays[i]
		b.fill.slots = b.fill.modules + len(b.sockets)
		slices.SortStableFunc(b.sockets, func(x, y machine.Place) int { return cmp.Compare(t.turn(x.Name), t.turn(y.Name)) })
	}
	return bays, free
}

// turn is a socket's place in the manual's order, last where it has none.
func (t *setting) turn(place string) int {
	if n, ok := t.order[place]; ok {
		return n
	}
	return 1 << 10
}

func largestFirst(dealt []dealtStick) []dealtStick {
	out := slices.Clone(dealt)
	slices.SortStableFunc(out, func(a, b dealtStick) int {
		return cmp.Or(cmp.Compare(b.Capacity.Or(0), a.Capacity.Or(0)), cmp.Compare(b.Ranks.Or(2), a.Ranks.Or(2)))
	})
	return out
}

// sameForPlacing reports whether it makes no difference which of two sticks
// goes where.
func sameForPlacing(a, b module.Module) bool {
	return a.Capacity.Value() == b.Capacity.Value() && a.Ranks.Value() == b.Ranks.Value() &&
		a.Clocked.Value() == b.Clocked.Value()
}

// A dealer tries every way of dealing sticks to bays.
type dealer struct {
	in     *setting
	bays   []bay
	sticks []dealtStick
	runs   []run   // of alike sticks
	twins  []int   // for each bay the first one that is like it
	dealt  [][]int // indices of sticks, by bay
	enough func(score) bool
	done   bool

	scratch     []int
	stickFacts  []stickFact
	socketFacts [][]socketFact
	fills       fills
	best        [][]int
	score       score
}

// A run is alike sticks, from one index up to another.
type run struct{ from, to int }

// prepare finds the runs and the twins.
func (d *dealer) prepare() {
	for i := range d.sticks {
		if i == 0 || !sameForPlacing(d.sticks[i-1].Module, d.sticks[i].Module) {
			d.runs = append(d.runs, run{i, i})
		}
		d.runs[len(d.runs)-1].to = i + 1
	}
	d.facts()
	d.twins = make([]int, len(d.bays))
	for b := range d.bays {
		d.twins[b] = b
		for a := range b {
			if d.twin(d.bays[a], d.bays[b]) {
				d.twins[b] = a
				break
			}
		}
	}
}

// A score ranks a placement; more is better, the first figure first.
type score struct {
	refused     int // channels that a rule about channels refuses, negative
	fits        int // sticks within what their slots take
	rate        jedec.Rate
	interleaved jedec.Capacity
	even        int // less difference between channels
	order       int // the fewer the turns, the better
	home        int // fitted modules, or alike ones, where they were
}

func (a score) beats(b score) bool {
	return cmp.Or(cmp.Compare(a.refused, b.refused), cmp.Compare(a.fits, b.fits), cmp.Compare(a.rate, b.rate),
		cmp.Compare(a.interleaved, b.interleaved), cmp.Compare(a.even, b.even), cmp.Compare(a.order, b.order),
		cmp.Compare(a.home, b.home)) > 0
}

// deal looks at every way of dealing the sticks from run r on: a run is alike
// sticks. Of bays that are alike so far, an earlier one gets no fewer of the
// run than a later one, so that each way is looked at once.
func (d *dealer) deal(r int) {
	if d.done {
		return
	}
	if r == len(d.runs) {
		if s := d.rank(); len(d.best) == 0 || s.beats(d.score) {
			d.score = s
			d.best = slices.Grow(d.best, len(d.dealt))[:len(d.dealt)]
			for b, bay := range d.dealt {
				d.best[b] = append(d.best[b][:0], bay...)
			}
			d.done = d.enough != nil && d.enough(s)
		}
		return
	}
	w := d.buffers(r)
	room := 0
	for b := len(d.bays) - 1; b >= 0; b-- {
		w.room[b] = room
		room += len(d.bays[b].sockets) - len(d.dealt[b])
		w.like[b] = -1
		for a := b - 1; a >= 0; a-- {
			if d.twins[b] == d.twins[a] && d.sameDealt(a, b) {
				w.like[b] = a
				break
			}
		}
	}
	d.dealRun(r, 0, d.runs[r].from, w)
}

// A dealing is what one run needs to know of the bays: the last one before that
// is alike, -1 for none; the room in all later ones; how many of the run each
// was given.
type dealing struct{ like, room, given []int }

// buffers are the slices of one run's dealing, made once.
func (d *dealer) buffers(r int) dealing {
	n := len(d.bays)
	for len(d.scratch) < 3*n*(r+1) {
		d.scratch = append(d.scratch, make([]int, 3*n*len(d.runs))...)
	}
	at := d.scratch[3*n*r : 3*n*(r+1)]
	return dealing{at[:n:n], at[n : 2*n : 2*n], at[2*n:]}
}

// dealRun gives bay b its share of run r, next being the first stick of it that
// is left.
func (d *dealer) dealRun(r, b, next int, w dealing) {
	left := d.runs[r].to - next
	if left == 0 {
		d.deal(r + 1)
		return
	}
	if b == len(d.bays) || d.done {
		return
	}
	most := min(left, len(d.bays[b].sockets)-len(d.dealt[b]))
	if a := w.like[b]; a >= 0 {
		most = min(most, w.given[a])
	}
	least := max(0, left-w.room[b])
	even := (left + len(d.bays) - b - 1) / (len(d.bays) - b)
	for step := range 2*max(even-least, most-even, 0) + 1 {
		// Near to even first: even, one more, one less, two more …
		n := even - step/2
		if step%2 == 1 {
			n = even + step/2 + 1
		}
		if n < least || n > most {
			continue
		}
		for i := range n {
			d.dealt[b] = append(d.dealt[b], next+i)
		}
		w.given[b] = n
		d.dealRun(r, b+1, next+n, w)
		d.dealt[b] = d.dealt[b][:len(d.dealt[b])-n]
		if d.done {
			return
		}
	}
}

// sameDealt reports whether two bays were dealt alike sticks so far.
func (d *dealer) sameDealt(a, b int) bool {
	return slices.EqualFunc(d.dealt[a], d.dealt[b],
		func(i, j int) bool { return d.stickFacts[i].run == d.stickFacts[j].run })
}

func (d *dealer) runOf(i int) int {
	return slices.IndexFunc(d.runs, func(r run) bool { return i < r.to })
}

// twin reports whether two bays are alike before anything is dealt.
func (d *dealer) twin(x, y bay) bool {
	return x.holds == y.holds && x.fill == y.fill && len(x.sockets) == len(y.sockets) && d.alikeSockets(x, y)
}

// alikeSockets: where the manual gives an order, single slots differ, or other
// kinds of stick were there before, bays are told apart.
func (d *dealer) alikeSockets(x, y bay) bool {
	for i := range x.sockets {
		a, b := x.sockets[i].Name, y.sockets[i].Name
		if d.in.order != nil && d.in.turn(a) != d.in.turn(b) || d.in.limits.SlotMost(a) != d.in.limits.SlotMost(b) ||
			d.homeOf(a) != d.homeOf(b) {
			return false
		}
	}
	return true
}

// homeOf is the run of the stick that was fitted at a place, -1 for none.
func (d *dealer) homeOf(place string) int {
	for i := range d.sticks {
		if d.sticks[i].home == place && place != "" {
			return d.runOf(i)
		}
	}
	return -1
}

// A socketFact is what ranking looks at in a socket.
type socketFact struct {
	turn, home int
	most       jedec.Capacity // 0 for no limit of its own
}

// A stickFact is what ranking looks at in a stick.
type stickFact struct {
	size       jedec.Capacity
	ranks, run int // ranks are 0 where they are not known
	clocked    bool
}

// facts gathers what ranking looks at, once.
func (d *dealer) facts() {
	for i := range d.sticks {
		s := &d.sticks[i].Module
		d.stickFacts = append(d.stickFacts, stickFact{s.Capacity.Or(0), s.Ranks.Or(0), d.runOf(i), s.Clocked.Or(false)})
	}
	for _, b := range d.bays {
		var list []socketFact
		for _, p := range b.sockets {
			list = append(list, socketFact{d.in.turn(p.Name), d.homeOf(p.Name), d.in.limits.SlotMost(p.Name).Or(0)})
		}
		d.socketFacts = append(d.socketFacts, list)
	}
}

// rank scores the placement as dealt.
func (d *dealer) rank() score {
	s := score{rate: 1 << 20}
	var least, most, second, total jedec.Capacity
	for b, dealt := range d.dealt {
		bay := &d.bays[b]
		holds, filled := bay.holds, bay.fill
		for n, i := range dealt {
			st, socket := &d.stickFacts[i], &d.socketFacts[b][n]
			holds += st.size
			filled = filled.with(st.ranks, st.clocked)
			if socket.most == 0 || st.size <= socket.most {
				s.fits++
			}
			s.order -= socket.turn
			if socket.home == st.run {
				s.home++
			}
		}
		if filled.modules > 0 {
			run := d.fills.of(d.in, filled)
			if s.rate = min(s.rate, run.rate); run.outcome == rule.Refused {
				s.refused--
			}
		}
		total += holds
		if b == 0 || holds < least {
			least = holds
		}
		if holds > most {
			most, second = holds, most
		} else {
			second = max(second, holds)
		}
	}
	// What the largest channel has beyond the next is served by it alone.
	s.interleaved = total - (most - second)
	s.even = -int((most - least) / jedec.MiB)
	return s
}

// capRate is the least bound on the rate of a way of filling a channel, 0 where
// nobody states one.
func (t *setting) capRate(p catalogue.Population) (rate jedec.Rate) {
	caps, _ := t.capsOf(p)
	for _, c := range caps {
		if rate == 0 || c.rate < rate {
			rate = c.rate
		}
	}
	return rate
}
