package view

import (
	"slices"
	"strings"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/rule"
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
	Worst     any                            `json:"worst"` // slower, in another world that the evidence leaves
	Bandwidth int                            `json:"bandwidth_mbs"`
}

// pointsJSON is an operating point, with the slower one that it may come to.
func pointsJSON(v maybe.Value[trial.Point], worst ...maybe.Value[trial.Point]) any {
	p, ok := v.Get()
	if !ok {
		return nil
	}
	j := pointJSON{Rate: p.Grade.Rate, TRAS: p.TRAS, TRC: p.TRC, Volts: maybe.Map(p.MilliVolts, volts),
		Profile: orNull(p.Profile),
		BoundBy: map[string]string{}, Bandwidth: p.Bandwidth,
		CL: maybe.If(p.Timing.CL.Clocks(), p.TimesKnown), Latency: maybe.If(p.Latency, p.TimesKnown),
		TRCD: maybe.If(p.Timing.TRCD, p.TRCDKnown), TRP: maybe.If(p.Timing.TRP, p.TRCDKnown)}
	for _, w := range worst {
		j.Worst = pointsJSON(w)
	}
	for _, b := range p.BoundBy {
		j.BoundBy[b.Figure] = b.By
	}
	return j
}

type reasonJSON struct {
	Rule    string       `json:"rule"`
	Outcome rule.Outcome `json:"outcome"`
	Says    string       `json:"says"`
	Source  string       `json:"source"`
	// Inferred are the inferences that it rests on; trial --rules lists them.
	Inferred []string `json:"inferred"`
}

// A dependenceJSON is an open fact on which a verdict rests.
type dependenceJSON struct {
	Fact  string              `json:"fact"`
	Leans maybe.Value[string] `json:"leans"`
	Else  string              `json:"else"`
	Look  string              `json:"look"`
}

// dependsOn lists the open facts on which likely and unproven reasons rest, each
// once.
func dependsOn(reasons []rule.Reason) []dependenceJSON {
	out := []dependenceJSON{}
	for _, r := range reasons {
		for _, d := range r.Depends {
			if !slices.ContainsFunc(out, func(x dependenceJSON) bool { return x.Fact == d.Fact }) {
				out = append(out, dependenceJSON{d.Fact, orNull(d.Leans), d.Else, d.Look})
			}
		}
	}
	return out
}

func reasonsJSON(reasons []rule.Reason) []reasonJSON {
	out := []reasonJSON{}
	for _, r := range reasons {
		out = append(out, reasonJSON{r.Rule, r.Outcome, r.Says, r.Source, append([]string{}, r.Inferred...)})
	}
	return out
}

// MixedJSON returns the value that mix --format json writes.
func MixedJSON(sticks []module.Module, m trial.Mixed) any {
	type group struct {
		Name      string         `json:"name"`
		Sticks    []string       `json:"sticks"`
		Total     jedec.Capacity `json:"total_mib"`
		Verdict   rule.Verdict   `json:"verdict"`
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
	return map[string]any{"schema": "epitome.mix.v2", "verdict": m.Verdict, "depends_on": dependsOn(m.Reasons),
		"operating": pointsJSON(m.Operating, m.Worst), "reasons": reasonsJSON(m.Reasons),
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
func TrialJSON(t trial.Trial, pays maybe.Value[trial.Faster]) any {
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
	out := map[string]any{"schema": "epitome.trial.v2", "verdict": t.Verdict, "depends_on": dependsOn(t.Reasons),
		"operating": pointsJSON(t.Operating, t.Worst), "reasons": reasonsJSON(t.Reasons),
		"total_mib": t.Total, "places": places, "free": append([]string{}, t.Free...), "channels": []any{},
		"interleaved_mib": nil, "interleaved_most_mib": nil, "bandwidth_mbs": nil,
		"with_profile": pointsJSON(t.WithProfile), "exact": !t.Cut,
		"instead_of": maybe.If(strings.Join(t.Instead, ", "), len(t.Instead) > 0),
		"before":     map[string]any{"total_mib": t.Was, "operating": pointsJSON(t.Before)}}
	out["faster"] = nil
	if f, ok := pays.Get(); ok {
		out["faster"] = map[string]any{"stick": f.Stick, "rated_mts": f.Rated, "profile": f.Profile,
			"with_profile": pointsJSON(f.With), "not_selected": orNull(f.Not), "selected_by": orNull(f.May),
			"same_as": f.Plain.String(), "slows": f.Slows}
	}
	if p, ok := t.Operating.Get(); ok {
		out["channels"], out["interleaved_mib"], out["bandwidth_mbs"] = channelsJSON(p), p.Interleaved, p.Bandwidth
		out["interleaved_most_mib"] = p.InterleavedMost
	}
	return out
}
