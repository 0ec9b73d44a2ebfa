package api

import (
	"encoding/json"
	"fmt"
	"maps"
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
	c.call("POST", "/api/jobs/"+id+"/readings", map[string]any{"id": newID(), "reading": map[string]any{"kind": "inspection", "found": []string{"clean"}}}).into(200, nil)
	return id
}

// Chargers are added, changed and retired, each once however often it is sent; a name is
// one charger's, and given again once it is retired; what is wrong is named. Another
// workshop has chargers of its own.
func TestChargers(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	if got := c.bank(); len(got.Chargers) != 0 || got.Waiting == nil {
		t.Fatalf("%+v", got)
	}
	ten := c.charger(unitNamed("10", "smart", 10, "rates", []float64{10, 2, 6, 2}, "volts", 14.8, "volts_low", 14.4, "where", "  rail "))
	two := map[string]any{"id": newID(), "unit": unitNamed("2", "taper", 10, "volts", 17)}
	for range 3 {
		c.call("POST", "/api/bank/chargers", two).into(200, nil)
	}
	got := c.bank()
	if len(got.Chargers) != 2 || got.Chargers[0].Unit["name"] != "2" || fmt.Sprint(got.Chargers[1].Unit["rates"]) != "[2 6 10]" || got.Chargers[1].Unit["where"] != "rail" {
		t.Errorf("%+v", got.Chargers)
	}
	two["unit"] = unitNamed("3", "taper", 10)
	c.call("POST", "/api/bank/chargers", two).into(409, nil)
	for what, bad := range map[string]struct {
		unit   map[string]any
		status int
		field  string
	}{
		"no name":         {unitNamed(" ", "smart", 4), 422, "name"},
		"no such kind":    {unitNamed("9", "magic", 4), 422, "kind"},
		"no amps":         {unitNamed("9", "smart", 0), 422, "amps"},
		"far too many":    {unitNamed("9", "smart", 501), 422, "amps"},
		"volts of a cell": {unitNamed("9", "smart", 4, "volts", 2.4), 422, "volts"},
		"volts of a wall": {unitNamed("9", "smart", 4, "volts", 230), 422, "volts"},
		"more by switch":  {unitNamed("9", "manual", 4, "rates", []float64{5}), 422, "rates[0]"},
		"13 rates":        {unitNamed("9", "manual", 40, "rates", []float64{1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13}), 422, "rates"},
		"a long name":     {unitNamed(strings.Repeat("9", 21), "smart", 4), 422, "name"},
		"another field":   {unitNamed("9", "smart", 4, "watts", 7), 422, "watts"},
		"a name in use":   {unitNamed("10", "smart", 4), 409, ""},
	} {
		r := c.call("POST", "/api/bank/chargers", map[string]any{"id": newID(), "unit": bad.unit})
		var p problemAnswer
		r.into(bad.status, &p)
		named := func(e struct {
			Location string `json:"location"`
			Message  string `json:"message"`
		}) bool {
			return strings.HasSuffix(e.Location, bad.field)
		}
		if bad.field != "" && !slices.ContainsFunc(p.Errors, named) && !strings.Contains(p.Detail, "kind") {
			t.Errorf("%s: %s", what, r.body)
		}
	}
	change := map[string]any{"version": 1, "unit": unitNamed("ten", "smart", 10)}
	for range 2 {
		c.call("PUT", "/api/bank/chargers/"+ten, change).into(200, nil)
	}
	change["unit"] = unitNamed("eleven", "smart", 10)
	c.call("PUT", "/api/bank/chargers/"+ten, change).into(409, nil)
	other := b.as(t, "Second technician")
	if got := other.bank(); len(got.Chargers) != 0 {
		t.Errorf("another workshop's: %+v", got)
	}
	other.call("PUT", "/api/bank/chargers/"+ten, map[string]any{"version": 2, "unit": unitNamed("x", "smart", 10)}).into(404, nil)
	// Retired, its name is given again, and it comes back only under another.
	c.call("PUT", "/api/bank/chargers/"+ten, map[string]any{"version": 2, "unit": unitNamed("ten", "smart", 10), "retired": true}).into(200, nil)
	again := c.charger(unitNamed("TEN", "smart", 4))
	c.call("PUT", "/api/bank/chargers/"+ten, map[string]any{"version": 3, "unit": unitNamed("ten", "smart", 10)}).into(409, nil)
	c.call("PUT", "/api/bank/chargers/"+ten, map[string]any{"version": 3, "unit": unitNamed("old ten", "smart", 10)}).into(200, nil)
	if got := c.bank(); len(got.Chargers) != 3 || again == "" {
		t.Errorf("%+v", got.Chargers)
	}
	// What was changed stands in the history.
	var h struct {
		Changes []struct{ What, About string }
	}
	b.as(t, "First lead").call("GET", "/api/history?only=changes", nil).into(200, &h)
	var whats []string
	for _, one := range h.Changes {
		if strings.HasPrefix(one.What, "charger") {
			whats = append(whats, one.What+" "+one.About)
		}
	}
	if got := strings.Join(whats, ", "); got != "charger_changed old ten, charger_added TEN, charger_retired ten, charger_changed ten, charger_added 2, charger_added 10" {
		t.Errorf("history: %s", got)
	}
}

