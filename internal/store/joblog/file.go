package joblog

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"slices"

	"github.com/pressly/goose/v3"

	"epitome/core/bench"
	"epitome/internal/store"
)

// applicationID marks a SQLite file as a job log of this program, in the header's field for that
// (sqlite.org/fileformat2, 1.3.17): "EpJL".
const applicationID = 0x45704A4C

// A nature is what stands at a log's path.
type nature uint8

const (
	absent  nature = iota
	empty          // a file of 0 bytes
	ours           // a log, or what is left of one
	foreign        // something else, which is left as it is
)

// natureOf looks at what stands at a path, as a file: the database is not opened for it.
func natureOf(path string) (n nature, info os.FileInfo, err error) {
	info, err = os.Stat(path)
	if errors.Is(err, fs.ErrNotExist) {
		return absent, nil, nil
	}
	if err != nil {
		return absent, nil, fmt.Errorf("job log %s can't be read: %w", path, err)
	}
	if !info.Mode().IsRegular() {
		return foreign, info, nil
	}
	if info.Size() == 0 {
		return empty, info, nil
	}
	f, err := os.Open(path)
	if err != nil {
		return absent, nil, fmt.Errorf("job log %s can't be read: %w", path, err)
	}
	defer f.Close()
	// The table of versions is made first: its name stands near the beginning, also where the header is damaged and in
	// logs from before they were marked.
	begin, err := io.ReadAll(io.LimitReader(f, 1<<20))
	if err != nil {
		return absent, nil, fmt.Errorf("job log %s can't be read: %w", path, err)
	}
	marked := bytes.HasPrefix(begin, []byte("SQLite format 3\x00")) && len(begin) >= 72 &&
		binary.BigEndian.Uint32(begin[68:]) == applicationID
	if marked || bytes.Contains(begin, []byte("epitome_version")) {
		return ours, info, nil
	}
	return foreign, info, nil
}

func openFile(path string, p purpose) (*Log, error) {
	n, info, err := natureOf(path)
	switch {
	case err != nil:
		return nil, err
	case n == foreign:
		return nil, fmt.Errorf("%s %w of epitome's, and stays as it is; move it away, or name another file in the "+
			"settings, as jobs: FILE", path, ErrForeign)
	case p == reading && n != ours:
		return nil, fmt.Errorf("%w: %s; epitome jobs open CARD begins it", ErrNoLog, path)
	case n != ours:
		if err := store.MakeFolder(filepath.Dir(path)); err != nil {
			return nil, fmt.Errorf("the job log's folder can't be made: %w", err)
		}
		if err := store.Alone(path, func() error { return begin(path, p, nil) }); err != nil {
			return nil, err
		}
		if _, info, err = natureOf(path); err != nil {
			return nil, err
		}
	}
	l, err := connect(path, p == reading)
	if err != nil {
		return nil, err
	}
	l.file = info
	if p == reading {
		err = l.readable()
	} else if err = l.current(); errors.Is(err, errOld) {
		err = store.Alone(path, func() error { return l.upgrade(goose.DialectSQLite3) })
	}
	if err != nil {
		return nil, errors.Join(l.named(err), l.db.Close())
	}
	return l, nil
}

// connect opens the database in a file.
func connect(path string, onlyRead bool) (*Log, error) {
	options := url.Values{"_txlock": {"immediate"},
		"_pragma": {"busy_timeout(20000)", "synchronous(FULL)", "foreign_keys(1)"}}
	if onlyRead {
		options.Set("mode", "ro")
		options.Del("_txlock")
	}
	db, err := sql.Open("sqlite", "file:"+(&url.URL{Path: filepath.ToSlash(path)}).EscapedPath()+"?"+options.Encode())
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(1)
	return &Log{db: db, where: path, path: path, reads: onlyRead}, nil
}

// errOld: the file is a log of an earlier version.
var errOld = errors.New("of an earlier version")

