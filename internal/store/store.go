// Package store keeps workshops, people, jobs and readings in MariaDB.
//
// Every row belongs to a workshop, and every query asks for it. Creates take an
// id made by the client and may be repeated: the same id with the same content
// is the same row, with other content ErrTaken. Readings are only added.
package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"database/sql/driver"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"strings"
	"time"

	"github.com/go-sql-driver/mysql"
)

// Errors a caller can act on.
var (
	ErrNotFound = errors.New("not found")
	ErrTaken    = errors.New("this id is already used for something else")
	ErrChanged  = errors.New("somebody changed this in the meantime")
	ErrClosed   = errors.New("the job is closed")
	ErrLabel    = errors.New("a battery of this tag is known, with another label")
	ErrMany     = errors.New("the job holds as many readings as it can")
	// What became of a change whose database failed: it is not there, or nobody knows,
	// and repeating it with the same id finds out.
	ErrUnsaved = errors.New("nothing was saved")
	ErrUnsure  = errors.New("it may have been saved")
)

// Store is a handle on the database, safe for concurrent use.
type Store struct {
	db   pool
	now  func() time.Time
	full full

	finder finder
}

// Open connects to the database at dsn, a go-sql-driver DSN; to the nodes of a cluster
// where several stand there with spaces between, the preferred one first. Times are UTC
// whatever the DSN says.
func Open(ctx context.Context, dsn string) (*Store, error) {
	var to nodes
	var at []string
	for _, one := range strings.Fields(dsn) {
		cfg, err := mysql.ParseDSN(one)
		if err != nil {
			return nil, fmt.Errorf("the database address does not parse: %w", err)
		}
		conn, err := mysql.NewConnector(settled(cfg, len(strings.Fields(dsn)) > 1))
		if err != nil {
			return nil, err
		}
		to.each, at = append(to.each, conn), append(at, cfg.Addr)
	}
	if len(to.each) == 0 {
		return nil, errors.New("the database address is empty")
	}
	db := sql.OpenDB(&to)
	db.SetMaxOpenConns(20)
	db.SetMaxIdleConns(mostIdle)
	db.SetConnMaxIdleTime(5 * time.Minute)
	s := &Store{db: pool{db}, now: func() time.Time { return time.Now().UTC().Truncate(time.Microsecond) }}
	if err := s.Ping(ctx); err != nil {
		_ = db.Close()
		return nil, fmt.Errorf("reach the database at %s: %w", strings.Join(at, ", "), err)
	}
	return s, nil
}

// settled is a way to the database as this program needs it.
func settled(cfg *mysql.Config, cluster bool) *mysql.Config {
	cfg.ParseTime, cfg.Loc, cfg.MultiStatements = true, time.UTC, false
	// One way to the database and back for each query, not three. The driver refuses to
	// where a character set would make it unsafe.
	cfg.InterpolateParams = true
	if cfg.Params == nil {
		cfg.Params = map[string]string{}
	}
	cfg.Params["time_zone"] = "'+00:00'"
	cfg.Params["sql_mode"] = "'TRADITIONAL,NO_ENGINE_SUBSTITUTION'"
	if cluster {
		// What was acknowledged by one node is read on every other.
		cfg.Params["wsrep_sync_wait"] = "1"
	}
	// The driver reports every lost connection; the retries deal with them.
	cfg.Logger = slog.NewLogLogger(slog.Default().Handler(), slog.LevelDebug)
	if cfg.Timeout == 0 {
		cfg.Timeout = 5 * time.Second
		if cluster {
			cfg.Timeout = time.Second
		}
	}
	return cfg
}

// Now gives the time that rows are written with.
func (s *Store) Now() time.Time { return s.now() }

// SetNow has rows written with the time of another clock; before the store is used.
func (s *Store) SetNow(now func() time.Time) {
	s.now = func() time.Time { return now().UTC().Truncate(time.Microsecond) }
}

// DB gives the connection pool.
func (s *Store) DB() *sql.DB { return s.db.DB }

// Close ends all connections.
func (s *Store) Close() error { return s.db.Close() }

// Ping reports whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return s.db.PingContext(ctx) }

const attempts = 6

