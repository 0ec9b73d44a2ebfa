package store

import (
	"context"
	"database/sql"
	"time"
)

// Photo is a picture on a job, without its bytes.
type Photo struct {
	ID, JobID     string
	What, Caption string
	Shown         bool // on the report
	Width, Height int
	At            time.Time
	ByID, By      string
	BackAt        *time.Time // taken back, and kept
	BackBy        string
}

// Image is the bytes of a photo, and what came before they were encoded anew, by which a
// repeat is known.
type Image struct {
	JPEG, Small []byte
	Source      []byte
}

// AddPhoto keeps a photo. It may be repeated with the same id.
func (s *Store) AddPhoto(ctx context.Context, workshopID string, p Photo, i Image) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		mark, err := fingerprint(p.JobID, p.What, p.Caption, p.Shown, i.Source)
		if err != nil {
			return err
		}
		seq, known, err := s.nextPaper(ctx, tx, workshopID, p.JobID, "photo", p.ID, mark)
		if known || err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO photo (workshop_id, id, job_id, seq, what, caption, shown, width, height, jpeg, small, fingerprint, at, by_id)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, workshopID, p.ID, p.JobID, seq, p.What, p.Caption, p.Shown, p.Width, p.Height,
			i.JPEG, i.Small, mark, s.orNow(p.At), p.ByID); err != nil {
			return err
		}
		return s.recordOf(ctx, tx, workshopID, Actor{ID: p.ByID}, PhotoAdded, p.JobID, nil, map[string]any{"photo": p.What, "caption": p.Caption})
	})
}

const photoColumns = `SELECT STRAIGHT_JOIN f.id, f.job_id, f.what, f.caption, f.shown, f.width, f.height, f.at, f.by_id, p.name, f.back_at, COALESCE(q.name, '')
	FROM photo f FORCE INDEX (photo_seq) JOIN person p ON p.workshop_id = f.workshop_id AND p.id = f.by_id
	LEFT JOIN person q ON q.workshop_id = f.workshop_id AND q.id = f.back_by `

// Photos gives the photos of a job in the order they were taken; those taken back too.
func (s *Store) Photos(ctx context.Context, workshopID, jobID string) ([]Photo, error) {
	rows, err := s.db.QueryContext(ctx, photoColumns+`WHERE f.workshop_id = ? AND f.job_id = ? ORDER BY f.seq`, workshopID, jobID)
	if err != nil {
		return nil, err
	}
	out := []Photo{}
	return out, each(rows, func() error {
		var p Photo
		err := rows.Scan(&p.ID, &p.JobID, &p.What, &p.Caption, &p.Shown, &p.Width, &p.Height, &p.At, &p.ByID, &p.By, &p.BackAt, &p.BackBy)
		out = append(out, p)
		return err
	})
}

// PhotoBytes gives a photo, small or as large as it is kept.
func (s *Store) PhotoBytes(ctx context.Context, workshopID, jobID, id string, small bool) ([]byte, error) {
	column := "jpeg"
	if small {
		column = "small"
	}
	var raw []byte
	err := s.db.QueryRowContext(ctx, `SELECT `+column+` FROM photo WHERE workshop_id = ? AND id = ? AND job_id = ?`, workshopID, id, jobID).
		Scan(&raw)
	return raw, found(err, "photo")
}

// TakeBackPhoto takes a photo back, or puts it back again: it stays either way. It may be
// repeated.
func (s *Store) TakeBackPhoto(ctx context.Context, workshopID string, by Actor, jobID, id string, back bool) error {
	return s.takeBackPaper(ctx, workshopID, by, "photo", jobID, id, back, PhotoTakenBack)
}
