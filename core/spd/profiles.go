package spd

import (
	"bytes"
	"math"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// Overclocking profiles. Neither vendor's layout is an open standard; what is
// read here is what both vendors' modules are known to hold. Two things guard
// against a wrong reading: the versions for DDR5 carry CRCs of their own, and
// every profile's rate must come out near a whole multiple of 33 1/3 MT/s with
// latencies that memory can have. One that does not is named in Notes and left
// out.

// xmpMark begins the blocks of the first kind, all versions.
var xmpMark = []byte{0x0C, 0x4A}

// expoMark begins the block of the second kind.
var expoMark = []byte("EXPO")

// Layout of the first kind for DDR3, version 1: at 176, two profiles.
const (
	xmp1Enabled = 178 // bits 0 and 1
	xmp1Version = 179
	xmp1Bases   = 180 // dividend and divisor of each profile's timebase
	xmp1First   = 185
	xmp1Length  = 35
	// Within a profile:
	xmp1VDD       = 0 // bits 6 to 5: V; 4 to 0: 0.05 V
	xmp1TCK       = 1
	xmp1TAA       = 2
	xmp1TRP       = 6
	xmp1TRCD      = 7
	xmp1Upper     = 9 // bits 7 to 4: tRC; 3 to 0: tRAS
	xmp1TRAS      = 10
	xmp1TRC       = 11
	xmp1FineTCK   = 26 // version 1.3
	xmp1FineTAA   = 27
	xmp1FineTRP   = 28
	xmp1FineTRCD  = 29
	xmp1FineTRC   = 30
	xmp1WithFines = 0x13
)

func (im *image) d3Profiles() {
	mark, ok := im.Slice(d3ProfileBase, 2)
	if !ok || !bytes.Equal(mark.Bytes(), xmpMark) {
		return
	}
	for n := range 2 {
		at := xmp1First + n*xmp1Length
		if im.at(xmp1Enabled)>>n&1 == 0 || !im.has(at+xmp1Length-1) {
			continue
		}
		base, ok := im.d3Base(im.at(xmp1Bases+2*n), im.at(xmp1Bases+2*n+1))
		if !ok {
			im.note("profile %d states no timebase; left out", n+1)
			continue
		}
		fine := func(off int) int8 {
			if im.at(xmp1Version) < xmp1WithFines {
				return 0
			}
			return im.fineOf(at + off)
		}
		im.profile(rawProfile{
			name: "XMP 1 profile " + string(rune('1'+n)), milliVolts: twentieths(im.at(at + xmp1VDD)),
			tck: base.of(int(im.at(at+xmp1TCK)), fine(xmp1FineTCK)), taa: base.of(int(im.at(at+xmp1TAA)), fine(xmp1FineTAA)),
			trcd: base.of(int(im.at(at+xmp1TRCD)), fine(xmp1FineTRCD)), trp: base.of(int(im.at(at+xmp1TRP)), fine(xmp1FineTRP)),
			tras: base.of(im.bits(at+xmp1Upper, 3, 0)<<8|int(im.at(at+xmp1TRAS)), 0),
			trc:  base.of(im.bits(at+xmp1Upper, 7, 4)<<8|int(im.at(at+xmp1TRC)), fine(xmp1FineTRC)),
		})
	}
}

// Layout of the first kind for DDR4, version 2: at 384, two profiles.
const (
	xmp2Enabled = 386 // bits 0 and 1
	xmp2First   = 393
	xmp2Length  = 47
	// Within a profile:
	xmp2VDD      = 0 // bit 7: 1 V; 6 to 0: hundredths
	xmp2TCK      = 3
	xmp2TAA      = 8
	xmp2TRCD     = 9
	xmp2TRP      = 10
	xmp2Upper    = 11
	xmp2TRAS     = 12
	xmp2TRC      = 13
	xmp2FineTRC  = 34
	xmp2FineTRP  = 35
	xmp2FineTRCD = 36
	xmp2FineTAA  = 37
	xmp2FineTCK  = 38
)

func (im *image) d4Profiles() {
	mark, ok := im.Slice(d4ProfileBase, 2)
	if !ok || !bytes.Equal(mark.Bytes(), xmpMark) {
		return
	}
	for n := range 2 {
		at := xmp2First + n*xmp2Length
		if im.at(xmp2Enabled)>>n&1 == 0 || !im.has(at+xmp2Length-1) {
			continue
		}
		vdd := im.at(at + xmp2VDD)
		im.profile(rawProfile{
			name: "XMP 2 profile " + string(rune('1'+n)), milliVolts: int(vdd>>7)*1000 + int(vdd&0x7F)*10,
			tck:  quarterBase.of(int(im.at(at+xmp2TCK)), im.fineOf(at+xmp2FineTCK)),
			taa:  quarterBase.of(int(im.at(at+xmp2TAA)), im.fineOf(at+xmp2FineTAA)),
			trcd: quarterBase.of(int(im.at(at+xmp2TRCD)), im.fineOf(at+xmp2FineTRCD)),
			trp:  quarterBase.of(int(im.at(at+xmp2TRP)), im.fineOf(at+xmp2FineTRP)),
			tras: quarterBase.of(im.bits(at+xmp2Upper, 3, 0)<<8|int(im.at(at+xmp2TRAS)), 0),
			trc:  quarterBase.of(im.bits(at+xmp2Upper, 7, 4)<<8|int(im.at(at+xmp2TRC)), im.fineOf(at+xmp2FineTRC)),
		})
	}
}

// Layout of both kinds for DDR5: times in ps, words.
const (
	xmp3Base     = 640 // header of 64 bytes, CRC in its last two
	xmp3Enabled  = 643 // bits 0 to 2
	xmp3First    = 704 // three vendor profiles of 64 bytes, CRC in their last two
	xmp3Length   = 64
	xmp3VDD      = 1 // twentieths of a volt
	xmp3TCK      = 5
	xmp3TAA      = 13
	expoBase     = 832
	expoEnabled  = 837 // bits 0 and 4
	expoFirst    = 842
	expoLength   = 40
	expoVDD      = 0 // twentieths of a volt
	expoTCK      = 4
	expoTAA      = 6
	expoCRC      = 958 // over the block from its mark on
	wordsFromTAA = 5   // tAA, tRCD, tRP, tRAS, tRC in a row
)

func (im *image) d5Profiles() {
	if mark, ok := im.Slice(xmp3Base, 2); ok && bytes.Equal(mark.Bytes(), xmpMark) {
		for n := range 3 {
			at := xmp3First + n*xmp3Length
			if im.at(xmp3Enabled)>>n&1 == 1 && im.has(at+xmp3Length-1) && !im.expoAt(at) {
				im.words(rawProfile{name: "XMP 3 profile " + string(rune('1'+n)), milliVolts: twentieths(im.at(at + xmp3VDD)),
					check: im.checkOf(at, at+xmp3Length-3)},
					at+xmp3TCK, at+xmp3TAA)
			}
		}
	}
	if im.expoAt(expoBase) {
		check := im.checkOf(expoBase, expoCRC-1)
		for n := range 2 {
			at := expoFirst + n*expoLength
			if im.at(expoEnabled)>>(4*n)&1 == 1 && im.has(at+expoLength-1) {
				im.words(rawProfile{name: "EXPO profile " + string(rune('1'+n)), milliVolts: twentieths(im.at(at + expoVDD)),
					check: check}, at+expoTCK, at+expoTAA)
			}
		}
	}
}

// expoAt reports whether the second kind's block stands at off; it shares its
// place with the first kind's third profile.
func (im *image) expoAt(off int) bool {
	mark, ok := im.Slice(off, len(expoMark))
	return ok && off == expoBase && bytes.Equal(mark.Bytes(), expoMark)
}

func (im *image) checkOf(from, last int) maybe.Value[Check] {
	w, ok := im.Slice(from, last-from+1)
	found, has := im.Word(last + 1)
	return maybe.If(Check{From: from, Last: last, At: last + 1, Expected: CRC16(w.Covered()), Found: found}, ok && has)
}

// words reads a profile whose times are words in ps.
func (im *image) words(p rawProfile, tck, taa int) {
	var times [wordsFromTAA]jedec.Picoseconds
	for i := range times {
		v, _ := im.Word(taa + 2*i)
		times[i] = jedec.Picoseconds(v)
	}
	cycle, _ := im.Word(tck)
	p.tck, p.taa, p.trcd, p.trp, p.tras, p.trc = jedec.Picoseconds(cycle), times[0], times[1], times[2], times[3], times[4]
	im.profile(p)
}

// twentieths reads a voltage: whole volts in bits 6 to 5, steps of 0.05 V
// below.
func twentieths(b byte) int { return int(b>>5&3)*1000 + int(b&0x1F)*50 }

// A rawProfile is a profile's figures before they are believed.
type rawProfile struct {
	name                           string
	milliVolts                     int
	tck, taa, trcd, trp, tras, trc jedec.Picoseconds
	check                          maybe.Value[Check]
}

// profile believes a profile whose figures memory can have, and names the
// others.
func (im *image) profile(p rawProfile) {
	if p.tck < 150 || p.tck > 3000 || p.taa < 5*p.tck || p.taa > 40_000 || p.trcd <= 0 || p.trp <= 0 {
		im.note("%s holds figures that memory can't have (cycle %d ps, access %d ps); left out", p.name, p.tck, p.taa)
		return
	}
	exact := 2e6 / float64(p.tck)
	thirds := math.Round(exact * 3 / 100)
	rate := thirds * 100 / 3
	if math.Abs(rate-exact) > exact/150 {
		im.note("%s has a cycle of %d ps, which is no rate that is sold; left out", p.name, p.tck)
		return
	}
	if c, ok := p.check.Get(); ok && !c.OK() {
		im.note("%s: %v", p.name, c)
	}
	clocks := func(t jedec.Picoseconds) maybe.Value[int] {
		return maybe.If(im.Generation.Clocks(t, p.tck), t > 0)
	}
	cl := im.Generation.Clocks(p.taa, p.tck)
	if im.Generation == jedec.DDR5 {
		cl += cl % 2 // DDR5 has even CAS latencies only
	}
	im.Profiles = append(im.Profiles,
		Profile{Name: p.name, Rate: jedec.Rate(math.Floor(rate)), TCK: p.tck, CL: maybe.Just(jedec.Whole(cl)),
			TRCD: clocks(p.trcd), TRP: clocks(p.trp), TRAS: clocks(p.tras), TRC: clocks(p.trc),
			MilliVolts: maybe.If(p.milliVolts, p.milliVolts > 500), Check: p.check})
}
