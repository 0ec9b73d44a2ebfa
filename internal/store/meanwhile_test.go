package store

import (
	"errors"
	"sync"
	"testing"
	"time"
)

// people adds two leads and a technician to a shop.
func (s shop) people(t *testing.T) (one, two, hand Person) {
	t.Helper()
	for _, p := range []struct {
		into *Person
		role string
	}{{&one, Lead}, {&two, Lead}, {&hand, Technician}} {
		name := id()
		must(t, s.AddPerson(s.ctx, Actor{}, Person{ID: name, WorkshopID: s.ws.ID, Name: name, Role: p.role, Passphrase: "first"}))
		*p.into = s.read(t, name)
	}
	return one, two, hand
}

func (s shop) read(t *testing.T, id string) Person {
	t.Helper()
	p, err := s.Person(s.ctx, s.ws.ID, id)
	must(t, err)
	return p
}

// What was taken from somebody is taken from their requests under way too: neither a
// session begins nor an account changes on what was good when they asked.
func TestTakenMeanwhile(t *testing.T) {
	s := newShop(t)
	sessions := func(of Person) (n int) {
		must(t, s.DB().QueryRow(`SELECT COUNT(*) FROM session WHERE person_id = ?`, of.ID).Scan(&n))
		return n
	}
	begin := func(p Person, byPIN bool) error {
		_, err := s.BeginSession(s.ctx, p, "", "a tablet", byPIN, "", "")
		return err
	}
	set := func(by, of Person, hash string, temporary bool) error {
		return s.SetPassphrase(s.ctx, by.Actor(), s.ws.ID, of.ID, hash, temporary, Session{})
	}
	for name, take := range map[string]func(lead, from Person) error{
		"another passphrase": func(lead, from Person) error { return set(lead, from, "second", true) },
		"the account closed": func(lead, from Person) error { return s.SetDisabled(s.ctx, lead.Actor(), s.ws.ID, from.ID, true) },
	} {
		lead, two, hand := s.people(t)
		for _, p := range []Person{two, hand} {
			if err := errors.Join(begin(p, false), begin(p, true)); err != nil || sessions(p) != 2 {
				t.Fatalf("%s, before: %v, %d sessions", name, err, sessions(p))
			}
			must(t, take(lead, p))
			for _, byPIN := range []bool{false, true} {
				if err := begin(p, byPIN); !errors.Is(err, ErrNoLonger) || sessions(p) != 0 {
					t.Errorf("%s, coming in (by PIN: %v): %v, %d sessions", name, byPIN, err, sessions(p))
				}
			}
			for what, err := range map[string]error{
				"passphrase":    set(p, p, "third", false),
				"PIN":           s.SetPIN(s.ctx, p.Actor(), s.ws.ID, p.ID, "pin"),
				"second factor": s.SetTOTP(s.ctx, p.Actor(), s.ws.ID, p.ID, "secret", 1, nil),
			} {
				if !errors.Is(err, ErrNoLonger) {
					t.Errorf("%s, one's own %s: %v", name, what, err)
				}
			}
			if got := s.read(t, p.ID); got.Passphrase == "third" || got.PIN != "" || got.TOTP != "" {
				t.Errorf("%s: %+v", name, got)
			}
		}
		for what, err := range map[string]error{
			"somebody's passphrase": set(two, lead, "third", true),
			"somebody's role":       s.SetRole(s.ctx, two.Actor(), s.ws.ID, lead.ID, Technician),
			"somebody's account":    s.SetDisabled(s.ctx, two.Actor(), s.ws.ID, lead.ID, true),
			"somebody's sessions":   s.EndSessions(s.ctx, two.Actor(), s.ws.ID, lead.ID, Session{}),
			"somebody new": s.AddPerson(s.ctx, two.Actor(), Person{ID: id(), WorkshopID: s.ws.ID, Name: id(), Role: Lead,
				Passphrase: "first"}),
		} {
			if !errors.Is(err, ErrNoLonger) {
				t.Errorf("%s, %s: %v", name, what, err)
			}
		}
		if got := s.read(t, lead.ID); got.Role != Lead || got.DisabledAt != nil || got.Passphrase != "first" {
			t.Errorf("%s, who took it: %+v", name, got)
		}
	}
	// A PIN or a second factor that is another ends what it began, a passphrase changed
	// by its owner nothing of their own.
	lead, two, hand := s.people(t)
	must(t, s.SetPIN(s.ctx, hand.Actor(), s.ws.ID, hand.ID, "pin"))
	if err := begin(hand, true); !errors.Is(err, ErrNoLonger) {
		t.Errorf("by the PIN before: %v", err)
	}
	hand = s.read(t, hand.ID)
	must(t, s.SetTOTP(s.ctx, hand.Actor(), s.ws.ID, hand.ID, "secret", 1, nil))
	if err := begin(hand, false); !errors.Is(err, ErrNoLonger) {
		t.Errorf("without the second factor: %v", err)
	}
	must(t, begin(s.read(t, hand.ID), false))
	// Who is no lead any more changes none but their own.
	must(t, s.SetRole(s.ctx, lead.Actor(), s.ws.ID, two.ID, Technician))
	if err := set(two, hand, "third", true); !errors.Is(err, ErrNoLonger) {
		t.Errorf("a technician sets a passphrase: %v", err)
	}
	must(t, set(two, two, "third", false))
	if err := s.SetRole(s.ctx, s.read(t, two.ID).Actor(), s.ws.ID, two.ID, Lead); !errors.Is(err, ErrNoLonger) {
		t.Errorf("a technician makes a lead of themselves: %v", err)
	}
}

