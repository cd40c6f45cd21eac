// Package compose builds EEPROM images from plain values: the demo's made-up
// modules and the tests' odd ones. What it writes is what the JEDEC documents
// lay out, byte by byte; package spd reads it back.
package compose

import (
	"encoding/binary"
	"encoding/hex"

	"epitome/core/jedec"
	"epitome/core/spd"
)

// An Image is the bytes of an EEPROM while they are being set.
type Image []byte

// Put sets bytes from off on.
func (im Image) Put(off int, b ...byte) Image {
	copy(im[off:], b)
	return im
}

// Word sets a word, low byte first.
func (im Image) Word(off int, v int) Image {
	binary.LittleEndian.PutUint16(im[off:], uint16(v))
	return im
}

// Text sets n characters, padded with blanks.
func (im Image) Text(off, n int, s string) Image {
	for i := range n {
		im[off+i] = ' '
		if i < len(s) {
			im[off+i] = s[i]
		}
	}
	return im
}

// Serial sets four bytes from eight hexadecimal digits.
func (im Image) Serial(off int, digits string) Image {
	b, err := hex.DecodeString(digits)
	if err == nil {
		copy(im[off:off+4], b)
	}
	return im
}

// CRC sets the CRC of bytes from to last behind them or wherever it belongs.
func (im Image) CRC(from, last, at int) Image { return im.Word(at, int(spd.CRC16(im[from:last+1]))) }

// Sum8 sets the checksum of images up to DDR2.
func (im Image) Sum8() Image {
	im[63] = 0
	for _, b := range im[:63] {
		im[63] += b
	}
	return im
}

// Identity is what every module carries about itself.
type Identity struct {
	Maker, ChipMaker jedec.MakerCode
	Part, Serial     string
	Year, Week       byte // binary-coded: 0x21 is 2021
}

func code(m jedec.MakerCode) (count, byte_ byte) {
	return jedec.MakerCode{Code: byte(m.Bank - 1)}.WithParity(), m.WithParity()
}

// medium splits a time into units of 125 ps and a signed rest in ps.
func medium(ps int) (units, rest int) {
	units = (ps + 62) / 125
	return units, ps - units*125
}

// time puts a time at off and its signed fine correction at fine.
func (im Image) time(off, fine, ps int) {
	units, rest := medium(ps)
	im.Put(off, byte(units)).Put(fine, byte(int8(rest)))
}

// DDR4 is a module whose chips keep the given minimum times, ps.
type DDR4 struct {
	Type                   byte // byte 3: 2 UDIMM, 3 SO-DIMM, 1 RDIMM
	DensityCode            byte // byte 4, bits 3 to 0
	Ranks, WidthCode       byte // ranks; 0 x4, 1 x8, 2 x16
	ECC                    bool
	TCK, TAA, TRCD, TRP    int
	TRAS, TRC              int
	FirstCL, LastCL        int
	Height                 byte // mm
	Identity               Identity
	ProfileTCK, ProfileCL  int // 0 for none; clocks for the profile's latencies
	ProfileRCD, ProfileRAS int
	ProfileMilliVolts      int
}

// Bytes returns the image of 512 bytes.
func (d DDR4) Bytes() []byte {
	im := make(Image, 512)
	bus := byte(3)
	if d.ECC {
		bus |= 1 << 3
	}
	im.Put(0, 0x23, 0x11, 0x0C, d.Type, 0x80|d.DensityCode, 0x21).Put(11, 0x01, (d.Ranks-1)<<3|d.WidthCode, bus, 0x80)
	im.time(18, 125, d.TCK)
	im.time(24, 123, d.TAA)
	im.time(25, 122, d.TRCD)
	im.time(26, 121, d.TRP)
	ras, _ := medium(d.TRAS)
	rc, rest := medium(d.TRC)
	im.Put(27, byte(rc>>8<<4|ras>>8), byte(ras), byte(rc)).Put(120, byte(int8(rest)))
	var latencies uint32
	for cl := d.FirstCL; cl <= d.LastCL; cl++ {
		latencies |= 1 << (cl - 7)
	}
	binary.LittleEndian.PutUint32(im[20:], latencies)
	im.Word(30, 2800)
	im.CRC(0, 125, 126)
	im.Put(128, d.Height-15).CRC(128, 253, 254)
	id := d.Identity
	count, maker := code(id.Maker)
	chipCount, chip := code(id.ChipMaker)
	im.Put(320, count, maker, 1, id.Year, id.Week).Serial(325, id.Serial).Text(329, 20, id.Part).Put(350, chipCount, chip)
	if d.ProfileTCK > 0 {
		d.profile(im)
	}
	return im
}

// profile writes the first profile of the version for DDR4.
func (d DDR4) profile(im Image) {
	im.Put(384, 0x0C, 0x4A, 0x01, 0x20)
	const at = 393
	im.Put(at, byte(d.ProfileMilliVolts/1000<<7|d.ProfileMilliVolts%1000/10))
	time := func(off, fine, ps int) { im.time(at+off, at+fine, ps) }
	time(3, 38, d.ProfileTCK)
	time(8, 37, d.ProfileTCK*d.ProfileCL)
	time(9, 36, d.ProfileTCK*d.ProfileRCD)
	time(10, 35, d.ProfileTCK*d.ProfileRCD)
	ras := d.ProfileTCK * d.ProfileRAS / 125 // has no fine part: rounded down, as makers do
	rc, rest := medium(d.ProfileTCK * (d.ProfileRAS + d.ProfileRCD))
	im.Put(at+11, byte(rc>>8<<4|ras>>8), byte(ras), byte(rc)).Put(at+34, byte(int8(rest)))
}

// DDR3 is a module whose chips keep the given minimum times, ps.
type DDR3 struct {
	Type                byte // byte 3: 2 UDIMM, 3 SO-DIMM
	DensityCode         byte
	Ranks, WidthCode    byte
	VoltageBits         byte // byte 6
	TCK, TAA, TRCD, TRP int
	TRAS, TRC           int
	FirstCL, LastCL     int
	Identity            Identity
}

// Bytes returns the image of 256 bytes.
func (d DDR3) Bytes() []byte {
	im := make(Image, 256)
	im.Put(0, 0x92, 0x13, 0x0B, d.Type, d.DensityCode, 0x21, d.VoltageBits, (d.Ranks-1)<<3|d.WidthCode, 0x03, 0x11, 1, 8)
	im.time(12, 34, d.TCK)
	im.time(16, 35, d.TAA)
	im.time(18, 36, d.TRCD)
	im.time(20, 37, d.TRP)
	ras, _ := medium(d.TRAS)
	rc, rest := medium(d.TRC)
	im.Put(21, byte(rc>>8<<4|ras>>8), byte(ras), byte(rc)).Put(38, byte(int8(rest)))
	latencies := 0
	for cl := d.FirstCL; cl <= d.LastCL; cl++ {
		latencies |= 1 << (cl - 4)
	}
	im.Word(14, latencies).Word(24, 1280).Put(60, 15)
	id := d.Identity
	count, maker := code(id.Maker)
	chipCount, chip := code(id.ChipMaker)
	im.Put(117, count, maker, 1, id.Year, id.Week).Serial(122, id.Serial)
	// Byte 0 says that the CRC covers bytes 0 to 116.
	im.CRC(0, 116, 126).Text(128, 18, id.Part).Put(148, chipCount, chip)
	return im
}
