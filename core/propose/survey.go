package propose

import (
	"cmp"
	"fmt"
	"slices"

	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/module"
	"epitome/core/rule"
	"epitome/core/stock"
	"epitome/core/trial"
)

// most is the most modules that one proposal buys; no machine of this trade
// has more sockets.
const most = 32

// mostSteps is how much work a search does before it ends by itself, some tenths of a second's: ways of keeping and
// sets that are looked at, and ways of dealing them to the sockets, times their channels. Sixteen sockets with ten
// thousand offers take a twentieth of it; only a dozen and more modules of which no two are alike come to it. What
// was found by then is shown, and not called the best.
const mostSteps = 600_000

// manyKeeps is how many ways of keeping there are before those that a technician would look at come first.
const manyKeeps = 4096

// maxKinds is how many kinds of module one proposal buys.
const maxKinds = 3

// A class is offers that nothing but price, pieces and quantity tells apart.
type class struct {
	kind   trial.PlaceKind
	stick  module.Module
	rate   jedec.Rate        // no more than the machine can use; 0 where not known
	taa    jedec.Picoseconds // 0 where not known
	proof  rule.Outcome      // of the rules about a single module
	kin    string            // what it does beside others depends on it
	isNew  bool              // it does not sit there already
	common jedec.Latencies   // that it states
	offers []*Offer
	enough int   // so many offers are sorted out again
	all    []int // numbers of all its offers, in a round: there one may have run out
}

// An owned is modules at hand that are alike: fitted ones or drawer ones.
type owned struct {
	class
	members []trial.Put // Place is where it was; empty for a drawer module
	worth   stock.Money // of one that is taken out
	fitted  bool
}

// A search is the state of one run.
type search struct {
	m          machine.Machine
	limits     ceiling.Limits
	judge      *trial.Judge
	goal       Goal
	have       jedec.Capacity
	now        vector     // the machine as it is
	freely     jedec.Rate // that it runs at, or would with a profile selected
	owned      []owned
	classes    []*class
	considered Considered
	stop       func() bool
	stopped    bool
	steps      int
	mixed      bool // the pool that is looked at is a mixed one
	plain      bool // sockets differ in nothing but channel and turn
	least      map[spot][]vector
	fixed      base
	kinds      []trial.PlaceKind // used again and again
	channels   int               // to be filled alike; 0 where there is no choice
	scale      Scale
	eachGiB    stock.Money // what a GiB is worth
	basis      stock.Money // what the memory is worth of which shares are taken
	corrects   bool        // the machine corrects errors now
	many       bool        // others want the same offers
	asked      map[single]rule.Outcome
}

// survey gathers what is known, and deals the offers into classes.
func survey(m machine.Machine, l ceiling.Limits, goal Goal) (*search, error) {
	s, err := begin(m, l, goal)
	if err != nil {
		return nil, err
	}
	offers := goal.Offers
	if len(offers) == 0 {
		offers = s.specifications()
	}
	s.sortOffers(offers)
	s.value()
	return s, nil
}

// begin gathers what is known of the machine, and stops where a fact is missing that no
// proposal can do without.
func begin(m machine.Machine, l ceiling.Limits, goal Goal) (*search, error) {
	s := &search{m: m, limits: l, goal: goal, judge: trial.NewJudge(m, l), have: m.Have(),
		least: make(map[spot][]vector), asked: make(map[single]rule.Outcome)}
	s.scale = goal.Scale.Or(ordinaryScale())
	for _, p := range m.Places {
		if !p.Attach.Known() {
			return nil, missing(machine.AboutAttach, p.Name, "look and see", "whether %s is a socket is not known", p.Name)
		}
	}
	g, known := l.Generation.Get()
	switch {
	case len(m.Places) == 0:
		return nil, missing(machine.AboutPlaces, "", machine.Subject{Topic: machine.AboutPlaces}.Settles(),
			"no place for memory is known")
	case m.Totals.Sockets.Standing() == fact.Disputed:
		return nil, missing(machine.AboutSockets, "", "open the machine and count them",
			"how many sockets there are is disputed")
	case s.judge.Sockets() > most:
		return nil, missing(machine.AboutSockets, "", "open the machine and count them",
			"%d sockets are listed, and no machine of this trade has more than %d", s.judge.Sockets(), most)
	case s.judge.Sockets() == 0:
		return nil, fmt.Errorf("%w: all memory is soldered, there is no socket", ErrBeyond)
	case !known:
		return nil, missing(machine.AboutGeneration, "", "read the sticker of a fitted module",
			"the generation is not known")
	case !l.Form.Known():
		return nil, missing("form", "", "look whether they take DIMMs or SO-DIMMs", "the form of the sockets is not known")
	case len(catalogue.SizesSold(g, l.Form.Or(jedec.FormUnknown))) == 0:
		return nil, fmt.Errorf("%w: %v modules for sockets are not made", ErrBeyond, g)
	}
	s.plain = s.judge.Plain()
	if n := s.judge.Channels(); n > 1 && (s.judge.Sockets() > n || goal.Pairs) {
		s.channels = n
	}
	s.gatherOwned()
	s.corrects = s.checksNow()
	return s, nil
}

