package reading

import (
	"fmt"
	"strings"
	"time"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/records"
	"epitome/core/smbios"
)

// An Origin is a kind of source that lists places, the one that tells most first.
type Origin uint8

// The origins.
const (
	Firmware   Origin = iota // a firmware table
	Records                  // a system's management objects: it lists the filled places only
	OtherSheet               // the other desktop system's overview
	PanelCount               // a settings panel's count of slots
)

// String names the origin's list of places as a source of claims.
func (o Origin) String() string {
	return [...]string{fmt.Sprintf("firmware table %d", smbios.TypeMemoryDevice), "system's record PhysicalMemory",
		"system's overview", "settings panel"}[o]
}

// Announces names the origin's statement of how many places there are.
func (o Origin) Announces() string {
	return [...]string{fmt.Sprintf("firmware table %d", smbios.TypeMemoryArray), "system's record PhysicalMemoryArray",
		"system's overview", "settings panel"}[o]
}

// A Sighting is one place as one source tells of it. What the source does not carry is not known: an export without a
// column of serial numbers says nothing of serial numbers.
type Sighting struct {
	Origin              Origin
	Reading             int       // which reading it is of: one reading never lists a place twice
	Taken               time.Time // when that was read
	Handle              string    // of the structure, "0x000B"
	Locator, Bank       string    // as the source has them; empty where it names none
	Filled              maybe.Value[bool]
	FilledSays          string
	Failed              bool   // reported with errors, or not enabled
	NotMemory           string // "flash", "persistent memory"; empty for working memory
	Form                maybe.Value[jedec.Form]
	FormSays            string // "form factor SODIMM"; empty where the source says nothing of the form
	Chips               bool   // its form is that of chips without a module
	Generation          maybe.Value[jedec.Generation]
	GenerationSays      string
	Size                maybe.Value[jedec.Capacity]
	TotalBits, DataBits maybe.Value[int] // widths with and without check bits
	ECC                 maybe.Value[bool]
	Ranks               maybe.Value[int]
	Registered          maybe.Value[bool]
	LoadReduced         bool
	BufferingSays       string
	Speed, Configured   maybe.Value[int] // as the source writes them: a rate or a clock
	OneSpeed            bool             // of a firmware table of a version that has one figure alone, see [smbios.Device]
	SpeedRuns           bool             // it has one figure, at which the module runs: what it is rated for is no less
	MilliVolts          maybe.Value[int] // that the board gives
	Maker, Serial, Part string           // empty where blank, or a placeholder
	HasSerial, HasPart  bool             // the source carries them, be they blank
}

// Named reports whether what sits in a place tells of itself: serial and part number.
func (x Sighting) Named() bool { return x.Serial != "" && x.Part != "" }

// Anonymous reports whether a source that carries serial and part number has neither.
func (x Sighting) Anonymous() bool { return x.HasSerial && x.HasPart && x.Serial == "" && x.Part == "" }

// An Announcement is how many places a source says that there are, and how much they may hold.
type Announcement struct {
	Origin  Origin
	Places  int                         // 0 where it does not say
	Arrays  int                         // over so many arrays
	Maximum maybe.Value[jedec.Capacity] // over all arrays; unknown where one does not say
	Used    maybe.Value[int]            // of the places
}

// told is a text of a source, empty where it is a placeholder.
func told(text string) string {
	text, _ = smbios.Told(text)
	return text
}

// deviceSeen is a place as a firmware table tells of it.
func deviceSeen(d smbios.Device) Sighting {
	x := Sighting{Origin: Firmware, Locator: told(d.Locator), Bank: told(d.Bank), Filled: d.Filled, Failed: d.Failed,
		NotMemory: d.NotMemory(), Form: d.Form(), Chips: d.OnBoard(), Generation: d.Generation(),
		GenerationSays: fmt.Sprintf("memory type 0x%02X", d.MemoryType), Size: d.Size, TotalBits: d.TotalBits,
		DataBits: d.DataBits, Ranks: d.Rank, Speed: d.Speed, Configured: d.Configured, OneSpeed: d.OneSpeed,
		MilliVolts: d.ConfiguredMV, Maker: told(d.Maker), Serial: told(d.Serial), Part: told(d.Part),
		HasSerial: d.Identifies, HasPart: d.Identifies}
	if d.Handle.Known() {
		x.Handle = d.Handle.String()
	}
	if x.Form.Known() || x.Chips {
		x.FormSays = "form factor " + d.FormName()
	}
	if filled, ok := d.Filled.Get(); ok {
		x.FilledSays = map[bool]string{true: "a size that is not 0: filled", false: "a size of 0: nothing fitted"}[filled]
	}
	const buffering = smbios.DetailRegistered | smbios.DetailUnbuffered | smbios.DetailLoadReduced
	if d.Detail&buffering != 0 {
		x.BufferingSays = fmt.Sprintf("type detail 0x%04X", uint16(d.Detail))
		x.Registered = maybe.Just(d.Detail&(smbios.DetailRegistered|smbios.DetailLoadReduced) != 0)
		x.LoadReduced = d.Detail&smbios.DetailLoadReduced != 0
	}
	return x
}

