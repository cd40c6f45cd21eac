package demo_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/need"
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
		_, err = need.BuiltIn().ParseUses(m.Uses)
		require.NoError(t, err, m.Name)
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

// Nobody's real name stands in the workshop: none of its makers is in the
// list of makers.
func TestTheWorkshopIsMadeUp(t *testing.T) {
	real := make(map[string]bool)
	for bank := 1; bank <= jedec.MaxBank; bank++ {
		for code := byte(1); code <= 0x7E; code++ {
			if words := strings.Fields(strings.ToLower(jedec.MakerCode{Bank: bank, Code: code}.Name())); len(words) > 0 {
				real[words[0]] = true
			}
		}
	}
	require.Greater(t, len(real), 1000)
	check := func(machine, maker string) {
		if words := strings.Fields(strings.ToLower(maker)); len(words) > 0 && !smbios.Placeholder(maker) {
			assert.False(t, real[words[0]], "%s: %q is a real maker's name", machine, maker)
		}
	}
	for _, m := range demo.Machines() {
		for _, f := range m.Files() {
			if f.Name == "DMI" {
				v, err := smbios.Decode(f.Data, smbios.EntryPoint{})
				require.NoError(t, err)
				check(m.Name, v.Systems[0].Maker)
				check(m.Name, v.Boards[0].Maker)
				for _, d := range v.Devices {
					check(m.Name, d.Maker)
				}
			}
			if module, err := spd.Decode(f.Data); err == nil {
				assert.Empty(t, module.Maker.Name(), "%s/%s", m.Name, f.Name)
				assert.Empty(t, module.ChipMaker.Name(), "%s/%s", m.Name, f.Name)
			}
		}
	}
}
