package cli

import (
	"fmt"

	"github.com/spf13/cobra"

	"epitome/core/stick"
	"epitome/internal/view"
)

func (a *app) module() *cobra.Command {
	var format string
	cmd := &cobra.Command{
		Use:   "module STICK...",
		Short: "All about one stick, from its sticker",
		Long: `Module tells everything that a sticker's label, a part number or a shop's text
says of a module, and what it does not say. Nothing is filled in: an attribute
that is left out stays unknown, and two parts that can't both be right are an
error that quotes them.`,
		Example: `  epitome module "8GB 1Rx8 PC4-2400T-SA1-11"
  epitome module "16 GB (2x8) DDR4 3200MHz CL22 SODIMM 1,2V"
  epitome module "PC3L-12800S-11-13-F3" "PC3-10600S-9-10-B1" --format json`,
		Args: atLeastOne("a stick: the label, or a description in quotes"),
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			var sticks []stick.Stick
			for _, arg := range args {
				s, err := stick.Parse(arg)
				if err != nil {
					return err
				}
				sticks = append(sticks, s)
			}
			if format == "json" {
				return view.WriteJSON(a.out, view.ModulesJSON(sticks))
			}
			page := view.NewPage(a.look())
			for i, s := range sticks {
				if i > 0 {
					page.Blank()
				}
				page.Module(s)
			}
			return page.Flush(a.out)
		},
	}
	formatFlag(cmd, &format)
	return cmd
}

// atLeastOne wraps cobra's argument count so that none is wrong usage.
func atLeastOne(what string) cobra.PositionalArgs {
	return func(cmd *cobra.Command, args []string) error {
		if len(args) == 0 {
			return &codedError{exitUsage, fmt.Errorf("%s wants %s; see %s --help", cmd.Name(), what, cmd.CommandPath())}
		}
		return nil
	}
}
