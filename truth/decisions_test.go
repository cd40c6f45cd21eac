package truth_test

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/bench"
	"epitome/core/catalogue"
	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/need"
	"epitome/core/propose"
	"epitome/core/records"
	"epitome/core/rule"
	"epitome/core/trial"
	"epitome/truth"
	"epitome/truth/effort"
)

// A removal is one fact taken out of what is known of a machine, and the values that it may have.
type removal struct {
	name   string
	values []func(*machine.Machine)
	out    func(*machine.Machine)
}

// with changes a copy of a machine, places and modules copied too.
func with(m machine.Machine, change func(*machine.Machine)) machine.Machine {
	m.Places = slices.Clone(m.Places)
	for i := range m.Places {
		if m.Places[i].Module != nil {
			one := *m.Places[i].Module
			m.Places[i].Module = &one
		}
	}
	change(&m)
	return m
}

// removals are the facts of a machine that can be taken out, with every value that each may have.
func removals(m machine.Machine, channels int) (list []removal) {
	ofPlace := func(name string, i int, out func(*machine.Place), values ...func(*machine.Place)) {
		r := removal{name: fmt.Sprintf("%s of %s", name, m.Places[i].Name),
			out: func(m *machine.Machine) { out(&m.Places[i]) }}
		for _, set := range values {
			r.values = append(r.values, func(m *machine.Machine) { set(&m.Places[i]) })
		}
		list = append(list, r)
	}
	sockets := true
	for i, p := range m.Places {
		sockets = sockets && p.Attach.Or("") == machine.Socket
		if p.Module == nil || p.Attach.Or("") != machine.Socket {
			continue
		}
		if p.Module.Ranks.Known() && p.Module.Generation.Or(0) != jedec.DDR5 {
			ranks := func(n int) func(*machine.Place) {
				return func(p *machine.Place) { p.Module.Ranks = fact.Known(n) }
			}
			ofPlace("ranks", i, func(p *machine.Place) { p.Module.Ranks = fact.Fact[int]{} }, ranks(1), ranks(2))
		}
		if running, ok := p.Running.Get(); ok {
			var rated []func(*machine.Place)
			for _, x := range jedec.Grades(p.Module.Generation.Or(0)) {
				if x.Rate >= running {
					rated = append(rated, func(p *machine.Place) { p.Module.Rated = fact.Known(x.Rate) })
				}
			}
			ofPlace("rated", i, func(p *machine.Place) { p.Module.Rated = fact.Fact[jedec.Rate]{} }, rated...)
		}
		name := func(text string) func(*machine.Place) {
			return func(p *machine.Place) { p.Module.Maker, p.Module.Part = fact.Known(text), fact.Known(text+"-1") }
		}
		nobody := func(p *machine.Place) { p.Module.Maker, p.Module.Part = fact.Fact[string]{}, fact.Fact[string]{} }
		ofPlace("maker", i, nobody, name("Marram"), name("Norvik"))
	}
	system := removal{name: "the system", out: func(m *machine.Machine) { m.OS = fact.Fact[string]{} }}
	for _, name := range []string{"Linux 64-bit", "Windows 10 Pro 64-bit", "Windows 11 Home 64-bit"} {
		system.values = append(system.values, func(m *machine.Machine) { m.OS = fact.Known(name) })
	}
	list = append(list, system)
	if sockets && len(m.Places) <= 4 {
		list = append(list, wirings(m, channels))
	}
	return list
}

// wirings are all the ways of wiring the places to so many channels alike.
func wirings(m machine.Machine, channels int) removal {
	r := removal{name: "the channels of all places", out: func(m *machine.Machine) {
		for i := range m.Places {
			m.Places[i].Channel = fact.Fact[string]{}
		}
	}}
	each := len(m.Places) / channels
	var wire func(so []string)
	wire = func(so []string) {
		if len(so) == len(m.Places) {
			r.values = append(r.values, func(m *machine.Machine) {
				for i, c := range so {
					m.Places[i].Channel = fact.Known(c)
				}
			})
			return
		}
		for c := range channels {
			name, n := string(rune('A'+c)), 0
			for _, o := range so {
				n += map[bool]int{true: 1}[o == name]
			}
			if n < each {
				wire(append(slices.Clone(so), name))
			}
		}
	}
	wire(nil)
	return r
}

// What does not matter never blocks: where every value of a fact gives one decision, taking the fact out of what is
// known changes nothing, neither what is bought nor whether it runs.
func TestWhatDoesNotMatterNeverBlocks(t *testing.T) {
	asked, alike := 0, 0
	for seed := range uint64(effort.Cases(80)) {
		s := situationOf(seed)
		teller := truth.Tellers[seed%uint64(len(truth.Tellers))]
		base := s.ask(t, teller.Tell(s.m))
		for _, r := range removals(base.m, s.m.Processor.Channels) {
			buys, worst, one := "", rule.Works, true
			for i, set := range r.values {
				a := s.decide(t, with(base.m, set))
				if one = a.first != nil && (i == 0 || buys == a.buys()); !one {
					break
				}
				buys, worst = a.buys(), max(worst, a.verdict)
			}
			if asked++; !one {
				continue
			}
			alike++
			a := s.decide(t, with(base.m, r.out))
			assert.Equal(t, buys, a.buys(), "%s: whatever it is", r.name)
			runs := func(v rule.Verdict) bool { return rule.Outcome(v).Runs() }
			assert.Equal(t, runs(worst), runs(a.verdict), "%s: how sure it is", r.name)
		}
		if t.Failed() {
			t.Fatalf("%s, told by %s", s, teller.Name)
		}
	}
	assert.Greater(t, alike, asked/2)
}

