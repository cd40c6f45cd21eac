package spd

import (
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// DDR (JESD21-C annex D) and DDR2 (annex J) share SDR's layout; see sdr.go for
// the table of fields. What differs is below.

// ddrRankSizes: bits 0 to 2 are 1, 2 and 4 GB, the others as in SDR.
var ddrRankSizes = [8]jedec.Capacity{jedec.GiB, 2 * jedec.GiB, 16 * jedec.MiB, 32 * jedec.MiB, 64 * jedec.MiB,
	128 * jedec.MiB, 256 * jedec.MiB, 512 * jedec.MiB}

// ddr2RankSizes: bits 0 to 4 are 1 to 16 GB, bits 5 to 7 are 128 to 512 MB.
var ddr2RankSizes = [8]jedec.Capacity{jedec.GiB, 2 * jedec.GiB, 4 * jedec.GiB, 8 * jedec.GiB, 16 * jedec.GiB,
	128 * jedec.MiB, 256 * jedec.MiB, 512 * jedec.MiB}

func decodeDDR(im *image) {
	im.old()
	im.setForm(im.at(oldAttributes)&0x02 != 0)
	im.addressed(im.bits(oldRows, 3, 0), im.bits(oldColumns, 3, 0), int(im.at(oldRanks)), int(im.at(oldDataWidth)),
		ddrRankSizes)
	im.MilliVolts = map[byte][]int{4: {2500}}[im.at(oldVoltage)] // 4: SSTL 2.5 V
	im.TCK = known(im.cycle(oldCycle))
	im.TRP, im.TRCD = known(im.quarters(oldTRP)), known(im.quarters(oldTRCD))
	im.TRC, im.TRFC = known(im.wholes(oldTRC)), known(im.wholes(oldTRFC))
	for bit := range 7 { // bit 0 is latency 1, half a clock a bit
		if im.at(oldLatencies)>>bit&1 == 1 {
			im.Latencies = append(im.Latencies, jedec.Latency(bit+2))
		}
	}
	im.accessTime()
}

// ddr2Types are the bits of byte 20.
var ddr2Types = map[byte]moduleType{
	0x01: {jedec.DIMM, jedec.RegisteredECC}, 0x02: {jedec.DIMM, jedec.Unbuffered},
	0x04: {jedec.SODIMM, jedec.Unbuffered}, 0x08: {jedec.MicroDIMM, jedec.Unbuffered},
	0x10: {jedec.MiniDIMM, jedec.RegisteredECC}, 0x20: {jedec.MiniDIMM, jedec.Unbuffered},
	0x06: {jedec.SODIMM, jedec.ClockedECC}, 0x07: {jedec.SODIMM, jedec.RegisteredECC},
}

// ddr2Heights are the codes of byte 5, bits 7 to 5, in mm rounded up.
var ddr2Heights = []int{25, 26, 30, 30, 31, 0, 0, 0}

// trcFractions are the codes of byte 40 for tRC and tRFC, ps.
var trcFractions = [8]jedec.Picoseconds{0, 250, 333, 500, 667, 750, 0, 0}

func decodeDDR2(im *image) {
	im.old()
	if t, ok := ddr2Types[im.at(ddr2Type)]; ok {
		im.Form, im.Kind = t.form, t.kind
		if im.Kind == jedec.Unbuffered && im.CheckBits.Or(0) > 0 {
			im.Kind = jedec.UnbufferedECC
		}
	} else {
		im.note("byte %d, module type: code 0x%02X is none of the standard's", ddr2Type, im.at(ddr2Type))
	}
	im.HeightMM = fromTable(ddr2Heights, im.bits(oldRanks, 7, 5))
	im.addressed(im.bits(oldRows, 4, 0), im.bits(oldColumns, 3, 0), im.bits(oldRanks, 2, 0)+1, int(im.at(oldDataWidth)),
		ddr2RankSizes)
	im.MilliVolts = map[byte][]int{5: {1800}}[im.at(oldVoltage)] // 5: SSTL 1.8 V
	im.TCK = known(im.cycle(oldCycle))
	im.TRP, im.TRCD = known(im.quarters(oldTRP)), known(im.quarters(oldTRCD))
	if whole := im.wholes(oldTRC); whole > 0 {
		im.TRC = maybe.Just(whole + trcFractions[im.bits(ddr2Extension, 6, 4)])
	}
	if whole := im.wholes(oldTRFC); whole > 0 {
		im.TRFC = maybe.Just(whole + trcFractions[im.bits(ddr2Extension, 3, 1)] +
			jedec.Picoseconds(im.bits(ddr2Extension, 0, 0))*256_000)
	}
	for bit := 2; bit <= 7; bit++ {
		if im.at(oldLatencies)>>bit&1 == 1 {
			im.Latencies = append(im.Latencies, jedec.Whole(bit))
		}
	}
	im.accessTime()
}
