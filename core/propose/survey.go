package propose

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

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
	fitted  bool
}

// A search is the state of one run.
type search struct {
	m          machine.Machine
	limits     ceiling.Limits
	judge      *trial.Judge
	goal       Goal
	have       jedec.Capacity
	now        vector // the machine as it is
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
	worth      int64             // of a fitted module, in money
	many       bool              // others want the same offers
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
	s.worth = s.worthOfOne()
	return s, nil
}

// begin gathers what is known of the machine, and stops where a fact is missing that no
// proposal can do without.
func begin(m machine.Machine, l ceiling.Limits, goal Goal) (*search, error) {
	s := &search{m: m, limits: l, goal: goal, judge: trial.NewJudge(m, l), have: m.Have(),
		least: make(map[spot][]vector), asked: make(map[single]rule.Outcome)}
	for _, p := range m.Places {
		if !p.Attach.Known() {
			return nil, fmt.Errorf("%w: whether %s is a socket is not known; look and see", ErrUnknown, p.Name)
		}
	}
	g, known := l.Generation.Get()
	switch {
	case len(m.Places) == 0:
		return nil, fmt.Errorf("%w: no place for memory is known", ErrUnknown)
	case m.Totals.Sockets.Standing() == fact.Disputed:
		return nil, fmt.Errorf("%w: how many sockets there are is disputed; open the machine and count them", ErrUnknown)
	case s.judge.Sockets() > most:
		return nil, fmt.Errorf("%w: %d sockets are listed, and no machine of this trade has more than %d; open the "+
			"machine and count them", ErrUnknown, s.judge.Sockets(), most)
	case s.judge.Sockets() == 0:
		return nil, fmt.Errorf("%w: all memory is soldered, there is no socket", ErrBeyond)
	case !known:
		return nil, fmt.Errorf("%w: the generation is not known; read the sticker of a fitted module", ErrUnknown)
	case !l.Form.Known():
		return nil, fmt.Errorf("%w: the form of the sockets is not known; look whether they take DIMMs or SO-DIMMs",
			ErrUnknown)
	case len(catalogue.SizesSold(g, l.Form.Or(jedec.FormUnknown))) == 0:
		return nil, fmt.Errorf("%w: %v modules for sockets are not made", ErrBeyond, g)
	}
	s.plain = s.judge.Plain()
	if n := s.judge.Channels(); n > 1 && (s.judge.Sockets() > n || goal.Pairs) {
		s.channels = n
	}
	s.now = s.asItIs()
	s.gatherOwned()
	return s, nil
}