// A look is offered only where what it may find leads to another purchase or another verdict.
func TestEveryLookDecides(t *testing.T) {
	looked := 0
	for seed := range uint64(effort.Cases(200)) {
		s := situationOf(seed)
		for _, teller := range truth.Tellers {
			b := bench.New(teller.Tell(s.m), catalogue.Catalogue{})
			sitting := bench.Sitting{Goal: propose.Goal{Reach: maybe.Just(s.goal), Offers: s.offers(t)}, Policy: need.BuiltIn()}
			v := b.Visit(sitting, nil)
			assert.LessOrEqual(t, len(v.Looks), 3)
			for _, l := range v.Looks {
				about, asks := strings.CutPrefix(l.About, "whether ")
				about, _, of := strings.Cut(about, " is a socket")
				if !asks || !of {
					continue
				}
				looked++
				found := make(map[string]bool)
				for _, as := range []string{"socket", "soldered"} {
					h := records.Hand{Version: 1}
					require.NoError(t, h.Observe("attach", about, as))
					then, err := b.Assuming(h)
					require.NoError(t, err)
					found[decision(then.Visit(sitting, nil))] = true
				}
				assert.Len(t, found, 2, "%s, told by %s: %s tells nothing", s, teller.Name, l.Settles)
			}
		}
	}
	assert.Positive(t, looked)
}

// decision is what a visit leads to: what is bought first, and how sure that is.
func decision(v bench.Visit) string {
	if len(v.Choices) == 0 {
		return fmt.Sprint("nothing: ", v.Because())
	}
	p, err := bench.Find(v.Proposals, v.Choices[0].Number)
	if err != nil {
		return err.Error()
	}
	return fmt.Sprint(p.Buys, rule.Outcome(p.Trial.Verdict).Runs(), p.Trial.Verdict)
}

// How far a machine goes is one answer: --for says yes of a size exactly where something is proposed for it, and
// exactly up to the maximum that the first line names; a trial of what is proposed agrees; and of a larger size nothing
// better is said than of a smaller one.
func TestHowFarIsOneAnswer(t *testing.T) {
	yes, no := 0, 0
	for seed := range uint64(effort.Cases(120)) {
		s := situationOf(seed)
		teller := truth.Tellers[seed%uint64(len(truth.Tellers))]
		b := bench.New(teller.Tell(s.m), catalogue.Catalogue{})
		before := rule.Works
		maximum, known := b.Farthest().Size.Get()
		system, limited := b.Ceilings().Bound(ceiling.OSCapacity)
		for _, gib := range []jedec.Capacity{2, 4, 8, 12, 16, 24, 32, 48, 64, 96, 128, 256} {
			size := gib * jedec.GiB
			g := b.MayReach(size)
			assert.GreaterOrEqual(t, max(g.Verdict, rule.RunsLess), max(before, rule.RunsLess), "%s: %v GB: %s", s, gib, g.Says)
			before = g.Verdict
			r, err := b.Propose(propose.Goal{Reach: maybe.Just(size)}, nil)
			reached := errors.Is(err, propose.ErrReached) || len(r.Proposals) > 0
			assert.Equal(t, reached, g.Verdict <= rule.Leans, "%s: %v GB: %s", s, gib, g.Says)
			if known && len(r.Structures) == 0 && !(limited && size > system.Most.Capacity()) {
				assert.Equal(t, size <= maximum, g.Verdict <= rule.Leans, "%s: the maximum is %v; %v GB: %s", s, maximum, gib,
					g.Says)
				if yes++; size > maximum {
					yes, no = yes-1, no+1
				}
			}
			if len(r.Proposals) > 0 && len(r.Structures) == 0 {
				again, err := b.Try(tried(r.Proposals[0]))
				require.NoError(t, err)
				assert.LessOrEqual(t, again.Verdict, rule.Leans, "%s: %v GB", s, gib)
				assert.Equal(t, r.Proposals[0].Trial.Total, again.Total, "%s: %v GB", s, gib)
			}
		}
		if t.Failed() {
			t.Fatalf("%s, told by %s", s, teller.Name)
		}
	}
	assert.Greater(t, min(yes, no), 30, "sizes within the maximum, and beyond it")
}

// tried is a proposal as a trial of its sticks, each wherever it goes.
func tried(p propose.Proposal) (plan trial.Plan) {
	for _, x := range p.Buys {
		for range x.Units * x.Pieces {
			plan.Sticks = append(plan.Sticks, *x.Stick)
		}
	}
	for _, x := range p.Removes {
		plan.Pull = append(plan.Pull, x.Place)
	}
	return plan
}
