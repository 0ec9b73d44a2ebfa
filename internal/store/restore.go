package store

import (
	"bufio"
	"bytes"
	"compress/gzip"
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/base64"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"
)

// Errors of a restore, which say what to do.
var (
	ErrDamaged   = errors.New("this backup is damaged")
	ErrNewer     = errors.New("this backup was made by a newer Grapnel: restore it with that one")
	ErrOccupied  = errors.New("this database holds workshops already")
	ErrServing   = errors.New("this database is in use: stop Grapnel first")
	ErrRestoring = errors.New("a restore into this database was broken off: run grapnel restore again, with the same file or another")
)

// mostLine is the longest line of a backup: a photo as base64, and room.
const mostLine = 16 << 20

// ReadBackup reads a backup from end to end, and calls for its head and for every row. The
// error is ErrDamaged where anything is not as it was written.
func ReadBackup(from io.Reader, begin func(backupHead) error, row func(backupTable, []any) error) (BackedUp, error) {
	damaged := func(format string, args ...any) error {
		return fmt.Errorf("%w: %s", ErrDamaged, fmt.Sprintf(format, args...))
	}
	var out BackedUp
	z, err := gzip.NewReader(from)
	if err != nil {
		return out, damaged("it does not begin as one: %v", err)
	}
	lines := bufio.NewScanner(z)
	lines.Buffer(make([]byte, 1<<20), mostLine)
	sum := sha256.New()
	next := func() ([]byte, error) {
		if !lines.Scan() {
			if err := lines.Err(); err != nil {
				return nil, damaged("%v", err)
			}
			return nil, damaged("it ends in the middle")
		}
		return lines.Bytes(), nil
	}
	add := func(line []byte) { sum.Write(line); sum.Write([]byte("\n")) }
	line, err := next()
	if err != nil {
		return out, err
	}
	var head backupHead
	if err := json.Unmarshal(line, &head); err != nil || head.Format != BackupFormat {
		return out, damaged("its first line does not say %s", BackupFormat)
	}
	add(line)
	for _, t := range head.Tables {
		if len(t.Columns) == 0 || len(t.Columns) != len(t.Binary) || !plainNames(append([]string{t.Name}, t.Columns...)) {
			return out, damaged("it names tables that cannot be")
		}
	}
	out.Schema, out.MadeAt, out.Tables = head.Schema, head.MadeAt, len(head.Tables)
	if begin != nil {
		if err := begin(head); err != nil {
			return out, err
		}
	}
	at := -1
	for {
		line, err := next()
		if err != nil {
			return out, err
		}
		switch {
		case bytes.HasPrefix(line, []byte(`{"table":`)):
			var t struct {
				Table string `json:"table"`
			}
			if at++; json.Unmarshal(line, &t) != nil || at >= len(head.Tables) || head.Tables[at].Name != t.Table {
				return out, damaged("its tables are out of order")
			}
			add(line)
		case bytes.HasPrefix(line, []byte(`[`)) && at >= 0:
			cells, err := cellsOf(line, head.Tables[at])
			if err != nil {
				return out, damaged("row %d of %s: %v", out.Rows, head.Tables[at].Name, err)
			}
			out.Rows++
			add(line)
			if row != nil {
				if err := row(head.Tables[at], cells); err != nil {
					return out, err
				}
			}
		default:
			var tail backupTail
			out.Sum = hex.EncodeToString(sum.Sum(nil))
			if json.Unmarshal(line, &tail) != nil || tail.Sum != out.Sum || tail.Rows != out.Rows || at != len(head.Tables)-1 {
				return out, damaged("it is not what was written: %d rows, of which the end knows %d", out.Rows, tail.Rows)
			}
			if lines.Scan() || lines.Err() != nil {
				return out, damaged("something follows its end")
			}
			return out, nil
		}
	}
}

// plainNames reports whether names are such as tables and columns have.
func plainNames(all []string) bool {
	for _, n := range all {
		if n == "" || len(n) > 64 || strings.Trim(n, "abcdefghijklmnopqrstuvwxyz_0123456789") != "" {
			return false
		}
	}
	return true
}

