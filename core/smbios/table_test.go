package smbios_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/smbios"
	"epitome/core/smbios/compose"
	"epitome/golden"
)

func TestWalkReadsStringsByNumber(t *testing.T) {
	table := compose.Table(compose.Structure{Type: 1, Handle: 7, Body: []byte{2, 1, 0, 9},
		Strings: []string{"first", "se\x1b[31mcond\x00"}})
	walked, err := smbios.ParseTable(table, smbios.EntryPoint{})
	require.ErrorIs(t, err, smbios.ErrTable,
		"the zero inside the string ends the set early, and what follows is no structure")
	s := walked.Structures[0]
	text, missing := s.Text(4)
	assert.Equal(t, "se [31mcond", text, "a terminal escape is cleaned")
	assert.False(t, missing)
	text, _ = s.Text(5)
	assert.Equal(t, "first", text)
	text, missing = s.Text(6)
	assert.Equal(t, "", text)
	assert.False(t, missing, "number 0 means no string")
	_, missing = s.Text(7)
	assert.True(t, missing, "number 9 has no string")
	text, missing = s.Text(200)
	assert.Equal(t, "", text)
	assert.False(t, missing, "a field behind the structure's end is absent, not damaged")
}

func TestDamagedTableKeepsWhatStoodBefore(t *testing.T) {
	good := compose.Array(0x1000, 16<<20, 2).Bytes()
	for _, c := range []struct {
		name, says string
		tail       []byte
	}{
		{"header cut", "structure header: expected 4 bytes, found 3 before the end", []byte{17, 40, 0}},
		{"length below the header", "structure 0x1100 (type 17), length: expected 4 or more, found 2",
			[]byte{17, 2, 0, 0x11, 0, 0}},
		{"area cut", "structure 0x1100 (type 17), formatted area: expected 40 bytes, found 6 before the end",
			[]byte{17, 40, 0, 0x11, 0, 0}},
		{"strings without end", "strings: expected two zero bytes at their end, found the end of the table",
			[]byte{1, 4, 0, 1, 'a', 'b'}},
	} {
		v, err := smbios.Decode(append(append([]byte{}, good...), c.tail...), smbios.EntryPoint{})
		require.ErrorIs(t, err, smbios.ErrTable, c.name)
		assert.Contains(t, err.Error(), c.says, c.name)
		assert.Contains(t, err.Error(), "offset 0x", c.name)
		assert.Len(t, v.Arrays, 1, c.name)
	}
}

func TestOdditiesThatDoNoHarmAreNoted(t *testing.T) {
	a := compose.Array(0x1000, 16<<20, 2)
	noted := func(image []byte, e smbios.EntryPoint) []string {
		walked, err := smbios.ParseTable(image, e)
		require.NoError(t, err)
		return walked.Notes
	}
	assert.Contains(t, noted(compose.Table(a, a), smbios.EntryPoint{}), "two structures carry the handle 0x1000")
	assert.Contains(t, noted(a.Bytes(), smbios.EntryPoint{}), "the table has no end mark")
	assert.Contains(t, noted(a.Bytes(), smbios.EntryPoint{Anchor: "_SM3_", TableLength: 4000}),
		"the table has no end mark")
	assert.NotContains(t, noted(a.Bytes(), smbios.EntryPoint{Anchor: "_SM_", Structures: 1, TableLength: 27}),
		"the table has no end mark", "as many as were announced need none")
	assert.Contains(t, noted(compose.Table(a), smbios.EntryPoint{Anchor: "_SM_", Structures: 9, TableLength: 4000}),
		"the entry point announces 9 structures, the table has 2")
	assert.Contains(t, noted(compose.Table(a), smbios.EntryPoint{Anchor: "_SM_", Structures: 2, TableLength: 4000}),
		"the entry point announces 4000 bytes, the table has 31")
	assert.Empty(t, noted(compose.Table(a), smbios.EntryPoint{Anchor: "_SM3_", TableLength: 4000}),
		"a 64-bit entry point gives an upper bound only")
}

func TestStructuresBeyondTheAnnouncedNumberAreRead(t *testing.T) {
	table := compose.Table(compose.Array(0x1000, 16<<20, 2),
		compose.Device{Handle: 0x1100, Array: 0x1000, MiB: 4096}.Structure())
	v, err := smbios.Decode(table, smbios.EntryPoint{Anchor: "_SM_", Structures: 1, TableLength: len(table)})
	require.NoError(t, err)
	assert.Len(t, v.Devices, 1)
}

