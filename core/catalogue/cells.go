package catalogue

import (
	"epitome/core/maybe"
	"fmt"
	"slices"
	"strings"

	"go.yaml.in/yaml/v3"
)

// one is a field of a single value.
type one[T comparable] struct {
	kind[T]
	get func() (T, bool)
	set func(T, bool)
}

// known is a value that may not be known.
func known[T comparable](k kind[T], at *maybe.Value[T]) cell {
	return one[T]{k, at.Get, func(v T, ok bool) { *at = maybe.If(v, ok) }}
}

// bare is a value whose zero says that it is not known.
func bare[T comparable](k kind[T], at *T) cell {
	var zero T
	return one[T]{k, func() (T, bool) { return *at, *at != zero }, func(v T, ok bool) {
		if *at = zero; ok {
			*at = v
		}
	}}
}

func (c one[T]) read(r *overlayReader, n *yaml.Node) {
	s, ok := r.scalar(n)
	if !ok {
		return
	}
	v, wrong := c.kind.read(s, r.generation)
	if wrong != "" {
		r.fault(n, "%s", wrong)
		return
	}
	c.set(v, true)
	if c.tells != nil {
		r.generation = c.tells(v)
	}
}

func (c one[T]) column(text string) {
	v, ok := c.fromTable(text)
	c.set(v, ok)
}

func (c one[T]) write() *yaml.Node {
	v, ok := c.get()
	if !ok {
		return nil
	}
	return scalarNode(c.kind.write(v))
}

func (c one[T]) shown() string {
	v, ok := c.get()
	if !ok {
		return ""
	}
	return c.toShow(v)
}

func (c one[T]) json() any {
	v, ok := c.get()
	if !ok {
		return nil
	}
	return c.toJSON(v)
}

func (c one[T]) schema() any { return map[string]any{"type": []any{c.kind.schema, "null"}} }

func (c one[T]) number() maybe.Value[int] {
	v, ok := c.get()
	if !ok || c.kind.number == nil {
		return maybe.None[int]()
	}
	return maybe.Just(c.kind.number(v))
}

func (c one[T]) meet(other cell, _ Meeting) {
	v, ok := c.get()
	o, also := other.(one[T]).get()
	c.set(v, ok && also && v == o)
}

func (c one[T]) node(texts []string) (*yaml.Node, error) {
	return scalarNode(texts[len(texts)-1]), nil
}

func (c one[T]) many() bool { return false }

// several is a field of a list of values.
type several[T comparable] struct {
	kind[T]
	get  func() ([]T, bool)
	set  func([]T, bool)
	none string // the word for a list that is known to be empty
}

// list is a list that is not known where it is empty.
func list[T comparable](k kind[T], at *[]T) cell {
	return several[T]{kind: k, get: func() ([]T, bool) { return *at, len(*at) > 0 }, set: func(v []T, _ bool) { *at = v }}
}

// knownList is a list that may be known to be empty, by a word.
func knownList[T comparable](k kind[T], at *maybe.Value[[]T], none string) cell {
	return several[T]{k, at.Get, func(v []T, ok bool) { *at = maybe.If(v, ok) }, none}
}

func (c several[T]) read(r *overlayReader, n *yaml.Node) {
	if c.none != "" && n.Kind == yaml.ScalarNode && n.Value == c.none {
		c.set([]T{}, true)
		return
	}
	var values []T
	faults := len(r.faults)
	r.list(n, func(n *yaml.Node) {
		s, ok := r.scalar(n)
		if !ok || s == "" {
			return
		}
		v, wrong := c.kind.read(s, r.generation)
		if wrong != "" {
			r.fault(n, "%s", wrong)
			return
		}
		values = append(values, v)
	})
	if len(r.faults) > faults {
		return
	}
	c.set(values, true)
	if c.tells != nil && len(values) == 1 {
		r.generation = c.tells(values[0])
	}
}

func (c several[T]) column(text string) {
	if text == "" || text == c.none {
		c.set([]T{}, text != "")
		if text == "" {
			c.set(nil, false)
		}
		return
	}
	var values []T
	for part := range strings.SplitSeq(text, "|") {
		if v, ok := c.fromTable(part); ok {
			values = append(values, v)
		}
	}
	c.set(values, true)
}

func (c several[T]) texts(as func(T) string) (out []string, known bool) {
	values, ok := c.get()
	for _, v := range values {
		out = append(out, as(v))
	}
	return out, ok
}

func (c several[T]) write() *yaml.Node {
	texts, ok := c.texts(c.kind.write)
	switch {
	case !ok:
		return nil
	case len(texts) == 0:
		return scalarNode(c.none)
	}
	return listNode(texts)
}

func (c several[T]) shown() string {
	texts, ok := c.texts(c.toShow)
	if ok && len(texts) == 0 {
		return c.none
	}
	return strings.Join(texts, ", ")
}

func (c several[T]) json() any {
	values, ok := c.get()
	if !ok && c.none != "" {
		return nil
	}
	out := []any{}
	for _, v := range values {
		out = append(out, c.toJSON(v))
	}
	return out
}

func (c several[T]) schema() any {
	s := map[string]any{"type": "array", "items": map[string]any{"type": c.kind.schema}}
	if c.none != "" {
		s["type"] = []any{"array", "null"}
	}
	return s
}

func (c several[T]) number() maybe.Value[int] { return maybe.None[int]() }

