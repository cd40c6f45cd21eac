package catalogue_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/golden"
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

// All that the catalogue knows, as it is read from its tables.
func TestTheWholeCatalogue(t *testing.T) {
	var page strings.Builder
	var k catalogue.Catalogue
	for _, e := range k.Entries() {
		name := e.ID
		if name == "" {
			name = e.Name
		}
		fmt.Fprintf(&page, "%s %s: %s, %v, %s\n", e.Kind, name, e.Name, e.Generations, e.Confidence)
		f := k.Named(name)
		for _, c := range f.Controllers {
			fmt.Fprintf(&page, "  %s\n", shown(t, c.JSON()))
			var soft []string
			for _, l := range []catalogue.Limit{catalogue.Channels, catalogue.Slots, catalogue.RateOne, catalogue.RateTwo,
				catalogue.Most, catalogue.Density, catalogue.X4, catalogue.X16, catalogue.ECC, catalogue.Volts} {
				if s := c.Standing(l); s.String() != "settled" {
					soft = append(soft, fmt.Sprintf("%s %v", l, s))
				}
				if n, ok := c.AtLeast(l); ok {
					soft = append(soft, fmt.Sprintf("%s at least %d", l, n))
				}
			}
			if len(soft) > 0 {
				fmt.Fprintf(&page, "    %s\n", strings.Join(soft, ", "))
			}
		}
		for _, c := range f.Chipsets {
			fmt.Fprintf(&page, "  %s\n", shown(t, c.JSON()))
			for _, x := range c.Controllers() {
				fmt.Fprintf(&page, "    %s\n", shown(t, x.JSON()))
			}
			for _, g := range c.Generations {
				if cap, ok := c.RateCap(g).Get(); ok {
					fmt.Fprintf(&page, "    %s at most %v\n", g, cap)
				}
			}
		}
		for _, s := range f.Systems {
			fmt.Fprintf(&page, "  %s\n", shown(t, s.JSON()))
		}
	}
	for _, g := range jedec.Generations() {
		for _, f := range g.Trait().Forms {
			fmt.Fprintf(&page, "%v %v: sizes %v\n", g, f.Form, catalogue.SizesSold(g, f.Form))
			kinds := make(map[string]int)
			var order []string
			for _, s := range catalogue.Market(g, f.Form) {
				kind := fmt.Sprintf("%v, %d ranks x%d, rare %v, registered %v, with check bits %v, %d mV, %v", s.Size, s.Ranks,
					s.Width,
					s.Rare, s.Registered, s.Checked, s.MilliVolts, s.Grades)
				if kinds[kind]++; kinds[kind] == 1 {
					order = append(order, kind)
				}
			}
			for _, kind := range order {
				fmt.Fprintf(&page, "  %d × %s\n", kinds[kind], kind)
			}
		}
	}
	golden.Compare(t, "testdata/whole.txt", page.String())
}

// Every field of an entry of the workshop's own with every sort of value: what it takes, and what is said of the rest.
func TestEveryFieldWithEveryValue(t *testing.T) {
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
	var page strings.Builder
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
			fmt.Fprintf(&page, "## %s, %s\n", c.what, key)
			var outcomes []string
			by := make(map[string][]string)
			for _, v := range values {
				o, faults := catalogue.ParseOverlay("ours.yaml", fmt.Appendf(nil, "epitome-catalogue: 1\n"+c.text+"\n",
					strings.Join(append(parts, key+": "+v), ", ")))
				says := ""
				for _, f := range faults {
					says += strings.Replace(f.Says, `"`+v+`"`, "it", 1) + "; "
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
			for _, says := range outcomes {
				fmt.Fprintf(&page, "%s\n    %s\n", strings.Join(by[says], " | "), says)
			}
		}
	}
	golden.Compare(t, "testdata/fields.txt", page.String())
}
