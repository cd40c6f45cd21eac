package joblog

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"runtime"
	"sync"
	"time"

	"epitome/core/bench"
)

// keptFor is how long a round stays on the server, so that a host which comes late still gets
// what the others did; asks is how often a host that has nothing to do looks whether the
// others are done.
const keptFor, asks = 14 * 24 * time.Hour, 50 * time.Millisecond

// longestPart is how long one part may take. A host that is stopped in it gives it back at
// once: the server drops its lock with its connection.
const longestPart = 15 * time.Minute

// A shared spreads a round over all hosts that name it alike, by row locks of the server.
type shared struct {
	log  *Log
	name string
}

// Shared is a round that several hosts work on. sum is of everything that it is made of:
// hosts with other cards, lists or wishes are refused, with ErrRound. It wants a server.
func (l *Log) Shared(name, sum string, now time.Time) (bench.Spread, error) {
	if l.path != "" {
		return nil, fmt.Errorf("%w: several hosts share a round through a database server; name one in the settings, as "+
			"jobs: postgres://bench@127.0.0.1:5432/workshop", ErrSetting)
	}
	err := l.within(works, func(ctx context.Context, tx *sql.Tx) error {
		old := now.Add(-keptFor).UTC().Format(time.RFC3339)
		for _, step := range []string{`DELETE FROM round_parts WHERE round IN (SELECT name FROM rounds WHERE began < $1)`,
			`DELETE FROM rounds WHERE began < $1`} {
			if _, err := tx.ExecContext(ctx, step, old); err != nil {
				return err
			}
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO rounds (name, sum, began) VALUES ($1, $2, $3)
			ON CONFLICT (name) DO NOTHING`, name, sum, now.UTC().Format(time.RFC3339))
		if err != nil {
			return err
		}
		var had string
		if err := tx.QueryRowContext(ctx, `SELECT sum FROM rounds WHERE name = $1`, name).Scan(&had); err != nil {
			return err
		}
		if had != sum {
			return fmt.Errorf("%w: the one that is called %q is of other cards, lists, entries or wishes, or of another "+
				"version of the program; give all hosts the same, or this round another name", ErrRound, name)
		}
		return nil
	})
	return shared{l, name}, err
}

// Do is as [bench.Spread] has it.
func (s shared) Do(doing string, parts int, work func(int) ([]byte, error), take func(int, []byte) error) error {
	err := s.log.within(longestPart, func(ctx context.Context, tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `INSERT INTO round_parts (round, doing, part)
			SELECT $1, $2, n FROM generate_series(0, $3::bigint - 1) AS n ON CONFLICT (round, doing, part) DO NOTHING`, s.name,
			doing, parts)
		return err
	})
	if err != nil {
		return err
	}
	workers := min(runtime.GOMAXPROCS(0), 2)
	failures := make([]error, workers)
	var wait sync.WaitGroup
	for i := range workers {
		wait.Go(func() { failures[i] = s.work(doing, work) })
	}
	wait.Wait()
	if err := errors.Join(failures...); err != nil {
		return err
	}
	for part := range parts {
		var came []byte
		err := s.log.looking(func(ctx context.Context, tx *sql.Tx) error {
			return tx.QueryRowContext(ctx, `SELECT came FROM round_parts WHERE round = $1 AND doing = $2 AND part = $3`, s.name,
				doing, part).Scan(&came)
		})
		if err == nil {
			err = take(part, came)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// work takes parts that nobody works on, until all are done, by this host or by others.
func (s shared) work(doing string, work func(int) ([]byte, error)) error {
	for {
		left, got := 0, false
		var failed error // of the work itself, not of the database
		err := s.log.within(longestPart, func(ctx context.Context, tx *sql.Tx) error {
			part := 0
			err := tx.QueryRowContext(ctx, `SELECT part FROM round_parts WHERE round = $1 AND doing = $2 AND came IS NULL
				ORDER BY part LIMIT 1 FOR UPDATE SKIP LOCKED`, s.name, doing).Scan(&part)
			if errors.Is(err, sql.ErrNoRows) {
				return tx.QueryRowContext(ctx, `SELECT COUNT(*) FROM round_parts
					WHERE round = $1 AND doing = $2 AND came IS NULL`, s.name, doing).Scan(&left)
			}
			if err != nil {
				return err
			}
			came, err := work(part)
			if err != nil {
				failed = err
				return err
			}
			got = true
			_, err = tx.ExecContext(ctx, `UPDATE round_parts SET came = $4 WHERE round = $1 AND doing = $2 AND part = $3`,
				s.name,
				doing, part, came)
			return err
		})
		switch {
		case failed != nil:
			return failed
		case err != nil:
			return err
		case !got && left == 0:
			return nil
		case !got:
			time.Sleep(asks)
		}
	}
}
