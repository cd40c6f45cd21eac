// Package recheck compares what was predicted with what is there after
// fitting, place by place, and says what to look at where they differ.
package recheck

import (
	"fmt"
	"slices"
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/naming"
	"epitome/core/records"
	"epitome/core/trial"
)

// A Difference is one thing that is not as predicted, with its likely causes,
// the likeliest first.
type Difference struct {
	About, Predicted, Found string
	Causes                  []string
}

// A Check is one thing that is as predicted.
type Check struct {
	About, Predicted, Found string
}

// A Result is the whole comparison.
type Result struct {
	Other       string // why it is another machine; empty where nothing says so
	Differences []Difference
	Right       []Check
	NotRead     []string // what the machine does not tell
	Seats       []Seat
	Total       jedec.Capacity    // found
	complete    bool              // every predicted place and the total were read
	planned     map[string]string // the names that places had when it was planned, by those that they have
}

// A Seat is one place, predicted and found.
type Seat struct {
	Place     string
	Channel   string
	Predicted string
	Found     string
	Right     bool
}

// Fine reports whether everything that could be compared is as predicted.
func (r Result) Fine() bool { return len(r.Differences) == 0 }

// Told reports whether the machine told enough for an answer: a difference, or
// every place and the total. What was not read was not proved.
func (r Result) Told() bool { return r.Other == "" && (!r.Fine() || r.complete) }

// Likely causes, as a technician meets them.
const (
	notSeated  = "the module is not seated: take it out, clean its contacts, press it in until both latches close"
	wrongSlot  = "the module went into another slot: compare the slot map"
	faulty     = "a faulty module or socket: try the module alone, and another module in this socket"
	firmware   = "the firmware does not know the module yet: update it, then load its defaults"
	atMaximum  = "a limit of the machine: epitome ceilings shows who sets it"
	profileOff = "the overclocking profile is off: select it in the firmware's menus"
	profileOn  = "an overclocking profile is on, or the firmware sets a rate of its own"
	training   = "the firmware fell back to a safe rate after a failed start: load its defaults and start again"
	bits32     = "a 32-bit system sees 3 to 3.5 GB, whatever is fitted"
	graphics   = "the graphics unit or the firmware took a larger share: look in the firmware's menus"
	edition    = "the system's edition uses no more: epitome ceilings shows it"
	bootLimit  = "a limit in the system's start settings: look for a maximum of memory there"
	otherStick = "a different module was fitted: hold its sticker against the slip"
	oldReading = "the second card was read before the modules were fitted: read it again"
)

// Compare holds a trial's prediction against the machine as it is found. before
// is the machine as it was.
func Compare(before machine.Machine, t trial.Trial, after machine.Machine) Result {
	r := Result{complete: len(t.Seats) > 0, Other: another(before, after), planned: make(map[string]string)}
	t.Seats = slices.Clone(t.Seats)
	again := machine.Again(before, after)
	for i, s := range t.Seats { // by the names that the places have now
		name, ok := again[s.Place]
		if p := after.PlaceCalled(s.Place); !ok && p != nil {
			name, ok = p.Name, true
		}
		if ok && !strings.EqualFold(name, s.Place) {
			r.planned[name], t.Seats[i].Place = s.Place, name
		}
	}
	r.places(t, after)
	r.modules(t, after)
	r.total(t, after)
	r.rate(t, after)
	r.visible(before, t, after)
	return r
}

// another says by which name the second machine is another one. A board's name tells
// more than a maker's and a model's, and a name that one of them lacks tells nothing.
func another(before, after machine.Machine) string {
	for _, x := range []struct {
		what         string
		first, other fact.Fact[string]
	}{{"board", before.Board, after.Board}, {"model", before.Model, after.Model}, {"maker", before.Maker, after.Maker}} {
		a, ok1 := x.first.Get()
		b, ok2 := x.other.Get()
		if ok1 && ok2 && !naming.Same(a, b) {
			return fmt.Sprintf("its %s is %s, the card's %s", x.what, b, a)
		}
		if ok1 && ok2 && x.what == "board" {
			return ""
		}
	}
	return ""
}

