package trial

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/rule"
	"epitome/truth"
	"epitome/truth/effort"
)

// A rig is a machine to try sticks in.
type rig = truth.Rig

const (
	full = "channels: 2, slots_per_channel: 2, rate: 2400, rate_dual_rank: 2400, rate_two_modules: 2133, " +
		"rate_two_dual_rank: 1866, maximum: 64GB, largest_die: 8Gbit, x4: no, x16: yes, ecc: none, volts: 1.2"
	label = "8GB 1Rx8 PC4-2400T-UA2-11"
)

// desktop is a desktop of which everything is known: two channels of two
// slots, one module fitted.
func desktop() rig {
	return rig{Takes: "generation: DDR4, " + full,
		Places: []string{"A1 A 8192 2400", "A2 A 0 0", "B1 B 0 0", "B2 B 0 0"}, Type: 0x1A, Form: 0x09, Chassis: 0x03,
		Hand: "machine: {system: Windows 10 Pro 64-bit}\nplaces: [{name: A1, attach: socket, takes: DIMM, holds: 8GB 1Rx8 " +
			"PC4-2400T-UA2-11}, {name: A2, attach: socket, takes: DIMM}, {name: B1, attach: socket, takes: DIMM}, {name: B2, " +
			"attach: socket, takes: DIMM}]\n"}
}

// held is a desktop of a make on which earlier jobs came to so many GiB.
func held(times int, gib jedec.Capacity) rig {
	return desktop().With(func(r *rig) {
		r.Past.Ran = []catalogue.Ran{{Total: maybe.Just(gib * jedec.GiB), Times: times}}
	})
}

// failedAt adds a job after which less than so many GiB was there.
func failedAt(gib jedec.Capacity) func(*rig) {
	return func(r *rig) {
		r.Past.Failed = append(r.Past.Failed, catalogue.Failure{Total: maybe.Just(gib * jedec.GiB), Modules: "1 × 8 GB",
			Says: "8 GB were found", Job: "2026-031"})
	}
}

func try(t testing.TB, r rig, plan Plan) Trial {
	t.Helper()
	m, l := r.Machine(t)
	got, err := Run(m, l, plan)
	require.NoError(t, err)
	return got
}

func sticks(t testing.TB, texts ...string) (out []module.Module) {
	t.Helper()
	for _, text := range texts {
		s, err := module.Parse(text)
		require.NoError(t, err, text)
		out = append(out, s.Apart()...)
	}
	return out
}

// outcomeOf is the worst outcome of one rule, and what it says.
func outcomeOf(t Trial, id string) (rule.Outcome, string) {
	worst, says := rule.OK, "does not apply"
	for _, r := range t.Reasons {
		if r.Rule == id && (says == "does not apply" || r.Outcome > worst) {
			worst, says = r.Outcome, r.Says
		}
	}
	return worst, says
}

