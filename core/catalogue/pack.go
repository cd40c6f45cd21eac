package catalogue

import (
	"fmt"
	"slices"

	"go.yaml.in/yaml/v3"
)

// A pack is the workshop's own entries as one file to hand to another workshop: each entry
// as it stands, with where it came from, and nothing personal: no comments, no names of
// persons, no paths.

// packed are the lists of an entry file, in their order.
var packed = []string{"processors", "chipsets", "boards"}

// Pack puts files of entries into one. from names the workshop and is kept with each
// entry; it may be empty. Files with faults are left out and returned as such.
func Pack(files map[string][]byte, order []string, from string) (text []byte, entries int, faults []Fault) {
	lists := make(map[string]*yaml.Node)
	for _, file := range order {
		if _, wrong := ParseOverlay(file, files[file]); len(wrong) > 0 {
			faults = append(faults, wrong...)
			continue
		}
		for key, entry := range entriesOf(files[file]) {
			anonymous(entry)
			if from != "" && value(entry, "from") == nil {
				entry.Content = append(entry.Content, scalarNode("from"), scalarNode(from))
			}
			if lists[key] == nil {
				lists[key] = &yaml.Node{Kind: yaml.SequenceNode}
			}
			lists[key].Content = append(lists[key].Content, entry)
			entries++
		}
	}
	return written(lists), entries, faults
}

// A Taken is what came of taking a pack in.
type Taken struct {
	Text  []byte // the entries to keep, as a file of their own; empty where none is new
	New   []string
	Same  []string // that stand here already, alike
	Clash []string // that stand here with other figures: the workshop's own stay
}

// Unpack holds a pack against what the workshop has. An entry of a name that it has is
// never taken over its own.
func (k Catalogue) Unpack(file string, text []byte) (t Taken, faults []Fault) {
	if _, faults = ParseOverlay(file, text); len(faults) > 0 {
		return t, faults
	}
	lists := make(map[string]*yaml.Node)
	for key, entry := range entriesOf(text) {
		anonymous(entry)
		name := nameOf(entry)
		where, have := k.entryNamed(key, entry)
		switch {
		case have == "":
			t.New = append(t.New, name)
			if lists[key] == nil {
				lists[key] = &yaml.Node{Kind: yaml.SequenceNode}
			}
			lists[key].Content = append(lists[key].Content, entry)
		case have == sameSaying:
			t.Same = append(t.Same, name)
		default:
			t.Clash = append(t.Clash, fmt.Sprintf("%s stands in %s", name, where))
		}
	}
	if len(lists) > 0 {
		t.Text = written(lists)
	}
	return t, nil
}

const sameSaying = "same"

// entryNamed finds the workshop's own entry that an entry would take the place of. have
// is empty where there is none, sameSaying where it says the same.
func (k Catalogue) entryNamed(key string, entry *yaml.Node) (where, have string) {
	o, _ := ParseOverlay("pack", written(map[string]*yaml.Node{key: {Kind: yaml.SequenceNode,
		Content: []*yaml.Node{entry}}}))
	mark := func(at string, same bool) {
		where, have = at, map[bool]string{true: sameSaying, false: "other"}[same]
	}
	for _, b := range o.Boards {
		for _, name := range b.Names {
			for _, own := range k.Boards(name, b.Maker+" "+name) {
				if folded(own.Maker) == folded(b.Maker) {
					mark(own.Where, alike(boardForm(), own, b))
				}
			}
		}
	}
	for _, c := range o.Chipsets {
		for _, own := range k.own {
			for _, have := range own.Chipsets {
				if folded(have.Name) == folded(c.Name) {
					mark(have.Where, alike(chipsetForm(), have, c))
				}
			}
		}
	}
	for _, p := range o.Processors {
		for _, own := range k.own {
			for _, have := range own.Processors {
				if have.Brand == p.Brand || p.ID != "" && have.ID == p.ID {
					mark(have.Where, alike(processorForm(), have, p))
				}
			}
		}
	}
	return where, have
}

// alike compares entries by what a file would say: where they stand and whom they come
// from aside.
func alike[E any](f form[E], a, b E) bool {
	text := func(e E) string {
		n := f.write(&e)
		anonymous(n)
		dropKey(n, "from")
		out, err := yaml.Marshal(n)
		if err != nil {
			return ""
		}
		return string(out)
	}
	return text(a) == text(b)
}

// entriesOf yields the entries of a file with the list that each stands in.
func entriesOf(text []byte) func(func(string, *yaml.Node) bool) {
	return func(yield func(string, *yaml.Node) bool) {
		var doc yaml.Node
		if yaml.Unmarshal(text, &doc) != nil || len(doc.Content) == 0 {
			return
		}
		for _, key := range packed {
			list := value(doc.Content[0], key)
			if list == nil || list.Kind != yaml.SequenceNode {
				continue
			}
			for _, entry := range list.Content {
				if !yield(key, entry) {
					return
				}
			}
		}
	}
}

// anonymous takes comments and the names of persons out of an entry.
func anonymous(n *yaml.Node) {
	n.HeadComment, n.LineComment, n.FootComment = "", "", ""
	dropKey(n, "by")
	for _, c := range n.Content {
		anonymous(c)
	}
}

func dropKey(n *yaml.Node, key string) {
	for i := 0; n.Kind == yaml.MappingNode && i+1 < len(n.Content); {
		if n.Content[i].Value == key {
			n.Content = append(n.Content[:i:i], n.Content[i+2:]...)
			continue
		}
		i += 2
	}
}

func value(n *yaml.Node, key string) *yaml.Node {
	for i := 0; n.Kind == yaml.MappingNode && i+1 < len(n.Content); i += 2 {
		if n.Content[i].Value == key {
			return n.Content[i+1]
		}
	}
	return nil
}

func scalarNode(s string) *yaml.Node {
	n := &yaml.Node{Kind: yaml.ScalarNode, Value: s}
	if slices.Contains([]string{"", "~", "null", "Null", "NULL"}, s) {
		n.Tag = "!!str" // a name, not "nothing"
	}
	return n
}

func nameOf(entry *yaml.Node) string {
	text := ""
	if maker := value(entry, "maker"); maker != nil {
		text = maker.Value + " "
	}
	for _, key := range []string{"names", "family", "name", "id", "brand"} {
		if n := value(entry, key); n != nil {
			if len(n.Content) > 0 {
				n = n.Content[0]
			}
			return text + n.Value
		}
	}
	return text + "an entry without a name"
}

// written writes lists of entries as a file.
func written(lists map[string]*yaml.Node) []byte {
	root := &yaml.Node{Kind: yaml.MappingNode,
		Content: []*yaml.Node{scalarNode("epitome-catalogue"),
			{Kind: yaml.ScalarNode, Tag: "!!int", Value: fmt.Sprint(OverlayVersion)}}}
	for _, key := range packed {
		if lists[key] != nil {
			root.Content = append(root.Content, scalarNode(key), lists[key])
		}
	}
	text, err := yaml.Marshal(root)
	if err != nil {
		return nil
	}
	return text
}
