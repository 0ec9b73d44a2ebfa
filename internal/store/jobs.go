package store

import (
	"bytes"
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"

	"grapnel/core/fit"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
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
	Promised   *time.Time // when it is promised back
	Rules      rules.Rules
	Version    int
	OpenedAt   time.Time
	OpenedByID string
	OpenedBy   string // name
	ClosedAt   *time.Time
	ClosedBy   string // name
	Stamp      Stamp
	Follows    string     // the job of the battery that stood in its place before
	Guided     int        // how many things were done with guides
	Needs      *fit.Needs // what the maker of the vehicle asks for, nil where nobody has said

	// Source is what a repeat of its opening is known by; its details when nil.
	Source any
	// SameBattery says that the battery of this tag is the one meant, whatever its label
	// said so far.
	SameBattery bool
}

// Stamp changes with whatever of a job changes: details, readings, rests, open or closed.
type Stamp struct {
	Touched          time.Time
	Version, Entries int
	Closed           bool
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

// mark tells a repeat of a job's opening from another job under its id.
func (j Job) mark(readings []StoredReading) ([]byte, error) {
	if j.Source != nil {
		return fingerprint(j.Source)
	}
	parts := []any{j.Vehicle, j.Battery, j.Customer, j.Note, j.Complaint, j.Conditions, bodies(readings)}
	if j.Promised != nil {
		parts = append(parts, j.Promised)
	}
	if j.Follows != "" {
		parts = append(parts, j.Follows)
	}
	return fingerprint(parts...)
}

// Opened reports whether a job was opened before under the id of this one: ErrTaken
// when it was another.
func (s *Store) Opened(ctx context.Context, workshopID string, j Job, readings []StoredReading) (bool, error) {
	return s.opened(ctx, s.db, workshopID, j, readings)
}

func (s *Store) opened(ctx context.Context, q querier, workshopID string, j Job, readings []StoredReading) (bool, error) {
	mark, err := j.mark(readings)
	if err != nil {
		return false, err
	}
	var old []byte
	err = q.QueryRowContext(ctx, `SELECT fingerprint FROM job WHERE workshop_id = ? AND id = ?`, workshopID, j.ID).Scan(&old)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		return false, nil
	case err == nil && !bytes.Equal(old, mark):
		return true, ErrTaken
	}
	return err == nil, err
}

// AddJob makes a job together with the readings it comes with, all or nothing.
// A battery of the same tag is the same battery, and takes the label given; one
// without a tag gets the next.
func (s *Store) AddJob(ctx context.Context, workshopID string, j Job, readings []StoredReading) error {
	// On a cluster another node may have given out the same tag meanwhile.
	var err error
	for range attempts {
		if err = s.tx(ctx, func(tx *sql.Tx) error { return s.addJob(ctx, tx, workshopID, j, readings) }); !duplicate(err) {
			return err
		}
	}
	return err
}

// addJob makes a job in a transaction; one that was made before stays as it is.
func (s *Store) addJob(ctx context.Context, tx *sql.Tx, workshopID string, j Job, readings []StoredReading) error {
	mark, err := j.mark(readings)
	if err != nil {
		return err
	}
	// Held so that two untagged batteries do not get one tag.
	if _, err := tx.ExecContext(ctx, `SELECT id FROM workshop WHERE id = ? FOR UPDATE`, workshopID); err != nil {
		return err
	}
	if known, err := s.opened(ctx, tx, workshopID, j, readings); known || err != nil {
		return err
	}
	if j.Battery.Tag == "" {
		if j.Battery.Tag, err = nextTag(ctx, tx, workshopID); err != nil {
			return err
		}
	}
	batteryID, err := s.knowBattery(ctx, tx, workshopID, j, "")
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
		ambient_c, battery_c, promised_at, rules, fingerprint, opened_at, opened_by, places, entries, touched_at, find, follows, needs)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
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
		inUTC(j.Promised),
		asDoc(&j.Rules),
		mark,
		j.OpenedAt.UTC(),
		j.OpenedByID,
		len(readings),
		len(readings),
		s.now(),
		findable(j),
		orNull(j.Follows),
		orNoDoc(j.Needs),
	)
	if err != nil {
		return err
	}
	for i, r := range readings {
		r.JobID, r.Place, r.seq = j.ID, i+1, i+1
		if err := s.insertReading(ctx, tx, workshopID, r); err != nil {
			return err
		}
	}
	return s.record(ctx, tx, workshopID, Actor{ID: j.OpenedByID}, JobOpened, j.ID, j.Battery.Tag, nil, nil)
}

