package store

import (
	"context"
	"database/sql/driver"
	"errors"
	"fmt"
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
