package trial

import (
	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/rule"
	"fmt"
	"slices"
)

// A Judge weighs many sets of modules for one machine, without the sentences
// of a trial. What it says of a set is what Run comes to for it; tests hold it
// to that.
type Judge struct {
	in       *setting
	fixed    []Seat // soldered memory
	sockets  int
	places   [2]rule.Outcome // whether the sockets are sockets, and free: the best and the worst of them
	placed   map[string]placing
	rates    map[catalogue.Population]jedec.Rate
	fills    fills // as a dealer sees them
	totals   map[jedec.Capacity]rule.Outcome
	beside   map[[2]string]Side
	standard []jedec.Latency // of the generation
	grades   []jedec.Grade   // likewise
	bounds   map[int]jedec.Rate
	bays     []bay
	twins    []int
	dealer   dealer // used again and again
	key      []byte // likewise
	left     int    // ways of dealing that may still be looked at, times the channels, for all sets together
	work     int    // that were looked at
	cut      bool   // some set was not dealt in every way
}

// A placing is what the best way of dealing modules to sockets comes to.
type placing struct {
	cap   jedec.Rate // 0 where nobody states it
	lone  jedec.Capacity
	rules rule.Outcome // the worst of those about a channel
	stuck bool         // a channel's rate is stated by nobody
}

// NewJudge makes a judge.
func NewJudge(m machine.Machine, l ceiling.Limits) *Judge {
	j := &Judge{in: newSetting(m, l), placed: make(map[string]placing), rates: make(map[catalogue.Population]jedec.Rate),
		fills: make(fills), bounds: make(map[int]jedec.Rate), totals: make(map[jedec.Capacity]rule.Outcome),
		beside: make(map[[2]string]Side), left: mostJudged}
	for _, p := range m.Places {
		switch p.Attach.Or("") {
		case machine.Socket:
			says := rule.OK
			switch {
			case p.Attach.Standing() < fact.Leaning || !p.Filled.Known():
				says = rule.Unproven
			case p.Attach.Standing() < fact.Settled:
				says = rule.Likely
			}
			if j.sockets++; j.sockets == 1 {
				j.places[0] = says
			}
			j.places[0], j.places[1] = min(j.places[0], says), max(j.places[1], says)
		}
	}
	for _, s := range Fitted(m) {
		if s.Soldered {
			j.fixed = append(j.fixed, s)
		}
	}
	g := l.Generation.Or(jedec.GenerationUnknown)
	j.standard, j.grades = jedec.StandardLatencies(g), jedec.Grades(g)
	j.bays, _ = j.in.bays(j.fixed)
	d := &dealer{in: j.in, bays: j.bays}
	d.prepare()
	j.twins = d.twins
	j.dealer = dealer{in: j.in, bays: j.bays, twins: d.twins, socketFacts: d.socketFacts, stays: d.stays,
		inTurn: d.inTurn, fills: j.fills, dealt: make([][]int, len(j.bays))}
	return j
}

// Sockets is how many places are sockets.
func (j *Judge) Sockets() int { return j.sockets }

// Channels is how many channels the sockets are on, 0 where that is not known or where
// soldered memory sits on one of them.
func (j *Judge) Channels() int {
	if len(j.in.counts) != 1 || len(j.fixed) > 0 {
		return 0
	}
	seen := make(map[string]bool)
	for _, p := range j.in.m.Places {
		if p.Attach.Or("") == machine.Socket {
			seen[j.in.channelOf(p)] = true
		}
	}
	return len(seen)
}

// Places is what the rule about sockets says of what goes into the best of them.
func (j *Judge) Places() rule.Outcome { return j.places[0] }

// Now is how the machine runs with what is fitted, none where that can't be told.
func (j *Judge) Now() maybe.Value[Point] {
	s := j.in.scene(Fitted(j.in.m), false)
	s.operate()
	return s.point
}

// Soldered is the memory on the board.
func (j *Judge) Soldered() (size jedec.Capacity) {
	for _, s := range j.fixed {
		size += s.Stick.Capacity.Or(0)
	}
	return size
}

// Fixed are the soldered modules as sticks.
func (j *Judge) Fixed() (list []module.Module) {
	for _, s := range j.fixed {
		list = append(list, s.Stick)
	}
	return list
}

// Plain reports whether sockets differ in nothing but their channel and their
// turn: where single slots take less than others, or are less surely sockets,
// only a whole trial tells.
func (j *Judge) Plain() bool {
	if j.places[0] != j.places[1] {
		return false
	}
	for _, p := range j.in.m.Places {
		if j.in.limits.SlotMost(p.Name).Known() {
			return false
		}
	}
	return true
}

