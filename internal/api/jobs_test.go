package api

import (
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"grapnel/core/document"
	"grapnel/core/station"
	"grapnel/internal/localdb/dbtest"
)

// The first job, end to end over HTTP: opened, read, judged, corrected, rested,
// handed over, found again.
func TestFirstJob(t *testing.T) {
	c := technician(t)
	id, volts, test := newID(), newID(), newID()
	var s sheetOf
	c.call("POST", "/api/jobs", mower(id)).into(200, &s)
	if s.Job.Battery.Tag != "K-0001" || s.Verdict != "more_readings" ||
		s.station("strength").Advice.Ways[0].Set.Value != 150 || s.station("strength").Advice.Level != "act" ||
		s.At != "rest_voltage" {
		t.Fatalf("a new job: %+v", s)
	}
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(volts, 12.24)).into(200, &s)
	if s.Verdict != "charge_and_retest" || s.SOC == nil || s.SOC.Best < 45 || s.SOC.Best > 56 ||
		s.station("strength").Advice.Head == "" || s.At != "look" {
		t.Fatalf("half flat: %+v", s)
	}
	c.call("POST", "/api/jobs/"+id+"/readings", loadReading(test, 10.4)).into(200, &s)
	if s.Verdict != "charge_and_retest" || len(s.Readings) != 2 {
		t.Fatalf("an unfair load test must be kept and not judged: %+v", s)
	}

	// The volts were misread: the correction stands, the old one stays.
	fix := restReading(newID(), 12.64)
	fix["replaces"] = volts
	c.call("POST", "/api/jobs/"+id+"/readings", fix).into(200, &s)
	if len(s.Readings) != 3 || s.Readings[0].ReplacedBy != fix["id"] || s.Verdict != "look_elsewhere" {
		t.Fatalf("after the correction: %+v", s)
	}
	fix["id"] = newID()
	c.call("POST", "/api/jobs/"+id+"/readings", fix).into(409, nil)

	c.call("POST", "/api/jobs/"+id+"/rests", map[string]any{"id": newID(), "minutes": 60}).into(200, &s)
	if s.Rest == nil || s.Wait.For != "rest" || time.Until(s.Rest.EndsAt) < 59*time.Minute {
		t.Fatalf("resting: %+v", s)
	}
	var clock struct {
		Moments []struct {
			JobID string `json:"job_id"`
		} `json:"moments"`
	}
	c.call("GET", "/api/clock", nil).into(200, &clock)
	if len(clock.Moments) != 1 || clock.Moments[0].JobID != id {
		t.Errorf("the clock: %+v", clock)
	}
	s = sheetOf{}
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.62)).into(200, &s)
	if s.Rest != nil {
		t.Error("the rest goes on after the reading it was for")
	}

	c.call("POST", "/api/jobs/"+id+"/close", nil).into(200, &s)
	if s.Job.Closed == nil || s.Wait.For != "done" {
		t.Errorf("closed: %+v", s)
	}
	var list struct {
		Jobs []struct {
			ID string `json:"id"`
		} `json:"jobs"`
	}
	for path, want := range map[string]int{"/api/jobs": 0, "/api/jobs?closed=true&find=mower": 1,
		"/api/jobs?closed=true&find=k-00": 1, "/api/jobs?closed=true&find=nobody": 0} {
		c.call("GET", path, nil).into(200, &list)
		if len(list.Jobs) != want {
			t.Errorf("%s lists %d, want %d", path, len(list.Jobs), want)
		}
	}
	c.call("POST", "/api/jobs/"+id+"/reopen", nil).into(200, nil)
	c.call("GET", "/api/jobs", nil).into(200, &list)
	if len(list.Jobs) != 1 {
		t.Errorf("reopened: %d listed", len(list.Jobs))
	}
}

