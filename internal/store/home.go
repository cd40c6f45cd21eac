package store

import (
	"os"
	"path/filepath"
)

// Home is the user's home folder: under sudo that of the user who called.
func Home() (string, error) {
	if home := homeOfCaller(); home != "" {
		return home, nil
	}
	return os.UserHomeDir()
}

// ConfigFolder is where the user's settings stand: under sudo those of the user who called.
func ConfigFolder() (string, error) {
	if home := homeOfCaller(); home != "" && os.Getenv("XDG_CONFIG_HOME") == "" {
		return filepath.Join(home, ".config"), nil
	}
	return os.UserConfigDir()
}

// MakeFolder makes a folder and those above it that are missing. Under sudo they are the user's who called.
func MakeFolder(path string) error {
	var made []string
	for at := filepath.Clean(path); ; at = filepath.Dir(at) {
		if _, err := os.Stat(at); err == nil || at == filepath.Dir(at) {
			break
		}
		made = append(made, at)
	}
	err := os.MkdirAll(path, 0o755)
	for _, at := range made {
		giveToCaller(at)
	}
	return err
}

// GiveToCaller makes files that something else made under sudo the user's who called. Those that are not there are
// passed over.
func GiveToCaller(paths ...string) {
	for _, path := range paths {
		giveToCaller(path)
	}
}