// Alone is the worst that the rules about a single module say of one in a
// socket of the machine, with the reason.
func (j *Judge) Alone(s module.Module, isNew bool) (rule.Outcome, rule.Reason) {
	place := ""
	for _, p := range j.in.m.Places {
		if p.Attach.Or("") == machine.Socket {
			place = p.Name
			break
		}
	}
	sc := j.in.scene([]Seat{{Place: place, Stick: s, New: isNew}}, false)
	profiled := len(s.Profiles) > 0
	if profiled {
		sc.operate()
	}
	worst := rule.Reason{Outcome: rule.OK}
	for _, r := range rules {
		if r.Scope != EachModule && !(r.ID == "profile" && profiled) || r.ID == "socket" {
			continue // whether the places are sockets is asked of all of them
		}
		for _, reason := range sc.ask(r) {
			if reason.Outcome > worst.Outcome {
				worst = reason
			}
		}
		if worst.Outcome == rule.Refused {
			break
		}
	}
	return worst.Outcome, worst
}

// Kin is everything in a module on which it depends how it does beside others. It
// is comparable.
func Kin(m *module.Module, isNew bool) string {
	key := fmt.Sprint(m.Kind == module.Listing, isNew)
	for _, row := range module.Rows() {
		if slices.ContainsFunc(rules, func(r Rule) bool { return slices.Contains(r.Beside, row.Key) }) {
			x := row.Show(m)
			key += fmt.Sprint("|", x.Text, x.Standing)
		}
	}
	return key
}

// A Side is what two modules do side by side.
type Side struct {
	Worst rule.Outcome
	Costs bool // a rule takes something away that shows in no other figure
}

// Beside is what the rules say of two modules side by side, each as one of its kin. What runs there already is not
// on trial.
func (j *Judge) Beside(a, b *module.Module, kinA, kinB string, newA, newB bool) Side {
	key := [2]string{kinA, kinB}
	if o, known := j.beside[key]; known {
		return o
	}
	sc := &scene{in: j.in, names: []string{Describe(*a), Describe(*b)},
		seats: []Seat{{Stick: *a, New: newA}, {Stick: *b, New: newB}}}
	side := Side{Worst: rule.OK}
	for _, r := range rules {
		if len(r.Beside) == 0 {
			continue
		}
		for _, reason := range sc.ask(r) {
			side.Worst = max(side.Worst, reason.Outcome)
			side.Costs = side.Costs || reason.Outcome == rule.Reduced
		}
	}
	j.beside[key], j.beside[[2]string{kinB, kinA}] = side, side
	return side
}

// Total is what the rules about the sum say.
func (j *Judge) Total(sum jedec.Capacity) rule.Outcome {
	if o, known := j.totals[sum]; known {
		return o
	}
	sc := &scene{in: j.in, seats: []Seat{{Stick: module.Module{Facts: module.Facts{Capacity: fact.Known(sum)}}}}}
	worst := rule.OK
	for _, r := range rules {
		if r.ID != "total" && r.ID != "system-limit" && r.ID != "past-jobs" {
			continue
		}
		for _, reason := range sc.ask(r) {
			worst = max(worst, reason.Outcome)
		}
	}
	j.totals[sum] = worst
	return worst
}

// A Load is a set of modules in the sockets, as far as placing and timing look
// at it.
type Load struct {
	Kinds []PlaceKind // one for each module, largest first
	Rate  jedec.Rate  // the slowest module's; 0 where one is not known
	TAA   jedec.Picoseconds
	// Common are the CAS latencies that all support that state any; nil for the
	// standard's.
	Common []jedec.Latency
}

// A PlaceKind is what placing looks at in a module.
type PlaceKind struct {
	Capacity jedec.Capacity
	Ranks    int8 // where not known 0, or leadsTwo
	Clocked  bool
}

// KindOf returns a stick's kind.
func KindOf(s module.Module) PlaceKind {
	return PlaceKind{s.Capacity.Or(0), int8(placeRanks(s)), s.Clocked.Or(false)}
}

// String tells kinds apart.
func (k PlaceKind) String() string {
	return fmt.Sprint(uint64(k.Capacity/jedec.MiB), "/", k.Ranks, "/", k.Clocked)
}

// AccessTime is a stick's access time, or that of the bin that is sold in its
// grade.
func AccessTime(s module.Module) (jedec.Picoseconds, bool) { return s.SoldTimes().TAA.Get() }

// A Weighed is how a load runs.
type Weighed struct {
	Rate    jedec.Rate        // 0 where it can't be told
	Latency jedec.Picoseconds // of the first word; 0 where it can't be told
	Lone    jedec.Capacity    // served by one channel alone
	Rules   rule.Outcome      // the worst of those about a channel
	Capped  bool              // somebody states what the machine runs at so filled
}

