// Package localdb runs a private MariaDB for demo, development and tests. It
// keeps everything in one data folder, listens on a free port of the loopback
// address for one account of its own with a random passphrase, and needs no
// system service. It works as root and as a normal user.
package localdb

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	"github.com/go-sql-driver/mysql"
)

// Packages are the Debian packages a private MariaDB needs.
const Packages = "mariadb-server"

// Server is a running private MariaDB.
type Server struct {
	dir     string
	options []string // beside the usual ones
	socket  string
	account account

	mu       sync.Mutex
	port     int
	pid      int
	done     chan struct{} // closed when the process this Server started has ended; nil when adopted
	stopping bool
}

// Start runs MariaDB on the data folder dir, making the folder on first use. A
// server left over from a killed program is adopted, so no data folder ever has
// two. Options are given to MariaDB beside the usual ones.
func Start(ctx context.Context, dir string, options ...string) (*Server, error) {
	if _, err := find("mariadbd", "mysqld"); err != nil {
		return nil, err
	}
	dir, err := filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	s := &Server{dir: dir, options: options, socket: socketPath(dir)}
	if err := os.MkdirAll(s.temp(), 0o700); err != nil {
		return nil, fmt.Errorf("make the database folder: %w", err)
	}
	if err := s.readAccount(); err != nil {
		return nil, err
	}
	if s.adopt(ctx) {
		slog.Info("found this folder's database already running", "pid", s.pid)
		return s, nil
	}
	if err := s.install(ctx); err != nil {
		return nil, err
	}
	if err := s.launch(ctx); err != nil {
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

func (s *Server) asRoot() []string {
	named := slices.ContainsFunc(s.options, func(o string) bool { return strings.HasPrefix(o, "--user=") })
	if os.Getuid() != 0 || named {
		return nil
	}
	// MariaDB refuses root unless told; its folder belongs to root alone here.
	return []string{"--user=root"}
}

func (s *Server) data() string    { return filepath.Join(s.dir, "data") }
func (s *Server) temp() string    { return filepath.Join(s.dir, "tmp") }
func (s *Server) pidFile() string { return filepath.Join(s.dir, "pid") }

// portFile holds the port it listens on, for whoever finds it running.
func (s *Server) portFile() string { return filepath.Join(s.dir, "port") }

// environment gives MariaDB a folder of its own for temporary tables. A starting
// MariaDB deletes all such tables it finds in its folder, those of other servers
// too, so in a shared folder one server's start makes another's statements fail.
func (s *Server) environment() []string { return append(os.Environ(), "TMPDIR="+s.temp()) }

// install makes the system tables once. It works in a side folder that is
// renamed when complete, so that a kill half way leaves nothing half made.
func (s *Server) install(ctx context.Context) error {
	if _, err := os.Stat(s.data()); err == nil {
		if s.account.made() {
			return nil
		}
		return s.secure(ctx)
	}
	bin, err := find("mariadb-install-db", "mysql_install_db")
	if err != nil {
		return err
	}
	fresh := s.data() + ".new"
	if err := os.RemoveAll(fresh); err != nil {
		return err
	}
	if !s.account.made() {
		if err := s.writeAccount(newAccount()); err != nil {
			return err
		}
	}
	extra := filepath.Join(s.dir, "accounts.sql")
	if err := os.WriteFile(extra, []byte(s.account.statements()), 0o600); err != nil {
		return err
	}
	defer func() { _ = os.Remove(extra) }()
	// The install script does not quote the folder's path, which may have spaces
	// in it, so it is given relative ones.
	args := append(
		[]string{"--no-defaults", "--datadir=./" + filepath.Base(fresh), "--auth-root-authentication-method=normal",
			"--skip-test-db", "--skip-name-resolve", "--extra-file=./" + filepath.Base(extra)},
		s.asRoot()...)
	cmd := exec.CommandContext(ctx, bin, args...)
	cmd.Dir = s.dir
	cmd.Env = s.environment()
	out, err := cmd.CombinedOutput()
	if err != nil {
		return fmt.Errorf("set up the database folder %s: %w\n%s", fresh, err, out)
	}
	return os.Rename(fresh, s.data())
}

// secure gives a folder of an older version its account, and takes the others away.
func (s *Server) secure(ctx context.Context) error {
	bin, err := find("mariadbd", "mysqld")
	if err != nil {
		return err
	}
	made := newAccount()
	cmd := exec.CommandContext(
		ctx,
		bin,
		append([]string{"--no-defaults", "--datadir=" + s.data(), "--bootstrap", "--skip-networking"}, s.asRoot()...)...)
	cmd.Env = s.environment()
	cmd.Stdin = strings.NewReader(made.statements())
	if out, err := cmd.CombinedOutput(); err != nil {
		return fmt.Errorf("give the database its account: %w\n%s", err, out)
	}
	return s.writeAccount(made)
}

// launch starts MariaDB on the port it had before, where it is free, else on another.
func (s *Server) launch(ctx context.Context) error {
	port := s.port
	for range 5 {
		if port == 0 || !free(port) {
			var err error
			if port, err = FreePort(); err != nil {
				return err
			}
		}
		err := s.launchOn(ctx, port)
		if !errors.Is(err, errEnded) || ctx.Err() != nil || free(port) {
			return err
		}
		port = 0 // somebody took the port meanwhile
	}
	return errors.New("no free port was left for MariaDB")
}

func free(port int) bool {
	l, err := net.Listen("tcp", fmt.Sprintf("127.0.0.1:%d", port))
	if err == nil {
		_ = l.Close()
	}
	return err == nil
}

// FreePort gives a port of the loopback address that nothing listens on.
func FreePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer func() { _ = l.Close() }()
	return l.Addr().(*net.TCPAddr).Port, nil
}

var errEnded = errors.New("MariaDB ended at once")

func (s *Server) launchOn(ctx context.Context, port int) error {
	bin, err := find("mariadbd", "mysqld")
	if err != nil {
		return err
	}
	if err := os.MkdirAll(filepath.Dir(s.socket), 0o700); err != nil {
		return err
	}
	log, err := os.OpenFile(filepath.Join(s.dir, "mariadb.log"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer func() { _ = log.Close() }()
	// The socket cannot be left out; nobody has an account that comes in by it.
	args := append([]string{"--no-defaults", "--datadir=" + s.data(), "--socket=" + s.socket, "--bind-address=127.0.0.1",
		fmt.Sprintf("--port=%d", port),
		"--pid-file=" + s.pidFile(), "--innodb-flush-log-at-trx-commit=1", "--innodb-buffer-pool-size=64M",
		"--character-set-server=utf8mb4", "--default-time-zone=+00:00", "--skip-name-resolve"}, s.asRoot()...)
	cmd := exec.Command(bin, append(args, s.options...)...)
	cmd.Env = s.environment()
	cmd.Stdout, cmd.Stderr = log, log
	// Its own process group, so that Ctrl-C reaches it only through Stop; and
	// the kernel ends it if this program is killed.
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGTERM}
	started := make(chan error, 1)
	done := make(chan struct{})
	go func() {
		// Pdeathsig follows the thread that started the child, so it must live.
		runtime.LockOSThread()
		err := cmd.Start()
		started <- err
		if err == nil {
			_ = cmd.Wait()
		}
		close(done)
	}()
	if err := <-started; err != nil {
		return fmt.Errorf("start %s: %w", bin, err)
	}
	s.mu.Lock()
	s.pid, s.port, s.done = cmd.Process.Pid, port, done
	s.mu.Unlock()
	if err := os.WriteFile(s.portFile(), []byte(strconv.Itoa(port)), 0o600); err != nil {
		return errors.Join(err, s.end(syscall.SIGTERM))
	}
	deadline := time.Now().Add(60 * time.Second)
	for {
		if s.ping(ctx) == nil {
			return nil
		}
		select {
		case <-done:
			return fmt.Errorf("%w; its log is %s:\n%s", errEnded, log.Name(), tail(log.Name()))
		case <-ctx.Done():
			_ = s.end(syscall.SIGTERM)
			return ctx.Err()
		case <-time.After(50 * time.Millisecond):
			if time.Now().After(deadline) {
				_ = s.end(syscall.SIGTERM)
				return fmt.Errorf(
					"MariaDB did not answer within a minute; its log is %s:\n%s",
					log.Name(),
					tail(log.Name()),
				)
			}
		}
	}
}

// Keep starts MariaDB again whenever it ends by itself or is killed, until the context
// ends or it is stopped.
func (s *Server) Keep(ctx context.Context) {
	go func() {
		for {
			if s.wait(ctx) != nil {
				return
			}
			s.mu.Lock()
			stopping := s.stopping
			s.mu.Unlock()
			if stopping || ctx.Err() != nil {
				return
			}
			slog.Warn("the database has ended; it is started again")
			if err := s.launch(ctx); err != nil {
				slog.Error("start the database again", "error", err)
				select {
				case <-ctx.Done():
					return
				case <-time.After(time.Second):
				}
			}
		}
	}()
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
	port, err := os.ReadFile(s.portFile())
	if err != nil {
		port = nil // of an older version, without one
	}
	s.pid = pid
	s.port, _ = strconv.Atoi(strings.TrimSpace(string(port)))
	if s.alive() && (s.port == 0 || !s.account.made()) {
		// It runs as older versions ran it, open to whoever reaches its socket.
		_ = s.end(syscall.SIGTERM)
		s.stopping = false
		return false
	}
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
	s.mu.Lock()
	pid := s.pid
	s.mu.Unlock()
	cmdline, err := os.ReadFile(fmt.Sprintf("/proc/%d/cmdline", pid))
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
	s.mu.Lock()
	defer s.mu.Unlock()
	c := mysql.NewConfig()
	c.User, c.Passwd, c.Net, c.DBName = s.account.name, s.account.passphrase, "tcp", database
	c.Addr = fmt.Sprintf("127.0.0.1:%d", s.port)
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

// Adopted reports whether the server was running before it was asked for.
func (s *Server) Adopted() bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.done == nil
}

// Kill ends the server at once, as a power cut would, and waits until it is
// gone. It is for tests of what survives.
func (s *Server) Kill() error { return s.end(syscall.SIGKILL) }

// Stop shuts the server down in order and waits for it.
func (s *Server) Stop() error { return s.end(syscall.SIGTERM) }

// Signal sends the server a signal: tests kill it unseen, hold it and let it go on.
func (s *Server) Signal(what syscall.Signal) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	return syscall.Kill(s.pid, what)
}

func (s *Server) end(how syscall.Signal) error {
	s.mu.Lock()
	s.stopping = true
	s.mu.Unlock()
	if err := s.Signal(how); err != nil && !errors.Is(err, syscall.ESRCH) {
		return err
	}
	ctx, cancel := context.WithTimeout(context.Background(), 60*time.Second)
	defer cancel()
	defer func() { _ = os.RemoveAll(filepath.Dir(s.socket)) }()
	if err := s.wait(ctx); err != nil {
		return fmt.Errorf("MariaDB did not end: %w", err)
	}
	return nil
}

// wait returns when the process is gone.
func (s *Server) wait(ctx context.Context) error {
	s.mu.Lock()
	done := s.done
	s.mu.Unlock()
	for {
		if done == nil && !s.alive() {
			return nil
		}
		select {
		case <-done: // never, when it is nil
			return nil
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(20 * time.Millisecond):
		}
	}
}

func tail(path string) string {
	raw, err := os.ReadFile(path)
	if err != nil {
		return err.Error()
	}
	return string(raw[max(0, len(raw)-2000):])
}
