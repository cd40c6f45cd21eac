package need_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
)

// What is concluded from what was measured, what is wanted, what is fitted and how far the machine goes: whether more
// helps, and what the customer is told.
func TestWhatIsConcluded(t *testing.T) {
	const GB = jedec.GiB
	watched := func(v need.Verdict, samples int, peak jedec.Capacity) maybe.Value[need.Summary] {
		return maybe.Just(need.Summary{Verdict: v, Samples: samples, Peak: maybe.If(peak, peak > 0),
			Total: maybe.Just(8 * GB), DiskStall: maybe.Just(40.0), CPUStall: maybe.Just(10.0)})
	}
	none := maybe.None[need.Summary]()
	for _, c := range []struct {
		name    string
		summary maybe.Value[need.Summary]
		uses    string // "": nothing wanted by uses
		have    jedec.Capacity
		reach   jedec.Capacity
		bits    int
		helps   string
		says    string
	}{
		{"nothing to go by", none, "", 8 * GB, 0, 64, "?", "can't be said yet"},
		{"uses, and less fitted", none, "browsing,office", 4 * GB, 0, 64, "yes", "wants about 6 GB; it has 4 GB."},
		{"uses, and as much fitted", none, "browsing,office", 6 * GB, 0, 64, "no",
			"has 6 GB, which is enough for what you do"},
		{"uses, and nobody knows what is fitted", none, "browsing,office", 0, 0, 64, "?", "can't be said yet"},
		{"short, and nobody knows how much would do", watched(need.Short, 60, 0), "", 8 * GB, 0, 64, "yes",
			"ran out of memory while you worked; how much would do can't be said yet."},
		{"short", watched(need.Short, 60, 7*GB), "", 8 * GB, 0, 64, "yes", "ran out of memory while you worked: it has 8 GB"},
		{"short, fitted not known", watched(need.Short, 60, 7*GB), "", 0, 0, 64, "yes",
			"ran out of memory while you worked; with"},
		{"short at one look", watched(need.Short, 1, 7*GB), "", 8 * GB, 0, 64, "?", "can't be said yet"},
		{"short, and uses that want less", watched(need.Short, 60, 7*GB), "browsing", 8 * GB, 0, 64, "yes",
			"ran out of memory while you worked"},
		{"something else, nothing wanted", watched(need.Elsewhere, 60, 3*GB), "", 8 * GB, 0, 64, "no",
			"Memory is not what slows your computer down; more of it would change nothing. It waits for its disk."},
		{"something else, and uses that want more", watched(need.Elsewhere, 60, 3*GB), "vm=3", 8 * GB, 0, 64, "yes",
			"wants about"},
		{"something else, and uses that want no more", watched(need.Elsewhere, 60, 3*GB), "browsing", 8 * GB, 0, 64, "no",
			"Memory is not what slows"},
		{"something else, fitted not known", watched(need.Elsewhere, 60, 3*GB), "browsing", 0, 0, 64, "no",
			"Memory is not what slows"},
		{"comfortable", watched(need.Comfortable, 60, 3*GB), "", 8 * GB, 0, 64, "no", "enough memory for what you did"},
		{"comfortable, and uses that want more", watched(need.Comfortable, 60, 3*GB), "vm=3", 8 * GB, 0, 64, "yes",
			"wants about"},
		{"comfortable at one look", watched(need.Comfortable, 1, 3*GB), "", 8 * GB, 0, 64, "?", "can't be said yet"},
		{"unclear", watched(need.Unclear, 60, 3*GB), "", 8 * GB, 0, 64, "?", "can't be said yet"},
		{"the machine takes no more", none, "browsing,office", 4 * GB, 4 * GB, 64, "no",
			"wants about 6 GB; it has 4 GB, and can't take more."},
		{"the machine takes a little more", none, "vm=3", 4 * GB, 8 * GB, 64, "yes",
			"it has 4 GB, and goes to 8 GB, which helps but is not all."},
		{"a 32-bit system that is full", none, "vm=3", 4 * GB, 0, 32, "no",
			"its 32-bit system uses no more than 4 GB: a 64-bit system comes first."},
		{"a 32-bit system that is not full", none, "vm=3", 2 * GB, 0, 32, "yes",
			"it has 2 GB, and its 32-bit system uses no more than 4 GB."},
	} {
		p := need.BuiltIn()
		uses, err := p.ParseUses(c.uses)
		require.NoError(t, err)
		a := p.Size(need.Question{System: "Linux", Bits: c.bits, Uses: uses, Summary: c.summary,
			Installed: maybe.If(c.have, c.have > 0), Reach: maybe.If(c.reach, c.reach > 0)})
		helps := "?"
		if yes, ok := a.Helps.Get(); ok {
			helps = map[bool]string{true: "yes", false: "no"}[yes]
		}
		assert.Equal(t, c.helps, helps, c.name)
		assert.True(t, strings.Contains(a.Customer, c.says), "%s: %s", c.name, a.Customer)
	}
}

