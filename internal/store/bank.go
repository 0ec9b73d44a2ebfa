package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"reflect"
	"time"

	"grapnel/core/charge"
)

// Charger is a charger of the workshop.
type Charger struct {
	ID        string
	Unit      charge.Unit
	Version   int // to be given back with a change
	Hung      int // how many batteries were ever hung on it
	RetiredAt *time.Time
}

// MostChargers is how many chargers a workshop has at most.
const MostChargers = 200

// Errors of chargers.
var (
	ErrNamed    = errors.New("another charger has this name")
	ErrChargers = fmt.Errorf("a workshop has at most %d chargers", MostChargers)
)

const chargerColumns = `SELECT id, unit, version, hung, retired_at FROM charger `

func scanCharger(scan func(...any) error) (Charger, error) {
	var c Charger
	err := scan(&c.ID, asDoc(&c.Unit), &c.Version, &c.Hung, &c.RetiredAt)
	return c, err
}

// Chargers gives the chargers in use, by name: numbers by their size.
func (s *Store) Chargers(ctx context.Context, workshopID string) ([]Charger, error) {
	rows, err := s.db.QueryContext(ctx, chargerColumns+`WHERE workshop_id = ? AND retired_at IS NULL
		ORDER BY CAST(name AS UNSIGNED) = 0, CAST(name AS UNSIGNED), name`, workshopID)
	if err != nil {
		return nil, err
	}
	out := []Charger{}
	return out, each(rows, func() error {
		c, err := scanCharger(rows.Scan)
		out = append(out, c)
		return err
	})
}

// Charger gives one, in use or not.
func (s *Store) Charger(ctx context.Context, workshopID, id string) (Charger, error) {
	return s.charger(ctx, s.db, workshopID, id)
}

func (s *Store) charger(ctx context.Context, q querier, workshopID, id string) (Charger, error) {
	c, err := scanCharger(q.QueryRowContext(ctx, chargerColumns+`WHERE workshop_id = ? AND id = ?`, workshopID, id).Scan)
	return c, found(err, "charger")
}

