package store

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"time"

	"grapnel/core/season"
)

// Stored is a battery that stands, or stood.
type Stored struct {
	ID        string
	BatteryID string
	Doc       season.Stored
	Version   int // of the doc
	Looked    int // what was seen of it, taken back or not
	PutAt     time.Time
	PutByID   string
	PutBy     string // name
	WokenAt   *time.Time
	// SameBattery says that somebody knows the tag to be of this battery, whatever its label
	// said before.
	SameBattery bool
}

// StoredLook is what was seen of one.
type StoredLook struct {
	ID       string
	StoredID string
	Look     season.Look
	At       time.Time
	SavedAt  time.Time
	ByID     string
	By       string // name
	BackAt   *time.Time
}

// Errors of storing.
var (
	ErrStored     = errors.New("it is put away already")
	ErrStoreFull  = fmt.Errorf("at most %d batteries stand at a time", season.MostStored)
	ErrPapersFull = fmt.Errorf("a job holds at most %d notes, photos and estimates", MostPapers)
	ErrLooksFull  = fmt.Errorf("a stored battery holds at most %d looks", MostStoredLooks)
	ErrWoken      = errors.New("it has been woken")
	ErrWokenLater = errors.New("it was put away anew meanwhile")
)

// MostStoredLooks is how many looks one holds.
const MostStoredLooks = 1000

const storedColumns = `SELECT s.id, s.battery_id, b.tag, s.doc, s.version, s.looked, s.put_at, s.put_by, p.name, s.woken_at
	FROM stored s STRAIGHT_JOIN battery b ON b.workshop_id = s.workshop_id AND b.id = s.battery_id
	STRAIGHT_JOIN person p ON p.workshop_id = s.workshop_id AND p.id = s.put_by `

func scanStored(scan func(...any) error) (Stored, error) {
	var one Stored
	var tag string
	err := scan(
		&one.ID,
		&one.BatteryID,
		&tag,
		asDoc(&one.Doc),
		&one.Version,
		&one.Looked,
		&one.PutAt,
		&one.PutByID,
		&one.PutBy,
		&one.WokenAt,
	)
	one.Doc.Battery.Tag = tag
	return one, err
}

// AllStored gives what stands, by tag.
func (s *Store) AllStored(ctx context.Context, workshopID string) ([]Stored, error) {
	rows, err := s.db.QueryContext(
		ctx,
		storedColumns+`WHERE s.workshop_id = ? AND s.standing IS NOT NULL ORDER BY b.tag`,
		workshopID,
	)
	if err != nil {
		return nil, err
	}
	out := []Stored{}
	return out, each(rows, func() error {
		one, err := scanStored(rows.Scan)
		out = append(out, one)
		return err
	})
}

// StoredByID gives one that stands or stood.
func (s *Store) StoredByID(ctx context.Context, workshopID, id string) (Stored, error) {
	one, err := scanStored(
		s.db.QueryRowContext(ctx, storedColumns+`WHERE s.workshop_id = ? AND s.id = ?`, workshopID, id).Scan,
	)
	return one, found(err, "stored battery")
}

// StoredTagged gives the one of a tag that stands.
func (s *Store) StoredTagged(ctx context.Context, workshopID, tag string) (Stored, error) {
	one, err := scanStored(
		s.db.QueryRowContext(ctx, storedColumns+`WHERE s.workshop_id = ? AND b.tag = ? AND s.standing IS NOT NULL`,
			workshopID, tag).Scan,
	)
	return one, found(err, "stored battery "+tag)
}

// Looks gives what was seen of stored batteries, of each the oldest first, but for what was
// taken back.
func (s *Store) Looks(ctx context.Context, workshopID string, ids ...string) (map[string][]StoredLook, error) {
	out := map[string][]StoredLook{}
	for part := range slices.Chunk(ids, mostAtOnce) {
		in, args := among(workshopID, part)
		rows, err := s.db.QueryContext(
			ctx,
			lookColumns+`WHERE l.workshop_id = ? AND l.stored_id IN (`+in+`) AND l.back_at IS NULL
			ORDER BY l.at, l.seq`,
			args...)
		if err != nil {
			return nil, err
		}
		if err := each(rows, func() error {
			l, err := scanLook(rows.Scan)
			out[l.StoredID] = append(out[l.StoredID], l)
			return err
		}); err != nil {
			return nil, err
		}
	}
	return out, nil
}

const lookColumns = `SELECT l.id, l.stored_id, l.look, l.at, l.saved_at, l.by_id, p.name, l.back_at
	FROM stored_look l STRAIGHT_JOIN person p ON p.workshop_id = l.workshop_id AND p.id = l.by_id `

func scanLook(scan func(...any) error) (StoredLook, error) {
	var l StoredLook
	err := scan(&l.ID, &l.StoredID, asDoc(&l.Look), &l.At, &l.SavedAt, &l.ByID, &l.By, &l.BackAt)
	return l, err
}