func FuzzDecode(f *testing.F) {
	f.Add(capture(f, "q35-bios32-laptop-soldered", "DMI"))
	f.Add(capture(f, "q35-uefi64-6g-epyc-rome", "DMI"))
	f.Add(compose.Table(compose.Array(1, 1<<32, 65535), compose.Mapped(2, 1, 1)))
	f.Fuzz(func(t *testing.T, image []byte) {
		v, err := smbios.Decode(image, smbios.EntryPoint{})
		if err != nil {
			require.ErrorIs(t, err, smbios.ErrTable)
		}
		for _, d := range v.Devices {
			for _, s := range []string{d.Locator, d.Bank, d.Maker, d.Part, d.Serial} {
				for _, r := range s {
					require.GreaterOrEqual(t, r, ' ', "control character in %q", s)
				}
			}
			smbios.ParsePosition(d.Locator, d.Bank)
		}
	})
}

func FuzzSplitFile(f *testing.F) {
	table := compose.Table(compose.Array(1, 16<<20, 2))
	f.Add(append(compose.EntryPoint64(3, 2, len(table)), table...))
	f.Add(append(compose.EntryPoint32(2, 8, len(table), 2), table...))
	f.Add(append([]byte{0, 3, 2, 0, byte(len(table)), 0, 0, 0}, table...))
	f.Fuzz(func(t *testing.T, image []byte) {
		entry, table, err := smbios.SplitFile(image)
		if err != nil {
			require.ErrorIs(t, err, smbios.ErrEntryPoint)
			return
		}
		_, _ = smbios.Decode(table, entry)
	})
}

// benchmarkTable is a table of so many memory devices, filled up to 16 KiB
// with what firmware mostly holds: ports, slots and makers' own structures.
func benchmarkTable(devices int) []byte {
	var structures []compose.Structure
	for n := range devices {
		structures = append(structures,
			compose.Device{Handle: uint16(n), Array: 0x1000, MiB: 8192, Form: 9, Type: 0x1A, Locator: "DIMM_A1", Bank: "BANK 0",
				Speed: 2400, Maker: "Marram Memory", Serial: "4F21A09C", Part: "MR4S-8G24-17"}.Structure())
	}
	structures = append(structures,
		compose.Identity{Maker: "Halyard", Product: "Gull 14", ChassisKind: 10}.Structures()...)
	for n := uint16(0x2000); len(compose.Table(structures...)) < 16<<10; n++ {
		structures = append(structures,
			compose.Structure{Type: 8 + uint8(n%2)*213, Handle: n, Body: make([]byte, 20+n%40),
				Strings: []string{"J1A1", "Keyboard and mouse"}})
	}
	return compose.Table(structures...)
}

func BenchmarkDecode16KiB(b *testing.B) {
	for name, devices := range map[string]int{"8 places": 8, "places only": 147} {
		table := benchmarkTable(devices)
		b.Run(name, func(b *testing.B) {
			b.SetBytes(int64(len(table)))
			b.ReportAllocs()
			for b.Loop() {
				if _, err := smbios.Decode(table, smbios.EntryPoint{}); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// Where a table ends: by its end mark, by the number that the entry point announces, by the end of its bytes, or by
// damage; with bytes behind it or not, and handles that come twice or three times.
func TestWhereATableEnds(t *testing.T) {
	var page strings.Builder
	a, b := compose.Array(0x1000, 16<<20, 2), compose.Array(0x1001, 16<<20, 2)
	for name, structures := range map[string][]compose.Structure{"1": {a}, "2": {a, b}, "2 of one handle": {a, a},
		"3 of one handle": {a, a, a}} {
		bytes := compose.Table(structures...)
		bare := bytes[:len(bytes)-len(compose.Structure{Type: 127}.Bytes())]
		for _, end := range []struct {
			what  string
			bytes []byte
		}{
			{"end mark", bytes}, {"end mark and bytes behind it", append(slices.Clone(bytes), 9, 9, 9)}, {"no end mark", bare},
			{"no end mark and zeros", append(slices.Clone(bare), make([]byte, 8)...)},
			{"cut short", bytes[:len(bytes)-3]}, {"bytes that are no structure", append(slices.Clone(bare), 1, 2, 3, 4, 5, 6)},
		} {
			for announced := range 5 {
				var said []string
				for _, anchor := range []string{"_SM_", "_SM3_"} {
					got, err := smbios.ParseTable(end.bytes, smbios.EntryPoint{Anchor: anchor, Structures: announced,
						TableLength: len(bytes)})
					said = append(said, fmt.Sprintf("%d read, %q, %v", len(got.Structures), got.Notes, err))
				}
				fmt.Fprintf(&page, "%s, %s, %d announced: %s\n", name, end.what, announced,
					strings.Join(slices.Compact(said), "; by _SM3_ "))
			}
		}
	}
	lines := strings.Split(page.String(), "\n")
	slices.Sort(lines)
	golden.Compare(t, "testdata/ends.txt", strings.Join(lines[1:], "\n")+"\n")
}
