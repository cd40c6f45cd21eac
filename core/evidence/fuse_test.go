package evidence

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/reading"
)

// at is a sighting of a reading: "LOCATOR|BANK|GB|SERIAL", 0 GB for an empty place.
func at(origin reading.Origin, n int, taken time.Time, text string) reading.Sighting {
	cells := append(strings.Split(text, "|"), "", "", "")
	x := reading.Sighting{Origin: origin, Reading: n, Taken: taken, Locator: cells[0], Bank: cells[1], Serial: cells[3]}
	if x.Serial != "" {
		x.Part = "MR-1"
	}
	var gb int
	_, _ = fmt.Sscan(cells[2], &gb)
	x.Filled = maybe.Just(gb > 0)
	x.Size = maybe.If(jedec.Capacity(gb)*jedec.GiB, gb > 0)
	return x
}

// Each bond ties two sightings where it should, and nothing where two places have it.
func TestSightingsOfOnePlace(t *testing.T) {
	day := time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)
	list := func(origin reading.Origin, n int, taken time.Time, texts ...string) (out []reading.Sighting) {
		for _, text := range texts {
			out = append(out, at(origin, n, taken, text))
		}
		return out
	}
	const fw, export, other = reading.Firmware, reading.Records, reading.OtherSheet
	for why, c := range map[string]struct {
		first, second []reading.Sighting
		want          string // of each place: its size, and how many readings list it
		left          int
	}{
		"the same locator and bank": {list(fw, 0, day, "A|B0|8", "A|B1|4"),
			list(export, 1, day, "A|B1|4", "A|B0|8"), "8:2 4:2", 0},
		"in other letters":          {list(fw, 0, day, "DIMM_A1||8"), list(export, 1, day, "dimm a1||8"), "8:2", 0},
		"one of them names no bank": {list(fw, 0, day, "A|B0|8", "B|B1|0"), list(export, 1, day, "A||8"), "8:2 0:1", 0},
		"the same module": {list(fw, 0, day, "A||8|S1", "B||8|S2"),
			list(export, 1, day, "X||8|S2", "Y||8|S1"), "8:2 8:2", 0},
		"without names, one left":   {list(fw, 0, day, "A||8", "B||0"), list(export, 1, day, "||8"), "8:2 0:1", 0},
		"without names, two alike":  {list(fw, 0, day, "A||8", "B||8"), list(export, 1, day, "||8"), "8:1 8:1", 1},
		"by position":               {list(export, 0, day, "||8", "||8"), list(export, 1, day, "||8", "||8"), "8:2 8:2", 0},
		"a place that no table has": {list(fw, 0, day, "A||8"), list(export, 1, day, "A||8", "B||4"), "8:2", 1},
		"two lists of filled ones":  {list(export, 0, day, "A||8"), list(export, 1, day, "B||4"), "8:1 4:1", 0},
		"two tables of all":         {list(fw, 0, day, "A||8", "B||0"), list(other, 1, day, "A||8", "B||0"), "8:2 0:2", 0},
		"taken out since": {list(export, 0, day, "A||8", "B||4"),
			list(export, 1, day.Add(time.Hour), "A||8"), "8:2 0:1", 0},
		"replaced since": {list(export, 0, day, "A||4"), list(export, 1, day.Add(time.Hour), "A||8"), "8:2", 0},
		"at one visit":   {list(fw, 0, day, "A||8"), list(export, 1, day.Add(time.Minute), "B||8"), "8:1", 1},
	} {
		for range 2 {
			spots, left := fuse(append(slices.Clone(c.first), c.second...))
			var out []string
			for _, y := range spots {
				size := y.Size.Or(0)
				if !y.Filled.Or(true) {
					size = 0
				}
				out = append(out, fmt.Sprintf("%d:%d", size/jedec.GiB, len(y.in)))
			}
			assert.Equal(t, c.want, strings.Join(out, " "), why)
			assert.Len(t, left, c.left, why)
			c.first, c.second = c.second, c.first // whichever is on the card first
			if c.first[0].Origin == c.second[0].Origin {
				break
			}
		}
	}
}

// What two of one day say otherwise is kept; what an older one says is history.
func TestWhatReadingsSayOtherwise(t *testing.T) {
	day := time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)
	spots, _ := fuse([]reading.Sighting{at(reading.Firmware, 0, day, "A||8"), at(reading.Records, 1, day, "A||4")})
	if assert.Len(t, spots[0].contrary, 1) {
		assert.Equal(t, maybe.Just(4*jedec.GiB), spots[0].contrary[0].Size)
	}
	spots, _ = fuse([]reading.Sighting{at(reading.Firmware, 0, day, "A||8"),
		at(reading.Records, 1, day.Add(time.Hour), "A||4")})
	assert.Equal(t, 4*jedec.GiB, spots[0].Size.Or(0), "the newer one stands")
	assert.Empty(t, spots[0].contrary)
}
