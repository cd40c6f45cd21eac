package card

import (
	"bytes"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"

	"go.yaml.in/yaml/v3"

	"epitome/core/pattern"
	"epitome/core/plain"
)

// file is the whole of a card file.
type file struct {
	head     `yaml:",inline"`
	Readings []entry `yaml:"readings"`
}

// Bounds of a card that keep the reading of any file, however it was made,
// within seconds and memory.
const (
	maxReadings = 4096      // no machine has a tenth of that
	maxEntry    = 64 << 10  // bytes of a reading beside its own bytes
	maxForeign  = 512 << 10 // bytes of a card that is not laid out as Encode does it
)

// Parse reads a card. It returns ErrNotCard where the text is something else
// and ErrNewer where a later version wrote it, both wrapped with what was
// found. A reading whose bytes do not agree with its sum is kept without them
// and listed in Damage.
func Parse(text []byte) (Card, error) {
	if len(text) > MaxSize {
		return Card{}, fmt.Errorf("%w: %d bytes long, the most is %d", ErrNotCard, len(text), MaxSize)
	}
	text = bytes.ReplaceAll(bytes.TrimPrefix(text, []byte("\xEF\xBB\xBF")), []byte("\r\n"), []byte("\n"))
	if err := checkVersion(text); err != nil {
		return Card{}, err
	}
	f, err := laidOut(text)
	if errors.Is(err, errForeign) {
		f, err = foreign(text)
	}
	if err != nil {
		return Card{}, fmt.Errorf("card can't be read: %w", err)
	}
	c := Card{Made: f.Made, Title: f.Title, Job: f.Job}
	for i, e := range f.Readings {
		r, err := e.reading()
		if err != nil {
			return Card{}, fmt.Errorf("card can't be read: reading %d (%s): %w", i+1, e.Kind, err)
		}
		if r.Failure != e.Failure {
			c.Damage = append(c.Damage, fmt.Sprintf("reading %d (%s, %s): %s", i+1, r.Kind, r.Source, r.Failure))
		}
		c.Readings = append(c.Readings, r)
	}
	return c, nil
}

// foreign reads a card that an editor or another program laid out in its own
// way. The YAML library makes a tree of all of it, many times its size.
func foreign(text []byte) (f file, err error) {
	if len(text) > maxForeign {
		return f, fmt.Errorf("it has %d KiB and is not laid out as this program does it; up to %d KiB are read then",
			len(text)>>10, maxForeign>>10)
	}
	d := yaml.NewDecoder(bytes.NewReader(text))
	d.KnownFields(true) // a key we would lose when writing the card again
	if err := d.Decode(&f); err != nil {
		return f, tidy(err)
	}
	if err := d.Decode(new(yaml.Node)); !errors.Is(err, io.EOF) {
		return f, errors.New("something follows its end; one file holds one card")
	}
	if len(f.Readings) > maxReadings {
		return f, fmt.Errorf("it has %d readings; a card holds %d at the most", len(f.Readings), maxReadings)
	}
	return f, nil
}

// versionLine is how a card says what it is.
var versionLine = pattern.Of(`(?m)^epitome-card:[ \t]*(\S+)[ \t]*(?:#.*)?$`)

// checkVersion looks at the version alone, so that a newer card is refused
// for that and not for the keys it has added.
func checkVersion(text []byte) error {
	m := versionLine().FindSubmatch(text)
	if m == nil && len(text) <= maxForeign {
		// The line may be written another way: {"epitome-card": 1}.
		var peek struct {
			Version *int `yaml:"epitome-card"`
		}
		if err := yaml.Unmarshal(text, &peek); err == nil && peek.Version != nil {
			m = [][]byte{nil, fmt.Append(nil, *peek.Version)}
		}
	}
	if m == nil {
		return fmt.Errorf("%w: it has no line epitome-card", ErrNotCard)
	}
	version, err := strconv.Atoi(string(m[1]))
	switch {
	case err != nil || version < 1:
		return fmt.Errorf("%w: version %.20q does not exist", ErrNotCard, m[1])
	case version > Version:
		return fmt.Errorf("%w: it says epitome-card: %d, this program reads up to %d; use the newer program", ErrNewer,
			version, Version)
	}
	return nil
}

// tidy takes the library's name off its messages.
func tidy(err error) error {
	return errors.New(plain.Decoding(err))
}

func (e entry) reading() (Reading, error) {
	r := Reading{Kind: e.Kind, Source: e.Source, How: e.How, Taken: e.Taken, Address: e.Address, Failure: e.Failure}
	if !slices.Contains(kinds, e.Kind) {
		return r, fmt.Errorf("unknown kind %q; the kinds are %v", e.Kind, kinds)
	}
	switch {
	case e.Text != nil && e.Base64 != nil:
		return r, errors.New("has both text and base64; keep one")
	case e.Text != nil:
		r.Data = []byte(*e.Text)
	case e.Base64 != nil:
		data, err := base64.StdEncoding.DecodeString(strings.Join(strings.Fields(*e.Base64), ""))
		if err != nil {
			return e.damaged(fmt.Sprintf("base64 is broken: %v", err)), nil
		}
		r.Data = data
	default:
		if e.Bytes != 0 || e.SHA256 != "" {
			return e.damaged("its bytes are gone"), nil
		}
		return r, nil
	}
	sum := sha256.Sum256(r.Data)
	switch {
	case e.SHA256 == "":
		return r, errors.New("has bytes but no sha256; readings are not for editing by hand")
	case e.Bytes != len(r.Data):
		return e.damaged(fmt.Sprintf("changed since it was taken: %d bytes, was %d", len(r.Data), e.Bytes)), nil
	case e.SHA256 != hex.EncodeToString(sum[:]):
		return e.damaged("changed since it was taken: its sum differs"), nil
	}
	return r, nil
}

// damaged returns the reading without bytes, with the reason. The entry stays
// with it, so that writing the card again changes nothing of it.
func (e entry) damaged(why string) Reading {
	if e.Failure != "" {
		why = e.Failure + "; " + why
	}
	return Reading{Kind: e.Kind, Source: e.Source, How: e.How, Taken: e.Taken, Address: e.Address, Failure: why, kept: &e}
}
