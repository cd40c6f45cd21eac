package propose

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/ceiling"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/rule"
	"epitome/core/stock"
	"epitome/core/trial"
	"epitome/truth"
	"epitome/truth/effort"
)

// A rig is a machine of which everything is known, unless a test takes a figure away.
type rig = truth.Rig

// tower is a tower into which somebody looked: its processor's figures, its places, its system.
func tower(takes string, places []string, system string) rig {
	return rig{Takes: takes, Places: places, Seen: "DIMM", Form: 9, Chassis: 3, System: system, MaximumMiB: 1 << 20}
}

const figures = "generation: DDR4, channels: 2, slots_per_channel: 2, rate: 2666, rate_dual_rank: 2400, " +
	"rate_two_modules: 2133, rate_two_dual_rank: 1866, maximum: 64GB, largest_die: 8Gbit, x4: no, x16: yes, ecc: " +
	"none, volts: 1.2"

func known(t testing.TB, text string) module.Module {
	t.Helper()
	s, err := module.Parse(text)
	require.NoError(t, err, text)
	return s
}

var labels = []string{"4GB 1Rx8 PC4-2133P-UA2-11", "4GB 1Rx16 PC4-2400T-UC0-11", "8GB 1Rx8 PC4-2400T-UA2-11",
	"8GB 2Rx8 PC4-2400R-UB1-11", "8GB 1Rx8 PC4-2666V-UA2-11",
	"16GB 2Rx8 PC4-2400T-UA2-11", "16GB 2Rx8 PC4-2666V-UA2-11", "8GB 1Rx8 PC4-3200AA-UA2-11",
	"16GB 1Rx8 PC4-3200AA-UA2-11", "8GB PC4-2400T-UA2-11", "8GB 1Rx8 PC4-2400T-EA1-11", "4GB 1Rx8 PC3L-12800U-11-13-B4",
	"8GB DDR4-2400 DIMM", "16GB DDR4-2400", "8GB 1Rx8 DDR4-2666 DIMM non-ECC CL19", "16GB 2Rx4 PC4-2400T-RA1-11"}

// plainly enumerates: every subset of what is fitted, every number of units of
// every offer, each tried whole.
func plainly(t testing.TB, m machine.Machine, l ceiling.Limits, g Goal) (found []vector) {
	t.Helper()
	var fitted []trial.Put
	for _, seat := range trial.Fitted(m) {
		fitted = append(fitted, trial.Put{Place: seat.Place, Stick: seat.Stick})
	}
	ref, err := survey(m, l, g)
	require.NoError(t, err)
	worths := make(map[string]stock.Money) // of what sits in a place
	for _, o := range ref.owned {
		for _, x := range o.members {
			worths[x.Place] = o.worth
		}
	}
	sockets := len(m.Places)
	units := make([]int, len(g.Offers))
	var each func(i, room int, try func())
	each = func(i, room int, try func()) {
		if i == len(g.Offers) {
			try()
			return
		}
		o := g.Offers[i]
		for u := 0; u*o.Pieces <= room; u++ {
			if n, stated := o.Quantity.Get(); stated && u > n || u > 0 && u < o.MinOrder ||
				u > 0 && (g.OnlyNew && o.Condition != stock.New || g.InStock && !stated) {
				continue
			}
			units[i] = u
			each(i+1, room-u*o.Pieces, try)
		}
		units[i] = 0
	}
	for subset := range 1 << len(fitted) {
		var plan trial.Plan
		kept, waste := 0, stock.Money(0)
		for i, f := range fitted {
			if subset>>i&1 == 1 {
				plan.Moved = append(plan.Moved, f)
				kept++
			} else {
				plan.Pull = append(plan.Pull, f.Place)
				waste += worths[f.Place]
			}
		}
		gone := len(fitted) - kept
		if limit, ok := g.Discard.Get(); ok && gone > limit {
			continue
		}
		each(0, sockets-kept, func() {
			p := plan
			cost := stock.Money(-gone) * g.TradeIn
			kinds := make(map[trial.PlaceKind]bool)
			bought, ones, used := 0, 0, 0
			for i, u := range units {
				o := g.Offers[i]
				cost += stock.Money(u) * o.Price
				if ones += u; u > 0 && o.worn() {
					used = 1
				}
				for range u * o.Pieces {
					p.Sticks = append(p.Sticks, *o.Stick)
					kinds[trial.KindOf(*o.Stick)] = true
					bought++
				}
			}
			if len(kinds) > maxKinds || g.OneKit && ones > 1 || bought == 0 && gone == 0 {
				return
			}
			if spend, ok := g.Spend.Get(); ok && bought > 0 && cost > spend {
				return
			}
			got, err := trial.Run(m, l, p)
			if err != nil || rule.Outcome(got.Verdict).Against() || got.Total < max(g.Reach.Or(0), got.Was) || got.Total == 0 {
				return
			}
			now := vector{total: got.Was, lone: got.Was, free: sockets - len(fitted), proof: rule.OK}
			if point, ok := got.Before.Get(); ok {
				now.rate, now.latency, now.lone = point.Grade.Rate, point.Latency, point.Total-point.Interleaved
			}
			v := vector{
				cost:  cost,
				total: got.Total,
				free:  len(got.Free),
				gone:  gone,
				proof: rule.Outcome(got.Verdict).Classed(),
				sure:  got.Apart(m).Classed(),
				waste: waste, used: used,
			}
			if ref.corrects && slices.ContainsFunc(got.Seats, func(x trial.Seat) bool { return !checks(&x.Stick) }) {
				v.checks = 1
			}
			for _, reason := range got.Reasons {
				if reason.Rule == "ecc" && reason.Outcome == rule.Reduced {
					v.unlike = 1 // what they cost each other shows in no other figure
				}
			}
			v.odd, now.odd = oddSeats(m, got.Seats), oddSeats(m, trial.Fitted(m))
			if point, ok := got.Operating.Get(); ok {
				v.rate, v.lone = point.Grade.Rate, point.Total-point.Interleaved
				v.latency = point.Latency
			}
			if !now.beats(v) {
				found = append(found, v)
			}
		})
	}
	return found
}