// Weigh works out how a load runs where it is placed best.
func (j *Judge) Weigh(l Load) Weighed {
	p := j.place(l.Kinds)
	w := Weighed{Rules: p.rules, Capped: p.cap > 0}
	if l.Rate == 0 || p.cap == 0 {
		return w
	}
	common := l.Common
	if common == nil {
		common = j.standard
	}
	grades := j.grades
	for i := len(grades) - 1; i >= 0; i-- {
		x := grades[i]
		if x.Rate > min(l.Rate, p.cap) {
			continue
		}
		if l.TAA == 0 {
			w.Rate = x.Rate
			break
		}
		if cl, ok := latencyAt(x, l.TAA, common); ok {
			w.Rate, w.Latency = x.Rate, cl.Time(x)
			break
		}
	}
	if w.Rate > 0 {
		w.Lone = p.lone
	}
	return w
}

// Bound is a rate that no placing of so many modules in the sockets beats: that
// of the ways of filling a channel that spreading them evenly leaves.
func (j *Judge) Bound(modules int) jedec.Rate {
	if rate, ok := j.bounds[modules]; ok {
		return rate
	}
	top := jedec.Rate(0)
	if len(j.bays) > 0 {
		each := (len(j.fixed) + modules + len(j.bays) - 1) / len(j.bays)
		for b := range j.bays {
			for ranks := 1; ranks <= 2; ranks++ {
				for _, clocked := range []bool{false, true} {
					// A channel somewhere holds at least so many; fewer slots run no faster.
					fill := catalogue.Population{Modules: max(1, each), Ranks: maybe.Just(ranks), Clocked: clocked,
						Slots: maybe.Just(j.bays[b].fill.slots)}
					top = max(top, j.rateOf(fill))
				}
			}
		}
	}
	if top == 0 {
		top = 1 << 20 // nothing is known: nothing is ruled out
	}
	j.bounds[modules] = top
	return top
}

// Ceiling is the rate beyond which no way of filling the channels runs, by
// whoever limits it beside the standard; 0 where nobody does.
func (j *Judge) Ceiling() (top jedec.Rate) {
	for _, p := range j.in.limits.Populations() {
		for _, clocked := range []bool{false, true} {
			p.Clocked = clocked
			top = max(top, j.rateOf(p))
		}
	}
	return top
}

// place deals kinds to the sockets, each set once.
func (j *Judge) place(kinds []PlaceKind) placing {
	key := j.key[:0]
	for _, k := range kinds {
		size := k.Capacity / jedec.MiB
		clock := byte(0)
		if k.Clocked {
			clock = 1
		}
		key = append(key, byte(size>>16), byte(size>>8), byte(size), byte(k.Ranks), clock)
	}
	j.key = key
	if p, ok := j.placed[string(key)]; ok {
		return p
	}
	p := j.deal(kinds)
	j.placed[string(key)] = p
	return p
}

// Bounds on the ways of dealing that a judge looks at, times the channels: for one set, for all of them together, and
// for a set when those are used up. All of them take some tenths of a second.
const mostSet, mostJudged, fewDeals = 15_000, 1_000_000, 300

// Cut reports whether some set could be dealt to the sockets in more ways than were looked at.
func (j *Judge) Cut() bool { return j.cut }

// Work is how many ways of dealing were looked at so far, times the channels that each fills.
func (j *Judge) Work() int { return j.work }

// deal looks at what the best deal comes to, by the same rules as a trial.
func (j *Judge) deal(kinds []PlaceKind) placing {
	d := &j.dealer
	d.runs, d.stickFacts, d.done, d.best = d.runs[:0], d.stickFacts[:0], false, d.best[:0]
	for i, k := range kinds {
		if i == 0 || kinds[i-1] != k {
			d.runs = append(d.runs, run{i, i})
		}
		d.runs[len(d.runs)-1].to = i + 1
		d.stickFacts = append(d.stickFacts, stickFact{k.Capacity, int(k.Ranks), len(d.runs) - 1, k.Clocked})
	}
	d.enough = j.good(d, kinds)
	most := max(fewDeals, min(mostSet, j.left))
	d.search(most)
	used := most - d.left*len(j.bays)
	j.left, j.work, j.cut = j.left-used, j.work+used, j.cut || d.cut
	if len(d.best) == 0 {
		return placing{}
	}
	return j.reads(d.best, kinds)
}

// RanksAtMost is the kind's ranks, two where they are not known.
func (k PlaceKind) RanksAtMost() int {
	if k.Ranks <= 0 {
		return 2
	}
	return int(k.Ranks)
}

