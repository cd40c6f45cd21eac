package evidence

import (
	"fmt"
	"strings"

	"epitome/core/fact"
	"epitome/core/machine"
	"epitome/core/pattern"
	"epitome/core/reading"
	"epitome/core/records"
	"epitome/core/smbios"
)

// onboard are the words by which firmware names soldered banks.
var onboard = pattern.Of(`(?i)\bon[ -]?board\b|\bsoldered\b|\bmemory down\b|\bmotherboard\b`)

// chipPart are the beginnings of chip makers' numbers for single chips, which no
// module carries: their numbering guides give modules others (M3, M4, HM, MTA).
var chipPart = pattern.Of(`^(K[34][A-Z0-9]|H5[A-Z]|H9[A-Z]|H58|MT4[0-9][A-Z]|MT5[0-9]|MT6[0-9]|NT[56][A-Z])`)

// attach weighs the signs of socket and soldered chips. None of them decides
// alone: firmware calls soldered chips "SODIMM" and sockets "row of chips".
func attach(d smbios.Device, source string, kind fact.Fact[machine.Kind],
	chip *reading.EEPROM) []fact.Claim[machine.Attach] {
	var claims []fact.Claim[machine.Attach]
	add := func(a machine.Attach, w fact.Weight, says string) {
		claims = append(claims, fact.Claimed(a, w, source, says))
	}
	if _, isModule := d.Form().Get(); isModule {
		add(machine.Socket, fact.Fair, "form factor "+d.FormName())
		if kind.Or(machine.Other) == machine.Desktop && d.FormCode == 0x09 {
			add(machine.Socket, fact.Fair, "a full-size DIMM in a desktop chassis")
		}
	} else if d.OnBoard() {
		add(machine.Soldered, fact.Fair, "form factor "+d.FormName())
	}
	if g, ok := d.Generation().Get(); ok && g.LowPower() && d.FormCode != 0x11 {
		add(machine.Soldered, fact.Firm, g.String()+" comes soldered")
	}
	if filled, ok := d.Filled.Get(); ok && !filled {
		add(machine.Socket, fact.Fair, "an empty place: chips can't be missing")
	} else if ok {
		claims = append(claims, identity(d, source)...)
	}
	if chip != nil {
		claims = append(claims, attachedBy(*chip)...)
	}
	return claims
}

// identity is what the names of a filled place and of what is in it tell.
func identity(d smbios.Device, source string) (claims []fact.Claim[machine.Attach]) {
	add := func(a machine.Attach, w fact.Weight, says string) {
		claims = append(claims, fact.Claimed(a, w, source, says))
	}
	if onboard().MatchString(d.Locator + " " + d.Bank) {
		add(machine.Soldered, fact.Firm, fmt.Sprintf("its name %q", d.Locator))
	}
	part, hasPart := smbios.Told(d.Part)
	switch {
	case hasPart && chipPart().MatchString(strings.ToUpper(part)):
		add(machine.Soldered, fact.Fair, fmt.Sprintf("part number %q is a single chip's", part))
	case named(d) && d.OnBoard():
		add(machine.Socket, fact.Fair, "a row of chips has no serial and part number of its own")
	case named(d):
		add(machine.Socket, fact.Hint, "serial and part number are there")
	case anonymous(d):
		add(machine.Soldered, fact.Hint, "serial and part number are blank")
	}
	return claims
}

// named and anonymous: whether what is in a place tells of itself.
func named(d smbios.Device) bool {
	_, hasSerial := smbios.Told(d.Serial)
	_, hasPart := smbios.Told(d.Part)
	return hasSerial && hasPart
}

func anonymous(d smbios.Device) bool {
	_, hasSerial := smbios.Told(d.Serial)
	_, hasPart := smbios.Told(d.Part)
	return !hasSerial && !hasPart
}

// siblings adds what places tell together. Two or more filled ones alike in size,
// ranks and width, none with a serial or part number, are banks of one purchase of
// chips more often than modules; so is one without, beside one that names itself, or
// whose EEPROM answers; and so are two of one serial number.
func (s sources) siblings(at int, source string) (claims []fact.Claim[machine.Attach]) {
	devices := s.Tables.SystemDevices()
	d := devices[at]
	if !d.Filled.Or(false) {
		return nil
	}
	alike, others, answers, twice := 0, false, false, false
	serial, hasSerial := smbios.Told(d.Serial)
	for i, o := range devices {
		if !o.Filled.Or(false) {
			continue
		}
		if anonymous(o) && o.Size == d.Size && o.Rank == d.Rank && o.DataBits == d.DataBits {
			alike++
		}
		if i == at {
			continue
		}
		others = others || named(o)
		answers = answers || s.EEPROMOf(i) != nil
		text, _ := smbios.Told(o.Serial)
		twice = twice || hasSerial && text == serial
	}
	add := func(says string) {
		claims = append(claims, fact.Claimed(machine.Soldered, fact.Hint, source, says))
	}
	if anonymous(d) && alike >= 2 {
		add(fmt.Sprintf("%d places alike and nameless", alike))
	}
	if anonymous(d) && others {
		add("the other one names itself, and it does not")
	}
	if answers && s.EEPROMOf(at) == nil {
		add("no EEPROM answers, and the other one's does")
	}
	if twice {
		add(fmt.Sprintf("serial number %q stands twice", serial))
	}
	return claims
}

// upgradeable is what a system says of the whole: whether memory can be added.
func (s sources) upgradeable() (claims []fact.Claim[machine.Attach]) {
	for _, o := range s.Objects {
		if o.Class != records.PhysicalMemoryArray {
			continue
		}
		switch strings.ToLower(o.Text("Upgradeable")) {
		case "yes":
			claims = append(claims, fact.Claimed(machine.Socket, fact.Fair, s.cite(smbios.TypeMemoryArray, ""),
				"the system says that memory can be added"))
		case "no":
			claims = append(claims, fact.Claimed(machine.Soldered, fact.Firm, s.cite(smbios.TypeMemoryArray, ""),
				"the system says that memory can't be added"))
		}
	}
	return claims
}

// slim are chassis codes of machines that are built with soldered memory more
// often than not: tablet, convertible, detachable.
var slim = map[smbios.ChassisKind]bool{0x1E: true, 0x1F: true, 0x20: true}

func (s sources) slimChassis() (claims []fact.Claim[machine.Attach]) {
	for _, c := range s.Tables.Chassis {
		if slim[c.Kind] {
			claims = append(claims, fact.Claimed(machine.Soldered, fact.Hint, s.cite(smbios.TypeChassis, ""),
				"chassis "+c.Kind.String()))
		}
	}
	return claims
}
