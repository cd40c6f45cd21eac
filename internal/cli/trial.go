package cli

import (
	"strings"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/view"
)

// exitFor is the exit code of a verdict.
func exitFor(v bench.Verdict, strict bool) error {
	switch {
	case bench.Refuses(v):
		return answer(exitNo)
	case bench.Open(v, strict):
		return answer(exitCannotTell)
	}
	return nil
}

// strictFlag lets a script take what is likely for what can't be told.
func strictFlag(cmd *cobra.Command, strict *bool) {
	cmd.Flags().BoolVar(strict, "strict", false, "exit with 4 where it works likely, not for certain")
}

func (a *app) mix() *cobra.Command {
	var format, rates string
	var strict bool
	cmd := &cobra.Command{
		Use:   "mix STICK...",
		Short: "Do these sticks run together, at what speed and timings",
		Long: `Mix tells whether sticks belong together, machine aside: the rate and timings at
which they run side by side, which of them sets each figure, and where they do
not all belong together the sets that do. A stick is a sticker's text, a shop's
text, or a file with an EEPROM image; a kit counts as its modules.

--rates names the data rates that the machine knows, where not every standard
one. Exit codes: 0 they run, for certain or likely, 3 they do not, for certain or
likely, 4 a fact is missing (with --strict also where they likely run).`,
		Example: `  epitome mix "8GB 1Rx8 PC4-2400T-SA1-11" "8GB 1Rx8 PC4-3200AA-SA2-11"
  epitome mix epitome-demo/collected/gull-14/spd-50.bin "8GB 1Rx8 PC4-2133P-SA1-10"
  epitome mix "4GB 1Rx8 PC3L-12800S-11-13-B4" "4GB 2Rx8 PC3-10600S-9-10-F3" --rates 1066,1333
  epitome mix "16GB 2Rx8 PC4-2400T-RA1-11" "8GB 1Rx8 PC4-2400T-UA2-11"`,
		Args: atLeastOne("one stick or more"),
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			sticks, err := a.readApart(args)
			if err != nil {
				return err
			}
			m, err := bench.Mix(sticks, rates)
			if err != nil {
				return err
			}
			if format == "json" {
				err = view.WriteJSON(a.out, view.MixedJSON(sticks, m))
			} else {
				page := view.NewPage(a.look())
				page.Mixed(sticks, m)
				err = page.Flush(a.out)
			}
			if err != nil {
				return err
			}
			return exitFor(m.Verdict, strict)
		},
	}
	formatFlag(cmd, &format)
	a.listsFlag(cmd)
	strictFlag(cmd, &strict)
	cmd.Flags().StringVar(&rates, "rates", "", "the data rates that the machine knows, as 2133,2400")
	return cmd
}

// readApart reads sticks and takes kits apart.
func (a *app) readApart(args []string) ([]bench.Stick, error) {
	sticks, _, err := a.readSticks(args)
	return bench.Apart(sticks), err
}

// trialFlags are trial's flags as typed.
type trialFlags struct {
	put, pull, assume []string
	profile, rules    bool
	replace, strict   bool
	format, drawn     string
}

func (a *app) trial() *cobra.Command {
	var f trialFlags
	cmd := &cobra.Command{
		Use:   "trial CARD STICK... [--put PLACE=STICK] [--pull PLACE]",
		Short: "Put sticks into a card's machine: verdict, operating point, reasons",
		Long: `Trial tells whether sticks run in a machine, at what speed and timings, what
sets each figure and what is gained. Sticks go where they do best; --put says
where one goes, --pull empties a place first. Without sticks it judges what is
fitted.

Each rule is asked in every way that the evidence leaves open. Where the ways
differ, it likely works or likely does not, as the evidence leans, or can't be
told; the facts that decide are named with the look that tells. Where no socket
is free, sticks are tried in place of what is fitted. --assume tries it with such a fact,
in observe's words, and writes nothing. --rules lists rules and inferences.

Exit codes: 0 it works, for certain or likely, or with a penalty that is named;
3 it does not, for certain or likely; 4 it can't be told yet (with --strict also
where it likely works).`,
		Example: `  epitome trial bench3.card "8GB 1Rx8 PC4-2400T-SA1-11"
  epitome trial bench3.card --pull DIMM_A1 --put "DIMM_B2=8GB 1Rx8 PC4-3200AA-UA2-11"
  epitome trial bench3.card spd-50.bin --profile
  epitome trial bench3.card stock:HP-1002 --stock list.csv
  epitome trial bench3.card "16GB 2Rx8 PC4-2400T-SA1-11" --assume "maximum=32GB"
  epitome trial --rules`,
		Args: func(cmd *cobra.Command, args []string) error {
			if f.rules && len(args) == 0 || !f.rules && len(args) > 0 {
				return nil
			}
			return usageError("trial wants a card, then sticks; see %s --help", cmd.CommandPath())
		},
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(f.format); err != nil {
				return err
			}
			if f.rules {
				page := view.NewPage(a.look())
				page.Rules(bench.Rules(), bench.Inferences())
				return page.Flush(a.out)
			}
			return a.tried(args[0], args[1:], f)
		},
	}
	formatFlag(cmd, &f.format)
	a.listsFlag(cmd)
	flags := cmd.Flags()
	flags.StringArrayVar(&f.put, "put", nil, "a place and the stick that goes there, PLACE=STICK; may be repeated")
	flags.StringArrayVar(&f.pull, "pull", nil, "a place to be emptied first; may be repeated")
	flags.StringArrayVar(&f.assume, "assume", nil, "a fact to assume, FACT=VALUE as observe takes it; may be repeated")
	strictFlag(cmd, &f.strict)
	flags.BoolVar(&f.profile, "profile", false, "select the modules' overclocking profile")
	flags.BoolVar(&f.rules, "rules", false, "list all rules")
	flags.StringVar(&f.drawn, "map", "", "write the slot map to this file too: .svg or .png")
	flags.BoolVar(&f.replace, "replace", false, "write the map over an existing file")
	return cmd
}

func (a *app) tried(card string, sticks []string, f trialFlags) error {
	plan := bench.TrialOrder{Pull: f.pull, Profile: f.profile}
	var err error
	if plan.Sticks, err = a.readApart(sticks); err != nil {
		return err
	}
	for _, text := range f.put {
		place, text, found := strings.Cut(text, "=")
		if !found || strings.TrimSpace(place) == "" {
			return usageError("--put %q: write PLACE=STICK", place)
		}
		s, _, err := a.readSticks([]string{text})
		if err != nil {
			return err
		}
		plan.Put = append(plan.Put, bench.Put{Place: place, Stick: s[0]})
	}
	b, err := a.open(card)
	if err != nil {
		return err
	}
	if b, err = b.AssumingFacts(f.assume); err != nil {
		return err
	}
	t, b, err := b.TryOrder(plan)
	if err != nil {
		return err
	}
	if f.drawn != "" {
		title, places := view.SlotMapAfter(b.Machine(), t)
		if err := a.drawMap(f.drawn, title, places, f.replace); err != nil {
			return err
		}
	}
	if f.format == "json" {
		err = view.WriteJSON(a.out, view.TrialJSON(t, b.Pays(plan, t)))
	} else {
		page := view.NewPage(a.look())
		page.Trial(b.Machine(), t)
		page.Pays(b.Pays(plan, t))
		if len(f.assume) > 0 {
			page.Blank()
			page.Foot("Assumed, not known: " + strings.Join(f.assume, "; "))
		}
		err = page.Flush(a.out)
	}
	if err != nil {
		return err
	}
	return exitFor(t.Verdict, f.strict)
}
