package module_test

import (
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/fact"
	"epitome/core/jedec"
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
	if r, ok := m.Rated.Get(); ok && m.Rated.Standing() == fact.Settled {
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

// words are the files of listings that hold a word of the lexicon each, by the languages that are alike.
var words = []string{"words-en.tsv", "words-germanic.tsv", "words-romance.tsv", "words-others.tsv"}

// Each word of the lexicon, in a listing.
func TestEachWordOfTheLexicon(t *testing.T) {
	rows := 0
	for _, name := range words {
		rows += held(t, "testdata/"+name)
	}
	assert.Greater(t, rows, 800)
	assert.Equal(t, "8 GB DDR4 @2400 SO-DIMM | passed zqxv", whole("8GB DDR4-2400 SO-DIMM zqxv"),
		"a word of no language says nothing")
}

// Every module rating in MB/s, in steps of fifty: what is read as a grade moves that much in a second, give or take the
// roundings that are in use; what a standard names is read as that grade; the rest is refused.
func TestEveryRating(t *testing.T) {
	read := make(map[string]int)
	for g := jedec.DDR2; g <= jedec.DDR5; g++ {
		for n := 1600; n < 80000; n += 50 {
			for _, by := range []int{0, 6, 33} {
				text := fmt.Sprintf("8GB PC%s-%d DIMM", strings.TrimPrefix(g.String(), "DDR"), n+by)
				m, err := module.Parse(text)
				if err != nil {
					continue
				}
				x, ok := m.Grade().Get()
				if !ok || m.Rated.Standing() < fact.Settled { // between the standard's: what a profile is sold by
					assert.NotEmpty(t, m.Profiles, text)
					continue
				}
				read[x.String()]++
				assert.Equal(t, g, x.Generation, text)
				if n+by != int(x.Rate) { // DDR4 and DDR5 are named by their rate as well
					assert.InEpsilon(t, x.Bandwidth(), n+by, 0.02, text)
				}
			}
		}
		for _, x := range jedec.Grades(g) {
			m, err := module.Parse("8GB " + x.Module() + " DIMM")
			require.NoError(t, err, x.Module())
			assert.Equal(t, x, m.Grade().Or(jedec.Grade{}), x.Module())
			assert.Positive(t, read[x.String()], "%v has no rating", x)
		}
	}
}
