package cli

import (
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"epitome/core/bench"
)

// observeFlags are observe's flags as typed.
type observeFlags struct {
	by, source     string
	undo, newPlace bool
}

func (a *app) observe() *cobra.Command {
	var f observeFlags
	cmd := &cobra.Command{
		Use:   "observe CARD FACT=VALUE...",
		Short: "Add what you saw or read to a card",
		Long: `Observe records on a card what the technician saw or read, with who, when and
from what kind of source. Sight outweighs everything about sockets; what
firmware said stays listed. Two observations that contradict each other are
both kept, and the fact is disputed until one is withdrawn.

Facts of a place: attach (socket, soldered), form (DIMM, SO-DIMM …), channel (A,
B …) and holds (the sticker's text, or free), each with "of PLACE". Facts of the
machine: kind, maker, model, board, processor, chipset, system, form (of all
sockets), supply (what the board gives, as 1.35 V), maximum (of the whole
machine), per slot (the largest module), rate (the highest, in MT/s), sockets
(how many you counted), slots a channel, distrust (a reading not to be used, by
its source or kind).

Lines of a settings panel are taken as they stand: "Slots used: 1 of 2".

--undo withdraws the latest observation; it stays on the card as history.`,
		Example: `  epitome observe bench3.card "attach of DIMM 0=soldered" --by Jory
  epitome observe bench3.card "holds of DIMM A=8GB 1Rx8 PC4-2400T-SA1-11"
  epitome observe bench3.card "attach of slot under the cover=socket" --new-place
  epitome observe bench3.card maximum=32GB --source manual
  epitome observe bench3.card --undo`,
		Args: func(cmd *cobra.Command, args []string) error {
			switch {
			case len(args) == 0:
				return usageError("observe wants a card and what was seen; see %s --help", cmd.CommandPath())
			case len(args) == 1 && !f.undo:
				return usageError(`nothing was observed; write FACT=VALUE, as "attach of DIMM 0=soldered"`)
			case len(args) > 1 && f.undo:
				return usageError("--undo withdraws; it adds nothing")
			}
			return nil
		},
		RunE: func(_ *cobra.Command, args []string) error {
			b, err := a.open(args[0])
			if err != nil {
				return err
			}
			if f.undo {
				return a.undo(args[0])
			}
			return a.addObservation(args[0], b, args[1:], f)
		},
	}
	flags := cmd.Flags()
	flags.StringVar(&f.by, "by", "", "who saw it")
	flags.StringVar(&f.source, "source", "", "sight (default), manual, label, maker or measured")
	flags.BoolVar(&f.undo, "undo", false, "withdraw the latest observation")
	flags.BoolVar(&f.newPlace, "new-place", false, "the place is one that no reading listed")
	return cmd
}

func (a *app) addObservation(path string, b *bench.Bench, facts []string, f observeFlags) error {
	seen := bench.Seen{By: f.by, Source: f.source, NewPlace: f.newPlace, Texts: facts}
	readings, did, err := b.Observe(seen, a.now().UTC().Truncate(time.Second))
	if err != nil {
		return err
	}
	for i, r := range readings {
		if err := a.add(path, did[i], r); err != nil {
			return err
		}
	}
	return nil
}

// undo withdraws the latest observation that still counts.
func (a *app) undo(path string) error {
	return a.change(path, func(c *bench.Card) (string, error) {
		made, ok := bench.Withdrawn(c, a.now())
		if !ok {
			return "", fmt.Errorf("%s: there is no observation to withdraw", path)
		}
		return "withdrew the observation of " + made.Format(time.DateTime), nil
	})
}
