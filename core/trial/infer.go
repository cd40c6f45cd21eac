package trial

import (
	"fmt"
	"slices"

	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/module"
	"epitome/core/rule"
)

// An Inference tells what an open fact may be, from what is there beside it.
type Inference struct {
	ID, Says, Source string
}

// inferences is the one table of them.
var inferences = []Inference{
	{"witness", "What is fitted and running proves that the machine takes it, and everything that asks no more: dies " +
		"no denser, ranks no more, the same width, supply and buffering.",
		"the running machine"},
	{"population", "A published maximum over its sockets is taken module by module, and so are the dies that the " +
		"ordinary module of that size is made of.",
		"maxima are published with all sockets filled"},
	{"candidates", "Where several rows of the catalogue fit, what all of them allow is allowed.",
		"the catalogue's rows of one shared id"},
	{"sold bin", "A module of which only the grade is known has the access time of the bin that is sold in that grade; " +
		"the slowest bin of the standard is the other possibility.",
		"the bins of the device standards, and what shops sell of them"},
	{"trade's word", "A module that names neither register nor check bits nor clock driver is unbuffered without them: " +
		"surely, where a shop's text names its form; likely, where nothing does.",
		"custom of the trade"},
	{"ordinary layout", "A module of which only the size is known is made of the ordinary chips of that size.",
		"what shops sell"},
	{"announced", "Places that firmware announces, less those that a system's list of filled ones names, are free: " +
		"likely, and settled where someone counted.",
		"systems list filled places only"},
	{"maximum against soldered", "A stated maximum of several times what is soldered speaks for a socket that is " +
		"not listed.",
		"nobody states room where nothing can be added; a chipset's own maximum does"},
	{"form by kind", "The sockets of a laptop or an all-in-one take SO-DIMMs, where no reading names their form.",
		"custom of machine makers"},
	{"channel by name", "The names that firmware, a board's entry or a person gives a place tell its channel.",
		"custom of board makers"},
	{"channels by count", "Where no reading names the channels, the sockets are shared out evenly over those that the " +
		"controller has, so as many sockets as channels have one each; of two sockets each has one where nobody tells.",
		"custom of board makers"},
}

// Inferences returns every inference, for showing.
func Inferences() []Inference { return inferences }

// Facts of a module, as a rule asks for them: one value in each world.

func (s *scene) stickKey(i int, what string) string {
	// Modules that are described alike are alike: what one of them is, all are.
	return what + " of " + s.seats[i].Stick.From + "|" + Describe(s.seats[i].Stick)
}

func yesNo(key, what, look string, first bool, leads bool, infers string) rule.Possible[bool] {
	return rule.Possible[bool]{Key: key, Values: []bool{first, !first}, Leads: leads, Fact: what, Look: look,
		Infers: infers}
}

// said is a fact of a module by what its readings say: where they contradict each
// other, each of them is right in a world of its own. ok is false where they say
// nothing.
func said[T comparable](w *rule.World, s *scene, i int, key, what string, f fact.Fact[T]) (value T, ok bool) {
	if f.Standing() == fact.Settled {
		return f.Get() // the same in every world
	}
	values := f.Possible()
	if len(values) == 0 {
		return value, false
	}
	return rule.Choose(w, rule.Possible[T]{Key: s.stickKey(i, key), Values: values, Leads: f.Known(), Fact: what,
		Look: s.look(i)}), true
}

// registered: small-outline modules carry no register (JESD21-C 4.20.11 and its
// successors define unbuffered ones alone).
func (s *scene) registered(w *rule.World, i int) bool {
	if r, ok := said(w, s, i, "register", "whether "+s.names[i]+" is registered", s.seats[i].Stick.Registered); ok {
		return r
	}
	if f, ok := s.seats[i].Stick.Form.Get(); ok && (f == jedec.SODIMM || f == jedec.MicroDIMM) {
		return false
	}
	if ecc, ok := s.seats[i].Stick.ECC.Get(); ok && !ecc {
		return false // registered modules are 72 bits wide (JESD21-C 4.20.10 and its successors)
	}
	if s.in != nil && !s.seats[i].New && s.in.statesNo(ceiling.Registered) {
		return false // what runs there, by trade's word, and by whoever says what the controller takes
	}
	return rule.Choose(w, s.tradesWord(i, "register", "whether "+s.names[i]+" is registered"))
}

