package spd_test

import (
	"bytes"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"epitome/core/spd"
	"epitome/core/spd/compose"
)

func decode(t testing.TB, image []byte) spd.Module {
	t.Helper()
	m, err := spd.Decode(image)
	require.NoError(t, err)
	return m
}

func latencies(clocks ...float64) (list []jedec.Latency) {
	for _, c := range clocks {
		list = append(list, jedec.Latency(c*2))
	}
	return list
}

type ps = jedec.Picoseconds

// identity of the three oldest generations: bytes 64 to 98.
func oldIdentity(im compose.Image) compose.Image {
	return im.Put(64, 0x7F, 0x7F, 0x7F, 0x0B, 0, 0, 0, 0).Put(72, 3).Text(73, 18, "MR1U-256").Put(93, 0x04, 0x31).Put(95,
		0x0A, 0x11, 0xC3, 0xF0).Sum8()
}

func assertOldIdentity(t *testing.T, m spd.Module) {
	t.Helper()
	assert.Equal(t, jedec.MakerCode{Bank: 4, Code: 0x0B}, m.Maker)
	assert.Equal(t, "MR1U-256", m.Part)
	assert.Equal(t, "0A11C3F0", m.Serial)
	assert.Equal(t, maybe.Just(2004), m.Year)
	assert.Equal(t, maybe.Just(31), m.Week)
	assert.Equal(t, maybe.Just(byte(3)), m.Location)
	assert.Equal(t, "ok", m.Checksum())
}

// JESD21-C 4.1.2.5: a 256 MB PC133 module of 16 chips, 13 rows, 9 columns, 4
// banks: 128 Mbit chips x8, two ranks.
func TestSDR(t *testing.T) {
	m := decode(t, sdr())
	assert.Equal(t, jedec.SDR, m.Generation)
	assert.Equal(t, maybe.Just(256*jedec.MiB), m.Capacity)
	assert.Equal(t, maybe.Just(2), m.Ranks)
	assert.Equal(t, maybe.Just(8), m.Width)
	assert.Equal(t, maybe.Just(128), m.Density)
	assert.Equal(t, maybe.Just(64), m.DataWidth)
	assert.Equal(t, maybe.Just(0), m.CheckBits)
	assert.Equal(t, []int{3300}, m.MilliVolts)
	assert.Equal(t, maybe.Just(ps(7500)), m.TCK)
	assert.Equal(t, latencies(2, 3), m.Latencies)
	assert.Equal(t, maybe.Just(ps(20000)), m.TAA, "CL2 at 10 ns is shorter than CL3 at 7.5 ns")
	assert.Equal(t, []maybe.Value[ps]{maybe.Just(ps(20000)), maybe.Just(ps(20000)), maybe.Just(ps(45000))},
		[]maybe.Value[ps]{m.TRCD, m.TRP, m.TRAS})
	assert.Equal(t, jedec.Unbuffered, m.Kind)
	assert.Equal(t, jedec.FormUnknown, m.Form, "the image does not say whether it is a DIMM or a SO-DIMM")
	assert.Equal(t, "1.2", m.Revision)
	assert.Empty(t, m.Notes)
	assertOldIdentity(t, m)
	grade, ok := m.Grade()
	require.True(t, ok)
	assert.Equal(t, "PC133", grade.String())
}

// JESD21-C annex D: 512 MB DDR-333, 13 rows, 10 columns, 4 banks x8: 256 Mbit,
// two ranks, CL 2, 2.5.
func TestDDR(t *testing.T) {
	im := ddr()
	m := decode(t, im)
	assert.Equal(t, jedec.DDR, m.Generation)
	assert.Equal(t, maybe.Just(512*jedec.MiB), m.Capacity)
	assert.Equal(t, maybe.Just(256), m.Density)
	assert.Equal(t, []int{2500}, m.MilliVolts)
	assert.Equal(t, maybe.Just(ps(6000)), m.TCK)
	assert.Equal(t, latencies(2, 2.5), m.Latencies)
	assert.Equal(t, maybe.Just(ps(15000)), m.TAA)
	assert.Equal(t, maybe.Just(ps(18000)), m.TRCD)
	assert.Equal(t, maybe.Just(ps(18000)), m.TRP)
	assert.Equal(t, maybe.Just(ps(42000)), m.TRAS)
	assert.Equal(t, maybe.Just(ps(60000)), m.TRC)
	assert.Equal(t, maybe.Just(ps(72000)), m.TRFC)
	assert.Empty(t, m.Notes)
	assertOldIdentity(t, m)

	im.Put(21, 0x26).Put(11, 0x02).Put(6, 72).Sum8()
	m = decode(t, im)
	assert.Equal(t, jedec.RegisteredECC, m.Kind)
	assert.Equal(t, jedec.DIMM, m.Form)
	assert.Equal(t, maybe.Just(8), m.CheckBits)
	assert.Equal(t, maybe.Just(64), m.DataWidth, "72 lines with eight of them for checks")
	assert.Equal(t, maybe.Just(512*jedec.MiB), m.Capacity)
}

