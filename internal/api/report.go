package api

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"
	_ "time/tzdata" // the zones of devices are known wherever this runs

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/assess"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/station"
	"grapnel/core/words"
	"grapnel/internal/paper"
	"grapnel/internal/store"
)

// PaperInput says how something is printed.
type PaperInput struct {
	Zone string `query:"zone" maxLength:"60" doc:"time zone of the times on it, as Europe/Vienna; UTC when left out"`
	Size string `query:"size" enum:"A4,Letter" default:"A4"`
}

// zone gives the time zone of a print.
func (in PaperInput) zone() (*time.Location, error) {
	at, err := time.LoadLocation(cmp.Or(in.Zone, "UTC"))
	if err != nil || in.Zone == "Local" {
		return nil, refuse("query", document.Problems{{Path: "zone", Message: document.Quote(in.Zone) + " is no time zone. Give one such as Europe/Vienna, or leave it out"}})
	}
	return at, nil
}

// stamp and dated write times on paper.
func stamp(t time.Time, zone *time.Location) string { return t.In(zone).Format("2 Jan 2006, 15:04") }
func dated(t time.Time, zone *time.Location) string { return t.In(zone).Format("2 Jan 2006") }

// link gives the address of a path as it is reached from outside.
func (s *server) link(ctx context.Context, path string) string {
	base := s.Public
	if base == "" {
		base = came(ctx).base
	}
	return strings.TrimSuffix(base, "/") + path
}

// tagPath opens what is known of the battery of a tag: the sheet in hand, or the last one.
func tagPath(tag string) string { return "/t/" + url.PathEscape(tag) }

// baseOf gives how a request reached this server.
func baseOf(r *http.Request, secure bool) string {
	if secure || r.TLS != nil {
		return "https://" + r.Host
	}
	return "http://" + r.Host
}

type reportInput struct {
	OfJob
	PaperInput
}

// getReport draws the report of a job: what its sheet says, for whoever owns the battery.
func (s *server) getReport(ctx context.Context, in *reportInput) (*fileReply, error) {
	zone, err := in.zone()
	if err != nil {
		return nil, err
	}
	sheet, err := s.sheet(ctx, string(in.ID))
	if err != nil {
		return nil, err
	}
	papers, err := s.getPapers(ctx, &in.OfJob)
	if err != nil {
		return nil, err
	}
	r := s.report(ctx, sheet.Body, papers.Body, zone)
	r.Size = paper.Size(cmp.Or(in.Size, string(paper.A4)))
	for _, p := range papers.Body.Photos {
		if !p.Shown || p.BackAt != nil {
			continue
		}
		raw, err := s.Store.PhotoBytes(ctx, who(ctx).WorkshopID, string(in.ID), p.ID, false)
		if err != nil {
			return nil, answer(err)
		}
		r.Photos = append(r.Photos, paper.Picture{JPEG: raw, Width: p.Width, Height: p.Height,
			Text: cmp.Or(p.Caption, fmt.Sprintf("%s, %s", photoWords.Word(p.What), dated(p.At, zone)))})
	}
	raw, err := r.Print()
	if err != nil {
		return nil, answer(err)
	}
	return pdf(raw, "report-"+sheet.Body.Job.Battery.Tag), nil
}

// photoWords are what a picture is of.
var photoWords = words.ListOf(words.Term{Code: "label", Word: "Label"}, words.Term{Code: "damage", Word: "Damage"},
	words.Term{Code: "other", Word: "Picture"})

// pdfPolicy lets a browser's own viewer show a paper, and nothing run in it.
const pdfPolicy = "default-src 'none'; object-src 'self'; style-src 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'"

// pdf is a file to be shown, with a name that is safe anywhere.
func pdf(raw []byte, name string) *fileReply {
	return &fileReply{"application/pdf", `inline; filename="` + fileName(name) + `.pdf"`, "no-store", pdfPolicy, raw}
}

