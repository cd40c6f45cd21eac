package cli

import (
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"

	"epitome/core/bench"
	"epitome/core/card"
)

// open reads a card file and lays it on the bench. What is wrong with the
// workshop's own catalogue is said, and the rest is used.
func (a *app) open(path string) (*bench.Bench, error) {
	c, err := readCard(a, path)
	if err != nil {
		return nil, err
	}
	k, wrong := a.known(path)
	for _, w := range wrong {
		a.say("epitome: %s; left out", plainLines(w.Error()))
	}
	return bench.New(c, k), nil
}

func readCard(a *app, path string) (card.Card, error) {
	data, err := readBounded(path, card.MaxSize)
	if err != nil {
		return card.Card{}, err
	}
	c, err := card.Parse(data)
	if err != nil {
		return card.Card{}, fmt.Errorf("%s: %w", path, err)
	}
	for _, damage := range c.Damage {
		a.say("epitome: %s: %s; the rest of the card is used", path, plainLines(damage))
	}
	return c, nil
}

// readBounded reads a whole file of at most limit bytes.
func readBounded(path string, limit int64) ([]byte, error) {
	f, err := os.Open(path)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, fmt.Errorf("%s is not there; epitome intake -o %s makes a card", path, path)
	}
	if err != nil {
		return nil, fmt.Errorf("%s can't be read: %w", path, short(err))
	}
	defer f.Close()
	if info, err := f.Stat(); err == nil && info.IsDir() {
		return nil, fmt.Errorf("%s is a folder, a card is a file; epitome intake --from %s makes a card of collected files", path, path)
	}
	data, err := io.ReadAll(io.LimitReader(f, limit+1))
	if err != nil {
		return nil, fmt.Errorf("%s can't be read: %w", path, short(err))
	}
	if int64(len(data)) > limit {
		return nil, fmt.Errorf("%s is longer than %d MiB; no card is", path, limit>>20)
	}
	return data, nil
}

// short takes the path off an error that is shown behind the path.
func short(err error) error {
	var p *fs.PathError
	if errors.As(err, &p) {
		return p.Err
	}
	return err
}
