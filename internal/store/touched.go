package store

import (
	"context"
	"database/sql"
	"time"
)

// Touch is a job of which something changed, and when.
type Touch struct {
	JobID string
	At    time.Time
}

// Touched gives the jobs of a workshop that changed at a time or later, the
// earliest first.
func (s *Store) Touched(ctx context.Context, workshopID string, since time.Time) ([]Touch, error) {
	rows, err := s.db.QueryContext(ctx,
		`SELECT id, touched_at FROM job WHERE workshop_id = ? AND touched_at >= ? ORDER BY touched_at`,
		workshopID, since.UTC())
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	var out []Touch
	for rows.Next() {
		var t Touch
		if err := rows.Scan(&t.JobID, &t.At); err != nil {
			return nil, err
		}
		out = append(out, t)
	}
	return out, rows.Err()
}

// touch notes that something of a job changes now. The time always grows: a row written
// with what it held already is not written at all, and whoever waited for it would go on
// with what they had read before.
func (s *Store) touch(ctx context.Context, tx *sql.Tx, workshopID, jobID string) error {
	_, err := tx.ExecContext(ctx, `UPDATE job SET touched_at = GREATEST(?, touched_at + INTERVAL 1 MICROSECOND) WHERE workshop_id = ? AND id = ?`, s.now(),
		workshopID, jobID)
	return err
}
