package catalogue

import (
	"slices"

	"epitome/core/fact"
	"epitome/core/machine"
	"epitome/core/maybe"
)

// A Platform is what processor and chipset of a machine say of its memory controller.
type Platform struct {
	// Controllers are the processor's own, or what all northbridges have in common that the machine may have; one a
	// generation, none where nobody knows.
	Controllers []Controller
	Northbridge bool // the controllers are a chipset's
	// Chipsets are those that the machine may have, which hold the controller, cap or allow something; a northbridge is
	// none of them where the processor has the controller.
	Chipsets []Chipset
	Led      maybe.Value[LedFamily] // the processor's family, where its controller is in the chipset
	Numbered []string               // families with the processor's number, none of which its name fits
}

// A LedFamily is a family of processors whose memory controller is in the chipset: it is recognised, and says no limit.
type LedFamily struct {
	ID, Family string
	Pairs      []string // ids of chipsets that it is commonly built with; no full list
	Confidence Confidence
	Basis      string
	Note       string
}

// PlatformOf finds the memory controller of a machine: the processor's own, or that of the northbridge where the
// processor has none.
func (k Catalogue) PlatformOf(m machine.Machine) Platform {
	p := ProcessorOf(m)
	f := Platform{Controllers: k.Controllers(p), Chipsets: k.chipsetsOf(m)}
	if len(f.Controllers) == 0 {
		if f.Led = k.led(p); !f.Led.Known() {
			f.Numbered = k.Numbered(p)
		}
	}
	if len(f.Controllers)+len(f.Numbered) > 0 {
		// It has a controller of its own, so a northbridge's limits are not its.
		f.Chipsets = slices.DeleteFunc(f.Chipsets, func(c Chipset) bool { return len(c.Controllers()) > 0 })
		return f
	}
	if led, ok := f.Led.Get(); ok {
		paired := slices.DeleteFunc(slices.Clone(f.Chipsets),
			func(c Chipset) bool { return !slices.Contains(led.Pairs, c.ID) })
		if len(paired) > 0 { // of several that one id stands for
			f.Chipsets = paired
		}
	}
	var shared [][]Controller
	for _, c := range f.Chipsets {
		if list := c.Controllers(); len(list) > 0 {
			shared = append(shared, list)
		}
	}
	if len(shared) > 0 {
		f.Controllers, f.Northbridge = controllersInCommon(shared), true
	}
	return f
}

// led is the family of a processor whose controller is in the chipset.
func (k Catalogue) led(p Processor) maybe.Value[LedFamily] {
	for _, brand := range brandsOf(p.Brand) {
		named := p
		named.Brand = brand
		for _, f := range familiesBy(named.maker()) {
			if f.isLed && f.isOf(named) {
				return maybe.Just(f.row.ledFamily())
			}
		}
	}
	return maybe.None[LedFamily]()
}

func (r row) ledFamily() LedFamily {
	return LedFamily{r.text("id"), r.text("family"), r.list("pairs_with"), Confidence(r.text("confidence")), r.basis(),
		r.text("note")}
}

// led reports whether a row only recognises a family: its controller is in the chipset.
func (r row) led() bool { return r.text("controller_in") == "chipset" }

// chipsetsOf are the chipsets that the machine may have: those of its name, else those
// that its ids stand for. A name that several go by leaves all of them; one that is not firm leaves their figures
// likely.
func (k Catalogue) chipsetsOf(m machine.Machine) (found []Chipset) {
	if named := k.ChipsetsNamed(m.Chipset.Or("")); len(named) > 0 {
		for i := range named {
			named[i].Recalled = named[i].Recalled || m.Chipset.Standing() < fact.Settled
		}
		return named
	}
	for _, id := range m.PCI {
		for _, c := range k.Chipsets(id) {
			if !slices.ContainsFunc(found, func(x Chipset) bool { return x.ID == c.ID && x.Name == c.Name }) {
				found = append(found, c)
			}
		}
	}
	return found
}

// controllersInCommon keeps what every northbridge with the same id has in common: each
// figure that differs is unknown.
func controllersInCommon(lists [][]Controller) (out []Controller) {
	for _, first := range lists[0] {
		c, everywhere := first, true
		for _, list := range lists[1:] {
			i := slices.IndexFunc(list, func(x Controller) bool { return x.Generation == first.Generation })
			if everywhere = everywhere && i >= 0; !everywhere {
				break
			}
			c = c.InCommon(list[i])
		}
		if everywhere {
			out = append(out, c)
		}
	}
	return out
}
