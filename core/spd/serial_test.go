package spd_test

import (
	"encoding/hex"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/spd"
	"epitome/core/spd/compose"
)

// A changed serial number is the only thing that changes, wherever a
// generation keeps it and whatever checksum covers it.
func TestOnlyTheSerialNumberChanges(t *testing.T) {
	images := map[string][]byte{"DDR4": compose.DDR4{Ranks: 1, TCK: 833, TAA: 13750, TRCD: 13750, TRP: 13750, TRAS: 32000, TRC: 45750, FirstCL: 10, LastCL: 17, Identity: compose.Identity{Serial: "4F21A09C"}}.Bytes(), "DDR3": compose.DDR3{Ranks: 1, TCK: 1250, TAA: 13750, TRCD: 13750, TRP: 13750, TRAS: 35000, TRC: 48750, FirstCL: 6, LastCL: 11, Identity: compose.Identity{Serial: "4F21A09C"}}.Bytes()}
	for code, long := range map[byte]int{0x04: 128, 0x07: 128, 0x08: 128, 0x0F: 384, 0x10: 512, 0x12: 1024, 0x13: 1024} {
		raw := make([]byte, long)
		raw[0], raw[2] = 0x92, code
		images[hex.EncodeToString([]byte{code})] = raw
	}
	for name, image := range images {
		other := spd.WithSerial(image, [4]byte{0xA0, 0, 0, 7})
		require.Len(t, other, len(image), name)
		number, ok := spd.Serial(other)
		require.True(t, ok, name)
		assert.Equal(t, []byte{0xA0, 0, 0, 7}, number, name)
		m, err := spd.Decode(other)
		require.NoError(t, err, name)
		assert.Equal(t, "A0000007", strings.ToUpper(m.Serial), name)
		was, err := spd.Decode(image)
		require.NoError(t, err, name)
		assert.Equal(t, was.Checksum(), m.Checksum(), "%s: a checksum that was right is right again", name)
		assert.Equal(t, was.Capacity, m.Capacity, name)
	}
	_, ok := spd.Serial([]byte{1, 2})
	assert.False(t, ok)
	_, ok = spd.Serial([]byte{1, 2, 0x99})
	assert.False(t, ok)
	number, ok := spd.Serial([]byte{1, 2, 0x0C, 4})
	assert.True(t, ok)
	assert.Nil(t, number, "cut short before it")
	assert.Equal(t, []byte{1, 2}, spd.WithSerial([]byte{1, 2}, [4]byte{}))
}