// A workshop has so many chargers and no more.
func TestMostChargers(t *testing.T) {
	c := technician(t)
	for i := range 200 {
		c.charger(unitNamed(fmt.Sprint(i), "smart", 4))
	}
	c.call("POST", "/api/bank/chargers", map[string]any{"id": newID(), "unit": unitNamed("200", "smart", 4)}).into(409, nil)
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
	if len(s.Readings) != 3 || h == nil || h.Tag != "K-0142" || h.Amps != 2 || h.Full == nil || h.SOC == nil || h.Sign != "ok" || len(got.Waiting) != 0 ||
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
	c.call("PUT", "/api/bank/chargers/"+one, map[string]any{"version": 1, "unit": unitNamed("1", "smart", 10), "retired": true}).into(409, nil)
	c.call("PUT", "/api/bank/chargers/"+one, map[string]any{"version": 1, "unit": unitNamed("7", "smart", 10)}).into(409, nil)
	// What waits behind it hangs once it is full.
	if got := c.bank(); got.Waiting[0].After != "K-0142" || !got.Waiting[0].From.After(time.Now().Add(time.Hour)) {
		t.Errorf("%+v", got.Waiting[0])
	}
	// Off, and the charger is free.
	c.call("POST", "/api/jobs/"+job+"/readings", map[string]any{"id": newID(), "reading": map[string]any{"kind": "charged", "ended": "stopped"}}).into(200, nil)
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
	if last := doc.Readings[len(doc.Readings)-1]; last["volts"] != 14.4 || last["amps"] != 6.0 || last["charger"] != "1" || last["place"] != "bench" {
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
	c.call("POST", "/api/jobs/"+second+"/readings", map[string]any{"id": newID(), "reading": map[string]any{"kind": "inspection", "found": []string{"leaking"}}}).into(200, nil)
	three := c.charger(unitNamed("3", "smart", 4))
	r = c.call("POST", "/api/bank/hang", map[string]any{"id": newID(), "charger_id": three, "job_id": second})
	if r.into(409, nil); !strings.Contains(string(r.body), unsafe) || !strings.Contains(string(r.body), "leak") {
		t.Errorf("%s", r.body)
	}
	// Nobody hangs a battery on the chargers of another workshop.
	b.as(t, "Second technician").call("POST", "/api/bank/hang", map[string]any{"id": newID(), "charger_id": three, "job_id": second}).into(404, nil)
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
	if fmt.Sprint(statuses) != "[200 409 409 409 409 409]" || got.Chargers[0].Hung == nil || len(got.Elsewhere) != 0 || len(got.Waiting) != 5 {
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
		c.call("POST", "/api/jobs/"+job+"/readings", readAgo("on_charger", minutesAgo, map[string]any{"charger": charger, "charger_kind": "smart", "amps": 2.5})).into(200, nil)
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
	other := httptest.NewServer(New(Config{Store: b.store, SignInsMinute: 1000, Now: func() time.Time { return now }, Web: built}))
	defer other.Close()
	for _, c := range []caller{lead, shop{other, b.store}.as(t, "First lead")} {
		if m := moments(c); len(m.Moments) != 0 {
			t.Errorf("done: %+v", m)
		}
	}
	say(map[string]any{}).into(200, nil)
	if m := moments(lead); len(m.Moments) != 1 {
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

// Before it hangs anywhere: what the charge would do on a charger of the shop or any
// other, at each rate, and what forbids it.
func TestPlanOfACharge(t *testing.T) {
	c := technician(t)
	one := c.charger(unitNamed("1", "smart", 10, "rates", []float64{2, 6, 10}))
	job := c.flat("K-0001", 12.1, 0)
	type planOf struct {
		Allowed  bool
		Amps     float64
		Full     float64 `json:"hours_to_full"`
		House    string  `json:"house_rate"`
		Rates    []struct{ Code string }
		Connect  []struct{ Place, Side string }
		Refusals []struct{ Code, Text string }
		Warnings []struct{ Code string }
		Curve    []map[string]float64
	}
	plan := func(query string, status int) (p planOf) {
		t.Helper()
		r := c.call("GET", "/api/jobs/"+job+"/charge/plan?"+query, nil)
		if r.into(status, nil); status == 200 {
			must(t, json.Unmarshal(r.body, &p))
		}
		return p
	}
	p := plan("charger="+one, 200)
	if !p.Allowed || p.Amps != 2 || p.House != "tenth" || len(p.Rates) != 2 || len(p.Connect) != 5 || len(p.Curve) < 50 || p.Full <= 0 {
		t.Errorf("%+v", p)
	}
	fast := plan("charger="+one+"&rate=fast", 200)
	six := plan("charger="+one+"&amps=6", 200)
	own := plan("kind=manual&amps=6&in_vehicle=true", 200)
	if fast.Amps != 2 && fast.Amps != 6 || six.Amps != 6 || six.Full >= p.Full || own.Connect[1].Side != "live" || own.Connect[2].Side != "earthed" {
		t.Errorf("fast %g A, six %g A in %g h, two in %g h, %+v", fast.Amps, six.Amps, six.Full, p.Full, own.Connect)
	}
	for _, query := range []string{"", "kind=manual", "amps=6", "kind=magic&amps=6", "kind=smart&amps=501", "charger=" + one + "&rate=warp"} {
		plan(query, 422)
	}
	plan("charger="+newID(), 404)
	c.call("POST", "/api/jobs/"+job+"/readings", map[string]any{"id": newID(), "reading": map[string]any{"kind": "inspection", "found": []string{"case_bulged"}}}).into(200, nil)
	if p := plan("charger="+one, 200); p.Allowed || p.Refusals[0].Code != "case_bulged" || len(p.Curve) != 0 {
		t.Errorf("%+v", p)
	}
	bare := newID()
	m := mower(bare)
	m["battery"] = map[string]any{"chemistry": "flooded", "rating": map[string]any{}}
	c.call("POST", "/api/jobs", m).into(200, nil)
	job = bare
	plan("kind=smart&amps=4", 422)
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
	for _, minutes := range []float64{0, -5, 1441} {
		c.call("POST", "/api/demo/clock", map[string]any{"minutes": minutes}).into(422, nil)
	}
	b.nobody(t).call("POST", "/api/demo/clock", map[string]any{"minutes": 30}).into(401, nil)
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
		c.call("POST", "/api/jobs/"+job+"/readings", readAgo("on_charger", 95, map[string]any{"charger": fmt.Sprint(i + 1), "charger_kind": "smart", "amps": 2})).into(200, nil)
		for _, look := range []float64{65, 35, 5} {
			c.call("POST", "/api/jobs/"+job+"/readings", readAgo("charge_check", look, map[string]any{"volts": 13.2 - look/400, "amps": 2, "warmth": "cold"})).into(200, nil)
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
