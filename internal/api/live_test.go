package api

import (
	"bufio"
	"compress/gzip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"grapnel/core/reading"
	"grapnel/internal/effort"
	"grapnel/internal/localdb/dbtest"
	"grapnel/internal/store"
)

// listen opens the stream of a caller and gives what it says, one event a line.
func (c caller) listen() (events chan string, end func()) {
	c.t.Helper()
	ctx, cancel := context.WithCancel(context.Background())
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, c.base+"/api/events", nil)
	must(c.t, err)
	res, err := c.client.Do(req)
	must(c.t, err)
	if got := res.Header.Get("Content-Type"); res.StatusCode != 200 || got != "text/event-stream" {
		c.t.Fatalf("GET /api/events: %d, %s", res.StatusCode, got)
	}
	events = make(chan string, 32)
	go func() {
		defer func() { _ = res.Body.Close() }()
		defer close(events)
		event := ""
		for in := bufio.NewScanner(res.Body); in.Scan(); {
			if name, ok := strings.CutPrefix(in.Text(), "event: "); ok {
				event = name
			} else if data, ok := strings.CutPrefix(in.Text(), "data: "); ok {
				events <- event + " " + data
			}
		}
	}()
	return events, cancel
}

// next waits for the next event.
func next(t *testing.T, events chan string) string {
	t.Helper()
	select {
	case e := <-events:
		return e
	case <-time.After(effort.Patience(time.Minute)):
		t.Fatal("nothing was told")
		return ""
	}
}

// Every change of a job is told to the devices of its workshop, and to no other;
// also one that was made through another server on the same database.
func TestLive(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	ines, lead, stranger := b.as(t, "First technician"), b.as(t, "First lead"), b.as(t, "Second technician")
	id := ines.opened()
	events, end := lead.listen()
	defer end()
	theirs, endTheirs := stranger.listen()
	defer endTheirs()
	if got := next(t, events) + next(t, theirs); strings.Count(got, "here ") != 2 {
		t.Fatalf("begins with %s", got)
	}
	told := func(what string) {
		t.Helper()
		// The opening of the job may still be told.
		for range 3 {
			if got := next(t, events); got == fmt.Sprintf(`jobs [%q]`, id) {
				return
			}
		}
		t.Fatalf("%s was not told", what)
	}
	told("what was just opened")
	volts := newID()
	var s sheetOf
	for _, change := range []struct {
		method, path string
		body         any
	}{
		{"POST", "/readings", restReading(volts, 12.24)},
		{"POST", "/readings/" + volts + "/withdraw", map[string]string{"id": newID()}},
		{"POST", "/rests", map[string]any{"id": newID(), "minutes": 60}},
		{"DELETE", "/rests", nil},
		{"POST", "/close", nil},
		{"POST", "/reopen", nil},
	} {
		ines.call(change.method, "/api/jobs/"+id+change.path, change.body).into(200, &s)
		told(change.method + " " + change.path)
	}
	changed := mower("")
	delete(changed, "id")
	changed["version"] = s.Job.Version
	ines.call("PUT", "/api/jobs/"+id, changed).into(200, nil)
	told("the label")
	p, err := b.store.PersonNamed(context.Background(), "First technician")
	must(t, err)
	must(t, b.store.AddReading(context.Background(), p.WorkshopID, store.StoredReading{JobID: id, ByID: p.ID,
		Entry: reading.Entry{ID: newID(), Reading: reading.Of("rest_voltage", reading.Fields{"volts": 12.5})}}))
	told("a reading through another server")
	// Nothing is told twice, though it is looked for again.
	select {
	case again := <-events:
		t.Errorf("told again: %s", again)
	case <-time.After(2*lookEvery + lookEvery/2):
	}
	if len(theirs) > 0 {
		t.Errorf("another workshop heard %s", <-theirs)
	}
	b.nobody(t).call("GET", "/api/events", nil).into(401, nil)
}

// When the server ends, so do its streams: nothing holds it back.
func TestLiveEnds(t *testing.T) {
	ending, stop := context.WithCancel(context.Background())
	events, end := newBench(t, dbtest.Server(), func(c *Config) { c.Ending = ending }).as(t, "First lead").listen()
	defer end()
	next(t, events)
	stop()
	for range 10 {
		if _, open := <-events; !open {
			return
		}
	}
	t.Error("the stream goes on")
}

// A device that reads nothing is cut off, and does not hold up the others.
func TestLiveDropsTheSlow(t *testing.T) {
	l := newLive(nil)
	shop := &listeners{streams: map[chan []string]bool{}, end: func() {}}
	l.shops["w"] = shop
	slow, leave := l.join("w")
	for range behind + 1 {
		l.tell(shop, []string{"a"})
	}
	n := 0
	for range slow {
		n++
	}
	if n != behind || shop.streams[slow] {
		t.Errorf("%d of %d came, still there: %t", n, behind, shop.streams[slow])
	}
	leave()
	if l.shops["w"] != nil {
		t.Error("nobody listens, and it is still watched")
	}
}