// Each rule where it passes, where it refuses or takes something away, and
// where a fact is missing.
func TestEveryRule(t *testing.T) {
	never := func(cut string) rig {
		return desktop().With(func(r *rig) { r.Takes = strings.Replace(r.Takes, cut, "", 1) })
	}
	set := func(old, now string) rig {
		return desktop().With(func(r *rig) { r.Takes = strings.Replace(r.Takes, old, now, 1) })
	}
	noHand := desktop().With(func(r *rig) { r.Hand = "" })
	ddr3 := rig{Takes: "generation: DDR3, channels: 2, slots_per_channel: 2, rate: 1600, rate_two_modules: 1600, " +
		"maximum: 32GB, largest_die: 4Gbit, x4: no, x16: yes, ecc: none, volts: 1.35",
		Places: []string{"A1 A 4096 1600", "B1 B 0 0"}, Type: 0x18, Form: 0x0D, Chassis: 0x0A,
		Hand: "places: [{name: A1, attach: socket, takes: SO-DIMM, holds: 4GB 1Rx8 PC3L-12800S-11-13-B4}, {name: B1, " +
			"attach: socket, takes: SO-DIMM}]\n"}
	low15 := ddr3.With(func(r *rig) { r.Takes = strings.Replace(r.Takes, "volts: 1.35", "volts: 1.5", 1) })
	noVolts := ddr3.With(func(r *rig) { r.Takes = strings.Replace(r.Takes, ", volts: 1.35", "", 1) })
	unread := func(r rig) rig {
		return r.With(func(r *rig) { r.Hand = strings.Replace(r.Hand, ", holds: 4GB 1Rx8 PC3L-12800S-11-13-B4", "", 1) })
	}
	ddr5 := rig{Takes: "generation: DDR5, channels: 2, slots_per_channel: 2, rate: 5600, rate_dual_rank: 5600, " +
		"rate_two_modules: 4400, maximum: 192GB, largest_die: 24Gbit, x4: no, x16: yes, ecc: none, volts: 1.1",
		Places: []string{"A1 A 16384 4800", "B1 B 0 0"}, Type: 0x22, Form: 0x09, Chassis: 0x03,
		Hand: "machine: {system: Windows 11 Pro 64-bit}\nplaces: [{name: A1, attach: socket, takes: DIMM, holds: 16GB " +
			"1Rx8 PC5-4800B-UA0-1010-XT}, {name: B1, attach: socket, takes: DIMM}]\n"}
	die16 := ddr5.With(func(r *rig) { r.Takes = strings.Replace(r.Takes, "24Gbit", "16Gbit", 1) })
	noDie := ddr5.With(func(r *rig) { r.Takes = strings.Replace(r.Takes, "largest_die: 24Gbit, ", "", 1) })
	clocks := func(word string) rig { return ddr5.With(func(r *rig) { r.Board = "clock_drivers: " + word }) }
	profiles := func(word string) rig {
		return desktop().With(func(r *rig) {
			r.Chipset = "profiles: " + word
			r.Places[0] = "A1 A 0 0"
			r.Hand = "machine: {system: Windows 10 Pro 64-bit}\nplaces: [{name: A1, attach: socket}, {name: A2, attach: " +
				"socket}, {name: B1, attach: socket, takes: DIMM}, {name: B2, attach: socket}]\nmaximum: {size: 64GB, " +
				"from: manual}\n"
		})
	}
	fast := sticks(t, "8GB DDR4-3600 CL18 1Rx8 UDIMM 1.35V")
	fast[0].Part = fact.Known("SQ4-3600C18")
	ordered := desktop().With(func(r *rig) {
		r.Board = "slots: [{name: A1, order: 1}, {name: B1, order: 2}, {name: A2, order: 3}, {name: B2, order: 4}]"
	})
	tried := make(map[string][]rule.Outcome)
	for _, c := range []struct {
		id      string
		in      rig
		stick   string
		put     string // where, if not where it does best
		outcome rule.Outcome
		says    string
	}{
		{"same-generation", desktop(), label, "", rule.OK, "all are of the board's generation"},
		{"same-generation", desktop(), "4GB 1Rx8 PC3L-12800U-11-13-B4", "", rule.Refused, "is DDR3, the board takes DDR4"},
		{"same-generation", desktop(), "8GB UDIMM", "", rule.Unproven, "the generation is not known"},
		{"form", desktop(), label, "", rule.OK, "the form of their sockets"},
		{"form", desktop(), "8GB 1Rx8 PC4-2400T-SA1-11", "", rule.Refused,
			"a SO-DIMM with 260 contacts, the socket takes a DIMM with 288"},
		{"form", desktop(), "8GB 1Rx8 PC4-2400T", "", rule.Unproven, "the form is not known"},
		{"socket", desktop(), label, "B1", rule.OK, ""},
		{"socket", noHand.With(func(r *rig) { r.Chassis, r.Form = 0x0A, 0x0B }), label, "B1", rule.Unproven,
			"whether B1 is a socket is not settled"},
		{"socket", desktop().With(func(r *rig) {
			// The board's entry names a socket that no reading lists.
			r.Board = "slots: [{name: A1}, {name: A2}, {name: B1}, {name: B2}, {name: C1, channel: C}], takes: DIMM"
		}), label, "C1", rule.Unproven, "whether C1 is free is not known"},
		{"per-slot", set("ecc: none", "ecc: [rdimm, lrdimm]").With(func(r *rig) {
			r.Places[0], r.Hand = "A1 A 0 0", strings.Replace(r.Hand, ", holds: 8GB 1Rx8 PC4-2400T-UA2-11", "", 1)
		}).With(func(r *rig) {
			r.Board = "generations: DDR4"
		}), "32GB 2Rx4 PC4-2400T-RA1-11", "", rule.Unproven, "nobody states a limit"},
		{"supply", ddr3, "4GB 1Rx8 PC3L-12800S-11-13-B4", "", rule.OK, ""},
		{"supply", ddr3, "4GB 1Rx8 PC3-12800S-11-13-B4", "", rule.Refused, "made for 1.5 V; Petrel takes modules for 1.35 V"},
		{"supply", low15, "4GB 1Rx8 PC3L-12800S-11-13-B4", "", rule.OK, ""},
		{"supply", noVolts, "4GB 1Rx8 PC3L-12800S-11-13-B4", "", rule.OK, ""},
		// what is fitted runs at what the board gives
		{"supply", unread(ddr3), "4GB 1Rx8 PC3L-12800S-11-13-B4", "", rule.OK, ""},
		{"supply", unread(ddr3), "4GB 1Rx8 PC3-12800S-11-13-B4", "", rule.Refused,
			"made for 1.5 V; Petrel takes modules for 1.35 V"},
		{"supply", unread(noVolts), "4GB 1Rx8 PC3-12800S-11-13-B4", "", rule.Unproven, "what the board gives is not known"},
		{"supply", noVolts, "4GB 1Rx8 PC3-12800S-11-13-B4", "", rule.Unproven, "what the board gives is not known"},
		{"supply", desktop(), label, "", rule.OK, ""},
		{"buffering", desktop(), label, "", rule.OK, ""},
		{"buffering", desktop(), "16GB 2Rx8 PC4-2400T-RA1-11", "", rule.Refused, "registered beside unbuffered"},
		// the trade's word
		{"buffering", desktop(), "8GB 1Rx8 PC4-2400T DIMM", "", rule.OK, "all are buffered as the machine takes them"},
		{"buffering", desktop(), "8GB 1Rx8 PC4-2400T", "", rule.Likely, "registered beside unbuffered"},
		{"buffering", never("ecc: none, "), label, "", rule.OK, ""},
		{"ecc", desktop(), label, "", rule.OK, "alike in check bits"},
		{"ecc", desktop(), "8GB 1Rx8 PC4-2400T-EA1-11", "", rule.Likely, "has check bits; Petrel takes ordinary modules"},
		{"ecc", set("ecc: none", "ecc: udimm"), "8GB 1Rx8 PC4-2400T-EA1-11", "", rule.Reduced,
			"modules with check bits beside modules without"},
		{"ecc", set("ecc: none", "ecc: udimm, ecc_if: board"), "8GB 1Rx8 PC4-2400T-EA1-11", "", rule.Unproven,
			"has check bits, which also depend on the board"},
		{"density", desktop(), label, "", rule.OK, ""},
		{"density", desktop(), "16GB 1Rx8 PC4-2400T-UA2-11", "", rule.Refused, "dies of 16 Gbit; Petrel takes up to 8 Gbit"},
		{"density", desktop(), "8GB PC4-2400T-UA2-11", "", rule.Likely, "dies of 16 Gbit; Petrel takes up to 8 Gbit"},
		{"density", desktop(), "4GB PC4-2400T-UA2-11", "", rule.OK, ""},
		{"density", never("largest_die: 8Gbit, "), label, "", rule.OK, ""},
		{"density", never("largest_die: 8Gbit, "), "16GB 1Rx8 PC4-2400T-UA2-11", "", rule.Unproven, "not known for Petrel"},
		{"chip-width", desktop(), "4GB 1Rx16 PC4-2400T-UC0-11", "", rule.OK, ""},
		{"chip-width", set("x16: yes", "x16: no"), "4GB 1Rx16 PC4-2400T-UC0-11", "", rule.Refused,
			"x16 chips; Petrel takes unbuffered modules of x8 chips"},
		{"chip-width", never("x16: yes, "), "4GB 1Rx16 PC4-2400T-UC0-11", "", rule.Unproven,
			"whether the controller takes them is not known"},
		{"chip-width", never("x16: yes, "), label, "", rule.OK, ""},
		{"ranks", desktop(), "16GB 2Rx8 PC4-2400T-UA2-11", "", rule.OK, ""},
		{"ranks", desktop(), "16GB 4Rx8 PC4-2400T-UA2-11", "", rule.Refused, "4 ranks"},
		{"odd-size", ddr5, "24GB 1Rx8 PC5-4800B-UA0-1010-XT", "", rule.OK, "update the firmware first"},
		{"odd-size", die16, "24GB 1Rx8 PC5-4800B-UA0-1010-XT", "", rule.Refused, "24 GB needs 24 Gbit dies"},
		{"odd-size", noDie, "24GB 1Rx8 PC5-4800B-UA0-1010-XT", "", rule.Unproven, "not known for Petrel"},
		{"clock-driver", clocks("yes"), "16GB 1Rx8 PC5-4800B-CA0-1010-XT", "", rule.OK, "takes modules with a clock driver"},
		{"clock-driver", clocks("no"), "16GB 1Rx8 PC5-4800B-CA0-1010-XT", "", rule.Refused, "carries a clock driver"},
		{"clock-driver", ddr5, "16GB 1Rx8 PC5-4800B-CA0-1010-XT", "", rule.Unproven, "is not known"},
		{"per-slot", desktop(), "16GB 2Rx8 PC4-2400T-UA2-11", "", rule.OK, ""},
		{"per-slot", desktop(), "32GB 2Rx8 PC4-2400T-UA2-11", "", rule.Refused, "two ranks of x8 chips of 8 Gbit make 16 GB"},
		{"per-slot", desktop().With(func(r *rig) { r.Board = "slots: [{name: B1, maximum: 4GB}]" }), label, "B1",
			rule.Refused, "the board's entry allows 4 GB in B1"},
		{"per-slot", never("largest_die: 8Gbit, "), "16GB 2Rx8 PC4-2400T-UA2-11", "", rule.OK, ""},
		{"per-slot", never("largest_die: 8Gbit, "), "32GB 2Rx8 PC4-2400T-UA2-11", "", rule.Unproven, "not known for Petrel"},
		{"per-slot", desktop(), "PC4-2400T-UA2-11", "", rule.Unproven, "the size is not known"},
		{"total", desktop(), label, "", rule.OK, "16 GB in all is within every ceiling"},
		{"total", set("maximum: 64GB", "maximum: 12GB"), label, "", rule.Refused, "16 GB in all; Petrel takes up to 12 GB"},
		{"total", desktop().With(func(r *rig) { r.Board = "maximum: 12GB, confidence: medium" }), label, "", rule.Likely,
			"16 GB in all; GBX: up to 12 GB"},
		{"total", never("maximum: 64GB, "), label, "", rule.OK, ""},
		{"per-slot", desktop().With(func(r *rig) { r.Board = "per_slot: 4GB" }), "16GB 2Rx8 PC4-2400T-UA2-11", "",
			rule.Unproven, "contradicted: 8 GB are fitted, so the true limit is not known"},
		{"per-slot", desktop().With(func(r *rig) { r.Board = "per_slot: 4GB" }), label, "", rule.OK, ""},
		{"past-jobs", held(2, 16), label, "", rule.OK, "after 2 earlier jobs"},
		{"past-jobs", held(2, 16).With(failedAt(16)), label, "", rule.OK, "but job 2026-031"},
		{"past-jobs", held(1, 16).With(failedAt(16)), label, "", rule.Reduced, "1 × 8 GB, 8 GB were found"},
		{"past-jobs", desktop().With(failedAt(16)).With(failedAt(16)).With(failedAt(8)), label, "", rule.Likely,
			"2026-031"},
		{"past-jobs", desktop().With(failedAt(16)), label, "", rule.Reduced, "2026-031"},
		{"past-jobs", desktop().With(failedAt(32)), label, "", rule.OK, "does not apply"}, // of more than is asked for
		{"past-jobs", desktop().With(failedAt(16)).With(func(r *rig) { r.Past.Failed[0].Faulty = true }), label, "",
			rule.OK, "does not apply"}, // a faulty module says nothing of the machine
		{"system-limit", desktop(), label, "", rule.OK, ""},
		{"system-limit", desktop().With(func(r *rig) { r.Hand = strings.Replace(r.Hand, "64-bit", "32-bit", 1) }), label,
			"", rule.Reduced, "of 16 GB the system uses 4 GB"},
		{"system-limit", desktop().With(func(r *rig) {
			r.Hand = strings.Replace(r.Hand, "Windows 10 Pro 64-bit",
				"Harbour OS", 1)
		}), label, "", rule.OK, "is not in the catalogue"},
		{"system-limit", desktop().With(func(r *rig) { r.Hand = strings.Replace(r.Hand, " Pro 64-bit", "", 1) }), label, "",
			rule.Reduced, "depends on its edition"},
		{"channel-slots", desktop(), label, "A2", rule.OK, ""},
		{"channel-slots", set("slots_per_channel: 2", "slots_per_channel: 1"), label, "A2", rule.Refused,
			"2 modules on one channel"},
		{"channel-ranks", set("channels: 2", "ranks_per_channel: 2, channels: 2"), label, "A2", rule.OK,
			"no channel carries more ranks"},
		{"channel-ranks", set("channels: 2", "ranks_per_channel: 2, channels: 2"), "8GB 2Rx8 PC4-2400T-UB1-11", "A2",
			rule.Refused, "3 ranks on one channel"},
		{"channel-ranks", set("channels: 2", "ranks_per_channel: 2, channels: 2"), "8GB 2Rx8 PC4-2400T-UB1-11", "B1",
			rule.OK, ""},
		{"channel-ranks", set("channels: 2", "ranks_per_channel: 2, channels: 2"), "16GB PC4-2400T-UA2-11", "A2",
			rule.Unlikely, "3 ranks on one channel"},
		{"channel-ranks", desktop().With(func(r *rig) {
			for i, p := range r.Places {
				name, rest, _ := strings.Cut(p, " ")
				r.Hand = strings.ReplaceAll(r.Hand, "name: "+name, fmt.Sprint("name: slot ", i))
				r.Places[i] = fmt.Sprintf("slot_%d -%s", i, rest[1:])
			}
			r.Hand = strings.ReplaceAll(r.Hand, "slot ", "slot_")
			r.Takes = strings.Replace(r.Takes, "channels: 2", "ranks_per_channel: 2, channels: 2", 1)
		}), "8GB 2Rx8 PC4-2400T-UB1-11", "", rule.Unproven, "3 ranks on one channel"},
		{"rate", desktop(), label, "B1", rule.OK, "2400 MT/s"},
		{"rate", desktop(), label, "A2", rule.Reduced, "2133 MT/s, though every module is good for 2400"},
		{"rate", never("rate_two_modules: 2133, "), label, "A2", rule.Unproven,
			"not published for Petrel with 2 modules a channel"},
		{"timings", desktop(), label, "", rule.OK, "CL17 at 2400 MT/s"},
		{"timings", desktop(), "8GB 1Rx8 DDR4-2400 UDIMM", "", rule.OK, "CL17 at 2400 MT/s; at worst 2400 CL18"},
		{"unlike", desktop(), "8GB 2Rx8 PC4-2400T-UB1-11", "B1", rule.OK, "unlike in ranks, which standard timings allow"},
		{"unlike", desktop(), label, "B1", rule.OK, "does not apply"},
		{"pairing", desktop(), label, "B1", rule.OK, "16 GB over 2 channels alike"},
		{"pairing", desktop(), label, "A2", rule.Reduced, "all on one of 2 channels"},
		{"pairing", desktop(), "4GB 1Rx8 PC4-2400T-UA2-11", "B1", rule.Reduced,
			"8 GB of 12 GB run over all channels together, 4 GB over one alone"},
		{"order", ordered, label, "B1", rule.OK, "in the manual's order"},
		{"order", ordered, label, "B2", rule.Reduced, "the manual fills other slots first: A1, B1"},
		{"order", desktop(), label, "B2", rule.OK, "does not apply"},
		{"faster-part", desktop(), "8GB 1Rx8 PC4-3200AA-UA2-11", "B1", rule.OK,
			"nothing is gained by 8 GB DDR4-3200 DIMM in B1: it runs at 2400"},
		{"faster-part", desktop(), "8GB 1Rx8 PC4-2133P-UA2-11", "B1", rule.Reduced,
			"holds the others to 2133; they are good for 2400"},
	} {
		plan := Plan{Sticks: sticks(t, c.stick)}
		if c.put != "" {
			plan = Plan{Put: []Put{{Place: c.put, Stick: plan.Sticks[0]}}}
		}
		got := try(t, c.in, plan)
		outcome, says := outcomeOf(got, c.id)
		tried[c.id] = append(tried[c.id], outcome)
		assert.Equal(t, c.outcome, outcome, "%s with %s: %s", c.id, c.stick, says)
		assert.Contains(t, says, c.says, "%s with %s", c.id, c.stick)
		assert.GreaterOrEqual(t, got.Verdict, rule.Verdict(outcome), "the verdict is the worst outcome")
		if outcome == rule.Unproven {
			assert.True(t, slices.ContainsFunc(got.Reasons,
				func(r rule.Reason) bool { return r.Rule == c.id && len(r.Looks()) > 0 }), "%s names what is missing", c.id)
		}
	}
	for _, c := range []struct {
		in      rig
		select_ bool
		outcome rule.Outcome
		says    string
	}{
		{profiles("yes"), true, rule.OK, "profiles can be selected"},
		{profiles("no"), true, rule.Refused, "profiles can't be selected"},
		{profiles("yes").With(func(r *rig) { r.Chipset = "" }), true, rule.Unproven, "nobody states it"},
	} {
		got := try(t, c.in, Plan{Sticks: fast, Profile: c.select_})
		outcome, says := outcomeOf(got, "profile")
		if c.outcome == rule.Unproven {
			says = "nobody states it"
		}
		tried["profile"] = append(tried["profile"], outcome)
		assert.Equal(t, c.outcome, outcome, says)
		assert.Contains(t, says, c.says)
	}
	// Every row of the table has its pass, its fail and its unknown, but for what
	// it can't come to.
	cannot := map[string]string{
		"channel-slots unknown": "sockets whose channel nobody names are shared out over as many channels as they need",
		"socket fail":           "a place that is soldered, or taken, is refused before any rule is asked",
		"ranks unknown": "an unbuffered module has one rank or two by its standard, and no rule counts " +
			"those of others",
		"system-limit unknown": "which edition it is costs no start: at worst a part is left unused",
		"timings fail":         "what the slowest module costs the others is the rule of the faster part",
		"timings unknown":      "without an operating point the rule of the rate has said why",
		"unlike fail":          "it forbids nothing at standard timings, and under a profile nobody knows",
		"unlike unknown":       "tried with a profile, in the test of profiles",
		"pairing unknown":      "without an operating point the rule of the rate has said why",
		"order unknown":        "without the manual's order it does not apply",
		"faster-part unknown":  "without an operating point the rule of the rate has said why",
	}
	for _, r := range Rules() {
		for _, kind := range []struct {
			name string
			are  []rule.Outcome
		}{{"pass", []rule.Outcome{rule.OK}}, {"fail", []rule.Outcome{rule.Reduced, rule.Refused}},
			{"unknown", []rule.Outcome{rule.Likely, rule.Unproven, rule.Unlikely}}} {
			has := slices.ContainsFunc(tried[r.ID], func(o rule.Outcome) bool { return slices.Contains(kind.are, o) })
			assert.Equal(t, cannot[r.ID+" "+kind.name] == "", has, "a test of the %s of %s", kind.name, r.ID)
		}
	}
}

