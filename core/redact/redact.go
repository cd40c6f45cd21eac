// Package redact takes out of findings what tells one machine or person from
// another: serial numbers and the names of people. Each gets a stand-in of its
// own, the same wherever it stands, so that what agrees still agrees.
package redact

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"epitome/core/machine"
	"epitome/core/maybe"
)

// by is how a person is named in a source.
var by = regexp.MustCompile(`(hand entry by )([^,]+)`)

// Machine returns a machine without serial numbers and people's names.
func Machine(m machine.Machine) machine.Machine {
	r := redactor{stand: make(map[string]string)}
	m.Places = slices.Clone(m.Places)
	for i := range m.Places {
		p := &m.Places[i]
		if p.Module == nil {
			continue
		}
		module := *p.Module
		if serial, ok := module.Serial.Get(); ok {
			module.Serial.Value = maybe.Just(r.serial(serial))
		}
		if module.Described.Serial != "" {
			module.Described.Serial = r.serial(module.Described.Serial)
		}
		for _, list := range [][]machine.Support{module.Serial.Why, module.Serial.Against} {
			for _, s := range list {
				r.quoted(s.Says)
			}
		}
		p.Module = &module
	}
	for _, f := range findings(&m) {
		*f.why, *f.against = r.supports(*f.why), r.supports(*f.against)
	}
	m.Conflicts = slices.Clone(m.Conflicts)
	for i := range m.Conflicts {
		c := &m.Conflicts[i]
		c.Says = r.text(c.Says)
		c.Sources = slices.Clone(c.Sources)
		for j := range c.Sources {
			c.Sources[j] = r.text(c.Sources[j])
		}
	}
	m.Stated = slices.Clone(m.Stated)
	for i := range m.Stated {
		m.Stated[i].Source = r.text(m.Stated[i].Source)
	}
	return m
}

// A redactor remembers stand-ins.
type redactor struct {
	stand   map[string]string
	secrets []string // in order of appearance, for replacing in texts
	people  int
	serials int
}

func (r *redactor) serial(s string) string {
	key := strings.ToUpper(s)
	if r.stand[key] == "" {
		r.serials++
		r.stand[key] = fmt.Sprintf("serial %d", r.serials)
		r.secrets = append(r.secrets, s)
	}
	return r.stand[key]
}

// quoted takes in what a support quotes: firmware may write a serial another
// way than the finding.
func (r *redactor) quoted(says string) {
	if _, rest, ok := strings.Cut(says, `"`); ok {
		if inner, _, ok := strings.Cut(rest, `"`); ok && inner != "" {
			r.serial(inner)
		}
	}
}

func (r *redactor) text(s string) string {
	for _, secret := range r.secrets {
		s = strings.ReplaceAll(s, secret, r.stand[strings.ToUpper(secret)])
	}
	return by.ReplaceAllStringFunc(s, func(found string) string {
		name := by.FindStringSubmatch(found)[2]
		if r.stand["person "+name] == "" {
			r.people++
			r.stand["person "+name] = fmt.Sprintf("person %d", r.people)
		}
		return "hand entry by " + r.stand["person "+name]
	})
}

func (r *redactor) supports(list []machine.Support) []machine.Support {
	out := slices.Clone(list)
	for i := range out {
		out[i].Source, out[i].Says = r.text(out[i].Source), r.text(out[i].Says)
	}
	return out
}

// A finding is where one finding keeps its claims.
type finding struct{ why, against *[]machine.Support }

func of[T any](f *machine.Finding[T]) finding { return finding{&f.Why, &f.Against} }

// findings lists every finding of a machine whose modules are copies.
func findings(m *machine.Machine) (all []finding) {
	all = append(all, of(&m.Kind), of(&m.Maker), of(&m.Model), of(&m.Board), of(&m.Firmware), of(&m.Processor), of(&m.CPUID), of(&m.Chipset), of(&m.OS))
	t := &m.Totals
	all = append(all, of(&t.Installed), of(&t.Visible), of(&t.Sockets), of(&t.SocketsFree), of(&t.Soldered), of(&t.StatedMaximum))
	for i := range m.Places {
		p := &m.Places[i]
		all = append(all, of(&p.Channel), of(&p.Attach), of(&p.Filled), of(&p.Form))
		if x := p.Module; x != nil {
			all = append(all, of(&x.Generation), of(&x.Form), of(&x.Capacity), of(&x.Rated), of(&x.Running), of(&x.Ranks), of(&x.DeviceWidth), of(&x.ECC), of(&x.Registered),
				of(&x.MilliVolts), of(&x.Maker), of(&x.Part), of(&x.Serial))
		}
	}
	return all
}
