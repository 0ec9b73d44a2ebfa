package api

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/battery"
	"grapnel/core/climate"
	"grapnel/core/document"
	"grapnel/core/guide"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/season"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// storedLine is a battery that stands, in a list.
type storedLine struct {
	ID       string          `json:"id"                  format:"uuid"`
	Tag      string          `json:"tag"`
	Vehicle  string          `json:"vehicle"`
	Class    string          `json:"class"`
	Version  int             `json:"version"`
	From     string          `json:"from"                format:"date"`
	To       string          `json:"to"                  format:"date"`
	Way      string          `json:"way"`
	Lot      string          `json:"lot,omitempty"`
	Row      string          `json:"row,omitempty"`
	Bay      int             `json:"bay,omitempty"`
	Promised string          `json:"promised,omitempty"  format:"date"`
	Arrived  string          `json:"arrived,omitempty"   format:"date"`
	Looks    int             `json:"looks"                             doc:"at it, that count"`
	LookedAt *time.Time      `json:"looked_at,omitempty"`
	LookedOn string          `json:"looked_on,omitempty" doc:"the shop's day of it"`
	Now      season.Followed `json:"now"`
}

// seasonPlace is what is known of the place.
type seasonPlace struct {
	Climate   climate.Of        `json:"climate"`
	Typed     bool              `json:"typed"                 doc:"somebody typed its coldest nights; else a climate that ships stands in"`
	Means     bool              `json:"means_typed"           doc:"and how warm its months are"`
	Days      []climate.Weather `json:"days"                  doc:"of the next weeks, as they are forecast"`
	Known     string            `json:"known_until,omitempty" doc:"the last day somebody forecast"`
	Presets   []climate.Preset  `json:"presets"`
	MayChange bool              `json:"may_change"`
}

type seasonBody struct {
	Now     time.Time               `json:"now"`
	Today   string                  `json:"today"    format:"date"`
	Stored  []storedLine            `json:"stored"                 doc:"what stands, what is nearest to harm first"`
	Lots    []string                `json:"lots"`
	Place   seasonPlace             `json:"place"`
	Most    int                     `json:"most"`
	NextTag string                  `json:"next_tag"`
	Words   map[string][]words.Term `json:"words"                  doc:"vocabularies of what is chosen"`
	Caution []guide.Caution         `json:"cautions"`
	MarginC float64                 `json:"margin_c"               doc:"that the house keeps between a night and the freezing point"`
}

// followedOnce remembers how stored batteries were followed, for lists that show hundreds.
type followedOnce struct {
	mu    sync.Mutex
	known map[string]followedAs
}

type followedAs struct {
	stamp string
	season.Followed
}

// site is the place of a workshop, with what hangs on when it was last told of.
type site struct {
	place season.Place
	typed store.Climate
	today string
	rules rules.Rules
	stamp string
}

// site gives the place, for seasons that began on a day or later.
func (s *server) site(ctx context.Context, from string) (site, error) {
	p := who(ctx)
	c, err := s.Store.Climate(ctx, p.WorkshopID)
	if err != nil {
		return site{}, answer(err)
	}
	ws, err := s.Store.Workshop(ctx, p.WorkshopID)
	if err != nil {
		return site{}, answer(err)
	}
	out := site{typed: c, today: s.today(), rules: ws.Rules}
	of, ok := c.Of()
	if !ok {
		of = climate.Presets()[0].Of
	}
	now := s.Now()
	begun, err := time.Parse(time.DateOnly, from)
	if err != nil || begun.After(now) {
		begun = now
	}
	if oldest := now.AddDate(0, 0, -season.MostDays+60); begun.Before(oldest) {
		begun = oldest
	}
	days, err := s.Store.Weather(ctx, p.WorkshopID, begun, now.AddDate(0, 0, forecastDays))
	if err != nil {
		return site{}, answer(err)
	}
	out.place = season.Place{Mean: of.Mean[:], Low: of.Low[:], Days: days}
	out.stamp = fmt.Sprint(c.Weathered, " ", out.today, " ", ws.RulesVersion, " ", voice(p))
	return out, nil
}

