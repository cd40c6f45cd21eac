package joblog

import (
	"context"
	"crypto/rand"
	"database/sql"
	"encoding/hex"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/jackc/pgx/v5/pgconn"

	"epitome/core/bench"
)

// columns of the jobs table as scanJob reads them, without the card's copy.
const columns = `job, opened, closed, card, title, maker, model, board, made, sum, state, before_mib, after_mib`

func scanJob(row interface{ Scan(...any) error }, more ...any) (j bench.Job, err error) {
	err = row.Scan(append([]any{&j.Number, &j.Opened, &j.Closed, &j.Card, &j.Title, &j.Maker, &j.Model, &j.Board, &j.Made,
		&j.Sum, &j.State, &j.BeforeMiB, &j.AfterMiB}, more...)...)
	return j, err
}

// within does work in one transaction: all of it is written, or nothing.
func (l *Log) within(most time.Duration, work func(ctx context.Context, tx *sql.Tx) error) error {
	return l.transact(most, false, work)
}

// looking reads in one transaction, which waits for nobody who writes.
func (l *Log) looking(work func(ctx context.Context, tx *sql.Tx) error) error {
	return l.transact(works, true, work)
}

func (l *Log) transact(most time.Duration, reads bool, work func(ctx context.Context, tx *sql.Tx) error) error {
	ctx, cancel := context.WithTimeout(context.Background(), most)
	defer cancel()
	tx, err := l.db.BeginTx(ctx, &sql.TxOptions{ReadOnly: reads})
	if err != nil {
		return l.named(err)
	}
	if err := work(ctx, tx); err != nil {
		return l.named(errors.Join(err, rolledBack(tx)))
	}
	if err := tx.Commit(); err != nil {
		return l.unsure(err)
	}
	return nil
}

// unsure is what an error of a commit means: on a server whose connection was lost, the step may be written or not.
func (l *Log) unsure(err error) error {
	var server *pgconn.PgError
	if l.path == "" && !errors.As(err, &server) {
		return fmt.Errorf("%w: the connection to %s was lost while it was; epitome jobs tells", ErrUnsure, l.where)
	}
	return l.named(err)
}

// rolledBack takes a transaction back. That the connection has gone is no second error.
func rolledBack(tx *sql.Tx) error {
	_ = tx.Rollback()
	return nil
}

// Begin opens a job under the next number of a year, which nobody else gets or got: above all that the log and its
// trace know, and above, the highest number of the year that is in sight elsewhere, on cards. Where the connection is
// lost while the job is being written the server is asked whether it is there; the error wraps ErrUnsure where it
// does not answer.
func (l *Log) Begin(year int, j bench.Job, above int) (number string, err error) {
	token := make([]byte, 16)
	_, _ = rand.Read(token) // never fails: crypto/rand
	err = l.within(works, func(ctx context.Context, tx *sql.Tx) error {
		which := 0
		err := tx.QueryRowContext(ctx, `INSERT INTO counters (year, last) VALUES ($1, 1)
			ON CONFLICT (year) DO UPDATE SET last = counters.last + 1 RETURNING last`, year).Scan(&which)
		if err != nil {
			return err
		}
		if which, err = l.given(ctx, tx, year, max(which, above+1)); err != nil {
			return err
		}
		j.Number = bench.JobNumber(year, which)
		number = j.Number
		if err := insert(ctx, tx, j); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `UPDATE jobs SET token = $2 WHERE job = $1`, j.Number, hex.EncodeToString(token))
		return err
	})
	if errors.Is(err, ErrUnsure) {
		return l.opened(hex.EncodeToString(token), err)
	}
	return number, err
}

// given gives a number of a year, at least which, above all that the trace knows, and writes it there before the log
// has it: of two programs the other waits for this transaction.
func (l *Log) given(ctx context.Context, tx *sql.Tx, year, which int) (int, error) {
	if l.path != "" {
		last, err := readTrace(l.path)
		if err != nil {
			return 0, err
		}
		which = max(which, last[year]+1)
	}
	if which > bench.MostJobs {
		return 0, fmt.Errorf("%w: %d", ErrFull, year)
	}
	_, err := tx.ExecContext(ctx, `UPDATE counters SET last = $2 WHERE year = $1`, year, which)
	if err == nil && l.path != "" {
		err = writeTrace(l.path, map[int]int{year: which})
	}
	return which, err
}