// statesNo reports whether somebody says which kinds of module the machine takes, and this one is none of them.
func (t *setting) statesNo(kind string) bool {
	return slices.ContainsFunc(t.limits.On(ceiling.Kinds), func(c ceiling.Ceiling) bool {
		allowed, stated := c.Allowed.Get()
		return stated && c.Holds() && !slices.Contains(allowed.Words, kind)
	})
}

// tradesWord is no, where nothing says yes: in a shop's text that names the form
// of a module it is said wherever it is otherwise; elsewhere it only leads.
func (s *scene) tradesWord(i int, key, what string) rule.Possible[bool] {
	p := yesNo(s.stickKey(i, key), what, s.look(i), false, true, "trade's word")
	if _, server := s.seats[i].Stick.Leans("registered"); server && key != "clock driver" {
		return yesNo(p.Key, what, p.Look, true, true, "") // what is sold for servers is mostly registered
	}
	if st := s.seats[i].Stick; st.Kind == module.Listing && st.Form.Known() {
		p.Values = p.Values[:1]
	}
	return p
}

func (s *scene) checked(w *rule.World, i int) bool {
	if e, ok := said(w, s, i, "check bits", "whether "+s.names[i]+" has check bits", s.seats[i].Stick.ECC); ok {
		return e
	}
	return rule.Choose(w, s.tradesWord(i, "check bits", "whether "+s.names[i]+" has check bits"))
}

func (s *scene) clocked(w *rule.World, i int) bool {
	st := &s.seats[i].Stick
	if c, ok := said(w, s, i, "clock driver", "whether "+s.names[i]+" carries a clock driver", st.Clocked); ok {
		return c
	}
	if st.Generation.Or(0) != jedec.DDR5 {
		return false // the clock driver came with DDR5 (JESD323)
	}
	return rule.Choose(w, s.tradesWord(i, "clock driver", "whether "+s.names[i]+" carries a clock driver"))
}

// A layout is what a module's chips are: ranks, width, and the die that makes
// its size with them.
type layout struct {
	ranks, width int
	mbit         int // of a die; 0 where the size is not known
}

func (l layout) String() string { return fmt.Sprintf("%dRx%d", l.ranks, l.width) }

// ordinaryDie is the die of which most modules of a generation are made, Mbit.
var ordinaryDie = map[jedec.Generation]int{
	jedec.DDR: 512, jedec.DDR2: 1024, jedec.DDR3: 4096, jedec.DDR4: 8192, jedec.DDR5: 16384,
}

// layouts are those that a module may have, the ordinary one first.
func (s *scene) layouts(i int) []layout {
	st := &s.seats[i].Stick
	g := st.Generation.Or(0)
	size, sized := st.Capacity.Get()
	saidRanks, saidWidths := st.Ranks.Possible(), st.Width.Possible()
	mayBe := func(n int, said []int, ordinary bool) bool {
		return slices.Contains(said, n) || len(said) == 0 && ordinary
	}
	var list []layout
	for _, ranks := range []int{1, 2, 4, 8} {
		for _, width := range []int{8, 16, 4} {
			if !mayBe(ranks, saidRanks, ranks <= 2) || !mayBe(width, saidWidths, width != 4 || st.Registered.Or(false)) {
				continue
			}
			l := layout{ranks: ranks, width: width}
			if mbit, ok := st.Density.Get(); ok && (st.Density.Standing() == fact.Settled || !sized) {
				l.mbit = mbit
			} else if sized && !st.Stacked.Or(false) {
				l.mbit = int(size/jedec.MiB) * 8 * width / (64 * ranks)
				if !slices.Contains(g.Trait().Densities, l.mbit) {
					continue // no such die: no such module
				}
			}
			list = append(list, l)
		}
	}
	if len(list) == 0 {
		list = []layout{{ranks: st.Ranks.Or(1), width: st.Width.Or(8), mbit: st.Density.Or(0)}}
	}
	want := ordinaryDie[g]
	strange := func(l layout) int {
		n := 0
		if l.ranks != st.Ranks.Or(l.ranks) || l.width != st.Width.Or(l.width) {
			n += 8 // against what most readings say
		}
		if l.width != 8 {
			n += 4
		}
		if l.mbit > want {
			n += 2
		}
		if l.mbit < want && l.ranks > 1 {
			n++
		}
		return n
	}
	slices.SortStableFunc(list, func(a, b layout) int { return strange(a) - strange(b) })
	return list
}

