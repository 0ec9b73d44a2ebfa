package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"fmt"
	"io"
	"net"
	"sync"
	"testing"
	"time"

	"github.com/go-sql-driver/mysql"

	"grapnel/internal/localdb/dbtest"
)

// Of several copies that start at once on an empty database one makes the tables, and
// all find them made; one that died in the middle holds the others up for a while alone.
func TestOneCopyMigrates(t *testing.T) {
	dsn := dbtest.DSN(t)
	var all sync.WaitGroup
	for range 5 {
		all.Go(func() {
			s, err := Open(t.Context(), dsn)
			if err != nil {
				t.Error(err)
				return
			}
			defer func() { _ = s.Close() }()
			if err := s.Migrate(t.Context()); err != nil {
				t.Error(err)
			}
			if _, err := s.CountJobs(t.Context(), id()); err != nil {
				t.Error(err)
			}
		})
	}
	all.Wait()
	s, err := Open(t.Context(), dsn)
	must(t, err)
	defer func() { _ = s.Close() }()
	now := s.now()
	release, err := s.holdTables(t.Context())
	must(t, err)
	short, cancel := context.WithTimeout(t.Context(), 500*time.Millisecond)
	defer cancel()
	if _, err := s.holdTables(short); !errors.Is(err, context.DeadlineExceeded) {
		t.Errorf("while another holds them: %v", err)
	}
	s.now = func() time.Time { return now.Add(migratingFor + time.Minute) }
	second, err := s.holdTables(t.Context())
	must(t, err)
	release() // it came back from the dead; what the second holds stays held
	if _, err := s.holdTables(short); err == nil {
		t.Error("the dead copy gave away what another holds")
	}
	second()
	third, err := s.holdTables(t.Context())
	must(t, err)
	third()
}

// node is a way to a database that may be away, or refuse queries.
type node struct {
	driver.Connector
	err   error
	tried int
}

func (n *node) Connect(ctx context.Context) (driver.Conn, error) {
	n.tried++
	if n.err != nil {
		return nil, n.err
	}
	return n.Connector.Connect(ctx)
}

type refusing struct{ driver.Conn }

func (refusing) QueryContext(context.Context, string, []driver.NamedValue) (driver.Rows, error) {
	return nil, &mysql.MySQLError{Number: errNotReady}
}

type joining struct{ node }

func (j *joining) Connect(ctx context.Context) (driver.Conn, error) {
	c, err := j.node.Connect(ctx)
	return refusing{c}, err
}

// Work goes to the first node that takes it, and stays there; without any the errors of
// all are told.
func TestNodes(t *testing.T) {
	cfg, err := mysql.ParseDSN(dbtest.DSN(t))
	must(t, err)
	real, err := mysql.NewConnector(cfg)
	must(t, err)
	down := &node{err: &net.OpError{Op: "dial", Err: errors.New("refused")}}
	joins := &joining{node{Connector: real}}
	up := &node{Connector: real}
	all := &nodes{each: []driver.Connector{down, joins, up}}
	for range 3 {
		c, err := all.Connect(t.Context())
		must(t, err)
		must(t, takesWork(t.Context(), c))
		_ = c.Close()
	}
	if down.tried != 1 || joins.tried != 1 || up.tried != 3 {
		t.Errorf("tried %d, %d and %d times", down.tried, joins.tried, up.tried)
	}
	up.err = errors.New("gone")
	if _, err := all.Connect(t.Context()); err == nil || !NotUp(err) {
		t.Errorf("with none: %v", err)
	}
	if _, err := Open(t.Context(), "  "); err == nil {
		t.Error("no address is an address")
	}
	if _, err := Open(t.Context(), "x y z"); err == nil {
		t.Error("no address that parses")
	}
}

// A read whose connection was killed is asked again on another.
func TestReadsAreAskedAgain(t *testing.T) {
	s := newShop(t)
	j := s.opened(t, "K-0001")
	s.db.SetMaxOpenConns(1)
	for range 3 {
		var own int
		must(t, s.db.QueryRow(`SELECT CONNECTION_ID()`).Scan(&own))
		other, err := dbtest.Server().Database(s.ctx, "mysql")
		must(t, err)
		killer, err := Open(s.ctx, other)
		must(t, err)
		_, err = killer.db.Exec(fmt.Sprintf("KILL %d", own))
		must(t, err)
		_ = killer.Close()
		if _, err := s.Job(s.ctx, s.ws.ID, j.ID); err != nil {
			t.Error(err)
		}
		if _, err := s.Readings(s.ctx, s.ws.ID, j.ID); err != nil {
			t.Error(err)
		}
	}
}

// flaky is a database that gives an error so often before it answers.
type flaky struct {
	driver.Conn
	left, asked int
	err         error
}

func (f *flaky) Connect(context.Context) (driver.Conn, error) { return f, nil }
func (f *flaky) Driver() driver.Driver                        { return nil }
func (f *flaky) Close() error                                 { return nil }

func (f *flaky) QueryContext(context.Context, string, []driver.NamedValue) (driver.Rows, error) {
	f.asked++
	if f.left > 0 {
		f.left--
		return nil, f.err
	}
	return &oneRow{}, nil
}

type oneRow struct{ told bool }

func (*oneRow) Columns() []string { return []string{"n"} }
func (*oneRow) Close() error      { return nil }
func (r *oneRow) Next(to []driver.Value) error {
	if r.told {
		return io.EOF
	}
	r.told, to[0] = true, int64(7)
	return nil
}

// A read is asked again while what went wrong passes, three times in all; what does not
// pass is told at once, and nobody who has gone away is waited for.
func TestReadsOverFailures(t *testing.T) {
	lost := mysql.ErrInvalidConn
	leaves, lock := &mysql.MySQLError{Number: errNotReady}, &mysql.MySQLError{Number: errDeadlock}
	wrong, twice := &mysql.MySQLError{Number: 1064}, &mysql.MySQLError{Number: errDuplicate, Message: "for key 'PRIMARY'"}
	gone, cancel := context.WithCancel(t.Context())
	cancel()
	for _, c := range []struct {
		ctx                context.Context
		err                error
		fails, asked, told int
	}{
		{t.Context(), lost, 0, 1, 7},
		{t.Context(), lost, 1, 2, 7},
		{t.Context(), lost, 2, 3, 7},
		{t.Context(), lost, 3, 3, 0},
		{t.Context(), leaves, 2, 3, 7},
		{t.Context(), lock, 2, 3, 7},
		{t.Context(), wrong, 1, 1, 0},
		{t.Context(), twice, 1, 1, 0},
		{gone, lost, 1, 0, 0},
	} {
		for name, read := range map[string]func(pool) (int, error){
			"a row": func(p pool) (n int, err error) {
				err = p.QueryRowContext(c.ctx, `SELECT n`).Scan(&n)
				return n, err
			},
			"rows": func(p pool) (n int, err error) {
				rows, err := p.QueryContext(c.ctx, `SELECT n`)
				if err != nil {
					return 0, err
				}
				err = each(rows, func() error { return rows.Scan(&n) })
				return n, err
			},
		} {
			f := &flaky{left: c.fails, err: c.err}
			db := sql.OpenDB(f)
			n, err := read(pool{db})
			_ = db.Close()
			if n != c.told || f.asked != c.asked || (err == nil) != (c.told == 7) {
				t.Errorf("%s that fails %d times with %v: %d, %v, asked %d times", name, c.fails, c.err, n, err, f.asked)
			}
		}
	}
}
