package bench

import (
	"fmt"
	"slices"
	"strings"

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
	word, _, ofPlace := strings.Cut(fact, " of ")
	r, ok := machine.RowOf(machine.Topic(word), ofPlace)
	if !ok {
		r, _ = machine.RowOf(machine.Topic(word), true) // the form of all sockets
	}
	switch word {
	case "channel":
		for _, p := range b.Machine().Places {
			if c, ok := p.Channel.Get(); ok && !slices.Contains(list, c) {
				list = append(list, c)
			}
		}
	case "distrust":
		for _, r := range b.card.Readings {
			if r.Source != "" && !slices.Contains(list, r.Source) {
				list = append(list, r.Source)
			}
		}
	}
	if len(list) == 0 {
		return r.Observe.Values
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
