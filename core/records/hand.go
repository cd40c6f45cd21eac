package records

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"maps"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"go.yaml.in/yaml/v3"

	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/plain"
)

// A Hand is what a technician read off stickers, boards and manuals of a
// machine that will not start, or that tells too little. Every field may be
// empty.
type Hand struct {
	Version int         `yaml:"epitome-hand"`
	By      string      `yaml:"by"`
	Source  string      `yaml:"source,omitempty"` // "sight", "manual", "label", "maker", "measured"; sight where empty
	Machine HandMachine `yaml:"machine,omitempty"`
	Places  []HandPlace `yaml:"places"`
	Maximum HandLimit   `yaml:"maximum"`
	// PerSlot is the largest module that a slot takes.
	PerSlot HandLimit `yaml:"per_slot,omitempty"`
	// Rate is the highest data rate in MT/s that a manual gives; 0 where none.
	Rate int `yaml:"rate,omitempty"`
	// Takes is the form of all sockets, where it was seen of no single one.
	Takes string `yaml:"takes,omitempty"`
	// Supply is what the board gives its modules, "1.35 V".
	Supply string `yaml:"supply,omitempty"`
	// SlotsAChannel is how many sockets a channel has; 0 where nobody says.
	SlotsAChannel int `yaml:"slots_per_channel,omitempty"`
	// Sockets is how many sockets were counted, soldered banks not included; 0
	// where nobody counted.
	Sockets int `yaml:"sockets,omitempty"`
	// Distrust names readings that are not to be used, by their source or kind.
	Distrust []string `yaml:"distrust,omitempty"`
	Remarks  string   `yaml:"remarks"`
}

// A HandMachine is the machine's names, by the words of the table of its facts.
type HandMachine map[string]string

// check leaves out what is blank, and says what is wrong with the rest.
func (m HandMachine) check() error {
	for _, word := range slices.Sorted(maps.Keys(m)) {
		value := m[word]
		if strings.TrimSpace(value) == "" {
			delete(m, word)
			continue
		}
		r, ok := machine.RowOf(machine.Topic(word), false)
		if !ok || !r.Observe.Name {
			return fmt.Errorf("%w: machine: there is no key %q", ErrHand, plain.Line(word))
		}
		if r.Observe.Accept != nil && r.Observe.Accept(value) != nil {
			return fmt.Errorf("%w: %s: %q; it is %s", ErrHand, word, value, r.Observe.Wants)
		}
	}
	return nil
}

// A HandPlace is one place where memory sits.
type HandPlace struct {
	Name    string `yaml:"name"`
	Attach  string `yaml:"attach"` // "socket", "soldered" or empty
	Takes   string `yaml:"takes"`  // the form that fits, "SO-DIMM"
	Channel string `yaml:"channel,omitempty"`
	Holds   string `yaml:"holds"` // sticker text, "free", or empty
}

// Free is what HandPlace.Holds says of an empty socket.
const Free = "free"

// freeWords are the ways in which people write that nothing is there.
var freeWords = []string{Free, "empty", "none", "nothing", "no module", "vacant", "unused", "-", "0", "leer", "frei",
	"vide", "libre", "vacío", "vuoto", "vazio", "leeg", "tom", "pusty"}

// IsFree reports whether a text says that nothing is there.
func IsFree(text string) bool {
	text = strings.ToLower(strings.TrimSpace(text))
	return slices.Contains(freeWords, text)
}

// A HandLimit is a size and where it was read.
type HandLimit struct {
	Size string `yaml:"size"`
	From string `yaml:"from"`
}

// Capacity returns the limit's size.
func (l HandLimit) Capacity() maybe.Value[jedec.Capacity] {
	c, err := jedec.ParseCapacity(l.Size)
	return maybe.If(c, err == nil && c > 0)
}

// Named returns where the limit was read, in words.
func (l HandLimit) Named() string {
	if from := plain.Line(l.From); from != "" {
		return from
	}
	return "source not named"
}

// HandTemplate is a blank to fill in with an editor.
func HandTemplate() string {
	var names strings.Builder
	for _, r := range machine.Rows() {
		if !r.Observe.Name {
			continue
		}
		line := fmt.Sprintf("  %s: \"\"", r.Topic)
		if r.Observe.Hint != "" {
			line = fmt.Sprintf("%-18s# %s", line, r.Observe.Hint)
		}
		names.WriteString(line + "\n")
	}
	return handHead + names.String() + handPlaces
}

const handHead = `# What was read off a machine by hand. Fill in what you know and leave the rest
# empty; a half-empty card is a normal card. Then: epitome intake --hand THISFILE -o CARD
epitome-hand: 1

by: ""            # who looked

machine:
`

const handPlaces = `
# One entry for each place where memory sits, soldered ones too. Names are those
# printed on the board beside it.
places:
  - name: ""      # DIMM A, ChannelB-DIMM0, J8H1 …
    attach: ""    # socket, or soldered
    takes: ""     # DIMM, SO-DIMM …
    holds: ""     # the sticker, as 8GB 1Rx8 PC4-2400T-SA1-11; free for an empty socket
  - name: ""
    attach: ""
    takes: ""
    holds: ""

sockets: 0        # how many there are, if you counted; soldered banks are none

maximum:
  size: ""        # most memory the machine takes, as 32GB
  from: ""        # where that was read: manual page, maker's page

remarks: ""
`

// Bounds of a hand entry: nobody writes more about one machine.
const (
	maxHand       = 128 << 10 // bytes
	maxHandPlaces = 256
	maxPlaceName  = 80 // characters
)

// ErrHand is what every error of ParseHand wraps.
var ErrHand = errors.New("hand entry can't be used")

