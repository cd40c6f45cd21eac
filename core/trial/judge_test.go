package trial

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/module"
	"epitome/core/rule"
)

// What the judge says of a set in short is what a whole trial says of it, for
// machines of which much or little is known.
func TestTheJudgeAgreesWithTheTrial(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	labels := []string{"4GB 1Rx8 PC4-2133P-UA2-11", label, "8GB 2Rx8 PC4-2400R-UB1-11", "16GB 2Rx8 PC4-2400T-UA2-11",
		"8GB 1Rx8 PC4-3200AA-UA2-11"}
	empty := desktop().With(func(r *rig) {
		r.Places = []string{"A1 A 0 0", "A2 A 0 0", "B1 B 0 0", "B2 B 0 0"}
		r.Hand = "machine: {system: Windows 10 Pro 64-bit}\nplaces: [{name: A1, attach: socket, takes: DIMM}, {name: A2, " +
			"attach: socket}, {name: B1, attach: socket}, {name: B2, attach: socket}]\n"
	})
	for _, in := range []rig{
		empty,
		empty.With(func(r *rig) {
			r.Takes = "generation: DDR4, channels: 2, rate: 2400, maximum: 64GB, largest_die: 8Gbit, x16: yes, x4: no, ecc: none"
		}),
		empty.With(func(r *rig) {
			r.Board = "rates: [{modules_per_channel: 1, rate: 2133}, {modules_per_channel: 2, rate: 1866}]"
		}),
		empty.With(func(r *rig) {
			r.Board = "slots: [{name: A1, order: 3}, {name: A2, order: 1}, {name: B1, order: 4}, {name: B2, order: 2}]"
		}),
	} {
		m, l := in.Machine(t)
		j := NewJudge(m, l)
		assert.Equal(t, 4, j.Sockets())
		assert.Equal(t, rule.OK, j.Places())
		for range 60 {
			var set []module.Module
			load := Load{}
			for range 1 + r.IntN(4) {
				s := sticks(t, labels[r.IntN(len(labels))])[0]
				set = append(set, s)
				taa, _ := AccessTime(s)
				load.TAA = max(load.TAA, taa)
				if rate := s.Grade().Or(jedec.Grade{}).Rate; load.Rate == 0 || rate < load.Rate {
					load.Rate = rate
				}
			}
			for _, c := range largestFirst(dealt(set)) {
				load.Kinds = append(load.Kinds, KindOf(c.Module))
			}
			w := j.Weigh(load)
			whole, err := Run(m, l, Plan{Sticks: set})
			require.NoError(t, err)
			p, ok := whole.Operating.Get()
			require.Equal(t, ok, w.Rate > 0, whole.Why)
			if ok {
				assert.Equal(t, p.Grade.Rate, w.Rate)
				assert.Equal(t, p.Latency, w.Latency)
				assert.Equal(t, p.Total-p.Interleaved, w.Lone)
				assert.LessOrEqual(t, w.Rate, j.Bound(len(set)), "the bound is one")
			}
			outcome, _ := outcomeOf(whole, "total")
			system, _ := outcomeOf(whole, "system-limit")
			assert.Equal(t, max(outcome, system), j.Total(whole.Total))
		}
	}
}

func dealt(set []module.Module) (out []dealtStick) {
	for _, s := range set {
		out = append(out, dealtStick{s, ""})
	}
	return out
}

func TestTheJudgeOfOneModule(t *testing.T) {
	m, l := desktop().Machine(t)
	j := NewJudge(m, l)
	for text, want := range map[string]rule.Outcome{label: rule.OK, "8GB 1Rx8 PC4-2400T-SA1-11": rule.Refused,
		"4GB 1Rx8 PC3L-12800U-11-13-B4": rule.Refused, "8GB PC4-2400T-UA2-11": rule.Likely,
		"32GB 2Rx8 PC4-2400T-UA2-11": rule.Refused} {
		got, reason := j.Alone(sticks(t, text)[0], true)
		assert.Equal(t, want, got, "%s: %s", text, reason.Says)
	}
	assert.Equal(t, jedec.Rate(2400), j.Ceiling())
	assert.Zero(t, j.Soldered())
}

// What is sold in a grade by the market's table is what is taken for the bin of a module
// that states its grade alone.
func TestTheSoldBinIsTheMarkets(t *testing.T) {
	tried := 0
	for _, g := range []jedec.Generation{jedec.DDR2, jedec.DDR3, jedec.DDR4, jedec.DDR5} {
		for _, form := range []jedec.Form{jedec.DIMM, jedec.SODIMM} {
			for _, sold := range catalogue.Market(g, form) {
				for _, x := range sold.Grades {
					taa, ok := AccessTime(module.Module{Kind: module.Listing,
						Facts: module.Facts{Generation: fact.Known(g), Rated: fact.Known(x.Grade.Rate)}})
					if _, isSold := jedec.SoldTime(x.Grade); !ok || x.CL == 0 || !isSold {
						continue
					}
					step := x.Grade.TCK
					if g == jedec.DDR5 {
						step *= 2 // its latencies are even (JESD79-5, table of CAS latencies)
					}
					tried++
					assert.LessOrEqual(t, int(taa), int(x.CL.Time(x.Grade)), "%v is sold with CL%v", x.Grade, x.CL)
					assert.Greater(t, int(taa), int(x.CL.Time(x.Grade)-step), "%v is sold with CL%v", x.Grade, x.CL)
				}
			}
		}
	}
	assert.Greater(t, tried, 100)
}
