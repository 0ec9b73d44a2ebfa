package api

import (
	"cmp"
	"context"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/assess"
	"grapnel/core/guide"
	"grapnel/core/reading"
	"grapnel/internal/store"
)

// JobDetails is what a technician enters when a job arrives.
type JobDetails struct {
	Vehicle    reading.Vehicle    `json:"vehicle"`
	Battery    reading.Battery    `json:"battery"`
	Customer   string             `json:"customer,omitempty" maxLength:"120"`
	Note       string             `json:"note,omitempty" maxLength:"500" doc:"the complaint in the customer's words"`
	Complaint  []string           `json:"complaint,omitempty"`
	Conditions reading.Conditions `json:"conditions,omitempty"`
}

func (d JobDetails) job() store.Job {
	return store.Job{Vehicle: d.Vehicle, Battery: d.Battery, Customer: d.Customer, Note: d.Note, Complaint: d.Complaint, Conditions: d.Conditions}
}

// jobView is a job as the sheet shows it.
type jobView struct {
	ID string `json:"id" format:"uuid"`
	JobDetails
	Version  int        `json:"version" doc:"to be sent back with a change"`
	OpenedAt time.Time  `json:"opened_at"`
	OpenedBy string     `json:"opened_by"`
	ClosedAt *time.Time `json:"closed_at,omitempty"`
	ClosedBy string     `json:"closed_by,omitempty"`
}

func viewJob(j store.Job) jobView {
	return jobView{ID: j.ID, Version: j.Version, OpenedAt: j.OpenedAt, OpenedBy: j.OpenedBy, ClosedAt: j.ClosedAt, ClosedBy: j.ClosedBy,
		JobDetails: JobDetails{j.Vehicle, j.Battery, j.Customer, j.Note, j.Complaint, j.Conditions}}
}

// Judgement is what core says of a case.
type Judgement struct {
	Assessment assess.Assessment `json:"assessment"`
	Level      assess.Level      `json:"level" enum:"ok,note,act,stop" doc:"how the verdict weighs"`
	Gauges     []assess.Gauge    `json:"gauges"`
	Load       assess.LoadAdvice `json:"load"`
	Cautions   []guide.Caution   `json:"cautions"`
}

func judge(c reading.Case, p store.Person) Judgement {
	scale := assess.Scale(p.Temperature)
	all := assess.Judge(c, scale)
	j := Judgement{Assessment: all.Assessment, Level: all.Assessment.Verdict.Level(), Gauges: all.Gauges, Load: all.Load, Cautions: []guide.Caution{}}
	for _, code := range all.Assessment.Cautions {
		if caution, ok := guide.CautionOf(code); ok {
			j.Cautions = append(j.Cautions, caution)
		}
	}
	return j
}

// jobSheet is everything the job sheet shows.
type jobSheet struct {
	Job          jobView       `json:"job"`
	Readings     []readingView `json:"readings" doc:"corrected ones too, in the order they were saved"`
	Rest         *restView     `json:"rest,omitempty" doc:"the rest that runs, if one does"`
	Wait         assess.Wait   `json:"wait"`
	RestMinutes  float64       `json:"rest_minutes" doc:"how long the house rests a battery"`
	BatteryVolts float64       `json:"battery_volts" doc:"nominal volts of this one battery"`
	LoadCaution  guide.Caution `json:"load_caution" doc:"stands at the load test"`
	Plus         guide.Side    `json:"plus" doc:"the positive post"`
	Minus        guide.Side    `json:"minus" doc:"the negative post"`
	Judgement
}

type sheetOutput struct{ Body jobSheet }

