package smbios_test

import (
	"fmt"

	"epitome/core/smbios"
	"epitome/core/smbios/compose"
)

func ExampleDecode() {
	table := compose.Table(
		compose.Array(0x1000, 32<<20, 2),
		compose.Device{Handle: 0x1100, Array: 0x1000, MiB: 8192, Form: 0x0D, Type: 0x1A, Locator: "DIMM A"}.Structure(),
		compose.Device{Handle: 0x1101, Array: 0x1000, Form: 0x0D, Locator: "DIMM B"}.Structure(),
	)
	inventory, err := smbios.Decode(table, smbios.EntryPoint{})
	for _, d := range inventory.SystemDevices() {
		filled, _ := d.Filled.Get()
		size, _ := d.Size.Get()
		fmt.Println(d.Locator, filled, size)
	}
	fmt.Println(err)
	_, err = smbios.Decode([]byte{17, 40, 0, 0x11, 0, 0}, smbios.EntryPoint{})
	fmt.Println(err)
	// Output:
	// DIMM A true 8 GB
	// DIMM B false 0 B
	// <nil>
	// firmware table damaged: offset 0x0, structure 0x1100 (type 17), formatted area: expected 40 bytes, found 6 before the end
}
