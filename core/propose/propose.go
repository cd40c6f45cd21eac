// Package propose works out ways to upgrade a machine's memory.
//
// The search is plain: of the modules in sockets the k largest stay, for
// every k, and every number of new modules of every one size that the
// generation is made in goes into the sockets left. What misses the goal or
// exceeds the stated maximum is dropped; what is beaten or equalled on all of
// modules to buy, modules discarded, size and balance is dropped too.
//
// Until the controller's and the board's limits are consulted, nothing here
// is proved: every proposal is unproven and says which facts are missing.
package propose

import (
	"cmp"
	"errors"
	"fmt"
	"slices"

	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
)

// A Goal is what the upgrade is to reach.
type Goal struct {
	Reach jedec.Capacity // total after the upgrade, at least
}

// A Spec describes a module to buy, as far as the machine determines it.
type Spec struct {
	Generation jedec.Generation
	Form       jedec.Form
	Capacity   jedec.Capacity
	Rate       maybe.Value[jedec.Rate] // at least; unknown where nothing fitted tells
}

// String writes the short specification, "16 GB DDR4-2400 SO-DIMM".
func (s Spec) String() string {
	grade := s.Generation.String()
	if rate, ok := s.Rate.Get(); ok {
		grade = fmt.Sprintf("%s-%d", grade, int(rate))
	}
	return fmt.Sprintf("%v %s %v", s.Capacity, grade, s.Form)
}

// A Move is a module and the place it stays in, leaves or comes to.
type Move struct {
	Place string
	Stick string
}

// A Proposal is one way to upgrade.
type Proposal struct {
	Number       int
	Picks        []string // what this one is best at: "fewest modules", "most room left"
	Total        jedec.Capacity
	Keeps        []Move
	Removes      []Move
	Adds         []Move
	Buy          Spec
	Quantity     int
	SocketsFree  int
	Uneven       bool // modules of different sizes side by side
	uneven, gone int
}

// A Result is all proposals, best first, and what is not proved about them.
type Result struct {
	Goal      Goal
	Proposals []Proposal
	Missing   []string // facts that would prove or refuse the proposals
}

// Why there can be no proposals.
var (
	// ErrUnknown: a fact is missing without which nothing can be proposed.
	ErrUnknown = errors.New("cannot tell what would fit")
	// ErrReached: the machine already has what the goal asks for.
	ErrReached = errors.New("the goal is reached already")
	// ErrBeyond: the goal cannot be reached.
	ErrBeyond = errors.New("the goal is out of reach")
)

// site is what the search needs to know of the machine.
type site struct {
	sockets  []machine.Place // in the machine's order
	fitted   []machine.Place // sockets that hold a module, largest first
	soldered jedec.Capacity
	maximum  maybe.Value[jedec.Capacity]
	spec     Spec
}

// Search returns the proposals for a machine. The error wraps ErrUnknown,
// ErrReached or ErrBeyond and says in a sentence what stands in the way.
func Search(m machine.Machine, goal Goal) (Result, error) {
	r := Result{Goal: goal}
	s, err := survey(m)
	if err != nil {
		return r, err
	}
	if have, ok := m.Totals.Installed.Get(); ok && have >= goal.Reach {
		return r, fmt.Errorf("%w: %v are fitted, %v are asked for", ErrReached, have, goal.Reach)
	}
	found := s.enumerate(goal)
	if len(found) == 0 {
		return r, s.beyond(goal)
	}
	r.Proposals = choose(found)
	r.Missing = s.missing(m)
	return r, nil
}

