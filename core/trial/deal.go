package trial

import (
	"cmp"
	"slices"

	"epitome/core/jedec"
	"epitome/core/machine"
)

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
	left   int  // ways that may still be looked at
	cut    bool // not every way was looked at, and the best of them may be another

	scratch     []int
	stickFacts  []stickFact
	socketFacts [][]socketFact
	stays       []bool // bays in which a stick was, and may stay; with sockets that take the same
	inTurn      []int  // 0, 1, 2 …
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

// mostDeals bounds the ways of dealing one set of modules that are looked at, times the channels that each fills: some
// milliseconds' worth. Sixteen modules of which no two are alike can go into sixteen sockets on eight channels in two
// million ways, and thirty-two in more than anybody counts; those of a machine as it is bought in some dozens.
const mostDeals = 60_000

// search looks at the ways of dealing, at most so many times the channels. It begins with two that are mostly good:
// what was fitted stays where it is, and the largest module left goes to the channel that holds least; and betters
// them by exchanging two.
func (d *dealer) search(most int) {
	d.left, d.cut = most/max(1, len(d.bays)), false
	if len(d.runs) > fewRuns {
		for _, begin := range []func() bool{d.stay, d.level} {
			if begin() {
				d.consider()
				d.better()
			}
			for b := range d.dealt {
				d.dealt[b] = d.dealt[b][:0]
			}
		}
	}
	if d.deal(0); d.left <= 0 && !d.done {
		d.cut = true
	}
}

// fewRuns is how many kinds of module are dealt in every way without more ado.
const fewRuns = 4

// consider ranks what is dealt, and keeps it where it is the best so far.
func (d *dealer) consider() (best bool) {
	d.left--
	s := d.rank()
	if len(d.best) > 0 && !s.beats(d.score) {
		return false
	}
	d.score = s
	d.best = slices.Grow(d.best, len(d.dealt))[:len(d.dealt)]
	for b, dealt := range d.dealt {
		d.best[b] = append(d.best[b][:0], dealt...)
	}
	d.done = d.enough != nil && d.enough(s)
	return true
}

// stay deals each module that was fitted to where it was; ok is false where one has no such place or there are others.
func (d *dealer) stay() (ok bool) {
	for i, c := range d.sticks {
		b := slices.IndexFunc(d.bays, func(b bay) bool {
			return slices.ContainsFunc(b.sockets, func(p machine.Place) bool { return p.Name == c.home })
		})
		if c.home == "" || b < 0 || len(d.dealt[b]) == len(d.bays[b].sockets) {
			return false
		}
		d.dealt[b] = append(d.dealt[b], i)
	}
	return len(d.sticks) > 0
}

// level deals the largest first, each to the channel that holds least and has room.
func (d *dealer) level() (ok bool) {
	holds := make([]jedec.Capacity, len(d.bays))
	for b := range d.bays {
		holds[b] = d.bays[b].holds
	}
	for i := range d.stickFacts {
		at := -1
		for b := range d.bays {
			if len(d.dealt[b]) < len(d.bays[b].sockets) && (at < 0 || holds[b] < holds[at]) {
				at = b
			}
		}
		if at < 0 {
			return false
		}
		d.dealt[at] = append(d.dealt[at], i)
		holds[at] += d.stickFacts[i].size
	}
	return true
}

// better exchanges two modules of different channels, or moves one to a socket that is free, while that is better.
func (d *dealer) better() {
	for improved := true; improved && !d.done && d.left > 0; {
		improved = false
		for a := range d.dealt {
			for b := range d.dealt {
				if a != b && d.exchange(a, b) {
					improved = true
				}
			}
		}
	}
}

