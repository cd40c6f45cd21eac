// Package card is the card file: everything that was read about one machine,
// and nothing that was worked out from it.
//
// A card is YAML text that opens in any editor and survives being mailed. It
// holds inputs only, raw as they were taken: text readings as text, binary
// ones in base64, each with its size and SHA-256 so that damage on the way
// shows. Everything else is worked out afresh each time a card is read.
//
//	epitome-card: 1
//	made: 2026-11-23T09:00:00Z
//	readings:
//	  - kind: smbios-table
//	    source: /sys/firmware/dmi/tables/DMI
//	    how: live
//	    taken: 2026-11-23T09:00:00Z
//	    bytes: 505
//	    sha256: 1f0c…
//	    base64: |
//	      ABgAAAEC6AMACA…
package card

import (
	"errors"
	"time"
)

// Version is the version of the card file that this package writes. It reads
// this one and all before it.
const Version = 1

// MaxSize bounds a card file, in bytes. The largest real machine's card is
// well under 1 MiB.
const MaxSize = 16 << 20

// A Kind says what a reading's bytes are.
type Kind string

// The kinds of readings.
const (
	EntryPoint Kind = "smbios-entry-point" // the kernel's smbios_entry_point
	Table      Kind = "smbios-table"       // the kernel's DMI file
	TableFile  Kind = "smbios-file"        // entry point and table in one file
	SPD        Kind = "spd"                // a module's EEPROM image
	CPUInfo    Kind = "cpuinfo"
	MemInfo    Kind = "meminfo"
	VMStat     Kind = "vmstat"
	Pressure   Kind = "pressure-memory"
	PCI        Kind = "pci"     // lines "0000:00:1f.0 8086:a305 060100"
	CIM        Kind = "cim"     // exported management objects, JSON or CSV
	Panel      Kind = "panel"   // lines copied from a settings panel
	Series     Kind = "series"  // what need --watch measured, a table
	Hand       Kind = "hand"    // what was read off stickers and boards, YAML
	Plan       Kind = "plan"    // the proposals that were worked out and kept, YAML
	Outcome    Kind = "outcome" // what a recheck found after fitting, YAML
	Proof      Kind = "proof"   // what was measured and proved, YAML
)

// kinds lists every kind, in the order in which a card keeps its readings.
var kinds = []Kind{EntryPoint, Table, TableFile, SPD, CPUInfo, MemInfo, VMStat, Pressure, PCI, CIM, Panel, Series,
	Hand, Plan, Outcome, Proof}

// A Reading is one piece of raw evidence, or the reason why it could not be
// taken.
type Reading struct {
	Kind   Kind
	Source string    // where it came from: a path, a device
	How    string    // "live", "files", "system copy", "by hand"
	Taken  time.Time // to the second, UTC
	// Address tells an EEPROM's place: bus and address ("0-0050"), or the
	// address alone ("0x50"). Empty for other kinds.
	Address string
	// Failure says why there are no bytes, or why they are not whole. Empty
	// where all went well.
	Failure string
	Data    []byte
	kept    *entry // what the file said, where that turned out to be damaged
}

// A Card is all readings about one machine.
type Card struct {
	Made     time.Time // to the second, UTC
	Title    string    // the technician's own name for the job; may be empty
	Job      string    // its number in the workshop's log, as 2026-118; empty where it has none
	Readings []Reading
	// Damage lists readings whose bytes no longer agree with the size or sum
	// written beside them. Those readings carry a Failure and no Data; Encode
	// writes what the file said of them.
	Damage []string
}

// Of returns the readings of one kind that hold bytes, in the card's order.
func (c Card) Of(kind Kind) []Reading {
	var found []Reading
	for _, r := range c.Readings {
		if r.Kind == kind && len(r.Data) > 0 {
			found = append(found, r)
		}
	}
	return found
}

// Errors that callers branch on.
var (
	// ErrNotCard: the file is no card at all.
	ErrNotCard = errors.New("not an epitome card")
	// ErrNewer: the card was written by a later version.
	ErrNewer = errors.New("card from a newer version")
)
