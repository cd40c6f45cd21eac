package cli

import (
	"errors"
	"io/fs"
	"path/filepath"

	"epitome/core/bench"
	"epitome/internal/store"
)

// catalogueFolder is the name of the folder of a workshop's own entries: in
// the user's configuration, and beside the cards.
const catalogueFolder = "catalogue"

// ownFolders are the folders whose entries are laid over the embedded ones,
// the lowest first: the user's configuration, then what --catalogue names, or
// else a folder beside the card.
func (a *app) ownFolders(card string) (folders []string, mustExist map[string]bool) {
	if dir, err := store.ConfigFolder(); err == nil {
		folders = append(folders, filepath.Join(dir, "epitome", catalogueFolder))
	}
	mustExist = make(map[string]bool)
	if set, err := a.settings(); err == nil && set.Catalogue != "" {
		folders = append(folders, set.Catalogue)
	}
	for _, f := range a.catalogues {
		folders, mustExist[f] = append(folders, f), true
	}
	if len(a.catalogues) == 0 && card != "" {
		folders = append(folders, filepath.Join(filepath.Dir(card), catalogueFolder))
	}
	return folders, mustExist
}

// known reads the workshop's own entries. What is wrong with them comes back
// as faults, for the caller to warn of or to stop at.
func (a *app) known(card string) (k bench.Known, wrong []error) {
	folders, mustExist := a.ownFolders(card)
	for _, folder := range folders {
		files, err := store.ReadCatalogue(folder)
		if errors.Is(err, fs.ErrNotExist) && !mustExist[folder] {
			continue
		}
		if err != nil {
			wrong = append(wrong, err)
		}
		for _, f := range files {
			o, faults := bench.ParseEntries(f.Path, f.Text)
			for _, fault := range faults {
				fault.File = f.Path
				wrong = append(wrong, fault)
			}
			k = k.With(o)
		}
	}
	return k, wrong
}
