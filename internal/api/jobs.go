package api

import (
	"context"
	"slices"
	"time"

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
	rests, err := s.Store.RunningRests(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	var ends *time.Time
	if r, ok := rests[id]; ok {
		ends = &r.EndsAt
	}
	out := jobSheet{
		Job:         viewJob(j),
		Readings:    viewReadings(log, voice(p)),
		InEffect:    []string{},
		Judgement:   s.judge(j, log, p, ends),
		RestMinutes: j.Rules.RestMinutes,
	}
	for _, r := range store.InEffect(log) {
		out.InEffect = append(out.InEffect, r.ID)
	}
	out.Plus, out.Minus = guide.Posts(j.Vehicle.Earth)
	if r, ok := rests[id]; ok {
		out.Rest = viewRest(r)
	}
	out.Wait = waits(assess.Assessment{Verdict: out.Verdict, Headline: out.Headline, Next: out.Next}, rests, j, s.Now())
	return replied(out)
}

// changed gives the sheet of a job that has just been changed, and tells the other
// devices of the workshop.
func (s *server) changed(ctx context.Context, id string) (*sheetReply, error) {
	s.live.wake(who(ctx).WorkshopID)
	return s.sheet(ctx, id)
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

func waits(a assess.Assessment, rests map[string]store.Rest, j store.Job, now time.Time) assess.Wait {
	var ends *time.Time
	if r, ok := rests[j.ID]; ok {
		ends = &r.EndsAt
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
	Since    time.Time   `json:"since" doc:"when it was last worked on, or its rest was over: it waits since then"`
	By       string      `json:"by" doc:"who worked on it last"`
}

// waiting is the line in the order of the floor.
func (l jobLine) waiting() assess.Waiting {
	return assess.Waiting{Wait: l.Wait, Level: l.Level, Resting: l.Rest != nil, OpenedAt: l.OpenedAt}
}

// lines judges a list of jobs.
func (s *server) lines(ctx context.Context, closed bool, find string) ([]jobLine, error) {
	p := who(ctx)
	jobs, err := s.Store.Jobs(ctx, p.WorkshopID, closed, find)
	if err != nil {
		return nil, answer(err)
	}
	ids := make([]string, len(jobs))
	for i, j := range jobs {
		ids[i] = j.ID
	}
	rs, err := s.Store.Readings(ctx, p.WorkshopID, ids...)
	if err != nil {
		return nil, answer(err)
	}
	rests, err := s.Store.RunningRests(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	out := make([]jobLine, len(jobs))
	for i, j := range jobs {
		judge := s.glances.of
		if j.ClosedAt != nil {
			judge = assess.Ended
		}
		a := judge(s.caseOf(j, rs[j.ID]), s.labels.find)
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
			Wait:     waits(a, rests, j, s.Now()),
		}
		out[i].Since, out[i].By = j.OpenedAt, j.OpenedBy
		if log := rs[j.ID]; len(log) > 0 {
			out[i].Since, out[i].By = log[len(log)-1].At, log[len(log)-1].By
		}
		if r, ok := rests[j.ID]; ok {
			out[i].Rest = viewRest(r)
			if over := r.EndsAt; over.Before(s.Now()) && over.After(out[i].Since) {
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
}

type jobList struct {
	Now  time.Time `json:"now"`
	Jobs []jobLine `json:"jobs"`
}

func (s *server) listJobs(ctx context.Context, in *listJobsInput) (*output[jobList], error) {
	lines, err := s.lines(ctx, in.Closed, in.Find)
	if err != nil {
		return nil, err
	}
	if !in.Closed {
		slices.SortStableFunc(lines, func(a, b jobLine) int { return assess.ByWait(a.waiting(), b.waiting()) })
	}
	return replied(jobList{s.Now(), lines})
}

type newJob struct {
	ID string `json:"id" format:"uuid" doc:"made by the client, UUID v7"`
	JobDetails
}

func (s *server) addJob(ctx context.Context, in *struct{ Body newJob }) (*sheetReply, error) {
	p := who(ctx)
	j := in.Body.job()
	ws, err := s.Store.Workshop(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	j.ID, j.OpenedByID, j.Rules = in.Body.ID, p.ID, ws.Rules
	if err := casefile.Validate(j.Case(nil)); err != nil {
		return nil, answer(err)
	}
	if err := s.Store.AddJob(ctx, p.WorkshopID, j, nil); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, j.ID)
}

func (s *server) getJob(ctx context.Context, in *OfJob) (*sheetReply, error) {
	return s.sheet(ctx, in.ID)
}

type jobChange struct {
	Version int `json:"version" doc:"the version the change starts from"`
	JobDetails
}

type changeJobInput struct {
	OfJob
	Body jobChange
}

func (s *server) changeJob(ctx context.Context, in *changeJobInput) (*sheetReply, error) {
	old, log, err := s.job(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	j := in.Body.job()
	j.ID, j.Version, j.Rules = in.ID, in.Body.Version, old.Rules
	if j.Battery.Tag == "" {
		j.Battery.Tag = old.Battery.Tag
	}
	if err := casefile.Validate(j.Case(log)); err != nil {
		return nil, answer(err)
	}
	if err := s.Store.ChangeJob(ctx, who(ctx).WorkshopID, j); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, in.ID)
}

func (s *server) closeJob(ctx context.Context, in *OfJob) (*sheetReply, error) {
	p := who(ctx)
	if err := s.Store.CloseJob(ctx, p.WorkshopID, in.ID, p.ID, s.Now()); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, in.ID)
}

func (s *server) reopenJob(ctx context.Context, in *OfJob) (*sheetReply, error) {
	if err := s.Store.ReopenJob(ctx, who(ctx).WorkshopID, in.ID); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, in.ID)
}
