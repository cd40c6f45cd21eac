package spd_test

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/spd"
	"epitome/core/spd/compose"
)

func toA7([4]byte) [4]byte { return [4]byte{0xA0, 0, 0, 7} }

// What is shared of an image decodes as the image did, but for the serial
// number; whatever else stood in it is gone.
func TestASharedImageSaysWhatWasUnderstoodAndNoMore(t *testing.T) {
	secret := []byte("Mrs Quay, pier 7")
	images := map[string][]byte{
		"DDR4": compose.DDR4{Ranks: 1, TCK: 833, TAA: 13750, TRCD: 13755, TRP: 13760, TRAS: 32000, TRC: 45750, FirstCL: 10,
			LastCL: 17, Identity: compose.Identity{Serial: "4F21A09C", Part: "MR4S"}}.Bytes(),
		"DDR3": compose.DDR3{Ranks: 1, TCK: 1250, TAA: 13750, TRCD: 13755, TRP: 13760, TRAS: 35000, TRC: 48750, FirstCL: 6,
			LastCL: 11, Identity: compose.Identity{Serial: "4F21A09C", Part: "MR3"}}.Bytes(),
	}
	hide := map[string][]int{"DDR4": {400, 360, 60, 140}, "DDR3": {200, 42, 155}} // user's, maker's and reserved bytes
	for code, long := range map[byte]int{0x04: 128, 0x07: 128, 0x08: 128, 0x0F: 384, 0x10: 512, 0x12: 1024, 0x13: 1024} {
		raw := make([]byte, long)
		raw[0], raw[2] = 0x92, code
		images[string(rune('a'+code))] = raw
		hide[string(rune('a'+code))] = []int{long - 20}
	}
	for name, image := range images {
		for _, at := range hide[name] {
			copy(image[at:], secret)
		}
		if name == "DDR3" {
			c := spd.CRC16(image[:126])
			image[126], image[127] = byte(c), byte(c>>8)
		}
		was, err := spd.Decode(image)
		require.NoError(t, err, name)
		shared, err := spd.Understood(image, toA7)
		require.NoError(t, err, name)
		require.Len(t, shared, len(image), name)
		assert.False(t, bytes.Contains(shared, secret[:8]), "%s", name)
		m, err := spd.Decode(shared)
		require.NoError(t, err, name)
		assert.Equal(t, was.Checksum(), m.Checksum(), "%s: what was right is right again, and what was wrong stays wrong",
			name)
		if was.Serial != "" {
			assert.Equal(t, "A0000007", m.Serial, name)
		}
		was.Serial, m.Serial, was.Checks, m.Checks = "", "", nil, nil
		assert.Equal(t, was, m, name)
		again, err := spd.Understood(shared, func(b [4]byte) [4]byte { return b })
		require.NoError(t, err, name)
		assert.Equal(t, shared, again, "%s: nothing more is taken away a second time", name)
	}
	for _, data := range [][]byte{nil, {1, 2}, {1, 2, 0x99}, bytes.Repeat([]byte{0xFF}, 512)} {
		_, err := spd.Understood(data, toA7)
		assert.Error(t, err)
	}
}
