package view

import (
	"fmt"
	"slices"
	"strings"

	"epitome/core/propose"
	"epitome/core/rule"
	"epitome/core/stock"
	"epitome/core/trial"
)

// Proposals lays out ways to upgrade: the first one as a sentence, then all of
// them as a table, then what goes where, then what waits for a fact.
func (p *Page) Proposals(r propose.Result) {
	all := slices.Concat(r.Proposals, r.Unproven, r.Unlikely)
	p.Headline(firstWords(r.Free) + proposalSentence(r))
	p.Free(r.Free)
	p.Blank()
	p.proposalTable(r, all)
	for _, q := range all {
		p.Blank()
		p.proposal(r, q)
	}
	p.structures(r)
	p.waitsFor(r)
	p.Blank()
	p.Foot(searchedWords(r))
}

// structures says what leads in each way in which the machine may be built.
func (p *Page) structures(r propose.Result) {
	if len(r.Structures) == 0 {
		return
	}
	p.Blank()
	p.Heading("Open: how the machine is built")
	for _, x := range r.Structures {
		then := "nothing meets the goal"
		if x.First > 0 {
			then = fmt.Sprintf("No %d", x.First)
		}
		p.Para(4, "  - ", fmt.Sprintf("If %s: %s.", x.If, then))
	}
	p.Para(2, "", sentence(r.Structures[0].Look)+".")
}

// notEveryWay is said where a search ended before it had compared everything: by a signal, or at its own bound.
const notEveryWay = "Not every combination was compared: a better one may exist."

// safeWords says what fits whatever is found inside; empty where nothing does.
func safeWords(r propose.Result) string {
	var parts []string
	for _, b := range r.Safe {
		what := b.String()
		if b.SKU != "" {
			what += ", " + b.SKU
		}
		parts = append(parts, what)
	}
	if len(parts) == 0 {
		return ""
	}
	says := "Safe to buy before you look: " + strings.Join(parts, " and ") + "."
	if list := slices.Concat(r.Proposals, r.Unproven); len(list) > 0 && !propose.SameBuys(list[0].Buys, r.Safe) {
		says += fmt.Sprintf(" Option %d is the better buy, and depends on the look.", list[0].Number)
	}
	return says
}

func proposalSentence(r propose.Result) string {
	list, mood := r.Proposals, ""
	if len(list) == 0 {
		list, mood = r.Unproven, " Not proved yet."
	}
	q := list[0]
	s := sentence(buyWords(r, q)) + ", for " + q.Trial.Total.String() + " in all"
	if x, ok := q.Trial.Operating.Get(); ok {
		s += " " + pointWords(x)
	}
	if !r.Exact {
		mood += " " + notEveryWay
	}
	if q.Trial.Verdict == rule.Leans {
		mood = " Likely: first " + strings.Join(q.Trial.Looks(), "; ") + "." + mood
	}
	if safe := safeWords(r); safe != "" {
		mood += " " + safe
	}
	return s + "." + cheaper(r, list) + mood
}

// cheaper says, where the first one is not the cheapest, what that saves and what
// it costs in turn.
func cheaper(r propose.Result, list []propose.Proposal) string {
	least := propose.Cheapest(list)
	if least.Number == list[0].Number || !r.Priced {
		return ""
	}
	lacks, _ := least.Against(r, list[0])
	return fmt.Sprintf(" No %d saves %s and gives up %s.", least.Number, money(r, list[0].Cost-least.Cost),
		orNothing(lacks))
}

// buyWords says what to buy, and for how much.
func buyWords(r propose.Result, q propose.Proposal) string {
	var parts []string
	for _, b := range q.Buys {
		parts = append(parts, b.String())
	}
	if len(parts) == 0 {
		return "buy nothing, use what is there"
	}
	s := "buy " + strings.Join(parts, " and ")
	if r.Priced {
		s += " for " + money(r, q.Cost)
	}
	return s
}

func money(r propose.Result, m stock.Money) string {
	return strings.TrimSpace(m.String() + " " + r.Goal.Currency)
}

func (p *Page) proposalTable(r propose.Result, all []propose.Proposal) {
	cost := "Buy"
	if r.Priced {
		cost = strings.TrimSpace("Cost " + r.Goal.Currency)
	}
	columns := []Column{{"No", Right, 0}, {cost, Right, 0}, {"Total", Right, 0}, {"Runs at", Left, 0},
		{"All channels", Right, 0}, {"Free", Right, 0}, {"Out", Right, 0}, {"Best at", Left, Rest}}
	var rows [][]string
	for _, q := range all {
		c := fmt.Sprint(q.Modules)
		if r.Priced {
			c = q.Cost.String()
		}
		runs, spread := "?", "?"
		if x, ok := q.Trial.Operating.Get(); ok {
			runs, spread = fmt.Sprint(int(x.Grade.Rate)), x.Together()
			if x.TimesKnown {
				runs += fmt.Sprintf(" CL%v", x.Timing.CL)
			}
		}
		best := ""
		if len(q.Picks) > 0 {
			best = q.Picks[0]
		}
		switch q.Trial.Verdict {
		case rule.CannotTell:
			best = strings.TrimPrefix(best+", not proved", ", ")
		case rule.Leans:
			best = strings.TrimPrefix(best+", likely", ", ")
		case rule.LeansNo:
			best = "unlikely"
		}
		rows = append(rows, []string{fmt.Sprint(q.Number), c, q.Trial.Total.String(), runs, spread,
			fmt.Sprint(q.SocketsFree), fmt.Sprint(len(q.Removes)), best})
	}
	p.Table(columns, rows)
}

