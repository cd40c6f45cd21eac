package narrow_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/narrow"
)

func names(t *testing.T, c narrow.Clues) []string {
	t.Helper()
	r, err := narrow.From(c)
	require.NoError(t, err)
	var out []string
	for _, x := range r.Candidates {
		out = append(out, x.String())
	}
	return out
}

func TestContactsTellTheGeneration(t *testing.T) {
	assert.Equal(t, []string{"DDR3 SO-DIMM"}, names(t, narrow.Clues{Contacts: maybe.Just(204)}))
	assert.Equal(t, []string{"DDR4 SO-DIMM"}, names(t, narrow.Clues{Contacts: maybe.Just(260)}))
	assert.Equal(t, []string{"DDR SO-DIMM", "DDR2 SO-DIMM"}, names(t, narrow.Clues{Contacts: maybe.Just(200)}))
	assert.Equal(t, []string{"DDR2 DIMM", "DDR3 DIMM"},
		names(t, narrow.Clues{Contacts: maybe.Just(240), Form: maybe.Just(jedec.DIMM)}))
	assert.Empty(t, names(t, narrow.Clues{Contacts: maybe.Just(300)}))
}

func TestTheNotchTellsDDR2FromDDR3(t *testing.T) {
	dimm := narrow.Clues{Contacts: maybe.Just(240), Form: maybe.Just(jedec.DIMM)}
	dimm.NotchMM = maybe.Just(54.0)
	assert.Equal(t, []string{"DDR3 DIMM"}, names(t, dimm))
	dimm.NotchMM = maybe.Just(71.0)
	assert.Equal(t, []string{"DDR2 DIMM"}, names(t, dimm))
	// What the table does not hold excludes nothing.
	assert.Contains(t, names(t, narrow.Clues{NotchMM: maybe.Just(71.0)}), "DDR5 DIMM")
}

func TestAFigureInMHzIsReadBothWays(t *testing.T) {
	r, err := narrow.From(narrow.Clues{MHz: maybe.Just(800.0), Form: maybe.Just(jedec.SODIMM)})
	require.NoError(t, err)
	require.Len(t, r.Candidates, 3)
	assert.Equal(t, "DDR2 SO-DIMM", r.Candidates[0].String())
	assert.Equal(t, "rate", r.Candidates[0].As)
	assert.Equal(t, "DDR3 SO-DIMM", r.Candidates[1].String())
	assert.Equal(t, "rate or clock", r.Candidates[1].As, "DDR3-800, or the clock of DDR3-1600")
	assert.Equal(t, "DDR4 SO-DIMM", r.Candidates[2].String())
	assert.Equal(t, "clock", r.Candidates[2].As)
	assert.Equal(t, []jedec.Grade{mustGrade(t, "DDR4-1600")}, r.Candidates[2].Grades)
}

func mustGrade(t *testing.T, s string) jedec.Grade {
	x, _, err := jedec.ParseGrade(s)
	require.NoError(t, err)
	return x
}

func TestTwelveGigabytesInTwoSlots(t *testing.T) {
	r, err := narrow.From(narrow.Clues{Total: maybe.Just(12 * jedec.GiB), Slots: maybe.Just(2),
		Form: maybe.Just(jedec.SODIMM)})
	require.NoError(t, err)
	sets := make(map[string][]string)
	for _, x := range r.Candidates {
		for _, s := range x.Sets {
			sets[x.String()] = append(sets[x.String()], s.String())
		}
	}
	assert.Equal(t, map[string][]string{
		"DDR3 SO-DIMM": {"8 GB + 4 GB"}, "DDR4 SO-DIMM": {"8 GB + 4 GB"}, "DDR5 SO-DIMM": {"12 GB"}}, sets)
	assert.Contains(t, r.Notes[0], "no module of 6 GB exists")
	assert.Contains(t, r.Notes[1], "may be soldered")
}

