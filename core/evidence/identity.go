package evidence

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/naming"
	"epitome/core/pattern"
	"epitome/core/reading"
	"epitome/core/records"
	"epitome/core/smbios"
)

// kindOf maps chassis codes to kinds of machine; codes that name no machine
// (docking stations, "other") are absent.
var kindOf = map[smbios.ChassisKind]machine.Kind{
	0x03: machine.Desktop, 0x04: machine.Desktop, 0x05: machine.Desktop, 0x06: machine.Desktop, 0x07: machine.Desktop,
	0x0F: machine.Desktop, 0x10: machine.Desktop, 0x18: machine.Desktop,
	0x08: machine.Laptop, 0x09: machine.Laptop, 0x0A: machine.Laptop, 0x0E: machine.Laptop, 0x1F: machine.Laptop,
	0x20: machine.Laptop,
	0x0D: machine.AllInOne, 0x23: machine.Mini, 0x24: machine.Mini,
	0x11: machine.Server, 0x17: machine.Server, 0x1C: machine.Server, 0x1D: machine.Server,
	0x0B: machine.Other, 0x1E: machine.Other, 0x21: machine.Other, 0x22: machine.Other,
}

func (s sources) identify(m *machine.Machine) {
	m.Kind = s.kind()
	var maker, model, board, firmware []fact.Claim[string]
	for _, y := range s.Tables.Systems {
		maker = text(maker, y.Maker, table(smbios.TypeSystem), "maker")
		model = text(model, y.Product, table(smbios.TypeSystem), "product")
	}
	for _, b := range s.Tables.Boards {
		board = boardSaid(board, b.Product, b.Maker, table(smbios.TypeBoard))
	}
	for _, f := range s.Tables.Firmware {
		firmware = firmwareSaid(firmware, f.Version, f.Released, table(smbios.TypeFirmware))
		m.Released = released(m.Released, f.Released)
	}
	for _, o := range s.Objects {
		source := recordOf(o.Class)
		switch o.Class {
		case records.ComputerSystem:
			maker = text(maker, o.Text("Manufacturer"), source, "maker")
			model = text(model, o.Text("Model"), source, "product")
		case records.BaseBoard:
			board = boardSaid(board, o.Text("Product"), o.Text("Manufacturer"), source)
		case records.BIOS:
			day := reading.ExportedDate(o.Text("ReleaseDate"))
			firmware = firmwareSaid(firmware, o.Text("SMBIOSBIOSVersion"), day, source)
			m.Released = released(m.Released, day)
		}
	}
	for _, e := range s.Exports {
		if e.Overview != nil {
			model = text(model, e.Overview.Model, reading.OtherSheet.String(), "machine model")
		}
	}
	for _, o := range s.Objects { // some makers write the number of a model there, and its name nowhere else
		if o.Class == records.ComputerSystemProduct {
			if len(maker) == 0 {
				maker = text(maker, o.Text("Vendor"), recordOf(o.Class), "maker")
			}
			if len(model) == 0 {
				model = text(model, o.Text("Name"), recordOf(o.Class), "product")
			}
		}
	}
	maker, model = append(s.byHand("maker"), maker...), append(s.byHand(machine.AboutModel), model...)
	board = append(s.byHand(machine.AboutBoard), board...)
	m.Maker, m.Model = weighNames(naming.Same, maker), weighNames(naming.Same, model)
	m.Board = weighNames(naming.Same, board)
	chipset := append(s.byHand(machine.AboutChipset), s.chipset()...)
	if len(chipset) == 0 && !slices.ContainsFunc(s.PCI, func(d records.PCIDevice) bool {
		return len(s.known.Chipsets(d.ID())) > 0
	}) {
		chipset = s.chipsetOfBoard(m.Board)
	}
	m.Chipset = weighNames(catalogue.SameChipset, chipset)
	m.Firmware = fact.Weigh(firmware[:min(1, len(firmware))]...)
	m.Processor, m.CPUID, m.Processors = s.processor(), s.cpuid(), s.processors()
	for _, d := range s.PCI {
		m.PCI = append(m.PCI, d.ID())
	}
	m.OS = s.system()
}

