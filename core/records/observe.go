package records

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"epitome/core/machine"
)

// stated are the facts of a machine that a form has beside its names, each with how it enters one.
var stated = map[machine.Topic]func(h *Hand, value string) error{
	machine.AboutMaximum: func(h *Hand, v string) error { h.Maximum = HandLimit{v, h.Source}; return nil },
	"per slot":           func(h *Hand, v string) error { h.PerSlot = HandLimit{v, h.Source}; return nil },
	"distrust":           func(h *Hand, v string) error { h.Distrust = append(h.Distrust, v); return nil },
	"rate": func(h *Hand, v string) (err error) {
		h.Rate, err = strconv.Atoi(strings.TrimSpace(strings.TrimSuffix(v, "MT/s")))
		return err
	},
	"form":            func(h *Hand, v string) error { h.Takes = v; return nil },
	"supply":          func(h *Hand, v string) error { h.Supply = v; return nil },
	"slots a channel": func(h *Hand, v string) (err error) { h.SlotsAChannel, err = strconv.Atoi(v); return err },
	"sockets": func(h *Hand, v string) (err error) {
		if h.Sockets, err = strconv.Atoi(v); err == nil && (h.Sockets < 1 || h.Sockets > 64) {
			err = ErrHand
		}
		return err
	},
}

// ofPlaces are the facts of a place, each with how it enters a form.
var ofPlaces = map[machine.Topic]func(p *HandPlace, value string){
	machine.AboutAttach: func(p *HandPlace, v string) { p.Attach = v },
	"takes":             func(p *HandPlace, v string) { p.Takes = v },
	"holds":             func(p *HandPlace, v string) { p.Holds = v },
	"form":              func(p *HandPlace, v string) { p.Takes = v },
	"channel":           func(p *HandPlace, v string) { p.Channel = v },
}

// FactNames returns the facts that can be observed of a machine and of a place: those of the one table of its facts,
// and the form of all sockets, which is a place's fact elsewhere.
func FactNames() (ofMachine, place []string) {
	for _, r := range machine.Rows() {
		switch {
		case !r.Observe.Can():
		case r.Of == machine.OfPlace:
			place = append(place, string(r.Topic))
		default:
			ofMachine = append(ofMachine, string(r.Topic))
		}
	}
	ofMachine = append(ofMachine, "form")
	slices.Sort(ofMachine)
	slices.Sort(place)
	return ofMachine, place
}

// Observe enters one fact, "maximum", or "attach" of a place. place is empty
// for a fact of the machine. Errors wrap ErrHand; what the value may be is
// otherwise checked by ParseHand.
func (h *Hand) Observe(fact, place, value string) error {
	topic := machine.Topic(fact)
	if place == "" {
		r, known := machine.RowOf(topic, false)
		enter, ok := stated[topic]
		switch {
		case known && r.Observe.Name:
			if h.Machine == nil {
				h.Machine = make(HandMachine)
			}
			h.Machine[fact] = value
			return nil
		case !ok:
			facts, ofPlaces := FactNames()
			return fmt.Errorf("%w: there is no fact %q; there are %s, and %s of a place", ErrHand, fact,
				strings.Join(facts, ", "), strings.Join(ofPlaces, ", "))
		}
		if err := enter(h, value); err != nil || fact == "rate" && h.Rate <= 0 {
			return fmt.Errorf("%w: %s=%s; write %s", ErrHand, fact, value, r.Observe.Wants)
		}
		return nil
	}
	enter, ok := ofPlaces[topic]
	if !ok {
		_, facts := FactNames()
		return fmt.Errorf("%w: there is no fact %q of a place; there are %s", ErrHand, fact, strings.Join(facts, ", "))
	}
	i := slices.IndexFunc(h.Places, func(p HandPlace) bool { return strings.EqualFold(p.Name, place) })
	if i < 0 {
		h.Places = append(h.Places, HandPlace{Name: place})
		i = len(h.Places) - 1
	}
	enter(&h.Places[i], value)
	return nil
}
