package ceiling

import (
	"fmt"
	"strconv"
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

func atMost(w What, by Source, most int64, standing fact.Standing, says string) Ceiling {
	return Ceiling{What: w, Source: by, Most: maybe.Just(most), Standing: standing, Says: says}
}

func among(w What, by Source, allowed []string, standing fact.Standing, says string) Ceiling {
	return Ceiling{What: w, Source: by, Allowed: maybe.Just(allowed), Standing: standing, Says: says}
}

// byController makes the cell of the memory controller for an upper bound.
func (s subject) byController(w What, l catalogue.Limit, unit string, scale int64, figure func(catalogue.Controller) maybe.Value[int64]) Ceiling {
	c, ok := s.controller.Get()
	if !ok {
		return open(w, s.from, s.notKnown())
	}
	if most, ok := figure(c).Get(); ok {
		return atMost(w, s.from, most, c.Standing(l), fmt.Sprintf("%s takes up to %s%s", c.Family, amount(most, unit), basisOf(c.Where, c.Confidence, c.Standing(l))))
	}
	if least, ok := c.AtLeast(l); ok {
		cell := open(w, s.from, fmt.Sprintf("not known for %s: sources differ, at least %s", c.Family, amount(int64(least)*scale, unit)))
		cell.Least = maybe.Just(int64(least) * scale)
		return cell
	}
	return open(w, s.from, "not known for "+c.Family)
}

// notKnown says why the controller says nothing.
func (s subject) notKnown() string {
	switch g, ok := s.generation.Get(); {
	case len(s.controllers) == 0 && !s.m.Processor.Known():
		return "the processor is not known"
	case len(s.numbered) > 0:
		return fmt.Sprintf("%s is not in the catalogue; its number is that of %s, and none of them goes by that name", s.who(), strings.Join(s.numbered, ", "))
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
		return fmt.Sprintf(" (catalogue, %s confidence)", map[bool]string{true: "one source only,", false: string(confidence)}[confidence == catalogue.High])
	}
	return " (catalogue)"
}

// amount writes a figure in its unit for reading.
func amount(v int64, unit string) string {
	switch unit {
	case "MiB":
		return (jedec.Capacity(v) * jedec.MiB).String()
	case "Mbit":
		if v%1024 == 0 {
			return fmt.Sprintf("%d Gbit", v/1024)
		}
		return fmt.Sprintf("%d Mbit", v)
	case "":
		return strconv.FormatInt(v, 10)
	}
	return fmt.Sprintf("%d %s", v, unit)
}

func mib(c jedec.Capacity) int64 { return int64(c.MiB()) }

func (s subject) capacity() []Ceiling {
	row := s.stated(Capacity, machine.Whole, machine.ByFirmware, Firmware)
	if len(row) == 0 {
		row = append(row, open(Capacity, Firmware, "firmware states no maximum"))
	}
	row = append(row, s.byController(Capacity, catalogue.Most, "MiB", 1024, func(c catalogue.Controller) maybe.Value[int64] { return maybe.Map(c.Most, mib) }))
	row = append(row, s.byBoard(Capacity, "MiB", func(b catalogue.Board) maybe.Value[int64] { return maybe.Map(b.Most, mib) })...)
	row = append(row, s.stated(Capacity, machine.Whole, machine.ByTechnician, Technician)...)
	if have, ok := s.m.Totals.Installed.Get(); ok && s.m.Totals.Installed.Standing() == fact.Settled {
		contradict(row, mib(have), "MiB")
	}
	return row
}

// stated makes cells of what firmware or a technician states.
func (s subject) stated(w What, of machine.StatedOf, by machine.StatedBy, as Source) (row []Ceiling) {
	for _, x := range s.m.Stated {
		if x.Of != of || x.By != by {
			continue
		}
		most := mib(x.Capacity)
		if of == machine.TopRate {
			most = int64(x.Rate)
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
func (s subject) byBoard(w What, unit string, figure func(catalogue.Board) maybe.Value[int64]) []Ceiling {
	b, ok := s.board.Get()
	if !ok {
		return []Ceiling{open(w, Board, "no entry for this board")}
	}
	if most, ok := figure(b).Get(); ok {
		return []Ceiling{atMost(w, Board, most, boardStanding(b), fmt.Sprintf("%s: up to %s (%s)", b.Names[0], amount(most, unit), b.Where))}
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
func contradict(row []Ceiling, fitted int64, unit string) {
	for i := range row {
		if most, ok := row[i].Most.Get(); ok && most < fitted && row[i].Standing >= fact.Leaning {
			row[i].Standing = fact.Disputed
			row[i].Says += fmt.Sprintf("; contradicted: %s are fitted", amount(fitted, unit))
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
	least, most, unlimited := int64(0), int64(0), false
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
		if least == 0 || mib(size) < least {
			least = mib(size)
		}
		most = max(most, mib(size))
	}
	switch {
	case unlimited && least == 0:
		return []Ceiling{{What: OSCapacity, Source: System, Standing: standing, Says: name + " has no limit that matters"}}
	case unlimited || least != most:
		cell := open(OSCapacity, System, fmt.Sprintf("%s: editions and widths differ, at least %s", name, amount(least, "MiB")))
		cell.Least = maybe.Just(least)
		return []Ceiling{cell}
	}
	says := fmt.Sprintf("%s uses up to %s", name, amount(least, "MiB"))
	if s.systems[0].Bits == 32 && least <= 4096 {
		says += ", and sees 3 to 3.5 GB of it"
	}
	return []Ceiling{atMost(OSCapacity, System, least, standing, says)}
}

func (s subject) perSlot() []Ceiling {
	g, ok := s.generation.Get()
	if !ok {
		return []Ceiling{open(PerSlot, Standard, "the generation is not known")}
	}
	form := s.form.Or(jedec.DIMM)
	var row []Ceiling
	if sizes := jedec.ModuleSizes(g); len(sizes) > 0 {
		largest := sizes[len(sizes)-1]
		row = append(row, atMost(PerSlot, Standard, mib(largest), fact.Settled, fmt.Sprintf("the largest unbuffered %v module is %v", g, largest)))
	}
	row = append(row, s.stated(PerSlot, machine.EachSlot, machine.ByFirmware, Firmware)...)
	cell := s.byController(Density, catalogue.Density, "Mbit", 1024, densityOf)
	cell.What = PerSlot
	if mbit, ok := cell.Most.Get(); ok {
		largest := g.Largest(form, jedec.Unbuffered, int(mbit))
		cell.Most = maybe.If(mib(largest), largest > 0)
		cell.Says = fmt.Sprintf("two ranks of x8 chips of %s make %v; %s", amount(mbit, "Mbit"), largest, cell.Says)
	}
	row = append(row, cell)
	row = append(row, s.byBoard(PerSlot, "MiB", func(b catalogue.Board) maybe.Value[int64] { return maybe.Map(b.PerSlot, mib) })...)
	row = append(row, s.stated(PerSlot, machine.EachSlot, machine.ByTechnician, Technician)...)
	contradict(row, mib(s.largestFitted()), "MiB")
	return row
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

func densityOf(c catalogue.Controller) maybe.Value[int64] {
	return maybe.Map(c.DensityMbit, func(mbit int) int64 { return int64(mbit) })
}

func (s subject) density() []Ceiling {
	var row []Ceiling
	if g, ok := s.generation.Get(); ok {
		if d := g.Trait().Densities; len(d) > 0 {
			row = append(row, atMost(Density, Standard, int64(d[len(d)-1]), fact.Settled, fmt.Sprintf("the densest %v die is %s", g, amount(int64(d[len(d)-1]), "Mbit"))))
		}
	}
	row = append(row, s.byController(Density, catalogue.Density, "Mbit", 1024, densityOf))
	return append(row, s.byBoard(Density, "Mbit", func(b catalogue.Board) maybe.Value[int64] {
		return maybe.Map(b.DensityMbit, func(mbit int) int64 { return int64(mbit) })
	})...)
}

// unbufferedRanks is the most ranks of an unbuffered module by the generations'
// module annexes of JESD21-C and JESD308: two select lines.
const unbufferedRanks = 2

func (s subject) ranks() []Ceiling {
	if !s.generation.Known() {
		return []Ceiling{open(Ranks, Standard, "the generation is not known")}
	}
	return []Ceiling{atMost(Ranks, Standard, unbufferedRanks, fact.Settled, "an unbuffered module has one rank or two")}
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
		row = append(row, among(Generation, s.from, names, standing, fmt.Sprintf("%s takes %s%s", c.Family, strings.Join(names, ", "), basisOf(c.Where, c.Confidence, standing))))
	} else {
		row = append(row, open(Generation, Processor, s.notKnown()))
	}
	if c, ok := s.chipset(); ok && s.from != Chipset && len(c.Generations) > 0 {
		row = append(row, among(Generation, Chipset, c.Generations, c.Standing("generations"), c.Name+" goes with "+strings.Join(c.Generations, ", ")))
	}
	if b, ok := s.board.Get(); ok && len(b.Generations) > 0 {
		row = append(row, among(Generation, Board, b.Generations, boardStanding(b), b.Names[0]+" takes "+strings.Join(b.Generations, ", ")))
	}
	if g, ok := s.generation.Get(); ok {
		row = append(row, among(Generation, Board, []string{g.String()}, s.generation.Standing(), "what is fitted is "+g.String()+": a board takes one generation"))
	}
	return row
}

// chipset is the chipset where there is one for certain.
func (s subject) chipset() (catalogue.Chipset, bool) {
	if len(s.chipsets) != 1 {
		return catalogue.Chipset{}, false
	}
	return s.chipsets[0], true
}
