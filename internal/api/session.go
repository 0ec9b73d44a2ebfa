package api

import (
	"cmp"
	"context"
	"errors"
	"net/http"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/internal/passphrase"
	"grapnel/internal/store"
)

type personKey struct{}

// who gives the person signed in. Operations that need nobody must not ask.
func who(ctx context.Context) store.Person { return ctx.Value(personKey{}).(store.Person) }

// actor is the person signed in as the store takes them.
func actor(ctx context.Context) store.Actor {
	p := who(ctx)
	return store.Actor{ID: p.ID, Lead: p.Role == store.Lead}
}

// whoIsIt puts the person signed in into the context, and refuses operations
// that need somebody when nobody is.
func (s *server) whoIsIt(api huma.API) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		if ctx.Operation().Security == nil {
			next(ctx)
			return
		}
		p, err := s.signedIn(ctx.Context())
		switch {
		case errors.Is(err, store.ErrNotFound):
			_ = huma.WriteErr(api, ctx, http.StatusUnauthorized,
				"Sign in first. What you entered is kept on this device.")
		case err != nil:
			_ = huma.WriteErr(api, ctx, http.StatusServiceUnavailable, noAnswer)
		default:
			next(huma.WithValue(ctx, personKey{}, p))
		}
	}
}

// How long a session lasts without a sign of life, and how often one is noted.
// A request between two notes writes nothing and sets no cookie, so that one
// still under way when somebody else signs in on the device cannot undo that.
const idle, noted = 24 * time.Hour, 10 * time.Minute

func (s *server) signedIn(ctx context.Context) (store.Person, error) {
	id, since := s.sessions.GetString(ctx, "person"), s.Now().Sub(time.UnixMilli(s.sessions.GetInt64(ctx, "seen")))
	if id == "" || since >= idle {
		return store.Person{}, store.ErrNotFound
	}
	if since >= noted {
		s.sessions.Put(ctx, "seen", s.Now().UnixMilli())
	}
	return s.Store.Person(ctx, id)
}

// session is who is signed in, and how they like their screen.
type session struct {
	Person *personView  `json:"person,omitempty" doc:"absent when nobody is signed in"`
	Demo   []DemoSignIn `json:"demo,omitempty" doc:"sign-ins anybody may use; in demo mode only"`
}

type personView struct {
	Name        string `json:"name"`
	Role        string `json:"role" enum:"technician,lead"`
	Workshop    string `json:"workshop"`
	Temperature string `json:"temperature" enum:"C,F"`
	Theme       string `json:"theme" enum:"system,light,dark"`
}

type sessionReply = output[session]

func asSession(p store.Person) (*sessionReply, error) {
	return replied(session{Person: &personView{p.Name, p.Role, p.Workshop, p.Temperature, p.Theme}})
}

func (s *server) getSession(ctx context.Context, _ *nothing) (*sessionReply, error) {
	p, err := s.signedIn(ctx)
	if errors.Is(err, store.ErrNotFound) {
		return replied(session{Demo: s.DemoSignIns})
	}
	if err != nil {
		return nil, answer(err)
	}
	return asSession(p)
}

type signInBody struct {
	Name       string `json:"name" maxLength:"80"`
	Passphrase string `json:"passphrase" maxLength:"200"`
}

func (s *server) signIn(ctx context.Context, in *struct{ Body signInBody }) (*sessionReply, error) {
	p, err := s.Store.PersonNamed(ctx, in.Body.Name)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return nil, answer(err)
	}
	if err != nil && !passphrase.MatchesNobody(in.Body.Passphrase) ||
		err == nil && !passphrase.Matches(p.Passphrase, in.Body.Passphrase) {
		return nil, huma.Error401Unauthorized(
			"Name and passphrase do not match. Check both; the passphrase minds capitals.",
		)
	}
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, answer(err)
	}
	s.sessions.Put(ctx, "person", p.ID)
	s.sessions.Put(ctx, "seen", s.Now().UnixMilli())
	return asSession(p)
}

func (s *server) signOut(ctx context.Context, _ *nothing) (*struct{}, error) {
	return nil, answer(s.sessions.Destroy(ctx))
}

type preferences struct {
	Temperature string `json:"temperature,omitempty" enum:"C,F" doc:"left out: as it was"`
	Theme       string `json:"theme,omitempty" enum:"system,light,dark" doc:"left out: as it was"`
}

func (s *server) setPreferences(ctx context.Context, in *struct{ Body preferences }) (*sessionReply, error) {
	p := who(ctx)
	p.Temperature, p.Theme = cmp.Or(in.Body.Temperature, p.Temperature), cmp.Or(in.Body.Theme, p.Theme)
	if err := s.Store.SetPreferences(ctx, p.ID, p.Temperature, p.Theme); err != nil {
		return nil, answer(err)
	}
	return asSession(p)
}