// checksNow reports whether the machine corrects errors: all that is fitted has check bits.
func (s *search) checksNow() bool {
	seats := trial.Fitted(s.m)
	return len(seats) > 0 && !slices.ContainsFunc(seats, func(x trial.Seat) bool { return !checks(&x.Stick) })
}

// gatherOwned groups fitted modules in sockets, and drawer modules.
func (s *search) gatherOwned() {
	type alike struct {
		signature
		fitted bool
	}
	seen := make(map[alike]class) // machines hold modules of which many are alike
	add := func(st module.Module, place string, fitted bool) {
		key := alike{signatureOf(&st), fitted}
		c, ok := seen[key]
		if !ok {
			c = s.classOf(st, !fitted, "")
			seen[key] = c
		}
		if s.against(c.proof) && !fitted {
			return
		}
		for i := range s.owned {
			o := &s.owned[i]
			if o.fitted == fitted && o.same(&c) {
				o.members = append(o.members, trial.Put{Place: place, Stick: st})
				return
			}
		}
		s.owned = append(s.owned, owned{class: c, members: []trial.Put{{Place: place, Stick: st}}, fitted: fitted})
	}
	for _, seat := range trial.Fitted(s.m) {
		if !seat.Soldered {
			add(seat.Stick, seat.Place, true)
		}
	}
	// Of modules that are alike the first ones are kept: where a place may be
	// soldered, what is in it stays, and the sure socket is emptied.
	sure := make(map[string]fact.Standing)
	for _, p := range s.m.Places {
		sure[p.Name] = p.Attach.Standing()
	}
	for _, o := range s.owned {
		slices.SortStableFunc(o.members, func(a, b trial.Put) int { return cmp.Compare(sure[a.Place], sure[b.Place]) })
	}
	for _, d := range s.goal.Drawer {
		for _, one := range d.Apart() {
			add(one, "", false)
		}
	}
}

// underProfile is the rate that the machine would run at without buying anything, by a profile that can be selected; 0
// where there is none.
func (s *search) underProfile() jedec.Rate {
	if !slices.ContainsFunc(s.owned, func(o owned) bool { return o.fitted && len(o.stick.Profiles) > 0 }) {
		return 0
	}
	now, err := trial.Run(s.m, s.limits, trial.Plan{})
	if err != nil {
		return 0
	}
	x, _ := now.WithProfile.Get()
	return x.Grade.Rate
}

// asItIs is what the machine is worth as it stands, at no cost.
func (s *search) asItIs() vector {
	v := vector{total: s.have, proof: rule.OK, free: s.judge.Sockets(), lone: s.have}
	for _, seat := range trial.Fitted(s.m) {
		if !seat.Soldered {
			v.free--
		}
	}
	var kinds []trial.PlaceKind
	for _, seat := range trial.Fitted(s.m) {
		kinds = append(kinds, trial.KindOf(seat.Stick))
	}
	v.odd = s.oddness(kinds)
	if x, ok := s.judge.Now().Get(); ok {
		v.rate, v.latency, v.lone = x.Grade.Rate, x.Latency, x.Total-x.Paired()
	}
	return v
}

// same reports whether nothing tells two classes apart but their offers.
func (c *class) same(o *class) bool {
	return c.kind == o.kind && c.rate == o.rate && c.taa == o.taa && c.proof == o.proof && c.kin == o.kin &&
		c.common == o.common
}

// classOf is what the search looks at in a stick. kin is its kin, empty where nobody worked
// it out.
func (s *search) classOf(st module.Module, isNew bool, kin string) class {
	if kin == "" {
		kin = trial.Kin(&st, isNew)
	}
	c := class{kind: trial.KindOf(st), stick: st, kin: kin, isNew: isNew, common: st.Latencies.Or(jedec.Latencies{})}
	c.proof = s.alone(&st, isNew)
	if x, ok := st.Grade().Get(); ok {
		c.rate = x.Rate
		if top := s.judge.Ceiling(); top > 0 {
			c.rate = min(c.rate, top)
		}
	}
	if taa, ok := trial.AccessTime(st); ok {
		c.taa = taa
	}
	return c
}

// untimed are the facts that rules about a single module look at: none asks how fast it is
// but those about profiles. It is comparable.
func untimed(st *module.Module) module.Facts {
	f := st.Judged()
	f.Rated, f.CL = fact.Fact[jedec.Rate]{}, fact.Fact[jedec.Latency]{}
	f.Timing, f.Times, f.Latencies = fact.Fact[jedec.Timing]{}, module.Times{}, fact.Fact[jedec.Latencies]{}
	return f
}

