package trial

import (
	"fmt"
	"slices"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
)

// A rateCap is an upper bound on the rate and who sets it.
type rateCap struct {
	rate  jedec.Rate
	by    string
	least bool // it is only the least that is known
}

// operate works out the standard operating point of a set of modules of one
// generation under caps on the rate: the highest grade that all allow and at
// which all keep a common CAS latency, then each timing by the generation's
// rounding rule from the largest minimum. why says what stands in the way where
// ok is false.
func operate(sticks []module.Module, names []string, caps []rateCap, rates []jedec.Rate,
	times func(*module.Module) module.Times) (p Point, why string, ok bool) {
	g := sticks[0].Generation.Or(jedec.GenerationUnknown)
	var top rateCap
	for i, s := range sticks {
		x, known := s.Grade().Get()
		if !known {
			return p, "the grade of " + names[i] + " is not known", false
		}
		if top.rate == 0 || x.Rate < top.rate {
			top = rateCap{rate: x.Rate, by: names[i] + ", rated " + x.String()}
		}
	}
	for _, c := range caps {
		if c.rate < top.rate {
			top = c
		}
	}
	grades := jedec.Grades(g)
	for i := len(grades) - 1; i >= 0; i-- {
		x := grades[i]
		if x.Rate > top.rate || len(rates) > 0 && !slices.Contains(rates, x.Rate) {
			continue
		}
		point, fits := pointAt(x, sticks, names, times)
		if !fits {
			why = fmt.Sprintf("no CAS latency that all support is long enough at %v", x)
			continue
		}
		by := top.by
		if x.Rate < top.rate {
			by = "the next lower rate that machine and modules share"
		}
		point.BoundBy, point.AtLeast = append([]Bound{{"rate_mts", by}}, point.BoundBy...), top.least
		return point, "", true
	}
	if why == "" {
		why = fmt.Sprintf("no %v grade of at most %v", g, top.rate)
	}
	return p, why, false
}

// longestAccess bounds the access time that a CAS latency makes: JESD79-3F
// tables 61 to 66 (tAA at most 20 ns), JESD79-4 tables 109 to 115 (18 ns),
// JESD79-5 (22.222 ns). A rate at which it would be longer is none.
var longestAccess = map[jedec.Generation]jedec.Picoseconds{jedec.DDR3: 20000, jedec.DDR4: 18000, jedec.DDR5: 22222}

// latencyAt is the CAS latency at a grade for an access time, among those that
// are shared.
func latencyAt(x jedec.Grade, taa jedec.Picoseconds, common []jedec.Latency) (jedec.Latency, bool) {
	cl, fits := jedec.CAS(x, taa, common)
	if most := longestAccess[x.Generation]; fits && most > 0 && cl.Time(x) > most {
		return cl, false
	}
	return cl, fits
}

// pointAt works out the timings at one grade.
func pointAt(x jedec.Grade, sticks []module.Module, names []string,
	times func(*module.Module) module.Times) (p Point, ok bool) {
	p.Grade = x
	own := make([]module.Times, len(sticks))
	for i := range sticks {
		own[i] = times(&sticks[i])
	}
	common, stated := CommonLatencies(sticks)
	taa, by, known := largest(own, names, func(t *module.Times) fact.Fact[jedec.Picoseconds] { return t.TAA })
	if !stated {
		common = jedec.StandardLatencies(x.Generation)
	}
	if !known {
		return p, true // a rate, and no timing
	}
	cl, fits := latencyAt(x, taa, common)
	if !fits {
		return p, false
	}
	p.Timing.CL, p.TimesKnown = cl, true
	p.Latency = cl.Time(x)
	p.BoundBy = append(p.BoundBy, Bound{"cl", fmt.Sprintf("%s, at least %v", by, taa)})
	clocks := func(figure string, of func(*module.Times) fact.Fact[jedec.Picoseconds]) (int, bool) {
		minimum, by, known := largest(own, names, of)
		if !known {
			return 0, false
		}
		p.BoundBy = append(p.BoundBy, Bound{figure, fmt.Sprintf("%s, at least %v", by, minimum)})
		return x.Generation.Clocks(minimum, x.TCK), true
	}
	var hasTRCD, hasTRP bool
	p.Timing.TRCD, hasTRCD = clocks("trcd", func(t *module.Times) fact.Fact[jedec.Picoseconds] { return t.TRCD })
	p.Timing.TRP, hasTRP = clocks("trp", func(t *module.Times) fact.Fact[jedec.Picoseconds] { return t.TRP })
	p.TRCDKnown = hasTRCD && hasTRP
	p.TRAS = maybe.If(clocks("tras", func(t *module.Times) fact.Fact[jedec.Picoseconds] { return t.TRAS }))
	p.TRC = maybe.If(clocks("trc", func(t *module.Times) fact.Fact[jedec.Picoseconds] { return t.TRC }))
	return p, true
}

