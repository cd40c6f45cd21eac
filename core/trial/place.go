package trial

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/stick"
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
	modules int
	ranks   int
}

// place deals the sticks to the free sockets in the best way and returns all
// seats. searched is how many ways were looked at.
func (t *setting) place(seats []Seat, sticks []stick.Stick) (all []Seat, searched int, err error) {
	if len(sticks) == 0 {
		return seats, 0, nil
	}
	bays, free := t.bays(seats)
	if free < len(sticks) {
		return nil, 0, t.noRoom(free, len(sticks))
	}
	d := &dealer{in: t, bays: bays, sticks: largestFirst(sticks), dealt: make([][]int, len(bays)), rates: make(map[catalogue.Population]jedec.Rate)}
	d.alike = make([]bool, len(d.sticks))
	for i := 1; i < len(d.sticks); i++ {
		d.alike[i] = sameForPlacing(d.sticks[i-1], d.sticks[i])
	}
	d.deal(0)
	all = slices.Clone(seats)
	for b, dealt := range d.best {
		for n, i := range dealt {
			p := bays[b].sockets[n]
			all = append(all, Seat{Place: p.Name, Channel: p.Channel.Or(""), Stick: d.sticks[i], New: true})
		}
	}
	return all, d.searched, nil
}

// noRoom says why so many sticks have nowhere to go: sockets that nobody has
// seen are told from sockets that are not there.
func (t *setting) noRoom(free, want int) error {
	for _, o := range t.m.Open {
		if strings.HasPrefix(o.About, "attach of") || o.About == "number of sockets" || o.About == "places" {
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
		channel := p.Channel.Or("")
		i := slices.IndexFunc(bays, func(b bay) bool { return b.channel == channel && channel != "" })
		if i < 0 {
			bays = append(bays, bay{channel: channel})
			i = len(bays) - 1
		}
		b := &bays[i]
		switch {
		case taken >= 0:
			b.holds += seats[taken].Stick.Capacity.Or(0)
			b.modules++
			b.ranks = max(b.ranks, seats[taken].Stick.Ranks.Or(2))
		case p.Attach.Or("") == machine.Socket:
			b.sockets = append(b.sockets, p)
			free++
		}
	}
	for _, b := range bays {
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

func largestFirst(sticks []stick.Stick) []stick.Stick {
	out := slices.Clone(sticks)
	slices.SortStableFunc(out, func(a, b stick.Stick) int {
		return cmp.Or(cmp.Compare(b.Capacity.Or(0), a.Capacity.Or(0)), cmp.Compare(b.Ranks.Or(2), a.Ranks.Or(2)))
	})
	return out
}

// sameForPlacing reports whether it makes no difference which of two sticks
// goes where.
func sameForPlacing(a, b stick.Stick) bool {
	return a.Capacity == b.Capacity && a.Ranks == b.Ranks && a.Clocked == b.Clocked
}

// A dealer tries every way of dealing sticks to bays.
type dealer struct {
	in       *setting
	bays     []bay
	sticks   []stick.Stick
	alike    []bool  // stick i is like the one before
	dealt    [][]int // indices of sticks, by bay
	at       []int   // bay of each stick dealt so far
	rates    map[catalogue.Population]jedec.Rate
	best     [][]int
	score    score
	searched int
}

// A score ranks a placement; more is better, the first figure first.
type score struct {
	fits        int // sticks within what their slots take
	rate        jedec.Rate
	interleaved jedec.Capacity
	even        int // less difference between channels
	order       int // the fewer the turns, the better
}

func (a score) beats(b score) bool {
	return cmp.Or(cmp.Compare(a.fits, b.fits), cmp.Compare(a.rate, b.rate), cmp.Compare(a.interleaved, b.interleaved), cmp.Compare(a.even, b.even), cmp.Compare(a.order, b.order)) > 0
}

func (d *dealer) deal(i int) {
	if i == len(d.sticks) {
		d.searched++
		if s := d.rank(); d.best == nil || s.beats(d.score) {
			d.score, d.best = s, nil
			for _, bay := range d.dealt {
				d.best = append(d.best, slices.Clone(bay))
			}
		}
		return
	}
	start := 0
	if i > 0 && d.alike[i] {
		start = d.at[i-1] // alike sticks go to bays in rising order: each set once
	}
	for b := start; b < len(d.bays); b++ {
		if len(d.dealt[b]) == len(d.bays[b].sockets) || d.twin(b, start) {
			continue
		}
		d.dealt[b] = append(d.dealt[b], i)
		d.at = append(d.at, b)
		d.deal(i + 1)
		d.at = d.at[:len(d.at)-1]
		d.dealt[b] = d.dealt[b][:len(d.dealt[b])-1]
	}
}

// twin reports whether an earlier bay, one that could be taken as well, is just
// like this one: empty of new sticks, and alike in what it holds and has free.
func (d *dealer) twin(b, start int) bool {
	if len(d.dealt[b]) > 0 {
		return false
	}
	for a := start; a < b; a++ {
		x, y := d.bays[a], d.bays[b]
		if len(d.dealt[a]) == 0 && x.holds == y.holds && x.modules == y.modules && x.ranks == y.ranks && len(x.sockets) == len(y.sockets) && d.alikeSockets(x, y) {
			return true
		}
	}
	return false
}

// alikeSockets: where the manual gives an order or single slots differ, bays
// are told apart.
func (d *dealer) alikeSockets(x, y bay) bool {
	for i := range x.sockets {
		if d.in.order != nil && d.in.turn(x.sockets[i].Name) != d.in.turn(y.sockets[i].Name) ||
			d.in.limits.SlotMost(x.sockets[i].Name) != d.in.limits.SlotMost(y.sockets[i].Name) {
			return false
		}
	}
	return true
}

// rank scores the placement as dealt.
func (d *dealer) rank() score {
	var s score
	s.rate = 1 << 20
	list := make([]Share, 0, len(d.bays))
	least, most := jedec.Capacity(0), jedec.Capacity(0)
	for b, dealt := range d.dealt {
		bay := d.bays[b]
		holds, ranks, clocked := bay.holds, bay.ranks, bay.modules == 0
		for n, i := range dealt {
			st := d.sticks[i]
			size := st.Capacity.Or(0)
			holds += size
			ranks = max(ranks, st.Ranks.Or(2))
			clocked = clocked && st.Clocked.Or(false)
			if limit, ok := d.in.limits.SlotMost(bay.sockets[n].Name).Get(); !ok || size <= limit {
				s.fits++
			}
			s.order -= d.in.turn(bay.sockets[n].Name)
		}
		if modules := bay.modules + len(dealt); modules > 0 {
			s.rate = min(s.rate, d.rateOf(catalogue.Population{Modules: modules, Ranks: maybe.Just(ranks), Clocked: clocked, Slots: maybe.Just(bay.modules + len(bay.sockets))}))
		}
		list = append(list, Share{Capacity: holds})
		if b == 0 || holds < least {
			least = holds
		}
		most = max(most, holds)
	}
	s.interleaved = interleaved(Layered(list))
	s.even = -int((most - least) / jedec.MiB)
	return s
}

// rateOf is the rate that the known ceilings leave to a way of filling a
// channel; what nobody states counts as slow as it may be.
func (d *dealer) rateOf(p catalogue.Population) jedec.Rate {
	if rate, ok := d.rates[p]; ok {
		return rate
	}
	row := d.in.limits.Rates(p)
	rate := jedec.Rate(0)
	if ok, _ := decides(row); ok {
		if c, ok := ceiling.Least(row); ok {
			rate = jedec.Rate(c.Most.Or(0))
		}
	}
	d.rates[p] = rate
	return rate
}
