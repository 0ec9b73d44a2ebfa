package localdb

import (
	"context"
	"database/sql"
	"os"
	"path/filepath"
	"syscall"
	"testing"

	"grapnel/internal/fatal"
)

func start(t *testing.T, dir string) *Server {
	t.Helper()
	s, err := Start(context.Background(), dir)
	must(t, err)
	return s
}

func open(t *testing.T, s *Server) *sql.DB {
	t.Helper()
	dsn, err := s.Database(context.Background(), "grapnel")
	must(t, err)
	db, err := sql.Open("mysql", dsn)
	must(t, err)
	t.Cleanup(func() { _ = db.Close() })
	return db
}

// A committed row outlives a kill -9 of MariaDB; a second start keeps the data
// and a server left running is adopted instead of started twice.
func TestSurvivesKillAndIsAdopted(t *testing.T) {
	dir := filepath.Join(t.TempDir(),
		"a folder with a name long enough that a socket inside it could not be opened by anybody at all", "db")
	s := start(t, dir)
	db := open(t, s)
	for _, q := range []string{"CREATE TABLE kept (id INT PRIMARY KEY)", "INSERT INTO kept VALUES (42)"} {
		if _, err := db.Exec(q); err != nil {
			t.Fatal(err)
		}
	}
	must(t, s.Kill())

	s = start(t, dir)
	var id int
	if err := open(t, s).QueryRow("SELECT id FROM kept").Scan(&id); err != nil || id != 42 {
		t.Fatalf("after kill -9: %d, %v", id, err)
	}

	again := start(t, dir)
	if again.pid != s.pid {
		t.Errorf("a second server was started: %d beside %d", again.pid, s.pid)
	}
	must(t, s.Stop())
	if err := syscall.Kill(s.pid, 0); err == nil {
		t.Error("the server still runs after Stop")
	}
	if _, err := os.Stat(filepath.Dir(s.socket)); err == nil {
		t.Error("the socket folder was left behind")
	}
}

// A set-up cut short by a kill is done again from the start.
func TestHalfMadeFolder(t *testing.T) {
	dir := filepath.Join(t.TempDir(), "db")
	must(t, os.MkdirAll(filepath.Join(dir, "data.new", "mysql"), 0o700))
	s := start(t, dir)
	open(t, s)
	must(t, s.Kill())
}

// A starting MariaDB deletes temporary tables left in its temporary folder, so it
// must not be given the one that other servers, in the middle of a statement, use.
func TestLeavesOtherServersTemporaryTables(t *testing.T) {
	shared := t.TempDir()
	t.Setenv("TMPDIR", shared)
	var tables []string
	for _, ending := range []string{".MAI", ".MAD", ".ibd", ".frm"} {
		path := filepath.Join(shared, "#sql-temptable-1-1-1"+ending)
		must(t, os.WriteFile(path, nil, 0o600))
		tables = append(tables, path)
	}
	s := start(t, filepath.Join(t.TempDir(), "db"))
	must(t, s.Kill())
	for _, path := range tables {
		if _, err := os.Stat(path); err != nil {
			t.Error(err)
		}
	}
}

var must = fatal.On
