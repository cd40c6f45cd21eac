package view

import (
	"fmt"
	"strings"

	"epitome/core/propose"
)

// Proposals lays out ways to upgrade: the first one as a sentence, then all of
// them as a table, then what goes where, then what is not proved.
func (p *Page) Proposals(r propose.Result) {
	best := r.Proposals[0]
	p.Headline(fmt.Sprintf("To reach %v: buy %d × %v, for %v in all. Not proved yet.", r.Goal.Reach, best.Quantity, best.Buy, best.Total))
	p.Blank()
	columns := []Column{{"No", Right, 0}, {"Buy", Left, 30}, {"Total", Right, 0}, {"Keeps", Right, 0}, {"Takes out", Right, 0}, {"Free after", Right, 0}, {"Best at", Left, 20}}
	var rows [][]string
	for _, q := range r.Proposals {
		rows = append(rows, []string{fmt.Sprint(q.Number), fmt.Sprintf("%d × %v", q.Quantity, q.Buy), q.Total.String(),
			fmt.Sprint(len(q.Keeps)), fmt.Sprint(len(q.Removes)), fmt.Sprint(q.SocketsFree), firstPick(q)})
	}
	p.Table(columns, rows)
	for _, q := range r.Proposals {
		p.Blank()
		p.proposal(q)
	}
	p.Blank()
	p.Heading("What would prove them")
	for _, fact := range r.Missing {
		p.Para(4, "  - ", fact)
	}
}

func firstPick(q propose.Proposal) string {
	if len(q.Picks) == 0 {
		return ""
	}
	return q.Picks[0]
}

// proposal shows one way: where each module goes, stays or comes out.
func (p *Page) proposal(q propose.Proposal) {
	title := fmt.Sprintf("%d  %v", q.Number, q.Total)
	if len(q.Picks) > 0 {
		title += " — " + strings.Join(q.Picks, ", ")
	}
	p.Heading(title)
	for _, part := range []struct {
		verb  string
		moves []propose.Move
	}{{"takes out", q.Removes}, {"keeps", q.Keeps}, {"adds", q.Adds}} {
		for _, m := range part.moves {
			p.Para(32, fmt.Sprintf("   %-11s%-16s", part.verb, m.Place), m.Stick)
		}
	}
	if q.Uneven {
		p.Para(3, "   ", "Modules of different sizes: part of the memory may run on one channel only.")
	}
}
