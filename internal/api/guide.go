package api

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/assess"
	"grapnel/core/bench"
	"grapnel/core/guide"
	"grapnel/core/reading"
	"grapnel/core/season"
	"grapnel/core/station"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// guideLine is a guide that runs, on a sheet.
type guideLine struct {
	What string     `json:"what" enum:"clean,water,replace,store,wake"`
	Do   words.Text `json:"do,omitzero" doc:"the step that comes now"`
	Done int        `json:"done"`
	Of   int        `json:"of"`
}

// Problems of guides.
const (
	stillOff = "urn:grapnel:still-off" // something is off, and the job is not handed over
	order    = "urn:grapnel:order"     // another step comes before, or hurts where it does not
	unfit    = "urn:grapnel:unfit"     // the battery chosen does not suit, or is not ready
	noReason = "urn:grapnel:no-reason" // no verdict asks for it, and nobody has said why
)

// stillOff gives what is off the vehicle of a job, its own guides' and those of the battery
// that stood in its place before, and how many things were done with its own.
func (s *server) stillOff(ctx context.Context, j store.Job) (off []offView, seen int, err error) {
	events, err := s.Store.GuideEvents(ctx, who(ctx).WorkshopID, j.ID)
	if err != nil {
		return nil, 0, answer(err)
	}
	off = openParts(events)
	if j.Follows != "" {
		before, err := s.Store.GuideEvents(ctx, who(ctx).WorkshopID, j.Follows)
		if err != nil {
			return nil, 0, answer(err)
		}
		off = append(openParts(before), off...)
	}
	return off, len(events), nil
}

// offView is a part that is off a vehicle, or an aid that is on it.
type offView struct {
	guide.Part
	What  string `json:"what" enum:"clean,water,replace,store,wake" doc:"the guide it is put back with"`
	JobID string `json:"job_id" format:"uuid" doc:"and whose"`
	// Stored is off because it was put away so: nothing to be put back before it is woken.
	Stored bool `json:"stored,omitempty" doc:"off because it was put away so"`
}

func openParts(events []store.GuideEvent) []offView {
	out := []offView{}
	for _, code := range guide.Open(eventsOf(events, "")) {
		p, ok := guide.PartOf(code)
		if !ok {
			continue
		}
		view := offView{Part: p}
		for _, e := range events { // the last that moved it
			if slices.Contains(e.Off, code) || slices.Contains(e.Back, code) {
				view.What, view.JobID, view.Stored = e.What, e.JobID, false
				if e.What == guide.Storing {
					view.What, view.Stored = guide.Waking, true
				}
			}
		}
		out = append(out, view)
	}
	return out
}

// eventsOf gives the events of one run, of all where it is empty.
func eventsOf(all []store.GuideEvent, run string) []guide.Event {
	var out []guide.Event
	for _, e := range all {
		if run == "" || e.RunID == run {
			out = append(out, e.Event)
		}
	}
	return out
}

// mayGo says whether a job may be handed over with what is off.
func mayGo(c store.Closing, lead bool) error {
	switch off := strings.Join(c.Off, ", "); {
	case len(c.Off) == 0 || lead && c.Reason != "":
		return nil
	case lead:
		return conflict(stillOff, fmt.Sprintf("Still off: %s. Put it back, or say why it goes without.", off))
	default:
		return conflict(stillOff, fmt.Sprintf("Still off: %s. Put it back first; a lead can let it go with a reason.", off))
	}
}

// hands puts on a sheet what was done by guides.
func (s *server) hands(ctx context.Context, j store.Job, log []store.StoredReading, out *jobSheet) error {
	out.Off, out.Guides, out.Follows = []offView{}, []guideLine{}, j.Follows
	ws := who(ctx).WorkshopID
	var err error
	if out.Followed, err = s.Store.Following(ctx, ws, j.ID); err != nil {
		return answer(err)
	}
	if j.Guided > 0 || j.Follows != "" {
		if out.Off, _, err = s.stillOff(ctx, j); err != nil {
			return err
		}
	}
	runs, err := s.Store.Guides(ctx, ws, j.ID)
	if err != nil {
		return answer(err)
	}
	if !slices.ContainsFunc(runs, func(r store.GuideRun) bool { return r.EndedAt == nil }) {
		return nil
	}
	events, err := s.Store.GuideEvents(ctx, ws, j.ID)
	if err != nil {
		return answer(err)
	}
	for _, r := range runs {
		if r.EndedAt != nil {
			continue
		}
		g := s.makeGuide(j, log, runs, events, r.What, "")
		line := guideLine{What: r.What, Done: len(g.progress.Done), Of: len(g.Steps)}
		if now, ok := g.Guide.Step(g.progress.Now); ok {
			line.Do = now.Do
		}
		out.Guides = append(out.Guides, line)
	}
	return nil
}

