package stick

import (
	"fmt"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// A Key is what a description came to, without its own words: two sticks of one
// key are told apart by nothing but how they were described. It is comparable.
type Key struct {
	kind, part, serial, checksum   string
	generation                     maybe.Value[jedec.Generation]
	form                           maybe.Value[jedec.Form]
	capacity                       maybe.Value[jedec.Capacity]
	pieces, ranks, width, density  maybe.Value[int]
	dataWidth, dies, year, week    maybe.Value[int]
	ecc, registered, clocked       maybe.Value[bool]
	gradeOf                        maybe.Value[jedec.Generation]
	rate                           jedec.Rate // of the grade
	timing                         maybe.Value[jedec.Timing]
	cl                             maybe.Value[jedec.Latency]
	times                          Times
	maker, chips                   maybe.Value[jedec.MakerCode]
	stacked                        bool
	supplies, profiles, lists, odd string
	label                          string
}

// Key returns the stick's key.
func (s *Stick) Key() Key {
	k := Key{
		kind: s.Kind, part: s.Part, serial: s.Serial, checksum: s.Checksum,
		generation: s.Generation, form: s.Form, capacity: s.Capacity,
		pieces: s.Pieces, ranks: s.Ranks, width: s.Width, density: s.Density,
		dataWidth: s.DataWidth, dies: s.Dies, year: s.Year, week: s.Week,
		ecc: s.ECC, registered: s.Registered, clocked: s.Clocked,
		timing: s.Timing, cl: s.CL, times: s.Times,
		maker: s.Maker, chips: s.ChipMaker, stacked: s.Stacked,
	}
	if x, ok := s.Grade.Get(); ok {
		k.gradeOf, k.rate = maybe.Just(x.Generation), x.Rate
	}
	if l, ok := s.Label.Get(); ok {
		k.label = fmt.Sprintf("%+v", l)
	}
	if len(s.MilliVolts) > 0 {
		k.supplies = fmt.Sprint(s.MilliVolts)
	}
	if len(s.Profiles) > 0 {
		k.profiles = fmt.Sprint(s.Profiles)
	}
	if len(s.Latencies)+len(s.Choices)+len(s.Leaning) > 0 {
		k.lists = fmt.Sprint(s.Latencies, s.Choices, s.Leaning)
	}
	if len(s.Checks)+len(s.Notes) > 0 || s.HeightMM.Known() || s.Thermal.Known() || s.Revision != "" {
		k.odd = fmt.Sprint(s.Checks, s.Notes, s.HeightMM, s.Thermal, s.Revision)
	}
	return k
}
