package store

import (
	"errors"
	"testing"

	"grapnel/core/fit"
	"grapnel/core/guide"
	"grapnel/core/reading"
	"grapnel/core/rules"
)

func (b shop) begun(t *testing.T) (Job, GuideRun) {
	t.Helper()
	j := b.job("K-" + id()[:8])
	must(t, b.AddJob(b.ctx, b.ws.ID, j, nil))
	g := GuideRun{ID: id(), JobID: j.ID, What: guide.Cleaning, Site: guide.Site{Place: "front", On: []string{"cover"}}}
	must(t, b.BeginGuide(b.ctx, b.ws.ID, Actor{ID: b.person.ID}, g))
	return j, g
}

func (b shop) did(g GuideRun, off ...string) GuideEvent {
	return GuideEvent{ID: id(), JobID: g.JobID, RunID: g.ID, ByID: b.person.ID,
		Event: guide.Event{Kind: guide.TookOff, Off: off, At: b.now()}}
}

// What was done is kept in order, once however often it is sent; who was not looking at the
// last of it has to look again.
func TestGuideEventsAreKept(t *testing.T) {
	s := newShop(t)
	j, g := s.begun(t)
	must(t, s.BeginGuide(s.ctx, s.ws.ID, Actor{ID: s.person.ID}, g))
	runs, err := s.Guides(s.ctx, s.ws.ID, j.ID)
	must(t, err)
	if len(runs) != 1 || runs[0].Site.Place != "front" || runs[0].By != s.person.Name {
		t.Fatalf("%+v", runs)
	}
	one, two := s.did(g, "earthed"), s.did(g, "live")
	for range 2 {
		must(t, s.AddGuideEvent(s.ctx, s.ws.ID, one, 0, nil, false))
	}
	if err := s.AddGuideEvent(s.ctx, s.ws.ID, two, 0, nil, false); !errors.Is(err, ErrChanged) {
		t.Errorf("done without a look at what was done: %v", err)
	}
	must(t, s.AddGuideEvent(s.ctx, s.ws.ID, two, 1, nil, true))
	other := one
	other.Step = "lift"
	if err := s.AddGuideEvent(s.ctx, s.ws.ID, other, 2, nil, false); !errors.Is(err, ErrTaken) {
		t.Errorf("another under one id: %v", err)
	}
	events, err := s.GuideEvents(s.ctx, s.ws.ID, j.ID)
	must(t, err)
	if len(events) != 2 || events[0].Off[0] != "earthed" || events[1].Off[0] != "live" || events[0].By != s.person.Name {
		t.Errorf("%+v", events)
	}
	if runs, _ = s.Guides(s.ctx, s.ws.ID, j.ID); runs[0].EndedAt == nil {
		t.Error("the last of it, and it is not ended")
	}
	if err := s.SetGuideSite(s.ctx, s.ws.ID, GuideRun{ID: g.ID, JobID: j.ID, Version: 1}); !errors.Is(err, ErrClosed) {
		t.Errorf("a guide that is over is changed: %v", err)
	}
	if err := s.AddGuideEvent(s.ctx, s.ws.ID, s.did(g, "strap"), MostGuideEvents, nil, false); !errors.Is(err, ErrGuideFull) {
		t.Errorf("one too many: %v", err)
	}
	if got, err := s.GuideEvents(s.ctx, id(), j.ID); err != nil || len(got) > 0 {
		t.Errorf("another workshop sees %d, %v", len(got), err)
	}
}

// A job is not closed by who has not seen what was taken off meanwhile, and takes nothing
// once it is.
func TestCloseSeesGuides(t *testing.T) {
	s := newShop(t)
	j, g := s.begun(t)
	by := Actor{ID: s.person.ID}
	must(t, s.AddGuideEvent(s.ctx, s.ws.ID, s.did(g, "earthed"), 0, nil, false))
	if err := s.CloseJob(s.ctx, s.ws.ID, by, j.ID, Closing{At: s.now()}); !errors.Is(err, ErrChanged) {
		t.Errorf("closed with eyes shut: %v", err)
	}
	must(t, s.CloseJob(s.ctx, s.ws.ID, by, j.ID, Closing{At: s.now(), Guided: 1, Off: []string{"earthed cable"},
		Reason: "towed"}))
	if err := s.AddGuideEvent(s.ctx, s.ws.ID, s.did(g, "live"), 1, nil, false); !errors.Is(err, ErrClosed) {
		t.Errorf("done on a closed job: %v", err)
	}
	g.ID = id()
	g.What = guide.Watering
	if err := s.BeginGuide(s.ctx, s.ws.ID, by, g); !errors.Is(err, ErrClosed) {
		t.Errorf("begun on a closed job: %v", err)
	}
}

