package cli

import (
	"strings"

	"github.com/spf13/cobra"
)

// completePlaces completes flags with the names of the card's places.
func (a *app) completePlaces(cmd *cobra.Command, flags ...string) {
	for _, name := range flags {
		// The error says that the flag does not exist, which a test would show.
		_ = cmd.RegisterFlagCompletionFunc(name,
			func(_ *cobra.Command, args []string, typed string) ([]string, cobra.ShellCompDirective) {
				if len(args) == 0 {
					return nil, cobra.ShellCompDirectiveNoFileComp
				}
				quiet := *a
				quiet.err = new(strings.Builder)
				b, err := quiet.open(args[0])
				if err != nil {
					return nil, cobra.ShellCompDirectiveNoFileComp
				}
				var names []string
				for _, p := range b.Machine().Places {
					if strings.HasPrefix(strings.ToLower(p.Name), strings.ToLower(typed)) {
						names = append(names, p.Name)
					}
				}
				return names, cobra.ShellCompDirectiveNoFileComp
			})
	}
}

// completeCards offers card files where a command wants one.
func completeCards(_ *cobra.Command, args []string, _ string) ([]string, cobra.ShellCompDirective) {
	if len(args) == 0 {
		return []string{"card"}, cobra.ShellCompDirectiveFilterFileExt
	}
	return nil, cobra.ShellCompDirectiveDefault
}
