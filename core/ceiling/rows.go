package ceiling

import (
	"fmt"
	"slices"
	"strings"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
)

// Each row lists the ceilings on one thing by the sources that can speak of
// it, open cells included.

func open(w What, by Source, says string) Ceiling {
	return Ceiling{What: w, Source: by, Says: says}
}

func atMost(w What, by Source, most Amount, standing fact.Standing, says string) Ceiling {
	return Ceiling{What: w, Source: by, Most: maybe.Just(most), Standing: standing, Says: says}
}

func among(w What, by Source, allowed []string, standing fact.Standing, says string) Ceiling {
	return Ceiling{What: w, Source: by, Allowed: maybe.Just(Set{Words: allowed}), Standing: standing, Says: says}
}

// byController makes the cell of the memory controller for an upper bound. unit is
// what the catalogue counts the limit in, where two that differ are told.
func (s subject) byController(w What, l catalogue.Limit, unit Amount,
	figure func(catalogue.Controller) maybe.Value[Amount]) Ceiling {
	c, ok := s.controller.Get()
	if !ok {
		return open(w, s.from, s.notKnown())
	}
	if most, ok := figure(c).Get(); ok {
		return atMost(w, s.from, most, c.Standing(l),
			fmt.Sprintf("%s takes up to %v%s", c.Family, most, basisOf(c.Where, c.Confidence, c.Standing(l))))
	}
	if n, ok := c.AtLeast(l); ok {
		least := Amount{int64(n) * unit.n, unit.unit}
		cell := open(w, s.from, fmt.Sprintf("not known for %s: sources differ, at least %v", c.Family, least))
		cell.Least = maybe.Just(least)
		return cell
	}
	return open(w, s.from, "not known for "+c.Family)
}

// notKnown says why the controller says nothing.
func (s subject) notKnown() string {
	switch g, ok := s.generation.Get(); {
	case len(s.controllers) == 0 && !s.m.Processor.Known():
		return "the processor is not known"
	case len(s.platform.Numbered) > 0:
		return fmt.Sprintf("%s is not in the catalogue; its number is that of %s, and none of them goes by that name",
			s.who(), strings.Join(s.platform.Numbered, ", "))
	case len(s.controllers) == 0 && s.platform.Led.Known():
		return fmt.Sprintf("the memory controller of %s is in the chipset, and which chipset it is is not known", s.who())
	case len(s.controllers) == 0:
		return s.who() + " is not in the catalogue"
	case !ok:
		return "which generation it runs with is not known"
	default:
		return fmt.Sprintf("%s is not known to take %v", s.who(), g)
	}
}

func basisOf(where string, confidence catalogue.Confidence, standing fact.Standing) string {
	switch {
	case where != "":
		return " (" + where + ")"
	case standing < fact.Settled:
		return fmt.Sprintf(" (catalogue, %s)",
			map[bool]string{true: "one source only", false: string(confidence) + " confidence"}[confidence == catalogue.High])
	}
	return " (catalogue)"
}

func (s subject) capacity() []Ceiling {
	row := s.stated(Capacity, machine.Whole, machine.ByFirmware, Firmware)
	if len(row) == 0 {
		row = append(row, open(Capacity, Firmware, "firmware states no maximum"))
	}
	row = append(row, s.ofAll(s.byController(Capacity, catalogue.Most, Bytes(jedec.GiB),
		func(c catalogue.Controller) maybe.Value[Amount] { return maybe.Map(c.Most, Bytes) })))
	row = append(append(row, s.runs(Capacity)...), s.ran(Capacity)...)
	row = append(row, s.byBoard(Capacity,
		func(b catalogue.Board) maybe.Value[Amount] { return maybe.Map(b.Most, Bytes) })...)
	row = append(row, s.stated(Capacity, machine.Whole, machine.ByTechnician, Technician)...)
	if have, ok := s.m.Totals.Installed.Get(); ok && s.m.Totals.Installed.Standing() == fact.Settled {
		contradict(row, Bytes(have))
	}
	return row
}

// ofAll makes of what one processor takes what all of them take: each has channels of its
// own.
func (s subject) ofAll(c Ceiling) Ceiling {
	n, ok := s.m.Processors.Get()
	if !ok || n < 2 || c.Source != Processor {
		return c
	}
	times := func(a Amount) Amount { return Amount{a.n * int64(n), a.unit} }
	if most, ok := c.Most.Get(); ok {
		c.Standing = min(c.Standing, s.m.Processors.Standing())
		c.Says = fmt.Sprintf("%v with %d processors: %s, each", times(most), n, c.Says)
	}
	c.Most, c.Least = maybe.Map(c.Most, times), maybe.Map(c.Least, times)
	return c
}

