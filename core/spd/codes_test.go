package spd_test

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/spd"
	"epitome/core/spd/compose"
)

// One image of each layout, as TestSDR and its sisters read them.

func sdr() compose.Image {
	im := make(compose.Image, 128)
	return oldIdentity(im.Put(0, 128, 8, 0x04, 12, 10, 2, 64, 0, 1, 0x75, 0x54, 0, 0x80, 8, 0, 1, 0x0F, 4, 0x06).
		Put(21, 0x00, 0x0E, 0xA0, 0x60, 0, 0, 20, 15, 20, 45, 0x20).Put(62, 0x12))
}

func ddr() compose.Image {
	im := make(compose.Image, 128)
	return oldIdentity(im.Put(0, 128, 8, 0x07, 13, 10, 2, 64, 0, 4, 0x60, 0x70, 0, 0x82, 8, 0, 1, 0x0E, 4, 0x0C).
		Put(21, 0x20, 0xC1, 0x75, 0x70, 0, 0, 72, 48, 72, 42, 0x40).Put(41, 60, 72).Put(62, 0x10))
}

func ddr2() compose.Image {
	im := make(compose.Image, 256)
	return oldIdentity(im.Put(0, 128, 8, 0x08, 14, 10, 0x61, 64, 0, 5, 0x30, 0x45, 0, 0x82, 8, 0, 0, 0x0C, 4, 0x38).
		Put(20, 0x04, 0, 3, 0x3D, 0x50, 0x50, 0x60, 60, 30, 60, 45, 0x80).Put(40, 0x36, 60, 105).Put(62, 0x13))
}

func ddr3() compose.Image {
	return compose.DDR3{Type: 3, DensityCode: 4, Ranks: 1, WidthCode: 1, VoltageBits: 0x02, TCK: 1250, TAA: 13125,
		TRCD: 13125, TRP: 13125, TRAS: 35000, TRC: 48125, FirstCL: 5, LastCL: 11, Identity: maker}.Bytes()
}

func lowPower() compose.Image {
	im := make(compose.Image, 512)
	im.Put(0, 0x23, 0x10, 0x0F, 0x0E, 0x04, 0x1B).Put(6, 0x90).Put(12, 0x03, 0x23).Put(18, 0x0A, 0xFF).
		Put(24, 0x78, 0, 0x90, 0xA8).Word(29, 1040).CRC(0, 125, 126)
	return im.Put(320, 0x80, 0xCE, 1, 0x15, 0x10).Serial(325, "01020304").Text(329, 20, "LG3-4G")
}

// as writes a value for a table: "-" where it is not known.
func as[T any](v maybe.Value[T]) string {
	if x, ok := v.Get(); ok {
		return fmt.Sprint(x)
	}
	return "-"
}

func front(m spd.Module) string { return fmt.Sprint(m.Thickness.Or(jedec.Thickness{}).Front) }
func back(m spd.Module) string  { return fmt.Sprint(m.Thickness.Or(jedec.Thickness{}).Back) }

func kind(m spd.Module) string {
	if m.Kind == jedec.KindUnknown {
		return "-"
	}
	short := map[jedec.Kind]string{jedec.Unbuffered: "UDIMM", jedec.UnbufferedECC: "ECC_UDIMM",
		jedec.RegisteredECC: "RDIMM", jedec.LoadReduced: "LRDIMM", jedec.Multiplexed: "MRDIMM", jedec.Clocked: "CUDIMM",
		jedec.ClockedECC: "ECC_CUDIMM"}
	form := m.Form.String()
	if m.Form == jedec.FormUnknown {
		form = "?"
	}
	return form + "/" + short[m.Kind]
}

