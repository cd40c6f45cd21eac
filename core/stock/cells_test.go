package stock_test

import (
	"fmt"
	"strings"
	"testing"

	"epitome/core/stock"
	"epitome/golden"
)

// written is what came of a line.
func written(x stock.Line) string {
	s := fmt.Sprintf("%v %s, %d pieces", x.Price, x.Currency, x.Pieces)
	if n, ok := x.Quantity.Get(); ok {
		s += fmt.Sprintf(", %d in stock", n)
	}
	if x.MinOrder != 1 {
		s += fmt.Sprintf(", at least %d", x.MinOrder)
	}
	if x.Condition != "" {
		s += ", " + string(x.Condition)
	}
	if x.SKU != "" {
		s += ", " + x.SKU
	}
	for _, a := range x.Assumed {
		s += "; assumed " + a
	}
	if x.Problem != "" {
		return x.Problem + " (" + s + ")"
	}
	for _, g := range x.TakenForGranted() {
		s += "; granted " + g
	}
	return strings.TrimSuffix(s, "; granted unbuffered and without check bits, as the text names neither")
}

// Each column of a list with whatever shops write there, the others as they should be.
func TestEveryCellOfALine(t *testing.T) {
	var page strings.Builder
	titles := []string{"sku", "description", "price", "currency", "quantity", "pieces", "condition", "minimum order"}
	good := []string{"TK-1", "8GB DDR4-2400 SO-DIMM", "18.40", "EUR", "5", "1", "new", "1"}
	for column, cells := range [][]string{
		{"", "A|B", "TK 1", strings.Repeat("9", 40)},
		{"", "zqxv", "2x8GB DDR4-2400 SO-DIMM", "8GB DDR4-2400 SO-DIMM used", "8GB DDR4-2400", "DDR4-2400 SO-DIMM",
			"8GB SO-DIMM",
			"8GB DDR4 SO-DIMM laptop", "8GB DDR4-2400 for laptop", "8GB DDR4-2500 SO-DIMM", "8GB DDR4 DDR3",
			"Kit 16GB DDR4-2400 SO-DIMM",
			"8GB 1Rx8 PC4-2400T-SA1-11", "16GB DDR4-2400 DIMM registered", "8GB DDR4-2400 SO-DIMM unbuffered ECC",
			"8GB DDR4-2400 DIMM non-ECC",
			strings.Repeat("8GB DDR4 ", 120)},
		strings.Split("|0|0.00|-1|ask|1|1.5|1.55|1.555|1,5|1,55|1,555|1.234|1.234,5|1.234,56|1.234,567|"+
			"1,234.56|1 234,56|1'234.56|1’234|"+
			"1.2.3|1,2,3|1.2,3.4|12,3456|1000000|1000000.01|999999.99|99999999999999999999|61.-|61,-|61.--|€ 61|"+
			"61€|£61|61 $|¥61|61 kr|"+
			"61 fr|61 zł|61 CHF|CHF 61|61 EUR|EUR61|61 euro|61 eu|61 e|6 1 EUR|EUR 61 CHF|€ 61 £|€ 61 EUR|"+
			"€ 61 CHF|61 EUR brutto|.5|5.|,5|"+
			"5,|1e3|0x10|６１|+61|--61|-61|(61)|61.90 EUR / Stk|a61|61z|az 61|61.90 abc", "|"),
		{"", "EUR", "eur", "€", "£", "$", "kr", "CHF", "zł", "XYZ", "USD"},
		strings.Split("|0|1|12|-1|1.5|>50|< 5|~10|10+|12 pcs|12 st|12 stk|12 units|12.0|12,0|12.5|12 apples|"+
			"yes|Ja|oui|in stock|available|"+
			"lieferbar|no|nein|non|-|out of stock|sold out|none|perhaps|99999999999999999999|= 7|+3", "|"),
		{"", "0", "1", "2", "3", "64", "65", "-1", "two", "1.0"},
		strings.Split("|new|used|refurbished|n|u|r|N|B-Stock|neu|gebraucht|generalüberholt|neuf|occasion|"+
			"reconditionné|nuovo|usato|zqxv|"+
			"grade A|refurb", "|"),
		{"", "0", "1", "2", "10 pcs", "-", "yes", "many"},
	} {
		fmt.Fprintf(&page, "## %s\n", titles[column])
		for _, cell := range cells {
			last := ""
			for _, currency := range []string{"", "EUR"} {
				if column != 2 && column != 3 && currency != "" {
					continue
				}
				row := append([]string{}, good...)
				row[column] = cell
				if column == 2 {
					row[3] = ""
				}
				l, err := stock.Read(each([][]string{titles, row}), stock.Options{Supplier: "Harbour", Currency: currency})
				says := ""
				if err != nil {
					says = err.Error()
				}
				for _, x := range l.Lines {
					says += written(x)
				}
				if len(cell) > 60 {
					cell = fmt.Sprintf("%.20s… of %d", cell, len(cell))
				}
				if says != last {
					fmt.Fprintf(&page, "%q: %s\n", cell, says)
				}
				last = says
			}
		}
	}
	// Two lines with one article number, and what of them stands.
	page.WriteString("## twice\n")
	for _, second := range [][]string{{"TK-1", "8GB DDR4-2400 SO-DIMM", "18.40"}, {"TK-1", "8GB DDR4-2400 SO-DIMM",
		"18.50"},
		{"TK-1", "4GB DDR4-2400 SO-DIMM", "18.40"}, {"TK-2", "8GB DDR4-2400 SO-DIMM", "18.40"}, {"",
			"8GB DDR4-2400 SO-DIMM", "18.40"},
		{"TK-1", "zqxv", "18.40"}, {"TK-1", "8GB DDR4-2400 SO-DIMM", "ask"}} {
		l, err := stock.Read(each([][]string{titles[:3], good[:3], second, {"TK-1", "8GB DDR4-2400 SO-DIMM", "19.00"}}),
			stock.Options{})
		fmt.Fprintf(&page, "%q, %v, %v\n", second, err, l.Problems)
		for _, x := range l.Lines {
			fmt.Fprintf(&page, "  %s\n", written(x))
		}
	}
	// Lists without titles, and titles under other rows.
	page.WriteString("## whole lists\n")
	for _, list := range []string{
		"8GB DDR4-2400 SO-DIMM|18.40\n16GB DDR4-2400 SO-DIMM|36.00",
		"18.40|8GB DDR4-2400 SO-DIMM\n36.00|16GB DDR4-2400 SO-DIMM",
		"1|8GB DDR4-2400 SO-DIMM|18.40\n2|16GB DDR4-2400 SO-DIMM|36.00\n3|4GB DDR4-2400 SO-DIMM|9.00",
		"TK-1|8GB DDR4-2400 SO-DIMM|18.40|5\nTK-2|16GB DDR4-2400 SO-DIMM|36.00|7",
		"TK-1|8GB DDR4-2400 SO-DIMM|ask\nTK-2|16GB DDR4-2400 SO-DIMM|36.00",
		"TK-1|8GB DDR4-2400 SO-DIMM|ask\nTK-2|16GB DDR4-2400 SO-DIMM|ask",
		"8GB DDR4-2400 SO-DIMM\n16GB DDR4-2400 SO-DIMM",
		"18.40\n36.00", "", "zqxv|y", "description", "price|price\n8GB DDR4|1",
		"Quay Parts|\nsince 1999|\ndescription|price\n8GB DDR4-2400 SO-DIMM|18.40",
		"8GB DDR4-2400 SO-DIMM|18.40|19.90\n16GB DDR4-2400 SO-DIMM|36.00|38.00",
		"description|price EUR\n8GB DDR4-2400 SO-DIMM|18.40", "description|price|" +
			"price EUR\n8GB DDR4-2400 SO-DIMM|x|18.40",
		"description|price|colour\n8GB DDR4-2400 SO-DIMM|18.40|blue",
		"description|unit price|price\n8GB DDR4-2400 SO-DIMM|9|18.40",
		"description|price\n\n8GB DDR4-2400 SO-DIMM|18.40\n|\n16GB DDR4-2400 SO-DIMM",
		"description|price\ndescription|price\n8GB DDR4-2400 SO-DIMM|18.40",
		"note|8GB DDR4-2400 SO-DIMM|18.40|x|y|z\n|16GB DDR4|36",
	} {
		l, err := stock.Read(each(rows(list)), stock.Options{})
		fmt.Fprintf(&page, "%q: %v; header %d, columns %v, titles %q, passed %q, untitled %v, %s, %v\n", list, err,
			l.Header, l.Columns,
			l.Titles, l.Passed, l.Untitled, l.Currency, l.Problems)
		for _, x := range l.Lines {
			fmt.Fprintf(&page, "  %d: %s\n", x.Row, written(x))
		}
	}
	golden.Compare(t, "testdata/cells.txt", page.String())
}
