package bench

import (
	"fmt"
	"slices"
	"strings"

	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/records"
)

// Sources are the kinds of source that an observation can name.
var Sources = records.HandSources

// Observable are the facts that may be observed of the card's machine, each as it is begun:
// "maximum=", "attach of DIMM 0=".
func (b *Bench) Observable() (list []string) {
	whole, ofPlaces := records.FactNames()
	for _, f := range whole {
		list = append(list, f+"=")
	}
	for _, f := range ofPlaces {
		for _, p := range b.Machine().Places {
			list = append(list, fmt.Sprintf("%s of %s=", f, p.Name))
		}
	}
	return list
}

// ValuesOf are the values that a fact has, where they are few; of others nothing is offered.
func (b *Bench) ValuesOf(fact string) (list []string) {
	fact, _, _ = strings.Cut(fact, " of ")
	switch fact {
	case "attach":
		return []string{string(machine.Socket), string(machine.Soldered)}
	case "kind":
		return records.HandKinds
	case "form":
		for _, f := range []jedec.Form{jedec.DIMM, jedec.SODIMM, jedec.MicroDIMM} {
			list = append(list, f.String())
		}
	case "channel":
		for _, p := range b.Machine().Places {
			if c, ok := p.Channel.Get(); ok && !slices.Contains(list, c) {
				list = append(list, c)
			}
		}
		if len(list) == 0 {
			list = []string{"A", "B"}
		}
	case "holds":
		return []string{"free"}
	case "sockets":
		return []string{"1", "2", "4"}
	case "distrust":
		for _, r := range b.card.Readings {
			if r.Source != "" && !slices.Contains(list, r.Source) {
				list = append(list, r.Source)
			}
		}
	}
	return list
}

// KeptNumbers are the proposals that a card keeps, a number and what it is best at.
func (b *Bench) KeptNumbers() (list [][2]string) {
	plan, _, err := b.Plan()
	if err != nil {
		return nil
	}
	for _, w := range plan.Ways {
		says := putInWords(w)
		if len(w.Picks) > 0 {
			says = strings.Join(w.Picks, ", ") + ": " + says
		}
		list = append(list, [2]string{fmt.Sprint(w.Number), says})
	}
	return list
}