// A battery that is fitted leaves the shelf with the new job and the old reading, all or
// nothing; two cannot fit one.
func TestFitIsOneThing(t *testing.T) {
	s := newShop(t)
	by := Actor{ID: s.person.ID}
	cca := 300.0
	item := fit.Item{Tag: "S-01", Chemistry: "flooded", Group: "U1", Rating: reading.Rating{CCA: &cca}}
	must(t, s.AddStock(s.ctx, s.ws.ID, by, []fit.Item{item}))
	fitted := func() (Job, Fitted) {
		j, g := s.begun(t)
		f := Fitted{Event: s.did(g), Tags: []string{"S-01"}, Reading: StoredReading{JobID: j.ID, ByID: s.person.ID,
			Entry: reading.Entry{ID: id(), Reading: reading.Of("replaced", reading.Fields{"with": "S-01"})}},
			Job: Job{ID: id(), Vehicle: j.Vehicle, Battery: item.Battery(), Rules: rules.Default(), OpenedByID: s.person.ID,
				Follows: j.ID, SameBattery: true}}
		return j, f
	}
	old, first := fitted()
	for range 2 {
		must(t, s.Fit(s.ctx, s.ws.ID, by, first))
	}
	fresh, err := s.Following(s.ctx, s.ws.ID, old.ID)
	must(t, err)
	j, err := s.Job(s.ctx, s.ws.ID, fresh)
	must(t, err)
	if j.Follows != old.ID || j.Battery.Tag != "S-01" {
		t.Errorf("%+v", j)
	}
	if shelf, err := s.Shelf(s.ctx, s.ws.ID); err != nil || len(shelf) > 0 {
		t.Errorf("still on the shelf: %+v, %v", shelf, err)
	}
	gone, err := s.OnShelf(s.ctx, s.ws.ID, "S-01")
	if err != nil || gone.GoneTo != fresh || gone.GoneAt == nil {
		t.Errorf("%+v, %v", gone, err)
	}
	other, second := fitted()
	if err := s.Fit(s.ctx, s.ws.ID, by, second); !errors.Is(err, ErrChanged) {
		t.Errorf("one battery in two vehicles: %v", err)
	}
	if id, _ := s.Following(s.ctx, s.ws.ID, other.ID); id != "" {
		t.Error("half of it was saved")
	}
	if rs, _ := s.Readings(s.ctx, s.ws.ID, other.ID); len(rs[other.ID]) > 0 {
		t.Errorf("half of it was saved: %+v", rs)
	}
	if err := s.AddStock(s.ctx, s.ws.ID, by, []fit.Item{item}); !errors.Is(err, ErrKnownBattery) {
		t.Errorf("on the shelf again under the same tag: %v", err)
	}
}

// A shelf holds so many and not one more, and a table that would fill it over is not taken.
func TestShelfIsFull(t *testing.T) {
	s := newShop(t)
	by := Actor{ID: s.person.ID}
	var many []fit.Item
	for range MostStock {
		many = append(many, fit.Item{Tag: id(), Chemistry: "agm"})
	}
	must(t, s.AddStock(s.ctx, s.ws.ID, by, many))
	if err := s.AddStock(s.ctx, s.ws.ID, by, []fit.Item{{Tag: "one more", Chemistry: "agm"}}); !errors.Is(err, ErrShelfFull) {
		t.Errorf("%v", err)
	}
	must(t, s.ChangeStock(s.ctx, s.ws.ID, by, many[0].Tag, 1, many[0], true))
	must(t, s.AddStock(s.ctx, s.ws.ID, by, []fit.Item{{Tag: "one more", Chemistry: "agm"}}))
	if _, err := s.BatteryTagged(s.ctx, s.ws.ID, "one more"); err != nil {
		t.Error(err)
	}
}
