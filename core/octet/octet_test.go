package octet_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/octet"
)

func TestNoReadLeavesTheWindow(t *testing.T) {
	w := octet.Over([]byte{1, 2, 3, 4, 5, 6, 7, 8})
	q, ok := w.QWord(0)
	assert.Equal(t, uint64(0x0807060504030201), q)
	assert.True(t, ok)
	for _, off := range []int{-1, 1, 8, math.MaxInt, math.MinInt} {
		_, ok := w.QWord(off)
		assert.False(t, ok, "qword at %d", off)
	}
	for _, off := range []int{-1, 8, math.MaxInt} {
		_, ok := w.Byte(off)
		assert.False(t, ok, "byte at %d", off)
	}
	_, ok = w.Word(7)
	assert.False(t, ok)
	d, ok := w.DWord(4)
	assert.True(t, ok)
	assert.Equal(t, uint32(0x08070605), d)
	_, ok = w.DWord(5)
	assert.False(t, ok)
	_, ok = w.Slice(4, math.MaxInt)
	assert.False(t, ok)
	_, ok = w.Slice(9, 0)
	assert.False(t, ok)
	_, ok = w.Sum(9)
	assert.False(t, ok)
}

func TestAWindowKnowsWhereItLies(t *testing.T) {
	w := octet.Over(make([]byte, 32)).From(8)
	sub, ok := w.Slice(4, 4)
	assert.True(t, ok)
	assert.Equal(t, 12, sub.At())
	assert.Equal(t, 4, sub.Len())
	_, ok = sub.Byte(4)
	assert.False(t, ok, "a slice ends where it was said to end")
	assert.Equal(t, 0, w.From(99).Len())
}

// Each read at both ends of the window: the last place that fits, and the first that does not.
func TestEveryReadAtBothEnds(t *testing.T) {
	data := []byte{0x10, 0x21, 0x32, 0x43, 0x54, 0x65, 0x76, 0x87, 0x98, 0xA9}
	w, read := octet.Watch(data)
	for name, of := range map[string]struct {
		width int
		read  func(int) (uint64, bool)
	}{
		"byte":  {1, func(off int) (uint64, bool) { v, ok := w.Byte(off); return uint64(v), ok }},
		"word":  {2, func(off int) (uint64, bool) { v, ok := w.Word(off); return uint64(v), ok }},
		"dword": {4, func(off int) (uint64, bool) { v, ok := w.DWord(off); return uint64(v), ok }},
		"qword": {8, w.QWord},
	} {
		for off := -1; off <= len(data); off++ {
			v, ok := of.read(off)
			fits := off >= 0 && off+of.width <= len(data)
			assert.Equal(t, fits, ok, "%s at %d", name, off)
			var want uint64
			for i := of.width - 1; fits && i >= 0; i-- {
				want = want<<8 | uint64(data[off+i])
			}
			assert.Equal(t, want, v, "%s at %d", name, off)
		}
	}
	for off := -1; off <= len(data)+1; off++ {
		for n := -1; n <= len(data)+1; n++ {
			sub, ok := w.Slice(off, n)
			assert.Equal(t, off >= 0 && n >= 0 && off+n <= len(data), ok, "%d bytes at %d", n, off)
			if ok {
				assert.Equal(t, data[off:off+n], append([]byte{}, sub.Covered()...), "%d bytes at %d", n, off)
				assert.Equal(t, off, sub.At())
			}
		}
		rest := w.From(off)
		if off >= 0 && off <= len(data) {
			assert.Equal(t, []int{off, len(data) - off}, []int{rest.At(), rest.Len()})
		} else {
			assert.Equal(t, []int{len(data), 0}, []int{rest.At(), rest.Len()}, "from %d", off)
		}
	}
	for n, want := range map[int]uint8{0: 0, 1: 0x10, 2: 0x31, 10: 0x9D} {
		sum, ok := w.Sum(n)
		assert.True(t, ok)
		assert.Equal(t, want, sum, "of %d", n)
	}
	for _, n := range []int{-1, 11} {
		_, ok := w.Sum(n)
		assert.False(t, ok, "of %d", n)
	}
	assert.False(t, read.Seen(-1) || read.Seen(10), "nothing lies outside")
}

// What was looked at is what was read as data, no byte more.
func TestWhatWasLookedAt(t *testing.T) {
	for name, c := range map[string]struct {
		look func(octet.Window)
		seen []int
	}{
		"nothing":      {func(octet.Window) {}, nil},
		"a byte":       {func(w octet.Window) { w.Byte(3) }, []int{3}},
		"a word":       {func(w octet.Window) { w.Word(3) }, []int{3, 4}},
		"a dword":      {func(w octet.Window) { w.DWord(2) }, []int{2, 3, 4, 5}},
		"a qword":      {func(w octet.Window) { w.QWord(1) }, []int{1, 2, 3, 4, 5, 6, 7, 8}},
		"outside":      {func(w octet.Window) { w.Word(11) }, nil},
		"a slice":      {func(w octet.Window) { s, _ := w.Slice(2, 2); s.Bytes() }, []int{2, 3}},
		"in a slice":   {func(w octet.Window) { s, _ := w.From(4).Slice(2, 2); s.Byte(1) }, []int{7}},
		"a checksum":   {func(w octet.Window) { w.Sum(5); w.Covered() }, nil},
		"another copy": {func(w octet.Window) { octet.Over(w.Covered()).Byte(0) }, nil},
	} {
		w, read := octet.Watch(make([]byte, 12))
		c.look(w)
		var seen []int
		for i := range 12 {
			if read.Seen(i) {
				seen = append(seen, i)
			}
		}
		assert.Equal(t, c.seen, seen, name)
	}
}
