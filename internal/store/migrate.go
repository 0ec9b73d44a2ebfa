package store

import (
	"context"
	"database/sql"
	"embed"
	"io/fs"
	"log/slog"
	"time"

	"github.com/google/uuid"
	"github.com/pressly/goose/v3"
)

//go:embed migrations/*.sql
var migrations embed.FS

// migratingFor is how long a copy of the program that died while it changed tables keeps
// the others waiting.
const migratingFor = 10 * time.Minute

// Migrate brings the tables up to date, and fills what new columns hold of old rows. Of
// several copies that start at once one does it, on a cluster too, and the others wait.
func (s *Store) Migrate(ctx context.Context) error {
	if broken, err := s.brokenOff(ctx); err != nil {
		return err
	} else if broken {
		return ErrRestoring
	}
	p, err := s.migrations()
	if err != nil {
		return err
	}
	release, err := s.holdTables(ctx)
	if err != nil {
		return err
	}
	defer release()
	if _, err = p.Up(ctx); err != nil {
		return err
	}
	return s.fillFind(ctx)
}

func (s *Store) migrations() (*goose.Provider, error) {
	dir, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	return goose.NewProvider(goose.DialectMySQL, s.db.DB, dir)
}

// holdTables waits until no other copy changes tables, and keeps others from it until
// release. It is a row, since a lock of the database's own holds on one node alone.
func (s *Store) holdTables(ctx context.Context) (release func(), err error) {
	if _, err := s.db.ExecContext(ctx, `CREATE TABLE IF NOT EXISTS migrating (
		id TINYINT NOT NULL PRIMARY KEY, holder UUID NOT NULL, until DATETIME(6) NOT NULL) ENGINE=InnoDB`); err != nil {
		return nil, err
	}
	mine := uuid.NewString()
	for said := false; ; said = true {
		var holder string
		err := s.tx(ctx, func(tx *sql.Tx) error {
			now := s.now()
			if _, err := tx.ExecContext(ctx, `INSERT INTO migrating (id, holder, until) VALUES (1, ?, ?)
				ON DUPLICATE KEY UPDATE holder = IF(until < ?, VALUES(holder), holder), until = IF(holder = VALUES(holder), VALUES(until), until)`,
				mine, now.Add(migratingFor), now); err != nil {
				return err
			}
			return tx.QueryRowContext(ctx, `SELECT holder FROM migrating WHERE id = 1`).Scan(&holder)
		})
		if err != nil {
			return nil, err
		}
		if holder == mine {
			return func() {
				ctx, cancel := context.WithTimeout(context.WithoutCancel(ctx), 5*time.Second)
				defer cancel()
				if _, err := s.db.ExecContext(ctx, `DELETE FROM migrating WHERE id = 1 AND holder = ?`, mine); err != nil {
					slog.Warn("let others change tables", "error", err)
				}
			}, nil
		}
		if !said {
			slog.Info("another copy brings the tables up to date; waiting for it")
		}
		select {
		case <-ctx.Done():
			return nil, ctx.Err()
		case <-time.After(200 * time.Millisecond):
		}
	}
}
