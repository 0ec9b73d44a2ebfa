package store

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"database/sql"
	"encoding/base64"
	"time"

	"github.com/google/uuid"
)

// How long a session lasts: without a sign of life, and at most. A sign of life is noted
// at most so often: a read does not write.
const (
	SessionIdle  = 24 * time.Hour
	SessionMost  = 7 * 24 * time.Hour
	SessionNoted = 10 * time.Minute
)

// A PIN brings somebody in on a device where they came in with their passphrase not
// longer ago than this, until it was wrong so often.
const (
	PINHolds      = 12 * time.Hour
	MostPINMisses = 5
)

// Session is somebody signed in on a device.
type Session struct {
	ID       string
	DeviceID string
	Device   string // what the device is
	ByPIN    bool
	BeganAt  time.Time
	SeenAt   time.Time
}

// secret gives a new secret and what is kept of it.
func secret() (text string, kept []byte) {
	raw := make([]byte, 32)
	_, _ = rand.Read(raw) // never fails: crypto/rand stops the program instead
	text = base64.RawURLEncoding.EncodeToString(raw)
	return text, hashed(text)
}

// hashed is what is kept of a secret: who reads the database can come in with none.
func hashed(secret string) []byte {
	sum := sha256.Sum256([]byte(secret))
	return sum[:]
}

// SignedIn gives who is signed in by the secret of a session; ErrNotFound when it ended,
// has stood idle too long, or its person's account is closed.
func (s *Store) SignedIn(ctx context.Context, secret string, now time.Time) (Person, Session, error) {
	var at Session
	now = now.UTC()
	row := s.db.QueryRowContext(ctx, `SELECT STRAIGHT_JOIN `+personColumns+`, s.id, s.device_id, s.by_pin, s.began_at, s.seen_at
		FROM session s JOIN person p ON p.id = s.person_id JOIN workshop w ON w.id = p.workshop_id
		WHERE s.token = ? AND s.seen_at > ? AND s.began_at > ? AND p.disabled_at IS NULL`, hashed(secret), now.Add(-SessionIdle), now.Add(-SessionMost))
	p, err := scanPerson(row.Scan, &at.ID, &at.DeviceID, &at.ByPIN, &at.BeganAt, &at.SeenAt)
	if err != nil {
		return p, at, found(err, "session")
	}
	if now.Sub(at.SeenAt) >= SessionNoted {
		// Only where it still is: a session that has ended meanwhile stays ended.
		_, err = s.db.ExecContext(
			ctx,
			`UPDATE session SET seen_at = ? WHERE token = ? AND seen_at < ?`,
			now,
			hashed(secret),
			now.Add(-SessionNoted),
		)
	}
	return p, at, err
}

// Device gives the id of the device of a secret, empty when it is not known.
func (s *Store) Device(ctx context.Context, secret string) (id string, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT id FROM device WHERE token = ?`, hashed(secret)).Scan(&id)
	if err == sql.ErrNoRows {
		return "", nil
	}
	return id, err
}

// KnowsPerson reports whether somebody has come in on a device with their passphrase.
func (s *Store) KnowsPerson(ctx context.Context, deviceID, personID string) (known bool, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT COUNT(*) > 0 FROM device_person WHERE device_id = ? AND person_id = ?`, deviceID, personID).
		Scan(&known)
	return known, err
}

// Begun is a session that has begun, with the secrets its browser keeps.
type Begun struct {
	Session
	SessionSecret string
	DeviceSecret  string // empty when the device has one already
}

