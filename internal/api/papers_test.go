package api

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"grapnel/internal/localdb/dbtest"
)

// papersOf is the part of a job's papers the tests look at.
type papersOf struct {
	Notes []struct {
		ID, Text, By string
		Shown        bool
		BackBy       string `json:"back_by"`
	} `json:"notes"`
	Photos []struct {
		ID, What, Caption string
		Shown             bool
		Width, Height     int
		BackBy            string `json:"back_by"`
	} `json:"photos"`
	Estimates []struct {
		ID   string `json:"id"`
		Said struct {
			Lines         []string
			Net, Tax, All string
		} `json:"said"`
		Answer *struct {
			Accepted bool
			Name, By string
		} `json:"answer"`
	} `json:"estimates"`
	Proposed struct {
		Lines []struct {
			Code  string
			Cents int
		} `json:"lines"`
	} `json:"proposed"`
	Priced    bool                      `json:"priced"`
	Next      *struct{ On, Why string } `json:"next"`
	Forgotten []string                  `json:"forgotten"`
}

func (c caller) papers(job string) (p papersOf) {
	c.t.Helper()
	c.call("GET", "/api/jobs/"+job+"/papers", nil).into(200, &p)
	return p
}

// Notes are kept as they were written, by whom; repeated they are not doubled; taken back they
// stay, and can be put back. Others' workshops see none of it.
func TestNotes(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, other := b.as(t, "First technician"), b.as(t, "Second technician")
	job, note := c.opened(), newID()
	body := map[string]any{"id": note, "text": "  keys at the\ncounter  ", "shown": true}
	var p papersOf
	for range 2 {
		c.call("POST", "/api/jobs/"+job+"/notes", body).into(200, &p)
	}
	if len(p.Notes) != 1 || p.Notes[0].Text != "keys at the\ncounter" || p.Notes[0].By != "First technician" || !p.Notes[0].Shown {
		t.Errorf("%+v", p.Notes)
	}
	body["text"] = "something else"
	c.call("POST", "/api/jobs/"+job+"/notes", body).into(409, nil)
	for _, bad := range []map[string]any{{"id": newID(), "text": ""}, {"id": newID(), "text": " \n "}, {"id": "x", "text": "a"}, {"id": newID(), "text": strings.Repeat("x", 2001)}} {
		c.call("POST", "/api/jobs/"+job+"/notes", bad).into(422, nil)
	}
	c.call("POST", "/api/jobs/"+job+"/notes", map[string]any{"id": newID(), "text": strings.Repeat("x", 2000)}).into(200, nil)
	at := "/api/jobs/" + job + "/notes/" + note
	for _, back := range []bool{true, true, false, true} {
		p = papersOf{}
		c.call("PUT", at, map[string]any{"back": back}).into(200, &p)
		if (p.Notes[0].BackBy != "") != back {
			t.Errorf("back %v: %+v", back, p.Notes[0])
		}
	}
	other.call("GET", "/api/jobs/"+job+"/papers", nil).into(404, nil)
	other.call("POST", "/api/jobs/"+job+"/notes", map[string]any{"id": newID(), "text": "a"}).into(404, nil)
	other.call("PUT", at, map[string]any{"back": false}).into(404, nil)
	b.nobody(t).call("GET", "/api/jobs/"+job+"/papers", nil).into(401, nil)
	c.call("POST", "/api/jobs/"+newID()+"/notes", map[string]any{"id": newID(), "text": "a"}).into(404, nil)
	// What was changed stands in the job's history: two notes, three changes of one.
	var h struct {
		Changes []struct{ What, By string } `json:"changes"`
	}
	c.call("GET", "/api/jobs/"+job+"/history", nil).into(200, &h)
	counts := map[string]int{}
	for _, one := range h.Changes {
		counts[one.What+" "+one.By]++
	}
	if counts["note_added First technician"] != 2 || counts["note_taken_back First technician"] != 3 {
		t.Errorf("%v", counts)
	}
	// A job that is handed over takes notes too.
	c.call("POST", "/api/jobs/"+job+"/close", nil).into(200, nil)
	c.call("POST", "/api/jobs/"+job+"/notes", map[string]any{"id": newID(), "text": "rang up: it starts"}).into(200, nil)
}

