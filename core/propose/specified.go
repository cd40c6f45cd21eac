package propose

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/module"
	"epitome/core/rule"
	"epitome/core/stock"
)

// specifications are the modules that are ordinarily sold for the machine, where there
// is no price list: of the kind that is fitted, in the fastest of the usual grades that
// the machine can use. Each costs the same, and a little more the larger it is: of as
// many modules the smaller ones are cheaper; those that are hard to get come dear.
func (s *search) specifications() (offers []Offer) {
	g := s.limits.Generation.Or(jedec.GenerationUnknown)
	form := s.limits.Form.Or(jedec.FormUnknown)
	top := cmp.Or(s.judge.Ceiling(), s.fastestFitted())
	low := ""
	if allowed := s.limits.Supplies(); g == jedec.DDR3 && allowed.Len() > 0 && !allowed.Has(1500) {
		low = " 1.35 V" // elsewhere those of 1.35 V run at 1.5 V, too
	}
	kind := s.kindFitted()
	list := slices.DeleteFunc(onSale(g, form, top), func(x catalogue.Sold) bool {
		return x.Kind != kind || x.Width == 4 && !kind.Registered() || low != "" && !x.RunsLow()
	})
	var sizes []jedec.Capacity
	covered := len(catalogue.Market(g, form)) > 0
	for _, sold := range list {
		if !covered { // which layout is the ordinary one nobody says
			offers = append(offers, s.specified(sold, top, low))
		} else if !slices.Contains(sizes, sold.Size) {
			sizes = append(sizes, sold.Size)
		}
	}
	for _, size := range sizes {
		offers = append(offers, s.specified(s.sent(list, size, top), top, low))
	}
	return offers
}

// sent is the module of a size that a shop sends for the machine: of those that are proved best the ordinary one, by
// the rate that serves the machine best; a DDR3 module of 1.35 V serves at 1.5 V, too.
func (s *search) sent(list []catalogue.Sold, size jedec.Capacity, top jedec.Rate) catalogue.Sold {
	better := func(a, b catalogue.Sold) int {
		first := func(is func(catalogue.Sold) bool) int {
			switch {
			case is(a) && !is(b):
				return -1
			case is(b) && !is(a):
				return 1
			}
			return 0
		}
		return cmp.Or(
			cmp.Compare(max(s.provedOf(a, a.At(top)), rule.Reduced), max(s.provedOf(b, b.At(top)), rule.Reduced)),
			first(func(x catalogue.Sold) bool { return x.At(top).Ordinary }), first(catalogue.Sold.RunsLow),
			cmp.Compare(min(b.At(top).Grade.Rate, cmp.Or(top, b.At(top).Grade.Rate)),
				min(a.At(top).Grade.Rate, cmp.Or(top, a.At(top).Grade.Rate))),
			cmp.Compare(a.At(top).Grade.Rate, b.At(top).Grade.Rate))
	}
	var best catalogue.Sold
	for _, x := range list {
		if x.Size == size && (best.Size == 0 || better(x, best) < 0) {
			best = x
		}
	}
	return best
}

// kindWords are what a shop's text says of a kind, shown and typed; where nothing is shown, a plain module is meant.
var kindWords = map[jedec.Kind][2]string{
	jedec.Unbuffered: {"", "non-ECC unbuffered"}, jedec.UnbufferedECC: {" ECC unbuffered", "ECC unbuffered"},
	jedec.RegisteredECC: {" ECC registered", "ECC registered"}, jedec.LoadReduced: {" load-reduced", "LRDIMM"},
	jedec.Clocked: {" with clock driver", "CUDIMM"}, jedec.ClockedECC: {" ECC with clock driver", "ECC CUDIMM"},
	jedec.FullyBuffered: {"", "FB-DIMM"},
}

// asSold is a module of the market in one of its grades.
func asSold(sold catalogue.Sold, x catalogue.SoldGrade) module.Module {
	return module.Ordinary(sold.Form, sold.Kind, sold.Size, jedec.Layout{Ranks: sold.Ranks, Width: sold.Width},
		sold.DensityMbit, x.Grade, x.CL, sold.Supplies())
}

// provedOf is what the rules about a single module say of one of the market.
func (s *search) provedOf(sold catalogue.Sold, x catalogue.SoldGrade) rule.Outcome {
	st := asSold(sold, x)
	return s.alone(&st, true)
}

