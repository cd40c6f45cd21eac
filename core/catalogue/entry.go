package catalogue

import (
	"fmt"
	"strings"

	"go.yaml.in/yaml/v3"
)

// BoardFlags are the fields of a board as catalogue add board takes them.
func BoardFlags() []Flag { return boardForm().flags() }

// ProcessorFlags are the fields of a processor family, and of what it takes, as catalogue
// add processor takes them.
func ProcessorFlags() []Flag { return append(processorForm().flags(), controllerForm().flags()...) }

// NewBoard makes a file of one board of what flags give, by their names. An error is a
// flag that can't be read; faults are what is wrong with the entry.
func NewBoard(flags map[string][]string) (text []byte, faults []Fault, err error) {
	entry, err := boardForm().given(flags)
	if err != nil {
		return nil, nil, err
	}
	return fileOf("boards", entry)
}

// NewProcessor makes a file of one processor family that takes one generation.
func NewProcessor(id string, flags map[string][]string) (text []byte, faults []Fault, err error) {
	entry, err := processorForm().given(flags)
	if err != nil {
		return nil, nil, err
	}
	takes, err := controllerForm().given(flags)
	if err != nil {
		return nil, nil, err
	}
	list := &yaml.Node{Kind: yaml.SequenceNode, Content: []*yaml.Node{takes}}
	entry.Content = append(entry.Content, scalarNode("id"), scalarNode(id), scalarNode("takes"), list)
	return fileOf("processors", entry)
}

// fileOf writes an entry as a file in the order of its fields, if it is sound.
func fileOf(key string, entry *yaml.Node) ([]byte, []Fault, error) {
	list := &yaml.Node{Kind: yaml.SequenceNode, Content: []*yaml.Node{entry}}
	o, faults := ParseOverlay("entry", written(map[string]*yaml.Node{key: list}))
	if len(faults) > 0 {
		return nil, faults, nil
	}
	return o.Encode(), nil, nil
}

// Encode writes the overlay as a file that ParseOverlay reads back.
func (o Overlay) Encode() []byte {
	o.Version = OverlayVersion
	text, err := yaml.Marshal(fileForm().write(&o))
	if err != nil {
		return nil
	}
	return text
}

// templateHead stands above the blank entries.
const templateHead = `# A workshop's own catalogue entries. Fill in what a data sheet or manual says,
# leave out what it does not say: an absent figure is unknown. Put the file into
# a folder named catalogue beside your cards, and try it with: epitome catalogue check
epitome-catalogue: 1
`

// Template is a file to fill in with an editor: a blank board, and a processor and a
// chipset to uncomment, each of their fields with what it is.
func Template() string {
	var b strings.Builder
	b.WriteString(templateHead + "\nboards:\n")
	blank(&b, boardForm().fields, "  - ", "    ", "", nil)
	b.WriteString("\nprocessors: []\n")
	takes := func() { blank(&b, controllerForm().fields, "#      - ", "#        ", "sample", nil) }
	blank(&b, processorForm().fields, "#  - ", "#    ", "sample", map[string]func(){"takes": takes})
	b.WriteString("\nchipsets: []\n")
	blank(&b, chipsetForm().fields, "#  - ", "#    ", "sample", map[string]func(){"takes": func() {}})
	return b.String()
}

// blank writes the fields of an entry, each with what it is behind it.
func blank[E any](b *strings.Builder, fields []Field[E], first, others, with string, below map[string]func()) {
	lead := first
	for _, f := range fields {
		if f.Key == "" || f.Doc == "" {
			continue
		}
		value := f.Blank
		if with == "sample" {
			value = f.Sample
		}
		line := strings.TrimRight(lead+f.Key+": "+value, " ")
		fmt.Fprintf(b, "%-30s # %s\n", line, f.Doc)
		if with != "sample" && f.Sample != "" {
			fmt.Fprintf(b, "    #  - %s\n", f.Sample)
		}
		if more := below[f.Key]; more != nil {
			more()
		}
		lead = others
	}
}
