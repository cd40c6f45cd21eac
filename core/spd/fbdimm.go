package spd

import (
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// decodeFBDIMM reads what a fully buffered module says of itself (JESD21-C 4.1.2.7): what it is, and who made it. From
// byte 117 on its layout is that which DDR3 took over. How its chips are laid out and timed is not read: the codes of
// those bytes could not be confirmed, and the label says both.
func decodeFBDIMM(im *image) {
	covered := 125
	if im.at(d3Size)&0x80 != 0 {
		covered = 116
	}
	im.crc(0, covered, d3CRC)
	im.revision(d3Revision)
	im.Form, im.Kind = jedec.FBDIMM, jedec.FullyBuffered
	im.CheckBits, im.DataWidth = maybe.Just(8), maybe.Just(64) // always: the buffer moves 72 bits
	im.MilliVolts = []int{1800}                                // of the chips; the buffer takes 1.5 V besides
	im.note("a fully buffered module: size, chips and timings are not read from its image; its label has them")
	if !im.short(d3ChipMaker+2, "part number and chip maker") {
		im.makers(d3Maker, d3ChipMaker)
		im.Part = im.text(d3Part, 18)
	}
	im.Location = maybe.Just(im.at(d3Location))
	im.date(d3Year, d3Week)
	im.Serial = im.serial(d3Serial)
}
