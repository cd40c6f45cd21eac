package catalogue

import (
	_ "embed"
	"slices"
	"strconv"
	"sync"

	"epitome/core/jedec"
)

//go:embed market.csv
var marketCSV string

// A Sold is a module that shops ordinarily sell, or sold. Generation, supplies, form, kind, size, ranks and width are
// its key. What is not among them is not sold: it is never proposed, though a stick at hand may well be one.
type Sold struct {
	Generation              jedec.Generation
	Form                    jedec.Form
	Kind                    jedec.Kind
	Size                    jedec.Capacity
	Ranks, Width            int // as the controller sees them, bits of a chip; 0 where that is not certain
	DensityMbit             int
	Stack                   int           // dies behind one another; 1 for none
	Grades                  []SoldGrade   // of the standard, the slowest first
	Profiles                []SoldProfile // overclocking profiles that such modules carry
	MilliVolts              []int         // supplies that it is rated for; the first is what its label says
	Years                   string        // "2014-2024"
	Laptop, Desktop, Server HowCommon     // in its years
	Confidence              Confidence    // high: two compilations have it
	Note                    string        // for showing
	rates, scarce           []jedec.Rate  // of Grades
	ordinary                []jedec.Rate  // see SoldGrade
}

// A SoldGrade is a standard grade that a module is sold by.
type SoldGrade struct {
	Grade    jedec.Grade
	CL       jedec.Latency // usual, 0 where that is not known
	Scarce   bool          // harder to get than the module in its other grades: one buys the next one up
	Ordinary bool          // of all layouts of its size this is the one that a shop sends
}

// A SoldProfile is an overclocking profile that modules are sold by.
type SoldProfile struct {
	Rate jedec.Rate
	CL   jedec.Latency
}

// HowCommon is how often a module is met: "common", "less common", "rare", "no".
type HowCommon string

// The words, the commonest first.
const (
	Common     HowCommon = "common"
	LessCommon HowCommon = "less common"
	Rare       HowCommon = "rare"
	Never      HowCommon = "no"
)

var howCommon = []HowCommon{Common, LessCommon, Rare, Never}

// Rare reports whether the module existed and is hard to get anywhere.
func (s Sold) Rare() bool { return slices.Index(howCommon, s.Best()) >= slices.Index(howCommon, Rare) }

// Best is how common the module is where it is most so.
func (s Sold) Best() HowCommon {
	return slices.MinFunc([]HowCommon{s.Laptop, s.Desktop, s.Server},
		func(a, b HowCommon) int { return slices.Index(howCommon, a) - slices.Index(howCommon, b) })
}

// Supplies are those that the module is rated for.
func (s Sold) Supplies() jedec.Supplies { return jedec.SuppliesOf(s.MilliVolts...) }

// RunsLow reports whether a DDR3 module is one of 1.35 V, which runs at 1.5 V, too.
func (s Sold) RunsLow() bool {
	return s.Generation == jedec.DDR3 && slices.Contains(s.MilliVolts, 1350)
}

