package api

import (
	"encoding/json"
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"grapnel/internal/localdb/dbtest"
)

// guideSeen is what the tests look at of a guide.
type guideSeen struct {
	What  string `json:"what"`
	Steps []struct {
		Code    string   `json:"code"`
		Do      string   `json:"do"`
		Why     string   `json:"why"`
		Enter   []string `json:"enter"`
		Choices []struct {
			Code string `json:"code"`
		} `json:"choices"`
	} `json:"steps"`
	Run *struct {
		ID      string  `json:"id"`
		Version int     `json:"version"`
		Reason  string  `json:"reason"`
		EndedAt *string `json:"ended_at"`
	} `json:"run"`
	Site struct {
		Place string   `json:"place"`
		On    []string `json:"on"`
	} `json:"site"`
	Now  string `json:"now"`
	Done []struct {
		Step, Kind, Choice, By string
	} `json:"done"`
	Open []struct {
		Code string `json:"code"`
	} `json:"open"`
	Refusal  string `json:"refusal"`
	Reasoned bool   `json:"wants_reason"`
	Followed string `json:"followed_by"`
	Proof    []struct {
		Quantity string                  `json:"quantity"`
		Was      *struct{ Best float64 } `json:"was"`
		Band     *struct{ Best float64 } `json:"band"`
		Level    string                  `json:"level"`
	} `json:"proof"`
}

func (g guideSeen) open() string {
	var out []string
	for _, p := range g.Open {
		out = append(out, p.Code)
	}
	return strings.Join(out, " ")
}

func (c caller) guide(job, what string) guideSeen {
	c.t.Helper()
	var g guideSeen
	c.call("GET", "/api/jobs/"+job+"/guides/"+what, nil).into(200, &g)
	return g
}

func (c caller) begin(job, what string, site map[string]any) guideSeen {
	c.t.Helper()
	var g guideSeen
	c.call("POST", "/api/jobs/"+job+"/guides/"+what, map[string]any{"id": newID(), "site": site}).into(200, &g)
	return g
}

func (c caller) event(job, what, kind, step string, more ...string) reply {
	c.t.Helper()
	body := map[string]any{"id": newID(), "kind": kind, "step": step}
	for i := 0; i+1 < len(more); i += 2 {
		body[more[i]] = more[i+1]
	}
	return c.call("POST", "/api/jobs/"+job+"/guides/"+what+"/events", body)
}

func (c caller) tick(job, what, step string, more ...string) guideSeen {
	c.t.Helper()
	var g guideSeen
	c.event(job, what, "ticked", step, more...).into(200, &g)
	return g
}

// through ticks every step up to one, the choices the first there is.
func (c caller) through(job, what, until string, choice map[string]string) guideSeen {
	c.t.Helper()
	g := c.guide(job, what)
	for _, s := range g.Steps {
		if s.Code == until {
			return g
		}
		if g.Now != s.Code {
			continue
		}
		pick := choice[s.Code]
		if pick == "" && len(s.Choices) > 0 {
			pick = s.Choices[0].Code
		}
		g = c.tick(job, what, s.Code, "choice", pick)
	}
	return g
}

