package api

import (
	"cmp"
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5"

	"grapnel/core/season"
	"grapnel/core/station"
	"grapnel/internal/store"
)

// feedPath is where calendars are asked for, with a secret that is somebody's own.
const feedPath = "/calendar/"

type feedBody struct {
	On   bool   `json:"on"             doc:"there is an address"`
	Path string `json:"path,omitempty" doc:"the address on this server; told once, when it is made"`
}

// madeFeed tells the address that a new secret stands in.
func madeFeed(secret string) feedBody { return feedBody{On: true, Path: feedPath + secret + ".ics"} }

func (s *server) getFeed(ctx context.Context, _ *nothing) (*output[feedBody], error) {
	p := who(ctx)
	has, err := s.Store.HasFeed(ctx, p.WorkshopID, p.ID)
	if err != nil {
		return nil, answer(err)
	}
	return replied(feedBody{On: has})
}

// makeFeed gives somebody a new address; the one before is over.
func (s *server) makeFeed(ctx context.Context, _ *nothing) (*output[feedBody], error) {
	p, secret := who(ctx), rand.Text()
	if err := s.Store.SetFeed(ctx, p.WorkshopID, p.ID, secret); err != nil {
		return nil, answer(err)
	}
	return replied(madeFeed(secret))
}

func (s *server) dropFeed(ctx context.Context, _ *nothing) (*output[feedBody], error) {
	p := who(ctx)
	if err := s.Store.SetFeed(ctx, p.WorkshopID, p.ID, ""); err != nil {
		return nil, answer(err)
	}
	return replied(feedBody{})
}

