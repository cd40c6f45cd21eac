package view

import (
	"errors"
	"fmt"
	"strings"

	"epitome/core/bench"
	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/propose"
	"epitome/core/rule"
)

// A Sitting is a visit with the machine that it is about.
type Sitting struct {
	Machine machine.Machine
	Limits  ceiling.Limits
	Visit   bench.Visit
	Lead    []string // what must be said first: what could not be read, and what to type
	Card    string   // the card that was kept, empty where none was
	Next    string   // the command that goes on from here
	Lists   []string // of price lists whose titles leave it open: what was taken for what
}

// Bounds of the page's lists, so that it stays one page.
const (
	visitDoubts = 2
	visitSticks = 4
)

// Visit lays out one sitting on one page: a sentence, the map, what could be better
// without buying, the need, how far it goes, what to buy, and what to look at.
func (p *Page) Visit(s Sitting) {
	marks := make(legend)
	for _, line := range s.Lead {
		p.Para(0, "", line)
	}
	if len(s.Lead) > 0 {
		p.Blank()
	}
	p.Headline(firstWords(s.Visit.Free) + conclusion(s.Machine))
	p.Blank()
	if len(s.Machine.Places) > 0 {
		p.SlotMap(sites(s.Machine))
		p.Blank()
	}
	for _, row := range visitRows(s, marks) {
		p.Para(11, "  "+row[0], row[1])
	}
	p.Free(s.Visit.Free)
	p.Blank()
	p.Heading(buyTitle(s.Visit))
	p.visitChoices(s.Visit)
	if len(s.Visit.Looks) > 0 {
		p.Blank()
		p.Heading(lookTitle(s.Visit))
		for _, l := range s.Visit.Looks {
			p.Para(4, "  - ", lookWords(l))
		}
	}
	p.Blank()
	foot := marks.foot()
	if s.Next != "" {
		p.Para(11, "Go on with", s.Next)
	}
	if foot != "" {
		p.Foot(foot)
	}
	p.ListsTaken(s.Lists)
}

// visitRows are the facts of the page, a title and a sentence each.
func visitRows(s Sitting, marks legend) (rows [][2]string) {
	add := func(title, text string) {
		if text != "" {
			rows = append(rows, [2]string{title, text})
		}
	}
	add("Machine", machineWords(s.Machine, marks))
	fitted := fittedLines(s.Machine, marks)
	for i, line := range fitted {
		if i == visitSticks {
			add("", fmt.Sprintf("and %d more", len(fitted)-visitSticks))
			break
		}
		add(map[bool]string{true: "Fitted"}[i == 0], line)
	}
	for i, c := range s.Machine.Conflicts {
		if i == visitDoubts {
			add("", fmt.Sprintf("and %d more; epitome brief has them", len(s.Machine.Conflicts)-visitDoubts))
			break
		}
		add(map[bool]string{true: "Doubt"}[i == 0], fmt.Sprintf("%s: %s", c.About, c.Says))
	}
	add("Needs", needWords(s.Visit))
	add("Goes to", reachWords(s, marks))
	return rows
}

// machineWords names the machine in one line.
func machineWords(m machine.Machine, marks legend) string {
	var parts []string
	name := strings.TrimSpace(m.Maker.Or("") + " " + m.Model.Or(""))
	if name == "" {
		name = m.Board.Or("")
	}
	if kind, ok := m.Kind.Get(); ok {
		name = strings.TrimPrefix(name+", "+string(kind), ", ")
	}
	if name != "" {
		parts = append(parts, name)
	}
	for _, f := range []fact.Fact[string]{m.Processor, m.OS} {
		if f.Known() {
			parts = append(parts, show(marks, f, same))
		}
	}
	return strings.Join(parts, "; ")
}

// fittedLines says what is fitted, modules that are alike on one line.
func fittedLines(m machine.Machine, marks legend) []string {
	var moves []propose.Move
	for _, p := range m.Places {
		if p.Module == nil || !p.Filled.Or(true) {
			continue
		}
		cells := moduleCells(p, marks)
		what := cells[0]
		if p.Attach.Or("") == machine.Soldered {
			what = "soldered " + what
		}
		if cells[3] != "" {
			what += " (" + cells[3] + ")"
		}
		if p.Running.Known() {
			what += " running at " + cells[2]
		}
		moves = append(moves, propose.Move{Place: p.Name, Stick: what})
	}
	return together(moves)
}

// needWords says whether memory is what the machine lacks, or how to find out.
func needWords(v bench.Visit) string {
	const ask = "name what it is used for, as --use browsing,office"
	if a, ok := v.Need.Get(); ok {
		return a.Customer
	}
	once, looked := v.Measured.Get()
	used, ok1 := once.Peak.Get()
	total, ok2 := once.Total.Get()
	if looked && ok1 && ok2 {
		return fmt.Sprintf("at one look %v of %v were in use; %s", used, total, ask)
	}
	return "not asked: " + ask
}

// reachWords says in one line how far the machine goes, and who says so.
func reachWords(s Sitting, marks legend) string {
	r := s.Visit.Reach
	if !r.Size.Known() && len(r.Ways) == 0 {
		return "not known: " + r.Unknown()
	}
	text := maximumWords(r, s.Machine, s.Limits, marks)
	if s.Machine.Totals.Sockets.Or(1) == 0 {
		return text
	}
	if rate, ok := r.Rate.Get(); ok {
		text += fmt.Sprintf(". Runs at up to %d MT/s", int(rate))
	}
	return text
}