// Two leads who take each other's role away at once do not both succeed, and do not on a
// cluster, where both have to write the same row.
func TestLeadsAtOnce(t *testing.T) {
	s := newShop(t)
	version := func() (n int) {
		must(t, s.DB().QueryRow(`SELECT people_version FROM workshop WHERE id = ?`, s.ws.ID).Scan(&n))
		return n
	}
	one, two, _ := s.people(t)
	for range 20 {
		before := version()
		errs := make([]error, 2)
		var both sync.WaitGroup
		both.Go(func() { errs[0] = s.SetRole(s.ctx, one.Actor(), s.ws.ID, two.ID, Technician) })
		both.Go(func() { errs[1] = s.SetRole(s.ctx, two.Actor(), s.ws.ID, one.ID, Technician) })
		both.Wait()
		if (errs[0] == nil) == (errs[1] == nil) || !errors.Is(errors.Join(errs...), ErrNoLonger) {
			t.Fatalf("%v", errs)
		}
		if version() != before+1 {
			t.Fatalf("the workshop's row was written %d times", version()-before)
		}
		for _, p := range []Person{one, two} {
			must(t, s.SetRole(s.ctx, Actor{}, s.ws.ID, p.ID, Lead))
		}
	}
}

// A rest that is begun while its job is closed does not run on.
// Nor where both are done within one microsecond, so that the row they meet in is written
// with the same time.
func TestRestWhileClosing(t *testing.T) {
	s := newShop(t)
	still := s.now()
	s.SetNow(func() time.Time { return still })
	for round := range 30 {
		j := s.opened(t, "")
		var both sync.WaitGroup
		var begun, closed error
		both.Go(func() { begun = s.AddRest(s.ctx, s.ws.ID, s.rest(j.ID)) })
		both.Go(func() { closed = s.CloseJob(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, j.ID, Closing{At: s.now()}) })
		both.Wait()
		rests, err := s.RunningRests(s.ctx, s.ws.ID)
		must(t, err)
		if closed != nil || begun != nil && !errors.Is(begun, ErrClosed) || len(rests) > 0 {
			t.Fatalf("round %d: begun: %v, closed: %v, %d run", round, begun, closed, len(rests))
		}
	}
}
