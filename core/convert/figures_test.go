package convert_test

import (
	"fmt"
	"strings"
	"testing"

	"epitome/core/convert"
	"epitome/golden"
)

// Every figure that memory is sold or measured by, with each unit, and its neighbours: what it may be, and what
// settles it.
func TestEveryFigure(t *testing.T) {
	var page strings.Builder
	say := func(input, at string) {
		r, err := convert.From(input, at)
		text := readings(r)
		for _, x := range r.Readings {
			text += " | " + x.Says
		}
		if r.Settles != "" {
			text += " | settled by " + r.Settles
		}
		if err != nil {
			text = "- " + err.Error()
		}
		if at != "" {
			input += " at " + at
		}
		fmt.Fprintf(&page, "%s: %s\n", input, text)
	}
	for _, figure := range strings.Fields("0 1 66 66.67 99 100 133 133.33 166 167 200 " +
		"266 300 333 " +
		"333.33 400 533 533.33 600 667 700 800 801 802 933 1000 1066 1067 1200 " +
		"1333 1467 " +
		"1600 1603 1604 1866 2133 2400 2666 2800 2933 3200 3600 3733 4000 4266 " +
		"4800 5600 " +
		"6000 6400 7500 8533 9600 1e400 33.3.3") {
		for _, unit := range []string{"MHz", "MT/s", ""} {
			say(figure+unit, "")
		}
	}
	for _, text := range strings.Split("1ns|5 ns|7.5ns|10ns|12ns|13.125ns|13.5ns|13.75ns|14.16ns|15 ns|"+
		"18ns|25ns|100ns|0.3125ns|0.625 ns|"+
		"800MB/s|1066MB/s|3200 MB/s|6400MB/s|8533 MB/s|10600MB/s|12800MB/s|17000 MB/s|19200MB/s|21300 MB/s|"+
		"21333MB/s|25600MB/s|"+
		"38400MB/s|44800 MB/s|1.6 GB/s|3,2GB/s|12.8GB/s|19.2 GB/s|25.6GB/s|51.2GB/s|100GB/s|"+
		"16384|16383|17179885568|131072|131071|132096|262144|1048576|8388608|16777216|33554432|67108864|134217728|268435456|"+
		"1073741824|4294967296|"+
		"8589934592|17179869184|34359738368|137438953472|17592186044416|17592186045440|"+
		"16384kB|33554432 kB|8388608 KB|512MB|1000MB|1024 MB|3072MB|8192MB|16384 MB|0.5GB|1GB|1 GB|3GB|4GB|"+
		"6GB|8GB|9GB|12GB|16GB|"+
		"17GB|24GB|33GB|34 GB|64GB|67GB|69GB|128GB|137GB|512GB|1TB|"+
		"4TB|5TB|"+
		"DDR|DDR-400|DDR2-667|DDR3-1600|DDR3L-1600|DDR4-2400|DDR4-2400T|DDR4-2666|DDR5-4800|DDR5-5600B|"+
		"LPDDR4-3200|LPDDR4X-4266|"+
		"LPDDR5-6400|LPDDR5X-8533|PC100|PC133|PC-3200|PC3200|PC2-5300|PC2-6400|PC3-8500|PC3-10600|PC3-10666|"+
		"PC3-12800|PC3L-12800|"+
		"PC4-17000|PC4-19200|PC4-2400|PC4-2666V|PC4-21300|PC4-25600|PC5-38400|PC5-4800|DDR4-2666 CL19|"+
		"DDR4-3200 CL22|DDR4-3200 CL16|"+
		"DDR3 800MHz|DDR4 1200MHz|DDR5 2400 MHz|DDR4-2500|DDR6-9600|PC4-20000|12800|25600|nonsense|-5MHz|"+
		"5 MHz|1e3 MHz",
		"|") {
		say(text, "")
	}
	for _, text := range []string{"13.75ns", "15ns", "7.5ns", "DDR4-2666 CL19", "DDR4-3200 CL22", "DDR3-1600 CL11",
		"DDR4-2400", "8GB"} {
		for _, at := range []string{"1333", "1600", "2133", "2400", "2666", "2933", "DDR4-3200", "DDR5-4800", "DDR3-1066",
			"what"} {
			say(text, at)
		}
	}
	golden.Compare(t, "testdata/figures.txt", page.String())
}
