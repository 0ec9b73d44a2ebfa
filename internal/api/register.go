package api

import (
	"context"
	"errors"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/climate"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/register"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// visits remembers what jobs said of their batteries, until something of them changes.
type visits struct {
	mu    sync.Mutex
	known map[string]visited
}

type visited struct {
	stamp store.Stamp
	seen  register.Seen
}

// mostVisits bounds what is remembered; then it is forgotten and begun anew.
const mostVisits = 50_000

// of gives what is known of a job as it was touched last.
func (v *visits) of(j store.Job) (register.Seen, bool) {
	v.mu.Lock()
	defer v.mu.Unlock()
	one, ok := v.known[j.ID]
	return one.seen, ok && one.stamp == j.Stamp
}

func (v *visits) keep(j store.Job, seen register.Seen) {
	v.mu.Lock()
	defer v.mu.Unlock()
	if v.known == nil || len(v.known) >= mostVisits {
		v.known = map[string]visited{}
	}
	v.known[j.ID] = visited{j.Stamp, seen}
}

// lives remembers what batteries' visits add up to: it changes with them, with the cold
// that is typed, and from day to day.
type lives struct {
	mu    sync.Mutex
	known map[string]lived
}

// lived is a life, and what it was worked out of.
type lived struct {
	from lifeStamp
	life register.Life
}

type lifeStamp struct {
	jobs    int
	touched time.Time
	lows    climate.Months
	cold    bool
	day     string
}

// lifeOf gives the life of a battery, worked out once a day.
func (s *server) lifeOf(b store.Battery, seen []register.Seen, lows *climate.Months) register.Life {
	now := s.Now()
	from := lifeStamp{jobs: len(b.Jobs), day: s.day(now)}
	for _, j := range b.Jobs {
		if j.Stamp.Touched.After(from.touched) {
			from.touched = j.Stamp.Touched
		}
	}
	if lows != nil {
		from.lows, from.cold = *lows, true
	}
	s.lives.mu.Lock()
	one, ok := s.lives.known[b.ID]
	s.lives.mu.Unlock()
	if !ok || one.from != from {
		one = lived{from, register.Of(seen, lows, now)}
		s.lives.mu.Lock()
		if s.lives.known == nil || len(s.lives.known) >= mostLives {
			s.lives.known = map[string]lived{}
		}
		s.lives.known[b.ID] = one
		s.lives.mu.Unlock()
	}
	// Its words are spoken to whoever asks, in their own units.
	one.life.Events = slices.Clone(one.life.Events)
	return one.life
}

// mostLives bounds what is remembered; then it is forgotten and begun anew.
const mostLives = 20_000

// seen judges the jobs of batteries, those that were not judged since they changed.
func (s *server) seen(ctx context.Context, workshopID string, all []store.Battery) (map[string][]register.Seen, error) {
	out := map[string][]register.Seen{}
	var ids []string
	for _, b := range all {
		for _, j := range b.Jobs {
			if _, ok := s.visits.of(j); !ok {
				ids = append(ids, j.ID)
			}
		}
	}
	logs, err := s.Store.Readings(ctx, workshopID, ids...)
	if err != nil {
		return nil, err
	}
	for _, b := range all {
		for _, j := range b.Jobs {
			seen, ok := s.visits.of(j)
			if !ok {
				if err := ctx.Err(); err != nil {
					return nil, err
				}
				seen = register.See(
					register.Visit{Job: j.ID, Opened: j.OpenedAt, Closed: j.ClosedAt, Case: s.caseOf(j, logs[j.ID])},
					s.labels.find,
				)
				s.visits.keep(j, seen)
			}
			out[b.Tag] = append(out[b.Tag], seen)
		}
	}
	return out, nil
}

// BatteryLine is a battery in the register.
type BatteryLine struct {
	Tag      string        `json:"tag"`
	Vehicle  string        `json:"vehicle"`
	Customer string        `json:"customer,omitempty"`
	Build    string        `json:"build" doc:"its chemistry in words"`
	Visits   int           `json:"visits"`
	LastAt   time.Time     `json:"last_at" doc:"when it was here last"`
	Headline words.Text    `json:"headline" doc:"of its last visit"`
	Level    bench.Level   `json:"level"`
	Twin     string        `json:"twin,omitempty"`
	Life     register.Life `json:"life" doc:"without its line, tests and events"`
}

type registerBody struct {
	Now       time.Time         `json:"now"`
	Lows      *climate.Months   `json:"lows,omitempty" doc:"coldest usual night of each month from January, °C; absent until typed"`
	MayChange bool              `json:"may_change" doc:"whether this person may type them"`
	All       int               `json:"all" doc:"batteries of the workshop, whatever was looked for"`
	Batteries []BatteryLine     `json:"batteries" doc:"what fails soonest first"`
	Testers   []register.Tester `json:"testers" doc:"of which it is known how they read against each other"`
}

type findInput struct {
	Find string `query:"find" maxLength:"80" doc:"part of a tag, vehicle or customer"`
}

func (s *server) getRegister(ctx context.Context, in *findInput) (*output[registerBody], error) {
	p := who(ctx)
	lows, err := s.Store.Lows(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	all, err := s.Store.Batteries(ctx, p.WorkshopID, "")
	if err != nil {
		return nil, answer(err)
	}
	seen, err := s.seen(ctx, p.WorkshopID, all)
	if err != nil {
		return nil, answer(err)
	}
	out := registerBody{Now: s.Now(), Lows: lows, MayChange: p.Role == store.Lead, All: len(all), Batteries: []BatteryLine{}}
	var every []register.Seen
	for _, b := range all {
		every = append(every, seen[b.Tag]...)
		if !matches(b, in.Find) {
			continue
		}
		out.Batteries = append(out.Batteries, lineOf(b, seen[b.Tag], s.lifeOf(b, seen[b.Tag], lows)))
	}
	slices.SortStableFunc(out.Batteries, func(a, b BatteryLine) int { return register.ByFailing(a.Life, b.Life) })
	for i := range out.Batteries {
		l := &out.Batteries[i].Life
		l.Line, l.Tests, l.Events = []register.Point{}, []register.Test{}, []register.Event{}
	}
	out.Testers = register.Testers(every)
	words.Spoken(&out, voice(p))
	return replied(out)
}

// matches reports whether a battery's tag, or any vehicle or customer it had, contains
// what is looked for.
func matches(b store.Battery, find string) bool {
	find = strings.ToLower(strings.TrimSpace(find))
	has := func(s string) bool { return strings.Contains(strings.ToLower(s), find) }
	return find == "" || has(b.Tag) ||
		slices.ContainsFunc(b.Jobs, func(j store.Job) bool { return has(j.Vehicle.Name) || has(j.Customer) })
}

func lineOf(b store.Battery, seen []register.Seen, life register.Life) BatteryLine {
	out := BatteryLine{
		Tag:    b.Tag,
		Build:  battery.ChemistryWords().Said(string(b.Label.Chemistry)),
		Visits: len(b.Jobs),
		Twin:   b.Twin,
		Life:   life,
		Level:  bench.Note,
	}
	if n := len(b.Jobs); n > 0 {
		j := b.Jobs[n-1]
		out.Vehicle, out.Customer, out.LastAt = j.Vehicle.Name, j.Customer, j.OpenedAt
		out.Headline, out.Level = seen[n-1].Headline, seen[n-1].Level
	}
	return out
}

// visitView is a job in a battery's life.
type visitView struct {
	Job      string      `json:"job" format:"uuid"`
	OpenedAt time.Time   `json:"opened_at"`
	ClosedAt *time.Time  `json:"closed_at,omitempty"`
	Vehicle  string      `json:"vehicle"`
	Note     string      `json:"note,omitempty"`
	Headline words.Text  `json:"headline"`
	Level    bench.Level `json:"level"`
}

type lifeBody struct {
	Now  time.Time       `json:"now"`
	Lows *climate.Months `json:"lows,omitempty"`
	BatteryLine
	Battery  reading.Battery `json:"battery" doc:"what was last read from its label"`
	Jobs     []visitView     `json:"jobs" doc:"the newest first"`
	TwinLife *register.Life  `json:"twin_life,omitempty"`
	Pair     *pairView       `json:"pair,omitempty" doc:"what it is together with its twin"`
}

type pairView struct {
	Tag     string `json:"tag"`
	Vehicle string `json:"vehicle"`
	register.PairSays
}

func (s *server) getLife(ctx context.Context, in *OfTag) (*output[lifeBody], error) {
	p := who(ctx)
	lows, err := s.Store.Lows(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	one, err := s.battery(ctx, p.WorkshopID, in.Tag, lows)
	if err != nil {
		return nil, answer(err)
	}
	out := lifeBody{Now: s.Now(), Lows: lows, BatteryLine: one.line, Battery: one.label, Jobs: one.jobs}
	if twin := one.line.Twin; twin != "" {
		other, err := s.battery(ctx, p.WorkshopID, twin, lows)
		if err != nil {
			return nil, answer(err)
		}
		out.TwinLife = &other.line.Life
		out.Pair = &pairView{twin, other.line.Vehicle, register.Pair(out.Life, other.line.Life)}
	}
	words.Spoken(&out, voice(p))
	return replied(out)
}

// oneBattery is one battery with its life.
type oneBattery struct {
	line  BatteryLine
	label reading.Battery
	jobs  []visitView
}

func (s *server) battery(ctx context.Context, workshopID, tag string, lows *climate.Months) (oneBattery, error) {
	all, err := s.Store.Batteries(ctx, workshopID, tag)
	if err != nil {
		return oneBattery{}, err
	}
	if len(all) == 0 {
		return oneBattery{}, huma.Error404NotFound(
			"Battery " + tag + " not found. It may belong to another workshop, or the tag is wrong.",
		)
	}
	b := all[0]
	seen, err := s.seen(ctx, workshopID, all)
	if err != nil {
		return oneBattery{}, err
	}
	out := oneBattery{line: lineOf(b, seen[b.Tag], s.lifeOf(b, seen[b.Tag], lows)), label: b.Label, jobs: []visitView{}}
	for i, j := range slices.Backward(b.Jobs) {
		out.jobs = append(
			out.jobs,
			visitView{j.ID, j.OpenedAt, j.ClosedAt, j.Vehicle.Name, j.Note, seen[b.Tag][i].Headline, seen[b.Tag][i].Level},
		)
	}
	return out, nil
}

type twinInput struct {
	OfTag
	Body struct {
		Tag string `json:"tag" maxLength:"40" doc:"of the other; empty ends the pair"`
	}
}

func (s *server) setTwin(ctx context.Context, in *twinInput) (*output[lifeBody], error) {
	switch err := s.Store.SetTwin(ctx, who(ctx).WorkshopID, actor(ctx), words.Clean(in.Tag), words.Clean(in.Body.Tag)); {
	case errors.Is(err, store.ErrOwnTwin):
		return nil, refuse(
			"body",
			document.Problems{{Path: "tag", Message: "A battery is not its own twin: give the tag of the other one."}},
		)
	case errors.Is(err, store.ErrNotFound):
		return nil, huma.Error404NotFound(sentence(err) + ". Check the tag: a battery is known from its first job on.")
	case err != nil:
		return nil, answer(err)
	}
	return s.getLife(ctx, &in.OfTag)
}

type lowsInput struct {
	Body struct {
		Lows climate.Months `json:"lows" doc:"coldest usual night of each month from January, °C"`
	}
}

func (s *server) setLows(ctx context.Context, in *lowsInput) (*output[registerBody], error) {
	p := who(ctx)
	if p.Role != store.Lead {
		return nil, huma.Error403Forbidden("Only a lead may type the coldest nights. Ask the lead of your workshop.")
	}
	if err := in.Body.Lows.Check("coldest night"); err != nil {
		return nil, refuse("body", document.Problems{{Path: "lows", Message: words.Capital(err.Error()) + "."}})
	}
	// Means that are colder than these nights belonged to others.
	was, err := s.Store.Climate(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	if was.Means != nil && (climate.Of{Mean: *was.Means, Low: in.Body.Lows}).Check() != nil {
		was.Means = nil
	}
	if err := s.Store.SetClimate(ctx, p.WorkshopID, actor(ctx), in.Body.Lows, was.Means); err != nil {
		return nil, answer(err)
	}
	return s.getRegister(ctx, &findInput{})
}