func TestAProfileIsASecondOperatingPoint(t *testing.T) {
	kit := sticks(t, "2x8GB DDR4-3600 CL18 1Rx8 UDIMM 1.35V non-ECC unbuffered")
	for i := range kit {
		kit[i].Part = fact.Known("SQ4-3600C18")
		x, _ := jedec.GradeAt(jedec.DDR4, 2133)
		kit[i].Rated = fact.Known(x.Rate)
	}
	r := desktop().With(func(r *rig) { r.Chipset = "profiles: yes" })
	got := try(t, r, Plan{Pull: []string{"A1"}, Sticks: kit})
	p, ok := got.WithProfile.Get()
	require.True(t, ok)
	assert.Equal(t, jedec.Rate(3600), p.Grade.Rate)
	assert.Equal(t, jedec.Whole(18), p.Timing.CL)
	assert.Equal(t, jedec.Picoseconds(10000), p.Latency)
	now, _ := got.Operating.Get()
	assert.Equal(t, jedec.Rate(2133), now.Grade.Rate, "it is not selected")
	got = try(t, r, Plan{Sticks: kit})
	assert.False(t, got.WithProfile.Known(), "the fitted module carries none")
	got = try(t, desktop(), Plan{Pull: []string{"A1"}, Sticks: kit})
	assert.False(t, got.WithProfile.Known(), "nobody says that it can be selected")
	for part, want := range map[string]rule.Outcome{"SQ4-3600C18": rule.OK, "ANOTHER-KIT": rule.Unproven,
		"": rule.Unproven} {
		other := slices.Clone(kit)
		other[1].Part = fact.Known(part)
		if part == "" {
			other[0].Part, other[1].Part = fact.Fact[string]{}, fact.Fact[string]{}
		}
		outcome, says := outcomeOf(try(t, r, Plan{Pull: []string{"A1"}, Sticks: other, Profile: true}), "profile")
		assert.Equal(t, want, outcome, "%q: %s", part, says)
	}
	kit[1].Ranks = fact.Known(2)
	outcome, says := outcomeOf(try(t, r, Plan{Pull: []string{"A1"}, Sticks: kit, Profile: true}), "unlike")
	assert.Equal(t, rule.Unproven, outcome, says)
}

