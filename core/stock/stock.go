// Package stock reads price lists of any supplier's shape. Columns are
// recognised by what their titles mean; descriptions are read as stickers and
// shops' texts are. A line that can't be read is kept and counted, with the
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
	Problem string   // why the line is not used; empty where it is
	Assumed []string // what was taken from beside the line, such as the currency
}

// A List is one supplier's price list.
type List struct {
	Supplier string
	Lines    []Line
	Header   int            // its row
	Columns  map[Field]int  // which column holds what, from 0
	Titles   []string       // of all columns
	Passed   []string       // titles of columns that mean nothing here
	Untitled bool           // it has no titles: what its columns hold was found by their cells
	Currency string         // that the price's title names
	Problems map[string]int // how many lines each kind of problem has
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
)

// Fields are all fields, in the order in which they are shown.
var Fields = []Field{SKU, Description, Price, Currency, Quantity, Pieces, State, Minimum}

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
	Number  int // 1 for the file's first line or the sheet's first row
	Cells   []string
	Problem string // why the row can't be taken apart; Cells is empty then
}

// Read reads a list row by row. Errors wrap ErrNoHeader or ErrColumns.
func Read(rows iter.Seq[Row], o Options) (List, error) {
	l := List{Supplier: o.Supplier, Columns: make(map[Field]int), Problems: make(map[string]int)}
	memo := memory{said: make(map[string]described), sticks: make(map[module.Key]*module.Module),
		states: make(map[string]Condition)}
	var head, waiting []Row
	var err error
	for r := range rows {
		if l.Header > 0 {
			if waiting = append(waiting, r); len(waiting) == batch {
				l.addAll(waiting, o, memo)
				waiting = waiting[:0]
			}
			continue
		}
		if head = append(head, r); len(head) == headerRows {
			if err = l.begin(head, o, memo); err != nil {
				break
			}
		}
	}
	if l.Header == 0 && err == nil {
		err = l.begin(head, o, memo)
	}
	if err != nil {
		return l, err
	}
	l.addAll(waiting, o, memo)
	l.markDuplicates()
	for _, line := range l.Lines {
		if line.Problem != "" {
			kind, _, _ := strings.Cut(line.Problem, ":")
			l.Problems[kind]++
		}
	}
	return l, nil
}

// begin finds the header among the first rows, and takes the rest of them.
func (l *List) begin(head []Row, o Options, memo memory) error {
	at, err := l.findHeader(head, o.Map, o.Unpriced)
	if err != nil {
		return err
	}
	if l.Currency != "" {
		o.Currency = l.Currency
	}
	l.addAll(head[at+1:], o, memo)
	return nil
}

// batch is how many rows are read together.
const batch = 1024

// addAll takes rows below the header. What they describe is understood by all processors
// at once; the lines are then made in their order.
func (l *List) addAll(rows []Row, o Options, memo memory) {
	at, ok := l.Columns[Description]
	var texts []string
	for _, r := range rows {
		if ok && r.Problem == "" && at < len(r.Cells) {
			text := plain.Line(r.Cells[at])
			if _, seen := memo.said[text]; !seen && len(text) <= longestText {
				memo.said[text] = described{}
				texts = append(texts, text)
			}
		}
	}
	understood := make([]described, len(texts))
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
		d := understood[i]
		if d.err == nil {
			if same := memo.sticks[d.key]; same != nil {
				d.stick = same // lines that come to the same share it
			} else {
				memo.sticks[d.key] = d.stick
			}
			d.key = module.Key{}
		}
		memo.said[text] = d
	}
	for _, r := range rows {
		l.add(r, o, memo)
	}
}

// describe understands one description.
func describe(text string) (d described) {
	s, err := module.Parse(text)
	if err != nil {
		return described{err: err}
	}
	d.pieces, d.state = s.Pieces, s.Condition
	s.Pieces, s.From, s.Passed, s.Condition = fact.Fact[int]{}, "", nil, ""
	d.stick, d.key = &s, s.Key()
	return d
}

// add takes a row below the header.
func (l *List) add(r Row, o Options, memo memory) {
	switch {
	case r.Problem != "":
		l.Lines = append(l.Lines, Line{Supplier: l.Supplier, Row: r.Number, Pieces: 1, MinOrder: 1,
			Problem: "broken row: " + plain.Line(r.Problem)})
	case !blank(r.Cells):
		l.Lines = append(l.Lines, l.line(r.Cells, r.Number, o, memo))
	}
}

func blank(cells []string) bool {
	return !slices.ContainsFunc(cells, func(c string) bool { return strings.TrimSpace(c) != "" })
}

// findHeader takes the row that tells most, of those that name a price and a
// description, and returns where among the rows it stands.
func (l *List) findHeader(rows []Row, mapped map[Field]string, unpriced bool) (at int, err error) {
	best := 0
	for i, r := range rows {
		columns, currency := recognise(r.Cells)
		_, price := columns[Price]
		_, text := columns[Description]
		if (price || unpriced) && text && len(columns) > best {
			best, l.Columns, l.Currency, at = len(columns), columns, currency, i
		}
	}
	if best == 0 && len(mapped) == 0 {
		// The titles of some columns may be of no language that is read; the row that
		// tells least by its cells is taken for them then.
		if columns, ok := untitled(rows); ok {
			l.Columns, l.Untitled = columns, true
			first := 0
			for first < len(rows)-1 && !tells(rows[first].Cells, columns) {
				first++
			}
			l.Header = rows[first].Number
			return first - 1, nil
		}
	}
	if best == 0 && (len(mapped) == 0 || len(rows) == 0) {
		var first []string
		if len(rows) > 0 {
			first = rows[0].Cells
		}
		return 0, fmt.Errorf("%w: the first row reads %q; a list wants columns for description and price, named with "+
			"--columns where their titles do not tell", ErrNoHeader, plain.Line(strings.Join(first, " | ")))
	}
	l.Titles = rows[at].Cells
	for _, f := range Fields {
		name, ok := mapped[f]
		if !ok {
			continue
		}
		column := columnNamed(l.Titles, name)
		if column < 0 {
			return 0, fmt.Errorf("%w: there is no column %q; there are %s", ErrColumns, name,
				plain.Line(strings.Join(l.Titles, ", ")))
		}
		l.Columns[f] = column
	}
	for _, f := range []Field{Description, Price} {
		if _, ok := l.Columns[f]; !ok && !(unpriced && f == Price) {
			return 0, fmt.Errorf("%w: which column is the %s? --columns %s=TITLE tells", ErrColumns, f, f)
		}
	}
	for i, title := range l.Titles {
		used := false
		for _, column := range l.Columns {
			used = used || column == i
		}
		if !used && strings.TrimSpace(title) != "" {
			l.Passed = append(l.Passed, plain.Line(title))
		}
	}
	l.Header = rows[at].Number
	return at, nil
}

// tells reports whether a row holds a module and its price.
func tells(cells []string, columns map[Field]int) bool {
	text, price := columns[Description], columns[Price]
	return text < len(cells) && price < len(cells) && isModule(cells[text]) && isPrice(cells[price])
}

func columnNamed(names []string, name string) int {
	if n, err := strconv.Atoi(name); err == nil && n >= 1 && n <= len(names) {
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
