package redact

import (
	"encoding/hex"
	"fmt"
	"slices"
	"strings"

	"epitome/core/smbios"
)

// serials gives each serial number a stand-in of its own. A module's number
// stands in its EEPROM as four bytes and in firmware as text: hexadecimal digits
// in either order, with or without the noughts before them. Readings are matched
// by it, so a stand-in keeps what such spellings have in common.
type serials struct{ known map[string]string }

func newSerials() serials { return serials{known: make(map[string]string)} }

// bytes is the stand-in of an EEPROM's number.
func (s serials) bytes(number [4]byte) (out [4]byte) {
	text := s.of(strings.ToUpper(hex.EncodeToString(number[:])))
	b, err := hex.DecodeString(text)
	if err == nil && len(b) == len(out) {
		copy(out[:], b)
	}
	return out
}

// text is the stand-in of a number as firmware or a system writes it. What says
// that there is none stays.
func (s serials) text(serial string) string {
	trimmed := strings.TrimSpace(serial)
	if smbios.Placeholder(trimmed) {
		return serial
	}
	prefix, digits := "", trimmed
	if len(digits) > 2 && strings.EqualFold(digits[:2], "0x") {
		prefix, digits = digits[:2], digits[2:]
	}
	if len(digits) > 8 || strings.Trim(strings.ToUpper(digits), "0123456789ABCDEF") != "" {
		return s.other(trimmed)
	}
	full := strings.Repeat("0", 8-len(digits)) + strings.ToUpper(digits)
	again := s.of(full)[8-len(digits):]
	if strings.ToLower(digits) == digits {
		again = strings.ToLower(again)
	}
	return prefix + again
}

// of is the stand-in of eight digits. It has noughts where the number had
// leading or trailing pairs of them, so that it can be shortened or turned round
// as the number was.
func (s serials) of(digits string) string {
	if again, ok := s.known[digits]; ok {
		return again
	}
	turned := turn(digits)
	if again, ok := s.known[turned]; ok {
		return turn(again)
	}
	body := strings.Trim(digits, "0")
	at := strings.Index(digits, body)
	again := digits[:at] + standIn(len(s.known)+1, len(body)) + digits[at+len(body):]
	s.known[digits] = again
	return again
}

// standIn is a number of so many digits that begins with A, has no nought at
// its end, and is no placeholder.
func standIn(n, long int) string {
	const base = 15 // the digits 1 to F
	out := make([]byte, long)
	for i := long - 1; i >= 0; i-- {
		out[i] = "123456789ABCDEF"[n%base]
		n /= base
	}
	if long > 3 {
		out[0] = 'A'
	}
	return string(out)
}

// other is the stand-in of a number that is not of hexadecimal digits, as long
// as it was.
func (s serials) other(text string) string {
	key := strings.ToUpper(text)
	if again, ok := s.known[key]; ok {
		return again
	}
	again := fmt.Sprintf("X%07d", len(s.known)+1)
	s.known[key] = again
	return again
}

// turn writes the bytes of eight digits in the other order.
func turn(digits string) string {
	b, err := hex.DecodeString(digits)
	if err != nil {
		return digits
	}
	slices.Reverse(b)
	return strings.ToUpper(hex.EncodeToString(b))
}
