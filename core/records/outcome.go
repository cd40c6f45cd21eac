package records

import (
	"bytes"
	"errors"
	"fmt"

	"go.yaml.in/yaml/v3"
)

// An Outcome is what a recheck found after fitting, as it is kept on a card.
type Outcome struct {
	Version int    `yaml:"epitome-outcome"`
	Date    string `yaml:"date"`
	// Proposal is the number of the way that was carried out.
	Proposal int             `yaml:"proposal"`
	Result   string          `yaml:"result"` // "as predicted", "differs", "cannot tell"
	TotalMB  uint64          `yaml:"total_mib"`
	Places   []OutcomePlace  `yaml:"places,omitempty"`
	Differs  []OutcomeDiffer `yaml:"differs,omitempty"`
}

// An OutcomePlace is a place that was fitted and found filled.
type OutcomePlace struct {
	Name string `yaml:"name"`
	// Planned is the name that the place had when it was planned, where that was another one.
	Planned string `yaml:"planned,omitempty"`
	MiB     uint64 `yaml:"mib"`
	Rate    int    `yaml:"rate_mts,omitempty"`
}

// An OutcomeDiffer is a difference between prediction and fact.
type OutcomeDiffer struct {
	About     string `yaml:"about"`
	Predicted string `yaml:"predicted"`
	Found     string `yaml:"found"`
}

// ErrOutcome is what every error of ParseOutcome wraps.
var ErrOutcome = errors.New("outcome can't be used")

// Encode writes the outcome as YAML that ParseOutcome reads back.
func (o Outcome) Encode() ([]byte, error) {
	o.Version = 1
	return yaml.Marshal(o)
}

// ParseOutcome reads an outcome. Errors wrap ErrOutcome.
func ParseOutcome(text []byte) (o Outcome, err error) {
	if len(text) > maxHand {
		return o, fmt.Errorf("%w: %d KiB; up to %d are read", ErrOutcome, len(text)>>10, maxHand>>10)
	}
	d := yaml.NewDecoder(bytes.NewReader(text))
	d.KnownFields(true)
	if err := d.Decode(&o); err != nil {
		return o, fmt.Errorf("%w: %v", ErrOutcome, err)
	}
	if o.Version != 1 {
		return o, fmt.Errorf("%w: epitome-outcome: %d; this program reads 1", ErrOutcome, o.Version)
	}
	return o, nil
}

// maxPlan bounds a kept plan, in bytes: a thousand proposals.
const maxPlan = 512 << 10

// PlannedPlaces returns the places into which a way of a kept plan puts a
// bought or spare module; none where the plan can't be read or has no such way.
func PlannedPlaces(plan []byte, number int) (names []string) {
	var p struct {
		Ways []struct {
			Number int `yaml:"number"`
			Put    []struct {
				Place string `yaml:"place"`
				From  string `yaml:"from"`
			} `yaml:"put"`
		} `yaml:"ways"`
	}
	if len(plan) > maxPlan || yaml.Unmarshal(plan, &p) != nil {
		return nil
	}
	for _, w := range p.Ways {
		for _, put := range w.Put {
			if w.Number == number && put.From == "" {
				names = append(names, put.Place)
			}
		}
	}
	return names
}
