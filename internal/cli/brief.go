package cli

import (
	"strings"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/view"
)

func (a *app) brief() *cobra.Command {
	var format, why, drawn, share string
	var hide, replace bool
	cmd := &cobra.Command{
		Use:   "brief CARD [--why[=FACT]]",
		Short: "One page about a card's machine",
		Long: `Brief shows what is known of a machine's memory on one page: the conclusion
first, then every place by channel, then what is fitted, then what does not
add up or is not settled, with the one look that would settle it.

--why shows the claims for and against every finding instead, or those about
one fact: --why=attach, --why="rated of DIMM A". A claim that lost is shown too.`,
		Example: `  epitome brief bench3.card
  epitome brief bench3.card --format json
  epitome brief bench3.card --why=attach
  epitome brief bench3.card --map slots.svg
  epitome brief bench3.card --redact --format json
  epitome brief bench3.card --share shared.card
  epitome brief bench3.card --ascii > note.txt`,
		Args: exactly(1, "one card"),
		RunE: func(cmd *cobra.Command, args []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			asked := cmd.Flags().Changed("why")
			if asked && format == "json" {
				return usageError("--why is for reading; --format json holds all claims anyway")
			}
			b, err := a.open(args[0])
			if err != nil {
				return err
			}
			if hide {
				shared, leftOut := b.Shared()
				a.leftHome(leftOut)
				b = a.lay(args[0], shared)
			}
			m := b.Machine()
			if err := a.besides(b, share, drawn, replace); err != nil {
				return err
			}
			if format == "json" {
				return view.WriteJSON(a.out, view.BriefJSON(m, b.Farthest().Size, b.Free()))
			}
			page := view.NewPage(a.look())
			if !asked {
				page.Brief(m, b.Farthest().Size, b.Free(), b.Unread(), b.ProofLine())
				page.Earlier(b.Earlier())
				return page.Flush(a.out)
			}
			if why == allFacts {
				why = ""
			}
			names, ok := page.Why(m, b.Farthest().Size, why)
			if why == "" {
				page.Earlier(b.Earlier())
			}
			if !ok {
				return usageError("there is no fact %q; there are %s", why, strings.Join(names, ", "))
			}
			return page.Flush(a.out)
		},
	}
	formatFlag(cmd, &format)
	cmd.Flags().StringVar(&why, "why", "",
		"show the claims for and against every finding, or about one fact: --why=attach")
	cmd.Flags().StringVar(&drawn, "map", "", "write the slot map to this file too: .svg or .png")
	cmd.Flags().StringVar(&share, "share", "",
		"write a copy of the card without serial numbers, asset tags and names to this file")
	cmd.Flags().BoolVar(&hide, "redact", false, "replace serial numbers and people's names, each by the same stand-in")
	cmd.Flags().BoolVar(&replace, "replace", false, "write the map or the copy over an existing file")
	cmd.Flags().Lookup("why").NoOptDefVal = allFacts
	return cmd
}

// allFacts is what --why means without a fact. It is no fact's name.
const allFacts = "*"

// besides writes what is wanted beside the page: a card to share, a map.
func (a *app) besides(b *bench.Bench, share, drawn string, replace bool) error {
	if share != "" {
		if err := a.share(b, share, replace); err != nil {
			return err
		}
	}
	if drawn == "" {
		return nil
	}
	title, places := view.SlotMapOf(b.Machine())
	return a.drawMap(drawn, title, places, replace)
}

// leftHome names the readings that are not shared.
func (a *app) leftHome(names []string) {
	for _, name := range names {
		a.say("share    left out: %s", name)
	}
}

// share writes a card that can leave the shop.
func (a *app) share(b *bench.Bench, path string, replace bool) error {
	shared, leftOut := b.Shared()
	a.leftHome(leftOut)
	text, err := shared.Encode()
	if err != nil {
		return err
	}
	if err := a.write(path, text, replace); err != nil {
		return err
	}
	a.say("share    %s", path)
	return nil
}
