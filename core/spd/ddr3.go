package spd

import (
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// The fields of a DDR3 image, by the names of JESD21-C annex K (4.1.2.11).
const (
	d3Size        = 0 // bit 7: the CRC covers bytes 0 to 116 instead of 125
	d3Revision    = 1
	d3Module      = 3  // bits 3 to 0: module type
	d3Density     = 4  // bits 3 to 0: density; 6 to 4: banks
	d3Voltage     = 6  // bit 0: not operable at 1.5 V; 1: at 1.35 V; 2: at 1.25 V
	d3Organised   = 7  // bits 5 to 3: ranks; 2 to 0: chip width
	d3Bus         = 8  // bits 4 to 3: check bits; 2 to 0: bus width
	d3Fine        = 9  // fine timebase: dividend in bits 7 to 4, divisor in 3 to 0, ps
	d3Dividend    = 10 // medium timebase, ns
	d3Divisor     = 11
	d3TCK         = 12
	d3Latencies   = 14 // two bytes; bit 0 is CL 4
	d3TAA         = 16
	d3TRCD        = 18
	d3TRP         = 20
	d3Upper       = 21 // bits 7 to 4: tRC; 3 to 0: tRAS
	d3TRAS        = 22
	d3TRC         = 23
	d3TRFC        = 24 // word
	d3Thermal     = 32 // bit 7
	d3Device      = 33 // bit 7: stacked; 6 to 4: dies
	d3FineTCK     = 34
	d3FineTAA     = 35
	d3FineTRCD    = 36
	d3FineTRP     = 37
	d3FineTRC     = 38
	d3Height      = 60  // bits 4 to 0: mm over 15
	d3Thickness   = 61  // bits 7 to 4: behind, mm over 1; 3 to 0: in front
	d3Maker       = 117 // two bytes
	d3Location    = 119
	d3Year        = 120
	d3Week        = 121
	d3Serial      = 122 // 4 bytes
	d3CRC         = 126 // word
	d3Part        = 128 // 18 characters
	d3ChipMaker   = 148 // two bytes
	d3ProfileBase = 176
)

// A moduleType is what a module type code of byte 3 says.
type moduleType struct {
	form jedec.Form
	kind jedec.Kind
}

// moduleKind reads the module type at byte at; an unbuffered one with check
// bits in its bus byte is one with ECC.
func (im *image) moduleKind(types map[int]moduleType, at, bus int) {
	code := im.bits(at, 3, 0)
	t, ok := types[code]
	if !ok {
		im.note("byte %d, module type: code %d is none that is known", at, code)
		return
	}
	im.Form, im.Kind = t.form, t.kind
	if im.Kind == jedec.Unbuffered && im.bits(bus, 4, 3) == 1 {
		im.Kind = jedec.UnbufferedECC
	}
}

// d3Types are the module types of byte 3.
var d3Types = map[int]moduleType{
	1: {jedec.DIMM, jedec.RegisteredECC}, 2: {jedec.DIMM, jedec.Unbuffered}, 3: {jedec.SODIMM, jedec.Unbuffered},
	4: {jedec.MicroDIMM, jedec.Unbuffered},
	5: {jedec.MiniDIMM, jedec.RegisteredECC}, 6: {jedec.MiniDIMM, jedec.Unbuffered},
	8: {jedec.SODIMM, jedec.UnbufferedECC}, 9: {jedec.SODIMM, jedec.RegisteredECC},
	0xA: {jedec.SODIMM, jedec.ClockedECC}, 0xB: {jedec.DIMM, jedec.LoadReduced},
	0xC: {jedec.SODIMM, jedec.Unbuffered}, 0xD: {jedec.SODIMM, jedec.Unbuffered}, // of 16 and of 32 data bits
}

var (
	d3Densities = []int{256, 512, 1024, 2048, 4096, 8192, 16384}
	d3Ranks     = []int{1, 2, 3, 4}
	chipWidths  = []int{4, 8, 16, 32}
	busWidths   = []int{8, 16, 32, 64}
	checkWidths = []int{0, 8}
)

// A timebase turns the counts of DDR3 and DDR4 images into times.
type timebase struct {
	medium, fine int64 // fs
}

// of returns count medium units with a signed fine correction, in ps.
func (t timebase) of(count int, fine int8) jedec.Picoseconds {
	return jedec.Picoseconds((int64(count)*t.medium + int64(fine)*t.fine) / 1000)
}

func (im *image) fineOf(off int) int8 { return int8(im.at(off)) }

func decodeDDR3(im *image) {
	covered := 125
	if im.at(d3Size)&0x80 != 0 {
		covered = 116
	}
	im.crc(0, covered, d3CRC)
	im.revision(d3Revision)
	im.moduleKind(d3Types, d3Module, d3Bus)
	im.Density = fromTable(d3Densities, im.bits(d3Density, 3, 0))
	im.Ranks = fromTable(d3Ranks, im.bits(d3Organised, 5, 3))
	im.Width = fromTable(chipWidths, im.bits(d3Organised, 2, 0))
	im.DataWidth = fromTable(busWidths, im.bits(d3Bus, 2, 0))
	im.CheckBits = maybe.If(checkWidths[im.bits(d3Bus, 4, 3)&1], im.bits(d3Bus, 4, 3) < 2)
	if im.at(d3Device)&0x80 != 0 {
		im.Dies = fromTable([]int{0, 1, 2, 4, 8}, im.bits(d3Device, 6, 4))
		im.note("byte %d: chips of a non-standard kind, several dies in a package", d3Device)
	} else {
		im.Dies = maybe.Just(1)
	}
	im.capacity()
	for bit, mv := range []int{1500, 1350, 1250} {
		set := im.at(d3Voltage)>>bit&1 == 1
		if set != (bit == 0) { // bit 0 says "not operable"
			im.MilliVolts = append(im.MilliVolts, mv)
		}
	}
	im.Thermal = maybe.Just(im.at(d3Thermal)&0x80 != 0)
	im.HeightMM = maybe.Just(im.bits(d3Height, 4, 0) + 15)
	im.thickness(d3Thickness)
	im.d3Times()
	if !im.short(d3ChipMaker+2, "part number and chip maker") {
		im.makers(d3Maker, d3ChipMaker)
		im.Part = im.text(d3Part, 18)
	}
	im.Location = maybe.Just(im.at(d3Location))
	im.date(d3Year, d3Week)
	im.Serial = im.serial(d3Serial)
	im.d3Profiles()
}

// d3Base returns the timebases: usually 1/8 ns and 1 ps.
func (im *image) d3Base(dividend, divisor byte) (timebase, bool) {
	if divisor == 0 || dividend == 0 {
		return timebase{}, false
	}
	t := timebase{medium: 1_000_000 * int64(dividend) / int64(divisor)}
	if low := im.bits(d3Fine, 3, 0); low > 0 {
		t.fine = 1000 * int64(im.bits(d3Fine, 7, 4)) / int64(low)
	}
	return t, true
}

func (im *image) d3Times() {
	base, ok := im.d3Base(im.at(d3Dividend), im.at(d3Divisor))
	if !ok {
		im.note("bytes %d and %d state no timebase; the timings can't be read", d3Dividend, d3Divisor)
		return
	}
	im.TCK = known(base.of(int(im.at(d3TCK)), im.fineOf(d3FineTCK)))
	im.TAA = known(base.of(int(im.at(d3TAA)), im.fineOf(d3FineTAA)))
	im.TRCD = known(base.of(int(im.at(d3TRCD)), im.fineOf(d3FineTRCD)))
	im.TRP = known(base.of(int(im.at(d3TRP)), im.fineOf(d3FineTRP)))
	im.TRAS = known(base.of(im.bits(d3Upper, 3, 0)<<8|int(im.at(d3TRAS)), 0))
	im.TRC = known(base.of(im.bits(d3Upper, 7, 4)<<8|int(im.at(d3TRC)), im.fineOf(d3FineTRC)))
	refresh, _ := im.Word(d3TRFC)
	im.TRFC = known(base.of(int(refresh), 0))
	word, _ := im.Word(d3Latencies)
	for bit := range 15 {
		if word>>bit&1 == 1 {
			im.Latencies = append(im.Latencies, jedec.Whole(bit+4))
		}
	}
}
