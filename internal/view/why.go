package view

import (
	"fmt"
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/module"
)

// A shown is one finding with its name, in words.
type shown struct {
	name     string
	value    string // empty where there is none
	standing fact.Standing
	why      []fact.Support
	against  []fact.Support
}

func factOf[T comparable](name string, f fact.Fact[T], words func(T) string) shown {
	out := shown{name: name, standing: f.Standing(), why: f.Why(), against: f.Against()}
	if v, ok := f.Get(); ok {
		out.value = words(v)
	}
	return out
}

// standingWords are how firmly a fact stands, as pages say it.
var standingWords = map[fact.Standing]string{fact.Settled: "settled", fact.Leaning: "likely",
	fact.Disputed: "disputed", fact.Unknown: "not known"}

// facts lists every finding about a machine, in the order of the page.
func facts(m machine.Machine, reachable fact.Fact[jedec.Capacity]) []shown {
	var list []shown
	of := func(r machine.Row, p *machine.Place, name string) {
		if s, ok := r.Show(&m, p); ok {
			list = append(list, shown{name: name, value: s.Text, standing: s.Standing, why: s.Why, against: s.Against})
		}
	}
	for _, r := range machine.Rows() {
		if r.Of != machine.OfPlace {
			of(r, nil, string(r.Topic))
		}
	}
	list = append(list, factOf("reachable", reachable, jedec.Capacity.String))
	for i := range m.Places {
		p := &m.Places[i]
		named := func(name string) string { return name + " of " + p.Name }
		for _, r := range machine.Rows() {
			if r.Of == machine.OfPlace && r.JSON != "" {
				of(r, p, named(string(r.Topic)))
			}
		}
		if p.Module == nil {
			continue
		}
		for _, r := range module.Rows() {
			s := r.Show(p.Module)
			if r.Key == "form" {
				s.Name = "module form" // that of the place stands beside it
			}
			list = append(list, shown{name: named(s.Name), value: s.Text, standing: s.Standing, why: s.Why, against: s.Against})
		}
		for _, r := range machine.Rows() { // how the board runs it
			if r.Of == machine.OfPlace && r.JSON == "" {
				of(r, p, named(string(r.Topic)))
			}
		}
	}
	return list
}

// Why lays out the claims for and against each finding whose name holds the
// wanted words; every one where wanted is empty. Findings about which nothing
// was said are left out unless asked for by their whole name. It returns false, and the names there are, where nothing
// matches.
func (p *Page) Why(m machine.Machine, reachable fact.Fact[jedec.Capacity], wanted string) (names []string, ok bool) {
	wanted = strings.ToLower(wanted)
	for _, f := range facts(m, reachable) {
		names = append(names, f.name)
		matches := strings.Contains(strings.ToLower(f.name), wanted)
		silent := len(f.why)+len(f.against) == 0
		if !matches || silent && strings.ToLower(f.name) != wanted {
			continue
		}
		if ok {
			p.Blank()
		}
		ok = true
		p.claims(f)
	}
	return names, ok
}

func (p *Page) claims(f shown) {
	value := f.value
	if value == "" {
		value = "no value"
	}
	p.Heading(fmt.Sprintf("%s: %s, %s", sentence(f.name), value, standingWords[f.standing]))
	if len(f.why)+len(f.against) == 0 {
		p.Para(4, "  ", "Nothing was said about it.")
	}
	lead := "  for  "
	if f.value == "" {
		lead = "  -    "
	}
	for _, s := range f.why {
		p.Para(7, lead, s.Says+" ("+s.Source+")")
	}
	for _, s := range f.against {
		p.Para(7, "  not  ", s.Says+" ("+s.Source+")")
	}
}
