// Package plain makes foreign text safe to show: text from hardware, files or
// people never carries control characters, terminal escapes or marks that
// reorder a line.
package plain

import (
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"
)

// longest bounds a line of foreign text, in characters. No name, label or
// remark of this trade comes near it; what does is no text for a page.
const longest = 1000

// Line returns s as one safe line: control characters and line breaks become
// blanks, format characters (bidirectional overrides, zero-width joiners, byte
// order marks) are dropped, bytes that are not UTF-8 become U+FFFD, and blanks
// at either end go. Of a line of more than a thousand characters the begin is
// left. A string that is already plain is returned as it is.
func Line(s string) string {
	return Clip(strings.TrimSpace(clean(s, "")), longest)
}

// Text is Line for text of several lines: line feeds and tabs stay, and so do
// blanks and length.
func Text(s string) string { return clean(s, "\n\t") }

// Clip returns the first n characters of s, with an ellipsis where there are
// more.
func Clip(s string, n int) string {
	if len(s) <= n {
		return s
	}
	at := 0
	for range n {
		if at >= len(s) {
			return s
		}
		_, size := utf8.DecodeRuneInString(s[at:])
		at += size
	}
	if at >= len(s) {
		return s
	}
	return s[:at] + "…"
}

func clean(s, keep string) string {
	if isPlain(s) {
		return s
	}
	var b strings.Builder
	b.Grow(len(s))
	for _, r := range s {
		switch {
		case strings.ContainsRune(keep, r):
			b.WriteRune(r)
		case hidden(r):
			// Dropped: invisible, and the bidirectional ones reorder their neighbours.
		case Acts(r):
			b.WriteByte(' ')
		default:
			b.WriteRune(r)
		}
	}
	return b.String()
}

// brailleBlank is a letter without a dot.
const brailleBlank = '\u2800'

// hidden reports characters that show nothing of their own, the fillers of Hangul and other letters without a form
// (Unicode's Default_Ignorable_Code_Point) among them.
func hidden(r rune) bool {
	return unicode.Is(unicode.Cf, r) || unicode.Is(unicode.Co, r) || unicode.Is(unicode.Variation_Selector, r) ||
		unicode.Is(unicode.Other_Default_Ignorable_Code_Point, r) || r == brailleBlank ||
		unicode.Is(unicode.Noncharacter_Code_Point, r)
}

// Acts reports whether a character does something to the line or the terminal
// that shows it, instead of being shown.
func Acts(r rune) bool {
	if r >= ' ' && r < 0x7F {
		return false
	}
	return unicode.IsControl(r) || r == '\u2028' || r == '\u2029' || hidden(r)
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

// Count writes a number with its noun: "1 socket", "2 sockets".
func Count(n int, noun string) string {
	if n != 1 {
		noun += "s"
	}
	return fmt.Sprintf("%d %s", n, noun)
}

// And lists words as a sentence does: "A, B and C".
func And(words []string) string {
	if len(words) < 2 {
		return strings.Join(words, "")
	}
	last := len(words) - 1
	return strings.Join(words[:last], ", ") + " and " + words[last]
}