// opened asks for a job that may have been written, by its token. lost is why that is not known.
func (l *Log) opened(token string, lost error) (number string, err error) {
	for began := time.Now(); time.Since(began) < asksFor; time.Sleep(askAgain) {
		ctx, cancel := context.WithTimeout(context.Background(), answers)
		err = l.db.QueryRowContext(ctx, `SELECT job FROM jobs WHERE token = $1`, token).Scan(&number)
		cancel()
		switch {
		case err == nil:
			return number, nil
		case errors.Is(err, sql.ErrNoRows):
			return "", fmt.Errorf("%w: %s: the connection was lost; nothing of this step was written", ErrAway, l.where)
		}
	}
	return "", lost
}

// For how long a server that was lost while it wrote is asked what it has, and how often: it may be starting again.
const asksFor, askAgain = 5 * time.Second, 100 * time.Millisecond

// insert writes a job that is not there, whole.
func insert(ctx context.Context, tx *sql.Tx, j bench.Job) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO jobs (`+columns+`, make, copy, version)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, 1)`, j.Number, j.Opened, j.Closed, j.Card,
		j.Title, j.Maker, j.Model, j.Board, j.Made, j.Sum, string(j.State), int64(j.BeforeMiB), int64(j.AfterMiB), j.Key(),
		j.Copy)
	if err != nil {
		return err
	}
	for i, e := range j.Events {
		if err := addEvent(ctx, tx, j.Number, i+1, e); err != nil {
			return err
		}
	}
	return teach(ctx, tx, j.Number, j.Lessons)
}

func addEvent(ctx context.Context, tx *sql.Tx, job string, seq int, e bench.JobEvent) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO events (job, seq, at, did, says) VALUES ($1, $2, $3, $4, $5)`, job, seq,
		e.At, e.Did, e.Says)
	return err
}

