package trial

import (
	"fmt"
	"slices"
	"strings"

	"epitome/core/ceiling"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/stick"
)

// A Rule is one condition that a set of modules must meet.
type Rule struct {
	ID     string
	Says   string   // its statement, one sentence
	Needs  []string // what it must know to decide
	Source string   // standard clause, or kind of data sheet
	// Machine: it can be asked of modules in a machine only.
	Machine bool
	decide  func(s *scene) []Reason
}

// Rules returns every rule, in the order in which they are asked.
func Rules() []Rule { return rules }

// rules is the one table of rules. Each decides for the whole scene; a rule
// that returns nothing does not apply.
var rules = []Rule{
	{"same-generation", "All modules are of the generation that the board takes: generations never mix.",
		[]string{"generation of each module", "generation of the board"}, "JESD21-C module annexes: contacts and key differ by generation", false, sameGeneration},
	{"form", "Each module has the form and the contacts of its socket.",
		[]string{"form of each module", "form of the sockets"}, "JEDEC MO outlines", false, form},
	{"socket", "Every new module goes into a place that is a socket for certain, and free.",
		[]string{"whether the place is a socket", "whether it is free"}, "sight, or signs that agree", true, socket},
	{"supply", "The board gives every module a supply that it is made for.",
		[]string{"supplies of each module", "supplies of controller and board"}, "JESD79-3-1 (1.35 V parts run at 1.5 V too, 1.5 V parts not at 1.35 V); controller data sheet", false, supply},
	{"buffering", "Registered and load-reduced modules never share a machine with unbuffered ones, nor go where only those go.",
		[]string{"kind of each module", "kinds that the controller takes"}, "JESD21-C 4.20: address lines are driven differently; controller data sheet", false, buffering},
	{"ecc", "Modules with check bits need a controller, and a board, that take them; beside modules without, they check nothing.",
		[]string{"check bits of each module", "kinds that the controller takes"}, "controller and chipset data sheet, board manual", false, checkBits},
	{"density", "The controller addresses the modules' dies.",
		[]string{"die density of each module", "largest die of the controller"}, "controller data sheet", true, density},
	{"chip-width", "The controller takes modules of x4 and x16 chips only where it says so.",
		[]string{"chip width of each module", "widths that the controller takes"}, "controller data sheet", true, chipWidth},
	{"ranks", "No module has more ranks than its socket selects.",
		[]string{"ranks of each module"}, "module annexes: two select lines for unbuffered modules", true, ranks},
	{"odd-size", "Modules of 12, 24 or 48 GB need a controller and a firmware that know 24 Gbit dies.",
		[]string{"largest die of the controller"}, "JESD79-5: 24 Gbit dies came after the first boards", true, oddSize},
	{"clock-driver", "Modules with a clock driver need a board that supports them.",
		[]string{"whether the module carries one", "whether the board supports it"}, "JESD323", true, clockDriver},
	{"per-slot", "No module is larger than its slot takes.",
		[]string{"capacity of each module", "largest module of a slot"}, "controller data sheet, board manual", true, perSlot},
	{"total", "All memory together is no more than controller, board and firmware allow.",
		[]string{"total capacity", "the machine's ceilings"}, "controller data sheet, board manual, firmware table 16", true, total},
	{"system-limit", "The operating system uses all of it.",
		[]string{"edition and width of the system"}, "the system maker's published limits", true, systemLimit},
	{"channel-slots", "No channel carries more modules than the controller drives.",
		[]string{"channel of each place", "slots of a channel"}, "controller and chipset data sheet", true, channelSlots},
	{"rate", "The machine's rate for channels filled this way is known, and the modules keep it.",
		[]string{"grade of each module", "rate by population"}, "controller data sheet, board manual", true, rate},
	{"timings", "All modules share a CAS latency that is long enough for each.",
		[]string{"grade of each module", "access time of each module for the figures"}, "JESD21-C SPD annexes: rounding rules; the bins of the device standards", false, timings},
	{"profile", "Speed that a module reaches by an overclocking profile alone counts only where the machine can select it.",
		[]string{"profiles of each module", "whether profiles can be selected"}, "chipset data sheet, board manual; profiles are no part of the standard", false, profile},
	{"unlike", "Modules of unlike makers, chips or ranks run side by side at standard timings; a profile is tested by its maker for one kit alone.",
		[]string{"maker, chip maker and ranks of each module, as far as they are stated"}, "the device standards: every bin is alike whoever makes it", false, unlike},
	{"pairing", "Channels are filled alike, so that all memory is interleaved.",
		[]string{"channel of each place"}, "controller data sheet: interleaving", true, pairing},
	{"order", "Where the board's manual gives an order, slots are filled in it.",
		[]string{"the manual's order"}, "board manual", true, order},
	{"faster-part", "A module faster than the machine runs it gains nothing, and a slower one slows the others.",
		[]string{"grade of each module"}, "controller data sheet", false, fasterPart},
}

