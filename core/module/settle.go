package module

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/pattern"
)

// settle brings the stated facts together: contacts with form and generation,
// kit with total, figure with grade, supply with class. It only concludes what
// follows; it fills nothing in.
func (r *reader) settle() {
	for _, step := range []func(){r.settlePart, r.settleContacts, r.settleBare, r.settleSize, r.settleForm,
		r.settleSupply, r.settleRate, r.settleLabel} {
		if r.err == nil {
			step()
		}
	}
}

// settlePart holds the part number against what the words state.
func (r *reader) settlePart() {
	if r.sdram != "" && !r.stick.Generation.Known() && r.mayBeFirst() {
		r.generation(jedec.SDR, 0, r.sdram)
	}
	if g, ok := r.stick.Generation.Get(); ok && r.stick.Part.Known() && g != r.part.Generation {
		r.clash(r.quotes.of("generation"), r.stick.Part.Or(""),
			"the part number is a "+r.part.Generation.String()+" module's")
	}
}

// mayBeFirst reports whether "SDRAM" alone may mean the first generation: every later one is called so,
// too, and some sellers leave it at that.
func (r *reader) mayBeFirst() bool {
	each := r.stick.Capacity.Or(r.total.Or(0) / jedec.Capacity(max(1, r.pieces.Or(1))))
	if each > slices.Max(jedec.ModuleSizes(jedec.SDR)) || r.figure.Or(0) >= int(jedec.Grades(jedec.DDR)[0].Rate) {
		return false
	}
	return r.hasContactsOf(jedec.SDR)
}

// hasContactsOf reports whether the contacts that are stated, if any are, are those of a generation.
func (r *reader) hasContactsOf(g jedec.Generation) bool {
	contacts, stated := r.contacts.Get()
	gens, _ := generationsWith(contacts)
	return !stated || slices.Contains(gens, g)
}

func (r *reader) settleContacts() {
	if f, ok := r.stick.Form.Get(); ok && f == jedec.LPCAMM2 && !r.stick.Generation.Known() {
		// Two generations are made in the form, and their rates do not meet: LPDDR5
		// ends at 6400 (JESD209-5), LPDDR5X begins there (JESD209-5B).
		if figure := r.figure.Or(0); figure > 6400 {
			r.generation(jedec.LPDDR5X, 0, r.quotes.of("form"))
		}
	}
	contacts, ok := r.contacts.Get()
	if !ok {
		return
	}
	quote := r.quotes.of("contacts")
	gens, forms := generationsWith(contacts)
	if len(gens) == 0 {
		r.clash(quote, quote, "no memory module has that many contacts; SO-DIMMs have 144, 200, 204, 260 or 262, DIMMs "+
			"168, 184, 240 or 288")
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
			r.clash(r.quotes.of("generation"), quote,
				fmt.Sprintf("modules with %d contacts are %s%s", contacts, listed(gens), want))
			return
		}
	} else if len(gens) == 1 {
		r.generation(gens[0], 0, quote)
	}
	if f, ok := r.stick.Form.Get(); ok && !slices.Contains(forms, f) {
		r.clash(r.quotes.of("form"), quote, fmt.Sprintf("modules with %d contacts are %vs", contacts, forms[0]))
	} else if !ok && len(forms) == 1 {
		state(r, "form", &r.stick.Form, forms[0], quote)
	}
}

// bareFigure is a word that may be a rate: with the letters of its bin, or with a
// latency behind it.
var bareFigure = pattern.Of(`^(\d{3,5})(?:([a-z]{1,2})|-(\d{2}))?$`)

// settleBare looks for the rate among the words that said nothing: a figure that the
// generation has as a rate, a rating, or that modules are sold by under a profile.
func (r *reader) settleBare() {
	if !r.figure.Known() && !r.stick.Generation.Known() {
		r.settleBin()
	}
	g, known := r.stick.Generation.Get()
	if !known || r.figure.Known() {
		r.err = r.rating
		return
	}
	found, at, cl := 0, -1, ""
	for i, w := range r.left {
		m := bareFigure().FindStringSubmatch(w.text)
		if m == nil {
			continue
		}
		n, _ := strconv.Atoi(m[1])
		rate := 0
		if x, ok := jedec.GradeAt(g, jedec.Rate(n)); ok {
			rate = int(x.Rate)
		} else if x, ok := jedec.GradeRated(g, n); ok && m[2] == "" && m[3] == "" {
			rate = int(x.Rate)
		} else if m[2] == "" && slices.Contains(profileRates[g], n) {
			rate = n
		}
		switch {
		case rate == 0:
		case found != 0 && found != rate:
			return // two that could be it
		default:
			found, at, cl = rate, i, m[3]
		}
	}
	if found == 0 {
		r.err = r.rating
		return
	}
	r.figure, r.definite = fact.Known(found), true
	r.quotes.set("rate", r.left[at].quoted)
	if n, err := strconv.Atoi(cl); err == nil {
		state(r, "latency", &r.cl, jedec.Whole(n), r.left[at].quoted)
	}
	r.left = slices.Delete(r.left, at, at+1)
}

