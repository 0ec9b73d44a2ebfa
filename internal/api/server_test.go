package api

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"syscall"
	"testing"
	"testing/fstest"
	"time"

	"grapnel/internal/effort"
	"grapnel/internal/localdb"
	"grapnel/internal/localdb/dbtest"
)

func TestSignIn(t *testing.T) {
	b := newBench(t, dbtest.Server(), func(c *Config) { c.DemoSignIns = []DemoSignIn{{"First lead", phrase, "lead"}} })
	c := b.nobody(t)
	var s struct {
		Person *struct{ Name, Role, Workshop string } `json:"person"`
		Demo   []DemoSignIn                           `json:"demo"`
	}
	c.call("GET", "/api/session", nil).into(200, &s)
	if s.Person != nil || len(s.Demo) != 1 {
		t.Errorf("nobody: %+v", s)
	}
	for _, try := range [][2]string{{"First lead", "wrong"}, {"Nobody", phrase}, {"", ""}} {
		r := c.call("POST", "/api/session", map[string]string{"name": try[0], "passphrase": try[1]})
		if r.status != 401 || r.header.Get("Set-Cookie") != "" {
			t.Errorf("%v: %d %s", try, r.status, r.header.Get("Set-Cookie"))
		}
	}
	c.call("GET", "/api/jobs", nil).into(401, nil)
	r := c.call("POST", "/api/session", map[string]string{"name": "First lead", "passphrase": phrase})
	r.into(200, &s)
	if s.Person == nil || s.Person.Role != "lead" || s.Person.Workshop != "First" {
		t.Errorf("signed in as %+v", s.Person)
	}
	if cookie := r.header.Get("Set-Cookie"); !strings.Contains(cookie, "HttpOnly") ||
		!strings.Contains(cookie, "SameSite=Lax") {
		t.Errorf("cookie %s", cookie)
	}
	// Signing in anew, the cookie known before is worth nothing.
	before := r.header.Get("Set-Cookie")
	r = c.call("POST", "/api/session", map[string]string{"name": "First lead", "passphrase": phrase})
	if after := r.header.Get("Set-Cookie"); r.status != 200 || after == "" || after[:40] == before[:40] {
		t.Errorf("%d, before %s, after %s", r.status, before, after)
	}
	c.call("PUT", "/api/session/preferences", map[string]string{"temperature": "F", "theme": "dark"}).into(200, nil)
	c.call("DELETE", "/api/session", nil).into(204, nil)
	c.call("GET", "/api/jobs", nil).into(401, nil)
}

// A sign of life is noted at most once in ten minutes, and no request but a sign-in sets
// a cookie; a day without a sign of life ends a session, and a week in any case.
func TestSessionsSignsOfLife(t *testing.T) {
	now := time.Now()
	b := newBench(t, dbtest.Server(), func(c *Config) { c.Now = func() time.Time { return now } })
	c := b.nobody(t)
	c.call("POST", "/api/session", map[string]string{"name": "First lead", "passphrase": phrase}).into(200, nil)
	lead, err := b.store.PersonNamed(t.Context(), "First lead")
	must(t, err)
	seen := func() time.Time {
		all, err := b.store.Sessions(t.Context(), lead.ID, time.Now().AddDate(0, 0, -1))
		must(t, err)
		return all[0].SeenAt
	}
	last := seen()
	now = last // a session begins by the store's clock
	steps := []struct {
		later  time.Duration
		status int
		noted  bool
	}{
		{0, 200, false},
		{10*time.Minute - time.Second, 200, false},
		{2 * time.Second, 200, true},
		{time.Second, 200, false},
		{24*time.Hour - 2*time.Second, 200, true},
	}
	for range 5 {
		steps = append(steps, struct {
			later  time.Duration
			status int
			noted  bool
		}{24*time.Hour - 2*time.Second, 200, true})
	}
	steps = append(steps, struct {
		later  time.Duration
		status int
		noted  bool
	}{24*time.Hour - 2*time.Second, 401, false}) // the seventh day is over
	for i, step := range steps {
		now = now.Add(step.later)
		r := c.call("GET", "/api/jobs", nil)
		noted := step.status == 200 && !seen().Equal(last)
		if r.status != step.status || noted != step.noted || r.header.Get("Set-Cookie") != "" {
			t.Errorf("%d: %v later: %d, noted %t, cookie %q", i, step.later, r.status, noted, r.header.Get("Set-Cookie"))
		}
		if step.status == 200 {
			last = seen()
		}
	}
	now = time.Now()
	c.call("POST", "/api/session", map[string]string{"name": "First lead", "passphrase": phrase}).into(200, nil)
	now = time.Now().Add(24*time.Hour + time.Second)
	c.call("GET", "/api/jobs", nil).into(401, nil)
}

