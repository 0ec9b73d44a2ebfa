package api

import (
	"fmt"
	"strings"
	"testing"

	"grapnel/internal/localdb/dbtest"
)

type listOf struct {
	All  int
	Jobs []struct{ ID, Tag, By string }

	Tally []struct {
		By           string
		Hands, Clock int
	}
}

// No list is cut without a word: its parts, put together, are the whole, and its counts
// are of the whole, whatever part is asked for. The clock has every rest there is.
func TestListsAreWhole(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	tech, lead := b.as(t, "First technician"), b.as(t, "First lead")
	for i := range 7 {
		id := tech.opened()
		tech.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.1)).into(200, nil)
		if i < 3 {
			tech.call("POST", "/api/jobs/"+id+"/rests", map[string]any{"id": newID(), "minutes": 60}).into(200, nil)
		}
	}
	lead.opened()
	for query, want := range map[string]string{
		"": "8 8", "?most=3": "3 8", "?most=3&from=6": "2 8", "?most=3&from=8": "0 8", "?from=100": "0 8", "?wait=clock&most=2": "2 3", "?wait=hands": "5 5",
		"?by=First+lead": "1 1", "?by=First+technician&wait=hands": "4 4", "?by=nobody": "0 0", "?closed=true": "0 0", "?find=k-0003": "1 1",
	} {
		var l listOf
		tech.call("GET", "/api/jobs"+query, nil).into(200, &l)
		if got := fmt.Sprint(len(l.Jobs), l.All); got != want {
			t.Errorf("%q: %s, want %s", query, got, want)
		}
		whole := "[{First lead 1 0} {First technician 4 3}]"
		if strings.Contains(query, "find") || strings.Contains(query, "closed") {
			continue
		}
		if got := fmt.Sprint(l.Tally); got != whole {
			t.Errorf("%q: tally %s", query, got)
		}
	}
	for _, query := range []string{"?most=0", "?most=1001", "?from=-1", "?wait=x"} {
		tech.call("GET", "/api/jobs"+query, nil).into(422, nil)
	}
	var once listOf
	seen := map[string]bool{}
	for from := 0; from < 8; from += 3 {
		tech.call("GET", fmt.Sprintf("/api/jobs?most=3&from=%d", from), nil).into(200, &once)
		for _, j := range once.Jobs {
			seen[j.ID] = true
		}
	}
	if len(seen) != 8 {
		t.Errorf("in parts there are %d", len(seen))
	}
	var clock struct{ Moments []struct{ Tag string } }
	tech.call("GET", "/api/clock", nil).into(200, &clock)
	if len(clock.Moments) != 3 {
		t.Errorf("the clock has %d", len(clock.Moments))
	}
}

// The label of another battery is not replaced before somebody has said that it is the
// same one; another one gets a tag of its own.
func TestKnownTagAsks(t *testing.T) {
	c := technician(t)
	c.opened()
	job := func(cca int) map[string]any {
		j := mower(newID())
		j["battery"] = map[string]any{
			"tag":       "k-0001",
			"chemistry": "flooded",
			"rating":    map[string]any{"cca": cca, "standard": "SAE", "ah_20h": 28},
		}
		return j
	}
	c.call("POST", "/api/jobs", job(300)).into(200, nil)
	other := job(230)
	var p struct{ Type, Detail string }
	c.call("POST", "/api/jobs", other).into(409, &p)
	if p.Type != knownTag || !strings.Contains(p.Detail, "Is it the same battery?") {
		t.Errorf("%+v", p)
	}
	var s sheetOf
	for range 2 { // and a repeat
		c.call("POST", "/api/jobs?battery=other", other).into(200, &s)
	}
	if s.Job.Battery.Tag != "K-0002" {
		t.Errorf("another battery is %s", s.Job.Battery.Tag)
	}
	c.call("POST", "/api/jobs?battery=same", job(230)).into(200, nil)
	var label struct{ Rating struct{ CCA float64 } }
	c.call("GET", "/api/batteries/K-0001", nil).into(200, &label)
	if label.Rating.CCA != 230 {
		t.Errorf("said to be the same, its label says %g", label.Rating.CCA)
	}
	move := job(300)
	delete(move, "id")
	move["version"] = 1
	c.call("PUT", "/api/jobs/"+s.Job.ID, move).into(409, &p)
	c.call("PUT", "/api/jobs/"+s.Job.ID+"?battery=same", move).into(200, nil)
}