// report puts together what a sheet says: no sentence is made here.
func (s *server) report(ctx context.Context, sheet jobSheet, papers papersBody, zone *time.Location) paper.Report {
	p := who(ctx)
	j := sheet.Job
	r := paper.Report{
		At: s.Now(), Voice: voice(p), Workshop: p.Workshop, Tag: j.Battery.Tag, Vehicle: vehicleOf(j.Vehicle),
		Customer: j.Customer, Label: labelOf(j, 99, voice(p)), Link: s.link(ctx, tagPath(j.Battery.Tag)),
		Now:   paper.Said{Head: sheet.Headline.String(), Text: sheet.Because.String(), Level: string(sheet.Level)},
		Owner: sheet.Customer.String(), Gauges: []bench.Gauge{},
		Dates: "Came " + stamp(j.OpenedAt, zone),
	}
	if j.ClosedAt != nil {
		r.Dates += ", handed over " + stamp(*j.ClosedAt, zone) + " by " + j.ClosedBy
	}
	if len(j.Complaint) > 0 {
		r.Came = append(r.Came, "It came for: "+station.Complained(j.Complaint).String()+".")
	}
	if j.Note != "" {
		r.Came = append(r.Came, "“"+j.Note+"”")
	}
	if o := sheet.Outcome; o != nil {
		if b := o.Before; b != nil {
			r.Before = &paper.Said{Head: b.Headline.String(), Text: b.Because.String(), Level: string(b.Level)}
			if b.At != nil {
				r.Before.When = stamp(*b.At, zone)
			}
			if b.Tag != "" {
				r.Before.When = strings.TrimPrefix(r.Before.When+" · "+b.Tag, " · ")
			}
		}
		r.Proof = &paper.Said{Head: o.Headline.String(), Level: string(o.Level)}
		for _, i := range o.Items {
			if i.State != "open" || i.Needed {
				r.Items = append(r.Items, paper.Line{Level: string(i.Level), Text: i.Name + ": " + i.Text.Small().String()})
			}
		}
		r.Gauges = o.Gauges
	} else {
		for _, st := range sheet.Stations {
			if len(st.Gauges) > 0 && st.Gauges[0].Band != nil {
				r.Gauges = append(r.Gauges, st.Gauges[0])
			}
		}
	}
	if o := sheet.lastRead(); o != nil {
		r.Now.When = stamp(*o, zone)
	}
	r.Found = found(sheet)
	for _, rule := range sheet.Rules {
		r.Rules = append(r.Rules, paper.Line{Level: "note", Text: rule.Rule + ": " + rule.Says.String()})
	}
	for _, v := range sheet.Readings {
		if v.ReplacedBy == "" && v.Withdrawn == "" && assess.IsDone(v.Reading.Kind) {
			r.Done = append(r.Done, paper.Line{Level: "ok", Text: v.Full().String(), More: stamp(v.At, zone) + ", " + v.By})
		}
	}
	s.nextOnPaper(&r, sheet, papers)
	if len(papers.Estimates) > 0 {
		r.Cost = costOnPaper(papers.Estimates[0], zone)
	}
	for _, n := range papers.Notes {
		if n.Shown && n.BackAt == nil {
			r.Notes = append(r.Notes, paper.Line{Level: "note", Text: n.Text, More: stamp(n.At, zone) + ", " + n.By})
		}
	}
	return r
}

// lastRead is when the last reading in effect was taken.
func (sh jobSheet) lastRead() *time.Time {
	var last *time.Time
	for i := range sh.Readings {
		if r := &sh.Readings[i]; slices.Contains(sh.InEffect, r.ID) && (last == nil || r.At.After(*last)) {
			last = &r.At
		}
	}
	return last
}

// found gives what the ledger says, what has to be done first.
func found(sheet jobSheet) []paper.Line {
	order := []bench.Level{bench.Stopped, bench.Act, bench.OK, bench.Note}
	all := slices.DeleteFunc(slices.Clone(sheet.Findings), func(f findingView) bool {
		return strings.HasPrefix(f.Code, "proof.") || strings.HasPrefix(f.Code, "handover.")
	})
	slices.SortStableFunc(all, func(a, b findingView) int { return slices.Index(order, a.Level) - slices.Index(order, b.Level) })
	var out []paper.Line
	for _, f := range all {
		more := f.Why.String()
		if f.Source != "" {
			more = strings.TrimSpace(more + " " + words.Capital(f.Source) + ".")
		}
		out = append(out, paper.Line{Level: string(f.Level), Text: f.Text.String(), More: more})
	}
	return out
}