// JESD21-C annex J: 1 GB DDR2-667 SO-DIMM 5-5-5, 14 rows, 10 columns, 8 banks... of 512 Mbit x8.
func TestDDR2(t *testing.T) {
	im := ddr2()
	m := decode(t, im)
	assert.Equal(t, jedec.DDR2, m.Generation)
	assert.Equal(t, jedec.SODIMM, m.Form)
	assert.Equal(t, maybe.Just(jedec.GiB), m.Capacity)
	assert.Equal(t, maybe.Just(2), m.Ranks)
	assert.Equal(t, maybe.Just(512), m.Density)
	assert.Equal(t, []int{1800}, m.MilliVolts)
	assert.Equal(t, maybe.Just(ps(3000)), m.TCK)
	assert.Equal(t, latencies(3, 4, 5), m.Latencies)
	assert.Equal(t, maybe.Just(ps(15000)), m.TAA)
	assert.Equal(t, maybe.Just(ps(15000)), m.TRCD)
	assert.Equal(t, maybe.Just(ps(60500)), m.TRC, "60 ns and the fraction of code 3")
	assert.Equal(t, maybe.Just(ps(105500)), m.TRFC)
	assert.Equal(t, maybe.Just(30), m.HeightMM)
	assert.Empty(t, m.Notes)
	assertOldIdentity(t, m)
	odd := slices.Clone(im)
	m = decode(t, odd.Put(31, 0x01).Sum8())
	require.Len(t, m.Itself, 1, "a size byte that disagrees is a contradiction, with both figures")
	assert.Contains(t, m.Itself[0], "byte 31 states ranks of 1 GB (0x01), rows, columns and banks make 512 MB")
	assert.True(t, m.SizeDisputed)
	one, err := module.FromImage("x", odd)
	require.NoError(t, err)
	assert.Equal(t, fact.Disputed, one.Capacity.Standing(), "neither is certain")
	im.Put(40, 0x07).Sum8()
	assert.Equal(t, maybe.Just(ps(256_000+105_500)), decode(t, im).TRFC, "bit 0 of byte 40 adds 256 ns")
}

var maker = compose.Identity{Maker: jedec.MakerCode{Bank: 2, Code: 0x18},
	ChipMaker: jedec.MakerCode{Bank: 1, Code: 0x4E}, Part: "MR3S-4G16-11", Serial: "4F21A09C", Year: 0x13, Week: 0x27}

