package smbios

import "strings"

// Firmware is structure type 0 (DSP0134 clause 7.1).
type Firmware struct {
	Vendor, Version, Released string
}

// System is structure type 1 (clause 7.2).
type System struct {
	Maker, Product, Version, Serial, SKU, Family string
}

// Board is structure type 2 (clause 7.3).
type Board struct {
	Handle                                 Handle
	Maker, Product, Version, Serial, Asset string
}

// Chassis is structure type 3 (clause 7.4).
type Chassis struct {
	Maker, Version, Serial, Asset string
	Kind                          ChassisKind // 0 where absent
}

// A ChassisKind is the chassis type code with the lock bit masked off
// (clause 7.4.1). 0 means that the structure does not hold it.
type ChassisKind uint8

// String offsets of types 0 to 3.
const (
	firmwareVendor, firmwareVersion, firmwareReleased = 0x04, 0x05, 0x08

	systemMaker, systemProduct, systemVersion, systemSerial = 0x04, 0x05, 0x06, 0x07
	systemSKU, systemFamily                                 = 0x19, 0x1A // 2.4

	boardMaker, boardProduct, boardVersion, boardSerial, boardAsset = 0x04, 0x05, 0x06, 0x07, 0x08

	chassisMaker, chassisKind, chassisVersion, chassisSerial, chassisAsset = 0x04, 0x05, 0x06, 0x07, 0x08
)

func decodeFirmware(s Structure) Firmware {
	return Firmware{Vendor: s.line(firmwareVendor), Version: s.line(firmwareVersion), Released: s.line(firmwareReleased)}
}

func decodeSystem(s Structure) System {
	return System{
		Maker: s.line(systemMaker), Product: s.line(systemProduct), Version: s.line(systemVersion),
		Serial: s.line(systemSerial), SKU: s.line(systemSKU), Family: s.line(systemFamily),
	}
}

func decodeBoard(s Structure) Board {
	return Board{
		Handle: s.Handle, Maker: s.line(boardMaker), Product: s.line(boardProduct), Version: s.line(boardVersion),
		Serial: s.line(boardSerial), Asset: s.line(boardAsset),
	}
}

func decodeChassis(s Structure) Chassis {
	kind, _ := s.area.Byte(chassisKind)
	return Chassis{
		Maker: s.line(chassisMaker), Version: s.line(chassisVersion), Serial: s.line(chassisSerial),
		Asset: s.line(chassisAsset), Kind: ChassisKind(kind & 0x7F),
	}
}

// chassisNames is the table of clause 7.4.1 as far as a machine with memory
// modules can be one.
var chassisNames = map[ChassisKind]string{
	0x01: "other", 0x02: "unknown", 0x03: "desktop", 0x04: "low-profile desktop", 0x05: "pizza box",
	0x06: "mini tower", 0x07: "tower", 0x08: "portable", 0x09: "laptop", 0x0A: "notebook", 0x0B: "hand held",
	0x0C: "docking station", 0x0D: "all-in-one", 0x0E: "sub-notebook", 0x0F: "space-saving", 0x10: "lunch box",
	0x11: "main server chassis", 0x12: "expansion chassis", 0x13: "sub-chassis", 0x14: "bus expansion chassis",
	0x15: "peripheral chassis", 0x16: "RAID chassis", 0x17: "rack-mount chassis", 0x18: "sealed-case PC",
	0x19: "multi-system chassis", 0x1A: "CompactPCI", 0x1B: "AdvancedTCA", 0x1C: "blade", 0x1D: "blade enclosure",
	0x1E: "tablet", 0x1F: "convertible", 0x20: "detachable", 0x21: "IoT gateway", 0x22: "embedded PC",
	0x23: "mini PC", 0x24: "stick PC",
}

// String returns the standard's name of the chassis kind.
func (k ChassisKind) String() string {
	if name, ok := chassisNames[k]; ok {
		return name
	}
	return "unknown"
}

// placeholders are strings that board makers leave in place of data, folded
// to lower case without punctuation at the end. They say nothing.
var placeholders = map[string]bool{
	"o.e.m": true, "oem": true, "default string": true, "default": true, "undefined": true, "undefine": true,
	"unknown": true, "none": true, "n/a": true, "na": true, "not specified": true, "not available": true,
	"not applicable": true, "not provided": true, "no asset information": true, "no asset tag": true,
	"no enclosure": true, "empty": true, "null": true, "system manufacturer": true, "system product name": true,
	"system version": true, "system serial number": true, "system name": true, "base board manufacturer": true,
	"base board product name": true, "base board serial number": true, "board manufacturer": true,
	"board product name":  true,
	"board serial number": true, "board asset tag": true, "chassis manufacturer": true,
	"chassis serial number": true, "chassis asset tag": true, "chassis version": true, "asset tag": true,
	"asset-1234567890": true, "serial number": true, "sku": true, "type1sku0": true, "invalid": true,
	"not settable": true, "no module installed": true, "[empty]": true, "<out of spec>": true, "0123456789": true,
	"123456789": true, "1234567890": true, "part number": true, "fill by oem": true, "bad index": true,
	"all series": true, "dimm_asset": true, "product name": true, "all": true, "no dimm": true,
}

// numbered placeholders: "SerNum02", "Manufacturer3", "PartNum1".
var numbered = []string{"sernum", "serialnumber", "manufacturer", "partnum", "array1_partnumber",
	"array1_serialnumber", "modulemanufacturer", "moduleserialnumber", "modulepartnumber", "assettagnum", "assettag"}

// Placeholder reports whether s is one of the strings that firmware carries
// where nobody entered anything. Such a string is unknown, not data.
func Placeholder(s string) bool {
	folded := strings.TrimRight(strings.ToLower(strings.TrimSpace(s)), ". ")
	if placeholders[folded] {
		return true
	}
	if strings.Trim(folded, "0") == "" || strings.Trim(folded, "f") == "" && len(folded) >= 4 ||
		strings.Trim(folded, "x-_.* ") == "" {
		return true
	}
	bare := strings.TrimRight(folded, "0123456789")
	for _, n := range numbered {
		if bare == n {
			return true
		}
	}
	return strings.HasPrefix(folded, "to be filled")
}

// Told returns a string that says something, with its spaces tidied; ok is false
// for placeholders.
func Told(s string) (string, bool) {
	if Placeholder(s) {
		return "", false
	}
	return strings.Join(strings.Fields(s), " "), true
}
