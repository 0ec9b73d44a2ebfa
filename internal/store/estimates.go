package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"time"

	"grapnel/core/cost"
)

// Estimate is what was said work on a job would cost, with the last answer to it.
type Estimate struct {
	ID, JobID string
	Doc       cost.Estimate
	MadeAt    time.Time
	ByID, By  string
	Answer    *Answer // nil while nobody has answered
}

// Answer is a yes or no to an estimate.
type Answer struct {
	ID       string
	Accepted bool
	Name     string // who said so
	At       time.Time
	ByID, By string // who noted it
}

// AddEstimate keeps an estimate; it takes the place of the one before. It may be repeated
// with the same id.
func (s *Store) AddEstimate(ctx context.Context, workshopID string, e Estimate) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		mark, err := fingerprint(e.JobID, e.Doc)
		if err != nil {
			return err
		}
		seq, known, err := s.nextPaper(ctx, tx, workshopID, e.JobID, "estimate", e.ID, mark)
		if known || err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO estimate (workshop_id, id, job_id, seq, doc, fingerprint, made_at, made_by)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?)`, workshopID, e.ID, e.JobID, seq, asDoc(&e.Doc), mark, s.orNow(e.MadeAt), e.ByID); err != nil {
			return err
		}
		return s.recordOf(ctx, tx, workshopID, Actor{ID: e.ByID}, EstimateMade, e.JobID, nil, told(e.Doc))
	})
}

// told is an estimate as a history tells it.
func told(e cost.Estimate) map[string]any {
	lines := make([]string, len(e.Lines))
	for i, l := range e.Lines {
		lines[i] = fmt.Sprintf("%d × %s %s", l.Count, l.Text, cost.Amount(l.Cents))
	}
	return map[string]any{"lines": lines, "total": e.Currency + " " + cost.Amount(e.Totals().All)}
}

// AnswerEstimate keeps the answer to the estimate that stands: one that another has taken the
// place of gives ErrChanged. It may be repeated with the same id.
func (s *Store) AnswerEstimate(ctx context.Context, workshopID, jobID, estimateID string, a Answer) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		if err := s.touch(ctx, tx, workshopID, jobID); err != nil {
			return err
		}
		var accepted bool
		var name, of string
		switch err := tx.QueryRowContext(ctx, `SELECT accepted, name, estimate_id FROM estimate_answer WHERE workshop_id = ? AND id = ?`, workshopID,
			a.ID).Scan(&accepted, &name, &of); {
		case err == nil && accepted == a.Accepted && name == a.Name && of == estimateID:
			return nil
		case err == nil:
			return ErrTaken
		case !errors.Is(err, sql.ErrNoRows):
			return err
		}
		var stands string
		if err := tx.QueryRowContext(ctx, `SELECT id FROM estimate WHERE workshop_id = ? AND job_id = ? ORDER BY seq DESC LIMIT 1`, workshopID,
			jobID).Scan(&stands); err != nil {
			return found(err, "estimate")
		}
		if stands != estimateID {
			return ErrChanged
		}
		seq, err := s.countPaper(ctx, tx, workshopID, jobID)
		if err != nil {
			return err
		}
		if _, err := tx.ExecContext(ctx, `INSERT INTO estimate_answer (workshop_id, id, estimate_id, seq, accepted, name, at, by_id)
			VALUES (?, ?, ?, ?, ?, ?, ?, ?)`, workshopID, a.ID, estimateID, seq, a.Accepted, a.Name, s.orNow(a.At), a.ByID); err != nil {
			return err
		}
		return s.recordOf(ctx, tx, workshopID, Actor{ID: a.ByID}, EstimateAnswered, jobID, nil,
			map[string]any{"accepted": a.Accepted, "name": a.Name})
	})
}

// Estimates gives the estimates of a job, the one that stands first.
func (s *Store) Estimates(ctx context.Context, workshopID, jobID string) ([]Estimate, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT STRAIGHT_JOIN e.id, e.job_id, e.doc, e.made_at, e.made_by, p.name,
		a.id, a.accepted, a.name, a.at, a.by_id, q.name
		FROM estimate e FORCE INDEX (estimate_seq) JOIN person p ON p.workshop_id = e.workshop_id AND p.id = e.made_by
		LEFT JOIN estimate_answer a ON a.workshop_id = e.workshop_id AND a.estimate_id = e.id AND a.seq =
			(SELECT MAX(l.seq) FROM estimate_answer l WHERE l.workshop_id = e.workshop_id AND l.estimate_id = e.id)
		LEFT JOIN person q ON q.workshop_id = a.workshop_id AND q.id = a.by_id
		WHERE e.workshop_id = ? AND e.job_id = ? ORDER BY e.seq DESC`, workshopID, jobID)
	if err != nil {
		return nil, err
	}
	out := []Estimate{}
	return out, each(rows, func() error {
		var e Estimate
		var id, name, byID, by *string
		var accepted *bool
		var at *time.Time
		err := rows.Scan(&e.ID, &e.JobID, asDoc(&e.Doc), &e.MadeAt, &e.ByID, &e.By, &id, &accepted, &name, &at, &byID, &by)
		if err == nil && id != nil {
			e.Answer = &Answer{ID: *id, Accepted: *accepted, Name: *name, At: *at, ByID: *byID, By: *by}
		}
		out = append(out, e)
		return err
	})
}

// Prices gives a workshop's price list with its version; the usual one where nobody has made
// one.
func (s *Store) Prices(ctx context.Context, workshopID string) (cost.Prices, int, error) {
	return prices(ctx, s.db, workshopID, "")
}

func prices(ctx context.Context, q querier, workshopID, lock string) (cost.Prices, int, error) {
	var raw []byte
	var version int
	p := cost.Usual()
	err := q.QueryRowContext(ctx, `SELECT prices, prices_version FROM workshop WHERE id = ?`+lock, workshopID).Scan(&raw, &version)
	if err == nil && raw != nil {
		p = cost.Prices{}
		err = json.Unmarshal(raw, &p)
	}
	return p, version, found(err, "workshop")
}

// SetPrices replaces a workshop's price list when nobody else has since version. Estimates
// that were made keep their prices. It may be repeated.
func (s *Store) SetPrices(ctx context.Context, workshopID string, by Actor, p cost.Prices, version int) error {
	return s.tx(ctx, func(tx *sql.Tx) error {
		was, now, err := prices(ctx, tx, workshopID, ` FOR UPDATE`)
		switch {
		case err != nil:
			return err
		case now == version+1 && reflect.DeepEqual(was, p):
			return nil
		case now != version:
			return ErrChanged
		}
		if _, err := tx.ExecContext(ctx, `UPDATE workshop SET prices = ?, prices_version = prices_version + 1 WHERE id = ?`, asDoc(&p), workshopID); err != nil {
			return err
		}
		return s.record(ctx, tx, workshopID, by, PricesSet, "", "", was, p)
	})
}