// list adds a sighting of the reading that is being read.
func (s *Set) list(x Sighting, taken time.Time) {
	x.Reading, x.Taken = s.listing, taken
	s.Listed = append(s.Listed, x)
}

// readTablePlaces takes the places that a firmware table lists.
func (s *Set) readTablePlaces(taken time.Time) {
	for _, d := range s.Tables.SystemDevices() {
		s.list(deviceSeen(d), taken)
	}
	a := Announcement{Origin: Firmware, Maximum: maybe.Just(jedec.Capacity(0))}
	for _, x := range s.Tables.SystemArrays() {
		a.Arrays++
		a.Places += x.Devices
		a.add(x.Maximum)
	}
	s.announce(a)
}

// add adds one array's maximum to the whole, which is unknown where one is.
func (a *Announcement) add(more maybe.Value[jedec.Capacity]) {
	sum, ok1 := a.Maximum.Get()
	size, ok2 := more.Get()
	a.Maximum = maybe.If(sum+size, ok1 && ok2)
}

func (s *Set) announce(a Announcement) {
	if a.Arrays > 0 {
		s.Announced = append(s.Announced, a)
	}
}

// cimForms are the form-factor codes of the CIM class PhysicalMemory; those of chips without a module have none.
var cimForms = map[uint64]struct {
	form  jedec.Form
	name  string
	chips bool
}{
	2: {0, "SIP", false}, 3: {0, "DIP", false}, 4: {0, "ZIP", false}, 6: {0, "proprietary card", false},
	7: {jedec.SIMM, "SIMM", false}, 8: {jedec.DIMM, "DIMM", false}, 9: {0, "TSOP", true},
	11: {jedec.RIMM, "RIMM", false}, 12: {jedec.SODIMM, "SODIMM", false}, 13: {0, "SRIMM", false},
	14: {0, "row of chips", true}, 21: {0, "row of chips", true},
}

// cimTypes are the older memory-type codes of the class; exports that have SMBIOSMemoryType need none of them.
var cimTypes = map[uint64]jedec.Generation{17: jedec.SDR, 20: jedec.DDR, 21: jedec.DDR2, 22: jedec.DDR2,
	24: jedec.DDR3, 26: jedec.DDR4, 34: jedec.DDR5}

// objectSeen is a place as a management object tells of it.
func objectSeen(o records.Object) Sighting {
	figure := func(name string) maybe.Value[int] {
		n, ok := o.Number(name).Get()
		return maybe.If(int(n), ok && n > 0 && n < 1<<31)
	}
	x := Sighting{Origin: Records, Locator: told(o.Text("DeviceLocator")), Bank: told(o.Text("BankLabel")),
		TotalBits: figure("TotalWidth"), DataBits: figure("DataWidth"), Speed: figure("Speed"),
		Configured: figure("ConfiguredClockSpeed"), MilliVolts: figure("ConfiguredVoltage"),
		Maker: told(o.Text("Manufacturer")), Serial: told(o.Text("SerialNumber")), Part: told(o.Text("PartNumber")),
		HasSerial: o.Carries("SerialNumber"), HasPart: o.Carries("PartNumber")}
	if size, ok := o.Number("Capacity").Get(); ok {
		x.Filled, x.Size = maybe.Just(size > 0), maybe.If(jedec.Capacity(size), size > 0)
	} else {
		x.Filled = maybe.Just(true) // it lists nothing else
	}
	x.FilledSays = map[bool]string{true: "it lists filled places only", false: "a capacity of 0"}[x.Filled.Or(true)]
	if code, ok := o.Number("FormFactor").Get(); ok {
		if f, known := cimForms[code]; known {
			x.Form, x.Chips, x.FormSays = maybe.If(f.form, f.form != jedec.FormUnknown), f.chips, "form factor "+f.name
		}
	}
	if code, ok := o.Number("SMBIOSMemoryType").Get(); ok && code > 0 && code < 256 {
		x.Generation, x.GenerationSays = smbios.GenerationOf(uint8(code)), fmt.Sprintf("memory type 0x%02X", code)
		x.NotMemory = smbios.Device{MemoryType: uint8(code)}.NotMemory()
	} else if code, ok := o.Number("MemoryType").Get(); ok {
		g, known := cimTypes[code]
		x.Generation, x.GenerationSays = maybe.If(g, known), fmt.Sprintf("memory type %d", code)
	}
	if x.Generation.Known() && x.Form.Or(0) == jedec.RIMM {
		// Code 11 is a RIMM in the class and a row of chips in the table that it comes from; no DDR module is a RIMM.
		x.Form, x.FormSays = maybe.None[jedec.Form](), ""
	}
	switch strings.ToLower(o.Text("Status")) { // CIM_ManagedSystemElement.Status
	case "error", "nonrecover", "degraded", "pred fail":
		x.Failed = true
	}
	return x
}

