package view

import (
	"fmt"
	"strconv"
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

func yes(b bool) string { return map[bool]string{true: "yes", false: "no"}[b] }

// facts lists every finding about a machine, in the order of the page.
func facts(m machine.Machine, reachable fact.Fact[jedec.Capacity]) []shown {
	number := func(n int) string { return fmt.Sprint(n) }
	t := m.Totals
	list := []shown{
		factOf("kind", m.Kind, func(k machine.Kind) string { return string(k) }), factOf("maker", m.Maker, same),
		factOf("model", m.Model, same),
		factOf("board", m.Board, same), factOf("firmware", m.Firmware, same), factOf("processor", m.Processor, same),
		factOf("processors", m.Processors, strconv.Itoa), factOf("chipset", m.Chipset, same),
		factOf("system", m.OS, same), factOf("installed", t.Installed, jedec.Capacity.String),
		factOf("visible", t.Visible, jedec.Capacity.String),
		factOf("sockets", t.Sockets, number), factOf("free sockets", t.SocketsFree, number),
		factOf("soldered", t.Soldered, jedec.Capacity.String),
		factOf("maximum", t.StatedMaximum, jedec.Capacity.String), factOf("reachable", reachable, jedec.Capacity.String),
	}
	for _, p := range m.Places {
		of := func(name string) string { return name + " of " + p.Name }
		list = append(list, factOf(of("attach"), p.Attach, func(a machine.Attach) string { return string(a) }),
			factOf(of("filled"), p.Filled, yes),
			factOf(of("form"), p.Form, jedec.Form.String), factOf(of("channel"), p.Channel, same))
		if p.Module == nil {
			continue
		}
		for _, r := range module.Rows() {
			s := r.Show(p.Module)
			if r.Key == "form" {
				s.Name = "module form" // that of the place stands beside it
			}
			list = append(list, shown{name: of(s.Name), value: s.Text, standing: s.Standing, why: s.Why, against: s.Against})
		}
		list = append(list, factOf(of("running"), p.Running, jedec.Rate.String),
			factOf(of("supplied"), p.Supplied, jedec.Volts))
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
