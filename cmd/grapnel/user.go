package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"strings"
	"text/tabwriter"
	"time"

	"github.com/google/uuid"

	"grapnel/core/rules"
	"grapnel/core/words"
	"grapnel/internal/passphrase"
	"grapnel/internal/store"
)

// userCommands are what can be done with accounts from the command line, by whoever has
// the database: the same as in the place People, with the same rules.
var userCommands = []struct {
	name, does string
	run        func(ctx context.Context, s *store.Store, ask func(what string) string, std streams) error
}{
	{"add", "add a person, and the workshop if it is new", addUser},
	{"list", "list a workshop's people", listUsers},
	{"role", "make somebody technician or lead", userRole},
	{"passphrase", "give somebody a temporary passphrase", userPassphrase},
	{"close", "close an account and end its sessions", closeUser},
	{"open", "open a closed account again", openUser},
	{"end", "end all sessions of somebody", endUser},
	{"second-factor", "turn somebody's second factor off", dropUserSecond},
}

func user(ctx context.Context, args []string, std streams) error {
	if len(args) == 1 {
		for _, c := range userCommands {
			if c.name != args[0] {
				continue
			}
			s, err := fromDSN(ctx)
			if err != nil {
				return err
			}
			defer func() { _ = s.Close() }()
			in := bufio.NewScanner(std.in)
			return c.run(ctx, s, func(what string) string {
				_, _ = fmt.Fprintf(std.err, "%s: ", what)
				in.Scan()
				return strings.TrimRight(in.Text(), "\r")
			}, std)
		}
	}
	lines := []string{"say what to do with users; each asks on standard input:"}
	for _, c := range userCommands {
		lines = append(lines, fmt.Sprintf("  grapnel user %-14s %s", c.name, c.does))
	}
	if asksHelp(args) {
		_, _ = fmt.Fprintln(std.out, strings.Join(lines[1:], "\n"))
		return nil
	}
	return badInput{errors.New(strings.Join(lines, "\n"))}
}

func addUser(ctx context.Context, s *store.Store, ask func(string) string, _ streams) error {
	shop, name, role, phrase := words.Clean(
		ask("workshop"),
	), words.Clean(
		ask("name"),
	), words.Clean(
		ask("role (technician or lead)"),
	), ask(
		"passphrase",
	)
	switch {
	case shop == "" || name == "":
		return badInput{errors.New("a workshop and a name are needed")}
	case len([]rune(name)) > 80 || len([]rune(shop)) > 120:
		return badInput{errors.New("a name has at most 80 characters, that of a workshop 120")}
	case role != store.Technician && role != store.Lead:
		return badInput{fmt.Errorf("role %q is unknown: technician or lead", role)}
	}
	if err := passphrase.Check(phrase, name, shop); err != nil {
		return badInput{err}
	}
	ws, err := s.WorkshopNamed(ctx, shop)
	if errors.Is(err, store.ErrNotFound) {
		ws = store.Workshop{ID: uuid.Must(uuid.NewV7()).String(), Name: shop, TagPrefix: "B", Rules: rules.Default()}
		err = s.AddWorkshop(ctx, ws)
	}
	if err != nil {
		return err
	}
	err = s.AddPerson(
		ctx,
		store.Actor{},
		store.Person{
			ID:         uuid.Must(uuid.NewV7()).String(),
			WorkshopID: ws.ID,
			Name:       name,
			Role:       role,
			Passphrase: passphrase.Hash(phrase),
		},
	)
	if errors.Is(err, store.ErrTaken) {
		return badInput{fmt.Errorf("the name %q is taken; choose another", name)}
	}
	return err
}

func listUsers(ctx context.Context, s *store.Store, ask func(string) string, std streams) error {
	ws, err := s.WorkshopNamed(ctx, words.Clean(ask("workshop")))
	if err != nil {
		return badInput{err}
	}
	people, err := s.People(ctx, ws.ID, time.Now())
	if err != nil {
		return err
	}
	w := tabwriter.NewWriter(std.out, 0, 4, 2, ' ', 0)
	for _, p := range people {
		state := fmt.Sprintf("%d sessions", p.Sessions)
		if p.DisabledAt != nil {
			state = "closed " + p.DisabledAt.Format(time.DateOnly)
		}
		second := ""
		if p.TOTP != "" {
			second = "second factor"
		}
		_, _ = fmt.Fprintf(w, "%s\t%s\t%s\t%s\n", p.Name, p.Role, state, second)
	}
	return w.Flush()
}

// named asks for somebody.
func named(ctx context.Context, s *store.Store, ask func(string) string) (store.Person, error) {
	p, err := s.PersonNamed(ctx, words.Clean(ask("name")))
	if errors.Is(err, store.ErrNotFound) {
		return p, badInput{errors.New("nobody has this name; grapnel user list shows those of a workshop")}
	}
	return p, err
}

func userRole(ctx context.Context, s *store.Store, ask func(string) string, _ streams) error {
	p, err := named(ctx, s, ask)
	if err != nil {
		return err
	}
	role := words.Clean(ask("role (technician or lead)"))
	if role != store.Technician && role != store.Lead {
		return badInput{fmt.Errorf("role %q is unknown: technician or lead", role)}
	}
	return s.SetRole(ctx, store.Actor{}, p.WorkshopID, p.ID, role)
}

func userPassphrase(ctx context.Context, s *store.Store, ask func(string) string, _ streams) error {
	p, err := named(ctx, s, ask)
	if err != nil {
		return err
	}
	phrase := ask("temporary passphrase")
	if err := passphrase.Check(phrase, p.Name, p.Workshop); err != nil {
		return badInput{err}
	}
	return s.SetPassphrase(ctx, store.Actor{}, p.WorkshopID, p.ID, passphrase.Hash(phrase), true, store.Session{})
}

func closeUser(ctx context.Context, s *store.Store, ask func(string) string, _ streams) error {
	return setClosed(ctx, s, ask, true)
}

func openUser(ctx context.Context, s *store.Store, ask func(string) string, _ streams) error {
	return setClosed(ctx, s, ask, false)
}

func setClosed(ctx context.Context, s *store.Store, ask func(string) string, closed bool) error {
	p, err := named(ctx, s, ask)
	if err != nil {
		return err
	}
	return s.SetDisabled(ctx, store.Actor{}, p.WorkshopID, p.ID, closed)
}

func endUser(ctx context.Context, s *store.Store, ask func(string) string, _ streams) error {
	p, err := named(ctx, s, ask)
	if err != nil {
		return err
	}
	return s.EndSessions(ctx, store.Actor{}, p.WorkshopID, p.ID, store.Session{})
}

func dropUserSecond(ctx context.Context, s *store.Store, ask func(string) string, _ streams) error {
	p, err := named(ctx, s, ask)
	if err != nil {
		return err
	}
	return s.SetTOTP(ctx, store.Actor{}, p.WorkshopID, p.ID, "", 0, nil)
}
