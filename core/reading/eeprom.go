package reading

import (
	"strings"

	"epitome/core/card"
	"epitome/core/module"
)

// An EEPROM is a module's EEPROM image, decoded.
type EEPROM struct {
	Source  string // "EEPROM 0x50"
	Address string // "0x50", empty where it is not known
	Module  module.Module
}

// readEEPROMs decodes the EEPROM images on the card. One that can't be decoded,
// or could not be read, is named.
func (s *Set) readEEPROMs(c card.Card) {
	for _, r := range c.Readings { // those that could not be taken, too
		if r.Kind != card.SPD {
			continue
		}
		e := EEPROM{Address: shortAddress(r.Address), Source: "EEPROM " + r.Source}
		if e.Address != "" {
			e.Source = "EEPROM " + e.Address
		}
		if len(r.Data) == 0 {
			continue
		}
		if r.Failure != "" {
			s.Unread = append(s.Unread, Trouble{e.Source, r.Failure})
		}
		m, err := module.FromImage(e.Source, r.Data)
		if err != nil {
			s.fail(e.Source, err.Error())
			continue
		}
		if m.Locked {
			s.Unread = append(s.Unread,
				Trouble{e.Source, "only its first page answers, the firmware keeps the rest locked; allow writing to SPD in the " +
					"firmware's menus, or read the module in another machine"})
		}
		if m.Checksum == "bad" {
			s.fail(e.Source, "checksum: "+strings.Join(m.Checks, "; ")+"; it weighs little")
		}
		for _, x := range m.Itself {
			s.fail(e.Source, "contradicts itself: "+x)
		}
		e.Module = m
		s.EEPROMs = append(s.EEPROMs, e)
	}
	s.EEPROMs = bounded(s, "module EEPROMs", "modules", s.EEPROMs)
}

// shortAddress brings "0-0050" and "0x50" to "0x50".
func shortAddress(address string) string {
	if _, digits, ok := strings.Cut(address, "-"); ok && len(digits) == 4 {
		return "0x" + digits[2:]
	}
	return address
}

// SameSerial compares firmware's serial number with an EEPROM's: firmware writes the
// four bytes as hex digits in either order, with or without a prefix.
func SameSerial(firmware, own string) bool {
	text := strings.TrimLeft(strings.ToUpper(strings.TrimPrefix(strings.ToLower(firmware), "0x")), "0")
	reversed := ""
	for i := len(own) - 2; i >= 0; i -= 2 {
		reversed += own[i : i+2]
	}
	return text != "" && (text == strings.TrimLeft(own, "0") || text == strings.TrimLeft(reversed, "0"))
}

// SamePart compares firmware's part number with an EEPROM's.
func SamePart(firmware, own string) bool {
	return strings.EqualFold(strings.Join(strings.Fields(firmware), " "), strings.Join(strings.Fields(own), " "))
}
