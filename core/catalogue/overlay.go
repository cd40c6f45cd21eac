package catalogue

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"go.yaml.in/yaml/v3"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// An Overlay is one file of the user's own entries.
type Overlay struct {
	File       string
	Processors []OwnProcessor
	Chipsets   []Chipset
	Boards     []Board
}

// An OwnProcessor is a processor family of the user's.
type OwnProcessor struct {
	ID, Maker, Family, Brand string // Brand is an expression over the brand string
	CPUFamily                maybe.Value[int]
	CPUModels                []int
	Takes                    []Controller
	Where                    string
}

// A Board is a board or a machine by its names, with what its manual says.
type Board struct {
	Maker       string
	Names       []string // of the board or of the machines it is in
	Generations []string
	Form        maybe.Value[jedec.Form]     // what the slots take
	Most        maybe.Value[jedec.Capacity] // of the whole machine, soldered memory included
	PerSlot     maybe.Value[jedec.Capacity]
	Slots       []Slot
	Soldered    []Bank
	Rates       []BoardRate
	Profiles    maybe.Value[bool] // overclocking profiles can be selected
	Clocked     maybe.Value[bool] // modules with a clock driver are supported
	ECC         maybe.Value[[]string]
	MilliVolts  []int
	DensityMbit maybe.Value[int]
	Ran         []Ran  // what ran on it, though nobody states it
	From        string // the workshop that a packed entry comes from
	Basis       string
	Confidence  Confidence
	Where       string
}

// A Slot is one socket of a board.
type Slot struct {
	Name, Channel string
	Order         int                         // in which slots are filled, 1 first; 0 where the manual does not say
	Most          maybe.Value[jedec.Capacity] // where it differs from the others
}

// A Bank is soldered memory of a board.
type Bank struct {
	Name, Channel string
	Size          maybe.Value[jedec.Capacity]
}

// A BoardRate is the highest rate that a board's manual gives for one way of
// filling a channel.
type BoardRate struct {
	Modules int // in the channel
	Ranks   int // 0 where the manual does not tell ranks apart
	Rate    jedec.Rate
}

// A Fault is something wrong in an overlay file.
type Fault struct {
	File string
	Line int
	Says string // what is wrong, and what is allowed
}

func (f Fault) Error() string { return fmt.Sprintf("%s:%d: %s", f.File, f.Line, f.Says) }

// OverlayVersion is the version of overlay files that this program reads.
const OverlayVersion = 1

// maxFaults keeps the report of a file that is no overlay at all readable.
const maxFaults = 50

