package ceiling

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
)

// widths: x8 is what every controller takes and every shop sells; of x4 and x16 each
// is said as far as it is known.
func (s subject) widths() []Ceiling {
	c, ok := s.controller.Get()
	if !ok {
		return []Ceiling{open(Width, s.from, s.notKnown())}
	}
	x4, known4 := c.X4.Get()
	x16, known16 := c.X16.Get()
	if !known4 && !known16 {
		return []Ceiling{open(Width, s.from,
			"whether "+c.Family+" takes modules of x4 and x16 chips is not known; x8 is what every module market sells")}
	}
	var set Set
	standing := fact.Settled
	for _, x := range []struct {
		word         string
		takes, known bool
		limit        catalogue.Limit
	}{{"x4", x4, known4, catalogue.X4}, {"x8", true, true, ""}, {"x16", x16, known16, catalogue.X16}} {
		if !x.known {
			set.Open = append(set.Open, x.word)
			continue
		}
		if x.takes {
			set.Words = append(set.Words, x.word)
		}
		if x.limit != "" {
			standing = min(standing, c.Standing(x.limit))
		}
	}
	says := fmt.Sprintf("%s takes unbuffered modules of %v chips", c.Family, set)
	if len(set.Open) > 0 {
		says += "; of " + strings.Join(set.Open, ", ") + " it is not known"
	}
	return []Ceiling{{What: Width, Source: s.from, Allowed: maybe.Just(set), Standing: standing,
		Says: says + basisOf(c.Where, c.Confidence, standing)}}
}

// supplied makes the cell of whoever states supplies.
func supplied(by Source, milliVolts []int, standing fact.Standing, says string) Ceiling {
	set := Set{Supplies: jedec.SuppliesOf(milliVolts...)}
	for _, mv := range milliVolts {
		set.Words = append(set.Words, jedec.Volts(mv))
	}
	return Ceiling{What: Volts, Source: by, Allowed: maybe.Just(set), Standing: standing,
		Says: fmt.Sprintf(says, strings.Join(set.Words, " and "))}
}

func (s subject) volts() []Ceiling {
	var row []Ceiling
	if g, ok := s.generation.Get(); ok && len(g.Trait().MilliVolts) > 0 {
		row = append(row, supplied(Standard, g.Trait().MilliVolts, fact.Settled, g.String()+" runs at %s"))
	}
	c, ok := s.controller.Get()
	switch {
	case !ok:
		row = append(row, open(Volts, s.from, s.notKnown()))
	case len(c.MilliVolts) == 0:
		row = append(row, open(Volts, s.from, "not known for "+c.Family))
	default:
		standing := c.Standing(catalogue.Volts)
		row = append(row, supplied(s.from, c.MilliVolts, standing,
			c.Family+" takes modules for %s"+basisOf(c.Where, c.Confidence, standing)))
	}
	if len(c.MilliVolts) == 0 {
		for _, x := range suppliesByTime {
			if g, known := s.generation.Get(); known && g == x.of && x.made(s) {
				row = append(row, supplied(Board, []int{x.gives}, fact.Settled, x.says+" give %s"))
				break
			}
		}
	}
	for _, x := range s.m.Stated {
		if x.Of == machine.GivenSupply {
			row = append(row, supplied(Technician, []int{x.Supply}, x.Standing, x.Source+": the board gives %s"))
		}
	}
	if b, ok := s.board.Get(); ok && len(b.MilliVolts) > 0 {
		row = append(row, supplied(Board, b.MilliVolts, boardStanding(b), b.Names[0]+" supplies %s"))
	}
	return row
}