// A workshop holds so many streams open and no more; one that ends makes room.
func TestLiveHasRoomForSoMany(t *testing.T) {
	l := newLive(nil)
	l.shops["w"] = &listeners{streams: map[chan []string]bool{}, end: func() {}}
	_, leave := l.join("w")
	for range mostOpen - 1 {
		if stream, _ := l.join("w"); stream == nil {
			t.Fatal("refused with room left")
		}
	}
	if stream, _ := l.join("w"); stream != nil {
		t.Error("one more than there is room for")
	}
	leave()
	if stream, _ := l.join("w"); stream == nil {
		t.Error("no room though one left")
	}
}

// A reading that is taken back stays in the log, says by whom, and counts no more;
// it may be repeated, and only once.
func TestWithdraw(t *testing.T) {
	c := technician(t)
	id, volts, back := c.opened(), newID(), newID()
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(volts, 12.24)).into(200, nil)
	path := "/api/jobs/" + id + "/readings/" + volts + "/withdraw"
	var s struct {
		InEffect []string `json:"in_effect"`
		Readings []struct{ ID, Withdrawn string }
		SOC      *struct{} `json:"soc_pct"`
	}
	for range 2 {
		c.call("POST", path, map[string]string{"id": back}).into(200, &s)
		if len(s.Readings) != 1 || s.Readings[0].Withdrawn != "First technician" || len(s.InEffect) != 0 || s.SOC != nil {
			t.Errorf("taken back: %+v", s)
		}
	}
	c.call("POST", path, map[string]string{"id": newID()}).into(409, nil)
	c.call("POST", "/api/jobs/"+id+"/readings/"+newID()+"/withdraw", map[string]string{"id": newID()}).into(404, nil)
	c.call("POST", "/api/jobs/"+id+"/readings", map[string]any{"id": newID(),
		"reading": map[string]string{"kind": "withdrawn"}}).into(422, nil)
}

// A conflict says of which kind it is, so that a program can go on from it.
func TestConflictsAreToldApart(t *testing.T) {
	c := technician(t)
	id, volts := c.opened(), newID()
	kind := func(r reply) string {
		var p struct{ Type string }
		r.into(409, &p)
		return p.Type
	}
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(volts, 12.24)).into(200, nil)
	if got := kind(c.call("POST", "/api/jobs/"+id+"/readings", restReading(volts, 12.25))); got != taken {
		t.Errorf("another content under one id: %s", got)
	}
	fix := restReading(newID(), 12.3)
	fix["replaces"] = volts
	c.call("POST", "/api/jobs/"+id+"/readings", fix).into(200, nil)
	fix["id"] = newID()
	if got := kind(c.call("POST", "/api/jobs/"+id+"/readings", fix)); got != changed {
		t.Errorf("corrected twice: %s", got)
	}
}

// A case file of a tag that is known here asks whose it is; the answer decides.
func TestImportAsks(t *testing.T) {
	c := technician(t)
	c.call("POST", "/api/jobs", mower(newID())).into(200, nil) // K-0001
	file := `{"format":"grapnel.case/1","vehicle":{"class":"mower","system_volts":12},"battery":{"tag":"K-0001","chemistry":"flooded",
		"rating":{"cca":%d,"standard":"SAE","ah_20h":28}},"readings":[]}`
	for label, says := range map[int]string{300: "the same label", 230: "another label"} {
		var p struct{ Type, Detail string }
		c.call("POST", "/api/cases?id="+newID(), fmt.Sprintf(file, label)).into(409, &p)
		if p.Type != knownTag || !strings.Contains(p.Detail, says) {
			t.Errorf("%d CCA: %+v", label, p)
		}
	}
	for answer, want := range map[string]string{"same": "K-0001", "other": "K-0002"} {
		var s sheetOf
		c.call("POST", "/api/cases?battery="+answer+"&id="+newID(), fmt.Sprintf(file, 230)).into(200, &s)
		if s.Job.Battery.Tag != want || (answer == "other") != strings.Contains(s.Job.Note, "K-0001") {
			t.Errorf("%s: %+v", answer, s.Job)
		}
	}
	c.call("POST", "/api/cases?battery=x&id="+newID(), fmt.Sprintf(file, 230)).into(422, nil)
}