// runView is a guide that was begun.
type runView struct {
	ID      string     `json:"id" format:"uuid"`
	Version int        `json:"version" doc:"of the site, to be sent back with another"`
	Reason  string     `json:"reason,omitempty" doc:"why it is done where no verdict asks for it"`
	BegunAt time.Time  `json:"begun_at"`
	By      string     `json:"by"`
	EndedAt *time.Time `json:"ended_at,omitempty"`
}

// doneView is a step that is done.
type doneView struct {
	Step   string    `json:"step"`
	Kind   string    `json:"kind" enum:"ticked,skipped"`
	Choice string    `json:"choice,omitempty"`
	By     string    `json:"by"`
	At     time.Time `json:"at"`
}

// guideBody is a guide as it is worked by.
type guideBody struct {
	guide.Guide
	Tag      string          `json:"tag"`
	Vehicle  string          `json:"vehicle" doc:"as the shop calls it, or its class"`
	Verdict  assess.Verdict  `json:"verdict" enum:"good,good_after_charge,charge_and_retest,replace,stop,look_elsewhere,more_readings,weak"`
	Headline words.Text      `json:"headline" doc:"of its assessment"`
	Reasoned bool            `json:"wants_reason" doc:"no verdict asks for it: it is begun with a reason"`
	Run      *runView        `json:"run,omitempty" doc:"absent until it is begun"`
	Done     []doneView      `json:"done"`
	Now      string          `json:"now,omitempty" doc:"the step that comes next; absent when all are done"`
	Open     []offView       `json:"open" doc:"what is off the vehicle, or on it as an aid"`
	Parts    []guide.Part    `json:"parts" doc:"all that can be open"`
	Phases   []words.Term    `json:"phases"`
	Cautions []guide.Caution `json:"cautions" doc:"those that its steps name"`
	Proof    []bench.Gauge   `json:"proof" doc:"what was read before and after"`
	Stand    []string        `json:"levels" doc:"how high the acid stood in each cell when it was last read"`
	CellWord []words.Term    `json:"cell_words" doc:"how high it can stand"`
	Followed string          `json:"followed_by,omitempty" doc:"the job of the battery that has taken its place"`
	Closed   bool            `json:"closed"`
	progress guide.Progress
	events   []store.GuideEvent
	job      store.Job
	log      []store.StoredReading
}

// guideOf makes the guide of a job, with how far it has come.
func (s *server) guideOf(ctx context.Context, jobID, what string) (*guideBody, error) {
	p := who(ctx)
	j, log, err := s.job(ctx, jobID)
	if err != nil {
		return nil, err
	}
	runs, err := s.Store.Guides(ctx, p.WorkshopID, jobID)
	if err != nil {
		return nil, answer(err)
	}
	events, err := s.Store.GuideEvents(ctx, p.WorkshopID, jobID)
	if err != nil {
		return nil, answer(err)
	}
	keep, err := s.keptAs(ctx, j, what)
	if err != nil {
		return nil, err
	}
	return s.makeGuide(j, log, runs, events, what, keep), nil
}

