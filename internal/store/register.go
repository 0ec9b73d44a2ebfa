package store

import (
	"context"
	"database/sql"
	"errors"
	"slices"

	"grapnel/core/reading"
)

// Battery is a battery of the workshop with all its jobs.
type Battery struct {
	ID   string
	Tag  string
	Twin string // tag of the other that carries its vehicle, empty without one
	// Label is what was last read from it.
	Label reading.Battery
	Jobs  []Job // the oldest first
}

// Batteries gives every battery of a workshop with its jobs, by tag; one alone where a
// tag is asked for.
func (s *Store) Batteries(ctx context.Context, workshopID, tag string) ([]Battery, error) {
	where, args := `WHERE b.workshop_id = ?`, []any{workshopID}
	if tag != "" {
		where, args = where+` AND b.tag = ?`, append(args, tag)
	}
	rows, err := s.db.QueryContext(ctx, `SELECT b.id, b.tag, b.label, COALESCE(t.tag, '') FROM battery b
		LEFT JOIN battery t ON t.workshop_id = b.workshop_id AND t.id = b.twin_id `+where+` ORDER BY b.tag`, args...)
	if err != nil {
		return nil, err
	}
	out := []Battery{}
	at := map[string]int{}
	err = each(rows, func() error {
		var b Battery
		if err := rows.Scan(&b.ID, &b.Tag, asDoc(&b.Label), &b.Twin); err != nil {
			return err
		}
		at[b.ID] = len(out)
		out = append(out, b)
		return nil
	})
	if err != nil || len(out) == 0 {
		return out, err
	}
	where, args = `WHERE j.workshop_id = ?`, []any{workshopID}
	if tag != "" {
		where, args = where+` AND j.battery_id = ?`, append(args, out[0].ID)
	}
	rows, err = s.db.QueryContext(
		ctx,
		`SELECT j.battery_id, `+jobColumns[len(`SELECT `):]+where+` ORDER BY j.opened_at, j.id`,
		args...)
	if err != nil {
		return nil, err
	}
	return out, each(rows, func() error {
		var battery string
		j, err := scanJob(func(into ...any) error { return rows.Scan(append([]any{&battery}, into...)...) })
		if i, ok := at[battery]; ok && err == nil {
			out[i].Jobs = append(out[i].Jobs, j)
		}
		return err
	})
}

// each goes through rows to their end, and closes them.
func each(rows *sql.Rows, scan func() error) error {
	defer func() { _ = rows.Close() }()
	for rows.Next() {
		if err := scan(); err != nil {
			return err
		}
	}
	return rows.Err()
}

// ErrOwnTwin is a battery named as its own twin.
var ErrOwnTwin = errors.New("a battery is not its own twin")

// SetTwin makes two batteries, by their tags, the pair that carries one vehicle, and ends
// any pair either was in; an empty tag ends it alone. It may be repeated.
func (s *Store) SetTwin(ctx context.Context, workshopID string, by Actor, tag, twin string) error {
	if tag == twin {
		return ErrOwnTwin
	}
	return s.tx(ctx, func(tx *sql.Tx) error {
		tags := []string{tag, twin}
		slices.Sort(tags) // in one order, so that two who pair the same two do not wait for each other
		ids, was := map[string]string{}, map[string]string{}
		for _, t := range tags {
			if t == "" {
				continue
			}
			var id, with string
			err := tx.QueryRowContext(ctx, `SELECT b.id, COALESCE(t.tag, '') FROM battery b
				LEFT JOIN battery t ON t.workshop_id = b.workshop_id AND t.id = b.twin_id
				WHERE b.workshop_id = ? AND b.tag = ? FOR UPDATE`, workshopID, t).Scan(&id, &with)
			if err != nil {
				return found(err, "battery "+t)
			}
			ids[t], was[t] = id, with
		}
		// Tags are alike whatever their capitals.
		if twin != "" && ids[tag] == ids[twin] {
			return ErrOwnTwin
		}
		for _, id := range ids {
			if _, err := tx.ExecContext(ctx, `UPDATE battery SET twin_id = NULL WHERE workshop_id = ? AND twin_id = ?`, workshopID, id); err != nil {
				return err
			}
		}
		pair := func(of string, with any) error {
			_, err := tx.ExecContext(
				ctx,
				`UPDATE battery SET twin_id = ? WHERE workshop_id = ? AND id = ?`,
				with,
				workshopID,
				ids[of],
			)
			return err
		}
		record := func() error {
			if was[tag] == twin {
				return nil
			}
			return s.record(
				ctx,
				tx,
				workshopID,
				by,
				TwinSet,
				"",
				tag,
				map[string]string{"twin": was[tag]},
				map[string]string{"twin": twin},
			)
		}
		if twin == "" {
			return errors.Join(pair(tag, nil), record())
		}
		return errors.Join(pair(tag, ids[twin]), pair(twin, ids[tag]), record())
	})
}
