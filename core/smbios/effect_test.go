package smbios_test

import (
	"fmt"
	"reflect"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/smbios"
	"epitome/core/smbios/compose"
	"epitome/golden"
	"epitome/truth/effort"
)

// originals are one structure of each type that is read, all fields filled; the device in three ways.
func originals() []compose.Structure {
	identity := compose.Identity{FirmwareVendor: "Quay", FirmwareVersion: "1.2", FirmwareDate: "03/18/2019",
		Maker:   "Halyard",
		Product: "Gull 14", Version: "B", Serial: "H0001", Family: "Gull", BoardMaker: "Groyne", Board: "GBX",
		BoardSerial: "G7",
		ChassisKind: 10}
	device := compose.Device{Handle: 17, Array: 0x1000, TotalBits: 72, DataBits: 64, MiB: 8192, Form: 0x0D, Type: 0x1A,
		Detail: 0x4080, Locator: "DIMM A", Bank: "BANK 0", Speed: 2400, Configured: 2133, Maker: "Marram", Serial: "0A0B0C0D",
		Asset: "none", Part: "MR4S-8G24", Rank: 2, MilliVolts: 1200}
	wide := device
	wide.MiB = 65536
	full := device.Structure() // with the fields of 3.2 and 3.3
	full.Body = append(full.Body, 3, 8, 0, 0, 0x80, 0xCE, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0,
		0, 0, 0, 0,
		0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0)
	return append(
		identity.Structures(),
		compose.Processor(4, "CPU 0", "Quay", "Petrel P5-8240", 0xBFEBFBFF000806EA, 3400, 4),
		compose.Structure{Type: 5, Handle: 5, Body: []byte{4, 5, 3, 3, 8, 0x0C, 0, 4, 0, 7, 2, 6, 0, 7, 0, 4}},
		compose.Structure{Type: 6, Handle: 6, Body: []byte{1, 0x01, 60, 0x80, 0x05, 0x88, 0x88, 0},
			Strings: []string{"BANK 1"}},
		compose.Structure{Type: 7, Handle: 7, Body: []byte{1, 0x82, 1, 0, 1, 0, 1, 2, 0, 2, 0, 0, 5, 5, 7, 0, 1, 0, 0, 0,
			1, 0, 0},
			Strings: []string{"L3"}},
		compose.Array(16, 32<<20, 2),
		compose.Array(0x16, 1<<32, 8),
		device.Structure(),
		wide.Structure(),
		full,
		compose.Structure{
			Type:   18,
			Handle: 18,
			Body:   []byte{4, 2, 2, 0, 0, 0, 0, 0, 0, 0x10, 0, 0, 0, 0x20, 0, 0, 0, 0, 1},
		},
		compose.Mapped(19, 0x1000, 8<<20),
		compose.Structure{Type: 20, Handle: 20, Body: []byte{0, 0, 0, 0, 0xFF, 0xFF, 0x7F, 0, 17, 0, 19, 0, 1, 1, 2,
			0, 0, 0, 0, 0, 0, 0, 0, 0xFF, 0xFF, 0xFF, 0xFF, 1, 0, 0, 0}},
	)
}

// says lists every field of what was decoded.
func says(v smbios.Inventory) map[string]string {
	out := map[string]string{"notes": strings.Join(v.Notes, "; ")}
	all := reflect.ValueOf(v)
	for i := range all.NumField() {
		list, name := all.Field(i), all.Type().Field(i).Name
		if list.Kind() != reflect.Slice || name == "Notes" {
			continue
		}
		for n := range list.Len() {
			for k := range list.Index(n).NumField() {
				out[strings.ToLower(name)+"."+list.Index(n).Type().Field(k).Name] = fmt.Sprintf("%+v", list.Index(n).Field(k))
			}
		}
	}
	for _, d := range v.SystemDevices() {
		out["system device"] = fmt.Sprintf("%+v", d)
	}
	out["old maximum"] = fmt.Sprintf("%+v", v.OldMaximum())
	return out
}

