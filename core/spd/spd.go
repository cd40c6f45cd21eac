// Package spd reads the EEPROM images of memory modules, from SDR to DDR5 and
// the low-power kinds: one file per generation, each with its table of fields
// at the top. It decodes; what an image is worth against other evidence is
// weighed in package evidence.
//
// Checksums and CRCs are verified and reported, never hidden: an image with a
// bad one is decoded all the same and says so.
//
// Overclocking profiles of both vendors' kinds are read as profiles, apart
// from the standard timings, each with its own check.
package spd

import (
	"bytes"
	"errors"
	"fmt"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/octet"
)

// A Module is what an EEPROM image says. A fact that the image does not state,
// or states by a code that its standard reserves, is unknown.
type Module struct {
	Generation jedec.Generation
	TypeCode   byte   // byte 2, or 1 for no known one
	Revision   string // of the SPD contents, "1.1"
	Form       jedec.Form
	Kind       jedec.Kind
	// SizeDisputed: the image states another size of a rank than its rows, columns and banks make; Capacity is what
	// these make.
	SizeDisputed bool
	Capacity     maybe.Value[jedec.Capacity]
	Ranks        maybe.Value[int] // package ranks; of a DDR5 module, in each half
	Width        maybe.Value[int] // data lines a chip
	Density      maybe.Value[int] // of a die, Mbit
	Dies         maybe.Value[int] // dies in a package
	Stacked      bool             // 3DS: the dies of a package share one load
	Asymmetric   bool             // ranks differ in width or density
	DataWidth    maybe.Value[int] // data lines without check bits, both halves together
	CheckBits    maybe.Value[int] // lines beside them
	SubBuses     maybe.Value[int] // independent halves: 2 for DDR5
	TCK          maybe.Value[jedec.Picoseconds]
	TAA          maybe.Value[jedec.Picoseconds]
	TRCD         maybe.Value[jedec.Picoseconds]
	TRP          maybe.Value[jedec.Picoseconds]
	TRAS         maybe.Value[jedec.Picoseconds]
	TRC          maybe.Value[jedec.Picoseconds]
	TRFC         maybe.Value[jedec.Picoseconds]
	Latencies    []jedec.Latency // all supported, shortest first
	MilliVolts   []int           // supplies it is operable at
	Thermal      maybe.Value[bool]
	HeightMM     maybe.Value[int] // at most so high; nominal
	Thickness    maybe.Value[jedec.Thickness]
	PMIC         string // what regulates the supply on a DDR5 module, "PMIC5100"
	Maker        jedec.MakerCode
	ChipMaker    jedec.MakerCode
	Part         string
	Serial       string // eight hexadecimal digits
	Year, Week   maybe.Value[int]
	Location     maybe.Value[byte]
	Checks       []Check
	Profiles     []Profile
	Notes        []string // what is odd, or missing and why
	Locked       bool     // only the first page of a DDR5 hub answers
	Itself       []string // of the notes, where the image contradicts itself
}

// A Check is a checksum or CRC over part of an image.
type Check struct {
	From, Last      int    // the bytes covered, both inclusive
	At              int    // where it is stored
	Expected, Found uint16 // as computed, as stored
}

// OK reports whether stored and computed agree.
func (c Check) OK() bool { return c.Expected == c.Found }

func (c Check) String() string {
	if c.OK() {
		return fmt.Sprintf("bytes %d to %d: ok", c.From, c.Last)
	}
	return fmt.Sprintf("bytes %d to %d: bad, 0x%04X is stored, the bytes make 0x%04X", c.From, c.Last, c.Found, c.Expected)
}

// A Profile is an overclocking profile as the image holds it.
type Profile struct {
	Name       string
	Rate       jedec.Rate
	TCK        jedec.Picoseconds
	CL         maybe.Value[jedec.Latency]
	TRCD, TRP  maybe.Value[int] // clocks
	TRAS, TRC  maybe.Value[int]
	MilliVolts maybe.Value[int]
	Check      maybe.Value[Check] // its own, where the version has one
}

// Checksum sums the checks up: "ok", "bad", or "none" where the image has
// none that could be tested.
func (m Module) Checksum() string {
	if len(m.Checks) == 0 {
		return "none"
	}
	for _, c := range m.Checks {
		if !c.OK() {
			return "bad"
		}
	}
	return "ok"
}

// Grade returns the fastest standard grade that the cycle time allows.
func (m Module) Grade() (jedec.Grade, bool) {
	tck, ok := m.TCK.Get()
	if !ok || tck <= 0 {
		return jedec.Grade{}, false
	}
	grades := jedec.Grades(m.Generation)
	for i := len(grades) - 1; i >= 0; i-- {
		// Images round cycle times either way: 1071 or 1072, 937 or 938.
		if x := grades[i]; tck <= x.TCK+x.TCK/200 {
			return x, true
		}
	}
	return jedec.Grade{}, false
}

// The kinds of failure, for callers that branch.
var (
	// ErrDamaged: the bytes can't be an EEPROM image of a module.
	ErrDamaged = errors.New("module EEPROM damaged")
	// ErrUnsupported: an image of a kind that is not decoded.
	ErrUnsupported = errors.New("module EEPROM of a kind that is not decoded")
)

// A FormatError says what is wrong with an image, and at which byte and field.
type FormatError struct {
	Kind  error // ErrDamaged or ErrUnsupported
	Byte  int
	Field string
	Want  string
	Have  string
}

