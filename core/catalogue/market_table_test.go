package catalogue

import (
	"encoding/csv"
	"fmt"
	"os"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
)

// What each generation's standard has: rates with the CAS latencies that sold bins name, supplies, forms, and the first
// year in which a die was to be had on modules.
var (
	madeAt = map[string]map[int]string{
		"DDR":  {266: "2 2.5", 333: "2.5", 400: "2.5 3"},
		"DDR2": {400: "3 4", 533: "3 4", 667: "4 5", 800: "4 5 6"},
		"DDR3": {1066: "6 7 8", 1333: "7 8 9 10", 1600: "8 9 10 11", 1866: "10 11 12 13", 2133: "11 12 13 14"},
		"DDR4": {2133: "14 15 16", 2400: "15 16 17 18", 2666: "17 18 19 20", 2933: "19 20 21 22", 3200: "20 22 24"},
		"DDR5": {3600: "26 30 32", 4000: "28 32 36", 4400: "32 36 40", 4800: "34 40 42", 5200: "38 42 46",
			5600: "40 46 50", 6000: "42 48 54", 6400: "46 52 56"},
		"LPDDR5X": {7500: "", 8533: ""},
	}
	ratedFor = map[string][]string{"DDR": {"2.5", "2.5|2.6"}, "DDR2": {"1.8"}, "DDR3": {"1.5"}, "DDR3L": {"1.35|1.5"},
		"DDR4": {"1.2"}, "DDR5": {"1.1"}, "LPDDR5X": {"1.05"}}
	madeAs = map[string]string{"DDR": "DIMM SO-DIMM", "DDR2": "DIMM SO-DIMM FB-DIMM", "DDR3": "DIMM SO-DIMM",
		"DDR3L": "DIMM SO-DIMM", "DDR4": "DIMM SO-DIMM", "DDR5": "DIMM SO-DIMM CAMM2", "LPDDR5X": "LPCAMM2"}
	bufferedAs = map[string]string{"unbuffered": "DIMM SO-DIMM CAMM2 LPCAMM2", "clocked unbuffered": "DIMM SO-DIMM",
		"registered": "DIMM", "load-reduced": "DIMM", "fully buffered": "FB-DIMM"}
	diesSince = map[string]map[string]int{"DDR": {"0.125": 2001, "0.25": 2001, "0.5": 2003, "1": 2004},
		"DDR2": {"0.25": 2004, "0.5": 2004, "1": 2006, "2": 2008}, "DDR3": {"1": 2007, "2": 2009, "4": 2011, "8": 2014},
		"DDR3L": {"2": 2010, "4": 2012, "8": 2014}, "DDR4": {"4": 2014, "8": 2015, "16": 2019},
		"DDR5": {"16": 2021, "24": 2023, "32": 2024}}
	profilesAt = map[string][2]int{"DDR": {400, 600}, "DDR2": {800, 1200}, "DDR3": {1600, 2666}, "DDR3L": {1600, 2400},
		"DDR4": {2666, 4800}, "DDR5": {5200, 9000}}
)

type cellsOf = map[string]string

func tableOf(t *testing.T, text string) (rows []cellsOf) {
	t.Helper()
	all, err := csv.NewReader(strings.NewReader(text)).ReadAll()
	require.NoError(t, err)
	for _, cells := range all[1:] {
		row := make(cellsOf)
		for i, c := range all[0] {
			row[c] = cells[i]
		}
		rows = append(rows, row)
	}
	return rows
}

func parts(cell string) []string {
	if cell == "" {
		return nil
	}
	return strings.Split(cell, "|")
}

func whole(s string) int {
	n, err := strconv.Atoi(s)
	if err != nil {
		return -1
	}
	return n
}

var soldKey = strings.Fields("generation form buffering ecc size_mib ranks device_width_bits")

// keyOf is the first n columns of a row's key.
func keyOf(r cellsOf, n int) string {
	var words []string
	for _, c := range soldKey[:n] {
		words = append(words, r[c])
	}
	return strings.Join(words, " ")
}