// The list says who worked on a job last and since when it waits; the clock says
// that a rest ends before it is over, and calls nobody to what is stopped.
func TestWaitingAndClock(t *testing.T) {
	now := time.Now()
	b := newBench(t, dbtest.Server(), func(c *Config) { c.Now = func() time.Time { return now } })
	tech, lead := b.as(t, "First technician"), b.as(t, "First lead")
	id := tech.opened()
	var list struct {
		Jobs []struct {
			By    string
			Since time.Time
		}
	}
	var clock struct {
		Moments []struct {
			Word, Call, Station string
			Over                bool
		}
	}
	see := func() {
		t.Helper()
		tech.call("GET", "/api/jobs", nil).into(200, &list)
		tech.call("GET", "/api/clock", nil).into(200, &clock)
	}
	see()
	opened := list.Jobs[0].Since
	if list.Jobs[0].By != "First technician" {
		t.Errorf("opened: %+v", list)
	}
	lead.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.24)).into(200, nil)
	lead.call("POST", "/api/jobs/"+id+"/rests", map[string]any{"id": newID(), "minutes": 60}).into(200, nil)
	see()
	if read := list.Jobs[0].Since; list.Jobs[0].By != "First lead" || !read.After(opened) {
		t.Errorf("read: %+v", list)
	}
	if m := clock.Moments[0]; m.Over || m.Word != "rest ends" {
		t.Errorf("resting: %+v", m)
	}
	now = now.Add(61 * time.Minute)
	see()
	if m := clock.Moments[0]; !m.Over || m.Word != "rest over" || m.Call == "" || m.Station != "rest_voltage" {
		t.Errorf("rested: %+v", m)
	}
	if waits := now.Sub(list.Jobs[0].Since); waits < 30*time.Second || waits > 2*time.Minute {
		t.Errorf("it waits since its rest was over, %s", waits)
	}
	tech.call("POST", "/api/jobs/"+id+"/readings", map[string]any{"id": newID(),
		"reading": map[string]any{"kind": "inspection", "found": []string{"leaking"}}}).into(200, nil)
	if see(); len(clock.Moments) != 0 {
		t.Errorf("a leaking battery calls for its volts: %+v", clock)
	}
}

// What a list weighs on the line is its compressed size; who is signed in has what
// the page asks for first named ahead of the program.
func TestFirstLoad(t *testing.T) {
	b := newBench(t, dbtest.Server(), func(c *Config) { c.Web = built })
	c := b.as(t, "First technician")
	id := c.opened()
	r := c.call("GET", "/api/jobs", nil, "Accept-Encoding", "gzip")
	if r.header.Get("Content-Encoding") != "gzip" {
		t.Fatalf("sent as %s", r.header.Get("Content-Encoding"))
	}
	in, err := gzip.NewReader(strings.NewReader(string(r.body)))
	must(t, err)
	raw, err := io.ReadAll(in)
	must(t, err)
	if !json.Valid(raw) || !strings.Contains(string(raw), id) {
		t.Errorf("%s", raw)
	}
	for path, want := range map[string]string{
		"/":           `href="/api/jobs?closed=false&amp;find="`,
		"/?find=x":    `href="/api/session"`,
		"/jobs/" + id: `href="/api/jobs/` + id + `"`,
		"/rules":      `href="/api/session"`,
		`/jobs/">x`:   `href="/api/clock"`,
	} {
		page := string(c.call("GET", path, nil).body)
		if !strings.Contains(page, want) || strings.Contains(page, `">x`) || strings.Contains(path, "?") && strings.Contains(page, "/api/jobs") {
			t.Errorf("%s: %s", path, page)
		}
		// A part's own files are named, those that every page loads are not again.
		own := strings.Count(page, "modulepreload")
		if sheet := strings.HasPrefix(path, "/jobs/"); sheet && (own != 2 || !strings.Contains(page, "work.js")) || !sheet && own != 0 {
			t.Errorf("%s: %s", path, page)
		}
	}
	if page := string(b.nobody(t).call("GET", "/", nil).body); strings.Count(page, "preload") != 1 || !strings.Contains(page, "/api/session") {
		t.Errorf("nobody is signed in: %s", page)
	}
	for _, file := range []struct{ path, takes, encoding, body string }{
		{"/assets/a.js", "gzip, br", "br", "packed"}, {"/assets/a.js", "identity", "", "unpacked"},
		{"/assets/plain.js", "br", "", "plain"},
	} {
		r := c.call("GET", file.path, nil, "Accept-Encoding", file.takes)
		if got := r.header.Get("Content-Encoding"); got != file.encoding || string(r.body) != file.body ||
			!strings.HasPrefix(r.header.Get("Content-Type"), "text/javascript") {
			t.Errorf("%s for %s: %s, %s, %s", file.path, file.takes, got, r.header.Get("Content-Type"), r.body)
		}
	}
}