// good returns when a deal can't be bettered: it runs as fast as modules spread
// evenly can, and all of it is interleaved. What else a placing is judged by
// does not show in a Weighed.
func (j *Judge) good(d *dealer, kinds []PlaceKind) func(score) bool {
	total, top := j.Soldered(), jedec.Rate(0)
	each := (len(j.fixed) + len(kinds) + len(j.bays) - 1) / len(j.bays)
	for i, k := range kinds {
		total += k.Capacity
		if i > 0 && kinds[i-1] == k {
			continue
		}
		for b := range j.bays {
			if j.twins[b] == b {
				top = max(top, d.fills.of(d.in,
					fill{modules: each, most: k.RanksAtMost(), ranks: each * max(0, int(k.Ranks)), slots: j.bays[b].fill.slots,
						clocked: k.Clocked}).rate)
			}
		}
	}
	return func(s score) bool {
		return s.refused == 0 && s.rate >= top && s.interleaved == total && s.fits == len(kinds)
	}
}

// reads works out what a deal comes to.
func (j *Judge) reads(deal [][]int, kinds []PlaceKind) placing {
	p := placing{rules: rule.OK}
	var most, second jedec.Capacity
	for b, dealt := range deal {
		bay := &j.bays[b]
		holds, filled := bay.holds, bay.fill
		for _, i := range dealt {
			holds += kinds[i].Capacity
			filled = filled.with(int(kinds[i].Ranks), kinds[i].Clocked)
		}
		if filled.modules == 0 {
			continue
		}
		p.rules = max(p.rules, j.fills.of(j.in, filled).outcome)
		pop := catalogue.Population{Modules: filled.modules, Clocked: filled.clocked, Slots: maybe.Just(filled.slots),
			Ranks: maybe.If(filled.most, filled.open+filled.openTwo == 0)}
		if rate := j.rateOf(pop); p.cap == 0 && !p.stuck || rate < p.cap {
			p.cap, p.stuck = rate, p.stuck || rate == 0
		}
		if holds > most {
			most, second = holds, most
		} else {
			second = max(second, holds)
		}
	}
	p.lone = most - second
	if !j.in.told && p.rules.Runs() {
		p.rules = max(p.rules, j.otherwise(deal, kinds))
	}
	return p
}

// otherwise is what the rules about a channel come to where the places may be wired in another way than modules are
// dealt by: open where one of the ways is refused, or nobody states its rate.
func (j *Judge) otherwise(deal [][]int, kinds []PlaceKind) rule.Outcome {
	fits := func(f fill) bool {
		run := j.fills.of(j.in, f)
		return run.rate > 0 && run.outcome.Runs()
	}
	if len(j.fixed) == 0 && len(j.in.counts) == 1 {
		densest := fill{slots: (len(j.in.m.Places) + j.in.counts[0] - 1) / j.in.counts[0]}
		for _, k := range largestRanks(kinds)[:min(len(kinds), densest.slots)] {
			densest = densest.with(int(k.Ranks), k.Clocked)
		}
		if fits(densest) {
			return rule.OK
		}
	}
	held, words := make([]PlaceKind, len(j.in.m.Places)), make([]string, len(j.in.m.Places)) // by place
	put := func(place string, k PlaceKind) {
		for i := range j.in.m.Places {
			if j.in.m.Places[i].Name == place {
				held[i], words[i] = k, k.String()
			}
		}
	}
	for _, s := range j.fixed {
		put(s.Place, KindOf(s.Stick))
	}
	for b, dealt := range deal {
		for n, i := range dealt {
			put(j.bays[b].sockets[n].Name, kinds[i])
		}
	}
	list, all := j.in.wirings(words)
	for _, w := range list {
		for i, channel := range w {
			if slices.Index(w, channel) < i {
				continue // looked at already
			}
			f := fill{}
			for o, c := range w {
				if c == channel {
					if f.slots++; words[o] != "" {
						f = f.with(int(held[o].Ranks), held[o].Clocked)
					}
				}
			}
			if f.modules > 0 && !fits(f) {
				return rule.Unproven
			}
		}
	}
	return map[bool]rule.Outcome{true: rule.OK, false: rule.Likely}[all]
}

func largestRanks(kinds []PlaceKind) []PlaceKind {
	out := slices.Clone(kinds)
	slices.SortStableFunc(out, func(a, b PlaceKind) int { return b.RanksAtMost() - a.RanksAtMost() })
	return out
}

// rateOf is the rate that the ceilings leave to a way of filling a channel, 0
// where nobody states it.
func (j *Judge) rateOf(fill catalogue.Population) jedec.Rate {
	rate, known := j.rates[fill]
	if !known {
		rate = j.in.capRate(fill)
		j.rates[fill] = rate
	}
	return rate
}
