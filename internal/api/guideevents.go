package api

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"grapnel/core/guide"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/core/words"
	"grapnel/internal/store"
)

type eventInput struct {
	OfGuide
	Body struct {
		ID     ID         `json:"id" doc:"made by the client, UUID v7"`
		Kind   string     `json:"kind" enum:"ticked,unticked,skipped,put_back,took_off"`
		Step   string     `json:"step,omitempty" maxLength:"20"`
		Choice string     `json:"choice,omitempty" maxLength:"90" doc:"what the step found; of the new battery its tag, of two both with a comma"`
		Part   string     `json:"part,omitempty" maxLength:"20" doc:"that was put back or taken off by hand"`
		Reason string     `json:"reason,omitempty" maxLength:"300" doc:"why a battery goes in that does not suit, or is not ready; a lead's alone"`
		At     *time.Time `json:"at,omitempty" doc:"when it was done, where that was not now"`
	}
}

// derived gives an id that follows from another, so that a repeat comes to the same.
func derived(id ID, what string) string {
	return uuid.NewSHA1(uuid.MustParse(string(id)), []byte(what)).String()
}

// eventTries is how often an event is looked at anew where somebody else was quicker: two
// who tick at once do not hinder each other.
const eventTries = 25

func (s *server) addGuideEvent(ctx context.Context, in *eventInput) (out *output[guideBody], err error) {
	for range eventTries {
		var told *huma.ErrorModel
		if out, err = s.takeEvent(ctx, in); !errors.As(err, &told) || told.Type != changed {
			return out, err
		}
	}
	return out, err
}

func (s *server) takeEvent(ctx context.Context, in *eventInput) (*output[guideBody], error) {
	p := who(ctx)
	g, err := s.guideOf(ctx, string(in.ID), in.What)
	if err != nil {
		return nil, err
	}
	b := in.Body
	if g.Run == nil {
		return nil, huma.Error404NotFound("This guide is not begun yet. Begin it with what is said of the vehicle.")
	}
	// A repeat is answered as the first time was.
	if slices.ContainsFunc(g.events, func(e store.GuideEvent) bool { return e.ID == string(b.ID) && e.RunID == g.Run.ID }) {
		return s.viewGuide(ctx, string(in.ID), in.What)
	}
	e := store.GuideEvent{ID: string(b.ID), JobID: string(in.ID), RunID: g.Run.ID, ByID: p.ID,
		Event: guide.Event{Kind: b.Kind, Choice: words.Clean(b.Choice), At: s.Now()}}
	if b.At != nil && b.At.Before(e.At) {
		e.At = *b.At
	}
	if b.Kind == guide.PutBack || b.Kind == guide.TookOff {
		part, ok := guide.PartOf(b.Part)
		if !ok {
			return nil, huma.Error422UnprocessableEntity(fmt.Sprintf("%q is no part that a guide takes off. Say one of %s.",
				b.Part, partCodes()))
		}
		if e.Back = []string{part.Code}; b.Kind == guide.TookOff {
			e.Off, e.Back = e.Back, nil
		}
		return s.done(ctx, in, g, e, nil, false)
	}
	if g.Run.EndedAt != nil {
		return nil, conflict(closed, "This guide is done. What is still off can be put back; for more begin it anew.")
	}
	if len(g.Hazards) > 0 {
		// What was done before the hazard was found was done, whenever the line brings it.
		if g.Guide = s.guideAt(g, e.At); len(g.Hazards) > 0 {
			return nil, conflict(unsafe, g.Refusal.String())
		}
	}
	step, ok := g.Guide.Step(b.Step)
	if !ok {
		return nil, huma.Error422UnprocessableEntity(fmt.Sprintf("There is no step %q in this guide. Look again: it may have changed with the vehicle.", b.Step))
	}
	e.Step = step.Code
	was, done := g.progress.Done[step.Code]
	switch b.Kind {
	case guide.Unticked:
		if !done {
			return s.viewGuide(ctx, string(in.ID), in.What)
		}
		if later := g.Needing(step, g.progress); len(later) > 0 && was.Kind == guide.Ticked {
			return nil, conflict(order, fmt.Sprintf("%s came after. Take that back first.", quoted(later[len(later)-1].Do)))
		}
		if was.Kind == guide.Ticked {
			e.Off, e.Back = was.Off, was.Back
		}
		r, err := s.withdrawn(g, in, step)
		if err != nil {
			return nil, err
		}
		return s.done(ctx, in, g, e, r, false)
	case guide.Skipped:
		if slices.Contains(step.Enter, "fit") {
			return nil, conflict(unfit, "Say which battery goes in: nothing is taken out before.")
		}
	default:
		if first := g.Before(step, g.progress); len(first) > 0 {
			return nil, conflict(order, fmt.Sprintf("First: %s.", quoted(first[0].Do)))
		}
		if len(step.Choices) > 0 && !slices.ContainsFunc(step.Choices, func(c guide.Choice) bool { return c.Code == e.Choice }) {
			return nil, huma.Error422UnprocessableEntity("Say what was found: " + choicesOf(step) + ".")
		}
		if slices.Contains(step.Enter, "fit") {
			if e.Choice, err = s.chosen(ctx, g, e.Choice, words.Clean(b.Reason)); err != nil {
				return nil, err
			}
		}
		e.Off, e.Back = step.Off, step.Back
	}
	// Done once more: what it was before goes first.
	if done && was.Kind == b.Kind && was.Choice == e.Choice {
		return s.viewGuide(ctx, string(in.ID), in.What)
	}
	var r *store.StoredReading
	if b.Kind == guide.Ticked {
		if one, ok := step.Records(e.Choice); ok {
			at := e.At
			one.At = &at
			prop, err := s.propose(ctx, string(in.ID), derived(b.ID, "reading"), "", one)
			if err != nil {
				return nil, err
			}
			r = &prop.reading
		}
	}
	after := g.After(append(eventsOf(g.events, g.Run.ID), e.Event))
	return s.done(ctx, in, g, e, r, after.Now == "")
}

