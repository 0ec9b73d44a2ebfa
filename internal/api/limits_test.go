package api

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/netip"
	"strings"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"

	"grapnel/internal/localdb/dbtest"
)

// The second factor is asked for once it was proved; each code counts once, and each
// recovery code. Codes are made by the library, as RFC 6238 has them.
func TestSecondFactor(t *testing.T) {
	quiet(t)
	now := time.Now().Truncate(30 * time.Second)
	b := newBench(t, dbtest.Server(), func(c *Config) { c.Now = func() time.Time { return now } })
	lead := b.as(t, "First lead")
	var offer struct{ Secret, QR string }
	lead.call("POST", "/api/session/second-factor", map[string]string{"passphrase": "wrong"}).into(422, nil)
	lead.call("PUT", "/api/session/second-factor", map[string]string{"code": "000000"}).into(409, nil)
	lead.call("POST", "/api/session/second-factor", map[string]string{"passphrase": phrase}).into(200, &offer)
	if len(offer.Secret) < 32 || !strings.HasPrefix(offer.QR, "data:image/png;base64,") {
		t.Fatalf("%+v", offer)
	}
	code := func(off time.Duration) string { return must2(totp.GenerateCode(offer.Secret, now.Add(off))) }
	b.as(t, "First lead") // not asked for before it is proved
	lead.call("PUT", "/api/session/second-factor", map[string]string{"code": "12345x"}).into(422, nil)
	var codes struct{ Recovery []string }
	lead.call("PUT", "/api/session/second-factor", map[string]string{"code": " " + code(0)[:3] + " " + code(0)[3:]}).
		into(200, &codes)
	if len(codes.Recovery) != recoveries {
		t.Fatalf("%d recovery codes", len(codes.Recovery))
	}
	c := b.nobody(t)
	in := func(code string) reply {
		return c.call("POST", "/api/session", map[string]string{"name": "First lead", "passphrase": phrase, "code": code})
	}
	if r := in(""); r.status != 401 || !strings.Contains(string(r.body), askCode) {
		t.Errorf("without a code: %d %s", r.status, r.body)
	}
	in(code(0)).into(401, nil) // it proved the second factor
	in(code(60*time.Second)).into(401, nil)
	in(code(-60*time.Second)).into(401, nil)
	in(code(30*time.Second)).into(200, nil)
	in(code(30*time.Second)).into(401, nil)
	in(code(0)).into(401, nil) // nor does one before it, though its time is not over
	now = now.Add(time.Minute)
	in(code(0)).into(200, nil)
	in(strings.ToLower(strings.ReplaceAll(codes.Recovery[3], "-", " "))).into(200, nil)
	in(codes.Recovery[3]).into(401, nil)
	lead.call("POST", "/api/session/second-factor", map[string]string{"passphrase": phrase}).into(409, nil)
	// Nor as that of somebody who has lost theirs: whoever finds the tablet has none.
	me := must2(b.store.PersonNamed(t.Context(), "First lead"))
	if r := lead.call("DELETE", "/api/people/"+me.ID+"/second-factor", nil); r.status != 422 ||
		!strings.Contains(string(r.body), "path.id") {
		t.Errorf("one's own, as somebody's: %d %s", r.status, r.body)
	}
	in("").into(401, nil)
	lead.call("DELETE", "/api/session/second-factor", map[string]string{"passphrase": "wrong"}).into(422, nil)
	in("").into(401, nil)
	lead.call("DELETE", "/api/session/second-factor", map[string]string{"passphrase": phrase}).into(200, nil)
	in("").into(200, nil)
	in(codes.Recovery[4]).into(200, nil) // nothing is asked for any more
	var kept int
	must(t, b.store.DB().QueryRow(`SELECT COUNT(*) FROM recovery_code`).Scan(&kept))
	if kept != 0 {
		t.Errorf("%d recovery codes are left", kept)
	}
}