// knowBattery finds the battery of a job's tag, or makes it, and gives its id. What the
// label of another battery than the one the job is on says is not replaced unless
// somebody said that it is the same.
func (s *Store) knowBattery(ctx context.Context, tx *sql.Tx, workshopID string, j Job, own string) (string, error) {
	var id string
	var known reading.Battery
	b := j.Battery
	err := tx.QueryRowContext(ctx, `SELECT id, label FROM battery WHERE workshop_id = ? AND tag = ? FOR UPDATE`, workshopID,
		b.Tag).
		Scan(&id, asDoc(&known))
	switch {
	case err == nil && id != own && !j.SameBattery && !known.SameLabel(b):
		return "", ErrLabel
	case err == nil:
		_, err = tx.ExecContext(ctx, `UPDATE battery SET label = ?, updated_at = ? WHERE workshop_id = ? AND id = ?`,
			asDoc(&b), s.now(), workshopID, id)
		return id, err
	case !errors.Is(err, sql.ErrNoRows):
		return "", err
	}
	id = uuid.Must(uuid.NewV7()).String()
	if _, err = tx.ExecContext(ctx,
		`INSERT INTO battery (workshop_id, id, tag, label, updated_at) VALUES (?, ?, ?, ?, ?)`, workshopID, id, b.Tag,
		asDoc(&b), s.now()); err != nil {
		return id, err
	}
	return id, s.countTag(ctx, tx, workshopID, b.Tag)
}

// BatteryTagged gives the label last read from the battery of a tag.
func (s *Store) BatteryTagged(ctx context.Context, workshopID, tag string) (reading.Battery, error) {
	return s.batteryTagged(ctx, s.db, workshopID, tag)
}

// NextTag gives the shop tag that the next untagged battery would get.
func (s *Store) NextTag(ctx context.Context, workshopID string) (string, error) {
	return nextTag(ctx, s.db, workshopID)
}

func nextTag(ctx context.Context, q querier, workshopID string) (string, error) {
	var prefix string
	var last int
	err := q.QueryRowContext(ctx, `SELECT tag_prefix, last_tag FROM workshop WHERE id = ?`, workshopID).Scan(&prefix, &last)
	return fmt.Sprintf("%s-%04d", prefix, last+1), found(err, "workshop")
}

// countTag keeps the number of a tag that is of the shop's own making, so that the next
// one follows it.
func (s *Store) countTag(ctx context.Context, tx *sql.Tx, workshopID, tag string) error {
	digits := strings.LastIndexByte(tag, '-') + 1
	n, err := strconv.Atoi(tag[digits:])
	if digits == 0 || len(tag)-digits > 9 || err != nil || n < 0 {
		return nil
	}
	_, err = tx.ExecContext(ctx, `UPDATE workshop SET last_tag = GREATEST(last_tag, ?) WHERE id = ? AND tag_prefix = ?`, n,
		workshopID, tag[:digits-1])
	return err
}

// ChangeJob replaces a job's details (not its readings) when nobody else has
// since j.Version. It may be repeated. Those of a closed job only a lead changes.
func (s *Store) ChangeJob(ctx context.Context, workshopID string, by Actor, j Job) error {
	if j.Complaint == nil {
		j.Complaint = []string{}
	}
	return s.tx(ctx, func(tx *sql.Tx) error {
		var own string
		if err := tx.QueryRowContext(ctx, `SELECT battery_id FROM job WHERE workshop_id = ? AND id = ? FOR UPDATE`, workshopID,
			j.ID).Scan(&own); err != nil {
			return found(err, "job")
		}
		was, err := s.job(ctx, tx, workshopID, j.ID)
		if err != nil {
			return err
		}
		if was.Version == j.Version+1 && sameDetails(was, j) {
			return nil // a repeat
		}
		if was.ClosedAt != nil && !by.Lead {
			return ErrClosed
		}
		if was.Version != j.Version {
			return ErrChanged
		}
		batteryID, err := s.knowBattery(ctx, tx, workshopID, j, own)
		if err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx,
			`UPDATE job SET battery_id = ?, vehicle = ?, battery = ?, customer = ?, note = ?, complaint = ?,
			ambient_c = ?, battery_c = ?, promised_at = ?, find = ?, version = version + 1, touched_at = ? WHERE workshop_id = ? AND id = ?`,
			batteryID, asDoc(&j.Vehicle), asDoc(&j.Battery), j.Customer, j.Note, asDoc(&j.Complaint),
			j.Conditions.AmbientC, j.Conditions.BatteryC, inUTC(j.Promised), findable(j), s.now(), workshopID, j.ID)
		if err != nil || sameDetails(was, j) {
			return err
		}
		return s.record(ctx, tx, workshopID, by, JobDetails, j.ID, j.Battery.Tag, was.details(), j.details())
	})
}

