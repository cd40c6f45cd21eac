package smbios_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/jedec"
	"epitome/core/smbios"
)

// The codes of DSP0134, all that a byte holds: clauses 7.18.1 (form), 7.18.2 (memory type) and 7.18.6 (technology).
func TestEveryCodeOfADevice(t *testing.T) {
	forms := map[uint8]string{1: "other", 2: "unknown", 3: "SIMM", 4: "SIP", 5: "chip", 6: "DIP", 7: "ZIP",
		8: "proprietary card", 9: "DIMM", 0xA: "TSOP", 0xB: "row of chips", 0xC: "RIMM", 0xD: "SODIMM", 0xE: "SRIMM",
		0xF: "FB-DIMM", 0x10: "die", 0x11: "CAMM"}
	modules := map[uint8]jedec.Form{3: jedec.SIMM, 9: jedec.DIMM, 0xC: jedec.RIMM, 0xD: jedec.SODIMM, 0xF: jedec.FBDIMM,
		0x11: jedec.CAMM2}
	types := map[uint8]jedec.Generation{0x0F: jedec.SDR, 0x12: jedec.DDR, 0x13: jedec.DDR2, 0x14: jedec.DDR2,
		0x18: jedec.DDR3, 0x1A: jedec.DDR4, 0x1B: jedec.LPDDR, 0x1C: jedec.LPDDR2, 0x1D: jedec.LPDDR3, 0x1E: jedec.LPDDR4,
		0x22: jedec.DDR5, 0x23: jedec.LPDDR5}
	other := map[uint8]string{0x08: "read-only memory", 0x09: "flash", 0x0A: "EEPROM", 0x0B: "flash",
		0x0C: "read-only memory", 0x1F: "persistent memory"}
	technologies := map[uint8]string{4: "persistent memory", 5: "flash", 6: "persistent memory", 7: "persistent memory"}
	for code := range 256 {
		c := uint8(code)
		name := forms[c]
		if name == "" {
			name = "reserved code"
		}
		d := smbios.Device{FormCode: c, MemoryType: c}
		assert.Equal(t, name, d.FormName(), "form %#x", c)
		form, ok := d.Form().Get()
		want, known := modules[c]
		assert.Equal(t, known, ok, "form %#x", c)
		assert.Equal(t, want, form, "form %#x", c)
		g, ok := d.Generation().Get()
		generation, known := types[c]
		assert.Equal(t, known, ok, "type %#x", c)
		assert.Equal(t, generation, g, "type %#x", c)
		assert.Equal(t, other[c], d.NotMemory(), "type %#x", c)
		assert.Equal(t, technologies[c], smbios.Device{Technology: c, MemoryType: 0x1A}.NotMemory(), "technology %#x", c)
	}
}

// Clause 7.4.1, in its order from 1 on.
func TestEveryChassisHasItsName(t *testing.T) {
	names := strings.Split("other|unknown|desktop|low-profile desktop|pizza box|mini tower|tower|portable|laptop|"+
		"notebook|hand held|docking station|all-in-one|sub-notebook|space-saving|lunch box|main server chassis|"+
		"expansion chassis|sub-chassis|bus expansion chassis|peripheral chassis|RAID chassis|"+
		"rack-mount chassis|sealed-case PC|multi-system chassis|CompactPCI|AdvancedTCA|blade|"+
		"blade enclosure|tablet|convertible|detachable|IoT gateway|embedded PC|mini PC|stick PC", "|")
	for i, name := range names {
		assert.Equal(t, name, smbios.ChassisKind(i+1).String())
	}
	assert.Equal(t, "unknown", smbios.ChassisKind(0).String())
	assert.Equal(t, "unknown", smbios.ChassisKind(len(names)+1).String(), "beyond the clause")
}

// Every string that firmware of one maker or another carries where nobody entered anything, in whatever case and with
// or without a point behind; and what only looks like one.
func TestEveryPlaceholder(t *testing.T) {
	for s := range strings.SplitSeq("0|00|000|0000|00000000|0000000000000000|to be filled by o.e.m.|to be filled by oem|"+
		"to be filled|o.e.m.|oem|default string|default|undefined|undefine|unknown|none|n/a|na|not specified|not available|"+
		"not applicable|not provided|no asset information|no asset tag|no enclosure|empty|null|xxx|system manufacturer|"+
		"system product name|system version|system serial number|system name|base board manufacturer|"+
		"base board product name|base board serial number|board manufacturer|board product name|board serial number|"+
		"board asset tag|chassis manufacturer|chassis serial number|chassis asset tag|chassis version|asset tag|assettag|"+
		"asset-1234567890|serial number|sku|type1sku0|invalid|not settable|no module installed|[empty]|<out of spec>|"+
		"0123456789|123456789|1234567890|part number|partnum|sernum|manufacturer|fill by oem|x.x|xx|bad index|all series|"+
		"dimm_asset|ffffffff|ffff|product name|all|no dimm|to be filled by the shop|x|-|_|*|x-x|sernum12|serialnumber3|"+
		"manufacturer03|partnum0|array1_partnumber2|array1_serialnumber9|modulemanufacturer1|moduleserialnumber1|"+
		"modulepartnumber1|assettagnum1|assettag9|000000", "|") {
		for _, written := range []string{s, strings.ToUpper(s), " " + s + ". ", strings.ToUpper(s[:1]) + s[1:]} {
			_, ok := smbios.Told(written)
			assert.False(t, ok, written)
		}
	}
	for _, s := range []string{"fff", "ff", "01", "0001", "Marram", "default strings", "sernum1a", "serial", "oem 7", "no",
		"1234", "12345678", "asset", "part number 7", "all new", "the unknown", "xxy", "not", "system"} {
		told, ok := smbios.Told("  " + s + " ")
		assert.True(t, ok, s)
		assert.Equal(t, s, told)
	}
	told, _ := smbios.Told(" Plover   14\tX ")
	assert.Equal(t, "Plover 14 X", told)
}
