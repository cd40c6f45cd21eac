package trial

import (
	"cmp"
	"fmt"

	"epitome/core/ceiling"
	"epitome/core/jedec"
	"epitome/core/plain"
	"epitome/core/rule"
)

// within holds a figure against the bound that the machine has in this world.
func within(w *rule.World, p rule.Possible[ceiling.Level], want ceiling.Amount, what string) rule.Said {
	// What every value allows need not be asked, nor what none does.
	if b := rule.Choose(w, p); !b.None && want.Exceeds(b.Most) {
		return refused(what+"; "+b.Says, string(b.Source))
	}
	return ok()
}

func density(w *rule.World, s *scene, i int) rule.Said {
	row := s.rowFor(s.in.limits.On(ceiling.Density), s.seats[i])
	l := s.layout(w, i)
	if l.mbit == 0 {
		if !rule.Choose(w, yesNo(s.stickKey(i, "die"), "the die density of "+s.names[i],
			s.look(i)+": 1Rx8 is one rank of x8 chips", true, false, "")) {
			return refused("the die density is not known", "")
		}
		return ok()
	}
	about, look := s.in.controllers("the largest die", inDataSheet)
	p := s.in.most("largest die", row, s.in.die, about, look)
	return within(w, p, ceiling.Dies(l.mbit), "dies of "+jedec.DieSize(l.mbit))
}

func chipWidth(w *rule.World, s *scene, i int) rule.Said {
	width := s.layout(w, i).width
	if width == 8 || s.in.witnessWidth(width) || s.registered(w, i) {
		return ok() // every controller takes x8; those of registered modules take x4
	}
	takes, says := s.in.widths(w, width)
	if !takes {
		return refused(fmt.Sprintf("x%d chips; %s", width, says), "")
	}
	return ok()
}

// Where what is open of a controller stands.
const (
	inDataSheet     = "look it up in the processor's data sheet"
	inSheetOrManual = "the processor's data sheet, or the board's manual"
)

// WhichChipset is the open fact behind every figure of a memory controller that is in a chipset which nobody names.
const WhichChipset = "which chipset the board has, for the memory controller is in it"

// controllers is what to ask for a figure of the memory controller: the figure itself, or, where the controller is in
// the chipset and nobody says which one that is, the chipset, which tells all of them.
func (t *setting) controllers(figure, look string) (about, settles string) {
	if t.limits.AsksChipset() {
		return WhichChipset, "read its name off the board or out of a " +
			"system's report (observe CARD chipset=NAME), or name the board"
	}
	return figure, look
}

// widths is whether the controller takes chips of a width.
func (t *setting) widths(w *rule.World, width int) (takes bool, says string) {
	word := fmt.Sprintf("x%d", width)
	about, look := t.controllers("whether it takes "+word+" chips", inDataSheet)
	says = "whether the controller takes them is not known"
	for _, c := range t.limits.On(ceiling.Width) {
		allowed, stated := c.Allowed.Get()
		if !stated || !c.Holds() {
			continue
		}
		var known bool
		if takes, known = allowed.Takes(word); !known {
			continue
		}
		says = c.Says
		if c.Standing == settled {
			return takes, says
		}
		return rule.Choose(w, yesNo("takes "+word, about, look, takes, true, "")), says
	}
	return rule.Choose(w, yesNo("takes "+word, about, look, true, false, "")), says
}

func ranks(w *rule.World, s *scene, i int) rule.Said {
	n := s.layout(w, i).ranks
	if s.registered(w, i) || n <= 2 {
		return ok() // an unbuffered module has one rank or two by its standard
	}
	p := s.in.most("ranks of a module", s.in.limits.On(ceiling.Ranks), ceiling.Floor{}, "how many ranks a slot selects",
		"the board's manual")
	return within(w, p, ceiling.Number(n), fmt.Sprintf("%d ranks", n))
}

// die24 is the density that first made sizes between the powers of two.
const die24 = 24 * 1024

func oddSize(w *rule.World, s *scene, i int) rule.Said {
	size, sized := s.seats[i].Stick.Capacity.Get()
	if !sized || size&(size-1) == 0 {
		return ok()
	}
	p := s.in.most("largest die", s.in.limits.On(ceiling.Density), ceiling.Floor{}, "whether firmware knows 24 Gbit dies",
		"the board's list of modules")
	said := within(w, p, ceiling.Dies(die24), fmt.Sprintf("%v needs 24 Gbit dies", size))
	if said.Outcome == rule.OK {
		said.Says = fmt.Sprintf("%v: the controller knows 24 Gbit dies; update the firmware first", size)
	}
	return said
}

func clockDriver(w *rule.World, s *scene, i int) rule.Said {
	if !s.clocked(w, i) {
		return ok()
	}
	for _, c := range s.in.limits.On(ceiling.Clocked) {
		if list, stated := c.Allowed.Get(); stated && c.Holds() && c.Standing == settled {
			if len(list.Words) == 0 {
				return refused("carries a clock driver; "+c.Says, string(c.Source))
			}
			return rule.Said{Outcome: rule.OK, Says: c.Says}
		}
	}
	if !rule.Choose(w, yesNo("clock drivers", "whether the board supports clock drivers", "its manual", true, false, "")) {
		return refused("carries a clock driver, and whether the board supports one is not known", "")
	}
	return ok()
}

