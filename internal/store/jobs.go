package store

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"grapnel/core/reading"
	"grapnel/core/rules"
)

// Job is one battery on the bench, with its own copy of vehicle and label.
type Job struct {
	ID         string
	Vehicle    reading.Vehicle
	Battery    reading.Battery
	Customer   string
	Note       string
	Complaint  []string
	Conditions reading.Conditions
	Rules      rules.Rules
	Version    int
	OpenedAt   time.Time
	OpenedByID string
	OpenedBy   string // name
	ClosedAt   *time.Time
	ClosedBy   string // name
}

// Case gives the job as a case with its readings in effect.
func (j Job) Case(readings []StoredReading) reading.Case {
	c := reading.Case{Format: reading.CaseFormat, Vehicle: j.Vehicle, Battery: j.Battery, Conditions: j.Conditions,
		Complaint: j.Complaint, Rules: j.Rules, Readings: []reading.Reading{}}
	for _, r := range InEffect(readings) {
		one := r.Reading
		if one.At == nil && !r.At.IsZero() {
			one.At = &r.At
		}
		c.Readings = append(c.Readings, one)
	}
	return c
}

// AddJob makes a job together with the readings it comes with, all or nothing.
// A battery of the same tag is the same battery, and takes the label given; one
// without a tag gets the next.
func (s *Store) AddJob(ctx context.Context, workshopID string, j Job, readings []StoredReading) error {
	mark, err := fingerprint(j.Vehicle, j.Battery, j.Customer, j.Note, j.Complaint, j.Conditions, bodies(readings))
	if err != nil {
		return err
	}
	add := func(tx *sql.Tx) error {
		j := j
		// Held so that two untagged batteries do not get one tag.
		if _, err := tx.ExecContext(ctx, `SELECT id FROM workshop WHERE id = ? FOR UPDATE`, workshopID); err != nil {
			return err
		}
		var old []byte
		err := tx.QueryRowContext(ctx, `SELECT fingerprint FROM job WHERE workshop_id = ? AND id = ?`, workshopID,
			j.ID).
			Scan(&old)
		if err == nil {
			if bytes.Equal(old, mark) {
				return nil
			}
			return ErrTaken
		}
		if !errors.Is(err, sql.ErrNoRows) {
			return err
		}
		if j.Battery.Tag == "" {
			if j.Battery.Tag, err = nextTag(ctx, tx, workshopID); err != nil {
				return err
			}
		}
		batteryID, err := s.knowBattery(ctx, tx, workshopID, j.Battery)
		if err != nil {
			return err
		}
		if j.Complaint == nil {
			j.Complaint = []string{}
		}
		if j.OpenedAt.IsZero() {
			j.OpenedAt = s.now()
		}
		_, err = tx.ExecContext(
			ctx,
			`INSERT INTO job (workshop_id, id, battery_id, vehicle, battery, customer, note, complaint,
			ambient_c, battery_c, rules, fingerprint, opened_at, opened_by, places, touched_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
			workshopID,
			j.ID,
			batteryID,
			asDoc(&j.Vehicle),
			asDoc(&j.Battery),
			j.Customer,
			j.Note,
			asDoc(&j.Complaint),
			j.Conditions.AmbientC,
			j.Conditions.BatteryC,
			asDoc(&j.Rules),
			mark,
			j.OpenedAt.UTC(),
			j.OpenedByID,
			len(readings),
			s.now(),
		)
		if err != nil {
			return err
		}
		for i, r := range readings {
			r.JobID, r.Place = j.ID, i+1
			if err := s.insertReading(ctx, tx, workshopID, r); err != nil {
				return err
			}
		}
		return nil
	}
	// On a cluster another node may have given out the same tag meanwhile.
	for range attempts {
		if err = s.tx(ctx, add); !duplicate(err) {
			return err
		}
	}
	return err
}

// knowBattery finds the battery of a tag, or makes it, and gives its id.
func (s *Store) knowBattery(ctx context.Context, tx *sql.Tx, workshopID string, b reading.Battery) (string, error) {
	var id string
	err := tx.QueryRowContext(ctx, `SELECT id FROM battery WHERE workshop_id = ? AND tag = ? FOR UPDATE`, workshopID,
		b.Tag).
		Scan(&id)
	switch {
	case err == nil:
		_, err = tx.ExecContext(ctx, `UPDATE battery SET label = ?, updated_at = ? WHERE workshop_id = ? AND id = ?`,
			asDoc(&b), s.now(), workshopID, id)
		return id, err
	case !errors.Is(err, sql.ErrNoRows):
		return "", err
	}
	id = uuid.Must(uuid.NewV7()).String()
	_, err = tx.ExecContext(ctx,
		`INSERT INTO battery (workshop_id, id, tag, label, updated_at) VALUES (?, ?, ?, ?, ?)`, workshopID, id, b.Tag,
		asDoc(&b), s.now())
	return id, err
}

// BatteryTagged gives the label last read from the battery of a tag.
func (s *Store) BatteryTagged(ctx context.Context, workshopID, tag string) (reading.Battery, error) {
	var b reading.Battery
	err := s.db.QueryRowContext(ctx, `SELECT label FROM battery WHERE workshop_id = ? AND tag = ?`, workshopID, tag).
		Scan(asDoc(&b))
	return b, found(err, "battery "+tag)
}

// NextTag gives the shop tag that the next untagged battery would get.
func (s *Store) NextTag(ctx context.Context, workshopID string) (string, error) {
	return nextTag(ctx, s.db, workshopID)
}

func nextTag(ctx context.Context, q querier, workshopID string) (string, error) {
	var prefix string
	var top sql.NullInt64
	err := q.QueryRowContext(ctx, `SELECT w.tag_prefix, MAX(CAST(SUBSTRING(b.tag, CHAR_LENGTH(w.tag_prefix) + 2) AS UNSIGNED))
		FROM workshop w LEFT JOIN battery b ON b.workshop_id = w.id AND b.tag REGEXP CONCAT('^', w.tag_prefix, '-[0-9]{1,9}$')
		WHERE w.id = ? GROUP BY w.id`, workshopID).
		Scan(&prefix, &top)
	return fmt.Sprintf("%s-%04d", prefix, top.Int64+1), found(err, "workshop")
}

// ChangeJob replaces a job's details (not its readings) when nobody else has
// since j.Version.
func (s *Store) ChangeJob(ctx context.Context, workshopID string, j Job) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		batteryID, err := s.knowBattery(ctx, tx, workshopID, j.Battery)
		if err != nil {
			return err
		}
		res, err := tx.ExecContext(ctx,
			`UPDATE job SET battery_id = ?, vehicle = ?, battery = ?, customer = ?, note = ?, complaint = ?,
			ambient_c = ?, battery_c = ?, version = version + 1 WHERE workshop_id = ? AND id = ? AND version = ?`,
			batteryID, asDoc(&j.Vehicle), asDoc(&j.Battery), j.Customer, j.Note, asDoc(&j.Complaint),
			j.Conditions.AmbientC, j.Conditions.BatteryC, workshopID, j.ID, j.Version)
		if err := changedOne(res, err, ErrChanged); err != nil {
			return err
		}
		return s.touch(ctx, tx, workshopID, j.ID)
	})
}

// CloseJob closes a job as of a time and ends its rest. It may be repeated; the
// first time stands.
func (s *Store) CloseJob(ctx context.Context, workshopID, id, personID string, at time.Time) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		if _, err := s.job(ctx, tx, workshopID, id); err != nil {
			return err
		}
		if err := s.touch(ctx, tx, workshopID, id); err != nil {
			return err
		}
		if err := endRests(ctx, tx, workshopID, id, at.UTC()); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx,
			`UPDATE job SET closed_at = ?, closed_by = ? WHERE workshop_id = ? AND id = ? AND closed_at IS NULL`,
			at.UTC(), personID, workshopID, id)
		return err
	})
}

// ReopenJob opens a closed job again. It may be repeated.
func (s *Store) ReopenJob(ctx context.Context, workshopID, id string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		if _, err := s.job(ctx, tx, workshopID, id); err != nil {
			return err
		}
		if err := s.touch(ctx, tx, workshopID, id); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx,
			`UPDATE job SET closed_at = NULL, closed_by = NULL WHERE workshop_id = ? AND id = ?`, workshopID, id)
		return err
	})
}

const jobColumns = `SELECT j.id, j.vehicle, j.battery, j.customer, j.note, j.complaint, j.ambient_c, j.battery_c, j.rules, j.version,
	j.opened_at, j.opened_by, o.name, j.closed_at, COALESCE(c.name, '')
	FROM job j JOIN person o ON o.workshop_id = j.workshop_id AND o.id = j.opened_by
	LEFT JOIN person c ON c.workshop_id = j.workshop_id AND c.id = j.closed_by `

// querier is a pool or a transaction.
type querier interface {
	QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error)
	QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row
}

func scanJob(scan func(...any) error) (Job, error) {
	var j Job
	err := scan(&j.ID, asDoc(&j.Vehicle), asDoc(&j.Battery), &j.Customer, &j.Note, asDoc(&j.Complaint),
		&j.Conditions.AmbientC, &j.Conditions.BatteryC, asDoc(&j.Rules), &j.Version, &j.OpenedAt, &j.OpenedByID,
		&j.OpenedBy, &j.ClosedAt, &j.ClosedBy)
	return j, err
}

// Job gives one job.
func (s *Store) Job(ctx context.Context, workshopID, id string) (Job, error) {
	return s.job(ctx, s.db, workshopID, id)
}

func (s *Store) job(ctx context.Context, q querier, workshopID, id string) (Job, error) {
	j, err := scanJob(q.QueryRowContext(ctx, jobColumns+`WHERE j.workshop_id = ? AND j.id = ?`, workshopID, id).Scan)
	return j, found(err, "job")
}

// mostJobs is the most a list gives; a search narrows it.
const mostJobs = 200

// Jobs lists a workshop's jobs, open ones or closed ones, newest first. find
// narrows to those whose tag, vehicle or customer contains it.
func (s *Store) Jobs(ctx context.Context, workshopID string, closed bool, find string) ([]Job, error) {
	where, args := `WHERE j.workshop_id = ? AND j.closed_at IS NULL`, []any{workshopID}
	order := ` ORDER BY j.opened_at DESC, j.id LIMIT ?`
	if closed {
		where, order = `WHERE j.workshop_id = ? AND j.closed_at IS NOT NULL`, ` ORDER BY j.closed_at DESC, j.id LIMIT ?`
	}
	if find = strings.TrimSpace(find); find != "" {
		like := "%" + strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(find) + "%"
		where += ` AND (j.tag LIKE ? OR j.vehicle_name LIKE ? OR j.customer LIKE ?)`
		args = append(args, like, like, like)
	}
	rows, err := s.db.QueryContext(ctx, jobColumns+where+order, append(args, mostJobs)...)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	jobs := []Job{}
	for rows.Next() {
		j, err := scanJob(rows.Scan)
		if err != nil {
			return nil, err
		}
		jobs = append(jobs, j)
	}
	return jobs, rows.Err()
}

// CountJobs gives how many jobs a workshop has ever had.
func (s *Store) CountJobs(ctx context.Context, workshopID string) (n int, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT COUNT(*) FROM job WHERE workshop_id = ?`, workshopID).Scan(&n)
	return n, err
}
