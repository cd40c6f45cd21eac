package narrow_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/narrow"
	"epitome/golden"
	"epitome/truth/effort"
)

type clue struct {
	name string
	set  func(*narrow.Clues)
}

// everyClue is what a technician may know of a stick or a machine, with figures that are right, near and wrong.
func everyClue() (clues []clue) {
	add := func(name string, set func(*narrow.Clues)) { clues = append(clues, clue{name, set}) }
	for _, n := range []int{144, 168, 184, 200, 204, 240, 244, 260, 262, 288, 100} {
		add(fmt.Sprint(n, " contacts"), func(c *narrow.Clues) { c.Contacts = maybe.Just(n) })
	}
	for _, f := range []jedec.Form{jedec.DIMM, jedec.SODIMM, jedec.MicroDIMM, jedec.CAMM2, jedec.Soldered} {
		add(f.String(), func(c *narrow.Clues) { c.Form = maybe.Just(f) })
	}
	for _, n := range []int{1995, 1999, 2003, 2007, 2010, 2014, 2016, 2019, 2021, 2024} {
		add(fmt.Sprint("sold in ", n), func(c *narrow.Clues) { c.Year = maybe.Just(n) })
	}
	for _, mm := range []float64{15, 16, 25, 54, 57, 61, 62.9, 65, 67, 68, 69.6, 71, 73} {
		add(fmt.Sprint("notch at ", mm), func(c *narrow.Clues) { c.NotchMM = maybe.Just(mm) })
	}
	for _, mhz := range []float64{66, 133, 200, 333, 400, 533, 667, 800, 1066, 1200, 1333, 1600, 2400, 2667, 3200, 4800,
		5600, 7500} {
		add(fmt.Sprint(mhz, " MHz"), func(c *narrow.Clues) { c.MHz = maybe.Just(mhz) })
	}
	for _, mv := range []int{1050, 1100, 1200, 1250, 1350, 1500, 1800, 2500, 3300, 900} {
		add(fmt.Sprint(mv, " mV"), func(c *narrow.Clues) { c.MilliVolts = maybe.Just(mv) })
	}
	for _, size := range []jedec.Capacity{1, 2, 3, 4, 6, 8, 12, 16, 24, 32, 48, 64, 96, 128} {
		for _, slots := range []int{1, 2, 4} {
			add(fmt.Sprint(size*jedec.GiB, " in ", slots), func(c *narrow.Clues) {
				c.Total, c.Slots = maybe.Just(size*jedec.GiB), maybe.Just(slots)
			})
		}
	}
	for _, text := range []string{"PC3L-12800S", "PC4-2400T", "10600", "PC2-5300", "DDR4", "2400", "12800", "zqxv"} {
		add("marked "+text, func(c *narrow.Clues) { c.Marking = text })
	}
	for _, text := range []string{"4.0 GB (3.89 usable)", "16.0 GB (15.9 GB usable)", "8,00 GB", "2400 MHz", "what",
		"8.0 GB (7.5 GB usable)", "8.0 GB (7.4 GB usable)", "8.0 GB (5.5 GB usable)", "8.0 GB (5.4 GB usable)",
		"4.0 GB (3.5 GB usable)", "4.0 GB (2.5 GB usable)", "4.0 GB (2.4 GB usable)", "2.0 GB (1.0 GB usable)",
		"8.0 GB (8.0 GB usable)", "8.0 GB (9.0 GB usable)", "8.00 GB\nSlots used: 1 of 2"} {
		add("a panel says "+text, func(c *narrow.Clues) { c.Note = text })
	}
	return clues
}

// left are the candidates of a result, by name.
func left(r narrow.Result) (names []string) {
	for _, x := range r.Candidates {
		names = append(names, x.String())
	}
	return names
}

// A second clue never brings back what the first excluded; what is gone says why; a look is named while more than one
// remains, and nothing is both left and gone.
func TestASecondClueOnlyNarrows(t *testing.T) {
	clues := everyClue()
	pairs := 0
	for i, a := range clues {
		var c narrow.Clues
		a.set(&c)
		one, err := narrow.From(c)
		if err != nil {
			continue
		}
		for _, x := range one.Excluded {
			assert.NotEmpty(t, x.Why, a.name)
			assert.NotContains(t, left(one), fmt.Sprint(x.Generation, " ", x.Form), a.name)
		}
		for j, b := range clues {
			if !effort.Full() && (i+j)%7 != 0 {
				continue
			}
			both, alone := c, narrow.Clues{}
			b.set(&both)
			b.set(&alone)
			two, err := narrow.From(both)
			if err != nil || both == alone {
				continue // the second says the same of another size
			}
			pairs++
			if a.name[0] == 'm' || a.name[0] == 'a' || b.name[0] == 'm' || b.name[0] == 'a' {
				continue // a text says more than one thing
			}
			for _, name := range left(two) {
				assert.Contains(t, left(one), name, "%s, then %s", a.name, b.name)
			}
		}
	}
	assert.Greater(t, pairs, len(clues)*5)
}

// Clues alone: what remains and what to look at next; of some, why the rest does not remain.
func TestCluesAlone(t *testing.T) {
	var page strings.Builder
	say := func(name string, c narrow.Clues, why bool) {
		r, err := narrow.From(c)
		if err != nil {
			fmt.Fprintf(&page, "%s: %v\n", name, err)
			return
		}
		var left []string
		for _, x := range r.Candidates {
			text := x.String()
			if x.As != "" {
				text += " as " + x.As
			}
			if len(x.Grades) > 0 && c.MHz.Known() {
				text += fmt.Sprint(" ", x.Grades)
			}
			for _, s := range x.Sets[:min(4, len(x.Sets))] {
				text += " [" + s.String() + "]"
			}
			left = append(left, text)
		}
		if n := len(left); n > 6 {
			left = append(left[:6], fmt.Sprintf("%d more", n-6))
		}
		fmt.Fprintf(&page, "%s: %s", name, strings.Join(left, ", "))
		if look, ok := r.Look.Get(); ok {
			fmt.Fprintf(&page, "; look at %s", look.At)
		}
		for _, n := range r.Notes {
			page.WriteString("; " + n)
		}
		page.WriteString("\n")
		var reasons []string
		names := make(map[string][]string)
		for _, x := range r.Excluded {
			reason := strings.Join(x.Why, "; ")
			if names[reason] == nil {
				reasons = append(reasons, reason)
			}
			names[reason] = append(names[reason], fmt.Sprint(x.Generation, " ", x.Form))
		}
		for _, reason := range reasons {
			if why {
				fmt.Fprintf(&page, "  not %s: %s\n", strings.Join(names[reason], ", "), reason)
			}
		}
	}
	for i, a := range everyClue() {
		var c narrow.Clues
		a.set(&c)
		say(a.name, c, i%9 == 0)
	}
	golden.Compare(t, "testdata/clues.txt", page.String())
}