// BeginSession signs somebody in on a device, which is made when deviceID is empty, and
// ends the session that the secret "instead of" belongs to. The history says so. Where
// what they came in with has been changed since p was read it is ErrNoLonger.
func (s *Store) BeginSession(
	ctx context.Context,
	p Person,
	deviceID, name string,
	byPIN bool,
	insteadOf, address string,
) (Begun, error) {
	var out Begun
	err := s.tx(ctx, func(tx *sql.Tx) error {
		out = Begun{}
		now := s.now()
		if err := s.holdPerson(ctx, tx, p); err != nil {
			return err
		}
		device := deviceID
		if device == "" {
			var kept []byte
			out.DeviceSecret, kept = secret()
			device = uuid.Must(uuid.NewV7()).String()
			if _, err := tx.ExecContext(ctx, `INSERT INTO device (token, id, name, made_at) VALUES (?, ?, ?, ?)`, kept, device, name, now); err != nil {
				return err
			}
		}
		if !byPIN {
			if _, err := tx.ExecContext(ctx, `INSERT INTO device_person (device_id, person_id, signed_in_at) VALUES (?, ?, ?)
				ON DUPLICATE KEY UPDATE signed_in_at = VALUES(signed_in_at), pin_misses = 0`, device, p.ID, now); err != nil {
				return err
			}
		}
		if insteadOf != "" {
			if _, err := tx.ExecContext(ctx, `DELETE FROM session WHERE token = ?`, hashed(insteadOf)); err != nil {
				return err
			}
		}
		var kept []byte
		out.SessionSecret, kept = secret()
		out.Session = Session{ID: uuid.Must(uuid.NewV7()).String(), DeviceID: device, ByPIN: byPIN, BeganAt: now, SeenAt: now}
		if _, err := tx.ExecContext(ctx, `INSERT INTO session (token, id, person_id, device_id, by_pin, began_at, seen_at) VALUES (?, ?, ?, ?, ?, ?, ?)`,
			kept, out.ID, p.ID, device, byPIN, now, now); err != nil {
			return err
		}
		return s.record(
			ctx,
			tx,
			p.WorkshopID,
			Actor{ID: p.ID},
			SignedIn,
			"",
			p.Name,
			nil,
			map[string]any{"address": address, "device": name, "by_pin": byPIN},
		)
	})
	return out, err
}

// holdPerson holds somebody's account while they come in, and sees that it is still as it
// was when they proved who they are: whoever set another passphrase meanwhile has ended
// their sessions, and this one would begin after that.
func (s *Store) holdPerson(ctx context.Context, tx *sql.Tx, p Person) error {
	// The workshop first, as everything does that holds both.
	if _, err := tx.ExecContext(ctx, `SELECT id FROM workshop WHERE id = ? LOCK IN SHARE MODE`, p.WorkshopID); err != nil {
		return err
	}
	if _, err := tx.ExecContext(ctx, `UPDATE person SET sign_ins = sign_ins + 1 WHERE id = ?`, p.ID); err != nil {
		return err
	}
	now, err := s.personOf(ctx, tx, p.WorkshopID, p.ID)
	if err != nil {
		return err
	}
	if now.DisabledAt != nil || now.Passphrase != p.Passphrase || now.PIN != p.PIN || now.TOTP != p.TOTP {
		return ErrNoLonger
	}
	return nil
}

// EndSession ends the session of a secret. It may be repeated.
func (s *Store) EndSession(ctx context.Context, secret string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(ctx, `DELETE FROM session WHERE token = ?`, hashed(secret))
		return err
	})
}

// Sessions gives where somebody is signed in, the last seen first.
func (s *Store) Sessions(ctx context.Context, personID string, now time.Time) ([]Session, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT s.id, s.device_id, d.name, s.by_pin, s.began_at, s.seen_at
		FROM session s JOIN device d ON d.id = s.device_id
		WHERE s.person_id = ? AND s.seen_at > ? AND s.began_at > ? ORDER BY s.seen_at DESC, s.id`,
		personID, now.UTC().Add(-SessionIdle), now.UTC().Add(-SessionMost))
	if err != nil {
		return nil, err
	}
	out := []Session{}
	err = each(rows, func() error {
		var one Session
		err := rows.Scan(&one.ID, &one.DeviceID, &one.Device, &one.ByPIN, &one.BeganAt, &one.SeenAt)
		out = append(out, one)
		return err
	})
	return out, err
}

// CountSessions gives how many sessions run.
func (s *Store) CountSessions(ctx context.Context, now time.Time) (n int, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT COUNT(*) FROM session WHERE seen_at > ? AND began_at > ?`, now.UTC().Add(-SessionIdle), now.UTC().Add(-SessionMost)).
		Scan(&n)
	return n, err
}

