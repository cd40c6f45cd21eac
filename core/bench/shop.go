package bench

import (
	"fmt"
	"strconv"
	"strings"

	"epitome/core/catalogue"
	"epitome/core/maybe"
)

// What the catalogue's commands hand on goes by these names.
type (
	// Entries are one file of the workshop's own entries.
	Entries = catalogue.Overlay
	// A Fault is something wrong in a file of entries.
	Fault = catalogue.Fault
	// A Field is a field of an entry as the command line gives it.
	Field = catalogue.Flag
	// A Learned is an entry of a board that was learned from machines.
	Learned = catalogue.Board
	// Parts are what was looked up in the catalogue.
	Parts = catalogue.Found
)

// ErrNothingToLearn: the machine's board has no name, or nothing about it is settled.
var ErrNothingToLearn = catalogue.ErrNothingToLearn

// ParseEntries reads a file of entries; every fault is returned with its line.
func ParseEntries(file string, text []byte) (Entries, []Fault) {
	return catalogue.ParseOverlay(file, text)
}

// BlankEntries is a file of entries to fill in with an editor.
func BlankEntries() string { return catalogue.Template() }

// BoardFields are what a board may say.
func BoardFields() []Field { return catalogue.BoardFlags() }

// ProcessorFields are what a processor family may say.
func ProcessorFields() []Field { return catalogue.ProcessorFlags() }

// NewBoard makes a file of one board of what fields are given. The error is an InputError.
func NewBoard(fields map[string][]string) ([]byte, error) {
	return entryOf(catalogue.NewBoard(fields))
}

// NewProcessor makes a file of one processor family. The error is an InputError.
func NewProcessor(id string, fields map[string][]string) ([]byte, error) {
	return entryOf(catalogue.NewProcessor(id, fields))
}

func entryOf(text []byte, faults []Fault, err error) ([]byte, error) {
	if err != nil {
		return nil, &InputError{err}
	}
	var says []string
	for _, f := range faults {
		says = append(says, f.Says)
	}
	if len(says) > 0 {
		return nil, input("the entry can't be used: %s", strings.Join(says, "; "))
	}
	return text, nil
}

// Learn makes an entry of the machine's board: what is settled about it and what ran on
// it, with what earlier jobs on its make showed more than once and none contradicts. The
// error wraps ErrNothingToLearn.
func (b *Bench) Learn(day, by string) (Learned, error) {
	entry, err := catalogue.Learn(b.Machine(), day, by)
	if err == nil {
		entry = entry.Again(Learned{Ran: b.catalogue.Past().Sure()})
	}
	return entry, err
}

// LearnedBefore adds what was learned of one more machine to the file that it stands in,
// and returns the whole entry. file names it.
func LearnedBefore(file string, text []byte, more Learned) (Learned, error) {
	have, faults := catalogue.ParseOverlay(file, text)
	if len(faults) > 0 {
		return more, fmt.Errorf("%w; mend the file first, or name another with --to", faults[0])
	}
	if len(have.Boards) != 1 || len(have.Processors)+len(have.Chipsets) > 0 || !have.Boards[0].Learned() {
		return more, fmt.Errorf("%s holds other entries; name a file of its own with --to", file)
	}
	return have.Boards[0].Again(more), nil
}

// LearnedFile writes a learned entry as a file.
func LearnedFile(entry Learned) []byte { return Entries{Boards: []Learned{entry}}.Encode() }

// Experience says, a line each, what ran on a board.
func Experience(entry Learned) (lines []string) {
	for _, r := range entry.Ran {
		lines = append(lines, fmt.Sprintf("%s %s: %s in all, modules of %s, at %s, %d times", entry.Maker, entry.Names[0],
			orAsk(r.Total), orAsk(r.Each), orAsk(r.Rate), r.Times))
	}
	return lines
}

// orAsk writes a figure, or that it is not known.
func orAsk[T fmt.Stringer](v maybe.Value[T]) string {
	if x, ok := v.Get(); ok {
		return x.String()
	}
	return "?"
}

// Pack puts files of entries into one to hand to another workshop.
func Pack(files map[string][]byte, order []string, from string) (text []byte, entries int, faults []Fault) {
	return catalogue.Pack(files, order, from)
}

// A PartQuery is what is looked up in the catalogue, as typed.
type PartQuery struct {
	Names               []string // ids and names, as the list has them
	Brand, CPUID, Maker string
	PCI                 []string
	Board               string
}

// FindParts finds parts in the catalogue. The error is an InputError.
func FindParts(k Known, q PartQuery) (found Parts, err error) {
	if q.Brand == "" && len(q.PCI) == 0 && q.Board == "" && len(q.Names) == 0 {
		return found, input("nothing to look up; give an id or a name, --brand, --pci or --board")
	}
	p := catalogue.Processor{Maker: q.Maker, Brand: q.Brand}
	if err := readCPUID(q.CPUID, &p); err != nil {
		return found, err
	}
	if q.Maker != "" && !k.KnowsMaker(q.Maker) {
		return found, input("--maker %q: the catalogue has processors of intel, amd and via, and of your own entries' makers",
			q.Maker)
	}
	for _, name := range q.Names {
		one := k.Named(name)
		if one.Empty() {
			one = k.NamedProcessor(catalogue.Processor{Maker: q.Maker, Brand: name, Family: p.Family, Model: p.Model})
		}
		found = found.And(one)
	}
	if q.Brand != "" {
		found = found.And(k.NamedProcessor(p))
	}
	for _, id := range q.PCI {
		if !isPCIID(id) {
			return found, input("--pci %q is no id; write vendor:device, as 8086:a305", id)
		}
		found.Chipsets = append(found.Chipsets, k.Chipsets(id)...)
	}
	found.Boards = append(found.Boards, k.Boards(q.Board)...)
	return found, nil
}

// readCPUID reads FAMILY/MODEL/STEPPING; the stepping may be left out.
func readCPUID(text string, p *catalogue.Processor) error {
	if text == "" {
		return nil
	}
	parts := strings.Split(text, "/")
	if len(parts) < 2 || len(parts) > 3 {
		return input("--cpuid %q: write FAMILY/MODEL/STEPPING, as 6/142/9", text)
	}
	var numbers []int
	for _, part := range parts {
		n, err := strconv.ParseInt(strings.TrimSpace(part), 0, 32)
		if err != nil || n < 0 {
			return input("--cpuid %q: %q is no number; decimal or 0x, as 6/142/9", text, part)
		}
		numbers = append(numbers, int(n))
	}
	p.Family, p.Model = maybe.Just(numbers[0]), maybe.Just(numbers[1])
	return nil
}

func isPCIID(id string) bool {
	vendor, device, found := strings.Cut(id, ":")
	for _, part := range []string{vendor, device} {
		if _, err := strconv.ParseUint(part, 16, 16); err != nil || len(part) != 4 {
			return false
		}
	}
	return found
}