func TestEveryRuleHasAStatementAndASource(t *testing.T) {
	seen := make(map[string]bool)
	for _, r := range Rules() {
		assert.False(t, seen[r.ID], r.ID)
		seen[r.ID] = true
		assert.NotEmpty(t, r.Source, r.ID)
		assert.NotEmpty(t, r.Needs, r.ID)
		assert.True(t, strings.HasSuffix(r.Says, "."), r.ID)
	}
	assert.GreaterOrEqual(t, len(seen), 20)
}

func TestARefusedPullNamesItsReason(t *testing.T) {
	m, l := desktop().With(func(r *rig) { r.Hand = "places: [{name: A1, attach: soldered}]\n" }).Machine(t)
	_, err := Run(m, l, Plan{Pull: []string{"A1"}})
	require.ErrorIs(t, err, ErrSoldered)
	assert.Contains(t, err.Error(), "A1 (seen: soldered)")
	_, err = Run(m, l, Plan{Pull: []string{"Z9"}})
	require.ErrorIs(t, err, ErrNoPlace)
	assert.Contains(t, err.Error(), `"Z9"; there are A1, A2, B1, B2`)
	_, err = Run(m, l, Plan{Pull: []string{"B1"}})
	require.ErrorIs(t, err, ErrEmpty)
	m, l = desktop().Machine(t)
	_, err = Run(m, l, Plan{Put: []Put{{Place: "A1", Stick: sticks(t, label)[0]}}})
	require.ErrorIs(t, err, ErrTaken)
	_, err = Run(m, l, Plan{Sticks: sticks(t, label, label, label, label)})
	require.ErrorIs(t, err, ErrNoRoom)
	_, err = Run(m, l, Plan{Pull: []string{"A1"}})
	require.ErrorIs(t, err, ErrNothing)
}

