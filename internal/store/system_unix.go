//go:build !windows

package store

import (
	"errors"
	"io/fs"
	"os"
	"os/user"
	"strconv"
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

// keepOwner gives a draft the owner, group and mode of the file that it replaces, so that a
// card that root adds to stays its owner's, and one in a shared folder everybody's. The owner
// only root may give; the group anybody who is in it.
func keepOwner(draft string, old fs.FileInfo) {
	if s, ok := old.Sys().(*syscall.Stat_t); ok {
		owner := -1
		if os.Geteuid() == 0 {
			owner = int(s.Uid)
		}
		_ = os.Chown(draft, owner, int(s.Gid))
		_ = os.Chmod(draft, old.Mode().Perm())
	}
}

// caller is the user who called the program by way of sudo, with the group; ok is false where there is none.
func caller() (uid, gid int, ok bool) {
	if os.Geteuid() != 0 {
		return 0, 0, false
	}
	uid, err1 := strconv.Atoi(os.Getenv("SUDO_UID"))
	gid, err2 := strconv.Atoi(os.Getenv("SUDO_GID"))
	return uid, gid, err1 == nil && err2 == nil && uid > 0 && gid >= 0
}

// giveToCaller makes a file or folder that was made under sudo the user's who called.
func giveToCaller(path string) {
	if uid, gid, ok := caller(); ok {
		_ = os.Lchown(path, uid, gid)
	}
}

// homeOfCaller is the home folder of the user who called the program by way of sudo; empty where there is none.
func homeOfCaller() string {
	uid, _, ok := caller()
	if !ok {
		return ""
	}
	u, err := user.LookupId(strconv.Itoa(uid))
	if err != nil {
		return ""
	}
	return u.HomeDir
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
