package cli

import (
	"fmt"
	"runtime"
	"runtime/debug"
	"strings"

	"github.com/spf13/cobra"
)

// Version is the program's version; a release sets it to its tag.
var Version = "0.1.0"

func (a *app) version() *cobra.Command {
	return &cobra.Command{
		Use:     "version",
		Short:   "Which version this is, and what it was built with",
		Example: `  epitome version`,
		Args:    exactly(0, "no arguments"),
		RunE: func(*cobra.Command, []string) error {
			from := ""
			if commit, day := revision(); commit != "" {
				from = fmt.Sprintf(", commit %s of %s", commit, day)
			}
			_, err := fmt.Fprintf(a.out, "epitome %s (%s, %s/%s%s)\n", Version, runtime.Version(), runtime.GOOS,
				runtime.GOARCH, from)
			return err
		},
	}
}

// revision is the commit that the program was built from, marked where files differed from it,
// and its day; empty where that is not known.
func revision() (commit, day string) {
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return "", ""
	}
	for _, s := range info.Settings {
		switch s.Key {
		case "vcs.revision":
			commit = s.Value + commit
		case "vcs.time":
			day, _, _ = strings.Cut(s.Value, "T")
		case "vcs.modified":
			if s.Value == "true" {
				commit += " with changes"
			}
		}
	}
	return commit, day
}
