package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"

	"grapnel/core/rules"
)

// Roles of people.
const (
	Technician = "technician"
	Lead       = "lead"
)

// Person is somebody who can sign in.
type Person struct {
	ID          string
	WorkshopID  string
	Workshop    string
	Name        string
	Role        string
	Passphrase  string // argon2id hash
	Temperature string // C or F
	Theme       string // system, light or dark
}

// Workshop is one shop and its house rules.
type Workshop struct {
	ID           string
	Name         string
	TagPrefix    string
	Rules        rules.Rules
	RulesVersion int
}

// AddWorkshop makes a workshop, or leaves the one with that id as it is.
func (s *Store) AddWorkshop(ctx context.Context, w Workshop) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(
			ctx,
			`INSERT INTO workshop (id, name, tag_prefix, rules, created_at) VALUES (?, ?, ?, ?, ?)
			ON DUPLICATE KEY UPDATE id = id`,
			w.ID,
			w.Name,
			w.TagPrefix,
			asDoc(&w.Rules),
			s.now(),
		)
		return err
	})
}

// Workshop gives one workshop.
func (s *Store) Workshop(ctx context.Context, id string) (Workshop, error) {
	return s.workshop(ctx, "id = ?", id)
}

// WorkshopNamed gives the workshop of that name.
func (s *Store) WorkshopNamed(ctx context.Context, name string) (Workshop, error) {
	return s.workshop(ctx, "name = ?", name)
}

func (s *Store) workshop(ctx context.Context, where, arg string) (Workshop, error) {
	var w Workshop
	err := s.db.QueryRowContext(ctx, `SELECT id, name, tag_prefix, rules, rules_version FROM workshop WHERE `+where,
		arg).
		Scan(&w.ID, &w.Name, &w.TagPrefix, asDoc(&w.Rules), &w.RulesVersion)
	return w, found(err, "workshop")
}

// AddPerson makes somebody who can sign in. A name that is taken is ErrTaken.
func (s *Store) AddPerson(ctx context.Context, p Person) error {
	err := s.tx(ctx, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx,
			`INSERT INTO person (id, workshop_id, name, role, passphrase, created_at) VALUES (?, ?, ?, ?, ?, ?)`,
			p.ID, p.WorkshopID, p.Name, p.Role, p.Passphrase, s.now())
		return err
	})
	if duplicate(err) {
		return fmt.Errorf("the name %q: %w", p.Name, ErrTaken)
	}
	return err
}

const personColumns = `SELECT p.id, p.workshop_id, w.name, p.name, p.role, p.passphrase, p.temperature, p.theme
	FROM person p JOIN workshop w ON w.id = p.workshop_id WHERE `

func (s *Store) person(ctx context.Context, where string, arg string) (Person, error) {
	var p Person
	err := s.db.QueryRowContext(ctx, personColumns+where, arg).
		Scan(&p.ID, &p.WorkshopID, &p.Workshop, &p.Name, &p.Role, &p.Passphrase, &p.Temperature, &p.Theme)
	return p, found(err, "person")
}

// PersonNamed gives the person who signs in by that name.
func (s *Store) PersonNamed(ctx context.Context, name string) (Person, error) {
	return s.person(ctx, "p.name = ?", name)
}

// Person gives one person.
func (s *Store) Person(ctx context.Context, id string) (Person, error) {
	return s.person(ctx, "p.id = ?", id)
}

// SetPreferences keeps a person's temperature scale (C or F) and theme.
func (s *Store) SetPreferences(ctx context.Context, id, temperature, theme string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `UPDATE person SET temperature = ?, theme = ? WHERE id = ?`, temperature, theme,
			id)
		return err
	})
}

func found(err error, what string) error {
	if errors.Is(err, sql.ErrNoRows) {
		return fmt.Errorf("%s %w", what, ErrNotFound)
	}
	return err
}

func changedOne(res sql.Result, err, otherwise error) error {
	if err != nil {
		return err
	}
	n, err := res.RowsAffected()
	if err == nil && n == 0 {
		return otherwise
	}
	return err
}
