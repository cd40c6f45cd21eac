package store

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"
)

// journalEnding marks a journal: what a long measurement has found so far,
// written as it goes, beside the file that it will join.
const journalEnding = ownMark + "watch"

// maxJournal bounds a journal, in bytes: a week at ten samples a second.
const maxJournal = 1 << 30

// A Journal is written line by line while something is measured. Whoever writes
// it holds its lock, so that others can tell one at work from one left behind.
type Journal struct {
	path string
	file *os.File
	lock held
}

// NewJournal starts a journal beside the file at path.
func NewJournal(path string) (*Journal, error) {
	real, _, err := target(path)
	if err != nil {
		return nil, err
	}
	name := beside(real, fmt.Sprintf(".%d-%d%s", os.Getpid(), time.Now().UnixNano(), journalEnding))
	lock, err := acquire(name)
	if err != nil {
		return nil, err
	}
	f, err := os.OpenFile(name, os.O_CREATE|os.O_EXCL|os.O_WRONLY|os.O_APPEND, 0o644)
	if err != nil {
		lock.release()
		return nil, fmt.Errorf("%s can't be written: %w", name, unpath(err))
	}
	return &Journal{name, f, lock}, nil
}

// Path is where the journal stands.
func (j *Journal) Path() string { return j.path }

// Write adds to the journal.
func (j *Journal) Write(p []byte) (int, error) { return j.file.Write(p) }

// Keep ends the journal and leaves it for a later command to take in.
func (j *Journal) Keep() {
	_ = j.file.Sync()
	_ = j.file.Close()
	j.lock.release()
}

// Remove ends the journal, whose contents stand elsewhere by now.
func (j *Journal) Remove() {
	_ = j.file.Close()
	_ = os.Remove(j.path)
	j.lock.release()
}

// LeftBehind hands the contents of each journal beside the file at path whose
// writer is gone to take. A journal goes where take returns nil.
func LeftBehind(path string, take func(name string, text []byte) error) error {
	real, _, err := target(path)
	if err != nil {
		return nil // nothing can stand beside it
	}
	entries, err := os.ReadDir(filepath.Dir(real))
	if err != nil {
		return nil
	}
	begin := filepath.Base(beside(real, ".")) // ".NAME."
	var wrong []error
	for _, e := range entries {
		if !strings.HasPrefix(e.Name(), begin) || !strings.HasSuffix(e.Name(), journalEnding) {
			continue
		}
		if err := takeIn(filepath.Join(filepath.Dir(real), e.Name()), take); err != nil {
			wrong = append(wrong, err)
		}
	}
	return errors.Join(wrong...)
}

func takeIn(name string, take func(string, []byte) error) error {
	lock, free, err := try(beside(name, lockEnding))
	if err != nil || !free {
		return nil // somebody is at work on it, or nobody may write here
	}
	defer lock.release()
	text, err := Read(name, maxJournal)
	if err != nil {
		return err
	}
	if err := take(name, text); err != nil {
		return err
	}
	return os.Remove(name)
}
