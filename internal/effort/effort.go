// Package effort says how much a test tries: a little at every save (go test -short), what
// catches faults in every run, and all of it in scripts/long.
package effort

import (
	"flag"
	"fmt"
	"os"
	"syscall"
	"testing"
	"time"
)

// Long is set, to 1, where all is tried.
const Long = "GRAPNEL_LONG"

// Of picks by how long the run may take.
func Of[T any](short, usual, long T) T {
	switch {
	case os.Getenv(Long) == "1":
		return long
	case testing.Short():
		return short
	}
	return usual
}

// Impatient is set, to a duration, where what is waited for may never come: with a fault made on purpose.
const Impatient = "GRAPNEL_PATIENCE"

// Patience is how long something is waited for: as long as usual, or what Impatient says.
func Patience(usual time.Duration) time.Duration {
	if d, err := time.ParseDuration(os.Getenv(Impatient)); err == nil {
		return d
	}
	return usual
}

// LeaveOut ends a package's tests at once with -short where they need a database, a browser or reference programs,
// which take longer to start than a save may take. It is the first thing such a TestMain does.
func LeaveOut() {
	flag.Parse()
	if testing.Short() {
		fmt.Println("left out with -short: it needs a database, a browser or a reference program")
		os.Exit(0)
	}
}

// CPU is the processor time this program has used: what a test may hold something to, since
// it is the same on a machine that is busy with others.
func CPU() time.Duration {
	var used syscall.Rusage
	_ = syscall.Getrusage(syscall.RUSAGE_SELF, &used) // of oneself it never fails
	return time.Duration(used.Utime.Nano() + used.Stime.Nano())
}