// A double tap, and a retry after a lost reply, make one row.
func TestSavingTwice(t *testing.T) {
	c := technician(t)
	id := newID()
	job, reading := mower(id), restReading(newID(), 12.4)
	var s sheetOf
	for range 3 {
		c.call("POST", "/api/jobs", job).into(200, &s)
	}
	var wg sync.WaitGroup
	for range 8 {
		wg.Add(1)
		go func() {
			defer wg.Done()
			if r := c.call("POST", "/api/jobs/"+id+"/readings", reading); r.status != 200 {
				t.Errorf("double tap: %d %s", r.status, r.body)
			}
		}()
	}
	wg.Wait()
	c.call("GET", "/api/jobs/"+id, nil).into(200, &s)
	if len(s.Readings) != 1 || s.Job.Battery.Tag != "K-0001" {
		t.Errorf("%d readings, tag %s", len(s.Readings), s.Job.Battery.Tag)
	}
	other := mower(id)
	other["customer"] = "another"
	c.call("POST", "/api/jobs", other).into(409, nil)
}

// Everything about a job answers 404 to another workshop.
func TestOtherWorkshopIsRefused(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	mine, theirs := b.as(t, "First technician"), b.as(t, "Second lead")
	id := mine.opened()
	reading := restReading(newID(), 12.4)
	change := mower(id)
	delete(change, "id")
	change["version"] = 1
	for _, try := range []struct {
		method, path string
		body         any
	}{
		{"GET", "", nil}, {"PUT", "", change}, {"GET", "/case", nil}, {"POST", "/readings", reading},
		{"POST", "/preview", map[string]any{"reading": reading["reading"]}}, {"POST", "/rests",
			map[string]any{"id": newID(), "minutes": 60}},
		{"POST", "/close", nil}, {"POST", "/reopen", nil},
	} {
		theirs.call(try.method, "/api/jobs/"+id+try.path, try.body).into(404, nil)
	}
	theirs.call("GET", "/api/batteries/K-0001", nil).into(404, nil)
	var list struct {
		Jobs []any `json:"jobs"`
	}
	theirs.call("GET", "/api/jobs", nil).into(200, &list)
	if len(list.Jobs) != 0 {
		t.Errorf("they list %d of ours", len(list.Jobs))
	}
	var s sheetOf
	mine.call("GET", "/api/jobs/"+id, nil).into(200, &s)
	if s.Job.Closed != nil || len(s.Readings) != 0 || s.Rest != nil || s.Job.Version != 1 {
		t.Errorf("it was touched: %+v", s)
	}
}

