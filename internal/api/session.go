package api

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"math"
	"net/http"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5/middleware"

	"grapnel/core/document"
	"grapnel/core/words"
	"grapnel/internal/passphrase"
	"grapnel/internal/store"
)

type (
	comesKey  struct{}
	personKey struct{}
)

// comes is what a request came with, before anybody is known.
type comes struct {
	session, device string // secrets out of cookies
	address         string // of the client
	network         string // as tries from it are counted
	browser         string // what the device is, for people
	base            string // how this server was reached, https://bench.example
}

// signed is somebody with the session they are in.
type signed struct {
	store.Person
	at store.Session
}

// who gives the person signed in. Operations that need nobody must not ask.
func who(ctx context.Context) store.Person { return here(ctx).Person }

// here gives the person signed in with their session.
func here(ctx context.Context) signed { return ctx.Value(personKey{}).(signed) }

func came(ctx context.Context) comes { return ctx.Value(comesKey{}).(comes) }

// actor is the person signed in as the store takes them.
func actor(ctx context.Context) store.Actor { return who(ctx).Actor() }

// cookie is the name of a cookie: over TLS one that no other host and no page without
// TLS can set.
func (s *server) cookie(name string) string {
	if s.SecureCookie {
		return "__Host-" + name
	}
	return name
}

const (
	sessionCookie = "grapnel"
	deviceCookie  = "grapnel-device"
)

// keeps is a cookie that a browser keeps for so long; one that it drops when the secret
// is empty.
func (s *server) keeps(name, secret string, long time.Duration) string {
	c := http.Cookie{Name: s.cookie(name), Value: secret, Path: "/", HttpOnly: true, Secure: s.SecureCookie,
		SameSite: http.SameSiteLaxMode, MaxAge: int(long / time.Second)}
	if secret == "" {
		c.MaxAge = -1
	}
	return c.String()
}

// carried puts into the context what a request came with.
func (s *server) carried(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		c := comes{address: middleware.GetClientIP(r.Context()), network: network(r), browser: browser(r.UserAgent()),
			base: baseOf(r, s.SecureCookie)}
		for name, into := range map[string]*string{sessionCookie: &c.session, deviceCookie: &c.device} {
			if one, err := r.Cookie(s.cookie(name)); err == nil {
				*into = one.Value
			}
		}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), comesKey{}, c)))
	})
}

// browser says in a few words what a device is, as far as it tells.
func browser(agent string) string {
	first := func(pairs ...string) string {
		for i := 0; i < len(pairs); i += 2 {
			if strings.Contains(agent, pairs[i]) {
				return pairs[i+1]
			}
		}
		return ""
	}
	kind := first("iPad", "tablet", "iPhone", "phone", "Android", "Android", "Windows", "Windows",
		"Macintosh", "Mac", "Linux", "Linux")
	program := first("Edg/", "Edge", "Firefox/", "Firefox", "Chrome/", "Chrome", "Safari/", "Safari")
	if kind == "" && program == "" {
		return "a device"
	}
	return strings.Join(strings.Fields(program+" "+cmp.Or(map[bool]string{true: "on " + kind}[kind != ""], "")), " ")
}

// How far somebody has to be in for an operation.
type need int

const (
	needNobody need = iota
	needAnybody
	needChange // also with a passphrase that has to be changed first
	needLead
	needFull     // not by PIN
	needFullLead // a lead, not by PIN
)

const needed = "need"

func needOf(o *huma.Operation) need {
	if o.Security == nil {
		return needNobody
	}
	if n, ok := o.Metadata[needed].(need); ok {
		return n
	}
	return needAnybody
}

// whoIsIt puts the person signed in into the context, and refuses operations that need
// somebody when nobody is, or need more than they are.
func (s *server) whoIsIt(api huma.API) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		need := needOf(ctx.Operation())
		if need == needNobody {
			next(ctx)
			return
		}
		refuse := func(status int, kind, detail string) {
			s.refused(ctx, status, kind, detail)
		}
		p, err := s.signedIn(ctx.Context())
		switch {
		case errors.Is(err, store.ErrNotFound):
			refuse(http.StatusUnauthorized, "", "Sign in first. What you entered is kept on this device.")
		case errors.Is(err, context.Canceled):
			refuse(gone, "", "The request was given up.")
		case err != nil:
			slog.Error("session", "error", err)
			detail := noAnswer
			if ctx.Method() != http.MethodGet {
				detail = nothingSaved
			}
			refuse(http.StatusServiceUnavailable, "", detail)
		case p.MustChange && need != needChange:
			refuse(http.StatusForbidden, mustChange, "Your passphrase is a temporary one. Choose your own first.")
		case (need == needLead || need == needFullLead) && p.Role != store.Lead:
			refuse(http.StatusForbidden, "", "Only a lead may do this. Ask the lead of your workshop.")
		case (need == needFull || need == needFullLead) && p.at.ByPIN:
			refuse(http.StatusForbidden, byPIN, "You came in by PIN. Sign in with your passphrase to do this.")
		default:
			next(huma.WithValue(ctx, personKey{}, p))
		}
	}
}