// oddSeats is the memory on modules that have no equal on each other channel, by counting.
func oddSeats(m machine.Machine, seats []trial.Seat) (odd jedec.Capacity) {
	channels, sockets := make(map[string]bool), 0
	for _, p := range m.Places {
		switch {
		case p.Attach.Or("") != machine.Socket || !p.Channel.Known():
			return 0
		default:
			channels[p.Channel.Or("")], sockets = true, sockets+1
		}
	}
	if len(channels) < 2 || sockets <= len(channels) || len(seats) < 2 {
		return 0
	}
	sizes := make(map[jedec.Capacity]int)
	for _, seat := range seats {
		sizes[seat.Stick.Capacity.Or(0)]++
	}
	for size, n := range sizes {
		odd += size * jedec.Capacity(n%len(channels))
	}
	return odd
}

// unbeaten keeps what no other beats, each worth once, as text.
func unbeaten(all []vector) (out []string) {
	for i, v := range all {
		beaten := false
		for j, o := range all {
			if i != j && o.beats(v) && (!v.beats(o) || j < i) {
				beaten = true
				break
			}
		}
		if !beaten {
			out = append(out, worth(v))
		}
	}
	slices.Sort(out)
	return out
}

func worth(v vector) string {
	return fmt.Sprintf("%v for %v at %v %v, %v alone, %d free, %d gone, %v, unlike %d, odd %v, waste %v, checks %d, "+
		"used %d", v.total, v.cost, v.rate, v.latency, v.lone, v.free, v.gone, v.proof, v.unlike, v.odd, v.waste, v.checks,
		v.used)
}

func randomCase(r *rand.Rand) (rig, Goal) {
	pick := func(n int) int { return r.IntN(n) }
	machine := tower(figures, nil, "Windows 10 Pro 64-bit")
	switch pick(6) {
	case 0:
		machine.Takes = strings.Replace(machine.Takes, "rate_two_modules: 2133, ", "", 1) // not published
	case 1:
		machine.Takes = strings.Replace(machine.Takes, "maximum: 64GB", "maximum: 24GB", 1)
	case 2:
		machine.Takes = strings.Replace(machine.Takes, "largest_die: 8Gbit, ", "", 1)
	case 3:
		machine.Takes += fmt.Sprintf(", ranks_per_channel: %d", 2+pick(2))
	}
	for _, name := range [][]string{{"A1 A", "B1 B"}, {"A1 A", "A2 A", "B1 B"},
		{"A1 A", "A2 A", "B1 B", "B2 B"}}[pick(3)] {
		if pick(2) == 0 {
			name += "|" + labels[pick(8)]
		}
		machine.Places = append(machine.Places, name)
	}
	var g Goal
	if pick(5) > 0 {
		g.Reach = maybe.Just(jedec.Capacity(4<<pick(4)) * jedec.GiB)
	}
	if pick(3) == 0 || !g.Reach.Known() {
		g.Spend = maybe.Just(stock.Money(2000 + 100*pick(120)))
	}
	if pick(4) == 0 {
		g.Discard = maybe.Just(pick(2))
	}
	if pick(4) == 0 {
		g.TradeIn = stock.Money(100 * pick(10))
	}
	g.OneKit, g.OnlyNew, g.InStock = pick(6) == 0, pick(6) == 0, pick(6) == 0
	for i := range 1 + pick(4) {
		text := labels[pick(len(labels))]
		s, err := module.Parse(text)
		if err != nil {
			panic(err)
		}
		o := Offer{SKU: fmt.Sprint("S", i), Text: fmt.Sprint(text, " no ", i), Stick: &s, Pieces: 1 + pick(4)/3,
			Price: stock.Money(1000 + 100*pick(60)), MinOrder: 1 + pick(5)/4}
		if pick(2) == 0 {
			o.Quantity = maybe.Just(1 + pick(3))
		}
		if pick(3) == 0 {
			o.Condition = stock.Used
		} else if pick(3) > 0 {
			o.Condition = stock.New
		}
		g.Offers = append(g.Offers, o)
	}
	return machine, g
}