// weighNames weighs names by what they mean: one that says less than another one, and nothing else, speaks for that
// one. Firmware, kernel and system have a name from one place, so that the weightiest of those that agree speaks for
// all of them; a person has it from the part.
func weighNames(same func(a, b string) bool, claims []fact.Claim[string]) fact.Fact[string] {
	meant := slices.Clone(claims)
	for i, c := range claims {
		best := c // the fullest one that it agrees with; of equally full ones the weightiest
		for _, o := range claims {
			if same(c.Value, o.Value) && (naming.Fuller(o.Value, best.Value) ||
				!naming.Fuller(best.Value, o.Value) && o.Weight > best.Weight) {
				best = o
			}
		}
		meant[i].Value = best.Value
	}
	heaviest := make(map[string]int)
	for i, c := range meant {
		if c.Weight >= byPerson {
			continue
		}
		if at, ok := heaviest[c.Value]; !ok || c.Weight > meant[at].Weight {
			heaviest[c.Value] = i
		}
	}
	for i, c := range meant {
		if at, ok := heaviest[c.Value]; ok && c.Weight < byPerson && at != i {
			meant[i].Weight = 0
		}
	}
	return fact.Weigh(meant...)
}

// system is the operating system: named by its own management object, or
// known by the texts that only one kernel writes.
func (s sources) system() fact.Fact[string] {
	var claims []fact.Claim[string]
	for _, o := range s.Objects {
		if o.Class != records.OperatingSystem {
			continue
		}
		if name, ok := smbios.Told(o.Text("Caption")); ok {
			if bits, ok := smbios.Told(o.Text("OSArchitecture")); ok {
				name += " " + bits
			}
			claims = append(claims, fact.Claimed(name, fact.Firm, recordOf(records.OperatingSystem),
				fmt.Sprintf("caption %q", o.Text("Caption"))))
		}
	}
	for _, e := range s.Exports {
		if e.Overview != nil {
			claims = text(claims, e.Overview.System, reading.OtherSheet.String(), "system")
		}
	}
	if s.CPU.Known() || len(s.Memory) > 0 {
		name, says := "Linux", "only this kernel writes them"
		if bits, why := s.kernelBits(); bits != "" {
			name, says = name+" "+bits, says+"; "+why
		}
		claims = append(claims, fact.Claimed(name, fact.Firm, "procfs texts", says))
	}
	return weighNames(naming.Same, append(s.byHand("system"), claims...))
}

// kernelBits tells a 32-bit kernel from a 64-bit one by its address space:
// only the former divides memory into high and low, and only the latter has
// more than 4 GB for its own mappings.
func (s sources) kernelBits() (bits, why string) {
	if _, ok := s.Memory["HighTotal"]; ok {
		return "32-bit", "HighTotal is there"
	}
	if size := s.Memory["VmallocTotal"]; size > 4*jedec.GiB {
		return "64-bit", fmt.Sprintf("VmallocTotal %d kB", size/jedec.KiB)
	}
	return "", ""
}

// text adds the claim that a source's text makes, if it says anything.
func text(claims []fact.Claim[string], text, source, field string) []fact.Claim[string] {
	if name, ok := smbios.Told(text); ok {
		claims = append(claims, fact.Claimed(name, fact.Firm, source, fmt.Sprintf("%s %q", field, text)))
	}
	return claims
}

// boardSaid adds what a source calls the board.
func boardSaid(claims []fact.Claim[string], product, maker, source string) []fact.Claim[string] {
	name, named := smbios.Told(product)
	by, hasMaker := smbios.Told(maker)
	if named && hasMaker {
		name = by + " " + name
	}
	if named {
		claims = append(claims, fact.Claimed(name, fact.Firm, source, fmt.Sprintf("board %q by %q", product, maker)))
	}
	return claims
}

// released is the day of a firmware in the form of DSP0134, 7.1, or in that of an export; the first one that is read
// counts.
func released(known maybe.Value[time.Time], text string) maybe.Value[time.Time] {
	for _, layout := range []string{"01/02/2006", "01/02/06", time.DateOnly} {
		if day, err := time.Parse(layout, text); err == nil && !known.Known() {
			return maybe.Just(day)
		}
	}
	return known
}

// firmwareSaid adds what a source says of the firmware's version.
func firmwareSaid(claims []fact.Claim[string], version, released, source string) []fact.Claim[string] {
	text, ok := smbios.Told(version)
	if date, dated := smbios.Told(released); ok && dated {
		text += " of " + date
	}
	if ok {
		claims = append(claims, fact.Claimed(text, fact.Firm, source, fmt.Sprintf("version %q, released %q", version,
			released)))
	}
	return claims
}

