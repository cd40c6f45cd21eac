package module

import (
	"fmt"
	"slices"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// settle brings the stated facts together: contacts with form and generation,
// kit with total, figure with grade, supply with class. It only concludes what
// follows; it fills nothing in.
func (r *reader) settle() {
	for _, step := range []func(){r.settlePart, r.settleContacts, r.settleSize, r.settleForm, r.settleSupply, r.settleRate} {
		if r.err == nil {
			step()
		}
	}
}

// settlePart holds the part number against what the words state.
func (r *reader) settlePart() {
	if g, ok := r.stick.Generation.Get(); ok && r.stick.Part.Known() && g != r.part.Generation {
		r.clash(r.quotes["generation"], r.stick.Part.Or(""), "the part number is a "+r.part.Generation.String()+" module's")
	}
}

func (r *reader) settleContacts() {
	contacts, ok := r.contacts.Get()
	if !ok {
		return
	}
	quote := r.quotes["contacts"]
	gens, forms := generationsWith(contacts)
	if len(gens) == 0 {
		r.clash(quote, quote, "no memory module has that many contacts; SO-DIMMs have 144, 200, 204, 260 or 262, DIMMs 168, 184, 240 or 288")
		return
	}
	if g, ok := r.stick.Generation.Get(); ok {
		if !slices.Contains(gens, g) {
			want := ""
			if f, ok := r.stick.Form.Get(); ok {
				if n, made := g.Contacts(f); made {
					want = fmt.Sprintf("; a %v %v has %d", g, f, n)
				}
			}
			r.clash(r.quotes["generation"], quote, fmt.Sprintf("modules with %d contacts are %v%s", contacts, gens, want))
			return
		}
	} else if len(gens) == 1 {
		r.generation(gens[0], 0, quote)
	}
	if f, ok := r.stick.Form.Get(); ok && !slices.Contains(forms, f) {
		r.clash(r.quotes["form"], quote, fmt.Sprintf("modules with %d contacts are %vs", contacts, forms[0]))
	} else if !ok && len(forms) == 1 {
		state(r, "form", &r.stick.Form, forms[0], quote)
	}
}

func (r *reader) settleSize() {
	total, hasTotal := r.total.Get()
	pieces, hasPieces := r.pieces.Get()
	each, hasEach := r.stick.Capacity.Get()
	switch {
	case hasTotal && hasEach && total != each*jedec.Capacity(pieces):
		r.clash(r.quotes["total"], r.quotes["capacity"], fmt.Sprintf("%d × %v are %v", pieces, each, each*jedec.Capacity(pieces)))
		return
	case hasTotal && !hasEach && hasPieces:
		r.stick.Capacity = fact.Known(total / jedec.Capacity(pieces))
		r.quotes["capacity"] = r.quotes["total"]
	case hasTotal && !hasEach:
		r.stick.Capacity = fact.Known(total)
		r.quotes["capacity"] = r.quotes["total"]
	}
	r.stick.Pieces = r.pieces
	size, ok := r.stick.Capacity.Get()
	if ok && !jedec.PlausibleModule(size) {
		r.clash(r.quotes["capacity"], r.quotes["capacity"], fmt.Sprintf("no module of %v is made; a kit is written 2x8GB", size))
		return
	}
	ranks, hasRanks := r.stick.Ranks.Get()
	width, hasWidth := r.stick.Width.Get()
	if hasRanks && hasWidth && ok && r.quotes["stack"] == "" {
		r.stick.setLayout(jedec.Layout{Ranks: ranks, Width: width})
	}
}

// settleForm checks that the generation is made in the form at all.
func (r *reader) settleForm() {
	g, hasG := r.stick.Generation.Get()
	f, hasF := r.stick.Form.Get()
	if !hasG || !hasF {
		return
	}
	if _, made := g.Contacts(f); !made {
		r.clash(r.quotes["generation"], r.quotes["form"], fmt.Sprintf("%v is not made as %v", g, f))
		return
	}
	if f != jedec.Soldered {
		r.stick.DataWidth = fact.Known(64)
	}
	r.settleLargest(g, f)
}

// settleLargest checks the size against what the generation's chips can make.
func (r *reader) settleLargest(g jedec.Generation, f jedec.Form) {
	size, ok := r.stick.Capacity.Get()
	t := g.Trait()
	if !ok || len(t.Densities) == 0 {
		return
	}
	densest := t.Densities[len(t.Densities)-1]
	largest := g.Largest(f, jedec.Unbuffered, densest)
	if f == jedec.DIMM && r.stick.Registered.Or(true) {
		largest = g.Largest(f, jedec.RegisteredECC, densest) * 8 // stacked dies, eight high
	}
	binary := size&(size-1) == 0
	switch {
	case size > largest:
		r.clash(r.quotes["capacity"], r.quotes["generation"], fmt.Sprintf("the largest %v %v is %v", g, f, largest))
	case !binary && g != jedec.DDR5:
		r.clash(r.quotes["capacity"], r.quotes["generation"], fmt.Sprintf("%v modules of %v are not made; a kit is written 2x8GB", g, size))
	}
}

// settleSupply takes the supply as one of the generation's, or as a sign of a
// profile where it lies above.
func (r *reader) settleSupply() {
	mv, ok := r.milliVolts.Get()
	g, hasG := r.stick.Generation.Get()
	if !ok || !hasG {
		if ok {
			r.stick.Supplies = fact.Known(jedec.SuppliesOf(mv))
		}
		return
	}
	t := g.Trait()
	switch {
	case g == jedec.DDR3 && mv == 1350:
		r.stick.Supplies = fact.Known(jedec.SuppliesOf(1350, 1500)) // JESD79-3-1: operable at 1.5 V too
	case g.RunsAt(mv):
		r.stick.Supplies = fact.Known(jedec.SuppliesOf(mv))
	case mv > t.MilliVolts[0] && mv <= t.MilliVolts[0]*14/10:
		r.profile = r.quotes["supply"]
	default:
		r.clash(r.quotes["generation"], r.quotes["supply"], fmt.Sprintf("%v runs at %s", g, jedec.Volts(t.MilliVolts[0])))
	}
}

// settleRate makes a grade of the figure: the standard rate, a profile's, or
// one of two honest readings.
func (r *reader) settleRate() {
	figure, ok := r.figure.Get()
	cl, hasCL := r.cl.Get()
	g, hasG := r.stick.Generation.Get()
	if !ok || !hasG {
		if hasCL {
			r.stick.CL = r.cl
		}
		if ok {
			for _, g := range jedec.Generations() {
				if x, real := jedec.GradeAt(g, jedec.Rate(figure)); real && !g.LowPower() {
					r.stick.Choices = append(r.stick.Choices, x)
				}
			}
		}
		return
	}
	standard, isStandard := jedec.GradeAt(g, jedec.Rate(figure))
	doubled, isClock := jedec.GradeAt(g, jedec.Rate(2*figure))
	if !isClock {
		doubled, isClock = jedec.GradeAt(g, jedec.Rate(2*figure+1)) // 667 MHz is the clock of 1333 and 1334
	}
	if hasCL && !r.definite && isStandard && isClock {
		// An access time tells a clock from a rate: CL11 at 800 MT/s would take 27 ns.
		isStandard, isClock = believable(cl, standard), believable(cl, doubled)
	}
	grades := jedec.Grades(g)
	fastest := grades[len(grades)-1].Rate
	switch {
	case isStandard && isClock && !r.definite:
		r.stick.Choices = []jedec.Grade{standard, doubled}
		r.stick.CL = r.cl
	case isStandard && (r.profile != "" || hasCL && jedec.FasterThanStandard(standard, cl)),
		!isStandard && figure > int(fastest) && figure <= int(fastest)*2 && figure%2 == 0 && !isClock:
		r.addProfile(jedec.Rate(figure))
	case isStandard:
		r.standard(standard)
	case isClock && !r.definite:
		r.standard(doubled)
	default:
		_, _, err := jedec.ParseGrade(fmt.Sprintf("%v-%d", g, figure))
		r.err = fmt.Errorf("%q in %q: %w", r.quotes["rate"], r.stick.From, err)
	}
}

// believable reports whether a CAS latency at a grade takes a time that
// memory of any make takes: 7 to 22 ns.
func believable(cl jedec.Latency, x jedec.Grade) bool {
	t := cl.Time(x)
	return t >= 7000 && t <= 22000
}

func (r *reader) standard(x jedec.Grade) {
	s := &r.stick
	s.Rated, s.CL, s.Times.TCK = fact.Known(x.Rate), r.cl, fact.Known(x.TCK)
	if len(r.timing) >= 2 {
		s.Timing = fact.Known(jedec.Timing{CL: r.cl.Or(0), TRCD: r.timing[0], TRP: r.timing[1]})
	}
	cl, ok := r.cl.Get()
	if !ok {
		return
	}
	for _, b := range jedec.Bins(x) {
		if b.Timing.CL == cl {
			s.Times.TAA = fact.Known(b.TAA)
			break
		}
	}
}

// addProfile takes the figures as a profile's; the standard rate is not stated
// then.
func (r *reader) addProfile(rate jedec.Rate) {
	p := Profile{Name: "as advertised", Rate: rate, CL: r.cl.Value()}
	for i, field := range []*maybe.Value[int]{&p.TRCD, &p.TRP, &p.TRAS} {
		if i < len(r.timing) {
			*field = maybe.Just(r.timing[i])
		}
	}
	if g, _ := r.stick.Generation.Get(); r.milliVolts.Known() && len(g.Trait().MilliVolts) > 0 {
		p.MilliVolts = r.milliVolts.Value()
	}
	r.stick.Profiles = append(r.stick.Profiles, p)
}