// AllLooks gives everything that was ever seen of one, with what was taken back, the oldest
// first.
func (s *Store) AllLooks(ctx context.Context, workshopID, id string) ([]StoredLook, error) {
	rows, err := s.db.QueryContext(
		ctx,
		lookColumns+`WHERE l.workshop_id = ? AND l.stored_id = ? ORDER BY l.at, l.seq`,
		workshopID,
		id,
	)
	if err != nil {
		return nil, err
	}
	out := []StoredLook{}
	return out, each(rows, func() error {
		l, err := scanLook(rows.Scan)
		out = append(out, l)
		return err
	})
}

// PutAway puts batteries away, all or none. It may be repeated with the same ids. One without
// a tag gets the shop's next.
func (s *Store) PutAway(ctx context.Context, workshopID string, by Actor, some []Stored) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		// Held, so that two at once do not go over the edge.
		if _, err := tx.ExecContext(ctx, `SELECT id FROM workshop WHERE id = ? FOR UPDATE`, workshopID); err != nil {
			return err
		}
		for _, one := range some {
			if err := s.putAway(ctx, tx, workshopID, by, one); err != nil {
				return err
			}
		}
		var n int
		if err := tx.QueryRowContext(ctx, `SELECT COUNT(*) FROM stored WHERE workshop_id = ? AND standing IS NOT NULL`,
			workshopID).Scan(&n); err != nil {
			return err
		}
		if n > season.MostStored {
			return ErrStoreFull
		}
		return nil
	})
}

func (s *Store) putAway(ctx context.Context, tx *sql.Tx, workshopID string, by Actor, one Stored) error {
	mark, err := fingerprint(one.Doc)
	if err != nil {
		return err
	}
	var was []byte
	switch err := tx.QueryRowContext(ctx, `SELECT fingerprint FROM stored WHERE workshop_id = ? AND id = ?`, workshopID, one.ID).Scan(&was); {
	case err == nil && bytes.Equal(was, mark):
		return nil
	case err == nil:
		return ErrTaken
	case !errors.Is(err, sql.ErrNoRows):
		return err
	}
	if one.Doc.Battery.Tag == "" {
		if one.Doc.Battery.Tag, err = nextTag(ctx, tx, workshopID); err != nil {
			return err
		}
	}
	tag := one.Doc.Battery.Tag
	batteryID, err := s.knowBattery(
		ctx,
		tx,
		workshopID,
		Job{Battery: one.Doc.Battery, SameBattery: one.SameBattery},
		"",
	)
	if err != nil {
		return fmt.Errorf("%s: %w", tag, err)
	}
	if _, err := tx.ExecContext(ctx, `INSERT INTO stored (workshop_id, id, battery_id, doc, fingerprint, put_at, put_by) VALUES (?, ?, ?, ?, ?, ?, ?)`,
		workshopID, one.ID, batteryID, asDoc(&one.Doc), mark, s.now(), by.ID); err != nil {
		if duplicate(err) && !passing(err) {
			return fmt.Errorf("%s: %w", tag, ErrStored)
		}
		return err
	}
	return s.record(ctx, tx, workshopID, by, StoredAway, "", tag, nil, one.Doc)
}

// ChangeStored replaces what is kept of a stored battery, but for its tag, when nobody else
// has since its version. It may be repeated.
func (s *Store) ChangeStored(
	ctx context.Context,
	workshopID string,
	by Actor,
	id string,
	version int,
	doc season.Stored,
) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		was, err := s.holdStored(ctx, tx, workshopID, id)
		if err != nil {
			return err
		}
		doc.Battery.Tag = was.Doc.Battery.Tag
		same := reflect.DeepEqual(was.Doc, doc)
		switch {
		case same && (was.Version == version || was.Version == version+1):
			return nil
		case was.Version != version:
			return ErrChanged
		case was.WokenAt != nil:
			return ErrWoken
		}
		if _, err := tx.ExecContext(ctx, `UPDATE stored SET doc = ?, version = version + 1 WHERE workshop_id = ? AND id = ?`, asDoc(&doc),
			workshopID, id); err != nil {
			return err
		}
		return s.record(ctx, tx, workshopID, by, StoredChanged, "", doc.Battery.Tag, was.Doc, doc)
	})
}

func (s *Store) holdStored(ctx context.Context, tx *sql.Tx, workshopID, id string) (Stored, error) {
	one, err := scanStored(
		tx.QueryRowContext(ctx, storedColumns+`WHERE s.workshop_id = ? AND s.id = ? FOR UPDATE`, workshopID, id).Scan,
	)
	return one, found(err, "stored battery")
}

