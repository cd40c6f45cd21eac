package cli

import (
	"fmt"
	"runtime"
	"runtime/debug"

	"github.com/spf13/cobra"
)

// Version is the program's version.
const Version = "0.1.0"

func (a *app) version() *cobra.Command {
	return &cobra.Command{
		Use:     "version",
		Short:   "Which version this is, and what it was built with",
		Example: `  epitome version`,
		Args:    exactly(0, "no arguments"),
		RunE: func(*cobra.Command, []string) error {
			revision := revision()
			if revision != "" {
				revision = ", revision " + revision
			}
			_, err := fmt.Fprintf(a.out, "epitome %s (%s, %s/%s%s)\n", Version, runtime.Version(), runtime.GOOS,
				runtime.GOARCH, revision)
			return err
		},
	}
}

// revision is the commit that the program was built from; empty where that is not known.
func revision() string {
	if info, ok := debug.ReadBuildInfo(); ok {
		for _, s := range info.Settings {
			if s.Key == "vcs.revision" {
				return s.Value
			}
		}
	}
	return ""
}
