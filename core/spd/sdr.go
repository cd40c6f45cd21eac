package spd

import (
	"epitome/core/jedec"
	"epitome/core/maybe"
	"strings"
)

// The fields of SDR, DDR and DDR2 images, by the standards' names: JESD21-C
// 4.1.2.5 (SDR), annex D 4.1.2.4 (DDR), annex J 4.1.2.10 (DDR2). The three
// share one layout; units and code tables differ.
const (
	oldRows       = 3  // number of row addresses; DDR2 bits 4 to 0
	oldColumns    = 4  // number of column addresses; DDR2 bits 3 to 0
	oldRanks      = 5  // number of physical ranks; DDR2 bits 2 to 0 plus 1, height in bits 7 to 5
	oldDataWidth  = 6  // module data width, low byte
	oldDataHigh   = 7  // high byte; reserved in DDR2
	oldVoltage    = 8  // voltage interface level
	oldCycle      = 9  // tCK at the highest CAS latency
	oldConfig     = 11 // parity and check bits
	oldWidth      = 13 // chip width; SDR and DDR bits 6 to 0
	oldCheckWidth = 14
	oldBanks      = 17 // banks in a chip
	oldLatencies  = 18
	ddr2Type      = 20
	oldAttributes = 21 // bit 1: registered (SDR, DDR)
	oldCycle2     = 23 // tCK at the second highest latency
	oldCycle3     = 25 // at the third highest
	oldTRP        = 27
	oldTRCD       = 29
	oldTRAS       = 30 // whole ns
	oldRankSize   = 31
	ddr2Extension = 40 // fractions of tRC and tRFC
	oldTRC        = 41
	oldTRFC       = 42
	oldRevision   = 62
	oldSum        = 63 // of bytes 0 to 62
	oldMaker      = 64 // 8 bytes
	oldLocation   = 72
	oldPart       = 73 // 18 characters
	oldYear       = 93
	oldWeek       = 94
	oldSerial     = 95 // 4 bytes
)

// tenths are the low nibbles of DDR and DDR2 cycle times, ps.
var tenths = [16]jedec.Picoseconds{0, 100, 200, 300, 400, 500, 600, 700, 800, 900, 250, 333, 667, 750, 0, 0}

// cycle reads a cycle time: whole ns in the high nibble, tenths or one of the
// special fractions in the low one.
func (im *image) cycle(off int) jedec.Picoseconds {
	return jedec.Picoseconds(im.bits(off, 7, 4))*1000 + tenths[im.bits(off, 3, 0)]
}

// quarters reads a time in quarters of a ns.
func (im *image) quarters(off int) jedec.Picoseconds { return jedec.Picoseconds(im.at(off)) * 250 }

// wholes reads a time in whole ns.
func (im *image) wholes(off int) jedec.Picoseconds { return jedec.Picoseconds(im.at(off)) * 1000 }

// old decodes what the three share.
func (im *image) old() {
	im.sum8()
	im.revision(oldRevision)
	im.Width = maybe.If(im.bits(oldWidth, 6, 0), im.bits(oldWidth, 6, 0) > 0)
	if im.Generation != jedec.DDR2 && im.at(oldWidth)&0x80 != 0 {
		im.Asymmetric = true
		im.note("byte %d: the second rank's chips are twice as wide", oldWidth)
	}
	im.CheckBits = maybe.Just(0)
	if im.at(oldConfig)&0x02 != 0 {
		im.CheckBits = maybe.Just(8)
	}
	im.TRAS = known(im.wholes(oldTRAS))
	im.oldIdentity()
}

func (im *image) oldIdentity() {
	if im.short(oldSerial+4, "maker, part and serial number") {
		return
	}
	im.continuationMaker(oldMaker)
	im.Location = maybe.Just(im.at(oldLocation))
	im.Part = im.text(oldPart, 18)
	im.date(oldYear, oldWeek)
	im.Serial = im.serial(oldSerial)
}

