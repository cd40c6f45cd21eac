package spd

import (
	"fmt"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// The fields of a DDR5 image, by the names of JESD400-5.
const (
	d5Revision  = 1
	d5Module    = 3  // bits 3 to 0: module type
	d5Density   = 4  // bits 4 to 0: density of a die; 7 to 5: dies in a package
	d5Width     = 6  // bits 7 to 5
	d5Second    = 8  // density and package of the second kind of rank
	d5VDD       = 16 // bits 7 to 4: 0 is 1.1 V
	d5TCK       = 20 // words, ps, from here on
	d5Latencies = 24 // five bytes; bit 0 is CL 20, two clocks a bit
	d5TAA       = 30
	d5TRCD      = 32
	d5TRP       = 34
	d5TRAS      = 36
	d5TRC       = 38
	d5TRFC      = 42  // word, ns
	d5Hub       = 196 // bit 7: there is one; 3 to 0: 0 is an SPD5118, which measures its temperature
	d5PMIC      = 200 // bit 7: there is one; 3 to 0: which
	d5Sensors   = 212 // bits 7 and 6: the first and the second sensor are there
	d5Height    = 230 // bits 4 to 0: mm over 15
	d5Thickness = 231 // bits 7 to 4: behind, mm over 1; 3 to 0: in front
	d5Attribute = 233 // bits 7 to 4: temperature range; 2: heat spreader
	d5Organised = 234 // bit 6: ranks differ; 5 to 3: package ranks less one in a half
	d5Bus       = 235 // bits 7 to 5: halves; 4 to 3: check bits of a half; 2 to 0: width of a half
	d5CRC       = 510 // word, over 0 to 509
	d5Maker     = 512 // two bytes
	d5Location  = 514
	d5Year      = 515
	d5Week      = 516
	d5Serial    = 517 // 4 bytes
	d5Part      = 521 // 30 characters
	d5ChipMaker = 552 // two bytes
)

var d5Types = map[int]moduleType{
	1: {jedec.DIMM, jedec.RegisteredECC}, 2: {jedec.DIMM, jedec.Unbuffered}, 3: {jedec.SODIMM, jedec.Unbuffered},
	4: {jedec.DIMM, jedec.LoadReduced},
	5: {jedec.DIMM, jedec.Clocked}, 6: {jedec.SODIMM, jedec.Clocked}, 7: {jedec.DIMM, jedec.Multiplexed},
	8:   {jedec.CAMM2, jedec.Unbuffered},
	0xB: {jedec.Soldered, jedec.Unbuffered},
}

// d5Densities are the codes of byte 4, Mbit: 12, 24 and 48 Gbit among them.
var d5Densities = []int{0, 4096, 8192, 12288, 16384, 24576, 32768, 49152, 65536}

// d5Dies are the package codes of byte 4: one die, two dies side by side, or a
// 3DS stack.
var d5Dies = []struct {
	dies    int
	stacked bool
}{{1, false}, {2, false}, {2, true}, {4, true}, {8, true}, {16, true}}

func decodeDDR5(im *image) {
	if im.has(d5CRC + 1) {
		im.crc(0, 509, d5CRC)
	} else {
		im.note("the image has %d bytes and ends before its CRC (bytes 510 and 511)", im.Len())
	}
	im.revision(d5Revision)
	im.Density = fromTable(d5Densities, im.bits(d5Density, 4, 0))
	if code := im.bits(d5Density, 7, 5); code < len(d5Dies) {
		im.Dies, im.Stacked = maybe.Just(d5Dies[code].dies), d5Dies[code].stacked
	}
	im.Width = fromTable(chipWidths, im.bits(d5Width, 7, 5))
	if im.bits(d5VDD, 7, 4) == 0 {
		im.MilliVolts = []int{1100}
	}
	im.d5Organisation()
	im.d5Kind()
	im.capacity()
	im.TCK = im.word(d5TCK)
	im.TAA, im.TRCD, im.TRP = im.word(d5TAA), im.word(d5TRCD), im.word(d5TRP)
	im.TRAS, im.TRC = im.word(d5TRAS), im.word(d5TRC)
	if refresh, ok := im.word(d5TRFC).Get(); ok {
		im.TRFC = maybe.Just(refresh * 1000)
	}
	for bit := range 40 {
		if im.at(d5Latencies+bit/8)>>(bit%8)&1 == 1 {
			im.Latencies = append(im.Latencies, jedec.Whole(20+2*bit))
		}
	}
	if !im.short(d5ChipMaker+2, "maker, part and serial number") {
		im.makers(d5Maker, d5ChipMaker)
		im.Location = maybe.Just(im.at(d5Location))
		im.date(d5Year, d5Week)
		im.Serial = im.serial(d5Serial)
		im.Part = im.text(d5Part, 30)
	}
	im.d5Profiles()
}

// word reads a time in ps.
func (im *image) word(off int) maybe.Value[jedec.Picoseconds] {
	v, _ := im.Word(off)
	return known(jedec.Picoseconds(v))
}

// d5Organisation reads ranks and buses. Widths are of one half; DataWidth and
// CheckBits are of the whole module.
func (im *image) d5Organisation() {
	if !im.has(d5Bus) {
		return
	}
	im.d5Supports()
	halves := 1 << im.bits(d5Bus, 7, 5)
	im.HeightMM = maybe.Just(im.bits(d5Height, 4, 0) + 15)
	im.thickness(d5Thickness)
	im.Ranks = fromTable(eightRanks, im.bits(d5Organised, 5, 3))
	im.SubBuses = maybe.If(halves, halves <= 8)
	if width, ok := fromTable(busWidths, im.bits(d5Bus, 2, 0)).Get(); ok && halves <= 8 {
		im.DataWidth = maybe.Just(width * halves)
	}
	if ext := im.bits(d5Bus, 4, 3); ext < 3 && halves <= 8 {
		im.CheckBits = maybe.Just(4 * ext * halves)
	}
	if im.at(d5Organised)&0x40 != 0 {
		im.Asymmetric = true
		im.second = fromTable(d5Densities, im.bits(d5Second, 4, 0)).Or(0) // coded as byte 4 is
		im.note("byte %d: the ranks differ; the second kind is in byte %d (0x%02X)", d5Organised, d5Second, im.at(d5Second))
	}
}

// d5PMICs are the codes of byte 200, bits 3 to 0, as far as they are confirmed.
var d5PMICs = []string{"PMIC5000", "PMIC5010", "PMIC5100"}

// d5Supports reads what stands on the module beside its memory: the supply's regulator and temperature sensors.
func (im *image) d5Supports() {
	const present = 0x80
	if im.at(d5PMIC)&present != 0 {
		if code := im.bits(d5PMIC, 3, 0); code < len(d5PMICs) {
			im.PMIC = d5PMICs[code]
		} else {
			im.PMIC = fmt.Sprintf("a PMIC of type %d", code)
		}
	}
	hub, sensors := im.at(d5Hub), im.at(d5Sensors)
	im.Thermal = maybe.Just(hub&present != 0 && hub&0xF == 0 || sensors&0xC0 != 0)
}

func (im *image) d5Kind() {
	t, ok := d5Types[im.bits(d5Module, 3, 0)]
	if !ok {
		im.note("byte %d, module type: code %d is none that is known", d5Module, im.bits(d5Module, 3, 0))
		return
	}
	im.Form, im.Kind = t.form, t.kind
	if im.CheckBits.Or(0) > 0 {
		switch im.Kind {
		case jedec.Unbuffered:
			im.Kind = jedec.UnbufferedECC
		case jedec.Clocked:
			im.Kind = jedec.ClockedECC
		}
	}
}
