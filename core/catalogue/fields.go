package catalogue

import (
	"fmt"
	"strings"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// The tables of fields, one for each sort of entry, in the order in which entries are
// written and shown. They are functions so that a start that reads no catalogue pays
// nothing for them.

// controllerFields are the limits of a memory controller for one generation.
func controllerFields() []Field[Controller] {
	return []Field[Controller]{
		{Key: "generation", Column: "generation", Wanted: true, Sample: "DDR4",
			Doc: "what it takes; DDR3L is apart where 1.5 V modules are outside the specification",
			at:  func(c *Controller) cell { return bare(generationNames(), &c.Generation) }},
		{Key: "channels", Column: string(Channels), Tiers: "channels_tiers", Title: "Channels", Sample: "2",
			Doc: "channels of 64 bits, of one processor",
			at:  func(c *Controller) cell { return known(counts(1, 16), &c.Channels) }},
		{Key: "slots_per_channel", Column: string(Slots), JSON: "dimms_per_channel", Title: "Slots a channel", Sample: "2",
			Doc: "the most that it drives; boards may have fewer",
			at:  func(c *Controller) cell { return known(counts(0, 4), &c.DIMMs) }},
		{Key: "ranks_per_channel", Title: "Ranks a channel", Seldom: true,
			Doc: "that the controller selects on a channel, where it says",
			at:  func(c *Controller) cell { return known(counts(1, 32), &c.ChannelRanks) }},
		{Key: "rate", Column: string(RateOne), Tiers: "tiers", JSON: "rate_mts", Title: "Rate", Sample: "3200",
			Meeting: Least,
			Doc:     "highest official rate, one module a channel, MT/s",
			at:      func(c *Controller) cell { return known(rates(), &c.Rate) }},
		{Key: "rate_dual_rank", Column: "rate_1dpc_2r", JSON: "rate_dual_rank_mts", Title: "of two ranks", Seldom: true,
			Doc: "the same, a module of two ranks, MT/s",
			at:  func(c *Controller) cell { return known(rates(), &c.Rates.OneDual) }},
		{Key: "rate_without_clock_driver", Column: "rate_1dpc_plain", JSON: "rate_without_clock_driver_mts",
			Title: "no clock driver", Seldom: true,
			Doc: "the same, a module without a clock driver, where the rate wants one, MT/s",
			at:  func(c *Controller) cell { return known(rates(), &c.Rates.OnePlain) }},
		{Key: "rate_of_two_slots", Column: "rate_1dpc_2slot", JSON: "rate_of_two_slots_mts", Title: "one of two slots",
			Seldom: true,
			Doc:    "the same, one module in a channel of two slots, MT/s",
			at:     func(c *Controller) cell { return known(rates(), &c.Rates.OneOfTwo) }},
		{Key: "rate_two_modules", Column: string(RateTwo), JSON: "rate_two_modules_mts", Title: "two modules", Sample: "2933",
			Doc: "highest official rate, two modules a channel, MT/s",
			at:  func(c *Controller) cell { return known(rates(), &c.Rates.Two) }},
		{Key: "rate_two_dual_rank", Column: "rate_2dpc_2r", JSON: "rate_two_dual_rank_mts", Title: "two of two ranks",
			Seldom: true,
			Doc:    "the same, two modules of two ranks, MT/s",
			at:     func(c *Controller) cell { return known(rates(), &c.Rates.TwoDual) }},
		{Key: "maximum", Column: string(Most), Tiers: "max_gb_tiers", JSON: "max_mib", Title: "Most", Sample: "128GB",
			Meeting: Least,
			Doc:     "published maximum, of one processor",
			at:      func(c *Controller) cell { return known(sizes(), &c.Most) }},
		{Key: "maximum_that_runs", Column: "max_gb_field", JSON: "runs_max_mib", Title: "commonly runs", Seldom: true,
			Doc: "what commonly runs though the maker publishes less",
			at:  func(c *Controller) cell { return known(sizes(), &c.Runs.Most) }},
		{Key: "largest_die", Column: string(Density), JSON: "max_density_gbit", Title: "Largest die", Sample: "16Gbit",
			Meeting: Least,
			Doc:     "on unbuffered modules",
			at:      func(c *Controller) cell { return known(dies(), &c.DensityMbit) }},
		{Key: "die_that_runs", Column: "max_density_field", JSON: "runs_density_gbit", Title: "die that runs", Seldom: true,
			Doc: "largest die that commonly runs though the maker publishes less",
			at:  func(c *Controller) cell { return known(dies(), &c.Runs.DensityMbit) }},
		{Column: "field_note", JSON: "runs_note", Title: "why it runs", Seldom: true, Prose: true,
			Doc: "why it runs beyond what is published",
			at:  func(c *Controller) cell { return bare(words(), &c.Runs.Note) }},
		{Key: "x4", Column: string(X4), Title: "x4 chips", Sample: "no",
			Doc: "yes or no: unbuffered modules of x4 chips",
			at:  func(c *Controller) cell { return known(answers(), &c.X4) }},
		{Key: "x16", Column: string(X16), Title: "x16 chips", Sample: "yes",
			Doc: "yes or no: unbuffered modules of x16 chips",
			at:  func(c *Controller) cell { return known(answers(), &c.X16) }},
		{Key: "ecc", Column: string(ECC), Tiers: "ecc_tiers", Title: "ECC", Sample: "none",
			Doc: "modules with check bits or a register: none, udimm, so-dimm-ecc, rdimm, lrdimm, fbdimm",
			at:  func(c *Controller) cell { return knownList(eccKinds(), &c.ECC, "none") }},
		{Key: "ecc_if", Column: "ecc_if", Title: "ECC if", Seldom: true, Meeting: Either,
			Doc: "what else ECC depends on: chipset, model, board",
			at:  func(c *Controller) cell { return list(oneOf("chipset", "model", "board"), &c.ECCIf) }},
		{Key: "volts", Column: string(Volts), Title: "Supply", Sample: "1.2", Meeting: Both,
			Doc: "supplies that it takes, V",
			at:  func(c *Controller) cell { return list(supplies(), &c.MilliVolts) }},
		{Key: "note", Column: "note", Title: "Note", Seldom: true, Prose: true,
			Doc: "what else is to be known",
			at:  func(c *Controller) cell { return bare(words(), &c.Note) }},
	}
}

func controllerForm() form[Controller] {
	return form[Controller]{what: "an entry of takes", fields: controllerFields(), own: true}
}

// processorForm is a processor family of the workshop's own.
func processorForm() form[OwnProcessor] {
	numbers := form[OwnProcessor]{what: "cpuid", typed: typedCPUID, fields: []Field[OwnProcessor]{
		{Key: "family", at: func(p *OwnProcessor) cell { return known(counts(0, 0xFFFF), &p.CPUFamily) }},
		{Key: "models", at: func(p *OwnProcessor) cell { return list(counts(0, 0xFFFF), &p.CPUModels) }},
	}}
	return form[OwnProcessor]{
		what: "a processor", own: true, check: checkProcessor,
		begin: func(where string) OwnProcessor { return OwnProcessor{Where: where, Confidence: High} },
		fields: []Field[OwnProcessor]{
			{Key: "id", Flag: "-", Sample: "my-family", Doc: "a short name of your own",
				at: func(p *OwnProcessor) cell { return bare(words(), &p.ID) }},
			{Key: "maker", Doc: "who makes it",
				at: func(p *OwnProcessor) cell { return bare(words(), &p.Maker) }},
			{Key: "family", Doc: "the family's name",
				at: func(p *OwnProcessor) cell { return bare(words(), &p.Family) }},
			{Key: "brand", Wanted: true, Doc: "an expression that its brand string matches",
				at: func(p *OwnProcessor) cell { return bare(expressions(), &p.Brand) }},
			{Key: "cpuid", Sample: "{family: 6, models: [200]}", Doc: "its family and models; as a flag 6/200",
				at: func(p *OwnProcessor) cell { return inner[OwnProcessor]{numbers, p} }},
			{Key: "takes", Flag: "-", Wanted: true, Doc: "its limits, one entry a generation",
				at: func(p *OwnProcessor) cell { return entries[Controller]{controllerForm(), &p.Takes, false} }},
			{Key: "from", Flag: "-", at: func(p *OwnProcessor) cell { return bare(words(), &p.From) }},
			{Key: "basis", Wanted: true, Sample: "data sheet, table", Doc: "which data sheet, which table",
				at: func(p *OwnProcessor) cell { return bare(words(), &p.Basis) }},
			{Key: "confidence", Sample: "high", Doc: "high (default), medium or low",
				at: func(p *OwnProcessor) cell { return bare(confidences(), &p.Confidence) }},
		},
	}
}

// typedCPUID reads "6/142" and "6/142/9", decimal or 0x.
func typedCPUID(text string) (map[string]string, error) {
	parts := strings.Split(text, "/")
	if len(parts) < 2 || len(parts) > 3 {
		return nil, fmt.Errorf("--cpuid %q: write FAMILY/MODEL/STEPPING, as 6/142/9", text)
	}
	return map[string]string{"family": strings.TrimSpace(parts[0]), "models": strings.TrimSpace(parts[1])}, nil
}

// chipsetForm is a chipset: a northbridge that holds the controller, or a hub that caps or
// allows something.
func chipsetForm() form[Chipset] {
	return form[Chipset]{
		what: "a chipset", own: true, check: checkChipset,
		begin: func(where string) Chipset { return Chipset{Where: where, Confidence: High, Role: "pch"} },
		fields: []Field[Chipset]{
			{Key: "id", Column: "id", Doc: "a short name of your own",
				at: func(c *Chipset) cell { return bare(words(), &c.ID) }},
			{Key: "maker", Column: "maker", JSON: "-", Doc: "who makes it",
				at: func(c *Chipset) cell { return bare(words(), &c.Maker) }},
			{Key: "name", Column: "name", Wanted: true, Doc: "as people write it",
				at: func(c *Chipset) cell { return bare(words(), &c.Name) }},
			{Column: "role", JSON: "role", Doc: "northbridge, pch or fch",
				at: func(c *Chipset) cell { return bare(words(), &c.Role) }},
			{Key: "pci_ids", Column: "pci_ids", Title: "PCI ids", Seldom: true, Sample: `["vend:devi"]`,
				Doc: "vendor:device of its bridge",
				at:  func(c *Chipset) cell { return list(pciIDs(), &c.ids) }},
			{Key: "generations", Column: "generations", Title: "Generations", Sample: "[DDR4]",
				Doc: "what boards with it take",
				at:  func(c *Chipset) cell { return list(generationNames(), &c.Generations) }},
			{Key: "slots_per_channel", Column: string(Slots), Title: "Slots a channel",
				Doc: "at most, where it is a cap",
				at:  func(c *Chipset) cell { return known(counts(0, 4), &c.DIMMs) }},
			{Key: "rate_cap", Column: "rate_cap", JSON: "rate_cap_mts", Title: "Rate at most", Seldom: true,
				Doc: "whatever the processor takes, MT/s",
				at:  func(c *Chipset) cell { return known(rates(), &c.Cap) }},
			{Key: "profiles", Column: "overclock", JSON: "overclock", Title: "Profiles",
				Doc: "yes or no: overclocking profiles can be selected",
				at:  func(c *Chipset) cell { return known(answers(), &c.Overclock) }},
			{Key: "ecc", Column: string(ECC), Title: "ECC",
				Doc: "kinds that it allows: none, udimm, so-dimm-ecc, rdimm, lrdimm, fbdimm; unknown where the processor decides",
				at:  func(c *Chipset) cell { return knownList(eccKinds(), &c.ECC, "none") }},
			{Key: "takes", JSON: "takes", Doc: "of a northbridge: its limits, as a processor's",
				at: func(c *Chipset) cell { return entries[Controller]{controllerForm(), &c.controllers, false} }},
			{Key: "from", JSON: "-", at: func(c *Chipset) cell { return bare(words(), &c.From) }},
			{Key: "basis", Wanted: true, Title: "Basis", Prose: true, Doc: "where it stands",
				at: func(c *Chipset) cell { return bare(words(), &c.Basis) }},
			{Key: "confidence", Column: "confidence", Doc: "high (default), medium or low",
				at: func(c *Chipset) cell { return bare(confidences(), &c.Confidence) }},
		},
	}
}

// boardForm is a board or a machine, as its manual gives it.
func boardForm() form[Board] {
	slots := form[Slot]{what: "a slot", shown: slotText, fields: []Field[Slot]{
		{Key: "name", Wanted: true, at: func(s *Slot) cell { return bare(words(), &s.Name) }},
		{Key: "channel", at: func(s *Slot) cell { return bare(words(), &s.Channel) }},
		{Key: "order", at: func(s *Slot) cell { return bare(counts(1, 64), &s.Order) }},
		{Key: "maximum", JSON: "max_mib", at: func(s *Slot) cell { return known(moduleSizes(), &s.Most) }},
	}}
	banks := form[Bank]{what: "a soldered bank", shown: bankText, fields: []Field[Bank]{
		{Key: "name", at: func(b *Bank) cell { return bare(words(), &b.Name) }},
		{Key: "channel", at: func(b *Bank) cell { return bare(words(), &b.Channel) }},
		{Key: "size", JSON: "size_mib", at: func(b *Bank) cell { return known(sizes(), &b.Size) }},
	}}
	fills := form[BoardRate]{what: "an entry of rates", typed: typedRate, shown: rateText, fields: []Field[BoardRate]{
		{Key: "modules_per_channel", Wanted: true, at: func(x *BoardRate) cell { return bare(counts(1, 4), &x.Modules) }},
		{Key: "ranks", at: func(x *BoardRate) cell { return bare(counts(1, 8), &x.Ranks) }},
		{Key: "rate", JSON: "rate_mts", Wanted: true, at: func(x *BoardRate) cell { return bare(rates(), &x.Rate) }},
	}}
	ran := form[Ran]{what: "an entry of ran", check: checkRan, shown: ranText,
		begin: func(string) Ran { return Ran{Times: 1} }, fields: []Field[Ran]{
			{Key: "total", JSON: "total_mib", at: func(x *Ran) cell { return known(sizes(), &x.Total) }},
			{Key: "largest_module", JSON: "largest_module_mib", at: func(x *Ran) cell { return known(moduleSizes(), &x.Each) }},
			{Key: "rate", JSON: "rate_mts", at: func(x *Ran) cell { return known(rates(), &x.Rate) }},
			{Key: "times", at: func(x *Ran) cell { return bare(counts(1, 100_000), &x.Times) }},
			{Key: "when", at: func(x *Ran) cell { return bare(words(), &x.When) }},
			{Key: "by", JSON: "-", at: func(x *Ran) cell { return bare(words(), &x.By) }},
		}}
	return form[Board]{
		what: "a board", own: true, check: checkBoard,
		begin: func(where string) Board { return Board{Where: where, Confidence: High} },
		fields: []Field[Board]{
			{Key: "maker", Wanted: true, Doc: "as firmware writes it",
				at: func(b *Board) cell { return bare(words(), &b.Maker) }},
			{Key: "names", Flag: "name", Wanted: true, Blank: "[]",
				Doc: "of the board, or of the machines it is in, as firmware writes them",
				at:  func(b *Board) cell { return list(words(), &b.Names) }},
			{Key: "generations", Flag: "generation", Title: "Generations", Doc: "DDR4",
				at: func(b *Board) cell { return list(generationNames(), &b.Generations) }},
			{Key: "takes", Title: "Modules", Doc: "DIMM or SO-DIMM",
				at: func(b *Board) cell { return known(forms(), &b.Form) }},
			{Key: "maximum", JSON: "max_mib", Title: "Most", Doc: "of the whole machine, soldered memory included: 32GB",
				at: func(b *Board) cell { return known(sizes(), &b.Most) }},
			{Key: "per_slot", JSON: "per_slot_mib", Title: "One module", Doc: "largest module: 16GB",
				at: func(b *Board) cell { return known(moduleSizes(), &b.PerSlot) }},
			{Key: "slots", Flag: "slot", Title: "Slots", Blank: "[]",
				Doc:    "order: in which slots are filled; as a flag NAME,channel=A,order=1,maximum=8GB",
				Sample: "{name: DIMM_A1, channel: A, order: 1, maximum: 8GB}",
				at:     func(b *Board) cell { return entries[Slot]{slots, &b.Slots, true} }},
			{Key: "soldered", Title: "Soldered", Seldom: true, Blank: "[]",
				Doc:    "soldered banks; as a flag NAME,channel=A,size=4GB",
				Sample: "{name: DIMM 0, channel: B, size: 4GB}",
				at:     func(b *Board) cell { return entries[Bank]{banks, &b.Soldered, true} }},
			{Key: "rates", Flag: "rate", Title: "Rates", Blank: "[]",
				Doc:    "MT/s, by how a channel is filled; as a flag MODULES=RATE or MODULESxRANKS=RATE",
				Sample: "{modules_per_channel: 2, ranks: 2, rate: 2666}",
				at:     func(b *Board) cell { return entries[BoardRate]{fills, &b.Rates, true} }},
			{Key: "profiles", Title: "Profiles", Doc: "yes or no: can overclocking profiles be selected",
				at: func(b *Board) cell { return known(answers(), &b.Profiles) }},
			{Key: "clock_drivers", Title: "Clock drivers", Seldom: true, Doc: "yes or no: modules with a clock driver (DDR5)",
				at: func(b *Board) cell { return known(answers(), &b.Clocked) }},
			{Key: "ecc", Title: "ECC", Doc: "none, udimm, so-dimm-ecc, rdimm, lrdimm, fbdimm",
				at: func(b *Board) cell { return knownList(eccKinds(), &b.ECC, "none") }},
			{Key: "volts", Title: "Supply", Seldom: true, Doc: "1.2",
				at: func(b *Board) cell { return list(supplies(), &b.MilliVolts) }},
			{Key: "largest_die", JSON: "max_density_gbit", Title: "Largest die", Seldom: true, Doc: "8Gbit",
				at: func(b *Board) cell { return known(dies(), &b.DensityMbit) }},
			{Key: "ran", Title: "Ran", Seldom: true, Blank: "[]",
				Doc:    "what ran on it, though nobody states it; as a flag total=64GB,times=2",
				Sample: "{total: 64GB, largest_module: 32GB, rate: 2666, times: 2, when: 2026-11-02, by: J.}",
				at:     func(b *Board) cell { return entries[Ran]{ran, &b.Ran, true} }},
			{Key: "from", Flag: "-", JSON: "-", at: func(b *Board) cell { return bare(words(), &b.From) }},
			{Key: "basis", Wanted: true, Title: "Basis", Prose: true, Blank: "fill in", Doc: "which manual, which page",
				at: func(b *Board) cell { return bare(words(), &b.Basis) }},
			{Key: "confidence", Blank: "high", Doc: "high (default), medium or low",
				at: func(b *Board) cell { return bare(confidences(), &b.Confidence) }},
		},
	}
}

func slotText(s Slot) string {
	text := s.Name
	if s.Channel != "" {
		text += " on " + s.Channel
	}
	if s.Order > 0 {
		text += fmt.Sprintf(", filled %d.", s.Order)
	}
	if most, ok := s.Most.Get(); ok {
		text += fmt.Sprintf(", at most %v", most)
	}
	return text
}

func bankText(b Bank) string {
	text := b.Name
	if size, ok := b.Size.Get(); ok {
		text = strings.TrimSpace(fmt.Sprintf("%s %v", b.Name, size))
	}
	if b.Channel != "" {
		text += " on " + b.Channel
	}
	return text
}

func rateText(x BoardRate) string {
	text := fmt.Sprintf("%d with %d a channel", int(x.Rate), x.Modules)
	if x.Ranks > 0 {
		text += fmt.Sprintf(" of %d ranks", x.Ranks)
	}
	return text
}

func ranText(x Ran) string {
	var parts []string
	if total, ok := x.Total.Get(); ok {
		parts = append(parts, fmt.Sprintf("%v in all", total))
	}
	if each, ok := x.Each.Get(); ok {
		parts = append(parts, fmt.Sprintf("modules of %v", each))
	}
	if rate, ok := x.Rate.Get(); ok {
		parts = append(parts, fmt.Sprintf("at %v", rate))
	}
	parts = append(parts, fmt.Sprintf("on %d of them", x.Times))
	if x.When != "" {
		parts = append(parts, "last on "+x.When)
	}
	return strings.Join(parts, ", ")
}

// typedRate reads a rate as a flag gives it: "1=3200", or "2x2=2666" for two modules of two
// ranks.
func typedRate(text string) (map[string]string, error) {
	fill, rate, found := strings.Cut(text, "=")
	if !found {
		return nil, fmt.Errorf("%q: write MODULES=RATE or MODULESxRANKS=RATE, as 1=3200 or 2x2=2666", text)
	}
	modules, ranks, _ := strings.Cut(fill, "x")
	return map[string]string{"modules_per_channel": modules, "ranks": ranks, "rate": rate}, nil
}

// fileForm is a whole file of entries.
func fileForm() form[Overlay] {
	return form[Overlay]{what: "the file", fields: []Field[Overlay]{
		{Key: "epitome-catalogue", at: func(o *Overlay) cell { return bare(counts(1, OverlayVersion), &o.Version) }},
		{Key: "processors", at: func(o *Overlay) cell {
			return entries[OwnProcessor]{processorForm(), &o.Processors,
				false}
		}},
		{Key: "chipsets", at: func(o *Overlay) cell { return entries[Chipset]{chipsetForm(), &o.Chipsets, false} }},
		{Key: "boards", at: func(o *Overlay) cell { return entries[Board]{boardForm(), &o.Boards, false} }},
	}}
}

// systemForm is one edition of an operating system; only the embedded table has them.
func systemForm() form[System] {
	return form[System]{what: "a system", fields: []Field[System]{
		{Column: "os", JSON: "os", at: func(s *System) cell { return bare(words(), &s.OS) }},
		{Column: "edition", JSON: "edition", at: func(s *System) cell { return bare(words(), &s.Edition) }},
		{Column: "bits", JSON: "bits", at: func(s *System) cell { return bare(counts(1, 64), &s.Bits) }},
		{Column: "max_gb", JSON: "max_mib", Title: "Uses at most", Doc: "unknown where there is no practical limit",
			at: func(s *System) cell { return known(sizes(), &s.Most) }},
		{Column: "min_gb", JSON: "min_mib", Title: "Starts with", Doc: "its maker's stated minimum",
			at: func(s *System) cell { return known(sizes(), &s.Minimum) }},
		{Column: "confidence", JSON: "confidence", Title: "Trust",
			at: func(s *System) cell { return bare(confidences(), &s.Confidence) }},
		{Column: "note", JSON: "note", Title: "Note", Seldom: true, Prose: true,
			at: func(s *System) cell { return bare(words(), &s.Note) }},
	}}
}

// soldForm is a module that shops sell; only the embedded table has them.
func soldForm() form[Sold] {
	return form[Sold]{what: "a module", fields: []Field[Sold]{
		{Column: "generation", JSON: "generation", at: func(s *Sold) cell { return bare(generations(), &s.Generation) }},
		{Column: "form", JSON: "form", at: func(s *Sold) cell { return bare(forms(), &s.Form) }},
		{JSON: "kind", at: func(s *Sold) cell { return bare(kindsSold(), &s.Kind) }},
		{Column: "size_mib", JSON: "size_mib", Doc: "MiB", at: func(s *Sold) cell { return bare(mebibytes(), &s.Size) }},
		{Column: "ranks", JSON: "ranks", at: func(s *Sold) cell { return bare(counts(1, 8), &s.Ranks) }},
		{Column: "device_width_bits", JSON: "width", Doc: "bits of a chip",
			at: func(s *Sold) cell { return bare(counts(4, 32), &s.Width) }},
		{Column: "die_gbit", JSON: "die_gbit", at: func(s *Sold) cell { return bare(dies(), &s.DensityMbit) }},
		{Column: "stack", JSON: "stack", Doc: "dies behind one another",
			at: func(s *Sold) cell { return bare(counts(1, 8), &s.Stack) }},
		{Column: "rates", JSON: "rates_mts", at: func(s *Sold) cell { return list(rates(), &s.rates) }},
		{Column: "scarce_rates", JSON: "scarce_mts", at: func(s *Sold) cell { return list(rates(), &s.scarce) }},
		{Column: "ordinary_for", JSON: "ordinary_mts", at: func(s *Sold) cell { return list(rates(), &s.ordinary) }},
		{Column: "volts", JSON: "volts", at: func(s *Sold) cell { return list(supplies(), &s.MilliVolts) }},
		{Column: "laptop", JSON: "laptop", at: func(s *Sold) cell { return bare(howCommons(), &s.Laptop) }},
		{Column: "desktop", JSON: "desktop", at: func(s *Sold) cell { return bare(howCommons(), &s.Desktop) }},
		{Column: "server", JSON: "server", at: func(s *Sold) cell { return bare(howCommons(), &s.Server) }},
		{Column: "confidence", JSON: "confidence", at: func(s *Sold) cell { return bare(confidences(), &s.Confidence) }},
		{Column: "years", JSON: "years", at: func(s *Sold) cell { return bare(words(), &s.Years) }},
		{Column: "note", JSON: "note", at: func(s *Sold) cell { return bare(words(), &s.Note) }},
	}}
}

// Says lists the limits, each with what it is; those that are not known have no text.
func (c Controller) Says() []Said { return controllerForm().says(&c, c.Soft) }

// Says lists what the chipset caps or allows.
func (c Chipset) Says() []Said { return chipsetForm().says(&c, c.Soft) }

// Says lists what the manual gives.
func (b Board) Says() []Said { return boardForm().says(&b, nil) }

// Says lists what the system uses.
func (s System) Says() []Said { return systemForm().says(&s, nil) }

// JSON is the controller as catalogue show writes it, but for its soft limits and its row.
func (c Controller) JSON() map[string]any { return controllerForm().json(&c) }

// JSON is the chipset as catalogue show writes it.
func (c Chipset) JSON() map[string]any { return chipsetForm().json(&c) }

// JSON is the board as catalogue show writes it.
func (b Board) JSON() map[string]any { return boardForm().json(&b) }

// JSON is the system as catalogue show writes it.
func (s System) JSON() map[string]any { return systemForm().json(&s) }

// JSON is the module as catalogue show writes it.
func (s Sold) JSON() map[string]any { return soldForm().json(&s) }

// Cells are all cells of the embedded row, as the table has them: what is doubted, disputed
// and resolved, names, years and numbers among them; none for an entry of the workshop's.
func (c Controller) Cells() []Said { return c.row.rowCells() }

// Cells are all cells of the embedded row.
func (c Chipset) Cells() []Said { return c.row.rowCells() }

// Schemas are the JSON schemas of what entries say, by the sort of entry.
func Schemas() map[string]map[string]any {
	return map[string]map[string]any{"generation": controllerForm().schema(), "chipset": chipsetForm().schema(),
		"board": boardForm().schema(), "system": systemForm().schema(), "sold": soldForm().schema()}
}

// capTo keeps the rates of other fillings within what one module runs at where the brand's
// tier sets that; where the tier is not known none of them is.
func (r Rates) capTo(top jedec.Rate, known bool) Rates {
	for _, at := range []*maybe.Value[jedec.Rate]{&r.OneDual, &r.OnePlain, &r.OneOfTwo, &r.Two, &r.TwoDual} {
		if rate, ok := at.Get(); ok && known {
			*at = maybe.Just(min(rate, top))
		} else {
			*at = maybe.None[jedec.Rate]()
		}
	}
	return r
}
