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

func decode(t *testing.T, s ...compose.Structure) smbios.Inventory {
	t.Helper()
	v, err := smbios.Decode(compose.Table(s...), smbios.EntryPoint{})
	require.NoError(t, err)
	return v
}

// deviceBody is a type 17 formatted area of 0x64 bytes, the 3.7 form, with
// every field set; cutting it yields the older forms.
func deviceBody() []byte {
	b := make([]byte, 0x64-4)
	put := func(off int, v uint64, n int) {
		for i := range n {
			b[off-4+i] = byte(v >> (8 * i))
		}
	}
	put(0x04, 0x1000, 2)
	put(0x06, 0xFFFE, 2)
	put(0x08, 72, 2)
	put(0x0A, 64, 2)
	put(0x0C, 4096, 2)
	put(0x0E, 0x0D, 1)
	put(0x0F, 2, 1)
	put(0x10, 1, 1)
	put(0x11, 2, 1)
	put(0x12, 0x1A, 1)
	put(0x13, 0x2080, 2)
	put(0x15, 2400, 2)
	put(0x17, 3, 1)
	put(0x18, 4, 1)
	put(0x19, 5, 1)
	put(0x1A, 6, 1)
	put(0x1B, 2, 1)
	put(0x20, 2133, 2)
	put(0x22, 1150, 2)
	put(0x24, 1250, 2)
	put(0x26, 1200, 2)
	put(0x28, 3, 1)
	put(0x2C, 0xCE80, 2)
	put(0x54, 6400, 4)
	put(0x58, 5600, 4)
	return b
}

func device(t *testing.T, body []byte) smbios.Device {
	t.Helper()
	v := decode(t, compose.Structure{Type: 17, Handle: 0x1100, Body: body,
		Strings: []string{"DIMM A", "BANK 0", "Marram", "0A1B", "tag", "MR-1"}})
	require.Len(t, v.Devices, 1)
	return v.Devices[0]
}

func TestDeviceFromShortestToLongestForm(t *testing.T) {
	whole := smbios.Device{
		Handle: 0x1100, Array: 0x1000, Locator: "DIMM A", Bank: "BANK 0", Filled: maybe.Just(true),
		Size:      maybe.Just(4 * jedec.GiB),
		TotalBits: maybe.Just(72), DataBits: maybe.Just(64), FormCode: 0x0D, MemoryType: 0x1A,
		Detail: smbios.DetailRegistered | smbios.DetailSynchronous, DeviceSet: 2,
		Speed: maybe.Just(2400), Configured: maybe.Just(2133), Maker: "Marram", Serial: "0A1B", Asset: "tag", Part: "MR-1",
		Identifies: true,
		Rank:       maybe.Just(2), MinimumMV: maybe.Just(1150), MaximumMV: maybe.Just(1250), ConfiguredMV: maybe.Just(1200),
		Technology: 3, MakerID: maybe.Just(uint16(0xCE80)),
	}
	assert.Equal(t, whole, device(t, deviceBody()))

	v32 := whole // 3.2 ends behind the cache size
	assert.Equal(t, v32, device(t, deviceBody()[:0x54-4]))
	v28 := whole
	v28.Technology, v28.MakerID = 0, maybe.None[uint16]()
	assert.Equal(t, v28, device(t, deviceBody()[:0x28-4]))
	v27 := v28
	v27.MinimumMV, v27.MaximumMV, v27.ConfiguredMV = maybe.None[int](), maybe.None[int](), maybe.None[int]()
	assert.Equal(t, v27, device(t, deviceBody()[:0x22-4]))
	v26 := v27
	v26.Configured, v26.OneSpeed = maybe.None[int](), true
	assert.Equal(t, v26, device(t, deviceBody()[:0x1C-4]))
	v23 := v26
	v23.Rank = maybe.None[int]()
	assert.Equal(t, v23, device(t, deviceBody()[:0x1B-4]))
	v21 := v23
	v21.Speed, v21.Maker, v21.Serial, v21.Asset, v21.Part = maybe.None[int](), "", "", "", ""
	v21.Identifies = false
	assert.Equal(t, v21, device(t, deviceBody()[:0x15-4]))

	none := device(t, nil)
	assert.False(t, none.Filled.Known(), "a device without a size field is neither filled nor empty")
	assert.Equal(t, smbios.Handle(0xFFFF), none.Array)
}

