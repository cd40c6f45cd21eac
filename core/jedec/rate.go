package jedec

import (
	"encoding/json"
	"fmt"
	"strconv"
	"strings"
)

// A Rate is a data rate in MT/s (millions of transfers a second per data
// line). It is the figure in the grade's name: DDR4-2400 transfers at 2400.
// It is never a clock; see Clock. The zero value means "no rate" and is not
// used for an unknown one.
type Rate int

// String writes the rate with its unit, "2400 MT/s".
func (r Rate) String() string { return strconv.Itoa(int(r)) + " MT/s" }

// MarshalJSON writes the bare number, as every key that ends in _mts promises.
func (r Rate) MarshalJSON() ([]byte, error) { return json.Marshal(int(r)) }

// A Clock is a clock frequency in kHz. It is never a data rate: DDR4-2400 has
// a clock of 1200 MHz.
type Clock int

// String writes the clock in MHz with up to two decimals, "1333.33 MHz".
func (c Clock) String() string {
	figure := strconv.FormatFloat(float64(c)/1000, 'f', 2, 64)
	return strings.TrimSuffix(strings.TrimRight(figure, "0"), ".") + " MHz"
}

// Picoseconds is a time. All timing arithmetic is done in whole picoseconds.
type Picoseconds int64

// String writes the time in ns with two decimals, as latencies are shown.
func (p Picoseconds) String() string {
	sign := ""
	if p < 0 {
		sign, p = "-", -p
	}
	hundredths := (p + 5) / 10
	return fmt.Sprintf("%s%d.%02d ns", sign, hundredths/100, hundredths%100)
}