// commonnessOf is how common a row's module is at a rate, 0 the most; a step less where the rate is scarce.
func commonnessOf(r cellsOf, rate string) int {
	best := len(howCommon)
	for _, use := range []string{"laptop", "desktop", "server"} {
		best = min(best, slices.Index(howCommon, HowCommon(r[use])))
	}
	if slices.Contains(parts(r["scarce_rates"]), rate) {
		best++
	}
	return min(best, 2)
}

// faultsOf are what is wrong with a row of the market by itself.
func faultsOf(r cellsOf) (faults []string) {
	fault := func(is bool, format string, args ...any) {
		if is {
			faults = append(faults, keyOf(r, len(soldKey))+": "+fmt.Sprintf(format, args...))
		}
	}
	among := func(list, one string) bool { return slices.Contains(strings.Fields(list), one) }
	gen, form, buffering, ecc := r["generation"], r["form"], r["buffering"], r["ecc"] == "yes"
	buffered := buffering != "unbuffered" && buffering != "clocked unbuffered"
	made := madeAt[strings.TrimSuffix(gen, "L")]
	ranks, width, stack := whole(r["ranks"]), whole(r["device_width_bits"]), whole(r["stack"])
	fault(made == nil, "generation")
	fault(!among(madeAs[gen], form) || !among(bufferedAs[buffering], form), "not made as %s %s", buffering, form)
	fault(buffering == "clocked unbuffered" && gen != "DDR5", "clock drivers begin with DDR5")
	fault(buffering == "load-reduced" && !among("DDR3 DDR3L DDR4", gen), "no load-reduced %s is sold", gen)
	fault(buffered && !ecc, "%s without check bits", buffering)
	fault(ecc && width == 16, "x16 chips with check bits")
	fault(width == 4 && buffering == "unbuffered" && !strings.Contains(r["note"], "x4"), "unbuffered x4 without a word")
	fault(ranks > 2 && !buffered && form != "CAMM2", "more than two ranks unbuffered")
	fault(r["stack"] != "" && (stack < 1 || ranks%stack != 0 || stack > 1 && !buffered), "stack")
	bus := 64
	if strings.Contains(form, "CAMM2") {
		bus = 128
	}
	fault(whole(r["bus_bits"]) != bus, "bus_bits")
	if form == "LPCAMM2" {
		fault(r["ranks"]+r["device_width_bits"]+r["die_gbit"] != "", "the layout of an LPCAMM2 is left open")
	} else {
		die, err := strconv.ParseFloat(r["die_gbit"], 64)
		fault(err != nil || die*1024/8*float64(bus)/float64(width)*float64(ranks) != float64(whole(r["size_mib"])),
			"%s Gbit do not make it", r["die_gbit"])
	}
	rates, cls := parts(r["rates"]), parts(r["cl"])
	byFigure := func(a, b string) int { return whole(a) - whole(b) }
	fault(len(rates) == 0 || !slices.IsSortedFunc(rates, byFigure), "rates")
	for i, x := range rates {
		latencies, real := made[whole(x)]
		fault(!real || latencies != "" && (i >= len(cls) || !among(latencies, cls[i])), "%s, or its latency", x)
		fault(i > 0 && rates[i-1] == x, "%s twice", x)
		fault(gen == "DDR5" && buffering == "unbuffered" && whole(x) > 5600, "plain DDR5 above 5600")
	}
	scarce := parts(r["scarce_rates"])
	for _, x := range append(slices.Clone(scarce), parts(r["ordinary_for"])...) {
		fault(!slices.Contains(rates, x), "scarce or ordinary at %s, which it is not sold at", x)
	}
	fault(len(scarce) > 0 && len(scarce) == len(rates), "everything is scarce")
	profiles, quick := parts(r["profile_rates"]), parts(r["profile_cl"])
	fault(len(profiles) != len(quick) || (len(profiles) > 0) != (r["profile_volts"] != "") ||
		!slices.IsSortedFunc(profiles, byFigure) || len(profiles) > 0 && (buffered || ecc), "profiles")
	for i, x := range profiles {
		fault(whole(x) < profilesAt[gen][0] || whole(x) > profilesAt[gen][1], "profile %s", x)
		if at := slices.Index(rates, x); at >= 0 && i < len(quick) && at < len(cls) {
			by, _ := strconv.ParseFloat(quick[i], 64)
			standard, _ := strconv.ParseFloat(cls[at], 64)
			fault(by >= standard, "profile %s is no quicker than the grade", x)
		}
	}
	fault(!slices.Contains(ratedFor[gen], r["volts"]) ||
		gen == "DDR" && strings.Contains(r["volts"], "2.6") != slices.Contains(rates, "400"), "volts")
	span := regexp.MustCompile(`^(20\d\d)-(20\d\d)?$`).FindStringSubmatch(r["years"])
	fault(span == nil || span[2] != "" && span[2] < span[1], "years")
	if r["die_gbit"] != "" && span != nil {
		since := diesSince[gen][r["die_gbit"]]
		fault(since == 0 || whole(span[1]) < since, "sold before its dies")
	}
	uses := []string{r["laptop"], r["desktop"], r["server"]}
	for _, u := range uses {
		fault(!slices.Contains(howCommon, HowCommon(u)), "%q", u)
	}
	small := form == "SO-DIMM" || strings.Contains(form, "CAMM2")
	fault(small == (uses[0] == "no"), "in laptops %s", uses[0])
	fault(buffered && (uses[1] != "no" || uses[2] == "no") || !ecc && uses[2] != "no", "desktops or servers")
	fault(r["confidence"] == "high" && r["compilations"] != "2" || r["confidence"] == "", "confidence")
	return faults
}

