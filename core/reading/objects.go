package reading

import (
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/records"
	"epitome/core/smbios"
	"strconv"
	"strings"
	"time"
)

// cimForms brings the form-factor codes of the CIM class PhysicalMemory to
// those of DSP0134 clause 7.18.1: the two lists count differently.
var cimForms = map[uint64]uint8{0: 0x02, 1: 0x01, 2: 0x04, 3: 0x06, 4: 0x07, 6: 0x08, 7: 0x03, 8: 0x09, 9: 0x0A,
	11: 0x0C, 12: 0x0D, 13: 0x0E, 14: 0x0B, 21: 0x0B}

// cimTypes brings the older memory-type codes of the class to those of clause
// 7.18.2; exports that have SMBIOSMemoryType need none of it.
var cimTypes = map[uint64]uint8{17: 0x0F, 20: 0x12, 21: 0x13, 22: 0x14, 24: 0x18, 26: 0x1A, 34: 0x22}

// adoptObjects takes management objects in place of firmware tables, where
// the card has no table that tells of the same. Both come from the same firmware,
// so they are never added up.
func (s *Set) adoptObjects() {
	if len(s.Objects) == 0 {
		return
	}
	s.adoptIdentity()
	if len(s.Tables.SystemDevices()) > 0 {
		return
	}
	var devices []smbios.Device
	var arrays []smbios.Array
	for _, o := range s.Objects {
		switch o.Class {
		case records.PhysicalMemory:
			devices = append(devices, deviceOf(o))
		case records.PhysicalMemoryArray:
			arrays = append(arrays, arrayOf(o))
		}
	}
	devices = bounded(s, "system's records", "places", devices)
	arrays = bounded(s, "system's records", "arrays", arrays)
	if len(devices)+len(arrays) > 0 {
		s.Tables.Devices, s.Tables.Arrays, s.FromObjects = devices, arrays, true
	}
}

// adoptIdentity takes what objects say of the machine itself, where no table does.
func (s *Set) adoptIdentity() {
	t := &s.Tables
	if len(t.Systems)+len(t.Boards)+len(t.Chassis)+len(t.Firmware) > 0 {
		return
	}
	for _, o := range s.Objects {
		switch o.Class {
		case records.ComputerSystem:
			t.Systems = append(t.Systems, smbios.System{Maker: o.Text("Manufacturer"), Product: o.Text("Model")})
		case records.BaseBoard:
			t.Boards = append(t.Boards, smbios.Board{Maker: o.Text("Manufacturer"), Product: o.Text("Product")})
		case records.SystemEnclosure:
			first, _, _ := strings.Cut(o.Text("ChassisTypes"), ",")
			if code, err := strconv.ParseUint(strings.TrimSpace(first), 10, 7); err == nil {
				t.Chassis = append(t.Chassis, smbios.Chassis{Kind: smbios.ChassisKind(code)})
			}
		case records.BIOS:
			t.Firmware = append(t.Firmware,
				smbios.Firmware{Version: o.Text("SMBIOSBIOSVersion"), Released: exportedDate(o.Text("ReleaseDate"))})
		}
	}
	if len(t.Systems) == 0 {
		for _, o := range s.Objects {
			if o.Class == records.ComputerSystemProduct {
				t.Systems = append(t.Systems, smbios.System{Maker: o.Text("Vendor"), Product: o.Text("Name")})
			}
		}
	}
	s.NamedByObjects = len(t.Systems)+len(t.Boards)+len(t.Chassis)+len(t.Firmware) > 0
}

// exportedDate reads a date as shells write it: CIM's "20190318000000.000000+000",
// ISO 8601, or milliseconds since 1970 as "/Date(1552867200000)/". One that is
// written otherwise stays as it is.
func exportedDate(text string) string {
	if ms, found := strings.CutPrefix(text, "/Date("); found {
		if n, err := strconv.ParseInt(strings.TrimRight(ms, ")/"), 10, 64); err == nil {
			return time.UnixMilli(n).UTC().Format(time.DateOnly)
		}
	}
	for _, layout := range []string{"20060102", time.DateOnly} {
		if len(text) >= len(layout) {
			if d, err := time.Parse(layout, text[:len(layout)]); err == nil {
				return d.Format(time.DateOnly)
			}
		}
	}
	return text
}

func deviceOf(o records.Object) smbios.Device {
	figure := func(name string) maybe.Value[int] {
		n, ok := o.Number(name).Get()
		return maybe.If(int(n), ok && n > 0 && n < 1<<31)
	}
	d := smbios.Device{Handle: 0xFFFF, Array: 0xFFFF, Locator: o.Text("DeviceLocator"), Bank: o.Text("BankLabel"),
		Maker:  o.Text("Manufacturer"),
		Serial: o.Text("SerialNumber"), Part: o.Text("PartNumber"), TotalBits: figure("TotalWidth"),
		DataBits: figure("DataWidth"),
		Speed:    figure("Speed"), Configured: figure("ConfiguredClockSpeed"), ConfiguredMV: figure("ConfiguredVoltage"),
		FormCode: 0x02, MemoryType: 0x02}
	if size, ok := o.Number("Capacity").Get(); ok {
		d.Filled = maybe.Just(size > 0)
		d.Size = maybe.If(jedec.Capacity(size), size > 0)
	}
	if code, ok := o.Number("FormFactor").Get(); ok && cimForms[code] != 0 {
		d.FormCode = cimForms[code]
	}
	if code, ok := o.Number("SMBIOSMemoryType").Get(); ok && code > 0 && code < 256 {
		d.MemoryType = uint8(code)
	} else if code, ok := o.Number("MemoryType").Get(); ok && cimTypes[code] != 0 {
		d.MemoryType = cimTypes[code]
	}
	switch strings.ToLower(o.Text("Status")) { // CIM_ManagedSystemElement.Status
	case "error", "nonrecover", "degraded", "pred fail":
		d.Failed = true
	}
	if g, _, ok := jedec.ParseGeneration(o.Text("MemoryTypeName")); ok {
		d.MemoryType = smbios.CodeOf(g)
	}
	return d
}

func arrayOf(o records.Object) smbios.Array {
	a := smbios.Array{Handle: 0xFFFF, Use: smbios.UseSystemMemory}
	// MaxCapacityEx has the room that MaxCapacity lacks; both are KiB.
	for _, name := range []string{"MaxCapacityEx", "MaxCapacity"} {
		if kib, ok := o.Number(name).Get(); ok && kib > 0 && kib < 1<<50 {
			a.Maximum = maybe.Just(jedec.Capacity(kib) * jedec.KiB)
			break
		}
	}
	if n, ok := o.Number("MemoryDevices").Get(); ok && n <= 1024 {
		a.Devices = int(n)
	}
	return a
}
