package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"time"

	"github.com/google/uuid"

	"grapnel/core/fit"
)

// Stock is a battery on the shelf, or that stood there.
type Stock struct {
	BatteryID string
	Item      fit.Item
	Version   int
	AddedAt   time.Time
	GoneAt    *time.Time
	GoneTo    string // the job it was fitted in, empty where it was not
}

// MostStock is how many batteries stand on a shelf at most.
const MostStock = fit.MostStock

// Errors of the shelf.
var (
	ErrKnownBattery = errors.New("a battery of this tag is known here")
	ErrShelfFull    = fmt.Errorf("a shelf holds at most %d batteries", MostStock)
)

const stockColumns = `SELECT s.battery_id, b.tag, s.item, s.version, s.added_at, s.gone_at, COALESCE(CAST(s.gone_to AS CHAR), '')
	FROM stock s JOIN battery b ON b.workshop_id = s.workshop_id AND b.id = s.battery_id `

func scanStock(scan func(...any) error) (Stock, error) {
	var one Stock
	var tag string
	err := scan(&one.BatteryID, &tag, asDoc(&one.Item), &one.Version, &one.AddedAt, &one.GoneAt, &one.GoneTo)
	one.Item.Tag = tag
	return one, err
}

// Shelf gives what stands on the shelf, by tag.
func (s *Store) Shelf(ctx context.Context, workshopID string) ([]Stock, error) {
	rows, err := s.db.QueryContext(ctx, stockColumns+`WHERE s.workshop_id = ? AND s.gone_at IS NULL ORDER BY b.tag`, workshopID)
	if err != nil {
		return nil, err
	}
	out := []Stock{}
	return out, each(rows, func() error {
		one, err := scanStock(rows.Scan)
		out = append(out, one)
		return err
	})
}

// OnShelf gives the battery of a tag, on the shelf or gone from it.
func (s *Store) OnShelf(ctx context.Context, workshopID, tag string) (Stock, error) {
	one, err := scanStock(s.db.QueryRowContext(ctx, stockColumns+`WHERE s.workshop_id = ? AND b.tag = ?`, workshopID, tag).Scan)
	return one, found(err, "battery "+tag+" on the shelf")
}

// AddStock puts batteries on the shelf, all or none. One of a tag that stands there with the
// same label already is left as it is, so that it may be repeated.
func (s *Store) AddStock(ctx context.Context, workshopID string, by Actor, items []fit.Item) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		// Held, so that two at once do not fill the shelf over its edge.
		if _, err := tx.ExecContext(ctx, `SELECT id FROM workshop WHERE id = ? FOR UPDATE`, workshopID); err != nil {
			return err
		}
		for _, item := range items {
			was, err := scanStock(tx.QueryRowContext(ctx, stockColumns+`WHERE s.workshop_id = ? AND b.tag = ?`, workshopID,
				item.Tag).Scan)
			if err == nil {
				item.Tag = was.Item.Tag
				if was.GoneAt == nil && reflect.DeepEqual(was.Item, item) {
					continue
				}
				return fmt.Errorf("%s: %w", item.Tag, ErrKnownBattery)
			}
			if !errors.Is(err, sql.ErrNoRows) {
				return err
			}
			id := uuid.Must(uuid.NewV7()).String()
			label := item.Battery()
			if _, err := tx.ExecContext(ctx, `INSERT INTO battery (workshop_id, id, tag, label, updated_at) VALUES (?, ?, ?, ?, ?)`,
				workshopID, id, item.Tag, asDoc(&label), s.now()); err != nil {
				if duplicate(err) {
					return fmt.Errorf("%s: %w", item.Tag, ErrKnownBattery)
				}
				return err
			}
			if err := s.countTag(ctx, tx, workshopID, item.Tag); err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx, `INSERT INTO stock (workshop_id, battery_id, item, added_at) VALUES (?, ?, ?, ?)`, workshopID, id, asDoc(&item),
				s.now()); err != nil {
				return err
			}
			if err := s.record(ctx, tx, workshopID, by, StockAdded, "", item.Tag, nil, item); err != nil {
				return err
			}
		}
		var n int
		if err := tx.QueryRowContext(ctx, `SELECT COUNT(*) FROM stock WHERE workshop_id = ? AND gone_at IS NULL`,
			workshopID).Scan(&n); err != nil {
			return err
		}
		if n > MostStock {
			return ErrShelfFull
		}
		return nil
	})
}