// gatherOwned groups fitted modules in sockets, and drawer modules.
func (s *search) gatherOwned() {
	add := func(st module.Module, place string, fitted bool) {
		c := s.classOf(st, !fitted, "")
		if c.proof == rule.Refused && !fitted {
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
		v.rate, v.latency, v.lone = x.Grade.Rate, x.Latency, x.Total-x.Interleaved
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
			if c.proof == rule.Refused {
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
	count := make(map[int]int)
	for _, o := range offers {
		if o.MinOrder > 1 {
			kept = append(kept, o)
			continue
		}
		if units, stated := o.Quantity.Get(); count[o.Pieces] < sockets {
			kept = append(kept, o)
			if !stated {
				units = sockets
			}
			count[o.Pieces] += units
		}
	}
	return kept
}

// specifications are the modules that are ordinarily sold for the machine, where there
// is no price list: of the kind that is fitted, in the fastest of the usual grades that
// the machine can use. Each costs the same, and a little more the larger it is: of as
// many modules the smaller ones are cheaper; those that are hard to get come dear.
func (s *search) specifications() (offers []Offer) {
	g := s.limits.Generation.Or(jedec.GenerationUnknown)
	form := s.limits.Form.Or(jedec.FormUnknown)
	top := cmp.Or(s.judge.Ceiling(), s.fastestFitted())
	low := ""
	if allowed := s.limits.Supplies(); g == jedec.DDR3 && allowed.Len() > 0 && !allowed.Has(1500) {
		low = " 1.35 V" // elsewhere those of 1.35 V run at 1.5 V, too
	}
	kind := s.kindFitted()
	list := slices.DeleteFunc(onSale(g, form, top), func(x catalogue.Sold) bool {
		return x.Kind != kind || x.Width == 4 && !kind.Registered() || low != "" && !x.RunsLow()
	})
	var sizes []jedec.Capacity
	for _, sold := range list {
		if len(catalogue.Market(g, form)) == 0 { // which layout is the ordinary one nobody says
			offers = append(offers, s.specified(sold, top, low))
		} else if !slices.Contains(sizes, sold.Size) {
			sizes = append(sizes, sold.Size)
		}
	}
	for _, size := range sizes {
		offers = append(offers, s.specified(s.sent(list, size, top), top, low))
	}
	return offers
}

// sent is the module of a size that a shop sends for the machine: of those that are proved best the ordinary one, by
// the rate that serves the machine best; a DDR3 module of 1.35 V serves at 1.5 V, too.
func (s *search) sent(list []catalogue.Sold, size jedec.Capacity, top jedec.Rate) catalogue.Sold {
	better := func(a, b catalogue.Sold) int {
		first := func(is func(catalogue.Sold) bool) int {
			switch {
			case is(a) && !is(b):
				return -1
			case is(b) && !is(a):
				return 1
			}
			return 0
		}
		return cmp.Or(
			cmp.Compare(max(s.provedOf(a, a.At(top)), rule.Reduced), max(s.provedOf(b, b.At(top)), rule.Reduced)),
			first(func(x catalogue.Sold) bool { return x.At(top).Ordinary }), first(catalogue.Sold.RunsLow),
			cmp.Compare(min(b.At(top).Grade.Rate, cmp.Or(top, b.At(top).Grade.Rate)),
				min(a.At(top).Grade.Rate, cmp.Or(top, a.At(top).Grade.Rate))),
			cmp.Compare(a.At(top).Grade.Rate, b.At(top).Grade.Rate))
	}
	var best catalogue.Sold
	for _, x := range list {
		if x.Size == size && (best.Size == 0 || better(x, best) < 0) {
			best = x
		}
	}
	return best
}

// kindWords are what a shop's text says of a kind, shown and typed; where nothing is shown, a plain module is meant.
var kindWords = map[jedec.Kind][2]string{
	jedec.Unbuffered: {"", "non-ECC unbuffered"}, jedec.UnbufferedECC: {" ECC unbuffered", "ECC unbuffered"},
	jedec.RegisteredECC: {" ECC registered", "ECC registered"}, jedec.LoadReduced: {" load-reduced", "LRDIMM"},
	jedec.Clocked: {" with clock driver", "CUDIMM"}, jedec.ClockedECC: {" ECC with clock driver", "ECC CUDIMM"},
	jedec.FullyBuffered: {"", "FB-DIMM"},
}

// asSold is a module of the market in one of its grades.
func asSold(sold catalogue.Sold, x catalogue.SoldGrade) module.Module {
	return module.Ordinary(sold.Form, sold.Kind, sold.Size, jedec.Layout{Ranks: sold.Ranks, Width: sold.Width},
		sold.DensityMbit, x.Grade, x.CL, sold.Supplies())
}

// provedOf is what the rules about a single module say of one of the market.
func (s *search) provedOf(sold catalogue.Sold, x catalogue.SoldGrade) rule.Outcome {
	st := asSold(sold, x)
	return s.alone(&st, true)
}

// specified makes an offer of a module of the market. Layouts that a shop may send instead and that the machine does
// not take are named.
func (s *search) specified(sold catalogue.Sold, top jedec.Rate, low string) Offer {
	x := sold.At(top)
	st := asSold(sold, x)
	layout := ""
	if sold.Ranks > 0 {
		layout = fmt.Sprintf(" %dRx%d", sold.Ranks, sold.Width)
	}
	words := kindWords[sold.Kind]
	text := fmt.Sprintf("%v %v %v%s%s%s", sold.Size, x.Grade, sold.Form, layout, words[0], low)
	// What a shop's text would say, so that the plan can be read again.
	form := sold.Form.String() + " "
	if sold.Kind == jedec.LoadReduced || sold.Kind == jedec.Clocked || sold.Kind == jedec.FullyBuffered {
		form = map[bool]string{true: "SO-DIMM "}[sold.Form == jedec.SODIMM]
	}
	st.From = fmt.Sprintf("%v%s %v %s%s%s", sold.Size, layout, x.Grade, form, words[1], strings.ReplaceAll(low, " V", "V"))
	if x.CL > 0 {
		st.From += fmt.Sprintf(" CL%v", x.CL)
	}
	price := perModule + stock.Money(sold.Size/jedec.GiB)
	if sold.Width == 16 {
		price++ // of two of a size the one with all its banks
	}
	var not []string
	for _, o := range sold.Others(x.Grade.Rate) {
		if o.CommonAt(x.Grade.Rate) != catalogue.Rare && s.provedOf(o, x) == rule.Refused {
			not = append(not, fmt.Sprintf("%dRx%d", o.Ranks, o.Width))
		}
	}
	if len(not) > 0 {
		text += ", not " + strings.Join(not, " or ")
	}
	if sold.Rare() {
		price += 3 * perModule
		text += ", hard to find"
	}
	return Offer{Text: text, Stick: &st, Pieces: 1, Price: price, MinOrder: 1, Rare: sold.Rare()}
}

// onSale are the modules that the market's table has; where it has none of the kind, the
// sizes of the standard in the layouts that its dies make, at the highest rate in use.
func onSale(g jedec.Generation, form jedec.Form, top jedec.Rate) []catalogue.Sold {
	if list := catalogue.Market(g, form); len(list) > 0 {
		return list
	}
	var list []catalogue.Sold
	grades := jedec.Grades(g)
	x := grades[0]
	for _, grade := range grades {
		if grade.Rate <= top {
			x = grade
		}
	}
	var cl jedec.Latency
	if bins := jedec.Bins(x); len(bins) > 0 {
		cl = bins[len(bins)-1].Timing.CL
	}
	for _, size := range jedec.ModuleSizes(g) {
		for _, ranks := range []int{1, 2} {
			if mbit := int(size/jedec.MiB) / ranks; slices.Contains(g.Trait().Densities, mbit) {
				list = append(list, catalogue.Sold{Generation: g, Form: form, Kind: jedec.Unbuffered, Size: size,
					Ranks: ranks, Width: 8, DensityMbit: mbit, MilliVolts: g.Trait().MilliVolts[:1],
					Grades: []catalogue.SoldGrade{{Grade: x, CL: cl, Ordinary: true}}})
			}
		}
	}
	return list
}

// kindFitted is the kind of the modules in sockets, where they all are of it and one
// says so: a machine keeps its check bits and its registers.
func (s *search) kindFitted() jedec.Kind {
	var kinds []jedec.Kind
	for _, o := range s.owned {
		if o.fitted {
			kinds = append(kinds, o.stick.BuiltAs())
		}
	}
	if len(kinds) == 0 || slices.ContainsFunc(kinds, func(k jedec.Kind) bool { return k != kinds[0] }) {
		return jedec.Unbuffered
	}
	return kinds[0]
}

// perModule is what a module counts where there are no prices.
const perModule stock.Money = 1_000_000

// fastestFitted is the rated speed of the fastest fitted module, the first
// grade where none tells.
func (s *search) fastestFitted() (rate jedec.Rate) {
	for _, o := range s.owned {
		rate = max(rate, o.rate)
	}
	return rate
}

// oddness is 1 where modules can't be dealt to the channels so that each holds the same
// sizes: a technician buys pairs, and threes on three channels.
func (s *search) oddness(kinds []trial.PlaceKind) int { return oddness(kinds, s.channels) }

func oddness(kinds []trial.PlaceKind, channels int) int {
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
		if first && n%channels != 0 {
			return 1
		}
	}
	return 0
}
