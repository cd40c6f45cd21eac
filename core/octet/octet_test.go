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