// proposal shows one way: what to buy, and where each module goes, stays or
// comes out.
func (p *Page) proposal(r propose.Result, q propose.Proposal) {
	title := fmt.Sprintf("%d. %s", q.Number, sentence(buyWords(r, q)))
	if len(q.Picks) > 0 {
		title += ": " + strings.Join(q.Picks, ", ")
	}
	for _, line := range p.wrap(title, p.Width) {
		p.Heading(line)
	}
	for _, part := range []struct {
		verb  string
		moves []propose.Move
	}{{"take out", q.Removes}, {"keep", q.Keeps}, {"put", q.Adds}} {
		for _, line := range together(part.moves) {
			p.Para(13, fmt.Sprintf("   %-10s", part.verb), line)
		}
	}
	for _, b := range q.Buys {
		if b.Supplier != "" {
			what := stock.Ordered(b.SKU, "", b.Row, b.Text)
			p.Para(13, "   order", fmt.Sprintf("%d × %s at %s from %s", b.Units, what, b.Price, b.Supplier))
		}
	}
	if assumed := assumedWords(q); assumed != "" {
		p.Para(13, "   assumed", assumed)
	}
	for _, x := range q.Trial.Reasons {
		if x.Outcome == rule.Unlikely {
			p.Para(13, "   against", sentence(x.Says)+".")
		}
	}
	label := "   penalty"
	for _, x := range q.Trial.Penalties() {
		p.Para(13, label, sentence(x)+".")
		label = ""
	}
}

// assumedWords says what the price lists leave open of what is bought, and was taken for granted; empty where nothing
// was.
func assumedWords(q propose.Proposal) string {
	var all []string
	for _, b := range q.Buys {
		for _, what := range b.Assumed {
			if !slices.Contains(all, what) {
				all = append(all, what)
			}
		}
	}
	return strings.Join(all, "; ")
}

// ListsTaken says of price lists whose titles leave it open what was taken for what.
func (p *Page) ListsTaken(lists []string) {
	if len(lists) > 0 {
		p.Blank()
	}
	for _, l := range lists {
		p.Foot(l)
	}
}

// together writes moves of alike modules on one line: what, and the places.
func together(moves []propose.Move) (lines []string) {
	var names []string
	places := make(map[string][]string)
	for _, m := range moves {
		what, place := m.Stick, m.Place
		if m.SKU != "" {
			what += ", " + m.SKU + ","
		}
		switch {
		case m.From == "drawer":
			what += " from the drawer"
		case m.From != "":
			place += " (from " + m.From + ")"
		}
		if places[what] == nil {
			names = append(names, what)
		}
		places[what] = append(places[what], place)
	}
	for _, what := range names {
		line := what
		if n := len(places[what]); n > 1 {
			line = fmt.Sprintf("%d × %s", n, what)
		}
		lines = append(lines, line+" in "+strings.Join(places[what], ", "))
	}
	return lines
}

// waitsFor lists the facts that would prove what is not proved.
func (p *Page) waitsFor(r propose.Result) {
	facts := r.WaitsFor()
	if len(facts) > 0 {
		p.Blank()
		p.Heading("What would prove the others")
		p.list(facts)
	}
}

func searchedWords(r propose.Result) string {
	s := fmt.Sprintf("%d offers", r.Offers)
	if !r.Priced {
		s = "modules by the sizes and grades that exist"
	}
	if r.Passed > 0 {
		s += fmt.Sprintf(", %d left out by machine or wishes", r.Passed)
	}
	s += fmt.Sprintf("; %s sets looked at; ", figure(uint64(r.Sets)))
	switch {
	case r.Exact && len(r.Unproven) > 0:
		s += "nothing better is proved among them"
	case r.Exact:
		s += "nothing better exists among them"
	default:
		s += "stopped before the end"
	}
	if r.Beaten > 0 {
		s += fmt.Sprintf("; %d more that nothing beats, with --all", r.Beaten)
	}
	return s + ". Out: modules taken out."
}

// Nearest lays out what comes closest to a goal that nothing meets.
func (p *Page) Nearest(r propose.Result) {
	p.Headline("Out of reach: " + r.Blocked + ".")
	q, ok := r.Nearest.Get()
	if !ok {
		return
	}
	q.Number = 1
	p.Blank()
	p.Line("The most that can be had below it:")
	p.Blank()
	p.proposalTable(r, []propose.Proposal{q})
	p.Blank()
	p.proposal(r, q)
}