// each runs a decision over the modules and keeps what is not ok; where all
// are, it says so once.
func (s *scene) each(fine string, decide func(Seat) Reason) []Reason {
	var out []Reason
	for i, seat := range s.seats {
		if seat.Soldered {
			continue // it is there and runs
		}
		r := decide(seat)
		if r.Outcome != OK {
			if r.Says == "" {
				r.Says = s.names[i]
			} else {
				r.Says = s.names[i] + ": " + r.Says
			}
			out = append(out, r)
		}
	}
	if len(out) == 0 {
		return []Reason{{Outcome: OK, Says: fine}}
	}
	return out
}

func missing(fact, how string) Reason {
	return Reason{Outcome: Unproven, Says: fact + " is not known", Missing: fact + ": " + how}
}

const readSticker = "read its sticker, or its EEPROM"

func sameGeneration(s *scene) []Reason {
	var first stick.Stick
	for _, seat := range s.seats {
		if g, ok := seat.Stick.Generation.Get(); ok && !(seat.Soldered && g.LowPower()) && !first.Generation.Known() {
			first = seat.Stick
		}
	}
	want, known := first.Generation.Get()
	of := "the first one is " + want.String()
	standing := machine.Settled
	if s.in != nil {
		f := s.in.limits.Generation
		want, known = f.Get()
		of, standing = "the board takes "+want.String(), f.Standing
	}
	return s.each("all are "+want.String(), func(seat Seat) Reason {
		g, has := seat.Stick.Generation.Get()
		switch {
		case !has:
			return missing("the generation", readSticker)
		case !known:
			return missing("the board's generation", "read the sticker of a fitted module, or add the board to the catalogue")
		case g != want && standing < machine.Settled:
			return Reason{Outcome: Unproven, Says: fmt.Sprintf("is %v, and likely %s", g, of), Missing: "the board's generation: read the sticker of a fitted module"}
		case g != want:
			return Reason{Outcome: Refused, Says: fmt.Sprintf("is %v, %s", g, of)}
		case standing < machine.Settled:
			return Reason{Outcome: Unproven, Says: "likely " + of + ", not settled", Missing: "the board's generation: read the sticker of a fitted module"}
		}
		return Reason{}
	})
}

func form(s *scene) []Reason {
	want, known, of := jedec.FormUnknown, false, "the first one is a "
	if s.in != nil {
		f := s.in.limits.Form
		want, known = f.Get()
		of = "the socket takes a "
	} else {
		for _, seat := range s.seats {
			if f, ok := seat.Stick.Form.Get(); ok && !known {
				want, known = f, true
			}
		}
	}
	return s.each("all are "+want.String()+"s", func(seat Seat) Reason {
		f, has := seat.Stick.Form.Get()
		g := seat.Stick.Generation.Or(jedec.GenerationUnknown)
		made, _ := g.Contacts(f)
		wanted, _ := g.Contacts(want)
		switch {
		case !has:
			return missing("the form", readSticker)
		case !known:
			return missing("the form of the sockets", "look whether they take DIMMs or SO-DIMMs")
		case f != want && made > 0 && wanted > 0:
			return Reason{Outcome: Refused, Says: fmt.Sprintf("a %v with %d contacts, %s%v with %d", f, made, of, want, wanted)}
		case f != want:
			return Reason{Outcome: Refused, Says: fmt.Sprintf("a %v, %s%v", f, of, want)}
		}
		return Reason{}
	})
}