// What each byte of each structure says: the fields that change with it, and what they become with no bit, every bit
// and its lowest bit turned; of words, with those that mean something else. Then what a structure cut short at each
// length still says.
func TestEffectOfEachByte(t *testing.T) {
	effort.NotShort(t)
	for n, s := range originals() {
		var page strings.Builder
		decode := func(body []byte) map[string]string {
			v, err := smbios.Decode(compose.Table(compose.Structure{Type: s.Type, Handle: s.Handle, Body: body,
				Strings: s.Strings}),
				smbios.EntryPoint{})
			require.NoError(t, err)
			return says(v)
		}
		base := decode(s.Body)
		fmt.Fprintf(&page, "## type %d, %d bytes\n", s.Type, 4+len(s.Body))
		var names []string
		for name := range base {
			names = append(names, name)
		}
		slices.Sort(names)
		for _, name := range names {
			fmt.Fprintf(&page, "%s: %s\n", name, base[name])
		}
		shared, err := smbios.Decode(smbios.Understood(compose.Table(s), smbios.EntryPoint{},
			func(text string) string { return "~" + text[:1] }), smbios.EntryPoint{})
		require.NoError(t, err)
		for _, name := range names {
			if now := says(shared)[name]; now != base[name] {
				fmt.Fprintf(&page, "shared: %s: %s\n", name, now)
			}
		}
		for at, was := range s.Body {
			var fields []string
			becomes := make(map[string][]string)
			for i, with := range [][]byte{{0}, {0xFF}, {was ^ 1}, {was ^ 0x10}, {was ^ 0x80}, {0, 0}, {0xFF, 0xFF}, {0xFE, 0xFF},
				{0xFF, 0x7F}, {0, 0x80}} {
				body := slices.Clone(s.Body)
				copy(body[at:], with)
				now := decode(body)
				for _, name := range names {
					if now[name] != base[name] {
						if i < 5 { // what a byte alone changes is what it says
							fields = append(fields, name)
						}
						becomes[name] = append(becomes[name], now[name])
					}
				}
			}
			slices.Sort(fields)
			for _, name := range slices.Compact(fields) {
				list := slices.Compact(becomes[name])
				for i, value := range list {
					list[i] = value[:min(len(value), 16)]
				}
				fmt.Fprintf(&page, "byte %#x: %s %s\n", 4+at, name, strings.Join(list[:1], ", "))
			}
		}
		last := ""
		for n := range len(s.Body) + 1 {
			now, lost := decode(s.Body[:n]), []string(nil)
			for _, name := range names {
				if now[name] != base[name] {
					lost = append(lost, name+"="+now[name])
				}
			}
			if text := strings.Join(lost, ", "); text != last {
				fmt.Fprintf(&page, "cut at %#x: %s\n", 4+n, text)
				last = text
			}
		}
		golden.Compare(t, fmt.Sprintf("testdata/effects/%02d-type-%d.txt", n+1, s.Type), page.String())
	}
}

// What each byte of each form of an entry point says, the checksums made right again, and what of a file is its table;
// then what one that is cut short at each length still says.
func TestEffectOfEachByteOfAFile(t *testing.T) {
	table := compose.Table(append(originals()[:2], compose.Array(16, 32<<20, 2))...)
	sum := func(b []byte, at, from, n int) {
		if len(b) < from+n || at >= len(b) {
			return
		}
		b[at] = 0
		total := byte(0)
		for _, x := range b[from : from+n] {
			total += x
		}
		b[at] = -total
	}
	var page strings.Builder
	for _, f := range []struct {
		name  string
		entry []byte
		mend  func([]byte)
	}{
		{"64 bits", compose.EntryPoint64(3, 2, len(table)), func(b []byte) { sum(b, 5, 0, 24) }},
		{"32 bits", compose.EntryPoint32(2, 8, len(table), 3), func(b []byte) { sum(b, 21, 16, 15); sum(b, 4, 0, 31) }},
		{"old", compose.EntryPoint32(2, 0, len(table), 3)[16:], func(b []byte) { sum(b, 5, 0, 15) }},
		{"of another system", smbios.RawFile(nil, smbios.Version{Major: 3, Minor: 1})[:4], func([]byte) {}},
	} {
		whole := append(append([]byte{}, f.entry...), table...)
		if f.name == "of another system" {
			whole = smbios.RawFile(table, smbios.Version{Major: 3, Minor: 1})
		}
		says := func(image []byte) string {
			e, tab, err := smbios.SplitFile(image)
			if err != nil {
				return err.Error()
			}
			return fmt.Sprintf("%v, %d bytes in %d structures at %#x, exact %v; the file's table has %d", e, e.TableLength,
				e.Structures,
				e.Address, e.Exact(), len(tab))
		}
		base := says(whole)
		fmt.Fprintf(&page, "## %s\n%s\n", f.name, base)
		var order []string
		by := make(map[string][]string)
		try := func(what string, image []byte) {
			now := says(image)
			if by[now] == nil {
				order = append(order, now)
			}
			by[now] = append(by[now], what)
		}
		for at := range min(len(whole)-len(table)+8, len(whole)) {
			image := append([]byte{}, whole...)
			image[at]++
			if _, _, err := smbios.SplitFile(image); at < len(f.entry) && f.name != "of another system" {
				assert.Error(t, err, "%s: byte %d is wrong, and its sum as it was", f.name, at)
			}
			f.mend(image)
			try(fmt.Sprintf("%#x", at), image)
		}
		for _, now := range order {
			fmt.Fprintf(&page, "%s\n    %s\n", now, strings.Join(by[now], ", "))
		}
		var cuts []string
		from := 0
		for n := range len(whole) + 1 {
			if n == len(whole) || n > from && says(whole[:n]) != says(whole[:from]) {
				cuts, from = append(
					cuts,
					fmt.Sprintf("cut at %d to %d: %s", from, n-1, numbers.ReplaceAllString(says(whole[:from]), "N")),
				), n
			}
		}
		for i, text := range cuts {
			_, says, _ := strings.Cut(text, ": ")
			if i == 0 || !strings.HasSuffix(cuts[i-1], ": "+says) {
				fmt.Fprintln(&page, text)
			}
		}
	}
	golden.Compare(t, "testdata/files.txt", page.String())
}

// numbers are figures that change with every byte.
var numbers = regexp.MustCompile(`\b\d+\b`)
