package api

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"grapnel/internal/localdb/dbtest"
)

// stockSeen is what the tests look at of a shelf.
type stockSeen struct {
	Shelf []struct {
		Item struct {
			Tag string `json:"tag"`
		} `json:"item"`
		SizeMM   []float64 `json:"size_mm"`
		Positive string    `json:"positive"`
		Version  int       `json:"version"`
		SOC      *float64  `json:"soc_pct"`
		Charge   bool      `json:"charge_first"`
		Test     bool      `json:"test_first"`
		Tested   *struct {
			On string `json:"on"`
		} `json:"tested"`
		Months *int   `json:"months"`
		JobID  string `json:"job_id"`
	} `json:"shelf"`
	NextTag string `json:"next_tag"`
}

func (s stockSeen) tags() string {
	var out []string
	for _, one := range s.Shelf {
		out = append(out, one.Item.Tag)
	}
	return strings.Join(out, " ")
}

// What stands on the shelf is added once however often it is sent, changed by one at a time,
// tested on a sheet of its own, and gone when it is sold.
func TestShelf(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	var s stockSeen
	c.call("GET", "/api/stock", nil).into(200, &s)
	if s.tags() != "" || s.NextTag == "" {
		t.Fatalf("an empty shelf: %+v", s)
	}
	plain := `{"tag":"S-01","chemistry":"flooded","rating":{"cca":300,"ah_20h":28},"group":"u1","made":"` + month(-10) + `"}`
	for range 2 {
		c.call("POST", "/api/stock", plain).into(200, &s)
	}
	if s.tags() != "S-01" || len(s.Shelf[0].SizeMM) != 3 || s.Shelf[0].SizeMM[0] != 197 || s.Shelf[0].Positive != "left" || !s.Shelf[0].Test || !s.Shelf[0].Charge || s.Shelf[0].SOC != nil || s.Shelf[0].Months == nil {
		t.Errorf("%+v", s)
	}
	c.call("POST", "/api/stock", strings.Replace(plain, "300", "310", 1)).into(409, nil)
	var p problemAnswer
	c.call("POST", "/api/stock", `{"tag":"S-02","chemistry":"flooded","size_mm":[1,2,3]}`).into(422, &p)
	if !strings.Contains(p.Detail, "size_mm[0]") {
		t.Errorf("%q", p.Detail)
	}
	c.call("POST", "/api/stock", `{"chemistry":"flooded"}`).into(422, nil)

	// Its own sheet, by its tag.
	id := newID()
	for _, asked := range []string{id, id, newID()} { // once more, and by somebody else: the one that is open
		var job tagged
		c.call("POST", "/api/stock/s-01/job", map[string]any{"id": asked}).into(200, &job)
		if job.JobID != id {
			t.Errorf("another sheet for one battery: %s", job.JobID)
		}
	}
	c.call("POST", "/api/stock/S-99/job", map[string]any{"id": newID()}).into(404, nil)
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.7)).into(200, nil)
	c.call("GET", "/api/stock", nil).into(200, &s)
	if s.Shelf[0].Test || s.Shelf[0].SOC == nil || *s.Shelf[0].SOC < 95 || s.Shelf[0].JobID != id {
		t.Errorf("tested on its own sheet: %+v", s.Shelf[0])
	}
	v := s.Shelf[0].Version
	change := func(version int, gone bool) reply {
		return c.call("PUT", fmt.Sprintf("/api/stock/S-01?version=%d&gone=%v", version, gone),
			strings.Replace(plain, month(-10), month(-11), 1))
	}
	for range 2 { // once more is no other change
		change(v, false).into(200, &s)
	}
	change(v+4, false).into(409, nil)
	change(v+1, true).into(200, &s)
	if s.tags() != "" {
		t.Errorf("sold, and still there: %s", s.tags())
	}
	change(v+2, false).into(409, nil)
	b.as(t, "Second lead").call("PUT", "/api/stock/S-01?version=1", plain).into(404, nil)
}

