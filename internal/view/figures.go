package view

import (
	"fmt"
	"strings"

	"epitome/core/convert"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/narrow"
)

// Converted lays out every honest reading of a figure.
func (p *Page) Converted(r convert.Result) {
	switch len(r.Readings) {
	case 1:
		headline := fmt.Sprintf("%s is %s", r.Input, r.Readings[0].Says)
		for _, f := range r.At {
			cl, _ := f.CL.Get()
			headline += fmt.Sprintf("; at %v its latency takes CL%v, %v", f.Grade, cl, f.Latency.Or(0))
			if slower, ok := f.Slower.Get(); ok {
				headline += fmt.Sprintf(", or CL%v where the module keeps no more than it states", slower)
			}
		}
		p.Headline(headline + ".")
	default:
		p.Headline(fmt.Sprintf("%s can be read in %s ways.", r.Input, numberOf(len(r.Readings))))
	}
	for i, reading := range r.Readings {
		p.Blank()
		if len(r.Readings) > 1 {
			p.Heading(fmt.Sprintf("%d  As a %s", i+1, reading.As))
			p.Para(3, "   ", sentence(reading.Says)+".")
			p.Blank()
		}
		if size, ok := reading.Size.Get(); ok {
			p.size(size)
		}
		switch len(reading.Grades) {
		case 0:
		case 1:
			p.oneGrade(reading.Grades[0])
		default:
			p.gradeTable(reading.Grades)
		}
	}
	if r.Settles != "" {
		p.Blank()
		p.Para(17, "What settles it", sentence(r.Settles)+".")
	}
}

func (p *Page) size(c jedec.Capacity) {
	for _, row := range [][2]string{
		{"Size", c.String()}, {"In MB", fmt.Sprintf("%s (2^20 bytes)", figure(uint64(c/jedec.MiB)))},
		{"In kB", fmt.Sprintf("%s (2^10 bytes)", figure(uint64(c/jedec.KiB)))},
		{"Bytes", figure(uint64(c))},
		{"By 1000s", fmt.Sprintf("%.2f GB of 10^9 bytes; %.2f where kB are divided by 1000 twice", float64(c)/1e9,
			float64(c/jedec.KiB)/1e6)},
	} {
		p.Para(18, "   "+row[0], row[1])
	}
}

// figure writes a whole number with blanks between the thousands.
func figure(n uint64) string {
	s := fmt.Sprint(n)
	for at := len(s) - 3; at > 0; at -= 3 {
		s = s[:at] + " " + s[at:]
	}
	return s
}

func (p *Page) oneGrade(f convert.GradeFacts) {
	x := f.Grade
	rows := [][2]string{
		{"Grade", x.String()},
		{"Data rate", exactRate(x)},
		{"Clock", clockWords(x)},
		{"Cycle", fmt.Sprintf("%d ps", x.TCK)},
		{"Also written", strings.Join(x.Spellings(), ", ")},
		{"Bandwidth", fmt.Sprintf("%s MB/s a channel of 64 bits", figure(uint64(x.Bandwidth())))},
	}
	if f.MilliVolts != 0 {
		rows = append(rows, [2]string{"Supply", jedec.Volts(f.MilliVolts)})
	}
	if cl, ok := f.CL.Get(); ok {
		rows = append(rows, [2]string{"Latency", fmt.Sprintf("CL%v, access time %v", cl, f.Latency.Or(0))})
	}
	if bins := jedec.Bins(x); len(bins) > 0 {
		var names []string
		for _, b := range bins {
			names = append(names, fmt.Sprintf("%s %v", b.Name(), b.Timing))
		}
		rows = append(rows, [2]string{"Bins", strings.Join(names, ", ")})
	}
	for _, row := range rows {
		p.Para(18, "   "+row[0], row[1])
	}
}

// exactRate writes a rate, with its exact figure where the name is rounded: 7467 stands for 7466.67.
func exactRate(x jedec.Grade) string {
	if x.Thirds%3 == 0 {
		return x.Rate.String()
	}
	return fmt.Sprintf("%v, exactly %.2f", x.Rate, float64(x.Thirds)*100/3)
}

// clockWords writes the clocks of a grade; LPDDR5 has one for commands and one for data.
func clockWords(x jedec.Grade) string {
	if x.Generation.Trait().ClockRatio == 8 {
		return fmt.Sprintf("%v for commands, %v for data; cells %v", x.Clock(), 4*x.Clock(), x.CellClock())
	}
	return fmt.Sprintf("%v; cells %v", x.Clock(), x.CellClock())
}