// Every code of every coded field, against the tables of JESD21-C (4.1.2.5, annexes D, J, K, L
// and M) and JESD400-5: what each stands for, and "-" where the standard reserves it.
func TestWhatEachCodeStandsFor(t *testing.T) {
	density := func(m spd.Module) string { return as(m.Density) }
	ranks := func(m spd.Module) string { return as(m.Ranks) }
	width := func(m spd.Module) string { return as(m.Width) }
	bus := func(m spd.Module) string { return as(m.DataWidth) }
	check := func(m spd.Module) string { return as(m.CheckBits) }
	dies := func(m spd.Module) string { return as(m.Dies) }
	supply := func(m spd.Module) string {
		if len(m.MilliVolts) == 0 {
			return "-"
		}
		return strings.ReplaceAll(strings.Trim(fmt.Sprint(m.MilliVolts), "[]"), " ", "/")
	}
	other := ""
	for code := 3; code < 16; code++ {
		other += fmt.Sprintf(" type_%d", code)
	}
	in := func(v maybe.Value[ps]) string { return strconv.Itoa(int(v.Or(-1))) } // ps
	for _, c := range []struct {
		field     string
		base      compose.Image
		byte      int
		low, bits int // the field's lowest bit, and how many it has
		of        func(spd.Module) string
		want      string // of the codes 0, 1, 2…; the rest are reserved
	}{
		{"DDR4 density", ddr4().Bytes(), 4, 0, 4, density, "256 512 1024 2048 4096 8192 16384 32768 12288 24576"},
		{"DDR4 module type", ddr4().Bytes(), 3, 0, 4, kind, "- DIMM/RDIMM DIMM/UDIMM SO-DIMM/UDIMM DIMM/LRDIMM " +
			"Mini-DIMM/RDIMM Mini-DIMM/UDIMM - SO-DIMM/RDIMM SO-DIMM/ECC_UDIMM - - SO-DIMM/UDIMM SO-DIMM/UDIMM"},
		{"DDR4 ranks", ddr4().Bytes(), 12, 3, 3, ranks, "1 2 3 4 5 6 7 8"},
		{"DDR4 chip width", ddr4().Bytes(), 12, 0, 3, width, "4 8 16 32"},
		{"DDR4 bus", ddr4().Bytes(), 13, 0, 3, bus, "8 16 32 64"},
		{"DDR4 check bits", ddr4().Bytes(), 13, 3, 2, check, "0 8"},
		{"DDR4 dies", ddr4().Bytes(), 6, 4, 3, dies, "1 2 3 4 5 6 7 8"},
		{"DDR4 1.2 V", ddr4().Bytes(), 11, 0, 1, supply, "- 1200"},
		{"DDR4 sensor", ddr4().Bytes(), 14, 7, 1, func(m spd.Module) string { return as(m.Thermal) }, "false true"},
		{"DDR4 height", ddr4().Bytes(), 128, 0, 5, func(m spd.Module) string { return as(m.HeightMM) },
			"15 16 17 18 19 20 21 22 23 24 25 26 27 28 29 30 31 32 33 34 35 36 37 38 39 40 41 42 43 44 45 46"},
		{"DDR3 density", ddr3(), 4, 0, 4, density, "256 512 1024 2048 4096 8192 16384"},
		{"DDR3 module type", ddr3(), 3, 0, 4, kind, "- DIMM/RDIMM DIMM/UDIMM SO-DIMM/UDIMM Micro-DIMM/UDIMM " +
			"Mini-DIMM/RDIMM Mini-DIMM/UDIMM - SO-DIMM/ECC_UDIMM SO-DIMM/RDIMM SO-DIMM/ECC_CUDIMM DIMM/LRDIMM " +
			"SO-DIMM/UDIMM SO-DIMM/UDIMM"},
		{"DDR3 ranks", ddr3(), 7, 3, 3, ranks, "1 2 3 4"},
		{"DDR3 chip width", ddr3(), 7, 0, 3, width, "4 8 16 32"},
		{"DDR3 bus", ddr3(), 8, 0, 3, bus, "8 16 32 64"},
		{"DDR3 check bits", ddr3(), 8, 3, 2, check, "0 8"},
		{"DDR3 supplies", ddr3(), 6, 0, 3, supply, "1500 - 1500/1350 1350 1500/1250 1250 1500/1350/1250 1350/1250"},
		{"DDR3 sensor", ddr3(), 32, 7, 1, func(m spd.Module) string { return as(m.Thermal) }, "false true"},
		{"DDR5 density", ddr5(), 4, 0, 5, density, "- 4096 8192 12288 16384 24576 32768 49152 65536"},
		{"DDR5 dies", ddr5(), 4, 5, 3, dies, "1 2 2 4 8 16"},
		{"DDR5 module type", ddr5(), 3, 0, 4, kind, "- DIMM/RDIMM DIMM/UDIMM SO-DIMM/UDIMM DIMM/LRDIMM DIMM/CUDIMM " +
			"SO-DIMM/CUDIMM DIMM/MRDIMM CAMM2/UDIMM - - soldered/UDIMM"},
		{"DDR5 regulator", ddr5().Put(200, 0x80), 200, 0, 4, func(m spd.Module) string {
			return strings.ReplaceAll(strings.TrimPrefix(m.PMIC, "a PMIC of "), " ", "_")
		},
			"PMIC5000 PMIC5010 PMIC5100" + other},
		{"DDR5 sensors", ddr5(), 212, 6, 2, func(m spd.Module) string { return as(m.Thermal) }, "false true true true"},
		{"DDR5 hub with a sensor", ddr5(), 196, 7, 1, func(m spd.Module) string { return as(m.Thermal) }, "false true"},
		{"DDR5 thickness in front", ddr5(), 231, 0, 4, front, "1 2 3 4 5 6 7 8 9 10 11 12 13 14 15 16"},
		{"DDR5 thickness behind", ddr5(), 231, 4, 4, back, "1 2 3 4 5 6 7 8 9 10 11 12 13 14 15 16"},
		{"DDR4 thickness behind", ddr4().Bytes(), 129, 4, 4, back, "1 2 3 4 5 6 7 8 9 10 11 12 13 14 15 16"},
		{"DDR3 thickness in front", ddr3(), 61, 0, 4, front, "1 2 3 4 5 6 7 8 9 10 11 12 13 14 15 16"},
		{"DDR5 chip width", ddr5(), 6, 5, 3, width, "4 8 16 32"},
		{"DDR5 ranks", ddr5(), 234, 3, 3, ranks, "1 2 3 4 5 6 7 8"},
		{"DDR5 bus of a half", ddr5(), 235, 0, 3, bus, "16 32 64 128"},
		{"DDR5 check bits of a half", ddr5(), 235, 3, 2, check, "0 8 16"},
		{"DDR5 halves", ddr5(), 235, 5, 3, func(m spd.Module) string { return as(m.SubBuses) }, "1 2 4 8"},
		{"DDR5 1.1 V", ddr5(), 16, 4, 1, supply, "1100"},
		{"DDR2 module type", ddr2(), 20, 0, 8, kind, "- DIMM/RDIMM DIMM/UDIMM - SO-DIMM/UDIMM - SO-DIMM/ECC_CUDIMM " +
			"SO-DIMM/RDIMM Micro-DIMM/UDIMM - - - - - - - Mini-DIMM/RDIMM" + strings.Repeat(" -", 15) + " Mini-DIMM/UDIMM"},
		{"DDR2 ranks", ddr2(), 5, 0, 3, ranks, "1 2 3 4 5 6 7 8"},
		{"DDR2 height", ddr2(), 5, 5, 3, func(m spd.Module) string { return as(m.HeightMM) }, "25 26 30 30 31"},
		{"DDR2 supply", ddr2(), 8, 0, 3, supply, "- - - - - 1800"},
		{"DDR2 tRC fraction", ddr2(), 40, 4, 3, func(m spd.Module) string { return in(m.TRC) },
			"60000 60250 60333 60500 60667 60750 60000 60000"},
		{"DDR2 tRFC fraction", ddr2(), 40, 1, 3, func(m spd.Module) string { return in(m.TRFC) },
			"105000 105250 105333 105500 105667 105750 105000 105000"},
		{"DDR2 tRFC beyond a byte", ddr2(), 40, 0, 1, func(m spd.Module) string { return in(m.TRFC) }, "105500 361500"},
		{"DDR supply", ddr(), 8, 0, 3, supply, "- - - - 2500"},
		{"DDR registered", ddr(), 21, 1, 1, kind, "?/UDIMM DIMM/RDIMM"},
		{"DDR check bits", ddr(), 11, 1, 1, check, "0 8"},
		{"DDR cycle, the low half", ddr(), 9, 0, 4, func(m spd.Module) string { return in(m.TCK) },
			"6000 6100 6200 6300 6400 6500 6600 6700 6800 6900 6250 6333 6667 6750 6000 6000"},
		{"SDR supply", sdr(), 8, 0, 3, supply, "- 3300"},
		{"LPDDR3 density", lowPower(), 4, 0, 4, density,
			"256 512 1024 2048 4096 8192 16384 32768 12288 24576 3072 6144 18432"},
		{"LPDDR3 ranks", lowPower(), 12, 3, 3, ranks, "1 2 3 4 5 6 7 8"},
		{"LPDDR3 chip width", lowPower(), 12, 0, 3, width, "4 8 16 32 64"},
		{"LPDDR3 channels", lowPower(), 13, 5, 3, func(m spd.Module) string { return as(m.SubBuses) }, "1 2 3 4 - 8"},
		{"LPDDR3 bus of a channel", lowPower(), 13, 0, 3, bus, "16 32 64 128"},
		{"LPDDR3 check bits", lowPower(), 13, 3, 2, check, "0"},
		{"LPDDR3 dies", lowPower(), 6, 4, 3, dies, "1 2 3 4 5 6 7 8"},
	} {
		want := strings.Fields(c.want)
		for code := range 1 << c.bits {
			im := slices.Clone(c.base)
			im[c.byte] = im[c.byte]&^(byte(1<<c.bits-1)<<c.low) | byte(code)<<c.low
			expected := "-"
			if code < len(want) {
				expected = want[code]
			}
			assert.Equal(t, expected, c.of(decode(t, im)), "%s, code %d", c.field, code)
		}
	}
}

