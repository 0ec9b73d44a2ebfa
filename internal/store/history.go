package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"strings"
	"time"
)

// Actor is who changes something.
type Actor struct {
	ID   string // of a person; empty when nobody is signed in
	Lead bool
	// Passphrase is the hash of the one they came in with. Where accounts are changed it
	// has to stand still: what was taken away stays so for requests under way.
	Passphrase string
}

// Changes that a history tells of.
const (
	JobOpened   = "job_opened"
	JobDetails  = "job_details"
	JobClosed   = "job_closed"
	JobReopened = "job_reopened"
	RulesSet    = "rules_set"
	LowsSet     = "lows_set"
	TwinSet     = "twin_set"

	GuideBegun   = "guide_begun"
	StockAdded   = "stock_added"
	StockChanged = "stock_changed"
	StockGone    = "stock_gone"

	WeatherSet    = "weather_set"
	StoredAway    = "stored_away"
	StoredChanged = "stored_changed"
	StoredWoken   = "stored_woken"
	StoredAsleep  = "stored_asleep"

	NoteAdded        = "note_added"
	NoteTakenBack    = "note_taken_back"
	PhotoAdded       = "photo_added"
	PhotoTakenBack   = "photo_taken_back"
	EstimateMade     = "estimate_made"
	EstimateAnswered = "estimate_answered"
	PricesSet        = "prices_set"
	FeedSet          = "feed_set"
	TakenOut         = "taken_out"
	BroughtIn        = "brought_in"

	ChargerAdded   = "charger_added"
	ChargerChanged = "charger_changed"
	ChargerRetired = "charger_retired"

	PersonAdded   = "person_added"
	PersonChanged = "person_changed"
	PassphraseSet = "passphrase_set"
	PINSet        = "pin_set"
	SecondFactor  = "second_factor"
	SessionsEnded = "sessions_ended"
	SignedIn      = "signed_in"
	SignInFailed  = "sign_in_failed"
)

// Change is one entry of a workshop's history.
type Change struct {
	ID          int64
	At          time.Time
	By          string // name; empty when nobody was signed in
	What        string
	JobID       string // empty when it is of no job
	About       string // a tag, a person's name
	Was, Became json.RawMessage
}

// record adds to the history, in the transaction of the change itself: neither is there
// without the other.
func (s *Store) record(
	ctx context.Context,
	tx *sql.Tx,
	workshopID string,
	by Actor,
	what, jobID, about string,
	was, became any,
) error {
	var docs [2]any
	for i, v := range []any{was, became} {
		if v == nil {
			continue
		}
		raw, err := json.Marshal(v)
		if err != nil {
			return err
		}
		docs[i] = string(raw)
	}
	_, err := tx.ExecContext(
		ctx,
		`INSERT INTO history (workshop_id, at, by_id, what, job_id, about, was, became) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
		workshopID,
		s.now(),
		orNull(by.ID),
		what,
		orNull(jobID),
		about,
		docs[0],
		docs[1],
	)
	return err
}

func orNull(text string) any {
	if text == "" {
		return nil
	}
	return text
}

// HistoryOf is what of a history is asked for.
type HistoryOf struct {
	JobID            string // one job's alone
	Changes, SignIns bool
}

// History gives a part of a workshop's history, the newest first, and how long it is.
func (s *Store) History(ctx context.Context, workshopID string, of HistoryOf, page Page) (out []Change, all int, err error) {
	from, args := `FROM history h FORCE INDEX (history_shop) WHERE h.workshop_id = ?`, []any{workshopID}
	if of.JobID != "" {
		from, args = `FROM history h FORCE INDEX (history_job) WHERE h.workshop_id = ? AND h.job_id = ?`, append(args, of.JobID)
	}
	if !of.SignIns {
		from += ` AND h.what NOT IN ('` + SignedIn + `', '` + SignInFailed + `')`
	}
	if !of.Changes {
		from += ` AND h.what IN ('` + SignedIn + `', '` + SignInFailed + `')`
	}
	if err := s.db.QueryRowContext(ctx, `SELECT COUNT(*) `+from, args...).Scan(&all); err != nil {
		return nil, 0, err
	}
	rows, err := s.db.QueryContext(
		ctx,
		`SELECT STRAIGHT_JOIN h.id, h.at, COALESCE(p.name, ''), h.what, COALESCE(CAST(h.job_id AS CHAR), ''), h.about,
		COALESCE(h.was, 'null'), COALESCE(h.became, 'null') `+strings.Replace(from, ` WHERE`, ` LEFT JOIN person p ON p.workshop_id = h.workshop_id AND p.id = h.by_id WHERE`, 1)+
			` ORDER BY h.at DESC, h.id DESC LIMIT ? OFFSET ?`,
		append(args, page.Most, page.From)...)
	if err != nil {
		return nil, all, err
	}
	out = []Change{}
	err = each(rows, func() error {
		var c Change
		err := rows.Scan(&c.ID, &c.At, &c.By, &c.What, &c.JobID, &c.About, (*[]byte)(&c.Was), (*[]byte)(&c.Became))
		out = append(out, c)
		return err
	})
	return out, all, err
}
