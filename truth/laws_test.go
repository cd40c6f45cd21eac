package truth_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/evidence"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/propose"
	"epitome/core/reading"
	"epitome/core/recheck"
	"epitome/core/records"
	"epitome/core/redact"
	"epitome/core/rule"
	"epitome/core/stock"
	"epitome/truth"
	"epitome/truth/effort"
)

// The laws of evidence (the answer never depends on how the truth is told), as properties over machines by chance.

// A situation is a machine by chance, with a list and a goal.
type situation struct {
	seed  uint64
	m     truth.Machine
	lines []truth.Line
	goal  jedec.Capacity
	rnd   *rand.Rand
}

func situationOf(seed uint64) situation {
	r := rand.New(rand.NewPCG(seed, 36))
	s := situation{seed: seed, m: truth.Chance(r), rnd: r}
	for len(s.lines) == 0 {
		s.lines = s.m.List(r)
	}
	s.goal = (s.m.Total() + 2*jedec.GiB<<r.IntN(3)) / jedec.GiB * jedec.GiB
	return s
}

func (s situation) String() string {
	return fmt.Sprintf("machine %d, goal %v: %+v", s.seed, s.goal, s.m)
}

// An answer is what the program makes of a card.
type answer struct {
	card    card.Card
	m       machine.Machine
	result  propose.Result
	first   *propose.Proposal // the first one that runs, likely at the least
	verdict rule.Verdict
}

func (a answer) buys() string {
	if a.first == nil {
		return "nothing"
	}
	var out []string
	for _, b := range a.first.Buys {
		out = append(out, fmt.Sprint(b.Units, " × ", b.SKU))
	}
	slices.Sort(out)
	return strings.Join(out, ", ")
}

func (s situation) ask(t *testing.T, c card.Card) answer {
	t.Helper()
	a := s.decide(t, evidence.Weigh(reading.Of(c), catalogue.Catalogue{}))
	a.card = c
	return a
}

// offers is the list as it is searched.
func (s situation) offers(t *testing.T) []propose.Offer {
	t.Helper()
	var offers []propose.Offer
	for i, l := range s.lines {
		x, err := module.Parse(l.Text())
		require.NoError(t, err, l.Text())
		offers = append(offers, propose.Offer{Number: i + 1, SKU: l.SKU, Text: l.Text(), Stick: &x, Pieces: 1, MinOrder: 1,
			Price: stock.Money(l.Cents), Quantity: maybe.Just(l.Pieces)})
	}
	return offers
}

// decide is what is proposed for a machine.
func (s situation) decide(t *testing.T, m machine.Machine) answer {
	t.Helper()
	a := answer{m: m}
	var err error
	a.result, err = propose.Search(a.m, ceiling.Of(a.m, catalogue.Catalogue{}), propose.Goal{Reach: maybe.Just(s.goal),
		Offers: s.offers(t)}, nil)
	if err == nil && len(a.result.Proposals) > 0 {
		a.first, a.verdict = &a.result.Proposals[0], a.result.Proposals[0].Trial.Verdict
	}
	return a
}

// everyMachine asks a law of machines by chance, told in each way.
func everyMachine(t *testing.T, all int, law func(t *testing.T, s situation, teller truth.Teller, base answer)) {
	answered := 0
	for seed := range uint64(effort.Cases(all)) {
		s := situationOf(seed)
		for _, teller := range append(slices.Clone(truth.Tellers), truth.Liars[int(seed)%len(truth.Liars)]) {
			base := s.ask(t, teller.Tell(s.m))
			if base.first != nil {
				answered++
			}
			law(t, s, teller, base)
			if t.Failed() {
				t.Logf("%s, told by %s", s, teller.Name)
				return
			}
		}
	}
	assert.Greater(t, answered, effort.Cases(all)/2, "a law of answers wants answers")
}

// same holds two answers to one question against each other.
func same(t *testing.T, want, got answer, why string) {
	t.Helper()
	assert.Equal(t, want.m.Totals.Installed.Or(0), got.m.Totals.Installed.Or(0), "%s: what is fitted", why)
	assert.Equal(t, want.m.Totals.Sockets.Or(-1), got.m.Totals.Sockets.Or(-1), "%s: sockets", why)
	assert.Equal(t, len(want.m.Places), len(got.m.Places), "%s: places", why)
	assert.Equal(t, want.buys(), got.buys(), "%s: the first choice", why)
	assert.Equal(t, want.verdict, got.verdict, "%s: how sure it is", why)
}