// Compared sets proposals side by side.
func (p *Page) Compared(r propose.Result, list []propose.Proposal) {
	p.Headline(fmt.Sprintf("%s side by side.", sentence(count(len(list), "proposal"))))
	p.Blank()
	columns := []Column{{"", Left, 0}}
	for _, q := range list {
		columns = append(columns, Column{fmt.Sprint("No ", q.Number), Right, 0})
	}
	var rows [][]string
	row := func(title string, of func(propose.Proposal) string) {
		cells := []string{title}
		for _, q := range list {
			cells = append(cells, of(q))
		}
		rows = append(rows, cells)
	}
	if r.Priced {
		row("Cost "+r.Goal.Currency, func(q propose.Proposal) string { return q.Cost.String() })
	}
	point := func(of func(trial.Point) string) func(propose.Proposal) string {
		return func(q propose.Proposal) string {
			x, ok := q.Trial.Operating.Get()
			if !ok {
				return "?"
			}
			return of(x)
		}
	}
	row("Modules to buy", func(q propose.Proposal) string { return fmt.Sprint(q.Modules) })
	row("Total", func(q propose.Proposal) string { return q.Trial.Total.String() })
	row("Rate", point(func(x trial.Point) string { return fmt.Sprint(int(x.Grade.Rate)) }))
	row("Timings", point(timingWords))
	row("Access time", point(func(x trial.Point) string {
		if !x.TimesKnown {
			return "?"
		}
		return x.Latency.String()
	}))
	row("Over all channels", point(trial.Point.Together))
	row("Bandwidth", point(func(x trial.Point) string { return bandwidth(x.Bandwidth) }))
	row("Sockets left", func(q propose.Proposal) string { return fmt.Sprint(q.SocketsFree) })
	row("Taken out", func(q propose.Proposal) string { return fmt.Sprint(len(q.Removes)) })
	row("Verdict", func(q propose.Proposal) string { return q.Trial.Verdict.String() })
	p.Table(columns, rows)
}

// GivenUp says what each other proposal has that this one gives up, and what
// this one has instead.
func (p *Page) GivenUp(r propose.Result, q propose.Proposal) {
	p.Headline(fmt.Sprintf("What proposal %d gives up, and gets, against the others.", q.Number))
	for _, o := range append(slices.Clone(r.Proposals), r.Unproven...) {
		if o.Number == q.Number {
			continue
		}
		worse, better := q.Against(r, o)
		p.Blank()
		p.Heading(fmt.Sprintf("Against %d, %s", o.Number, buyWords(r, o)))
		p.Para(13, "   gives up", orNothing(worse))
		p.Para(13, "   gets", orNothing(better))
	}
}

// TrueCosts says, in money, why one proposal comes before another: what each truly costs, line by line.
func (p *Page) TrueCosts(r propose.Result, first, other propose.Proposal) {
	more := other.True() - first.True()
	switch {
	case !r.Priced:
		p.Headline(fmt.Sprintf("Option %d counts %v, option %d %v.", first.Number, first.True(), other.Number,
			other.True()))
	case more < 0:
		p.Headline(fmt.Sprintf("Option %d costs %s less than option %d, all weighed, and comes behind it for another reason.",
			other.Number, money(r, -more), first.Number))
	default:
		p.Headline(fmt.Sprintf("Option %d costs %s more than option %d, all weighed.", other.Number, money(r, more),
			first.Number))
	}
	p.Blank()
	columns := []Column{{"", Left, 0}, {fmt.Sprint("No ", first.Number), Right, 0},
		{fmt.Sprint("No ", other.Number), Right, 0}, {"More", Right, 0}}
	var rows [][]string
	for i, x := range first.Sums { // every proposal has the same lines
		if y := other.Sums[i]; x.Cost != 0 || y.Cost != 0 {
			rows = append(rows, []string{x.Of, x.Cost.String(), y.Cost.String(), (y.Cost - x.Cost).String()})
		}
	}
	p.Table(columns, append(rows, []string{"in all", first.True().String(), other.True().String(), more.String()}))
	p.Blank()
	if !r.Priced {
		p.Foot("Without a price list 1 GB counts 1.00, and each module 2.00 more.")
	}
	p.Foot("The weights, each with its reason: epitome propose --show-weights.")
}

func orNothing(parts []string) string {
	if len(parts) == 0 {
		return "nothing"
	}
	return strings.Join(parts, ", ")
}

// firstWords says what comes before any purchase, as more memory does nothing until then; empty where nothing does.
func firstWords(gains []propose.Gain) string {
	for _, g := range gains {
		if g.First {
			return "First " + g.Says + "; until then more memory does nothing. "
		}
	}
	return ""
}

// Free lays out what could be better without buying, nothing where nothing could.
func (p *Page) Free(gains []propose.Gain) {
	if len(gains) == 0 {
		return
	}
	p.Blank()
	p.Heading("Free of charge")
	for _, g := range gains {
		p.Para(4, "  - ", g.Says+": "+g.Gains)
	}
}