// keptAs gives how the battery of a job is kept where it stands, as a guide of the season asks
// it; empty where nobody has said.
func (s *server) keptAs(ctx context.Context, j store.Job, what string) (string, error) {
	if what != guide.Storing && what != guide.Waking {
		return "", nil
	}
	one, err := s.Store.StoredTagged(ctx, who(ctx).WorkshopID, j.Battery.Tag)
	switch {
	case errors.Is(err, store.ErrNotFound):
		return "", nil
	case err != nil:
		return "", answer(err)
	}
	switch {
	case one.Doc.Way == season.TakenIn:
		return guide.KeptOut, nil
	case one.Doc.Way == season.Disconnected && slices.Contains(one.Doc.AtHand, season.Switch):
		return guide.KeptSwitch, nil
	case one.Doc.Way == season.Disconnected:
		return guide.KeptClamp, nil
	}
	return guide.KeptFed, nil
}

// makeGuide makes the guide of a job from all that is known of it.
func (s *server) makeGuide(j store.Job, log []store.StoredReading, runs []store.GuideRun, events []store.GuideEvent,
	what, keep string) *guideBody {
	var run, putAway *store.GuideRun
	for i := range runs {
		if runs[i].What == what && (runs[i].EndedAt == nil || i == len(runs)-1 || run == nil || run.EndedAt != nil) {
			run = &runs[i]
		}
		if runs[i].What == guide.Storing {
			putAway = &runs[i]
		}
	}
	site := guide.Site{Keep: keep}
	switch {
	case run != nil:
		site = run.Site
	case what == guide.Waking && putAway != nil: // it is woken as it was put away
		site = putAway.Site
	}
	c := s.caseOf(j, log)
	g := guideBody{Guide: guide.Make(what, assess.Scene(c, s.labels.find, site, run != nil, s.Now())), job: j, log: log,
		events: events,
		Tag:    j.Battery.Tag, Vehicle: j.Vehicle.Name, Done: []doneView{}, Open: openParts(events), Parts: guide.Parts(), Phases: guide.Phases().Terms(),
		Cautions: []guide.Caution{}, Proof: []bench.Gauge{}, Stand: []string{}, CellWord: station.CellLevels().Terms(), Closed: j.ClosedAt != nil}
	if g.Vehicle == "" {
		g.Vehicle = reading.Classes().Word(j.Vehicle.Class)
	}
	if run != nil {
		g.Run = &runView{run.ID, run.Version, run.Reason, run.BegunAt, run.By, run.EndedAt}
		g.progress = g.After(eventsOf(events, run.ID))
	} else {
		g.progress = g.After(nil)
	}
	g.Now = g.progress.Now
	return &g
}

// guideAt makes a guide as it stood at a time: by what had been read until then.
func (s *server) guideAt(g *guideBody, at time.Time) guide.Guide {
	var until []store.StoredReading
	for _, r := range g.log {
		if !r.At.After(at) {
			until = append(until, r)
		}
	}
	return guide.Make(g.What, assess.Scene(s.caseOf(g.job, until), s.labels.find, g.Site, true, s.Now()))
}

func (s *server) viewGuide(ctx context.Context, jobID, what string) (*output[guideBody], error) {
	p := who(ctx)
	g, err := s.guideOf(ctx, jobID, what)
	if err != nil {
		return nil, err
	}
	sheet := s.judged(g.job, g.log, p, nil, nil)
	g.Verdict, g.Headline = sheet.Verdict, sheet.Headline
	g.Reasoned = what == guide.Replacing && !assess.Warrants(assess.Assessment{Verdict: sheet.Verdict, Next: sheet.Next})
	c := s.caseOf(g.job, g.log)
	if what == guide.Cleaning {
		g.Proof = station.Proof(c, s.labels.find)
	}
	for _, r := range c.Readings {
		if r.Kind == station.Levels {
			g.Stand = r.Words("cells")
		}
	}
	for _, step := range g.Steps {
		if e, done := g.progress.Done[step.Code]; done {
			g.Done = append(g.Done, doneView{step.Code, e.Kind, e.Choice, e.By, e.At})
		}
		for _, code := range append(slices.Clone(g.Warnings), step.Cautions...) {
			if caution, ok := guide.CautionOf(code); ok && !slices.Contains(g.Cautions, caution) {
				g.Cautions = append(g.Cautions, caution)
			}
		}
	}
	if g.Followed, err = s.Store.Following(ctx, p.WorkshopID, jobID); err != nil {
		return nil, answer(err)
	}
	words.Spoken(g, voice(p))
	return &output[guideBody]{*g}, nil
}