// details is what of a job can be changed.
type details struct {
	Vehicle    reading.Vehicle    `json:"vehicle"`
	Battery    reading.Battery    `json:"battery"`
	Customer   string             `json:"customer"`
	Note       string             `json:"note"`
	Complaint  []string           `json:"complaint"`
	Conditions reading.Conditions `json:"conditions"`
	Promised   *time.Time         `json:"promised_at,omitempty"`
}

func (j Job) details() details {
	return details{j.Vehicle, j.Battery, j.Customer, j.Note, j.Complaint, j.Conditions, inUTC(j.Promised)}
}

// inUTC is a time as the database keeps it.
func inUTC(t *time.Time) *time.Time {
	if t == nil {
		return nil
	}
	at := t.UTC().Truncate(time.Microsecond)
	return &at
}

// sameDetails reports whether two jobs say the same of vehicle, battery and complaint.
func sameDetails(a, b Job) bool {
	one, err1 := fingerprint(a.details())
	other, err2 := fingerprint(b.details())
	return err1 == nil && err2 == nil && bytes.Equal(one, other)
}

// Closing is how a job is closed.
type Closing struct {
	At time.Time
	// Guided is how many things were done with guides when it was looked at whether all
	// is back on; another number gives ErrChanged.
	Guided int
	// Off is what is still off, and Reason why a lead lets it go all the same.
	Off    []string
	Reason string
}

// CloseJob closes a job as of a time, never before it was opened, and ends its rest. It
// may be repeated; the first time stands.
func (s *Store) CloseJob(ctx context.Context, workshopID string, by Actor, id string, c Closing) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		j, err := s.held(ctx, tx, workshopID, id)
		if err != nil || j.ClosedAt != nil {
			return err
		}
		var guided int
		if err := tx.QueryRowContext(ctx, `SELECT guided FROM job WHERE workshop_id = ? AND id = ?`, workshopID,
			id).Scan(&guided); err != nil {
			return err
		}
		if guided != c.Guided {
			return ErrChanged
		}
		if err := endRests(ctx, tx, workshopID, id, c.At.UTC()); err != nil {
			return err
		}
		if err := unsay(ctx, tx, workshopID, id); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx,
			`UPDATE job SET closed_at = GREATEST(?, opened_at), closed_by = ? WHERE workshop_id = ? AND id = ?`,
			c.At.UTC(), by.ID, workshopID, id); err != nil {
			return err
		}
		var still any
		if len(c.Off) > 0 {
			still = map[string]any{"still_off": c.Off, "reason": c.Reason}
		}
		return s.record(ctx, tx, workshopID, by, JobClosed, id, j.Battery.Tag, nil, still)
	})
}

// ReopenJob opens a closed job again. It may be repeated.
func (s *Store) ReopenJob(ctx context.Context, workshopID string, by Actor, id string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		j, err := s.held(ctx, tx, workshopID, id)
		if err != nil || j.ClosedAt == nil {
			return err
		}
		if _, err := tx.ExecContext(ctx,
			`UPDATE job SET closed_at = NULL, closed_by = NULL WHERE workshop_id = ? AND id = ?`, workshopID, id); err != nil {
			return err
		}
		return s.record(
			ctx,
			tx,
			workshopID,
			by,
			JobReopened,
			id,
			j.Battery.Tag,
			map[string]any{"closed_at": j.ClosedAt, "closed_by": j.ClosedBy},
			nil,
		)
	})
}

// held takes hold of a job that is about to be changed, and gives it as it is now.
func (s *Store) held(ctx context.Context, tx *sql.Tx, workshopID, id string) (Job, error) {
	if err := s.touch(ctx, tx, workshopID, id); err != nil {
		return Job{}, err
	}
	return s.job(ctx, tx, workshopID, id)
}

