package catalogue_test

import (
	"os"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/machine"
)

// familyOf is the family of a processor by its name alone, with or without a controller of its own.
func familyOf(brand string) string {
	f := catalogue.Catalogue{}.PlatformOf(machine.Machine{Processor: fact.Known(brand)})
	if led, ok := f.Led.Get(); ok {
		return led.ID
	}
	if len(f.Controllers) > 0 {
		return f.Controllers[0].ID
	}
	return ""
}

func familiesOf(brand string) (ids []string) {
	f := catalogue.Catalogue{}.PlatformOf(machine.Machine{Processor: fact.Known(brand)})
	if led, ok := f.Led.Get(); ok {
		ids = append(ids, led.ID)
	}
	for _, c := range f.Controllers {
		ids = append(ids, c.ID)
	}
	return ids
}

// A processor's name is the same with other signs, other letters and other blanks; and what is left of it without
// marks and clock is of the same family or, where that is too little to tell, of none.
func TestNamesByWhatTheyMean(t *testing.T) {
	text, err := os.ReadFile("brands.txt")
	require.NoError(t, err)
	clock := regexp.MustCompile(`\s+(CPU\s*)?@.*$|\s+CPU\b`)
	graphics := regexp.MustCompile(` (with|w/) Radeon.*$`)
	tried, told := 0, 0
	for line := range strings.Lines(string(text)) {
		brand, _, found := strings.Cut(line, "|")
		if !found || strings.HasPrefix(line, "#") {
			continue
		}
		want := familyOf(brand)
		if want == "" {
			continue // its number tells it, or nothing does
		}
		for _, way := range []string{strings.NewReplacer("(R)", "®", "(TM)", "™").Replace(brand), strings.ToUpper(brand),
			strings.ToLower(brand), strings.Join(strings.Fields(brand), " "), strings.Join(strings.Fields(brand), "  ")} {
			assert.Equal(t, want, familyOf(way), way)
			assert.True(t, catalogue.SameProcessor(brand, way), way)
		}
		short := graphics.ReplaceAllString(clock.ReplaceAllString(brand, ""), "")
		short = strings.Join(strings.Fields(regexp.MustCompile(`(?i)\((R|TM)\)`).ReplaceAllString(short, "")), " ")
		tried++
		if got := familyOf(short); got != "" {
			told++
			assert.Contains(t, familiesOf(brand), got, short) // of two sockets' parts of one name the number alone tells
		}
		assert.True(t, catalogue.SameProcessor(brand, short), short)
	}
	assert.Greater(t, told*100, tried*90, "%d of %d told without marks and clock", told, tried)
}

func TestNamesOfOneThing(t *testing.T) {
	for _, c := range []struct {
		a, b string
		same bool
	}{
		{"i5-480M", "Intel(R) Core(TM) i5 CPU       M 480  @ 2.67GHz", true},
		{"Quad-Core Intel Core i5", "Intel(R) Core(TM) i5-7500 CPU @ 3.40GHz", true},
		{"AMD A4-5000", "AMD A4-5000 APU with Radeon(TM) HD Graphics", true},
		{"N100", "Intel(R) N100", true},
		{"i7-4770", "Intel(R) Core(TM) i5-4570 CPU @ 3.20GHz", false},
		{"i7-4770", "Intel(R) Core(TM) i7-4770K CPU @ 3.50GHz", true}, // the vaguer one may lack a letter
		{"i7-4770S", "Intel(R) Core(TM) i7-4770K CPU @ 3.50GHz", false},
		{"", "Intel(R) N100", false},
	} {
		assert.Equal(t, c.same, catalogue.SameProcessor(c.a, c.b), "%q and %q", c.a, c.b)
		assert.Equal(t, c.same, catalogue.SameProcessor(c.b, c.a), "%q and %q", c.b, c.a)
	}
	var k catalogue.Catalogue
	for _, name := range []string{"P965", "Intel P965 Express", "Intel(R) P965 Express Chipset",
		"Intel® P965 EXPRESS  CHIPSET"} {
		found := k.ChipsetsNamed(name)
		if assert.Len(t, found, 1, name) {
			assert.Contains(t, found[0].Name, "P965", name)
		}
	}
	assert.NotEmpty(t, k.ChipsetsNamed("Mobile Intel GM45 Express Chipset"))
	assert.Equal(t, catalogue.SystemsNamed("Windows Vista Home Premium 64-bit", 0),
		catalogue.SystemsNamed("Microsoft® Windows Vista™ Home  Premium 64-bit", 0))
}

// A name that a person wrote, and one of nothing that is known.
func BenchmarkNames(b *testing.B) {
	for _, name := range []string{"i5-480M", "Intel Core i9-99999X"} {
		b.Run(name, func(b *testing.B) {
			for b.Loop() {
				catalogue.Catalogue{}.Controllers(catalogue.Processor{Brand: name})
			}
		})
	}
}