func perSlot(w *rule.World, s *scene, i int) rule.Said {
	seat := s.seats[i]
	size, sized := seat.Stick.Capacity.Get()
	if !sized {
		if !rule.Choose(w, yesNo(s.stickKey(i, "size"), "the size of "+s.names[i], s.look(i), true, false, "")) {
			return refused("the size is not known", "")
		}
		return ok()
	}
	if most, limited := s.in.limits.SlotMost(seat.Place).Get(); limited && size > most {
		return refused(fmt.Sprintf("the board's entry allows %v in %s", most, seat.Place), "board")
	}
	row := s.rowFor(s.in.limits.On(ceiling.PerSlot), seat)
	about, look := s.in.controllers("the largest module of a slot", inSheetOrManual)
	p := s.in.most("largest module", row, s.in.provedSize(), about, look)
	return within(w, p, ceiling.Bytes(size), size.String())
}

// rowFor keeps the ceilings that speak of a module. The sizes that follow from a controller's dies are those of
// unbuffered modules, and so are the dies of one that takes no others: of registered modules only board, firmware and
// technician know.
func (s *scene) rowFor(row []ceiling.Ceiling, seat Seat) (out []ceiling.Ceiling) {
	if !seat.Stick.Registered.Or(false) {
		return row
	}
	for _, c := range row {
		own := c.What == ceiling.Density && (c.Source == ceiling.Processor || c.Source == ceiling.Chipset) &&
			!s.in.statesNo(ceiling.Registered)
		if own || c.Source == ceiling.Board || c.Source == ceiling.Firmware || c.Source == ceiling.Technician {
			out = append(out, c)
		}
	}
	return out
}

// sum is the total of all seats; known where each size is.
func (s *scene) sum() (sum jedec.Capacity, known bool) {
	known = true
	for _, seat := range s.seats {
		size, ok := seat.Stick.Capacity.Get()
		sum, known = sum+size, known && ok
	}
	return sum, known
}

// mostTotal is the bound on the whole.
func (t *setting) mostTotal() rule.Possible[ceiling.Level] {
	about, look := t.controllers("the machine's maximum", inSheetOrManual)
	fitted := ceiling.Floor{Shown: ceiling.Bytes(t.m.Totals.Installed.Or(0))}
	return t.most("maximum", t.limits.On(ceiling.Capacity), fitted, about, look)
}

func total(w *rule.World, s *scene) (rule.Said, bool) {
	sum, known := s.sum()
	if !known {
		if !rule.Choose(w, yesNo("sizes", "the size of every module", readSticker, true, false, "")) {
			return refused("the size of a module is not known", ""), true
		}
		return ok(), true
	}
	said := within(w, s.in.mostTotal(), ceiling.Bytes(sum), fmt.Sprintf("%v in all", sum))
	if said.Outcome == rule.OK {
		said.Says = fmt.Sprintf("%v in all is within every ceiling", sum)
	}
	return said, true
}

// pastJobs warns where earlier jobs on machines of this make came to less than was
// fitted. However many they are, they never refuse: a board's manual and a data sheet say
// what the make allows, a job what one machine did with one set of modules.
func pastJobs(w *rule.World, s *scene) (rule.Said, bool) {
	sum, known := s.sum()
	past := s.in.limits.Past()
	held, failed := past.Held(sum)
	if !known || held+failed == 0 {
		return rule.Said{}, false
	}
	says := fmt.Sprintf("so much or more was there as predicted after %s on machines of this make",
		plain.Count(held, "earlier job"))
	for _, f := range past.Failed {
		if size, ok := f.Total.Get(); ok && size <= sum && !f.Faulty {
			against := fmt.Sprintf("job %s: with %s, %s", f.Job, cmp.Or(f.Modules, "modules that were not noted"), f.Says)
			switch {
			case held >= 2*failed:
				return rule.Said{Outcome: rule.OK, Says: says + "; but " + against}, true
			case failed < held+2: // one bad module or reading is no more than a warning
				return rule.Said{Outcome: rule.Reduced, Says: against, Source: "past job"}, true
			}
			if !rule.Choose(w, yesNo("past job", "whether it fails here as it did in job "+f.Job,
				"try it before the customer pays, and update the firmware first", true, true, "")) {
				return refused(against, "past job"), true
			}
		}
	}
	return rule.Said{Outcome: rule.OK, Says: says, Source: "past job"}, true
}

func systemLimit(w *rule.World, s *scene) (rule.Said, bool) {
	sum, known := s.sum()
	if !known {
		return rule.Said{}, false
	}
	for _, c := range s.in.limits.On(ceiling.OSCapacity) {
		most, limited := c.Most.Get()
		if !limited && !c.Holds() && c.Standing < leaning {
			// Which edition it is costs no start: at worst it leaves a part unused. Where
			// some editions of the name use less, that is said.
			least, some := c.Least.Get()
			if some && sum <= least.Capacity() {
				return ok(), true
			}
			if rule.Choose(w, yesNo("system", "edition and width of the operating system", "look at its own settings", true,
				!some, "")) {
				return rule.Said{Outcome: rule.OK, Says: c.Says}, true
			}
			return rule.Said{Outcome: rule.Reduced, Says: c.Says, Source: "os"}, true
		}
		if limited && sum > most.Capacity() {
			return rule.Said{Outcome: rule.Reduced, Says: fmt.Sprintf("of %v the system uses %v: %s", sum, most, c.Says),
				Source: "os"}, true
		}
	}
	return rule.Said{Outcome: rule.OK, Says: "the system uses all of it"}, true
}
