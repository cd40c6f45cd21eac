// Package reading decodes what a card holds, once, into typed values: firmware
// tables, module EEPROMs, management objects, kernel texts, hand entries and what
// earlier jobs showed. What can't be read is named with the reason, and left out.
//
// It owns every value that comes out of bytes; package evidence draws its claims
// from these values, and never sees a byte.
package reading

import (
	"bytes"
	"fmt"
	"slices"
	"strings"
	"time"

	"epitome/core/card"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
	"epitome/core/plain"
	"epitome/core/records"
	"epitome/core/smbios"
)

// A Set is a card's readings, decoded.
type Set struct {
	Tables     smbios.Inventory
	Listed     []Sighting                // places, as tables, systems and panels list them
	Announced  []Announcement            // how many places there are said to be
	Exports    []Export                  // what systems wrote of themselves, the newest first
	CPU        maybe.Value[records.CPU]  // what the kernel says of the processor
	Memory     map[string]jedec.Capacity // what the kernel says of memory, nil where nothing
	Objects    []records.Object          // management objects
	PCI        []records.PCIDevice
	Panel      records.Panel   // what was copied from a settings panel
	EEPROMs    []EEPROM        // that could be decoded
	Hands      []Hand          // hand entries, in the order of the card
	PastJobs   []PastJob       // what earlier jobs on this machine showed
	Proofs     []records.Proof // what was measured and proved, in the order of the card
	Series     need.Series     // the latest that was measured, else the one look that a management object gives
	Unmeasured []string        // series that could not be read whole, and why
	Ignored    []string        // what exports hold of other things, by source
	Unread     []Trouble       // what could not be read when the card was made, and why
	Troubles   []Trouble       // readings that could not be used
	hasTable   bool
	listing    int       // readings that list places, so far
	tableTaken time.Time // when the firmware table was read
	table      []byte
}

// A Trouble is a reading that could not be used, or not as it stands, and why.
type Trouble struct {
	Source, Why string
}

// Of decodes what a card holds. A reading that can't be decoded is a trouble, and
// otherwise left out, as is one that a hand entry distrusts.
func Of(c card.Card) Set {
	var s Set
	c.Readings = once(c.Readings)
	for _, damage := range c.Damage {
		s.fail("card", damage)
	}
	for _, r := range c.Readings {
		if r.Failure != "" && len(r.Data) == 0 && r.Kind != card.Hand {
			source := r.Source
			if at := shortAddress(r.Address); r.Kind == card.SPD && at != "" {
				source = "EEPROM " + at
			}
			s.Unread = append(s.Unread, Trouble{source, r.Failure})
		}
	}
	s.readHands(c)
	s.readOutcomes(c)
	s.readProofs(c)
	c = s.trusted(c)
	s.readTables(c)
	s.readEEPROMs(c)
	if r := c.Of(card.CPUInfo); len(r) > 0 {
		if s.CPU = maybe.If(records.ParseCPUInfo(r[0].Data)); !s.CPU.Known() {
			s.fail("cpuinfo", "holds no processor entry")
		}
	}
	s.readTablePlaces(s.tableTaken)
	s.readExports(c)
	s.readPanel(c)
	s.Listed = bounded(&s, "lists of places", "places", s.Listed)
	for _, r := range c.Of(card.PCI) {
		devices, wrong := records.ParsePCI(r.Data)
		if wrong > 0 {
			s.fail(r.Source, plain.Count(wrong, "line")+" without a PCI device")
		}
		s.PCI = append(s.PCI, devices...)
	}
	s.PCI = bounded(&s, "PCI ids", "devices", s.PCI)
	if r := c.Of(card.MemInfo); len(r) > 0 {
		s.Memory = records.ParseMemInfo(r[0].Data)
	}
	s.readSeries(c)
	return s
}

// once leaves out readings that are on the card twice: they say nothing new.
func once(all []card.Reading) (kept []card.Reading) {
	for _, r := range all {
		if !slices.ContainsFunc(kept, func(k card.Reading) bool {
			return k.Kind == r.Kind && k.Address == r.Address && k.Failure == r.Failure && len(r.Data) > 0 &&
				bytes.Equal(k.Data, r.Data)
		}) {
			kept = append(kept, r)
		}
	}
	return kept
}

