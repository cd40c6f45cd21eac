package view

import (
	"slices"
	"strings"

	"github.com/jedib0t/go-pretty/v6/text"
)

// A Site is one place on a slot map.
type Site struct {
	Channel string // empty where it is not known
	Name    string
	Holds   string // "8 GB", "free"
	Form    SiteForm
}

// A SiteForm is how a place is drawn. Forms differ in shape, not in colour.
type SiteForm uint8

// The forms.
const (
	FilledSocket SiteForm = iota // ▐ name · 8 GB ▌
	FreeSocket                   // ╎ name · free ╎
	SolderedBank                 // ▒ name · 4 GB ▒
	UnclearPlace                 // ? name · 4 GB ?
)

var edges = map[SiteForm][2]string{
	FilledSocket: {"▐", "▌"}, FreeSocket: {"╎", "╎"}, SolderedBank: {"▒", "▒"}, UnclearPlace: {"?", "?"},
}

const (
	mapRoot    = "  controller "
	mapMaxName = 22
)

// SlotMap draws places by channel, from the controller outward: one line a
// channel, in the order in which the signal passes its places. A place whose
// channel is not known stands on a line of its own, since nothing says whose
// neighbour it is.
func (p *Page) SlotMap(sites []Site) {
	rows := channelRows(sites)
	label := 0
	for _, r := range rows {
		label = max(label, text.StringWidthWithoutEscSequences(r.label))
	}
	for i, r := range rows {
		var b strings.Builder
		b.WriteString(branch(i, len(rows)))
		b.WriteString("─ " + text.Pad(r.label, label, ' ') + " ─")
		indent := text.StringWidthWithoutEscSequences(b.String())
		column := indent
		for n, s := range r.sites {
			edge := edges[s.Form]
			box := edge[0] + " " + text.Snip(oneLine(s.Name), mapMaxName, "…") + " · " + oneLine(s.Holds) + " " + edge[1]
			width := text.StringWidthWithoutEscSequences(box)
			switch {
			case n > 0 && column+1+width > p.Width:
				b.WriteString("\n" + continued(i, len(rows)) + strings.Repeat(" ", indent-len(mapRoot)-1))
				column = indent
			case n > 0:
				b.WriteString("─")
				column++
			}
			b.WriteString(box)
			column += width
		}
		for line := range strings.SplitSeq(b.String(), "\n") { // our own breaks: names and contents are one line each
			p.Line("%s", strings.TrimRight(line, " "))
		}
	}
}

// branch draws what is left of a channel's line.
func branch(i, n int) string {
	space := strings.Repeat(" ", len(mapRoot))
	switch {
	case n == 1:
		return mapRoot + "─"
	case i == 0:
		return mapRoot + "┬"
	case i == n-1:
		return space + "└"
	}
	return space + "├"
}

// continued draws what is left of a line that goes on with the same channel.
func continued(i, n int) string {
	if n > 1 && i < n-1 {
		return strings.Repeat(" ", len(mapRoot)) + "│"
	}
	return strings.Repeat(" ", len(mapRoot)+1)
}

type channelRow struct {
	label string
	sites []Site
}

// channelRows groups sites by channel, channels in order of their names,
// places of unknown channel last and apart.
func channelRows(sites []Site) []channelRow {
	var rows []channelRow
	for _, s := range sites {
		if s.Channel == "" {
			continue
		}
		i := slices.IndexFunc(rows, func(r channelRow) bool { return r.label == s.Channel })
		if i < 0 {
			rows = append(rows, channelRow{label: s.Channel})
			i = len(rows) - 1
		}
		rows[i].sites = append(rows[i].sites, s)
	}
	slices.SortStableFunc(rows, func(a, b channelRow) int { return strings.Compare(a.label, b.label) })
	for _, s := range sites {
		if s.Channel == "" {
			rows = append(rows, channelRow{label: "?", sites: []Site{s}})
		}
	}
	return rows
}
