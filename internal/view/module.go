package view

import (
	"fmt"
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
)

// Module lays out one stick: what it is as a sentence, what it states as a
// list, what it does not state.
func (p *Page) Module(s module.Module) {
	headline := moduleSentence(s)
	if s.Checksum == "bad" {
		headline += " The image's checksum is bad: trust nothing of it alone."
	}
	p.Headline(headline)
	rows := moduleRows(s)
	if len(rows) > 0 {
		p.Blank()
	}
	for _, row := range rows {
		p.Para(17, "  "+row[0], row[1])
	}
	if len(s.Notes) > 0 {
		p.Blank()
		p.Heading("Odd about it")
		p.list(s.Notes)
	}
	if len(s.Leaning) > 0 {
		p.Blank()
		p.Heading("Suggested, not stated")
		for _, h := range s.Leaning {
			p.Para(17, "  "+h.Fact, h.Value+" ~")
		}
		p.Foot("~ by " + strings.TrimPrefix(s.Leaning[0].Why, "part number, by "))
	}
	if len(s.Choices) > 0 {
		p.Blank()
		p.Heading("Two honest readings")
		for _, x := range s.Choices {
			p.Para(4, "  - ", fmt.Sprintf("%v (%s): clock %v", x, x.Module(), x.Clock()))
		}
		p.Para(2, "", "The rating on the label (PC…) settles it.")
	}
	if unknown := statedNot(s); unknown != "" {
		p.Blank()
		p.Para(17, "  Not stated", unknown)
	}
}

// TimingsAt adds the timings that a stick keeps at a grade.
func (p *Page) TimingsAt(s module.Module, x jedec.Grade) {
	t, ok := s.At(x)
	if !ok {
		p.Para(17, "  At "+fmt.Sprint(int(x.Rate)),
			"can't be told: a time or the latencies are not stated, or the rate is beyond the stick's")
		return
	}
	text := fmt.Sprintf("%v, access time %v", t, t.CL.Time(x))
	if ras, ok := s.Times.TRAS.Get(); ok {
		text += fmt.Sprintf("; tRAS %d", x.Generation.Clocks(ras, x.TCK))
	}
	if rc, ok := s.Times.TRC.Get(); ok {
		text += fmt.Sprintf(", tRC %d", x.Generation.Clocks(rc, x.TCK))
	}
	p.Para(17, "  At "+fmt.Sprint(int(x.Rate)), text+" clocks")
}

// moduleSentence says what the stick is, as far as it is stated.
func moduleSentence(s module.Module) string {
	var words []string
	if n, ok := s.Pieces.Get(); ok && n > 1 {
		words = append(words, fmt.Sprintf("%d ×", n))
	}
	if size, ok := s.Capacity.Get(); ok {
		words = append(words, size.String())
	}
	if x, ok := s.Grade().Get(); ok && s.Rated.Standing() == fact.Settled {
		words = append(words, x.String())
	} else if g, ok := s.Generation.Get(); ok {
		words = append(words, g.String())
	}
	if len(words) == 0 && len(s.Leaning) > 0 {
		return "Nothing is stated; the part number suggests what follows."
	}
	switch {
	case s.Registered.Or(false) && s.Form.Or(jedec.DIMM) != jedec.FBDIMM:
		words = append(words, s.BuiltAs().String())
	case s.Clocked.Or(false):
		words = append(words, "clocked")
	}
	if f, ok := s.Form.Get(); ok {
		words = append(words, f.String())
	} else {
		words = append(words, "module")
	}
	if s.ECC.Or(false) {
		words = append(words, "with ECC")
	}
	if t, ok := s.Timing.Get(); ok {
		words = append(words, "at "+t.String())
	} else if cl, ok := s.CL.Get(); ok {
		words = append(words, "at CL"+cl.String())
	}
	for _, q := range s.Profiles {
		words = append(words, fmt.Sprintf("sold for %v by an overclocking profile", q.Rate))
	}
	return strings.Join(words, " ") + "."
}

