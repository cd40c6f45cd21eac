package bench

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"epitome/core/card"
	"epitome/core/docket"
	"epitome/core/plain"
	"epitome/core/propose"
	"epitome/core/rule"
	"epitome/core/stock"
)

// Lines hands over what the round comes to for each machine, in the order of the cards. Of
// those whose cards can't be read, too. The error is take's, or the Spread's.
func (r *Round) Lines(take func(RoundLine) error) error {
	return r.spread("laying out", func(from, to int) any {
		list := make([]RoundLine, 0, to-from)
		for i := from; i < to; i++ {
			list = append(list, r.line(i))
		}
		return list
	}, func(from, _ int, came []byte) error {
		var list []RoundLine
		if err := unpack(came, &list); err != nil {
			return err
		}
		for i, l := range list {
			l.Card = r.order.Name(from + i) // another host may have it elsewhere
			r.Count[l.State]++
			if l.State == RoundUnread {
				r.Unread = append(r.Unread, l)
			} else {
				r.Read++
			}
			if err := take(l); err != nil {
				return err
			}
		}
		return nil
	})
}

// line is what the round comes to for one machine.
func (r *Round) line(i int) RoundLine {
	c := r.machines[i]
	l := RoundLine{Card: r.order.Name(i), Job: c.Job, Machine: c.Machine, Title: c.Title, State: c.State, Says: c.Says,
		Name: r.who(i), Before: c.Before}
	switch {
	case l.State == RoundShort && r.Budget.Known():
		l.Says = "the budget or the stock did not go so far"
	case l.State == RoundShort:
		l.Says = "what is in stock did not go so far"
	case l.State == RoundGets:
		if err := r.laid(i, &l); err != nil {
			l.State, l.Says = RoundUnread, plain.Line(err.Error())
		}
	}
	return l
}

// laid lays out what a machine gets.
func (r *Round) laid(i int, l *RoundLine) error {
	b, err := r.order.Open(i)
	if err != nil {
		return err
	}
	goals, _ := b.goalsOf(r.order)
	if len(goals) == 0 {
		return fmt.Errorf("%s has changed since it was looked at; run rounds again", l.Card)
	}
	list := b.builds()
	lead := b
	if len(list) > 0 {
		lead = list[0].bench
	}
	way := r.ways[r.machines[i].List][r.choices[i].Way]
	pieces := r.offersFor(i, lead, goals[0])
	q, ok := propose.Laid(lead.Machine(), lead.Ceilings(), goals[0], way.Keep, pieces)
	if !ok {
		return fmt.Errorf("%s has changed since it was looked at; run rounds again", l.Card)
	}
	if len(list) > 0 {
		q.Trial.Verdict = max(q.Trial.Verdict, rule.Leans)
	}
	for _, x := range q.Trial.Reasons {
		for _, look := range x.Looks() {
			if !slices.Contains(l.Looks, look) {
				l.Looks = append(l.Looks, look)
			}
		}
	}
	switch {
	case way.Unsafe:
		l.Looks = append(l.Looks, "open the machine: it fits if "+list[0].says)
	case len(list) > 0:
		l.Says = "and safe to buy before anybody looks inside"
	}
	if way.Unsafe {
		q.Trial = depending(q.Trial, list[0])
	}
	q.Number, q.Picks = 1, []string{propose.Recommended}
	goal := goals[0]
	goal.Currency = r.Currency
	result := Result{Goal: goal, Priced: r.Priced, Proposals: []Proposal{q}}
	l.After, l.Verdict, l.Cost = q.Trial.Total, q.Trial.Verdict, q.Cost
	if !r.Priced {
		l.Cost = 0
	}
	if x, ok := q.Trial.Operating.Get(); ok {
		l.Rate = x.Grade.Rate
	}
	r.says(l, q)
	l.Way = docket.PlanOf(result, nil).Ways[0]
	for i, b := range l.Way.Buys {
		if r.inKits(b.Offer) { // the slip of one machine must not send anybody to buy a kit for it
			l.Way.Buys[i].SKU = fmt.Sprintf("one of %s, a kit of %d", cmp.Or(b.SKU, "the list"),
				r.order.Goal.Offers[b.Offer-1].Pieces)
		}
	}
	if r.order.Shape != nil {
		l.Shape, err = r.order.Shape(result, q)
	}
	return err
}