func socket(s *scene) []Reason {
	return s.each("every place is a socket", func(seat Seat) Reason {
		p, ok := s.in.at(seat.Place)
		a := p.Attach
		switch {
		case !ok || !seat.New:
			return Reason{}
		case a.Or("") == machine.Soldered && a.Standing == machine.Settled:
			return Reason{Outcome: Refused, Says: "the place is soldered"}
		case a.Or("") != machine.Socket || a.Standing < machine.Settled:
			return Reason{Outcome: Unproven, Says: fmt.Sprintf("whether %s is a socket is %v", seat.Place, a.Standing), Missing: "whether " + seat.Place + " is a socket: look and see"}
		case !p.Filled.Known():
			return Reason{Outcome: Unproven, Says: "whether " + seat.Place + " is free is not known", Missing: "whether " + seat.Place + " is free: look and see"}
		}
		return Reason{}
	})
}

func (t *setting) at(name string) (machine.Place, bool) {
	for _, p := range t.m.Places {
		if p.Name == name {
			return p, true
		}
	}
	return machine.Place{}, false
}

func supply(s *scene) []Reason {
	common, known := supplies(s.sticks())
	if known && len(common) == 0 {
		return []Reason{{Outcome: Refused, Says: "the modules share no supply"}}
	}
	if s.in == nil {
		if !known {
			return s.each("", func(seat Seat) Reason {
				if _, ok := supplies([]stick.Stick{seat.Stick}); !ok {
					return missing("the supply", "read its sticker: PC3 is 1.5 V, PC3L 1.35 V")
				}
				return Reason{}
			})
		}
		return []Reason{{Outcome: OK, Says: "all run at " + stick.Volts(slices.Min(common))}}
	}
	allowed := s.in.limits.Supplies()
	says, standing := s.in.limits.SuppliesStated()
	g, _ := s.generation()
	if len(allowed) == 0 && len(g.Trait().MilliVolts) == 1 {
		allowed, standing = g.Trait().MilliVolts, machine.Settled // the standard knows one supply
	}
	return s.each("the board supplies what all are made for", func(seat Seat) Reason {
		own, has := supplies([]stick.Stick{seat.Stick})
		switch {
		case !has:
			return missing("the supply", "read its sticker: PC3 is 1.5 V, PC3L 1.35 V")
		case len(allowed) == 0:
			return missing("the supply that the board gives", "look it up in the processor's data sheet, or on a fitted module")
		case !slices.ContainsFunc(own, func(mv int) bool { return slices.Contains(allowed, mv) }):
			r := Reason{Outcome: Refused, Says: fmt.Sprintf("made for %s; %s", volts(own), says), Source: says}
			if standing < machine.Settled {
				r.Outcome, r.Missing = Unproven, "the supply that the board gives: look it up in its manual"
			}
			return r
		}
		return Reason{}
	})
}

func volts(list []int) string {
	text := ""
	for i, mv := range list {
		if i > 0 {
			text += " or "
		}
		text += stick.Volts(mv)
	}
	return text
}