func (s *server) sheet(ctx context.Context, id string) (*sheetOutput, error) {
	ws := who(ctx).WorkshopID
	j, err := s.Store.Job(ctx, ws, id)
	if err != nil {
		return nil, answer(err)
	}
	rs, err := s.Store.Readings(ctx, ws, id)
	if err != nil {
		return nil, answer(err)
	}
	rests, err := s.Store.RunningRests(ctx, ws)
	if err != nil {
		return nil, answer(err)
	}
	out := jobSheet{Job: viewJob(j), Readings: viewReadings(rs[id]), Judgement: judge(j.Case(rs[id]), who(ctx)), RestMinutes: j.Rules.RestMinutes}
	out.BatteryVolts = j.Case(nil).Volts()
	out.LoadCaution, _ = guide.CautionOf("load_tester")
	out.Plus, out.Minus = guide.Posts(j.Vehicle.Earth)
	if r, ok := rests[id]; ok {
		out.Rest = &restView{r.ID, r.StartsAt, r.EndsAt}
	}
	out.Wait = assess.Waits(out.Assessment, restEnds(rests, id), j.ClosedAt != nil, s.Now())
	return &sheetOutput{out}, nil
}

func restEnds(rests map[string]store.Rest, jobID string) *time.Time {
	if r, ok := rests[jobID]; ok {
		return &r.EndsAt
	}
	return nil
}

// jobLine is a job in a list.
type jobLine struct {
	ID       string       `json:"id" format:"uuid"`
	Tag      string       `json:"tag"`
	Vehicle  string       `json:"vehicle"`
	Class    string       `json:"class"`
	Customer string       `json:"customer,omitempty"`
	Headline string       `json:"headline"`
	Because  string       `json:"because"`
	Level    assess.Level `json:"level" enum:"ok,note,act,stop"`
	Wait     assess.Wait  `json:"wait"`
	Rest     *restView    `json:"rest,omitempty"`
	OpenedAt time.Time    `json:"opened_at"`
	ClosedAt *time.Time   `json:"closed_at,omitempty"`
}

// lines judges a list of jobs.
func (s *server) lines(ctx context.Context, closed bool, find string) ([]jobLine, error) {
	ws := who(ctx).WorkshopID
	jobs, err := s.Store.Jobs(ctx, ws, closed, find)
	if err != nil {
		return nil, answer(err)
	}
	ids := make([]string, len(jobs))
	for i, j := range jobs {
		ids[i] = j.ID
	}
	rs, err := s.Store.Readings(ctx, ws, ids...)
	if err != nil {
		return nil, answer(err)
	}
	rests, err := s.Store.RunningRests(ctx, ws)
	if err != nil {
		return nil, answer(err)
	}
	out := make([]jobLine, len(jobs))
	for i, j := range jobs {
		a := assess.Glance(j.Case(rs[j.ID]))
		out[i] = jobLine{ID: j.ID, Tag: j.Battery.Tag, Vehicle: j.Vehicle.Name, Class: j.Vehicle.Class, Customer: j.Customer,
			Headline: a.Headline, Because: a.Because, Level: a.Verdict.Level(), OpenedAt: j.OpenedAt, ClosedAt: j.ClosedAt,
			Wait: assess.Waits(a, restEnds(rests, j.ID), j.ClosedAt != nil, s.Now())}
		if r, ok := rests[j.ID]; ok {
			out[i].Rest = &restView{r.ID, r.StartsAt, r.EndsAt}
		}
	}
	return out, nil
}

// byWait puts first what needs hands now, longest waiting first, then what will,
// soonest first.
func byWait(a, b jobLine) int {
	if (a.Wait.At == nil) != (b.Wait.At == nil) {
		if a.Wait.At == nil {
			return -1
		}
		return 1
	}
	if a.Wait.At != nil {
		return a.Wait.At.Compare(*b.Wait.At)
	}
	return cmp.Or(-cmp.Compare(urgency(a), urgency(b)), a.OpenedAt.Compare(b.OpenedAt))
}

func urgency(l jobLine) int {
	if l.Level == assess.Stopped {
		return 2
	}
	if l.Rest != nil {
		return 1
	}
	return 0
}

type IDInput struct {
	ID string `path:"id" format:"uuid"`
}

