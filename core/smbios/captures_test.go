package smbios_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/smbios"
)

// What the tables of real kernels say, structure by structure.
func TestInventoriesOfRealKernels(t *testing.T) {
	for _, c := range []struct {
		name, maker, product, locator, part string
		version                             smbios.Version
		size, maximum                       jedec.Capacity
		devices, addresses, processors      int
		speed                               maybe.Value[int]
	}{
		{name: "pc-bios32-512m-nehalem", maker: "QEMU", product: "Standard PC (i440FX + PIIX, 1996)", locator: "DIMM 0",
			version: smbios.Version{Major: 2, Minor: 8},
			size:    512 * jedec.MiB, maximum: 512 * jedec.MiB, devices: 1, addresses: 1, processors: 1},
		{name: "pc-bios32-768m-core2duo", maker: "Lab Maker", product: "Tower 775", locator: "DIMM 0", part: "LM2G-6400-5",
			version: smbios.Version{Major: 2, Minor: 8},
			size:    768 * jedec.MiB, maximum: 768 * jedec.MiB, devices: 1, addresses: 1, processors: 1, speed: maybe.Just(800)},
		{name: "q35-bios32-1g-skylake-client", maker: "QEMU", product: "Standard PC (Q35 + ICH9, 2009)", locator: "DIMM 0",
			version: smbios.Version{Major: 2, Minor: 8},
			size:    jedec.GiB, maximum: jedec.GiB, devices: 1, addresses: 1, processors: 1},
		{name: "q35-bios32-laptop-soldered", maker: "Lab Maker", product: "Labtop 14", locator: "Onboard",
			part: "LAB-4G-SOLDERED", version: smbios.Version{Major: 2, Minor: 8},
			size: 4 * jedec.GiB, maximum: 16 * jedec.GiB, devices: 2, addresses: 1, processors: 1, speed: maybe.Just(2400)},
		{name: "q35-uefi64-6g-epyc-rome", maker: "Lab Maker", product: "Desk 5", locator: "DIMM_A 0", part: "LM8G4-3200-22",
			version: smbios.Version{Major: 3},
			size:    6 * jedec.GiB, maximum: 6 * jedec.GiB, devices: 1, addresses: 2, processors: 1, speed: maybe.Just(3200)},
	} {
		entry, err := smbios.ParseEntryPoint(capture(t, c.name, "smbios_entry_point"))
		require.NoError(t, err, c.name)
		v, err := smbios.Decode(capture(t, c.name, "DMI"), entry)
		require.NoError(t, err, c.name)
		assert.Empty(t, v.Notes, c.name)
		assert.Equal(t, c.version, v.Version, c.name)
		assert.Equal(t, c.maker, v.Systems[0].Maker, c.name)
		assert.Equal(t, c.product, v.Systems[0].Product, c.name)
		require.Len(t, v.Devices, c.devices, c.name)
		assert.Equal(t, c.locator, v.Devices[0].Locator, c.name)
		assert.Equal(t, c.part, v.Devices[0].Part, c.name)
		assert.Equal(t, maybe.Just(c.size), v.Devices[0].Size, c.name)
		assert.Equal(t, c.speed, v.Devices[0].Speed, c.name)
		require.Len(t, v.SystemArrays(), 1, c.name)
		assert.Equal(t, maybe.Just(c.maximum), v.Arrays[0].Maximum, c.name)
		assert.Equal(t, c.devices, v.Arrays[0].Devices, c.name)
		assert.Len(t, v.Processors, c.processors, c.name)
		assert.Len(t, v.Addresses, c.addresses, c.name)
		var mapped jedec.Capacity
		for _, a := range v.Addresses {
			mapped += a.Capacity()
		}
		assert.Equal(t, c.size, mapped, "%s: the ranges add up to what is fitted", c.name)
	}
}

// A table cut anywhere yields a prefix of what the whole one says, and an
// error that names where.
func TestARealTableCutAnywhere(t *testing.T) {
	whole := capture(t, "q35-uefi64-6g-epyc-rome", "DMI")
	full, err := smbios.ParseTable(whole, smbios.EntryPoint{})
	require.NoError(t, err)
	for n := range whole {
		cut, err := smbios.ParseTable(whole[:n], smbios.EntryPoint{})
		if err != nil {
			require.ErrorIs(t, err, smbios.ErrTable)
		}
		require.LessOrEqual(t, len(cut.Structures), len(full.Structures))
		for i, s := range cut.Structures {
			require.Equal(t, full.Structures[i].Handle, s.Handle)
			require.Equal(t, full.Structures[i].Offset(), s.Offset())
		}
	}
}
