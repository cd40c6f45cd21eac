package trial

import (
	"fmt"
	"slices"

	"epitome/core/ceiling"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/stick"
)

// bounded holds a figure against a row of upper bounds. shown is a figure that
// what is fitted has shown to work, 0 for none: a limit below it is
// contradicted, and beyond it the true one is not known. Firmware that is
// contradicted is known to understate, and counts no more.
func bounded(row []ceiling.Ceiling, want, shown int64, what, missingFact string) Reason {
	for _, c := range row {
		if most, ok := c.Most.Get(); ok && c.Holds() && c.Standing == machine.Settled && want > most {
			return Reason{Outcome: Refused, Says: what + "; " + c.Says, Source: string(c.Source)}
		}
	}
	for _, c := range row {
		if most, ok := c.Most.Get(); ok && c.Holds() && want > most {
			return Reason{Outcome: Unproven, Says: what + "; " + c.Says + ", which is not firm", Source: string(c.Source), Missing: missingFact}
		}
	}
	for _, c := range row {
		if most, ok := c.Most.Get(); ok && c.Standing == machine.Disputed && c.Source != ceiling.Firmware && want > most && want > shown {
			return Reason{Outcome: Unproven, Says: what + "; " + c.Says + ", so the true limit is not known", Source: string(c.Source), Missing: missingFact}
		}
	}
	if ok, open := decides(row); !ok && (shown == 0 || want > shown) {
		return Reason{Outcome: Unproven, Says: open, Missing: missingFact}
	}
	return Reason{}
}

// shownSize is the largest module that a socket holds for certain, in MiB.
func (t *setting) shownSize() (most int64) {
	for _, p := range t.m.Places {
		if p.Module != nil && p.Attach.Or("") == machine.Socket && p.Module.Capacity.Standing == machine.Settled {
			most = max(most, int64(p.Module.Capacity.Or(0).MiB()))
		}
	}
	return most
}

// shownTotal is what is fitted for certain, in MiB.
func (t *setting) shownTotal() int64 {
	if f := t.m.Totals.Installed; f.Standing == machine.Settled {
		return int64(f.Or(0).MiB())
	}
	return 0
}

func density(s *scene) []Reason {
	row := s.in.limits.On(ceiling.Density)
	return s.each("the controller addresses all dies", func(seat Seat) Reason {
		mbit, ok := seat.Stick.Density.Get()
		if !seat.New {
			return Reason{}
		}
		if !ok {
			// Where the largest die makes no module as large as this one's slot
			// takes, the size alone decides, and the per-slot rule has it.
			if s.sizeProvesDensity(seat.Stick, row) {
				return Reason{}
			}
			return missing("the die density", "read ranks and chips off its sticker, as 1Rx8")
		}
		return bounded(s.rowFor(row, seat), int64(mbit), 0, "dies of "+gbit(mbit), "the largest die: processor's data sheet")
	})
}

// sizeProvesDensity: a module of a size that even one rank of x16 chips of the
// largest die makes cannot have larger dies.
func (s *scene) sizeProvesDensity(st stick.Stick, row []ceiling.Ceiling) bool {
	c, ok := ceiling.Least(row)
	size, known := st.Capacity.Get()
	return ok && known && size <= jedec.Capacity(c.Most.Or(0))*jedec.MiB*4/8
}

func gbit(mbit int) string {
	if mbit%1024 == 0 {
		return fmt.Sprintf("%d Gbit", mbit/1024)
	}
	return fmt.Sprintf("%d Mbit", mbit)
}

func chipWidth(s *scene) []Reason {
	row := s.in.limits.On(ceiling.Width)
	return s.each("the controller takes these chips", func(seat Seat) Reason {
		width, ok := seat.Stick.Width.Get()
		if !seat.New {
			return Reason{}
		}
		for _, c := range row {
			allowed, holds := c.Allowed.Get()
			word := fmt.Sprintf("x%d", width)
			switch {
			case !holds || !c.Holds():
			case !ok && len(allowed) == 3:
				return Reason{} // all widths are taken
			case !ok:
				return missing("the chip width", "read it off the sticker, as 1Rx8")
			case slices.Contains(allowed, word):
				return Reason{}
			case c.Standing == machine.Settled:
				return Reason{Outcome: Refused, Says: word + " chips; " + c.Says, Source: string(c.Source)}
			default:
				return Reason{Outcome: Unproven, Says: word + " chips; likely " + c.Says, Missing: "whether it takes " + word + " chips: processor's data sheet"}
			}
		}
		switch {
		case !ok:
			return missing("the chip width", "read it off the sticker, as 1Rx8")
		case width == 8:
			return Reason{} // every controller of unbuffered modules takes x8
		}
		return Reason{Outcome: Unproven, Says: fmt.Sprintf("x%d chips; whether the controller takes them is not known", width), Missing: "whether it takes x16 and x4 chips: processor's data sheet"}
	})
}

