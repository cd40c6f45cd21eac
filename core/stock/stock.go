// Package stock reads price lists of any supplier's shape. What a column holds
// is decided by its title and its cells together; descriptions are read as
// stickers and shops' texts are. A line that can't be read is kept and counted, with the
// reason, and never used.
package stock

import (
	"errors"
	"fmt"
	"iter"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync"
	"unicode"

	"epitome/core/fact"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/plain"
)

// A Condition is in which state a module is sold; empty where the list does not say.
type Condition = module.Condition

// The conditions, as [module.Condition] has them.
const (
	New         = module.New
	Used        = module.Used
	Refurbished = module.Refurbished
)

// A Line is one line of a price list.
type Line struct {
	Supplier    string
	Row         int // in the file, 1 for the first
	SKU         string
	Description string
	Price       Money
	Currency    string           // ISO 4217, empty where nothing says it
	Quantity    maybe.Value[int] // kits or modules in stock; unknown where the list does not say
	Pieces      int              // modules that one unit holds
	Condition   Condition
	MinOrder    int // least number of units, 1 where nothing says it
	// one module, without the description; lines that come to the same share it, nil where it says nothing
	Stick   *module.Module
	Sheet   string   // of the workbook that the row is in, where it has several that are read
	Problem string   // why the line is not used; empty where it is
	Assumed []string // what is doubtful of the line and was taken all the same: a sale price, a word about stock
	beside  bool     // the currency was taken from other rows, or said of the list
	sign    string   // a currency's sign that several share
}

// A List is one supplier's price list.
type List struct {
	Supplier string
	Lines    []Line
	Header   int            // its row
	Columns  map[Field]int  // which column holds what, from 0
	Beside   []int          // columns that tell more of the module, where that of the description does not tell it whole
	Titles   []string       // of all columns
	Passed   []string       // titles of columns that mean nothing here
	Untitled bool           // no title tells of the description or the price: they were found by their cells
	Tax      string         // what the price's title says of it: "net", "gross", empty
	AtLeast  int            // pieces that must be taken for the prices, by their title; 1 for any
	Currency string         // that the price's title names
	Problems map[string]int // how many lines each kind of problem has
	parts    []part         // the columns of Description and Beside, nil where one tells all
}

// A Field is what a column means.
type Field string

// The fields.
const (
	SKU         Field = "sku"
	Description Field = "description"
	Price       Field = "price"
	Currency    Field = "currency"
	Quantity    Field = "quantity"
	Pieces      Field = "pieces"
	State       Field = "condition"
	Minimum     Field = "minimum"
	Sale        Field = "sale"
)

// Fields are all fields, in the order in which they are shown.
var Fields = []Field{SKU, Description, Price, Currency, Quantity, Pieces, State, Minimum, Sale}

// Errors of Read, for callers that branch.
var (
	ErrNoHeader = errors.New("no header row was recognised")
	ErrColumns  = errors.New("column mapping can't be used")
)

// Options are what a list does not say of itself.
type Options struct {
	Supplier string
	Currency string           // where neither column nor sign says it
	Map      map[Field]string // a field's column by its title or number, from 1
	Unpriced bool             // nothing of it is sold: no price is wanted, as of a drawer
}

// headerRows is how far down a header is looked for: titles of the shop may
// stand above it.
const headerRows = 30

// A Row is one row of a list as the file has it.
type Row struct {
	Sheet   string // the sheet's name in a workbook
	Number  int    // 1 for the file's first line or the sheet's first row
	Cells   []string
	Problem string // why the row can't be taken apart; Cells is empty then
}

// Read reads a list. Of a workbook every sheet is read by itself; what a list says of its columns is that of the sheet
// with the most lines that can be used, and sheets that are no price list are passed over. Errors wrap ErrNoHeader or
// ErrColumns.
func Read(rows iter.Seq[Row], o Options) (l List, err error) {
	memo := memory{said: make(map[string]*described), sticks: make(map[module.Key]*module.Module),
		states: make(map[string]Condition), batch: make([]understanding, batch)}
	var lists []List
	for _, sheet := range sheetsOf(slices.Collect(rows)) {
		one, failed := readSheet(sheet, o, memo)
		switch {
		case failed == nil:
			lists = append(lists, one)
		case err == nil:
			l, err = one, failed
		}
	}
	if len(lists) == 0 {
		return l, err
	}
	if l = lists[0]; len(lists) == 1 {
		for i := range l.Lines {
			l.Lines[i].Sheet = ""
		}
	} else {
		l = slices.MaxFunc(lists, func(a, b List) int { return len(a.Usable()) - len(b.Usable()) })
		l.Lines = nil
		for _, one := range lists {
			l.Lines = append(l.Lines, one.Lines...)
		}
	}
	l.markDuplicates()
	for _, line := range l.Lines {
		if line.Problem != "" {
			kind, _, _ := strings.Cut(line.Problem, ":")
			l.Problems[kind]++
		}
	}
	return l, nil
}