// Codes cannot be guessed by whoever has the passphrase: neither giving it again between
// nor another address forgets how many were wrong. On the owner's own device they count
// apart.
func TestCodesAreNotGuessed(t *testing.T) {
	quiet(t)
	now := time.Now().Truncate(30 * time.Second)
	b := newBench(t, dbtest.Server(), func(c *Config) {
		c.Now = func() time.Time { return now }
		c.SignInsMinute = 1 << 20
		c.Trusted = []netip.Prefix{netip.MustParsePrefix("127.0.0.0/8")}
	})
	own := b.as(t, "First lead")
	var offer struct{ Secret string }
	own.call("POST", "/api/session/second-factor", map[string]string{"passphrase": phrase}).into(200, &offer)
	code := func() string { return must2(totp.GenerateCode(offer.Secret, now)) }
	own.call("PUT", "/api/session/second-factor", map[string]string{"code": code()}).into(200, nil)
	own.call("DELETE", "/api/session", nil).into(204, nil)
	in := func(c caller, code, from string) int {
		return c.call("POST", "/api/session", map[string]string{"name": "First lead", "passphrase": phrase, "code": code},
			"X-Forwarded-For", from).status
	}
	wrong := 0
	for i := range 20 {
		from := fmt.Sprintf("192.0.2.%d", i)
		if got := in(b.nobody(t), "", from); got != 401 {
			t.Fatalf("asked for a code: %d", got)
		}
		if in(b.nobody(t), "000000", from) == 401 {
			wrong++
		}
	}
	if wrong != freeMisses {
		t.Errorf("%d codes were tried at once", wrong)
	}
	next := must2(totp.GenerateCode(offer.Secret, now.Add(30*time.Second)))
	if got := in(b.nobody(t), next, "198.51.100.7"); got != 429 {
		t.Errorf("from a new device, under attack: %d", got)
	}
	if got := in(own, next, "192.0.2.1"); got != 200 {
		t.Errorf("on the owner's device, meanwhile: %d", got)
	}
	now = now.Add(mostDelay)
	if got := in(b.nobody(t), code(), "198.51.100.7"); got != 200 {
		t.Errorf("from a new device, after the delay: %d", got)
	}
}

// Wrong tries wait, longer each time, and never the owner: from elsewhere and on the
// owner's own device the account is open meanwhile.
func TestTriesWait(t *testing.T) {
	now := time.Date(2026, 1, 1, 10, 0, 0, 0, time.UTC)
	var tr tries
	wait := func(key string, free int) time.Duration { return tr.wait(now, free, key) }
	for i := range freeMisses {
		if w := wait("a", freeMisses); w != 0 {
			t.Errorf("try %d waits %v", i, w)
		}
	}
	for want := time.Second; want < mostDelay; want *= 2 {
		if w := wait("a", freeMisses); w != want {
			t.Errorf("waits %v, want %v", w, want)
		}
		if w := wait("b", freeMisses); w != 0 {
			t.Errorf("another waits %v", w)
		}
		tr.hit("b")
		now = now.Add(want - time.Millisecond)
		if w := wait("a", freeMisses); w != time.Millisecond {
			t.Errorf("too soon waits %v", w)
		}
		now = now.Add(time.Millisecond)
		if w := wait("a", freeMisses); w != 0 {
			t.Errorf("in time waits %v", w)
		}
	}
	if w := wait("a", freeMisses); w != mostDelay {
		t.Errorf("at most %v", w)
	}
	now = now.Add(forgetAfter)
	if w, n := wait("a", freeMisses), tr.misses(now, "a"); w != 0 || n != 1 {
		t.Errorf("an hour later it waits %v with %d misses", w, n)
	}
	for i := range mostTries + 10 {
		wait(fmt.Sprint("many ", i), freeMisses)
	}
	if len(tr.known) > mostTries {
		t.Errorf("%d are kept", len(tr.known))
	}
}