// readPanel reads what was copied from settings panels.
func (s *Set) readPanel(c card.Card) {
	var text []string
	for _, r := range c.Of(card.Panel) {
		text = append(text, string(r.Data))
	}
	if len(text) == 0 {
		return
	}
	var err error
	if s.Panel, err = records.ParsePanel(strings.Join(text, "\n")); err != nil {
		s.fail("settings panel", err.Error())
	}
	s.readPanelPlaces()
}

func (s *Set) readSeries(c card.Card) {
	for _, r := range c.Of(card.Series) {
		series, err := need.ParseSeries(r.Data)
		if err != nil {
			s.Unmeasured = append(s.Unmeasured, r.Source+": "+err.Error())
		}
		if len(series) > 0 {
			s.Series = series
		}
	}
	for _, o := range s.Objects {
		if look, ok := need.FromCIM(o); ok && len(s.Series) == 0 {
			s.Series = need.Series{look}
		}
	}
}

// MostPlaces bounds how many of a thing one machine has. The largest servers
// have a quarter of that.
const MostPlaces = 512

// bounded leaves out what is beyond any machine, and says so.
func bounded[T any](s *Set, source, what string, list []T) []T {
	if len(list) <= MostPlaces {
		return list
	}
	s.fail(source, fmt.Sprintf("lists %d %s; no machine has so many, and the first %d are used", len(list), what,
		MostPlaces))
	return list[:MostPlaces:MostPlaces]
}

// A PastJob is an earlier job on the machine: places that got a module, and
// were found with it.
type PastJob struct {
	Date   string
	Fitted []string  // names of the places, those that they had when it was planned among them
	Named  []Renamed // places that are called otherwise since
}

// A Renamed is the name that a place had when it was planned, and the one that it was found by.
type Renamed struct{ Planned, Since string }

// readOutcomes takes from each outcome the places whose contents the plan
// before it changed and that were found filled.
func (s *Set) readOutcomes(c card.Card) {
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
			job := PastJob{Date: o.Date}
			for _, p := range o.Places {
				for _, name := range records.PlannedPlaces(plan, o.Proposal) {
					if o.Result != "as predicted" || name != p.Name && name != p.Planned {
						continue
					}
					job.Fitted = append(job.Fitted, p.Name)
					if p.Planned != "" {
						job.Fitted = append(job.Fitted, p.Planned)
						job.Named = append(job.Named, Renamed{p.Planned, p.Name})
					}
				}
			}
			s.PastJobs = append(s.PastJobs, job)
		}
	}
}

func (s *Set) readProofs(c card.Card) {
	for _, r := range c.Of(card.Proof) {
		p, err := records.ParseProof(r.Data)
		if err != nil {
			s.fail(r.Source, err.Error())
			continue
		}
		s.Proofs = append(s.Proofs, p)
	}
}

func (s *Set) fail(source, why string) {
	s.Troubles = append(s.Troubles, Trouble{source, why})
}

func (s *Set) readTables(c card.Card) {
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
		s.decode(r, r.Data, entry)
	}
	for _, r := range c.Of(card.TableFile) {
		entry, table, err := smbios.SplitFile(r.Data)
		if err != nil {
			s.fail(r.Source, err.Error())
			continue
		}
		s.decode(r, table, entry)
	}
}

// decode reads one table. The first that yields anything is the machine's;
// more than one is named, not mixed.
func (s *Set) decode(r card.Reading, table []byte, entry smbios.EntryPoint) {
	source := r.Source
	switch {
	case s.hasTable && bytes.Equal(table, s.table): // the same one, as a file of another kind
		return
	case s.hasTable:
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
	s.Tables, s.table, s.tableTaken = inventory, table, r.Taken
	s.hasTable = len(inventory.Systems)+len(inventory.Devices)+len(inventory.Arrays)+len(inventory.Boards) > 0
	if s.hasTable && err == nil && len(inventory.SystemDevices()) == 0 {
		s.fail(source, "the firmware table lists no memory (types 16 and 17 are missing): places must come from elsewhere")
	}
	if !s.hasTable && err == nil {
		s.fail(source, "the table says nothing of the machine or its memory")
	}
}