// survey gathers what is known, and stops where a fact is missing that no
// proposal can do without.
func survey(m machine.Machine) (site, error) {
	var s site
	s.maximum = m.Totals.StatedMaximum.Value
	for _, p := range m.Places {
		switch a, ok := p.Attach.Get(); {
		case !ok:
			return s, fmt.Errorf("%w: whether %s is a socket is not known; look and see", ErrUnknown, p.Name)
		case a == machine.Soldered:
			if p.Module != nil {
				size, ok := p.Module.Capacity.Get()
				if !ok {
					return s, fmt.Errorf("%w: the size of the soldered bank %s is not known", ErrUnknown, p.Name)
				}
				s.soldered += size
			}
		default:
			s.sockets = append(s.sockets, p)
		}
		if err := s.learn(p); err != nil {
			return s, err
		}
	}
	switch {
	case len(m.Places) == 0:
		return s, fmt.Errorf("%w: no place for memory is known", ErrUnknown)
	case m.Totals.Sockets.Standing == machine.Disputed:
		return s, fmt.Errorf("%w: how many sockets there are is disputed; open the machine and count them", ErrUnknown)
	case len(s.sockets) == 0:
		return s, fmt.Errorf("%w: all memory is soldered, there is no socket", ErrBeyond)
	case s.spec.Generation == jedec.GenerationUnknown:
		return s, fmt.Errorf("%w: the generation is not known; read the sticker of a fitted module", ErrUnknown)
	case s.spec.Form == jedec.FormUnknown:
		return s, fmt.Errorf("%w: the form of the sockets is not known; look whether they take DIMMs or SO-DIMMs", ErrUnknown)
	case len(jedec.ModuleSizes(s.spec.Generation)) == 0:
		return s, fmt.Errorf("%w: %v modules for sockets are not made", ErrBeyond, s.spec.Generation)
	}
	slices.SortStableFunc(s.fitted, func(a, b machine.Place) int {
		return cmp.Compare(b.Module.Capacity.Or(0), a.Module.Capacity.Or(0))
	})
	return s, nil
}

// learn takes generation, form and rate from a place.
func (s *site) learn(p machine.Place) error {
	if form, ok := p.Form.Get(); ok && p.Attach.Or("") == machine.Socket {
		if s.spec.Form != jedec.FormUnknown && s.spec.Form != form {
			return fmt.Errorf("%w: %s is a %v socket, another takes a %v", ErrUnknown, p.Name, form, s.spec.Form)
		}
		s.spec.Form = form
	}
	if p.Module == nil {
		return nil
	}
	if g, ok := p.Module.Generation.Get(); ok {
		if s.spec.Generation != jedec.GenerationUnknown && s.spec.Generation != g {
			return fmt.Errorf("%w: %s holds %v, another place %v", ErrUnknown, p.Name, g, s.spec.Generation)
		}
		s.spec.Generation = g
	}
	if rate, ok := p.Module.Rated.Get(); ok && rate > s.spec.Rate.Or(0) {
		s.spec.Rate = maybe.Just(rate)
	}
	if p.Attach.Or("") == machine.Socket {
		if !p.Module.Capacity.Known() {
			return fmt.Errorf("%w: the size of the module in %s is not known; read its sticker", ErrUnknown, p.Name)
		}
		s.fitted = append(s.fitted, p)
	}
	return nil
}

// enumerate lists every combination that meets the goal within the maximum.
func (s site) enumerate(goal Goal) []Proposal {
	var found []Proposal
	for keep := len(s.fitted); keep >= 0; keep-- {
		for _, size := range jedec.ModuleSizes(s.spec.Generation) {
			for quantity := 1; quantity <= len(s.sockets)-keep; quantity++ {
				p := s.lay(keep, size, quantity)
				maximum, limited := s.maximum.Get()
				if p.Total >= goal.Reach && !(limited && p.Total > maximum) {
					found = append(found, p)
				}
			}
		}
	}
	return found
}

// lay works out one combination: the keep largest modules stay, quantity new
// ones of one size go into the first sockets that are then free.
func (s site) lay(keep int, size jedec.Capacity, quantity int) Proposal {
	p := Proposal{Buy: s.spec, Quantity: quantity, Total: s.soldered, gone: len(s.fitted) - keep}
	p.Buy.Capacity = size
	stays := make(map[string]bool)
	smallest, largest := size, size
	for i, place := range s.fitted {
		capacity := place.Module.Capacity.Or(0)
		move := Move{Place: place.Name, Stick: describe(place.Module)}
		if i >= keep {
			p.Removes = append(p.Removes, move)
			continue
		}
		p.Keeps = append(p.Keeps, move)
		stays[place.Name] = true
		p.Total += capacity
		smallest, largest = min(smallest, capacity), max(largest, capacity)
	}
	for _, place := range s.sockets {
		switch {
		case stays[place.Name]:
		case len(p.Adds) < quantity:
			p.Adds = append(p.Adds, Move{Place: place.Name, Stick: p.Buy.String()})
			p.Total += size
		default:
			p.SocketsFree++
		}
	}
	p.Uneven = smallest != largest
	if p.Uneven {
		p.uneven = 1
	}
	return p
}

