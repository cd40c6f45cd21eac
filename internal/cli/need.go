package cli

import (
	"bytes"
	"context"
	"fmt"
	"os"
	"os/signal"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"time"

	"github.com/schollz/progressbar/v3"
	"github.com/spf13/cobra"
	"golang.org/x/term"

	"epitome/core/bench"
	"epitome/core/card"
	"epitome/core/maybe"
	"epitome/core/need"
	"epitome/internal/live"
	"epitome/internal/store"
	"epitome/internal/view"
)

// needFlags are need's flags as typed.
type needFlags struct {
	uses, system, policy, chart, root, format string
	bits                                      int
	watch, every                              time.Duration
	showPolicy                                bool
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
				_, err := a.out.Write(need.BuiltInText())
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
	policy, err := loadPolicy(first(f.policy, set.Policy))
	if err != nil {
		return err
	}
	uses, err := policy.ParseUses(f.uses)
	if err != nil {
		return usageError("--use: %v", err)
	}
	b, err := a.open(path)
	if err != nil {
		return err
	}
	if f.watch > 0 {
		if b, err = a.watch(path, f); err != nil {
			return err
		}
	}
	series, missing := b.Series()
	for _, m := range missing {
		a.say("epitome: %s", plainLines(m))
	}
	if f.chart != "" {
		if err := drawChart(f.chart, series); err != nil {
			return err
		}
		a.say("chart    %s", f.chart)
	}
	q := need.Question{System: f.system, Bits: f.bits, Uses: uses}
	if len(series) > 0 {
		q.Summary = maybe.Just(policy.Summarise(series))
	}
	return a.showNeed(b.Need(policy, q), q.Summary, f.format)
}

func (a *app) showNeed(result need.Answer, summary maybe.Value[need.Summary], format string) error {
	var err error
	if format == "json" {
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

func loadPolicy(path string) (need.Policy, error) {
	if path == "" {
		return need.BuiltIn(), nil
	}
	text, err := readBounded(path, 1<<20)
	if err != nil {
		return need.Policy{}, err
	}
	p, err := need.ParsePolicy(text)
	if err != nil {
		return p, fmt.Errorf("%s: %w; need --show-policy prints one to start from", path, err)
	}
	return p, nil
}

func drawChart(path string, series need.Series) error {
	var b bytes.Buffer
	if err := view.Chart(&b, series, filepath.Ext(path) == ".svg"); err != nil {
		return fmt.Errorf("%s: %w", path, err)
	}
	return store.Write(path, b.Bytes(), true)
}

// samplesAtMost keeps a long watch's series small enough to be mailed: beyond
// it the samples lie further apart.
const samplesAtMost = 3600

func (f needFlags) interval() time.Duration {
	if f.every > 0 {
		return f.every
	}
	return max(time.Second, (f.watch / samplesAtMost).Round(time.Second))
}

// watch measures and writes the series on the card, whether the watch ran to
// its end or was stopped.
func (a *app) watch(path string, f needFlags) (*bench.Bench, error) {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	began := a.now()
	sampler, err := live.NewSampler(f.root, began)
	if err != nil {
		return nil, err
	}
	defer sampler.Close()
	series := a.sample(ctx, sampler, f)
	stop() // a second Ctrl-C ends the program
	// The card may have been added to while the watch ran: what stands on it
	// now is what the series joins.
	latest, err := a.open(path)
	if err != nil {
		return nil, err
	}
	c := latest.Card()
	c.Readings = append(slices.Clone(c.Readings), card.Reading{Kind: card.Series, Source: f.root + "proc, every " + f.interval().String(), How: "live",
		Taken: began.UTC().Truncate(time.Second), Data: series.Encode()})
	if err := a.rewrite(path, c, fmt.Sprintf("%d samples added", len(series))); err != nil {
		return nil, err
	}
	return a.open(path)
}

// sample takes samples until the time is up or the context ends.
func (a *app) sample(ctx context.Context, sampler *live.Sampler, f needFlags) need.Series {
	show, finish := a.liveLine(f.watch)
	defer finish()
	ticker := time.NewTicker(f.interval())
	defer ticker.Stop()
	began := a.now()
	series := need.Series{sampler.Sample(began)}
	for {
		select {
		case <-ctx.Done():
			a.say("\nwatch    stopped early; what was measured is kept")
			return series
		case <-ticker.C:
		}
		now := a.now()
		series = append(series, sampler.Sample(now))
		show(now.Sub(began), series)
		if now.Sub(began) >= f.watch {
			return series
		}
	}
}

// liveLine shows a progress line on a terminal, and nothing elsewhere.
func (a *app) liveLine(total time.Duration) (show func(time.Duration, need.Series), finish func()) {
	file, ok := a.err.(*os.File)
	if !ok || !term.IsTerminal(int(file.Fd())) {
		return func(time.Duration, need.Series) {}, func() {}
	}
	bar := progressbar.NewOptions64(total.Milliseconds(), progressbar.OptionSetWriter(file), progressbar.OptionSetWidth(14),
		progressbar.OptionSetPredictTime(true), progressbar.OptionSetElapsedTime(false), progressbar.OptionClearOnFinish(),
		progressbar.OptionSetTheme(progressbar.Theme{Saucer: "=", SaucerHead: ">", SaucerPadding: " ", BarStart: "[", BarEnd: "]"}))
	show = func(passed time.Duration, series need.Series) {
		bar.Describe(view.WatchLine(series[len(series)-1], series[len(series)-2]))
		_ = bar.Set64(min(passed, total).Milliseconds())
	}
	return show, func() { _ = bar.Finish() }
}
