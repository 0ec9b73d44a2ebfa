package main

import (
	"context"
	"errors"
	"fmt"
	"sync"
	"time"

	"grapnel/core/battery"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/internal/store"
)

const races = 40

// shop is a workshop of its own, reached through each node.
type shop struct {
	through [3]*store.Store
	id      string
	people  [3]store.Person
}

// race has three nodes asked for things at once of which one may be had, and reports how
// often more or none was.
func race(ctx context.Context, dsns [3]string) error {
	s := shop{id: newID()}
	for i, dsn := range dsns {
		one, err := store.Open(ctx, dsn)
		if err != nil {
			return err
		}
		defer func() { _ = one.Close() }()
		s.through[i] = one
	}
	if err := s.through[0].AddWorkshop(ctx, store.Workshop{ID: s.id, Name: "Races", TagPrefix: "R", Rules: rules.Default()}); err != nil {
		return err
	}
	for i := range s.people {
		p := store.Person{ID: newID(), WorkshopID: s.id, Name: newID(), Role: store.Lead, Passphrase: "first"}
		if err := s.through[0].AddPerson(ctx, store.Actor{}, p); err != nil {
			return err
		}
		s.people[i] = p
	}
	var wrong []error
	for name, one := range map[string]func(context.Context) error{
		"leads who close each other's accounts": s.leads,
		"a code that counts once":               s.codes,
		"a sign-in and another passphrase":      s.signIns,
		"a tag for an untagged battery":         s.tags,
		"a change of the house rules":           s.rules,
		"a place for a reading":                 s.places,
	} {
		failed := 0
		var last error
		for range races {
			if err := one(ctx); err != nil {
				failed, last = failed+1, err
			}
		}
		fmt.Printf("%-40s %d races, %d wrong\n", name, races, failed)
		if failed > 0 {
			wrong = append(wrong, fmt.Errorf("%s: %d of %d races: %w", name, failed, races, last))
		}
	}
	return errors.Join(wrong...)
}

// atOnce does something through each node at once.
func (s shop) atOnce(f func(i int, through *store.Store) error) [3]error {
	var errs [3]error
	var all sync.WaitGroup
	for i, one := range s.through {
		all.Go(func() { errs[i] = f(i, one) })
	}
	all.Wait()
	return errs
}

func count(errs [3]error) (n int) {
	for _, err := range errs {
		if err == nil {
			n++
		}
	}
	return n
}

func (s shop) leads(ctx context.Context) error {
	errs := s.atOnce(func(i int, through *store.Store) error {
		return through.SetDisabled(ctx, s.people[i].Actor(), s.id, s.people[(i+1)%3].ID, true)
	})
	all, err := s.through[0].People(ctx, s.id, time.Now())
	if err != nil {
		return err
	}
	left := 0
	for _, p := range all {
		if p.DisabledAt == nil {
			left++
		}
		if err := s.through[0].SetDisabled(ctx, store.Actor{}, s.id, p.ID, false); err != nil {
			return err
		}
	}
	if left == 0 || left != 3-count(errs) {
		return fmt.Errorf("%d leads are left: %v", left, errs)
	}
	return nil
}

func (s shop) codes(ctx context.Context) error {
	free := [3]bool{}
	step := time.Now().UnixNano()
	errs := s.atOnce(func(i int, through *store.Store) (err error) {
		free[i], err = through.UseTOTP(ctx, s.people[0].ID, step)
		return err
	})
	n := 0
	for _, f := range free {
		if f {
			n++
		}
	}
	if n != 1 || count(errs) != 3 {
		return fmt.Errorf("good %d times: %v", n, errs)
	}
	return nil
}

func (s shop) signIns(ctx context.Context) error {
	p, err := s.through[0].Person(ctx, s.id, s.people[0].ID)
	if err != nil {
		return err
	}
	var began store.Begun
	errs := s.atOnce(func(i int, through *store.Store) (err error) {
		switch i {
		case 0:
			return through.SetPassphrase(ctx, store.Actor{}, s.id, p.ID, newID(), true, store.Session{})
		case 1:
			began, err = through.BeginSession(ctx, p, "", "a tablet", false, "", "")
		}
		return err
	})
	if errs[0] != nil || errs[1] != nil && !errors.Is(errs[1], store.ErrNoLonger) {
		return fmt.Errorf("%v", errs)
	}
	_, _, err = s.through[2].SignedIn(ctx, began.SessionSecret, time.Now())
	if !errors.Is(err, store.ErrNotFound) {
		return fmt.Errorf("signed in with a passphrase that is gone: %v, %w", errs, err)
	}
	return s.through[0].SetPassphrase(ctx, store.Actor{}, s.id, p.ID, "first", false, store.Session{})
}

func (s shop) job(tag string) store.Job {
	cca := 300.0
	return store.Job{ID: newID(), Vehicle: reading.Vehicle{Class: "mower", SystemVolts: 12}, Rules: rules.Default(),
		Battery: reading.Battery{Tag: tag, Chemistry: battery.Flooded,
			Rating: reading.Rating{CCA: &cca, Standard: "SAE"}}, OpenedByID: s.people[0].ID}
}

func (s shop) tags(ctx context.Context) error {
	var jobs [3]store.Job
	errs := s.atOnce(func(i int, through *store.Store) error {
		jobs[i] = s.job("")
		if err := through.AddJob(ctx, s.id, jobs[i], nil); err != nil {
			return err
		}
		got, err := through.Job(ctx, s.id, jobs[i].ID)
		jobs[i] = got
		return err
	})
	tags := map[string]bool{}
	for _, j := range jobs {
		tags[j.Battery.Tag] = true
	}
	if count(errs) != 3 || len(tags) != 3 {
		return fmt.Errorf("%v: %v", tags, errs)
	}
	return nil
}

func (s shop) rules(ctx context.Context) error {
	ws, err := s.through[0].Workshop(ctx, s.id)
	if err != nil {
		return err
	}
	errs := s.atOnce(func(i int, through *store.Store) error {
		r := rules.Default()
		r.DrainMax = float64(30 + ws.RulesVersion*3 + i)
		return through.SetRules(ctx, s.id, s.people[i].ID, r, ws.RulesVersion)
	})
	now, err := s.through[2].Workshop(ctx, s.id)
	if err != nil || count(errs) != 1 || now.RulesVersion != ws.RulesVersion+1 {
		return fmt.Errorf("version %d after %d: %v, %w", now.RulesVersion, ws.RulesVersion, errs, err)
	}
	return nil
}

func (s shop) places(ctx context.Context) error {
	j := s.job(newID()[:30])
	if err := s.through[0].AddJob(ctx, s.id, j, nil); err != nil {
		return err
	}
	errs := s.atOnce(func(i int, through *store.Store) error {
		return through.AddReading(ctx, s.id, store.StoredReading{JobID: j.ID, ByID: s.people[i].ID,
			Entry: reading.Entry{ID: newID(), Reading: reading.Of("rest_voltage", reading.Fields{"volts": 12.5})}})
	})
	got, err := s.through[1].Readings(ctx, s.id, j.ID)
	places := map[int]bool{}
	for _, r := range got[j.ID] {
		places[r.Place] = true
	}
	if err != nil || count(errs) != 3 || len(places) != 3 {
		return fmt.Errorf("places %v: %v, %w", places, errs, err)
	}
	return nil
}
