package store

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"grapnel/core/casefile"
	"grapnel/core/reading"
)

// StoredReading is a reading in its job's log.
type StoredReading struct {
	reading.Entry
	JobID   string
	At      time.Time
	ByID    string
	By      string // name
	SavedAt time.Time
	// EndsRest says that the reading is what a rest was for: adding it ends the rest
	// that runs.
	EndsRest bool
	// ByLead says that a lead takes it: a closed job takes corrections, by leads alone.
	ByLead bool

	seq int // in the job's log, corrections counted
}

func bodies(rs []StoredReading) []reading.Reading {
	out := make([]reading.Reading, len(rs))
	for i, r := range rs {
		out[i] = r.Reading
	}
	return out
}

// Log gives the entries of stored readings.
func Log(all []StoredReading) []reading.Entry {
	log := make([]reading.Entry, len(all))
	for i, r := range all {
		log[i] = r.Entry
	}
	return log
}

// InEffect gives the readings that no other corrects, in the order they were
// taken.
func InEffect(all []StoredReading) []StoredReading {
	var kept []StoredReading
	for _, i := range reading.InEffect(Log(all)) {
		kept = append(kept, all[i])
	}
	return kept
}

// AddReading adds a reading to a job, at the end or in the place of the one it
// replaces. A reading that is already corrected gives ErrChanged.
func (s *Store) AddReading(ctx context.Context, workshopID string, r StoredReading) error {
	err := s.tx(ctx, func(tx *sql.Tx) error {
		_, err := s.addReading(ctx, tx, workshopID, r)
		return err
	})
	if duplicate(err) && strings.Contains(err.Error(), "reading_replaced_once") {
		return fmt.Errorf("this reading is already corrected: %w", ErrChanged)
	}
	return err
}

// addReading adds a reading in a transaction; known says that it was there before.
func (s *Store) addReading(ctx context.Context, tx *sql.Tx, workshopID string, r StoredReading) (known bool, err error) {
	mark, err := fingerprint(r.JobID, r.Reading, r.Replaces)
	if err != nil {
		return false, err
	}
	var old []byte
	err = tx.QueryRowContext(ctx, `SELECT fingerprint FROM reading WHERE workshop_id = ? AND id = ?`, workshopID,
		r.ID).
		Scan(&old)
	if err == nil {
		if bytes.Equal(old, mark) {
			return true, nil
		}
		return false, ErrTaken
	}
	if !errors.Is(err, sql.ErrNoRows) {
		return false, err
	}
	if err := s.nextPlace(ctx, tx, workshopID, &r); err != nil {
		return false, err
	}
	if r.EndsRest {
		// What is waited for may come all the same.
		if _, err := tx.ExecContext(ctx, `UPDATE rest SET ended_at = ? WHERE workshop_id = ? AND job_id = ? AND ended_at IS NULL AND kind <> 'parts'`,
			s.now(), workshopID, r.JobID); err != nil {
			return false, err
		}
	}
	return false, s.insertReading(ctx, tx, workshopID, r)
}

// MostReadings is how many readings a job holds, corrections not counted: as many as the
// open format, so that every job can be taken out and brought back.
const MostReadings = casefile.MostReadings

// nextPlace gives a reading its place in its job: the next, or that of the reading it
// corrects. The counts are kept in the job's row, so that two readings saved at once,
// even on two nodes, cannot take one place.
func (s *Store) nextPlace(ctx context.Context, tx *sql.Tx, workshopID string, r *StoredReading) error {
	taken := 1
	if r.Replaces != "" {
		taken = 0
	}
	res, err := tx.ExecContext(ctx,
		`UPDATE job SET places = places + ?, entries = entries + 1, touched_at = ? WHERE workshop_id = ? AND id = ?`,
		taken, s.now(), workshopID, r.JobID)
	if err := changedOne(res, err, fmt.Errorf("job %w", ErrNotFound)); err != nil {
		return err
	}
	var closed *time.Time
	err = tx.QueryRowContext(ctx, `SELECT places, entries, closed_at FROM job WHERE workshop_id = ? AND id = ?`, workshopID, r.JobID).
		Scan(&r.Place, &r.seq, &closed)
	switch {
	case err != nil:
		return err
	case closed != nil && (r.Replaces == "" || !r.ByLead):
		return ErrClosed
	case r.Replaces == "" && r.Place > MostReadings:
		return ErrMany
	case r.Replaces == "":
		return nil
	}
	return found(tx.QueryRowContext(ctx, `SELECT place FROM reading WHERE workshop_id = ? AND job_id = ? AND id = ?`,
		workshopID, r.JobID, r.Replaces).Scan(&r.Place), "the reading to correct")
}

func (s *Store) insertReading(ctx context.Context, tx *sql.Tx, workshopID string, r StoredReading) error {
	mark, err := fingerprint(r.JobID, r.Reading, r.Replaces)
	if err != nil {
		return err
	}
	var replaces any
	if r.Replaces != "" {
		replaces = r.Replaces
	}
	now := s.now()
	if r.At.IsZero() {
		r.At = now
	}
	_, err = tx.ExecContext(
		ctx,
		`INSERT INTO reading (workshop_id, id, job_id, place, kind, body, taken_at, taken_by, saved_at, replaces_id, fingerprint, seq)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
		workshopID,
		r.ID,
		r.JobID,
		r.Place,
		r.Reading.Kind,
		asDoc(&r.Reading),
		r.At.UTC(),
		r.ByID,
		now,
		replaces,
		mark,
		r.seq,
	)
	return err
}

// Readings gives all readings of the jobs, corrected ones too, by job, in the
// order they were saved.
func (s *Store) Readings(ctx context.Context, workshopID string, jobIDs ...string) (map[string][]StoredReading, error) {
	out := map[string][]StoredReading{}
	for part := range slices.Chunk(jobIDs, mostAtOnce) {
		in, args := among(workshopID, part)
		// The way is by the job's log and from there to who took each, whatever the database
		// reckons: by the statistics it comes to enter by the person, and reads all that one
		// ever took.
		rows, err := s.db.QueryContext(
			ctx,
			`SELECT STRAIGHT_JOIN r.id, r.job_id, r.body, r.place, COALESCE(CAST(r.replaces_id AS CHAR), ''), r.taken_at, r.taken_by, p.name, r.saved_at
			FROM reading r FORCE INDEX (reading_log) JOIN person p ON p.workshop_id = r.workshop_id AND p.id = r.taken_by
			WHERE r.workshop_id = ? AND r.job_id IN (`+in+`) ORDER BY r.job_id, r.seq`,
			args...)
		if err != nil {
			return nil, err
		}
		if err := each(rows, func() error {
			var r StoredReading
			err := rows.Scan(&r.ID, &r.JobID, asDoc(&r.Reading), &r.Place, &r.Replaces, &r.At, &r.ByID, &r.By, &r.SavedAt)
			out[r.JobID] = append(out[r.JobID], r)
			return err
		}); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// mostAtOnce is how many rows one query asks for by their ids.
const mostAtOnce = 500

func among(workshopID string, ids []string) (placeholders string, args []any) {
	args = []any{workshopID}
	for _, id := range ids {
		args = append(args, id)
	}
	return strings.TrimSuffix(strings.Repeat("?,", len(ids)), ","), args
}
