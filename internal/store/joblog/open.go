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

	"epitome/core/pattern"
	"epitome/internal/store"

	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgconn"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
	"github.com/pressly/goose/v3/lock"
	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Errors that callers branch on.
var (
	// ErrNewer: the log was written by a later version of the program.
	ErrNewer = errors.New("the job log is from a newer version")
	// ErrDamaged: the log's file was damaged. It was set aside.
	ErrDamaged = errors.New("the job log is damaged")
	// ErrNoLog: there is no log yet. Nothing that only reads begins one.
	ErrNoLog = errors.New("there is no job log yet")
	// ErrForeign: the file is no job log, and stays as it is.
	ErrForeign = errors.New("is no job log")
	// ErrNumbers: nobody knows which numbers were given, so none is.
	ErrNumbers = errors.New("which job numbers were given is not known")
	// ErrAway: the database server does not answer, or the connection was lost.
	ErrAway = errors.New("the job log can't be reached")
	// ErrSetting: the settings' line can't be used.
	ErrSetting = errors.New("settings: jobs")
	// ErrUnsure: the connection was lost while a step was being written: it may have been.
	ErrUnsure = errors.New("whether it was written is not known")
	// ErrFull: a year has no more numbers.
	ErrFull = errors.New("all job numbers of the year are given")
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
	answers = 2 * time.Second
	works   = 30 * time.Second
	allWork = 10 * time.Minute
)

// A Log is an open job log. It is safe for concurrent use.
type Log struct {
	db    *sql.DB
	where string      // as it is named to people: a path, or server and database
	path  string      // of the file; empty on a server
	file  os.FileInfo // that was opened; nil on a server
	reads bool        // it is open to be read alone
}

// DefaultPath is the log's file where the settings name none: in the user's data folder.
func DefaultPath() (string, error) {
	home, err := store.Home()
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
		keyword().MatchString(setting)
}

// keyword is how a connection string of words and values begins, or goes on.
var keyword = pattern.Of(`(?i)(^|\s)(host|hostaddr|dbname|user|port|service)\s*=`)

// secret is a password in a connection string, in any of the ways in which the driver takes one.
var secret = pattern.Of(`(?i)(password|passwd|sslpassword)\s*(=|%3d)`)

// typedPassword is one between the user and the host of an address that can't be taken apart otherwise.
var typedPassword = pattern.Of(`://[^/@]*:[^/@]*@`)