// readExportPlaces takes the places and arrays that a system's own words list.
func (s *Set) readExportPlaces(e records.Export, taken time.Time) {
	s.listing++
	a := Announcement{Origin: Records, Maximum: maybe.Just(jedec.Capacity(0))}
	for _, o := range e.Objects {
		switch o.Class {
		case records.PhysicalMemory:
			s.list(objectSeen(o), taken)
		case records.PhysicalMemoryArray:
			a.Arrays++
			if n, ok := o.Number("MemoryDevices").Get(); ok && n <= 1024 {
				a.Places += int(n)
			}
			a.add(maximumOf(o))
		}
	}
	s.announce(a)
	if e.Overview == nil {
		return
	}
	for _, p := range e.Overview.Places {
		s.list(overviewSeen(p, e.Overview.InPackage), taken)
	}
	if !e.Overview.InPackage {
		s.announce(Announcement{Origin: OtherSheet, Places: len(e.Overview.Places), Arrays: min(1, len(e.Overview.Places))})
	}
}

// maximumOf is what an array may hold. MaxCapacityEx has the room that MaxCapacity lacks; both are KiB.
func maximumOf(o records.Object) maybe.Value[jedec.Capacity] {
	for _, name := range []string{"MaxCapacityEx", "MaxCapacity"} {
		if kib, ok := o.Number(name).Get(); ok && kib > 0 && kib < 1<<50 {
			return maybe.Just(jedec.Capacity(kib) * jedec.KiB)
		}
	}
	return maybe.None[jedec.Capacity]()
}

func overviewSeen(p records.OverviewPlace, inPackage bool) Sighting {
	x := Sighting{Origin: OtherSheet, Locator: told(p.Locator), Bank: told(p.Bank), Filled: maybe.Just(p.Size.Known()),
		Size: p.Size, Generation: p.Generation, ECC: p.ECC, Speed: p.Speed, Configured: p.Speed, SpeedRuns: true,
		Maker: told(p.Maker),
		Part:  told(p.Part), Serial: told(p.Serial), HasSerial: p.HasSerial, HasPart: p.HasPart}
	x.FilledSays = map[bool]string{true: "a size: filled", false: "it says \"empty\""}[p.Size.Known()]
	if g, ok := p.Generation.Get(); ok {
		x.GenerationSays = "type " + g.String()
	}
	if inPackage {
		x.Chips, x.FormSays = true, "memory in the processor's package"
	}
	return x
}

// readPanelPlaces takes what a panel says of its slots: which of them are used it does not say.
func (s *Set) readPanelPlaces() {
	slots, ok := s.Panel.Slots.Get()
	if !ok {
		return
	}
	s.announce(Announcement{Origin: PanelCount, Places: slots, Arrays: 1, Maximum: s.Panel.Maximum, Used: s.Panel.Used})
	used, ok := s.Panel.Used.Get()
	if !ok || len(s.Listed) > 0 {
		return
	}
	s.listing++
	for i := range slots {
		x := Sighting{Origin: PanelCount, Locator: fmt.Sprintf("slot %d", i+1), Filled: maybe.Just(i < used),
			FilledSays: fmt.Sprintf("%d of %d slots used", used, slots)}
		if i < used {
			x.Configured = s.Panel.Speed
			if size, ok := s.Panel.Installed.Get(); ok && used == 1 {
				x.Size = maybe.Just(size)
			}
			if f, ok := s.Panel.Form.Get(); ok {
				x.Form, x.FormSays = maybe.Just(f), "form factor "+f.String()
			}
		}
		s.list(x, time.Time{})
	}
}
