// Package propose works out every sound way to upgrade a machine's memory,
// exactly: what to keep, what to buy, what it costs and what it gives.
//
// # What is searched
//
// Every way of keeping fitted modules and drawer modules, together with every
// way of buying modules of at most three kinds into the sockets left, kits
// whole, quantities and minimum orders honoured; everything bought is fitted.
// Modules with check bits are not bought to stand beside others without. A
// proposal is shown if none beats it: no other is at least as good in cost,
// capacity, operating point (the rate, and at one rate the latency), memory served
// by one channel alone, free sockets and modules discarded, and better in one. What
// is less sure never beats what is surer. The machine as it is stands beside them
// all, at no cost: nothing is shown that holds less, or that it beats.
//
// # Why the pruning loses nothing
//
// Placing and rate depend on modules only by capacity, ranks and clock driver
// (a kind), by the slowest grade, the longest access time and the supplies. For
// each pair of a least rate and a longest access time that occur, the cheapest
// way to buy n modules of a kind from what keeps both is worked out once, as a
// table by n. Any sound set has such a pair of its own; replacing its modules
// of each kind by the cheapest of that kind that keep the pair costs no more,
// has the same capacities in the same sockets, and runs no slower. So a set
// that nothing beats is met by one built from the tables. docs/propose.md has
// the argument at length; tests compare with plain enumeration.
//
// # Which one comes first
//
// What a set truly costs (see [Scale]) is a function of the figures that sets are compared by, and grows or stays in
// each of them: a set that another beats truly costs no less, so the first one is among those that nothing beats.
package propose

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strings"

	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/stock"
	"epitome/core/trial"
)

// A Goal is what the upgrade is to reach, and what the buyer wants besides.
type Goal struct {
	Reach      maybe.Value[jedec.Capacity] // total after the upgrade, at least
	Most       bool                        // the most that is to be had, in place of a size
	Rate       maybe.Value[jedec.Rate]     // that it runs at afterwards, at least
	Fastest    bool                        // the fastest that is to be had, in place of a rate
	Spend      maybe.Value[stock.Money]    // at most
	Discard    maybe.Value[int]            // fitted modules taken out, at most
	TradeIn    stock.Money                 // allowance for each module taken out
	OneKit     bool                        // buy one kit or one module, no more
	Cheapest   bool                        // what costs least leads, whatever it gives up
	Pairs      bool                        // only sets with the same modules on every channel
	OnlyNew    bool                        // only what a list says is new
	InStock    bool                        // only what the list says is there
	Currency   string                      // of the prices
	Drawer     []module.Module             // the workshop's own modules, at no cost
	Offers     []Offer                     // empty: specifications by the sizes and grades that exist
	Everything bool                        // all proposals that nothing beats, not the picks alone
	Scale      maybe.Value[Scale]          // how costs are weighed; the built-in one where not given
}

// An Offer is something that can be bought: a module or a kit.
type Offer struct {
	// Number is which offer it is, from 1, in the order in which they were given; a text
	// or an article number may be another's, too.
	Number              int
	Row                 int // of its price list, from 1; 0 for what is on none
	SKU, Supplier, Text string
	Stick               *module.Module // one module; not to be changed
	Pieces              int
	Price               stock.Money // of one unit
	Quantity            maybe.Value[int]
	MinOrder            int
	Condition           stock.Condition
	Assumed             []string // what its list does not say and was taken for granted, see [stock.Line]
	Rare                bool     // of a specification: it was made, and is hard to get
	// Lies says where a module lies already that costs nothing, in a round: "drawer". Empty
	// for what is bought.
	Lies string
	kin  string // see [trial.Kin]; empty where nobody worked it out
}

// OfferOf makes an offer of a price list's line.
func OfferOf(l stock.Line) Offer {
	return Offer{Row: l.Row, SKU: l.SKU, Supplier: l.Supplier, Text: l.Description, Stick: l.Stick, Pieces: l.Pieces,
		Price: l.Price, Quantity: l.Quantity, MinOrder: l.MinOrder, Condition: l.Condition, Assumed: l.Assumed}
}

// A Move is a module and the place it stays in, leaves or comes to.
type Move struct {
	Place string
	Stick string
	Offer int // that it was bought by; 0 for what is fitted or from the drawer
	SKU   string
	From  string // of a kept one that moves, or "drawer"
}

// A Buy is one line of a buying list.
type Buy struct {
	*Offer
	Units int
	of    *class
}

// String says what is bought as a technician asks for it: "2 × used 8 GB DDR4-2400 ECC DIMM",
// "1 × kit of 2 × 8 GB DDR4-3200 SO-DIMM".
func (b Buy) String() string {
	what := trial.Describe(*b.Stick)
	if b.Stick.Kind == "specification" {
		what = b.Text
	}
	if b.Pieces > 1 {
		what = fmt.Sprintf("kit of %d × %s", b.Pieces, what)
	}
	if b.Condition == stock.Used || b.Condition == stock.Refurbished {
		what = string(b.Condition) + " " + what
	}
	return fmt.Sprintf("%d × %s", b.Units, what)
}

