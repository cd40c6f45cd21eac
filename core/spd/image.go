package spd

import (
	"fmt"
	"strconv"
	"sync"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/octet"
	"epitome/core/plain"
)

// An image is the module that is being decoded and the bytes it comes from.
type image struct {
	octet.Window
	Module
	second int // density of every second rank, Mbit, where the ranks differ; 0 where it is not known
}

// at returns a byte, 0 where the image ends before it. Decoders that must tell
// the two apart use has.
func (im *image) at(off int) byte {
	b, _ := im.Byte(off)
	return b
}

// has reports whether the image reaches byte off.
func (im *image) has(off int) bool { return off < im.Len() }

// bits returns bits high to low of the byte at off, as the standards number
// them.
func (im *image) bits(off, high, low int) int {
	return int(im.at(off) >> low & (1<<(high-low+1) - 1))
}

func (im *image) note(format string, args ...any) {
	im.Notes = append(im.Notes, fmt.Sprintf(format, args...))
}

// text reads n characters of ASCII from off on, cleaned; bytes after a zero
// are padding, as are blanks.
func (im *image) text(off, n int) string {
	w, ok := im.Slice(off, n)
	if !ok {
		return ""
	}
	b := w.Bytes()
	for i, c := range b {
		if c == 0 || c == 0xFF {
			b = b[:i]
			break
		}
	}
	return plain.Line(string(b))
}

// serial reads four bytes as eight digits; all zeros or ones are none.
func (im *image) serial(off int) string {
	w, ok := im.Slice(off, 4)
	if !ok {
		return ""
	}
	if _, blank := allAlike(w.Bytes()); blank {
		return ""
	}
	const digits = "0123456789ABCDEF"
	var text [8]byte
	for i, b := range w.Bytes() {
		text[2*i], text[2*i+1] = digits[b>>4], digits[b&0xF]
	}
	return string(text[:])
}

// thickness reads how far the parts stand off the card, coded alike since DDR3.
func (im *image) thickness(off int) {
	if im.has(off) {
		im.Thickness = maybe.Just(jedec.Thickness{Front: im.bits(off, 3, 0) + 1, Back: im.bits(off, 7, 4) + 1})
	}
}

// date reads year and week in binary-coded decimals.
func (im *image) date(year, week int) {
	if !im.has(year) || !im.has(week) {
		return
	}
	y, okY := bcd(im.at(year))
	w, okW := bcd(im.at(week))
	switch {
	case y == 0 && w == 0:
	case !okY || !okW || w < 1 || w > 53:
		im.note("bytes %d and %d are no date: 0x%02X, 0x%02X", year, week, im.at(year), im.at(week))
	default:
		century := 2000
		if y >= 90 {
			century = 1900
		}
		im.Year, im.Week = maybe.Just(century+y), maybe.Just(w)
	}
}

func bcd(b byte) (int, bool) { return int(b>>4)*10 + int(b&0xF), b>>4 <= 9 && b&0xF <= 9 }

// makers reads the two-byte codes of module and chip maker, DDR3 and later.
func (im *image) makers(module, chips int) {
	im.Maker = im.maker(module, "module maker")
	im.ChipMaker = im.maker(chips, "chip maker")
}

func (im *image) maker(off int, what string) jedec.MakerCode {
	if !im.has(off+1) || im.at(off) == 0 && im.at(off+1) == 0 || im.at(off) == 0xFF && im.at(off+1) == 0xFF {
		return jedec.MakerCode{}
	}
	m, ok := jedec.MakerFromSPD(im.at(off), im.at(off+1))
	if !ok {
		im.note("bytes %d and %d, %s: 0x%02X%02X has wrong parity", off, off+1, what, im.at(off), im.at(off+1))
	}
	if !m.Known() {
		return jedec.MakerCode{}
	}
	return m
}

// continuationMaker reads the eight-byte code of SDR to DDR2.
func (im *image) continuationMaker(off int) {
	w, ok := im.Slice(off, 8)
	if !ok {
		return
	}
	if _, blank := allAlike(w.Bytes()); blank {
		return
	}
	m, ok := jedec.MakerFromContinuation(w.Bytes())
	if !ok {
		im.note("bytes %d to %d, module maker: wrong parity or no code", off, off+7)
	}
	if m.Known() {
		im.Maker = m
	}
}

