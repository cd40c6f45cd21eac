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
	head := fmt.Sprintf("%s: %d of %d lines can be used", path, len(usable), len(l.Lines))
	switch gone := soldOut(usable); {
	case gone == 1:
		head += "; one of them is sold out, and never bought"
	case gone > 1:
		head += fmt.Sprintf("; %d of them are sold out, and never bought", gone)
	}
	p.Headline(head + ".")
	p.Blank()
	if l.Untitled {
		p.Para(2, "", "Its titles do not tell which column is which; the cells do. Where that is wrong, name the columns "+
			"with --columns.")
		p.Blank()
	}
	var read, absent []string
	for _, f := range stock.Fields {
		at, ok := l.Columns[f]
		switch {
		case !ok && f == stock.Sale: // few lists have one
		case !ok:
			absent = append(absent, string(f))
		default:
			read = append(read, fmt.Sprintf("%s from %s", f, columnNames(l, []int{at})))
		}
		if ok && f == stock.Description && len(l.Beside) > 0 {
			read[len(read)-1] += ", " + columnNames(l, l.Beside)
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
			rows = append(rows, []string{fmt.Sprint(x.Row), x.SKU, kit, understood(x), x.Price.String(), x.Currency,
				stockWords(x)})
		}
		p.Table([]Column{{"Row", Right, 0}, {"Sku", Left, 14}, {"Kit", Right, 0}, {"Module", Left, Rest},
			{"Price", Right, 0}, {"", Left, 0}, {"In stock", Left, 0}}, rows)
	}
}

// columnNames names columns by their titles, or by number.
func columnNames(l stock.List, columns []int) string {
	var names []string
	for _, at := range columns {
		if at < len(l.Titles) && strings.TrimSpace(l.Titles[at]) != "" {
			names = append(names, fmt.Sprintf("%q", strings.TrimSpace(l.Titles[at])))
		} else {
			names = append(names, fmt.Sprintf("column %d", at+1))
		}
	}
	return strings.Join(names, ", ")
}

// soldOut counts the lines of which there is nothing.
func soldOut(lines []stock.Line) (n int) {
	for _, x := range lines {
		if left, known := x.Quantity.Get(); known && left == 0 {
			n++
		}
	}
	return n
}

// stockWords says how many there are of a line; empty where the list does not say.
func stockWords(x stock.Line) string {
	switch n, known := x.Quantity.Get(); {
	case !known:
		return ""
	case n == 0:
		return "sold out"
	default:
		return fmt.Sprint(n)
	}
}

// TakenColumns says in a line where a list's prices and counts were taken from, where its titles leave that open:
// prices from "VK brutto" (gross), stock from "Stk"; empty where they don't.
func TakenColumns(l stock.List) string {
	_, sale := l.Columns[stock.Sale]
	if !l.Untitled && len(l.Beside) == 0 && !sale && l.Tax == "" && l.AtLeast <= 1 {
		return ""
	}
	name := func(f stock.Field) string { return columnNames(l, []int{l.Columns[f]}) }
	out := "prices from " + name(stock.Price)
	if l.Tax != "" {
		out += " (" + l.Tax + ")"
	}
	if l.AtLeast > 1 {
		out += fmt.Sprintf(", for %d and more", l.AtLeast)
	}
	if sale {
		out += ", where it is lower from " + name(stock.Sale)
	}
	if l.Untitled || len(l.Beside) > 0 {
		out += ", modules from " + columnNames(l, append([]int{l.Columns[stock.Description]}, l.Beside...))
	}
	if _, ok := l.Columns[stock.Quantity]; ok {
		out += ", stock from " + name(stock.Quantity)
	}
	return out
}

// understood writes what was understood of a description.
func understood(x stock.Line) string {
	if x.Stick == nil {
		return ""
	}
	s := *x.Stick
	if !s.Generation.Known() && !s.Capacity.Known() && !s.Form.Known() {
		return ""
	}
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
			fmt.Sprintf("%s; the dearest is %s, %s", name, k.worst.Place(), k.worst.Price))
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
		problem := x.Problem
		if x.Sheet != "" {
			problem = "of sheet " + x.Sheet + ": " + problem
		}
		p.Para(12, fmt.Sprintf("  row %-6d", x.Row), problem)
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
	Sheet     any      `json:"sheet"` // null where one is read
	Row       int      `json:"row"`
	SKU       string   `json:"sku"`
	Text      string   `json:"description"`
	Price     any      `json:"price"`    // null where it could not be read
	Currency  any      `json:"currency"` // null where nothing says it
	Quantity  any      `json:"quantity"`
	Pieces    int      `json:"pieces"`
	Least     int      `json:"minimum_order"`
	Condition any      `json:"condition"` // null where nothing says it
	Problem   any      `json:"problem"`
	Module    string   `json:"understood"`
	Assumed   []string `json:"assumed"`
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
	columns := make(map[stock.Field]int)
	for f, at := range l.Columns {
		columns[f] = at + 1
	}
	put(`,"columns": `, columns)
	put(`,"tax": `, orNull(l.Tax))
	put(`,"passed_columns": `, append([]string{}, l.Passed...))
	_, _ = out.WriteString(`,"lines": [` + "\n")
	for i, x := range l.Lines {
		comma := ","
		if i == 0 {
			comma = ""
		}
		var price any
		if x.Price != 0 {
			price = x.Price.Units()
		}
		put(comma, stockLine{Sheet: orNull(x.Sheet), Row: x.Row, SKU: x.SKU, Text: x.Description, Price: price,
			Currency: orNull(x.Currency), Quantity: x.Quantity, Pieces: x.Pieces, Least: x.MinOrder,
			Condition: orNull(string(x.Condition)), Problem: orNull(x.Problem), Module: understood(x),
			Assumed: append([]string{}, x.TakenForGranted()...)})
	}
	_, _ = out.WriteString("]}\n")
	return out.Flush()
}
