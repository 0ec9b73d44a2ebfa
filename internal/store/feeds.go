package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
)

// SetFeed gives somebody a calendar address with a secret, in place of any other; an empty
// one takes it away. Only its hash is kept.
func (s *Store) SetFeed(ctx context.Context, workshopID, personID, secret string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		var hash any
		if secret != "" {
			sum := sha256.Sum256([]byte(secret))
			hash = sum[:]
		}
		_, err := tx.ExecContext(
			ctx,
			`UPDATE person SET feed = ? WHERE workshop_id = ? AND id = ?`,
			hash,
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
	sum := sha256.Sum256([]byte(secret))
	var workshopID, id string
	if err := s.db.QueryRowContext(ctx, `SELECT workshop_id, id FROM person WHERE feed = ? AND disabled_at IS NULL`, sum[:]).
		Scan(&workshopID, &id); err != nil {
		return Person{}, found(err, "calendar")
	}
	return s.Person(ctx, workshopID, id)
}