func TestSizeVariants(t *testing.T) {
	with := func(word uint16, extended uint32) smbios.Device {
		b := deviceBody()
		binary.LittleEndian.PutUint16(b[0x0C-4:], word)
		binary.LittleEndian.PutUint32(b[0x1C-4:], extended)
		return device(t, b)
	}
	for _, c := range []struct {
		says     string
		word     uint16
		extended uint32
		filled   bool
		size     maybe.Value[jedec.Capacity]
	}{
		{"0 is an empty place", 0, 0, false, maybe.None[jedec.Capacity]()},
		{"0xFFFF is a filled place of unknown size", 0xFFFF, 0, true, maybe.None[jedec.Capacity]()},
		{"megabytes", 512, 0, true, maybe.Just(512 * jedec.MiB)},
		{"bit 15 makes kilobytes of them", 0x8000 | 512, 0, true, maybe.Just(512 * jedec.KiB)},
		{"0x7FFF sends to the extended size", 0x7FFF, 65536, true, maybe.Just(64 * jedec.GiB)},
		{"its bit 31 is reserved", 0x7FFF, 1<<31 | 32768, true, maybe.Just(32 * jedec.GiB)},
		{"an extended size of 0 is none", 0x7FFF, 0, true, maybe.None[jedec.Capacity]()},
		{"32 766 MB need no extended size", 0x7FFE, 9, true, maybe.Just(32766 * jedec.MiB)},
	} {
		d := with(c.word, c.extended)
		assert.Equal(t, maybe.Just(c.filled), d.Filled, c.says)
		assert.Equal(t, c.size, d.Size, c.says)
	}
	short := deviceBody()[:0x1B-4]
	binary.LittleEndian.PutUint16(short[0x0C-4:], 0x7FFF)
	assert.False(t, device(t, short).Size.Known(), "no extended size in a structure too short for it")
}

func TestSpeedVariants(t *testing.T) {
	b := deviceBody()
	binary.LittleEndian.PutUint16(b[0x15-4:], 0xFFFF)
	binary.LittleEndian.PutUint16(b[0x20-4:], 0)
	d := device(t, b)
	assert.Equal(t, maybe.Just(6400), d.Speed, "0xFFFF sends to the extended speed")
	assert.False(t, d.Configured.Known(), "0 is unknown")
}

func TestWidthSentinels(t *testing.T) {
	b := deviceBody()
	binary.LittleEndian.PutUint16(b[0x08-4:], 0xFFFF)
	binary.LittleEndian.PutUint16(b[0x0A-4:], 0)
	d := device(t, b)
	assert.False(t, d.TotalBits.Known())
	assert.False(t, d.DataBits.Known())
}

func TestMemoryTypeCodes(t *testing.T) {
	for code, want := range map[byte]jedec.Generation{0x0F: jedec.SDR, 0x12: jedec.DDR, 0x13: jedec.DDR2,
		0x18: jedec.DDR3, 0x1A: jedec.DDR4,
		0x1D: jedec.LPDDR3, 0x1E: jedec.LPDDR4, 0x22: jedec.DDR5, 0x23: jedec.LPDDR5} {
		b := deviceBody()
		b[0x12-4] = code
		assert.Equal(t, maybe.Just(want), device(t, b).Generation())
	}
	for _, code := range []byte{0, 1, 2, 7, 0x03, 0xEE} {
		b := deviceBody()
		b[0x12-4] = code
		assert.False(t, device(t, b).Generation().Known(), "code %#x names no generation", code)
	}
}

