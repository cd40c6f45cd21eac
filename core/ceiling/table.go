package ceiling

import (
	"slices"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/maybe"
)

// A Row is one line of the comparison: what is limited, of rates for one way of filling a
// channel, and what each source says of it.
type Row struct {
	What  What
	For   maybe.Value[catalogue.Population]
	Cells []Ceiling
}

// bounds are the rows of upper bounds, in the order in which a technician asks; the rates
// stand behind the largest module.
var bounds = []What{Capacity, PerSlot, Rate, Density, Ranks, DIMMs, ChannelRanks}

// Rows are the upper bounds: capacity with the system's share of it, the largest module, the
// rates by how a channel is filled, then the rest. What nobody speaks of has no row.
func (l Limits) Rows() (rows []Row) {
	for _, w := range bounds {
		cells := l.On(w)
		switch w {
		case Rate:
			rows = append(rows, l.rateRows()...)
			continue
		case Capacity:
			cells = append(cells, systemsShare(cells, l.On(OSCapacity))...)
		}
		if len(cells) > 0 {
			rows = append(rows, Row{What: w, Cells: cells})
		}
	}
	return rows
}

// systemsShare is the system's limit beside the machine's: it binds only where it is the
// lower of the two.
func systemsShare(machines, systems []Ceiling) []Ceiling {
	systems = slices.Clone(systems)
	b, ok := BoundOf(machines)
	for i := range systems {
		systems[i].Binding = systems[i].Binding && ok && b.Most.Exceeds(systems[i].Most.Or(Amount{}))
	}
	return systems
}

// rateRows leaves out a way of filling with two ranks that changes nothing against the one
// before it.
func (l Limits) rateRows() (rows []Row) {
	key := func(r Row) [2]int {
		fill, _ := r.For.Get()
		return [2]int{fill.Modules, fill.Ranks.Or(1)}
	}
	for _, c := range l.On(Rate) {
		one := Row{What: Rate, For: c.For, Cells: []Ceiling{c}}
		if n := len(rows); n > 0 && key(rows[n-1]) == key(one) {
			rows[n-1].Cells = append(rows[n-1].Cells, c)
		} else {
			rows = append(rows, one)
		}
	}
	var kept []Row
	for _, r := range rows {
		if n := len(kept); n > 0 && key(r)[1] == 2 && sameFigures(kept[n-1].Cells, r.Cells) {
			continue
		}
		kept = append(kept, r)
	}
	return kept
}

func sameFigures(a, b []Ceiling) bool {
	return slices.EqualFunc(a, b, func(x, y Ceiling) bool { return x.Source == y.Source && x.Most == y.Most })
}

// By is what one source says in a row: the one that binds, else the smallest that holds.
func (r Row) By(source Source) (c Ceiling, ok bool) {
	for _, x := range r.Cells {
		if x.Source != source {
			continue
		}
		least := x.Holds() && (!c.Holds() || c.Most.Or(Amount{}).Exceeds(x.Most.Or(Amount{})))
		if !ok || x.Binding || !c.Binding && least {
			c, ok = x, true
		}
	}
	return c, ok
}

// Matters reports whether a cell is worth a sentence: it binds, and not by the standard or
// by what follows from other rows; or it is softer than what binds; or it is contradicted.
func (c Ceiling) Matters() bool {
	binds := c.Binding && c.Source != Standard && c.What != DIMMs && c.What != Density
	return binds || c.Softer || c.Standing == fact.Disputed
}

// Waits reports whether a cell is open that a source other than the board's manual would
// have to fill.
func (c Ceiling) Waits() bool {
	return !c.Holds() && c.Source != Board && !(c.What == OSCapacity && c.Standing >= fact.Leaning)
}
