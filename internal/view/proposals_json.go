package view

import (
	"slices"

	"epitome/core/maybe"
	"epitome/core/propose"
	"epitome/core/stock"
	"epitome/core/trial"
)

// ProposeJSON returns the value that propose --format json writes. blocked
// says why there is no proposal; it is empty where there are some.
func ProposeJSON(r propose.Result, blocked string) any {
	proposals := []any{}
	var missing []string
	for _, q := range slices.Concat(r.Proposals, r.Unproven, r.Unlikely) {
		proposals = append(proposals, proposalJSON(r, q))
		for _, x := range q.Trial.Reasons {
			for _, look := range x.Looks() {
				if !slices.Contains(missing, look) {
					missing = append(missing, look)
				}
			}
		}
	}
	var nearest any
	if q, ok := r.Nearest.Get(); ok {
		q.Number = 1
		nearest = proposalJSON(r, q)
	}
	return map[string]any{"schema": "epitome.propose.v2",
		"goal": map[string]any{"reach_mib": r.Goal.Reach, "rate_mts": r.Goal.Rate,
			"spend": maybe.Map(r.Goal.Spend, stock.Money.Units)},
		"now": nowJSON(r.Now), "free_of_charge": gainsJSON(r.Free), "safe_to_buy": safeJSON(r.Safe),
		"structures": structuresJSON(r.Structures), "proposals": proposals, "missing": append([]string{}, missing...),
		"blocked": orNull(blocked), "nearest": nearest,
		"searched": map[string]any{"sticks": r.Offers, "passed": r.Passed, "sets": r.Sets, "exact": r.Exact}}
}

func safeJSON(buys []propose.Buy) any {
	type safe struct {
		SKU      maybe.Value[string] `json:"sku"`
		Stick    string              `json:"stick"`
		Quantity int                 `json:"quantity"`
	}
	out := []safe{}
	for _, b := range buys {
		out = append(out, safe{orNull(b.SKU), b.Text, b.Units})
	}
	return out
}

func structuresJSON(list []propose.Structure) any {
	type structure struct {
		If    string           `json:"if"`
		Look  string           `json:"look"`
		First maybe.Value[int] `json:"first"`
	}
	out := []structure{}
	for _, x := range list {
		out = append(out, structure{x.If, x.Look, maybe.If(x.First, x.First > 0)})
	}
	return out
}

func nowJSON(n propose.Now) any {
	out := map[string]any{"total_mib": n.Total, "operating": pointsJSON(n.Operating, maybe.None[trial.Point]()),
		"interleaved_mib": nil, "interleaved_most_mib": nil}
	if x, ok := n.Operating.Get(); ok {
		out["interleaved_mib"], out["interleaved_most_mib"] = x.Interleaved, x.InterleavedMost
	}
	return out
}

func gainsJSON(gains []propose.Gain) any {
	type gain struct {
		Says  string `json:"says"`
		Gains string `json:"gains"`
	}
	out := []gain{}
	for _, g := range gains {
		out = append(out, gain{g.Says, g.Gains})
	}
	return out
}

// givesUpJSON are the lines of what a proposal truly costs beside its price.
func givesUpJSON(q propose.Proposal) any {
	type part struct {
		Says  string  `json:"says"`
		Worth float64 `json:"worth"`
	}
	out := []part{}
	for _, x := range q.GivesUp() {
		out = append(out, part{x.Of, x.Cost.Units()})
	}
	return out
}

func proposalJSON(r propose.Result, q propose.Proposal) any {
	type move struct {
		Place string              `json:"place"`
		Stick string              `json:"stick"`
		SKU   maybe.Value[string] `json:"sku"`
		From  maybe.Value[string] `json:"from"`
		Offer maybe.Value[int]    `json:"offer"`
	}
	type buy struct {
		Offer    int                  `json:"offer"`
		SKU      maybe.Value[string]  `json:"sku"`
		Row      maybe.Value[int]     `json:"row"`
		Text     string               `json:"text"`
		Supplier maybe.Value[string]  `json:"supplier"`
		Stick    string               `json:"stick"`
		Quantity int                  `json:"quantity"`
		Pieces   int                  `json:"pieces"`
		Price    maybe.Value[float64] `json:"price"`
		Assumed  []string             `json:"assumed"`
	}
	moves := func(list []propose.Move) []move {
		out := []move{}
		for _, m := range list {
			out = append(out, move{m.Place, m.Stick, orNull(m.SKU), orNull(m.From), maybe.If(m.Offer, m.Offer > 0)})
		}
		return out
	}
	buys := []buy{}
	for _, b := range q.Buys {
		buys = append(buys, buy{b.Number, orNull(b.SKU), maybe.If(b.Row, b.Row > 0), b.Text, orNull(b.Supplier),
			b.Text, b.Units, b.Pieces, maybe.If(b.Price.Units(), r.Priced), append([]string{}, b.Assumed...)})
	}
	out := map[string]any{"number": q.Number, "picks": append([]string{}, q.Picks...),
		"penalties": append([]string{}, q.Trial.Penalties()...), "cost": maybe.If(q.Cost.Units(), r.Priced),
		"currency":  maybe.If(r.Goal.Currency, r.Priced && r.Goal.Currency != ""),
		"total_mib": q.Trial.Total, "keeps": moves(q.Keeps), "removes": moves(q.Removes), "adds": moves(q.Adds),
		"buys": buys, "modules_to_buy": q.Modules, "true_cost": q.True().Units(), "gives_up": givesUpJSON(q),
		"verdict": q.Trial.Verdict, "depends_on": dependsOn(q.Trial.Reasons),
		"operating": pointsJSON(q.Trial.Operating, q.Trial.Worst), "channels": []any{}, "interleaved_mib": nil,
		"interleaved_most_mib": nil,
		"sockets_free":         q.SocketsFree, "reasons": reasonsJSON(q.Trial.Reasons)}
	if x, ok := q.Trial.Operating.Get(); ok {
		out["channels"], out["interleaved_mib"] = channelsJSON(x), x.Interleaved
		out["interleaved_most_mib"] = x.InterleavedMost
	}
	return out
}
