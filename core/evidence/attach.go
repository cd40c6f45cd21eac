package evidence

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"epitome/core/fact"
	"epitome/core/jedec"
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
func attach(y *spot, source string, kind fact.Fact[machine.Kind]) []fact.Claim[machine.Attach] {
	var claims []fact.Claim[machine.Attach]
	add := func(a machine.Attach, w fact.Weight, says string) {
		claims = append(claims, fact.Claimed(a, w, source, says))
	}
	form, isModule := y.Form.Get()
	if isModule {
		add(machine.Socket, fact.Fair, y.FormSays)
		if kind.Or(machine.Other) == machine.Desktop && form == jedec.DIMM {
			add(machine.Socket, fact.Fair, "a full-size DIMM in a desktop chassis")
		}
	} else if y.Chips {
		add(machine.Soldered, fact.Fair, y.FormSays)
	}
	if g, ok := y.Generation.Get(); ok && g.LowPower() && form != jedec.CAMM2 {
		add(machine.Soldered, fact.Firm, g.String()+" comes soldered")
	}
	if filled, ok := y.Filled.Get(); ok && !filled {
		add(machine.Socket, fact.Fair, "an empty place: chips can't be missing")
	} else if ok {
		claims = append(claims, identity(y.Sighting, source)...)
	}
	if y.chip != nil {
		claims = append(claims, attachedBy(*y.chip)...)
	}
	return claims
}

// inTower is what full-size DIMMs in a desktop tell of the places beside them: such a board has nothing else.
func (s *sources) inTower(kind fact.Fact[machine.Kind], source string) (claims []fact.Claim[machine.Attach]) {
	dimms := slices.ContainsFunc(s.spots, func(y *spot) bool { return y.Filled.Or(false) && y.Form.Or(0) == jedec.DIMM })
	if kind.Or(machine.Other) != machine.Desktop || !dimms {
		return nil
	}
	return append(claims, fact.Claimed(machine.Socket, fact.Fair, source, "beside full-size DIMMs in a desktop chassis"))
}

// identity is what the names of a filled place and of what is in it tell.
func identity(x reading.Sighting, source string) (claims []fact.Claim[machine.Attach]) {
	add := func(a machine.Attach, w fact.Weight, says string) {
		claims = append(claims, fact.Claimed(a, w, source, says))
	}
	if onboard().MatchString(x.Locator + " " + x.Bank) {
		add(machine.Soldered, fact.Firm, fmt.Sprintf("its name %q", x.Locator))
	}
	switch {
	case x.Part != "" && chipPart().MatchString(strings.ToUpper(x.Part)):
		add(machine.Soldered, fact.Fair, fmt.Sprintf("part number %q is a single chip's", x.Part))
	case x.Named() && x.Chips:
		add(machine.Socket, fact.Fair, "a row of chips has no serial and part number of its own")
	case x.Named():
		add(machine.Socket, fact.Hint, "serial and part number are there")
	case x.Anonymous():
		add(machine.Soldered, fact.Hint, "serial and part number are blank")
	}
	return claims
}

// siblings adds what places tell together. Two or more filled ones alike in size,
// ranks and width, none with a serial or part number, are banks of one purchase of
// chips more often than modules; so is one without, beside one that names itself, or
// whose EEPROM answers; and so are two of one serial number.
func (s *sources) siblings(y *spot, source string) (claims []fact.Claim[machine.Attach]) {
	if !y.Filled.Or(false) {
		return nil
	}
	alike, others, answers, twice := 0, false, false, false
	for _, o := range s.spots {
		if !o.Filled.Or(false) {
			continue
		}
		if o.Anonymous() && o.Size == y.Size && o.Ranks == y.Ranks && o.DataBits == y.DataBits {
			alike++
		}
		if o == y {
			continue
		}
		others = others || o.Named()
		answers = answers || o.chip != nil
		twice = twice || y.Serial != "" && o.Serial == y.Serial
	}
	add := func(says string) {
		claims = append(claims, fact.Claimed(machine.Soldered, fact.Hint, source, says))
	}
	if y.Anonymous() && alike >= 2 {
		add(fmt.Sprintf("%d places alike and nameless", alike))
	}
	if y.Anonymous() && others {
		add("the other one names itself, and it does not")
	}
	if answers && y.chip == nil {
		add("no EEPROM answers, and the other one's does")
	}
	if twice {
		add(fmt.Sprintf("serial number %q stands twice", y.Serial))
	}
	return claims
}

// upgradeable is what a system says of the whole: whether memory can be added.
func (s *sources) upgradeable() (claims []fact.Claim[machine.Attach]) {
	for _, e := range s.Exports {
		if e.Overview == nil {
			continue
		}
		switch strings.ToLower(e.Overview.Upgradeable) {
		case "yes":
			claims = append(claims, fact.Claimed(machine.Socket, fact.Fair, reading.OtherSheet.String(),
				"the system says that memory can be added"))
		case "no":
			claims = append(claims, fact.Claimed(machine.Soldered, fact.Firm, reading.OtherSheet.String(),
				"the system says that memory can't be added"))
		}
	}
	return claims
}

// slim are chassis codes of machines that are built with soldered memory more
// often than not: tablet, convertible, detachable.
var slim = map[smbios.ChassisKind]bool{0x1E: true, 0x1F: true, 0x20: true}

func (s *sources) slimChassis() (claims []fact.Claim[machine.Attach]) {
	for _, c := range s.chassis() {
		if slim[c.kind] {
			return append(claims, fact.Claimed(machine.Soldered, fact.Hint, c.source, "chassis "+c.kind.String()))
		}
	}
	return claims
}

// A chassisSaid is a chassis code as one source has it.
type chassisSaid struct {
	kind   smbios.ChassisKind
	source string
}

// chassis are the codes of what the machine is built as, the table's first.
func (s *sources) chassis() (list []chassisSaid) {
	for _, c := range s.Tables.Chassis {
		list = append(list, chassisSaid{c.Kind, table(smbios.TypeChassis)})
	}
	for _, o := range s.Objects {
		if o.Class != records.SystemEnclosure {
			continue
		}
		first, _, _ := strings.Cut(o.Text("ChassisTypes"), ",")
		if code, err := strconv.ParseUint(strings.TrimSpace(first), 10, 7); err == nil {
			list = append(list, chassisSaid{smbios.ChassisKind(code), recordOf(records.SystemEnclosure)})
		}
	}
	return list
}

// recordOf names a class of management objects as a source.
func recordOf(class records.Class) string { return "system's record " + string(class) }