// teach replaces a job's lessons. What somebody withdrew stays withdrawn where the job says
// the same again.
func teach(ctx context.Context, tx *sql.Tx, job string, lessons []bench.Lesson) error {
	var had []bench.Lesson
	rows, err := tx.QueryContext(ctx, `SELECT `+lessonColumns+` FROM lessons WHERE job = $1 ORDER BY seq`, job)
	if err != nil {
		return err
	}
	for rows.Next() {
		x, err := scanLesson(rows)
		if err != nil {
			return errors.Join(err, rows.Close())
		}
		had = append(had, x)
	}
	if err := errors.Join(rows.Err(), rows.Close()); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, `DELETE FROM lessons WHERE job = $1`, job); err != nil {
		return err
	}
	for i, x := range lessons {
		for _, old := range had {
			same := old
			same.Withdrawn = x.Withdrawn
			if same == x && old.Withdrawn {
				x.Withdrawn = true
			}
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO lessons (job, seq, `+lessonColumns+`)
			VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`, job, i+1, string(x.Kind), int64(x.TotalMiB), int64(x.EachMiB),
			x.RateMTs, x.Modules, x.Says, x.Date, x.Withdrawn)
		if err != nil {
			return err
		}
	}
	return nil
}

const lessonColumns = `kind, total_mib, each_mib, rate_mts, modules, says, date, withdrawn`

func scanLesson(row interface{ Scan(...any) error }, before ...any) (x bench.Lesson, err error) {
	err = row.Scan(append(before, &x.Kind, &x.TotalMiB, &x.EachMiB, &x.RateMTs, &x.Modules, &x.Says, &x.Date,
		&x.Withdrawn)...)
	return x, err
}

// locked takes a job's row, so that whoever else changes the job waits, and returns it.
func locked(ctx context.Context, tx *sql.Tx, number string) (bench.Job, error) {
	row := tx.QueryRowContext(ctx, `UPDATE jobs SET version = version + 1 WHERE job = $1 RETURNING `+columns, number)
	j, err := scanJob(row)
	if errors.Is(err, sql.ErrNoRows) {
		return j, fmt.Errorf("%w %s", ErrNone, number)
	}
	return j, err
}

// happened adds an event to a job whose row is taken.
func happened(ctx context.Context, tx *sql.Tx, number string, e bench.JobEvent) error {
	seq := 0
	err := tx.QueryRowContext(ctx, `SELECT COALESCE(MAX(seq), 0) + 1 FROM events WHERE job = $1`, number).Scan(&seq)
	if err != nil {
		return err
	}
	return addEvent(ctx, tx, number, seq, e)
}

// Note writes down what was done on a job, and what its card comes to. now is asked for that
// once the job is nobody else's, so that of two benches the later one writes what both did.
// The error wraps ErrNone where there is no such job, and ErrOther where it is another
// card's.
func (l *Log) Note(number, card string, e bench.JobEvent, now func() (bench.JobSummary, error)) error {
	return l.within(works, func(ctx context.Context, tx *sql.Tx) error {
		had, err := locked(ctx, tx, number)
		if err != nil {
			return err
		}
		s, err := now()
		if err != nil {
			return err
		}
		if had.Made != s.Made {
			return fmt.Errorf("%s %w, of %s; this one was made %s", number, ErrOther, had.Made, s.Made)
		}
		_, err = tx.ExecContext(ctx, `UPDATE jobs SET card = $2, title = $3, maker = $4, model = $5, board = $6, sum = $7,
			state = $8, before_mib = $9, after_mib = $10, make = $11, copy = CASE WHEN $12 = '' THEN copy ELSE $12 END
			WHERE job = $1`, number, card, s.Title, s.Maker, s.Model, s.Board, s.Sum, string(s.State), int64(s.BeforeMiB),
			int64(s.AfterMiB), s.Key(), s.Copy)
		if err != nil {
			return err
		}
		if err := happened(ctx, tx, number, e); err != nil {
			return err
		}
		return teach(ctx, tx, number, s.Lessons)
	})
}

// End closes a job on a day, or opens it again with an empty one. changed is false where it
// was so already.
func (l *Log) End(number, day string, e bench.JobEvent) (changed bool, err error) {
	err = l.within(works, func(ctx context.Context, tx *sql.Tx) error {
		had, err := locked(ctx, tx, number)
		if err != nil {
			return err
		}
		if changed = (had.Closed == "") != (day == ""); !changed {
			return nil
		}
		if _, err := tx.ExecContext(ctx, `UPDATE jobs SET closed = $2 WHERE job = $1`, number, day); err != nil {
			return err
		}
		return happened(ctx, tx, number, e)
	})
	return changed, err
}

// Withdraw takes what a job shows of its make back, or lets it count again, and returns how
// many lessons changed.
func (l *Log) Withdraw(number string, withdrawn bool, e bench.JobEvent) (n int64, err error) {
	err = l.within(works, func(ctx context.Context, tx *sql.Tx) error {
		if _, err := locked(ctx, tx, number); err != nil {
			return err
		}
		r, err := tx.ExecContext(ctx, `UPDATE lessons SET withdrawn = $2 WHERE job = $1 AND withdrawn <> $2`, number,
			withdrawn)
		if err != nil {
			return err
		}
		if n, err = r.RowsAffected(); err != nil || n == 0 {
			return err
		}
		return happened(ctx, tx, number, e)
	})
	return n, err
}

// Jobs returns the jobs that a filter takes, by number. Events, lessons and copies are left
// out.
func (l *Log) Jobs(f bench.JobFilter) (list []bench.Job, err error) {
	err = l.looking(func(ctx context.Context, tx *sql.Tx) error {
		list = nil
		rows, err := tx.QueryContext(ctx, `SELECT `+columns+` FROM jobs ORDER BY job`)
		if err != nil {
			return err
		}
		for rows.Next() {
			j, err := scanJob(rows)
			if err != nil {
				return errors.Join(err, rows.Close())
			}
			if f.Takes(j) {
				list = append(list, j)
			}
		}
		return errors.Join(rows.Err(), rows.Close())
	})
	return list, err
}

// Job returns one job whole. The error wraps ErrNone where there is none.
func (l *Log) Job(number string) (j bench.Job, err error) {
	err = l.looking(func(ctx context.Context, tx *sql.Tx) error {
		j, err = whole(ctx, tx, number)
		return err
	})
	return j, err
}

func whole(ctx context.Context, tx *sql.Tx, number string) (bench.Job, error) {
	copied := ""
	row := tx.QueryRowContext(ctx, `SELECT `+columns+`, copy FROM jobs WHERE job = $1`, number)
	j, err := scanJob(row, &copied)
	if errors.Is(err, sql.ErrNoRows) {
		return j, fmt.Errorf("%w %s", ErrNone, number)
	}
	if err != nil {
		return j, err
	}
	j.Copy = copied
	rows, err := tx.QueryContext(ctx, `SELECT at, did, says FROM events WHERE job = $1 ORDER BY seq`, number)
	if err != nil {
		return j, err
	}
	for rows.Next() {
		var e bench.JobEvent
		if err := rows.Scan(&e.At, &e.Did, &e.Says); err != nil {
			return j, errors.Join(err, rows.Close())
		}
		j.Events = append(j.Events, e)
	}
	if err := errors.Join(rows.Err(), rows.Close()); err != nil {
		return j, err
	}
	rows, err = tx.QueryContext(ctx, `SELECT `+lessonColumns+` FROM lessons WHERE job = $1 ORDER BY seq`, number)
	if err != nil {
		return j, err
	}
	for rows.Next() {
		x, err := scanLesson(rows)
		if err != nil {
			return j, errors.Join(err, rows.Close())
		}
		j.Lessons = append(j.Lessons, x)
	}
	return j, errors.Join(rows.Err(), rows.Close())
}

// Taught returns what jobs on machines of one make showed, the oldest first; of an empty make
// that of all.
func (l *Log) Taught(make string) (list []bench.Taught, err error) {
	err = l.looking(func(ctx context.Context, tx *sql.Tx) error {
		list = nil
		rows, err := tx.QueryContext(ctx, `SELECT lessons.job, `+lessonColumns+` FROM lessons JOIN jobs ON jobs.job =
			lessons.job WHERE $1 = '' OR jobs.make = $1 ORDER BY lessons.job, seq`, make)
		if err != nil {
			return err
		}
		for rows.Next() {
			var t bench.Taught
			if t.Lesson, err = scanLesson(rows, &t.Job); err != nil {
				return errors.Join(err, rows.Close())
			}
			list = append(list, t)
		}
		return errors.Join(rows.Err(), rows.Close())
	})
	return list, err
}

// Each calls do for every job, whole, by number.
func (l *Log) Each(do func(bench.Job) error) error {
	list, err := l.Jobs(bench.JobFilter{})
	if err != nil {
		return err
	}
	for _, j := range list {
		if j, err = l.Job(j.Number); err == nil {
			err = do(j)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// Taken is what came of taking jobs in.
type Taken struct {
	New, Same int
	Differ    []string // numbers that are there already, of other jobs
}

// Take takes jobs in as they are, all of them or, where one is there already and differs,
// those that are new. The next number is behind all of them. With whole, one that differs
// is an error, which wraps ErrThere, and nothing is written.
func (l *Log) Take(list []bench.Job, whole bool) (t Taken, err error) {
	err = l.within(allWork, func(ctx context.Context, tx *sql.Tx) error {
		t = Taken{}
		last := make(map[int]int)
		for _, j := range list {
			year, which, err := bench.ParseJobNumber(j.Number)
			if err != nil {
				return err
			}
			last[year] = max(last[year], which)
			same, there, err := alike(ctx, tx, j)
			switch {
			case err != nil:
				return err
			case same:
				t.Same++
			case there:
				t.Differ = append(t.Differ, j.Number)
			default:
				if err := insert(ctx, tx, j); err != nil {
					return err
				}
				t.New++
			}
		}
		if whole && len(t.Differ) > 0 {
			return fmt.Errorf("%s %w", strings.Join(t.Differ[:min(len(t.Differ), 5)], ", "), ErrThere)
		}
		if l.path != "" {
			if err := writeTrace(l.path, last); err != nil {
				return err
			}
		}
		for year, which := range last {
			_, err := tx.ExecContext(ctx, `INSERT INTO counters (year, last) VALUES ($1, $2) ON CONFLICT (year) DO UPDATE
				SET last = CASE WHEN counters.last < $2 THEN $2 ELSE counters.last END`, year, which)
			if err != nil {
				return err
			}
		}
		return nil
	})
	return t, err
}

// alike reports whether a job of that number is there, and whether it is the same one.
func alike(ctx context.Context, tx *sql.Tx, j bench.Job) (same, there bool, err error) {
	had, err := whole(ctx, tx, j.Number)
	if errors.Is(err, ErrNone) {
		return false, false, nil
	}
	if err != nil {
		return false, false, err
	}
	a, err := had.Line()
	if err != nil {
		return false, true, err
	}
	b, err := j.Line()
	return string(a) == string(b), true, err
}

// Count is how many jobs, events and lessons there are.
func (l *Log) Count() (jobs, events, lessons int, err error) {
	err = l.looking(func(ctx context.Context, tx *sql.Tx) error {
		return tx.QueryRowContext(ctx, `SELECT (SELECT COUNT(*) FROM jobs), (SELECT COUNT(*) FROM events),
			(SELECT COUNT(*) FROM lessons)`).Scan(&jobs, &events, &lessons)
	})
	return jobs, events, lessons, err
}
