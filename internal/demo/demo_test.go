package demo_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/smbios"
	"epitome/core/spd"
	"epitome/internal/demo"
)

// What the demo writes is sound: it is there to show odd machines, not
// damaged files.
func TestTheWorkshopsFilesAreSound(t *testing.T) {
	names := make(map[string]bool)
	for _, m := range demo.Machines() {
		assert.False(t, names[m.Name], m.Name)
		names[m.Name] = true
		_, err := jedec.ParseCapacity(m.Reach)
		require.NoError(t, err)
		var entry smbios.EntryPoint
		for _, f := range m.Files() {
			switch {
			case f.Name == "smbios_entry_point":
				entry, err = smbios.ParseEntryPoint(f.Data)
				require.NoError(t, err, m.Name)
			case strings.HasPrefix(f.Name, "spd-"):
				module, err := spd.Decode(f.Data)
				require.NoError(t, err, m.Name)
				assert.Equal(t, "ok", module.Checksum(), m.Name)
				assert.Empty(t, module.Notes, m.Name)
			}
		}
		for _, f := range m.Files() {
			if f.Name == "DMI" {
				v, err := smbios.Decode(f.Data, entry)
				require.NoError(t, err, m.Name)
				assert.Empty(t, v.Notes, m.Name)
				assert.NotEmpty(t, v.SystemDevices(), m.Name)
			}
		}
	}
	assert.Len(t, names, 5)
}

// Nobody's real name stands in the workshop: no maker of the list, and no
// maker of processors.
func TestTheWorkshopIsMadeUp(t *testing.T) {
	require.NotEmpty(t, catalogue.Systems())
	for _, m := range demo.Machines() {
		for _, f := range m.Files() {
			text := strings.ToLower(string(f.Data))
			for _, real := range []string{"intel", "amd", "samsung", "hynix", "micron", "kingston", "lenovo", "dell", "asus", "acer", "corsair", "crucial"} {
				assert.NotContains(t, strings.Fields(strings.Map(letters, text)), real, "%s/%s", m.Name, f.Name)
			}
			if module, err := spd.Decode(f.Data); err == nil {
				assert.Empty(t, module.Maker.Name(), "%s/%s", m.Name, f.Name)
				assert.Empty(t, module.ChipMaker.Name(), "%s/%s", m.Name, f.Name)
			}
		}
	}
}

func letters(r rune) rune {
	if r >= 'a' && r <= 'z' {
		return r
	}
	return ' '
}