func picture(t testing.TB, w, h int) string {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for i := range img.Pix {
		img.Pix[i] = byte(i * 7)
	}
	img.Set(1, 1, color.White)
	var out bytes.Buffer
	must(t, jpeg.Encode(&out, img, nil))
	return out.String()
}

// A picture is kept once, encoded anew, and given back to those of the workshop alone; what is
// no picture, or too large, is refused in words.
func TestPhotos(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, other := b.as(t, "First technician"), b.as(t, "Second technician")
	job, id := c.opened(), newID()
	raw := picture(t, 2600, 1300)
	var p papersOf
	post := func(c caller, id, query, body string) reply {
		return c.call("POST", "/api/jobs/"+job+"/photos?id="+id+query, body, "Content-Type", "image/jpeg")
	}
	for range 2 {
		post(c, id, "&what=damage&shown=true&caption=crack%20at%20the%20seam", raw).into(200, &p)
	}
	if len(p.Photos) != 1 || p.Photos[0].What != "damage" || p.Photos[0].Caption != "crack at the seam" || p.Photos[0].Width != 2000 || p.Photos[0].Height != 1000 {
		t.Fatalf("%+v", p.Photos)
	}
	at := "/api/jobs/" + job + "/photos/" + id
	got, small := c.call("GET", at, nil), c.call("GET", at+"?small=true", nil)
	if got.header.Get("Content-Type") != "image/jpeg" || len(got.body) > 2_000_000 || bytes.Equal(got.body, []byte(raw)) || len(small.body) >= len(got.body) ||
		got.header.Get("X-Content-Type-Options") != "nosniff" {
		t.Errorf("%v, %d and %d bytes", got.header, len(got.body), len(small.body))
	}
	post(c, id, "&what=label", raw).into(409, nil)
	post(c, newID(), "&what=portrait", raw).into(422, nil)
	post(c, newID(), "", "<svg onload=alert(1)>").into(422, nil)
	if r := post(c, newID(), "", strings.Repeat("x", 13<<20)); r.status != 413 || !strings.Contains(string(r.body), "at most 12 MB") {
		t.Errorf("too large: %d %s", r.status, r.body)
	}
	post(other, newID(), "", raw).into(404, nil)
	other.call("GET", at, nil).into(404, nil)
	b.nobody(t).call("GET", at, nil).into(401, nil)
	// What is larger than usual is not even read from whoever is not signed in.
	read := 0
	r := httptest.NewRequest("POST", "/api/jobs/"+job+"/photos?id="+newID()+"&what=label", strings.NewReader(raw))
	w := httptest.NewRecorder()
	r.Body = noted{r.Body, &read}
	b.Config.Handler.ServeHTTP(w, r)
	if w.Code != 401 || read > 0 {
		t.Errorf("nobody: %d, read %d times", w.Code, read)
	}
	c.call("PUT", at, map[string]any{"back": true}).into(200, &p)
	if p.Photos[0].BackBy == "" {
		t.Errorf("%+v", p.Photos[0])
	}
}

// noted counts how often a body is read.
type noted struct {
	io.ReadCloser
	times *int
}

func (n noted) Read(p []byte) (int, error) {
	*n.times++
	return n.ReadCloser.Read(p)
}