func TestSticksGoWhereTheyDoBest(t *testing.T) {
	places := func(tr Trial) (names []string) {
		for _, s := range tr.Seats {
			if s.New {
				names = append(names, s.Place+":"+s.Stick.Capacity.Or(0).String())
			}
		}
		return names
	}
	assert.Equal(
		t, []string{"B1:8 GB"}, places(try(t, desktop(), Plan{Sticks: sticks(t, label)})), "on the other channel",
	)
	one := try(t, desktop(), Plan{Pull: []string{"A1"}, Sticks: sticks(t, label, label, "16GB 2Rx8 PC4-2400T-UA2-11")})
	p, _ := one.Operating.Get()
	assert.Equal(t, one.Total, p.Interleaved, "16 GB against twice 8 GB: all of it interleaved")
	ordered := desktop().With(func(r *rig) {
		r.Board = "slots: [{name: A1, order: 4}, {name: A2, order: 1}, {name: B1, order: 3}, {name: B2, order: 2}]"
	})
	assert.Equal(t, []string{"A2:8 GB", "B2:8 GB"},
		places(try(t, ordered, Plan{Pull: []string{"A1"}, Sticks: sticks(t, label, label)})), "the manual's slots")
}

// Every way of dealing is looked at: the best of all permutations is no better
// than what was found.
func TestPlacementIsTheBestOfAll(t *testing.T) {
	effort.NotShort(t)
	sizes := []string{"4GB 1Rx8 PC4-2400T-UA2-11", "8GB 1Rx8 PC4-2400T-UA2-11", "8GB 2Rx8 PC4-2400T-UA2-11",
		"16GB 2Rx8 PC4-2400T-UA2-11"}
	empty := desktop().With(func(r *rig) { r.Places = []string{"A1 A 0 0", "A2 A 0 0", "B1 B 0 0", "B2 B 0 0"} })
	empty.Hand = "machine: {system: Windows 10 Pro 64-bit, chipset: none}\nplaces: [{name: A1, attach: socket, takes: " +
		"DIMM}, {name: A2, attach: socket}, {name: B1, attach: socket}, {name: B2, attach: socket}]\n"
	m, l := empty.Machine(t)
	names := []string{"A1", "A2", "B1", "B2"}
	tried := 0
	for a := range sizes {
		for b := range sizes {
			for c := range sizes {
				set := sticks(t, sizes[a], sizes[b], sizes[c])
				best, err := Run(m, l, Plan{Sticks: set})
				require.NoError(t, err)
				got, _ := best.Operating.Get()
				for _, free := range names {
					for _, order := range [][]int{{0, 1, 2}, {0, 2, 1}, {1, 0, 2}, {1, 2, 0}, {2, 0, 1}, {2, 1, 0}} {
						var puts []Put
						n := 0
						for _, name := range names {
							if name != free {
								puts = append(puts, Put{Place: name, Stick: set[order[n]]})
								n++
							}
						}
						other, err := Run(m, l, Plan{Put: puts})
						require.NoError(t, err)
						p, _ := other.Operating.Get()
						assert.False(t, p.Grade.Rate > got.Grade.Rate ||
							p.Grade.Rate == got.Grade.Rate && p.Interleaved > got.Interleaved,
							"%v: %v interleaved at %v found, %v at %v possible", set, got.Interleaved, got.Grade, p.Interleaved, p.Grade)
						tried++
					}
				}
			}
		}
	}
	assert.Equal(t, 64*24, tried)
}

