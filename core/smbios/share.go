package smbios

import (
	"encoding/binary"

	"epitome/core/octet"
)

// A stringUse is what becomes of a string when a table is shared.
type stringUse uint8

const (
	keepString  stringUse = iota // names of makers, models, places: what the findings are about
	standInText                  // serial numbers by which readings are matched
)

// harmless are the strings that findings rest on, by structure type and
// offset. Every other string goes: a serial number of the machine, an asset
// tag, an owner, what a maker wrote for himself.
var harmless = map[Type]map[int]stringUse{
	TypeFirmware:  {firmwareVersion: keepString, firmwareReleased: keepString},
	TypeSystem:    {systemMaker: keepString, systemProduct: keepString},
	TypeBoard:     {boardMaker: keepString, boardProduct: keepString},
	TypeProcessor: {processorSocket: keepString, processorVersion: keepString},
	TypeModule:    {moduleSocket: keepString},
	TypeMemoryDevice: {deviceLocator: keepString, deviceBank: keepString, deviceMaker: keepString,
		devicePart: keepString, deviceSerial: standInText},
}

// flagsAt is where a processor's identity holds feature flags behind its
// signature (clause 7.5.3.1). Nothing rests on them; old processors had a serial
// number of their own there.
const flagsAt, flagsLong = processorID + 4, 4

// Understood returns a table made anew of what decoding this one looks at: the
// structures that are decoded, of each the fields that are read, the rest of its
// length nought, and of its strings those that findings rest on. Serial numbers
// of modules go through standIn; what firmware writes where it knows none stays.
// A table that is damaged ends where the damage begins.
func Understood(image []byte, entry EntryPoint, standIn func(string) string) []byte {
	var out []byte
	_, _ = walk(image, entry, func(s Structure) {
		if again, ok := s.understood(standIn); ok {
			out = append(out, again...)
		}
	})
	return append(out, byte(TypeEnd), headerSize, 0xFE, 0xFF, 0, 0)
}

func (s Structure) understood(standIn func(string) string) ([]byte, bool) {
	if s.Type == TypeEnd {
		return nil, false
	}
	area := s.area.Covered()
	window, read := octet.Watch(area)
	var v Inventory
	if !v.take(Structure{Type: s.Type, Handle: s.Handle, area: window, text: s.text}) {
		return nil, false
	}
	out := make([]byte, len(area))
	copy(out, area[:headerSize])
	for i := headerSize; i < len(area); i++ {
		if read.Seen(i) {
			out[i] = area[i]
		}
	}
	if s.Type == TypeProcessor && len(out) >= flagsAt+flagsLong {
		clear(out[flagsAt : flagsAt+flagsLong])
	}
	var strings []string
	for _, at := range stringFields[s.Type] {
		if at >= len(out) {
			continue
		}
		out[at] = 0
		text, _ := s.Text(at)
		use, kept := harmless[s.Type][at]
		if !kept || text == "" {
			continue
		}
		if use == standInText && !Placeholder(text) {
			text = standIn(text)
		}
		strings = append(strings, text)
		out[at] = byte(len(strings))
	}
	for _, text := range strings {
		out = append(append(out, text...), 0)
	}
	if len(strings) == 0 {
		out = append(out, 0)
	}
	return append(out, 0), true
}

// stringFields are all fields that hold a string's number, of the structures
// that are decoded.
var stringFields = map[Type][]int{
	TypeFirmware:     {firmwareVendor, firmwareVersion, firmwareReleased},
	TypeSystem:       {systemMaker, systemProduct, systemVersion, systemSerial, systemSKU, systemFamily},
	TypeBoard:        {boardMaker, boardProduct, boardVersion, boardSerial, boardAsset},
	TypeChassis:      {chassisMaker, chassisVersion, chassisSerial, chassisAsset},
	TypeProcessor:    {processorSocket, processorMaker, processorVersion},
	TypeModule:       {moduleSocket},
	TypeCache:        {cacheSocket},
	TypeMemoryDevice: {deviceLocator, deviceBank, deviceMaker, deviceSerial, deviceAsset, devicePart},
}

// RawFile puts a table into one file with its version, in the form in which one
// operating system hands it out (RawSMBIOSData: four bytes of versions, the
// length, the table).
func RawFile(table []byte, version Version) []byte {
	if version.Major < 2 || version.Major > 3 {
		version = Version{3, 0}
	}
	out := []byte{0, version.Major, version.Minor, 0}
	out = binary.LittleEndian.AppendUint32(out, uint32(len(table)))
	return append(out, table...)
}
