package bench

import (
	"errors"
	"fmt"
	"slices"

	"epitome/core/card"
	"epitome/core/docket"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/need"
	"epitome/core/propose"
	"epitome/core/recheck"
	"epitome/core/records"
	"epitome/core/redact"
	"epitome/core/rule"
	"epitome/core/trial"
)

// ErrNoPlan: no proposals were kept on the card.
var ErrNoPlan = errors.New("holds no proposal")

// Kept returns a proposal that was kept on the card, the first one where number is
// 0, with the plan that it belongs to. The error is ErrNoPlan, or package docket's.
func (b *Bench) Kept(number int) (docket.Way, docket.Plan, error) {
	p, ok, err := b.Plan()
	switch {
	case err != nil:
		return docket.Way{}, p, err
	case !ok:
		return docket.Way{}, p, ErrNoPlan
	case number == 0 && len(p.Ways) > 0:
		number = p.Ways[0].Number
	}
	w, err := p.Way(number)
	return w, p, err
}

// WayOf makes a way of sticks that go where they do best, as a trial places them. The error is
// that of TryOrder.
func (b *Bench) WayOf(sticks []module.Module) (w docket.Way, err error) {
	t, _, err := b.TryOrder(trial.Plan{Sticks: sticks})
	w.Pull = t.Instead
	for _, s := range t.Seats {
		if !s.New {
			continue
		}
		text := s.Stick.Written()
		w.Put = append(w.Put, docket.Put{Place: s.Place, Stick: text})
		if at := slices.IndexFunc(w.Buys, func(o docket.Bought) bool { return o.Text == text }); at >= 0 {
			w.Buys[at].Units++
			continue
		}
		w.Buys = append(w.Buys, docket.Bought{Units: 1, Pieces: 1, Text: text})
	}
	return w, err
}

// Docket makes the slip of a way. Of the order, machine and limits are the bench's.
// The error is that of package docket.
func (b *Bench) Docket(order docket.Input) (docket.Docket, error) {
	built := b.builtFor(order.Way)
	order.Machine, order.Limits = built.bench.Machine(), built.bench.Ceilings()
	d, err := docket.Make(order)
	if built.says != "" {
		d.Verdict = max(d.Verdict, rule.Leans)
		d.Waits = append([]string{"open the machine and see whether " + built.says}, d.Waits...)
	}
	return d, err
}

// builtFor is the machine as a way takes it to be built: as it is known, or, where the way
// names a place that nobody has seen yet, the likeliest of the ways in which it may be built
// that has one.
func (b *Bench) builtFor(w docket.Way) build {
	plan, err := w.Trial()
	if err != nil {
		return build{bench: b}
	}
	if _, err := b.Try(plan); err == nil {
		return build{bench: b}
	}
	for _, x := range b.builds() {
		if _, err := x.bench.Try(plan); err == nil {
			return x
		}
	}
	return build{bench: b}
}

// Recheck holds the machine after fitting against what was predicted of a way. The
// error is that of the trial.
func (b *Bench) Recheck(w docket.Way, profile bool, after *Bench) (recheck.Result, error) {
	plan, err := w.Trial()
	if err != nil {
		return recheck.Result{}, err
	}
	plan.Profile = profile
	t, err := b.builtFor(w).bench.Try(plan)
	if err != nil {
		return recheck.Result{}, err
	}
	return recheck.Compare(b.Machine(), t, after.Machine()), nil
}

// RecheckAny finds out which of the proposals that were kept was carried out: the first
// one that is as predicted, else the one of which least differs. The error is that of
// Kept, or of Recheck.
func (b *Bench) RecheckAny(profile bool, after *Bench) (way docket.Way, best recheck.Result, err error) {
	first, plan, err := b.Kept(0)
	if err != nil {
		return first, best, err
	}
	if best, err = b.Recheck(first, profile, after); err != nil {
		return first, best, err
	}
	way = first
	for _, w := range plan.Ways {
		r, err := b.Recheck(w, profile, after)
		if err != nil || w.Number == first.Number {
			continue
		}
		if len(r.Differences) < len(best.Differences) && r.Told() {
			way, best = w, r
		}
	}
	return way, best, nil
}

// Outcome is what a recheck found, as a card keeps it.
func (b *Bench) Outcome(r recheck.Result, proposal int, date string) records.Outcome {
	return r.Outcome(b.Machine(), proposal, date)
}

// Wanted is how much memory the uses need, unknown where that can't be told.
func (b *Bench) Wanted(p need.Policy, uses []Use) maybe.Value[jedec.Capacity] {
	return b.Need(p, need.Question{Uses: uses}).Recommended
}

// Shared returns the card as it may leave the shop, and what is not in it.
func (b *Bench) Shared() (shared card.Card, leftOut []string) { return redact.Card(b.Card()) }

// Find returns a proposal of a result by its number.
func Find(r propose.Result, number int) (propose.Proposal, error) {
	all := append(append([]propose.Proposal{}, r.Proposals...), r.Unproven...)
	for _, p := range all {
		if p.Number == number {
			return p, nil
		}
	}
	return propose.Proposal{}, fmt.Errorf("there is no proposal %d; there are 1 to %d", number, len(all))
}