// says lists what comes in, goes out and moves.
func (r *Round) says(l *RoundLine, q Proposal) {
	count := func(list []RoundPart, x RoundPart) []RoundPart {
		x.N = 1
		if at := slices.IndexFunc(list, func(o RoundPart) bool {
			return o.What == x.What && o.From == x.From && o.Offer == x.Offer
		}); at >= 0 {
			list[at].N++
			return list
		}
		return append(list, x)
	}
	for _, m := range q.Adds {
		x := RoundPart{What: m.Stick, From: m.From}
		for _, b := range q.Buys {
			if b.Number == m.Offer && m.From == "" {
				x.Offer = orderOf(b.Offer)
				if b.Condition == stock.Used || b.Condition == stock.Refurbished {
					x.What = string(b.Condition) + " " + x.What
				}
				if r.inKits(b.Number) {
					x.Offer += ", out of a kit"
				}
			}
		}
		l.Gets = count(l.Gets, x)
	}
	for _, m := range q.Removes {
		l.Out = count(l.Out, RoundPart{What: m.Stick})
	}
	for _, m := range q.Keeps {
		if m.From != "" && m.From != m.Place {
			l.Moves = append(l.Moves, fmt.Sprintf("%s from %s to %s", m.Stick, m.From, m.Place))
		}
	}
}

// inKits reports whether a line of the list is sold as a kit.
func (r *Round) inKits(number int) bool {
	return r.Priced && number >= 1 && number <= len(r.order.Goal.Offers) && r.order.Goal.Offers[number-1].Pieces > 1
}

// offersFor are the pieces that a machine gets, one offer each.
func (r *Round) offersFor(i int, b *Bench, goal Goal) (list []Offer) {
	var specs []Offer
	for _, p := range r.given[i] {
		item := &r.items[p.item]
		switch {
		case p.lot < 0:
			o := Offer{Number: -1 - len(list), Stick: &item.stick, Text: item.stick.From, Pieces: 1, Lies: "drawer"}
			if p.out >= 0 {
				o.Lies = "out of " + r.who(p.out)
			}
			list = append(list, o)
		case item.spec:
			if specs == nil {
				specs = propose.Specifications(b.Machine(), b.Ceilings(), goal)
			}
			for _, o := range specs {
				if o.Text == item.lots[0].Text {
					o.Number = item.lots[0].Number
					list = append(list, o)
					break
				}
			}
		default:
			o := *item.lots[p.lot]
			o.Price = (o.Price + stock.Money(o.Pieces)/2) / stock.Money(o.Pieces)
			o.Pieces, o.MinOrder = 1, 1
			list = append(list, o)
		}
	}
	return list
}

// Slip is the docket of one machine of the round. The error is that of reading its card, or
// of package docket.
func (r *Round) Slip(i int, l RoundLine, order SlipOrder) (Slip, error) {
	b, err := r.order.Open(i)
	if err != nil {
		return Slip{}, err
	}
	order.Way, order.Currency, order.Title, order.Job = l.Way, r.Currency, l.Title, l.Name
	return b.Docket(order)
}

// Kept is what a card keeps of the round: what its machine gets, as a plan.
func (r *Round) Kept(l RoundLine, lists []ListSum, now time.Time) (Reading, error) {
	goal := ""
	if size, ok := r.order.Goal.Reach.Get(); ok {
		goal = "reach " + size.String()
	}
	data, err := docket.PlanOfWay(l.Way, goal, r.Currency, lists).Encode()
	return Reading{Kind: card.Plan, Source: "rounds", How: "worked out", Taken: now, Data: data}, err
}

// End is how the round ended, once its lines are known: by what there is to do.
func (r *Round) End() Ended {
	switch {
	case r.Count[RoundGets] > 0 || r.Read > 0 && r.Count[RoundEnough] == r.Read:
		return Found
	case r.Count[RoundOpen] > 0 && r.Count[RoundShort]+r.Count[RoundBeyond] == 0:
		return CantTell
	case r.Read == 0:
		return Stopped
	}
	return OutOf
}