// kindsRow is the machine's row of kinds that binds.
func (t *setting) kindsAllowed() (allowed []string, says string, standing machine.Standing, open string) {
	row := t.limits.On(ceiling.Kinds)
	if ok, open := decides(row); !ok {
		return nil, "", machine.Unknown, open
	}
	first := true
	for _, c := range row {
		list, ok := c.Allowed.Get()
		if !ok || !c.Holds() {
			continue
		}
		if first {
			allowed, says, standing, first = slices.Clone(list), c.Says, c.Standing, false
			continue
		}
		allowed = slices.DeleteFunc(allowed, func(k string) bool { return !slices.Contains(list, k) })
		says, standing = says+"; "+c.Says, min(standing, c.Standing)
	}
	return allowed, says, standing, ""
}

func buffering(s *scene) []Reason {
	registered, plain := 0, 0
	for _, seat := range s.seats {
		if r, ok := seat.Stick.Registered.Get(); ok && !seat.Soldered {
			if r {
				registered++
			} else {
				plain++
			}
		}
	}
	if registered > 0 && plain > 0 {
		return []Reason{{Outcome: Refused, Says: fmt.Sprintf("%d registered beside %d unbuffered", registered, plain)}}
	}
	if s.in == nil {
		return s.each("all alike in buffering", func(seat Seat) Reason {
			if !seat.Stick.Registered.Known() {
				return missing("whether it is registered", readSticker)
			}
			return Reason{}
		})
	}
	allowed, says, standing, open := s.in.kindsAllowed()
	return s.each("all are buffered as the machine takes them", func(seat Seat) Reason {
		r, has := seat.Stick.Registered.Get()
		kind := map[bool]string{true: ceiling.Registered, false: ceiling.Ordinary}[r]
		fits := slices.Contains(allowed, kind) || !r && slices.Contains(allowed, ceiling.ECCModules)
		switch {
		case !has && s.onlyUnbufferedForm(seat):
			return Reason{} // an SO-DIMM is never registered
		case !has:
			return missing("whether it is registered", readSticker)
		case open != "":
			return Reason{Outcome: Unproven, Says: open, Missing: "which kinds of module the machine takes: processor's data sheet"}
		case !fits && standing == machine.Settled:
			return Reason{Outcome: Refused, Says: kind + "; " + says, Source: says}
		case !fits:
			return Reason{Outcome: Unproven, Says: kind + "; likely " + says, Missing: "which kinds of module the machine takes: board's manual"}
		}
		return Reason{}
	})
}

// onlyUnbufferedForm: small-outline modules carry no register (JESD21-C
// 4.20.11 and its successors define unbuffered ones alone).
func (s *scene) onlyUnbufferedForm(seat Seat) bool {
	f, ok := seat.Stick.Form.Get()
	return ok && (f == jedec.SODIMM || f == jedec.MicroDIMM)
}

func checkBits(s *scene) []Reason {
	with, without := 0, 0
	for _, seat := range s.seats {
		switch ecc, ok := seat.Stick.ECC.Get(); {
		case ok && ecc:
			with++
		case ok:
			without++
		}
	}
	var out []Reason
	if with > 0 && without > 0 {
		out = append(out, Reason{Outcome: Reduced, Says: fmt.Sprintf("%d with check bits beside %d without: nothing is checked", with, without)})
	}
	if s.in == nil || with == 0 {
		more := s.each("alike in check bits", func(seat Seat) Reason {
			if !seat.Stick.ECC.Known() {
				return missing("whether it has check bits", readSticker)
			}
			return Reason{}
		})
		if len(out) > 0 && more[0].Outcome == OK {
			return out
		}
		return append(out, more...)
	}
	allowed, says, standing, open := s.in.kindsAllowed()
	waits := s.in.limits.ECCWaitsFor()
	return append(out, s.each("the machine takes check bits", func(seat Seat) Reason {
		ecc, has := seat.Stick.ECC.Get()
		switch {
		case !has:
			return missing("whether it has check bits", readSticker)
		case !ecc || seat.Stick.Registered.Or(false):
			return Reason{} // registered ones are the buffering rule's
		case open != "":
			return Reason{Outcome: Unproven, Says: open, Missing: "whether the machine takes ECC modules: processor's data sheet"}
		case !slices.Contains(allowed, ceiling.ECCModules) && standing == machine.Settled:
			return Reason{Outcome: Refused, Says: "has check bits; " + says, Source: says}
		case !slices.Contains(allowed, ceiling.ECCModules):
			return Reason{Outcome: Unproven, Says: "has check bits; likely " + says, Missing: "whether the board takes ECC modules: its manual"}
		case len(waits) > 0:
			return Reason{Outcome: Unproven, Says: fmt.Sprintf("has check bits, which also depend on the %v", waits), Missing: "whether the board takes ECC modules: its manual"}
		}
		return Reason{}
	})...)
}

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