// CheckSetting tells what is wrong with the settings' line: a password in it, a scheme that is not known, a file whose
// folder depends on where the program is started. The error wraps ErrSetting and repeats no password.
func CheckSetting(setting string) error {
	if OnServer(setting) {
		u, err := url.Parse(setting)
		given := secret().MatchString(setting)
		if err == nil && u.User != nil {
			_, typed := u.User.Password()
			given = given || typed
		}
		if given || err != nil && typedPassword().MatchString(setting) {
			return fmt.Errorf("%w: leave the password out; it is taken from PGPASSWORD or from the password file "+
				"(~/.pgpass)", ErrSetting)
		}
		return nil
	}
	if scheme, _, ok := strings.Cut(setting, "://"); ok {
		return fmt.Errorf("%w: %q is no database that the job log can stand in; write postgres://USER@HOST:5432/DATABASE, "+
			"or the path of a file", ErrSetting, scheme+"://")
	}
	_, err := pathOf(setting)
	return err
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

// pathOf is the file that a setting names: a whole path, or one that begins with the home folder's sign.
func pathOf(setting string) (string, error) {
	if setting == "" {
		return DefaultPath()
	}
	if rest, ok := strings.CutPrefix(setting, "~"); ok && (rest == "" || os.IsPathSeparator(rest[0])) {
		home, err := store.Home()
		if err != nil {
			return "", fmt.Errorf("%w: there is no home folder for %q; write the whole path", ErrSetting, setting)
		}
		setting = filepath.Join(home, rest)
	}
	if !filepath.IsAbs(setting) {
		return "", fmt.Errorf("%w: %q depends on the folder in which the program is started; write the whole path, or one "+
			"that begins with ~/", ErrSetting, setting)
	}
	return filepath.Clean(setting), nil
}

// Open opens the log that a setting names, a connection string of PostgreSQL or a file, and
// brings it to this program's version; with an empty setting the file in the user's data
// folder. A file that is not there is begun. Errors wrap one of those above.
func Open(setting string) (*Log, error) { return open(setting, writing) }

// OpenToRead opens a log and changes nothing: no file is begun, renamed or brought to another version. Where there is
// no log the error wraps ErrNoLog.
func OpenToRead(setting string) (*Log, error) { return open(setting, reading) }

// OpenAnew is Open for who takes in jobs that bring their numbers: a log is begun though nobody knows which numbers
// were given before.
func OpenAnew(setting string) (*Log, error) { return open(setting, rebuilding) }

// A purpose is what a log is opened for.
type purpose uint8

const (
	reading purpose = iota
	writing
	rebuilding
)

func open(setting string, p purpose) (*Log, error) {
	if err := CheckSetting(setting); err != nil {
		return nil, err
	}
	if OnServer(setting) {
		return openServer(setting, p)
	}
	path, err := pathOf(setting)
	if err != nil {
		return nil, err
	}
	return openFile(path, p)
}

func openServer(setting string, p purpose) (*Log, error) {
	c, err := pgx.ParseConfig(setting)
	if err != nil {
		return nil, fmt.Errorf("%w: it can't be read; write postgres://USER@HOST:5432/DATABASE", ErrSetting)
	}
	if c.ConnectTimeout == 0 || c.ConnectTimeout > answers {
		c.ConnectTimeout = answers
	}
	db := stdlib.OpenDB(*c)
	db.SetMaxOpenConns(4)
	l := &Log{db: db, where: fmt.Sprintf("%s:%d, database %s", c.Host, c.Port, c.Database)}
	// A server that takes a connection and never answers is away, too.
	ctx, cancel := context.WithTimeout(context.Background(), answers)
	defer cancel()
	if err := db.PingContext(ctx); err != nil {
		if ctx.Err() != nil {
			err = fmt.Errorf("%w: %s: no answer; nothing was written", ErrAway, l.where)
		}
		return nil, errors.Join(l.named(err), db.Close())
	}
	if p == reading {
		err = l.readable()
	} else {
		err = l.upgrade(goose.DialectPostgres)
	}
	if err != nil {
		return nil, errors.Join(l.named(err), db.Close())
	}
	return l, nil
}

// readable tells whether there is a log of a version that this program reads, and changes nothing.
func (l *Log) readable() error {
	ctx, cancel := context.WithTimeout(context.Background(), works)
	defer cancel()
	there := 0
	tables := `SELECT COUNT(*) FROM information_schema.tables WHERE table_name = 'epitome_version'`
	if l.path != "" {
		tables = `SELECT COUNT(*) FROM sqlite_master WHERE name = 'epitome_version'`
	}
	if err := l.db.QueryRowContext(ctx, tables).Scan(&there); err != nil {
		return err
	}
	if there == 0 {
		return fmt.Errorf("%w: %s; epitome jobs open CARD begins it", ErrNoLog, l.where)
	}
	now := int64(0)
	err := l.db.QueryRowContext(ctx, `SELECT COALESCE(MAX(version_id), 0) FROM epitome_version`).Scan(&now)
	if err == nil && now > newest() {
		err = tooNew(now, newest())
	}
	return err
}

// newest is the version that this program writes.
func newest() (version int64) {
	names, _ := fs.Glob(migrations, "migrations/*.sql")
	for _, name := range names {
		n := int64(0)
		if _, err := fmt.Sscanf(filepath.Base(name), "%d", &n); err == nil {
			version = max(version, n)
		}
	}
	return version
}

func tooNew(now, newest int64) error {
	return fmt.Errorf("%w: it is of version %d, this program knows %d; use the newer program", ErrNewer, now, newest)
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
			return tooNew(now, newest)
		case now == newest:
			return nil
		}
		_, err = p.Up(ctx)
		return err
	}
	if l.path != "" { // its lock is held: SQLite has none over several statements of which some change tables
		if err := up(); err != nil {
			return err
		}
		_, err := l.db.ExecContext(ctx, fmt.Sprintf("PRAGMA application_id = %d", applicationID))
		return err
	}
	return up()
}

// named says what an error of the database means, and where. A file that is damaged is set
// aside, and what can be read of it is taken into a new one.
func (l *Log) named(err error) error {
	var file *sqlite.Error
	var server *pgconn.PgError
	var connect *pgconn.ConnectError
	switch {
	case err == nil:
		return nil
	case errors.As(err, &file) &&
		(file.Code()&0xFF == sqlite3.SQLITE_NOTADB || file.Code()&0xFF == sqlite3.SQLITE_CORRUPT):
		if l.reads {
			return fmt.Errorf("%w: %s (%v); the next command that writes to it, as epitome jobs rebuild FOLDER, sets it aside "+
				"and saves what can be read", ErrDamaged, l.path, err)
		}
		return l.setAside(err)
	case errors.Is(err, ErrNewer), errors.Is(err, ErrNone), errors.Is(err, ErrThere), errors.Is(err, ErrOther),
		errors.Is(err, ErrRound), errors.Is(err, ErrNoLog), errors.Is(err, ErrNumbers), errors.Is(err, ErrAway),
		errors.Is(err, ErrUnsure), errors.Is(err, ErrFull):
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
