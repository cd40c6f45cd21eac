package trial

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/rule"
)

// A Plan is what is to be tried in a machine.
type Plan struct {
	Sticks  []module.Module // to be placed where they do best
	Moved   []Put           // fitted ones that may stay or move: placed like Sticks, and not new
	Put     []Put           // to be placed as said
	Pull    []string        // places to be emptied first
	Profile bool            // select the overclocking profile
}

// A Put is a stick and the place it goes to.
type Put struct {
	Place string
	Stick module.Module
	// From is the place of a fitted module that is moved; Stick is then what
	// sits there.
	From string
}

// A Trial is what came of it.
type Trial struct {
	Verdict   rule.Verdict
	Seats     []Seat // every place with something in it, in the machine's order
	Free      []string
	Operating maybe.Value[Point]
	Why       string             // why there is no operating point
	Worst     maybe.Value[Point] // slower, where the evidence leaves one
	Before    maybe.Value[Point]
	// WithProfile is how it would run with the modules' profile selected, where
	// all carry one and the machine is known to let it be selected.
	WithProfile maybe.Value[Point]
	Reasons     []rule.Reason
	Total       jedec.Capacity
	Was         jedec.Capacity
	// Instead are the places whose modules were taken out for the sticks, as no socket was free for them.
	Instead []string
	// Cut says that modules can go into the sockets in more ways than were looked at: where they go is the best of those.
	Cut bool
}

// Checks reports whether errors of all memory are corrected: each module has check bits, and
// the machine uses them.
func (t Trial) Checks() bool {
	return len(t.Seats) > 0 &&
		!slices.ContainsFunc(t.Seats, func(s Seat) bool { return !s.Stick.ECC.Or(false) }) &&
		!slices.ContainsFunc(t.Reasons, func(r rule.Reason) bool { return r.Rule == "ecc" && r.Outcome == rule.Reduced })
}

// Errors of Run, for callers that branch. Each is wrapped with the names that
// there are.
var (
	ErrNoPlace  = errors.New("there is no such place")
	ErrSoldered = errors.New("soldered memory stays where it is")
	ErrEmpty    = errors.New("nothing sits there")
	ErrTaken    = errors.New("the place is taken")
	ErrNoRoom   = errors.New("there is no room")
	ErrUnclear  = errors.New("where they could go is not known")
	ErrNothing  = errors.New("nothing to try")
)

// Run tries a plan in a machine. The error is one of those above.
func Run(m machine.Machine, l ceiling.Limits, plan Plan) (Trial, error) {
	in := newSetting(m, l)
	seats, err := seated(in, plan)
	if err != nil {
		return Trial{}, err
	}
	var t Trial
	for _, put := range plan.Moved {
		i := slices.IndexFunc(seats, func(s Seat) bool { return s.Place == put.Place })
		if i < 0 {
			return Trial{}, fmt.Errorf("%w: %s", ErrEmpty, put.Place)
		}
		seats = slices.Delete(seats, i, i+1)
	}
	seats, err = in.place(seats, plan.Sticks, plan.Moved)
	if err != nil {
		return Trial{}, err
	}
	if len(seats) == 0 {
		return Trial{}, fmt.Errorf("%w: the machine would hold no memory", ErrNothing)
	}
	s := in.scene(seats, plan.Profile)
	t.Reasons = s.judge()
	t.Verdict = rule.Sum(t.Reasons)
	t.Seats, t.Why, t.Cut = s.seats, s.why, in.cut
	if !rule.Outcome(t.Verdict).Against() {
		t.Operating, t.Worst = s.point, s.worst
	}
	t.Total, _ = s.sum()
	for _, p := range m.Places {
		if p.Attach.Or(machine.Soldered) == machine.Socket &&
			!slices.ContainsFunc(s.seats, func(x Seat) bool { return x.Place == p.Name }) {
			t.Free = append(t.Free, p.Name)
		}
	}
	if !plan.Profile && !rule.Outcome(t.Verdict).Against() {
		t.WithProfile = in.withProfile(s.seats)
	}
	before := in.scene(Fitted(m), false)
	before.operate()
	t.Before = before.point
	t.Was, _ = before.sum()
	return t, nil
}

