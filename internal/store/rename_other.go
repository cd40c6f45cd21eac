//go:build !linux && !windows

package store

func renameNew(draft, path string) error { return linkNew(draft, path) }
