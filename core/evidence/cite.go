package evidence

import (
	"epitome/core/smbios"
	"fmt"
)

// table names a structure type as a source of claims.
func table(kind smbios.Type, place string) string {
	if place == "" {
		return fmt.Sprintf("firmware table %d", kind)
	}
	return fmt.Sprintf("firmware table %d, place %s", kind, place)
}

// cite names a structure type as a source of claims, or the management object
// that stands in its place.
func (s sources) cite(kind smbios.Type, place string) string {
	if !s.FromObjects || kind != smbios.TypeMemoryArray && kind != smbios.TypeMemoryDevice {
		return table(kind, place)
	}
	name := map[smbios.Type]string{smbios.TypeMemoryArray: "management object PhysicalMemoryArray", smbios.TypeMemoryDevice: "management object PhysicalMemory"}[kind]
	if place != "" {
		name += ", place " + place
	}
	return name
}