func (e *FormatError) Error() string {
	return fmt.Sprintf("%v: byte %d, %s: expected %s, found %s", e.Kind, e.Byte, e.Field, e.Want, e.Have)
}

// Unwrap returns the kind of failure.
func (e *FormatError) Unwrap() error { return e.Kind }

// MaxSize is the largest image, in bytes: a DDR5 hub's.
const MaxSize = 1024

// typeByte is where every standard since SDR has the memory type (fundamental
// memory type, JESD21-C 4.1.2; JESD400-5 byte 2).
const typeByte = 2

// decoders by memory type, with the fewest bytes that make sense of it.
var decoders = map[byte]struct {
	generation jedec.Generation
	least      int
	decode     func(*image)
}{
	0x04: {jedec.SDR, 64, decodeSDR},
	0x07: {jedec.DDR, 64, decodeDDR},
	0x08: {jedec.DDR2, 64, decodeDDR2},
	0x09: {jedec.DDR2, 128, decodeFBDIMM},
	0x0B: {jedec.DDR3, 128, decodeDDR3},
	0x0C: {jedec.DDR4, 256, decodeDDR4},
	0x0E: {jedec.DDR4, 256, decodeDDR4}, // DDR4E
	0x0F: {jedec.LPDDR3, 128, decodeLowPower},
	0x10: {jedec.LPDDR4, 128, decodeLowPower},
	0x11: {jedec.LPDDR4X, 128, decodeLowPower},
	0x12: {jedec.DDR5, 256, decodeDDR5},
	0x13: {jedec.LPDDR5, 128, decodeLowPower},
	0x15: {jedec.LPDDR5X, 128, decodeLowPower},
}

// otherTypes are memory types that exist and are not decoded.
var otherTypes = map[byte]string{
	0x01: "fast-page DRAM", 0x02: "EDO DRAM", 0x03: "pipelined nibble DRAM", 0x05: "ROM", 0x06: "DDR SGRAM",
	0x0A: "DDR2 fully buffered, probe", 0x14: "DDR5 non-volatile",
}

// Decode reads an image. Errors wrap ErrDamaged or ErrUnsupported; an image
// that is merely cut short is decoded as far as it goes, and Notes says what
// is missing.
func Decode(data []byte) (Module, error) { return decode(data, octet.Over(data)) }

func decode(data []byte, window octet.Window) (Module, error) {
	damaged := func(at int, field, want, have string) error {
		return &FormatError{Kind: ErrDamaged, Byte: at, Field: field, Want: want, Have: have}
	}
	if len(data) > MaxSize {
		return Module{}, damaged(MaxSize, "end of the image", fmt.Sprintf("at most %d bytes", MaxSize), fmt.Sprint(len(data)))
	}
	if len(data) <= typeByte {
		return Module{}, damaged(len(data), "memory type", "3 bytes or more", fmt.Sprint(len(data)))
	}
	if same, ok := allAlike(data); ok {
		return Module{}, damaged(0, "the whole image", "an EEPROM's contents",
			fmt.Sprintf("0x%02X throughout: an erased or absent chip", same))
	}
	code := data[typeByte]
	d, ok := decoders[code]
	if !ok {
		e := &FormatError{Kind: ErrDamaged, Byte: typeByte, Field: "memory type", Want: "a known type code",
			Have: fmt.Sprintf("0x%02X", code)}
		if name, exists := otherTypes[code]; exists {
			e.Kind, e.Have = ErrUnsupported, fmt.Sprintf("0x%02X, %s", code, name)
		}
		return Module{}, e
	}
	if code == ddr5Code && lockedHub(data) {
		im := image{Window: octet.Over(data[:hubPage])}
		im.Generation, im.TypeCode, im.Locked = d.generation, code, true
		im.note("only the first %d bytes answer, so ranks, size, maker and part are not known: the hub that holds them is "+
			"locked, not damaged", hubPage)
		im.Checks, im.Latencies = make([]Check, 0, 2), make([]jedec.Latency, 0, 16)
		d.decode(&im)
		return im.Module, nil
	}
	if len(data) < d.least {
		return Module{}, damaged(len(data), "end of the image",
			fmt.Sprintf("at least %d bytes of a %v module", d.least, d.generation), fmt.Sprint(len(data)))
	}
	im := image{Window: window}
	im.Generation, im.TypeCode = d.generation, code
	im.Checks, im.Latencies = make([]Check, 0, 2), make([]jedec.Latency, 0, 16)
	d.decode(&im)
	return im.Module, nil
}

// ddr5Code is the memory type of DDR5, whose EEPROM is read in pages behind a register of
// its hub (JESD300-5, MR11).
const (
	ddr5Code = 0x12
	hubPage  = 128
)

// lockedHub reports whether only the hub's first page answers: nothing stands behind it, or
// each further page reads as the first, since the page register may not be written.
func lockedHub(data []byte) bool {
	if len(data) == hubPage {
		return true
	}
	if len(data) < 2*hubPage || len(data)%hubPage != 0 {
		return false
	}
	for at := hubPage; at < len(data); at += hubPage {
		if !bytes.Equal(data[:hubPage], data[at:at+hubPage]) {
			return false
		}
	}
	return true
}

func allAlike(data []byte) (byte, bool) {
	for _, b := range data {
		if b != data[0] {
			return 0, false
		}
	}
	return data[0], data[0] == 0 || data[0] == 0xFF
}
