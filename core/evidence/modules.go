package evidence

import (
	"fmt"
	"slices"
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/module"
	"epitome/core/reading"
	"epitome/core/smbios"
)

// A fitted collects what the readings say of what sits in one place.
type fitted struct {
	readings []module.Module // each with its facts as claims
	running  []fact.Claim[jedec.Rate]
	supplied []fact.Claim[int]
	speeds   speeds
}

// into brings the claims together at a place. The form of a soldered bank follows
// from how it is attached. What a technician would act on and readings contradict is
// returned.
func (c fitted) into(p *machine.Place, source string) (conflicts []machine.Conflict) {
	m := module.Join(c.readings...)
	defer func() { conflicts = contradicted(p) }()
	rated, running := c.speeds.resolve(m.Generation.Or(jedec.GenerationUnknown), m.Rated.Or(0))
	m.Rated = fact.Join(m.Rated, fact.Weigh(rated...))
	p.Running, p.Supplied = fact.Weigh(append(c.running, running...)...), fact.Weigh(c.supplied...)
	if p.Attach.Or("") == machine.Soldered {
		m.Form = fact.Of(jedec.Soldered, p.Attach.Standing(),
			fact.Support{Source: source, Says: "follows from how it is attached"})
	}
	if mv, ok := p.Supplied.Get(); ok && m.Supplies.Standing() == fact.Unknown &&
		m.Generation.Or(jedec.GenerationUnknown).RunsAt(mv) {
		m.Supplies = fact.Map(p.Supplied, func(mv int) jedec.Supplies { return jedec.SuppliesOf(mv) }) // it runs at it
	}
	p.Module = &m
	return nil
}

// acted are the facts that somebody acts on: where readings differ in one, both are
// shown.
var acted = map[string]machine.Topic{"capacity_mib": machine.AboutCapacity, "generation": machine.AboutGeneration,
	"part": "part", "serial": "serial", "rated_mts": "rated speed", "ranks": "ranks"}

// contradicted names what a place's readings contradict each other in.
func contradicted(p *machine.Place) (found []machine.Conflict) {
	for _, r := range module.Rows() {
		topic, told := acted[r.Key]
		s := r.Show(p.Module)
		against := s.Against
		if s.Standing == fact.Disputed {
			against = s.Why
		}
		if !told || len(against) == 0 {
			continue
		}
		c := machine.Conflict{About: machine.Subject{Topic: topic, Place: p.Name}}
		var words []string
		for _, x := range append(append([]fact.Support{}, s.Why...), s.Against...) {
			if !slices.Contains(c.Sources, x.Source) || s.Standing == fact.Disputed {
				c.Sources, words = append(c.Sources, x.Source), append(words, x.Says)
			}
		}
		c.Says = strings.Join(words, "; ")
		found = append(found, c)
	}
	return found
}

// listed adds what the lists claim of what is in a place, each under its own name.
func (c *fitted) listed(y *spot, source string, writes convention) {
	c.listedBy(y.Sighting, y.chip, source)
	for _, x := range y.contrary {
		var m module.Module
		if size, ok := x.Size.Get(); ok {
			m.Capacity = says(size, fact.Firm, x.Origin.String(), "size "+size.String())
		}
		if g, ok := x.Generation.Get(); ok {
			m.Generation = says(g, fact.Firm, x.Origin.String(), x.GenerationSays+", "+g.String())
		}
		c.readings = append(c.readings, m)
	}
	c.speeds = speeds{rated: y.Speed.Or(0), running: y.Configured.Or(0), runs: y.SpeedRuns, source: source,
		writes: writes}
	if mv, ok := y.MilliVolts.Get(); ok {
		c.supplied = append(c.supplied, fact.Claimed(mv, fact.Firm, source, fmt.Sprintf("configured voltage %d mV", mv)))
	}
}

func (c *fitted) listedBy(x reading.Sighting, chip *reading.EEPROM, source string) {
	var m module.Module
	if g, ok := x.Generation.Get(); ok {
		m.Generation = says(g, fact.Firm, source, x.GenerationSays+", "+g.String())
	}
	if form, ok := x.Form.Get(); ok {
		m.Form = says(form, fact.Fair, source, x.FormSays)
	}
	if size, ok := x.Size.Get(); ok {
		m.Capacity = says(size, fact.Firm, source, "size "+size.String())
	}
	if ranks, ok := x.Ranks.Get(); ok {
		m.Ranks = says(ranks, fact.Fair, source, fmt.Sprintf("rank attribute %d", ranks))
	}
	total, hasTotal := x.TotalBits.Get()
	data, hasData := x.DataBits.Get()
	if hasTotal && hasData && total >= data {
		m.ECC = says(total > data, fact.Fair, source, fmt.Sprintf("total width %d, data width %d bits", total, data))
	} else if ecc, ok := x.ECC.Get(); ok {
		m.ECC = says(ecc, fact.Fair, source, "type with ECC")
	}
	if registered, ok := x.Registered.Get(); ok {
		m.Registered = says(registered, fact.Fair, source, x.BufferingSays)
		if x.LoadReduced {
			m.LoadReduced = says(true, fact.Fair, source, x.BufferingSays)
		}
	}
	m.Maker = makerSays(x.Maker, source)
	m.Part = stringSays(x.Part, source, "part number")
	m.Serial = stringSays(x.Serial, source, "serial number")
	if chip != nil {
		m.Part = asWritten(m.Part, chip.Module.Part, reading.SamePart)
		m.Serial = asWritten(m.Serial, chip.Module.Serial, reading.SameSerial)
	}
	c.readings = append(c.readings, m)
}