// An import repeats with its id, whatever its first time settled; another document under
// that id is refused, and so is one the opened job was changed into.
func TestImportRepeats(t *testing.T) {
	c := technician(t)
	file := `{"format":"grapnel.case/1","battery":{"tag":"X-1","chemistry":"flooded","rating":{"cca":300}},"readings":[{"kind":"rest_voltage","volts":%g}]}`
	id := newID()
	var s sheetOf
	for range 3 {
		c.call("POST", "/api/cases?id="+id, fmt.Sprintf(file, 12.4)).into(200, &s)
	}
	if len(s.Readings) != 1 || s.Job.Battery.Tag != "X-1" {
		t.Errorf("%+v", s)
	}
	var p struct{ Type string }
	c.call("POST", "/api/cases?id="+id, fmt.Sprintf(file, 12.5)).into(409, &p)
	if p.Type != taken {
		t.Errorf("another document: %s", p.Type)
	}
}

// A closed job takes corrections only, by a lead, and says so.
func TestClosedJobSaysSo(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	tech, lead := b.as(t, "First technician"), b.as(t, "First lead")
	id := tech.opened()
	first := newID()
	tech.call("POST", "/api/jobs/"+id+"/readings", restReading(first, 12.4)).into(200, nil)
	tech.call("POST", "/api/jobs/"+id+"/close", nil).into(200, nil)
	fix := restReading(newID(), 12.6)
	fix["replaces"] = first
	for _, c := range []caller{tech, lead} {
		c.call("POST", "/api/jobs/"+id+"/rests", map[string]any{"id": newID(), "minutes": 60}).into(409, nil)
		c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.5)).into(409, nil)
	}
	var p struct{ Type, Detail string }
	tech.call("POST", "/api/jobs/"+id+"/readings", fix).into(409, &p)
	if p.Type != closed || !strings.Contains(p.Detail, "by a lead") {
		t.Errorf("%+v", p)
	}
	tech.call("POST", "/api/jobs/"+id+"/readings/"+first+"/withdraw", map[string]any{"id": newID()}).into(409, nil)
	lead.call("POST", "/api/jobs/"+id+"/readings", fix).into(200, nil)
	tech.call("POST", "/api/jobs/"+id+"/reopen", nil).into(200, nil)
	tech.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.5)).into(200, nil)
}