// AddLook keeps what was seen of a stored battery. It may be repeated with the same id. One
// that has been woken meanwhile still takes what was seen before.
func (s *Store) AddLook(ctx context.Context, workshopID string, l StoredLook) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		one, err := s.holdStored(ctx, tx, workshopID, l.StoredID)
		if err != nil {
			return err
		}
		var of string
		var was season.Look
		switch err := tx.QueryRowContext(ctx, `SELECT stored_id, look FROM stored_look WHERE workshop_id = ? AND id = ?`, workshopID,
			l.ID).Scan(&of, asDoc(&was)); {
		case err == nil && of == l.StoredID && reflect.DeepEqual(was, l.Look):
			return nil
		case err == nil:
			return ErrTaken
		case !errors.Is(err, sql.ErrNoRows):
			return err
		}
		if one.WokenAt != nil && l.At.After(*one.WokenAt) {
			return ErrWoken
		}
		if one.Looked >= MostStoredLooks {
			return ErrLooksFull
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO stored_look (workshop_id, id, stored_id, seq, look, at, saved_at, by_id)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?)`, workshopID, l.ID, l.StoredID, one.Looked+1, asDoc(&l.Look), l.At.UTC(), s.now(), l.ByID); err != nil {
			return err
		}
		_, err = tx.ExecContext(
			ctx,
			`UPDATE stored SET looked = looked + 1 WHERE workshop_id = ? AND id = ?`,
			workshopID,
			l.StoredID,
		)
		return err
	})
}

// TakeBackLook takes a look back: it stays, and no longer counts. It may be repeated.
func (s *Store) TakeBackLook(ctx context.Context, workshopID string, by Actor, id, lookID string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		if _, err := s.holdStored(ctx, tx, workshopID, id); err != nil {
			return err
		}
		var back *time.Time
		if err := tx.QueryRowContext(ctx, `SELECT back_at FROM stored_look WHERE workshop_id = ? AND id = ? AND stored_id = ?`, workshopID,
			lookID, id).Scan(&back); err != nil {
			return found(err, "look")
		}
		if back != nil {
			return nil
		}
		if _, err := tx.ExecContext(ctx, `UPDATE stored_look SET back_at = ?, back_by = ? WHERE workshop_id = ? AND id = ?`, s.now(), by.ID,
			workshopID, lookID); err != nil {
			return err
		}
		// Counted up, so that whoever remembers what was seen asks anew.
		_, err := tx.ExecContext(
			ctx,
			`UPDATE stored SET looked = looked + 1 WHERE workshop_id = ? AND id = ?`,
			workshopID,
			id,
		)
		return err
	})
}

// Wake ends the storing of a battery; asleep again where somebody takes that back, and it
// was not put away anew. It may be repeated.
func (s *Store) Wake(ctx context.Context, workshopID string, by Actor, id string, awake bool) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		one, err := s.holdStored(ctx, tx, workshopID, id)
		if err != nil {
			return err
		}
		if (one.WokenAt != nil) == awake {
			return nil
		}
		what := StoredWoken
		if !awake {
			what = StoredAsleep
			_, err = tx.ExecContext(
				ctx,
				`UPDATE stored SET woken_at = NULL, woken_by = NULL WHERE workshop_id = ? AND id = ?`,
				workshopID,
				id,
			)
			if duplicate(err) {
				return ErrWokenLater
			}
		} else {
			_, err = tx.ExecContext(ctx, `UPDATE stored SET woken_at = ?, woken_by = ? WHERE workshop_id = ? AND id = ?`, s.now(), by.ID, workshopID, id)
		}
		if err != nil {
			return err
		}
		return s.record(ctx, tx, workshopID, by, what, "", one.Doc.Battery.Tag, nil, nil)
	})
}

// Swap puts a battery of the shelf in the place of a stored one: that one stands no longer, and
// next does, all or nothing. It may be repeated with the same id.
func (s *Store) Swap(ctx context.Context, workshopID string, by Actor, id string, next Stored) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		one, err := s.holdStored(ctx, tx, workshopID, id)
		if err != nil {
			return err
		}
		var known bool
		if err := tx.QueryRowContext(ctx, `SELECT COUNT(*) > 0 FROM stored WHERE workshop_id = ? AND id = ?`, workshopID, next.ID).Scan(&known); err != nil {
			return err
		}
		if known {
			return s.putAway(ctx, tx, workshopID, by, next) // a repeat, or another under its id
		}
		if one.WokenAt != nil {
			return ErrWoken
		}
		if err := s.leaveShelf(ctx, tx, workshopID, by, next.Doc.Battery.Tag, ""); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `UPDATE stored SET woken_at = ?, woken_by = ? WHERE workshop_id = ? AND id = ?`, s.now(), by.ID, workshopID,
			id); err != nil {
			return err
		}
		if err := s.record(ctx, tx, workshopID, by, StoredWoken, "", one.Doc.Battery.Tag, nil, nil); err != nil {
			return err
		}
		return s.putAway(ctx, tx, workshopID, by, next)
	})
}
