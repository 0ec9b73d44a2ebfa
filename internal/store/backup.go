package store

import (
	"bufio"
	"compress/gzip"
	"context"
	"crypto/sha256"
	"database/sql"
	"encoding/base64"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"hash"
	"io"
	"slices"
	"strings"
	"time"
)

// BackupFormat is the value of a backup's "format" field. docs/formats/backup.md tells what
// stands in one.
const BackupFormat = "grapnel.backup/1"

// backupHead is the first line of a backup.
type backupHead struct {
	Format string        `json:"format"`
	Schema int64         `json:"schema"` // of the tables
	MadeAt time.Time     `json:"made_at"`
	Tables []backupTable `json:"tables"`
}

type backupTable struct {
	Name    string   `json:"name"`
	Columns []string `json:"columns"`
	Binary  []bool   `json:"binary"` // columns that stand as base64
}

// backupTail is its last line: what must have come before it.
type backupTail struct {
	Rows int64  `json:"rows"`
	Sum  string `json:"sha256"` // of all lines before this one
}

// BackedUp is what a backup holds.
type BackedUp struct {
	Schema int64
	MadeAt time.Time
	Tables int
	Rows   int64
	Sum    string
}

// left are tables that are no workshop's: who is signed in, what is worked out anew, and what
// the program keeps for itself.
var left = []string{"found", "session", "probe", "migrating", "restoring", "goose_db_version"}

// Backup writes all workshops as they are at one moment, while others go on writing.
func (s *Store) Backup(ctx context.Context, to io.Writer) (BackedUp, error) {
	conn, err := s.db.Conn(ctx)
	if err != nil {
		return BackedUp{}, err
	}
	defer func() { _ = conn.Close() }()
	// One moment for all tables: nothing that is saved meanwhile stands in some of them.
	for _, statement := range []string{`SET SESSION TRANSACTION ISOLATION LEVEL REPEATABLE READ`, `START TRANSACTION WITH CONSISTENT SNAPSHOT, READ ONLY`} {
		if _, err := conn.ExecContext(ctx, statement); err != nil {
			return BackedUp{}, err
		}
	}
	defer func() { _, _ = conn.ExecContext(context.WithoutCancel(ctx), `ROLLBACK`) }()
	head := backupHead{Format: BackupFormat, MadeAt: s.now()}
	if head.Schema, err = schemaOf(ctx, conn); err != nil {
		return BackedUp{}, err
	}
	if head.Tables, err = tablesOf(ctx, conn); err != nil {
		return BackedUp{}, err
	}
	z := gzip.NewWriter(to)
	w := newSummed(bufio.NewWriterSize(z, 1<<16))
	if err := w.line(head); err != nil {
		return BackedUp{}, err
	}
	out := BackedUp{Schema: head.Schema, MadeAt: head.MadeAt, Tables: len(head.Tables)}
	for _, t := range head.Tables {
		n, err := backUp(ctx, conn, w, t)
		if err != nil {
			return out, fmt.Errorf("back up %s: %w", t.Name, err)
		}
		out.Rows += n
	}
	out.Sum = w.sum()
	if err := w.line(backupTail{out.Rows, out.Sum}); err != nil {
		return out, err
	}
	return out, errors.Join(w.to.(*bufio.Writer).Flush(), z.Close())
}

// summed is a writer of lines that adds up what it has written.
type summed struct {
	to   io.Writer
	hash hash.Hash
	buf  []byte
}

func newSummed(to io.Writer) *summed { return &summed{to: to, hash: sha256.New()} }

func (w *summed) line(v any) error {
	raw, err := json.Marshal(v)
	if err != nil {
		return err
	}
	return w.raw(append(raw, '\n'))
}

func (w *summed) raw(line []byte) error {
	_, _ = w.hash.Write(line)
	_, err := w.to.Write(line)
	return err
}

func (w *summed) sum() string { return hex.EncodeToString(w.hash.Sum(nil)) }

// asker is a connection or a pool.
type asker interface {
	querier
	ExecContext(ctx context.Context, query string, args ...any) (sql.Result, error)
}