// exchange tries each module of one channel in another, in the place of each there and in a free socket.
func (d *dealer) exchange(a, b int) (improved bool) {
	for x := 0; x < len(d.dealt[a]); x++ {
		if len(d.dealt[b]) < len(d.bays[b].sockets) {
			i := d.dealt[a][x]
			d.dealt[a], d.dealt[b] = slices.Delete(d.dealt[a], x, x+1), append(d.dealt[b], i)
			if d.consider() {
				return true
			}
			d.dealt[a], d.dealt[b] = slices.Insert(d.dealt[a], x, i), d.dealt[b][:len(d.dealt[b])-1]
		}
		for y := 0; a < b && y < len(d.dealt[b]); y++ {
			if d.stickFacts[d.dealt[a][x]].run == d.stickFacts[d.dealt[b][y]].run {
				continue
			}
			d.dealt[a][x], d.dealt[b][y] = d.dealt[b][y], d.dealt[a][x]
			if d.consider() {
				improved = true
				continue
			}
			d.dealt[a][x], d.dealt[b][y] = d.dealt[b][y], d.dealt[a][x]
		}
	}
	return improved
}

// deal looks at every way of dealing the sticks from run r on: a run is alike
// sticks. Of bays that are alike so far, an earlier one gets no fewer of the
// run than a later one, so that each way is looked at once.
func (d *dealer) deal(r int) {
	if d.done || d.left <= 0 {
		return
	}
	if r == len(d.runs) {
		d.consider()
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
	if b == len(d.bays) || d.done || d.left <= 0 {
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
		if d.done || d.left <= 0 {
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
		d.stickFacts = append(d.stickFacts, stickFact{s.Capacity.Or(0), placeRanks(*s), d.runOf(i), s.Clocked.Or(false)})
	}
	for _, b := range d.bays {
		var list []socketFact
		for _, p := range b.sockets {
			list = append(list, socketFact{d.in.turn(p.Name), d.homeOf(p.Name), d.in.limits.SlotMost(p.Name).Or(0)})
		}
		for len(d.inTurn) < len(list) {
			d.inTurn = append(d.inTurn, len(d.inTurn))
		}
		d.stays = append(d.stays, slices.ContainsFunc(list, func(f socketFact) bool { return f.home >= 0 }) &&
			!slices.ContainsFunc(list, func(f socketFact) bool { return f.most != list[0].most }))
		d.socketFacts = append(d.socketFacts, list)
	}
}

// arranged says into which of a bay's sockets each of the sticks dealt to it goes: as many as there are, in the order
// in which they are filled; and of those that come at the same turn, and among those that are filled, each stick stays
// where it, or one like it, was. Within a channel that costs nothing.
func (d *dealer) arranged(b int, dealt []int) (at []int) {
	sockets := d.socketFacts[b]
	if !d.stays[b] || len(dealt) == 0 {
		return d.inTurn[:len(dealt)]
	}
	last := sockets[len(dealt)-1].turn
	filled := make([]bool, len(sockets))
	at = slices.Repeat([]int{-1}, len(dealt))
	room := len(dealt) // for those that stay: what comes at an earlier turn is filled by somebody
	for j := range sockets {
		room -= map[bool]int{true: 1}[sockets[j].turn < last]
	}
	for n, i := range dealt {
		for j, socket := range sockets {
			spare := socket.turn == last
			if at[n] < 0 && !filled[j] && socket.home == d.stickFacts[i].run && (socket.turn < last || spare && room > 0) {
				at[n], filled[j] = j, true
				room -= map[bool]int{true: 1}[spare]
			}
		}
	}
	next := 0
	for n := range dealt {
		if at[n] >= 0 {
			continue
		}
		for filled[next] {
			next++
		}
		at[n], filled[next] = next, true
	}
	return at
}

// rank scores the placement as dealt.
func (d *dealer) rank() score {
	s := score{rate: 1 << 20}
	var least, most, second, total jedec.Capacity
	for b, dealt := range d.dealt {
		bay := &d.bays[b]
		holds, filled := bay.holds, bay.fill
		at := d.arranged(b, dealt)
		for n, i := range dealt {
			st, socket := &d.stickFacts[i], &d.socketFacts[b][at[n]]
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
			if s.rate = min(s.rate, run.rate); run.outcome.Against() {
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
