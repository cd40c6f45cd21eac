package stock

import (
	"maps"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"epitome/core/jedec"
	"epitome/core/module"
	"epitome/core/plain"
)

// sampled is how many rows, spread over the whole list, are asked what its columns hold.
const sampled = 200

// A filling is what the cells of a column parse as: shares, 0 to 1, of those that hold anything.
type filling struct {
	filled    float64 // of the rows that were asked
	module    float64 // says of a module what it must say at least
	priced    float64 // an amount with decimals or a currency
	amount    float64 // an amount at all
	whole     float64 // a whole number of up to four digits
	stocked   float64 // words about what is in stock
	code      float64 // letters and figures without a blank
	condition float64
	currency  float64 // a currency's code or sign alone
	rated     float64 // a rate that memory runs at: 1333, 3200
	distinct  bool
	small     bool // no amount reaches three: volts, not money
	none      bool // a nought stands among whole numbers
}

// sample is rows that are spread over the whole list.
func sample(rows []Row) (asked []Row) {
	step := max(1, len(rows)/sampled)
	for i := 0; i < len(rows); i += step {
		if r := rows[i]; r.Problem == "" && !blank(r.Cells) {
			asked = append(asked, r)
		}
	}
	return asked
}

// fillings asks the rows of a list what each column holds.
func fillings(rows []Row) []filling {
	asked, width := sample(rows), 0
	for _, r := range asked {
		width = max(width, len(r.Cells))
	}
	out := make([]filling, width)
	for at := range out {
		out[at] = fillingOf(columnOfCells(asked, at), len(asked))
	}
	return out
}

func fillingOf(cells []string, asked int) (f filling) {
	times, n := make(map[string]float64, len(cells)), 0.0 // a list says much again and again
	for _, cell := range cells {
		if cell != "" {
			times[cell]++
			n++
		}
	}
	f.distinct, f.small = float64(len(times)) == n, true
	for cell, many := range times {
		add := func(share *float64, is bool) {
			if is {
				*share += many
			}
		}
		price, _, err := ParsePrice(cell)
		number, notWhole := strconv.Atoi(cell)
		whole := notWhole == nil && number >= 0 && len(cell) <= 4
		f.none = f.none || cell == "0"
		f.small = f.small && (err != nil || price < 300)
		add(&f.rated, whole && isRate(number))
		add(&f.amount, err == nil && price > 0)
		add(&f.whole, whole)
		add(&f.priced, isPrice(cell))
		add(&f.code, !whole && isCode(cell))
		add(&f.currency, currencyOf(cell) != "" || sharers[strings.ToLower(cell)] != "")
		switch {
		case notWhole == nil: // figures alone are none of what follows
		case isModule(cell):
			add(&f.module, true)
		default:
			_, isStock := stockIn(cell)
			add(&f.stocked, isStock && len(cell) > 1)
			add(&f.condition, isCondition(cell))
		}
	}
	if n == 0 {
		return filling{}
	}
	f.filled = n / float64(max(1, asked))
	for _, share := range []*float64{&f.module, &f.priced, &f.amount, &f.whole, &f.stocked, &f.code, &f.condition,
		&f.currency, &f.rated} {
		*share /= n
	}
	return f
}

// suits weighs how well a field suits a column, by title and cells together: above nought where it may be, the most
// where both say so. Cells weigh more than a title, which shops choose as they like.
func suits(f Field, t title, c filling) float64 {
	s := t.tells(f)
	if c.filled == 0 {
		return s
	}
	if _, is := t.partOf(); is && f != Description && s < 4.5 {
		return 0 // its figures are gigabytes, or megahertz
	}
	w := weigh(f, t, c, s)
	other := func(f Field) bool { return f != Description && t.tells(f) >= 4.5 }
	if s == 0 && f != Description && slices.ContainsFunc(Fields, other) {
		w -= 2 // its title says that it is something else
	}
	if w > 0 || s < 4.5 {
		return w
	}
	return 0.3 // the title says so; where nothing suits better, cells that can't be read are a column's all the same
}

