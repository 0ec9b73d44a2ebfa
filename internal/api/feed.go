package api

import (
	"cmp"
	"context"
	"crypto/rand"
	"encoding/base64"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/go-chi/chi/v5"

	"grapnel/core/season"
	"grapnel/internal/store"
)

// feedPath is where calendars are asked for, with a secret that is somebody's own.
const feedPath = "/calendar/"

type feedBody struct {
	On   bool   `json:"on"             doc:"there is an address"`
	Path string `json:"path,omitempty" doc:"the address on this server; told once, when it is made"`
}

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
	secret := make([]byte, 24)
	if _, err := rand.Read(secret); err != nil {
		return nil, answer(err)
	}
	text := base64.RawURLEncoding.EncodeToString(secret)
	p := who(ctx)
	if err := s.Store.SetFeed(ctx, p.WorkshopID, p.ID, text); err != nil {
		return nil, answer(err)
	}
	return replied(feedBody{On: true, Path: feedPath + text + ".ics"})
}

func (s *server) dropFeed(ctx context.Context, _ *nothing) (*output[feedBody], error) {
	p := who(ctx)
	if err := s.Store.SetFeed(ctx, p.WorkshopID, p.ID, ""); err != nil {
		return nil, answer(err)
	}
	return replied(feedBody{})
}

// calendar answers a calendar program that has an address.
func (s *server) calendar(w http.ResponseWriter, r *http.Request) {
	secret := strings.TrimSuffix(chi.URLParam(r, "secret"), ".ics")
	p, err := s.Store.FeedOf(r.Context(), secret)
	switch {
	case errors.Is(err, store.ErrNotFound) || secret == "":
		problem(w, http.StatusNotFound, "There is no calendar at this address. Make a new one under Season.")
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
	cal := ics.NewCalendar()
	cal.SetProductId("-//Grapnel//Season//EN")
	cal.SetName("Grapnel: season")
	cal.SetMethod(ics.MethodPublish)
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
	return cal.Serialize(), nil
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
	today, err := time.Parse(time.DateOnly, at.today)
	if err != nil {
		return nil, err
	}
	now := s.Now()
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
		day, err := time.Parse(time.DateOnly, due)
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
