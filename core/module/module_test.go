package module_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/module"
)

// short writes the stated facts in a fixed order, for comparing.
func short(s module.Module) string {
	var parts []string
	add := func(known bool, format string, args ...any) {
		if known {
			parts = append(parts, fmt.Sprintf(format, args...))
		}
	}
	pieces, ok := s.Pieces.Get()
	add(ok, "%d×", pieces)
	size, ok := s.Capacity.Get()
	add(ok, "%v", size)
	g, ok := s.Generation.Get()
	add(ok, "%v", g)
	x, ok := s.Grade().Get()
	add(ok && s.Rated.Standing() == fact.Settled, "@%d", int(x.Rate))
	for _, c := range s.Choices {
		add(true, "@%v?", c)
	}
	f, ok := s.Form.Get()
	add(ok, "%v", f)
	ranks, ok := s.Ranks.Get()
	add(ok, "%dR", ranks)
	width, ok := s.Width.Get()
	add(ok, "x%d", width)
	cl, ok := s.CL.Get()
	add(ok, "CL%v", cl)
	timing, ok := s.Timing.Get()
	add(ok, "%v", timing)
	ecc, ok := s.ECC.Get()
	add(ok, "ecc=%v", ecc)
	registered, ok := s.Registered.Get()
	add(ok, "reg=%v", registered)
	for _, mv := range s.Supplies.Or(jedec.Supplies{}).List() {
		add(true, "%s", jedec.Volts(mv))
	}
	for _, p := range s.Profiles {
		cl, _ := p.CL.Get()
		add(true, "profile %d CL%v", int(p.Rate), cl)
		mv, ok := p.MilliVolts.Get()
		add(ok, "at %s", jedec.Volts(mv))
	}
	return strings.Join(parts, " ")
}

func TestShopListings(t *testing.T) {
	for text, want := range map[string]string{
		"16 GB (2x8) DDR4 3200MHz CL22 SODIMM 260-pin 1.2V 1Rx8": "2× 8 GB DDR4 @3200 SO-DIMM 1R x8 CL22 1.2 V",
		"16GB DDR4-3200 SO-DIMM 1Rx8 CL22":                       "16 GB DDR4 @3200 SO-DIMM 1R x8 CL22",
		"marram 8gb ddr3l 1600 mhz sodimm 1,35v cl11":            "8 GB DDR3 @1600 SO-DIMM CL11 1.35 V 1.5 V",
		"Spindrift 2 x 16 GB Kit, DDR4-2666, UDIMM, non-ECC":     "2× 16 GB DDR4 @2666 DIMM ecc=false reg=false",
		"32GB Kit of 2 DDR5 5600 UDIMM":                          "2× 16 GB DDR5 @5600 DIMM reg=false",
		"4GB PC3L-12800S":                                        "4 GB DDR3 @1600 SO-DIMM ecc=false reg=false 1.35 V 1.5 V",
		"8GB PC4-2400T-SA1-11 260pin laptop": "8 GB DDR4 @2400 SO-DIMM CL17 17-17-17 ecc=false " +
			"reg=false 1.2 V",
		"Arbeitsspeicher 8 GB DDR4 PC4-21300 260-polig 1,2 Volt": "8 GB DDR4 @2666 SO-DIMM 1.2 V",
		"Mémoire 8 Go DDR4 2400 MHz 288 broches sans ECC":        "8 GB DDR4 @2400 DIMM ecc=false",
		"2GB DDR2 667MHz SODIMM PC2-5300":                        "2 GB DDR2 @667 SO-DIMM",
		"64GB DDR4 2933 RDIMM 2Rx4 ECC Reg":                      "64 GB DDR4 @2933 DIMM 2R x4 ecc=true reg=true",
		"Squall 16GB (2x8GB) DDR4 3600MHz CL18 XMP":              "2× 8 GB DDR4 profile 3600 CL18",
		"Squall 2x16GB DDR4-3200 CL16-18-18-38 1.35V":            "2× 16 GB DDR4 profile 3200 CL16 at 1.35 V",
		"32GB DDR5-6000 CL30 EXPO":                               "32 GB DDR5 profile 6000 CL30",
		// a bare figure that stands behind no generation is not guessed at
		"8GB DDR4 dual rank 2400":    "8 GB DDR4 @2400 2R",
		"1GB DDR3 1333 204-pin":      "1 GB DDR3 @1333 SO-DIMM",
		"8GBx2 DDR4 2133MT/s":        "2× 8 GB DDR4 @2133",
		"4GB DDR3-1600 240 pin":      "4 GB DDR3 @1600 DIMM",
		"48GB DDR5-5600 CSODIMM":     "48 GB DDR5 @5600 SO-DIMM reg=false",
		"DDR3 667MHz 2GB":            "2 GB DDR3 @1333",
		"512MB DDR 400MHz CL3 3-3-3": "512 MB DDR @400 CL3 3-3-3",
		// DDR-400's own supply, no profile
		"512MB DDR-400 184-pin 2.6V CL3": "512 MB DDR @400 DIMM CL3 2.6 V",
		"2x8GB DDR3-2400 1.65V CL11":     "2× 8 GB DDR3 profile 2400 CL11 at 1.65 V",
	} {
		s, err := module.FromListing(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, short(s), text)
	}
}

