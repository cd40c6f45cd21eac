package jedec

import (
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
)

// A Capacity is an amount of memory in bytes. Memory sizes are binary: the
// trade's "GB" is 2^30 bytes. The zero value is no memory at all, which is a
// statement; an unknown capacity is a maybe.Value or a finding without value.
type Capacity uint64

// The units of the trade.
const (
	KiB Capacity = 1 << 10
	MiB Capacity = 1 << 20
	GiB Capacity = 1 << 30
	TiB Capacity = 1 << 40
)

// MiB returns the capacity in whole mebibytes, rounded down.
func (c Capacity) MiB() uint64 { return uint64(c / MiB) }

// String writes the capacity as the trade does: "512 MB", "16 GB", with up to
// two decimals where the figure is not round. ParseCapacity reads the result
// back exactly for every capacity that is a whole number of hundredths of its
// unit.
func (c Capacity) String() string {
	unit, name := Capacity(1), "B"
	switch {
	case c >= TiB && c%GiB == 0 && c%TiB == 0:
		unit, name = TiB, "TB"
	case c >= GiB:
		unit, name = GiB, "GB"
	case c >= MiB:
		unit, name = MiB, "MB"
	case c >= KiB:
		unit, name = KiB, "kB"
	}
	if c%unit == 0 {
		return strconv.FormatUint(uint64(c/unit), 10) + " " + name
	}
	figure := strconv.FormatFloat(float64(c)/float64(unit), 'f', 2, 64)
	return strings.TrimSuffix(strings.TrimRight(figure, "0"), ".") + " " + name
}

// MarshalJSON writes the number of whole mebibytes, as every key that ends in
// _mib promises.
func (c Capacity) MarshalJSON() ([]byte, error) { return json.Marshal(c.MiB()) }

// ErrCapacity is what every error of ParseCapacity wraps.
var ErrCapacity = errors.New("not a memory size")

var capacityUnits = []struct {
	spelling string
	unit     Capacity
}{
	// The trade writes MB and GB for the binary units throughout.
	{"tib", TiB}, {"tb", TiB}, {"t", TiB},
	{"gib", GiB}, {"gb", GiB}, {"go", GiB}, {"g", GiB},
	{"mib", MiB}, {"mb", MiB}, {"mo", MiB}, {"m", MiB},
	{"kib", KiB}, {"kb", KiB}, {"k", KiB},
	{"bytes", 1}, {"b", 1},
}

// ParseCapacity reads a size such as "16GB", "1.5 GiB", "3,89 GB" or
// "524288 kB". A unit is required: a bare number means different things to
// different programs. Errors wrap ErrCapacity.
func ParseCapacity(s string) (Capacity, error) {
	text := strings.ToLower(strings.TrimSpace(s))
	for _, u := range capacityUnits {
		figure, ok := strings.CutSuffix(text, u.spelling)
		if !ok {
			continue
		}
		figure = strings.TrimSpace(figure)
		whole, err := strconv.ParseUint(figure, 10, 64)
		if err == nil {
			if whole > math.MaxUint64/uint64(u.unit) {
				return 0, fmt.Errorf("%w: %q is larger than any memory", ErrCapacity, s)
			}
			return Capacity(whole) * u.unit, nil
		}
		fraction, err := strconv.ParseFloat(strings.Replace(figure, ",", ".", 1), 64)
		if err != nil || strings.ContainsAny(figure, "xXpPeE_nN+-") {
			break
		}
		bytes := fraction * float64(u.unit)
		if bytes >= math.MaxInt64 {
			return 0, fmt.Errorf("%w: %q is larger than any memory", ErrCapacity, s)
		}
		return Capacity(math.Round(bytes)), nil
	}
	return 0, fmt.Errorf("%w: %q; write a number with MB or GB, as in 16GB", ErrCapacity, s)
}

// Tally writes sizes with equal neighbours counted: "2 × 8 GB", "4 GB".
func Tally(sizes []Capacity) (parts []string) {
	for i := 0; i < len(sizes); {
		n := i
		for n < len(sizes) && sizes[n] == sizes[i] {
			n++
		}
		part := sizes[i].String()
		if n-i > 1 {
			part = fmt.Sprintf("%d × %v", n-i, sizes[i])
		}
		parts, i = append(parts, part), n
	}
	return parts
}
