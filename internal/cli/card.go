package cli

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"slices"

	"epitome/core/bench"
	"epitome/internal/store"
)

// open reads a card file and lays it on the bench. What is wrong with the
// workshop's own catalogue is said, and the rest is used.
func (a *app) open(path string) (*bench.Bench, error) {
	c, err := a.readCard(path)
	if err != nil {
		return nil, err
	}
	return a.remembering(a.lay(path, c)), nil
}

// lay lays a card on the bench, beside what is known of its parts.
func (a *app) lay(path string, c bench.Card) *bench.Bench {
	k, wrong := a.known(path)
	a.leftOut(wrong)
	return bench.New(c, k)
}

// leftOut names what is wrong with the workshop's own catalogue. The rest of it
// is used: one broken file must not stop the work at the bench.
func (a *app) leftOut(wrong []error) {
	for _, w := range wrong {
		a.say("epitome: %v; left out", w)
	}
}

func (a *app) readCard(path string) (bench.Card, error) {
	a.takeInWatches(path)
	data, err := a.read(path, bench.MostCard)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return bench.Card{}, fmt.Errorf("%s is not there; epitome intake -o %s makes a card", path, path)
	case errors.Is(err, store.ErrNotRegular):
		return bench.Card{}, fmt.Errorf("%w; a card is a file, and epitome intake --from FOLDER makes one of "+
			"collected files", err)
	case err != nil:
		return bench.Card{}, err
	}
	c, err := bench.ParseCard(data)
	if err != nil {
		return bench.Card{}, fmt.Errorf("%s: %w", path, err)
	}
	for _, damage := range c.Damage {
		a.say("epitome: %s: %s; the rest of the card is used", path, damage)
	}
	return c, nil
}

// change alters a card that exists: under its lock, as it is now, so that what
// others added meanwhile stays. It says what was done.
func (a *app) change(path string, alter func(*bench.Card) (did string, err error)) error {
	did, err := a.changed(path, alter)
	if err == nil {
		a.say("card     %s: %s", path, did)
	}
	return err
}

// changed is change, of one card among many: it says nothing.
func (a *app) changed(path string, alter func(*bench.Card) (did string, err error)) (did string, err error) {
	err = store.Update(path, bench.MostCard, func(now []byte) ([]byte, error) {
		c, err := bench.ParseCard(now)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", path, err)
		}
		c.Readings = slices.Clone(c.Readings)
		if did, err = alter(&c); err != nil {
			return nil, err
		}
		return c.Encode()
	})
	if err == nil {
		a.noted(path, did)
	}
	return did, err
}

// add puts a reading on a card that exists.
func (a *app) add(path, did string, r bench.Reading) error {
	return a.change(path, func(c *bench.Card) (string, error) {
		c.Readings = append(c.Readings, r)
		return did, nil
	})
}

// read reads a file that the user named, and remembers it as an input.
func (a *app) read(path string, limit int64) ([]byte, error) {
	data, err := store.Read(path, limit)
	if err == nil {
		a.isInput(path)
	}
	return data, err
}

// isInput remembers a file that the command reads.
func (a *app) isInput(path string) {
	if info, err := os.Stat(path); err == nil {
		a.inputs = append(a.inputs, info)
	}
}

// write writes a file that the user named: never over one of the command's own
// inputs, and over any other only where that was asked for.
func (a *app) write(path string, data []byte, replace bool) error {
	if info, err := os.Stat(path); err == nil &&
		slices.ContainsFunc(a.inputs, func(in os.FileInfo) bool { return os.SameFile(in, info) }) {
		return usageError("%s is what this command reads; name another file to write", path)
	}
	return store.Write(path, data, replace)
}

// short takes the path off an error that is shown behind the path.
func short(err error) error {
	var p *fs.PathError
	if errors.As(err, &p) {
		return p.Err
	}
	return err
}
