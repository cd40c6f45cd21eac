package recheck_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/recheck"
	"epitome/core/records"
	"epitome/core/trial"
)

func settled[T comparable](v T) fact.Fact[T] {
	return fact.Known(v)
}

// found is a machine as it is found: a size and a rate for each place, 0 for
// an empty one.
func found(rate jedec.Rate, visible jedec.Capacity, sizes ...int) machine.Machine {
	var m machine.Machine
	total := jedec.Capacity(0)
	for i, gb := range sizes {
		p := machine.Place{Name: fmt.Sprint("D", i+1), Attach: settled(machine.Socket), Filled: settled(gb > 0)}
		if gb > 0 {
			size := jedec.Capacity(gb) * jedec.GiB
			p.Module, p.Running = &module.Module{Facts: module.Facts{Capacity: settled(size)}}, settled(rate)
			total += size
		}
		m.Places = append(m.Places, p)
	}
	m.Totals.Installed, m.Totals.Visible = settled(total), settled(visible)
	return m
}

// planned is a trial that predicts two modules of 8 GB at 2400.
func planned(profile string) trial.Trial {
	x, _ := jedec.GradeAt(jedec.DDR4, 2400)
	t := trial.Trial{Total: 16 * jedec.GiB, Was: 8 * jedec.GiB,
		Operating: maybe.Just(trial.Point{Grade: x, Profile: profile})}
	for i := range 2 {
		t.Seats = append(t.Seats, trial.Seat{Place: fmt.Sprint("D", i+1),
			Stick: module.Module{Facts: module.Facts{Capacity: settled(8 * jedec.GiB)}}, New: i == 1})
	}
	return t
}

// atLeast is the same where nobody publishes the machine's most.
func atLeast() trial.Trial {
	t := planned("")
	p, _ := t.Operating.Get()
	p.AtLeast = true
	t.Operating = maybe.Just(p)
	return t
}

func TestEveryDifferenceHasItsCauses(t *testing.T) {
	const g = jedec.GiB
	before := found(2400, 8*g-200*jedec.MiB, 8, 0)
	for _, c := range []struct {
		says    string
		trial   trial.Trial
		after   machine.Machine
		about   []string
		first   string // the likeliest cause of the first difference
		nothing bool
	}{
		{"all is well", planned(""), found(2400, 16*g-200*jedec.MiB, 8, 8), nil, "", false},
		{"faster than the least that was known", atLeast(), found(2666, 16*g-200*jedec.MiB, 8, 8), nil, "", false},
		{"slower than that", atLeast(), found(2133, 16*g-200*jedec.MiB, 8, 8), []string{"Data rate"},
			"the firmware fell back", false},
		{"faster than the machine's maximum", planned(""), found(2666, 16*g-200*jedec.MiB, 8, 8), []string{"Data rate"},
			"an overclocking profile is on", false},
		{"the new module is not seen", planned(""), found(2400, 8*g-200*jedec.MiB, 8, 0), []string{"D2", "Memory fitted"},
			"the module is not seated", false},
		{"it went into another slot", planned(""), found(2400, 16*g-200*jedec.MiB, 8, 0, 8), []string{"D2", "D3"},
			"the module went into another slot", false},
		{"a smaller one was fitted", planned(""), found(2400, 12*g-200*jedec.MiB, 8, 4), []string{"D2", "Memory fitted"},
			"a different module was fitted", false},
		{"it runs slower", planned(""), found(2133, 16*g-200*jedec.MiB, 8, 8), []string{"Data rate"},
			"the firmware fell back", false},
		{"the profile is off", planned("profile 1"), found(2133, 16*g-200*jedec.MiB, 8, 8), []string{"Data rate"},
			"the overclocking profile is off", false},
		{"it runs faster", planned(""), found(2666, 16*g-200*jedec.MiB, 8, 8), []string{"Data rate"},
			"an overclocking profile is on", false},
		{"a 32-bit system", planned(""), found(2400, 3*g+300*jedec.MiB, 8, 8), []string{"Visible to the system"},
			"a 32-bit system", false},
		{"a 32-bit system that sees all it can", planned(""), found(2400, 4*g, 8, 8), []string{"Visible to the system"},
			"a 32-bit system", false},
		{"a little more than that", planned(""), found(2400, 4*g+1, 8, 8), []string{"Visible to the system"},
			"the system's edition", false},
		{"as much taken as may be", planned(""), found(2400, 15*g-200*jedec.MiB, 8, 8), nil, "", false},
		{"a little more taken", planned(""), found(2400, 15*g-200*jedec.MiB-1, 8, 8), []string{"Visible to the system"},
			"the system's edition", false},
		{"soldered memory runs at a rate of its own", func() trial.Trial {
			p := planned("")
			p.Total = 24 * g
			p.Seats = append(p.Seats, trial.Seat{Place: "D3", Stick: p.Seats[0].Stick, Soldered: true})
			return p
		}(), func() machine.Machine {
			m := found(2400, 24*g-200*jedec.MiB, 8, 8, 8)
			m.Places[2].Attach, m.Places[2].Running = settled(machine.Soldered), settled(jedec.Rate(2133))
			return m
		}(), nil, "", false},
		{"two run at unlike rates", planned(""), func() machine.Machine {
			m := found(2400, 16*g-200*jedec.MiB, 8, 8)
			m.Places[1].Running = settled(jedec.Rate(2133))
			return m
		}(), []string{"Data rate"}, "modules report different rates", false},
		{"an edition's limit", planned(""), found(2400, 8*g, 8, 8), []string{"Visible to the system"},
			"the system's edition", false},
		{"nothing is told", planned(""), machine.Machine{}, nil, "", true},
		{"only what the system sees is told", planned(""),
			machine.Machine{Totals: machine.Totals{Visible: settled(16*g - 200*jedec.MiB)}}, nil, "", true},
		{"one place is not listed", planned(""), func() machine.Machine {
			m := found(2400, 16*g-200*jedec.MiB, 8, 8)
			m.Places = m.Places[:1]
			return m
		}(), nil, "", true},
		{"the total is not told", planned(""), func() machine.Machine {
			m := found(2400, 16*g-200*jedec.MiB, 8, 8)
			m.Totals.Installed = fact.Fact[jedec.Capacity]{}
			return m
		}(), nil, "", true},
		{"the system sees more than was fitted", planned(""),
			machine.Machine{Totals: machine.Totals{Visible: settled(24 * g)}}, nil, "", true},
	} {
		r := recheck.Compare(before, c.trial, c.after)
		var about []string
		for _, d := range r.Differences {
			about = append(about, d.About)
			assert.NotEmpty(t, d.Causes, c.says)
			assert.NotEqual(t, d.Predicted, d.Found, c.says)
		}
		assert.Equal(t, c.about, about, c.says)
		assert.Equal(t, c.about == nil, r.Fine(), c.says)
		assert.Equal(t, !c.nothing, r.Told(), c.says)
		if c.first != "" {
			assert.True(t, strings.HasPrefix(r.Differences[0].Causes[0], c.first), "%s: %s", c.says, r.Differences[0].Causes[0])
		}
		assert.NotEmpty(t, r.NotRead, "timings are never read")
	}
}

