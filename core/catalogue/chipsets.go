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
	Soft                  []string
	ids                   []string
	controllers           []Controller // of a northbridge, one a generation
}

// Controllers returns what a northbridge says as the memory controller, one a
// generation; none where the chipset holds no controller.
func (c Chipset) Controllers() []Controller { return c.controllers }

// InCommon keeps what two chipsets share that one id may stand for; each figure
// that differs is unknown. Of two standings the weaker stays. The controllers of
// northbridges are not brought together here.
func (c Chipset) InCommon(o Chipset) Chipset {
	if !slices.Equal(c.Generations, o.Generations) {
		c.Generations = nil
	}
	c.DIMMs, c.Overclock, c.Cap = same(c.DIMMs, o.DIMMs), same(c.Overclock, o.Overclock), same(c.Cap, o.Cap)
	mine, ok1 := c.ECC.Get()
	others, ok2 := o.ECC.Get()
	if !ok1 || !ok2 || !slices.Equal(mine, others) {
		c.ECC = maybe.None[[]string]()
	}
	c.CapByGeneration = maps.Clone(c.CapByGeneration)
	maps.DeleteFunc(c.CapByGeneration, func(g string, rate jedec.Rate) bool { return o.CapByGeneration[g] != rate })
	c.Recalled = c.Recalled || o.Recalled
	c.Confidence = Weakest([]Controller{{Confidence: c.Confidence}, {Confidence: o.Confidence}})
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
	c := Chipset{ID: r.text("id"), Maker: r.text("maker"), Name: r.text("name"), Role: r.text("role"), Generations: r.list("generations"),
		DIMMs: r.number("dimms_per_channel"), Overclock: r.yesNo("overclock"), Confidence: Confidence(r.text("confidence")), Basis: r.basis(),
		Soft: r.softOnes(), ids: r.list("pci_ids"), ECC: kinds(r.text("ecc")), Cap: maybe.Map(r.number("rate_cap"), func(n int) jedec.Rate { return jedec.Rate(n) })}
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
	if c.Role == "northbridge" && (r.text("channels") != "" || r.text("max_gb") != "" || r.text("max_density_gbit") != "") {
		c.controllers = r.northbridge(c)
	}
	return c
}

// northbridge reads the row as a memory controller, once for each generation.
// Its rates are published without regard to how a channel is filled.
func (r row) northbridge(c Chipset) (out []Controller) {
	for _, g := range c.Generations {
		nb := Controller{ID: c.ID, Maker: c.Maker, Family: c.Name, Generation: g, Channels: r.number("channels"), DIMMs: c.DIMMs,
			DensityMbit: r.megabits("max_density_gbit"), X4: r.yesNo("x4_ok"), X16: r.yesNo("x16_ok"), ECC: c.ECC, Rate: c.RateCap(g),
			Confidence: c.Confidence, Basis: c.Basis, Soft: append([]string{string(RateTwo)}, c.Soft...), Note: r.text("note"), disputed: r.disputed()}
		nb.Rates.Two = nb.Rate
		nb.Most = maybe.Map(r.number("max_gb"), func(n int) jedec.Capacity { return jedec.Capacity(n) * jedec.GiB })
		if by := r.tiers("max_by_gen"); len(by) > 0 {
			nb.Most = maybe.None[jedec.Capacity]()
			for _, t := range by {
				if n, err := strconv.Atoi(t.value); err == nil && t.key == g {
					nb.Most = maybe.Just(jedec.Capacity(n) * jedec.GiB)
				}
			}
		}
		out = append(out, nb)
	}
	return out
}

// kinds reads a list of ECC kinds; "none" is known to be empty.
func kinds(text string) maybe.Value[[]string] {
	switch text {
	case "":
		return maybe.None[[]string]()
	case "none":
		return maybe.Just([]string{})
	}
	return maybe.Just(strings.Split(text, "|"))
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