// AddCharger adds a charger. It may be repeated with the same id.
func (s *Store) AddCharger(ctx context.Context, workshopID string, by Actor, c Charger) error {
	return named(s.tx(ctx, func(tx *sql.Tx) error {
		if err := holdBank(ctx, tx, workshopID); err != nil {
			return err
		}
		was, err := s.charger(ctx, tx, workshopID, c.ID)
		switch {
		case err == nil && reflect.DeepEqual(was.Unit, c.Unit):
			return nil
		case err == nil:
			return ErrTaken
		case !errors.Is(err, ErrNotFound):
			return err
		}
		if err := roomForCharger(ctx, tx, workshopID); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO charger (workshop_id, id, name, unit, added_at) VALUES (?, ?, ?, ?, ?)`,
			workshopID, c.ID, c.Unit.Name, asDoc(&c.Unit), s.now()); err != nil {
			return err
		}
		return s.record(ctx, tx, workshopID, by, ChargerAdded, "", c.Unit.Name, nil, c.Unit)
	}))
}

// holdBank keeps others from changing the bank until the transaction ends: it is written,
// so that two at once meet on a cluster too.
func holdBank(ctx context.Context, tx *sql.Tx, workshopID string) error {
	_, err := tx.ExecContext(ctx, `UPDATE workshop SET bank_version = bank_version + 1 WHERE id = ?`, workshopID)
	return err
}

// roomForCharger gives ErrChargers where a workshop has as many chargers in use as it can.
func roomForCharger(ctx context.Context, tx *sql.Tx, workshopID string) error {
	var n int
	err := tx.QueryRowContext(ctx, `SELECT COUNT(*) FROM charger WHERE workshop_id = ? AND retired_at IS NULL`, workshopID).Scan(&n)
	if err == nil && n >= MostChargers {
		return ErrChargers
	}
	return err
}

// ChangeCharger replaces what is known of a charger when nobody else has since c.Version,
// retires it or takes it back into use. It may be repeated.
func (s *Store) ChangeCharger(ctx context.Context, workshopID string, by Actor, c Charger) error {
	return named(s.tx(ctx, func(tx *sql.Tx) error {
		was, err := scanCharger(tx.QueryRowContext(ctx, chargerColumns+`WHERE workshop_id = ? AND id = ? FOR UPDATE`, workshopID, c.ID).Scan)
		if err != nil {
			return found(err, "charger")
		}
		same := reflect.DeepEqual(was.Unit, c.Unit) && (was.RetiredAt == nil) == (c.RetiredAt == nil)
		if was.Version == c.Version+1 && same {
			return nil // a repeat
		}
		if was.Version != c.Version {
			return ErrChanged
		}
		if same {
			return nil
		}
		if c.RetiredAt == nil && was.RetiredAt != nil {
			if err := holdBank(ctx, tx, workshopID); err != nil {
				return err
			}
			if err := roomForCharger(ctx, tx, workshopID); err != nil {
				return err
			}
		}
		if _, err := tx.ExecContext(ctx, `UPDATE charger SET name = ?, unit = ?, retired_at = ?, version = version + 1 WHERE workshop_id = ? AND id = ?`,
			c.Unit.Name, asDoc(&c.Unit), c.RetiredAt, workshopID, c.ID); err != nil {
			return err
		}
		what := ChargerChanged
		if c.RetiredAt != nil && was.RetiredAt == nil {
			what = ChargerRetired
		}
		return s.record(ctx, tx, workshopID, by, what, "", c.Unit.Name, was.Unit, c.Unit)
	}))
}

// named says that a name is given already.
func named(err error) error {
	if duplicate(err) {
		return ErrNamed
	}
	return err
}

// Hang adds the reading of a battery that is hung on a charger, when nothing else was hung
// there since c was read. It may be repeated.
func (s *Store) Hang(ctx context.Context, workshopID string, c Charger, r StoredReading) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		known, err := s.addReading(ctx, tx, workshopID, r)
		if err != nil || known {
			return err
		}
		res, err := tx.ExecContext(ctx, `UPDATE charger SET hung = hung + 1 WHERE workshop_id = ? AND id = ? AND hung = ? AND retired_at IS NULL`,
			workshopID, c.ID, c.Hung)
		return changedOne(res, err, ErrChanged)
	})
}

// BankOrder is somebody's own order of what waits for a charger.
type BankOrder struct {
	Jobs    []BankPlace // nil for none
	Version int         // to be given back with a change
}

// BankPlace is a job in that order, and the charger chosen for it.
type BankPlace struct {
	JobID     string `json:"job_id" format:"uuid"`
	ChargerID string `json:"charger_id,omitempty" doc:"left out for the charger where it is full soonest"`
}

// BankOrder gives the workshop's own order.
func (s *Store) BankOrder(ctx context.Context, workshopID string) (BankOrder, error) {
	var out BankOrder
	var doc []byte
	err := s.db.QueryRowContext(ctx, `SELECT bank_order, bank_version FROM workshop WHERE id = ?`, workshopID).Scan(&doc, &out.Version)
	if err != nil || doc == nil {
		return out, found(err, "workshop")
	}
	return out, asDoc(&out.Jobs).Scan(doc)
}

// SetBankOrder sets the workshop's own order, nil for none, when nobody else has since its
// version. It may be repeated.
func (s *Store) SetBankOrder(ctx context.Context, workshopID string, o BankOrder) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		var was []BankPlace
		var doc []byte
		var version int
		if err := tx.QueryRowContext(ctx, `SELECT bank_order, bank_version FROM workshop WHERE id = ? FOR UPDATE`, workshopID).
			Scan(&doc, &version); err != nil {
			return found(err, "workshop")
		}
		if doc != nil {
			if err := asDoc(&was).Scan(doc); err != nil {
				return err
			}
		}
		if version == o.Version+1 && reflect.DeepEqual(was, o.Jobs) {
			return nil
		}
		if version != o.Version {
			return ErrChanged
		}
		var to any
		if o.Jobs != nil {
			to = asDoc(&o.Jobs)
		}
		if _, err := tx.ExecContext(ctx, `UPDATE workshop SET bank_order = ?, bank_version = bank_version + 1 WHERE id = ?`, to, workshopID); err != nil {
			return err
		}
		// So that other devices hear of it.
		for _, p := range append(was, o.Jobs...) {
			if err := s.touch(ctx, tx, workshopID, p.JobID); err != nil {
				return err
			}
		}
		return nil
	})
}
