package view

import (
	"fmt"
	"slices"
	"strings"

	"epitome/core/bench"
	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
)

// The columns of the comparison, in the order in which a technician asks.
var ceilingColumns = []struct {
	source ceiling.Source
	title  string
}{
	{ceiling.Standard, "Standard"}, {ceiling.Firmware, "Firmware"}, {ceiling.Processor, "Processor"},
	{ceiling.Chipset, "Chipset"}, {ceiling.Field, "Runs"}, {ceiling.PastJob, "Ran"},
	{ceiling.Board, "Board"}, {ceiling.System, "System"}, {ceiling.Technician, "You"},
}

// rowTitles name the rows of the comparison; rates have a title by how a channel is filled.
var rowTitles = map[ceiling.What]string{
	ceiling.Capacity: "Capacity", ceiling.PerSlot: "One module", ceiling.Density: "One die",
	ceiling.Ranks: "Ranks a module",
	ceiling.DIMMs: "Slots a channel", ceiling.ChannelRanks: "Ranks a channel",
}

var listTitles = []struct {
	what  ceiling.What
	title string
}{
	{ceiling.Generation, "Generation"}, {ceiling.Volts, "Supply"}, {ceiling.Width, "Chips"}, {ceiling.Kinds, "Kinds"},
	{ceiling.Profiles, "Profiles"}, {ceiling.Clocked, "Clock drivers"},
}

// Ceilings lays out every limit: who sets it, which one binds, what is open.
func (p *Page) Ceilings(m machine.Machine, l ceiling.Limits, r bench.Reach) {
	marks := make(legend)
	p.Headline(ceilingConclusion(m, l, r, marks))
	p.Blank()
	rows := l.Rows()
	columns := []Column{{"", Left, 0}}
	for _, c := range ceilingColumns {
		columns = append(columns, Column{c.title, Right, 0})
	}
	var body [][]string
	binding := false
	for _, r := range rows {
		line := []string{rowTitle(r)}
		for _, c := range ceilingColumns {
			line = append(line, cellOf(r, c.source, marks))
		}
		binding = binding || slices.ContainsFunc(r.Cells, func(c ceiling.Ceiling) bool { return c.Binding })
		body = append(body, line)
	}
	p.Table(columns, body)
	p.Blank()
	p.lists(l, marks)
	p.ceilingSentences(rows)
	p.Blank()
	foot := "rates in MT/s"
	if binding {
		foot = "[ ] binds   " + foot
	}
	if f := marks.foot(); f != "" {
		foot += "   " + f
	}
	p.Foot(foot)
}

func rowTitle(r ceiling.Row) string {
	if fill, ok := r.For.Get(); ok {
		return rateTitle(fill)
	}
	if r.What == ceiling.Rate {
		return rateTitle(catalogue.Population{})
	}
	return rowTitles[r.What]
}

func rateTitle(fill catalogue.Population) string {
	title := fmt.Sprintf("Rate, %d a ch.", max(fill.Modules, 1))
	if fill.Ranks.Or(1) > 1 {
		title = fmt.Sprintf("  %d of 2 ranks", fill.Modules)
	}
	return title
}

// cellOf writes what one source says in a row, the binding figure in brackets.
func cellOf(r ceiling.Row, source ceiling.Source, marks legend) string {
	c, ok := r.By(source)
	if !ok {
		return ""
	}
	most, ok := c.Most.Get()
	if !ok {
		if c.What == ceiling.OSCapacity && c.Standing >= fact.Leaning {
			return "any"
		}
		return marks.marked("", fact.Unknown)
	}
	text := bounded(most, c.What)
	if c.Binding {
		text = "[" + text + "]"
	}
	return marks.marked(text, c.Standing)
}

// bounded writes a figure for a cell: a rate without its unit, which the foot names.
func bounded(a ceiling.Amount, w ceiling.What) string {
	if w == ceiling.Rate {
		return fmt.Sprint(a.Int())
	}
	return a.String()
}

