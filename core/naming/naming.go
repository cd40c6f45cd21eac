// Package naming compares names by what they mean: of a processor, a chipset, a board, a machine, a system. One thing
// has many: with trade marks or without, in other letters and with other blanks, told in full or in short.
package naming

import (
	"slices"
	"strings"
	"unicode"

	"epitome/core/pattern"
)

// marks are the signs of trade marks, as people, systems and processors write them.
var marks = pattern.Of(`(?i)\((?:r|tm|c)\)|[®™©]`)

// Bare returns a name without trade marks, in single blanks.
func Bare(name string) string {
	return strings.Join(strings.Fields(marks().ReplaceAllString(name, " ")), " ")
}

// Same reports whether two names may be of one thing, one of them told more fully: it says all that the other says.
func Same(a, b string) bool { return within(pieces(Bare(a)), pieces(Bare(b))) }

// Fuller reports whether a name says more than another one.
func Fuller(a, b string) bool { return len(pieces(a)) > len(pieces(b)) }

// within reports whether all of the fewer pieces are among the more.
func within(a, b []string) bool {
	if len(a) > len(b) {
		a, b = b, a
	}
	if len(a) == 0 {
		return false
	}
	left := slices.Clone(b)
	for _, p := range a {
		at := slices.Index(left, p)
		if at < 0 {
			return false
		}
		left = slices.Delete(left, at, at+1)
	}
	return true
}

// pieces are the runs of letters and of digits of a name, in small letters: "i5-480M" and "i5 M 480" have the same.
func pieces(name string) (list []string) {
	kind := func(r rune) int {
		switch {
		case unicode.IsDigit(r):
			return 1
		case unicode.IsLetter(r):
			return 2
		}
		return 0
	}
	var run []rune
	last := 0
	flush := func() {
		if last != 0 {
			list = append(list, strings.ToLower(string(run)))
		}
		run = run[:0]
	}
	for _, r := range name {
		if k := kind(r); k != last {
			flush()
			last = k
		}
		run = append(run, r)
	}
	flush()
	return list
}