// sheetsOf parts rows by their sheets; there is one at least.
func sheetsOf(rows []Row) (sheets [][]Row) {
	from := 0
	for at := range rows {
		if rows[at].Sheet != rows[from].Sheet {
			sheets, from = append(sheets, rows[from:at]), at
		}
	}
	return append(sheets, rows[from:])
}

// readSheet reads the rows of a file, or of one sheet.
func readSheet(rows []Row, o Options, memo memory) (List, error) {
	l := List{Supplier: o.Supplier, Columns: make(map[Field]int), Problems: make(map[string]int), AtLeast: 1}
	from, err := l.findColumns(rows, o)
	if err != nil {
		return l, err
	}
	l.Lines = make([]Line, 0, len(rows)-from)
	for batch := range slices.Chunk(rows[from:], batch) {
		l.addAll(batch, o, memo)
	}
	l.agreeOnCurrency(o.Currency)
	return l, nil
}

// batch is how many rows are read together.
const batch = 1024

// addAll takes rows below the header. What they describe is understood by all processors
// at once; the lines are then made in their order.
func (l *List) addAll(rows []Row, o Options, memo memory) {
	var texts []string
	for _, r := range rows {
		if r.Problem == "" {
			text := l.describes(r.Cells)
			if _, seen := memo.said[text]; !seen && len(text) <= longestText {
				memo.said[text] = nil
				texts = append(texts, text)
			}
		}
	}
	understood := memo.batch[:len(texts)]
	share := (len(texts) + runtime.GOMAXPROCS(0) - 1) / runtime.GOMAXPROCS(0)
	var wait sync.WaitGroup
	for from := 0; from < len(texts); from += share {
		wait.Go(func() {
			for i := from; i < min(from+share, len(texts)); i++ {
				understood[i] = describe(texts[i])
			}
		})
	}
	wait.Wait()
	for i, text := range texts {
		u := &understood[i]
		if u.err == nil {
			if u.stick = memo.sticks[u.key]; u.stick == nil { // lines that come to the same share it
				one := u.module
				u.stick, memo.sticks[u.key] = &one, &one
			}
		}
		d := u.described
		memo.said[text] = &d
	}
	for _, r := range rows {
		l.add(r, o, memo)
	}
}

// describes is what a row says of its module.
func (l *List) describes(cells []string) string {
	if l.parts != nil {
		return describes(l.parts, cells)
	}
	if at, ok := l.Columns[Description]; ok && at < len(cells) {
		return plain.Line(cells[at])
	}
	return ""
}

// describe understands one description.
func describe(text string) (u understanding) {
	s, err := module.Parse(text)
	if err != nil {
		u.err = err
		return u
	}
	u.left = stockSaid(text)
	u.pieces, u.state, u.doubts = s.Pieces, s.Condition, s.Doubts
	s.Pieces, s.From, s.Passed, s.Doubts, s.Condition = fact.Fact[int]{}, "", nil, nil, ""
	u.module, u.key = s, s.Key()
	return u
}

// add takes a row below the header.
func (l *List) add(r Row, o Options, memo memory) {
	switch {
	case r.Problem != "":
		l.Lines = append(l.Lines, Line{Supplier: l.Supplier, Sheet: r.Sheet, Row: r.Number, Pieces: 1, MinOrder: 1,
			Problem: "broken row: " + plain.Line(r.Problem)})
	case !blank(r.Cells):
		l.Lines = append(l.Lines, l.line(r, o, memo))
	}
}

func blank(cells []string) bool {
	return !slices.ContainsFunc(cells, func(c string) bool { return strings.TrimSpace(c) != "" })
}

