package stock_test

import (
	"fmt"
	"iter"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/stock"
)

func TestPricesAsListsWriteThem(t *testing.T) {
	for text, want := range map[string]struct {
		m        stock.Money
		currency string
	}{
		"61.90": {6190, ""}, "61,90": {6190, ""}, "1.234,50": {123450, ""}, "1,234.50": {123450, ""},
		"€ 61,90": {6190, "EUR"}, "61.9 EUR": {6190, "EUR"},
		"1'234.50": {123450, ""}, "1 234,5": {123450, ""}, "1,234": {123400, ""}, "12": {1200, ""}, "£15.00": {1500, "GBP"},
		"CHF 20.-": {2000, "CHF"}, "-3.50": {-350, ""},
		"$19.99": {1999, ""}, "1 290 CZK": {129000, "CZK"}, "AUD 30": {3000, "AUD"}, "30 nzd": {3000, "NZD"},
		"33,-": {3300, ""}, "33,- €": {3300, "EUR"}, "390 Kč": {39000, "CZK"},
		"1.234.567,00": {123456700, ""},
	} {
		if strings.HasPrefix(text, "1.234.567") {
			_, _, err := stock.ParseMoney(text)
			assert.ErrorIs(t, err, stock.ErrMoney, "no module costs a million")
			continue
		}
		m, currency, err := stock.ParseMoney(text)
		require.NoError(t, err, text)
		assert.Equal(t, want.m, m, text)
		assert.Equal(t, want.currency, currency, text)
	}
	for _, text := range []string{"", "ask", "1.2.3", "12,3456", "1,2,3", "12 apples", "20 ono", "--4", "0x10",
		"ab 20", "12x", "40 for 2"} {
		_, _, err := stock.ParseMoney(text)
		assert.ErrorIs(t, err, stock.ErrMoney, text)
	}
	for text, want := range map[string]stock.Money{"12 apples": 1200, "20 ono": 2000, "18 obo": 1800, "17 VB": 1700,
		"19,90 inkl. 19% MwSt": 1990, "249 kr/st": 24900, "5 / 1 Stk": 500} {
		m, currency, err := stock.ParsePrice(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, m, text)
		assert.Empty(t, currency, text)
	}
	for _, text := range []string{"ab 20", "12x", "40 for 2", "2 for 40 EUR", "ask"} {
		_, _, err := stock.ParsePrice(text)
		assert.ErrorIs(t, err, stock.ErrMoney, text)
	}
	assert.Equal(t, "61.90", stock.Money(6190).String())
	assert.Equal(t, "-3.05", stock.Money(-305).String())
}

// each hands rows out one by one, numbered as in a file.
func each(list [][]string) iter.Seq[stock.Row] {
	return func(yield func(stock.Row) bool) {
		for i, cells := range list {
			if !yield(stock.Row{Number: i + 1, Cells: cells}) {
				return
			}
		}
	}
}

func rows(text string) (out [][]string) {
	for line := range strings.SplitSeq(strings.TrimSpace(text), "\n") {
		out = append(out, strings.Split(line, "|"))
	}
	return out
}

func TestAHeaderIsRecognisedByMeaning(t *testing.T) {
	for _, header := range []string{
		"sku|description|price", "Artikelnummer|Bezeichnung|Preis (EUR)", "Item No.|Product Name|Unit Price",
		"PRICE|DESCRIPTION|ARTICLE_NO", "Order code|Item description|Net price",
	} {
		l, err := stock.Read(each(append(rows("Harbour Parts\n\n"+header),
			[]string{"8GB 1Rx8 PC4-2400T-SA1-11", "8GB 1Rx8 PC4-2400T-SA1-11", "8GB 1Rx8 PC4-2400T-SA1-11"})), stock.Options{})
		require.NoError(t, err, header)
		assert.Equal(t, 3, l.Header, header)
		assert.Len(t, l.Columns, 3, header)
	}
	_, err := stock.Read(each(rows("a|b\n1|2")), stock.Options{})
	require.ErrorIs(t, err, stock.ErrNoHeader)
	assert.Contains(t, err.Error(), `"a | b"`)
	_, err = stock.Read(each(nil), stock.Options{})
	require.ErrorIs(t, err, stock.ErrNoHeader)
	l, err := stock.Read(each(rows("a|b\n5,00|8GB 1Rx8 PC4-2400T-SA1-11")),
		stock.Options{Map: map[stock.Field]string{stock.Price: "a", stock.Description: "2"}})
	require.NoError(t, err)
	assert.Len(t, l.Usable(), 1)
	_, err = stock.Read(each(rows("a|b\n5|x")), stock.Options{Map: map[stock.Field]string{stock.Price: "a"}})
	require.ErrorIs(t, err, stock.ErrColumns)
}

