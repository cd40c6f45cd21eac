package store

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"
)

// Beside a file FOLDER/NAME that is being written stand its lock and its draft.
// Both go when the write ends. Those of a program that was killed are cleared
// by the next one that writes into the folder: the system let go of the lock.
const (
	ownMark     = ".epitome-"
	lockEnding  = ownMark + "lock"
	draftEnding = ownMark + "draft"
)

// How long a writer waits for another before it gives up, and between two tries.
const (
	lockPatience = 8 * time.Second
	lockPause    = 5 * time.Millisecond
	lockMaking   = 500 * time.Millisecond // until a lock that another makes can be opened by everybody
)

// ErrBusy: another program has been changing the file all the while.
var ErrBusy = errors.New("is being changed by another program")

// longestName keeps names with an ending of ours within what file systems take.
const longestName = 200

// beside is the hidden name beside a file that carries an ending of ours.
func beside(path, ending string) string {
	name := filepath.Base(path)
	if len(name) > longestName {
		name = name[:longestName]
	}
	return filepath.Join(filepath.Dir(path), "."+name+ending)
}

// A held lock belongs to this process until it is released, or dies: it is the
// operating system's lock on an open file. The lock libraries keep that file to
// themselves, and without it nobody can tell whether what was locked still
// carries the lock's name.
type held struct {
	name string
	file *os.File
}

// acquire takes the lock on a file, which need not exist yet. It waits a few
// seconds at the most; the error then wraps ErrBusy and names the holder.
func acquire(path string) (held, error) {
	name := beside(path, lockEnding)
	for began := time.Now(); ; time.Sleep(lockPause) {
		var lock held
		var got bool
		var err error
		whole(func() {
			if lock, got, err = try(name); got {
				process.locks[name] = beside(path, draftEnding)
			}
		})
		_, there := os.Lstat(name)
		switch {
		case errors.Is(err, fs.ErrPermission) && there == nil && time.Since(began) < lockMaking:
			// Another user makes it this moment, and has not opened it to everybody yet.
		case err != nil:
			return held{}, fmt.Errorf("%s can't be written: %w", path, unpath(err))
		case got:
			sweep(filepath.Dir(path), name)
			lock.sign()
			return lock, nil
		}
		if time.Since(began) > lockPatience {
			return held{}, fmt.Errorf("%s %w%s; try again when it is done", path, ErrBusy, holder(name))
		}
	}
}

// Alone does what must not be done twice at once to a file, which need not exist yet: it
// holds the file's lock meanwhile.
func Alone(path string, do func() error) error {
	lock, err := acquire(path)
	if err != nil {
		return err
	}
	defer lock.release()
	return do()
}

// try takes a lock that nobody holds. A lock whose file was removed by its
// former holder, between our opening and locking it, is not taken.
func try(name string) (lock held, got bool, err error) {
	f, err := openLock(name)
	if err != nil {
		if transient(err) || errors.Is(err, fs.ErrExist) {
			return held{}, false, nil // it came or went meanwhile
		}
		if _, there := os.Lstat(name); there == nil {
			err = fmt.Errorf("its lock %s can't be opened: %w; remove it if nobody is at work", name, unpath(err))
		}
		return held{}, false, err
	}
	if got, err = lockFile(f); err == nil && got && carries(f, name) {
		return held{name, f}, true, nil
	}
	f.Close()
	return held{}, false, err
}

// openLock opens a lock's file, or makes it. Everybody who may write the folder may open it, whoever made it: an open
// file that can only be read can be locked as well.
func openLock(name string) (*os.File, error) {
	f, err := os.OpenFile(name, os.O_RDWR, 0)
	if errors.Is(err, fs.ErrPermission) {
		if f, err = os.OpenFile(name, os.O_RDONLY, 0); !errors.Is(err, fs.ErrNotExist) {
			return f, err
		}
	}
	if !errors.Is(err, fs.ErrNotExist) {
		return f, err
	}
	// Some systems refuse to open another's file in a folder like /tmp where it may be made: it is made apart from that.
	if f, err = os.OpenFile(name, os.O_CREATE|os.O_EXCL|os.O_RDWR, 0o666); err == nil {
		_ = f.Chmod(0o666) // whatever the mask
		giveToCaller(name)
	}
	return f, err
}

// carries reports whether an open file still has a name.
func carries(f *os.File, name string) bool {
	ours, err := f.Stat()
	if err != nil {
		return false
	}
	there, err := os.Stat(name)
	return err == nil && os.SameFile(ours, there)
}

// sign writes who holds the lock, behind the byte that some systems lock
// against reading. A lock that can't be signed holds all the same.
func (h held) sign() {
	host, _ := os.Hostname()
	command := strings.Join(os.Args[:min(len(os.Args), 2)], " ")
	text := fmt.Sprintf("\n%s, process %d on %s, since %s", filepath.Base(command), os.Getpid(), host,
		time.Now().Format(time.TimeOnly))
	_ = h.file.Truncate(0)
	_, _ = h.file.WriteAt([]byte(text), 0)
}

// holder says who holds a lock, as a parenthesis; nothing where it can't be read.
func holder(name string) string {
	f, err := open(name)
	if err != nil {
		return ""
	}
	defer f.Close()
	text := make([]byte, 200)
	n, _ := f.ReadAt(text, 1)
	if who := strings.TrimSpace(string(text[:n])); who != "" {
		return " (" + who + ")"
	}
	return ""
}

// release removes the lock's file while it is still held, so that nobody's
// later one is removed, and lets go.
func (h held) release() {
	var err error
	whole(func() {
		err = os.Remove(h.name)
		delete(process.locks, h.name)
	})
	_ = h.file.Close()
	if err != nil {
		// Windows removes no open file. This fails where somebody has it by now.
		_ = os.Remove(h.name)
	}
}

// sweep clears locks and drafts in a folder whose makers are gone. own is the
// lock that the caller holds.
func sweep(folder, own string) {
	entries, err := os.ReadDir(folder)
	if err != nil {
		return
	}
	for _, e := range entries {
		name, found := strings.CutSuffix(e.Name(), draftEnding)
		if !found {
			name, found = strings.CutSuffix(e.Name(), lockEnding)
		}
		lock := filepath.Join(folder, name+lockEnding)
		if found && strings.HasPrefix(name, ".") && e.Type().IsRegular() && lock != own {
			clear(lock, filepath.Join(folder, name+draftEnding))
		}
	}
}

// clear removes a lock's file and a draft, unless somebody holds the lock.
func clear(lock, draft string) {
	if l, got, err := try(lock); err == nil && got {
		_ = os.Remove(draft)
		l.release()
	}
}