// What is changed of a battery on the shelf changes that alone; volts typed without a day are
// of today, and what its own sheet says is not taken for typed.
func TestShelfKeepsWhatIsNotChanged(t *testing.T) {
	c := technician(t)
	whole := `{"tag":"S-01","chemistry":"agm","rating":{"cca":700,"charge_amps":7},"volts":12,"dry_charged":true,"tested":{"rest_volts":12.9}}`
	var out struct {
		Shelf []struct {
			Item    map[string]any `json:"item"`
			Version int            `json:"version"`
		} `json:"shelf"`
	}
	c.call("POST", "/api/stock", whole).into(200, &out)
	item := out.Shelf[0].Item
	if on := item["tested"].(map[string]any)["on"]; on != time.Now().Format(time.DateOnly) {
		t.Errorf("tested on %v", on)
	}
	// It goes back as it came, one field changed.
	item["group"] = "L3"
	c.call("PUT", fmt.Sprintf("/api/stock/S-01?version=%d", out.Shelf[0].Version), item).into(200, &out)
	if now := out.Shelf[0].Item; now["group"] != "L3" || fmt.Sprint(now["tested"]) != fmt.Sprint(item["tested"]) || now["dry_charged"] != true ||
		now["rating"].(map[string]any)["charge_amps"] != 7.0 {
		t.Errorf("%v", now)
	}
}

// The shelf goes out as a table and comes back as one; a table with a fault is not taken at
// all, and the fault named.
func TestShelfAsATable(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, other := b.as(t, "First technician"), b.as(t, "Second technician")
	table := "tag;chemistry;cca;ah_20h;group;made;rest_volts;tested_on\r\nS-01;efb;680;65;L2;2026-08;12,74;2026-11-20\r\n=1+1;agm;760;70;L2;2026-05;;\r\n"
	csv := func(c caller, table string) reply {
		return c.call("POST", "/api/stock/csv", table, "Content-Type", "text/csv")
	}
	var s stockSeen
	for range 2 {
		csv(c, table).into(200, &s)
	}
	if s.tags() != "=1+1 S-01" {
		t.Errorf("%s", s.tags())
	}
	out := c.call("GET", "/api/stock/csv", nil)
	if out.status != 200 || !strings.HasPrefix(out.header.Get("Content-Type"),
		"text/csv") || !strings.Contains(string(out.body), "\r\n'=1+1,agm,") {
		t.Errorf("%d %s\n%s", out.status, out.header.Get("Content-Type"), out.body)
	}
	csv(other, string(out.body)).into(200, &s)
	back := other.call("GET", "/api/stock/csv", nil)
	if string(back.body) != string(out.body) {
		t.Errorf("out\n%s\nand back\n%s", out.body, back.body)
	}
	var p problemAnswer
	csv(c, "tag,chemistry\nS-05,agm\nS-06,lithium\n").into(422, &p)
	if !strings.Contains(p.Detail, "line 3, column chemistry") {
		t.Errorf("%q", p.Detail)
	}
	c.call("GET", "/api/stock", nil).into(200, &s)
	if strings.Contains(s.tags(), "S-05") {
		t.Error("half a table was taken")
	}
}

// What suits a job's vehicle is asked by what its battery's label says, until somebody says
// what the maker asks for.
func TestFitOfAJob(t *testing.T) {
	c := technician(t)
	made := fmt.Sprintf(studs, month(-10))
	c.onShelf("S-01", made)
	c.onShelf("S-02", strings.Replace(made, `"U1"`, `"U1R"`, 1))
	job := c.opened()
	var f struct {
		Ranked []struct {
			Tag    string `json:"tag"`
			Fits   bool   `json:"fits"`
			Unsure int    `json:"unsure"`
		} `json:"ranked"`
		Needs struct {
			CCA   float64 `json:"cca"`
			Group string  `json:"group"`
		} `json:"needs"`
		Said bool   `json:"said"`
		Why  string `json:"why"`
	}
	c.call("GET", "/api/jobs/"+job+"/fit", nil).into(200, &f)
	if f.Said || f.Needs.CCA != 300 || !f.Ranked[0].Fits || !f.Ranked[1].Fits || f.Ranked[0].Unsure == 0 {
		t.Errorf("by its label: %+v", f)
	}
	c.call("PUT", "/api/jobs/"+job+"/needs", map[string]any{"cca": 280, "group": "U1R", "chemistry": "flooded"}).into(200, &f)
	if !f.Said || f.Ranked[0].Tag != "S-02" || f.Ranked[1].Fits || f.Ranked[0].Unsure != 0 {
		t.Errorf("as the maker asks: %+v", f)
	}
	var p problemAnswer
	c.call("PUT", "/api/jobs/"+job+"/needs", map[string]any{"cca": 2}).into(422, &p)
	if !strings.Contains(p.Detail, "cca") {
		t.Errorf("%q", p.Detail)
	}
	c.call("POST", "/api/fit", `{"format":"grapnel.fit_request/1","vehicle":{"class":"car"},"today":"2026-11-24","stock":[]}`).into(200, nil)
	c.call("POST", "/api/fit", `{"format":"grapnel.fit_request/1"}`).into(422, nil)
}
