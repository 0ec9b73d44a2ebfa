package api

import (
	"maps"
	"math"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"grapnel/internal/localdb/dbtest"
)

// clockOf is what the tests look at of the clock.
type clockOf struct {
	Moments []struct {
		JobID   string `json:"job_id"`
		Kind    string
		At      time.Time
		Over    bool
		Snoozed bool
		To      string
	}
	Pending int
}

// Said once, on any device, of any moment: done, later, or who goes; all devices hear of
// it, it stands after a restart, and saying nothing takes it back.
func TestSayOfMoments(t *testing.T) {
	now := time.Now()
	b := newBench(t, dbtest.Server(), func(c *Config) { c.Now = func() time.Time { return now } })
	ines, lead := b.as(t, "First technician"), b.as(t, "First lead")
	job := ines.opened()
	ines.call("POST", "/api/jobs/"+job+"/rests", map[string]any{"id": newID(), "minutes": 60}).into(200, nil)
	now = now.Add(61 * time.Minute)
	moments := func(c caller) clockOf {
		t.Helper()
		var out clockOf
		c.call("GET", "/api/clock", nil).into(200, &out)
		return out
	}
	wait := func() string {
		var s sheetOf
		lead.call("GET", "/api/jobs/"+job, nil).into(200, &s)
		return s.Wait.For
	}
	if m := moments(lead); len(m.Moments) != 1 || !m.Moments[0].Over || m.Moments[0].Kind != "rest" {
		t.Fatalf("%+v", m)
	}
	var people struct{ People []struct{ ID, Name string } }
	ines.call("GET", "/api/colleagues", nil).into(200, &people)
	if len(people.People) != 2 || people.People[0].Name != "First lead" {
		t.Fatalf("%+v", people)
	}
	events, end := lead.listen()
	defer end()
	next(t, events)
	say := func(body map[string]any) reply { return ines.call("PUT", "/api/jobs/"+job+"/moments/rest", body) }
	var answered clockOf
	say(map[string]any{"minutes": 10}).into(200, &answered)
	if m := answered.Moments[0]; m.Over || !m.Snoozed || math.Abs(m.At.Sub(now).Minutes()-10) > 0.1 || wait() != "rest" {
		t.Errorf("put off: %+v, it waits for %s", m, wait())
	}
	if got := next(t, events); !strings.Contains(got, job) {
		t.Errorf("the other device heard %s", got)
	}
	now = now.Add(10 * time.Minute)
	if m := moments(lead); !m.Moments[0].Over {
		t.Errorf("ten minutes later: %+v", m)
	}
	say(map[string]any{"person_id": people.People[0].ID}).into(200, nil)
	if m := moments(lead); m.Moments[0].To != "First lead" || !m.Moments[0].Over {
		t.Errorf("handed on: %+v", m)
	}
	say(map[string]any{"done": true}).into(200, nil)
	other := httptest.NewServer(
		New(Config{Store: b.store, SignInsMinute: 1000, Now: func() time.Time { return now }, Web: built}),
	)
	defer other.Close()
	for _, c := range []caller{lead, shop{other, b.store}.as(t, "First lead")} {
		if m := moments(c); len(m.Moments) != 0 {
			t.Errorf("done: %+v", m)
		}
	}
	say(map[string]any{}).into(200, nil)
	kept := 0
	must(t, b.store.DB().QueryRow(`SELECT COUNT(*) FROM said`).Scan(&kept))
	if m := moments(lead); len(m.Moments) != 1 || kept != 0 {
		t.Errorf("taken back: %+v", m)
	}
	for what, body := range map[string]map[string]any{
		"both": {"done": true, "minutes": 5}, "a day and more": {"minutes": 1441}, "before now": {"minutes": -1}, "no such person": {"person_id": newID()},
	} {
		if r := say(body); r.status != 422 && r.status != 404 {
			t.Errorf("%s: %d %s", what, r.status, r.body)
		}
	}
	ines.call("PUT", "/api/jobs/"+job+"/moments/lunch", map[string]any{"done": true}).into(422, nil)
	stranger := b.as(t, "Second technician")
	stranger.call("PUT", "/api/jobs/"+job+"/moments/rest", map[string]any{"done": true}).into(404, nil)
	var theirs struct{ People []struct{ ID string } }
	stranger.call("GET", "/api/colleagues", nil).into(200, &theirs)
	say(map[string]any{"person_id": theirs.People[0].ID}).into(404, nil)
	// Closed, nothing more is said of it; opened again, it begins anew.
	say(map[string]any{"done": true}).into(200, nil)
	ines.call("POST", "/api/jobs/"+job+"/close", nil).into(200, nil)
	say(map[string]any{"done": true}).into(409, nil)
	// Handed over, it stands on the floor for some hours.
	var floor struct {
		Jobs []struct{ ID string }
		Done []struct{ ID string }
	}
	ines.call("GET", "/api/jobs", nil).into(200, &floor)
	if len(floor.Jobs) != 0 || len(floor.Done) != 1 || floor.Done[0].ID != job {
		t.Errorf("%+v", floor)
	}
	now = now.Add(4*time.Hour + time.Minute)
	ines.call("GET", "/api/jobs", nil).into(200, &floor)
	if len(floor.Done) != 0 {
		t.Errorf("four hours later: %+v", floor.Done)
	}
}

