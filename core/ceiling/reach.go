package ceiling

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
)

// reachable is what the machine can come to: soldered memory stays, and each
// socket takes the largest module that all ceilings allow, within what the
// whole may hold. It stands no firmer than the softest ceiling it rests on.
func (s subject) reachable(l Limits) fact.Fact[jedec.Capacity] {
	return s.reach(l, l.On(Capacity), l.On(PerSlot))
}

// commonly is what the machine comes to by what commonly runs, where that is more than
// what is published.
func (s subject) commonly(l Limits) fact.Fact[jedec.Capacity] {
	whole, raised := s.raised(l.On(Capacity))
	each, sized := s.raised(l.On(PerSlot))
	if !raised && !sized {
		return fact.Fact[jedec.Capacity]{}
	}
	f := s.reach(l, whole, each)
	if top, ok := f.Get(); !ok || top <= l.Reachable.Or(0) {
		return fact.Fact[jedec.Capacity]{}
	}
	return f.Softened(fact.Leaning)
}

// raised puts what commonly runs into the controller's own cell, and binds anew.
func (s subject) raised(row []Ceiling) (out []Ceiling, raised bool) {
	field := -1
	for i, c := range row {
		if c.Allows() && (field < 0 || c.Most.Or(Amount{}).Exceeds(row[field].Most.Or(Amount{}))) {
			field = i
		}
	}
	if field < 0 {
		return row, false
	}
	out = slices.Clone(row)
	for i := range out {
		c := &out[i]
		c.Binding, c.Softer, c.Cost = false, false, ""
		if c.Source == s.from && row[field].Most.Or(Amount{}).Exceeds(c.Most.Or(Amount{})) {
			c.Most, c.Standing, c.Says = row[field].Most, fact.Leaning, row[field].Says
		}
	}
	return bind(out), true
}

func (s subject) reach(l Limits, totals, singles []Ceiling) fact.Fact[jedec.Capacity] {
	t := s.m.Totals
	sockets, ok1 := t.Sockets.Get()
	soldered, ok2 := t.Soldered.Get()
	if !ok1 || !ok2 {
		return fact.Fact[jedec.Capacity]{}
	}
	standing := min(t.Sockets.Standing(), t.Soldered.Standing())
	if sockets == 0 {
		return fact.Of(soldered, standing,
			fact.Support{Source: "sum over the places", Says: "all memory is soldered: it stays as it is"})
	}
	whole, limited := BoundOf(totals)
	each, sized := BoundOf(singles)
	g, known := s.generation.Get()
	if !limited || !sized || !known {
		return fact.Fact[jedec.Capacity]{}
	}
	most := whole.Most.Capacity()
	room := jedec.Capacity(0)
	if most > soldered {
		room = most - soldered
	}
	sizes := s.sizesUpTo(g, each.Most.Capacity())
	set := fill(sockets, sizes, room)
	total := soldered
	for _, size := range set {
		total += size
	}
	standing = min(standing, whole.By.Standing, each.By.Standing, s.generation.Standing())
	var doubts []fact.Support
	if open := s.silent(l); open != "" {
		doubts = append(doubts, fact.Support{Source: open, Says: "what it allows is not known"})
	}
	words := inWords(set)
	if soldered > 0 {
		words = fmt.Sprintf("%v soldered and %s", soldered, words)
	}
	for _, c := range whole.Softer {
		doubts = append(doubts, fact.Support{Source: string(c.Source), Says: c.Says})
	}
	f := fact.Of(total, standing,
		fact.Support{Source: "places and ceilings",
			Says: fmt.Sprintf("%s, within %v (%s)", words, whole.Most, whole.By.Source)})
	if len(doubts) > 0 {
		f = f.Softened(fact.Leaning, doubts...)
	}
	return f
}

// silent names the controller where its maximum is an open cell.
func (s subject) silent(l Limits) string {
	for _, c := range l.On(Capacity) {
		if c.Source == s.from && !c.Holds() {
			return string(c.Source)
		}
	}
	return ""
}

