package spd_test

import (
	"cmp"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/spd"
	"epitome/core/spd/compose"
	"epitome/truth/effort"
)

// Any single bit that changes in a covered byte is found by the CRC, and the
// image is decoded all the same.
func TestEverySingleBitOfDamageIsReported(t *testing.T) {
	for name, c := range map[string]struct {
		image   []byte
		covered int
	}{
		"DDR4": {ddr4().Bytes(), 125},
		"DDR5": {ddr5(), 509},
		"DDR3": {compose.DDR3{Type: 3, DensityCode: 4, Ranks: 1, WidthCode: 1, TCK: 1250, TAA: 13125, TRCD: 13125,
			TRP: 13125, TRAS: 35000, TRC: 48125, FirstCL: 5, LastCL: 11, Identity: maker}.Bytes(), 116},
	} {
		require.Equal(t, "ok", decode(t, c.image).Checksum(), name)
		for at := range c.covered + 1 {
			for bit := range 8 {
				image := append([]byte{}, c.image...)
				image[at] ^= 1 << bit
				m, err := spd.Decode(image)
				if err != nil {
					assert.Equal(t, 2, at, "%s: only the type byte makes an image unreadable", name)
					continue
				}
				if at == 0 && name == "DDR3" && bit == 7 {
					continue // bit 7 of byte 0 moves the end of what is covered
				}
				require.Equal(t, "bad", m.Checksum(), "%s: byte %d, bit %d", name, at, bit)
			}
		}
	}
}

// exists tells whether there is such a module, as far as it is known: widths, sizes and ranks that are made, and
// latencies that come shortest first.
func exists(m spd.Module) bool {
	width, size := m.Width.Or(8), m.Capacity.Or(1)
	return slices.Contains([]int{4, 8, 16, 32}, width) && size > 0 && size <= 4*jedec.TiB && m.Ranks.Or(1) <= 8 &&
		slices.IsSortedFunc(m.Latencies, func(a, b jedec.Latency) int { return cmp.Compare(a, b) }) &&
		len(slices.Compact(slices.Clone(m.Latencies))) == len(m.Latencies)
}

// Every code of every coded field decodes to something that exists or to
// unknown, never to a panic or to nonsense.
func TestEveryCodeOfEveryByte(t *testing.T) {
	effort.NotShort(t)
	for _, base := range [][]byte{ddr4().Bytes(), ddr5(),
		compose.DDR3{Type: 3, DensityCode: 4, Ranks: 1, WidthCode: 1, TCK: 1250, TAA: 13125, TRCD: 13125, TRP: 13125,
			FirstCL: 5, LastCL: 11, Identity: maker}.Bytes()} {
		for at := range min(len(base), 256) {
			if at == 2 {
				continue
			}
			for value := range 256 {
				image := append([]byte{}, base...)
				image[at] = byte(value)
				m, err := spd.Decode(image)
				if err != nil || !exists(m) { // asked plainly: an assertion each would take seconds
					t.Fatalf("byte %d = %#x: %v, %+v", at, value, err, m)
				}
			}
		}
	}
}
