package api

import (
	"cmp"
	"context"
	"errors"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/document"
	"grapnel/core/guide"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/internal/store"
)

// choices is what a new job picks from.
type choices struct {
	Classes     []guide.ClassDefault `json:"classes"`
	Complaints  []guide.Word         `json:"complaints"`
	Chemistries []guide.Build        `json:"chemistries"`
	Surfaces    []guide.Word         `json:"surfaces"`
	Standards   []rating.Standard    `json:"standards"`
	NextTag     string               `json:"next_tag"`
	AmbientC    *float64             `json:"ambient_c,omitempty" doc:"of the last job opened in the past hours"`
}

// moment is a time at which a battery needs hands.
type moment struct {
	JobID   string    `json:"job_id" format:"uuid"`
	Tag     string    `json:"tag"`
	Vehicle string    `json:"vehicle"`
	At      time.Time `json:"at"`
	Word    string    `json:"word"`
}

type rulesBody struct {
	Rules     rules.Rules  `json:"rules"`
	Version   int          `json:"version"`
	Book      []rules.Rule `json:"book"`
	MayChange bool         `json:"may_change"`
}

type rulesOutput struct{ Body rulesBody }

// ambientHours is how long a temperature entered for one job is a fair first
// guess for the next.
const ambientHours = 6

func (s *server) shopRoutes(api huma.API) {
	huma.Register(api, operation(http.MethodGet, "/choices", "getChoices", "What a new job picks from, with what is usual"),
		func(ctx context.Context, _ *struct{}) (*struct{ Body choices }, error) {
			ws, err := s.Store.Workshop(ctx, who(ctx).WorkshopID)
			if err != nil {
				return nil, answer(err)
			}
			tag, err := s.Store.NextTag(ctx, ws.ID)
			if err != nil {
				return nil, answer(err)
			}
			jobs, err := s.Store.Jobs(ctx, ws.ID, false, "")
			if err != nil {
				return nil, answer(err)
			}
			out := choices{guide.Defaults, guide.Complaints, guide.Chemistries, guide.Surfaces, rating.Standards, tag, nil}
			if len(jobs) > 0 && s.Now().Sub(jobs[0].OpenedAt) < ambientHours*time.Hour {
				out.AmbientC = jobs[0].Conditions.AmbientC
			}
			return &struct{ Body choices }{out}, nil
		})

	huma.Register(api, operation(http.MethodGet, "/batteries/{tag}", "getBattery", "The label last read from the battery of a tag"),
		func(ctx context.Context, in *struct {
			Tag string `path:"tag" maxLength:"40"`
		}) (*struct{ Body reading.Battery }, error) {
			b, err := s.Store.BatteryTagged(ctx, who(ctx).WorkshopID, in.Tag)
			return &struct{ Body reading.Battery }{b}, answer(err)
		})

	huma.Register(api, operation(http.MethodGet, "/clock", "getClock", "Every moment of the shop that needs hands, soonest first"),
		func(ctx context.Context, _ *struct{}) (*struct {
			Body struct {
				Now     time.Time `json:"now"`
				Moments []moment  `json:"moments"`
			}
		}, error) {
			out := &struct {
				Body struct {
					Now     time.Time `json:"now"`
					Moments []moment  `json:"moments"`
				}
			}{}
			out.Body.Now, out.Body.Moments = s.Now(), []moment{}
			lines, err := s.lines(ctx, false, "")
			if err != nil {
				return nil, err
			}
			for _, l := range lines {
				if l.Rest != nil {
					out.Body.Moments = append(out.Body.Moments, moment{l.ID, l.Tag, l.Vehicle, l.Rest.EndsAt, "rest over"})
				}
			}
			slices.SortFunc(out.Body.Moments, func(a, b moment) int { return cmp.Or(a.At.Compare(b.At), cmp.Compare(a.Tag, b.Tag)) })
			return out, nil
		})

	huma.Register(api, operation(http.MethodGet, "/rules", "getRules", "The house rules and the schools to choose from"),
		func(ctx context.Context, _ *struct{}) (*rulesOutput, error) { return s.rules(ctx) })

	huma.Register(api, operation(http.MethodPut, "/rules", "setRules", "Choose the house rules; a lead only. Open jobs keep theirs"),
		func(ctx context.Context, in *struct {
			Body struct {
				Rules   rules.Rules `json:"rules"`
				Version int         `json:"version"`
			}
		}) (*rulesOutput, error) {
			p := who(ctx)
			if p.Role != store.Lead {
				return nil, huma.Error403Forbidden("Only a lead may change the house rules. Ask the lead of your workshop.")
			}
			if err := in.Body.Rules.Check(); err != nil {
				var field *rules.FieldError
				if errors.As(err, &field) {
					return nil, refuse("body.rules", document.Problems{{Path: field.Field, Message: field.Message}})
				}
				return nil, answer(err)
			}
			if err := s.Store.SetRules(ctx, p.WorkshopID, in.Body.Rules, in.Body.Version); err != nil {
				return nil, answer(err)
			}
			return s.rules(ctx)
		})
}

func (s *server) rules(ctx context.Context) (*rulesOutput, error) {
	p := who(ctx)
	ws, err := s.Store.Workshop(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	return &rulesOutput{rulesBody{ws.Rules, ws.RulesVersion, rules.Book, p.Role == store.Lead}}, nil
}
