package propose

import (
	"cmp"
	"slices"

	"epitome/core/jedec"
	"epitome/core/stock"
	"epitome/core/trial"
)

// A table is the cheapest way to buy n modules of a kind, for each n, of offers that
// run at least at one rate with at most one access time, used ones among them or not: those three are a level.
type table struct {
	kind trial.PlaceKind
	buys [][]Buy // by n, as many as there are sockets
	cost []stock.Money
	can  []bool
}

func newTable(kind trial.PlaceKind, sockets int) table {
	return table{kind: kind, buys: make([][]Buy, sockets+1), cost: make([]stock.Money, sockets+1),
		can: make([]bool, sockets+1)}
}

// levels makes the tables of every level of a pool. A level whose tables are no
// cheaper than those of a better one is left out.
func (s *search) levels(pool []*class, sockets int) (out [][]table) {
	var rates []jedec.Rate
	var times []jedec.Picoseconds
	for _, c := range pool {
		if !slices.Contains(rates, c.rate) {
			rates = append(rates, c.rate)
		}
		if !slices.Contains(times, rankTime(c.taa)) {
			times = append(times, rankTime(c.taa))
		}
	}
	slices.SortFunc(rates, func(a, b jedec.Rate) int { return cmp.Compare(b, a) })
	slices.Sort(times)
	seen := make(map[string]bool)
	for _, rate := range rates {
		for _, taa := range times {
			var keeps []*class
			signature := make([]byte, (len(pool)+7)/8)
			worn := false
			for i, c := range pool {
				if c.rate >= rate && rankTime(c.taa) <= taa {
					keeps = append(keeps, c)
					signature[i/8] |= 1 << (i % 8)
					worn = worn || slices.ContainsFunc(c.offers, (*Offer).worn)
				}
			}
			if len(keeps) == 0 || seen[string(signature)] {
				continue
			}
			seen[string(signature)] = true
			if out = append(out, s.tables(keeps, sockets, true)); worn {
				out = append(out, s.tables(keeps, sockets, false))
			}
		}
	}
	return out
}

func rankTime(taa jedec.Picoseconds) jedec.Picoseconds {
	if taa == 0 {
		return 1 << 40
	}
	return taa
}

// tables works out the cheapest way to n modules of each kind, with used ones or without. No kind stands
// for another: fewer ranks may run faster and lie less evenly.
func (s *search) tables(classes []*class, sockets int, worn bool) (out []table) {
	var kinds []trial.PlaceKind
	for _, c := range classes {
		if !slices.Contains(kinds, c.kind) {
			kinds = append(kinds, c.kind)
		}
	}
	slices.SortFunc(kinds, func(a, b trial.PlaceKind) int {
		return cmp.Or(cmp.Compare(b.Capacity, a.Capacity), cmp.Compare(a.RanksAtMost(), b.RanksAtMost()))
	})
	for _, k := range kinds {
		t := newTable(k, sockets)
		var offers []priced
		for _, c := range classes {
			if c.kind != k {
				continue
			}
			for _, o := range c.offers {
				if worn || !o.worn() {
					offers = append(offers, priced{o, c})
				}
			}
		}
		// Of as cheap ones the first is taken.
		slices.SortStableFunc(offers, func(a, b priced) int { return cmp.Compare(a.shabbiness(), b.shabbiness()) })
		t.fill(offers, sockets)
		if s.goal.OneKit {
			t.oneUnit(offers)
		}
		out = append(out, t)
	}
	return out
}

// A priced is an offer with its class.
type priced struct {
	*Offer
	class *class
}

// fill works out the cheapest way to buy exactly n modules, one offer after
// the other.
func (t *table) fill(offers []priced, sockets int) {
	t.can[0] = true
	for _, o := range offers {
		units := sockets / o.Pieces
		if n, stated := o.Quantity.Get(); stated {
			units = min(units, n)
		}
		for n := sockets; n > 0; n-- {
			for u := max(1, o.MinOrder); u <= units && u*o.Pieces <= n; u++ {
				rest := n - u*o.Pieces
				cost := t.cost[rest] + stock.Money(u)*o.Price
				if t.can[rest] && (!t.can[n] || cost < t.cost[n]) {
					t.can[n], t.cost[n] = true, cost
					t.buys[n] = append(slices.Clone(t.buys[rest]), Buy{o.Offer, u, o.class})
				}
			}
		}
	}
}

// oneUnit keeps the ways that buy a single kit or module.
func (t *table) oneUnit(offers []priced) {
	*t = newTable(t.kind, len(t.can)-1)
	t.can[0] = true
	for _, o := range offers {
		if n := o.Pieces; o.MinOrder <= 1 && n < len(t.can) && (!t.can[n] || o.Price < t.cost[n]) {
			t.can[n], t.cost[n], t.buys[n] = true, o.Price, []Buy{{o.Offer, 1, o.class}}
		}
	}
}
