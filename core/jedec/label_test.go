package jedec_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

func label(t testing.TB, s string) jedec.Label {
	t.Helper()
	l, err := jedec.ParseLabel(s)
	require.NoError(t, err, s)
	return l
}

func TestLabelsOfEachGeneration(t *testing.T) {
	for _, c := range []struct {
		text, grade, layout, timing, cl string
		size                            jedec.Capacity
		milliVolts                      int
		form                            jedec.Form
		kind                            jedec.Kind
		card, revision, suffix          string
	}{
		{"512MB 2Rx8 PC2700S-2533-0-A1", "DDR-333", "2Rx8", "2.5-3-3", "2.5", 512 * jedec.MiB, 2500, jedec.SODIMM,
			jedec.Unbuffered, "A1", "0", ""},
		{"PC3200U-30331", "DDR-400", "", "3-3-3", "3", 0, 2500, jedec.DIMM, jedec.Unbuffered, "", "1", ""},
		{"1GB 2Rx8 PC2-5300S-555-12-E0", "DDR2-667", "2Rx8", "5-5-5", "5", jedec.GiB, 1800, jedec.SODIMM, jedec.Unbuffered,
			"E0", "12", ""},
		{"PC2-5300S-555-12", "DDR2-667", "", "5-5-5", "5", 0, 1800, jedec.SODIMM, jedec.Unbuffered, "", "12", ""},
		{"2GB 2Rx4 PC2-5300F-555-11-E0", "DDR2-667", "2Rx4", "5-5-5", "5", 2 * jedec.GiB, 1800, jedec.FBDIMM,
			jedec.FullyBuffered, "E0", "11", ""},
		{"4GB 1Rx8 PC3L-12800S-11-13-F3", "DDR3-1600", "1Rx8", "", "11", 4 * jedec.GiB, 1350, jedec.SODIMM,
			jedec.Unbuffered, "F3", "13", ""},
		{"PC3-10666U-9-10-A0", "DDR3-1333", "", "", "9", 0, 1500, jedec.DIMM, jedec.Unbuffered, "A0", "10", ""},
		{"8GB 1Rx8 PC4-2400T-SA1-11", "DDR4-2400", "1Rx8", "17-17-17", "17", 8 * jedec.GiB, 1200, jedec.SODIMM,
			jedec.Unbuffered, "A1", "11", ""},
		{"64GB 2S2Rx4 PC4-2666V-RB2-12-DB1", "DDR4-2666", "2S2Rx4", "19-19-19", "19", 64 * jedec.GiB, 1200, jedec.DIMM,
			jedec.RegisteredECC, "B2", "12", "DB1"},
		{"16 GB 1Rx8 PC4-3200AA-UA2-11", "DDR4-3200", "1Rx8", "22-22-22", "22", 16 * jedec.GiB, 1200, jedec.DIMM,
			jedec.Unbuffered, "A2", "11", ""},
		{"16GB 1Rx8 PC5-4800B-SA0-1010-XT", "DDR5-4800", "1Rx8", "40-39-39", "40", 16 * jedec.GiB, 1100, jedec.SODIMM,
			jedec.Unbuffered, "A0", "1010", "XT"},
		{"24gb 1rx8 pc5-5600b-ua1-1110-xt", "DDR5-5600", "1Rx8", "46-45-45", "46", 24 * jedec.GiB, 1100, jedec.DIMM,
			jedec.Unbuffered, "A1", "1110", "XT"},
		{"PC4-19200S", "DDR4-2400", "", "", "", 0, 1200, jedec.SODIMM, jedec.Unbuffered, "", "", ""},
		{"256MB PC133U-333-542", "PC133", "", "3-3-3", "3", 256 * jedec.MiB, 3300, jedec.DIMM, jedec.Unbuffered, "", "",
			"542"},
	} {
		l := label(t, c.text)
		assert.Equal(t, c.grade, l.Grade.String(), c.text)
		assert.Equal(t, c.milliVolts, l.MilliVolts, c.text)
		assert.Equal(t, c.size, l.Capacity.Or(0), c.text)
		assert.Equal(t, c.layout != "", l.Layout.Known(), c.text)
		if layout, ok := l.Layout.Get(); ok {
			assert.Equal(t, c.layout, layout.String(), c.text)
		}
		if timing, ok := l.Timing.Get(); assert.Equal(t, c.timing != "", ok, c.text) && ok {
			assert.Equal(t, c.timing, timing.String(), c.text)
		}
		if cl, ok := l.CL.Get(); assert.Equal(t, c.cl != "", ok, c.text) && ok {
			assert.Equal(t, c.cl, cl.String(), c.text)
		}
		means, ok := l.Meaning()
		require.True(t, ok, c.text)
		assert.Equal(t, c.form, means.Form, c.text)
		assert.Equal(t, c.kind, means.Kind, c.text)
		assert.Equal(t, []string{c.card, c.revision, c.suffix}, []string{l.RawCard, l.SPDRevision, l.Suffix}, c.text)
		again := label(t, l.String())
		assert.Equal(t, l, again, "%s prints as %s", c.text, l.String())
	}
}

