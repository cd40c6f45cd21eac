package module

import (
	"fmt"
	"strings"

	"epitome/core/jedec"
)

// Alike returns the module as any other is that is made alike: what it is called, which one
// it is and who says so are left out. Two that rules can't tell apart come to the same facts.
func (m *Module) Alike() Module {
	out := Module{Kind: m.Kind, Profiles: m.Profiles, Checksum: m.Checksum, From: m.Text()}
	judged := m.Judged()
	for _, r := range Rows() {
		r.bare(&out.Facts, &judged)
	}
	return out
}

// Text writes the module as a shop's text would, so that Parse reads it again.
func (m *Module) Text() string {
	if l, ok := m.Label.Get(); ok {
		return l.String()
	}
	var words []string
	add := func(ok bool, word string) {
		if ok {
			words = append(words, word)
		}
	}
	add(m.Capacity.Known(), m.Capacity.Or(0).String())
	add(m.Ranks.Known() && m.Width.Known(), fmt.Sprintf("%dRx%d", m.Ranks.Or(0), m.Width.Or(0)))
	if x, ok := m.Grade().Get(); ok {
		words = append(words, x.String())
	} else {
		add(m.Generation.Known(), m.Generation.Or(0).String())
	}
	add(m.Form.Known(), m.Form.Or(0).String())
	switch {
	case m.LoadReduced.Or(false):
		words = append(words, "load-reduced")
	case m.Multiplexed.Or(false):
		words = append(words, "multiplexed-rank")
	case m.Registered.Or(false):
		words = append(words, "ECC registered")
	default:
		add(m.ECC.Known(), map[bool]string{true: "ECC", false: "non-ECC"}[m.ECC.Or(false)])
		add(m.Registered.Known(), "unbuffered")
	}
	if supplies, ok := m.Supplies.Get(); ok && supplies.Has(1350) && m.Generation.Or(0) == jedec.DDR3 {
		words = append(words, "1.35V")
	}
	if cl, ok := m.CL.Get(); ok {
		words = append(words, fmt.Sprintf("CL%v", cl))
	}
	return strings.Join(words, " ")
}
