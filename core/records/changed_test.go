package records_test

import (
	"fmt"
	"hash/crc32"
	"strings"
	"testing"

	"epitome/core/records"
	"epitome/golden"
)

// texts are one of each sort of record, with how it is read.
var texts = []struct {
	name, text string
	read       func(text string) (any, error)
}{
	{"an export in JSON",
		`[{"CimClass":{"CimClassName":"Win32_PhysicalMemory"},"DeviceLocator":"A","Capacity":8589934592,` +
			`"Speed":2400,"Tag":null,"List":["a","b"],"Deep":{"x":[1,{"y":2}]}},{"value":[{"__CLASS":"Win32_Fan",` +
			`"Name":"f"},` +
			`{"CreationClassName":"Win32_PhysicalMemoryArray","MaxCapacity":"33554432","MemoryDevices":2}]}]`, readCIM},
	{"an export in CSV", "#TYPE Selected\n\"DeviceLocator\",\"Capacity\",\"FormFactor\",\"Speed\"\n\"A\"," +
		"\"8589934592\",\"12\",\"2400\"\n" +
		"\"B\",,\"12\"\n\nMaxCapacity;MemoryDevices;\n33554432;2;\n", readCIM},
	{"an export as a list",
		"DeviceLocator : A\nCapacity      : 8589934592\nSpeed=2400\n\n\n__CLASS : Win32_PhysicalMemoryArray\n" +
			"MaxCapacity : {33554432}\n", readCIM},
	{"an overview", `{"SPHardwareDataType":[{"machine_model":"Quay12,1","chip_type":"Petrel M1"}],` +
		`"SPMemoryDataType":[{"_items":` +
		`[{"_name":"BANK 0/DIMM0","dimm_size":"8 GB","dimm_speed":"1600 MHz","dimm_type":"DDR3",` +
		`"dimm_part_number":"0x4D52"},` +
		`{"_name":"BANK 1/DIMM0","dimm_size":"empty"}],"is_memory_upgradeable":"Yes"}]}`, readCIM},
	{"panel lines", "Installed memory (RAM): 8.00 GB (7.88 GB usable)\nSlots used: 1 of 2\nSpeed: 2400 MHz\nForm " +
		"factor: SODIMM\n" +
		"Hardware reserved: 123 MB\nMaximum capacity: 32 GB, 2 slots", func(text string) (any, error) {
		p, err := records.ParsePanel(text)
		return p, err
	}},
	{"cpuinfo", "processor\t: 0\nvendor_id\t: Petrel\ncpu family\t: 6\nmodel\t\t: 142\nmodel name\t: Petrel P5\n" +
		"stepping\t: 9\n" +
		"flags\t\t: fpu lm\nphysical id\t: 0\n\nprocessor\t: 1\nphysical id\t: 1\n", func(text string) (any, error) {
		c, ok := records.ParseCPUInfo([]byte(text))
		return fmt.Sprintf("%+v %v", c, ok), nil
	}},
	{"meminfo", "MemTotal:        8000000 kB\nMemFree: 123 kB\nDirectMap4k: 0 kB\nOdd: x kB\n", func(text string) (any,
		error) {
		return records.ParseMemInfo([]byte(text)), nil
	}},
	{"PCI", "0000:00:1f.0 8086:a305 060100\n0000:01:00.1 10de:1c03 030000\n", func(text string) (any, error) {
		d, wrong := records.ParsePCI([]byte(text))
		return fmt.Sprintf("%+v %d", d, wrong), nil
	}},
	{"a hand entry", "epitome-hand: 1\nby: Jory\nsource: manual\nmachine: {kind: laptop, maker: Halyard}\nsockets: " +
		"2\nrate: 2400\n" +
		"supply: 1.2 V\nmaximum: {size: 32GB, from: manual}\nplaces: [{name: A1, attach: socket, takes: SO-DIMM, " +
		"holds: free}]\n",
		func(text string) (any, error) {
			h, err := records.ParseHand([]byte(text))
			return h, err
		}},
	{"an outcome", "epitome-outcome: 1\ndate: 2026-11-02\nproposal: 2\nresult: differs\ntotal_mib: 8192\nplaces: " +
		"[{name: A1, mib: 8192, " +
		"rate_mts: 2400}]\ndiffers: [{about: Data rate, predicted: '2666', found: '2400'}]\n", func(text string) (any,
		error) {
		o, err := records.ParseOutcome([]byte(text))
		return o, err
	}},
}

func readCIM(text string) (any, error) {
	objects, others, err := objectsIn([]byte(text))
	return fmt.Sprintf("%+v %q", objects, others), err
}

// Every record with a character less, or another in its place: each outcome once, with how many changes come to it
// and a sum of which they are.
func TestEveryCharacterOfARecord(t *testing.T) {
	var page strings.Builder
	for _, x := range texts {
		type group struct {
			n     int
			which []string
		}
		var order []string
		by := make(map[string]*group)
		try := func(what, text string) {
			got, err := x.read(text)
			says := fmt.Sprintf("%+v", got)
			if err != nil {
				ours, _, _ := strings.Cut(err.Error(), ": ") // the libraries' words are their own
				says += " | " + ours
			}
			if by[says] == nil {
				by[says] = &group{}
				order = append(order, says)
			}
			by[says].n++
			by[says].which = append(by[says].which, what)
		}
		try("as it is", x.text)
		for i := range x.text {
			try(fmt.Sprint("no ", i), x.text[:i]+x.text[i+1:])
			for _, c := range "0:,\n" {
				if x.text[i] != byte(c) {
					try(fmt.Sprintf("%q at %d", c, i), x.text[:i]+string(c)+x.text[i+1:])
				}
			}
		}
		fmt.Fprintf(&page, "## %s, %d changes\n", x.name, 5*len(x.text))
		rare := crc32.NewIEEE() // outcomes of one change alone are summed up
		alone := 0
		for _, says := range order {
			g := by[says]
			if g.n < 3 {
				alone++
				fmt.Fprint(rare, says, g.which)
				continue
			}
			fmt.Fprintf(&page, "%d (%08x): %s\n", g.n, crc32.ChecksumIEEE([]byte(strings.Join(g.which, "|"))), says)
		}
		fmt.Fprintf(&page, "and %d outcomes of one or two changes (%08x)\n", alone, rare.Sum32())
	}
	golden.Compare(t, "testdata/changed.txt", page.String())
}