// alone is what the rules about a single module say of one. Lists hold many that differ in
// nothing but speed: they are asked once.
func (s *search) alone(st *module.Module, isNew bool) rule.Outcome {
	if len(st.Profiles) > 0 || !isNew {
		proof, _ := s.judge.Alone(*st, isNew)
		return proof
	}
	key := single{untimed(st), st.Kind}
	proof, known := s.asked[key]
	if !known {
		proof, _ = s.judge.Alone(*st, isNew)
		s.asked[key] = proof
	}
	return proof
}

// A single is what tells modules apart for the rules about a single one.
type single struct {
	facts module.Facts
	kind  module.Kind
}

// sortOffers drops what the wishes leave out and the machine refuses, and
// deals the rest into classes.
func (s *search) sortOffers(offers []Offer) {
	s.considered.Offers += len(offers)
	seen, same := make(map[signature]int), make(map[*module.Module]int) // lists share what many lines come to
	for at := range offers {
		o := &offers[at]
		if o.Number == 0 {
			o.Number = at + 1
		}
		n, stated := o.Quantity.Get()
		if s.goal.OnlyNew && o.Condition != stock.New || s.goal.InStock && (!stated || n == 0) || stated && n == 0 ||
			o.Pieces < 1 || o.Pieces > s.judge.Sockets() ||
			max(1, o.MinOrder)*o.Pieces > s.judge.Sockets() || stated && n < o.MinOrder {
			s.considered.Passed++
			continue
		}
		i, ok := same[o.Stick]
		var sign signature
		if !ok {
			sign = signatureOf(o.Stick)
			i, ok = seen[sign]
		}
		if !ok {
			c := s.classOf(*o.Stick, true, o.kin)
			i = len(s.classes)
			if s.against(c.proof) {
				i = -1
			} else if j := slices.IndexFunc(s.classes, c.same); j >= 0 {
				i = j
			} else {
				s.classes = append(s.classes, &c)
			}
			seen[sign] = i
		}
		same[o.Stick] = i
		if i < 0 {
			s.considered.Passed++
			continue
		}
		c := s.classes[i]
		if s.many {
			c.all = append(c.all, o.Number)
		}
		if c.offers = append(c.offers, o); len(c.offers) >= max(c.enough, fewOffers) {
			// What is dropped of a part of the list would be dropped of the whole.
			c.offers = cheapest(c.offers, s.judge.Sockets())
			c.enough = 2 * len(c.offers)
		}
	}
	s.considered.Classes = len(s.classes)
	for _, c := range s.classes {
		c.offers = cheapest(c.offers, s.judge.Sockets())
	}
}

// fewOffers is how many offers of one class are not worth sorting out yet.
const fewOffers = 256

// A signature is everything in an offer that a rule can look at.
type signature struct {
	facts   module.Facts
	profile jedec.Rate
}

func signatureOf(st *module.Module) signature { return signature{st.Judged(), profileRate(st)} }

func profileRate(st *module.Module) (top jedec.Rate) {
	for _, p := range st.Profiles {
		top = max(top, p.Rate)
	}
	return top
}

// cheapest keeps, of the offers of one class with as many pieces and no
// minimum order, as many of the cheapest as there are sockets: no set uses
// more, and a dearer one can always be swapped for one of them.
func cheapest(offers []*Offer, sockets int) (kept []*Offer) {
	slices.SortStableFunc(offers, func(a, b *Offer) int {
		return cmp.Or(cmp.Compare(a.Price, b.Price), cmp.Compare(a.shabbiness(), b.shabbiness()), cmp.Compare(a.SKU, b.SKU))
	})
	type sold struct {
		pieces int
		worn   bool
	}
	count := make(map[sold]int) // used ones never stand in the way of new ones
	for _, o := range offers {
		of := sold{o.Pieces, o.worn()}
		if o.MinOrder > 1 {
			kept = append(kept, o)
			continue
		}
		if units, stated := o.Quantity.Get(); count[of] < sockets {
			kept = append(kept, o)
			if !stated {
				units = sockets
			}
			count[of] += units
		}
	}
	return kept
}

// fastestFitted is the rated speed of the fastest fitted module, the first
// grade where none tells.
func (s *search) fastestFitted() (rate jedec.Rate) {
	for _, o := range s.owned {
		rate = max(rate, o.rate)
	}
	return rate
}

// unpaired reports whether a set leaves channels that don't hold the same.
func (s *search) unpaired(v vector) bool { return v.odd > 0 || v.lone > 0 && s.judge.Channels() > 1 }

// oddness is the memory on modules that can't be dealt to the channels so that each holds the same
// sizes: a technician buys pairs, and threes on three channels.
func (s *search) oddness(kinds []trial.PlaceKind) jedec.Capacity { return oddness(kinds, s.channels) }

func oddness(kinds []trial.PlaceKind, channels int) (odd jedec.Capacity) {
	if channels < 2 || len(kinds) < 2 {
		return 0
	}
	for i, k := range kinds {
		n, first := 0, true
		for j, o := range kinds {
			if o.Capacity == k.Capacity {
				first = first && j >= i
				n++
			}
		}
		if first {
			odd += jedec.Capacity(n%channels) * k.Capacity
		}
	}
	return odd
}