// refused answers with a problem of a kind.
func (s *server) refused(ctx huma.Context, status int, kind, detail string) {
	ctx.SetHeader("Content-Type", "application/problem+json")
	ctx.SetStatus(status)
	_ = huma.DefaultJSONFormat.Marshal(ctx.BodyWriter(), typed(status, kind, detail))
}

func (s *server) signedIn(ctx context.Context) (signed, error) {
	secret := came(ctx).session
	if secret == "" {
		return signed{}, store.ErrNotFound
	}
	p, at, err := s.Store.SignedIn(ctx, secret, s.Now())
	return signed{p, at}, err
}

// session is who is signed in, and how they like their screen.
type session struct {
	Person *personView  `json:"person,omitempty" doc:"absent when nobody is signed in"`
	ByPIN  []pinPerson  `json:"by_pin" doc:"who may come in on this device by PIN"`
	Demo   []DemoSignIn `json:"demo,omitempty" doc:"sign-ins anybody may use; in demo mode only"`
	// Whether its clock can be moved on.
	DemoClock bool `json:"demo_clock,omitempty" doc:"its clock can be moved on; in demo mode only"`
}

type pinPerson struct {
	Name string `json:"name"`
	Role string `json:"role" enum:"technician,lead"`
}

type personView struct {
	Name        string `json:"name"`
	Role        string `json:"role" enum:"technician,lead"`
	Workshop    string `json:"workshop"`
	Temperature string `json:"temperature" enum:"C,F"`
	Torque      string `json:"torque" enum:"Nm,inlb"`
	Decimal     string `json:"decimal" enum:"point,comma"`
	Theme       string `json:"theme" enum:"system,light,dark"`
	MustChange  bool   `json:"must_change,omitempty" doc:"the passphrase is a temporary one: nothing else is done before it is changed"`
	ByPIN       bool   `json:"by_pin,omitempty" doc:"came in by PIN: accounts and passphrases are not touched"`
	HasPIN      bool   `json:"has_pin,omitempty"`
	SecondOn    bool   `json:"second_factor,omitempty" doc:"a code is asked for beside the passphrase"`
}

// sessionReply carries the cookies that go with it.
type sessionReply struct {
	SetCookie []string `header:"Set-Cookie"`
	Body      session
}

// sessionOf tells a device who is in, and who else may come in there by PIN.
func (s *server) sessionOf(ctx context.Context, p *signed) (session, error) {
	out := session{ByPIN: []pinPerson{}, DemoClock: s.MoveClock != nil}
	device := ""
	if p != nil {
		out.Person = &personView{
			p.Name,
			p.Role,
			p.Workshop,
			p.Temperature,
			p.Torque,
			p.Decimal,
			p.Theme,
			p.MustChange,
			p.at.ByPIN,
			p.PIN != "",
			p.TOTP != "",
		}
		device = p.at.DeviceID
	} else {
		out.Demo = s.DemoSignIns
		if secret := came(ctx).device; secret != "" {
			var err error
			if device, err = s.Store.Device(ctx, secret); err != nil {
				return out, err
			}
		}
	}
	if device == "" {
		return out, nil
	}
	people, err := s.Store.PINPeople(ctx, device, s.Now())
	for _, other := range people {
		if p == nil || other.ID != p.ID {
			out.ByPIN = append(out.ByPIN, pinPerson{other.Name, other.Role})
		}
	}
	return out, err
}

func (s *server) sessionReply(ctx context.Context, p *signed, cookies ...string) (*sessionReply, error) {
	body, err := s.sessionOf(ctx, p)
	if err != nil {
		return nil, answer(err)
	}
	return &sessionReply{cookies, body}, nil
}

func (s *server) getSession(ctx context.Context, _ *nothing) (*sessionReply, error) {
	p, err := s.signedIn(ctx)
	if errors.Is(err, store.ErrNotFound) {
		return s.sessionReply(ctx, nil)
	}
	if err != nil {
		return nil, answer(err)
	}
	return s.sessionReply(ctx, &p)
}

type signInBody struct {
	Name       string `json:"name" maxLength:"80"`
	Passphrase string `json:"passphrase" maxLength:"250"`
	Code       string `json:"code,omitempty" maxLength:"40" doc:"of the second factor, or a recovery code; where one is asked for"`
}

const noMatch = "Name and passphrase do not match. Check both; the passphrase minds capitals."

