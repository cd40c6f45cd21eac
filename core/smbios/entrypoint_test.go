package smbios_test

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/smbios"
	"epitome/core/smbios/compose"
)

func capture(t testing.TB, name, file string) []byte {
	t.Helper()
	data, err := os.ReadFile(filepath.Join("../../testdata/captures", name, file))
	require.NoError(t, err)
	return data
}

func TestEntryPointsOfRealKernels(t *testing.T) {
	for name, want := range map[string]smbios.EntryPoint{
		"pc-bios32-768m-core2duo": {Anchor: "_SM_", Version: smbios.Version{Major: 2, Minor: 8}, TableLength: 483,
			Structures: 10, Address: 0xF59A0},
		"q35-uefi64-6g-epyc-rome": {Anchor: "_SM3_", Version: smbios.Version{Major: 3}, TableLength: 522,
			Address: 0x7F51D000},
		"q35-bios32-laptop-soldered": {Anchor: "_SM_", Version: smbios.Version{Major: 2, Minor: 8}, TableLength: 505,
			Structures: 11, Address: 0xF5990},
	} {
		got, err := smbios.ParseEntryPoint(capture(t, name, "smbios_entry_point"))
		require.NoError(t, err, name)
		assert.Equal(t, want, got, name)
	}
}

func TestEntryPointForms(t *testing.T) {
	whole := compose.EntryPoint32(2, 4, 1000, 12)
	for _, c := range []struct {
		name   string
		image  []byte
		anchor string
		exact  bool
	}{
		{"31 bytes", whole, "_SM_", true},
		{"15 bytes, the intermediate part alone", whole[16:], "_DMI_", true},
		{"24 bytes", compose.EntryPoint64(3, 8, 1000), "_SM3_", false},
	} {
		e, err := smbios.ParseEntryPoint(c.image)
		require.NoError(t, err, c.name)
		assert.Equal(t, c.anchor, e.Anchor, c.name)
		assert.Equal(t, 1000, e.TableLength, c.name)
		assert.Equal(t, c.exact, e.Exact(), c.name)
	}
}

func TestEntryPointDamage(t *testing.T) {
	broken := func(image []byte, at int) []byte { image[at] ^= 0x40; return image }
	for _, c := range []struct {
		name, says string
		image      []byte
	}{
		{"nothing", "anchor: expected _SM_, _SM3_ or _DMI_, found nothing at all", nil},
		{"something else", "found 7F 45 4C 46", []byte("\x7fELF")},
		{"32-bit checksum", "32-bit entry point checksum: expected bytes that sum to 0x00",
			broken(compose.EntryPoint32(2, 8, 9, 1), 8)},
		{"64-bit checksum", "64-bit entry point checksum", broken(compose.EntryPoint64(3, 0, 9), 16)},
		{"cut short", "expected 31 bytes, found 20", compose.EntryPoint32(2, 8, 9, 1)[:20]},
		{"absurd length", "expected 24 or more, found 3", append([]byte("_SM3_\x00\x03"), make([]byte, 30)...)},
	} {
		_, err := smbios.ParseEntryPoint(c.image)
		require.ErrorIs(t, err, smbios.ErrEntryPoint, c.name)
		assert.Contains(t, err.Error(), c.says, c.name)
	}
}

func TestVersionSlips(t *testing.T) {
	for minor, want := range map[byte]uint8{0x1F: 3, 0x21: 3, 0x33: 6, 4: 4} {
		e, err := smbios.ParseEntryPoint(compose.EntryPoint32(2, minor, 100, 3))
		require.NoError(t, err)
		assert.Equal(t, smbios.Version{Major: 2, Minor: want}, e.Version)
	}
}

func TestSplitFile(t *testing.T) {
	table := compose.Table(compose.Array(0x1000, 16<<20, 2))
	behind := append(compose.EntryPoint64(3, 2, len(table)), table...)
	padded := append(append(compose.EntryPoint32(2, 8, len(table), 2), 0), table...)
	raw := append([]byte{0, 3, 2, 0, byte(len(table)), 0, 0, 0}, table...)
	for name, image := range map[string][]byte{"directly behind": behind, "padded to 32 bytes": padded,
		"RawSMBIOSData": raw} {
		entry, got, err := smbios.SplitFile(image)
		require.NoError(t, err, name)
		assert.Equal(t, table, got, name)
		inventory, err := smbios.Decode(got, entry)
		require.NoError(t, err, name)
		assert.Len(t, inventory.Arrays, 1, name)
	}
	_, _, err := smbios.SplitFile([]byte("neither of them, and long enough to be one"))
	require.ErrorIs(t, err, smbios.ErrEntryPoint)
}