func (p *Page) gradeTable(grades []convert.GradeFacts) {
	columns := []Column{{"   Grade", Left, 0}, {"MT/s", Right, 0}, {"Clock", Right, 0}, {"Cycle", Right, 0},
		{"Rating", Left, 0}, {"MB/s", Right, 0}}
	withLatency := grades[0].CL.Known()
	if withLatency {
		columns = append(columns, Column{"CL", Right, 0}, Column{"Latency", Right, 0})
	}
	var rows [][]string
	for _, f := range grades {
		x := f.Grade
		row := []string{"   " + x.String(), fmt.Sprint(int(x.Rate)), x.Clock().String(), fmt.Sprintf("%d ps", x.TCK),
			x.Module(), figure(uint64(x.Bandwidth()))}
		if cl, ok := f.CL.Get(); withLatency && ok {
			row = append(row, cl.String(), f.Latency.Or(0).String())
		}
		rows = append(rows, row)
	}
	p.Table(columns, rows)
}

// Narrowed lays out what remains of the possibilities.
func (p *Page) Narrowed(r narrow.Result) {
	switch len(r.Candidates) {
	case 0:
		p.Headline("Nothing fits all clues: they contradict one another. What comes closest:")
	case 1:
		p.Headline(fmt.Sprintf("It is %v.", r.Candidates[0]))
	default:
		p.Headline(fmt.Sprintf("%s possibilities remain.", sentence(numberOf(len(r.Candidates)))))
	}
	if len(r.Candidates) > 0 {
		p.Blank()
		common, rare := commonFirst(r.Candidates)
		p.candidateTable(common)
		if len(rare) > 0 {
			p.Para(4, "  + ", "rarer: "+strings.Join(rare, ", "))
		}
		p.sets(common)
	} else {
		p.Blank()
		fewest := len(r.Excluded[0].Why)
		for _, e := range r.Excluded {
			fewest = min(fewest, len(e.Why))
		}
		for _, e := range r.Excluded {
			if len(e.Why) == fewest {
				p.Para(20, fmt.Sprintf("  %v %v", e.Generation, e.Form), strings.Join(e.Why, "; "))
			}
		}
	}
	if len(r.Notes) > 0 {
		p.Blank()
		for _, n := range r.Notes {
			p.Para(4, "  - ", sentence(n)+".")
		}
	}
	if look, ok := r.Look.Get(); ok {
		p.Blank()
		p.Heading("Look next at " + look.At)
		for _, s := range look.Splits {
			value, who, _ := strings.Cut(s, ": ")
			p.Para(20, "  "+value, who)
		}
	}
}

// commonFirst keeps forms that a shop meets every day apart from the others,
// where there are too many to see at a glance.
func commonFirst(all []narrow.Candidate) (common []narrow.Candidate, rare []string) {
	const glance = 8
	if len(all) <= glance {
		return all, nil
	}
	for _, x := range all {
		if x.Form == jedec.DIMM || x.Form == jedec.SODIMM {
			common = append(common, x)
		} else {
			rare = append(rare, x.String())
		}
	}
	if len(common) == 0 {
		return all, nil
	}
	return common, rare
}

func (p *Page) candidateTable(candidates []narrow.Candidate) {
	columns := []Column{{"Could be", Left, 0}, {"Contacts", Right, 0}, {"Notch", Right, 0}, {"Supply", Right, 0},
		{"Read as", Left, 0}, {"Grades", Left, Rest}}
	var rows [][]string
	for _, x := range candidates {
		notch, contacts := "", ""
		if x.NotchMM != 0 {
			notch = fmt.Sprintf("%.1f mm", x.NotchMM)
		}
		if x.Contacts != 0 {
			contacts = fmt.Sprint(x.Contacts)
		}
		rows = append(rows, []string{x.String(), contacts, notch, jedec.Volts(x.Generation.Trait().MilliVolts[0]), x.As,
			gradeSpan(x.Grades)})
	}
	p.Table(columns, rows)
}

// gradeSpan writes up to three grades out, more as a span.
func gradeSpan(grades []jedec.Grade) string {
	var rates []string
	for _, x := range grades {
		rates = append(rates, fmt.Sprint(int(x.Rate)))
	}
	if len(rates) > 3 {
		return rates[0] + " to " + rates[len(rates)-1]
	}
	return strings.Join(rates, ", ")
}

func (p *Page) sets(candidates []narrow.Candidate) {
	heading := false
	for _, x := range candidates {
		if len(x.Sets) == 0 {
			continue
		}
		if !heading {
			p.Blank()
			p.Heading("Modules that make the total")
			heading = true
		}
		var names []string
		for _, s := range x.Sets {
			name := s.String()
			if !s.Even() {
				name += " (uneven)"
			}
			names = append(names, name)
		}
		p.Para(20, "  "+x.String(), strings.Join(names, ", "))
	}
}

