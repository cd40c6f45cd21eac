package bench

import (
	"cmp"
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"errors"
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
	"epitome/core/plain"
	"epitome/core/propose"
	"epitome/core/rounds"
	"epitome/core/stock"
	"epitome/core/trial"
)

// A RoundOrder is what is asked of many machines at once.
type RoundOrder struct {
	Cards    int
	Name     func(i int) string // the card's file
	Open     func(i int) (*Bench, error)
	Goal     Goal // of each machine; with no size and no money its next sensible size
	Policy   Policy
	Uses     []need.Use
	Budget   maybe.Value[stock.Money] // for all together
	Offers   []Offer                  // nothing: specifications by what exists
	Currency string
	Drawer   []Stick
	Shape    func(Result, Proposal) ([]byte, error) // how a proposal is kept for the caller; nil for not at all
	Spread   Spread                                 // who works; nil for this process
	Stop     func() bool                            // asked now and then, by several at once
	Seen     func(doing string, cards int)          // how far it is
}

// A RoundState is what a round comes to for one machine.
type RoundState string

// The states.
const (
	RoundGets   RoundState = "gets"   // something is done
	RoundEnough RoundState = "enough" // it has what is asked for, or goes no further
	RoundShort  RoundState = "short"  // stock or money did not go so far
	RoundBeyond RoundState = "beyond" // nothing on the list does it
	RoundOpen   RoundState = "open"   // it can't be told
	RoundUnread RoundState = "unread" // its card can't be read
)

// A RoundPart is modules that a machine gets, gives or leaves over.
type RoundPart struct {
	N     int
	What  string
	Offer string // article number and supplier
	From  string // where they lie, or the machine that they come out of; empty for what is bought
}

// A RoundLine is what a round comes to for one machine.
type RoundLine struct {
	Card, Job, Machine, Title string
	Name                      string // its job, or its card's: how it is called in the round
	State                     RoundState
	Says                      string
	Before, After             jedec.Capacity
	Rate                      jedec.Rate // that memory then runs at, 0 where not known
	Verdict                   Verdict
	Looks                     []string // before buying
	Gets, Out                 []RoundPart
	Moves                     []string
	Cost                      stock.Money // its share of what is bought
	Way                       Way
	Shape                     []byte // as the caller wanted it; empty where it gets nothing
}

// A RoundBuy is one line of the buying list.
type RoundBuy struct {
	propose.Buy
	For []string // jobs, or cards where they have none
}

// A Round is what a round comes to as a whole.
type Round struct {
	Buying   []RoundBuy
	Cost     stock.Money
	Currency string
	Priced   bool
	Budget   maybe.Value[stock.Money]
	Read     int
	Count    map[RoundState]int
	Unread   []RoundLine
	Left     []RoundPart // that is bought and no machine gets
	Exact    bool
	// May is how much better, at most, another plan would be, where the search was ended
	// early: so much cheaper, so many steps of quality, so many hundredths of what one
	// machine lacks. They add up.
	May               stock.Money
	MaySteps, MayNeed int64

	order    RoundOrder
	items    []roundItem
	machines []roundCard
	ways     [][]roundWay
	choices  []rounds.Choice
	given    map[int][]piece // by machine
	shared   interned
}

// An interned keeps lists of items that are the same once: thousands of ways take from the
// same few.
type interned struct {
	mu    sync.Mutex
	lists map[string][]int
}

func (x *interned) one(items []int) []int {
	var key []byte
	for _, n := range items {
		key = binary.AppendVarint(key, int64(n))
	}
	x.mu.Lock()
	defer x.mu.Unlock()
	if list, ok := x.lists[string(key)]; ok {
		return list
	}
	if x.lists == nil {
		x.lists = make(map[string][]int)
	}
	x.lists[string(key)] = items
	return items
}

// A roundItem is modules that nothing tells apart, wherever they are.
type roundItem struct {
	stick  Stick
	lots   []*Offer
	drawer int
	spec   bool
}

