package bench

import (
	"cmp"
	"crypto/sha256"
	"errors"
	"fmt"
	"slices"
	"strings"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/plain"
	"epitome/core/propose"
	"epitome/core/rounds"
)

// look works out the ways of every machine. Lists of ways that are the same are kept once.
func (r *Round) look(index map[string]int) (lists [][]roundWay, err error) {
	pools := newPools(r.items, r.Priced)
	alike := &likeness{found: make(map[[sha256.Size]byte][]byte)}
	known := make(map[string]int)
	specs := make(map[roundSpec]int)
	err = r.spread("looking at the machines", func(from, to int) any {
		var p roundPart
		had := make(map[string]int)
		for i := from; i < to; i++ {
			c, ways, more := r.lookAt(i, pools, index, alike)
			if c.List = -1; len(ways) > 0 {
				ways = r.shared.renumber(ways, func(n int) int {
					if n >= 0 {
						return n
					}
					at := slices.Index(p.Specs, more[-1-n])
					if at < 0 {
						at, p.Specs = len(p.Specs), append(p.Specs, more[-1-n])
					}
					return -1 - at
				})
				key := fmt.Sprint(ways)
				at, ok := had[key]
				if !ok {
					at, had[key] = len(p.Lists), len(p.Lists)
					p.Lists = append(p.Lists, ways)
				}
				c.List = at
			}
			p.Cards = append(p.Cards, c)
		}
		return p
	}, func(from, to int, came []byte) error {
		var p roundPart
		if err := unpack(came, &p); err != nil {
			return err
		}
		at := make([]int, len(p.Lists))
		for i, ways := range p.Lists {
			ways = r.shared.renumber(ways, func(n int) int {
				if n >= 0 {
					return n
				}
				spec := p.Specs[-1-n]
				item, ok := specs[spec]
				if !ok {
					item, specs[spec] = len(r.items), len(r.items)
					r.items = append(r.items, roundItem{spec: true, lots: []*Offer{specOffer(spec, len(r.items))}})
				}
				return item
			})
			key := fmt.Sprint(ways)
			n, ok := known[key]
			if !ok {
				n, known[key] = len(lists), len(lists)
				lists = append(lists, ways)
			}
			at[i] = n
		}
		for _, c := range p.Cards {
			if c.List >= 0 {
				c.List = at[c.List]
			}
			r.machines = append(r.machines, c)
		}
		return nil
	})
	return lists, err
}

func specOffer(s roundSpec, item int) *Offer {
	return &Offer{Number: item + 1, Text: s.Text, Pieces: 1, MinOrder: 1, Price: s.Price,
		Stick: &Stick{Kind: "specification", From: s.From}}
}

// renumber gives the items of ways other numbers.
func (x *interned) renumber(ways []roundWay, to func(int) int) []roundWay {
	out := slices.Clone(ways)
	for i := range out {
		out[i].Wants = slices.Clone(out[i].Wants)
		for k, want := range out[i].Wants {
			items := make([]int, len(want.Items))
			for j, n := range want.Items {
				items[j] = to(n)
			}
			out[i].Wants[k].Items = x.one(items)
		}
	}
	return out
}

// lookAt works out what can be done for one machine, and what speaks for doing it.
func (r *Round) lookAt(i int, pools *pools, index map[string]int, alike *likeness) (c roundCard, ways []roundWay,
	specs []roundSpec) {
	c.State = RoundOpen
	if r.stopped() {
		c.Says = "not looked at: the round was stopped"
		return c, nil, nil
	}
	b, err := r.order.Open(i)
	if err != nil {
		c.State, c.Says = RoundUnread, plain.Clip(plain.Line(err.Error()), 300)
		return c, nil, nil
	}
	c.Job, c.Title, c.Machine = plain.Line(b.card.Job), b.Title(), plain.Line(cmp.Or(b.Name(), "a machine without a name"))
	c.Before = b.Machine().Have()
	key := alike.key(b)
	x, ok := alike.get(key)
	if !ok {
		x = r.lookInto(b, pools, index)
		if x.State != RoundOpen || !r.stopped() {
			alike.put(key, x)
		}
	}
	c.Need, c.Gain, c.State, c.Says = x.Need, x.Gain, x.State, x.Says
	return c, x.Ways, x.Specs
}

// lookInto is lookAt, of a machine that is like none before.
func (r *Round) lookInto(b *Bench, pools *pools, index map[string]int) (x looked) {
	x.State = RoundOpen
	goals, err := b.goalsOf(r.order)
	if err != nil {
		x.State, x.Says = roundStateOf(err), plain.Line(roundSays(err))
	}
	before := b.Machine().Have()
	for k, goal := range goals {
		found, offers, err := b.waysWith(goal, pools, r.order.Stop)
		if err != nil {
			if k == 0 {
				x.State, x.Says = roundStateOf(err), plain.Line(roundSays(err))
			}
			continue
		}
		for _, o := range offers {
			x.Specs = append(x.Specs, roundSpec{o.Text, o.Stick.From, o.Price})
		}
		x.State, x.Says = RoundShort, ""
		wanted := goal.Reach
		if !wanted.Known() {
			if steps := b.steps(); len(steps) > 0 {
				wanted = maybe.Just(steps[0])
			}
		}
		x.Need = propose.Missing(before, wanted)
		x.Gain = int(min((max(found[0].Total, before)-before)/jedec.GiB, 99))
		x.Ways = r.handOn(found, index)
		break
	}
	return x
}