// No set that breaks a stated limit is ever said to work: generated machines
// and sticks, held against the limits by plain sums.
func TestNothingWorksThatBreaksAStatedLimit(t *testing.T) {
	effort.NotShort(t)
	works := 0
	texts := []string{"4GB 1Rx8 PC4-2133P-UA2-11", label, "8GB 1Rx16 PC4-2666V-UC0-11", "16GB 1Rx8 PC4-3200AA-UA2-11",
		"16GB 2Rx8 PC4-2400T-UA2-11",
		"32GB 2Rx8 PC4-3200AA-UA2-11", "8GB 1Rx8 PC4-2400T-EA1-11", "4GB 1Rx8 PC3L-12800U-11-13-B4",
		"8GB 1Rx8 PC4-2400T-SA1-11", "16GB 2Rx4 PC4-2400T-RA1-11"}
	for maximum := 8; maximum <= 64; maximum *= 2 {
		for _, die := range []int{4, 8, 16} {
			for _, perSlot := range []int{4, 8, 16} {
				if !effort.Full() && (die+perSlot+maximum)%3 != 0 {
					continue // a third of them
				}
				for _, board := range []bool{false, true} {
					r := desktop()
					r.Takes = strings.NewReplacer("maximum: 64GB", fmt.Sprintf("maximum: %dGB", maximum), "largest_die: 8Gbit",
						fmt.Sprintf("largest_die: %dGbit", die)).Replace(r.Takes)
					if board && perSlot <= maximum {
						r.Board = fmt.Sprintf("per_slot: %dGB, maximum: %dGB", perSlot, maximum)
					}
					m, l := r.Machine(t)
					for i := range texts {
						for j := range texts {
							set := sticks(t, texts[i], texts[j])
							got, err := Run(m, l, Plan{Sticks: set})
							require.NoError(t, err)
							if got.Verdict > rule.RunsLess {
								continue
							}
							works++
							total := 8 * jedec.GiB
							for _, s := range set {
								size := s.Capacity.Or(0)
								total += size
								assert.LessOrEqual(t, s.Density.Or(0), max(die, 8)*1024, "dies of 8 Gbit are fitted and run")
								assert.Equal(t, jedec.DDR4, s.Generation.Or(0))
								assert.Equal(t, jedec.DIMM, s.Form.Or(0))
								assert.False(t, s.ECC.Or(true))
								assert.False(t, s.Registered.Or(true))
								if r.Board != "" {
									assert.LessOrEqual(t, size, jedec.Capacity(max(perSlot, 8))*jedec.GiB, "8 GB are fitted and run")
								}
							}
							assert.LessOrEqual(t, total, jedec.Capacity(maximum)*jedec.GiB)
							p, ok := got.Operating.Get()
							require.True(t, ok)
							assert.LessOrEqual(t, p.Grade.Rate, jedec.Rate(2400))
							assert.Equal(t, total, p.Total)
						}
					}
				}
			}
		}
	}
	assert.Greater(t, works, 100, "and many do work")
}

