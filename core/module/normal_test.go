package module

import (
	"math/rand/v2"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/truth/effort"
)

// Texts of pieces that shops glue together: wherever an expression changes something, its
// sign is there.
func TestASignStandsWhereverItsExpressionChangesAnything(t *testing.T) {
	effort.NotShort(t)
	pieces := []string{" ", " ", "-", " - ", ".", "_", "+", "*", "x", "X", "×", "х", "/", ",", "8", "16", "2", "4", "5",
		"320o", "8 + 8 GB", "8GB+8GB", "4 gb + 4 gb", "4gb × 2", "16 ×", "2r × 8", "8GB-DDR4", "so-dimm-260", "ddr4-8gb",
		"d4 8", "ddr 4", "DDR-3", "PC4-2400T - SA1 - 11", "pc4-2133P 11-12-E3", "1.024 mb", "pc4-2400T", "4gb", "8GB",
		"GiB", "Go", "mb", "g", "o", "ddr", "DDR4", "ddr3l",
		"lpddr5", "drr4", "d4", "PC4", "pc3l", "pc", "2400T", "12800", "21300", "SA1", "11", "1Rx8", "2r", "s.o", "so",
		"so-dimm", "SODIMM", "udimm", "DIMM", "260", "ram", "kit",
		"Modul", "SDRAM", "Speicher", "память", "ssd", "hdd", "1.024", "9-9-e1", "11-12-E3", "3200", "pamięć"}
	r := rand.New(rand.NewPCG(7, 11))
	signs := make(map[string]int)
	for range 30_000 {
		var b strings.Builder
		for range 1 + r.IntN(9) {
			b.WriteString(pieces[r.IntN(len(pieces))])
		}
		text := b.String()
		for _, x := range rewritings() {
			now := x.from.ReplaceAllString(text, x.to)
			if now != text {
				require.True(t, x.may(strings.ToLower(text)), "%q becomes %q by %s", text, now, x.from)
				signs[x.from.String()]++
			}
		}
	}
	for _, x := range rewritings() {
		require.Positive(t, signs[x.from.String()], "no text of the pieces tries %s", x.from)
	}
}

// A phrase is found wherever it stands, and the longest of two first.
func TestPhrasesAreFoundByTheirFirstBytes(t *testing.T) {
	x := lexicons().index
	for i, p := range x.phrases {
		require.LessOrEqual(t, x.firstIn("8gb "+p.text+" ddr4", 0), i, p.text)
		require.GreaterOrEqual(t, x.firstIn("8gb "+p.text+" ddr4", 0), 0, p.text)
		require.NotEqual(t, i, x.firstIn(p.text, i+1), p.text)
	}
	require.Equal(t, -1, x.firstIn("8gb ddr4", 0))
	require.Equal(t, -1, x.firstIn("", 0))
}

// Every word of the lexicon stands in a listing of the pages, in some letters.
func TestEveryWordIsInAListing(t *testing.T) {
	var all strings.Builder
	for _, name := range []string{"words-en.tsv", "words-germanic.tsv", "words-romance.tsv", "words-others.tsv",
		"listings.tsv"} {
		text, err := os.ReadFile("testdata/" + name)
		require.NoError(t, err)
		all.WriteString(strings.ToLower(string(text)))
	}
	text := all.String()
	for _, row := range lexicon {
		for word := range strings.SplitSeq(row.words, "|") {
			assert.True(t, strings.Contains(text, word), "%q of %s (%s): add a row to testdata/words-….tsv", word, row.language,
				row.means)
		}
	}
}
