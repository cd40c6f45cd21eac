package store_test

import (
	"os"
	"path/filepath"
	"runtime"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/internal/store"
)

func entries(t *testing.T, folder string) []string {
	t.Helper()
	list, err := os.ReadDir(folder)
	require.NoError(t, err)
	var names []string
	for _, e := range list {
		names = append(names, e.Name())
	}
	return names
}

func TestAFileIsNeverOverwrittenUnasked(t *testing.T) {
	folder := t.TempDir()
	path := filepath.Join(folder, "a.card")
	require.NoError(t, store.Write(path, []byte("first"), false))
	err := store.Write(path, []byte("second"), false)
	require.ErrorIs(t, err, store.ErrExists)
	assert.Contains(t, err.Error(), "--replace overwrites it")
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, "first", string(data))
	require.NoError(t, store.Write(path, []byte("second"), true))
	data, err = os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, "second", string(data))
	assert.Equal(t, []string{"a.card"}, entries(t, folder), "no temporary file is left behind")
}

func TestAFailedWriteLeavesNothingAndLosesNothing(t *testing.T) {
	folder := t.TempDir()
	err := store.Write(filepath.Join(folder, "no", "such", "folder", "a.card"), []byte("x"), false)
	require.Error(t, err)
	assert.Contains(t, err.Error(), "can't be written")
	assert.Empty(t, entries(t, folder))

	inTheWay := filepath.Join(folder, "folder")
	require.NoError(t, os.Mkdir(inTheWay, 0o755))
	require.Error(t, store.Write(inTheWay, []byte("x"), true))
	require.ErrorIs(t, store.Write(inTheWay, []byte("x"), false), store.ErrNotRegular)
	assert.Equal(t, []string{"folder"}, entries(t, folder))
}

func TestReplacingKeepsTheFilesMode(t *testing.T) {
	if runtime.GOOS == "windows" {
		t.Skip("modes are of another kind there")
	}
	path := filepath.Join(t.TempDir(), "a.card")
	require.NoError(t, os.WriteFile(path, []byte("first"), 0o600))
	require.NoError(t, store.Write(path, []byte("second"), true))
	info, err := os.Stat(path)
	require.NoError(t, err)
	assert.Equal(t, os.FileMode(0o600), info.Mode().Perm())
}
