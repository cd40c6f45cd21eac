package cli

import (
	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/view"
)

func (a *app) narrow() *cobra.Command {
	var format string
	var c bench.Clues
	cmd := &cobra.Command{
		Use:   "narrow CLUES",
		Short: "What could it be: from year, pins, notch, marking, total and slots",
		Long: `Narrow works out which generations, grades and module sets remain when all
clues are taken together, and which one further look would split them best.
A clue excludes only what it contradicts.

The notch is measured from the left end to its middle, label towards you,
contacts down. A figure in MHz may be a rate or a clock; both are kept.`,
		Example: `  epitome narrow --pins 240 --year 2008
  epitome narrow --form SO-DIMM --clock 800
  epitome narrow --total 12GB --slots 2 --form SO-DIMM
  epitome narrow --installed-note "4.0 GB (3.89 usable)" --slots 2`,
		Args: exactly(0, "only clues as flags, as in --pins 204"),
		RunE: func(*cobra.Command, []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			r, err := bench.Narrow(c)
			if err != nil {
				return err
			}
			if format == "json" {
				err = view.WriteJSON(a.out, view.NarrowedJSON(r))
			} else {
				page := view.NewPage(a.look())
				page.Narrowed(r)
				err = page.Flush(a.out)
			}
			if err == nil && len(r.Candidates) == 0 {
				return answer(exitNo)
			}
			return err
		},
	}
	formatFlag(cmd, &format)
	flags := cmd.Flags()
	flags.IntVar(&c.Year, "year", 0, "year in which the machine was sold")
	flags.IntVar(&c.Contacts, "pins", 0, "contacts on both sides together")
	flags.StringVar(&c.Form, "form", "", "DIMM, SO-DIMM, Micro-DIMM, Mini-DIMM, CAMM2 or soldered")
	flags.Float64Var(&c.NotchMM, "notch", 0, "mm from the left end to the middle of the notch")
	flags.StringVar(&c.Marking, "marking", "", "whatever is printed on it")
	flags.StringVar(&c.Clock, "clock", "", "a figure called MHz, wherever it was seen")
	flags.StringVar(&c.Volts, "volts", "", "supply printed on it, as 1.5")
	flags.StringVar(&c.Total, "total", "", "memory in the machine, as 12GB")
	flags.IntVar(&c.Slots, "slots", 0, "number of slots that make the total")
	flags.StringVar(&c.Note, "installed-note", "", `a system panel's line, as "4.0 GB (3.89 usable)"`)
	return cmd
}
