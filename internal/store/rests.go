package store

import (
	"cmp"
	"context"
	"database/sql"
	"errors"
	"time"
)

// Rest is a time a battery is left alone: so that its voltage can be believed, to warm
// up, or until parts come.
type Rest struct {
	ID       string
	JobID    string
	Kind     string // one of assess.Stays; empty counts as a rest
	StartsAt time.Time
	EndsAt   time.Time
	ByID     string
	EndedAt  *time.Time // ended by hand, or by the reading it was for
}

// AddRest starts a rest; it ends any other that still runs on the job.
func (s *Store) AddRest(ctx context.Context, workshopID string, r Rest) error {
	// As the database keeps them, so that a repeat is known for one.
	r.StartsAt, r.EndsAt = r.StartsAt.UTC().Truncate(time.Second), r.EndsAt.UTC().Truncate(time.Second)
	r.Kind = cmp.Or(r.Kind, "rest")
	return s.tx(ctx, func(tx *sql.Tx) error {
		var jobID, kind string
		var starts, ends time.Time
		err := tx.QueryRowContext(ctx, `SELECT job_id, kind, starts_at, ends_at FROM rest WHERE workshop_id = ? AND id = ?`,
			workshopID, r.ID).
			Scan(&jobID, &kind, &starts, &ends)
		if err == nil {
			if jobID == r.JobID && kind == r.Kind && ends.Sub(starts) == r.EndsAt.Sub(r.StartsAt) {
				return nil
			}
			return ErrTaken
		}
		if !errors.Is(err, sql.ErrNoRows) {
			return err
		}
		j, err := s.held(ctx, tx, workshopID, r.JobID)
		if err != nil {
			return err
		}
		if j.ClosedAt != nil {
			return ErrClosed
		}
		if err := endRests(ctx, tx, workshopID, r.JobID, s.now()); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx,
			`INSERT INTO rest (workshop_id, id, job_id, kind, starts_at, ends_at, begun_by) VALUES (?, ?, ?, ?, ?, ?, ?)`,
			workshopID, r.ID, r.JobID, r.Kind, r.StartsAt.UTC(), r.EndsAt.UTC(), r.ByID)
		return err
	})
}

// EndRests ends whatever rest runs on a job. It may be repeated.
func (s *Store) EndRests(ctx context.Context, workshopID, jobID string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		if err := s.touch(ctx, tx, workshopID, jobID); err != nil {
			return err
		}
		return endRests(ctx, tx, workshopID, jobID, s.now())
	})
}

func endRests(ctx context.Context, tx *sql.Tx, workshopID, jobID string, now time.Time) error {
	_, err := tx.ExecContext(ctx,
		`UPDATE rest SET ended_at = ? WHERE workshop_id = ? AND job_id = ? AND ended_at IS NULL`, now, workshopID,
		jobID)
	return err
}

// RunningRests gives the rests of open jobs that nobody has ended, by job. One whose time
// is up stays until it is ended: the battery still waits for hands.
func (s *Store) RunningRests(ctx context.Context, workshopID string) (map[string]Rest, error) {
	return s.rests(ctx, `FORCE INDEX (rest_running) WHERE workshop_id = ? AND ended_at IS NULL`, workshopID)
}

// RunningRest gives the rest that runs on a job, nil when none does.
func (s *Store) RunningRest(ctx context.Context, workshopID, jobID string) (*Rest, error) {
	all, err := s.rests(
		ctx,
		`FORCE INDEX (rest_job) WHERE workshop_id = ? AND job_id = ? AND ended_at IS NULL`,
		workshopID,
		jobID,
	)
	if r, ok := all[jobID]; ok {
		return &r, err
	}
	return nil, err
}

func (s *Store) rests(ctx context.Context, where string, args ...any) (map[string]Rest, error) {
	rows, err := s.db.QueryContext(
		ctx,
		`SELECT id, job_id, kind, starts_at, ends_at, begun_by FROM rest `+where+` ORDER BY starts_at`,
		args...)
	if err != nil {
		return nil, err
	}
	out := map[string]Rest{}
	return out, each(rows, func() error {
		var r Rest
		err := rows.Scan(&r.ID, &r.JobID, &r.Kind, &r.StartsAt, &r.EndsAt, &r.ByID)
		out[r.JobID] = r
		return err
	})
}
