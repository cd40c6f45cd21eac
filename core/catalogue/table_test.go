package catalogue

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// A list that can't be read stops the program while it is built, not a person's work later.
func TestAListIsWhole(t *testing.T) {
	assert.Equal(t, table{columns: []string{"a", "b"}, rows: [][]string{{"1", ""}}}, readTable("x.csv", "a,b\n1,\n"))
	assert.Panics(t, func() { readTable("x.csv", "") })
	assert.Panics(t, func() { readTable("x.csv", "a,b\n1\n") })
}

// What two chipsets of one id share is as surely known as the less sure of them.
func TestChipsetsInCommon(t *testing.T) {
	for _, c := range [][2]Chipset{{{Recalled: true}, {}}, {{}, {Recalled: true}}, {{Recalled: true}, {Recalled: true}}} {
		assert.True(t, c[0].InCommon(c[1]).Recalled)
	}
	assert.False(t, Chipset{}.InCommon(Chipset{}).Recalled)
	assert.EqualValues(t, "low", Chipset{Confidence: "high"}.InCommon(Chipset{Confidence: "low"}).Confidence)
}
