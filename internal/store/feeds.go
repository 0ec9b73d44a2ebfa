package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
)

// secretHash is what is kept of the secret of an address; nil of none, which matches nothing.
func secretHash(secret string) []byte {
	if secret == "" {
		return nil
	}
	sum := sha256.Sum256([]byte(secret))
	return sum[:]
}

// SetFeed gives somebody a calendar address with a secret, in place of any other; an empty
// one takes it away. Only its hash is kept.
func (s *Store) SetFeed(ctx context.Context, workshopID, personID, secret string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(
			ctx,
			`UPDATE person SET feed = ? WHERE workshop_id = ? AND id = ?`,
			secretHash(secret),
			workshopID,
			personID,
		)
		return err
	})
}

// HasFeed reports whether somebody has a calendar address.
func (s *Store) HasFeed(ctx context.Context, workshopID, personID string) (has bool, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT feed IS NOT NULL FROM person WHERE workshop_id = ? AND id = ?`, workshopID, personID).
		Scan(&has)
	return has, found(err, "person")
}

// FeedOf gives whose calendar address has a secret: nobody whose account is closed.
func (s *Store) FeedOf(ctx context.Context, secret string) (Person, error) {
	var workshopID, id string
	if err := s.db.QueryRowContext(ctx, `SELECT workshop_id, id FROM person WHERE feed = ? AND disabled_at IS NULL`, secretHash(secret)).
		Scan(&workshopID, &id); err != nil {
		return Person{}, found(err, "calendar")
	}
	return s.Person(ctx, workshopID, id)
}

// SetShopFeed gives a workshop a calendar address with a secret, in place of any other; an
// empty one takes it away. Only its hash is kept.
func (s *Store) SetShopFeed(ctx context.Context, workshopID string, by Actor, secret string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		if _, err := tx.ExecContext(ctx, `UPDATE workshop SET feed = ? WHERE id = ?`, secretHash(secret), workshopID); err != nil {
			return err
		}
		return s.record(ctx, tx, workshopID, by, FeedSet, "", "", nil, map[string]any{"on": secret != ""})
	})
}

// HasShopFeed reports whether a workshop has a calendar address.
func (s *Store) HasShopFeed(ctx context.Context, workshopID string) (has bool, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT feed IS NOT NULL FROM workshop WHERE id = ?`, workshopID).Scan(&has)
	return has, found(err, "workshop")
}

// ShopFeedOf gives the workshop whose calendar address has a secret.
func (s *Store) ShopFeedOf(ctx context.Context, secret string) (Workshop, error) {
	var id string
	if err := s.db.QueryRowContext(ctx, `SELECT id FROM workshop WHERE feed = ?`, secretHash(secret)).Scan(&id); err != nil {
		return Workshop{}, found(err, "calendar")
	}
	return s.Workshop(ctx, id)
}

// NextCheck is a day on which a battery is looked at again, as it was said when it was handed
// over last.
type NextCheck struct {
	JobID, Tag, Vehicle, Customer string
	On                            string // 2027-01-15
}

// NextChecks gives the days from one on, of batteries that have not come back since, the
// soonest first.
func (s *Store) NextChecks(ctx context.Context, workshopID, from string, most int) ([]NextCheck, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT STRAIGHT_JOIN j.id, r.next_check, j.vehicle, j.battery, j.customer
		FROM reading r FORCE INDEX (reading_next) JOIN job j ON j.workshop_id = r.workshop_id AND j.id = r.job_id
		WHERE r.workshop_id = ? AND r.next_check >= ? AND j.closed_at IS NOT NULL
		AND NOT EXISTS (SELECT 1 FROM reading c WHERE c.workshop_id = r.workshop_id AND c.replaces_id = r.id)
		AND NOT EXISTS (SELECT 1 FROM reading l WHERE l.workshop_id = r.workshop_id AND l.job_id = r.job_id AND l.kind = r.kind AND l.seq > r.seq
			AND NOT EXISTS (SELECT 1 FROM reading c WHERE c.workshop_id = l.workshop_id AND c.replaces_id = l.id))
		AND NOT EXISTS (SELECT 1 FROM job k WHERE k.workshop_id = j.workshop_id AND k.battery_id = j.battery_id AND k.opened_at > j.opened_at)
		ORDER BY r.next_check, j.id LIMIT ?`, workshopID, from, most)
	if err != nil {
		return nil, err
	}
	out := []NextCheck{}
	return out, each(rows, func() error {
		var n NextCheck
		var j Job
		err := rows.Scan(&n.JobID, &n.On, asDoc(&j.Vehicle), asDoc(&j.Battery), &n.Customer)
		n.Tag, n.Vehicle = j.Battery.Tag, j.Vehicle.Name
		out = append(out, n)
		return err
	})
}