// Another machine is said first, and is no difference; a board's name outweighs a model's.
func TestAnotherMachineIsNoDifference(t *testing.T) {
	named := func(m machine.Machine, board, model string) machine.Machine {
		m.Board, m.Model = fact.If(board, board != ""), fact.If(model, model != "")
		return m
	}
	before, after := found(2400, 8*jedec.GiB, 8, 0), found(2133, 4*jedec.GiB, 4, 0)
	for _, c := range []struct{ board, model, otherBoard, otherModel, says string }{
		{"Groyne GBX", "", "GBX", "", ""}, {"Groyne® GBX", "", "groyne gbx", "", ""}, // told shorter, or otherwise
		{"QB-14B", "Gull 14", "GBX", "Breakwater", "its board is GBX, the card's QB-14B"},
		{"QB-14B", "Gull 14", "QB-14B", "Gull 14 2019", ""},
		{"", "Gull 14", "", "Breakwater", "its model is Breakwater, the card's Gull 14"},
		{"", "", "GBX", "Breakwater", ""},
	} {
		r := recheck.Compare(named(before, c.board, c.model), planned(""), named(after, c.otherBoard, c.otherModel))
		assert.Equal(t, c.says, r.Other)
		assert.Equal(t, c.says == "", r.Told(), c.says)
	}
}

// A module of the right size may still be another than was bought.
func TestADifferentModuleIsNamed(t *testing.T) {
	p := planned("")
	p.Seats[1].Stick.Rated, p.Seats[1].Stick.Ranks = settled(jedec.Rate(3200)), settled(1)
	m := found(2400, 16*jedec.GiB, 8, 8)
	m.Places[1].Module.Rated, m.Places[1].Module.Ranks = settled(jedec.Rate(2400)), settled(1)
	r := recheck.Compare(machine.Machine{}, p, m)
	require.Len(t, r.Differences, 1)
	assert.Equal(t, recheck.Difference{About: "Module in D2", Predicted: "3200 MT/s", Found: "2400 MT/s",
		Causes: []string{"a different module was fitted: hold its sticker against the slip"}}, r.Differences[0])
	m.Places[1].Module.Rated, m.Places[1].Module.Ranks = settled(jedec.Rate(3200)), settled(2)
	assert.Equal(t, "2 ranks", recheck.Compare(machine.Machine{}, p, m).Differences[0].Found)
	m.Places[1].Module.Ranks = fact.Of(2, fact.Leaning)
	assert.True(t, recheck.Compare(machine.Machine{}, p, m).Fine(), "what only leans is no difference")
}

func TestAnOutcomeReadsBack(t *testing.T) {
	after := found(2400, 16*jedec.GiB, 8, 8)
	o := recheck.Compare(found(2400, 8*jedec.GiB, 8, 0), planned(""), after).Outcome(after, 2, "2026-11-23")
	data, err := o.Encode()
	require.NoError(t, err)
	back, err := records.ParseOutcome(data)
	require.NoError(t, err)
	assert.Equal(t, "as predicted", back.Result)
	assert.Equal(t, 2, back.Proposal)
	assert.Equal(t, uint64(16384), back.TotalMB)
	assert.Len(t, back.Places, 2)
	for _, bad := range []string{"", "epitome-outcome: 9\n", "colour: red\n"} {
		_, err := records.ParseOutcome([]byte(bad))
		assert.ErrorIs(t, err, records.ErrOutcome, bad)
	}
	assert.Equal(t, []string{"B"},
		records.PlannedPlaces([]byte("ways: [{number: 1, put: [{place: A, from: C}, {place: B}]}, {number: 2, put: "+
			"[{place: D}]}]"), 1))
	assert.Empty(t, records.PlannedPlaces([]byte(":"), 1))
}

func ExampleCompare() {
	r := recheck.Compare(machine.Machine{}, planned(""), found(2133, 16*jedec.GiB, 8, 8))
	for _, d := range r.Differences {
		fmt.Println(d.About, d.Predicted, "predicted,", d.Found, "found")
	}
	// Output: Data rate 2400 MT/s predicted, 2133 MT/s found
}
