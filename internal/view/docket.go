package view

import (
	"fmt"
	"strings"

	"epitome/core/docket"
	"epitome/core/rule"
)

// waitsWords says how sure a plan is that waits for a look, or that it is none to buy by.
func waitsWords(d docket.Docket) string {
	switch d.Verdict {
	case rule.Leans:
		return "Likely, not settled."
	case rule.LeansNo:
		return "Likely does not work."
	case rule.No:
		return "Does not work."
	}
	return "Not proved yet."
}

// waitsTitle begins what a slip waits for, or why nobody should buy by it.
func waitsTitle(d docket.Docket) string {
	if rule.Outcome(d.Verdict).Against() {
		return " Do not buy it:"
	}
	return " Before buying:"
}

// Docket lays out the slip and the fitting sheet as text.
func (p *Page) Docket(d docket.Docket) {
	for _, line := range d.Heading {
		p.Para(0, "", line)
	}
	p.Headline(docketTitle(d))
	p.Para(0, "", strings.Join(docketLines(d), "   "))
	if len(d.Waits) > 0 {
		p.Blank()
		p.Heading(strings.ToUpper(waitsWords(d)) + waitsTitle(d))
		p.list(d.Waits)
	}
	p.Blank()
	p.SlotMap(docketSites(d))
	for _, x := range d.Items {
		p.Blank()
		for _, line := range p.wrap(itemTitle(x), p.Width) {
			p.Heading(line)
		}
		for _, row := range itemRows(x) {
			p.Para(12, "  "+row[0], row[1])
		}
		p.choices("  or ", x.Accept)
		p.choices("  not", x.Avoid)
	}
	if d.Cost != "" {
		p.Blank()
		p.Line("Cost %s", d.Cost)
	}
	p.Blank()
	p.Heading("Fitting")
	step := 0
	numbered := func(list []string, before string) {
		for _, s := range list {
			step++
			p.Para(5, fmt.Sprintf("%3d. ", step), before+s)
		}
	}
	numbered(d.Handling[:len(d.Handling)-1], "")
	numbered(d.TakeOut, "Take ")
	numbered(d.Fit, "Put ")
	numbered(d.Handling[len(d.Handling)-1:], "")
	p.Blank()
	p.Heading("Afterwards")
	for _, row := range d.Expect {
		p.Para(29, "  [ ] "+row[0], row[1])
	}
	p.Blank()
	p.Foot("Check it with: epitome recheck CARD AFTER.card, and epitome prove CARD")
}

func (p *Page) choices(mark string, list []docket.Choice) {
	for _, c := range list {
		p.Para(12, mark, c.What+": "+c.Because+".")
	}
}

func docketTitle(d docket.Docket) string {
	title := "Memory for " + d.Machine
	if d.Title != "" {
		title += " (" + d.Title + ")"
	}
	return title
}

func docketLines(d docket.Docket) (out []string) {
	for _, x := range [][2]string{{"Job ", d.Job}, {"Board ", d.Board}, {"", d.Date}} {
		if x[1] != "" {
			out = append(out, x[0]+x[1])
		}
	}
	return out
}

func itemTitle(x docket.Item) string { return fmt.Sprintf("Buy %d × %s", x.Units, x.What) }

func itemRows(x docket.Item) (rows [][2]string) {
	for _, r := range [][2]string{{"order", x.Order}, {"price", x.Price}, {"it is", strings.Join(x.Facts, "; ")},
		{"written", strings.Join(x.Spellings, ", ")}} {
		if r[1] != "" {
			rows = append(rows, r)
		}
	}
	return rows
}

// docketSites is the map as it will be.
func docketSites(d docket.Docket) []Site {
	t := d.Trial
	return trialPlaces(d.Places, t)
}

// verdictLine says in a few words how the machine will run.
func verdictLine(d docket.Docket) string {
	if p, ok := d.Trial.Operating.Get(); ok && d.Verdict <= rule.RunsLess {
		return fmt.Sprintf("%v %s", d.Trial.Total, pointWords(p))
	}
	return trialSentence(d.Trial)
}