func (c several[T]) meet(other cell, how Meeting) {
	mine, ok1 := c.get()
	others, ok2 := other.(several[T]).get()
	switch how {
	case Both:
		c.set(slices.DeleteFunc(slices.Clone(mine), func(v T) bool { return !slices.Contains(others, v) }), ok1 && ok2)
	case Either:
		all := slices.Clone(mine)
		for _, v := range others {
			if !slices.Contains(all, v) {
				all = append(all, v)
			}
		}
		c.set(all, true)
	default:
		if !ok1 || !ok2 || !slices.Equal(mine, others) {
			c.set(nil, false)
		}
	}
}

func (c several[T]) node(texts []string) (*yaml.Node, error) {
	if !c.whole {
		texts = strings.Split(strings.Join(texts, ","), ",")
	}
	if len(texts) == 1 {
		return scalarNode(texts[0]), nil
	}
	return listNode(texts), nil
}

func (c several[T]) many() bool { return true }

// entries is a field that holds entries of a form of their own.
type entries[E any] struct {
	form form[E]
	at   *[]E
	flow bool // written on one line
}

func (c entries[E]) read(r *overlayReader, n *yaml.Node) {
	r.each(n, func(n *yaml.Node) {
		if e, sound := c.form.read(r, n); sound {
			*c.at = append(*c.at, e)
		}
	})
}

func (c entries[E]) column(string) {}

func (c entries[E]) write() *yaml.Node {
	if len(*c.at) == 0 {
		return nil
	}
	n := &yaml.Node{Kind: yaml.SequenceNode}
	for i := range *c.at {
		e := c.form.write(&(*c.at)[i])
		if c.flow {
			e.Style = yaml.FlowStyle
		}
		n.Content = append(n.Content, e)
	}
	return n
}

func (c entries[E]) shown() string {
	if c.form.shown == nil {
		return ""
	}
	var all []string
	for _, e := range *c.at {
		all = append(all, c.form.shown(e))
	}
	return strings.Join(all, "; ")
}

func (c entries[E]) json() any {
	out := []any{}
	for i := range *c.at {
		out = append(out, c.form.json(&(*c.at)[i]))
	}
	return out
}

func (c entries[E]) schema() any {
	return map[string]any{"type": "array", "items": c.form.schema()}
}

func (c entries[E]) number() maybe.Value[int] { return maybe.None[int]() }
func (c entries[E]) meet(cell, Meeting)       { *c.at = nil }
func (c entries[E]) many() bool               { return true }

// node reads flags such as "DIMM_A1,channel=A,order=1": the first field by itself, the
// others with their keys.
func (c entries[E]) node(texts []string) (*yaml.Node, error) {
	n := &yaml.Node{Kind: yaml.SequenceNode}
	for _, text := range texts {
		typed := c.form.typed
		if typed == nil {
			typed = c.form.pairs
		}
		values, err := typed(text)
		if err != nil {
			return nil, err
		}
		e := &yaml.Node{Kind: yaml.MappingNode}
		for _, x := range c.form.fields {
			if v := values[x.Key]; v != "" {
				e.Content = append(e.Content, scalarNode(x.Key), scalarNode(v))
			}
		}
		n.Content = append(n.Content, e)
	}
	return n, nil
}

func (f form[E]) pairs(text string) (map[string]string, error) {
	values := make(map[string]string)
	var keys []string
	for _, x := range f.fields {
		keys = append(keys, x.Key)
	}
	for i, part := range strings.Split(text, ",") {
		key, v, paired := strings.Cut(part, "=")
		if key = strings.TrimSpace(key); i == 0 && !paired {
			key, v = keys[0], key
		}
		if v = strings.TrimSpace(v); v == "" || !slices.Contains(keys, key) {
			return nil, fmt.Errorf("%q: write %s,%s=…; there are %s", text, strings.ToUpper(keys[0]), keys[1],
				strings.Join(keys, ", "))
		}
		values[key] = v
	}
	return values, nil
}

// inner is a field that holds figures of the entry itself under a name of their own.
type inner[E any] struct {
	form form[E]
	e    *E
}

func (c inner[E]) read(r *overlayReader, n *yaml.Node) {
	known := make(map[string]func(*yaml.Node))
	for _, x := range c.form.fields {
		known[x.Key] = func(n *yaml.Node) { x.at(c.e).read(r, n) }
	}
	r.mapping(n, c.form.what, known)
}

func (c inner[E]) column(string) {}

func (c inner[E]) write() *yaml.Node {
	n := c.form.write(c.e)
	if len(n.Content) == 0 {
		return nil
	}
	n.Style = yaml.FlowStyle
	return n
}

func (c inner[E]) shown() string            { return "" }
func (c inner[E]) json() any                { return c.form.json(c.e) }
func (c inner[E]) schema() any              { return c.form.schema() }
func (c inner[E]) number() maybe.Value[int] { return maybe.None[int]() }
func (c inner[E]) meet(cell, Meeting)       {}
func (c inner[E]) many() bool               { return false }

func (c inner[E]) node(texts []string) (*yaml.Node, error) {
	values, err := c.form.typed(texts[0])
	if err != nil {
		return nil, err
	}
	n := &yaml.Node{Kind: yaml.MappingNode}
	for _, x := range c.form.fields {
		if v := values[x.Key]; v != "" {
			n.Content = append(n.Content, scalarNode(x.Key), scalarNode(v))
		}
	}
	return n, nil
}
