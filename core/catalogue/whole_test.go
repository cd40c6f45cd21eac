package catalogue_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/golden"
	"epitome/truth/effort"
)

// shown writes what an object says in one line.
func shown(t *testing.T, object map[string]any) string {
	text, err := json.Marshal(object)
	require.NoError(t, err)
	var said map[string]any
	require.NoError(t, json.Unmarshal(text, &said))
	for key, value := range said {
		if list, ok := value.([]any); value == nil || ok && len(list) == 0 {
			delete(said, key)
		}
	}
	text, err = json.Marshal(said)
	require.NoError(t, err)
	return strings.ReplaceAll(string(text), `"`, "")
}

// The file that a workshop fills in.
func TestTheTemplate(t *testing.T) {
	golden.Compare(t, "testdata/template.yaml", catalogue.Template())
}

// Every row of the catalogue is found by its name, and says what can be: grades of its generation, powers of two, sizes
// that modules come in, and how far it may be trusted.
func TestEveryEntrySaysWhatCanBe(t *testing.T) {
	var k catalogue.Catalogue
	entries := 0
	for _, e := range k.Entries() {
		name := e.ID
		if name == "" {
			name = e.Name
		}
		f := k.Named(name)
		require.NotZero(t, len(f.Controllers)+len(f.Led)+len(f.Chipsets)+len(f.Systems)+len(f.Boards), name)
		entries++
		for _, c := range f.Controllers {
			g, _, ok := jedec.ParseGeneration(c.Generation)
			require.True(t, ok, "%s: %s", name, c.Generation)
			assert.Contains(t, e.Generations, c.Generation, name)
			assert.Contains(t, []catalogue.Confidence{catalogue.High, catalogue.Medium, catalogue.Low}, c.Confidence, name)
			for what, bound := range map[string]struct {
				got         maybe.Value[int]
				least, most int
			}{"channels": {c.Channels, 1, 12}, "slots a channel": {c.DIMMs, 1, 4}, "ranks of a channel": {c.ChannelRanks, 1, 16},
				"die in Mbit": {c.DensityMbit, 64, 64 << 10}} {
				if n, ok := bound.got.Get(); ok {
					assert.True(t, n >= bound.least && n <= bound.most, "%s: %s %d", name, what, n)
				}
			}
			if x, ok := c.Rate.Get(); ok && !g.LowPower() {
				_, standard := jedec.GradeAt(g, x)
				slow := g == jedec.DDR3 && x == 667 // as the mobile Atom of 2010 runs it
				assert.True(t, standard || slow, "%s: %v %v", name, g, x)
			}
			if most, ok := c.Most.Get(); ok {
				assert.True(t, most >= 128*jedec.MiB && most <= 16*jedec.TiB, "%s: %v", name, most)
			}
			for _, mv := range c.MilliVolts {
				assert.True(t, mv >= 500 && mv <= 3300, "%s: %d mV", name, mv)
			}
			for _, l := range []catalogue.Limit{catalogue.Channels, catalogue.Slots, catalogue.RateOne, catalogue.RateTwo,
				catalogue.Most, catalogue.Density, catalogue.X4, catalogue.X16, catalogue.ECC, catalogue.Volts} {
				if c.Confidence == catalogue.Low {
					assert.NotEqual(t, fact.Settled, c.Standing(l), "%s: %s", name, l)
				}
			}
		}
		for _, c := range f.Chipsets {
			for _, g := range c.Generations {
				if top, ok := c.RateCap(g).Get(); ok {
					assert.Positive(t, top, name)
				}
			}
			assert.NotEmpty(t, c.Name, name)
		}
	}
	assert.Greater(t, entries, 500)
}

// What is sold is of sizes that are made, and its chips add up.
func TestEveryModuleSoldAddsUp(t *testing.T) {
	for _, g := range jedec.Generations() {
		for _, f := range g.Trait().Forms {
			sizes := catalogue.SizesSold(g, f.Form)
			for _, s := range catalogue.Market(g, f.Form) {
				assert.Contains(t, sizes, s.Size, "%v %v", g, f.Form)
				assert.NotEmpty(t, s.Grades, "%v %v %v", g, f.Form, s.Size)
				for _, x := range s.Grades {
					_, ok := jedec.GradeAt(g, x.Grade.Rate)
					assert.True(t, ok, "%v at %v", g, x)
				}
			}
		}
	}
}

// Some entries as they are shown, one of each sort.
func TestEntriesInFull(t *testing.T) {
	var page golden.Page
	var k catalogue.Catalogue
	for _, name := range []string{"intel-pineview-m", "intel-kaby-lake-u", "intel-coffee-lake-s", "amd-summit-ridge",
		"H110",
		"Q35", "GM45", "X99"} {
		f := k.Named(name)
		var lines []string
		for _, c := range f.Controllers {
			lines = append(lines, shown(t, c.JSON()))
			var soft []string
			for _, l := range []catalogue.Limit{catalogue.Channels, catalogue.RateOne, catalogue.Most, catalogue.Density,
				catalogue.X4, catalogue.ECC, catalogue.Volts} {
				if s := c.Standing(l); s.String() != "settled" {
					soft = append(soft, fmt.Sprintf("%s %v", l, s))
				}
				if n, ok := c.AtLeast(l); ok {
					soft = append(soft, fmt.Sprintf("%s at least %d", l, n))
				}
			}
			lines = append(lines, soft...)
		}
		for _, c := range f.Chipsets {
			lines = append(lines, shown(t, c.JSON()))
			for _, x := range c.Controllers() {
				lines = append(lines, shown(t, x.JSON()))
			}
		}
		page.Add(name, lines...)
	}
	page.Compare(t, "testdata/entries.txt")
}