func ranks(s *scene) []Reason {
	row := s.in.limits.On(ceiling.Ranks)
	return s.each("no module has more ranks than a socket selects", func(seat Seat) Reason {
		n, ok := seat.Stick.Ranks.Get()
		switch {
		case !seat.New || seat.Stick.Registered.Or(false):
			return Reason{}
		case !ok:
			return Reason{} // an unbuffered module has one rank or two by its standard
		}
		return bounded(row, int64(n), 0, fmt.Sprintf("%d ranks", n), "how many ranks a slot selects: board's manual").orStandard(row, int64(n))
	})
}

// orStandard: where nobody but the standard limits, the standard decides.
func (r Reason) orStandard(row []ceiling.Ceiling, want int64) Reason {
	if r.Outcome != Unproven {
		return r
	}
	for _, c := range row {
		if most, ok := c.Most.Get(); ok && c.Source == ceiling.Standard && want <= most {
			return Reason{}
		}
	}
	return r
}

// die24 is the density that first made sizes between the powers of two.
const die24 = 24 * 1024

func oddSize(s *scene) []Reason {
	var out []Reason
	row := s.in.limits.On(ceiling.Density)
	for i, seat := range s.seats {
		size, ok := seat.Stick.Capacity.Get()
		if !ok || !seat.New || size&(size-1) == 0 {
			continue
		}
		r := bounded(row, die24, 0, fmt.Sprintf("%v needs 24 Gbit dies", size), "whether firmware knows 24 Gbit dies: board's list of modules")
		if r.Outcome == OK {
			r.Says = fmt.Sprintf("%v: the controller knows 24 Gbit dies; update the firmware first", size)
		} else {
			r.Says = s.names[i] + ": " + r.Says
		}
		out = append(out, r)
	}
	return out
}

func clockDriver(s *scene) []Reason {
	var out []Reason
	for i, seat := range s.seats {
		if !seat.New || !seat.Stick.Clocked.Or(false) {
			continue
		}
		r := Reason{Outcome: Unproven, Says: s.names[i] + " carries a clock driver, and whether the board supports one is not known", Missing: "whether the board supports clock drivers: its manual"}
		for _, c := range s.in.limits.On(ceiling.Clocked) {
			if list, ok := c.Allowed.Get(); ok && c.Holds() {
				switch {
				case len(list) > 0 && c.Standing == machine.Settled:
					r = Reason{Outcome: OK, Says: c.Says}
				case len(list) == 0 && c.Standing == machine.Settled:
					r = Reason{Outcome: Refused, Says: s.names[i] + " carries a clock driver; " + c.Says}
				}
			}
		}
		out = append(out, r)
	}
	return out
}

func perSlot(s *scene) []Reason {
	row := s.in.limits.On(ceiling.PerSlot)
	return s.each("every module is of a size that its slot takes", func(seat Seat) Reason {
		size, ok := seat.Stick.Capacity.Get()
		if !seat.New {
			return Reason{}
		}
		if !ok {
			return missing("the size", readSticker)
		}
		if most, limited := s.in.limits.SlotMost(seat.Place).Get(); limited && size > most {
			return Reason{Outcome: Refused, Says: fmt.Sprintf("the board's entry allows %v in %s", most, seat.Place), Source: "board"}
		}
		return bounded(s.rowFor(row, seat), int64(size.MiB()), s.in.shownSize(), fmt.Sprintf("%v", size), "the largest module of a slot: processor's data sheet, board's manual")
	})
}

// rowFor keeps the ceilings that speak of a module. What standard and
// controller state about dies, and the sizes that follow, is about unbuffered
// modules: of registered ones only board, firmware and technician know.
func (s *scene) rowFor(row []ceiling.Ceiling, seat Seat) (out []ceiling.Ceiling) {
	if !seat.Stick.Registered.Or(false) {
		return row
	}
	for _, c := range row {
		if c.Source == ceiling.Board || c.Source == ceiling.Firmware || c.Source == ceiling.Technician {
			out = append(out, c)
		}
	}
	return out
}

// withoutStandard drops the standard's row for unbuffered modules.
func withoutStandard(row []ceiling.Ceiling) (out []ceiling.Ceiling) {
	for _, c := range row {
		if c.Source != ceiling.Standard {
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

func total(s *scene) []Reason {
	sum, known := s.sum()
	if !known {
		return []Reason{missing("the size of every module", readSticker)}
	}
	r := bounded(s.in.limits.On(ceiling.Capacity), int64(sum.MiB()), s.in.shownTotal(), fmt.Sprintf("%v in all", sum), "the machine's maximum: processor's data sheet, board's manual")
	if r.Outcome == OK {
		r.Says = fmt.Sprintf("%v in all is within every ceiling", sum)
	}
	return []Reason{r}
}

func systemLimit(s *scene) []Reason {
	sum, known := s.sum()
	if !known {
		return nil
	}
	for _, c := range s.in.limits.On(ceiling.OSCapacity) {
		most, limited := c.Most.Get()
		switch {
		case limited && int64(sum.MiB()) > most:
			return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("of %v the system uses %v: %s", sum, jedec.Capacity(most)*jedec.MiB, c.Says), Source: "os"}}
		case !c.Holds() && c.Standing < machine.Leaning:
			return []Reason{{Outcome: Unproven, Says: c.Says, Missing: "edition and width of the operating system: look at its own settings"}}
		}
	}
	return []Reason{{Outcome: OK, Says: "the system uses all of it"}}
}
