// Package store reads and writes the user's files. What it writes is there
// whole or not at all, and no two programs change a file at once: every write
// holds a lock on the file it writes, puts the bytes into a new file beside it
// and renames that over it. Links are followed to the real file; devices and
// pipes are written to as they are; what is read must be a regular file.
package store

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"runtime"
	"strings"

	"epitome/core/pattern"
)

// Errors that callers branch on.
var (
	// ErrExists: the file is there already and was not to be replaced.
	ErrExists = errors.New("exists already")
	// ErrNotRegular: what is to be read is a folder, a pipe or a device.
	ErrNotRegular = errors.New("is no regular file")
	// ErrTooLong: the file is longer than what may stand in its place.
	ErrTooLong = errors.New("is too long")
)

// Read reads a whole regular file of at most limit bytes. It never waits:
// pipes and devices are refused before they are opened. Errors name the path
// and wrap ErrNotRegular, ErrTooLong or the system's.
func Read(path string, limit int64) ([]byte, error) {
	f, err := open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	data, err := io.ReadAll(io.LimitReader(f, limit+1))
	if err != nil {
		return nil, fmt.Errorf("%s can't be read: %w", path, unpath(err))
	}
	if int64(len(data)) > limit {
		return nil, &refusal{fmt.Sprintf("%s is longer than %s", path, bytesText(limit)), ErrTooLong}
	}
	return data, nil
}

// open opens a regular file for reading.
func open(path string) (*os.File, error) {
	info, err := os.Stat(path)
	if err != nil {
		return nil, fmt.Errorf("%s can't be read: %w", path, unpath(err))
	}
	if !info.Mode().IsRegular() {
		return nil, notRegular(path, info.Mode())
	}
	f, err := os.Open(path)
	if err != nil {
		return nil, fmt.Errorf("%s can't be read: %w", path, unpath(err))
	}
	return f, nil
}

// A refusal is an error of a kind that callers branch on, in words of its own.
type refusal struct {
	says string
	kind error
}

func (r *refusal) Error() string { return r.says }
func (r *refusal) Unwrap() error { return r.kind }

func notRegular(path string, mode fs.FileMode) error {
	return &refusal{fmt.Sprintf("%s is %s; name a file", path, what(mode)), ErrNotRegular}
}

func bytesText(n int64) string {
	if n >= 1<<20 && n%(1<<20) == 0 {
		return fmt.Sprintf("%d MiB", n>>20)
	}
	return fmt.Sprintf("%d bytes", n)
}

func what(mode fs.FileMode) string {
	switch {
	case mode.IsDir():
		return "a folder"
	case mode&fs.ModeNamedPipe != 0:
		return "a pipe"
	case mode&fs.ModeSocket != 0:
		return "a socket"
	}
	return "a device"
}

// Write puts data into the file at path: into a new file beside it, flushed to
// the disk, then given its name. Unless replace is set, a file that exists is
// left alone and ErrExists is returned.
func Write(path string, data []byte, replace bool) error {
	real, device, err := target(path)
	if err != nil {
		return err
	}
	if device {
		return pour(path, data)
	}
	lock, err := acquire(real)
	if err != nil {
		return err
	}
	defer lock.release()
	info, err := os.Stat(real)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return create(path, real, data)
	case err != nil:
		return fmt.Errorf("%s can't be written: %w", path, unpath(err))
	case !replace:
		return fmt.Errorf("%s %w; --replace overwrites it", path, ErrExists)
	}
	return exchange(path, real, info, data)
}

// Update changes a file that exists: it takes the file's lock, reads it as it
// is now, and writes what change makes of it. Nothing is written where change
// fails, and its error is returned as it is.
func Update(path string, limit int64, change func(now []byte) ([]byte, error)) error {
	real, device, err := target(path)
	if err != nil {
		return err
	}
	if device {
		return &refusal{fmt.Sprintf("%s is no file that can be changed; name a file", path), ErrNotRegular}
	}
	lock, err := acquire(real)
	if err != nil {
		return err
	}
	defer lock.release()
	data, err := Read(real, limit)
	if err != nil {
		return err
	}
	info, err := os.Stat(real)
	if err != nil {
		return fmt.Errorf("%s can't be read: %w", path, unpath(err))
	}
	if data, err = change(data); err != nil {
		return err
	}
	return exchange(path, real, info, data)
}

// target follows links to the file that is to be written. device is true where
// that is a pipe or a device, which can only be written to.
func target(path string) (real string, device bool, err error) {
	if err := checkName(path); err != nil {
		return "", false, err
	}
	if info, err := os.Stat(path); err == nil {
		switch {
		case info.IsDir():
			return "", false, notRegular(path, info.Mode())
		case !info.Mode().IsRegular():
			return path, true, nil
		}
	}
	real = path
	const longestChain = 40
	for range longestChain {
		to, err := os.Readlink(real)
		if err != nil {
			return real, false, nil
		}
		if !filepath.IsAbs(to) {
			to = filepath.Join(filepath.Dir(real), to)
		}
		real = to
	}
	return "", false, fmt.Errorf("%s can't be written: its links lead in a circle", path)
}

