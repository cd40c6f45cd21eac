package store

import (
	"errors"
	"os"

	"golang.org/x/sys/unix"
)

// renameNew gives a draft its name where no file of that name exists. File
// systems that can't rename so are asked for a second name instead, and those
// that have none (FAT before the kernel's 6.0) are looked at first.
func renameNew(draft, path string) error {
	err := unix.Renameat2(unix.AT_FDCWD, draft, unix.AT_FDCWD, path, unix.RENAME_NOREPLACE)
	if errors.Is(err, unix.EINVAL) || errors.Is(err, unix.ENOSYS) || errors.Is(err, unix.EOPNOTSUPP) {
		return linkNew(draft, path)
	}
	if err != nil {
		return &os.LinkError{Op: "rename", Old: draft, New: path, Err: err}
	}
	return nil
}