// typed is what a shop's text would say of a module of the market, so that the plan can be read again.
func typed(sold catalogue.Sold, x catalogue.SoldGrade, low string) string {
	text := sold.Size.String()
	if sold.Ranks > 0 {
		text += fmt.Sprintf(" %dRx%d", sold.Ranks, sold.Width)
	}
	kind := kindWords[sold.Kind][1]
	switch sold.Kind {
	case jedec.LoadReduced, jedec.FullyBuffered: // which name the form
	case jedec.Clocked, jedec.ClockedECC:
		if sold.Form == jedec.SODIMM {
			kind = strings.Replace(kind, "CUDIMM", "CSODIMM", 1)
		}
	default:
		kind = sold.Form.String() + " " + kind
	}
	text = fmt.Sprintf("%s %v %s%s", text, x.Grade, kind, low)
	if x.CL > 0 {
		text += fmt.Sprintf(" CL%v", x.CL)
	}
	return text
}

// specified makes an offer of a module of the market. Layouts that a shop may send instead and that the machine does
// not take are named.
func (s *search) specified(sold catalogue.Sold, top jedec.Rate, low string) Offer {
	x := sold.At(top)
	st := asSold(sold, x)
	layout := ""
	if sold.Ranks > 0 {
		layout = fmt.Sprintf(" %dRx%d", sold.Ranks, sold.Width)
	}
	words := kindWords[sold.Kind]
	text := fmt.Sprintf("%v %v %v%s%s%s", sold.Size, x.Grade, sold.Form, layout, words[0], low)
	st.From = typed(sold, x, strings.ReplaceAll(low, " V", "V"))
	price := perModule + stock.Money(int64(perGiB)*int64(sold.Size/jedec.MiB)/1024)
	if sold.Width == 16 {
		price++ // of two of a size the one with all its banks
	}
	var not []string
	for _, o := range sold.Others(x.Grade.Rate) {
		if o.CommonAt(x.Grade.Rate) != catalogue.Rare && s.provedOf(o, x).Against() {
			not = append(not, fmt.Sprintf("%dRx%d", o.Ranks, o.Width))
		}
	}
	if len(not) > 0 {
		text += ", not " + strings.Join(not, " or ")
	}
	if sold.Rare() {
		price *= 2
		text += ", hard to find"
	}
	return Offer{Text: text, Stick: &st, Pieces: 1, Price: price, MinOrder: 1, Rare: sold.Rare()}
}

// onSale are the modules that the market's table has; where it has none of the kind, the
// sizes of the standard in the layouts that its dies make, at the highest rate in use.
func onSale(g jedec.Generation, form jedec.Form, top jedec.Rate) []catalogue.Sold {
	if list := catalogue.Market(g, form); len(list) > 0 {
		return list
	}
	var list []catalogue.Sold
	grades := jedec.Grades(g)
	x := grades[0]
	for _, grade := range grades {
		if grade.Rate <= top {
			x = grade
		}
	}
	var cl jedec.Latency
	if bins := jedec.Bins(x); len(bins) > 0 {
		cl = bins[len(bins)-1].Timing.CL
	}
	for _, size := range jedec.ModuleSizes(g) {
		for _, ranks := range []int{1, 2} {
			if mbit := int(size/jedec.MiB) / ranks; slices.Contains(g.Trait().Densities, mbit) {
				list = append(list, catalogue.Sold{Generation: g, Form: form, Kind: jedec.Unbuffered, Size: size,
					Ranks: ranks, Width: 8, DensityMbit: mbit, MilliVolts: g.Trait().MilliVolts[:1],
					Grades: []catalogue.SoldGrade{{Grade: x, CL: cl, Ordinary: true}}})
			}
		}
	}
	return list
}

// kindFitted is the kind of the modules in sockets, where they all are of it and one
// says so: a machine keeps its check bits and its registers.
func (s *search) kindFitted() jedec.Kind {
	var kinds []jedec.Kind
	for _, o := range s.owned {
		if o.fitted {
			kinds = append(kinds, o.stick.BuiltAs())
		}
	}
	if len(kinds) == 0 || slices.ContainsFunc(kinds, func(k jedec.Kind) bool { return k != kinds[0] }) {
		return jedec.Unbuffered
	}
	return kinds[0]
}

// What a module and each GiB of it count where there are no prices: ordinary ones cost by their size, and a little by
// the piece.
const perModule, perGiB stock.Money = 200, 100