// Years no calendar of the shop has, ids in other clothes and parts of a minute are
// right, or the error names the field.
func TestTimesAndIDs(t *testing.T) {
	c := technician(t)
	id := c.opened()
	at := func(when string) map[string]any {
		r := restReading(newID(), 12.4)
		r["reading"].(map[string]any)["at"] = when
		return r
	}
	for when, status := range map[string]int{
		"1950-01-01T00:00:00Z": 200, "1949-12-31T23:59:59Z": 422, "2199-12-31T23:59:59Z": 200, "2200-01-01T00:00:00Z": 422, "2199-12-31T23:59:59-01:00": 422,
		"0000-01-01T00:00:00Z": 422, "0001-01-01T00:00:00Z": 422, "9999-12-31T23:59:59Z": 422, "10000-01-01T00:00:00Z": 422, "2026-01-31T09:41:00.123456789+02:00": 200,
	} {
		r := c.call("POST", "/api/jobs/"+id+"/readings", at(when))
		if r.status != status || status == 422 && !strings.Contains(string(r.body), "reading.at") {
			t.Errorf("%s: %d %.200s", when, r.status, r.body)
		}
	}
	upper := strings.ToUpper(id)
	var s sheetOf
	c.call("GET", "/api/jobs/"+upper, nil).into(200, &s)
	if s.Job.ID != id || len(s.Readings) != 3 {
		t.Errorf("in capitals it is %s with %d readings", s.Job.ID, len(s.Readings))
	}
	for _, odd := range []string{"{" + id + "}", "urn:uuid:" + id, strings.ReplaceAll(id, "-", ""), id + " ", "x"} {
		if r := c.call("GET", "/api/jobs/"+strings.NewReplacer("{", "%7B", "}", "%7D", " ", "%20").Replace(odd), nil); r.status != 422 ||
			!strings.Contains(string(r.body), "path.id") {
			t.Errorf("%q in the path: %d %.200s", odd, r.status, r.body)
		}
		r := restReading(odd, 12.4)
		if r := c.call("POST", "/api/jobs/"+id+"/readings", r); r.status != 422 || !strings.Contains(string(r.body), "body.id") {
			t.Errorf("%q in the body: %d %.200s", odd, r.status, r.body)
		}
	}
	fix := restReading(strings.ToUpper(newID()), 12.5)
	fix["replaces"] = strings.ToUpper(s.Readings[0].ID)
	for range 2 {
		c.call("POST", "/api/jobs/"+upper+"/readings", fix).into(200, &s)
	}
	if len(s.Readings) != 4 || s.Readings[0].ReplacedBy != strings.ToLower(fix["id"].(string)) {
		t.Errorf("corrected in capitals: %+v", s.Readings)
	}
	for _, minutes := range []float64{1.23456789, 7.5, 59.99999, 1.0 / 3 * 10} {
		rest := map[string]any{"id": newID(), "minutes": minutes}
		for range 2 {
			c.call("POST", "/api/jobs/"+id+"/rests", rest).into(200, nil)
		}
	}
	for minutes, status := range map[float64]int{0.99: 422, 1: 200, 2880: 200, 2880.01: 422} {
		c.call("POST", "/api/jobs/"+id+"/rests", map[string]any{"id": newID(), "minutes": minutes}).into(status, nil)
	}
}

// A change of a job that is not there is told as such, by every operation on one.
func TestNoSuchJob(t *testing.T) {
	c := technician(t)
	at := "/api/jobs/" + newID()
	change := mower("")
	delete(change, "id")
	change["version"] = 1
	for _, r := range []reply{c.call("GET", at, nil), c.call("PUT", at, change), c.call("POST", at+"/close", nil), c.call("POST", at+"/reopen", nil),
		c.call("POST", at+"/readings", restReading(newID(), 12.4)), c.call("POST", at+"/readings/"+newID()+"/withdraw", map[string]any{"id": newID()}),
		c.call("POST", at+"/preview", restReading(newID(), 12.4)), c.call("POST", at+"/rests", map[string]any{"id": newID(), "minutes": 5}), c.call("DELETE", at+"/rests", nil),
		c.call("GET", at+"/case", nil), c.call("GET", at+"/history", nil)} {
		if r.status != 404 && (r.status != 422 || !strings.HasSuffix(r.asked, "preview")) {
			t.Errorf("%s: %d %.200s", r.asked, r.status, r.body)
		}
	}
}

// Names are kept as they are seen.
func TestNamesAreClean(t *testing.T) {
	c := technician(t)
	j := mower(newID())
	j["customer"] = " Hall\u202e &  Sons\t"
	j["note"] = "since May\u0000\r\nslow "
	j["vehicle"].(map[string]any)["name"] = "Cafe\u0301 van \u200b"
	j["battery"].(map[string]any)["tag"] = " \u200eCafe\u0301-1 "
	var s struct {
		Job struct {
			Customer, Note string
			Vehicle        struct{ Name string }
			Battery        struct{ Tag string }
		}
	}
	c.call("POST", "/api/jobs", j).into(200, &s)
	if got := fmt.Sprintf("%q", s.Job); got != `{"Hall & Sons" "since May\nslow" {"Café van"} {"Café-1"}}` {
		t.Errorf("kept as %s", got)
	}
	c.call("GET", "/api/batteries/Cafe%CC%81-1", nil).into(200, nil)
	c.call("GET", "/api/batteries/Cafe-1", nil).into(404, nil)
}
