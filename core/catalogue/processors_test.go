package catalogue

import (
	"fmt"
	"regexp"
	"regexp/syntax"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/truth/effort"
)

func ids(list []Controller) (out []string) {
	for _, c := range list {
		if len(out) == 0 || out[len(out)-1] != c.ID {
			out = append(out, c.ID)
		}
	}
	return out
}

func TestTheTablesAreSound(t *testing.T) {
	require.Equal(t, 418, len(controllerRows()))
	families := make(map[string]string)
	for _, r := range controllerRows() {
		_, err := regexp.Compile(r.text("brand_regex"))
		require.NoError(t, err, r.text("id"))
		if brand, ok := families[r.text("id")]; ok {
			assert.Equal(t, brand, r.text("brand_regex"), "%s: one expression a family", r.text("id"))
		}
		families[r.text("id")] = r.text("brand_regex")
		for _, column := range []string{"tiers", "max_gb_tiers", "ecc_tiers", "channels_tiers"} {
			for _, tier := range r.tiers(column) {
				_, err := regexp.Compile(tier.key)
				require.NoError(t, err, "%s %s", r.text("id"), column)
			}
		}
		_, _, known := jedec.ParseGeneration(r.text("generation"))
		assert.Equal(t, !r.led(), known, r.text("generation"))
	}
	assert.Equal(t, 313, len(families))
	require.Equal(t, 332, len(chipsetRows()))
}

// Every family is found from brand strings of its own form with its family and
// model numbers, and no string belongs to two.
func TestEachFamilyIsFoundFromItsBrandStrings(t *testing.T) {
	effort.NotShort(t)
	tried := make(map[string]int)
	for _, r := range controllerRows() {
		id, expression := r.text("id"), r.text("brand_regex")
		if tried[id] > 0 {
			continue
		}
		parsed, err := syntax.Parse(expression, syntax.Perl)
		require.NoError(t, err)
		for pick := range effort.Cases(24) {
			brand := sample(parsed.Simplify(), pick)
			if !matches(expression, brand) {
				continue // a word boundary that the sample does not keep
			}
			for _, model := range r.list("cpuid_model") {
				for _, family := range r.list("cpuid_family") {
					f, err1 := strconv.ParseInt(family, 0, 32)
					m, err2 := strconv.ParseInt(model, 0, 32)
					require.NoError(t, err1)
					require.NoError(t, err2)
					found := familiesOf(Processor{Maker: r.text("maker"), Brand: brand, Family: maybe.Just(int(f)),
						Model: maybe.Just(int(m))})
					for _, other := range found {
						assert.Equal(t, id, other, "%q with %s/%s", brand, family, model)
					}
					if len(found) > 0 {
						tried[id]++
					}
				}
			}
		}
		assert.Positive(t, tried[id], "%s: no string of the form %s found it", id, expression)
	}
	assert.Equal(t, 313, len(tried))
}

func TestBrandStringsAsProcessorsGiveThem(t *testing.T) {
	for _, c := range []struct {
		brand         string
		family, model int
		id            string
	}{
		{"Intel(R) Core(TM) i7-7500U CPU @ 2.70GHz", 6, 0x8E, "intel-kaby-lake-u"},
		{"AMD Ryzen 5 5600U with Radeon Graphics", 0x19, 0x50, "amd-cezanne-mobile"},
		{"Intel(R) Core(TM)2 Duo CPU     T7700  @ 2.40GHz", 6, 15, ""}, // its controller is in the northbridge
		{"Harbour Silicon Petrel P5-8240 @ 1.60GHz", 6, 200, ""},
		{"Intel(R) Core(TM) i7-7500U CPU @ 2.70GHz", 6, 0x3C, ""}, // the number belongs to another family
		{"", 6, 0x8E, ""},
	} {
		got := ids(Recognise(Processor{Brand: c.brand, Family: maybe.Just(c.family), Model: maybe.Just(c.model)}))
		if c.id == "" {
			assert.Empty(t, got, c.brand)
			continue
		}
		assert.Equal(t, []string{c.id}, got, c.brand)
	}
}

