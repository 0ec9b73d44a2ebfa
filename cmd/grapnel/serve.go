package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/google/uuid"

	"grapnel/core/rules"
	"grapnel/internal/api"
	"grapnel/internal/demo"
	"grapnel/internal/localdb"
	"grapnel/internal/passphrase"
	"grapnel/internal/store"
	"grapnel/web"
)

// Settings come from the environment; each has a default but the DSN.
const (
	envDSN      = "GRAPNEL_DSN"      // go-sql-driver DSN: user:pass@tcp(host:3306)/name
	envAddress  = "GRAPNEL_ADDRESS"  // host:port to listen on
	envInsecure = "GRAPNEL_INSECURE" // 1 sends the session cookie without TLS too
	envRun      = "GRAPNEL_RUN"      // folder of the demo's database
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
	s, err := fromDSN(ctx)
	if err != nil {
		return err
	}
	defer func() { _ = s.Close() }()
	h := api.New(
		api.Config{
			Store:         s,
			Web:           web.Files(),
			SecureCookie:  os.Getenv(envInsecure) != "1",
			SignInsMinute: 10,
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
	dsn, err := db.Database(ctx, "grapnel")
	if err != nil {
		return err
	}
	s, err := migrated(ctx, dsn)
	if err != nil {
		return err
	}
	defer func() { _ = s.Close() }()
	if err := demo.Fill(ctx, s, time.Now()); err != nil {
		return fmt.Errorf("fill the demo workshop: %w", err)
	}
	c := api.Config{Store: s, Web: web.Files(), SignInsMinute: 60, Now: time.Now, Ending: ctx}
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

// user adds a person to a workshop, making the workshop if it is new.
func user(ctx context.Context, args []string, std streams) error {
	if len(args) != 1 || args[0] != "add" {
		return badInput{errors.New("the one thing to do with users is \"user add\"")}
	}
	s, err := fromDSN(ctx)
	if err != nil {
		return err
	}
	defer func() { _ = s.Close() }()
	in := bufio.NewScanner(std.in)
	ask := func(what string) string {
		_, _ = fmt.Fprintf(std.err, "%s: ", what)
		in.Scan()
		return strings.TrimSpace(in.Text())
	}
	shop, name, role, phrase := ask("workshop"), ask("name"), ask("role (technician or lead)"), ask("passphrase")
	switch {
	case shop == "" || name == "":
		return badInput{errors.New("a workshop and a name are needed")}
	case role != store.Technician && role != store.Lead:
		return badInput{fmt.Errorf("role %q is unknown: technician or lead", role)}
	case len([]rune(phrase)) < passphrase.Least:
		return badInput{
			fmt.Errorf(
				"the passphrase has %d characters; at least %d are needed. Four words do well",
				len([]rune(phrase)),
				passphrase.Least,
			),
		}
	}
	ws, err := s.WorkshopNamed(ctx, shop)
	if errors.Is(err, store.ErrNotFound) {
		ws = store.Workshop{ID: uuid.Must(uuid.NewV7()).String(), Name: shop, TagPrefix: "B", Rules: rules.Default()}
		err = s.AddWorkshop(ctx, ws)
	}
	if err != nil {
		return err
	}
	return s.AddPerson(
		ctx,
		store.Person{
			ID:         uuid.Must(uuid.NewV7()).String(),
			WorkshopID: ws.ID,
			Name:       name,
			Role:       role,
			Passphrase: passphrase.Hash(phrase),
		},
	)
}