// suppliesByTime are the supplies that every board of a generation gives that was made at a time.
// DDR3 of 1.5 V is JESD79-3 of June 2007; DDR3L of 1.35 V came with JESD79-3-1 of July 2010.
var suppliesByTime = []struct {
	of    jedec.Generation
	gives int // mV
	made  func(subject) bool
	says  string
}{
	{jedec.DDR3, 1500, func(s subject) bool { return s.platform.Led.Known() },
		"DDR3 boards with the memory controller in the chipset, made from 2007 to 2011,"},
	{jedec.DDR3, 1500, func(s subject) bool {
		released, dated := s.m.Released.Get()
		return dated && released.Before(time.Date(2010, time.July, 1, 0, 0, 0, 0, time.UTC))
	}, "DDR3 boards whose firmware is older than DDR3L, which came in July 2010,"},
}

// Words for kinds of module in lists.
const (
	Ordinary      = "ordinary"
	ECCModules    = "ECC"
	Registered    = "registered"
	LoadReduced   = "load-reduced"
	FullyBuffered = "fully buffered"
	Multiplexed   = "multiplexed-rank"
)

// kindWords turns the tables' kinds into those of a list: a buffered kind without udimm means buffered modules only.
func kindWords(kinds []string) []string {
	plain := slices.Contains(kinds, "udimm") || slices.Contains(kinds, "so-dimm-ecc")
	var buffered []string
	for _, x := range [][2]string{{"rdimm", Registered}, {"lrdimm", LoadReduced}, {"fbdimm", FullyBuffered}} {
		if slices.Contains(kinds, x[0]) {
			buffered = append(buffered, x[1])
		}
	}
	var out []string
	if plain || len(buffered) == 0 {
		out = append(out, Ordinary)
	}
	if plain {
		out = append(out, ECCModules)
	}
	return append(out, buffered...)
}

func (s subject) kinds() []Ceiling {
	var row []Ceiling
	c, ok := s.controller.Get()
	kinds, known := c.ECC.Get()
	switch {
	case !ok:
		row = append(row, open(Kinds, s.from, s.notKnown()))
	case !known:
		row = append(row, open(Kinds, s.from, "not known for "+c.Family))
	default:
		says := fmt.Sprintf("%s takes %s modules", c.Family, strings.Join(kindWords(kinds), ", "))
		standing := c.Standing(catalogue.ECC)
		if len(c.ECCIf) > 0 && len(kinds) > 0 {
			says += "; ECC works only where the " + strings.Join(c.ECCIf, " and the ") +
				map[bool]string{true: " allows it", false: " allow it"}[len(c.ECCIf) == 1]
		}
		row = append(row, among(Kinds, s.from, kindWords(kinds), standing, says+basisOf(c.Where, c.Confidence, standing)))
	}
	if x, ok := s.chipset(); ok && s.from != Chipset {
		if kinds, known := x.ECC.Get(); known {
			row = append(row, among(Kinds, Chipset, kindWords(kinds), x.Standing(catalogue.ECC),
				x.Name+" allows "+strings.Join(kindWords(kinds), ", ")+" modules"))
		}
	}
	if b, ok := s.board.Get(); ok {
		if kinds, known := b.ECC.Get(); known {
			row = append(row, among(Kinds, Board, kindWords(kinds), boardStanding(b),
				b.Names[0]+" takes "+strings.Join(kindWords(kinds), ", ")+" modules"))
		}
	}
	return row
}

// ECCWaitsFor names what ECC depends on beside the controller and is not
// proved: "chipset", "model", "board".
func (l Limits) ECCWaitsFor() (waits []string) {
	c, _ := l.subject.controller.Get()
	x, oneChipset := l.subject.chipset()
	b, hasBoard := l.subject.board.Get()
	for _, condition := range c.ECCIf {
		switch condition {
		case "chipset":
			if kinds, ok := x.ECC.Get(); oneChipset && ok && len(kinds) > 0 {
				continue
			}
		case "board":
			if kinds, ok := b.ECC.Get(); hasBoard && ok && len(kinds) > 0 {
				continue
			}
		}
		waits = append(waits, condition)
	}
	return waits
}

