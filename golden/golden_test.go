package golden_test

import (
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/golden"
)

func numbered(from, to int) (out string) {
	for i := from; i <= to; i++ {
		out += fmt.Sprintf("line %d\n", i)
	}
	return out
}

// A difference is shown where it begins, with the lines around it, and nothing of what follows it unchanged.
func TestADifferenceIsShownWithWhatIsAroundIt(t *testing.T) {
	was := numbered(1, 40)
	assert.Empty(t, golden.Difference(was, was))
	assert.Equal(t, "@ line 20\n  line 15\n  line 16\n  line 17\n  line 18\n  line 19\n- line 20\n+ another\n"+
		"  line 21\n  line 22\n  line 23\n  line 24\n  line 25",
		golden.Difference(was, strings.Replace(was, "line 20\n", "another\n", 1)))
	assert.Equal(t, "@ line 1\n+ before\n  line 1\n  line 2\n  line 3\n  line 4\n  line 5", golden.Difference(was,
		"before\n"+was))
	assert.Equal(t, "@ line 40\n  line 35\n  line 36\n  line 37\n  line 38\n  line 39\n- line 40\n  ",
		golden.Difference(was, numbered(1, 39)))
	assert.Contains(t, golden.Difference("", was), "… and 30 more")
}

// most is how many bytes of pages, cases and sessions all tests may hold: what nobody reads holds nothing.
const most = 1_200_000

// Every page is short enough to be read, and all of them together are.
func TestPagesAreShortEnoughToBeRead(t *testing.T) {
	all := 0
	require.NoError(t, filepath.WalkDir("..", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.Contains(path, "testdata"+string(filepath.Separator)) ||
			strings.HasPrefix(path, filepath.Join("..", "testdata")) { // what machines were read of, and price lists
			return err
		}
		text, err := os.ReadFile(path)
		if err != nil {
			return err
		}
		all += len(text)
		assert.LessOrEqual(t, strings.Count(string(text), "\n"), golden.MostLines, path)
		return nil
	}))
	assert.LessOrEqual(t, all, most)
	assert.Greater(t, all, most/4, "where are they?")
}
