package main

import (
	"go/parser"
	"go/token"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Commands know the bench alone; the core knows neither its callers nor the world.
func TestDataFlowsOneWay(t *testing.T) {
	checked := 0
	require.NoError(t, filepath.WalkDir("../..", func(path string, d os.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		require.NoError(t, err)
		path = filepath.ToSlash(path)
		for _, i := range f.Imports {
			name, err := strconv.Unquote(i.Path.Value)
			require.NoError(t, err)
			checked++
			if name == "epitome/golden" || strings.HasPrefix(name, "epitome/truth") { // no build contains them
				assert.Contains(t, path, "/truth/", "%s imports %s", path, name)
			}
			switch {
			case strings.Contains(path, "/internal/cli/"):
				assert.False(t, strings.HasPrefix(name, "epitome/core/") && name != "epitome/core/bench", "%s imports %s", path,
					name)
			case strings.Contains(path, "/core/"):
				assert.False(t, strings.HasPrefix(name, "epitome/internal/") || name == "os" || name == "net" ||
					strings.HasPrefix(name, "os/"), "%s imports %s", path, name)
			}
		}
		return nil
	}))
	assert.Greater(t, checked, 500)
}

// Lines are read in a terminal beside others. What an example prints can't be broken.
func TestLinesFitATerminal(t *testing.T) {
	const widest = 120
	require.NoError(t, filepath.WalkDir("../..", func(path string, d os.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "example_test.go") {
			return err
		}
		text, err := os.ReadFile(path)
		n := 0
		for line := range strings.Lines(string(text)) {
			n++
			assert.LessOrEqual(t, utf8.RuneCountInString(strings.TrimRight(line, "\n")), widest, "%s:%d", path, n)
		}
		return err
	}))
}
