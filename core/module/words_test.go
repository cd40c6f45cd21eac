package module_test

import (
	"errors"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/module"
)

// comesTo writes what a listing came to: "nothing" for what is no module.
func comesTo(t *testing.T, text string) string {
	t.Helper()
	s, err := module.Parse(text)
	if errors.Is(err, module.ErrNothing) {
		return "nothing"
	}
	require.NoError(t, err, text)
	parts := []string{}
	if pieces, ok := s.Pieces.Get(); ok {
		parts = append(parts, fmt.Sprintf("%d pieces", pieces))
	}
	if size, ok := s.Capacity.Get(); ok {
		parts = append(parts, size.String())
	}
	if f, ok := s.Form.Get(); ok {
		parts = append(parts, f.String())
	}
	if ecc, ok := s.ECC.Get(); ok {
		parts = append(parts, fmt.Sprintf("ecc=%v", ecc))
	}
	if registered, ok := s.Registered.Get(); ok {
		parts = append(parts, fmt.Sprintf("registered=%v", registered))
	}
	if v, ok := s.Supplies.Get(); ok {
		for _, mv := range v.List() {
			parts = append(parts, fmt.Sprintf("%d mV", mv))
		}
	}
	if s.Condition != "" {
		parts = append(parts, string(s.Condition))
	}
	if x, ok := s.Grade().Get(); ok {
		parts = append(parts, x.String())
	}
	if ranks, ok := s.Ranks.Get(); ok {
		parts = append(parts, fmt.Sprintf("%d ranks", ranks))
	}
	for _, h := range s.Leaning {
		parts = append(parts, fmt.Sprint("leans to ", h.Value))
	}
	return strings.Join(parts, ", ")
}

// Each row of the lexicon, by a word of it in a listing.
func TestEachRowOfTheLexicon(t *testing.T) {
	text, err := os.ReadFile("testdata/words.tsv")
	require.NoError(t, err)
	rows := 0
	for line := range strings.Lines(string(text)) {
		if strings.HasPrefix(line, "#") {
			continue
		}
		cells := strings.Split(strings.TrimRight(line, "\n"), "\t")
		require.Len(t, cells, 3, line)
		assert.Equal(t, cells[2], comesTo(t, cells[1]), cells[1])
		rows++
	}
	assert.Greater(t, rows, 200)
	assert.Equal(t, "8 GB, SO-DIMM, DDR4-2400", comesTo(t, "8GB DDR4-2400 SO-DIMM zqxv"),
		"a word of no language says nothing")
}
