package api

import (
	"encoding/json"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/core/reading"
	"grapnel/core/station"
	"grapnel/internal/localdb/dbtest"
)

// Findings name readings by id: after a correction the new one, in a preview the
// one being entered, and never one that is not there.
func TestFindingsNameReadings(t *testing.T) {
	c := technician(t)
	id, volts, test := newID(), newID(), newID()
	var s sheetOf
	c.call("POST", "/api/jobs", mower(id)).into(200, nil)
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(volts, 12.24)).into(200, nil)
	c.call("POST", "/api/jobs/"+id+"/readings", loadReading(test, 9.9)).into(200, &s)
	rests := func(s sheetOf, code string) []string {
		for _, f := range s.Findings {
			if f.Code == code {
				return f.IDs
			}
		}
		return nil
	}
	if got := rests(s, "load_test.held_while_low"); !slices.Equal(got, []string{test}) {
		t.Errorf("the load test's line rests on %v", got)
	}
	fix := restReading(newID(), 12.64)
	fix["replaces"] = volts
	var p sheetOf
	c.call("POST", "/api/jobs/"+id+"/preview", map[string]any{"reading": fix["reading"], "replaces": volts}).into(200,
		&p)
	if got := rests(p, "rest_voltage.charge"); !slices.Equal(got, []string{"preview"}) ||
		p.station("rest_voltage").Taken[0] != "preview" {
		t.Errorf("a correction that is being entered: %v", got)
	}
	c.call("POST", "/api/jobs/"+id+"/readings", fix).into(200, &s)
	if got := rests(s, "rest_voltage.charge"); !slices.Equal(got, []string{fix["id"].(string)}) {
		t.Errorf("after the correction: %v", got)
	}
	if got := s.InEffect; !slices.Equal(got, []string{fix["id"].(string), test}) {
		t.Errorf("in effect, in the order taken: %v", got)
	}
	if got := s.station("rest_voltage").Taken; !slices.Equal(got, []string{fix["id"].(string)}) {
		t.Errorf("taken at the station: %v", got)
	}
}

// A case file says who took each reading and when, with the correction in the
// place of what it corrects.
func TestExportSaysWhoAndWhen(t *testing.T) {
	c := technician(t)
	id, volts := newID(), newID()
	c.call("POST", "/api/jobs", mower(id)).into(200, nil)
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(volts, 12.24)).into(200, nil)
	guest := loadReading(newID(), 9.9)
	guest["reading"].(map[string]any)["by"] = "Guest"
	guest["reading"].(map[string]any)["at"] = "2026-01-05T09:41:00Z"
	c.call("POST", "/api/jobs/"+id+"/readings", guest).into(200, nil)
	fix := restReading(newID(), 12.6)
	fix["replaces"] = volts
	c.call("POST", "/api/jobs/"+id+"/readings", fix).into(200, nil)
	var doc reading.Case
	c.call("GET", "/api/jobs/"+id+"/case", nil).into(200, &doc)
	if len(doc.Readings) != 2 {
		t.Fatalf("%d readings", len(doc.Readings))
	}
	first, second := doc.Readings[0], doc.Readings[1]
	if first.Or("volts", 0) != 12.6 || first.By != "First technician" || first.At == nil ||
		time.Since(*first.At) > time.Hour {
		t.Errorf("first: %+v", first)
	}
	if second.By != "Guest" || second.At.Format(time.RFC3339) != "2026-01-05T09:41:00Z" {
		t.Errorf("second: %+v", second)
	}
}

// The floor's order: a hazard first, then a rest that is over, then the longest
// open, then what rests.
func TestFloorOrder(t *testing.T) {
	now := time.Now()
	b := newBench(t, dbtest.Server(), func(c *Config) { c.Now = func() time.Time { return now } })
	c := b.as(t, "First technician")
	ids := map[string]string{}
	for _, name := range []string{"resting", "first opened", "opened later", "rest over", "hazard"} {
		ids[name] = newID()
		c.call("POST", "/api/jobs", mower(ids[name])).into(200, nil)
	}
	rest := func(name string, minutes float64) {
		c.call("POST", "/api/jobs/"+ids[name]+"/rests", map[string]any{"id": newID(), "minutes": minutes}).into(200,
			nil)
	}
	rest("resting", 60)
	rest("rest over", 5)
	c.call("POST", "/api/jobs/"+ids["hazard"]+"/readings", map[string]any{"id": newID(),
		"reading": map[string]any{"kind": "inspection", "found": []string{"leaking"}}}).
		into(200, nil)
	now = now.Add(10 * time.Minute)
	var list struct {
		Jobs []struct {
			ID string `json:"id"`
		} `json:"jobs"`
	}
	c.call("GET", "/api/jobs", nil).into(200, &list)
	for i, name := range []string{"hazard", "rest over", "first opened", "opened later", "resting"} {
		if list.Jobs[i].ID != ids[name] {
			t.Errorf("place %d is not the one %s", i+1, name)
		}
	}
}

