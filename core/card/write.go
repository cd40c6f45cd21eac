package card

import (
	"bytes"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"fmt"
	"strings"
	"time"
	"unicode/utf8"

	"go.yaml.in/yaml/v3"
)

// head is the part of a card before its readings.
type head struct {
	Version int       `yaml:"epitome-card"`
	Made    time.Time `yaml:"made"`
	Title   string    `yaml:"title,omitempty"`
	Job     string    `yaml:"job,omitempty"`
}

// entry is a reading as it stands in the file. Exactly one of Text and Base64
// is set where there are bytes.
type entry struct {
	Kind    Kind      `yaml:"kind"`
	Source  string    `yaml:"source"`
	How     string    `yaml:"how"`
	Taken   time.Time `yaml:"taken"`
	Address string    `yaml:"address,omitempty"`
	Failure string    `yaml:"failure,omitempty"`
	Bytes   int       `yaml:"bytes,omitempty"`
	SHA256  string    `yaml:"sha256,omitempty"`
	Text    *string   `yaml:"text,omitempty"`
	Base64  *string   `yaml:"base64,omitempty"`
}

// Encode writes the card. The same card always yields the same bytes.
func (c Card) Encode() ([]byte, error) {
	var b bytes.Buffer
	b.WriteString("# An Epitome card: raw readings about one machine. Everything else is worked out from it.\n")
	if err := appendYAML(&b, "", head{Version: Version, Made: c.Made.UTC().Truncate(time.Second),
		Title: c.Title, Job: c.Job}); err != nil {
		return nil, err
	}
	b.WriteString("readings:")
	if len(c.Readings) == 0 {
		b.WriteString(" []")
	}
	b.WriteByte('\n')
	for _, r := range c.Readings {
		if err := r.append(&b); err != nil {
			return nil, err
		}
	}
	if b.Len() > MaxSize {
		return nil, fmt.Errorf("card would be %d bytes long, the most is %d; leave out some of its files", b.Len(), MaxSize)
	}
	return b.Bytes(), nil
}

func (r Reading) append(b *bytes.Buffer) error {
	e := entry{Kind: r.Kind, Source: r.Source, How: r.How, Taken: r.Taken.UTC().Truncate(time.Second),
		Address: r.Address, Failure: r.Failure}
	if len(r.Data) > 0 {
		sum := sha256.Sum256(r.Data)
		e.Bytes, e.SHA256 = len(r.Data), hex.EncodeToString(sum[:])
	}
	if r.kept != nil {
		e = *r.kept
	}
	var item bytes.Buffer
	if err := appendYAML(&item, "    ", e); err != nil {
		return err
	}
	// The first line of a list entry carries the dash.
	b.WriteString("  - ")
	b.Write(bytes.TrimPrefix(item.Bytes(), []byte("    ")))
	switch {
	case len(r.Data) == 0:
	case isText(r.Data):
		block(b, "text", string(r.Data))
	default:
		block(b, "base64", folded(base64.StdEncoding.EncodeToString(r.Data)))
	}
	return nil
}

// appendYAML writes v with every line indented.
func appendYAML(b *bytes.Buffer, indent string, v any) error {
	out, err := yaml.Marshal(v)
	if err != nil {
		return fmt.Errorf("card: %w", err)
	}
	for line := range bytes.Lines(out) {
		b.WriteString(indent)
		b.Write(line)
	}
	return nil
}

// isText reports whether data can stand in a literal block unchanged: UTF-8
// lines that end in a newline, without control characters but the tab. YAML
// would turn a carriage return into a newline, so texts with one are not.
func isText(data []byte) bool {
	if !utf8.Valid(data) || data[len(data)-1] != '\n' {
		return false
	}
	for _, r := range string(data) {
		switch {
		case r == '\n', r == '\t':
		case r < ' ', r == 0x7F, r >= 0x80 && r < 0xA0, r == 0x2028, r == 0x2029, r == 0xFEFF, r >= 0xFFFE && r <= 0xFFFF:
			return false
		}
	}
	return true
}

// block writes a literal block scalar. The indentation is stated and trailing
// newlines are kept, so that every text comes back as it was.
func block(b *bytes.Buffer, key, text string) {
	fmt.Fprintf(b, "    %s: |2+\n", key)
	for line := range strings.Lines(text) {
		if line != "\n" {
			b.WriteString("      ")
		}
		b.WriteString(line)
	}
}

// folded breaks base64 into lines that mail programs leave alone.
func folded(s string) string {
	var b strings.Builder
	for len(s) > 0 {
		n := min(76, len(s))
		b.WriteString(s[:n])
		b.WriteByte('\n')
		s = s[n:]
	}
	return b.String()
}
