// Package jedec is the vocabulary of memory: generations, forms, grades and
// their spellings, timing arithmetic, labels and maker codes. It is exact and
// complete for the parts a repair shop meets and knows nothing of any machine.
package jedec

import "encoding/json"

// A Generation is a family of memory devices whose members never fit one
// another's controllers. The zero value is GenerationUnknown.
//
// DDR3L and DDR3U are not generations but voltage classes of DDR3: the
// modules share contacts, key and protocol.
type Generation uint8

// The generations, oldest first; low-power ones after the ordinary ones.
const (
	GenerationUnknown Generation = iota
	SDR
	DDR
	DDR2
	DDR3
	DDR4
	DDR5
	LPDDR
	LPDDR2
	LPDDR3
	LPDDR4
	LPDDR4X
	LPDDR5
	LPDDR5X
)

var generationNames = [...]string{
	GenerationUnknown: "unknown",
	SDR:               "SDR", DDR: "DDR", DDR2: "DDR2", DDR3: "DDR3", DDR4: "DDR4", DDR5: "DDR5",
	LPDDR: "LPDDR", LPDDR2: "LPDDR2", LPDDR3: "LPDDR3", LPDDR4: "LPDDR4", LPDDR4X: "LPDDR4X",
	LPDDR5: "LPDDR5", LPDDR5X: "LPDDR5X",
}

// String returns the standard's name, such as "DDR4".
func (g Generation) String() string {
	if int(g) < len(generationNames) {
		return generationNames[g]
	}
	return "unknown"
}

// MarshalJSON writes the name, or null for GenerationUnknown.
func (g Generation) MarshalJSON() ([]byte, error) {
	if g == GenerationUnknown {
		return []byte("null"), nil
	}
	return json.Marshal(g.String())
}

// LowPower reports whether g is one of the LPDDR generations.
func (g Generation) LowPower() bool { return g >= LPDDR && g <= LPDDR5X }
