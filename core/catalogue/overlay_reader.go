package catalogue

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"go.yaml.in/yaml/v3"

	"epitome/core/jedec"
	"epitome/core/pattern"
	"epitome/core/plain"
)

// An overlayReader reads the nodes of one file and collects what is wrong
// with them.
type overlayReader struct {
	file       string
	faults     []Fault
	generation jedec.Generation // of the entry that is read, where it has one
}

func (r *overlayReader) fault(n *yaml.Node, format string, args ...any) {
	r.faults = append(r.faults, Fault{r.file, max(n.Line, 1), plain.Line(fmt.Sprintf(format, args...))})
}

func (r *overlayReader) at(n *yaml.Node) string { return fmt.Sprintf("%s:%d", r.file, n.Line) }

// mapping reads a mapping by what reads each key's value, and reports whether it is one.
// Unknown and repeated keys are faults.
func (r *overlayReader) mapping(n *yaml.Node, what string, known map[string]func(*yaml.Node)) bool {
	if n.Kind != yaml.MappingNode {
		r.fault(n, "%s is a list of keys with values, such as %s: …", what, slices.Sorted(maps.Keys(known))[0])
		return false
	}
	seen := make(map[string]bool)
	for _, pair := range generationFirst(n.Content) {
		key, value := pair[0], pair[1]
		read, ok := known[key.Value]
		switch {
		case !ok:
			r.fault(key, "unknown key %q of %s; there are %s", key.Value, what,
				strings.Join(slices.Sorted(maps.Keys(known)), ", "))
		case seen[key.Value]:
			r.fault(key, "%q stands twice", key.Value)
		case value.Kind == yaml.AliasNode:
			r.fault(value, "%s refers to another entry; write it out", key.Value)
		case value.Tag == "!!null":
			// Left empty: not known.
		default:
			read(value)
		}
		seen[key.Value] = true
	}
	return true
}

// generationFirst pairs keys with values, the generation before the figures
// that are checked against it.
func generationFirst(content []*yaml.Node) (pairs [][2]*yaml.Node) {
	for kv := range slices.Chunk(content, 2) {
		pair := [2]*yaml.Node(kv)
		if strings.HasPrefix(pair[0].Value, "generation") {
			pairs = slices.Insert(pairs, 0, pair)
		} else {
			pairs = append(pairs, pair)
		}
	}
	return pairs
}

// each reads the entries of a list.
func (r *overlayReader) each(n *yaml.Node, read func(*yaml.Node)) {
	if n.Kind != yaml.SequenceNode {
		r.fault(n, "a list is wanted here, each entry on a line that begins with a dash")
		return
	}
	for _, entry := range n.Content {
		read(entry)
	}
}

func (r *overlayReader) scalar(n *yaml.Node) (string, bool) {
	if n.Kind != yaml.ScalarNode {
		r.fault(n, "one value is wanted here")
		return "", false
	}
	return plain.Line(n.Value), true
}

// list reads one value or a list of them.
func (r *overlayReader) list(n *yaml.Node, read func(*yaml.Node)) {
	if n.Kind == yaml.ScalarNode {
		read(n)
		return
	}
	r.each(n, read)
}

var yamlLine = pattern.Of(`^yaml: line ([0-9]+): (.*)$`)

// yamlError splits the reader's own error into line and words.
func yamlError(err error) (int, string) {
	if m := yamlLine().FindStringSubmatch(err.Error()); m != nil {
		line, _ := strconv.Atoi(m[1])
		return line, m[2]
	}
	return 1, strings.TrimPrefix(err.Error(), "yaml: ")
}
