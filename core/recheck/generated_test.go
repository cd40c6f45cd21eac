package recheck_test

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/recheck"
	"epitome/core/trial"
	"epitome/golden"
	"epitome/truth/effort"
)

// dealt is a fact by chance: settled, leaning or not known.
func dealt[T comparable](r *rand.Rand, values ...T) fact.Fact[T] {
	v := values[r.IntN(len(values))]
	switch r.IntN(6) {
	case 0:
		return fact.Fact[T]{}
	case 1:
		return fact.Of(v, fact.Leaning)
	}
	return fact.Known(v)
}

// stick is a module by chance, mostly of 8 GB.
func stick(r *rand.Rand) module.Module {
	return module.Module{Facts: module.Facts{Capacity: dealt(r, 8*jedec.GiB, 8*jedec.GiB, 8*jedec.GiB, 4*jedec.GiB),
		Ranks: dealt(r, 1, 1, 2), Rated: dealt(r, jedec.Rate(2400), 2400, 2666)}}
}

// checked is a prediction and what is found, by chance.
func checked(r *rand.Rand) (before machine.Machine, plan trial.Trial, after machine.Machine) {
	for i := range 1 + r.IntN(4) {
		name, channel := fmt.Sprint("D", i+1), []string{"A", "B", ""}[r.IntN(3)]
		s := stick(r)
		if r.IntN(4) > 0 {
			plan.Seats = append(plan.Seats, trial.Seat{Place: name, Channel: channel, Stick: s, New: r.IntN(2) == 0,
				Soldered: r.IntN(8) == 0})
			plan.Total += s.Capacity.Or(0)
		}
		if r.IntN(6) == 0 {
			continue // not listed
		}
		found := s
		if r.IntN(4) == 0 {
			found = stick(r)
		}
		p := machine.Place{Name: strings.ToLower(name), Attach: dealt(r, machine.Socket, machine.Socket, machine.Soldered),
			Filled: dealt(r, true, true, true, false), Channel: dealt(r, "A", "B")}
		if p.Filled.Or(true) {
			p.Module, p.Running = &found, dealt(r, jedec.Rate(2400), 2400, 2400, 2133, 2666)
		}
		after.Places = append(after.Places, p)
	}
	if r.IntN(4) > 0 {
		x, _ := jedec.GradeAt(jedec.DDR4, 2400)
		plan.Operating = maybe.Just(trial.Point{Grade: x, Profile: []string{"", "", "profile 1"}[r.IntN(3)]})
	}
	plan.Was = plan.Total / 2
	after.Totals.Installed = dealt(r, plan.Total, plan.Total, plan.Was, 2*plan.Total)
	after.Totals.Visible = dealt(r, plan.Total-200*jedec.MiB, plan.Total-200*jedec.MiB, 3500*jedec.MiB, plan.Was,
		plan.Total*7/8, 2*plan.Total)
	before.Totals.Visible = dealt(r, plan.Was-200*jedec.MiB, plan.Was)
	before.Totals.Installed = dealt(r, plan.Was)
	before.Board, after.Board = dealt(r, "GBX"), dealt(r, "GBX", "gbx ", "GBX", "QB-3")
	before.Model, after.Model = dealt(r, "Gull 3"), dealt(r, "Gull 3", "Gull 3", "Gull 14")
	return before, plan, after
}

// What differs is said with figures and what to look at; what is right and what was not read is never among it; a place
// counts as right only where what was found there is what was predicted.
func TestChanceDifferencesAreTrue(t *testing.T) {
	r := rand.New(rand.NewPCG(23, 3))
	fine, told := 0, 0
	for n := range effort.Cases(1500) {
		before, plan, after := checked(r)
		got := recheck.Compare(before, plan, after)
		if got.Fine() {
			fine++
			for _, s := range got.Seats {
				assert.True(t, s.Right || strings.HasPrefix(s.Found, "not "), "case %d: nothing differs, and %+v", n, s)
			}
		}
		if got.Told() {
			told++
			assert.True(t, !got.Fine() || len(got.Right) > 0, n)
		}
		what := make(map[string]bool)
		for _, d := range got.Differences {
			assert.NotEqual(t, d.Predicted, d.Found, "case %d: %+v", n, d)
			assert.NotEmpty(t, d.About, n)
			assert.NotEmpty(t, d.Causes, "case %d: %+v", n, d)
			what[d.About] = true
		}
		for _, x := range got.Right {
			assert.False(t, what[x.About], "case %d: %s differs and is right", n, x.About)
		}
	}
	assert.Positive(t, fine)
	assert.Greater(t, told, effort.Cases(1500)/2)
}

// A machine that is found just as predicted has no difference, whatever it does not tell.
func TestChanceWhatWasPredictedIsFound(t *testing.T) {
	r := rand.New(rand.NewPCG(23, 4))
	for n := range effort.Cases(800) {
		before, plan, _ := checked(r)
		var after machine.Machine
		for _, s := range plan.Seats {
			stick := s.Stick
			p := machine.Place{Name: strings.ToLower(s.Place), Attach: fact.Known(machine.Socket), Filled: fact.Known(true),
				Module: &stick}
			if s.Soldered {
				p.Attach = fact.Known(machine.Soldered)
			}
			if point, ok := plan.Operating.Get(); ok && point.Profile == "" {
				p.Running = fact.Known(point.Grade.Rate)
			}
			after.Places = append(after.Places, p)
		}
		after.Totals.Installed = fact.Known(plan.Total)
		got := recheck.Compare(before, plan, after)
		assert.Empty(t, got.Differences, "case %d: %+v", n, plan)
	}
}

// Some rechecks in full: what differs and why, what is right and what was not read.
func TestRechecksInFull(t *testing.T) {
	var page golden.Page
	for _, n := range []uint64{1, 4, 9, 16, 25, 36, 49, 64} {
		got := recheck.Compare(checked(rand.New(rand.NewPCG(23, n))))
		var lines []string
		for _, d := range got.Differences {
			lines = append(lines, fmt.Sprintf("differs: %+v", d))
		}
		for _, x := range got.Right {
			lines = append(lines, fmt.Sprintf("right: %+v", x))
		}
		for _, s := range got.Seats {
			lines = append(lines, fmt.Sprintf("seat: %+v", s))
		}
		page.Add(fmt.Sprintf("not read: %q; other %q; %v found; fine %v, told %v", got.NotRead, got.Other, got.Total,
			got.Fine(), got.Told()), lines...)
	}
	page.Compare(t, "testdata/in-full.txt")
}