// JESD21-C annex K: 4 GB DDR3L-1600 SO-DIMM, one rank of 4 Gbit x8.
func TestDDR3(t *testing.T) {
	im := ddr3()
	m := decode(t, im)
	assert.Equal(t, jedec.DDR3, m.Generation)
	assert.Equal(t, jedec.SODIMM, m.Form)
	assert.Equal(t, jedec.Unbuffered, m.Kind)
	assert.Equal(t, maybe.Just(4*jedec.GiB), m.Capacity)
	assert.Equal(t, maybe.Just(4096), m.Density)
	assert.Equal(t, maybe.Just(8), m.Width)
	assert.Equal(t, []int{1500, 1350}, m.MilliVolts)
	assert.Equal(t, maybe.Just(ps(1250)), m.TCK)
	assert.Equal(t, maybe.Just(ps(13125)), m.TAA)
	assert.Equal(t, maybe.Just(ps(35000)), m.TRAS)
	assert.Equal(t, maybe.Just(ps(48125)), m.TRC)
	assert.Equal(t, maybe.Just(ps(160000)), m.TRFC)
	assert.Equal(t, latencies(5, 6, 7, 8, 9, 10, 11), m.Latencies)
	assert.Equal(t, maybe.Just(30), m.HeightMM)
	assert.Equal(t, maybe.Just(false), m.Thermal)
	assert.Equal(t, maker.Maker, m.Maker)
	assert.Equal(t, maker.ChipMaker, m.ChipMaker)
	assert.Equal(t, []string{"MR3S-4G16-11", "4F21A09C", "1.3", "ok"},
		[]string{m.Part, m.Serial, m.Revision, m.Checksum()})
	assert.Equal(t, maybe.Just(2013), m.Year)
	assert.Empty(t, m.Notes)

	// Fine offsets are signed: 1.071 ns is 9 eighths less 54 ps.
	im = compose.DDR3{Type: 2, DensityCode: 3, Ranks: 2, WidthCode: 1, TCK: 1071, TAA: 13910, TRCD: 13910, TRP: 13910,
		TRAS: 34000, TRC: 47910, FirstCL: 6, LastCL: 13, Identity: maker}.Bytes()
	assert.Equal(t, []byte{9, 0xCA}, []byte{im[12], im[34]})
	m = decode(t, im)
	assert.Equal(t, maybe.Just(ps(1071)), m.TCK)
	assert.Equal(t, maybe.Just(ps(13910)), m.TAA)
	grade, _ := m.Grade()
	assert.Equal(t, "DDR3-1866", grade.String())
	assert.Equal(t, []int{1500}, m.MilliVolts, "bit 0 clear means operable at 1.5 V")
	im[6] = 0x03
	assert.Equal(t, []int{1350}, decode(t, im).MilliVolts, "bit 0 set means not")
}

func ddr4() compose.DDR4 {
	return compose.DDR4{Type: 3, DensityCode: 5, Ranks: 1, WidthCode: 1, TCK: 833, TAA: 13750, TRCD: 13750, TRP: 13750,
		TRAS: 32000, TRC: 45750,
		FirstCL: 10, LastCL: 18, Height: 30, Identity: maker}
}

// JESD21-C annex L: 8 GB DDR4-2400 SO-DIMM, one rank of 8 Gbit x8.
func TestDDR4(t *testing.T) {
	m := decode(t, ddr4().Bytes())
	assert.Equal(t, jedec.DDR4, m.Generation)
	assert.Equal(t, jedec.SODIMM, m.Form)
	assert.Equal(t, maybe.Just(8*jedec.GiB), m.Capacity)
	assert.Equal(t, maybe.Just(8192), m.Density)
	assert.Equal(t, maybe.Just(ps(833)), m.TCK)
	assert.Equal(t, maybe.Just(ps(13750)), m.TAA)
	assert.Equal(t, maybe.Just(ps(13750)), m.TRCD)
	assert.Equal(t, maybe.Just(ps(13750)), m.TRP)
	assert.Equal(t, maybe.Just(ps(32000)), m.TRAS)
	assert.Equal(t, maybe.Just(ps(45750)), m.TRC)
	assert.Equal(t, maybe.Just(ps(350000)), m.TRFC)
	assert.Equal(t, latencies(10, 11, 12, 13, 14, 15, 16, 17, 18), m.Latencies)
	assert.Equal(t, []int{1200}, m.MilliVolts)
	assert.Equal(t, maybe.Just(true), m.Thermal)
	assert.Equal(t, maybe.Just(30), m.HeightMM)
	assert.Equal(t, maker.Maker, m.Maker)
	assert.Equal(t, []string{"MR3S-4G16-11", "4F21A09C", "ok"}, []string{m.Part, m.Serial, m.Checksum()})
	grade, _ := m.Grade()
	assert.Equal(t, "DDR4-2400", grade.String())
	assert.Empty(t, m.Profiles)
	assert.Empty(t, m.Notes)
}

