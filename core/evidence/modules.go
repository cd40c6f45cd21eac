package evidence

import (
	"fmt"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/smbios"
	"epitome/core/stick"
)

// moduleClaims collects what every source says of one module, fact by fact.
type moduleClaims struct {
	generation               []fact.Claim[jedec.Generation]
	form                     []fact.Claim[jedec.Form]
	capacity                 []fact.Claim[jedec.Capacity]
	rated, running           []fact.Claim[jedec.Rate]
	ranks, width, milliVolts []fact.Claim[int]
	ecc, registered          []fact.Claim[bool]
	maker, part, serial      []fact.Claim[string]
	speeds                   speeds
	described                stick.Stick // the weightiest description of the module itself
	trust                    fact.Weight // of it
}

// weigh brings the claims to findings. The form of a soldered bank follows
// from how it is attached.
func (c moduleClaims) weigh(a fact.Fact[machine.Attach], source string) *machine.Module {
	generation := fact.Weigh(c.generation...)
	own := fact.Weigh(c.rated...).Or(0) // by EEPROM or sticker: firmware's figures are not in yet
	rated, running := c.speeds.resolve(generation.Or(jedec.GenerationUnknown), own)
	c.rated, c.running = append(c.rated, rated...), append(c.running, running...)
	m := &machine.Module{
		Generation: generation, Form: fact.Weigh(c.form...), Capacity: fact.Weigh(c.capacity...), Rated: fact.Weigh(c.rated...), Running: fact.Weigh(c.running...),
		Ranks: fact.Weigh(c.ranks...), DeviceWidth: fact.Weigh(c.width...), ECC: fact.Weigh(c.ecc...), Registered: fact.Weigh(c.registered...), MilliVolts: fact.Weigh(c.milliVolts...),
		Maker: fact.Weigh(c.maker...), Part: fact.Weigh(c.part...), Serial: fact.Weigh(c.serial...), Described: c.described,
	}
	if a.Or("") == machine.Soldered {
		m.Form = fact.Of(jedec.Soldered, a.Standing(), fact.Support{Source: source, Says: "follows from how it is attached"})
	}
	return m
}

// firmware adds what a memory-device structure claims.
func (c *moduleClaims) firmware(d smbios.Device, source string, writes convention) {
	if g, ok := d.Generation().Get(); ok {
		c.generation = append(c.generation, fact.Claimed(g, fact.Firm, source, fmt.Sprintf("memory type 0x%02X, %v", d.MemoryType, g)))
	}
	if form, ok := d.Form().Get(); ok {
		c.form = append(c.form, fact.Claimed(form, fact.Fair, source, "form factor "+d.FormName()))
	}
	if size, ok := d.Size.Get(); ok {
		c.capacity = append(c.capacity, fact.Claimed(size, fact.Firm, source, "size "+size.String()))
	}
	c.speeds = speeds{rated: d.Speed.Or(0), running: d.Configured.Or(0), source: source, writes: writes}
	if ranks, ok := d.Rank.Get(); ok {
		c.ranks = append(c.ranks, fact.Claimed(ranks, fact.Fair, source, fmt.Sprintf("rank attribute %d", ranks)))
	}
	total, hasTotal := d.TotalBits.Get()
	data, hasData := d.DataBits.Get()
	if hasTotal && hasData && total >= data {
		c.ecc = append(c.ecc, fact.Claimed(total > data, fact.Fair, source, fmt.Sprintf("total width %d, data width %d bits", total, data)))
	}
	if d.Detail&(smbios.DetailRegistered|smbios.DetailUnbuffered|smbios.DetailLoadReduced) != 0 {
		registered := d.Detail&(smbios.DetailRegistered|smbios.DetailLoadReduced) != 0
		c.registered = append(c.registered, fact.Claimed(registered, fact.Fair, source, fmt.Sprintf("type detail 0x%04X", uint16(d.Detail))))
	}
	if mv, ok := d.ConfiguredMV.Get(); ok {
		c.milliVolts = append(c.milliVolts, fact.Claimed(mv, fact.Firm, source, fmt.Sprintf("configured voltage %d mV", mv)))
	}
	c.maker = append(c.maker, makerClaims(d.Maker, source)...)
	c.part = append(c.part, stringClaims(d.Part, source, "part number")...)
	c.serial = append(c.serial, stringClaims(d.Serial, source, "serial number")...)
}

