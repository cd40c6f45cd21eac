package trial

import (
	"fmt"
	"slices"

	"epitome/core/ceiling"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/stick"
)

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
			if !seat.Stick.Registered.Known() && !s.onlyUnbufferedForm(seat) {
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
