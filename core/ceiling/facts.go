package ceiling

import (
	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
)

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
