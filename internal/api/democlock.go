package api

import (
	"context"
	"time"

	"github.com/danielgtaylor/huma/v2"
)

type moveInput struct {
	Body struct {
		Minutes float64 `json:"minutes" minimum:"1" maximum:"43200" doc:"to move on by"`
	}
}

// moveClock moves the demo workshop's clock on. Nothing but the demo has this.
func (s *server) moveClock(ctx context.Context, in *moveInput) (*output[clock], error) {
	if s.MoveClock == nil {
		return nil, huma.Error404NotFound("Only the demo workshop's clock can be moved.")
	}
	if err := s.MoveClock(time.Duration(in.Body.Minutes * float64(time.Minute))); err != nil {
		return nil, huma.Error409Conflict(sentence(err) + ".")
	}
	return s.getClock(ctx, nil)
}
