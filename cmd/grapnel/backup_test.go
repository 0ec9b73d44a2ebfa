package main

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/internal/effort"
	"grapnel/internal/fatal"
	"grapnel/internal/localdb/dbtest"
	"grapnel/internal/store"
)

// program is the built binary, so that it can be killed.
func program(t *testing.T) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "grapnel")
	if out, err := exec.Command("go", "build", "-o", path, ".").CombinedOutput(); err != nil {
		t.Fatalf("%v %s", err, out)
	}
	return path
}

// worked is a database with a workshop that has been at work: so many jobs of ten readings.
func worked(t *testing.T, jobs int) (dsn string, s *store.Store, ws, person string) {
	t.Helper()
	ctx := context.Background()
	dsn = dbtest.DSN(t)
	s, err := store.Open(ctx, dsn)
	fatal.On(t, err)
	t.Cleanup(func() { _ = s.Close() })
	fatal.On(t, s.Migrate(ctx))
	ws, person = dbtest.ID(), dbtest.ID()
	fatal.On(t, s.AddWorkshop(ctx, store.Workshop{ID: ws, Name: "First", TagPrefix: "K", Rules: rules.Default()}))
	fatal.On(t, s.AddPerson(ctx, store.Actor{}, store.Person{ID: person, WorkshopID: ws, Name: "Hand " + person, Role: store.Lead, Passphrase: "x"}))
	for i := range jobs {
		fatal.On(t, s.AddJob(ctx, ws, newJob(person, i), tenReadings(person)))
	}
	return dsn, s, ws, person
}

func newJob(person string, i int) store.Job {
	return store.Job{ID: dbtest.ID(), OpenedByID: person, Rules: rules.Default(), Customer: fmt.Sprint("Customer ", i),
		Vehicle: reading.Vehicle{Class: "car", Name: fmt.Sprint("Car ", i)}, Battery: reading.Battery{Chemistry: battery.AGM}}
}

func tenReadings(person string) []store.StoredReading {
	out := make([]store.StoredReading, 10)
	for k := range out {
		out[k] = store.StoredReading{ByID: person, Entry: reading.Entry{ID: dbtest.ID(), Reading: reading.Of("rest_voltage", reading.Fields{"volts": 12.6})}}
	}
	return out
}

// grapnelAt runs the program on a database; killed after a time where one is given.
func grapnelAt(bin, dsn string, kill time.Duration, args ...string) (string, error) {
	c := exec.Command(bin, args...)
	c.Env = append(os.Environ(), envDSN+"="+dsn)
	var out bytes.Buffer
	c.Stdout, c.Stderr = &out, &out
	if err := c.Start(); err != nil {
		return "", err
	}
	if kill > 0 {
		time.AfterFunc(kill, func() { _ = c.Process.Kill() })
	}
	err := c.Wait()
	return out.String(), err
}

// sumOf gives what a backup holds, as far as it is whole.
func sumOf(path string) (store.BackedUp, error) {
	f, err := os.Open(path)
	if err != nil {
		return store.BackedUp{}, err
	}
	defer func() { _ = f.Close() }()
	return store.ReadBackup(f, nil, nil)
}

// A backup that is killed at any moment, on a busy server, leaves the file that was there, or a
// whole one: never half of one under its name.
func TestBackupKilled(t *testing.T) {
	bin := program(t)
	dsn, s, ws, person := worked(t, effort.Of(60, 120, 300))
	var stop atomic.Bool
	done := make(chan struct{})
	go func() { // others work meanwhile
		defer close(done)
		for i := 0; !stop.Load(); i++ {
			if err := s.AddJob(context.Background(), ws, newJob(person, i), tenReadings(person)); err != nil {
				t.Error(err)
				return
			}
		}
	}()
	defer func() { stop.Store(true); <-done }()
	path := filepath.Join(t.TempDir(), "shop.backup")
	out, err := grapnelAt(bin, dsn, 0, "backup", path)
	if err != nil {
		t.Fatalf("%v %s", err, out)
	}
	if info, err := os.Stat(path); err != nil || info.Mode().Perm() != 0o600 {
		t.Errorf("%v %v: others can read it", info.Mode(), err)
	}
	first, err := sumOf(path)
	fatal.On(t, err)
	rnd := rand.New(rand.NewPCG(16, 3))
	killed := 0
	n := effort.Of(2, 6, 25)
	for range n {
		_, err := grapnelAt(bin, dsn, time.Duration(5+rnd.IntN(140))*time.Millisecond, "backup", path)
		if err != nil {
			killed++
		}
		is, whole := sumOf(path)
		if whole != nil || is.Rows < first.Rows {
			t.Fatalf("after a kill the file is %+v, %v", is, whole)
		}
		first = is
	}
	if killed < n/5 {
		t.Errorf("only %d were killed in time", killed)
	}
}

