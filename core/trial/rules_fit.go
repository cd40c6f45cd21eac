package trial

import (
	"fmt"
	"strings"

	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/module"
	"epitome/core/rule"
)

func sameGeneration(w *rule.World, s *scene, i int) rule.Said {
	want, known := s.generationOfOthers(i)
	of := "the first one is " + want.String()
	if s.in != nil {
		f := s.in.limits.Generation
		var set bool
		want, set = f.Get()
		of, known = "the board takes "+want.String(), set && f.Standing() == fact.Settled
		if set && !known {
			want = rule.Choose(w, rule.Possible[jedec.Generation]{Key: "generation of the board",
				Values: []jedec.Generation{want, jedec.GenerationUnknown}, Leads: f.Standing() == fact.Leaning,
				Fact: "the board's generation", Look: "read the sticker of a fitted module"})
			known = true
		}
	}
	g, stated := s.seats[i].Stick.Generation.Get()
	if !known || !stated {
		alike := rule.Choose(w, yesNo(s.stickKey(i, "generation"),
			map[bool]string{true: "the board's generation", false: "the generation of " + s.names[i]}[stated],
			map[bool]string{true: "read the sticker of a fitted module, or add the board to the catalogue",
				false: s.look(i)}[stated], true, false, ""))
		if !alike {
			return refused("the generation is not known", "")
		}
		return ok()
	}
	if !jedec.OneWord(g, want) {
		return refused(fmt.Sprintf("is %v, %s", g, of), "")
	}
	return ok()
}

// generationOfOthers is that of the first other module that tells.
func (s *scene) generationOfOthers(i int) (jedec.Generation, bool) {
	for j, seat := range s.seats {
		if g, ok := seat.Stick.Generation.Get(); ok && (j < i || !s.seats[0].Stick.Generation.Known()) {
			return g, true
		}
	}
	return s.seats[i].Stick.Generation.Get()
}

func form(w *rule.World, s *scene, i int) rule.Said {
	st := s.seats[i].Stick
	f, stated := st.Form.Get()
	want, known := jedec.FormUnknown, false
	of := "the first one is a "
	if s.in != nil {
		want, known = s.in.limits.Form.Get()
		of = "the socket takes a "
	} else {
		for _, seat := range s.seats {
			if x, ok := seat.Stick.Form.Get(); ok && !known {
				want, known = x, true
			}
		}
	}
	if s.in == nil && !known {
		return ok() // nothing tells them apart
	}
	switch {
	case !stated:
		leads, first := false, true
		for _, hint := range st.Leaning {
			if hint.Fact == "form" {
				leads, first = true, hint.Value == want.String()
			}
		}
		if !rule.Choose(w, yesNo(s.stickKey(i, "form"), "the form of "+s.names[i], s.look(i), first, leads,
			map[bool]string{true: "trade's word"}[leads])) {
			return refused("the form is not known", "")
		}
		return ok()
	case !known:
		if !rule.Choose(w, yesNo("form of the sockets", "the form of the sockets",
			"look whether they take DIMMs or SO-DIMMs", true, false, "")) {
			return refused("the form of the sockets is not known", "")
		}
		return ok()
	case f == want:
		return ok()
	}
	g := st.Generation.Or(jedec.GenerationUnknown)
	made, _ := g.Contacts(f)
	other, told := s.generationOfOthers(i)
	if s.in != nil {
		other, told = s.in.limits.Generation.Get()
	}
	if !told {
		other = g
	}
	wanted, _ := other.Contacts(want)
	if made > 0 && wanted > 0 {
		return refused(fmt.Sprintf("a %v with %d contacts, %s%v with %d", f, made, of, want, wanted), "")
	}
	return refused(fmt.Sprintf("a %v, %s%v", f, of, want), "")
}

// attachOf is whether a place is a socket, as a person is asked for it.
func attachOf(place string) machine.Subject {
	return machine.Subject{Topic: machine.AboutAttach, Place: place}
}

func socket(w *rule.World, s *scene, i int) rule.Said {
	seat := s.seats[i]
	p, listed := s.in.at(seat.Place)
	if !listed {
		return ok()
	}
	isSocket := p.Attach.Or("") == machine.Socket
	if p.Attach.Standing() != fact.Settled {
		isSocket = rule.Choose(w, yesNo(attachOf(seat.Place).String(), "whether "+seat.Place+" is a socket",
			"look whether "+seat.Place+" is a socket",
			isSocket || !p.Attach.Known(), p.Attach.Standing() == fact.Leaning, ""))
	}
	if !isSocket {
		return refused(fmt.Sprintf("%s; if it is soldered the stick has no place",
			map[bool]string{true: seat.Place + " is likely a socket",
				false: "whether " + seat.Place + " is a socket is not settled"}[p.Attach.Standing() == fact.Leaning &&
				p.Attach.Or("") == machine.Socket]), "")
	}
	if !p.Filled.Known() {
		if !rule.Choose(w, yesNo("free "+seat.Place, "whether "+seat.Place+" is free",
			"look whether "+seat.Place+" is free", true, false, "")) {
			return refused("whether "+seat.Place+" is free is not known", "")
		}
	}
	return ok()
}