func partCodes() string {
	var all []string
	for _, p := range guide.Parts() {
		all = append(all, p.Code)
	}
	return strings.Join(all, ", ")
}

func quoted(t words.Text) string { return "“" + t.String() + "”" }

func choicesOf(step guide.Task) string {
	var all []string
	for _, c := range step.Choices {
		all = append(all, c.Code)
	}
	return strings.Join(all, ", ")
}

// withdrawn gives the withdrawal of the reading that a ticked step put into the log; nil
// where it put in none, or it no longer counts.
func (s *server) withdrawn(g *guideBody, in *eventInput, step guide.Task) (*store.StoredReading, error) {
	for i := len(g.events) - 1; i >= 0; i-- {
		e := g.events[i]
		if e.RunID != g.Run.ID || e.Step != step.Code || e.Kind != guide.Ticked {
			continue
		}
		id := derived(ID(e.ID), "reading")
		if !slices.ContainsFunc(store.InEffect(g.log), func(r store.StoredReading) bool { return r.ID == id }) {
			return nil, nil
		}
		return &store.StoredReading{JobID: string(in.ID), ByID: e.ByID,
			Entry: reading.Entry{ID: derived(in.Body.ID, "withdrawal"), Reading: reading.Of(reading.Withdrawn, nil),
				Replaces: id}}, nil
	}
	return nil, nil
}

// done saves an event, with all that hangs on the last one of a replacement.
func (s *server) done(ctx context.Context, in *eventInput, g *guideBody, e store.GuideEvent, r *store.StoredReading,
	ends bool) (*output[guideBody], error) {
	p := who(ctx)
	var err error
	if ends && in.What == guide.Replacing {
		err = s.fitted(ctx, in, g, e)
		if tags := strings.Split(g.progress.Done["new"].Choice, ","); err == nil && len(tags) == 2 {
			err = s.Store.SetTwin(ctx, p.WorkshopID, actor(ctx), tags[0], tags[1])
		}
	} else {
		err = s.Store.AddGuideEvent(ctx, p.WorkshopID, e, len(g.events), r, ends)
	}
	if err != nil {
		return nil, answer(err)
	}
	if ends && in.What == guide.Waking {
		if err := s.woken(ctx, g.job.Battery.Tag); err != nil {
			return nil, answer(err)
		}
	}
	s.live.wake(p.WorkshopID)
	return s.viewGuide(ctx, string(in.ID), in.What)
}

// woken ends the storing of a battery whose guide is done; one that did not stand is no
// matter.
func (s *server) woken(ctx context.Context, tag string) error {
	p := who(ctx)
	one, err := s.Store.StoredTagged(ctx, p.WorkshopID, tag)
	if errors.Is(err, store.ErrNotFound) {
		return nil
	}
	if err != nil {
		return err
	}
	return s.Store.Wake(ctx, p.WorkshopID, actor(ctx), one.ID, true)
}

// fitted ends a replacement: the old battery's sheet says so, the new one's goes on.
func (s *server) fitted(ctx context.Context, in *eventInput, g *guideBody, e store.GuideEvent) error {
	p := who(ctx)
	tags := strings.Split(g.progress.Done["new"].Choice, ",")
	one, err := s.Store.OnShelf(ctx, p.WorkshopID, tags[0])
	if err != nil {
		return err
	}
	ws, err := s.Store.Workshop(ctx, p.WorkshopID)
	if err != nil {
		return err
	}
	fields := reading.Fields{"with": strings.Join(tags, ", ")}
	if e.Kind == guide.Ticked && e.Choice != "" {
		fields["old"] = e.Choice
	}
	if g.Run.Reason != "" {
		fields["reason"] = g.Run.Reason
	}
	replaced := reading.Of(station.Replaced, fields)
	at := e.At
	replaced.At = &at
	prop, err := s.propose(ctx, string(in.ID), derived(in.Body.ID, "reading"), "", replaced)
	if err != nil {
		return err
	}
	battery := one.Item.Battery()
	battery.Fitted = s.Now().Format("2006-01")
	job := store.Job{ID: derived(in.Body.ID, "job"), Vehicle: g.job.Vehicle, Battery: battery, Customer: g.job.Customer,
		Promised: g.job.Promised,
		Note:     "In place of " + g.job.Battery.Tag, Conditions: reading.Conditions{AmbientC: g.job.Conditions.AmbientC}, Rules: rules.Rules(ws.Rules),
		OpenedByID: p.ID, Follows: g.job.ID, Needs: g.job.Needs, SameBattery: true}
	return s.Store.Fit(ctx, p.WorkshopID, actor(ctx), store.Fitted{Event: e, Seen: len(g.events), Reading: prop.reading,
		Job: job, Tags: tags})
}
