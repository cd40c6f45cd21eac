package jobs_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/jobs"
	"epitome/core/maybe"
)

func TestNumbers(t *testing.T) {
	for text, ok := range map[string]bool{"2026-118": true, "2026-001": true, "2026-1000": true, " 2026-118 ": true,
		"2026-18": false, "2026-0118": false, "118": false, "2026-000": false, "26-118": false, "2026-118x": false,
		"2026--18": false, "": false} {
		year, which, err := jobs.ParseNumber(text)
		assert.Equal(t, ok, err == nil, text)
		if ok {
			assert.Equal(t, strings.TrimSpace(text), jobs.Number(year, which))
		} else {
			assert.ErrorIs(t, err, jobs.ErrNumber)
		}
	}
}

// Two machines are of one make where maker, model and board are the same, however written.
func TestMakes(t *testing.T) {
	gull := jobs.Summary{Maker: "Halyard", Model: "Gull 14", Board: "QB-14B"}
	again := jobs.Summary{Maker: "HALYARD", Model: "Halyard  gull 14", Board: "qb-14b"}
	assert.Equal(t, gull.Key(), again.Key())
	assert.Equal(t, "Halyard Gull 14", gull.Machine())
	assert.Equal(t, "Halyard  gull 14", again.Machine())
	other := gull
	other.Board = "QB-14C"
	assert.NotEqual(t, gull.Key(), other.Key())
	assert.NotEmpty(t, jobs.Summary{Board: "Groyne Breakwater X"}.Key(), "a board that was built into a tower")
	for _, unknown := range []jobs.Summary{{}, {Maker: "Halyard"}, {Model: "Gull 14"}} {
		assert.Empty(t, unknown.Key(), "%+v", unknown)
	}
	assert.Equal(t, "Groyne GN-31P", jobs.Summary{Maker: "Groyne", Board: "GN-31P"}.Machine())
}

func TestFilters(t *testing.T) {
	j := jobs.Job{Opened: "2026-11-02",
		Summary: jobs.Summary{Maker: "Halyard", Model: "Gull 14", Title: "Pilot's", State: jobs.Read}}
	closed := j
	closed.Closed = "2026-11-03"
	for _, c := range []struct {
		f    jobs.Filter
		j    jobs.Job
		want bool
	}{
		{jobs.Filter{}, j, true}, {jobs.Filter{}, closed, true},
		{jobs.Filter{OnlyOpen: true}, j, true}, {jobs.Filter{OnlyOpen: true}, closed, false},
		{jobs.Filter{OnlyEnded: true}, j, false}, {jobs.Filter{OnlyEnded: true}, closed, true},
		{jobs.Filter{State: jobs.Read}, j, true}, {jobs.Filter{State: jobs.Proved}, j, false},
		{jobs.Filter{Machine: "GULL"}, j, true}, {jobs.Filter{Machine: "tern"}, j, false},
		{jobs.Filter{Title: "pilot"}, j, true}, {jobs.Filter{Title: "clerk"}, j, false}, {jobs.Filter{Board: "q"}, j, false},
		{jobs.Filter{Since: "2026-11-02", Until: "2026-11-02"}, j, true}, {jobs.Filter{Since: "2026-11-03"}, j, false},
		{jobs.Filter{Until: "2026-11-01"}, j, false},
	} {
		assert.Equal(t, c.want, c.f.Takes(c.j), "%+v", c.f)
	}
}

func TestLinesOfAnExport(t *testing.T) {
	j := jobs.Job{Number: "2026-118", Opened: "2026-11-02", Card: "a.card",
		Summary: jobs.Summary{Maker: "Halyard", State: jobs.Differs, Made: "2026-11-02T09:00:00Z", BeforeMiB: 8192,
			Lessons: []jobs.Lesson{{Kind: jobs.Failed, TotalMiB: 16384, Says: "8 GB were found", Date: "2026-11-03"}}},
		Events: []jobs.Event{{At: "2026-11-02T09:00:00Z", Did: "open", Says: "a line\nand another"}}}
	line, err := j.Line()
	require.NoError(t, err)
	assert.Equal(t, 1, strings.Count(string(line), "\n"), "one line a job")
	back, err := jobs.ParseLine(line)
	require.NoError(t, err)
	assert.Equal(t, j, back)
	for what, change := range map[string][2]string{"number": {"2026-118", "118"}, "day": {"2026-11-02\"", "yesterday\""},
		"state": {`"differs"`, `"lost"`}, "kind": {`"failed"`, `"bad"`}, "key": {`"card"`, `"path"`},
		"brace": {"{", "["}, "empty day": {`"opened":"2026-11-02"`, `"opened":""`}} {
		wrong := strings.Replace(string(line), change[0], change[1], 1)
		_, err := jobs.ParseLine([]byte(wrong))
		assert.ErrorIs(t, err, jobs.ErrLine, what)
	}
}

func FuzzLine(f *testing.F) {
	f.Add([]byte(`{"job":"2026-118","opened":"2026-11-02","card":"a","made":"","sum":"","state":"read",` +
		`"before_mib":1,"after_mib":0}`))
	f.Fuzz(func(t *testing.T, line []byte) {
		j, err := jobs.ParseLine(line)
		if err != nil {
			return
		}
		again, err := j.Line()
		require.NoError(t, err)
		back, err := jobs.ParseLine(again)
		require.NoError(t, err)
		once, _ := back.Line()
		assert.Equal(t, again, once)
	})
}

func held(job string, mib uint64, date string) jobs.Taught {
	return jobs.Taught{Job: job, Lesson: jobs.Lesson{Kind: jobs.Held, TotalMiB: mib, EachMiB: mib / 2, RateMTs: 2400,
		Date: date}}
}

// Alike experience is counted, what was withdrawn counts for nothing, and what failed stands
// beside it.
func TestWhatJobsShowTogether(t *testing.T) {
	failed := held("2026-004", 32768, "2026-11-09")
	failed.Kind, failed.Says = jobs.Failed, "16 GB were found"
	faulty := held("2026-006", 16384, "2026-11-11")
	faulty.Kind = jobs.Faulty
	withdrawn := held("2026-005", 65536, "2026-11-10")
	withdrawn.Withdrawn = true
	past := jobs.Past([]jobs.Taught{held("2026-001", 16384, "2026-11-02"), held("2026-002", 16384, "2026-11-01"),
		held("2026-003", 32768, "2026-11-03"), failed, withdrawn, faulty})
	require.Len(t, past.Ran, 2)
	assert.Equal(t, catalogue.Ran{Total: maybe.Just(16 * jedec.GiB), Each: maybe.Just(8 * jedec.GiB),
		Rate: maybe.Just(jedec.Rate(2400)), Times: 2, When: "2026-11-02"}, past.Ran[0])
	assert.Equal(t, []string{"2026-001", "2026-002", "2026-003", "2026-004", "2026-006"}, past.Jobs)
	for _, c := range []struct {
		total        jedec.Capacity
		held, failed int
	}{{8, 3, 0}, {16, 3, 0}, {32, 1, 1}, {64, 0, 1}} {
		h, f := past.Held(c.total * jedec.GiB)
		assert.Equal(t, []int{c.held, c.failed}, []int{h, f}, "%d GB", c.total)
	}
	assert.Equal(t, past.Ran[:1], past.Sure(), "seen twice, and never contradicted")
	assert.Empty(t, jobs.Past(nil))
}
