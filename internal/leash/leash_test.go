package leash

import (
	"bufio"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"grapnel/internal/effort"
)

// role makes this program a child that starts a process that sleeps, and then does what the
// role says.
const role = "LEASH_ROLE"

func TestMain(m *testing.M) {
	if r := os.Getenv(role); r != "" {
		held(r, os.Getenv("LEASH_DIR"))
	}
	os.Exit(m.Run())
}

func held(role, dir string) {
	sleeper := exec.Command("/bin/sh", "-c", "sleep 600 & sleep 600")
	sleeper.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	if err := sleeper.Start(); err != nil {
		panic(err)
	}
	let, err := Hold([]int{sleeper.Process.Pid}, dir)
	if err != nil {
		panic(err)
	}
	fmt.Println(sleeper.Process.Pid)
	if role == "lets go" {
		let()
		os.Exit(0)
	}
	select {}
}

// running reports whether a process of a group runs; one that has ended and was not
// collected does not.
func running(t *testing.T, group int) bool {
	t.Helper()
	all, err := filepath.Glob("/proc/[0-9]*/stat")
	if err != nil {
		t.Fatal(err)
	}
	for _, stat := range all {
		raw, _ := os.ReadFile(stat) // it may have ended
		_, rest, _ := strings.Cut(string(raw), ") ")
		if f := strings.Fields(rest); len(f) > 2 && f[0] != "Z" && f[2] == strconv.Itoa(group) {
			return true
		}
	}
	return false
}

// Whoever is killed leaves nothing: neither the processes it started, those that they
// started included, nor their folder, though all of its own group is killed with it, as a
// terminal does. Whoever let go leaves both as they are.
func TestHold(t *testing.T) {
	for _, role := range []string{"is killed", "is killed with its group", "lets go"} {
		dir := filepath.Join(t.TempDir(), "of it")
		if err := os.MkdirAll(filepath.Join(dir, "deep"), 0o700); err != nil {
			t.Fatal(err)
		}
		child := exec.Command(os.Args[0])
		child.Env = append(os.Environ(), "LEASH_ROLE="+role, "LEASH_DIR="+dir)
		child.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
		out, err := child.StdoutPipe()
		if err != nil {
			t.Fatal(err)
		}
		if err := child.Start(); err != nil {
			t.Fatal(err)
		}
		line, err := bufio.NewReader(out).ReadString('\n')
		if err != nil {
			t.Fatal(err)
		}
		group, err := strconv.Atoi(strings.TrimSpace(line))
		if err != nil {
			t.Fatal(err)
		}
		defer func() { _ = syscall.Kill(-group, syscall.SIGKILL) }()
		whom := map[string]int{"is killed": child.Process.Pid, "is killed with its group": -child.Process.Pid}
		if pid, ok := whom[role]; ok {
			if err := syscall.Kill(pid, syscall.SIGKILL); err != nil {
				t.Fatal(err)
			}
		}
		_ = child.Wait() // killed
		alive := func() bool { return running(t, group) }
		there := func() bool { _, err := os.Stat(dir); return !errors.Is(err, os.ErrNotExist) }
		if role == "lets go" {
			if !alive() || !there() {
				t.Errorf("let go: processes %t, folder %t", alive(), there())
			}
			continue
		}
		for end := time.Now().Add(effort.Patience(time.Minute)); alive() || there(); time.Sleep(10 * time.Millisecond) {
			if time.Now().After(end) {
				t.Fatalf("long after its end: processes %t, folder %t", alive(), there())
			}
		}
	}
}