// Sets against plain enumeration of every way to fill the slots.
func TestSetsAgainstPlainEnumeration(t *testing.T) {
	sizes := jedec.ModuleSizes(jedec.DDR5)
	for total := 4 * jedec.GiB; total <= 128*jedec.GiB; total += 4 * jedec.GiB {
		want := make(map[string]bool)
		var try func(set narrow.Set, from int)
		try = func(set narrow.Set, from int) {
			var sum jedec.Capacity
			for _, c := range set {
				sum += c
			}
			if sum == total && len(set) > 0 {
				want[set.String()] = true
			}
			if len(set) == 3 {
				return
			}
			for i := from; i >= 0; i-- {
				try(append(append(narrow.Set{}, set...), sizes[i]), i)
			}
		}
		try(nil, len(sizes)-1)
		got := make(map[string]bool)
		for _, s := range narrow.Sets(total, 3, sizes) {
			assert.False(t, got[s.String()], "%v twice", s)
			got[s.String()] = true
		}
		assert.Equal(t, want, got, "%v", total)
	}
}

func TestContradictoryCluesNameEveryObjection(t *testing.T) {
	r, err := narrow.From(narrow.Clues{Contacts: maybe.Just(204), MilliVolts: maybe.Just(1200)})
	require.NoError(t, err)
	assert.Empty(t, r.Candidates)
	for _, e := range r.Excluded {
		switch {
		case e.Generation == jedec.DDR3 && e.Form == jedec.SODIMM:
			assert.Equal(t, []string{"runs at 1.5 V"}, e.Why)
		case e.Generation == jedec.DDR4 && e.Form == jedec.SODIMM:
			assert.Equal(t, []string{"has 260 contacts"}, e.Why)
		case e.Generation == jedec.DDR2 && e.Form == jedec.SODIMM:
			assert.Equal(t, []string{"has 200 contacts", "runs at 1.8 V"}, e.Why)
		}
	}
}

func TestTheBestLookSplits(t *testing.T) {
	r, err := narrow.From(narrow.Clues{Contacts: maybe.Just(240), Form: maybe.Just(jedec.DIMM)})
	require.NoError(t, err)
	look, ok := r.Look.Get()
	require.True(t, ok)
	assert.Equal(t, "where the notch lies, from the left end with the label towards you", look.At)
	assert.Equal(t, []string{"70.7 mm: DDR2 DIMM", "54.7 mm: DDR3 DIMM"}, look.Splits)
	withFigure, err := narrow.From(narrow.Clues{Contacts: maybe.Just(240), Form: maybe.Just(jedec.DIMM),
		MHz: maybe.Just(800.0)})
	require.NoError(t, err)
	assert.Equal(t, look.At, withFigure.Look.Or(narrow.Look{}).At, "a figure is no notch")
	notched, err := narrow.From(narrow.Clues{Form: maybe.Just(jedec.DIMM), NotchMM: maybe.Just(54.7)})
	require.NoError(t, err)
	assert.NotEqual(t, look.At, notched.Look.Or(narrow.Look{}).At, "what was measured is not asked")
	r, err = narrow.From(narrow.Clues{Contacts: maybe.Just(204)})
	require.NoError(t, err)
	assert.False(t, r.Look.Known(), "one candidate needs no further look")
}

func TestEveryExclusionHasAReason(t *testing.T) {
	r, err := narrow.From(narrow.Clues{Year: maybe.Just(2012), Form: maybe.Just(jedec.SODIMM),
		MilliVolts: maybe.Just(1350)})
	require.NoError(t, err)
	require.Len(t, r.Candidates, 1)
	assert.Equal(t, "DDR3 SO-DIMM", r.Candidates[0].String())
	total := 0
	for _, g := range jedec.Generations() {
		total += len(g.Trait().Forms)
	}
	assert.Equal(t, total, len(r.Candidates)+len(r.Excluded))
	for _, e := range r.Excluded {
		assert.NotEmpty(t, e.Why)
	}
}

// A year leaves what was sold in it: a year before a generation's first, two
// after its last, and no more.
func TestAYearIsHeldAgainstWhatWasSoldThen(t *testing.T) {
	for year, want := range map[int]string{
		1998: "SDR", 1999: "SDR DDR", 2006: "SDR DDR DDR2 DDR3", 2007: "DDR DDR2 DDR3", 2009: "DDR2 DDR3",
		2012: "DDR2 DDR3", 2013: "DDR3 DDR4", 2018: "DDR3 DDR4", 2019: "DDR4", 2020: "DDR4 DDR5",
	} {
		r, err := narrow.From(narrow.Clues{Year: maybe.Just(year), Form: maybe.Just(jedec.DIMM)})
		require.NoError(t, err)
		var got []string
		for _, c := range r.Candidates {
			got = append(got, c.Generation.String())
		}
		assert.Equal(t, want, strings.Join(got, " "), "%d", year)
	}
}