// A reading given twice says nothing new, whatever its file is called, and two kinds of reading of one machine are of
// one machine.
func TestSameToldTwice(t *testing.T) {
	everyMachine(t, 36, func(t *testing.T, s situation, teller truth.Teller, base answer) {
		twice := base.card
		for _, r := range base.card.Readings {
			r.Source = "copy of " + r.Source
			twice.Readings = append(slices.Clone(twice.Readings), r)
		}
		same(t, base, s.ask(t, twice), "told twice")
		if strings.HasPrefix(teller.Name, "firmware tables") {
			also := base.card
			also.Readings = append(slices.Clone(also.Readings), s.m.Export().Readings...)
			got := s.ask(t, also)
			assert.Equal(t, base.m.Totals.Installed.Or(0), got.m.Totals.Installed.Or(0), "an export beside it is not added up")
			assert.Len(t, got.m.Places, len(base.m.Places), "an export beside it lists the same places")
		}
	})
}

// Evidence is a set: its order says nothing.
func TestOrderOfEvidence(t *testing.T) {
	everyMachine(t, 28, func(t *testing.T, s situation, _ truth.Teller, base answer) {
		c := base.card
		c.Readings = slices.Clone(c.Readings)
		s.rnd.Shuffle(len(c.Readings), func(i, j int) { c.Readings[i], c.Readings[j] = c.Readings[j], c.Readings[i] })
		same(t, base, s.ask(t, c), "in another order")
	})
}

// placesIn finds the places of a machine in the truth: by their names, and the announced ones among the free ones.
func (s situation) placesIn(m machine.Machine) map[string]int {
	found := make(map[string]int)
	taken := make(map[int]bool)
	pair := func(name string, i int) { found[name], taken[i] = i, true }
	names := s.m.Names()
	for _, p := range m.Places {
		for i := range s.m.Places {
			if !taken[i] && !p.Announced && (p.Called(names[i]) || p.Called(s.m.Places[i].Locator)) {
				pair(p.Name, i)
				break
			}
		}
	}
	for _, sure := range []bool{true, false} {
		for _, p := range m.Places {
			if _, has := found[p.Name]; has {
				continue
			}
			for i, x := range s.m.Places {
				if !taken[i] && x.Holds == nil && (!sure || p.Channel.Or("") == x.Channel) {
					pair(p.Name, i)
					break
				}
			}
		}
	}
	return found
}

// seen makes a reading of observations.
func seen(t *testing.T, source string, facts ...[3]string) card.Reading {
	t.Helper()
	h := records.Hand{Version: 1, By: "Jory", Source: source}
	for _, f := range facts {
		require.NoError(t, h.Observe(f[0], f[1], f[2]), f)
	}
	data, err := h.Encode()
	require.NoError(t, err)
	return card.Reading{Kind: card.Hand, Source: "observed", Data: data}
}

// observations are true statements about a machine, in the words in which its places are called.
func (s situation) observations(m machine.Machine) (list [][3]string) {
	list = append(list, [3]string{"processor", "", s.m.Processor.Brand}, [3]string{"system", "", s.m.System},
		[3]string{"sockets", "", fmt.Sprint(len(s.m.Sockets()))})
	for name, i := range s.placesIn(m) {
		p := s.m.Places[i]
		attach := map[bool]string{true: "soldered", false: "socket"}[p.Soldered]
		list = append(list, [3]string{"attach", name, attach})
		if !p.Soldered {
			list = append(list, [3]string{"form", name, map[bool]string{true: "DIMM", false: "SO-DIMM"}[s.m.Desktop]})
			holds := "free"
			if p.Holds != nil {
				holds = p.Holds.Label()
			}
			list = append(list, [3]string{"holds", name, holds})
		}
	}
	slices.SortFunc(list, func(a, b [3]string) int { return strings.Compare(fmt.Sprint(a), fmt.Sprint(b)) })
	return list
}

// poorer says how an answer is poorer than the one before.
func poorer(before, after answer) string {
	known := func(m machine.Machine) (list []string) {
		for name, ok := range map[string]bool{"processor": m.Processor.Known(), "system": m.OS.Known(),
			"installed": m.Totals.Installed.Known(), "sockets": m.Totals.Sockets.Known(),
			"maximum": m.Totals.StatedMaximum.Known(), "model": m.Model.Known()} {
			if ok {
				list = append(list, name)
			}
		}
		return list
	}
	now := known(after.m)
	for _, name := range known(before.m) {
		if !slices.Contains(now, name) {
			return name + " is no longer known"
		}
	}
	switch {
	case before.first != nil && after.first == nil:
		return "the answer is lost: " + before.buys()
	case before.first != nil && after.verdict > before.verdict && after.first.Cost >= before.first.Cost:
		return fmt.Sprintf("%s, %v, was %s, %v", after.buys(), after.verdict, before.buys(), before.verdict)
	case len(after.m.Places) < len(before.m.Places):
		return "a place is lost"
	}
	return ""
}

