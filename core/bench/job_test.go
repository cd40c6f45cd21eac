package bench_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/bench"
	"epitome/core/card"
	"epitome/core/jobs"
	"epitome/core/smbios/compose"
)

var morning = time.Date(2026, 11, 2, 9, 0, 0, 0, time.UTC)

// jobCard is a card of a desktop with one module of 8 GB, and what came of it.
func jobCard(after ...card.Reading) bench.Card {
	device := func(handle uint16, name string, mib uint32) compose.Structure {
		d := compose.Device{Handle: handle, Array: 0x1000, MiB: mib, Form: 0x09, Locator: name}
		if mib > 0 {
			d.Type, d.TotalBits, d.DataBits, d.Speed, d.Configured, d.Rank = 0x1A, 64, 64, 2400, 2400, 1
		}
		return d.Structure()
	}
	table := compose.Table(append(compose.Identity{Maker: "Halyard", Product: "Gull 3", BoardMaker: "Halyard",
		Board: "QB-3", ChassisKind: 3}.Structures(), compose.Array(0x1000, 32<<20, 2), device(1, "A1", 8192),
		device(2, "B1", 0))...)
	hand := "epitome-hand: 1\nplaces: [{name: A1, attach: socket, takes: DIMM}, {name: B1, attach: socket, takes: DIMM}]\n"
	return bench.Card{Made: morning, Title: "Pilot's desktop", Job: "2026-118", Readings: append([]card.Reading{
		{Kind: card.Table, Source: "DMI", Data: table}, {Kind: card.Hand, Source: "hand", Data: []byte(hand)}}, after...)}
}

const plan = `epitome-plan: 1
goal: reach 16 GB
ways:
  - number: 1
    put: [{place: B1, stick: 8GB 1Rx8 PC4-2400T-UA2-11}]
    buys: [{units: 1, text: 8GB 1Rx8 PC4-2400T-UA2-11}]
`

func kept(kind card.Kind, hours int, text string) card.Reading {
	return card.Reading{Kind: kind, Taken: morning.Add(time.Duration(hours) * time.Hour), Data: []byte(text)}
}

func outcome(result, more string) card.Reading {
	return kept(card.Outcome, 2, "epitome-outcome: 1\ndate: \"2026-11-02\"\nproposal: 1\nresult: "+result+"\n"+more)
}

const (
	sixteen = "total_mib: 16384\nplaces: [{name: A1, mib: 8192, rate_mts: 2400}, {name: B1, mib: 8192, rate_mts: 2133}]\n"
	eight   = "total_mib: 8192\nplaces: [{name: A1, mib: 8192}]\ndiffers: [{about: Memory fitted, predicted: 16 GB, " +
		"found: 8 GB}]\n"
	sound   = "epitome-proof: 1\ndate: \"2026-11-02\"\ncovered_mib: 900\nof_mib: 1000\npasses: 1\n"
	unsound = sound + "faults: [{offset: 8, pattern: places, wrote: 0x1, read: 0x2}]\n"
)