// modules compares what each module is, as far as both tell: one of the right size may
// still be another than was bought.
func (r *Result) modules(t trial.Trial, after machine.Machine) {
	for _, s := range t.Seats {
		place, listed := at(after, s.Place)
		if !listed || place.Module == nil || !s.New || place.Module.Capacity.Or(0) != s.Stick.Capacity.Or(0) {
			continue
		}
		wantRate, ok1 := s.Stick.Rated.Get()
		rate, ok2 := place.Module.Rated.Get()
		wantRanks, ok3 := s.Stick.Ranks.Get()
		ranks, ok4 := place.Module.Ranks.Get()
		switch {
		case ok1 && ok2 && rate != wantRate && place.Module.Rated.Standing() == fact.Settled:
			r.differ("Module in "+s.Place, wantRate.String(), rate.String(), otherStick)
		case ok3 && ok4 && ranks != wantRanks && place.Module.Ranks.Standing() == fact.Settled:
			r.differ("Module in "+s.Place, fmt.Sprintf("%d ranks", wantRanks), fmt.Sprintf("%d ranks", ranks), otherStick)
		}
	}
}

func (r *Result) differ(about, predicted, found string, causes ...string) {
	r.Differences = append(r.Differences, Difference{about, predicted, found, causes})
}

func (r *Result) right(about, predicted, found string) {
	r.Right = append(r.Right, Check{about, predicted, found})
}

func at(m machine.Machine, name string) (machine.Place, bool) {
	if p := m.PlaceCalled(name); p != nil {
		return *p, true
	}
	return machine.Place{}, false
}

// places compares place by place.
func (r *Result) places(t trial.Trial, after machine.Machine) {
	predicted := make(map[string]trial.Seat) // a system may write a place's name in other letters than the firmware
	var names []string
	for _, s := range t.Seats {
		predicted[strings.ToLower(s.Place)] = s
		names = append(names, s.Place)
	}
	for _, p := range after.Places {
		if _, ok := predicted[strings.ToLower(p.Name)]; !ok {
			names = append(names, p.Name)
		}
	}
	extra := surplus(t, after)
	for _, name := range names {
		seat, wanted := predicted[strings.ToLower(name)]
		place, listed := at(after, name)
		s := Seat{Place: name, Channel: place.Channel.Or(seat.Channel), Predicted: "empty", Found: "not listed"}
		if wanted {
			s.Predicted = seat.Stick.Capacity.Or(0).String()
		}
		size, sized := jedec.Capacity(0), false
		if listed {
			filled, known := place.Filled.Get()
			switch {
			case known && !filled:
				s.Found, sized = "empty", true
			case place.Module != nil && place.Module.Capacity.Known():
				size, sized = place.Module.Capacity.Or(0), true
				s.Found = size.String()
			default:
				s.Found = "not known"
			}
		}
		s.Right = sized && size == seat.Stick.Capacity.Or(0)
		r.Seats = append(r.Seats, s)
		r.place(s, wanted, listed, sized, extra)
	}
}

// surplus lists places that hold a module where none, or a smaller one, was
// predicted.
func surplus(t trial.Trial, after machine.Machine) (names []string) {
	for _, p := range after.Places {
		want := jedec.Capacity(0)
		for _, s := range t.Seats {
			if strings.EqualFold(s.Place, p.Name) {
				want = s.Stick.Capacity.Or(0)
			}
		}
		if p.Module != nil && p.Module.Capacity.Or(0) > want {
			names = append(names, p.Name)
		}
	}
	return names
}

func (r *Result) place(s Seat, wanted, listed, sized bool, extra []string) {
	others := slices.DeleteFunc(slices.Clone(extra), func(n string) bool { return strings.EqualFold(n, s.Place) })
	switch {
	case s.Right && wanted:
		r.right(s.Place, s.Predicted, s.Found)
	case s.Right:
	case !listed || !sized:
		r.NotRead = append(r.NotRead, "what sits in "+s.Place)
		r.complete = r.complete && !wanted
	case s.Found == "empty" && len(others) > 0:
		r.differ(s.Place, s.Predicted, "empty", wrongSlot+"; more than predicted sits in "+strings.Join(others, ", "),
			notSeated, faulty)
	case s.Found == "empty":
		r.differ(s.Place, s.Predicted, "empty", notSeated, faulty, firmware)
	case !wanted:
		r.differ(s.Place, "empty", s.Found, wrongSlot, oldReading)
	default:
		r.differ(s.Place, s.Predicted, s.Found, otherStick, wrongSlot, oldReading, firmware)
	}
}

