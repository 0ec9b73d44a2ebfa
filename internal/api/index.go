package api

import (
	"context"
	"log/slog"
	"strings"
	"time"

	"grapnel/core/assess"
	"grapnel/core/reading"
	"grapnel/core/station"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// How jobs are written down for finding: some at a time, soon after they have changed; what
// changed without this copy of the program being told is looked for now and then.
const (
	indexAtOnce = 100
	indexEvery  = 20 * time.Second
	indexBack   = 10 * time.Minute // how far back is looked for what was missed
)

// indexer writes down what jobs are found by: notes, and what was concluded of them.
type indexer struct{ changed chan struct{} }

// wake says that something of a job has changed.
func (i *indexer) wake() {
	select {
	case i.changed <- struct{}{}:
	default:
	}
}

// index writes down what jobs are found by, as long as the server runs: all that are not yet,
// then those that change.
func (s *server) index() {
	since := time.Unix(0, 0)
	for {
		from := s.Now()
		if err := s.indexSince(s.Ending, since); err == nil {
			since = from.Add(-indexBack)
		} else if s.Ending.Err() == nil {
			slog.Warn("write down what jobs are found by", "error", err)
		}
		select {
		case <-s.Ending.Done():
			return
		case <-s.indexer.changed:
		case <-time.After(indexEvery):
		}
	}
}

func (s *server) indexSince(ctx context.Context, since time.Time) error {
	for ctx.Err() == nil {
		some, err := s.Store.Unfound(ctx, since, indexAtOnce)
		if err != nil || len(some) == 0 {
			return err
		}
		for _, u := range some {
			if err := s.indexOne(ctx, u); err != nil {
				return err
			}
		}
	}
	return ctx.Err()
}

func (s *server) indexOne(ctx context.Context, u store.Unfound) error {
	j, err := s.Store.Job(ctx, u.WorkshopID, u.JobID)
	if err != nil {
		return err
	}
	logs, err := s.Store.Readings(ctx, u.WorkshopID, u.JobID)
	if err != nil {
		return err
	}
	notes, err := s.Store.Notes(ctx, u.WorkshopID, u.JobID)
	if err != nil {
		return err
	}
	c := s.caseOf(j, logs[j.ID])
	a := assess.Concluded(station.Put(c, s.labels.find))
	return s.Store.KeepFound(ctx, u, strings.Join(findable(j, c, notes[j.ID], a), "\n"))
}

// findable gives the lines a job is found by beside its name: the complaint, what the customer
// said, notes, the verdict and every line of the ledger.
func findable(j store.Job, c reading.Case, notes []store.Note, a assess.Assessment) []string {
	var out []string
	for _, code := range j.Complaint {
		out = append(out, reading.Complaints().Word(code))
	}
	if j.Note != "" {
		out = append(out, j.Note)
	}
	for _, n := range notes {
		if n.BackAt == nil {
			out = append(out, n.Text)
		}
	}
	for _, r := range c.Readings {
		line := station.Tell(r)
		text := line.Text.String()
		// What was found is found by the word of the format too: crust is corrosion.
		for _, code := range r.Words("found") {
			text += ", " + words.Spaced(code)
		}
		out = append(out, text)
	}
	out = append(out, a.Headline.String())
	for _, f := range a.Findings {
		out = append(out, f.Text.String())
	}
	return out
}