func TestSecureCookieAndSignInLimit(t *testing.T) {
	b := newBench(t, dbtest.Server(), func(c *Config) { c.SecureCookie, c.SignInsMinute = true, 3 })
	c := b.nobody(t)
	in := map[string]string{"name": "First lead", "passphrase": phrase}
	r := c.call("POST", "/api/session", in)
	for _, cookie := range r.header["Set-Cookie"] {
		// A browser takes a __Host- cookie only with Secure, the whole path and no domain.
		if !strings.HasPrefix(cookie, "__Host-grapnel") || !strings.Contains(cookie, "; Secure") ||
			!strings.Contains(cookie, "; Path=/;") ||
			strings.Contains(cookie, "Domain") {
			t.Errorf("cookie %q", cookie)
		}
	}
	if len(r.header["Set-Cookie"]) != 2 || r.header.Get("Strict-Transport-Security") != "max-age=31536000" {
		t.Errorf("%d cookies, %q", len(r.header["Set-Cookie"]), r.header.Get("Strict-Transport-Security"))
	}
	last := 0
	for range 4 {
		last = c.call("POST", "/api/session", in).status
	}
	if last != 429 {
		t.Errorf("the fifth try in a minute: %d", last)
	}
	c.call("GET", "/api/session", nil).into(200, nil)
}

func TestHeadersAndCrossOrigin(t *testing.T) {
	c := technician(t)
	page := c.call("GET", "/jobs/anything", nil)
	csp := page.header.Get("Content-Security-Policy")
	nonce := regexp.MustCompile(`'nonce-([^']+)'`).FindStringSubmatch(csp)
	if len(nonce) != 2 || !strings.Contains(string(page.body), `content="`+nonce[1]+`"`) {
		t.Fatalf("the page and its policy do not share a nonce: %s\n%s", csp, page.body)
	}
	if strings.Contains(csp, "unsafe") || !strings.Contains(csp, "script-src 'self';") ||
		!strings.Contains(csp, "default-src 'none'") || !strings.HasSuffix(csp, "frame-ancestors 'none'") {
		t.Errorf("policy %s", csp)
	}
	again := c.call("GET", "/", nil)
	if again.header.Get("Content-Security-Policy") == csp {
		t.Error("the nonce is the same twice")
	}
	if got := page.header.Get("X-Content-Type-Options") + page.header.Get("X-Frame-Options"); got != "nosniffDENY" {
		t.Errorf("headers %q", got)
	}
	if r := c.call("GET", "/assets/a.js", nil); !strings.Contains(r.header.Get("Cache-Control"), "immutable") {
		t.Errorf("built file: %s", r.header.Get("Cache-Control"))
	}
	c.call("GET", "/assets/missing.js", nil).into(404, nil)
	r := c.call("POST", "/api/jobs", mower(newID()), "Sec-Fetch-Site", "cross-site",
		"Origin", "https://elsewhere.example")
	if r.status != 403 {
		t.Errorf("a post from another site: %d", r.status)
	}
	if r := c.call("GET", "/api/nothing", nil); r.status != 404 ||
		!strings.Contains(r.header.Get("Content-Type"), "problem+json") {
		t.Errorf("unknown operation: %d %s", r.status, r.header.Get("Content-Type"))
	}
}

