// Package joblog keeps the workshop's job log: in one SQLite file, or in a PostgreSQL
// database that several benches share. Both take the same statements and the same
// migrations. What is reported done is on the disk; what fails leaves nothing half-written.
package joblog

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"

	"epitome/internal/store"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Errors that callers branch on.
var (
	// ErrNewer: the log was written by a later version of the program.
	ErrNewer = errors.New("the job log is from a newer version")
	// ErrDamaged: the log's file was damaged. It was set aside.
	ErrDamaged = errors.New("the job log is damaged")
	// ErrAway: the database server does not answer, or the connection was lost.
	ErrAway = errors.New("the job log can't be reached")
	// ErrSetting: the settings' line can't be used.
	ErrSetting = errors.New("settings: jobs")
	// ErrNone: there is no such job.
	ErrNone = errors.New("there is no job")
	// ErrThere: a job of that number is there already, and is another one.
	ErrThere = errors.New("is there already, and differs")
	// ErrRound: a round of that name is another one.
	ErrRound = errors.New("the round can't be shared")
	// ErrOther: the job is another card's.
	ErrOther = errors.New("is another card's job")
)

// How long a database may take: to answer at all, for one statement's work, and for work on
// the whole log.
const (
	answers = 5 * time.Second
	works   = 30 * time.Second
	allWork = 10 * time.Minute
)

// A Log is an open job log. It is safe for concurrent use.
type Log struct {
	db    *sql.DB
	where string // as it is named to people: a path, or server and database
	path  string // of the file; empty on a server
}

// DefaultPath is the log's file where the settings name none: in the user's data folder.
func DefaultPath() (string, error) {
	home, err := os.UserHomeDir()
	if err != nil {
		return "", fmt.Errorf("there is no home folder for the job log; name it in the settings, as jobs: FILE")
	}
	if dir := os.Getenv("XDG_DATA_HOME"); filepath.IsAbs(dir) {
		return filepath.Join(dir, "epitome", "jobs.db"), nil
	}
	if dir := os.Getenv("LocalAppData"); dir != "" {
		return filepath.Join(dir, "epitome", "jobs.db"), nil
	}
	return filepath.Join(home, ".local", "share", "epitome", "jobs.db"), nil
}

// OnServer reports whether a setting names a database server, not a file.
func OnServer(setting string) bool {
	return strings.HasPrefix(setting, "postgres://") || strings.HasPrefix(setting, "postgresql://") ||
		strings.Contains(setting, "host=") || strings.Contains(setting, "dbname=")
}

// Exists reports whether there is a log to open: on a server, or in a file that is there.
func Exists(setting string) bool {
	if OnServer(setting) {
		return true
	}
	path, err := pathOf(setting)
	if err != nil {
		return false
	}
	_, err = os.Stat(path)
	return err == nil
}

func pathOf(setting string) (string, error) {
	if setting != "" {
		return setting, nil
	}
	return DefaultPath()
}

// Open opens the log that a setting names, a connection string of PostgreSQL or a file, and
// brings it to this program's version; with an empty setting the file in the user's data
// folder. A file that is not there is begun. Errors wrap one of those above.
func Open(setting string) (*Log, error) {
	if OnServer(setting) {
		return openServer(setting)
	}
	path, err := pathOf(setting)
	if err != nil {
		return nil, err
	}
	return openFile(path)
}

func openFile(path string) (*Log, error) {
	if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
		return nil, fmt.Errorf("the job log's folder can't be made: %w", err)
	}
	if info, err := os.Stat(path); err == nil && !info.Mode().IsRegular() {
		return nil, fmt.Errorf("%w: %s is no file", ErrSetting, path)
	}
	options := url.Values{"_txlock": {"immediate"},
		"_pragma": {"busy_timeout(20000)", "synchronous(FULL)", "foreign_keys(1)"}}
	db, err := sql.Open("sqlite", "file:"+(&url.URL{Path: filepath.ToSlash(path)}).EscapedPath()+"?"+options.Encode())
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(1)
	l := &Log{db: db, where: path, path: path}
	if err := l.upgrade(goose.DialectSQLite3); err != nil {
		return nil, errors.Join(l.named(err), db.Close())
	}
	return l, nil
}

func openServer(setting string) (*Log, error) {
	if u, err := url.Parse(setting); err == nil && u.User != nil {
		if _, given := u.User.Password(); given {
			return nil, fmt.Errorf("%w: leave the password out; it is taken from PGPASSWORD or from the password file "+
				"(~/.pgpass)", ErrSetting)
		}
	}
	if strings.Contains(setting, "password=") {
		return nil, fmt.Errorf("%w: leave the password out; it is taken from PGPASSWORD or from the password file "+
			"(~/.pgpass)", ErrSetting)
	}
	c, err := pgx.ParseConfig(setting)
	if err != nil {
		return nil, fmt.Errorf("%w: it can't be read; write postgres://USER@HOST:5432/DATABASE", ErrSetting)
	}
	if c.ConnectTimeout == 0 {
		c.ConnectTimeout = answers
	}
	db := stdlib.OpenDB(*c)
	db.SetMaxOpenConns(4)
	l := &Log{db: db, where: fmt.Sprintf("%s:%d, database %s", c.Host, c.Port, c.Database)}
	if err := l.upgrade(goose.DialectPostgres); err != nil {
		return nil, errors.Join(l.named(err), db.Close())
	}
	return l, nil
}

