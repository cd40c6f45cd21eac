package jedec

import "encoding/json"

// A Form is the mechanical kind of a module: what it plugs into. Registered,
// load-reduced and clocked modules share the form of the plain ones; see Kind.
// The zero value is FormUnknown.
type Form uint8

// The forms.
const (
	FormUnknown Form = iota
	DIMM
	SODIMM
	MicroDIMM
	MiniDIMM
	SIMM
	RIMM
	FBDIMM
	CAMM2
	LPCAMM2
	Soldered
)

var formNames = [...]string{
	FormUnknown: "unknown", DIMM: "DIMM", SODIMM: "SO-DIMM", MicroDIMM: "Micro-DIMM", MiniDIMM: "Mini-DIMM",
	SIMM: "SIMM", RIMM: "RIMM", FBDIMM: "FB-DIMM", CAMM2: "CAMM2", LPCAMM2: "LPCAMM2", Soldered: "soldered",
}

// String returns the standard's name, such as "SO-DIMM".
func (f Form) String() string {
	if int(f) < len(formNames) {
		return formNames[f]
	}
	return "unknown"
}

// MarshalJSON writes the name, or null for FormUnknown.
func (f Form) MarshalJSON() ([]byte, error) {
	if f == FormUnknown {
		return []byte("null"), nil
	}
	return json.Marshal(f.String())
}