// A guide is begun on one device and gone on with on another; what hurts is not done before
// what makes it safe; what was ticked is taken back, sent twice it counts once; what it puts
// into the log it takes out again.
func TestGuideIsKept(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	one, other := b.as(t, "First technician"), b.as(t, "First lead")
	job := one.opened()
	if g := one.guide(job, "clean"); g.Run != nil || len(g.Steps) < 10 || g.Now != "ready" || g.Site.Place != "seat" {
		t.Fatalf("before it is begun: %+v", g)
	}
	one.event(job, "clean", "ticked", "ready").into(404, nil)
	id := newID()
	begin := map[string]any{"id": id, "site": map[string]any{"place": "front", "on": []string{}, "keep_alive": "none"}}
	var g guideSeen
	one.call("POST", "/api/jobs/"+job+"/guides/clean", begin).into(200, &g)
	one.call("POST", "/api/jobs/"+job+"/guides/clean", begin).into(200, &g)
	joined := other.begin(job, "clean", map[string]any{"place": "seat"})
	if joined.Run.ID != id || joined.Site.Place != "front" {
		t.Fatalf("two begin at once, and each has their own: %+v", joined.Run)
	}

	var p problemAnswer
	one.event(job, "clean", "ticked", "live_off").into(409, &p)
	if !strings.Contains(p.Detail, "Earthed lug off first") {
		t.Errorf("%q", p.Detail)
	}
	one.event(job, "clean", "ticked", "no_such_step").into(422, nil)
	again := map[string]any{"id": newID(), "kind": "ticked", "step": "ready"}
	for range 2 {
		one.call("POST", "/api/jobs/"+job+"/guides/clean/events", again).into(200, &g)
	}
	if len(g.Done) != 1 || g.Done[0].By != "First technician" {
		t.Errorf("%+v", g.Done)
	}
	g = other.through(job, "clean", "crust", nil)
	if g.open() != "earthed live hold_down battery" || g.Now != "crust" {
		t.Errorf("open %q, now %s", g.open(), g.Now)
	}
	other.event(job, "clean", "unticked", "earthed_off").into(409, &p)
	if !strings.Contains(p.Detail, "Take that back first") {
		t.Errorf("%q", p.Detail)
	}
	other.event(job, "clean", "unticked", "lift").into(200, &g)
	if g.open() != "earthed live hold_down" || g.Now != "lift" {
		t.Errorf("taken back: open %q, now %s", g.open(), g.Now)
	}
	one.event(job, "clean", "ticked", "judge", "choice", "nonsense").into(422, nil)
	one.event(job, "clean", "ticked", "judge", "choice", "cable_later").into(200, &g)
	var sheet struct {
		Findings []struct{ Code string } `json:"findings"`
		Guides   []struct {
			What string `json:"what"`
			Do   string `json:"do"`
		} `json:"guides"`
		Off []struct{ Word, What string } `json:"off"`
	}
	one.call("GET", "/api/jobs/"+job, nil).into(200, &sheet)
	if !strings.Contains(fmt.Sprint(sheet.Findings),
		"strands_green") || len(sheet.Guides) != 1 || sheet.Guides[0].Do != "Lift it out level" || len(sheet.Off) != 3 || sheet.Off[0].What != "clean" {
		t.Errorf("%+v", sheet)
	}
	one.event(job, "clean", "unticked", "judge").into(200, &g)
	sheet.Findings = nil
	one.call("GET", "/api/jobs/"+job, nil).into(200, &sheet)
	if strings.Contains(fmt.Sprint(sheet.Findings), "strands_green") {
		t.Error("what was found by mistake stays in the ledger")
	}
	g = one.through(job, "clean", "", nil)
	if g.Now != "" || g.Run.EndedAt == nil || g.open() != "" {
		t.Errorf("at the end: now %q, open %q, ended %v", g.Now, g.open(), g.Run.EndedAt)
	}
	one.call("GET", "/api/jobs/"+job, nil).into(200, &sheet)
	if !strings.Contains(fmt.Sprint(sheet.Findings), "cleaned.done") {
		t.Errorf("cleaned, and the ledger does not say so: %v", sheet.Findings)
	}
	one.event(job, "clean", "ticked", "ready").into(409, nil)
	// Another time is another run.
	if g := one.begin(job, "clean", map[string]any{}); g.Run.ID == id || g.Now != "ready" {
		t.Errorf("begun anew: %+v", g.Run)
	}
	// The other workshop sees none of it.
	b.as(t, "Second lead").call("GET", "/api/jobs/"+job+"/guides/clean", nil).into(404, nil)
	b.as(t, "Second lead").event(job, "clean", "ticked", "ready").into(404, nil)
}

// Two who tick at once do not hinder each other, and nothing is lost or doubled.
func TestTickedAtOnce(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	one, other := b.as(t, "First technician"), b.as(t, "First lead")
	job := one.opened()
	one.begin(job, "clean", map[string]any{"on": []string{}})
	var both sync.WaitGroup
	for i, part := range []string{"cover", "sleeve", "strap", "module", "sensor", "washers"} {
		c := []caller{one, other}[i%2]
		both.Go(func() {
			if r := c.event(job, "clean", "took_off", "", "part", part); r.status != 200 {
				t.Errorf("%s: %d %s", part, r.status, r.body)
			}
		})
	}
	both.Wait()
	if g := one.guide(job, "clean"); len(g.Open) != 6 {
		t.Errorf("open %q", g.open())
	}
}

