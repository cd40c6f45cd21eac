package cli

import (
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/store/joblog"
	"epitome/internal/view"
)

func (a *app) jobs() *cobra.Command {
	var f bench.JobFilter
	var state, format string
	cmd := &cobra.Command{
		Use:   "jobs [--state STATE] [--machine TEXT] [--title TEXT] [--since DAY]",
		Short: "The workshop's log of jobs, and what they teach",
		Long: `Jobs lists the workshop's jobs. A job is one machine's way through the workshop:
jobs open gives a card a number, and from then on every command that changes the
card notes what it did. What a recheck or a proof found on a machine counts for the
next one of the same make: brief, ceilings and propose name it.

The log is one file in your data folder. Where several benches share one, name a
PostgreSQL database in the settings, as

  jobs: postgres://bench@127.0.0.1:5432/workshop

The password is taken from PGPASSWORD or from the password file.`,
		Example: `  epitome jobs open bench3.card
  epitome jobs --open --machine gull
  epitome jobs show 2026-118
  epitome jobs close 2026-118`,
		Args: func(cmd *cobra.Command, args []string) error {
			if len(args) > 0 {
				return usageError("there is no command %q; see %s --help", args[0], cmd.CommandPath())
			}
			return nil
		},
		RunE: func(*cobra.Command, []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			f.State = bench.JobState(state)
			filter, err := bench.JobFilterOf(f)
			if err != nil {
				return err
			}
			var list []bench.Job
			err = a.readingLog(func(l *joblog.Log) error {
				list, err = l.Jobs(filter)
				return err
			})
			if err != nil && !errors.Is(err, joblog.ErrNoLog) { // which is a log without jobs, and none is begun for it
				return err
			}
			if format == "json" {
				return view.WriteJSON(a.out, view.JobsJSON(list))
			}
			page := view.NewPage(a.look())
			page.Jobs(list)
			return page.Flush(a.out)
		},
	}
	formatFlag(cmd, &format)
	flags := cmd.Flags()
	flags.StringVar(&state, "state", "", "only those that are read, proposed, fitted, proved or differs")
	flags.StringVar(&f.Machine, "machine", "", "only those whose machine's name holds this")
	flags.StringVar(&f.Board, "board", "", "only those whose board's name holds this")
	flags.StringVar(&f.Title, "title", "", "only those whose title holds this")
	flags.StringVar(&f.Since, "since", "", "only those that were opened on this day or later")
	flags.StringVar(&f.Until, "until", "", "only those that were opened on this day or before")
	flags.BoolVar(&f.OnlyOpen, "open", false, "only those that are not closed")
	flags.BoolVar(&f.OnlyEnded, "closed", false, "only those that are closed")
	cmd.AddCommand(a.jobsOpen(), a.jobsShow(), a.jobsClose(), a.jobsReopen(), a.jobsTaught(), a.jobsWithdraw(),
		a.jobsExport(), a.jobsImport(), a.jobsMove(), a.jobsRebuild())
	return cmd
}

// withLog opens the workshop's job log for a piece of work that changes it, and closes it again.
func (a *app) withLog(work func(*joblog.Log) error) error { return a.onLog(joblog.Open, work) }

// readingLog opens the workshop's job log to look things up: it is neither begun nor changed.
func (a *app) readingLog(work func(*joblog.Log) error) error { return a.onLog(joblog.OpenToRead, work) }

// errOffline: the job log was to be left alone.
var errOffline = errors.New("the job log is left alone (--offline)")

// onLog opens the job log in a way. A server that did not answer is asked no second time by one command.
func (a *app) onLog(open func(setting string) (*joblog.Log, error), work func(*joblog.Log) error) (err error) {
	set, err := a.settings()
	if err != nil {
		return err
	}
	if a.offline || set.Offline {
		return errOffline
	}
	if a.logAway != nil {
		return a.logAway
	}
	l, err := open(set.Jobs)
	if errors.Is(err, joblog.ErrAway) {
		a.logAway = err
	}
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, l.Close()) }()
	if err = work(l); errors.Is(err, joblog.ErrAway) {
		a.logAway = err
	}
	return err
}

// event is something that is done now.
func (a *app) event(did, says string) bench.JobEvent {
	return bench.JobEvent{At: a.now().UTC().Format(time.RFC3339), Did: did, Says: view.Clip(view.Line(says), longestQuote)}
}

