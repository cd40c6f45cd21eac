package catalogue

import (
	"maps"
	"slices"
	"strings"

	"go.yaml.in/yaml/v3"

	"epitome/core/jedec"
	"epitome/core/maybe"
)

// A Field is one thing that an entry of the catalogue says. Its name, kind, unit and meaning
// stand here and nowhere else: the readers of the embedded tables and of entry files, the
// writer, the template, the flags of catalogue add, the pages and JSON all go by it.
type Field[E any] struct {
	Key     string  // in entry files; empty where only the embedded tables have it
	Column  string  // in the embedded tables; empty where only entry files have it
	Tiers   string  // the column of the embedded tables that gives it by brand
	JSON    string  // in JSON; empty for the key, "-" for none
	Flag    string  // of catalogue add; empty for the key with dashes, "-" for none
	Title   string  // on pages; empty where it is not shown in a line of its own
	Doc     string  // what it is, with its unit, in a few words
	Sample  string  // a value as one would write it; what the template shows
	Blank   string  // what a blank entry of the template begins with
	Wanted  bool    // an entry without it is of no use
	Seldom  bool    // left out of pages where it is not known
	Prose   bool    // sentences: shown below the figures
	Meeting Meeting // what is kept of two rows that one name may stand for
	at      func(*E) cell
}

// A Meeting says what is known where two rows may hold and one can't be told from the other.
type Meeting int

// The ways of meeting.
const (
	Alike  Meeting = iota // the figure where both say the same, else nothing
	Least                 // the same, but the smaller figure stays as common ground
	Both                  // of lists, what both have
	Either                // of conditions, those of either
)

// A cell is where a figure of an entry stands, with its kind.
type cell interface {
	read(r *overlayReader, n *yaml.Node) // takes what an entry file has
	column(text string)                  // takes what an embedded table has; "" is not known
	write() *yaml.Node                   // as an entry file has it; nil where it is not known
	shown() string                       // for pages; "" where it is not known
	json() any                           // nil where it is not known
	schema() any                         // of json
	number() maybe.Value[int]            // in the unit of the embedded tables
	meet(other cell, how Meeting)
	node(texts []string) (*yaml.Node, error) // what flags give, as an entry file has it
	many() bool                              // flags may give several
}

// A form is an entry as files have it: what it is called, its fields, how it begins and
// what is looked at when it has been read.
type form[E any] struct {
	what   string
	fields []Field[E]
	begin  func(where string) E
	check  func(r *overlayReader, n *yaml.Node, e *E)
	typed  func(text string) (map[string]string, error) // of one flag; nil for FIRST,key=value
	shown  func(e E) string                             // for pages, of an entry within another
	own    bool                                         // it has a generation of its own
}

func (f Field[E]) jsonKey() string {
	if f.JSON != "" {
		return f.JSON
	}
	return f.Key
}

func (f Field[E]) flag() string {
	if f.Flag != "" {
		return f.Flag
	}
	return strings.ReplaceAll(f.Key, "_", "-")
}

// read reads one entry of a file.
func (f form[E]) read(r *overlayReader, n *yaml.Node) (e E, sound bool) {
	faults := len(r.faults)
	if f.begin != nil {
		e = f.begin(r.at(n))
	}
	if f.own {
		outer := r.generation
		r.generation = jedec.GenerationUnknown
		defer func() { r.generation = outer }()
	}
	known, wrong := make(map[string]func(*yaml.Node), len(f.fields)), make(map[string]bool)
	for _, x := range f.fields {
		if x.Key != "" {
			known[x.Key] = func(n *yaml.Node) {
				before := len(r.faults)
				x.at(&e).read(r, n)
				wrong[x.Key] = len(r.faults) > before
			}
		}
	}
	if r.mapping(n, f.what, known) {
		for _, key := range slices.Sorted(maps.Keys(f.missing(&e))) {
			if !wrong[key] {
				r.fault(n, "%s wants %s", f.what, key)
			}
		}
		if f.check != nil {
			f.check(r, n, &e)
		}
	}
	return e, len(r.faults) == faults
}

