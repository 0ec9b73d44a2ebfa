package api

import (
	"strings"
	"testing"
	"time"

	"grapnel/core/climate"
	"grapnel/internal/localdb/dbtest"
)

type lifeOf struct {
	Tag    string `json:"tag"`
	Twin   string `json:"twin"`
	Visits int    `json:"visits"`
	Life   struct {
		Now  *struct{ Best float64 } `json:"now_pct"`
		Line []any                   `json:"line"`
	} `json:"life"`
	Jobs []struct {
		Job      string `json:"job"`
		Headline string `json:"headline"`
	} `json:"jobs"`
	Pair *struct {
		Tag   string `json:"tag"`
		Level string `json:"level"`
		Text  string `json:"text"`
	} `json:"pair"`
}

type registerOf struct {
	Lows      *climate.Months `json:"lows"`
	MayChange bool            `json:"may_change"`
	All       int             `json:"all"`
	Batteries []struct {
		Tag    string `json:"tag"`
		Visits int    `json:"visits"`
		Twin   string `json:"twin"`
		Life   struct {
			Now    *struct{ Best float64 } `json:"now_pct"`
			Tested bool                    `json:"tested"`
			Says   string                  `json:"says"`
			Fails  *struct {
				Week *time.Time `json:"week"`
			} `json:"fails"`
			Line []any `json:"line"`
		} `json:"life"`
	} `json:"batteries"`
}

// tested opens a job of a battery, reads it and hands it over.
func (c caller) tested(tag, customer string, end float64) string {
	c.t.Helper()
	id := newID()
	j := mower(id)
	j["battery"].(map[string]any)["tag"] = tag
	j["battery"].(map[string]any)["made"] = time.Now().AddDate(-3, 0, 0).Format("2006-01")
	j["vehicle"].(map[string]any)["fuel"] = "diesel"
	j["customer"] = customer
	c.call("POST", "/api/jobs", j).into(200, nil)
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.64)).into(200, nil)
	c.call("POST", "/api/jobs/"+id+"/readings", loadReading(newID(), end)).into(200, nil)
	return id
}

var coldest = []float64{-14, -12, -8, -3, 1, 4, 6, 6, 2, -3, -8, -12}

// The register knows every battery of the workshop, what fails soonest first, and follows
// what is read; another workshop's it does not know.
func TestRegister(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, lead, stranger := b.as(t, "First technician"), b.as(t, "First lead"), b.as(t, "Second technician")
	var r registerOf
	c.call("GET", "/api/register", nil).into(200, &r)
	if r.All != 0 || len(r.Batteries) != 0 || r.Lows != nil || r.MayChange {
		t.Errorf("empty: %+v", r)
	}
	c.tested("K-0001", "Parks", 10.4)
	weak := c.tested("K-0002", "Council", 9.65)
	lead.call("GET", "/api/register", nil).into(200, &r)
	if r.All != 2 || !r.MayChange ||
		r.Batteries[0].Life.Says != "Type the coldest nights of your place once, and the week it fails in stands here." {
		t.Errorf("%+v", r)
	}
	c.call("PUT", "/api/climate", map[string]any{"lows": coldest}).into(403, nil)
	lead.call("PUT", "/api/climate", map[string]any{"lows": coldest}).into(200, &r)
	if r.Lows == nil || r.Lows[0] != -14 || r.Batteries[0].Tag != "K-0002" || r.Batteries[0].Life.Fails == nil ||
		r.Batteries[0].Life.Fails.Week == nil {
		t.Fatalf("%+v", r)
	}
	if first := r.Batteries[0].Life; !first.Tested || first.Now == nil || first.Now.Best > 75 || len(first.Line) != 0 ||
		!strings.Contains(first.Says, "first fails in the week of") {
		t.Errorf("%+v", first)
	}
	var hot problemAnswer
	bad := append([]float64{}, coldest...)
	bad[6] = 46
	lead.call("PUT", "/api/climate", map[string]any{"lows": bad}).into(422, &hot)
	if len(hot.Errors) != 1 || !strings.Contains(hot.Errors[0].Message, "July is 46 °C: it must be between -60 and 45 °C") {
		t.Errorf("%+v", hot)
	}
	lead.call("PUT", "/api/climate", map[string]any{"lows": coldest[:11]}).into(422, nil)
	for find, want := range map[string]int{"k-0001": 1, "coun": 1, "mower": 2, "nobody": 0, " ": 2} {
		c.call("GET", "/api/register?find="+strings.ReplaceAll(find, " ", "%20"), nil).into(200, &r)
		if len(r.Batteries) != want || r.All != 2 {
			t.Errorf("%q: %d of %d", find, len(r.Batteries), r.All)
		}
	}
	// A new reading moves it at once.
	var before, after lifeOf
	c.call("GET", "/api/batteries/K-0002/life", nil).into(200, &before)
	c.call("POST", "/api/jobs/"+weak+"/readings", loadReading(newID(), 8.0)).into(200, nil)
	c.call("GET", "/api/batteries/K-0002/life", nil).into(200, &after)
	if after.Life.Now.Best > before.Life.Now.Best-3 || len(after.Life.Line) < 12 || len(after.Jobs) != 1 ||
		after.Jobs[0].Job != weak {
		t.Errorf("%+v, before %+v", after.Life.Now, before.Life.Now)
	}
	r = registerOf{}
	stranger.call("GET", "/api/register", nil).into(200, &r)
	if r.All != 0 || r.Lows != nil {
		t.Errorf("to another workshop: %+v", r)
	}
	stranger.call("GET", "/api/batteries/K-0002/life", nil).into(404, nil)
	b.nobody(t).call("GET", "/api/register", nil).into(401, nil)
}

