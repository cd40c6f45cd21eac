package cli

import (
	"time"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/live"
	"epitome/internal/view"
)

// recheckFlags are recheck's flags as typed.
type recheckFlags struct {
	proposal  int
	live, dry bool
	profile   bool
	format    string
}

func (a *app) recheck() *cobra.Command {
	var f recheckFlags
	cmd := &cobra.Command{
		Use:   "recheck CARD AFTER | recheck CARD --live",
		Short: "After fitting: prediction against fact",
		Long: `Recheck compares what a proposal predicted with the machine as it is now: each
place, the total, the data rate, what the system sees. For every difference it
says what to look at, the likeliest first. AFTER is a card that was made after
fitting; --live reads this machine instead.

The outcome is written on the first card. Exit codes: 0 as predicted, 3 it
differs, 4 it can't be told.`,
		Example: `  epitome intake -o after.card
  epitome recheck bench3.card after.card
  epitome recheck bench3.card after.card --proposal 2
  epitome recheck bench3.card --live`,
		Args: func(cmd *cobra.Command, args []string) error {
			if f.live && len(args) == 1 || !f.live && len(args) == 2 {
				return nil
			}
			return usageError("recheck wants the card and one made after fitting, or --live; see %s --help", cmd.CommandPath())
		},
		RunE: func(_ *cobra.Command, args []string) error { return a.rechecked(args, f) },
	}
	formatFlag(cmd, &f.format)
	flags := cmd.Flags()
	flags.IntVar(&f.proposal, "proposal", 0,
		"the number of the proposal that was fitted (default: the one that what is found comes nearest to)")
	flags.BoolVar(&f.live, "live", false, "read this machine instead of a second card")
	flags.BoolVar(&f.profile, "profile", false, "the overclocking profile was to be selected")
	flags.BoolVar(&f.dry, "dry-run", false, "compare only; write nothing on the card")
	return cmd
}

func (a *app) rechecked(args []string, f recheckFlags) error {
	if err := checkFormat(f.format); err != nil {
		return err
	}
	b, err := a.open(args[0])
	if err != nil {
		return err
	}
	way, plan, err := a.kept(b, args[0], f.proposal)
	if err != nil {
		return err
	}
	after, err := a.afterwards(args, f)
	if err != nil {
		return err
	}
	var r bench.Comparison
	if f.proposal == 0 {
		way, r, err = b.RecheckAny(f.profile, after)
	} else {
		r, err = b.Recheck(way, f.profile, after)
	}
	if err != nil {
		return err
	}
	if len(plan.Ways) > 1 && r.Other == "" {
		a.say("fitted   proposal %d, by what is found", way.Number)
	}
	if f.format == "json" {
		err = view.WriteJSON(a.out, view.RecheckJSON(r))
	} else {
		page := view.NewPage(a.look())
		page.Rechecked(r)
		if s, why, ok := b.Faster(after, way, f.profile); (ok || why != "") && r.Other == "" {
			page.Faster(s, why)
		}
		err = page.Flush(a.out)
	}
	if err != nil {
		return err
	}
	if !f.dry && r.Other == "" {
		if err := a.keepOutcome(args[0], r, after, way.Number); err != nil {
			return err
		}
	}
	switch {
	case !r.Told():
		return answer(exitCannotTell)
	case !r.Fine():
		return answer(exitNo)
	}
	return nil
}

func (a *app) afterwards(args []string, f recheckFlags) (*bench.Bench, error) {
	if !f.live {
		return a.open(args[1])
	}
	haul, err := live.Here(a.now().UTC().Truncate(time.Second))
	if err != nil {
		return nil, err
	}
	if !haul.HasTable() {
		a.say("missing  firmware tables: %s", again(nil))
	}
	return bench.Bare(bench.NewCard(a.now(), "", haul.Readings)), nil
}

// keepOutcome writes what was found on the card, as it is now.
func (a *app) keepOutcome(path string, r bench.Comparison, after *bench.Bench, proposal int) error {
	reading, err := after.OutcomeReading(r, proposal, a.now().UTC().Truncate(time.Second))
	if err != nil {
		return err
	}
	return a.add(path, "the outcome was added", reading)
}