func TestWithoutABuildThePageSaysHow(t *testing.T) {
	b := newBench(t, dbtest.Server(), func(c *Config) { c.Web = fstest.MapFS{} })
	if r := b.nobody(t).call("GET", "/", nil); !strings.Contains(string(r.body), "make build") {
		t.Errorf("%s", r.body)
	}
}

func TestDescription(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.nobody(t)
	var d struct {
		OpenAPI string                                `json:"openapi"`
		Paths   map[string]map[string]json.RawMessage `json:"paths"`
	}
	c.call("GET", "/api/openapi.json", nil).into(200, &d)
	if !strings.HasPrefix(d.OpenAPI, "3.1") || len(d.Paths) < 12 {
		t.Errorf("openapi %s with %d paths", d.OpenAPI, len(d.Paths))
	}
	for path, methods := range d.Paths {
		for method, op := range methods {
			if path != "/api/session" && path != "/api/session/switch" && !strings.Contains(string(op), `"security"`) {
				t.Errorf("%s %s needs nobody signed in", method, path)
			}
		}
	}
	c.call("GET", "/api/docs", nil).into(200, nil)
}

func TestHouseRulesAreTheLeads(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	tech, lead := b.as(t, "First technician"), b.as(t, "First lead")
	id := tech.opened()
	var r struct {
		Rules     map[string]any `json:"rules"`
		Version   int            `json:"version"`
		MayChange bool           `json:"may_change"`
		Changes   []struct {
			By    string
			Rules []struct{ Rule, Class, From, To string }
		} `json:"changes"`
	}
	tech.call("GET", "/api/rules", nil).into(200, &r)
	change := map[string]any{"rules": r.Rules, "version": r.Version}
	r.Rules["load_test_min_soc_pct"] = 40
	if r.MayChange {
		t.Error("a technician is told they may change the rules")
	}
	tech.call("PUT", "/api/rules", change).into(403, nil)
	var p problemAnswer
	lead.call("PUT", "/api/rules", change).into(422, &p)
	if len(p.Errors) != 1 || p.Errors[0].Location != "body.rules.load_test_min_soc_pct" {
		t.Errorf("out of range: %+v", p)
	}
	r.Rules["load_test_min_soc_pct"] = 65
	r.Rules["by_class"].(map[string]any)["boat"] = map[string]any{"drain_max_ma": 45, "charge_place": "bench"}
	lead.call("PUT", "/api/rules", change).into(200, nil)
	lead.call("PUT", "/api/rules", change).into(200, nil) // a repeat, whose first answer was lost
	r.Rules["load_test_min_soc_pct"] = 70
	lead.call("PUT", "/api/rules", change).into(409, nil)
	tech.call("GET", "/api/rules", nil).into(200, &r)
	want := "[{First lead [{Fair test  three quarters (75 %) eye school (65 %)} {Drain boat simple vehicles (30 mA) 45 mA} " +
		"{Charging boat as for all on the bench}]}]"
	if got := fmt.Sprint(r.Changes); got != want {
		t.Errorf("on record:\n%s\nwant\n%s", got, want)
	}

	// 12.38 V is about 67 %: enough for the new rule, not for the job's own.
	next := newID()
	tech.call("POST", "/api/jobs", mower(next)).into(200, nil)
	for job, want := range map[string]string{id: "charge_and_retest", next: "more_readings"} {
		var s sheetOf
		tech.call("POST", "/api/jobs/"+job+"/readings", restReading(newID(), 12.38)).into(200, &s)
		if s.Verdict != want {
			t.Errorf("%s, want %s", s.Verdict, want)
		}
	}
}