// Each bad input names the field, says what is wrong and what to do, and saves
// nothing.
func TestBadInput(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	id := c.opened()
	spoiled := func(spoil func(map[string]any)) map[string]any {
		j := mower(newID())
		spoil(j)
		return j
	}
	rating := func(j map[string]any) map[string]any {
		return j["battery"].(map[string]any)["rating"].(map[string]any)
	}
	for _, try := range []struct {
		name, path string
		body       any
		status     int
		at, says   string
	}{
		{"125 V", "/api/jobs/" + id + "/readings", restReading(newID(), 125), 422, "reading.volts",
			"Did the meter show 12.50?"},
		{"-5 V", "/api/jobs/" + id + "/readings", restReading(newID(), -5), 422, "reading.volts", "leads are swapped"},
		{"twelve", "/api/jobs/" + id + "/readings", restReading(newID(), "twelve"), 422, "reading.volts",
			`"twelve" is not a number`},
		{"no volts", "/api/jobs/" + id + "/readings", map[string]any{"id": newID(),
			"reading": map[string]any{"kind": "rest_voltage"}}, 422, "reading.volts", "missing"},
		{"CCA 0", "/api/jobs", spoiled(func(j map[string]any) { rating(j)["cca"] = 0 }), 422, "battery.rating.cca",
			"5 to 3000 A"},
		{"CCA abc", "/api/jobs", spoiled(func(j map[string]any) { rating(j)["cca"] = "abc" }), 422,
			"battery.rating.cca", `"abc" is not a number`},
		{"wrong date", "/api/jobs",
			spoiled(func(j map[string]any) { j["battery"].(map[string]any)["made"] = "2022-13" }), 422, "battery.made", "2022-03"},
		{"too hot", "/api/jobs",
			spoiled(func(j map[string]any) { j["conditions"] = map[string]any{"battery_c": 400} }), 422, "conditions.battery_c", "-50 to 70"},
		{"24 V single", "/api/jobs",
			spoiled(func(j map[string]any) { j["vehicle"].(map[string]any)["system_volts"] = 24 }), 422, "vehicle.system_volts", "series"},
		{"unknown field", "/api/jobs", spoiled(func(j map[string]any) { j["colour"] = "red" }), 422, "colour",
			"unexpected"},
		{"unknown complaint", "/api/jobs", spoiled(func(j map[string]any) { j["complaint"] = []string{"smells"} }),
			422, "complaint[0]", "use one of"},
		{"id not a UUID", "/api/jobs", spoiled(func(j map[string]any) { j["id"] = "7" }), 422, "id", "uuid"},
		{"broken JSON", "/api/jobs", `{"id": `, 400, "", "not a document that can be read"},
		{"huge number", "/api/jobs/" + id + "/readings",
			`{"id":"` + newID() + `","reading":{"kind":"rest_voltage","volts":1e999}}`, 400, "", "1e999"},
		{"case: broken JSON", "/api/cases?id=" + newID(), `{"format": "grapnel.case/1",`, 422, "body", "cut off"},
		{"case: unknown field", "/api/cases?id=" + newID(),
			`{"format":"grapnel.case/1","battery":{"chemistry":"agm","size":3},"readings":[]}`, 422, "battery.size", "unknown field"},
		{"case: 125 V", "/api/cases?id=" + newID(),
			`{"format":"grapnel.case/1","battery":{"chemistry":"agm"},"readings":[{"kind":"rest_voltage","volts":125}]}`, 422, "readings[0].volts", "outside"},
		{"50 MB", "/api/cases?id=" + newID(), strings.Repeat(" ", 50<<20), 413, "", "This is 52.4 MB; at most 1 MB"},
	} {
		t.Run(try.name, func(t *testing.T) {
			r := c.call("POST", try.path, try.body)
			var p problemAnswer
			r.into(try.status, &p)
			if got := r.header.Get("Content-Type"); got != "application/problem+json" {
				t.Errorf("content type %s", got)
			}
			if p.Detail == "" {
				t.Errorf("no detail: %s", r.body)
			}
			if try.at == "" {
				if !strings.Contains(p.Detail, try.says) {
					t.Errorf("want %q in %q", try.says, p.Detail)
				}
				return
			}
			for _, e := range p.Errors {
				if strings.HasSuffix(e.Location, try.at) && strings.Contains(e.Message, try.says) {
					return
				}
			}
			t.Errorf("want %q at %q: %s", try.says, try.at, r.body)
		})
	}
	var s sheetOf
	c.call("GET", "/api/jobs/"+id, nil).into(200, &s)
	if n, err := b.store.CountJobs(t.Context(), mustWorkshop(t, b)); err != nil || n != 1 || len(s.Readings) != 0 {
		t.Errorf("something was half saved: %d jobs, %d readings, %v", n, len(s.Readings), err)
	}
}

func mustWorkshop(t *testing.T, b shop) string {
	t.Helper()
	w, err := b.store.WorkshopNamed(t.Context(), "First")
	must(t, err)
	return w.ID
}