// A piece is one module that a machine gets.
type piece struct {
	item int
	lot  int // of the item; -1 for one that lies there
	out  int // the machine that it comes out of; -1 for none
}

// partCards is how many cards one part of the work is.
const partCards = 25

// A roundCard is one machine in the middle of a round.
type roundCard struct {
	List                int // of ways; -1 for none
	Need, Gain          int
	Before              jedec.Capacity
	State               RoundState
	Says                string
	Job, Title, Machine string
}

// A roundWay is a way as the parts of the work hand it on.
type roundWay struct {
	Keep   []int
	Level  int
	Extra  int64
	Wants  []rounds.Want
	Frees  []int // items of the modules that come out
	Unsafe bool  // it is right only as the evidence leans
}

// A roundPart is what became of some cards.
type roundPart struct {
	Specs []roundSpec
	Lists [][]roundWay
	Cards []roundCard
}

// A roundSpec is a specification that a way takes.
type roundSpec struct {
	Text, From string
	Price      stock.Money
}

// A fittedAt is a module that sits in a machine, found again by its card and seat.
type fittedAt struct {
	Card, Seat int
	Sum        string
}

// sumOf tells modules that rules can tell apart.
func sumOf(s *Stick) string {
	sum := sha256.Sum256(fmt.Appendf(nil, "%+v|%v|%+v", s.Facts, s.Kind, s.Profiles))
	return hex.EncodeToString(sum[:12])
}

// Plan works out a round: what every machine gets, and the one list to buy. The error is an
// InputError, or the Spread's.
func (o RoundOrder) Plan() (*Round, error) {
	r := &Round{order: o, Currency: o.Currency, Priced: len(o.Offers) > 0, Budget: o.Budget,
		Count: make(map[RoundState]int)}
	if o.Budget.Known() && !r.Priced {
		return nil, input("--budget wants a price list; name one with --stock")
	}
	if r.order.Spread == nil {
		r.order.Spread = Here{}
	}
	index, err := r.gather()
	if err != nil {
		return nil, err
	}
	lists, err := r.look(index)
	if err != nil {
		return nil, err
	}
	r.ways = lists
	r.solve(lists)
	return r, nil
}

// gather lists everything that machines may get: what is sold, what is in the drawer, and
// what sits in the machines. index finds an item by its sum.
func (r *Round) gather() (index map[string]int, err error) {
	index = make(map[string]int)
	add := func(s Stick, apart string) int {
		alike := s.Alike()
		sum := sumOf(&alike) + apart
		at, ok := index[sum]
		if !ok {
			at, index[sum] = len(r.items), len(r.items)
			r.items = append(r.items, roundItem{stick: alike})
		}
		return at
	}
	same := make(map[*Stick]int) // lists share what many lines come to
	for i := range r.order.Offers {
		o := &r.order.Offers[i]
		n, stated := o.Quantity.Get()
		if g := r.order.Goal; g.OnlyNew && o.Condition != stock.New || g.InStock && !stated ||
			stated && n < max(1, o.MinOrder) {
			continue
		}
		at, ok := same[o.Stick]
		switch {
		case r.order.Goal.Spend.Known(): // what a line costs must be within the money, whatever runs out
			at = add(*o.Stick, fmt.Sprint(" ", i))
		case !ok:
			at = add(*o.Stick, "")
			same[o.Stick] = at
		}
		o.Number = i + 1
		r.items[at].lots = append(r.items[at].lots, o)
	}
	for _, s := range r.order.Drawer {
		for _, one := range s.Apart() {
			r.items[add(one, "")].drawer++
		}
	}
	seen := make(map[string]bool)
	err = r.spread("reading the cards", func(from, to int) any {
		var list []fittedAt
		known := make(map[string]bool)
		for i := from; i < to && !r.stopped(); i++ {
			b, err := r.order.Open(i)
			if err != nil {
				continue
			}
			for seat, f := range trial.Fitted(b.Machine()) {
				alike := f.Stick.Alike()
				if sum := sumOf(&alike); !f.Soldered && !known[sum] {
					known[sum] = true
					list = append(list, fittedAt{i, seat, sum})
				}
			}
		}
		return list
	}, func(from, to int, came []byte) error {
		var list []fittedAt
		if err := unpack(came, &list); err != nil {
			return err
		}
		for _, x := range list {
			if seen[x.Sum] {
				continue
			}
			seen[x.Sum] = true
			if b, err := r.order.Open(x.Card); err == nil {
				if fitted := trial.Fitted(b.Machine()); x.Seat < len(fitted) {
					add(fitted[x.Seat].Stick, "")
				}
			}
		}
		return nil
	})
	return index, err
}

