package api

import (
	"context"
	"errors"
	"time"

	"grapnel/core/assess"
	"grapnel/core/bench"
	"grapnel/core/register"
	"grapnel/core/station"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// outcomeView is what became of the work, its items with the readings they rest on.
type outcomeView struct {
	Proof    assess.Proof    `json:"proof" enum:"proven,open,failed"`
	Level    bench.Level     `json:"level" enum:"ok,note,act,stop"`
	Headline words.Text      `json:"headline"`
	Before   *assess.Opinion `json:"before,omitempty" doc:"what was said before the work"`
	Now      assess.Opinion  `json:"now"`
	Items    []proofItemView `json:"items" doc:"what is shown once the work is done, in order"`
	Gauges   []bench.Gauge   `json:"gauges" doc:"the figures that were read, each with what it was before"`
}

type proofItemView struct {
	assess.ProofItem
	ReadingID string `json:"reading_id,omitempty"`
}

func viewOutcome(o *assess.Outcome, ids func([]int) []string) *outcomeView {
	if o == nil {
		return nil
	}
	out := &outcomeView{o.Proof, o.Proof.Level(), o.Headline, o.Before, o.Now, []proofItemView{}, o.Gauges}
	for _, i := range o.Items {
		v := proofItemView{ProofItem: i}
		if i.Reading >= 0 {
			v.ReadingID = ids([]int{i.Reading})[0]
		}
		out.Items = append(out.Items, v)
	}
	return out
}

// wasBefore gives the verdict of the battery that stood in the place of a job's before; nil
// where none did.
func (s *server) wasBefore(ctx context.Context, j store.Job) (*assess.Opinion, error) {
	if j.Follows == "" {
		return nil, nil
	}
	old, err := s.Store.Job(ctx, who(ctx).WorkshopID, j.Follows)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, answer(err)
	}
	logs, err := s.Store.Readings(ctx, who(ctx).WorkshopID, old.ID)
	if err != nil {
		return nil, answer(err)
	}
	o := assess.OpinionOfOld(s.caseOf(old, logs[old.ID]), s.labels.find)
	return &o, nil
}

// comebackView is what was said when a battery or vehicle that is back was handed over last.
type comebackView struct {
	JobID    string         `json:"job_id" format:"uuid"`
	Tag      string         `json:"tag"`
	Same     bool           `json:"same_battery"`
	Days     int            `json:"days" doc:"whole days from its going to its coming"`
	ClosedAt time.Time      `json:"closed_at"`
	ClosedBy string         `json:"closed_by"`
	Came     words.Text     `json:"came,omitzero" doc:"what it came for then"`
	Opinion  assess.Opinion `json:"opinion" doc:"the verdict it went with"`
	Proof    assess.Proof   `json:"proof,omitempty" enum:"proven,open,failed"`
	Proved   words.Text     `json:"proved,omitzero"`
	Done     []words.Text   `json:"done" doc:"the work that was done"`
}

// comeback gives what was said last time of a battery or vehicle that is soon back; nil where
// it is not.
func (s *server) comeback(ctx context.Context, j store.Job) (*comebackView, error) {
	p := who(ctx)
	old, err := s.Store.LastHere(ctx, p.WorkshopID, j)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, answer(err)
	}
	days, is := register.Comeback(*old.ClosedAt, j.OpenedAt)
	if !is || old.ID == j.Follows {
		return nil, nil
	}
	logs, err := s.Store.Readings(ctx, p.WorkshopID, old.ID)
	if err != nil {
		return nil, answer(err)
	}
	was, err := s.wasBefore(ctx, old)
	if err != nil {
		return nil, err
	}
	said := s.judged(old, logs[old.ID], p, nil, was)
	out := &comebackView{
		JobID: old.ID, Tag: old.Battery.Tag, Same: old.Battery.Tag == j.Battery.Tag, Days: days, ClosedAt: *old.ClosedAt,
		ClosedBy: old.ClosedBy, Done: assess.WorkDone(s.caseOf(old, logs[old.ID])),
		Opinion: assess.Opinion{Verdict: said.Verdict, Level: said.Level, Headline: said.Headline, Because: said.Because, At: old.ClosedAt},
	}
	if len(old.Complaint) > 0 {
		out.Came = station.Complained(old.Complaint)
	}
	if o := said.Outcome; o != nil {
		out.Proof, out.Proved = o.Proof, o.Headline
	}
	words.Spoken(out, voice(p))
	return out, nil
}
