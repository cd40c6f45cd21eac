package view

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/stick"
)

// Module lays out one stick: what it is as a sentence, what it states as a
// list, what it does not state.
func (p *Page) Module(s stick.Stick) {
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

// Facing lays several sticks out as columns, one row a fact, and marks the
// rows in which they differ. at, where it is given, adds the timings at a
// grade of each stick's generation.
func (p *Page) Facing(sticks []stick.Stick, at []jedec.Grade) {
	cells := make([]map[string]string, len(sticks))
	columns := []Column{{"", Left, 0}, {"", Left, 14}}
	width := max(12, (p.Width-17)/len(sticks)-len(columnGap))
	for i, s := range sticks {
		cells[i] = facingCells(s)
		if at != nil {
			cells[i]["At the rate"] = "?"
			if t, ok := s.At(at[i]); ok {
				cells[i]["At the rate"] = fmt.Sprintf("%d: %v", int(at[i].Rate), t)
			}
		}
		columns = append(columns, Column{s.From, Left, width})
	}
	var table [][]string
	differing := 0
	for _, label := range facingOrder {
		row := []string{" ", label}
		same, stated := true, false
		for i := range sticks {
			cell, ok := cells[i][label]
			same, stated = same && cell == cells[0][label], stated || ok
			if !ok {
				cell = mark(machine.Unknown)
			}
			row = append(row, cell)
		}
		if !stated {
			continue
		}
		if !same {
			row[0] = mark(machine.Disputed)
			differing++
		}
		table = append(table, row)
	}
	p.Headline(fmt.Sprintf("%s sticks; they differ in %d of %d facts.", sentence(numberOf(len(sticks))), differing, len(table)))
	p.Blank()
	p.Table(columns, table)
	p.Blank()
	p.Foot(mark(machine.Disputed) + " differs   " + mark(machine.Unknown) + " not stated")
}

// facingOrder is the order of facts when sticks stand side by side.
var facingOrder = []string{"Size", "Generation", "Form", "Rate", "CL", "At the rate", "tAA", "tRCD", "tRP", "tRAS", "tRC", "CLs", "Ranks", "Chips", "Dies",
	"ECC", "Registered", "Supply", "Profile", "Maker", "Chips by", "Part", "Serial", "Made", "Height", "Checksum"}

// facingCells gives each fact that is stated in few characters.
func facingCells(s stick.Stick) map[string]string {
	cells := make(map[string]string)
	put(cells, "Size", s.Capacity, jedec.Capacity.String)
	put(cells, "Generation", s.Generation, jedec.Generation.String)
	put(cells, "Form", s.Form, jedec.Form.String)
	put(cells, "Rate", s.Grade, func(x jedec.Grade) string { return fmt.Sprint(int(x.Rate)) })
	put(cells, "CL", s.CL, jedec.Latency.String)
	for _, t := range namedTimes(s.Times) {
		put(cells, t.name, t.time, jedec.Picoseconds.String)
	}
	if n := len(s.Latencies); n > 0 {
		cells["CLs"] = fmt.Sprintf("%v to %v, %d", s.Latencies[0], s.Latencies[n-1], n)
	}
	put(cells, "Ranks", s.Ranks, strconv.Itoa)
	put(cells, "Chips", s.Width, func(n int) string { return fmt.Sprintf("x%d", n) })
	put(cells, "Dies", s.Density, dieSize)
	yesNo := func(b bool) string { return map[bool]string{true: "yes", false: "no"}[b] }
	put(cells, "ECC", s.ECC, yesNo)
	put(cells, "Registered", s.Registered, yesNo)
	if len(s.MilliVolts) > 0 {
		cells["Supply"] = voltList(s.MilliVolts)
	}
	for _, q := range s.Profiles {
		cells["Profile"] = fmt.Sprint(int(q.Rate))
	}
	put(cells, "Maker", s.Maker, jedec.MakerCode.String)
	put(cells, "Chips by", s.ChipMaker, jedec.MakerCode.String)
	put(cells, "Part", orNull(s.Part), same)
	put(cells, "Serial", orNull(s.Serial), same)
	put(cells, "Made", s.Year, func(y int) string { return fmt.Sprintf("%d/%02d", y, s.Week.Or(0)) })
	put(cells, "Height", s.HeightMM, func(n int) string { return fmt.Sprintf("%d mm", n) })
	put(cells, "Checksum", maybe.If(s.Checksum, s.Kind == "EEPROM"), same)
	return cells
}

// put sets a cell where the fact is known.
func put[T any](cells map[string]string, label string, v maybe.Value[T], words func(T) string) {
	if x, ok := v.Get(); ok {
		cells[label] = words(x)
	}
}

// TimingsAt adds the timings that a stick keeps at a grade.
func (p *Page) TimingsAt(s stick.Stick, x jedec.Grade) {
	t, ok := s.At(x)
	if !ok {
		p.Para(17, "  At "+fmt.Sprint(int(x.Rate)), "can't be told: a time or the latencies are not stated, or the rate is beyond the stick's")
		return
	}
	text := fmt.Sprintf("%v, first word after %v", t, t.CL.Time(x))
	if ras, ok := s.Times.TRAS.Get(); ok {
		text += fmt.Sprintf("; tRAS %d", x.Generation.Clocks(ras, x.TCK))
	}
	if rc, ok := s.Times.TRC.Get(); ok {
		text += fmt.Sprintf(", tRC %d", x.Generation.Clocks(rc, x.TCK))
	}
	p.Para(17, "  At "+fmt.Sprint(int(x.Rate)), text+" clocks")
}

// moduleSentence says what the stick is, as far as it is stated.
func moduleSentence(s stick.Stick) string {
	var words []string
	if n, ok := s.Pieces.Get(); ok && n > 1 {
		words = append(words, fmt.Sprintf("%d ×", n))
	}
	if size, ok := s.Capacity.Get(); ok {
		words = append(words, size.String())
	}
	if x, ok := s.Grade.Get(); ok {
		words = append(words, x.String())
	} else if g, ok := s.Generation.Get(); ok {
		words = append(words, g.String())
	}
	if len(words) == 0 && len(s.Leaning) > 0 {
		return "Nothing is stated; the part number suggests what follows."
	}
	registered, known := s.Registered.Get()
	switch {
	case known && registered:
		words = append(words, "registered")
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
func moduleRows(s stick.Stick) [][2]string {
	var rows [][2]string
	add := func(label, value string, ok bool) {
		if ok && value != "" {
			rows = append(rows, [2]string{label, value})
		}
	}
	x, graded := s.Grade.Get()
	add("Speed", fmt.Sprintf("%v, clock %v, cycle %d ps", x.Rate, x.Clock(), x.TCK), graded)
	add("Also written", strings.Join(x.Spellings(), ", "), graded)
	cl, hasCL := s.CL.Get()
	add("Latency", fmt.Sprintf("CL%v, first word after %v", cl, cl.Time(x)), graded && hasCL)
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
		chips += ", dies of " + dieSize(density)
	}
	if dies := s.Dies.Or(1); dies > 1 {
		chips += fmt.Sprintf(", %d in a package", dies)
	}
	if s.Stacked {
		chips += " (3DS)"
	}
	add("Chips", chips, hasRanks)
	add("Kind", kindWords(s), s.Registered.Known() || s.ECC.Known())
	g, hasG := s.Generation.Get()
	f, hasF := s.Form.Get()
	contacts, made := g.Contacts(f)
	add("Contacts", fmt.Sprint(contacts), hasG && hasF && made && contacts > 0)
	add("Supply", voltList(s.MilliVolts), len(s.MilliVolts) > 0)
	for _, q := range s.Profiles {
		add("Profile", profileWords(q), true)
	}
	if l, ok := s.Label.Get(); ok {
		add("Raw card", l.RawCard, true)
		add("SPD revision", revision(l.SPDRevision), true)
		add("Temperature", l.Suffix+", "+l.Temperature(), l.Temperature() != "")
	}
	add("Latencies", latencyList(s.Latencies), true)
	height, hasHeight := s.HeightMM.Get()
	add("Height", fmt.Sprintf("up to %d mm", height), hasHeight)
	thermal, hasThermal := s.Thermal.Get()
	add("Sensor", map[bool]string{true: "thermal sensor on the module", false: "no thermal sensor"}[thermal], hasThermal)
	maker, hasMaker := s.Maker.Get()
	add("Maker", maker.String(), hasMaker)
	chips2, hasChips := s.ChipMaker.Get()
	add("Chips by", chips2.String(), hasChips)
	add("Part", s.Part, true)
	add("Serial", s.Serial, true)
	year, hasYear := s.Year.Get()
	add("Made", fmt.Sprintf("%d, week %d", year, s.Week.Or(0)), hasYear)
	if s.Kind == "EEPROM" {
		add("Image", "revision "+s.Revision+"; "+strings.Join(s.Checks, "; "), true)
	}
	add("Passed over", strings.Join(s.Passed, ", "), true)
	return rows
}

func latencyList(list []jedec.Latency) string {
	var parts []string
	for _, l := range list {
		parts = append(parts, l.String())
	}
	return strings.Join(parts, ", ")
}

func minimumTimes(t stick.Times) string {
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
	time maybe.Value[jedec.Picoseconds]
}

func namedTimes(t stick.Times) []namedTime {
	return []namedTime{{"tAA", t.TAA}, {"tRCD", t.TRCD}, {"tRP", t.TRP}, {"tRAS", t.TRAS}, {"tRC", t.TRC}}
}

func voltList(milliVolts []int) string {
	var words []string
	for _, mv := range milliVolts {
		words = append(words, stick.Volts(mv))
	}
	return strings.Join(words, " or ")
}

func dieSize(mbit int) string {
	if mbit%1024 == 0 {
		return fmt.Sprintf("%d Gbit", mbit/1024)
	}
	return fmt.Sprintf("%d Mbit", mbit)
}

func kindWords(s stick.Stick) string {
	var words []string
	if registered, ok := s.Registered.Get(); ok {
		words = append(words, map[bool]string{true: "registered", false: "unbuffered"}[registered])
	}
	if ecc, ok := s.ECC.Get(); ok {
		words = append(words, map[bool]string{true: "with ECC", false: "without ECC"}[ecc])
	}
	return strings.Join(words, ", ")
}

func profileWords(q stick.Profile) string {
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
		words += " at " + stick.Volts(mv)
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

// plainNames are words for the JSON keys that Unknown returns.
var plainNames = map[string]string{
	"generation": "generation", "form": "form", "capacity_mib": "size", "ranks": "ranks", "device_width_bits": "chip width", "density_mbit": "die density",
	"ecc": "ECC", "registered": "registered or not", "rated_mts": "standard rate", "taa_ps": "CAS time", "trcd_ps": "tRCD", "trp_ps": "tRP", "tras_ps": "tRAS",
	"cas_latencies": "other CAS latencies", "volts": "supply", "maker": "maker", "serial": "serial number", "year": "date",
}

// statedNot names what the stick leaves open, shortly.
func statedNot(s stick.Stick) string {
	var names []string
	for _, key := range s.Unknown() {
		if name, ok := plainNames[key]; ok {
			names = append(names, name)
		}
	}
	return strings.Join(names, ", ")
}

type moduleListJSON struct {
	Schema  string      `json:"schema"`
	Modules []stickJSON `json:"modules"`
}

type stickJSON struct {
	From       string                         `json:"from"`
	Kind       string                         `json:"kind"`
	Generation maybe.Value[jedec.Generation]  `json:"generation"`
	Form       maybe.Value[jedec.Form]        `json:"form"`
	Capacity   maybe.Value[jedec.Capacity]    `json:"capacity_mib"`
	Pieces     maybe.Value[int]               `json:"pieces"`
	Ranks      maybe.Value[int]               `json:"ranks"`
	Width      maybe.Value[int]               `json:"device_width_bits"`
	Density    maybe.Value[int]               `json:"density_mbit"`
	DataWidth  maybe.Value[int]               `json:"data_width_bits"`
	ECC        maybe.Value[bool]              `json:"ecc"`
	Registered maybe.Value[bool]              `json:"registered"`
	Rated      maybe.Value[jedec.Rate]        `json:"rated_mts"`
	CL         maybe.Value[float64]           `json:"cl"`
	TCK        maybe.Value[jedec.Picoseconds] `json:"tck_min_ps"`
	TAA        maybe.Value[jedec.Picoseconds] `json:"taa_ps"`
	TRCD       maybe.Value[jedec.Picoseconds] `json:"trcd_ps"`
	TRP        maybe.Value[jedec.Picoseconds] `json:"trp_ps"`
	TRAS       maybe.Value[jedec.Picoseconds] `json:"tras_ps"`
	TRC        maybe.Value[jedec.Picoseconds] `json:"trc_ps"`
	Latencies  []float64                      `json:"cas_latencies"`
	Volts      []float64                      `json:"volts"`
	Maker      jedec.MakerCode                `json:"maker"`
	Part       maybe.Value[string]            `json:"part"`
	Serial     maybe.Value[string]            `json:"serial"`
	Year       maybe.Value[int]               `json:"year"`
	Week       maybe.Value[int]               `json:"week"`
	ChipMaker  jedec.MakerCode                `json:"chip_maker"`
	Notes      []string                       `json:"notes"`
	Checksum   string                         `json:"checksum"`
	Profiles   []profileJSON                  `json:"profiles"`
	Choices    []string                       `json:"choices"`
	Leaning    []hintJSON                     `json:"leaning"`
	Unknown    []string                       `json:"unknown"`
}

type profileJSON struct {
	Name  string               `json:"name"`
	Rate  jedec.Rate           `json:"rate_mts"`
	CL    maybe.Value[float64] `json:"cl"`
	TRCD  maybe.Value[int]     `json:"trcd"`
	TRP   maybe.Value[int]     `json:"trp"`
	TRAS  maybe.Value[int]     `json:"tras"`
	Volts maybe.Value[float64] `json:"volts"`
}

type hintJSON struct {
	Fact  string `json:"fact"`
	Value string `json:"value"`
	Why   string `json:"why"`
}

// through carries a known value through a function.
func through[T, U any](m maybe.Value[T], f func(T) U) maybe.Value[U] {
	if v, ok := m.Get(); ok {
		return maybe.Just(f(v))
	}
	return maybe.None[U]()
}

func clocks(l jedec.Latency) float64 { return float64(l) / 2 }
func volts(mv int) float64           { return float64(mv) / 1000 }

// ModulesJSON returns the value that module --format json writes.
func ModulesJSON(sticks []stick.Stick) any {
	out := moduleListJSON{Schema: "epitome.module.v1", Modules: []stickJSON{}}
	for _, s := range sticks {
		j := stickJSON{
			From: s.From, Kind: s.Kind, Generation: s.Generation, Form: s.Form, Capacity: s.Capacity, Pieces: s.Pieces, Ranks: s.Ranks,
			Width: s.Width, Density: s.Density, DataWidth: s.DataWidth, ECC: s.ECC, Registered: s.Registered,
			Rated: through(s.Grade, func(x jedec.Grade) jedec.Rate { return x.Rate }), CL: through(s.CL, clocks),
			TCK: s.Times.TCK, TAA: s.Times.TAA, TRCD: s.Times.TRCD, TRP: s.Times.TRP, TRAS: s.Times.TRAS, TRC: s.Times.TRC,
			Maker: s.Maker.Or(jedec.MakerCode{}), Part: orNull(s.Part), Serial: orNull(s.Serial), Year: s.Year, Week: s.Week,
			ChipMaker: s.ChipMaker.Or(jedec.MakerCode{}), Notes: append([]string{}, s.Notes...), Checksum: s.Checksum, Profiles: []profileJSON{}, Choices: []string{}, Leaning: []hintJSON{}, Unknown: append([]string{}, s.Unknown()...),
		}
		for _, l := range slices.Sorted(slices.Values(s.Latencies)) {
			j.Latencies = append(j.Latencies, clocks(l))
		}
		for _, mv := range s.MilliVolts {
			j.Volts = append(j.Volts, volts(mv))
		}
		for _, q := range s.Profiles {
			j.Profiles = append(j.Profiles, profileJSON{q.Name, q.Rate, through(q.CL, clocks), q.TRCD, q.TRP, q.TRAS, through(q.MilliVolts, volts)})
		}
		for _, x := range s.Choices {
			j.Choices = append(j.Choices, x.String())
		}
		for _, h := range s.Leaning {
			j.Leaning = append(j.Leaning, hintJSON(h))
		}
		out.Modules = append(out.Modules, j)
	}
	return out
}
