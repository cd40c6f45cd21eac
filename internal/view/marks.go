package view

import (
	"epitome/core/fact"
	"strings"
)

// The marks of standing, the same in every table, map and slip. Settled facts
// carry none.
var marks = []struct {
	standing fact.Standing
	mark     string
	means    string
}{
	{fact.Leaning, "~", "likely, not settled"},
	{fact.Disputed, "≠", "sources contradict each other"},
	{fact.Unknown, "?", "not known"},
}

func mark(s fact.Standing) string {
	for _, m := range marks {
		if m.standing == s {
			return m.mark
		}
	}
	return ""
}

// A legend remembers which marks a page used, so that its foot explains just
// those.
type legend map[fact.Standing]bool

// show writes a finding: its value in words with the mark of its standing
// behind, or the mark alone where it has no value.
func show[T comparable](l legend, f fact.Fact[T], words func(T) string) string {
	if v, ok := f.Get(); ok {
		return l.marked(words(v), f.Standing())
	}
	return l.marked("", f.Standing())
}

// marked puts the mark of a standing behind text.
func (l legend) marked(text string, s fact.Standing) string {
	m := mark(s)
	if m == "" {
		return text
	}
	l[s] = true
	return strings.TrimLeft(text+" "+m, " ")
}

// foot explains the marks used, empty where none was.
func (l legend) foot() string {
	var parts []string
	for _, m := range marks {
		if l[m.standing] {
			parts = append(parts, m.mark+" "+m.means)
		}
	}
	return strings.Join(parts, "   ")
}