// Every field of an entry of the workshop's own with every sort of value: what it takes, and what is said of the rest.
func TestEveryFieldWithEveryValue(t *testing.T) {
	effort.NotShort(t)
	values := []string{"0", "1", "2", "4", "5", "16", "17", "32", "33", "-1", "1.5", "abc", "16GB", "0GB", "3GB",
		"12GB", "16 MB", "128TB",
		"yes", "no", "maybe", "true", "DDR4", "DDR9", "[DDR4, DDR5]", "[]", "1.2", "0.89", "3.7", "[1.35, 1.5]",
		"[1.5, 1.5]", "1,35 V",
		"none", "udimm", "[udimm, rdimm]", "[none]", "1333", "1334", "2400", "10000", "8Gbit", "3Gbit", "16384", "DIMM",
		"SO-DIMM", "[a, b]",
		"'fafa:0c47'", "[fafa, 'fafa:0c47']", "high", "medium", "sure", "board", "[chipset, board]", "'['", "~", "{a: 1}",
		"[{name: A1}]", "[{name: A1, order: 1, maximum: 8GB}, {name: a1}]", "[{name: A1, order: 0}]", "[{size: 4GB}]",
		"[{modules_per_channel: 2, rate: 2400}]", "[{modules_per_channel: 5, rate: 2400}]", "[{rate: 2400}]",
		"[{total: 64GB, times: 2}]",
		"[{times: 2}]", "[{total: 64GB, times: 0}]", "[{generation: DDR4}]",
		"[{generation: DDR4, rate: 2400}, {generation: DDR4}]"}
	for _, c := range []struct{ what, text, keys string }{
		{"takes", "processors: [{brand: Petrel, basis: sheet, takes: [{%s}]}]",
			"generation channels slots_per_channel ranks_per_channel " +
				"rate rate_dual_rank rate_without_clock_driver rate_of_two_slots rate_two_modules rate_two_dual_rank maximum " +
				"maximum_that_runs largest_die die_that_runs x4 x16 ecc ecc_if volts note colour"},
		{"processor", "processors: [{%s}]", "id maker family brand cpuid takes from basis confidence"},
		{"chipset", "chipsets: [{%s}]",
			"id maker name pci_ids generations slots_per_channel rate_cap profiles ecc takes basis confidence"},
		{"board", "boards: [{%s}]",
			"maker names generations takes maximum per_slot slots soldered rates profiles clock_drivers ecc volts " +
				"largest_die ran basis confidence"},
	} {
		rest := map[string]string{"takes": "generation: DDR4",
			"processor": "brand: Petrel, basis: sheet, takes: [{generation: DDR4}]",
			"chipset":   "name: X47, pci_ids: 'fafa:0c47', basis: sheet",
			"board":     "maker: Groyne, names: GBX, basis: manual"}[c.what]
		var page golden.Page
		for _, key := range strings.Fields(c.keys) {
			var parts []string
			for part := range strings.SplitSeq(rest, ", ") {
				if !strings.HasPrefix(part, key+":") {
					parts = append(parts, part)
				}
			}
			if key == "takes" && c.what == "processor" {
				parts = []string{"brand: Petrel", "basis: sheet"}
			}
			var outcomes []string
			by := make(map[string][]string)
			refused := make(map[string][]string)
			var saying []string
			for _, v := range values {
				o, faults := catalogue.ParseOverlay("ours.yaml", fmt.Appendf(nil, "epitome-catalogue: 1\n"+c.text+"\n",
					strings.Join(append(parts, key+": "+v), ", ")))
				says := ""
				for _, f := range faults {
					says += strings.Replace(f.Says, `"`+v+`"`, "it", 1) + "; "
					assert.Equal(t, 2, f.Line, "%s: %s of %s: %s", key, v, c.what, f.Says)
				}
				if len(faults) > 0 {
					if says = strings.TrimSuffix(says, "; "); refused[says] == nil {
						saying = append(saying, says)
					}
					refused[says] = append(refused[says], v)
					continue
				}
				for _, p := range o.Processors {
					for _, x := range p.Takes {
						says += shown(t, x.JSON())
					}
				}
				for _, x := range o.Chipsets {
					says += shown(t, x.JSON())
				}
				for _, b := range o.Boards {
					says += shown(t, b.JSON())
				}
				if by[says] == nil {
					outcomes = append(outcomes, says)
				}
				by[says] = append(by[says], v)
			}
			lines := []string{}
			for _, says := range outcomes {
				lines = append(lines, fmt.Sprintf("%s: %s", strings.Join(by[says], " | "), says))
			}
			slices.SortStableFunc(saying, func(a, b string) int { return len(refused[b]) - len(refused[a]) })
			for _, says := range saying[:min(3, len(saying))] {
				lines = append(lines, fmt.Sprintf("- %s: %s", refused[says][0], says))
			}
			assert.True(t, key == "colour" || len(outcomes) > 0, "%s takes nothing", key)
			assert.True(
				t,
				key == "note" || key == "basis" || key == "id" || key == "maker" || key == "family" || key == "name" ||
					key == "names" || len(saying) > 0,
				"%s takes everything",
				key,
			)
			page.Add(c.what+", "+key, lines...)
		}
		page.Compare(t, "testdata/fields-"+c.what+".txt")
	}
}
