package records

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"epitome/core/jedec"
	"epitome/core/pattern"
)

// UnderstoodExport writes anew what a system wrote of itself, as JSON, with what findings
// rest on: exports carry whatever the system knows of its owner. Serial numbers of modules go through standIn. The
// error is ParseExport's.
func UnderstoodExport(data []byte, standIn func(string) string) ([]byte, error) {
	x, err := ParseExport(data)
	if err != nil {
		return nil, err
	}
	if x.Overview != nil {
		return x.Overview.understood(standIn)
	}
	out := []map[string]string{}
	for _, o := range x.Objects {
		i := slices.IndexFunc(classes, func(c classRow) bool { return c.class == o.Class })
		again := map[string]string{"CreationClassName": "CIM_" + string(o.Class)}
		for _, name := range classes[i].harmless {
			if o.Carries(name) {
				again[name] = o.Text(name)
			}
		}
		if serial := again["SerialNumber"]; serial != "" {
			again["SerialNumber"] = standIn(serial)
		}
		if id := again["ProcessorId"]; id != "" {
			// The signature is the low half; what stands above are feature flags.
			n, err := strconv.ParseUint(id, 16, 64)
			delete(again, "ProcessorId")
			if err == nil {
				again["ProcessorId"] = fmt.Sprintf("%016X", uint32(n))
			}
		}
		out = append(out, again)
	}
	return json.MarshalIndent(out, "", " ")
}

// UnderstoodCPUInfo writes a processor text anew with what ParseCPUInfo reads.
func UnderstoodCPUInfo(text []byte) []byte {
	cpu, _ := ParseCPUInfo(text)
	var b strings.Builder
	line := func(key, value string, known bool) {
		if known {
			fmt.Fprintf(&b, "%s\t: %s\n", key, value)
		}
	}
	for n := range min(cpu.Logical, 4096) {
		line("processor", strconv.Itoa(n), true)
		line("physical id", strconv.Itoa(min(n, cpu.Packages-1)), cpu.Packages > 0)
		if n > 0 {
			continue
		}
		line("vendor_id", cpu.Vendor, cpu.Vendor != "")
		line("cpu family", strconv.Itoa(cpu.Family.Or(0)), cpu.Family.Known())
		line("model", strconv.Itoa(cpu.Model.Or(0)), cpu.Model.Known())
		line("model name", cpu.Brand, cpu.Brand != "")
		line("stepping", strconv.Itoa(cpu.Stepping.Or(0)), cpu.Stepping.Known())
		long, stated := cpu.LongMode.Get()
		line("flags", map[bool]string{true: "lm", false: "fpu"}[long], stated)
	}
	return []byte(b.String())
}

// memoryNames are the sizes of /proc/meminfo that findings rest on.
var memoryNames = []string{"MemTotal", "MemFree", "MemAvailable", "Buffers", "Cached", "SwapTotal", "SwapFree",
	"HighTotal", "VmallocTotal"}

// UnderstoodMemInfo writes a memory text anew with the sizes that are read.
func UnderstoodMemInfo(text []byte) []byte {
	sizes := ParseMemInfo(text)
	var b strings.Builder
	for _, name := range memoryNames {
		if size, ok := sizes[name]; ok {
			fmt.Fprintf(&b, "%s: %d kB\n", name, size/jedec.KiB)
		}
	}
	return []byte(b.String())
}

// kernelLines are what the kernel's other texts consist of.
var kernelLines = pattern.Of(`^(?:[a-z0-9_]{1,40} \d{1,20}|(?:some|full) avg10=[\d.]{1,8} avg60=[\d.]{1,8} ` +
	`avg300=[\d.]{1,8} total=\d{1,20})$`)

// kernelCounters are the names of /proc/vmstat that findings rest on.
var kernelCounters = []string{"pswpin", "pswpout", "pgmajfault", "some", "full"}

// UnderstoodKernelText keeps the lines of /proc/vmstat and the pressure files
// that are read.
func UnderstoodKernelText(text []byte) []byte {
	var b strings.Builder
	for line := range strings.Lines(string(text)) {
		line = strings.TrimSpace(line)
		name, _, _ := strings.Cut(line, " ")
		if kernelLines().MatchString(line) && slices.Contains(kernelCounters, name) {
			b.WriteString(line + "\n")
		}
	}
	return []byte(b.String())
}

// pciAddress is a device's place on the bus.
var pciAddress = pattern.Of(`^[0-9a-f]{4}:[0-9a-f]{2}:[0-9a-f]{2}\.[0-7]$`)

// UnderstoodPCI writes a list of PCI devices anew.
func UnderstoodPCI(text []byte) []byte {
	devices, _ := ParsePCI(text)
	var b strings.Builder
	for _, d := range devices {
		if !pciAddress().MatchString(d.Address) {
			d.Address = "0000:00:00.0"
		}
		fmt.Fprintf(&b, "%s %s %06x\n", d.Address, d.ID(), d.Class)
	}
	return []byte(b.String())
}
