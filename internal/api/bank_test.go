package api

import (
	"fmt"
	"math"
	"net/http/httptest"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"grapnel/internal/localdb/dbtest"
)

// bankOf is what the tests look at of a bank.
type bankOf struct {
	Chargers []struct {
		ID      string
		Version int
		Unit    map[string]any
		Hung    *struct {
			JobID string `json:"job_id"`
			Tag   string
			Amps  float64
			SOC   *float64   `json:"soc_pct"`
			Full  *time.Time `json:"full_at"`
			Check *time.Time `json:"check_at"`
			Code  string
			Sign  string
		}
	}
	Elsewhere []struct{ Tag, Charger string }
	Waiting   []struct {
		JobID     string `json:"job_id"`
		Tag       string
		ChargerID string `json:"charger_id"`
		From      *time.Time
		Full      *time.Time `json:"full_at"`
		Minutes   float64
		Late      float64 `json:"late_minutes"`
		Why       string
		Chosen    bool
		After     string
		Suits     []string
	}
	Promises, Kept, Best int
	FirstCome            int `json:"first_come"`
	Own                  bool
	Version, Pending     int
}

func (c caller) bank() bankOf {
	c.t.Helper()
	var b bankOf
	c.call("GET", "/api/bank", nil).into(200, &b)
	return b
}

// order gives the tags of what waits, in order.
func (b bankOf) order() string {
	var tags []string
	for _, w := range b.Waiting {
		tags = append(tags, w.Tag)
	}
	return strings.Join(tags, " ")
}

func unitNamed(name, kind string, amps float64, more ...any) map[string]any {
	u := map[string]any{"name": name, "kind": kind, "amps": amps}
	for i := 0; i+1 < len(more); i += 2 {
		u[more[i].(string)] = more[i+1]
	}
	return u
}

func (c caller) charger(u map[string]any) string {
	c.t.Helper()
	id := newID()
	c.call("POST", "/api/bank/chargers", map[string]any{"id": id, "unit": u}).into(200, nil)
	return id
}

// flat opens a job of a battery that waits for a charger; promised some hours from now, 0
// for not.
func (c caller) flat(tag string, volts, promised float64) string {
	c.t.Helper()
	id := newID()
	m := mower(id)
	m["battery"].(map[string]any)["tag"] = tag
	if promised > 0 {
		m["promised_at"] = time.Now().Add(time.Duration(promised * float64(time.Hour))).UTC().Format(time.RFC3339)
	}
	c.call("POST", "/api/jobs", m).into(200, nil)
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), volts)).into(200, nil)
	c.call(
		"POST",
		"/api/jobs/"+id+"/readings",
		map[string]any{"id": newID(), "reading": map[string]any{"kind": "inspection", "found": []string{"clean"}}},
	).into(
		200,
		nil,
	)
	return id
}