// Every way in which a line can be unusable is named, and the line is kept.
func TestLinesThatCantBeReadAreKeptAndNeverUsed(t *testing.T) {
	const good = "8GB 1Rx8 PC4-2400T-SA1-11"
	l, err := stock.Read(each(rows("sku|description|price|currency|quantity|pieces|condition|moq|colour\n"+
		strings.Join([]string{
			"1|" + good + "|21,40|EUR|4|1|new|2|red",
			"2|" + good + "||EUR||||",
			"3|" + good + "|-2|EUR||||",
			"4|" + good + "|0|EUR||||",
			"5|" + good + "|ask|EUR||||",
			"6||10|EUR||||",
			"7|bag of crisps|10|EUR||||",
			"8|8GB 1Rx8 PC4-2450T-SA1-11|10|EUR||||",
			"9|8GB SO-DIMM 1Rx8|10|EUR||||",
			"10|" + good + "|10|EUR|heaps|||",
			"11|" + good + "|10|EUR||0||",
			"12|" + good + "|10|EUR||2||",
			"13|2x8GB DDR4-2400 SO-DIMM|10|EUR||4||",
			"14|2x8GB DDR4-2400 SO-DIMM|10|EUR||2||",
			"15|" + good + "|10|EUR|||shiny|",
			"16|" + good + "|10|EUR||||none",
			"17|" + good + "|€10|GBP||||",
			"18|" + good + "|10|EUR||||",
			"18|" + good + "|11|EUR||||",
			"19|" + good + "|10|EUR||||",
			"19|" + good + "|10|EUR||||",
			"20|" + good + "|10||>50||used|",
			"21|" + good + "|10|EUR||||",
			"21|16GB 2Rx8 PC4-2400T-SE1-11|10|EUR||||",
		}, "\n"))), stock.Options{Supplier: "harbour", Currency: "EUR"})
	require.NoError(t, err)
	require.Len(t, l.Lines, 24, "nothing is lost")
	assert.Equal(t, []string{"colour"}, l.Passed)
	wants := map[string]string{"2": "no price", "3": "negative price", "4": "price of nought",
		"5": "price not understood", "6": "no memory module", "7": "no memory module",
		"8": "description not understood", "9": "too little stated", "11": "pieces not understood", "12": "kit unclear",
		"13": "pieces contradict",
		"15": "condition not understood", "16": "minimum order not understood", "17": "two currencies", "18": "sku twice",
		"21": "sku twice"}
	seen := make(map[string]bool)
	for _, x := range l.Lines {
		want := wants[x.SKU]
		if x.SKU == "19" && seen["19"] {
			want = "line repeated"
		}
		seen[x.SKU] = true
		if want == "" {
			assert.Empty(t, x.Problem, "sku %s", x.SKU)
			continue
		}
		assert.Contains(t, x.Problem, want, "sku %s", x.SKU)
		assert.Positive(t, l.Problems[strings.SplitN(x.Problem, ":", 2)[0]])
	}
	usable := l.Usable()
	assert.Len(t, usable, 5)
	first, unsaid, kit, last := usable[0], usable[1], usable[2], usable[4]
	assert.False(t, unsaid.Quantity.Known(), "a word that is not known is no number")
	assert.Len(t, unsaid.Assumed, 1)
	assert.Equal(t, stock.Money(2140), first.Price)
	assert.Equal(t, maybe.Just(4), first.Quantity)
	assert.Equal(t, 2, first.MinOrder)
	assert.Equal(t, stock.New, first.Condition)
	assert.Equal(t, 2, kit.Pieces)
	assert.Equal(t, 8*jedec.GiB, kit.Stick.Capacity.Or(0))
	assert.Equal(t, maybe.Just(50), last.Quantity)
	assert.Equal(t, "EUR", last.Currency)
	assert.Equal(t, []string{"that the price is in EUR"}, last.TakenForGranted())
}

func ExampleRead() {
	l, _ := stock.Read(each([][]string{{"Artikel", "Bezeichnung", "Preis"},
		{"HP-1", "2x8GB DDR4-2400 SO-DIMM", "€ 40,00"}}), stock.Options{})
	for _, x := range l.Usable() {
		fmt.Println(x.SKU, x.Pieces, "×", x.Stick.Capacity.Or(0), x.Price, x.Currency)
	}
	// Output: HP-1 2 × 8 GB 40.00 EUR
}

func FuzzRead(f *testing.F) {
	f.Add("sku|description|price\n1|8GB 1Rx8 PC4-2400T-SA1-11|21,40")
	f.Add("price|name\n€ 1.234,50|2x8GB DDR4-2400")
	f.Fuzz(func(t *testing.T, text string) {
		l, err := stock.Read(each(rows(text)), stock.Options{})
		if err != nil {
			return
		}
		for _, x := range l.Usable() {
			require.Positive(t, x.Price)
			require.Positive(t, x.Pieces)
			require.True(t, x.Stick.Capacity.Known())
		}
	})
}

