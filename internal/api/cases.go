package api

import (
	"context"
	"errors"
	"fmt"
	"runtime"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"grapnel/core/assess"
	"grapnel/core/casefile"
	"grapnel/core/reading"
	"grapnel/internal/store"
)

// CaseInput is a grapnel.case/1 document as it came, so that every fault in it
// can be named with its place.
type CaseInput struct {
	RawBody []byte `contentType:"application/json"`
}

// assessing lets few cases be assessed at once: one with a thousand readings takes a
// tenth of a gigabyte on its way through memory, and more at once than there are
// processors are done none the earlier.
var assessing = make(chan struct{}, max(2, runtime.GOMAXPROCS(0)))

func (s *server) assessCase(ctx context.Context, in *CaseInput) (*output[assess.Assessment], error) {
	c, err := casefile.Decode(in.RawBody)
	if err != nil {
		return nil, answer(err)
	}
	select {
	case assessing <- struct{}{}:
		defer func() { <-assessing }()
	case <-ctx.Done():
		return nil, huma.Error503ServiceUnavailable("Too much is assessed at once. Try again in a moment.")
	}
	return replied(assess.Assess(c, s.labels.find))
}

type caseReply struct {
	Disposition string `header:"Content-Disposition"`
	Body        reading.Case
}

func (s *server) exportCase(ctx context.Context, in *OfJob) (*caseReply, error) {
	j, log, err := s.job(ctx, string(in.ID))
	if err != nil {
		return nil, err
	}
	return &caseReply{fmt.Sprintf(`attachment; filename="%s.case.json"`, fileName(j.Battery.Tag)), caseFile(j, log)}, nil
}

type importInput struct {
	ID ID `query:"id" required:"true" doc:"of the new job, made by the client, UUID v7"`
	SameOr
	CaseInput
}

// Resolve takes an id in capitals for the same id.
func (in *importInput) Resolve(huma.Context) []error { return in.ID.lower() }

func (s *server) importCase(ctx context.Context, in *importInput) (*sheetReply, error) {
	c, err := casefile.Decode(in.RawBody)
	if err != nil {
		return nil, answer(err)
	}
	p := who(ctx)
	j := store.Job{
		ID:          string(in.ID),
		OpenedByID:  p.ID,
		Vehicle:     c.Vehicle,
		Battery:     c.Battery,
		Complaint:   c.Complaint,
		Conditions:  c.Conditions,
		Rules:       c.Rules,
		Source:      c,
		SameBattery: in.Battery == "same",
	}
	// A repeat is answered before anything is asked that the first has settled.
	if known, err := s.Store.Opened(ctx, p.WorkshopID, j, nil); err != nil {
		return nil, answer(err)
	} else if known {
		return s.sheet(ctx, string(in.ID))
	}
	if j.Note, err = s.ownTag(ctx, p.WorkshopID, &j.Battery, in.Battery); err != nil {
		return nil, answer(err)
	}
	var readings []store.StoredReading
	for _, r := range c.Readings {
		stored := store.StoredReading{
			Entry: reading.Entry{ID: uuid.Must(uuid.NewV7()).String(), Reading: r},
			ByID:  p.ID,
		}
		if r.At != nil {
			stored.At = *r.At
		}
		readings = append(readings, stored)
	}
	if err := s.Store.AddJob(ctx, p.WorkshopID, j, readings); err != nil {
		return nil, answer(err)
	}
	return s.changed(ctx, string(in.ID))
}

// ownTag settles whose tag an imported battery carries. Where a battery of that
// tag is known here somebody has to say whether it is the same one; another one's
// tag is cleared, the store gives it the next, and the note says what it was
// called.
func (s *server) ownTag(
	ctx context.Context,
	workshopID string,
	b *reading.Battery,
	answered string,
) (note string, err error) {
	if b.Tag == "" {
		return "", nil
	}
	known, err := s.Store.BatteryTagged(ctx, workshopID, b.Tag)
	switch {
	case errors.Is(err, store.ErrNotFound), err == nil && answered == "same":
		return "", nil
	case err != nil:
		return "", err
	case answered == "" && known.SameLabel(*b):
		return "", conflict(knownTag, b.Tag+" is known here, with the same label. Is the file about that battery?")
	case answered == "":
		return "", conflict(knownTag, b.Tag+" is known here, with another label. Is the file about that battery?")
	}
	note = "Imported; was tagged " + b.Tag
	b.Tag = ""
	return note, nil
}

// fileName keeps what is safe in a file's name.
func fileName(tag string) string {
	return strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || r >= '0' && r <= '9' || r == '-' {
			return r
		}
		return '_'
	}, tag)
}