func TestDDR4StackedECCAndAsymmetric(t *testing.T) {
	d := ddr4()
	d.Type, d.ECC, d.WidthCode, d.Ranks = 1, true, 0, 2
	im := d.Bytes()
	im[6] = 0x80 | 3<<4 | 2 // four dies in a 3DS stack
	m := decode(t, im)
	assert.Equal(t, jedec.RegisteredECC, m.Kind)
	assert.Equal(t, maybe.Just(8), m.CheckBits)
	assert.True(t, m.Stacked)
	assert.Equal(t, maybe.Just(128*jedec.GiB), m.Capacity, "8 Gbit x4, two package ranks of 16 GB, four dies high")
	assert.Equal(t, "bad", m.Checksum(), "the byte was changed after the CRC: reported, not hidden")
	assert.Contains(t, m.Checks[0].String(), "bytes 0 to 125: bad")

	im = ddr4().Bytes()
	im[12] |= 0x40
	m = decode(t, im)
	assert.True(t, m.Asymmetric)
	assert.False(t, m.Capacity.Known(), "one rank can't differ from itself")
	for code, want := range map[byte]jedec.Capacity{0: 16 * jedec.GiB, 1 << 2: 12 * jedec.GiB, 2 << 2: 10 * jedec.GiB} {
		two := ddr4()
		two.Ranks = 2
		im = two.Bytes()
		im[12] |= 0x40
		im[10] = code // the second rank's chips are as dense, half, a quarter
		assert.Equal(t, maybe.Just(want), decode(t, im).Capacity, "unlike ranks are added up")
		im[10] = 3 << 2
		assert.False(t, decode(t, im).Capacity.Known(), "a reserved code")
	}
	wide := ddr5()
	wide[234] |= 0x40 | 1<<3 // two ranks, which differ
	wide[8] = wide[4]&^0x1F | 2
	m = decode(t, wide)
	assert.True(t, m.Asymmetric)
	first := jedec.Capacity(m.Density.Or(0)) * jedec.MiB / 8 * jedec.Capacity(m.DataWidth.Or(0)/m.Width.Or(1))
	second := 8 * jedec.GiB / 8 * jedec.Capacity(m.DataWidth.Or(0)/m.Width.Or(1))
	assert.Equal(t, first+second, m.Capacity.Or(0), "chips of 8 Gbit on the second rank")

	im = ddr4().Bytes()
	copy(im[20:], []byte{0x03, 0, 0, 0x80})
	assert.Equal(t, latencies(23, 24), decode(t, im).Latencies, "bit 31 moves the range up to CL 23")
}

func TestDDR4Profile(t *testing.T) {
	d := ddr4()
	d.ProfileTCK, d.ProfileCL, d.ProfileRCD, d.ProfileRAS, d.ProfileMilliVolts = 556, 18, 22, 42, 1350
	m := decode(t, d.Bytes())
	require.Len(t, m.Profiles, 1)
	p := m.Profiles[0]
	assert.Equal(t, jedec.Rate(3600), p.Rate)
	assert.Equal(t, maybe.Just(jedec.Whole(18)), p.CL)
	assert.Equal(t, []maybe.Value[int]{maybe.Just(22), maybe.Just(22), maybe.Just(42), maybe.Just(1350)},
		[]maybe.Value[int]{p.TRCD, p.TRP, p.TRAS, p.MilliVolts})
	assert.Equal(t, maybe.Just(ps(833)), m.TCK, "the standard timings stay apart")
	d.ProfileTCK = 1900
	d.ProfileCL = 40
	m = decode(t, d.Bytes())
	assert.Empty(t, m.Profiles)
	assert.Contains(t, m.Notes[0], "left out")
}

// JESD400-5: 16 GB DDR5-4800 SO-DIMM, one rank of 16 Gbit x8 in each half.
func ddr5() compose.Image {
	im := make(compose.Image, 1024)
	im.Put(0, 0x30, 0x10, 0x12, 0x03, 0x04, 0x00, 0x20, 0x62).Word(20, 416).Word(22, 1010).Put(24, 0x7A, 0x2D)
	im.Word(30, 16000).Word(32, 16000).Word(34, 16000).Word(36, 32000).Word(38, 48000).Word(42, 295)
	im.Put(230, 0x0F).Put(233, 0x80, 0x00, 0x22).CRC(0, 509, 510)
	return im.Put(512, 0x01, 0x98, 7, 0x22, 0x50).Serial(517, "00C0FFEE").Text(521, 30, "MR5S-16G48-40").Put(552, 0x80,
		0xCE)
}