// nextOnPaper tells what is to be done next, when, and what was forgotten.
func (s *server) nextOnPaper(r *paper.Report, sheet jobSheet, papers papersBody) {
	var handed reading.Reading
	for _, v := range sheet.Readings {
		if v.Reading.Kind == station.Handover && slices.Contains(sheet.InEffect, v.ID) {
			handed = v.Reading
		}
	}
	if sheet.Job.ClosedAt == nil {
		for _, n := range sheet.Next {
			r.Next = append(r.Next, paper.Line{Level: "note", Text: n.Do.String(), More: n.Why.String()})
		}
	}
	for _, f := range sheet.Findings {
		switch f.Code {
		case "handover.next":
			line := paper.Line{Level: "wait", Text: f.Text.String()}
			if n := papers.Next; n != nil && n.On == handed.Word("next_check") {
				line.More = n.Why.String()
			}
			r.Next = append(r.Next, line)
		case "handover.reset_left", "handover.reset_done":
			r.Reset = append(r.Reset, paper.Line{Level: string(f.Level), Text: f.Text.String()})
		}
	}
	if told := handed.Word("told"); told != "" {
		r.Next = append(r.Next, paper.Line{Level: "note", Text: "“" + told + "”"})
	}
}

func costOnPaper(e estimateView, zone *time.Location) *paper.Cost {
	c := &paper.Cost{All: e.Said.All}
	for i, l := range e.Doc.Lines {
		text := l.Text
		if l.Count > 1 {
			text = fmt.Sprintf("%d × %s", l.Count, text)
		}
		c.Lines = append(c.Lines, paper.Amount{Text: text, Sum: e.Said.Lines[i]})
	}
	if e.Doc.TaxPct > 0 {
		c.Net, c.Tax = e.Said.Net, e.Said.Tax
	}
	c.Said = "Estimated " + stamp(e.At, zone) + " by " + e.By + "."
	if a := e.Answer; a != nil {
		word := "Declined"
		if a.Accepted {
			word = "Accepted"
		}
		c.Said = fmt.Sprintf("%s by %s, %s.", word, a.Name, stamp(a.At, zone))
	}
	return c
}

// vehicleOf names a vehicle.
func vehicleOf(v reading.Vehicle) string { return cmp.Or(v.Name, reading.Classes().Word(v.Class)) }

// labelOf is what a battery is in a line, in so many of its figures at most.
func labelOf(j jobView, most int, v words.Voice) string {
	all := j.Battery.Label(j.BatteryVolts)
	return words.Join(" · ", all[:min(most, len(all))]).In(v).String()
}

// labelsInput says which labels are printed.
type labelsInput struct {
	Jobs  []string `query:"job" required:"true" minItems:"1" maxItems:"200" doc:"ids of jobs"`
	Sheet string   `query:"sheet" default:"a4-21" doc:"code of a sheet of labels"`
	From  int      `query:"from" default:"1" minimum:"1" maximum:"100" doc:"the first place that is free on it"`
	What  []string `query:"what" enum:"battery,key" default:"battery,key"`
	Zone  string   `query:"zone" maxLength:"60"`
}