// asWritten is firmware's text as the EEPROM writes it, where both mean the same:
// firmware turns bytes round, and drops spaces.
func asWritten(firmware, own fact.Fact[string], same func(a, b string) bool) fact.Fact[string] {
	text, ok1 := firmware.Get()
	other, ok2 := own.Get()
	if !ok1 || !ok2 || !same(text, other) {
		return firmware
	}
	return fact.Map(firmware, func(string) string { return other })
}

// says is a fact by one claim.
func says[T comparable](value T, w fact.Weight, source, words string) fact.Fact[T] {
	return fact.Weigh(fact.Claimed(value, w, source, words))
}

// makerSays reads a maker's name, or the code that firmware wrote instead.
func makerSays(text, source string) fact.Fact[string] {
	if code, ok := jedec.ParseMaker(text); ok {
		return says(code.String(), fact.Firm, source, fmt.Sprintf("maker %q, a maker code", text))
	}
	return stringSays(text, source, "maker")
}

func stringSays(text, source, field string) fact.Fact[string] {
	name, ok := smbios.Told(text)
	if !ok {
		return fact.Fact[string]{}
	}
	return says(name, fact.Firm, source, fmt.Sprintf("%s %q", field, text))
}

// image adds what the module's own EEPROM claims. It is the best source for a
// module's facts; with a bad checksum it is worth a hint.
func (c *fitted) image(e reading.EEPROM) {
	w := fact.Prime
	if e.Module.Checksum == "bad" {
		w = fact.Hint
	}
	c.described(e.Module, w, e.Source)
}

// described adds what a description of the module states. Firmware's placeholders
// are no part number in an EEPROM either, and soldered chips have no form.
func (c *fitted) described(m module.Module, w fact.Weight, source string) {
	for _, text := range []*fact.Fact[string]{&m.Part, &m.Serial} {
		if _, ok := smbios.Told(text.Or("")); !ok {
			*text = fact.Fact[string]{}
		}
	}
	if m.Form.Or(jedec.FormUnknown) == jedec.Soldered {
		m.Form = fact.Fact[jedec.Form]{}
	}
	c.readings = append(c.readings, m.Claimed(w, source))
}

// attachedBy is what an EEPROM says of the place, by the module type in it. One
// that does not state a type, whose checksum is bad, or that carries no serial
// or part number says nothing: boards with soldered chips have been seen with
// an EEPROM too, one that calls them a module and leaves its identity blank.
func attachedBy(e reading.EEPROM) []fact.Claim[machine.Attach] {
	f, ok := e.Module.Form.Get()
	switch {
	case !ok || e.Module.Checksum == "bad":
		return nil
	case f == jedec.Soldered:
		return []fact.Claim[machine.Attach]{fact.Claimed(machine.Soldered, fact.Fair, e.Source,
			"its module type is that of soldered chips")}
	case !e.Module.Serial.Known() || !e.Module.Part.Known():
		return nil
	}
	return []fact.Claim[machine.Attach]{fact.Claimed(machine.Socket, fact.Fair, e.Source,
		fmt.Sprintf("an EEPROM answers, and its module type is %v", f))}
}

// systemSees lets the system speak where firmware and EEPROM give one module two
// sizes: what it has to work with speaks for one of them, and two against one the
// EEPROM does not stand by itself.
func (s *sources) systemSees(c *fitted, y *spot) {
	visible, known := s.visible().Get()
	if !known || y.chip == nil {
		return
	}
	listed, ok1 := y.Size.Get()
	own, ok2 := y.chip.Module.Capacity.Get()
	if !ok1 || !ok2 || listed == own {
		return
	}
	var others jedec.Capacity
	for _, o := range s.spots {
		if o != y {
			others += o.Size.Or(0)
		}
	}
	// A system sees a little less than what is there, and never more.
	fits := func(size jedec.Capacity) bool {
		all := others + size
		return visible <= all && all-visible < max(512*jedec.MiB, all/4)
	}
	if fits(listed) == fits(own) {
		return
	}
	size := own
	if fits(listed) {
		size = listed
	}
	m := module.Module{Facts: module.Facts{Capacity: says(size, fact.Label, "operating system",
		fmt.Sprintf("the system sees %v in all", visible))}}
	c.readings = append(c.readings, m)
}