// current tells whether the log is of this program's version: nil, errOld, or ErrNewer. What is damaged shows here.
func (l *Log) current() error {
	ctx, cancel := context.WithTimeout(context.Background(), works)
	defer cancel()
	tables, now, id := 0, int64(0), int64(0)
	err := l.db.QueryRowContext(ctx, `SELECT COUNT(*) FROM sqlite_master WHERE name = 'epitome_version'`).Scan(&tables)
	if err == nil && tables > 0 {
		err = l.db.QueryRowContext(ctx, `SELECT COALESCE(MAX(version_id), 0) FROM epitome_version`).Scan(&now)
	}
	if err == nil {
		err = l.db.QueryRowContext(ctx, `PRAGMA application_id`).Scan(&id)
	}
	switch {
	case err != nil:
		return err
	case now > newest():
		return tooNew(now, newest())
	case now < newest() || id != applicationID:
		return errOld
	}
	return nil
}

// begin makes a new log at a path whose lock is held, with what was saved of an old one. Numbers go on from all that is
// known to have been given; where that is not known no log is begun, but for jobs that bring their numbers.
func begin(path string, p purpose, saved *salvaged) error {
	switch n, _, err := natureOf(path); {
	case err != nil:
		return err
	case n == ours:
		return nil // another program has begun it meanwhile
	case n == foreign:
		return fmt.Errorf("%s %w", path, ErrForeign)
	case n == empty && p != rebuilding && !traced(path):
		return fmt.Errorf("%w: %s is empty; epitome jobs rebuild FOLDER begins it anew from the cards", ErrNumbers, path)
	}
	last, known, err := numbersBeside(path)
	if err != nil {
		return err
	}
	if saved != nil {
		last, known = mostOf(last, saved.last), known || saved.counted
	}
	if !known && p != rebuilding {
		return fmt.Errorf("%w: %s was set aside, and nothing of it can be read; epitome jobs rebuild FOLDER begins a new "+
			"one from the cards", ErrNumbers, path)
	}
	if err := writeTrace(path, last); err != nil {
		return err
	}
	l, err := connect(path, false)
	if err != nil {
		return err
	}
	err = l.upgrade(goose.DialectSQLite3)
	if err == nil && saved != nil && len(saved.jobs) > 0 {
		_, err = l.Take(saved.jobs, false)
	}
	err = errors.Join(err, l.db.Close())
	store.GiveToCaller(path)
	return err
}

// setAside moves a damaged file away, under a name that is free, and takes what can be read of it into a new one. The
// file at the path may be another one by now, or sound: then it stays.
func (l *Log) setAside(why error) error {
	_ = l.db.Close()
	aside, saved := "", salvaged{}
	err := store.Alone(l.path, func() error {
		now, err := os.Stat(l.path)
		if errors.Is(err, fs.ErrNotExist) || err == nil && l.file != nil && !os.SameFile(now, l.file) || sound(l.path) {
			return nil
		}
		for n := 1; ; n++ {
			aside = fmt.Sprintf("%s.damaged-%d", l.path, n)
			if _, err := os.Lstat(aside); !errors.Is(err, fs.ErrNotExist) {
				continue
			}
			// A journal that is left behind would be played into the next file.
			_ = os.Rename(l.path+"-journal", aside+"-journal")
			if err := os.Rename(l.path, aside); err != nil {
				return err
			}
			break
		}
		saved = salvage(aside)
		if err := begin(l.path, writing, &saved); err != nil && !errors.Is(err, ErrNumbers) {
			return err
		}
		return nil
	})
	switch {
	case err != nil && aside == "":
		return fmt.Errorf("%w: %s (%v), and it can't be set aside: %w", ErrDamaged, l.path, why, err)
	case err != nil:
		return fmt.Errorf("%w: %s; it is set aside as %s, and no new one can be begun: %w", ErrDamaged, l.path, aside, err)
	case aside == "":
		return fmt.Errorf("%w: %s (%v), and another program has mended it by now; do the step again", ErrDamaged, l.path, why)
	}
	return fmt.Errorf("%w: %s; it is set aside as %s, and %d jobs of it are in a new one; epitome jobs rebuild FOLDER "+
		"brings in what is missing from the cards. Then do the step again", ErrDamaged, l.path, aside, len(saved.jobs))
}

// sound reports whether the database finds nothing wrong with a file.
func sound(path string) bool {
	l, err := connect(path, true)
	if err != nil {
		return false
	}
	defer l.db.Close()
	ctx, cancel := context.WithTimeout(context.Background(), works)
	defer cancel()
	says := ""
	return l.db.QueryRowContext(ctx, `PRAGMA integrity_check(1)`).Scan(&says) == nil && says == "ok"
}