// A figure that can honestly be read as a rate or as a clock stays both, until
// another word settles it.
func TestRateOrClock(t *testing.T) {
	s, err := module.FromListing("2GB DDR3 800MHz")
	require.NoError(t, err)
	assert.False(t, s.Grade().Known())
	assert.Equal(t, "2 GB DDR3 @DDR3-800? @DDR3-1600?", short(s))
	for text, want := range map[string]string{
		"2GB DDR3 800MHz CL11":     "2 GB DDR3 @1600 CL11",
		"2GB DDR3 800MHz CL6":      "2 GB DDR3 @DDR3-800? @DDR3-1600? CL6", // 7.5 ns at 1600: rare, but made
		"2GB DDR3 800 MT/s":        "2 GB DDR3 @800",
		"2GB DDR3-800":             "2 GB DDR3 @800",
		"2GB 800MHz DDR2":          "2 GB DDR2 @800",
		"2GB DDR3 800MHz PC3-6400": "2 GB DDR3 @800",
		"2GB 800MHz":               "2 GB @DDR2-800? @DDR3-800?",
	} {
		s, err := module.FromListing(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, short(s), text)
	}
}

func TestContradictionsQuoteBothParts(t *testing.T) {
	for text, quotes := range map[string][2]string{
		"DDR4 SO-DIMM 204-pin 8GB":  {"DDR4", "204-pin"},
		"8GB DDR4 DDR3":             {"DDR4", "DDR3"},
		"16GB (2x4GB) DDR4":         {"16GB", "2x4GB"},
		"8GB SODIMM UDIMM DDR4":     {"SODIMM", "UDIMM"},
		"8GB DDR4 PC3-12800":        {"DDR4", "PC3-12800"},
		"8GB DDR4-2400 PC4-21300":   {"DDR4-2400", "PC4-21300"},
		"8GB 16GB DDR4":             {"8GB", "16GB"},
		"8GB DDR4 1.5V UDIMM 3.3V":  {"1.5V", "3.3V"},
		"8GB DDR4 0.9V":             {"DDR4", "0.9V"},
		"8GB DDR4 CL17 CL19":        {"CL17", "CL19"},
		"8GB DDR4 1Rx8 dual rank":   {"1Rx8", "dual rank"},
		"32GB DDR3 SO-DIMM":         {"32GB", "DDR3"},
		"12GB DDR4 SO-DIMM":         {"12GB", "DDR4"},
		"8GB LPDDR4 SO-DIMM":        {"LPDDR4", "SO-DIMM"},
		"8GB DDR4 ECC non-ECC":      {"ECC", "non-ECC"},
		"8GB DDR4 RDIMM unbuffered": {"RDIMM", "unbuffered"},
		"8GB DDR4 288-pin SO-DIMM":  {"SO-DIMM", "288-pin"},
		"HMA99GS6ZFR8N-UH DDR3 8GB": {"HMA99GS6ZFR8N-UH", "DDR3"},
	} {
		_, err := module.Parse(text)
		require.ErrorIs(t, err, module.ErrContradiction, text)
		for _, q := range quotes {
			assert.Contains(t, err.Error(), `"`+q+`"`, text)
		}
	}
}

func TestUnknownRatingsNameTheNearest(t *testing.T) {
	for text, says := range map[string]string{
		"8GB DDR4-2500":      "DDR4-2400 and DDR4-2666",
		"8GB DDR4 PC4-20000": "PC4-19200",
		"4GB PC3-1600":       "PC3-12800 (DDR3-1600)",
	} {
		_, err := module.Parse(text)
		require.Error(t, err, text)
		assert.Contains(t, err.Error(), says, text)
	}
}

