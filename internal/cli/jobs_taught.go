package cli

import (
	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/store/joblog"
	"epitome/internal/view"
)

func (a *app) jobsTaught() *cobra.Command {
	var format string
	cmd := &cobra.Command{
		Use:   "taught [CARD]",
		Short: "What earlier jobs showed: of a card's make, or of all",
		Long: `Taught lists what rechecks and proofs found on machines of the card's make, by
maker, model and board, or of all makes. Each counts as one observation: it makes
what a published figure alone refuses likely, and warns where it failed; it never
outweighs a manual. jobs withdraw takes back what turned out to be wrong.`,
		Example: `  epitome jobs taught bench3.card`,
		Args: func(cmd *cobra.Command, args []string) error {
			if len(args) > 1 {
				return usageError("taught takes one card, or none; see %s --help", cmd.CommandPath())
			}
			return nil
		},
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			of := ""
			if len(args) == 1 {
				b, err := a.open(args[0])
				if err != nil {
					return err
				}
				if of = b.Make(); of == "" {
					a.say("epitome: %s does not say which make the machine is; epitome observe %s maker=NAME model=NAME adds it",
						args[0], args[0])
					return answer(exitCannotTell)
				}
			}
			return a.readingLog(func(l *joblog.Log) error {
				list, err := l.Taught(of)
				if err != nil {
					return err
				}
				if format == "json" {
					return view.WriteJSON(a.out, view.TaughtJSON(list))
				}
				page := view.NewPage(a.look())
				page.Taught(list)
				return page.Flush(a.out)
			})
		},
	}
	formatFlag(cmd, &format)
	return cmd
}

func (a *app) jobsWithdraw() *cobra.Command {
	var restore bool
	var says string
	cmd := &cobra.Command{
		Use:   "withdraw NUMBER [--says WHY]",
		Short: "Take back what a job showed of its make",
		Example: `  epitome jobs withdraw 2026-118 --says "the socket was bent"
  epitome jobs withdraw 2026-118 --restore`,
		Args: exactly(1, "one number"),
		RunE: func(_ *cobra.Command, args []string) error {
			return a.onJob(joblog.Open, args[0], func(l *joblog.Log, j bench.Job) error {
				did := map[bool]string{false: "withdraw", true: "restore"}[restore]
				n, err := l.Withdraw(j.Number, !restore, a.event(did, says))
				if err != nil {
					return err
				}
				if n == 0 {
					a.say("job      %s: nothing changed; it shows nothing, or it was so already", j.Number)
					return nil
				}
				a.say("job      %s: what it showed %s", j.Number,
					map[bool]string{false: "counts no more", true: "counts again"}[restore])
				return nil
			})
		},
	}
	cmd.Flags().BoolVar(&restore, "restore", false, "let it count again")
	cmd.Flags().StringVar(&says, "says", "", "why")
	return cmd
}
