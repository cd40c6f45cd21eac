package records

import (
	"bytes"
	"errors"
	"fmt"

	"go.yaml.in/yaml/v3"
)

// A Proof is what was measured and proved of a machine's memory, as it is kept on a card.
// Bandwidths are in MB of 10^6 bytes a second, latencies in ns.
type Proof struct {
	Version    int          `yaml:"epitome-proof"`
	Date       string       `yaml:"date"`
	Threads    int          `yaml:"threads"`
	Read       float64      `yaml:"read_mbs"`
	Write      float64      `yaml:"write_mbs"`
	Copy       float64      `yaml:"copy_mbs"`
	ReadOne    float64      `yaml:"read_one_thread_mbs,omitempty"`
	WriteOne   float64      `yaml:"write_one_thread_mbs,omitempty"`
	CopyOne    float64      `yaml:"copy_one_thread_mbs,omitempty"`
	Spread     float64      `yaml:"spread"` // as a share
	Latency    float64      `yaml:"latency_ns"`
	LargePages bool         `yaml:"large_pages,omitempty"`
	CoveredMiB uint64       `yaml:"covered_mib"`
	OfMiB      uint64       `yaml:"of_mib"`
	Passes     int          `yaml:"passes"`
	Seed       uint64       `yaml:"seed"`
	Busy       bool         `yaml:"busy,omitempty"`
	Faults     []ProofFault `yaml:"faults,omitempty"`
	MoreFaults int          `yaml:"more_faults,omitempty"`
}

// A ProofFault is a word that did not read back as it was written.
type ProofFault struct {
	Offset  uint64 `yaml:"offset"`
	Pattern string `yaml:"pattern"`
	Wrote   string `yaml:"wrote"`
	Read    string `yaml:"read"`
	Again   bool   `yaml:"again,omitempty"`
}

// ErrProof is what every error of ParseProof wraps.
var ErrProof = errors.New("proof can't be used")

// Encode writes the proof as YAML that ParseProof reads back.
func (p Proof) Encode() ([]byte, error) {
	p.Version = 1
	return yaml.Marshal(p)
}

// ParseProof reads a proof. Errors wrap ErrProof.
func ParseProof(text []byte) (p Proof, err error) {
	if len(text) > maxHand {
		return p, fmt.Errorf("%w: %d KiB; up to %d are read", ErrProof, len(text)>>10, maxHand>>10)
	}
	d := yaml.NewDecoder(bytes.NewReader(text))
	d.KnownFields(true)
	if err := d.Decode(&p); err != nil {
		return p, fmt.Errorf("%w: %v", ErrProof, err)
	}
	if p.Version != 1 {
		return p, fmt.Errorf("%w: epitome-proof: %d; this program reads 1", ErrProof, p.Version)
	}
	for _, figure := range []float64{p.Read, p.Write, p.Copy, p.ReadOne, p.WriteOne, p.CopyOne, p.Latency, p.Spread} {
		if !(figure >= 0 && figure < 1e9) {
			return p, fmt.Errorf("%w: a figure of %v", ErrProof, figure)
		}
	}
	return p, nil
}

// Sound reports whether everything read back as written, over at least one pass.
func (p Proof) Sound() bool { return len(p.Faults)+p.MoreFaults == 0 && p.Passes > 0 }