func cellsOf(line []byte, t backupTable) ([]any, error) {
	var texts []*string
	if err := json.Unmarshal(line, &texts); err != nil {
		return nil, err
	}
	if len(texts) != len(t.Columns) {
		return nil, fmt.Errorf("%d cells for %d columns", len(texts), len(t.Columns))
	}
	out := make([]any, len(texts))
	for i, text := range texts {
		switch {
		case text == nil:
		case t.Binary[i]:
			raw, err := base64.StdEncoding.DecodeString(*text)
			if err != nil {
				return nil, err
			}
			out[i] = raw
		default:
			out[i] = *text
		}
	}
	return out, nil
}

// Latest gives the version of the tables that this program makes.
func (s *Store) Latest() (int64, error) {
	p, err := s.migrations()
	if err != nil {
		return 0, err
	}
	all := p.ListSources()
	return all[len(all)-1].Version, nil
}

// Occupied reports whether the database holds workshops.
func (s *Store) Occupied(ctx context.Context) (bool, error) {
	var n int
	err := s.db.QueryRowContext(ctx, `SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'workshop'`).Scan(&n)
	if err != nil || n == 0 {
		return false, err
	}
	err = s.db.QueryRowContext(ctx, `SELECT COUNT(*) FROM workshop`).Scan(&n)
	return n > 0, err
}

// Restore puts a backup into a database in place of what is there; with replace false only
// into one that holds no workshop. open gives the backup, which is read twice: nothing is
// changed before all of it has been read and found whole. A restore that is broken off leaves
// a mark, so that nobody works with half of it, and can be run again.
func (s *Store) Restore(ctx context.Context, open func() (io.ReadCloser, error), replace bool) (BackedUp, error) {
	is, err := s.CheckBackup(open)
	if err != nil {
		return is, err
	}
	if busy, err := s.busy(ctx); err != nil || busy {
		return is, errors.Join(err, map[bool]error{true: ErrServing}[busy])
	}
	broken, err := s.brokenOff(ctx)
	if err != nil {
		return is, err
	}
	if occupied, err := s.Occupied(ctx); err != nil {
		return is, err
	} else if occupied && !replace && !broken {
		return is, ErrOccupied
	}
	if _, err := s.db.ExecContext(ctx, `CREATE TABLE IF NOT EXISTS restoring (id TINYINT NOT NULL PRIMARY KEY) ENGINE=InnoDB`); err != nil {
		return is, err
	}
	if err := s.dropAll(ctx); err != nil {
		return is, err
	}
	p, err := s.migrations()
	if err != nil {
		return is, err
	}
	if _, err := p.UpTo(ctx, is.Schema); err != nil {
		return is, fmt.Errorf("make the tables of the backup: %w", err)
	}
	again, err := s.pour(ctx, open)
	if err != nil {
		return is, err
	}
	if again.Sum != is.Sum {
		return is, fmt.Errorf("%w: it has changed while it was read", ErrDamaged)
	}
	if _, err := p.Up(ctx); err != nil {
		return is, fmt.Errorf("bring the tables up to date: %w", err)
	}
	if err := s.fillFind(ctx); err != nil {
		return is, err
	}
	_, err = s.db.ExecContext(ctx, `DROP TABLE restoring`)
	return is, err
}

// CheckBackup reads a backup from end to end, and says what it holds: ErrDamaged where it is
// not whole, ErrNewer where this program does not know its tables. Nothing is changed.
func (s *Store) CheckBackup(open func() (io.ReadCloser, error)) (BackedUp, error) {
	latest, err := s.Latest()
	if err != nil {
		return BackedUp{}, err
	}
	from, err := open()
	if err != nil {
		return BackedUp{}, err
	}
	defer func() { _ = from.Close() }()
	return ReadBackup(from, func(h backupHead) error {
		if h.Schema > latest {
			return ErrNewer
		}
		return nil
	}, nil)
}

// busy reports whether another program is at work on the database.
func (s *Store) busy(ctx context.Context) (bool, error) {
	conn, err := s.db.Conn(ctx)
	if err != nil {
		return false, err
	}
	defer func() { _ = conn.Close() }()
	var own int64
	if err := conn.QueryRowContext(ctx, `SELECT CONNECTION_ID()`).Scan(&own); err != nil {
		return false, err
	}
	// Of this program's own there is one.
	s.db.SetMaxIdleConns(0)
	n := 0
	for range 20 { // those that were closed are gone in a moment
		err = conn.QueryRowContext(ctx, `SELECT COUNT(*) FROM information_schema.processlist WHERE db = DATABASE() AND id <> ?`, own).Scan(&n)
		if err != nil || n == 0 {
			break
		}
		time.Sleep(50 * time.Millisecond)
	}
	return n > 0, err
}