// BenchmarkRead reads lists of which many lines have the same words, as a drawer's, and
// such of which no two have.
func BenchmarkRead(b *testing.B) {
	for _, kind := range []string{"alike", "unlike"} {
		for _, lines := range []int{10_000, 100_000} {
			list := [][]string{{"sku", "description", "price", "quantity"}}
			for i := range lines {
				grade := []string{"2133P", "2400T", "2666V", "3200AA"}[i%4]
				text := fmt.Sprintf("Marram memory module %dGB 1Rx8 PC4-%s-SA1-11 for laptops", 4<<(i%3), grade)
				if kind == "unlike" {
					text += fmt.Sprint(" MR4-", i)
				}
				list = append(list, []string{fmt.Sprint("L", i), text, fmt.Sprintf("%d,90", 10+i%60), "5"})
			}
			b.Run(fmt.Sprint(lines, " lines ", kind), func(b *testing.B) {
				b.ReportAllocs()
				for b.Loop() {
					if _, err := stock.Read(each(list), stock.Options{}); err != nil {
						b.Fatal(err)
					}
				}
			})
		}
	}
}

func TestAPriceInTwoCurrenciesIsNone(t *testing.T) {
	for text, ok := range map[string]bool{"£12": true, "12 €": true, "£12 €": false, "€ 12 £": false, "Fr. 12 CHF": true} {
		_, _, err := stock.ParseMoney(text)
		require.Equal(t, ok, err == nil, text)
	}
}

// FuzzParseMoney reads any text as an amount: what is accepted is within what a
// list can ask, and is read again from how it is written.
func FuzzParseMoney(f *testing.F) {
	for _, s := range []string{"61.90", "61,90 €", "1.234,50", "1'234.50 CHF", "-5", "£12", "12 EUR", "٣"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		m, _, err := stock.ParseMoney(s)
		if err != nil {
			require.ErrorIs(t, err, stock.ErrMoney)
			return
		}
		again, _, err := stock.ParseMoney(m.String())
		require.NoError(t, err, "%q", s)
		require.Equal(t, m, again, "%q", s)
	})
}

// The titles of the usual languages, with the price's currency in its title.
func TestTitlesOfManyLanguages(t *testing.T) {
	for head, currency := range map[string]string{
		"Art.-Nr.|Artikelbezeichnung|Preis €|Bestand|Zustand":    "EUR",
		"Bestellnr.|Beschreibung|EK netto (EUR)|Lager|Zustand":   "EUR",
		"Réf.|Désignation|Prix HT €|Qté|État":                    "EUR",
		"Código|Descripción|Precio (EUR)|Cantidad|Estado":        "EUR",
		"Codice|Descrizione|Prezzo unitario|Disponibilità|Stato": "",
		"Artikelnummer|Omschrijving|Prijs €|Voorraad|Staat":      "EUR",
		"Art.nr|Benämning|Pris SEK|Antal|Skick":                  "SEK",
		"Kod|Nazwa|Cena netto PLN|Ilość|Stan towaru":             "PLN",
		"Kód|Název|Cena bez DPH (CZK)|Skladem|Stav":              "CZK",
		"Артикул|Наименование|Цена|Остаток|Состояние":            "",
		"Ürün kodu|Açıklama|Birim fiyat TRY|Stok|Durum":          "TRY",
		"型番|商品名|単価|在庫|状態":                                        "",
		"货号|名称|单价|库存|成色":                                         "",
		"SKU|Product Name|Unit Price (GBP)|In Stock|Cond.":       "GBP",
		"Código|Descrição|Preço BRL|Estoque|Estado":              "BRL",
		"ITEM_NO|ITEM_DESCRIPTION|NET PRICE [USD]|QTY|CONDITION": "USD",
		"Artikel-Nr.|Bezeichnung|Stückpreis EUR|Menge|Zustand":   "EUR",
		"\ufeffsku|description|price, eur|quantity|new/used":     "EUR",
		"Article|Libellé|PU HT|Disponible|Etat":                  "",
		"Nr katalogowy|Opis|Cena brutto zł|Dostępność|Kondycja":  "PLN",
		"Ref.|Artículo|P.V.P. €|Existencias|Condición":           "EUR",
		"Part No.|Description|Price each|Available|Grade":        "",
		"Objednací číslo|Popis|Cena za kus|Sklad|Stav":           "",
		"Код товара|Товар|Цена за шт.|Кол-во|Состояние":          "",
		"Bestelnr.|Productnaam|Stukprijs|Aantal|Conditie":        "",
		"Cód.|Producto|Importe|Cant.|Estado":                     "",
		"品番|品名|価格|数量|状態":                                         "",
		"P/N|Goods|Amount|Stock|State":                           "",
		"Varenr.|Varetekst|Pris DKK|Lager|Stand":                 "DKK",
		"Cod. articolo|Prodotto|Prezzo netto €|Giacenza|Cond.":   "EUR",
		"Order code|Title|Cost GBP|On hand|Condition":            "GBP",
		"Nr.|Produkt|Netto|Anzahl|Status":                        "",
		"Référence|Produit|Tarif|Quantité|État":                  "",
	} {
		l, err := stock.Read(each(rows(head+"\nA-1|8GB 1Rx8 PC4-2400T-SA1-11|21,40|5|")), stock.Options{})
		require.NoError(t, err, head)
		for at, f := range []stock.Field{stock.SKU, stock.Description, stock.Price, stock.Quantity} {
			column, ok := l.Columns[f]
			assert.True(t, ok && column == at, "%s: %s is column %d, %v", head, f, column, ok)
		}
		require.Len(t, l.Lines, 1, head)
		assert.Empty(t, l.Lines[0].Problem, head)
		assert.Equal(t, currency, l.Lines[0].Currency, head)
	}
}

