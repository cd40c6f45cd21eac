package smbios

import (
	"encoding/binary"
	"fmt"
)

// SplitFile takes apart a single file that holds a whole table: an entry
// point with the table behind it, or the RawSMBIOSData form that the Windows
// firmware-table call returns (one byte of flags, major, minor, revision, a
// dword of length, then the table). The table is handed on undecoded.
// Errors wrap ErrEntryPoint.
func SplitFile(image []byte) (entry EntryPoint, table []byte, err error) {
	entry, err = ParseEntryPoint(image)
	if err == nil {
		return entry, image[tableStart(image, entry):], nil
	}
	if raw, table, ok := rawSMBIOSData(image); ok {
		return raw, table, nil
	}
	return EntryPoint{}, nil, err
}

// tableStart finds the table behind its entry point: where the entry point's
// address says, if that lies inside the file (programs that save a table
// rewrite it), else directly behind, with or without padding to 16 bytes.
func tableStart(image []byte, entry EntryPoint) int {
	size := map[string]int{"_SM3_": 24, "_SM_": 31, "_DMI_": 15}[entry.Anchor]
	if entry.Address >= uint64(size) && entry.Address < uint64(len(image)) {
		return int(entry.Address)
	}
	for _, start := range []int{size, (size + 15) &^ 15} {
		if start < len(image) {
			// A wrong start may look like a structure or two; only a walk to the end tells.
			if _, err := ParseTable(image[start:], EntryPoint{}); err == nil {
				return start
			}
		}
	}
	return min(size, len(image))
}

// rawHeader is the length of the RawSMBIOSData header.
const rawHeader = 8

func rawSMBIOSData(image []byte) (entry EntryPoint, table []byte, ok bool) {
	if len(image) < rawHeader+headerSize {
		return entry, nil, false
	}
	length := int(binary.LittleEndian.Uint32(image[4:]))
	version := Version{image[1], image[2]}
	if version.Major < 2 || version.Major > 3 || length < headerSize || length > len(image)-rawHeader {
		return entry, nil, false
	}
	entry = EntryPoint{Anchor: "RawSMBIOSData", Version: version, TableLength: length}
	return entry, image[rawHeader : rawHeader+length], true
}

// String names the entry point's form and version for a person.
func (e EntryPoint) String() string {
	if e.Anchor == "" {
		return "no entry point"
	}
	return fmt.Sprintf("%s, version %v", e.Anchor, e.Version)
}
