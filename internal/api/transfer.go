package api

import (
	"archive/zip"
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"grapnel/core/casefile"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/internal/files"
	"grapnel/internal/store"
)

// csvFile is a table as an answer; the date of the shop's clock stands in its name.
func (s *server) csvFile(what string, write func(*bytes.Buffer) error) (*fileReply, error) {
	var out bytes.Buffer
	if err := write(&out); err != nil {
		return nil, answer(err)
	}
	name := what + "-" + s.today()
	return &fileReply{"text/csv; charset=utf-8", `attachment; filename="` + name + `.csv"`, "no-store", policy(""), out.Bytes()}, nil
}

// takenOut notes in the history that data leaves the workshop.
func (s *server) takenOut(ctx context.Context, what string) error {
	return answer(s.Store.TakeOut(ctx, who(ctx).WorkshopID, actor(ctx), what))
}

func (s *server) exportJobs(ctx context.Context, _ *nothing) (*fileReply, error) {
	jobs, err := s.Store.AllJobs(ctx, who(ctx).WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	said, err := s.glanceAt(ctx, jobs)
	if err != nil {
		return nil, err
	}
	rows := make([]files.JobRow, len(jobs))
	for i, j := range jobs {
		house, err := json.Marshal(j.Rules)
		if err != nil {
			return nil, answer(err)
		}
		rows[i] = files.JobRow{ID: j.ID, Vehicle: j.Vehicle, Battery: j.Battery, Customer: j.Customer, Note: j.Note, Complaint: j.Complaint,
			Conditions: j.Conditions, Rules: string(house), OpenedAt: j.OpenedAt.UTC(), OpenedBy: j.OpenedBy, ClosedAt: j.ClosedAt, ClosedBy: j.ClosedBy,
			Promised: j.Promised, Follows: j.Follows, Verdict: string(said[j.ID].Verdict), Headline: said[j.ID].Headline.String()}
	}
	if err := s.takenOut(ctx, "jobs"); err != nil {
		return nil, err
	}
	return s.csvFile("jobs", func(out *bytes.Buffer) error { return files.WriteJobs(out, rows) })
}

// everyReading calls for the log of every job of the workshop, the oldest job first.
func (s *server) everyReading(ctx context.Context, each func(store.Job, []store.StoredReading) error) error {
	jobs, err := s.Store.AllJobs(ctx, who(ctx).WorkshopID)
	if err != nil {
		return answer(err)
	}
	const some = 500
	for len(jobs) > 0 {
		n := min(some, len(jobs))
		ids := make([]string, n)
		for i, j := range jobs[:n] {
			ids[i] = j.ID
		}
		logs, err := s.Store.Readings(ctx, who(ctx).WorkshopID, ids...)
		if err != nil {
			return answer(err)
		}
		for _, j := range jobs[:n] {
			if err := each(j, logs[j.ID]); err != nil {
				return answer(err)
			}
		}
		jobs = jobs[n:]
	}
	return nil
}

func (s *server) exportReadings(ctx context.Context, _ *nothing) (*fileReply, error) {
	var rows []files.ReadingRow
	if err := s.everyReading(ctx, func(_ store.Job, log []store.StoredReading) error {
		for _, r := range log {
			rows = append(rows, files.ReadingRow{ID: r.ID, Job: r.JobID, Replaces: r.Replaces, At: r.At, By: cmp.Or(r.Reading.By, r.By), Reading: r.Reading})
		}
		return nil
	}); err != nil {
		return nil, err
	}
	if err := s.takenOut(ctx, "readings"); err != nil {
		return nil, err
	}
	return s.csvFile("readings", func(out *bytes.Buffer) error { return files.WriteReadings(out, rows) })
}

func (s *server) exportBatteries(ctx context.Context, _ *nothing) (*fileReply, error) {
	all, err := s.Store.Batteries(ctx, who(ctx).WorkshopID, "")
	if err != nil {
		return nil, answer(err)
	}
	rows := make([]files.BatteryRow, len(all))
	for i, b := range all {
		rows[i] = files.BatteryRow{Battery: b.Label, Twin: b.Twin}
		rows[i].Battery.Tag = b.Tag
	}
	if err := s.takenOut(ctx, "batteries"); err != nil {
		return nil, err
	}
	return s.csvFile("batteries", func(out *bytes.Buffer) error { return files.WriteBatteries(out, rows) })
}

func (s *server) exportNotes(ctx context.Context, _ *nothing) (*fileReply, error) {
	jobs, err := s.Store.AllJobs(ctx, who(ctx).WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	ids := make([]string, len(jobs))
	for i, j := range jobs {
		ids[i] = j.ID
	}
	notes, err := s.Store.Notes(ctx, who(ctx).WorkshopID, ids...)
	if err != nil {
		return nil, answer(err)
	}
	var rows []files.NoteRow
	for _, j := range jobs {
		for _, n := range notes[j.ID] {
			row := files.NoteRow{Job: j.ID, Tag: j.Battery.Tag, At: n.At.UTC().Format(time.RFC3339Nano), By: n.By, Text: n.Text, Shown: n.Shown}
			if n.BackAt != nil {
				row.BackAt = n.BackAt.UTC().Format(time.RFC3339Nano)
			}
			rows = append(rows, row)
		}
	}
	if err := s.takenOut(ctx, "notes"); err != nil {
		return nil, err
	}
	return s.csvFile("notes", func(out *bytes.Buffer) error { return files.WriteNotes(out, rows) })
}

// exportCases packs the case files of all jobs, each under its tag and the day it came.
func (s *server) exportCases(ctx context.Context, _ *nothing) (*fileReply, error) {
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	if err := s.everyReading(ctx, func(j store.Job, log []store.StoredReading) error {
		w, err := z.CreateHeader(&zip.FileHeader{Name: fmt.Sprintf("cases/%s-%s-%s.case.json", s.day(j.OpenedAt),
			fileName(j.Battery.Tag), j.ID[len(j.ID)-6:]), Method: zip.Deflate, Modified: j.OpenedAt})
		if err != nil {
			return err
		}
		return json.NewEncoder(w).Encode(caseFile(j, log))
	}); err != nil {
		return nil, err
	}
	if err := z.Close(); err != nil {
		return nil, answer(err)
	}
	if err := s.takenOut(ctx, "case files"); err != nil {
		return nil, err
	}
	return &fileReply{"application/zip", `attachment; filename="cases-` + s.today() + `.zip"`, "no-store", policy(""), out.Bytes()}, nil
}

// caseFile is a job as a grapnel.case/1 document, each reading with when and by whom it was
// taken.
func caseFile(j store.Job, log []store.StoredReading) reading.Case {
	c := j.Case(nil)
	for _, r := range store.InEffect(log) {
		at := r.At
		r.Reading.At = &at
		r.Reading.By = cmp.Or(r.Reading.By, r.By)
		c.Readings = append(c.Readings, r.Reading)
	}
	return c
}

type importTable struct {
	SameOr
	RawBody []byte `contentType:"text/csv"`
}

// broughtIn says how much of a table was not there.
type broughtIn struct {
	Added int `json:"added" doc:"lines that were not there"`
	Known int `json:"known" doc:"lines that were there already, as they are written"`
}

// brought answers what became of a table that was brought in.
func (s *server) brought(ctx context.Context, n, of int, err error) (*output[broughtIn], error) {
	var at *store.LineError
	if errors.As(err, &at) {
		says := map[error]string{
			store.ErrTaken:    "its id is known here with other content. Nothing is ever overwritten: leave the id out to add it anew",
			store.ErrLabel:    "a battery of this tag is known here, with another label. Say that it is the same, or give it another tag",
			store.ErrNotFound: sentence(at.Err) + ". Bring in the jobs first",
			store.ErrChanged:  "the reading it corrects is corrected already",
			store.ErrMany:     fmt.Sprintf("its job would hold more than %d readings", store.MostReadings),
		}
		for known, text := range says {
			if errors.Is(at.Err, known) {
				return nil, answer(document.Problems{{Path: fmt.Sprintf("line %d", at.Line), Message: text}})
			}
		}
	}
	if err != nil {
		return nil, answer(err)
	}
	s.live.wake(who(ctx).WorkshopID)
	return replied(broughtIn{n, of - n})
}

func (s *server) importJobs(ctx context.Context, in *importTable) (*output[broughtIn], error) {
	rows, err := files.ReadJobs(in.RawBody)
	if err != nil {
		return nil, answer(err)
	}
	p := who(ctx)
	people, err := s.Store.PeopleByName(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	all := make([]store.BroughtJob, len(rows))
	for i, r := range rows {
		id, err := store.LineID(p.WorkshopID, "job", i, r)
		if err != nil {
			return nil, answer(err)
		}
		j := store.Job{ID: cmp.Or(r.ID, id), Vehicle: r.Vehicle, Battery: r.Battery, Customer: r.Customer,
			Note: r.Note, Complaint: r.Complaint, Conditions: r.Conditions, Promised: r.Promised, Rules: r.House, OpenedAt: r.OpenedAt,
			OpenedByID: cmp.Or(people[r.OpenedBy], p.ID), Follows: r.Follows}
		all[i] = store.BroughtJob{Line: r.Line, Job: j, Closed: r.ClosedAt, ClosedByID: cmp.Or(people[r.ClosedBy], p.ID)}
	}
	n, err := s.Store.BringJobs(ctx, p.WorkshopID, actor(ctx), all, in.Battery == "same")
	return s.brought(ctx, n, len(all), err)
}

func (s *server) importReadings(ctx context.Context, in *importTable) (*output[broughtIn], error) {
	rows, err := files.ReadReadings(in.RawBody)
	if err != nil {
		return nil, answer(err)
	}
	p := who(ctx)
	people, err := s.Store.PeopleByName(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	var ids []string
	seen := map[string]bool{}
	for _, r := range rows {
		if !seen[r.Job] {
			seen[r.Job] = true
			ids = append(ids, r.Job)
		}
	}
	jobs, err := s.Store.JobsOf(ctx, p.WorkshopID, ids...)
	if err != nil {
		return nil, answer(err)
	}
	of := map[string]store.Job{}
	for _, j := range jobs {
		of[j.ID] = j
	}
	var wrong document.Problems
	all := make([]store.BroughtReading, 0, len(rows))
	for i, r := range rows {
		j, ok := of[r.Job]
		if !ok {
			wrong = append(wrong, document.Problem{Path: fmt.Sprintf("line %d, column job", r.Line), Message: "there is no such job here. Bring in the jobs first"})
		} else if r.Reading.Kind != reading.Withdrawn {
			for _, one := range casefile.CheckReading(j.Case(nil), r.Reading) {
				wrong = append(wrong, document.Problem{Path: fmt.Sprintf("line %d, column %s", r.Line, one.Path), Message: one.Message})
			}
		}
		if len(wrong) > document.Most {
			break
		}
		if people[r.By] == "" { // nobody here: the name stays with the reading
			r.Reading.By = cmp.Or(r.Reading.By, r.By)
		}
		id, err := store.LineID(p.WorkshopID, "reading", i, r)
		if err != nil {
			return nil, answer(err)
		}
		one := store.StoredReading{JobID: r.Job, At: r.At, ByID: cmp.Or(people[r.By], p.ID)}
		one.ID, one.Reading, one.Replaces = cmp.Or(r.ID, id), r.Reading, r.Replaces
		all = append(all, store.BroughtReading{Line: r.Line, StoredReading: one})
	}
	if wrong != nil {
		return nil, answer(wrong.Few())
	}
	n, err := s.Store.BringReadings(ctx, p.WorkshopID, actor(ctx), all)
	return s.brought(ctx, n, len(all), err)
}

func (s *server) importBatteries(ctx context.Context, in *importTable) (*output[broughtIn], error) {
	rows, err := files.ReadBatteries(in.RawBody)
	if err != nil {
		return nil, answer(err)
	}
	all, lines, twins := make([]reading.Battery, len(rows)), make([]int, len(rows)), map[string]string{}
	for i, r := range rows {
		all[i], lines[i] = r.Battery, r.Line
		if r.Twin != "" && !strings.EqualFold(r.Twin, r.Battery.Tag) {
			twins[r.Battery.Tag] = r.Twin
		}
	}
	n, err := s.Store.BringBatteries(ctx, who(ctx).WorkshopID, actor(ctx), all, twins, lines, in.Battery == "same")
	return s.brought(ctx, n, len(all), err)
}

// transferRoutes are everything in and out.
func (s *server) transferRoutes() []route {
	get := func(path, id, summary string, f func(context.Context, *nothing) (*fileReply, error)) route {
		return at("GET", "/export/"+path, id, summary+"; a lead only", f, needs(needLead))
	}
	post := func(path, id, summary string, f func(context.Context, *importTable) (*output[broughtIn], error)) route {
		return at("POST", "/import/"+path, id, summary+", all or none; may be repeated. A lead only", f, needs(needLead), brings(mostTable))
	}
	return []route{
		get("jobs", "exportJobs", "Every job as a table", s.exportJobs),
		get("readings", "exportReadings", "Every reading as a table, corrections too", s.exportReadings),
		get("batteries", "exportBatteries", "Every battery as a table", s.exportBatteries),
		get("notes", "exportNotes", "Every note as a table", s.exportNotes),
		get("cases", "exportCases", "The case files of all jobs, packed", s.exportCases),
		post("jobs", "importJobs", "Jobs from a table", s.importJobs),
		post("readings", "importReadings", "Readings from a table", s.importReadings),
		post("batteries", "importBatteries", "Batteries from a table", s.importBatteries),
	}
}
