package stock

import (
	"cmp"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"epitome/core/fact"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/plain"
)

// longestText bounds a description, in bytes: no shop writes more of a module.
const longestText = 1000

// A described is what a description came to; lists repeat themselves.
type described struct {
	stick  *module.Module // one module of it
	pieces fact.Fact[int]
	state  module.Condition
	doubts []string
	left   maybe.Value[int] // how many there are, where the text says it: "sold"
	err    error
}

// An understanding is what one description of a batch came to, before it is known which others come to the same.
type understanding struct {
	described
	module module.Module
	key    module.Key
}

// A memory is what a list's descriptions and states came to, so that each is read once and
// what many of them come to is kept once.
type memory struct {
	said   map[string]*described
	sticks map[module.Key]*module.Module
	states map[string]Condition // "" where a state is not understood
	batch  []understanding      // used for one batch after another
}

func (l *List) line(r Row, o Options, memo memory) Line {
	cells := r.Cells
	cell := func(f Field) string {
		if at, ok := l.Columns[f]; ok && at < len(cells) {
			return plain.Line(cells[at])
		}
		return ""
	}
	x := Line{Supplier: l.Supplier, Sheet: r.Sheet, Row: r.Number, SKU: cell(SKU), Description: l.describes(cells),
		Pieces: 1, MinOrder: max(1, l.AtLeast)}
	for _, step := range []func() string{
		func() string {
			if o.Unpriced {
				return ""
			}
			return x.readPrice(cell(Price), cell(Sale), cell(Currency))
		},
		func() string { return x.readStick(memo, cell(Pieces)) },
		func() string { return x.readCounts(cell(Quantity), cell(Minimum)) },
		func() string { return x.readCondition(memo, cell(State)) },
	} {
		if problem := step(); problem != "" && x.Problem == "" {
			x.Problem = problem
		}
	}
	return x
}

func (x *Line) readPrice(text, sale, currency string) string {
	if text == "" {
		text, sale = sale, ""
	}
	if text == "" {
		return "no price"
	}
	price, code, sign, err := readMoney(text, false)
	switch {
	case err != nil:
		return "price not understood: " + strconv.Quote(text)
	case price < 0:
		return "negative price: " + text
	case price == 0:
		return "price of nought: " + text
	}
	if sale != "" {
		now, of, _, unread := readMoney(sale, false)
		if unread == nil && now > 0 && now < price && (of == "" || of == code) {
			price = now
			x.Assumed = append(x.Assumed, "the sale price, and that the sale is still on")
		}
	}
	x.Price, x.Currency, x.sign = price, code, sign
	if of := currencyOf(currency); of != "" {
		if code != "" && code != of {
			return fmt.Sprintf("two currencies: %s beside %s", code, of)
		}
		x.Currency = of
	} else if x.sign == "" && signed(currency) {
		x.sign = currency
	}
	return ""
}

// agreeOnCurrency gives prices that name no currency the one that the list names: in its title, or in other rows where
// these name one alone; else the one that is said of the list.
func (l *List) agreeOnCurrency(otherwise string) {
	named := make(map[string]bool)
	for _, x := range l.Lines {
		if x.Currency != "" && x.Problem == "" {
			named[x.Currency] = true
		}
	}
	of := cmp.Or(l.Currency, otherwise)
	if of == "" && len(named) == 1 {
		of = slices.Collect(maps.Keys(named))[0]
	}
	for i := range l.Lines {
		x := &l.Lines[i]
		if x.Price == 0 || x.Currency != "" || of == "" || !signMay(x.sign, of) {
			continue
		}
		x.Currency, x.beside = of, l.Currency == "" || x.sign != ""
	}
}

// Place is where a line stands: its row, and its sheet where several are read.
func (x Line) Place() string {
	if x.Sheet != "" {
		return fmt.Sprintf("row %d of sheet %q", x.Row, x.Sheet)
	}
	return fmt.Sprintf("row %d", x.Row)
}

// MayBeIn reports whether a price that names no currency may be in one: no sign beside it speaks against that.
func (x Line) MayBeIn(code string) bool { return x.Currency == "" && signMay(x.sign, code) }