func channelSlots(s *scene) []Reason {
	groups, ok := s.perChannel()
	if !ok {
		if len(s.seats) == 1 {
			return nil
		}
		return []Reason{{Outcome: Unproven, Says: "which channel each place belongs to is not known", Missing: "the channels of the places: board's manual"}}
	}
	most := 0
	for _, g := range groups {
		most = max(most, len(g))
	}
	for _, c := range s.in.limits.On(ceiling.DIMMs) {
		if n, ok := c.Most.Get(); ok && c.Standing == machine.Settled && int64(most) > n && c.Source != ceiling.Board {
			return []Reason{{Outcome: Refused, Says: fmt.Sprintf("%d modules on one channel; %s", most, c.Says), Source: string(c.Source)}}
		}
	}
	return []Reason{{Outcome: OK, Says: fmt.Sprintf("at most %d on a channel", most)}}
}

func rate(s *scene) []Reason {
	p, ok := s.point.Get()
	if !ok {
		return []Reason{{Outcome: Unproven, Says: "the rate can't be told: " + s.why, Missing: "the machine's rate for channels filled this way: processor's data sheet, board's manual"}}
	}
	slowest, fastest := jedec.Rate(0), jedec.Rate(0)
	for _, seat := range s.seats {
		x := seat.Stick.Grade.Or(jedec.Grade{}).Rate
		if slowest == 0 || x < slowest {
			slowest = x
		}
		fastest = max(fastest, x)
	}
	if p.Profile == "" && p.Grade.Rate < slowest && s.dense() {
		return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("%v, though every module is good for %d: %s", p.Grade.Rate, int(slowest), p.By("rate_mts"))}}
	}
	return []Reason{{Outcome: OK, Says: fmt.Sprintf("%v, set by %s", p.Grade.Rate, p.By("rate_mts"))}}
}

// dense reports whether a channel carries more than one module.
func (s *scene) dense() bool {
	groups, _ := s.perChannel()
	return slices.ContainsFunc(groups, func(g []int) bool { return len(g) > 1 })
}

func timings(s *scene) []Reason {
	p, ok := s.point.Get()
	_, one := s.generation()
	switch {
	case !ok && (s.in != nil || !one):
		return nil // the rule of the rate, or of the generation, has said why
	case !ok:
		return []Reason{{Outcome: Unproven, Says: "no operating point: " + s.why, Missing: "the grade of each module: " + readSticker}}
	case !p.TimesKnown && p.Worst > 0:
		return []Reason{{Outcome: OK, Says: fmt.Sprintf("CL not known, at most %v at %v by the standard's bins", p.Worst, p.Grade.Rate)}}
	case !p.TimesKnown:
		return []Reason{{Outcome: Unproven, Says: "the access time of a module is not known", Missing: "the CAS latency: read the bin off the sticker, as 2400T, or the EEPROM"}}
	}
	return []Reason{{Outcome: OK, Says: fmt.Sprintf("CL%v at %v, set by %s", p.Timing.CL, p.Grade.Rate, p.By("cl"))}}
}