func (s *scene) layout(w *rule.World, i int) layout {
	list := s.layouts(i)
	if len(list) == 1 {
		return list[0]
	}
	st := &s.seats[i].Stick
	leads := st.Ranks.Standing() != fact.Disputed && st.Width.Standing() != fact.Disputed
	return rule.Choose(w, rule.Possible[layout]{Key: s.stickKey(i, "layout"), Values: list, Leads: leads,
		Fact: "ranks and chips of " + s.names[i], Look: s.look(i) + ": 1Rx8 is one rank of x8 chips",
		Infers: "ordinary layout"})
}

// madeFor: a module that states no supply is made for its generation's ordinary
// one; DDR3 is sold for 1.35 V as well. One that runs there runs at what the
// board gives.
func (s *scene) madeFor(w *rule.World, i int) jedec.Supplies {
	st := &s.seats[i].Stick
	if own, stated := st.Supplies.Get(); stated {
		return own
	}
	classes := st.Generation.Or(0).Trait().MilliVolts
	all := jedec.SuppliesOf(classes...)
	if len(classes) < 2 {
		return all
	}
	if s.in != nil && !s.seats[i].New {
		given, _ := s.given(w)
		return rule.Choose(w, rule.Possible[jedec.Supplies]{Values: []jedec.Supplies{given}, Infers: "witness"})
	}
	return rule.Choose(w, rule.Possible[jedec.Supplies]{Key: s.stickKey(i, "supply"),
		Values: []jedec.Supplies{jedec.SuppliesOf(classes[0]), all}, Leads: true,
		Fact: "the supply of " + s.names[i], Look: s.look(i) + ": PC3 is 1.5 V, PC3L 1.35 V", Infers: "trade's word"})
}

// given is what the board supplies.
func (s *scene) given(w *rule.World) (v jedec.Supplies, says string) {
	g, _ := s.generation()
	classes := g.Trait().MilliVolts
	all := jedec.SuppliesOf(classes...)
	allowed := s.in.limits.Supplies()
	says, standing := s.in.limits.SuppliesStated()
	what, look := s.in.controllers("the supply that the board gives",
		"look it up in the processor's data sheet, or on a fitted module")
	switch {
	case allowed.Len() > 0 && (standing == fact.Settled || says == ""):
		return allowed, says
	case allowed.Len() > 0:
		return rule.Choose(w, rule.Possible[jedec.Supplies]{Key: "supply of the board",
			Values: []jedec.Supplies{allowed, all}, Leads: true, Fact: what, Look: look}), says
	case len(classes) < 2:
		return all, "the standard knows one supply" // and so does every board
	}
	// A module for one supply alone that runs there proves that one.
	for i := range s.seats {
		if own := s.seats[i].Stick.Supplies.Or(jedec.Supplies{}).List(); !s.seats[i].New && !s.seats[i].Soldered &&
			len(own) == 1 {
			return rule.Choose(w, rule.Possible[jedec.Supplies]{Values: []jedec.Supplies{all}, Infers: "witness"}),
				"what is fitted runs at " + jedec.Volts(own[0])
		}
	}
	return rule.Choose(w, rule.Possible[jedec.Supplies]{Key: "supply of the board",
			Values: []jedec.Supplies{all, jedec.SuppliesOf(classes[1:]...)}, Fact: what, Look: look}),
		"what the board gives is not known"
}
