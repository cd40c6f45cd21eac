package view

import (
	"fmt"
	"strings"

	"epitome/core/catalogue"
)

// Catalogue lays out what is known of processors, chipsets, boards, systems and modules
// that are sold; with cells, the embedded rows as they stand, too.
func (p *Page) Catalogue(found catalogue.Found, cells bool) {
	if found.Empty() {
		p.Headline("Nothing is known of it: no row matches, and the nearest one is never taken.")
		return
	}
	above := false
	part := func(title string) {
		if above {
			p.Blank()
		}
		above = true
		p.Headline(title)
		p.Blank()
	}
	for _, family := range families(found.Controllers) {
		part(fmt.Sprintf("%s, confidence %s.", family[0].Family, catalogue.Weakest(family)))
		p.controllers(family)
		for _, c := range family {
			p.cells(c.Generation, c.Cells(), cells)
		}
	}
	for _, l := range found.Led {
		part(fmt.Sprintf("%s, confidence %s.", l.Family, l.Confidence))
		p.Para(2, "", "Its memory controller is in the chipset: which chipset the board has decides what memory goes in. "+
			"epitome catalogue show has the chipset by its name or PCI id.")
		if len(l.Pairs) > 0 {
			p.Para(titleWidth, "  Often built with", strings.Join(l.Pairs, ", "))
		}
	}
	for _, c := range found.Chipsets {
		title := fmt.Sprintf("%s, %s, confidence %s", c.Name, c.Role, c.Confidence)
		if c.Shared {
			title += "; others carry the same id"
		}
		if c.Recalled {
			title += "; the id is recalled, not listed"
		}
		part(title + ".")
		p.said(c.Says())
		if held := c.Controllers(); len(held) > 0 {
			p.Blank()
			p.controllers(held)
		}
		p.cells(c.Name, c.Cells(), cells)
	}
	for _, b := range found.Boards {
		part(fmt.Sprintf("%s %s, confidence %s.", b.Maker, strings.Join(b.Names, ", "), b.Confidence))
		p.said(b.Says())
		p.Para(titleWidth, "  Stands in", b.Where)
	}
	for _, s := range found.Systems {
		part(s.Name() + ".")
		p.said(s.Says())
	}
	if len(found.Sold) > 0 {
		part(fmt.Sprintf("Sold as %v %v.", found.Sold[0].Generation, found.Sold[0].Form))
		p.sold(found.Sold)
	}
}

// titleWidth is where the text of a field begins on a catalogue page.
const titleWidth = 22

// families puts together the controllers of one family.
func families(controllers []catalogue.Controller) (out [][]catalogue.Controller) {
	for _, c := range controllers {
		if n := len(out); n > 0 && out[n-1][0].ID == c.ID && out[n-1][0].Where == c.Where {
			out[n-1] = append(out[n-1], c)
		} else {
			out = append(out, []catalogue.Controller{c})
		}
	}
	return out
}

// said lays out fields, one a line.
func (p *Page) said(list []catalogue.Said) {
	for _, s := range list {
		p.Para(titleWidth, "  "+s.Title, orQuestion(s))
	}
}

func orQuestion(s catalogue.Said) string {
	switch {
	case s.Text == "":
		return "?"
	case s.Soft && !s.Prose:
		return s.Text + " ~"
	}
	return s.Text
}

// controllers lays out the limits of one family, one column a generation that it takes.
func (p *Page) controllers(family []catalogue.Controller) {
	columns := []Column{{"Takes", Left, 0}}
	texts := make(map[string][]string)
	var titles []string
	for i, c := range family {
		width := 0
		if i == len(family)-1 {
			width = Rest
		}
		columns = append(columns, Column{c.Generation, Left, width})
		for _, s := range c.Says() {
			if s.Prose {
				continue
			}
			if texts[s.Title] == nil {
				titles = append(titles, s.Title)
				texts[s.Title] = make([]string, len(family))
				for j := range family {
					texts[s.Title][j] = "?"
				}
			}
			texts[s.Title][i] = orQuestion(s)
			if s.Text == "" && s.Title == "Slots a channel" && strings.HasPrefix(c.Generation, "LP") {
				texts[s.Title][i] = "soldered"
			}
		}
	}
	rows := make([][]string, 0, len(titles))
	for _, t := range titles {
		rows = append(rows, append([]string{t}, texts[t]...))
	}
	p.Table(columns, rows)
	p.Blank()
	for _, c := range family {
		for _, s := range c.Says() {
			if s.Prose {
				p.Para(4, "  - ", c.Generation+": "+s.Text)
			}
		}
	}
	p.Para(10, "  Basis", family[0].Basis)
	if family[0].Where != "" {
		p.Para(10, "  From", family[0].Where)
	}
	p.Blank()
	p.Foot("~ one compilation only or doubted, so softer   ? not known   rates in MT/s, one module a channel where " +
		"nothing else is said")
}