func (t *setting) at(name string) (machine.Place, bool) {
	for _, p := range t.m.Places {
		if p.Name == name {
			return p, true
		}
	}
	return machine.Place{}, false
}

func supply(w *rule.World, s *scene, i int) rule.Said {
	own := s.madeFor(w, i)
	if own.Len() == 0 { // of no known generation
		if !rule.Choose(w, yesNo(s.stickKey(i, "supply"), "the supply of "+s.names[i], s.look(i), true, false, "")) {
			return refused("the supply that it is made for is not known", "")
		}
		return ok()
	}
	common := own
	says := ""
	if s.in != nil {
		var given jedec.Supplies
		given, says = s.given(w)
		if common = own.Shared(given); common.Len() == 0 {
			return refused(fmt.Sprintf("made for %v; %s", own, says), says)
		}
	}
	for j, seat := range s.seats {
		if j == i || seat.Soldered {
			continue
		}
		if other := s.madeFor(w, j); other.Len() > 0 { // of one whose generation is open it is asked on its own
			common = common.Shared(other)
		}
	}
	if common.Len() == 0 {
		return refused("the modules share no supply", "")
	}
	return ok()
}

// buffered is how a module's address lines are driven.
func (s *scene) buffered(w *rule.World, i int) string {
	if kind := bufferedAs(&s.seats[i].Stick); kind != ceiling.Ordinary {
		return kind
	}
	if s.registered(w, i) {
		return ceiling.Registered
	}
	return ceiling.Ordinary
}

// bufferedAs is how a module's address lines are driven, as far as something says it.
func bufferedAs(m *module.Module) string {
	switch m.BuiltAs() {
	case jedec.RegisteredECC:
		return ceiling.Registered
	case jedec.LoadReduced:
		return ceiling.LoadReduced
	case jedec.FullyBuffered:
		return ceiling.FullyBuffered
	case jedec.Multiplexed:
		return ceiling.Multiplexed
	}
	return ceiling.Ordinary
}

func buffering(w *rule.World, s *scene, i int) rule.Said {
	mine := s.buffered(w, i)
	for j, seat := range s.seats {
		if j == i || seat.Soldered {
			continue
		}
		if other := s.buffered(w, j); other != mine {
			return refused(unbuffered(mine)+" beside "+unbuffered(other), "")
		}
	}
	if s.in == nil {
		return ok()
	}
	if s.in.witnessKind(mine, s.checked(w, i)) {
		return ok()
	}
	allowed := s.in.kinds(w)
	if mine == ceiling.Multiplexed && allowed.takes(ceiling.Registered) {
		if rule.Choose(w, yesNo("multiplexed-rank modules", "whether the board takes multiplexed-rank modules", "its manual",
			true, false, "")) {
			return ok()
		}
		return refused("multiplexed-rank; the board takes other registered modules alone", "")
	}
	if !allowed.takes(mine) && !(mine == ceiling.Ordinary && allowed.takes(ceiling.ECCModules)) {
		return refused(unbuffered(mine)+"; "+allowed.says, allowed.says)
	}
	return ok()
}

func unbuffered(kind string) string {
	if kind == ceiling.Ordinary {
		return "unbuffered"
	}
	return kind
}

func checkBits(w *rule.World, s *scene, i int) rule.Said {
	mine := s.checked(w, i)
	unlike := rule.Said{}
	for j := range s.seats {
		if j != i && s.checked(w, j) != mine {
			unlike = rule.Said{Outcome: rule.Reduced, Says: "modules with check bits beside modules without: nothing is checked"}
		}
	}
	if mine && s.in != nil && !s.registered(w, i) && !s.in.witnessKind(ceiling.Ordinary, true) {
		allowed := s.in.kinds(w)
		if !allowed.takes(ceiling.ECCModules) {
			// Some such machines ignore the check bits, some do not start.
			if !rule.Choose(w, yesNo("starts with check bits",
				"whether the machine starts with ECC modules, and ignores their check bits",
				"ask somebody who has tried ECC modules in it, or buy modules without", true, true, "trade's word")) {
				return refused("has check bits; "+allowed.says, allowed.says)
			}
			return rule.Said{Outcome: rule.Reduced, Says: "has check bits, which the machine does not use; " + allowed.says}
		}
		if waits := s.in.limits.ECCWaitsFor(); len(waits) > 0 {
			if !rule.Choose(w, yesNo("ecc of the board", "whether the board takes ECC modules", "its manual", true, false, "")) {
				return refused("has check bits, which also depend on the "+strings.Join(waits, " and the "), "")
			}
		}
	}
	if unlike.Outcome != rule.Unasked {
		return unlike
	}
	return ok()
}