// summaryOf reads a card as it is now, and says what it comes to.
func (a *app) summaryOf(path string) (c bench.Card, s bench.JobSummary, err error) {
	text, err := a.read(path, bench.MostCard)
	if err != nil {
		return c, s, err
	}
	if c, err = bench.ParseCard(text); err != nil {
		return c, s, fmt.Errorf("%s: %w", path, err)
	}
	k, _ := a.known(path) // what is wrong with them was said where the card was used
	s = bench.New(c, k).JobSummary(text)
	if set, err := a.settings(); err == nil && set.KeepCards {
		s.Copy = string(text)
	}
	return c, s, nil
}

// noted writes into the job log what a command did to a card that has a number. The card
// has it in any case: where the log can't be written that is said, and is no failure.
func (a *app) noted(path, says string) {
	c, s, err := a.summaryOf(path)
	if err != nil || c.Job == "" {
		return
	}
	err = a.withLog(func(l *joblog.Log) error {
		return l.Note(c.Job, absolute(path), a.event(a.doing, says), func() (bench.JobSummary, error) {
			_, s, err = a.summaryOf(path)
			return s, err
		})
	})
	switch {
	case errors.Is(err, errOffline):
		a.say("job      not noted: %v; the card has it, and epitome jobs rebuild %s takes it in later", err,
			filepath.Dir(path))
	case errors.Is(err, joblog.ErrNone):
		a.say("job      %s is not in the log; epitome jobs rebuild %s takes it in", c.Job, filepath.Dir(path))
	case err != nil:
		a.say("epitome: not noted in the job log: %v; the card has it, and epitome jobs rebuild %s takes it in later", err,
			filepath.Dir(path))
	}
}

// absolute is a file's whole path, as the log keeps it: a name that is no UTF-8 would be refused by a database.
func absolute(path string) string {
	if abs, err := filepath.Abs(path); err == nil {
		path = abs
	}
	return strings.ToValidUTF8(path, "\uFFFD")
}

// remembering lays what earlier jobs on machines of its make showed beside a card. Without a
// log nothing is opened; one that can't be read is said, and the work goes on without it.
func (a *app) remembering(b *bench.Bench) *bench.Bench {
	set, err := a.settings()
	if err != nil || !joblog.Exists(set.Jobs) || b.Make() == "" {
		return b
	}
	var taught []bench.Taught
	away := a.logAway != nil // and it was said
	err = a.readingLog(func(l *joblog.Log) error {
		taught, err = l.Taught(b.Make())
		return err
	})
	if away || errors.Is(err, errOffline) || errors.Is(err, joblog.ErrNoLog) {
		return b
	}
	if err != nil {
		a.say("epitome: %v; what earlier jobs showed is left out", err)
		return b
	}
	return b.Remembering(taught)
}

func (a *app) jobsOpen() *cobra.Command {
	return &cobra.Command{
		Use:   "open CARD...",
		Short: "Open a job for a card: it gets the next number",
		Long: `Open gives each card the next number of the year, in the log and on the card.
From then on what is done to the card is noted.`,
		Example: `  epitome jobs open bench3.card`,
		Args:    atLeastOne("a card"),
		RunE: func(_ *cobra.Command, args []string) error {
			return a.withLog(func(l *joblog.Log) error {
				for _, path := range args {
					if err := a.openJob(l, path); err != nil {
						return err
					}
				}
				return nil
			})
		},
	}
}

// openJob gives a card a number. A card that has one keeps it.
func (a *app) openJob(l *joblog.Log, path string) error {
	if _, err := a.readCard(path); err != nil {
		return err
	}
	c, s, err := a.summaryOf(path)
	if err != nil {
		return err
	}
	if c.Job != "" {
		if _, err := l.Job(c.Job); errors.Is(err, joblog.ErrNone) {
			return fmt.Errorf("%s has the number %s, which the log does not know; epitome jobs rebuild %s takes it in", path,
				view.Line(c.Job), filepath.Dir(path))
		} else if err != nil {
			return err
		}
		a.say("job      %s: %s has it already", c.Job, path)
		return nil
	}
	today := a.now()
	number, err := l.Begin(today.Year(), bench.Job{Opened: today.Format(time.DateOnly), Card: absolute(path), Summary: s},
		numberInSight(filepath.Dir(path), today.Year()))
	if err != nil {
		return err
	}
	err = a.change(path, func(c *bench.Card) (string, error) {
		return "job " + number + " opened", bench.GiveJob(c, number)
	})
	if err != nil {
		// The number is nobody's then, and stays so.
		_, ended := l.End(number, today.Format(time.DateOnly), a.event("close", "the card could not be written"))
		return errors.Join(err, ended)
	}
	return nil
}