func TestFormCodes(t *testing.T) {
	b := deviceBody()
	assert.Equal(t, maybe.Just(jedec.SODIMM), device(t, b).Form())
	for _, code := range []byte{0x05, 0x0A, 0x0B, 0x10} {
		b[0x0E-4] = code
		d := device(t, b)
		assert.True(t, d.OnBoard(), d.FormName())
		assert.False(t, d.Form().Known())
	}
	b[0x0E-4] = 0x77
	assert.Equal(t, "reserved code", device(t, b).FormName())
	assert.False(t, device(t, b).OnBoard())
}

func TestArrayMaximum(t *testing.T) {
	arrays := decode(t, compose.Array(1, 32<<20, 2), compose.Array(2, 3<<30, 8), compose.Array(3, 0, 4)).Arrays
	assert.Equal(t, maybe.Just(32*jedec.GiB), arrays[0].Maximum)
	assert.Equal(t, maybe.Just(3*jedec.TiB), arrays[1].Maximum, "0x80000000 sends to the extended maximum")
	assert.False(t, arrays[2].Maximum.Known(), "0 states no maximum")
	assert.Equal(t, 8, arrays[1].Devices)

	old := decode(t, compose.Structure{Type: 16, Handle: 9, Body: []byte{3, 3, 3, 0, 0, 0, 0x80, 0xFE, 0xFF, 2, 0}})
	assert.False(t, old.Arrays[0].Maximum.Known(), "a 2.1 structure has no extended maximum")
}

func TestSystemDevicesLeaveOutOtherArrays(t *testing.T) {
	flash := compose.Array(2, 16<<10, 1)
	flash.Body[1] = 5 // use: flash memory
	v := decode(t, compose.Array(1, 32<<20, 1), flash,
		compose.Device{Handle: 0x11, Array: 1, MiB: 4096, Locator: "DIMM 1"}.Structure(),
		compose.Device{Handle: 0x12, Array: 2, MiB: 16, Locator: "flash"}.Structure(),
		compose.Device{Handle: 0x13, Array: 77, MiB: 4096, Locator: "orphan"}.Structure())
	var names []string
	for _, d := range v.SystemDevices() {
		names = append(names, d.Locator)
	}
	assert.Equal(t, []string{"DIMM 1", "orphan"}, names)
	assert.Len(t, v.SystemArrays(), 1)
}

func TestArrayAddressForms(t *testing.T) {
	v := decode(t, compose.Mapped(1, 0x1000, 4<<20),
		compose.Structure{Type: 19, Handle: 2,
			Body: append([]byte{0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0xFF, 0, 0x10, 1},
				0, 0, 0, 0, 1, 0, 0, 0, 0xFF, 0xFF, 0xFF, 0xFF, 2, 0, 0, 0)},
		compose.Structure{Type: 19, Handle: 3, Body: []byte{1, 2, 3}})
	require.Len(t, v.Addresses, 2, "a structure too short for its addresses is left out")
	assert.Equal(t, 4*jedec.GiB, v.Addresses[0].Capacity())
	assert.Equal(t, 8*jedec.GiB, v.Addresses[1].Capacity(), "0x1_0000_0000 to 0x2_FFFF_FFFF")
}

func TestProcessor(t *testing.T) {
	v := decode(t, compose.Processor(4, "U3E1", "Harbour Silicon", "Petrel P5", 0xBFEBFBFF000906EA, 3900, 4))
	p := v.Processors[0]
	assert.True(t, p.Present)
	assert.Equal(t, maybe.Just(4), p.Cores)
	assert.Equal(t, uint16(1), p.Family, "0xFE sends to family 2")
	id, _ := p.ID.Get()
	family, model, stepping := smbios.Signature(uint32(id))
	assert.Equal(t, []int{6, 158, 10}, []int{family, model, stepping})
	family, model, stepping = smbios.Signature(0x00830F10)
	assert.Equal(t, []int{23, 49, 0}, []int{family, model, stepping}, "the extended family counts from family 15 on")
}

