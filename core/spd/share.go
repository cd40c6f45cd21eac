package spd

import (
	"encoding/binary"

	"epitome/core/jedec"
	"epitome/core/octet"
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

// Understood returns an image made anew of what decoding this one looks at;
// every other byte is nought. Serial numbers that tell one module from another
// go through standIn. A checksum that was right is right again, and one that was
// wrong is wrong by as much. The error is Decode's.
func Understood(data []byte, standIn func([4]byte) [4]byte) ([]byte, error) {
	window, read := octet.Watch(data)
	m, err := decode(data, window)
	if err != nil {
		return nil, err
	}
	out := make([]byte, len(data))
	for i := range data {
		if read.Seen(i) || i == typeByte {
			out[i] = data[i]
		}
	}
	if at := serialAt(m.Generation, len(data)); at+4 <= len(data) {
		number := [4]byte(data[at:])
		if _, blank := allAlike(number[:]); !blank {
			number = standIn(number)
		}
		copy(out[at:], number[:])
	}
	m.sumAgain(out)
	return out, nil
}

// sumAgain makes the checksums of an image fit its bytes as they fitted before.
func (m Module) sumAgain(out []byte) {
	checks := m.Checks
	for _, p := range m.Profiles {
		if c, ok := p.Check.Get(); ok {
			checks = append(checks, c)
		}
	}
	for _, c := range checks {
		covered := out[c.From : c.Last+1]
		if c.At == oldSum {
			sum, _ := octet.Over(covered).Sum(len(covered))
			out[c.At] = sum + byte(c.Found-c.Expected)
			continue
		}
		binary.LittleEndian.PutUint16(out[c.At:], CRC16(covered)^c.Expected^c.Found)
	}
}