// forecastDays is how far ahead a forecast counts.
const forecastDays = 30

// looksOf gives looks as a season takes them.
func (s *server) looksOf(all []store.StoredLook) []season.Look {
	out := make([]season.Look, len(all))
	for i, l := range all {
		out[i] = s.dayedLook(l)
	}
	return out
}

func (s *server) dayedLook(l store.StoredLook) season.Look {
	l.Look.Date = s.day(l.At)
	return l.Look
}

// lines gives what stands as a list.
func (s *server) storedLines(ctx context.Context, all []store.Stored) ([]storedLine, site, error) {
	ws := who(ctx).WorkshopID
	var ids []string
	from := ""
	for _, one := range all {
		ids = append(ids, one.ID)
		if from == "" || one.Doc.From < from {
			from = one.Doc.From
		}
	}
	at, err := s.site(ctx, from)
	if err != nil {
		return nil, at, err
	}
	looks, err := s.Store.Looks(ctx, ws, ids...)
	if err != nil {
		return nil, at, answer(err)
	}
	out := make([]storedLine, 0, len(all))
	for _, one := range all {
		if ctx.Err() != nil {
			return nil, at, answer(ctx.Err())
		}
		f, err := s.follow(ctx, one, looks[one.ID], at)
		if err != nil { // one that cannot be reckoned must not hide the others
			f = season.Unreckoned(err)
		}
		out = append(out, s.storedLineOf(one, looks[one.ID], f))
	}
	return out, at, nil
}

func (s *server) storedLineOf(one store.Stored, looks []store.StoredLook, f season.Followed) storedLine {
	d := one.Doc
	l := storedLine{
		ID:       one.ID,
		Tag:      d.Battery.Tag,
		Vehicle:  d.Vehicle.Name,
		Class:    d.Vehicle.Class,
		Version:  one.Version,
		From:     d.From,
		To:       d.To,
		Way:      d.Way,
		Lot:      d.Lot,
		Row:      d.Row,
		Bay:      d.Bay,
		Promised: d.Promised,
		Arrived:  d.Arrived,
		Looks:    len(looks),
		Now:      f,
	}
	if n := len(looks); n > 0 {
		l.LookedAt, l.LookedOn = &looks[n-1].At, s.day(looks[n-1].At)
	}
	return l
}

// follow says how one stands today.
func (s *server) follow(
	ctx context.Context,
	one store.Stored,
	looks []store.StoredLook,
	at site,
) (season.Followed, error) {
	stamp := fmt.Sprint(one.Version, " ", one.Looked, " ", at.stamp)
	s.followed.mu.Lock()
	known, ok := s.followed.known[one.ID]
	s.followed.mu.Unlock()
	if ok && known.stamp == stamp {
		return known.Followed, nil
	}
	r := one.Doc.Request(at.place, at.today, s.looksOf(looks), at.rules)
	f, err := r.Follow(s.labels.find, voice(who(ctx)))
	if err != nil {
		return f, err
	}
	s.followed.mu.Lock()
	defer s.followed.mu.Unlock()
	if s.followed.known == nil || len(s.followed.known) >= mostGlances {
		s.followed.known = map[string]followedAs{}
	}
	s.followed.known[one.ID] = followedAs{stamp, f}
	return f, nil
}

// nearest orders what stands by how near it is to harm: what is missed or freezes first, then
// by what is to spare.
func nearest(a, b storedLine) int {
	sign := map[string]int{"stop": 0, "act": 1, "holds": 2}
	return cmp.Or(cmp.Compare(sign[a.Now.Sign], sign[b.Now.Sign]), -cmp.Compare(a.Now.Late, b.Now.Late),
		cmp.Compare(a.Now.State.Spare, b.Now.State.Spare), cmp.Compare(a.Tag, b.Tag))
}