// roundSays is an error without what its state says already.
func roundSays(err error) string {
	says := err.Error()
	for _, kind := range []error{propose.ErrReached, propose.ErrBeyond} {
		says = strings.TrimPrefix(says, kind.Error()+": ")
	}
	return says
}

// handOn writes ways as the parts of the work hand them on.
func (r *Round) handOn(found []safeWay, index map[string]int) (ways []roundWay) {
	for _, w := range found {
		one := roundWay{Keep: w.Keep, Level: w.Level, Extra: int64(w.Extra), Unsafe: w.unsafe}
		for _, want := range w.Wants {
			items := make([]int, len(want.Offers))
			for i, n := range want.Offers {
				items[i] = n
				if n > 0 {
					items[i] = n - 1
				}
			}
			one.Wants = append(one.Wants, rounds.Want{Items: r.shared.one(items), N: want.N})
		}
		for _, s := range w.Gone {
			alike := s.Alike()
			if at, ok := index[sumOf(&alike)]; ok {
				one.Frees = append(one.Frees, at)
			}
		}
		ways = append(ways, one)
	}
	return ways
}

func roundStateOf(err error) RoundState {
	switch {
	case errors.Is(err, propose.ErrReached):
		return RoundEnough
	case errors.Is(err, propose.ErrBeyond):
		return RoundBeyond
	}
	return RoundOpen
}

// goalsOf are the goals that a round tries for a machine, in turn. The error, where there is none, is one of package
// propose's.
func (b *Bench) goalsOf(o RoundOrder) (list []Goal, err error) {
	g := o.Goal
	g.Offers, g.OnlyNew, g.InStock = nil, false, false // what may be had was sorted into pools already
	if len(o.Uses) > 0 {
		b.Toward(&g, o.Policy, o.Uses)
	}
	if g.Most || g.Fastest {
		r, err := b.Propose(o.Goal, o.Stop) // of everything that may be had it names the figure
		if err != nil {
			return nil, err
		}
		g.Reach, g.Rate, g.Most, g.Fastest = r.Goal.Reach, r.Goal.Rate, false, false
	}
	if g.Reach.Known() || g.Rate.Known() || g.Spend.Known() {
		return []Goal{g}, nil
	}
	for _, size := range b.steps() {
		one := g
		one.Reach = maybe.Just(size)
		list = append(list, one)
	}
	if len(list) == 0 {
		return nil, fmt.Errorf("%w: it holds the most that it takes", propose.ErrReached)
	}
	return list, nil
}

// A safeWay is a way with whether it is right however an open machine is built.
type safeWay struct {
	propose.Way
	unsafe bool
}

// waysWith lists the ways of a machine. Where it is open how the machine is built, they are
// those of how the evidence leans; what makes it better in any case comes first.
func (b *Bench) waysWith(goal Goal, pools *pools, stop func() bool) (out []safeWay, specs []Offer, err error) {
	list := b.builds()
	lead := b
	if len(list) > 0 {
		lead = list[0].bench
	}
	l := lead.Ceilings()
	pool := pools.of(l.Generation.Or(0), l.Form.Or(0))
	ways, specs, err := propose.Ways(lead.Machine(), l, goal, pool, stop)
	if err != nil {
		return nil, nil, err
	}
	unsafe := make([]bool, len(ways))
	for _, x := range list[min(1, len(list)):] {
		any := goal
		any.Reach = maybe.Just(x.bench.Machine().Have() + 1)
		others, _, _ := propose.Ways(x.bench.Machine(), x.bench.Ceilings(), any, pool, stop)
		fits := make(map[string]bool)
		for _, w := range others {
			fits[takes(w)] = true
		}
		for i, w := range ways {
			unsafe[i] = unsafe[i] || !fits[takes(w)]
		}
	}
	worst := 0
	for i, w := range ways {
		if !unsafe[i] {
			worst = max(worst, w.Level+1)
		}
	}
	for i, w := range ways {
		if unsafe[i] {
			w.Level += worst
		}
		w.Level = min(w.Level, 50)
		out = append(out, safeWay{w, unsafe[i]})
	}
	slices.SortStableFunc(out, func(a, b safeWay) int { return cmp.Compare(a.Level, b.Level) })
	return out, specs, nil
}

// takes tells ways that take the same.
func takes(w propose.Way) string {
	key := ""
	for _, want := range w.Wants {
		key += fmt.Sprint(want.Offers[0], " ", want.N, " ")
	}
	return key
}
