// Package octet holds the one bounds-checked window through which firmware
// tables and EEPROM images are read. No decoder indexes a slice by hand.
package octet

import "encoding/binary"

// A Window is a run of bytes that remembers where it lies in the whole, so
// that an error can name the offset a person finds in a hex dump.
// All multi-byte numbers are little-endian, as DSP0134 and the JEDEC SPD
// documents have them.
type Window struct {
	data []byte
	at   int
	read *Read // nil where nobody wants to know
}

// A Read remembers which bytes of the whole were looked at as data. What only a
// checksum covered was not.
type Read struct{ seen []bool }

// Seen reports whether the byte at offset at of the whole was looked at.
func (r *Read) Seen(at int) bool { return at >= 0 && at < len(r.seen) && r.seen[at] }

func (w Window) see(off, n int) {
	if w.read != nil {
		for i := range n {
			w.read.seen[w.at+off+i] = true
		}
	}
}

// Watch returns a window over all of data, and what will be looked at of it.
func Watch(data []byte) (Window, *Read) {
	r := &Read{seen: make([]bool, len(data))}
	return Window{data: data, read: r}, r
}

// Over returns a window over all of data. The bytes are not copied.
func Over(data []byte) Window { return Window{data: data} }

// Len returns the number of bytes in the window.
func (w Window) Len() int { return len(w.data) }

// At returns the offset of the window's first byte in the whole.
func (w Window) At() int { return w.at }

// Bytes returns the window's bytes. The caller must not change them.
func (w Window) Bytes() []byte {
	w.see(0, len(w.data))
	return w.data
}

// Covered returns the bytes that a checksum covers: what they say is not looked
// at. The caller must not change them.
func (w Window) Covered() []byte { return w.data }

// Slice returns the n bytes from off on; ok is false where they are not all
// inside the window.
func (w Window) Slice(off, n int) (sub Window, ok bool) {
	if off < 0 || n < 0 || off > len(w.data) || n > len(w.data)-off {
		return Window{}, false
	}
	return Window{data: w.data[off : off+n : off+n], at: w.at + off, read: w.read}, true
}

// From returns what follows off, empty where off lies outside.
func (w Window) From(off int) Window {
	if off < 0 || off > len(w.data) {
		return Window{at: w.at + len(w.data), read: w.read}
	}
	return Window{data: w.data[off:], at: w.at + off, read: w.read}
}

// Byte returns the byte at off.
func (w Window) Byte(off int) (byte, bool) {
	if off < 0 || off >= len(w.data) {
		return 0, false
	}
	w.see(off, 1)
	return w.data[off], true
}

// Word returns the 16-bit number at off.
func (w Window) Word(off int) (uint16, bool) {
	if off < 0 || off > len(w.data)-2 {
		return 0, false
	}
	w.see(off, 2)
	return binary.LittleEndian.Uint16(w.data[off:]), true
}

// DWord returns the 32-bit number at off.
func (w Window) DWord(off int) (uint32, bool) {
	if off < 0 || off > len(w.data)-4 {
		return 0, false
	}
	w.see(off, 4)
	return binary.LittleEndian.Uint32(w.data[off:]), true
}

// QWord returns the 64-bit number at off.
func (w Window) QWord(off int) (uint64, bool) {
	if off < 0 || off > len(w.data)-8 {
		return 0, false
	}
	w.see(off, 8)
	return binary.LittleEndian.Uint64(w.data[off:]), true
}

// Sum returns the sum of the first n bytes modulo 256, the checksum of
// SMBIOS entry points and of SPD images up to DDR2; ok is false where the
// window is shorter.
func (w Window) Sum(n int) (sum byte, ok bool) {
	if n < 0 || n > len(w.data) {
		return 0, false
	}
	for _, b := range w.data[:n] {
		sum += b
	}
	return sum, true
}
