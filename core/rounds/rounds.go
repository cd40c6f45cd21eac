// Package rounds shares what can be bought, and what lies there already, among many
// machines: limited quantities, minimum orders, kits that serve two machines, the drawer's
// single sticks, modules that come out of one machine and suit another, and one budget.
//
// # What is weighed
//
// A machine has ways: each takes modules out of it, and wants pieces of items. An item is
// modules that nothing tells apart but where they come from. A way may take each piece from
// any of several items that are the same to it. A machine gets one of its ways, or nothing.
// A plan's score is the sum, over the machines, of
//
//   - for one that gets nothing: its need, in units that are above everything else,
//   - for one that gets a way: the way's steps of quality below the machine's best, and what
//     the way counts in money beside what is bought,
//
// and over the items of what it costs to have at least the pieces that are taken, F(n). The
// plan with the least score is sought. A step outweighs ten times the dearest way of any
// machine, and a machine that gets nothing a hundred steps for each point of its need: so
// first as much need is met as the stock and the budget allow, then each gets its best, then
// it costs least.
//
// # Method, and why the bound holds
//
// F is worked out for each item once, by going through its lots: it knows kits, quantities
// and minimum orders, it is nought for what is there for nothing, and no machine is in it.
// What ties the machines together is then one line for each item: the pieces taken, less
// those that come out of machines, are at most n. Each such line gets a price m, and the
// budget a price b. For any prices that are not negative,
//
//	D = sum over machines of the least of (need, steps + money + m × pieces taken - m × pieces
//	    that come out) + sum over items of the least over n of ((1 + b) F(n) - m n) - b × budget
//
// is no more than the score of any plan: for a plan's own choices and n the terms with m add
// up to nothing or less, those with b likewise, and each least is no more than what the plan
// has. So D is a bound, whatever the prices are; better prices give a better one, and are
// found by moving each one by how much its line is broken. Plans are made on the way: each
// machine in turn takes what is best given what the others took, again and again, until
// nobody gains.
//
// Where plan and bound do not meet, and no budget is short, the plans are split by how many
// pieces of an item they take, where F lies most above its hull; the least of the parts'
// bounds is a bound of all. What is left after that: the ways that can't be in a better plan are struck out
// (their own part of D lies above the gap), and the rest is searched, machine by machine,
// with the same bound for what is not decided yet. If the search ends, the plan is the best
// there is. If it is cut short, parts of the plan are torn up and chosen anew for a while, and
// the plan says by how much it may be off: the distance to D.
package rounds

import (
	"slices"

	"epitome/core/maybe"
)

// A Lot is one line of a price list.
type Lot struct {
	Price    int64 // of a unit, in the currency's smallest coin; 0 or more
	Pieces   int   // that a unit holds, 1 or more
	Units    int   // that can be had; Any where nobody says
	MinOrder int   // least number of units, 1 or more
}

// Any is how many units there are where nobody says.
const Any = -1

// An Item is modules that nothing tells apart.
type Item struct {
	Lots []Lot
	Free int // pieces that are there for nothing
}

// A Want is pieces that a way takes, each from any of the items.
type Want struct {
	Items []int
	N     int
}

// A Way is one thing that can be done for a machine.
type Way struct {
	Steps int   // of quality below the machine's best way
	Extra int64 // that it counts in money beside what is bought
	Wants []Want
	Frees []int // items of the modules that come out, one entry each
}

// A Machine is what can be done for one machine. Machines of which the same can be done may
// share the ways.
type Machine struct {
	Need int // how much it needs it, 1 to 100
	Gain int // what it gains, 0 to 99; it decides among machines that are as needy
	Ways []Way
}

// A Problem is a whole round.
type Problem struct {
	Items    []Item
	Machines []Machine
	Budget   maybe.Value[int64] // for all machines together
}

// A Choice is what one machine gets.
type Choice struct {
	Way  int     // -1 for nothing
	Take [][]int // of each want, the item of each piece
}

// An Order is units of one lot that are bought.
type Order struct{ Item, Lot, Units int }

// A Plan is what every machine gets, and what is bought for it.
type Plan struct {
	Choices []Choice
	Orders  []Order
	Cost    int64
	Score   int64 // what was sought to be least: see the package comment
	Served  int   // machines that get something
	Exact   bool
	// Off is how far, at most, the score is above the least possible, in money; Steps and
	// Left are how many steps of quality, and how many machines more that got something,
	// that may be.
	Off, OffSteps, OffLeft int64
	Nodes                  int // that were searched
}

// score units: see the package comment.
type units struct{ step, left int64 }

func (p *Problem) units() units {
	dearest := int64(1)
	cheap := make([]int64, len(p.Items))
	for s, item := range p.Items {
		for _, l := range item.Lots {
			cheap[s] = max(cheap[s], (l.Price*int64(l.MinOrder)+int64(l.Pieces)-1)/int64(l.Pieces))
		}
	}
	for _, ways := range p.distinct() {
		for _, w := range ways {
			sum := w.Extra
			for _, want := range w.Wants {
				most := int64(0)
				for _, s := range want.Items {
					most = max(most, cheap[s])
				}
				sum += most * int64(want.N)
			}
			dearest = max(dearest, sum)
		}
	}
	return units{step: 10 * dearest, left: 1000 * dearest}
}

// Weights are what a step of quality, and a machine that gets nothing for each point of its
// need, count in money.
func (p *Problem) Weights() (step, left int64) {
	u := p.units()
	return u.step, u.left
}

// distinct is every list of ways once.
func (p *Problem) distinct() (lists [][]Way) {
	seen := make(map[*Way]bool)
	for _, m := range p.Machines {
		if len(m.Ways) > 0 && !seen[&m.Ways[0]] {
			seen[&m.Ways[0]] = true
			lists = append(lists, m.Ways)
		}
	}
	return lists
}

// leftOut is what it costs to give a machine nothing.
func (u units) leftOut(m Machine) int64 { return u.left*int64(m.Need) + u.step*int64(m.Gain) }

// Solve finds the best plan, or a good one with how far it may be off. stop is asked now and
// then whether to end early.
func Solve(p Problem, stop func() bool) Plan {
	s := newState(&p)
	s.stop = stop
	s.ascend()
	if !s.met() {
		s.branch()
	}
	if !s.met() {
		s.search()
	}
	if !s.met() && !s.searched && p.Budget.Known() { // without one, turns and shifts leave nothing to gain
		had := s.bestScore
		if s.tearUp(); s.bestScore < had && !s.met() {
			s.search() // a better plan strikes out more
		}
	}
	return s.plan()
}

// plan writes out the best that was found.
func (s *state) plan() Plan {
	out := Plan{Choices: slices.Clone(s.best), Score: s.bestScore, Exact: s.met() || s.searched, Nodes: s.nodes}
	for i := range out.Choices {
		if out.Choices[i].Way >= 0 {
			out.Served++
		}
	}
	net := s.netOf(s.best)
	for item, n := range net {
		out.Orders = append(out.Orders, s.supply[item].orders(item, n)...)
		out.Cost += s.supply[item].at(n)
	}
	if !out.Exact {
		off := s.bestScore - s.bound()
		out.OffLeft, off = off/s.unit.left, off%s.unit.left
		out.OffSteps, out.Off = off/s.unit.step, off%s.unit.step
	}
	return out
}
