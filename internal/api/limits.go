package api

import (
	"net/http"
	"net/netip"
	"sync"
	"time"

	"github.com/go-chi/chi/v5/middleware"
)

// tries slows wrong sign-ins down. They are counted by account and address together, so
// that nobody can lock an account's owner out by trying under their name from elsewhere;
// on a device where somebody has come in before, by that device alone. The counts are
// this server's own and end with it.
type tries struct {
	mu    sync.Mutex
	known map[string]tried
}

type tried struct {
	misses int
	last   time.Time
	until  time.Time // no other try before
}

const (
	freeMisses  = 5               // before the delay begins
	attacked    = 20              // misses under one name from all over, after which strangers have fewer
	freeUnder   = 1               // so many
	mostDelay   = 5 * time.Minute // it doubles up to this
	forgetAfter = time.Hour       // misses count so long
	mostTries   = 20_000          // kept at once
)

// wait gives how long a try has to wait; 0 when it may be made, and counts as a miss
// until hit says otherwise: tries at once are as many as one after the other.
func (t *tries) wait(now time.Time, free int, key string) time.Duration {
	t.mu.Lock()
	defer t.mu.Unlock()
	one := t.known[key]
	if now.Sub(one.last) >= forgetAfter {
		one = tried{}
	}
	if one.until.After(now) {
		return one.until.Sub(now)
	}
	one.misses++
	one.last = now
	if over := one.misses - free; over >= 0 {
		one.until = now.Add(min(time.Second<<min(over, 20), mostDelay))
	}
	if t.known == nil || len(t.known) >= mostTries {
		t.forget(now)
	}
	t.known[key] = one
	return 0
}

// misses gives how many count under a key.
func (t *tries) misses(now time.Time, key string) int {
	t.mu.Lock()
	defer t.mu.Unlock()
	if one := t.known[key]; now.Sub(one.last) < forgetAfter {
		return one.misses
	}
	return 0
}

// hit forgets the misses of keys: the right one was given.
func (t *tries) hit(keys ...string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	for _, key := range keys {
		delete(t.known, key)
	}
}

// back takes one miss back: it was none after all, whatever others there are.
func (t *tries) back(key string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if one, ok := t.known[key]; ok && one.misses > 0 {
		one.misses--
		t.known[key] = one
	}
}

// forget makes room: what is over, and everything when that is not enough.
func (t *tries) forget(now time.Time) {
	for key, one := range t.known {
		if now.Sub(one.last) >= forgetAfter {
			delete(t.known, key)
		}
	}
	if t.known == nil || len(t.known) >= mostTries {
		t.known = map[string]tried{}
	}
}

// clientAddress puts the address a request comes from into its context: the peer's, or
// what proxies that are trusted say.
func clientAddress(trusted []netip.Prefix) func(http.Handler) http.Handler {
	if len(trusted) == 0 {
		return middleware.ClientIPFromRemoteAddr
	}
	prefixes := make([]string, len(trusted))
	for i, p := range trusted {
		prefixes[i] = p.String()
	}
	forwarded := middleware.ClientIPFromXFF(prefixes...)
	// A proxy that says nothing speaks for itself.
	return func(next http.Handler) http.Handler { return middleware.ClientIPFromRemoteAddr(forwarded(next)) }
}

// network is the address of a request as tries from it are counted: of IPv6 the /64 that
// one line is given.
func network(r *http.Request) string {
	at := middleware.GetClientIPAddr(r.Context())
	if at.Is6() && !at.Is4In6() {
		if p, err := at.Prefix(64); err == nil {
			return p.String()
		}
	}
	return at.String()
}
