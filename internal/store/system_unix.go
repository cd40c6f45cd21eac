//go:build !windows

package store

import (
	"errors"
	"io/fs"
	"os"
	"syscall"

	"golang.org/x/sys/unix"
)

// links is how many names a file has.
func links(_ string, info fs.FileInfo) int {
	if s, ok := info.Sys().(*syscall.Stat_t); ok {
		return int(s.Nlink)
	}
	return 1
}

// keepOwner gives a draft the owner of the file that it replaces, so that a
// card that root adds to stays its owner's. Only root may; nobody else need.
func keepOwner(draft string, old fs.FileInfo) {
	if s, ok := old.Sys().(*syscall.Stat_t); ok && os.Geteuid() == 0 {
		_ = os.Chown(draft, int(s.Uid), int(s.Gid))
		_ = os.Chmod(draft, old.Mode().Perm())
	}
}

// transient reports whether taking a lock failed in a way that passes.
func transient(error) bool { return false }

// lockFile locks an open file for this process alone, or reports that another
// has it. The lock goes with the handle.
func lockFile(f *os.File) (got bool, err error) {
	for {
		err = unix.Flock(int(f.Fd()), unix.LOCK_EX|unix.LOCK_NB)
		switch {
		case err == nil:
			return true, nil
		case errors.Is(err, unix.EINTR):
			continue
		case errors.Is(err, unix.EWOULDBLOCK):
			return false, nil
		}
		return false, err
	}
}

// linkNew gives a draft a second name, which fails where that exists, and takes
// the first away.
func linkNew(draft, path string) error {
	err := os.Link(draft, path)
	switch {
	case err == nil:
		return os.Remove(draft)
	case errors.Is(err, fs.ErrExist), errors.Is(err, fs.ErrNotExist):
		return err
	}
	if _, err := os.Lstat(path); err == nil {
		return fs.ErrExist
	}
	return os.Rename(draft, path)
}