// sourceWords names who sets a limit, as people say it.
var sourceWords = map[ceiling.Source]string{
	ceiling.Standard: "standard", ceiling.Firmware: "firmware", ceiling.Processor: "processor's maker",
	ceiling.Chipset: "chipset's maker", ceiling.Board: "board's manual",
	ceiling.System: "operating system", ceiling.Technician: "manual", ceiling.PastJob: "workshop's experience",
	ceiling.Field: "field",
}

// nothingTitles say why there is nothing to buy.
var nothingTitles = map[bench.Nothing]string{bench.Enough: "Enough memory", bench.NoMore: "No upgrade possible",
	bench.NotOffered: "No module offered fits", bench.NotTold: "Can't tell yet"}

func buyTitle(v bench.Visit) string {
	switch reach, ok := v.Proposals.Goal.Reach.Get(); {
	case v.Because() == bench.NoMore && v.Asked && ok:
		return fmt.Sprintf("%v is not possible", reach)
	case v.Because() != bench.NotNothing:
		return nothingTitles[v.Because()]
	case v.Asked && ok:
		return fmt.Sprintf("What to buy for %v", reach)
	case v.Asked:
		return "What to buy for " + money(v.Proposals, v.Proposals.Goal.Spend.Or(0))
	}
	return "What to buy"
}

func lookTitle(v bench.Visit) string {
	if len(v.Choices) > 0 {
		return "Look first"
	}
	return "What would settle it"
}

func lookWords(l bench.Look) string {
	if l.About == "" || strings.Contains(l.Settles, l.About) || strings.Contains(l.Settles, ":") {
		return sentence(l.Settles) + "."
	}
	return sentence(l.About) + ": " + l.Settles + "."
}

// nothingWords says why there is nothing to choose.
func nothingWords(v bench.Visit) string {
	switch {
	case errors.Is(v.Nothing, propose.ErrReached):
		return "It has what is asked for already."
	case v.Nothing != nil && v.Proposals.Blocked != "":
		return sentence(v.Proposals.Blocked) + "."
	case v.Nothing != nil:
		_, says, found := strings.Cut(v.Nothing.Error(), ": ")
		if !found {
			says = v.Nothing.Error()
		}
		return sentence(says) + "."
	}
	return "None of the modules at hand fits for certain or likely."
}

// visitChoices lays out the choices: what to buy and why, then what it comes to and
// what goes where.
func (p *Page) visitChoices(v bench.Visit) {
	if len(v.Choices) == 0 {
		p.Para(2, "", nothingWords(v))
		return
	}
	if safe := safeWords(v.Proposals); safe != "" {
		p.Para(2, "", safe)
	}
	for _, c := range v.Choices {
		q, err := bench.Find(v.Proposals, c.Number)
		if err != nil {
			continue
		}
		for i, line := range p.wrap(choiceTitle(v, c, q), p.Width-3) {
			p.Heading(map[bool]string{true: fmt.Sprintf("%d. ", c.Number), false: "   "}[i == 0] + line)
		}
		p.Para(3, "", choiceWords(q))
	}
}

func choiceTitle(v bench.Visit, c bench.Choice, q propose.Proposal) string {
	title := sentence(buyWords(v.Proposals, q)) + ": " + c.Reason
	if q.Trial.Verdict == rule.Leans {
		title += ", likely"
	}
	return title + "."
}

// choiceWords says what a choice comes to, where everything goes, and what it costs
// in speed.
func choiceWords(q propose.Proposal) string {
	words := []string{q.Trial.Total.String() + " in all"}
	if x, ok := q.Trial.Operating.Get(); ok {
		if x.Paired() > 0 && x.Interleaved < x.Total {
			x.Layers, x.Interleaved = nil, 0 // the penalty below says it
			x.InterleavedMost = maybe.None[jedec.Capacity]()
		}
		words[0] += " " + pointWords(x)
	}
	for _, out := range together(q.Removes) {
		words = append(words, "take out "+out)
	}
	var moved []propose.Move
	for _, k := range q.Keeps {
		if k.From != "" && k.From != k.Place {
			moved = append(moved, k)
		}
	}
	for _, k := range together(moved) {
		words = append(words, "move "+k)
	}
	for _, in := range together(q.Adds) {
		words = append(words, "put "+in)
	}
	s := strings.Join(words, "; ") + "."
	for _, x := range q.Trial.Penalties() {
		s += " " + sentence(x) + "."
	}
	if assumed := assumedWords(q); assumed != "" {
		s += " Assumed: " + assumed + "."
	}
	return s
}

// VisitJSON returns the value that visit --format json writes.
func VisitJSON(s Sitting) any {
	v := s.Visit
	var needed any
	if a, ok := v.Need.Get(); ok {
		needed = NeededJSON(a, v.Measured)
	}
	type choice struct {
		Number int    `json:"number"`
		Reason string `json:"reason"`
	}
	type look struct {
		About   string `json:"about"`
		Settles string `json:"settles"`
	}
	choices, looks := []choice{}, []look{}
	for _, c := range v.Choices {
		choices = append(choices, choice(c))
	}
	for _, l := range v.Looks {
		looks = append(looks, look{l.About, l.Settles})
	}
	blocked := ""
	if v.Nothing != nil {
		blocked = v.Nothing.Error()
	}
	return map[string]any{
		"schema": "epitome.visit.v1", "brief": BriefJSON(s.Machine, v.Reach.Size, v.Free), "need": needed,
		"reach": map[string]any{"mib": v.Reach.Size.Value(), "rate_mts": v.Reach.Rate,
			"certain_mib": v.Reach.Certain, "says": reachWords(s, make(legend)),
			"standing": v.Reach.Size.Standing().String()},
		"free_of_charge": gainsJSON(v.Free), "proposals": ProposeJSON(v.Proposals, blocked), "choices": choices,
		"looks": looks, "card": orNull(s.Card),
	}
}
