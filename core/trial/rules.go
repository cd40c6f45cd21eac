package trial

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