// stated makes cells of what firmware or a technician states.
func (s subject) stated(w What, of machine.StatedOf, by machine.StatedBy, as Source) (row []Ceiling) {
	for _, x := range s.m.Stated {
		if x.Of != of || x.By != by {
			continue
		}
		most := Bytes(x.Capacity)
		if of == machine.TopRate {
			most = Speed(x.Rate)
		}
		c := atMost(w, as, most, x.Standing, x.Source+": "+x.Says)
		if x.Standing == fact.Unknown {
			c.Standing = fact.Disputed // stated, and contradicted by what is fitted
		}
		row = append(row, c)
	}
	return row
}

// byBoard makes the cell of the board's entry.
func (s subject) byBoard(w What, figure func(catalogue.Board) maybe.Value[Amount]) []Ceiling {
	b, ok := s.board.Get()
	if !ok {
		return []Ceiling{open(w, Board, "no entry for this board")}
	}
	if most, ok := figure(b).Get(); ok {
		return []Ceiling{atMost(w, Board, most, boardStanding(b),
			fmt.Sprintf("%s: up to %v (%s)", b.Names[0], most, b.Where))}
	}
	return []Ceiling{open(w, Board, "the board's entry does not say")}
}

func boardStanding(b catalogue.Board) fact.Standing {
	if b.Confidence == catalogue.High {
		return fact.Settled
	}
	return fact.Leaning
}

// contradict turns upper bounds below what is fitted and working into
// contradicted ones.
func contradict(row []Ceiling, fitted Amount) {
	for i := range row {
		if most, ok := row[i].Most.Get(); ok && fitted.Exceeds(most) && row[i].Standing >= fact.Leaning {
			row[i].Standing = fact.Disputed
			row[i].Says += fmt.Sprintf("; contradicted: %v are fitted", fitted)
		}
	}
}

// system is what the operating system uses. Where the edition is not known and
// editions differ, it is open.
func (s subject) system() []Ceiling {
	name, ok := s.m.OS.Get()
	if !ok {
		return []Ceiling{open(OSCapacity, System, "the operating system is not known")}
	}
	if len(s.systems) == 0 {
		return []Ceiling{open(OSCapacity, System, name+" is not in the catalogue")}
	}
	least, most, unlimited := jedec.Capacity(0), jedec.Capacity(0), false
	standing := fact.Settled
	for _, x := range s.systems {
		if x.Confidence != catalogue.High {
			standing = fact.Leaning
		}
		size, limited := x.Most.Get()
		if !limited {
			unlimited = true
			continue
		}
		if least == 0 || size < least {
			least = size
		}
		most = max(most, size)
	}
	switch {
	case unlimited && least == 0:
		return []Ceiling{{What: OSCapacity, Source: System, Standing: standing, Says: name + " has no limit that matters"}}
	case unlimited || least != most:
		cell := open(OSCapacity, System,
			fmt.Sprintf("%s: how much memory it uses depends on its edition, %v at least", name, least))
		cell.Least = maybe.Just(Bytes(least))
		return []Ceiling{cell}
	}
	says := fmt.Sprintf("%s uses up to %v", name, least)
	if s.systems[0].Bits == 32 && least == 4*jedec.GiB {
		says += ", and sees 3 to 3.5 GB of it"
	}
	return []Ceiling{atMost(OSCapacity, System, Bytes(least), standing, says)}
}

func (s subject) perSlot() []Ceiling {
	g, ok := s.generation.Get()
	if !ok {
		return []Ceiling{open(PerSlot, Standard, "the generation is not known")}
	}
	var row []Ceiling
	if sizes := jedec.ModuleSizes(g); len(sizes) > 0 {
		largest := sizes[len(sizes)-1]
		row = append(row, atMost(PerSlot, Standard, Bytes(largest), fact.Settled,
			fmt.Sprintf("the largest unbuffered %v module is %v", g, largest)))
	}
	row = append(row, s.stated(PerSlot, machine.EachSlot, machine.ByFirmware, Firmware)...)
	row = append(row, s.eachByController())
	row = append(append(row, s.runs(PerSlot)...), s.ran(PerSlot)...)
	row = append(row, s.byBoard(PerSlot,
		func(b catalogue.Board) maybe.Value[Amount] { return maybe.Map(b.PerSlot, Bytes) })...)
	row = append(row, s.stated(PerSlot, machine.EachSlot, machine.ByTechnician, Technician)...)
	contradict(row, Bytes(s.largestFitted()))
	return row
}