// missing are the keys without which the entry is of no use.
func (f form[E]) missing(e *E) map[string]bool {
	keys := make(map[string]bool)
	for _, x := range f.fields {
		if x.Wanted && x.at(e).write() == nil {
			keys[x.Key] = true
		}
	}
	return keys
}

// write writes an entry as a file has it.
func (f form[E]) write(e *E) *yaml.Node {
	n := &yaml.Node{Kind: yaml.MappingNode}
	for _, x := range f.fields {
		if x.Key == "" {
			continue
		}
		if v := x.at(e).write(); v != nil {
			n.Content = append(n.Content, scalarNode(x.Key), v)
		}
	}
	return n
}

// json is the entry as JSON has it, each of its fields with a value or null.
func (f form[E]) json(e *E) map[string]any {
	out := make(map[string]any)
	for _, x := range f.fields {
		if key := x.jsonKey(); key != "" && key != "-" {
			out[key] = x.at(e).json()
		}
	}
	return out
}

// schema is the JSON schema of what json returns.
func (f form[E]) schema() map[string]any {
	var none E
	properties := make(map[string]any)
	for _, x := range f.fields {
		if key := x.jsonKey(); key != "" && key != "-" {
			properties[key] = x.at(&none).schema()
		}
	}
	return map[string]any{"type": "object", "properties": properties}
}

// fill reads a row of an embedded table, as it holds for a brand. Columns that the table
// lacks stay unknown; so does a figure that goes by brand where no brand matches.
func (f form[E]) fill(e *E, r row, brand string) {
	for _, x := range f.fields {
		if x.Column == "" || !slices.Contains(r.columns, x.Column) {
			continue
		}
		text := r.text(x.Column)
		if x.Tiers != "" && slices.Contains(r.columns, x.Tiers) {
			if value, matched, has := r.byBrand(x.Tiers, brand); has {
				text = map[bool]string{true: value}[matched]
			}
		}
		x.at(e).column(text)
	}
}

// A Said is one field of an entry as a page shows it.
type Said struct {
	Title string
	Text  string // empty where it is not known
	Soft  bool   // one compilation only, or doubted by one hand
	Prose bool   // sentences, not a figure
	Doc   string
}

// says lists what an entry says, in the order of its fields.
func (f form[E]) says(e *E, soft []string) (list []Said) {
	for _, x := range f.fields {
		if x.Title == "" {
			continue
		}
		text := x.at(e).shown()
		if text == "" && x.Seldom {
			continue
		}
		one := slices.Contains(soft, x.Column) && text != ""
		list = append(list, Said{Title: x.Title, Text: text, Soft: one, Prose: x.Prose, Doc: x.Doc})
	}
	return list
}

// A Flag is a field as the command line gives it.
type Flag struct {
	Name, Doc string
	Many      bool // it may be given more than once
}

func (f form[E]) flags() (list []Flag) {
	var none E
	for _, x := range f.fields {
		if x.Key != "" && x.flag() != "-" {
			list = append(list, Flag{x.flag(), x.Doc, x.at(&none).many()})
		}
	}
	return list
}

// given makes an entry as a file has it of what flags give.
func (f form[E]) given(texts map[string][]string) (*yaml.Node, error) {
	var none E
	n := &yaml.Node{Kind: yaml.MappingNode}
	for _, x := range f.fields {
		values := texts[x.flag()]
		if x.Key == "" || len(values) == 0 {
			continue
		}
		v, err := x.at(&none).node(values)
		if err != nil {
			return nil, err
		}
		n.Content = append(n.Content, scalarNode(x.Key), v)
	}
	return n, nil
}

// expressionColumns hold regular expressions, which are nobody's to read: what they pick is shown by its figures.
var expressionColumns = []string{"brand_regex", "only", "except", "tiers", "max_gb_tiers", "ecc_tiers",
	"channels_tiers"}

// rowCells are all cells of an embedded row that hold something, as the table has them, but for expressions.
func (r row) rowCells() (list []Said) {
	for i, column := range r.columns {
		if r.cells[i] != "" && !slices.Contains(expressionColumns, column) {
			list = append(list, Said{Title: column, Text: r.cells[i]})
		}
	}
	return list
}
