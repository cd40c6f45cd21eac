package ceiling

import (
	"cmp"
	"slices"
	"strconv"
	"strings"

	"epitome/core/jedec"
)

// An Amount is a figure with its unit. Amounts of one limit have one unit.
type Amount struct {
	n    int64
	unit Unit
}

// A Unit is what an amount counts.
type Unit uint8

// The units. Most, ranks and slots, are counted as they are.
const (
	Each Unit = iota
	MiB
	MTs
	Mbit
)

// Bytes is a size as an amount.
func Bytes(c jedec.Capacity) Amount { return Amount{int64(c.MiB()), MiB} }

// Speed is a data rate as an amount.
func Speed(r jedec.Rate) Amount { return Amount{int64(r), MTs} }

// Dies is the density of a die in Mbit as an amount.
func Dies(mbit int) Amount { return Amount{int64(mbit), Mbit} }

// Number is a count as an amount.
func Number(n int) Amount { return Amount{int64(n), Each} }

// Capacity returns an amount of MiB as a size.
func (a Amount) Capacity() jedec.Capacity { return jedec.Capacity(a.n) * jedec.MiB }

// Rate returns an amount of MT/s as a data rate.
func (a Amount) Rate() jedec.Rate { return jedec.Rate(a.n) }

// Int returns the figure in its own unit: MiB, MT/s, Mbit or a count.
func (a Amount) Int() int { return int(a.n) }

// Compare orders amounts of one unit, the smaller first.
func (a Amount) Compare(b Amount) int { return cmp.Compare(a.n, b.n) }

// Exceeds reports whether the amount is more than another of its unit.
func (a Amount) Exceeds(b Amount) bool { return a.n > b.n }

// String writes the amount as the trade does: "16 GB", "8 Gbit", "2400 MT/s", "2".
func (a Amount) String() string {
	switch a.unit {
	case MiB:
		return a.Capacity().String()
	case Mbit:
		return jedec.DieSize(int(a.n))
	case MTs:
		return a.Rate().String()
	}
	return strconv.FormatInt(a.n, 10)
}

// A Set is what is allowed, where a limit is a list.
type Set struct {
	Words    []string // as they are shown; none where nothing is allowed
	Open     []string // words of which nobody states whether they are allowed
	Supplies jedec.Supplies
}

// Takes reports whether a word is among what is allowed; known is false where
// nobody states it.
func (s Set) Takes(word string) (takes, known bool) {
	return slices.Contains(s.Words, word), !slices.Contains(s.Open, word)
}

// String writes the set as a list, "no" where it is empty.
func (s Set) String() string {
	if len(s.Words) == 0 {
		return "no"
	}
	return strings.Join(s.Words, ", ")
}
