package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"

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
	Torque      string // Nm or inlb
	Decimal     string // point or comma
	Theme       string // system, light or dark

	AddedAt    time.Time
	DisabledAt *time.Time
	MustChange bool      // the passphrase is a temporary one
	Since      time.Time // the passphrase stands
	PIN        string    // argon2id hash, empty without one
	TOTP       string    // secret of the second factor, empty while it is off
}

// TemporaryHolds is how long a temporary passphrase brings somebody in: it lies on paper
// somewhere.
const TemporaryHolds = 7 * 24 * time.Hour

// TemporaryUntil gives until when the passphrase brings somebody in; nil when it is
// their own.
func (p Person) TemporaryUntil() *time.Time {
	if !p.MustChange {
		return nil
	}
	until := p.Since.Add(TemporaryHolds)
	return &until
}

// Actor is the person as who changes something.
func (p Person) Actor() Actor {
	return Actor{ID: p.ID, Lead: p.Role == Lead, Passphrase: p.Passphrase}
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

// ErrLastLead is a change that would leave a workshop without a lead.
var ErrLastLead = errors.New("this is the only lead")

// ErrNoLonger is a change by somebody who might make it when they asked, and may no
// longer: they were signed out, their account was closed or their role is another.
var ErrNoLonger = errors.New("whoever asked may no longer do this")

// holdPeople holds the people of a workshop as they are while somebody changes one of
// them. What is not somebody's own only a lead changes.
func (s *Store) holdPeople(ctx context.Context, tx *sql.Tx, by Actor, workshopID string, own bool) error {
	// Written, not only locked: a lock is nothing to the other nodes of a cluster.
	if _, err := tx.ExecContext(ctx, `UPDATE workshop SET people_version = people_version + 1 WHERE id = ?`,
		workshopID); err != nil || by.ID == "" {
		return err
	}
	now, err := s.personOf(ctx, tx, workshopID, by.ID)
	if err != nil {
		return err
	}
	if now.DisabledAt != nil || now.Passphrase != by.Passphrase || !own && now.Role != Lead {
		return ErrNoLonger
	}
	return nil
}

// AddPerson makes somebody who can sign in. It may be repeated with the same id. A name
// that is taken, here or elsewhere, is ErrTaken.
func (s *Store) AddPerson(ctx context.Context, by Actor, p Person) error {
	err := s.tx(ctx, func(tx *sql.Tx) error {
		if err := s.holdPeople(ctx, tx, by, p.WorkshopID, false); err != nil {
			return err
		}
		was, err := s.personOf(ctx, tx, p.WorkshopID, p.ID)
		if err == nil && was.Name == p.Name && was.Role == p.Role {
			return nil
		}
		if err == nil {
			return ErrTaken
		}
		if !errors.Is(err, ErrNotFound) {
			return err
		}
		if _, err := tx.ExecContext(ctx,
			`INSERT INTO person (id, workshop_id, name, role, passphrase, must_change, created_at) VALUES (?, ?, ?, ?, ?, ?, ?)`,
			p.ID, p.WorkshopID, p.Name, p.Role, p.Passphrase, p.MustChange, s.now()); err != nil {
			return err
		}
		return s.record(ctx, tx, p.WorkshopID, by, PersonAdded, "", p.Name, nil, map[string]any{"role": p.Role})
	})
	if duplicate(err) {
		return fmt.Errorf("the name %q: %w", p.Name, ErrTaken)
	}
	return err
}

const personColumns = `p.id, p.workshop_id, w.name, p.name, p.role, p.passphrase, p.temperature, p.torque, p.decimal_mark, p.theme,
	p.created_at, p.disabled_at, p.must_change, COALESCE(p.passphrase_at, p.created_at), COALESCE(p.pin, ''), COALESCE(p.totp, '')`

const personFrom = `SELECT ` + personColumns + ` FROM person p JOIN workshop w ON w.id = p.workshop_id WHERE `

func scanPerson(scan func(...any) error, more ...any) (Person, error) {
	var p Person
	err := scan(append([]any{&p.ID, &p.WorkshopID, &p.Workshop, &p.Name, &p.Role, &p.Passphrase, &p.Temperature, &p.Torque, &p.Decimal,
		&p.Theme,
		&p.AddedAt, &p.DisabledAt, &p.MustChange, &p.Since, &p.PIN, &p.TOTP}, more...)...)
	return p, err
}

// PersonNamed gives the person who signs in by that name.
func (s *Store) PersonNamed(ctx context.Context, name string) (Person, error) {
	p, err := scanPerson(s.db.QueryRowContext(ctx, personFrom+`p.name = ?`, name).Scan)
	return p, found(err, "person")
}

// Person gives one person of a workshop.
func (s *Store) Person(ctx context.Context, workshopID, id string) (Person, error) {
	return s.personOf(ctx, s.db, workshopID, id)
}

func (s *Store) personOf(ctx context.Context, q querier, workshopID, id string) (Person, error) {
	p, err := scanPerson(q.QueryRowContext(ctx, personFrom+`p.workshop_id = ? AND p.id = ?`, workshopID, id).Scan)
	return p, found(err, "person")
}

// Somebody is a person with how many sessions they have, and when they were seen last.
type Somebody struct {
	Person
	Sessions int
	SeenAt   *time.Time
}

// People gives everybody of a workshop, by name.
func (s *Store) People(ctx context.Context, workshopID string, now time.Time) ([]Somebody, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT `+personColumns+`, COUNT(s.id), MAX(s.seen_at)
		FROM person p JOIN workshop w ON w.id = p.workshop_id
		LEFT JOIN session s ON s.person_id = p.id AND s.seen_at > ? AND s.began_at > ?
		WHERE p.workshop_id = ? GROUP BY p.id ORDER BY p.disabled_at IS NOT NULL, p.name`,
		now.UTC().Add(-SessionIdle), now.UTC().Add(-SessionMost), workshopID)
	if err != nil {
		return nil, err
	}
	out := []Somebody{}
	err = each(rows, func() error {
		var one Somebody
		var err error
		one.Person, err = scanPerson(rows.Scan, &one.Sessions, &one.SeenAt)
		out = append(out, one)
		return err
	})
	return out, err
}

// changePerson changes one person of a workshop, in the transaction that says so in the
// history. Without a lead who can come in no change of roles is left standing.
func (s *Store) changePerson(
	ctx context.Context,
	by Actor,
	workshopID, id, what string,
	was, became any,
	change func(tx *sql.Tx, p Person) error,
) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		// Held so that two leads do not take each other's role away at once.
		own := id == by.ID && what != PersonChanged // nobody gives themselves a role back
		if err := s.holdPeople(ctx, tx, by, workshopID, own); err != nil {
			return err
		}
		p, err := s.personOf(ctx, tx, workshopID, id)
		if err != nil {
			return err
		}
		if err := change(tx, p); err != nil {
			return err
		}
		var leads int
		if err := tx.QueryRowContext(ctx, `SELECT COUNT(*) FROM person WHERE workshop_id = ? AND role = 'lead' AND disabled_at IS NULL`,
			workshopID).Scan(&leads); err != nil {
			return err
		}
		if leads == 0 && p.Role == Lead && p.DisabledAt == nil {
			return ErrLastLead
		}
		return s.record(ctx, tx, workshopID, by, what, "", p.Name, was, became)
	})
}

// SetRole gives somebody a role, Technician or Lead.
func (s *Store) SetRole(ctx context.Context, by Actor, workshopID, id, role string) error {
	p, err := s.Person(ctx, workshopID, id)
	if err != nil || p.Role == role {
		return err
	}
	return s.changePerson(ctx, by, workshopID, id, PersonChanged,
		map[string]any{"role": p.Role}, map[string]any{"role": role}, func(tx *sql.Tx, p Person) error {
			_, err := tx.ExecContext(ctx, `UPDATE person SET role = ? WHERE id = ?`, role, id)
			return err
		})
}

// SetDisabled closes somebody's account, which ends their sessions, or opens it again.
func (s *Store) SetDisabled(ctx context.Context, by Actor, workshopID, id string, disabled bool) error {
	p, err := s.Person(ctx, workshopID, id)
	if err != nil || (p.DisabledAt != nil) == disabled {
		return err
	}
	return s.changePerson(ctx, by, workshopID, id, PersonChanged,
		map[string]any{"disabled": !disabled}, map[string]any{"disabled": disabled}, func(tx *sql.Tx, p Person) error {
			var at any
			if disabled {
				at = s.now()
				if err := endSessions(ctx, tx, id, Session{}); err != nil {
					return err
				}
			}
			_, err := tx.ExecContext(ctx, `UPDATE person SET disabled_at = ? WHERE id = ?`, at, id)
			return err
		})
}

// SetPassphrase gives somebody a passphrase, by its hash, and ends their sessions but
// the one it was set in. A temporary one has to be changed at the first sign-in; it takes
// the PIN away, which was made by whoever knew the old one.
func (s *Store) SetPassphrase(ctx context.Context, by Actor, workshopID, id, hash string, temporary bool, but Session) error {
	return s.changePerson(ctx, by, workshopID, id, PassphraseSet,
		nil, map[string]any{"temporary": temporary}, func(tx *sql.Tx, p Person) error {
			if err := endSessions(ctx, tx, id, but); err != nil {
				return err
			}
			_, err := tx.ExecContext(
				ctx,
				`UPDATE person SET passphrase = ?, passphrase_at = ?, must_change = ?, pin = IF(?, NULL, pin) WHERE id = ?`,
				hash,
				s.now(),
				temporary,
				temporary,
				id,
			)
			return err
		})
}

// EndSessions ends all of somebody's sessions but one: all when it is none.
func (s *Store) EndSessions(ctx context.Context, by Actor, workshopID, id string, but Session) error {
	return s.changePerson(ctx, by, workshopID, id, SessionsEnded, nil, nil, func(tx *sql.Tx, p Person) error {
		return endSessions(ctx, tx, id, but)
	})
}

// SetPIN gives somebody a PIN by its hash, or takes it away when it is empty.
func (s *Store) SetPIN(ctx context.Context, by Actor, workshopID, id, hash string) error {
	return s.changePerson(ctx, by, workshopID, id, PINSet,
		nil, map[string]any{"pin": hash != ""}, func(tx *sql.Tx, p Person) error {
			if _, err := tx.ExecContext(ctx, `UPDATE device_person SET pin_misses = 0 WHERE person_id = ?`, id); err != nil {
				return err
			}
			_, err := tx.ExecContext(ctx, `UPDATE person SET pin = ? WHERE id = ?`, orNull(hash), id)
			return err
		})
}

// OfferTOTP keeps a secret for a second factor until it is proved.
func (s *Store) OfferTOTP(ctx context.Context, id, secret string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `UPDATE person SET totp_offered = ? WHERE id = ?`, secret, id)
		return err
	})
}

// OfferedTOTP gives the secret that is offered, empty when none is.
func (s *Store) OfferedTOTP(ctx context.Context, id string) (secret string, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT COALESCE(totp_offered, '') FROM person WHERE id = ?`, id).Scan(&secret)
	return secret, err
}

