package stock_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/stock"
	"epitome/truth/effort"
)

// goods is what a shop has, whatever its list makes of it.
type goods struct {
	sku, text string
	size      int // GB of each module
	pieces    int
	told      []string // type, size and rate, where a list has a column for each
	price     int      // hundredths
	was       int      // before a sale; the price itself where there is none
	stock     maybe.Value[int]
	state     stock.Condition
}

// shelf is a shop's goods by chance: 15 to 400 modules as stickers and shops name them.
func shelf(r *rand.Rand) []goods {
	all := make([]goods, 15+r.IntN(386))
	for i := range all {
		size := 4 << r.IntN(4)
		kind := r.IntN(5)
		size = min(size, []int{32, 32, 16, 32, 8}[kind])
		text := fmt.Sprintf([]string{"%dGB DDR4-2400 SO-DIMM CL17", "Marram %d GB DDR4 3200 MHz SODIMM",
			"%dGB 1Rx8 PC4-2666V-SA1-11", "2x%dGB DDR5-5600 DIMM", "%dGB DDR3L-1600 SO-DIMM"}[kind], size)
		told := [][]string{{"DDR4", "2400"}, {"DDR4", "3200"}, {"DDR4", "2666"}, {"DDR5", "5600"}, {"DDR3L", "1600"}}[kind]
		g := goods{sku: fmt.Sprintf("%c-%d", 'A'+r.IntN(26), 1000+i*7), text: text, price: 500 + r.IntN(20_000),
			size: size, pieces: []int{1, 1, 1, 2, 1}[kind], told: told,
			stock: maybe.Just(max(0, r.IntN(30)-4)), state: []stock.Condition{stock.New, stock.Used}[r.IntN(2)]}
		if g.was = g.price; r.IntN(3) == 0 {
			g.was += 100 + r.IntN(2_000)
		}
		all[i] = g
	}
	return all
}

// A column is one of a shop's list: its title, and what it writes of goods.
type column struct {
	title string
	cell  func(*rand.Rand, goods) string
}

func money(format string) func(*rand.Rand, int) string {
	return func(r *rand.Rand, cents int) string {
		point := fmt.Sprintf("%d.%02d", cents/100, cents%100)
		comma := strings.Replace(point, ".", ",", 1)
		if cents%100 == 0 && strings.Contains(format, "-") {
			return fmt.Sprintf("%d,-", cents/100)
		}
		if some := strings.TrimPrefix(format, "some "); some != format && r.IntN(2) == 0 {
			return comma // a sign on some rows only
		}
		return strings.NewReplacer("some ", "", "-", "", "P", point, "C", comma).Replace(format)
	}
}

// size writes the size of each module, and of how many there are where it is a kit.
func size(unit string) func(*rand.Rand, goods) string {
	return func(_ *rand.Rand, g goods) string {
		if g.pieces > 1 {
			return fmt.Sprintf("%dx%d GB", g.pieces, g.size)
		}
		return fmt.Sprint(g.size, unit)
	}
}

func told(at int) func(*rand.Rand, goods) string {
	return func(_ *rand.Rand, g goods) string { return g.told[at] }
}

func sku(_ *rand.Rand, g goods) string  { return g.sku }
func text(_ *rand.Rand, g goods) string { return g.text }
func priced(format string) func(*rand.Rand, goods) string {
	return func(r *rand.Rand, g goods) string { return money(format)(r, g.price) }
}

// held writes a count in a shop's words: none, one, and %d of them.
func held(none, one, many string) func(*rand.Rand, goods) string {
	return func(_ *rand.Rand, g goods) string {
		switch n := g.stock.Or(0); {
		case n == 0:
			return none
		case n == 1:
			return one
		default:
			return strings.ReplaceAll(many, "%d", fmt.Sprint(n))
		}
	}
}

func states(fresh, used string) func(*rand.Rand, goods) string {
	return func(_ *rand.Rand, g goods) string {
		return map[stock.Condition]string{stock.New: fresh, stock.Used: used}[g.state]
	}
}

func was(format string, always bool) func(*rand.Rand, goods) string {
	return func(r *rand.Rand, g goods) string {
		if g.was == g.price && !always {
			return ""
		}
		return money(format)(r, g.was)
	}
}

func sale(format string) func(*rand.Rand, goods) string {
	return func(r *rand.Rand, g goods) string {
		if g.was == g.price {
			return ""
		}
		return money(format)(r, g.price)
	}
}

