package redact

import (
	"bytes"
	"encoding/binary"
	"encoding/hex"
	"fmt"
	"path"
	"regexp"
	"slices"
	"strings"

	"epitome/core/card"
	"epitome/core/records"
	"epitome/core/spd"
)

// Card returns a copy of a card that can be shared: serial numbers and asset
// tags in firmware tables, EEPROM images and management objects, people's names
// and the job's title are gone, and everything else reads as before. A serial
// number that stood in several readings has the same stand-in in all of them.
// Readings that can't be taken apart are left out and named.
func Card(c card.Card) (shared card.Card, leftOut []string) {
	r := cardRedactor{stand: make(map[string]uint32), people: make(map[string]string)}
	shared = card.Card{Made: c.Made}
	for _, x := range c.Readings {
		x.Source = path.Base(strings.ReplaceAll(x.Source, `\`, "/")) // a path may hold a user's name
		data, ok := r.reading(x.Kind, x.Data)
		if !ok {
			leftOut = append(leftOut, x.Source)
			continue
		}
		x.Data = data
		shared.Readings = append(shared.Readings, x)
	}
	return shared, leftOut
}

type cardRedactor struct {
	stand  map[string]uint32 // by the serial as EEPROMs hold it, or as text
	people map[string]string
}

func (r *cardRedactor) reading(kind card.Kind, data []byte) ([]byte, bool) {
	switch kind {
	case card.Table, card.TableFile:
		return r.table(data), true
	case card.SPD:
		return r.image(data)
	case card.CIM:
		return r.objects(data), true
	case card.Hand:
		return r.hand(data)
	}
	return data, true
}

// firstStandIn begins stand-ins: a serial number that no maker gives out and
// that is no placeholder.
const firstStandIn = 0xA0000000

// numbered is the stand-in of a serial number; one written with its bytes in
// the other order is the same.
func (r *cardRedactor) numbered(key string) (n uint32, reversed bool) {
	key = strings.ToUpper(key)
	if n, ok := r.stand[key]; ok {
		return n, false
	}
	if n, ok := r.stand[flipped(key)]; ok && flipped(key) != key {
		return n, true
	}
	n = firstStandIn + uint32(len(r.stand)) + 1
	r.stand[key] = n
	return n, false
}

// flipped writes pairs of hex digits in the other order; a text that is none is
// returned as it is.
func flipped(s string) string {
	b, err := hex.DecodeString(s)
	if err != nil {
		return s
	}
	slices.Reverse(b)
	return strings.ToUpper(hex.EncodeToString(b))
}

// text is the stand-in of a serial number or asset tag as text, as long as it
// was.
func (r *cardRedactor) text(s string) string {
	trimmed := strings.TrimSpace(s)
	if trimmed == "" || strings.Trim(trimmed, "0. xX-") == "" {
		return s // says nothing
	}
	n, reversed := r.numbered(trimmed)
	out := fmt.Sprintf("%08X", n)
	if reversed {
		out = flipped(out)
	}
	if len(s) < len(out) {
		return out[len(out)-len(s):]
	}
	return out + strings.Repeat(" ", len(s)-len(out))
}

// secretFields are the string fields of firmware structures that tell one
// machine from another: serial numbers and asset tags (DSP0134 clauses 7.2 to
// 7.5, 7.18, 7.23).
var secretFields = map[byte][]int{1: {0x07}, 2: {0x07, 0x08}, 3: {0x07, 0x08}, 4: {0x20, 0x21}, 17: {0x18, 0x19}, 22: {0x07}}

// systemUUID is where type 1 holds the machine's own number, sixteen bytes.
const systemUUID = 0x08

// table overwrites secrets in place, so that lengths and offsets stay. A file
// with an entry point before the table is read past it.
func (r *cardRedactor) table(data []byte) []byte {
	out := bytes.Clone(data)
	at := 0
	for _, magic := range []string{"_SM3_", "_SM_"} {
		if bytes.HasPrefix(out, []byte(magic)) {
			at = 32
		}
	}
	for at+4 <= len(out) {
		kind, long := out[at], int(out[at+1])
		if long < 4 || at+long > len(out) {
			break
		}
		spans, end := stringsFrom(out, at+long)
		for _, field := range secretFields[kind] {
			if field >= long {
				continue
			}
			if n := int(out[at+field]); n >= 1 && n <= len(spans) {
				span := out[spans[n-1][0]:spans[n-1][1]]
				copy(span, r.text(string(span)))
			}
		}
		if kind == 1 && long >= systemUUID+16 {
			clear(out[at+systemUUID : at+systemUUID+16])
		}
		if kind == 127 {
			break
		}
		at = end
	}
	return out
}

// stringsFrom lists where the strings behind a structure stand, and where the
// next structure begins.
func stringsFrom(data []byte, at int) (spans [][2]int, end int) {
	for at < len(data) && data[at] != 0 {
		n := bytes.IndexByte(data[at:], 0)
		if n < 0 {
			return spans, len(data)
		}
		spans = append(spans, [2]int{at, at + n})
		at += n + 1
	}
	if len(spans) == 0 {
		at++ // no strings: two noughts
	}
	return spans, at + 1
}

// image overwrites an EEPROM's serial number. Where a checksum covers it the
// image is made right again; an image whose layout is not known is left out.
func (r *cardRedactor) image(data []byte) ([]byte, bool) {
	if len(data) == 0 {
		return data, true
	}
	serial, ok := spd.Serial(data)
	if !ok {
		return nil, false
	}
	if serial == nil || bytes.Equal(serial, []byte{0, 0, 0, 0}) {
		return data, true
	}
	n, reversed := r.numbered(hex.EncodeToString(serial))
	var number [4]byte
	binary.BigEndian.PutUint32(number[:], n)
	if reversed {
		slices.Reverse(number[:])
	}
	return spd.WithSerial(data, number), true
}

// secretKeys are properties of management objects that tell one machine or
// person from another.
var secretKeys = regexp.MustCompile(`(?i)("(?:SerialNumber|IdentifyingNumber|AssetTag|SMBIOSAssetTag|UUID|CSName|RegisteredUser|Organization|PSComputerName|SystemName|DNSHostName|UserName)"\s*:\s*")([^"]*)(")`)

func (r *cardRedactor) objects(data []byte) []byte {
	return secretKeys.ReplaceAllFunc(data, func(found []byte) []byte {
		m := secretKeys.FindSubmatch(found)
		return []byte(string(m[1]) + strings.TrimSpace(r.text(string(m[2]))) + string(m[3]))
	})
}

// hand takes the name and the remarks out of a hand entry.
func (r *cardRedactor) hand(data []byte) ([]byte, bool) {
	h, err := records.ParseHand(data)
	if err != nil {
		return nil, false
	}
	if h.By != "" {
		if r.people[h.By] == "" {
			r.people[h.By] = fmt.Sprintf("person %d", len(r.people)+1)
		}
		h.By = r.people[h.By]
	}
	h.Remarks = ""
	out, err := h.Encode()
	return out, err == nil
}
