package live

import (
	"encoding/json"
	"fmt"
	"runtime"
	"strings"
	"time"
	"unsafe"

	"golang.org/x/sys/windows"
	"golang.org/x/sys/windows/registry"

	"epitome/core/card"
)

// Here reads this machine through the system's public interfaces: the
// firmware-table call, the registry, the memory status. Module EEPROMs are out
// of reach without a driver of one's own and are not tried.
func Here(now time.Time) (Haul, error) {
	t := taker{how: "live", now: now}
	if table, err := firmwareTable(); err != nil {
		t.note("GetSystemFirmwareTable RSMB", false, "%v", err)
	} else {
		t.keep(card.Reading{Kind: card.TableFile, Source: "GetSystemFirmwareTable RSMB", Data: table})
		t.note("GetSystemFirmwareTable RSMB", true, "%d bytes", len(table))
	}
	objects, err := json.MarshalIndent([]map[string]any{operatingSystem(), processor()}, "", "  ")
	if err != nil {
		return t.haul, err
	}
	t.keep(card.Reading{Kind: card.CIM, Source: "registry and memory status", Data: append(objects, '\n')})
	t.note("registry and memory status", true, "operating system and processor")
	t.note("module EEPROMs", false, "can't be read on this system without a driver; firmware tables and stickers must do")
	return t.haul, nil
}

var (
	kernel32               = windows.NewLazySystemDLL("kernel32.dll")
	getSystemFirmwareTable = kernel32.NewProc("GetSystemFirmwareTable")
	globalMemoryStatusEx   = kernel32.NewProc("GlobalMemoryStatusEx")
)

// rsmb is the provider of SMBIOS tables, "RSMB" as the call wants it.
const rsmb = 'R'<<24 | 'S'<<16 | 'M'<<8 | 'B'

// firmwareTable returns the RawSMBIOSData form.
func firmwareTable() ([]byte, error) {
	if err := getSystemFirmwareTable.Find(); err != nil {
		return nil, fmt.Errorf("this system has no such call: %w", err)
	}
	size, _, err := getSystemFirmwareTable.Call(rsmb, 0, 0, 0)
	if size == 0 {
		return nil, fmt.Errorf("no firmware table: %w", err)
	}
	if size > maxReading {
		return nil, errTooLong
	}
	buf := make([]byte, size)
	got, _, err := getSystemFirmwareTable.Call(rsmb, 0, uintptr(unsafe.Pointer(&buf[0])), size)
	if got == 0 || got > size {
		return nil, fmt.Errorf("the firmware table can't be read: %w", err)
	}
	return buf[:got], nil
}

// memoryStatus is MEMORYSTATUSEX.
type memoryStatus struct {
	length, load                                uint32
	totalPhys, availPhys, totalPage, availPage  uint64
	totalVirtual, availVirtual, availExtVirtual uint64
}

// operatingSystem writes what the registry and the memory status say under
// the property names of the CIM class OperatingSystem; sizes in KiB.
func operatingSystem() map[string]any {
	o := map[string]any{"CreationClassName": "CIM_OperatingSystem"}
	if caption := systemName(); caption != "" {
		o["Caption"] = caption
	}
	o["OSArchitecture"] = "32-bit"
	if runtime.GOARCH == "amd64" || runtime.GOARCH == "arm64" || wow64() {
		o["OSArchitecture"] = "64-bit"
	}
	m := memoryStatus{length: uint32(unsafe.Sizeof(memoryStatus{}))}
	if ok, _, _ := globalMemoryStatusEx.Call(uintptr(unsafe.Pointer(&m))); ok != 0 {
		o["TotalVisibleMemorySize"], o["FreePhysicalMemory"] = m.totalPhys>>10, m.availPhys>>10
		o["TotalVirtualMemorySize"], o["FreeVirtualMemory"] = m.totalPage>>10, m.availPage>>10
	}
	return o
}

func wow64() bool {
	var on bool
	return windows.IsWow64Process(windows.CurrentProcess(), &on) == nil && on
}

// firstOf11 is the first build of Windows 11, whose registry still says 10.
const firstOf11 = 22000

func systemName() string {
	k, err := registry.OpenKey(registry.LOCAL_MACHINE, `SOFTWARE\Microsoft\Windows NT\CurrentVersion`,
		registry.QUERY_VALUE|registry.WOW64_64KEY)
	if err != nil {
		return ""
	}
	defer k.Close()
	name, _, _ := k.GetStringValue("ProductName")
	if windows.RtlGetVersion().BuildNumber >= firstOf11 {
		name = strings.Replace(name, "Windows 10", "Windows 11", 1)
	}
	return strings.TrimSpace(strings.TrimPrefix(name, "Microsoft "))
}

// processor writes what the registry says of the first processor under the
// property names of the CIM class Processor.
func processor() map[string]any {
	o := map[string]any{"CreationClassName": "CIM_Processor", "NumberOfLogicalProcessors": runtime.NumCPU()}
	k, err := registry.OpenKey(registry.LOCAL_MACHINE, `HARDWARE\DESCRIPTION\System\CentralProcessor\0`,
		registry.QUERY_VALUE)
	if err != nil {
		return o
	}
	defer k.Close()
	for property, value := range map[string]string{"Name": "ProcessorNameString", "Manufacturer": "VendorIdentifier",
		"Description": "Identifier"} {
		if text, _, err := k.GetStringValue(value); err == nil && strings.TrimSpace(text) != "" {
			o[property] = strings.TrimSpace(text)
		}
	}
	return o
}
