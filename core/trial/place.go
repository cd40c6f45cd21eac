package trial

import (
	"cmp"
	"slices"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/module"
)

// Where modules go: every way of dealing them to the free sockets is looked at, by classes: modules that are alike
// and channels that are alike are told apart by how many go where, never by which. Within a channel the manual's
// order decides which socket is filled first. Channels are alike where they hold the same already and have the same
// free sockets. The work is bounded (see mostDeals): past the bound the best way found so far is taken, and counts as
// not proved.

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
	d.search(mostDeals)
	t.cut = t.cut || d.cut
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
		at := d.arranged(b, dealt)
		for n, i := range dealt {
			p := d.bays[b].sockets[at[n]]
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
		seats = append(seats, Seat{Place: p.Name, Channel: d.in.toldChannel(p), Stick: c.Module, New: c.home == "",
			From: c.home})
	}
	return seats
}

// bays groups the free sockets by channel.
func (t *setting) bays(seats []Seat) (bays []bay, free int) {
	for _, p := range t.m.Places {
		taken := slices.IndexFunc(seats, func(s Seat) bool { return s.Place == p.Name })
		channel := t.channelOf(p)
		i := slices.IndexFunc(bays, func(b bay) bool { return b.channel == channel })
		if i < 0 {
			bays = append(bays, bay{channel: channel})
			i = len(bays) - 1
		}
		b := &bays[i]
		switch {
		case taken >= 0:
			b.holds += seats[taken].Stick.Capacity.Or(0)
			b.fill = b.fill.with(placeRanks(seats[taken].Stick), seats[taken].Stick.Clocked.Or(false))
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

// capRate is the least bound on the rate of a way of filling a channel, 0 where
// nobody states one.
func (t *setting) capRate(p catalogue.Population) (rate jedec.Rate) {
	caps, _ := t.capsOf(p)
	return least(caps)
}
