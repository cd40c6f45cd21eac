package jedec

import (
	"cmp"
	_ "embed"
	"encoding/json"
	"fmt"
	"math/bits"
	"strconv"
	"strings"
)

// A MakerCode is a manufacturer's number in JEP106: a bank and a code within
// it. The zero value is no code.
type MakerCode struct {
	Bank int  // 1 for codes without continuation bytes (0x7F), 2 for one, and so on
	Code byte // without the parity bit, 1 to 126
}

// MaxBank is the number of banks that the embedded edition fills (JEP106BF.01,
// October 2022).
const MaxBank = 15

// MakerFromSPD returns the code that an EEPROM of DDR3 and later holds in two
// bytes: the number of continuation bytes and the code, both with odd parity
// in bit 7. ok is false where a parity is wrong or there is no such code; then
// the code is what the bits say all the same, for showing.
func MakerFromSPD(count, code byte) (m MakerCode, ok bool) {
	m = MakerCode{Bank: int(count&0x7F) + 1, Code: code & 0x7F}
	return m, odd(count) && odd(code) && m.valid()
}

// MakerFromContinuation returns the code that an EEPROM up to DDR2 holds in
// eight bytes: continuation bytes 0x7F, then the code with odd parity.
func MakerFromContinuation(id []byte) (m MakerCode, ok bool) {
	m.Bank = 1
	for _, b := range id {
		if b == 0x7F {
			m.Bank++
			continue
		}
		m.Code = b & 0x7F
		return m, odd(b) && m.valid()
	}
	return MakerCode{}, false
}

func odd(b byte) bool { return bits.OnesCount8(b)%2 == 1 }

func (m MakerCode) valid() bool {
	return m.Bank >= 1 && m.Bank <= 128 && m.Code >= 1 && m.Code <= 0x7E
}

// WithParity returns the code byte with its odd parity bit, as EEPROMs hold it.
func (m MakerCode) WithParity() byte {
	if odd(m.Code) {
		return m.Code
	}
	return m.Code | 0x80
}

// Known reports whether m is a code at all.
func (m MakerCode) Known() bool { return m.valid() }

// String names the maker, or writes bank and code where the edition has none:
// "bank 16, code 0x83".
func (m MakerCode) String() string {
	if name := m.Name(); name != "" {
		return name
	}
	return fmt.Sprintf("bank %d, code 0x%02X", m.Bank, m.WithParity())
}

// Name returns the maker's name, empty where the edition has none.
func (m MakerCode) Name() string {
	for lo, hi := 0, len(makersCSV); m.valid() && lo < hi; {
		start := strings.LastIndexByte(makersCSV[lo:(lo+hi)/2], '\n') + 1 + lo // of the line in the middle
		line, _, _ := strings.Cut(makersCSV[start:], "\n")
		of, name := makerRow(line)
		switch order := cmp.Or(cmp.Compare(of.Bank, m.Bank), cmp.Compare(of.Code, m.Code)); {
		case order == 0:
			return name
		case order < 0:
			lo = start + len(line) + 1
		default:
			hi = start
		}
	}
	return ""
}

// makerRow takes a line of the list apart; its title comes out as bank 0, before all makers.
func makerRow(line string) (m MakerCode, name string) {
	bank, rest, _ := strings.Cut(line, ",")
	code, name, _ := strings.Cut(rest, ",")
	m.Bank, _ = strconv.Atoi(bank)
	c, _ := strconv.ParseUint(code, 0, 8)
	m.Code = byte(c)
	if quoted, ok := strings.CutPrefix(name, `"`); ok {
		name = strings.ReplaceAll(strings.TrimSuffix(quoted, `"`), `""`, `"`)
	}
	return m, name
}

// MarshalJSON writes the shape that the contract promises: bank, code with
// parity, name or null.
func (m MakerCode) MarshalJSON() ([]byte, error) {
	if !m.valid() {
		return []byte("null"), nil
	}
	out := struct {
		Bank int     `json:"bank"`
		Code string  `json:"code"`
		Name *string `json:"name"`
	}{Bank: m.Bank, Code: fmt.Sprintf("0x%02X", m.WithParity())}
	if name := m.Name(); name != "" {
		out.Name = &name
	}
	return json.Marshal(out)
}

// makersCSV has a row a maker: bank, code without parity, name, in the order of banks and
// codes. Edition of October 2022, from a public copy of the list. It is searched as it is: to
// take it apart at each start would cost a tenth of what a page costs.
//
//go:embed makers.csv
var makersCSV string

// ParseMaker recognises a maker code in the ways in which firmware writes
// one into a string: "80CE" and "CE80" (bank and code with parity, in either
// order), "0x80CE", "CE" (bank 1), "7F7F7F0B00000000" (continuation bytes),
// "80CE000080CE" (padded, or the DRAM maker behind). ok is false where the
// string is no such code or could be two; a name is no code.
func ParseMaker(s string) (m MakerCode, ok bool) {
	text := strings.TrimPrefix(strings.TrimPrefix(strings.TrimSpace(s), "0x"), "0X")
	text = strings.NewReplacer(" ", "", "-", "", ":", "").Replace(text)
	if len(text) == 0 || len(text)%2 != 0 || len(text) > 32 {
		return m, false
	}
	id := make([]byte, len(text)/2)
	for i := range id {
		b, err := strconv.ParseUint(text[2*i:2*i+2], 16, 8)
		if err != nil {
			return m, false
		}
		id[i] = byte(b)
	}
	switch {
	case len(id) == 1:
		m = MakerCode{Bank: 1, Code: id[0] & 0x7F}
		return m, odd(id[0]) && m.valid()
	case id[0] == 0x7F:
		m, ok = MakerFromContinuation(id)
		return m, ok && allZero(id[m.Bank:])
	case !paddedOrTwice(id):
		return m, false
	}
	return bankAndCode(id[0], id[1])
}

// paddedOrTwice reports whether everything behind the first two bytes is
// padding, or ends in a second maker (the DRAM's).
func paddedOrTwice(id []byte) bool {
	rest := id[2:]
	return len(rest) <= 2 || allZero(rest) || allZero(rest[:len(rest)-2])
}

func allZero(b []byte) bool {
	for _, x := range b {
		if x != 0 {
			return false
		}
	}
	return true
}

// bankAndCode takes two bytes in whichever order makes a code. The count of
// continuation bytes comes with its parity or bare.
func bankAndCode(a, b byte) (MakerCode, bool) {
	read := func(count, code byte) (MakerCode, bool) {
		m := MakerCode{Bank: int(count&0x7F) + 1, Code: code & 0x7F}
		plausible := count < MaxBank || odd(count) && m.Bank <= MaxBank
		return m, plausible && odd(code) && m.valid()
	}
	first, ok1 := read(a, b)
	second, ok2 := read(b, a)
	switch {
	case ok1 && ok2:
		// Both orders make a code: only a name tells them apart.
		named1, named2 := first.Name() != "", second.Name() != ""
		if named1 == named2 {
			return MakerCode{}, false
		}
		ok1 = named1
	case !ok1 && !ok2:
		return MakerCode{}, false
	}
	if ok1 {
		return first, true
	}
	return second, true
}