// A battery is hung on by its tag, however it is typed, with the charger's switches as
// they belong for it; a charger holds one; what must not be charged is not hung; sent
// twice it hangs once.
func TestHang(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	one := c.charger(unitNamed("1", "smart", 10, "rates", []float64{2, 6, 10}, "volts", 14.8, "volts_low", 14.4))
	job := c.flat("K-0142", 12.1, 0)
	if got := c.bank(); got.order() != "K-0142" || got.Waiting[0].ChargerID != one || got.Waiting[0].Minutes < 60 {
		t.Fatalf("%+v", got.Waiting)
	}
	var found struct {
		JobID string `json:"job_id"`
	}
	c.call("GET", "/api/bank/tagged?tag=k-0142", nil).into(200, &found)
	if found.JobID != job {
		t.Errorf("%+v", found)
	}
	c.call("GET", "/api/bank/tagged?tag=K-9999", nil).into(404, nil)
	c.call("GET", "/api/bank/tagged?tag=%20", nil).into(422, nil)
	hang := map[string]any{"id": newID(), "charger_id": one, "tag": " k-0142 "}
	var s sheetOf
	for range 3 {
		c.call("POST", "/api/bank/hang", hang).into(200, &s)
	}
	got := c.bank()
	h := got.Chargers[0].Hung
	if len(s.Readings) != 3 || h == nil || h.Tag != "K-0142" || h.Amps != 2 || h.Full == nil || h.SOC == nil || h.Sign != "ok" ||
		len(got.Waiting) != 0 ||
		math.Abs(time.Until(*h.Check).Minutes()-30) > 1 {
		t.Fatalf("%d readings, %+v", len(s.Readings), h)
	}
	// It is taken.
	second := c.flat("K-0143", 12.0, 0)
	r := c.call("POST", "/api/bank/hang", map[string]any{"id": newID(), "charger_id": one, "job_id": second})
	if r.into(409, nil); !strings.Contains(string(r.body), "K-0142 hangs on it") || !strings.Contains(string(r.body), occupied) {
		t.Errorf("%s", r.body)
	}
	c.call("POST", "/api/bank/hang", map[string]any{"id": newID(), "charger_id": one, "job_id": job}).into(409, nil)
	c.call(
		"PUT",
		"/api/bank/chargers/"+one,
		map[string]any{"version": 1, "unit": unitNamed("1", "smart", 10), "retired": true},
	).into(
		409,
		nil,
	)
	c.call("PUT", "/api/bank/chargers/"+one, map[string]any{"version": 1, "unit": unitNamed("7", "smart", 10)}).into(409, nil)
	// What waits behind it hangs once it is full.
	if got := c.bank(); got.Waiting[0].After != "K-0142" || !got.Waiting[0].From.After(time.Now().Add(time.Hour)) {
		t.Errorf("%+v", got.Waiting[0])
	}
	// Off, and the charger is free.
	c.call(
		"POST",
		"/api/jobs/"+job+"/readings",
		map[string]any{"id": newID(), "reading": map[string]any{"kind": "charged", "ended": "stopped"}},
	).into(
		200,
		nil,
	)
	if got := c.bank(); got.Chargers[0].Hung != nil {
		t.Errorf("still there: %+v", got.Chargers[0].Hung)
	}
	// A sealed build hangs on the low setting.
	agm := newID()
	m := mower(agm)
	m["battery"] = map[string]any{"tag": "K-0200", "chemistry": "agm", "rating": map[string]any{"cca": 760, "ah_20h": 80}}
	c.call("POST", "/api/jobs", m).into(200, nil)
	c.call("POST", "/api/jobs/"+agm+"/readings", restReading(newID(), 12.2)).into(200, nil)
	c.call("POST", "/api/bank/hang", map[string]any{"id": newID(), "charger_id": one, "job_id": agm}).into(200, nil)
	var doc struct{ Readings []map[string]any }
	c.call("GET", "/api/jobs/"+agm+"/case", nil).into(200, &doc)
	if last := doc.Readings[len(doc.Readings)-1]; last["volts"] != 14.4 || last["amps"] != 6.0 || last["charger"] != "1" ||
		last["place"] != "bench" {
		t.Errorf("%v", last)
	}
	// What must not be charged, or not on this, is not hung.
	two := c.charger(unitNamed("24 V", "smart", 5, "volts", 28.8))
	for what, try := range map[string]map[string]any{
		"the wrong volts": {"charger_id": two, "job_id": second},
		"no battery":      {"charger_id": two},
		"no such charger": {"charger_id": newID(), "job_id": second},
		"no such job":     {"charger_id": two, "job_id": newID()},
	} {
		try["id"] = newID()
		if r := c.call("POST", "/api/bank/hang", try); r.status < 400 || r.status > 422 {
			t.Errorf("%s: %d %s", what, r.status, r.body)
		}
	}
	c.call(
		"POST",
		"/api/jobs/"+second+"/readings",
		map[string]any{"id": newID(), "reading": map[string]any{"kind": "inspection", "found": []string{"leaking"}}},
	).into(
		200,
		nil,
	)
	three := c.charger(unitNamed("3", "smart", 4))
	r = c.call("POST", "/api/bank/hang", map[string]any{"id": newID(), "charger_id": three, "job_id": second})
	if r.into(409, nil); !strings.Contains(string(r.body), unsafe) || !strings.Contains(string(r.body), "leak") {
		t.Errorf("%s", r.body)
	}
	// Nobody hangs a battery on the chargers of another workshop.
	b.as(
		t,
		"Second technician",
	).call(
		"POST",
		"/api/bank/hang",
		map[string]any{"id": newID(), "charger_id": three, "job_id": second},
	).into(
		404,
		nil,
	)
}

