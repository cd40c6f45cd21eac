package view

import (
	"bytes"
	"io"
	"strings"
	"unicode/utf8"

	"epitome/core/plain"
)

// The marks by which a page says where bold and dim begin and end. They are
// noncharacters, which no text may hold, so that foreign text can't style
// itself by accident; only a Cleaner for a terminal makes escapes of them.
const (
	bold, dim, plainAgain = "\uFDD0", "\uFDD1", "\uFDD2"
)

var styles = map[string]string{bold: "\x1b[1m", dim: "\x1b[2m", plainAgain: "\x1b[0m"}

// A Cleaner is the one way out for text, whatever is written: a page, JSON, an
// error, HTML, a completion. Characters that would act on a terminal or reorder
// a line are gone behind it, so that no writer has to think of them.
type Cleaner struct {
	out    io.Writer
	colour bool
	part   []byte // the begin of a character that the next write continues
	err    error
}

// NewCleaner returns a way out to w. With colour, styles become escapes.
func NewCleaner(w io.Writer, colour bool) *Cleaner { return &Cleaner{out: w, colour: colour} }

// Write cleans p and passes it on. A failed write fails all later ones.
func (c *Cleaner) Write(p []byte) (int, error) {
	if c.err != nil {
		return 0, c.err
	}
	text := append(c.part, p...)
	c.part = nil
	for back := 1; back < utf8.UTFMax && back <= len(text); back++ {
		if tail := text[len(text)-back:]; utf8.RuneStart(tail[0]) {
			if !utf8.FullRune(tail) {
				c.part, text = append([]byte(nil), tail...), text[:len(text)-back]
			}
			break
		}
	}
	for len(text) > 0 && c.err == nil {
		n := pieceOf(text)
		_, c.err = io.WriteString(c.out, c.cleaned(string(text[:n])))
		text = text[n:]
	}
	if c.err != nil {
		return 0, c.err
	}
	return len(p), nil
}

// pieceOf is how much of a long text is cleaned in one go: up to a line's end,
// so that no character and no mark is cut.
func pieceOf(text []byte) int {
	const most = 64 << 10
	if len(text) <= most {
		return len(text)
	}
	if n := bytes.LastIndexByte(text[:most], '\n'); n >= 0 {
		return n + 1
	}
	return len(text)
}

// Err is what went wrong with writing, nil where nothing did.
func (c *Cleaner) Err() error { return c.err }

func (c *Cleaner) cleaned(s string) string {
	if !strings.Contains(s, bold[:2]) {
		return plain.Text(s)
	}
	var b strings.Builder
	for s != "" {
		at := strings.Index(s, bold[:2]) // all three marks begin alike
		if at < 0 || at+len(bold) > len(s) {
			b.WriteString(plain.Text(s))
			break
		}
		mark := s[at : at+len(bold)]
		b.WriteString(plain.Text(s[:at]))
		if escape, ok := styles[mark]; !ok {
			b.WriteString(plain.Text(mark))
		} else if c.colour {
			b.WriteString(escape)
		}
		s = s[at+len(bold):]
	}
	return b.String()
}

// Line makes one line of foreign text, for a message.
func Line(s string) string { return plain.Line(s) }

// Clip returns the first n characters of a text, with an ellipsis where there are more.
func Clip(s string, n int) string { return plain.Clip(s, n) }
