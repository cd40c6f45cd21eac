package view

import (
	"bufio"
	"cmp"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"slices"
	"strings"

	"epitome/core/stock"
	"epitome/core/trial"
)

// StockChecked lays out what was understood of a price list, and what was not.
func (p *Page) StockChecked(path string, l stock.List, everything bool) {
	usable := l.Usable()
	p.Headline(fmt.Sprintf("%s: %d of %d lines can be used.", path, len(usable), len(l.Lines)))
	p.Blank()
	if l.Untitled {
		p.Para(2, "", "Its titles do not tell which columns these are; their cells do. --columns sets it right.")
		p.Blank()
	}
	var read, absent []string
	for _, f := range stock.Fields {
		at, ok := l.Columns[f]
		switch {
		case !ok && f == stock.Sale: // few lists have one
		case !ok:
			absent = append(absent, string(f))
		case at < len(l.Titles) && strings.TrimSpace(l.Titles[at]) != "":
			read = append(read, fmt.Sprintf("%s from %q", f, strings.TrimSpace(l.Titles[at])))
		default:
			read = append(read, fmt.Sprintf("%s from column %d", f, at+1))
		}
	}
	p.Para(15, "  read", strings.Join(read, ", "))
	if len(absent) > 0 {
		p.Para(15, "  not there", strings.Join(absent, ", "))
	}
	if len(l.Passed) > 0 {
		p.Para(15, "  passed over", strings.Join(l.Passed, ", "))
	}
	if len(l.Problems) > 0 {
		p.Blank()
		p.Heading("Not used")
		kinds := slices.SortedFunc(maps.Keys(l.Problems),
			func(a, b string) int { return cmp.Or(cmp.Compare(l.Problems[b], l.Problems[a]), cmp.Compare(a, b)) })
		for i, kind := range kinds {
			kinds[i] = fmt.Sprintf("%d %s", l.Problems[kind], kind)
		}
		p.Para(2, "", strings.Join(kinds, ", ")+".")
		p.problemLines(l, everything)
	}
	p.assumedOf(usable)
	if len(usable) > 0 {
		p.Blank()
		p.Heading("As understood, the first ones")
		var rows [][]string
		for _, x := range usable[:min(len(usable), 6)] {
			kit := ""
			if x.Pieces > 1 {
				kit = fmt.Sprintf("%d ×", x.Pieces)
			}
			rows = append(rows, []string{fmt.Sprint(x.Row), x.SKU, kit, understood(x), x.Price.String(), x.Currency})
		}
		p.Table([]Column{{"Row", Right, 0}, {"Sku", Left, 14}, {"Kit", Right, 0}, {"Module", Left, Rest},
			{"Price", Right, 0}, {"", Left, 0}}, rows)
	}
}

// understood writes what was understood of a description.
func understood(x stock.Line) string {
	if x.Stick == nil {
		return ""
	}
	s := *x.Stick
	words := trial.Describe(s)
	ranks, ok1 := s.Ranks.Get()
	width, ok2 := s.Width.Get()
	if ok1 && ok2 {
		words += fmt.Sprintf(" %dRx%d", ranks, width)
	}
	if s.Registered.Or(false) {
		words += " registered"
	} else if s.ECC.Or(false) {
		words += " ECC"
	}
	if cl, ok := s.CL.Get(); ok {
		words += fmt.Sprintf(" CL%v", cl)
	}
	return words
}

// assumedOf lists what was taken for granted in lines that can be used, by kind and
// count, the costliest line of each named: a wrong one costs most there.
func (p *Page) assumedOf(usable []stock.Line) {
	type kind struct {
		lines int
		worst stock.Line
	}
	kinds := make(map[string]kind)
	for _, x := range usable {
		for _, what := range x.TakenForGranted() {
			k := kinds[what]
			if k.lines == 0 || x.Price > k.worst.Price {
				k.worst = x
			}
			k.lines++
			kinds[what] = k
		}
	}
	if len(kinds) == 0 {
		return
	}
	p.Blank()
	p.Heading("Assumed")
	names := slices.SortedFunc(maps.Keys(kinds), func(a, b string) int {
		return cmp.Or(cmp.Compare(kinds[b].lines, kinds[a].lines), cmp.Compare(a, b))
	})
	for _, name := range names {
		k := kinds[name]
		p.Para(12, fmt.Sprintf("  in %-7d", k.lines),
			fmt.Sprintf("%s; the dearest is row %d, %s", name, k.worst.Row, k.worst.Price))
	}
}

// problemLines lists lines with their problem, the costliest first, a page of them or
// all.
func (p *Page) problemLines(l stock.List, everything bool) {
	const page = 12
	p.Blank()
	shown, left := 0, 0
	costliest := slices.Clone(l.Lines)
	slices.SortStableFunc(costliest, func(a, b stock.Line) int { return cmp.Compare(b.Price, a.Price) })
	for _, x := range costliest {
		if x.Problem == "" {
			continue
		}
		if shown >= page && !everything {
			left++
			continue
		}
		shown++
		p.Para(12, fmt.Sprintf("  row %-6d", x.Row), x.Problem)
	}
	if left > 0 {
		p.Line("  and %d more, with --all", left)
	}
}

// CleanedStock returns the usable lines as rows of a list that is read back
// without loss.
func CleanedStock(l stock.List) [][]string {
	rows := [][]string{{"sku", "description", "price", "currency", "quantity", "pieces", "condition", "minimum order"}}
	for _, x := range l.Usable() {
		quantity := ""
		if n, ok := x.Quantity.Get(); ok {
			quantity = fmt.Sprint(n)
		}
		pieces := ""
		if x.Pieces == 1 {
			pieces = "1"
		}
		rows = append(rows, []string{x.SKU, x.Description, x.Price.String(), x.Currency, quantity, pieces,
			string(x.Condition), fmt.Sprint(x.MinOrder)})
	}
	return rows
}

// A stockLine is a line of a price list for programs.
type stockLine struct {
	Row       int     `json:"row"`
	SKU       string  `json:"sku"`
	Text      string  `json:"description"`
	Price     float64 `json:"price"`
	Currency  string  `json:"currency"`
	Quantity  any     `json:"quantity"`
	Pieces    int     `json:"pieces"`
	Condition string  `json:"condition"`
	Problem   any     `json:"problem"`
	Module    string  `json:"understood"`
}

// WriteStockJSON writes what stock check --format json shows, a line of the list
// in a line: lists are long, and one in memory is enough.
func WriteStockJSON(w io.Writer, l stock.List) error {
	out := bufio.NewWriter(w)
	e := json.NewEncoder(escaper{out})
	e.SetEscapeHTML(false)
	put := func(before string, v any) {
		_, _ = out.WriteString(before) // a failed write fails the Flush
		_ = e.Encode(v)
	}
	put(`{"schema": `, "epitome.stock.v1")
	put(`,"supplier": `, l.Supplier)
	put(`,"header_row": `, l.Header)
	put(`,"used": `, len(l.Usable()))
	put(`,"passed_columns": `, append([]string{}, l.Passed...))
	_, _ = out.WriteString(`,"lines": [` + "\n")
	for i, x := range l.Lines {
		comma := ","
		if i == 0 {
			comma = ""
		}
		put(comma, stockLine{x.Row, x.SKU, x.Description, x.Price.Units(), x.Currency, x.Quantity, x.Pieces,
			string(x.Condition), orNull(x.Problem), understood(x)})
	}
	_, _ = out.WriteString("]}\n")
	return out.Flush()
}
