// Package view is how results look: sentences, tables, the slot map, JSON.
// It knows layout; what is true was worked out before it gets here.
package view

import (
	"bytes"
	"fmt"
	"io"
	"slices"
	"strings"

	"github.com/jedib0t/go-pretty/v6/table"
	"github.com/jedib0t/go-pretty/v6/text"
)

// A Look is how text is to be laid out.
type Look struct {
	Width  int  // columns, 80 where the output is no terminal
	Colour bool // bold and dim may be used
	ASCII  bool // only characters that every terminal and printer has
}

// A Page collects text in one look. Nothing is written before Flush, so that
// a failure half-way leaves no half page.
type Page struct {
	Look
	b bytes.Buffer
}

// NewPage starts a page.
func NewPage(look Look) *Page {
	if look.Width < 40 {
		look.Width = 80
	}
	return &Page{Look: look}
}

// Flush writes the page. Where the look is ASCII, everything else is
// transliterated or replaced.
func (p *Page) Flush(w io.Writer) error {
	s := p.b.String()
	if p.ASCII {
		s = toASCII(s)
	}
	if _, clean := w.(*Cleaner); !clean {
		w = NewCleaner(w, p.Colour)
	}
	_, err := io.WriteString(w, s)
	return err
}

var asciiFor = strings.NewReplacer("─", "-", "│", "|", "├", "+", "└", "`", "┬", "+", "▐", "[", "▌", "]", "▒", "#",
	"╎", ":", "–", "-", "…", "...", "·", "-", "≠", "!", "×", "x", "“", `"`, "”", `"`, "’", "'", "→", "->", "≈", "~",
	"┌", "+", "┐", "+", "┘", "+", "┤", "+", "█", "#", "░", ".", "▏", "|", "▕", "|")

func toASCII(s string) string {
	s = asciiFor.Replace(s)
	return strings.Map(func(r rune) rune {
		switch {
		case r >= '\uFDD0' && r <= '\uFDD2': // our own marks
			return r
		case r > 0x7E:
			return '?'
		}
		return r
	}, s)
}

func (p *Page) style(code, s string) string {
	if !p.Colour || s == "" {
		return s
	}
	return code + s + plainAgain
}

// Headline writes the conclusion, wrapped, in bold where that can be shown.
func (p *Page) Headline(s string) {
	for _, line := range p.wrap(s, p.Width) {
		p.b.WriteString(p.style(bold, line) + "\n")
	}
}

// Line writes one line as it is.
func (p *Page) Line(format string, args ...any) {
	p.b.WriteString(oneLine(fmt.Sprintf(format, args...)) + "\n")
}

// oneLine keeps foreign text from beginning a line of its own.
func oneLine(s string) string {
	if !strings.ContainsAny(s, "\n\r\t") {
		return s
	}
	return strings.NewReplacer("\n", " ", "\r", " ", "\t", " ").Replace(s)
}

// Blank writes an empty line.
func (p *Page) Blank() { p.b.WriteByte('\n') }

// Heading writes a small heading of a block.
func (p *Page) Heading(s string) {
	for _, line := range strings.Split(broken(s, p.Width), "\n") {
		p.b.WriteString(p.style(bold, line) + "\n")
	}
}

// Para writes a paragraph, wrapped and indented; first stands before its
// first line within the indent.
func (p *Page) Para(indent int, first, s string) {
	lead := first + strings.Repeat(" ", max(0, indent-text.StringWidthWithoutEscSequences(first)))
	for _, line := range p.wrap(s, p.Width-indent) {
		p.b.WriteString(lead + line + "\n")
		lead = strings.Repeat(" ", indent)
	}
}

// Foot writes a line that explains, dim where that can be shown.
func (p *Page) Foot(s string) {
	for _, line := range p.wrap(s, p.Width) {
		p.b.WriteString(p.style(dim, line) + "\n")
	}
}

func (p *Page) wrap(s string, width int) []string {
	lines := strings.Split(text.WrapSoft(oneLine(s), max(width, 20)), "\n")
	for i, line := range lines {
		lines[i] = strings.TrimRight(line, " ")
	}
	return lines
}

// An Align is which way a table's column leans.
type Align = text.Align

// Words to the left, numbers to the right.
const (
	Left  = text.AlignLeft
	Right = text.AlignRight
)

// A Column is one column of a table.
type Column struct {
	Title string
	Align Align
	Max   int // widest; 0 for no bound, Rest for what the others leave
}

// Rest as a column's Max gives it the width that the other columns leave.
const Rest = -1

// columnGap stands between two columns.
const columnGap = "  "

