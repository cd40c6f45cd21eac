package cli

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"epitome/core/bench"
	"epitome/internal/store/joblog"
)

func (a *app) jobsMove() *cobra.Command {
	var from string
	cmd := &cobra.Command{
		Use:   "move [--from FILE]",
		Short: "Move the log from its file to the server that the settings name",
		Long: `Move writes all jobs of the file into the database that the settings name, all of
them or, where one can't be written, none; counts them on both sides; and puts
the file aside.`,
		Example: `  epitome jobs move`,
		Args:    exactly(0, "no arguments, only flags"),
		RunE: func(*cobra.Command, []string) error {
			set, err := a.settings()
			if err != nil {
				return err
			}
			if !joblog.OnServer(set.Jobs) {
				return usageError("the settings name no server; add a line such as  jobs: postgres://bench@127.0.0.1:5432/workshop")
			}
			if from == "" {
				from, err = joblog.DefaultPath()
			} else {
				from, err = filepath.Abs(from)
			}
			if err != nil {
				return err
			}
			if _, err := os.Stat(from); err != nil {
				return fmt.Errorf("%s can't be moved: %w", from, short(err))
			}
			return a.moveLog(from, set.Jobs)
		},
	}
	cmd.Flags().StringVar(&from, "from", "", "the file (default: the one in your data folder)")
	return cmd
}

func (a *app) moveLog(from, to string) error {
	source, err := joblog.OpenToRead(from)
	if err != nil {
		return err
	}
	defer source.Close()
	target, err := joblog.Open(to)
	if err != nil {
		return err
	}
	defer target.Close()
	var list []bench.Job
	if err := source.Each(func(j bench.Job) error { list = append(list, j); return nil }); err != nil {
		return err
	}
	had, err := countOf(target)
	if err != nil {
		return err
	}
	taken, err := target.Take(list, true)
	if err != nil {
		return fmt.Errorf("%w; nothing is moved", err)
	}
	in, err := countOf(source)
	if err != nil {
		return err
	}
	now, err := countOf(target)
	if err != nil {
		return err
	}
	a.say("from     %s: %s", source.Where(), in)
	a.say("to       %s: %s before, %s now", target.Where(), had, now)
	if got := now.jobs - had.jobs; got != taken.New || taken.New+taken.Same != in.jobs {
		return fmt.Errorf("%d jobs stand in the file, and %d came to the server; the file stays where it is", in.jobs, got)
	}
	if err := source.Close(); err != nil {
		return err
	}
	aside := from + ".moved"
	for n := 2; ; n++ {
		if _, err := os.Lstat(aside); errors.Is(err, fs.ErrNotExist) {
			break
		}
		aside = fmt.Sprintf("%s.moved-%d", from, n)
	}
	if err := os.Rename(from, aside); err != nil {
		return fmt.Errorf("the jobs are on the server; the file can't be put aside: %w", short(err))
	}
	a.say("aside    %s", aside)
	return nil
}

// counted is how much a log holds.
type counted struct{ jobs, events, lessons int }

func (c counted) String() string {
	return fmt.Sprintf("%d jobs, %d events, %d lessons", c.jobs, c.events, c.lessons)
}

func countOf(l *joblog.Log) (c counted, err error) {
	c.jobs, c.events, c.lessons, err = l.Count()
	return c, err
}

func (a *app) jobsRebuild() *cobra.Command {
	return &cobra.Command{
		Use:   "rebuild FOLDER",
		Short: "Take in the cards of a folder that have a number",
		Long: `Rebuild goes through a folder and all below it, and takes in every card that has
a job's number: what the log does not know is made anew from the card, what it
knows is brought to what the card says. Nothing is taken away.`,
		Example: `  epitome jobs rebuild cards`,
		Args:    exactly(1, "one folder"),
		RunE: func(_ *cobra.Command, args []string) error {
			paths, err := cardsBelow(args[0])
			if err != nil {
				return err
			}
			return a.onLog(joblog.OpenAnew, func(l *joblog.Log) error { return a.rebuild(l, args[0], paths) })
		},
	}
}

// cardsBelow lists the cards in a folder and all below it, by name.
func cardsBelow(folder string) (paths []string, err error) {
	err = filepath.WalkDir(folder, func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return fmt.Errorf("%s can't be read: %w", path, short(err))
		}
		if !d.IsDir() && strings.EqualFold(filepath.Ext(path), ".card") {
			paths = append(paths, path)
		}
		return nil
	})
	return paths, err
}

// numbered is a card that has a number, and the make of its machine.
type numbered struct{ path, make string }

func (a *app) rebuild(l *joblog.Log, folder string, paths []string) error {
	made, brought, without, wrong := 0, 0, 0, 0
	closed := l.Closed() // which no card tells
	first := make(map[string]numbered)
	for _, path := range paths {
		c, s, err := a.summaryOf(path)
		if err == nil && c.Job != "" {
			_, _, err = bench.ParseJobNumber(c.Job)
		}
		if had, there := first[c.Job]; err == nil && c.Job != "" && there && had.make != s.Key() {
			err = fmt.Errorf("it has the number %s, which %s has, of another machine; give it another one", c.Job, had.path)
		}
		switch {
		case err != nil:
			a.say("left out %s: %v", path, err)
			wrong++
			continue
		case c.Job == "":
			without++
			continue
		}
		if _, there := first[c.Job]; !there {
			first[c.Job] = numbered{path, s.Key()}
		}
		err = l.Note(c.Job, absolute(path), a.event("rebuild", path), func() (bench.JobSummary, error) { return s, nil })
		if errors.Is(err, joblog.ErrNone) {
			j := bench.Job{Number: c.Job, Opened: c.Made.UTC().Format(time.DateOnly), Closed: closed[c.Job],
				Card: absolute(path), Summary: s, Events: []bench.JobEvent{a.event("rebuild", path)}}
			if _, err = l.Take([]bench.Job{j}, true); err == nil {
				made++
				continue
			}
		}
		var input *bench.InputError
		switch {
		case err == nil:
			brought++
		case errors.Is(err, joblog.ErrOther), errors.As(err, &input):
			a.say("left out %s: %v", path, err)
			wrong++
		default:
			return err
		}
	}
	a.say("rebuilt  %s: %d jobs made anew, %d brought up, %d cards without a number", folder, made, brought, without)
	if wrong > 0 {
		return fmt.Errorf("%d cards could not be taken in", wrong)
	}
	return nil
}
