package spd

import (
	"bytes"
	"encoding/binary"

	"epitome/core/jedec"
)

// serialAt is where an image of a generation keeps the module's serial number,
// four bytes. Low-power images of full length have DDR5's layout there.
func serialAt(g jedec.Generation, long int) int {
	switch {
	case g == jedec.DDR5, g.LowPower() && long == MaxSize:
		return d5Serial
	case g == jedec.DDR4, g.LowPower():
		return d4Serial
	case g == jedec.DDR3:
		return d3Serial
	}
	return oldSerial
}

// Serial returns the four bytes of an image's serial number. ok is false where
// the image's layout is not known; the number is nil where the image is cut
// short before it.
func Serial(data []byte) (number []byte, ok bool) {
	if len(data) <= typeByte {
		return nil, false
	}
	d, ok := decoders[data[typeByte]]
	if !ok {
		return nil, false
	}
	at := serialAt(d.generation, len(data))
	if at+4 > len(data) {
		return nil, true
	}
	return bytes.Clone(data[at : at+4]), true
}

// WithSerial returns an image with another serial number. Where a checksum
// that was right covers it (DDR3's may), it is right again.
func WithSerial(data []byte, number [4]byte) []byte {
	out := bytes.Clone(data)
	if old, ok := Serial(data); !ok || old == nil {
		return out
	}
	d := decoders[data[typeByte]]
	at := serialAt(d.generation, len(data))
	copy(out[at:], number[:])
	if d.generation == jedec.DDR3 && len(out) >= d3CRC+2 && data[0]&0x80 == 0 && binary.LittleEndian.Uint16(data[d3CRC:]) == CRC16(data[:d3CRC]) {
		binary.LittleEndian.PutUint16(out[d3CRC:], CRC16(out[:d3CRC]))
	}
	return out
}