// Past 254 cores the byte is full, and a word behind it counts (DSP0134 7.5.6).
func TestProcessorsOfManyCores(t *testing.T) {
	cores := func(one byte, word uint16) maybe.Value[int] {
		s := compose.Processor(4, "U3E1", "Harbour Silicon", "Petrel P5", 1, 3900, one)
		s.Body = append(s.Body[:0x2A-4:0x2A-4], byte(word), byte(word>>8), 0, 0, 0, 0)
		return decode(t, s).Processors[0].Cores
	}
	assert.Equal(t, maybe.Just(288), cores(0xFF, 288))
	assert.Equal(t, maybe.Just(8), cores(8, 288), "a byte that is not full is what counts")
	assert.False(t, cores(0, 288).Known())
}

func TestPlaceholders(t *testing.T) {
	for _, s := range []string{"", "  ", "To be filled by O.E.M.", "To Be Filled By O.E.M", "Default string", "0000",
		"00000000", "Undefined",
		"FFFFFFFF", "SerNum02", "Manufacturer3", "System Product Name", "x.x", "Not Specified", "[Empty]", "---", "None",
		"N/A", "PartNum1", "SerialNumber0", "Array1_PartNumber0", "Array1_SerialNumber2", "ModuleManufacturer01",
		"ModuleSerialNumber1", "ModulePartNumber12", "AssetTagNum3", "AssetTag7"} {
		assert.True(t, smbios.Placeholder(s), "%q", s)
	}
	for _, s := range []string{"Marram", "4F21A09C", "Gull 14", "FF", "A0", "DIMM 0", "0x1234"} {
		assert.False(t, smbios.Placeholder(s), "%q", s)
	}
}

func TestPositions(t *testing.T) {
	none := smbios.Position{}
	at := func(cpu, mc int, channel string, slot int) smbios.Position {
		p := none
		if cpu >= 0 {
			p.Processor = maybe.Just(cpu)
		}
		if mc >= 0 {
			p.Controller = maybe.Just(mc)
		}
		if channel != "" {
			p.Channel = maybe.Just(channel)
		}
		if slot >= 0 {
			p.Slot = maybe.Just(slot)
		}
		return p
	}
	for _, c := range []struct {
		locator, bank string
		want          smbios.Position
	}{
		{"DIMM_A1", "BANK 0", at(-1, -1, "A", 1)},
		{"DIMM_B2", "", at(-1, -1, "B", 2)},
		{"DIMMC0", "", at(-1, -1, "C", 0)},
		{"ChannelA-DIMM0", "BANK 0", at(-1, -1, "A", 0)},
		{"ChannelB-DIMM1", "", at(-1, -1, "B", 1)},
		{"Controller0-ChannelB", "BANK 0", at(-1, 0, "B", -1)},
		{"Controller1-ChannelA-DIMM0", "BANK 0", at(-1, 1, "A", 0)},
		{"DIMM 0", "P0 CHANNEL A", at(0, -1, "A", -1)},
		{"DIMM_A 0", "P0 CHANNEL A", at(0, -1, "A", 0)},
		{"CPU0 DIMM3", "", at(0, -1, "", -1)},
		{"A1", "", at(-1, -1, "A", 1)},
		{"J1", "DIMM A1", at(-1, -1, "A", 1)}, {"J3", "", none}, // printed on the board, and no channel
		{"BANK 2", "", none}, {"J8H1", "", none}, {"M1", "", none}, {"DIMM A", "BANK 2", none}, {"DIMM 2", "BANK 1", none},
		{"", "", none},
	} {
		got := smbios.ParsePosition(c.locator, c.bank)
		assert.Equal(t, c.want, got, "%q %q", c.locator, c.bank)
	}
}