// reserved are the names that Windows keeps for devices, whatever their ending.
// A file of such a name could not be opened there, so that none is made.
var reserved = pattern.Of(`(?i)^(con|prn|aux|nul|conin\$|conout\$|(com|lpt)[0-9¹²³])\s*(\..*)?$`)

func checkName(path string) error {
	name := filepath.Base(path)
	switch {
	case path == "":
		return errors.New("no file is named")
	case strings.HasPrefix(filepath.ToSlash(path), "/dev/"):
		return nil
	case reserved().MatchString(name):
		return fmt.Errorf("%s can't be written: Windows keeps the name %s for a device; choose another", path, name)
	case strings.ContainsFunc(name, func(r rune) bool { return r < ' ' || r == 0x7F }):
		return fmt.Errorf("%s can't be written: its name holds a control character", path)
	case runtime.GOOS == "windows" && strings.Contains(strings.TrimPrefix(path, filepath.VolumeName(path)), ":"):
		return fmt.Errorf("%s can't be written: a colon may stand behind a drive's letter only", path)
	}
	return nil
}

// pour writes into a pipe or device.
func pour(path string, data []byte) error {
	f, err := os.OpenFile(path, os.O_WRONLY, 0)
	if err != nil {
		return fmt.Errorf("%s can't be written: %w", path, unpath(err))
	}
	_, err = f.Write(data)
	if err = errors.Join(err, f.Close()); err != nil {
		return fmt.Errorf("%s can't be written: %w", path, unpath(err))
	}
	return nil
}

// create writes a new file. A file that another program, which does not know
// of our lock, makes meanwhile is not overwritten.
func create(path, real string, data []byte) error {
	draft, err := drafted(real, data, 0o644)
	if err == nil {
		giveToCaller(draft)
		err = renameNew(draft, real)
	}
	switch {
	case errors.Is(err, fs.ErrExist):
		err = fmt.Errorf("%s %w; --replace overwrites it", path, ErrExists)
	case err != nil:
		err = fmt.Errorf("%s can't be written: %w", path, unpath(err))
	default:
		syncFolder(real)
		written(path)
		return nil
	}
	os.Remove(draft)
	return err
}

// Writable tells why a file that exists could not be written over; nil where nothing is known to stand in the way,
// and of a file that is not there.
func Writable(path string) error {
	info, err := os.Stat(path)
	switch {
	case err != nil:
		return nil
	case !info.Mode().IsRegular():
		return notRegular(path, info.Mode())
	case info.Mode().Perm()&0o222 == 0:
		return fmt.Errorf("%s can't be written: it is write-protected", path)
	case links(path, info) > 1:
		return fmt.Errorf("%s can't be written: the file has %d names (hard links)", path, links(path, info))
	}
	return nil
}

// exchange writes a new file over one that exists, whose mode and owner stay.
func exchange(path, real string, old fs.FileInfo, data []byte) error {
	if old.Mode().Perm()&0o222 == 0 {
		return fmt.Errorf("%s can't be written: it is write-protected", path)
	}
	if names := links(real, old); names > 1 {
		return fmt.Errorf("%s can't be written: the file has %d names (hard links), and writing would part them; make a "+
			"copy of its own, or remove the others", path, names)
	}
	if now, err := Read(real, int64(len(data))); err == nil && bytes.Equal(now, data) {
		return nil
	}
	draft, err := drafted(real, data, old.Mode().Perm())
	if err == nil {
		keepOwner(draft, old)
		err = os.Rename(draft, real)
	}
	if err != nil {
		os.Remove(draft)
		return fmt.Errorf("%s can't be written: %w", path, unpath(err))
	}
	syncFolder(real)
	written(path)
	return nil
}

// drafted writes the draft of a file: whole and on the disk, under a name of
// its own beside it. Whoever holds the file's lock owns its draft, so that one
// that is there already was left by a program that was killed.
func drafted(real string, data []byte, mode fs.FileMode) (draft string, err error) {
	draft = beside(real, draftEnding)
	if err := os.Remove(draft); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return draft, err
	}
	var f *os.File
	whole(func() { f, err = os.OpenFile(draft, os.O_CREATE|os.O_EXCL|os.O_WRONLY, mode) })
	if err != nil {
		return draft, err
	}
	_, err = f.Write(data)
	if err == nil {
		err = f.Sync()
	}
	return draft, errors.Join(err, f.Close())
}

// syncFolder brings a rename to the disk where the system has a way to. What
// it can't do does not undo what was written.
func syncFolder(real string) {
	if d, err := os.Open(filepath.Dir(real)); err == nil {
		_ = d.Sync()
		d.Close()
	}
}

// unpath takes the path off an error that is shown behind the path.
func unpath(err error) error {
	var p *fs.PathError
	if errors.As(err, &p) {
		return p.Err
	}
	var l *os.LinkError
	if errors.As(err, &l) {
		return l.Err
	}
	return err
}
