package catalogue

import (
	_ "embed"
	"slices"
	"strings"
	"sync"

	"epitome/core/maybe"
)

//go:embed chipsets.csv
var chipsetsCSV string

var chipsetRows = sync.OnceValue(func() []row { return readTable("chipsets", chipsetsCSV).each() })

// A Chipset is one row of the chipset table: a northbridge that holds the
// memory controller, or a hub that caps or allows something.
type Chipset struct {
	ID, Maker, Name, Role string
	Generations           []string
	DIMMs                 maybe.Value[int] // cap on slots a channel
	Overclock             maybe.Value[bool]
	Shared                bool // its PCI id is carried by other chipsets too: the id names a group
	Recalled              bool // the id is recalled alike by both compilations and not in the id list
	Confidence            Confidence
	Basis                 string
}

// ChipsetsWithID returns every chipset that carries a PCI id, "8086:a305". Of
// several, only what they have in common is known of the machine.
func ChipsetsWithID(id string) []Chipset {
	id = strings.ToLower(strings.TrimSpace(id))
	var found []Chipset
	for _, r := range chipsetRows() {
		listed, recalled := slices.Contains(r.list("pci_ids"), id), slices.Contains(r.list("pci_ids_recalled"), id)
		if id == "" || !listed && !recalled {
			continue
		}
		c := Chipset{ID: r.text("id"), Maker: r.text("maker"), Name: r.text("name"), Role: r.text("role"), Generations: r.list("generations"),
			DIMMs: r.number("dimms_per_channel"), Overclock: r.yesNo("overclock"), Recalled: recalled, Confidence: Confidence(r.text("confidence")), Basis: r.basis()}
		for _, t := range r.tiers("shared_ids") {
			c.Shared = c.Shared || t.key == id
		}
		found = append(found, c)
	}
	return found
}