// OfGuide is the input of an operation on one guide of a job.
type OfGuide struct {
	OfJob
	What string `path:"what" enum:"clean,water,replace,store,wake"`
}

func (s *server) getGuide(ctx context.Context, in *OfGuide) (*output[guideBody], error) {
	return s.viewGuide(ctx, string(in.ID), in.What)
}

// siteOf takes what was said of a vehicle, its lists in one order and without doubles.
func siteOf(site guide.Site) (guide.Site, error) {
	for _, part := range site.On {
		if !guide.Fittings().Has(part) {
			return site, huma.Error422UnprocessableEntity(fmt.Sprintf("%q is nothing that is looked for on a vehicle. Say some of %s.", part,
				strings.Join(guide.Fittings().Codes(), ", ")))
		}
	}
	if site.On != nil {
		site.On = slices.Compact(slices.Sorted(slices.Values(site.On)))
		if site.On == nil { // nothing is on it, which is not the same as nobody having looked
			site.On = []string{}
		}
	}
	return site, nil
}

type beginInput struct {
	OfGuide
	Body struct {
		ID     ID         `json:"id" doc:"made by the client, UUID v7"`
		Site   guide.Site `json:"site"`
		Reason string     `json:"reason,omitempty" maxLength:"300" doc:"why a battery is replaced that no verdict condemns"`
	}
}

func (s *server) beginGuide(ctx context.Context, in *beginInput) (*output[guideBody], error) {
	site, err := siteOf(in.Body.Site)
	if err != nil {
		return nil, err
	}
	g, err := s.viewGuide(ctx, string(in.ID), in.What)
	if err != nil {
		return nil, err
	}
	reason := words.Clean(in.Body.Reason)
	if g.Body.Run == nil || g.Body.Run.EndedAt != nil {
		if g.Body.Reasoned && reason == "" {
			return nil, conflict(noReason, "No verdict asks for a new battery. Say why it is replaced all the same.")
		}
		if len(g.Body.Hazards) > 0 {
			return nil, conflict(unsafe, g.Body.Refusal.String())
		}
	}
	site.Full = assess.Scene(s.caseOf(g.Body.job, g.Body.log), s.labels.find, site, false, s.Now()).Site.Full
	if site.On == nil {
		site.On = g.Body.Site.On
	}
	// Where nobody says otherwise it is kept, and woken, as it was proposed.
	site.Keep, site.Place = cmp.Or(site.Keep, g.Body.Site.Keep), cmp.Or(site.Place, g.Body.Site.Place)
	site.Positive = cmp.Or(site.Positive, g.Body.Site.Positive)
	run := store.GuideRun{ID: string(in.Body.ID), JobID: string(in.ID), What: in.What, Site: site, Reason: reason}
	if err := s.Store.BeginGuide(ctx, who(ctx).WorkshopID, actor(ctx), run); err != nil {
		return nil, answer(err)
	}
	s.live.wake(who(ctx).WorkshopID)
	return s.viewGuide(ctx, string(in.ID), in.What)
}

type siteInput struct {
	OfGuide
	Body struct {
		Version int        `json:"version"`
		Site    guide.Site `json:"site"`
	}
}

func (s *server) setGuideSite(ctx context.Context, in *siteInput) (*output[guideBody], error) {
	site, err := siteOf(in.Body.Site)
	if err != nil {
		return nil, err
	}
	g, err := s.guideOf(ctx, string(in.ID), in.What)
	if err != nil {
		return nil, err
	}
	if g.Run == nil {
		return nil, huma.Error404NotFound("This guide is not begun yet. Begin it with what is said of the vehicle.")
	}
	site.Full = g.Site.Full
	if err := s.Store.SetGuideSite(ctx, who(ctx).WorkshopID, store.GuideRun{ID: g.Run.ID, JobID: string(in.ID), Site: site,
		Version: in.Body.Version}); err != nil {
		return nil, answer(err)
	}
	s.live.wake(who(ctx).WorkshopID)
	return s.viewGuide(ctx, string(in.ID), in.What)
}
