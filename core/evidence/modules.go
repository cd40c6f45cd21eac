package evidence

import (
	"fmt"

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
// from how it is attached.
func (c fitted) into(p *machine.Place, source string) {
	m := module.Join(c.readings...)
	rated, running := c.speeds.resolve(m.Generation.Or(jedec.GenerationUnknown), m.Rated.Or(0))
	m.Rated = fact.Join(m.Rated, fact.Weigh(rated...))
	p.Running, p.Supplied = fact.Weigh(append(c.running, running...)...), fact.Weigh(c.supplied...)
	if p.Attach.Or("") == machine.Soldered {
		m.Form = fact.Of(jedec.Soldered, p.Attach.Standing(), fact.Support{Source: source, Says: "follows from how it is attached"})
	}
	if mv, ok := p.Supplied.Get(); ok && m.Supplies.Standing() == fact.Unknown && m.Generation.Or(jedec.GenerationUnknown).RunsAt(mv) {
		m.Supplies = fact.Map(p.Supplied, func(mv int) jedec.Supplies { return jedec.SuppliesOf(mv) }) // it runs at it
	}
	p.Module = &m
}

// firmware adds what a memory-device structure claims.
func (c *fitted) firmware(d smbios.Device, source string, writes convention) {
	var m module.Module
	if g, ok := d.Generation().Get(); ok {
		m.Generation = says(g, fact.Firm, source, fmt.Sprintf("memory type 0x%02X, %v", d.MemoryType, g))
	}
	if form, ok := d.Form().Get(); ok {
		m.Form = says(form, fact.Fair, source, "form factor "+d.FormName())
	}
	if size, ok := d.Size.Get(); ok {
		m.Capacity = says(size, fact.Firm, source, "size "+size.String())
	}
	if ranks, ok := d.Rank.Get(); ok {
		m.Ranks = says(ranks, fact.Fair, source, fmt.Sprintf("rank attribute %d", ranks))
	}
	total, hasTotal := d.TotalBits.Get()
	data, hasData := d.DataBits.Get()
	if hasTotal && hasData && total >= data {
		m.ECC = says(total > data, fact.Fair, source, fmt.Sprintf("total width %d, data width %d bits", total, data))
	}
	if d.Detail&(smbios.DetailRegistered|smbios.DetailUnbuffered|smbios.DetailLoadReduced) != 0 {
		detail := fmt.Sprintf("type detail 0x%04X", uint16(d.Detail))
		m.Registered = says(d.Detail&(smbios.DetailRegistered|smbios.DetailLoadReduced) != 0, fact.Fair, source, detail)
		if d.Detail&smbios.DetailLoadReduced != 0 {
			m.LoadReduced = says(true, fact.Fair, source, detail)
		}
	}
	m.Maker = makerSays(d.Maker, source)
	m.Part = stringSays(d.Part, source, "part number")
	m.Serial = stringSays(d.Serial, source, "serial number")
	c.readings = append(c.readings, m)
	c.speeds = speeds{rated: d.Speed.Or(0), running: d.Configured.Or(0), source: source, writes: writes}
	if mv, ok := d.ConfiguredMV.Get(); ok {
		c.supplied = append(c.supplied, fact.Claimed(mv, fact.Firm, source, fmt.Sprintf("configured voltage %d mV", mv)))
	}
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
		return []fact.Claim[machine.Attach]{fact.Claimed(machine.Soldered, fact.Fair, e.Source, "its module type is that of soldered chips")}
	case !e.Module.Serial.Known() || !e.Module.Part.Known():
		return nil
	}
	return []fact.Claim[machine.Attach]{fact.Claimed(machine.Socket, fact.Fair, e.Source, fmt.Sprintf("an EEPROM answers, and its module type is %v", f))}
}