func (s *server) signIn(ctx context.Context, in *struct{ Body signInBody }) (*sessionReply, error) {
	from, now := came(ctx), s.Now()
	name := words.Clean(in.Body.Name)
	p, err := s.Store.PersonNamed(ctx, name)
	known := err == nil
	if !known && !errors.Is(err, store.ErrNotFound) {
		return nil, answer(err)
	}
	deviceID, err := s.Store.Device(ctx, from.device)
	if err != nil {
		return nil, answer(err)
	}
	try, err := s.slow(ctx, now, p, name, deviceID)
	if err != nil {
		return nil, err
	}
	matches := passphrase.MatchesNobody
	if known {
		matches = func(ctx context.Context, phrase string) (bool, error) {
			return passphrase.Matches(ctx, p.Passphrase, phrase)
		}
	}
	switch ok, err := matches(ctx, in.Body.Passphrase); {
	case err != nil:
		return nil, huma.Error503ServiceUnavailable("Too many sign in at once. Try again in a moment.")
	case !ok:
		s.missed(ctx, p, name, known, "passphrase")
		return nil, huma.Error401Unauthorized(noMatch)
	case p.DisabledAt != nil:
		s.missed(ctx, p, name, known, "account closed")
		return nil, huma.Error403Forbidden("This account is closed. Ask the lead of your workshop.")
	}
	s.right(try)
	if until := p.TemporaryUntil(); until != nil && !now.Before(*until) {
		s.missed(ctx, p, name, known, "temporary passphrase over")
		return nil, huma.Error403Forbidden("This temporary passphrase was good for a week, and the week is over. Ask the lead of your workshop for another.")
	}
	if p.TOTP != "" {
		if err := s.code(ctx, now, p, try, in.Body.Code); err != nil {
			return nil, err
		}
	}
	return s.begin(ctx, p, deviceID, false)
}

// code asks whoever gave the passphrase for the second factor. Wrong codes are counted by
// themselves: a right passphrase must not forget them, and another address finds none
// forgiven; the owner's own device is counted apart from all others.
func (s *server) code(ctx context.Context, now time.Time, p store.Person, try attempt, code string) error {
	if code == "" {
		return typed(http.StatusUnauthorized, askCode, "Enter the code your second factor shows now, or a recovery code.")
	}
	codes := "code of " + p.ID
	if try.under == "" {
		codes = "code " + try.key
	}
	if wait := s.tries.wait(now, freeMisses, codes); wait > 0 {
		s.metrics.signIns.WithLabelValues("delayed").Inc()
		return tooSoon(wait)
	}
	switch ok, err := s.secondFactor(ctx, p, code); {
	case err != nil:
		return answer(err)
	case !ok:
		s.missed(ctx, p, p.Name, true, "code")
		return typed(
			http.StatusUnauthorized,
			askCode,
			"The code does not match. Each is good for half a minute and once; check the clock of the device that shows it.",
		)
	}
	s.tries.hit(codes)
	return nil
}

// attempt is a try to come in, by what it is counted under.
type attempt struct {
	key   string // the device where its person has come in before, or name and address
	under string // the name, wherever from; empty on such a device
}

// slow counts a try to come in under a name, and refuses it while the ones before have
// to wait. It was right or it stays counted.
func (s *server) slow(ctx context.Context, now time.Time, p store.Person, name, deviceID string) (try attempt, err error) {
	from := came(ctx)
	if deviceID != "" && p.ID != "" {
		known, err := s.Store.KnowsPerson(ctx, deviceID, p.ID)
		if err != nil {
			return try, answer(err)
		}
		if known {
			try.key = "on " + deviceID + " " + p.ID
		}
	}
	free := freeMisses
	if try.key == "" {
		try.under = "under " + words.Folded(name)
		try.key = try.under + " from " + from.network
		if s.tries.misses(now, try.under) >= attacked {
			free = freeUnder
		}
		defer func() { _ = s.tries.wait(now, math.MaxInt, try.under) }()
	}
	if wait := s.tries.wait(now, free, try.key); wait > 0 {
		s.metrics.signIns.WithLabelValues("delayed").Inc()
		return try, tooSoon(wait)
	}
	return try, nil
}

// right forgets the misses of a try, since the passphrase was right. What others missed
// under the name from elsewhere stands.
func (s *server) right(try attempt) {
	s.tries.hit(try.key)
	if try.under != "" {
		s.tries.back(try.under)
	}
}

func tooSoon(wait time.Duration) error {
	wait = wait.Round(time.Second) + time.Second
	return huma.ErrorWithHeaders(huma.Error429TooManyRequests(fmt.Sprintf(
		"Too many tries did not match. Wait %s, then try again.",
		spoken(wait),
	)), http.Header{"Retry-After": {fmt.Sprint(int(wait.Seconds()))}})
}