// Table writes rows below their titles, without frames. A column without a
// single entry is left out. What is too wide for its column or for the page breaks over
// lines: a part number that ends in dots is of no use.
func (p *Page) Table(columns []Column, rows [][]string) {
	columns, rows = withoutEmpty(columns, rows)
	t := table.NewWriter()
	style := table.StyleDefault
	style.Options = table.OptionsNoBordersAndSeparators
	style.Format.Header = text.FormatDefault
	widths, gap := p.widths(columns, rows)
	style.Box.PaddingLeft, style.Box.PaddingRight = "", gap
	t.SetStyle(style)
	t.SuppressTrailingSpaces()
	header := make(table.Row, len(columns))
	configs := make([]table.ColumnConfig, len(columns))
	high := 1
	for i, c := range columns {
		header[i] = broken(c.Title, widths[i])
		high = max(high, 1+strings.Count(header[i].(string), "\n"))
		configs[i] = table.ColumnConfig{Number: i + 1, Align: c.Align, AlignHeader: c.Align,
			VAlignHeader: text.VAlignBottom, WidthMax: widths[i], WidthMaxEnforcer: broken}
	}
	t.SetColumnConfigs(configs)
	t.AppendHeader(header)
	for _, row := range rows {
		cells := make(table.Row, len(row))
		for i, cell := range row {
			cells[i] = oneLine(cell)
		}
		t.AppendRow(cells)
	}
	lines := strings.Split(t.Render(), "\n")
	for i, line := range lines {
		if line = strings.TrimRight(line, " "); i < high {
			line = p.style(dim, line)
		}
		p.b.WriteString(line + "\n")
	}
}

// mostCellLines bounds how often a cell breaks.
const mostCellLines = 4

// broken breaks a cell between words, and a word that is too long within it.
func broken(s string, width int) string {
	if width <= 0 || text.StringWidthWithoutEscSequences(s) <= width {
		return s
	}
	lines := strings.Split(text.WrapSoft(s, width), "\n")
	if len(lines) > mostCellLines {
		lines = lines[:mostCellLines]
		lines[mostCellLines-1] = text.Snip(strings.TrimRight(lines[mostCellLines-1], " ")+"…", width, "…")
	}
	for i := range lines {
		lines[i] = strings.TrimRight(lines[i], " ")
	}
	return strings.Join(lines, "\n")
}

// widths are the widths of columns that fit the page: each as wide as its widest cell or
// its bound; where that is too much the column for the rest gives way first, then the
// gap, then the widest columns of words, then titles.
func (p *Page) widths(columns []Column, rows [][]string) (widths []int, gap string) {
	const narrowest = 8
	gap = columnGap
	least := make([]int, len(columns))
	total := func() (sum int) {
		for _, w := range widths {
			sum += w + len(gap)
		}
		return sum - len(gap)
	}
	for i, c := range columns {
		widest := 0
		for _, row := range rows {
			widest = max(widest, text.StringWidthWithoutEscSequences(oneLine(row[i])))
		}
		least[i] = max(widest, longestWord(c.Title)) // figures never break
		widest = max(widest, text.StringWidthWithoutEscSequences(c.Title))
		if c.Max > 0 {
			widest = min(widest, c.Max)
		}
		if c.Align == Left {
			least[i] = min(widest, narrowest)
		}
		widths = append(widths, widest)
	}
	shrink := func(may func(i int) bool) {
		for total() > p.Width {
			at := -1
			for i, w := range widths {
				if may(i) && w > least[i] && (at < 0 || w > widths[at]) {
					at = i
				}
			}
			if at < 0 {
				return
			}
			widths[at]--
		}
	}
	rest := func(i int) bool { return columns[i].Max == Rest }
	for i := range columns {
		if rest(i) {
			least[i] = min(widths[i], 2*narrowest)
		}
	}
	shrink(rest)
	shrink(func(i int) bool { return columns[i].Align != Left }) // their titles
	if total() > p.Width {
		gap = " "
	}
	for i := range columns {
		if columns[i].Align == Left {
			least[i] = min(widths[i], narrowest)
		}
	}
	shrink(func(int) bool { return true })
	return widths, gap
}

func longestWord(s string) (longest int) {
	for word := range strings.FieldsSeq(s) {
		longest = max(longest, text.StringWidthWithoutEscSequences(word))
	}
	return longest
}

// withoutEmpty drops the columns in which no row has anything.
func withoutEmpty(columns []Column, rows [][]string) (kept []Column, keptRows [][]string) {
	keptRows = make([][]string, len(rows))
	for i, c := range columns {
		if !slices.ContainsFunc(rows, func(row []string) bool { return row[i] != "" }) {
			continue
		}
		kept = append(kept, c)
		for n, row := range rows {
			keptRows[n] = append(keptRows[n], row[i])
		}
	}
	return kept, keptRows
}
