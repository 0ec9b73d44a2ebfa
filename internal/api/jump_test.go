package api

import (
	"strings"
	"testing"
	"time"

	"grapnel/internal/localdb/dbtest"
)

// planOf is what the tests look at of a plan.
type planOf struct {
	Allowed  bool   `json:"allowed"`
	Starts   string `json:"starts"`
	Answer   string `json:"answer"`
	About    string `json:"about"`
	Refusals []struct {
		Code string `json:"code"`
	} `json:"refusals"`
	Reached struct {
		Best  float64 `json:"best"`
		Needs float64 `json:"needs"`
	} `json:"reached"`
	Connect []struct {
		Clamp int    `json:"clamp"`
		Place string `json:"place"`
	} `json:"connect"`
	Cautions []struct {
		Text string `json:"text"`
	} `json:"cautions"`
}

func (p planOf) last() (place string) {
	for _, a := range p.Connect {
		if a.Clamp > 0 {
			place = a.Place
		}
	}
	return place
}

func aCall(soc float64, hazards ...string) map[string]any {
	return map[string]any{
		"format": "grapnel.jump_request/1",
		"flat": map[string]any{
			"vehicle": map[string]any{"class": "van", "fuel": "diesel"},
			"battery": map[string]any{"chemistry": "agm",
				"rating": map[string]any{
					"cca":    720,
					"ah_20h": 80,
				}},
			"soc_pct":   soc,
			"battery_c": -5,
			"engine":    map[string]any{"litres": 2.2},
			"hazards":   append([]string{}, hazards...),
		},
		"source": map[string]any{"kind": "pack", "peak_amps": 1500},
	}
}

// A call from the roadside is planned from its document; what is wrong with one is named
// with its place; nobody plans who is not signed in.
func TestJumpCall(t *testing.T) {
	c := technician(t)
	var p planOf
	c.call("POST", "/api/jump", aCall(20)).into(200, &p)
	if !p.Allowed || p.Answer == "" || p.Reached.Needs < 80 || p.last() != "metal" || !strings.Contains(p.About, "°C") {
		t.Errorf("%+v", p)
	}
	p = planOf{}
	c.call("POST", "/api/jump", aCall(20, "leaking", "clear_eye")).into(200, &p)
	if p.Allowed || len(p.Refusals) != 2 || len(p.Connect) != 0 {
		t.Errorf("%+v", p)
	}
	bad := aCall(120)
	var problem struct {
		Errors []struct{ Location, Message string } `json:"errors"`
	}
	c.call("POST", "/api/jump", bad).into(422, &problem)
	if len(problem.Errors) == 0 || !strings.Contains(problem.Errors[0].Location, "flat.soc_pct") {
		t.Errorf("%+v", problem)
	}
	c.call("POST", "/api/jump", map[string]any{"format": "grapnel.jump_request/1"}).into(422, nil)
	c.call("POST", "/api/jump?job="+newID(), aCall(20)).into(404, nil)
	c.call("POST", "/api/jump?job=nothing", aCall(20)).into(422, nil)
	// In the reader's scale.
	c.call("PUT", "/api/session/preferences", map[string]any{"temperature": "F", "theme": "system"}).into(200, nil)
	c.call("POST", "/api/jump", aCall(20)).into(200, &p)
	if !strings.Contains(p.About, "°F") {
		t.Error(p.About)
	}
}

// Of a job its sheet says what it knows, and its hazards refuse; the kit is the house's.
func TestJumpOfAJob(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	id := newID()
	var s sheetOf
	c.call("POST", "/api/jobs", mower(id)).into(200, &s)
	pack := map[string]any{"source": map[string]any{"kind": "pack", "peak_amps": 400}}
	c.call(
		"POST",
		"/api/jobs/"+id+"/readings",
		readAgo(
			"rest_voltage",
			30,
			map[string]any{"volts": 11.9, "minutes_since_charge": 600, "surface_charge": "rested"},
		),
	).into(200, &s)
	var p planOf
	c.call("POST", "/api/jump?job="+id, pack).into(200, &p)
	if !p.Allowed || p.Starts != "yes" || !strings.Contains(p.About, "flat") {
		t.Errorf("%+v", p)
	}
	c.call("POST", "/api/jobs/"+id+"/readings", readAgo("inspection", 20, map[string]any{"found": []string{"case_cracked"}})).
		into(200, &s)
	p = planOf{}
	c.call("POST", "/api/jump?job="+id, pack).into(200, &p)
	if p.Allowed || p.Refusals[0].Code != "case_cracked" {
		t.Errorf("%+v", p)
	}
	var kit struct {
		States, Sources, Sizes, Hazards []map[string]any
		ClampOn                         string `json:"clamp_on"`
		PackFirst                       bool   `json:"pack_first"`
	}
	c.call("GET", "/api/jump", nil).into(200, &kit)
	if len(kit.States) < 3 || len(kit.Sources) < 5 || len(kit.Hazards) < 7 || kit.ClampOn != "body" || kit.PackFirst {
		t.Errorf("%+v", kit)
	}
	b.as(t, "Second technician").call("POST", "/api/jump?job="+id, pack).into(404, nil)
	b.nobody(t).call("POST", "/api/jump", aCall(20)).into(401, nil)
}

// The minutes on the leads are on the shop's clock, and call to try it.
func TestMinutesOnTheLeads(t *testing.T) {
	c := technician(t)
	id := newID()
	var s sheetOf
	c.call("POST", "/api/jobs", mower(id)).into(200, &s)
	c.call("POST", "/api/jobs/"+id+"/rests", map[string]any{"id": newID(), "kind": "jump", "minutes": 6}).into(200, &s)
	var clock struct {
		Moments []struct {
			JobID string    `json:"job_id"`
			Kind  string    `json:"kind"`
			Word  string    `json:"word"`
			At    time.Time `json:"at"`
		} `json:"moments"`
	}
	c.call("GET", "/api/clock", nil).into(200, &clock)
	for _, m := range clock.Moments {
		if m.JobID == id {
			if m.Kind != "jump" || m.Word != "try it" || time.Until(m.At) > 6*time.Minute || time.Until(m.At) < 5*time.Minute {
				t.Errorf("%+v", m)
			}
			return
		}
	}
	t.Errorf("it is not on the clock: %+v", clock.Moments)
}
