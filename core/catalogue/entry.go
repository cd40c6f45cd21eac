package catalogue

import (
	"fmt"
	"strings"

	"go.yaml.in/yaml/v3"
)

// An OwnFile is an overlay file to be written. Figures are kept as they were
// given; ParseOverlay checks them.
type OwnFile struct {
	Version    int               `yaml:"epitome-catalogue"`
	Processors []ProcessorFigure `yaml:"processors,omitempty"`
	Boards     []BoardFigures    `yaml:"boards,omitempty"`
}

// A ProcessorFigure is a processor family as a data sheet gives it.
type ProcessorFigure struct {
	ID         string         `yaml:"id,omitempty"`
	Maker      string         `yaml:"maker,omitempty"`
	Family     string         `yaml:"family,omitempty"`
	Brand      string         `yaml:"brand"`
	CPUID      *CPUIDFigures  `yaml:"cpuid,omitempty"`
	Takes      []TakesFigures `yaml:"takes"`
	Basis      string         `yaml:"basis"`
	Confidence string         `yaml:"confidence,omitempty"`
}

// CPUIDFigures are family and models.
type CPUIDFigures struct {
	Family int   `yaml:"family"`
	Models []int `yaml:"models,flow"`
}

// TakesFigures are the limits for one generation.
type TakesFigures struct {
	Generation string   `yaml:"generation"`
	Channels   string   `yaml:"channels,omitempty"`
	Slots      string   `yaml:"slots_per_channel,omitempty"`
	Ranks      string   `yaml:"ranks_per_channel,omitempty"`
	Rate       string   `yaml:"rate,omitempty"`
	RateTwo    string   `yaml:"rate_two_modules,omitempty"`
	Maximum    string   `yaml:"maximum,omitempty"`
	Die        string   `yaml:"largest_die,omitempty"`
	X4         string   `yaml:"x4,omitempty"`
	X16        string   `yaml:"x16,omitempty"`
	ECC        []string `yaml:"ecc,omitempty,flow"`
	Volts      []string `yaml:"volts,omitempty,flow"`
}

// BoardFigures is a board as its manual gives it.
type BoardFigures struct {
	Maker       string        `yaml:"maker,omitempty"`
	Names       []string      `yaml:"names,flow"`
	Generations []string      `yaml:"generations,omitempty,flow"`
	Takes       string        `yaml:"takes,omitempty"`
	Maximum     string        `yaml:"maximum,omitempty"`
	PerSlot     string        `yaml:"per_slot,omitempty"`
	Slots       []SlotFigures `yaml:"slots,omitempty"`
	Soldered    []SlotFigures `yaml:"soldered,omitempty"`
	Rates       []RateFigures `yaml:"rates,omitempty"`
	Profiles    string        `yaml:"profiles,omitempty"`
	ECC         []string      `yaml:"ecc,omitempty,flow"`
	Ran         []RanFigures  `yaml:"ran,omitempty"`
	Basis       string        `yaml:"basis"`
	Confidence  string        `yaml:"confidence,omitempty"`
}

// SlotFigures is a slot or a soldered bank.
type SlotFigures struct {
	Name    string `yaml:"name"`
	Channel string `yaml:"channel,omitempty"`
	Order   string `yaml:"order,omitempty"`
	Maximum string `yaml:"maximum,omitempty"`
	Size    string `yaml:"size,omitempty"`
}

// RateFigures is a rate for one way of filling a channel.
type RateFigures struct {
	Modules string `yaml:"modules_per_channel"`
	Ranks   string `yaml:"ranks,omitempty"`
	Rate    string `yaml:"rate"`
}