const jobColumns = `SELECT j.id, j.vehicle, j.battery, j.customer, j.note, j.complaint, j.ambient_c, j.battery_c, j.promised_at, j.rules, j.version,
	j.opened_at, j.opened_by, o.name, j.closed_at, COALESCE(c.name, ''), j.touched_at, j.entries,
	COALESCE(CAST(j.follows AS CHAR), ''), j.needs, j.guided
	FROM job j STRAIGHT_JOIN person o ON o.workshop_id = j.workshop_id AND o.id = j.opened_by
	LEFT JOIN person c ON c.workshop_id = j.workshop_id AND c.id = j.closed_by `

// querier is a pool or a transaction.
type querier interface {
	QueryContext(ctx context.Context, query string, args ...any) (*sql.Rows, error)
	QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row
}

func scanJob(scan func(...any) error) (Job, error) {
	var j Job
	var needs []byte
	err := scan(&j.ID, asDoc(&j.Vehicle), asDoc(&j.Battery), &j.Customer, &j.Note, asDoc(&j.Complaint),
		&j.Conditions.AmbientC, &j.Conditions.BatteryC, &j.Promised, asDoc(&j.Rules), &j.Version, &j.OpenedAt, &j.OpenedByID,
		&j.OpenedBy, &j.ClosedAt, &j.ClosedBy, &j.Stamp.Touched, &j.Stamp.Entries, &j.Follows, &needs, &j.Guided)
	if err == nil && needs != nil {
		j.Needs = &fit.Needs{}
		err = json.Unmarshal(needs, j.Needs)
	}
	j.Stamp.Version, j.Stamp.Closed = j.Version, j.ClosedAt != nil
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

// Page is a part of a list: so many entries after the first ones.
type Page struct{ From, Most int }

// Jobs lists a part of a workshop's jobs, open ones or closed ones, newest first, and
// says how many there are. find narrows to those whose tag, vehicle or customer contains
// it, whatever its capitals and accents.
func (s *Store) Jobs(
	ctx context.Context,
	workshopID string,
	closed bool,
	find string,
	page Page,
) (jobs []Job, all int, err error) {
	var ids []string
	if find = words.Folded(find); find != "" {
		if ids, err = s.found(ctx, workshopID, closed, find); err != nil {
			return nil, 0, err
		}
		all = len(ids)
		ids = ids[min(page.From, all):]
		ids = ids[:min(page.Most, len(ids))]
	} else if ids, all, err = s.newest(ctx, workshopID, closed, page); err != nil {
		return nil, all, err
	}
	jobs, err = s.JobsOf(ctx, workshopID, ids...)
	at := map[string]int{}
	for i, id := range ids {
		at[id] = i
	}
	slices.SortFunc(jobs, func(a, b Job) int { return at[a.ID] - at[b.ID] })
	return jobs, all, err
}

// newest gives the ids of a part of the open or closed jobs, and how many there are. Only
// what the index holds is looked at, whatever the database thinks of it.
func (s *Store) newest(ctx context.Context, workshopID string, closed bool, page Page) (ids []string, all int, err error) {
	from := `FROM job FORCE INDEX (job_open) WHERE workshop_id = ? AND closed_at IS NULL`
	if closed {
		from = `FROM job FORCE INDEX (job_open) WHERE workshop_id = ? AND closed_at IS NOT NULL`
	}
	if err := s.db.QueryRowContext(ctx, `SELECT COUNT(*) `+from, workshopID).Scan(&all); err != nil || all <= page.From {
		return nil, all, err
	}
	rows, err := s.db.QueryContext(ctx, `SELECT id `+from+` ORDER BY closed_at DESC, opened_at DESC, id DESC LIMIT ? OFFSET ?`,
		workshopID, page.Most, page.From)
	if err != nil {
		return nil, all, err
	}
	err = each(rows, func() error {
		var id string
		err := rows.Scan(&id)
		ids = append(ids, id)
		return err
	})
	return ids, all, err
}

// JobsOf gives the jobs of those ids that are known, in no order.
func (s *Store) JobsOf(ctx context.Context, workshopID string, ids ...string) ([]Job, error) {
	jobs := []Job{}
	for part := range slices.Chunk(ids, mostAtOnce) {
		in, args := among(workshopID, part)
		rows, err := s.db.QueryContext(ctx, jobColumns+`WHERE j.workshop_id = ? AND j.id IN (`+in+`)`, args...)
		if err != nil {
			return nil, err
		}
		if err := each(rows, func() error {
			j, err := scanJob(rows.Scan)
			jobs = append(jobs, j)
			return err
		}); err != nil {
			return nil, err
		}
	}
	return jobs, nil
}

// LastOpened gives the open job that was opened last; ErrNotFound when none is open.
func (s *Store) LastOpened(ctx context.Context, workshopID string) (Job, error) {
	j, err := scanJob(
		s.db.QueryRowContext(ctx, jobColumns+`WHERE j.workshop_id = ? AND j.id = (SELECT id FROM job FORCE INDEX (job_open)
		WHERE workshop_id = ? AND closed_at IS NULL ORDER BY opened_at DESC LIMIT 1)`, workshopID, workshopID).Scan,
	)
	return j, found(err, "job")
}

// CountJobs gives how many jobs a workshop has ever had.
func (s *Store) CountJobs(ctx context.Context, workshopID string) (n int, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT COUNT(*) FROM job WHERE workshop_id = ?`, workshopID).Scan(&n)
	return n, err
}

// SetNeeds keeps what the maker of a job's vehicle asks of its battery. It may be repeated.
func (s *Store) SetNeeds(ctx context.Context, workshopID, jobID string, n fit.Needs) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		j, err := s.held(ctx, tx, workshopID, jobID)
		if err != nil {
			return err
		}
		if j.ClosedAt != nil {
			return ErrClosed
		}
		_, err = tx.ExecContext(ctx, `UPDATE job SET needs = ? WHERE workshop_id = ? AND id = ?`, asDoc(&n), workshopID, jobID)
		return err
	})
}

// Following gives the id of the job of the battery that took the place of a job's; empty
// where none did.
func (s *Store) Following(ctx context.Context, workshopID, jobID string) (string, error) {
	var id string
	err := s.db.QueryRowContext(ctx, `SELECT id FROM job FORCE INDEX (job_follows) WHERE workshop_id = ? AND follows = ? LIMIT 1`, workshopID, jobID).Scan(&id)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	return id, err
}

// OpenOfTag gives the ids of the open jobs of the battery of a tag, whatever its capitals.
func (s *Store) OpenOfTag(ctx context.Context, workshopID, tag string) ([]string, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT STRAIGHT_JOIN j.id FROM battery b JOIN job j FORCE INDEX (job_battery)
		ON j.workshop_id = b.workshop_id AND j.battery_id = b.id AND j.closed_at IS NULL WHERE b.workshop_id = ? AND b.tag = ?`, workshopID, tag)
	if err != nil {
		return nil, err
	}
	var ids []string
	return ids, each(rows, func() error {
		var id string
		err := rows.Scan(&id)
		ids = append(ids, id)
		return err
	})
}

