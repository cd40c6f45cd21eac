package store

import (
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
)

// A CatalogueFile is one file of a workshop's own catalogue entries.
type CatalogueFile struct {
	Path string
	Text []byte
}

// Bounds of a catalogue folder: more is no catalogue.
const (
	maxCatalogueFile  = 1 << 20
	maxCatalogueFiles = 500
)

// ReadCatalogue reads the YAML files of a folder in the order of their names.
// Where the folder does not exist the error wraps fs.ErrNotExist.
func ReadCatalogue(folder string) ([]CatalogueFile, error) {
	entries, err := os.ReadDir(folder)
	if err != nil {
		return nil, fmt.Errorf("catalogue folder %s can't be read: %w", folder, unpath(err))
	}
	var files []CatalogueFile
	for _, e := range entries {
		ext := strings.ToLower(filepath.Ext(e.Name()))
		if e.IsDir() || ext != ".yaml" && ext != ".yml" {
			continue
		}
		if len(files) == maxCatalogueFiles {
			return files, fmt.Errorf("catalogue folder %s holds more than %d files", folder, maxCatalogueFiles)
		}
		f, err := ReadCatalogueFile(filepath.Join(folder, e.Name()))
		if err != nil {
			return files, err
		}
		files = append(files, f)
	}
	return files, nil
}

// ReadCatalogueFile reads one file of entries.
func ReadCatalogueFile(path string) (CatalogueFile, error) {
	f, err := os.Open(path)
	if err != nil {
		return CatalogueFile{}, fmt.Errorf("%s can't be read: %w", path, unpath(err))
	}
	defer f.Close()
	text, err := io.ReadAll(io.LimitReader(f, maxCatalogueFile+1))
	switch {
	case err != nil:
		return CatalogueFile{}, fmt.Errorf("%s can't be read: %w", path, unpath(err))
	case len(text) > maxCatalogueFile:
		return CatalogueFile{}, fmt.Errorf("%s is longer than 1 MiB; no catalogue file is", path)
	}
	return CatalogueFile{path, text}, nil
}

// unpath takes the path off an error that is shown behind the path.
func unpath(err error) error {
	var p *fs.PathError
	if errors.As(err, &p) {
		return p.Err
	}
	return err
}
