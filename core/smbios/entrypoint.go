package smbios

import (
	"bytes"
	"fmt"

	"epitome/core/octet"
)

// A Version is the version of DSP0134 that a table says it follows.
type Version struct{ Major, Minor uint8 }

// String writes the version as "3.2".
func (v Version) String() string { return fmt.Sprintf("%d.%d", v.Major, v.Minor) }

// An EntryPoint tells where a table lies and how long it is. The address is
// of no use once the table has been read, and is kept for showing only.
type EntryPoint struct {
	Anchor      string // "_SM_", "_SM3_" or "_DMI_"
	Version     Version
	TableLength int    // bytes; for _SM3_ an upper bound
	Structures  int    // number of structures, 0 where the form does not say (_SM3_)
	Address     uint64 // physical address of the table
}

// Exact reports whether TableLength is the table's length and not merely an
// upper bound.
func (e EntryPoint) Exact() bool { return e.Anchor != "_SM3_" }

// Layout of the three entry points, DSP0134 3.8 clauses 5.2.1 (32-bit),
// 5.2.2 (64-bit); the intermediate part of the 32-bit form stands alone as
// the legacy entry point.
const (
	epSM3Length   = 0x06 // byte: length of the 64-bit entry point, 0x18
	epSM3Major    = 0x07
	epSM3Minor    = 0x08
	epSM3MaxSize  = 0x0C // dword
	epSM3Address  = 0x10 // qword
	epSMLength    = 0x05 // byte: length of the 32-bit entry point, 0x1F
	epSMMajor     = 0x06
	epSMMinor     = 0x07
	epSMInner     = 0x10 // start of the intermediate part, "_DMI_"
	epDMISize     = 0x0F // bytes of the intermediate part
	epDMITableLen = 0x06 // word
	epDMIAddress  = 0x08 // dword
	epDMICount    = 0x0C // word
	epDMIRevision = 0x0E // byte, packed major and minor
)

// ParseEntryPoint reads an entry point of any of the three forms and checks
// its checksums. Bytes after it are left alone. Errors wrap ErrEntryPoint.
func ParseEntryPoint(image []byte) (EntryPoint, error) {
	w := octet.Over(image)
	switch {
	case bytes.HasPrefix(image, []byte("_SM3_")):
		return parseSM3(w)
	case bytes.HasPrefix(image, []byte("_SM_")):
		return parseSM(w)
	case bytes.HasPrefix(image, []byte("_DMI_")):
		return parseDMI(w)
	}
	have := "nothing at all"
	if len(image) > 0 {
		have = fmt.Sprintf("% X", image[:min(len(image), 5)])
	}
	return EntryPoint{}, &FormatError{Kind: ErrEntryPoint, Where: "anchor", Want: "_SM_, _SM3_ or _DMI_", Have: have}
}

// checked returns the first n bytes of w after testing that they are there
// and sum to zero.
func checked(w octet.Window, n int, name string) (octet.Window, error) {
	sub, ok := w.Slice(0, n)
	if !ok {
		return sub, &FormatError{Kind: ErrEntryPoint, Offset: w.At(), Where: name,
			Want: fmt.Sprintf("%d bytes", n), Have: fmt.Sprintf("%d", w.Len())}
	}
	if sum, _ := sub.Sum(n); sum != 0 {
		return sub, &FormatError{Kind: ErrEntryPoint, Offset: w.At(), Where: name + " checksum",
			Want: "bytes that sum to 0x00", Have: fmt.Sprintf("0x%02X", sum)}
	}
	return sub, nil
}

func parseSM3(w octet.Window) (EntryPoint, error) {
	n, _ := w.Byte(epSM3Length)
	if n < 0x18 {
		return EntryPoint{}, &FormatError{Kind: ErrEntryPoint, Offset: epSM3Length, Where: "length of the 64-bit entry point",
			Want: "24 or more", Have: fmt.Sprint(n)}
	}
	w, err := checked(w, int(n), "64-bit entry point")
	if err != nil {
		return EntryPoint{}, err
	}
	e := EntryPoint{Anchor: "_SM3_"}
	e.Version.Major, _ = w.Byte(epSM3Major)
	e.Version.Minor, _ = w.Byte(epSM3Minor)
	size, _ := w.DWord(epSM3MaxSize)
	e.TableLength = int(size)
	e.Address, _ = w.QWord(epSM3Address)
	return e, nil
}

func parseSM(w octet.Window) (EntryPoint, error) {
	n, _ := w.Byte(epSMLength)
	if n == 0x1E {
		// Version 2.1 printed 0x1E by mistake; firmware copied it (DSP0134 5.2.1, length).
		n = 0x1F
	}
	if n < 0x1F {
		return EntryPoint{}, &FormatError{Kind: ErrEntryPoint, Offset: epSMLength, Where: "length of the 32-bit entry point",
			Want: "31 or more", Have: fmt.Sprint(n)}
	}
	outer, err := checked(w, int(n), "32-bit entry point")
	if err != nil {
		return EntryPoint{}, err
	}
	e, err := parseDMI(outer.From(epSMInner))
	if err != nil {
		return EntryPoint{}, err
	}
	e.Anchor = "_SM_"
	e.Version.Major, _ = outer.Byte(epSMMajor)
	e.Version.Minor, _ = outer.Byte(epSMMinor)
	e.Version = knownSlip(e.Version)
	return e, nil
}

// knownSlip mends version numbers that firmware is known to write wrongly:
// 2.31 and 2.33 stand for 2.3, 2.51 for 2.6 (the fields of a 2.6 table are
// there). Structure lengths decide what is read either way.
func knownSlip(v Version) Version {
	switch v {
	case Version{2, 0x1F}, Version{2, 0x21}:
		return Version{2, 3}
	case Version{2, 0x33}:
		return Version{2, 6}
	}
	return v
}

func parseDMI(w octet.Window) (EntryPoint, error) {
	w, err := checked(w, epDMISize, "intermediate entry point")
	if err != nil {
		return EntryPoint{}, err
	}
	if !bytes.HasPrefix(w.Bytes(), []byte("_DMI_")) {
		return EntryPoint{}, &FormatError{Kind: ErrEntryPoint, Offset: w.At(), Where: "intermediate anchor",
			Want: "_DMI_", Have: fmt.Sprintf("% X", w.Bytes()[:5])}
	}
	e := EntryPoint{Anchor: "_DMI_"}
	length, _ := w.Word(epDMITableLen)
	count, _ := w.Word(epDMICount)
	address, _ := w.DWord(epDMIAddress)
	revision, _ := w.Byte(epDMIRevision)
	e.TableLength, e.Structures, e.Address = int(length), int(count), uint64(address)
	e.Version = Version{revision >> 4, revision & 0x0F}
	return e, nil
}
