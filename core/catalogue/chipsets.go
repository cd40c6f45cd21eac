package catalogue

import (
	_ "embed"
	"maps"
	"slices"
	"strconv"
	"strings"
	"sync"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
)

//go:embed chipsets.csv
var chipsetsCSV string

var chipsetRows = sync.OnceValue(func() []row { return readTable("chipsets", chipsetsCSV).each() })

// A Chipset is one row of the chipset table: a northbridge that holds the
// memory controller, or a hub that caps or allows something.
type Chipset struct {
	ID, Maker, Name, Role string
	Generations           []string
	DIMMs                 maybe.Value[int] // cap on slots a channel
	Overclock             maybe.Value[bool]
	Shared                bool // its PCI id is carried by other chipsets too: the id names a group
	Recalled              bool // the id is recalled alike by both compilations and not in the id list
	Confidence            Confidence
	Basis                 string
	ECC                   maybe.Value[[]string] // kinds it allows; unknown where the processor decides
	Cap                   maybe.Value[jedec.Rate]
	CapByGeneration       map[string]jedec.Rate
	Where                 string // "FILE:LINE" of the user's own entry
	From                  string // the workshop that a packed entry comes from
	Soft                  []string
	ids                   []string
	controllers           []Controller // of a northbridge, one a generation
	row                   row          // of the embedded table
}

// Controllers returns what a northbridge says as the memory controller, one a
// generation; none where the chipset holds no controller.
func (c Chipset) Controllers() []Controller { return c.controllers }

// InCommon keeps what two chipsets share that one id may stand for; each figure
// that differs is unknown. Of two standings the weaker stays. The controllers of
// northbridges are not brought together here.
func (c Chipset) InCommon(o Chipset) Chipset {
	id, maker, name, basis, confidence := c.ID, c.Maker, c.Name, c.Basis, c.Confidence
	for _, f := range chipsetForm().fields {
		f.at(&c).meet(f.at(&o), f.Meeting)
	}
	c.ID, c.Maker, c.Name, c.Basis = id, maker, name, basis
	c.CapByGeneration = maps.Clone(c.CapByGeneration)
	maps.DeleteFunc(c.CapByGeneration, func(g string, rate jedec.Rate) bool { return o.CapByGeneration[g] != rate })
	c.Recalled = c.Recalled || o.Recalled
	c.Confidence = Weakest([]Controller{{Confidence: confidence}, {Confidence: o.Confidence}})
	c.row = row{}
	c.Soft = append(slices.Clone(c.Soft), o.Soft...)
	c.controllers = nil
	return c
}

// RateCap returns the chipset's cap on the rate for a generation, unknown
// where it has none or it is not known.
func (c Chipset) RateCap(generation string) maybe.Value[jedec.Rate] {
	if len(c.CapByGeneration) > 0 {
		rate, ok := c.CapByGeneration[generation]
		return maybe.If(rate, ok)
	}
	return c.Cap
}

// Standing returns how firmly a figure of the chipset stands.
func (c Chipset) Standing(l Limit) fact.Standing {
	stands := Controller{Confidence: c.Confidence, Soft: c.Soft}.Standing(l)
	if c.Recalled {
		return min(stands, fact.Leaning)
	}
	return stands
}

func (r row) chipset() Chipset {
	c := Chipset{Basis: r.basis(), Soft: r.softOnes(), row: r}
	chipsetForm().fill(&c, r, "")
	for _, l := range []string{"rate_cap", "rate_by_gen"} {
		if r.soft(l) && r.text(l) != "" {
			c.Soft = append(c.Soft, string(RateOne))
		}
	}
	if r.soft("max_by_gen") && r.text("max_by_gen") != "" {
		c.Soft = append(c.Soft, string(Most))
	}
	for _, t := range r.tiers("rate_by_gen") {
		if n, err := strconv.Atoi(t.value); err == nil {
			if c.CapByGeneration == nil {
				c.CapByGeneration = make(map[string]jedec.Rate)
			}
			c.CapByGeneration[t.key] = jedec.Rate(n)
		}
	}
	if c.Role == "northbridge" &&
		(r.text("channels") != "" || r.text("max_gb") != "" || r.text("max_density_gbit") != "") {
		c.controllers = r.northbridge(c)
	}
	return c
}

// northbridge reads the row as a memory controller, once for each generation.
// Its rates are published without regard to how a channel is filled.
func (r row) northbridge(c Chipset) (out []Controller) {
	for _, g := range c.Generations {
		nb := Controller{ID: c.ID, Maker: c.Maker, Family: c.Name, Confidence: c.Confidence, Basis: c.Basis,
			Soft: append([]string{string(RateTwo)}, c.Soft...), disputed: r.disputed(), row: r}
		controllerForm().fill(&nb, r, "")
		nb.Generation, nb.Rate = g, c.RateCap(g)
		nb.Rates.Two = nb.Rate
		if by := r.tiers("max_by_gen"); len(by) > 0 {
			nb.Most = maybe.None[jedec.Capacity]()
			for _, t := range by {
				if n, err := strconv.Atoi(t.value); err == nil && t.key == g {
					nb.Most = maybe.Just(jedec.Capacity(n) * jedec.GiB)
				}
			}
		}
		for _, t := range r.tiers("volts_by_gen") {
			if t.key == g {
				nb.MilliVolts = nil
				for _, v := range strings.Split(t.value, "|") {
					if mv, ok := supplies().column(v); ok {
						nb.MilliVolts = append(nb.MilliVolts, mv)
					}
				}
			}
		}
		nb.Runs = nb.Runs.beyond(nb)
		out = append(out, nb)
	}
	return out
}

// ChipsetsWithID returns every chipset that carries a PCI id, "8086:a305". Of
// several, only what they have in common is known of the machine.
func ChipsetsWithID(id string) []Chipset {
	id = strings.ToLower(strings.TrimSpace(id))
	var found []Chipset
	for _, r := range chipsetRows() {
		listed, recalled := slices.Contains(r.list("pci_ids"), id), slices.Contains(r.list("pci_ids_recalled"), id)
		if id == "" || !listed && !recalled {
			continue
		}
		c := r.chipset()
		c.Recalled = recalled
		for _, t := range r.tiers("shared_ids") {
			c.Shared = c.Shared || t.key == id
		}
		found = append(found, c)
	}
	return found
}