// HandSources are the kinds of source that an entry can name.
var HandSources = []string{"sight", "manual", "label", "maker", "measured"}

// ParseHand reads a filled-in template. Entries of places without any text are
// dropped. Errors wrap ErrHand and name line or entry.
func ParseHand(text []byte) (Hand, error) {
	var h Hand
	if len(text) > maxHand {
		return h, fmt.Errorf("%w: %d KiB; up to %d are read", ErrHand, len(text)>>10, maxHand>>10)
	}
	d := yaml.NewDecoder(bytes.NewReader(text))
	d.KnownFields(true)
	if err := d.Decode(&h); err != nil {
		if errors.Is(err, io.EOF) {
			err = errors.New("the file is empty; intake --blank writes one to fill in")
		}
		return h, fmt.Errorf("%w: %s", ErrHand, plain.Decoding(err))
	}
	if h.Version != 1 {
		return h, fmt.Errorf("%w: epitome-hand: %d; this program reads 1", ErrHand, h.Version)
	}
	if h.Source != "" && !slices.Contains(HandSources, h.Source) {
		return h, fmt.Errorf("%w: source: %q; it is one of %s", ErrHand, h.Source, strings.Join(HandSources, ", "))
	}
	if h.Sockets < 0 || h.Sockets > 64 {
		return h, fmt.Errorf("%w: sockets: %d; count them, 1 to 64", ErrHand, h.Sockets)
	}
	if err := h.Machine.check(); err != nil {
		return h, err
	}
	if len(h.Machine) == 0 {
		h.Machine = nil
	}
	if h.Maximum.Size != "" && !h.Maximum.Capacity().Known() {
		return h, fmt.Errorf("%w: maximum: size: %q; write a number with MB or GB, as 32GB", ErrHand, h.Maximum.Size)
	}
	if h.PerSlot.Size != "" && !jedec.PlausibleModule(h.PerSlot.Capacity().Or(0)) {
		return h, fmt.Errorf("%w: per_slot: size: %q; write the size of a module that is made, as 16GB", ErrHand,
			h.PerSlot.Size)
	}
	if h.Rate != 0 && !realRate(h.Rate) {
		return h, fmt.Errorf("%w: rate: %d; write a data rate in MT/s, as 3200; a clock in MHz is half of it", ErrHand,
			h.Rate)
	}
	if _, ok := jedec.ParseForm(h.Takes); h.Takes != "" && !ok {
		return h, fmt.Errorf("%w: takes: %q; it is DIMM, SO-DIMM, Micro-DIMM, Mini-DIMM or CAMM2", ErrHand, h.Takes)
	}
	if h.Supply != "" && !h.MilliVolts().Known() {
		return h, fmt.Errorf("%w: supply: %q; write volts, as 1.35 V", ErrHand, h.Supply)
	}
	if h.SlotsAChannel < 0 || h.SlotsAChannel > 4 {
		return h, fmt.Errorf("%w: slots_per_channel: %d; a channel has 1 to 4", ErrHand, h.SlotsAChannel)
	}
	return h, h.checkPlaces()
}

// MilliVolts is the supply that the board gives.
func (h Hand) MilliVolts() maybe.Value[int] {
	text := strings.TrimSpace(strings.TrimRight(strings.ReplaceAll(strings.TrimSpace(h.Supply), ",", "."), "vV"))
	v, err := strconv.ParseFloat(text, 64)
	mv := int(v*1000 + 0.5)
	return maybe.If(mv, err == nil && mv >= 900 && mv <= 3600)
}

// checkPlaces drops blank places and checks the others.
func (h *Hand) checkPlaces() error {
	var places []HandPlace
	names := make(map[string]bool)
	for i, p := range h.Places {
		if p == (HandPlace{}) {
			continue
		}
		name := strings.ToLower(strings.TrimSpace(p.Name))
		if IsFree(p.Holds) {
			p.Holds = Free
		}
		switch {
		case len(places) == maxHandPlaces:
			return fmt.Errorf("%w: places: more than %d", ErrHand, maxHandPlaces)
		case utf8.RuneCountInString(name) > maxPlaceName:
			return fmt.Errorf("%w: places: the name of entry %d is longer than %d characters", ErrHand, i+1, maxPlaceName)
		case name == "":
			return fmt.Errorf("%w: places: entry %d has no name; number it if none is printed", ErrHand, i+1)
		case names[name]:
			return fmt.Errorf("%w: places: %q stands twice", ErrHand, p.Name)
		case p.Attach != "" && p.Attach != "socket" && p.Attach != "soldered":
			return fmt.Errorf("%w: places: %q: attach: %q; it is socket or soldered", ErrHand, p.Name, p.Attach)
		case p.Attach == "soldered" && strings.EqualFold(p.Holds, Free):
			return fmt.Errorf("%w: places: %q is soldered and free; soldered chips can't be missing", ErrHand, p.Name)
		}
		if _, ok := jedec.ParseForm(p.Takes); p.Takes != "" && !ok {
			return fmt.Errorf("%w: places: %q: takes: %q; it is DIMM, SO-DIMM, Micro-DIMM, Mini-DIMM or CAMM2", ErrHand,
				p.Name, p.Takes)
		}
		names[name] = true
		places = append(places, p)
	}
	h.Places = places
	return nil
}

func realRate(rate int) bool {
	for _, g := range jedec.Generations() {
		if _, ok := jedec.GradeAt(g, jedec.Rate(rate)); ok {
			return true
		}
	}
	return false
}

// Encode writes the entry as a file that ParseHand reads back.
func (h Hand) Encode() ([]byte, error) {
	h.Version = 1
	out, err := yaml.Marshal(h)
	if err != nil {
		return nil, fmt.Errorf("hand entry: %w", err)
	}
	return out, nil
}
