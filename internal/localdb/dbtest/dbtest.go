// Package dbtest gives the tests of every package the same throwaway MariaDB: one
// server for a package's tests, an empty database for each test that asks.
package dbtest

import (
	"context"
	"fmt"
	"os"
	"strings"
	"testing"

	"github.com/google/uuid"

	"grapnel/internal/fatal"
	"grapnel/internal/localdb"
)

var server *localdb.Server

// Main starts the server, runs a package's tests and ends with their code. It is
// what a TestMain calls.
func Main(m *testing.M) {
	s, stop, err := localdb.Throwaway(context.Background())
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	server = s
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
	dsn, err := server.Database(context.Background(), "t_"+strings.ReplaceAll(ID(), "-", ""))
	fatal.On(t, err)
	return dsn
}
