package view

import (
	"fmt"
	"strings"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// Catalogue lays out what is known of a processor and of chipsets.
func (p *Page) Catalogue(controllers []catalogue.Controller, chipsets []catalogue.Chipset, boards []catalogue.Board) {
	if len(controllers)+len(chipsets)+len(boards) == 0 {
		p.Headline("Nothing is known of it: no row matches, and the nearest one is never taken.")
		return
	}
	if len(controllers) > 0 {
		c := controllers[0]
		p.Headline(fmt.Sprintf("%s, confidence %s.", c.Family, catalogue.Weakest(controllers)))
		p.Blank()
		p.controllerTable(controllers)
		p.Blank()
		for _, c := range controllers {
			if c.Note != "" {
				p.Para(4, "  - ", c.Generation+": "+c.Note)
			}
		}
		p.Para(10, "  Basis", c.Basis)
		p.Blank()
		p.Foot("~ one compilation only, so softer   ? not known   rates in MT/s, one module a channel")
	}
	for i, c := range chipsets {
		if i > 0 || len(controllers) > 0 {
			p.Blank()
		}
		name := fmt.Sprintf("%s, %s, confidence %s", c.Name, c.Role, c.Confidence)
		if c.Shared {
			name += "; others carry the same id"
		}
		if c.Recalled {
			name += "; the id is recalled, not listed"
		}
		p.Heading(name)
		p.Para(15, "  Generations", strings.Join(c.Generations, ", "))
		if n, ok := c.DIMMs.Get(); ok {
			p.Para(15, "  Slots", fmt.Sprintf("at most %d a channel", n))
		}
		over, known := c.Overclock.Get()
		p.Para(15, "  Profiles", map[bool]string{true: map[bool]string{true: "can be selected", false: "can't be selected"}[over], false: "?"}[known])
		p.Para(15, "  Basis", c.Basis)
	}
	for i, b := range boards {
		if i > 0 || len(controllers)+len(chipsets) > 0 {
			p.Blank()
		}
		p.board(b)
	}
}

// board lays out one board or machine of the workshop's own.
func (p *Page) board(b catalogue.Board) {
	p.Heading(fmt.Sprintf("%s %s, confidence %s", b.Maker, strings.Join(b.Names, ", "), b.Confidence))
	row := func(title, text string, known bool) {
		if !known {
			text = "?"
		}
		p.Para(15, "  "+title, text)
	}
	most, ok1 := b.Most.Get()
	each, ok2 := b.PerSlot.Get()
	over, ok3 := b.Profiles.Get()
	row("Generations", strings.Join(b.Generations, ", "), len(b.Generations) > 0)
	row("Most", most.String(), ok1)
	row("One module", each.String(), ok2)
	var slots, rates []string
	for _, s := range b.Slots {
		text := s.Name
		if s.Channel != "" {
			text += " on " + s.Channel
		}
		if s.Order > 0 {
			text += fmt.Sprintf(", filled %d.", s.Order)
		}
		slots = append(slots, text)
	}
	for _, s := range b.Soldered {
		slots = append(slots, fmt.Sprintf("%s soldered, %v", s.Name, s.Size.Or(0)))
	}
	for _, r := range b.Rates {
		text := fmt.Sprintf("%d with %d a channel", int(r.Rate), r.Modules)
		if r.Ranks > 0 {
			text += fmt.Sprintf(" of %d ranks", r.Ranks)
		}
		rates = append(rates, text)
	}
	row("Slots", strings.Join(slots, "; "), len(slots) > 0)
	row("Rates", strings.Join(rates, "; "), len(rates) > 0)
	row("Profiles", map[bool]string{true: "can be selected", false: "can't be selected"}[over], ok3)
	row("Basis", b.Basis+" ("+b.Where+")", true)
}

func (p *Page) controllerTable(controllers []catalogue.Controller) {
	columns := []Column{{"Takes", Left, 0}, {"Channels", Right, 0}, {"Slots each", Right, 0}, {"Rate", Right, 0}, {"Most", Right, 0}, {"Die", Right, 0}, {"Supply", Left, 0}, {"ECC", Left, Rest}}
	var rows [][]string
	for _, c := range controllers {
		cell := func(limit, text string, known bool) string {
			if !known {
				return "?"
			}
			for _, soft := range c.Soft {
				if soft == limit {
					return text + " ~"
				}
			}
			return text
		}
		channels, ok1 := c.Channels.Get()
		slots, ok2 := c.DIMMs.Get()
		slotText := cell("dimms_per_channel", fmt.Sprint(slots), ok2)
		if !ok2 && strings.HasPrefix(c.Generation, "LP") {
			slotText = "soldered"
		}
		rate, ok3 := c.Rate.Get()
		most, ok4 := c.Most.Get()
		die, ok5 := c.DensityMbit.Get()
		ecc, ok6 := c.ECC.Get()
		eccText := strings.Join(ecc, ", ")
		if eccText == "" {
			eccText = "none"
		}
		if len(c.ECCIf) > 0 {
			eccText += " if " + strings.Join(c.ECCIf, ", ") + " allows"
		}
		rows = append(rows, []string{c.Generation, cell("channels", fmt.Sprint(channels), ok1), slotText, cell("rate_1dpc", fmt.Sprint(int(rate)), ok3),
			cell("max_gb", most.String(), ok4), cell("max_density_gbit", gigabits(die), ok5), cell("volts", voltList(c.MilliVolts), len(c.MilliVolts) > 0), cell("ecc", eccText, ok6)})
	}
	p.Table(columns, rows)
}

// CatalogueJSON returns the value that catalogue show --format json writes.
func CatalogueJSON(controllers []catalogue.Controller, chipsets []catalogue.Chipset, boards []catalogue.Board) any {
	type generation struct {
		Generation string                      `json:"generation"`
		Channels   maybe.Value[int]            `json:"channels"`
		DIMMs      maybe.Value[int]            `json:"dimms_per_channel"`
		Ranks      maybe.Value[int]            `json:"ranks_per_channel"`
		Rate       maybe.Value[jedec.Rate]     `json:"rate_mts"`
		Most       maybe.Value[jedec.Capacity] `json:"max_mib"`
		Density    maybe.Value[float64]        `json:"max_density_gbit"`
		Volts      []float64                   `json:"volts"`
		ECC        maybe.Value[[]string]       `json:"ecc"`
		ECCIf      []string                    `json:"ecc_if"`
		X4         maybe.Value[bool]           `json:"x4"`
		X16        maybe.Value[bool]           `json:"x16"`
		Soft       []string                    `json:"soft"`
		Note       maybe.Value[string]         `json:"note"`
	}
	type processor struct {
		ID          string               `json:"id"`
		Family      string               `json:"family"`
		Basis       string               `json:"basis"`
		Confidence  catalogue.Confidence `json:"confidence"`
		Generations []generation         `json:"generations"`
	}
	type chipset struct {
		ID          string               `json:"id"`
		Name        string               `json:"name"`
		Overclock   maybe.Value[bool]    `json:"overclock"`
		Role        string               `json:"role"`
		Generations []string             `json:"generations"`
		Shared      bool                 `json:"shared"`
		Recalled    bool                 `json:"recalled"`
		Confidence  catalogue.Confidence `json:"confidence"`
		Basis       string               `json:"basis"`
	}
	processors, chips := []processor{}, []chipset{}
	for _, c := range controllers {
		if len(processors) == 0 || processors[len(processors)-1].ID != c.ID {
			processors = append(processors, processor{ID: c.ID, Family: c.Family, Basis: c.Basis, Confidence: catalogue.Weakest(controllers)})
		}
		g := generation{Generation: c.Generation, Channels: c.Channels, DIMMs: c.DIMMs, Ranks: c.ChannelRanks, Rate: c.Rate, Most: c.Most, Density: maybe.Map(c.DensityMbit, func(mbit int) float64 { return float64(mbit) / 1024 }), Volts: []float64{},
			ECC: c.ECC, ECCIf: append([]string{}, c.ECCIf...), X4: c.X4, X16: c.X16, Soft: append([]string{}, c.Soft...), Note: orNull(c.Note)}
		for _, mv := range c.MilliVolts {
			g.Volts = append(g.Volts, volts(mv))
		}
		last := &processors[len(processors)-1]
		last.Generations = append(last.Generations, g)
	}
	for _, c := range chipsets {
		chips = append(chips, chipset{c.ID, c.Name, c.Overclock, c.Role, append([]string{}, c.Generations...), c.Shared, c.Recalled, c.Confidence, c.Basis})
	}
	type board struct {
		Name       string                      `json:"name"`
		Maker      string                      `json:"maker"`
		Most       maybe.Value[jedec.Capacity] `json:"max_mib"`
		PerSlot    maybe.Value[jedec.Capacity] `json:"per_slot_mib"`
		Slots      int                         `json:"slots"`
		Profiles   maybe.Value[bool]           `json:"profiles"`
		Confidence catalogue.Confidence        `json:"confidence"`
		Basis      string                      `json:"basis"`
		Where      string                      `json:"where"`
	}
	list := []board{}
	for _, b := range boards {
		list = append(list, board{strings.Join(b.Names, ", "), b.Maker, b.Most, b.PerSlot, len(b.Slots), b.Profiles, b.Confidence, b.Basis, b.Where})
	}
	return map[string]any{"schema": "epitome.catalogue.v1", "processors": processors, "chipsets": chips, "boards": list}
}

// gigabits writes a die density as the trade does, "8 Gbit", "512 Mbit".
func gigabits(mbit int) string {
	if mbit%1024 != 0 {
		return fmt.Sprintf("%d Mbit", mbit)
	}
	return fmt.Sprintf("%d Gbit", mbit/1024)
}

// Entries lays out the catalogue's list.
func (p *Page) Entries(entries []catalogue.Entry) {
	if len(entries) == 0 {
		p.Headline("No entry has all of these words.")
		return
	}
	var rows [][]string
	for _, e := range entries {
		where := e.Where
		if where == "" {
			where = "embedded"
		}
		rows = append(rows, []string{e.Kind, e.Name, strings.Join(e.Generations, ", "), string(e.Confidence), where})
	}
	p.Table([]Column{{"Kind", Left, 0}, {"Name", Left, 34}, {"Takes", Left, Rest}, {"Trust", Left, 0}, {"From", Left, 18}}, rows)
}

// Checked lays out what is wrong with one overlay file and what its entries
// take the place of.
func (p *Page) Checked(path string, o catalogue.Overlay, faults []catalogue.Fault, shadows []catalogue.Shadow) {
	var parts []string
	for _, x := range []struct {
		n    int
		noun string
	}{{len(o.Processors), "processor"}, {len(o.Chipsets), "chipset"}, {len(o.Boards), "board"}} {
		if x.n > 0 {
			parts = append(parts, count(x.n, x.noun))
		}
	}
	what := strings.Join(parts, ", ")
	if what == "" {
		what = "no entry"
	}
	verdict := "sound"
	if len(faults) > 0 {
		verdict = count(len(faults), "fault")
	}
	p.Headline(fmt.Sprintf("%s: %s can be used; %s.", path, what, verdict))
	for _, f := range faults {
		p.Para(4, "  - ", fmt.Sprintf("line %d: %s", f.Line, f.Says))
	}
	for _, s := range shadows {
		p.Para(4, "  - ", fmt.Sprintf("%s takes the place of %s", s.Where, s.Over))
	}
}