// eachByController is the largest module that the controller's densest dies make, or denser
// ones that are fitted already.
func (s subject) eachByController() Ceiling {
	g, form := s.generation.Or(jedec.GenerationUnknown), s.form.Or(jedec.DIMM)
	cell := s.byController(Density, catalogue.Density, Dies(1024), densityOf)
	cell.What = PerSlot
	if die, ok := cell.Most.Get(); ok {
		if fitted := Dies(s.densestFitted()); fitted.Exceeds(die) {
			die = fitted
			cell.Says = "such are fitted, though " + cell.Says
		}
		largest := g.Largest(form, jedec.Unbuffered, die.Int())
		cell.Most = maybe.If(Bytes(largest), largest > 0)
		cell.Says = fmt.Sprintf("two ranks of x8 chips of %v make %v; %s", die, largest, cell.Says)
	}
	if die, ok := cell.Least.Get(); ok {
		cell.Least = maybe.Just(Bytes(g.Largest(form, jedec.Unbuffered, die.Int())))
	}
	return cell
}

// largestFitted is the largest module that sits in a socket for certain.
func (s subject) largestFitted() (largest jedec.Capacity) {
	for _, p := range s.m.Places {
		if p.Module != nil && p.Attach.Or("") == machine.Socket && p.Module.Capacity.Standing() == fact.Settled {
			largest = max(largest, p.Module.Capacity.Or(0))
		}
	}
	return largest
}

// densestFitted is the densest die of the modules that sit in a socket for certain, Mbit.
func (s subject) densestFitted() (densest int) {
	for _, p := range s.m.Places {
		if p.Module != nil && p.Attach.Or("") == machine.Socket && p.Module.Density.Standing() == fact.Settled {
			densest = max(densest, p.Module.Density.Or(0))
		}
	}
	return densest
}

func densityOf(c catalogue.Controller) maybe.Value[Amount] { return maybe.Map(c.DensityMbit, Dies) }

func (s subject) density() []Ceiling {
	var row []Ceiling
	if g, ok := s.generation.Get(); ok {
		if d := g.Trait().Densities; len(d) > 0 {
			densest := Dies(d[len(d)-1])
			row = append(row, atMost(Density, Standard, densest, fact.Settled,
				fmt.Sprintf("the densest %v die is %v", g, densest)))
		}
	}
	row = append(row, s.byController(Density, catalogue.Density, Dies(1024), densityOf))
	row = append(row, s.runs(Density)...)
	return append(row, s.byBoard(Density,
		func(b catalogue.Board) maybe.Value[Amount] { return maybe.Map(b.DensityMbit, Dies) })...)
}

// unbufferedRanks is the most ranks of an unbuffered module by the generations'
// module annexes of JESD21-C and JESD308: two select lines.
const unbufferedRanks = 2

func (s subject) ranks() []Ceiling {
	if !s.generation.Known() {
		return []Ceiling{open(Ranks, Standard, "the generation is not known")}
	}
	return []Ceiling{atMost(Ranks, Standard, Number(unbufferedRanks), fact.Settled,
		"an unbuffered module has one rank or two")}
}

func (s subject) generations() []Ceiling {
	var row []Ceiling
	if len(s.controllers) > 0 {
		var names []string
		standing := fact.Settled
		for _, c := range s.controllers {
			names = append(names, c.Generation)
			if c.Confidence != catalogue.High {
				standing = fact.Leaning
			}
		}
		c := s.controllers[0]
		row = append(row, among(Generation, s.from, names, standing,
			fmt.Sprintf("%s takes %s%s", c.Family, strings.Join(names, ", "), basisOf(c.Where, c.Confidence, standing))))
	} else {
		row = append(row, open(Generation, Processor, s.notKnown()))
	}
	if c, ok := s.chipset(); ok && s.from != Chipset && len(c.Generations) > 0 {
		row = append(row, among(Generation, Chipset, c.Generations, c.Standing("generations"),
			c.Name+" goes with "+strings.Join(c.Generations, ", ")))
	}
	if b, ok := s.board.Get(); ok && len(b.Generations) > 0 {
		row = append(row, among(Generation, Board, b.Generations, boardStanding(b),
			b.Names[0]+" takes "+strings.Join(b.Generations, ", ")))
	}
	if g, ok := s.generation.Get(); ok {
		row = append(row, among(Generation, Board, []string{g.String()}, s.generation.Standing(),
			"what is fitted is "+g.String()+": a board takes one generation"))
	}
	return row
}

