package store

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"strings"

	"go.yaml.in/yaml/v3"

	"epitome/core/plain"
)

// Settings are a workshop's own defaults. The program works without any.
type Settings struct {
	Heading    []string `yaml:"heading"`     // lines at the top of a docket
	Currency   string   `yaml:"currency"`    // of prices, where a list does not say it
	Paper      string   `yaml:"paper"`       // A4 or letter
	PriceLists []string `yaml:"price_lists"` // used where propose names none
	Policy     string   `yaml:"policy"`      // need's rules of thumb
	Weights    string   `yaml:"weights"`     // what propose weighs beside the price
	Catalogue  string   `yaml:"catalogue"`   // a folder of own entries
	Jobs       string   `yaml:"jobs"`        // the job log: a PostgreSQL database, or a file
	KeepCards  bool     `yaml:"keep_cards"`  // the log keeps a copy of each card
	Offline    bool     `yaml:"offline"`     // the log is left alone
}

// maxSettings bounds a settings file, in bytes.
const maxSettings = 1 << 20

// ReadSettings reads the settings file; where there is none, all is empty. An
// unknown key is an error that names its line.
func ReadSettings(path string) (Settings, error) {
	var s Settings
	text, err := Read(path, maxSettings)
	if errors.Is(err, fs.ErrNotExist) {
		return s, nil
	}
	if err != nil {
		return s, fmt.Errorf("settings: %w", err)
	}
	return s, s.parse(path, text)
}

func (s *Settings) parse(path string, text []byte) error {
	d := yaml.NewDecoder(bytes.NewReader(text))
	d.KnownFields(true)
	if err := d.Decode(s); err != nil && !errors.Is(err, io.EOF) {
		return fmt.Errorf("settings %s: %s", path, plain.Decoding(err))
	}
	if p := strings.ToLower(s.Paper); p != "" && p != "a4" && p != "letter" {
		return fmt.Errorf("settings %s: paper: %q; it is A4 or letter", path, s.Paper)
	}
	return nil
}