// A price list that a lead keeps, an estimate from it in what the verdict asks for, accepted
// with a name; the answer belongs to the one that stands, and prices that change later leave
// it as it was.
func TestEstimates(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, lead, other := b.as(t, "First technician"), b.as(t, "First lead"), b.as(t, "Second lead")
	job := c.opened()
	c.call("POST", "/api/jobs/"+job+"/readings", restReading(newID(), 12.1)).into(200, nil)
	list := map[string]any{"version": 1, "prices": map[string]any{"currency": "€", "tax_pct": 19, "tax_included": true, "cents": map[string]int{"test": 1500, "charge": 2000}}}
	c.call("PUT", "/api/prices", list).into(403, nil)
	if c.papers(job).Priced {
		t.Error("there is a price list before anybody made one")
	}
	for range 2 { // the second is a repeat
		lead.call("PUT", "/api/prices", list).into(200, nil)
	}
	list["prices"].(map[string]any)["tax_pct"] = 20
	lead.call("PUT", "/api/prices", list).into(409, nil) // from a stale list
	list["version"] = 2
	list["prices"].(map[string]any)["cents"] = map[string]int{"test": -1}
	lead.call("PUT", "/api/prices", list).into(422, nil)
	p := c.papers(job)
	if !p.Priced || len(p.Proposed.Lines) != 2 || p.Proposed.Lines[0].Code != "test" || p.Proposed.Lines[1].Cents != 2000 {
		t.Fatalf("%+v", p.Proposed)
	}
	estimate := func(cents int) map[string]any {
		return map[string]any{"lines": []map[string]any{{"code": "test", "text": "Test", "count": 1, "cents": 1500}, {"text": "Cable, 2 m", "count": 2, "cents": cents}},
			"currency": "€", "tax_pct": 19, "tax_included": true}
	}
	var said struct{ All, Tax string }
	c.call("POST", "/api/cost", map[string]any{"estimate": estimate(123450)}).into(200, &said)
	if said.All != "€ 2,484.00" || said.Tax != "€ 396.61" { // 2484.00 × 19/119
		t.Errorf("%+v", said)
	}
	first, second, answer := newID(), newID(), newID()
	for range 2 {
		c.call("POST", "/api/jobs/"+job+"/estimates", map[string]any{"id": first, "estimate": estimate(1000)}).into(200, &p)
	}
	c.call("POST", "/api/jobs/"+job+"/estimates", map[string]any{"id": first, "estimate": estimate(1001)}).into(409, nil)
	bad := estimate(1000)
	bad["lines"] = []map[string]any{}
	c.call("POST", "/api/jobs/"+job+"/estimates", map[string]any{"id": newID(), "estimate": bad}).into(422, nil)
	c.call("POST", "/api/jobs/"+job+"/estimates", map[string]any{"id": second, "estimate": estimate(2000)}).into(200, &p)
	if len(p.Estimates) != 2 || p.Estimates[0].ID != second || p.Estimates[0].Said.All != "€ 55.00" {
		t.Fatalf("%+v", p.Estimates)
	}
	at := func(id string) string { return "/api/jobs/" + job + "/estimates/" + id + "/answers" }
	yes := map[string]any{"id": answer, "accepted": true, "name": " Anna  Baker "}
	c.call("POST", at(first), yes).into(409, nil) // another stands in its place
	c.call("POST", at(second), map[string]any{"id": newID(), "accepted": true, "name": "  "}).into(422, nil)
	for range 2 {
		c.call("POST", at(second), yes).into(200, &p)
	}
	if a := p.Estimates[0].Answer; a == nil || !a.Accepted || a.Name != "Anna Baker" || a.By != "First technician" || p.Estimates[1].Answer != nil {
		t.Errorf("%+v", p.Estimates)
	}
	c.call("POST", at(second), map[string]any{"id": newID(), "accepted": false, "name": "Anna Baker"}).into(200, &p)
	if p.Estimates[0].Answer.Accepted {
		t.Error("the last answer does not hold")
	}
	other.call("POST", at(second), yes).into(404, nil)
	if h := string(c.call("GET", "/api/jobs/"+job+"/history", nil).body); !strings.Contains(h, "1 × Test 15.00, 2 × Cable, 2 m 20.00") || !strings.Contains(h, "€ 55.00") {
		t.Errorf("the history tells %s", h)
	}
	other.call("POST", "/api/jobs/"+job+"/estimates", map[string]any{"id": newID(), "estimate": estimate(1)}).into(404, nil)
	var theirs struct{ Version int }
	if other.call("GET", "/api/prices", nil).into(200, &theirs); theirs.Version != 1 {
		t.Error("another workshop has these prices")
	}
}

