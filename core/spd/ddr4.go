package spd

import (
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// The fields of a DDR4 image, by the names of JESD21-C annex L (4.1.2.12).
const (
	d4Revision    = 1
	d4Module      = 3  // bits 3 to 0: module type; 7: hybrid
	d4Density     = 4  // bits 3 to 0: density of a die
	d4Package     = 6  // bit 7: several dies; 6 to 4: dies less one; 1 to 0: loading
	d4Second      = 10 // the package of the second kind of rank
	d4Voltage     = 11 // bit 0: operable at 1.2 V
	d4Organised   = 12 // bit 6: ranks differ; 5 to 3: package ranks less one; 2 to 0: width
	d4Bus         = 13 // bits 4 to 3: check bits; 2 to 0: bus width
	d4Thermal     = 14 // bit 7
	d4Timebases   = 17 // bits 3 to 2: medium, 0 is 125 ps; 1 to 0: fine, 0 is 1 ps
	d4TCK         = 18
	d4Latencies   = 20 // four bytes; bit 0 is CL 7, or CL 23 where bit 31 is set
	d4TAA         = 24
	d4TRCD        = 25
	d4TRP         = 26
	d4Upper       = 27 // bits 7 to 4: tRC; 3 to 0: tRAS
	d4TRAS        = 28
	d4TRC         = 29
	d4TRFC        = 30 // word
	d4FineTRC     = 120
	d4FineTRP     = 121
	d4FineTRCD    = 122
	d4FineTAA     = 123
	d4FineTCK     = 125
	d4CRC         = 126 // word, over 0 to 125
	d4Height      = 128 // bits 4 to 0: mm over 15
	d4Thickness   = 129 // bits 7 to 4: behind, mm over 1; 3 to 0: in front
	d4BlockCRC    = 254 // word, over 128 to 253
	d4Maker       = 320 // two bytes
	d4Location    = 322
	d4Year        = 323
	d4Week        = 324
	d4Serial      = 325 // 4 bytes
	d4Part        = 329 // 20 characters
	d4ChipMaker   = 350 // two bytes
	d4ProfileBase = 384
)

var d4Types = map[int]moduleType{
	1: {jedec.DIMM, jedec.RegisteredECC}, 2: {jedec.DIMM, jedec.Unbuffered}, 3: {jedec.SODIMM, jedec.Unbuffered},
	4: {jedec.DIMM, jedec.LoadReduced},
	5: {jedec.MiniDIMM, jedec.RegisteredECC}, 6: {jedec.MiniDIMM, jedec.Unbuffered},
	8: {jedec.SODIMM, jedec.RegisteredECC}, 9: {jedec.SODIMM, jedec.UnbufferedECC},
	0xC: {jedec.SODIMM, jedec.Unbuffered}, 0xD: {jedec.SODIMM, jedec.Unbuffered}, // of 16 and of 32 data bits
}

// d4Densities are the codes of byte 4, Mbit; 8 and 9 are the sizes that are no
// powers of two.
var d4Densities = []int{256, 512, 1024, 2048, 4096, 8192, 16384, 32768, 12288, 24576}

var eightRanks = []int{1, 2, 3, 4, 5, 6, 7, 8}

func decodeDDR4(im *image) {
	im.crc(0, 125, d4CRC)
	if im.has(d4BlockCRC + 1) {
		im.crc(128, 253, d4BlockCRC)
	}
	im.revision(d4Revision)
	im.moduleKind(d4Types, d4Module, d4Bus)
	im.Density = fromTable(d4Densities, im.bits(d4Density, 3, 0))
	im.d4Packages()
	im.DataWidth = fromTable(busWidths, im.bits(d4Bus, 2, 0))
	im.CheckBits = maybe.If(checkWidths[im.bits(d4Bus, 4, 3)&1], im.bits(d4Bus, 4, 3) < 2)
	im.capacity()
	if im.at(d4Voltage)&0x01 != 0 {
		im.MilliVolts = []int{1200}
	}
	im.Thermal = maybe.Just(im.at(d4Thermal)&0x80 != 0)
	if im.has(d4Height) {
		im.HeightMM = maybe.Just(im.bits(d4Height, 4, 0) + 15)
		im.thickness(d4Thickness)
	}
	im.mediumTimes()
	im.TRCD = known(quarterBase.of(int(im.at(d4TRCD)), im.fineOf(d4FineTRCD)))
	im.TRP = known(quarterBase.of(int(im.at(d4TRP)), im.fineOf(d4FineTRP)))
	im.TRAS = known(quarterBase.of(im.bits(d4Upper, 3, 0)<<8|int(im.at(d4TRAS)), 0))
	im.TRC = known(quarterBase.of(im.bits(d4Upper, 7, 4)<<8|int(im.at(d4TRC)), im.fineOf(d4FineTRC)))
	refresh, _ := im.Word(d4TRFC)
	im.TRFC = known(quarterBase.of(int(refresh), 0))
	im.d4Identity()
	im.d4Profiles()
}

// d4Packages reads ranks, width and stacking.
func (im *image) d4Packages() {
	im.Ranks = fromTable(eightRanks, im.bits(d4Organised, 5, 3))
	im.Width = fromTable(chipWidths, im.bits(d4Organised, 2, 0))
	im.Dies = maybe.Just(im.bits(d4Package, 6, 4) + 1)
	im.Stacked = im.at(d4Package)&0x80 != 0 && im.bits(d4Package, 1, 0) == 2
	if im.at(d4Organised)&0x40 != 0 {
		im.Asymmetric = true
		// Bits 3 and 2 of byte 10: how many densities the second kind is smaller (JESD21-C 4.1.2.L).
		if smaller := im.bits(d4Second, 3, 2); smaller < 3 {
			if mbit := im.Density.Or(0); mbit&(mbit-1) == 0 {
				im.second = mbit >> smaller
			}
		}
		im.note("byte %d: the ranks differ; the second kind is in byte %d (0x%02X)", d4Organised, d4Second, im.at(d4Second))
	}
}

// quarterBase is the only timebase that DDR4's annex defines: 125 ps and 1 ps.
var quarterBase = timebase{medium: 125_000, fine: 1000}

// mediumTimes reads cycle, access time and latencies, which DDR4 and the
// low-power images have at the same bytes.
func (im *image) mediumTimes() {
	if im.at(d4Timebases)&0x0F != 0 {
		im.note("byte %d states a timebase that the standard reserves; taken as 125 ps and 1 ps", d4Timebases)
	}
	im.TCK = known(quarterBase.of(int(im.at(d4TCK)), im.fineOf(d4FineTCK)))
	im.TAA = known(quarterBase.of(int(im.at(d4TAA)), im.fineOf(d4FineTAA)))
	word, _ := im.DWord(d4Latencies)
	first := 7
	if word>>31 == 1 {
		first = 23
	}
	for bit := range 30 {
		if word>>bit&1 == 1 {
			im.Latencies = append(im.Latencies, jedec.Whole(bit+first))
		}
	}
}

func (im *image) d4Identity() {
	if im.short(d4ChipMaker+2, "maker, part and serial number") {
		return
	}
	im.makers(d4Maker, d4ChipMaker)
	im.Location = maybe.Just(im.at(d4Location))
	im.date(d4Year, d4Week)
	im.Serial = im.serial(d4Serial)
	im.Part = im.text(d4Part, 20)
}
