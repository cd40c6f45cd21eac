package catalogue

import (
	"fmt"
	"path"
	"slices"
	"strings"

	"go.yaml.in/yaml/v3"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// An Overlay is one file of the user's own entries.
type Overlay struct {
	File       string
	Version    int
	Processors []OwnProcessor
	Chipsets   []Chipset
	Boards     []Board
}

// An OwnProcessor is a processor family of the user's.
type OwnProcessor struct {
	ID, Maker, Family, Brand string // Brand is an expression over the brand string
	CPUFamily                maybe.Value[int]
	CPUModels                []int
	Takes                    []Controller
	From                     string // the workshop that a packed entry comes from
	Basis                    string
	Confidence               Confidence
	Where                    string
}

// A Board is a board or a machine by its names, with what its manual says.
type Board struct {
	Maker       string
	Names       []string // of the board or of the machines it is in
	Generations []string
	Form        maybe.Value[jedec.Form]     // what the slots take
	Most        maybe.Value[jedec.Capacity] // of the whole machine, soldered memory included
	PerSlot     maybe.Value[jedec.Capacity]
	Slots       []Slot
	Soldered    []Bank
	Rates       []BoardRate
	Profiles    maybe.Value[bool] // overclocking profiles can be selected
	Clocked     maybe.Value[bool] // modules with a clock driver are supported
	ECC         maybe.Value[[]string]
	MilliVolts  []int
	DensityMbit maybe.Value[int]
	Ran         []Ran  // what ran on it, though nobody states it
	From        string // the workshop that a packed entry comes from
	Basis       string
	Confidence  Confidence
	Where       string
}

// A Slot is one socket of a board.
type Slot struct {
	Name, Channel string
	Order         int                         // in which slots are filled, 1 first; 0 where the manual does not say
	Most          maybe.Value[jedec.Capacity] // where it differs from the others
}

// A Bank is soldered memory of a board.
type Bank struct {
	Name, Channel string
	Size          maybe.Value[jedec.Capacity]
}

// A BoardRate is the highest rate that a board's manual gives for one way of
// filling a channel.
type BoardRate struct {
	Modules int // in the channel
	Ranks   int // 0 where the manual does not tell ranks apart
	Rate    jedec.Rate
}

// A Fault is something wrong in an overlay file.
type Fault struct {
	File string
	Line int
	Says string // what is wrong, and what is allowed
}

func (f Fault) Error() string { return fmt.Sprintf("%s:%d: %s", f.File, f.Line, f.Says) }

// OverlayVersion is the version of overlay files that this program reads.
const OverlayVersion = 1

// maxFaults keeps the report of a file that is no overlay at all readable.
const maxFaults = 50

// ParseOverlay reads one file of entries. Entries with a fault are left out and
// every fault is returned, with file, line and what is allowed.
func ParseOverlay(file string, text []byte) (Overlay, []Fault) {
	r := &overlayReader{file: path.Base(strings.ReplaceAll(file, `\`, "/"))}
	var doc yaml.Node
	if err := yaml.Unmarshal(text, &doc); err != nil {
		line, says := yamlError(err)
		return Overlay{File: file}, []Fault{{r.file, line, says}}
	}
	if len(doc.Content) == 0 {
		says := "the file is empty; catalogue add --template prints one to start from"
		return Overlay{File: file}, []Fault{{r.file, 1, says}}
	}
	o, _ := fileForm().read(r, doc.Content[0])
	o.File = file
	if o.Version == 0 && len(r.faults) == 0 {
		r.fault(doc.Content[0], "the first line is missing: epitome-catalogue: 1")
	}
	if len(r.faults) > maxFaults {
		r.faults = append(r.faults[:maxFaults], Fault{r.file, r.faults[maxFaults].Line, "and more; mend these first"})
	}
	return o, r.faults
}

// takesOf hands what an entry says of itself to each controller that it holds.
func takesOf(list []Controller, id, maker, family, basis string, confidence Confidence, where string) {
	for i := range list {
		c := &list[i]
		c.ID, c.Maker, c.Family, c.Basis, c.Confidence, c.Where = id, maker, family, basis, confidence, where
		c.Runs = c.Runs.beyond(*c)
	}
}

func checkProcessor(_ *overlayReader, _ *yaml.Node, p *OwnProcessor) {
	if p.Family == "" {
		p.Family = p.ID
	}
	takesOf(p.Takes, p.ID, p.Maker, p.Family, p.Basis, p.Confidence, p.Where)
}

func checkChipset(_ *overlayReader, _ *yaml.Node, c *Chipset) {
	takesOf(c.controllers, c.ID, c.Maker, c.Name, c.Basis, c.Confidence, c.Where)
	for _, own := range c.controllers {
		c.Role = "northbridge"
		if !slices.Contains(c.Generations, own.Generation) {
			c.Generations = append(c.Generations, own.Generation)
		}
	}
}

// checkBoard holds the figures of a board against one another.
func checkBoard(r *overlayReader, n *yaml.Node, b *Board) {
	names := make(map[string]bool)
	for _, s := range b.Slots {
		if names[folded(s.Name)] {
			r.fault(n, "slot %q stands twice", s.Name)
		}
		names[folded(s.Name)] = true
	}
	each, ok1 := b.PerSlot.Get()
	most, ok2 := b.Most.Get()
	if ok1 && ok2 && each > most {
		r.fault(n, "per_slot %v is more than the maximum of %v", each, most)
	}
}

func checkRan(r *overlayReader, n *yaml.Node, x *Ran) {
	if !x.Total.Known() && !x.Each.Known() && !x.Rate.Known() {
		r.fault(n, "an entry of ran wants total, largest_module or rate")
	}
}

// controllers returns what the overlay says of a processor.
func (o Overlay) controllers(p Processor) []Controller {
	for _, own := range o.Processors {
		if own.matches(p) {
			return own.Takes
		}
	}
	return nil
}

func (own OwnProcessor) matches(p Processor) bool {
	family, known := own.CPUFamily.Get()
	if f, ok := p.Family.Get(); ok && known && f != family {
		return false
	}
	if m, ok := p.Model.Get(); ok && len(own.CPUModels) > 0 && !slices.Contains(own.CPUModels, m) {
		return false
	}
	return p.Brand != "" && matches(own.Brand, p.Brand)
}
