package api

import (
	"bytes"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/assess"
	"grapnel/core/battery"
	"grapnel/core/document"
	"grapnel/core/fit"
	"grapnel/core/reading"
	"grapnel/core/words"
	"grapnel/internal/files"
	"grapnel/internal/store"
)

// stockView is a battery on the shelf.
type stockView struct {
	Item     fit.Item    `json:"item"`
	Version  int         `json:"version"`
	SizeMM   []float64   `json:"size_mm,omitempty" doc:"length, width, height; by its group where nobody has measured it"`
	Positive string      `json:"positive,omitempty" doc:"left or right; by its group where nobody has said"`
	AddedAt  time.Time   `json:"added_at"`
	Tested   *fit.Tested `json:"tested,omitempty" doc:"by its own sheet, or as it was typed"`
	SOC      *float64    `json:"soc_pct,omitempty" doc:"charge by its rest volts"`
	Charge   bool        `json:"charge_first"`
	Test     bool        `json:"test_first"`
	Months   *int        `json:"months,omitempty" doc:"since it was made"`
	JobID    string      `json:"job_id,omitempty" doc:"its sheet that is open"`
}

type stockBody struct {
	Shelf        []stockView             `json:"shelf"`
	Vocabularies map[string][]words.Term `json:"vocabularies"`
	Most         int                     `json:"most"`
	NextTag      string                  `json:"next_tag" doc:"that the shop would give"`
}

// shelved is a battery on the shelf, with what its own sheets say of it.
type shelved struct {
	store.Stock
	tested *fit.Tested // by its own sheet, or as it was typed
	jobID  string      // its sheet that is open
}

// item is the battery as it is ranked: by its own sheet before what was typed.
func (b shelved) item() fit.Item {
	out := b.Item
	out.Tested = b.tested
	return out
}

// shelf gives what stands on the shelf.
func (s *server) shelf(ctx context.Context) ([]shelved, error) {
	ws := who(ctx).WorkshopID
	all, err := s.Store.Shelf(ctx, ws)
	if err != nil {
		return nil, answer(err)
	}
	var ids []string
	for _, one := range all {
		ids = append(ids, one.BatteryID)
	}
	jobs, err := s.Store.JobsOnBatteries(ctx, ws, ids...)
	if err != nil {
		return nil, answer(err)
	}
	var jobIDs []string
	for _, some := range jobs {
		for _, j := range some {
			jobIDs = append(jobIDs, j.ID)
		}
	}
	logs, err := s.Store.Readings(ctx, ws, jobIDs...)
	if err != nil {
		return nil, answer(err)
	}
	out := make([]shelved, len(all))
	for i, one := range all {
		out[i] = shelved{Stock: one, tested: one.Item.Tested}
		for _, j := range jobs[one.BatteryID] { // the oldest first
			if t := assess.ShelfTest(s.caseOf(j, logs[j.ID]), s.labels.find, s.Now().Location()); t != nil {
				out[i].tested = t
			}
			if j.ClosedAt == nil {
				out[i].jobID = j.ID
			}
		}
	}
	return out, nil
}

// dated gives a battery with today on a test that was typed without its day.
func (s *server) dated(item fit.Item) fit.Item {
	if item.Tested != nil && item.Tested.On == "" {
		one := *item.Tested
		one.On = s.today()
		item.Tested = &one
	}
	return item
}

func (s *server) getStock(ctx context.Context, _ *nothing) (*output[stockBody], error) {
	all, err := s.shelf(ctx)
	if err != nil {
		return nil, err
	}
	out := stockBody{Shelf: []stockView{}, Vocabularies: map[string][]words.Term{}, Most: store.MostStock}
	for field, l := range fit.Vocabularies() {
		out.Vocabularies[field] = l.Terms()
	}
	if out.NextTag, err = s.Store.NextTag(ctx, who(ctx).WorkshopID); err != nil {
		return nil, answer(err)
	}
	out.Vocabularies["chemistry"] = battery.ChemistryWords().Terms()
	out.Vocabularies["terminals"] = reading.Vocabularies()["terminals"].Terms()
	out.Vocabularies["standard"] = reading.Vocabularies()["standard"].Terms()
	for _, one := range all {
		k := fit.Kept(one.item(), s.today(), s.labels.find)
		whole := one.Item.Whole()
		out.Shelf = append(out.Shelf, stockView{Item: one.Item, SizeMM: whole.SizeMM, Positive: whole.Positive,
			Version: one.Version, AddedAt: one.AddedAt, Tested: one.tested, SOC: k.SOC, Charge: k.ChargeFirst,
			Test: k.TestFirst, Months: k.Months, JobID: one.jobID})
	}
	return replied(out)
}

