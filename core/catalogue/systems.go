// Package catalogue is what Epitome knows of processors' memory controllers,
// chipsets, operating systems and the market, and what a workshop adds of boards. Every entry says how
// far to trust it. An empty cell is unknown, never a default.
package catalogue

import (
	_ "embed"
	"strconv"
	"strings"
	"sync"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// A Confidence says how firmly an entry stands.
type Confidence string

// The confidences. High may lead alone; medium and low only lean.
const (
	High   Confidence = "high"
	Medium Confidence = "medium"
	Low    Confidence = "low"
)

// A System is one edition of an operating system in one width.
type System struct {
	OS, Edition string
	Bits        int
	// Most is the most memory the edition uses; unknown where there is no
	// practical limit. A 32-bit system with 4 GB sees about 3 to 3.5 of it.
	Most maybe.Value[jedec.Capacity]
	// Minimum is the maker's stated minimum: what it starts with, not what
	// anyone needs.
	Minimum    maybe.Value[jedec.Capacity]
	Confidence Confidence
	Note       string
}

// Name writes the system as a person does, "Windows 10 Home 64-bit".
func (s System) Name() string {
	return strings.TrimSpace(s.OS+" "+s.Edition) + " " + strconv.Itoa(s.Bits) + "-bit"
}

// systemsCSV is compiled twice from the makers' published limits and compared;
// see the column notes in docs/catalogue.md.
//
//go:embed os-limits.csv
var systemsCSV string

// Systems returns every edition, in the table's order.
var Systems = sync.OnceValue(func() []System {
	var out []System
	for _, r := range readTable("systems", systemsCSV).each() {
		var s System
		systemForm().fill(&s, r, "")
		out = append(out, s)
	}
	return out
})

// SystemsNamed returns the editions that a name can mean: a caption such as
// "Microsoft Windows 10 Home" with its width, or a short "Windows 10". bits is
// 0 where it is not known. An edition that the name spells out leaves only
// that one; otherwise all of the system's editions come back.
func SystemsNamed(name string, bits int) []System {
	text := " " + folded(name) + " "
	var found []System
	longestOS, longestEdition := 0, 0
	for _, s := range Systems() {
		if bits != 0 && s.Bits != bits || !strings.Contains(text, " "+strings.ToLower(s.OS)+" ") {
			continue
		}
		edition := 0
		if strings.Contains(text, " "+strings.ToLower(s.Edition)+" ") {
			edition = len(s.Edition)
		}
		switch {
		case len(s.OS) > longestOS, len(s.OS) == longestOS && edition > longestEdition:
			longestOS, longestEdition, found = len(s.OS), edition, []System{s}
		case len(s.OS) == longestOS && edition == longestEdition:
			found = append(found, s)
		}
	}
	return found
}
