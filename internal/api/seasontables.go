package api

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"grapnel/core/reading"
	"grapnel/core/season"
	"grapnel/core/words"
	"grapnel/internal/files"
	"grapnel/internal/store"
)

type importWeatherInput struct {
	RawBody []byte `contentType:"text/csv"`
}

// importWeather takes days as they were or are forecast from a table.
func (s *server) importWeather(ctx context.Context, in *importWeatherInput) (*output[seasonBody], error) {
	days, err := files.ReadWeather(in.RawBody)
	if err != nil {
		return nil, answer(err)
	}
	return s.keepWeather(ctx, days)
}

type importPlaceInput struct {
	RawBody []byte `contentType:"text/csv"`
}

// importPlace takes the months of the place from a table.
func (s *server) importPlace(ctx context.Context, in *importPlaceInput) (*output[seasonBody], error) {
	o, err := files.ReadClimate(in.RawBody)
	if err != nil {
		return nil, answer(err)
	}
	typed := &setPlaceInput{}
	typed.Body.Mean, typed.Body.Low = o.Mean, o.Low
	return s.setPlace(ctx, typed)
}

type importLotInput struct {
	Lot     string `query:"lot" maxLength:"40" doc:"of lines that name none"`
	To      string `query:"to"                 doc:"of lines that name none; next spring when left out" format:"date"`
	RawBody []byte `                                                                                                  contentType:"text/csv"`
}

// importLot puts the batteries of a table away, all or none. It may be repeated: the ids are
// made of the table's own lines.
func (s *server) importLot(ctx context.Context, in *importLotInput) (*output[seasonBody], error) {
	p := who(ctx)
	usual := season.Proposed(reading.Vehicle{}, reading.Battery{}, s.Now())
	usual.Lot, usual.To = words.Clean(in.Lot), cmp.Or(in.To, usual.To)
	docs, err := files.ReadLot(in.RawBody, usual)
	if err != nil {
		return nil, answer(err)
	}
	if err := s.reckons(ctx, docs...); err != nil {
		return nil, err
	}
	some := make([]store.Stored, len(docs))
	for i, d := range docs {
		// The same table sent again makes the same ids, so that nothing is doubled.
		id := uuid.NewSHA1(lotSpace, fmt.Appendf(nil, "%s %d %s", p.WorkshopID, i, in.RawBody)).String()
		some[i] = store.Stored{ID: id, Doc: d, SameBattery: true}
	}
	if err := s.Store.PutAway(ctx, p.WorkshopID, actor(ctx), some); err != nil {
		return nil, answer(err)
	}
	s.live.wake(p.WorkshopID)
	return s.getSeason(ctx, nil)
}

// lotSpace is the name space of ids made of a table's lines.
var lotSpace = uuid.MustParse("4a6f0f2e-7d5c-5c3a-9a53-6d1f1c2b7e10")

func (s *server) exportLot(ctx context.Context, _ *nothing) (*csvReply, error) {
	all, err := s.Store.AllStored(ctx, who(ctx).WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	docs := make([]season.Stored, len(all))
	for i, one := range all {
		docs[i] = one.Doc
	}
	var out bytes.Buffer
	if err := files.WriteLot(&out, docs); err != nil {
		return nil, answer(err)
	}
	return &csvReply{"text/csv; charset=utf-8", `attachment; filename="season.csv"`, out.Bytes()}, nil
}

type sheetOfStored struct {
	OfStored
	Body struct {
		ID ID `json:"id" doc:"of the job, made by the client, UUID v7"`
	}
}

// openStored opens a sheet for a battery that stands; where one is open already, that one.
func (s *server) openStored(ctx context.Context, in *sheetOfStored) (*output[tagged], error) {
	p := who(ctx)
	one, err := s.Store.StoredByID(ctx, p.WorkshopID, string(in.OfStored.ID))
	if err != nil {
		return nil, answer(err)
	}
	tag := one.Doc.Battery.Tag
	open, err := s.Store.OpenOfTag(ctx, p.WorkshopID, tag)
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
	j := store.Job{
		ID:          string(in.Body.ID),
		Vehicle:     one.Doc.Vehicle,
		Battery:     one.Doc.Battery,
		Note:        "Stored",
		Rules:       ws.Rules,
		OpenedByID:  p.ID,
		SameBattery: true,
	}
	if err := s.Store.AddJob(ctx, p.WorkshopID, j, nil); err != nil {
		return nil, answer(err)
	}
	s.live.wake(p.WorkshopID)
	return replied(tagged{j.ID})
}

type swapInput struct {
	OfStored
	Body struct {
		ID  ID     `json:"id" doc:"of the new entry, made by the client, UUID v7"`
		Tag string `json:"tag" maxLength:"40" doc:"of the charged battery on the shelf that goes in"`
	}
}

// swapStored puts a charged battery of the shelf in the place of one that stands.
func (s *server) swapStored(ctx context.Context, in *swapInput) (*output[storedBody], error) {
	p := who(ctx)
	one, err := s.Store.StoredByID(ctx, p.WorkshopID, string(in.OfStored.ID))
	if err != nil {
		return nil, answer(err)
	}
	if done, err := s.Store.StoredByID(ctx, p.WorkshopID, string(in.Body.ID)); err == nil {
		return s.stored(ctx, done.ID) // sent once more
	}
	spares, err := s.spares(ctx)
	if err != nil {
		return nil, err
	}
	tag := words.Clean(in.Body.Tag)
	if !slices.ContainsFunc(spares, func(b season.Spare) bool { return strings.EqualFold(b.Tag, tag) }) {
		return nil, conflict(unfit, tag+" is not on the shelf, tested and charged. Test and charge it there first.")
	}
	stock, err := s.Store.OnShelf(ctx, p.WorkshopID, tag)
	if err != nil {
		return nil, answer(err)
	}
	doc := one.Doc
	doc.Battery, doc.Start = stock.Item.Battery(), season.Start{SOCPct: 100, HealthPct: 100}
	doc.From, doc.Arrived = s.today(), ""
	if doc, err = doc.Clean(); err != nil {
		return nil, answer(err)
	}
	next := store.Stored{ID: string(in.Body.ID), Doc: doc, SameBattery: true}
	if err := s.Store.Swap(ctx, p.WorkshopID, actor(ctx), one.ID, next); err != nil {
		return nil, answer(err)
	}
	s.live.wake(p.WorkshopID)
	return s.stored(ctx, next.ID)
}