// A preview says what a reading would mean and keeps nothing; on a positive
// earth the words for the posts change sides.
func TestPreviewAndEarth(t *testing.T) {
	c := technician(t)
	id := newID()
	job := mower(id)
	job["vehicle"] = map[string]any{"class": "tractor", "system_volts": 6, "earth": "positive"}
	var s sheetOf
	c.call("POST", "/api/jobs", job).into(200, &s)
	if s.Plus.Role != "earthed" {
		t.Errorf("positive earth: the + post is %s", s.Plus.Role)
	}
	preview := map[string]any{"reading": restReading("", 6.1)["reading"]}
	var j sheetOf
	c.call("POST", "/api/jobs/"+id+"/preview", preview).into(200, &j)
	if j.Verdict != "charge_and_retest" {
		t.Errorf("preview of 6.1 V on a 6 V battery: %s", j.Verdict)
	}
	preview["reading"] = restReading("", -6.1)["reading"]
	if r := c.call("POST", "/api/jobs/"+id+"/preview", preview); r.status != 422 ||
		!strings.Contains(string(r.body), "earthed one on this vehicle") {
		t.Errorf("swapped leads on a positive earth: %d %s", r.status, r.body)
	}
	c.call("GET", "/api/jobs/"+id, nil).into(200, &s)
	if len(s.Readings) != 0 {
		t.Error("the preview was saved")
	}
}

// A change of details is judged against the readings and refused when stale.
func TestChangeDetails(t *testing.T) {
	c := technician(t)
	id := newID()
	var s sheetOf
	c.call("POST", "/api/jobs", mower(id)).into(200, &s)
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.6)).into(200, nil)
	change := mower("")
	delete(change, "id")
	change["version"] = s.Job.Version
	change["note"] = "really the other mower"
	c.call("PUT", "/api/jobs/"+id, change).into(200, &s)
	if s.Job.Note != "really the other mower" || s.Job.Battery.Tag != "K-0001" || s.Job.Version != 2 {
		t.Errorf("changed to %+v", s.Job)
	}
	c.call("PUT", "/api/jobs/"+id, change).into(200, nil) // a repeat, whose first answer was lost
	change["note"] = "from a stale sheet"
	c.call("PUT", "/api/jobs/"+id, change).into(409, nil)
	change["version"] = 2
	change["vehicle"] = map[string]any{"class": "classic", "system_volts": 6}
	if r := c.call("PUT", "/api/jobs/"+id, change); r.status != 422 ||
		!strings.Contains(string(r.body), "6 V battery") {
		t.Errorf("12.6 V cannot stand on a 6 V battery: %d %s", r.status, r.body)
	}
}

// Every word of every field of every kind of reading is taken, as core takes it:
// kinds may call different things by one name.
func TestEveryWordOfEveryKind(t *testing.T) {
	c := newBench(t, dbtest.Server(), nil).as(t, "First lead")
	id := c.opened()
	tried := 0
	for _, code := range station.Kinds() {
		kind, _ := station.KindOf(code)
		for _, f := range kind.Fields {
			terms := f.Words.Codes()
			if len(terms) == 0 {
				terms = []string{""}
			}
			for _, word := range terms {
				r := map[string]any{"kind": code}
				for _, other := range kind.Fields {
					if other.Need || other.Name == f.Name {
						r[other.Name] = valueOf(other, "")
					}
				}
				r[f.Name] = valueOf(f, word)
				tried++
				if answer := c.call("POST", "/api/jobs/"+id+"/preview", map[string]any{"reading": r}); answer.status != 200 {
					t.Errorf("%v: %d %s", r, answer.status, answer.body)
				}
			}
		}
	}
	if tried < 60 {
		t.Errorf("tried only %d", tried)
	}
}

// valueOf is something that may stand in a field: the word, or its first, or a
// figure as the field's example shows one.
func valueOf(f station.Field, word string) any {
	if codes := f.Words.Codes(); word == "" && len(codes) > 0 {
		word = codes[0]
	}
	switch {
	case word != "" && f.Shape.Kind == "list":
		return []string{word}
	case word != "":
		return word
	case f.Shape.Kind == "list":
		return []float64{1.25, 1.25, 1.25, 1.25, 1.25, 1.25}
	case f.Shape.Kind == document.Flag().Kind:
		return true
	case f.Shape.Kind == "text":
		return "in words"
	case f.Shape.Kind == "date":
		return "2027-01-15"
	case f.Example != "":
		v, _ := strconv.ParseFloat(f.Example, 64)
		return v
	}
	return max(f.Shape.Min, min(f.Shape.Max, 10))
}