// withProfile is the operating point under the modules' profile, if its rule
// has nothing against it.
func (t *setting) withProfile(seats []Seat) maybe.Value[Point] {
	fast := t.scene(seats, true)
	fast.operate()
	for _, r := range rules {
		if r.ID != "profile" && r.ID != "unlike" {
			continue
		}
		for _, reason := range fast.ask(r) {
			if reason.Outcome != rule.OK {
				return maybe.None[Point]()
			}
		}
	}
	return fast.point
}

// scene sets modules into the machine, in the order of its places.
func (t *setting) scene(seats []Seat, withProfile bool) *scene {
	s := &scene{in: t, profile: withProfile}
	for _, p := range t.m.Places {
		for _, seat := range seats {
			if seat.Place == p.Name {
				seat.Channel = t.toldChannel(p)
				s.seats = append(s.seats, seat)
			}
		}
	}
	for _, seat := range s.seats {
		s.names = append(s.names, called(seat))
	}
	return s
}

// Fitted returns what sits in a machine now.
func Fitted(m machine.Machine) (seats []Seat) {
	for _, p := range m.Places {
		if p.Module != nil {
			stick := *p.Module
			if !stick.Grade().Known() {
				stick.Rated = p.Running // it is made for that at least
			}
			seats = append(seats, Seat{Place: p.Name, Channel: p.Channel.Or(""), Stick: stick,
				Soldered: p.Attach.Or("") == machine.Soldered})
		}
	}
	return seats
}

// seated is what stays and what is put where, before the rest is placed.
func seated(in *setting, plan Plan) ([]Seat, error) {
	seats := Fitted(in.m)
	for _, name := range plan.Pull {
		p, err := in.named(name)
		if err != nil {
			return nil, err
		}
		if p.Attach.Or("") == machine.Soldered {
			return nil, fmt.Errorf("%w: %s (%s)", ErrSoldered, p.Name, because(p.Attach))
		}
		i := slices.IndexFunc(seats, func(s Seat) bool { return s.Place == p.Name })
		if i < 0 {
			return nil, fmt.Errorf("%w: %s", ErrEmpty, p.Name)
		}
		seats = slices.Delete(seats, i, i+1)
	}
	for i, put := range plan.Put {
		if put.From == "" {
			continue
		}
		at := slices.IndexFunc(seats, func(s Seat) bool { return s.Place == put.From })
		if at < 0 {
			return nil, fmt.Errorf("%w: %s", ErrEmpty, put.From)
		}
		plan.Put[i].Stick = seats[at].Stick
		seats = slices.Delete(seats, at, at+1)
	}
	for _, put := range plan.Put {
		p, err := in.named(put.Place)
		if err != nil {
			return nil, err
		}
		if p.Attach.Or("") == machine.Soldered {
			return nil, fmt.Errorf("%w: %s (%s)", ErrSoldered, p.Name, because(p.Attach))
		}
		if slices.ContainsFunc(seats, func(s Seat) bool { return s.Place == p.Name }) {
			return nil, fmt.Errorf("%w: %s; pull what is in it first", ErrTaken, p.Name)
		}
		seats = append(seats, Seat{Place: p.Name, Channel: p.Channel.Or(""), Stick: put.Stick, New: put.From == "",
			From: put.From})
	}
	return seats, nil
}

func because(f fact.Fact[machine.Attach]) string {
	if len(f.Why()) == 0 {
		return f.Standing().String()
	}
	return f.Why()[0].Says
}

// named finds a place; the error lists those that there are.
func (t *setting) named(name string) (machine.Place, error) {
	if p := t.m.PlaceCalled(strings.TrimSpace(name)); p != nil {
		return *p, nil
	}
	var names []string
	for _, p := range t.m.Places {
		names = append(names, p.Name)
	}
	if len(names) == 0 {
		return machine.Place{}, fmt.Errorf("%w: %q; no place is known", ErrNoPlace, name)
	}
	return machine.Place{}, fmt.Errorf("%w: %q; there are %s", ErrNoPlace, name, strings.Join(names, ", "))
}

