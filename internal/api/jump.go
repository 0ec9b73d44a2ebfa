package api

import (
	"context"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/assess"
	"grapnel/core/jump"
	"grapnel/core/rules"
)

// jumpKit is what a jump start is planned with few taps from, as this house does it.
type jumpKit struct {
	jump.Kit
	ClampOn   string `json:"clamp_on" enum:"body,post" doc:"where the house puts the last clamp"`
	PackFirst bool   `json:"pack_first" doc:"the house takes a pack first"`
}

func (s *server) getJumpKit(ctx context.Context, _ *nothing) (*output[jumpKit], error) {
	ws, err := s.Store.Workshop(ctx, who(ctx).WorkshopID)
	if err != nil {
		return nil, answer(err)
	}
	return replied(jumpKit{jump.KitOf(), assess.ClampOn(ws.Rules, ""), ws.Rules.JumpSource == rules.JumpPackFirst})
}

// JumpInput is a grapnel.jump_request/1 document as it came, so that every fault in it can
// be named with its place; of a job, without what its sheet knows.
type JumpInput struct {
	Job     ID     `query:"job" required:"false" doc:"the job whose battery is flat; its sheet says what it knows"`
	RawBody []byte `contentType:"application/json"`
}

func (s *server) planJump(ctx context.Context, in *JumpInput) (*output[jump.Plan], error) {
	if in.Job == "" {
		r, err := jump.Decode(in.RawBody)
		if err != nil {
			return nil, answer(err)
		}
		p, err := r.Plan(s.labels.find, voice(who(ctx)))
		if err != nil {
			return nil, answer(err)
		}
		return replied(p)
	}
	j, log, err := s.job(ctx, string(in.Job))
	if err != nil {
		return nil, err
	}
	p, known, err := assess.PlanJump(s.caseOf(j, log), s.labels.find, in.RawBody, voice(who(ctx)))
	if err == nil && !known {
		err = huma.Error422UnprocessableEntity("Its label has no figure to plan from. Enter its amps or ampere-hours at Arrive.")
	}
	if err != nil {
		return nil, answer(err)
	}
	return replied(p)
}