// One more true statement never makes an answer poorer, nor does a set of them.
func TestMoreIsNeverPoorer(t *testing.T) {
	everyMachine(t, 20, func(t *testing.T, s situation, _ truth.Teller, base answer) {
		all := s.observations(base.m)
		sets := make([][][3]string, 0, len(all)+3)
		for _, one := range all {
			sets = append(sets, [][3]string{one})
		}
		for range 3 {
			some := slices.Clone(all)
			s.rnd.Shuffle(len(some), func(i, j int) { some[i], some[j] = some[j], some[i] })
			sets = append(sets, some[:1+s.rnd.IntN(len(some))])
		}
		for _, set := range sets {
			c := base.card
			c.Readings = append(slices.Clone(c.Readings), seen(t, "sight", set...))
			assert.Empty(t, poorer(base, s.ask(t, c)), "%v", set)
			if t.Failed() {
				return
			}
		}
	})
}

// buffered reports whether it is known how each fitted module is buffered: of one with check bits, whether it has a
// register, firmware's tables need not say, and a stick beside it is not sure then.
func buffered(m machine.Machine) bool {
	return !slices.ContainsFunc(m.Places, func(p machine.Place) bool {
		return p.Module != nil && p.Module.ECC.Or(false) && !p.Module.Registered.Known()
	})
}

// Of one machine, one list and one goal there is one best choice: two tellers that are certain put it first, at the
// same cost.
func TestSameMachineOtherForm(t *testing.T) {
	certain := 0
	for seed := range uint64(effort.Cases(64)) {
		s := situationOf(seed)
		var first *answer
		for _, teller := range truth.Tellers {
			a := s.ask(t, teller.Tell(s.m))
			if a.first == nil || a.verdict != rule.Works && a.verdict != rule.RunsLess ||
				a.m.Totals.Sockets.Standing() != fact.Settled || !buffered(a.m) {
				continue
			}
			if first == nil {
				first = &a
				continue
			}
			certain++
			assert.Equal(t, first.first.Cost, a.first.Cost, "%s, told by %s: %s, not %s", s, teller.Name, a.buys(), first.buys())
		}
		if t.Failed() {
			return
		}
	}
	if effort.Full() {
		assert.Positive(t, certain)
	}
}

// What was fitted as proposed is found as predicted, told by the same source; what was left out is noticed.
func TestFittedAsProposed(t *testing.T) {
	everyMachine(t, 44, func(t *testing.T, s situation, teller truth.Teller, base answer) {
		if base.first == nil {
			return
		}
		at := s.placesIn(base.m)
		fitted := s.m
		for i, p := range s.m.Places {
			if !p.Soldered {
				fitted = fitted.With(i, nil)
			}
		}
		last := -1
		for n, seat := range base.first.Trial.Seats {
			i, ok := at[seat.Place]
			require.True(t, ok, seat.Place)
			switch {
			case seat.New:
				bought := slices.IndexFunc(s.lines, func(l truth.Line) bool { return l.Text() == seat.Stick.From })
				require.GreaterOrEqual(t, bought, 0, "%q of %s is on the list", seat.Stick.From, base.buys())
				l := s.lines[bought]
				l.Module.Serie = fmt.Sprintf("5EAF%04X", n)
				fitted, last = fitted.With(i, &l.Module), i
			case seat.From != "":
				fitted = fitted.With(i, s.m.Places[at[seat.From]].Holds)
			case !s.m.Places[i].Soldered:
				fitted = fitted.With(i, s.m.Places[i].Holds)
			}
		}
		after := evidence.Weigh(reading.Of(teller.Tell(fitted)), catalogue.Catalogue{})
		r := recheck.Compare(base.m, base.first.Trial, after)
		assert.True(t, r.Fine(), "%s: %+v", base.buys(), r.Differences)
		without := evidence.Weigh(reading.Of(teller.Tell(fitted.With(last, nil))), catalogue.Catalogue{})
		missed := recheck.Compare(base.m, base.first.Trial, without)
		assert.False(t, missed.Told() && missed.Fine(), "what was not fitted is noticed")
	})
}

// Trade marks, a clock, graphics, letters and blanks are how a name is written, not what it names.
func TestNamesOfProcessors(t *testing.T) {
	for seed := range uint64(effort.Cases(40)) {
		s := situationOf(seed)
		base := s.ask(t, s.m.Form())
		brand := s.m.Processor.Brand
		bare, _, _ := strings.Cut(strings.NewReplacer("(R)", "", "(TM)", "", " CPU", "").Replace(brand), " @")
		bare, _, _ = strings.Cut(bare, " with ")
		for _, way := range []string{strings.NewReplacer("(R)", "®", "(TM)", "™").Replace(brand), strings.ToUpper(brand),
			strings.ToLower(brand), strings.Join(strings.Fields(bare), " "), strings.ReplaceAll(brand, " ", "  ")} {
			other := s.m
			other.Processor.Brand = way
			same(t, base, s.ask(t, other.Form()), way)
		}
		if t.Failed() {
			t.Log(s)
			return
		}
	}
}

// A copy that leaves the shop decides alike.
func TestSharedCopyDecidesAlike(t *testing.T) {
	everyMachine(t, 24, func(t *testing.T, s situation, _ truth.Teller, base answer) {
		shared, _ := redact.Card(base.card)
		same(t, base, s.ask(t, shared), "the shared copy")
	})
}
