package smbios

// An Inventory is what a table says about the machine and its memory, decoded
// structure by structure in the table's own order.
type Inventory struct {
	Version     Version // 0.0 where no entry point was read
	Firmware    []Firmware
	Systems     []System
	Boards      []Board
	Chassis     []Chassis
	Processors  []Processor
	Arrays      []Array
	Devices     []Device
	Addresses   []ArrayAddress
	Mapped      []DeviceAddress
	Caches      []Cache
	Errors      []MemoryError
	Controllers []Controller // of machines before 2.1
	OldModules  []Module     // of machines before 2.1
	Notes       []string     // oddities that did no harm
}

// Decode reads a structure table. Where err wraps ErrTable the inventory
// holds what stood before the damage.
func Decode(image []byte, entry EntryPoint) (Inventory, error) {
	v := Inventory{Version: entry.Version}
	var err error
	v.Notes, err = walk(image, entry, func(s Structure) { v.take(s) })
	return v, err
}

// take decodes a structure; known is false where it is of a type that nothing
// here rests on.
func (v *Inventory) take(s Structure) (known bool) {
	switch s.Type {
	case TypeFirmware:
		v.Firmware = append(v.Firmware, decodeFirmware(s))
	case TypeSystem:
		v.Systems = append(v.Systems, decodeSystem(s))
	case TypeBoard:
		v.Boards = append(v.Boards, decodeBoard(s))
	case TypeChassis:
		v.Chassis = append(v.Chassis, decodeChassis(s))
	case TypeProcessor:
		v.Processors = append(v.Processors, decodeProcessor(s))
	case TypeMemoryArray:
		v.Arrays = append(v.Arrays, decodeArray(s))
	case TypeMemoryDevice:
		v.Devices = append(v.Devices, decodeDevice(s))
	case TypeController:
		v.Controllers = append(v.Controllers, decodeController(s))
	case TypeModule:
		v.OldModules = append(v.OldModules, decodeModule(s))
	case TypeCache:
		v.Caches = append(v.Caches, decodeCache(s))
	case TypeMemoryError:
		v.Errors = append(v.Errors, decodeMemoryError(s))
	case TypeDeviceAddress:
		if a, ok := decodeDeviceAddress(s); ok {
			v.Mapped = append(v.Mapped, a)
		}
	case TypeArrayAddress:
		if a, ok := decodeArrayAddress(s); ok {
			v.Addresses = append(v.Addresses, a)
		}
	default:
		return false
	}
	return true
}

// SystemArrays returns the arrays that hold system memory.
func (v Inventory) SystemArrays() []Array {
	var arrays []Array
	for _, a := range v.Arrays {
		if a.Use == UseSystemMemory {
			arrays = append(arrays, a)
		}
	}
	return arrays
}

// SystemDevices returns the places of system memory: those of system-memory
// arrays, and those whose array is not in the table at all, since nothing
// says that they are something else. A table from before version 2.1 has
// none; its modules take their place.
func (v Inventory) SystemDevices() []Device {
	if len(v.Devices) == 0 {
		var devices []Device
		for _, m := range v.OldModules {
			devices = append(devices, m.device())
		}
		return devices
	}
	other := make(map[Handle]bool)
	for _, a := range v.Arrays {
		if a.Use != UseSystemMemory {
			other[a.Handle] = true
		}
	}
	var devices []Device
	for _, d := range v.Devices {
		if !other[d.Array] {
			devices = append(devices, d)
		}
	}
	return devices
}
