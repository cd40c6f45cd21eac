// Package plain makes foreign text safe to show: text from hardware, files or
// people never carries control characters, terminal escapes or marks that
// reorder a line.
package plain

import (
	"strings"
	"unicode"
)

// Line returns s as one safe line: control characters and line breaks become
// blanks, format characters (bidirectional overrides, zero-width joiners, byte
// order marks) are dropped, bytes that are not UTF-8 become U+FFFD, and blanks
// at either end go. A string that is already plain is returned as it is.
func Line(s string) string {
	if isPlain(s) {
		return strings.TrimSpace(s)
	}
	var b strings.Builder
	b.Grow(len(s))
	for _, r := range s {
		switch {
		case unicode.Is(unicode.Cf, r), unicode.Is(unicode.Co, r), unicode.Is(unicode.Variation_Selector, r):
			// Dropped: invisible, and the bidirectional ones reorder their neighbours.
		case unicode.IsControl(r), r == '\u2028', r == '\u2029':
			b.WriteByte(' ')
		default:
			b.WriteRune(r)
		}
	}
	return strings.TrimSpace(b.String())
}

// isPlain reports whether s is printable ASCII throughout, the common case.
func isPlain(s string) bool {
	for i := 0; i < len(s); i++ {
		if s[i] < ' ' || s[i] >= 0x7F {
			return false
		}
	}
	return true
}