// dialects are how shops write their lists. Each holds all that is asked for below.
var dialects = map[string][]column{
	"wholesaler, net and gross": {{"Art.-Nr.", sku}, {"Bezeichnung", text}, {"EK netto", priced("C €")},
		{"VK brutto", func(r *rand.Rand, g goods) string { return money("C €")(r, g.price*3/2) }},
		{"Bestand", held("0", "1", "%d")}},
	"wholesaler, prices of ten": {{"SKU", sku}, {"Item", text}, {"Price EUR", priced("P")},
		{"from 10", func(r *rand.Rand, g goods) string { return money("P")(r, g.price*9/10) }},
		{"Qty", held("0", "1", "%d")}},
	"shop of one's own": {{"Item #", sku}, {"What", text}, {"VK brutto", priced("some C €")},
		{"Stk", held("0", "1", "%d")}},
	"shop of one's own, prices first": {{"£", priced("P")}, {"what", text}, {"Part", sku},
		{"left", held("-", "last one", "%d left")}},
	"shop of one's own, no titles": {{"", sku}, {"", text}, {"", priced("C €")},
		{"", held("sold out", "1 left", "%d left")}},
	"export, sale beside list price": {{"SKU", sku}, {"Name", text},
		{"List price", was("P", true)}, {"Sale", priced("P")},
		{"Stock", held("out of stock", "in stock (1)", "in stock (%d)")},
		{"Weight", func(*rand.Rand, goods) string { return "0.02" }}},
	"export, sales now and then": {{"id", sku}, {"title", text},
		{"regular price", was("P", true)}, {"sale price", sale("P")},
		{"stock quantity", held("0", "1", "%d")}, {"shipping", func(*rand.Rand, goods) string { return "4.90" }}},
	"market of second hand": {{"Title", text}, {"Price", priced("P ono")},
		{"Condition", states("new", "pulled, tested")},
		{"No", sku}, {"Available", held("SOLD", "1", "%d available")}},
	"market of second hand, German": {{"Titel", text}, {"Preis", priced("- C VB")},
		{"Zustand", states("neu", "gebraucht")},
		{"Nr", sku}, {"Menge", held("ausverkauft", "letztes Stück", "noch %d")}},
	"French": {{"Réf.", sku}, {"Désignation", text}, {"Prix TTC", priced("C €")},
		{"Stock", held("rupture", "1", "%d pièces")}},
	"Spanish": {{"Código", sku}, {"Descripción", text}, {"Precio", priced("C €")},
		{"Existencias", held("agotado", "1", "%d uds")}},
	"Italian": {{"Cod.", sku}, {"Prodotto", text}, {"Prezzo", priced("€ C")},
		{"Giacenza", held("esaurito", "ultimo", "%d pz")}},
	"Polish": {{"Kod", sku}, {"Nazwa", text}, {"Cena brutto", priced("C zł")},
		{"Stan", held("brak", "1 szt.", "%d szt.")}},
	"Swedish": {{"Art.nr", sku}, {"Benämning", text}, {"Pris SEK", priced("C")},
		{"Saldo", held("slut i lager", "1 st", "%d st")}},
	"Japanese": {{"型番", sku}, {"商品名", text}, {"価格", priced("P")},
		{"在庫", held("在庫なし", "1個", "%d個")}},
	"a column for each fact": {{"No", sku}, {"Type", told(0)}, {"Size (GB)", size("")}, {"Speed", told(1)},
		{"Price", priced("P")}, {"Qty", held("0", "1", "%d")}},
	"a column for each fact, German": {{"Größe", size(" GB")}, {"Art", told(0)}, {"MHz", told(1)},
		{"Preis", priced("C €")}, {"Lager", held("ausverkauft", "1 Stück", "%d Stück")}, {"Bestellnr.", sku}},
}

// Whole lists as shops write them, some of each dialect, with truth: no price and no count is wrong, what is sold out
// has none, and all but a few in a hundred rows are used.
func TestWholeListsOfShops(t *testing.T) {
	many, all, used := 4, 0, 0
	if testing.Short() {
		many = 1
	} else if effort.Full() {
		many = 12
	}
	for name, dialect := range dialects {
		for seed := range uint64(many) {
			r := rand.New(rand.NewPCG(seed, 34))
			goods := shelf(r)
			var rows [][]string
			if seed%2 == 1 {
				rows = append(rows, []string{"Quay Parts, list of this week"}, nil, []string{"prices may change"}, nil)
			}
			var titles []string
			for _, c := range dialect {
				titles = append(titles, c.title)
			}
			if strings.Join(titles, "") != "" {
				rows = append(rows, titles)
			}
			bySKU := make(map[string]int)
			for i, g := range goods {
				var row []string
				for _, c := range dialect {
					row = append(row, c.cell(r, g))
				}
				bySKU[g.sku] = i
				if rows = append(rows, row); r.IntN(40) == 0 {
					rows = append(rows, []string{"", "Modules for servers, ask", "", ""})
				}
			}
			l, err := stock.Read(each(rows), stock.Options{})
			require.NoError(t, err, "%s, seed %d", name, seed)
			all += len(goods)
			for _, x := range l.Usable() {
				i, ok := bySKU[x.SKU]
				require.True(t, ok, "%s: %q is no number of the list; columns %v", name, x.SKU, l.Columns)
				g := goods[i]
				used++
				require.Equal(t, stock.Money(g.price), x.Price, "%s: %+v; columns %v", name, g, l.Columns)
				require.Equal(t, [2]int{g.size, g.pieces}, [2]int{int(x.Stick.Capacity.Or(0) / jedec.GiB), x.Pieces},
					"%s: %+v; columns %v", name, g, l.Columns)
				require.Equal(t, g.stock, x.Quantity, "%s: %+v; columns %v", name, g, l.Columns)
				if x.Condition != "" {
					assert.Equal(t, g.state, x.Condition, name)
				}
			}
		}
	}
	assert.GreaterOrEqual(t, used*100, all*98, "%d of %d rows", used, all)
}