// sum8 verifies the checksum of SDR to DDR2: bytes 0 to 62 in byte 63.
func (im *image) sum8() {
	if sum, ok := im.Sum(oldSum); ok && im.has(oldSum) {
		im.Checks = append(im.Checks,
			Check{Last: oldSum - 1, At: oldSum, Expected: uint16(sum), Found: uint16(im.at(oldSum))})
	}
}

// crc verifies the CRC of bytes from to last, stored low byte first at stored.
func (im *image) crc(from, last, stored int) {
	w, ok := im.Slice(from, last-from+1)
	found, has := im.Word(stored)
	if !ok || !has {
		im.note("the image ends before the CRC in bytes %d and %d", stored, stored+1)
		return
	}
	im.Checks = append(im.Checks, Check{From: from, Last: last, At: stored, Expected: CRC16(w.Covered()), Found: found})
}

// CRC16 is the CRC of DDR3 and later images: polynomial x16 + x12 + x5 + 1,
// start 0, most significant bit first (JESD21-C annex K, bytes 126 and 127).
func CRC16(data []byte) uint16 {
	t := crcTables()
	var crc uint16
	for ; len(data) >= 4; data = data[4:] {
		x := crc ^ (uint16(data[0])<<8 | uint16(data[1]))
		crc = t[3][x>>8] ^ t[2][x&0xFF] ^ t[1][data[2]] ^ t[0][data[3]]
	}
	for _, b := range data {
		crc = crc<<8 ^ t[0][byte(crc>>8)^b]
	}
	return crc
}

// crcTables are what a byte adds to the CRC when none to three bytes follow
// it, so that four bytes are taken in one step.
var crcTables = sync.OnceValue(func() *[4][256]uint16 {
	var t [4][256]uint16
	for i := range 256 {
		c := uint16(i) << 8
		for range 8 {
			if c&0x8000 != 0 {
				c = c<<1 ^ 0x1021
			} else {
				c <<= 1
			}
		}
		t[0][i] = c
	}
	for n := 1; n < 4; n++ {
		for i := range 256 {
			c := t[n-1][i]
			t[n][i] = c<<8 ^ t[0][c>>8]
		}
	}
	return &t
})

// known returns a positive figure as a value, nothing for 0.
func known[T int | jedec.Picoseconds](v T) maybe.Value[T] { return maybe.If(v, v > 0) }

// fromTable looks a code up, unknown where the standard reserves it.
func fromTable(table []int, code int) maybe.Value[int] {
	if code < len(table) && table[code] != 0 {
		return maybe.Just(table[code])
	}
	return maybe.None[int]()
}

// revision writes a revision byte as "1.1".
func (im *image) revision(off int) {
	if im.has(off) {
		im.Revision = strconv.Itoa(im.bits(off, 7, 4)) + "." + strconv.Itoa(im.bits(off, 3, 0))
	}
}

// capacity works the size out from dies, widths and ranks: density / 8 x bus
// width / chip width x ranks, and x dies in a stack that is one rank a die.
func (im *image) capacity() {
	density, ok1 := im.Density.Get()
	width, ok2 := im.Width.Get()
	bus, ok3 := im.DataWidth.Get()
	ranks, ok4 := im.Ranks.Get()
	other, odd := density, ranks/2 // every second rank is of the other kind, where there is one
	if im.Asymmetric {
		if other = im.second; im.Stacked || ranks < 2 {
			other = 0
		}
	}
	if !ok1 || !ok2 || !ok3 || !ok4 || other == 0 {
		return
	}
	size := jedec.Capacity((ranks-odd)*density+odd*other) * jedec.MiB / 8 * jedec.Capacity(bus/width)
	if im.Stacked {
		// Each die of a 3DS stack is a logical rank of its own.
		size *= jedec.Capacity(im.Dies.Or(1))
	}
	im.Capacity = maybe.If(size, size > 0)
}

// short says that the image ends before something, where it does.
func (im *image) short(need int, what string) bool {
	if im.Len() >= need {
		return false
	}
	im.note("the image has %d bytes and ends before %s (to byte %d)", im.Len(), what, need-1)
	return true
}