// What is said of readings follows the person's scale, in every part of a sheet.
func TestSheetSpeaksFahrenheit(t *testing.T) {
	c := technician(t)
	c.call("PUT", "/api/session/preferences", map[string]any{"temperature": "F"}).into(200, nil)
	id := c.opened()
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.6)).into(200, nil)
	test := loadReading(newID(), 9.9)
	test["reading"].(map[string]any)["battery_c"] = 5
	r := c.call("POST", "/api/jobs/"+id+"/readings", test)
	r.into(200, nil)
	body := string(r.body)
	// 21 °C is 70 °F, 5 °C is 41 °F: arithmetic. The unit of the entry stays °C, which
	// the form converts.
	for _, want := range []string{"70 °F", "At 41 °F the published table"} {
		if !strings.Contains(body, want) {
			t.Errorf("nothing says %s", want)
		}
	}
	if i := strings.Index(body, " °C"); i >= 0 {
		t.Errorf("still in °C: …%s…", body[max(0, i-60):i+10])
	}
}

// The HTTP description holds the words that core holds: every kind of reading and
// every field of it, every vocabulary.
func TestDescriptionHoldsTheVocabularies(t *testing.T) {
	raw, err := json.Marshal(Describe())
	must(t, err)
	var doc struct {
		Components struct {
			Schemas map[string]struct {
				Properties map[string]struct {
					Enum []any `json:"enum"`
				} `json:"properties"`
			} `json:"schemas"`
		} `json:"components"`
	}
	must(t, json.Unmarshal(raw, &doc))
	words := func(schema, field string) []string {
		var out []string
		for _, w := range doc.Components.Schemas[schema].Properties[field].Enum {
			out = append(out, w.(string))
		}
		slices.Sort(out)
		return out
	}
	if got, want := words("Reading", "kind"), slices.Sorted(slices.Values(station.Kinds())); !slices.Equal(got, want) {
		t.Errorf("kinds %v, want %v", got, want)
	}
	for _, k := range station.Kinds() {
		s, _ := station.KindOf(k)
		for _, f := range s.Fields {
			if _, ok := doc.Components.Schemas["Reading"].Properties[f.Name]; !ok {
				t.Errorf("a reading has no %s", f.Name)
			}
		}
	}
	for schema, fields := range map[string][]string{"Vehicle": {"class", "fuel", "earth", "arrangement"},
		"Battery": {"chemistry", "caps", "terminals"}} {
		for _, f := range fields {
			want := reading.Vocabularies()[f].Codes()
			slices.Sort(want)
			if got := words(schema, f); !slices.Equal(got, want) {
				t.Errorf("%s.%s: %v, want %v", schema, f, got, want)
			}
		}
	}
}

// House rules are saved whole: one left out is refused, not set to nothing.
func TestRulesAreSavedWhole(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First lead")
	var r struct {
		Rules   map[string]any `json:"rules"`
		Version int            `json:"version"`
	}
	c.call("GET", "/api/rules", nil).into(200, &r)
	r.Rules["load_test_min_soc_pct"] = 70.0
	c.call("PUT", "/api/rules", map[string]any{"rules": r.Rules, "version": r.Version}).into(200, &r)
	if r.Rules["load_test_min_soc_pct"] != 70.0 || r.Rules["rest_minutes"] != 60.0 {
		t.Errorf("saved as %v", r.Rules)
	}
	delete(r.Rules, "rest_minutes")
	if got := c.call("PUT", "/api/rules", map[string]any{"rules": r.Rules, "version": r.Version}); got.status != 422 {
		t.Errorf("a rule left out: %d %s", got.status, got.body)
	}
}

// The cold entered with the last job is offered for the next for six hours, by the
// server's clock.
func TestChoicesGuessTheCold(t *testing.T) {
	var late time.Duration
	b := newBench(t, dbtest.Server(), func(c *Config) { c.Now = func() time.Time { return time.Now().Add(late) } })
	c := b.as(t, "First technician")
	c.call("POST", "/api/jobs", mower(newID())).into(200, nil)
	for _, hours := range []float64{0, 5.9, 6.1} {
		late = time.Duration(hours * float64(time.Hour))
		var choices struct {
			AmbientC *float64 `json:"ambient_c"`
		}
		c.call("GET", "/api/choices", nil).into(200, &choices)
		if (choices.AmbientC != nil) != (hours < 6) {
			t.Errorf("%g h later: %v", hours, choices.AmbientC)
		}
	}
}
