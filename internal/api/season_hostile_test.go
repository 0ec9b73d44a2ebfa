package api

import (
	"strings"
	"testing"

	"grapnel/core/season"
	"grapnel/internal/localdb/dbtest"
	"grapnel/internal/store"
)

// Bodies made to hurt are refused in words, and the server goes on.
func TestHostileSeason(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First lead")
	id := newID()
	c.call("POST", "/api/season/"+id, stands("M-1", -5, 100, "")).into(200, nil)
	deep := strings.Repeat("[", 10_000)
	for name, r := range map[string]reply{
		"nested":              c.call("POST", "/api/season/plan", deep),
		"nothing":             c.call("POST", "/api/season/plan", "{}"),
		"a season of years":   c.call("POST", "/api/season/"+newID(), stands("M-2", -3000, 3000, "")),
		"no date":             c.call("POST", "/api/season/"+newID(), strings.Replace(stands("M-2", 0, 9, ""), day(0), "9999-99-99", 1)),
		"no such id":          c.call("POST", "/api/season/nonsense", stands("M-2", 0, 100, "")),
		"no battery there is": c.call("POST", "/api/season/"+newID(), strings.Replace(stands("M-2", 0, 100, ""), `"cca":300,"ah_20h":28`, `"cca":3000,"ah_20h":1`, 1)),
		"and in a table":      c.call("POST", "/api/season/csv", "chemistry,cca,ah_20h\nagm,3000,1\n", "Content-Type", "text/csv"),
		"huge amps":           c.call("POST", "/api/season/"+newID(), stands("M-2", 0, 100, `,"maintainer":{"kind":"maintainer","amps":1e308}`)),
		"a table of commas":   c.call("POST", "/api/season/csv", "chemistry\n"+strings.Repeat(",", 1<<19), "Content-Type", "text/csv"),
		"weather of commas":   c.call("POST", "/api/season/weather/csv", strings.Repeat(",\n", 1<<18), "Content-Type", "text/csv"),
		"months of NaN":       c.call("POST", "/api/season/place/csv", "month,mean_c,low_c\n1,NaN,Inf\n", "Content-Type", "text/csv"),
		"a look of NaN":       c.call("POST", "/api/season/"+id+"/looks", `{"id":"`+newID()+`","at":"2026-01-01T00:00:00Z","rest_volts":NaN}`),
		"a look of year 1":    c.call("POST", "/api/season/"+id+"/looks", `{"id":"`+newID()+`","at":"0001-01-01T00:00:00Z","rest_volts":12}`),
		"a round of no lot":   c.call("GET", "/api/season/round?chargers=0", nil),
		"a round for ever":    c.call("GET", "/api/season/round?minutes=1e9", nil),
		"the wrong look":      c.call("POST", "/api/season/"+id+"/looks/"+newID()+"/withdraw", nil),
		"a swap with nothing": c.call("POST", "/api/season/"+id+"/swap", map[string]any{"id": newID(), "tag": ""}),
	} {
		if r.status < 400 || r.status >= 500 {
			t.Errorf("%s: %d %.200s", name, r.status, r.body)
		}
	}
	// The largest season that is taken is still answered, with a body to match.
	var one storedSeen
	c.call("POST", "/api/season/"+newID(), stands("M-3", -400, 399, "")).into(200, &one)
	var s seasonSeen
	c.call("GET", "/api/season", nil).into(200, &s)
	if len(s.Stored) != 2 {
		t.Errorf("%s stand", s.tags())
	}
}

// One whose season cannot be reckoned, from before its label was checked, hides no other.
func TestOneThatCannotBeReckoned(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	c.call("POST", "/api/season/"+newID(), stands("M-1", -5, 100, "")).into(200, nil)
	d, err := season.DecodeStored(
		[]byte(strings.Replace(stands("M-2", -5, 100, ""), `"cca":300,"ah_20h":28`, `"cca":3000,"ah_20h":1`, 1)),
	)
	if err != nil {
		t.Fatal(err)
	}
	p, err := b.store.PersonNamed(t.Context(), "First technician")
	must(t, err)
	must(t, b.store.PutAway(t.Context(), p.WorkshopID, store.Actor{ID: p.ID}, []store.Stored{{ID: newID(), Doc: d}}))
	var s seasonSeen
	c.call("GET", "/api/season", nil).into(200, &s)
	if len(s.Stored) != 2 || !strings.Contains(s.Stored[0].Now.Says+s.Stored[1].Now.Says, "cannot be reckoned") {
		t.Errorf("%+v", s.Stored)
	}
	c.call("GET", "/api/clock", nil).into(200, nil)
	c.call("GET", "/api/season/round", nil).into(200, nil)
}