func TestHowFarAJobIs(t *testing.T) {
	held := bench.Lesson{Kind: jobs.Held, TotalMiB: 16384, EachMiB: 8192, RateMTs: 2133,
		Modules: "1 × 8GB 1Rx8 PC4-2400T-UA2-11", Date: "2026-11-02"}
	failed := bench.Lesson{Kind: jobs.Failed, TotalMiB: 16384, EachMiB: 8192, Modules: held.Modules,
		Says: "16 GB were predicted and 8 GB found", Date: "2026-11-02"}
	faulty := bench.Lesson{Kind: jobs.Faulty, TotalMiB: 16384, EachMiB: 8192, Modules: held.Modules,
		Says: "1 fault in 900 MB that were proved", Date: "2026-11-02"}
	planned := kept(card.Plan, 1, plan)
	for _, c := range []struct {
		what    string
		after   []card.Reading
		state   jobs.State
		mib     uint64
		lessons []bench.Lesson
	}{
		{"read", nil, jobs.Read, 0, nil},
		{"a measurement before anything was done", []card.Reading{kept(card.Proof, 1, sound)}, jobs.Read, 0, nil},
		{"proposed", []card.Reading{planned}, jobs.Proposed, 0, nil},
		{"a plan that can't be read", []card.Reading{kept(card.Plan, 1, "epitome-plan: 9\n")}, jobs.Read, 0, nil},
		{"fitted", []card.Reading{planned, outcome("as predicted", sixteen)}, jobs.Fitted, 16384, []bench.Lesson{held}},
		{"it can't be told", []card.Reading{planned, outcome("cannot tell", sixteen)}, jobs.Fitted, 16384, nil},
		{"proved before it was fitted", []card.Reading{planned, kept(card.Proof, 1, sound), outcome("as predicted", sixteen)},
			jobs.Fitted, 16384, []bench.Lesson{held}},
		{"proved", []card.Reading{planned, outcome("as predicted", sixteen), kept(card.Proof, 3, sound)}, jobs.Proved, 16384,
			[]bench.Lesson{held}},
		{"not sound", []card.Reading{planned, outcome("as predicted", sixteen), kept(card.Proof, 3, unsound)}, jobs.Differs,
			16384, []bench.Lesson{held, faulty}},
		{"less is there", []card.Reading{planned, outcome("differs", eight)}, jobs.Differs, 8192, []bench.Lesson{failed}},
		{"something else differs", []card.Reading{planned, outcome("differs", sixteen)}, jobs.Differs, 16384, nil},
	} {
		s := bench.Bare(jobCard(c.after...)).JobSummary([]byte("text"))
		assert.Equal(t, c.state, s.State, c.what)
		assert.Equal(t, c.mib, s.AfterMiB, c.what)
		assert.Equal(t, c.lessons, s.Lessons, c.what)
		assert.Equal(t, []any{"Pilot's desktop", "Halyard", "Gull 3", uint64(8192), "2026-11-02T09:00:00Z"},
			[]any{s.Title, s.Maker, s.Model, s.BeforeMiB, s.Made}, c.what)
	}
}

// What earlier jobs showed goes with the machine, but for the card's own job.
func TestWhatEarlierJobsShowedIsRemembered(t *testing.T) {
	b := bench.Bare(jobCard())
	require.NotEmpty(t, b.Make())
	lesson := func(job string, kind jobs.LessonKind) bench.Taught {
		return bench.Taught{Job: job,
			Lesson: bench.Lesson{Kind: kind, TotalMiB: 16384, Date: "2026-11-02", Says: "8 GB were found"}}
	}
	assert.Same(t, b, b.Remembering([]bench.Taught{lesson("2026-118", jobs.Held)}), "its own job shows nothing new")
	r := b.Remembering([]bench.Taught{lesson("2026-031", jobs.Held), lesson("2026-040", jobs.Held),
		lesson("2026-050", jobs.Failed)})
	assert.Equal(t, []string{"16 GB in all ran as predicted on 2 machines, last on 2026-11-02",
		"job 2026-050, 2026-11-02: 8 GB were found"}, r.Earlier())
	assert.Empty(t, b.Earlier())
	sure := b.Remembering([]bench.Taught{lesson("2026-031", jobs.Held), lesson("2026-040", jobs.Held)})
	entry, err := sure.Learn("2026-11-02", "")
	require.NoError(t, err)
	assert.Contains(t, bench.Experience(entry), "Halyard QB-3: 16 GB in all, modules of ?, at ?, 2 times",
		"settled experience becomes part of the board's entry")
	entry, err = r.Learn("2026-11-02", "")
	require.NoError(t, err)
	assert.NotContains(t, strings.Join(bench.Experience(entry), "\n"), "16 GB in all", "one job contradicts it")
}
