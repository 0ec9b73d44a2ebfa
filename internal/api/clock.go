package api

import (
	"cmp"
	"context"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/assess"
	"grapnel/internal/store"
)

// Moment is a time of a job at which it needs hands, with what was said of it.
type Moment struct {
	Kind    string    `json:"kind" enum:"rest,warm,parts,jump,check,ready,full"`
	At      time.Time `json:"at"`
	Word    string    `json:"word"`
	Over    bool      `json:"over" doc:"the time has come: hands are wanted"`
	Call    string    `json:"call" doc:"what the clock calls when the time comes"`
	Station string    `json:"station" doc:"where the work goes on then"`
	Snoozed bool      `json:"snoozed" doc:"somebody put it off"`
	To      string    `json:"to,omitempty" doc:"who is to go"`
}

// clockMoment is a moment on the shop's clock.
type clockMoment struct {
	JobID   string `json:"job_id" format:"uuid"`
	Tag     string `json:"tag"`
	Vehicle string `json:"vehicle"`
	Moment
}

type clock struct {
	Now     time.Time     `json:"now"`
	Moments []clockMoment `json:"moments"`
	Stands  []dueStored   `json:"stands" doc:"what stands and needs hands today or tomorrow, soonest first"`
	Pending int           `json:"pending" doc:"charges that are still being worked out: ask again"`
}

func (s *server) getClock(ctx context.Context, _ *nothing) (*output[clock], error) {
	jobs, _, err := s.Store.Jobs(ctx, who(ctx).WorkshopID, false, "", store.Page{Most: everyJob})
	if err != nil {
		return nil, answer(err)
	}
	lines, pending, err := s.lines(ctx, jobs)
	if err != nil {
		return nil, err
	}
	out := clock{s.Now(), []clockMoment{}, []dueStored{}, pending}
	for _, l := range lines {
		for _, m := range l.Moments {
			out.Moments = append(out.Moments, clockMoment{JobID: l.ID, Tag: l.Tag, Vehicle: l.Vehicle, Moment: m})
		}
	}
	stands, err := s.dueStored(ctx)
	if err != nil {
		return nil, answer(err)
	}
	out.Stands = append(out.Stands, stands...)
	slices.SortFunc(out.Moments, func(a, b clockMoment) int {
		return cmp.Or(a.At.Compare(b.At), cmp.Compare(a.Tag, b.Tag), cmp.Compare(a.Kind, b.Kind))
	})
	return replied(out)
}

// moments gives the moments of a job with what was said of them.
func moments(a assess.Assessment, stay *assess.Stay, c *charging, said map[string]store.Said, now time.Time) []Moment {
	out := []Moment{}
	for _, m := range assess.Moments(a, stay, c.foretold(), saidOf(said), now) {
		one := Moment{Kind: m.Kind, At: m.At, Word: m.Word, Over: m.Over, Call: m.Call, Station: m.Station, Snoozed: m.Snoozed}
		if m.Holds {
			one.To = said[m.Kind].Person
		}
		out = append(out, one)
	}
	return out
}

// saidOf is what was said, as core takes it.
func saidOf(all map[string]store.Said) map[string]assess.Said {
	out := make(map[string]assess.Said, len(all))
	for kind, d := range all {
		one := assess.Said{At: d.At, Done: d.Done}
		if d.Until != nil {
			one.Until = *d.Until
		}
		out[kind] = one
	}
	return out
}

// stayOf is what a battery is left alone for, as core takes it.
func stayOf(r *store.Rest) *assess.Stay {
	if r == nil {
		return nil
	}
	return &assess.Stay{Kind: r.Kind, From: r.StartsAt, To: r.EndsAt}
}

type sayInput struct {
	OfJob
	Kind string `path:"kind" enum:"rest,warm,parts,jump,check,ready,full"`
	Body struct {
		Done     bool    `json:"done,omitempty" doc:"somebody saw to it"`
		Minutes  float64 `json:"minutes,omitempty" minimum:"0" maximum:"1440" doc:"to call again after so many; 0 for not"`
		PersonID ID      `json:"person_id,omitempty" doc:"who is to go"`
	}
}

// sayMoment keeps what somebody says of a moment, and gives the clock as it is then. That
// it says nothing takes back what was said.
func (s *server) sayMoment(ctx context.Context, in *sayInput) (*output[clock], error) {
	p := who(ctx)
	now := s.Now().UTC()
	said := store.Said{JobID: string(in.ID), Kind: in.Kind, At: now, Done: in.Body.Done, PersonID: string(in.Body.PersonID), ByID: p.ID}
	if in.Body.Done && in.Body.Minutes > 0 {
		return nil, huma.Error422UnprocessableEntity("Done, or later: not both. Leave out done, or minutes.")
	}
	if m := in.Body.Minutes; m > 0 {
		until := now.Add(time.Duration(m * float64(time.Minute)))
		said.Until = &until
	}
	if err := s.Store.Say(ctx, p.WorkshopID, said); err != nil {
		return nil, answer(err)
	}
	s.live.wake(p.WorkshopID)
	return s.getClock(ctx, nil)
}

type colleagues struct {
	People []store.Colleague `json:"people"`
}

func (s *server) getColleagues(ctx context.Context, _ *nothing) (*output[colleagues], error) {
	all, err := s.Store.Colleagues(ctx, who(ctx).WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	return replied(colleagues{all})
}
