package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"fmt"
	"time"

	"grapnel/core/climate"
)

// Climate is what a workshop said of its place.
type Climate struct {
	Lows      *climate.Months // nil until somebody typed them
	Means     *climate.Months // nil where only the lows were typed
	Weathered int             // counts what was said of single days
}

// Of gives the climate as a season takes it; false until somebody typed it.
func (c Climate) Of() (climate.Of, bool) {
	switch {
	case c.Lows == nil:
		return climate.Of{}, false
	case c.Means == nil:
		return climate.FromLows(*c.Lows), true
	}
	return climate.Of{Mean: *c.Means, Low: *c.Lows}, true
}

// Climate gives what a workshop said of its place.
func (s *Store) Climate(ctx context.Context, workshopID string) (Climate, error) {
	var out Climate
	var lows, means []byte
	if err := s.db.QueryRowContext(ctx, `SELECT lows, means, weathered FROM workshop WHERE id = ?`, workshopID).
		Scan(&lows, &means, &out.Weathered); err != nil {
		return out, found(err, "workshop")
	}
	for raw, into := range map[*[]byte]**climate.Months{&lows: &out.Lows, &means: &out.Means} {
		if *raw == nil {
			continue
		}
		*into = &climate.Months{}
		if err := json.Unmarshal(*raw, *into); err != nil {
			return out, fmt.Errorf("the workshop's climate: %w", err)
		}
	}
	return out, nil
}

// Lows gives the coldest nights of the workshop's place; nil until somebody typed them.
func (s *Store) Lows(ctx context.Context, workshopID string) (*climate.Months, error) {
	c, err := s.Climate(ctx, workshopID)
	return c.Lows, err
}

// SetClimate keeps the coldest nights of the workshop's place and, where somebody said them,
// how warm its months are.
func (s *Store) SetClimate(
	ctx context.Context,
	workshopID string,
	by Actor,
	lows climate.Months,
	means *climate.Months,
) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		var was *string
		if err := tx.QueryRowContext(ctx, `SELECT lows FROM workshop WHERE id = ? FOR UPDATE`, workshopID).Scan(&was); err != nil {
			return found(err, "workshop")
		}
		if _, err := tx.ExecContext(ctx, `UPDATE workshop SET lows = ?, means = ?, weathered = weathered + 1 WHERE id = ?`, asDoc(&lows),
			orNoDoc(means), workshopID); err != nil {
			return err
		}
		var before any
		if was != nil {
			before = json.RawMessage(*was)
		}
		return s.record(ctx, tx, workshopID, by, LowsSet, "", "", before, lows)
	})
}

// orNoDoc is a JSON column that may hold nothing.
func orNoDoc[T any](v *T) any {
	if v == nil {
		return nil
	}
	return asDoc(v)
}

// SetWeather keeps days as they were or are forecast; a day said again takes the place of
// what was said of it.
func (s *Store) SetWeather(ctx context.Context, workshopID string, by Actor, days []climate.Weather) error {
	if len(days) == 0 {
		return nil
	}
	return s.tx(ctx, func(tx *sql.Tx) error {
		if _, err := tx.ExecContext(ctx, `UPDATE workshop SET weathered = weathered + 1 WHERE id = ?`, workshopID); err != nil {
			return err
		}
		for _, d := range days {
			if _, err := tx.ExecContext(ctx, `INSERT INTO weather (workshop_id, day, low_c, mean_c, said_at) VALUES (?, ?, ?, ?, ?)
				ON DUPLICATE KEY UPDATE low_c = VALUES(low_c), mean_c = VALUES(mean_c), said_at = VALUES(said_at)`,
				workshopID, d.Date, d.LowC, d.MeanC, s.now()); err != nil {
				return err
			}
		}
		return s.record(
			ctx,
			tx,
			workshopID,
			by,
			WeatherSet,
			"",
			"",
			nil,
			map[string]any{"from": days[0].Date, "days": len(days)},
		)
	})
}

// Weather gives the days somebody knew between two, in order.
func (s *Store) Weather(ctx context.Context, workshopID string, from, to time.Time) ([]climate.Weather, error) {
	rows, err := s.db.QueryContext(
		ctx,
		`SELECT DATE_FORMAT(day, '%Y-%m-%d'), low_c, mean_c FROM weather WHERE workshop_id = ? AND day BETWEEN ? AND ? ORDER BY day`,
		workshopID,
		from.Format(time.DateOnly),
		to.Format(time.DateOnly),
	)
	if err != nil {
		return nil, err
	}
	out := []climate.Weather{}
	return out, each(rows, func() error {
		var d climate.Weather
		err := rows.Scan(&d.Date, &d.LowC, &d.MeanC)
		out = append(out, d)
		return err
	})
}
