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

// rates reads the columns beside rate_1dpc. Where the brand's tier sets the
// rate of one module, no other way of filling is faster than it, and where the
// tier is not known none of them is.
func (r row) rates(brand string, best maybe.Value[jedec.Rate]) Rates {
	_, matched, tiers := r.byBrand("tiers", brand)
	read := func(column string) maybe.Value[jedec.Rate] {
		n, ok := r.number(column).Get()
		top, known := best.Get()
		switch {
		case !ok || tiers && (!matched || !known):
			return maybe.None[jedec.Rate]()
		case tiers:
			return maybe.Just(min(jedec.Rate(n), top))
		}
		return maybe.Just(jedec.Rate(n))
	}
	return Rates{OneDual: read("rate_1dpc_2r"), OnePlain: read("rate_1dpc_plain"), OneOfTwo: read("rate_1dpc_2slot"),
		Two: read("rate_2dpc"), TwoDual: read("rate_2dpc_2r")}
}

// InCommon keeps the figures that two rows share; each that differs is
// unknown. Of two standings the weaker stays.
func (c Controller) InCommon(o Controller) Controller {
	if c.Family != o.Family {
		c.Family += " or " + o.Family
	}
	c.disputed = maps.Clone(c.disputed)
	c.keepLeast(Most, o, maybe.Map(c.Most, gib), maybe.Map(o.Most, gib))
	c.keepLeast(Density, o, maybe.Map(c.DensityMbit, gbit), maybe.Map(o.DensityMbit, gbit))
	c.keepLeast(RateOne, o, maybe.Map(c.Rate, mts), maybe.Map(o.Rate, mts))
	c.Channels, c.DIMMs, c.DensityMbit = same(c.Channels, o.Channels), same(c.DIMMs, o.DIMMs), same(c.DensityMbit, o.DensityMbit)
	c.ChannelRanks = same(c.ChannelRanks, o.ChannelRanks)
	c.Rate, c.Most, c.X4, c.X16 = same(c.Rate, o.Rate), same(c.Most, o.Most), same(c.X4, o.X4), same(c.X16, o.X16)
	c.Rates = Rates{OneDual: same(c.Rates.OneDual, o.Rates.OneDual), OnePlain: same(c.Rates.OnePlain, o.Rates.OnePlain),
		OneOfTwo: same(c.Rates.OneOfTwo, o.Rates.OneOfTwo), Two: same(c.Rates.Two, o.Rates.Two), TwoDual: same(c.Rates.TwoDual, o.Rates.TwoDual)}
	if c.Runs.Most, c.Runs.DensityMbit = same(c.Runs.Most, o.Runs.Most), same(c.Runs.DensityMbit, o.Runs.DensityMbit); c.Runs.Note != o.Runs.Note {
		c.Runs.Note = ""
	}
	mine, ok1 := c.ECC.Get()
	others, ok2 := o.ECC.Get()
	if !ok1 || !ok2 || !slices.Equal(mine, others) {
		c.ECC = maybe.None[[]string]()
	}
	c.MilliVolts = slices.DeleteFunc(slices.Clone(c.MilliVolts), func(mv int) bool { return !slices.Contains(o.MilliVolts, mv) })
	c.Confidence = Weakest([]Controller{c, o})
	c.Soft = append(slices.Clone(c.Soft), o.Soft...)
	return c
}

func gib(c jedec.Capacity) int { return int(c / jedec.GiB) }
func gbit(mbit int) int        { return mbit / 1024 }
func mts(r jedec.Rate) int     { return int(r) }

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

func same[T comparable](a, b maybe.Value[T]) maybe.Value[T] {
	if a != b {
		return maybe.None[T]()
	}
	return a
}