// tx runs f in a transaction, and again from the start when the database asks
// for it (deadlock, lock wait, a cluster node leaving) or the connection is
// lost. f must be repeatable: every write in it is by a client-made id. When the
// database fails for good the error says whether nothing was saved (ErrUnsaved) or
// that nobody knows (ErrUnsure): the answer to a commit was lost.
func (s *Store) tx(ctx context.Context, f func(*sql.Tx) error) error {
	var err error
	unsure := false
	for i := range attempts {
		if i > 0 {
			select {
			case <-ctx.Done():
				return failed(errors.Join(ctx.Err(), err), unsure)
			case <-time.After(time.Duration(20<<i) * time.Millisecond):
			}
		}
		var lost bool
		if lost, err = s.once(ctx, f); err == nil {
			return nil
		}
		unsure = unsure || lost
		s.full.note(err)
		if !passing(err) {
			return failed(err, unsure)
		}
	}
	return failed(fmt.Errorf("gave up after %d tries: %w", attempts, err), unsure)
}

// failed says what became of a change that failed of the database; what a caller can act
// on stays as it is.
func failed(err error, unsure bool) error {
	if unsure {
		return fmt.Errorf("%w: %w", ErrUnsure, err)
	}
	for _, own := range []error{ErrNotFound, ErrTaken, ErrChanged, ErrClosed, ErrLabel, ErrOwnTwin, ErrLastLead, ErrNoLonger, ErrMany, ErrNamed, ErrChargers, ErrPapersFull} {
		if errors.Is(err, own) {
			return err
		}
	}
	if duplicate(err) {
		return err
	}
	return fmt.Errorf("%w: %w", ErrUnsaved, err)
}

// once tries a transaction; lost says that the answer to its commit did not come.
func (s *Store) once(ctx context.Context, f func(*sql.Tx) error) (lost bool, err error) {
	tx, err := s.db.BeginTx(ctx, nil)
	if err != nil {
		return false, err
	}
	if err := f(tx); err != nil {
		_ = tx.Rollback()
		s.db.leave(err)
		return false, err
	}
	err = tx.Commit()
	s.db.leave(err)
	var my *mysql.MySQLError
	refused := errors.As(err, &my) && (my.Number == errDeadlock || my.Number == errLockWait || my.Number == errNotReady)
	return err != nil && !refused && !errors.Is(err, sql.ErrTxDone), err
}

// MariaDB errors that mean "try again".
const (
	errLockWait  = 1205
	errDeadlock  = 1213
	errDuplicate = 1062
	errNotReady  = 1047 // a cluster node that is joining or leaving
	errKilled    = 1317
	errShutdown  = 1053
	errConnKill  = 1927
	errTooMany   = 1040
)

// passing reports whether an error is likely gone at the next try.
func passing(err error) bool {
	var my *mysql.MySQLError
	if errors.As(err, &my) {
		switch my.Number {
		case errDuplicate:
			// The same create came twice at once; the next try finds the first.
			return strings.Contains(my.Message, "'PRIMARY'")
		case errLockWait, errDeadlock, errNotReady, errKilled, errShutdown, errConnKill:
			return true
		}
		return false
	}
	var op *net.OpError
	return errors.Is(err, driver.ErrBadConn) || errors.Is(err, mysql.ErrInvalidConn) || errors.Is(err,
		sql.ErrConnDone) ||
		errors.Is(err, sql.ErrTxDone) && !errors.Is(err, context.Canceled) ||
		errors.As(err, &op)
}

// NotUp reports whether an error is of a database that is not up, or not yet.
func NotUp(err error) bool {
	var my *mysql.MySQLError
	if errors.As(err, &my) {
		return my.Number == errTooMany || my.Number == errShutdown || my.Number == errNotReady
	}
	return passing(err) || errors.Is(err, context.DeadlineExceeded)
}

func duplicate(err error) bool {
	var my *mysql.MySQLError
	return errors.As(err, &my) && my.Number == errDuplicate
}

// fingerprint marks the content of a create, to tell a repeat from a clash.
func fingerprint(parts ...any) ([]byte, error) {
	raw, err := json.Marshal(parts)
	if err != nil {
		return nil, err
	}
	sum := sha256.Sum256(raw)
	return sum[:], nil
}

// doc reads and writes a value as a JSON column.
type doc[T any] struct{ v *T }

func (d doc[T]) Value() (driver.Value, error) {
	raw, err := json.Marshal(d.v)
	return string(raw), err
}

func (d doc[T]) Scan(src any) error {
	switch raw := src.(type) {
	case []byte:
		return json.Unmarshal(raw, d.v)
	case string:
		return json.Unmarshal([]byte(raw), d.v)
	}
	return fmt.Errorf("a JSON column held %T", src)
}

func asDoc[T any](v *T) doc[T] { return doc[T]{v} }
