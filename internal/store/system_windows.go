package store

import (
	"errors"
	"io/fs"
	"os"

	"golang.org/x/sys/windows"
)

// links is how many names a file has.
func links(path string, _ fs.FileInfo) int {
	f, err := os.Open(path)
	if err != nil {
		return 1
	}
	defer f.Close()
	var info windows.ByHandleFileInformation
	if windows.GetFileInformationByHandle(windows.Handle(f.Fd()), &info) != nil {
		return 1
	}
	return int(info.NumberOfLinks)
}

// keepOwner: a file's owner comes from its folder here.
func keepOwner(string, fs.FileInfo) {}

// giveToCaller: there is no sudo.
func giveToCaller(string) {}

func homeOfCaller() string { return "" }

// transient reports whether taking a lock failed in a way that passes: a lock's
// file that its holder has just removed can't be opened until the handle is
// closed.
func transient(err error) bool {
	return errors.Is(err, windows.ERROR_ACCESS_DENIED) || errors.Is(err, windows.ERROR_SHARING_VIOLATION) ||
		errors.Is(err, windows.ERROR_DELETE_PENDING)
}

// lockFile locks the first byte of an open file for this process alone, or
// reports that another has it. The lock goes with the handle; what stands behind
// the first byte can be read all the while.
func lockFile(f *os.File) (got bool, err error) {
	err = windows.LockFileEx(windows.Handle(f.Fd()), windows.LOCKFILE_EXCLUSIVE_LOCK|windows.LOCKFILE_FAIL_IMMEDIATELY,
		0, 1, 0, new(windows.Overlapped))
	if errors.Is(err, windows.ERROR_LOCK_VIOLATION) || errors.Is(err, windows.ERROR_IO_PENDING) {
		return false, nil
	}
	return err == nil, err
}

// renameNew gives a draft its name where no file of that name exists.
func renameNew(draft, path string) error {
	from, err := windows.UTF16PtrFromString(draft)
	if err != nil {
		return err
	}
	to, err := windows.UTF16PtrFromString(path)
	if err != nil {
		return err
	}
	if err := windows.MoveFileEx(from, to, windows.MOVEFILE_WRITE_THROUGH); err != nil {
		return &os.LinkError{Op: "rename", Old: draft, New: path, Err: err}
	}
	return nil
}