func eightSockets() rig {
	r := desktop()
	r.Takes = strings.Replace(strings.Replace(r.Takes, "maximum: 64GB", "maximum: 512GB", 1), "channels: 2",
		"channels: 4", 1)
	r.Places = nil
	r.Hand = "machine: {system: Windows 10 Pro 64-bit}\nplaces:\n"
	for _, channel := range []string{"A", "B", "C", "D"} {
		for n := range 2 {
			name := fmt.Sprint(channel, n+1)
			r.Places = append(r.Places, name+" "+channel+" 0 0")
			r.Hand += "  - {name: " + name + ", attach: socket, takes: DIMM}\n"
		}
	}
	return r
}

func BenchmarkEightSticksOverEightSockets(b *testing.B) {
	m, l := eightSockets().Machine(b)
	var set []module.Module
	for i := range 8 {
		// All different in size or ranks, as far as eight can be: the worst case.
		set = append(set, sticks(b, []string{"4GB 1Rx8 PC4-2133P-UA2-11", "8GB 1Rx8 PC4-2400T-UA2-11",
			"8GB 2Rx8 PC4-2400T-UA2-11", "16GB 2Rx8 PC4-2400T-UA2-11",
			"16GB 1Rx8 PC4-2400T-UA2-11", "32GB 2Rx8 PC4-2666V-UA2-11", "4GB 2Rx8 PC4-2133P-UA2-11",
			"32GB 1Rx8 PC4-2666V-UA2-11"}[i])...)
	}
	for b.Loop() {
		if _, err := Run(m, l, Plan{Sticks: set}); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkADrawerOfTwoHundredSticks(b *testing.B) {
	var set []module.Module
	for i := range 200 {
		set = append(set, sticks(b, []string{label, "8GB 1Rx8 PC4-2400T-SA1-11", "4GB 1Rx8 PC3L-12800S-11-13-B4",
			"4GB 2Rx8 PC3-10600S-9-10-F3", "16GB 2Rx4 PC4-2400T-RA1-11"}[i%5])...)
	}
	for b.Loop() {
		Mix(set, nil)
	}
}

// What ran on machines of the make is no limit: where it is less than what is asked for it takes nothing away from
// what firmware states, and nothing of what is fitted.
func TestWhatRanLimitsNothing(t *testing.T) {
	const eight, sixteen, big = "8GB 1Rx8 PC4-2400T-UA2-11", "16GB 2Rx8 PC4-2400T-UB1-11", "32GB 2Rx8 PC4-2666V-UB1-11"
	for _, c := range []struct {
		ran    jedec.Capacity // GiB
		sticks []string
		total  rule.Outcome
	}{
		{8, []string{sixteen}, rule.OK}, {16, []string{sixteen}, rule.OK}, {64, []string{sixteen}, rule.OK},
		{16, []string{eight}, rule.OK}, {16, []string{big, big, big}, rule.OK}, {256, []string{big, big, big}, rule.OK},
	} {
		got := try(
			t, held(3, c.ran).With(func(r *rig) { r.Takes = strings.Replace(r.Takes, "maximum: 64GB, ", "", 1) }),
			Plan{Sticks: sticks(t, c.sticks...)},
		)
		outcome, says := outcomeOf(got, "total")
		assert.Equal(t, c.total, outcome, "%d GB ran, %v: %s", c.ran, c.sticks, says)
	}
}

// A module whose generation is open takes its supply from nobody, and takes nothing from the others.
func TestAnOpenGenerationRefusesNoSupply(t *testing.T) {
	m := Mix(sticks(t, "8GB 1Rx8 PC4-2400T-UA2-11", "8GB UDIMM"), nil)
	assert.Equal(t, rule.CannotTell, m.Verdict)
	for _, r := range m.Reasons {
		if r.Rule == "supply" {
			assert.NotEqual(t, rule.Refused, r.Outcome, r.Says)
			assert.Contains(t, r.Says, "8 GB DIMM: the supply that it is made for is not known")
		}
	}
}
