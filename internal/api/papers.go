package api

import (
	"cmp"
	"context"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/assess"
	"grapnel/core/cost"
	"grapnel/core/document"
	"grapnel/core/guide"
	"grapnel/core/station"
	"grapnel/core/words"
	"grapnel/internal/paper"
	"grapnel/internal/photo"
	"grapnel/internal/store"
)

// papersBody is what hangs on a job beside its readings.
type papersBody struct {
	Notes     []noteView     `json:"notes" doc:"in the order they were written; those taken back too"`
	Photos    []photoView    `json:"photos" doc:"in the order they were taken; those taken back too"`
	Estimates []estimateView `json:"estimates" doc:"the one that stands first"`
	Proposed  cost.Estimate  `json:"proposed" doc:"what the verdict asks for, at the shop's prices"`
	Priced    bool           `json:"priced" doc:"the workshop has a price list"`
	// When it is looked at next, as it is proposed; and what it has forgotten.
	Next      *assess.NextLook   `json:"next,omitempty"`
	Forgotten []string           `json:"forgotten" doc:"codes of what has to be set again, by the guides that were done"`
	Resets    []words.Term       `json:"resets" doc:"what a vehicle forgets without its battery"`
	Sheets    []paper.LabelSheet `json:"sheets" doc:"sheets of labels that can be printed on"`
}

type noteView struct {
	ID     string     `json:"id" format:"uuid"`
	Text   string     `json:"text"`
	Shown  bool       `json:"shown" doc:"it stands on the report"`
	At     time.Time  `json:"at"`
	By     string     `json:"by"`
	BackAt *time.Time `json:"back_at,omitempty" doc:"when it was taken back"`
	BackBy string     `json:"back_by,omitempty"`
}

type photoView struct {
	ID      string     `json:"id" format:"uuid"`
	What    string     `json:"what" enum:"label,damage,other"`
	Caption string     `json:"caption,omitempty"`
	Shown   bool       `json:"shown" doc:"it stands on the report"`
	Width   int        `json:"width"`
	Height  int        `json:"height"`
	At      time.Time  `json:"at"`
	By      string     `json:"by"`
	BackAt  *time.Time `json:"back_at,omitempty" doc:"when it was taken back"`
	BackBy  string     `json:"back_by,omitempty"`
}

type estimateView struct {
	ID     string        `json:"id" format:"uuid"`
	Doc    cost.Estimate `json:"doc"`
	Totals cost.Totals   `json:"totals"`
	Said   saidEstimate  `json:"said" doc:"its amounts as they are written"`
	At     time.Time     `json:"at"`
	By     string        `json:"by"`
	Answer *answerView   `json:"answer,omitempty"`
}

// saidEstimate is an estimate's amounts in the digits of whoever reads them.
type saidEstimate struct {
	Lines []string `json:"lines" doc:"what each line comes to"`
	Net   string   `json:"net"`
	Tax   string   `json:"tax"`
	All   string   `json:"all"`
}

type answerView struct {
	Accepted bool      `json:"accepted"`
	Name     string    `json:"name"`
	At       time.Time `json:"at"`
	By       string    `json:"by" doc:"who noted it"`
}

func said(e cost.Estimate, v words.Voice) saidEstimate {
	t := e.Totals()
	money := func(cents int) string { return e.Currency + " " + v.Amount(cents) }
	out := saidEstimate{Lines: []string{}, Net: money(t.Net), Tax: money(t.Tax), All: money(t.All)}
	for _, l := range e.Lines {
		out.Lines = append(out.Lines, money(l.Sum()))
	}
	return out
}

func viewEstimates(all []store.Estimate, v words.Voice) []estimateView {
	out := []estimateView{}
	for _, e := range all {
		one := estimateView{ID: e.ID, Doc: e.Doc, Totals: e.Doc.Totals(), Said: said(e.Doc, v), At: e.MadeAt, By: e.By}
		if a := e.Answer; a != nil {
			one.Answer = &answerView{a.Accepted, a.Name, a.At, a.By}
		}
		out = append(out, one)
	}
	return out
}

func viewNotes(all []store.Note) []noteView {
	out := []noteView{}
	for _, n := range all {
		out = append(out, noteView{n.ID, n.Text, n.Shown, n.At, n.By, n.BackAt, n.BackBy})
	}
	return out
}

func viewPhotos(all []store.Photo) []photoView {
	out := []photoView{}
	for _, p := range all {
		out = append(out, photoView{p.ID, p.What, p.Caption, p.Shown, p.Width, p.Height, p.At, p.By, p.BackAt, p.BackBy})
	}
	return out
}

