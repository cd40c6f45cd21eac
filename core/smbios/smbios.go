// Package smbios reads firmware tables as DMTF DSP0134 defines them: entry
// points, the walk over the structures, and the structures that speak of
// memory and of what it sits in. It decodes; it judges nothing. What a field
// is worth against other evidence is weighed in package evidence.
//
// Structures grew from version to version, so a field is present only where
// the structure's own length reaches it. A field that is absent, or holds the
// standard's word for "unknown", decodes to an unknown maybe.Value.
//
// The sentinels and variants, all in one place (DSP0134 3.8 clause in
// brackets):
//
//	field                         sentinel or variant            decodes to
//	type 3 kind [7.4]             bit 7                          lock present, masked off
//	type 4 speeds [7.5]           0                              unknown
//	type 4 family [7.5.2]         0xFE                           family 2 (word)
//	type 5 largest module [7.6]   n                              2^n MB
//	type 6 size [7.7]             0x7D, 0x7E, 0x7F               filled of unknown size, disabled, empty
//	type 6 size [7.7]             bit 7                          two banks, masked off
//	type 7 sizes [7.8]            bit 15; 0xFFFF                 unit of 64 KiB; size 2 (dword, bit 31 the same)
//	type 16 maximum [7.17]        0x80000000                     extended maximum, bytes
//	type 16 maximum [7.17]        0                              unknown (seen in the field)
//	type 17 widths [7.18]         0xFFFF, 0                      unknown
//	type 17 size [7.18]           0                              place is empty
//	type 17 size [7.18]           0xFFFF                         filled, size unknown
//	type 17 size [7.18]           0x7FFF                         extended size, MiB, bit 31 reserved
//	type 17 size [7.18]           bit 15                         unit is KiB instead of MiB
//	type 17 form [7.18.1]         0x01, 0x02                     other, unknown: kept as code
//	type 17 memory type [7.18.2]  0x01, 0x02, 0x07 (RAM)         kept as code, generation unknown
//	type 17 speeds [7.18.4]       0                              unknown
//	type 17 speeds [7.18.4]       0xFFFF                         extended speed, bit 31 reserved
//	type 17 rank [7.18]           0 in bits 3:0                  unknown
//	type 17 voltages [7.18]       0                              unknown
//	type 17 maker id [7.18.8]     0                              unknown
//	type 17 device set [7.18]     0 none, 0xFF                   unknown whether in a set
//	type 18 type [7.19]           3                              no error
//	type 19, 20 addresses         0xFFFFFFFF                     extended addresses, bytes
//	type 20 interleave [7.21]     0 not interleaved, 0xFF        unknown
//	handles                       0xFFFE not provided, 0xFFFF    no such structure
//
// Speeds were written in MHz up to version 3.0 and in MT/s since; the figure
// firmware puts there is not always either. The number is handed on as it
// stands.
package smbios

import (
	"errors"
	"fmt"
)

// A Type is a structure type number.
type Type uint8

// The structure types that are decoded; all others are walked over.
const (
	TypeFirmware      Type = 0
	TypeSystem        Type = 1
	TypeBoard         Type = 2
	TypeChassis       Type = 3
	TypeProcessor     Type = 4
	TypeController    Type = 5
	TypeModule        Type = 6
	TypeCache         Type = 7
	TypeMemoryArray   Type = 16
	TypeMemoryDevice  Type = 17
	TypeMemoryError   Type = 18
	TypeArrayAddress  Type = 19
	TypeDeviceAddress Type = 20
	TypeEnd           Type = 127
)

// A Handle names a structure within one table.
type Handle uint16

// String writes the handle as the standard does, "0x000B".
func (h Handle) String() string { return fmt.Sprintf("0x%04X", uint16(h)) }

// Known reports whether h refers to a structure: 0xFFFE means "not provided"
// and 0xFFFF "unknown".
func (h Handle) Known() bool { return h < 0xFFFE }

// The kinds of failure, for callers that branch on them.
var (
	// ErrEntryPoint: the bytes are no usable entry point.
	ErrEntryPoint = errors.New("firmware entry point not usable")
	// ErrTable: the structure table is damaged. What was read up to the
	// damage is returned beside it.
	ErrTable = errors.New("firmware table damaged")
)

// A FormatError says what is wrong with an entry point or a table, and where.
type FormatError struct {
	Kind   error  // ErrEntryPoint or ErrTable
	Offset int    // from the start of the image, in bytes
	Where  string // the structure or the field, such as "structure 0x1100 (type 17)"
	Want   string // what was expected
	Have   string // what was there
}

func (e *FormatError) Error() string {
	return fmt.Sprintf("%v: offset 0x%X, %s: expected %s, found %s", e.Kind, e.Offset, e.Where, e.Want, e.Have)
}

// Unwrap returns the kind of failure.
func (e *FormatError) Unwrap() error { return e.Kind }
