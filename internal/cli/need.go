package cli

import (
	"bytes"
	"fmt"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/view"
)

// needFlags are need's flags as typed.
type needFlags struct {
	uses, system, policy, chart, root, format string
	series                                    string
	bits                                      int
	watch, every                              time.Duration
	showPolicy, replace                       bool
}

func (a *app) need() *cobra.Command {
	var f needFlags
	cmd := &cobra.Command{
		Use:   "need CARD [--use USES] [--watch TIME]",
		Short: "How much memory this user needs, and whether more would help",
		Long: `Need answers the first question of a visit: does the machine lack memory, and
how much does its user need. It estimates from what the user does (--use), and
measures while the user works as usual (--watch): what is in use, how long
programs wait for memory, what comes back from swap. The measured series stays
on the card. Ctrl-C ends a watch early and keeps what was measured.

The estimate goes by a sizing policy, one file with its reasons; --show-policy
prints it, --policy takes the workshop's own.

Exit code 4 where nothing was named or measured to go by.`,
		Example: `  epitome need bench3.card --use browsing,tabs=40,office
  epitome need bench3.card --watch 20m --chart bench3.png
  epitome need bench3.card --use vm=2,development --system "Windows 11 Pro"
  epitome need --show-policy > our-policy.yaml`,
		Args: cobra.ArbitraryArgs,
		RunE: func(cmd *cobra.Command, args []string) error {
			if f.showPolicy {
				_, text := bench.BuiltInPolicy()
				_, err := a.out.Write(text)
				return err
			}
			if err := exactly(1, "one card")(cmd, args); err != nil {
				return err
			}
			return a.needed(args[0], f)
		},
	}
	formatFlag(cmd, &f.format)
	flags := cmd.Flags()
	flags.StringVar(&f.uses, "use", "", "what the user does, as browsing,tabs=40,vm=2")
	flags.StringVar(&f.system, "system", "", `the operating system, as "Windows 10 Home"; default: the card's`)
	flags.IntVar(&f.bits, "bits", 0, "width of the operating system, 32 or 64")
	flags.DurationVar(&f.watch, "watch", 0, "measure for so long while the user works, as 20m")
	flags.DurationVar(&f.every, "every", 0, "time between samples; default: a second, more for long watches")
	flags.StringVar(&f.policy, "policy", "", "the workshop's own sizing policy")
	flags.StringVar(&f.chart, "chart", "", "draw the measured series into this file, .png or .svg")
	flags.StringVar(&f.series, "series", "", "take in the journal of a watch whose card was not there any more")
	flags.BoolVar(&f.replace, "replace", false, "draw the chart over an existing file")
	flags.StringVar(&f.root, "root", "/", "the system tree to watch")
	flags.BoolVar(&f.showPolicy, "show-policy", false, "print the built-in sizing policy and end")
	_ = flags.MarkHidden("root") // for tests
	return cmd
}

func (f needFlags) check() error {
	switch {
	case f.bits != 0 && f.bits != 32 && f.bits != 64:
		return usageError("--bits %d: 32 or 64", f.bits)
	case f.watch < 0 || f.watch > 7*24*time.Hour:
		return usageError("--watch %v: up to a week, as 20m or 2h", f.watch)
	case f.every != 0 && (f.every < 100*time.Millisecond || f.every > time.Minute):
		return usageError("--every %v: 100ms to 1m", f.every)
	case f.chart != "" && !strings.HasSuffix(f.chart, ".png") && !strings.HasSuffix(f.chart, ".svg"):
		return usageError("--chart %s: a name that ends in .png or .svg", f.chart)
	}
	return checkFormat(f.format)
}

func (a *app) needed(path string, f needFlags) error {
	if err := f.check(); err != nil {
		return err
	}
	set, err := a.settings()
	if err != nil {
		return err
	}
	policy, uses, err := a.usesOf(f.uses, first(f.policy, set.Policy))
	if err != nil {
		return err
	}
	b, err := a.open(path)
	if err != nil {
		return err
	}
	if f.series != "" {
		if b, err = a.joinSeries(path, f.series); err != nil {
			return err
		}
	}
	if f.watch > 0 {
		if b, err = a.watch(path, f); err != nil {
			return err
		}
	}
	series, missing := b.Series()
	for _, m := range missing {
		a.say("epitome: %s", m)
	}
	if f.chart != "" {
		if err := a.drawChart(f.chart, series, f.replace); err != nil {
			return err
		}
		a.say("chart    %s", f.chart)
	}
	result, summary := b.NeedFor(policy, uses, f.system, f.bits)
	if f.format == "json" {
		err = view.WriteJSON(a.out, view.NeededJSON(result, summary))
	} else {
		page := view.NewPage(a.look())
		page.Needed(result, summary)
		err = page.Flush(a.out)
	}
	if err == nil && !result.Recommended.Known() && !result.Helps.Known() {
		return answer(exitCannotTell)
	}
	return err
}

func (a *app) loadPolicy(path string) (bench.Policy, error) {
	if path == "" {
		p, _ := bench.BuiltInPolicy()
		return p, nil
	}
	return ownFile(a, path, "need --show-policy prints one to start from", bench.ParsePolicy)
}

func (a *app) drawChart(path string, series bench.Series, replace bool) error {
	var b bytes.Buffer
	if err := view.Chart(&b, series, filepath.Ext(path) == ".svg"); err != nil {
		return fmt.Errorf("%s: %w", path, err)
	}
	return a.write(path, b.Bytes(), replace)
}
