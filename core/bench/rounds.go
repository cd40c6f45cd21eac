package bench

import (
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"fmt"
	"sync"
	"sync/atomic"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/propose"
	"epitome/core/rounds"
	"epitome/core/stock"
	"epitome/core/trial"
)

// A RoundOrder is what is asked of many machines at once.
type RoundOrder struct {
	Cards  int
	Name   func(i int) string // the card's file
	Open   func(i int) (*Bench, error)
	Goal   Goal // of each machine; with no size and no money its next sensible size, with no offers specifications
	Policy Policy
	Uses   []Use
	Budget maybe.Value[stock.Money] // for all together
	Drawer []Stick
	Shape  func(Result, Proposal) ([]byte, error) // how a proposal is kept for the caller; nil for not at all
	Spread Spread                                 // who works; nil for this process
	Stop   func() bool                            // asked now and then, by several at once
	Seen   func(doing string, cards int)          // how far it is
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
	r := &Round{order: o, Currency: o.Goal.Currency, Priced: len(o.Goal.Offers) > 0, Budget: o.Budget,
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
	for i := range r.order.Goal.Offers {
		o := &r.order.Goal.Offers[i]
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
