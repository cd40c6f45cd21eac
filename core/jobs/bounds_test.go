package jobs_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/jobs"
	"epitome/core/maybe"
)

// The states, in the order in which a job comes by them; a line of an export knows each, and no other.
func TestEachState(t *testing.T) {
	assert.Equal(t, []jobs.State{"read", "proposed", "fitted", "proved", "differs"}, jobs.States)
	for _, state := range append([]jobs.State{"", "sold"}, jobs.States...) {
		line, err := jobs.Job{Number: "2026-001", Opened: "2026-11-02", Summary: jobs.Summary{State: state}}.Line()
		require.NoError(t, err)
		_, err = jobs.ParseLine(line)
		if state == "" || state == "sold" {
			assert.ErrorIs(t, err, jobs.ErrLine, state)
		} else {
			assert.NoError(t, err, state)
		}
	}
	for _, kind := range []string{"held", "failed", "faulty", "", "gone"} {
		line, err := jobs.Job{Number: "2026-001", Opened: "2026-11-02", Summary: jobs.Summary{State: jobs.Read,
			Lessons: []jobs.Lesson{{Kind: jobs.LessonKind(kind)}}}}.Line()
		require.NoError(t, err)
		_, err = jobs.ParseLine(line)
		assert.Equal(t, kind == "" || kind == "gone", err != nil, kind)
	}
	for days, ok := range map[[2]string]bool{{"2026-11-02", ""}: true, {"2026-11-02", "2026-11-03"}: true, {"", ""}: false,
		{"", "2026-11-03"}: false, {"2026-11-31", ""}: false, {"2026-11-02", "soon"}: false, {"soon", ""}: false} {
		line, err := jobs.Job{Number: "2026-001", Opened: days[0], Closed: days[1],
			Summary: jobs.Summary{State: jobs.Read}}.Line()
		require.NoError(t, err)
		_, err = jobs.ParseLine(line)
		assert.Equal(t, ok, err == nil, days)
	}
}

// A number at its bounds: a year in which jobs are opened, which one of three digits to six, from 1.
func TestNumbersAtTheirBounds(t *testing.T) {
	for text, ok := range map[string]bool{"1980-001": true, "2999-999": true, "2026-999999": true, "1979-001": false,
		"3000-001": false, "0001-001": false, "2026-1000000": false, "2026-000": false, "2026-01": false,
		"2026-1":    false,
		"2026-001x": false, "x026-001": false, "2026_001": false, "2026-": false, "-001": false, "2026--01": false,
		"20260-001": false,
		"2026-+01":  false, "2026-00000001": false} {
		_, _, err := jobs.ParseNumber(text)
		assert.Equal(t, ok, err == nil, text)
	}
}

// Each day, name and state of a filter, met and just not met.
func TestEachWishOfAFilter(t *testing.T) {
	j := jobs.Job{Number: "2026-001", Opened: "2026-11-02", Summary: jobs.Summary{Maker: "Halyard", Model: "Gull 14",
		Board: "QB-14B",
		Title: "Pilot", State: jobs.Fitted}}
	for name, c := range map[string]struct {
		f  jobs.Filter
		is bool
	}{
		"no wish": {jobs.Filter{}, true}, "its state": {jobs.Filter{State: jobs.Fitted}, true},
		"another state": {jobs.Filter{State: jobs.Read}, false},
		"from its day":  {jobs.Filter{Since: "2026-11-02"}, true}, "from the day after": {jobs.Filter{Since: "2026-11-03"},
			false},
		"to its day": {jobs.Filter{Until: "2026-11-02"}, true}, "to the day before": {jobs.Filter{Until: "2026-11-01"},
			false},
		"open": {jobs.Filter{OnlyOpen: true}, true}, "ended": {jobs.Filter{OnlyEnded: true}, false},
		"its machine": {jobs.Filter{Machine: "yard gull"}, true}, "another machine": {jobs.Filter{Machine: "tern"}, false},
		"its board": {jobs.Filter{Board: "14b"}, true}, "another board": {jobs.Filter{Board: "15"}, false},
		"its title": {jobs.Filter{Title: "PIL"}, true}, "another title": {jobs.Filter{Title: "cook"}, false},
	} {
		assert.Equal(t, c.is, c.f.Takes(j), name)
	}
	j.Closed = "2026-11-05"
	assert.True(t, jobs.Filter{OnlyEnded: true}.Takes(j))
	assert.False(t, jobs.Filter{OnlyOpen: true}.Takes(j))
}

// What two jobs must have in common to be counted together: the total, the largest module and the rate.
func TestWhatIsCountedTogether(t *testing.T) {
	one := jobs.Lesson{Kind: jobs.Held, TotalMiB: 16384, EachMiB: 8192, RateMTs: 2400, Date: "2026-11-02"}
	for name, change := range map[string]func(*jobs.Lesson){"nothing": func(*jobs.Lesson) {},
		"the total": func(l *jobs.Lesson) { l.TotalMiB = 32768 }, "the largest": func(l *jobs.Lesson) { l.EachMiB = 16384 },
		"the rate": func(l *jobs.Lesson) { l.RateMTs = 2133 }, "no rate": func(l *jobs.Lesson) { l.RateMTs = 0 }} {
		other := one
		other.Date = "2026-11-09"
		change(&other)
		past := jobs.Past([]jobs.Taught{{Job: "2026-001", Lesson: one}, {Job: "2026-002", Lesson: other}})
		if name == "nothing" {
			require.Len(t, past.Ran, 1, name)
			assert.Equal(t, 2, past.Ran[0].Times)
			assert.Equal(t, "2026-11-09", past.Ran[0].When, "the latest")
			continue
		}
		require.Len(t, past.Ran, 2, name)
		assert.Equal(t, "2026-11-09", past.Ran[0].When, "of as many the latest first")
	}
	past := jobs.Past([]jobs.Taught{{Job: "b", Lesson: jobs.Lesson{Kind: jobs.Held}}, {Job: "a",
		Lesson: jobs.Lesson{Kind: jobs.Held}},
		{Job: "b", Lesson: jobs.Lesson{Kind: jobs.Faulty, TotalMiB: 1}}, {Job: "c", Lesson: jobs.Lesson{Kind: jobs.Failed}}})
	assert.Equal(t, []string{"a", "b", "c"}, past.Jobs)
	assert.False(t, past.Ran[0].Total.Known(), "of no size")
	assert.Equal(t, []bool{true, false}, []bool{past.Failed[0].Faulty, past.Failed[1].Faulty})
	assert.Equal(t, maybe.Just(jedec.MiB), past.Failed[0].Total)
}

// A machine's name, from what is known of it.
func TestTheNameOfAMachine(t *testing.T) {
	for want, s := range map[string]jobs.Summary{"Halyard Gull 14": {Maker: "Halyard", Model: "Gull 14"},
		"Gull 14": {Model: "Gull 14"}, "halyard Gull 14": {Maker: "Halyard", Model: "halyard Gull 14"},
		"Halyard Halyardia": {Maker: "Halyard", Model: "Halyardia"}, "Halyard QB": {Maker: "Halyard", Board: "QB"},
		"QB":      {Board: "QB"},
		"Halyard": {Maker: "Halyard"}, "": {}} {
		assert.Equal(t, want, s.Machine(), fmt.Sprint(s))
	}
	assert.NotEmpty(t, jobs.Summary{Maker: "Halyard", Model: "Gull"}.Key())
	assert.Empty(t, jobs.Summary{Maker: "Halyard"}.Key())
	assert.Empty(t, jobs.Summary{Model: "Gull"}.Key())
}
