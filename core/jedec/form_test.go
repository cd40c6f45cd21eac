package jedec_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/jedec"
)

// What a module carries beside its memory chips follows from its kind.
func TestWhatAKindCarries(t *testing.T) {
	for kind, want := range map[jedec.Kind][2]bool{ // registered, with check bits
		jedec.Unbuffered: {false, false}, jedec.UnbufferedECC: {false, true}, jedec.RegisteredECC: {true, true},
		jedec.LoadReduced:   {true, true},
		jedec.FullyBuffered: {true, true}, jedec.Clocked: {false, false}, jedec.ClockedECC: {false, true},
	} {
		assert.Equal(t, want, [2]bool{kind.Registered(), kind.ECC()}, kind.String())
	}
}
