// Package demo is a made-up workshop by a harbour. Its makers, models,
// processors and part numbers exist nowhere; they are laid out as real firmware lays
// them out, so that the demo runs the same code as a job does.
package demo

import (
	"fmt"
	"maps"
	"slices"

	"epitome/core/smbios/compose"
)

// A File is one collected file.
type File struct {
	Name string
	Data []byte
}

// A Machine is one machine on the bench.
type Machine struct {
	Name  string // of its files
	Title string
	Uses  string // what its owner does with it, as need takes it
	Reach string // what its owner wants
	build func() ([]compose.Structure, string, string)
	chips map[string][]byte // EEPROM images by file name
	pci   string            // the chipset, as a line of PCI ids
}

// Files returns the files that were collected from the machine: firmware
// tables and procfs texts.
func (m Machine) Files() []File {
	structures, cpu, memory := m.build()
	table := compose.Table(structures...)
	files := []File{
		{"smbios_entry_point", compose.EntryPoint64(3, 2, len(table))},
		{"DMI", table},
		{"cpuinfo", []byte(cpu)},
		{"meminfo", []byte(memory)},
	}
	if m.pci != "" {
		files = append(files, File{"pci", []byte(m.pci)})
	}
	for _, name := range slices.Sorted(maps.Keys(m.chips)) {
		files = append(files, File{name, m.chips[name]})
	}
	return files
}

// Machines returns the machines on the bench, the one that the demo walks
// through first.
func Machines() []Machine {
	return []Machine{
		{"gull-14", "Harbour master's office laptop, slow with many tabs", "browsing,tabs=40,office", "16GB", gull,
			map[string][]byte{"spd-50.bin": gullModule()}, ""},
		{"tern-13", "Pilot's laptop, soldered memory and one hidden socket", "browsing,calls,office", "12GB", tern, nil, ""},
		{"bollard-t3", "Chandlery's old desktop, mixed modules", "accounts,office", "8GB", bollard,
			map[string][]byte{"spd-50.bin": bollardModule()}, "0000:00:00.0 fafa:0b31 060000\n"},
		{"skiff-air", "Ferry clerk's thin laptop", "browsing,calls", "16GB", skiff, nil, ""},
		{"breakwater-x", "Sailmaker's tower, fast modules in the wrong sockets", "cad=2,browsing", "64GB", breakwater,
			map[string][]byte{"spd-50.bin": breakwaterModule("11E0A001"), "spd-51.bin": breakwaterModule("11E0A002")},
			"0000:00:1f.0 fafa:0c47 060100\n"},
	}
}

// Fitted returns the first machine again, after the visit: read once more with
// the module from the price list in its free socket.
func Fitted() Machine {
	return Machine{Name: "gull-14-after", Title: "Harbour master's office laptop, after fitting", build: gullAfter,
		chips: map[string][]byte{"spd-50.bin": gullModule()}}
}

func gullAfter() ([]compose.Structure, string, string) {
	s, cpu, _ := gull()
	for i, x := range s {
		if x.Handle == 0x1101 {
			s[i] = module(compose.Device{Handle: 0x1101, MiB: 8192, Form: formSODIMM, Type: typeDDR4,
				Locator: "ChannelB-DIMM0", Bank: "BANK 2",
				Speed: 3200, Configured: 2400, Rank: 1, MilliVolts: 1200}, "Marram Memory", "4F21B7E2", "MR4S-8G32-22").Structure()
		}
	}
	return s, cpu, meminfo(16302148, 9210440, kernel64)
}

// Codes of DSP0134 clause 7.18 that the machines use.
const (
	formUnknown, formRow, formDIMM, formSODIMM         = 0x02, 0x0B, 0x09, 0x0D
	typeUnknown, typeDDR3, typeDDR4, typeLP4, typeDDR5 = 0x02, 0x18, 0x1A, 0x1E, 0x22
	detailPlain                                        = 0x4080 // synchronous, unbuffered
)

func cpuinfo(brand string, family, model, stepping, logical int) string {
	text := ""
	for n := range logical {
		text += fmt.Sprintf("processor\t: %d\nvendor_id\t: HarbourSilic\ncpu family\t: %d\nmodel\t\t: %d\nmodel name\t: %s\n"+
			"stepping\t: %d\nflags\t\t: fpu sse2 lm\n\n", n, family, model, brand, stepping)
	}
	return text
}

// The address space that a kernel shows tells whether it is one of 64 bits.
const (
	kernel64 = "VmallocTotal:   34359738367 kB\n"
	kernel32 = "HighTotal:       2211656 kB\nLowTotal:         878796 kB\n"
)