// A job holds so many papers and no more, counted together.
func TestMostPapers(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	job := c.opened()
	c.call("POST", "/api/jobs/"+job+"/notes", map[string]any{"id": newID(), "text": "first"}).into(200, nil)
	_, err := b.store.DB().Exec(`UPDATE job SET papers = 499 WHERE id = ?`, job)
	must(t, err)
	c.call("POST", "/api/jobs/"+job+"/notes", map[string]any{"id": newID(), "text": "the last"}).into(200, nil)
	if r := c.call("POST", "/api/jobs/"+job+"/notes", map[string]any{"id": newID(), "text": "one more"}); r.status != 409 || !strings.Contains(string(r.body), "at most 500 notes") {
		t.Errorf("%d %s", r.status, r.body)
	}
}

// outcomeOf is what became of the work, as the sheet says it.
type outcomeOf struct {
	Outcome *struct {
		Proof, Headline string
		Before          *struct{ Verdict, Tag string } `json:"before"`
		Items           []struct {
			Code, State string
			ReadingID   string `json:"reading_id"`
		} `json:"items"`
	} `json:"outcome"`
	Comeback *struct {
		JobID string `json:"job_id"`
		Same  bool   `json:"same_battery"`
		Days  int
		Proof string
		Done  []string
	} `json:"comeback"`
	Rules []struct{ Rule, Says string } `json:"rules"`
	At    string
}

// From arrival to proof: the verdict after the work stands beside the one before, and the sheet
// leads to the proof before it leads to handing over. What was here lately opens beside its
// last verdict.
func TestProofAndComeback(t *testing.T) {
	c := technician(t)
	job := c.opened()
	var s outcomeOf
	add := func(job string, r map[string]any) {
		t.Helper()
		c.call("POST", "/api/jobs/"+job+"/readings", map[string]any{"id": newID(), "reading": r}).into(200, &s)
	}
	add(job, map[string]any{"kind": "rest_voltage", "volts": 12.1, "minutes_since_charge": 600, "surface_charge": "rested"})
	if s.Outcome != nil {
		t.Errorf("nothing was done yet: %+v", s.Outcome)
	}
	add(job, map[string]any{"kind": "charged", "hours": 7, "amps_end": 0.3, "ended": "full"})
	add(job, map[string]any{"kind": "rest_voltage", "volts": 12.72, "minutes_since_charge": 600, "surface_charge": "rested"})
	if s.Outcome == nil || s.Outcome.Proof != "open" || s.Outcome.Before.Verdict != "charge_and_retest" {
		t.Fatalf("%+v", s.Outcome)
	}
	proof := map[string]any{"kind": "proof", "restart": "at_once", "complaint": "gone"}
	add(job, map[string]any{"kind": "crank", "volts_min": 10.6, "seconds": 3, "turned": "normal"})
	add(job, proof)
	if s.Outcome.Proof != "proven" || s.Outcome.Items[0].ReadingID == "" {
		t.Errorf("%+v", s.Outcome)
	}
	c.call("POST", "/api/jobs/"+job+"/close", nil).into(200, nil)
	again := mower(newID())
	again["battery"].(map[string]any)["tag"] = "K-0001"
	c.call("POST", "/api/jobs", again).into(200, &s)
	if k := s.Comeback; k == nil || k.JobID != job || !k.Same || k.Days != 0 || k.Proof != "proven" || len(k.Done) != 1 || !strings.HasPrefix(k.Done[0], "Charged") {
		t.Fatalf("%+v", k)
	}
	// The same vehicle of the same customer with another battery is back too; of another
	// customer it is not.
	c.call("POST", "/api/jobs/"+again["id"].(string)+"/close", nil).into(200, nil)
	for customer, back := range map[string]bool{"Parks": true, "Somebody else": false} {
		s = outcomeOf{}
		j := mower(newID())
		j["customer"] = customer
		c.call("POST", "/api/jobs", j).into(200, &s)
		if (s.Comeback != nil) != back || back && s.Comeback.Same {
			t.Errorf("%s: %+v", customer, s.Comeback)
		}
	}
}