// schemaOf gives the version of the tables; 0 where there are none.
func schemaOf(ctx context.Context, q asker) (v int64, err error) {
	var there int
	if err := q.QueryRowContext(ctx, `SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'goose_db_version'`).Scan(&there); err != nil || there == 0 {
		return 0, err
	}
	err = q.QueryRowContext(ctx, `SELECT COALESCE(MAX(version_id), 0) FROM goose_db_version WHERE is_applied`).Scan(&v)
	return v, err
}

// tablesOf gives every table of the workshops with the columns that are written, in an order
// that does not change.
func tablesOf(ctx context.Context, q asker) ([]backupTable, error) {
	rows, err := q.QueryContext(ctx, `SELECT c.table_name, c.column_name, c.data_type IN ('binary', 'varbinary', 'tinyblob', 'blob', 'mediumblob', 'longblob')
		FROM information_schema.columns c JOIN information_schema.tables t ON t.table_schema = c.table_schema AND t.table_name = c.table_name AND t.table_type = 'BASE TABLE'
		WHERE c.table_schema = DATABASE() AND c.is_generated = 'NEVER' ORDER BY c.table_name, c.ordinal_position`)
	if err != nil {
		return nil, err
	}
	var out []backupTable
	return out, each(rows, func() error {
		var table, column string
		var binary bool
		if err := rows.Scan(&table, &column, &binary); err != nil {
			return err
		}
		if slices.Contains(left, table) {
			return nil
		}
		if len(out) == 0 || out[len(out)-1].Name != table {
			out = append(out, backupTable{Name: table})
		}
		t := &out[len(out)-1]
		t.Columns, t.Binary = append(t.Columns, column), append(t.Binary, binary)
		return nil
	})
}

// backUp writes the rows of a table by its primary key, each as a list of texts: what the
// database itself writes them as, so that nothing is rounded on the way.
func backUp(ctx context.Context, q asker, w *summed, t backupTable) (n int64, err error) {
	columns := make([]string, len(t.Columns))
	for i, c := range t.Columns {
		columns[i] = "CAST(`" + c + "` AS CHAR)"
		if t.Binary[i] {
			columns[i] = "`" + c + "`"
		}
	}
	key, err := keyOf(ctx, q, t.Name)
	if err != nil {
		return 0, err
	}
	if err := w.line(map[string]string{"table": t.Name}); err != nil {
		return 0, err
	}
	rows, err := q.QueryContext(ctx, "SELECT "+strings.Join(columns, ", ")+" FROM `"+t.Name+"` ORDER BY "+key)
	if err != nil {
		return 0, err
	}
	cells := make([]sql.RawBytes, len(columns))
	into := make([]any, len(columns))
	for i := range cells {
		into[i] = &cells[i]
	}
	return n, each(rows, func() error {
		if err := rows.Scan(into...); err != nil {
			return err
		}
		n++
		w.buf = append(w.buf[:0], '[')
		for i, cell := range cells {
			if i > 0 {
				w.buf = append(w.buf, ',')
			}
			switch {
			case cell == nil:
				w.buf = append(w.buf, "null"...)
			case t.Binary[i]:
				w.buf = append(w.buf, '"')
				w.buf = base64.StdEncoding.AppendEncode(w.buf, cell)
				w.buf = append(w.buf, '"')
			default:
				text, err := json.Marshal(string(cell))
				if err != nil {
					return err
				}
				w.buf = append(w.buf, text...)
			}
		}
		w.buf = append(w.buf, ']', '\n')
		return w.raw(w.buf)
	})
}

// keyOf gives the columns of a table's primary key.
func keyOf(ctx context.Context, q asker, table string) (string, error) {
	var key sql.NullString
	err := q.QueryRowContext(ctx, "SELECT GROUP_CONCAT(CONCAT('`', column_name, '`') ORDER BY ordinal_position) FROM information_schema.key_column_usage"+
		" WHERE table_schema = DATABASE() AND table_name = ? AND constraint_name = 'PRIMARY'", table).Scan(&key)
	if err == nil && !key.Valid {
		err = errors.New("a table without a primary key")
	}
	return key.String, err
}
