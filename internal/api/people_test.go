package api

import (
	"context"
	"encoding/base64"
	"fmt"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"grapnel/internal/localdb/dbtest"
	"grapnel/internal/store"
)

// token is the session a caller's browser keeps.
func (c caller) token(name string) string {
	for _, one := range c.client.Jar.Cookies(must2(http.NewRequest("GET", c.base, nil)).URL) {
		if one.Name == name {
			return one.Value
		}
	}
	return ""
}

// Signed out is signed out, whatever requests were under way: their session does not
// come back, and none of them sets a cookie.
func TestSignOutHolds(t *testing.T) {
	quiet(t)
	b := newBench(t, dbtest.Server(), nil)
	for range 10 {
		c := b.as(t, "First technician")
		kept := c.token("grapnel")
		var under sync.WaitGroup
		for range 4 {
			under.Go(func() {
				if r := b.with(t, kept).call("GET", "/api/jobs", nil); r.header.Get("Set-Cookie") != "" {
					t.Errorf("a read set %s", r.header.Get("Set-Cookie"))
				}
			})
		}
		c.call("DELETE", "/api/session", nil).into(204, nil)
		under.Wait()
		b.with(t, kept).call("GET", "/api/jobs", nil).into(401, nil)
	}
}

// with is a browser that sends a session whatever it is told.
func (b shop) with(t testing.TB, session string) caller {
	c := b.nobody(t)
	c.client = &http.Client{Transport: sending{"grapnel=" + session}}
	return c
}

type sending struct{ cookie string }

func (s sending) RoundTrip(r *http.Request) (*http.Response, error) {
	r.Header.Set("Cookie", s.cookie)
	return http.DefaultTransport.RoundTrip(r)
}

// A read writes nothing, and what is kept of a session opens none.
func TestReadsDoNotWrite(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	id := c.opened()
	eventually(t, "the job is written down for finding", func() bool {
		left, err := b.store.Unfound(context.Background(), time.Unix(0, 0), 1)
		must(t, err)
		return len(left) == 0
	})
	writes := func() (n int) {
		var name string
		for _, counter := range []string{"Handler_write", "Handler_update", "Handler_delete"} {
			var one int
			must(t, b.store.DB().QueryRow(`SHOW GLOBAL STATUS LIKE '`+counter+`'`).Scan(&name, &one))
			n += one
		}
		return n
	}
	start := writes()
	looking := writes() - start // takes some itself
	for range 20 {
		c.call("GET", "/api/jobs/"+id, nil).into(200, nil)
		c.call("GET", "/api/session", nil).into(200, nil)
	}
	if n := writes() - start - 2*looking; n > 0 {
		t.Errorf("40 reads wrote %d rows", n)
	}
	c.call("GET", "/readyz", nil).into(200, nil)
	start = writes()
	for range 20 {
		c.call("GET", "/readyz", nil).into(200, nil)
	}
	if n := writes() - start - looking; n > 2 {
		t.Errorf("asked whether it is ready 20 times at once, it wrote %d rows", n)
	}
	var kept []byte
	must(t, b.store.DB().QueryRow(`SELECT token FROM session`).Scan(&kept))
	if len(kept) != 32 || strings.Contains(string(kept), c.token("grapnel")) {
		t.Errorf("kept as %x", kept)
	}
	b.with(t, base64.RawURLEncoding.EncodeToString(kept)).call("GET", "/api/jobs", nil).into(401, nil)
	b.with(t, fmt.Sprintf("%x", kept)).call("GET", "/api/jobs", nil).into(401, nil)
}

type peopleOf struct {
	People []struct {
		ID, Name, Role string
		ClosedAt       *time.Time `json:"closed_at"`
		Sessions       int
		MustChange     bool `json:"must_change"`
		You            bool
	}
}

func (p peopleOf) id(name string) string {
	for _, one := range p.People {
		if one.Name == name {
			return one.ID
		}
	}
	return ""
}

const ownPhrase = "blue kettle morning"

