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