func spoken(d time.Duration) string {
	if d < 100*time.Second {
		return fmt.Sprintf("%d seconds", int(d.Seconds()))
	}
	return fmt.Sprintf("%d minutes", int(math.Ceil(d.Minutes())))
}

// missed puts a failed sign-in on record, where the name is somebody's.
func (s *server) missed(ctx context.Context, p store.Person, name string, known bool, why string) {
	s.metrics.signIns.WithLabelValues("failed").Inc()
	slog.Warn("sign-in failed", "name", document.Excerpt(name), "address", came(ctx).address, "why", why)
	if !known {
		return
	}
	if err := s.Store.SignInFailed(ctx, p, came(ctx).address, why); err != nil {
		slog.Error("keep a failed sign-in", "error", err)
	}
}

// begin signs somebody in, in place of whoever was signed in with this browser.
func (s *server) begin(ctx context.Context, p store.Person, deviceID string, byPIN bool) (*sessionReply, error) {
	from := came(ctx)
	begun, err := s.Store.BeginSession(ctx, p, deviceID, from.browser, byPIN, from.session, from.address)
	if err != nil {
		return nil, answer(err)
	}
	s.metrics.signIns.WithLabelValues("in").Inc()
	cookies := []string{s.keeps(sessionCookie, begun.SessionSecret, store.SessionMost)}
	if begun.DeviceSecret != "" {
		cookies = append(cookies, s.keeps(deviceCookie, begun.DeviceSecret, 365*24*time.Hour))
	}
	return s.sessionReply(ctx, &signed{p, begun.Session}, cookies...)
}

type switchBody struct {
	Name string `json:"name" maxLength:"80"`
	PIN  string `json:"pin" maxLength:"8"`
}

// switchPerson brings somebody in by PIN, on a device where they came in with their
// passphrase not long ago, in place of whoever is signed in there.
func (s *server) switchPerson(ctx context.Context, in *struct{ Body switchBody }) (*sessionReply, error) {
	const full = "Sign in with your passphrase: a PIN is good on a device where you did so in the last twelve hours, and until it was wrong five times."
	deviceID, err := s.Store.Device(ctx, came(ctx).device)
	if err != nil {
		return nil, answer(err)
	}
	people, err := s.Store.PINPeople(ctx, deviceID, s.Now())
	if err != nil {
		return nil, answer(err)
	}
	for _, p := range people {
		if words.Folded(p.Name) != words.Folded(in.Body.Name) {
			continue
		}
		left, err := s.Store.MissPIN(ctx, deviceID, p.ID)
		if err != nil {
			return nil, answer(err)
		}
		if !left {
			return nil, typed(http.StatusUnauthorized, pinOver, full)
		}
		switch ok, err := passphrase.Matches(ctx, p.PIN, in.Body.PIN); {
		case err != nil:
			return nil, huma.Error503ServiceUnavailable("Too many sign in at once. Try again in a moment.")
		case !ok:
			s.missed(ctx, p, p.Name, true, "PIN")
			return nil, huma.Error401Unauthorized("The PIN does not match.")
		}
		if err := s.Store.HitPIN(ctx, deviceID, p.ID); err != nil {
			return nil, answer(err)
		}
		return s.begin(ctx, p, deviceID, true)
	}
	return nil, typed(http.StatusUnauthorized, pinOver, full)
}

func (s *server) signOut(ctx context.Context, _ *nothing) (*signedOut, error) {
	if secret := came(ctx).session; secret != "" {
		if err := s.Store.EndSession(ctx, secret); err != nil {
			return nil, answer(err)
		}
	}
	return &signedOut{[]string{s.keeps(sessionCookie, "", 0)}}, nil
}

type signedOut struct {
	SetCookie []string `header:"Set-Cookie"`
}

type preferences struct {
	Temperature string `json:"temperature,omitempty" enum:"C,F" doc:"left out: as it was"`
	Torque      string `json:"torque,omitempty" enum:"Nm,inlb" doc:"left out: as it was"`
	Decimal     string `json:"decimal,omitempty" enum:"point,comma" doc:"of figures; left out: as it was"`
	Theme       string `json:"theme,omitempty" enum:"system,light,dark" doc:"left out: as it was"`
}

func (s *server) setPreferences(ctx context.Context, in *struct{ Body preferences }) (*sessionReply, error) {
	p := here(ctx)
	b := in.Body
	p.Temperature, p.Torque, p.Theme = cmp.Or(b.Temperature, p.Temperature), cmp.Or(b.Torque, p.Torque), cmp.Or(b.Theme, p.Theme)
	p.Decimal = cmp.Or(b.Decimal, p.Decimal)
	if err := s.Store.SetPreferences(ctx, p.Person); err != nil {
		return nil, answer(err)
	}
	return s.sessionReply(ctx, &p)
}