func (s subject) slots() []Ceiling {
	var row []Ceiling
	if !s.generation.Or(0).LowPower() {
		row = append(row, s.byController(DIMMs, catalogue.Slots, Number(1),
			func(c catalogue.Controller) maybe.Value[Amount] { return maybe.Map(c.DIMMs, Number) }))
	}
	if x, ok := s.chipset(); ok && s.from != Chipset {
		if n, ok := x.DIMMs.Get(); ok {
			row = append(row, atMost(DIMMs, Chipset, Number(n), x.Standing(catalogue.Slots),
				fmt.Sprintf("%s: at most %d a channel", x.Name, n)))
		}
	}
	for _, x := range s.m.Stated {
		if x.Of == machine.SlotsOfAChannel {
			row = append(row, atMost(DIMMs, Technician, Number(x.Count), x.Standing, x.Source+": "+x.Says))
		}
	}
	if n, ok := s.slotsOfAChannel().Get(); ok && s.m.Totals.Sockets.Known() {
		total, _ := s.sockets()
		return append(row, atMost(DIMMs, Board, Number(n), s.m.Totals.Sockets.Standing(),
			fmt.Sprintf("sockets on the board: %d, at most %d on a channel", total, n)))
	}
	return append(row, open(DIMMs, Board, "how many sockets there are is not settled"))
}

// channelRanks is how many ranks the controller selects on a channel, where it says.
func (s subject) channelRanks() []Ceiling {
	if c, ok := s.controller.Get(); !ok || !c.ChannelRanks.Known() {
		return nil
	}
	return []Ceiling{s.byController(ChannelRanks, catalogue.RanksOf, Number(1),
		func(c catalogue.Controller) maybe.Value[Amount] { return maybe.Map(c.ChannelRanks, Number) })}
}

// profiles says whether overclocking profiles can be selected.
func (s subject) profiles() []Ceiling {
	row := s.yesNo(Profiles, "profiles can be selected", "profiles can't be selected",
		func(x catalogue.Chipset) maybe.Value[bool] { return x.Overclock },
		func(b catalogue.Board) maybe.Value[bool] { return b.Profiles })
	return row
}

// clocked says whether modules with a clock driver are supported. A controller
// with a rate of its own for modules without one supports them.
func (s subject) clocked() []Ceiling {
	if s.generation.Or(0) != jedec.DDR5 {
		return nil
	}
	row := s.yesNo(Clocked, "takes modules with a clock driver", "takes no modules with a clock driver",
		func(catalogue.Chipset) maybe.Value[bool] { return maybe.None[bool]() },
		func(b catalogue.Board) maybe.Value[bool] { return b.Clocked })
	if c, ok := s.controller.Get(); ok && c.Rates.OnePlain.Known() {
		row = append(row, among(Clocked, s.from, []string{"yes"}, c.Standing(catalogue.RateOne),
			c.Family+" has rates for modules with a clock driver"))
	}
	return row
}

func (s subject) yesNo(w What, yes, no string, ofChipset func(catalogue.Chipset) maybe.Value[bool],
	ofBoard func(catalogue.Board) maybe.Value[bool]) (row []Ceiling) {
	words := func(is bool) ([]string, string) {
		if is {
			return []string{"yes"}, yes
		}
		return []string{}, no
	}
	if x, ok := s.chipset(); ok {
		if is, known := ofChipset(x).Get(); known {
			list, says := words(is)
			row = append(row, among(w, Chipset, list, x.Standing("overclock"), x.Name+": "+says))
		} else if w == Profiles {
			row = append(row, open(w, Chipset, "not known for "+x.Name))
		}
	}
	if b, ok := s.board.Get(); ok {
		if is, known := ofBoard(b).Get(); known {
			list, says := words(is)
			row = append(row, among(w, Board, list, boardStanding(b), b.Names[0]+": "+says+" ("+b.Where+")"))
		}
	}
	if len(row) == 0 {
		row = append(row, open(w, Board, "nobody states it"))
	}
	return row
}
