package store

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"grapnel/core/reading"
)

// BroughtJob is a job of a table, as it was.
type BroughtJob struct {
	Line int // of the table, for what is wrong with it
	Job
	Closed     *time.Time
	ClosedByID string
}

// LineError is what is wrong with a line of a table.
type LineError struct {
	Line int
	Err  error
}

func (e *LineError) Error() string { return fmt.Sprintf("line %d: %v", e.Line, e.Err) }
func (e *LineError) Unwrap() error { return e.Err }

// BringJobs adds the jobs of a table, all or none, and gives how many were not there. One that
// is there as it is written stays; one that is there otherwise gives ErrTaken. A battery that
// was known before with another label gives ErrLabel, unless same says that it is the same.
func (s *Store) BringJobs(ctx context.Context, workshopID string, by Actor, all []BroughtJob, same bool) (added int, err error) {
	err = s.tx(ctx, func(tx *sql.Tx) error {
		added = 0
		if _, err := tx.ExecContext(ctx, `SELECT id FROM workshop WHERE id = ? FOR UPDATE`, workshopID); err != nil {
			return err
		}
		own := map[string]bool{} // batteries that came with this table
		for _, j := range all {
			known, err := s.bringJob(ctx, tx, workshopID, by, j, same, own)
			if err != nil {
				return &LineError{j.Line, err}
			}
			if !known {
				added++
			}
		}
		return s.record(ctx, tx, workshopID, by, BroughtIn, "", "", nil, map[string]any{"jobs": added})
	})
	return added, err
}

func (s *Store) bringJob(ctx context.Context, tx *sql.Tx, workshopID string, by Actor, j BroughtJob, same bool, own map[string]bool) (known bool, err error) {
	if j.Complaint == nil {
		j.Complaint = []string{}
	}
	switch was, err := s.job(ctx, tx, workshopID, j.ID); {
	case err == nil && sameDetails(was, j.Job) && sameTime(was.ClosedAt, j.Closed):
		return true, nil
	case err == nil:
		return false, ErrTaken
	case !errors.Is(err, ErrNotFound):
		return false, err
	}
	tag := strings.ToLower(j.Battery.Tag)
	if !own[tag] {
		if _, err := s.batteryTagged(ctx, tx, workshopID, j.Battery.Tag); errors.Is(err, ErrNotFound) {
			own[tag] = true
		} else if err != nil {
			return false, err
		}
	}
	j.SameBattery = same || own[tag]
	if err := s.addJob(ctx, tx, workshopID, j.Job, nil); err != nil {
		return false, err
	}
	if j.Closed != nil {
		_, err = tx.ExecContext(ctx, `UPDATE job SET closed_at = ?, closed_by = ? WHERE workshop_id = ? AND id = ?`, inUTC(j.Closed), j.ClosedByID,
			workshopID, j.ID)
	}
	return false, err
}

func sameTime(a, b *time.Time) bool {
	if a == nil || b == nil {
		return a == b
	}
	return inUTC(a).Equal(*inUTC(b))
}

func (s *Store) batteryTagged(ctx context.Context, q querier, workshopID, tag string) (reading.Battery, error) {
	var b reading.Battery
	err := q.QueryRowContext(ctx, `SELECT label FROM battery WHERE workshop_id = ? AND tag = ?`, workshopID, tag).Scan(asDoc(&b))
	return b, found(err, "battery "+tag)
}

// BroughtReading is a reading of a table.
type BroughtReading struct {
	Line int
	StoredReading
}

// BringReadings adds the readings of a table to the jobs they are of, all or none, and gives
// how many were not there. Each comes at the end of its job's log, in the order of the table.
// One that is there with other content gives ErrTaken.
func (s *Store) BringReadings(ctx context.Context, workshopID string, by Actor, all []BroughtReading) (added int, err error) {
	byJob := map[string][]BroughtReading{}
	var order []string
	for _, r := range all {
		if _, ok := byJob[r.JobID]; !ok {
			order = append(order, r.JobID)
		}
		byJob[r.JobID] = append(byJob[r.JobID], r)
	}
	err = s.tx(ctx, func(tx *sql.Tx) error {
		added = 0
		for _, id := range order {
			n, err := s.bringReadings(ctx, tx, workshopID, id, byJob[id])
			if err != nil {
				return err
			}
			added += n
		}
		return s.record(ctx, tx, workshopID, by, BroughtIn, "", "", nil, map[string]any{"readings": added})
	})
	return added, err
}