// It warms as long as the model needs; what is waited for comes whatever is read
// meanwhile, and a rest ends with the reading it was for.
func TestStaysOfAJob(t *testing.T) {
	c := technician(t)
	id := newID()
	m := mower(id)
	m["conditions"] = map[string]any{"ambient_c": 20, "battery_c": -5}
	c.call("POST", "/api/jobs", m).into(200, nil)
	type staying struct {
		Stay *struct {
			ID, Kind string
			Ends     time.Time `json:"ends_at"`
		}
		Rest *struct{ ID string }
		Warm float64 `json:"warm_minutes"`
		Wait struct{ For, Word string }
	}
	var s staying
	stay := func(body map[string]any) reply {
		body["id"] = newID()
		s = staying{}
		return c.call("POST", "/api/jobs/"+id+"/rests", body)
	}
	stay(map[string]any{"kind": "warm"}).into(200, &s)
	if s.Stay == nil || s.Stay.Kind != "warm" || s.Rest != nil || s.Wait.For != "warm" || s.Warm < 60 || s.Warm > 600 ||
		math.Abs(time.Until(s.Stay.Ends).Minutes()-s.Warm) > 1 {
		t.Fatalf("%+v", s)
	}
	stay(map[string]any{"kind": "parts", "minutes": 43200}).into(200, &s)
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.2)).into(200, &s)
	if s.Stay == nil || s.Stay.Kind != "parts" || s.Wait.For != "parts" {
		t.Errorf("a reading ended the wait for parts: %+v", s.Stay)
	}
	stay(map[string]any{"minutes": 60}).into(200, &s)
	if s.Rest == nil || s.Stay.Kind != "rest" {
		t.Errorf("%+v", s)
	}
	s = staying{}
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.3)).into(200, &s)
	if s.Stay != nil {
		t.Errorf("the reading it was for did not end the rest: %+v", s.Stay)
	}
	for what, body := range map[string]map[string]any{
		"no time for a rest": {"kind": "rest"}, "no time for parts": {"kind": "parts"}, "two days of rest and more": {"minutes": 2881},
		"a month of parts and more": {"kind": "parts", "minutes": 43201}, "no such thing": {"kind": "lunch", "minutes": 60},
	} {
		if r := stay(maps.Clone(body)); r.status != 422 {
			t.Errorf("%s: %d", what, r.status)
		}
	}
	// Warm already, nobody knows how long.
	id = c.opened()
	stay(map[string]any{"kind": "warm"}).into(422, nil)
	stay(map[string]any{"kind": "warm", "minutes": 30}).into(200, &s)
	if s.Warm != 0 || s.Wait.For != "warm" {
		t.Errorf("%+v", s)
	}
}

// The clock of the demo is moved on by anybody who is in, and by nobody anywhere else.
func TestMovedClock(t *testing.T) {
	technician(t).call("POST", "/api/demo/clock", map[string]any{"minutes": 30}).into(404, nil)
	ahead := time.Duration(0)
	b := newBench(t, dbtest.Server(), func(c *Config) {
		c.Now = func() time.Time { return time.Now().Add(ahead) }
		c.MoveClock = func(by time.Duration) error { ahead += by; return nil }
	})
	c := b.as(t, "First technician")
	job := c.opened()
	c.call("POST", "/api/jobs/"+job+"/rests", map[string]any{"id": newID(), "minutes": 60}).into(200, nil)
	var got clockOf
	c.call("POST", "/api/demo/clock", map[string]any{"minutes": 61}).into(200, &got)
	r := c.call("GET", "/api/clock", nil) // devices take their time from the answers
	date, err := time.Parse(time.RFC1123, r.header.Get("Date"))
	if len(got.Moments) != 1 || !got.Moments[0].Over || err != nil || math.Abs(time.Until(date).Minutes()-61) > 0.2 {
		t.Errorf("%+v, dated %s", got, r.header.Get("Date"))
	}
	for _, minutes := range []float64{0, -5, 43201} {
		c.call("POST", "/api/demo/clock", map[string]any{"minutes": minutes}).into(422, nil)
	}
	b.nobody(t).call("POST", "/api/demo/clock", map[string]any{"minutes": 30}).into(401, nil)
}
