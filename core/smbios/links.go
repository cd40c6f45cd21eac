package smbios

import (
	"epitome/core/jedec"
	"epitome/core/maybe"
)

// A Cache is structure type 7 (DSP0134 clause 7.8).
type Cache struct {
	Handle    Handle
	Socket    string
	Level     int // 1 to 8
	Enabled   bool
	Installed maybe.Value[jedec.Capacity]
}

// A MemoryError is structure type 18 (clause 7.19): the last error of an array
// or a device, which refers to it.
type MemoryError struct {
	Handle Handle
	Type   uint8 // clause 7.19.1; 3 is OK
}

// OK reports whether the structure says that there is no error.
func (e MemoryError) OK() bool { return e.Type == 0x03 }

// A DeviceAddress is structure type 20 (clause 7.21): a range of addresses
// that a device answers, and its place among those it interleaves with.
type DeviceAddress struct {
	Device, ArrayAddress Handle
	First, Last          uint64           // bytes, inclusive
	Position             maybe.Value[int] // interleave position, 1 for the first; unknown where not interleaved
	Depth                maybe.Value[int] // consecutive rows it gives in a turn
}

const (
	cacheSocket     = 0x04 // string
	cacheConfig     = 0x05 // word; bits 2 to 0: level less one; 7: enabled
	cacheInstalled  = 0x09 // word; bit 15: unit is 64 KiB instead of 1
	cacheInstalled2 = 0x17 // dword, 3.1; bit 31: the same

	errorType = 0x04

	devAddressFirst    = 0x04 // dword, KiB
	devAddressLast     = 0x08 // dword, KiB
	devAddressDevice   = 0x0C // word
	devAddressArray    = 0x0E // word
	devAddressPosition = 0x11 // byte; 0 not interleaved, 0xFF unknown
	devAddressDepth    = 0x12 // byte; 0 not interleaved, 0xFF unknown
	devAddressExtFirst = 0x13 // qword, bytes, 2.7
	devAddressExtLast  = 0x1B // qword, bytes, 2.7
)

func decodeCache(s Structure) Cache {
	c := Cache{Handle: s.Handle, Socket: s.line(cacheSocket)}
	config, _ := s.area.Word(cacheConfig)
	c.Level, c.Enabled = int(config&7)+1, config&0x80 != 0
	if word, ok := s.area.Word(cacheInstalled); ok {
		unit := jedec.KiB
		if word&0x8000 != 0 {
			unit = 64 * jedec.KiB
		}
		c.Installed = maybe.Just(jedec.Capacity(word&0x7FFF) * unit)
		if wide, ok := s.area.DWord(cacheInstalled2); ok && word == 0xFFFF {
			unit = jedec.KiB
			if wide&(1<<31) != 0 {
				unit = 64 * jedec.KiB
			}
			c.Installed = maybe.Just(jedec.Capacity(wide&^(1<<31)) * unit)
		}
	}
	return c
}

func decodeMemoryError(s Structure) MemoryError {
	kind, _ := s.area.Byte(errorType)
	return MemoryError{Handle: s.Handle, Type: kind}
}

func decodeDeviceAddress(s Structure) (a DeviceAddress, ok bool) {
	if a.First, a.Last, ok = s.addresses(devAddressFirst, devAddressLast, devAddressExtFirst, devAddressExtLast); !ok {
		return a, false
	}
	device, ok1 := s.area.Word(devAddressDevice)
	array, ok2 := s.area.Word(devAddressArray)
	a.Device, a.ArrayAddress = Handle(device), Handle(array)
	for off, field := range map[int]*maybe.Value[int]{devAddressPosition: &a.Position, devAddressDepth: &a.Depth} {
		if b, ok := s.area.Byte(off); ok && b != 0 && b != 0xFF {
			*field = maybe.Just(int(b))
		}
	}
	return a, ok1 && ok2
}

// addresses reads a range of KiB with its extended form in bytes. The last KiB
// is inclusive: its own last byte ends the range.
func (s Structure) addresses(first, last, extFirst, extLast int) (from, to uint64, ok bool) {
	a, ok1 := s.area.DWord(first)
	b, ok2 := s.area.DWord(last)
	if !ok1 || !ok2 {
		return 0, 0, false
	}
	if a == addressExtended {
		from, ok1 = s.area.QWord(extFirst)
		to, ok2 = s.area.QWord(extLast)
		return from, to, ok1 && ok2
	}
	return uint64(a) << 10, uint64(b)<<10 | 0x3FF, true
}
