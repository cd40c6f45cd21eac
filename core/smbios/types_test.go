package smbios_test

import (
	"encoding/binary"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/smbios"
	"epitome/core/smbios/compose"
)

// Every type that is decoded, cut to every length from its header alone to
// its longest form, decodes without harm; and the longest form says no less
// than any shorter one.
func TestEveryTypeAtEveryLength(t *testing.T) {
	long := make([]byte, 0x64-4)
	for i := range long {
		long[i] = byte(i%5 + 1)
	}
	strings := []string{"a", "b", "c", "d", "e"}
	for kind := range 128 {
		for n := range len(long) + 1 {
			v, err := smbios.Decode(compose.Table(compose.Structure{Type: uint8(kind), Handle: 9, Body: long[:n],
				Strings: strings}), smbios.EntryPoint{})
			require.NoError(t, err, "type %d of %d bytes", kind, n+4)
			if kind == 17 {
				require.Len(t, v.SystemDevices(), 1)
			}
		}
	}
}

func TestMachinesBeforeTypes16And17(t *testing.T) {
	module := func(handle uint16, socket string, kinds uint16, size byte) compose.Structure {
		b := []byte{1, 0xFF, 60, 0, 0, size, size, 0}
		binary.LittleEndian.PutUint16(b[3:], kinds)
		return compose.Structure{Type: 6, Handle: handle, Body: b, Strings: []string{socket}}
	}
	const dimm, sdram, simm = 1 << 8, 1 << 10, 1 << 7
	v := decode(t,
		compose.Structure{Type: 5, Handle: 1,
			Body: []byte{4, 2, 3, 3, 8, 0x0C, 0, 0x00, 0x05, 1, 4, 6, 0, 7, 0, 8, 0, 9, 0, 0}},
		module(6, "DIMM0", dimm|sdram, 7), module(7, "DIMM1", dimm|sdram, 0x7F), module(8, "DIMM2", dimm, 0x80|8),
		module(9, "SIMM0", simm, 0x7D))
	devices := v.SystemDevices()
	require.Len(t, devices, 4)
	assert.Equal(t, maybe.Just(128*jedec.MiB), devices[0].Size)
	assert.Equal(t, maybe.Just(jedec.SDR), devices[0].Generation())
	assert.Equal(t, maybe.Just(jedec.DIMM), devices[0].Form())
	assert.Equal(t, maybe.Just(false), devices[1].Filled)
	assert.Equal(t, maybe.Just(256*jedec.MiB), devices[2].Size, "bit 7 says two banks")
	assert.False(t, devices[2].Generation().Known())
	assert.Equal(t, maybe.Just(true), devices[3].Filled)
	assert.False(t, devices[3].Size.Known(), "0x7D: not determinable")
	assert.Equal(t, maybe.Just(jedec.GiB), v.OldMaximum(), "four slots of 2^8 MB")
	assert.Equal(t, maybe.Just(60), v.OldModules[0].SpeedNS)

	disabled := decode(t, module(6, "DIMM0", dimm, 0x7E))
	assert.True(t, disabled.OldModules[0].Failed)
	assert.False(t, disabled.OldMaximum().Known())
	newer := decode(t, module(6, "DIMM0", dimm, 7), compose.Device{Handle: 17, MiB: 1024, Locator: "DIMM_A1"}.Structure())
	assert.Len(t, newer.SystemDevices(), 1, "where both are there, the newer structures count")
}

