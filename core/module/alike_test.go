package module_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/fact"
	"epitome/core/module"
)

func TestWhatIsWrittenOfAModuleIsReadAgain(t *testing.T) {
	for _, text := range []string{"8GB 1Rx8 PC4-2400T-SA1-11", "16GB 2Rx8 PC4-2666V-UA2-11",
		"4GB 1Rx8 PC3L-12800S-11-13-B4",
		"8 GB 2Rx8 DDR3-1600 SO-DIMM 1.35V", "16GB DDR4-3200 ECC registered DIMM 2Rx4 CL22", "32GB DDR5-4800 SO-DIMM",
		"8GB DDR4-2400 ECC unbuffered DIMM", "2GB DDR2-800 SO-DIMM"} {
		one, err := module.Parse(text)
		require.NoError(t, err, text)
		again, err := module.Parse(one.Text())
		require.NoError(t, err, one.Text())
		for name, same := range map[string]bool{
			"capacity": one.Capacity.Same(again.Capacity), "generation": one.Generation.Same(again.Generation),
			"rate": one.Rated.Same(again.Rated), "ranks": one.Ranks.Same(again.Ranks), "width": one.Width.Same(again.Width),
			"form": one.Form.Or(0) == again.Form.Or(0), "registered": one.Registered.Or(false) == again.Registered.Or(false),
			"check bits": one.ECC.Or(false) == again.ECC.Or(false), "supplies": one.Supplies.Value() == again.Supplies.Value()} {
			assert.True(t, same, "%s of %q, written %q", name, text, one.Text())
		}
	}
}

func TestModulesOfOneMakeAreAlike(t *testing.T) {
	one, err := module.Parse("8GB 1Rx8 PC4-2400T-SA1-11")
	require.NoError(t, err)
	read := one.Claimed(fact.Firm, "EEPROM 50")
	read.Serial, read.Part = fact.Known("1234"), fact.Known("HALYARD-8")
	other := one.Claimed(fact.Firm, "EEPROM 52")
	a, b := module.Join(read), module.Join(other)
	assert.Equal(t, a.Alike().Facts, b.Alike().Facts, "who says so, and which one it is, tell none apart")
	assert.NotEqual(t, a.Facts, b.Facts)
	b.Ranks = fact.Known(2)
	assert.NotEqual(t, a.Alike().Facts, b.Alike().Facts)
	b.Ranks = fact.Fact[int]{}
	assert.NotEqual(t, a.Alike().Facts, b.Alike().Facts, "what is not known of one")
}