// Where the machine and its system both end below what is wanted, the nearer end is told.
func TestTheNearerEndIsTold(t *testing.T) {
	uses, err := need.BuiltIn().ParseUses("vm=3")
	require.NoError(t, err)
	for reach, want := range map[jedec.Capacity]string{2: "the machine", 8: "its 32-bit system", 3: "the machine",
		64: "its 32-bit system"} {
		a := need.BuiltIn().Size(need.Question{System: "Linux", Bits: 32, Uses: uses, Reach: maybe.Just(reach * jedec.GiB)})
		assert.Equal(t, want, a.Because, reach)
		assert.Equal(t, min(reach, 4)*jedec.GiB, a.Ends.Or(0), reach)
	}
}

// What ran short with all that it has wants more than that, even where its peak and the headroom come to just as much.
func TestWhatRanShortWantsTheNextSize(t *testing.T) {
	for peak, want := range map[jedec.Capacity]jedec.Capacity{4 * jedec.GiB: 12 * jedec.GiB,
		6554 * jedec.MiB: 12 * jedec.GiB, 8 * jedec.GiB / 5 * 4: 12 * jedec.GiB, 10 * jedec.GiB: 16 * jedec.GiB} {
		a := need.BuiltIn().Size(need.Question{Installed: maybe.Just(8 * jedec.GiB), Summary: maybe.Just(need.Summary{
			Samples: 60, Verdict: need.Short, Total: maybe.Just(8 * jedec.GiB), Peak: maybe.Just(peak)})})
		assert.Equal(t, maybe.Just(want), a.Recommended, peak)
	}
	just := need.BuiltIn().Size(need.Question{Installed: maybe.Just(10 * jedec.GiB), Summary: maybe.Just(need.Summary{
		Samples: 60, Verdict: need.Short, Total: maybe.Just(10 * jedec.GiB), Peak: maybe.Just(8 * jedec.GiB)})})
	assert.Contains(t, strings.Join(just.Reasons, "; "), "it was short with 10 GB, so the next size up",
		"the peak and the headroom come to just what it has")
	tight := need.BuiltIn().Size(need.Question{Installed: maybe.Just(8 * jedec.GiB), Summary: maybe.Just(need.Summary{
		Samples: 60, Verdict: need.Tight, Total: maybe.Just(8 * jedec.GiB), Peak: maybe.Just(4 * jedec.GiB)})})
	assert.Equal(t, maybe.Just(6*jedec.GiB), tight.Recommended, "what was merely tight is counted as it was")
}

// A measurement of a system with more memory than the card's machine is another machine's.
func TestHowMuchMoreIsAnotherMachine(t *testing.T) {
	p := need.BuiltIn()
	for total, foreign := range map[jedec.Capacity]bool{8 * jedec.GiB: false, 8*jedec.GiB + 128*jedec.MiB: false,
		8*jedec.GiB + 128*jedec.MiB + 1: true, 7 * jedec.GiB: false} {
		a := p.Size(need.Question{Installed: maybe.Just(8 * jedec.GiB), Summary: maybe.Just(need.Summary{Samples: 60,
			Verdict: need.Comfortable, Total: maybe.Just(total), Peak: maybe.Just(2 * jedec.GiB)})})
		assert.Equal(t, foreign, strings.Contains(strings.Join(a.Warnings, " "), "another machine was watched"), total)
	}
	for total, foreign := range map[jedec.Capacity]bool{528 * jedec.MiB: false, 528*jedec.MiB + 1: true} {
		a := p.Size(need.Question{Installed: maybe.Just(512 * jedec.MiB), Summary: maybe.Just(need.Summary{Samples: 60,
			Total: maybe.Just(total), Peak: maybe.Just(jedec.MiB)})})
		assert.Equal(t, foreign, len(a.Warnings) > 0 && strings.Contains(a.Warnings[0], "another machine"), total)
	}
}

// What slows a computer down where memory does not: what it waits for longest, and the processor where it waits for
// nothing.
func TestWhatElseSlowsAComputer(t *testing.T) {
	for _, c := range []struct {
		disk, cpu maybe.Value[float64]
		want      string
	}{
		{maybe.Just(40.0), maybe.Just(10.0), "It waits for its disk."},
		{maybe.Just(10.0), maybe.Just(40.0), "Its processor is busy."},
		{maybe.Just(10.0), maybe.Just(10.0), "It waits for its disk."},
		{maybe.Just(0.0), maybe.Just(0.0), "Its processor is busy."},
		{maybe.None[float64](), maybe.None[float64](), "Its processor is busy."},
		{maybe.Just(1.0), maybe.None[float64](), "It waits for its disk."},
	} {
		a := need.BuiltIn().Size(need.Question{System: "Linux", Bits: 64, Installed: maybe.Just(8 * jedec.GiB),
			Summary: maybe.Just(need.Summary{Verdict: need.Elsewhere, Samples: 60, DiskStall: c.disk, CPUStall: c.cpu})})
		assert.Contains(t, a.Customer, c.want, "%+v", c)
	}
}