// LastHere gives the job that was handed over last before another opened, of the same battery
// or, failing that, of the same vehicle of the same customer; ErrNotFound where none was.
func (s *Store) LastHere(ctx context.Context, workshopID string, j Job) (Job, error) {
	var id string
	err := s.db.QueryRowContext(ctx, `SELECT b.id FROM job j JOIN job b FORCE INDEX (job_battery) ON b.workshop_id = j.workshop_id AND b.battery_id = j.battery_id
		WHERE j.workshop_id = ? AND j.id = ? AND b.id <> j.id AND b.closed_at <= j.opened_at ORDER BY b.closed_at DESC LIMIT 1`, workshopID, j.ID).Scan(&id)
	if errors.Is(err, sql.ErrNoRows) && j.Vehicle.Name != "" {
		err = s.db.QueryRowContext(ctx, `SELECT id FROM job FORCE INDEX (job_vehicle) WHERE workshop_id = ? AND vehicle_name = ? AND closed_at <= ?
			AND id <> ? AND customer = ? ORDER BY closed_at DESC LIMIT 1`, workshopID, j.Vehicle.Name, j.OpenedAt.UTC(), j.ID, j.Customer).Scan(&id)
	}
	if err != nil {
		return Job{}, found(err, "earlier job")
	}
	return s.Job(ctx, workshopID, id)
}

// LastOfTag gives the id of the job that was handed over last of the battery of a tag.
func (s *Store) LastOfTag(ctx context.Context, workshopID, tag string) (string, error) {
	var id string
	err := s.db.QueryRowContext(ctx, `SELECT STRAIGHT_JOIN j.id FROM battery b JOIN job j FORCE INDEX (job_battery)
		ON j.workshop_id = b.workshop_id AND j.battery_id = b.id AND j.closed_at IS NOT NULL WHERE b.workshop_id = ? AND b.tag = ?
		ORDER BY j.closed_at DESC, j.id DESC LIMIT 1`, workshopID, tag).Scan(&id)
	return id, found(err, "job of "+tag)
}
