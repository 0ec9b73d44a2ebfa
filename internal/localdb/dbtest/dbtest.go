// Package dbtest gives the tests of every package the same throwaway MariaDB: one
// server for a package's tests, a database of its own for each test that asks.
package dbtest

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"

	"grapnel/internal/effort"
	"grapnel/internal/fatal"
	"grapnel/internal/localdb"
	"grapnel/internal/passphrase"
)

var server *localdb.Server

// Main starts the server, has passphrases hashed cheaply, runs a package's tests and ends with their code. It is
// what a TestMain calls.
func Main(m *testing.M) {
	effort.LeaveOut()
	s, stop, err := localdb.Throwaway(context.Background())
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	server = s
	passphrase.Cheap()
	code := m.Run()
	stop()
	os.Exit(code)
}

// Server gives the server, for tests that do something to it.
func Server() *localdb.Server { return server }

// ID gives an id as a client makes it.
func ID() string { return uuid.Must(uuid.NewV7()).String() }

// DSN makes an empty database and gives the way to it.
func DSN(t testing.TB) string {
	t.Helper()
	dsn, err := server.Database(context.Background(), name())
	fatal.On(t, err)
	return dsn
}

func name() string { return "t_" + strings.ReplaceAll(ID(), "-", "") }

// pattern is the first database that was brought up to date here: its tables as
// statements, and which of them have rows.
type pattern struct {
	name   string
	tables []string
	filled []string
}

var first struct {
	sync.Mutex
	*pattern
}

// Like gives a database with all tables, as the given function brings one up to date. It is
// called for the first; the others are made like that one, since a test that is not about
// the way there need not go it.
func Like(t testing.TB, migrate func(dsn string)) string {
	t.Helper()
	first.Lock()
	defer first.Unlock()
	if first.pattern == nil {
		db := name()
		dsn, err := server.Database(context.Background(), db)
		fatal.On(t, err)
		migrate(dsn)
		first.pattern = readPattern(t, db, dsn)
	}
	dsn := DSN(t)
	db, err := sql.Open("mysql", dsn)
	fatal.On(t, err)
	defer func() { _ = db.Close() }()
	db.SetMaxOpenConns(1) // what is set below is set for one connection
	run := func(statement string) {
		if _, err := db.Exec(statement); err != nil {
			t.Fatalf("%v: %s", err, statement)
		}
	}
	run(`SET foreign_key_checks = 0`)
	for _, table := range first.tables {
		run(table)
	}
	for _, table := range first.filled {
		run("INSERT INTO `" + table + "` SELECT * FROM `" + first.name + "`.`" + table + "`")
	}
	return dsn
}

func readPattern(t testing.TB, name, dsn string) *pattern {
	t.Helper()
	db, err := sql.Open("mysql", dsn)
	fatal.On(t, err)
	defer func() { _ = db.Close() }()
	p := &pattern{name: name}
	rows, err := db.Query(`SELECT table_name FROM information_schema.tables WHERE table_schema = DATABASE()`)
	fatal.On(t, err)
	var names []string
	for rows.Next() {
		var n string
		fatal.On(t, rows.Scan(&n))
		names = append(names, n)
	}
	fatal.On(t, rows.Err())
	for _, n := range names {
		var table, made string
		var filled bool
		fatal.On(t, db.QueryRow("SHOW CREATE TABLE `"+n+"`").Scan(&table, &made))
		fatal.On(t, db.QueryRow("SELECT EXISTS (SELECT 1 FROM `"+n+"`)").Scan(&filled))
		p.tables = append(p.tables, made)
		if filled {
			p.filled = append(p.filled, n)
		}
	}
	return p
}
