package api

import (
	"context"
	"errors"
	"log/slog"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/assess"
	"grapnel/core/bench"
	"grapnel/core/casefile"
	"grapnel/core/guide"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// jobSheet is everything the job sheet shows.
type jobSheet struct {
	Job         jobView       `json:"job"`
	Readings    []readingView `json:"readings" doc:"corrected ones too, in the order they were saved"`
	InEffect    []string      `json:"in_effect" doc:"ids of the readings that no other corrects, in the order they were taken"`
	Rest        *restView     `json:"rest,omitempty" doc:"the rest that runs, if one does"`
	Wait        assess.Wait   `json:"wait"`
	RestMinutes float64       `json:"rest_minutes" doc:"how long the house rests a battery"`
	Plus        guide.Side    `json:"plus" doc:"the positive post"`
	Minus       guide.Side    `json:"minus" doc:"the negative post"`
	Judgement
}

type sheetReply = output[jobSheet]

func (s *server) sheet(ctx context.Context, id string) (*sheetReply, error) {
	p := who(ctx)
	j, log, err := s.job(ctx, id)
	if err != nil {
		return nil, err
	}
	rest, err := s.Store.RunningRest(ctx, p.WorkshopID, id)
	if err != nil {
		return nil, answer(err)
	}
	out := jobSheet{
		Job:         viewJob(j),
		Readings:    viewReadings(log, voice(p)),
		InEffect:    []string{},
		Judgement:   s.judged(j, log, p, rest),
		RestMinutes: j.Rules.RestMinutes,
	}
	for _, r := range store.InEffect(log) {
		out.InEffect = append(out.InEffect, r.ID)
	}
	out.Plus, out.Minus = guide.Posts(j.Vehicle.Earth)
	if rest != nil {
		out.Rest = viewRest(*rest)
	}
	out.Wait = waits(assess.Assessment{Verdict: out.Verdict, Headline: out.Headline, Next: out.Next, Hangs: out.hangs}, rest, j, s.Now())
	return replied(out)
}

// changed gives the sheet of a job that has just been changed, and tells the other
// devices of the workshop.
func (s *server) changed(ctx context.Context, id string) (*sheetReply, error) {
	s.live.wake(who(ctx).WorkshopID)
	out, err := s.sheet(ctx, id)
	var known huma.StatusError
	if errors.As(err, &known) && known.GetStatus() < http.StatusInternalServerError {
		return nil, err // there is no such job, so that nothing was changed
	}
	if err != nil {
		slog.ErrorContext(ctx, "the sheet after a change", "error", err)
		return nil, typed(http.StatusServiceUnavailable, unshown,
			"This is saved, but the database did not answer with the sheet. Try again in a moment; nothing is doubled.")
	}
	return out, nil
}

// job gives a job with its log of readings.
func (s *server) job(ctx context.Context, id string) (store.Job, []store.StoredReading, error) {
	ws := who(ctx).WorkshopID
	j, err := s.Store.Job(ctx, ws, id)
	if err != nil {
		return j, nil, answer(err)
	}
	rs, err := s.Store.Readings(ctx, ws, id)
	return j, rs[id], answer(err)
}

func waits(a assess.Assessment, rest *store.Rest, j store.Job, now time.Time) assess.Wait {
	var ends *time.Time
	if rest != nil {
		ends = &rest.EndsAt
	}
	return assess.Waits(a, ends, j.ClosedAt != nil, now)
}

// jobLine is a job in a list.
type jobLine struct {
	ID       string      `json:"id" format:"uuid"`
	Tag      string      `json:"tag"`
	Vehicle  string      `json:"vehicle"`
	Class    string      `json:"class"`
	Customer string      `json:"customer,omitempty"`
	Headline words.Text  `json:"headline"`
	Because  words.Text  `json:"because"`
	Level    bench.Level `json:"level"`
	Wait     assess.Wait `json:"wait"`
	Rest     *restView   `json:"rest,omitempty"`
	OpenedAt time.Time   `json:"opened_at"`
	ClosedAt *time.Time  `json:"closed_at,omitempty"`
	Charge   *time.Time  `json:"charge_check,omitempty" doc:"when it is to be looked at on its charger"`
	Since    time.Time   `json:"since" doc:"when it was last worked on, or its rest was over: it waits since then"`
	By       string      `json:"by" doc:"who worked on it last"`
}

// waiting is the line in the order of the floor.
func (l jobLine) waiting() assess.Waiting {
	return assess.Waiting{Wait: l.Wait, Level: l.Level, Resting: l.Rest != nil, OpenedAt: l.OpenedAt}
}

// lines judges a list of jobs.
func (s *server) lines(ctx context.Context, jobs []store.Job) ([]jobLine, error) {
	p := who(ctx)
	known, err := s.glanceAt(ctx, jobs)
	if err != nil {
		return nil, err
	}
	rests, err := s.Store.RunningRests(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	out := make([]jobLine, len(jobs))
	for i, j := range jobs {
		a := known[j.ID]
		var rest *store.Rest
		if r, ok := rests[j.ID]; ok {
			rest = &r
		}
		out[i] = jobLine{
			ID:       j.ID,
			Tag:      j.Battery.Tag,
			Vehicle:  j.Vehicle.Name,
			Class:    j.Vehicle.Class,
			Customer: j.Customer,
			Headline: a.Headline,
			Because:  a.Because,
			Level:    a.Level(),
			OpenedAt: j.OpenedAt,
			ClosedAt: j.ClosedAt,
			Wait:     waits(a.Assessment, rest, j, s.Now()),
			Since:    a.since,
			By:       a.by,
		}
		if h := a.Hangs; h != nil && !h.Check.IsZero() && j.ClosedAt == nil {
			out[i].Charge = &h.Check
			if h.Check.Before(s.Now()) && h.Check.After(out[i].Since) {
				out[i].Since = h.Check
			}
		}
		if rest != nil {
			out[i].Rest = viewRest(*rest)
			if over := rest.EndsAt; over.Before(s.Now()) && over.After(out[i].Since) {
				out[i].Since = over
			}
		}
	}
	words.Spoken(&out, voice(p))
	return out, nil
}

type listJobsInput struct {
	Find   string `query:"find" maxLength:"80" doc:"part of a tag, vehicle or customer"`
	Closed bool   `query:"closed" doc:"closed jobs instead of open ones"`
	Wait   string `query:"wait" enum:"hands,clock" doc:"of open ones: those that wait for it"`
	By     string `query:"by" maxLength:"80" doc:"of open ones: those this person had in hand last"`
	Window
}

// keeps reports whether an open job is among those that are asked for.
func (in listJobsInput) keeps(l jobLine) bool {
	return (in.Wait == "" || (in.Wait == "clock") == (l.Wait.At != nil)) && (in.By == "" || in.By == l.By)
}

// Window is the part of a list that is asked for.
type Window struct {
	From int `query:"from" minimum:"0" maximum:"1000000" doc:"how many to pass over"`
	Most int `query:"most" minimum:"1" maximum:"1000" default:"200" doc:"how many to give"`
}

// part gives what of a whole list is asked for.
func part[T any](w Window, all []T) []T {
	from := min(w.From, len(all))
	return all[from:min(from+w.Most, len(all))]
}

type jobList struct {
	Now  time.Time `json:"now"`
	Jobs []jobLine `json:"jobs"`
	All  int       `json:"all" doc:"how many there are, of which these are a part"`
	// Of all open jobs that are found, whatever they are narrowed to.
	Tally []tally `json:"tally" doc:"open jobs by who had them in hand last"`
}

// tally is how many open jobs somebody had in hand last, by what they wait for.
type tally struct {
	By    string `json:"by"`
	Hands int    `json:"hands"`
	Clock int    `json:"clock"`
}

// tallied counts jobs by who had them in hand last.
func tallied(lines []jobLine) []tally {
	out := []tally{}
	at := map[string]int{}
	for _, l := range lines {
		i, ok := at[l.By]
		if !ok {
			i = len(out)
			at[l.By], out = i, append(out, tally{By: l.By})
		}
		if l.Wait.At != nil {
			out[i].Clock++
		} else {
			out[i].Hands++
		}
	}
	slices.SortFunc(out, func(a, b tally) int { return strings.Compare(a.By, b.By) })
	return out
}

// everyJob is more than a workshop can have open.
const everyJob = 1 << 30

func (s *server) listJobs(ctx context.Context, in *listJobsInput) (*output[jobList], error) {
	// Closed ones come by the time they were closed, a part at a time; open ones by what
	// they wait for, which is known once all are judged.
	page := store.Page{From: in.From, Most: in.Most}
	if !in.Closed {
		page = store.Page{Most: everyJob}
	}
	jobs, all, err := s.Store.Jobs(ctx, who(ctx).WorkshopID, in.Closed, in.Find, page)
	if err != nil {
		return nil, answer(err)
	}
	lines, err := s.lines(ctx, jobs)
	if err != nil {
		return nil, err
	}
	out := jobList{s.Now(), lines, all, []tally{}}
	if !in.Closed {
		out.Tally = tallied(lines)
		lines = slices.DeleteFunc(lines, func(l jobLine) bool { return !in.keeps(l) })
		slices.SortStableFunc(lines, func(a, b jobLine) int { return assess.ByWait(a.waiting(), b.waiting()) })
		out.Jobs, out.All = part(in.Window, lines), len(lines)
	}
	return replied(out)
}

type newJob struct {
	ID ID `json:"id" doc:"made by the client, UUID v7"`
	JobDetails
}

// SameOr says whose a tag is that is known here.
type SameOr struct {
	Battery string `query:"battery" enum:"same,other" doc:"where the tag is known here with another label: that battery, or another, which gets the next tag"`
}

type addJobInput struct {
	SameOr
	Body newJob
}

func (s *server) addJob(ctx context.Context, in *addJobInput) (*sheetReply, error) {
	p := who(ctx)
	j := in.Body.job()
	j.SameBattery = in.Battery == "same"
	if in.Battery == "other" {
		j.Battery.Tag = ""
	}
	ws, err := s.Store.Workshop(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	j.ID, j.OpenedByID, j.Rules = string(in.Body.ID), p.ID, ws.Rules
	if err := casefile.Validate(j.Case(nil)); err != nil {
		return nil, answer(err)
	}
	if err := s.Store.AddJob(ctx, p.WorkshopID, j, nil); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, j.ID)
}

func (s *server) getJob(ctx context.Context, in *OfJob) (*sheetReply, error) {
	return s.sheet(ctx, string(in.ID))
}

type jobChange struct {
	Version int `json:"version" doc:"the version the change starts from"`
	JobDetails
}

type changeJobInput struct {
	OfJob
	SameOr
	Body jobChange
}

// checkJob checks a job's details, and whether its readings can be of such a battery.
func checkJob(j store.Job, log []store.StoredReading) error {
	if err := casefile.Validate(j.Case(nil)); err != nil {
		return err
	}
	return casefile.Check(j.Case(log))
}

func (s *server) changeJob(ctx context.Context, in *changeJobInput) (*sheetReply, error) {
	old, log, err := s.job(ctx, string(in.ID))
	if err != nil {
		return nil, err
	}
	j := in.Body.job()
	j.ID, j.Version, j.Rules = string(in.ID), in.Body.Version, old.Rules
	if j.Battery.Tag == "" {
		j.Battery.Tag = old.Battery.Tag
	}
	j.SameBattery = in.Battery == "same"
	if err := checkJob(j, log); err != nil {
		return nil, answer(err)
	}
	if err := s.Store.ChangeJob(ctx, who(ctx).WorkshopID, actor(ctx), j); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, string(in.ID))
}

func (s *server) closeJob(ctx context.Context, in *OfJob) (*sheetReply, error) {
	if err := s.Store.CloseJob(ctx, who(ctx).WorkshopID, actor(ctx), string(in.ID), s.Now()); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, string(in.ID))
}

func (s *server) reopenJob(ctx context.Context, in *OfJob) (*sheetReply, error) {
	if err := s.Store.ReopenJob(ctx, who(ctx).WorkshopID, actor(ctx), string(in.ID)); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, string(in.ID))
}
