package store

import (
	"context"
	"database/sql"
	"time"
)

// Said is what somebody last said of a moment of a job.
type Said struct {
	JobID, Kind string
	At          time.Time
	Done        bool
	Until       *time.Time // to call again then
	PersonID    string     // who is to go; empty for anybody
	Person      string     // name
	ByID        string
}

// nothing reports whether it says nothing at all.
func (d Said) nothing() bool { return !d.Done && d.Until == nil && d.PersonID == "" }

// Say keeps what somebody says of a moment of an open job in place of what was said
// before; that it says nothing takes it back. It may be repeated.
func (s *Store) Say(ctx context.Context, workshopID string, d Said) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		j, err := s.held(ctx, tx, workshopID, d.JobID)
		if err != nil {
			return err
		}
		if j.ClosedAt != nil {
			return ErrClosed
		}
		if d.nothing() {
			_, err := tx.ExecContext(ctx, `DELETE FROM said WHERE workshop_id = ? AND job_id = ? AND kind = ?`, workshopID, d.JobID, d.Kind)
			return err
		}
		if d.PersonID != "" {
			var one int
			err := tx.QueryRowContext(ctx, `SELECT 1 FROM person WHERE workshop_id = ? AND id = ? AND disabled_at IS NULL`, workshopID, d.PersonID).Scan(&one)
			if err != nil {
				return found(err, "person")
			}
		}
		_, err = tx.ExecContext(ctx, `REPLACE INTO said (workshop_id, job_id, kind, at, done, until, person_id, by_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
			workshopID, d.JobID, d.Kind, d.At.UTC(), d.Done, d.Until, orNull(d.PersonID), d.ByID)
		return err
	})
}

// Said gives what was said of the moments of open jobs, by job and kind; of one job where
// one is named.
func (s *Store) Said(ctx context.Context, workshopID, jobID string) (map[string]map[string]Said, error) {
	where, args := `WHERE d.workshop_id = ?`, []any{workshopID}
	if jobID != "" {
		where, args = where+` AND d.job_id = ?`, append(args, jobID)
	}
	rows, err := s.db.QueryContext(ctx, `SELECT STRAIGHT_JOIN d.job_id, d.kind, d.at, d.done, d.until, COALESCE(CAST(d.person_id AS CHAR), ''), COALESCE(p.name, ''), d.by_id
		FROM said d LEFT JOIN person p ON p.workshop_id = d.workshop_id AND p.id = d.person_id `+where, args...)
	if err != nil {
		return nil, err
	}
	out := map[string]map[string]Said{}
	return out, each(rows, func() error {
		var d Said
		err := rows.Scan(&d.JobID, &d.Kind, &d.At, &d.Done, &d.Until, &d.PersonID, &d.Person, &d.ByID)
		if out[d.JobID] == nil {
			out[d.JobID] = map[string]Said{}
		}
		out[d.JobID][d.Kind] = d
		return err
	})
}

// unsay forgets what was said of a job's moments.
func unsay(ctx context.Context, tx *sql.Tx, workshopID, jobID string) error {
	_, err := tx.ExecContext(ctx, `DELETE FROM said WHERE workshop_id = ? AND job_id = ?`, workshopID, jobID)
	return err
}

// Colleague is somebody a moment can be handed to.
type Colleague struct {
	ID   string `json:"id" format:"uuid"`
	Name string `json:"name"`
}

// Colleagues gives everybody of the workshop who can sign in, by name.
func (s *Store) Colleagues(ctx context.Context, workshopID string) ([]Colleague, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT id, name FROM person WHERE workshop_id = ? AND disabled_at IS NULL ORDER BY name`, workshopID)
	if err != nil {
		return nil, err
	}
	out := []Colleague{}
	return out, each(rows, func() error {
		var c Colleague
		err := rows.Scan(&c.ID, &c.Name)
		out = append(out, c)
		return err
	})
}
