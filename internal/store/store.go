// Package store writes files so that they are there whole or not at all.
package store

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"os"

	"github.com/natefinch/atomic"
)

// ErrExists: the file is there already and was not to be replaced.
var ErrExists = errors.New("exists already")

// Write puts data into the file at path: into a temporary file beside it,
// flushed to the disk, then renamed over it. Unless replace is set, a file
// that exists is left alone and ErrExists is returned.
func Write(path string, data []byte, replace bool) error {
	if !replace {
		// The name is taken first, so that two programs at once can't both
		// believe that it was free.
		f, err := os.OpenFile(path, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o644)
		if errors.Is(err, fs.ErrExist) {
			return fmt.Errorf("%s %w; --replace overwrites it", path, ErrExists)
		}
		if err != nil {
			return fmt.Errorf("%s can't be written: %w", path, reason(err))
		}
		f.Close()
	}
	if err := atomic.WriteFile(path, bytes.NewReader(data)); err != nil {
		if !replace {
			os.Remove(path)
		}
		return fmt.Errorf("%s can't be written: %w", path, reason(err))
	}
	return nil
}

// reason takes the path off an error that names it already.
func reason(err error) error {
	var p *fs.PathError
	if errors.As(err, &p) {
		return p.Err
	}
	return err
}