func (s *server) getShopFeed(ctx context.Context, _ *nothing) (*output[feedBody], error) {
	has, err := s.Store.HasShopFeed(ctx, who(ctx).WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	return replied(feedBody{On: has})
}

// makeShopFeed gives the workshop a new calendar address; the one before is over.
func (s *server) makeShopFeed(ctx context.Context, _ *nothing) (*output[feedBody], error) {
	secret := rand.Text()
	if err := s.Store.SetShopFeed(ctx, who(ctx).WorkshopID, actor(ctx), secret); err != nil {
		return nil, answer(err)
	}
	return replied(madeFeed(secret))
}

func (s *server) dropShopFeed(ctx context.Context, _ *nothing) (*output[feedBody], error) {
	if err := s.Store.SetShopFeed(ctx, who(ctx).WorkshopID, actor(ctx), ""); err != nil {
		return nil, answer(err)
	}
	return replied(feedBody{})
}

// feedOf gives who reads a calendar by a secret: a person, or a workshop as nobody in
// particular.
func (s *server) feedOf(ctx context.Context, secret string) (store.Person, error) {
	p, err := s.Store.FeedOf(ctx, secret)
	if !errors.Is(err, store.ErrNotFound) {
		return p, err
	}
	ws, err := s.Store.ShopFeedOf(ctx, secret)
	return store.Person{WorkshopID: ws.ID, Workshop: ws.Name, Temperature: "C", Role: store.Technician}, err
}

// calendar answers a calendar program that has an address.
func (s *server) calendar(w http.ResponseWriter, r *http.Request) {
	secret := strings.TrimSuffix(chi.URLParam(r, "secret"), ".ics")
	p, err := s.feedOf(r.Context(), secret)
	switch {
	case errors.Is(err, store.ErrNotFound) || secret == "":
		problem(w, http.StatusNotFound, "There is no calendar at this address. Ask the workshop for the one that holds now.")
		return
	case err != nil:
		slog.ErrorContext(r.Context(), "calendar", "error", err)
		problem(w, http.StatusServiceUnavailable, noAnswer)
		return
	}
	ctx := context.WithValue(r.Context(), personKey{}, signed{Person: p})
	text, err := s.calendarOf(ctx)
	if err != nil {
		slog.ErrorContext(ctx, "calendar", "error", err)
		problem(w, http.StatusServiceUnavailable, noAnswer)
		return
	}
	w.Header().Set("Content-Type", "text/calendar; charset=utf-8")
	w.Header().Set("Cache-Control", "private, max-age=300")
	_, _ = w.Write([]byte(text))
}

// mostEvents of one battery stand in a calendar: what comes after them comes later.
const mostEvents = 8

// calendarOf gives the dates of all that stands: what was missed stands on today.
func (s *server) calendarOf(ctx context.Context) (string, error) {
	all, err := s.Store.AllStored(ctx, who(ctx).WorkshopID)
	if err != nil {
		return "", err
	}
	lines, at, err := s.storedLines(ctx, all)
	if err != nil {
		return "", err
	}
	cal := newCalendar("Grapnel: " + who(ctx).Workshop)
	now := s.Now().UTC()
	add := func(l storedLine, code, on string, says fmt.Stringer) {
		day, err := time.Parse(time.DateOnly, max(on, at.today))
		if err != nil {
			return
		}
		e := cal.AddEvent(fmt.Sprintf("%s-%s-%s@grapnel", l.ID, code, on))
		e.SetDtStampTime(now)
		e.SetAllDayStartAt(day)
		e.SetAllDayEndAt(day.AddDate(0, 0, 1))
		e.SetSummary(fmt.Sprintf("%s %s: %s", l.Tag, l.Vehicle, says))
		if l.Lot != "" {
			e.SetLocation(strings.TrimSpace(fmt.Sprintf("%s %s %s", l.Lot, l.Row, bayWord(l.Bay))))
		}
	}
	for _, l := range lines {
		if f := l.Now.Frost; f != nil {
			add(l, "frost", f.On, f.Says)
		}
		for _, n := range l.Now.Needs[:min(mostEvents, len(l.Now.Needs))] {
			add(l, n.Code, n.Date, n.Do)
		}
	}
	checks, err := s.Store.NextChecks(ctx, who(ctx).WorkshopID, now.AddDate(0, 0, -checksBack).Format(time.DateOnly), mostChecks)
	if err != nil {
		return "", err
	}
	for _, c := range checks {
		nextLook(cal, c, now)
	}
	open, _, err := s.Store.Jobs(ctx, who(ctx).WorkshopID, false, "", store.Page{Most: everyJob})
	if err != nil {
		return "", err
	}
	for _, j := range open {
		promised(cal, j, now)
	}
	return cal.Serialize(ics.WithNewLineWindows), nil
}

// How far back a look that nobody came for stands in a calendar, days, and how many do.
const (
	checksBack = 60
	mostChecks = 2000
)

func newCalendar(name string) *ics.Calendar {
	cal := ics.NewCalendar()
	cal.SetProductId("-//Grapnel//Calendar//EN")
	cal.SetName(name)
	cal.SetMethod(ics.MethodPublish)
	return cal
}

// nextLook is the day on which a battery is looked at again.
func nextLook(cal *ics.Calendar, c store.NextCheck, now time.Time) {
	day, err := time.Parse(time.DateOnly, c.On)
	if err != nil {
		return
	}
	e := cal.AddEvent(fmt.Sprintf("%s-look@grapnel", c.JobID))
	e.SetDtStampTime(now)
	e.SetAllDayStartAt(day)
	e.SetAllDayEndAt(day.AddDate(0, 0, 1))
	e.SetSummary(strings.Join(strings.Fields(fmt.Sprintf("%s %s: look at it again", c.Tag, c.Vehicle)), " "))
	if c.Customer != "" {
		e.SetDescription(c.Customer)
	}
}

// promised is when a battery in hand is promised back.
func promised(cal *ics.Calendar, j store.Job, now time.Time) {
	if j.Promised == nil {
		return
	}
	e := cal.AddEvent(fmt.Sprintf("%s-promised@grapnel", j.ID))
	e.SetDtStampTime(now)
	e.SetStartAt(*j.Promised)
	e.SetEndAt(j.Promised.Add(15 * time.Minute))
	e.SetSummary(fmt.Sprintf("%s %s: promised back", j.Battery.Tag, vehicleOf(j.Vehicle)))
}

// getCalendar gives the dates of one job as a file for a calendar.
func (s *server) getCalendar(ctx context.Context, in *OfJob) (*fileReply, error) {
	j, log, err := s.job(ctx, string(in.ID))
	if err != nil {
		return nil, err
	}
	cal, now := newCalendar("Grapnel: "+j.Battery.Tag), s.Now().UTC()
	if handed, ok := station.LastHandover(j.Case(log)); ok && handed.Word("next_check") != "" {
		nextLook(cal, store.NextCheck{JobID: j.ID, Tag: j.Battery.Tag, Vehicle: j.Vehicle.Name, Customer: j.Customer, On: handed.Word("next_check")}, now)
	}
	if j.ClosedAt == nil {
		promised(cal, j, now)
	}
	if len(cal.Events()) == 0 {
		return nil, huma.Error409Conflict("There is no date on this job yet. Say under Hand over when it is looked at again.")
	}
	return &fileReply{"text/calendar; charset=utf-8", `attachment; filename="` + fileName(j.Battery.Tag) + `.ics"`, "no-store", policy(""),
		[]byte(cal.Serialize(ics.WithNewLineWindows))}, nil
}

func bayWord(bay int) string {
	if bay == 0 {
		return ""
	}
	return fmt.Sprint(bay)
}

// dayBegins is the hour at which the clock calls what is due on a day.
const dayBegins = 8 * time.Hour

// dueStored is something that stands, or a lot of it, and needs hands on a day.
type dueStored struct {
	Tag     string    `json:"tag"     doc:"or the name of a lot"`
	Vehicle string    `json:"vehicle"`
	Path    string    `json:"path"    doc:"where it leads"`
	At      time.Time `json:"at"`
	Over    bool      `json:"over"`
	Word    string    `json:"word"`
}

// dueStored gives what stands and needs hands today or tomorrow: each battery by itself, a
// lot as one.
func (s *server) dueStored(ctx context.Context) ([]dueStored, error) {
	all, err := s.Store.AllStored(ctx, who(ctx).WorkshopID)
	if err != nil || len(all) == 0 {
		return nil, err
	}
	lines, at, err := s.storedLines(ctx, all)
	if err != nil {
		return nil, err
	}
	now := s.Now()
	today, err := time.ParseInLocation(time.DateOnly, at.today, now.Location())
	if err != nil {
		return nil, err
	}
	var out []dueStored
	lots := map[string]int{}
	for _, l := range lines {
		due, word := l.Now.Due(at.today)
		if due == "" {
			continue
		}
		if l.Lot != "" {
			if due <= at.today {
				lots[l.Lot]++
			}
			continue
		}
		day, err := time.ParseInLocation(time.DateOnly, due, now.Location())
		if err != nil {
			return nil, err
		}
		when := day.Add(dayBegins)
		if day.Before(today) || l.Now.Frost != nil {
			when = now // a missed one moves up, and a frost waits for no morning
		}
		out = append(out, dueStored{l.Tag, l.Vehicle, "/season/" + l.ID, when, !when.After(now), word.String()})
	}
	for lot, n := range lots {
		when := today.Add(dayBegins)
		word := season.LotDue(n).String()
		out = append(
			out,
			dueStored{lot, word, "/season/round?lot=" + url.QueryEscape(lot), when, !when.After(now), word},
		)
	}
	slices.SortFunc(out, func(a, b dueStored) int { return cmp.Or(a.At.Compare(b.At), cmp.Compare(a.Tag, b.Tag)) })
	return out, nil
}
