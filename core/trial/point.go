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
	rate jedec.Rate
	by   string
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
			top = rateCap{x.Rate, names[i] + ", rated " + x.String()}
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
		point.BoundBy = append([]Bound{{"rate_mts", by}}, point.BoundBy...)
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

// accessTime is a stick's minimum access time; where only a CAS latency is
// stated, the time that it lasts at the stick's own grade.
func accessTime(s *module.Module) maybe.Value[jedec.Picoseconds] {
	if s.Times.TAA.Known() {
		return s.Times.TAA.Value()
	}
	cl, ok1 := s.CL.Get()
	x, ok2 := s.Grade().Get()
	return maybe.If(cl.Time(x), ok1 && ok2)
}

// soldAt is the access time of the bin that is sold in a generation's grades,
// and from which grade on. DDR3's optional down binning to 13.125 ns (JESD79-3F,
// notes to tables 61 to 66) is what modules are sold with; DDR4's is 13.75 ns,
// and DDR5's class B.
var soldAt = map[jedec.Generation]struct {
	from jedec.Rate
	taa  jedec.Picoseconds
}{jedec.DDR2: {667, 15000}, jedec.DDR3: {1066, 13125}, jedec.DDR4: {2133, 13750}, jedec.DDR5: {3200, 16000}}

// soldTimes are a stick's minimum times as the evidence leans: its own, shortened alike where they are those of the bin
// that is sold in its grade. Such a bin keeps its time for all three: DDR4's 13.75 ns in brackets stand for tAA, tRCD
// and tRP (JESD79-4 tables 109 to 115), DDR3's 13.125 ns too (JESD79-3F, notes to tables 61 to 66).
func soldTimes(s *module.Module) module.Times {
	t := s.Times
	t.TAA = fact.From(accessTime(s))
	x, known := s.Grade().Get()
	sold, has := soldAt[x.Generation]
	if !known || !has || x.Rate < sold.from || s.Kind == module.EEPROM {
		return slowestTimes(s)
	}
	// A latency in clocks, or the bin that it names, is rounded up: the time lies between it and a clock less.
	isSold := func(own fact.Fact[jedec.Picoseconds]) bool {
		t, stated := own.Get()
		return !stated || sold.taa <= t && sold.taa > t-x.TCK
	}
	if !isSold(t.TAA) {
		return ofItsBin(s, t)
	}
	t.TAA = fact.Known(sold.taa)
	for _, other := range []*fact.Fact[jedec.Picoseconds]{&t.TRCD, &t.TRP} {
		if isSold(*other) {
			*other = fact.Known(sold.taa)
		}
	}
	return t
}

// ofItsBin adds what nobody states of a stick's times from the standard bin of its latency.
func ofItsBin(s *module.Module, t module.Times) module.Times {
	if s.Kind == module.EEPROM || t.TRCD.Known() && t.TRP.Known() {
		return t
	}
	for _, b := range jedec.Bins(s.Grade().Or(jedec.Grade{})) {
		if b.Timing.CL != s.CL.Or(0) {
			continue
		}
		if !t.TRCD.Known() {
			t.TRCD = fact.Known(b.TRCD)
		}
		if !t.TRP.Known() {
			t.TRP = fact.Known(b.TRP)
		}
	}
	return t
}

// slowestTimes are minimum times that a stick keeps for certain: its own, or those of the slowest standard bin of its
// grade.
func slowestTimes(s *module.Module) module.Times {
	t := s.Times
	if t.TAA = fact.From(accessTime(s)); t.TAA.Known() {
		return ofItsBin(s, t)
	}
	for _, b := range jedec.Bins(s.Grade().Or(jedec.Grade{})) {
		if b.TAA > t.TAA.Or(0) {
			t.TAA, t.TRCD, t.TRP = fact.Known(b.TAA), fact.Known(b.TRCD), fact.Known(b.TRP)
		}
	}
	return t
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
			p.Grade = profileGrade(s.Generation.Or(jedec.GenerationUnknown), best.Rate)
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

// profileGrade makes a grade of a rate beyond the standard ones. Two transfers
// a clock hold for every generation that has profiles.
func profileGrade(g jedec.Generation, rate jedec.Rate) jedec.Grade {
	if x, ok := jedec.GradeAt(g, rate); ok {
		return x
	}
	return jedec.Grade{Generation: g, Rate: rate, Thirds: (int(rate)*3 + 50) / 100,
		TCK: jedec.Picoseconds(2000000 / int(rate))}
}