// What is said of the vehicle changes under way, by one at a time; what is off stays known.
func TestGuideSite(t *testing.T) {
	c := technician(t)
	job := c.opened()
	g := c.begin(job, "clean", map[string]any{"on": []string{"sensor"}})
	c.through(job, "clean", "earthed_off", nil)
	put := func(version int, on ...string) reply {
		return c.call("PUT", "/api/jobs/"+job+"/guides/clean", map[string]any{"version": version,
			"site": map[string]any{"on": append([]string{}, on...)}})
	}
	put(g.Run.Version).into(200, &g)
	if g.open() != "sensor" || strings.Contains(fmt.Sprint(g.Steps), "sensor_on") {
		t.Errorf("the sensor is off, and forgotten with its step: %q", g.open())
	}
	put(g.Run.Version).into(200, &g)
	put(1, "sensor", "cover").into(409, nil)
	put(g.Run.Version, "belt").into(422, nil)
	c.event(job, "clean", "put_back", "", "part", "sensor").into(200, &g)
	c.event(job, "clean", "took_off", "", "part", "sleeve").into(200, &g)
	c.event(job, "clean", "put_back", "", "part", "wheel").into(422, nil)
	if g.open() != "sleeve" {
		t.Errorf("open %q", g.open())
	}
}

// Where somebody has looked and nothing is on it, nothing is: what is usual does not come back.
func TestNothingOnIt(t *testing.T) {
	c := technician(t)
	id := newID()
	m := mower(id)
	m["vehicle"] = map[string]any{"class": "car", "stop_start": true}
	c.call("POST", "/api/jobs", m).into(200, nil)
	if g := c.guide(id, "clean"); len(g.Site.On) == 0 {
		t.Fatal("nothing is usual on a stop-start car")
	}
	if g := c.begin(id, "clean", map[string]any{"on": []string{}}); g.Site.On == nil || len(g.Site.On) > 0 {
		t.Errorf("on it: %v", g.Site.On)
	}
	if g := c.guide(id, "clean"); len(g.Site.On) > 0 || strings.Contains(fmt.Sprint(g.Steps), "sensor_off") {
		t.Errorf("looked at again: %v", g.Site.On)
	}
}

// A job is not handed over with something off: a technician puts it back, a lead may say why.
func TestStillOff(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	tech, lead := b.as(t, "First technician"), b.as(t, "First lead")
	job := tech.opened()
	tech.begin(job, "clean", map[string]any{"on": []string{"vent_tube", "elbow"}, "school": "bench"})
	tech.through(job, "clean", "lift", nil)
	shut := func(c caller, reason string) reply {
		if reason == "" {
			return c.call("POST", "/api/jobs/"+job+"/close", nil)
		}
		return c.call("POST", "/api/jobs/"+job+"/close", map[string]any{"reason": reason})
	}
	var p problemAnswer
	shut(tech, "").into(409, &p)
	if !strings.Contains(p.Detail, "vent elbow") || !strings.Contains(p.Detail, "earthed cable") {
		t.Errorf("%q", p.Detail)
	}
	shut(tech, "in a hurry").into(409, nil)
	shut(lead, "").into(409, &p)
	if !strings.Contains(p.Detail, "say why") {
		t.Errorf("%q", p.Detail)
	}
	shut(lead, "  ").into(409, nil)
	shut(lead, "Goes on a trailer to the breaker").into(200, nil)
	var h struct {
		Changes []struct {
			What string          `json:"what"`
			From json.RawMessage `json:"changes"`
		} `json:"changes"`
	}
	lead.call("GET", "/api/jobs/"+job+"/history", nil).into(200, &h)
	if h.Changes[0].What != "job_closed" || !strings.Contains(string(h.Changes[0].From),
		"breaker") || !strings.Contains(string(h.Changes[0].From), "vent elbow") {
		t.Errorf("%s: %s", h.Changes[0].What, h.Changes[0].From)
	}
	tech.event(job, "clean", "ticked", "lift").into(409, nil)

	whole := tech.opened()
	tech.call("POST", "/api/jobs/"+whole+"/close", nil).into(200, nil)
}

func (c caller) onShelf(tag, fields string) {
	c.t.Helper()
	c.call("POST", "/api/stock", `{"tag":"`+tag+`",`+fields+`}`).into(200, nil)
}

const studs = `"chemistry":"flooded","rating":{"cca":300,"ah_20h":28},"group":"U1","made":"%s","tested":{"rest_volts":12.7}`

// month is so many months from now, as labels have it.
func month(n int) string {
	now := time.Now()
	return time.Date(now.Year(), now.Month()+time.Month(n), 1, 0, 0, 0, 0, time.UTC).Format("2006-01")
}