type gradeJSON struct {
	Grade     string                         `json:"grade"`
	Rate      jedec.Rate                     `json:"rate_mts"`
	ClockKHz  int                            `json:"clock_khz"`
	TCK       jedec.Picoseconds              `json:"tck_ps"`
	Spellings []string                       `json:"spellings"`
	Bandwidth int                            `json:"bandwidth_mbs"`
	CL        maybe.Value[float64]           `json:"cl"`
	Latency   maybe.Value[jedec.Picoseconds] `json:"latency_ps"`
	Slower    maybe.Value[float64]           `json:"cl_at_worst"`
	Bins      map[string]string              `json:"bins"`
}

func gradesJSON(list []convert.GradeFacts) []gradeJSON {
	out := []gradeJSON{}
	for _, f := range list {
		x := f.Grade
		j := gradeJSON{Grade: x.String(), Rate: x.Rate, ClockKHz: int(x.Clock()), TCK: x.TCK, Spellings: x.Spellings(),
			Bandwidth: x.Bandwidth(),
			CL:        maybe.Map(f.CL, jedec.Latency.Clocks), Latency: f.Latency,
			Slower: maybe.Map(f.Slower, jedec.Latency.Clocks), Bins: map[string]string{}}
		for _, b := range jedec.Bins(x) {
			j.Bins[b.Name()] = b.Timing.String()
		}
		out = append(out, j)
	}
	return out
}

// ConvertedJSON returns the value that convert --format json writes.
func ConvertedJSON(r convert.Result) any {
	type reading struct {
		As     string              `json:"as"`
		Says   string              `json:"says"`
		Bytes  maybe.Value[uint64] `json:"bytes"`
		MiB    maybe.Value[uint64] `json:"capacity_mib"`
		Grades []gradeJSON         `json:"grades"`
	}
	readings := []reading{}
	for _, x := range r.Readings {
		readings = append(readings, reading{x.As, x.Says,
			maybe.Map(x.Size, func(c jedec.Capacity) uint64 { return uint64(c) }), maybe.Map(x.Size, jedec.Capacity.MiB),
			gradesJSON(x.Grades)})
	}
	return map[string]any{"schema": "epitome.convert.v1", "input": r.Input, "readings": readings, "at": gradesJSON(r.At),
		"settles": orNull(r.Settles)}
}

// NarrowedJSON returns the value that narrow --format json writes.
func NarrowedJSON(r narrow.Result) any {
	type candidate struct {
		Generation jedec.Generation     `json:"generation"`
		Form       jedec.Form           `json:"form"`
		Contacts   maybe.Value[int]     `json:"contacts"`
		Notch      maybe.Value[float64] `json:"notch_mm"`
		Rates      []jedec.Rate         `json:"rates_mts"`
		As         maybe.Value[string]  `json:"figure_read_as"`
		Sets       [][]uint64           `json:"sets_mib"`
		Graphics   maybe.Value[uint64]  `json:"graphics_mib"`
	}
	type exclusion struct {
		Generation jedec.Generation `json:"generation"`
		Form       jedec.Form       `json:"form"`
		Why        []string         `json:"why"`
	}
	candidates, excluded := []candidate{}, []exclusion{}
	for _, x := range r.Candidates {
		c := candidate{Generation: x.Generation, Form: x.Form, Contacts: maybe.If(x.Contacts, x.Contacts > 0),
			Notch: maybe.If(x.NotchMM, x.NotchMM > 0),
			Rates: []jedec.Rate{}, As: orNull(x.As), Sets: [][]uint64{},
			Graphics: maybe.If(x.Graphics.MiB(), x.Graphics > 0)}
		for _, g := range x.Grades {
			c.Rates = append(c.Rates, g.Rate)
		}
		for _, s := range x.Sets {
			var mib []uint64
			for _, size := range s {
				mib = append(mib, size.MiB())
			}
			c.Sets = append(c.Sets, mib)
		}
		candidates = append(candidates, c)
	}
	for _, e := range r.Excluded {
		excluded = append(excluded, exclusion(e))
	}
	var look any
	if l, ok := r.Look.Get(); ok {
		look = map[string]any{"at": l.At, "splits": l.Splits}
	}
	return map[string]any{"schema": "epitome.narrow.v1", "candidates": candidates, "excluded": excluded, "look": look,
		"notes": append([]string{}, r.Notes...)}
}
