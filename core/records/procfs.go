// Package records reads evidence that operating systems keep: procfs texts,
// PCI id lists and exported management objects. A text cut short yields what
// was there.
package records

import (
	"strconv"
	"strings"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/plain"
)

// A CPU is what /proc/cpuinfo says of the first processor, and how many there
// are.
type CPU struct {
	Vendor, Brand           string // "GenuineIntel", the brand string; empty where not stated
	Family, Model, Stepping maybe.Value[int]
	LongMode                maybe.Value[bool] // the flag "lm": the processor has a 64-bit mode
	Logical                 int               // number of processor entries
	Packages                int               // different physical ids among them; 0 where none is given
}

// ParseCPUInfo reads the text of /proc/cpuinfo on x86. Keys it does not know
// are passed over; ok is false where no processor entry is found.
func ParseCPUInfo(text []byte) (cpu CPU, ok bool) {
	packages := make(map[string]bool)
	for line := range strings.Lines(string(text)) {
		key, value, found := strings.Cut(line, ":")
		if !found {
			continue
		}
		key, value = strings.TrimSpace(key), strings.TrimSpace(value)
		switch key {
		case "processor":
			cpu.Logical++
		case "physical id":
			packages[value] = true
			cpu.Packages = len(packages)
		}
		if cpu.Logical > 1 {
			continue
		}
		switch key {
		case "vendor_id":
			cpu.Vendor = plain.Line(value)
		case "model name":
			cpu.Brand = plain.Line(value)
		case "cpu family":
			cpu.Family = number(value)
		case "model":
			cpu.Model = number(value)
		case "stepping":
			cpu.Stepping = number(value)
		case "flags":
			cpu.LongMode = maybe.Just(hasWord(value, "lm"))
		}
	}
	return cpu, cpu.Logical > 0
}

func hasWord(list, word string) bool {
	for w := range strings.FieldsSeq(list) {
		if w == word {
			return true
		}
	}
	return false
}

func number(s string) maybe.Value[int] {
	n, err := strconv.Atoi(s)
	return maybe.If(n, err == nil && n >= 0)
}

// ParseMemInfo reads the text of /proc/meminfo into sizes by name
// ("MemTotal"). The kernel writes "kB" and means 1024 bytes. Lines without a
// unit are counts and are left out.
func ParseMemInfo(text []byte) map[string]jedec.Capacity {
	sizes := make(map[string]jedec.Capacity)
	for line := range strings.Lines(string(text)) {
		name, value, found := strings.Cut(line, ":")
		figure, isSize := strings.CutSuffix(strings.TrimSpace(value), " kB")
		if !found || !isSize {
			continue
		}
		kib, err := strconv.ParseUint(strings.TrimSpace(figure), 10, 53)
		if err == nil {
			sizes[name] = jedec.Capacity(kib) * jedec.KiB
		}
	}
	return sizes
}
