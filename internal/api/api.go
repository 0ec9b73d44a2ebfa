// Package api serves Grapnel over HTTP: typed operations under /api with an
// OpenAPI 3.1 description, and the front end. It holds no rule of the trade and
// no SQL: it asks core what is true and store what is known.
package api

import (
	"context"
	"encoding/json"
	"io/fs"
	"log/slog"
	"net/http"
	"net/netip"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/go-chi/httprate"
	"github.com/prometheus/client_golang/prometheus"

	"grapnel/core/document"
	"grapnel/internal/store"
)

// Config is what a server is made of.
type Config struct {
	Store         *store.Store
	Web           fs.FS                     // the built front end
	DemoSignIns   []DemoSignIn              // shown on the sign-in screen; only in demo mode
	MoveClock     func(time.Duration) error // moves Now on; only in demo mode
	Public        string                    // how this server is reached from outside, https://bench.example; as it was asked when empty
	SecureCookie  bool                      // cookies over TLS only, and browsers told to stay on it
	Trusted       []netip.Prefix            // proxies whose word on the client's address is taken
	SignInsMinute int                       // sign-ins allowed a minute from one address
	Now           func() time.Time
	Ending        context.Context       // ends what is sent live when it is done; nil: never
	Metrics       prometheus.Registerer // where the server's metrics are registered; nil: nowhere
}

// DemoSignIn is a name and passphrase anybody may use, in demo mode only.
type DemoSignIn struct {
	Name       string `json:"name"`
	Passphrase string `json:"passphrase"`
	Role       string `json:"role"`
}

// server answers operations.
type server struct {
	Config
	live       *live
	tries      tries
	metrics    *metrics
	labels     labels
	glances    glances
	charges    charges
	reaches    reaches
	judgements judgements
	visits     visits
	lives      lives
	followed   followedOnce
	indexer    indexer
}

// feedsMinute is how often calendars are asked for from one network: far above what programs
// do, far under what guessing takes.
const feedsMinute = 60

// mostBody is the largest request taken: a case of 500 readings is well under.
const mostBody = 1 << 20

// New gives the handler for everything Grapnel serves.
func New(c Config) http.Handler {
	if c.Ending == nil {
		c.Ending = context.Background()
	}
	s := &server{Config: c, live: newLive(c.Store), indexer: indexer{changed: make(chan struct{}, 1)}}
	s.live.changed = s.indexer.wake
	s.metrics = s.newMetrics(c.Metrics)
	go s.sweep()
	go s.index()

	r := chi.NewRouter()
	r.Use(middleware.RequestID, clientAddress(c.Trusted), s.counted, logged, recovered, s.headers)
	r.Get("/healthz", func(w http.ResponseWriter, _ *http.Request) { _, _ = w.Write([]byte("ok\n")) })
	r.Get("/readyz", s.ready)
	r.Group(func(r chi.Router) {
		cross := http.NewCrossOriginProtection()
		cross.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
			problem(w, http.StatusForbidden, "This came from another site and was refused.")
		}))
		r.Use(cross.Handler, s.carried, s.largeFromKnown, limitBody, inTime)
		r.Use(
			onlySignIn(
				httprate.LimitBy(c.SignInsMinute, time.Minute, func(r *http.Request) (string, error) { return network(r), nil },
					httprate.WithLimitHandler(func(w http.ResponseWriter, _ *http.Request) {
						problem(w, http.StatusTooManyRequests, "Too many tries to sign in. Wait a minute and try again.")
					})),
			),
		)
		r.Get("/api/events", s.events)
		s.routes(humachi.New(r.With(middleware.Compress(6, "application/json")), describe()))
		r.Handle("/api/*", http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
			problem(w, http.StatusNotFound, document.Excerpt(r.Method+" "+r.URL.Path)+
				" is not an operation here. They are listed at /api/docs.")
		}))
	})
	r.With(inTime, httprate.LimitBy(feedsMinute, time.Minute, func(r *http.Request) (string, error) { return network(r), nil })).
		Get(feedPath+"{secret}", s.calendar)
	s.web(r)
	return r
}

// sweep forgets what is over, now and then while the server runs.
func (s *server) sweep() {
	for {
		select {
		case <-s.Ending.Done():
			return
		case <-time.After(30 * time.Minute):
		}
		if err := s.Store.Sweep(s.Ending, s.Now()); err != nil {
			slog.Warn("forget sessions that are over", "error", err)
		}
	}
}

// Describe gives the OpenAPI 3.1 document without a database or a server.
func Describe() *huma.OpenAPI {
	api := humachi.New(chi.NewRouter(), describe())
	(&server{Config: Config{Now: time.Now}}).routes(api)
	return api.OpenAPI()
}

func init() {
	// Lists in answers are never null, and the description says so.
	huma.DefaultArrayNullable = false
	huma.NewError = plainly
	huma.ValidateStrictCasing = true
}

// unmarshal reads a body that does not take much more memory than its size.
func unmarshal(data []byte, into any) error {
	if err := document.Bounded(data); err != nil {
		return err
	}
	return json.Unmarshal(data, into)
}

func describe() huma.Config {
	c := huma.DefaultConfig("Grapnel", "1")
	c.Info.Description = "The battery bench of a workshop: jobs, readings, judgement. Figures carry their unit in " +
		"the field's name."
	c.OpenAPIPath, c.SchemasPath, c.DocsPath = "/api/openapi", "/api/schemas", ""
	c.CreateHooks = nil // no $schema links inside answers
	bounded := huma.Format{Marshal: huma.DefaultJSONFormat.Marshal, Unmarshal: unmarshal}
	c.Formats = map[string]huma.Format{"application/json": bounded, "json": bounded}
	describeCore(c.Components.Schemas)
	c.Components.SecuritySchemes = map[string]*huma.SecurityScheme{
		"session": {Type: "apiKey", In: "cookie", Name: "grapnel", Description: "Signed in through POST /api/session."},
	}
	return c
}

// ready answers whether there is use in sending work here: the database answers and can
// keep what is sent.
func (s *server) ready(w http.ResponseWriter, r *http.Request) {
	ctx, cancel := context.WithTimeout(r.Context(), 2*time.Second)
	defer cancel()
	if err := s.Store.Ready(ctx); err != nil {
		slog.WarnContext(ctx, "not ready", "error", err)
		problem(w, http.StatusServiceUnavailable, "The database does not answer, or cannot keep anything.")
		return
	}
	_, _ = w.Write([]byte("ready\n"))
}
