// Package bench is the flow of the job as one value: given a card it yields
// the machine and the proposals, each worked out once and only when asked for.
//
//	card ─► evidence ─► machine ─► ceilings ─► trial ─► propose
//	                        └────► need
package bench

import (
	"slices"
	"strings"
	"sync"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/docket"
	"epitome/core/evidence"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/need"
	"epitome/core/propose"
	"epitome/core/reading"
	"epitome/core/records"
	"epitome/core/trial"
)

// A Bench is one card on the bench. It is safe for concurrent use.
type Bench struct {
	card      card.Card
	catalogue catalogue.Catalogue
	readings  func() reading.Set
	machine   func() machine.Machine
	ceilings  func() ceiling.Limits
	free      func() []propose.Gain
	farthest  func() propose.Reach
	builds    func() []build // the ways in which the machine may be built, see structures.go
}

// New lays a card on the bench, beside what is known of processors, chipsets
// and boards. Nothing is worked out yet.
func New(c card.Card, known catalogue.Catalogue) *Bench {
	b := &Bench{card: c, catalogue: known}
	b.readings = sync.OnceValue(func() reading.Set { return reading.Of(c) })
	b.machine = sync.OnceValue(func() machine.Machine { return evidence.Weigh(b.readings(), known) })
	b.builds = sync.OnceValue(b.ways)
	b.free = sync.OnceValue(func() []propose.Gain { return propose.Free(b.Machine(), b.Ceilings()) })
	b.farthest = sync.OnceValue(func() propose.Reach { return propose.Farthest(b.Machine(), b.Ceilings()) })
	b.ceilings = sync.OnceValue(func() ceiling.Limits { return ceiling.Of(b.Machine(), known) })
	return b
}

// Ceilings returns the limits of the card's machine, and who sets them.
func (b *Bench) Ceilings() ceiling.Limits { return b.ceilings() }

// Card returns the card.
func (b *Bench) Card() card.Card { return b.card }

// Machine returns the findings about the card's machine.
func (b *Bench) Machine() machine.Machine { return b.machine() }

// Series returns what was measured on the card, the latest watch, or the one
// look that a management object gives. missing says what could not be read;
// the series is empty where nothing was measured.
func (b *Bench) Series() (series need.Series, missing []string) {
	read := b.readings()
	return read.Series, read.Unmeasured
}

// Need answers how much memory the user needs. System and installed memory are
// taken from the machine where the question leaves them open.
func (b *Bench) Need(p need.Policy, q need.Question) need.Answer {
	m := b.Machine()
	if q.System == "" {
		q.System = m.OS.Or("")
	}
	if q.Bits == 0 {
		for bits, word := range map[int]string{32: "32-bit", 64: "64-bit"} {
			if strings.Contains(q.System, word) {
				q.Bits = bits
			}
		}
	}
	if size, ok := m.Totals.Installed.Get(); ok && size > 0 {
		q.Installed = maybe.Just(size)
	} else if size, ok := m.Totals.Visible.Get(); ok {
		q.Installed = maybe.Just(size)
	}
	if !q.Reach.Known() {
		q.Reach = b.Farthest().Size.Value()
	}
	return p.Size(q)
}

// Farthest is how far the machine goes.
func (b *Bench) Farthest() propose.Reach { return b.farthest() }

// Free is what the machine could do better without buying anything.
func (b *Bench) Free() []propose.Gain { return b.free() }

// Try puts sticks into the machine, in the place of what is fitted where no socket is free. The
// error is one of package trial's.
func (b *Bench) Try(plan trial.Plan) (trial.Trial, error) {
	return trial.Fit(b.Machine(), b.Ceilings(), plan)
}

// Assuming lays facts over the card that nobody has seen, and returns the bench
// as it would be then. The error is package records's.
func (b *Bench) Assuming(h records.Hand) (*Bench, error) {
	data, err := h.Encode()
	if err != nil {
		return nil, err
	}
	if _, err := records.ParseHand(data); err != nil {
		return nil, err
	}
	c := b.card
	c.Readings = append(slices.Clone(c.Readings),
		card.Reading{Kind: card.Hand, Source: "assumed", How: "by hand", Data: data})
	return New(c, b.catalogue), nil
}

// Plan returns the proposals that were last kept on the card; ok is false where
// none were. The error is package docket's.
func (b *Bench) Plan() (p docket.Plan, ok bool, err error) {
	kept := b.card.Of(card.Plan)
	if len(kept) == 0 {
		return p, false, nil
	}
	p, err = docket.ParsePlan(kept[len(kept)-1].Data)
	return p, true, err
}
