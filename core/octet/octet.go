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
}

// Over returns a window over all of data. The bytes are not copied.
func Over(data []byte) Window { return Window{data: data} }

// Len returns the number of bytes in the window.
func (w Window) Len() int { return len(w.data) }

// At returns the offset of the window's first byte in the whole.
func (w Window) At() int { return w.at }

// Bytes returns the window's bytes. The caller must not change them.
func (w Window) Bytes() []byte { return w.data }

// Slice returns the n bytes from off on; ok is false where they are not all
// inside the window.
func (w Window) Slice(off, n int) (sub Window, ok bool) {
	if off < 0 || n < 0 || off > len(w.data) || n > len(w.data)-off {
		return Window{}, false
	}
	return Window{data: w.data[off : off+n : off+n], at: w.at + off}, true
}

// From returns what follows off, empty where off lies outside.
func (w Window) From(off int) Window {
	if off < 0 || off > len(w.data) {
		return Window{at: w.at + len(w.data)}
	}
	return Window{data: w.data[off:], at: w.at + off}
}

// Byte returns the byte at off.
func (w Window) Byte(off int) (byte, bool) {
	if off < 0 || off >= len(w.data) {
		return 0, false
	}
	return w.data[off], true
}

// Word returns the 16-bit number at off.
func (w Window) Word(off int) (uint16, bool) {
	if off < 0 || off > len(w.data)-2 {
		return 0, false
	}
	return binary.LittleEndian.Uint16(w.data[off:]), true
}

// DWord returns the 32-bit number at off.
func (w Window) DWord(off int) (uint32, bool) {
	if off < 0 || off > len(w.data)-4 {
		return 0, false
	}
	return binary.LittleEndian.Uint32(w.data[off:]), true
}

// QWord returns the 64-bit number at off.
func (w Window) QWord(off int) (uint64, bool) {
	if off < 0 || off > len(w.data)-8 {
		return 0, false
	}
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