// getLabels draws labels for batteries and the keys of their vehicles.
func (s *server) getLabels(ctx context.Context, in *labelsInput) (*fileReply, error) {
	zone, err := PaperInput{Zone: in.Zone}.zone()
	if err != nil {
		return nil, err
	}
	on, ok := paper.LabelSheetOf(in.Sheet)
	if !ok {
		return nil, refuse("query", document.Problems{{Path: "sheet", Message: document.Quote(in.Sheet) + " is no sheet that is known here"}})
	}
	if in.From > on.Places() {
		return nil, refuse("query", document.Problems{{Path: "from", Message: fmt.Sprintf("is outside 1 to %d: this sheet has so many labels", on.Places())}})
	}
	p := who(ctx)
	var all []paper.Label
	for _, id := range in.Jobs {
		of := OfJob{ID: ID(strings.ToLower(id))}
		j, log, err := s.job(ctx, string(of.ID))
		if err != nil {
			return nil, err
		}
		at := j.OpenedAt
		if j.ClosedAt != nil {
			at = *j.ClosedAt
		}
		l := paper.Label{Tag: j.Battery.Tag, Vehicle: vehicleOf(j.Vehicle), Battery: labelOf(viewJob(j), 3, voice(p)), Date: "Tested " + dated(at, zone),
			Link: s.link(ctx, tagPath(j.Battery.Tag)), Workshop: p.Workshop}
		if handed, ok := station.LastHandover(j.Case(log)); ok {
			if on, err := time.Parse(time.DateOnly, handed.Word("next_check")); err == nil {
				l.Next = on.Format("2 Jan 2006")
			}
		}
		for _, what := range in.What {
			one := l
			one.Key = what == "key"
			all = append(all, one)
		}
	}
	raw, err := paper.PrintLabels(on, in.From, all, s.Now())
	if err != nil {
		return nil, answer(err)
	}
	return pdf(raw, "labels-"+all[0].Tag), nil
}

// getResetTag draws the tag for the mirror: what its owner has to set again.
func (s *server) getResetTag(ctx context.Context, in *reportInput) (*fileReply, error) {
	zone, err := in.zone()
	if err != nil {
		return nil, err
	}
	j, log, err := s.job(ctx, string(in.ID))
	if err != nil {
		return nil, err
	}
	handed, _ := station.LastHandover(j.Case(log))
	left, done := handed.Words("reset_left"), handed.Words("reset_done")
	if len(left) == 0 && len(done) == 0 {
		if left, err = s.forgotten(ctx, j, log); err != nil {
			return nil, err
		}
	}
	if len(left) == 0 {
		return nil, huma.Error409Conflict("Nothing is left for the owner to set: there is no tag to hang. Say under Hand over what it forgot.")
	}
	say := func(codes []string) []string {
		var out []string
		for _, c := range codes {
			out = append(out, words.Capital(station.Resets().Said(c)))
		}
		return out
	}
	p := who(ctx)
	raw, err := paper.ResetTag{
		Size: paper.Size(cmp.Or(in.Size, string(paper.A4))), At: s.Now(), Workshop: p.Workshop, Tag: j.Battery.Tag,
		Vehicle: vehicleOf(j.Vehicle), Date: dated(s.Now(), zone), Left: say(left), Done: say(done),
		Why: station.WhyForgot, Foot: station.SetSafely,
	}.Print()
	if err != nil {
		return nil, answer(err)
	}
	return pdf(raw, "reset-"+j.Battery.Tag), nil
}

type taggedSheet struct {
	JobID string `json:"job_id,omitempty" format:"uuid" doc:"the sheet in hand, or the last one"`
	Open  bool   `json:"open"`
	Tag   string `json:"tag"`
}

// openTag gives where the code on a label leads: the sheet in hand of the battery of a tag,
// or the one it had last.
func (s *server) openTag(ctx context.Context, in *struct {
	Tag string `path:"tag" maxLength:"40"`
}) (*output[taggedSheet], error) {
	p := who(ctx)
	open, err := s.Store.OpenOfTag(ctx, p.WorkshopID, in.Tag)
	if err != nil {
		return nil, answer(err)
	}
	if len(open) > 0 {
		return replied(taggedSheet{open[0], true, in.Tag})
	}
	last, err := s.Store.LastOfTag(ctx, p.WorkshopID, in.Tag)
	switch {
	case errors.Is(err, store.ErrNotFound):
		if _, err := s.Store.BatteryTagged(ctx, p.WorkshopID, in.Tag); err != nil {
			return nil, answer(err)
		}
		return replied(taggedSheet{Tag: in.Tag})
	case err != nil:
		return nil, answer(err)
	}
	return replied(taggedSheet{last, false, in.Tag})
}