// A job taken out as a case and brought back is judged the same, and cannot
// change another battery's label.
func TestCaseOutAndIn(t *testing.T) {
	c := technician(t)
	raw, err := os.ReadFile("../../core/casefile/testdata/case.json")
	must(t, err)
	var first, second, third sheetOf
	id := newID()
	for range 2 {
		c.call("POST", "/api/cases?id="+id, string(raw)).into(200, &first)
	}
	if len(first.Readings) != 14 {
		t.Fatalf("%d readings of 14", len(first.Readings))
	}
	out := c.call("GET", "/api/jobs/"+id+"/case", nil)
	if d := out.header.Get("Content-Disposition"); !strings.Contains(d, "K-0001.case.json") {
		t.Errorf("file name %s", d)
	}
	c.call("POST", "/api/cases?battery=same&id="+newID(), string(out.body)).into(200, &second)
	if second.Job.Battery.Tag != "K-0001" || second.Verdict != first.Verdict {
		t.Errorf("brought back: %+v", second)
	}
	other := strings.Replace(string(out.body), `"cca":650`, `"cca":400`, 1)
	if other == string(out.body) {
		t.Fatal("the label was not changed")
	}
	c.call("POST", "/api/cases?battery=other&id="+newID(), other).into(200, &third)
	if third.Job.Battery.Tag != "K-0002" || !strings.Contains(third.Job.Note, "K-0001") {
		t.Errorf("another battery under the same tag: %+v", third.Job)
	}
	var a struct {
		Verdict string `json:"verdict"`
	}
	c.call("POST", "/api/assess", string(out.body)).into(200, &a)
	if a.Verdict != first.Verdict {
		t.Errorf("assessed alone: %s", a.Verdict)
	}
}

// With a database that hangs, everything is answered honestly in five seconds, also when
// more ask than there are connections; when it goes on, so does the work.
func TestDatabaseHangs(t *testing.T) {
	quiet(t)
	own, err := localdb.Start(t.Context(), filepath.Join(t.TempDir(), "db"))
	must(t, err)
	defer func() { _ = own.Kill() }()
	b := newBench(t, own, nil)
	c := b.as(t, "First technician")
	id := c.opened()
	save := restReading(newID(), 12.4)
	must(t, own.Signal(syscall.SIGSTOP))
	// What does wait for the database, or is answered without an end, is cut off, and told.
	defer time.AfterFunc(effort.Patience(time.Minute), b.CloseClientConnections).Stop()
	start := time.Now()
	var asking sync.WaitGroup
	ask := func(status int, method, path string, body any) {
		asking.Go(func() {
			if r := c.call(method, path, body); r.status != status || time.Since(start) > 15*time.Second {
				t.Errorf("%s %s: %d after %s: %.200s", method, path, r.status, time.Since(start), r.body)
			}
		})
	}
	for range 8 {
		ask(503, "GET", "/api/jobs", nil)
		ask(503, "GET", "/api/session", nil)
		ask(503, "GET", "/api/events", nil)
		ask(503, "POST", "/api/jobs/"+id+"/readings", save)
		ask(503, "POST", "/api/session", map[string]string{"name": "First lead", "passphrase": phrase})
		ask(503, "GET", "/readyz", nil)
		ask(200, "GET", "/healthz", nil)
	}
	asking.Wait()
	must(t, own.Signal(syscall.SIGCONT))
	var s sheetOf
	c.call("POST", "/api/jobs/"+id+"/readings", save).into(200, &s)
	if len(s.Readings) != 1 {
		t.Errorf("%d readings", len(s.Readings))
	}
	c.call("GET", "/readyz", nil).into(200, nil)
}

