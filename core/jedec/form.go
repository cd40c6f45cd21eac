package jedec

import (
	"encoding/json"
	"fmt"
	"strings"
)

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

// String returns the standard's name, such as "SO-DIMM". ParseForm reads it
// back.
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

var bareForm = strings.NewReplacer("-", "", " ", "", "_", "")

// ParseForm reads a form's name with or without its hyphen, in any case.
func ParseForm(s string) (Form, bool) {
	bare := strings.ToUpper(bareForm.Replace(s))
	for f := DIMM; int(f) < len(formNames); f++ {
		if bare == strings.ToUpper(strings.ReplaceAll(formNames[f], "-", "")) {
			return f, true
		}
	}
	return FormUnknown, false
}

// A Kind is what stands between a module's contacts and its chips, and how
// wide its data is. The zero value is KindUnknown.
type Kind uint8

// The kinds.
const (
	KindUnknown Kind = iota
	Unbuffered
	UnbufferedECC
	RegisteredECC
	LoadReduced
	FullyBuffered
	Multiplexed // two ranks behind one buffer that answer as one at twice their rate: MRDIMM
	Clocked     // a clock driver on an unbuffered module: CUDIMM, CSODIMM
	ClockedECC
)

// Registered reports whether a register or buffer drives the chips' address
// lines: such a module never works in a socket for unbuffered ones.
func (k Kind) Registered() bool {
	return k == RegisteredECC || k == LoadReduced || k == FullyBuffered || k == Multiplexed
}

// ECC reports whether the module carries check bits.
func (k Kind) ECC() bool {
	switch k {
	case UnbufferedECC, RegisteredECC, LoadReduced, FullyBuffered, Multiplexed, ClockedECC:
		return true
	}
	return false
}

var kindNames = [...]string{
	KindUnknown: "unknown", Unbuffered: "unbuffered", UnbufferedECC: "unbuffered with ECC", RegisteredECC: "registered",
	LoadReduced: "load-reduced", FullyBuffered: "fully buffered", Multiplexed: "multiplexed-rank",
	Clocked:    "unbuffered with clock driver",
	ClockedECC: "unbuffered with clock driver and ECC",
}

// String returns the kind in words.
func (k Kind) String() string {
	if int(k) < len(kindNames) {
		return kindNames[k]
	}
	return "unknown"
}

// A Thickness is how far a module's parts stand off its card, in front and behind, at most, mm. The zero value is none
// that is known.
type Thickness struct{ Front, Back int }

// String writes both sides.
func (t Thickness) String() string {
	return fmt.Sprintf("up to %d mm in front, %d mm behind", t.Front, t.Back)
}
