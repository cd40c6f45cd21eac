package store_test

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/internal/store"
	"epitome/truth/effort"
)

// nobody is a user who owns nothing, and another is a second one of the same group.
const nobody, another, group = 65534, 65533, 65534

// as runs this test's program as a user who adds a line to a file so many times, and returns what it said.
func as(t *testing.T, uid int, path string, times int, env ...string) (said string, err error) {
	t.Helper()
	cmd := exec.Command("/proc/self/exe", "-test.run", "^TestAddsALine$", "-test.v")
	cmd.Dir = "/"
	cmd.Env = append(append(os.Environ(), "EPITOME_ADDS="+path, "EPITOME_TIMES="+strconv.Itoa(times)), env...)
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: uint32(uid), Gid: group}}
	out, err := cmd.CombinedOutput()
	return string(out), err
}

// TestAddsALine is what another user's program does; by itself it does nothing.
func TestAddsALine(t *testing.T) {
	path := os.Getenv("EPITOME_ADDS")
	if path == "" {
		t.Skip("only as another user's program")
	}
	syscall.Umask(0o077) // the strictest of users
	times, err := strconv.Atoi(os.Getenv("EPITOME_TIMES"))
	require.NoError(t, err)
	if times == 0 {
		require.NoError(t, store.Write(path, []byte("new\n"), false))
	}
	for range times {
		require.NoError(t, store.Update(path, 1<<20, func(now []byte) ([]byte, error) {
			return append(now, fmt.Sprintf("%d\n", os.Getuid())...), nil
		}))
	}
}

// open is a folder that everybody may write, away from the test's own, which nobody else may enter.
func open(t *testing.T) string {
	t.Helper()
	if os.Getuid() != 0 {
		t.Skip("wants root, to be several users")
	}
	folder, err := os.MkdirTemp("/var/tmp", "users")
	require.NoError(t, err)
	t.Cleanup(func() { os.RemoveAll(folder) })
	require.NoError(t, os.Chmod(folder, 0o777))
	return folder
}

func owner(t *testing.T, path string) (uid, gid uint32, mode os.FileMode) {
	t.Helper()
	info, err := os.Stat(path)
	require.NoError(t, err)
	s := info.Sys().(*syscall.Stat_t)
	return s.Uid, s.Gid, info.Mode().Perm()
}

// What is made under sudo is the user's who called, who can go on with it; what is replaced stays whose it was.
func TestWhatIsMadeUnderSudoIsTheCallers(t *testing.T) {
	folder := open(t)
	t.Setenv("SUDO_UID", strconv.Itoa(nobody))
	t.Setenv("SUDO_GID", strconv.Itoa(group))
	made := filepath.Join(folder, "deep", "down")
	require.NoError(t, store.MakeFolder(made))
	path := filepath.Join(made, "a.card")
	require.NoError(t, store.Write(path, []byte("new\n"), false))
	for _, x := range []string{path, made, filepath.Dir(made)} {
		uid, gid, _ := owner(t, x)
		assert.Equal(t, []uint32{nobody, group}, []uint32{uid, gid}, x)
	}
	said, err := as(t, nobody, path, 2)
	require.NoError(t, err, said)
	require.NoError(t, store.Update(path, 1<<20,
		func(now []byte) ([]byte, error) { return append(now, "root\n"...), nil }))
	uid, _, _ := owner(t, path)
	assert.Equal(t, uint32(nobody), uid)
	text, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, "new\n65534\n65534\nroot\n", string(text))
	home, err := store.Home()
	require.NoError(t, err)
	assert.NotEqual(t, "/root", home, "his home, his settings, his log")
}

// A lock that somebody left behind, whoever it was and however it may be opened, refuses nobody; one that can't be
// opened at all is named.
func TestALeftoverLockRefusesNobody(t *testing.T) {
	folder := open(t)
	path := filepath.Join(folder, "a.card")
	lock := filepath.Join(folder, ".a.card.epitome-lock")
	for _, mode := range []os.FileMode{0o644, 0o666, 0o444} {
		require.NoError(t, os.WriteFile(path, nil, 0o666))
		require.NoError(t, os.Chmod(path, 0o666))
		require.NoError(t, os.WriteFile(lock, []byte("left"), mode))
		require.NoError(t, os.Chmod(lock, mode))
		said, err := as(t, nobody, path, 1)
		assert.NoError(t, err, "%v: %s", mode, said)
	}
	require.NoError(t, os.WriteFile(lock, []byte("left"), 0o600))
	require.NoError(t, os.Chmod(lock, 0o600))
	said, err := as(t, nobody, path, 1)
	assert.Error(t, err)
	assert.Contains(t, said, lock+" can't be opened: permission denied; remove it")
}

// Two users write into one folder: they wait for each other, no line is lost, and mode and group of the file stay.
func TestTwoUsersWriteIntoOneFolder(t *testing.T) {
	effort.NotShort(t)
	folder := open(t)
	path := filepath.Join(folder, "a.card")
	require.NoError(t, os.WriteFile(path, nil, 0o666))
	require.NoError(t, os.Chmod(path, 0o664))
	require.NoError(t, os.Chown(path, nobody, group))
	const each = 40
	var all sync.WaitGroup
	for _, uid := range []int{nobody, another} {
		all.Go(func() {
			said, err := as(t, uid, path, each)
			assert.NoError(t, err, said)
		})
	}
	all.Wait()
	text, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, each, strings.Count(string(text), "65534\n"))
	assert.Equal(t, each, strings.Count(string(text), "65533\n"))
	_, gid, mode := owner(t, path)
	assert.Equal(t, uint32(group), gid)
	assert.Equal(t, os.FileMode(0o664), mode)
	left, err := filepath.Glob(filepath.Join(folder, ".*epitome-*"))
	require.NoError(t, err)
	assert.Empty(t, left)
}