// The life of an account: added with a temporary passphrase, which has to be changed
// before anything else; a role; closed, which ends its sessions; opened again. All of it
// by leads alone, and on record.
func TestLifeOfAnAccount(t *testing.T) {
	quiet(t)
	b := newBench(t, dbtest.Server(), nil)
	tech, lead := b.as(t, "First technician"), b.as(t, "First lead")
	var p peopleOf
	lead.call("GET", "/api/people", nil).into(200, &p)
	if len(p.People) != 2 || p.id("First technician") == "" {
		t.Fatalf("%+v", p)
	}
	add := func(name, phrase string) map[string]any {
		return map[string]any{"id": newID(), "name": name, "role": "technician", "passphrase": phrase}
	}
	for name, r := range map[string]reply{
		"by a technician": tech.call("POST", "/api/people", add("Dora", "temporary kettle 9 lamps")), "a list by one": tech.call("GET", "/api/people", nil),
		"history by one": tech.call("GET", "/api/history", nil),
	} {
		if r.status != 403 {
			t.Errorf("%s: %d", name, r.status)
		}
	}
	for field, body := range map[string]map[string]any{"name": add("First technician", "temporary kettle 9 lamps"), "passphrase": add("Dora", "short"), "body.name": add("SECOND Lead", "temporary kettle 9 lamps"), "body.passphrase": add("Dora Hall", "Dora Hall 1234")} {
		if r := lead.call("POST", "/api/people", body); r.status != 422 || !strings.Contains(string(r.body), field) ||
			strings.Contains(strings.ToLower(string(r.body)), "second\"") {
			t.Errorf("%v: %d %s", body, r.status, r.body)
		}
	}
	body := add(" Dora\u200b ", "temporary kettle 9 lamps")
	for range 2 {
		lead.call("POST", "/api/people", body).into(200, &p)
	}
	dora := p.id("Dora")
	if len(p.People) != 3 || dora == "" {
		t.Fatalf("%+v", p)
	}
	c := b.nobody(t)
	in := func(phrase string) reply {
		return c.call("POST", "/api/session", map[string]string{"name": "dora", "passphrase": phrase})
	}
	var s struct {
		Person struct {
			MustChange bool `json:"must_change"`
		}
	}
	in(" temporary kettle 9 lamps\n").into(200, &s)
	if !s.Person.MustChange {
		t.Error("a temporary passphrase may stay")
	}
	for _, path := range []string{"/api/jobs", "/api/events", "/api/session/devices"} {
		if r := c.call("GET", path, nil); r.status == 200 {
			t.Errorf("%s before the passphrase was changed: %d", path, r.status)
		}
	}
	change := func(old, new string) reply {
		return c.call("PUT", "/api/session/passphrase", map[string]string{"old": old, "new": new})
	}
	for why, r := range map[string]reply{"body.old": change("wrong", ownPhrase), "body.new": change("temporary kettle 9 lamps", "temporary kettle 9 lamps"), "easy to guess": change("temporary kettle 9 lamps", "dora dora dora")} {
		if r.status != 422 || !strings.Contains(string(r.body), why) {
			t.Errorf("%s: %d %s", why, r.status, r.body)
		}
	}
	change("temporary kettle 9 lamps", ownPhrase).into(200, nil)
	c.call("GET", "/api/jobs", nil).into(200, nil)
	in("temporary kettle 9 lamps").into(401, nil)

	lead.call("PUT", "/api/people/"+dora, map[string]any{"role": "lead"}).into(200, nil)
	c.call("GET", "/api/people", nil).into(200, nil)
	lead.call("PUT", "/api/people/"+strings.ToUpper(dora), map[string]any{"role": "technician", "closed": true}).into(200, &p)
	c.call("GET", "/api/jobs", nil).into(401, nil)
	if r := in(ownPhrase); r.status != 403 || !strings.Contains(string(r.body), "closed") {
		t.Errorf("a closed account: %d %s", r.status, r.body)
	}
	lead.call("PUT", "/api/people/"+dora, map[string]any{"closed": false}).into(200, nil)
	c.call("GET", "/api/jobs", nil).into(401, nil) // what was ended stays so
	in(ownPhrase).into(200, nil)
	lead.call("DELETE", "/api/people/"+dora+"/sessions", nil).into(200, nil)
	c.call("GET", "/api/jobs", nil).into(401, nil)
	in(ownPhrase).into(200, nil)
	lead.call("PUT", "/api/people/"+dora+"/passphrase", map[string]string{"passphrase": "another 7 paper lamps"}).into(200, nil)
	c.call("GET", "/api/jobs", nil).into(401, nil)
	in(ownPhrase).into(401, nil)

	// The last lead stays one, however it is tried.
	for _, change := range []map[string]any{{"role": "technician"}, {"closed": true}} {
		if r := lead.call("PUT", "/api/people/"+p.id("First lead"), change); r.status != 409 ||
			!strings.Contains(string(r.body), lastLead) {
			t.Errorf("%v: %d %s", change, r.status, r.body)
		}
	}
	// Nobody reaches into another workshop.
	other := b.as(t, "Second lead")
	other.call("PUT", "/api/people/"+dora, map[string]any{"closed": true}).into(404, nil)
	other.call("DELETE", "/api/people/"+dora+"/sessions", nil).into(404, nil)
	other.call("PUT", "/api/people/"+dora+"/passphrase", map[string]string{"passphrase": "another 7 paper lamps"}).into(404, nil)
	other.call("DELETE", "/api/people/"+dora+"/second-factor", nil).into(404, nil)

	var h struct {
		All     int
		Changes []struct {
			What, By, About, Text string
			Changes               []struct{ What, Was, Became string }
		}
	}
	lead.call("GET", "/api/history", nil).into(200, &h)
	count := map[string]int{}
	for _, c := range h.Changes {
		count[c.What]++
		if c.What == store.SignInFailed && (c.By != "" || !strings.Contains(fmt.Sprint(c.Changes), "127.0.0.1")) {
			t.Errorf("a failure: %+v", c)
		}
		if c.What == store.PersonChanged && c.By != "First lead" {
			t.Errorf("%+v", c)
		}
	}
	want := map[string]int{
		store.PersonAdded:   3,
		store.PersonChanged: 4,
		store.PassphraseSet: 2,
		store.SessionsEnded: 1,
		store.SignInFailed:  4,
		store.SignedIn:      5,
	}
	for what, n := range want {
		if count[what] != n {
			t.Errorf("%s: %d times on record, want %d", what, count[what], n)
		}
	}
	if h.All != len(h.Changes) {
		t.Errorf("%d of %d", len(h.Changes), h.All)
	}
}

