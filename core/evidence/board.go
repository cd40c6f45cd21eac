package evidence

import (
	"fmt"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/machine"
)

// A layout is what the catalogue says of one place of the board.
type layout struct {
	attach  machine.Attach
	channel string
	source  string
}

// laidOut returns what the catalogue's entries say of a place, by any of its names.
func (s sources) laidOut(p machine.Place) (found []layout) {
	for _, b := range s.boards {
		for _, x := range b.Slots {
			if p.Called(x.Name) {
				found = append(found, layout{machine.Socket, x.Channel, boardSource(b)})
			}
		}
		for _, x := range b.Soldered {
			if x.Name != "" && p.Called(x.Name) {
				found = append(found, layout{machine.Soldered, x.Channel, boardSource(b)})
			}
		}
	}
	return found
}

func boardSource(b catalogue.Board) string { return "catalogue, " + b.Where + " (" + b.Basis + ")" }

// boardAttach is the sign that the board in the catalogue gives.
func (s sources) boardAttach(p machine.Place) (claims []fact.Claim[machine.Attach]) {
	for _, l := range s.laidOut(p) {
		claims = append(claims, fact.Claimed(l.attach, fact.Prime, l.source,
			"the board's entry lists "+p.Name+" as "+string(l.attach)))
	}
	return claims
}

// outcomeAttach is the sign that an earlier job gives: a module that was fitted
// there and found afterwards sits in a socket.
func (s sources) outcomeAttach(at machine.Place) (claims []fact.Claim[machine.Attach]) {
	for _, o := range s.PastJobs {
		for _, p := range o.Fitted {
			if at.Called(p) {
				claims = append(claims, fact.Claimed(machine.Socket, fact.Eyes, "outcome of "+o.Date,
					"a module was fitted there, and found afterwards"))
			}
		}
	}
	return claims
}

func (s sources) boardChannel(p machine.Place) (claims []fact.Claim[string]) {
	for _, l := range s.laidOut(p) {
		if l.channel != "" {
			claims = append(claims, fact.Claimed(l.channel, fact.Prime, l.source, "channel "+l.channel))
		}
	}
	return claims
}

// hiddenPlaces are the sockets of the board's entry that no reading lists.
// They are believed where the entry knows every place that is listed: then the
// two speak of the same board by the same names.
func (s sources) hiddenPlaces(listed []machine.Place) (places []machine.Place) {
	for _, b := range s.boards {
		known := machine.Machine{Places: listed}
		for _, p := range listed {
			if len(s.laidOut(p)) == 0 {
				return nil
			}
		}
		for _, slot := range b.Slots {
			if len(listed) == 0 || known.PlaceCalled(slot.Name) != nil {
				continue
			}
			p := machine.Place{Name: slot.Name}
			p.Channel, p.Attach = fact.Weigh(s.boardChannel(p)...), fact.Weigh(s.boardAttach(p)...)
			if f, ok := b.Form.Get(); ok {
				p.Form = fact.Weigh(fact.Claimed(f, fact.Prime, boardSource(b), fmt.Sprintf("takes %v", f)))
			}
			places = append(places, p)
		}
		return places
	}
	return nil
}