func TestDDR5(t *testing.T) {
	m := decode(t, ddr5())
	assert.Equal(t, jedec.DDR5, m.Generation)
	assert.Equal(t, jedec.SODIMM, m.Form)
	assert.Equal(t, jedec.Unbuffered, m.Kind)
	assert.Equal(t, maybe.Just(16*jedec.GiB), m.Capacity)
	assert.Equal(t, maybe.Just(16384), m.Density)
	assert.Equal(t, maybe.Just(2), m.SubBuses)
	assert.Equal(t, maybe.Just(64), m.DataWidth)
	assert.Equal(t, maybe.Just(0), m.CheckBits)
	assert.Equal(t, maybe.Just(1), m.Ranks)
	assert.Equal(t, []int{1100}, m.MilliVolts)
	assert.Equal(t, []maybe.Value[ps]{maybe.Just(ps(416)), maybe.Just(ps(16000)), maybe.Just(ps(16000)),
		maybe.Just(ps(16000)), maybe.Just(ps(32000)), maybe.Just(ps(48000)), maybe.Just(ps(295000))},
		[]maybe.Value[ps]{m.TCK, m.TAA, m.TRCD, m.TRP, m.TRAS, m.TRC, m.TRFC})
	assert.Equal(t, latencies(22, 26, 28, 30, 32, 36, 40, 42, 46), m.Latencies)
	assert.Equal(t, maybe.Just(30), m.HeightMM)
	assert.Equal(t, []string{"MR5S-16G48-40", "00C0FFEE", "1.0", "ok"},
		[]string{m.Part, m.Serial, m.Revision, m.Checksum()})
	assert.Equal(t, maybe.Just(2022), m.Year)
	assert.Empty(t, m.Notes)
	grade, _ := m.Grade()
	assert.Equal(t, "DDR5-4800", grade.String())

	im := ddr5()
	im[4], im[3], im[235] = 0x05, 0x05, 0x2A
	m = decode(t, im)
	assert.Equal(t, maybe.Just(24*jedec.GiB), m.Capacity, "24 Gbit dies")
	assert.Equal(t, jedec.ClockedECC, m.Kind, "a clock driver, and four check bits a half")
	assert.Equal(t, maybe.Just(8), m.CheckBits)
	im[3] = 0x08
	assert.Equal(t, jedec.CAMM2, decode(t, im).Form)
}

// A hub whose page register may not be written answers with its first page alone, or with
// it over and over: what stands there is read, and nothing is called damaged.
func TestALockedHubIsNotDamaged(t *testing.T) {
	whole := ddr5()
	page := whole[:128]
	for name, data := range map[string][]byte{"one page": page, "over and over": bytes.Repeat(page, 8),
		"twice": bytes.Repeat(page, 2)} {
		m, err := spd.Decode(data)
		require.NoError(t, err, name)
		assert.True(t, m.Locked, name)
		assert.Equal(t, jedec.DDR5, m.Generation, name)
		assert.Equal(t, maybe.Just(16384), m.Density, name)
		assert.False(t, m.Capacity.Known(), name)
		assert.Equal(t, "none", m.Checksum(), name)
		assert.Contains(t, m.Notes[0], "locked, not damaged", name)
		grade, ok := m.Grade()
		assert.True(t, ok, name)
		assert.Equal(t, "DDR5-4800", grade.String(), name)
	}
	assert.False(t, decode(t, whole).Locked)
	_, err := spd.Decode(page[:100])
	assert.ErrorIs(t, err, spd.ErrDamaged, "a page that is cut short")
}

func TestDDR5ProfilesOfBothKinds(t *testing.T) {
	im := ddr5()
	im.Put(640, 0x0C, 0x4A, 0x30, 0x01)
	im.Put(704+1, 0x27).Word(704+5, 333).Word(704+13, 12000).Word(704+15, 12667).Word(704+17, 12667).Word(704+19,
		25333).Word(704+21, 38000).CRC(704, 765, 766)
	im.Put(832, 'E', 'X', 'P', 'O', 0x10, 0x01).Put(842, 0x26).Word(846, 357).Word(848, 12857).Word(850, 12857).Word(852,
		12857).Word(854, 28571).Word(856, 41428).CRC(832, 957, 958)
	m := decode(t, im)
	require.Len(t, m.Profiles, 2)
	assert.Equal(t, jedec.Rate(6000), m.Profiles[0].Rate)
	assert.Equal(t, maybe.Just(jedec.Whole(36)), m.Profiles[0].CL)
	assert.Equal(t, maybe.Just(1350), m.Profiles[0].MilliVolts)
	assert.Equal(t, "EXPO profile 1", m.Profiles[1].Name)
	assert.Equal(t, jedec.Rate(5600), m.Profiles[1].Rate)
	assert.Equal(t, maybe.Just(jedec.Whole(36)), m.Profiles[1].CL)
	assert.Equal(t, maybe.Just(1300), m.Profiles[1].MilliVolts)
	assert.Empty(t, m.Notes)
	im.Put(837, 0x11).Put(882, 0x26).Word(886, 400).Word(888, 16000).Word(890, 16000).Word(892, 16000)
	names := func(image []byte) (list []string) {
		for _, p := range decode(t, image).Profiles {
			list = append(list, p.Name)
		}
		return list
	}
	assert.Equal(t, []string{"XMP 3 profile 1", "EXPO profile 1", "EXPO profile 2"}, names(im[:922]), "as far as it goes")
	assert.Equal(t, []string{"XMP 3 profile 1", "EXPO profile 1"}, names(im[:921]), "the second one is cut short")
	assert.Equal(t, []string{"XMP 3 profile 1"}, names(im[:881]))
	im[710] = 0x77
	assert.Contains(t, decode(t, im).Notes[0], "left out")
}

