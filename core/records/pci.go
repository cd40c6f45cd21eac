package records

import (
	"fmt"
	"strconv"
	"strings"
)

// A PCIDevice is one line of a list of PCI devices.
type PCIDevice struct {
	Address        string // "0000:00:1f.0"
	Vendor, Device uint16
	Class          uint32 // 24 bits; 0 where the line has none
}

// ID writes vendor and device as the catalogue does, "8086:a305".
func (d PCIDevice) ID() string { return fmt.Sprintf("%04x:%04x", d.Vendor, d.Device) }

// ParsePCI reads lines "0000:00:1f.0 8086:a305 060100": address,
// vendor:device, class. wrong counts the lines that are none.
func ParsePCI(text []byte) (devices []PCIDevice, wrong int) {
	for line := range strings.Lines(string(text)) {
		words := strings.Fields(line)
		if len(words) == 0 {
			continue
		}
		d, ok := parsePCILine(words)
		if !ok {
			wrong++
			continue
		}
		devices = append(devices, d)
	}
	return devices, wrong
}

func parsePCILine(words []string) (d PCIDevice, ok bool) {
	if len(words) < 2 || len(words) > 3 {
		return d, false
	}
	vendor, device, found := strings.Cut(words[1], ":")
	v, err1 := strconv.ParseUint(vendor, 16, 16)
	i, err2 := strconv.ParseUint(device, 16, 16)
	if !found || err1 != nil || err2 != nil {
		return d, false
	}
	d = PCIDevice{Address: words[0], Vendor: uint16(v), Device: uint16(i)}
	if len(words) == 3 {
		class, err := strconv.ParseUint(words[2], 16, 24)
		if err != nil {
			return d, false
		}
		d.Class = uint32(class)
	}
	return d, true
}