// A Proposal is one way to upgrade.
type Proposal struct {
	Number      int
	Picks       []string // what this one is best at: "recommended", "least money"
	Cost        stock.Money
	Modules     int // bought
	Keeps       []Move
	Removes     []Move
	Adds        []Move
	Buys        []Buy
	SocketsFree int
	Sums        []Sum // what it truly costs; the price first
	Trial       trial.Trial
}

// A Result is all proposals, best first.
type Result struct {
	Goal      Goal
	Priced    bool // costs are money; otherwise the number of modules
	Now       Now
	Free      []Gain // what could be better without buying, where the caller looked
	Proposals []Proposal
	Unproven  []Proposal // that wait for a fact
	Unlikely  []Proposal // the evidence leans against them; where all is asked for, and never recommended
	Beaten    int        // proposals that nothing beats beside the ones shown
	Considered
	Structures []Structure           // where the number or kind of places is open; else none
	Safe       []Buy                 // what fits whatever is found inside
	Nearest    maybe.Value[Proposal] // below the goal, where nothing meets it
	Blocked    string                // what stands in the way then
	Unsold     bool                  // no limit does: what is at hand does not do it
}

// A Structure is one way in which the machine may be built, given the evidence.
type Structure struct {
	If    string // "DIMM 0 is soldered, and one socket is free"
	Look  string // that tells
	First int    // the number of the proposal that leads then, 0 where nothing meets the goal
}

// Now is the machine as it is.
type Now struct {
	Total     jedec.Capacity
	Operating maybe.Value[trial.Point]
}

// Considered is what the search looked at.
type Considered struct {
	Offers  int  // lines that could be used
	Passed  int  // offers that the machine refuses, or that the wishes leave out
	Classes int  // kinds of module among them
	Sets    int  // sets looked at
	Exact   bool // the search ran to its end, and every set was placed in every way
}

// Why there can be no proposals.
var (
	// ErrUnknown: a fact is missing without which nothing can be proposed.
	ErrUnknown = errors.New("cannot tell what would fit")
	// ErrReached: the machine already has what the goal asks for.
	ErrReached = errors.New("the goal is reached already")
	// ErrBeyond: the goal cannot be reached.
	ErrBeyond = errors.New("the goal is out of reach")
	// ErrStopped: the search was stopped before it found anything.
	ErrStopped = errors.New("stopped before anything was found")
	// ErrGoal: the goal can't be used as it stands.
	ErrGoal = errors.New("the goal can't be used")
)

// A MissingError is a fact without which nothing can be proposed. It wraps ErrUnknown.
type MissingError struct {
	About machine.Subject
	Says  string // what is not known
	Look  string // what tells it
}

func (e *MissingError) Error() string { return ErrUnknown.Error() + ": " + e.Says + "; " + e.Look }

// Unwrap returns ErrUnknown.
func (e *MissingError) Unwrap() error { return ErrUnknown }

func missing(topic machine.Topic, place, look, says string, args ...any) error {
	return &MissingError{machine.Subject{Topic: topic, Place: place}, fmt.Sprintf(says, args...), look}
}

// Search returns the proposals for a machine. stop is asked now and then
// whether to end early; what is known so far comes back then, marked as not
// exact. The error wraps one of those above and says in a sentence what stands
// in the way; below a goal that nothing meets, the nearest proposal is in the
// result beside the error.
func Search(m machine.Machine, l ceiling.Limits, goal Goal, stop func() bool) (Result, error) {
	goal = goal.sized(m)
	r := Result{Goal: goal, Priced: len(goal.Offers) > 0}
	blocked, err := worthwhile(m, l, goal)
	if err != nil {
		r.Blocked = blocked
		return r, err
	}
	s, err := survey(m, l, goal)
	if err != nil {
		return r, err
	}
	r.Now = Now{s.have, s.judge.Now()}
	if err := s.fastEnough(r.Now); err != nil {
		return r, err
	}
	s.stop = stop
	s.search()
	r.Considered = s.considered
	r.Considered.Exact = !s.stopped && !s.judge.Cut()
	var found []vector
	for _, v := range s.front() {
		if !v.proof.Against() {
			found = append(found, v)
		} else if p, ok := s.proposal(v); ok {
			r.Unlikely = append(r.Unlikely, p)
		}
	}
	if goal.Pairs {
		found = slices.DeleteFunc(found, s.unpaired)
	}
	found, err = s.furthest(found, r.Now)
	if r.Goal.Reach, r.Goal.Rate = s.goal.Reach, s.goal.Rate; err != nil {
		return r, err
	}
	switch {
	case len(found) == 0 && s.steps > mostSteps:
		return r, fmt.Errorf("%w: hardly two of the modules at hand are alike, which leaves too many ways of keeping "+
			"them; allow fewer to be taken out, or name fewer in the drawer", ErrStopped)
	case len(found) == 0 && s.stopped:
		return r, ErrStopped
	case len(found) == 0 && s.holdsTheMost():
		return r, fmt.Errorf("%w: %v are fitted, the maximum", ErrReached, s.have)
	case len(found) == 0:
		return s.below(r)
	}
	s.show(&r, found)
	return r, nil
}

