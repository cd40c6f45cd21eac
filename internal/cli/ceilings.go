package cli

import (
	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/view"
)

func (a *app) ceilings() *cobra.Command {
	var format, goal string
	cmd := &cobra.Command{
		Use:   "ceilings CARD [--for SIZE|RATE]",
		Short: "Every limit, who sets it, which one binds",
		Long: `Ceilings compares what the standard, the firmware, the processor, the chipset,
the board and the operating system allow, and marks the one that binds. A cell
that nobody could fill is shown as open. A limit that is smaller than the one
that binds but not firm is said in a sentence, with what it costs to trust it
or to ignore it.

--for asks whether the machine may go to a size (32GB) or a rate (3200, in
MT/s), and who says no: of a size the proposals for it decide. Exit codes then:
0 yes, for certain or likely, 3 no, for certain or likely, 4 it can't be told.`,
		Example: `  epitome ceilings bench3.card
  epitome ceilings bench3.card --for 32GB
  epitome ceilings bench3.card --for 3200
  epitome ceilings bench3.card --format json`,
		Args: exactly(1, "one card"),
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			if goal != "" && format == "json" {
				return usageError("--for answers in words and by its exit code; --format json lists all limits")
			}
			b, err := a.open(args[0])
			if err != nil {
				return err
			}
			switch {
			case goal != "":
				return a.mayGo(b, goal)
			case format == "json":
				return view.WriteJSON(a.out, view.CeilingsJSON(b.Ceilings(), b.Reach()))
			}
			page := view.NewPage(a.look())
			page.Ceilings(b.Machine(), b.Ceilings(), b.Reach())
			page.Unread(b.Unread())
			return page.Flush(a.out)
		},
	}
	formatFlag(cmd, &format)
	cmd.Flags().StringVar(&goal, "for", "", "may the machine go to this size or rate: 32GB, 3200")
	return cmd
}

// mayGo answers whether the machine may go to a size or a rate.
func (a *app) mayGo(b *bench.Bench, goal string) error {
	g, err := b.MayGo(goal)
	if err != nil {
		return err
	}
	page := view.NewPage(a.look())
	page.Going(g)
	if err := page.Flush(a.out); err != nil {
		return err
	}
	return exitFor(g.Verdict, false)
}