func TestTextThatSaysNothing(t *testing.T) {
	for _, text := range []string{"", "   ", "cable tie, black", "24 inch screen", strings.Repeat("8GB ", 400)} {
		_, err := module.Parse(text)
		require.ErrorIs(t, err, module.ErrNothing, text)
	}
}

func TestALabelTellsItsDensityAndTimes(t *testing.T) {
	s, err := module.Parse("8GB 1Rx8 PC4-2400T-SA1-11")
	require.NoError(t, err)
	assert.Equal(t, module.Label, s.Kind)
	assert.Equal(t, 8192, s.Density.Or(0))
	assert.Equal(t, jedec.Picoseconds(14160), s.Times.TAA.Or(0))
	assert.Equal(t, jedec.Picoseconds(833), s.Times.TCK.Or(0))
	assert.Equal(t, []string{"tras_ps", "trc_ps", "cas_latencies", "maker", "part", "serial", "year", "week"}, s.Unknown())
	s, err = module.Parse("24GB 1Rx8 PC5-5600B-UA1-1110-XT")
	require.NoError(t, err)
	assert.Equal(t, 24576, s.Density.Or(0), "24 Gbit dies")
	s, err = module.Parse("64GB 2S2Rx4 PC4-2666V-RB2-12-DB1")
	require.NoError(t, err)
	assert.False(t, s.Density.Known(), "stacked dies are not counted as one")
}

func TestAPartNumberOnlyLeans(t *testing.T) {
	s, err := module.Parse("M471A9Z99ZZ9-CTD")
	require.NoError(t, err)
	assert.Equal(t, module.PartNumber, s.Kind)
	assert.False(t, s.Generation.Known(), "a part number states nothing for certain")
	assert.Contains(t, s.Leaning,
		module.Hint{Fact: "grade", Value: "DDR4-2666 CL19", Why: "part number, by Samsung's numbering guide"})
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"16 GB (2x8) DDR4 3200MHz CL22 SODIMM 260-pin 1.2V 1Rx8", "8GB 1Rx8 PC4-2400T-SA1-11",
		"2 x 16 GB Kit of 2", "1,2 V 2R x 8 so dimm",
		"DDR3 667MHz non ECC CL 9-9-9", "lpddr4x-4266", "8gbx2 mt/s", "×2×8"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		s, err := module.Parse(text)
		if err != nil {
			require.NotEmpty(t, err.Error())
			return
		}
		if size, ok := s.Capacity.Get(); ok {
			require.True(t, jedec.PlausibleModule(size), "%q: %v", text, size)
		}
		g, hasG := s.Generation.Get()
		form, hasForm := s.Form.Get()
		if hasG && hasForm {
			_, made := g.Contacts(form)
			require.True(t, made, "%q: %v %v", text, g, form)
		}
		if x, ok := s.Grade().Get(); ok && hasG {
			require.Equal(t, g, x.Generation, "%q", text)
		}
	})
}