// At is the grade that one buys where memory runs at no more than top: the fastest that is not faster, or the next one
// up where that one is scarce; else the slowest there is. top 0 is the fastest there is.
func (s Sold) At(top jedec.Rate) SoldGrade {
	best := 0
	for i, g := range s.Grades {
		if top == 0 || g.Grade.Rate <= top {
			best = i
		}
	}
	for up := best; up < len(s.Grades); up++ {
		if !s.Grades[up].Scarce {
			return s.Grades[up]
		}
	}
	for ; best > 0 && s.Grades[best].Scarce; best-- {
	}
	return s.Grades[best]
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
				if s := r.sold(); len(s.Grades) > 0 {
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

// soldKinds are the table's words for what stands between contacts and chips, without and with check bits.
var soldKinds = map[string][2]jedec.Kind{
	"unbuffered":         {jedec.Unbuffered, jedec.UnbufferedECC},
	"clocked unbuffered": {jedec.Clocked, jedec.ClockedECC},
	"registered":         {jedec.KindUnknown, jedec.RegisteredECC},
	"load-reduced":       {jedec.KindUnknown, jedec.LoadReduced},
	"fully buffered":     {jedec.KindUnknown, jedec.FullyBuffered},
}

// sold reads a row.
func (r row) sold() (s Sold) {
	soldForm().fill(&s, r, "")
	s.Kind = soldKinds[r.text("buffering")][map[string]int{"yes": 1}[r.text("ecc")]]
	latencies := r.list("cl")
	for i, rate := range s.rates {
		if x, real := jedec.GradeAt(s.Generation, rate); real {
			s.Grades = append(s.Grades, SoldGrade{x, latencyAt(latencies, i), slices.Contains(s.scarce, rate),
				slices.Contains(s.ordinary, rate)})
		}
	}
	latencies = r.list("profile_cl")
	for i, rate := range r.list("profile_rates") {
		n, _ := strconv.Atoi(rate)
		s.Profiles = append(s.Profiles, SoldProfile{jedec.Rate(n), latencyAt(latencies, i)})
	}
	return s
}

func latencyAt(list []string, at int) jedec.Latency {
	if at >= len(list) {
		return 0
	}
	cl, _ := strconv.ParseFloat(list[at], 64)
	return jedec.Latency(cl * 2)
}

// Market returns the modules of a generation and form that are ordinarily sold, of every kind; none
// where the table does not cover them.
func Market(g jedec.Generation, f jedec.Form) (list []Sold) {
	for _, s := range soldOf(g) {
		if s.Form == f {
			list = append(list, s)
		}
	}
	return list
}

// Others are the layouts that may come instead of a module where only its size and a rate are named, the commonest
// first: of its generation, supplies, form, kind and size, sold at the rate.
func (s Sold) Others(rate jedec.Rate) (list []Sold) {
	for _, o := range soldOf(s.Generation) {
		if o.Form != s.Form || o.Kind != s.Kind || o.Size != s.Size || o.RunsLow() != s.RunsLow() ||
			o.Ranks == s.Ranks && o.Width == s.Width {
			continue
		}
		if slices.ContainsFunc(o.Grades, func(g SoldGrade) bool { return g.Grade.Rate == rate }) {
			list = append(list, o)
		}
	}
	slices.SortStableFunc(list, func(a, b Sold) int {
		return slices.Index(howCommon, a.CommonAt(rate)) - slices.Index(howCommon, b.CommonAt(rate))
	})
	return list
}

// CommonAt is how common the module is at a rate: a step less where that one is scarce, and never less than rare.
func (s Sold) CommonAt(rate jedec.Rate) HowCommon {
	at := slices.Index(howCommon, s.Best())
	if slices.Contains(s.scarce, rate) {
		at++
	}
	return howCommon[min(at, slices.Index(howCommon, Rare))]
}

// SizesSold lists the sizes of modules that are sold, ascending; those that the
// generation's standard allows where the market's table does not cover it. Without kinds those of every kind.
func SizesSold(g jedec.Generation, f jedec.Form, kinds ...jedec.Kind) (sizes []jedec.Capacity) {
	for _, s := range soldOf(g) {
		if (s.Form == f || f == jedec.FormUnknown) && !slices.Contains(sizes, s.Size) &&
			(len(kinds) == 0 || slices.Contains(kinds, s.Kind)) {
			sizes = append(sizes, s.Size)
		}
	}
	if len(sizes) == 0 {
		return jedec.ModuleSizes(g)
	}
	slices.Sort(sizes)
	return sizes
}

// howCommons are the table's words of how often a module is met.
func howCommons() kind[HowCommon] {
	return kind[HowCommon]{
		schema: "string",
		read:   func(s string, _ jedec.Generation) (HowCommon, string) { return HowCommon(s), "" },
		write:  func(c HowCommon) string { return string(c) },
	}
}

// kindsSold are kinds of modules in words; the table has them in two columns.
func kindsSold() kind[jedec.Kind] {
	return kind[jedec.Kind]{
		schema: "string",
		read:   func(string, jedec.Generation) (jedec.Kind, string) { return jedec.KindUnknown, "" },
		write:  jedec.Kind.String, json: func(k jedec.Kind) any { return k.String() },
	}
}
