package api

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/document"
	"grapnel/core/season"
	"grapnel/core/station"
	"grapnel/core/words"
	"grapnel/internal/store"
)

type OfStored struct {
	ID ID `path:"id"`
}

// Resolve takes an id in capitals for the same id.
func (in *OfStored) Resolve(huma.Context) []error { return in.ID.lower() }

// lookView is what was seen of a stored battery.
type lookView struct {
	ID    string      `json:"id"                   format:"uuid"`
	Look  season.Look `json:"look"`
	At    time.Time   `json:"at"`
	By    string      `json:"by"`
	Taken bool        `json:"taken_back,omitempty"               doc:"it no longer counts"`
}

type storedBody struct {
	Line  storedLine    `json:"line"`
	Doc   season.Stored `json:"doc"`
	Plan  season.Season `json:"plan"`
	Looks []lookView    `json:"looks"              doc:"the oldest first, what was taken back among them"`
	PutAt time.Time     `json:"put_at"`
	PutBy string        `json:"put_by"`
	Woken *time.Time    `json:"woken_at,omitempty"`
	JobID string        `json:"job_id,omitempty"   doc:"a sheet of this battery that is open"`
}

func (s *server) getStored(ctx context.Context, in *OfStored) (*output[storedBody], error) {
	return s.stored(ctx, string(in.ID))
}

func (s *server) stored(ctx context.Context, id string) (*output[storedBody], error) {
	p := who(ctx)
	one, err := s.Store.StoredByID(ctx, p.WorkshopID, id)
	if err != nil {
		return nil, answer(err)
	}
	at, err := s.site(ctx, one.Doc.From)
	if err != nil {
		return nil, err
	}
	looks, err := s.Store.AllLooks(ctx, p.WorkshopID, id)
	if err != nil {
		return nil, answer(err)
	}
	var counts []store.StoredLook
	out := storedBody{Doc: one.Doc, Looks: []lookView{}, PutAt: one.PutAt, PutBy: one.PutBy, Woken: one.WokenAt}
	for _, l := range looks {
		out.Looks = append(out.Looks, lookView{l.ID, s.dayedLook(l), l.At, l.By, l.BackAt != nil})
		if l.BackAt == nil {
			counts = append(counts, l)
		}
	}
	r := one.Doc.Request(at.place, at.today, s.looksOf(counts), at.rules)
	if out.Plan, err = r.Make(s.labels.find, voice(p)); err != nil {
		return nil, answer(err)
	}
	f, err := r.Follow(s.labels.find, voice(p))
	if err != nil {
		return nil, answer(err)
	}
	out.Line = s.storedLineOf(one, counts, f)
	open, err := s.Store.OpenOfTag(ctx, p.WorkshopID, one.Doc.Battery.Tag)
	if err != nil {
		return nil, answer(err)
	}
	if len(open) > 0 {
		out.JobID = open[0]
	}
	return replied(out)
}

type planSeasonInput struct {
	RawBody []byte `contentType:"application/json"`
}

// planSeason plans a season from a document; one without a place stands at the shop's.
func (s *server) planSeason(ctx context.Context, in *planSeasonInput) (*output[season.Season], error) {
	at, err := s.site(ctx, "")
	if err != nil {
		return nil, err
	}
	r, err := season.DecodeAt(in.RawBody, at.place, at.rules)
	if err != nil {
		return nil, answer(err)
	}
	p, err := r.Make(s.labels.find, voice(who(ctx)))
	if err != nil {
		return nil, answer(err)
	}
	return replied(p)
}

type proposedSeason struct {
	Doc   season.Stored `json:"doc"`
	Known []words.Text  `json:"known"               doc:"what of it was read on the sheet"`
	Until string        `json:"stored_as,omitempty" doc:"it stands already, under this id"`
}

// proposeSeason fills in a season from what a sheet knows.
func (s *server) proposeSeason(ctx context.Context, in *OfJob) (*output[proposedSeason], error) {
	j, log, err := s.job(ctx, string(in.ID))
	if err != nil {
		return nil, err
	}
	c := s.caseOf(j, log)
	out := proposedSeason{Doc: season.Proposed(j.Vehicle, j.Battery, s.Now()), Known: []words.Text{}}
	for _, r := range c.Readings {
		if r.Kind == station.Drain {
			if ma, ok := r.Number("milliamps"); ok && ma >= 0 {
				out.Doc.DrainMA = &ma
			}
		}
	}
	g, err := s.glanceAt(ctx, []store.Job{j})
	if err != nil {
		return nil, err
	}
	if est := g[j.ID].CCAEst; est != nil && est.OfRatingPct > 0 {
		out.Doc.Start.HealthPct = min(100, max(5, float64(est.OfRatingPct)))
		out.Known = append(out.Known, words.Say(knownHealth, "pct", fmt.Sprintf("%.0f %%", out.Doc.Start.HealthPct)))
	}
	if out.Doc.DrainMA != nil {
		out.Known = append(out.Known, words.Say(knownDrain, "ma", fmt.Sprintf("%g mA", *out.Doc.DrainMA)))
	}
	if soc := g[j.ID].SOC; soc != nil {
		out.Known = append(out.Known, words.Say(knownSOC, "pct", fmt.Sprintf("%.0f %%", soc.Best)))
	}
	if one, err := s.Store.StoredTagged(ctx, who(ctx).WorkshopID, j.Battery.Tag); err == nil {
		out.Until = one.ID
	}
	return replied(out)
}

const (
	knownHealth = "It cranks {pct} of its label."
	knownDrain  = "{ma} flow with everything asleep."
	knownSOC    = "It is charged {pct} now: full before it is put away."
)

