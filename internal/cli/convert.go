package cli

import (
	"strings"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/view"
)

func (a *app) convert() *cobra.Command {
	var format, at string
	cmd := &cobra.Command{
		Use:   "convert FIGURE [--at RATE]",
		Short: "Speeds, ratings, clocks, latencies and sizes into one another",
		Long: `Convert takes any figure of the trade and gives all the others. Where a figure
has two honest readings, as 800 MHz is the rate of DDR2-800 and the clock of
DDR3-1600, both are shown with what would settle it.`,
		Example: `  epitome convert 1066MHz
  epitome convert PC2-6400
  epitome convert DDR4-2666 CL19 --at 2400
  epitome convert 33554432kB
  epitome convert 13.75ns --at 2933`,
		Args: atLeastOne("a figure with its unit, as 1066MHz or PC2-6400"),
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			r, err := bench.Convert(strings.Join(args, " "), at)
			if err != nil {
				return err
			}
			if format == "json" {
				return view.WriteJSON(a.out, view.ConvertedJSON(r))
			}
			page := view.NewPage(a.look())
			page.Converted(r)
			return page.Flush(a.out)
		},
	}
	formatFlag(cmd, &format)
	cmd.Flags().StringVar(&at, "at", "", "the rate or grade for a time or a latency, as 2933 or DDR4-2933")
	return cmd
}
