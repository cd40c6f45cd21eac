package naming_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/naming"
)

func TestNamesOfOneThing(t *testing.T) {
	for _, c := range []struct {
		a, b string
		same bool
	}{
		{"Gull 14", "GULL-14", true}, {"Gull", "Gull 14", true}, {"Gull 14", "Gull 15", false}, {"Gull 14", "Tern 14", false},
		{"Quay® Works™", "Quay(R) Works(TM)", true}, {"Groyne GBX", "GBX", true}, {"X1 X1", "X1", true}, {"", "Gull", false},
		{"", "", false}, {"Übung 2", "übung 2", true}, {"4.0", "40", false},
	} {
		assert.Equal(t, c.same, naming.Same(c.a, c.b), "%q and %q", c.a, c.b)
		assert.Equal(t, c.same, naming.Same(c.b, c.a), "%q and %q", c.b, c.a)
	}
	assert.Equal(t, "Quay Works 3", naming.Bare("  Quay® (TM) Works(r)  3 "))
	assert.True(t, naming.Fuller("Gull 14 G2", "Gull 14"))
	assert.False(t, naming.Fuller("Gull 14", "gull-14"))
}
