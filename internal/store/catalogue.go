package store

import (
	"errors"
	"fmt"
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
// Files that can't be read are left out, and the error names each. Where the
// folder does not exist the error wraps fs.ErrNotExist.
func ReadCatalogue(folder string) ([]CatalogueFile, error) {
	entries, err := os.ReadDir(folder)
	if err != nil {
		return nil, fmt.Errorf("catalogue folder %s can't be read: %w", folder, unpath(err))
	}
	var files []CatalogueFile
	var wrong []error
	for _, e := range entries {
		ext := strings.ToLower(filepath.Ext(e.Name()))
		if e.IsDir() || ext != ".yaml" && ext != ".yml" {
			continue
		}
		if len(files) == maxCatalogueFiles {
			wrong = append(wrong, fmt.Errorf("catalogue folder %s holds more than %d files", folder, maxCatalogueFiles))
			break
		}
		f, err := ReadCatalogueFile(filepath.Join(folder, e.Name()))
		if err != nil {
			wrong = append(wrong, err)
			continue
		}
		files = append(files, f)
	}
	return files, errors.Join(wrong...)
}

// ReadCatalogueFile reads one file of entries.
func ReadCatalogueFile(path string) (CatalogueFile, error) {
	text, err := Read(path, maxCatalogueFile)
	return CatalogueFile{path, text}, err
}