// A list without titles is told by its cells, and where they do not tell it is refused.
func TestAListWithoutTitles(t *testing.T) {
	l, err := stock.Read(each(rows(`A-17|8GB 1Rx8 PC4-2400T-SA1-11|21,40|5|neu
A-18|16GB DDR4-3200 SO-DIMM CL22|34,90|2|gebraucht
B-20|cable tie, black|1,20|100|neu
B-21|4GB DDR3-1600 SO-DIMM|9,90|0|gebraucht`)), stock.Options{})
	require.NoError(t, err)
	assert.True(t, l.Untitled)
	assert.Equal(t, map[stock.Field]int{stock.SKU: 0, stock.Description: 1, stock.Price: 2,
		stock.Quantity: 3, stock.State: 4}, l.Columns)
	require.Len(t, l.Lines, 4)
	assert.Equal(t, stock.Money(3490), l.Lines[1].Price)
	assert.Equal(t, stock.Used, l.Lines[1].Condition)
	assert.Contains(t, l.Lines[2].Problem, "no memory module")

	l, err = stock.Read(each(rows("Wat|Hoeveel kost het dan\n8GB 1Rx8 PC4-2400T-SA1-11|€ 21,40\n4GB DDR3-1600|€ 9,90")),
		stock.Options{})
	require.NoError(t, err, "titles of no word that is known stand above")
	require.Len(t, l.Lines, 2)
	assert.Equal(t, "EUR", l.Lines[0].Currency)

	for _, text := range []string{"A|8GB DDR4-2400|5\nB|4GB DDR4-2400|7", "1,20|2,40\n3,10|4,80", "hello|world", ""} {
		_, err := stock.Read(each(rows(text)), stock.Options{})
		assert.ErrorIs(t, err, stock.ErrNoHeader, text)
	}
}

// Of a column and a text that disagree about the condition the worse one counts.
func TestTheWorseConditionCounts(t *testing.T) {
	l, err := stock.Read(each(rows(`sku|description|price|condition
A|8GB DDR4-2400 SO-DIMM gebraucht|20.00|new
B|8GB DDR4-2400 SO-DIMM neu|20.00|refurbished
C|8GB DDR4-2400 SO-DIMM refurbished|20.00|
D|8GB DDR4-2400 SO-DIMM|20.00|new
E|8GB DDR4-2400 SO-DIMM occasion|20.00|used`)), stock.Options{Currency: "EUR"})
	require.NoError(t, err)
	var got []stock.Condition
	for _, x := range l.Lines {
		got = append(got, x.Condition)
	}
	assert.Equal(t, []stock.Condition{stock.Used, stock.Refurbished, stock.Refurbished, stock.New, stock.Used}, got)
	said := 0
	for _, x := range l.Lines {
		for _, a := range x.TakenForGranted() {
			if strings.Contains(a, "the worse one counts") {
				said++
			}
		}
	}
	assert.Equal(t, 2, said)
}

// What a line does not say of its module and a trader takes from it all the same.
func TestWhatIsTakenForGranted(t *testing.T) {
	for text, want := range map[string]string{
		"16GB DDR4-3200 UDIMM":                 "",
		"16GB DDR4-3200 DIMM":                  "unbuffered and without check bits, as the text names neither",
		"16GB DDR4-3200 DIMM for servers":      "registered, as it is for servers",
		"16GB DDR4-3200 ECC DIMM for servers":  "registered, as it is for servers",
		"16GB DDR4-3200 unbuffered for laptop": "SO-DIMM by the machine that the text names",
		"16GB DDR4-3200 unbuffered":            "no form is stated: fits where the machine's own form is the only one sold",
	} {
		one, err := module.Parse(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, strings.Join(stock.Line{Stick: &one}.TakenForGranted(), "; "), text)
	}
}
