package cli

import (
	"bytes"
	"path/filepath"
	"strings"

	"epitome/internal/view"
)

// drawMap writes a slot map as a picture, in the form that the file's name asks
// for.
func (a *app) drawMap(path, title string, places []view.Site, replace bool) error {
	ext := strings.ToLower(filepath.Ext(path))
	if ext != ".svg" && ext != ".png" {
		return usageError("--map %s: a name that ends in .svg or .png", path)
	}
	var b bytes.Buffer
	if err := view.DrawSlotMap(&b, title, places, ext == ".svg"); err != nil {
		return err
	}
	if err := a.write(path, b.Bytes(), replace); err != nil {
		return err
	}
	a.say("map      %s", path)
	return nil
}
