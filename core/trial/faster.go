package trial

import (
	"slices"

	"epitome/core/ceiling"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/rule"
)

// A Faster answers whether a module pays that is rated above what the machine runs it at.
type Faster struct {
	Stick   string             // as Describe says it
	Rated   jedec.Rate         // by its grade, or by its profile where that is faster
	Profile bool               // Rated is a profile's
	Runs    Point              // here, without a profile
	With    maybe.Value[Point] // with the profile selected, where nothing forbids it
	Not     string             // why the profile can't be selected, or what is not known of it
	May     string             // what decides whether the machine selects profiles; empty where nobody states it
	Likely  bool               // what decides it is not settled
	Plain   jedec.Grade        // the slowest grade without a profile that runs as fast here as any
	Slows   bool               // a plain module of that grade runs faster than this one without its profile
}

// Pays works out whether the fastest of the new modules of a trial pays; ok is false where none is rated above what it
// runs at.
func Pays(m machine.Machine, l ceiling.Limits, plan Plan, t Trial) (f Faster, ok bool) {
	runs, known := t.Operating.Get()
	if !known || plan.Profile {
		return f, false
	}
	var best *Seat
	for i := range t.Seats {
		s := &t.Seats[i]
		rated, profile := s.Stick.Rated.Or(0), jedec.Rate(0)
		for _, p := range s.Stick.Profiles {
			profile = max(profile, p.Rate)
		}
		if top := max(rated, profile); s.New && top > max(f.Rated, runs.Grade.Rate) {
			best, f.Rated, f.Profile = s, top, profile > rated
		}
	}
	if best == nil {
		return f, false
	}
	f.Stick, f.Runs = Describe(best.Stick), runs
	if f.Profile {
		f.selected(m, l, plan)
	}
	top := jedec.Rate(0)
	for _, g := range jedec.Grades(best.Stick.Generation.Or(runs.Grade.Generation)) {
		if x, ok := plainly(m, l, plan, g); ok && x.Grade.Rate > top {
			top, f.Plain = x.Grade.Rate, g
		}
	}
	f.Slows = top > runs.Grade.Rate
	return f, top > 0
}

// selected says what comes of the profile.
func (f *Faster) selected(m machine.Machine, l ceiling.Limits, plan Plan) {
	for _, c := range l.On(ceiling.Profiles) {
		if _, stated := c.Allowed.Get(); stated && c.Holds() {
			f.May, f.Likely = c.Says, c.Standing < fact.Settled
		}
	}
	plan.Profile = true
	fast, err := Run(m, l, plan)
	if err != nil {
		f.Not = err.Error()
		return
	}
	if !rule.Outcome(fast.Verdict).Against() {
		f.With = fast.Operating
	}
	for _, r := range fast.Reasons {
		said := r.Rule == "profile" && r.Outcome == rule.Likely && f.Likely // by May
		if (r.Rule == "profile" || r.Rule == "unlike") && r.Outcome > rule.Reduced && !said && f.Not == "" {
			f.Not = r.Says
		}
	}
}

// plainly is how the machine would run with modules of one grade, without a profile, in place of the new ones.
func plainly(m machine.Machine, l ceiling.Limits, plan Plan, g jedec.Grade) (Point, bool) {
	plain := plan
	plain.Sticks, plain.Put = slices.Clone(plan.Sticks), slices.Clone(plan.Put)
	for i := range plain.Sticks {
		plain.Sticks[i].Rated, plain.Sticks[i].Profiles = fact.Of(g.Rate, fact.Settled), nil
	}
	for i := range plain.Put {
		if plain.Put[i].From == "" {
			plain.Put[i].Stick.Rated, plain.Put[i].Stick.Profiles = fact.Of(g.Rate, fact.Settled), nil
		}
	}
	t, err := Run(m, l, plain)
	if err != nil {
		return Point{}, false
	}
	return t.Operating.Get()
}
