package stock

import (
	"errors"
	"fmt"
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
	key    module.Key
	err    error
}

// A memory is what a list's descriptions and states came to, so that each is read once and
// what many of them come to is kept once.
type memory struct {
	said   map[string]described
	sticks map[module.Key]*module.Module
	states map[string]Condition // "" where a state is not understood
}

func (l *List) line(cells []string, row int, o Options, memo memory) Line {
	cell := func(f Field) string {
		if at, ok := l.Columns[f]; ok && at < len(cells) {
			return plain.Line(cells[at])
		}
		return ""
	}
	x := Line{Supplier: l.Supplier, Row: row, SKU: cell(SKU), Description: cell(Description), Pieces: 1, MinOrder: 1}
	for _, step := range []func() string{
		func() string {
			if o.Unpriced {
				return ""
			}
			return x.readPrice(cell(Price), cell(Currency), o.Currency)
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

func (x *Line) readPrice(text, currency, otherwise string) string {
	if text == "" {
		return "no price"
	}
	price, code, err := ParseMoney(text)
	switch {
	case err != nil:
		return "price not understood: " + strconv.Quote(text)
	case price < 0:
		return "negative price: " + text
	case price == 0:
		return "price of nought: " + text
	}
	x.Price, x.Currency = price, code
	if c := strings.ToUpper(strings.TrimSpace(currency)); c != "" {
		if sign, ok := symbols[strings.ToLower(c)]; ok {
			c = sign
		}
		if code != "" && c != "" && code != c {
			return fmt.Sprintf("two currencies: %s beside %s", code, c)
		}
		x.Currency = c
	}
	if x.Currency == "" && otherwise != "" {
		x.Currency = otherwise
		x.Assumed = append(x.Assumed, "currency")
	}
	return ""
}

func (x *Line) readStick(memo memory, pieces string) string {
	if len(x.Description) > longestText {
		return fmt.Sprintf("description too long: %d characters, %d are read", len(x.Description), longestText)
	}
	d, seen := memo.said[x.Description]
	if !seen {
		d = describe(x.Description) // no cell at all: the row is short
	}
	if d.err != nil {
		if errors.Is(d.err, module.ErrNothing) || x.Description == "" {
			return "no memory module: " + strconv.Quote(x.Description)
		}
		return "description not understood: " + d.err.Error()
	}
	x.Stick = d.stick
	x.Condition = d.state
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
		n, ok := countIn(quantity)
		if !ok {
			return "quantity not understood: " + strconv.Quote(quantity)
		}
		x.Quantity = maybe.Just(n)
	}
	if minimum != "" {
		n, ok := countIn(minimum)
		if !ok || n < 1 {
			return "minimum order not understood: " + strconv.Quote(minimum)
		}
		x.MinOrder = n
	}
	return ""
}

// countIn reads a quantity: "12", "12 pcs", ">50", "10+", "yes", "no", "-".
func countIn(text string) (int, bool) {
	t := strings.ToLower(strings.TrimSpace(text))
	switch t {
	case "yes", "ja", "oui", "in stock", "available", "lieferbar":
		return 1, true // at least one
	case "no", "nein", "non", "-", "out of stock", "sold out", "none":
		return 0, true
	}
	t = strings.TrimLeft(t, "><~=+ ")
	end := strings.IndexFunc(t, func(r rune) bool { return r < '0' || r > '9' })
	if end < 0 {
		end = len(t)
	}
	n, err := strconv.Atoi(t[:end])
	rest := strings.TrimSpace(t[end:])
	return n, err == nil && (rest == "" || rest == "+" || rest == "pcs" || rest == "st" || rest == "stk" ||
		rest == "units" || rest == ".0" || rest == ",0")
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
			l.Lines[i].Problem = fmt.Sprintf("line repeated: as row %d", other.Row)
		default:
			l.Lines[i].Problem = fmt.Sprintf("sku twice: %s stands in row %d with another price or text", x.SKU, other.Row)
			other.Problem = fmt.Sprintf("sku twice: %s stands in row %d with another price or text", x.SKU, x.Row)
		}
	}
}

// TakenForGranted lists what the line does not say and a trader takes from it all the
// same, a phrase each: these are likely and not stated.
func (x Line) TakenForGranted() []string {
	out := slices.Clone(x.Assumed)
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