// What a sheet says of its rules is how they were when the job came, whatever the house has
// chosen since.
func TestOldJobsKeepTheirRules(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, lead := b.as(t, "First technician"), b.as(t, "First lead")
	job := c.opened()
	c.call("POST", "/api/jobs/"+job+"/readings", restReading(newID(), 12.1)).into(200, nil)
	var house struct {
		Rules   map[string]any `json:"rules"`
		Version int            `json:"version"`
	}
	lead.call("GET", "/api/rules", nil).into(200, &house)
	house.Rules["load_test_min_soc_pct"] = 65
	lead.call("PUT", "/api/rules", map[string]any{"rules": house.Rules, "version": house.Version}).into(200, nil)
	says := func(job string) string {
		var s outcomeOf
		c.call("GET", "/api/jobs/"+job, nil).into(200, &s)
		for _, r := range s.Rules {
			if r.Rule == "Fair test" {
				return r.Says
			}
		}
		return fmt.Sprint(s.Rules)
	}
	if got := says(job); got != "three quarters (75 %)" {
		t.Errorf("the old one is judged by %q", got)
	}
	fresh := c.opened()
	c.call("POST", "/api/jobs/"+fresh+"/readings", restReading(newID(), 12.1)).into(200, nil)
	if got := says(fresh); got != "eye school (65 %)" {
		t.Errorf("the new one is judged by %q", got)
	}
}

// Figures are said with the decimal mark of whoever reads them, and taken with either.
func TestDecimalComma(t *testing.T) {
	c := technician(t)
	job := c.opened()
	c.call("PUT", "/api/session/preferences", map[string]any{"decimal": "comma"}).into(200, nil)
	r := c.call("POST", "/api/jobs/"+job+"/readings", restReading(newID(), 12.65))
	r.into(200, nil)
	if body := string(r.body); !strings.Contains(body, `"figure":"12,65"`) || !strings.Contains(body, "12,65 V") || strings.Contains(body, "12.65 V") {
		t.Errorf("%s", body)
	}
	c.call("PUT", "/api/session/preferences", map[string]any{"decimal": "semicolon"}).into(422, nil)
}

// eventually waits for what is done soon after a change.
func eventually(t *testing.T, what string, is func() bool) {
	t.Helper()
	for range 4800 { // two minutes
		if is() {
			return
		}
		time.Sleep(25 * time.Millisecond)
	}
	t.Fatalf("in vain: %s", what)
}

