package store

import (
	"context"
	"database/sql"
	"errors"
	"reflect"
	"time"

	"grapnel/core/guide"
)

// GuideRun is a guide begun on a job.
type GuideRun struct {
	ID      string
	JobID   string
	What    string
	Site    guide.Site
	Reason  string // why it is done where no verdict asks for it
	Version int    // of the site
	BegunAt time.Time
	ByID    string
	By      string // name
	EndedAt *time.Time
}

// GuideEvent is one thing done with a guide, in the order it was done.
type GuideEvent struct {
	ID    string
	JobID string
	RunID string
	What  string // the guide it was done with
	ByID  string
	guide.Event
}

const guideColumns = `SELECT g.id, g.job_id, g.what, g.site, g.reason, g.version, g.begun_at, g.begun_by, p.name, g.ended_at
	FROM guide_run g STRAIGHT_JOIN person p ON p.workshop_id = g.workshop_id AND p.id = g.begun_by `

func scanGuide(scan func(...any) error) (GuideRun, error) {
	var g GuideRun
	err := scan(&g.ID, &g.JobID, &g.What, asDoc(&g.Site), &g.Reason, &g.Version, &g.BegunAt, &g.ByID, &g.By, &g.EndedAt)
	return g, err
}

// Guides gives the guides begun on a job, the oldest first.
func (s *Store) Guides(ctx context.Context, workshopID, jobID string) ([]GuideRun, error) {
	rows, err := s.db.QueryContext(ctx, guideColumns+`WHERE g.workshop_id = ? AND g.job_id = ? ORDER BY g.begun_at, g.id`,
		workshopID, jobID)
	if err != nil {
		return nil, err
	}
	var out []GuideRun
	return out, each(rows, func() error {
		g, err := scanGuide(rows.Scan)
		out = append(out, g)
		return err
	})
}

