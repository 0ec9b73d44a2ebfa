package store

import (
	"context"
	"database/sql"
	"errors"
	"reflect"
	"time"

	"grapnel/core/rules"
)

// RulesChange is one change of a workshop's house rules.
type RulesChange struct {
	At          time.Time
	By          string
	Was, Became rules.Rules
}

// SetRules replaces a workshop's house rules when nobody else has since version,
// and records who did. Jobs already open keep the rules they were opened under.
// It may be repeated.
func (s *Store) SetRules(ctx context.Context, workshopID, byID string, r rules.Rules, version int) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		var became rules.Rules
		err := tx.QueryRowContext(ctx, `SELECT became FROM rules_change WHERE workshop_id = ? AND version = ? AND changed_by = ?`,
			workshopID, version, byID).Scan(asDoc(&became))
		if err == nil && reflect.DeepEqual(became, r) {
			return nil
		}
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return err
		}
		var was rules.Rules
		err = tx.QueryRowContext(ctx, `SELECT rules FROM workshop WHERE id = ? AND rules_version = ? FOR UPDATE`,
			workshopID, version).Scan(asDoc(&was))
		if errors.Is(err, sql.ErrNoRows) {
			return ErrChanged
		}
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `UPDATE workshop SET rules = ?, rules_version = rules_version + 1 WHERE id = ?`,
			asDoc(&r), workshopID); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `INSERT INTO rules_change (workshop_id, version, was, became, changed_at, changed_by)
			VALUES (?, ?, ?, ?, ?, ?)`, workshopID, version, asDoc(&was), asDoc(&r), s.now(), byID)
		if err != nil {
			return err
		}
		return s.record(ctx, tx, workshopID, Actor{ID: byID}, RulesSet, "", "", was, r)
	})
}

// RulesChanges gives the last changes of a workshop's house rules, the newest
// first, at most as many as asked for.
func (s *Store) RulesChanges(ctx context.Context, workshopID string, most int) ([]RulesChange, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT c.changed_at, p.name, c.was, c.became
		FROM rules_change c JOIN person p ON p.id = c.changed_by
		WHERE c.workshop_id = ? ORDER BY c.version DESC LIMIT ?`, workshopID, most)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	var out []RulesChange
	for rows.Next() {
		var c RulesChange
		if err := rows.Scan(&c.At, &c.By, asDoc(&c.Was), asDoc(&c.Became)); err != nil {
			return nil, err
		}
		out = append(out, c)
	}
	return out, rows.Err()
}