type addStockInput struct {
	RawBody []byte `contentType:"application/json"`
}

func (s *server) addStock(ctx context.Context, in *addStockInput) (*output[stockBody], error) {
	item, err := fit.DecodeItem(in.RawBody)
	if err != nil {
		return nil, answer(err)
	}
	if err := s.Store.AddStock(ctx, who(ctx).WorkshopID, actor(ctx), []fit.Item{s.dated(item)}); err != nil {
		return nil, answer(err)
	}
	s.live.wake(who(ctx).WorkshopID)
	return s.getStock(ctx, nil)
}

type changeStockInput struct {
	Tag     string `path:"tag" maxLength:"40"`
	Version int    `query:"version" doc:"that the change starts from"`
	Gone    bool   `query:"gone" doc:"it was sold or scrapped, and leaves the shelf"`
	RawBody []byte `contentType:"application/json"`
}

func (s *server) changeStock(ctx context.Context, in *changeStockInput) (*output[stockBody], error) {
	item, err := fit.DecodeItem(in.RawBody)
	if err != nil {
		return nil, answer(err)
	}
	if err := s.Store.ChangeStock(ctx, who(ctx).WorkshopID, actor(ctx), words.Clean(in.Tag), in.Version, s.dated(item),
		in.Gone); err != nil {
		return nil, answer(err)
	}
	s.live.wake(who(ctx).WorkshopID)
	return s.getStock(ctx, nil)
}

type testStockInput struct {
	Tag  string `path:"tag" maxLength:"40"`
	Body struct {
		ID ID `json:"id" doc:"of the job, made by the client, UUID v7"`
	}
}