// A battery is replaced only for a reason, by one that is tested, charged and suits; then its
// sheet is done, the new one's goes on, and the shelf is shorter by one. A missing part keeps
// both from being handed over.
func TestReplaced(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	tech, lead := b.as(t, "First technician"), b.as(t, "First lead")
	made := fmt.Sprintf(studs, month(-10))
	tech.onShelf("S-01", made)
	tech.onShelf("S-02", strings.Replace(made, `,"tested":{"rest_volts":12.7}`, "", 1))
	tech.onShelf("S-03", strings.Replace(made, `12.7`, "12.2", 1))
	tech.onShelf("S-04", strings.Replace(made, `"cca":300`, `"cca":120`, 1))
	job := tech.opened()
	var p problemAnswer
	tech.call("POST", "/api/jobs/"+job+"/guides/replace", map[string]any{"id": newID(), "site": map[string]any{}}).into(409, &p)
	if !strings.Contains(p.Detail, "No verdict") {
		t.Errorf("%q", p.Detail)
	}
	site := map[string]any{"on": []string{"vent_tube", "elbow"}, "keep_alive": "none"}
	tech.call("POST", "/api/jobs/"+job+"/guides/replace", map[string]any{"id": newID(), "site": site,
		"reason": "Owner wants a new one for the season"}).into(200, nil)
	tech.tick(job, "replace", "ready")
	for tag, says := range map[string]string{"S-02": "not tested", "S-03": "not charged", "S-04": "does not suit",
		"S-09": "not on the shelf", "S-01,S-02": "by tag: 1"} {
		var p problemAnswer
		if r := tech.event(job, "replace", "ticked", "new", "choice", tag, "reason",
			"please"); r.status != 409 && r.status != 422 {
			t.Errorf("%s goes in: %d", tag, r.status)
		} else if must(t, json.Unmarshal(r.body, &p)); !strings.Contains(p.Detail, says) {
			t.Errorf("%s: %q", tag, p.Detail)
		}
	}
	lead.event(job, "replace", "ticked", "new", "choice", "S-03").into(409, nil)
	lead.event(job, "replace", "ticked", "new", "choice", "s-03", "reason", "Charged this minute").into(200, nil)
	tech.event(job, "replace", "skipped", "new").into(409, nil)
	tech.tick(job, "replace", "new", "choice", "S-01")
	tech.through(job, "replace", "swap", nil)
	tech.event(job, "replace", "skipped", "swap").into(200, nil)
	g := tech.through(job, "replace", "", map[string]string{"old": "recycler"})
	if g.Followed == "" || g.open() != "elbow" || g.Run.EndedAt == nil {
		t.Fatalf("at the end: %q, open %q", g.Followed, g.open())
	}
	var old, fresh struct {
		Verdict  string                  `json:"verdict"`
		Headline string                  `json:"headline"`
		Followed string                  `json:"followed_by"`
		Follows  string                  `json:"follows"`
		Off      []struct{ Word string } `json:"off"`
		Job      struct {
			Battery struct {
				Tag    string `json:"tag"`
				Fitted string `json:"fitted"`
			} `json:"battery"`
			Note string `json:"note"`
		} `json:"job"`
	}
	tech.call("GET", "/api/jobs/"+job, nil).into(200, &old)
	tech.call("GET", "/api/jobs/"+g.Followed, nil).into(200, &fresh)
	if old.Verdict != "replace" || !strings.Contains(old.Headline, "S-01 stands in its place") || old.Followed != g.Followed {
		t.Errorf("the old one's: %+v", old)
	}
	if fresh.Job.Battery.Tag != "S-01" || fresh.Follows != job || len(fresh.Off) != 1 || fresh.Job.Battery.Fitted == "" || !strings.HasPrefix(fresh.Job.Note, "In place of K-") {
		t.Errorf("the new one's: %+v", fresh)
	}
	for _, id := range []string{job, g.Followed} {
		tech.call("POST", "/api/jobs/"+id+"/close", nil).into(409, &p)
		if !strings.Contains(p.Detail, "vent elbow") {
			t.Errorf("%q", p.Detail)
		}
	}
	var shelf stockSeen
	tech.call("GET", "/api/stock", nil).into(200, &shelf)
	if shelf.tags() != "S-02 S-03 S-04" {
		t.Errorf("on the shelf: %s", shelf.tags())
	}
	tech.event(job, "replace", "put_back", "", "part", "elbow").into(200, nil)
	tech.call("POST", "/api/jobs/"+job+"/close", nil).into(200, nil)
	tech.call("POST", "/api/jobs/"+g.Followed+"/close", nil).into(200, nil)
}