// makerClaims reads a maker's name, or the code that firmware wrote instead.
func makerClaims(text, source string) []fact.Claim[string] {
	if code, ok := jedec.ParseMaker(text); ok {
		return []fact.Claim[string]{fact.Claimed(code.String(), fact.Firm, source, fmt.Sprintf("maker %q, a maker code", text))}
	}
	return stringClaims(text, source, "maker")
}

func stringClaims(text, source, field string) []fact.Claim[string] {
	name, ok := told(text)
	if !ok {
		return nil
	}
	return []fact.Claim[string]{fact.Claimed(name, fact.Firm, source, fmt.Sprintf("%s %q", field, text))}
}

// image adds what the module's own EEPROM claims. It is the best source for a
// module's facts; with a bad checksum it is worth a hint.
func (c *moduleClaims) image(e eeprom) {
	w := fact.Prime
	if e.stick.Checksum == "bad" {
		w = fact.Hint
	}
	c.stick(e.stick, w, e.source)
}

// stick adds what a description of the module states.
func (c *moduleClaims) stick(s stick.Stick, w fact.Weight, source string) {
	if w > max(c.trust, fact.Hint) {
		c.described, c.trust = s, w
	}
	if g, ok := s.Generation.Get(); ok {
		c.generation = append(c.generation, fact.Claimed(g, w, source, "generation "+g.String()))
	}
	if f, ok := s.Form.Get(); ok && f != jedec.Soldered {
		c.form = append(c.form, fact.Claimed(f, w, source, "module type "+f.String()))
	}
	if size, ok := s.Capacity.Get(); ok {
		c.capacity = append(c.capacity, fact.Claimed(size, w, source, "size "+size.String()))
	}
	if x, ok := s.Grade.Get(); ok {
		c.rated = append(c.rated, fact.Claimed(x.Rate, w, source, "grade "+x.String()))
	}
	if n, ok := s.Ranks.Get(); ok {
		c.ranks = append(c.ranks, fact.Claimed(n, w, source, fmt.Sprintf("%d package ranks", n)))
	}
	if n, ok := s.Width.Get(); ok {
		c.width = append(c.width, fact.Claimed(n, w, source, fmt.Sprintf("chips x%d", n)))
	}
	if yes, ok := s.ECC.Get(); ok {
		c.ecc = append(c.ecc, fact.Claimed(yes, w, source, map[bool]string{true: "check bits", false: "no check bits"}[yes]))
	}
	if yes, ok := s.Registered.Get(); ok {
		c.registered = append(c.registered, fact.Claimed(yes, w, source, map[bool]string{true: "registered", false: "unbuffered"}[yes]))
	}
	// A code without a name in the list says nothing that firmware's name does
	// not say better.
	if m, ok := s.Maker.Get(); ok && m.Name() != "" {
		c.maker = append(c.maker, fact.Claimed(m.String(), w, source, "maker code "+m.String()))
	}
	for _, x := range []struct {
		claims *[]fact.Claim[string]
		text   string
		field  string
	}{{&c.part, s.Part, "part number"}, {&c.serial, s.Serial, "serial number"}} {
		if name, ok := told(x.text); ok {
			*x.claims = append(*x.claims, fact.Claimed(name, w, source, fmt.Sprintf("%s %q", x.field, x.text)))
		}
	}
}

// An eeprom is a module's EEPROM image, decoded.
type eeprom struct {
	source  string // "EEPROM 0x50"
	address string // "0x50", empty where it is not known
	stick   stick.Stick
	place   string // the place it was matched with, empty for none
}

// attach is what an EEPROM says of the place, by the module type in it. One
// that does not state a type, whose checksum is bad, or that carries no serial
// or part number says nothing: boards with soldered chips have been seen with
// an EEPROM too, one that calls them a module and leaves its identity blank.
func (e eeprom) attach() []fact.Claim[machine.Attach] {
	f, ok := e.stick.Form.Get()
	switch {
	case !ok || e.stick.Checksum == "bad":
		return nil
	case f == jedec.Soldered:
		return []fact.Claim[machine.Attach]{fact.Claimed(machine.Soldered, fact.Fair, e.source, "its module type is that of soldered chips")}
	case e.stick.Serial == "" || e.stick.Part == "":
		return nil
	}
	return []fact.Claim[machine.Attach]{fact.Claimed(machine.Socket, fact.Fair, e.source, fmt.Sprintf("an EEPROM answers, and its module type is %v", f))}
}