// Over every grade, bin, type letter and voltage class, printing and parsing
// a label are inverse.
func TestParseAndPrintOfLabelsAreInverse(t *testing.T) {
	n := 0
	for _, g := range []jedec.Generation{jedec.DDR, jedec.DDR2, jedec.DDR3, jedec.DDR4, jedec.DDR5} {
		for _, x := range jedec.Grades(g) {
			for _, b := range jedec.Bins(x) {
				for _, letter := range jedec.TypeLetters(g) {
					for _, mv := range g.Trait().MilliVolts {
						l := jedec.Label{Grade: x, MilliVolts: mv, Type: letter.Letter, RawCard: "A1", SPDRevision: "11",
							Capacity: maybe.Just(8 * jedec.GiB), Layout: maybe.Just(jedec.Layout{Ranks: 2, Width: 8}),
							CL: maybe.Just(b.Timing.CL)}
						if g >= jedec.DDR4 {
							l.Bin = b.Letter
						}
						if g != jedec.DDR3 {
							l.Timing = maybe.Just(b.Timing)
						}
						got, err := jedec.ParseLabel(l.String())
						require.NoError(t, err, l.String())
						require.Equal(t, l, got, l.String())
						small, err := jedec.ParseLabel(strings.ToLower(l.String()))
						require.NoError(t, err, "in small letters: %v", l)
						require.Equal(t, l, small, "in small letters: %v", l)
						n++
					}
				}
			}
		}
	}
	assert.Greater(t, n, 800)
}

func TestWrongLabelsQuoteTheWrongPart(t *testing.T) {
	for in, says := range map[string]string{
		"8GB 1Rx8 PC4-2500T-SA1-11": `"PC4-2500T" in "8GB 1Rx8 PC4-2500T-SA1-11": no such rating; the nearest are ` +
			`PC4-19200 (DDR4-2400)`,
		"8GB 1Rx8 PC4-2400Q-SA1-11":   `"Q"`,
		"8GB 1Rx8 PC4-2400T-XA1-11":   `no module-type letter of DDR4; they are U (unbuffered DIMM)`,
		"8GB 3Rx8 PC4-2400T-SA1-11":   `"3Rx8"`,
		"7GB 1Rx8 PC4-2400T-SA1-11":   `"7GB"`,
		"8GB 1Rx8 PC4L-2400T-SA1-11":  `DDR4 has no voltage class "L"`,
		"PC3-12800S-99-13-F3":         "DDR3 has CAS latencies 5 to 16",
		"PC2-5300S-55-12":             "three digits",
		"PC2-5300S-5555-12":           "three digits",
		"PC2-5300S-5x5-12":            "three digits",
		"PC2-5300S-505-12":            "0 clocks",
		"PC2-5300S-550-12":            "0 clocks",
		"PC2700S-2733-0":              "not 2.7",
		"PC2-5300S-050-12":            "0 clocks",
		"PC3-11000S-9-10-A0":          "PC3-10600 (DDR3-1333)",
		"8GB 1Rx8 PC4-2400T-SA1-1x":   "SPD revision",
		"8GB 1Rx8 PC5-4800B-SA0-abcd": "SPD revision",
		"PC3-10600S-9-10-A!":          `"A!" in "PC3-10600S-9-10-A!": a raw card is a letter or two`,
		"PC3-10600S-9-1x-A1":          `"1X" in "PC3-10600S-9-1x-A1": an SPD revision is a number`,
	} {
		_, err := jedec.ParseLabel(in)
		require.ErrorIs(t, err, jedec.ErrLabel, in)
		assert.Contains(t, err.Error(), says, in)
	}
	for _, in := range []string{"", "8GB", "DDR4-2400", "hello there", "PC4-2400T-SA1-11 and more", "8GB 8GB PC4-2400",
		"PC"} {
		_, err := jedec.ParseLabel(in)
		require.ErrorIs(t, err, jedec.ErrNotLabel, in)
	}
}

