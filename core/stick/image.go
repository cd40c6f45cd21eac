package stick

import (
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/spd"
)

// FromImage takes what an EEPROM image says. from names the image for showing.
// Errors are package spd's.
func FromImage(from string, image []byte) (Stick, error) {
	m, err := spd.Decode(image)
	if err != nil {
		return Stick{}, err
	}
	s := Stick{From: from, Kind: "EEPROM", Generation: maybe.Just(m.Generation), Form: maybe.If(m.Form, m.Form != jedec.FormUnknown),
		Capacity: m.Capacity, Ranks: m.Ranks, Width: m.Width, Density: m.Density, DataWidth: m.DataWidth, Dies: m.Dies, Stacked: m.Stacked,
		Times:     Times{TCK: m.TCK, TAA: m.TAA, TRCD: m.TRCD, TRP: m.TRP, TRAS: m.TRAS, TRC: m.TRC},
		Latencies: m.Latencies, MilliVolts: m.MilliVolts, Part: m.Part, Serial: m.Serial, Year: m.Year, Week: m.Week,
		Maker: maybe.If(m.Maker, m.Maker.Known()), ChipMaker: maybe.If(m.ChipMaker, m.ChipMaker.Known()),
		HeightMM: m.HeightMM, Thermal: m.Thermal, Revision: m.Revision, Checksum: m.Checksum(), Notes: m.Notes}
	if m.Kind != jedec.KindUnknown {
		s.Registered, s.Clocked = maybe.Just(m.Kind.Registered()), maybe.Just(m.Kind == jedec.Clocked || m.Kind == jedec.ClockedECC)
	}
	if check, ok := m.CheckBits.Get(); ok {
		s.ECC = maybe.Just(check > 0)
	}
	for _, c := range m.Checks {
		s.Checks = append(s.Checks, c.String())
	}
	if grade, ok := m.Grade(); ok {
		s.Grade = maybe.Just(grade)
		if t, ok := s.At(grade); ok {
			s.Timing, s.CL = maybe.Just(t), maybe.Just(t.CL)
		}
	}
	for _, p := range m.Profiles {
		s.Profiles = append(s.Profiles, Profile{Name: p.Name, Rate: p.Rate, CL: p.CL, TRCD: p.TRCD, TRP: p.TRP, TRAS: p.TRAS, MilliVolts: p.MilliVolts})
	}
	return s, nil
}

// At returns the timings that the stick keeps at a grade of its generation, by
// the generation's rounding rule from its minimum times, with a CAS latency
// that it supports. ok is false where a time or the latencies are not stated,
// where none is long enough, or where the grade is faster than the stick's.
func (s Stick) At(x jedec.Grade) (jedec.Timing, bool) {
	own, ok1 := s.Grade.Get()
	taa, ok2 := s.Times.TAA.Get()
	trcd, ok3 := s.Times.TRCD.Get()
	trp, ok4 := s.Times.TRP.Get()
	if !ok1 || !ok2 || !ok3 || !ok4 || own.Generation != x.Generation || x.Rate > own.Rate {
		return jedec.Timing{}, false
	}
	supported := s.Latencies
	if len(supported) == 0 && s.Kind != "EEPROM" {
		supported = jedec.StandardLatencies(x.Generation)
	}
	cl, ok := jedec.CAS(x, taa, supported)
	if !ok {
		return jedec.Timing{}, false
	}
	return jedec.Timing{CL: cl, TRCD: x.Generation.Clocks(trcd, x.TCK), TRP: x.Generation.Clocks(trp, x.TCK)}, true
}