// A hazard found under way stops the guide, and what is off stays known.
func TestHazardStopsAGuide(t *testing.T) {
	c := technician(t)
	job := c.opened()
	c.begin(job, "clean", map[string]any{})
	c.through(job, "clean", "lift", nil)
	c.call("POST", "/api/jobs/"+job+"/readings", map[string]any{"id": newID(),
		"reading": map[string]any{"kind": "inspection", "found": []string{"case_cracked"}}}).into(200, nil)
	g := c.guide(job, "clean")
	if len(g.Steps) > 0 || !strings.Contains(g.Refusal, "cracked") || !strings.Contains(g.open(), "earthed") {
		t.Errorf("%q, open %q, %d steps", g.Refusal, g.open(), len(g.Steps))
	}
	var p problemAnswer
	c.event(job, "clean", "ticked", "lift").into(409, &p)
	if !strings.Contains(p.Detail, "cracked") {
		t.Errorf("%q", p.Detail)
	}
	// What was lifted out before it was seen to be cracked is out, though the line was late.
	c.event(job, "clean", "ticked", "lift", "at", time.Now().Add(-time.Minute).UTC().Format(time.RFC3339)).into(200, &g)
	if !strings.Contains(g.open(), "battery") {
		t.Errorf("open %q", g.open())
	}
	other := c.opened()
	c.call("POST", "/api/jobs/"+other+"/readings", map[string]any{"id": newID(),
		"reading": map[string]any{"kind": "inspection", "found": []string{"frozen"}}}).into(200, nil)
	c.call("POST", "/api/jobs/"+other+"/guides/clean", map[string]any{"id": newID(), "site": map[string]any{}}).into(409, nil)
}

// Water once more, after a charge, goes to the mark at once; while the first time runs it
// does not change under the hands.
func TestWaterAgain(t *testing.T) {
	c := technician(t)
	job := c.opened()
	steps := func() string { return fmt.Sprint(c.guide(job, "water").Steps) }
	c.begin(job, "water", map[string]any{})
	c.through(job, "water", "charge", nil)
	for _, r := range []map[string]any{restReading("", 12.2)["reading"].(map[string]any),
		{"kind": "charged", "ended": "full", "hours": 9}} {
		c.call("POST", "/api/jobs/"+job+"/readings", map[string]any{"id": newID(), "reading": r}).into(200, nil)
	}
	if !strings.Contains(steps(), "caps_off_again") {
		t.Error("the guide changed while it was worked by")
	}
	c.through(job, "water", "", nil)
	if g := c.begin(job, "water", map[string]any{}); strings.Contains(fmt.Sprint(g.Steps), "caps_off_again") || g.Now != "ready" {
		t.Errorf("full, and water twice: %s", steps())
	}
}

// What was read before and after stands side by side in the guide.
func TestGuideProves(t *testing.T) {
	c := technician(t)
	job := c.opened()
	read := func(volts float64) {
		c.call("POST", "/api/jobs/"+job+"/readings", map[string]any{"id": newID(),
			"reading": map[string]any{"kind": "lid_leakage", "volts": volts}}).into(200, nil)
	}
	read(0.9)
	c.begin(job, "clean", map[string]any{"scope": "lid"})
	c.through(job, "clean", "after", nil)
	read(0.04)
	g := c.guide(job, "clean")
	if len(g.Proof) != 1 || g.Proof[0].Was == nil || g.Proof[0].Was.Best != 0.9 || g.Proof[0].Band.Best != 0.04 || g.Proof[0].Level != "ok" {
		t.Errorf("%+v", g.Proof)
	}
}

// A torque is said in what somebody counts it in.
func TestTorquePreference(t *testing.T) {
	c := technician(t)
	id := newID()
	m := mower(id)
	m["battery"].(map[string]any)["terminals"] = "top"
	c.call("POST", "/api/jobs", m).into(200, nil)
	says := func(want string) {
		t.Helper()
		if g := c.guide(id, "clean"); !strings.Contains(fmt.Sprint(g.Steps), want) {
			t.Errorf("no %s in it", want)
		}
	}
	says("10 to 11 N·m")
	c.call("PUT", "/api/session/preferences", map[string]any{"torque": "inlb"}).into(200, nil)
	says("89 to 100 in·lb")
	c.call("PUT", "/api/session/preferences", map[string]any{"torque": "kg"}).into(422, nil)
}