func meminfo(totalKiB, availableKiB int, kernel string) string {
	return fmt.Sprintf("MemTotal:       %8d kB\nMemFree:        %8d kB\nMemAvailable:   %8d kB\nSwapTotal:       "+
		"2097148 kB\nSwapFree:        1409820 kB\n%s",
		totalKiB, availableKiB/3, availableKiB, kernel)
}

// module fills in what the workshop's modules have in common.
func module(d compose.Device, maker, serial, part string) compose.Device {
	d.Array, d.TotalBits, d.DataBits, d.Detail = 0x1000, 64, 64, detailPlain
	d.Maker, d.Serial, d.Part = maker, serial, part
	if d.Configured == 0 {
		d.Configured = d.Speed
	}
	return d
}

// gull: a laptop with two sockets, one free. All is as it should be.
func gull() ([]compose.Structure, string, string) {
	id := compose.Identity{
		FirmwareVendor: "Halyard Firmware", FirmwareVersion: "1.14", FirmwareDate: "03/18/2019",
		Maker: "Halyard", Product: "Gull 14", Version: "G14-2", Serial: "HG14-20731", Family: "Gull",
		BoardMaker: "Halyard", Board: "QB-14B", BoardSerial: "QB-99120", ChassisKind: 0x0A,
	}
	s := append(id.Structures(),
		compose.Processor(0x0400, "U3E1", "Harbour Silicon", "Harbour Silicon Petrel P5-8240 @ 1.60GHz", 0, 3900, 4),
		compose.Array(0x1000, 32<<20, 2),
		module(compose.Device{Handle: 0x1100, MiB: 8192, Form: formSODIMM, Type: typeDDR4, Locator: "ChannelA-DIMM0",
			Bank:  "BANK 0",
			Speed: 2400, Rank: 1, MilliVolts: 1200}, "Marram Memory", "4F21A09C", "MR4S-8G24-17").Structure(),
		compose.Device{Handle: 0x1101, Array: 0x1000, Form: formSODIMM, Type: typeUnknown, Locator: "ChannelB-DIMM0",
			Bank: "BANK 2"}.Structure(),
		compose.Mapped(0x1300, 0x1000, 8<<20))
	return s, cpuinfo("Harbour Silicon Petrel P5-8240 @ 1.60GHz", 6, 200, 3, 4), meminfo(8048324, 911204, kernel64)
}

// tern: a laptop with 4 GB soldered and one socket. The firmware calls the
// soldered bank a SODIMM and does not list the socket beside it as empty, but
// counts it.
func tern() ([]compose.Structure, string, string) {
	id := compose.Identity{
		FirmwareVendor: "Halyard Firmware", FirmwareVersion: "2.03", FirmwareDate: "11/02/2017",
		Maker: "Halyard", Product: "Tern 13", Version: "To be filled by O.E.M.", Serial: "HT13-00417", Family: "Tern",
		BoardMaker: "Halyard", Board: "QB-13A", BoardSerial: "Default string", ChassisKind: 0x09,
	}
	bank := module(compose.Device{Handle: 0x1100, MiB: 4096, Form: formSODIMM, Type: typeDDR4, Locator: "DIMM 0",
		Bank:  "BANK 0",
		Speed: 2133, Rank: 1, MilliVolts: 1200}, "0000", "00000000", "Undefined")
	s := append(id.Structures(),
		compose.Processor(0x0400, "U3E1", "Harbour Silicon", "Harbour Silicon Petrel P3-7100 @ 2.40GHz", 0, 2400, 2),
		compose.Array(0x1000, 16<<20, 2), bank.Structure(), compose.Mapped(0x1300, 0x1000, 4<<20))
	return s, cpuinfo("Harbour Silicon Petrel P3-7100 @ 2.40GHz", 6, 199, 9, 4), meminfo(3926788, 402116, kernel64)
}