// worthwhile stops a search that can't end well. blocked says what stands in the way of
// the goal, where something does.
func worthwhile(m machine.Machine, l ceiling.Limits, goal Goal) (blocked string, err error) {
	if !goal.Reach.Known() && !goal.Spend.Known() {
		return "", fmt.Errorf("%w: it names neither a size to reach nor money to spend", ErrGoal)
	}
	if have := m.Have(); goal.Reach.Known() && have >= goal.Reach.Or(0) && !goal.faster() {
		return "", fmt.Errorf("%w: %v are fitted, %v are asked for", ErrReached, have, goal.Reach.Or(0))
	}
	if says, full := systemFull(m, l); full && !goal.faster() {
		return says, fmt.Errorf("%w: %s", ErrBeyond, says)
	}
	return "", nil
}

// systemFull reports whether the operating system uses no more than is fitted:
// it caps whatever the machine could hold, and buying does nothing.
func systemFull(m machine.Machine, l ceiling.Limits) (says string, full bool) {
	have := m.Totals.Installed
	for _, c := range l.On(ceiling.OSCapacity) {
		if uses, ok := c.Most.Get(); ok && c.Standing == fact.Settled && have.Known() && uses.Capacity() <= have.Or(0) {
			return fmt.Sprintf("%s; %v are fitted, and more does nothing until a system that uses more is installed", c.Says,
				have.Or(0)), true
		}
	}
	return "", false
}

// below finds the nearest way under a goal that nothing meets, and says what
// stands in the way.
func (s *search) below(r Result) (Result, error) {
	want := s.goal.Reach.Or(0)
	t := *s
	t.goal.Reach = maybe.Just(jedec.Capacity(0))
	if s.goal.Rate.Known() {
		t.goal.Reach, t.goal.Rate = s.goal.Reach, maybe.None[jedec.Rate]()
	}
	t.least, t.steps = make(map[spot][]vector), 0
	t.search()
	near := func(v vector) bool { return v.total > s.have }
	nearer := func(a, b vector) int { return cmp.Or(cmp.Compare(b.total, a.total), cmp.Compare(a.cost, b.cost)) }
	if s.goal.Rate.Known() {
		near = func(v vector) bool { return v.rate > s.now.rate }
		nearer = func(a, b vector) int { return cmp.Or(cmp.Compare(b.rate, a.rate), s.recommends(a, b)) }
	}
	all := slices.DeleteFunc(t.front(), func(v vector) bool { return s.goal.Pairs && s.unpaired(v) || !near(v) })
	r.Blocked, r.Unsold = s.blocked(want)
	if len(all) > 0 {
		r.Nearest = maybe.If(t.proposal(slices.MinFunc(all, nearer)))
	}
	return r, fmt.Errorf("%w: %s", ErrBeyond, r.Blocked)
}

// blocked names the ceiling that stands in the way; unsold says that none does, and that what is at hand
// does not do it.
func (s *search) blocked(want jedec.Capacity) (says string, unsold bool) {
	if b, ok := s.limits.Bound(ceiling.Capacity); ok && want > b.Most.Capacity() {
		c := b.By
		return fmt.Sprintf("%v are asked for; %s", want, c.Says), false
	}
	if rate, ok := s.goal.Rate.Get(); ok {
		return s.tooFast(rate)
	}
	r := Farthest(s.m, s.limits)
	if top, ok := r.Size.Get(); ok && want > max(top, r.Open.Or(0)) {
		return fmt.Sprintf("%v are asked for; the maximum is %v (%s)", want, top, r.Size.Why()[0].Says), false
	}
	if spend, ok := s.goal.Spend.Get(); ok {
		money := strings.TrimSpace(spend.String() + " " + s.goal.Currency)
		if s.goal.Reach.Known() {
			return "nothing that fits reaches it for " + money, true
		}
		return "nothing that fits, and is better than what is there, is to be had for " + money, true
	}
	if s.considered.Classes == 0 && s.considered.Offers == 0 {
		return "the wishes leave no offer that is for it", true
	}
	if s.considered.Classes == 0 {
		return fmt.Sprintf("of %d offers none fits", s.considered.Offers), true
	}
	if s.goal.Pairs {
		return "no set with the same modules on every channel reaches it", true
	}
	return "no set of the modules at hand reaches it within the wishes", true
}
