package module_test

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/module"
	"epitome/golden"
)

// whole writes all that a listing came to: what it states, its condition and its ratings, what it leans to and what
// was not understood, or why it is no module.
func whole(text string) string {
	m, err := module.Parse(text)
	if err != nil {
		return "- " + err.Error()
	}
	parts := []string{short(m)}
	if m.Kind != module.Listing {
		parts = append(parts, "a "+string(m.Kind))
	}
	if m.Condition != "" {
		parts = append(parts, string(m.Condition))
	}
	if l, ok := m.Label.Get(); ok {
		parts = append(parts, "label "+l.String())
	}
	if r, ok := m.Rated.Get(); ok {
		if x, ok := m.Grade().Get(); !ok || r != x.Rate {
			parts = append(parts, fmt.Sprint("rated ", r))
		}
	}
	for _, h := range m.Leaning {
		parts = append(parts, fmt.Sprintf("leans to %s %s: %s", h.Fact, h.Value, h.Why))
	}
	if len(m.Passed) > 0 {
		parts = append(parts, "passed "+strings.Join(m.Passed, " "))
	}
	return strings.Join(parts, " | ")
}

// held holds the last column of a file against what the listings of the column before it come to, and returns its rows.
func held(t *testing.T, path string) (rows int) {
	t.Helper()
	text, err := os.ReadFile(path)
	require.NoError(t, err)
	var lines []string
	for line := range strings.SplitSeq(strings.TrimRight(string(text), "\n"), "\n") {
		if !strings.HasPrefix(line, "#") {
			cells := strings.Split(line, "\t")
			require.GreaterOrEqual(t, len(cells), 2, line)
			cells[len(cells)-1] = whole(cells[len(cells)-2])
			line = strings.Join(cells, "\t")
			rows++
		}
		lines = append(lines, line)
	}
	golden.Compare(t, path, strings.Join(lines, "\n")+"\n")
	return rows
}

// What listings come to that nobody thought of: each is a small change of one that was.
func TestListings(t *testing.T) { held(t, "testdata/listings.tsv") }

// Each word of the lexicon, in a listing.
func TestEachWordOfTheLexicon(t *testing.T) {
	assert.Greater(t, held(t, "testdata/words.tsv"), 800)
	assert.Equal(t, "8 GB DDR4 @2400 SO-DIMM | passed zqxv", whole("8GB DDR4-2400 SO-DIMM zqxv"),
		"a word of no language says nothing")
}

// Every module rating in MB/s, in steps of fifty: the rate that it stands for, where it stands for one.
func TestEveryRating(t *testing.T) {
	var page strings.Builder
	for g := 2; g <= 5; g++ {
		for n := 1600; n < 80000; n += 50 {
			for _, by := range []int{0, 6, 33} {
				text := fmt.Sprintf("8GB PC%d-%d DIMM", g, n+by)
				if says := whole(text); !strings.HasPrefix(says, "-") {
					fmt.Fprintf(&page, "%s\t%s\n", text, says)
				}
			}
		}
	}
	golden.Compare(t, "testdata/ratings.tsv", page.String())
}