func (s *Store) bringReadings(ctx context.Context, tx *sql.Tx, workshopID, jobID string, all []BroughtReading) (int, error) {
	if err := s.touch(ctx, tx, workshopID, jobID); err != nil {
		return 0, err
	}
	var places, entries int
	if err := tx.QueryRowContext(ctx, `SELECT places, entries FROM job WHERE workshop_id = ? AND id = ?`, workshopID, jobID).Scan(&places,
		&entries); err != nil {
		return 0, &LineError{all[0].Line, found(err, "job "+jobID)}
	}
	known, err := s.logOf(ctx, tx, workshopID, jobID)
	if err != nil {
		return 0, err
	}
	var rows []any
	n := 0
	for _, r := range all {
		mark, err := fingerprint(r.JobID, r.Reading, r.Replaces)
		if err != nil {
			return 0, err
		}
		says, err := contentOf(r.Reading, r.Replaces)
		if err != nil {
			return 0, err
		}
		if was, ok := known[r.ID]; ok {
			if !bytes.Equal(was.says, says) {
				return 0, &LineError{r.Line, ErrTaken}
			}
			continue
		}
		place := places + 1
		if r.Replaces != "" {
			of, ok := known[r.Replaces]
			switch {
			case !ok:
				return 0, &LineError{r.Line, fmt.Errorf("the reading it corrects %w", ErrNotFound)}
			case of.replaced:
				return 0, &LineError{r.Line, ErrChanged}
			}
			of.replaced, place = true, of.place
			known[r.Replaces] = of
		} else if places++; places > MostReadings {
			return 0, &LineError{r.Line, ErrMany}
		}
		entries++
		n++
		known[r.ID] = logged{says: says, place: place}
		if r.At.IsZero() {
			r.At = s.now()
		}
		rows = append(rows, workshopID, r.ID, r.JobID, place, r.Reading.Kind, asDoc(&r.Reading), r.At.UTC(), r.ByID, s.now(), orNull(r.Replaces), mark, entries)
	}
	const width = 12
	for len(rows) > 0 {
		some := min(len(rows), 200*width)
		if _, err := tx.ExecContext(ctx, `INSERT INTO reading (workshop_id, id, job_id, place, kind, body, taken_at, taken_by, saved_at, replaces_id, fingerprint, seq) VALUES `+
			strings.TrimSuffix(strings.Repeat("(?,?,?,?,?,?,?,?,?,?,?,?),", some/width), ","), rows[:some]...); err != nil {
			if duplicate(err) {
				return 0, &LineError{all[0].Line, ErrTaken}
			}
			return 0, err
		}
		rows = rows[some:]
	}
	_, err = tx.ExecContext(ctx, `UPDATE job SET places = ?, entries = ? WHERE workshop_id = ? AND id = ?`, places, entries, workshopID, jobID)
	return n, err
}

// logged is a reading that is there already.
type logged struct {
	says     []byte
	place    int
	replaced bool
}

// contentOf is what a reading says, without when and by whom: those have columns of their own.
func contentOf(r reading.Reading, replaces string) ([]byte, error) {
	r.At, r.By = nil, ""
	return fingerprint(r, replaces)
}

func (s *Store) logOf(ctx context.Context, q querier, workshopID, jobID string) (map[string]logged, error) {
	rows, err := q.QueryContext(ctx, `SELECT id, place, body, COALESCE(CAST(replaces_id AS CHAR), '') FROM reading FORCE INDEX (reading_log)
		WHERE workshop_id = ? AND job_id = ? ORDER BY seq`, workshopID, jobID)
	if err != nil {
		return nil, err
	}
	out := map[string]logged{}
	return out, each(rows, func() error {
		var id, replaces string
		var l logged
		var body reading.Reading
		if err := rows.Scan(&id, &l.place, asDoc(&body), &replaces); err != nil {
			return err
		}
		var err error
		if l.says, err = contentOf(body, replaces); err != nil {
			return err
		}
		out[id] = l
		if of, ok := out[replaces]; ok {
			of.replaced = true
			out[replaces] = of
		}
		return nil
	})
}

