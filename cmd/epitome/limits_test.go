package main

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/truth/effort"
)

// All commands say the same of how far a machine goes: asked about twelve sizes, of each machine that there is,
// ceilings --for says yes where propose finds something without a list, and that is up to the maximum which ceilings,
// brief and visit name; trial takes what is proposed.
func TestAllCommandsSayHowFarAMachineGoes(t *testing.T) {
	effort.NotShort(t)
	t.Setenv("HOME", t.TempDir())
	t.Setenv("XDG_CONFIG_HOME", t.TempDir())
	t.Setenv("XDG_DATA_HOME", t.TempDir())
	work := t.TempDir()
	_, says, code := run("demo", "-o", filepath.Join(work, "harbour"))
	require.Zero(t, code, says)
	cards, err := filepath.Glob(filepath.Join(work, "harbour", "*.card"))
	require.NoError(t, err)
	folders, err := filepath.Glob("../../testdata/situations/*")
	require.NoError(t, err)
	for _, folder := range folders {
		card := filepath.Join(work, filepath.Base(folder)+".card")
		_, says, code := run("intake", "--from", folder, "-o", card)
		require.Zero(t, code, says)
		cards = append(cards, card)
	}
	require.Greater(t, len(cards), 30)
	known := 0
	for _, card := range cards {
		name := strings.TrimSuffix(filepath.Base(card), ".card")
		maximum := maximumOf(t, card, name)
		if maximum != nil {
			known++
		}
		for _, gb := range []int{2, 4, 8, 12, 16, 24, 32, 48, 64, 96, 128, 256} {
			size := fmt.Sprint(gb, "GB")
			answer, _, mayGo := run("ceilings", card, "--for", size)
			out, _, found := run("propose", card, "--reach", size, "--format", "json")
			var p struct {
				Structures []json.RawMessage
			}
			require.NoError(t, json.Unmarshal([]byte(out), &p), "%s %s: %s", name, size, out)
			proposed := found == 0 || strings.Contains(answer, "are fitted.")
			byOS := strings.Contains(answer, "uses up to")
			assert.Equal(t, mayGo == 0, proposed && !byOS, "%s to %s: %s %s", name, size, answer, out)
			if maximum != nil && len(p.Structures) == 0 && !byOS {
				assert.Equal(t, gb<<10 <= *maximum, mayGo == 0, "%s goes to %d MiB; %s: %s", name, *maximum, size, answer)
			}
		}
	}
	assert.GreaterOrEqual(t, known, 30)
}

// maximumOf is how far a machine goes by ceilings, brief and visit, MiB; nil where it is not known.
func maximumOf(t *testing.T, card, name string) *int {
	t.Helper()
	var c struct {
		Reachable struct {
			Value *int `json:"value"`
		} `json:"reachable_mib"`
	}
	out, _, _ := run("ceilings", card, "--format", "json")
	require.NoError(t, json.Unmarshal([]byte(out), &c), out)
	var b struct {
		Totals struct {
			Reachable struct {
				Value *int `json:"value"`
			} `json:"reachable_mib"`
		} `json:"totals"`
	}
	out, _, _ = run("brief", card, "--format", "json")
	require.NoError(t, json.Unmarshal([]byte(out), &b), out)
	assert.Equal(t, c.Reachable.Value, b.Totals.Reachable.Value, name)
	var v struct {
		Reach struct {
			MiB *int `json:"mib"`
		} `json:"reach"`
	}
	copied := filepath.Join(t.TempDir(), filepath.Base(card))
	data, err := os.ReadFile(card)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(copied, data, 0o600))
	out, says, code := run("visit", copied, "--format", "json")
	require.True(t, slices.Contains([]int{0, 3, 4}, code), "%s: %d %s", name, code, says)
	require.NoError(t, json.Unmarshal([]byte(out), &v), out)
	assert.Equal(t, c.Reachable.Value, v.Reach.MiB, name)
	return c.Reachable.Value
}
