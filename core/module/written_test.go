package module_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/module"
	"epitome/core/spd/compose"
)

// What is written of a module reads as it was read.
func TestWhatIsWrittenReadsAsTheModule(t *testing.T) {
	for name, of := range map[string]compose.DDR4{
		"an ordinary one": {Type: 3, DensityCode: 5, Ranks: 1, WidthCode: 1},
		"two ranks, ECC":  {Type: 2, DensityCode: 6, Ranks: 2, WidthCode: 1, ECC: true},
		"of x16 chips":    {Type: 3, DensityCode: 5, Ranks: 1, WidthCode: 2},
		"registered":      {Type: 1, DensityCode: 5, Ranks: 2, WidthCode: 0, ECC: true},
	} {
		of.TCK, of.TAA, of.TRCD, of.TRP = 833, 13750, 13750, 13750
		of.TRAS, of.TRC, of.FirstCL, of.LastCL = 32000, 46000, 9, 24
		s, err := module.FromImage("gull-14/spd-50.bin", of.Bytes())
		require.NoError(t, err, name)
		again, err := module.Parse(s.Written())
		require.NoError(t, err, "%s: %s", name, s.Written())
		for _, row := range module.Rows() {
			switch row.Key {
			case "generation", "form", "capacity", "ranks", "width", "rated_mts", "registered", "ecc":
				assert.Equal(t, row.Show(&s).Text, row.Show(&again).Text, "%s of %s: %s", row.Key, name, s.Written())
			}
		}
	}
	s, err := module.Parse("8GB 1Rx8 PC4-2400T-SA1-11")
	require.NoError(t, err)
	assert.Equal(t, "8GB 1Rx8 PC4-2400T-SA1-11", s.Written())
}
