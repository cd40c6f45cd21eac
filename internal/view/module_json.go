package view

import (
	"slices"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/stick"
)

type moduleListJSON struct {
	Schema  string      `json:"schema"`
	Modules []stickJSON `json:"modules"`
}

type stickJSON struct {
	From       string                         `json:"from"`
	Kind       string                         `json:"kind"`
	Generation maybe.Value[jedec.Generation]  `json:"generation"`
	Form       maybe.Value[jedec.Form]        `json:"form"`
	Capacity   maybe.Value[jedec.Capacity]    `json:"capacity_mib"`
	Pieces     maybe.Value[int]               `json:"pieces"`
	Ranks      maybe.Value[int]               `json:"ranks"`
	Width      maybe.Value[int]               `json:"device_width_bits"`
	Density    maybe.Value[int]               `json:"density_mbit"`
	DataWidth  maybe.Value[int]               `json:"data_width_bits"`
	ECC        maybe.Value[bool]              `json:"ecc"`
	Registered maybe.Value[bool]              `json:"registered"`
	Rated      maybe.Value[jedec.Rate]        `json:"rated_mts"`
	CL         maybe.Value[float64]           `json:"cl"`
	TCK        maybe.Value[jedec.Picoseconds] `json:"tck_min_ps"`
	TAA        maybe.Value[jedec.Picoseconds] `json:"taa_ps"`
	TRCD       maybe.Value[jedec.Picoseconds] `json:"trcd_ps"`
	TRP        maybe.Value[jedec.Picoseconds] `json:"trp_ps"`
	TRAS       maybe.Value[jedec.Picoseconds] `json:"tras_ps"`
	TRC        maybe.Value[jedec.Picoseconds] `json:"trc_ps"`
	Latencies  []float64                      `json:"cas_latencies"`
	Volts      []float64                      `json:"volts"`
	Maker      jedec.MakerCode                `json:"maker"`
	Part       maybe.Value[string]            `json:"part"`
	Serial     maybe.Value[string]            `json:"serial"`
	Year       maybe.Value[int]               `json:"year"`
	Week       maybe.Value[int]               `json:"week"`
	ChipMaker  jedec.MakerCode                `json:"chip_maker"`
	Notes      []string                       `json:"notes"`
	Checksum   string                         `json:"checksum"`
	Profiles   []profileJSON                  `json:"profiles"`
	Choices    []string                       `json:"choices"`
	Leaning    []hintJSON                     `json:"leaning"`
	Unknown    []string                       `json:"unknown"`
}

type profileJSON struct {
	Name  string               `json:"name"`
	Rate  jedec.Rate           `json:"rate_mts"`
	CL    maybe.Value[float64] `json:"cl"`
	TRCD  maybe.Value[int]     `json:"trcd"`
	TRP   maybe.Value[int]     `json:"trp"`
	TRAS  maybe.Value[int]     `json:"tras"`
	Volts maybe.Value[float64] `json:"volts"`
}

type hintJSON struct {
	Fact  string `json:"fact"`
	Value string `json:"value"`
	Why   string `json:"why"`
}

func clocks(l jedec.Latency) float64 { return float64(l) / 2 }
func volts(mv int) float64           { return float64(mv) / 1000 }

// ModulesJSON returns the value that module --format json writes.
func ModulesJSON(sticks []stick.Stick) any {
	out := moduleListJSON{Schema: "epitome.module.v1", Modules: []stickJSON{}}
	for _, s := range sticks {
		j := stickJSON{
			From: s.From, Kind: s.Kind, Generation: s.Generation, Form: s.Form, Capacity: s.Capacity, Pieces: s.Pieces, Ranks: s.Ranks,
			Width: s.Width, Density: s.Density, DataWidth: s.DataWidth, ECC: s.ECC, Registered: s.Registered,
			Rated: maybe.Map(s.Grade, func(x jedec.Grade) jedec.Rate { return x.Rate }), CL: maybe.Map(s.CL, clocks),
			TCK: s.Times.TCK, TAA: s.Times.TAA, TRCD: s.Times.TRCD, TRP: s.Times.TRP, TRAS: s.Times.TRAS, TRC: s.Times.TRC,
			Maker: s.Maker.Or(jedec.MakerCode{}), Part: orNull(s.Part), Serial: orNull(s.Serial), Year: s.Year, Week: s.Week,
			ChipMaker: s.ChipMaker.Or(jedec.MakerCode{}), Notes: append([]string{}, s.Notes...), Checksum: s.Checksum, Profiles: []profileJSON{}, Choices: []string{}, Leaning: []hintJSON{}, Unknown: append([]string{}, s.Unknown()...),
		}
		for _, l := range slices.Sorted(slices.Values(s.Latencies)) {
			j.Latencies = append(j.Latencies, clocks(l))
		}
		for _, mv := range s.MilliVolts {
			j.Volts = append(j.Volts, volts(mv))
		}
		for _, q := range s.Profiles {
			j.Profiles = append(j.Profiles, profileJSON{q.Name, q.Rate, maybe.Map(q.CL, clocks), q.TRCD, q.TRP, q.TRAS, maybe.Map(q.MilliVolts, volts)})
		}
		for _, x := range s.Choices {
			j.Choices = append(j.Choices, x.String())
		}
		for _, h := range s.Leaning {
			j.Leaning = append(j.Leaning, hintJSON(h))
		}
		out.Modules = append(out.Modules, j)
	}
	return out
}
