package cli

import (
	"github.com/spf13/cobra"

	"epitome/internal/view"
)

func (a *app) brief() *cobra.Command {
	var format string
	cmd := &cobra.Command{
		Use:   "brief CARD",
		Short: "One page about a card's machine",
		Long: `Brief shows what is known of a machine's memory on one page: the conclusion
first, then every place by channel, then what is fitted, then what does not
add up or is not settled, with the one look that would settle it.`,
		Example: `  epitome brief bench3.card
  epitome brief bench3.card --format json
  epitome brief bench3.card --ascii > note.txt`,
		Args: exactly(1, "one card"),
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			b, err := a.open(args[0])
			if err != nil {
				return err
			}
			if format == "json" {
				return view.WriteJSON(a.out, view.BriefJSON(b.Machine()))
			}
			page := view.NewPage(a.look())
			page.Brief(b.Machine())
			return page.Flush(a.out)
		},
	}
	formatFlag(cmd, &format)
	return cmd
}