// mostInSight is how many cards beside one are looked at for their numbers.
const mostInSight = 5_000

// jobLine is where a card has its number, before anything of its readings.
var jobLine = regexp.MustCompile(`(?m)^job: ["']?(\d{4}-\d{3,6})\b`)

// numberInSight is the highest number of a year that a card in a folder, or in a folder of it, carries; 0 where none
// does. A log that was replaced does not know them.
func numberInSight(folder string, year int) (most int) {
	names, _ := filepath.Glob(filepath.Join(folder, "*.card"))
	deeper, _ := filepath.Glob(filepath.Join(folder, "*", "*.card"))
	names = append(names, deeper...)
	for _, name := range names[:min(len(names), mostInSight)] {
		f, err := os.Open(name)
		if err != nil {
			continue
		}
		head, _ := io.ReadAll(io.LimitReader(f, 1024))
		f.Close()
		if m := jobLine.FindSubmatch(head); m != nil {
			if y, which, err := bench.ParseJobNumber(string(m[1])); err == nil && y == year {
				most = max(most, which)
			}
		}
	}
	return most
}

func (a *app) jobsShow() *cobra.Command {
	var format, card string
	var replace bool
	cmd := &cobra.Command{
		Use:     "show NUMBER",
		Short:   "One job: what was done, and what it showed",
		Example: `  epitome jobs show 2026-118`,
		Args:    exactly(1, "one number"),
		RunE: func(_ *cobra.Command, args []string) error {
			if err := checkFormat(format); err != nil {
				return err
			}
			return a.onJob(joblog.OpenToRead, args[0], func(_ *joblog.Log, j bench.Job) error {
				if card != "" {
					if j.Copy == "" {
						return fmt.Errorf("%s: the log keeps no copy of its card; keep_cards: yes in the settings keeps one", j.Number)
					}
					return a.write(card, []byte(j.Copy), replace)
				}
				if format == "json" {
					return view.WriteJSON(a.out, view.JobJSON(j))
				}
				page := view.NewPage(a.look())
				page.Job(j)
				return page.Flush(a.out)
			})
		},
	}
	formatFlag(cmd, &format)
	cmd.Flags().StringVar(&card, "card", "", "write the copy of the card that the log keeps to this file")
	cmd.Flags().BoolVar(&replace, "replace", false, "write the copy over an existing file")
	return cmd
}

// onJob finds a job by its number. That there is none is wrong usage.
func (a *app) onJob(open func(string) (*joblog.Log, error), number string,
	work func(*joblog.Log, bench.Job) error) error {
	if _, _, err := bench.ParseJobNumber(number); err != nil {
		return err
	}
	return a.onLog(open, func(l *joblog.Log) error {
		j, err := l.Job(number)
		if errors.Is(err, joblog.ErrNone) {
			return usageError("%v; epitome jobs lists them", err)
		}
		if err != nil {
			return err
		}
		return work(l, j)
	})
}

func (a *app) jobsClose() *cobra.Command {
	var says string
	cmd := &cobra.Command{
		Use:     "close NUMBER...",
		Short:   "Close a job",
		Example: `  epitome jobs close 2026-118 --says "fetched, paid"`,
		Args:    atLeastOne("a number"),
		RunE: func(_ *cobra.Command, args []string) error {
			return a.end(args, a.now().Format(time.DateOnly), a.event("close", says))
		},
	}
	cmd.Flags().StringVar(&says, "says", "", "a word on how it ended")
	return cmd
}

func (a *app) jobsReopen() *cobra.Command {
	return &cobra.Command{
		Use:     "reopen NUMBER...",
		Short:   "Open a closed job again",
		Example: `  epitome jobs reopen 2026-118`,
		Args:    atLeastOne("a number"),
		RunE: func(_ *cobra.Command, args []string) error {
			return a.end(args, "", a.event("reopen", ""))
		},
	}
}

// end closes jobs on a day, or opens them again.
func (a *app) end(numbers []string, day string, e bench.JobEvent) error {
	words := map[bool][2]string{true: {"open again", "open already"}, false: {"closed", "closed already"}}[day == ""]
	for _, number := range numbers {
		err := a.onJob(joblog.Open, number, func(l *joblog.Log, j bench.Job) error {
			changed, err := l.End(j.Number, day, e)
			if err != nil {
				return err
			}
			says := words[1]
			if changed {
				says = words[0]
			}
			a.say("job      %s: %s", j.Number, says)
			return nil
		})
		if err != nil {
			return err
		}
	}
	return nil
}