// salvaged is what could be read of a damaged log.
type salvaged struct {
	jobs    []bench.Job
	last    map[int]int // the highest number of each year
	counted bool        // the table of numbers could be read whole
}

// How far a salvage looks for rows behind the last one that it found, and how many it reads.
const mostGap, mostRows = 5_000, 5_000_000

// salvage reads what can be read of a damaged log, row by row past what can't, and changes nothing in it.
func salvage(path string) (s salvaged) {
	s.last = make(map[int]int)
	l, err := connect(path, true)
	if err != nil {
		return s
	}
	defer l.db.Close()
	ctx, cancel := context.WithTimeout(context.Background(), allWork)
	defer cancel()
	tables := 0
	if l.db.QueryRowContext(ctx, `SELECT COUNT(*) FROM sqlite_master`).Scan(&tables) != nil {
		return s // nothing tells where anything stands
	}
	seen := func(year, which int) { s.last[year] = max(s.last[year], which) }
	if rows, err := l.db.QueryContext(ctx, `SELECT year, last FROM counters NOT INDEXED`); err == nil {
		s.counted = true
		for rows.Next() {
			year, which := 0, 0
			if s.counted = s.counted && rows.Scan(&year, &which) == nil; s.counted {
				seen(year, which)
			}
		}
		s.counted = errors.Join(rows.Err(), rows.Close()) == nil && s.counted
	}
	events, lessons := make(map[string][]bench.JobEvent), make(map[string][]bench.Lesson)
	l.eachRow(ctx, "events", `job, at, did, says`, func(row *sql.Row) error {
		var job string
		var e bench.JobEvent
		err := row.Scan(&job, &e.At, &e.Did, &e.Says)
		if err == nil {
			events[job] = append(events[job], e)
		}
		return err
	})
	l.eachRow(ctx, "lessons", `job, `+lessonColumns, func(row *sql.Row) error {
		job := ""
		x, err := scanLesson(row, &job)
		if err == nil {
			lessons[job] = append(lessons[job], x)
		}
		return err
	})
	there := make(map[string]bool)
	l.eachRow(ctx, "jobs", columns+`, copy`, func(row *sql.Row) error {
		copied := ""
		j, err := scanJob(row, &copied)
		if err != nil {
			return err
		}
		year, which, wrong := bench.ParseJobNumber(j.Number)
		if wrong != nil || there[j.Number] {
			return nil
		}
		there[j.Number] = true
		seen(year, which)
		j.Copy, j.Events, j.Lessons = copied, events[j.Number], lessons[j.Number]
		s.jobs = append(s.jobs, j)
		return nil
	})
	return s
}

// eachRow reads a table's rows by their running number, each by itself, so that a page that is bad costs the rows on it
// alone.
func (l *Log) eachRow(ctx context.Context, table, columns string, take func(*sql.Row) error) {
	for n, gap, step := 1, 0, 1; n < mostRows && gap < mostGap && ctx.Err() == nil; n += step {
		err := take(l.db.QueryRowContext(ctx, `SELECT `+columns+` FROM `+table+` WHERE rowid = $1`, n))
		switch {
		case err == nil:
			gap, step = 0, 1
		case errors.Is(err, sql.ErrNoRows):
			gap, step = gap+1, 1
		default: // a page is bad, and the rows behind it on it are, too: the further in, the longer the steps
			gap += step
			step = min(64, 1+gap/50)
		}
	}
}

// asides are the damaged logs that were set aside from a path.
func asides(path string) (names []string) {
	for n := 1; ; n++ {
		name := fmt.Sprintf("%s.damaged-%d", path, n)
		if _, err := os.Stat(name); err != nil {
			return names
		}
		names = append(names, name)
	}
}

// Closed are the days on which jobs were closed, by number, as logs that were set aside have it: a card does not tell.
func (l *Log) Closed() map[string]string {
	closed := make(map[string]string)
	if l.path == "" {
		return closed
	}
	for _, name := range slices.Backward(asides(l.path)) {
		for _, j := range salvage(name).jobs {
			if j.Closed != "" && closed[j.Number] == "" {
				closed[j.Number] = j.Closed
			}
		}
	}
	return closed
}