// Words of a note, a finding or the complaint find a job of any year, all of them and in any
// order; what is named so stands first.
func TestOneSearch(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c, other := b.as(t, "First technician"), b.as(t, "Second technician")
	crusty, plain := newID(), newID()
	c.call("POST", "/api/jobs", mower(crusty)).into(200, nil)
	c.call("POST", "/api/jobs/"+crusty+"/readings", map[string]any{"id": newID(), "reading": map[string]any{"kind": "inspection", "found": []string{"corrosion_live"}}}).into(200, nil)
	c.call("POST", "/api/jobs/"+crusty+"/notes", map[string]any{"id": newID(), "text": "Wedge från lådan"}).into(200, nil)
	c.call("POST", "/api/jobs/"+crusty+"/close", nil).into(200, nil)
	named := mower(plain)
	named["customer"] = "Wedge & Sons"
	c.call("POST", "/api/jobs", named).into(200, nil)
	c.call("POST", "/api/jobs/"+plain+"/close", nil).into(200, nil)
	type found struct {
		Jobs    []struct{ ID string }        `json:"jobs"`
		Earlier []struct{ ID, Found string } `json:"earlier"`
		All     int                          `json:"earlier_all"`
	}
	look := func(c caller, words string) (f found) {
		c.call("GET", "/api/jobs?find="+strings.ReplaceAll(words, " ", "%20"), nil).into(200, &f)
		return f
	}
	eventually(t, "the note is found", func() bool { return look(c, "wedge").All == 2 })
	if f := look(c, "wedge"); f.Earlier[0].ID != plain || f.Earlier[1].ID != crusty || !strings.Contains(f.Earlier[1].Found, "Wedge från") {
		t.Errorf("%+v", f)
	}
	for words, n := range map[string]int{"corrosion": 1, "fran LADAN": 1, "mower corrosion": 1, "corrosion mower parks": 1, "turns slowly": 2, "crust clamp": 1, "corrosion sons": 0, "zebra": 0} {
		if f := look(c, words); f.All != n || len(f.Jobs) != 0 {
			t.Errorf("%q: %+v, want %d", words, f, n)
		}
	}
	if f := look(other, "wedge"); f.All != 0 {
		t.Errorf("another workshop finds %+v", f)
	}
	// What is taken back is not found any more.
	p := c.papers(crusty)
	c.call("PUT", "/api/jobs/"+crusty+"/notes/"+p.Notes[0].ID, map[string]any{"back": true}).into(200, nil)
	eventually(t, "the note is forgotten", func() bool { return look(c, "wedge").All == 1 })
}

// Whatever is asked of the labels and the report that cannot be is refused in words.
func TestPapersAskedBadly(t *testing.T) {
	c := technician(t)
	job := c.opened()
	for path, status := range map[string]int{
		"/api/jobs/" + job + "/report?zone=Nowhere/City": 422, "/api/jobs/" + job + "/report?size=A3": 422, "/api/jobs/" + newID() + "/report": 404,
		"/api/labels": 422, "/api/labels?job=" + job + "&sheet=a4-9": 422, "/api/labels?job=" + job + "&from=22": 422, "/api/labels?job=" + job + "&from=0": 422,
		"/api/labels?job=" + newID(): 404, "/api/jobs/" + job + "/reset-tag": 409, "/api/jobs/" + job + "/calendar": 409, "/api/batteries/NONE/sheet": 404,
	} {
		if r := c.call("GET", path, nil); r.status != status || r.header.Get("Content-Type") != "application/problem+json" {
			t.Errorf("%s: %d %s", path, r.status, r.body)
		}
	}
	for _, path := range []string{"/api/labels?job=" + job + "&from=21", "/api/jobs/" + job + "/report?zone=Europe/Vienna&size=Letter"} {
		if r := c.call("GET", path, nil); r.status != 200 || !bytes.HasPrefix(r.body, []byte("%PDF-")) {
			t.Errorf("%s: %d", path, r.status)
		}
	}
	var to struct {
		JobID string `json:"job_id"`
		Open  bool
	}
	c.call("GET", "/api/batteries/k-0001/sheet", nil).into(200, &to)
	if to.JobID != job || !to.Open {
		t.Errorf("%+v", to)
	}
	c.call("POST", "/api/jobs/"+job+"/close", nil).into(200, nil)
	if c.call("GET", "/api/batteries/K-0001/sheet", nil).into(200, &to); to.JobID != job || to.Open {
		t.Errorf("once it is handed over: %+v", to)
	}
	if len(c.papers(job).Forgotten) != 0 {
		t.Error("it has forgotten something though nothing was off")
	}
}
