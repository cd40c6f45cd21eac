package evidence

import (
	"fmt"

	"epitome/core/records"
	"epitome/core/smbios"
)

// table names a structure type as a source of claims.
func table(kind smbios.Type, place string) string {
	if place == "" {
		return fmt.Sprintf("firmware table %d", kind)
	}
	return fmt.Sprintf("firmware table %d, place %s", kind, place)
}

// objectsOf are the management objects that stand in a structure's place.
var objectsOf = map[smbios.Type]records.Class{
	smbios.TypeFirmware: records.BIOS, smbios.TypeSystem: records.ComputerSystem, smbios.TypeBoard: records.BaseBoard,
	smbios.TypeChassis:     records.SystemEnclosure,
	smbios.TypeMemoryArray: records.PhysicalMemoryArray, smbios.TypeMemoryDevice: records.PhysicalMemory,
}

// cite names a structure type as a source of claims, or the management object
// that stands in its place.
func (s sources) cite(kind smbios.Type, place string) string {
	class, known := objectsOf[kind]
	from := s.NamedByObjects
	if kind == smbios.TypeMemoryArray || kind == smbios.TypeMemoryDevice {
		from = s.FromObjects
	}
	if s.FromPanel && (kind == smbios.TypeMemoryArray || kind == smbios.TypeMemoryDevice) {
		return "settings panel"
	}
	if !from || !known {
		return table(kind, place)
	}
	if place == "" {
		return "system's record " + string(class)
	}
	return "system's record " + string(class) + ", place " + place
}
