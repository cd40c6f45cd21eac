package catalogue

import (
	_ "embed"
	"slices"
	"strconv"
	"strings"
	"sync"

	"epitome/core/jedec"
)

//go:embed market.csv
var marketCSV string

// A Sold is a module that shops ordinarily sell, or sold: of its size, with its ranks and
// chips, in its usual grades. What is not among them is not sold: it is never proposed,
// though a stick at hand may well be one.
type Sold struct {
	Generation   jedec.Generation
	Form         jedec.Form
	Registered   bool
	Checked      bool // ECC modules of the kind are sold, too; of registered ones always
	Size         jedec.Capacity
	Ranks, Width int
	DensityMbit  int
	Grades       []SoldGrade // the slowest first
	MilliVolts   int
	Years        string // "2014-2024"
	Rare         bool   // it existed, and is hard to get
	Note         string
	rates        []jedec.Rate // of Grades
}

// A SoldGrade is a grade with its usual latency, 0 where that is not known.
type SoldGrade struct {
	Grade jedec.Grade
	CL    jedec.Latency
}

// At is the grade that one buys where memory runs at no more than top: the fastest that
// is not faster, else the slowest there is. top 0 is the fastest there is.
func (s Sold) At(top jedec.Rate) SoldGrade {
	best := s.Grades[0]
	for _, g := range s.Grades {
		if top == 0 || g.Grade.Rate <= top {
			best = g
		}
	}
	return best
}

// market has the table's rows by generation; those of one are taken apart when they are first
// asked for, since a machine takes one.
var market = sync.OnceValue(func() map[jedec.Generation]func() []Sold {
	rows := make(map[jedec.Generation][]row)
	for _, r := range readTable("market", marketCSV).each() {
		if g, _, ok := jedec.ParseGeneration(r.text("generation")); ok {
			rows[g] = append(rows[g], r)
		}
	}
	list := make(map[jedec.Generation]func() []Sold, len(rows))
	for g, of := range rows {
		list[g] = sync.OnceValue(func() (list []Sold) {
			for _, r := range of {
				if s, ok := r.sold(g); ok {
					list = append(list, s)
				}
			}
			return list
		})
	}
	return list
})

// soldOf are the modules of a generation.
func soldOf(g jedec.Generation) []Sold {
	if list, ok := market()[g]; ok {
		return list()
	}
	return nil
}

// sold reads a row. A row that speaks of check bits is of the plain module and of the
// one with check bits alike; which of them is rare it does not tell apart. What decides
// for the plain one is its dies: those that other ordinary modules are made of are
// ordinary.
func (r row) sold(g jedec.Generation) (Sold, bool) {
	_, known := jedec.ParseForm(r.text("form"))
	kind := map[string]bool{"CUDIMM": true, "CSODIMM": true}[r.text("form")]
	if !known || kind || strings.Contains(r.text("note"), "fully") {
		return Sold{}, false // modules with a clock driver fit where the plain ones do, and cost more
	}
	s := Sold{Rare: r.text("ordinary") == "rare"}
	soldForm().fill(&s, r, "")
	s.Checked = s.Registered || strings.Contains(s.Note, "ECC")
	latencies := r.list("cl")
	for i, rate := range s.rates {
		x, real := jedec.GradeAt(g, rate)
		cl := 0.0
		if i < len(latencies) {
			cl, _ = strconv.ParseFloat(latencies[i], 64)
		}
		if real {
			s.Grades = append(s.Grades, SoldGrade{x, jedec.Latency(cl * 2)})
		}
	}
	return s, len(s.Grades) > 0
}

// Market returns the modules of a generation and form that are ordinarily sold; none
// where the table does not cover them.
func Market(g jedec.Generation, f jedec.Form) (list []Sold) {
	ordinary := 0 // the densest die of modules that are ordinary for certain
	for _, s := range soldOf(g) {
		if !s.Rare && !s.Registered {
			ordinary = max(ordinary, s.DensityMbit)
		}
	}
	for _, s := range soldOf(g) {
		if s.Form != f {
			continue
		}
		if s.Rare && s.Checked && !s.Registered && s.DensityMbit <= ordinary && s.Width == 8 {
			s.Rare = false
		}
		list = append(list, s)
	}
	return list
}

// SizesSold lists the sizes of modules that are sold, ascending; those that the
// generation's standard allows where the market's table does not cover it.
func SizesSold(g jedec.Generation, f jedec.Form) (sizes []jedec.Capacity) {
	for _, s := range soldOf(g) {
		if (s.Form == f || f == jedec.FormUnknown) && !slices.Contains(sizes, s.Size) {
			sizes = append(sizes, s.Size)
		}
	}
	if len(sizes) == 0 {
		return jedec.ModuleSizes(g)
	}
	slices.Sort(sizes)
	return sizes
}