func (r *Result) total(t trial.Trial, after machine.Machine) {
	found, ok := after.Totals.Installed.Get()
	switch {
	case !ok:
		r.NotRead = append(r.NotRead, "the total")
		r.complete = false
	case found == t.Total:
		r.Total = found
		r.right("Memory fitted", t.Total.String(), found.String())
	case found == t.Was:
		r.Total = found
		r.differ("Memory fitted", t.Total.String(), found.String(), oldReading, notSeated, firmware)
	case found < t.Total:
		r.Total = found
		r.differ("Memory fitted", t.Total.String(), found.String(), notSeated, faulty, atMaximum, firmware)
	default:
		r.Total = found
		r.differ("Memory fitted", t.Total.String(), found.String(), "more was fitted than was planned")
	}
}

func (r *Result) rate(t trial.Trial, after machine.Machine) {
	p, predicted := t.Operating.Get()
	var rates []jedec.Rate
	for _, place := range after.Places {
		if place.Module != nil && place.Attach.Or("") != machine.Soldered {
			if rate, ok := place.Running.Get(); ok && !slices.Contains(rates, rate) {
				rates = append(rates, rate)
			}
		}
	}
	switch {
	case !predicted || len(rates) == 0:
		r.NotRead = append(r.NotRead, "the data rate")
	case len(rates) > 1:
		r.differ("Data rate", p.Grade.Rate.String(), fmt.Sprint(rates), "modules report different rates: read the card again")
	case rates[0] == p.Grade.Rate:
		r.right("Data rate", p.Grade.Rate.String(), rates[0].String())
	case rates[0] > p.Grade.Rate && p.AtLeast:
		r.right("Data rate", p.Grade.Rate.String()+" or more", rates[0].String())
	case rates[0] < p.Grade.Rate && p.Profile != "":
		r.differ("Data rate", p.Grade.Rate.String(), rates[0].String(), profileOff, training)
	case rates[0] < p.Grade.Rate:
		r.differ("Data rate", p.Grade.Rate.String(), rates[0].String(), training, otherStick, wrongSlot, firmware, atMaximum)
	default:
		r.differ("Data rate", p.Grade.Rate.String(), rates[0].String(), profileOn)
	}
	r.NotRead = append(r.NotRead, "the timings: a running system does not show them")
}

// usual is how much more than before graphics and firmware may take without
// being remarked on.
const usual = 512 * jedec.MiB

func (r *Result) visible(before machine.Machine, t trial.Trial, after machine.Machine) {
	found, ok := after.Totals.Visible.Get()
	if !ok {
		r.NotRead = append(r.NotRead, "what the system sees")
		return
	}
	taken := jedec.Capacity(0)
	had, ok1 := before.Totals.Installed.Get()
	saw, ok2 := before.Totals.Visible.Get()
	if ok1 && ok2 && saw <= had {
		taken = had - saw
	}
	fitted := after.Totals.Installed.Or(t.Total)
	if found > fitted && !after.Totals.Installed.Known() {
		r.Other = fmt.Sprintf("its system sees %v, more than the card's has", found)
		return
	}
	if found > fitted {
		r.differ("Visible to the system", "about "+(fitted-taken).String(), found.String(),
			"more than was fitted: this is another machine, or a module is not listed")
		return
	}
	if found+taken+max(usual, fitted/16) >= fitted {
		r.right("Visible to the system", "about "+(fitted-taken).String(), found.String())
		return
	}
	var causes []string
	if found <= 4*jedec.GiB && fitted >= 4*jedec.GiB {
		causes = append(causes, bits32)
	}
	r.differ("Visible to the system", "about "+(fitted-taken).String(), found.String(),
		append(causes, edition, graphics, bootLimit, atMaximum)...)
}

// Outcome is what is kept on the card: of the proposal that was carried out,
// on a day, as 2026-11-23.
func (r Result) Outcome(after machine.Machine, proposal int, date string) records.Outcome {
	o := records.Outcome{Proposal: proposal, Date: date, Result: "as predicted", TotalMB: r.Total.MiB()}
	switch {
	case !r.Told():
		o.Result = "cannot tell"
	case !r.Fine():
		o.Result = "differs"
	}
	for _, p := range after.Places {
		if p.Module == nil || !p.Filled.Or(false) {
			continue
		}
		o.Places = append(o.Places, records.OutcomePlace{Name: p.Name, Planned: r.planned[p.Name],
			MiB: p.Module.Capacity.Or(0).MiB(), Rate: int(p.Running.Or(0))})
	}
	for _, d := range r.Differences {
		o.Differs = append(o.Differs, records.OutcomeDiffer{About: d.About, Predicted: d.Predicted, Found: d.Found})
	}
	return o
}