// faultsOfAll are what is wrong with rows beside each other: a key twice, and not one ordinary module for each size and
// rate, or one that is less common than another.
func faultsOfAll(rows []cellsOf) (faults []string) {
	keys, groups := make(map[string]bool), make(map[string][]cellsOf)
	for _, r := range rows {
		faults = append(faults, faultsOf(r)...)
		if k := keyOf(r, len(soldKey)); keys[k] {
			faults = append(faults, k+": twice")
		}
		keys[keyOf(r, len(soldKey))] = true
		for _, x := range parts(r["rates"]) {
			at := keyOf(r, 5) + " at " + x
			groups[at] = append(groups[at], r)
		}
	}
	for at, of := range groups {
		rate := at[strings.LastIndex(at, " ")+1:]
		ordinary, amd := 0, true
		for _, r := range of {
			forAMD := strings.Contains(r["note"], "AMD only")
			amd = amd && forAMD
			if !slices.Contains(parts(r["ordinary_for"]), rate) {
				continue
			}
			ordinary++
			for _, o := range of {
				if commonnessOf(o, rate) < commonnessOf(r, rate) && !strings.Contains(o["note"], "AMD only") {
					faults = append(faults, at+": another is more common than the ordinary one")
				}
			}
		}
		if ordinary != 1 && !amd {
			faults = append(faults, fmt.Sprintf("%s: %d ordinary modules", at, ordinary))
		}
	}
	return faults
}