// moduleRows lists what is stated, in the order in which a person asks.
func moduleRows(s module.Module) [][2]string {
	var rows [][2]string
	add := func(label, value string, ok bool) {
		if ok && value != "" {
			rows = append(rows, [2]string{label, value})
		}
	}
	x, graded := s.Grade().Get()
	sure := s.Rated.Standing() == fact.Settled
	add("Speed", fmt.Sprintf("%v, clock %v, cycle %d ps", x.Rate, x.Clock(), x.TCK), graded && sure)
	add("Speed", fmt.Sprintf("likely %v or faster without the profile", x.Rate), graded && !sure)
	add("Also written", strings.Join(x.Spellings(), ", "), graded && sure)
	cl, hasCL := s.CL.Get()
	add("Latency", fmt.Sprintf("CL%v, access time %v", cl, cl.Time(x)), graded && hasCL)
	add("Minimum times", minimumTimes(s.Times), s.Times.TAA.Known())
	ranks, hasRanks := s.Ranks.Get()
	width, hasWidth := s.Width.Get()
	density, hasDensity := s.Density.Get()
	chips := fmt.Sprintf("%d rank", ranks)
	if ranks != 1 {
		chips += "s"
	}
	if hasWidth {
		chips += fmt.Sprintf(" of x%d chips", width)
	}
	if hasDensity {
		chips += ", dies of " + jedec.DieSize(density)
	}
	if dies := s.Dies.Or(1); dies > 1 {
		chips += fmt.Sprintf(", %d in a package", dies)
	}
	if s.Stacked.Or(false) {
		chips += " (3DS)"
	}
	add("Chips", chips, hasRanks)
	add("Kind", kindWords(s), s.Registered.Known() || s.ECC.Known())
	g, hasG := s.Generation.Get()
	f, hasF := s.Form.Get()
	contacts, made := g.Contacts(f)
	add("Contacts", fmt.Sprint(contacts), hasG && hasF && made && contacts > 0)
	add("Supply", s.Supplies.Or(jedec.Supplies{}).String(), s.Supplies.Known())
	for _, q := range s.Profiles {
		add("Profile", profileWords(q), true)
	}
	if l, ok := s.Label.Get(); ok {
		add("Raw card", l.RawCard, true)
		add("SPD revision", revision(l.SPDRevision), true)
		add("Temperature", l.Suffix+", "+l.Temperature(), l.Temperature() != "")
	}
	add("Latencies", s.Latencies.Or(jedec.Latencies{}).String(), true)
	height, hasHeight := s.HeightMM.Get()
	add("Height", fmt.Sprintf("up to %d mm", height), hasHeight)
	thermal, hasThermal := s.Thermal.Get()
	thickness, hasThickness := s.Thickness.Get()
	add("Thickness", thickness.String(), hasThickness)
	add("Supplied by", s.PMIC.Or("")+" on the module", s.PMIC.Known())
	add("Sensor", map[bool]string{true: "thermal sensor on the module", false: "no thermal sensor"}[thermal], hasThermal)
	maker, hasMaker := s.MakerCode.Get()
	add("Maker", maker.String(), hasMaker)
	chips2, hasChips := s.ChipMaker.Get()
	add("Chips by", chips2.String(), hasChips)
	add("Part", s.Part.Or(""), true)
	add("Serial", s.Serial.Or(""), true)
	year, hasYear := s.Year.Get()
	add("Made", fmt.Sprintf("%d, week %d", year, s.Week.Or(0)), hasYear)
	if s.Kind == module.EEPROM {
		add("Image", "revision "+s.Revision+"; "+strings.Join(s.Checks, "; "), true)
	}
	add("Passed over", strings.Join(s.Passed, ", "), true)
	add("Can't be so", strings.Join(s.Doubts, "; "), true)
	return rows
}

func minimumTimes(t module.Times) string {
	var parts []string
	for _, x := range namedTimes(t) {
		if ps, ok := x.time.Get(); ok {
			parts = append(parts, x.name+" "+ps.String())
		}
	}
	return strings.Join(parts, ", ")
}

type namedTime struct {
	name string
	time fact.Fact[jedec.Picoseconds]
}

func namedTimes(t module.Times) []namedTime {
	return []namedTime{{"tAA", t.TAA}, {"tRCD", t.TRCD}, {"tRP", t.TRP}, {"tRAS", t.TRAS}, {"tRC", t.TRC}}
}

func kindWords(s module.Module) string {
	var words []string
	if registered, ok := s.Registered.Get(); ok {
		how := map[bool]string{true: "registered", false: "unbuffered"}[registered]
		switch k := s.BuiltAs(); k {
		case jedec.LoadReduced, jedec.FullyBuffered, jedec.Multiplexed:
			how = k.String()
		}
		words = append(words, how)
	}
	if ecc, ok := s.ECC.Get(); ok {
		words = append(words, map[bool]string{true: "with ECC", false: "without ECC"}[ecc]+checkBits(s))
	}
	return strings.Join(words, ", ")
}

// checkBits names how wide the check bits of a DDR5 module are, of each half: EC4 or EC8 (JESD400-5, byte 235).
func checkBits(s module.Module) string {
	const halves = 2
	if n := s.CheckBits.Or(0); n > 0 && s.Generation.Or(0) == jedec.DDR5 {
		return fmt.Sprintf(", EC%d: %d check bits in each half", n/halves, n/halves)
	}
	return ""
}

func profileWords(q module.Profile) string {
	words := fmt.Sprintf("%v, %s", q.Rate, q.Name)
	if cl, ok := q.CL.Get(); ok {
		words += fmt.Sprintf(", CL%v", cl)
		for _, n := range []maybe.Value[int]{q.TRCD, q.TRP, q.TRAS} {
			if v, ok := n.Get(); ok {
				words += fmt.Sprintf("-%d", v)
			}
		}
	}
	if mv, ok := q.MilliVolts.Get(); ok {
		words += " at " + jedec.Volts(mv)
	}
	return words + ": only where the machine can select it"
}

// revision writes "11" as 1.1 and "1010" as 1.0 twice.
func revision(s string) string {
	switch len(s) {
	case 2:
		return s[:1] + "." + s[1:]
	case 4:
		return s[:1] + "." + s[1:2] + " and " + s[2:3] + "." + s[3:]
	}
	return s
}

// statedNot names what the module's description leaves open, shortly.
func statedNot(s module.Module) string {
	s = stated(s)
	var names []string
	for _, r := range module.Rows() {
		if r.Told && !r.Known(&s) {
			names = append(names, r.Name)
		}
	}
	return strings.Join(names, ", ")
}

// stated is a module without what only leans: a rate that nobody states of a module that is sold by a profile.
func stated(s module.Module) module.Module {
	if s.Rated.Standing() < fact.Settled {
		s.Rated = fact.Fact[jedec.Rate]{}
	}
	return s
}
