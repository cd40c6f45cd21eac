// Command pages writes what is installed beside the program: a manual page for each command
// and the completions of four shells, made from the commands themselves.
//
//	go run ./scripts/pages FOLDER
package main

import (
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"time"

	"github.com/spf13/cobra"
	"github.com/spf13/cobra/doc"

	"epitome/internal/cli"
)

func main() {
	if len(os.Args) != 2 {
		fmt.Fprintln(os.Stderr, "usage: pages FOLDER")
		os.Exit(2)
	}
	if err := write(os.Args[1]); err != nil {
		fmt.Fprintln(os.Stderr, "pages:", err)
		os.Exit(1)
	}
}

func write(folder string) error {
	root := cli.Root()
	root.DisableAutoGenTag = true
	manuals, shells := filepath.Join(folder, "man"), filepath.Join(folder, "completion")
	for _, dir := range []string{manuals, shells} {
		if err := os.MkdirAll(dir, 0o755); err != nil {
			return err
		}
	}
	// The day of the release, so that the same release is the same bytes.
	made := time.Unix(0, 0).UTC()
	if n, err := strconv.ParseInt(os.Getenv("SOURCE_DATE_EPOCH"), 10, 64); err == nil {
		made = time.Unix(n, 0).UTC()
	}
	quiet(root)
	header := &doc.GenManHeader{Title: "EPITOME", Section: "1", Source: "Epitome " + cli.Version,
		Manual: "Memory upgrades at the bench", Date: &made}
	if err := doc.GenManTree(root, header, manuals); err != nil {
		return err
	}
	for name, make := range map[string]func(string) error{
		"epitome.bash": func(path string) error { return root.GenBashCompletionFileV2(path, true) },
		"_epitome":     root.GenZshCompletionFile,
		"epitome.fish": func(path string) error { return root.GenFishCompletionFile(path, true) },
		"epitome.ps1":  root.GenPowerShellCompletionFileWithDesc,
	} {
		if err := make(filepath.Join(shells, name)); err != nil {
			return err
		}
	}
	return nil
}

// quiet keeps the day on which a page was made out of it.
func quiet(c *cobra.Command) {
	c.DisableAutoGenTag = true
	for _, sub := range c.Commands() {
		quiet(sub)
	}
}