// Sign-ins under way with a passphrase that is taken away in that moment leave no session
// behind, however they fall.
func TestSignInsUnderWay(t *testing.T) {
	quiet(t)
	at := time.Now()
	b := newBench(t, dbtest.Server(), func(c *Config) { c.SignInsMinute, c.Now = 1<<20, func() time.Time { return at } })
	lead := b.as(t, "First lead")
	p := must2(b.store.PersonNamed(t.Context(), "First technician"))
	now := phrase
	for round := range 6 {
		next := fmt.Sprintf("paper lamps by the %d kettles", round)
		callers := []caller{}
		var under sync.WaitGroup
		for range 4 {
			c := b.nobody(t)
			callers = append(callers, c)
			under.Go(func() {
				r := c.call("POST", "/api/session", map[string]string{"name": p.Name, "passphrase": now})
				if r.status != 200 && r.status != 401 && r.status != 403 {
					t.Errorf("%d %s", r.status, r.body)
				}
			})
		}
		time.Sleep(time.Duration(round) * 25 * time.Millisecond)
		lead.call("PUT", "/api/people/"+p.ID+"/passphrase", map[string]string{"passphrase": next}).into(200, nil)
		under.Wait()
		for _, c := range callers {
			c.call("GET", "/api/jobs", nil).into(401, nil)
		}
		now, at = next, at.Add(2*mostDelay)
	}
}

