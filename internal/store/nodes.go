package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"errors"
	"sync"
	"time"

	"github.com/go-sql-driver/mysql"
)

// nodes connects to the first node of a cluster that takes work, beginning with the one
// that did last. Of a database that is alone it is that one.
type nodes struct {
	each []driver.Connector
	mu   sync.Mutex
	at   int
}

// Driver is the driver of all nodes.
func (n *nodes) Driver() driver.Driver { return n.each[0].Driver() }

// Connect tries the nodes in turn.
func (n *nodes) Connect(ctx context.Context) (driver.Conn, error) {
	n.mu.Lock()
	first := n.at
	n.mu.Unlock()
	var errs []error
	for i := range n.each {
		at := (first + i) % len(n.each)
		conn, err := n.each[at].Connect(ctx)
		if err == nil && len(n.each) > 1 {
			if err = takesWork(ctx, conn); err != nil {
				_ = conn.Close()
			}
		}
		if err == nil {
			n.mu.Lock()
			n.at = at
			n.mu.Unlock()
			return conn, nil
		}
		errs = append(errs, err)
		if ctx.Err() != nil {
			break
		}
	}
	return nil, errors.Join(errs...)
}

// takesWork asks a node whether it does: one that joins or has lost the others answers
// pings, and refuses queries.
func takesWork(ctx context.Context, conn driver.Conn) error {
	q, ok := conn.(driver.QueryerContext)
	if !ok {
		return nil
	}
	rows, err := q.QueryContext(ctx, `SELECT 1`, nil)
	if err != nil {
		return err
	}
	return rows.Close()
}

// pool asks again what a lost connection or a node that leaves did not answer: reads may
// be repeated without harm.
type pool struct{ *sql.DB }

const (
	mostIdle = 10
	rereads  = 3
)

// QueryContext is that of sql.DB, asked again.
func (p pool) QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error) {
	for i := 1; ; i++ {
		rows, err := p.DB.QueryContext(ctx, query, args...)
		if i == rereads || !p.again(ctx, err, i) {
			return rows, err
		}
	}
}

// QueryRowContext is that of sql.DB, asked again.
func (p pool) QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row {
	for i := 1; ; i++ {
		row := p.DB.QueryRowContext(ctx, query, args...)
		if i == rereads || !p.again(ctx, row.Err(), i) {
			return row
		}
	}
}

// again waits a little and reports whether there is use in asking again.
func (p pool) again(ctx context.Context, err error, tried int) bool {
	if err == nil || duplicate(err) || !passing(err) {
		return false
	}
	p.leave(err)
	select {
	case <-ctx.Done():
		return false
	case <-time.After(time.Duration(tried) * 40 * time.Millisecond):
		return true
	}
}

// leave gives up idle connections to a node that has left its cluster, so that the next
// ones go to another.
func (p pool) leave(err error) {
	var my *mysql.MySQLError
	if errors.As(err, &my) && (my.Number == errNotReady || my.Number == errShutdown) {
		p.SetMaxIdleConns(0)
		p.SetMaxIdleConns(mostIdle)
	}
}