// Two that carry one vehicle are tested apart and judged as a pair.
func TestTwinsAreJudgedAsAPair(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, stranger := b.as(t, "First technician"), b.as(t, "Second technician")
	c.tested("K-0001", "Parks", 10.6)
	c.tested("K-0002", "Parks", 9.3)
	var l lifeOf
	c.call("PUT", "/api/batteries/K-0001/twin", map[string]string{"tag": " K-0002 "}).into(200, &l)
	if l.Twin != "K-0002" || l.Pair == nil || l.Pair.Level != "act" || !strings.Contains(l.Pair.Text, "Replace both together.") {
		t.Errorf("%+v", l.Pair)
	}
	c.call("GET", "/api/batteries/K-0002/life", nil).into(200, &l)
	if l.Twin != "K-0001" || l.Pair == nil || l.Pair.Tag != "K-0001" {
		t.Errorf("the other way: %+v", l.Pair)
	}
	var p problemAnswer
	c.call("PUT", "/api/batteries/K-0001/twin", map[string]string{"tag": "K-0001"}).into(422, &p)
	if len(p.Errors) != 1 || p.Errors[0].Message != "A battery is not its own twin: give the tag of the other one." {
		t.Errorf("%+v", p)
	}
	c.call("PUT", "/api/batteries/K-0001/twin", map[string]string{"tag": "K-0404"}).into(404, nil)
	stranger.call("PUT", "/api/batteries/K-0001/twin", map[string]string{"tag": ""}).into(404, nil)
	c.call("PUT", "/api/batteries/K-0002/twin", map[string]string{"tag": ""}).into(200, nil)
	l = lifeOf{}
	c.call("GET", "/api/batteries/K-0001/life", nil).into(200, &l)
	if l.Twin != "" || l.Pair != nil {
		t.Errorf("no pair any more: %+v", l)
	}
}

// Who asks is answered in their own units, whoever asked before.
func TestLifeInOnesOwnUnits(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, lead := b.as(t, "First technician"), b.as(t, "First lead")
	c.tested("K-0001", "Parks", 9.62)
	lead.call("PUT", "/api/climate", map[string]any{"lows": coldest}).into(200, nil)
	lead.call("PUT", "/api/session/preferences", map[string]string{"temperature": "F"}).into(200, nil)
	told := func(c caller) string {
		return string(c.call("GET", "/api/batteries/K-0001/life", nil).body)
	}
	for range 2 {
		if got := told(lead); !strings.Contains(got, "°F") || strings.Contains(got, "°C") {
			t.Errorf("in °F: %s", got)
		}
		if got := told(c); strings.Contains(got, "°F") || !strings.Contains(got, "°C") {
			t.Errorf("in °C: %s", got)
		}
	}
}

// A tester that reads apart from the rest of the workshop is named.
func TestDriftingTesterIsNamed(t *testing.T) {
	c := newBench(t, dbtest.Server(), nil).as(t, "First technician")
	for range 6 {
		id := newID()
		c.call("POST", "/api/jobs", mower(id)).into(200, nil)
		c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.64)).into(200, nil)
		pile := loadReading(newID(), 10.0)
		pile["reading"].(map[string]any)["instrument"] = "Pile"
		c.call("POST", "/api/jobs/"+id+"/readings", pile).into(200, nil)
		c.call("POST", "/api/jobs/"+id+"/readings", map[string]any{"id": newID(),
			"reading": map[string]any{
				"kind":       "conductance",
				"cca":        330,
				"standard":   "SAE",
				"instrument": "Clip tester",
			}}).into(200, nil)
	}
	var r struct {
		Testers []struct {
			Name     string `json:"name"`
			Level    string `json:"level"`
			Readings int    `json:"readings"`
			Text     string `json:"text"`
		} `json:"testers"`
	}
	c.call("GET", "/api/register", nil).into(200, &r)
	if len(r.Testers) != 2 || r.Testers[0].Readings != 6 || r.Testers[0].Level != "act" || r.Testers[1].Level != "act" {
		t.Fatalf("%+v", r.Testers)
	}
	for _, x := range r.Testers {
		if x.Name == "Clip tester" && !strings.Contains(x.Text, "above Pile") ||
			x.Name == "Pile" && !strings.Contains(x.Text, "below Clip tester") {
			t.Errorf("%+v", x)
		}
	}
}
