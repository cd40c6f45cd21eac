package catalogue_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"epitome/core/catalogue"
	"epitome/golden"
	"epitome/truth/effort"
)

// Entries of which some are of one name, one id or one family: each taken in where each other stands.
const neighbours = `boards: {maker: Groyne, names: [GN-31P], maximum: 16GB, basis: manual}
boards: {maker: groyne, names: [gn-31p], maximum: 16GB, basis: manual}
boards: {maker: Groyne, names: [GN-31P], maximum: 32GB, basis: manual}
boards: {maker: Groyne, names: [GN-31P], maximum: 16GB, basis: manual, from: Quay}
boards: {maker: Groyne, names: [GN-32P, GN-31P], maximum: 16GB, basis: manual}
boards: {maker: Halyard, names: [GN-31P], maximum: 16GB, basis: manual}
boards: {maker: Groyne, names: [GN-40], maximum: 16GB, basis: manual}
chipsets: {name: X47, pci_ids: 'fafa:0c47', basis: sheet}
chipsets: {name: x47, pci_ids: 'fafa:0c47', basis: sheet}
chipsets: {name: X47, pci_ids: 'fafa:0c48', basis: sheet}
chipsets: {name: X48, pci_ids: 'fafa:0c47', basis: sheet}
chipsets: {name: X47, maker: Quay, pci_ids: 'fafa:0c47', basis: sheet}
chipsets: {id: quay-x47, maker: Quay, name: X47, generations: [DDR4], pci_ids: 'fafa:0c47', basis: sheet}
chipsets: {name: X49, pci_ids: 'fafa:0c49', basis: sheet}
processors: {family: Petrel, brand: Petrel, basis: sheet, takes: [{generation: DDR4, channels: 2}]}
processors: {family: Petrel, brand: Petrel, basis: sheet, takes: [{generation: DDR4, channels: 1}]}
processors: {id: quay-petrel, maker: Quay, family: Petrel, brand: Petrel P5, basis: sheet, takes: [{generation: DDR4}]}
processors: {id: quay-petrel, family: Knot, brand: Knot, basis: sheet, takes: [{generation: DDR4, channels: 2}]}
processors: {family: Knot, brand: Knot, basis: sheet, takes: [{generation: DDR4, channels: 2}]}`

// What is new, what stands already, what stands otherwise, and what takes the place of what.
func TestEachEntryBesideEachOther(t *testing.T) {
	effort.NotShort(t)
	var page strings.Builder
	entries := strings.Split(neighbours, "\n")
	text := func(i int) []byte {
		list, entry, _ := strings.Cut(entries[i], ": ")
		return []byte("epitome-catalogue: 1\n" + list + ": [" + entry + "]\n")
	}
	for i := range entries {
		fmt.Fprintf(&page, "# %d, %s\n", i+1, entries[i])
		o, faults := catalogue.ParseOverlay("own.yaml", text(i))
		require.Empty(t, faults, entries[i])
		k := catalogue.Catalogue{}.With(o)
		for _, e := range k.Entries() {
			if strings.HasPrefix(e.Where, "own.yaml") {
				fmt.Fprintf(&page, "listed as %+v\n", e)
			}
		}
		for _, query := range []string{"quay-x47", "quay-petrel", "X47", "Petrel", "Knot", "GN-31P", "Quay", "Groyne GN-40"} {
			f := k.Named(query)
			if n := len(f.Controllers) + len(f.Chipsets) + len(f.Boards); n > 0 {
				fmt.Fprintf(&page, "%s finds %d processors, %d chipsets, %d boards\n", query, len(f.Controllers),
					len(f.Chipsets), len(f.Boards))
			}
		}
		for j := range entries {
			taken, faults := k.Unpack("pack.yaml", text(j))
			require.Empty(t, faults, entries[j])
			theirs, _ := catalogue.ParseOverlay("theirs.yaml", text(j))
			says := ""
			for _, x := range []struct {
				word string
				list []string
			}{{"new", taken.New}, {"same", taken.Same}, {"clash", taken.Clash}} {
				if len(x.list) > 0 {
					says += fmt.Sprintf(" %s %q", x.word, x.list)
				}
			}
			if !strings.HasPrefix(entries[j], "processors") { // of those the tables alone are looked through, which takes long
				if over := k.Shadows(theirs); len(over) > 0 {
					says += fmt.Sprintf("; over %v", over)
				}
			}
			if strings.HasPrefix(says, " new") && !strings.Contains(says, "over") {
				continue // is as if the other were not there
			}
			fmt.Fprintf(&page, "%d:%s\n", j+1, says)
		}
	}
	golden.Compare(t, "testdata/beside.txt", page.String())
}