// BringBatteries adds the batteries of a table, all or none, and gives how many were not
// there. One whose label is known otherwise gives ErrLabel, unless same says that it is the
// same.
func (s *Store) BringBatteries(ctx context.Context, workshopID string, by Actor, all []reading.Battery, twins map[string]string, lines []int, same bool) (added int, err error) {
	err = s.tx(ctx, func(tx *sql.Tx) error {
		added = 0
		for i, b := range all {
			_, err := s.batteryTagged(ctx, tx, workshopID, b.Tag)
			if errors.Is(err, ErrNotFound) {
				added++
			} else if err != nil {
				return err
			}
			if _, err := s.knowBattery(ctx, tx, workshopID, Job{Battery: b, SameBattery: same}, ""); err != nil {
				return &LineError{lines[i], err}
			}
		}
		for tag, twin := range twins {
			res, err := tx.ExecContext(ctx, `UPDATE battery b JOIN battery t ON t.workshop_id = b.workshop_id AND t.tag = ? AND t.id <> b.id
				SET b.twin_id = t.id WHERE b.workshop_id = ? AND b.tag = ?`, twin, workshopID, tag)
			if err != nil {
				return err
			}
			if n, _ := res.RowsAffected(); n == 0 {
				var is int
				if err := tx.QueryRowContext(ctx, `SELECT COUNT(*) FROM battery b JOIN battery t ON t.workshop_id = b.workshop_id AND t.id = b.twin_id
					WHERE b.workshop_id = ? AND b.tag = ? AND t.tag = ?`, workshopID, tag, twin).Scan(&is); err != nil || is == 0 {
					return errors.Join(err, fmt.Errorf("the battery %s, which carries a vehicle with %s: %w", twin, tag, ErrNotFound))
				}
			}
		}
		return s.record(ctx, tx, workshopID, by, BroughtIn, "", "", nil, map[string]any{"batteries": added})
	})
	return added, err
}

// AllJobs gives every job of a workshop, the oldest first.
func (s *Store) AllJobs(ctx context.Context, workshopID string) ([]Job, error) {
	rows, err := s.db.QueryContext(ctx, jobColumns+`WHERE j.workshop_id = ? ORDER BY j.opened_at, j.id`, workshopID)
	if err != nil {
		return nil, err
	}
	out := []Job{}
	return out, each(rows, func() error {
		j, err := scanJob(rows.Scan)
		out = append(out, j)
		return err
	})
}

// TakeOut notes that data was taken out of a workshop, and by whom.
func (s *Store) TakeOut(ctx context.Context, workshopID string, by Actor, what string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		return s.record(ctx, tx, workshopID, by, TakenOut, "", "", nil, map[string]any{"what": what})
	})
}

// PeopleByName gives the ids of everybody of a workshop, closed accounts too.
func (s *Store) PeopleByName(ctx context.Context, workshopID string) (map[string]string, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT name, id FROM person WHERE workshop_id = ?`, workshopID)
	if err != nil {
		return nil, err
	}
	out := map[string]string{}
	return out, each(rows, func() error {
		var name, id string
		err := rows.Scan(&name, &id)
		out[name] = id
		return err
	})
}

// LineID makes the id of a line of a table that names none: the same table sent again makes
// the same ids, so that nothing is doubled. What a line says is told by its JSON: printed, a
// figure that may be missing would be its address.
func LineID(workshopID, what string, line int, content any) (string, error) {
	raw, err := json.Marshal(content)
	return uuid.NewSHA1(lineSpace, fmt.Appendf(nil, "%s %s %d %s", workshopID, what, line, raw)).String(), err
}

var lineSpace = uuid.MustParse("b8b4a7c2-26c5-5b0e-8a4e-2f3c0b7f9d11")
