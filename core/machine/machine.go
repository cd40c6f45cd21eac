package machine

import (
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/module"
	"slices"
	"strings"
	"time"
	"unicode"
)

// A Machine is all findings about one computer.
type Machine struct {
	Kind     fact.Fact[Kind]
	Maker    fact.Fact[string]
	Model    fact.Fact[string]
	Board    fact.Fact[string]
	Firmware fact.Fact[string]
	// Released is the day on which the firmware was, where it states one.
	Released  maybe.Value[time.Time]
	Processor fact.Fact[string]
	// Processors is how many there are: each has channels and a maximum of its own.
	Processors fact.Fact[int]
	CPUID      fact.Fact[CPUID]
	Chipset    fact.Fact[string]
	PCI        []string // ids of the functions on the card, "8086:a305"
	OS         fact.Fact[string]
	Stated     []Stated // limits that firmware or a technician states
	// Generation is that of the modules that its sockets take.
	Generation fact.Fact[jedec.Generation]
	Totals     Totals
	Places     []Place
	Conflicts  []Conflict
	Open       []Open
}

// A CPUID is the number by which a processor family tells itself apart, as
// display values.
type CPUID struct {
	Family, Model, Stepping int
}

// A Stated is one limit that somebody states of this machine.
type Stated struct {
	By       StatedBy
	Of       StatedOf
	Capacity jedec.Capacity // of Whole and EachSlot
	Rate     jedec.Rate     // of TopRate
	Supply   int            // of GivenSupply, mV
	Count    int            // of SlotsOfAChannel
	Standing fact.Standing  // Unknown where it is contradicted: then it limits nothing
	Source   string         // names the reading
	Says     string         // what it says, and how it is read
}

// StatedBy is who states a limit.
type StatedBy uint8

// Who states limits.
const (
	ByFirmware StatedBy = iota
	ByTechnician
)

// StatedOf is what a stated limit is about.
type StatedOf uint8

// What is limited.
const (
	Whole           StatedOf = iota // the machine's capacity
	EachSlot                        // the largest module of one slot
	TopRate                         // the data rate
	GivenSupply                     // what the board gives its modules
	SlotsOfAChannel                 // how many sockets a channel has
)

// A Kind is what a machine is to the person who opens it.
type Kind string

// The kinds.
const (
	Laptop   Kind = "laptop"
	Desktop  Kind = "desktop"
	AllInOne Kind = "all-in-one"
	Mini     Kind = "mini"
	Server   Kind = "server"
	Other    Kind = "other"
)

// Totals are the sums over a machine's places and what limits them.
type Totals struct {
	Installed   fact.Fact[jedec.Capacity] // in all places
	Visible     fact.Fact[jedec.Capacity] // to the operating system
	Sockets     fact.Fact[int]
	SocketsFree fact.Fact[int]
	Announced   int // places that firmware announces, where that is more than it lists and nobody counted; else 0
	Soldered    fact.Fact[jedec.Capacity]
	// what firmware or a manual says may be fitted, in the reading that agrees with the rest
	StatedMaximum fact.Fact[jedec.Capacity]
}

// A Place is anywhere memory sits: a socket, or a bank of chips on the board.
// Only sockets are slots.
type Place struct {
	Name           string   // the maker's name for it, made unique within the machine
	Names          []string // all that it goes by beside: other sources' names, the address of its EEPROM
	Announced      bool     // it was counted, and nobody lists it
	FirmwareHandle string   // "0x000B", empty where no firmware table names the place
	EEPROMAddress  string   // "0x51", empty where none is known
	Channel        fact.Fact[string]
	Processor      maybe.Value[int] // whose place it is, as the maker counts, where its names tell
	Attach         fact.Fact[Attach]
	Filled         fact.Fact[bool]
	Form           fact.Fact[jedec.Form] // what fits the place, known for empty ones too
	Module         *module.Module        // nil where the place is empty or that is not known
	State          State                 // what a source says of what sits there; empty where none says anything
	StateSays      string                // in its words
	Running        fact.Fact[jedec.Rate] // the rate at which the module runs now
	Supplied       fact.Fact[int]        // what the board gives it now, mV
}

// A State is what becomes of what sits in a place.
type State string

// The states.
const (
	InUse     State = "in use"
	Disabled  State = "disabled"   // it is there, and firmware does not use it
	NotMemory State = "not memory" // flash or persistent memory: never counted
)

// Attach is how memory is joined to the board at a place.
type Attach string

// The two ways.
const (
	Socket   Attach = "socket"
	Soldered Attach = "soldered"
)

// A Topic is what a contradiction or an open fact is about. Its words are those of
// the JSON.
type Topic string