// A temporary passphrase brings somebody in for a week, and another one for a week again.
func TestTemporaryPassphraseEnds(t *testing.T) {
	quiet(t)
	now := time.Now()
	b := newBench(t, dbtest.Server(), func(c *Config) { c.Now = func() time.Time { return now } })
	lead := b.as(t, "First lead")
	id, c := newID(), b.nobody(t)
	in := func(phrase string) reply {
		return c.call("POST", "/api/session", map[string]string{"name": "Dora", "passphrase": phrase})
	}
	const first, second = "temporary kettle 9 lamps", "temporary paper 7 lamps"
	lead.call("POST", "/api/people", map[string]any{"id": id, "name": "Dora", "role": "technician", "passphrase": first}).
		into(200, nil)
	week := func() time.Time {
		p, err := b.store.PersonNamed(t.Context(), "Dora")
		must(t, err)
		return p.Since.Add(7 * 24 * time.Hour)
	}
	end := week()
	now = end.Add(-time.Second)
	in(first).into(200, nil)
	now = end
	if r := in(first); r.status != 403 || !strings.Contains(string(r.body), "Ask the lead of your workshop for another") {
		t.Errorf("a week later: %d %s", r.status, r.body)
	}
	in("wrong passphrase").into(401, nil) // it is told to nobody else
	now = time.Now()
	_, err := b.store.DB().Exec(`UPDATE person SET created_at = created_at - INTERVAL 1 MONTH WHERE id = ?`, id)
	must(t, err)
	lead.call("PUT", "/api/people/"+id+"/passphrase", map[string]string{"passphrase": second}).into(200, nil)
	if !week().After(end) {
		t.Error("another temporary passphrase is not good for a week of its own")
	}
	now = week().Add(-time.Second)
	in(second).into(200, nil)
	now = time.Now() // sessions are of the store's clock
	in(second).into(200, nil)
	c.call("PUT", "/api/session/passphrase", map[string]string{"old": second, "new": ownPhrase}).into(200, nil)
	now = now.AddDate(1, 0, 0)
	in(ownPhrase).into(200, nil) // one's own has no end
}

// Where one is signed in can be seen and ended; a new passphrase ends the rest.
func TestOwnDevices(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	one, two := b.as(t, "First lead"), b.as(t, "First lead")
	var d struct {
		Devices []struct {
			ID, Name string
			This     bool
		}
	}
	one.call("GET", "/api/session/devices", nil, "User-Agent", "x").into(200, &d)
	if len(d.Devices) != 2 || d.Devices[0].Name != "a device" {
		t.Fatalf("%+v", d)
	}
	for _, dev := range d.Devices {
		if !dev.This {
			one.call("DELETE", "/api/session/devices/"+dev.ID, nil).into(200, &d)
			one.call("DELETE", "/api/session/devices/"+dev.ID, nil).into(200, &d) // a repeat
		}
	}
	two.call("GET", "/api/jobs", nil).into(401, nil)
	if len(d.Devices) != 1 || !d.Devices[0].This {
		t.Errorf("%+v", d)
	}
	two, other := b.as(t, "First lead"), b.as(t, "First technician")
	other.call("DELETE", "/api/session/devices/"+d.Devices[0].ID, nil).into(200, nil)
	one.call("GET", "/api/jobs", nil).into(200, nil) // one ends one's own alone
	one.call("DELETE", "/api/session/devices", nil).into(200, nil)
	two.call("GET", "/api/jobs", nil).into(401, nil)
	two = b.as(t, "First lead")
	one.call("PUT", "/api/session/passphrase", map[string]string{"old": phrase, "new": ownPhrase}).into(200, nil)
	two.call("GET", "/api/jobs", nil).into(401, nil)
	one.call("GET", "/api/jobs", nil).into(200, nil)
	for agent, want := range map[string]string{
		"Mozilla/5.0 (iPad; CPU OS 17_0 like Mac OS X) AppleWebKit/605.1 Version/17.0 Safari/604.1": "Safari on tablet",
		"Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140.0.0.0 Safari/537.36":         "Chrome on Linux",
		"Mozilla/5.0 (Windows NT 10.0; rv:140.0) Gecko/20100101 Firefox/140.0":                      "Firefox on Windows",
		"Mozilla/5.0 (Linux; Android 14) AppleWebKit/537.36 Chrome/140.0.0.0 Mobile Safari/537.36":  "Chrome on Android", "": "a device",
	} {
		if got := browser(agent); got != want {
			t.Errorf("%s: %s", agent, got)
		}
	}
}

