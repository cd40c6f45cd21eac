package evidence

import (
	"fmt"

	"epitome/core/fact"
	"epitome/core/jedec"
)

// Firmware up to version 3.0 of the standard had to write a clock and often
// wrote the data rate all the same; later versions write the rate, and some
// still the clock. A figure is read as a rate, as a clock, or left open, by
// what the generation has and by what the module itself says.

// speeds are the two figures that firmware gives of a module.
type speeds struct {
	rated, running int  // 0 where not given
	runs           bool // the rated one is that at which it runs: it is rated for no less
	source         string
	writes         convention
}

// A convention is what firmware writes into its speed fields.
type convention uint8

// The conventions.
const (
	notKnown convention = iota
	writesRates
	writesClocks
)

// conventionOf finds out what firmware writes from the figures that leave one
// reading only: it does not change its mind from one place to the next. Where
// such figures contradict each other, nothing is known. Nothing runs faster than
// its controller's highest rate but under an overclocking profile: where a
// running figure could be the clock of more than that alone, it is a rate.
func conventionOf(spots []*spot, highest func() map[jedec.Generation]jedec.Rate) convention {
	found, byController := notKnown, notKnown
	for _, d := range spots {
		g, ok := d.Generation.Get()
		if !ok {
			continue
		}
		for i, figure := range []int{d.Speed.Or(0), d.Configured.Or(0)} {
			list := readings(g, "", figure)
			if (i == 1 || d.OneSpeed) && len(list) == 2 && byController == notKnown {
				top := highest()[g]
				if d.OneSpeed && (top == 0 || fastestThen[g] > 0 && fastestThen[g] < top) {
					top = fastestThen[g]
				}
				if list[0].rate <= top && list[1].rate > top {
					byController = writesRates
				}
			}
			if figure == 0 || len(list) != 1 {
				continue
			}
			one := writesRates
			if list[0].clock {
				one = writesClocks
			}
			if found != notKnown && found != one {
				return notKnown
			}
			found = one
		}
	}
	if found == notKnown {
		return byController
	}
	return found
}

// fastestThen are the fastest grades that a generation had when firmware tables got a second speed field, with version
// 2.7 of DSP0134 in July 2010: a table that has one figure alone knows of none beyond them. Faster DDR3 came into
// JESD79-3 in that month.
var fastestThen = map[jedec.Generation]jedec.Rate{jedec.DDR3: 1600}

// highest are the highest rates that the processor's controllers state, one a
// generation.
func (s sources) highest() map[jedec.Generation]jedec.Rate {
	out := make(map[jedec.Generation]jedec.Rate)
	for _, c := range s.platform().Controllers {
		if g, _, ok := jedec.ParseGeneration(c.Generation); ok {
			out[g] = max(out[g], c.Rate.Or(0))
		}
	}
	return out
}

// readAs is how a figure can be taken.
type readAs struct {
	rate  jedec.Rate
	clock bool // the figure is the clock, the rate twice that
	says  string
}

// readings of one figure in a generation: as a rate, as a clock, both or
// neither.
func readings(g jedec.Generation, field string, figure int) []readAs {
	var list []readAs
	if x, ok := jedec.GradeAt(g, jedec.Rate(figure)); ok {
		list = append(list, readAs{x.Rate, false, fmt.Sprintf("%s %d, a rate of %v", field, figure, g)})
	}
	for _, doubled := range []int{2 * figure, 2*figure + 1, 2*figure - 1} {
		if x, ok := jedec.GradeAt(g, jedec.Rate(doubled)); ok {
			list = append(list, readAs{x.Rate, true, fmt.Sprintf("%s %d, the clock of %v", field, figure, x)})
			break
		}
	}
	return list
}

// resolve turns firmware's figures into claims. own is the rate that the
// module's EEPROM or sticker states, 0 where none does.
func (f speeds) resolve(g jedec.Generation, own jedec.Rate) (rated, running []fact.Claim[jedec.Rate]) {
	halved := false // firmware writes clocks: its rated figure is half of the module's own
	if f.rated > 0 && own > 0 {
		if x, ok := jedec.GradeAt(g, jedec.Rate(2*f.rated)); ok && x.Rate == own {
			halved = true
		} else if x, ok := jedec.GradeAt(g, jedec.Rate(2*f.rated+1)); ok && x.Rate == own {
			halved = true
		}
	}
	rated = f.claims(g, "speed", f.rated, own, halved)
	if f.runs {
		for i := range rated {
			rated[i].Weight = min(rated[i].Weight, fact.Fair)
			rated[i].Support.Says += "; at which it runs, and is rated for no less"
		}
	}
	if x, ok := jedec.GradeAt(g, jedec.Rate(f.rated)); ok && f.running > 0 && near(2*f.running, f.rated) {
		return rated, []fact.Claim[jedec.Rate]{fact.Claimed(x.Rate, fact.Fair, f.source,
			fmt.Sprintf("configured speed %d beside %d: the clock of %v", f.running, f.rated, x))}
	}
	return rated, f.claims(g, "configured speed", f.running, own, halved)
}

// near reports whether two figures are one, rounded either way.
func near(a, b int) bool { return a-b <= 1 && b-a <= 1 }

// claims reads one figure. Where two readings are left, neither is claimed
// firmly: both are listed, as hints.
func (f speeds) claims(g jedec.Generation, field string, figure int, own jedec.Rate,
	halved bool) []fact.Claim[jedec.Rate] {
	if figure <= 0 {
		return nil
	}
	list := readings(g, field, figure)
	var kept []readAs
	for _, r := range list {
		switch {
		case own > 0 && r.rate > own: // nothing runs or is rated faster than the module's own standard rate
		case halved && !r.clock:
		default:
			kept = append(kept, r)
		}
	}
	switch {
	case len(list) == 0:
		return []fact.Claim[jedec.Rate]{fact.Claimed(jedec.Rate(figure), fact.Fair, f.source,
			fmt.Sprintf("%s %d, which is no standard rate or clock of %v", field, figure, g))}
	case len(kept) == 1:
		w := fact.Fair
		if len(list) == 1 && kept[0].rate == list[0].rate || own > 0 {
			w = fact.Firm // the generation, or the module itself, leaves one reading only
		}
		return []fact.Claim[jedec.Rate]{fact.Claimed(kept[0].rate, w, f.source, kept[0].says)}
	}
	if f.writes != notKnown {
		for _, r := range kept {
			if r.clock == (f.writes == writesClocks) {
				return []fact.Claim[jedec.Rate]{fact.Claimed(r.rate, fact.Fair, f.source,
					r.says+"; so this firmware writes elsewhere")}
			}
		}
	}
	var claims []fact.Claim[jedec.Rate]
	for _, r := range list {
		claims = append(claims, fact.Claimed(r.rate, fact.Hint, f.source, r.says))
	}
	return claims
}