// JESD21-C annex M: the low-power kinds.
func TestLowPower(t *testing.T) {
	im := lowPower()
	m := decode(t, im)
	assert.Equal(t, jedec.LPDDR3, m.Generation)
	assert.Equal(t, jedec.Soldered, m.Form)
	assert.Equal(t, maybe.Just(ps(1250)), m.TCK)
	assert.Equal(t, maybe.Just(ps(15000)), m.TAA)
	assert.Equal(t, maybe.Just(ps(18000)), m.TRCD)
	assert.Equal(t, maybe.Just(ps(21000)), m.TRP)
	assert.Equal(t, maybe.Just(2), m.Dies)
	assert.Equal(t, maybe.Just(2), m.SubBuses)
	assert.Equal(t, maybe.Just(2*jedec.GiB), m.Capacity, "4 Gbit x32 on 2 x 64 lines")
	assert.Equal(t, "LG3-4G", m.Part)
	assert.Equal(t, "ok", m.Checksum())
	for code, g := range map[byte]jedec.Generation{0x10: jedec.LPDDR4, 0x11: jedec.LPDDR4X, 0x13: jedec.LPDDR5,
		0x15: jedec.LPDDR5X} {
		im[2] = code
		m = decode(t, im)
		assert.Equal(t, g, m.Generation)
		assert.False(t, m.Capacity.Known(), "left open, and said so")
		assert.NotEmpty(t, m.Notes)
	}
}

func TestWhatIsNoImage(t *testing.T) {
	zeros, ones := make([]byte, 256), make([]byte, 512)
	for i := range ones {
		ones[i] = 0xFF
	}
	wrongType := ddr4().Bytes()
	wrongType[2] = 0x77
	buffered := ddr4().Bytes()
	buffered[2] = 0x0A
	for name, c := range map[string]struct {
		image []byte
		kind  error
		says  string
	}{
		"nothing":        {nil, spd.ErrDamaged, "byte 0, memory type: expected 3 bytes or more"},
		"zeros":          {zeros, spd.ErrDamaged, "0x00 throughout"},
		"ones":           {ones, spd.ErrDamaged, "0xFF throughout"},
		"unknown type":   {wrongType, spd.ErrDamaged, "byte 2, memory type: expected a known type code, found 0x77"},
		"fully buffered": {buffered, spd.ErrUnsupported, "DDR2 fully buffered, probe"},
		"too long":       {make([]byte, 4096), spd.ErrDamaged, "at most 1024 bytes"},
		"too short":      {ddr4().Bytes()[:100], spd.ErrDamaged, "at least 256 bytes of a DDR4 module"},
	} {
		_, err := spd.Decode(c.image)
		require.ErrorIs(t, err, c.kind, name)
		assert.Contains(t, err.Error(), c.says, name)
	}
}

func TestAnImageCutShortIsDecodedAsFarAsItGoes(t *testing.T) {
	m := decode(t, ddr4().Bytes()[:256])
	assert.Equal(t, maybe.Just(8*jedec.GiB), m.Capacity)
	assert.Equal(t, "", m.Part)
	assert.Contains(t, m.Notes[0], "ends before maker, part and serial number (to byte 351)")
	m = decode(t, ddr5()[:512])
	assert.Equal(t, maybe.Just(16*jedec.GiB), m.Capacity)
	assert.Contains(t, m.Notes[0], "ends before maker")
}

