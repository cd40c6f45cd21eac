package ceiling

import (
	"fmt"
	"slices"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
)

// rates lists the ceilings on the data rate for one way of filling a channel.
func (s subject) rates(p catalogue.Population) []Ceiling {
	row := s.rateRow(p)
	for i := range row {
		row[i].For = maybe.Just(p)
	}
	return row
}

func (s subject) rateRow(p catalogue.Population) []Ceiling {
	var row []Ceiling
	g, known := s.generation.Get()
	if !known {
		return []Ceiling{open(Rate, Standard, "the generation is not known")}
	}
	if grades := jedec.Grades(g); len(grades) > 0 {
		top := grades[len(grades)-1].Rate
		row = append(row, atMost(Rate, Standard, Speed(top), fact.Settled,
			fmt.Sprintf("the fastest grade is %v-%d", g, int(top))))
	}
	row = append(row, s.controllerRate(p))
	if x, ok := s.chipset(); ok && s.from != Chipset {
		if rate, ok := x.RateCap(g.String()).Get(); ok {
			row = append(row, atMost(Rate, Chipset, Speed(rate), x.Standing(catalogue.RateOne),
				fmt.Sprintf("%s: at most %v", x.Name, rate)))
		}
	}
	row = append(row, s.boardRate(p))
	return append(row, s.stated(Rate, machine.TopRate, machine.ByTechnician, Technician)...)
}

func (s subject) controllerRate(p catalogue.Population) Ceiling {
	c, ok := s.controller.Get()
	if !ok {
		return open(Rate, s.from, s.notKnown())
	}
	f := c.RateFor(p)
	rate, ok := f.Get()
	if !ok {
		if least, has := c.AtLeast(catalogue.RateOne); has && p.Modules == 1 {
			cell := open(Rate, s.from, fmt.Sprintf("not known for %s: sources differ, at least %d MT/s", c.Family, least))
			cell.Least = maybe.Just(Speed(jedec.Rate(least)))
			return cell
		}
		return open(Rate, s.from, fmt.Sprintf("not published for %s with %s", c.Family, Filled(p)))
	}
	return atMost(Rate, s.from, Speed(rate), f.Standing(),
		fmt.Sprintf("%s runs %s at up to %v%s", c.Family, Filled(p), rate, basisOf(c.Where, c.Confidence, f.Standing())))
}

// Filled says in words how a channel is filled.
func Filled(p catalogue.Population) string {
	words := "one module a channel"
	if p.Modules > 1 {
		words = fmt.Sprintf("%d modules a channel", p.Modules)
	}
	if ranks, ok := p.Ranks.Get(); ok && ranks > 1 {
		words += " of two ranks"
	}
	return words
}

func (s subject) boardRate(p catalogue.Population) Ceiling {
	b, ok := s.board.Get()
	if !ok {
		return open(Rate, Board, "no entry for this board")
	}
	var fits []catalogue.BoardRate
	ranks, ranked := p.Ranks.Get()
	for _, x := range b.Rates {
		if x.Modules == p.Modules && (x.Ranks == 0 || !ranked || x.Ranks == ranks) {
			fits = append(fits, x)
		}
	}
	if len(fits) == 0 {
		return open(Rate, Board, "the board's entry gives no rate for "+Filled(p))
	}
	least := slices.MinFunc(fits, func(a, b catalogue.BoardRate) int { return int(a.Rate - b.Rate) })
	return atMost(Rate, Board, Speed(least.Rate), boardStanding(b),
		fmt.Sprintf("%s runs %s at up to %v (%s)", b.Names[0], Filled(p), least.Rate, b.Where))
}