func TestLimitsAreThoseOfTheBrandsTier(t *testing.T) {
	rates := make(map[string]bool)
	for _, r := range controllerRows() {
		for _, brand := range []string{"no such brand"} {
			if len(r.tiers("tiers")) > 0 {
				c := r.controller(brand)
				assert.False(t, c.Rate.Known(), "%s: tiers, and none matches: unknown, not the family's best", c.ID)
				rates[c.ID] = true
			}
		}
	}
	assert.NotEmpty(t, rates)
	kaby := Recognise(Processor{Brand: "Intel(R) Core(TM) i7-7500U CPU @ 2.70GHz", Family: maybe.Just(6),
		Model: maybe.Just(0x8E)})
	var generations []string
	for _, c := range kaby {
		generations = append(generations, c.Generation)
		assert.Equal(t, maybe.Just(2), c.Channels)
		assert.NotEmpty(t, c.Basis)
		assert.Contains(t, []Confidence{High, Medium, Low}, c.Confidence)
		if c.Generation == "DDR3L" {
			assert.Equal(t, []int{1350}, c.MilliVolts, "1.5 V modules are outside the specification")
			assert.Contains(t, c.Soft, "max_density_gbit", "only one compilation had it")
			ecc, known := c.ECC.Get()
			assert.True(t, known)
			assert.Empty(t, ecc)
		}
	}
	assert.Contains(t, generations, "DDR4")
}

func TestDisputedCellsAreUnknown(t *testing.T) {
	for _, r := range controllerRows() {
		for _, entry := range regexp.MustCompile(`(?:^|; )(rate_1dpc|max_gb|max_density_gbit|dimms_per_channel)`+
			`: A=`).FindAllStringSubmatch(r.text("disputed"), -1) {
			assert.Empty(t, r.text(entry[1]), "%s: %s is disputed", r.text("id"), entry[1])
		}
	}
}

func TestChipsetsByPCIID(t *testing.T) {
	found := ChipsetsWithID("8086:1C4B")
	require.Len(t, found, 1)
	assert.Equal(t, "intel-hm67", found[0].ID)
	shared := ChipsetsWithID("8086:1a30")
	require.Equal(t, 3, len(shared), "one id, three chipsets")
	assert.True(t, shared[0].Shared)
	recalled := ChipsetsWithID("8086:4387")
	require.Len(t, recalled, 1)
	assert.True(t, recalled[0].Recalled)
	assert.Equal(t, maybe.Just(true), recalled[0].Overclock)
	assert.Empty(t, ChipsetsWithID("8086:a30d"), "an id that the list contradicts is in no row")
	assert.Empty(t, ChipsetsWithID(""))
}

func ExampleRecognise() {
	for _, c := range Recognise(Processor{Brand: "Intel(R) Core(TM) i7-7500U CPU @ 2.70GHz", Family: maybe.Just(6),
		Model: maybe.Just(0x8E)}) {
		rate, _ := c.Rate.Get()
		fmt.Println(c.Family, c.Generation, rate)
	}
	// Output:
	// Kaby Lake-U DDR4 2133 MT/s
	// Kaby Lake-U DDR3L 1600 MT/s
	// Kaby Lake-U LPDDR3 1866 MT/s
}

func BenchmarkRecognise(b *testing.B) {
	p := Processor{Brand: "Intel(R) Core(TM) i7-7500U CPU @ 2.70GHz", Family: maybe.Just(6), Model: maybe.Just(0x8E)}
	for b.Loop() {
		Recognise(p)
	}
}

// What the first look at the catalogue costs a command.
func BenchmarkReadTables(b *testing.B) {
	for b.Loop() {
		readTable("controllers", controllersCSV)
		readTable("chipsets", chipsetsCSV)
		readTable("systems", systemsCSV)
	}
}