// Each bit of the latencies is one latency, and none is another's.
func TestEachLatencyHasItsBit(t *testing.T) {
	for name, c := range map[string]struct {
		base   compose.Image
		at     int
		from   float64
		step   float64
		bits   int
		unused int // bits that mean nothing
	}{
		"SDR":  {sdr(), 18, 1, 1, 7, 1},
		"DDR":  {ddr(), 18, 1, 0.5, 7, 1},
		"DDR3": {ddr3(), 14, 4, 1, 15, 1},
		"DDR4": {ddr4().Bytes(), 20, 7, 1, 30, 1},
		"DDR5": {ddr5(), 24, 20, 2, 40, 0},
	} {
		for bit := range c.bits + c.unused {
			im := slices.Clone(c.base)
			for i := range (c.bits + 7) / 8 {
				im[c.at+i] = 0
			}
			im[c.at+bit/8] = 1 << (bit % 8)
			want := []jedec.Latency{}
			if bit < c.bits {
				want = latencies(c.from + c.step*float64(bit))
			}
			assert.Equal(t, want, decode(t, im).Latencies, "%s, bit %d", name, bit)
		}
	}
	for bit := range 8 { // of DDR2: the two lowest are reserved
		im := ddr2()
		im[18] = 1 << bit
		want := []jedec.Latency{}
		if bit >= 2 {
			want = latencies(float64(bit))
		}
		assert.Equal(t, want, decode(t, im).Latencies, "DDR2, bit %d", bit)
	}
}

