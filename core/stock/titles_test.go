package stock

import (
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each row of the titles, by one of its words: alone, among others, in capitals, and beside one
// that says nothing.
func TestEachRowOfTheTitles(t *testing.T) {
	text, err := os.ReadFile("testdata/titles.tsv")
	require.NoError(t, err)
	rows := 0
	for line := range strings.Lines(string(text)) {
		if strings.HasPrefix(line, "#") {
			continue
		}
		cells := strings.Split(strings.TrimRight(line, "\n"), "\t")
		require.Len(t, cells, 3, line)
		for _, title := range []string{cells[2], strings.ToUpper(cells[2]), " " + cells[2] + ": "} {
			columns, _ := recognise([]string{"zqxv", title})
			assert.Equal(t, map[Field]int{Field(cells[0]): 1}, columns, title)
		}
		rows++
	}
	assert.Greater(t, rows, 90)
	columns, _ := recognise([]string{"zqxv", "", strings.Repeat("price ", 14), "pri\xffce"})
	assert.Empty(t, columns, "no word, none at all, one that is too long, and broken characters")
}

// A title that is a word wins over one that only holds it, and an earlier word over a later.
func TestWhichTitleWins(t *testing.T) {
	for _, c := range []struct {
		titles string
		field  Field
		at     int
	}{
		{"our price in shops|price", Price, 1},
		{"our price in shops|the rest", Price, 0},
		{"cost|unit price", Price, 1},
		{"unit price|cost", Price, 0},
		{"kein ekx|x ek y", Price, -1}, // words of two letters stand alone
		{"ek|x", Price, 0},
		{"priceless|x", Price, -1},
		{"x price|y", Price, 0}, {"price x|y", Price, 0}, {"priced x price|y", Price, 0},
	} {
		columns, _ := recognise(strings.Split(c.titles, "|"))
		at, ok := columns[c.field]
		if !ok {
			at = -1
		}
		assert.Equal(t, c.at, at, c.titles)
	}
	for title, want := range map[string]string{"Price EUR": "EUR", "Price (USD)": "USD", "Preis €": "EUR", "Price": "",
		"EUR": "", "price £": "GBP", "Price XYZ": ""} {
		_, currency := recognise([]string{title})
		assert.Equal(t, want, currency, title)
	}
}

// Every currency, by its code and by its sign, is the price's and no part of the title.
func TestEveryCurrencyInATitle(t *testing.T) {
	signs := map[string]string{"€": "EUR", "£": "GBP"}
	for _, code := range []string{"EUR", "USD", "GBP", "CHF", "SEK", "NOK", "DKK", "PLN", "CZK", "HUF", "RON", "BGN",
		"TRY",
		"RUB", "UAH", "JPY", "CNY", "RMB", "BRL", "CAD", "AUD", "NZD", "INR", "MXN", "ZAR", "KRW", "TWD", "HKD", "SGD"} {
		signs[code] = code
	}
	for sign, code := range signs {
		for _, cell := range []string{"Price " + sign, sign + " price", "price (" + strings.ToLower(sign) + ")"} {
			columns, currency := recognise([]string{"zqxv", cell})
			assert.Equal(t, code, currency, cell)
			assert.Equal(t, map[Field]int{Price: 1}, columns, cell)
		}
	}
	for _, sign := range []string{"XAU", "EURO2", "PRC", "SKU"} {
		_, currency := recognise([]string{"price " + sign})
		assert.Empty(t, currency, sign)
	}
	columns, _ := recognise([]string{strings.Repeat("x", 73) + " price", strings.Repeat("x", 75) + " price"})
	assert.Equal(t, map[Field]int{Price: 0}, columns, "80 bytes and no more")
}

// What a column without a title is taken for, by the bounds of its cells.
func TestWhatACellMayBe(t *testing.T) {
	for _, c := range []struct {
		is    func(string) bool
		cell  string
		holds bool
	}{
		{isCode, "HP-1", true}, {isCode, "HP", false}, {isCode, "", false}, {isCode, "HP 1", false}, {isCode, "12.50", false},
		{isCode, strings.Repeat("A", 29) + "1", true}, {isCode, strings.Repeat("A", 30) + "1", false},
		{isCondition, "used", true}, {isCondition, "blue", false},
		{isCondition, strings.Repeat(" ", 26) + "used", true}, {isCondition, strings.Repeat(" ", 27) + "used", false},
		{isPrice, "12.50", true}, {isPrice, "12", false}, {isPrice, "12 EUR", true}, {isPrice, "€12", true},
		{isPrice, "0.00", false}, {isPrice, "-1.50", false}, {isPrice, "dear", false},
		{isModule, "8GB DDR4", true}, {isModule, "8GB", false}, {isModule, "DDR4", false}, {isModule, "8", false},
		{isModule, "8GB DDR4" + strings.Repeat(" ", longestText-8), true},
		{isModule, "8GB DDR4" + strings.Repeat(" ", longestText-7), false},
	} {
		assert.Equal(t, c.holds, c.is(c.cell), "%d characters: %q", len(c.cell), c.cell)
	}
}