// SetTOTP turns the second factor on with the secret that was offered, and with recovery
// codes; or off, when the secret is empty.
func (s *Store) SetTOTP(ctx context.Context, by Actor, workshopID, id, secret string, step int64, recovery []string) error {
	return s.changePerson(ctx, by, workshopID, id, SecondFactor,
		nil, map[string]any{"on": secret != ""}, func(tx *sql.Tx, p Person) error {
			if _, err := tx.ExecContext(ctx, `UPDATE person SET totp = ?, totp_offered = NULL, totp_step = ? WHERE id = ?`,
				orNull(secret), step, id); err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx, `DELETE FROM recovery_code WHERE person_id = ?`, id); err != nil {
				return err
			}
			for _, code := range recovery {
				if _, err := tx.ExecContext(ctx, `INSERT INTO recovery_code (person_id, hash) VALUES (?, ?)`, id,
					recoveryKept(id, code)); err != nil {
					return err
				}
			}
			return nil
		})
}

// UseTOTP takes the time step of a code, and reports whether it was free: no code and
// none before it counts again.
func (s *Store) UseTOTP(ctx context.Context, id string, step int64) (free bool, err error) {
	return s.taken(ctx, `UPDATE person SET totp_step = ? WHERE id = ? AND totp_step < ?`, step, id, step)
}