func (s *server) jobRoutes(api huma.API) {
	huma.Register(api, operation(http.MethodGet, "/jobs", "listJobs", "Jobs by what they wait for"),
		func(ctx context.Context, in *struct {
			Find   string `query:"find" maxLength:"80" doc:"part of a tag, vehicle or customer"`
			Closed bool   `query:"closed" doc:"closed jobs instead of open ones"`
		}) (*struct {
			Body struct {
				Now  time.Time `json:"now"`
				Jobs []jobLine `json:"jobs"`
			}
		}, error) {
			lines, err := s.lines(ctx, in.Closed, in.Find)
			if err != nil {
				return nil, err
			}
			if !in.Closed {
				slices.SortStableFunc(lines, byWait)
			}
			out := &struct {
				Body struct {
					Now  time.Time `json:"now"`
					Jobs []jobLine `json:"jobs"`
				}
			}{}
			out.Body.Now, out.Body.Jobs = s.Now(), lines
			return out, nil
		})

	huma.Register(api, operation(http.MethodPost, "/jobs", "addJob", "Open a job; may be repeated with the same id"),
		func(ctx context.Context, in *struct {
			Body struct {
				ID string `json:"id" format:"uuid" doc:"made by the client, UUID v7"`
				JobDetails
			}
		}) (*sheetOutput, error) {
			p := who(ctx)
			j := in.Body.job()
			ws, err := s.Store.Workshop(ctx, p.WorkshopID)
			if err != nil {
				return nil, answer(err)
			}
			j.ID, j.OpenedByID, j.Rules = in.Body.ID, p.ID, ws.Rules
			if err := j.Case(nil).Validate(); err != nil {
				return nil, answer(err)
			}
			if err := s.Store.AddJob(ctx, p.WorkshopID, j, nil); err != nil {
				return nil, answer(err)
			}
			return s.sheet(ctx, j.ID)
		})

	huma.Register(api, operation(http.MethodGet, "/jobs/{id}", "getJob", "The job sheet with its judgement"),
		func(ctx context.Context, in *IDInput) (*sheetOutput, error) { return s.sheet(ctx, in.ID) })

	huma.Register(api, operation(http.MethodPut, "/jobs/{id}", "changeJob", "Change a job's details; readings stay"),
		func(ctx context.Context, in *struct {
			IDInput
			Body struct {
				Version int `json:"version" doc:"the version the change starts from"`
				JobDetails
			}
		}) (*sheetOutput, error) {
			ws := who(ctx).WorkshopID
			old, err := s.Store.Job(ctx, ws, in.ID)
			if err != nil {
				return nil, answer(err)
			}
			j := in.Body.job()
			j.ID, j.Version, j.Rules = in.ID, in.Body.Version, old.Rules
			if j.Battery.Tag == "" {
				j.Battery.Tag = old.Battery.Tag
			}
			rs, err := s.Store.Readings(ctx, ws, in.ID)
			if err != nil {
				return nil, answer(err)
			}
			if err := j.Case(rs[in.ID]).Validate(); err != nil {
				return nil, answer(err)
			}
			if err := s.Store.ChangeJob(ctx, ws, j); err != nil {
				return nil, answer(err)
			}
			return s.sheet(ctx, in.ID)
		})

	for path, closing := range map[string]bool{"close": true, "reopen": false} {
		huma.Register(api, operation(http.MethodPost, "/jobs/{id}/"+path, path+"Job", map[bool]string{true: "Hand over and close", false: "Open a closed job again"}[closing]),
			func(ctx context.Context, in *IDInput) (*sheetOutput, error) {
				p := who(ctx)
				var err error
				if closing {
					err = s.Store.CloseJob(ctx, p.WorkshopID, in.ID, p.ID, s.Now())
				} else {
					err = s.Store.ReopenJob(ctx, p.WorkshopID, in.ID)
				}
				if err != nil {
					return nil, answer(err)
				}
				return s.sheet(ctx, in.ID)
			})
	}
}
