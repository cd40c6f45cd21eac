package reading

import (
	"strings"

	"epitome/core/card"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/smbios"
)

// An EEPROM is a module's EEPROM image, decoded.
type EEPROM struct {
	Source  string // "EEPROM 0x50"
	Address string // "0x50", empty where it is not known
	Module  module.Module
	Either  bool             // it may be that of another place: they are alike in all but serial number
	Device  maybe.Value[int] // of the system's memory devices, the one that it was matched with
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

// match finds for each device the EEPROM of the module in it: by serial
// number, else by a part number that only one of each has, else, where one
// filled place and one EEPROM are left and agree, by elimination. Addresses
// alone match nothing: boards wire them as they like.
func (s *Set) match() {
	devices := s.Tables.SystemDevices()
	matched := make([]bool, len(devices))
	pair := func(e *EEPROM, i int) { e.Device, matched[i] = maybe.Just(i), true }
	try := func(agree func(smbios.Device, module.Module) bool) {
		for i := range devices {
			if matched[i] || !devices[i].Filled.Or(false) {
				continue
			}
			if e, only := s.onlyEEPROM(devices[i], agree); only && claimants(devices, matched, e.Module, agree) == 1 {
				pair(e, i)
			}
		}
	}
	try(sameSerial)
	try(samePart)
	var left []int
	for i, d := range devices {
		if d.Filled.Or(false) && !matched[i] {
			left = append(left, i)
		}
	}
	if len(left) == 1 {
		if e, only := s.onlyEEPROM(devices[left[0]], func(smbios.Device, module.Module) bool { return true }); only &&
			agrees(devices[left[0]], e.Module) {
			pair(e, left[0])
			return
		}
	}
	// As many modules that are alike as there are places left: which is which tells
	// their serial numbers alone.
	alike := s.interchangeable()
	if len(alike) < 2 || len(alike) != len(left) {
		return
	}
	for _, i := range left {
		for _, e := range alike {
			if !agrees(devices[i], e.Module) {
				return
			}
		}
	}
	for n, i := range left {
		alike[n].Module.ForgetIdentity()
		alike[n].Either = true
		pair(alike[n], i)
	}
}

// interchangeable returns the unmatched EEPROMs, if nothing but their serial numbers
// and dates tells them apart.
func (s *Set) interchangeable() (alike []*EEPROM) {
	for i := range s.EEPROMs {
		e := &s.EEPROMs[i]
		if e.Device.Known() {
			continue
		}
		if len(alike) > 0 && !(e.Module.Judged() == alike[0].Module.Judged() && e.Module.Part == alike[0].Module.Part) {
			return nil
		}
		alike = append(alike, e)
	}
	return alike
}

// EEPROMOf returns the EEPROM that was matched with the system's i-th memory
// device, nil where none was.
func (s *Set) EEPROMOf(i int) *EEPROM {
	for n := range s.EEPROMs {
		if at, ok := s.EEPROMs[n].Device.Get(); ok && at == i {
			return &s.EEPROMs[n]
		}
	}
	return nil
}

// onlyEEPROM returns the unmatched EEPROM that agrees with a device, and whether
// it is the only one.
func (s *Set) onlyEEPROM(d smbios.Device, agree func(smbios.Device, module.Module) bool) (found *EEPROM, only bool) {
	for i := range s.EEPROMs {
		if e := &s.EEPROMs[i]; !e.Device.Known() && agree(d, e.Module) {
			if found != nil {
				return found, false
			}
			found = e
		}
	}
	return found, found != nil
}

// claimants counts the unmatched filled places that agree with an EEPROM.
func claimants(devices []smbios.Device, matched []bool, m module.Module,
	agree func(smbios.Device, module.Module) bool) (n int) {
	for i, d := range devices {
		if !matched[i] && d.Filled.Or(false) && agree(d, m) {
			n++
		}
	}
	return n
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

func sameSerial(d smbios.Device, m module.Module) bool {
	text, ok := smbios.Told(d.Serial)
	own, has := m.Serial.Get()
	return ok && has && SameSerial(text, own)
}

func samePart(d smbios.Device, m module.Module) bool {
	text, ok := smbios.Told(d.Part)
	own, has := m.Part.Get()
	return ok && has && SamePart(text, own) && agrees(d, m)
}

// agrees reports whether nothing that firmware says of a place contradicts an
// EEPROM.
func agrees(d smbios.Device, s module.Module) bool {
	g1, ok1 := d.Generation().Get()
	g2, ok2 := s.Generation.Get()
	size1, ok3 := d.Size.Get()
	size2, ok4 := s.Capacity.Get()
	serial, hasSerial := smbios.Told(d.Serial)
	return !(ok1 && ok2 && g1 != g2) && !(ok3 && ok4 && size1 != size2) &&
		!(hasSerial && serial != "" && s.Serial.Known() && !sameSerial(d, s))
}