// Of batteries that are hung on one charger at once, one hangs there.
func TestHungAtOnce(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	one := c.charger(unitNamed("1", "smart", 2))
	var jobs []string
	for i := range 6 {
		jobs = append(jobs, c.flat(fmt.Sprintf("K-%04d", 100+i), 12.1, 0))
	}
	statuses := make([]int, len(jobs))
	var all sync.WaitGroup
	for i, job := range jobs {
		all.Go(func() {
			statuses[i] = c.call("POST", "/api/bank/hang", map[string]any{"id": newID(), "charger_id": one, "job_id": job}).status
		})
	}
	all.Wait()
	slices.Sort(statuses)
	got := c.bank()
	if fmt.Sprint(statuses) != "[200 409 409 409 409 409]" || got.Chargers[0].Hung == nil || len(got.Elsewhere) != 0 ||
		len(got.Waiting) != 5 {
		t.Errorf("%v, %+v", statuses, got)
	}
}

// By hand: one charger and three batteries; the one promised soonest goes first though it
// came last. An order of somebody's own stays until it is given up, whatever comes since;
// two who move at once do not undo each other.
func TestBankOrder(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	one := c.charger(unitNamed("1", "smart", 2))
	a := c.flat("K-0001", 12.2, 0)
	d := c.flat("K-0002", 12.2, 40)
	e := c.flat("K-0003", 12.2, 11)
	got := c.bank()
	if got.order() != "K-0003 K-0002 K-0001" || got.Kept != 2 || got.Promises != 2 || got.FirstCome >= 2 || got.Own {
		t.Fatalf("%s, %+v", got.order(), got)
	}
	for _, w := range got.Waiting {
		if w.Why == "" || w.Full == nil || len(w.Suits) != 1 {
			t.Errorf("%+v", w)
		}
	}
	set := func(version int, jobs ...map[string]any) reply {
		return c.call("PUT", "/api/bank/order", map[string]any{"version": version, "jobs": jobs})
	}
	at := func(id string) map[string]any { return map[string]any{"job_id": id} }
	set(got.Version, at(a), at(e)).into(200, nil)
	own := c.bank()
	if own.order() != "K-0001 K-0003 K-0002" || !own.Own || own.Kept >= own.Best {
		t.Errorf("%s, %+v", own.order(), own)
	}
	set(got.Version, at(d), at(a)).into(409, nil) // of what stood before
	set(got.Version, at(a), at(e)).into(200, nil) // a repeat
	set(own.Version, at(a), at(a)).into(422, nil)
	set(own.Version, map[string]any{"job_id": a, "charger_id": one}, at(newID())).into(200, nil)
	if got := c.bank(); !got.Waiting[0].Chosen || got.Waiting[0].Tag != "K-0001" || got.Waiting[1].Chosen {
		t.Errorf("%+v", got.Waiting)
	}
	// On another server, and after a restart, it is the same.
	other := httptest.NewServer(New(Config{Store: b.store, SignInsMinute: 1000, Now: time.Now, Web: built}))
	defer other.Close()
	there := shop{other, b.store}.as(t, "First lead")
	if got := there.bank(); got.order() != c.bank().order() || !got.Own {
		t.Errorf("after a restart: %s", got.order())
	}
	now := there.bank()
	there.call("PUT", "/api/bank/order", map[string]any{"version": now.Version}).into(200, nil)
	if got := c.bank(); got.Own || got.order() != "K-0003 K-0002 K-0001" {
		t.Errorf("given up: %s", got.order())
	}
}