func TestCaches(t *testing.T) {
	body := func(config, installed uint16, wide uint32) []byte {
		b := make([]byte, 0x1B-4)
		b[0] = 1
		binary.LittleEndian.PutUint16(b[1:], config)
		binary.LittleEndian.PutUint16(b[5:], installed)
		binary.LittleEndian.PutUint32(b[0x17-4:], wide)
		return b
	}
	v := decode(t,
		compose.Structure{Type: 7, Handle: 1, Body: body(0x0182, 6144, 0), Strings: []string{"L3"}},
		compose.Structure{Type: 7, Handle: 2, Body: body(0x0181, 0x8000|32, 0)},
		compose.Structure{Type: 7, Handle: 3, Body: body(0x0102, 0xFFFF, 1<<31|4096)},
		compose.Structure{Type: 7, Handle: 4, Body: body(0x0180, 64, 0)[:0x0F-4]})
	assert.Equal(t, smbios.Cache{Handle: 1, Socket: "L3", Level: 3, Enabled: true, Installed: maybe.Just(6 * jedec.MiB)},
		v.Caches[0])
	assert.Equal(t, maybe.Just(2*jedec.MiB), v.Caches[1].Installed, "bit 15: units of 64 KiB")
	assert.Equal(t, maybe.Just(256*jedec.MiB), v.Caches[2].Installed, "0xFFFF sends to size 2")
	assert.False(t, v.Caches[2].Enabled)
	assert.Equal(t, 1, v.Caches[3].Level, "the 2.0 form")
}

func TestMappedDevicesAndErrors(t *testing.T) {
	body := func(first, last uint32, position, depth byte, n int) []byte {
		b := make([]byte, 0x23-4)
		binary.LittleEndian.PutUint32(b, first)
		binary.LittleEndian.PutUint32(b[4:], last)
		binary.LittleEndian.PutUint16(b[8:], 0x1100)
		binary.LittleEndian.PutUint16(b[10:], 0x1300)
		b[13], b[14] = position, depth
		binary.LittleEndian.PutUint64(b[0x13-4:], 1<<33)
		binary.LittleEndian.PutUint64(b[0x1B-4:], 1<<34-1)
		return b[:n-4]
	}
	v := decode(t, compose.Structure{Type: 20, Handle: 1, Body: body(0, 4<<20-1, 1, 2, 0x13)},
		compose.Structure{Type: 20, Handle: 2, Body: body(0xFFFFFFFF, 0xFFFFFFFF, 0xFF, 0, 0x23)},
		compose.Structure{Type: 20, Handle: 3, Body: body(0xFFFFFFFF, 0xFFFFFFFF, 0, 0, 0x13)},
		compose.Structure{Type: 18, Handle: 4, Body: []byte{3}}, compose.Structure{Type: 18, Handle: 5, Body: []byte{0x0B}})
	require.Len(t, v.Mapped, 2, "extended addresses without the fields for them are left out")
	assert.Equal(t, smbios.DeviceAddress{Device: 0x1100, ArrayAddress: 0x1300, Last: 4<<30 - 1, Position: maybe.Just(1),
		Depth: maybe.Just(2)}, v.Mapped[0])
	assert.Equal(t, uint64(1<<33), v.Mapped[1].First)
	assert.False(t, v.Mapped[1].Position.Known())
	assert.True(t, v.Errors[0].OK())
	assert.False(t, v.Errors[1].OK())
}

func TestIdentityFromShortestToLongest(t *testing.T) {
	short := decode(t, compose.Structure{Type: 1, Handle: 1, Body: []byte{1, 2, 3, 4},
		Strings: []string{"Halyard", "Gull 14", "2", "SN"}})
	assert.Equal(t, smbios.System{Maker: "Halyard", Product: "Gull 14", Version: "2", Serial: "SN"}, short.Systems[0])
	long := decode(t, compose.Identity{Maker: "Halyard", Product: "Gull 14", Family: "Gull",
		ChassisKind: 0x8A}.Structures()...)
	assert.Equal(t, "Gull", long.Systems[0].Family)
	assert.Equal(t, smbios.ChassisKind(0x0A), long.Chassis[0].Kind, "bit 7 says that there is a lock")
	assert.Equal(t, "notebook", long.Chassis[0].Kind.String())
	none := decode(t, compose.Structure{Type: 3, Handle: 3})
	assert.Equal(t, "unknown", none.Chassis[0].Kind.String())
}