// What makes no memory is said with its figures, and what just does is read.
func TestRowsColumnsRanksAndBanks(t *testing.T) {
	for _, c := range []struct {
		rows, columns, ranks, banks, width, bus byte
		want                                    string // of the whole module; "-" for no memory
	}{
		{12, 10, 2, 4, 8, 64, "256 MB"},
		{8, 10, 1, 4, 8, 64, "8 MB"}, {7, 10, 1, 4, 8, 64, "-"},
		{15, 6, 1, 4, 8, 64, "64 MB"}, {15, 5, 1, 4, 8, 64, "-"},
		{15, 14, 1, 1, 8, 64, "4 GB"}, {15, 15, 1, 1, 8, 64, "-"},
		{12, 10, 8, 4, 8, 64, "1 GB"}, {12, 10, 9, 4, 8, 64, "-"}, {12, 10, 0, 4, 8, 64, "-"},
		{12, 10, 1, 16, 8, 64, "512 MB"}, {12, 10, 1, 17, 8, 64, "-"}, {12, 10, 1, 0, 8, 64, "-"},
		{12, 10, 1, 4, 0, 64, "-"}, {12, 10, 1, 4, 8, 8, "16 MB"}, {12, 10, 1, 4, 8, 7, "-"},
	} {
		im := sdr()
		im[3], im[4], im[5], im[17], im[13], im[6] = c.rows, c.columns, c.ranks, c.banks, c.width, c.bus
		m := decode(t, im.Sum8())
		assert.Equal(t, c.want, as(m.Capacity), c)
		if c.want == "-" {
			require.NotEmpty(t, m.Notes, c)
			assert.Contains(t, m.Notes[0], fmt.Sprintf("rows %d, columns %d, ranks %d, banks %d make no memory", c.rows,
				c.columns, c.ranks, c.banks))
			assert.False(t, m.Density.Known(), c)
		}
	}
	im := ddr2() // whose rows have five bits
	for rows, want := range map[byte]string{17: "8 GB", 18: "-"} {
		im[3] = rows
		assert.Equal(t, want, as(decode(t, im.Sum8()).Capacity), rows)
	}
}