// A battery that rests or warms waits for a charger until then; one that waits for parts
// does not. What hangs on a charger by its sheet stands on the bank, and of two on one
// charger the later.
func TestBankAndSheets(t *testing.T) {
	c := technician(t)
	c.charger(unitNamed("Bench A", "smart", 4))
	job := c.flat("K-0001", 12.1, 0)
	rest := func(kind string, minutes float64) {
		body := map[string]any{"id": newID(), "kind": kind, "minutes": minutes}
		c.call("POST", "/api/jobs/"+job+"/rests", body).into(200, nil)
	}
	for kind, wait := range map[string]bool{"rest": true, "warm": true, "parts": false} {
		rest(kind, 90)
		w := c.bank().Waiting[0]
		if later := time.Until(*w.From) > 80*time.Minute; later != wait {
			t.Errorf("%s: hung from %v", kind, w.From)
		}
	}
	hang := func(job, charger string, minutesAgo float64) {
		c.call(
			"POST",
			"/api/jobs/"+job+"/readings",
			readAgo("on_charger", minutesAgo, map[string]any{"charger": charger, "charger_kind": "smart", "amps": 2.5}),
		).into(
			200,
			nil,
		)
	}
	hang(job, "bench a", 50)
	got := c.bank()
	if got.Chargers[0].Hung == nil || got.Chargers[0].Hung.Tag != "K-0001" {
		t.Errorf("%+v", got)
	}
	hang(c.flat("K-0002", 12.1, 0), "Bench A", 10)
	hang(c.flat("K-0003", 12.1, 0), "the old one", 10)
	got = c.bank()
	var elsewhere []string
	for _, h := range got.Elsewhere {
		elsewhere = append(elsewhere, h.Tag)
	}
	slices.Sort(elsewhere)
	if got.Chargers[0].Hung.Tag != "K-0002" || strings.Join(elsewhere, " ") != "K-0001 K-0003" {
		t.Errorf("on it %s, elsewhere %v", got.Chargers[0].Hung.Tag, elsewhere)
	}
}

// A hundred batteries, eighty of them waiting for twenty chargers that hold the others:
// what the bank, the floor and the clock take once all was worked out, and from nothing.
func BenchmarkBank(b *testing.B) {
	quiet(b)
	s := newBench(b, dbtest.Server(), nil)
	c := s.as(b, "First technician")
	for i := range 20 {
		c.charger(unitNamed(fmt.Sprint(i+1), "smart", 10, "rates", []float64{2, 4, 6, 10}))
	}
	for i := range 100 {
		job := c.flat(fmt.Sprintf("K-%04d", 1000+i), 11.9+0.003*float64(i), float64(i%7)*5)
		if i >= 20 {
			continue
		}
		c.call(
			"POST",
			"/api/jobs/"+job+"/readings",
			readAgo("on_charger", 95, map[string]any{"charger": fmt.Sprint(i + 1), "charger_kind": "smart", "amps": 2}),
		).into(
			200,
			nil,
		)
		for _, look := range []float64{65, 35, 5} {
			c.call(
				"POST",
				"/api/jobs/"+job+"/readings",
				readAgo("charge_check", look, map[string]any{"volts": 13.2 - look/400, "amps": 2, "warmth": "cold"}),
			).into(
				200,
				nil,
			)
		}
	}
	until := time.Now().Add(time.Minute)
	for c.bank().Pending > 0 && time.Now().Before(until) {
	}
	for name, path := range map[string]string{"bank": "/api/bank", "floor": "/api/jobs", "clock": "/api/clock"} {
		b.Run(name, func(b *testing.B) {
			for range b.N {
				c.call("GET", path, nil).into(200, nil)
			}
		})
	}
	b.Run("anew", func(b *testing.B) {
		for range b.N {
			other := httptest.NewServer(New(Config{Store: s.store, SignInsMinute: 1000, Now: time.Now, Web: built}))
			d := shop{other, s.store}.as(b, "First technician")
			d.call("GET", "/api/clock", nil).into(200, nil)
			other.Close()
		}
	})
}
