package bench

import (
	"cmp"
	"path/filepath"
	"slices"
	"strings"

	"epitome/core/maybe"
	"epitome/core/plain"
	"epitome/core/propose"
	"epitome/core/rounds"
	"epitome/core/stock"
	"epitome/core/trial"
)

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
	return plain.Line(stock.Ordered(o.SKU, o.Supplier, o.Row, o.Text))
}

// who names a machine on the buying list: its job, or its card.
func (r *Round) who(i int) string {
	name := filepath.Base(r.order.Name(i))
	return plain.Line(cmp.Or(r.machines[i].Job, strings.TrimSuffix(name, filepath.Ext(name))))
}