// The size byte tells ranks of one size, by the generation's own list; the low bits got a second meaning later.
func TestTheSizeOfARankIsHeldAgainstItsByte(t *testing.T) {
	for _, c := range []struct {
		name          string
		base          compose.Image
		rows, columns byte // of four banks, eight lines a chip
		says          byte
		agrees        bool
	}{
		{"SDR, 128 MB", sdr(), 12, 10, 0x20, true},
		{"SDR, 256 MB said of 128 MB", sdr(), 12, 10, 0x40, false},
		{"SDR, none said", sdr(), 12, 10, 0, false},
		{"SDR, 1 GB by the later meaning", sdr(), 14, 11, 0x01, true},
		{"SDR, 2 GB by the later meaning", sdr(), 14, 12, 0x02, true},
		{"SDR, 4 GB by the later meaning", sdr(), 15, 12, 0x04, true},
		{"SDR, 8 GB has no meaning", sdr(), 15, 13, 0x08, false},
		{"DDR, 1 GB", ddr(), 14, 11, 0x01, true},
		{"DDR, 2 GB", ddr(), 14, 12, 0x02, true},
		{"DDR, 64 MB", ddr(), 12, 9, 0x10, true},
		{"DDR, 128 MB said of 64 MB", ddr(), 12, 9, 0x20, false},
		{"DDR2, 512 MB", ddr2(), 14, 10, 0x80, true},
		{"DDR2, 1 GB said of 512 MB", ddr2(), 14, 10, 0x01, false},
		{"DDR2, 16 GB", ddr2(), 16, 13, 0x10, true},
		{"DDR2, 256 MB", ddr2(), 13, 10, 0x40, true},
		{"DDR2, 2 GB", ddr2(), 15, 11, 0x02, true},
		{"DDR2, 4 GB", ddr2(), 16, 11, 0x04, true},
		{"DDR2, 8 GB", ddr2(), 16, 12, 0x08, true},
		{"DDR2, 128 MB", ddr2(), 13, 9, 0x20, true},
	} {
		im := c.base
		im[3], im[4], im[13], im[17], im[31] = c.rows, c.columns, 8, 4, c.says
		assert.Equal(t, c.agrees, len(decode(t, im.Sum8()).Itself) == 0, c.name)
	}
}

// A profile is left out by any one figure that memory can't have, and said to be.
func TestAProfileOfFiguresThatMemoryCantHave(t *testing.T) {
	profiled := func(tck, taa, trcd, trp int) spd.Module {
		im := ddr5()
		im.Put(640, 0x0C, 0x4A, 0x30, 0x01).Put(705, 0x22).Word(709, tck).Word(717, taa).Word(719, trcd).Word(721, trp).
			Word(723, 30000).Word(725, 45000).CRC(704, 765, 766)
		return decode(t, im)
	}
	for _, c := range []struct {
		tck, taa, trcd, trp int
		rate                jedec.Rate // 0: left out
	}{
		{333, 12000, 12000, 12000, 6000},
		{150, 12000, 12000, 12000, 13333}, {149, 12000, 12000, 12000, 0},
		{3000, 15000, 12000, 12000, 666}, {3001, 16000, 12000, 12000, 0},
		{500, 2500, 12000, 12000, 4000}, {500, 2499, 12000, 12000, 0},
		{333, 40000, 12000, 12000, 6000}, {333, 40001, 12000, 12000, 0},
		{333, 12000, 0, 12000, 0}, {333, 12000, 12000, 0, 0}, {333, 12000, 1, 1, 6000},
		{340, 12000, 12000, 12000, 5866}, {580, 12000, 12000, 12000, 3433}, {2300, 15000, 12000, 12000, 866},
		{2290, 15000, 12000, 12000, 0}, // 873 MT/s is none either
		{1900, 15000, 12000, 12000, 0}, // 1,053 MT/s is no rate that is sold
	} {
		m := profiled(c.tck, c.taa, c.trcd, c.trp)
		if c.rate == 0 {
			assert.Empty(t, m.Profiles, c)
			require.NotEmpty(t, m.Notes, c)
			assert.Contains(t, m.Notes[0], "left out", c)
			continue
		}
		require.Len(t, m.Profiles, 1, c)
		assert.Equal(t, c.rate, m.Profiles[0].Rate, c)
		assert.Zero(t, int(m.Profiles[0].CL.Or(0))%4, "DDR5 has even latencies only, and they count half clocks: %v", c)
		assert.Equal(t, maybe.Just(1100), m.Profiles[0].MilliVolts)
	}
}