type addStoredInput struct {
	ID      ID     `path:"id" doc:"made by the client, UUID v7"`
	Same    bool   `          doc:"the tag is of this battery, whatever its label said before" query:"same_battery"`
	RawBody []byte `                                                                                                contentType:"application/json"`
}

// Resolve takes an id in capitals for the same id.
func (in *addStoredInput) Resolve(huma.Context) []error { return in.ID.lower() }

// reckons says what is wrong with a stored battery whose season cannot be reckoned: its label
// is of no battery there is.
func (s *server) reckons(ctx context.Context, docs ...season.Stored) error {
	at, err := s.site(ctx, "")
	if err != nil {
		return err
	}
	var wrong document.Problems
	for _, d := range docs {
		r := d.Request(at.place, at.today, nil, at.rules)
		_, err := r.Follow(s.labels.find, voice(who(ctx)))
		var some document.Problems
		switch {
		case errors.As(err, &some):
			for _, p := range some {
				wrong = append(
					wrong,
					document.Problem{Path: strings.TrimSpace(d.Battery.Tag + " " + p.Path), Message: p.Message},
				)
			}
		case err != nil:
			return answer(err)
		}
		if ctx.Err() != nil {
			return answer(ctx.Err())
		}
	}
	if len(wrong) > 0 {
		return answer(wrong.Few())
	}
	return nil
}

func (s *server) addStored(ctx context.Context, in *addStoredInput) (*output[storedBody], error) {
	d, err := season.DecodeStored(in.RawBody)
	if err != nil {
		return nil, answer(err)
	}
	if err := s.reckons(ctx, d); err != nil {
		return nil, err
	}
	p := who(ctx)
	if err := s.Store.PutAway(ctx, p.WorkshopID, actor(ctx), []store.Stored{{ID: string(in.ID), Doc: d, SameBattery: in.Same}}); err != nil {
		return nil, answer(err)
	}
	s.live.wake(p.WorkshopID)
	return s.stored(ctx, string(in.ID))
}

type changeStoredInput struct {
	OfStored
	Version int    `query:"version" doc:"that the change starts from"`
	RawBody []byte `                                                  contentType:"application/json"`
}

func (s *server) changeStored(ctx context.Context, in *changeStoredInput) (*output[storedBody], error) {
	d, err := season.DecodeStored(in.RawBody)
	if err != nil {
		return nil, answer(err)
	}
	if err := s.reckons(ctx, d); err != nil {
		return nil, err
	}
	p := who(ctx)
	if err := s.Store.ChangeStored(ctx, p.WorkshopID, actor(ctx), string(in.ID), in.Version, d); err != nil {
		return nil, answer(err)
	}
	s.live.wake(p.WorkshopID)
	return s.stored(ctx, string(in.ID))
}

type lookInput struct {
	OfStored
	Body struct {
		ID        ID        `json:"id" doc:"made by the client, UUID v7"`
		At        time.Time `json:"at" doc:"when it was seen"`
		RestVolts *float64  `json:"rest_volts,omitempty" minimum:"0" maximum:"20"`
		BatteryC  *float64  `json:"battery_c,omitempty" minimum:"-50" maximum:"70"`
		Charged   bool      `json:"charged,omitempty" doc:"full after it"`
		DriveMin  float64   `json:"drive_minutes,omitempty" minimum:"0" maximum:"1440"`
	}
}

// aheadOfUs is by how much a device's clock may be ahead of the server's.
const aheadOfUs = 10 * time.Minute

func (s *server) addStoredLook(ctx context.Context, in *lookInput) (*output[storedBody], error) {
	p := who(ctx)
	b := in.Body
	one, err := s.Store.StoredByID(ctx, p.WorkshopID, string(in.OfStored.ID))
	if err != nil {
		return nil, answer(err)
	}
	at := b.At.UTC()
	if now := s.Now().UTC(); at.After(now) && at.Before(now.Add(aheadOfUs)) {
		at = now
	}
	look := season.Look{
		Date:      s.day(at),
		RestVolts: b.RestVolts,
		BatteryC:  b.BatteryC,
		Charged:   b.Charged,
		DriveMin:  b.DriveMin,
	}
	if err := one.Doc.CheckLook(look, s.today()); err != nil {
		return nil, answer(err)
	}
	l := store.StoredLook{ID: string(b.ID), StoredID: one.ID, Look: look, At: at, ByID: p.ID}
	if err := s.Store.AddLook(ctx, p.WorkshopID, l); err != nil {
		return nil, answer(err)
	}
	s.live.wake(p.WorkshopID)
	return s.stored(ctx, one.ID)
}

type takeBackInput struct {
	OfStored
	Look ID `path:"look"`
}

// Resolve takes ids in capitals for the same ids.
func (in *takeBackInput) Resolve(ctx huma.Context) []error {
	return append(in.OfStored.Resolve(ctx), in.Look.lower()...)
}

func (s *server) takeBackLook(ctx context.Context, in *takeBackInput) (*output[storedBody], error) {
	p := who(ctx)
	if err := s.Store.TakeBackLook(ctx, p.WorkshopID, actor(ctx), string(in.ID), string(in.Look)); err != nil {
		return nil, answer(err)
	}
	s.live.wake(p.WorkshopID)
	return s.stored(ctx, string(in.ID))
}

type wakeInput struct {
	OfStored
	Body struct {
		Awake bool `json:"awake" doc:"false takes it back"`
	}
}

func (s *server) wakeStored(ctx context.Context, in *wakeInput) (*output[storedBody], error) {
	p := who(ctx)
	if err := s.Store.Wake(ctx, p.WorkshopID, actor(ctx), string(in.ID), in.Body.Awake); err != nil {
		return nil, answer(err)
	}
	s.live.wake(p.WorkshopID)
	return s.stored(ctx, string(in.ID))
}