func profile(s *scene) []Reason {
	var with []int
	for i, seat := range s.seats {
		if len(seat.Stick.Profiles) > 0 {
			with = append(with, i)
		}
	}
	if len(with) == 0 {
		if s.profile {
			return []Reason{{Outcome: Refused, Says: "no module carries a profile"}}
		}
		return nil
	}
	fastest := stick.Profile{}
	for _, x := range s.seats[with[0]].Stick.Profiles {
		if x.Rate > fastest.Rate {
			fastest = x
		}
	}
	if !s.profile {
		p, ok := s.point.Get()
		says := fmt.Sprintf("the %d of %s is a profile's, and no profile is selected", int(fastest.Rate), s.names[with[0]])
		if ok && p.Grade.Rate < fastest.Rate {
			return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("%s: it runs at %d", says, int(p.Grade.Rate))}}
		}
		return []Reason{{Outcome: OK, Says: says}}
	}
	return s.underProfile(with)
}

// underProfile decides a trial that wants the profile selected.
func (s *scene) underProfile(with []int) []Reason {
	var out []Reason
	if len(with) < len(s.seats) {
		out = append(out, Reason{Outcome: Refused, Says: "not every module carries a profile: it is selected for all or none"})
	}
	for _, i := range with[1:] {
		a, b := s.seats[with[0]].Stick, s.seats[i].Stick
		if a.Part == "" || a.Part != b.Part {
			out = append(out, Reason{Outcome: Unproven, Says: "modules of different kits under a profile: nobody has tested them together", Missing: "whether they run together: buy one kit, or test"})
			break
		}
	}
	if s.in == nil {
		return append(out, Reason{Outcome: Unproven, Says: "whether the machine can select a profile is not known", Missing: "the machine: epitome trial"})
	}
	yes, no, says := false, false, "whether profiles can be selected is not known"
	for _, c := range s.in.limits.On(ceiling.Profiles) {
		if list, ok := c.Allowed.Get(); ok && c.Holds() {
			yes = yes || len(list) > 0 && c.Standing == machine.Settled
			no = no || len(list) == 0 && c.Standing == machine.Settled
			says = c.Says
		}
	}
	switch {
	case no:
		out = append(out, Reason{Outcome: Refused, Says: says})
	case !yes:
		out = append(out, Reason{Outcome: Unproven, Says: says, Missing: "whether profiles can be selected: look in the firmware's menus"})
	default:
		out = append(out, Reason{Outcome: OK, Says: says + "; above the controller's official rate nobody promises it"})
	}
	return out
}

// unlike names in what the modules differ. At standard timings that forbids
// nothing; what it costs in speed the rules of rate and timings say.
func unlike(s *scene) []Reason {
	differ := func(of func(stick.Stick) (string, bool)) bool {
		first, seen := "", false
		for _, seat := range s.seats {
			if text, ok := of(seat.Stick); ok {
				if seen && text != first {
					return true
				}
				first, seen = text, true
			}
		}
		return false
	}
	var in []string
	for _, x := range []struct {
		word string
		of   func(stick.Stick) (string, bool)
	}{
		{"makers", func(st stick.Stick) (string, bool) { m, ok := st.Maker.Get(); return m.String(), ok }},
		{"chip makers", func(st stick.Stick) (string, bool) { m, ok := st.ChipMaker.Get(); return m.String(), ok }},
		{"ranks", func(st stick.Stick) (string, bool) { n, ok := st.Ranks.Get(); return fmt.Sprint(n), ok }},
		{"capacities", func(st stick.Stick) (string, bool) { c, ok := st.Capacity.Get(); return c.String(), ok }},
	} {
		if differ(x.of) {
			in = append(in, x.word)
		}
	}
	switch {
	case len(in) == 0:
		return nil
	case s.profile:
		return []Reason{{Outcome: Unproven, Says: fmt.Sprintf("unlike in %s under a profile: nobody has tested them together", strings.Join(in, ", ")), Missing: "whether they run together under the profile: test, or buy one kit"}}
	}
	return []Reason{{Outcome: OK, Says: "unlike in " + strings.Join(in, ", ") + ", which standard timings allow"}}
}

