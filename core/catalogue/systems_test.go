package catalogue_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/maybe"
)

func TestSystemsTable(t *testing.T) {
	assert.Len(t, catalogue.Systems(), 64)
	for _, s := range catalogue.Systems() {
		assert.Contains(t, []int{32, 64}, s.Bits, s.Name())
		assert.Contains(t, []catalogue.Confidence{catalogue.High, catalogue.Medium, catalogue.Low}, s.Confidence, s.Name())
	}
}

func TestSystemsByName(t *testing.T) {
	one := func(name string, bits int) catalogue.System {
		found := catalogue.SystemsNamed(name, bits)
		require.Len(t, found, 1, name)
		return found[0]
	}
	assert.Equal(t, "Windows 10 Home 64-bit", one("Microsoft Windows 10 Home", 64).Name())
	assert.Equal(t, maybe.Just(4*jedec.GiB), one("Microsoft Windows 10 Home", 32).Most)
	assert.Equal(t, "Windows 10 Pro for Workstations 64-bit", one("Windows 10 Pro for Workstations", 64).Name(),
		"the longest edition that is spelled out")
	assert.Equal(t, maybe.Just(4*jedec.GiB), one("windows 11 pro", 64).Minimum)
	assert.Equal(t, maybe.Just(16*jedec.GiB), one("Windows 7 Home Premium", 64).Most)
	for _, s := range catalogue.SystemsNamed("Windows 8.1", 64) {
		assert.Equal(t, "Windows 8.1", s.OS, "8.1 is not 8")
	}
	assert.Len(t, catalogue.SystemsNamed("Windows 8.1", 64), 3, "no edition named: all of them")
	assert.Empty(t, catalogue.SystemsNamed("Windows 95", 0))
	assert.Empty(t, catalogue.SystemsNamed("", 0))
}