// binned is a rate with the letters of its bin.
var binned = pattern.Of(`^(\d{4})([a-z]{1,2})$`)

// settleBin takes generation and rate from a rate with the letters of its bin, "2400T",
// where one generation alone has it.
func (r *reader) settleBin() {
	for i, w := range r.left {
		m := binned().FindStringSubmatch(w.text)
		if m == nil {
			continue
		}
		var fits []jedec.Grade
		var cl jedec.Latency
		n, _ := strconv.Atoi(m[1])
		for _, g := range jedec.Generations() {
			if x, ok := jedec.GradeAt(g, jedec.Rate(n)); ok && !g.LowPower() {
				if b, ok := jedec.BinNamed(x, strings.ToUpper(m[2])); ok {
					fits, cl = append(fits, x), b.Timing.CL
				}
			}
		}
		if len(fits) == 1 {
			r.generation(fits[0].Generation, 0, w.quoted)
			r.figure, r.definite = fact.Known(n), true
			r.quotes.set("rate", w.quoted)
			state(r, "latency", &r.cl, cl, w.quoted)
			r.left = slices.Delete(r.left, i, i+1)
			return
		}
	}
}

// settleLabel takes what a whole label says beyond its words, as [FromLabel] does: the
// supply of its class, its clocks, and the times of its bin.
func (r *reader) settleLabel() {
	l, ok := r.label.Get()
	if !ok {
		return
	}
	from := FromLabel(r.stick.From, l)
	if !r.stick.Supplies.Known() && l.Grade.Generation >= jedec.DDR3 { // whose ratings name a class of supply: PC3, PC3L
		r.stick.Supplies = from.Supplies
	}
	if !r.stick.Timing.Known() {
		r.stick.Timing = from.Timing
	}
	if !r.stick.CL.Known() || r.stick.CL == from.CL {
		r.stick.CL, r.stick.Times = from.CL, from.Times
	}
	r.stick.Label = r.label
}

// profileRates are the rates beyond a generation's grades, or between them, that
// modules are sold by; each is an overclocking profile's.
var profileRates = map[jedec.Generation][]int{
	jedec.DDR3: {1800, 2000, 2200, 2250, 2300, 2400, 2500, 2600, 2666, 2800, 2933, 3000, 3100},
	jedec.DDR4: {2800, 3000, 3300, 3333, 3400, 3466, 3600, 3733, 3800, 3866, 4000, 4133, 4200, 4266, 4300, 4333, 4400,
		4500, 4600, 4666, 4700, 4800, 5000, 5066, 5100, 5133, 5333},
	jedec.DDR5: {6200, 6600, 6800, 7000, 7400, 7600, 7800, 8000, 8200, 8266, 8333, 8400, 8600, 8800},
}

func (r *reader) settleSize() {
	total, hasTotal := r.total.Get()
	pieces, hasPieces := r.pieces.Get()
	each, hasEach := r.stick.Capacity.Get()
	switch {
	case hasTotal && hasEach && total != each*jedec.Capacity(pieces):
		r.clash(r.quotes.of("total"), r.quotes.of("capacity"),
			fmt.Sprintf("%d × %v are %v", pieces, each, each*jedec.Capacity(pieces)))
		return
	case hasTotal && !hasEach && hasPieces && r.eachBefore:
		r.stick.Capacity = fact.Known(total)
		r.quotes.set("capacity", r.quotes.of("total"))
	case hasTotal && !hasEach && hasPieces:
		r.stick.Capacity = fact.Known(total / jedec.Capacity(pieces))
		r.quotes.set("capacity", r.quotes.of("total"))
	case hasTotal && !hasEach:
		r.stick.Capacity = fact.Known(total)
		r.quotes.set("capacity", r.quotes.of("total"))
	}
	r.stick.Pieces = r.pieces
	if r.kitNamed && !hasPieces && hasTotal && !hasEach {
		// A kit without its number: whether the size is each or all nobody says.
		r.stick.Capacity = fact.Fact[jedec.Capacity]{}
		r.stick.Notes = append(r.stick.Notes, fmt.Sprintf("a kit of %v, and of how many modules is not stated", total))
		return
	}
	size, ok := r.stick.Capacity.Get()
	if ok && !jedec.PlausibleModule(size) {
		r.clash(r.quotes.of("capacity"), r.quotes.of("capacity"),
			fmt.Sprintf("no module of %v is made; a kit is written 2x8GB", size))
		return
	}
	ranks, hasRanks := r.stick.Ranks.Get()
	width, hasWidth := r.stick.Width.Get()
	if hasRanks && hasWidth && ok && r.quotes.of("stack") == "" {
		r.stick.setLayout(jedec.Layout{Ranks: ranks, Width: width})
	}
}

