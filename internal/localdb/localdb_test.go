package localdb

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/go-sql-driver/mysql"

	"grapnel/internal/fatal"

	"grapnel/internal/effort"
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

// It listens on the loopback address alone, for one account with a passphrase of its
// own: nobody comes in without, by the port or by the socket, and the server of another
// folder takes another passphrase on another port.
func TestNobodyElseComesIn(t *testing.T) {
	ctx := t.Context()
	one, two := start(t, filepath.Join(t.TempDir(), "db")), start(t, filepath.Join(t.TempDir(), "db"))
	defer func() { _, _ = one.Kill(), two.Kill() }()
	if one.port == two.port || one.account == two.account || len(one.account.passphrase) < 20 {
		t.Errorf("%d %v and %d %v", one.port, one.account, two.port, two.account)
	}
	var bound string
	must(t, open(t, one).QueryRow("SELECT @@bind_address").Scan(&bound))
	if bound != "127.0.0.1" {
		t.Errorf("listens on %s", bound)
	}
	for name, as := range map[string]*mysql.Config{
		"root by the port":            {User: "root", Net: "tcp", Addr: fmt.Sprintf("127.0.0.1:%d", one.port)},
		"nobody by the port":          {Net: "tcp", Addr: fmt.Sprintf("127.0.0.1:%d", one.port)},
		"without the passphrase":      {User: one.account.name, Net: "tcp", Addr: fmt.Sprintf("127.0.0.1:%d", one.port)},
		"with another's":              {User: one.account.name, Passwd: two.account.passphrase, Net: "tcp", Addr: fmt.Sprintf("127.0.0.1:%d", one.port)},
		"root by the socket":          {User: "root", Net: "unix", Addr: one.socket},
		"its own user by the socket":  {User: one.account.name, Passwd: one.account.passphrase, Net: "unix", Addr: one.socket},
		"the system user by the port": {User: "mariadb.sys", Net: "tcp", Addr: fmt.Sprintf("127.0.0.1:%d", one.port)},
	} {
		full := mysql.NewConfig()
		full.User, full.Passwd, full.Net, full.Addr = as.User, as.Passwd, as.Net, as.Addr
		db, err := sql.Open("mysql", full.FormatDSN())
		must(t, err)
		var refused *mysql.MySQLError
		if err := db.PingContext(ctx); !errors.As(err, &refused) {
			t.Errorf("%s: %v", name, err)
		}
		_ = db.Close()
	}
	for _, file := range []string{one.accountFile(), one.portFile()} {
		if info, err := os.Stat(file); err != nil || info.Mode().Perm() != 0o600 {
			t.Errorf("%s: %v %v", file, info.Mode(), err)
		}
	}
	if _, err := os.Stat(filepath.Join(one.dir, "accounts.sql")); err == nil {
		t.Error("the statements were left lying about")
	}
}

// A folder of an older version, whose database was open to whoever reached its socket,
// keeps its data and gets an account.
func TestOlderFolderIsClosed(t *testing.T) {
	ctx := t.Context()
	dir := filepath.Join(t.TempDir(), "db")
	old := start(t, dir)
	_, err := open(t, old).Exec("CREATE TABLE kept (id INT PRIMARY KEY)")
	must(t, err)
	_, err = open(t, old).Exec("CREATE USER root@localhost IDENTIFIED BY ''")
	must(t, err)
	must(t, os.Remove(old.accountFile()))
	must(t, os.Remove(old.portFile()))
	now := start(t, dir) // takes the place of the one that runs
	defer func() { _ = now.Kill() }()
	if now.pid == old.pid || now.account == old.account {
		t.Errorf("still %d with %v", now.pid, now.account)
	}
	if _, err := open(t, now).ExecContext(ctx, "INSERT INTO kept VALUES (1)"); err != nil {
		t.Error(err)
	}
	var others int
	must(t, open(t, now).QueryRow("SELECT COUNT(*) FROM mysql.global_priv WHERE User = 'root'").Scan(&others))
	if others != 0 {
		t.Errorf("%d accounts of root", others)
	}
	must(t, os.WriteFile(now.accountFile(), []byte("spoiled"), 0o600))
	if _, err := Start(ctx, dir); err == nil || !strings.Contains(err.Error(), "remove it") {
		t.Errorf("a spoiled account: %v", err)
	}
}

// A kept server that is killed comes back by itself, at the same address; one that is
// stopped stays so.
func TestKeptServerComesBack(t *testing.T) {
	s := start(t, filepath.Join(t.TempDir(), "db"))
	db := open(t, s)
	s.Keep(t.Context())
	dsn := s.dsn("grapnel")
	for range 2 {
		must(t, s.Signal(syscall.SIGKILL))
		var err error
		for range 2400 { // two minutes
			time.Sleep(50 * time.Millisecond)
			if err = db.Ping(); err == nil {
				break
			}
		}
		must(t, err)
	}
	if s.dsn("grapnel") != dsn {
		t.Errorf("first at %s, then at %s", dsn, s.dsn("grapnel"))
	}
	must(t, s.Stop())
	time.Sleep(300 * time.Millisecond)
	if s.alive() || db.Ping() == nil {
		t.Error("it came back after Stop")
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

func TestMain(m *testing.M) {
	effort.LeaveOut()
	os.Exit(m.Run())
}