// ParseOverlay reads one file of entries. Entries with a fault are left out and
// every fault is returned, with file, line and what is allowed.
func ParseOverlay(file string, text []byte) (Overlay, []Fault) {
	r := &overlayReader{file: path.Base(strings.ReplaceAll(file, `\`, "/"))}
	o := Overlay{File: file}
	var doc yaml.Node
	if err := yaml.Unmarshal(text, &doc); err != nil {
		line, says := yamlError(err)
		return o, []Fault{{r.file, line, says}}
	}
	if len(doc.Content) == 0 {
		return o, []Fault{{r.file, 1, "the file is empty; catalogue add --template prints one to start from"}}
	}
	version := 0
	r.fields(doc.Content[0], "the file", fields{
		"epitome-catalogue": r.count(&version, 1, OverlayVersion),
		"processors":        r.each(func(n *yaml.Node) { r.processor(n, &o) }),
		"chipsets":          r.each(func(n *yaml.Node) { r.chipset(n, &o) }),
		"boards":            r.each(func(n *yaml.Node) { r.board(n, &o) }),
	})
	if version == 0 && len(r.faults) == 0 {
		r.fault(doc.Content[0], "the first line is missing: epitome-catalogue: 1")
	}
	if len(r.faults) > maxFaults {
		r.faults = append(r.faults[:maxFaults], Fault{r.file, r.faults[maxFaults].Line, "and more; mend these first"})
	}
	return o, r.faults
}

func (r *overlayReader) processor(n *yaml.Node, o *Overlay) {
	p := OwnProcessor{Where: r.at(n)}
	basis, confidence := "", High
	var family int
	faults := len(r.faults)
	r.fields(n, "a processor", fields{
		"id": r.text(&p.ID), "maker": r.text(&p.Maker), "family": r.text(&p.Family), "brand": r.expression(&p.Brand),
		"cpuid": func(n *yaml.Node) {
			r.fields(n, "cpuid", fields{"family": r.count(&family, 0, 0xFFFF), "models": r.counts(&p.CPUModels, 0, 0xFFFF)})
			p.CPUFamily = maybe.Just(family)
		},
		"basis": r.text(&basis), "confidence": r.confidence(&confidence), "from": r.text(new(string)),
		"takes": r.each(func(n *yaml.Node) { p.Takes = append(p.Takes, r.controller(n)) }),
	})
	r.wants(n, "a processor", map[string]bool{"brand": p.Brand != "", "basis": basis != "", "takes": len(p.Takes) > 0})
	if p.Family == "" {
		p.Family = p.ID
	}
	for i := range p.Takes {
		c := &p.Takes[i]
		c.ID, c.Maker, c.Family, c.Basis, c.Confidence, c.Where = p.ID, p.Maker, p.Family, basis, confidence, p.Where
	}
	if len(r.faults) == faults {
		o.Processors = append(o.Processors, p)
	}
}

func (r *overlayReader) controller(n *yaml.Node) Controller {
	var c Controller
	var g jedec.Generation
	rates := r.rateOf(&g)
	r.fields(n, "an entry of takes", fields{
		"generation": r.generation(&c.Generation, &g), "channels": r.maybeCount(&c.Channels, 1, 16), "slots_per_channel": r.maybeCount(&c.DIMMs, 0, 4),
		"ranks_per_channel": r.maybeCount(&c.ChannelRanks, 1, 32),
		"rate":              rates(&c.Rate), "rate_dual_rank": rates(&c.Rates.OneDual), "rate_of_two_slots": rates(&c.Rates.OneOfTwo), "rate_without_clock_driver": rates(&c.Rates.OnePlain),
		"rate_two_modules": rates(&c.Rates.Two), "rate_two_dual_rank": rates(&c.Rates.TwoDual),
		"maximum": r.size(&c.Most), "largest_die": r.density(&c.DensityMbit, &g), "x4": r.yesNo(&c.X4), "x16": r.yesNo(&c.X16),
		"ecc": r.kinds(&c.ECC), "ecc_if": r.oneOfList(&c.ECCIf, "chipset", "model", "board"), "volts": r.volts(&c.MilliVolts, &g), "note": r.text(&c.Note),
	})
	r.wants(n, "an entry of takes", map[string]bool{"generation": c.Generation != ""})
	return c
}

func (r *overlayReader) chipset(n *yaml.Node, o *Overlay) {
	c := Chipset{Where: r.at(n), Confidence: High, Role: "pch"}
	faults := len(r.faults)
	r.fields(n, "a chipset", fields{
		"id": r.text(&c.ID), "maker": r.text(&c.Maker), "name": r.text(&c.Name), "pci_ids": r.pciIDs(&c.ids), "generations": r.generations(&c.Generations),
		"slots_per_channel": r.maybeCount(&c.DIMMs, 0, 4), "rate_cap": r.rateOf(new(jedec.Generation))(&c.Cap), "profiles": r.yesNo(&c.Overclock),
		"ecc": r.kinds(&c.ECC), "basis": r.text(&c.Basis), "confidence": r.confidence(&c.Confidence), "from": r.text(new(string)),
		"takes": r.each(func(n *yaml.Node) { c.controllers = append(c.controllers, r.controller(n)) }),
	})
	for i := range c.controllers {
		own := &c.controllers[i]
		own.ID, own.Maker, own.Family, own.Basis, own.Confidence, own.Where = c.ID, c.Maker, c.Name, c.Basis, c.Confidence, c.Where
		c.Role = "northbridge"
		if !slices.Contains(c.Generations, own.Generation) {
			c.Generations = append(c.Generations, own.Generation)
		}
	}
	r.wants(n, "a chipset", map[string]bool{"name": c.Name != "", "basis": c.Basis != ""})
	if len(r.faults) == faults {
		o.Chipsets = append(o.Chipsets, c)
	}
}

func (r *overlayReader) board(n *yaml.Node, o *Overlay) {
	b := Board{Where: r.at(n), Confidence: High}
	var g jedec.Generation
	faults := len(r.faults)
	r.fields(n, "a board", fields{
		"maker": r.text(&b.Maker), "names": r.texts(&b.Names), "generations": r.generationsInto(&b.Generations, &g), "takes": r.form(&b.Form),
		"maximum": r.size(&b.Most), "per_slot": r.module(&b.PerSlot), "largest_die": r.density(&b.DensityMbit, &g), "profiles": r.yesNo(&b.Profiles),
		"clock_drivers": r.yesNo(&b.Clocked), "ecc": r.kinds(&b.ECC), "volts": r.volts(&b.MilliVolts, &g),
		"basis": r.text(&b.Basis), "confidence": r.confidence(&b.Confidence),
		"slots": r.each(func(n *yaml.Node) {
			var s Slot
			r.fields(n, "a slot", fields{"name": r.text(&s.Name), "channel": r.text(&s.Channel), "order": r.count(&s.Order, 1, 64), "maximum": r.module(&s.Most)})
			r.wants(n, "a slot", map[string]bool{"name": s.Name != ""})
			b.Slots = append(b.Slots, s)
		}),
		"soldered": r.each(func(n *yaml.Node) {
			var s Bank
			r.fields(n, "a soldered bank", fields{"name": r.text(&s.Name), "channel": r.text(&s.Channel), "size": r.size(&s.Size)})
			b.Soldered = append(b.Soldered, s)
		}),
		"from": r.text(&b.From),
		"ran": r.each(func(n *yaml.Node) {
			x := Ran{Times: 1}
			r.fields(n, "an entry of ran", fields{"total": r.size(&x.Total), "largest_module": r.module(&x.Each), "rate": r.rateOf(&g)(&x.Rate),
				"times": r.count(&x.Times, 1, 100_000), "when": r.text(&x.When), "by": r.text(&x.By)})
			r.wants(n, "an entry of ran", map[string]bool{"total, largest_module or rate": x.Total.Known() || x.Each.Known() || x.Rate.Known()})
			b.Ran = append(b.Ran, x)
		}),
		"rates": r.each(func(n *yaml.Node) {
			var x BoardRate
			var rate maybe.Value[jedec.Rate]
			r.fields(n, "an entry of rates", fields{"modules_per_channel": r.count(&x.Modules, 1, 4), "ranks": r.count(&x.Ranks, 1, 8), "rate": r.rateOf(&g)(&rate)})
			x.Rate = rate.Or(0)
			r.wants(n, "an entry of rates", map[string]bool{"modules_per_channel": x.Modules > 0, "rate": rate.Known()})
			b.Rates = append(b.Rates, x)
		}),
	})
	r.wants(n, "a board", map[string]bool{"maker": b.Maker != "", "names": len(b.Names) > 0, "basis": b.Basis != ""})
	r.checkBoard(n, b)
	if len(r.faults) == faults {
		o.Boards = append(o.Boards, b)
	}
}

// checkBoard holds the figures of a board against one another.
func (r *overlayReader) checkBoard(n *yaml.Node, b Board) {
	names := make(map[string]bool)
	for _, s := range b.Slots {
		if names[folded(s.Name)] {
			r.fault(n, "slot %q stands twice", s.Name)
		}
		names[folded(s.Name)] = true
	}
	each, ok1 := b.PerSlot.Get()
	most, ok2 := b.Most.Get()
	if ok1 && ok2 && each > most {
		r.fault(n, "per_slot %v is more than the maximum of %v", each, most)
	}
}

// controllers returns what the overlay says of a processor.
func (o Overlay) controllers(p Processor) []Controller {
	for _, own := range o.Processors {
		if own.matches(p) {
			return own.Takes
		}
	}
	return nil
}

func (own OwnProcessor) matches(p Processor) bool {
	family, known := own.CPUFamily.Get()
	if f, ok := p.Family.Get(); ok && known && f != family {
		return false
	}
	if m, ok := p.Model.Get(); ok && len(own.CPUModels) > 0 && !slices.Contains(own.CPUModels, m) {
		return false
	}
	return p.Brand != "" && matches(own.Brand, p.Brand)
}
