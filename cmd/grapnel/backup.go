package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"time"

	"grapnel/internal/localdb"
	"grapnel/internal/store"
)

// database opens the database at GRAPNEL_DSN, its tables as they are; where none is named and
// there is a demo, the demo's.
func database(ctx context.Context) (s *store.Store, end func(), err error) {
	dsn, stop := os.Getenv(envDSN), func() {}
	if dsn == "" {
		dir := filepath.Join(setting(envRun, ".run"), "db")
		if _, err := os.Stat(filepath.Join(dir, "data")); err != nil {
			_, err := fromDSN(ctx)
			return nil, nil, err // says that one has to be named
		}
		db, err := localdb.Start(ctx, dir)
		if err != nil {
			return nil, nil, err
		}
		if !db.Adopted() {
			stop = func() { _ = db.Stop() }
		}
		if dsn, err = db.Database(ctx, "grapnel"); err != nil {
			stop()
			return nil, nil, err
		}
	}
	s, err = store.Open(ctx, dsn)
	if err != nil {
		stop()
		return nil, nil, err
	}
	return s, func() { _ = s.Close(); stop() }, nil
}

// backup writes everything into a file that is there whole or not at all.
func backup(ctx context.Context, args []string, std streams) error {
	if len(args) != 1 {
		return badInput{errors.New("say where to: grapnel backup FILE (- for standard output)")}
	}
	s, end, err := database(ctx)
	if err != nil {
		return err
	}
	defer end()
	if args[0] == "-" {
		_, err := s.Backup(ctx, std.out)
		return err
	}
	is, err := backUpInto(ctx, s, args[0])
	if err == nil {
		_, _ = fmt.Fprintf(std.out, "%s: %d rows of %d tables, as of %s\n", args[0], is.Rows, is.Tables, is.MadeAt.Format(time.RFC3339))
	}
	return err
}

func backUpInto(ctx context.Context, s *store.Store, name string) (is store.BackedUp, err error) {
	// It holds hashes of passphrases, customers and pictures: for nobody else to read.
	f, err := os.CreateTemp(filepath.Dir(name), ".grapnel-backup-*")
	if err != nil {
		return is, err
	}
	defer func() {
		if err != nil {
			_ = f.Close()
			_ = os.Remove(f.Name())
		}
	}()
	if is, err = s.Backup(ctx, f); err != nil {
		return is, err
	}
	if err = errors.Join(f.Sync(), f.Close()); err != nil {
		return is, err
	}
	if err = os.Rename(f.Name(), name); err != nil {
		return is, err
	}
	// The name is on the disk too, before anybody is told.
	dir, err := os.Open(filepath.Dir(name))
	if err != nil {
		return is, err
	}
	return is, errors.Join(dir.Sync(), dir.Close())
}

// restore puts a backup into the database.
func restore(ctx context.Context, args []string, std streams) error {
	replace := slices.Contains(args, "--replace")
	args = slices.DeleteFunc(slices.Clone(args), func(a string) bool { return a == "--replace" })
	if len(args) != 1 {
		return badInput{errors.New("say from where: grapnel restore [--replace] FILE (- for standard input)")}
	}
	name := args[0]
	if name == "-" {
		f, err := os.CreateTemp("", "grapnel-restore-*")
		if err != nil {
			return err
		}
		defer func() { _ = os.Remove(f.Name()) }()
		if _, err := io.Copy(f, std.in); err != nil {
			return err
		}
		if err := f.Close(); err != nil {
			return err
		}
		name = f.Name()
	}
	open := func() (io.ReadCloser, error) { return os.Open(name) }
	if _, err := os.Stat(name); err != nil {
		return badInput{err}
	}
	s, end, err := database(ctx)
	if err != nil {
		return err
	}
	defer end()
	refused := func(err error) bool {
		return errors.Is(err, store.ErrDamaged) || errors.Is(err, store.ErrNewer) || errors.Is(err, store.ErrServing)
	}
	if _, err := s.CheckBackup(open); refused(err) {
		return badInput{fmt.Errorf("%w. Nothing was changed", err)}
	} else if err != nil {
		return err
	}
	if replace {
		if err := aside(ctx, s, args[0], std); err != nil {
			return err
		}
	}
	is, err := s.Restore(ctx, open, replace)
	switch {
	case errors.Is(err, store.ErrOccupied):
		return badInput{fmt.Errorf("%w. Restore into an empty one, or say --replace: what is there is backed up beside the file first", err)}
	case refused(err):
		return badInput{fmt.Errorf("%w. Nothing was changed", err)}
	case err != nil:
		return err
	}
	_, _ = fmt.Fprintf(std.out, "Restored %d rows of %d tables, as of %s. Everybody signs in again.\n", is.Rows, is.Tables, is.MadeAt.Format(time.RFC3339))
	return nil
}

// aside backs up what is about to be replaced.
func aside(ctx context.Context, s *store.Store, name string, std streams) error {
	occupied, err := s.Occupied(ctx)
	if err != nil || !occupied {
		return err
	}
	if name == "-" {
		name = "grapnel"
	}
	to := name + ".before-" + time.Now().UTC().Format("20060102T150405Z")
	if _, err := backUpInto(ctx, s, to); err != nil {
		return fmt.Errorf("back up what is there: %w", err)
	}
	_, _ = fmt.Fprintf(std.out, "What was there is in %s\n", to)
	return nil
}
