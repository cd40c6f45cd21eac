package view

import (
	"strings"

	"epitome/core/machine"
)

// The marks of standing, the same in every table, map and slip. Settled facts
// carry none.
var marks = []struct {
	standing machine.Standing
	mark     string
	means    string
}{
	{machine.Leaning, "~", "likely, not settled"},
	{machine.Disputed, "≠", "sources contradict each other"},
	{machine.Unknown, "?", "not known"},
}

func mark(s machine.Standing) string {
	for _, m := range marks {
		if m.standing == s {
			return m.mark
		}
	}
	return ""
}

// A legend remembers which marks a page used, so that its foot explains just
// those.
type legend map[machine.Standing]bool

// show writes a finding: its value in words with the mark of its standing
// behind, or the mark alone where it has no value.
func show[T any](l legend, f machine.Finding[T], words func(T) string) string {
	if v, ok := f.Get(); ok {
		return l.marked(words(v), f.Standing)
	}
	return l.marked("", f.Standing)
}

// marked puts the mark of a standing behind text.
func (l legend) marked(text string, s machine.Standing) string {
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
