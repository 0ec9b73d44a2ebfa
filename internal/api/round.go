package api

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"grapnel/core/season"
	"grapnel/core/words"
	"grapnel/internal/store"
)

type roundInput struct {
	Lot      string  `query:"lot"      maxLength:"40" doc:"empty for all that stand on no lot"`
	Chargers int     `query:"chargers"                doc:"that can be used on one evening"    minimum:"1" maximum:"200"  default:"4"`
	Minutes  float64 `query:"minutes"                 doc:"that a round may take; 0 for any"   minimum:"0" maximum:"1440" default:"90"`
}

type roundBody struct {
	season.Round
	Lot    string                `json:"lot"`
	Lines  map[string]storedLine `json:"lines"  doc:"the batteries of its stops, by id"`
	Spares []string              `json:"spares" doc:"tags of the charged batteries that can stand in"`
}

func (s *server) getRound(ctx context.Context, in *roundInput) (*output[roundBody], error) {
	p := who(ctx)
	all, err := s.Store.AllStored(ctx, p.WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	lot := words.Clean(in.Lot)
	all = slices.DeleteFunc(all, func(one store.Stored) bool { return !strings.EqualFold(one.Doc.Lot, lot) })
	lines, at, err := s.storedLines(ctx, all)
	if err != nil {
		return nil, err
	}
	spares, err := s.spares(ctx)
	if err != nil {
		return nil, err
	}
	l := season.Lot{Today: at.today, Chargers: in.Chargers, Minutes: in.Minutes, Spares: spares}
	out := roundBody{Lot: lot, Lines: map[string]storedLine{}, Spares: []string{}}
	for i, one := range all {
		l.Spots = append(l.Spots, one.Doc.Spot(one.ID, lines[i].Now, lines[i].Looks > 0))
		out.Lines[one.ID] = lines[i]
	}
	for _, b := range spares {
		out.Spares = append(out.Spares, b.Tag)
	}
	out.Round = l.Plan(voice(p))
	return replied(out)
}

// spares are the batteries of the shelf that are tested and charged.
func (s *server) spares(ctx context.Context) ([]season.Spare, error) {
	shelf, err := s.getStock(ctx, nil)
	if err != nil {
		return nil, err
	}
	var out []season.Spare
	for _, one := range shelf.Body.Shelf {
		if one.Charge || one.Test {
			continue
		}
		label := one.Item.Rating.Label()
		out = append(
			out,
			season.Spare{
				Tag:       one.Item.Tag,
				Chemistry: one.Item.Chemistry,
				Volts:     cmp.Or(one.Item.Volts, 12),
				Ah:        label.Ah20h,
				CCA:       label.CCA,
			},
		)
	}
	return out, nil
}