func weigh(f Field, t title, c filling, s float64) float64 {
	told := s
	switch f {
	case Description:
		if s += 10 * c.module; c.module == 0 && c.whole+c.priced+c.currency > 0.6 {
			s -= 7
		}
	case Price, Sale:
		switch {
		case c.small && c.amount > 0.6:
			s -= 4
		case f == Price && t.words == "" && c.priced < 0.5, f == Sale && s <= 0:
			return 0
		}
		if whole := c.amount - c.priced; told >= 3 {
			s += 6 * whole
		} else {
			s += 2 * whole
		}
		s += 6*c.priced - 4*(1-c.amount)
		if f == Sale {
			s = max(s, told) // few rows have one
		} else if t.words != "" && told == 0 && c.priced < 0.3 {
			return 0 // whole numbers that nothing calls money
		}
	case Quantity:
		if told <= 0 && c.rated > 0.9 {
			return 0
		}
		s += 4*c.stocked + 1.5*c.whole - 4*(1-c.whole-c.stocked)
		if told <= 0 && c.stocked < 0.3 && (c.whole < 0.9 || c.distinct && !c.none) {
			return 0
		}
	case SKU:
		switch {
		case c.priced > 0.5 && c.currency == 0 && told <= 0, c.module > 0.5 && told <= 0:
			return 0
		case c.distinct && c.whole > 0.5 && told <= 0 && t.tells(Description) <= 0:
			return 0 // a few figures that nothing calls a number may count anything
		case c.distinct:
			s += 2.5*c.code + 0.5*c.whole
		case told <= 0:
			return 0
		case c.whole > 0.9 && c.none:
			s -= 3
		}
	case State:
		if s += 5*c.condition - 3*(1-c.condition); told <= 0 && c.condition < 0.6 {
			return 0
		}
	case Currency:
		if s += 6*c.currency - 4*(1-c.currency); told <= 0 && c.currency < 0.9 {
			return 0
		}
	case Pieces, Minimum:
		if s <= 0 {
			return 0
		}
		s -= 5 * (1 - c.whole)
		if f == Pieces && c.none {
			s -= 2 // no kit holds none; a shelf may
		}
	}
	return s
}

// isTaken reports whether a column has a field.
func isTaken(columns map[Field]int, at int) bool {
	for _, column := range columns {
		if column == at {
			return true
		}
	}
	return false
}

// assign gives columns their fields so that all of them together suit best. Fields that fixed names keep their column.
func assign(titles []title, cells []filling, fixed map[Field]int) map[Field]int {
	width := max(len(titles), len(cells))
	type choice struct {
		made  bool
		score float64
		of    [16]int16 // a field's column and one, 0 for none
	}
	best := make([]choice, 1<<len(Fields)) // by the set of fields that have a column
	best[0].made = true
	for at := range width {
		if isTaken(fixed, at) {
			continue
		}
		var t title
		var c filling
		if at < len(titles) {
			t = titles[at]
		}
		if at < len(cells) {
			c = cells[at]
		}
		next := slices.Clone(best)
		for i, f := range Fields {
			if _, is := fixed[f]; is {
				continue
			}
			s := suits(f, t, c)
			if s <= 0 {
				continue
			}
			for have, so := range best {
				with := have | 1<<i
				if !so.made || with == have {
					continue
				}
				so.score += s - float64(at)*1e-6 // of two that suit alike the one further left
				so.of[i] = int16(at + 1)
				if !next[with].made || so.score > next[with].score {
					next[with] = so
				}
			}
		}
		best = next
	}
	var most choice
	for _, c := range best {
		if c.made && c.score > most.score {
			most = c
		}
	}
	columns := maps.Clone(fixed)
	if columns == nil {
		columns = make(map[Field]int)
	}
	for i, f := range Fields {
		if most.of[i] > 0 {
			columns[f] = int(most.of[i]) - 1
		}
	}
	if _, ok := columns[Price]; !ok { // what is named a sale is the price where there is no other
		if at, ok := columns[Sale]; ok {
			columns[Price] = at
			delete(columns, Sale)
		}
	}
	return columns
}

func columnOfCells(rows []Row, column int) (cells []string) {
	for _, r := range rows {
		if column < len(r.Cells) {
			cells = append(cells, strings.TrimSpace(r.Cells[column]))
		}
	}
	return cells
}

// isRate reports whether a figure is a rate of any generation, in MT/s.
func isRate(n int) bool {
	return slices.ContainsFunc(jedec.Generations(), func(g jedec.Generation) bool {
		_, ok := jedec.GradeAt(g, jedec.Rate(n))
		return ok
	})
}

// isModule reports whether a cell says of a module what it at least must say.
func isModule(cell string) bool {
	if len(cell) > longestText || strings.IndexFunc(cell, unicode.IsLetter) < 0 ||
		strings.IndexFunc(cell, unicode.IsDigit) < 0 {
		return false
	}
	s, err := module.Parse(plain.Line(cell))
	return err == nil && s.Generation.Known() && s.Capacity.Known()
}

// isPrice reports whether a cell is an amount that can't be a number of pieces: with
// decimals, or with a currency.
func isPrice(cell string) bool {
	price, currency, err := ParsePrice(cell)
	return err == nil && price > 0 && (currency != "" || strings.ContainsAny(cell, ".,") || signed(cell))
}

// signed reports whether a currency's sign stands in a text.
func signed(cell string) bool {
	return strings.ContainsFunc(cell, func(r rune) bool { return unicode.Is(unicode.Sc, r) })
}

func isCode(cell string) bool {
	return cell != "" && len(cell) <= 30 && strings.ContainsFunc(cell, unicode.IsDigit) &&
		!strings.ContainsRune(cell, ' ') && !isPrice(cell)
}

func isCondition(cell string) bool {
	if len(cell) > 30 {
		return false
	}
	_, ok := module.ConditionOf(cell)
	return ok || conditions[strings.ToLower(cell)] != ""
}