// The topics. Those with "of" behind speak of one place.
const (
	AboutModel      Topic = "model"
	AboutBoard      Topic = "board"
	AboutProcessor  Topic = "processor"
	AboutChipset    Topic = "chipset"
	AboutReading    Topic = "reading"
	AboutPlaces     Topic = "places"
	AboutSockets    Topic = "number of sockets"
	AboutMaximum    Topic = "maximum"
	AboutCapacity   Topic = "capacity"
	AboutErrors     Topic = "errors"
	AboutEEPROM     Topic = "EEPROM"
	AboutAttach     Topic = "attach"
	AboutGeneration Topic = "generation"
)

// A Subject is a topic and, where it is about one place, that place.
type Subject struct {
	Topic Topic
	Place string
}

// String writes the subject, "attach of DIMM 0".
func (s Subject) String() string {
	if s.Place == "" {
		return string(s.Topic)
	}
	return string(s.Topic) + " of " + s.Place
}

// MarshalText returns the same words.
func (s Subject) MarshalText() ([]byte, error) { return []byte(s.String()), nil }

// A Conflict is a contradiction that the technician ought to see.
type Conflict struct {
	About   Subject
	Says    string
	Sources []string
}

// An Open is a fact that is not settled, and the one look that would settle it.
type Open struct {
	About   Subject
	Settles string
}

// A Population is how many of one processor's sockets are filled.
type Population struct {
	Processor       int // as the maker counts
	Filled, Sockets int
}

// Populations are the sockets by processor, in order; none where any place's name does not
// tell whose it is, or whether it is filled is not known.
func (m Machine) Populations() (list []Population) {
	at := make(map[int]int)
	for _, p := range m.Places {
		cpu, ok := p.Processor.Get()
		full, known := p.Filled.Get()
		if !ok || !known {
			return nil
		}
		i, seen := at[cpu]
		if !seen {
			i = len(list)
			at[cpu] = i
			list = append(list, Population{Processor: cpu})
		}
		if list[i].Sockets++; full {
			list[i].Filled++
		}
	}
	slices.SortFunc(list, func(a, b Population) int { return a.Processor - b.Processor })
	return list
}

// Takes is the form and the generation of the modules that the sockets take; each unknown where
// nothing tells it.
func (m Machine) Takes() (form jedec.Form, generation jedec.Generation) {
	for _, p := range m.Places {
		if f, ok := p.Form.Get(); ok && p.Attach.Or("") == Socket {
			form = f
		}
	}
	return form, m.Generation.Or(jedec.GenerationUnknown)
}

// Have returns what is installed; where the sum is open, what those modules come to whose size is known.
func (m Machine) Have() jedec.Capacity {
	if size, ok := m.Totals.Installed.Get(); ok {
		return size
	}
	var sum jedec.Capacity
	for _, p := range m.Places {
		if p.Module != nil && p.State != NotMemory {
			sum += p.Module.Capacity.Or(0)
		}
	}
	return sum
}

// SameName reports whether two names of a place are the same in whatever letters, blanks and signs: "DIMM_A1" and
// "dimm a1".
func SameName(a, b string) bool {
	return strings.EqualFold(a, b) || foldedName(a) != "" && foldedName(a) == foldedName(b)
}

func foldedName(name string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToLower(r)
		}
		return -1
	}, name)
}

// Called reports whether the place goes by a name.
func (p *Place) Called(name string) bool {
	return SameName(p.Name, name) || slices.ContainsFunc(p.Names, func(n string) bool { return SameName(n, name) })
}

// PlaceCalled returns the place that goes by a name, nil where there is none: by its own name first, as another's
// further name may be the same.
func (m *Machine) PlaceCalled(name string) *Place {
	for i := range m.Places {
		if strings.EqualFold(m.Places[i].Name, name) {
			return &m.Places[i]
		}
	}
	for i := range m.Places {
		if m.Places[i].Called(name) {
			return &m.Places[i]
		}
	}
	return nil
}

// Shared reports whether the system sees all that is installed but the usual share of graphics and firmware; it does
// where nobody says what it sees.
func (t Totals) Shared() bool {
	installed, ok1 := t.Installed.Get()
	visible, ok2 := t.Visible.Get()
	return !ok1 || !ok2 || visible >= installed || installed-visible < max(512*jedec.MiB, installed/8)
}

// EndsBelow4GB reports whether the system sees of 4 GB and more what a 32-bit system sees, or one on firmware that does
// not move memory from below 4 GB.
func (t Totals) EndsBelow4GB() bool {
	visible := t.Visible.Or(0)
	return !t.Shared() && t.Installed.Or(0) >= 4*jedec.GiB && visible >= 2560*jedec.MiB && visible <= 3584*jedec.MiB
}
