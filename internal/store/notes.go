package store

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"time"
)

// Note is what somebody wrote down of a job.
type Note struct {
	ID, JobID, Text string
	Shown           bool // on the report
	At              time.Time
	ByID, By        string
	BackAt          *time.Time // taken back, and kept
	BackBy          string
}

// MostPapers is how many notes, photos and estimates a job holds together.
const MostPapers = 500

// AddNote keeps a note. It may be repeated with the same id. A closed job takes notes too:
// what is found out later belongs to it.
func (s *Store) AddNote(ctx context.Context, workshopID string, n Note) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		mark, err := fingerprint(n.JobID, n.Text, n.Shown)
		if err != nil {
			return err
		}
		seq, known, err := s.nextPaper(ctx, tx, workshopID, n.JobID, "note", n.ID, mark)
		if known || err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO note (workshop_id, id, job_id, seq, body, shown, fingerprint, at, by_id)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`, workshopID, n.ID, n.JobID, seq, n.Text, n.Shown, mark, s.orNow(n.At), n.ByID); err != nil {
			return err
		}
		return s.recordOf(ctx, tx, workshopID, Actor{ID: n.ByID}, NoteAdded, n.JobID, nil, map[string]any{"note": n.Text})
	})
}

// nextPaper takes hold of a job to which something is added under an id, and counts it;
// known says that the same was added before.
func (s *Store) nextPaper(
	ctx context.Context,
	tx *sql.Tx,
	workshopID, jobID, table, id string,
	mark []byte,
) (seq int, known bool, err error) {
	if err := s.touch(ctx, tx, workshopID, jobID); err != nil {
		return 0, false, err
	}
	var was []byte
	switch err := tx.QueryRowContext(ctx, `SELECT fingerprint FROM `+table+` WHERE workshop_id = ? AND id = ?`, workshopID, id).Scan(&was); {
	case err == nil && bytes.Equal(was, mark):
		return 0, true, nil
	case err == nil:
		return 0, false, ErrTaken
	case !errors.Is(err, sql.ErrNoRows):
		return 0, false, err
	}
	seq, err = s.countPaper(ctx, tx, workshopID, jobID)
	return seq, false, err
}

func (s *Store) countPaper(ctx context.Context, tx *sql.Tx, workshopID, jobID string) (seq int, err error) {
	if _, err := tx.ExecContext(ctx, `UPDATE job SET papers = papers + 1 WHERE workshop_id = ? AND id = ?`, workshopID, jobID); err != nil {
		return 0, err
	}
	if err := tx.QueryRowContext(ctx, `SELECT papers FROM job WHERE workshop_id = ? AND id = ?`, workshopID, jobID).Scan(&seq); err != nil {
		return 0, found(err, "job")
	}
	if seq > MostPapers {
		return 0, ErrPapersFull
	}
	return seq, nil
}

// recordOf adds to the history of a job.
func (s *Store) recordOf(ctx context.Context, tx *sql.Tx, workshopID string, by Actor, what, jobID string, was, became any) error {
	j, err := s.job(ctx, tx, workshopID, jobID)
	if err != nil {
		return err
	}
	return s.record(ctx, tx, workshopID, by, what, jobID, j.Battery.Tag, was, became)
}

// Notes gives the notes of jobs, by job, in the order they were written; those taken back
// too.
func (s *Store) Notes(ctx context.Context, workshopID string, jobIDs ...string) (map[string][]Note, error) {
	out := map[string][]Note{}
	err := s.ofJobs(ctx, workshopID, jobIDs, `SELECT STRAIGHT_JOIN n.id, n.job_id, n.body, n.shown, n.at, n.by_id, p.name, n.back_at, COALESCE(q.name, '')
		FROM note n FORCE INDEX (note_seq) JOIN person p ON p.workshop_id = n.workshop_id AND p.id = n.by_id
		LEFT JOIN person q ON q.workshop_id = n.workshop_id AND q.id = n.back_by
		WHERE n.workshop_id = ? AND n.job_id IN (`, `) ORDER BY n.job_id, n.seq`, func(rows *sql.Rows) error {
		var n Note
		err := rows.Scan(&n.ID, &n.JobID, &n.Text, &n.Shown, &n.At, &n.ByID, &n.By, &n.BackAt, &n.BackBy)
		out[n.JobID] = append(out[n.JobID], n)
		return err
	})
	return out, err
}

// ofJobs asks for rows of many jobs, some at a time.
func (s *Store) ofJobs(ctx context.Context, workshopID string, ids []string, before, after string, each1 func(*sql.Rows) error) error {
	for len(ids) > 0 {
		n := min(mostAtOnce, len(ids))
		in, args := among(workshopID, ids[:n])
		rows, err := s.db.QueryContext(ctx, before+in+after, args...)
		if err != nil {
			return err
		}
		if err := each(rows, func() error { return each1(rows) }); err != nil {
			return err
		}
		ids = ids[n:]
	}
	return nil
}

// TakeBackNote takes a note back, or puts it back again: it stays either way. It may be
// repeated.
func (s *Store) TakeBackNote(ctx context.Context, workshopID string, by Actor, jobID, id string, back bool) error {
	return s.takeBackPaper(ctx, workshopID, by, "note", jobID, id, back, NoteTakenBack)
}

func (s *Store) takeBackPaper(ctx context.Context, workshopID string, by Actor, table, jobID, id string, back bool, what string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		if err := s.touch(ctx, tx, workshopID, jobID); err != nil {
			return err
		}
		var was *time.Time
		if err := tx.QueryRowContext(ctx, `SELECT back_at FROM `+table+` WHERE workshop_id = ? AND id = ? AND job_id = ?`, workshopID, id,
			jobID).Scan(&was); err != nil {
			return found(err, table)
		}
		if (was != nil) == back {
			return nil
		}
		var at, who any
		if back {
			at, who = s.now(), by.ID
		}
		if _, err := tx.ExecContext(ctx, `UPDATE `+table+` SET back_at = ?, back_by = ? WHERE workshop_id = ? AND id = ?`, at, who,
			workshopID, id); err != nil {
			return err
		}
		return s.recordOf(ctx, tx, workshopID, by, what, jobID, nil, map[string]any{"taken_back": back})
	})
}

// orNow is a time that was said, and now where none was.
func (s *Store) orNow(at time.Time) time.Time {
	if at.IsZero() {
		return s.now()
	}
	return at.UTC()
}
