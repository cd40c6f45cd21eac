package smbios

import (
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// A Device is structure type 17, a memory device: one place that holds a
// module, a bank of soldered chips, or nothing (DSP0134 clause 7.18).
type Device struct {
	Handle, Array        Handle
	Locator, Bank        string // names printed on the board, as the maker writes them
	Filled               maybe.Value[bool]
	Size                 maybe.Value[jedec.Capacity] // unknown for a filled place whose size firmware cannot tell
	TotalBits, DataBits  maybe.Value[int]            // widths with and without check bits
	FormCode, MemoryType uint8
	Detail               TypeDetail
	DeviceSet            uint8            // 0 none, 0xFF unknown
	Speed, Configured    maybe.Value[int] // MT/s or MHz, as firmware wrote it
	Maker, Serial, Part  string
	OneSpeed             bool // the structure has no field for the configured speed (before 2.7)
	Identifies           bool // the structure has fields for serial and part number, be they blank (2.3)
	Asset                string
	Rank                 maybe.Value[int]
	MinimumMV, MaximumMV maybe.Value[int] // millivolts
	ConfiguredMV         maybe.Value[int]
	MakerID              maybe.Value[uint16] // module manufacturer ID as in the SPD: bank byte low
	Technology           uint8               // clause 7.18.6, 0 where absent; 3 is DRAM
	Failed               bool                // firmware reports errors, or did not enable it
}

// The layout of type 17. Numbers behind the offsets are the version that
// added the field.
const (
	deviceArray        = 0x04 // word
	deviceTotalBits    = 0x08 // word
	deviceDataBits     = 0x0A // word
	deviceSize         = 0x0C // word
	deviceForm         = 0x0E // byte
	deviceSet          = 0x0F // byte
	deviceLocator      = 0x10 // string
	deviceBank         = 0x11 // string
	deviceType         = 0x12 // byte
	deviceDetail       = 0x13 // word
	deviceSpeed        = 0x15 // word, 2.3
	deviceMaker        = 0x17 // string, 2.3
	deviceSerial       = 0x18 // string, 2.3
	deviceAsset        = 0x19 // string, 2.3
	devicePart         = 0x1A // string, 2.3
	deviceAttributes   = 0x1B // byte, 2.6
	deviceExtendedSize = 0x1C // dword, MiB, 2.7
	deviceConfigured   = 0x20 // word, 2.7
	deviceMinimumMV    = 0x22 // word, 2.8
	deviceMaximumMV    = 0x24 // word, 2.8
	deviceConfiguredMV = 0x26 // word, 2.8
	deviceTechnology   = 0x28 // byte, 3.2
	deviceMakerID      = 0x2C // word, 3.2
	deviceSpeedExt     = 0x54 // dword, 3.3
	deviceConfigExt    = 0x58 // dword, 3.3

	sizeUnknown  = 0xFFFF
	sizeExtended = 0x7FFF
	sizeInKiB    = 0x8000
	speedIsExt   = 0xFFFF
	reservedBit  = 1 << 31
)

// A TypeDetail is the type detail bit field (clause 7.18.3).
type TypeDetail uint16

// The bits that matter here.
const (
	DetailSynchronous  TypeDetail = 1 << 7
	DetailRegistered   TypeDetail = 1 << 13
	DetailUnbuffered   TypeDetail = 1 << 14
	DetailLoadReduced  TypeDetail = 1 << 15
	DetailNonVolatile  TypeDetail = 1 << 12
	DetailUnknownOther TypeDetail = 1<<1 | 1<<2
)

// memoryTypes is the part of the table in clause 7.18.2 that names a JEDEC
// generation. "SDRAM" is the single-data-rate kind; 0x01 other, 0x02 unknown,
// 0x07 RAM and the asynchronous kinds name none.
var memoryTypes = map[uint8]jedec.Generation{
	0x0F: jedec.SDR, 0x12: jedec.DDR, 0x13: jedec.DDR2, 0x14: jedec.DDR2, 0x18: jedec.DDR3, 0x1A: jedec.DDR4,
	0x1B: jedec.LPDDR, 0x1C: jedec.LPDDR2, 0x1D: jedec.LPDDR3, 0x1E: jedec.LPDDR4, 0x22: jedec.DDR5, 0x23: jedec.LPDDR5,
}

// forms is the part of the table in clause 7.18.1 that names a module.
var forms = map[uint8]jedec.Form{
	0x03: jedec.SIMM, 0x09: jedec.DIMM, 0x0C: jedec.RIMM, 0x0D: jedec.SODIMM, 0x0F: jedec.FBDIMM, 0x11: jedec.CAMM2,
}

// notMemory are the memory types of clause 7.18.2, and technologies of clause 7.18.6, of
// what is no working memory of the machine.
var (
	notMemoryTypes = map[uint8]string{0x08: "read-only memory", 0x09: "flash", 0x0A: "EEPROM", 0x0B: "flash",
		0x0C: "read-only memory", 0x1F: "persistent memory"}
	technologies = map[uint8]string{0x04: "persistent memory", 0x05: "flash", 0x06: "persistent memory",
		0x07: "persistent memory"}
)

// NotMemory names what the device is where it is no working memory: "flash",
// "persistent memory"; empty where it is, or where nothing tells.
func (d Device) NotMemory() string {
	if what, ok := technologies[d.Technology]; ok {
		return what
	}
	return notMemoryTypes[d.MemoryType]
}

// formNames is the whole table of clause 7.18.1, for quoting.
var formNames = map[uint8]string{
	0x01: "other", 0x02: "unknown", 0x03: "SIMM", 0x04: "SIP", 0x05: "chip", 0x06: "DIP", 0x07: "ZIP",
	0x08: "proprietary card", 0x09: "DIMM", 0x0A: "TSOP", 0x0B: "row of chips", 0x0C: "RIMM", 0x0D: "SODIMM",
	0x0E: "SRIMM", 0x0F: "FB-DIMM", 0x10: "die", 0x11: "CAMM",
}

// Generation returns the memory generation that the memory-type code names,
// unknown where it names none.
func (d Device) Generation() maybe.Value[jedec.Generation] { return GenerationOf(d.MemoryType) }

// GenerationOf returns the generation of a memory-type code (clause 7.18.2), unknown where it names none.
func GenerationOf(code uint8) maybe.Value[jedec.Generation] {
	g, ok := memoryTypes[code]
	return maybe.If(g, ok)
}

// Form returns the form that the form-factor code names, unknown where it
// names none. The codes for bare chips are not forms; see OnBoard.
func (d Device) Form() maybe.Value[jedec.Form] {
	f, ok := forms[d.FormCode]
	return maybe.If(f, ok)
}

// FormName returns the standard's name of the form-factor code.
func (d Device) FormName() string {
	if name, ok := formNames[d.FormCode]; ok {
		return name
	}
	return "reserved code"
}

// OnBoard reports whether the form-factor code is one of those for chips
// without a module: chip, TSOP, row of chips, die.
func (d Device) OnBoard() bool {
	switch d.FormCode {
	case 0x05, 0x0A, 0x0B, 0x10:
		return true
	}
	return false
}

func decodeDevice(s Structure) Device {
	d := Device{
		Handle: s.Handle, Locator: s.line(deviceLocator), Bank: s.line(deviceBank), Maker: s.line(deviceMaker),
		Serial: s.line(deviceSerial), Asset: s.line(deviceAsset), Part: s.line(devicePart),
		TotalBits: s.width(deviceTotalBits), DataBits: s.width(deviceDataBits),
		Speed: s.speed(deviceSpeed, deviceSpeedExt), Configured: s.speed(deviceConfigured, deviceConfigExt),
		MinimumMV: s.count(deviceMinimumMV), MaximumMV: s.count(deviceMaximumMV), ConfiguredMV: s.count(deviceConfiguredMV),
	}
	_, d.Identifies = s.area.Byte(devicePart)
	_, configures := s.area.Word(deviceConfigured)
	d.OneSpeed = !configures
	array, ok := s.area.Word(deviceArray)
	if !ok {
		array = 0xFFFF
	}
	d.Array = Handle(array)
	d.FormCode, _ = s.area.Byte(deviceForm)
	d.DeviceSet, _ = s.area.Byte(deviceSet)
	d.MemoryType, _ = s.area.Byte(deviceType)
	detail, _ := s.area.Word(deviceDetail)
	d.Detail = TypeDetail(detail)
	d.Technology, _ = s.area.Byte(deviceTechnology)
	if attributes, ok := s.area.Byte(deviceAttributes); ok && attributes&0xF != 0 {
		d.Rank = maybe.Just(int(attributes & 0xF))
	}
	if id, ok := s.area.Word(deviceMakerID); ok && id != 0 {
		d.MakerID = maybe.Just(id)
	}
	d.Filled, d.Size = s.size()
	return d
}

// size decodes the size field with its four variants.
func (s Structure) size() (filled maybe.Value[bool], size maybe.Value[jedec.Capacity]) {
	word, ok := s.area.Word(deviceSize)
	switch {
	case !ok:
		return filled, size
	case word == 0:
		return maybe.Just(false), size
	case word == sizeUnknown:
		return maybe.Just(true), size
	case word == sizeExtended:
		mib, ok := s.area.DWord(deviceExtendedSize)
		mib &^= reservedBit
		return maybe.Just(true), maybe.If(jedec.Capacity(mib)*jedec.MiB, ok && mib != 0)
	case word == sizeInKiB:
		// 32 GiB in MiB, in a field that has no room for it: old firmware lets it wrap.
		return maybe.Just(true), size
	case word&sizeInKiB != 0:
		return maybe.Just(true), maybe.Just(jedec.Capacity(word&^sizeInKiB) * jedec.KiB)
	}
	return maybe.Just(true), maybe.Just(jedec.Capacity(word) * jedec.MiB)
}

func (s Structure) width(off int) maybe.Value[int] {
	v, ok := s.area.Word(off)
	return maybe.If(int(v), ok && v != 0 && v != 0xFFFF)
}

func (s Structure) speed(off, extended int) maybe.Value[int] {
	v, ok := s.area.Word(off)
	if ok && v == speedIsExt {
		wide, ok := s.area.DWord(extended)
		wide &^= reservedBit
		return maybe.If(int(wide), ok && wide != 0)
	}
	return maybe.If(int(v), ok && v != 0)
}