// settleForm checks that the generation is made in the form at all.
func (r *reader) settleForm() {
	g, hasG := r.stick.Generation.Get()
	f, hasF := r.stick.Form.Get()
	size := r.stick.Capacity.Or(0)
	if hasG && g < jedec.DDR5 && size&(size-1) != 0 { // chips of 24 Gbit are DDR5's
		r.clash(r.quotes.of("capacity"), r.quotes.of("generation"),
			fmt.Sprintf("%v modules of %v are not made; a kit is written 2x8GB", g, size))
		return
	}
	if !hasG || !hasF {
		return
	}
	if _, made := g.Contacts(f); !made {
		r.clash(r.quotes.of("generation"), r.quotes.of("form"), fmt.Sprintf("%v is not made as %v", g, f))
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
	if size > largest {
		r.clash(r.quotes.of("capacity"), r.quotes.of("generation"), fmt.Sprintf("the largest %v %v is %v", g, f, largest))
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
	case g == jedec.DDR3 && (mv == 1350 || r.both):
		r.stick.Supplies = fact.Known(jedec.SuppliesOf(1350, 1500)) // JESD79-3-1: operable at 1.5 V too
	case g.RunsAt(mv):
		r.stick.Supplies = fact.Known(jedec.SuppliesOf(mv))
	case mv > t.MilliVolts[0] && mv <= t.MilliVolts[0]*14/10:
		r.profile = r.quotes.of("supply")
	default:
		r.clash(r.quotes.of("generation"), r.quotes.of("supply"),
			fmt.Sprintf("%v runs at %s", g, jedec.Volts(t.MilliVolts[0])))
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
				if x, real := jedec.GradeAt(g, jedec.Rate(figure)); real && !g.LowPower() && r.hasContactsOf(g) {
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
		!isStandard && !isClock && slices.Contains(profileRates[g], figure),
		!isStandard && figure > int(fastest) && figure <= int(fastest)*2 && figure%2 == 0 && !isClock:
		r.addProfile(jedec.Rate(figure))
	case isStandard:
		r.standard(standard)
	case isClock && !r.definite:
		r.standard(doubled)
	default:
		_, _, err := jedec.ParseGrade(fmt.Sprintf("%v-%d", g, figure))
		r.err = fmt.Errorf("%q in %q: %w", r.quotes.of("rate"), r.stick.From, err)
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
	slowest := jedec.Latency(0)
	for _, b := range jedec.Bins(x) {
		if slowest = max(slowest, b.Timing.CL); b.Timing.CL == cl {
			s.Times.TAA = fact.Known(b.TAA)
			return
		}
	}
	if slowest > 0 && cl > slowest {
		// Shops copy it from the line above: the figure is wrong, or the grade is.
		s.CL, s.Timing = fact.Fact[jedec.Latency]{}, fact.Fact[jedec.Timing]{}
		s.Doubts = append(s.Doubts, fmt.Sprintf("CL%v, which no %v has: the slowest has CL%v", cl, x, slowest))
	}
}

// profileBase is the standard rate that modules sold by a profile run at without it. No standard says it: it is the
// lowest that kits of the generation are programmed with, so they run at that or faster.
var profileBase = map[jedec.Generation]jedec.Rate{jedec.DDR2: 667, jedec.DDR3: 1333, jedec.DDR4: 2133, jedec.DDR5: 4800}

// addProfile takes the figures as a profile's; the standard rate, which is not stated then, is likely that which such
// modules are programmed with.
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
	g, _ := r.stick.Generation.Get()
	if base, ok := profileBase[g]; ok && base < rate && !r.stick.Rated.Known() {
		r.stick.Rated = fact.Of(base, fact.Leaning, fact.Support{Source: "modules sold by a profile",
			Says: fmt.Sprintf("without it most run at %d or faster", int(base))})
	}
}

// listed writes values as words do, "DDR2 or DDR3".
func listed[T fmt.Stringer](values []T) string {
	words := make([]string, len(values))
	for i, v := range values {
		words[i] = v.String()
	}
	return strings.Join(words, " or ")
}
