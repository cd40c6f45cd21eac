package records

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
)

// machineFacts are the facts of a machine that an observation can state, each
// with how it enters a hand entry.
var machineFacts = map[string]func(h *Hand, value string) error{
	"kind":      func(h *Hand, v string) error { h.Machine.Kind = v; return nil },
	"maker":     func(h *Hand, v string) error { h.Machine.Maker = v; return nil },
	"model":     func(h *Hand, v string) error { h.Machine.Model = v; return nil },
	"board":     func(h *Hand, v string) error { h.Machine.Board = v; return nil },
	"processor": func(h *Hand, v string) error { h.Machine.Processor = v; return nil },
	"chipset":   func(h *Hand, v string) error { h.Machine.Chipset = v; return nil },
	"system":    func(h *Hand, v string) error { h.Machine.System = v; return nil },
	"maximum":   func(h *Hand, v string) error { h.Maximum = HandLimit{v, h.Source}; return nil },
	"per slot":  func(h *Hand, v string) error { h.PerSlot = HandLimit{v, h.Source}; return nil },
	"distrust":  func(h *Hand, v string) error { h.Distrust = append(h.Distrust, v); return nil },
	"rate": func(h *Hand, v string) (err error) {
		h.Rate, err = strconv.Atoi(strings.TrimSpace(strings.TrimSuffix(v, "MT/s")))
		if err != nil || h.Rate <= 0 {
			return fmt.Errorf("%w: rate=%s: a data rate in MT/s is wanted, as 3200", ErrHand, v)
		}
		return nil
	},
	"form":   func(h *Hand, v string) error { h.Takes = v; return nil },
	"supply": func(h *Hand, v string) error { h.Supply = v; return nil },
	"slots a channel": func(h *Hand, v string) (err error) {
		h.SlotsAChannel, err = strconv.Atoi(v)
		if err != nil {
			return fmt.Errorf("%w: slots a channel=%s: a number is wanted, as 2", ErrHand, v)
		}
		return nil
	},
	"sockets": func(h *Hand, v string) (err error) {
		h.Sockets, err = strconv.Atoi(v)
		if err != nil || h.Sockets < 1 || h.Sockets > 64 {
			return fmt.Errorf("%w: sockets=%s: count them, 1 to 64", ErrHand, v)
		}
		return nil
	},
}

var placeFacts = map[string]func(p *HandPlace, value string){
	"attach":  func(p *HandPlace, v string) { p.Attach = v },
	"takes":   func(p *HandPlace, v string) { p.Takes = v },
	"holds":   func(p *HandPlace, v string) { p.Holds = v },
	"form":    func(p *HandPlace, v string) { p.Takes = v },
	"channel": func(p *HandPlace, v string) { p.Channel = v },
}

// FactNames returns the facts that can be observed of a machine and of a place.
func FactNames() (machine, place []string) {
	return slices.Sorted(maps.Keys(machineFacts)), slices.Sorted(maps.Keys(placeFacts))
}

// Observe enters one fact, "maximum", or "attach" of a place. place is empty
// for a fact of the machine. Errors wrap ErrHand; what the value may be is
// otherwise checked by ParseHand.
func (h *Hand) Observe(fact, place, value string) error {
	if place == "" {
		enter, ok := machineFacts[fact]
		if !ok {
			facts, ofPlaces := FactNames()
			return fmt.Errorf("%w: there is no fact %q; there are %s, and %s of a place", ErrHand, fact,
				strings.Join(facts, ", "), strings.Join(ofPlaces, ", "))
		}
		return enter(h, value)
	}
	enter, ok := placeFacts[fact]
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
