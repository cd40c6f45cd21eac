package jedec

import (
	"fmt"
	"math/bits"
	"slices"
	"strings"
)

// Latencies is a set of CAS latencies. The zero value is the empty set. Sets are
// comparable.
type Latencies struct {
	halves [4]uint64 // one bit a half clock, to 127.5 clocks; DDR5's longest is 98
}

// LatenciesOf returns the set of some latencies; one that no set holds, below 0
// or beyond 127.5 clocks, is left out.
func LatenciesOf(list ...Latency) (set Latencies) {
	for _, l := range list {
		if l >= 0 && int(l) < 64*len(set.halves) {
			set.halves[l/64] |= 1 << (l % 64)
		}
	}
	return set
}

// List returns the latencies, shortest first.
func (s Latencies) List() (list []Latency) {
	for i, word := range s.halves {
		for ; word != 0; word &= word - 1 {
			list = append(list, Latency(64*i+bits.TrailingZeros64(word)))
		}
	}
	return list
}

// Shared returns the latencies that both sets hold.
func (s Latencies) Shared(o Latencies) Latencies {
	for i := range s.halves {
		s.halves[i] &= o.halves[i]
	}
	return s
}

// String writes the set as a list, "15, 16, 17".
func (s Latencies) String() string {
	var words []string
	for _, l := range s.List() {
		words = append(words, l.String())
	}
	return strings.Join(words, ", ")
}

// Supplies is a set of supply voltages, of at most four. The zero value is the
// empty set. Sets are comparable.
type Supplies struct {
	milliVolts [4]uint16 // ascending, then zeros
}

// SuppliesOf returns the set of some supplies in mV. More than four, and figures
// that no supply has, are left out.
func SuppliesOf(milliVolts ...int) (set Supplies) {
	list := slices.Compact(slices.Sorted(slices.Values(milliVolts)))
	n := 0
	for _, mv := range list {
		if mv > 0 && mv < 1<<16 && n < len(set.milliVolts) {
			set.milliVolts[n] = uint16(mv)
			n++
		}
	}
	return set
}

// List returns the supplies in mV, the lowest first.
func (s Supplies) List() (list []int) {
	for _, mv := range s.milliVolts {
		if mv > 0 {
			list = append(list, int(mv))
		}
	}
	return list
}

// Len returns how many supplies the set holds.
func (s Supplies) Len() int { return len(s.List()) }

// Has reports whether the set holds a supply.
func (s Supplies) Has(milliVolts int) bool { return slices.Contains(s.List(), milliVolts) }

// Shared returns the supplies that both sets hold.
func (s Supplies) Shared(o Supplies) Supplies {
	return SuppliesOf(slices.DeleteFunc(s.List(), func(mv int) bool { return !o.Has(mv) })...)
}

// String writes the set in volts, "1.35 V or 1.5 V".
func (s Supplies) String() string {
	var words []string
	for _, mv := range s.List() {
		words = append(words, Volts(mv))
	}
	return strings.Join(words, " or ")
}

// Volts returns the supplies in volts, the lowest first.
func (s Supplies) Volts() (list []float64) {
	for _, mv := range s.List() {
		list = append(list, float64(mv)/1000)
	}
	return list
}

// Clocks returns the latencies in clocks, shortest first.
func (s Latencies) Clocks() (list []float64) {
	for _, l := range s.List() {
		list = append(list, l.Clocks())
	}
	return list
}

// Clocks returns the latency in clocks; SDR and DDR have halves.
func (l Latency) Clocks() float64 { return float64(l) / 2 }

// Volts writes millivolts as volts, "1.35 V".
func Volts(milliVolts int) string {
	v := fmt.Sprintf("%d.%03d", milliVolts/1000, milliVolts%1000)
	for len(v) > 3 && v[len(v)-1] == '0' {
		v = v[:len(v)-1]
	}
	return v + " V"
}

// DieSize writes the density of a die in Mbit as the trade does, "8 Gbit".
func DieSize(mbit int) string {
	if mbit%1024 == 0 {
		return fmt.Sprintf("%d Gbit", mbit/1024)
	}
	return fmt.Sprintf("%d Mbit", mbit)
}