func BenchmarkParse(b *testing.B) {
	for name, texts := range map[string][]string{
		"labels": {"8GB 1Rx8 PC4-2400T-SA1-11", "4GB 2Rx8 PC3L-12800S-11-13-F3", "1GB 2Rx8 PC2-5300S-555-12",
			"512MB PC2700S-2533-0", "16GB 1Rx8 PC5-4800B-SA0-1010-XT"},
		"listings": {"16 GB (2x8) DDR4 3200MHz CL22 SODIMM 260-pin 1.2V 1Rx8",
			"marram 8gb ddr3l 1600 mhz sodimm 1,35v cl11", "Squall 2x16GB DDR4-3200 CL16-18-18-38 1.35V"},
	} {
		b.Run(name, func(b *testing.B) {
			b.ReportAllocs()
			for n := 0; b.Loop(); n++ {
				if _, err := module.Parse(texts[n%len(texts)]); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// What is not known of a module as shops sell it stays unknown.
func TestAnOrdinaryModuleSaysNoMoreThanItIsGiven(t *testing.T) {
	x, _ := jedec.GradeAt(jedec.DDR4, 2400)
	of := func(l jedec.Layout, die int, x jedec.Grade, cl jedec.Latency) module.Module {
		return module.Ordinary(jedec.SODIMM, jedec.Unbuffered, 8*jedec.GiB, l, die, x, cl, jedec.Supplies{})
	}
	m := of(jedec.Layout{}, 0, x, 0)
	assert.False(t, m.Ranks.Known() || m.Width.Known() || m.Density.Known())
	assert.True(t, m.Times.TAA.Known(), "the slowest bin of its grade, which it keeps")
	m = of(jedec.Layout{Ranks: 1, Width: 8}, 8192, x, 34)
	assert.Equal(t, []int{1, 8, 8192}, []int{m.Ranks.Or(0), m.Width.Or(0), m.Density.Or(0)})
	assert.Equal(t, jedec.Picoseconds(14160), m.Times.TAA.Or(0))
	m = of(jedec.Layout{}, 0, jedec.Grade{Rate: 7}, 0)
	assert.False(t, m.Times.TAA.Known(), "a rate that has no bins")
}

// The clocks that a label prints stand for their bin.
func TestPrintedClocksStandForTheirBin(t *testing.T) {
	for text, want := range map[string]jedec.Picoseconds{"2GB 2Rx8 PC2-6400S-555-12": 12500,
		"2GB 2Rx8 PC2-6400S-666-12": 15000, "1GB 2Rx16 PC2-5300S-555-12": 15000, "2GB 2Rx8 PC2-6400S-444-12": 10000} {
		m, err := module.Parse(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, m.Times.TAA.Or(0), text)
	}
}

// An ordinary module has each of its bin's times.
func TestAnOrdinaryModulesTimes(t *testing.T) {
	for _, g := range []jedec.Generation{jedec.DDR3, jedec.DDR4, jedec.DDR5} {
		for _, x := range jedec.Grades(g) {
			for _, b := range jedec.Bins(x) {
				m := module.Ordinary(jedec.DIMM, jedec.Unbuffered, 8*jedec.GiB, jedec.Layout{Ranks: 1, Width: 8}, 8192, x,
					b.Timing.CL, jedec.Supplies{})
				own, ok := b, false
				for _, last := range jedec.Bins(x) {
					if last.Timing.CL == b.Timing.CL {
						own, ok = last, true
					}
				}
				require.True(t, ok)
				assert.Equal(t, [3]jedec.Picoseconds{own.TAA, own.TRCD, own.TRP},
					[3]jedec.Picoseconds{m.Times.TAA.Or(0), m.Times.TRCD.Or(0), m.Times.TRP.Or(0)}, b.Name())
			}
		}
	}
}

// A clock that is named beside its rate is no second rate, whichever comes first and however it is rounded; a rate
// beside another that is not its double is a contradiction that quotes both.
func TestAClockBesideItsRate(t *testing.T) {
	for text, want := range map[string]jedec.Rate{
		"8GB DDR4 2400 MHz, clock 1200 MHz": 2400, "8GB DDR4 1200 MHz clock 2400 MHz": 2400,
		"4GB DDR3 1333 MHz, clock 667 MHz": 1333, "4GB DDR3 667 MHz clock 1333 MHz": 1333,
		"4GB DDR3 1333 MHz, clock 666 MHz": 1333, "4GB DDR3 666 MHz clock 1333 MHz": 1333,
	} {
		m, err := module.Parse(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, m.Rated.Or(0), text)
	}
	for text, quotes := range map[string][2]string{"8GB DDR4 2400 MHz, clock 1600 MHz": {"2400", "1600"},
		"8GB DDR4-2666 PC4-2400T": {"2666", "PC4-2400T"}, "8GB 2666MHz PC4-2400T": {"2666MHz", "PC4-2400T"}} {
		_, err := module.Parse(text)
		require.ErrorIs(t, err, module.ErrContradiction, text)
		for _, q := range quotes {
			assert.Contains(t, strings.ToLower(err.Error()), strings.ToLower(q), text)
		}
	}
	m, err := module.Parse("8GB PC4-2400T 2400MHz")
	require.NoError(t, err)
	assert.Equal(t, jedec.Rate(2400), m.Rated.Or(0))
}

// A module sold by a profile's rate is likely programmed with a standard one; what is stated stays what it is.
func TestTheBaseOfAProfile(t *testing.T) {
	for text, base := range map[string]jedec.Rate{"8GB DDR4-3600 CL18": 2133, "16GB DDR5-6000 CL30": 4800,
		"8GB DDR3-2400 CL11 1.65V": 1333} {
		m, err := module.Parse(text)
		require.NoError(t, err)
		assert.Equal(t, base, m.Rated.Or(0), text)
		assert.Equal(t, fact.Leaning, m.Rated.Standing(), text)
	}
	m, err := module.Parse("8GB DDR4-3200 CL22")
	require.NoError(t, err)
	assert.Equal(t, fact.Settled, m.Rated.Standing())
}
