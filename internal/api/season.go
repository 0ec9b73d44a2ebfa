package api

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
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
	"grapnel/core/station"
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
func looksOf(all []store.StoredLook) []season.Look {
	out := make([]season.Look, len(all))
	for i, l := range all {
		out[i] = l.Look
		out[i].Date = l.At.Format(time.DateOnly)
	}
	return out
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
		out = append(out, storedLineOf(one, looks[one.ID], f))
	}
	return out, at, nil
}

func storedLineOf(one store.Stored, looks []store.StoredLook, f season.Followed) storedLine {
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
		l.LookedAt = &looks[n-1].At
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
	r := one.Doc.Request(at.place, at.today, looksOf(looks), at.rules)
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
		out.Looks = append(out.Looks, lookView{l.ID, l.Look, l.At, l.By, l.BackAt != nil})
		if l.BackAt == nil {
			counts = append(counts, l)
		}
	}
	r := one.Doc.Request(at.place, at.today, looksOf(counts), at.rules)
	if out.Plan, err = r.Make(s.labels.find, voice(p)); err != nil {
		return nil, answer(err)
	}
	f, err := r.Follow(s.labels.find, voice(p))
	if err != nil {
		return nil, answer(err)
	}
	out.Line = storedLineOf(one, counts, f)
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
		Date:      at.Format(time.DateOnly),
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

type roundInput struct {
	Lot      string  `query:"lot"      maxLength:"40" doc:"empty for all that stand on no lot"`
	Chargers int     `query:"chargers"                doc:"that can be used on one evening"    minimum:"1" maximum:"200"  default:"4"`
	Minutes  float64 `query:"minutes"                 doc:"that a round may take; 0 for any"   minimum:"0" maximum:"1440" default:"90"`
}

type roundBody struct {
	season.Round
	Lot    string                `json:"lot"`
	Lines  map[string]storedLine `json:"lines"  doc:"the batteries of its stops, by id"`
	Spares []string              `json:"spares" doc:"tags of the charged batteries that can stand in"`
}

func (s *server) getRound(ctx context.Context, in *roundInput) (*output[roundBody], error) {
	p := who(ctx)
	all, err := s.Store.AllStored(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	lot := words.Clean(in.Lot)
	all = slices.DeleteFunc(all, func(one store.Stored) bool { return !strings.EqualFold(one.Doc.Lot, lot) })
	lines, at, err := s.storedLines(ctx, all)
	if err != nil {
		return nil, err
	}
	spares, err := s.spares(ctx)
	if err != nil {
		return nil, err
	}
	l := season.Lot{Today: at.today, Chargers: in.Chargers, Minutes: in.Minutes, Spares: spares}
	out := roundBody{Lot: lot, Lines: map[string]storedLine{}, Spares: []string{}}
	for i, one := range all {
		l.Spots = append(l.Spots, one.Doc.Spot(one.ID, lines[i].Now, lines[i].Looks > 0))
		out.Lines[one.ID] = lines[i]
	}
	for _, b := range spares {
		out.Spares = append(out.Spares, b.Tag)
	}
	out.Round = l.Plan(voice(p))
	return replied(out)
}

// spares are the batteries of the shelf that are tested and charged.
func (s *server) spares(ctx context.Context) ([]season.Spare, error) {
	shelf, err := s.getStock(ctx, nil)
	if err != nil {
		return nil, err
	}
	var out []season.Spare
	for _, one := range shelf.Body.Shelf {
		if one.Charge || one.Test {
			continue
		}
		label := one.Item.Rating.Label()
		out = append(
			out,
			season.Spare{
				Tag:       one.Item.Tag,
				Chemistry: one.Item.Chemistry,
				Volts:     cmp.Or(one.Item.Volts, 12),
				Ah:        label.Ah20h,
				CCA:       label.CCA,
			},
		)
	}
	return out, nil
}
