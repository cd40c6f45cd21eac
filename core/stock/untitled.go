package stock

import (
	"strings"
	"unicode"

	"epitome/core/module"
)

// untitled finds out by the cells what the columns of a list hold that has no titles: the
// description is the column that reads as modules, the price the one whose cells are
// amounts with decimals or a currency, the article's number the one whose cells are short,
// different, and of letters and figures. ok is false where description or price do not
// stand out; nothing else is guessed at.
func untitled(rows []Row) (columns map[Field]int, ok bool) {
	width, lines := 0, 0
	for _, r := range rows {
		if !blank(r.Cells) {
			width, lines = max(width, len(r.Cells)), lines+1
		}
	}
	if lines == 0 || width > 100 {
		return nil, false
	}
	most := max(1, (lines-1)*3/4) // a row of titles of no language that is read may stand above
	columns = make(map[Field]int)
	best := map[Field]int{}
	take := func(f Field, column, score, least int) {
		if score >= least && score > best[f] {
			columns[f], best[f] = column, score
		}
	}
	for column := range width {
		cells := columnOfCells(rows, column)
		take(Description, column, count(cells, isModule), (lines+1)/2)
		take(Price, column, count(cells, isPrice), most)
	}
	text, hasText := columns[Description]
	price, hasPrice := columns[Price]
	if !hasText || !hasPrice || text == price {
		return nil, false
	}
	for column := range width {
		if column == text || column == price {
			continue
		}
		cells := columnOfCells(rows, column)
		if different(cells) {
			take(SKU, column, count(cells, isCode), most)
		}
		take(State, column, count(cells, isCondition), most)
	}
	return columns, true
}

func columnOfCells(rows []Row, column int) (cells []string) {
	for _, r := range rows {
		if column < len(r.Cells) && !blank(r.Cells) {
			cells = append(cells, strings.TrimSpace(r.Cells[column]))
		}
	}
	return cells
}

func count(cells []string, is func(string) bool) (n int) {
	for _, c := range cells {
		if is(c) {
			n++
		}
	}
	return n
}

// isModule reports whether a cell says of a module what it at least must say.
func isModule(cell string) bool {
	if len(cell) > longestText || strings.IndexFunc(cell, unicode.IsLetter) < 0 {
		return false
	}
	s, err := module.Parse(cell)
	return err == nil && s.Generation.Known() && s.Capacity.Known()
}

// isPrice reports whether a cell is an amount that can't be a number of pieces: with
// decimals, or with a currency.
func isPrice(cell string) bool {
	price, currency, err := ParseMoney(cell)
	return err == nil && price > 0 &&
		(currency != "" || strings.ContainsAny(cell, ".,") ||
			strings.ContainsFunc(cell, func(r rune) bool { return unicode.Is(unicode.Sc, r) }))
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
	return ok
}

func different(cells []string) bool {
	seen := make(map[string]bool)
	for _, c := range cells {
		if seen[c] {
			return false
		}
		seen[c] = true
	}
	return true
}
