package live

// A Way is how files are collected on one system that has no Epitome.
type Way struct {
	System string
	Before string // what to do first, in words
	Lines  []Line
}

// A Line is a line to type, and what it gives.
type Line struct {
	Type, Gives string
}

// Ways are the systems' own commands that collect what intake --from takes.
var Ways = []Way{
	{System: "Linux", Before: "as root, in an empty folder on a stick", Lines: []Line{
		{"cp /sys/firmware/dmi/tables/DMI /sys/firmware/dmi/tables/smbios_entry_point .",
			"places and what is in them, maximum, maker, board"},
		{"cp /proc/cpuinfo /proc/meminfo /proc/vmstat .", "processor, memory in use"},
		{"cp /proc/pressure/memory pressure-memory", "whether memory is short"},
		{`for d in /sys/bus/pci/devices/*; do echo "${d##*/} $(cat $d/vendor):$(cat $d/device) $(cat $d/class)" | ` +
			`sed s/0x//g; done > pci`, "chipset"},
		{"modprobe -a i2c-i801 i2c-piix4 at24 ee1004 spd5118", "the drivers that show the modules' EEPROMs"},
		{"for e in /sys/bus/i2c/devices/*-005*/eeprom; do n=${e%/eeprom}; cp $e spd-${n##*-00}.bin; done",
			"timings, chips and latencies of each module"},
	}},
	{System: "Windows", Before: "in the system's shell (PowerShell), in an empty folder", Lines: []Line{
		{`'ComputerSystem','ComputerSystemProduct','BaseBoard','SystemEnclosure','BIOS','OperatingSystem',` +
			`'Processor','PhysicalMemoryArray','PhysicalMemory' | ForEach-Object { Get-CimInstance "Win32_$_" } | ` +
			`Select-Object * -ExcludeProperty CimInstanceProperties | ConvertTo-Json -Depth 3 > cim.json`,
			"filled places, how many are announced, maximum, maker, board, processor, system"},
	}},
	{System: "macOS", Before: "in the system's shell, in an empty folder", Lines: []Line{
		{"system_profiler -json SPHardwareDataType SPMemoryDataType SPSoftwareDataType > profile.json",
			"places and what is in them, whether memory can be added, system"},
	}},
}