// bollard: an old desktop with four sockets, three filled with what was at
// hand. A 32-bit system sees 3 GB of its 4.
func bollard() ([]compose.Structure, string, string) {
	id := compose.Identity{
		FirmwareVendor: "Mole End BIOS", FirmwareVersion: "F6", FirmwareDate: "08/21/2011",
		Maker: "Bollard Systems", Product: "T3", Version: " ", Serial: "System Serial Number",
		Family:     "To Be Filled By O.E.M.",
		BoardMaker: "Groyne", Board: "GN-31P", BoardSerial: "x.x", ChassisKind: 0x03,
	}
	s := append(id.Structures(),
		compose.Processor(0x0400, "Socket P7", "Harbour Silicon", "Harbour Silicon Dunlin D2-440 CPU @ 2.93GHz", 0, 2933, 2),
		compose.Array(0x1000, 16<<20, 4),
		module(compose.Device{Handle: 0x1100, MiB: 2048, Form: formDIMM, Type: typeDDR3, Locator: "DIMM_A1", Bank: "BANK 0",
			Speed:      1333,
			Configured: 1066, MilliVolts: 1500}, "Marram Memory", "0A11C3F0", "MR3U-2G13-9").Structure(),
		module(compose.Device{Handle: 0x1101, MiB: 1024, Form: formDIMM, Type: typeDDR3, Locator: "DIMM_A2", Bank: "BANK 1",
			Speed:      1066,
			MilliVolts: 1500}, "Spindrift", "00000000", "SD1066-1G").Structure(),
		module(compose.Device{Handle: 0x1102, MiB: 1024, Form: formDIMM, Type: typeDDR3, Locator: "DIMM_B1", Bank: "BANK 2",
			Speed:      1066,
			MilliVolts: 1500}, "Spindrift", "00000000", "SD1066-1G").Structure(),
		compose.Device{Handle: 0x1103, Array: 0x1000, Form: formDIMM, Type: typeUnknown, Locator: "DIMM_B2",
			Bank: "BANK 3"}.Structure(),
		compose.Mapped(0x1300, 0x1000, 4<<20))
	return s, cpuinfo("Harbour Silicon Dunlin D2-440 CPU @ 2.93GHz", 6, 123, 10, 2), meminfo(3090452, 1204880, kernel32)
}

// skiff: a thin laptop whose memory is all on the board.
func skiff() ([]compose.Structure, string, string) {
	id := compose.Identity{
		FirmwareVendor: "Skerry UEFI", FirmwareVersion: "0.9.31", FirmwareDate: "06/30/2021",
		Maker: "Skerry", Product: "Skiff Air", Version: "A1", Serial: "SKA-55210", Family: "Skiff",
		BoardMaker: "Skerry", Board: "SK-AIR-1", BoardSerial: "SKB-1", ChassisKind: 0x1F,
	}
	bank := func(handle uint16, channel string) compose.Structure {
		return module(compose.Device{Handle: handle, MiB: 4096, Form: formRow, Type: typeLP4,
			Locator: "Controller0-" + channel, Bank: "BANK 0",
			Speed: 4267, Rank: 1, MilliVolts: 1100}, "Lugsail", "00000000", "").Structure()
	}
	s := append(id.Structures(),
		compose.Processor(0x0400, "BGA", "Harbour Silicon", "Harbour Silicon Sandpiper S5-1130", 0, 4000, 4),
		compose.Array(0x1000, 8<<20, 2), bank(0x1100, "ChannelA"), bank(0x1101, "ChannelB"),
		compose.Mapped(0x1300, 0x1000, 8<<20))
	return s, cpuinfo("Harbour Silicon Sandpiper S5-1130", 6, 240, 1, 8), meminfo(7835120, 655320, kernel64)
}

// breakwater: a tower whose two fast modules share one channel and run at the
// standard rate, their profile not selected.
func breakwater() ([]compose.Structure, string, string) {
	id := compose.Identity{
		FirmwareVendor: "Groyne UEFI", FirmwareVersion: "4.02", FirmwareDate: "02/11/2020",
		Maker: "System manufacturer", Product: "System Product Name", Version: "System Version",
		Serial:     "System Serial Number",
		BoardMaker: "Groyne", Board: "Breakwater X", BoardSerial: "GBX-71123", ChassisKind: 0x07,
	}
	fast := func(handle uint16, locator, serial string) compose.Structure {
		return module(compose.Device{Handle: handle, MiB: 8192, Form: formDIMM, Type: typeDDR4, Locator: locator,
			Bank:  "P0 CHANNEL A",
			Speed: 2133, Rank: 1, MilliVolts: 1200}, "Squall", serial, "SQ4-3600C18-8G").Structure()
	}
	empty := func(handle uint16, locator string) compose.Structure {
		return compose.Device{Handle: handle, Array: 0x1000, Form: formDIMM, Type: typeUnknown, Locator: locator,
			Bank: "P0 CHANNEL B"}.Structure()
	}
	s := append(id.Structures(),
		compose.Processor(0x0400, "SK7", "Harbour Silicon", "Harbour Silicon Gannet G7-3700 8-Core Processor", 0, 4400, 8),
		compose.Array(0x1000, 128<<20, 4), fast(0x1100, "DIMM_A1", "11E0A001"), fast(0x1101, "DIMM_A2", "11E0A002"),
		empty(0x1102, "DIMM_B1"), empty(0x1103, "DIMM_B2"), compose.Mapped(0x1300, 0x1000, 16<<20))
	return s, cpuinfo("Harbour Silicon Gannet G7-3700 8-Core Processor", 23, 113, 0, 16),
		meminfo(16344004, 9120344, kernel64)
}
