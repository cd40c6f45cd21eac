package jedec_test

import (
	"fmt"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/golden"
)

// All that the tables hold, as it is read from them: to be held against the standards that they name.
func TestTheWholeTables(t *testing.T) {
	var page strings.Builder
	say := func(format string, args ...any) { fmt.Fprintf(&page, format+"\n", args...) }
	turn := func(name string) { // the page
		golden.Compare(t, "testdata/"+name+".txt", page.String())
		page.Reset()
	}
	for k := range jedec.Kind(12) {
		say("kind %d: %v, registered %v, check bits %v", k, k, k.Registered(), k.ECC())
	}
	for f := range jedec.Form(16) {
		again, ok := jedec.ParseForm(f.String())
		say("form %d: %v, read again %v %v", f, f, again == f, ok)
	}
	for _, text := range []string{"dimm", "so dimm", "SODIMM", "so-dimm", "UDIMM", "RDIMM", "LRDIMM", "VLP RDIMM",
		"SO-RDIMM", "CSODIMM",
		"CUDIMM", "MRDIMM", "fb-dimm", "micro dimm", "mini-dimm", "camm2", "lpcamm2", "CAMM", "soldered", "SIMM", "RIMM",
		"", "dim"} {
		f, ok := jedec.ParseForm(text)
		say("form %q: %v %v", text, f, ok)
	}
	for _, suffix := range []string{"XT", "NT", "ET", "IT", "AT", "ZT", ""} {
		say("suffix %q: %s", suffix, jedec.Label{Suffix: suffix}.Temperature())
	}
	turn("kinds-and-forms")
	for g := jedec.Generation(0); g < jedec.LPDDR5X+2; g++ {
		tr := g.Trait()
		say("## %v, low power %v\n%+v\nsizes %v", g, g.LowPower(), tr, jedec.ModuleSizes(g))
		for _, mv := range []int{1050, 1100, 1200, 1250, 1350, 1500, 1800, 2500, 3300} {
			if g.RunsAt(mv) {
				say("runs at %d mV", mv)
			}
		}
		for _, f := range tr.Forms {
			for _, die := range tr.Densities {
				say("%v of %s: %v unbuffered, %v registered, %v load-reduced", f.Form, jedec.DieSize(die),
					g.Largest(f.Form, jedec.Unbuffered, die), g.Largest(f.Form, jedec.RegisteredECC, die),
					g.Largest(f.Form, jedec.LoadReduced, die))
			}
		}
		for _, l := range jedec.TypeLetters(g) {
			say("letter %c: %+v", l.Letter, l)
		}
		say("latencies %v", jedec.StandardLatencies(g))
		grades := jedec.Grades(g)
		for _, x := range grades {
			say(
				"%v %s: %v, tCK %v, clock %v, cells %v, %d MB/s, exact %d, also %v, %v", x, x.Module(), x.Rate, x.TCK,
				x.Clock(), x.CellClock(), x.Bandwidth(), x.Exact(), x.Aliases, x.Spellings(),
			)
			for _, cl := range jedec.StandardLatencies(g) {
				if jedec.FasterThanStandard(x, cl) {
					continue
				}
				say("  the fastest that the standard knows is CL%v, %v", cl, cl.Time(x))
				break
			}
			for _, b := range jedec.Bins(x) {
				text := fmt.Sprintf("  %s %v: %v %v %v;", b.Name(), b.Timing, b.TAA, b.TRCD, b.TRP)
				for _, lower := range grades {
					if lower.Rate <= x.Rate {
						if at, ok := b.At(lower); ok {
							text += fmt.Sprintf(" %d: %v", int(lower.Rate), at)
						}
					}
				}
				say("%s", text)
			}
		}
		switch g {
		case jedec.DDR2:
			turn("sdr-to-ddr2")
		case jedec.DDR3, jedec.DDR4, jedec.DDR5:
			turn(strings.ToLower(g.String()))
		}
	}
	turn("low-power")
}

// quoted is the part of a label that an error quotes.
var quoted = regexp.MustCompile(`"[^"]*" in "…"`)

// misprints are a label with a character less, another in its place, or a part less.
func misprints(label string) (list []string) {
	for i := range label {
		list = append(list, label[:i]+label[i+1:])
		for _, c := range "09ALRXZ- " {
			if label[i] != byte(c) {
				list = append(list, label[:i]+string(c)+label[i+1:])
			}
		}
	}
	parts := strings.FieldsFunc(label, func(r rune) bool { return r == ' ' || r == '-' })
	for i := range parts {
		list = append(list, strings.Join(append(append([]string{}, parts[:i]...), parts[i+1:]...), "-"))
	}
	return list
}

var labels = []string{"8GB 1Rx8 PC4-2400T-SA1-11", "16GB 2Rx4 PC4-2666V-RB2-12-DB1", "64GB 2S4Rx4 PC4-2400U-LD0-11",
	"16GB 1Rx8 PC5-4800B-SA0-1010-XT", "32GB 2Rx8 PC5-5600B-EB1-1111-NT", "4GB 1Rx8 PC3L-12800S-11-13-B4",
	"8GB 2Rx8 PC3-10600E-9-10-E1", "16GB 2Rx4 PC3L-12800R-11-13-E2", "2GB 2Rx8 PC2-6400S-666-12-E3",
	"1GB 1Rx8 PC2-5300U-555-12", "512MB PC2700S-2533-0", "256MB PC3200U-30331", "128MB PC133U-333-542",
	"PC4-3200AA-SE1-11", "PC3L-12800S", "8GB PC4-2133P"}

// A label that is read is written as it was read: what it writes is read to the same, whatever was misprinted; and what
// is refused is quoted, with what to do about it.
func TestAMisprintedLabelIsReadAsWhatItSaysOrRefused(t *testing.T) {
	read, refused := 0, 0
	for _, label := range labels {
		for _, text := range append(misprints(label), label) {
			l, err := jedec.ParseLabel(text)
			if err != nil {
				refused++
				assert.Contains(t, err.Error(), `"`, text)
				continue
			}
			read++
			again, err := jedec.ParseLabel(l.String())
			require.NoError(t, err, "%s was read as %s", text, l)
			assert.Equal(t, l.String(), again.String(), text)
			if size, ok := l.Capacity.Get(); ok { // no size out of nothing
				assert.Contains(t, strings.ReplaceAll(text, " ", ""), strings.ReplaceAll(size.String(), " ", ""), text)
			}
		}
	}
	assert.Greater(t, read, 400)
	assert.Greater(t, refused, 2000)
}

// A label of each kind with a character less, another in its place, or a part less: what it says then, or what is
// wrong.
func TestEveryCharacterOfALabel(t *testing.T) {
	for _, label := range []string{labels[0], labels[5]} {
		var page golden.Page
		var order []string
		by := make(map[string][]string)
		for _, text := range append([]string{label}, misprints(label)...) {
			l, err := jedec.ParseLabel(text)
			says := ""
			if err == nil {
				says = l.String()
			} else {
				says = "- " + quoted.ReplaceAllString(strings.ReplaceAll(err.Error(), text, "…"), "it")
			}
			if by[says] == nil {
				order = append(order, says)
			}
			by[says] = append(by[says], text)
		}
		for _, says := range order {
			page.Add(says, strings.Join(by[says], " | "))
		}
		page.Compare(t, "testdata/misprints-"+strings.ToLower(strings.Fields(label)[2][:3])+".txt")
	}
}
