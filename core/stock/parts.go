package stock

import (
	"slices"
	"strings"
	"unicode"

	"epitome/core/module"
	"epitome/core/plain"
)

// A part is a column that tells some of what a module is, where a list has no column that tells it whole: type, size,
// speed. A bare figure means what the column's title names.
type part struct {
	column int
	before string // "CL" of a latency
	behind string // "GB" of a size
}

// partTitles are titles of columns that tell some of a module, by what a bare figure in them is.
var partTitles = []struct{ before, behind, words string }{
	{"", "GB", "capacity|size|gb|memory size|größe|grösse|kapazität|capacité|taille|go|capacidad|tamaño|capacidade|" +
		"tamanho|capacità|dimensione|capaciteit|grootte|kapacitet|storlek|pojemność|kapacita|velikost|объем|объём|" +
		"kapasite|boyut|容量"},
	{"", "MB", "mb|mo"},
	{"", "MT/s", "mt/s|data rate|datenrate"},
	{"", "MHz", "mhz|speed|frequency|rate|clock|takt|geschwindigkeit|taktfrequenz|fréquence|vitesse|frecuencia|" +
		"velocidad|frequência|velocidade|frequenza|velocità|snelheid|frequentie|hastighet|frekvens|prędkość|" +
		"taktowanie|frekvence|rychlost|частота|скорость|hız|frekans|速度|周波数|频率"},
	{"CL", "", "cl|cas|latency|cas latency|latenz|latence|latencia|latência|latenza|latentie|latens|opóźnienie|" +
		"latence cl|латентность|тайминг|gecikme|レイテンシ|时序"},
	{"", "V", "v|volt|volts|voltage|spannung|tension|voltaje|tensão|tensione|spanning|spänning|napięcie|napětí|" +
		"напряжение|gerilim|電圧|电压"},
}

// partOf is what the title of a column makes of its bare figures; ok is false where it tells of no part of a module.
func (t title) partOf() (p part, ok bool) {
	if t.words == "" {
		return p, false
	}
	for _, row := range partTitles {
		for word := range strings.SplitSeq(row.words, "|") {
			if t.words == word || len(word) > 3 && strings.HasPrefix(t.words, word+" ") {
				return part{before: row.before, behind: row.behind}, true
			}
		}
	}
	return p, false
}

// text is what a part's cell says, a bare figure with its unit.
func (p part) text(cells []string) string {
	if p.column >= len(cells) {
		return ""
	}
	cell := strings.TrimSpace(cells[p.column])
	if cell == "" || !bareFigure(cell) && strings.ContainsFunc(cell, unicode.IsLetter) {
		return cell
	}
	return p.before + cell + p.behind
}

// describes joins what the parts of a row say.
func describes(parts []part, cells []string) string {
	var words []string
	for _, p := range parts {
		if w := p.text(cells); w != "" && !slices.Contains(words, w) {
			words = append(words, w)
		}
	}
	return plain.Line(strings.Join(words, " "))
}

// rateBehind is what an untitled column of rates is read as, behind the generation that another names.
var rateBehind = part{behind: "MT/s"}

// partsOf finds the columns that together tell of a module where none does by itself: nil where one does, or where
// together they tell of one in fewer than half of the rows.
func partsOf(titles []title, rows []Row, cells []filling, columns, fixed map[Field]int) []part {
	asked := sample(rows)
	if _, named := fixed[Description]; named || len(asked) == 0 {
		return nil
	}
	whole := func(parts []part) (share float64) {
		for _, r := range asked {
			if isModule(describes(parts, r.Cells)) {
				share += 1 / float64(len(asked))
			}
		}
		return share
	}
	alone := 0.0
	if at, ok := columns[Description]; ok {
		alone = whole([]part{{column: at}})
	}
	if alone > 0.5 {
		return nil
	}
	var parts []part
	for at := range cells {
		p, is := part{}, false
		if at < len(titles) {
			p, is = titles[at].partOf()
		}
		if !is && cells[at].rated > 0.9 {
			p, is = rateBehind, true
		}
		p.column = at
		free := !isTaken(columns, at) || at == column(columns, Description) ||
			at == column(columns, SKU) && !cells[at].distinct // numbers of articles differ
		if !free || !is && !saysOfModules(p, asked) {
			continue
		}
		parts = append(parts, p)
	}
	if len(parts) < 2 || whole(parts) <= max(0.5, alone) {
		return nil
	}
	return parts
}

// column is a field's, -1 where it has none.
func column(columns map[Field]int, f Field) int {
	if at, ok := columns[f]; ok {
		return at
	}
	return -1
}

// saysOfModules reports whether most cells of a column say something of a module.
func saysOfModules(p part, rows []Row) bool {
	says, of := 0, 0
	for _, r := range rows {
		if text := p.text(r.Cells); text != "" {
			of++
			if _, err := module.Parse(plain.Line(text)); err == nil {
				says++
			}
		}
	}
	return of > 0 && 2*says > of
}