// Close closes the log.
func (l *Log) Close() error { return l.db.Close() }

// Where names the log to people: its path, or its server and database.
func (l *Log) Where() string { return l.where }

// upgrade brings the log to this program's version. Only one program does so at a time.
func (l *Log) upgrade(d goose.Dialect) error {
	files, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	options := []goose.ProviderOption{goose.WithTableName("epitome_version"), goose.WithDisableGlobalRegistry(true)}
	if l.path == "" {
		one, err := lock.NewPostgresSessionLocker()
		if err != nil {
			return err
		}
		options = append(options, goose.WithSessionLocker(one))
	}
	p, err := goose.NewProvider(d, l.db, files, options...)
	if err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(context.Background(), works)
	defer cancel()
	up := func() error {
		now, newest, err := p.GetVersions(ctx)
		switch {
		case err != nil:
			return err
		case now > newest:
			return fmt.Errorf("%w: it is of version %d, this program knows %d; use the newer program", ErrNewer, now, newest)
		case now == newest:
			return nil
		}
		_, err = p.Up(ctx)
		return err
	}
	if l.path == "" {
		return up()
	}
	// Most times nothing is to be made, and what is damaged shows here.
	now, err := l.version(ctx)
	if newest := p.ListSources()[len(p.ListSources())-1].Version; err != nil || now == newest {
		return err
	}
	// SQLite has no lock over several statements of which some change tables.
	return store.Alone(l.path, up)
}

// version is the file's, 0 where it is empty.
func (l *Log) version(ctx context.Context) (now int64, err error) {
	n := 0
	err = l.db.QueryRowContext(ctx, `SELECT COUNT(*) FROM sqlite_master WHERE name = 'epitome_version'`).Scan(&n)
	if err == nil && n > 0 {
		err = l.db.QueryRowContext(ctx, `SELECT COALESCE(MAX(version_id), 0) FROM epitome_version`).Scan(&now)
	}
	return now, err
}

// named says what an error of the database means, and where. A file that is damaged is set
// aside, so that the next program begins a new one.
func (l *Log) named(err error) error {
	var file *sqlite.Error
	var server *pgconn.PgError
	var connect *pgconn.ConnectError
	switch {
	case err == nil:
		return nil
	case errors.As(err, &file) &&
		(file.Code()&0xFF == sqlite3.SQLITE_NOTADB || file.Code()&0xFF == sqlite3.SQLITE_CORRUPT):
		return l.setAside(err)
	case errors.Is(err, ErrNewer), errors.Is(err, ErrNone), errors.Is(err, ErrThere), errors.Is(err, ErrOther),
		errors.Is(err, ErrRound):
		return err
	case errors.As(err, &connect):
		why := "no answer"
		if errors.As(err, &server) {
			why = server.Message
		}
		return fmt.Errorf("%w: %s: %s; nothing was written", ErrAway, l.where, why)
	case errors.As(err, &server) && !strings.HasPrefix(server.Code, "57P"): // 57P: the server is being stopped
		return fmt.Errorf("job log %s: %s (%s)", l.where, server.Message, server.Code)
	case l.path == "":
		return fmt.Errorf("%w: %s: the connection was lost; nothing of this step was written", ErrAway, l.where)
	}
	return fmt.Errorf("job log %s: %w", l.where, err)
}

// setAside moves a damaged file away, under a name that is free.
func (l *Log) setAside(why error) error {
	_ = l.db.Close()
	aside := ""
	err := store.Alone(l.path, func() error {
		for n := 1; ; n++ {
			aside = fmt.Sprintf("%s.damaged-%d", l.path, n)
			if _, err := os.Lstat(aside); errors.Is(err, fs.ErrNotExist) {
				// A journal that is left behind would be played into the next file.
				_ = os.Rename(l.path+"-journal", aside+"-journal")
				return os.Rename(l.path, aside)
			}
		}
	})
	if err != nil {
		return fmt.Errorf("%w: %s (%v), and it can't be set aside: %w", ErrDamaged, l.path, why, err)
	}
	return fmt.Errorf("%w: %s; it is set aside as %s, and a new one is begun next time: epitome jobs rebuild FOLDER "+
		"fills it from the cards", ErrDamaged, l.path, aside)
}
