package jedec

import (
	"encoding/json"
	"strconv"
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