func TestADDR5LabelsTemperature(t *testing.T) {
	assert.Equal(t, "0 to 95 °C", label(t, "16GB 1Rx8 PC5-4800B-SA0-1010-XT").Temperature())
	assert.Equal(t, "", label(t, "16GB 1Rx8 PC5-4800B-SA0-1010-QQ").Temperature())
}

func FuzzParseLabel(f *testing.F) {
	for _, s := range []string{"8GB 1Rx8 PC4-2400T-SA1-11", "PC3L-12800S-11-13-F3", "PC2-5300S-555-12", "PC2700S-2533-0",
		"16GB 1Rx8 PC5-4800B-SA0-1010-XT", "256MB PC133U-333-542", "PC4-19200S"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		l, err := jedec.ParseLabel(s)
		if err != nil {
			return
		}
		again, err := jedec.ParseLabel(l.String())
		require.NoError(t, err, "%q prints as %q", s, l.String())
		require.Equal(t, l, again, "%q prints as %q", s, l.String())
	})
}

func BenchmarkParseLabel(b *testing.B) {
	labels := []string{"8GB 1Rx8 PC4-2400T-SA1-11", "4GB 2Rx8 PC3L-12800S-11-13-F3", "1GB 2Rx8 PC2-5300S-555-12",
		"512MB PC2700S-2533-0", "16GB 1Rx8 PC5-4800B-SA0-1010-XT"}
	b.ReportAllocs()
	for n := 0; b.Loop(); n++ {
		if _, err := jedec.ParseLabel(labels[n%len(labels)]); err != nil {
			b.Fatal(err)
		}
	}
}

func TestEveryLetterHasAForm(t *testing.T) {
	for _, g := range jedec.Generations() {
		var seen strings.Builder
		for _, l := range jedec.TypeLetters(g) {
			assert.NotContains(t, seen.String(), string(rune(l.Letter)), "%v", g)
			seen.WriteByte(l.Letter)
			_, made := g.Contacts(l.Form)
			assert.True(t, made, "%v %c", g, l.Letter)
		}
	}
}

// A label that says no more than its rating and its kind is written so, and read again.
func TestShortLabelsAreWrittenAsTheyAreRead(t *testing.T) {
	for _, text := range []string{"8GB PC4-19200S", "8GB 1Rx8 PC4-19200U", "16GB PC5-38400S",
		"8GB 1Rx8 PC4-2400T-SA1-11"} {
		l, err := jedec.ParseLabel(text)
		if !assert.NoError(t, err, text) {
			continue
		}
		again, err := jedec.ParseLabel(l.String())
		assert.NoError(t, err, l.String())
		assert.Equal(t, l, again, "%s, written %s", text, l)
	}
	l, err := jedec.ParseLabel("8GB PC4-19200S")
	if assert.NoError(t, err) {
		assert.Equal(t, "8GB PC4-19200S", l.String())
	}
}
