// Package localdb runs a private MariaDB for demo, development and tests. It
// keeps everything in one data folder, listens on a socket only its own user
// can reach, and needs no system service. It works as root and as a normal
// user.
package localdb

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"
	"syscall"
	"time"

	"github.com/go-sql-driver/mysql"
)

// Packages are the Debian packages a private MariaDB needs.
const Packages = "mariadb-server"

// Server is a running private MariaDB.
type Server struct {
	dir    string
	socket string
	pid    int
	done   chan struct{} // closed when the process this Server started has ended; nil when adopted
}

// Start runs MariaDB on the data folder dir, making the folder on first use. A
// server left over from a killed program is adopted, so no data folder ever has
// two.
func Start(ctx context.Context, dir string) (*Server, error) {
	bin, err := find("mariadbd", "mysqld")
	if err != nil {
		return nil, err
	}
	dir, err = filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	s := &Server{dir: dir, socket: socketPath(dir)}
	if err := os.MkdirAll(s.temp(), 0o700); err != nil {
		return nil, fmt.Errorf("make the database folder: %w", err)
	}
	if s.adopt(ctx) {
		slog.Info("found this folder's database already running", "pid", s.pid)
		return s, nil
	}
	if err := s.install(ctx); err != nil {
		return nil, err
	}
	if err := s.launch(ctx, bin); err != nil {
		return nil, err
	}
	return s, nil
}

// socketPath is short, since a socket's path may have 107 bytes only, and the
// same for the same data folder, so that a left-over server is found again.
func socketPath(dir string) string {
	sum := sha256.Sum256([]byte(dir))
	return filepath.Join(os.TempDir(), fmt.Sprintf("grapnel-%d-%x", os.Getuid(), sum[:6]), "db.sock")
}

func find(names ...string) (string, error) {
	for _, name := range names {
		for _, dir := range []string{"", "/usr/sbin", "/usr/bin"} {
			if path, err := exec.LookPath(filepath.Join(dir, name)); err == nil {
				return path, nil
			}
		}
	}
	return "", fmt.Errorf(
		"%s is not installed. On Debian: sudo apt-get install --no-install-recommends %s",
		names[0],
		Packages,
	)
}

func (s *Server) account() []string {
	if os.Getuid() != 0 {
		return nil
	}
	// MariaDB refuses root unless told; its folder belongs to root alone here.
	return []string{"--user=root"}
}

func (s *Server) data() string    { return filepath.Join(s.dir, "data") }
func (s *Server) temp() string    { return filepath.Join(s.dir, "tmp") }
func (s *Server) pidFile() string { return filepath.Join(s.dir, "pid") }

// environment gives MariaDB a folder of its own for temporary tables. A starting
// MariaDB deletes all such tables it finds in its folder, those of other servers
// too, so in a shared folder one server's start makes another's statements fail.
func (s *Server) environment() []string { return append(os.Environ(), "TMPDIR="+s.temp()) }

// install makes the system tables once. It works in a side folder that is
// renamed when complete, so that a kill half way leaves nothing half made.
func (s *Server) install(ctx context.Context) error {
	if _, err := os.Stat(s.data()); err == nil {
		return nil
	}
	bin, err := find("mariadb-install-db", "mysql_install_db")
	if err != nil {
		return err
	}
	fresh := s.data() + ".new"
	if err := os.RemoveAll(fresh); err != nil {
		return err
	}
	// The install script does not quote the folder's path, which may have spaces
	// in it, so it is given a relative one.
	args := append(
		[]string{"--no-defaults", "--datadir=./" + filepath.Base(fresh), "--auth-root-authentication-method=normal",
			"--skip-test-db", "--skip-name-resolve"},
		s.account()...)
	cmd := exec.CommandContext(ctx, bin, args...)
	cmd.Dir = s.dir
	cmd.Env = s.environment()
	out, err := cmd.CombinedOutput()
	if err != nil {
		return fmt.Errorf("set up the database folder %s: %w\n%s", fresh, err, out)
	}
	return os.Rename(fresh, s.data())
}

