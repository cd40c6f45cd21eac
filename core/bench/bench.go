// Package bench is the flow of the job as one value: given a card it yields
// the machine and the proposals, each worked out once and only when asked for.
//
//	card ─► evidence ─► machine ─► propose
package bench

import (
	"sync"

	"epitome/core/card"
	"epitome/core/evidence"
	"epitome/core/machine"
	"epitome/core/propose"
)

// A Bench is one card on the bench. It is safe for concurrent use.
type Bench struct {
	card    card.Card
	machine func() machine.Machine
}

// New lays a card on the bench. Nothing is worked out yet.
func New(c card.Card) *Bench {
	b := &Bench{card: c}
	b.machine = sync.OnceValue(func() machine.Machine { return evidence.Weigh(c) })
	return b
}

// Card returns the card.
func (b *Bench) Card() card.Card { return b.card }

// Machine returns the findings about the card's machine.
func (b *Bench) Machine() machine.Machine { return b.machine() }

// Propose returns the ways to reach the goal. The error is one of package
// propose's.
func (b *Bench) Propose(goal propose.Goal) (propose.Result, error) {
	return propose.Search(b.Machine(), goal)
}