// Who leaves before the answer is no failure of ours, neither in the log nor in what is
// counted, whatever was asked for.
func TestAskerLeaves(t *testing.T) {
	shop := newBench(t, dbtest.Server(), nil)
	lead := shop.as(t, "First lead")
	job := lead.opened()
	left, leave := context.WithCancel(t.Context())
	leave()
	ask := func(method, path string, body io.Reader) {
		r := httptest.NewRequestWithContext(left, method, path, body)
		r.Header.Set("Content-Type", "application/json")
		r.AddCookie(&http.Cookie{Name: "grapnel", Value: lead.token("grapnel")})
		w := httptest.NewRecorder()
		shop.Config.Handler.ServeHTTP(w, r)
		if w.Code != gone {
			t.Errorf("%s %s: %d %.200s", method, path, w.Code, w.Body)
		}
	}
	asked := 0
	for at, item := range Describe().Paths {
		if item.Get != nil && needOf(item.Get) != needNobody {
			ask("GET", strings.NewReplacer("{id}", job, "{reading}", newID(), "{tag}", "K-0001").Replace(at), nil)
			asked++
		}
	}
	if asked < 5 {
		t.Errorf("%d asked for", asked)
	}
	body, err := json.Marshal(restReading(newID(), 12.4))
	must(t, err)
	ask("POST", "/api/jobs/"+job+"/readings", bytes.NewReader(body))
	var s sheetOf
	lead.call("GET", "/api/jobs/"+job, nil).into(200, &s)
	if len(s.Readings) != 0 {
		t.Errorf("%d readings", len(s.Readings))
	}
}

// A database without room keeps nothing and says so: nothing counts as saved, the server
// is not ready, and what was there is read all the same.
func TestDatabaseFull(t *testing.T) {
	quiet(t)
	own, err := localdb.Start(
		t.Context(),
		filepath.Join(t.TempDir(), "db"),
		"--innodb-file-per-table=0",
		"--innodb-data-file-path=ibdata1:12M:autoextend:max:20M",
	)
	must(t, err)
	defer func() { _ = own.Kill() }()
	b := newBench(t, own, nil)
	c := b.as(t, "First technician")
	id := c.opened()
	c.call("GET", "/readyz", nil).into(200, nil)
	_, err = b.store.DB().Exec(`CREATE TABLE filler (id INT AUTO_INCREMENT PRIMARY KEY, b LONGBLOB)`)
	must(t, err)
	for _, size := range []int{64 << 10, 4 << 10, 100} { // the database ends itself where a larger one cannot be taken back
		for err = nil; err == nil; {
			_, err = b.store.DB().Exec(`INSERT INTO filler (b) VALUES (REPEAT('x', ?))`, size)
		}
	}
	saved, failed := 0, reply{}
	for failed.status != 503 && saved < 300 {
		if failed = c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.4)); failed.status == 200 {
			saved++
		}
	}
	if failed.status != 503 || !strings.Contains(string(failed.body), "Nothing was saved") {
		t.Fatalf("after %d saved: %d %.300s", saved, failed.status, failed.body)
	}
	c.call("GET", "/readyz", nil).into(503, nil)
	c.call("GET", "/api/jobs/"+id, nil).into(200, nil)
}

// With the database gone, answers say so and that nothing was saved; when it is
// back, work goes on without a restart.
func TestDatabaseGoneAndBack(t *testing.T) {
	ctx := context.Background()
	dir := filepath.Join(t.TempDir(), "db")
	own, err := localdb.Start(ctx, dir)
	must(t, err)
	b := newBench(t, own, nil)
	c := b.as(t, "First technician")
	id := c.opened()
	must(t, own.Kill())
	c.call("GET", "/readyz", nil).into(503, nil)
	c.call("GET", "/healthz", nil).into(200, nil)
	r := c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.4))
	if r.status != 503 || !strings.Contains(string(r.body), "Nothing was saved") {
		t.Errorf("saving without a database: %d %s", r.status, r.body)
	}
	own, err = localdb.Start(ctx, dir)
	must(t, err)
	defer func() { _ = own.Kill() }()
	var s sheetOf
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.4)).into(200, &s)
	if len(s.Readings) != 1 {
		t.Errorf("%d readings", len(s.Readings))
	}
}
