package cli

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"time"

	"epitome/core/bench"
	"epitome/internal/live"
	"epitome/internal/store"
	"epitome/internal/view"
)

// samplesAtMost keeps a long watch's series small enough to be mailed: beyond
// it the samples lie further apart.
const samplesAtMost = 3600

func (f needFlags) interval() time.Duration {
	if f.every > 0 {
		return f.every
	}
	return max(time.Second, (f.watch / samplesAtMost).Round(time.Second))
}

// watch measures and puts the series on the card, whether the watch ran to its
// end or was stopped. What was measured stands in a journal beside the card
// until the card has it.
func (a *app) watch(path string, f needFlags) (*bench.Bench, error) {
	ctx := a.untilStopped()
	was, err := os.Stat(path)
	if err != nil {
		return nil, fmt.Errorf("%s can't be read: %w", path, short(err))
	}
	reading := bench.WatchReading(f.root+"proc, every "+f.interval().String(), a.now().UTC().Truncate(time.Second))
	sampler, err := live.NewSampler(f.root, a.now())
	if err != nil {
		return nil, err
	}
	defer sampler.Close()
	journal, err := store.NewJournal(path)
	if err != nil {
		return nil, err
	}
	_, broken := fmt.Fprint(journal, bench.JournalHead(reading))
	series := a.sample(ctx, sampler, f, func(s bench.Sample) {
		if broken == nil {
			if _, broken = journal.Write(s.Line()); broken != nil {
				a.say("watch    the journal can't be written: %v; measuring goes on", broken)
			}
		}
	})
	reading.Data = series.Encode()
	path = found(path, was)
	if err := a.add(path, fmt.Sprintf("%d samples added", len(series)), reading); err != nil {
		journal.Keep()
		return nil, fmt.Errorf("%w\nwhat was measured stands in %s; epitome need CARD --series takes it in", err,
			journal.Path())
	}
	journal.Remove()
	return a.open(path)
}

// found looks for a card that was renamed while it was watched.
func found(path string, was os.FileInfo) string {
	if _, err := os.Stat(path); !errors.Is(err, fs.ErrNotExist) {
		return path
	}
	entries, _ := os.ReadDir(filepath.Dir(path))
	for _, e := range entries {
		if info, err := e.Info(); err == nil && os.SameFile(info, was) {
			return filepath.Join(filepath.Dir(path), e.Name())
		}
	}
	return path
}

// takeInWatches puts on a card what watches measured that did not come to their
// end: a program that was killed, a machine that went down.
func (a *app) takeInWatches(path string) {
	err := store.LeftBehind(path, func(name string, text []byte) error {
		r, err := bench.Watched(name, text)
		if err != nil || len(r.Data) == 0 {
			return err
		}
		what := "a watch"
		if r.Kind == bench.ProofKind {
			what = "a proof"
		}
		return a.add(path, "took in what "+what+" that was cut short had measured", r)
	})
	if err != nil {
		a.say("epitome: %v", err)
	}
}

// joinSeries takes a journal in that the user names.
func (a *app) joinSeries(path, journal string) (*bench.Bench, error) {
	const longest = bench.MostCard
	text, err := a.read(journal, longest)
	if err != nil {
		return nil, err
	}
	r, err := bench.Watched(journal, text)
	if err != nil {
		return nil, err
	}
	if err := a.add(path, "took in "+journal, r); err != nil {
		return nil, err
	}
	return a.open(path)
}

// sample takes samples until the time is up or the context ends, and hands each
// to keep as it comes.
func (a *app) sample(ctx context.Context, sampler *live.Sampler, f needFlags, keep func(bench.Sample)) bench.Series {
	show, finish := a.liveLine(f.watch)
	defer finish()
	ticker := time.NewTicker(f.interval())
	defer ticker.Stop()
	began := a.now()
	series := bench.Series{sampler.Sample(began)}
	keep(series[0])
	for {
		select {
		case <-ctx.Done():
			a.say("watch    stopped early; what was measured is kept")
			return series
		case <-ticker.C:
		}
		now := a.now()
		series = append(series, sampler.Sample(now))
		keep(series[len(series)-1])
		show(now.Sub(began), series)
		if now.Sub(began) >= f.watch {
			return series
		}
	}
}

// liveLine shows a progress line on a terminal, and nothing elsewhere.
func (a *app) liveLine(total time.Duration) (show func(time.Duration, bench.Series), finish func()) {
	if a.errScreen == nil {
		return func(time.Duration, bench.Series) {}, func() {}
	}
	b := a.newBar("watching", total.Milliseconds())
	show = func(passed time.Duration, series bench.Series) {
		b.at(min(passed, total).Milliseconds(), view.WatchLine(series[len(series)-1], series[len(series)-2]))
	}
	return show, b.end
}