func (s *server) getPapers(ctx context.Context, in *OfJob) (*output[papersBody], error) {
	p := who(ctx)
	j, log, err := s.job(ctx, string(in.ID))
	if err != nil {
		return nil, err
	}
	notes, err := s.Store.Notes(ctx, p.WorkshopID, j.ID)
	if err != nil {
		return nil, answer(err)
	}
	photos, err := s.Store.Photos(ctx, p.WorkshopID, j.ID)
	if err != nil {
		return nil, answer(err)
	}
	estimates, err := s.Store.Estimates(ctx, p.WorkshopID, j.ID)
	if err != nil {
		return nil, answer(err)
	}
	prices, version, err := s.Store.Prices(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	c := s.caseOf(j, log)
	a := assess.Concluded(station.Put(c, s.labels.find))
	out := papersBody{
		Notes: viewNotes(notes[j.ID]), Photos: viewPhotos(photos), Estimates: viewEstimates(estimates, voice(p)),
		Proposed: cost.Propose(prices, a, c), Priced: version > 1,
		Resets: station.Resets().Terms(), Sheets: paper.LabelSheets(),
	}
	if out.Forgotten, err = s.forgotten(ctx, j, log); err != nil {
		return nil, err
	}
	if next, ok := assess.LookAgain(c, a, s.Now()); ok {
		out.Next = &next
	}
	words.Spoken(&out, voice(p))
	return replied(out)
}

// forgotten gives what has to be set again on the vehicle of a job, by the guides that were
// done on it, or on the battery that stood in its place before.
func (s *server) forgotten(ctx context.Context, j store.Job, log []store.StoredReading) ([]string, error) {
	out := []string{}
	ws := who(ctx).WorkshopID
	take := func(of store.Job, log []store.StoredReading, only string) error {
		runs, err := s.Store.Guides(ctx, ws, of.ID)
		if err != nil {
			return answer(err)
		}
		for _, r := range runs {
			if only != "" && r.What != only {
				continue
			}
			for _, code := range assess.Scene(s.caseOf(of, log), s.labels.find, r.Site, true, s.Now()).Forgotten(r.What) {
				if !slices.Contains(out, code) {
					out = append(out, code)
				}
			}
		}
		return nil
	}
	if err := take(j, log, ""); err != nil {
		return nil, err
	}
	if j.Follows != "" {
		old, oldLog, err := s.job(ctx, j.Follows)
		if err != nil {
			return nil, err
		}
		if err := take(old, oldLog, guide.Replacing); err != nil {
			return nil, err
		}
	}
	return out, nil
}

type addNoteInput struct {
	OfJob
	Body struct {
		ID    ID     `json:"id" doc:"made by the client, UUID v7"`
		Text  string `json:"text" minLength:"1" maxLength:"2000"`
		Shown bool   `json:"shown,omitempty" doc:"on the report"`
	}
}

func (s *server) addNote(ctx context.Context, in *addNoteInput) (*output[papersBody], error) {
	text := strings.TrimSpace(words.CleanLines(in.Body.Text))
	if text == "" {
		return nil, refuse("body", document.Problems{{Path: "text", Message: "says nothing. Write the note, then save it"}})
	}
	p := who(ctx)
	err := s.Store.AddNote(ctx, p.WorkshopID, store.Note{ID: string(in.Body.ID), JobID: string(in.ID), Text: text, Shown: in.Body.Shown,
		ByID: p.ID})
	return s.papersChanged(ctx, &in.OfJob, err)
}

// papersChanged gives what hangs on a job after it was changed, and tells the other devices.
func (s *server) papersChanged(ctx context.Context, of *OfJob, err error) (*output[papersBody], error) {
	if err != nil {
		return nil, answer(err)
	}
	s.live.wake(who(ctx).WorkshopID)
	return s.getPapers(ctx, of)
}

type ofPaper struct {
	OfJob
	Paper ID `path:"paper"`
	Body  struct {
		Back bool `json:"back" doc:"taken back; false puts it back again"`
	}
}

func (s *server) takeBackNote(ctx context.Context, in *ofPaper) (*output[papersBody], error) {
	err := s.Store.TakeBackNote(ctx, who(ctx).WorkshopID, actor(ctx), string(in.ID), string(in.Paper), in.Body.Back)
	return s.papersChanged(ctx, &in.OfJob, err)
}

func (s *server) takeBackPhoto(ctx context.Context, in *ofPaper) (*output[papersBody], error) {
	err := s.Store.TakeBackPhoto(ctx, who(ctx).WorkshopID, actor(ctx), string(in.ID), string(in.Paper), in.Body.Back)
	return s.papersChanged(ctx, &in.OfJob, err)
}

type addPhotoInput struct {
	OfJob
	Photo   ID     `query:"id" required:"true" doc:"made by the client, UUID v7"`
	What    string `query:"what" enum:"label,damage,other" default:"other"`
	Caption string `query:"caption" maxLength:"200"`
	Shown   bool   `query:"shown" doc:"on the report"`
	RawBody []byte `contentType:"image/jpeg"`
}

func (s *server) addPhoto(ctx context.Context, in *addPhotoInput) (*output[papersBody], error) {
	p := who(ctx)
	if _, err := s.Store.Job(ctx, p.WorkshopID, string(in.ID)); err != nil {
		return nil, answer(err)
	}
	made, err := photo.Make(ctx, in.RawBody)
	if refused, ok := err.(photo.Refused); ok {
		return nil, huma.Error422UnprocessableEntity(string(refused))
	}
	if err != nil {
		return nil, answer(err)
	}
	err = s.Store.AddPhoto(ctx, p.WorkshopID, store.Photo{ID: string(in.Photo), JobID: string(in.ID), What: cmp.Or(in.What, "other"),
		Caption: words.Clean(in.Caption), Shown: in.Shown, Width: made.Width, Height: made.Height, ByID: p.ID},
		store.Image{JPEG: made.JPEG, Small: made.Small, Source: in.RawBody})
	return s.papersChanged(ctx, &in.OfJob, err)
}

type photoInput struct {
	OfJob
	Photo ID   `path:"photo"`
	Small bool `query:"small"`
}

// fileReply is a file as an answer.
type fileReply struct {
	ContentType        string `header:"Content-Type"`
	ContentDisposition string `header:"Content-Disposition"`
	CacheControl       string `header:"Cache-Control"`
	Policy             string `header:"Content-Security-Policy"`
	Body               []byte
}

func (s *server) getPhoto(ctx context.Context, in *photoInput) (*fileReply, error) {
	raw, err := s.Store.PhotoBytes(ctx, who(ctx).WorkshopID, string(in.ID), string(in.Photo), in.Small)
	if err != nil {
		return nil, answer(err)
	}
	// A photo never changes under its id.
	return &fileReply{"image/jpeg", `inline; filename="photo.jpg"`, "private, max-age=86400, immutable", policy(""), raw}, nil
}

type addEstimateInput struct {
	OfJob
	Body struct {
		ID       ID            `json:"id" doc:"made by the client, UUID v7"`
		Estimate cost.Estimate `json:"estimate"`
	}
}

func (s *server) addEstimate(ctx context.Context, in *addEstimateInput) (*output[papersBody], error) {
	e := in.Body.Estimate
	for i := range e.Lines {
		e.Lines[i].Text = words.Clean(e.Lines[i].Text)
	}
	e.Currency = words.Clean(e.Currency)
	if err := e.Check(); err != nil {
		return nil, answer(err)
	}
	p := who(ctx)
	err := s.Store.AddEstimate(ctx, p.WorkshopID, store.Estimate{ID: string(in.Body.ID), JobID: string(in.ID), Doc: e, ByID: p.ID})
	return s.papersChanged(ctx, &in.OfJob, err)
}

// addUp says what an estimate comes to that is not kept.
func (s *server) addUp(ctx context.Context, in *struct {
	Body struct {
		Estimate cost.Estimate `json:"estimate"`
	}
}) (*output[saidEstimate], error) {
	if err := in.Body.Estimate.Check(); err != nil {
		return nil, answer(err)
	}
	return replied(said(in.Body.Estimate, voice(who(ctx))))
}

type answerEstimateInput struct {
	OfJob
	Estimate ID `path:"estimate"`
	Body     struct {
		ID       ID     `json:"id" doc:"made by the client, UUID v7"`
		Accepted bool   `json:"accepted"`
		Name     string `json:"name" minLength:"1" maxLength:"120" doc:"who said so"`
	}
}

func (s *server) answerEstimate(ctx context.Context, in *answerEstimateInput) (*output[papersBody], error) {
	name := words.Clean(in.Body.Name)
	if name == "" {
		return nil, refuse("body", document.Problems{{Path: "name", Message: "is who said so. Type a name"}})
	}
	p := who(ctx)
	err := s.Store.AnswerEstimate(ctx, p.WorkshopID, string(in.ID), string(in.Estimate),
		store.Answer{ID: string(in.Body.ID), Accepted: in.Body.Accepted, Name: name, ByID: p.ID})
	return s.papersChanged(ctx, &in.OfJob, err)
}

// pricesBody is a workshop's price list.
type pricesBody struct {
	Prices  cost.Prices  `json:"prices"`
	Version int          `json:"version" doc:"to be sent back with a change"`
	Items   []words.Term `json:"items" doc:"what the list prices, in its order"`
}

func (s *server) getPrices(ctx context.Context, _ *nothing) (*output[pricesBody], error) {
	p, version, err := s.Store.Prices(ctx, who(ctx).WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	return replied(pricesBody{p, version, cost.Items().Terms()})
}

type setPricesInput struct {
	Body struct {
		Prices  cost.Prices `json:"prices"`
		Version int         `json:"version" doc:"the version the change starts from"`
	}
}

func (s *server) setPrices(ctx context.Context, in *setPricesInput) (*output[pricesBody], error) {
	p := in.Body.Prices
	p.Currency = words.Clean(p.Currency)
	if p.Cents == nil {
		p.Cents = map[string]int{}
	}
	if err := p.Check(); err != nil {
		return nil, answer(err)
	}
	if err := s.Store.SetPrices(ctx, who(ctx).WorkshopID, actor(ctx), p, in.Body.Version); err != nil {
		return nil, answer(err)
	}
	return s.getPrices(ctx, nil)
}
