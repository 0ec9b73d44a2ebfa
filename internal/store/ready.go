package store

import (
	"context"
	"errors"
	"sync/atomic"
	"syscall"
	"time"

	"github.com/go-sql-driver/mysql"
)

// MariaDB errors that mean that there is no room.
const (
	errDiskFull  = 1021
	errWriteFile = 1026
	errEngine    = 1030
	errTableFull = 1114
)

// full remembers when there was no room last, and when a row was written to see, Unix ns.
type full struct{ at, wrote atomic.Int64 }

// fullHolds is how long a database counts as full after it said so.
const fullHolds = time.Minute

func (f *full) note(err error) {
	var my *mysql.MySQLError
	if !errors.As(err, &my) {
		return
	}
	switch my.Number {
	case errDiskFull, errWriteFile, errEngine, errTableFull:
		f.at.Store(time.Now().UnixNano())
	}
}

// leastRoom is how many bytes have to be free beside the database's files.
const leastRoom = 64 << 20

// Errors of a database that answers and cannot keep anything.
var (
	ErrFull     = errors.New("the database has no room left")
	ErrReadOnly = errors.New("the database takes no changes")
)

// Ready reports whether the database answers, takes changes and has room: it writes a
// row, and where its files are on this machine it looks how much is free beside them.
func (s *Store) Ready(ctx context.Context) error {
	if last := s.full.at.Load(); time.Since(time.Unix(0, last)) < fullHolds {
		return ErrFull
	}
	var dir string
	if err := s.db.QueryRowContext(ctx, `SELECT @@datadir`).Scan(&dir); err != nil {
		return err
	}
	if free, ok := room(dir); ok && free < leastRoom {
		return ErrFull
	}
	// Anybody may ask, and each write waits for the disk: one a second is enough.
	if time.Since(time.Unix(0, s.full.wrote.Load())) < time.Second {
		return nil
	}
	if _, err := s.db.ExecContext(ctx, `UPDATE probe SET at = ? WHERE id = 1`, s.now()); err != nil {
		s.full.note(err)
		return errors.Join(ErrReadOnly, err)
	}
	s.full.wrote.Store(time.Now().UnixNano())
	return nil
}

// room gives how many bytes are free beside a folder; false where it is not here.
func room(dir string) (free uint64, ok bool) {
	var fs syscall.Statfs_t
	if syscall.Statfs(dir, &fs) != nil {
		return 0, false
	}
	return fs.Bavail * uint64(fs.Bsize), true
}