// addressed works the size out from rows, columns and banks, and holds it
// against the stated rank size.
func (im *image) addressed(rows, columns, ranks, dataWidth int, rankSizes [8]jedec.Capacity) {
	banks := int(im.at(oldBanks))
	check := im.CheckBits.Or(0)
	if dataWidth > 64 && check > 0 {
		dataWidth -= check
	}
	im.DataWidth = known(dataWidth)
	im.Ranks = known(ranks)
	width, ok := im.Width.Get()
	if rows < 8 || rows > 17 || columns < 6 || columns > 14 || banks == 0 || banks > 16 || !ok || ranks < 1 ||
		ranks > 8 || dataWidth < 8 {
		im.note("bytes %d to %d, %d: rows %d, columns %d, ranks %d, banks %d make no memory", oldRows, oldRanks, oldBanks,
			rows, columns, ranks, banks)
		return
	}
	cells := jedec.Capacity(1) << (rows + columns) * jedec.Capacity(banks)
	im.Density = known(int(cells * jedec.Capacity(width) / jedec.MiB))
	rank := cells * jedec.Capacity(dataWidth) / 8
	if im.Asymmetric {
		return
	}
	im.Capacity = maybe.Just(rank * jedec.Capacity(ranks))
	stated := false
	for bit, size := range rankSizes {
		if im.at(oldRankSize)>>bit&1 == 1 && (size == rank || bit < 3 && size*256 == rank || size == rank*256) {
			stated = true
		}
	}
	if !stated {
		var sizes []string
		for bit, size := range rankSizes {
			if im.at(oldRankSize)>>bit&1 == 1 {
				sizes = append(sizes, size.String())
			}
		}
		im.note("byte %d states ranks of %s (0x%02X), rows, columns and banks make %v", oldRankSize,
			strings.Join(append(sizes, "no size")[:max(1, len(sizes))], " and "), im.at(oldRankSize), rank)
		im.Itself = append(im.Itself, im.Notes[len(im.Notes)-1])
		im.SizeDisputed = len(sizes) > 0
	}
}

// sdrRankSizes: bit 0 is 4 MB; the low bits were given a second meaning later
// (1 GB and up).
var sdrRankSizes = [8]jedec.Capacity{4 * jedec.MiB, 8 * jedec.MiB, 16 * jedec.MiB, 32 * jedec.MiB, 64 * jedec.MiB,
	128 * jedec.MiB, 256 * jedec.MiB, 512 * jedec.MiB}

func decodeSDR(im *image) {
	im.old()
	im.setForm(im.at(oldAttributes)&0x02 != 0)
	im.addressed(im.bits(oldRows, 3, 0), im.bits(oldColumns, 3, 0), int(im.at(oldRanks)), int(im.at(oldDataWidth)),
		sdrRankSizes)
	im.MilliVolts = map[byte][]int{1: {3300}}[im.at(oldVoltage)] // 1: LVTTL
	im.TCK = known(im.cycle(oldCycle))
	im.TRP, im.TRCD = known(im.wholes(oldTRP)), known(im.wholes(oldTRCD))
	for bit := range 7 {
		if im.at(oldLatencies)>>bit&1 == 1 {
			im.Latencies = append(im.Latencies, jedec.Whole(bit+1))
		}
	}
	im.accessTime()
}

// setForm takes what SDR and DDR images tell of the form: nothing but whether
// the module is registered. A registered one is a DIMM.
func (im *image) setForm(registered bool) {
	switch {
	case registered:
		im.Form, im.Kind = jedec.DIMM, jedec.RegisteredECC
	case im.CheckBits.Or(0) > 0:
		im.Kind = jedec.UnbufferedECC
	default:
		im.Kind = jedec.Unbuffered
	}
}

// accessTime gives the minimum access time: the shortest time that a
// supported latency takes at its own cycle time.
func (im *image) accessTime() {
	n := len(im.Latencies)
	var best jedec.Picoseconds
	for i, off := range []int{oldCycle, oldCycle2, oldCycle3} {
		tck := im.cycle(off)
		if im.Generation == jedec.SDR && off == oldCycle3 {
			tck = jedec.Picoseconds(im.bits(off, 7, 2))*1000 + jedec.Picoseconds(im.bits(off, 1, 0))*250
		}
		if i >= n || tck == 0 {
			break
		}
		if t := jedec.Picoseconds(im.Latencies[n-1-i]) * tck / 2; best == 0 || t < best {
			best = t
		}
	}
	im.TAA = known(best)
}
