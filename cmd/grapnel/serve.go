package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/prometheus/client_golang/prometheus"
	"github.com/prometheus/client_golang/prometheus/promhttp"

	"grapnel/internal/api"
	"grapnel/internal/demo"
	"grapnel/internal/localdb"
	"grapnel/internal/store"
	"grapnel/web"
)

// Settings come from the environment; each has a default but the DSN.
const (
	envDSN      = "GRAPNEL_DSN"             // go-sql-driver DSN: user:pass@tcp(host:3306)/name
	envAddress  = "GRAPNEL_ADDRESS"         // host:port to listen on
	envInsecure = "GRAPNEL_INSECURE"        // 1 sends the session cookie without TLS too
	envMetrics  = "GRAPNEL_METRICS"         // host:port to serve /metrics on; nowhere when empty
	envRun      = "GRAPNEL_RUN"             // folder of the demo's database
	envPublic   = "GRAPNEL_PUBLIC"          // how it is reached from outside, https://bench.example: stands in codes on labels
	envTrusted  = "GRAPNEL_TRUSTED_PROXIES" // addresses or networks of proxies, with commas between
)

func setting(name, otherwise string) string {
	if v := os.Getenv(name); v != "" {
		return v
	}
	return otherwise
}

func fromDSN(ctx context.Context) (*store.Store, error) {
	dsn := os.Getenv(envDSN)
	if dsn == "" {
		return nil, badInput{
			fmt.Errorf("set %s to the database, as in user:passphrase@tcp(127.0.0.1:3306)/grapnel", envDSN),
		}
	}
	return migrated(ctx, dsn)
}

// whenUp opens the store, and waits for a database that is not up yet: after a power cut
// all start at once. What is wrong for good ends it.
func whenUp(ctx context.Context, open func(context.Context) (*store.Store, error)) (*store.Store, error) {
	for said := false; ; said = true {
		s, err := open(ctx)
		if err == nil || !store.NotUp(err) {
			return s, err
		}
		if !said {
			slog.Warn("waiting for the database", "error", err)
		}
		select {
		case <-ctx.Done():
			return nil, err
		case <-time.After(time.Second):
		}
	}
}

// migrated opens a database with its tables up to date.
func migrated(ctx context.Context, dsn string) (*store.Store, error) {
	s, err := store.Open(ctx, dsn)
	if err != nil {
		return nil, err
	}
	if err := s.Migrate(ctx); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
}

func serve(ctx context.Context, _ []string, std streams) error {
	slog.SetDefault(slog.New(slog.NewJSONHandler(std.err, nil)))
	trusted, err := proxies(os.Getenv(envTrusted))
	if err != nil {
		return badInput{err}
	}
	s, err := whenUp(ctx, fromDSN)
	if err != nil {
		return err
	}
	defer func() { _ = s.Close() }()
	counts := prometheus.NewRegistry()
	if at := os.Getenv(envMetrics); at != "" {
		stop, err := serveMetrics(at, counts)
		if err != nil {
			return err
		}
		defer stop()
	}
	h := api.New(
		api.Config{
			Store:         s,
			Web:           web.Files(),
			Public:        os.Getenv(envPublic),
			SecureCookie:  os.Getenv(envInsecure) != "1",
			SignInsMinute: 10,
			Trusted:       trusted,
			Metrics:       counts,
			Now:           time.Now,
			Ending:        ctx,
		},
	)
	return listen(
		ctx,
		h,
		setting(envAddress, "127.0.0.1:8080"),
		func(at string) { slog.Info("serving", "address", at) },
	)
}

// proxies reads the networks whose word on a client's address is taken.
func proxies(list string) ([]netip.Prefix, error) {
	var out []netip.Prefix
	for _, one := range strings.FieldsFunc(list, func(r rune) bool { return r == ',' || r == ' ' }) {
		if p, err := netip.ParsePrefix(one); err == nil {
			out = append(out, p)
			continue
		}
		at, err := netip.ParseAddr(one)
		if err != nil {
			return nil, fmt.Errorf("%s: %q is neither an address nor a network, such as 10.0.0.5 or 10.0.0.0/24", envTrusted, one)
		}
		out = append(out, netip.PrefixFrom(at, at.BitLen()))
	}
	return out, nil
}

