package card

import (
	"bytes"
	"errors"
	"fmt"

	"go.yaml.in/yaml/v3"
)

// errForeign: the text is not laid out as Encode does it, and may be a card all
// the same.
var errForeign = errors.New("another layout")

// What begins a line in Encode's layout.
var (
	readingsLine = []byte("readings:\n")
	dash         = []byte("  - ")
	indent       = []byte("    ")
	textLine     = []byte("    text: |2+\n")
	base64Line   = []byte("    base64: |2+\n")
	blockIndent  = []byte("      ")
)

// laidOut reads a card in Encode's layout: reading by reading, the bytes of each
// taken as they stand and only the few lines beside them given to the YAML
// library. It does a tenth of what reading the whole as YAML would cost, in time
// and memory, whatever is in the file. The error is errForeign where a line
// stands in another way.
func laidOut(text []byte) (f file, err error) {
	at := bytes.Index(text, append([]byte("\n"), readingsLine...))
	if at < 0 || at > maxEntry {
		return f, errForeign
	}
	if err := strict(text[:at+1], &f.head); err != nil {
		return f, errForeign // the library's own words come from reading the whole
	}
	rest := text[at+1+len(readingsLine):]
	for len(rest) > 0 {
		if len(f.Readings) == maxReadings {
			return f, fmt.Errorf("it has more than %d readings; no machine does", maxReadings)
		}
		e, after, err := nextEntry(rest)
		if err != nil {
			return f, err
		}
		f.Readings = append(f.Readings, e)
		rest = after
	}
	return f, nil
}

// nextEntry takes the first reading off the text.
func nextEntry(text []byte) (e entry, rest []byte, err error) {
	if !bytes.HasPrefix(text, dash) {
		return e, nil, errForeign
	}
	head := append(append([]byte(nil), indent...), text[len(dash):lineEnd(text)]...)
	rest = text[lineEnd(text):]
	for len(rest) > 0 && !bytes.HasPrefix(rest, dash) {
		end := lineEnd(rest)
		line := rest[:end]
		var into **string
		switch {
		case bytes.Equal(line, textLine):
			into = &e.Text
		case bytes.Equal(line, base64Line):
			into = &e.Base64
		case bytes.HasPrefix(line, indent) && len(head) < maxEntry:
			head = append(head, line...)
			rest = rest[end:]
			continue
		default:
			return e, nil, errForeign
		}
		if *into != nil {
			return e, nil, errForeign
		}
		block, after := blockOf(rest[end:])
		*into, rest = &block, after
	}
	own := e
	if err := strict(head, &e); err != nil || (own.Text != nil && e.Text != own.Text) ||
		(own.Base64 != nil && e.Base64 != own.Base64) {
		return e, nil, errForeign
	}
	return e, rest, nil
}

// strict decodes a few lines. A key that is not known is an error.
func strict(text []byte, into any) error {
	d := yaml.NewDecoder(bytes.NewReader(text))
	d.KnownFields(true)
	return d.Decode(into)
}

// blockOf takes the lines of a literal block off the text, without their
// indentation.
func blockOf(text []byte) (block string, rest []byte) {
	var b bytes.Buffer
	for len(text) > 0 {
		end := lineEnd(text)
		switch {
		case bytes.HasPrefix(text, blockIndent):
			b.Write(text[len(blockIndent):end])
		case text[0] == '\n':
			b.WriteByte('\n')
		default:
			return b.String(), text
		}
		text = text[end:]
	}
	return b.String(), text
}

// lineEnd is how long the first line is, its end included.
func lineEnd(text []byte) int {
	if n := bytes.IndexByte(text, '\n'); n >= 0 {
		return n + 1
	}
	return len(text)
}