// BeginGuide begins a guide on a job. It may be repeated; where one of its kind runs, that
// one goes on.
func (s *Store) BeginGuide(ctx context.Context, workshopID string, by Actor, g GuideRun) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		j, err := s.held(ctx, tx, workshopID, g.JobID)
		if err != nil {
			return err
		}
		var jobID, what string
		switch err := tx.QueryRowContext(ctx, `SELECT job_id, what FROM guide_run WHERE workshop_id = ? AND (id = ? OR job_id = ? AND running = ?)
			ORDER BY id = ? DESC LIMIT 1`, workshopID, g.ID, g.JobID, g.What, g.ID).Scan(&jobID, &what); {
		case err == nil && jobID == g.JobID && what == g.What:
			return nil
		case err == nil:
			return ErrTaken
		case !errors.Is(err, sql.ErrNoRows):
			return err
		}
		if j.ClosedAt != nil {
			return ErrClosed
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO guide_run (workshop_id, id, job_id, what, site, reason, begun_at, begun_by)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?)`, workshopID, g.ID, g.JobID, g.What, asDoc(&g.Site), g.Reason, s.now(), by.ID); err != nil {
			return err
		}
		return s.record(ctx, tx, workshopID, by, GuideBegun, g.JobID, j.Battery.Tag, nil,
			map[string]any{"what": g.What, "reason": g.Reason})
	})
}

// SetGuideSite keeps what is said of the vehicle, when nobody else has said otherwise since
// g.Version. It may be repeated.
func (s *Store) SetGuideSite(ctx context.Context, workshopID string, g GuideRun) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		if _, err := s.held(ctx, tx, workshopID, g.JobID); err != nil {
			return err
		}
		was, err := scanGuide(tx.QueryRowContext(ctx, guideColumns+`WHERE g.workshop_id = ? AND g.id = ? AND g.job_id = ?`,
			workshopID, g.ID, g.JobID).Scan)
		switch {
		case err != nil:
			return found(err, "guide")
		case was.Version == g.Version+1 && reflect.DeepEqual(was.Site, g.Site):
			return nil // a repeat
		case was.EndedAt != nil:
			return ErrClosed
		case was.Version != g.Version:
			return ErrChanged
		}
		_, err = tx.ExecContext(ctx, `UPDATE guide_run SET site = ?, version = version + 1 WHERE workshop_id = ? AND id = ?`, asDoc(&g.Site), workshopID, g.ID)
		return err
	})
}

// GuideEvents gives all that was done with guides on a job, in order.
func (s *Store) GuideEvents(ctx context.Context, workshopID, jobID string) ([]GuideEvent, error) {
	return guideEvents(ctx, s.db, workshopID, jobID)
}

func guideEvents(ctx context.Context, q querier, workshopID, jobID string) ([]GuideEvent, error) {
	rows, err := q.QueryContext(ctx, `SELECT e.id, e.job_id, e.run_id, g.what, e.kind, e.step, e.choice, e.off, e.back, e.at, e.by_id, p.name
		FROM guide_event e FORCE INDEX (guide_seq) STRAIGHT_JOIN person p ON p.workshop_id = e.workshop_id AND p.id = e.by_id
		STRAIGHT_JOIN guide_run g ON g.workshop_id = e.workshop_id AND g.id = e.run_id
		WHERE e.workshop_id = ? AND e.job_id = ? ORDER BY e.seq`, workshopID, jobID)
	if err != nil {
		return nil, err
	}
	var out []GuideEvent
	return out, each(rows, func() error {
		var e GuideEvent
		err := rows.Scan(&e.ID, &e.JobID, &e.RunID, &e.What, &e.Kind, &e.Step, &e.Choice, asDoc(&e.Off), asDoc(&e.Back), &e.At,
			&e.ByID, &e.By)
		out = append(out, e)
		return err
	})
}

// MostGuideEvents is how many things can be done with guides on one job.
const MostGuideEvents = 1000

// ErrGuideFull is a job with which too much was done.
var ErrGuideFull = errors.New("more was done with guides on this job than a job holds")

// AddGuideEvent notes that something was done with a guide, with a reading that it puts into
// the log; ends says that the guide is done with it. seen is how many things had been done
// when it was looked at: another number gives ErrChanged. It may be repeated.
func (s *Store) AddGuideEvent(ctx context.Context, workshopID string, e GuideEvent, seen int, r *StoredReading, ends bool) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		known, err := s.addGuideEvent(ctx, tx, workshopID, e, seen)
		if err != nil || known {
			return err
		}
		if r != nil {
			if _, err := s.addReading(ctx, tx, workshopID, *r); err != nil {
				return err
			}
		}
		if ends {
			return s.endGuide(ctx, tx, workshopID, e.RunID)
		}
		return nil
	})
}

func (s *Store) addGuideEvent(ctx context.Context, tx *sql.Tx, workshopID string, e GuideEvent, seen int) (known bool,
	err error) {
	j, err := s.held(ctx, tx, workshopID, e.JobID)
	if err != nil {
		return false, err
	}
	var run, kind, step string
	switch err := tx.QueryRowContext(ctx, `SELECT run_id, kind, step FROM guide_event WHERE workshop_id = ? AND id = ?`,
		workshopID, e.ID).Scan(&run, &kind, &step); {
	case err == nil && run == e.RunID && kind == e.Kind && step == e.Step:
		return true, nil
	case err == nil:
		return false, ErrTaken
	case !errors.Is(err, sql.ErrNoRows):
		return false, err
	}
	if j.ClosedAt != nil {
		return false, ErrClosed
	}
	if seen >= MostGuideEvents {
		return false, ErrGuideFull
	}
	res, err := tx.ExecContext(ctx, `UPDATE job SET guided = guided + 1 WHERE workshop_id = ? AND id = ? AND guided = ?`,
		workshopID, e.JobID, seen)
	if err := changedOne(res, err, ErrChanged); err != nil {
		return false, err
	}
	if e.Off == nil {
		e.Off = []string{}
	}
	if e.Back == nil {
		e.Back = []string{}
	}
	_, err = tx.ExecContext(ctx, `INSERT INTO guide_event (workshop_id, id, job_id, run_id, seq, kind, step, choice, off, back, at, by_id)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`, workshopID, e.ID, e.JobID, e.RunID, seen+1, e.Kind, e.Step, e.Choice, asDoc(&e.Off), asDoc(&e.Back), e.At.UTC(), e.ByID)
	return false, err
}

func (s *Store) endGuide(ctx context.Context, tx *sql.Tx, workshopID, runID string) error {
	_, err := tx.ExecContext(ctx, `UPDATE guide_run SET ended_at = COALESCE(ended_at, ?) WHERE workshop_id = ? AND id = ?`,
		s.now(), workshopID, runID)
	return err
}

// Fitted is a battery that has taken the place of another.
type Fitted struct {
	Event   GuideEvent    // the last of the guide
	Seen    int           // as of AddGuideEvent
	Reading StoredReading // on the old battery's job
	Job     Job           // of the new one
	Tags    []string      // of the shelf, that have gone with it
}

// Fit ends a guide: the old battery is replaced, the new ones leave the shelf, and the job
// goes on with the new one, all or nothing. It may be repeated.
func (s *Store) Fit(ctx context.Context, workshopID string, by Actor, f Fitted) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		known, err := s.addGuideEvent(ctx, tx, workshopID, f.Event, f.Seen)
		if err != nil || known {
			return err
		}
		if _, err := s.addReading(ctx, tx, workshopID, f.Reading); err != nil {
			return err
		}
		if err := s.addJob(ctx, tx, workshopID, f.Job, nil); err != nil {
			return err
		}
		for _, tag := range f.Tags {
			if err := s.leaveShelf(ctx, tx, workshopID, by, tag, f.Job.ID); err != nil {
				return err
			}
		}
		return s.endGuide(ctx, tx, workshopID, f.Event.RunID)
	})
}
