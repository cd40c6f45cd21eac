package cli

import (
	"errors"

	"github.com/spf13/cobra"

	"epitome/core/jedec"
	"epitome/core/propose"
	"epitome/internal/view"
)

func (a *app) propose() *cobra.Command {
	var format, reach string
	cmd := &cobra.Command{
		Use:   "propose CARD --reach SIZE",
		Short: "Work out the upgrades",
		Long: `Propose works out which modules to keep, take out and buy so that the machine
reaches a size, within its sockets and its stated maximum. What is not proved
about a proposal is named; buy when it is.

Exit codes: 0 proved proposals, 3 none is possible, 4 it can't be told yet
(the proposals shown wait for the facts named).`,
		Example: `  epitome propose bench3.card --reach 16GB
  epitome propose bench3.card --reach 32GB --format json`,
		Args: exactly(1, "one card"),
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			if reach == "" {
				return usageError("no goal; say how much memory to reach, as in --reach 16GB")
			}
			size, err := jedec.ParseCapacity(reach)
			if err != nil || size == 0 {
				return usageError("--reach %q is not a memory size; write a number with MB or GB, as in 16GB", reach)
			}
			b, err := a.open(args[0])
			if err != nil {
				return err
			}
			result, err := b.Propose(propose.Goal{Reach: size})
			return a.proposals(result, err, format)
		},
	}
	formatFlag(cmd, &format)
	cmd.Flags().StringVar(&reach, "reach", "", "the size to reach, such as 16GB")
	return cmd
}

// proposals shows what was found, or says why there is nothing.
func (a *app) proposals(result propose.Result, err error, format string) error {
	code := exitCannotTell // nothing here is proved yet
	switch {
	case errors.Is(err, propose.ErrBeyond):
		code = exitNo
	case errors.Is(err, propose.ErrReached):
		code = exitDone
	}
	if format == "json" {
		blocked := ""
		if err != nil {
			blocked = err.Error()
		}
		if err := view.WriteJSON(a.out, view.ProposeJSON(result, blocked)); err != nil {
			return err
		}
		return answer(code)
	}
	if err != nil {
		return &codedError{code, err}
	}
	page := view.NewPage(a.look())
	page.Proposals(result)
	if err := page.Flush(a.out); err != nil {
		return err
	}
	return answer(code)
}