// sizesUpTo lists the modules that are sold for the sockets, up to a size.
func (s subject) sizesUpTo(g jedec.Generation, each jedec.Capacity) (sizes []jedec.Capacity) {
	for _, size := range catalogue.SizesSold(g, s.form.Or(jedec.FormUnknown), s.kindsFitted()...) {
		if size <= each {
			sizes = append(sizes, size)
		}
	}
	return sizes
}

// kindsFitted are the kinds of module that go beside what is fitted: of the same buffering; none where nothing says it.
func (s subject) kindsFitted() []jedec.Kind {
	for _, p := range s.m.Places {
		if p.Module == nil || p.Attach.Or("") != machine.Socket {
			continue
		}
		switch registered, ok := p.Module.Registered.Get(); {
		case ok && registered:
			return []jedec.Kind{p.Module.BuiltAs()}
		case ok:
			return []jedec.Kind{jedec.Unbuffered, jedec.UnbufferedECC, jedec.Clocked, jedec.ClockedECC}
		}
	}
	return nil
}

// fill finds modules for so many sockets that come closest to a total without
// exceeding it, largest first; sockets may stay empty.
func fill(sockets int, sizes []jedec.Capacity, room jedec.Capacity) []jedec.Capacity {
	best := map[jedec.Capacity][]jedec.Capacity{0: nil}
	totals := []jedec.Capacity{0}
	for range sockets {
		for _, total := range slices.Clone(totals) {
			for _, size := range sizes {
				sum := total + size
				if _, seen := best[sum]; seen || sum > room || len(best[total]) >= sockets {
					continue
				}
				best[sum] = append(slices.Clone(best[total]), size)
				totals = append(totals, sum)
			}
		}
	}
	set := best[slices.Max(totals)]
	slices.SortFunc(set, func(a, b jedec.Capacity) int { return cmp.Compare(b, a) })
	return set
}

// inWords writes a set of modules, "2 × 16 GB and 8 GB".
func inWords(set []jedec.Capacity) string {
	if len(set) == 0 {
		return "nothing more"
	}
	return strings.Join(jedec.Tally(set), " and ")
}

// FittingOrder is the order in which the board's entry says that slots are
// filled, by place; nil where there is none.
func (l Limits) FittingOrder() map[string]int {
	b, ok := l.subject.board.Get()
	if !ok {
		return nil
	}
	order := make(map[string]int)
	for _, s := range b.Slots {
		if p := l.subject.m.PlaceCalled(s.Name); s.Order > 0 && p != nil {
			order[p.Name] = s.Order
		}
	}
	if len(order) == 0 {
		return nil
	}
	return order
}

// SlotMost is the largest module that the board's entry allows in one slot,
// where it differs from the others.
func (l Limits) SlotMost(place string) maybe.Value[jedec.Capacity] {
	b, _ := l.subject.board.Get()
	for _, s := range b.Slots {
		if p := l.subject.m.PlaceCalled(s.Name); p != nil && p.Name == place {
			return s.Most
		}
	}
	return maybe.None[jedec.Capacity]()
}

// Supplies are the supplies that memory controller and board give; the empty set
// where neither states any.
func (l Limits) Supplies() (given jedec.Supplies) {
	for _, c := range l.On(Volts) {
		if set, ok := c.Allowed.Get(); ok && c.Source != Standard {
			if given.Len() == 0 {
				given = set.Supplies
			} else {
				given = given.Shared(set.Supplies)
			}
		}
	}
	return given
}

// SuppliesStated returns who states the supplies and how firmly; nothing where
// nobody does beside the standard.
func (l Limits) SuppliesStated() (says string, standing fact.Standing) {
	for _, c := range l.On(Volts) {
		if c.Source != Standard && c.Holds() && (says == "" || c.Standing < standing) {
			says, standing = c.Says, c.Standing
		}
	}
	return says, standing
}

// Channels is how many channels the memory controller has.
func (l Limits) Channels() maybe.Value[int] {
	c, _ := l.subject.controller.Get()
	return c.Channels
}