// lists writes the limits that are lists, one line each, by source.
func (p *Page) lists(l ceiling.Limits, marks legend) {
	for _, t := range listTitles {
		var parts []string
		for _, c := range l.On(t.what) {
			words := "?"
			if set, ok := c.Allowed.Get(); ok {
				words = marks.marked(set.String(), c.Standing)
			} else {
				marks[fact.Unknown] = true
			}
			if part := words + " (" + string(c.Source) + ")"; !slices.Contains(parts, part) {
				parts = append(parts, part)
			}
		}
		if len(parts) > 0 {
			p.Para(15, t.title, strings.Join(parts, "; "))
		}
	}
}

// ceilingSentences says, for each row that matters, who binds it and what is
// smaller and softer, or contradicted; then what is open, and why.
func (p *Page) ceilingSentences(rows []ceiling.Row) {
	var reasons []string
	waiting := make(map[string][]string)
	var warned []string
	spoke := false
	for _, r := range rows {
		title := rowTitles[r.What]
		if r.What == ceiling.Rate {
			title = "Rate"
		}
		for _, c := range r.Cells {
			switch {
			case c.Matters():
				if !spoke {
					p.Blank()
				}
				spoke = true
				says := title + ": " + c.Says
				if c.Cost != "" && !slices.Contains(warned, c.Cost) {
					says += "; " + c.Cost
					warned = append(warned, c.Cost)
				}
				p.Para(4, "  - ", says+".")
			case c.Waits():
				if waiting[c.Says] == nil {
					reasons = append(reasons, c.Says)
				}
				if !slices.Contains(waiting[c.Says], title) {
					waiting[c.Says] = append(waiting[c.Says], title)
				}
			}
		}
	}
	if len(reasons) > 0 {
		p.Blank()
		p.Heading("Open")
		for _, why := range reasons {
			p.Para(4, "  - ", strings.Join(waiting[why], ", ")+": "+why+".")
		}
	}
}

func ceilingConclusion(m machine.Machine, l ceiling.Limits, r bench.Reach, marks legend) string {
	s := "The maximum is not known: " + r.Unknown()
	if r.Size.Known() || len(r.Ways) > 0 {
		s = "Maximum " + maximumWords(r, m, l, marks)
	}
	g, known := l.Generation.Get()
	if m.Totals.Sockets.Or(1) == 0 || !known {
		return s + "."
	}
	if fills := l.Populations(); len(fills) > 0 {
		s += rateWords(m, g, l.Rates(fills[0]), ceiling.Filled(fills[0]), marks)
	}
	return s + "."
}

// maximumWords say how far a machine goes, with what set, and who ends it.
func maximumWords(r bench.Reach, m machine.Machine, l ceiling.Limits, marks legend) string {
	top, known := r.Size.Get()
	switch {
	case len(r.Ways) == 1 && !known:
		return fmt.Sprintf("%v, however it is built", r.Ways[0].Size)
	case len(r.Ways) > 1 && !known:
		return fmt.Sprintf("%v to %v, depends on how it is built", r.Ways[0].Size, r.Ways[len(r.Ways)-1].Size)
	case m.Totals.Sockets.Or(1) == 0 && len(r.Ways) < 2:
		return fmt.Sprintf("%v: all memory is soldered", top)
	}
	text := fmt.Sprintf("%s (%s)", show(marks, r.Size, jedec.Capacity.String), r.Size.Why()[0].Says)
	if by, ok := r.By.Get(); ok {
		text += ", " + limitOf(by)
	}
	whole, limited := l.Bound(ceiling.Capacity)
	published := whole.Most.Capacity()
	if limited && published < top {
		text += fmt.Sprintf("; the %s states %v, and more commonly runs", sourceWords[whole.By.Source], published)
	}
	if certain, ok := r.Certain.Get(); ok && certain > m.Have() && certain != published && len(r.Ways) < 2 {
		text += fmt.Sprintf("; %v for certain", certain)
	}
	if open, ok := r.Open.Get(); ok {
		text += fmt.Sprintf("; up to %v is not known", open)
	}
	if len(whole.Softer) > 0 {
		by, most := whole.Softer[0].Source, whole.Softer[0].Most.Or(ceiling.Amount{})
		if most.Capacity() < top {
			text += fmt.Sprintf("; the %s states %v, which is not firm", sourceWords[by], most)
		}
	}
	if system, ok := l.Bound(ceiling.OSCapacity); ok && system.Most.Capacity() < top {
		text += fmt.Sprintf("; the operating system uses %v of it", system.Most)
	}
	for _, w := range r.Ways {
		if w.Size != top {
			text += fmt.Sprintf("; %v if %s", w.Size, w.If)
		}
	}
	return text
}

