package catalogue

import (
	"maps"
	"slices"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// Rates are a controller's official highest rates for the ways of filling a
// channel, beside the best case of one module. What is not published is
// unknown, never "the same".
type Rates struct {
	OneDual  maybe.Value[jedec.Rate] // one module of two ranks
	OnePlain maybe.Value[jedec.Rate] // one module without a clock driver, where the best case wants one
	OneOfTwo maybe.Value[jedec.Rate] // one module in a channel of two slots
	Two      maybe.Value[jedec.Rate] // two modules, best case of ranks
	TwoDual  maybe.Value[jedec.Rate] // two modules of two ranks
}

// A Population is one way of filling a channel.
type Population struct {
	Modules int              // in the channel, one or more
	Ranks   maybe.Value[int] // the most of any of them
	Clocked bool             // all carry a clock driver
	Slots   maybe.Value[int] // of the channel
}

// RateFor returns the official highest rate for a population, and how firmly
// it stands. It is unknown where none is published for so many modules. A rate
// published without ranks only leans for modules of two.
func (c Controller) RateFor(p Population) fact.Fact[jedec.Rate] {
	best, dual, limit := c.Rate, c.Rates.OneDual, RateOne
	switch {
	case p.Modules == 2:
		best, dual, limit = c.Rates.Two, c.Rates.TwoDual, RateTwo
	case p.Modules > 2 || p.Modules < 1:
		return fact.Fact[jedec.Rate]{}
	}
	rate, known := best.Get()
	if !known {
		return fact.Fact[jedec.Rate]{}
	}
	if plain, ok := c.Rates.OnePlain.Get(); ok && p.Modules == 1 && !p.Clocked {
		rate = min(rate, plain)
	}
	if shared, ok := c.Rates.OneOfTwo.Get(); ok && p.Modules == 1 && p.Slots.Or(2) > 1 {
		rate = min(rate, shared)
	}
	standing := c.Standing(limit)
	ranks, ranked := p.Ranks.Get()
	if lower, ok := dual.Get(); ok && (!ranked || ranks > 1) {
		if !ranked && lower < rate {
			standing = fact.Leaning
		}
		rate = min(rate, lower)
	} else if !ok && (!ranked || ranks > 1) {
		standing = fact.Leaning
	}
	return fact.Of(rate, standing)
}

// InCommon keeps the figures that two rows share, as the table of fields says of each. Of
// two standings the weaker stays.
func (c Controller) InCommon(o Controller) Controller {
	if c.Family != o.Family {
		c.Family += " or " + o.Family
	}
	generation := c.Generation
	c.disputed = maps.Clone(c.disputed)
	for _, f := range controllerFields() {
		mine, others := f.at(&c), f.at(&o)
		if f.Meeting == Least {
			c.keepLeast(Limit(f.Column), o, mine.number(), others.number())
		}
		mine.meet(others, f.Meeting)
	}
	c.Generation = generation
	c.Confidence = Weakest([]Controller{c, o})
	c.Soft = append(slices.Clone(c.Soft), o.Soft...)
	c.row = row{}
	return c
}

// keepLeast remembers the smaller of two limits that differ: both rows allow it.
func (c *Controller) keepLeast(l Limit, o Controller, mine, others maybe.Value[int]) {
	a, ok1 := mine.Get()
	if !ok1 {
		a, ok1 = c.AtLeast(l)
	}
	b, ok2 := others.Get()
	if !ok2 {
		b, ok2 = o.AtLeast(l)
	}
	delete(c.disputed, l)
	if !ok1 || !ok2 || a == b && mine.Known() && others.Known() {
		return
	}
	if c.disputed == nil {
		c.disputed = make(map[Limit]int)
	}
	c.disputed[l] = min(a, b)
}