func migrate(ctx context.Context, _ []string, _ streams) error {
	s, err := fromDSN(ctx)
	if err != nil {
		return err
	}
	return s.Close()
}

func demoServer(ctx context.Context, _ []string, std streams) (err error) {
	slog.SetDefault(slog.New(slog.NewTextHandler(std.err, &slog.HandlerOptions{Level: slog.LevelWarn})))
	db, err := localdb.Start(ctx, filepath.Join(setting(envRun, ".run"), "db"))
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, db.Stop()) }()
	db.Keep(ctx)
	dsn, err := db.Database(ctx, "grapnel")
	if err != nil {
		return err
	}
	s, err := migrated(ctx, dsn)
	if err != nil {
		return err
	}
	defer func() { _ = s.Close() }()
	clock, err := demo.OpenClock(filepath.Join(setting(envRun, ".run"), "db", "demo-clock"))
	if err != nil {
		return err
	}
	s.SetNow(clock.Now)
	if err := demo.Fill(ctx, s, clock.Now()); err != nil {
		return fmt.Errorf("fill the demo workshop: %w", err)
	}
	c := api.Config{Store: s, Web: web.Files(), SignInsMinute: 60, Now: clock.Now, MoveClock: clock.Move, Ending: ctx}
	for _, p := range demo.SignIns() {
		c.DemoSignIns = append(c.DemoSignIns, api.DemoSignIn{Name: p.Name, Passphrase: p.Passphrase, Role: p.Role})
	}
	return listen(ctx, api.New(c), setting(envAddress, "127.0.0.1:8080"), func(at string) {
		_, _ = fmt.Fprintf(std.out, "\nGrapnel is ready: http://%s\n%s\n\n", at, demo.Name)
		for _, p := range demo.SignIns() {
			_, _ = fmt.Fprintf(std.out, "  %-6s  %-24s  %s\n", p.Name, p.Passphrase, p.Role)
		}
		_, _ = fmt.Fprint(std.out, "\nCtrl-C stops it. The data stays; `make demo-reset` starts anew.\n")
	})
}

// serveMetrics serves what the server counts of itself, at an address of its own that
// nobody outside has to reach.
func serveMetrics(at string, counts *prometheus.Registry) (stop func(), err error) {
	l, err := net.Listen("tcp", at)
	if err != nil {
		return nil, fmt.Errorf("%w. Set %s to another address", err, envMetrics)
	}
	mux := http.NewServeMux()
	mux.Handle("GET /metrics", promhttp.HandlerFor(counts, promhttp.HandlerOpts{}))
	srv := &http.Server{
		Handler:           mux,
		ReadHeaderTimeout: 5 * time.Second,
		ReadTimeout:       10 * time.Second,
		WriteTimeout:      10 * time.Second,
	}
	go func() { _ = srv.Serve(l) }()
	slog.Info("serving metrics", "address", l.Addr().String())
	return func() { _ = srv.Close() }, nil
}

// listen serves until the context ends, then lets requests under way finish.
func listen(ctx context.Context, h http.Handler, address string, ready func(at string)) error {
	l, err := net.Listen("tcp", address)
	if err != nil {
		return fmt.Errorf("%w. Is another Grapnel running? Set %s to listen elsewhere", err, envAddress)
	}
	srv := &http.Server{
		Handler:           h,
		ReadHeaderTimeout: 5 * time.Second,
		ReadTimeout:       30 * time.Second,
		WriteTimeout:      60 * time.Second,
		IdleTimeout:       2 * time.Minute,
		MaxHeaderBytes:    64 << 10,
	}
	failed := make(chan error, 1)
	go func() { failed <- srv.Serve(l) }()
	ready(l.Addr().String())
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	end, cancel := context.WithTimeout(context.WithoutCancel(ctx), 10*time.Second)
	defer cancel()
	return srv.Shutdown(end)
}
