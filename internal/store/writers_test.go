package store_test

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/internal/store"
)

func TestNoUpdateIsLostAmongManyWriters(t *testing.T) {
	path := file(t, "a.card", nil)
	var all sync.WaitGroup
	for n := range 20 {
		all.Go(func() {
			assert.NoError(t, store.Update(path, 1<<20, func(now []byte) ([]byte, error) {
				return fmt.Appendf(now, "line %d\n", n), nil
			}))
		})
	}
	all.Wait()
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	for n := range 20 {
		assert.Contains(t, string(data), fmt.Sprintf("line %d\n", n))
	}
	assert.Equal(t, []string{"a.card"}, entries(t, filepath.Dir(path)), "neither lock nor draft is left")
}

func TestOfManyWhoMakeAFileOneDoes(t *testing.T) {
	path := filepath.Join(t.TempDir(), "new.card")
	var all sync.WaitGroup
	made := make(chan string, 20)
	for n := range 20 {
		all.Go(func() {
			text := fmt.Sprint("writer ", n)
			if err := store.Write(path, []byte(text), false); err == nil {
				made <- text
			} else {
				assert.ErrorIs(t, err, store.ErrExists)
			}
		})
	}
	all.Wait()
	close(made)
	require.Len(t, made, 1)
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, <-made, string(data))
}

func TestAChangeThatFailsChangesNothing(t *testing.T) {
	path := file(t, "a.card", []byte("as it was"))
	refused := errors.New("refused")
	assert.ErrorIs(t, store.Update(path, 1<<20, func([]byte) ([]byte, error) { return []byte("half"), refused }), refused)
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, "as it was", string(data))
	assert.ErrorIs(t, store.Update(path, 4, func(now []byte) ([]byte, error) { return now, nil }), store.ErrTooLong)
	assert.ErrorIs(t, store.Update(filepath.Join(filepath.Dir(path), "none"), 4, nil), os.ErrNotExist)
	assert.Equal(t, []string{"a.card"}, entries(t, filepath.Dir(path)))
}

func TestWhatAKilledProgramLeftIsCleared(t *testing.T) {
	folder := t.TempDir()
	for _, name := range []string{".a.card.epitome-lock", ".a.card.epitome-draft", ".b.card.epitome-draft",
		".b.card.epitome-lock", "mine.epitome-draft", ".notes"} {
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), []byte("half a card"), 0o600))
	}
	require.NoError(t, store.Write(filepath.Join(folder, "c.card"), []byte("x"), false))
	assert.Equal(t, []string{".notes", "c.card", "mine.epitome-draft"}, entries(t, folder),
		"only hidden files of our own making go")
}

func TestLinksAreFollowedAndKept(t *testing.T) {
	if runtime.GOOS == "windows" {
		t.Skip("making links wants a right of its own there")
	}
	folder, elsewhere := t.TempDir(), t.TempDir()
	real := filepath.Join(elsewhere, "real.card")
	link := filepath.Join(folder, "link.card")
	require.NoError(t, os.WriteFile(real, []byte("first"), 0o644))
	require.NoError(t, os.Symlink(real, link))
	require.NoError(t, store.Write(link, []byte("second"), true))
	data, err := os.ReadFile(real)
	require.NoError(t, err)
	assert.Equal(t, "second", string(data))
	to, err := os.Readlink(link)
	require.NoError(t, err)
	assert.Equal(t, real, to)

	dangling := filepath.Join(folder, "dangling.card")
	require.NoError(t, os.Symlink(filepath.Join(elsewhere, "later.card"), dangling))
	require.NoError(t, store.Write(dangling, []byte("third"), false))
	assert.Equal(t, []string{"later.card", "real.card"}, entries(t, elsewhere))

	circle := filepath.Join(folder, "circle.card")
	require.NoError(t, os.Symlink(circle, circle))
	assert.ErrorContains(t, store.Write(circle, []byte("x"), true), "circle")

	second := filepath.Join(folder, "second.card")
	require.NoError(t, os.Link(real, second))
	err = store.Update(real, 1<<10, func(now []byte) ([]byte, error) { return append(now, '!'), nil })
	assert.ErrorContains(t, err, "the file has 2 names")
	data, err = os.ReadFile(second)
	require.NoError(t, err)
	assert.Equal(t, "second", string(data))
}

func TestDevicesAreWrittenToAndPipesAreNotRead(t *testing.T) {
	if runtime.GOOS == "windows" {
		t.Skip("devices are no files there")
	}
	require.NoError(t, store.Write("/dev/null", []byte("x"), true))
	info, err := os.Stat("/dev/null")
	require.NoError(t, err)
	assert.False(t, info.Mode().IsRegular())
	_, err = store.Read("/dev/zero", 10)
	assert.ErrorIs(t, err, store.ErrNotRegular)
	assert.ErrorContains(t, err, "/dev/zero is a device")
	assert.ErrorIs(t, store.ReadSheet("/dev/zero", nil), store.ErrNotRegular)
	assert.ErrorContains(t, store.Write("/dev/full", []byte("x"), true), "no space left")
}

func TestWriteProtectedFilesAndDevicesNamesAreLeftAlone(t *testing.T) {
	path := file(t, "a.card", []byte("keep"))
	require.NoError(t, os.Chmod(path, 0o444))
	assert.ErrorContains(t, store.Write(path, []byte("x"), true), "write-protected")
	folder := t.TempDir()
	for _, name := range []string{"con", "NUL.card", "com1.card", "Lpt9", "aux.tar.gz", "COM²", "bell\a.card"} {
		assert.Error(t, store.Write(filepath.Join(folder, name), []byte("x"), false), name)
	}
	for _, name := range []string{"console.card", "com10.card", "nul2", strings.Repeat("n", 240)} {
		assert.NoError(t, store.Write(filepath.Join(folder, name), []byte("x"), false), name)
	}
	assert.Len(t, entries(t, folder), 4)
}

func TestAJournalIsTakenInOnceItsWriterIsGone(t *testing.T) {
	path := file(t, "a.card", []byte("card"))
	j, err := store.NewJournal(path)
	require.NoError(t, err)
	_, err = j.Write([]byte("measured\n"))
	require.NoError(t, err)
	var got []string
	take := func(name string, text []byte) error {
		got = append(got, string(text))
		return nil
	}
	require.NoError(t, store.LeftBehind(path, take))
	assert.Empty(t, got, "its writer is at work")
	j.Keep()
	refused := errors.New("refused")
	assert.ErrorIs(t, store.LeftBehind(path, func(string, []byte) error { return refused }), refused)
	require.NoError(t, store.LeftBehind(path, take))
	require.NoError(t, store.LeftBehind(path, take))
	assert.Equal(t, []string{"measured\n"}, got, "once")
	assert.Equal(t, []string{"a.card"}, entries(t, filepath.Dir(path)))
}
