package catalogue

import (
	"epitome/core/fact"
	"epitome/core/machine"
	"epitome/core/naming"
	"reflect"
	"slices"
	"strings"
)

// A Catalogue is what is known: the embedded tables, with the user's own
// entries laid over them. The zero Catalogue is the embedded tables alone;
// they are read when first asked for.
type Catalogue struct {
	own  []Overlay
	past Past
}

// With returns a catalogue with more entries laid over it. Later ones lie
// above earlier ones.
func (k Catalogue) With(own ...Overlay) Catalogue {
	return Catalogue{own: append(append([]Overlay(nil), k.own...), own...), past: k.past}
}

// Own returns what is laid over the embedded tables.
func (k Catalogue) Own() []Overlay { return k.own }

// A Limit names one figure of an entry, as the tables name their columns.
type Limit string

// The limits.
const (
	Channels Limit = "channels"
	Slots    Limit = "dimms_per_channel"
	RanksOf  Limit = "ranks_per_channel"
	RateOne  Limit = "rate_1dpc"
	RateTwo  Limit = "rate_2dpc"
	Most     Limit = "max_gb"
	Density  Limit = "max_density_gbit"
	X4       Limit = "x4_ok"
	X16      Limit = "x16_ok"
	ECC      Limit = "ecc"
	Volts    Limit = "volts"
)

// Standing returns how firmly a figure of the entry stands: settled only
// where the row leads with high confidence and both compilations have the cell.
func (c Controller) Standing(l Limit) fact.Standing {
	if c.Confidence == High && !c.softIn(l) {
		return fact.Settled
	}
	return fact.Leaning
}

func (c Controller) softIn(l Limit) bool {
	for _, soft := range c.Soft {
		if soft == string(l) {
			return true
		}
	}
	return false
}

// Controllers returns the memory controllers of a processor, one a
// generation: the user's own entries where one matches, the embedded ones
// elsewhere.
func (k Catalogue) Controllers(p Processor) []Controller {
	for i := len(k.own) - 1; i >= 0; i-- {
		if found := k.own[i].controllers(p); len(found) > 0 {
			return found
		}
	}
	for _, brand := range brandsOf(p.Brand) {
		named := p
		named.Brand = brand
		if found := Recognise(named); len(found) > 0 {
			return found
		}
	}
	return nil
}

// Numbered returns the families that carry a processor's number, whatever
// their brand strings: a processor with such a number has a controller of its
// own, even where its brand string fits none of them and it stays unknown.
func (k Catalogue) Numbered(p Processor) (families []string) {
	if !p.Family.Known() || !p.Model.Known() {
		return nil
	}
	maker := p.maker()
	for _, r := range controllerRows() {
		if !r.led() && r.text("maker") == maker && len(r.list("cpuid_model")) > 0 &&
			sameNumber(r.list("cpuid_family"), p.Family) && sameNumber(r.list("cpuid_model"), p.Model) &&
			!slices.Contains(families, r.text("family")) {
			families = append(families, r.text("family"))
		}
	}
	return families
}

// Chipsets returns every chipset that carries a PCI id.
func (k Catalogue) Chipsets(id string) []Chipset {
	id = strings.ToLower(strings.TrimSpace(id))
	for i := len(k.own) - 1; i >= 0; i-- {
		for _, c := range k.own[i].Chipsets {
			if id != "" && slices.Contains(c.ids, id) {
				return []Chipset{c}
			}
		}
	}
	return ChipsetsWithID(id)
}

// ChipsetsNamed returns the chipsets of a name, as a person writes it: "Z390",
// "Intel Z390". Of several, only what they have in common is known of the machine.
func (k Catalogue) ChipsetsNamed(name string) (found []Chipset) {
	name = folded(bareChipset(name))
	if name == "" {
		return nil
	}
	for i := len(k.own) - 1; i >= 0; i-- {
		for _, c := range k.own[i].Chipsets {
			if c.named(name) {
				return []Chipset{c}
			}
		}
	}
	for _, r := range chipsetRows() {
		if c := r.chipset(); c.named(name) {
			found = append(found, c)
		}
	}
	return found
}

func (c Chipset) named(name string) bool {
	full := folded(bareChipset(c.Name))
	if name == full || name == folded(c.Maker)+" "+full || name == folded(c.ID) {
		return true
	}
	plain, _, _ := strings.Cut(c.Name, " (") // "845 (82845, DDR version)"
	for part := range strings.SplitSeq(plain, "/") {
		part = folded(bareChipset(part))
		if part != "" && (name == part || name == folded(c.Maker)+" "+part) {
			return true
		}
	}
	return false
}

// folded brings a name to the form in which names are compared: lower case,
// single blanks, no trade marks.
func folded(s string) string { return strings.ToLower(naming.Bare(s)) }

// Boards returns the entries of boards and machines that go by one of the
// names: a board's or a model's, with or without its maker before it.
func (k Catalogue) Boards(names ...string) []Board {
	var found []Board
	for i := len(k.own) - 1; i >= 0; i-- {
		for _, b := range k.own[i].Boards {
			for _, name := range names {
				if b.named(folded(name)) {
					found = append(found, b)
					break
				}
			}
		}
	}
	return found
}

// BoardsOf returns the entries of a machine's board and model, with or without the maker
// before it; what goes by the board's name stands before what goes by the model's.
func (k Catalogue) BoardsOf(m machine.Machine) (found []Board) {
	maker := m.Maker.Or("")
	for _, f := range []fact.Fact[string]{m.Board, m.Model} {
		name, ok := f.Get()
		if !ok {
			continue
		}
		for _, b := range k.Boards(name, strings.TrimSpace(maker+" "+name)) {
			if !slices.ContainsFunc(found, func(x Board) bool { return x.Where == b.Where }) {
				found = append(found, b)
			}
		}
	}
	return found
}

func (b Board) named(name string) bool {
	for _, own := range b.Names {
		own = folded(own)
		if name != "" && (name == own || name == folded(b.Maker)+" "+own) {
			return true
		}
	}
	return false
}

// AtLeast returns the smaller figure of a disputed upper limit: what both
// compilations grant.
func (c Controller) AtLeast(l Limit) (int, bool) {
	v, ok := c.disputed[l]
	return v, ok
}

// Same reports whether two catalogues are the same entries and the same past, laid on each
// other in the same order: not whether unlike ones say the same.
func (k Catalogue) Same(o Catalogue) bool {
	return len(k.own) == len(o.own) && (len(k.own) == 0 || &k.own[0] == &o.own[0]) && reflect.DeepEqual(k.past, o.past)
}