// chipset names the chipset whose PCI id is on the card. An id that several
// chipsets carry names a group, and no one of them.
func (s sources) chipset() (claims []fact.Claim[string]) {
	for _, d := range s.PCI {
		found := s.known.Chipsets(d.ID())
		if len(found) != 1 {
			continue
		}
		w := fact.Firm
		if found[0].Recalled || found[0].Confidence != catalogue.High {
			w = fact.Fair
		}
		claims = append(claims, fact.Claimed(found[0].Name, w, "PCI ids", fmt.Sprintf("%s at %s", d.ID(), d.Address)))
	}
	return claims
}

// boardToken is a word of a board's name that may hold a chipset's: "B450M", "Z97", "TRX40".
var boardToken = pattern.Of(`(?i)^([a-z]{1,3}\d{2,3}e?)[a-z]{0,2}$`)

// chipsetOfBoard takes a board at its word whose name holds its chipset's, for where nothing else names one.
// Northbridges are left out: a board's name is too little to take the limits of a memory controller from.
func (s sources) chipsetOfBoard(board fact.Fact[string]) (claims []fact.Claim[string]) {
	name, ok := board.Get()
	if !ok {
		return nil
	}
	between := func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }
	for _, word := range strings.FieldsFunc(name, between) {
		parts := boardToken().FindStringSubmatch(word)
		if parts == nil {
			continue
		}
		for _, as := range []string{parts[0], parts[1]} {
			found := s.known.ChipsetsNamed(as)
			if len(found) == 0 || len(found[0].Controllers()) > 0 {
				continue
			}
			says := fmt.Sprintf("its name %q holds it", name)
			return []fact.Claim[string]{fact.Claimed(found[0].Name, fact.Fair, "board", says)}
		}
	}
	return nil
}

func (s sources) kind() fact.Fact[machine.Kind] {
	var claims []fact.Claim[machine.Kind]
	for _, c := range s.chassis() {
		if kind, ok := kindOf[c.kind]; ok {
			claims = append(claims, fact.Claimed(kind, fact.Firm, c.source,
				fmt.Sprintf("chassis code 0x%02X, %v", uint8(c.kind), c.kind)))
			break // what a system has of it, it has from the table
		}
	}
	for _, o := range s.Objects {
		if kind, ok := systemKinds[o.Text("PCSystemType")]; ok && o.Class == records.ComputerSystem {
			claims = append(claims, fact.Claimed(kind, fact.Fair, recordOf(records.ComputerSystem),
				"system type "+o.Text("PCSystemType")))
		}
	}
	for _, e := range s.Exports {
		if e.Overview == nil {
			continue
		}
		if kind, word, ok := namedKind(e.Overview.MachineName); ok {
			claims = append(claims, fact.Claimed(kind, fact.Fair, reading.OtherSheet.String(),
				fmt.Sprintf("machine name %q: %s", e.Overview.MachineName, word)))
		}
	}
	for _, c := range s.byHand("kind") {
		claims = append(claims, fact.Claimed(machine.Kind(c.Value), c.Weight, c.Support.Source, "kind "+c.Value))
	}
	return fact.Weigh(claims...)
}

// kindWords are what product names say of a machine's kind, the more telling first.
var kindWords = []struct {
	word string
	kind machine.Kind
}{
	{"all-in-one", machine.AllInOne}, {"notebook", machine.Laptop}, {"laptop", machine.Laptop},
	{"mini", machine.Mini}, {"tower", machine.Desktop}, {"desktop", machine.Desktop},
}

func namedKind(name string) (kind machine.Kind, word string, ok bool) {
	name = strings.ToLower(name)
	for _, x := range kindWords {
		if strings.Contains(name, x.word) {
			return x.kind, x.word, true
		}
	}
	return "", "", false
}

// systemKinds maps the codes by which a system tells what it runs on; others name
// no machine.
var systemKinds = map[string]machine.Kind{"1": machine.Desktop, "2": machine.Laptop, "3": machine.Desktop,
	"4": machine.Server, "5": machine.Server, "7": machine.Server, "8": machine.Laptop}