func (x *Line) readStick(memo memory, pieces string) string {
	if len(x.Description) > longestText {
		return fmt.Sprintf("description too long: %d characters, %d are read", len(x.Description), longestText)
	}
	d := memo.said[x.Description]
	if d == nil { // no cell at all: the row is short
		u := describe(x.Description)
		d = &u.described
	}
	if d.err != nil {
		if errors.Is(d.err, module.ErrNothing) || x.Description == "" {
			return "no memory module: " + strconv.Quote(x.Description)
		}
		return "description not understood: " + d.err.Error()
	}
	x.Stick = d.stick
	x.Condition, x.Quantity = d.state, d.left
	for _, doubt := range d.doubts {
		x.Assumed = append(x.Assumed, "without its "+doubt)
	}
	own, stated := d.pieces.Get()
	if stated {
		x.Pieces = own
	}
	if pieces != "" {
		n, err := strconv.Atoi(pieces)
		switch {
		case err != nil || n < 1 || n > module.MaxPieces:
			return "pieces not understood: " + strconv.Quote(pieces)
		case stated && own != n:
			return fmt.Sprintf("pieces contradict: the description says %d, the column %d", own, n)
		case !stated && n > 1:
			return fmt.Sprintf("kit unclear: %d pieces, and whether %q is each or all is not stated", n, x.Description)
		}
		x.Pieces = n
	}
	if !x.Stick.Capacity.Known() || !x.Stick.Generation.Known() {
		return "too little stated: capacity or generation is missing"
	}
	return ""
}

func (x *Line) readCounts(quantity, minimum string) string {
	if quantity != "" {
		n, ok := stockIn(quantity)
		if !ok {
			x.Assumed = append(x.Assumed, "that there is stock: "+strconv.Quote(quantity)+" is not understood")
		}
		if x.Quantity != maybe.Just(0) { // a text that says "sold" is newer than a count
			x.Quantity = n
		}
	}
	if minimum != "" {
		n, ok := stockIn(minimum)
		if least, _ := n.Get(); ok && least >= 1 {
			x.MinOrder = max(x.MinOrder, least)
		} else {
			return "minimum order not understood: " + strconv.Quote(minimum)
		}
	}
	return ""
}

// conditions are the short forms of lists; words are the reader's of descriptions.
var conditions = map[string]Condition{"n": New, "u": Used, "b-stock": Used, "r": Refurbished}

func (x *Line) readCondition(memo memory, text string) string {
	if text == "" {
		return ""
	}
	c, seen := memo.states[text]
	if !seen {
		if c = conditions[strings.ToLower(text)]; c == "" {
			c, _ = module.ConditionOf(text)
		}
		memo.states[text] = c
	}
	if c == "" {
		if n, ok := stockIn(text); ok {
			if n == maybe.Just(0) {
				x.Quantity = n
			}
			return ""
		}
		return "condition not understood: " + strconv.Quote(text)
	}
	worse := module.Worse(x.Condition, c)
	if x.Condition != "" && c != x.Condition {
		x.Assumed = append(x.Assumed,
			fmt.Sprintf("%s: the column says %s, the description %s, and the worse one counts", worse, c, x.Condition))
	}
	x.Condition = worse
	return ""
}

// markDuplicates withdraws lines with one sku and two prices: which of them
// holds is not known.
func (l *List) markDuplicates() {
	first := make(map[string]int)
	for i, x := range l.Lines {
		if x.SKU == "" {
			continue
		}
		j, seen := first[x.SKU]
		if !seen {
			first[x.SKU] = i
			continue
		}
		other := &l.Lines[j]
		switch {
		case x.Problem != "" || other.Problem != "" && !strings.HasPrefix(other.Problem, "sku twice"):
		case other.Price == x.Price && other.Description == x.Description:
			l.Lines[i].Problem = "line repeated: as " + other.Place()
		default:
			l.Lines[i].Problem = fmt.Sprintf("sku twice: %s stands in %s with another price or text", x.SKU, other.Place())
			other.Problem = fmt.Sprintf("sku twice: %s stands in %s with another price or text", x.SKU, x.Place())
		}
	}
}

// TakenForGranted lists what the line does not say and a trader takes from it all the
// same, a phrase each: these are likely and not stated.
func (x Line) TakenForGranted() []string {
	out := slices.Clone(x.Assumed)
	if x.beside {
		out = append(out, "that the price is in "+x.Currency)
	}
	s := x.Stick
	if s == nil {
		return out
	}
	if !s.Form.Known() {
		if leans, ok := s.Leans("form"); ok {
			out = append(out, leans+" by the machine that the text names")
		} else {
			out = append(out, "no form is stated: fits where the machine's own form is the only one sold")
		}
	}
	if _, server := s.Leans("registered"); server && !s.Registered.Known() {
		out = append(out, "registered, as it is for servers")
	} else if !s.Registered.Known() && !s.ECC.Known() {
		out = append(out, "unbuffered and without check bits, as the text names neither")
	}
	return out
}