// limitOf names the limit that ends a machine's growth.
func limitOf(by ceiling.Ceiling) string {
	who := "limit of the " + string(by.Source)
	switch by.Source {
	case ceiling.Firmware:
		who = "firmware limit"
	case ceiling.Technician:
		who = "limit of the manual"
	}
	if by.What == ceiling.PerSlot {
		return fmt.Sprintf("largest module %v, %s", by.Most.Or(ceiling.Amount{}), who)
	}
	return who
}

// rateWords says up to which rate memory runs, or that nobody states it beside
// the standard of the modules.
func rateWords(m machine.Machine, g jedec.Generation, row []ceiling.Ceiling, filled string, marks legend) string {
	if b, ok := ceiling.BoundOf(row); ok && b.By.Source != ceiling.Standard {
		return fmt.Sprintf("; %v at up to %s with %s", g, marks.marked(fmt.Sprint(b.Most.Int()), b.By.Standing), filled)
	}
	for _, p := range m.Places {
		if p.Module != nil && p.Running.Known() {
			return fmt.Sprintf("; %v, which runs at %d today and up to an unknown rate", g, int(p.Running.Or(0)))
		}
	}
	return fmt.Sprintf("; %v at a rate that is not known", g)
}

// Going lays out whether the machine may go somewhere: the answer, a row for each way of filling a channel, and who
// stands against it.
func (p *Page) Going(g bench.Going) {
	p.Headline(g.Says)
	if len(g.Ways) > 1 {
		p.Blank()
		var rows [][]string
		for _, w := range g.Ways {
			rows = append(rows, []string{w.Filled, strings.ToLower(bench.GoingWord(w.Verdict))})
		}
		p.Table([]Column{{"Filled with", Left, 0}, {"", Left, Rest}}, rows)
		p.Blank()
	}
	for _, c := range g.Because {
		p.Para(4, "  - ", string(c.Source)+": "+c.Says+".")
	}
}

// CeilingsJSON returns the value that ceilings --format json writes.
func CeilingsJSON(l ceiling.Limits, r bench.Reach) any {
	type row struct {
		What     ceiling.What     `json:"what"`
		Value    any              `json:"value"`
		Unit     string           `json:"unit"`
		Source   ceiling.Source   `json:"source"`
		Standing fact.Standing    `json:"standing"`
		Binding  bool             `json:"binding"`
		Softer   bool             `json:"softer"`
		Says     string           `json:"says"`
		Modules  maybe.Value[int] `json:"modules_per_channel"`
		Ranks    maybe.Value[int] `json:"ranks"`
	}
	rows := []row{}
	for _, c := range l.Ceilings {
		r := row{What: c.What, Unit: unitOf[c.What], Source: c.Source, Standing: c.Standing, Binding: c.Binding,
			Softer: c.Softer, Says: c.Says}
		if most, ok := c.Most.Get(); ok {
			r.Value = most.Int()
			if c.What == ceiling.Density {
				r.Value = float64(most.Int()) / 1024
			}
		} else if set, ok := c.Allowed.Get(); ok {
			r.Value = set.Words
			switch c.What {
			case ceiling.Profiles, ceiling.Clocked:
				r.Value = len(set.Words) > 0
			case ceiling.Volts:
				r.Value = set.Supplies.Volts()
			}
		}
		if fill, ok := c.For.Get(); ok {
			r.Modules, r.Ranks = maybe.Just(fill.Modules), fill.Ranks
		}
		rows = append(rows, r)
	}
	return map[string]any{"schema": "epitome.ceilings.v1", "ceilings": rows,
		"reachable_mib": found(r.Size, jedec.Capacity.MiB),
		"generation":    found(l.Generation, jedec.Generation.String)}
}

var unitOf = map[ceiling.What]string{ceiling.Capacity: "MiB", ceiling.PerSlot: "MiB", ceiling.OSCapacity: "MiB",
	ceiling.Rate: "MT/s", ceiling.Density: "Gbit", ceiling.Volts: "V"}