// The search comes to just what plain enumeration comes to: nothing that
// nothing beats is missing, and nothing else is there.
func TestTheSearchIsExact(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	cases, fronts := effort.Cases(1000), 0
	if effort.Full() {
		cases = 2000
	}
	for n := range cases {
		machine, g := randomCase(r)
		m, l := machine.Machine(t)
		want := unbeaten(plainly(t, m, l, g))
		s, err := survey(m, l, g)
		if err != nil {
			continue // without anything fitted the generation may not be known
		}
		s.search()
		var got []string
		for _, v := range s.front() {
			got = append(got, worth(v))
		}
		slices.Sort(got)
		fronts += len(got)
		if !assert.Equal(t, want, got, "case %d: %+v\n%+v", n, machine, g) {
			return
		}
	}
	assert.Greater(t, fronts, cases/2, "and there is something to find")
}

// fixed is a proposal as somebody types it into trial: which module goes where.
func fixed(t testing.TB, m machine.Machine, g Goal, p Proposal) (plan trial.Plan) {
	t.Helper()
	fitted := make(map[string]module.Module)
	for _, seat := range trial.Fitted(m) {
		fitted[seat.Place] = seat.Stick
	}
	for _, x := range p.Removes {
		plan.Pull = append(plan.Pull, x.Place)
	}
	for _, x := range p.Keeps {
		if x.From != "" && x.From != x.Place {
			plan.Pull = append(plan.Pull, x.From)
			plan.Put = append(plan.Put, trial.Put{Place: x.Place, Stick: fitted[x.From]})
		}
	}
	for _, x := range p.Adds {
		require.Positive(t, x.Offer, "it was bought")
		plan.Put = append(plan.Put, trial.Put{Place: x.Place, Stick: *g.Offers[x.Offer-1].Stick})
	}
	return plan
}

// What propose calls proved, trial proves, and the other way round: each proposal typed
// into trial comes to the same verdict, and no set that trial lets run, of all there are,
// is better than what propose shows as running.
func TestTrialAndProposeAgree(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	cases, proposals, sets := effort.Cases(800), 0, 0
	for n := range cases {
		machine, g := randomCase(r)
		m, l := machine.Machine(t)
		for i := range g.Offers {
			g.Offers[i].Number = i + 1
		}
		g.Everything = true
		got, err := Search(m, l, g, nil)
		if err != nil {
			continue
		}
		for proved, list := range map[bool][]Proposal{true: got.Proposals, false: got.Unproven} {
			for _, p := range list {
				proposals++
				again, err := trial.Run(m, l, fixed(t, m, g, p))
				if len(p.Adds)+len(p.Removes) == 0 && err != nil {
					continue // only moves
				}
				require.NoError(t, err, "case %d, proposal %d", n, p.Number)
				assert.Equal(t, p.Trial.Verdict, again.Verdict, "case %d, proposal %d", n, p.Number)
				assert.Equal(t, proved, again.Verdict <= rule.Leans, "case %d, proposal %d", n, p.Number)
			}
		}
		for _, v := range plainly(t, m, l, g) {
			if v.proof > rule.Likely {
				continue
			}
			sets++
			shown := slices.ContainsFunc(got.Proposals,
				func(p Proposal) bool { return p.Cost <= v.cost && p.Trial.Total >= v.total })
			assert.True(t, shown, "case %d: trial lets %v for %v run, and no proposal holds as much for as little", n, v.total,
				v.cost)
		}
		if t.Failed() {
			return
		}
	}
	assert.Greater(t, proposals, cases/2)
	assert.Greater(t, sets, cases/2)
}

// A search that is stopped says so, and shows what it has.
func TestAStoppedSearchIsMarked(t *testing.T) {
	m, l := tower(
		figures, []string{"A1 A|8GB 1Rx8 PC4-2400T-UA2-11", "A2 A", "B1 B", "B2 B"}, "Windows 10 Pro 64-bit",
	).Machine(t)
	g := Goal{Reach: maybe.Just(16 * jedec.GiB)}
	_, err := Search(m, l, g, func() bool { return true })
	require.ErrorIs(t, err, ErrStopped, "nothing was found, which says nothing of the goal")
	asked := 0
	r, err := Search(m, l, g, func() bool { asked++; return asked > 2 })
	require.NoError(t, err)
	assert.False(t, r.Exact)
	assert.NotEmpty(t, append(r.Proposals, r.Unproven...))
	r, err = Search(m, l, g, nil)
	require.NoError(t, err)
	assert.True(t, r.Exact)
}
