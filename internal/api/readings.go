package api

import (
	"context"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/reading"
	"grapnel/internal/store"
)

// readingView is a reading with who took it and what became of it.
type readingView struct {
	ID         string          `json:"id" format:"uuid"`
	Reading    reading.Reading `json:"reading"`
	At         time.Time       `json:"at"`
	By         string          `json:"by"`
	Replaces   string          `json:"replaces,omitempty" doc:"the reading this one corrects"`
	ReplacedBy string          `json:"replaced_by,omitempty" doc:"the reading that corrects this one"`
}

func viewReadings(all []store.StoredReading) []readingView {
	by := map[string]string{}
	for _, r := range all {
		by[r.Replaces] = r.ID
	}
	out := make([]readingView, len(all))
	for i, r := range all {
		out[i] = readingView{r.ID, r.Reading, r.At, r.By, r.Replaces, by[r.ID]}
	}
	return out
}

// restView is a rest under way.
type restView struct {
	ID       string    `json:"id" format:"uuid"`
	StartsAt time.Time `json:"starts_at"`
	EndsAt   time.Time `json:"ends_at"`
}

// asked is a job with a reading that is being added to it.
type asked struct {
	job      store.Job
	readings []store.StoredReading
	reading  store.StoredReading
}

// ask reads the job and checks the reading against its battery.
func (s *server) ask(ctx context.Context, jobID, id, replaces string, r reading.Reading) (asked, error) {
	p := who(ctx)
	j, err := s.Store.Job(ctx, p.WorkshopID, jobID)
	if err != nil {
		return asked{}, answer(err)
	}
	if wrong := j.Case(nil).CheckReading(r); len(wrong) > 0 {
		for i := range wrong {
			wrong[i].Path = "reading." + wrong[i].Path
		}
		return asked{}, refuse("body", wrong)
	}
	rs, err := s.Store.Readings(ctx, p.WorkshopID, jobID)
	if err != nil {
		return asked{}, answer(err)
	}
	stored := store.StoredReading{ID: id, JobID: jobID, Reading: r, Replaces: replaces, ByID: p.ID}
	if r.At != nil {
		stored.At = *r.At
	}
	return asked{j, rs[jobID], stored}, nil
}

// with gives the readings as they would stand with the new one.
func (a asked) with() []store.StoredReading {
	r := a.reading
	r.Place = len(a.readings) + 1
	for _, old := range a.readings {
		if old.ID == r.Replaces {
			r.Place = old.Place
		}
	}
	return append(slices.Clone(a.readings), r)
}

func (s *server) readingRoutes(api huma.API) {
	huma.Register(api, operation(http.MethodPost, "/jobs/{id}/readings", "addReading", "Add a reading, or correct one; may be repeated with the same id"),
		func(ctx context.Context, in *struct {
			IDInput
			Body struct {
				ID       string          `json:"id" format:"uuid" doc:"made by the client, UUID v7"`
				Reading  reading.Reading `json:"reading"`
				Replaces string          `json:"replaces,omitempty" format:"uuid" doc:"the reading this one corrects; both are kept"`
			}
		}) (*sheetOutput, error) {
			a, err := s.ask(ctx, in.ID, in.Body.ID, in.Body.Replaces, in.Body.Reading)
			if err != nil {
				return nil, err
			}
			if err := s.Store.AddReading(ctx, who(ctx).WorkshopID, a.reading); err != nil {
				return nil, answer(err)
			}
			return s.sheet(ctx, in.ID)
		})

	huma.Register(api, operation(http.MethodPost, "/jobs/{id}/preview", "previewReading", "What the sheet would say with a reading, without saving it"),
		func(ctx context.Context, in *struct {
			IDInput
			Body struct {
				Reading  reading.Reading `json:"reading"`
				Replaces string          `json:"replaces,omitempty" format:"uuid"`
			}
		}) (*struct{ Body Judgement }, error) {
			a, err := s.ask(ctx, in.ID, "", in.Body.Replaces, in.Body.Reading)
			if err != nil {
				return nil, err
			}
			return &struct{ Body Judgement }{judge(a.job.Case(a.with()), who(ctx))}, nil
		})

	huma.Register(api, operation(http.MethodPost, "/jobs/{id}/rests", "addRest", "Let the battery rest; may be repeated with the same id"),
		func(ctx context.Context, in *struct {
			IDInput
			Body struct {
				ID      string  `json:"id" format:"uuid" doc:"made by the client, UUID v7"`
				Minutes float64 `json:"minutes" minimum:"1" maximum:"2880"`
			}
		}) (*sheetOutput, error) {
			p := who(ctx)
			now := s.Now().UTC().Truncate(time.Second)
			rest := store.Rest{ID: in.Body.ID, JobID: in.ID, ByID: p.ID, StartsAt: now,
				EndsAt: now.Add(time.Duration(in.Body.Minutes * float64(time.Minute)))}
			if err := s.Store.AddRest(ctx, p.WorkshopID, rest); err != nil {
				return nil, answer(err)
			}
			return s.sheet(ctx, in.ID)
		})

	huma.Register(api, operation(http.MethodDelete, "/jobs/{id}/rests", "endRests", "End the rest that runs"),
		func(ctx context.Context, in *IDInput) (*sheetOutput, error) {
			if err := s.Store.EndRests(ctx, who(ctx).WorkshopID, in.ID); err != nil {
				return nil, answer(err)
			}
			return s.sheet(ctx, in.ID)
		})
}
