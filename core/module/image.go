package module

import (
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/spd"
)

// FromImage takes what an EEPROM image says. from names the image for showing.
// Errors are package spd's.
func FromImage(from string, image []byte) (Module, error) {
	m, err := spd.Decode(image)
	if err != nil {
		return Module{}, err
	}
	s := Module{From: from, Kind: EEPROM, Revision: m.Revision, Checksum: m.Checksum(), Notes: m.Notes, Itself: m.Itself,
		Locked: m.Locked}
	s.Generation, s.Form, s.Capacity = fact.Known(m.Generation), fact.If(m.Form,
		m.Form != jedec.FormUnknown), fact.From(m.Capacity)
	if m.SizeDisputed {
		s.Capacity = s.Capacity.Disputed(fact.Support{Source: "module EEPROM", Says: strings.Join(m.Itself, "; ")})
	}
	s.Ranks, s.Width, s.DataWidth = fact.From(m.Ranks), fact.From(m.Width), fact.From(m.DataWidth)
	s.Density, s.Dies = fact.From(m.Density), fact.From(m.Dies)
	s.Stacked = fact.Known(m.Stacked)
	s.Times = Times{TCK: fact.From(m.TCK), TAA: fact.From(m.TAA), TRCD: fact.From(m.TRCD), TRP: fact.From(m.TRP),
		TRAS: fact.From(m.TRAS), TRC: fact.From(m.TRC)}
	s.Latencies = fact.If(jedec.LatenciesOf(m.Latencies...), len(m.Latencies) > 0)
	s.Supplies = fact.If(jedec.SuppliesOf(m.MilliVolts...), len(m.MilliVolts) > 0)
	s.Part, s.Serial, s.Year, s.Week = fact.If(m.Part, m.Part != ""), fact.If(m.Serial,
		m.Serial != ""), fact.From(m.Year), fact.From(m.Week)
	s.MakerCode, s.ChipMaker = fact.If(m.Maker, m.Maker.Known()), fact.If(m.ChipMaker, m.ChipMaker.Known())
	// A code without a name in the list says nothing that firmware's name does
	// not say better.
	s.Maker = fact.If(m.Maker.String(), m.Maker.Known() && m.Maker.Name() != "")
	s.HeightMM, s.Thickness, s.Thermal = fact.From(m.HeightMM), fact.From(m.Thickness), fact.From(m.Thermal)
	s.CheckBits, s.PMIC = fact.From(m.CheckBits), fact.If(m.PMIC, m.PMIC != "")
	if m.Kind != jedec.KindUnknown {
		s.setBuffering(m.Kind)
	}
	if check, ok := m.CheckBits.Get(); ok {
		s.ECC = fact.Known(check > 0)
	}
	for _, c := range m.Checks {
		s.Checks = append(s.Checks, c.String())
	}
	if grade, ok := m.Grade(); ok {
		s.Rated = fact.Known(grade.Rate)
		if t, ok := s.At(grade); ok {
			s.Timing, s.CL = fact.Known(t), fact.Known(t.CL)
		}
	}
	for _, p := range m.Profiles {
		s.Profiles = append(s.Profiles,
			Profile{Name: p.Name, Rate: p.Rate, CL: p.CL, TRCD: p.TRCD, TRP: p.TRP, TRAS: p.TRAS, MilliVolts: p.MilliVolts})
	}
	return s, nil
}

// At returns the timings that the stick keeps at a grade of its generation, by
// the generation's rounding rule from its minimum times, with a CAS latency
// that it supports. ok is false where a time or the latencies are not stated,
// where none is long enough, or where the grade is faster than the stick's.
func (s *Module) At(x jedec.Grade) (jedec.Timing, bool) {
	own, ok1 := s.Grade().Get()
	times := s.Times
	if s.Kind != EEPROM {
		times = s.SoldTimes()
	}
	taa, ok2 := times.TAA.Get()
	trcd, ok3 := times.TRCD.Get()
	trp, ok4 := times.TRP.Get()
	if !ok1 || !ok2 || !ok3 || !ok4 || own.Generation != x.Generation || x.Rate > own.Rate {
		return jedec.Timing{}, false
	}
	supported := s.Latencies.Or(jedec.Latencies{}).List()
	if len(supported) == 0 && s.Kind != EEPROM {
		supported = jedec.StandardLatencies(x.Generation)
	}
	cl, ok := jedec.CAS(x, taa, supported)
	if !ok {
		return jedec.Timing{}, false
	}
	return jedec.Timing{CL: cl, TRCD: x.Generation.Clocks(trcd, x.TCK), TRP: x.Generation.Clocks(trp, x.TCK)}, true
}
