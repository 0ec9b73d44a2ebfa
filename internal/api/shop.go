package api

import (
	"context"
	"errors"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/battery"
	"grapnel/core/document"
	"grapnel/core/guide"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// choices is what a new job picks from.
type choices struct {
	Classes  []guide.ClassDefault    `json:"classes"`
	Words    map[string][]words.Term `json:"words" doc:"the vocabulary of each field of vehicle and battery"`
	Caps     map[string]string       `json:"caps" doc:"how the lid of each chemistry is usually made"`
	NextTag  string                  `json:"next_tag"`
	AmbientC *float64                `json:"ambient_c,omitempty" doc:"of the last job opened in the past hours"`
}

func (s *server) getChoices(ctx context.Context, _ *nothing) (*output[choices], error) {
	ws, err := s.Store.Workshop(ctx, who(ctx).WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	tag, err := s.Store.NextTag(ctx, ws.ID)
	if err != nil {
		return nil, answer(err)
	}
	last, err := s.Store.LastOpened(ctx, ws.ID)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return nil, answer(err)
	}
	out := choices{Classes: guide.Defaults(), Words: map[string][]words.Term{}, Caps: map[string]string{}, NextTag: tag}
	for field, list := range reading.Vocabularies() {
		out.Words[field] = list.Terms()
	}
	for _, c := range battery.Chemistries() {
		out.Caps[string(c)] = c.Caps()
	}
	if err == nil {
		out.AmbientC = guide.AmbientGuess(last.OpenedAt, s.Now(), last.Conditions.AmbientC)
	}
	return replied(out)
}

type terms struct {
	Terms []guide.Meaning `json:"terms"`
}

func (s *server) getTerms(_ context.Context, _ *nothing) (*output[terms], error) {
	return replied(terms{guide.Terms()})
}

type OfTag struct {
	Tag string `path:"tag" maxLength:"40"`
}

func (s *server) getBattery(ctx context.Context, in *OfTag) (*output[reading.Battery], error) {
	b, err := s.Store.BatteryTagged(ctx, who(ctx).WorkshopID, words.Clean(in.Tag))
	if err != nil {
		return nil, answer(err)
	}
	return replied(b)
}

type rulesBody struct {
	Rules     rules.Rules  `json:"rules"`
	Version   int          `json:"version"`
	Book      []rules.Rule `json:"book"`
	Classes   []words.Term `json:"classes" doc:"of vehicle, for which a rule may be settled otherwise"`
	Changes   []ruleChange `json:"changes" doc:"the newest first"`
	MayChange bool         `json:"may_change"`
}

func (s *server) getRules(ctx context.Context, _ *nothing) (*output[rulesBody], error) {
	return s.rules(ctx)
}

// ruleChange is one saving of the house rules, with what it changed.
type ruleChange struct {
	At    time.Time      `json:"at"`
	By    string         `json:"by"`
	Rules []rules.Change `json:"rules"`
}

// mostChanges of the rules are shown.
const mostChanges = 50

type rulesChange struct {
	Rules   rules.Rules `json:"rules"`
	Version int         `json:"version"`
}

func (s *server) setRules(ctx context.Context, in *struct{ Body rulesChange }) (*output[rulesBody], error) {
	p := who(ctx)
	if p.Role != store.Lead {
		return nil, huma.Error403Forbidden("Only a lead may change the house rules. Ask the lead of your workshop.")
	}
	if err := in.Body.Rules.Check(); err != nil {
		var field *rules.FieldError
		if errors.As(err, &field) {
			return nil, refuse("body.rules", document.Problems{{Path: field.Field, Message: field.Message}})
		}
		return nil, answer(err)
	}
	if err := s.Store.SetRules(ctx, p.WorkshopID, p.ID, in.Body.Rules, in.Body.Version); err != nil {
		return nil, answer(err)
	}
	return s.rules(ctx)
}

func (s *server) rules(ctx context.Context) (*output[rulesBody], error) {
	p := who(ctx)
	ws, err := s.Store.Workshop(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	changes, err := s.Store.RulesChanges(ctx, p.WorkshopID, mostChanges)
	if err != nil {
		return nil, answer(err)
	}
	out := rulesBody{Rules: ws.Rules, Version: ws.RulesVersion, Book: rules.Book(), Classes: reading.Classes().Terms(),
		Changes: []ruleChange{}, MayChange: p.Role == store.Lead}
	for _, c := range changes {
		out.Changes = append(out.Changes, ruleChange{c.At, c.By, append([]rules.Change{}, rules.Changes(c.Was, c.Became)...)})
	}
	words.Spoken(&out.Changes, voice(p))
	return replied(out)
}
