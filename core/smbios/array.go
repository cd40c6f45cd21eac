package smbios

import (
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// An Array is structure type 16, a physical memory array: a set of places
// that share a maximum (DSP0134 clause 7.17).
type Array struct {
	Handle   Handle
	Location uint8 // clause 7.17.1; 3 is the system board
	Use      uint8 // clause 7.17.2; 3 is system memory
	ECC      uint8 // clause 7.17.3; 3 is none, 5 and 6 are single- and multi-bit
	Maximum  maybe.Value[jedec.Capacity]
	Devices  int // number of memory devices (places) the array says it has
}

// UseSystemMemory is the use code of ordinary memory; other arrays hold
// video memory, flash and the like.
const UseSystemMemory = 3

const (
	arrayLocation = 0x04 // byte
	arrayUse      = 0x05 // byte
	arrayECC      = 0x06 // byte
	arrayMaximum  = 0x07 // dword, KiB
	arrayDevices  = 0x0D // word
	arrayExtended = 0x0F // qword, bytes, 2.7

	arrayMaximumExtended = 0x80000000
)

func decodeArray(s Structure) Array {
	a := Array{Handle: s.Handle}
	a.Location, _ = s.area.Byte(arrayLocation)
	a.Use, _ = s.area.Byte(arrayUse)
	a.ECC, _ = s.area.Byte(arrayECC)
	devices, _ := s.area.Word(arrayDevices)
	a.Devices = int(devices)
	kib, ok := s.area.DWord(arrayMaximum)
	switch {
	case ok && kib == arrayMaximumExtended:
		bytes, ok := s.area.QWord(arrayExtended)
		a.Maximum = maybe.If(jedec.Capacity(bytes), ok && bytes != 0)
	case ok && kib != 0:
		a.Maximum = maybe.Just(jedec.Capacity(kib) * jedec.KiB)
	}
	return a
}

// An ArrayAddress is structure type 19: a range of addresses that an array
// answers (clause 7.20). First and Last are inclusive, in bytes.
type ArrayAddress struct {
	Array       Handle
	First, Last uint64
}

// Capacity returns the size of the range, 0 where it is reversed.
func (a ArrayAddress) Capacity() jedec.Capacity {
	if a.Last < a.First {
		return 0
	}
	return jedec.Capacity(a.Last-a.First) + 1
}

const (
	addressFirst    = 0x04 // dword, KiB
	addressLast     = 0x08 // dword, KiB
	addressArray    = 0x0C // word
	addressExtFirst = 0x0F // qword, bytes, 2.7
	addressExtLast  = 0x17 // qword, bytes, 2.7

	addressExtended = 0xFFFFFFFF
)

func decodeArrayAddress(s Structure) (a ArrayAddress, ok bool) {
	a.First, a.Last, ok = s.addresses(addressFirst, addressLast, addressExtFirst, addressExtLast)
	handle, has := s.area.Word(addressArray)
	a.Array = Handle(handle)
	return a, ok && has
}
