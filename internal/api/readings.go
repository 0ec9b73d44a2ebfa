package api

import (
	"cmp"
	"context"
	"fmt"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/assess"
	"grapnel/core/casefile"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/station"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// previewID stands for a reading that is being entered, in what is said of it.
const previewID = "preview"

// proposed is a job with a reading that is being added to it.
type proposed struct {
	job     store.Job
	reading store.StoredReading
}

// propose reads the job and checks the reading against its battery.
func (s *server) propose(ctx context.Context, jobID, id, replaces string, r reading.Reading) (proposed, error) {
	j, err := s.Store.Job(ctx, who(ctx).WorkshopID, jobID)
	if err != nil {
		return proposed{}, answer(err)
	}
	if wrong := casefile.CheckReading(j.Case(nil), r); len(wrong) > 0 {
		for i := range wrong {
			wrong[i].Path = "reading." + wrong[i].Path
		}
		return proposed{}, refuse("body", wrong)
	}
	if r.Kind == station.Override && who(ctx).Role != store.Lead {
		return proposed{}, huma.Error403Forbidden("Only a lead can lift a stop. Ask the lead of your workshop.")
	}
	of, _ := station.KindOf(r.Kind)
	stored := store.StoredReading{
		Entry:    reading.Entry{ID: id, Reading: r, Replaces: replaces},
		JobID:    jobID,
		ByID:     who(ctx).ID,
		EndsRest: of.EndsRest,
		ByLead:   actor(ctx).Lead,
	}
	if r.At != nil {
		stored.At = *r.At
	}
	return proposed{j, stored}, nil
}

// with gives a job's log as it would stand with the new reading.
func (p proposed) with(log []store.StoredReading) []store.StoredReading {
	entries := reading.WithEntry(store.Log(log), p.reading.Entry)
	out := append([]store.StoredReading{}, log...)
	r := p.reading
	r.Entry = entries[len(entries)-1]
	return append(out, r)
}

type newReading struct {
	ID       ID              `json:"id" doc:"made by the client, UUID v7"`
	Reading  reading.Reading `json:"reading"`
	Replaces ID              `json:"replaces,omitempty" doc:"the reading this one corrects; both are kept"`
}

type addReadingInput struct {
	OfJob
	Body newReading
}

func (s *server) addReading(ctx context.Context, in *addReadingInput) (*sheetReply, error) {
	p, err := s.propose(ctx, string(in.ID), string(in.Body.ID), string(in.Body.Replaces), in.Body.Reading)
	if err != nil {
		return nil, err
	}
	if err := s.Store.AddReading(ctx, who(ctx).WorkshopID, p.reading); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, string(in.ID))
}

type withdrawInput struct {
	OfJob
	Reading ID `path:"reading"`
	Body    struct {
		ID ID `json:"id" doc:"of the withdrawal, made by the client, UUID v7"`
	}
}

// Resolve takes ids in capitals for the same ids.
func (in *withdrawInput) Resolve(ctx huma.Context) []error {
	return append(in.OfJob.Resolve(ctx), in.Reading.lower()...)
}

// withdrawReading takes a reading back: it stays in the log, and no longer counts.
func (s *server) withdrawReading(ctx context.Context, in *withdrawInput) (*sheetReply, error) {
	p := who(ctx)
	err := s.Store.AddReading(ctx, p.WorkshopID, store.StoredReading{JobID: string(in.ID), ByID: p.ID, ByLead: actor(ctx).Lead,
		Entry: reading.Entry{ID: string(in.Body.ID), Reading: reading.Of(reading.Withdrawn, nil), Replaces: string(in.Reading)}})
	if err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, string(in.ID))
}

type unsavedReading struct {
	Reading  reading.Reading `json:"reading"`
	Replaces ID              `json:"replaces,omitempty"`
}

type previewInput struct {
	OfJob
	Body unsavedReading
}

// previewReading judges the job as if the reading were saved; findings that rest
// on it name it as previewID.
func (s *server) previewReading(ctx context.Context, in *previewInput) (*output[Judgement], error) {
	p, err := s.propose(ctx, string(in.ID), previewID, string(in.Body.Replaces), in.Body.Reading)
	if err != nil {
		return nil, err
	}
	logs, err := s.Store.Readings(ctx, who(ctx).WorkshopID, p.job.ID)
	if err != nil {
		return nil, answer(err)
	}
	was, err := s.wasBefore(ctx, p.job)
	if err != nil {
		return nil, err
	}
	out := s.judge(p.job, p.with(logs[p.job.ID]), who(ctx), nil, was)
	entered := station.Tell(in.Body.Reading)
	words.Spoken(&entered, voice(who(ctx)))
	out.Entered = &entered
	return replied(out)
}

type newRest struct {
	ID      ID      `json:"id" doc:"made by the client, UUID v7"`
	Kind    string  `json:"kind,omitempty" enum:"rest,warm,parts,jump" doc:"what it is left alone for; a rest when left out"`
	Minutes float64 `json:"minutes,omitempty" minimum:"1" maximum:"43200" doc:"left out to warm: as long as the model needs"`
}

// mostRest is the longest a battery rests or warms, minutes: two days.
const mostRest = 2880

type addRestInput struct {
	OfJob
	Body newRest
}

func (s *server) addRest(ctx context.Context, in *addRestInput) (*sheetReply, error) {
	p := who(ctx)
	now := s.Now().UTC().Truncate(time.Second)
	minutes := in.Body.Minutes
	if in.Body.Kind != assess.StayParts && minutes > mostRest {
		return nil, refuse("body", document.Problems{{Path: "minutes", Message: fmt.Sprintf("%g min is longer than two days. Give 1 to %d, or wait for parts", minutes, mostRest)}})
	}
	if minutes == 0 {
		j, log, err := s.job(ctx, string(in.ID))
		if err != nil {
			return nil, err
		}
		var ok bool
		if minutes, ok = assess.Warming(s.caseOf(j, log), s.labels.find); in.Body.Kind != assess.StayWarm || !ok {
			return nil, huma.Error422UnprocessableEntity("Say for how many minutes. How long it warms is known only with its label, its temperature and that of a warmer room.")
		}
	}
	rest := store.Rest{
		ID:       string(in.Body.ID),
		JobID:    string(in.ID),
		Kind:     cmp.Or(in.Body.Kind, assess.StayRest),
		ByID:     p.ID,
		StartsAt: now,
		EndsAt:   now.Add(time.Duration(minutes * float64(time.Minute))),
	}
	if err := s.Store.AddRest(ctx, p.WorkshopID, rest); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, string(in.ID))
}

func (s *server) endRests(ctx context.Context, in *OfJob) (*sheetReply, error) {
	if err := s.Store.EndRests(ctx, who(ctx).WorkshopID, string(in.ID)); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, string(in.ID))
}