func (s *server) getSeason(ctx context.Context, _ *nothing) (*output[seasonBody], error) {
	p := who(ctx)
	all, err := s.Store.AllStored(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	lines, at, err := s.storedLines(ctx, all)
	if err != nil {
		return nil, err
	}
	slices.SortStableFunc(lines, nearest)
	out := seasonBody{
		Now:    s.Now(),
		Today:  at.today,
		Stored: lines,
		Lots:   []string{},
		Place:  s.placeOf(ctx, at),
		Most:   season.MostStored,
		Words: map[string][]words.Term{
			"ways":      season.Ways().Terms(),
			"at_hand":   season.AtHand().Terms(),
			"kinds":     season.Kinds().Terms(),
			"chemistry": battery.ChemistryWords().Terms(),
			"class":     reading.Classes().Terms(),
		},
	}
	out.Caution, out.MarginC = guide.Cautions(), at.rules.StoreMarginC
	if out.NextTag, err = s.Store.NextTag(ctx, p.WorkshopID); err != nil {
		return nil, answer(err)
	}
	for _, l := range lines {
		if l.Lot != "" && !slices.Contains(out.Lots, l.Lot) {
			out.Lots = append(out.Lots, l.Lot)
		}
	}
	slices.Sort(out.Lots)
	return replied(out)
}

func (s *server) placeOf(ctx context.Context, at site) seasonPlace {
	out := seasonPlace{
		Typed:     at.typed.Lows != nil,
		Means:     at.typed.Means != nil,
		Days:      []climate.Weather{},
		Presets:   climate.Presets(),
		MayChange: who(ctx).Role == store.Lead,
	}
	copy(out.Climate.Mean[:], at.place.Mean)
	copy(out.Climate.Low[:], at.place.Low)
	for _, d := range at.place.Days {
		if d.Date >= at.today {
			out.Days, out.Known = append(out.Days, d), d.Date
		}
	}
	return out
}

type setPlaceInput struct {
	Body struct {
		Mean climate.Months `json:"monthly_mean_c"`
		Low  climate.Months `json:"monthly_low_c"`
	}
}

func (s *server) setPlace(ctx context.Context, in *setPlaceInput) (*output[seasonBody], error) {
	p := who(ctx)
	if p.Role != store.Lead {
		return nil, huma.Error403Forbidden(
			"Only a lead may type the climate of the place. Ask the lead of your workshop.",
		)
	}
	o := climate.Of{Mean: in.Body.Mean, Low: in.Body.Low}
	if err := o.Check(); err != nil {
		return nil, refuse("body", document.Problems{{Message: words.Capital(err.Error()) + "."}})
	}
	if err := s.Store.SetClimate(ctx, p.WorkshopID, actor(ctx), o.Low, &o.Mean); err != nil {
		return nil, answer(err)
	}
	s.live.wake(p.WorkshopID)
	return s.getSeason(ctx, nil)
}

type setWeatherInput struct {
	Body struct {
		Days []climate.Weather `json:"days" minItems:"1" maxItems:"400" doc:"as they were, or are forecast"`
	}
}

func (s *server) setWeather(ctx context.Context, in *setWeatherInput) (*output[seasonBody], error) {
	return s.keepWeather(ctx, in.Body.Days)
}

func (s *server) keepWeather(ctx context.Context, days []climate.Weather) (*output[seasonBody], error) {
	if err := climate.CheckDays(days, s.Now()); err != nil {
		return nil, answer(err)
	}
	p := who(ctx)
	if err := s.Store.SetWeather(ctx, p.WorkshopID, actor(ctx), days); err != nil {
		return nil, answer(err)
	}
	s.live.wake(p.WorkshopID)
	return s.getSeason(ctx, nil)
}