// testStock opens a sheet for a battery of the shelf; where one is open already, that one.
func (s *server) testStock(ctx context.Context, in *testStockInput) (*output[tagged], error) {
	p := who(ctx)
	one, err := s.Store.OnShelf(ctx, p.WorkshopID, words.Clean(in.Tag))
	if err != nil {
		return nil, answer(err)
	}
	if one.GoneAt != nil {
		return nil, conflict(changed, one.Item.Tag+" has left the shelf meanwhile.")
	}
	open, err := s.Store.OpenOfTag(ctx, p.WorkshopID, one.Item.Tag)
	if err != nil {
		return nil, answer(err)
	}
	if len(open) > 0 {
		return replied(tagged{open[0]})
	}
	ws, err := s.Store.Workshop(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	j := store.Job{ID: string(in.Body.ID), Vehicle: one.Item.Serves(), Battery: one.Item.Battery(),
		Note: "Test before it is fitted", Rules: ws.Rules,
		OpenedByID: p.ID, SameBattery: true}
	if err := s.Store.AddJob(ctx, p.WorkshopID, j, nil); err != nil {
		return nil, answer(err)
	}
	s.live.wake(p.WorkshopID)
	return replied(tagged{j.ID})
}

type csvReply struct {
	ContentType        string `header:"Content-Type"`
	ContentDisposition string `header:"Content-Disposition"`
	Body               []byte
}

func (s *server) exportStock(ctx context.Context, _ *nothing) (*csvReply, error) {
	all, err := s.shelf(ctx)
	if err != nil {
		return nil, err
	}
	items := make([]fit.Item, len(all))
	for i, one := range all {
		items[i] = one.item()
	}
	var out bytes.Buffer
	if err := files.WriteStock(&out, items); err != nil {
		return nil, answer(err)
	}
	return &csvReply{"text/csv; charset=utf-8", `attachment; filename="shelf.csv"`, out.Bytes()}, nil
}

type importStockInput struct {
	RawBody []byte `contentType:"text/csv"`
}

func (s *server) importStock(ctx context.Context, in *importStockInput) (*output[stockBody], error) {
	items, err := files.ReadStock(in.RawBody)
	if err != nil {
		return nil, answer(err)
	}
	if err := s.Store.AddStock(ctx, who(ctx).WorkshopID, actor(ctx), items); err != nil {
		return nil, answer(err)
	}
	s.live.wake(who(ctx).WorkshopID)
	return s.getStock(ctx, nil)
}

// fitBody is what suits the vehicle of a job.
type fitBody struct {
	fit.Fit
	Needs fit.Needs `json:"needs" doc:"as somebody said, or as the present battery's label has it"`
	Said  bool      `json:"said" doc:"somebody has said what the maker asks for"`
	Cold  *float64  `json:"coldest_c,omitempty" doc:"the coldest start of the place"`
}

// asksFit makes the request of a job's vehicle over what is on the shelf.
func (s *server) asksFit(ctx context.Context, j store.Job, log []store.StoredReading) (fit.Request, bool, error) {
	all, err := s.shelf(ctx)
	if err != nil {
		return fit.Request{}, false, err
	}
	r := fit.Request{Format: fit.RequestFormat, Vehicle: j.Vehicle, Today: s.today(), Needs: assess.NeedsOf(s.caseOf(j, log))}
	if j.Needs != nil {
		r.Needs = *j.Needs
	}
	lows, err := s.Store.Lows(ctx, who(ctx).WorkshopID)
	if err != nil {
		return r, false, answer(err)
	}
	if lows != nil {
		coldest := slices.Min(lows[:])
		r.ColdestC = &coldest
	}
	for _, one := range all {
		r.Stock = append(r.Stock, one.item())
	}
	return r, j.Needs != nil, nil
}

func (s *server) fitFor(ctx context.Context, jobID string) (*output[fitBody], error) {
	j, log, err := s.job(ctx, jobID)
	if err != nil {
		return nil, err
	}
	r, said, err := s.asksFit(ctx, j, log)
	if err != nil {
		return nil, err
	}
	return replied(fitBody{r.Rank(s.labels.find, voice(who(ctx))), r.Needs, said, r.ColdestC})
}

func (s *server) getFit(ctx context.Context, in *OfJob) (*output[fitBody], error) {
	return s.fitFor(ctx, string(in.ID))
}

type needsInput struct {
	OfJob
	RawBody []byte `contentType:"application/json"`
}

func (s *server) setNeeds(ctx context.Context, in *needsInput) (*output[fitBody], error) {
	var n fit.Needs
	if err := document.Decode(in.RawBody, "what a vehicle needs", fit.NeedsShape(), &n); err != nil {
		return nil, answer(err)
	}
	if err := s.Store.SetNeeds(ctx, who(ctx).WorkshopID, string(in.ID), n); err != nil {
		return nil, answer(err)
	}
	return s.fitFor(ctx, string(in.ID))
}

type fitInput struct {
	RawBody []byte `contentType:"application/json"`
}

func (s *server) rankFit(ctx context.Context, in *fitInput) (*output[fit.Fit], error) {
	r, err := fit.Decode(in.RawBody)
	if err != nil {
		return nil, answer(err)
	}
	return replied(r.Rank(s.labels.find, voice(who(ctx))))
}

// chosen checks the battery, or the two, that go in: on the shelf, suiting, tested and
// charged; a lead may say why one goes in all the same. It gives their tags as the shop has
// them.
func (s *server) chosen(ctx context.Context, g *guideBody, choice, reason string) (string, error) {
	var tags []string
	for _, t := range strings.Split(choice, ",") {
		if t = words.Clean(t); t != "" {
			tags = append(tags, t)
		}
	}
	want := 1
	if g.Drawn.Pair != "" {
		want = 2
	}
	if len(tags) != want {
		return "", huma.Error422UnprocessableEntity(fmt.Sprintf("Say which go in, by tag: %d.", want))
	}
	r, _, err := s.asksFit(ctx, g.job, g.log)
	if err != nil {
		return "", err
	}
	ranked := r.Rank(s.labels.find, voice(who(ctx))).Ranked
	var out []string
	for _, tag := range tags {
		i := slices.IndexFunc(ranked, func(one fit.Ranked) bool { return strings.EqualFold(one.Tag, tag) })
		if i < 0 {
			return "", conflict(unfit, tag+" is not on the shelf. Put it there first, with its label and its test.")
		}
		one := ranked[i]
		if slices.Contains(out, one.Tag) {
			return "", conflict(unfit, "Two different ones go in: "+one.Tag+" is named twice.")
		}
		out = append(out, one.Tag)
		why := ""
		switch {
		case !one.Fits:
			k := slices.IndexFunc(one.Lines, func(l fit.Ruled) bool { return !l.OK })
			why = one.Tag + " does not suit. " + one.Lines[k].Text.String()
		case one.TestFirst:
			why = one.Tag + " is not tested. A new battery is tested before it is fitted."
		case one.ChargeFirst:
			why = one.Tag + " is not charged. A new battery is charged before it is fitted."
		}
		if lead := actor(ctx).Lead; why != "" && (!lead || reason == "") {
			if lead {
				return "", conflict(unfit, why+" Say why it goes in all the same.")
			}
			return "", conflict(unfit, why+" A lead can say why it goes in all the same.")
		}
	}
	return strings.Join(out, ","), nil
}