func (s *Server) launch(ctx context.Context, bin string) error {
	if err := os.MkdirAll(filepath.Dir(s.socket), 0o700); err != nil {
		return err
	}
	log, err := os.OpenFile(filepath.Join(s.dir, "mariadb.log"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer func() { _ = log.Close() }()
	args := append([]string{"--no-defaults", "--datadir=" + s.data(), "--socket=" + s.socket, "--skip-networking",
		"--pid-file=" + s.pidFile(), "--innodb-flush-log-at-trx-commit=1", "--innodb-buffer-pool-size=64M",
		"--character-set-server=utf8mb4", "--default-time-zone=+00:00", "--skip-name-resolve"}, s.account()...)
	cmd := exec.Command(bin, args...)
	cmd.Env = s.environment()
	cmd.Stdout, cmd.Stderr = log, log
	// Its own process group, so that Ctrl-C reaches it only through Stop; and
	// the kernel ends it if this program is killed.
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGTERM}
	started := make(chan error, 1)
	s.done = make(chan struct{})
	go func() {
		// Pdeathsig follows the thread that started the child, so it must live.
		runtime.LockOSThread()
		err := cmd.Start()
		started <- err
		if err == nil {
			_ = cmd.Wait()
		}
		close(s.done)
	}()
	if err := <-started; err != nil {
		return fmt.Errorf("start %s: %w", bin, err)
	}
	s.pid = cmd.Process.Pid
	deadline := time.Now().Add(60 * time.Second)
	for {
		if s.ping(ctx) == nil {
			return nil
		}
		select {
		case <-s.done:
			return fmt.Errorf("MariaDB ended at once; its log is %s:\n%s", log.Name(), tail(log.Name()))
		case <-ctx.Done():
			_ = s.Stop()
			return ctx.Err()
		case <-time.After(50 * time.Millisecond):
			if time.Now().After(deadline) {
				_ = s.Stop()
				return fmt.Errorf(
					"MariaDB did not answer within a minute; its log is %s:\n%s",
					log.Name(),
					tail(log.Name()),
				)
			}
		}
	}
}

// adopt takes over a server that already runs on this folder.
func (s *Server) adopt(ctx context.Context) bool {
	raw, err := os.ReadFile(s.pidFile())
	if err != nil {
		return false
	}
	pid, err := strconv.Atoi(strings.TrimSpace(string(raw)))
	if err != nil {
		return false
	}
	s.pid = pid
	// It may be shutting down because its program died, or still be starting.
	for range 600 {
		if !s.alive() {
			return false
		}
		if s.ping(ctx) == nil {
			time.Sleep(300 * time.Millisecond)
			if s.ping(ctx) == nil && s.alive() {
				return true
			}
		}
		time.Sleep(50 * time.Millisecond)
	}
	return false
}

// alive reports whether the process is a MariaDB on this folder. A process that
// has ended but was not collected has no command line any more.
func (s *Server) alive() bool {
	cmdline, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", s.pid))
	return err == nil && strings.Contains(string(cmdline), "--datadir="+s.data()+"\x00")
}

func (s *Server) ping(ctx context.Context) error {
	db, err := sql.Open("mysql", s.dsn(""))
	if err != nil {
		return err
	}
	defer func() { _ = db.Close() }()
	ctx, cancel := context.WithTimeout(ctx, 2*time.Second)
	defer cancel()
	return db.PingContext(ctx)
}

func (s *Server) dsn(database string) string {
	c := mysql.NewConfig()
	c.User, c.Net, c.Addr, c.DBName = "root", "unix", s.socket, database
	return c.FormatDSN()
}

// Database makes a database of that name if it is missing and gives the DSN to
// reach it.
func (s *Server) Database(ctx context.Context, name string) (dsn string, err error) {
	db, err := sql.Open("mysql", s.dsn(""))
	if err != nil {
		return "", err
	}
	defer func() { err = errors.Join(err, db.Close()) }()
	if strings.ContainsAny(name, "`\x00") {
		return "", fmt.Errorf("database name %q has a quote in it", name)
	}
	if _, err := db.ExecContext(ctx, "CREATE DATABASE IF NOT EXISTS `"+name+"` CHARACTER SET utf8mb4"); err != nil {
		return "", fmt.Errorf("make database %s: %w", name, err)
	}
	return s.dsn(name), nil
}

// Kill ends the server at once, as a power cut would, and waits until it is
// gone. It is for tests of what survives.
func (s *Server) Kill() error {
	if err := syscall.Kill(s.pid, syscall.SIGKILL); err != nil {
		return err
	}
	return s.wait(30 * time.Second)
}

// Stop shuts the server down in order and waits for it.
func (s *Server) Stop() error {
	if err := syscall.Kill(s.pid, syscall.SIGTERM); err != nil && !errors.Is(err, syscall.ESRCH) {
		return err
	}
	return s.wait(60 * time.Second)
}

func (s *Server) wait(limit time.Duration) error {
	defer func() { _ = os.RemoveAll(filepath.Dir(s.socket)) }()
	for end := time.Now().Add(limit); time.Now().Before(end); time.Sleep(20 * time.Millisecond) {
		if s.done != nil {
			select {
			case <-s.done:
				return nil
			default:
			}
		} else if !s.alive() {
			return nil
		}
	}
	return fmt.Errorf("MariaDB (process %d) did not end within %s", s.pid, limit)
}

func tail(path string) string {
	raw, err := os.ReadFile(path)
	if err != nil {
		return err.Error()
	}
	return string(raw[max(0, len(raw)-2000):])
}