// ChangeStock replaces what is known of a battery on the shelf, but for its tag, when nobody
// else has since its version; gone takes it off the shelf. It may be repeated.
func (s *Store) ChangeStock(ctx context.Context, workshopID string, by Actor, tag string, version int, item fit.Item,
	gone bool) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		was, err := scanStock(tx.QueryRowContext(ctx, stockColumns+`WHERE s.workshop_id = ? AND b.tag = ? FOR UPDATE`,
			workshopID, tag).Scan)
		if err != nil {
			return found(err, "battery "+tag+" on the shelf")
		}
		item.Tag = was.Item.Tag
		same := reflect.DeepEqual(was.Item, item) && (was.GoneAt != nil) == gone
		switch {
		case was.Version == version+1 && same:
			return nil
		case was.Version != version:
			return ErrChanged
		case was.GoneAt != nil:
			return ErrClosed
		case same:
			return nil
		}
		var at *time.Time
		what := StockChanged
		if gone {
			now := s.now()
			at, what = &now, StockGone
		}
		label := item.Battery()
		if _, err := tx.ExecContext(ctx, `UPDATE battery SET label = ?, updated_at = ? WHERE workshop_id = ? AND id = ?`,
			asDoc(&label), s.now(), workshopID,
			was.BatteryID); err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `UPDATE stock SET item = ?, version = version + 1, gone_at = ? WHERE workshop_id = ? AND battery_id = ?`, asDoc(&item), at,
			workshopID, was.BatteryID); err != nil {
			return err
		}
		return s.record(ctx, tx, workshopID, by, what, "", item.Tag, was.Item, item)
	})
}

// leaveShelf takes a battery off the shelf for a job. One that has gone already gives
// ErrChanged; one that never stood there is no matter.
func (s *Store) leaveShelf(ctx context.Context, tx *sql.Tx, workshopID string, by Actor, tag, jobID string) error {
	was, err := scanStock(tx.QueryRowContext(ctx, stockColumns+`WHERE s.workshop_id = ? AND b.tag = ? FOR UPDATE`,
		workshopID, tag).Scan)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		return nil
	case err != nil:
		return err
	case was.GoneAt != nil:
		return ErrChanged
	}
	if _, err := tx.ExecContext(ctx, `UPDATE stock SET gone_at = ?, gone_to = ?, version = version + 1 WHERE workshop_id = ? AND battery_id = ?`, s.now(), orNull(jobID),
		workshopID, was.BatteryID); err != nil {
		return err
	}
	if jobID == "" {
		return s.record(ctx, tx, workshopID, by, StockGone, "", was.Item.Tag, nil, nil)
	}
	return s.record(ctx, tx, workshopID, by, StockGone, jobID, was.Item.Tag, nil, map[string]any{"fitted": jobID})
}

// JobsOnBatteries gives the jobs of some batteries, by battery, the oldest first.
func (s *Store) JobsOnBatteries(ctx context.Context, workshopID string, batteryIDs ...string) (map[string][]Job, error) {
	out := map[string][]Job{}
	for part := range slices.Chunk(batteryIDs, mostAtOnce) {
		in, args := among(workshopID, part)
		rows, err := s.db.QueryContext(ctx, `SELECT j.battery_id, `+jobColumns[len(`SELECT `):]+`WHERE j.workshop_id = ? AND j.battery_id IN (`+in+`)
			ORDER BY j.opened_at, j.id`, args...)
		if err != nil {
			return nil, err
		}
		if err := each(rows, func() error {
			var battery string
			j, err := scanJob(func(into ...any) error { return rows.Scan(append([]any{&battery}, into...)...) })
			out[battery] = append(out[battery], j)
			return err
		}); err != nil {
			return nil, err
		}
	}
	return out, nil
}