// largest is the largest minimum among the sticks and whose it is. It is not
// known where one stick does not state it.
func largest(times []module.Times, names []string,
	of func(*module.Times) fact.Fact[jedec.Picoseconds]) (t jedec.Picoseconds, by string, ok bool) {
	for i := range times {
		own, known := of(&times[i]).Get()
		if !known {
			return 0, "", false
		}
		if own > t {
			t, by = own, names[i]
		}
	}
	return t, by, true
}

// CommonLatencies are the CAS latencies that all sticks that state any
// support. stated is false where none does.
func CommonLatencies(sticks []module.Module) (common []jedec.Latency, stated bool) {
	var all jedec.Latencies
	for i := range sticks {
		own, known := sticks[i].Latencies.Get()
		switch {
		case !known:
		case !stated:
			all, stated = own, true
		default:
			all = all.Shared(own)
		}
	}
	return all.List(), stated
}

// supplies are the supplies that all sticks are good for. A stick that
// states none is good for its generation's ordinary supply, where the
// generation has just one class.
func supplies(sticks []module.Module) (common jedec.Supplies, known bool) {
	for i := range sticks {
		own, stated := sticks[i].Supplies.Get()
		if g, ok := sticks[i].Generation.Get(); !stated && ok && len(g.Trait().MilliVolts) == 1 {
			own, stated = jedec.SuppliesOf(g.Trait().MilliVolts...), true
		}
		if !stated {
			return jedec.Supplies{}, false
		}
		if i == 0 {
			common = own
			continue
		}
		common = common.Shared(own)
	}
	return common, true
}

// profilePoint works out how a set runs under its overclocking profile: the
// fastest rate for which every stick has one, with the slowest timings.
func profilePoint(sticks []module.Module) (p Point, ok bool) {
	for i, s := range sticks {
		best := module.Profile{}
		for _, x := range s.Profiles {
			if x.Rate > best.Rate {
				best = x
			}
		}
		if best.Rate == 0 {
			return p, false
		}
		cl, hasCL := best.CL.Get()
		if i == 0 || best.Rate < p.Grade.Rate {
			p.Grade = jedec.AnyGrade(s.Generation.Or(jedec.GenerationUnknown), best.Rate)
			p.Profile = best.Name
			if p.Profile == "" {
				p.Profile = "profile"
			}
		}
		if hasCL {
			p.Timing.CL, p.TimesKnown = max(p.Timing.CL, cl), true
		}
		p.Timing.TRCD = max(p.Timing.TRCD, best.TRCD.Or(0))
		p.Timing.TRP = max(p.Timing.TRP, best.TRP.Or(0))
		p.TRCDKnown = p.Timing.TRCD > 0 && p.Timing.TRP > 0
		if tras, ok := best.TRAS.Get(); ok {
			p.TRAS = maybe.Just(max(p.TRAS.Or(0), tras))
		}
		if mv, ok := best.MilliVolts.Get(); ok {
			p.MilliVolts = maybe.Just(max(p.MilliVolts.Or(0), mv))
		}
	}
	if p.TimesKnown {
		p.Latency = p.Timing.CL.Time(p.Grade)
	}
	return p, true
}