// EndOwn ends one of somebody's own sessions, by its id, and forgets them on its device.
func (s *Store) EndOwn(ctx context.Context, p Person, id string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		var device string
		if err := tx.QueryRowContext(ctx, `SELECT device_id FROM session WHERE id = ? AND person_id = ?`, id, p.ID).Scan(&device); err != nil {
			if err == sql.ErrNoRows {
				return nil // it has ended
			}
			return err
		}
		for _, q := range []string{`DELETE FROM session WHERE device_id = ? AND person_id = ?`, `DELETE FROM device_person WHERE device_id = ? AND person_id = ?`} {
			if _, err := tx.ExecContext(ctx, q, device, p.ID); err != nil {
				return err
			}
		}
		return s.record(ctx, tx, p.WorkshopID, Actor{ID: p.ID}, SessionsEnded, "", p.Name, nil, nil)
	})
}

// endSessions ends all of somebody's sessions but one, and forgets them on all devices
// but its own: there they need their passphrase.
func endSessions(ctx context.Context, tx *sql.Tx, personID string, but Session) error {
	if _, err := tx.ExecContext(ctx, `DELETE FROM session WHERE person_id = ? AND id <> ?`, personID, orNobody(but.ID)); err != nil {
		return err
	}
	_, err := tx.ExecContext(
		ctx,
		`DELETE FROM device_person WHERE person_id = ? AND device_id <> ?`,
		personID,
		orNobody(but.DeviceID),
	)
	return err
}

// orNobody is an id, or one that nothing has.
func orNobody(id string) string {
	if id == "" {
		return uuid.Nil.String()
	}
	return id
}

// PINPeople gives who may come in on a device by PIN, by name.
func (s *Store) PINPeople(ctx context.Context, deviceID string, now time.Time) ([]Person, error) {
	rows, err := s.db.QueryContext(
		ctx,
		`SELECT `+personColumns+` FROM device_person d JOIN person p ON p.id = d.person_id JOIN workshop w ON w.id = p.workshop_id
		WHERE d.device_id = ? AND d.signed_in_at > ? AND d.pin_misses < ? AND p.pin IS NOT NULL AND p.disabled_at IS NULL AND NOT p.must_change ORDER BY p.name`,
		deviceID,
		now.UTC().Add(-PINHolds),
		MostPINMisses,
	)
	if err != nil {
		return nil, err
	}
	out := []Person{}
	err = each(rows, func() error {
		p, err := scanPerson(rows.Scan)
		out = append(out, p)
		return err
	})
	return out, err
}

// MissPIN counts a wrong PIN before it is compared, so that tries at once cannot be more
// than there may be; it reports whether one was left.
func (s *Store) MissPIN(ctx context.Context, deviceID, personID string) (left bool, err error) {
	err = s.tx(ctx, func(tx *sql.Tx) error {
		res, err := tx.ExecContext(
			ctx,
			`UPDATE device_person SET pin_misses = pin_misses + 1 WHERE device_id = ? AND person_id = ? AND pin_misses < ?`,
			deviceID,
			personID,
			MostPINMisses,
		)
		if err != nil {
			return err
		}
		n, err := res.RowsAffected()
		left = n > 0
		return err
	})
	return left, err
}

// HitPIN forgets the wrong ones.
func (s *Store) HitPIN(ctx context.Context, deviceID, personID string) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		_, err := tx.ExecContext(
			ctx,
			`UPDATE device_person SET pin_misses = 0 WHERE device_id = ? AND person_id = ?`,
			deviceID,
			personID,
		)
		return err
	})
}

// Sweep forgets sessions that are over, and devices nobody has come in on for a year.
func (s *Store) Sweep(ctx context.Context, now time.Time) error {
	now = now.UTC()
	for _, q := range []struct {
		query string
		arg   time.Time
	}{
		{`DELETE FROM session WHERE seen_at <= ?`, now.Add(-SessionIdle)},
		{`DELETE FROM session WHERE began_at <= ?`, now.Add(-SessionMost)},
		{`DELETE FROM device_person WHERE signed_in_at <= ?`, now.AddDate(-1, 0, 0)},
		{`DELETE FROM device WHERE made_at <= ? AND NOT EXISTS (SELECT 1 FROM device_person d WHERE d.device_id = device.id)`, now.AddDate(0, 0, -8)},
	} {
		if _, err := s.db.ExecContext(ctx, q.query, q.arg); err != nil {
			return err
		}
	}
	return nil
}
