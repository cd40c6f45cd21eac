package spd

import (
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// The fields of LPDDR3, LPDDR4, LPDDR4X, LPDDR5 and LPDDR5X images, by the
// names of JESD21-C annex M (4.1.2.M) and JESD406-5: what differs from DDR4's,
// whose cycle, access time, latencies and identity stand at the same bytes.
const (
	lpDensity   = 4  // bits 3 to 0: density of a die
	lpPackage   = 6  // bit 7: several dies; 6 to 4: dies less one; 3 to 2: channels of a package
	lpOrganised = 12 // bits 5 to 3: package ranks less one; 2 to 0: chip width a channel
	lpBus       = 13 // bits 7 to 5: channels; 4 to 3: check bits; 2 to 0: width of a channel
	lpTRCD      = 26
	lpTRP       = 27  // all banks
	lpTRFC      = 29  // word, all banks
	lpFineTRP   = 121 // all banks
	lpFineTRCD  = 122
	lpIdentity5 = 512 // where a 1024-byte image has its identity, as DDR5 does
)

// lpDensities are the codes of byte 4, Mbit; 8 to 12 are no powers of two.
var lpDensities = []int{256, 512, 1024, 2048, 4096, 8192, 16384, 32768, 12288, 24576, 3072, 6144, 18432}

// lpWidths are the codes of byte 12: a channel of a low-power chip may be 64
// lines wide.
var lpWidths = []int{4, 8, 16, 32, 64}

func decodeLowPower(im *image) {
	im.crc(0, 125, d4CRC)
	im.revision(d4Revision)
	im.Form, im.Kind = jedec.Soldered, jedec.Unbuffered
	if im.bits(d4Module, 3, 0) == 8 && (im.Generation == jedec.LPDDR5 || im.Generation == jedec.LPDDR5X) {
		im.Form = jedec.LPCAMM2
	}
	im.Density = fromTable(lpDensities, im.bits(lpDensity, 3, 0))
	im.Dies = maybe.Just(im.bits(lpPackage, 6, 4) + 1)
	im.Ranks = fromTable(eightRanks, im.bits(lpOrganised, 5, 3))
	im.Width = fromTable(lpWidths, im.bits(lpOrganised, 2, 0))
	channels := []int{1, 2, 3, 4, 0, 8}
	if n, ok := fromTable(channels, im.bits(lpBus, 7, 5)).Get(); ok {
		im.SubBuses = maybe.Just(n)
		if width, ok := fromTable(busWidths, im.bits(lpBus, 2, 0)).Get(); ok {
			im.DataWidth = maybe.Just(width * n)
		}
	}
	im.CheckBits = maybe.If(0, im.bits(lpBus, 4, 3) == 0)
	if im.Generation == jedec.LPDDR3 {
		// One channel a die: the size follows as for DDR4. A later die holds two
		// channels, and how its density counts them could not be confirmed.
		im.capacity()
	} else {
		im.note("the size of %v does not follow from its image without doubt and is left open", im.Generation)
	}
	im.mediumTimes()
	im.TRCD = known(quarterBase.of(int(im.at(lpTRCD)), im.fineOf(lpFineTRCD)))
	im.TRP = known(quarterBase.of(int(im.at(lpTRP)), im.fineOf(lpFineTRP)))
	refresh, _ := im.Word(lpTRFC)
	im.TRFC = known(quarterBase.of(int(refresh), 0))
	im.Latencies = nil // the bits count read latencies by tables of their own
	if im.Len() == MaxSize {
		im.makers(d5Maker, d5ChipMaker)
		im.date(d5Year, d5Week)
		im.Serial, im.Part = im.serial(d5Serial), im.text(d5Part, 30)
		return
	}
	im.d4Identity()
}