// chipset is the chipset, or what all have in common that its id may stand for.
func (s subject) chipset() (c catalogue.Chipset, known bool) {
	var names []string
	for i, x := range s.chipsets {
		names = append(names, x.Name)
		if i == 0 {
			c = x
		} else {
			c = c.InCommon(x)
		}
	}
	if n := len(names); n > 3 {
		names = append(names[:2], fmt.Sprintf("one of %d others with its id", n-2))
	}
	c.Name = strings.Join(names, " or ")
	return c, len(names) > 0
}

// runs makes the cell of what commonly runs though the maker publishes less. Where the
// catalogue has a total alone, the largest module and its dies follow from filling all
// sockets alike.
func (s subject) runs(w What) []Ceiling {
	c, known := s.controller.Get()
	g, ok := s.generation.Get()
	if !known || !ok {
		return nil
	}
	whole, size, die := c.Runs.Most.Or(0), jedec.Capacity(0), c.Runs.DensityMbit.Or(0)
	if die > 0 {
		size = g.Largest(s.form.Or(jedec.DIMM), jedec.Unbuffered, die)
	}
	if sockets := s.m.Totals.Sockets.Or(0); whole > 0 && sockets > 0 {
		sizes := s.sizesUpTo(g, (whole-min(whole, s.m.Totals.Soldered.Or(0)))/jedec.Capacity(sockets))
		for _, each := range sizes {
			if each > size {
				size = each
				if mbit := int(each/jedec.MiB) / unbufferedRanks; slices.Contains(g.Trait().Densities, mbit) {
					die = max(die, mbit)
				}
			}
		}
	}
	most, published := Amount{}, maybe.Value[Amount]{}
	switch w {
	case Capacity:
		most, published = Bytes(whole), maybe.Map(c.Most, Bytes)
	case Density:
		most, published = Dies(die), densityOf(c)
	case PerSlot:
		most, published = Bytes(size), maybe.Map(c.DensityMbit, func(mbit int) Amount {
			return Bytes(g.Largest(s.form.Or(jedec.DIMM), jedec.Unbuffered, mbit))
		})
	}
	if most.n == 0 || !most.Exceeds(published.Or(Amount{})) {
		return nil
	}
	says := fmt.Sprintf("%v commonly runs with %s", most, c.Family)
	if p, ok := published.Get(); ok {
		says += fmt.Sprintf(", published are %v", p)
	}
	return []Ceiling{atMost(w, Field, most, fact.Leaning, says+" (catalogue)")}
}

// ran makes the cell of what ran on machines of this board: where that is more than the
// controller's maker publishes, and whatever earlier jobs of the workshop's showed.
func (s subject) ran(w What) []Ceiling {
	of := func(r catalogue.Ran) jedec.Capacity {
		return map[What]jedec.Capacity{Capacity: r.Total.Or(0), PerSlot: r.Each.Or(0)}[w]
	}
	best, from, where := jedec.Capacity(0), catalogue.Ran{}, ""
	for _, r := range s.board.Or(catalogue.Board{}).Ran {
		if size := of(r); size > best {
			best, from, where = size, r, s.board.Or(catalogue.Board{}).Where
		}
	}
	for _, c := range s.publishedOn(w) {
		if !Bytes(best).Exceeds(c.Most.Or(Amount{})) {
			best = 0 // it is published anyway
		}
	}
	against := 0
	for _, r := range s.past.Ran {
		held, failed := s.past.Held(r.Total.Or(0))
		if size := of(r); size > best && held > failed {
			best, from, where, against = size, r, "job log: "+strings.Join(s.past.Jobs, ", "), failed
		}
	}
	if best == 0 {
		return nil
	}
	says := fmt.Sprintf("%v ran on %d of this board's machines", best, from.Times)
	if from.When != "" {
		says += ", last on " + from.When
	}
	if against > 0 {
		says += fmt.Sprintf(", and not on %d", against)
	}
	return []Ceiling{atMost(w, PastJob, Bytes(best), fact.Leaning, says+" ("+where+")")}
}

// publishedOn is the controller's cell for the whole or for one module.
func (s subject) publishedOn(w What) []Ceiling {
	if w == Capacity {
		return []Ceiling{s.byController(Capacity, catalogue.Most, Bytes(jedec.GiB),
			func(c catalogue.Controller) maybe.Value[Amount] { return maybe.Map(c.Most, Bytes) })}
	}
	return []Ceiling{s.eachByController()}
}
