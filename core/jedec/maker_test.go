package jedec_test

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"os"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
)

func TestMakerCodes(t *testing.T) {
	m, ok := jedec.MakerFromSPD(0x80, 0xCE)
	assert.True(t, ok)
	assert.Equal(t, jedec.MakerCode{Bank: 1, Code: 0x4E}, m)
	assert.Equal(t, "Samsung", m.String())
	assert.Equal(t, byte(0xCE), m.WithParity())

	m, ok = jedec.MakerFromSPD(0x01, 0x98)
	assert.True(t, ok)
	assert.Equal(t, jedec.MakerCode{Bank: 2, Code: 0x18}, m)

	_, ok = jedec.MakerFromSPD(0x80, 0x4E)
	assert.False(t, ok, "even parity")
	_, ok = jedec.MakerFromSPD(0x81, 0xCE)
	assert.False(t, ok)
	_, ok = jedec.MakerFromSPD(0x80, 0x80)
	assert.False(t, ok, "0 is no code")

	m, ok = jedec.MakerFromContinuation([]byte{0x7F, 0x7F, 0x7F, 0x0B, 0, 0, 0, 0})
	assert.True(t, ok)
	assert.Equal(t, "Nanya Technology", m.String())
	_, ok = jedec.MakerFromContinuation([]byte{0x7F, 0x7F})
	assert.False(t, ok)

	assert.Equal(t, "bank 16, code 0x83", jedec.MakerCode{Bank: 16, Code: 3}.String(), "beyond the edition")
	text, err := json.Marshal([]jedec.MakerCode{{Bank: 1, Code: 0x4E}, {Bank: 16, Code: 3}, {}})
	require.NoError(t, err)
	assert.JSONEq(t, `[{"bank":1,"code":"0xCE","name":"Samsung"},{"bank":16,"code":"0x83","name":null},null]`,
		string(text))
}

// Every row of the list is found, though the list is searched as a text.
func TestEveryMakerOfTheListIsFound(t *testing.T) {
	text, err := os.ReadFile("makers.csv")
	require.NoError(t, err)
	rows, err := csv.NewReader(bytes.NewReader(text)).ReadAll()
	require.NoError(t, err)
	require.Greater(t, len(rows), 1700)
	for _, row := range rows[1:] {
		bank, err := strconv.Atoi(row[0])
		require.NoError(t, err)
		code, err := strconv.ParseUint(row[1], 0, 8)
		require.NoError(t, err)
		assert.Equal(t, row[2], jedec.MakerCode{Bank: bank, Code: byte(code)}.Name(), row)
	}
	for _, none := range []jedec.MakerCode{{}, {Bank: 1}, {Bank: 1, Code: 0x7F}, {Bank: 99, Code: 9}} {
		assert.Empty(t, none.Name(), none)
	}
}

func TestMakerStringsAsFirmwareWritesThem(t *testing.T) {
	for s, want := range map[string]jedec.MakerCode{
		"80CE": {Bank: 1, Code: 0x4E}, "CE80": {Bank: 1, Code: 0x4E}, "0x80CE": {Bank: 1, Code: 0x4E},
		"CE":           {Bank: 1, Code: 0x4E},
		"80CE000080CE": {Bank: 1, Code: 0x4E}, "00CE": {Bank: 1, Code: 0x4E}, "CE00000000000000": {Bank: 1, Code: 0x4E},
		"0198": {Bank: 2, Code: 0x18}, "9801": {Bank: 2, Code: 0x18}, "04CB": {Bank: 5, Code: 0x4B},
		"80 ad":            {Bank: 1, Code: 0x2D},
		"7F7F7F0B00000000": {Bank: 4, Code: 0x0B}, "859B": {Bank: 6, Code: 0x1B}, " 802C ": {Bank: 1, Code: 0x2C},
	} {
		got, ok := jedec.ParseMaker(s)
		assert.True(t, ok, s)
		assert.Equal(t, want, got, s)
	}
	for _, s := range []string{"", "Marram", "0000", "FFFF", "C", "80CEZZ", "8000", "80CE12345678", "7F7F7F7F", "7F",
		"BEEFBEEFBEEFBEEFBEEF", "CAFEBABE0000", "7F7F7F0B00000001", "7F7F7F7F00000000"} {
		_, ok := jedec.ParseMaker(s)
		assert.False(t, ok, s)
	}
}

// Every code of every bank comes back from the ways in which it is written,
// or is refused because it could be two; it never becomes another maker.
func TestMakerStringsNeverBecomeAnotherMaker(t *testing.T) {
	read := 0
	for bank := 1; bank <= jedec.MaxBank; bank++ {
		for code := byte(1); code <= 0x7E; code++ {
			m := jedec.MakerCode{Bank: bank, Code: code}
			count := jedec.MakerCode{Code: byte(bank - 1)}.WithParity()
			for _, s := range []string{fmt.Sprintf("%02X%02X", count, m.WithParity()),
				fmt.Sprintf("%02X%02X", m.WithParity(), count)} {
				if got, ok := jedec.ParseMaker(s); ok && m.Name() != "" {
					require.Equal(t, m, got, s)
					read++
				}
			}
		}
	}
	assert.Greater(t, read, 3000)
}

func FuzzParseMaker(f *testing.F) {
	f.Add("80CE")
	f.Add("7F7F7F0B00000000")
	f.Fuzz(func(t *testing.T, s string) {
		if m, ok := jedec.ParseMaker(s); ok {
			require.True(t, m.Known())
			require.NotEmpty(t, m.String())
		}
	})
}
