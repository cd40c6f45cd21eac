package view

import (
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/stick"
	"epitome/core/trial"
)

type pointJSON struct {
	Rate      jedec.Rate                     `json:"rate_mts"`
	CL        maybe.Value[float64]           `json:"cl"`
	TRCD      maybe.Value[int]               `json:"trcd"`
	TRP       maybe.Value[int]               `json:"trp"`
	TRAS      maybe.Value[int]               `json:"tras"`
	TRC       maybe.Value[int]               `json:"trc"`
	Latency   maybe.Value[jedec.Picoseconds] `json:"latency_ps"`
	Volts     maybe.Value[float64]           `json:"volts"`
	Profile   maybe.Value[string]            `json:"profile"`
	BoundBy   map[string]string              `json:"bound_by"`
	Bandwidth int                            `json:"bandwidth_mbs"`
}

func pointsJSON(v maybe.Value[trial.Point]) any {
	p, ok := v.Get()
	if !ok {
		return nil
	}
	j := pointJSON{Rate: p.Grade.Rate, TRAS: p.TRAS, TRC: p.TRC, Volts: maybe.Map(p.MilliVolts, volts), Profile: orNull(p.Profile),
		BoundBy: map[string]string{}, Bandwidth: p.Bandwidth,
		CL: maybe.If(clocks(p.Timing.CL), p.TimesKnown), Latency: maybe.If(p.Latency, p.TimesKnown),
		TRCD: maybe.If(p.Timing.TRCD, p.TRCDKnown), TRP: maybe.If(p.Timing.TRP, p.TRCDKnown)}
	for _, b := range p.BoundBy {
		j.BoundBy[b.Figure] = b.By
	}
	return j
}

type reasonJSON struct {
	Rule    string              `json:"rule"`
	Outcome trial.Outcome       `json:"outcome"`
	Says    string              `json:"says"`
	Source  string              `json:"source"`
	Missing maybe.Value[string] `json:"missing"`
}

func reasonsJSON(reasons []trial.Reason) []reasonJSON {
	out := []reasonJSON{}
	for _, r := range reasons {
		out = append(out, reasonJSON{r.Rule, r.Outcome, r.Says, r.Source, orNull(r.Missing)})
	}
	return out
}

// MixedJSON returns the value that mix --format json writes.
func MixedJSON(sticks []stick.Stick, m trial.Mixed) any {
	type group struct {
		Name      string         `json:"name"`
		Sticks    []string       `json:"sticks"`
		Total     jedec.Capacity `json:"total_mib"`
		Verdict   trial.Verdict  `json:"verdict"`
		Operating any            `json:"operating"`
	}
	groups, unsorted := []group{}, []string{}
	for _, g := range m.Groups {
		j := group{Name: g.Names, Sticks: []string{}, Total: g.Total, Verdict: g.Verdict, Operating: pointsJSON(g.Operating)}
		for _, i := range g.Sticks {
			j.Sticks = append(j.Sticks, sticks[i].From)
		}
		groups = append(groups, j)
	}
	for _, i := range m.Unsorted {
		unsorted = append(unsorted, sticks[i].From)
	}
	return map[string]any{"schema": "epitome.mix.v1", "verdict": m.Verdict, "operating": pointsJSON(m.Operating), "reasons": reasonsJSON(m.Reasons),
		"groups": groups, "unsorted": unsorted}
}

// channelsJSON lists what each channel holds.
func channelsJSON(p trial.Point) any {
	type channel struct {
		Name string         `json:"name"`
		Size jedec.Capacity `json:"mib"`
	}
	out := []channel{}
	for _, c := range p.Channels {
		out = append(out, channel{c.Channel, c.Capacity})
	}
	return out
}

// TrialJSON returns the value that trial --format json writes.
func TrialJSON(t trial.Trial) any {
	type place struct {
		Name     string `json:"name"`
		Stick    string `json:"stick"`
		New      bool   `json:"new"`
		Soldered bool   `json:"soldered"`
	}
	places := []place{}
	for _, s := range t.Seats {
		places = append(places, place{s.Place, trial.Describe(s.Stick), s.New, s.Soldered})
	}
	out := map[string]any{"schema": "epitome.trial.v1", "verdict": t.Verdict, "operating": pointsJSON(t.Operating), "reasons": reasonsJSON(t.Reasons),
		"total_mib": t.Total, "places": places, "free": append([]string{}, t.Free...), "channels": []any{}, "interleaved_mib": nil, "bandwidth_mbs": nil,
		"with_profile": pointsJSON(t.WithProfile), "before": map[string]any{"total_mib": t.Was, "operating": pointsJSON(t.Before)}}
	if p, ok := t.Operating.Get(); ok {
		out["channels"], out["interleaved_mib"], out["bandwidth_mbs"] = channelsJSON(p), p.Interleaved, p.Bandwidth
	}
	return out
}