// spread has all cards worked on, some at a time.
func (r *Round) spread(doing string, work func(from, to int) any, take func(from, to int, came []byte) error) error {
	bounds := func(part int) (from, to int) { return part * partCards, min((part+1)*partCards, r.order.Cards) }
	var done atomic.Int64
	return r.order.Spread.Do(doing, (r.order.Cards+partCards-1)/partCards, func(part int) ([]byte, error) {
		from, to := bounds(part)
		came, err := pack(work(from, to))
		if _, here := r.order.Spread.(Here); !here && r.stopped() {
			return nil, ErrStopped // others must not take a part that was cut short for a whole one
		}
		if r.order.Seen != nil {
			r.order.Seen(doing, int(done.Add(int64(to-from))))
		}
		return came, err
	}, func(part int, came []byte) error {
		from, to := bounds(part)
		return take(from, to, came)
	})
}

func (r *Round) stopped() bool { return r.order.Stop != nil && r.order.Stop() }

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
	c.Before = b.Machine().Totals.Installed.Or(0)
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
	goals, says := b.goalsOf(r.order)
	if len(goals) == 0 {
		x.State, x.Says = RoundEnough, says
	}
	before := b.Machine().Totals.Installed.Or(0)
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

// goalsOf are the goals that a round tries for a machine, in turn; says why there is none.
func (b *Bench) goalsOf(o RoundOrder) (list []Goal, says string) {
	g := o.Goal
	g.OnlyNew, g.InStock = false, false // the lots were sorted out already
	if len(o.Uses) > 0 {
		b.Toward(&g, o.Policy, o.Uses)
	}
	if g.Reach.Known() || g.Spend.Known() {
		return []Goal{g}, ""
	}
	for _, size := range b.steps() {
		one := g
		one.Reach = maybe.Just(size)
		list = append(list, one)
	}
	return list, "it holds the most that it takes"
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
		any.Reach = maybe.Just(x.bench.Machine().Totals.Installed.Or(0) + 1)
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

// solve shares what there is.
func (r *Round) solve(lists [][]roundWay) {
	p := rounds.Problem{Machines: make([]rounds.Machine, len(r.machines))}
	if m, ok := r.Budget.Get(); ok {
		p.Budget = maybe.Just(int64(m))
	}
	for _, x := range r.items {
		item := rounds.Item{Free: x.drawer}
		for _, o := range x.lots {
			item.Lots = append(item.Lots, rounds.Lot{Price: int64(o.Price), Pieces: o.Pieces, Units: o.Quantity.Or(rounds.Any),
				MinOrder: max(1, o.MinOrder)})
		}
		p.Items = append(p.Items, item)
	}
	ways := make([][]rounds.Way, len(lists))
	for i, list := range lists {
		for _, w := range list {
			ways[i] = append(ways[i], rounds.Way{Steps: w.Level, Extra: w.Extra, Wants: w.Wants, Frees: w.Frees})
		}
	}
	for i, c := range r.machines {
		p.Machines[i] = rounds.Machine{Need: max(1, c.Need), Gain: c.Gain}
		if c.List >= 0 {
			p.Machines[i].Ways = ways[c.List]
		}
	}
	if r.order.Seen != nil {
		r.order.Seen("sharing", 0)
	}
	plan := rounds.Solve(p, r.stopped)
	r.choices, r.Exact = plan.Choices, plan.Exact
	r.May, r.MaySteps, r.MayNeed = stock.Money(plan.Off), plan.OffSteps, plan.OffLeft
	r.share(lists, plan)
}

// share hands what was bought, and what lies there, to the machines in their order.
func (r *Round) share(lists [][]roundWay, plan rounds.Plan) {
	type source struct {
		piece
		buy int // of the buying list; -1
	}
	stocked := make([][]source, len(r.items))
	for at, x := range r.items {
		for range x.drawer {
			stocked[at] = append(stocked[at], source{piece{at, -1, -1}, -1})
		}
	}
	for i := range r.machines {
		c := &r.machines[i]
		if plan.Choices[i].Way < 0 {
			continue
		}
		c.State = RoundGets
		for _, at := range lists[c.List][plan.Choices[i].Way].Frees {
			stocked[at] = append(stocked[at], source{piece{at, -1, i}, -1})
		}
	}
	for _, o := range plan.Orders {
		offer := r.items[o.Item].lots[o.Lot]
		r.Buying = append(r.Buying, RoundBuy{Buy: propose.Buy{Offer: offer, Units: o.Units}})
		r.Cost += stock.Money(o.Units) * offer.Price
		for range o.Units * offer.Pieces {
			stocked[o.Item] = append(stocked[o.Item], source{piece{o.Item, o.Lot, -1}, len(r.Buying) - 1})
		}
	}
	r.nobodySells(lists)
	r.given = make(map[int][]piece)
	for i := range r.machines {
		choice := plan.Choices[i]
		for _, take := range choice.Take {
			for _, item := range take {
				list := stocked[item]
				at := max(0, slices.IndexFunc(list, func(s source) bool { return s.out != i }))
				s := list[at]
				stocked[item] = slices.Delete(list, at, at+1)
				r.given[i] = append(r.given[i], s.piece)
				if s.buy >= 0 {
					b := &r.Buying[s.buy]
					if who := r.who(i); len(b.For) == 0 || b.For[len(b.For)-1] != who {
						b.For = append(b.For, who)
					}
				}
			}
		}
	}
	for at, list := range stocked {
		for _, s := range list {
			if s.buy >= 0 {
				r.leave(at, s.lot)
			}
		}
	}
	slices.SortStableFunc(r.Buying, func(a, b RoundBuy) int {
		return cmp.Or(strings.Compare(a.Supplier, b.Supplier), cmp.Compare(a.Number, b.Number))
	})
}

// nobodySells tells machines for which stock or money did not go so far from those for which
// there never was anything: all that would fit sits in other machines.
func (r *Round) nobodySells(lists [][]roundWay) {
	hopeless := make([]bool, len(lists))
	for i, ways := range lists {
		hopeless[i] = !slices.ContainsFunc(ways, func(w roundWay) bool {
			return !slices.ContainsFunc(w.Wants, func(x rounds.Want) bool {
				return !slices.ContainsFunc(x.Items, func(n int) bool { return len(r.items[n].lots)+r.items[n].drawer > 0 })
			})
		})
	}
	for i := range r.machines {
		if c := &r.machines[i]; c.State == RoundShort && hopeless[c.List] {
			c.State, c.Says = RoundBeyond, "nothing that is sold fits, and nothing that fits comes out of another machine"
		}
	}
}

// leave counts a module that was bought and no machine gets.
func (r *Round) leave(item, lot int) {
	o := r.items[item].lots[lot]
	x := RoundPart{N: 1, What: trial.Describe(r.items[item].stick), Offer: orderOf(o)}
	if at := slices.IndexFunc(r.Left, func(l RoundPart) bool { return l.What == x.What && l.Offer == x.Offer }); at >= 0 {
		r.Left[at].N++
		return
	}
	r.Left = append(r.Left, x)
}

func orderOf(o *Offer) string {
	return plain.Line(strings.TrimSuffix(o.SKU+", "+o.Supplier, ", "))
}

// who names a machine on the buying list: its job, or its card.
func (r *Round) who(i int) string {
	name := filepath.Base(r.order.Name(i))
	return plain.Line(cmp.Or(r.machines[i].Job, strings.TrimSuffix(name, filepath.Ext(name))))
}