// Who comes in often, on ever other devices, does not count as an attack on them.
func TestComingInIsNoMiss(t *testing.T) {
	quiet(t)
	b := newBench(t, dbtest.Server(), func(c *Config) { c.SignInsMinute = 1 << 20 })
	in := func(phrase string) int {
		return b.nobody(t).call("POST", "/api/session", map[string]string{"name": "First lead", "passphrase": phrase}).status
	}
	for range attacked + 2 {
		if got := in(phrase); got != 200 {
			t.Fatalf("coming in: %d", got)
		}
	}
	var got []int
	for range freeMisses + 1 {
		got = append(got, in("wrong"))
	}
	if fmt.Sprint(got) != "[401 401 401 401 401 429]" {
		t.Errorf("then wrong ones: %v", got)
	}
}

// Under attack from everywhere, whoever owns the account still comes in: at once on
// their own device, and from a new one.
func TestOwnerIsNotLockedOut(t *testing.T) {
	quiet(t)
	b := newBench(t, dbtest.Server(), func(c *Config) {
		c.SignInsMinute = 1 << 20
		c.Trusted = []netip.Prefix{netip.MustParsePrefix("127.0.0.0/8")}
	})
	own := b.as(t, "First lead")
	own.call("DELETE", "/api/session", nil).into(204, nil)
	try := func(c caller, phrase, from string) reply {
		return c.call(
			"POST",
			"/api/session",
			map[string]string{"name": "First lead", "passphrase": phrase},
			"X-Forwarded-For",
			"6.6.6.6, "+from,
		)
	}
	var at []int
	for range 7 {
		at = append(
			at,
			b.nobody(t).
				call("POST", "/api/session", map[string]string{"name": "Nobody at all", "passphrase": "x"}, "X-Forwarded-For", "192.0.2.77").
				status,
		)
	}
	if got := fmt.Sprint(at); got != "[401 401 401 401 401 429 429]" {
		t.Errorf("from one address, whether or not there is such a name: %s", got)
	}
	waits := 0
	for i := range 30 {
		if r := try(b.nobody(t), "wrong", fmt.Sprintf("192.0.2.%d", i%3)); r.status == 429 {
			waits++
			if r.header.Get("Retry-After") == "" || !strings.Contains(string(r.body), "Wait ") {
				t.Errorf("%v %s", r.header, r.body)
			}
		}
	}
	if waits < 10 {
		t.Errorf("%d of 30 tries from three addresses had to wait", waits)
	}
	try(b.nobody(t), phrase, "192.0.2.1").into(429, nil) // an attacker who guessed right waits too
	try(own, phrase, "192.0.2.1").into(200, nil)         // the owner's device at the attacker's address
	try(b.nobody(t), phrase, "198.51.100.7").into(200, nil)
}

// The client's address is the peer's, unless a proxy that is trusted says otherwise; of
// IPv6 a line's /64 counts as one.
func TestClientAddress(t *testing.T) {
	for _, c := range []struct{ trusted, peer, forwarded, want string }{
		{"", "192.0.2.9:1", "6.6.6.6", "192.0.2.9"}, {"10.0.0.0/8", "10.1.2.3:1", "6.6.6.6, 203.0.113.5", "203.0.113.5"},
		{"10.0.0.0/8", "192.0.2.9:1", "6.6.6.6", "192.0.2.9"}, {"10.0.0.0/8", "10.1.2.3:1", "203.0.113.5, 10.9.9.9", "203.0.113.5"},
		{"10.0.0.0/8", "10.1.2.3:1", "", "10.1.2.3"}, {"", "[2001:db8:1:2:3:4:5:6]:1", "", "2001:db8:1:2::/64"}, {"", "[::ffff:192.0.2.9]:1", "", "192.0.2.9"},
	} {
		var trusted []netip.Prefix
		if c.trusted != "" {
			trusted = append(trusted, netip.MustParsePrefix(c.trusted))
		}
		got := ""
		h := clientAddress(trusted)(http.HandlerFunc(func(_ http.ResponseWriter, r *http.Request) { got = network(r) }))
		r := httptest.NewRequest("GET", "/", nil)
		r.RemoteAddr = c.peer
		if c.forwarded != "" {
			r.Header.Set("X-Forwarded-For", c.forwarded)
		}
		h.ServeHTTP(httptest.NewRecorder(), r)
		if got != c.want {
			t.Errorf("%+v: %s", c, got)
		}
	}
}