// The table of the market is held against arithmetic and the standards, row by row and beside each other.
func TestTheMarketsTable(t *testing.T) {
	rows := tableOf(t, marketCSV)
	assert.Len(t, rows, 263)
	assert.Empty(t, faultsOfAll(rows))
	// Each check notices what it is for.
	at := func(want cellsOf) int {
		return slices.IndexFunc(rows, func(r cellsOf) bool {
			for c, v := range want {
				if r[c] != v {
					return false
				}
			}
			return true
		})
	}
	plain := cellsOf{"generation": "DDR4", "form": "DIMM", "buffering": "unbuffered", "ecc": "no", "size_mib": "8192",
		"ranks": "1", "device_width_bits": "8"}
	for name, x := range map[string]struct {
		at     cellsOf
		change cellsOf
	}{
		"arithmetic":                {plain, cellsOf{"die_gbit": "16"}},
		"ranks":                     {plain, cellsOf{"ranks": "2"}},
		"another generation's rate": {plain, cellsOf{"rates": "2133|2400|2666|2933|4800"}},
		"out of order":              {plain, cellsOf{"rates": "2400|2133|2666|2933|3200"}},
		"a latency short":           {plain, cellsOf{"cl": "15|17"}},
		"plain as registered":       {plain, cellsOf{"buffering": "registered"}},
		"registered without ECC":    {cellsOf{"generation": "DDR4", "buffering": "registered"}, cellsOf{"ecc": "no"}},
		"FB-DIMM as DIMM":           {cellsOf{"form": "FB-DIMM"}, cellsOf{"form": "DIMM"}},
		"DDR3 at 1.35 V":            {cellsOf{"generation": "DDR3"}, cellsOf{"volts": "1.35"}},
		"DDR3L at 1.5 V alone":      {cellsOf{"generation": "DDR3L"}, cellsOf{"volts": "1.5"}},
		"years backwards":           {plain, cellsOf{"years": "2020-2015"}},
		"before its dies":           {cellsOf{"generation": "DDR5", "die_gbit": "24"}, cellsOf{"years": "2021-"}},
		"two ordinary": {cellsOf{"generation": "DDR4", "form": "DIMM", "size_mib": "8192",
			"device_width_bits": "16", "ecc": "no"}, cellsOf{"ordinary_for": "3200"}},
		"no ordinary":            {plain, cellsOf{"ordinary_for": "2400"}},
		"a rare one is ordinary": {plain, cellsOf{"desktop": "rare"}},
		"plain in servers":       {plain, cellsOf{"server": "rare"}},
		"x16 with check bits":    {cellsOf{"generation": "DDR4", "device_width_bits": "16"}, cellsOf{"ecc": "yes"}},
		"everything is scarce":   {plain, cellsOf{"scarce_rates": "2133|2400|2666|2933|3200"}},
		"clocked DDR4":           {plain, cellsOf{"buffering": "clocked unbuffered"}},
		"a slow profile":         {plain, cellsOf{"profile_cl": "16|22|18|19"}},
		"high by one":            {cellsOf{"compilations": "1"}, cellsOf{"confidence": "high"}},
	} {
		i := at(x.at)
		require.GreaterOrEqual(t, i, 0, name)
		broken := slices.Clone(rows)
		broken[i] = make(cellsOf)
		for c, v := range rows[i] {
			broken[i][c] = v
		}
		for c, v := range x.change {
			broken[i][c] = v
		}
		assert.NotEmpty(t, faultsOfAll(broken), name)
	}
	assert.NotEmpty(t, faultsOfAll(append(slices.Clone(rows), rows[0])), "a key twice")
}

// What a shop sends where size and rate are named, and what may come instead: the embedded table says line by line what
// the list of ordinary modules has.
func TestWhatAShopSends(t *testing.T) {
	text, err := os.ReadFile("ordinary.csv")
	require.NoError(t, err)
	n := 0
	for _, o := range tableOf(t, string(text)) {
		g, _, _ := jedec.ParseGeneration(o["generation"])
		form, _ := jedec.ParseForm(o["form"])
		kind := soldKinds[o["buffering"]][map[string]int{"yes": 1}[o["ecc"]]]
		for _, s := range Market(g, form) {
			at := slices.IndexFunc(s.Grades, func(g SoldGrade) bool { return int(g.Grade.Rate) == whole(o["rate"]) })
			if s.Kind != kind || int(s.Size/jedec.MiB) != whole(o["size_mib"]) || s.RunsLow() != (o["volts"] == "1.35|1.5") ||
				at < 0 || !s.Grades[at].Ordinary {
				continue
			}
			n++
			assert.Equal(t, [2]string{o["ranks"], o["device_width_bits"]}, [2]string{blank0(s.Ranks), blank0(s.Width)}, o)
			if o["cl"] != "" {
				assert.Equal(t, o["cl"], s.Grades[at].CL.String(), o)
			}
			var others, want []string
			for _, other := range s.Others(s.Grades[at].Grade.Rate) {
				others = append(others, fmt.Sprintf("%dRx%d", other.Ranks, other.Width))
			}
			for _, w := range parts(o["may_come_instead"]) {
				want = append(want, strings.TrimSuffix(w, " (rare)"))
			}
			assert.ElementsMatch(t, want, others, o)
		}
	}
	assert.Equal(t, 407, n)
}

func blank0(n int) string {
	if n == 0 {
		return ""
	}
	return strconv.Itoa(n)
}