// A restore that is killed at any moment leaves a database that nobody serves on by mistake,
// and that the next restore makes whole: what it holds then is what was backed up.
func TestRestoreKilled(t *testing.T) {
	bin := program(t)
	dsn, s, _, _ := worked(t, effort.Of(60, 120, 300))
	path := filepath.Join(t.TempDir(), "shop.backup")
	if out, err := grapnelAt(bin, dsn, 0, "backup", path); err != nil {
		t.Fatalf("%v %s", err, out)
	}
	fatal.On(t, s.Close())
	want, err := sumOf(path)
	fatal.On(t, err)
	rnd := rand.New(rand.NewPCG(16, 4))
	killed, marked := 0, 0
	n := effort.Of(1, 2, 8)
	for range n {
		to := dbtest.DSN(t)
		for range 3 {
			if _, err := grapnelAt(bin, to, time.Duration(40+rnd.IntN(500))*time.Millisecond, "restore", path); err == nil {
				break // it was through
			}
			killed++
			if out, err := grapnelAt(bin, to, 0, "migrate"); err != nil {
				if !strings.Contains(out, "broken off") {
					t.Fatalf("%v %s", err, out)
				}
				marked++
			} else if n := rowsOf(t, to); n != 0 && n != want.Rows {
				t.Fatalf("half a restore is served: %d rows of %d", n, want.Rows)
			}
		}
		out, err := grapnelAt(bin, to, 0, "restore", "--replace", path)
		if err != nil {
			t.Fatalf("%v %s", err, out)
		}
		if n := rowsOf(t, to); n != want.Rows {
			t.Errorf("%d rows were restored of %d", n, want.Rows)
		}
	}
	if killed < n/2 || marked < n/8 {
		t.Errorf("%d were killed, %d left their mark", killed, marked)
	}
}

func rowsOf(t *testing.T, dsn string) int64 {
	t.Helper()
	s, err := store.Open(context.Background(), dsn)
	fatal.On(t, err)
	defer func() { _ = s.Close() }()
	is, err := s.Backup(context.Background(), io.Discard)
	fatal.On(t, err)
	return is.Rows
}

// What is asked for badly says what to do, and changes nothing; what is replaced is backed up
// first.
func TestBackupAsked(t *testing.T) {
	ctx := context.Background()
	dsn, s, _, _ := worked(t, 3)
	t.Setenv(envDSN, dsn)
	ask := func(in io.Reader, args ...string) (int, string) {
		var out bytes.Buffer
		return run(ctx, args, streams{in, &out, &out}), out.String()
	}
	dir := t.TempDir()
	path := filepath.Join(dir, "shop.backup")
	for _, bad := range []struct {
		args []string
		says string
	}{
		{[]string{"backup"}, "say where to"}, {[]string{"backup", "a", "b"}, "say where to"}, {[]string{"restore"}, "say from where"},
		{[]string{"restore", filepath.Join(dir, "none")}, "no such file"}, {[]string{"restore", "backup_test.go"}, "this backup is damaged: it does not begin as one"},
	} {
		if code, out := ask(nil, bad.args...); code != 2 || !strings.Contains(out, bad.says) {
			t.Errorf("%v: %d %s", bad.args, code, out)
		}
	}
	if code, out := ask(nil, "backup", filepath.Join(dir, "no", "where")); code == 0 {
		t.Errorf("into no folder: %s", out)
	}
	if code, out := ask(nil, "backup", path); code != 0 || !strings.Contains(out, "rows of") {
		t.Fatalf("%d %s", code, out)
	}
	if code, out := ask(nil, "restore", path); code != 2 || !strings.Contains(out, "this database is in use: stop Grapnel first") {
		t.Errorf("under a server: %d %s", code, out)
	}
	fatal.On(t, s.Close())
	if code, out := ask(nil, "restore", path); code != 2 || !strings.Contains(out, "--replace") {
		t.Errorf("over a workshop: %d %s", code, out)
	}
	code, out := ask(nil, "restore", "--replace", path)
	kept, err := filepath.Glob(path + ".before-*")
	if code != 0 || err != nil || len(kept) != 1 || !strings.Contains(out, "What was there is in") {
		t.Fatalf("%d %s %v", code, out, kept)
	}
	before, err := sumOf(kept[0])
	fatal.On(t, err)
	if is, err := sumOf(path); err != nil || is.Rows != before.Rows {
		t.Errorf("%+v %+v %v", is, before, err)
	}
	// Through pipes, too.
	var piped bytes.Buffer
	if code := run(ctx, []string{"backup", "-"}, streams{nil, &piped, io.Discard}); code != 0 {
		t.Fatal(code)
	}
	t.Setenv(envDSN, dbtest.DSN(t))
	if code, out := ask(&piped, "restore", "-"); code != 0 {
		t.Errorf("from a pipe: %d %s", code, out)
	}
	// Neither a file nor a database is left half made.
	if half, err := filepath.Glob(filepath.Join(dir, ".grapnel-*")); err != nil || len(half) > 0 {
		t.Errorf("left behind: %v", half)
	}
	t.Setenv(envDSN, "")
	t.Setenv(envRun, t.TempDir())
	if code, out := ask(nil, "backup", path); code != 2 || !strings.Contains(out, envDSN) {
		t.Errorf("no database: %d %s", code, out)
	}
	if _, err := os.Stat(path); errors.Is(err, os.ErrNotExist) {
		t.Error("the good file is gone")
	}
}