func pairing(s *scene) []Reason {
	p, ok := s.point.Get()
	if !ok || len(p.Channels) == 0 {
		return nil
	}
	used := len(p.Channels)
	channels := s.channels()
	switch {
	case used == 1 && channels > 1 && len(s.seats) > 1:
		return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("all on one of %d channels: half the bandwidth or less", channels)}}
	case used == 1 && channels > 1:
		return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("one module uses one of %d channels", channels)}}
	case p.Interleaved < p.Total:
		return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("%v of %v are interleaved, %v run over one channel alone", p.Interleaved, p.Total, p.Total-p.Interleaved)}}
	case len(p.Layers) > 1:
		return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("%v over %d channels, the rest over fewer", p.Layers[0].Capacity, p.Layers[0].Channels)}}
	case used < channels:
		return []Reason{{Outcome: Reduced, Says: fmt.Sprintf("%d of %d channels are used", used, channels)}}
	}
	return []Reason{{Outcome: OK, Says: fmt.Sprintf("%v over %d channels alike", p.Total, used)}}
}

// channels is how many channels the machine's places belong to.
func (s *scene) channels() int {
	var names []string
	for _, p := range s.in.m.Places {
		if c, ok := p.Channel.Get(); ok && !slices.Contains(names, c) {
			names = append(names, c)
		}
	}
	return max(1, len(names))
}

func order(s *scene) []Reason {
	if s.in.order == nil {
		return nil
	}
	var used []int
	for _, seat := range s.seats {
		if n, ok := s.in.order[seat.Place]; ok {
			used = append(used, n)
		}
	}
	slices.Sort(used)
	for i, n := range used {
		if n != i+1 {
			return []Reason{{Outcome: Reduced, Says: "the manual fills other slots first: " + s.firstSlots(len(used))}}
		}
	}
	return []Reason{{Outcome: OK, Says: "slots are filled in the manual's order"}}
}

// firstSlots names the first n slots of the manual's order.
func (s *scene) firstSlots(n int) string {
	text := ""
	for i := 1; i <= n; i++ {
		for _, p := range s.in.m.Places {
			if s.in.order[p.Name] == i {
				if text != "" {
					text += ", "
				}
				text += p.Name
			}
		}
	}
	return text
}

func fasterPart(s *scene) []Reason {
	p, ok := s.point.Get()
	if !ok || p.Profile != "" {
		return nil
	}
	var out []Reason
	slowest, fastest := -1, -1
	for i, seat := range s.seats {
		rate := seat.Stick.Grade.Or(jedec.Grade{}).Rate
		if slowest < 0 || rate < s.seats[slowest].Stick.Grade.Or(jedec.Grade{}).Rate {
			slowest = i
		}
		if fastest < 0 || rate > s.seats[fastest].Stick.Grade.Or(jedec.Grade{}).Rate {
			fastest = i
		}
	}
	low, high := s.seats[slowest].Stick.Grade.Or(jedec.Grade{}).Rate, s.seats[fastest].Stick.Grade.Or(jedec.Grade{}).Rate
	switch {
	case low < high && p.Grade.Rate <= low && s.couldRun(high) > p.Grade.Rate:
		out = append(out, Reason{Outcome: Reduced, Says: fmt.Sprintf("%s holds the others to %d; they are good for %d", s.names[slowest], int(p.Grade.Rate), int(s.couldRun(high)))})
	case high > p.Grade.Rate:
		out = append(out, Reason{Outcome: OK, Says: fmt.Sprintf("nothing is gained by %s: it runs at %d", s.names[fastest], int(p.Grade.Rate))})
	}
	return out
}

// couldRun is the rate up to which the machine would let faster modules run.
func (s *scene) couldRun(rate jedec.Rate) jedec.Rate {
	if s.in == nil {
		return rate
	}
	caps, _, _ := s.caps()
	for _, c := range caps {
		rate = min(rate, c.rate)
	}
	return rate
}
