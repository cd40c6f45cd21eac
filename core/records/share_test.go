package records_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/records"
)

// What is shared of a processor's text is read as the text itself is, and has no line of what it does not say.
func TestASharedProcessorIsTheSame(t *testing.T) {
	const whole = "processor\t: 0\nvendor_id\t: GenuineIntel\ncpu family\t: 6\nmodel\t: 142\nmodel name\t: Petrel P5\n" +
		"stepping\t: 9\nphysical id\t: 0\nserial\t: 1234\n\nprocessor\t: 1\nphysical id\t: 0\n"
	for _, text := range []string{whole, "processor\t: 0\n", "processor\t: 0\nmodel name\t: Petrel P5\n"} {
		before, ok := records.ParseCPUInfo([]byte(text))
		require.True(t, ok)
		shared := records.UnderstoodCPUInfo([]byte(text))
		after, same := records.ParseCPUInfo(shared)
		require.True(t, same)
		assert.Equal(t, before, after)
		assert.NotContains(t, string(shared), "1234")
		assert.Equal(t, before.Vendor != "", strings.Contains(string(shared), "vendor_id"))
		assert.Equal(t, before.Brand != "", strings.Contains(string(shared), "model name"))
	}
}