// UseRecovery takes a recovery code, and reports whether it was there to take.
func (s *Store) UseRecovery(ctx context.Context, id, code string) (was bool, err error) {
	return s.taken(ctx, `DELETE FROM recovery_code WHERE person_id = ? AND hash = ?`, id, recoveryKept(id, code))
}

// recoveryKept is what is kept of a recovery code: with its person's id, so that whoever
// reads the database cannot try one guess on everybody's at once.
func recoveryKept(id, code string) []byte { return hashed(id + " " + code) }

// Recoveries gives how many recovery codes are left.
func (s *Store) Recoveries(ctx context.Context, id string) (n int, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT COUNT(*) FROM recovery_code WHERE person_id = ?`, id).Scan(&n)
	return n, err
}

func (s *Store) taken(ctx context.Context, query string, args ...any) (one bool, err error) {
	err = s.tx(ctx, func(tx *sql.Tx) error {
		res, err := tx.ExecContext(ctx, query, args...)
		if err != nil {
			return err
		}
		n, err := res.RowsAffected()
		one = n > 0
		return err
	})
	return one, err
}

// SignInFailed tells the history that somebody tried to come in under a name.
func (s *Store) SignInFailed(ctx context.Context, p Person, address, why string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		return s.record(
			ctx,
			tx,
			p.WorkshopID,
			Actor{},
			SignInFailed,
			"",
			p.Name,
			nil,
			map[string]any{"address": address, "why": why},
		)
	})
}

// SetPreferences keeps how somebody wants things shown: temperature scale (C or F), unit of
// torque (Nm or inlb), decimal mark (point or comma) and theme.
func (s *Store) SetPreferences(ctx context.Context, p Person) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `UPDATE person SET temperature = ?, torque = ?, decimal_mark = ?, theme = ? WHERE id = ?`,
			p.Temperature, p.Torque, p.Decimal, p.Theme, p.ID)
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