// Three strings of zeros and ones are no serial number and no maker.
func TestBlankIdentity(t *testing.T) {
	d := ddr4()
	im := compose.Image(d.Bytes())
	im.Put(320, 0, 0, 0, 0, 0, 0, 0, 0, 0).Put(350, 0xFF, 0xFF)
	im.Put(329, make([]byte, 20)...)
	m := decode(t, im)
	assert.False(t, m.Maker.Known())
	assert.False(t, m.ChipMaker.Known())
	assert.Equal(t, "", m.Serial)
	assert.Equal(t, "", m.Part)
	assert.False(t, m.Year.Known())
	im.Put(323, 0x2A, 0x99)
	assert.Contains(t, decode(t, im).Notes[0], "no date")
	im.Put(329, 0x1B, '[', '3', '1', 'm')
	assert.Equal(t, "[31m", decode(t, im).Part, "control characters never come through")
}

// The CRC against the standard's own bit-by-bit form, at every length.
func TestCRC16AgainstTheStandardsForm(t *testing.T) {
	data := ddr4().Bytes()
	for n := range data {
		var crc uint16
		for _, b := range data[:n] {
			crc ^= uint16(b) << 8
			for range 8 {
				if crc&0x8000 != 0 {
					crc = crc<<1 ^ 0x1021
				} else {
					crc <<= 1
				}
			}
		}
		require.Equal(t, crc, spd.CRC16(data[:n]), "%d bytes", n)
	}
}

func FuzzDecode(f *testing.F) {
	f.Add(ddr4().Bytes())
	f.Add([]byte(ddr5()))
	f.Add(compose.DDR3{Type: 3, DensityCode: 4, Ranks: 1, WidthCode: 1, TCK: 1250, TAA: 13125, TRCD: 13125, TRP: 13125,
		FirstCL: 5, LastCL: 11, Identity: maker}.Bytes())
	for _, code := range []byte{0x04, 0x07, 0x08, 0x0F, 0x11, 0x13} {
		im := make(compose.Image, 512)
		f.Add([]byte(im.Put(0, 128, 8, code, 13, 10, 0x61, 64, 0, 5, 0x30)))
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		m, err := spd.Decode(data)
		if err != nil {
			return
		}
		require.NotEqual(t, jedec.GenerationUnknown, m.Generation)
		if size, ok := m.Capacity.Get(); ok {
			require.LessOrEqual(t, size, 16*jedec.TiB)
			require.NotZero(t, size)
		}
		for _, r := range m.Part + m.Serial {
			require.GreaterOrEqual(t, r, ' ')
		}
		m.Grade()
	})
}

func BenchmarkDecode512(b *testing.B) {
	image := ddr4().Bytes()
	b.ReportAllocs()
	for b.Loop() {
		if _, err := spd.Decode(image); err != nil {
			b.Fatal(err)
		}
	}
}

// A fully buffered module says what it is and who made it; its size and times are left to its label.
func TestAFullyBufferedModule(t *testing.T) {
	image := make(compose.Image, 256)
	image.Put(0, 0x92, 0x11, 0x09).Put(117, 0x80, 0xCE, 1, 0x08, 0x30).Serial(122, "01020304").CRC(0, 116, 126).
		Text(128, 18, "QF2-2G667")
	m := decode(t, image)
	assert.Equal(t, [3]any{jedec.DDR2, jedec.FBDIMM, jedec.FullyBuffered}, [3]any{m.Generation, m.Form, m.Kind})
	assert.Equal(t, "QF2-2G667", m.Part)
	assert.Equal(t, "01020304", m.Serial)
	assert.Equal(t, maybe.Just(2008), m.Year)
	assert.Equal(t, maybe.Just(8), m.CheckBits)
	assert.False(t, m.Capacity.Known())
	assert.False(t, m.TAA.Known())
	require.Len(t, m.Checks, 1)
	assert.True(t, m.Checks[0].OK())
	assert.Contains(t, m.Notes[0], "its label has them")
	image[50] ^= 1
	assert.False(t, decode(t, image).Checks[0].OK(), "a damaged one is said")
}

// A part number that is nothing but blanks is none.
func TestABlankPartNumberIsNone(t *testing.T) {
	for name, c := range map[string]struct {
		base   compose.Image
		at, of int
	}{"DDR2": {ddr2(), 73, 18}, "DDR3": {ddr3(), 128, 18}, "DDR5": {ddr5(), 521, 30}} {
		for _, fill := range []byte{' ', 0, 0xFF} {
			im := slices.Clone(c.base)
			for i := range c.of {
				im[c.at+i] = fill
			}
			assert.Empty(t, decode(t, im).Part, "%s, filled with 0x%02X", name, fill)
		}
	}
}