func TestMarkings(t *testing.T) {
	assert.Equal(t, []string{"DDR3 SO-DIMM"}, names(t, narrow.Clues{Marking: "PC3-10600S"}))
	r, err := narrow.From(narrow.Clues{Marking: "M471A9Z99ZZ9-CTD"})
	require.NoError(t, err)
	assert.Contains(t, r.Notes[0], "suggests generation DDR4", "a part number leans and excludes nothing")
	assert.Greater(t, len(r.Candidates), 10)
	r, err = narrow.From(narrow.Clues{Marking: "made in a hurry"})
	require.NoError(t, err)
	assert.Contains(t, r.Notes[0], "follows no standard")
	_, err = narrow.From(narrow.Clues{Marking: "PC3-11000"})
	require.ErrorIs(t, err, narrow.ErrClue)
}

func TestNotesOfASystemPanel(t *testing.T) {
	for note, says := range map[string]string{
		"4.0 GB (3.89 usable)":         "usual share of graphics",
		"4,00 GB (2,96 GB verwendbar)": "32-bit system",
		"8 GB (5.9 GB usable)":         "large graphics share",
		"16.0 GB (7.9 GB usable)":      "a module that is not recognised",
		"8 GB (8 GB usable)":           "all of it is usable",
	} {
		r, err := narrow.From(narrow.Clues{Note: note})
		require.NoError(t, err, note)
		require.NotEmpty(t, r.Notes, note)
		assert.Contains(t, r.Notes[0], says, note)
	}
	for _, note := range []string{"lots", "4 GB (5 GB usable)", "0 GB", "4.0.0 GB"} {
		_, err := narrow.From(narrow.Clues{Note: note})
		require.ErrorIs(t, err, narrow.ErrClue, note)
	}
	_, err := narrow.From(narrow.Clues{Note: "4 GB", Total: maybe.Just(8 * jedec.GiB)})
	require.ErrorIs(t, err, narrow.ErrClue)
}

// A total that no modules make is likeliest one less what graphics took; one that is too far below stays none.
func TestATotalLessGraphics(t *testing.T) {
	r, err := narrow.From(narrow.Clues{Total: maybe.Just(7 * jedec.GiB), Slots: maybe.Just(2),
		Form: maybe.Just(jedec.SODIMM), Contacts: maybe.Just(260)})
	require.NoError(t, err)
	require.Len(t, r.Candidates, 1)
	assert.Equal(t, jedec.GiB, r.Candidates[0].Graphics)
	assert.Equal(t, "8 GB", r.Candidates[0].Sets[0].String())
	assert.Contains(t, r.Notes[0], "8 GB less 1 GB that graphics took")
	r, err = narrow.From(narrow.Clues{Total: maybe.Just(13 * jedec.GiB), Slots: maybe.Just(1), Contacts: maybe.Just(260)})
	require.NoError(t, err)
	assert.Empty(t, r.Candidates, "16 GB less 3 GB is no share of graphics")
	r, err = narrow.From(narrow.Clues{Total: maybe.Just(8 * jedec.GiB), Slots: maybe.Just(2), Contacts: maybe.Just(260)})
	require.NoError(t, err)
	assert.Zero(t, r.Candidates[0].Graphics)
}

// Slots that were counted stand above those that a note says are used.
func TestCountedSlotsStandAboveANotesOwn(t *testing.T) {
	for counted, want := range map[int]int{0: 1, 2: 2} {
		r, err := narrow.From(narrow.Clues{Note: "8.0 GB (7.9 GB usable)\nSlots used: 1 of 2", Contacts: maybe.Just(260),
			Slots: maybe.If(counted, counted > 0)})
		require.NoError(t, err)
		most := 0
		for _, set := range r.Candidates[0].Sets {
			most = max(most, len(set))
		}
		assert.Equal(t, want, most)
	}
}
