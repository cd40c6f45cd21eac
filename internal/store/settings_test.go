package store_test

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/internal/store"
)

func TestSettingsMayBeAbsentAndAreChecked(t *testing.T) {
	s, err := store.ReadSettings(filepath.Join(t.TempDir(), "none.yaml"))
	require.NoError(t, err)
	assert.Equal(t, store.Settings{}, s)
	s, err = store.ReadSettings(file(t, "settings.yaml",
		[]byte("heading: [Harbour Workshop]\ncurrency: EUR\npaper: Letter\nprice_lists: [a.csv, b.xlsx]\n")))
	require.NoError(t, err)
	assert.Equal(t, []string{"Harbour Workshop"}, s.Heading)
	assert.Equal(t, []string{"a.csv", "b.xlsx"}, s.PriceLists)
	_, err = store.ReadSettings(file(t, "empty.yaml", nil))
	require.NoError(t, err)
	for text, says := range map[string]string{"colour: red\n": `line 1: there is no key "colour"`,
		"paper: A5\n": "it is A4 or letter", "heading: {": "line 1"} {
		_, err := store.ReadSettings(file(t, "wrong.yaml", []byte(text)))
		assert.ErrorContains(t, err, says, text)
	}
}

func TestACatalogueFolderIsReadInOrderAndWithinBounds(t *testing.T) {
	folder := t.TempDir()
	for name, text := range map[string]string{"b.yaml": "2", "a.yml": "1", "note.txt": "no"} {
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), []byte(text), 0o600))
	}
	files, err := store.ReadCatalogue(folder)
	require.NoError(t, err)
	require.Len(t, files, 2)
	assert.Equal(t, "1", string(files[0].Text))
	require.NoError(t, os.Truncate(filepath.Join(folder, "b.yaml"), 2<<20))
	_, err = store.ReadCatalogue(folder)
	assert.ErrorContains(t, err, "longer than 1 MiB")
	_, err = store.ReadCatalogue(filepath.Join(folder, "none"))
	assert.ErrorIs(t, err, os.ErrNotExist)
	sum, err := store.Sum(filepath.Join(folder, "a.yml"))
	require.NoError(t, err)
	assert.Equal(t, "6b86b273ff34fce19d6b804eff5a3f5747ada4eaa22f1d49c01e52ddb7875b4b", sum)
}
