package spd_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/spd/compose"
)

// unequal are images in which no two timings are equal, and no two of their fine
// offsets: what is read from the wrong byte shows.
func unequal() map[jedec.Generation]compose.Image {
	d3 := compose.DDR3{Type: 2, DensityCode: 4, Ranks: 1, WidthCode: 1, TCK: 1250, TAA: 13750, TRCD: 14000, TRP: 14250,
		TRAS: 35000, TRC: 49375, FirstCL: 5, LastCL: 11, Identity: maker}.Bytes()
	d3[9] = 0x52                                 // fine timebase of 5/2 ps
	d3[16], d3[18], d3[20] = 110, 112, 114       // tAA, tRCD, tRP in eighths of a nanosecond
	d3[35], d3[36], d3[37] = 2, 0xFC, 6          // and their fine offsets: 2, -4, 6
	d3[10], d3[11], d3[12], d3[34] = 1, 8, 10, 0 // medium timebase of 1/8 ns
	d4 := ddr4().Bytes()
	d4[24], d4[25], d4[26] = 110, 112, 114
	d4[123], d4[122], d4[121] = 3, 0xF9, 11 // tAA, tRCD, tRP: 3, -7, 11 ps
	d5 := ddr5().Word(30, 16000).Word(32, 16640).Word(34, 17056).Word(36, 32000).Word(38, 49056)
	return map[jedec.Generation]compose.Image{jedec.DDR3: d3, jedec.DDR4: d4, jedec.DDR5: d5}
}

func TestEachTimingIsReadFromItsOwnBytes(t *testing.T) {
	for g, want := range map[jedec.Generation][5]ps{
		jedec.DDR3: {13755, 13990, 14265, 35000, 49375},
		jedec.DDR4: {13753, 13993, 14261, 32000, 45750},
		jedec.DDR5: {16000, 16640, 17056, 32000, 49056},
	} {
		m := decode(t, unequal()[g])
		got := [5]maybe.Value[ps]{m.TAA, m.TRCD, m.TRP, m.TRAS, m.TRC}
		for i, name := range []string{"tAA", "tRCD", "tRP", "tRAS", "tRC"} {
			assert.Equal(t, maybe.Just(want[i]), got[i], "%s of %v", name, g)
		}
	}
}