// processor prefers the brand string that the processor itself reports over
// what firmware wrote into its table.
func (s sources) processor() fact.Fact[string] {
	var claims []fact.Claim[string]
	cpu, _ := s.CPU.Get()
	if name, ok := smbios.Told(cpu.Brand); ok {
		claims = append(claims, fact.Claimed(name, fact.Prime, "cpuinfo", fmt.Sprintf("model name %q", cpu.Brand)))
	}
	for _, o := range s.Objects {
		if name, ok := smbios.Told(o.Text("Name")); ok && o.Class == records.Processor {
			claims = append(claims, fact.Claimed(name, fact.Prime, recordOf(records.Processor),
				fmt.Sprintf("name %q", o.Text("Name"))))
			break
		}
	}
	for _, e := range s.Exports {
		if e.Overview != nil {
			claims = text(claims, e.Overview.Processor, reading.OtherSheet.String(), "processor")
		}
	}
	for _, p := range s.Tables.Processors {
		if name, ok := smbios.Told(p.Version); ok {
			claims = append(claims, fact.Claimed(name, fact.Firm, table(smbios.TypeProcessor),
				fmt.Sprintf("version %q in socket %q", p.Version, p.Socket)))
			break // more sockets hold more of the same
		}
	}
	return weighNames(catalogue.SameProcessor, append(s.byHand(machine.AboutProcessor), claims...))
}

// processors is how many processors there are. Of firmware's sockets only those count that
// are filled.
func (s sources) processors() fact.Fact[int] {
	var claims []fact.Claim[int]
	if cpu, ok := s.CPU.Get(); ok && cpu.Packages > 0 {
		weight := fact.Prime
		if cpu.Packages == 1 {
			weight = fact.Fair // the text may be cut behind the first
		}
		claims = append(claims, fact.Claimed(cpu.Packages, weight, "cpuinfo",
			fmt.Sprintf("physical ids of %d processors", cpu.Packages)))
	}
	filled, recorded := 0, 0
	for _, p := range s.Tables.Processors {
		if p.Present {
			filled++
		}
	}
	if filled > 0 {
		says := fmt.Sprintf("%d of %d sockets filled", filled, len(s.Tables.Processors))
		claims = append(claims, fact.Claimed(filled, fact.Firm, table(smbios.TypeProcessor), says))
	}
	for _, e := range s.Exports {
		here := 0
		for _, o := range e.Objects {
			if o.Class == records.Processor {
				here++
			}
		}
		recorded = max(recorded, here)
		if e.Overview != nil && e.Overview.Processors.Known() {
			claims = append(claims, fact.Claimed(e.Overview.Processors.Or(1), fact.Fair, reading.OtherSheet.String(),
				fmt.Sprintf("packages %d", e.Overview.Processors.Or(1))))
		}
	}
	if recorded > 0 {
		claims = append(claims, fact.Claimed(recorded, fact.Fair, recordOf(records.Processor),
			fmt.Sprintf("%d objects", recorded)))
	}
	return fact.Weigh(claims...)
}

// describedCPU is how a system describes a processor beside its name.
var describedCPU = pattern.Of(`\bFamily (\d{1,3}) Model (\d{1,3}) Stepping (\d{1,2})\b`)

// cpuid is the processor's number: as the system shows it, or as firmware and
// management objects keep it, undivided.
func (s sources) cpuid() fact.Fact[machine.CPUID] {
	var claims []fact.Claim[machine.CPUID]
	cpu, _ := s.CPU.Get()
	family, ok1 := cpu.Family.Get()
	model, ok2 := cpu.Model.Get()
	if ok1 && ok2 {
		id := machine.CPUID{Family: family, Model: model, Stepping: cpu.Stepping.Or(0)}
		claims = append(claims, fact.Claimed(id, fact.Prime, "cpuinfo",
			fmt.Sprintf("family %d, model %d, stepping %d", id.Family, id.Model, id.Stepping)))
	}
	undivided := func(eax uint64, source string) {
		var id machine.CPUID
		id.Family, id.Model, id.Stepping = smbios.Signature(uint32(eax))
		if id.Family > 0 {
			claims = append(claims, fact.Claimed(id, fact.Firm, source, fmt.Sprintf("signature 0x%08X", uint32(eax))))
		}
	}
	for _, p := range s.Tables.Processors {
		if id, ok := p.ID.Get(); ok {
			undivided(id, table(smbios.TypeProcessor))
			break
		}
	}
	for _, o := range s.Objects {
		if o.Class != records.Processor {
			continue
		}
		if id, err := strconv.ParseUint(o.Text("ProcessorId"), 16, 64); err == nil {
			undivided(id, recordOf(records.Processor))
		}
		if m := describedCPU().FindStringSubmatch(o.Text("Description")); m != nil {
			var id machine.CPUID
			_, _ = fmt.Sscan(m[1]+" "+m[2]+" "+m[3], &id.Family, &id.Model, &id.Stepping) // digits, by the expression
			claims = append(claims, fact.Claimed(id, fact.Firm, recordOf(records.Processor),
				fmt.Sprintf("description %q", o.Text("Description"))))
		}
		break
	}
	return fact.Weigh(claims...)
}
