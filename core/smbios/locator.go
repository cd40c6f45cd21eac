package smbios

import (
	"regexp"

	"epitome/core/maybe"
	"epitome/core/pattern"
)

// A Position is what the names of a place tell of where it is. Board makers
// have many house styles; what a name does not tell stays unknown.
type Position struct {
	Processor, Controller maybe.Value[int]
	Channel               maybe.Value[string] // "A", or a digit where the maker counts
	Slot                  maybe.Value[int]    // within the channel, as the maker counts
}

// positionStyles are tried in order on the locator and the bank string; the
// first match of each fact counts, the locator's before the bank's. Groups:
// cpu, mc, ch, slot.
var positionStyles = []func() *regexp.Regexp{
	pattern.Of(`(?i)\bcontroller[ _-]?(?P<mc>\d)[ _-]*channel[ _-]?(?P<ch>[A-L]|\d)(?:[ _-]*DIMM[ _-]?(?P<slot>\d))?`),
	pattern.Of(`(?i)\b(?:P|CPU|NODE|PROC)[ _-]?(?P<cpu>\d)[ _-]+channel[ _-]?(?P<ch>[A-L]|\d)(?:[ _-]*DIMM[ ` +
		`_-]?(?P<slot>\d))?`),
	pattern.Of(`(?i)\bchannel[ _-]?(?P<ch>[A-L]|\d)(?:[ _-]*(?:DIMM|SLOT)[ _-]?(?P<slot>\d))?`),
	pattern.Of(`(?i)\b(?:P|CPU|NODE|PROC)[ _-]?(?P<cpu>\d)[ _-]+DIMM[ _-]?(?P<ch>[A-L])(?P<slot>[0-3])\b`),
	pattern.Of(`(?i)\b(?:SO-?)?DIMM[ _-]?(?P<ch>[A-L])[ _-]?(?P<slot>[0-4])\b`),
	pattern.Of(`^(?P<ch>[A-IKL])(?P<slot>[0-4])$`), // "J1" is a part of the board, as printed beside a connector
	pattern.Of(`(?i)\bCPU[ _-]?(?P<cpu>\d)[ _-]+DIMM`),
}

// ParsePosition reads the locator and bank strings of a place.
func ParsePosition(locator, bank string) Position {
	var p Position
	for _, text := range []string{locator, bank} {
		for _, style := range positionStyles {
			style := style()
			if m := style.FindStringSubmatch(text); m != nil {
				p.fill(style.SubexpNames(), m)
			}
		}
	}
	return p
}

func (p *Position) fill(names, match []string) {
	for i, name := range names {
		text := match[i]
		if name == "" || text == "" {
			continue
		}
		digit := maybe.If(int(text[0]-'0'), text[0] >= '0' && text[0] <= '9')
		switch name {
		case "cpu":
			keep(&p.Processor, digit)
		case "mc":
			keep(&p.Controller, digit)
		case "slot":
			keep(&p.Slot, digit)
		case "ch":
			keep(&p.Channel, maybe.Just(string(upper(text[0]))))
		}
	}
}

func keep[T any](have *maybe.Value[T], found maybe.Value[T]) {
	if !have.Known() {
		*have = found
	}
}

func upper(b byte) byte {
	if b >= 'a' && b <= 'z' {
		return b - 'a' + 'A'
	}
	return b
}
