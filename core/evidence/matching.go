package evidence

import (
	"strings"

	"epitome/core/card"
	"epitome/core/machine"
	"epitome/core/module"
	"epitome/core/smbios"
)

// readChips decodes the EEPROM images on the card. One that can't be decoded,
// or could not be read, is named.
func (s *sources) readChips(c card.Card) {
	for _, r := range c.Readings {
		if r.Kind != card.SPD {
			continue
		}
		e := eeprom{address: shortAddress(r.Address)}
		e.source = "EEPROM " + r.Source
		if e.address != "" {
			e.source = "EEPROM " + e.address
		}
		if r.Failure != "" {
			s.fail(e.source, r.Failure)
		}
		if len(r.Data) == 0 {
			continue
		}
		image, err := module.FromImage(e.source, r.Data)
		if err != nil {
			s.fail(e.source, err.Error())
			continue
		}
		if image.Checksum == "bad" {
			s.fail(e.source, "checksum: "+strings.Join(image.Checks, "; ")+"; it weighs little")
		}
		e.stick = image
		s.chips = append(s.chips, e)
	}
	s.chips = bounded(s, "module EEPROMs", "modules", s.chips)
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
func (s *sources) match(devices []smbios.Device, names []string) []*eeprom {
	matched := make([]*eeprom, len(devices))
	try := func(agree func(smbios.Device, module.Module) bool) {
		for i := range devices {
			if matched[i] != nil || !devices[i].Filled.Or(false) {
				continue
			}
			chip, only := s.onlyChip(devices[i], agree)
			if chip == nil || !only || s.claimants(devices, matched, chip.stick, agree) != 1 {
				continue
			}
			chip.place, matched[i] = names[i], chip
		}
	}
	try(sameSerial)
	try(samePart)
	left, place := 0, -1
	for i, d := range devices {
		if d.Filled.Or(false) && matched[i] == nil {
			left, place = left+1, i
		}
	}
	if left == 1 {
		if chip, only := s.onlyChip(devices[place], func(smbios.Device, module.Module) bool { return true }); only && agrees(devices[place], chip.stick) {
			chip.place, matched[place] = names[place], chip
		}
	}
	return matched
}

// onlyChip returns the unmatched EEPROM that agrees with a device, and whether
// it is the only one.
func (s *sources) onlyChip(d smbios.Device, agree func(smbios.Device, module.Module) bool) (chip *eeprom, only bool) {
	for i := range s.chips {
		if s.chips[i].place == "" && agree(d, s.chips[i].stick) {
			if chip != nil {
				return chip, false
			}
			chip = &s.chips[i]
		}
	}
	return chip, chip != nil
}

// claimants counts the unmatched filled places that agree with an EEPROM.
func (s *sources) claimants(devices []smbios.Device, matched []*eeprom, chip module.Module, agree func(smbios.Device, module.Module) bool) (n int) {
	for i, d := range devices {
		if matched[i] == nil && d.Filled.Or(false) && agree(d, chip) {
			n++
		}
	}
	return n
}

// sameSerial compares serial numbers; firmware writes the four bytes as hex
// digits in either order, with or without a prefix.
func sameSerial(d smbios.Device, s module.Module) bool {
	text, ok := told(d.Serial)
	own, has := s.Serial.Get()
	if !ok || !has {
		return false
	}
	text = strings.TrimLeft(strings.ToUpper(strings.TrimPrefix(strings.ToLower(text), "0x")), "0")
	reversed := ""
	for i := len(own) - 2; i >= 0; i -= 2 {
		reversed += own[i : i+2]
	}
	return text != "" && (text == strings.TrimLeft(own, "0") || text == strings.TrimLeft(reversed, "0"))
}

func samePart(d smbios.Device, s module.Module) bool {
	text, ok := told(d.Part)
	own, has := s.Part.Get()
	return ok && has && strings.EqualFold(text, strings.Join(strings.Fields(own), " ")) && agrees(d, s)
}

// agrees reports whether nothing that firmware says of a place contradicts an
// EEPROM.
func agrees(d smbios.Device, s module.Module) bool {
	g1, ok1 := d.Generation().Get()
	g2, ok2 := s.Generation.Get()
	size1, ok3 := d.Size.Get()
	size2, ok4 := s.Capacity.Get()
	serial, hasSerial := told(d.Serial)
	return !(ok1 && ok2 && g1 != g2) && !(ok3 && ok4 && size1 != size2) && !(hasSerial && serial != "" && s.Serial.Known() && !sameSerial(d, s))
}

// strangers names the EEPROMs that belong to no place that firmware lists.
func (s *sources) strangers() []machine.Conflict {
	var found []machine.Conflict
	for _, e := range s.chips {
		if e.place == "" {
			what := "a module"
			if size, ok := e.stick.Capacity.Get(); ok {
				what = size.String()
			}
			if g, ok := e.stick.Generation.Get(); ok {
				what += " of " + g.String()
			}
			found = append(found, machine.Conflict{About: "EEPROM", Sources: []string{e.source}, Says: what + ", which could not be matched with a place"})
		}
	}
	return found
}
