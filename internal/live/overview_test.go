package live

import (
	"epitome/core/card"
	"os"
	"path/filepath"
	"runtime"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A stand-in for the system's own program: what it prints is the reading, and what
// goes wrong is said.
func TestASystemThatDescribesItself(t *testing.T) {
	script := func(text string) []string {
		path := filepath.Join(t.TempDir(), "describe")
		require.NoError(t, os.WriteFile(path, []byte("#!/bin/sh\n"+text), 0o700))
		return []string{path, "-json", "Memory"}
	}
	if runtime.GOOS == "windows" {
		t.Skip("the stand-in is a shell script")
	}
	haul, err := describing(script(`echo '{"SPMemoryDataType": []}' "$@"`), time.Time{})
	require.NoError(t, err)
	require.Len(t, haul.Readings, 1)
	assert.Equal(t, card.CIM, haul.Readings[0].Kind)
	assert.Contains(t, string(haul.Readings[0].Data), "-json Memory")
	assert.True(t, haul.TellsOfMemory())
	for name, text := range map[string]string{"fails": "exit 3", "says nothing": "", "never stops talking": "yes '{}'"} {
		haul, err = describing(script(text), time.Time{})
		require.NoError(t, err, name)
		assert.Empty(t, haul.Readings, name)
		assert.False(t, haul.Notes[0].Taken, name)
	}
	haul, _ = describing([]string{"/no/such/program"}, time.Time{})
	assert.False(t, haul.Notes[0].Taken)
}
