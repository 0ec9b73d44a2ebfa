package api

import (
	"context"
	"errors"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/document"
	"grapnel/core/words"
	"grapnel/internal/passphrase"
	"grapnel/internal/store"
)

// personLine is somebody of the workshop, as leads see them.
type personLine struct {
	ID       string     `json:"id" format:"uuid"`
	Name     string     `json:"name"`
	Role     string     `json:"role" enum:"technician,lead"`
	AddedAt  time.Time  `json:"added_at"`
	ClosedAt *time.Time `json:"closed_at,omitempty" doc:"since when the account is closed"`
	SeenAt   *time.Time `json:"seen_at,omitempty" doc:"last, in a session that still runs"`
	Sessions int        `json:"sessions" doc:"that run"`
	Second   bool       `json:"second_factor"`
	Until    *time.Time `json:"temporary_until,omitempty" doc:"has a temporary passphrase still, good until then"`
	You      bool       `json:"you"`
}

type peopleBody struct {
	People []personLine `json:"people"`
	Least  int          `json:"least" doc:"characters of a passphrase"`
}

func (s *server) getPeople(ctx context.Context, _ *nothing) (*output[peopleBody], error) {
	me := who(ctx)
	all, err := s.Store.People(ctx, me.WorkshopID, s.Now())
	if err != nil {
		return nil, answer(err)
	}
	out := peopleBody{[]personLine{}, passphrase.Least}
	for _, p := range all {
		out.People = append(
			out.People,
			personLine{
				p.ID,
				p.Name,
				p.Role,
				p.AddedAt,
				p.DisabledAt,
				p.SeenAt,
				p.Sessions,
				p.TOTP != "",
				p.TemporaryUntil(),
				p.ID == me.ID,
			},
		)
	}
	return replied(out)
}

type newPerson struct {
	ID         ID     `json:"id" doc:"made by the client, UUID v7"`
	Name       string `json:"name" maxLength:"80"`
	Role       string `json:"role" enum:"technician,lead"`
	Passphrase string `json:"passphrase" maxLength:"250" doc:"a temporary one, to be changed at the first sign-in"`
}

func (s *server) addPerson(ctx context.Context, in *struct{ Body newPerson }) (*output[peopleBody], error) {
	me := who(ctx)
	p := store.Person{
		ID:         string(in.Body.ID),
		WorkshopID: me.WorkshopID,
		Workshop:   me.Workshop,
		Name:       words.Clean(in.Body.Name),
		Role:       in.Body.Role,
		MustChange: true,
	}
	if p.Name == "" {
		return nil, refuse("body", document.Problems{{Path: "name", Message: "A name is needed to sign in by."}})
	}
	if err := chosen("passphrase", in.Body.Passphrase, p); err != nil {
		return nil, err
	}
	p.Passphrase = passphrase.Hash(in.Body.Passphrase)
	err := s.Store.AddPerson(ctx, me.Actor(), p)
	if errors.Is(err, store.ErrTaken) {
		// Whose it is is nobody's business here.
		return nil, refuse(
			"body",
			document.Problems{{Path: "name", Message: "This name is taken. Choose another, with the family name perhaps."}},
		)
	}
	if err != nil {
		return nil, answer(err)
	}
	return s.getPeople(ctx, nil)
}

// OfPerson is the input of an operation on somebody of the workshop.
type OfPerson struct {
	ID ID `path:"id"`
}

// Resolve takes an id in capitals for the same id.
func (in *OfPerson) Resolve(huma.Context) []error { return in.ID.lower() }

type personChange struct {
	Role   string `json:"role,omitempty" enum:"technician,lead" doc:"left out: as it was"`
	Closed *bool  `json:"closed,omitempty" doc:"closes the account, which ends all its sessions, or opens it again; left out: as it was"`
}

type changePersonInput struct {
	OfPerson
	Body personChange
}

func (s *server) changePerson(ctx context.Context, in *changePersonInput) (*output[peopleBody], error) {
	me := who(ctx)
	if in.Body.Role != "" {
		if err := s.Store.SetRole(ctx, me.Actor(), me.WorkshopID, string(in.ID), in.Body.Role); err != nil {
			return nil, answer(err)
		}
	}
	if in.Body.Closed != nil {
		if err := s.Store.SetDisabled(ctx, me.Actor(), me.WorkshopID, string(in.ID), *in.Body.Closed); err != nil {
			return nil, answer(err)
		}
	}
	return s.getPeople(ctx, nil)
}

type temporaryInput struct {
	OfPerson
	Body struct {
		Passphrase string `json:"passphrase" maxLength:"250" doc:"to be changed at the next sign-in"`
	}
}

// setTemporary gives somebody who has forgotten theirs a temporary passphrase.
func (s *server) setTemporary(ctx context.Context, in *temporaryInput) (*output[peopleBody], error) {
	me := who(ctx)
	p, err := s.Store.Person(ctx, me.WorkshopID, string(in.ID))
	if err != nil {
		return nil, answer(err)
	}
	if p.ID == me.ID {
		return nil, refuse(
			"body",
			document.Problems{{Path: "passphrase", Message: "Change your own under your name, where the old one is asked for."}},
		)
	}
	if err := chosen("passphrase", in.Body.Passphrase, p); err != nil {
		return nil, err
	}
	if err := s.Store.SetPassphrase(ctx, me.Actor(), me.WorkshopID, p.ID, passphrase.Hash(in.Body.Passphrase), true, store.Session{}); err != nil {
		return nil, answer(err)
	}
	return s.getPeople(ctx, nil)
}

// endPersons ends all sessions of somebody.
func (s *server) endPersons(ctx context.Context, in *OfPerson) (*output[peopleBody], error) {
	me := here(ctx)
	but := store.Session{}
	if string(in.ID) == me.ID {
		but = me.at
	}
	if err := s.Store.EndSessions(ctx, me.Actor(), me.WorkshopID, string(in.ID), but); err != nil {
		return nil, answer(err)
	}
	return s.getPeople(ctx, nil)
}

// dropPersons turns off the second factor of somebody who has lost it with all recovery
// codes.
func (s *server) dropPersons(ctx context.Context, in *OfPerson) (*output[peopleBody], error) {
	me := who(ctx)
	if string(in.ID) == me.ID {
		return nil, refuse("path", document.Problems{{
			Path:    "id",
			Message: "Turn your own second factor off under your name, where the passphrase is asked for.",
		}})
	}
	if err := s.Store.SetTOTP(ctx, me.Actor(), me.WorkshopID, string(in.ID), "", 0, nil); err != nil {
		return nil, answer(err)
	}
	return s.getPeople(ctx, nil)
}