// ParseSlot reads a slot as a flag gives it: "DIMM_A1,channel=A,order=1".
func ParseSlot(text string) (SlotFigures, error) {
	parts := strings.Split(text, ",")
	s := SlotFigures{Name: strings.TrimSpace(parts[0])}
	into := map[string]*string{"channel": &s.Channel, "order": &s.Order, "maximum": &s.Maximum, "size": &s.Size}
	for _, part := range parts[1:] {
		key, value, _ := strings.Cut(part, "=")
		field, ok := into[strings.TrimSpace(key)]
		if !ok || value == "" {
			return s, fmt.Errorf("%q: write NAME,channel=A,order=1; there are channel, order, maximum and size", text)
		}
		*field = strings.TrimSpace(value)
	}
	if s.Name == "" || strings.Contains(s.Name, "=") {
		return s, fmt.Errorf("%q: the slot's name comes first, as DIMM_A1,channel=A", text)
	}
	return s, nil
}

// ParseBoardRate reads a rate as a flag gives it: "1=3200", or "2x2=2666" for
// two modules of two ranks.
func ParseBoardRate(text string) (RateFigures, error) {
	fill, rate, found := strings.Cut(text, "=")
	if !found {
		return RateFigures{}, fmt.Errorf("%q: write MODULES=RATE or MODULESxRANKS=RATE, as 1=3200 or 2x2=2666", text)
	}
	modules, ranks, _ := strings.Cut(fill, "x")
	return RateFigures{Modules: modules, Ranks: ranks, Rate: rate}, nil
}

// Encode writes the file and checks it as ParseOverlay does.
func (f OwnFile) Encode() ([]byte, []Fault) {
	f.Version = OverlayVersion
	out, err := yaml.Marshal(f)
	if err != nil {
		return nil, []Fault{{"", 1, err.Error()}}
	}
	_, faults := ParseOverlay("entry", out)
	return out, faults
}

// OverlayTemplate is a blank to fill in with an editor.
const OverlayTemplate = `# A workshop's own catalogue entries. Fill in what a data sheet or manual says,
# leave out what it does not say: an absent figure is unknown. Put the file into
# a folder named catalogue beside your cards, and try it with: epitome catalogue check
epitome-catalogue: 1

boards:
  - maker:            # as firmware writes it
    names: []         # of the board, or of the machines it is in, as firmware writes them
    generations:      # DDR4
    takes:            # DIMM or SO-DIMM
    maximum:          # of the whole machine, soldered memory included: 32GB
    per_slot:         # largest module: 16GB
    slots: []
    #  - {name: DIMM_A1, channel: A, order: 2}     # order: in which slots are filled
    #  - {name: DIMM_A2, channel: A, order: 1, maximum: 8GB}
    soldered: []
    #  - {name: DIMM 0, channel: B, size: 4GB}
    rates: []         # MT/s, by how a channel is filled
    #  - {modules_per_channel: 1, rate: 3200}
    #  - {modules_per_channel: 2, ranks: 2, rate: 2666}
    profiles:         # yes or no: can overclocking profiles be selected
    clock_drivers:    # yes or no: modules with a clock driver (DDR5)
    ecc:              # none, udimm, so-dimm-ecc, rdimm, lrdimm
    volts:            # 1.2
    largest_die:      # 8Gbit
    ran: []           # what ran on it, though nobody states it
    #  - {total: 64GB, largest_module: 32GB, rate: 2666, times: 2, when: 2026-11-02, by: J.}
    basis: fill in    # which manual, which page
    confidence: high  # high, medium or low

processors: []
#  - id: my-family
#    maker:
#    family:
#    brand:           # an expression that its brand string matches
#    cpuid: {family: 6, models: [200]}
#    takes:
#      - generation: DDR4
#        channels: 2
#        slots_per_channel: 2
#        ranks_per_channel:   # that the controller selects on a channel, where it says
#        rate: 3200   # one module a channel, MT/s
#        rate_dual_rank:
#        rate_two_modules:
#        rate_two_dual_rank:
#        maximum: 128GB
#        largest_die: 16Gbit
#        x4: no
#        x16: yes
#        ecc: none
#        ecc_if:      # chipset, model, board: what else ECC depends on
#        volts: 1.2
#    basis: data sheet, table
#    confidence: high

chipsets: []
#  - maker:
#    name:
#    pci_ids: ["vend:devi"]
#    generations: [DDR4]
#    slots_per_channel:
#    rate_cap:
#    profiles:        # yes or no
#    ecc:
#    basis:
`
