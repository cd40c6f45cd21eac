package evidence

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/reading"
	"epitome/golden"
)

// What each speed field of firmware is taken for, beside what the module itself says and what the firmware writes
// elsewhere: the value of each claim, with how much it weighs.
func TestWhatASpeedFieldIsTakenFor(t *testing.T) {
	var page strings.Builder
	said := func(claims []fact.Claim[jedec.Rate]) string {
		list := make([]string, len(claims))
		for i, c := range claims {
			list[i] = fmt.Sprintf("%v/%v", int(c.Value), c.Weight)
			if strings.Contains(c.Support.Says, "the clock") {
				list[i] += " clock"
			}
			if strings.Contains(c.Support.Says, "writes elsewhere") {
				list[i] += " as elsewhere"
			}
		}
		return strings.Join(list, ", ")
	}
	figures := []int{0, 66, 133, 166, 200, 333, 400, 533, 667, 800, 1066, 1067, 1200, 1333, 1600, 2133, 2400, 2667, 2800,
		3200, 4800, 5600, 65535}
	for _, g := range []jedec.Generation{jedec.SDR, jedec.DDR, jedec.DDR3, jedec.DDR4, jedec.DDR5} {
		grades := jedec.Grades(g)
		for _, own := range []jedec.Rate{0, grades[len(grades)/2].Rate, grades[len(grades)-1].Rate} {
			fmt.Fprintf(&page, "## %v, the module says %d\n", g, own)
			for _, figure := range figures {
				var says []string
				for _, writes := range []convention{notKnown, writesRates, writesClocks} {
					rated, _ := speeds{rated: figure, writes: writes}.resolve(g, own)
					_, running := speeds{running: figure, writes: writes}.resolve(g, own)
					_, lower := speeds{rated: figure, running: figure * 2 / 3, writes: writes}.resolve(g, own)
					says = append(says, fmt.Sprintf("%s; runs %s; at two thirds %s", said(rated), said(running), said(lower)))
				}
				fmt.Fprintf(&page, "%d: %s\n", figure, strings.Join(slices.Compact(says), " | "))
			}
		}
	}
	golden.Compare(t, "testdata/rates.txt", page.String())
}

// Of a table of before version 2.7 the one figure is a rate where its double was no grade yet, or is beyond the
// controller; with two figures that is said of the running one alone.
func TestWhatATableWithOneSpeedWrites(t *testing.T) {
	for _, c := range []struct {
		g     jedec.Generation
		speed int
		one   bool
		top   jedec.Rate
		want  convention
	}{
		{jedec.DDR3, 1066, true, 0, writesRates}, {jedec.DDR3, 1066, false, 0, notKnown},
		{jedec.DDR3, 800, true, 0, notKnown}, {jedec.DDR3, 800, true, 1333, writesRates},
		{jedec.DDR3, 667, true, 0, writesClocks}, {jedec.DDR2, 533, true, 800, writesRates},
		{jedec.DDR2, 533, true, 0, notKnown}, {jedec.DDR2, 400, true, 800, notKnown},
		{jedec.DDR3, 1066, true, 2133, writesRates}, {jedec.DDR2, 800, true, 0, writesRates},
	} {
		x := &spot{Sighting: reading.Sighting{Generation: maybe.Just(c.g), Speed: maybe.Just(c.speed), OneSpeed: c.one}}
		highest := map[jedec.Generation]jedec.Rate{c.g: c.top}
		got := conventionOf([]*spot{x}, func() map[jedec.Generation]jedec.Rate { return highest })
		assert.Equal(t, c.want, got, "%v %d, one figure %v, up to %v", c.g, c.speed, c.one, c.top)
	}
}

// A configured figure that is half of the rated one is its clock; one that is not is read by itself.
func TestAClockBesideItsRate(t *testing.T) {
	for _, c := range []struct {
		g              jedec.Generation
		rated, running int
		want           jedec.Rate
	}{
		{jedec.DDR2, 800, 400, 800}, {jedec.DDR2, 667, 333, 667}, {jedec.DDR3, 1333, 667, 1333},
		{jedec.DDR3, 1600, 800, 1600},
		{jedec.DDR4, 2667, 1333, 2666}, {jedec.DDR4, 2667, 1200, 2400}, {jedec.DDR3, 1600, 1333, 1333},
	} {
		_, running := speeds{rated: c.rated, running: c.running}.resolve(c.g, 0)
		assert.Equal(t, c.want, fact.Weigh(running...).Or(0), "%v: %d beside %d", c.g, c.running, c.rated)
	}
}
