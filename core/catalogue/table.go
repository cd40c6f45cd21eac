package catalogue

import (
	"encoding/csv"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"epitome/core/pattern"
)

// A table is one of the embedded lists: rows of cells under named columns. An
// empty cell is not known.
type table struct {
	columns []string
	rows    [][]string
}

func readTable(name, text string) table {
	rows, err := csv.NewReader(strings.NewReader(text)).ReadAll()
	if err != nil || len(rows) == 0 {
		panic(fmt.Sprintf("catalogue: embedded %s: %v", name, err)) // a test reads it
	}
	return table{columns: rows[0], rows: rows[1:]}
}

// A row is one row of a table, read by column name.
type row struct {
	columns []string
	cells   []string
}

func (t table) each() []row {
	out := make([]row, len(t.rows))
	for i, cells := range t.rows {
		out[i] = row{t.columns, cells}
	}
	return out
}

// text returns a cell; a column that the table lacks is a mistake of ours.
func (r row) text(column string) string {
	i := slices.Index(r.columns, column)
	if i < 0 {
		panic("catalogue: no column " + column)
	}
	return r.cells[i]
}

// list returns the parts of a cell that holds several.
func (r row) list(column string) []string {
	if text := r.text(column); text != "" {
		return strings.Split(text, "|")
	}
	return nil
}

// A tier is one entry of the small form "expression=>value; …".
type tier struct {
	key, value string
}

func (r row) tiers(column string) []tier {
	var out []tier
	for entry := range strings.SplitSeq(r.text(column), "; ") {
		if key, value, found := strings.Cut(entry, "=>"); found {
			out = append(out, tier{key, value})
		}
	}
	return out
}

// byBrand picks the tier whose expression the brand string matches, first
// match first. tiered reports whether the cell has tiers at all: where it has
// and none matches, the value for that processor is not known.
func (r row) byBrand(column, brand string) (value string, matched, tiered bool) {
	tiers := r.tiers(column)
	for _, t := range tiers {
		if matches(t.key, brand) {
			return t.value, true, true
		}
	}
	return "", false, len(tiers) > 0
}

// soft reports whether only one compilation filled the column, or one hand doubts
// it, so that its cell stands one step softer than an agreed one.
func (r row) soft(column string) bool {
	single := r.list("single")
	return slices.Contains(single, column) || slices.Contains(single, "*") || r.text("compilations") == "1" ||
		r.doubted(column)
}

// doubted reports whether a hand doubts the column. An entry without a column's name
// is about the kinds by tier.
func (r row) doubted(column string) bool {
	for entry := range strings.SplitSeq(r.text("doubted"), "; ") {
		name, _, named := strings.Cut(entry, ": ")
		if named && name == column || !named && entry != "" && column == string(ECC) {
			return true
		}
	}
	return false
}

// softOnes names the limits that only one compilation has, by their own column or by the
// one that gives them by brand.
func (r row) softOnes() (soft []string) {
	holds := func(column string) bool {
		return slices.Contains(r.columns, column) && r.text(column) != "" && r.soft(column)
	}
	for _, f := range controllerFields() {
		if f.Column != "" && (holds(f.Column) || f.Tiers != "" && holds(f.Tiers)) {
			soft = append(soft, f.Column)
		}
	}
	return soft
}

var disputedFigure = pattern.Of(`(?:^|; )([a-z0-9_]+): [AC]=([0-9]+), [BD]=([0-9]+)(?:;|$)`)

// disputed returns the smaller figure of each upper limit about which the
// compilations differ: common ground, good for "at least".
func (r row) disputed() map[Limit]int {
	var out map[Limit]int
	for _, m := range disputedFigure().FindAllStringSubmatch(r.text("disputed"), -1) {
		a, err1 := strconv.Atoi(m[2])
		b, err2 := strconv.Atoi(m[3])
		if err1 == nil && err2 == nil {
			if out == nil {
				out = make(map[Limit]int)
			}
			out[Limit(m[1])] = min(a, b)
		}
	}
	return out
}

// basis says in words what a row rests on.
func (r row) basis() string {
	words := []string{"two compilations compared cell by cell"}
	if r.text("compilations") == "1" {
		words = []string{"one compilation only"}
	}
	if s := r.text("single"); s != "" && s != "*" {
		words = append(words, "from one of them only: "+strings.ReplaceAll(s, "|", ", "))
	}
	if s := r.text("doubted"); s != "" {
		words = append(words, "doubted: "+s)
	}
	if s := r.text("disputed"); s != "" {
		words = append(words, "disputed and therefore unknown: "+s)
	}
	return strings.Join(words, "; ")
}