// On a shared tablet somebody who has come in with their passphrase not long ago comes
// in again by PIN, in place of whoever is in; five wrong ones, or half a day, and the
// passphrase is asked for. By PIN nobody touches accounts.
func TestPIN(t *testing.T) {
	quiet(t)
	now := time.Now()
	b := newBench(t, dbtest.Server(), func(c *Config) { c.Now = func() time.Time { return now } })
	tablet := b.as(t, "First lead")
	pin := func(c caller, phrase, pin string) reply {
		return c.call("PUT", "/api/session/pin", map[string]string{"passphrase": phrase, "pin": pin})
	}
	pin(tablet, "wrong", "2580").into(422, nil)
	pin(tablet, phrase, "1234").into(422, nil)
	pin(tablet, phrase, "2580").into(200, nil)
	in := func(name string) reply {
		return tablet.call("POST", "/api/session", map[string]string{"name": name, "passphrase": phrase})
	}
	come := func(c caller, pin string) reply {
		return c.call("POST", "/api/session/switch", map[string]string{"name": "first LEAD", "pin": pin})
	}
	var s struct {
		Person struct {
			Name  string
			ByPIN bool `json:"by_pin"`
		}
		ByPIN []struct{ Name, Role string } `json:"by_pin"`
	}
	in("First technician").into(200, &s)
	if fmt.Sprint(s.ByPIN) != "[{First lead lead}]" {
		t.Errorf("by PIN: %v", s.ByPIN)
	}
	before := tablet.token("grapnel")
	come(tablet, "9999").into(401, nil)
	come(tablet, "2580").into(200, &s)
	if s.Person.Name != "First lead" || !s.Person.ByPIN || len(s.ByPIN) != 0 {
		t.Errorf("%+v", s)
	}
	b.with(t, before).call("GET", "/api/jobs", nil).into(401, nil) // whoever was in is out
	tablet.call("GET", "/api/jobs", nil).into(200, nil)
	tablet.call("GET", "/api/people", nil).into(200, nil)
	for _, r := range []reply{pin(tablet, phrase, ""), tablet.call("POST", "/api/people", map[string]any{"id": newID(), "name": "X", "role": "lead", "passphrase": ownPhrase}),
		tablet.call("POST", "/api/session/second-factor", map[string]string{"passphrase": phrase})} {
		if r.status != 403 || !strings.Contains(string(r.body), byPIN) {
			t.Errorf("%s by PIN: %d %s", r.asked, r.status, r.body)
		}
	}
	// On another device the PIN is worth nothing.
	come(b.nobody(t), "2580").into(401, nil)
	come(b.as(t, "First technician"), "2580").into(401, nil)
	// Signed out, it still brings in who was here.
	tablet.call("DELETE", "/api/session", nil).into(204, nil)
	tablet.call("GET", "/api/session", nil).into(200, &s)
	if len(s.ByPIN) != 1 {
		t.Errorf("after signing out: %+v", s)
	}
	for range store.MostPINMisses - 1 {
		come(tablet, "0001").into(401, nil)
	}
	come(tablet, "2580").into(200, nil)
	for range store.MostPINMisses {
		come(tablet, "0001").into(401, nil)
	}
	if r := come(tablet, "2580"); r.status != 401 || !strings.Contains(string(r.body), pinOver) {
		t.Errorf("after five wrong ones: %d %s", r.status, r.body)
	}
	in("First lead").into(200, nil)
	come(tablet, "2580").into(200, nil)
	now = now.Add(store.PINHolds + time.Minute)
	come(tablet, "2580").into(401, nil)
	now = time.Now()
	in("First lead").into(200, nil)
	pin(tablet, phrase, "").into(200, nil)
	come(tablet, "2580").into(401, nil)
}

// What is over is forgotten.
func TestSweep(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	b.as(t, "First lead")
	count := func() (n int) {
		must(t, b.store.DB().QueryRow(`SELECT (SELECT COUNT(*) FROM session) + 10 * (SELECT COUNT(*) FROM device)`).Scan(&n))
		return n
	}
	for _, step := range []struct {
		later time.Duration
		want  int
	}{{store.SessionIdle - time.Minute, 11}, {store.SessionIdle + time.Minute, 10}, {364 * 24 * time.Hour, 10}, {366 * 24 * time.Hour, 0}} {
		must(t, b.store.Sweep(context.Background(), time.Now().Add(step.later)))
		if n := count(); n != step.want {
			t.Errorf("%v later: %d", step.later, n)
		}
	}
}
