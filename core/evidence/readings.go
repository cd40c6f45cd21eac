package evidence

import (
	"fmt"
	"strings"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/records"
	"epitome/core/smbios"
)

// sources is a card's readings, decoded.
type sources struct {
	tables      smbios.Inventory
	hasTable    bool
	fromObjects bool // places and arrays are those of management objects: of the places, the filled ones
	cpu         records.CPU
	hasCPU      bool
	memory      map[string]jedec.Capacity
	objects     []records.Object // management objects
	pci         []records.PCIDevice
	chips       []eeprom    // module EEPROMs that could be decoded
	hands       []handEntry // hand entries, in the order of the card
	known       catalogue.Catalogue
	boards      []catalogue.Board                      // the catalogue's entries of this board or machine
	outcomes    []pastJob                              // what earlier jobs on this machine showed
	writes      convention                             // what firmware writes into its speed fields
	highest     func() map[jedec.Generation]jedec.Rate // that the processor's controllers state
	trouble     []machine.Conflict                     // readings that could not be used, and why
}

// read decodes what a card holds. A reading that can't be decoded is named in
// trouble and otherwise left out.
func read(c card.Card) sources {
	var s sources
	for _, damage := range c.Damage {
		s.fail("card", damage)
	}
	s.readHands(c)
	s.readOutcomes(c)
	c = s.trusted(c)
	s.readTables(c)
	s.readChips(c)
	if r := c.Of(card.CPUInfo); len(r) > 0 {
		s.cpu, s.hasCPU = records.ParseCPUInfo(r[0].Data)
		if !s.hasCPU {
			s.fail("cpuinfo", "holds no processor entry")
		}
	}
	for _, r := range c.Of(card.CIM) {
		objects, err := records.ParseCIM(r.Data)
		if err != nil {
			s.fail(r.Source, err.Error())
		}
		s.objects = append(s.objects, objects...)
	}
	s.adoptObjects()
	for _, r := range c.Of(card.PCI) {
		devices, wrong := records.ParsePCI(r.Data)
		if wrong > 0 {
			s.fail(r.Source, counted(wrong, "line")+" without a PCI device")
		}
		s.pci = append(s.pci, devices...)
	}
	s.pci = bounded(&s, "PCI ids", "devices", s.pci)
	if r := c.Of(card.MemInfo); len(r) > 0 {
		s.memory = records.ParseMemInfo(r[0].Data)
	}
	return s
}

// mostPlaces bounds how many of a thing one machine has. The largest servers
// have a quarter of that.
const mostPlaces = 512

// bounded leaves out what is beyond any machine, and says so.
func bounded[T any](s *sources, source, what string, list []T) []T {
	if len(list) <= mostPlaces {
		return list
	}
	s.fail(source, fmt.Sprintf("lists %d %s; no machine has so many, and the first %d are used", len(list), what, mostPlaces))
	return list[:mostPlaces:mostPlaces]
}

// A pastJob is an earlier job on the machine: places that got a module, and
// were found with it.
type pastJob struct {
	date   string
	fitted []string
}

// readOutcomes takes from each outcome the places whose contents the plan
// before it changed and that were found filled.
func (s *sources) readOutcomes(c card.Card) {
	var plan []byte
	for _, r := range c.Readings {
		switch r.Kind {
		case card.Plan:
			plan = r.Data
		case card.Outcome:
			o, err := records.ParseOutcome(r.Data)
			if err != nil {
				s.fail(r.Source, err.Error())
				continue
			}
			job := pastJob{date: o.Date}
			for _, p := range o.Places {
				for _, name := range records.PlannedPlaces(plan, o.Proposal) {
					if name == p.Name && o.Result == "as predicted" {
						job.fitted = append(job.fitted, p.Name)
					}
				}
			}
			s.outcomes = append(s.outcomes, job)
		}
	}
}

func (s *sources) fail(source, why string) {
	s.trouble = append(s.trouble, machine.Conflict{About: "reading", Says: why, Sources: []string{source}})
}

func (s *sources) readTables(c card.Card) {
	var entry smbios.EntryPoint
	for _, r := range c.Of(card.EntryPoint) {
		e, err := smbios.ParseEntryPoint(r.Data)
		if err != nil {
			s.fail(r.Source, err.Error())
			continue
		}
		entry = e
	}
	for _, r := range c.Of(card.Table) {
		s.decode(r.Source, r.Data, entry)
	}
	for _, r := range c.Of(card.TableFile) {
		entry, table, err := smbios.SplitFile(r.Data)
		if err != nil {
			s.fail(r.Source, err.Error())
			continue
		}
		s.decode(r.Source, table, entry)
	}
}

// decode reads one table. The first that yields anything is the machine's;
// more than one is named, not mixed.
func (s *sources) decode(source string, table []byte, entry smbios.EntryPoint) {
	if s.hasTable {
		s.fail(source, "a second firmware table; the first one is used")
		return
	}
	inventory, err := smbios.Decode(table, entry)
	if err != nil {
		s.fail(source, err.Error())
	}
	for _, note := range inventory.Notes {
		s.fail(source, note)
	}
	inventory.Devices = bounded(s, source, "places", inventory.Devices)
	inventory.OldModules = bounded(s, source, "places", inventory.OldModules)
	inventory.Arrays = bounded(s, source, "arrays", inventory.Arrays)
	s.tables = inventory
	s.hasTable = len(inventory.Systems)+len(inventory.Devices)+len(inventory.Arrays)+len(inventory.Boards) > 0
	if s.hasTable && err == nil && len(inventory.SystemDevices()) == 0 {
		s.fail(source, "the firmware table lists no memory (types 16 and 17 are missing): places must come from elsewhere")
	}
	if !s.hasTable && err == nil {
		s.fail(source, "the table says nothing of the machine or its memory")
	}
}

// told drops placeholders, which say nothing.
func told(s string) (string, bool) {
	if smbios.Placeholder(s) {
		return "", false
	}
	return strings.Join(strings.Fields(s), " "), true
}

// table names a structure type as a source of claims.
func table(kind smbios.Type, place string) string {
	if place == "" {
		return fmt.Sprintf("firmware table %d", kind)
	}
	return fmt.Sprintf("firmware table %d, place %s", kind, place)
}