// Same reports whether nothing changed: the trial judged what is fitted, as it
// runs now.
func (t Trial) Same() bool {
	a, ok1 := t.Before.Get()
	b, ok2 := t.Operating.Get()
	return t.Was == t.Total && ok1 == ok2 && a.Grade.Rate == b.Grade.Rate && a.Bandwidth == b.Bandwidth &&
		!slices.ContainsFunc(t.Seats, func(s Seat) bool { return s.New })
}

// Faster is the bandwidth to come by that of now; none where one of them can't be told, as where it
// is open which sockets share a channel.
func (t Trial) Faster() maybe.Value[float64] {
	before, ok1 := t.Before.Get()
	after, ok2 := t.Operating.Get()
	if !ok1 || !ok2 || before.Bandwidth == 0 || before.InterleavedMost.Known() || after.InterleavedMost.Known() {
		return maybe.None[float64]()
	}
	return maybe.Just(float64(after.Bandwidth) / float64(before.Bandwidth))
}

// Penalties are the sentences of the rules that take something away.
func (t Trial) Penalties() (says []string) {
	for _, r := range t.Reasons {
		if r.Outcome == rule.Reduced {
			says = append(says, r.Says)
		}
	}
	return says
}

// Apart is the verdict apart from sockets that were announced and that nobody lists:
// those are there as surely as the announcement is right, and a good module is not
// thrown out over it.
func (t Trial) Apart(m machine.Machine) (worst rule.Outcome) {
	worst = rule.OK
	for _, r := range t.Reasons {
		if r.Rule != "socket" {
			worst = max(worst, r.Outcome)
		}
	}
	for _, seat := range t.Seats {
		for _, p := range m.Places {
			if p.Name == seat.Place && (seat.New || seat.Moved()) && !p.Announced && p.Attach.Standing() < fact.Settled {
				worst = max(worst, rule.Likely)
			}
		}
	}
	return worst
}

// Package trial answers the question asked most at the bench: these sticks, in
// this machine, in these slots: do they run, at what speed and timings, and
// what would be better.
//
// Every rule stands in one table with its id, its sentence and its source, and
// is written for one world. What is open is asked of the evidence: the inferences
// stand in a table of their own, and package rule asks each rule in every world
// that they leave. The verdict is the worst of the outcomes.

// Looks are the looks that settle what is likely, one after the other, each once.
func (t Trial) Looks() (looks []string) {
	for _, x := range t.Reasons {
		if x.Outcome != rule.Likely {
			continue
		}
		for _, d := range x.Depends {
			if !slices.Contains(looks, d.Look) {
				looks = append(looks, d.Look)
			}
		}
	}
	return looks
}

// Gains are what the change is good for, each as a person says it; none where it is refused
// or changes nothing.
func (t Trial) Gains() (parts []string) {
	if rule.Outcome(t.Verdict).Against() || t.Same() {
		return nil
	}
	switch {
	case t.Total > t.Was:
		parts = append(parts, fmt.Sprintf("%v more", t.Total-t.Was))
	case t.Total < t.Was:
		parts = append(parts, fmt.Sprintf("%v less", t.Was-t.Total))
	}
	before, ok1 := t.Before.Get()
	after, ok2 := t.Operating.Get()
	if !ok1 || !ok2 {
		return parts
	}
	const noticed = 0.005 // a smaller change of bandwidth is none
	switch ratio, told := t.Faster().Get(); {
	case told && (ratio > 1+noticed || ratio < 1-noticed):
		parts = append(parts, fmt.Sprintf("%.2f times the bandwidth", ratio))
	case told:
		parts = append(parts, "the same bandwidth")
	}
	if before.TimesKnown && after.TimesKnown && before.Latency != after.Latency {
		parts = append(parts, fmt.Sprintf("access time %v instead of %v", after.Latency, before.Latency))
	}
	return parts
}