// brokenOff reports whether a restore has left its mark.
func (s *Store) brokenOff(ctx context.Context) (bool, error) {
	var n int
	err := s.db.QueryRowContext(ctx, `SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'restoring'`).Scan(&n)
	return n > 0, err
}

// dropAll takes every table away but the mark.
func (s *Store) dropAll(ctx context.Context) error {
	conn, err := s.db.Conn(ctx)
	if err != nil {
		return err
	}
	defer func() { _ = conn.Close() }()
	rows, err := conn.QueryContext(ctx, `SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE' AND table_name <> 'restoring'`)
	if err != nil {
		return err
	}
	var all []string
	if err := each(rows, func() error {
		var name string
		err := rows.Scan(&name)
		all = append(all, name)
		return err
	}); err != nil {
		return err
	}
	if _, err := conn.ExecContext(ctx, `SET SESSION foreign_key_checks = 0`); err != nil {
		return err
	}
	defer func() { _, _ = conn.ExecContext(context.WithoutCancel(ctx), `SET SESSION foreign_key_checks = 1`) }()
	for _, name := range all {
		if _, err := conn.ExecContext(ctx, "DROP TABLE `"+name+"`"); err != nil {
			return err
		}
	}
	return nil
}

// How much is written at once.
const (
	pourRows  = 400
	pourBytes = 2 << 20
)

// pour writes all rows of a backup into the tables, all or none.
func (s *Store) pour(ctx context.Context, open func() (io.ReadCloser, error)) (BackedUp, error) {
	from, err := open()
	if err != nil {
		return BackedUp{}, err
	}
	defer func() { _ = from.Close() }()
	conn, err := s.db.Conn(ctx)
	if err != nil {
		return BackedUp{}, err
	}
	defer func() { _ = conn.Close() }()
	for _, statement := range []string{`SET SESSION foreign_key_checks = 0`, `SET SESSION unique_checks = 0`} {
		if _, err := conn.ExecContext(ctx, statement); err != nil {
			return BackedUp{}, err
		}
	}
	defer func() {
		_, _ = conn.ExecContext(context.WithoutCancel(ctx), `SET SESSION foreign_key_checks = 1, SESSION unique_checks = 1`)
	}()
	tx, err := conn.BeginTx(ctx, nil)
	if err != nil {
		return BackedUp{}, err
	}
	defer func() { _ = tx.Rollback() }()
	w := pourer{ctx: ctx, tx: tx}
	is, err := ReadBackup(from, nil, w.row)
	if err != nil {
		return is, err
	}
	if err := w.flush(); err != nil {
		return is, err
	}
	return is, tx.Commit()
}

type pourer struct {
	ctx   context.Context
	tx    *sql.Tx
	table backupTable
	args  []any
	rows  int
	bytes int
}

func (w *pourer) row(t backupTable, cells []any) error {
	if t.Name != w.table.Name || w.rows >= pourRows || w.bytes >= pourBytes {
		if err := w.flush(); err != nil {
			return err
		}
	}
	w.table = t
	w.args = append(w.args, cells...)
	w.rows++
	for _, c := range cells {
		switch v := c.(type) {
		case string:
			w.bytes += len(v)
		case []byte:
			w.bytes += len(v)
		}
	}
	return nil
}

func (w *pourer) flush() error {
	if w.rows == 0 {
		return nil
	}
	one := "(" + strings.TrimSuffix(strings.Repeat("?,", len(w.table.Columns)), ",") + "),"
	_, err := w.tx.ExecContext(w.ctx, "INSERT INTO `"+w.table.Name+"` (`"+strings.Join(w.table.Columns, "`, `")+"`) VALUES "+
		strings.TrimSuffix(strings.Repeat(one, w.rows), ","), w.args...)
	w.args, w.rows, w.bytes = w.args[:0], 0, 0
	if err != nil {
		return fmt.Errorf("fill %s: %w", w.table.Name, err)
	}
	return nil
}
