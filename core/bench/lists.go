package bench

import (
	"errors"
	"fmt"
	"iter"
	"maps"
	"slices"
	"strings"

	"epitome/core/fact"
	"epitome/core/plain"
	"epitome/core/propose"
	"epitome/core/stock"
)

// A PriceList is what was understood of one supplier's list.
type PriceList = stock.List

// A ListRow is one row of a list, as its file has it.
type ListRow = stock.Row

// An Offer is something that can be bought.
type Offer = propose.Offer

// A ListOrder is how a list is to be read: its supplier, which column means what
// ("description=Text 2,price=EK netto") and the currency that it does not state.
type ListOrder struct{ Supplier, Columns, Currency string }

// ReadList reads a price list row by row. The error is an InputError where the columns are
// not those of the list.
func ReadList(rows iter.Seq[ListRow], o ListOrder) (PriceList, error) {
	options := stock.Options{Supplier: plain.Line(o.Supplier), Currency: strings.ToUpper(o.Currency)}
	if o.Columns != "" {
		options.Map = make(map[stock.Field]string)
		for part := range strings.SplitSeq(o.Columns, ",") {
			field, title, found := strings.Cut(part, "=")
			f := stock.Field(strings.TrimSpace(field))
			known := false
			for _, x := range stock.Fields {
				known = known || x == f
			}
			if !found || !known {
				return PriceList{}, input("--columns %q: write FIELD=TITLE; fields are %v", part, stock.Fields)
			}
			options.Map[f] = strings.TrimSpace(title)
		}
	}
	l, err := stock.Read(rows, options)
	if errors.Is(err, stock.ErrColumns) {
		err = &InputError{err}
	}
	return l, err
}

// OffersOf makes offers of one currency of lists that were read, in their order. currency
// names the one to buy in; where it is empty the lists must agree, prices that name none
// going with the others. The error is an InputError where they do not.
func OffersOf(lists []PriceList, currency string) (out []Offer, of string, err error) {
	currencies := make(map[string]bool)
	for _, l := range lists {
		for _, x := range l.Usable() {
			if x.Currency != "" {
				currencies[x.Currency] = true
			}
		}
	}
	of = strings.ToUpper(currency)
	switch {
	case of != "":
	case len(currencies) > 1:
		return nil, "", input("the lists have prices in several currencies, %s; --currency names the one to buy in, lines "+
			"in others are left out", strings.Join(slices.Sorted(maps.Keys(currencies)), ", "))
	default:
		for code := range currencies {
			of = code
		}
	}
	for _, l := range lists {
		for _, x := range l.Usable() {
			if x.Currency == of || x.MayBeIn(of) {
				out = append(out, propose.OfferOf(x))
			}
		}
	}
	if len(lists) > 0 && len(out) == 0 {
		return nil, "", fmt.Errorf("no line of the price lists can be used in %s; epitome stock check tells why", of)
	}
	return out, of, nil
}

// Listed finds the module of a line of a list by its article number; ok is false where the
// list has no such line. The error says why the line can't be used.
func Listed(l PriceList, sku string) (s Stick, ok bool, err error) {
	for _, x := range l.Lines {
		if !strings.EqualFold(x.SKU, sku) {
			continue
		}
		if x.Stick == nil {
			return s, true, fmt.Errorf("%s can't be used: %s", x.Place(), x.Problem)
		}
		s = *x.Stick
		s.From = x.Description
		s.Pieces = fact.If(x.Pieces, x.Pieces > 1)
		return s, true, nil
	}
	return s, false, nil
}

// Unstated counts the offers of which nobody says whether they are new.
func Unstated(offers []Offer) (n int) {
	for _, o := range offers {
		if o.Condition == "" {
			n++
		}
	}
	return n
}