// cells lays out an embedded row as the table has it.
func (p *Page) cells(name string, cells []catalogue.Said, wanted bool) {
	if !wanted || len(cells) == 0 {
		return
	}
	p.Blank()
	p.Heading("The row of " + name)
	for _, c := range cells {
		p.Para(titleWidth, "  "+c.Title, c.Text)
	}
}

// sold lays out the modules that shops ordinarily sell.
func (p *Page) sold(list []catalogue.Sold) {
	var rows [][]string
	for _, s := range list {
		var grades []string
		for _, g := range s.Grades {
			text := fmt.Sprint(int(g.Grade.Rate))
			if g.CL > 0 {
				text += " CL" + g.CL.String()
			}
			if g.Scarce {
				text += " (scarce)"
			}
			grades = append(grades, text)
		}
		layout := ""
		if s.Ranks > 0 {
			layout = fmt.Sprintf("%dRx%d", s.Ranks, s.Width)
		}
		kind := s.Kind.String()
		if s.RunsLow() {
			kind += ", 1.35 V"
		}
		rows = append(rows, []string{s.Size.String(), layout, kind, strings.Join(grades, ", "), s.Years, string(s.Best()),
			s.Note})
	}
	p.Table([]Column{{"Size", Right, 0}, {"Ranks", Left, 0}, {"Kind", Left, 0}, {"Grades", Left, 24}, {"Years", Left, 0},
		{"Sold", Left, 0}, {"Note", Left, Rest}}, rows)
}

// CatalogueJSON returns the value that catalogue show --format json writes.
func CatalogueJSON(found catalogue.Found, cells bool) any {
	row := func(into map[string]any, list []catalogue.Said) map[string]any {
		if cells {
			texts := make(map[string]string, len(list))
			for _, c := range list {
				texts[c.Title] = c.Text
			}
			into["row"] = texts
		}
		return into
	}
	processors, chipsets, boards, systems, sold := []any{}, []any{}, []any{}, []any{}, []any{}
	for _, family := range families(found.Controllers) {
		generations := []any{}
		for _, c := range family {
			one := c.JSON()
			one["soft"] = append([]string{}, c.Soft...)
			generations = append(generations, row(one, c.Cells()))
		}
		processors = append(processors,
			map[string]any{"id": family[0].ID, "family": family[0].Family, "basis": family[0].Basis,
				"confidence": catalogue.Weakest(family), "where": orNull(family[0].Where), "generations": generations})
	}
	for _, l := range found.Led {
		processors = append(processors, map[string]any{"id": l.ID, "family": l.Family, "basis": l.Basis,
			"confidence": l.Confidence, "where": nil, "generations": []any{}, "controller_in": "chipset",
			"pairs_with": append([]string{}, l.Pairs...)})
	}
	for _, c := range found.Chipsets {
		one := c.JSON()
		one["shared"], one["recalled"] = c.Shared, c.Recalled
		chipsets = append(chipsets, row(one, c.Cells()))
	}
	for _, b := range found.Boards {
		one := b.JSON()
		one["where"] = b.Where
		boards = append(boards, one)
	}
	for _, s := range found.Systems {
		systems = append(systems, s.JSON())
	}
	for _, s := range found.Sold {
		sold = append(sold, s.JSON())
	}
	return map[string]any{"schema": "epitome.catalogue.v1", "processors": processors, "chipsets": chipsets,
		"boards":  boards,
		"systems": systems, "sold": sold}
}

// Entries lays out the catalogue's list.
func (p *Page) Entries(entries []catalogue.Entry) {
	if len(entries) == 0 {
		p.Headline("No entry has all of these words.")
		return
	}
	var rows [][]string
	for _, e := range entries {
		where := e.Where
		if where == "" {
			where = "embedded"
		}
		rows = append(rows, []string{e.Kind, e.Name, strings.Join(e.Generations, ", "), string(e.Confidence), where})
	}
	p.Table([]Column{{"Kind", Left, 0}, {"Name", Left, 34}, {"Takes", Left, Rest}, {"Trust", Left, 0},
		{"From", Left, 18}}, rows)
}

// Checked lays out what is wrong with one overlay file and what its entries
// take the place of.
func (p *Page) Checked(path string, o catalogue.Overlay, faults []catalogue.Fault, shadows []catalogue.Shadow) {
	var parts []string
	for _, x := range []struct {
		n    int
		noun string
	}{{len(o.Processors), "processor"}, {len(o.Chipsets), "chipset"}, {len(o.Boards), "board"}} {
		if x.n > 0 {
			parts = append(parts, count(x.n, x.noun))
		}
	}
	what := strings.Join(parts, ", ")
	if what == "" {
		what = "no entry"
	}
	verdict := "sound"
	if len(faults) > 0 {
		verdict = count(len(faults), "fault")
	}
	p.Headline(fmt.Sprintf("%s: %s can be used; %s.", path, what, verdict))
	for _, f := range faults {
		p.Para(4, "  - ", fmt.Sprintf("line %d: %s", f.Line, f.Says))
	}
	for _, s := range shadows {
		p.Para(4, "  - ", fmt.Sprintf("%s takes the place of %s", s.Where, s.Over))
	}
}