func describe(m *machine.Module) string {
	spec := Spec{Generation: m.Generation.Or(jedec.GenerationUnknown), Form: m.Form.Or(jedec.FormUnknown),
		Capacity: m.Capacity.Or(0), Rate: m.Rated.Value}
	return spec.String()
}

// beats reports whether a is at least as good as b on everything a buyer
// looks at, so that b need not be shown. Size counts both ways: more than
// asked for is neither better nor worse.
func (a Proposal) beats(b Proposal) bool {
	return a.Total == b.Total && a.Quantity <= b.Quantity && a.gone <= b.gone && a.uneven <= b.uneven && a.SocketsFree >= b.SocketsFree
}

// shown is the most proposals that a person can choose from at a glance.
const shown = 6

// choose drops the beaten ones, orders the rest and names the picks.
func choose(found []Proposal) []Proposal {
	var front []Proposal
	for i, p := range found {
		beaten := slices.ContainsFunc(found[:i], func(q Proposal) bool { return q.beats(p) }) ||
			slices.ContainsFunc(found[i+1:], func(q Proposal) bool { return q.beats(p) && !p.beats(q) })
		if !beaten {
			front = append(front, p)
		}
	}
	slices.SortStableFunc(front, func(a, b Proposal) int {
		return cmp.Or(cmp.Compare(a.Quantity+a.gone, b.Quantity+b.gone), cmp.Compare(a.Total, b.Total),
			cmp.Compare(a.uneven, b.uneven), cmp.Compare(a.Quantity, b.Quantity))
	})
	pick(front, "least to buy", func(a, b Proposal) bool { return a.Quantity < b.Quantity })
	pick(front, "keeps the most", func(a, b Proposal) bool { return a.gone < b.gone })
	pick(front, "most balanced", func(a, b Proposal) bool { return a.uneven < b.uneven })
	pick(front, "most room left", func(a, b Proposal) bool { return a.SocketsFree > b.SocketsFree })
	pick(front, "largest", func(a, b Proposal) bool { return a.Total > b.Total })
	slices.SortStableFunc(front, func(a, b Proposal) int { return cmp.Compare(min(1, len(b.Picks)), min(1, len(a.Picks))) })
	front = front[:min(len(front), shown)]
	for i := range front {
		front[i].Number = i + 1
	}
	return front
}

// pick names the first of the best ones.
func pick(front []Proposal, name string, better func(a, b Proposal) bool) {
	best := 0
	for i := range front {
		if better(front[i], front[best]) {
			best = i
		}
	}
	front[best].Picks = append(front[best].Picks, name)
}

// beyond says why the goal is out of reach.
func (s site) beyond(goal Goal) error {
	if maximum, ok := s.maximum.Get(); ok && maximum < goal.Reach {
		return fmt.Errorf("%w: firmware states a maximum of %v, %v are asked for", ErrBeyond, maximum, goal.Reach)
	}
	sizes := jedec.ModuleSizes(s.spec.Generation)
	largest := sizes[len(sizes)-1]
	return fmt.Errorf("%w: %d sockets with at most %v each and %v soldered do not make %v within the stated maximum",
		ErrBeyond, len(s.sockets), largest, s.soldered, goal.Reach)
}

// missing lists the facts that nobody has asked for yet.
func (s site) missing(m machine.Machine) []string {
	facts := []string{"the largest module one socket takes (processor's data sheet, board's manual)"}
	if !s.maximum.Known() {
		facts = append(facts, "the machine's maximum (firmware does not state one)")
	}
	if !s.spec.Rate.Known() {
		facts = append(facts, "the rate to ask for (no fitted module tells it)")
	}
	for _, p := range m.Places {
		if p.Attach.Standing != machine.Settled {
			facts = append(facts, "whether "+p.Name+" is a socket or soldered (firmware alone tells; look and see)")
		}
	}
	return facts
}