// findColumns decides what each column means, by titles and cells together, and returns the first row below the titles.
func (l *List) findColumns(rows []Row, o Options) (from int, err error) {
	head := rows[:min(len(rows), headerRows)]
	at := titleRow(head, o.Unpriced)
	if at < 0 && len(o.Map) > 0 && len(head) > 0 && !tells(head[0].Cells) {
		at = 0
	}
	if at < 0 && len(head) > 0 {
		at = unknownTitles(head)
	}
	if at >= 0 {
		l.Titles, l.Header = head[at].Cells, head[at].Number
	} else {
		for _, r := range head {
			if !blank(r.Cells) {
				l.Header = r.Number
				break
			}
		}
	}
	cells := fillings(rows[at+1:])
	fixed, err := l.mapped(o.Map, len(cells))
	if err != nil {
		return 0, err
	}
	read := titlesOf(l.Titles)
	l.Columns = assign(read, cells, fixed)
	if l.parts = partsOf(read, rows[at+1:], cells, l.Columns, fixed); l.parts != nil {
		l.Columns[Description] = l.parts[0].column
		for _, p := range l.parts {
			if p.column == column(l.Columns, SKU) {
				delete(l.Columns, SKU)
			}
		}
		for _, p := range l.parts[1:] {
			l.Beside = append(l.Beside, p.column)
		}
	}
	_, text := l.Columns[Description]
	_, price := l.Columns[Price]
	switch {
	case text && (price || o.Unpriced):
	case len(o.Map) > 0 && len(head) > 0:
		f := Price
		if !text {
			f = Description
		}
		return 0, fmt.Errorf("%w: which column is the %s? --columns %s=TITLE tells", ErrColumns, f, f)
	default:
		var first []string
		if len(head) > 0 {
			first = head[0].Cells
		}
		return 0, fmt.Errorf("%w: the first row reads %q; a list wants columns for description and price, named with "+
			"--columns where neither their titles nor their cells tell", ErrNoHeader, plain.Line(strings.Join(first, " | ")))
	}
	for _, f := range []Field{Description, Price} {
		at, have := l.Columns[f]
		_, named := fixed[f]
		l.Untitled = l.Untitled || have && !named && (at >= len(read) || read[at].tells(f) <= 0)
	}
	if price && l.Columns[Price] < len(read) {
		t := read[l.Columns[Price]]
		l.Currency, l.Tax, l.AtLeast = t.currency, t.tax(), t.atLeast()
	}
	for i, title := range l.Titles {
		if !isTaken(l.Columns, i) && !slices.Contains(l.Beside, i) && strings.TrimSpace(title) != "" {
			l.Passed = append(l.Passed, plain.Line(title))
		}
	}
	return at + 1, nil
}

// said counts the cells that hold anything.
func said(cells []string) (n int) {
	for _, c := range cells {
		if strings.TrimSpace(c) != "" {
			n++
		}
	}
	return n
}

// titleRow is the row among the first ones whose titles tell most; -1 where none has any that is known.
func titleRow(head []Row, unpriced bool) (at int) {
	at, best := -1, 0
	for i, r := range head {
		if said(r.Cells) < 2 {
			continue // a shop's name, or what a part of the list is of
		}
		if tells(r.Cells) {
			break
		}
		columns, _ := recognise(r.Cells)
		score := 2 * len(columns)
		_, price := columns[Price]
		if _, text := columns[Description]; text && (price || unpriced) {
			score++
		}
		if score > best && !slices.ContainsFunc(r.Cells, isPrice) {
			at, best = i, score
		}
	}
	return at
}

// unknownTitles is the row right above the first that holds a module, where it has a word for each of two columns or
// more; -1 where there is none.
func unknownTitles(head []Row) int {
	for i, r := range head {
		if !tells(r.Cells) {
			continue
		}
		if i == 0 || said(head[i-1].Cells) < 2 {
			return -1
		}
		for _, cell := range head[i-1].Cells {
			if strings.ContainsFunc(cell, unicode.IsDigit) {
				return -1
			}
		}
		return i - 1
	}
	return -1
}

// mapped finds the columns that somebody named.
func (l *List) mapped(named map[Field]string, width int) (map[Field]int, error) {
	fixed := make(map[Field]int)
	for _, f := range Fields {
		name, ok := named[f]
		if !ok {
			continue
		}
		column := columnNamed(l.Titles, name, width)
		if column < 0 {
			return nil, fmt.Errorf("%w: there is no column %q; there are %s", ErrColumns, name,
				plain.Line(strings.Join(l.Titles, ", ")))
		}
		fixed[f] = column
	}
	return fixed, nil
}

// tells reports whether a row holds a module, and is no title then.
func tells(cells []string) bool { return slices.ContainsFunc(cells, isModule) }

func columnNamed(names []string, name string, width int) int {
	if n, err := strconv.Atoi(name); err == nil && n >= 1 && n <= max(len(names), width) {
		return n - 1
	}
	return slices.IndexFunc(names,
		func(t string) bool { return strings.EqualFold(strings.TrimSpace(t), strings.TrimSpace(name)) })
}

// Usable returns the lines without a problem.
func (l List) Usable() (out []Line) {
	for _, x := range l.Lines {
		if x.Problem == "" {
			out = append(out, x)
		}
	}
	return out
}

// Ordered names a line of a price list so that it can be ordered: by its number, else by its row and the list's own
// words. Empty where none of it is known, as of a specification.
func Ordered(sku, supplier string, row int, text string) string {
	switch {
	case sku != "":
		return strings.TrimSuffix(sku+", "+supplier, ", ")
	case row > 0:
		return strings.TrimSpace(fmt.Sprintf("%s row %d: %q", supplier, row, text))
	}
	return supplier
}
