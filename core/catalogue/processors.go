package catalogue

import (
	_ "embed"
	"slices"
	"strconv"
	"strings"
	"sync"

	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
)

//go:embed controllers.csv
var controllersCSV string

var controllerRows = sync.OnceValue(func() []row { return readTable("controllers", controllersCSV).each() })

// A Processor is what is known of a processor that is to be recognised.
type Processor struct {
	Maker         string           // "intel" or "amd"; taken from the brand where empty
	Brand         string           // the brand string as the processor gives it
	Family, Model maybe.Value[int] // display values, as cpuinfo shows them
}

// ProcessorOf is what a machine tells of its processor.
func ProcessorOf(m machine.Machine) Processor {
	p := Processor{Brand: m.Processor.Or("")}
	if id, ok := m.CPUID.Get(); ok {
		p.Family, p.Model = maybe.Just(id.Family), maybe.Just(id.Model)
	}
	return p
}

// A Controller is the memory controller of a processor family for one
// generation, with the limits of the brand's own tier. What is not known is
// unknown, never the family's best case.
type Controller struct {
	ID, Maker, Family string
	Generation        string // as the table has it: DDR3L is apart where 1.5 V is outside the specification
	Channels, DIMMs   maybe.Value[int]
	ChannelRanks      maybe.Value[int] // that the controller selects on a channel
	Rates             Rates
	Rate              maybe.Value[jedec.Rate]     // official highest, one module a channel
	Most              maybe.Value[jedec.Capacity] // published maximum
	DensityMbit       maybe.Value[int]            // largest die on unbuffered modules
	X4, X16           maybe.Value[bool]
	ECC               maybe.Value[[]string] // kinds accepted; an empty list is "none"
	ECCIf             []string              // what else ECC depends on
	MilliVolts        []int
	Runs              Runs
	Confidence        Confidence
	Basis             string
	ReportedAs        string   // another generation that firmware calls this memory; empty for none
	Soft              []string // limits that stand one step softer: one compilation only
	Note              string
	Where             string // "FILE:LINE" of the user's own entry, empty for embedded ones
	disputed          map[Limit]int
	row               row // of the embedded table
}

// Runs is what commonly runs though the maker publishes less: never a limit and never a
// proof. Unknown where nothing is said, or where it is no more than what is published.
type Runs struct {
	Most        maybe.Value[jedec.Capacity]
	DensityMbit maybe.Value[int]
	Note        string // why, for showing
}

// Weakest returns the lowest confidence among controllers: what holds for all
// of them stands no firmer.
func Weakest(list []Controller) Confidence {
	weakest := High
	for _, c := range list {
		if c.Confidence == Low || c.Confidence == Medium && weakest == High {
			weakest = c.Confidence
		}
	}
	return weakest
}

// maker is who makes the processor, by its own word or by its brand string.
func (p Processor) maker() string {
	if p.Maker != "" {
		return makerOf(p.Maker)
	}
	if maker := makerOf(p.Brand); maker != "" {
		return maker
	}
	for _, x := range brandWords {
		if matches(x.words, p.Brand) {
			return x.maker
		}
	}
	return ""
}

// brandWords are names of processors by which a brand string without its maker is known: "Pentium(R) Dual-Core CPU".
var brandWords = []struct{ maker, words string }{
	{"intel", `(?i)\b(?:pentium|celeron|xeon|core\((?:tm|r)\)|atom\((?:tm|r)\))`},
	{"amd", `(?i)\b(?:athlon|sempron|opteron|phenom|turion|duron|ryzen|epyc)\b`},
}

// KnowsMaker reports whether the catalogue has processors of a maker, as people write
// it or as processors name themselves ("GenuineIntel").
func (k Catalogue) KnowsMaker(name string) bool {
	for _, o := range k.own {
		for _, p := range o.Processors {
			if folded(p.Maker) == folded(name) {
				return true
			}
		}
	}
	return makerOf(name) != ""
}

// makerOf finds the maker in a brand string.
func makerOf(brand string) string {
	lower := strings.ToLower(brand)
	for _, x := range [][2]string{{"intel", "intel"}, {"amd", "amd"}, {"centaurhauls", "via"}} {
		if strings.Contains(lower, x[0]) {
			return x[1]
		}
	}
	if lower == "via" || strings.HasPrefix(strings.TrimSpace(lower), "via ") {
		return "via"
	}
	return ""
}

// Recognise returns the controllers of the family that the processor belongs
// to, one a generation; none where no row matches. Maker and brand must match,
// and family and model where they are given: the makers' numbers overlap. No
// match means no row, never the nearest one.
func Recognise(p Processor) []Controller {
	var found []Controller
	for _, f := range familiesBy(p.maker()) {
		if !f.isLed && f.isOf(p) && f.row.holds(p.Brand) {
			found = append(found, f.row.controller(p.Brand))
		}
	}
	return found
}

// A family is what tells whether a row is of a processor's family, read once.
type family struct {
	row             row
	isLed           bool
	families, model []string
	brand           string
}

// familiesBy are the rows of a maker's processors.
func familiesBy(maker string) []family { return familiesByMaker()[maker] }

var familiesByMaker = sync.OnceValue(func() map[string][]family {
	by := make(map[string][]family)
	for _, r := range controllerRows() {
		maker := r.text("maker")
		by[maker] = append(by[maker],
			family{r, r.led(), r.list("cpuid_family"), r.list("cpuid_model"), r.text("brand_regex")})
	}
	return by
})

// isOf reports whether a processor of the row's maker is of its family.
func (f family) isOf(p Processor) bool {
	return sameNumber(f.families, p.Family) && sameNumber(f.model, p.Model) && matches(f.brand, p.Brand)
}

// sameNumber compares hexadecimal cells with a number that may not be known.
func sameNumber(cells []string, n maybe.Value[int]) bool {
	want, known := n.Get()
	return !known || len(cells) == 0 || slices.ContainsFunc(cells, func(cell string) bool {
		v, err := strconv.ParseInt(cell, 0, 32)
		return err == nil && int(v) == want
	})
}

// holds reports whether the row holds for this brand at all: a family's parts
// may take different generations.
func (r row) holds(brand string) bool {
	only, except := r.text("only"), r.text("except")
	return (only == "" || matches(only, brand)) && (except == "" || !matches(except, brand))
}

func (r row) controller(brand string) Controller {
	c := Controller{ID: r.text("id"), Maker: r.text("maker"), Family: r.text("family"),
		Confidence: Confidence(r.text("confidence")), Basis: r.basis(), Soft: r.softOnes(), disputed: r.disputed(), row: r,
		ReportedAs: r.text("reported_as")}
	controllerForm().fill(&c, r, brand)
	if _, _, tiers := r.byBrand("tiers", brand); tiers {
		c.Rates = c.Rates.capTo(c.Rate.Get())
	}
	c.Runs = c.Runs.beyond(c)
	return c
}

// beyond keeps what runs only as far as it goes beyond what is published.
func (runs Runs) beyond(c Controller) Runs {
	if most, ok := runs.Most.Get(); ok && most <= c.Most.Or(0) {
		runs.Most = maybe.None[jedec.Capacity]()
	}
	if mbit, ok := runs.DensityMbit.Get(); ok && mbit <= c.DensityMbit.Or(0) {
		runs.DensityMbit = maybe.None[int]()
	}
	if !runs.Most.Known() && !runs.DensityMbit.Known() {
		return Runs{}
	}
	return runs
}
